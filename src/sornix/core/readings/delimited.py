"""Delimited text: read into tables, written in full precision."""

import csv
import io
import re
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from sornix.core.errors import ReadingsError
from sornix.core.readings.column import NUMBER, TEXT, Column, number_column, text_column
from sornix.core.readings.header import Heading, parse_heading
from sornix.core.readings.sniff import (
    MISSING_MARKS,
    Dialect,
    find_dialect,
    is_number,
    sample_rows,
    utf8,
)
from sornix.core.readings.table import Table, unique_names
from sornix.core.text import plural

if TYPE_CHECKING:
    import pyarrow as pa

# A column in which at least this share of the cells are numbers is a number column with text in
# it, to be reported; below that it is a text column in which numbers occur.
_MOSTLY = 0.5
_ARROW_COLUMN = re.compile(r"In CSV column #(\d+)")


def read_delimited(path: Path) -> Table:
    """The table in a delimited text file. Raises ReadingsError with row and column."""
    try:
        raw = path.read_bytes()
    except FileNotFoundError as error:
        raise ReadingsError("There is no such file.", where=str(path)) from error
    except IsADirectoryError as error:
        raise ReadingsError(
            "This is a folder, not a file.", where=str(path), remedy="Choose a file in it."
        ) from error
    except OSError as error:
        raise ReadingsError(
            f"The file cannot be read ({error.strerror}).", where=str(path)
        ) from error
    return read_text(raw, path.stem, where=path.name)


def read_text(raw: bytes, name: str, *, where: str = "") -> Table:
    """The table in a delimited text with a header row.

    `name` becomes the table's name, `where` stands before messages. Separator, decimal mark,
    units and the kind of each column are found from the text. Raises ReadingsError.
    """
    where = where or name
    raw = utf8(raw, where)
    if not raw.strip():
        raise ReadingsError("The file is empty.", where=where)
    dialect = find_dialect(raw)
    rows = sample_rows(raw, dialect.separator)
    notes = []
    if all(not cell.strip() or is_number(cell, dialect.decimal) for cell in rows[0]):
        headings = [Heading(f"Column {i + 1}") for i in range(len(rows[0]))]
        body, first_line, sample = raw, 1, rows
        notes.append("There is no header row, so the columns are numbered.")
    else:
        body, first_line = _after_header(raw, dialect)
        headings = [parse_heading(cell) for cell in rows[0]]
        sample = rows[1:]
    if not body.strip():
        raise ReadingsError("There is a header row and nothing under it.", where=where)
    width = len(headings)
    kinds = [_kind_of([r[i] for r in sample if i < len(r)], dialect) for i in range(width)]
    cells = _Cells(body, dialect, where, first_line)
    columns = cells.columns(headings, kinds)
    if not any(column.kind == NUMBER and column.count for column in columns):
        raise ReadingsError(
            f"None of the {width} columns holds numbers." if width > 1 else "There are no numbers.",
            where=where,
            remedy="Sornix needs at least one column of numbers under a header.",
        )
    notes += [note for column in columns if (note := _text_note(column))]
    return Table(name, tuple(columns), tuple(notes))


def read_columns(raw: bytes, name: str, columns: Sequence[tuple[Heading, str]]) -> Table:
    """The table in comma-separated UTF-8 whose headings and kinds are known beforehand."""
    body, first_line = _after_header(raw, Dialect())
    cells = _Cells(body, Dialect(), name, first_line)
    headings, kinds = [h for h, _ in columns], [k for _, k in columns]
    if not body:
        empty = [
            number_column(h.name, [], h.unit) if k == NUMBER else text_column(h.name, [], h.unit)
            for h, k in columns
        ]
        return Table(name, tuple(empty))
    return Table(name, tuple(cells.columns(headings, kinds, settled=True)))


def write_text(table: Table, separator: str = ",") -> bytes:
    """The table as RFC 4180 text in UTF-8, numbers in full precision, "" where missing."""
    stream = io.StringIO(newline="")
    writer = csv.writer(stream, delimiter=separator)
    writer.writerow(c.name for c in table.columns)
    cells = [[column.cell(row) for row in range(table.row_count)] for column in table.columns]
    # a lone missing cell would be a blank line, which readers pass over: it is quoted instead
    single = len(cells) == 1
    for row in zip(*cells, strict=True):
        if single and not row[0]:
            stream.write('""\r\n')
        else:
            writer.writerow(row)
    return stream.getvalue().encode()


def _after_header(raw: bytes, dialect: Dialect) -> tuple[bytes, int]:
    """What follows the header record, and the number of the line that it begins with."""
    text = io.StringIO(raw.decode("utf-8"), newline="")
    reader = csv.reader(text, delimiter=dialect.separator)
    for row in reader:
        if any(cell.strip() for cell in row):
            break
    return text.read().encode(), reader.line_num + 1


def _kind_of(cells: Sequence[str], dialect: Dialect) -> str:
    present = [cell for cell in cells if cell.strip() not in MISSING_MARKS]
    numbers = sum(is_number(cell, dialect.decimal) for cell in present)
    return NUMBER if numbers >= _MOSTLY * len(present) else TEXT


