"""Tables that are too long to be a part of a document."""

from collections.abc import Mapping

from attrs import evolve

from sornix.core.document.value import Document
from sornix.core.errors import DocumentError
from sornix.core.readings import Table
from sornix.core.text import counted, plural

# Longer tables are no part of a document; a pattern has so many of their rows.
_MOST_SAVED, _FIRST_ROWS = 20_000_000, 10_000


def as_saved(document: Document, where: str) -> Document:
    """A document as it is saved: a pattern with the first rows of very long tables. Raises
    DocumentError for a document of these."""
    if document.pattern:
        return evolve(document, tables=tuple(map(_beginning, document.tables)))
    if (long := too_long(document)) is not None:
        raise DocumentError(
            f"“{long.name}” has {plural(long.row_count, 'row')}, too many for a document.",
            where=where,
            remedy="Save it as a pattern: that keeps the figure, for the readings of this file.",
        )
    return document


def too_long(document: Document) -> Table | None:
    """The first table of a document that has more rows than are saved with it."""
    return next((table for table in document.tables if table.row_count > _MOST_SAVED), None)


def _beginning(table: Table) -> Table:
    """A table, or the first rows of one that is too long for a document."""
    if table.row_count <= _MOST_SAVED:
        return table

    def some(cells: Mapping[int, str]) -> dict[int, str]:
        return {row: cell for row, cell in cells.items() if row < _FIRST_ROWS}

    columns = tuple(
        evolve(c, values=c.values[:_FIRST_ROWS].copy(), texts=some(c.texts),
               as_read=some(c.as_read), bounds=some(c.bounds))
        for c in table.columns
    )  # fmt: skip
    note = f"These are the first {plural(_FIRST_ROWS, 'row')} of {counted(table.row_count)}."
    return evolve(table, columns=columns, notes=(*table.notes, note))
