"""What stands beside readings: uncertainties in their cells, and units, or which half of the day it
is, in a column of their own."""

import re
from collections.abc import Iterable, Sequence
from itertools import pairwise

import numpy as np
from attrs import evolve

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import Heading, is_unit
from sornix.core.readings.cells.marks import is_number
from sornix.core.readings.files.kinds import Known, Manner, kept_as_words, make_column, time_notes
from sornix.core.readings.tables.column import NAMELESS, NUMBER, TEXT, TIME, Column, time_column
from sornix.core.readings.tables.table import unique_names
from sornix.core.text.moments import CLOCK, DATE

# What a column of units is called; more of them are numbered.
_OF_UNITS = pattern(
    r"(?:[^\s.]{1,40}\.)?(?:units?|einheit(?:en)?|unités?|unidad(?:es)?|unità|uom)(?: \d+)?",
    re.IGNORECASE,
)

# A letter alone is a place, and so is one with a number.
_PLACE = pattern(r"[^\W\d]\d*")
_HALF = pattern(r"[ap]\.?\s?m\.?", re.IGNORECASE)
_HOUR, _HALF_DAY = 3600.0, 12


def holds_units(column: Column) -> bool:
    """Whether a column says by its name that units of others stand in it."""
    return column.kind == TEXT and _OF_UNITS.fullmatch(column.name.strip()) is not None


def taken_together(known: Sequence[Known], manner: Manner) -> list[Known]:
    """Columns with what those beside them say of them; where none has numbers or times, those of
    words that hold some numbers are of numbers, so that they can be looked at and repaired."""
    found = _with_days_beside(_with_halves_of_days(_with_units_beside(known)))
    if any(one.column.has_places and one.column.count for one in found):
        return found
    return [_with_some_numbers(one, manner) for one in found]


def _with_halves_of_days(known: Sequence[Known]) -> list[Known]:
    """Columns of which times of day with twelve hours have the half of the day that the column
    right behind them tells of each."""
    found = list(known)
    for at, (before, beside) in enumerate(pairwise(known)):
        times, halves = before.column, beside.column
        if times.kind != TIME or times.form != CLOCK or halves.kind != TEXT or not halves.count:
            continue
        cells = [str(cell).strip() for cell in halves.values.tolist()]
        told = np.array([_HALF.fullmatch(cell) is not None for cell in cells])
        hours = times.numbers // _HOUR
        if not (told & (hours >= 0) & (hours <= _HALF_DAY))[times.present].all():
            continue
        later = np.array([cell[:1] in ("p", "P") for cell in cells])
        seconds = times.numbers % (_HALF_DAY * _HOUR) + later * _HALF_DAY * _HOUR
        column = time_column(times.name, seconds, CLOCK, times.texts)
        said = f"“{halves.name}” tells the half of the day of {{names}}."
        # twelve hours go over midnight where twenty-four do not
        notes = (*time_notes(column, column.cells()), *_without_midnight(before), said)
        found[at] = before._replace(column=column, notes=notes)
    return found


def _with_days_beside(known: Sequence[Known]) -> list[Known]:
    """Columns of which a clock that goes over midnight is not spoken of where days stand beside
    it."""
    if not any(one.column.kind == TIME and one.column.form == DATE for one in known):
        return list(known)
    return [
        one._replace(notes=_without_midnight(one)) if one.column.form == CLOCK else one
        for one in known
    ]


def _without_midnight(known: Known) -> tuple[str, ...]:
    """What is said of a clock, but for that it goes over midnight."""
    midnight = f"“{known.column.name}” goes over midnight"
    return tuple(note for note in known.notes if not note.startswith(midnight))


def _with_some_numbers(known: Known, manner: Manner) -> Known:
    column = known.column
    cells = [str(cell) for cell in column.values.tolist()] if column.kind == TEXT else []
    said = kept_as_words(cells)
    if not said or not any(is_number(cell, manner.marks) for cell in cells):
        return known
    made = make_column(Heading(column.name, column.unit), cells, NUMBER, manner, settled=True)
    notes = (note.replace("as numbers, Repair", "Repair") for note in said)
    return made._replace(notes=(*made.notes, *notes))


def _with_units_beside(known: Sequence[Known]) -> list[Known]:
    """Columns of which those without a unit have the one that a column right behind them tells in
    all of its cells, or right before the only one of numbers there."""
    found = list(known)
    numbers = [*(one.column.kind == NUMBER for one in known), False, False]
    for at, one in enumerate(known):
        named = holds_units(one.column)
        if not named and not (one.column.kind == TEXT and NAMELESS.fullmatch(one.column.name)):
            continue
        units = {str(cell).strip() for cell in set(one.column.values.tolist())} - {""}
        if len(units) != 1 or not is_unit(unit := next(iter(units))):
            continue
        if not named and _PLACE.fullmatch(unit):
            continue
        before = at > 0 and numbers[at - 1] and not found[at - 1].column.unit
        after = numbers[at + 1] and not numbers[at + 2] and not found[at + 1].column.unit
        if before or after:
            of = at - 1 if before else at + 1
            told = found[of]
            said = f"“{one.column.name}” tells the unit of {{names}}."
            own = told.beside
            if own is not None and own.kind == NUMBER:
                own = evolve(own, unit=unit)
            found[of] = told._replace(
                column=evolve(told.column, unit=unit), beside=own, notes=(*told.notes, said)
            )
    return found


def with_spreads(known: Iterable[Known]) -> tuple[Column, ...]:
    """The columns, what stood beside the numbers in their cells behind each."""
    found: list[Column] = []
    for one in known:
        found += [one.column] if one.beside is None else [one.column, one.beside]
    names = unique_names(column.name for column in found)
    return tuple(evolve(c, name=n) if c.name != n else c for c, n in zip(found, names, strict=True))
