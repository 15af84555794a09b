"""The linear scale: equal distances for equal differences.

Ticks are placed by the scoring of J. Talbot, S. Lin and P. Hanrahan, "An extension of Wilkinson's
algorithm for positioning tick labels on axes", IEEE Transactions on Visualization and Computer
Graphics 16 (2010) 1036–1043, section 4: every candidate step is scored for simplicity, coverage,
density and legibility, and the best one is taken. All candidates are tried (there are about 20),
in exact rational arithmetic, so that no range is too wide, too narrow or too far from zero.
"""

import math
from fractions import Fraction
from functools import lru_cache
from operator import itemgetter
from typing import NamedTuple

from sornix.core.scales.decimallabels import Labels, decimal_of, labels
from sornix.core.scales.dressing import apart, from_zero
from sornix.core.scales.kind import (
    MOST_TICKS,
    AxisConstraints,
    Even,
    Extent,
    Resolved,
    Room,
    Tick,
    Traits,
)
from sornix.core.text import Rich, parse_number, shortest, spoken

# Mantissas of round steps and how simple they are to count in. The paper ranks more of them; 3 and
# 4 are left out because a reader has to stop and count.
# Each in tenths, with the number of parts that such a step is divided into.
_MANTISSAS = ((10, 1.0, 5), (50, 0.95, 5), (20, 0.9, 4), (25, -0.4, 5))
# Steps are tried from so many powers of ten below the range, and plans of at most so many ticks.
_POWERS_BELOW, _MOST_CHOSEN = 3, 60
_SIMPLICITY, _COVERAGE, _DENSITY = 0.25, 0.2, 0.55
# A reading may pass the last tick by the fourth part of a step; by more, and the free end moves out
# to the next tick. Half a step may cost a sixteenth of the axis.
_OVERHANG, _HALF_COST, _PARTS = 4, 16, 20
_ZERO = Fraction(0)
_LIMIT = int(1.7e308)


class _Plan(NamedTuple):
    """A range and a step in exact numbers, as whole numbers of the `unit`-th part of 1, which are
    many times faster than fractions; ticks are the multiples of `step` inside, counted from
    `origin`, from the `first` to the `last`."""

    start: int
    end: int
    step: int
    unit: int
    origin: int
    first: int
    last: int

    @property
    def ticks(self) -> list[int]:
        """All of its ticks, rising, in its units."""
        origin, step = self.origin, self.step
        return [origin + k * step for k in range(self.first, self.last + 1)]

    @property
    def tick_count(self) -> int:
        return max(self.last - self.first + 1, 0)


class Linear(Even):
    """See the module."""

    name = "linear"
    traits = Traits(even=True, plain=True)

    def words(self, value: float, within: float) -> str:
        return shortest(value, within)

    def parse(self, text: str, about: float) -> float:  # noqa: ARG002 - nothing is left unsaid
        return parse_number(text)

    def step_words(self, step: float) -> str:
        # differences of decimal numbers carry crumbs of binary64
        return shortest(step, abs(step) * 1e-9)

    def parse_step(self, text: str) -> float:
        return parse_number(text)

    def divisions(self, step: float) -> int:
        # fifths of 1, 5 and 2.5, and quarters of 2
        return 4 if f"{step:e}".startswith("2.0") else 5

    def tick_count(self, start: float, end: float, step: float) -> int:
        return _plan(
            _exact(start), _exact(end), AxisConstraints(start, end), _exact(step)
        ).tick_count

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        least, greatest = _span(extent, held)
        note = ""
        plan = None
        if held.step is not None:
            plan = _plan(least, greatest, held, _exact(held.step))
            if not 2 <= plan.tick_count <= MOST_TICKS:
                note = (
                    f"The held step of {spoken(held.step)} "
                    + ("makes too few ticks" if plan.tick_count < 2 else "makes too many ticks")
                    + " on this range, so the axis chooses its own."
                )
                plan = None
        labels = None
        if plan is None:
            plan, labels = _best(least, greatest, held, room)
        shown = labels or _labels(plan, held.labels)
        return Resolved(
            self.name,
            plan.start / plan.unit,
            plan.end / plan.unit,
            _ticks(plan, shown.texts, room, held.every),
            plan.step / plan.unit,
            reverse,
            note,
            angle=float(held.turn or 0),
            factor=shown.factor,
        )


LINEAR = Linear()


def _exact(value: float) -> Fraction:
    """The decimal number that a person sees for `value`: 0.1 means one tenth, and a tick at one
    tenth is not outside a range that begins there."""
    return Fraction(repr(float(value)))


