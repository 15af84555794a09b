"""Cells with numbers that are written in another form: 92 %, 1.5D-03, 1.2 ± 0.1, 57°09′.

Each function understands cells of one form, and gives None for any other text.
"""

import re
from collections.abc import Sequence
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import is_unit
from sornix.core.readings.cells.marks import Marks, number_in, otherwise_divided

_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺", "0123456789-+")
POWER = pattern(r"(.*\d)\s?(?:[dDeE]|[x×·*]\s?10\s?\^?\s?)\s?(\(?[-+−]?\d{1,3}\)?)")
_BEHIND = pattern(
    r"([^A-Za-zµμ%‰°€$£¥Ω]*\d[.,]?(?:[eE][-+−]?\d{1,3}(?=\s|[^\d.,]))?)\s?"
    r"([A-Za-zµμ%‰°€$£¥Ω]\S*(?: \S+)?)"
)
_BEFORE = pattern(r"([€$£¥])\s?([-+−]?\d.*)")
_SPREAD = pattern(r"(.*\d)\s?(?:±|\+/-|\+-)\s?(\d.*)")
_INTERVAL = pattern(r"[\[(]\s?(\S+?)\s?(?:[;,–]\s|[;–]|\s-\s|\sto\s|\.\.)\s?(\S+)\s?[\])]")
_BRACKETS = pattern(r"(.*\d)(?:\s\(|\((?=.*[.,]))\s?([-+−]?\d.*)\)")
_SHARED = pattern(r"([-+−]?[\d.,]*\d)\s?\(\s?([\d.,]*\d)\s?%\s?\)")
_STARRED = pattern(r"([-+−]?[\d.,]*\d)\s?([*†‡§]{1,4})")
_REMARKED = pattern(r"([-+−]?[\d.,]*\d)\s?\(\s?([^\W\d][^()]*)\)")
# of whole numbers with letters some are the names of samples
_LETTERED = pattern(r"([-+−]?\d+[.,]\d+)\s?([a-h]{1,4})")
_WORDS_OF_TIME = {"day": "d", "days": "d", "tag": "d", "jour": "d", "hour": "h", "stunde": "h",
                  "week": "", "woche": "", "month": "", "monat": "", "year": "", "jahr": "",
                  "minute": "min", "cycle": "", "zyklus": ""}  # fmt: skip
_COUNTED = pattern(rf"({'|'.join(_WORDS_OF_TIME)})[ _]?(\d.*)", re.IGNORECASE)
CONCISE = pattern(r"([-+−]?\d+(?:[.,](\d+))?)\((\d{1,3})\)")
FRACTION = pattern(r"(?:([-+−]?\d{1,4})\s+)?([-+−]?\d{1,4})\s?/\s?(\d{1,4})")
MINUS_BEHIND = pattern(r"(\d.*\d|\d)\s?[-−]")
_MARKED = pattern(r"\((\d.*\d|\d)\)|[-−–]\s+(\d.*)")
# 57°09′12.5″ N, 2° 05.4' W
_ANGLE = pattern(
    r"([-−+]?\d{1,3})\s?°\s?(\d{1,2}(?:[.,]\d+)?)\s?['′’](?:\s?(\d{1,2}(?:[.,]\d+)?)\s?"
    r"(?:[\"″”]|''|′′|’’))?\s?([NSEW]?)"
)
# N57 09.2, and 57.153 N
_LETTER_FIRST = pattern(r"([NSEW])\s?(\d{1,3})(?:°\s?|\s)(\d{1,2}(?:[.,]\d+)?)\s?['′’]?")
_DECIMAL = pattern(r"(\d{1,3}(?:[.,]\d+)?)\s?(°?)\s?([NSEW])")
_PLACE = pattern(r"\b(?:lat|lon|long|lng|latitude|longitude|breite|länge|latitud|longitud)\b|"
                 r"_(?:lat|lon|long)$|^(?:lat|lon|long)_", re.IGNORECASE)  # fmt: skip
_PARTS, _MOST = 60, 180.0
_BELOW = ("S", "W")


