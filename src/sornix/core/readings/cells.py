"""The body of a delimited text, on its way into columns.

Long texts are parsed by pyarrow. Short ones are not: importing it takes longer than they do, and
most files of a laboratory are short. Both ways give the same columns (a test compares them).
"""

import csv
import io
import re
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.readings.column import NUMBER, TEXT, Column, number_column, text_column
from sornix.core.readings.header import Heading
from sornix.core.readings.sniff import HEAD_BYTES, MISSING_MARKS, Dialect, is_number, sample_rows
from sornix.core.readings.table import unique_names
from sornix.core.text import plural

# A column in which at least this share of the cells are numbers is a number column with text in
# it, to be reported; below that it is a text column in which numbers occur.
_MOSTLY = 0.5
# Up to here the csv module is done before pyarrow would be imported.
SHORT_BYTES = 1 << 18
_ARROW_COLUMN = re.compile(r"In CSV column #(\d+)")

# the cells of one column: as text, or as numbers where the parser knew them all
_Cells = list[str] | NDArray[np.float64]


class Body(NamedTuple):
    """The UTF-8 text under a header: `raw` from `offset` on, where line `first_line` begins.

    Long texts are not copied for it.
    """

    raw: bytes
    offset: int
    dialect: Dialect
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


def after_header(raw: bytes, dialect: Dialect, where: str) -> Body:
    """What follows the header record, which is the first line that is not blank."""
    head = raw[:HEAD_BYTES].decode("utf-8", "ignore")
    lines = list(io.StringIO(head, newline=""))
    reader = csv.reader(lines, delimiter=dialect.separator)
    for row in reader:
        if any(cell.strip() for cell in row):
            break
    offset = len("".join(lines[: reader.line_num]).encode())
    return Body(raw, offset, dialect, where, reader.line_num + 1)


def after_row(body: Body) -> Body:
    """What follows the first record of a body."""
    rest = after_header(body.content, body.dialect, body.where)
    line = body.first_line + rest.first_line - 1
    return Body(rest.raw, rest.offset, body.dialect, body.where, line)


def found_columns(body: Body, headings: Sequence[Heading]) -> list[Column]:
    """The columns, of the kinds that their cells suggest. Raises ReadingsError."""
    # a little more than the sample needs, so that its last line is whole
    head = body.raw[body.offset : body.offset + 2 * HEAD_BYTES]
    sample = sample_rows(head, body.dialect.separator)
    width = len(headings)
    kinds = [_kind_of([r[i] for r in sample if i < len(r)], body.dialect) for i in range(width)]
    cells = _cells(body, kinds)
    # a separator at the end of every line makes a last column without name or cells
    if not headings[-1].name and width > 1 and _is_blank(cells[-1]):
        width -= 1
    names = unique_names(h.name or f"Column {i + 1}" for i, h in enumerate(headings[:width]))
    return [
        _column(cells[i], Heading(names[i], headings[i].unit), kinds[i], body.dialect.decimal)
        for i in range(width)
    ]


def known_columns(body: Body, headings: Sequence[Heading], kinds: Sequence[str]) -> list[Column]:
    """The columns, of kinds that are known beforehand. Raises ReadingsError."""
    return [
        _column(cells, heading, kind, body.dialect.decimal, settled=True)
        for cells, heading, kind in zip(_cells(body, kinds), headings, kinds, strict=True)
    ]


def _kind_of(cells: Sequence[str], dialect: Dialect) -> str:
    present = [cell for cell in cells if cell.strip() not in MISSING_MARKS]
    numbers = sum(is_number(cell, dialect.decimal) for cell in present)
    return NUMBER if numbers >= _MOSTLY * len(present) else TEXT


def _is_blank(cells: _Cells) -> bool:
    if isinstance(cells, list):
        return not any(cell.strip() for cell in cells)
    return bool(np.isnan(cells).all())


def _cells(body: Body, kinds: Sequence[str]) -> list[_Cells]:
    return (
        _cells_short(body, len(kinds))
        if len(body.raw) - body.offset <= SHORT_BYTES
        else _cells_long(body, kinds)
    )


