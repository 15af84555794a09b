"""Columns whose cells are numbers written in another form: 92 %, 1.5D-03, 1.2 ± 0.1, 57°09′.

A form is taken only where all cells of a column that hold something are in it, and what it makes of
them is said.
"""

import re
from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings.layouts.header import is_unit
from sornix.core.readings.layouts.marks import Marks, number_in, otherwise_divided
from sornix.core.readings.tables.dialect import MISSING_MARKS
from sornix.core.text.moments import parse_moment

Floats = NDArray[np.float64]
MISSING = frozenset(MISSING_MARKS)
_LONGEST = 60
_SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻⁺", "0123456789-+")
POWER = pattern(r"(.*\d)\s?(?:[dDeE]|[x×·*]\s?10\s?\^?\s?)\s?(\(?[-+−]?\d{1,3}\)?)")
_BEHIND = pattern(
    r"([^A-Za-zµμ%‰°€$£¥Ω]*\d[.,]?(?:[eE][-+−]?\d{1,3}(?=\s|[^\d.,]))?)\s?"
    r"([A-Za-zµμ%‰°€$£¥Ω]\S*(?: \S+)?)"
)
_BEFORE = pattern(r"([€$£¥])\s?([-+−]?\d.*)")
_SPREAD = pattern(r"(.*\d)\s?(?:±|\+/-|\+-)\s?(\d.*)")
CONCISE = pattern(r"([-+−]?\d+(?:[.,](\d+))?)\((\d{1,3})\)")
FRACTION = pattern(r"(?:([-+−]?\d{1,4})\s+)?([-+−]?\d{1,4})\s?/\s?(\d{1,4})")
MINUS_BEHIND = pattern(r"(\d.*\d|\d)\s?[-−]")
_MARKED = pattern(r"\((\d.*\d|\d)\)|[-−–]\s+(\d.*)")
_COMPACT = pattern(r"((?:19|20)\d{6})(?:T?(\d{2})(\d{2})(\d{2})?Z?)?")
_ZERO_FIRST = pattern(r"0\d+")
_SPAN_OF_YEARS = pattern(r"(1[5-9]\d\d|20\d\d)(?:(?<=0)s|\s?[-/–]\s?(\d{2}|\d{4}))")
_MOST_DIGITS = 15
# so many plain numbers may come before the first of a form
_MOST_PLAIN = 100
_WELL = pattern(r"\d{1,4}[A-Za-z]\d{1,4}")


class Cell(NamedTuple):
    """What a cell of a form holds: its number, unit and uncertainty, None where it has none."""

    value: float
    unit: str = ""
    spread: float | None = None


class Written(NamedTuple):
    """A column in another form: numbers, shape (n,), NaN where missing, their unit, uncertainties
    or None, and what is to be said of {names}; `moments` where the numbers are seconds since 1970,
    or since midnight where they are times of a `clock`. The rows in `left` hold none."""

    values: Floats
    unit: str
    spread: Floats | None
    said: str
    moments: bool = False
    clock: bool = False
    left: frozenset[int] = frozenset()


Parse = Callable[[str, Marks], Cell | None]


def _with_power(text: str, marks: Marks) -> Cell | None:
    match = POWER.fullmatch(text.translate(_SUPERSCRIPTS))
    if match is None:
        return None
    power = match[2].strip("()").replace("−", "-")
    # in one step, so that 1.5D-03 is what 1.5e-03 is
    value = number_in(f"{match[1].strip()}e{power}", marks)
    return None if value is None else Cell(value)


def _with_unit(text: str, marks: Marks) -> Cell | None:
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
    power = _with_power(text, marks) if value is None else None
    return power.value if power is not None else value


def _with_spread(text: str, marks: Marks) -> Cell | None:
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


def _concise(text: str, marks: Marks) -> Cell | None:
    """1.23(4) is 1.23 ± 0.04: the bracket counts in the last digit (ISO/IEC Guide 98-3:2008,
    7.2.2)."""
    match = CONCISE.fullmatch(text)
    value = number_in(match[1], marks) if match is not None else None
    if match is None or value is None:
        return None
    return Cell(value, spread=float(f"{match[3]}e-{len(match[2] or '')}"))


def _fraction(text: str, _marks: Marks) -> Cell | None:
    match = FRACTION.fullmatch(text)
    if match is None or not int(match[3]):
        return None
    over = int(match[2].replace("−", "-")) / int(match[3])
    whole = int((match[1] or "0").replace("−", "-"))
    return Cell(whole + (-over if (match[1] or "").startswith(("-", "−")) else over))


