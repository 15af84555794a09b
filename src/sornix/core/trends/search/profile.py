"""Intervals of the parameters of curves by profile, where those of the tangent are off.

A parameter is held beside its estimate, all others are fitted anew, and the sum of squares is
looked at: √((S − Sₘᵢₙ)/s²) is Student's t of that value as exactly as the readings can tell it (D.
M. Bates and D. G. Watts, "Nonlinear Regression Analysis and Its Applications", 1988, section 6.1).
Where it agrees with the tangent's to within a tenth at both ends, the tangent's interval stays.
"""

import math
from collections.abc import Generator, Mapping, Sequence

import numpy as np
from attrs import evolve

from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Floats, ParameterConstraints, Setting
from sornix.core.trends.search.abreast import Flags, damped_at_once, settled_at_once
from sornix.core.trends.search.descent import Descent
from sornix.core.trends.search.search import Search

Ends = tuple[float, float]
# Asks for Student's t at places, and returns one.
Finding = Generator[float, float, float]
# More readings than this make the tangent good enough; of more than that it takes too long.
_MOST, _MOST_ASKED = 2000, 200_000
_AGREES = 0.1
# An end is looked for in so many steps, until the next would move it by less than this part of what
# it is, or of how far it is from the estimate, and nothing less than the last part of that; and as
# far as so many times the tangent's half interval: beyond it there is none.
_STEPS, _CLOSE, _LEAST, _FARTHEST = 48, 2e-3, 1e-6, 60.0

# After so many steps that moved the nearer place alone, the farther one is looked at again.
_DOUBTFUL = 2
# So often is looked for another valley at an end, which is one where t is nearly reached.
_CHECKS, _AS_FAR = 4, 0.98
# With more parameters than this, a search for each end of each would take minutes.
_MOST_CHECKED = 5
# So many steps are enough near the end of another descent.
_NEAR = 100
# So many numbers are worked on at once.
_MOST_NUMBERS = 4_000_000


def profiles(fit: Fit, search: Search, best: Descent) -> Mapping[str, Ends]:
    """The 95 % intervals of the parameters whose tangent's are off by more than a tenth, or of all
    where that is asked for; an end may be infinite."""
    t, sd = fit.t95, fit.residual_sd
    always = search.way.by_profile
    few = fit.n <= (_MOST_ASKED if always else _MOST)
    if t is None or not sd or not few or fit.loose or not fit.converged:
        return {}
    errors = [fit.standard_error(name) for name in search.free]
    known = [i for i, error in enumerate(errors) if error and math.isfinite(error)]
    sides = [_Side(search, best, i, errors[i] or 0.0, way) for i in known for way in (-1.0, 1.0)]
    with np.errstate(all="ignore"):
        looks = _Looks(search, best.rss, sd)
        tangent = looks.t_at([(side, t * side.error) for side in sides])
        off = [
            i for i in range(0, len(sides), 2)
            if always or not all(abs(at / t - 1) <= _AGREES for at in tangent[i : i + 2])
        ]  # fmt: skip
        of = [(sides[at], tangent[at]) for i in off for at in (i, i + 1)]
        far = looks.all_found([(side, side.end(t, at)) for side, at in of])
        vague = any((errors[i] or 0.0) > abs(best.values[i]) for i in known)
        if vague and len(search.free) <= _MOST_CHECKED:
            # where so little is known there are other valleys
            far = [looks.checked(side, t, away) for (side, _), away in zip(of, far, strict=True)]
    ends = [side.value + side.way * away for (side, _), away in zip(of, far, strict=True)]
    names = [search.free[sides[i].place] for i in off]
    return dict(zip(names, zip(ends[::2], ends[1::2], strict=True), strict=True))


