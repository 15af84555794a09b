"""The time scale: equal distances for equal times, ticks by the calendar.

Values are seconds since 1970 on the clock of the readings (sornix.core.text.moments). A step of
months is counted in mean Gregorian months of 2 629 746 s (a twelfth of 365.2425 days): whole
multiples of that are steps by the calendar, whatever the lengths of the months that they cross.
"""

import math
import re
from typing import NamedTuple

import numpy as np

from sornix.core.errors import EditRefused
from sornix.core.scales.kind import (
    KINDS,
    MOST_TICKS,
    Even,
    Extent,
    Fitting,
    Resolved,
    Room,
    Tick,
)
from sornix.core.text import Rich, Run, parse_number, plural, shortest
from sornix.core.text.moments import CLOCK, DATE, DAY, MONTHS, moment_text, typed_moment

MEAN_MONTH = 2_629_746.0
_MINUTE, _HOUR = 60.0, 3600.0
_YEAR = 12 * MEAN_MONTH
# 1970-01-01 was a Thursday: weeks begin with the Monday after it
_FIRST_MONDAY = 4 * DAY
_STEPS = (
    *(m * 10.0**p for p in (-6, -5, -4, -3, -2, -1) for m in (1, 2, 5)),
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
_OVERHANG = 0.25


class _Calendar(NamedTuple):
    """Ticks by a step: `count_to` counts them from 1970, and may lie between two."""

    step: float

    @property
    def months(self) -> int:
        """Whole months of the step, 0 where it is of another unit."""
        count = self.step / MEAN_MONTH
        return round(count) if count >= 1 and count == round(count) else 0

    @property
    def origin(self) -> float:
        return _FIRST_MONDAY if self.step >= 7 * DAY and self.step % (7 * DAY) == 0 else 0.0

    def value(self, index: int) -> float:
        if not self.months:
            return self.origin + index * self.step
        return _month_start(index * self.months)

    def count_to(self, value: float) -> float:
        if not self.months:
            return (value - self.origin) / self.step
        days = math.floor(value / DAY)
        month = int(np.datetime64(days, "D").astype("datetime64[M]").astype(np.int64))
        begin, end = _month_start(month), _month_start(month + 1)
        return (month + (value - begin) / (end - begin)) / self.months


def _month_start(month: int) -> float:
    return float(np.datetime64(month, "M").astype("datetime64[s]").astype(np.int64))


class Time(Even):
    """See the module."""

    name = "time"

    def tick_count(self, start: float, end: float, step: float) -> int:
        calendar = _Calendar(step)
        return max(math.floor(calendar.count_to(end)) - math.ceil(calendar.count_to(start)) + 1, 0)

    def words(self, value: float, within: float) -> str:
        """A moment as it can be typed, only as fine as `within` seconds need."""
        for unit in (DAY, _MINUTE, 1.0):
            nearest = round(value / unit) * unit
            if abs(nearest - value) <= within:
                value = nearest
                break
        form = CLOCK if 0 <= value < DAY else DATE
        return moment_text(value, form)

    def parse(self, text: str, about: float) -> float:
        return typed_moment(text, about)

    def step_words(self, step: float) -> str:
        for unit, seconds in reversed(_UNITS.items()):
            count = step / seconds
            if count >= 1 and count == round(count):
                return unit if count == 1 else plural(round(count), unit)
        return f"{shortest(step, 0)} s"

    def parse_step(self, text: str) -> float:
        match = re.fullmatch(_WORDED, text.strip())
        if match is not None:
            name = _SHORT.get(match["unit"], match["unit"].lower().rstrip("s"))
            if name in _UNITS:
                return _UNITS[name] * (parse_number(match["number"]) if match["number"] else 1.0)
        raise EditRefused(
            f"“{text.strip()}” is not a step in time.",
            remedy="Write it as 10 minutes, 6 hours, 2 days, week, 3 months or year.",
        )

    def resolve(
        self, extent: Extent | None, held: Fitting, room: Room, *, reverse: bool
    ) -> Resolved:
        least, greatest = _span(extent, held)
        note, step = "", held.step
        if step is not None and not 2 <= self.tick_count(least, greatest, step) <= MOST_TICKS:
            note = (
                f"A step of {self.step_words(step)} does not suit this range, so the axis chooses "
                "its own."
            )
            step = None
        if step is None:
            step = _best_step(least, greatest, held, room)
        start, end = _ends(least, greatest, held, step)
        return Resolved(self.name, start, end, _ticks(start, end, step, room), step, reverse, note)


TIME_SCALE = Time()
KINDS[TIME_SCALE.name] = TIME_SCALE


def _span(extent: Extent | None, held: Fitting) -> tuple[float, float]:
    """The ends before any rounding; never of zero width."""
    known = [end for end in (held.start, held.end) if end is not None]
    if extent is None:
        extent = Extent(min(known, default=0.0), max(known, default=DAY))
    least = held.start if held.start is not None else extent.least
    greatest = held.end if held.end is not None else extent.greatest
    if greatest - least > 1e-6:
        return least, greatest
    if held.start is not None:
        return least, least + _HOUR
    if held.end is not None:
        return greatest - _HOUR, greatest
    return least - _HOUR, greatest + _HOUR


def _ends(least: float, greatest: float, held: Fitting, step: float) -> tuple[float, float]:
    """Free ends move out to a tick unless they stand just beyond one."""
    calendar = _Calendar(step)
    first, last = calendar.count_to(least), calendar.count_to(greatest)
    start, end = least, greatest
    if held.start is None and math.ceil(first) - first > _OVERHANG:
        start = calendar.value(math.floor(first))
    if held.end is None and last - math.floor(last) > _OVERHANG:
        end = calendar.value(math.ceil(last))
    return start, end


def _best_step(least: float, greatest: float, held: Fitting, room: Room) -> float:
    """The step whose ticks stand nearest to the distance at which an axis reads best, of those
    whose labels leave one another room."""
    span = greatest - least
    likely = [step for step in _STEPS if span / 60 < step < span * 1.5] or [_STEPS[-1]]
    scored = []
    for step in likely:
        start, end = _ends(least, greatest, held, step)
        ticks = _labelled(start, end, step)
        if len(ticks) < 2:
            continue
        apart = step / (end - start) * room.length_mm
        ideal = 1.25 * room.ideal_mm
        density = 2 - max(apart / ideal, ideal / apart)
        beyond = ((start - least) ** 2 + (end - greatest) ** 2) / span**2
        scored.append((_fits(ticks, start, end, room), density - 2 * beyond, step))
    if not scored:
        return likely[0]
    return max(scored)[2]


def _labelled(start: float, end: float, step: float) -> list[tuple[float, str]]:
    """Every tick with its whole label."""
    calendar = _Calendar(step)
    first, last = (
        math.ceil(calendar.count_to(start) - 1e-9),
        math.floor(calendar.count_to(end) + 1e-9),
    )
    values = [calendar.value(index) for index in range(first, min(last, first + MOST_TICKS) + 1)]
    only_clock = start >= 0 and end <= DAY
    before: float | None = None
    labels = []
    for value in values:
        labels.append((value, _label(value, step, before, only_clock=only_clock)))
        before = value
    return labels


def _label(value: float, step: float, before: float | None, *, only_clock: bool) -> str:
    """What a tick adds to the one before it: the year and the day are said where they change."""
    # rounded, because the sums of fractions of a second are not exact
    text = moment_text(round(value, 6), "second")
    year, month, day = text[:10].split("-")
    clock = text[11:]
    named = MONTHS[int(month) - 1][:3]
    fresh_year = before is None or moment_text(before, "second")[:4] != year
    if step >= _YEAR:
        return str(int(year))
    if step >= MEAN_MONTH:
        return f"{named} {int(year)}" if fresh_year else named
    date = f"{int(day)} {named}"
    if step >= DAY:
        return f"{date} {int(year)}" if fresh_year else date
    hours = clock[:5] if step >= _MINUTE else clock
    if only_clock:
        return hours
    if clock == "00:00:00":
        return f"{date} {int(year)}" if before is None else date
    return f"{date} {hours}" if before is None else hours


def _fits(ticks: list[tuple[float, str]], start: float, end: float, room: Room) -> bool:
    places = [(value - start) / (end - start) * room.length_mm for value, _ in ticks]
    sizes = [room.size_mm((Run(label),)) for _, label in ticks]
    return all(
        b - a >= (size_a + size_b) / 2 + room.apart_mm
        for a, b, size_a, size_b in zip(places, places[1:], sizes, sizes[1:], strict=False)
    )


def _ticks(start: float, end: float, step: float, room: Room) -> tuple[Tick, ...]:
    ticks = _labelled(start, end, step)
    every = next(
        (n for n in (1, 2, 3, 4, 6, 12, 24, 48, 96) if _fits(ticks[::n], start, end, room)),
        len(ticks),
    )
    nothing: Rich = ()
    return tuple(
        Tick(value, (Run(label),) if i % max(every, 1) == 0 else nothing)
        for i, (value, label) in enumerate(ticks)
    )
