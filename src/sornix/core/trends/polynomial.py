"""Polynomials by ordinary least squares: y = b0 + b1 · x + … + bk · x^k, and the line through 0.

A reading is the decimal number that a person sees: 0.1 means one tenth. Of as many readings as a
laboratory has, the normal equations are set up and solved in exact rational arithmetic, about a
centre near the mean of x; so every parameter, standard error and sum of squares is right to the
last digit, whatever the degree and however far x is from zero. Of more readings than that, a basis
of Chebyshev polynomials on x scaled to −1 … 1 is made orthogonal by QR (G. H. Golub, Numerische
Mathematik 7 (1965) 206–216), refined once, and converted back exactly.
"""

import math
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.text import plural
from sornix.core.trends.equation import Equation, polynomial_runs, printed_value
from sornix.core.trends.fit import Fit, Floats, Prediction, ratio_unit
from sornix.core.trends.model import MODELS

# More products of readings and powers than this are not worth exact arithmetic, and neither are
# readings of more decimal digits from the largest to the smallest.
_MOST_EXACT = 60_000
_MOST_DIGITS = 60
_HIGHEST = 10

_ALL_USED = "As many readings as parameters determine the curve, and leave nothing to judge it by."

Matrix = list[list[Fraction]]


class Solved(NamedTuple):
    """A polynomial about a centre: coefficients of (x − centre)^k, the inverse of XᵀX for them, and
    the sums of squares of the residuals and about the mean (or about zero)."""

    centre: Fraction
    values: list[Fraction]
    unscaled: Matrix
    rss: float
    tss: float