class _Side:
    """One direction of one parameter away from its estimate."""

    def __init__(self, search: Search, best: Descent, place: int, error: float, way: float) -> None:
        self.place, self.error, self.way = place, error, way
        self.best = best.values
        self.value = float(best.values[place])
        low, high = search.way.bounds.get(search.free[place], (-math.inf, math.inf))
        self._low, self._high = low, high
        # how far the last place was, and all parameters there
        self.last: tuple[float, Floats] | None = None
        # along the tangent the others move with it
        self._lean: Floats = best.unscaled[:, place] / best.unscaled[place, place]

    def allowed(self, away: float) -> float | None:
        """The value so far away, None where it cannot be."""
        held = self.value + self.way * away
        # an end of what it may be is reached to within rounding
        grain = 1e-12 * (abs(held) + away)
        if not self._low - grain <= held <= self._high + grain:
            return None
        return min(max(held, self._low), self._high)

    def choices(self, away: float, held: float) -> list[Floats]:
        """Where all parameters may be: the others along the tangent, as they are at the best, on
        the way from the last place, or as they were there."""
        ways = [self.best + self.way * away * self._lean, self.best]
        last_away, last = self.last or (1.0, self.best)
        ways += [self.best + (last - self.best) * (away / last_away), last]
        for one in (ways := [one.copy() for one in ways]):
            one[self.place] = held
        return ways

    def end(self, t: float, t_far: float) -> Finding:
        """How far from the estimate Student's t is reached, which is `t_far` where the tangent's
        interval ends: asks for t at places in turn, and returns the last of them."""
        far = t * self.error
        room = abs((self._high if self.way > 0 else self._low) - self.value)
        if math.isfinite(room) and (yield room) < t:
            # all up to the end of what it may be agrees with the readings
            return room
        # places and what t is there
        seen = [(0.0, 0.0)]
        near, to_zero = 0.0, -self.way * self.value
        if t_far < t and 0 < to_zero < far:
            # a width or a rate may give the same curve with either sign, and none at 0
            t_zero = yield to_zero
            if t_zero < t:
                seen.append((to_zero, t_zero))
                near = to_zero
            else:
                far, t_far = to_zero, t_zero
        return (yield from self.outward(t, near, far, t_far, seen))

    def outward(
        self, t: float, near: float, far: float, t_far: float, seen: list[tuple[float, float]]
    ) -> Finding:
        """How far t is reached from a place on that is too near, and another one."""
        while True:
            while t_far < t:
                seen.append((far, t_far))
                near, far = far, 2 * far
                if far > _FARTHEST * t * self.error:
                    return math.inf
                t_far = yield far
            found = yield from self._between(t, near, far, t_far, seen)
            if found is not None:
                return found
            # what was found too far is not, from where the others have come by now
            far, t_far = seen.pop()

    def _between(
        self, t: float, near: float, far: float, t_far: float, seen: list[tuple[float, float]]
    ) -> Generator[float, float, float | None]:
        """How far t is reached between two places; None where the farther one turns out to be too
        near, as the last that was seen."""
        seen.append((far, t_far))
        nearer = 0
        for _ in range(_STEPS):
            # kept off both ends
            off = 0.1 * (far - near)
            at = min(max(_crossing(t, seen, near, far), near + off), far - off)
            t_at = yield at
            seen.append((at, t_at))
            if t_at < t:
                near, nearer = at, nearer + 1
            else:
                far, nearer = at, 0
            if nearer == _DOUBTFUL:
                # the descent to the farther one may have ended in another valley
                t_again = yield far
                if t_again < t:
                    seen[:] = [one for one in seen if one[0] < far] + [(far, t_again)]
                    return None
            found = _crossing(t, seen, near, far)
            size = min(found, abs(self.value + self.way * found))
            close = max(_CLOSE * size, _LEAST * found)
            # where t leaps, only two places beside each other tell where it is reached
            reached = abs(found - at) < close and abs(t_at - t) < _AGREES * t
            if reached or far - near < close:
                return found
        return near / 2 + far / 2


