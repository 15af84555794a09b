"""The whole of what is saved, as one value."""

from attrs import frozen

from sornix.core.figure import Figure, new_figure
from sornix.core.readings import Table, Tables


@frozen
class Document:
    """Tables of readings and a figure that is drawn from them."""

    tables: Tables
    figure: Figure


def new_document(*tables: Table) -> Document:
    """A document that begins with some tables and the first figure of the first one."""
    return Document(tables, new_figure(tables[0]))
