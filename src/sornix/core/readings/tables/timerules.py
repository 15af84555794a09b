"""Columns of times that are computed from the parts of dates and times."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.readings.tables.column import (
    NUMBER,
    TEXT,
    TIME,
    Column,
    Floats,
    number_column,
    time_column,
)
from sornix.core.readings.tables.rule import Counted, DateParts, DayOfYear, GoingOn, Timed, Together
from sornix.core.readings.tables.table import Table
from sornix.core.text.moments import DATE, FRACTION, MINUTE, MONTH, SECOND
from sornix.core.text.months import MONTH_NUMBERS

_DAY, _HOUR, _MINUTE = 86_400.0, 3600.0, 60.0
_HOURS_OF_DAY, _MINUTES, _SECONDS = 24, 60, 60
# How finely a time is told by so many of its parts, year first.
_FORMS = (MONTH, MONTH, DATE, MINUTE, MINUTE, SECOND)
# behind the year stand the month and the day
_UP_TO_DAYS = 2
# What the parts behind the month may be, from and to before which.
_LIMITS = ((1, 32), (0, 25), (0, _MINUTES), (0, _SECONDS + 1))
_SIZES_OF_PARTS = (_DAY, _HOUR, _MINUTE, 1.0)
_YEARS, _MONTHS, _DAYS_OF_YEAR = (1000, 3000), (1, 13), 367


def time_of(rule: Timed, name: str, table: Table) -> Column:
    """The column that a rule about times makes of a table, NaN where a part is missing or none.
    Raises EditRefused and UnknownColumn."""
    if isinstance(rule, Together):
        date = _of_kind(table, rule.date, TIME)
        seconds = _of_clock(table, rule.clock)
        return time_column(name, _midnights(date) + seconds, _form_of_clock(seconds))
    if isinstance(rule, GoingOn):
        return number_column(name, going_on(_of_kind(table, rule.column, TIME).numbers), "h")
    if isinstance(rule, Counted):
        seconds = moments_of(_of_kind(table, rule.column, NUMBER).numbers, rule.count)
        return time_column(name, seconds, _form_of(seconds))
    if isinstance(rule, DayOfYear):
        seconds = _of_days(*(_numbers(table, one) for one in (rule.year, rule.day)))
        if rule.clock:
            seconds = seconds + _of_clock(table, rule.clock)
        return time_column(name, seconds, _form_of(seconds))
    return _of_parts(rule, name, table)


def _of_parts(rule: DateParts, name: str, table: Table) -> Column:
    """Moments whose parts are in several columns. Raises EditRefused where a day lacks."""
    first, *others = rule.columns
    dated = table.column(first).kind == TIME
    clock = others.pop() if others and table.column(others[-1]).kind == TIME else ""
    parts = [_numbers(table, one) for one in others]
    if not dated and len(parts) < (_UP_TO_DAYS if clock else 1):
        raise EditRefused(f"“{name}” is a time of these columns no more: its days are missing.")
    if dated:
        # what follows the day
        fine, seconds = _seconds_of(table.row_count, parts, _LIMITS[1:], _SIZES_OF_PARTS[1:])
        moments = np.where(fine, _midnights(table.column(first)) + seconds, np.nan)
        form = _FORMS[min(len(parts) + _UP_TO_DAYS, len(_FORMS) - 1)]
    else:
        moments = _moments([_numbers(table, first), *parts])
        form = _FORMS[min(len(parts), len(_FORMS) - 1)]
    if clock:
        seconds = _of_clock(table, clock)
        moments, form = moments + seconds, _form_of_clock(seconds)
    return time_column(name, moments, form)


def _midnights(date: Column) -> Floats:
    found: Floats = np.floor(date.numbers / _DAY) * _DAY
    return found


def _form_of_clock(seconds: Floats) -> str:
    return MINUTE if _is_whole(seconds, _MINUTE) else SECOND


def _of_clock(table: Table, name: str) -> Floats:
    """Seconds since midnight of a column of times of day, or of numbers that say such. Raises
    EditRefused."""
    column = table.column(name)
    low, high = column.ends or (0.0, 0.0)
    if column.kind == NUMBER and low >= 0 and high <= _HOURS_OF_DAY * 100:
        return hours_of(column.numbers) * _HOUR
    return _of_kind(table, name, TIME).numbers % _DAY


def _form_of(seconds: Floats) -> str:
    """How finely moments are to be told."""
    steps = ((_DAY, DATE), (_MINUTE, MINUTE), (1.0, SECOND))
    return next((form for step, form in steps if _is_whole(seconds, step)), FRACTION)


def _of_days(year: Floats, day: Floats) -> Floats:
    """Seconds since 1970 of days of years, NaN where a year or a day is none."""
    fine = _are_whole(year, _YEARS) & (day >= 1) & (day < _DAYS_OF_YEAR)
    found = np.full(len(year), np.nan)
    begin = (year[fine].astype(np.int64) - 1970).astype("datetime64[Y]").astype("datetime64[D]")
    # to the second, as finely as a part of a day is written
    found[fine] = begin.astype(np.int64) * _DAY + np.round((day[fine] - 1) * _DAY)
    return found


def hours_of(clock: Floats) -> Floats:
    """Hours of times of day (n,) that are written as hours, or as 1430; NaN for what is neither."""
    known = clock[np.isfinite(clock)]
    hours = clock
    if len(known) and known.max() > _HOURS_OF_DAY:
        minutes = clock % 100
        hours = np.where(minutes < _MINUTES, clock // 100 + minutes / _MINUTES, np.nan)
    found: Floats = np.where((hours >= 0) & (hours <= _HOURS_OF_DAY), hours, np.nan)
    return found


def going_on(seconds: Floats) -> Floats:
    """Hours since the midnight before the first of some times of day, shape (n,): a day more at
    each that is more than half a day before the one above it."""
    hours = seconds % _DAY / _HOUR
    at = np.flatnonzero(np.isfinite(hours))
    days = np.zeros(len(hours))
    days[at[1:]] = np.diff(hours[at]) < -_HOURS_OF_DAY / 2
    return np.asarray(hours + np.cumsum(days) * _HOURS_OF_DAY)


# Seconds of each of what moments are counted in, and where that begins.
_SIZES = {"seconds": (1.0, 0.0), "milliseconds": (1e-3, 0.0), "days": (_DAY, -25_569 * _DAY)}


def moments_of(counts: Floats, count: str) -> Floats:
    """Seconds since 1970 of counts (n,), to the millisecond, which is as fine as a count of days
    tells."""
    size, begin = _SIZES[count]
    found: Floats = np.round(counts * size + begin, 3)
    return found


def _numbers(table: Table, name: str) -> Floats:
    """A part of a time as numbers, months by their names too."""
    column = table.column(name)
    if column.kind != TEXT:
        return _of_kind(table, name, NUMBER).numbers
    numbers = (MONTH_NUMBERS.get(str(cell).strip().casefold()) for cell in column.values)
    return np.array([np.nan if one is None else one for one in numbers], dtype=np.float64)


def _of_kind(table: Table, name: str, kind: str) -> Column:
    column = table.column(name)
    if column.kind != kind:
        what = "times" if kind == TIME else "numbers"
        raise EditRefused(
            f"“{name}” does not hold {what} any more, and another column is computed from them."
        )
    return column


def _is_whole(seconds: Floats, step: float) -> bool:
    known = seconds[np.isfinite(seconds)]
    return bool((known % step == 0).all())


def _are_whole(values: Floats, limits: tuple[int, int]) -> NDArray[np.bool_]:
    """Which values are whole numbers from and to before limits."""
    least, end = limits
    found: NDArray[np.bool_] = (values == np.floor(values)) & (values >= least) & (values < end)
    return found


def _moments(parts: list[Floats]) -> Floats:
    """Seconds since 1970 of years, months and what follows; NaN where a part is none."""
    year, month = parts[:2]
    fine, seconds = _seconds_of(len(year), parts[2:], _LIMITS, _SIZES_OF_PARTS)
    fine &= _are_whole(year, _YEARS) & _are_whole(month, _MONTHS)
    found = np.full(len(year), np.nan)
    months = (year[fine].astype(np.int64) - 1970) * 12 + month[fine].astype(np.int64) - 1
    begin, following = (
        each.astype("datetime64[M]").astype("datetime64[D]").astype(np.int64) * _DAY
        for each in (months, months + 1)
    )
    # the first day is 1, and the 31st of April is none
    since = seconds[fine] - (_DAY if parts[2:] else 0.0)
    day = parts[2][fine] if parts[2:] else np.ones(len(months))
    found[fine] = np.where((day - 1) * _DAY < following - begin, begin + since, np.nan)
    return found


def _seconds_of(
    count: int, parts: list[Floats], limits: Sequence[tuple[int, int]], sizes: Sequence[float]
) -> tuple[NDArray[np.bool_], Floats]:
    """Which of so many rows have all parts in their limits, and the seconds of all together."""
    fine, seconds = np.ones(count, np.bool_), np.zeros(count)
    for values, (least, end), size in zip(parts, limits, sizes, strict=False):
        fine &= (values >= least) & (values < end)
        seconds += values * size
    return fine, seconds
