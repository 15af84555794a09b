"""A document: readings and the figure drawn from them, its history and its file."""

from sornix.core.document.history import History, Step
from sornix.core.document.package import ENDING, load_document, save_document, write_atomically
from sornix.core.document.value import Document, new_document

__all__ = [
    "ENDING",
    "Document",
    "History",
    "Step",
    "load_document",
    "new_document",
    "save_document",
    "write_atomically",
]
