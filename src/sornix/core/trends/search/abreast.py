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


class State(NamedTuple):
    """A descent on its way: parameters, rss, steps so far, whether it came to rest."""

    values: Floats
    rss: float
    steps: int
    rests: bool


def damped_at_once(
    at_all: Callable[[Floats], tuple[Floats, Floats]], limits: tuple[Flags, Floats, Floats],
    y: Floats, starts: Floats, most: int, held: Flags | None = None,
) -> list[State]:  # fmt: skip
    """Where descents from `starts` (k, p) come in so many steps at `most`, of a curve that `at_all`
    gives for many parameters: `limits` are which parameters are straight, and their least and
    greatest values (p,). Those that are `held` (k, p) stay where they begin."""
    straight, low, high = limits
    held = np.zeros(starts.shape, bool) if held is None else held
    values, rest, rss = settled_at_once(at_all, straight, starts, y, held)
    slopes = at_all(values)[1]
    count, size = len(starts), np.zeros_like(starts)
    damping, growth = np.full(count, 1e-3), np.full(count, 2.0)
    still, steps, done = np.zeros(count, int), np.zeros(count, int), np.zeros(count, bool)
    for _ in range(most):
        go_on()
        usable = np.isfinite(rss) & np.isfinite(slopes).all(axis=(1, 2))
        on = np.flatnonzero(usable & ~done)
        if not len(on):
            break
        size[on] = np.maximum(size[on], np.sqrt((slopes[on] ** 2).sum(axis=1)))
        scale = np.where(size[on] > 0, size[on], 1.0)
        bounds = values[on] <= low, values[on] >= high
        step, foreseen = _steps(
            slopes[on] / scale[:, None], rest[on], damping[on], held[on], bounds
        )
        moved = np.clip(values[on] + step / scale, low, high)
        moved, fresh, below = settled_at_once(at_all, straight, moved, y, held[on])
        gained = rss[on] - below
        steps[on] += 1
        better = np.isfinite(gained) & (gained > 0)
        won, lost = on[better], on[~better]
        with np.errstate(all="ignore"):
            ratio = np.where(foreseen > 0, np.minimum(gained / foreseen, 1.0), 1.0)[better]
        damping[won] = np.maximum(
            damping[won] * np.maximum(1 / 3, 1 - (2 * ratio - 1) ** 3), LEAST_DAMPING
        )
        still[won] = np.where(gained[better] <= _CLOSE * rss[won], still[won] + 1, 0)
        values[won], rest[won], rss[won], growth[won] = (
            moved[better], fresh[better], below[better], 2.0,
        )  # fmt: skip
        done[won] = (still[won] > _STILL) | (rss[won] == 0)
        damping[lost] *= growth[lost]
        growth[lost] *= 2
        done[lost] = (damping[lost] > _GREATEST_DAMPING) | (foreseen[~better] <= UNSEEN * rss[lost])
        if len(won):
            slopes[won] = at_all(values[won])[1]
    return [
        State(values[i], float(rss[i]), int(steps[i]), bool(done[i])) for i in range(len(starts))
    ]


def _steps(
    slopes: Floats, rest: Floats, damping: Floats, held: Flags, bounds: tuple[Flags, Flags]
) -> tuple[Floats, Floats]:
    """The damped steps (k, p) of scaled variables, and what they are foreseen to gain, (k,). A
    parameter that is held rests, and one at its low or high end whose way down leads out."""
    downhill = (slopes * rest[..., None]).sum(axis=1)
    rests = held | (bounds[0] & (downhill < 0)) | (bounds[1] & (downhill > 0))
    slopes = np.where(rests[:, None], 0.0, slopes)
    downhill = np.where(rests, 0.0, downhill)
    squares = slopes.transpose(0, 2, 1) @ slopes
    every = np.arange(squares.shape[-1])
    # the least that keeps them from being singular to binary64
    squares[:, every, every] += np.maximum(damping, 1e-14)[:, None]
    step = np.asarray(np.linalg.solve(squares, downhill[..., None])[..., 0], np.float64)
    return step, (step * (damping[:, None] * step + downhill)).sum(axis=1)


def settled_at_once(
    at_all: Callable[[Floats], tuple[Floats, Floats]], straight: Flags, values: Floats, y: Floats,
    held: Flags,
) -> tuple[Floats, Floats, Floats]:  # fmt: skip
    """Parameters (k, p) with the straight ones solved for that are not held, the residuals (k, n)
    then, and the sums of their squares (k,)."""
    fitted, slopes = at_all(values)
    rest = y - fitted
    if straight.any():
        columns = np.where(held[:, None, straight], 0.0, slopes[..., straight])
        # twice: what the products of the first time lose, the second finds
        added, rest = solved_at_once(columns, rest, 2)
        values = values.copy()
        values[:, straight] += added
    return values, rest, (rest**2).sum(axis=-1)


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
    left, added = rest[..., None], np.zeros(())
    for _ in range(times):
        solved = np.linalg.solve(squares, turned @ left)
        added, left = added + solved, left - unit @ solved
    remains = left[..., 0] if whole else np.where(usable[:, None], left[..., 0], np.inf)
    return added[..., 0] / scale[:, 0, :], remains
