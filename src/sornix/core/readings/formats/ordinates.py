"""Ordinates of JCAMP-DX: readings that are evenly spaced, each line behind the x of its first.

R. S. McDonald and P. A. Wilks, Applied Spectroscopy 42 (1988) 151–162, section 4: numbers that
stand for themselves (AFFN), packed by their signs (PAC), squeezed (SQZ), as differences (DIF), each
repeated so many times (DUP).
"""

import math
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np

from sornix.core.errors import ReadingsError
from sornix.core.patterns import pattern
from sornix.core.readings.formats.columns import scaled
from sornix.core.readings.tables.column import Floats
from sornix.core.text import plural, short, spoken

# a number that stands for itself, its exponent with its sign, since E alone is a digit
_NUMBER = r"\d+\.?\d*(?:[Ee][+-]\d+)?|\.\d+(?:[Ee][+-]\d+)?"
_ABSCISSA = pattern(rf"\s*([+-]?(?:{_NUMBER}))[\s,;]*")
_TOKEN = pattern(rf"[\s,;]*(?:([+-]?(?:{_NUMBER}))|([@A-Ia-i%J-Rj-rS-Zs])(\d*(?:\.\d*)?)|(\?))")
_SQUEEZED = {"@": 0, **{c: i for i, c in enumerate("ABCDEFGHI", 1)},
             **{c: -i for i, c in enumerate("abcdefghi", 1)}}  # fmt: skip
_DIFFERENCE = {"%": 0, **{c: i for i, c in enumerate("JKLMNOPQR", 1)},
               **{c: -i for i, c in enumerate("jklmnopqr", 1)}}  # fmt: skip
_REPEATED = {c: i for i, c in enumerate("STUVWXYZs", 1)}
_MOST_POINTS = 1 << 26
# An x before a line of ordinates is written to so many digits at least.
_DIGITS = 1e-4


class Ends(NamedTuple):
    """What labels say of readings that are evenly spaced; NaN where they do not."""

    first: float
    last: float
    step: float
    total: float
    x_factor: float
    y_factor: float
    first_y: float


def evenly_spaced(body: str, ends: Ends, path: Path) -> tuple[Floats, Floats, list[str]]:
    """Places and heights of readings written as (X++(Y..Y)), and what is to be said of them."""
    read = _ordinates(body, path)
    count = len(read.values)
    if not count:
        raise ReadingsError("There are no ordinates under a label of data.", where=path.name)
    notes = []
    if np.isfinite(ends.total) and ends.total != count:
        notes.append(
            f"The file says that there are {plural(int(ends.total), 'reading')}, "
            f"and holds {spoken(count)}."
        )
    first = ends.first if np.isfinite(ends.first) else read.lines[0][1] * ends.x_factor
    places: Floats
    as_told = not np.isfinite(ends.total) or ends.total == count
    if np.isfinite(ends.last) and count > 1 and as_told:
        places = np.linspace(first, ends.last, count)
    else:
        step = ends.step
        if not np.isfinite(step) and len(read.lines) > 1:
            (one, x), (other, further) = read.lines[0], read.lines[-1]
            step = (further - x) * ends.x_factor / (other - one)
        if not np.isfinite(step) and np.isfinite(ends.last) and ends.total > 1:
            step = (ends.last - first) / (ends.total - 1)
        if not np.isfinite(step):
            raise ReadingsError(
                "Nothing says how far readings are apart along x.", where=path.name,
                remedy="The labels FIRSTX, LASTX and NPOINTS say it.",
            )  # fmt: skip
        places = first + step * np.arange(count, dtype=np.float64)
    reach = max(abs(float(places[0])), abs(float(places[-1])))
    if reach:
        # no digits that only come of counting in binary
        places = np.round(places, 12 - math.floor(math.log10(reach)))
    heights = scaled(read.values, ends.y_factor)
    notes += _doubts(read, places, heights, ends)
    return places, heights, notes


