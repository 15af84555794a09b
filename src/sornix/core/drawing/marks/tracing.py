"""Where a curve is worked out, so that the line that is drawn is the curve: nowhere is it further
from the curve than a quarter of its width."""

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.parts.items import Floats, PanelPlace

# So many places to begin with, and at most so many; each round halves what is bent.
_FIRST, _MOST, _ROUNDS = 96, 20_000, 16
_MOST_SEEDS = 4000
# Not in the middle of two places: what repeats itself may be straight there.
_BETWEEN = 0.45
# How far from its curve a line may be drawn, in parts of its width: with what is left out again and
# what lies between the places that are looked at, less than a quarter.
OFF = 0.17
# Beyond the data area by more than this, nothing is drawn.
_BEYOND_MM = 5.0

Curves = Callable[[Floats], Sequence[Floats]]


def traced(
    curves: Curves, place: PanelPlace, ends: tuple[float, float], within_mm: float,
    seeds: Floats | None = None,
) -> Floats:  # fmt: skip
    """Places along x (n,) between two ends, such that straight lines between them are within about
    so many mm of each of some curves, as far as these are in sight. `seeds` are places where there
    may be something that others would miss: those of readings."""
    at = place.x.position(np.array(ends))
    x = np.concatenate((
        ends[:1], place.x.values(np.linspace(at[0], at[1], _FIRST)[1:-1]), ends[1:]
    ))  # fmt: skip
    if seeds is not None:
        some = seeds[:: max(len(seeds) // _MOST_SEEDS, 1)]
        x = np.concatenate((x, some[(some > ends[0]) & (some < ends[1])]))
    x = np.unique(x)
    points = _placed(curves, place, x)
    bent = np.ones(len(x) - 1, dtype=bool)
    for _ in range(_ROUNDS):
        here = np.flatnonzero(bent)
        if not len(here) or len(x) > _MOST:
            break
        along = place.x.position(x)
        fresh = place.x.values(along[here] + _BETWEEN * (along[here + 1] - along[here]))
        middles = _placed(curves, place, fresh)
        off = _off(points[:, here], points[:, here + 1], middles) > within_mm
        off &= (fresh > x[here]) & (fresh < x[here + 1])
        kept = here[off]
        x = np.insert(x, kept + 1, fresh[off])
        points = np.insert(points, kept + 1, middles[:, off], axis=1)
        # both halves of what was bent are looked at again
        bent = np.zeros(len(x) - 1, dtype=bool)
        first = kept + np.arange(len(kept))
        bent[first] = bent[first + 1] = True
    found: Floats = x[_needed(points, within_mm / 4)]
    return found


def _placed(curves: Curves, place: PanelPlace, x: Floats) -> Floats:
    """The curves in mm, (m, n, 2), what is out of sight just outside."""
    inner = place.inner.grown(_BEYOND_MM)
    with np.errstate(all="ignore"):
        found = np.stack([place.place(x, y) for y in curves(x)])
    held: Floats = np.clip(found, (inner.left, inner.top), (inner.right, inner.bottom))
    return held


def _off(begin: Floats, end: Floats, middle: Floats) -> Floats:
    """How far points are from the straight lines between two others, in mm, the most of all curves;
    without end where only some of the three are there at all."""
    chord, to_middle = end - begin, middle - begin
    length = np.hypot(chord[..., 0], chord[..., 1])
    across = np.abs(chord[..., 0] * to_middle[..., 1] - chord[..., 1] * to_middle[..., 0])
    with np.errstate(invalid="ignore", divide="ignore"):
        away = np.where(length > 0, across / length, np.hypot(to_middle[..., 0], to_middle[..., 1]))
    there = np.isfinite(begin).all(-1), np.isfinite(end).all(-1), np.isfinite(middle).all(-1)
    some, every = there[0] | there[1] | there[2], there[0] & there[1] & there[2]
    away = np.where(every, away, np.where(some, np.inf, 0.0))
    most: Floats = away.max(axis=0)
    return most


def _needed(points: Floats, within_mm: float) -> NDArray[np.intp]:
    """Which places (n,) are needed: every other one is left out where the line stays as it is."""
    kept = np.arange(points.shape[1])
    for _ in range(_ROUNDS):
        if len(kept) < 5:
            break
        odd = kept[1:-1:2]
        before, after = kept[: len(odd) * 2 : 2], kept[2 : len(odd) * 2 + 1 : 2]
        spared = _off(points[:, before], points[:, after], points[:, odd]) <= within_mm
        if not spared.any():
            break
        stays = np.ones(len(kept), dtype=bool)
        stays[1:-1:2] = ~spared
        kept = kept[stays]
    return kept
