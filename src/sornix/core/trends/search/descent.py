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
from sornix.core.trends.search.abreast import LEAST_DAMPING, UNSEEN, State, damped_at_once

Floats = NDArray[np.float64]

_MOST_STEPS = 60
_PATIENCE, _MANY = 4, 2000
# Curves as likely as this fit alike: half of the 95 % point of χ² with one degree of freedom.
ALIKE = 1.92
# Columns of derivatives whose sizes differ by more than this are one column to binary64.
_SINGULAR = 1e-13
_ROUNDING = float(np.finfo(np.float64).eps)
_TOLD = 1e-9
# So many steps tell which of several starts lead down; so many of these are followed to the end.
_SHORT, _FOLLOWED = 25, 3
# Two descents have come to the same end where their sums of squares and their parameters are alike
# to these parts; they are on the way to the same where parameters are to the last.
_AS_LOW, _AT, _ON_ONE_WAY = 1e-5, 1e-3, 1e-3
# One that in so many steps has come by less than this part of its way to the goal is given up.
_LOOK, _HOPE = 10, 0.05
# It has come to rest after more than so many steps in turn that gained next to nothing, and at once
# where the damping is at most this.
_STILL, _HARDLY = 3, 1e-2


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
        scale = _lengths(basis)
        scale[scale == 0] = 1.0
        if not np.isfinite(scale).all():
            return values, rest
        if len(scale) == 1:
            # the same without a library's detours
            unit = basis / scale
            added = (rest @ unit) / scale
        else:
            added = np.linalg.lstsq(basis / scale, rest, rcond=None)[0] / scale
        moved = values.copy()
        moved[self.straight] += added
        return moved, rest - basis @ added

    def within(self, values: Floats) -> Floats:
        """Parameters moved to the nearest that are allowed."""
        return np.minimum(np.maximum(values, self.low), self.high)


class Descent(NamedTuple):
    """Where a descent ended: parameters, residuals (n,), the sum of their squares, the inverse of
    JᵀJ, the steps it took, whether it came to rest, which parameters the readings do not determine,
    and which are at an end of what they may be."""

    values: Floats
    residuals: Floats
    rss: float
    unscaled: Floats
    steps: int
    converged: bool
    loose: tuple[int, ...]
    ended: tuple[int, ...]


def _lengths(columns: Floats) -> Floats:
    """How long the columns (n, p) are, (p,)."""
    lengths: Floats = np.sqrt((columns * columns).sum(axis=0))
    return lengths


def descend(curve: Curve, y: Floats, *groups: Sequence[Floats]) -> Descent | None:
    """The best of the descents from groups of starts, of each of which the best few are followed;
    None where none gives finite numbers."""
    return min(ends(curve, y, groups), key=rank, default=None)


def end_values(reached: Sequence[Descent]) -> list[Floats]:
    """The parameters of different ends, the lowest first."""
    kept: list[Floats] = []
    for end in sorted(reached, key=rank):
        if not any(_are_near(end.values, other, _ON_ONE_WAY) for other in kept):
            kept.append(end.values)
    return kept


def ends(
    curve: Curve, y: Floats, groups: Sequence[Sequence[Floats]], known: Sequence[Descent] = (),
    short: int = _SHORT,
) -> list[Descent]:  # fmt: skip
    """Where descents from groups of starts end that may be the lowest, or fit nearly as well; one
    that comes to an end that is known already, from here or before, ends there at once. In so many
    `short` steps it shows which of a larger group lead down."""
    # by so much the sum of squares of what is as likely may be larger
    alike = math.exp(2 * ALIKE / max(len(y), 1))
    with np.errstate(all="ignore"):
        inside = [[curve.within(start) for start in starts] for starts in groups]
        many = [starts for starts in inside if len(starts) > _FOLLOWED]
        # all of them abreast, of whichever group
        tried = iter(_short(curve, y, [start for starts in many for start in starts], short))
        begun: list[Floats] = []
        for starts in inside:
            if len(starts) > _FOLLOWED:
                led = [state for state in islice(tried, len(starts)) if np.isfinite(state.rss)]
                starts = [state.values for state in _apart(sorted(led, key=lambda s: s.rss))]
            begun += starts
        ended: list[Descent] = []
        for start in begun:
            resting = [end for end in (*known, *ended) if end.converged]
            sure = [end for end in resting if not end.loose]
            lowest = min((end.rss for end in resting), default=np.inf)
            # once one has come to rest, others have to hurry, and to lead lower
            most = curve.most if lowest == np.inf else curve.most // 5
            goal = lowest * alike * (1 + 1e-6)
            begin = curve.settled(start, y)
            state = _damped(curve, y, begin, most, goal=goal, sure=sure)
            if not np.isfinite(state.rss) or state.rss > goal:
                continue
            found = _same(state.values, state.rss, sure) or _polished(curve, y, state)
            if found is not None and np.isfinite(found.rss):
                ended.append(found)
    return ended


