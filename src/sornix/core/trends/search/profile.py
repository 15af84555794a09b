"""Intervals of the parameters of curves by profile, where those of the tangent are off.

A parameter is held beside its estimate, all others are fitted anew, and the sum of squares is
looked at: √((S − Sₘᵢₙ)/s²) is Student's t of that value as exactly as the readings can tell it (D.
M. Bates and D. G. Watts, "Nonlinear Regression Analysis and Its Applications", 1988, section 6.1).
Where it agrees with the tangent's to within a tenth at both ends, the tangent's interval stays.
"""

import math
from collections.abc import Mapping

import numpy as np
from attrs import evolve

from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Floats, ParameterConstraints, Setting
from sornix.core.trends.search.descent import Descent
from sornix.core.trends.search.search import Search

Ends = tuple[float, float]
# More readings than this make the tangent good enough; of more than that it takes too long.
_MOST, _MOST_ASKED = 2000, 200_000
_AGREES = 0.1
# An end is looked for in so many steps, until the next would move it by less than this part of what
# it is, or of how far it is from the estimate, and nothing less than the last part of that; and as
# far as so many times the tangent's half interval: beyond it there is none.
_STEPS, _CLOSE, _LEAST, _FARTHEST = 16, 2e-3, 1e-6, 60.0


def profiles(fit: Fit, search: Search, best: Descent) -> Mapping[str, Ends]:
    """The 95 % intervals of the parameters whose tangent's are off by more than a tenth, or of all
    where that is asked for; an end may be infinite."""
    t, sd = fit.t95, fit.residual_sd
    always = search.way.by_profile
    few = fit.n <= (_MOST_ASKED if always else _MOST)
    if t is None or not sd or not few or fit.loose or not fit.converged:
        return {}
    found = {}
    with np.errstate(all="ignore"):
        for name in search.free:
            error = fit.standard_error(name)
            if error and math.isfinite(error):
                side = _Side(search, best, name, sd, error)
                below, above = side.t_at(-t * error), side.t_at(t * error)
                if always or not all(abs(at / t - 1) <= _AGREES for at in (below, above)):
                    value = float(best.values[search.free.index(name)])
                    found[name] = (
                        value - side.end(t, -1.0, below),
                        value + side.end(t, 1.0, above),
                    )
    return found


class _Side:
    """One parameter away from its estimate, and how unlikely that makes the readings."""

    def __init__(self, search: Search, best: Descent, name: str, sd: float, error: float) -> None:
        self._name, self._sd, self._error, self._least = name, sd, error, best.rss
        self._place = search.free.index(name)
        self._value = float(best.values[self._place])
        self._others: Floats = np.delete(best.values, self._place)
        self._search = search
        # how far the last place was, and the others there
        self._last: tuple[float, Floats] | None = None
        # along the tangent the others move with it
        spread = best.unscaled[:, self._place] / best.unscaled[self._place, self._place]
        self._lean: Floats = np.delete(spread, self._place)

    def t_at(self, away: float) -> float:
        """Student's t of a value so far away; infinite where no curve goes through it."""
        held = self._value + away
        low, high = self._search.way.bounds.get(self._name, (-math.inf, math.inf))
        # an end of what it may be is reached to within rounding
        grain = 1e-12 * (abs(held) + abs(away))
        if not low - grain <= held <= high + grain:
            return math.inf
        held = min(max(held, low), high)
        if not len(self._others):
            rest = self._search.rss_at(np.array([held]))
            return _root(rest - self._least, self._sd)
        way = ParameterConstraints((*(s for s in self._search.way.settings if s.name != self._name),
                   Setting(self._name, held=held)))  # fmt: skip
        free = [name for name in self._search.free if name != self._name]
        fixed = evolve(self._search, way=way, free=free)
        # the others move along the tangent, or on the way from the last place
        ahead = self._others + away * self._lean
        ways = [ahead, self._others]
        if self._last is not None:
            last_away, last = self._last
            ways.append(self._others + (last - self._others) * (away / last_away))
        ended, rss = fixed.from_here(ways)
        if math.isfinite(rss):
            self._last = away, ended
        return _root(rss - self._least, self._sd)

    def end(self, t: float, way: float, t_far: float) -> float:
        """How far from the estimate, in one direction, Student's t is reached, which is `t_far`
        where the tangent's interval ends."""
        far = t * self._error
        bounds = self._search.way.bounds.get(self._name, (-math.inf, math.inf))
        room = abs(bounds[1 if way > 0 else 0] - self._value)
        if math.isfinite(room) and self.t_at(way * room) < t:
            # all up to the end of what it may be agrees with the readings
            return room
        # places and what t is there, the last of them too near
        seen = [(0.0, 0.0)]
        while t_far < t:
            seen.append((far, t_far))
            far *= 2
            if far > _FARTHEST * t * self._error:
                return math.inf
            t_far = self.t_at(way * far)
        near, _ = seen[-1]
        seen.append((far, t_far))
        for _ in range(_STEPS):
            # kept off both ends
            off = 0.1 * (far - near)
            at = min(max(_crossing(t, seen, near, far), near + off), far - off)
            t_at = self.t_at(way * at)
            seen.append((at, t_at))
            near, far = (at, far) if t_at < t else (near, at)
            found = _crossing(t, seen, near, far)
            size = min(found, abs(self._value + way * found))
            if abs(found - at) < max(_CLOSE * size, _LEAST * found):
                return found
        return near / 2 + far / 2


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