class Polynomial:
    """See the module."""

    straight = False
    method = "ordinary least squares"

    def __init__(self, degree: int, *, through_origin: bool = False) -> None:
        self.degree = degree
        self._through = through_origin
        self.name = "line-through-origin" if through_origin else f"polynomial-{degree}"
        self.words = "line through 0" if through_origin else f"polynomial of degree {degree}"
        self.straight = through_origin
        self._powers = [1] if through_origin else list(range(degree + 1))

    def fit(self, x: Floats, y: Floats, rows: NDArray[np.intp], x_unit: str, y_unit: str) -> Fit:
        count, distinct = len(self._powers), len(np.unique(x[x != 0] if self._through else x))
        if distinct < count:
            raise TrendImpossible(
                f"A {self.words} needs readings at {plural(count, 'different x', 'different x')}"
                f"{' besides 0' if self._through else ''}, and there "
                f"{'is' if distinct == 1 else 'are'} {distinct or 'none'}."
            )
        solved = self._exact(x, y) or self._by_qr(x, y)
        raw, unscaled = self._raw(solved)
        values = _floats(raw)
        inverse = np.array([_floats(row) for row in unscaled])
        inner = _floats(solved.values)
        if not (np.isfinite([*values, *inner, solved.rss, solved.tss]).all()
                and np.isfinite(inverse).all()):  # fmt: skip
            raise TrendImpossible(
                "These numbers are too large or too small for a polynomial to be computed.",
                remedy="Give the columns in other units.",
            )
        centre = float(solved.centre)
        names = ("slope",) if self._through else tuple(f"b{k}" for k in self._powers)
        units = tuple(_unit(y_unit, x_unit, k) for k in self._powers)
        fitted = _horner(np.array(self._filled(inner)), x - centre)
        residuals = y - fitted if solved.rss else np.zeros(len(x))
        return Fit(
            self.name, names, tuple(values), units, inverse, x, y, rows, residuals, solved.rss,
            solved.tss, centre=centre, inner=tuple(inner),
            inner_unscaled=np.array([_floats(row) for row in solved.unscaled]),
            notes=() if len(x) > count else (_ALL_USED,),
        )  # fmt: skip

    def _filled(self, values: Sequence[float]) -> list[float]:
        """Coefficients of every power from 0."""
        return [0.0, *values] if self._through else list(values)

    # -- solving -------------------------------------------------------------------------------

    def _exact(self, x: Floats, y: Floats) -> Solved | None:
        """The answer in rational arithmetic, or None where that would take too long."""
        if len(x) * (2 * self.degree + 1) > _MOST_EXACT:
            return None
        xs, ys = _whole_numbers(x), _whole_numbers(y)
        if xs is None or ys is None:
            return None
        (u, x_unit), (v, y_unit) = xs, ys
        centre = 0 if self._through else _near_mean(u)
        u = [value - centre for value in u]
        sums = [0] * (2 * self.degree + 1)
        moments = [0] * (self.degree + 1)
        for a, b in zip(u, v, strict=True):
            power = 1
            for k in range(2 * self.degree + 1):
                sums[k] += power
                if k <= self.degree:
                    moments[k] += power * b
                power *= a
        wanted = self._powers
        inverse = _inverse([[Fraction(sums[i + j]) for j in wanted] for i in wanted])
        right = [moments[k] for k in wanted]
        coefficients = [sum((a * b for a, b in zip(row, right, strict=True)), Fraction(0))
                        for row in inverse]  # fmt: skip
        squares = sum(b * b for b in v)
        rss = squares - sum((c * m for c, m in zip(coefficients, right, strict=True)), Fraction(0))
        mean = Fraction(0) if self._through else Fraction(sum(v) ** 2, len(v))
        return Solved(
            centre * x_unit,
            [c * y_unit / x_unit**k for c, k in zip(coefficients, wanted, strict=True)],
            [[a / x_unit ** (i + j) for a, j in zip(row, wanted, strict=True)]
             for row, i in zip(inverse, wanted, strict=True)],
            _float(rss * y_unit**2), _float((squares - mean) * y_unit**2),
        )  # fmt: skip

    def _by_qr(self, x: Floats, y: Floats) -> Solved:
        """The answer in binary64, for many readings."""
        from numpy.polynomial import chebyshev

        low, high = float(x.min()), float(x.max())
        centre = 0.0 if self._through else low / 2 + high / 2
        half = max(abs(low), abs(high)) if self._through else high / 2 - low / 2
        t = (x - centre) / half
        basis = t[:, None] if self._through else chebyshev.chebvander(t, self.degree)
        q, r = np.linalg.qr(basis)
        found = np.linalg.solve(r, q.T @ y)
        found += np.linalg.solve(r, q.T @ (y - basis @ found))
        residuals = y - basis @ found
        rss = math.fsum((residuals**2).tolist())
        about = y if self._through else y - math.fsum(y.tolist()) / len(y)
        root = np.linalg.inv(r)
        change: Matrix = [[Fraction(1)]]
        if not self._through:
            unit = np.eye(self.degree + 1)
            columns = [chebyshev.cheb2poly(row) for row in unit]
            change = [[Fraction(float(c[k])) if k < len(c) else Fraction(0) for c in columns]
                      for k in range(self.degree + 1)]  # fmt: skip
        width = Fraction(half)
        inverse = _fractions(root @ root.T)
        values = _times(change, [[Fraction(float(v))] for v in found])
        unscaled = _times(_times(change, inverse), _transposed(change))
        powers = self._powers
        return Solved(
            Fraction(centre),
            [row[0] / width**k for row, k in zip(values, powers, strict=True)],
            [[a / width ** (i + j) for a, j in zip(row, powers, strict=True)]
             for row, i in zip(unscaled, powers, strict=True)],
            rss, math.fsum((about**2).tolist()),
        )  # fmt: skip

    def _raw(self, solved: Solved) -> tuple[list[Fraction], Matrix]:
        """The coefficients of powers of x itself, and the inverse of XᵀX for them."""
        if self._through:
            return solved.values, solved.unscaled
        away = -solved.centre
        change: Matrix = [
            [math.comb(k, j) * away ** (k - j) if k >= j else Fraction(0) for k in self._powers]
            for j in self._powers
        ]
        values = _times(change, [[value] for value in solved.values])
        unscaled = _times(_times(change, solved.unscaled), _transposed(change))
        return [row[0] for row in values], unscaled

    # -- using ---------------------------------------------------------------------------------

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        return _horner(np.array(self._filled(fit.inner)), x - fit.centre)

    def _gradient(self, fit: Fit, x: float) -> Floats:
        """How the trend at x changes with each of its inner coefficients."""
        return np.array([(x - fit.centre) ** k for k in self._powers], dtype=np.float64)

    def predict(self, fit: Fit, x: float) -> Prediction:
        value = float(self.evaluate(fit, np.array([x]))[0])
        if fit.residual_sd is None or fit.t95 is None:
            return Prediction(x, value, None, None)
        gradient = self._gradient(fit, x)
        leverage = float(gradient @ fit.inner_unscaled @ gradient)
        mean = fit.t95 * fit.residual_sd * math.sqrt(max(leverage, 0.0))
        single = fit.t95 * fit.residual_sd * math.sqrt(1 + max(leverage, 0.0))
        return Prediction(x, value, (value - mean, value + mean), (value - single, value + single))

    def read_off(self, fit: Fit, y: float) -> tuple[float, tuple[float, float] | None]:
        """The one x among the readings at which the trend is `y`, with the interval of a
        first-order expansion there. Raises TrendImpossible where there is not just one."""
        coefficients = np.array(self._filled(fit.inner))
        coefficients[0] -= y
        found = np.polynomial.polynomial.polyroots(coefficients)
        low, high = float(fit.x.min()), float(fit.x.max())
        room = 0.5 * (high - low)
        real = [float(r.real) + fit.centre for r in found if abs(r.imag) <= 1e-8 * (1 + abs(r))]
        inside = [x for x in real if low - 1e-9 * room <= x <= high + 1e-9 * room]
        if len(inside) != 1:
            several = f"{len(inside)} different x have" if inside else "no x of the readings has"
            raise TrendImpossible(f"On this curve {several} that y.")
        x = inside[0]
        slopes = np.polynomial.polynomial.polyder(np.array(self._filled(fit.inner)))
        slope = float(np.polynomial.polynomial.polyval(x - fit.centre, slopes))
        if fit.residual_sd is None or fit.t95 is None or slope == 0:
            return x, None
        gradient = self._gradient(fit, x)
        leverage = float(gradient @ fit.inner_unscaled @ gradient)
        half = fit.t95 * fit.residual_sd * math.sqrt(1 + max(leverage, 0.0)) / abs(slope)
        return x, (x - half, x + half)

    def equation(
        self, fit: Fit, symbols: tuple[str, str], drawn: tuple[float, float], tolerance: float
    ) -> Equation:
        """About zero, or about the centre where that takes fewer digits."""
        raw = self._printed(fit, fit.values, fit.unscaled, 0.0, drawn, tolerance)
        plain = Equation(polynomial_runs(symbols, raw, self._powers), raw)
        if not fit.centre:
            return plain
        centre = Decimal(repr(fit.centre))
        inner = self._printed(fit, fit.inner, fit.inner_unscaled, fit.centre, drawn, tolerance)
        about = Equation(polynomial_runs(symbols, inner, self._powers, centre), inner)
        # a centre is one more thing to read: it has to save some digits
        saved = _digits(raw) - _digits((*inner, centre))
        return about if saved >= _WORTH_A_CENTRE else plain

    def _printed(
        self, fit: Fit, values: Sequence[float], unscaled: Floats, centre: float,
        drawn: tuple[float, float], tolerance: float,
    ) -> tuple[Decimal, ...]:  # fmt: skip
        """Coefficients with so many digits that all of them together are off by no more than the
        tolerance at any drawn x, and each by no more than a tenth of its standard error."""
        reach = max(abs(end - centre) for end in drawn) or 1.0
        share = tolerance / len(self._powers)
        found = []
        for i, (value, power) in enumerate(zip(values, self._powers, strict=True)):
            within = share / max(reach**power, float(np.finfo(float).tiny))
            error = (fit.residual_sd or 0.0) * math.sqrt(max(float(unscaled[i, i]), 0.0))
            within = min(within, error / 10) if error else within
            found.append(printed_value(value, within=within, exact=fit.rss == 0))
        return tuple(found)