class Cell(NamedTuple):
    """What a cell of a form holds: its number, unit, what stands beside it as a number (an
    uncertainty), None where it has none, and the letters behind it."""

    value: float
    unit: str = ""
    beside: float | None = None
    letters: str = ""


def with_power(text: str, marks: Marks) -> Cell | None:
    match = POWER.fullmatch(text.translate(_SUPERSCRIPTS))
    if match is None:
        return None
    power = match[2].strip("()").replace("−", "-")
    # in one step, so that 1.5D-03 is what 1.5e-03 is
    value = number_in(f"{match[1].strip()}e{power}", marks)
    return None if value is None else Cell(value)


def with_unit(text: str, marks: Marks) -> Cell | None:
    match = _BEHIND.fullmatch(text)
    if match is not None:
        unit, number = match[2].strip(), match[1].strip()
        known = is_unit(unit) or unit in "€$£¥"
    else:
        match = _BEFORE.fullmatch(text)
        unit, number, known = (match[1], match[2], True) if match is not None else ("", "", False)
    value = _grouped(number, marks) if known else None
    return None if value is None else Cell(value, unit)


def _grouped(text: str, marks: Marks) -> float | None:
    """A number, its thousands divided by blanks or not, or with a power of ten."""
    value = number_in(text, marks)
    value = number_in(text, Marks(marks.decimal, " ")) if value is None else value
    power = with_power(text, marks) if value is None else None
    return power.value if power is not None else value


def with_spread(text: str, marks: Marks) -> Cell | None:
    match = _SPREAD.fullmatch(text.strip("() "))
    if match is None:
        return None
    number, unit = match[2].strip(), ""
    behind = _BEHIND.fullmatch(number)
    if behind is not None and is_unit(behind[2].strip()):
        # 1.2 ± 0.1 g
        number, unit = behind[1].strip(), behind[2].strip()
    value, spread = number_in(match[1].strip(), marks), number_in(number, marks)
    return None if value is None or spread is None else Cell(value, unit, spread)


def concise(text: str, marks: Marks) -> Cell | None:
    """1.23(4) is 1.23 ± 0.04: the bracket counts in the last digit (ISO/IEC Guide 98-3:2008,
    7.2.2)."""
    match = CONCISE.fullmatch(text)
    value = number_in(match[1], marks) if match is not None else None
    if match is None or value is None:
        return None
    return Cell(value, beside=float(f"{match[3]}e-{len(match[2] or '')}"))


def interval(text: str, marks: Marks) -> Cell | None:
    """[11.1; 13.5], (11.1 to 13.5): its lower and its upper end."""
    match = _INTERVAL.fullmatch(text)
    low, high = (number_in(part, marks) for part in match.groups()) if match else (None, None)
    return None if low is None or high is None or low > high else Cell(low, beside=high)


def in_brackets(text: str, marks: Marks) -> Cell | None:
    """12.3 (1.2): which of many measures stands in the brackets is not told."""
    match = _BRACKETS.fullmatch(text)
    if match is None:
        return None
    value, beside = (number_in(part, marks) for part in match.groups())
    return None if value is None or beside is None else Cell(value, beside=beside)


def with_share(text: str, marks: Marks) -> Cell | None:
    """12 (5.3%): a number with what share of all it is."""
    match = _SHARED.fullmatch(text)
    value, share = (number_in(part, marks) for part in match.groups()) if match else (None, None)
    return None if value is None or share is None else Cell(value, beside=share)


def starred(text: str, marks: Marks) -> Cell | None:
    """0.12**: how sure it is that something differs."""
    match = _STARRED.fullmatch(text)
    value = number_in(match[1], marks) if match is not None else None
    return None if match is None or value is None else Cell(value, letters=match[2])


def lettered(text: str, marks: Marks) -> Cell | None:
    """12.3ab: means that share a letter do not differ."""
    match = _LETTERED.fullmatch(text)
    value = number_in(match[1], marks) if match is not None else None
    if match is None or value is None or [*match[2]] != sorted({*match[2]}):
        return None
    return Cell(value, letters=match[2])


