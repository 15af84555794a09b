"""A straight line in several columns at once: y by x and others, by their products, and by steps of
categories.

The sums of squares and products are those of exact fractions of the decimal numbers that people
see, as for polynomials, where there are not too many readings for that; else by QR with residuals
in extended precision, twice refined (Å. Björck, "Numerical Methods for Least Squares Problems"
(1996), section 2.9). A category counts as a step from its first value to each other one (N. R.
Draper and H. Smith, "Applied Regression Analysis", 3rd edition (1998), chapter 14).

Along x it is drawn with all other columns at their averages.
"""

import math
from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import combinations
from typing import NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.text import Run, plural
from sornix.core.trends.fits.equation import (
    Equation,
    Printing,
    number_runs,
    printed_value,
    symbol_runs,
)
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.model import Symmetric
from sornix.core.trends.fits.sample import (
    PLAIN,
    Floats,
    ParameterConstraints,
    Sample,
    about_mean,
    ratio_unit,
)
from sornix.core.trends.models.rational import as_float, as_fraction, inverted

# So many products of exact fractions are made within a moment.
_MOST_EXACT = 80_000
_MOST_PARAMETERS = 20


class Further(NamedTuple):
    """A further column: its name and unit, and of a category the words of its values, which a
    sample holds as places among these."""

    name: str
    unit: str = ""
    levels: tuple[str, ...] = ()


# A place among x (0) and the further columns, with the level of a category or −1; and what one
# parameter multiplies, of which it is the name.
_Factor = tuple[int, int]
_Term = tuple[str, tuple[_Factor, ...]]


