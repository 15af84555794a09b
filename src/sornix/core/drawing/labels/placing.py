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


def thinned(points: Floats) -> Floats:
    """Those of some points (n, 2) that are somewhere, every so many of very many."""
    known = finite(points)
    return known[:: max(len(known) // _MOST_OBSTACLES, 1)]


def free_place(
    area: Rect, width: float, height: float, obstacles: Floats, near: tuple[float, float]
) -> tuple[Rect, bool]:
    """The rectangle of that size inside `area` that covers fewest of `obstacles` (n, 2).

    Among equals, one with air about it, and then the one whose centre is nearest to `near`. With
    it comes whether it is free: inside `area` and covering none.
    """
    points = thinned(obstacles)
    lefts = np.linspace(area.left, max(area.right - width, area.left), _COLUMNS)
    tops = np.linspace(area.top, max(area.bottom - height, area.top), _ROWS)
    costs = np.zeros((_ROWS, _COLUMNS))
    for air, weight in ((0.4, 1000.0), (1.6, 3.0)):
        across = _within(points[:, 0], lefts, width + air, air)
        costs += weight * _covered(across, _within(points[:, 1], tops, height + air, air))
    left, top = (grid.ravel() for grid in np.meshgrid(lefts, tops))
    cost = costs.ravel()
    distance = np.hypot(left + width / 2 - near[0], top + height / 2 - near[1])
    best = int(np.argmin(cost + distance / np.hypot(area.width, area.height)))
    fits = width <= area.width and height <= area.height
    place = Rect(float(left[best]), float(top[best]), width, height)
    return place, fits and bool(cost[best] < 1000.0)


_Ranks = NDArray[np.intp]


def _within(at: Floats, begins: Floats, before: float, after: float) -> tuple[_Ranks, _Ranks]:
    """Of places (n,), the first and the one behind the last of `begins` (k,), evenly spaced, from
    which each is less than `before` onwards, and less than `after` back."""
    step = (begins[-1] - begins[0]) / (len(begins) - 1)
    if step <= 0:
        inside = (at - before < begins[0]) & (at + after > begins[0])
        return np.zeros(len(at), np.intp), np.where(inside, len(begins), 0)
    steps = (at - begins[0]) / step
    first = np.clip(np.floor(steps - before / step) + 1, 0, len(begins))
    behind = np.clip(np.ceil(steps + after / step), 0, len(begins))
    return first.astype(np.intp), behind.astype(np.intp)


def _covered(across: tuple[_Ranks, _Ranks], down: tuple[_Ranks, _Ranks]) -> _Ranks:
    """How many points lie within each of a grid's rectangles, (rows, columns), from which of these
    each is in: it is added where they begin, taken off where they end, and all is summed up."""
    (left, right), (top, bottom) = across, down
    wide, size = _COLUMNS + 1, (_ROWS + 1) * (_COLUMNS + 1)
    sums = np.zeros(size, np.intp)
    for row, column, sign in (
        (top, left, 1), (bottom, right, 1), (top, right, -1), (bottom, left, -1),
    ):  # fmt: skip
        sums += sign * np.bincount(row * wide + column, minlength=size)
    found: _Ranks = sums.reshape(_ROWS + 1, wide).cumsum(axis=0).cumsum(axis=1)
    return found[:-1, :-1]
