"""Models that are formulas of x: fitted by descent, with derivatives from the formula itself."""

import math
from collections.abc import Callable, Iterator, Mapping
from decimal import Decimal
from itertools import product
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.formula import Expression, Program, names_in, parse_formula
from sornix.core.formula.derive import depends, derivative
from sornix.core.text import plural
from sornix.core.trends.descent import Curve, Descent, descend
from sornix.core.trends.equation import Equation, formula_runs, printed_value
from sornix.core.trends.fit import PLAIN, Fit, Floats, Sample, Way, ratio_unit
from sornix.core.trends.model import Symmetric

Flags = NDArray[np.bool_]
# Possible values of the parameters that enter in no straight way, one row (k,) each.
Grid = Callable[[Floats, Floats], Floats]
_MOST_STARTS = 8
_CHECKED = 80
_MOST_SEARCHED = 300
# Starts that were given are also tried this many times with every value up to three times as
# large or as small, because starts are guesses.
_NEARBY, _NEARBY_REACH = 24, 3.0


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

    `units` say of which unit a parameter is: that of `y`, of `x`, or `1/x`.
    """

    straight = False
    method = "nonlinear least squares"

    def __init__(
        self, name: str, words: str, formula: str, parameters: Mapping[str, str] | None = None,
        grid: Grid | None = None, units: Mapping[str, str] | None = None,
    ) -> None:  # fmt: skip
        self.name, self.words, self.formula = name, words, formula
        self.meanings: Mapping[str, str] = parameters or {}
        self._units = units or {}
        self._grid = grid
        self._made: _Parts | None = None

    @property
    def parts(self) -> _Parts:
        """The formula and what is made of it, when that is first wanted."""
        if self._made is None:
            whole = parse_formula(self.formula)
            found = dict.fromkeys(n.name for n in names_in(whole) if n.name != "x")
            names = tuple(self.meanings) or tuple(found)
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
        # a search meets places where the curve has no numbers, and passes them by
        with np.errstate(all="ignore"):
            found = self._descent(sample, way, free)
        if found is None:
            raise TrendImpossible(
                f"No {self.words} could be put through these readings.",
                remedy="Give other starts, or another shape.",
            )
        return self._outcome(sample, held, free, found)

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
            notes.append("The search did not come to rest; the numbers may not be the best ones.")
        if found.loose:
            listed = ", ".join(free[i] for i in found.loose)
            notes.append(f"The readings do not determine {listed}.")
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
        those of a search."""
        roots, held, x = sample.roots, way.held, sample.x
        places = [self.names.index(name) for name in free]
        y = sample.y if roots is None else sample.y * roots
        straight = np.array([name in self.parts.straight for name in free])
        low = np.array([way.bounds.get(name, (-np.inf, 0.0))[0] for name in free])
        high = np.array([way.bounds.get(name, (0.0, np.inf))[1] for name in free])

        def at(values: Floats) -> tuple[Floats, Floats]:
            known = held | dict(zip(free, values.tolist(), strict=True))
            fitted, *slopes = self.parts.program.run(known | {"x": x}, len(x))
            columns = np.column_stack([slopes[i] for i in places])
            return (
                (fitted, columns) if roots is None else (fitted * roots, columns * roots[:, None])
            )

        def settle(values: Floats) -> Floats:
            return settled(at, y, values, straight)

        curve = Curve(at, settle, low, high)
        starts = self._searched(sample, way, free, straight)
        given = way.starts
        if given:
            best = starts[0] if starts else np.ones(len(free))
            first = np.array([given.get(n, best[i]) for i, n in enumerate(free)])
            random = np.random.default_rng(3)
            reach = math.log(_NEARBY_REACH)
            nearby = first * np.exp(random.uniform(-reach, reach, (_NEARBY, len(free))))
            starts = [first, *nearby, *starts]
        return descend(curve, y, starts)

    def _searched(
        self, sample: Sample, way: Way, free: list[str], straight: Flags
    ) -> list[Floats]:  # fmt: skip
        """The best few places of the grid, with the straight parameters solved for."""
        x, y, roots = sample.x, sample.y, sample.roots
        if len(x) > _MOST_SEARCHED:
            # to begin with, some of the readings tell enough
            some = np.linspace(0, len(x) - 1, _MOST_SEARCHED).astype(np.intp)
            x, y, roots = x[some], y[some], None if roots is None else roots[some]
        bent = [name for name, is_straight in zip(free, straight, strict=True) if not is_straight]
        all_bent = [name for name in self.names if name not in self.parts.straight]
        if not bent:
            grid = np.zeros((1, 0))
        elif self._grid is not None:
            grid = self._grid(x, y)[:, [all_bent.index(name) for name in bent]]
            grid = np.unique(grid, axis=0) if bent != all_bent else grid
        else:
            grid = _wide_grid(len(bent), x)
        places = [self.names.index(name) for name in free]
        found: list[tuple[float, Floats]] = []
        target = y if roots is None else y * roots
        bounds = way.bounds
        for row in grid:
            known = dict.fromkeys(self.names, 0.0) | way.held
            for name, value in zip(bent, row.tolist(), strict=True):
                low, high = bounds.get(name, (-math.inf, math.inf))
                known[name] = min(max(value, low), high)
            fitted, *slopes = self.parts.program.run(known | {"x": x}, len(x))
            solved = _solved_for(fitted, [slopes[i] for i in places], straight, target, roots)
            if solved is not None:
                rss, added = solved
                values = np.array([known[name] for name in free])
                values[straight] += added
                found.append((rss, values))
        found.sort(key=lambda pair: pair[0])
        return [values for _, values in found[:_MOST_STARTS]]

    # -- using ---------------------------------------------------------------------------------

    def _run(self, fit: Fit, x: Floats) -> list[Floats]:
        flat = np.ravel(x)
        return self.parts.program.run(fit.known | {"x": flat}, len(flat))

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        found = self._run(fit, x)[0]
        return np.where(np.isfinite(found), found, np.nan).reshape(np.shape(x))

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        return np.column_stack(self._run(fit, x)[1:])

    def equation(
        self,
        fit: Fit,
        symbols: tuple[str, str],
        drawn: tuple[float, float],
        tolerance: float,
        *,
        units: bool = False,
    ) -> Equation:
        """With as few digits as keep each parameter within a tenth of its standard error, and more
        until the curve is given back within the tolerance."""
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
        return Equation(formula_runs(self.parts.whole, symbols, values, of), printed)

    def _printed(self, fit: Fit, more: int) -> Iterator[Decimal]:
        for name, value in zip(fit.names, fit.values, strict=True):
            error = fit.standard_error(name)
            within = error / 10 * 10.0**-more if error else 0.0
            exact = fit.rss == 0 or name in fit.held
            least = 15 if name in fit.held else 2 + more
            yield printed_value(value, within=within, exact=exact, least_digits=least)


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


