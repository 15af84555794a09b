"""The time scale: equal distances for equal times, ticks by the calendar.

Values are seconds since 1970 on the clock of the readings (sornix.core.text.moments). A step of
months is counted in mean Gregorian months of 2 629 746 s (a twelfth of 365.2425 days): whole
multiples of that are steps by the calendar, whatever the lengths of the months that they cross.
"""

import math
import re
from collections.abc import Callable
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

import numpy as np

from sornix.core.errors import EditRefused
from sornix.core.scales.datewords import said
from sornix.core.scales.dressing import apart
from sornix.core.scales.kind import (
    MOST_TICKS,
    AxisConstraints,
    Even,
    Extent,
    Group,
    Resolved,
    Room,
    Tick,
    Traits,
)
from sornix.core.text import Rich, Run, parse_number, plural, shortest
from sornix.core.text.moments import DAY, MEAN_MONTH, moment_words, typed_moment

_MINUTE, _HOUR = 60.0, 3600.0
_YEAR = 12 * MEAN_MONTH
# 1970-01-01 was a Thursday: weeks begin with the Monday after it
_FIRST_MONDAY = 4 * DAY
_STEPS = (
    *(float(f"{m}e{p}") for p in range(-9, 0) for m in (1, 2, 5)),
    *(s * 1.0 for s in (1, 2, 5, 10, 15, 30)),
    *(m * _MINUTE for m in (1, 2, 5, 10, 15, 30)),
    *(h * _HOUR for h in (1, 2, 3, 6, 12)),
    *(d * DAY for d in (1, 2, 7, 14)),
    *(m * MEAN_MONTH for m in (1, 2, 3, 6)),
    *(y * _YEAR for y in (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000)),
)
_UNITS = {
    "second": 1.0, "minute": _MINUTE, "hour": _HOUR, "day": DAY, "week": 7 * DAY,
    "month": MEAN_MONTH, "year": _YEAR,
}  # fmt: skip
_SHORT = {"s": "second", "min": "minute", "h": "hour", "d": "day", "a": "year"}
_WORDED = r"(?P<number>[\d.,]*)\s*(?P<unit>[A-Za-z]+)"
# A free end may cost so small a part of the readings' span.
_MOST_COST = 10
# Seconds from 1970, some three million years, beyond which there are no dates.
_REACH = 1e14
# The calendar that dates are written in: from the year 1 to the last second of 9999.
_FIRST_YEAR, _LAST_YEAR = -62_135_596_800.0, 253_402_300_799.0


class _Calendar(NamedTuple):
    """Ticks by a step: `count_to` counts them from 1970, or from the `counted` moment, and may lie
    between two."""

    step: float
    counted: float | None = None

    @property
    def months(self) -> int:
        """Whole months of the step, 0 where it is of another unit."""
        count = self.step / MEAN_MONTH
        return round(count) if count >= 1 and count == round(count) else 0

    @property
    def origin(self) -> float:
        if self.counted is not None:
            return self.counted
        return _FIRST_MONDAY if self.step >= 7 * DAY and self.step % (7 * DAY) == 0 else 0.0

    def value(self, index: int) -> float:
        if self.step < 1:
            # the nearest to its decimal: parts of a second since 1970 have few digits to spare
            return float(_decimal(self.origin) + index * _decimal(self.step))
        if not self.months:
            return self.origin + index * self.step
        return _month_start(index * self.months + self._first_month)

    @property
    def _first_month(self) -> int:
        # from year 0, so that decades and centuries begin where they are counted from
        return -1970 * 12 if self.counted is None else _month_of(self.counted)

    def count_to(self, value: float) -> float | Fraction:
        if self.step < 1:
            return (_decimal(value) - _decimal(self.origin)) / _decimal(self.step)
        if not self.months:
            return (value - self.origin) / self.step
        month = _month_of(value)
        begin, end = _month_start(month), _month_start(month + 1)
        return (month - self._first_month + (value - begin) / (end - begin)) / self.months


def _decimal(value: float) -> Fraction:
    """A number as the decimal that people see."""
    return Fraction(Decimal(repr(value)))


