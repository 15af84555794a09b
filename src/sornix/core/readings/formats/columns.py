"""Columns of Parquet, Arrow and Feather files as tables."""

import json
import os
from collections.abc import Sequence
from contextlib import suppress
from decimal import Decimal
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.readings.cells.header import parse_heading
from sornix.core.readings.files.kinds import need_places
from sornix.core.readings.formats.apart import damaged, opened
from sornix.core.readings.formats.opening_tables import as_written
from sornix.core.readings.tables import laid
from sornix.core.readings.tables.column import (
    Column,
    known_column,
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
IN_UNIVERSAL_TIME = "The times of {names} are in universal time."
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


def scaled(values: NDArray[np.float64], factor: float, offset: float = 0.0) -> NDArray[np.float64]:
    """Values times a factor, with an offset: of whole numbers the decimals that this gives, since
    51 × 0.1 is 5.1 and not 5.1000000000000005."""
    found: NDArray[np.float64] = values * factor + offset
    places = max(-int(Decimal(repr(one)).as_tuple().exponent) for one in (factor, offset))
    known = values[np.isfinite(values)]
    if 0 <= places <= _MOST_PLACES and (known == np.rint(known)).all():
        return np.round(found, places)
    return found


# What is wrong with columns that are not as they were laid down.
_WRONG = (ValueError, KeyError, IndexError, TypeError, StopIteration, OSError)


def read_columns_of(kind: str, words: str, path: Path) -> tuple[Table, ...]:
    """The table in a file of columns of a kind that `opening_tables` knows. Raises
    ReadingsError."""
    store = laid.place_for(path)
    raw = laid.kept(store)
    if raw is not None:
        try:
            return (_table_of(raw, path),)
        except _WRONG:
            # somebody was at it
            store.unlink(missing_ok=True)
    with suppress(OSError):
        # where nothing can be laid down, memory has to do
        laid.make_folder()
    # it gets its name when it is whole
    part = store.with_name(f"{store.name}.{os.getpid()}")
    most = str(laid.MOST_IN_MEMORY)
    try:
        letter, raw = opened("opening_tables", kind, words, path, str(part), most)
        if letter == "S":
            raw = laid.keep(part, store)
        return (_table_of(raw, path),)
    except _WRONG as error:
        raise damaged(words, path) from error
    finally:
        with suppress(OSError):
            part.unlink(missing_ok=True)


def _table_of(raw: memoryview, path: Path) -> Table:
    """The table of columns as `opening_tables` lays them down. Raises ReadingsError."""
    import pyarrow as pa

    begin = int.from_bytes(raw[-8:], "little")
    header = json.loads(bytes(raw[begin:-8]))
    with pa.ipc.open_stream(pa.py_buffer(raw[header["others"] : begin])) as stream:
        others = stream.read_all()
    headings = _headings(header["names"], path.name)
    found, at, other = [], _PAGE, iter(others.columns)
    for number, heading in enumerate(headings):
        facts = header["plain"].get(str(number))
        if facts is None:
            found.append(_column(*heading, next(other)))
            continue
        values = np.frombuffer(raw, np.float64, header["rows"], at)
        at += header["size"]
        found.append(_plain(*heading, values, facts))
    return _made(found, path.stem, path.name)


# Columns that are laid down begin at a page.
_PAGE = 4096


def _plain(name: str, unit: str, values: NDArray[np.float64], facts: dict[str, Any]) -> "_Found":
    """A column of numbers or moments as they are laid down, and what is known of it."""
    if facts["kind"] == "moment":
        said = IN_UNIVERSAL_TIME if facts["zone"] else ""
        return _Found(moments_column(name, values), said)
    if facts["complete"] is None:
        # nobody has looked for what is not finite
        column = number_column(name, values, unit, owned=True)
    else:
        column = known_column(name, values, unit, complete=facts["complete"])
    return _Found(column, ROUNDED if facts["largest"] > MOST_WHOLE else "")


def _headings(titles: Sequence[str], where: str) -> list[tuple[str, str]]:
    """The names and units of columns with such titles. Raises ReadingsError."""
    if not titles:
        raise ReadingsError("There are no columns.", where=where)
    headings = [parse_heading(str(title)) for title in titles]
    names = unique_names(h.name or f"Column {i + 1}" for i, h in enumerate(headings))
    return [(name, heading.unit) for name, heading in zip(names, headings, strict=True)]


def _made(found: "Sequence[_Found]", name: str, where: str) -> Table:
    """The table of columns. Raises ReadingsError."""
    columns = tuple(one.column for one in found)
    need_places(columns, where)
    notes = [(one.said, one.column.name) for one in found if one.said]
    return Table(name, columns, said_of(notes))


def table_of_arrow(table: Any, name: str, where: str) -> Table:
    """The columns of a table of pyarrow as a table of that name. Raises ReadingsError."""
    headings = _headings(table.column_names, where)
    columns = zip(headings, table.columns, strict=True)
    return _made([_column(*heading, column) for heading, column in columns], name, where)


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
        return _Found(moments_column(name, seconds), IN_UNIVERSAL_TIME if zoned else "")
    if kinds.is_time(kind):
        whole = pa.int32() if kinds.is_time32(kind) else pa.int64()
        return _Found(time_column(name, numbers_of(column.cast(whole), _PARTS[kind.unit]), "clock"))
    if kinds.is_duration(kind):
        seconds = numbers_of(column.cast(pa.int64()), _PARTS[kind.unit])
        return _Found(number_column(name, seconds, "s"), IN_SECONDS)
    if kinds.is_boolean(kind) or kinds.is_integer(kind) or kinds.is_decimal(kind):
        # by way of their digits decimals become the nearest doubles, which otherwise they do not
        column = column.cast(pa.string()) if kinds.is_decimal(kind) else column
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
