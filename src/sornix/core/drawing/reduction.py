"""From many readings to what a page can show, losing no extreme."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# 1200 columns to the inch: finer than any printer's line is thin
COLUMN_MM = 25.4 / 1200
_WORTH_IT = 4


def clipped(points: Floats, low: tuple[float, float], high: tuple[float, float]) -> Floats:
    """The parts of a broken line (n, 2) inside the rectangle from `low` to `high`.

    Each segment is cut by itself (Y.-D. Liang and B. A. Barsky, ACM Transactions on Graphics 3
    (1984) 1–22); parts that do not touch are divided by rows of NaN.
    """
    inside: NDArray[np.bool_] = np.all((points >= low) & (points <= high), axis=1) | np.isnan(
        points
    ).any(axis=1)
    if inside.all() or len(points) < 2:
        kept_points: Floats = points[inside]
        return kept_points
    a, b = points[:-1], points[1:]
    step = b - a
    enter, leave = np.zeros(len(a)), np.ones(len(a))
    with np.errstate(divide="ignore", invalid="ignore"):
        for axis in (0, 1):
            first = (low[axis] - a[:, axis]) / step[:, axis]
            second = (high[axis] - a[:, axis]) / step[:, axis]
            level = step[:, axis] == 0
            outside = level & ((a[:, axis] < low[axis]) | (a[:, axis] > high[axis]))
            enter = np.fmax(enter, np.where(level, -np.inf, np.fmin(first, second)))
            leave = np.fmin(leave, np.where(level, np.inf, np.fmax(first, second)))
            leave = np.where(outside, -1.0, leave)
    kept = np.flatnonzero((enter <= leave) & np.isfinite(step).all(axis=1))
    if not len(kept):
        return np.zeros((0, 2))
    begin = a[kept] + enter[kept, None] * step[kept]
    end = a[kept] + leave[kept, None] * step[kept]
    joined = np.zeros(len(kept), dtype=bool)
    joined[1:] = (np.diff(kept) == 1) & (leave[kept][:-1] == 1) & (enter[kept][1:] == 0)
    rows: list[Floats] = []
    starts = np.flatnonzero(~joined)
    for first_part, last_part in zip(starts, [*starts[1:], len(kept)], strict=True):
        rows += [begin[first_part : first_part + 1], end[first_part:last_part]]
        rows.append(np.full((1, 2), np.nan))
    return np.concatenate(rows[:-1])


def reduced_line(points: Floats) -> Floats:
    """A broken line (n, 2) with rising x as first, lowest, highest and last point of each column.

    Lines whose x does not rise, and short ones, are given back as they are.
    """
    x = points[:, 0]
    known = x[np.isfinite(x)]
    if len(known) < 2 or not np.all(np.diff(known) >= 0):
        return points
    columns = (known[-1] - known[0]) / COLUMN_MM
    if len(points) <= _WORTH_IT * max(columns, 1):
        return points
    # a break belongs to the column of the reading before it, and keeps its place there
    filled = np.interp(np.arange(len(x)), np.flatnonzero(np.isfinite(x)), known)
    column = np.floor((filled - known[0]) / COLUMN_MM)
    # a break also ends a column, so that nothing is joined across it
    broken = np.isnan(points[:, 0]) | np.isnan(points[:, 1])
    fresh = np.ones(len(points), dtype=bool)
    fresh[1:] = (np.diff(column) > 0) | broken[1:] | broken[:-1]
    starts = np.flatnonzero(fresh)
    lasts = np.append(starts[1:], len(points)) - 1
    y = points[:, 1]
    order = np.arange(len(points))
    low = np.fmin.reduceat(y, starts)
    high = np.fmax.reduceat(y, starts)
    group = np.repeat(np.arange(len(starts)), lasts - starts + 1)
    keep = np.zeros(len(points), dtype=bool)
    keep[starts] = keep[lasts] = True
    for extreme in (low, high):
        hits = order[y == extreme[group]]
        keep[hits[np.unique(group[hits], return_index=True)[1]]] = True
    return points[keep | broken]


def visible_markers(points: Floats, apart_mm: float = 0.05, many: int = 20_000) -> NDArray[np.intp]:
    """Indices of the markers (n, 2) to draw: one of those that cover each other to the eye."""
    if len(points) <= many:
        return np.arange(len(points))
    cells = np.floor(points / apart_mm).astype(np.int64)
    cells -= cells.min(axis=0)
    keys = cells[:, 0] * (int(cells[:, 1].max()) + 1) + cells[:, 1]
    return np.sort(np.unique(keys, return_index=True)[1])
