"""What ticks of dates and times say.

On a level axis that is said in two lines: hours above days, days above months, months above years,
so that the day or the year is said once. Else each tick says what it adds to the one before it.
"""

from collections.abc import Callable, Mapping
from functools import lru_cache
from itertools import pairwise
from types import MappingProxyType
from typing import NamedTuple

import numpy as np

from sornix.core.scales.kind import Group, Room
from sornix.core.text import Run
from sornix.core.text.moments import DAY, MEAN_MONTH, MONTHS, moment_text

_YEAR = 12 * MEAN_MONTH
_WEEKDAYS = ("Thu", "Fri", "Sat", "Sun", "Mon", "Tue", "Wed")  # 1970 began with a Thursday
_MOST_GROUPS = 100


class _Parts(NamedTuple):
    """A moment taken apart."""

    year: int
    month: int
    day: int
    clock: str

    @property
    def named(self) -> str:
        return MONTHS[self.month - 1][:3]


@lru_cache(maxsize=4096)
def _parts(value: float) -> _Parts:
    # rounded, because the sums of fractions of a second are not exact
    text = moment_text(round(value, 6), "second")
    date, _, clock = text.partition(" ")
    sign = -1 if date.startswith("-") else 1
    year, month, day = date.lstrip("-").split("-")
    return _Parts(sign * int(year), int(month), int(day), clock)


class DateForm(NamedTuple):
    """A form of labels that a person can choose, with an example."""

    example: str
    make: Callable[[float], str]


def _with(pattern: Callable[[_Parts], str]) -> Callable[[float], str]:
    return lambda value: pattern(_parts(value))


def _weekday(value: float) -> str:
    return _WEEKDAYS[int(np.floor(round(value, 6) / DAY)) % 7]


DATE_FORMS: Mapping[str, DateForm] = MappingProxyType(
    {
        "day": DateForm("4", _with(lambda p: str(p.day))),
        "day-month": DateForm("4 May", _with(lambda p: f"{p.day} {p.named}")),
        "day-month-year": DateForm("4 May 2026", _with(lambda p: f"{p.day} {p.named} {p.year}")),
        "numbers": DateForm("4.5.2026", _with(lambda p: f"{p.day}.{p.month}.{p.year}")),
        "iso": DateForm("2026-05-04", _with(lambda p: f"{p.year}-{p.month:02}-{p.day:02}")),
        "weekday": DateForm("Mon", _weekday),
        "weekday-day": DateForm("Mon 4 May", lambda v: f"{_weekday(v)} {_parts(v).day} "
                                f"{_parts(v).named}"),
        "month": DateForm("May", _with(lambda p: p.named)),
        "month-year": DateForm("May 2026", _with(lambda p: f"{p.named} {p.year}")),
        "year": DateForm("2026", _with(lambda p: str(p.year))),
        "clock": DateForm("14:30", _with(lambda p: p.clock[:5])),
        "clock-seconds": DateForm("14:30:05", _with(lambda p: p.clock)),
        "day-clock": DateForm("4 May 14:30", _with(lambda p: f"{p.day} {p.named} {p.clock[:5]}")),
    }
)  # fmt: skip


def said(
    values: list[float], step: float, ends: tuple[float, float], form: str, room: Room
) -> tuple[list[str], tuple[Group, ...]]:
    """The labels of ticks between two ends, and what is said under them."""
    if form in DATE_FORMS:
        return [DATE_FORMS[form].make(value) for value in values], ()
    step = _told_step(values, step)
    only_clock = ends[0] >= 0 and ends[1] <= DAY
    if room.level and form != "one-line" and step < _YEAR and not only_clock:
        groups = _groups(step, ends, room)
        if groups:
            return [_short(value, step) for value in values], groups
    before = None
    labels = []
    for value in values:
        labels.append(_label(value, step, before, only_clock=only_clock))
        before = value
    return labels, ()


