"""The values of an axis in other units, by a formula of x that only rises or only falls."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.figure.model.scale import Other
from sornix.core.formula import Expression, Name, names_in, parse_formula
from sornix.core.scales import Resolved

Floats = NDArray[np.float64]

# Places along the axis at which the formula is asked whether it rises or falls.
_PLACES = 513


@lru_cache(maxsize=16)
def _parsed(formula: str) -> Expression:
    expression = parse_formula(formula)
    strangers = {name.name for name in names_in(expression)} - {"x"}
    if strangers:
        raise EditRefused(
            f"“{min(strangers)}” is not known here.",
            remedy="Write a formula of x, such as 1.8 * x + 32.",
        )
    return expression


def other_values(other: Other, values: Floats) -> Floats:
    """The values in other units, shape (n,); NaN where there are none. Raises EditRefused and
    FormulaError for what is no formula of x."""
    from sornix.core.formula import evaluate

    def value_of(_name: Name) -> Floats:
        return values

    return np.broadcast_to(evaluate(_parsed(other.formula), value_of), values.shape)


def straight_reach(other: Other, scale: Resolved) -> tuple[Floats, Floats]:
    """Values along a scale and what they are in other units, both rising and of one length (n,).

    Raises EditRefused where the other units have no value, or go up and down.
    """
    values = scale.edges(_PLACES - 1)
    found = other_values(other, values)
    steps = np.diff(found)
    if not np.isfinite(found).all():
        raise EditRefused(
            "The formula has no value for a part of this axis.",
            remedy="Give one that has a value at every x of its range.",
        )
    if (steps > 0).all():
        return values, found
    if (steps < 0).all():
        return values[::-1], found[::-1]
    raise EditRefused(
        "The formula does not only rise or only fall over this axis, so one place would have "
        "several values.",
        remedy="Give one that keeps its direction.",
    )
