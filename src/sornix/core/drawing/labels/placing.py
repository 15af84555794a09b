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


def free_place(
    area: Rect, width: float, height: float, obstacles: Floats, near: tuple[float, float]
) -> tuple[Rect, bool]:
    """The rectangle of that size inside `area` that covers fewest of `obstacles` (n, 2).

    Among equals, one with air about it, and then the one whose centre is nearest to `near`. With
    it comes whether it is free: inside `area` and covering none.
    """
    points = obstacles[np.isfinite(obstacles).all(axis=1)]
    points = points[:: max(len(points) // _MOST_OBSTACLES, 1)]
    lefts = np.linspace(area.left, max(area.right - width, area.left), _COLUMNS)
    tops = np.linspace(area.top, max(area.bottom - height, area.top), _ROWS)
    costs = np.zeros((_ROWS, _COLUMNS))
    for air, weight in ((0.4, 1000.0), (1.6, 3.0)):
        along = _within(points[:, 0], lefts - air, lefts + width + air)
        down = _within(points[:, 1], tops - air, tops + height + air)
        # how many obstacles lie within both, for all places at once
        costs += weight * (down @ along.T)
    left, top = (grid.ravel() for grid in np.meshgrid(lefts, tops))
    cost = costs.ravel()
    distance = np.hypot(left + width / 2 - near[0], top + height / 2 - near[1])
    best = int(np.argmin(cost + distance / np.hypot(area.width, area.height)))
    fits = width <= area.width and height <= area.height
    place = Rect(float(left[best]), float(top[best]), width, height)
    return place, fits and bool(cost[best] < 1000.0)


def _within(at: Floats, begins: Floats, ends: Floats) -> NDArray[np.float32]:
    """1 where a place (n,) lies inside a stretch (k,), else 0: (k, n)."""
    inside = (at > begins[:, None]) & (at < ends[:, None])
    return inside.astype(np.float32)
