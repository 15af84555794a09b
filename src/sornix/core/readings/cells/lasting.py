"""How long something took, and times of day that are written otherwise than clocks write them."""

import re
from collections.abc import Sequence

import numpy as np

from sornix.core.patterns import pattern
from sornix.core.readings.cells.forms import MISSING, Written
from sornix.core.text.moments import DAY

_CLOCK = pattern(
    r"(?:(\d{1,4})(?:\s+|d\s*|\.(?=\d+:\d+:)))?(\d{1,4}):(\d{2})(?::(\d{2}(?:[.,]\d{1,9})?))?"
)
_HOURS_AND_MINUTES = pattern(
    r"([01]\d|2[0-3])([0-5]\d)([0-5]\d)?|([01]?\d|2[0-3]) ?h ?([0-5]\d)?"
    r"|([01]?\d|2[0-3])(?:[:.]([0-5]\d))? ?Uhr",
    re.IGNORECASE,
)
# 1 d 2 h 30 min
_IN_WORDS = pattern(
    r"(?:(\d+)\s?(?:d|days?))?\s?(?:(\d+)\s?(?:h|hrs?|hours?))?\s?(?:(\d+)\s?(?:m|min|mins|minutes?))?"
    r"\s?(?:(\d+(?:[.,]\d+)?)\s?(?:s|secs?|seconds?))?",
    re.IGNORECASE,
)
_SIZES = (86_400, 3600, 60, 1)
_CLOCK_NAME = pattern(r"\b(?:time|hh:?mm|uhrzeit|zeit|heure|hora|ora)\b", re.IGNORECASE)
_MINUS, _SIGNS = "-−", ("-", "−")
# 01:23.4 has no hours
_MINUTES = pattern(r"(\d{1,3}):(\d{2}[.,]\d{1,9})")
_LASTING = pattern(
    r"\b(?:elapsed|duration|run ?time|age|lap|dauer|laufzeit|durée|duración|durata|"
    r"h{1,2}:m{1,2}(?::s{1,2})?|m{1,2}:s{1,2})\b",
    re.IGNORECASE,
)
# HH is the hour of a day in the forms of clocks
_OF_THE_DAY = pattern(r"^(?i:time)\b.*\bHH:mm|\b24[ -]?h")
_MINUTES_FIRST = pattern(r"\bm{1,2}:s{1,2}\b|\bmin(?:utes)?:s", re.IGNORECASE)
_HOURS_FIRST = pattern(r"\bh{1,2}:m{1,2}\b", re.IGNORECASE)


def are_durations(cells: Sequence[str]) -> bool:
    """Whether cells say by themselves how long something took: with days, with 25 hours and more,
    or before something."""
    bare = [cell.lstrip(_MINUS) for cell in cells]
    found = [_CLOCK.fullmatch(cell) for cell in bare]
    if cells and (all(map(_MINUTES.fullmatch, bare)) or _are_in_words(bare)):
        return True
    long = bare != [*cells] or any(m is not None and (m[1] or int(m[2]) > 24) for m in found)
    return all(found) and long


def _are_in_words(cells: Sequence[str]) -> bool:
    """Whether cells are such as 2 h 30 min: a part alone, 5 m, may be of another unit."""
    found = [_IN_WORDS.fullmatch(cell) for cell in cells]
    parts = [sum(part is not None for part in m.groups()) if m is not None else 0 for m in found]
    return min(parts, default=0) > 0 and max(parts) > 1


def durations(name: str, unit: str, cells: Sequence[str]) -> Written | None:
    """The seconds in cells such as 1:30:00 where they say how long something took and not when it
    was: by themselves, or by the name or the unit of the column."""
    told = f"{name} {unit}"
    present = [row for row, cell in enumerate(cells) if cell not in MISSING]
    short = [cells[row] for row in present]
    if not short or not (are_durations(short) or _LASTING.search(told)):
        return None
    if _OF_THE_DAY.search(told) and not are_durations(short):
        return None
    minutes_first, said = _is_minutes_first(told, short)
    values = np.full(len(cells), np.nan)
    for row in present:
        seconds = _lasting(cells[row].lstrip(_MINUS), minutes_first=minutes_first)
        if seconds is None:
            return None
        values[row] = -seconds if cells[row].startswith(_SIGNS) else seconds
    return Written(values, "s", f"Lengths of time in {{names}} are in seconds now{said}.")


