"""Models that are formulas of x: fitted by descent, with derivatives from the formula itself."""

import math
from collections.abc import Callable, Iterator, Mapping
from decimal import Decimal
from itertools import product

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.formula import Expression, Name, evaluate, names_in, parse_formula
from sornix.core.formula.derive import depends, derivative
from sornix.core.text import plural
from sornix.core.trends.descent import descend
from sornix.core.trends.equation import Equation, formula_runs, printed_value
from sornix.core.trends.fit import Fit, Floats, Prediction

# Possible values of the parameters that enter in no straight way, one row (k,) each.
Grid = Callable[[Floats, Floats], Floats]
_MOST_STARTS = 4
_CHECKED = 80
_MOST_SEARCHED = 300


class ByFormula:
    """A model by its formula; `parameters` are its names with what they mean. Starts are looked for
    on a grid of the parameters that enter in no straight way, the others being solved for."""

    straight = False
    method = "nonlinear least squares"

    def __init__(
        self, name: str, words: str, formula: str, parameters: Mapping[str, str] | None = None,
        grid: Grid | None = None, starts: Mapping[str, float] | None = None,
    ) -> None:  # fmt: skip
        self.name, self.words, self.formula = name, words, formula
        self.meanings = parameters or {}
        self._given = starts or {}
        self._grid = grid
        self._parsed: tuple[Expression, tuple[str, ...], list[Expression]] | None = None

    @property
    def _parts(self) -> tuple[Expression, tuple[str, ...], list[Expression]]:
        """The formula, its parameters, and its derivatives; parsed when they are first wanted."""
        if self._parsed is None:
            whole = parse_formula(self.formula)
            found = dict.fromkeys(n.name for n in names_in(whole) if n.name != "x")
            names = tuple(self.meanings) or tuple(found)
            self._parsed = whole, names, [derivative(whole, name) for name in names]
        return self._parsed

    def _at(self, expression: Expression, values: Mapping[str, float], x: Floats) -> Floats:
        def value_of(name: Name) -> Floats:
            if name.name == "x":
                return x
            return np.full(x.shape, values[name.name])

        return np.broadcast_to(evaluate(expression, value_of), x.shape)

    # -- starts --------------------------------------------------------------------------------

    def _straight(self) -> tuple[str, ...]:
        """Parameters in which, together, the formula is a straight sum."""
        _, names, slopes = self._parts
        kept: list[str] = []
        for name, slope in zip(names, slopes, strict=True):
            together = [*kept, name]
            parts = [s for n, s in zip(names, slopes, strict=True) if n in together]
            if not any(depends(part, other) for part in parts for other in together):
                kept.append(name)
            assert slope is not None
        return tuple(kept)

    def _starts(self, x: Floats, y: Floats) -> list[Floats]:
        """The best few places of the grid, with the straight parameters solved for."""
        whole, names, slopes = self._parts
        if len(x) > _MOST_SEARCHED:
            # to begin with, some of the readings tell enough
            some = np.linspace(0, len(x) - 1, _MOST_SEARCHED).astype(np.intp)
            x, y = x[some], y[some]
        straight = self._straight()
        bent = [name for name in names if name not in straight]
        if all(name in self._given for name in names):
            return [np.array([self._given[name] for name in names])]
        grid = self._grid(x, y) if self._grid is not None else _wide_grid(len(bent), x)
        found: list[tuple[float, Floats]] = []
        with np.errstate(all="ignore"):
            for row in grid if bent else np.zeros((1, 0)):
                values = dict.fromkeys(names, 0.0) | dict(zip(bent, row.tolist(), strict=True))
                values |= {n: v for n, v in self._given.items() if n in bent}
                columns = [self._at(s, values, x) for n, s in zip(names, slopes, strict=True)
                           if n in straight]  # fmt: skip
                rest = y - self._at(whole, values, x)
                if not np.isfinite(rest).all() or not all(np.isfinite(c).all() for c in columns):
                    continue
                if columns:
                    basis = np.column_stack(columns)
                    scale = np.linalg.norm(basis, axis=0)
                    scale[scale == 0] = 1.0
                    solved = np.linalg.lstsq(basis / scale, rest, rcond=None)[0] / scale
                    rest = rest - basis @ solved
                    values |= dict(zip(straight, solved.tolist(), strict=True))
                found.append((float(rest @ rest), np.array([values[name] for name in names])))
        found.sort(key=lambda pair: pair[0])
        return [values for _, values in found[:_MOST_STARTS]]

    # -- fitting -------------------------------------------------------------------------------

    def fit(
        self,
        x: Floats,
        y: Floats,
        rows: NDArray[np.intp],
        x_unit: str,  # noqa: ARG002 - the units of parameters are not worked out from a formula
        y_unit: str,  # noqa: ARG002
    ) -> Fit:
        whole, names, slopes = self._parts
        if len(x) < len(names):
            raise TrendImpossible(
                f"A curve with {plural(len(names), 'parameter')} needs as many readings, and there "
                f"{'is' if len(x) == 1 else 'are'} {len(x) or 'none'}."
            )

        def curve(values: Floats) -> tuple[Floats, Floats]:
            known = dict(zip(names, values.tolist(), strict=True))
            with np.errstate(all="ignore"):
                parts = [self._at(slope, known, x) for slope in slopes]
                return self._at(whole, known, x), np.column_stack(parts)

        found = descend(curve, y, self._starts(x, y))
        if found is None:
            raise TrendImpossible(
                f"No {self.words} could be put through these readings.",
                remedy="Give other starts, or another shape.",
            )
        notes = []
        if not found.converged:
            notes.append("The search did not come to rest; the numbers may not be the best ones.")
        if found.loose:
            listed = ", ".join(names[i] for i in found.loose)
            notes.append(f"The readings do not determine {listed}.")
        about = y - math.fsum(y.tolist()) / len(y)
        return Fit(
            self.name, names, tuple(found.values.tolist()), ("",) * len(names), found.unscaled, x,
            y, rows, found.residuals, math.fsum((found.residuals**2).tolist()),
            math.fsum((about**2).tolist()), iterations=found.steps, converged=found.converged,
            notes=tuple(notes),
        )  # fmt: skip

    # -- using ---------------------------------------------------------------------------------

    def _known(self, fit: Fit) -> dict[str, float]:
        return dict(zip(fit.names, fit.values, strict=True))

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        return self._at(self._parts[0], self._known(fit), x)

    def predict(self, fit: Fit, x: float) -> Prediction:
        """With the intervals of a first-order expansion (the delta method)."""
        at = np.array([x])
        value = float(self.evaluate(fit, at)[0])
        if fit.residual_sd is None or fit.t95 is None:
            return Prediction(x, value, None, None)
        known = self._known(fit)
        gradient = np.array([float(self._at(s, known, at)[0]) for s in self._parts[2]])
        leverage = max(float(gradient @ fit.unscaled @ gradient), 0.0)
        mean, single = (fit.t95 * fit.residual_sd * math.sqrt(v) for v in (leverage, 1 + leverage))
        return Prediction(x, value, (value - mean, value + mean), (value - single, value + single))

    def read_off(self, fit: Fit, y: float) -> tuple[float, tuple[float, float] | None]:
        """The one x of the readings at which the trend is `y`, with the interval of a first-order
        expansion there. Raises TrendImpossible where there is not just one."""
        low, high = float(fit.x.min()), float(fit.x.max())
        places = np.linspace(low, high, 2001)
        off = self.evaluate(fit, places) - y
        turns = np.flatnonzero(np.sign(off[:-1]) * np.sign(off[1:]) <= 0)
        if not len(turns) or turns[-1] - turns[0] > 1:
            several = "several x have" if len(turns) else "no x of the readings has"
            raise TrendImpossible(f"On this curve {several} that y.")
        a, b = float(places[turns[0]]), float(places[turns[-1] + 1])
        side = math.copysign(1.0, float(off[turns[0]]) or -float(off[turns[-1] + 1]))
        for _ in range(80):
            middle = a / 2 + b / 2
            if float(self.evaluate(fit, np.array([middle]))[0] - y) * side > 0:
                a = middle
            else:
                b = middle
        x = a / 2 + b / 2
        slope = float(self._at(derivative(self._parts[0], "x"), self._known(fit), np.array([x]))[0])
        around = self.predict(fit, x).prediction95
        if around is None or not slope:
            return x, None
        half = (around[1] - around[0]) / 2 / abs(slope)
        return x, (x - half, x + half)

    def equation(
        self, fit: Fit, symbols: tuple[str, str], drawn: tuple[float, float], tolerance: float
    ) -> Equation:
        """With as few digits as keep each parameter within a tenth of its standard error, and more
        until the curve is given back within the tolerance."""
        places = np.linspace(*drawn, _CHECKED)
        curve = self.evaluate(fit, places)
        more = 0
        while True:
            printed = tuple(self._printed(fit, more))
            known = {n: float(v) for n, v in zip(fit.names, printed, strict=True)}
            off = np.abs(self._at(self._parts[0], known, places) - curve)
            if more > 14 or not np.nanmax(off, initial=0.0) > tolerance:
                break
            more += 1
        values = dict(zip(fit.names, printed, strict=True))
        return Equation(formula_runs(self._parts[0], symbols, values), printed)

    def _printed(self, fit: Fit, more: int) -> Iterator[Decimal]:
        for name, value in zip(fit.names, fit.values, strict=True):
            error = fit.standard_error(name)
            within = error / 10 * 10.0**-more if error else 0.0
            yield printed_value(value, within=within, exact=fit.rss == 0, least_digits=2 + more)


def _wide_grid(count: int, x: Floats) -> Floats:
    """Places over many sizes of parameters of which nothing is known, also as they suit x."""
    if not count:
        return np.zeros((1, 0))
    reach = float(np.abs(x).max()) or 1.0
    sizes = np.concatenate([10.0 ** np.arange(-4, 4), 10.0 ** np.arange(-1, 2) / reach, [reach]])
    values = np.unique(np.concatenate([sizes, -sizes]))
    if count == 1:
        return values[:, None]
    if count == 2:
        return np.array(list(product(values, repeat=2)))
    random = np.random.default_rng(1)
    return random.choice(values, (600, count))