def _cells_short(body: Body, width: int) -> list[_Cells]:
    rows = _rows(body, width)
    return [[row[i] for row in rows] for i in range(width)]


def _rows(body: Body, width: int) -> list[list[str]]:
    """The records of a body. Raises ReadingsError at the first of another width."""
    rows = []
    reader = csv.reader(
        io.StringIO(body.content.decode("utf-8"), newline=""), delimiter=body.dialect.separator
    )
    line = body.first_line
    for row in reader:
        if row:
            if len(row) != width:
                raise _ragged(row, width, line, body.where)
            rows.append(row)
        line = body.first_line + reader.line_num
    return rows


def _ragged(row: list[str], width: int, line: int, where: str) -> ReadingsError:
    if len(row) > width:
        detail = f"the first one too many is “{row[width]}”."
    else:
        detail = "the rest of the row is not there."
    column = min(len(row), width) + 1
    return ReadingsError(
        f"This row has {plural(len(row), 'cell')} and the header has {width}: {detail}",
        where=f"{where}, row at line {line}, column {column}",
        remedy="Mend that line, or put quotation marks round a cell that holds the separator.",
    )


def _cells_long(body: Body, kinds: Sequence[str]) -> list[_Cells]:
    """The cells by pyarrow; a number column in which it meets text is read again as text."""
    import pyarrow as pa
    from pyarrow import csv as arrow_csv

    names = [str(i) for i in range(len(kinds))]
    types = [pa.float64() if kind == NUMBER else pa.string() for kind in kinds]
    for _ in range(len(kinds) + 1):
        try:
            table = arrow_csv.read_csv(
                pa.BufferReader(pa.py_buffer(body.raw).slice(body.offset)),
                read_options=arrow_csv.ReadOptions(column_names=names),
                parse_options=arrow_csv.ParseOptions(
                    delimiter=body.dialect.separator,
                    newlines_in_values=b'"' in body.raw,
                ),
                convert_options=arrow_csv.ConvertOptions(
                    column_types=dict(zip(names, types, strict=True)),
                    null_values=list(MISSING_MARKS),
                    decimal_point=body.dialect.decimal,
                    strings_can_be_null=False,
                ),
            )
        except pa.ArrowInvalid as error:
            match = _ARROW_COLUMN.search(str(error))
            if match is None or types[int(match[1])] == pa.string():
                _rows(body, len(kinds))  # says where the text is ragged, if that is it
                raise ReadingsError(
                    "The text cannot be divided into rows and cells.", where=body.where
                ) from error
            types[int(match[1])] = pa.string()
        else:
            return [
                column.to_numpy() if kind == pa.float64() else column.to_pylist()
                for column, kind in zip(table.columns, types, strict=True)
            ]
    raise AssertionError("every column was tried as text")


def _column(
    cells: _Cells, heading: Heading, kind: str, decimal: str, *, settled: bool = False
) -> Column:
    """A column of its cells; unless `settled`, one of text for the most part becomes text."""
    if isinstance(cells, np.ndarray):
        if np.isinf(cells).any():
            texts = {int(row): str(cells[row]) for row in np.flatnonzero(np.isinf(cells))}
            return number_column(heading.name, cells, heading.unit, texts)
        # the array is ours already
        return Column(heading.name, heading.unit, NUMBER, cells)
    stripped = [cell.strip() for cell in cells]
    if kind == TEXT:
        return text_column(heading.name, stripped, heading.unit)
    values = np.full(len(stripped), np.nan)
    texts = {}
    for row, text in enumerate(stripped):
        value = np.nan
        if is_number(text, decimal):
            value = float(text.replace(",", ".") if decimal == "," else text)
        if np.isfinite(value):
            values[row] = value
        elif text not in MISSING_MARKS:
            texts[row] = text
    numbers = int(np.count_nonzero(np.isfinite(values)))
    if not settled and numbers < _MOSTLY * (numbers + len(texts)):
        return text_column(heading.name, stripped, heading.unit)
    return number_column(heading.name, values, heading.unit, texts)
