"""A document: readings and the figure drawn from them, its history and its file."""

from sornix.core.document.history import History, Step
from sornix.core.document.package import ENDING, load_document, save_document, write_atomically
from sornix.core.document.tables import (
    add_summary,
    add_tables,
    blank_document,
    change_table,
    draw_table,
    remove_table,
    rename_table,
    with_table_read_again,
)
from sornix.core.document.value import Document, new_document

__all__ = [
    "ENDING",
    "Document",
    "History",
    "Step",
    "add_summary",
    "add_tables",
    "blank_document",
    "change_table",
    "draw_table",
    "load_document",
    "new_document",
    "remove_table",
    "rename_table",
    "save_document",
    "with_table_read_again",
    "write_atomically",
]