_NOTHING = Fraction(1, 10**290)
_MOST_RANGES = 128
# A range goes on beyond a tick for no less than such a part of itself: rounding leaves less.
_CRUMB = 10**9


@lru_cache(_MOST_RANGES)
def _span(extent: Extent | None, held: AxisConstraints) -> tuple[Fraction, Fraction]:
    """The ends before any rounding; never of zero width."""
    known = [end for end in (held.start, held.end) if end is not None]
    if extent is None:
        extent = Extent(min([0.0, *known]), max([1.0, *known]))
    if held.zero:
        extent = Extent(min(extent.least, 0.0), max(extent.greatest, 0.0))
    else:
        extent = from_zero(extent, held)
    least = _exact(held.start if held.start is not None else extent.least)
    greatest = _exact(held.end if held.end is not None else extent.greatest)
    # binary64 tells two numbers apart only so far; a range of a few such grains has no ticks
    grain = Fraction(math.ulp(max(abs(float(least)), abs(float(greatest)), 1e-300))) * 64
    if greatest - least >= grain:
        return least, greatest
    # one value only, or a held end beyond every reading: as much room as the value is large
    size = max(abs(least), abs(greatest)) / 10
    # numbers as good as 0 have no size of their own
    size = size if size > _NOTHING else Fraction(1)
    if held.start is not None:
        return least, least + size
    if held.end is not None:
        return greatest - size, greatest
    return least - size, greatest + size


def _plan(least: Fraction, greatest: Fraction, held: AxisConstraints, step: Fraction) -> _Plan:
    """The range for a step: free ends move out to a tick unless they stand just beyond one."""
    # an origin belongs to a step that is held
    counted = held.step is not None and held.origin is not None
    from_where = _exact(held.origin or 0.0) if counted else _ZERO
    # parts of a step are whole numbers as well
    unit = _PARTS * math.lcm(*[n.denominator for n in (least, greatest, step, from_where)])
    start, end, apart, origin = [_whole(n, unit) for n in (least, greatest, step, from_where)]
    return _ranged(start, end, apart, unit, origin, held, _parts(step))


