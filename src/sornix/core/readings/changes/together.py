"""Times whose parts stand in several columns: put together in one more, which is told."""

import re
from collections.abc import Iterator, Sequence

import numpy as np
from attrs import evolve

from sornix.core.patterns import pattern
from sornix.core.readings.cells.lasting import LATEST, STAMP
from sornix.core.readings.changes.operations import apply_change
from sornix.core.readings.tables.column import NUMBER, TEXT, TIME, Column
from sornix.core.readings.tables.origin import Change
from sornix.core.readings.tables.rule import (
    Counted,
    DateParts,
    DayOfYear,
    GoingOn,
    Rule,
    Timed,
    Together,
)
from sornix.core.readings.tables.rules import rule_to_json
from sornix.core.readings.tables.table import Table, unique_names
from sornix.core.readings.tables.timerules import going_on, hours_of, moments_of
from sornix.core.text.moments import CLOCK, DATE
from sornix.core.text.months import MONTH_NUMBERS
from sornix.core.text.names import DAY_OF_YEAR

# The names of the parts of a time, coarse to fine.
_PARTS = tuple(
    pattern(words, re.IGNORECASE)
    for words in (
        r"(?:sample |sampling )?years?|yr|yyyy|yy|jahr|année|annee|año|anno",
        r"(?:sample |sampling )?months?|mo|mon|mm|monat|mois|mes|mese",
        r"days?(?: of (?:the )?month)?|dy|dd|dom|tag|jour|día|dia|giorno",
        r"hours?|hr|hh|stunde|heure|hora|ora",
        # mm alone may be of rain
        r"min(?:ute)?s?|mn|mm",
        r"sec(?:ond)?s?",
    )
)
_UP_TO_DAY, _OF_DAY = _PARTS[:3], _PARTS[3:]
# seconds go up to 60 where one is put in
_MOST_OF_DAY = (24, 59, 60)
_GREATEST = pattern(r"max(?:imum)?s?", re.IGNORECASE)
_LEAST_ROWS, _HALF = 2, 12.0
# years of two digits tell no century
_LEAST_YEAR = 1000
# Years, days of years, times of day, and from and to before what they reach.
_OF_DAYS = (
    _PARTS[0],
    DAY_OF_YEAR,
    pattern(r"hours?|hr|hhmm|time|clock|hour[ _/]?min(?:ute)?s?", re.IGNORECASE),
)
_HOURS = pattern(rf"{_PARTS[3].pattern}|hour[ _]of[ _](?:the[ _])?day", re.IGNORECASE)
_HOUR, _MOST_HOURS = 3600.0, 24
_LIMITS_OF_DAYS = ((1000, 3000), (1, 367), (0, 2401))
# From 1990 to before 2040, in seconds since 1970.
_FIRST, _LAST = 631_152_000.0, float(LATEST)
_COUNTED = {
    "seconds": (STAMP, ("", "s", "sec", "seconds")),
    "milliseconds": (STAMP, ("", "ms", "milliseconds")),
    "days": (pattern(r"date|date[ _-]?time|datum|fecha|data", re.IGNORECASE), ("", "d", "days")),
}


def with_whole_times(table: Table) -> Table:
    """A table with one more column where its times stand in parts: dates and times of day, years
    and months and days, or a clock that goes over midnight without any date. It is computed, so
    that it can be looked into, and a change of the table, so that it can be taken back."""
    for name, rule in _rules(table):
        fresh = unique_names([name], table.column_names)[0]
        change = Change(
            "compute",
            {"name": fresh, "unit": _unit(rule), "rule": rule_to_json(rule)},
        )
        made = apply_change(table, change).table
        if made.column(fresh).count < _LEAST_ROWS:
            continue
        note = f"“{fresh}” was added: {rule.words}."
        table = evolve(made, changes=(*table.changes, change), notes=(*_without(table, rule), note))
    return table


def _unit(rule: Rule) -> str:
    return "h" if isinstance(rule, GoingOn) else ""


def _without(table: Table, rule: Rule) -> tuple[str, ...]:
    """The notes of a table without that of a clock over midnight, which is mended."""
    clocks = [f"“{name}” goes over midnight" for name in rule.inputs()]
    return tuple(note for note in table.notes if not note.startswith(tuple(clocks)))


def _rules(table: Table) -> Iterator[tuple[str, Rule]]:
    if any(isinstance(one.rule, Timed) for one in table.columns):
        return
    times = [one for one in table.columns if one.kind == TIME and one.count > 1]
    dates = [one for one in times if one.form == DATE]
    clocks = [one for one in times if one.form == CLOCK]
    if len(dates) == len(clocks) == 1:
        yield _by_its_parts(Together(dates[0].name, clocks[0].name))
    elif len(clocks) == len(times) == 1:
        yield from _for_clock(table.columns, clocks[0])
    elif len(dates) == len(times) == 1:
        yield from _for_date(table.columns, dates[0])
    elif not times:
        yield from _for_numbers(table.columns)


def _for_clock(columns: Sequence[Column], clock: Column) -> Iterator[tuple[str, Rule]]:
    """Times of day with their days before them, in columns of parts; else as they go on."""
    days, parts = _days_of_year(columns), _parts(columns, _UP_TO_DAY)
    if days is not None:
        yield _by_its_parts(evolve(days, clock=clock.name))
    elif len(parts) == len(_UP_TO_DAY):
        yield _by_its_parts(DateParts((*parts, clock.name)))
    elif _goes_over_midnight(clock):
        yield f"{clock.name} going on", GoingOn(clock.name)