def _solved_for(
    fitted: Floats, slopes: list[Floats], straight: Flags,
    target: Floats, roots: Floats | None,
) -> tuple[float, Floats] | None:  # fmt: skip
    """What the straight parameters have to change by, and the sum of squares that is left; None
    where the curve has no numbers."""
    weight = 1.0 if roots is None else roots
    rest = target - fitted * weight
    if not np.isfinite(rest).all():
        return None
    columns = [slope * weight for slope, is_one in zip(slopes, straight, strict=True) if is_one]
    if not columns:
        return float(rest @ rest), np.zeros(0)
    basis = np.column_stack(columns)
    scale = np.linalg.norm(basis, axis=0)
    if not np.isfinite(scale).all():
        return None
    scale[scale == 0] = 1.0
    added = np.linalg.lstsq(basis / scale, rest, rcond=None)[0] / scale
    rest = rest - basis @ added
    return float(rest @ rest), added


def settled(
    at: Callable[[Floats], tuple[Floats, Floats]], y: Floats, values: Floats,
    straight: Flags,
) -> Floats:  # fmt: skip
    """Parameters with the straight ones solved for, or just as they are where that fails."""
    if not straight.any() or straight.all():
        return values
    fitted, columns = at(values)
    solved = _solved_for(fitted, list(columns.T), straight, y, None)
    if solved is None:
        return values
    moved = values.copy()
    moved[straight] += solved[1]
    return moved if np.isfinite(moved).all() else values


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
