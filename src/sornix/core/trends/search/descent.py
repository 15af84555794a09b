"""Nonlinear least squares: damped steps, then Gauss–Newton until nothing is left to gain.

The damped steps are those of K. Levenberg (Quarterly of Applied Mathematics 2 (1944) 164–168) and
D. W. Marquardt (Journal of the Society for Industrial and Applied Mathematics 11 (1963) 431–441),
with exact derivatives and scaled variables. After each, the parameters in which the curve is a
straight sum are solved for (variable projection: G. H. Golub and V. Pereyra, SIAM Journal on
Numerical Analysis 10 (1973) 413–432), so that the search is only among the others. They stop on
the flat bottom of the sum of squares; full steps by QR go on from there until they no longer
shrink. Parameters with bounds are kept between them, and rest at an end where the way down leads
out.
"""

import math
from collections.abc import Callable, Sequence
from itertools import islice
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.frozen import frozen
from sornix.core.patience import go_on
from sornix.core.trends.search.abreast import LEAST_DAMPING, State, damped_at_once

Floats = NDArray[np.float64]

_MOST_STEPS = 60
_PATIENCE, _MANY = 4, 2000
# Curves as likely as this fit alike: half of the 95 % point of χ² with one degree of freedom.
ALIKE = 1.92
# Columns of derivatives whose sizes differ by more than this are one column to binary64.
_SINGULAR = 1e-13
# So many steps tell which of several starts lead down; so many of these are followed to the end.
_SHORT, _FOLLOWED = 25, 3
# So many are enough near the end of another descent.
_NEAR = 30


AtAll = Callable[[Floats], tuple[Floats, Floats]]


@frozen(eq=False)
class Curve:
    """What is fitted: `at` gives the values (n,) and derivatives (n, p) at parameters (p,),
    weighted already where readings have weights. `straight` (p,) are those that enter as a straight
    sum and can be solved for; all stay between `low` and `high` (p,). So many steps are taken at
    `most`: a shape whose starts are good needs few, one about which nothing is known many."""

    at: Callable[[Floats], tuple[Floats, Floats]]
    straight: NDArray[np.bool_]
    low: Floats
    high: Floats
    most: int = 3000
    # the same as `at` for many parameters (k, p) at once: (k, n) and (k, n, p)
    at_all: AtAll | None = None

    def settled(self, values: Floats, y: Floats) -> tuple[Floats, Floats]:
        """Parameters with the straight ones solved for, and the residuals (n,) then."""
        fitted, jacobian = self.at(values)
        rest: Floats = y - fitted
        if not self.straight.any() or not np.isfinite(rest).all():
            return values, rest
        basis = jacobian[:, self.straight]
        scale = np.linalg.norm(basis, axis=0)
        scale[scale == 0] = 1.0
        if not np.isfinite(scale).all():
            return values, rest
        added = np.linalg.lstsq(basis / scale, rest, rcond=None)[0] / scale
        moved = values.copy()
        moved[self.straight] += added
        return moved, rest - basis @ added

    def within(self, values: Floats) -> Floats:
        """Parameters moved to the nearest that are allowed."""
        return np.clip(values, self.low, self.high)


class Descent(NamedTuple):
    """Where a descent ended: parameters, residuals (n,), the inverse of JᵀJ, the steps it took,
    whether it came to rest, which parameters the readings do not determine, and which are at an
    end of what they may be."""

    values: Floats
    residuals: Floats
    unscaled: Floats
    steps: int
    converged: bool
    loose: tuple[int, ...]
    ended: tuple[int, ...]

    @property
    def rss(self) -> float:
        return float(self.residuals @ self.residuals)


def descend(curve: Curve, y: Floats, *groups: Sequence[Floats]) -> Descent | None:
    """The best of the descents from groups of starts, of each of which the best few are followed;
    None where none gives finite numbers."""
    return min(ends(curve, y, groups), key=rank, default=None)


def end_values(reached: Sequence[Descent]) -> list[Floats]:
    """The parameters of different ends, the lowest first."""
    kept: list[Floats] = []
    for end in sorted(reached, key=rank):
        if all(not np.allclose(end.values, other, rtol=1e-3) for other in kept):
            kept.append(end.values)
    return kept


