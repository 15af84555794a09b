"""Columns that were worked out of others: 1/T of a temperature, ln k of a rate."""

import re
from collections.abc import Callable, Sequence
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings import Column

_Values = NDArray[np.float64]
_ZERO_CELSIUS = 273.15
# What a name says was done, and what that may have been.
_DONE: tuple[tuple[re.Pattern[str], tuple[Callable[[_Values], _Values], ...]], ...] = tuple(
    (pattern(words, re.IGNORECASE), made)
    for words, made in (
        (
            r"(?:1|10+) ?/|inverse|reciprocal|.*(?:\^-1|⁻¹)$",
            (
                lambda values: 1 / values,
                lambda values: 1 / (values + _ZERO_CELSIUS),
                lambda values: 1000 / values,
                lambda values: 1000 / (values + _ZERO_CELSIUS),
            ),
        ),
        (r"(?:ln|log|lg)(?![a-z])|log(?:2|10)", (np.log, np.log10, np.log2)),
        (r"√|sqrt|square root|root of|.*(?:\^0\.5|\^1/2)$", (np.sqrt,)),
        (r".*(?:²|\^2|squared)$", (np.square,)),
    )
)
_FEWEST = 4
# A measured relation is never followed so closely: the share of the whole extent that rounding may
# take.
_ROUNDED = 5e-3
# Half of the last place, and a little, is what writing takes; so many of it must be gone through.
_HALF, _PLACES = 0.51, 8
_MOST_PLACES, _NEAR = 12, 1e-9
# so many readings tell how they were written
_LOOKED_AT = 1000


def made_of(columns: Sequence[Column]) -> dict[str, Column]:
    """The names of the columns that another was worked out of, each with that one; those of which
    several were stay as they are, for nobody knows which was meant."""
    found: dict[str, list[Column]] = {}
    for column in columns:
        for of in columns:
            if of is not column and _is_made_of(column, of):
                found.setdefault(of.name, []).append(column)
    return {name: made[0] for name, made in found.items() if len(made) == 1}


def _is_made_of(column: Column, of: Column) -> bool:
    name = column.name.strip()
    ways = [one for words, made in _DONE if words.match(name) for one in made]
    both = column.present & of.present if ways else np.zeros(0, dtype=bool)
    if both.sum() < _FEWEST:
        return False
    values, known = column.numbers[both], of.numbers[both]
    return any(_follows(values, known, one) for one in ways)


def _follows(values: _Values, known: _Values, made: Callable[[_Values], _Values]) -> bool:
    with np.errstate(all="ignore"):
        worked_out = made(known)
    if not np.isfinite(worked_out).all():
        return False
    places = np.maximum(_last_place(values), _own_places(values[:_LOOKED_AT]))
    off = np.maximum(_ROUNDED * float(np.ptp(worked_out)), _HALF * places)
    rises = float(np.ptp(values)) > _PLACES * float(np.median(off))
    apart = np.abs(values - worked_out)
    return rises and bool((apart[:_LOOKED_AT] < off).all() and (apart < off.max()).all())


def _last_place(values: _Values) -> float:
    """What one of the last decimal is worth in numbers that were written with as many."""
    for places in range(_MOST_PLACES):
        scaled = values * 10.0**places
        if bool((np.abs(scaled - np.round(scaled)) < _NEAR * np.maximum(np.abs(scaled), 1)).all()):
            return 10.0**-places
    return 0.0


def _own_places(values: _Values) -> _Values:
    """What one of the last digit of each number is worth, shape (n,), where as many digits were
    written as it needs: 0.00333 beside 0.003226."""
    digits = (Decimal(repr(value)).normalize().as_tuple() for value in values.tolist())
    return np.array([10.0 ** int(one.exponent) for one in digits])
