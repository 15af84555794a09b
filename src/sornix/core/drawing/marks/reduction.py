"""From many readings to what a page can show, losing no extreme."""

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.figure.derived.blocks import Blocks

Floats = NDArray[np.float64]

# 1200 columns to the inch: finer than any printer's line is thin
COLUMN_MM = 25.4 / 1200


class Detail(NamedTuple):
    """How much of many readings is drawn: of lines, columns of `column_mm`; of markers all, or
    while something moves about `most` of each series, each of which stands for several."""

    column_mm: float = COLUMN_MM
    most: int = 0


FULL = Detail()
# below so many readings to a column there is nothing to gain
WORTH_REDUCING = 4


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
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
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
    # a part begins with its first place; a row of NaN is before it, but for the first part
    starts = np.flatnonzero(~joined)
    gap = np.full(2, np.nan)
    rows: Floats = np.insert(end, np.repeat(starts, 2), np.full((2 * len(starts), 2), gap), axis=0)
    rows[starts + 2 * np.arange(len(starts)) + 1] = begin[starts]
    return rows[1:]


def reduced_rising(
    x: Floats, y: Floats, gaps: NDArray[np.intp], edges: Floats, blocks: Blocks | None = None
) -> Floats:
    """A line with rising x as first, lowest, highest and last reading of each column.

    `x` and `y` have shape (n,); the line breaks before the readings at `gaps` (k,), which rise;
    `edges` (columns + 1,) are the values of x that bound the columns; `blocks` are those of y where
    they are known. The result (m, 2) holds values, with NaN where the line breaks between columns;
    the nearest reading outside on either side is kept, so that the line leaves the range. Within a
    band, where columns lie over both of their neighbours, their lowest and highest are enough.
    """
    bounds = np.searchsorted(x, edges)
    bounds[-1] = np.searchsorted(x, edges[-1], "right")
    filled = bounds[1:] > bounds[:-1]
    first, last = bounds[:-1][filled], bounds[1:][filled] - 1
    begin, end = int(bounds[0]), int(bounds[-1])
    outside = [i for i in (begin - 1, end) if 0 <= i < len(x)]
    if not len(first):
        return _with_breaks(x, y, gaps, np.array(outside, dtype=np.intp))
    if blocks is not None and blocks.worth(end - begin, len(first)):
        low, high = blocks.ends(y, first, last)
    else:
        inside = y[begin:end]
        low = np.minimum.reduceat(inside, first - begin)
        high = np.maximum.reduceat(inside, first - begin)
    broken = _before(gaps, first[1:]) > _before(gaps, last[:-1])
    # the extreme nearer to the first reading comes first: the shorter way through the column; in a
    # band by turns, so that the ways between columns run along its edges
    band = _in_band(low, high, broken)
    swap = np.where(band, np.arange(len(first)) % 2 == 0, y[first] - low > high - y[first])
    one, other = np.where(swap, high, low), np.where(swap, low, high)
    middle = (x[first] + x[last]) / 2
    points = np.empty((len(first), 4, 2))
    points[:, 0, 0], points[:, 0, 1] = x[first], y[first]
    points[:, 1, 0], points[:, 1, 1] = middle, one
    points[:, 2, 0], points[:, 2, 1] = middle, other
    points[:, 3, 0], points[:, 3, 1] = x[last], y[last]
    kept = np.ones((len(first), 4), bool)
    kept[:, 0] = kept[:, 3] = ~band
    after = np.cumsum(kept.sum(axis=1))[:-1][broken]
    points = np.insert(points[kept], after, np.nan, axis=0)
    if begin > 0 and _before(gaps, begin) == _before(gaps, begin - 1):
        points = np.vstack(([[x[begin - 1], y[begin - 1]]], points))
    if end < len(x) and _before(gaps, end) == _before(gaps, end - 1):
        points = np.vstack((points, [[x[end], y[end]]]))
    return points


def _in_band(low: Floats, high: Floats, broken: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which columns lie over both of their neighbours, (n,), those at the ends and at breaks never:
    for most of its own height, or of that of the neighbour."""
    height = high - low
    over = np.minimum(high[1:], high[:-1]) - np.maximum(low[1:], low[:-1])
    much = (over > _OVER * np.maximum(height[1:], height[:-1])) & ~broken
    found = np.zeros(len(low), bool)
    found[1:-1] = much[1:] & much[:-1]
    return found


# So much of the height of columns is common to neighbours in a band.
_OVER = 0.5


def _before(gaps: NDArray[np.intp], which: Any) -> Any:
    """How many gaps there are up to readings."""
    return np.searchsorted(gaps, which, side="right")


def _with_breaks(x: Floats, y: Floats, gaps: NDArray[np.intp], which: NDArray[np.intp]) -> Floats:
    """The readings at some places (k,) as a line, broken where readings are missing between."""
    points = np.column_stack((x[which], y[which]))
    broken = np.flatnonzero(np.diff(_before(gaps, which)) > 0) + 1
    return np.insert(points, broken, np.nan, axis=0)


def visible_markers(points: Floats, apart_mm: float = 0.05, many: int = 20_000) -> NDArray[np.intp]:
    """Indices of the markers (n, 2) to draw: one of those that cover each other to the eye."""
    if len(points) <= many:
        return np.arange(len(points))
    cells = np.floor(points / apart_mm).astype(np.int64)
    cells -= cells.min(axis=0)
    keys = cells[:, 0] * (int(cells[:, 1].max()) + 1) + cells[:, 1]
    return np.sort(np.unique(keys, return_index=True)[1])
