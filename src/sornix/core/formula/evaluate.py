"""Formulas evaluated on whole arrays."""

import math
from collections.abc import Callable, Mapping
from functools import reduce
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from sornix.core.formula.expression import Expression, Name, Number

Floats = NDArray[np.float64]

POWER_TIMES_LOG = "^ln"
CONSTANTS: Mapping[str, float] = MappingProxyType({"pi": math.pi, "e": math.e})


def _least(*values: Floats) -> Floats:
    return reduce(np.minimum, values)


def _greatest(*values: Floats) -> Floats:
    return reduce(np.maximum, values)


def _power_times_log(base: Floats, exponent: Floats) -> Floats:
    """base^exponent · ln base, which is what it tends to, 0, at a base of 0 and exponents above."""
    found = np.power(base, exponent) * np.log(base)
    return np.where((np.asarray(base) == 0) & (np.asarray(exponent) > 0), 0.0, found)


# The last one is no function of the grammar: it is met in derivatives.
FUNCTIONS: Mapping[str, Callable[..., Floats]] = MappingProxyType(
    {
        "+": np.add, "-": np.subtract, "*": np.multiply, "/": np.divide, "^": np.power,
        "neg": np.negative, "sqrt": np.sqrt, "exp": np.exp, "ln": np.log, "log10": np.log10,
        "log2": np.log2, "sin": np.sin, "cos": np.cos, "tan": np.tan, "asin": np.arcsin,
        "acos": np.arccos, "atan": np.arctan, "tanh": np.tanh, "abs": np.abs, "min": _least,
        "max": _greatest, POWER_TIMES_LOG: _power_times_log,
    }
)  # fmt: skip
_MANY = 100
# the least and the greatest number of operands
ARGUMENTS: Mapping[str, tuple[int, int]] = MappingProxyType(
    {
        name: (2, _MANY) if name in ("min", "max") else (1, 1)
        for name in FUNCTIONS
        if name != POWER_TIMES_LOG
    }
)


def evaluate(expression: Expression, value_of: Callable[[Name], Floats]) -> Floats:
    """The value of a formula: an array of the shape of what the names stand for.

    `value_of` gives the array of a name. What is not a number (the logarithm of −1, a division by
    zero) becomes NaN.
    """
    with np.errstate(all="ignore"):
        result = np.asarray(_value(expression, value_of), dtype=np.float64)
    return np.where(np.isfinite(result), result, np.nan)


def _value(expression: Expression, value_of: Callable[[Name], Floats]) -> Floats:
    if isinstance(expression, Number):
        return np.float64(expression.value)  # type: ignore[return-value]  # a scalar broadcasts
    if isinstance(expression, Name):
        return value_of(expression)
    operands = (_value(operand, value_of) for operand in expression.operands)
    return FUNCTIONS[expression.function](*operands)