def _told_step(values: list[float], step: float) -> float:
    """The step whose labels tell where ticks are: a step of 18 months has to say the month, one of
    36 hours the hour."""
    parts = [_parts(value) for value in values]
    if step >= _YEAR and any(part.month > 1 for part in parts):
        step = MEAN_MONTH
    if step >= MEAN_MONTH and any(part.day > 1 for part in parts):
        step = DAY
    if step >= DAY and any(part.clock != "00:00:00" for part in parts):
        step = 3600.0
    return step


def _clock(parts: _Parts, value: float, step: float) -> str:
    if step >= 1:
        return parts.clock[:5] if step >= 60 else parts.clock[:8]
    # as many digits as tell the ticks apart
    digits = next(n for n in range(1, 10) if step >= 10.0**-n * 0.999)
    second = round(round(value, digits) % 60, digits) % 60
    return f"{parts.clock[:5]}:{second:0{digits + 3}.{digits}f}"


def _short(value: float, step: float) -> str:
    parts = _parts(value)
    if step >= MEAN_MONTH:
        return parts.named
    return str(parts.day) if step >= DAY else _clock(parts, value, step)


def _groups(step: float, ends: tuple[float, float], room: Room) -> tuple[Group, ...]:
    """The years, months or days of a range, each with the year where it is said first; none where
    they have no room."""
    unit = "Y" if step >= MEAN_MONTH else "M" if step >= DAY else "D"
    start, end = ends
    stretches = _stretches(unit, start, end)
    if not stretches:
        return ()
    found: list[Group] = []
    year_said: int | None = None
    for begin, stop, whole in stretches:
        parts = _parts(begin)
        # the year goes without saying where it is that of the stretch before
        short = {"Y": str(parts.year), "M": parts.named, "D": f"{parts.day} {parts.named}"}[unit]
        full = short if unit == "Y" else f"{short} {parts.year}"
        low, high = max(begin, start), min(stop, end)
        length = (high - low) / (end - start) * room.length_mm
        texts = [full] if parts.year != year_said else [short]
        if low == high and found:
            # the last tick opens one: it is named, where the one before leaves it the room
            texts = [short]
            before = found[-1]
            middle = (end - (before.start + before.end) / 2) / (end - start) * room.length_mm
            length = 2 * middle - room.size_mm(before.label) - 2.0
        fits = next((t for t in texts if room.size_mm((Run(t),)) <= length - 0.5), None)
        if fits is None and whole:
            return ()
        if fits is not None:
            year_said = parts.year
            found.append(Group(low, high, (Run(fits),)))
    return tuple(found)


def _stretches(unit: str, start: float, end: float) -> list[tuple[float, float, bool]]:
    """The years, months or days that a range touches, or ends at the beginning of: begin, end, and
    whether it holds them whole."""
    seconds = np.floor([start, end]).astype(np.int64).astype("datetime64[s]")
    first, last = seconds.astype(f"datetime64[{unit}]").astype(np.int64).tolist()
    if last - first > _MOST_GROUPS:
        return []
    indices = np.arange(first, last + 2).astype(f"datetime64[{unit}]")
    bounds = indices.astype("datetime64[s]").astype(np.float64).tolist()
    return [
        (a, b, start <= a and b <= end)
        for a, b in pairwise(bounds)
        if min(b, end) > max(a, start) or start < a == end
    ]


def _label(value: float, step: float, before: float | None, *, only_clock: bool) -> str:
    """What a tick adds to the one before it: the year and the day are said where they change."""
    parts = _parts(value)
    earlier = _parts(before) if before is not None else None
    fresh_year = earlier is None or earlier.year != parts.year
    if step >= _YEAR:
        return str(parts.year)
    if step >= MEAN_MONTH:
        return f"{parts.named} {parts.year}" if fresh_year else parts.named
    date = f"{parts.day} {parts.named}"
    if step >= DAY:
        return f"{date} {parts.year}" if fresh_year else date
    clock = _clock(parts, value, step)
    if only_clock:
        return clock
    if parts.clock == "00:00:00" and value == round(value):
        return f"{date} {parts.year}" if before is None else date
    # the day is said where it changes, unless a tick at midnight has said it
    same = earlier is not None and (earlier.month, earlier.day) == (parts.month, parts.day)
    return clock if same else f"{date} {clock}"