def _doubts(read: "_Read", places: Floats, heights: Floats, ends: Ends) -> Iterator[str]:
    at = np.array([index for index, _ in read.lines])
    told = np.array([x for _, x in read.lines]) * ends.x_factor
    known = at < len(places)
    step = abs(places[-1] - places[0]) / max(len(places) - 1, 1)
    off = np.abs(told[known] - places[at[known]]) > 0.75 * step + _DIGITS * np.abs(told[known])
    if off.any():
        yield (
            f"{plural(int(off.sum()), 'line')} of ordinates "
            f"{'stands' if off.sum() == 1 else 'stand'} at another x than the labels give; "
            f"the first at {spoken(float(told[known][off][0]))}."
        )
    if read.broken:
        yield (
            f"{plural(read.broken, 'line')} of ordinates "
            f"{'does' if read.broken == 1 else 'do'} not begin with what the line before ended "
            "with: there are readings missing, or changed."
        )
    first = heights[0]
    if np.isfinite(ends.first_y) and abs(first - ends.first_y) > max(
        1e-3 * abs(ends.first_y), 2 * abs(ends.y_factor)
    ):
        yield f"The first reading is {spoken(first)}, and FIRSTY says {spoken(ends.first_y)}."


class _Read(NamedTuple):
    """Ordinates, the index and the x of the first in each line, and how many lines do not begin
    with what the line before ended with."""

    values: Floats
    lines: list[tuple[int, float]]
    broken: int


def _ordinates(body: str, path: Path) -> _Read:
    values: list[float] = []
    lines: list[tuple[int, float]] = []
    broken = 0
    checked = False
    for number, line in enumerate(body.splitlines(), 1):
        head = _ABSCISSA.match(line)
        if head is None:
            if line.strip():
                raise _unread(line, number, path)
            continue
        own, checking = _of_line(line, head.end(), number, path)
        if checked and own and values:
            # the first says again what the line before ended with
            broken += own[0] != values[-1]
            values.pop()
        lines.append((len(values), float(head[1])))
        values += own
        checked = checking
        if len(values) > _MOST_POINTS:
            raise ReadingsError("This file holds too many readings.", where=path.name)
    return _Read(np.array(values, dtype=np.float64), lines, broken)


def _of_line(line: str, at: int, number: int, path: Path) -> tuple[list[float], bool]:
    """The ordinates of a line, and whether the last of them was told by its difference."""
    values: list[float] = []
    difference: float | None = None
    rest = line.rstrip(" \t\r,;")
    while at < len(rest):
        token = _TOKEN.match(rest, at)
        if token is None:
            raise _unread(line, number, path)
        at = token.end()
        plain, letter, digits, unknown = token.groups()
        if unknown or plain is not None:
            values.append(float("nan") if unknown else float(plain))
            difference = None
        elif letter in _REPEATED:
            times = int(f"{_REPEATED[letter]}{digits}") - 1 if "." not in digits else -1
            if times < 0 or not values or len(values) + times > _MOST_POINTS:
                raise _unread(line, number, path)
            if difference is None:
                values += [values[-1]] * times
            else:
                values += [values[-1] + difference * (i + 1) for i in range(times)]
        elif letter in _SQUEEZED:
            values.append(_with_sign(_SQUEEZED[letter], letter, digits))
            difference = None
        else:
            if not values:
                raise _unread(line, number, path)
            difference = _with_sign(_DIFFERENCE[letter], letter, digits)
            values.append(values[-1] + difference)
    return values, difference is not None


def _with_sign(first: int, letter: str, digits: str) -> float:
    """A number whose first digit is written as a letter, which tells its sign."""
    size = float(f"{abs(first)}{digits}")
    return -size if letter.islower() else size


def _unread(line: str, number: int, path: Path) -> ReadingsError:
    return ReadingsError(
        f"This line of ordinates cannot be read: “{short(line.strip(), 60)}”.",
        where=f"{path.name}, line {number} under the label",
        remedy="Look whether the file was changed on its way here.",
    )
