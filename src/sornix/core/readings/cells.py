"""A text is divided into cells: a short one by the csv module, a long one by pyarrow."""

import csv
import io
import itertools
import re
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.readings.column import NUMBER, TIME
from sornix.core.readings.dialect import MISSING_MARKS
from sornix.core.readings.kinds import Manner, kind_of
from sornix.core.readings.sniff import HEAD_BYTES, sample_rows
from sornix.core.text import plural

# Up to here the csv module is done before pyarrow would be imported.
SHORT_BYTES = 1 << 18
_SAMPLE_BYTES = 16 * HEAD_BYTES
_ARROW_COLUMN = re.compile(r"In CSV column #(\d+)")


class Moments(NamedTuple):
    """Times that the parser knew: seconds since 1970, shape (n,), and how finely they stand."""

    seconds: NDArray[np.float64]
    form: str


# the cells of one column: as text, or as numbers or times where the parser knew them all
Cells = list[str] | NDArray[np.float64] | Moments


class Body(NamedTuple):
    """The UTF-8 text under a header: `raw` from `offset` on, where line `first_line` begins.

    Long texts are not copied for it.
    """

    raw: bytes
    offset: int
    separator: str
    where: str
    first_line: int

    @property
    def content(self) -> bytes:
        """The text itself, as a copy."""
        return self.raw[self.offset :]

    @property
    def is_blank(self) -> bool:
        head = self.raw[self.offset : self.offset + HEAD_BYTES]
        return (not head or head.isspace()) and not self.content.strip()

    def sample(self) -> list[list[str]]:
        """The first rows."""
        # a little more than the sample needs, so that its last line is whole
        return sample_rows(self.raw[self.offset : self.offset + _SAMPLE_BYTES], self.separator)


class Ragged(Exception):
    """Rows of a long text are not of one length: it has to be looked at thoroughly."""


class Divided(NamedTuple):
    """The cells of each column, and what was found while dividing the text."""

    columns: list[Cells]
    notes: tuple[str, ...] = ()


def after_row(body: Body) -> Body:
    """What follows the first record of a body that is not blank."""
    # the whole head of a wide table is long
    head = body.raw[body.offset : body.offset + _SAMPLE_BYTES].decode("utf-8", "ignore")
    reader = csv.reader(io.StringIO(head, newline=""), delimiter=body.separator)
    for row in reader:
        if any(cell.strip() for cell in row):
            break
    lines = itertools.islice(io.StringIO(head, newline=""), reader.line_num)
    offset = body.offset + len("".join(lines).encode())
    return body._replace(offset=offset, first_line=body.first_line + reader.line_num)


def divide(body: Body, kinds: Sequence[str], manner: Manner, *, thorough: bool = True) -> Divided:
    """The cells under a header of as many columns as there are `kinds`.

    Raises ReadingsError; and Ragged, unless it is to be `thorough`, where rows differ in length.
    """
    if len(body.raw) - body.offset <= SHORT_BYTES:
        return _divided_rows(body, len(kinds))
    divided = _divided_by_arrow(body, kinds, manner)
    if divided is None and not thorough:
        raise Ragged
    # the slow way fills short rows up, or says which are too long
    return divided or _divided_rows(body, len(kinds))


def found_kinds(sample: Sequence[Sequence[str]], width: int, manner: Manner) -> list[str]:
    """The kinds that the first rows suggest."""
    return [kind_of([r[i] for r in sample if i < len(r)], manner) for i in range(width)]


def _divided_rows(body: Body, width: int) -> Divided:
    rows, notes = _rows(body, width)
    if not rows:
        return Divided([[] for _ in range(width)], notes)
    return Divided([list(cells) for cells in zip(*rows, strict=True)], notes)


def _rows(body: Body, width: int) -> tuple[list[list[str]], tuple[str, ...]]:
    """The records of a body, short ones filled up.

    Raises ReadingsError at the first that is too long, and where every row is short.
    """
    rows: list[list[str]] = []
    text = body.content.decode("utf-8")
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=body.separator)
    line = begin = body.first_line
    short: list[int] = []
    try:
        for row in reader:
            begin = line
            if row and (len(row) == width or any(row)):
                if len(row) > width and any(cell.strip() for cell in row[width:]):
                    raise _too_long(row, width, line, body.where)
                if len(row) < width:
                    short.append(line)
                    row += [""] * (width - len(row))
                rows.append(row[:width])
            line = body.first_line + reader.line_num
    except csv.Error as error:
        raise _unpaired(line, body.where) from error
    if rows and any("\n" in cell for cell in rows[-1]) and text.count('"') % 2:
        raise _unpaired(begin, body.where)
    return _without_end(rows, short, line)


def _unpaired(line: int, where: str) -> ReadingsError:
    return ReadingsError(
        "A quotation mark lacks its other half, so the rest of the text became one cell.",
        where=f"{where}, line {line}",
        remedy="Mend that line.",
    )