def _for_date(columns: Sequence[Column], date: Column) -> Iterator[tuple[str, Rule]]:
    """Dates with hours, minutes and seconds, or with times of day written as numbers."""
    parts = _parts(columns, _OF_DAY)
    if len(parts) > 1 and _are_in_day(columns, parts):
        yield _by_its_parts(DateParts((date.name, *parts)))
        return
    hours = [one for one in columns if _are_of_day(one, date)]
    if len(hours) == 1:
        yield _by_its_parts(Together(date.name, hours[0].name))


def _for_numbers(columns: Sequence[Column]) -> Iterator[tuple[str, Rule]]:
    """Days of years, parts from years on, or counts."""
    days, parts = _days_of_year(columns), _parts(columns)
    if days is not None:
        yield _by_its_parts(days)
    elif len(parts) > 1:
        yield _by_its_parts(DateParts(tuple(parts)))
    else:
        counted = [rule for one in columns if (rule := _counted(one)) is not None]
        if len(counted) == 1:
            yield f"{counted[0].column} by the calendar", counted[0]


def _by_its_parts(rule: Rule) -> tuple[str, Rule]:
    """A rule with what its column is called: all that it is put together of."""
    return " ".join(rule.inputs()), rule


def _are_of_day(column: Column, date: Column) -> bool:
    """Whether numbers are the hours of dates beside them, or times of day such as 1430: dates come
    more than once, and what both say goes on."""
    named = _HOURS.fullmatch(column.name.strip()) or _OF_DAYS[2].fullmatch(column.name.strip())
    if named is None or column.kind != NUMBER or not column.count or date.way <= 0:
        return False
    known = column.present & date.present
    days, clock = date.numbers[known], column.numbers[known]
    # a time may be counted from some beginning in whatever unit, but for one that is no count
    counts = bool((clock <= _MOST_HOURS).all()) and not _HOURS.fullmatch(column.name.strip())
    whole = days + hours_of(clock) * _HOUR
    again = bool((np.diff(days) == 0).any())
    return not counts and again and bool((np.diff(whole) > 0).all())


def _are_in_day(columns: Sequence[Column], parts: Sequence[str]) -> bool:
    """Whether the columns of hours, minutes and so on hold nothing else; least and greatest
    temperatures beside an hour do."""
    ends = {one.name: one.ends or (-1.0, -1.0) for one in columns if one.name in parts}
    within = all(
        ends[name][0] >= 0 and ends[name][1] <= most
        for name, most in zip(parts, _MOST_OF_DAY, strict=False)
    )
    return within and not any(_GREATEST.fullmatch(one.name.strip()) for one in columns)


def _days_of_year(columns: Sequence[Column]) -> DayOfYear | None:
    """The columns of years, days of years and times of day, if there is one; None for others."""
    numbers = [one for one in columns if one.kind == NUMBER and one.count]
    found: list[Column | None] = []
    for words, (least, end) in zip(_OF_DAYS, _LIMITS_OF_DAYS, strict=True):
        named = [one for one in numbers if words.fullmatch(one.name.strip())]
        low, high = (named[0].ends or (-1.0, -1.0)) if len(named) == 1 else (-1.0, -1.0)
        found.append(named[0] if least <= low and high < end else None)
    year, day, clock = found
    if year is None or day is None:
        return None
    told = clock is not None and bool(np.isfinite(hours_of(clock.numbers[clock.present])).all())
    return DayOfYear(year.name, day.name, clock.name if clock is not None and told else "")


def _counted(column: Column) -> Counted | None:
    """How moments are counted in a column of numbers, by its name and where they lie: from 1990 to
    2039, and never back; None for others."""
    ends = column.ends if column.kind == NUMBER and column.rule is None else None
    if column.count < _LEAST_ROWS or column.way <= 0:
        return None
    for count, (names, units) in _COUNTED.items():
        if ends is None or column.unit not in units or not names.fullmatch(column.name.strip()):
            continue
        low, high = moments_of(np.array(ends), count)
        if low >= _FIRST and high < _LAST:
            return Counted(column.name, count)
    return None


def _goes_over_midnight(clock: Column) -> bool:
    """Whether times of day rise but for the midnights between them."""
    known = going_on(clock.numbers[clock.present])
    return len(known) > 1 and known[-1] >= 2 * _HALF and bool((np.diff(known) >= 0).all())


def _are_months(column: Column) -> bool:
    """Whether words are names of months: the first other one ends the search."""
    if column.kind != TEXT or not column.count:
        return False
    return all(str(cell).strip().casefold() in MONTH_NUMBERS for cell in column.values if cell)


def _parts(columns: Sequence[Column], wanted: Sequence[re.Pattern[str]] = _PARTS) -> list[str]:
    """The names of the columns of years, months and so on, or of what of these is `wanted`, as far
    as they go without a gap."""
    found: list[str] = []
    # minutes stand behind two parts, or behind a date and one
    before = _PARTS.index(wanted[0])
    for words in wanted:
        named = [
            one for one in columns
            if words.fullmatch(one.name.strip()) and one.name not in found
            and (one.is_whole or _are_months(one))
        ]  # fmt: skip
        if len(named) > 1:
            named = [one for one in named if one.name.strip() != "mm"]
        # alone, mm are of rain
        rain = before + len(found) > 1 and [one.name for one in named] == ["mm"]
        rain = rain and found[-1:] != ["hh"]
        early = not (found or before) and any(
            (one.ends or (0.0, 0.0))[0] < _LEAST_YEAR for one in named
        )
        if len(named) != 1 or rain or early:
            break
        found.append(named[0].name)
    return found
