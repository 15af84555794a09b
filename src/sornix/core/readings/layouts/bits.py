"""What a sign, a cell and a row take to write down, and what cells hold."""

from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, has_digit, is_number
from sornix.core.readings.tables.dialect import MISSING_MARKS

# Bits of a letter out of 96, of a sign of a number out of 13, of an empty cell.
LETTER, DIGIT, EMPTY = 6.6, 3.7, 2.0
# And of what is not as the rest is, the more of them the more seldom it is in tables:
ODD_CELL = 12.0  # a cell of another kind than its column
ODD_ROW = 100.0  # a row of another width, since tables mostly go on to the end
ODD_NAMES = 300.0  # names that are more or fewer than the columns
NO_READINGS = 1000.0  # names with nothing below
LOST_NAMES, LOST_NAME = 300.0, 12.0  # names that no column gets, and each of them
SHIFTED = 30.0  # names of all columns but the first
PREAMBLE = 20.0  # lines before the names
FAREWELL = 20.0  # and lines after the readings
NO_NAMES = 25.0
TITLE = 40.0  # lines before readings without names
NUMBER_AS_NAME = 15.0
AGAINST_EVEN = 1.2  # spaces, where a sign divides all lines evenly
BY_CHANCE = 40.0  # columns of letters
NUMBERS_ALONE = 40.0  # numbers that are no readings
_MISSING = frozenset(MISSING_MARKS)
_MOMENT = pattern(
    r"\d{1,4}([-/.])\d{1,2}\1\d{1,4}"
    r"([ T]\d{1,2}:\d{2}(:\d{2}([.,]\d{1,9})?)?(Z|[+-]\d{2}:?\d{2}| ?[AaPp]\.?[Mm]\.?)?)?"
    r"|[-−]?\d{1,2}:\d{2}(:\d{2}([.,]\d{1,9})?)?( ?[AaPp]\.?[Mm]\.?)?"
    r"|\d{1,2}\.?[ -][^\W\d]{3,9}\.?[ -]\d{2,4}( \d{1,2}:\d{2}(:\d{2})?)?"
)
# a number with a unit or another word beside it, which mostly is the same in a column
A_NUMBER = r"[-+−]?\d{1,15}(?:[.,]\d{1,15})?"
_QUANTITY = pattern(rf"[<>≤≥≈~$€£¥] ?{A_NUMBER}|{A_NUMBER} ?(?:[^\W\d_]|[%‰°$€£¥])[^\s,;]{{0,12}}")
_LONG = 40
# cells are looked at once, however many layouts hold them
_MOST_CELLS = 1 << 14
BITS_OF = {"n": DIGIT, "d": DIGIT, "q": DIGIT, "t": LETTER}


class Weight(NamedTuple):
    """Bits of rows of a width; `first` is the place of the first reading, `kinds` are those of the
    columns: n numbers, d dates and times, q quantities such as 12 mg, t text; whether spaces divide
    them, none of which is within a cell."""

    bits: float
    first: int
    width: int
    kinds: str
    spaced: bool = False


def kind_of_cell(cell: str, marks: Marks) -> str:
    """What a cell holds: n, d, q or t as in Weight, or e for nothing."""
    text = cell.strip()
    return _short_kind(text, marks) if len(text) < _LONG else "t"


@lru_cache(_MOST_CELLS)
def _short_kind(text: str, marks: Marks) -> str:
    if text in _MISSING:
        return "e"
    if is_number(text, marks):
        return "n"
    if text[0].isalpha() or not has_digit(text):
        return "t"
    return "d" if _MOMENT.fullmatch(text) else "q" if _QUANTITY.fullmatch(text) else "t"


def is_padded(row: Sequence[str], width: int) -> bool:
    return len(row) > width and not any(cell.strip() for cell in row[width:])
