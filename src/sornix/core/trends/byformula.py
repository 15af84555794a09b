"""Models that are formulas of x: fitted by descent, with derivatives from the formula itself."""

import math
import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from decimal import Decimal
from itertools import product
from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.formula import Expression, Program, names_in, parse_formula
from sornix.core.formula.derive import depends, derivative
from sornix.core.text import plural
from sornix.core.trends.counting import AS_IT_IS, from_afar
from sornix.core.trends.descent import Curve, Descent, descend, ends_of
from sornix.core.trends.equation import Equation, Printing, formula_runs, printed_value
from sornix.core.trends.fit import PLAIN, Fit, Floats, Sample, Way, ratio_unit
from sornix.core.trends.model import Symmetric

Flags = NDArray[np.bool_]
# Possible values of the parameters that enter in no straight way, one row (k,) each.
Grid = Callable[[Floats, Floats], Floats]
# The usual ones of several sets of parameters that give one curve, by name, for readings at x.
Tidy = Callable[[Mapping[str, float], Floats], Mapping[str, float]]
_MOST_STARTS = 8
# Steps of a descent from places of a good grid, and of any other.
_FEW_STEPS, _MANY_STEPS = 400, 3000
# The mean square of a part of the readings may be less than that of all by so much.
_BY_CHANCE = 1.2
# so many places of a grid are worked out together
_AT_ONCE = 400
_CHECKED = 80
_MOST_SEARCHED = 400
# Starts that were given are also tried this many times with every value up to three times as
# large or as small, because starts are guesses.
_NEARBY, _NEARBY_REACH = 24, 3.0


# More than these no readings of a laboratory tell apart.
_MOST_PARAMETERS = 40

# How notes of these begin.
UNSETTLED, UNDETERMINED = "The search did not come to rest", "The readings do not determine"


class _Parts(NamedTuple):
    """A formula, its parameters, those of them in which it is a straight sum, and what works out
    the formula and its derivatives together."""

    whole: Expression
    names: tuple[str, ...]
    straight: tuple[str, ...]
    program: Program


