"""Polynomials by least squares: y = b0 + b1 · x + … + bk · x^k, and lines through a fixed point.

A reading is the decimal number that a person sees: 0.1 means one tenth. Of as many readings as a
laboratory has, the normal equations are set up and solved in exact rational arithmetic, about a
centre near the mean of x; so every parameter, standard error and sum of squares is right to the
last digit, whatever the degree and however far x is from zero. Weights are taken as they are in
binary64, and held coefficients go to the other side of the equations, so all this holds for them
too. Of more readings than that, a basis of Chebyshev polynomials on x scaled to −1 … 1 is made
orthogonal by QR (G. H. Golub, Numerische Mathematik 7 (1965) 206–216), refined once, and converted
back exactly.
"""

import math
from collections.abc import Mapping, Sequence
from decimal import Decimal
from fractions import Fraction
from itertools import product
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.text import as_subject, plural, there_are
from sornix.core.trends.fits.equation import (
    Equation,
    Printing,
    as_typed,
    polynomial_runs,
    printed_value,
)
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.model import Symmetric, at_ends
from sornix.core.trends.fits.sample import (
    PLAIN,
    Floats,
    ParameterConstraints,
    Sample,
    Setting,
    ratio_unit,
)
from sornix.core.trends.models.rational import (
    Matrix,
    as_float,
    as_floats,
    as_fraction,
    as_fractions,
    inverted,
    near_mean,
    power_sums,
    product_of,
    spread_out,
    transposed,
    whole_numbers,
)

# More products of readings and powers than this are not worth exact arithmetic.
_MOST_EXACT = 60_000
_HIGHEST = 10

_ALL_USED = "As many readings as parameters determine the curve, and leave nothing to judge it by."
_ONE_USED = "One reading determines a line through a point, and leaves nothing to judge it by."
TWO_USED = "Two readings determine a line, and leave nothing to judge it by."

Held = dict[int, Fraction]


class Solved(NamedTuple):
    """A polynomial about a centre: coefficients of (x − centre)^k for each power k from 0 to the
    degree, the inverse of XᵀWX for those that are free, 0 for others, and the sums of squares of
    the residuals and about the mean (or about a held level)."""

    centre: Fraction
    values: list[Fraction]
    unscaled: Matrix
    rss: float
    tss: float


