"""Sizes of text, and the one way in which runs are set."""

from functools import lru_cache
from threading import get_ident
from typing import NamedTuple
from unicodedata import category

from PyQt6.QtGui import QFont, QFontMetricsF

from sornix.core.text import THIN_SPACE, Rich
from sornix.paint.fonts import UNITS_PER_MM, figure_font

SCRIPT_SIZE = 0.68
SCRIPT_RAISED = 0.36
SCRIPT_LOWERED = 0.16
# letters that nobody sees, and those that ask for another form of the one before
_UNSEEN, _VARIANTS = ("Cc", "Cf", "Zs", "Zl", "Zp"), frozenset(map(chr, range(0xFE00, 0xFE10)))
# fonts have the same letters at any size
_ANY_MM = 3.0


# figures are exported beside the window that shows them: no two threads share a font
@lru_cache(maxsize=256)
def _font(size_mm: float, italic: bool, bold: bool, _thread: int) -> tuple[QFont, QFontMetricsF]:
    font = figure_font(size_mm, italic=italic, bold=bold)
    return font, QFontMetricsF(font)


class SetRun(NamedTuple):
    """A run in its place, in units of 1/100 mm."""

    text: str
    font: QFont
    x: float
    y: float
    advance: float


def set_runs(runs: Rich, size_mm: float, bold: bool) -> tuple[SetRun, ...]:
    """The runs of a line beside each other, from its beginning on the base line."""
    return _set(runs, size_mm, bold, get_ident())


# a gesture asks for the same labels in every frame
@lru_cache(maxsize=4096)
def _set(runs: Rich, size_mm: float, bold: bool, thread: int) -> tuple[SetRun, ...]:
    x, found = 0.0, []
    for run in runs:
        size = size_mm * (SCRIPT_SIZE if run.script else 1.0)
        font, metrics = _font(round(size, 3), run.italic, bold, thread)
        shift = {1: -SCRIPT_RAISED, 0: 0.0, -1: SCRIPT_LOWERED}[run.script]
        # the typeface has no thin space, and its space is as wide as one; a text is one line
        text = run.text.replace(THIN_SPACE, " ").replace("\n", " ")
        advance = metrics.horizontalAdvance(text)
        found.append(SetRun(text, font, x, shift * size_mm * UNITS_PER_MM, advance))
        x += advance
    return tuple(found)


@lru_cache(maxsize=8192)
def _width(runs: Rich, size_mm: float, bold: bool) -> float:
    line = set_runs(runs, size_mm, bold)
    return (line[-1].x + line[-1].advance) / UNITS_PER_MM if line else 0.0


@lru_cache(maxsize=128)
def _ascent(size_mm: float) -> float:
    return _font(round(size_mm, 3), False, False, get_ident())[1].capHeight() / UNITS_PER_MM


@lru_cache(maxsize=1024)
def _lacks(text: str, thread: int) -> str:
    metrics = _font(_ANY_MM, False, False, thread)[1]
    return "".join(
        letter for letter in dict.fromkeys(text)
        if not (category(letter) in _UNSEEN or letter in _VARIANTS
                or metrics.inFontUcs4(ord(letter)))
    )  # fmt: skip


class QtMeasure:
    """Answers `sornix.core.drawing.Measure` from the fonts that will be painted with."""

    def width(self, runs: Rich, size_mm: float, *, bold: bool = False) -> float:
        return _width(runs, size_mm, bold)

    def ascent(self, size_mm: float) -> float:
        return _ascent(size_mm)

    def descent(self, size_mm: float) -> float:
        return 0.24 * size_mm

    def lacks(self, text: str) -> str:
        return _lacks(text, get_ident())