class Several(Symmetric):
    """See the module. `x_name` is that of the column along."""

    name, words, formula = "line", "line in several columns", ""
    method, straight = "ordinary least squares", False
    meanings: Mapping[str, str] = {}

    def __init__(self, x_name: str, further: Sequence[Further], *, products: bool) -> None:
        self._further = tuple(further)
        steps: list[list[tuple[str, _Factor]]] = [[(x_name, (0, -1))]]
        for place, one in enumerate(further, 1):
            if one.levels:
                steps.append([(f"{one.name} = {level}", (place, i))
                              for i, level in enumerate(one.levels) if i])  # fmt: skip
            else:
                steps.append([(one.name, (place, -1))])
        listed: list[_Term] = [("intercept", ())]
        listed += [(name, (factor,)) for group in steps for name, factor in group]
        if products:
            listed += [
                (f"{first} × {second}", (one, other))
                for a, b in combinations(steps, 2) for first, one in a for second, other in b
            ]  # fmt: skip
        self._listed = listed
        if len(listed) > _MOST_PARAMETERS:
            raise TrendImpossible(
                f"These columns make {plural(len(listed), 'parameter')}, and at most "
                f"{_MOST_PARAMETERS} can be told apart in a laboratory.",
                remedy="Take fewer columns, or none of their products.",
            )

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(name for name, _ in self._listed)

    # -- fitting -------------------------------------------------------------------------------

    def _factor(self, sample: Sample, factor: _Factor) -> Floats:
        place, level = factor
        if not place:
            return sample.x
        assert sample.others is not None
        values: Floats = sample.others[:, place - 1]
        return values if level < 0 else (values == level).astype(np.float64)

    def design(self, sample: Sample) -> Floats:
        """What each parameter multiplies at each reading, shape (n, p)."""
        columns = []
        for _, factors in self._listed:
            column = np.ones(sample.n)
            for factor in factors:
                column = column * self._factor(sample, factor)
            columns.append(column)
        return np.column_stack(columns)

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        if way.settings and not way.quick:
            raise TrendImpossible(
                "Parameters of a line in several columns are neither held nor bounded.",
                remedy="Free them, or take no further columns.",
            )
        p = len(self._listed)
        if sample.n < p:
            raise TrendImpossible(
                f"A line in these columns has {plural(p, 'parameter')}, and there "
                f"{'is' if sample.n == 1 else 'are'} {plural(sample.n, 'reading')}."
            )
        if sample.n * p * (p + 3) // 2 <= _MOST_EXACT:
            values, unscaled, rest = self._exact(sample)
        else:
            values, unscaled, rest = self._by_qr(sample)
        weights = np.ones(sample.n) if sample.weights is None else sample.weights
        listed = " and ".join(one.name for one in self._further)
        return Fit(
            self, self.names, tuple(values), self._units(sample), unscaled, sample, rest,
            math.fsum((weights * rest**2).tolist()), about_mean(sample),
            notes=(f"Drawn as it is with {listed} at the average of these readings.",),
        )  # fmt: skip

    def _exact(self, sample: Sample) -> tuple[list[float], Floats, Floats]:
        known: dict[_Factor, list[Fraction]] = {}
        columns = []
        for _, factors in self._listed:
            column = [Fraction(1)] * sample.n
            for factor in factors:
                if factor not in known:
                    known[factor] = [as_fraction(v) for v in self._factor(sample, factor).tolist()]
                column = [a * b for a, b in zip(column, known[factor], strict=True)]
            columns.append(column)
        y = [as_fraction(v) for v in sample.y.tolist()]
        weights = [Fraction(1)] * sample.n
        if sample.weights is not None:
            weights = [Fraction(w) for w in sample.weights.tolist()]
        heavy = [[w * v for w, v in zip(weights, c, strict=True)] for c in columns]

        def product(a: Sequence[Fraction], b: Sequence[Fraction]) -> Fraction:
            return sum((u * v for u, v in zip(a, b, strict=True)), Fraction(0))

        squares = [[product(a, b) for b in columns] for a in heavy]
        try:
            inverse = inverted(squares)
        except ZeroDivisionError:
            raise self._alike() from None
        right = [product(a, y) for a in heavy]
        values = [product(row, right) for row in inverse]
        fitted = [product(values, row) for row in zip(*columns, strict=True)]
        rest = np.array([as_float(a - b) for a, b in zip(y, fitted, strict=True)])
        unscaled = np.array([[as_float(v) for v in row] for row in inverse])
        return [as_float(v) for v in values], unscaled, rest

    def _by_qr(self, sample: Sample) -> tuple[list[float], Floats, Floats]:
        design = self.design(sample)
        roots = np.ones(sample.n) if sample.roots is None else sample.roots
        scale = np.linalg.norm(design * roots[:, None], axis=0)
        scale[scale == 0] = 1.0
        basis, triangle = np.linalg.qr(design * roots[:, None] / scale)
        size = np.abs(np.diag(triangle))
        if not size.min() > 1e-12 * size.max():
            raise self._alike()
        long = design.astype(np.longdouble) / scale
        found = np.zeros(len(scale), dtype=np.longdouble)
        rest = sample.y.astype(np.longdouble)
        for _ in range(3):
            step = np.linalg.solve(triangle, basis.T @ (rest.astype(np.float64) * roots))
            found = found + step
            rest = sample.y - long @ found
        inverse = np.linalg.inv(triangle) / scale[:, None]
        return (found / scale).astype(np.float64).tolist(), inverse @ inverse.T, np.asarray(
            rest, dtype=np.float64
        )  # fmt: skip

    def _alike(self) -> TrendImpossible:
        return TrendImpossible(
            "These columns do not vary independently of each other: what one of them does cannot "
            "be told apart from what the others do.",
            remedy="Leave one of them out, or the products.",
        )

    def _units(self, sample: Sample) -> tuple[str, ...]:
        units = [sample.x_unit, *(one.unit for one in self._further)]
        found = []
        for _, factors in self._listed:
            unit = sample.y_unit
            for place, level in factors:
                unit = ratio_unit(unit, units[place]) if level < 0 and units[place] else unit
            found.append(unit)
        return tuple(found)

    # -- using ---------------------------------------------------------------------------------

    def _held(self, fit: Fit) -> tuple[Floats, Floats]:
        """Of each parameter what it multiplies, all columns but x at their averages: this part of
        1 (p,), and this part of x (p,)."""
        sample = fit.sample
        ones, along = np.ones(len(self._listed)), np.zeros(len(self._listed))
        for i, (_, factors) in enumerate(self._listed):
            times = 1.0
            for factor in factors:
                if factor[0]:
                    times *= float(np.mean(self._factor(sample, factor)))
            has_x = any(not factor[0] for factor in factors)
            ones[i], along[i] = (0.0, times) if has_x else (times, 0.0)
        return ones, along

    def along_one(self, fit: Fit, place: int) -> Floats:
        """The trend at each reading (n,) with all columns at their averages but that of a place: 0
        for x, from 1 on for the further ones."""
        values, sample = np.array(fit.values), fit.sample
        found = np.zeros(sample.n)
        for value, (_, factors) in zip(values, self._listed, strict=True):
            part = np.full(sample.n, value)
            for factor in factors:
                own = self._factor(sample, factor)
                part = part * (own if factor[0] == place else float(np.mean(own)))
            found += part
        return found

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        ones, along = self._held(fit)
        found: Floats = ones + x[:, None] * along
        return found

    def at_readings(self, fit: Fit) -> Floats:
        return self.design(fit.sample)

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        ones, along = self._held(fit)
        values = np.array(fit.values)
        found: Floats = float(ones @ values) + x * float(along @ values)
        return found

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        """With as few digits as keep each parameter within a tenth of its standard error."""
        x, y = asked.symbols
        runs, printed = [*symbol_runs(y), Run(" = ")], []
        for (_, factors), value, name in zip(self._listed, fit.values, fit.names, strict=True):
            error = fit.standard_error(name)
            within = error / 10 if error else 0.0
            number = printed_value(value, within=within, exact=fit.is_exact, least_digits=3)
            printed.append(number)
            first = len(printed) == 1
            sign = "−" if number < 0 else "" if first else "+"
            runs.append(Run(sign if first else f" {sign} "))
            runs += number_runs(abs(number))
            for place, level in factors:
                runs.append(Run(" "))
                if not place:
                    runs += symbol_runs(x)
                elif level < 0:
                    runs.append(Run(self._further[place - 1].name))
                else:
                    of = self._further[place - 1]
                    runs.append(Run(f"[{of.name} = {of.levels[level]}]"))
        return Equation(tuple(run for run in runs if run.text), tuple(printed))
