"""Columns that were worked out of others: 1/T of a temperature, ln k of a rate."""

import re
from collections.abc import Callable, Sequence
from decimal import Decimal
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings import Column

_Values = NDArray[np.float64]
_Way = Callable[[_Values], _Values]
_ZERO_CELSIUS = 273.15
# What a name says was done, and what that may have been.
_DONE: tuple[tuple[re.Pattern[str], tuple[_Way, ...]], ...] = tuple(
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
# so many of them tell of two columns whether to look at all
_GLANCED_AT = 16


def made_of(columns: Sequence[Column]) -> dict[str, Column]:
    """The names of the columns that another was worked out of, each with that one; those of which
    several were stay as they are, for nobody knows which was meant."""
    found: dict[str, list[Column]] = {}
    glance = _Glance(columns)
    for at, column in enumerate(columns):
        name = column.name.strip()
        ways = [one for words, made in _DONE if words.match(name) for one in made]
        near = {other: None for way in ways for other in glance.near(at, way)}
        for of in (columns[other] for other in near if other != at):
            if _is_made_of(column, of, ways):
                found.setdefault(of.name, []).append(column)
    return {name: made[0] for name, made in found.items() if len(made) == 1}


class _Glance:
    """A few rows of many columns, which tell at once of nearly all pairs that neither was worked
    out of the other: a thousand columns make a million pairs."""

    def __init__(self, columns: Sequence[Column]) -> None:
        self._columns = columns
        self._worked_out: dict[_Way, tuple[_Values, _Values]] = {}

    @cached_property
    def _few(self) -> _Values:
        rows = np.linspace(0, len(self._columns[0]) - 1, _GLANCED_AT).astype(np.int64)
        return np.stack([column.numbers[rows] for column in self._columns])

    @cached_property
    def _ends(self) -> _Values:
        return np.array([column.ends or (np.nan, np.nan) for column in self._columns])

    def near(self, at: int, way: _Way) -> list[int]:
        """Which columns that at a place may have been worked out of, in a way."""
        if not len(self._columns[at]):
            return []
        if way not in self._worked_out:
            self._worked_out[way] = self._made(way)
        made, extents = self._worked_out[way]
        own = self._few[at]
        known = np.isfinite(own)
        off = np.full(len(own), _HALF * _last_place(own[known]))
        off[known] = np.maximum(off[known], _HALF * _own_places(own[known]))
        with np.errstate(invalid="ignore"):
            close = np.abs(made - own) < np.maximum((_ROUNDED * extents)[:, None], off)
        return np.flatnonzero((close | ~(known & np.isfinite(self._few))).all(axis=1)).tolist()

    def _made(self, way: _Way) -> tuple[_Values, _Values]:
        """What the rows come to in a way, and how far apart a whole column of it can be."""
        with np.errstate(all="ignore"):
            made, middle = way(self._few), way(self._ends.mean(axis=1))
            low, high = np.sort(way(self._ends), axis=1).T
            if way is np.square:
                low = np.zeros_like(low)
            # a way that does not go one way between the ends has no end there
            steady = (low <= middle) & (middle <= high) & np.isfinite(high - low)
            return made, np.where(steady, high - low, np.inf)


def _is_made_of(column: Column, of: Column, ways: Sequence[_Way]) -> bool:
    both = column.present & of.present
    if both.sum() < _FEWEST:
        return False
    values, known = column.numbers[both], of.numbers[both]
    return any(_follows(values, known, one) for one in ways)


def _follows(values: _Values, known: _Values, made: _Way) -> bool:
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
