"""A figure of a table, with its reason."""

from typing import NamedTuple

from sornix.core.figure.model.values import Figure
from sornix.core.readings import Column
from sornix.core.text import spoken

MARK_WORDS = {
    "points": "points", "line": "a line", "points-and-line": "points and line", "bars": "bars",
}  # fmt: skip


class Way(NamedTuple):
    """A figure of a table: in a few words, and why it is drawn so, in a sentence."""

    figure: Figure
    words: str
    because: str


class Along(NamedTuple):
    """What readings stand along: a column or None for the row numbers, its role, and why."""

    column: Column | None
    role: str
    because: str


def words_of(mark: str, many: int) -> str:
    return MARK_WORDS[mark] if many == 1 else f"{spoken(many)} series, {MARK_WORDS[mark]}"


def capital(text: str) -> str:
    return text[:1].upper() + text[1:]
