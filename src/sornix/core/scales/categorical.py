"""Scales of listed places: categories, and readings in order.

Both place what is listed at 0, 1, 2 …, the same distance apart: a category scale its categories, in
the order of the table (numbers and times in their own), the scale in order its readings, whatever
lies between them. The list comes with what is held (`AxisConstraints.names`), one label a place.
"""

from collections.abc import Sequence
from itertools import combinations, pairwise

from sornix.core.errors import EditRefused
from sornix.core.scales.dressing import LEAST_APART_MM, apart
from sornix.core.scales.kind import AxisConstraints, Even, Extent, Resolved, Room, Tick, Traits
from sornix.core.text import Rich, parse_number, rich, shortest
from sornix.core.text.months import MONTH_NUMBERS

CATEGORY, IN_ORDER = "category", "in-order"


class Listed(Even):
    """See the module. Every category has its label, turned upright where they would touch; in
    order, so many readings are labelled as have room."""

    def __init__(self, name: str, words: str) -> None:
        self.name = name
        suits = ("linear", "time")
        self.traits = Traits(listed=True, whole=True, offers={"10": words}, suits=suits)

    def tick_count(self, start: float, end: float, step: float) -> int:
        return int((end - start) / step) + 1

    def words(self, value: float, within: float) -> str:
        return shortest(value, within)

    def parse(self, text: str, about: float) -> float:  # noqa: ARG002 - nothing is left unsaid
        return parse_number(text)

    def step_words(self, step: float) -> str:
        return shortest(step, 0)

    def parse_step(self, text: str) -> float:
        step = parse_number(text)
        if step < 1 or step != round(step):
            raise EditRefused("Every how many? Give a whole number.")
        return step

    def divisions(self, step: float) -> int:  # noqa: ARG002 - there is nothing between places
        return 1

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        count = max(len(held.names), 1)
        whole = extent is not None and self.name == IN_ORDER
        # readings in order reach the ends of the axis, categories have half a place around them
        margin = 0.0 if whole and count > 1 else 0.5
        start = held.start if held.start is not None else -margin
        end = held.end if held.end is not None else count - 1 + margin
        if start >= end:
            # a held end that lies beyond all places moves the free one along
            away = max(1.0, abs(start) * 1e-6, abs(end) * 1e-6)
            start, end = (start, start + away) if held.start is not None else (end - away, end)
        labels = [rich(name) for name in held.names]
        at_mm = room.length_mm / max(end - start, 1e-9)
        every = max(round(held.step or 1), held.every)
        turned = False
        if held.turn is None and self.name == CATEGORY and not _fit(labels, at_mm, room, every):
            # months and days are shortened where they would touch; other names are wrapped, and
            # turned where that is not enough
            short = [rich(name) for name in abbreviated(held.names)]
            near = room._replace(apart_mm=_SPACE * room.apart_mm)
            if _fit(short, at_mm, near, every):
                labels, room = short, near
        if held.turn is None and self.name == CATEGORY and not _fit(labels, at_mm, room, every):
            wrapped = [rich(wrap(name, at_mm - room.apart_mm, room)) for name in held.names]
            turned = room.level and not _fit(wrapped, at_mm, room, every)
            labels = labels if turned or not room.level else wrapped
        # upright labels need no more than their height
        needed = room.ideal_mm / _HEIGHTS
        while every < count:
            if every * at_mm >= needed if turned else _fit(labels, at_mm, room, every):
                break
            every += 1
        nothing: Rich = ()
        ticks = tuple(
            Tick(float(i), label if i % every == 0 else nothing, minor=i % every > 0)
            for i, label in enumerate(labels)
            if start <= i <= end and (i % every == 0 or at_mm > LEAST_APART_MM)
        )
        angle = 90.0 if turned else float(held.turn or 0)
        return Resolved(self.name, start, end, ticks, float(every), reverse, angle=angle)


# An axis along x reads best with ticks this many heights of a label apart; upright labels need one.
_HEIGHTS = 6.0
_MOST_LINES = 3
# Between names that everybody knows a space is enough, as a part of the usual gap.
_SPACE = 0.4


def abbreviated(names: Sequence[str]) -> list[str]:
    """Names of months and of days of the week by their first three letters, or four where three do
    not tell them apart; other names as they are."""
    plain = [name.strip().casefold().rstrip(".") for name in names]
    months = all(name in MONTH_NUMBERS for name in plain)
    if names and (months or all(name in _WEEKDAYS for name in plain)):
        for letters in (3, 4):
            short = [name.strip()[:letters] for name in names]
            if len(set(short)) == len(set(plain)):
                return short
    return list(names)


_WEEKDAYS = frozenset(
    ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
)


def wrap(name: str, width_mm: float, room: Room) -> str:
    """A name in the fewest lines, of up to three, whose width is no more than `width_mm`; in the
    narrowest way where none is."""
    words = name.split(" ")
    best = name
    for lines in range(1, min(len(words), _MOST_LINES) + 1):
        ways = (
            "\n".join(_broken(words, cuts))
            for cuts in combinations(range(1, len(words)), lines - 1)
        )
        best = min((best, *ways), key=lambda way: room.size_mm(rich(way)))
        if room.size_mm(rich(best)) <= width_mm:
            break
    return best


def _broken(words: list[str], cuts: tuple[int, ...]) -> list[str]:
    ends = [0, *cuts, len(words)]
    return [" ".join(words[a:b]) for a, b in pairwise(ends)]


def _fit(labels: list[Rich], at_mm: float, room: Room, every: int) -> bool:
    known = [(i * every * at_mm, room.size_mm(label)) for i, label in enumerate(labels[::every])]
    return apart(known, room.apart_mm)


CATEGORIES, ORDER = Listed(CATEGORY, "category"), Listed(IN_ORDER, "in order")
