"""How large the labels of an axis are, and the room that they take."""

import math
from functools import lru_cache, partial
from typing import NamedTuple

from sornix.core.drawing.parts.items import Measure
from sornix.core.scales import Room
from sornix.core.text import Rich

# From one line of a label to the next, in heights of a capital.
LINE = 1.62

# Lengths of the axes of a figure of one column, in mm.
_USUAL_ALONG, _USUAL_UPWARD = 75.0, 52.0
# An axis reads best with ticks so many heights of a label apart: 4 to 7 labels upward and 4 to 8
# along on a figure of 84 × 63 mm.
_ALONG, _UPWARD = 7.2, 6.0


def label_lines(label: Rich) -> list[Rich]:
    """The lines of a label."""
    for run in label:
        if "\n" in run.text:
            break
    else:
        return [label]
    lines: list[Rich] = [()]
    for run in label:
        first, *more = run.text.split("\n")
        lines[-1] = (*lines[-1], run._replace(text=first))
        lines += [(run._replace(text=text),) for text in more]
    return lines


class Labels(NamedTuple):
    """How large the labels of an axis are: lying ones, or turned by an angle, along a level axis or
    an upright one."""

    size_mm: float
    level: bool
    measure: Measure

    @property
    def height(self) -> float:
        return self.measure.ascent(self.size_mm)

    # the same labels are asked for at every turn of a layout, and at every step of an edit

    @lru_cache(maxsize=4096)  # noqa: B019 - small values that come again
    def block(self, label: Rich) -> tuple[float, float]:
        """Width and height of a label as it lies."""
        lines = label_lines(label)
        width = max([self.measure.width(line, self.size_mm) for line in lines])
        return width, self.height * (1 + LINE * (len(lines) - 1))

    @lru_cache(maxsize=4096)  # noqa: B019
    def along(self, label: Rich, angle: float) -> float:
        """The room that a label takes along its axis, among others that are turned as it is."""
        width, height = self.block(label)
        if not angle:
            return width if self.level else height
        turn = math.radians(angle if self.level else 90 - angle)
        whole = width * math.cos(turn) + height * math.sin(turn)
        return min(whole, height / math.sin(turn)) if math.sin(turn) > 0.01 else whole

    @lru_cache(maxsize=4096)  # noqa: B019
    def across(self, label: Rich, angle: float) -> float:
        """How far out from its axis a label reaches."""
        width, height = self.block(label)
        if not angle:
            return height if self.level else width
        turn = math.radians(angle)
        if self.level:
            return width * math.sin(turn) + height * math.cos(turn)
        return width * math.cos(turn) + height * math.sin(turn)

    def _growth(self, length_mm: float) -> float:
        """How much further apart ticks are best on a long axis: on one of four times the length are
        twice as many, since more are counted and not seen."""
        return math.sqrt(max(length_mm / (_USUAL_ALONG if self.level else _USUAL_UPWARD), 1.0))

    def room(self, length_mm: float, turn: int | None) -> Room:
        """The room on an axis of a length, for labels that are turned so."""
        angle = float(turn or 0)
        flat = self.level and not angle
        return Room(
            length_mm,
            partial(self.along, angle=angle),
            (0.75 if flat else 0.25) * self.size_mm,
            (_ALONG if self.level else _UPWARD) * self.height * self._growth(length_mm),
            self.level,
        )