def remarked(text: str, marks: Marks) -> Cell | None:
    """5.1 (wet): a number with a remark in brackets."""
    match = _REMARKED.fullmatch(text)
    value = number_in(match[1], marks) if match is not None else None
    return None if match is None or value is None else Cell(value, letters=match[2].strip())


def behind_word(text: str, marks: Marks) -> Cell | None:
    """Day 7: a count of what the word says."""
    match = _COUNTED.fullmatch(text)
    value = number_in(match[2], marks) if match is not None else None
    return (
        None if match is None or value is None else Cell(value, _WORDS_OF_TIME[match[1].casefold()])
    )


def fraction(text: str, _marks: Marks) -> Cell | None:
    match = FRACTION.fullmatch(text)
    if match is None or not int(match[3]):
        return None
    over = int(match[2].replace("−", "-")) / int(match[3])
    whole = int((match[1] or "0").replace("−", "-"))
    return Cell(whole + (-over if (match[1] or "").startswith(("-", "−")) else over))


def negative(text: str, marks: Marks) -> Cell | None:
    match = MINUS_BEHIND.fullmatch(text) or _MARKED.fullmatch(text)
    value = number_in(match[match.lastindex or 0], marks) if match is not None else None
    return None if value is None else Cell(-value)


def angle(text: str, marks: Marks) -> Cell | None:
    value = _angle_in(text, marks)
    return None if value is None else Cell(value, "°")


def kept_text(text: str, marks: Marks) -> Cell | None:
    """A number that a sheet was told to keep as text."""
    value = number_in(text[1:], marks) if text.startswith("'") else None
    return None if value is None else Cell(value)


_MONTH_OF_YEAR = pattern(r"(?:0[1-9]|1[0-2])[.,](?:19|20)\d\d")


def with_other_mark(text: str, marks: Marks) -> Cell | None:
    """A number with the other decimal mark."""
    value = otherwise_divided(text, marks) if _MONTH_OF_YEAR.fullmatch(text) is None else None
    return None if value is None else Cell(value)


def _angle_in(text: str, marks: Marks) -> float | None:
    """The degrees in a text that has minutes behind them, south and west below zero; None for any
    other text."""
    if (match := _LETTER_FIRST.fullmatch(text)) is not None:
        return _whole("", match[2], match[3], "", match[1], marks)
    if (match := _ANGLE.fullmatch(text)) is None:
        return None
    sign = "-" if match[1].startswith(("-", "−")) else ""
    return _whole(sign, match[1].lstrip("-−+"), match[2], match[3] or "", match[4], marks)


def _whole(
    sign: str, degrees: str, minutes: str, seconds: str, letter: str, marks: Marks
) -> float | None:
    parts = [number_in(part or "0", marks) for part in (minutes, seconds)]
    known = [part for part in parts if part is not None and part < _PARTS]
    if len(known) < len(parts):
        return None
    # no map is finer than this
    found = round(int(degrees) + (known[0] + known[1] / _PARTS) / _PARTS, 9)
    return -found if bool(sign) != (letter in _BELOW) else found


def places_in(name: str, cells: Sequence[str], marks: Marks) -> list[float] | None:
    """The degrees in cells such as 57.153 N, where the name says what they are, or cells of both
    halves of the globe do: 12.5 N alone may as well be a force. None where they are not."""
    if not cells or not _DECIMAL.fullmatch(cells[0]):
        return None
    found = [match for cell in cells if (match := _DECIMAL.fullmatch(cell)) is not None]
    letters = {match[3] for match in found}
    told = _PLACE.search(name) is not None or all(match[2] for match in found)
    one_way = letters <= {"N", "S"} or letters <= {"E", "W"}
    if len(found) < len(cells) or not one_way or not (told or len(letters) > 1):
        return None
    values = [number_in(match[1], marks) for match in found]
    if any(value is None or value > _MOST for value in values):
        return None
    signs = [-1.0 if match[3] in _BELOW else 1.0 for match in found]
    return [sign * (value or 0.0) for sign, value in zip(signs, values, strict=True)]
