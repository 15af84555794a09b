"""Delimited text: read into tables, written in full precision."""

import csv
import io
from collections.abc import Sequence
from pathlib import Path

from sornix.core.errors import ReadingsError
from sornix.core.readings.cells import Body, after_header, after_row, found_columns, known_columns
from sornix.core.readings.column import NUMBER, Column, number_column, text_column
from sornix.core.readings.header import Heading, parse_heading
from sornix.core.readings.prepare import prepare, units_in
from sornix.core.readings.sniff import Dialect, is_number, sample_rows, utf8
from sornix.core.readings.table import Table
from sornix.core.text import plural


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
    if not raw or raw.isspace():
        raise ReadingsError("The file is empty.", where=where)
    raw, dialect, found = prepare(raw)
    rows = sample_rows(raw, dialect.separator)
    if not rows:
        raise ReadingsError("The file holds remarks and nothing else.", where=where)
    notes = list(found)
    if all(not cell.strip() or is_number(cell, dialect.decimal) for cell in rows[0]):
        headings = [Heading(f"Column {i + 1}") for i in range(len(rows[0]))]
        body = Body(raw, 0, dialect, where, 1)
        notes.append("There is no header row, so the columns are numbered.")
    else:
        body = after_header(raw, dialect, where)
        headings = [parse_heading(cell) for cell in rows[0]]
        units = units_in(rows[1], dialect) if len(rows) > 2 else None
        if units is not None and not any(heading.unit for heading in headings):
            body = after_row(body)
            # a row of units that is narrower or wider than the header is told of as any other
            pairs = zip(headings, [*units, *[""] * len(headings)], strict=False)
            headings = [Heading(heading.name, unit) for heading, unit in pairs]
            notes.append("The row under the header was read as units.")
    if body.is_blank:
        raise ReadingsError("There is a header row and nothing under it.", where=where)
    width = len(headings)
    columns = found_columns(body, headings)
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
    body = after_header(raw, Dialect(), name)
    if body.is_blank:
        empty = [
            number_column(h.name, [], h.unit) if k == NUMBER else text_column(h.name, [], h.unit)
            for h, k in columns
        ]
        return Table(name, tuple(empty))
    headings, kinds = [h for h, _ in columns], [k for _, k in columns]
    return Table(name, tuple(known_columns(body, headings, kinds)))


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


def _text_note(column: Column) -> str:
    if not column.texts:
        return ""
    row, text = next(iter(column.texts.items()))
    return (
        f"{plural(len(column.texts), 'cell')} of “{column.name}” "
        f"{'is' if len(column.texts) == 1 else 'are'} text, not numbers, and left out "
        f"(row {row + 1}: “{text}”)."
    )
