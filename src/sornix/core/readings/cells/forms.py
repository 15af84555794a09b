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
from sornix.core.readings.cells.marks import Marks, number_in
from sornix.core.readings.cells.otherwise import (
    Cell,
    angle,
    behind_word,
    concise,
    fraction,
    in_brackets,
    interval,
    kept_text,
    lettered,
    negative,
    places_in,
    remarked,
    starred,
    with_other_mark,
    with_power,
    with_share,
    with_spread,
    with_unit,
)
from sornix.core.readings.tables.dialect import MISSING_MARKS
from sornix.core.text.moments import parse_moment

Floats = NDArray[np.float64]
MISSING = frozenset(MISSING_MARKS)
_LONGEST = 60
_COMPACT = pattern(
    r"((?:19|20)\d{6})(?:T?(\d{2})(?:(\d{2})(\d{2})?)?Z?|[ _-](\d{2}):?(\d{2}):?(\d{2})?)?"
)
_ZERO_FIRST = pattern(r"0\d+")
_SPAN_OF_YEARS = pattern(r"(1[5-9]\d\d|20\d\d)(?:(?<=0)s|\s?[-/–]\s?(\d{2}|\d{4}))")
_MOST_DIGITS = 15
# so many plain numbers may come before the first of a form
_MOST_PLAIN = 100
_WELL = pattern(r"\d{1,4}[A-Za-z]\d{1,4}")


class Written(NamedTuple):
    """A column in another form: numbers, shape (n,), NaN where missing, their unit, what is to be
    said of {names}, what stands beside them, as numbers or as letters, and how both are `called`
    by the {name} of their column; `moments` where the numbers are seconds since 1970, or since
    midnight where they are times of a `clock`. The rows in `left` hold none."""

    values: Floats
    unit: str
    said: str
    beside: Floats | tuple[str, ...] | None = None
    called: tuple[str, str] = ("{name}", "")
    moments: bool = False
    clock: bool = False
    left: frozenset[int] = frozenset()


Parse = Callable[[str, Marks], Cell | None]


class Form(NamedTuple):
    """A form of numbers: how a cell is understood, what is said of columns of such, by their
    {names} and {unit}, how the numbers and what stands beside them are called, by the {name} of
    their column, and how many different words have to stand there, if any do."""

    parse: Parse
    said: str
    called: tuple[str, str] = ("{name}", "Uncertainty of {name}")
    words: int = 1


# In the order in which they are tried; each cell of a column is in the form, or a plain number.
FORMS: Mapping[str, Form] = MappingProxyType(
    {
        "power": Form(with_power, "Powers of ten in the cells of {names} were read."),
        "angle": Form(angle, "Degrees with minutes in the cells of {names} became degrees."),
        "unit": Form(with_unit, "The unit {unit} stood in the cells of {names}."),
        "spread": Form(
            with_spread, "Value ± uncertainty in the cells of {names} became two columns."
        ),
        "concise": Form(
            concise,
            "Uncertainties in brackets in the cells of {names} became columns.",
        ),
        "interval": Form(
            interval,
            "The ends of intervals in the cells of {names} became two columns.",
            ("{name} lower", "{name} upper"),
        ),
        "brackets": Form(
            in_brackets,
            "Numbers in brackets behind those of {names} became columns of their own.",
            ("{name}", "{name} in brackets"),
        ),
        "shares": Form(
            with_share,
            "Percentages in brackets behind the numbers of {names} became columns of their own.",
            ("{name}", "Percent of {name}"),
        ),
        "stars": Form(
            starred,
            "Marks behind the numbers of {names} became columns of their own.",
            ("{name}", "Marks of {name}"),
        ),
        "letters": Form(
            lettered,
            "Letters behind the numbers of {names} became columns of their own.",
            ("{name}", "Letters of {name}"),
            # one letter behind all is no letter of a group
            words=2,
        ),
        "remarks": Form(
            remarked,
            "Remarks in brackets behind the numbers of {names} became columns of their own.",
            ("{name}", "Remarks of {name}"),
        ),
        "counted": Form(behind_word, "The numbers behind words in the cells of {names} were read."),
        "fraction": Form(fraction, "Fractions in the cells of {names} were read as numbers."),
        "negative": Form(
            negative,
            "Numbers in brackets, or with − apart or behind, in the cells of {names} were read as "
            "negative.",
        ),
        "text": Form(
            kept_text, "Numbers in {names} were marked as text with ', and were read as numbers."
        ),
        "decimals": Form(
            with_other_mark,
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


def of_places(name: str, cells: Sequence[str], marks: Marks) -> Written | None:
    """The degrees of latitude or longitude in cells with the letters of the compass."""
    present = [row for row, cell in enumerate(cells) if cell not in MISSING]
    found = places_in(name, [cells[row] for row in present], marks)
    if found is None:
        return None
    values = np.full(len(cells), np.nan)
    values[present] = found
    return Written(values, "°", "In the cells of {names} south and west are below 0 now.")


def in_form(
    cells: Sequence[str], present: Sequence[int], form: Form, marks: Marks
) -> Written | None:
    """What cells hold where those that are `present` are in a form, or plain numbers among such;
    None where they are not."""
    values = np.full(len(cells), np.nan)
    numbers, letters = np.full(len(cells), np.nan), [""] * len(cells)
    units: set[str] = set()
    formed = 0
    for at, row in enumerate(present):
        text = cells[row]
        cell = form.parse(text, marks) if len(text) <= _LONGEST else None
        if cell is not None:
            formed += 1
            values[row] = cell.value
            numbers[row] = np.nan if cell.beside is None else cell.beside
            letters[row] = cell.letters
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
    if words := {*letters} - {""}:
        enough = len(words) >= form.words
        return Written(values, unit, said, tuple(letters), form.called) if enough else None
    beside = numbers if np.isfinite(numbers).any() else None
    return Written(values, unit, said, beside, form.called)


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
    day, *clocks = found.groups()
    hour, minute, second = clocks[3:] if clocks[3] else clocks[:3]
    clock = f" {hour}:{minute or '00'}:{second or '00'}" if hour else ""
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
    return Written(values, "", said, moments=True)