# So many digits less make up for a centre.
_WORTH_A_CENTRE = 3


def _digits(values: Sequence[Decimal]) -> int:
    return sum(len(value.normalize().as_tuple().digits) for value in values)


def _unit(y_unit: str, x_unit: str, power: int) -> str:
    """The unit of the coefficient of a power of x."""
    if power == 0 or not x_unit:
        return y_unit
    if power == 1:
        return ratio_unit(y_unit, x_unit)
    return f"{y_unit or '1'}/({x_unit})^{power}"


def _float(value: Fraction) -> float:
    try:
        return float(value)
    except OverflowError:
        return math.inf


def _floats(values: Sequence[Fraction]) -> list[float]:
    return [_float(value) for value in values]


def _horner(coefficients: Floats, u: Floats) -> Floats:
    """The value of a polynomial, coefficients (k,) from power 0, at u of any shape."""
    value = np.zeros_like(u, dtype=np.float64)
    for coefficient in coefficients[::-1]:
        value = value * u + coefficient
    return value


def _whole_numbers(values: Floats) -> tuple[list[int], Fraction] | None:
    """Readings as whole numbers of a decimal unit; None where they span too many digits."""
    decimals = [Decimal(repr(float(value))) for value in values]
    parts = [d.normalize().as_tuple() for d in decimals if d]
    if not parts:
        return [0] * len(values), Fraction(1)
    exponents = [int(part.exponent) for part in parts]
    highest = max(e + len(part.digits) for e, part in zip(exponents, parts, strict=True))
    lowest = min(exponents)
    if highest - lowest > _MOST_DIGITS:
        return None
    return [int(d.scaleb(-lowest)) for d in decimals], Fraction(10) ** lowest


