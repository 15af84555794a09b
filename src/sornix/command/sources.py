"""Files given on the command line, as tables and documents."""

from pathlib import Path

from sornix.core.document import ENDING, Document, load_document, new_document
from sornix.core.errors import ReadingsError
from sornix.core.readings import Table, read_delimited


def read_table(path: Path) -> Table:
    """The readings in a file: delimited text, or the first table of a document."""
    if path.suffix.lower() == ENDING:
        return load_document(path).tables[0]
    return read_delimited(path)


def open_source(path: Path) -> Document:
    """A document, or readings with the figure that they begin with."""
    return load_document(path) if path.suffix.lower() == ENDING else new_document(read_table(path))


def need_numbers(table: Table, name: str) -> None:
    """Raises UnknownColumn or ReadingsError where a column cannot be plotted or fitted."""
    column = table.column(name)
    if column.kind != "number":
        raise ReadingsError(
            f"“{name}” holds text, not numbers.",
            where=table.name,
            remedy="Choose a column of numbers.",
        )
