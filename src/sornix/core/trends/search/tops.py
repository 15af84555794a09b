"""Where to look for several peaks: the sets of tops that leave the least, found one after the
other, the best few of each step gone on with.

What a further peak takes off the sum of squares follows in closed form for each place and width,
the baseline and the peaks before being solved for with it (orthogonal projection). Each set goes
down a few steps before the next peak is looked for (D. W. Marquardt, Journal of the Society for
Industrial and Applied Mathematics 11 (1963) 431–441): what a large peak leaves beside the grid
would hide a small one. At the end each peak of a set is taken out and looked for again.
"""

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from sornix.core.patience import go_on
from sornix.core.trends.fits.sample import Floats, Sample

_MIDDLES, _WIDTHS = 101, np.geomspace(0.008, 0.5, 12)
# So many sets go on to the next peak, each with so many further peaks, and are starts at the end.
_KEPT, _EACH, _STARTS = 6, 4, 12
_STEPS, _LAST_STEPS = 6, 14
# Peaks are taken out again where that took so much off what was left, and so many times at most.
_BETTER, _ROUNDS = 0.98, 3
# Sets are alike where what they leave differs by no more than this part of it.
_ALIKE = 0.02
# Readings beyond these tell no more of where tops are.
_MOST_READINGS = 400


# Numbers beyond this have no span and no sum.
_LARGE = 1e290


class _Set(NamedTuple):
    """Peaks, their middles and widths (k, 2), what they leave of the readings (n,), and the sum of
    its squares."""

    rest: float
    peaks: Floats
    left: Floats


class _Seen(NamedTuple):
    """Readings along 0 to 1, and bells (g, n) at the places of a grid (g, 2)."""

    u: Floats
    y: Floats
    grid: Floats
    bells: Floats
    squares: Floats


