"""Scales of listed places: categories, and readings in order.

Both place what is listed at 0, 1, 2 …, the same distance apart: a category scale its categories, in
the order of the table (numbers and times in their own), the scale in order its readings, whatever
lies between them. The list comes with what is held (`Fitting.names`), one label a place.
"""

from sornix.core.errors import EditRefused
from sornix.core.scales.kind import KINDS, Even, Extent, Fitting, Resolved, Room, Tick
from sornix.core.text import Rich, parse_number, rich, shortest

CATEGORY, IN_ORDER = "category", "in-order"
# the kinds whose places are numbers of a list
LISTED = (CATEGORY, IN_ORDER)


class Listed(Even):
    """See the module. Every category has its label, turned upright where they would touch; in
    order, so many readings are labelled as have room."""

    def __init__(self, name: str) -> None:
        self.name = name

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

    def resolve(
        self, extent: Extent | None, held: Fitting, room: Room, *, reverse: bool
    ) -> Resolved:
        count = max(len(held.names), 1)
        whole = extent is not None and self.name == IN_ORDER
        # readings in order reach the ends of the axis, categories have half a place around them
        margin = 0.0 if whole and count > 1 else 0.5
        start = held.start if held.start is not None else -margin
        end = held.end if held.end is not None else count - 1 + margin
        labels = [rich(name) for name in held.names]
        apart = room.length_mm / max(end - start, 1e-9)
        every = round(held.step or 1)
        turned = self.name == CATEGORY and _can_turn(room) and not _fit(labels, apart, room, every)
        # upright labels need no more than their height
        needed = room.ideal_mm / _HEIGHTS
        while every < count:
            if every * apart >= needed if turned else _fit(labels, apart, room, every):
                break
            every += 1
        nothing: Rich = ()
        ticks = tuple(
            Tick(float(i), label if i % every == 0 else nothing, minor=i % every > 0)
            for i, label in enumerate(labels)
            if start <= i <= end and (i % every == 0 or apart > _LEAST_APART_MM)
        )
        return Resolved(self.name, start, end, ticks, float(every), reverse, turned=turned)


_LEAST_APART_MM = 0.7
# An axis along x reads best with ticks this many heights of a label apart; upright labels need one.
_HEIGHTS = 5.0


def _can_turn(room: Room) -> bool:
    """Whether labels lie along the axis, so that turning them helps."""
    return room.size_mm(rich("mm")) > room.size_mm(rich("m"))


for _kind in (Listed(CATEGORY), Listed(IN_ORDER)):
    KINDS[_kind.name] = _kind


def _fit(labels: list[Rich], apart_mm: float, room: Room, every: int) -> bool:
    sizes = [room.size_mm(label) for label in labels[::every]]
    return all(
        (sizes[i] + sizes[i + 1]) / 2 + room.apart_mm <= apart_mm * every
        for i in range(len(sizes) - 1)
    )