def _near_mean(values: Sequence[int]) -> int:
    """A short number near the mean, by which x is centred."""
    span = max(values) - min(values)
    grain = 10 ** max(len(str(span)) - 2, 0)
    steps = round(Fraction(sum(values), len(values)) / grain)
    return int(steps * grain)


def _inverse(matrix: Matrix) -> Matrix:
    """By elimination in exact arithmetic; the matrix is positive definite."""
    size = len(matrix)
    rows = [[*row, *(Fraction(int(i == j)) for j in range(size))] for i, row in enumerate(matrix)]
    for i in range(size):
        pivot = rows[i][i]
        rows[i] = [value / pivot for value in rows[i]]
        for k in range(size):
            if k != i and rows[k][i]:
                factor = rows[k][i]
                rows[k] = [a - factor * b for a, b in zip(rows[k], rows[i], strict=True)]
    return [row[size:] for row in rows]


def _times(a: Matrix, b: Matrix) -> Matrix:
    columns = _transposed(b)
    return [
        [sum((p * q for p, q in zip(row, column, strict=True)), Fraction(0)) for column in columns]
        for row in a
    ]


def _transposed(matrix: Matrix) -> Matrix:
    return [list(column) for column in zip(*matrix, strict=True)]


def _fractions(matrix: Floats) -> Matrix:
    return [[Fraction(float(value)) for value in row] for row in matrix]


ORIGIN = Polynomial(1, through_origin=True)
MODELS[ORIGIN.name] = ORIGIN
for _degree in range(2, _HIGHEST + 1):
    _model = Polynomial(_degree)
    MODELS[_model.name] = _model
