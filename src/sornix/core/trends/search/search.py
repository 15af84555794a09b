"""The search for the least sum of squares of a formula.

It begins at the best places of a grid of the parameters that enter in no straight way, the others
being solved for, or at starts that were given and some about them, and goes down from there. Of
many readings, a part tells where to begin. Where the outcome leaves a doubt, a second search begins
at other places, drawn by chance from a seed; what it does not come to again is not known to be the
least, and is called so. Shapes of two parameters or more that enter in no straight way are always
looked for a second time, and what was found lower there is itself a doubt.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from functools import cached_property
from itertools import product
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.formula import Expression, Program
from sornix.core.frozen import frozen
from sornix.core.patience import go_on
from sornix.core.trends.fits.sample import Floats, ParameterConstraints, Sample
from sornix.core.trends.search.abreast import solved_at_once
from sornix.core.trends.search.descent import (
    ALIKE,
    Curve,
    Descent,
    descend,
    end_values,
    ends,
    rank,
)

Flags = NDArray[np.bool_]
# Possible values of the parameters that enter in no straight way, one row (k,) each.
Grid = Callable[[Sample], Floats]
# The usual ones of several sets of parameters that give one curve, by name, for readings at x.
Tidy = Callable[[Mapping[str, float], Floats], Mapping[str, float]]
_MOST_STARTS = 8
# Steps of a descent from places of a good grid, and of any other.
_FEW_STEPS, _MANY_STEPS, _SECOND_STEPS = 400, 3000, 150
# Steps from where a descent of nearly the same has ended: one that does not come to rest in so many
# is on a way without an end.
_ON_STEPS = 100
# The mean square of a part of the readings may be less than that of all by so much.
_BY_CHANCE = 1.2
# so many places of a grid are worked out together
_AT_ONCE = 400
_MOST_SEARCHED = 400
# Starts that were given are also tried this many times with every value up to three times as
# large or as small, because starts are guesses.
_NEARBY, _NEARBY_REACH = 24, 3.0
# Where a start that was given leads well, so many places of the grid are tried beside it.
_FEW_MORE = 3
# A second search looks at so many places drawn by chance, from a seed of its own each time,
# and takes so many steps to see which of the best lead down.
_DRAWN, _SECOND, _TURNS, _SECOND_SHORT = 600, 12, 2, 12


class Parts(NamedTuple):
    """A formula, its parameters, those of them in which it is a straight sum, and what works out
    the formula and its derivatives together."""

    whole: Expression
    names: tuple[str, ...]
    straight: tuple[str, ...]
    program: Program


class Found(NamedTuple):
    """Where a search ended, other ends that fit nearly as well, and whether a second search was
    made in vain to come there again."""

    best: Descent
    alike: tuple[Descent, ...]
    doubtful: bool


@frozen(slots=False)
class Search:
    """A search among the parameters that are `free` of a formula, for readings and what is asked.
    Without a `grid`, nothing is known of where to look."""

    parts: Parts
    grid: Grid | None
    tidy: Tidy | None
    sample: Sample
    way: ParameterConstraints
    free: list[str]

    def outcome(self) -> Found | None:
        """The end with the least sum of squares; None where no numbers were found at all."""
        with np.errstate(all="ignore"):
            led = self._goes_on()
            if led is not None:
                return Found(led, (), doubtful=False)
            reached = self.first_ends()
            if not reached:
                return None
            reached.sort(key=rank)
            doubtful = self._leaves_a_doubt(reached[0])
            looks = _TURNS if doubtful else self._has_many_valleys
            for turn in range(_TURNS):
                if turn >= looks:
                    break
                before = reached[0]
                other = self._second(turn, reached)
                again = [end for end in other if end.rss <= before.rss * (1 + 1e-6)]
                reached = sorted(reached + other, key=rank)
                if reached[0].rss < before.rss * (1 - 1e-6):
                    doubtful, looks = True, _TURNS
                elif again:
                    # the same end from elsewhere, and nothing below it
                    doubtful = False
                    break
            best = self._tidied(self._chosen(reached))
            return Found(best, self._alike(best, reached), doubtful)

    def _goes_on(self) -> Descent | None:
        """The end of the descent from where one that was nearly the same has ended: on the way to
        another fit, every parameter begins there, but for those that are solved for anyway."""
        starts = self.way.starts
        unknown = {name for name in self.free if name not in starts}
        if not self.way.quick or not starts or not unknown <= set(self.parts.straight):
            return None
        begin = np.array([starts.get(name, 1.0) for name in self.free])
        return descend(*self.curve(self.sample, _ON_STEPS), [begin])

    # -- where to begin ------------------------------------------------------------------------

    @cached_property
    def _straight(self) -> Flags:
        return np.array([name in self.parts.straight for name in self.free])

    def first_ends(self) -> list[Descent]:
        """Ends of the descents from starts that were given and the best places of the grid."""
        part, given = part_of(self.sample), self.way.starts
        searched, lowest = self._best_of(part, self._places)
        groups = [searched]
        if given:
            best = searched[0] if searched else np.ones(len(self.free))
            first = np.array([given.get(n, best[i]) for i, n in enumerate(self.free)])
            led = self._led(first, searched, part, lowest)
            if led:
                return led
            random = np.random.default_rng(3)
            reach = math.log(_NEARBY_REACH)
            nearby = first * np.exp(random.uniform(-reach, reach, (_NEARBY, len(self.free))))
            groups = [[first, *nearby], searched]
        if part is not self.sample:
            lower = end_values(ends(*self.curve(part), groups))[:3]
            groups = [[*lower, first] if given else lower]
        return ends(*self.curve(self.sample), groups)

    def _led(
        self, first: Floats, searched: list[Floats], part: Sample, lowest: float
    ) -> list[Descent]:
        """The end of the descent from a start that was given, with those of a few places of the
        grid, where nothing is lower, and nothing speaks against it; else none. Of many readings it
        is compared with the lowest sum of squares that was seen of a part of them."""
        curve, y = self.curve(self.sample)
        led = ends(curve, y, [[first]])
        if not led or not led[0].converged or led[0].loose:
            return []
        if part is not self.sample:
            is_low = led[0].rss / self.sample.n <= _BY_CHANCE * (lowest / part.n)
            return led if is_low else []
        led += ends(curve, y, [searched[:_FEW_MORE]], led)
        return led if min(led, key=rank) is led[0] and not self._leaves_a_doubt(led[0]) else []

    def _second(self, turn: int, known: list[Descent]) -> list[Descent]:
        """Ends of the descents from places drawn by chance between those of the grid."""
        random = np.random.default_rng(100 + turn)
        grid = self._places
        if not grid.shape[1]:
            return []
        columns = []
        for values in np.sort(grid, axis=0).T:
            at = random.uniform(0, len(values) - 1, _DRAWN)
            columns.append(np.interp(at, np.arange(len(values)), values))
        part = part_of(self.sample)
        best, _ = self._best_of(part, np.column_stack(columns), _SECOND)
        groups = [best]
        if part is not self.sample:
            groups = [end_values(ends(*self.curve(part, _SECOND_STEPS), groups))[:3]]
        curve, y = self.curve(self.sample, _SECOND_STEPS)
        return ends(curve, y, groups, known, _SECOND_SHORT)

    @cached_property
    def _places(self) -> Floats:
        """The grid of the free parameters that enter in no straight way, within their bounds."""
        bent = [name for name in self.free if name not in self.parts.straight]
        if not bent:
            return np.zeros((1, 0))
        if self.grid is not None:
            every = [name for name in self.parts.names if name not in self.parts.straight]
            grid = self.grid(self.sample)[:, [every.index(name) for name in bent]]
            grid = np.unique(grid, axis=0) if bent != every else grid
        else:
            grid = _wide_grid(len(bent), self.sample.x)
        limits = [self.way.bounds.get(name, (-math.inf, math.inf)) for name in bent]
        inside: Floats = np.clip(grid, [low for low, _ in limits], [high for _, high in limits])
        return inside

    def _best_of(
        self, sample: Sample, grid: Floats, most: int = _MOST_STARTS
    ) -> tuple[list[Floats], float]:
        """The best few of some places, with the straight parameters solved for, and the lowest sum
        of squares there."""
        x, straight, roots = sample.x, self._straight, sample.roots
        y = _weighted(sample)
        # the value of the formula, and what its straight parameters are multiplied by
        solved = [n for n, one in zip(self.free, straight, strict=True) if one]
        program = self.parts.program.only(0, *(1 + self.parts.names.index(name) for name in solved))
        found: list[tuple[Floats, Floats]] = []
        for begin in range(0, len(grid), _AT_ONCE):
            go_on()
            block = grid[begin : begin + _AT_ONCE]
            known: dict[str, Floats | float] = {
                **dict.fromkeys(self.parts.names, 0.0), **self.way.held,
            }  # fmt: skip
            bent = iter(block.T)
            values = np.zeros((len(block), len(self.free)))
            for i, name in enumerate(self.free):
                if not straight[i]:
                    values[:, i] = next(bent)
                    known[name] = values[:, i, None]
            told, *slopes = program.values(known | {"x": x}, len(block), len(x))
            fitted, columns = _in_columns(told, slopes, roots)
            rest = y - fitted
            if slopes:
                values[:, straight], rest = solved_at_once(columns, rest)
            found.append((values, (rest**2).sum(axis=-1)))
        values = np.concatenate([pair[0] for pair in found])
        rss = np.concatenate([pair[1] for pair in found])
        best = np.argsort(np.where(np.isfinite(rss), rss, np.inf), kind="stable")[:most]
        usable = best[np.isfinite(rss[best])]
        return [values[i] for i in usable], float(rss[usable].min(initial=np.inf))

    def curve(self, sample: Sample, most: int = 0) -> tuple[Curve, Floats]:
        """What a descent goes down, in so many steps at `most`, and the readings it goes by, both
        weighted."""
        roots, x, way = sample.roots, sample.x, self.way
        held = way.held
        places = [self.parts.names.index(name) for name in self.free]
        low = np.array([way.bounds.get(name, (-np.inf, 0.0))[0] for name in self.free])
        high = np.array([way.bounds.get(name, (0.0, np.inf))[1] for name in self.free])

        # asked for twice in turn where no parameter is solved for
        last: list[tuple[Floats, tuple[Floats, Floats]]] = []

        def at(values: Floats) -> tuple[Floats, Floats]:
            if last and last[0][0] is values:
                return last[0][1]
            found = worked_out(values)
            last[:] = [(values, found)]
            return found

        def worked_out(values: Floats) -> tuple[Floats, Floats]:
            known = {**held, **dict(zip(self.free, values.tolist(), strict=True)), "x": x}
            told, *slopes = self.parts.program.values(known)
            fitted = told if told.ndim else np.full(len(x), told)
            return _in_columns(fitted, [slopes[place] for place in places], roots)

        def at_all(values: Floats) -> tuple[Floats, Floats]:
            known = held | {name: values[:, i, None] for i, name in enumerate(self.free)}
            told, *slopes = self.parts.program.values(known | {"x": x}, len(values), len(x))
            return _in_columns(told, [slopes[place] for place in places], roots)

        straight = self._straight
        if np.isfinite([low, high]).any():
            straight = np.zeros_like(straight)
        usual = _FEW_STEPS if self.grid is not None and not way.starts else _MANY_STEPS
        return Curve(at, straight, low, high, most or usual, at_all), _weighted(sample)

    # -- what was found ------------------------------------------------------------------------

    def _leaves_a_doubt(self, found: Descent) -> bool:
        """Whether the readings look as if another curve of the shape went through them: they are
        no nearer to this one than to their mean by more than chance, or lie on one side of it for
        longer than chance would have it."""
        if self._straight.all():
            # the sum of squares of a straight sum has one least place, between bounds too
            return False
        if not found.converged or found.loose:
            return True
        y = _weighted(self.sample)
        n, p = len(y), len(self.free)
        if n < p + 3:
            return False
        total = float(((y - y.mean()) ** 2).sum())
        if total - found.rss < 4 * (p - 1) * found.rss / (n - p):
            return True
        signs = np.sign(found.residuals[np.argsort(self.sample.x, kind="stable")])
        signs = signs[signs != 0]
        above = int((signs > 0).sum())
        expected = 2 * above * (len(signs) - above) / max(len(signs), 1)
        runs = int((signs[1:] != signs[:-1]).sum())
        return len(signs) > 10 and runs < expected - 3 * expected / math.sqrt(len(signs))

    @property
    def _has_many_valleys(self) -> bool:
        """Whether two parameters or more enter in no straight way: then a grid is too wide to be
        sure of, even where the curve looks right."""
        return sum(not straight for straight in self._straight) > 1

    def _chosen(self, reached: list[Descent]) -> Descent:
        """Of several ends that are the lowest, as where terms of a sum change places, the nearest
        to starts that were given, else the one whose parameters come first in order."""
        starts = self.way.starts

        def order(end: Descent) -> tuple[float, list[float]]:
            known = dict(zip(self.free, end.values.tolist(), strict=True))
            off = sum(
                abs(known[name] - start) / (abs(known[name]) + abs(start) or 1.0)
                for name, start in starts.items() if name in known
            )  # fmt: skip
            return round(off, 3), [known[n] for n in self.free if n not in self.parts.straight]

        return min((end for end in reached if rank(end) == rank(reached[0])), key=order)

    def _tidied(self, found: Descent) -> Descent:
        """The same curve with the usual of the parameters that give it, where these are as was
        asked, and no further from where the search was to begin."""
        if self.tidy is None:
            return found
        known = self.way.held | dict(zip(self.free, found.values.tolist(), strict=True))
        usual = self.tidy(known, self.sample.x)
        held = any(usual[name] != value for name, value in self.way.held.items())
        out = any(not low <= usual[n] <= high for n, (low, high) in self.way.bounds.items())
        further = sum(abs(usual[name] - start) - abs(known[name] - start)
                      for name, start in self.way.starts.items() if name in known)  # fmt: skip
        if usual == known or held or out or further > 0:
            return found
        tidy = np.array([usual[name] for name in self.free])
        same = descend(*self.curve(self.sample), [tidy])
        return same if same is not None and same.rss <= found.rss * (1 + 1e-9) else found

    def _alike(self, best: Descent, others: list[Descent]) -> tuple[Descent, ...]:
        """Other ends about as likely as the best, each another curve."""
        n = len(best.residuals)
        scatter = math.sqrt(best.rss / n)
        found: list[Descent] = []
        for other in others:
            if not other.converged or other.loose or not best.rss > 0:
                continue
            if n / 2 * math.log(other.rss / best.rss) > ALIKE:
                continue
            apart = [np.abs(other.residuals - one.residuals).max() for one in (best, *found)]
            if min(apart) > 0.5 * scatter:
                found.append(self._tidied(other))
        return tuple(found)


def _in_columns(
    fitted: Floats, slopes: Sequence[Floats], roots: Floats | None
) -> tuple[Floats, Floats]:
    """Values (…, n) of a curve and its p derivatives in columns (…, n, p), weighted where readings
    have `roots` of weights (n,)."""
    columns = np.empty((*fitted.shape, len(slopes)))
    for place, slope in enumerate(slopes):
        columns[..., place] = slope
    return (fitted, columns) if roots is None else (fitted * roots, columns * roots[:, None])


def _weighted(sample: Sample) -> Floats:
    return sample.y if sample.roots is None else sample.y * sample.roots


def part_of(sample: Sample) -> Sample:
    """So many readings as tell where to begin: one at random from each stretch of x."""
    if sample.n <= _MOST_SEARCHED:
        return sample
    order = np.argsort(sample.x, kind="stable")
    edges = np.linspace(0, sample.n, _MOST_SEARCHED + 1).astype(np.intp)
    random = np.random.default_rng(2)
    return sample.some(order[random.integers(edges[:-1], edges[1:])])


def _wide_grid(count: int, x: Floats) -> Floats:
    """Places over many sizes of parameters of which nothing is known, also as they suit x."""
    reach = float(np.abs(x).max()) or 1.0
    sizes = np.concatenate([10.0 ** np.arange(-4, 4), 10.0 ** np.arange(-1, 2) / reach, [reach]])
    values = np.unique(np.concatenate([sizes, -sizes]))
    if count == 1:
        return values[:, None]
    if count == 2:
        return np.array(list(product(values, repeat=2)))
    random = np.random.default_rng(1)
    return random.choice(values, (600, count))