def _negative(text: str, marks: Marks) -> Cell | None:
    match = MINUS_BEHIND.fullmatch(text) or _MARKED.fullmatch(text)
    value = number_in(match[match.lastindex or 0], marks) if match is not None else None
    return None if value is None else Cell(-value)


# 57°09′12.5″ N, 2° 05.4' W
_ANGLE = pattern(
    r"([-−+]?\d{1,3})\s?°\s?(\d{1,2}(?:[.,]\d+)?)\s?['′’](?:\s?(\d{1,2}(?:[.,]\d+)?)\s?"
    r"(?:[\"″”]|''|′′|’’))?\s?([NSEW]?)"
)
_PARTS = 60


def _angle(text: str, marks: Marks) -> Cell | None:
    match = _ANGLE.fullmatch(text)
    if match is None:
        return None
    parts = [number_in(part or "0", marks) for part in match.group(2, 3)]
    known = [part for part in parts if part is not None and part < _PARTS]
    if len(known) < len(parts):
        return None
    minutes, seconds = known
    whole = abs(int(match[1].replace("−", "-"))) + (minutes + seconds / _PARTS) / _PARTS
    # no map is finer than this
    whole = round(whole, 9)
    south = match[1].startswith(("-", "−")) != (match[4] in ("S", "W"))
    return Cell(-whole if south else whole, "°")


def _kept_text(text: str, marks: Marks) -> Cell | None:
    """A number that a sheet was told to keep as text."""
    value = number_in(text[1:], marks) if text.startswith("'") else None
    return None if value is None else Cell(value)


_MONTH_OF_YEAR = pattern(r"(?:0[1-9]|1[0-2])[.,](?:19|20)\d\d")


def _otherwise_divided(text: str, marks: Marks) -> Cell | None:
    value = otherwise_divided(text, marks) if _MONTH_OF_YEAR.fullmatch(text) is None else None
    return None if value is None else Cell(value)


class Form(NamedTuple):
    """A form of numbers: how a cell is understood, and what is said of columns of such, by their
    {names} and {unit}."""

    parse: Parse
    said: str


# In the order in which they are tried; each cell of a column is in the form, or a plain number.
FORMS: Mapping[str, Form] = MappingProxyType(
    {
        "power": Form(_with_power, "Powers of ten in the cells of {names} were read."),
        "angle": Form(_angle, "Degrees with minutes in the cells of {names} became degrees."),
        "unit": Form(_with_unit, "The unit {unit} stood in the cells of {names}."),
        "spread": Form(
            _with_spread, "Value ± uncertainty in the cells of {names} became two columns."
        ),
        "concise": Form(
            _concise,
            "Uncertainties in brackets in the cells of {names} became columns.",
        ),
        "fraction": Form(_fraction, "Fractions in the cells of {names} were read as numbers."),
        "negative": Form(
            _negative,
            "Numbers in brackets, or with − apart or behind, in the cells of {names} were read as "
            "negative.",
        ),
        "text": Form(
            _kept_text, "Numbers in {names} were marked as text with ', and were read as numbers."
        ),
        "decimals": Form(
            _otherwise_divided,
            "The cells of {names} have another decimal mark than the others, and were read with "
            "it.",
        ),
    }
)


def written(cells: Sequence[str], marks: Marks, *, held: bool = False) -> Written | None:
    """What cells hold where all are in one form, None where they are not; none has another decimal
    mark where that is `held`."""
    present = [row for row, cell in enumerate(cells) if cell not in MISSING]
    if not present or any(len(cells[row]) > _LONGEST for row in present[:1]):
        return None
    # where no plain numbers told of the decimal mark it may be the other one
    if are_spans_of_years([cells[row] for row in present]):
        return None
    months = _are_months_of_years([cells[row] for row in present])
    for decimal in (marks, _other(marks)):
        for name, form in FORMS.items():
            if (name == "fraction" and months) or (name == "decimals" and held):
                continue
            found = in_form(cells, present, form, decimal)
            if found is not None:
                return found
    return _compact_dates(cells, present)


def in_form(
    cells: Sequence[str], present: Sequence[int], form: Form, marks: Marks
) -> Written | None:
    """What cells hold where those that are `present` are in a form, or plain numbers among such;
    None where they are not."""
    values = np.full(len(cells), np.nan)
    spreads = np.full(len(cells), np.nan)
    units: set[str] = set()
    formed = 0
    for at, row in enumerate(present):
        text = cells[row]
        cell = form.parse(text, marks) if len(text) <= _LONGEST else None
        if cell is not None:
            formed += 1
            values[row] = cell.value
            spreads[row] = np.nan if cell.spread is None else cell.spread
            units.add(cell.unit)
        elif (plain := number_in(text, marks)) is not None and (formed or at < _MOST_PLAIN):
            values[row] = plain
        else:
            return None
        if len(units) > 1:
            return None
    if not units or not np.isfinite(values[list(present)]).all() or 2 * formed < len(present):
        return None
    unit = units.pop()
    if len(unit) == 1 and unit.isupper() and _count_up(cells, present, unit):
        return None
    said = form.said.replace("{unit}", unit)
    return Written(values, unit, spreads if np.isfinite(spreads).any() else None, said)