class _Looks:
    """How unlikely values of parameters make the readings, asked for many of them at once: small
    fits take as long together as one alone."""

    def __init__(self, search: Search, least: float, sd: float) -> None:
        self._search, self._least, self._sd = search, least, sd
        self._curve, self._y = search.curve(search.sample)
        self._at_once = max(1, _MOST_NUMBERS // (search.sample.n * (len(search.free) + 2)))

    def t_at(self, asked: Sequence[tuple[_Side, float]]) -> list[float]:
        """Student's t of values so far away; infinite where no curve goes through it."""
        found = [math.inf] * len(asked)
        values = [(i, side, away, side.allowed(away)) for i, (side, away) in enumerate(asked)]
        there = [(i, side, away, at) for i, side, away, at in values if at is not None]
        for begin in range(0, len(there), self._at_once):
            part = there[begin : begin + self._at_once]
            choices = np.array([side.choices(away, at) for _, side, away, at in part])
            held = np.zeros((len(part), len(self._search.free)), bool)
            held[range(len(part)), [side.place for _, side, _, _ in part]] = True
            ended, squares = self._beside(choices.swapaxes(0, 1), held)
            for (i, side, away, _), end, rss in zip(part, ended, squares.tolist(), strict=True):
                if math.isfinite(rss):
                    side.last = away, end
                found[i] = _root(rss - self._least, self._sd)
        return found

    def _beside(self, choices: Floats, held: Flags) -> tuple[Floats, Floats]:
        """Where descents come with one parameter each `held` (k, p), from the best of its `choices`
        (c, k, p): parameters (k, p), and sums of squares (k,) right to some four digits of what
        they have grown by."""
        curve, y = self._curve, self._y
        assert curve.at_all is not None
        count, p = held.shape
        every = np.tile(held, (len(choices), 1))
        settled, _, squares, _ = settled_at_once(
            curve.at_all, curve.straight, choices.reshape(-1, p), y, every
        )
        low = np.where(np.isfinite(squares), squares, np.inf).reshape(-1, count).argmin(axis=0)
        starts = settled.reshape(-1, count, p)[low, np.arange(count)]
        limits = curve.straight, curve.low, curve.high
        states = damped_at_once(curve.at_all, limits, y, starts, _NEAR, held, self._least)
        return np.array([s.values for s in states]), np.array([s.rss for s in states])

    def checked(self, side: _Side, t: float, away: float) -> float:
        """How far t is reached, if not there: a search for another valley is made where it is."""
        for _ in range(_CHECKS):
            held = side.allowed(away) if math.isfinite(away) else None
            name = self._search.free[side.place]
            free = [other for other in self._search.free if other != name]
            if held is None or not free:
                break
            others = (s for s in self._search.way.settings if s.name != name)
            way = ParameterConstraints((*others, Setting(name, held=held)))
            found = evolve(self._search, way=way, free=free).outcome()
            if found is None:
                break
            t_here = _root(found.best.rss - self._least, self._sd)
            if t_here > _AS_FAR * t:
                break
            side.last = away, np.insert(found.best.values, side.place, held)
            seen = [(0.0, 0.0), (away, t_here)]
            ahead = self.t_at([(side, 2 * away)])[0]
            away = self.all_found([(side, side.outward(t, away, 2 * away, ahead, seen))])[0]
        return away

    def all_found(self, ways: Sequence[tuple[_Side, Finding]]) -> list[float]:
        """What sides find, by how they go on: what all of them ask for next is asked together."""
        found = [math.nan] * len(ways)
        told: dict[int, float | None] = dict.fromkeys(range(len(ways)))
        while told:
            asked = {}
            for i, at in told.items():
                try:
                    asked[i] = next(ways[i][1]) if at is None else ways[i][1].send(at)
                except StopIteration as end:
                    found[i] = end.value
            answers = self.t_at([(ways[i][0], away) for i, away in asked.items()])
            told = dict(zip(asked, answers, strict=True))
        return found


def _crossing(t: float, seen: list[tuple[float, float]], near: float, far: float) -> float:
    """Where Student's t is reached between two places: by the curve of lowest degree, of place by
    t, through the three of the places that were looked at at which it is nearest; in the middle
    where that leads elsewhere."""
    known = sorted((abs(at - t), at, place) for place, at in seen if math.isfinite(at))[:3]
    if len({at for _, at, _ in known}) == len(known):
        found = sum(
            place * math.prod((t - other) / (at - other) for _, other, _ in known if other != at)
            for _, at, place in known
        )
        if near < found < far:
            return found
    return near / 2 + far / 2


def _root(more: float, sd: float) -> float:
    return math.sqrt(max(more, 0.0)) / sd if math.isfinite(more) else math.inf
