"""Descents from many starts abreast: as many steps as tell which of them lead down.

The steps are those of `descent`, taken from all starts at once. The damped ones are solved for from
the products JᵀJ of scaled derivatives: they need not be right to the last digits, since the best
are followed from where they came by steps that are.
"""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.patience import go_on

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

# What becomes 0 on a long way down never grows again.
LEAST_DAMPING = 1e-300
_GREATEST_DAMPING = 1e20
# Steps that gain less than this part of what is left, so many in turn, tell no more; nor does one
# of which less is foreseen than is lost in rounding.
_CLOSE, _STILL, UNSEEN = 1e-8, 1, 1e-16
# Beside the best place: little damping, and so large a part of what they have grown by.
_BESIDE = 1e-5, 1e-4


class State(NamedTuple):
    """A descent on its way: parameters, rss, steps so far, whether it came to rest."""

    values: Floats
    rss: float
    steps: int
    rests: bool


def damped_at_once(
    at_all: Callable[[Floats], tuple[Floats, Floats]], limits: tuple[Flags, Floats, Floats],
    y: Floats, starts: Floats, most: int, held: Flags | None = None, beside: float | None = None,
) -> list[State]:  # fmt: skip
    """Where descents from `starts` (k, p) come in so many steps at `most`, of a curve that `at_all`
    gives for many parameters: `limits` are which parameters are straight, and their least and
    greatest values (p,). Those that are `held` (k, p) stay where they begin. Starts `beside` a
    place with that sum of squares are good, and it is asked by how much more of it they end with.
    """
    straight, low, high = limits
    held = np.zeros(starts.shape, bool) if held is None else held
    damping, close = (1e-3, _CLOSE) if beside is None else _BESIDE
    values, rest, rss, known = settled_at_once(at_all, straight, starts, y, held)
    slopes = at_all(values)[1] if known is None else known
    count = len(starts)
    found: list[State] = [State(starts[0], np.inf, 0, False)] * count
    way = _Lanes(np.arange(count), values, rest, rss, slopes, np.zeros(starts.shape), held,
                 np.full(count, damping), np.full(count, 2.0), np.zeros(count, int),
                 np.zeros(count, bool))  # fmt: skip
    for number in range(most):
        go_on()
        ends = way.done | ~(np.isfinite(way.rss) & np.isfinite(way.slopes).all(axis=(1, 2)))
        if ends.any():
            way.put(found, ends, number)
            way = _Lanes._make(one[~ends] for one in way)
            if not len(way.rss):
                break
        size = np.maximum(way.size, np.sqrt((way.slopes * way.slopes).sum(axis=1)))
        scale = np.where(size > 0, size, 1.0)
        step, foreseen = _steps(way, way.slopes / scale[:, None], low, high)
        moved = np.clip(way.values + step / scale, low, high)
        moved, fresh, below, known = settled_at_once(at_all, straight, moved, y, way.held)
        gained = way.rss - below
        better = np.isfinite(gained) & (gained > 0)
        with np.errstate(all="ignore"):
            ratio = np.where(foreseen > 0, np.minimum(gained / foreseen, 1.0), 1.0)
        less = np.maximum(way.damping * np.maximum(1 / 3, 1 - (2 * ratio - 1) ** 3), LEAST_DAMPING)
        damping_now = np.where(better, less, way.damping * way.growth)
        rss = np.where(better, below, way.rss)
        hardly = gained <= close * (rss - (beside or 0.0))
        still = np.where(better, np.where(hardly, way.still + 1, 0), way.still)
        lost = (damping_now > _GREATEST_DAMPING) | (foreseen <= UNSEEN * rss)
        values = np.where(better[:, None], moved, way.values)
        slopes = way.slopes
        if better.any():
            there = at_all(values[better])[1] if known is None else known[better]
            slopes = slopes.copy()
            slopes[better] = there
        way = _Lanes(
            way.number, values, np.where(better[:, None], fresh, way.rest), rss, slopes, size,
            way.held, damping_now, np.where(better, 2.0, way.growth * 2), still,
            np.where(better, (still > _STILL) | (rss == 0), lost),
        )  # fmt: skip
    way.put(found, np.ones(len(way.rss), bool), most)
    return found