def tops(sample: Sample, count: int) -> Floats:
    """Middles and widths of so many peaks, one row (2 count,) for each set: middle, width, middle,
    width …"""
    step = max(len(sample.x) // _MOST_READINGS, 1)
    low, reach = float(sample.x.min()), float(np.ptp(sample.x)) or 1.0
    u, y = (sample.x[::step] - low) / reach, sample.y[::step]
    if float(np.abs(y).max()) > _LARGE:
        y = y / _LARGE
    size = float(np.ptp(y)) or 1.0
    seen = _seen(u, (y - float(y.mean())) / size)
    sets = [_Set(float(seen.y @ seen.y), np.zeros((0, 2)), seen.y)]
    for number in range(count):
        tried: list[_Set] = []
        for one in sets:
            go_on()
            more = _further(seen, one.peaks, _EACH if number else 3 * _EACH)
            begun = [*(np.vstack([one.peaks, place]) for place in more), *_divided(one.peaks)]
            tried += [_down(seen, peaks, _STEPS) for peaks in begun]
        sets = _apart(tried, _STARTS if number == count - 1 else _KEPT)
    gone_through: list[_Set] = []
    for _ in range(_ROUNDS):
        least = sets[0].rest
        fresh = [one for one in sets[:_KEPT] if not any(one is other for other in gone_through)]
        gone_through += fresh
        sets = _apart(
            [*sets, *(other for one in fresh for other in _exchanged(seen, one))], _STARTS
        )
        # a set that is better by far may be bettered once more
        if sets[0].rest > _BETTER * least:
            break
    return np.array([(one.peaks * reach + [low, 0.0]).ravel() for one in sets])


def _exchanged(seen: _Seen, one: _Set) -> Iterator[_Set]:
    """Sets in which one of the peaks, each in turn, was taken out and looked for again."""
    for at in range(len(one.peaks)):
        go_on()
        others = np.delete(one.peaks, at, axis=0)
        more = _further(seen, others, 2)
        for peaks in (*(np.vstack([others, place]) for place in more), *_divided(others)):
            yield _down(seen, peaks, _LAST_STEPS)


def _seen(u: Floats, y: Floats) -> _Seen:
    places = [(m, s) for m in np.linspace(-0.02, 1.02, _MIDDLES) for s in _WIDTHS]
    # readings themselves are where a narrow one may stand
    highest = u[np.argsort(-np.abs(y - np.median(y)))[:12]]
    places += [(float(m), float(s)) for m in highest for s in _WIDTHS[:6]]
    grid = np.array(places)
    bells = _bells(u, grid)
    return _Seen(u, y, grid, bells, np.einsum("ij,ij->i", bells, bells))


def _bells(u: Floats, peaks: Floats) -> Floats:
    """A bell of height 1 for each peak, (k, n)."""
    found: Floats = np.exp(-0.5 * ((u[None, :] - peaks[:, :1]) / peaks[:, 1:]) ** 2)
    return found


def _further(seen: _Seen, peaks: Floats, most: int) -> list[Floats]:
    """The places of the grid where a further peak takes most off what is left beside a baseline and
    these peaks, none next to another."""
    design = np.vstack([np.ones((1, len(seen.u))), _bells(seen.u, peaks)]).T
    basis, _ = np.linalg.qr(design)
    left = seen.y - basis @ (basis.T @ seen.y)
    # what of each bell is not told by those before, by the theorem of Pythagoras
    size = seen.squares - np.square(seen.bells @ basis).sum(axis=1)
    usable = size > 1e-6 * seen.squares
    gain = np.where(usable, (seen.bells @ left) ** 2 / np.where(usable, size, 1.0), 0.0)
    found: list[int] = []
    for index in np.argsort(-gain, kind="stable")[:300].tolist():
        bell = seen.bells[index]
        if all(
            (bell @ seen.bells[b]) ** 2 < 0.85 * seen.squares[index] * seen.squares[b]
            for b in found
        ):
            found.append(index)
        if len(found) == most:
            break
    return [seen.grid[index] for index in found]


def _divided(peaks: Floats) -> list[Floats]:
    """The peaks with one of them in two: one that was put between two stands in the way of both."""
    found = []
    for at, (middle, width) in enumerate(peaks.tolist()):
        two = [(middle - width, 0.6 * width), (middle + width, 0.6 * width)]
        found.append(np.vstack([np.delete(peaks, at, axis=0), two]))
    return found


def _down(seen: _Seen, peaks: Floats, steps: int) -> _Set:
    """The peaks after some steps down; baseline and heights are solved for at each."""
    u, y = seen.u, seen.y
    damping, best = 1e-2, _solved(u, y, peaks)
    for _ in range(steps):
        rest, heights, bells, left = best
        away = (u[None, :] - peaks[:, :1]) / peaks[:, 1:]
        by_middle = heights[1:, None] * bells * away / peaks[:, 1:]
        jacobian = np.vstack([np.ones((1, len(u))), bells, by_middle, by_middle * away])
        normal, slope = jacobian @ jacobian.T, jacobian @ left
        k = len(peaks)
        for _ in range(6):
            damped = normal + damping * np.diag(np.diag(normal) + 1e-12)
            try:
                move = np.linalg.solve(damped, slope)[k + 1 :].reshape(2, k).T
            except np.linalg.LinAlgError:
                return _Set(rest, peaks, left)
            there = peaks + np.clip(move, -0.1, 0.1)
            there[:, 1] = np.clip(np.abs(there[:, 1]), 1e-3, 3.0)
            other = _solved(u, y, there)
            if other[0] < rest:
                peaks, best, damping = there, other, max(damping / 5, 1e-9)
                break
            damping *= 6
        else:
            break
        if rest - best[0] < 1e-9 * rest:
            break
    return _Set(best[0], peaks, best[3])


def _solved(u: Floats, y: Floats, peaks: Floats) -> tuple[float, Floats, Floats, Floats]:
    """The sum of squares, baseline and heights, bells and residuals at some peaks."""
    bells = _bells(u, peaks)
    design = np.vstack([np.ones((1, len(u))), bells])
    try:
        heights: Floats = np.asarray(np.linalg.lstsq(design.T, y, rcond=1e-10)[0], np.float64)
    except np.linalg.LinAlgError:
        return math.inf, np.zeros(len(design)), bells, y
    left: Floats = y - heights @ design
    return float(left @ left), heights, bells, left


def _apart(sets: list[_Set], most: int) -> list[_Set]:
    """The sets that leave the least, of those that leave nearly the same only one: a wide peak may
    stand for the baseline in many ways."""
    found: list[_Set] = []
    for one in sorted(sets, key=lambda s: s.rest):
        away = (one.left - other.left for other in found)
        if all(part @ part > _ALIKE * one.rest for part in away):
            found.append(one)
        if len(found) == most:
            break
    return found
