"""The statement as text: what a figure says in words, and the figure that words say."""

from sornix.core.statement.completing import Completion, completions
from sornix.core.statement.reading import read_statement
from sornix.core.statement.words.misread import StatementError
from sornix.core.statement.writing import differences_in_words, write_statement

__all__ = [
    "Completion", "StatementError", "completions", "differences_in_words", "read_statement",
    "write_statement",
]  # fmt: skip
