"""Exact arithmetic for least squares: readings as whole numbers, matrices of fractions."""

import math
from collections.abc import Sequence
from decimal import Decimal
from fractions import Fraction

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
    """By elimination in exact arithmetic; the matrix is positive definite."""
    size = len(matrix)
    rows = [[*row, *(Fraction(int(i == j)) for j in range(size))] for i, row in enumerate(matrix)]
    for i in range(size):
        pivot = rows[i][i]
        rows[i] = [value / pivot for value in rows[i]]
        for k in range(size):
            # numbers of many digits take their time
            go_on()
            if k != i and rows[k][i]:
                factor = rows[k][i]
                rows[k] = [a - factor * b for a, b in zip(rows[k], rows[i], strict=True)]
    return [row[size:] for row in rows]


def product_of(a: Matrix, b: Matrix) -> Matrix:
    columns = transposed(b)

    def line(row: Sequence[Fraction]) -> list[Fraction]:
        go_on()
        return [
            sum((p * q for p, q in zip(row, column, strict=True)), Fraction(0))
            for column in columns
        ]

    return [line(row) for row in a]


def transposed(matrix: Matrix) -> Matrix:
    return [list(column) for column in zip(*matrix, strict=True)]


def as_fractions(matrix: Floats) -> Matrix:
    return [[Fraction(float(value)) for value in row] for row in matrix]