# What stands for a reading that is too small to be told, or that there is none of.
_NOT_FOUND = pattern(
    r"[<>≤≥].*|n\.? ?d\.?|n\.? ?n\.?|b\.?d\.?l?\.?|trace|not detected"
    r"|k\. ?A\.|failed|failure|error|invalid|missing|ausfall|fehlt",
    re.IGNORECASE,
)


def mostly_with_unit(cells: Sequence[str], marks: Marks) -> Written | None:
    """Numbers with one unit among limits, < 0.5 mg/L, and words for what is not there; other words
    may as well be names as the numbers are: control, 5 mg, 10 mg."""
    rows = [row for row, cell in enumerate(cells) if cell not in MISSING]
    left = frozenset(row for row in rows if _NOT_FOUND.fullmatch(cells[row]))
    present = [row for row in rows if row not in left]
    if not 0 < len(left) < len(present):
        return None
    ways = (in_form(cells, present, FORMS["unit"], way) for way in (marks, _other(marks)))
    found = next((one for one in ways if one is not None), None)
    return None if found is None else found._replace(left=left)


def _other(marks: Marks) -> Marks:
    """The other decimal mark."""
    return Marks("," if marks.decimal == "." else ".")


def are_spans_of_years(cells: Sequence[str]) -> bool:
    """Whether cells are decades or years that begin in one and end in the next: 1990s, 2025/26."""
    found = [_SPAN_OF_YEARS.fullmatch(cell) for cell in cells]
    return all(m and (m[2] is None or (int(m[1]) + 1) % 100 == int(m[2]) % 100) for m in found)


def _are_months_of_years(cells: Sequence[str]) -> bool:
    """Whether what could be fractions are months, 03/2025, rather than parts such as 1/2000."""
    from sornix.core.text.moments import parse_moment

    halves = [cell.split("/") for cell in cells if "/" in cell and " " not in cell]
    if len(halves) < len(cells) or not all(parse_moment(cell) for cell in cells):
        return False
    return any(len(half[0]) == 2 for half in halves) or len({half[0] for half in halves}) > 1


def _count_up(cells: Sequence[str], present: Sequence[int], letter: str) -> bool:
    """Whether cells are 1A, 2A, 3A: places, and no currents."""
    return [cells[row] for row in present] == [f"{i + 1}{letter}" for i in range(len(present))]


def are_identifiers(cells: Sequence[str]) -> bool:
    """Whether cells that could be numbers are names: with zeros before them and all as long as one
    another (00042), or
    with more digits than numbers keep, or places such as 2E3 among others such as 2A3."""
    if any(len(cell) > _MOST_DIGITS for cell in cells) and all(cell.isdigit() for cell in cells):
        # more digits than a binary64 number keeps
        return True
    zeros = [cell for cell in cells if _ZERO_FIRST.fullmatch(cell)]
    if zeros and len(zeros[0]) > 2 and {len(cell) for cell in cells} == {len(zeros[0])}:
        return all(cell.isdigit() for cell in cells)
    wells = [cell for cell in cells if _WELL.fullmatch(cell)]
    return len(wells) == len(cells) > 0 and any(cell.upper().find("E") < 0 for cell in wells)


def are_compact_dates(cells: Sequence[str]) -> bool:
    """Whether all cells are dates such as 20260128, or with a clock such as 20260128T143000."""
    return bool(cells) and all(_compact(cell) is not None for cell in cells)


def _compact(text: str) -> float | None:
    found = _COMPACT.fullmatch(text)
    if found is None:
        return None
    day, hour, minute, second = found.groups()
    clock = f" {hour}:{minute}:{second or '00'}" if hour else ""
    moment = parse_moment(f"{day[:4]}-{day[4:6]}-{day[6:]}{clock}")
    return None if moment is None else moment.seconds


def _compact_dates(cells: Sequence[str], present: Sequence[int]) -> Written | None:
    values = np.full(len(cells), np.nan)
    for row in present:
        day = _compact(cells[row])
        if day is None:
            return None
        values[row] = day
    first = cells[present[0]]
    said = f"{first} and the like in the cells of {{names}} were read as dates."
    return Written(values, "", None, said, moments=True)
