"""Dashes as geometry, so that every medium shows the same ones."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# More dashes than this are a mass of ink in which none can be seen.
_MOST_DASHES = 20_000


def dashed(points: Floats, dashes: tuple[float, ...]) -> Floats:
    """The inked parts of a broken line (n, 2), divided by rows of NaN.

    `dashes` are lengths of ink and gap in turn, in the units of `points`. Each unbroken stretch
    of the line begins with ink.
    """
    if not dashes or len(points) < 2:
        return points
    pattern = np.array(dashes if len(dashes) % 2 == 0 else dashes * 2)
    broken = np.isnan(points).any(axis=1)
    pieces: list[Floats] = []
    for part in np.split(points, np.flatnonzero(broken)):
        known = part[np.isfinite(part).all(axis=1)]
        if len(known) > 1:
            pieces.append(_dashes_of(known, pattern))
    # without the row that divides the last one from nothing
    return np.concatenate(pieces)[:-1] if pieces else points[:0]


def _dashes_of(line: Floats, pattern: Floats) -> Floats:
    """The dashes of one unbroken line (n, 2), a row of NaN behind each."""
    along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))))
    length, period = float(along[-1]), float(pattern.sum())
    if length / period * len(pattern) / 2 > _MOST_DASHES:
        return np.vstack((line, [np.nan, np.nan]))
    starts = np.concatenate(([0.0], np.cumsum(pattern)))[:-1:2]
    begins = (np.arange(int(length / period) + 1)[:, None] * period + starts).ravel()
    ends = np.minimum(begins + np.tile(pattern[::2], int(length / period) + 1), length)
    known = begins < ends
    begins, ends = begins[known], ends[known]
    firsts, lasts = (
        np.column_stack((np.interp(at, along, line[:, 0]), np.interp(at, along, line[:, 1])))
        for at in (begins, ends)
    )
    after, before = np.searchsorted(along, begins, "right"), np.searchsorted(along, ends, "left")
    # each dash is its first place, the corners of the line within it, its last place, and the gap
    corners = np.maximum(before - after, 0)
    places = np.concatenate(([0], np.cumsum(corners + 3)))[:-1]
    found = np.full((int(corners.sum()) + 3 * len(corners), 2), np.nan)
    found[places], found[places + 1 + corners] = firsts, lasts
    within = np.arange(int(corners.sum())) - np.repeat(np.cumsum(corners) - corners, corners)
    found[np.repeat(places + 1, corners) + within] = line[np.repeat(after, corners) + within]
    return found
