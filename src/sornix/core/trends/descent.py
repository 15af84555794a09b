"""Nonlinear least squares: damped steps, then Gauss–Newton until nothing is left to gain.

The damped steps are those of K. Levenberg (Quarterly of Applied Mathematics 2 (1944) 164–168) and
D. W. Marquardt (Journal of the Society for Industrial and Applied Mathematics 11 (1963) 431–441)
as SciPy has them, with exact derivatives and scaled variables. They stop on the flat bottom of the
sum of squares; full steps by QR go on from there until they no longer shrink.
"""

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
# the values and their derivatives, (n,) and (n, p), at parameters (p,)
Curve = Callable[[Floats], tuple[Floats, Floats]]

_MOST_EVALUATIONS = 1500
_MOST_STEPS = 60
_PATIENCE = 4
# Columns of derivatives whose sizes differ by more than this are one column to binary64.
_SINGULAR = 1e-13


class Descent(NamedTuple):
    """Where a descent ended: parameters, residuals (n,), the inverse of JᵀJ, the steps it took,
    whether it came to rest, and which parameters the readings do not determine."""

    values: Floats
    residuals: Floats
    unscaled: Floats
    steps: int
    converged: bool
    loose: tuple[int, ...]

    @property
    def rss(self) -> float:
        return float(self.residuals @ self.residuals)


def descend(curve: Curve, y: Floats, starts: Sequence[Floats]) -> Descent | None:
    """The best of the descents from some starts; None where none gives finite numbers."""
    found = [_descend(curve, y, start) for start in starts]
    ended = [one for one in found if one is not None and np.isfinite(one.rss)]
    return min(ended, key=lambda one: one.rss) if ended else None


def _descend(curve: Curve, y: Floats, start: Floats) -> Descent | None:
    with np.errstate(all="ignore"):
        if not np.isfinite(curve(start)[0]).all():
            return None
        values, steps, converged = _damped(curve, y, start)
        return _polished(curve, y, values, steps, converged)


def _damped(curve: Curve, y: Floats, start: Floats) -> tuple[Floats, int, bool]:
    """Steps between those of steepest descent and of Gauss–Newton, as short as they have to be.

    Variables are scaled by the largest derivatives so far (J. J. Moré, Lecture Notes in Mathematics
    630 (1978) 105–116), the damping is changed as by H. B. Nielsen (IMM-REP-1999-05).
    """
    values = start.copy()
    fitted, jacobian = curve(values)
    residuals, size = y - fitted, np.zeros(len(values))
    rss, damping, growth, still = float(residuals @ residuals), 1e-3, 2.0, 0
    for step_number in range(_MOST_EVALUATIONS):
        if not np.isfinite(jacobian).all():
            return values, step_number, False
        size = np.maximum(size, np.linalg.norm(jacobian, axis=0))
        scale = np.where(size > 0, size, 1.0)
        # the damped step as a least-squares problem of its own: no product JᵀJ loses digits
        stacked = np.vstack((jacobian / scale, np.sqrt(damping) * np.eye(len(values))))
        right = np.concatenate((residuals, np.zeros(len(values))))
        turned = np.linalg.lstsq(stacked, right, rcond=None)[0]
        moved = values + turned / scale
        better = curve(moved)[0]
        fresh = y - better
        gained = rss - float(fresh @ fresh)
        if np.isfinite(gained) and gained > 0:
            foreseen = float(turned @ (damping * turned + (jacobian / scale).T @ residuals))
            ratio = gained / foreseen if foreseen > 0 else 1.0
            damping *= max(1 / 3, 1 - (2 * ratio - 1) ** 3)
            still = still + 1 if gained <= 1e-14 * rss else 0
            values, residuals, rss, growth = moved, fresh, rss - gained, 2.0
            jacobian = curve(values)[1]
            if still > 3 or rss == 0:
                return values, step_number, True
        else:
            damping, growth = damping * growth, growth * 2
            if damping > 1e20:
                # no step is short enough to gain anything: this is the bottom
                return values, step_number, True
    return values, _MOST_EVALUATIONS, False


def _polished(
    curve: Curve, y: Floats, values: Floats, steps: int, converged: bool
) -> Descent | None:
    """Full Gauss–Newton steps as long as they shrink, and what holds at their end."""
    last, idle = np.inf, 0
    for _ in range(_MOST_STEPS):
        fitted, jacobian = curve(values)
        if not (np.isfinite(fitted).all() and np.isfinite(jacobian).all()):
            return None
        scale = np.linalg.norm(jacobian, axis=0)
        scale[scale == 0] = 1.0
        step = np.linalg.lstsq(jacobian / scale, y - fitted, rcond=_SINGULAR)[0] / scale
        length = float(np.linalg.norm(step * scale))
        # rounding makes steps waver before they come to rest
        idle = 0 if length < last else idle + 1
        if idle > _PATIENCE or length == 0:
            break
        moved = values + step
        better = curve(moved)[0]
        if not np.isfinite(better).all():
            break
        before, after = float(((y - fitted) ** 2).sum()), float(((y - better) ** 2).sum())
        # rounding may take the sum up by a hair, and no more
        if after > before * (1 + 1e-9):
            break
        values, last, steps = moved, min(length, last), steps + 1
    fitted, jacobian = curve(values)
    unscaled, loose = _inverse(jacobian)
    return Descent(values, y - fitted, unscaled, steps, converged, loose)


def _inverse(jacobian: Floats) -> tuple[Floats, tuple[int, ...]]:
    """The inverse of JᵀJ from the singular values of the scaled J, and the parameters that small
    ones of these leave open."""
    scale = np.linalg.norm(jacobian, axis=0)
    dead = scale == 0
    scale = np.where(dead, 1.0, scale)
    _, sizes, turned = np.linalg.svd(jacobian / scale, full_matrices=False)
    small = sizes < _SINGULAR * sizes.max(initial=0.0)
    loose = np.flatnonzero(dead | (np.abs(turned[small]) > 0.1).any(axis=0))
    kept = np.where(small, np.inf, sizes)
    root = turned.T / kept
    inverse = (root @ root.T) / np.outer(scale, scale)
    return inverse, tuple(int(i) for i in loose)