class ByFormula(Symmetric):
    """A model by its formula; `parameters` are its names with what they mean. Starts are looked for
    on a grid of the parameters that enter in no straight way, the others being solved for.

    `units` say of which unit a parameter is: that of `y`, of `x`, or `1/x`. `tidy` chooses among
    parameters that give the same curve. Where x is far from 0, `origin` says what comes of it: with
    "moves" the parameters are told for x counted from near the first reading, with "scales" for x
    in parts of that; else it is the parameter that is itself a place along x, and only found so.
    """

    straight = False
    method = "nonlinear least squares"

    def __init__(
        self, name: str, words: str, formula: str, parameters: Mapping[str, str] | None = None,
        grid: Grid | None = None, units: Mapping[str, str] | None = None,
        tidy: Tidy | None = None, *, origin: str = "",
    ) -> None:  # fmt: skip
        self.name, self.words, self.formula = name, words, formula
        self.meanings: Mapping[str, str] = parameters or {}
        self._units = units or {}
        self._grid = grid
        self._tidy = tidy
        self.origin = origin
        self._made: _Parts | None = None

    @property
    def parts(self) -> _Parts:
        """The formula and what is made of it, when that is first wanted."""
        if self._made is None:
            whole = parse_formula(self.formula)
            found = dict.fromkeys(n.name for n in names_in(whole) if n.name != "x")
            names = tuple(self.meanings) or _in_order(found)
            if len(names) > _MOST_PARAMETERS:
                raise EditRefused(
                    f"This formula has {len(names)} parameters, and at most {_MOST_PARAMETERS} can "
                    "be fitted."
                )
            slopes = [derivative(whole, name) for name in names]
            self._made = _Parts(whole, names, _straight(names, slopes), Program([whole, *slopes]))
        return self._made

    @property
    def names(self) -> tuple[str, ...]:
        return self.parts.names

    # -- fitting -------------------------------------------------------------------------------

    def fit(self, sample: Sample, way: Way = PLAIN) -> Fit:
        names = self.names
        if not names:
            raise TrendImpossible(
                "This formula has no parameters to fit.",
                remedy="Name one in it, such as a * x, or draw it as a curve.",
            )
        way.checked(names, self.words)
        held = way.held
        free = [name for name in names if name not in held]
        if not free:
            raise TrendImpossible(
                "Every parameter is held, so there is nothing to fit.", remedy="Free one of them."
            )
        if sample.n < len(free):
            raise TrendImpossible(
                f"A curve with {plural(len(free), 'parameter')} needs as many readings, and there "
                f"{'is' if sample.n == 1 else 'are'} {sample.n or 'none'}."
            )
        inner = self.counted([sample])[0]
        if self.origin in names and inner is not sample:
            way = way.moved(self.origin, -inner.along.origin)
        # a search meets places where the curve has no numbers, and passes them by
        with np.errstate(all="ignore"):
            found = self._descent(inner, way, free)
        if found is None:
            raise TrendImpossible(
                f"No {self.words} could be put through these readings.",
                remedy="Give other starts, or another shape.",
            )
        outcome = self._outcome(inner, way.held, free, found)
        return self.put_back(outcome, sample) if inner is not sample else outcome

    def counted(self, samples: Sequence[Sample]) -> list[Sample]:
        """Readings as this model is fitted to them, counted alike; see `origin`."""
        if not self.origin or any(sample.along != AS_IT_IS for sample in samples):
            return list(samples)
        along = from_afar([sample.x for sample in samples], in_parts=self.origin == "scales")
        return [sample.counted(along) for sample in samples]

    def put_back(self, fit: Fit, sample: Sample) -> Fit:
        """A fit to counted readings with the parameter that is a place put back among those of x;
        one whose origin moves stays as it is."""
        if self.origin not in fit.names:
            return fit
        place = fit.names.index(self.origin)
        values = list(fit.values)
        values[place] = fit.along.place(values[place])
        return evolve(fit, values=tuple(values), sample=sample)

    def _outcome(
        self, sample: Sample, held: dict[str, float], free: list[str], found: Descent
    ) -> Fit:
        names = self.names
        values = held | dict(zip(free, found.values.tolist(), strict=True))
        places = [names.index(name) for name in free]
        unscaled = np.zeros((len(names),) * 2)
        unscaled[np.ix_(places, places)] = found.unscaled
        notes = []
        if not found.converged:
            notes.append(f"{UNSETTLED}; the numbers may not be the best ones.")
        if found.loose:
            listed = ", ".join(free[i] for i in found.loose)
            notes.append(f"{UNDETERMINED} {listed}.")
        notes += [f"{free[i]} is at the end of what it may be." for i in found.ended]
        at_end = {free[i] for i in found.ended}
        return Fit(
            self, names, tuple(values[name] for name in names), self.units(sample), unscaled,
            sample, sample.y - self.parts.program.run(values | {"x": sample.x}, sample.n)[0],
            math.fsum((found.residuals**2).tolist()), about_mean(sample), iterations=found.steps,
            converged=found.converged, notes=tuple(notes), held=frozenset(held) | at_end,
        )  # fmt: skip

    def units(self, sample: Sample) -> tuple[str, ...]:
        """The units of the parameters, "" where they are not known from the formula."""
        of = {"y": sample.y_unit, "x": sample.x_unit, "1/x": ratio_unit("", sample.x_unit),
              "y/x": ratio_unit(sample.y_unit, sample.x_unit)}  # fmt: skip
        return tuple(of.get(self._units.get(name, ""), "") for name in self.names)

    def _descent(self, sample: Sample, way: Way, free: list[str]) -> Descent | None:
        """The best of the descents from the starts that were given, from some about them, and from
        those of a search. Of many readings a part tells where to begin."""
        straight = np.array([name in self.parts.straight for name in free])
        part = _part_of(sample)
        searched, lowest = self._searched(part, way, free, straight)
        groups, given = [searched], way.starts
        if given:
            best = searched[0] if searched else np.ones(len(free))
            first = np.array([given.get(n, best[i]) for i, n in enumerate(free)])
            random = np.random.default_rng(3)
            reach = math.log(_NEARBY_REACH)
            nearby = first * np.exp(random.uniform(-reach, reach, (_NEARBY, len(free))))
            if part is not sample:
                # of many readings a start that leads lower than the search has seen is good enough
                led = descend(*self._curve(sample, way, free, straight), [first])
                if led is not None and led.converged and not led.loose and (
                    led.rss / sample.n <= _BY_CHANCE * lowest / part.n
                ):  # fmt: skip
                    return led
            groups = [[first, *nearby], searched]
        if part is not sample:
            ends = ends_of(*self._curve(part, way, free, straight), *groups)
            groups = [[*ends[:2], first] if given else ends[:2]]
        curve, y = self._curve(sample, way, free, straight)
        found = descend(curve, y, *groups)
        if given or found is None or self._tidy is None or way.settings:
            return found
        usual = self._tidy(dict(zip(free, found.values.tolist(), strict=True)), sample.x)
        tidy = np.array([usual[name] for name in free])
        if np.array_equal(tidy, found.values):
            return found
        same = descend(curve, y, [tidy])
        return same if same is not None and same.rss <= found.rss * (1 + 1e-9) else found

    def _curve(
        self, sample: Sample, way: Way, free: list[str], straight: Flags
    ) -> tuple[Curve, Floats]:
        """What a descent goes down, and the readings it goes by, both weighted."""
        roots, x = sample.roots, sample.x
        held = way.held
        places = [self.names.index(name) for name in free]
        low = np.array([way.bounds.get(name, (-np.inf, 0.0))[0] for name in free])
        high = np.array([way.bounds.get(name, (0.0, np.inf))[1] for name in free])

        def at(values: Floats) -> tuple[Floats, Floats]:
            known = held | dict(zip(free, values.tolist(), strict=True))
            fitted, *slopes = self.parts.program.run(known | {"x": x}, len(x))
            columns = np.column_stack([slopes[i] for i in places])
            return (
                (fitted, columns) if roots is None else (fitted * roots, columns * roots[:, None])
            )

        bounded = np.isfinite(low) | np.isfinite(high)
        known = self._grid is not None and not way.starts
        curve = Curve(
            at, straight if not bounded.any() else np.zeros_like(bounded), low, high,
            _FEW_STEPS if known else _MANY_STEPS,
        )  # fmt: skip
        return curve, sample.y if roots is None else sample.y * roots

    def _searched(
        self, sample: Sample, way: Way, free: list[str], straight: Flags
    ) -> tuple[list[Floats], float]:
        """The best few places of the grid, with the straight parameters solved for, and the lowest
        sum of squares there."""
        x, y, roots = sample.x, sample.y, sample.roots
        grid = self._places(x, y, way, [n for n, is_one in zip(free, straight, strict=True)
                                        if not is_one])  # fmt: skip
        places = [self.names.index(name) for name in free]
        weight = np.ones(len(x)) if roots is None else roots
        found: list[tuple[Floats, Floats]] = []
        for begin in range(0, len(grid), _AT_ONCE):
            block = grid[begin : begin + _AT_ONCE]
            known: dict[str, Floats | float] = {**dict.fromkeys(self.names, 0.0), **way.held}
            bent = iter(block.T)
            values = np.zeros((len(block), len(free)))
            for i, name in enumerate(free):
                if not straight[i]:
                    values[:, i] = next(bent)
                    known[name] = values[:, i, None]
            fitted, *slopes = self.parts.program.run(known | {"x": x}, len(block), len(x))
            columns = np.stack([slopes[i] * weight for i in places], axis=-1)[..., straight]
            rest = y * weight - fitted * weight
            values[:, straight], rss = _solved_at_once(columns, rest)
            found.append((values, rss))
        values = np.concatenate([pair[0] for pair in found])
        rss = np.concatenate([pair[1] for pair in found])
        best = np.argsort(np.where(np.isfinite(rss), rss, np.inf), kind="stable")[:_MOST_STARTS]
        found_rss = rss[best]
        usable = best[np.isfinite(found_rss)]
        return [values[i] for i in usable], float(rss[usable].min(initial=np.inf))

    def _places(self, x: Floats, y: Floats, way: Way, bent: list[str]) -> Floats:
        """The grid of the free parameters that enter in no straight way, within their bounds."""
        if not bent:
            return np.zeros((1, 0))
        if self._grid is not None:
            every = [name for name in self.names if name not in self.parts.straight]
            grid = self._grid(x, y)[:, [every.index(name) for name in bent]]
            grid = np.unique(grid, axis=0) if bent != every else grid
        else:
            grid = _wide_grid(len(bent), x)
        ends = [way.bounds.get(name, (-math.inf, math.inf)) for name in bent]
        inside: Floats = np.clip(grid, [low for low, _ in ends], [high for _, high in ends])
        return inside

    # -- using ---------------------------------------------------------------------------------

    def _run(self, fit: Fit, x: Floats) -> list[Floats]:
        flat = np.ravel(x)
        return self.parts.program.run(fit.known | {"x": flat}, len(flat))

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        found = self._run(fit, x)[0]
        return np.where(np.isfinite(found), found, np.nan).reshape(np.shape(x))

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        return np.column_stack(self._run(fit, x)[1:])

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        """With as few digits as keep each parameter within a tenth of its standard error, and more
        until the curve is given back within the tolerance."""
        symbols, drawn, tolerance, units = asked
        places = np.linspace(*drawn, _CHECKED)
        curve = self.evaluate(fit, places)
        more = 0
        while True:
            printed = tuple(self._printed(fit, more))
            known = {n: float(v) for n, v in zip(fit.names, printed, strict=True)}
            off = np.abs(self.parts.program.run(known | {"x": places}, _CHECKED)[0] - curve)
            if more > 14 or not np.nanmax(off, initial=0.0) > tolerance:
                break
            more += 1
        values = dict(zip(fit.names, printed, strict=True))
        of = dict(zip(fit.names, fit.units, strict=True)) if units else {}
        return Equation(formula_runs(self.parts.whole, symbols, values, of, fit.along), printed)

    def _printed(self, fit: Fit, more: int) -> Iterator[Decimal]:
        for name, value in zip(fit.names, fit.values, strict=True):
            error = fit.standard_error(name)
            within = error / 10 * 10.0**-more if error else 0.0
            exact = fit.rss == 0 or name in fit.held
            least = 15 if name in fit.held else 2 + more
            yield printed_value(value, within=within, exact=exact, least_digits=least)


