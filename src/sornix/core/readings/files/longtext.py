"""Long texts, divided into cells by pyarrow."""

import csv
import io
from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv

from sornix.core.patterns import pattern
from sornix.core.readings.files.body import Body, Cells, Divided, Moments
from sornix.core.readings.files.kinds import Manner
from sornix.core.readings.tables.column import NUMBER, TEXT, TIME, Column, Floats
from sornix.core.readings.tables.dialect import MISSING_MARKS
from sornix.core.readings.tables.table import Table

_ARROW_COLUMN = pattern(r"In CSV column #(\d+)")
# The parser holds what it has read about three times over until it is done, so a long text is
# given to it in pieces: those of 8 MB are read as fast as all at once.
_PIECE_BYTES = 1 << 23
_INK = pattern(rb"\S")
_ISO = pattern(r"\d{4}-\d\d-\d\d([T ]\d\d:\d\d(:\d\d(\.\d{1,6})?)?)?")
_YEAR_LAST = pattern(r"\d{1,2}([-/.])\d{1,2}\1(\d{4})([ T])?(\d{1,2}:\d\d)?(:\d\d)?")


def divided_by_arrow(body: Body, kinds: Sequence[str], manner: Manner) -> Divided | None:
    """The cells of a body, or None where rows differ in length.

    A column in which something else stands than it should hold is read again as text.
    """
    parsers = _time_parsers(body, kinds, manner)
    of_kind = {}
    if not manner.marks.thousands:
        of_kind[NUMBER] = pa.float64()
    if parsers:
        of_kind[TIME] = pa.timestamp("us")
    types = [of_kind.get(kind, pa.string()) for kind in kinds]
    names = [str(i) for i in range(len(kinds))]
    quoted = body.raw.find(b'"', body.offset) >= 0
    parse = arrow_csv.ParseOptions(delimiter=body.separator, newlines_in_values=quoted)
    for _ in range(len(kinds) + 1):
        convert = arrow_csv.ConvertOptions(
            column_types=dict(zip(names, types, strict=True)),
            null_values=list(MISSING_MARKS),
            decimal_point=manner.marks.decimal,
            timestamp_parsers=parsers,
            strings_can_be_null=False,
        )
        pieces: list[list[Cells]] = [[] for _ in names]
        try:
            for piece in _pieces(body, whole=quoted):
                table = arrow_csv.read_csv(
                    pa.BufferReader(piece),
                    arrow_csv.ReadOptions(column_names=names),
                    parse,
                    convert,
                )
                for i, column in enumerate(table.columns):
                    pieces[i] += map(_cells, column.chunks)
        except pa.ArrowInvalid as error:
            match = _ARROW_COLUMN.search(str(error))
            if match is None or types[int(match[1])] == pa.string():
                return None
            types[int(match[1])] = pa.string()
        else:
            joined = [_joined(pieces[i]) for i in range(len(names))]
            # what the parser has worked with is of no more use
            pa.default_memory_pool().release_unused()
            return Divided(joined)
    raise AssertionError("every column was tried as text")


def _pieces(body: Body, *, whole: bool) -> Iterator[Any]:
    """The body in pieces that end with a line, or as one."""
    buffer = pa.py_buffer(body.raw)
    begin, end = body.offset, len(body.raw)
    while begin < end:
        cut = end
        if not whole and end - begin > _PIECE_BYTES:
            cut = body.raw.find(b"\n", begin + _PIECE_BYTES) + 1 or end
        # a piece of blank lines is nothing to the parser
        if _INK.search(body.raw, begin, cut):
            yield buffer.slice(begin, cut - begin)
        begin = cut


def _cells(chunk: "pa.Array") -> Cells:
    if pa.types.is_floating(chunk.type):
        return _numbers(chunk, 1.0)
    if pa.types.is_timestamp(chunk.type):
        return Moments(_numbers(chunk.cast(pa.int64()), 1e6))
    cells: list[str] = chunk.to_pylist()
    return cells


def numbers_of(column: "pa.ChunkedArray", unit: float) -> Floats:
    """The numbers of a column of Arrow as one array, in multiples of `unit`, NaN where missing."""
    return np.concatenate([np.empty(0), *(_numbers(chunk, unit) for chunk in column.chunks)])


def _numbers(chunk: "pa.Array", unit: float) -> Floats:
    """Those of one chunk: a view of them, where they are numbers without a gap."""
    part: Floats = chunk.to_numpy(zero_copy_only=False)
    return part if unit == 1 else part / unit


def _joined(parts: list[Cells]) -> Cells:
    """The cells of all pieces of one column; the list is emptied."""
    first = parts[0]
    joined: Cells
    if isinstance(first, Moments):
        joined = Moments(
            np.concatenate([part.seconds for part in parts if isinstance(part, Moments)])
        )
    elif isinstance(first, list):
        joined = [cell for part in parts if isinstance(part, list) for cell in part]
    else:
        joined = np.concatenate([part for part in parts if isinstance(part, np.ndarray)])
    parts.clear()
    return joined


def _time_parsers(body: Body, kinds: Sequence[str], manner: Manner) -> list[object]:
    """Parsers of pyarrow for the times in the sample; none where it has no sure one for them."""
    times = [i for i, kind in enumerate(kinds) if kind == TIME]
    cells = {row[i].strip() for row in body.sample() for i in times if i < len(row)}
    cells -= set(MISSING_MARKS)
    if all(_ISO.fullmatch(cell) for cell in cells):
        return [arrow_csv.ISO8601]
    forms = set()
    for cell in cells:
        match = _YEAR_LAST.fullmatch(cell)
        if match is None:
            return []
        first, second = ("%m", "%d") if manner.order == "month" else ("%d", "%m")
        form = match[1].join((first, second, "%Y")) + (match[3] or "")
        forms.add(form + ("%H:%M" if match[4] else "") + (":%S" if match[5] else ""))
    return sorted(forms)


def written_by_arrow(table: Table, separator: str, *, units: bool) -> bytes:
    """A table without strange cells as text, like `write_text` but that times have all their parts
    and texts are in quotes."""
    stream = io.BytesIO()
    arrays = [_array(column) for column in table.columns]
    # every name once: the names of Arrow's table may not repeat
    whole = pa.table(arrays, names=[str(i) for i in range(len(arrays))])
    options = arrow_csv.WriteOptions(include_header=False, delimiter=separator)
    arrow_csv.write_csv(whole, stream, options)
    header = io.StringIO(newline="")
    csv.writer(header, delimiter=separator).writerow(table.titles(units=units))
    return header.getvalue().encode(errors="replace") + stream.getvalue().replace(b"\n", b"\r\n")


def _array(column: Column) -> Any:
    if column.kind == TEXT:
        return pa.array(column.values.tolist(), pa.string())
    missing = ~column.present
    if column.kind == TIME:
        parts = column.form == "fraction"
        unit, scale = ("us", 1e6) if parts else ("s", 1.0)
        ticks = np.where(missing, 0, np.round(column.numbers * scale)).astype(np.int64)
        return pa.array(ticks, mask=missing).cast(pa.timestamp(unit))
    return pa.array(column.numbers, mask=missing)
