"""Numbers that stand for missing readings."""

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, number_in

Floats = NDArray[np.float64]
# Numbers that loggers write for a missing reading, if they stand out from the others.
_WRITTEN = (99.0, 99.9, 999.0, 999.25, 999.9, 999.99, 9999.0, 9999.9, 99999.0, 32767.0, 1e30, 1e37)
# these only below zero: above it they are readings
_BELOW = (-9.99, -9.999, -99.99, -999.999, -1e31, -32768.0)
_STAND_INS = frozenset((*_WRITTEN, *(-one for one in _WRITTEN), *_BELOW, 9.96921e36))
# What says above the readings which number stands for a missing one: bad_flag = -9.99e-29
_TOLD = pattern(
    r"\b_?(?:bad[ _]?(?:flag|values?|data)|missing(?:[ _](?:data|values?))*|no[ _-]?data|"
    r"fill[ _]?values?)(?:[ _](?:values?|flag|code|mark(?:er)?|indicator))?\b['\"]?"
    r"\s?(?:[=:,;\t]|\bis\b|\s)\s*['\"]?([-+−]?[\d.,]+(?:[eE][-+]?\d+)?)(?![\w.])",
    re.IGNORECASE,
)


def told_stand_ins(above: str) -> tuple[float, ...]:
    """The numbers that lines above the readings say to stand for missing ones."""
    found = (number_in(match[1].rstrip(".,"), Marks()) for match in _TOLD.finditer(above))
    return tuple(dict.fromkeys(value for value in found if value is not None))


def without_stand_ins(
    values: Floats, missing: Sequence[str] | None, told: Sequence[float] = ()
) -> tuple[str, ...]:
    """Makes numbers that stand for missing readings NaN, in place: those among the marks for
    `missing` readings, or where that is None those that are `told` and those that stand out, which
    it gives as text."""
    if missing is not None:
        wanted = [number_in(mark, Marks()) for mark in missing]
        marks = [value for value in wanted if value is not None]
    else:
        marks = [mark for mark in told if (values == mark).any()]
        marks += _standing_out(values[~np.isin(values, marks)] if marks else values)
    for mark in marks:
        values[values == mark] = np.nan
    return tuple(f"{mark:.12g}" for mark in marks) if missing is None else ()


def _standing_out(values: Floats) -> list[float]:
    """The stand-ins for missing readings among values, shape (n,).

    One stands out if it is an extreme, all others lie on its one side, and it is farther from
    them than they are from one another; a negative one among readings that are never negative
    stands out too.
    """
    found: list[float] = []
    rest = values
    while rest.size > len(found) and len(found) < 3:
        with np.errstate(invalid="ignore"):
            ends = np.fmin.reduce(rest), np.fmax.reduce(rest)
        candidates = [float(end) for end in ends if float(end) in _STAND_INS]
        mark = next((c for c in candidates if _stands_out(rest, c)), None)
        if mark is None:
            break
        found.append(mark)
        rest = rest[rest != mark]
    return found


def _stands_out(values: Floats, mark: float) -> bool:
    others = values[np.isfinite(values) & (values != mark)]
    if len(others) < (2 if mark < 0 else 3):
        return False
    least, greatest = float(others.min()), float(others.max())
    if mark < 0 and least >= 0 and mark <= -99:
        return True
    gap = least - mark if mark < least else mark - greatest
    if mark > 0:
        # one reading of 999 can be true; the same twice is a habit of the logger
        return int(np.count_nonzero(values == mark)) > 1 and gap > 5 * (greatest - least)
    return gap > max(greatest - least, abs(greatest), abs(least))
