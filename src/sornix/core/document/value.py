"""The whole of what is saved, as one value."""

from attrs import frozen

from sornix.core.figure import Figure, new_figure
from sornix.core.readings import Table, Tables


@frozen
class Document:
    """Tables of readings and a figure that is drawn from them."""

    tables: Tables
    figure: Figure


def new_document(table: Table) -> Document:
    """A document that begins with one table and the first figure of it."""
    return Document((table,), new_figure(table))
