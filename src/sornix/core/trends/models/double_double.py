"""Sums and products of binary64 arrays with their rounding errors kept.

Error-free transformations: D. E. Knuth, The Art of Computer Programming 2, section 4.2.2 (the sum
of two numbers), and T. J. Dekker, "A floating-point technique for extending the available
precision", Numerische Mathematik 18 (1971) 224–242 (their product). They give the same digits on
every machine, which `numpy.longdouble` does not.
"""

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

_SPLITTER = 134217729.0  # 2^27 + 1


def two_sum(a: Floats, b: Floats | np.float64) -> tuple[Floats, Floats]:
    """`a + b` as rounded sum and exact error, elementwise."""
    total = a + b
    part = total - a
    return total, (a - (total - part)) + (b - part)


def two_product(a: Floats, b: np.float64) -> tuple[Floats, Floats]:
    """`a · b` for each of `a` as rounded product and exact error, for |a|, |b| < 1e300."""
    product = a * b
    a_high = a * _SPLITTER
    a_high = a_high - (a_high - a)
    a_low = a - a_high
    b_high = b * _SPLITTER
    b_high = b_high - (b_high - b)
    b_low = b - b_high
    error = ((a_high * b_high - product) + a_high * b_low + a_low * b_high) + a_low * b_low
    return product, error


_BLOCK = 512


def total(values: Floats) -> float:
    """Σ values, shape (n,), exactly rounded for short arrays and all but so for long ones.

    Long arrays are summed pairwise by NumPy in blocks, and the blocks exactly.
    """
    if len(values) <= _BLOCK:
        return math.fsum(values.tolist())
    whole = len(values) // _BLOCK * _BLOCK
    blocks = values[:whole].reshape(-1, _BLOCK).sum(axis=1)
    return math.fsum((*blocks.tolist(), *values[whole:].tolist()))


def line_residuals(
    x: Floats, y: Floats, intercept: tuple[float, float], slope: tuple[float, float]
) -> tuple[Floats, Floats]:
    """`y − intercept − slope·x` as high and low parts; coefficients come in two parts each."""
    product, error = two_product(x, np.float64(slope[0]))
    error = error + x * slope[1]
    first, e1 = two_sum(y, -product)
    second, e2 = two_sum(first, np.float64(-intercept[0]))
    return second, (e1 + e2) - error - intercept[1]
