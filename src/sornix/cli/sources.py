"""Files given on the command line, as tables and documents."""

from pathlib import Path

from sornix.core.document import ENDING, Document, load_document, new_document
from sornix.core.errors import ReadingsError
from sornix.core.readings import Table, Tables, table_named
from sornix.core.readings.files.sources import read_file


def read_tables(path: Path, sheet: str | None = None) -> Tables:
    """The readings in a file of any type: its tables, or the sheet of that name."""
    if path.suffix.lower() != ENDING:
        return read_file(path, sheet)
    tables = load_document(path).tables
    return tables if sheet is None else (table_named(tables, sheet),)


def read_table(path: Path, sheet: str | None = None) -> Table:
    """The first table in a file, or the sheet of that name."""
    return read_tables(path, sheet)[0]


def open_source(path: Path) -> Document:
    """A document, or readings with the figure that they begin with."""
    return (
        load_document(path) if path.suffix.lower() == ENDING else new_document(*read_tables(path))
    )


def need_numbers(table: Table, name: str) -> None:
    """Raises UnknownColumn or ReadingsError where a column cannot be plotted or fitted."""
    column = table.column(name)
    if not column.has_places:
        raise ReadingsError(
            f"“{name}” holds text, not numbers.",
            where=table.name,
            remedy="Choose a column of numbers.",
        )