def _same(values: Floats, rss: float, sure: Sequence[Descent]) -> Descent | None:
    """The end to which a descent has come, of those that are sure."""
    for end in sure:
        if abs(rss - end.rss) <= _AS_LOW * end.rss and _are_near(values, end.values, _AT):
            return end
    return None


def _are_near(values: Floats, others: Floats, part: float) -> bool:
    """Whether all parameters are alike to within a part of them."""
    return bool((np.abs(values - others) <= 1e-8 + part * np.abs(others)).all())


def _short(curve: Curve, y: Floats, starts: Sequence[Floats], most: int) -> list[State]:
    """Where some starts come in so many steps."""
    if curve.at_all is None or not starts:
        return [_damped(curve, y, curve.settled(start, y), most) for start in starts]
    limits = curve.straight, curve.low, curve.high
    return damped_at_once(curve.at_all, limits, y, np.array(starts), most)


def rank(end: Descent) -> tuple[float, bool, int]:
    """Of ends that are equally low, first the one that came to rest and is determined."""
    return float(f"{end.rss:.9g}"), not end.converged, len(end.loose)


def _apart(states: Sequence[State]) -> list[State]:
    """The best few that are not on the way to the same end."""
    kept: list[State] = []
    for state in states:
        if not any(_are_near(state.values, other.values, _ON_ONE_WAY) for other in kept):
            kept.append(state)
        if len(kept) == _FOLLOWED:
            break
    return kept


class _Slope(NamedTuple):
    """The way down from a place: the size of each variable, the axes (k, p) along which the
    derivatives in variables of size 1 are as steep as `steep` (k,), and the residuals along these,
    (k,)."""

    scale: Floats
    axes: Floats
    steep: Floats
    along: Floats

    def step(self, damping: float) -> Floats:
        """The damped step, without a product JᵀJ, which would lose digits."""
        whole = self.steep * self.steep + damping
        # what is nothing to binary64 leads nowhere
        seen = whole > (_ROUNDING * len(whole)) ** 2 * whole.max()
        part = np.divide(self.steep * self.along, whole, out=np.zeros_like(whole), where=seen)
        return part @ self.axes

    def foreseen(self, step: Floats, damping: float) -> float:
        """What a step would gain, were the curve straight."""
        return float(step @ (damping * step + (self.steep * self.along) @ self.axes))


def _slope(
    curve: Curve, values: Floats, residuals: Floats, jacobian: Floats, size: Floats
) -> _Slope:
    scale = np.where(size > 0, size, 1.0)
    scaled = jacobian / scale
    # a parameter whose way down leads out of its bounds rests at its end
    low, high = values <= curve.low, values >= curve.high
    if low.any() or high.any():
        downhill = residuals @ scaled
        scaled[:, (low & (downhill < 0)) | (high & (downhill > 0))] = 0.0
    turned, steep, axes = np.linalg.svd(scaled, full_matrices=False)
    return _Slope(scale, axes, steep, residuals @ turned)


