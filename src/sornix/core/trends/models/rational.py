"""Exact arithmetic for least squares: readings as whole numbers, matrices of fractions."""

import math
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction
from operator import mul

import numpy as np
from numpy.typing import NDArray

from sornix.core.patience import go_on

Floats = NDArray[np.float64]
Matrix = list[list[Fraction]]

# Readings of more decimal digits than these, from the largest to the smallest, are not worth it.
_MOST_DIGITS = 60


def as_fraction(value: float) -> Fraction:
    """A number as the decimal that a person sees."""
    return Fraction(Decimal(repr(float(value))))


def power_sums(
    u: list[int], v: list[int], weights: list[int], degree: int
) -> tuple[list[int], list[int]]:
    """Σ w u^k for k to twice the degree, and Σ w v u^k for k to the degree."""
    sums, moments = [0] * (2 * degree + 1), [0] * (degree + 1)
    for a, b, w in zip(u, v, weights, strict=True):
        power = w
        for k in range(2 * degree + 1):
            sums[k] += power
            if k <= degree:
                moments[k] += power * b
            power *= a
    return sums, moments


def spread_out(
    inverse: Matrix, free: Sequence[int], degree: int, x_unit: Fraction, w_unit: Fraction
) -> Matrix:
    """An inverse for the free powers of a scaled x as one for all powers of x."""
    whole = [[Fraction(0)] * (degree + 1) for _ in range(degree + 1)]
    for row, i in zip(inverse, free, strict=True):
        for value, j in zip(row, free, strict=True):
            whole[i][j] = value / x_unit ** (i + j) / w_unit
    return whole


def as_float(value: Fraction) -> float:
    try:
        return float(value)
    except OverflowError:
        return math.inf


def as_floats(values: Sequence[Fraction]) -> list[float]:
    return [as_float(value) for value in values]


def whole_numbers(values: Floats) -> tuple[list[int], Fraction] | None:
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


def near_mean(values: Sequence[int]) -> int:
    """A short number near the mean, by which x is centred."""
    span = max(values) - min(values)
    grain = 10 ** max(len(str(span)) - 2, 0)
    steps = round(Fraction(sum(values), len(values)) / grain)
    return int(steps * grain)


def inverted(matrix: Matrix) -> Matrix:
    """By elimination among whole numbers, every division of which leaves nothing (E. H. Bareiss,
    Mathematics of Computation 22 (1968) 565–578); the matrix is positive definite."""
    size = len(matrix)
    whole = [_over_one(row) for row in matrix]
    rows = [[*row, *(of * (i == j) for j in range(size))] for i, (row, of) in enumerate(whole)]
    before = 1
    for i in range(size):
        pivot = rows[i][i]
        for k in range(size):
            # numbers of many digits take their time
            go_on()
            if k != i:
                factor = rows[k][i]
                rows[k] = [
                    (pivot * a - factor * b) // before
                    for a, b in zip(rows[k], rows[i], strict=True)
                ]
        before = pivot
    return [[Fraction(value, row[i]) for value in row[size:]] for i, row in enumerate(rows)]


def product_of(a: Matrix, b: Matrix) -> Matrix:
    columns = [_over_one(column) for column in transposed(b)]

    def line(row: Sequence[Fraction]) -> list[Fraction]:
        go_on()
        left, of = _over_one(row)
        return [Fraction(sum(map(mul, left, right)), of * by) for right, by in columns]

    return [line(row) for row in a]


def _over_one(values: Sequence[Fraction]) -> tuple[list[int], int]:
    """Fractions as whole numbers over one denominator."""
    of = math.lcm(*(value.denominator for value in values))
    return [value.numerator * (of // value.denominator) for value in values], of


def transposed(matrix: Matrix) -> Matrix:
    return [list(column) for column in zip(*matrix, strict=True)]


def as_fractions(matrix: Floats) -> Matrix:
    return [[Fraction(float(value)) for value in row] for row in matrix]