def _in_order(names: Iterable[str]) -> tuple[str, ...]:
    """Names as they were written, or by their numbers if they are numbered: b1, b2, b10."""
    listed = list(names)
    parts = [re.fullmatch(r"(\D+)(\d+)", name) for name in listed]
    if len({part[1] for part in parts if part}) == 1 and all(parts):
        listed.sort(key=lambda name: int(re.sub(r"\D", "", name)))
    return tuple(listed)


def _part_of(sample: Sample) -> Sample:
    """So many readings as tell where to begin: one at random from each stretch of x."""
    if sample.n <= _MOST_SEARCHED:
        return sample
    order = np.argsort(sample.x, kind="stable")
    edges = np.linspace(0, sample.n, _MOST_SEARCHED + 1).astype(np.intp)
    random = np.random.default_rng(2)
    some = order[random.integers(edges[:-1], edges[1:])]
    return sample.some(some)


def about_mean(sample: Sample) -> float:
    """The weighted sum of squares of y about its weighted mean."""
    weights = np.ones(sample.n) if sample.weights is None else sample.weights
    mean = math.fsum((weights * sample.y).tolist()) / math.fsum(weights.tolist())
    return math.fsum((weights * (sample.y - mean) ** 2).tolist())


def _straight(names: tuple[str, ...], slopes: list[Expression]) -> tuple[str, ...]:
    """Parameters in which, together, a formula with these derivatives is a straight sum."""
    kept: list[str] = []
    for name in names:
        together = [*kept, name]
        parts = [s for n, s in zip(names, slopes, strict=True) if n in together]
        if not any(depends(part, other) for part in parts for other in together):
            kept.append(name)
    return tuple(kept)


