"""Finding a place for a label where it hides nothing."""

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.parts.items import Rect

Floats = NDArray[np.float64]

_MOST_OBSTACLES = 6000
_COLUMNS, _ROWS = 28, 20


def densified(points: Floats, apart_mm: float) -> Floats:
    """Points along a broken line (n, 2), at most about `apart_mm` from each other."""
    if len(points) < 2:
        return points
    lengths = np.hypot(*np.diff(points, axis=0).T)
    counts = np.where(np.isfinite(lengths), np.ceil(lengths / apart_mm), 0).astype(int)
    if counts.sum() > 20 * _MOST_OBSTACLES:
        return points
    if not counts.any():
        return points
    # of each stretch its beginning and what lies between: all stretches at once
    stretch = np.repeat(np.arange(len(counts)), counts)
    first = np.cumsum(counts) - counts
    part = (np.arange(len(stretch)) - first[stretch]) / counts[stretch]
    steps = points[stretch + 1] - points[stretch]
    return np.concatenate([points[stretch] + part[:, None] * steps, points[-1:]])


def finite(points: Floats) -> Floats:
    """Those of some points (n, 2) that are somewhere."""
    # a sum tells most of the time, and takes no memory
    if np.isfinite(points.sum()):
        return points
    found: Floats = points[np.isfinite(points[:, 0]) & np.isfinite(points[:, 1])]
    return found


def free_place(
    area: Rect, width: float, height: float, obstacles: Floats, near: tuple[float, float]
) -> tuple[Rect, bool]:
    """The rectangle of that size inside `area` that covers fewest of `obstacles` (n, 2).

    Among equals, one with air about it, and then the one whose centre is nearest to `near`. With
    it comes whether it is free: inside `area` and covering none.
    """
    points = finite(obstacles)
    points = points[:: max(len(points) // _MOST_OBSTACLES, 1)]
    lefts = np.linspace(area.left, max(area.right - width, area.left), _COLUMNS)
    tops = np.linspace(area.top, max(area.bottom - height, area.top), _ROWS)
    costs = np.zeros((_ROWS, _COLUMNS))
    for air, weight in ((0.4, 1000.0), (1.6, 3.0)):
        costs += weight * _covered(
            points, (lefts - air, lefts + width + air), (tops - air, tops + height + air)
        )
    left, top = (grid.ravel() for grid in np.meshgrid(lefts, tops))
    cost = costs.ravel()
    distance = np.hypot(left + width / 2 - near[0], top + height / 2 - near[1])
    best = int(np.argmin(cost + distance / np.hypot(area.width, area.height)))
    fits = width <= area.width and height <= area.height
    place = Rect(float(left[best]), float(top[best]), width, height)
    return place, fits and bool(cost[best] < 1000.0)


def _covered(
    points: Floats, across: tuple[Floats, Floats], down: tuple[Floats, Floats]
) -> NDArray[np.intp]:
    """How many points (n, 2) lie within both a stretch across (begins and ends (k,)) and one down
    (m,), for all pairs, (m, k): points are sorted once into what the ends of all stretches cut out,
    and added up."""
    x, begin_x, end_x = _ranks(points[:, 0], *across)
    y, begin_y, end_y = _ranks(points[:, 1], *down)
    wide, high = 4 * len(across[0]) + 2, 4 * len(down[0]) + 2
    sums = np.bincount(y * wide + x, minlength=wide * high).reshape(high, wide)
    sums = sums.cumsum(axis=0).cumsum(axis=1)
    # of what lies between two ranks, the sums up to the one less those up to the other
    found: NDArray[np.intp] = (
        sums[np.ix_(end_y, end_x)] - sums[np.ix_(begin_y, end_x)]
        - sums[np.ix_(end_y, begin_x)] + sums[np.ix_(begin_y, begin_x)]
    )  # fmt: skip
    return found


def _ranks(
    at: Floats, begins: Floats, ends: Floats
) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.intp]]:
    """Where places (n,) stand among begins and ends (k,): twice the number of those below, and one
    more upon one; and the ranks up to which a place is not beyond a begin, and before an end."""
    cuts = np.sort(np.concatenate((begins, ends)))
    rank = np.searchsorted(cuts, at, "left") + np.searchsorted(cuts, at, "right")
    upon = np.searchsorted(cuts, begins, "left") + np.searchsorted(cuts, begins, "right")
    before = 2 * np.searchsorted(cuts, ends, "left")
    return rank, upon, before