def ends(curve: Curve, y: Floats, groups: Sequence[Sequence[Floats]]) -> list[Descent]:
    """Where descents from groups of starts end that may be the lowest, or fit nearly as well."""
    # by so much the sum of squares of what is as likely may be larger
    alike = math.exp(2 * ALIKE / max(len(y), 1))
    with np.errstate(all="ignore"):
        inside = [[curve.within(start) for start in starts] for starts in groups]
        many = [starts for starts in inside if len(starts) > _FOLLOWED]
        # all of them abreast, of whichever group
        short = iter(_short(curve, y, [start for starts in many for start in starts]))
        begun: list[Floats] = []
        for starts in inside:
            if len(starts) > _FOLLOWED:
                led = [state for state in islice(short, len(starts)) if np.isfinite(state.rss)]
                starts = [state.values for state in _apart(sorted(led, key=lambda s: s.rss))]
            begun += starts
        ended: list[Descent] = []
        for start in begun:
            lowest = min((d.rss for d in ended if d.converged), default=np.inf)
            # once one has come to rest, others have to hurry, and to lead lower
            most = curve.most if lowest == np.inf else curve.most // 5
            state = _damped(curve, y, start, most)
            if not np.isfinite(state.rss) or state.rss > lowest * alike * (1 + 1e-6):
                continue
            found = _polished(curve, y, state)
            if found is not None and np.isfinite(found.rss):
                ended.append(found)
    return ended


def _short(curve: Curve, y: Floats, starts: Sequence[Floats]) -> list[State]:
    """Where some starts come in as many steps as tell which of them lead down."""
    if curve.at_all is None or not starts:
        return [_damped(curve, y, start, _SHORT) for start in starts]
    limits = curve.straight, curve.low, curve.high
    return damped_at_once(curve.at_all, limits, y, np.array(starts), _SHORT)


def rank(end: Descent) -> tuple[float, bool, int]:
    """Of ends that are equally low, first the one that came to rest and is determined."""
    return float(f"{end.rss:.9g}"), not end.converged, len(end.loose)


def _apart(states: Sequence[State]) -> list[State]:
    """The best few that are not on the way to the same end."""
    kept: list[State] = []
    for state in states:
        if all(not np.allclose(state.values, other.values, rtol=1e-3) for other in kept):
            kept.append(state)
        if len(kept) == _FOLLOWED:
            break
    return kept


def approach(curve: Curve, y: Floats, starts: Sequence[Floats]) -> tuple[Floats, float]:
    """Where a descent from the best of some starts comes in a few steps: its parameters, and a sum
    of squares that is right to some four digits."""

    def rss_at(start: Floats) -> float:
        rest = curve.settled(curve.within(start), y)[1]
        return float(rest @ rest)

    best = min(starts, key=lambda start: (math.isnan(rss := rss_at(start)), rss))
    state = _damped(curve, y, curve.within(best), _NEAR, close=1e-5)
    return state.values, state.rss