def _month_of(value: float) -> int:
    """The month, counted from January 1970, in which a moment lies."""
    days = np.datetime64(math.floor(min(max(value, -_REACH), _REACH) / DAY), "D")
    return int(days.astype("datetime64[M]").astype(np.int64))


def _month_start(month: int) -> float:
    return float(np.datetime64(month, "M").astype("datetime64[s]").astype(np.int64))


class Time(Even):
    """See the module."""

    name = "time"
    traits = Traits(even=True, dated=True, suits=("time",), plain=True)

    def tick_count(self, start: float, end: float, step: float) -> int:
        calendar = _Calendar(step)
        return max(math.floor(calendar.count_to(end)) - math.ceil(calendar.count_to(start)) + 1, 0)

    def divisions(self, step: float) -> int:
        finer = [s for s in _STEPS if s < step and abs(step / s - round(step / s)) < 1e-9]
        return next((n for s in reversed(finer) if (n := round(step / s)) >= 3), 2)

    def words(self, value: float, within: float) -> str:
        """A moment as it can be typed, only as fine as `within` seconds need."""
        return moment_words(value, within)

    def parse(self, text: str, about: float) -> float:
        return typed_moment(text, about)

    def step_words(self, step: float) -> str:
        for unit, seconds in reversed(_UNITS.items()):
            count = step / seconds
            if 1 <= count < 1e9 and count == round(count):
                return unit if count == 1 else plural(round(count), unit)
        return f"{shortest(step, 0)} s"

    def parse_step(self, text: str) -> float:
        match = re.fullmatch(_WORDED, text.strip())
        if match is not None:
            name = _SHORT.get(match["unit"], match["unit"].lower().rstrip("s"))
            if name in _UNITS:
                step = _UNITS[name] * (parse_number(match["number"]) if match["number"] else 1.0)
                months = step / MEAN_MONTH
                if name in ("month", "year") and abs(months - round(months)) > 1e-9:
                    raise EditRefused(
                        f"“{text.strip()}” are no whole months, and the calendar has no others.",
                        remedy="Write it as 18 months, 6 weeks or 45 days.",
                    )
                return round(months) * MEAN_MONTH if name in ("month", "year") else step
        raise EditRefused(
            f"“{text.strip()}” is not a step in time.",
            remedy="Write it as 10 minutes, 6 hours, 2 days, week, 3 months or year.",
        )

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        least, greatest = _span(extent, held)
        if max(abs(least), abs(greatest)) > _REACH:
            return Resolved(
                self.name, least, greatest, (), greatest - least, reverse,
                "No calendar reaches as far as this range.",
            )  # fmt: skip
        note, step = "", held.step
        if step is not None and not 2 <= self.tick_count(least, greatest, step) <= MOST_TICKS:
            note = (
                f"A step of {self.step_words(step)} does not suit this range, so the axis chooses "
                "its own."
            )
            step = None
        if step is None:
            # an origin belongs to a step that is held
            held = held._replace(step=None, origin=None)
            step = _best_step(least, greatest, held, room)
        start, end = ends = _ends(least, greatest, held, step)
        values = _values(start, end, _Calendar(step, held.origin))
        ticks, groups = _ticks(values, step, ends, room, held)
        angle = float(held.turn or 0)
        return Resolved(
            self.name, start, end, ticks, step, reverse, note, angle=angle, groups=groups
        )


TIME_SCALE = Time()


def _span(extent: Extent | None, held: AxisConstraints) -> tuple[float, float]:
    """The ends before any rounding; never of zero width."""
    known = [end for end in (held.start, held.end) if end is not None]
    if extent is None:
        extent = Extent(min(known, default=0.0), max(known, default=DAY))
    least = held.start if held.start is not None else extent.least
    greatest = held.end if held.end is not None else extent.greatest
    if greatest - least > 64 * math.ulp(max(abs(least), abs(greatest))):
        return least, greatest
    away = max(_HOUR, 1e-9 * max(abs(least), abs(greatest)))
    if held.start is not None:
        return least, least + away
    if held.end is not None:
        return greatest - away, greatest
    return least - away, greatest + away