def _whole(number: Fraction, unit: int) -> int:
    """A number as so many of the `unit`-th part of 1."""
    over, under = number.as_integer_ratio()
    return over * (unit // under)


def _ranged(
    low: int, high: int, step: int, unit: int, origin: int, held: AxisConstraints, parts: int
) -> _Plan:
    start, end, span, limit = low, high, high - low, _LIMIT * unit
    if held.start is None:
        start = max(low - _outward(low - origin, step, span, parts), -limit)
    if held.end is None:
        end = min(high + _outward(origin - high, step, span, parts), limit)
    first, last = -((origin - start) // step), (end - origin) // step
    return _Plan(start, end, step, unit, origin, first, last)


def _outward(beyond: int, step: int, span: int, parts: int) -> int:
    """How far a free end moves out: to the next tick, unless a reading passes the last one by so
    little that readings would be squeezed; then to half a step, or to one of the `parts` of one.
    `beyond` is how far the end stands above (below, for the other end) some tick."""
    to_tick, over = beyond % step, -beyond % step
    if _CRUMB * over < span:
        return 0
    if _OVERHANG * over > step or 10 * to_tick < span:
        return to_tick
    half = beyond % (step // 2)
    return half if _HALF_COST * half < span else beyond % (step // parts)


@lru_cache(_MOST_RANGES)
def _parts(step: Fraction) -> int:
    """Into how many parts a step is divided: fifths of 1, 5 and 2.5, and quarters of 2."""
    return 4 if decimal_of(step).as_tuple().digits == (2,) else 5


def _best(
    least: Fraction, greatest: Fraction, held: AxisConstraints, room: Room
) -> tuple[_Plan, Labels]:
    """The plan with the highest score, and its labels."""
    plans = _plans(least, greatest, held, room.length_mm, room.ideal_mm)
    if not plans and held.whole:
        # a range too narrow for two whole ticks
        return _best(least, greatest, held._replace(whole=False), room)
    for plan in plans:
        labels = _labels(plan, held.labels)
        if _fits(plan, labels.texts, room, held.every, _offset(plan, held.every)):
            return plan, labels
    # no step leaves room for its labels: the fewest ticks, and labels left out among them
    plan = min(plans, key=lambda p: p.tick_count)
    return plan, _labels(plan, held.labels)


class _Candidate(NamedTuple):
    """A plan with what of its score the length of the axis does not change."""

    plan: _Plan
    score: float


@lru_cache(_MOST_RANGES)
def _candidates(
    least: Fraction, greatest: Fraction, held: AxisConstraints
) -> tuple[_Candidate, ...]:
    """The plans for a range with round steps, from rather too fine to rather too coarse. Those of
    the last ranges are kept, since an edit leaves most axes as they were."""
    over, under = (greatest - least).as_integer_ratio()
    # 0.30103 = log10 2; the estimate is right to one unit, and the powers reach two beyond
    exponent = math.floor((over.bit_length() - under.bit_length()) * 0.30103)
    # in parts of this unit every end and step, and every part of a step, is a whole number
    fine = 10 ** max(0, _POWERS_BELOW + 1 - exponent)
    unit = _PARTS * math.lcm(least.denominator, greatest.denominator, fine)
    low, high = _whole(least, unit), _whole(greatest, unit)
    span, found = high - low, []
    for power in range(exponent - _POWERS_BELOW, exponent + 2):
        # a tenth of 10 ** power: 2.5 of these are no whole number
        tenth = unit * 10 ** (power - 1) if power > 0 else unit // 10 ** (1 - power)
        for tenths, simplicity, parts in _MANTISSAS:
            step = tenths * tenth
            if not span < 70 * step or step >= 2 * span:
                continue
            # half a snail, or the year 2019.5, is no place for a tick
            if held.whole and step % unit and span >= unit:
                continue
            plan = _ranged(low, high, step, unit, 0, held, parts)
            if 2 <= plan.last - plan.first + 1 <= _MOST_CHOSEN:
                below = (plan.first * step - low) / span
                above = (high - plan.last * step) / span
                coverage = 1 - 0.5 * (below**2 + above**2) / 0.1**2
                score = _SIMPLICITY * simplicity + _COVERAGE * coverage
                found.append(_Candidate(plan, score))
    return tuple(found)


@lru_cache(_MOST_RANGES)
def _plans(
    least: Fraction, greatest: Fraction, held: AxisConstraints, length_mm: float, ideal_mm: float
) -> tuple[_Plan, ...]:
    """The plans for a range on an axis of a length, the best score first: the paper's sum (its
    equation 5), legibility being required elsewhere."""
    scored = []
    for plan, score in _candidates(least, greatest, held):
        apart = plan.step / (plan.end - plan.start) * length_mm
        density = 2 - max(apart / ideal_mm, ideal_mm / apart)
        scored.append((score + _DENSITY * density, plan))
    scored.sort(key=itemgetter(0), reverse=True)
    return tuple([plan for _, plan in scored])


@lru_cache(_MOST_RANGES)
def _labels(plan: _Plan, form: str) -> Labels:
    step, origin = (Fraction(n, plan.unit) for n in (plan.step, plan.origin))
    return labels(step, origin, range(plan.first, plan.last + 1), form)


def _places(plan: _Plan, room: Room) -> list[float]:
    span, start = plan.end - plan.start, plan.start
    return [(at - start) / span * room.length_mm for at in plan.ticks]


def _offset(plan: _Plan, every: int) -> int:
    """Which tick is the first with a label, where every n-th has one."""
    return -plan.first % every


def _fits(plan: _Plan, labels: list[Rich], room: Room, every: int = 1, offset: int = 0) -> bool:
    """Whether every n-th label leaves the next one its gap."""
    places = _places(plan, room)[offset::every]
    sizes = [room.size_mm(label) for label in labels[offset::every]]
    return apart(list(zip(places, sizes, strict=True)), room.apart_mm)


def _thinning(plan: _Plan, labels: list[Rich], room: Room, held: int) -> tuple[int, int]:
    """Which labels are kept where all would touch: every n-th, beginning with which."""
    for every in (held * n for n in (1, 2, 5, 10, 20, 25, 50, 100)):
        offset = _offset(plan, every)
        if offset < len(labels) and _fits(plan, labels, room, every, offset):
            return every, offset
    return len(labels), 0


def _ticks(plan: _Plan, labels: list[Rich], room: Room, held: int) -> tuple[Tick, ...]:
    every, offset = _thinning(plan, labels, room, held)
    shown = [label if (i - offset) % every == 0 else () for i, label in enumerate(labels)]
    places = [at / plan.unit for at in plan.ticks]
    return tuple([Tick(at, label) for at, label in zip(places, shown, strict=True)])
