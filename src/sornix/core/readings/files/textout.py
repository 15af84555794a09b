"""Tables as text."""

import csv
import io
from collections.abc import Sequence

from sornix.core.errors import ReadingsError
from sornix.core.letters import has_half
from sornix.core.readings.tables.column import TEXT, Column
from sornix.core.readings.tables.table import Table
from sornix.core.text import plural

# Longer tables are written by pyarrow.
_MANY_ROWS = 20_000


# More rows than this would be gigabytes of text.
_MOST_WRITTEN = 20_000_000


def need_few(rows: int) -> None:
    """Raises ReadingsError for so many rows that nobody could do anything with them as text."""
    if rows > _MOST_WRITTEN:
        raise ReadingsError(
            f"{plural(rows, 'row')} are too many to be written as text.",
            remedy="Hold a range of x and take a part of the file.",
        )


def write_text(
    table: Table, separator: str = ",", rows: Sequence[int] | None = None, *, units: bool = False
) -> bytes:
    """The table as RFC 4180 text in UTF-8, numbers in full precision, "" where missing.

    With some `rows` only, by index; with `units`, each name has its unit behind it in brackets.
    Raises ReadingsError where there are too many.
    """
    if rows is None:
        need_few(table.row_count)
    # a lone missing cell would be a blank line, which readers pass over: it is quoted instead
    single = len(table.columns) == 1
    blank = single and table.columns[0].missing > 0
    many = rows is None and table.row_count > _MANY_ROWS
    if many and not blank and not any(map(_is_mixed, table.columns)):
        from sornix.core.readings.files.longtext import written_by_arrow

        return written_by_arrow(table, separator, units=units)
    stream = io.StringIO(newline="")
    writer = csv.writer(stream, delimiter=separator)
    writer.writerow(table.titles(units=units))
    cells = [column.cells() for column in table.columns]
    if rows is not None:
        cells = [[column[row] for row in rows] for column in cells]
    for row in zip(*cells, strict=True):
        if single and not row[0]:
            stream.write('""\r\n')
        else:
            writer.writerow(row)
    return stream.getvalue().encode(errors="replace")


def _is_mixed(column: Column) -> bool:
    """Whether some cells are not of the column's kind, or hold line ends or halves of letters."""
    if column.kind == TEXT:
        return any("\n" in cell or "\r" in cell or has_half(cell) for cell in column.values)
    return bool(column.texts or column.bounds)