def _lasting(cell: str, *, minutes_first: bool) -> float | None:
    """The seconds in a cell such as 1:30:00."""
    if (match := _MINUTES.fullmatch(cell)) is not None:
        return int(match[1]) * 60 + float(match[2].replace(",", "."))
    if (match := _IN_WORDS.fullmatch(cell)) is not None:
        parts = zip(match.groups(), _SIZES, strict=True)
        return sum(float(part.replace(",", ".")) * size for part, size in parts if part)
    if (match := _CLOCK.fullmatch(cell)) is None:
        return None
    days, first, second, third = match.groups()
    size = 60 if third is None and minutes_first else 3600
    seconds = float(third.replace(",", ".")) if third is not None else 0.0
    return int(days or 0) * DAY + int(first) * size + int(second) * size / 60 + seconds


def clock_times(name: str, cells: Sequence[str]) -> Written | None:
    """The times of day in cells such as 0830 or 8h30, where the name of the column says that they
    are."""
    present = [row for row, cell in enumerate(cells) if cell not in MISSING]
    if not present or not _CLOCK_NAME.search(name):
        return None
    values = np.full(len(cells), np.nan)
    for row in present:
        match = _HOURS_AND_MINUTES.fullmatch(cells[row])
        if match is None:
            return None
        hours, minutes = match[1] or match[4] or match[6], match[2] or match[5] or match[7] or 0
        values[row] = 3600.0 * int(hours) + 60.0 * int(minutes) + int(match[3] or 0)
    said = f"{cells[present[0]]} and the like in the cells of {{names}} were read as times of day."
    return Written(values, "", said, moments=True, clock=True)


def _is_minutes_first(told: str, cells: Sequence[str]) -> tuple[bool, str]:
    """Whether two numbers are minutes and seconds, and what is to be said of it."""
    two = [cell for cell in cells if cell.count(":") == 1]
    if not two:
        return False, ""
    if _HOURS_FIRST.search(told):
        return False, ""
    minutes = bool(_MINUTES_FIRST.search(told))
    example = f"; {two[0]} was taken as minutes and seconds"
    return True, "" if minutes else example


# The names of what counts moments, and how many digits such counts have from 2001 on, in parts of a
# second.
STAMP = pattern(
    r"t|(?:unix|epoch|posix|utc)?[ _-]?"
    r"(?:time(?:[ _-]?stamp)?|epoch|date(?:[ _-]?time)?)(?:[ _-]?(?:utc|ms|us|µs|ns))?",
    re.IGNORECASE,
)
_PARTS_OF_SECOND = {16: ("Microseconds", 10**6), 19: ("Nanoseconds", 10**9)}
# before 2040, in seconds since 1970
LATEST = 2_208_988_800


def counted_moments(name: str, cells: Sequence[str]) -> Written | None:
    """The moments that a column counts in parts of seconds since 1970, which have more digits than
    numbers keep: from 2001 to 2039, in a column called time."""
    present = [row for row, cell in enumerate(cells) if cell not in MISSING]
    lengths = {len(cells[row]) for row in present}
    told = _PARTS_OF_SECOND.get(min(lengths, default=0)) if len(lengths) == 1 else None
    if told is None or not STAMP.fullmatch(name.strip()):
        return None
    what, size = told
    values = np.full(len(cells), np.nan)
    for row in present:
        if not cells[row].isdecimal() or int(cells[row]) >= LATEST * size:
            return None
        # as finely as a number tells
        values[row] = round(int(cells[row]) / size, 6)
    said = f"{what} since 1970 in {{names}} were read as times."
    return Written(values, "", said, moments=True)