def _damped(
    curve: Curve, y: Floats, begun: tuple[Floats, Floats], most: int, close: float = 1e-14,
    goal: float = math.inf, sure: Sequence[Descent] = (),
) -> State:  # fmt: skip
    """Steps between those of steepest descent and of Gauss–Newton, as short as they have to be,
    from where a curve was settled: until they gain no more than so much of what is left, one of the
    sure ends is reached, or the last ones were so small that the sum of squares that is the goal is
    far off.

    Variables are scaled by the largest derivatives so far (J. J. Moré, Lecture Notes in Mathematics
    630 (1978) 105–116), the damping is changed as by H. B. Nielsen (IMM-REP-1999-05).
    """
    values, residuals = begun
    jacobian, size = curve.at(values)[1], np.zeros(len(values))
    rss, damping, growth, still = float(residuals @ residuals), 1e-3, 2.0, 0
    slope, before = None, math.inf
    if _same(values, rss, sure) is not None:
        return State(values, rss, 0, True)
    for number in range(most):
        go_on()
        if not (math.isfinite(rss) and np.isfinite(jacobian).all()):
            return State(values, rss, number, False)
        if number % _LOOK == 0:
            if before - rss < _HOPE * (rss - goal):
                return State(values, rss, number, False)
            before = rss
        if slope is None:
            size = np.maximum(size, _lengths(jacobian))
            slope = _slope(curve, values, residuals, jacobian, size)
        step = slope.step(damping)
        moved, fresh = curve.settled(curve.within(values + step / slope.scale), y)
        gained, foreseen = rss - float(fresh @ fresh), slope.foreseen(step, damping)
        if math.isfinite(gained) and gained > 0:
            # more than was foreseen is as good as that, however much
            ratio = min(gained / foreseen, 1.0) if foreseen > 0 else 1.0
            damping = max(damping * max(1 / 3, 1 - (2 * ratio - 1) ** 3), LEAST_DAMPING)
            still = still + 1 if gained <= close * rss else 0
            values, residuals, rss, growth = moved, fresh, rss - gained, 2.0
            # small steps that were hardly damped are at the bottom
            rests = still > (_STILL if damping > _HARDLY else 0) or rss == 0
            if rests or _same(values, rss, sure) is not None:
                return State(values, rss, number, True)
            jacobian, slope = curve.at(values)[1], None
        else:
            damping, growth = damping * growth, growth * 2
            if damping > 1e20 or foreseen <= UNSEEN * rss:
                # no step is short enough to gain anything that is seen: this is the bottom
                return State(values, rss, number, True)
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
        scale = _lengths(np.where(free, jacobian, 0.0))
        scale[scale == 0] = 1.0
        scaled = np.where(free, jacobian, 0.0) / scale
        step = np.linalg.lstsq(scaled, y - fitted, rcond=_SINGULAR)[0] / scale
        length = float(np.linalg.norm(step * scale))
        # rounding makes steps waver before they come to rest
        idle = 0 if length < last else idle + 1
        size = float(np.linalg.norm(values * scale))
        if idle > patience or length <= _ROUNDING * size:
            # one as short as the last digit gains no other
            break
        moved = curve.within(values + step)
        better, fresh_jacobian = curve.at(moved)
        if not np.isfinite(better).all():
            break
        before, after = float(((y - fitted) ** 2).sum()), float(((y - better) ** 2).sum())
        # rounding may take the sum up by a hair, and no more
        if after > before * (1 + 1e-9):
            break
        values, last = moved, min(length, last)
        # what moves only the last digits hangs on the processor, and is not told
        steps += length > _TOLD * size
        fitted, jacobian = better, fresh_jacobian
    unscaled, loose = _inverse(np.where(free, jacobian, 0.0), free)
    ended = tuple(int(i) for i in np.flatnonzero(~free))
    rest = y - fitted
    return Descent(values, rest, float(rest @ rest), unscaled, steps, state.rests, loose, ended)


def _inverse(jacobian: Floats, free: NDArray[np.bool_]) -> tuple[Floats, tuple[int, ...]]:
    """The inverse of JᵀJ from the singular values of the scaled J, and the free parameters that
    small ones of these leave open."""
    scale = _lengths(jacobian)
    dead = scale == 0
    scale = np.where(dead, 1.0, scale)
    _, sizes, turned = np.linalg.svd(jacobian / scale, full_matrices=False)
    small = sizes < _SINGULAR * sizes.max(initial=0.0)
    open_ones = dead | (np.abs(turned[small]) > 0.1).any(axis=0)
    kept = np.where(small, np.inf, sizes)
    root = turned.T / kept
    inverse = (root @ root.T) / np.outer(scale, scale)
    return inverse, tuple(int(i) for i in np.flatnonzero(open_ones & free))