class Polynomial(Symmetric):
    """See the module. Some of its coefficients may be held; `names` are those of the others."""

    method = "ordinary least squares"

    def __init__(self, degree: int, name: str = "", words: str = "") -> None:
        self.degree = degree
        self.name = name or f"polynomial-{degree}"
        self.words = words or f"polynomial of degree {degree}"
        self.straight = degree == 1
        self.meanings: Mapping[str, str] = {}

    @property
    def names(self) -> tuple[str, ...]:
        return tuple(f"b{k}" for k in range(self.degree + 1))

    @property
    def formula(self) -> str:
        parts = [f"{name} * x^{k}" for k, name in enumerate(self.names)]
        return " + ".join([self.names[0], *(p.removesuffix("^1") for p in parts[1:])])

    # -- fitting -------------------------------------------------------------------------------

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        way.checked(self.names, self.words)
        held = {self.names.index(n): as_fraction(v) for n, v in way.held.items()}
        if len(held) > self.degree:
            raise TrendImpossible(
                "Every parameter is held, so there is nothing to fit.",
                remedy="Free one of them, or draw a curve from a formula.",
            )
        if way.bounds:
            return self._bounded(sample, way)
        # held coefficients are those of powers of x itself
        return self.solved(sample, held, Fraction(0) if held else None, in_turn=way.quick)

    def _bounded(self, sample: Sample, way: ParameterConstraints) -> Fit:
        """The best of the fits with each of the bounded parameters free or at one of its ends: the
        least of a convex sum of squares over a box is one of them."""
        ends = [[None, *(e for e in pair if math.isfinite(e))] for pair in way.bounds.values()]
        if math.prod(map(len, ends)) > _MOST_SIDES:
            raise TrendImpossible("So many bounds at once cannot be kept.")
        best: Fit | None = None
        for sides in product(*ends):
            at = [Setting(n, v) for n, v in zip(way.bounds, sides, strict=True) if v is not None]
            values = way.held | {s.name: s.held for s in at if s.held is not None}
            held = {self.names.index(n): as_fraction(v) for n, v in values.items()}
            try:
                found = self.solved(sample, held, Fraction(0) if held else None, in_turn=way.quick)
            except TrendImpossible:
                continue
            inside = all(low <= found.value(n) <= high for n, (low, high) in way.bounds.items())
            if inside and (best is None or found.rss < best.rss):
                notes = [f"{s.name} is at the end of what it may be." for s in at]
                best = evolve(found, notes=(*found.notes, *notes))
        if best is None:
            raise TrendImpossible(f"No {self.words} keeps within these bounds.")
        at_end = [name for name in way.bounds if name in best.held]
        return evolve(best, ends95=at_ends(self, sample, way, at_end, best.known))

    def solved(
        self, sample: Sample, held: Held, centre: Fraction | None, *, in_turn: bool = False
    ) -> Fit:
        """The fit with some coefficients of powers of (x − centre) held; without a centre, one is
        chosen. Where weights are found `in_turn` with it, they are not exact, so that it need not
        be."""
        free = [k for k in range(self.degree + 1) if k not in held]
        self._check_enough(sample, free, held, centre)
        is_rough = in_turn and sample.weights is not None
        solved = None if is_rough else self._exact(sample, held, centre)
        solved = solved or self._by_qr(sample, held, centre)
        raw, unscaled = self._raw(solved) if centre is None else (solved.values, solved.unscaled)
        values, inner = as_floats(raw), as_floats(solved.values)
        inverse = np.array([as_floats(row) for row in unscaled])
        if not (np.isfinite([*values, *inner, solved.rss, solved.tss]).all()
                and np.isfinite(inverse).all()):  # fmt: skip
            raise TrendImpossible(
                "These numbers are too large or too small for a polynomial to be computed.",
                remedy="Give the columns in other units.",
            )
        about = float(solved.centre)
        fitted = horner(np.array(inner), sample.x - about)
        used = TWO_USED if sample.n == 2 else _ONE_USED
        notes = [used if self.degree == 1 else _ALL_USED] if sample.n == len(free) else []
        r = None
        if self.degree == 1 and not held and solved.tss > 0 and sample.n > 2:
            r = math.copysign(math.sqrt(max(1 - solved.rss / solved.tss, 0)), values[1])
        return Fit(
            self, self.names, tuple(values), self._units(sample), inverse, sample,
            sample.y - fitted if solved.rss else np.zeros(sample.n), solved.rss, solved.tss, r,
            notes=tuple(notes), held=frozenset(self.names[k] for k in held), centre=about,
            inner=tuple(inner),
            inner_unscaled=np.array([as_floats(row) for row in solved.unscaled]),
            level=float(held[0]) if 0 in held else None,
        )  # fmt: skip

    def _units(self, sample: Sample) -> tuple[str, ...]:
        return tuple(_unit(sample.y_unit, sample.x_unit, k) for k in range(self.degree + 1))

    def _check_enough(
        self, sample: Sample, free: Sequence[int], held: Held, centre: Fraction | None
    ) -> None:
        x = sample.x
        if sample.weights is not None:
            # wild readings weigh nothing in the end
            x = x[sample.weights > 0]
        at_point = 0 in held and centre is not None
        distinct = len(np.unique(x[x != float(centre or 0)] if at_point else x))
        if distinct < len(free):
            # a line is put through readings, a point on it does not count as one
            beside = f" besides {float(centre or 0):g}" if at_point else ""
            weigh = " that weigh more than nothing" if len(x) < sample.n else ""
            raise TrendImpossible(
                f"{as_subject(self.words, 'needs', 'need')} readings{weigh} at "
                f"{plural(len(free), 'different x', 'different x')}{beside}, and "
                f"{there_are(distinct)}."
            )

    # -- solving -------------------------------------------------------------------------------

    def _exact(self, sample: Sample, held: Held, centre: Fraction | None) -> Solved | None:
        """The answer in rational arithmetic, or None where that would take too long."""
        if sample.n * (2 * self.degree + 1) > _MOST_EXACT:
            return None
        found = [whole_numbers(v) for v in (sample.x, sample.y)]
        weighed = ([1] * sample.n, Fraction(1))
        heavy = weighed if sample.weights is None else whole_numbers(sample.weights)
        if found[0] is None or found[1] is None or heavy is None:
            return None
        (u, x_unit), (v, y_unit) = found[0], found[1]
        weights, w_unit = heavy
        about = Fraction(near_mean(u)) if centre is None else centre / x_unit
        if about.denominator != 1:
            # a finer unit, in which the centre is a whole number
            u, x_unit = [a * about.denominator for a in u], x_unit / about.denominator
            about *= about.denominator
        u = [value - int(about) for value in u]
        sums, moments = power_sums(u, v, weights, self.degree)
        free = [k for k in range(self.degree + 1) if k not in held]
        fixed = {k: c * x_unit**k / y_unit for k, c in held.items()}
        right = [moments[j] - sum((c * sums[j + k] for k, c in fixed.items()), Fraction(0))
                 for j in free]  # fmt: skip
        inverse = inverted([[Fraction(sums[i + j]) for j in free] for i in free])
        solved = [sum((a * b for a, b in zip(row, right, strict=True)), Fraction(0))
                  for row in inverse]  # fmt: skip
        squares = sum(w * b * b for w, b in zip(weights, v, strict=True))
        left = squares - 2 * sum((c * moments[k] for k, c in fixed.items()), Fraction(0))
        left += sum((a * b * sums[i + j] for i, a in fixed.items() for j, b in fixed.items()),
                    Fraction(0))  # fmt: skip
        rss = left - sum((c * m for c, m in zip(solved, right, strict=True)), Fraction(0))
        level = fixed.get(0, Fraction(moments[0], sums[0]))
        tss = squares - 2 * level * moments[0] + level * level * sums[0]
        values = fixed | dict(zip(free, solved, strict=True))
        return Solved(
            about * x_unit,
            [values[k] * y_unit / x_unit**k for k in range(self.degree + 1)],
            spread_out(inverse, free, self.degree, x_unit, w_unit),
            as_float(rss * y_unit**2 * w_unit), as_float(tss * y_unit**2 * w_unit),
        )  # fmt: skip

    def _by_qr(self, sample: Sample, held: Held, centre: Fraction | None) -> Solved:
        """The answer in binary64, for many readings."""
        x, y, degree = sample.x, sample.y, self.degree
        low, high = float(x.min()), float(x.max())
        about = low / 2 + high / 2 if centre is None else float(centre)
        half = max(abs(low - about), abs(high - about))
        t = (x - about) / half
        free = [k for k in range(degree + 1) if k not in held]
        basis, change = _basis(t, free, degree)
        rest = y
        if held:
            rest = y - horner(np.array([float(held.get(k, 0)) for k in range(degree + 1)]),
                              x - about)  # fmt: skip
        roots = sample.roots
        if roots is not None:
            basis, rest = basis * roots[:, None], rest * roots
        q, r = np.linalg.qr(basis) if free else (basis, np.zeros((0, 0)))
        found = np.linalg.solve(r, q.T @ rest)
        residuals = rest - basis @ found
        correction = np.linalg.solve(r, q.T @ residuals)
        found += correction
        residuals -= basis @ correction
        weights = np.ones(1) if sample.weights is None else sample.weights
        mean = float((weights * y).sum() / (weights.sum() if len(weights) > 1 else len(y)))
        level = float(held[0]) if 0 in held else mean
        root = np.linalg.inv(r)
        width = Fraction(half)
        inverse = product_of(product_of(change, as_fractions(root @ root.T)), transposed(change))
        solved = product_of(change, [[Fraction(float(v))] for v in found])
        values = held | {k: row[0] / width**k for k, row in zip(free, solved, strict=True)}
        return Solved(
            Fraction(about), [values[k] for k in range(degree + 1)],
            spread_out(inverse, free, degree, width, Fraction(1)),
            float(residuals @ residuals), float((weights * (y - level) ** 2).sum()),
        )  # fmt: skip

    def _raw(self, solved: Solved) -> tuple[list[Fraction], Matrix]:
        """The coefficients of powers of x itself, and the inverse of XᵀWX for them."""
        away = -solved.centre
        powers = range(self.degree + 1)
        change: Matrix = [
            [math.comb(k, j) * away ** (k - j) if k >= j else Fraction(0) for k in powers]
            for j in powers
        ]
        values = product_of(change, [[value] for value in solved.values])
        unscaled = product_of(product_of(change, solved.unscaled), transposed(change))
        return [row[0] for row in values], unscaled

    # -- using ---------------------------------------------------------------------------------

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        return horner(np.array(fit.inner), x - fit.centre)

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        with np.errstate(over="ignore", invalid="ignore"):
            return np.vander(x - fit.centre, self.degree + 1, increasing=True)

    def turned(self, fit: Fit) -> Floats:
        powers = range(self.degree + 1)
        return np.array([
            [math.comb(j, k) * (-fit.centre) ** (j - k) if j >= k else 0.0 for j in powers]
            for k in powers
        ])  # fmt: skip

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        """About zero, or about the centre where that takes fewer digits."""
        symbols, drawn, tolerance, units = asked
        raw = self.printed(fit, fit.values, fit.unscaled, 0.0, drawn, tolerance)
        of = fit.units if units else ()
        plain = Equation(polynomial_runs(symbols, raw, None, of), raw)
        if not fit.centre or fit.held:
            return plain
        centre = as_typed(fit.centre)
        assert fit.inner_unscaled is not None
        inner = self.printed(fit, fit.inner, fit.inner_unscaled, fit.centre, drawn, tolerance)
        about = Equation(polynomial_runs(symbols, inner, centre, of), inner)
        # a centre is one more thing to read: it has to save some digits
        saved = _digits(raw) - _digits((*inner, centre))
        return about if saved >= _WORTH_A_CENTRE else plain

    def printed(
        self, fit: Fit, values: Sequence[float], unscaled: Floats, centre: float,
        drawn: tuple[float, float], tolerance: float,
    ) -> tuple[Decimal, ...]:  # fmt: skip
        """Coefficients with so many digits that all of them together are off by no more than the
        tolerance at any drawn x, and each by no more than a tenth of its standard error."""
        reach = max(abs(end - centre) for end in drawn) or 1.0
        share = tolerance / (self.degree + 1)
        found = []
        for power, value in enumerate(values):
            within = share / max(reach**power, float(np.finfo(float).tiny))
            error = (fit.residual_sd or 0.0) * math.sqrt(max(float(unscaled[power, power]), 0.0))
            within = min(within, error / 10) if error else within
            if self.holds(fit, power):
                found.append(as_typed(value))
            else:
                found.append(printed_value(value, within=within, exact=fit.is_exact))
        return tuple(found)

    def holds(self, fit: Fit, power: int) -> bool:
        """Whether the coefficient of a power is held at what was typed."""
        return power < len(fit.names) and self.names[power] in fit.held