class _Lanes(NamedTuple):
    """Descents on their way, k of them: their numbers, parameters (k, p), residuals (k, n), sums of
    squares, derivatives (k, n, p), sizes of variables and which are held (k, p), damping, its
    growth, steps in turn that gained next to nothing, and which have come to rest."""

    number: NDArray[np.intp]
    values: Floats
    rest: Floats
    rss: Floats
    slopes: Floats
    size: Floats
    held: Flags
    damping: Floats
    growth: Floats
    still: NDArray[np.int_]
    done: Flags

    def put(self, found: list[State], ends: Flags, steps: int) -> None:
        """Puts where those have come that end."""
        for i in np.flatnonzero(ends):
            where = self.values[i], float(self.rss[i])
            found[self.number[i]] = State(*where, steps, bool(self.done[i]))


def _steps(way: _Lanes, slopes: Floats, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    """The damped steps (k, p) of scaled variables, and what they are foreseen to gain, (k,). A
    parameter that is held rests, and one at its low or high end whose way down leads out."""
    downhill = (way.rest[:, None] @ slopes)[:, 0]
    rests = (
        way.held | ((way.values <= low) & (downhill < 0)) | ((way.values >= high) & (downhill > 0))
    )
    if rests.any():
        slopes = np.where(rests[:, None], 0.0, slopes)
        downhill = np.where(rests, 0.0, downhill)
    squares = slopes.transpose(0, 2, 1) @ slopes
    every = np.arange(squares.shape[-1])
    # the least that keeps them from being singular to binary64
    squares[:, every, every] += np.maximum(way.damping, 1e-14)[:, None]
    step = np.asarray(np.linalg.solve(squares, downhill[..., None])[..., 0], np.float64)
    return step, (step * (way.damping[:, None] * step + downhill)).sum(axis=1)


def settled_at_once(
    at_all: Callable[[Floats], tuple[Floats, Floats]], straight: Flags, values: Floats, y: Floats,
    held: Flags,
) -> tuple[Floats, Floats, Floats, Floats | None]:  # fmt: skip
    """Parameters (k, p) with the straight ones solved for that are not held, the residuals (k, n)
    then, the sums of their squares (k,), and the derivatives (k, n, p) there where they are known:
    nothing was solved for."""
    fitted, slopes = at_all(values)
    rest, there = y - fitted, None
    if straight.any():
        columns = np.where(held[:, None, straight], 0.0, slopes[..., straight])
        # twice: what the products of the first time lose, the second finds
        added, rest = solved_at_once(columns, rest, 2)
        values = values.copy()
        values[:, straight] += added
    else:
        there = slopes
    return values, rest, (rest * rest).sum(axis=-1), there


def solved_at_once(columns: Floats, rest: Floats, times: int = 1) -> tuple[Floats, Floats]:
    """Straight parameters for many curves at once, from the derivatives (k, n, p) and what is left
    to fit (k, n): (k, p), and what remains (k, n), infinite where there are no numbers. Good enough
    to begin with; solved for so many `times`, each time for what remained."""
    usable = np.asarray(np.isfinite(columns).all(axis=(1, 2)) & np.isfinite(rest).all(axis=1))
    whole = bool(usable.all())
    if not whole:
        columns = np.where(usable[:, None, None], columns, 0.0)
        rest = np.where(usable[:, None], rest, 0.0)
    scale = np.sqrt((columns * columns).sum(axis=1, keepdims=True))
    scale[(scale == 0) | ~np.isfinite(scale)] = 1.0
    unit = columns / scale
    turned = unit.transpose(0, 2, 1)
    squares = turned @ unit
    squares += 1e-12 * np.eye(squares.shape[-1])
    left, added, inverse = rest[..., None], np.zeros(()), np.linalg.inv(squares)
    for _ in range(times):
        solved = inverse @ (turned @ left)
        added, left = added + solved, left - unit @ solved
    remains = left[..., 0] if whole else np.where(usable[:, None], left[..., 0], np.inf)
    return added[..., 0] / scale[:, 0, :], remains