def _text_note(column: Column) -> str:
    if not column.texts:
        return ""
    row, text = next(iter(column.texts.items()))
    return (
        f"{plural(len(column.texts), 'cell')} of “{column.name}” "
        f"{'is' if len(column.texts) == 1 else 'are'} text, not numbers, and left out "
        f"(row {row + 1}: “{text}”)."
    )


class _Cells:
    """The body of a delimited text, on its way into columns."""

    def __init__(self, body: bytes, dialect: Dialect, where: str, first_line: int) -> None:
        self._body = body
        self._dialect = dialect
        self._where = where
        self._first_line = first_line

    def columns(
        self, headings: Sequence[Heading], kinds: Sequence[str], *, settled: bool = False
    ) -> list[Column]:
        """Columns by the given kinds; unless `settled`, mostly-text ones become text columns."""
        parsed = self._parse(kinds)
        # a separator at the end of every line makes a last column without name or cells
        width = len(headings)
        if not settled and not headings[-1].name and not any(parsed.column(width - 1).to_pylist()):
            width -= 1
        named = unique_names(h.name or f"Column {i + 1}" for i, h in enumerate(headings[:width]))
        return [
            self._column(parsed.column(i), Heading(named[i], headings[i].unit), kinds[i], settled)
            for i in range(width)
        ]

    def _parse(self, kinds: Sequence[str]) -> "pa.Table":
        import pyarrow as pa
        from pyarrow import csv as arrow_csv

        names = [str(i) for i in range(len(kinds))]
        types = [pa.float64() if kind == NUMBER else pa.string() for kind in kinds]
        for _ in range(len(kinds) + 1):
            try:
                return arrow_csv.read_csv(
                    pa.BufferReader(self._body),
                    read_options=arrow_csv.ReadOptions(column_names=names),
                    parse_options=arrow_csv.ParseOptions(
                        delimiter=self._dialect.separator,
                        newlines_in_values=b'"' in self._body,
                    ),
                    convert_options=arrow_csv.ConvertOptions(
                        column_types=dict(zip(names, types, strict=True)),
                        null_values=list(MISSING_MARKS),
                        decimal_point=self._dialect.decimal,
                        strings_can_be_null=False,
                    ),
                )
            except pa.ArrowInvalid as error:
                self._raise_if_ragged(len(kinds), error)
                match = _ARROW_COLUMN.search(str(error))
                if match is None or types[int(match[1])] == pa.string():
                    raise ReadingsError(
                        "The text cannot be divided into rows and cells.", where=self._where
                    ) from error
                types[int(match[1])] = pa.string()
        raise AssertionError("every column was tried as text")

    def _raise_if_ragged(self, width: int, cause: Exception) -> None:
        text = io.StringIO(self._body.decode("utf-8"), newline="")
        reader = csv.reader(text, delimiter=self._dialect.separator)
        begin = self._first_line
        for row in reader:
            if row and len(row) != width:
                count = plural(len(row), "cell")
                if len(row) > width:
                    place = f"row at line {begin}, column {width + 1}"
                    detail = f"the first one too many is “{row[width]}”."
                else:
                    place = f"row at line {begin}, column {len(row) + 1}"
                    detail = "the rest of the row is not there."
                raise ReadingsError(
                    f"This row has {count} and the header has {width}: {detail}",
                    where=f"{self._where}, {place}",
                    remedy="Mend that line, or put quotation marks round a cell that holds "
                    "the separator.",
                ) from cause
            begin = self._first_line + reader.line_num

    def _column(
        self, cells: "pa.ChunkedArray", heading: Heading, kind: str, settled: bool
    ) -> Column:
        import pyarrow as pa

        if kind == NUMBER and cells.type == pa.float64():
            # a filled array of its own: Arrow's buffer would keep the whole file in memory
            values = cells.to_numpy()
            if np.isinf(values).any():
                texts = {int(r): str(values[r]) for r in np.flatnonzero(np.isinf(values))}
                return number_column(heading.name, values, heading.unit, texts)
            return number_column(heading.name, values, heading.unit)
        strings: list[str] = cells.to_pylist()
        if kind == TEXT:
            return text_column(heading.name, [s.strip() for s in strings], heading.unit)
        return self._mixed(strings, heading, settled)

    def _mixed(self, strings: Sequence[str], heading: Heading, settled: bool) -> Column:
        """Cells of which some are no numbers."""
        values = np.full(len(strings), np.nan)
        texts: dict[int, str] = {}
        decimal = self._dialect.decimal
        for row, cell in enumerate(strings):
            text = cell.strip()
            if is_number(text, decimal):
                values[row] = float(text.replace(",", ".") if decimal == "," else text)
            elif text not in MISSING_MARKS:
                texts[row] = text
        numbers = int(np.count_nonzero(np.isfinite(values)))
        if not settled and numbers < _MOSTLY * (numbers + len(texts)):
            return text_column(heading.name, [s.strip() for s in strings], heading.unit)
        return number_column(heading.name, values, heading.unit, texts)
