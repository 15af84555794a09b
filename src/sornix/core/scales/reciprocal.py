"""The reciprocal scale: places by 1/x, labels in x, as for rates against a temperature."""

from decimal import Decimal

import numpy as np

from sornix.core.scales.decimallabels import decimal_labels
from sornix.core.scales.families import (
    LEAST,
    Positive,
    mantissas,
    multiples,
    positive_span,
    round_steps,
    settle,
)
from sornix.core.scales.kind import AxisConstraints, Extent, Floats, Resolved, Room, Traits
from sornix.core.scales.linear import LINEAR
from sornix.core.text import parse_number, shortest


class Reciprocal(Positive):
    """See the module. Places rise with x; reversed, 1/x grows along the axis."""

    name = "reciprocal"
    traits = Traits(offers={"10": "reciprocal"})
    why = "1/x needs readings above 0"

    def position(self, values: Floats, start: float, end: float) -> Floats:
        with np.errstate(all="ignore"):
            return (1 / start - 1 / values) / (1 / start - 1 / end)

    def value(self, places: Floats, start: float, end: float) -> Floats:
        with np.errstate(all="ignore"):
            inverse = (1 - places) / start + places / end
            # beyond the place of an infinite x there is nothing
            return 1 / np.maximum(inverse, 1e-3 / end)

    def span(self, start: float, end: float) -> float:
        return end - start

    def tick_count(self, start: float, end: float, step: float) -> int:
        return int(np.floor(end / step) - np.ceil(start / step)) + 1

    def divisions(self, step: float) -> int:
        return LINEAR.divisions(step)

    def parse(self, text: str, about: float) -> float:
        # 1/300 is what stands on such an axis in other people's figures
        first, slash, second = text.partition("/")
        if slash and parse_number(first) == 1:
            return self.parse(second, about)
        return parse_number(text)

    def step_words(self, step: float) -> str:
        return shortest(step, abs(step) * 1e-9)

    def parse_step(self, text: str) -> float:
        return parse_number(text)

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        ends = positive_span(extent, held, apart=2.0, around=1.2, lowest=LEAST)
        settled, note = None, ""
        if held.step is not None:
            origin = Decimal(repr(held.origin or 0.0))
            family = multiples(Decimal(repr(held.step)), origin)
            settled = settle([family], _inverse, ends, held, room, decimal_labels)
            if settled is None:
                note = "The held step makes too few ticks here, so the axis chooses its own."
        if settled is None:
            # large values crowd: of round steps, as many are labelled as have room
            families = [multiples(step, thins=True) for step in round_steps(ends[1] - ends[0])]
            # from near zero to far from it, no one step is right
            families += [mantissas(1, 2, 5, thins=True), mantissas(1, thins=True)]
            settled = settle(families, _inverse, ends, held, room, decimal_labels)
        if settled is None:
            return Resolved(self.name, *ends, (), ends[1] - ends[0], reverse, note)
        angle = float(held.turn or 0)
        return Resolved(self.name, *settled[:4], reverse, note, settled.said, angle)


RECIPROCAL = Reciprocal()


def _inverse(values: Floats) -> Floats:
    with np.errstate(divide="ignore", over="ignore"):
        return -1 / values