# Fits with bounded coefficients free or at an end, at most.
_MOST_SIDES = 3**5
# So many digits less make up for a centre.
_WORTH_A_CENTRE = 3


def _basis(t: Floats, free: Sequence[int], degree: int) -> tuple[Floats, Matrix]:
    """Polynomials of t (n,) in −1 … 1 that span the free powers, (n, k), and their coefficients of
    these: those of Chebyshev where all powers are free."""
    if len(free) <= degree:
        # few powers are left of few: their own scale is good enough
        eye = [[Fraction(int(i == j)) for j in free] for i in free]
        powers: Floats = t[:, None] ** np.array(free, dtype=np.float64)
        return powers, eye
    from numpy.polynomial import chebyshev

    columns = [chebyshev.cheb2poly(row) for row in np.eye(degree + 1)]
    change = [[Fraction(float(c[k])) if k < len(c) else Fraction(0) for c in columns]
              for k in range(degree + 1)]  # fmt: skip
    columns_of_t: Floats = chebyshev.chebvander(t, degree).astype(np.float64, copy=False)
    return columns_of_t, change


def _digits(values: Sequence[Decimal]) -> int:
    return sum(len(value.normalize().as_tuple().digits) for value in values)


def _unit(y_unit: str, x_unit: str, power: int) -> str:
    """The unit of the coefficient of a power of x."""
    if power == 0 or not x_unit:
        return y_unit
    if power == 1:
        return ratio_unit(y_unit, x_unit)
    below = f"({x_unit})" if set(x_unit) & set("/ ·*^") else x_unit
    return f"{y_unit or '1'}/{below}^{power}"


def horner(coefficients: Floats, u: Floats) -> Floats:
    """The value of a polynomial, coefficients (k,) from power 0, at u of any shape."""
    value = np.zeros_like(u, dtype=np.float64)
    # far from the readings a high power has no number any more
    with np.errstate(over="ignore", invalid="ignore"):
        for coefficient in coefficients[::-1]:
            value = value * u + coefficient
    return value


POLYNOMIALS = tuple(Polynomial(degree) for degree in range(2, _HIGHEST + 1))