def _damped(curve: Curve, y: Floats, start: Floats, most: int, close: float = 1e-14) -> State:
    """Steps between those of steepest descent and of Gauss–Newton, as short as they have to be,
    until several in turn gain no more than so much of what is left.

    Variables are scaled by the largest derivatives so far (J. J. Moré, Lecture Notes in Mathematics
    630 (1978) 105–116), the damping is changed as by H. B. Nielsen (IMM-REP-1999-05).
    """
    values, residuals = curve.settled(start, y)
    jacobian, size = curve.at(values)[1], np.zeros(len(values))
    rss, damping, growth, still = float(residuals @ residuals), 1e-3, 2.0, 0
    triangle, turned = None, residuals
    for step_number in range(most):
        go_on()
        if not (np.isfinite(jacobian).all() and np.isfinite(rss)):
            return State(values, rss, step_number, False)
        if triangle is None:
            size = np.maximum(size, np.linalg.norm(jacobian, axis=0))
            scale = np.where(size > 0, size, 1.0)
            # a parameter whose way down leads out of its bounds rests at its end
            downhill = jacobian.T @ residuals
            rests = ((values <= curve.low) & (downhill < 0)) | (
                (values >= curve.high) & (downhill > 0)
            )
            basis, triangle = np.linalg.qr(np.where(rests, 0.0, jacobian / scale))
            turned = basis.T @ residuals
        # the damped step as a least-squares problem of its own: no product JᵀJ loses digits
        stacked = np.vstack((triangle, np.sqrt(damping) * np.eye(len(values))))
        right = np.concatenate((turned, np.zeros(len(values))))
        step = np.linalg.lstsq(stacked, right, rcond=None)[0]
        moved, fresh = curve.settled(curve.within(values + step / scale), y)
        gained = rss - float(fresh @ fresh)
        if np.isfinite(gained) and gained > 0:
            foreseen = float(step @ (damping * step + triangle.T @ turned))
            ratio = gained / foreseen if foreseen > 0 else 1.0
            damping = max(damping * max(1 / 3, 1 - (2 * ratio - 1) ** 3), LEAST_DAMPING)
            still = still + 1 if gained <= close * rss else 0
            values, residuals, rss, growth = moved, fresh, rss - gained, 2.0
            jacobian, triangle = curve.at(values)[1], None
            if still > (3 if close < 1e-9 else 0) or rss == 0:
                return State(values, rss, step_number, True)
        else:
            damping, growth = damping * growth, growth * 2
            if damping > 1e20:
                # no step is short enough to gain anything: this is the bottom
                return State(values, rss, step_number, True)
    return State(values, rss, most, False)


def _polished(curve: Curve, y: Floats, state: State) -> Descent | None:
    """Full Gauss–Newton steps as long as they shrink, and what holds at their end."""
    values, steps = state.values, state.steps
    free = (values > curve.low) & (values < curve.high)
    last, idle = np.inf, 0
    # of many readings the errors of rounding even out, and wavering tells nothing
    patience = _PATIENCE if len(y) <= _MANY else 0
    fitted, jacobian = curve.at(values)
    for _ in range(_MOST_STEPS):
        if not (np.isfinite(fitted).all() and np.isfinite(jacobian).all()):
            return None
        scale = np.linalg.norm(np.where(free, jacobian, 0.0), axis=0)
        scale[scale == 0] = 1.0
        scaled = np.where(free, jacobian, 0.0) / scale
        step = np.linalg.lstsq(scaled, y - fitted, rcond=_SINGULAR)[0] / scale
        length = float(np.linalg.norm(step * scale))
        # rounding makes steps waver before they come to rest
        idle = 0 if length < last else idle + 1
        if idle > patience or length == 0:
            break
        moved = curve.within(values + step)
        better, fresh_jacobian = curve.at(moved)
        if not np.isfinite(better).all():
            break
        before, after = float(((y - fitted) ** 2).sum()), float(((y - better) ** 2).sum())
        # rounding may take the sum up by a hair, and no more
        if after > before * (1 + 1e-9):
            break
        values, last, steps = moved, min(length, last), steps + 1
        fitted, jacobian = better, fresh_jacobian
    unscaled, loose = _inverse(np.where(free, jacobian, 0.0), free)
    ended = tuple(int(i) for i in np.flatnonzero(~free))
    return Descent(values, y - fitted, unscaled, steps, state.rests, loose, ended)


def _inverse(jacobian: Floats, free: NDArray[np.bool_]) -> tuple[Floats, tuple[int, ...]]:
    """The inverse of JᵀJ from the singular values of the scaled J, and the free parameters that
    small ones of these leave open."""
    scale = np.linalg.norm(jacobian, axis=0)
    dead = scale == 0
    scale = np.where(dead, 1.0, scale)
    _, sizes, turned = np.linalg.svd(jacobian / scale, full_matrices=False)
    small = sizes < _SINGULAR * sizes.max(initial=0.0)
    open_ones = dead | (np.abs(turned[small]) > 0.1).any(axis=0)
    kept = np.where(small, np.inf, sizes)
    root = turned.T / kept
    inverse = (root @ root.T) / np.outer(scale, scale)
    return inverse, tuple(int(i) for i in np.flatnonzero(open_ones & free))