def _without_end(
    rows: list[list[str]], short: list[int], end: int
) -> tuple[list[list[str]], tuple[str, ...]]:
    """The rows without closing remarks, and notes about short ones."""
    notes = []
    closing = 0
    # a lone text under the last reading is the logger's farewell
    while short and rows and short[-1] < end and _is_remark(rows[-1]):
        rows.pop()
        short.pop()
        closing += 1
        if not rows or all(rows[-1]):
            break
    if closing:
        were = "was" if closing == 1 else "were"
        notes.append(f"{plural(closing, 'line')} after the readings {were} passed over.")
    if short:
        says = "row is" if len(short) == 1 else "rows are"
        notes.append(
            f"{len(short)} {says} shorter than the header (line {short[0]}"
            f"{' first' if len(short) > 1 else ''}); the cells that are not there count as missing."
        )
    return rows, tuple(notes)


def _is_remark(row: list[str]) -> bool:
    text = row[0].strip()
    return not any(row[1:]) and len(row) > 1 and any(s.isalpha() for s in text) and len(text) > 2


def _too_long(row: list[str], width: int, line: int, where: str) -> ReadingsError:
    return ReadingsError(
        f"This row has {plural(len(row), 'cell')} and the header has {width}: "
        f"the first one too many is “{row[width]}”.",
        where=f"{where}, row at line {line}, column {width + 1}",
        remedy="Mend that line, or put quotation marks round a cell that holds the separator.",
    )


def _divided_by_arrow(body: Body, kinds: Sequence[str], manner: Manner) -> Divided | None:
    """The cells by pyarrow, None where rows differ in length; a column in which it meets something
    else than it should hold is read again as text."""
    import pyarrow as pa
    from pyarrow import csv as arrow_csv

    names = [str(i) for i in range(len(kinds))]
    of_kind = {NUMBER: pa.float64(), TIME: pa.timestamp("us")}
    types = [of_kind.get(kind, pa.string()) for kind in kinds]
    if manner.marks.thousands:
        types = [
            pa.string() if kind == NUMBER else type_
            for kind, type_ in zip(kinds, types, strict=True)
        ]
    parsers = _time_parsers(body, kinds, manner)
    if not parsers:
        types = [
            pa.string() if kind == TIME else type_ for kind, type_ in zip(kinds, types, strict=True)
        ]
    quoted = body.raw.find(b'"', body.offset) >= 0
    for _ in range(len(kinds) + 1):
        try:
            table = arrow_csv.read_csv(
                pa.BufferReader(pa.py_buffer(body.raw).slice(body.offset)),
                read_options=arrow_csv.ReadOptions(column_names=names),
                parse_options=arrow_csv.ParseOptions(
                    delimiter=body.separator, newlines_in_values=quoted, quote_char='"'
                ),
                convert_options=arrow_csv.ConvertOptions(
                    column_types=dict(zip(names, types, strict=True)),
                    null_values=list(MISSING_MARKS),
                    decimal_point=manner.marks.decimal,
                    timestamp_parsers=parsers,
                    strings_can_be_null=False,
                ),
            )
        except pa.ArrowInvalid as error:
            match = _ARROW_COLUMN.search(str(error))
            if match is None or types[int(match[1])] == pa.string():
                return None
            types[int(match[1])] = pa.string()
        else:
            return Divided([_arrow_cells(column) for column in table.columns])
    raise AssertionError("every column was tried as text")


def _arrow_cells(column: "object") -> Cells:
    import pyarrow as pa

    assert isinstance(column, pa.ChunkedArray)
    if pa.types.is_floating(column.type):
        values: NDArray[np.float64] = column.to_numpy()
        return values
    if pa.types.is_timestamp(column.type):
        whole = column.cast(pa.int64())
        micros = whole.to_numpy() if not whole.null_count else whole.cast(pa.float64()).to_numpy()
        return Moments(micros / 1e6, "")
    cells: list[str] = column.to_pylist()
    return cells


def _time_parsers(body: Body, kinds: Sequence[str], manner: Manner) -> list[object]:
    """Parsers of pyarrow for the times in the sample; none where it has no sure one for them."""
    from pyarrow import csv as arrow_csv

    times = [i for i, kind in enumerate(kinds) if kind == TIME]
    cells = {row[i].strip() for row in body.sample() for i in times if i < len(row)}
    cells -= set(MISSING_MARKS)
    iso = re.compile(r"\d{4}-\d\d-\d\d([T ]\d\d:\d\d(:\d\d(\.\d{1,6})?)?)?")
    if all(iso.fullmatch(cell) for cell in cells):
        return [arrow_csv.ISO8601]
    last = re.compile(r"\d{1,2}([-/.])\d{1,2}\1(\d{4})([ T])?(\d{1,2}:\d\d)?(:\d\d)?")
    forms = set()
    for cell in cells:
        match = last.fullmatch(cell)
        if match is None:
            return []
        first, second = ("%d", "%m") if manner.order != "month" else ("%m", "%d")
        form = match[1].join((first, second, "%Y")) + (match[3] or "")
        forms.add(form + ("%H:%M" if match[4] else "") + (":%S" if match[5] else ""))
    return sorted(forms)
