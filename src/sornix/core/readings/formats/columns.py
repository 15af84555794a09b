"""Columns of Parquet, Arrow and Feather files as tables."""

from decimal import Decimal
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.readings.files.kinds import need_places
from sornix.core.readings.formats.apart import damaged, opened
from sornix.core.readings.layouts.header import parse_heading
from sornix.core.readings.tables.column import (
    Column,
    moments_column,
    number_column,
    text_column,
    time_column,
)
from sornix.core.readings.tables.table import Table, unique_names
from sornix.core.text import short

# Whole numbers beyond this are not told apart any more.
MOST_WHOLE = 2**53
_MOST_PLACES = 12
ROUNDED = "Whole numbers in {names} have more than 15 digits, and were rounded to these."
IN_SECONDS = "Lengths of time in {names} are in seconds now."
# so many of these are a second
_PARTS = {"s": 1.0, "ms": 1e3, "us": 1e6, "ns": 1e9}


def said_of(notes: "list[tuple[str, str]]") -> tuple[str, ...]:
    """Sentences with {names} of columns, once where it is the same of several; given as pairs of
    a sentence and a name."""
    names: dict[str, list[str]] = {}
    for note, name in notes:
        names.setdefault(note, []).append(f"“{name}”")
    return tuple(n.replace("{names}", short(", ".join(of), 60)) for n, of in names.items())


def as_written(raw: NDArray[Any]) -> NDArray[np.float64]:
    """Floating-point numbers of fewer bits as the decimals that they stand for, not with digits
    that nobody measured: 0.1, not 0.10000000149011612."""
    wide = raw.astype(np.float64)
    if raw.dtype.itemsize >= 8:
        return wide
    with np.errstate(all="ignore"):
        places = 6 - np.floor(np.log10(np.abs(wide)))
        usual = (places >= 0) & (places <= 22)
        powers = 10.0 ** np.where(usual, places, 0)
        # whole numbers and powers of ten are exact here, and so their quotient is the nearest
        found = np.rint(wide * powers) / powers
        rest = ~(usual & (found.astype(raw.dtype) == raw)) & np.isfinite(wide) & (wide != 0)
    found[rest] = raw[rest].astype(str).astype(np.float64)
    found[wide == 0] = 0.0
    return np.where(np.isfinite(wide), found, np.nan)


def scaled(values: NDArray[np.float64], factor: float, offset: float = 0.0) -> NDArray[np.float64]:
    """Values times a factor, with an offset: of whole numbers the decimals that this gives, since
    51 × 0.1 is 5.1 and not 5.1000000000000005."""
    found: NDArray[np.float64] = values * factor + offset
    places = max(-int(Decimal(repr(one)).as_tuple().exponent) for one in (factor, offset))
    known = values[np.isfinite(values)]
    if 0 <= places <= _MOST_PLACES and (known == np.rint(known)).all():
        return np.round(found, places)
    return found


def read_columns_of(kind: str, words: str, path: Path) -> tuple[Table, ...]:
    """The table in a file of columns of a kind that `opening_tables` knows. Raises
    ReadingsError."""
    _, found = opened("opening_tables", kind, words, path)
    import pyarrow as pa

    try:
        with pa.ipc.open_stream(pa.py_buffer(found)) as stream:
            return (table_of_arrow(stream.read_all(), path.stem, path.name),)
    except (pa.ArrowException, OSError, ValueError, OverflowError) as error:
        raise damaged(words, path) from error


def table_of_arrow(table: Any, name: str, where: str) -> Table:
    """The columns of a table of pyarrow as a table of that name. Raises ReadingsError."""
    if not table.num_columns:
        raise ReadingsError("There are no columns.", where=where)
    headings = [parse_heading(str(title)) for title in table.column_names]
    names = unique_names(h.name or f"Column {i + 1}" for i, h in enumerate(headings))
    units = [heading.unit for heading in headings]
    found = list(map(_column, names, units, table.columns))
    columns = tuple(one.column for one in found)
    need_places(columns, where)
    notes = [(one.said, one.column.name) for one in found if one.said]
    return Table(name, columns, said_of(notes))


class _Found(NamedTuple):
    """A column, and what is to be said of all such {names}."""

    column: Column
    said: str = ""


def _column(name: str, unit: str, column: Any) -> _Found:
    import pyarrow as pa

    from sornix.core.readings.files.longtext import numbers_of

    kinds = pa.types
    if kinds.is_dictionary(column.type):
        column = column.cast(column.type.value_type)
    kind = column.type
    if kinds.is_timestamp(kind) or kinds.is_date(kind):
        seconds = numbers_of(column.cast(pa.timestamp("us"), safe=False).cast(pa.int64()), 1e6)
        zoned = kinds.is_timestamp(kind) and kind.tz
        said = "The times of {names} are in universal time." if zoned else ""
        return _Found(moments_column(name, seconds), said)
    if kinds.is_time(kind):
        whole = pa.int32() if kinds.is_time32(kind) else pa.int64()
        return _Found(time_column(name, numbers_of(column.cast(whole), _PARTS[kind.unit]), "clock"))
    if kinds.is_duration(kind):
        seconds = numbers_of(column.cast(pa.int64()), _PARTS[kind.unit])
        return _Found(number_column(name, seconds, "s"), IN_SECONDS)
    if kinds.is_boolean(kind) or kinds.is_integer(kind) or kinds.is_decimal(kind):
        values = numbers_of(column.cast(pa.float64(), safe=False), 1.0)
        found = number_column(name, values, unit, owned=True)
        ends = found.ends or (0.0, 0.0)
        large = kinds.is_integer(kind) and max(-ends[0], ends[1]) > MOST_WHOLE
        return _Found(found, ROUNDED if large else "")
    if kinds.is_floating(kind):
        values = numbers_of(column.cast(pa.float64()), 1.0)
        if not kinds.is_float64(kind):
            values = as_written(values.astype(kind.to_pandas_dtype()))
        return _Found(number_column(name, values, unit, owned=True))
    words = ["" if value is None else _words(value) for value in column.to_pylist()]
    inside = kinds.is_nested(kind)
    said = "Cells of {names} hold several values, and are kept as text." if inside else ""
    return _Found(text_column(name, words, unit), said)


def _words(value: Any) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    if isinstance(value, (list, tuple, np.ndarray)):
        return ", ".join(map(str, value))
    return str(value)
