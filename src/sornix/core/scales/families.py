"""Families of ticks for scales on which equal steps are not equally far apart.

A family is a set of round values: multiples of a step, powers, or 1, 2 and 5 times powers. The
family is chosen whose ticks stand nearest to the distance at which an axis reads best, of those
whose labels leave one another room: the density and legibility of J. Talbot, S. Lin and P. Hanrahan
(IEEE Transactions on Visualization and Computer Graphics 16 (2010) 1036–1043), simplicity being in
the choice of families.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.scales.dressing import LEAST_APART_MM, apart
from sornix.core.scales.kind import AxisConstraints, Extent, Floats, Room, Tick
from sornix.core.text import Rich, shortest

# A reading that passes the last tick by less than this part of a gap stands beyond it; by more, and
# the free end moves out to the next tick.
_OVERHANG = 0.25
Position = Callable[[Floats], Floats]


class Positive:
    """What kinds have in common that only have places above 0."""

    def shows(self, values: Floats) -> NDArray[np.bool_]:
        return values > 0

    def words(self, value: float, within: float) -> str:
        # a distance that is small against the range can be large against a value near its start
        return shortest(value, min(within, abs(value) * 2e-3) if within else 0.0)


# What has a reciprocal.
LEAST = 1e-306


def positive_span(
    extent: Extent | None,
    held: AxisConstraints,
    apart: float,
    around: float,
    lowest: float = math.ulp(0.0),
) -> tuple[float, float]:
    """The ends before any rounding, at or above `lowest` and never of zero width.

    A range of one value reaches `apart` times as far from a held end, or `around` that value.
    """
    known = [end for end in (held.start, held.end) if end is not None and end > 0]
    if extent is None or extent.greatest <= 0:
        extent = Extent(min([1.0, *known]), max([apart, *known]))
    least = held.start if held.start is not None and held.start > 0 else extent.least
    greatest = held.end if held.end is not None and held.end > 0 else extent.greatest
    least, greatest = max(least, lowest), max(greatest, lowest)
    if greatest > least * (1 + 1e-9):
        return least, greatest
    if held.start is not None:
        return least, least * apart
    if held.end is not None and greatest / apart >= lowest:
        return greatest / apart, greatest
    # next to 0 there are no powers of ten any more: such a range begins at its value
    return max(least / around, min(least, LEAST)), max(greatest, LEAST) * around


class Family(NamedTuple):
    """Round values: `around` gives those in a range with one beyond at each end, rising; `minor`
    those that may stand between them; `step` is what a statement says."""

    around: Callable[[float, float], list[Decimal]]
    step: float
    minor: Callable[[float, float], list[Decimal]] = lambda _low, _high: []
    thins: bool = False
    said: str = ""


class Settled(NamedTuple):
    """A range with its ticks, and the step of the family that they are of."""

    start: float
    end: float
    ticks: tuple[Tick, ...]
    step: float
    said: str


def settle(
    families: Iterable[Family],
    position: Position,
    ends: tuple[float, float],
    held: AxisConstraints,
    room: Room,
    label: Callable[[list[Decimal]], list[Rich]],
) -> Settled | None:
    """The best family for a range, with free ends moved out to a tick; None where none has two
    ticks in it. `position` is any rising measure of places."""
    best: tuple[tuple[bool, float], Settled] | None = None
    most = max(6 * room.length_mm / room.ideal_mm, 12)
    for family in families:
        values = family.around(*ends)
        start, end = _ends(values, position, ends, held)
        inside = [v for v in values if _within(float(v), start, end)]
        # far more ticks than an axis can bear are not worth their labels, unless they are held
        if len(inside) < 2 or (held.step is None and len(inside) > most):
            continue
        places = _places(inside, position, start, end, room)
        labels = [text if i % held.every == 0 else () for i, text in enumerate(label(inside))]
        fits = _fit(places, labels, room)
        if not fits:
            labels = _thinned(places, labels, room)
        dropped, bare = 0.0, []
        if not fits and family.thins:
            # on a scale that crowds at one end no family fits as it is
            dropped = sum(not text for text in labels) / len(labels)
            kept = [i for i, text in enumerate(labels) if text]
            # a tick without a label stays where it can be told from its neighbours
            bare = [inside[i] for i in range(len(inside)) if not labels[i] and _stands(places, i)]
            inside = [inside[i] for i in kept]
            places, labels = [places[i] for i in kept], [labels[i] for i in kept]
            fits = len(kept) > 2
        moved = _moved(position, ends, (start, end))
        score = (fits, _score(places, room) - 2 * moved - dropped)
        if best is None or score > best[0]:
            ticks = [Tick(float(v), text) for v, text in zip(inside, labels, strict=True)]
            ticks += [Tick(float(v), ()) for v in bare]
            ticks += _minors(family, position, start, end, room, [*inside, *bare])
            ticks.sort(key=lambda tick: tick.value)
            best = score, Settled(start, end, tuple(ticks), family.step, family.said)
    return best[1] if best is not None else None


def _stands(places: list[float], i: int) -> bool:
    """Whether the tick at one of the places, in mm, is far enough from those beside it."""
    beside = places[max(i - 1, 0) : i + 2]
    return all(b - a >= LEAST_APART_MM for a, b in pairwise(beside))


def _score(places: list[float], room: Room) -> float:
    """How well ticks at these places, in mm, divide the axis: their distance, and how far the axis
    goes on without one."""
    if len(places) < 2:
        return -math.inf
    apart = (places[-1] - places[0]) / (len(places) - 1)
    # beyond the reach of binary64 all places are one
    if apart <= 0:
        return -math.inf
    density = 2 - max(apart / room.ideal_mm, room.ideal_mm / apart)
    bare = max(places[0], room.length_mm - places[-1]) / room.ideal_mm
    return density - 1.5 * max(bare - 0.7, 0.0)


def _moved(position: Position, ends: tuple[float, float], moved: tuple[float, float]) -> float:
    """Which part of the axis the moving of free ends has added."""
    least, greatest, start, end = position(np.array([*ends, *moved]))
    with np.errstate(invalid="ignore"):
        return 1 - float((greatest - least) / (end - start))


def _ends(
    values: list[Decimal], position: Position, ends: tuple[float, float], held: AxisConstraints
) -> tuple[float, float]:
    """Free ends move out to a tick unless they stand just beyond one."""
    least, greatest = ends
    start, end = least, greatest
    # a number too small or too large for binary64 has no place
    values = [v for v in values if math.isfinite(float(v)) and (float(v) or not v)]
    if len(values) < 2:
        return start, end
    at = position(np.array([*map(float, values), least, greatest]))
    ticks, low, high = at[:-2], at[-2], at[-1]
    below = int(np.searchsorted(ticks, low, "right")) - 1
    if held.start is None and 0 <= below < len(ticks) - 1:
        gap = ticks[below + 1] - ticks[below]
        if low > ticks[below] and (ticks[below + 1] - low) / gap > _OVERHANG:
            start = float(values[below])
    above = int(np.searchsorted(ticks, high, "left"))
    if held.end is None and 0 < above < len(ticks):
        gap = ticks[above] - ticks[above - 1]
        if high < ticks[above] and (high - ticks[above - 1]) / gap > _OVERHANG:
            end = float(values[above])
    return start, end


def _within(value: float, start: float, end: float) -> bool:
    grain = 1e-12 * max(abs(start), abs(end))
    return start - min(grain, abs(start) * 1e-12) <= value <= end + grain


def _places(
    values: Sequence[Decimal], position: Position, start: float, end: float, room: Room
) -> list[float]:
    at = position(np.array([*map(float, values), start, end]))
    with np.errstate(invalid="ignore"):
        along = (at[:-2] - at[-2]) / (at[-1] - at[-2]) * room.length_mm
    return [float(place) for place in along]


def _fit(places: list[float], labels: list[Rich], room: Room) -> bool:
    known = [(at, room.size_mm(label)) for at, label in zip(places, labels, strict=True) if label]
    return apart(known, room.apart_mm)


def _thinned(places: list[float], labels: list[Rich], room: Room) -> list[Rich]:
    """The labels without those that would touch the last one, or one that is kept before them."""
    kept: list[Rich] = []
    free = -math.inf
    last = max((i for i, label in enumerate(labels) if label), default=0)
    end = places[last] - room.size_mm(labels[last]) / 2 - room.apart_mm if labels else 0.0
    for i, (place, label) in enumerate(zip(places, labels, strict=True)):
        half = room.size_mm(label) / 2
        shown = bool(label) and place - half >= free and (i == last or place + half <= end)
        kept.append(label if shown else ())
        free = place + half + room.apart_mm if shown else free
    return kept


def _minors(
    family: Family,
    position: Position,
    start: float,
    end: float,
    room: Room,
    majors: list[Decimal],
) -> list[Tick]:
    taken = set(majors)
    values = [v for v in family.minor(start, end) if v not in taken]
    values = [v for v in values if _within(float(v), start, end)]
    if not values:
        return []
    places = sorted(_places([*values, *majors], position, start, end, room))
    closest = min(b - a for a, b in pairwise(places))
    if closest < LEAST_APART_MM:
        return []
    return [Tick(float(value), (), minor=True) for value in values]


def multiples(
    step: Decimal, origin: Decimal = Decimal(0), *, least: float = 0.0, thins: bool = False
) -> Family:
    """Values a multiple of a step from an origin, those above `least`."""

    def around(low: float, high: float) -> list[Decimal]:
        first = math.floor((Decimal(low) - origin) / step)
        last = math.ceil((Decimal(high) - origin) / step)
        if last - first > 400:
            return []
        values = (origin + step * k for k in range(first, last + 1))
        return [value for value in values if value > least]

    return Family(around, float(step), thins=thins, said=shortest(float(step), 0))


def round_steps(span: float) -> list[Decimal]:
    """Round steps from far too fine to too coarse for a span."""
    power = math.floor(math.log10(span))
    return [
        Decimal(mantissa).scaleb(exponent)
        for exponent in range(power - 3, power + 1)
        for mantissa in ("1", "2", "5")
    ]


def mantissas(*digits: int, thins: bool = False) -> Family:
    """These digits times every power of ten; the other digits between them are minor."""

    def values(low: float, high: float, wanted: Sequence[int]) -> list[Decimal]:
        first, last = math.floor(math.log10(low)) - 1, math.floor(math.log10(high)) + 1
        if last - first > 40:
            return []
        return [Decimal(d).scaleb(p) for p in range(first, last + 1) for d in wanted]

    def around(low: float, high: float) -> list[Decimal]:
        found = values(low, high, digits)
        below = [v for v in found if v <= Decimal(low)][-1:]
        above = [v for v in found if v >= Decimal(high)][:1]
        return [*below, *(v for v in found if Decimal(low) < v < Decimal(high)), *above]

    def minor(low: float, high: float) -> list[Decimal]:
        return values(low, high, range(1, 10))

    return Family(around, float(digits[0]), minor, thins, ", ".join(map(str, digits)))