def _solved_at_once(columns: Floats, rest: Floats) -> tuple[Floats, Floats]:
    """Straight parameters for many curves at once, from the derivatives (k, n, p) and what is left
    to fit (k, n): (k, p), and the sums of squares that remain (k,). Good enough to begin with."""
    if not columns.shape[-1]:
        return np.zeros((len(rest), 0)), (rest**2).sum(axis=-1)
    usable = np.asarray(np.isfinite(columns).all(axis=(1, 2)) & np.isfinite(rest).all(axis=1))
    columns, rest = (
        np.where(usable[:, None, None], columns, 0.0),
        np.where(usable[:, None], rest, np.inf),
    )
    scale = np.sqrt((columns**2).sum(axis=1, keepdims=True))
    scale[(scale == 0) | ~np.isfinite(scale)] = 1.0
    unit = columns / scale
    squares = unit.transpose(0, 2, 1) @ unit
    squares += 1e-12 * np.eye(squares.shape[-1])
    right = (unit * np.where(np.isfinite(rest), rest, 0.0)[..., None]).sum(axis=1)
    solved = np.linalg.solve(squares, right[..., None])[..., 0]
    left = rest - (unit @ solved[..., None])[..., 0]
    found: Floats = solved / scale[:, 0, :]
    return found, (left**2).sum(axis=-1)


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
