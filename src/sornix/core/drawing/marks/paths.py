"""Lines through points in mm: straight, smooth, in steps; and the area under them."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Points of a smooth curve are no farther apart than this, in mm.
_FINE_MM = 0.4
_MOST_BETWEEN = 40
# Of more readings than this a curve through each would only be slower.
_MOST_SMOOTH = 4000
# Points nearer to each other along the curve than this, in mm, have no slope between them.
_APART_MM = 1e-6


def stepped(points: Floats) -> Floats:
    """A line (n, 2), broken at NaN, that keeps its height until the next point."""
    if len(points) < 2:
        return points
    corners = np.column_stack((points[1:, 0], points[:-1, 1]))
    out = np.empty((2 * len(points) - 1, 2))
    out[::2], out[1::2] = points, corners
    broken = np.isnan(points[:, 0]) | np.isnan(points[:, 1])
    # next to a gap there is no corner
    out[1::2][broken[1:] | broken[:-1]] = np.nan
    return out


def smooth(points: Floats) -> Floats:
    """A smooth curve through points (n, 2), broken at NaN: monotone wherever they are.

    Cubic pieces with the slopes of M. Steffen, "A simple method for monotonic interpolation in one
    dimension", Astronomy and Astrophysics 239 (1990) 443–450, which never pass the points at their
    ends. Along the page where x rises, else down it where y does (a profile); a line that turns
    back both ways stays straight.
    """
    broken = np.isnan(points).any(axis=1)
    parts = [part[np.isfinite(part).all(axis=1)]
             for part in np.split(points, np.flatnonzero(broken))]  # fmt: skip
    curved = [_curve(part) for part in parts if len(part)]
    gap = np.full((1, 2), np.nan)
    rows = [row for part in curved for row in (part, gap)]
    return np.concatenate(rows[:-1]) if rows else points[:0]


def _curve(points: Floats) -> Floats:
    if len(points) < 3:
        return points
    for axis in (0, 1):
        steps = np.diff(points[:, axis])
        if (steps > _APART_MM).all() or (steps < -_APART_MM).all():
            along = points if steps[0] > 0 else points[::-1]
            t, v = _steffen(along[:, axis], along[:, 1 - axis])
            made = np.column_stack((t, v) if axis == 0 else (v, t))
            return made if steps[0] > 0 else made[::-1]
    return points


def _steffen(t: Floats, v: Floats) -> tuple[Floats, Floats]:
    """The curve through (t, v), t rising, at enough places to look smooth."""
    h, rise = np.diff(t), np.diff(v)
    s = rise / h
    slopes = np.empty(len(t))
    p = (s[:-1] * h[1:] + s[1:] * h[:-1]) / (h[:-1] + h[1:])
    least = np.minimum(np.minimum(np.abs(s[:-1]), np.abs(s[1:])), 0.5 * np.abs(p))
    slopes[1:-1] = (np.sign(s[:-1]) + np.sign(s[1:])) * least
    slopes[0] = _end_slope(s[0], s[1], h[0], h[1])
    slopes[-1] = _end_slope(s[-1], s[-2], h[-1], h[-2])
    counts = np.clip(np.ceil(np.hypot(h, rise) / _FINE_MM), 1, _MOST_BETWEEN).astype(int)
    piece = np.repeat(np.arange(len(h)), counts)
    starts = np.repeat(np.cumsum(counts) - counts, counts)
    u = (np.arange(len(piece)) - starts) / counts[piece] * h[piece]
    a = (slopes[:-1] + slopes[1:] - 2 * s) / h**2
    b = (3 * s - 2 * slopes[:-1] - slopes[1:]) / h
    value = ((a[piece] * u + b[piece]) * u + slopes[:-1][piece]) * u + v[:-1][piece]
    return np.append(t[:-1][piece] + u, t[-1]), np.append(value, v[-1])


def _end_slope(s0: float, s1: float, h0: float, h1: float) -> float:
    """The slope at an end: that of the parabola, where it neither turns nor overshoots."""
    slope = s0 * (1 + h0 / (h0 + h1)) - s1 * h0 / (h0 + h1)
    if slope * s0 <= 0:
        return 0.0
    return float(2 * s0 if abs(slope) > 2 * abs(s0) else slope)


def areas(line: Floats, base: float) -> list[Floats]:
    """The polygons (n, 2) between a line, broken at NaN, and a level."""
    broken = np.isnan(line).any(axis=1)
    found = []
    for part in np.split(line, np.flatnonzero(broken)):
        known = part[np.isfinite(part).all(axis=1)]
        if len(known) > 1:
            ends = np.array([[known[-1, 0], base], [known[0, 0], base]])
            found.append(np.concatenate((known, ends)))
    return found


def _few_smooth(points: Floats) -> Floats:
    return smooth(points) if len(points) <= _MOST_SMOOTH else points


# How points (n, 2) in mm, broken at NaN, become the line of a mark, by the name of its path.
JOINED: dict[str, Callable[[Floats], Floats]] = {
    "straight": lambda points: points,
    "smooth": _few_smooth,
    "steps": stepped,
}