def _ends(least: float, greatest: float, held: AxisConstraints, step: float) -> tuple[float, float]:
    """Free ends move out to a tick, or to where a finer part of the calendar begins if the tick is
    too far."""
    start, end = least, greatest
    if held.start is None:
        start = _outward(least, greatest - least, step, held.origin, math.floor)
    if held.end is None:
        end = _outward(greatest, greatest - least, step, held.origin, math.ceil)
    if not _FIRST_YEAR <= start <= end <= _LAST_YEAR:
        # no free end moves out of the calendar
        start = max(start, min(least, _FIRST_YEAR))
        end = min(end, max(greatest, _LAST_YEAR))
    return start, end


def _outward(
    reading: float, span: float, step: float, origin: float | None,
    to_whole: Callable[[float | Fraction], int],
) -> float:  # fmt: skip
    """Where an end stands beyond a reading: at the next tick, or where a finer step begins, so that
    it costs no more than a tenth of the axis."""
    found = reading
    for finer in (step, *(s for s in reversed(_STEPS) if s < step)):
        calendar = _Calendar(finer, origin)
        found = calendar.value(to_whole(calendar.count_to(reading)))
        if abs(found - reading) <= span / _MOST_COST:
            break
    return found


def _best_step(least: float, greatest: float, held: AxisConstraints, room: Room) -> float:
    """The step whose ticks stand nearest to the distance at which an axis reads best, of those
    whose labels leave one another room."""
    span = greatest - least
    likely = [step for step in _STEPS if span / 60 < step < span * 1.5] or [_STEPS[-1]]
    rated = []
    for step in likely:
        start, end = ends = _ends(least, greatest, held, step)
        first, last = _first_and_last(start, end, _Calendar(step))
        if last <= first:
            continue
        apart_mm = step / (end - start) * room.length_mm
        ideal = 1.25 * room.ideal_mm
        density = 2 - max(apart_mm / ideal, ideal / apart_mm)
        added = 1 - span / (end - start)
        rated.append((density - 1.5 * added, step, ends))
    # what labels say is only found out until they have room
    rated.sort(reverse=True)
    for _, step, (start, end) in rated:
        values = _values(start, end, _Calendar(step))
        labels, _ = said(values, step, (start, end), held.labels, room)
        if _fits(values, labels, (start, end), room, held.every):
            return step
    return rated[0][1] if rated else likely[0]


_NEARLY = Fraction(1, 10**9)


def _values(start: float, end: float, calendar: _Calendar) -> list[float]:
    """Every tick."""
    first, last = _first_and_last(start, end, calendar)
    return [calendar.value(index) for index in range(first, min(last, first + MOST_TICKS) + 1)]


def _first_and_last(start: float, end: float, calendar: _Calendar) -> tuple[int, int]:
    """The first and the last tick, as counts of steps."""
    return (
        math.ceil(calendar.count_to(start) - _NEARLY),
        math.floor(calendar.count_to(end) + _NEARLY),
    )


def _fits(
    values: list[float], labels: list[str], ends: tuple[float, float], room: Room, every: int
) -> bool:
    start, end = ends
    places = [(value - start) / (end - start) * room.length_mm for value in values]
    sizes = [room.size_mm((Run(label),)) for label in labels]
    return apart(list(zip(places, sizes, strict=True))[::every], room.apart_mm)


def _ticks(
    values: list[float], step: float, ends: tuple[float, float], room: Room, held: AxisConstraints
) -> tuple[tuple[Tick, ...], tuple[Group, ...]]:
    """Ticks with labels as far as these have room, each said beside those that are; and what is
    said under them."""
    for every in (*(held.every * n for n in _THINNINGS), max(len(values), 1)):
        labels, groups = said(values[::every], step, ends, held.labels, room)
        if _fits(values[::every], labels, ends, room, 1):
            break
    nothing: Rich = ()
    return tuple(
        Tick(value, (Run(labels[i // every]),) if i % every == 0 else nothing)
        for i, value in enumerate(values)
    ), groups


_THINNINGS = (1, 2, 3, 4, 6, 12, 24, 48, 96)
