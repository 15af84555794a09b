"""Axes at the four sides of a data area: lines, ticks, labels, titles, grid lines.

An axis line stands a little off the data area and runs from its first tick to its last; ticks
point from the line into the gap, unless they are asked to point out. Everything is placed by how
far along the axis and how far out from the data area it stands, so that one way of drawing serves
all sides.
"""

import math
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from attrs import evolve

from sornix.core.drawing.labels.breaking import fitted_size
from sornix.core.drawing.layout.ticklabels import LINE, Labels, label_lines
from sornix.core.drawing.parts.items import Box, Item, Lines, Measure, Rect, Stroke, Text, at_spot
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import DASHES, AxisBand, AxisLook, AxisTitle, GridLine, Spot
from sornix.core.frozen import frozen
from sornix.core.scales import Resolved
from sornix.core.text import Rich

BOTTOM, LEFT, TOP, RIGHT = "bottom", "left", "top", "right"
# The side of the data area at which each axis stands.
SIDES = {"x": BOTTOM, "y": LEFT, "x2": TOP, "y2": RIGHT}


@frozen(slots=False, eq=False)
class Axis:
    """An axis at a side of the data area: what stands along it, and how. `name` is that of the
    axis, whose values it shows in `other` units or its own. An upright one is `crowned` where
    another stands above the data area: a power of ten at its end stands outside of it then."""

    name: str
    other: bool
    side: str
    scale: Resolved
    look: AxisLook
    labels: Labels
    title: Rich
    title_colour: str
    style: Style
    title_spot: Spot | None = None
    crowned: bool = False

    @cached_property
    def of(self) -> str:
        """What its items are a part of: `x-axis`."""
        return f"{self.name}-{'other' if self.other else 'axis'}"

    @cached_property
    def title_of(self) -> str:
        return f"{self.name}-{'other-title' if self.other else 'title'}"

    @cached_property
    def level(self) -> bool:
        return self.side in (BOTTOM, TOP)

    @cached_property
    def colour(self) -> str:
        return self.style.colour(self.look.colour) or self.style.ink

    # -- how far out from the data area its parts stand ------------------------------------------

    @cached_property
    def line_at(self) -> float:
        return self.style.room_mm + self.style.gap_mm

    @cached_property
    def labels_at(self) -> float:
        outward = self.look.ticks in ("out", "across") and bool(self.scale.ticks)
        return self.line_at + (self.style.gap_mm if outward else 0) + 0.35 * self.labels.size_mm

    @cached_property
    def labels_depth(self) -> float:
        angle, across = self.scale.angle, self.labels.across
        depths = [across(tick.label, angle) for tick in self.scale.ticks if tick.label]
        if self.crowned and self.scale.factor:
            depths.append(across(self.scale.factor, 0.0) - (self.labels_at - self.line_at))
        return max(depths, default=0.0)

    @property
    def rows(self) -> int:
        """Rows of text under the labels: groups, and on a level axis what all are multiplied by."""
        return bool(self.scale.groups) + (bool(self.scale.factor) and self.level)

    @cached_property
    def ends_at(self) -> float:
        """Where the labels and what is said with them end."""
        if not self.labels_depth and not self.rows:
            return self.line_at
        drop = self.labels.measure.descent(self.labels.size_mm) if self.level else 0.0
        return self.labels_at + self.labels_depth + self.rows * self._row_mm + drop

    @property
    def _row_mm(self) -> float:
        return LINE * self.labels.height

    def depth(self, measure: Measure) -> float:
        """How far the axis reaches out with its title."""
        # a title that was dragged away keeps its room, or the figure would move under the hand
        if not self.title:
            return self.ends_at
        size = self.style.axis_title_pt * MM_PER_POINT
        return self.ends_at + self._title_gap + measure.ascent(size) + measure.descent(size)

    @property
    def _title_gap(self) -> float:
        return 0.5 if self.level else 0.8

    def overhang(self, length_mm: float, *, end: bool) -> float:
        """How far labels reach beyond the beginning or the end of an axis of a length."""
        over = 0.0
        for place, before, after in self._reaches:
            at = place * length_mm
            over = max(over, at + after - length_mm if end else before - at)
        if end and self.scale.factor and not self.level:
            over = max(over, self._row_mm + 0.5 * self.labels.height)
        return over

    @cached_property
    def _reaches(self) -> list[tuple[float, float, float]]:
        """The place of each label from 0 to 1, and how far it reaches before and after it in mm."""
        ticks = [tick for tick in self.scale.ticks if tick.label]
        places = self.scale.position(np.array([tick.value for tick in ticks])).tolist()
        angle, found = self.scale.angle, []
        turn = math.radians(angle)
        for place, tick in zip(places, ticks, strict=True):
            before = after = self.labels.along(tick.label, angle) / 2
            if 0 < angle < 90:
                # a slanting label hangs from its end, or stands on its beginning
                width, height = self.labels.block(tick.label)
                reach = width * (math.cos(turn) if self.level else math.sin(turn)) + height / 2
                before, after = (reach, after) if self.side in (BOTTOM, LEFT) else (before, reach)
            found.append((place, before, after))
        return found

    # -- drawing -------------------------------------------------------------------------------

    def at(self, inner: Rect, along: float, out: float) -> tuple[float, float]:
        """A point in mm, `along` the figure and `out` from the data area."""
        if self.side == BOTTOM:
            return along, inner.bottom + out
        if self.side == TOP:
            return along, inner.top - out
        return (inner.left - out, along) if self.side == LEFT else (inner.right + out, along)

    def _outward(self, inner: Rect) -> tuple[float, float]:
        """The edge of the data area at which it stands, and 1 or −1 as it goes out from there."""
        edge = {BOTTOM: inner.bottom, TOP: inner.top, LEFT: inner.left, RIGHT: inner.right}
        return edge[self.side], 1.0 if self.side in (BOTTOM, RIGHT) else -1.0

    def places(self, inner: Rect, *, minor: bool = True) -> list[float]:
        """Where its ticks stand along the figure."""
        values = [tick.value for tick in self.scale.ticks if minor or not tick.minor]
        return self._along(inner, values)

    def _along(self, inner: Rect, values: Sequence[float]) -> list[float]:
        at = self.scale.position(np.array(values))
        if self.level:
            return [float(v) for v in inner.left + at * inner.width]
        return [float(v) for v in inner.bottom - at * inner.height]

    def items(self, inner: Rect, area: Rect, measure: Measure) -> list[Item]:
        """The axis with its labels and its title; these do not leave `area`."""
        items = [*self._lines(inner), *self._texts(inner), *self._said_with(inner)]
        if self.title:
            items.append(self._title(inner, area, measure))
        return items

    def _lines(self, inner: Rect) -> list[Item]:
        ticks = self.places(inner)
        if not ticks:
            return []
        half, gap = self.style.axis_mm / 2, self.style.gap_mm
        ends = []
        if self.look.line:
            span = (min(ticks) - half, max(ticks) + half)
            ends.append(
                [*self.at(inner, span[0], self.line_at), *self.at(inner, span[1], self.line_at)]
            )
        inward, outward = _POINTING[self.look.ticks]
        if inward + outward > 0:
            from_edge, way = self._outward(inner)
            for along, tick in zip(ticks, self.scale.ticks, strict=True):
                length = gap * (0.55 if tick.minor else 1.0)
                begin = from_edge + way * (self.line_at - inward * length)
                end = from_edge + way * (self.line_at + outward * length)
                ends.append(
                    [along, end, along, begin] if self.level else [end, along, begin, along]
                )
        # a short line divides one group from the next
        bounds = [group.start for group in self.scale.groups if group.start < group.end]
        far = self.labels_at + self.labels_depth + 0.9 * self._row_mm
        for along in self._along(inner, [b for b in bounds if b > self.scale.start]):
            begin = self.labels_at + self.labels_depth + 0.25 * self._row_mm
            ends.append([*self.at(inner, along, begin), *self.at(inner, along, far)])
        if not ends:
            return []
        return [Lines(self.of, np.array(ends), Stroke(self.colour, self.style.axis_mm))]

    def _texts(self, inner: Rect) -> list[Item]:
        items: list[Item] = []
        for along, tick in zip(self.places(inner), self.scale.ticks, strict=True):
            if tick.label:
                items += self._label(inner, along, tick.label)
        return items

    def _label(self, inner: Rect, along: float, label: Rich) -> list[Item]:
        angle, height, size = self.scale.angle, self.labels.height, self.labels.size_mm
        turn = math.radians(angle)
        x, y = self.at(inner, along, self.labels_at)
        if angle:
            runs = label_lines(label)[0]
            aside, down = 0.5 * height * math.sin(turn), height * math.cos(turn)
            where = {
                BOTTOM: (x + aside, y + down, 1.0),
                TOP: (x + aside, y, 0.0),
                LEFT: (x, y + 0.5 * down, 1.0),
                RIGHT: (x + height * math.sin(turn), y + 0.5 * down, 0.0),
            }[self.side]
            if not self.level and angle == 90:
                where = (where[0], y, 0.5)
            left, base, anchor = where
            return [Text(self.of, left, base, runs, size, self.colour, anchor, angle=angle)]
        lines = label_lines(label)
        anchor = {LEFT: 1.0, RIGHT: 0.0}.get(self.side, 0.5)
        if self.side == BOTTOM:
            base = y + height
        elif self.side == TOP:
            base = y - LINE * height * (len(lines) - 1)
        else:
            base = y + height / 2 - LINE * height * (len(lines) - 1) / 2
        return [
            Text(self.of, x, base + i * LINE * height, line, size, self.colour, anchor)
            for i, line in enumerate(lines)
        ]

    def _said_with(self, inner: Rect) -> list[Item]:
        """What is said under the labels, and the power of ten at the end."""
        items: list[Item] = []
        size, height = self.labels.size_mm, self.labels.height
        row = self.labels_at + self.labels_depth + self._row_mm
        downward = self.side != TOP
        for group in self.scale.groups:
            low, high = self._along(inner, [group.start, group.end])
            x, y = self.at(inner, (low + high) / 2, row if downward else row - height)
            items.append(Text(self.of, x, y, group.label, size, self.colour, 0.5))
        if self.scale.factor and self.level:
            out = row + bool(self.scale.groups) * self._row_mm
            _, y = self.at(inner, 0, out if downward else out - height)
            items.append(Text(self.of, inner.right, y, self.scale.factor, size, self.colour, 1.0))
        elif self.scale.factor:
            x, _ = self.at(inner, 0, self.line_at)
            y = inner.top - self.labels.height
            # the labels of an axis above reach over the ends of its line
            outside = 1.0 if self.crowned else 0.35
            anchor = outside if self.side == LEFT else 1 - outside
            items.append(Text(self.of, x, y, self.scale.factor, size, self.colour, anchor))
        return items

    def _title(self, inner: Rect, area: Rect, measure: Measure) -> Text:
        """At the middle of the axis, unless that would leave the area."""
        style = self.style
        full = style.axis_title_pt * MM_PER_POINT
        length, low, high = (
            (area.width - 2 * style.margin_mm, area.left, area.right)
            if self.level
            else (area.height - 1.2 * style.margin_mm, area.top, area.bottom)
        )
        size = fitted_size(self.title, full, length, measure)
        half = measure.width(self.title, size, bold=True) / 2
        middle = inner.left + inner.width / 2 if self.level else inner.top + inner.height / 2
        middle = max(
            min(middle, high - style.margin_mm / 2 - half), low + style.margin_mm / 4 + half
        )
        from_labels = self.ends_at + self._title_gap
        rise = measure.ascent(full) if self.side in (BOTTOM, RIGHT) else measure.descent(full)
        x, y = self.at(inner, middle, from_labels + rise)
        angle = 0.0 if self.level else 90.0
        if self.title_spot is not None:
            width, height = 2 * half, measure.ascent(size) + measure.descent(size)
            box = at_spot(
                self.title_spot, inner, *((width, height) if self.level else (height, width))
            )
            x, y = box.left + box.width / 2, box.top + measure.ascent(size)
            if not self.level:
                x, y = box.left + measure.ascent(size), box.top + box.height / 2
        return Text(
            self.title_of, x, y, self.title, size, self.title_colour, 0.5, bold=True, angle=angle
        )

    def boxes(self, inner: Rect, items: Sequence[Item], measure: Measure) -> list[Box]:
        """The band of the axis with its labels, as long as the data area, and the title."""
        ends = 0.6 * self.labels.size_mm
        begin = inner.left - ends if self.level else inner.top - ends
        length = (inner.width if self.level else inner.height) + 2 * ends
        near, far = self.style.room_mm, max(self.ends_at, self.line_at + 1.0)
        (x0, y0), (x1, y1) = self.at(inner, begin, near), self.at(inner, begin + length, far)
        band = Rect(min(x0, x1), min(y0, y1), abs(x1 - x0), abs(y1 - y0))
        boxes = [Box(AxisBand(self.name), band)]
        for title in (i for i in items if isinstance(i, Text) and i.of == self.title_of):
            width = measure.width(title.runs, title.size_mm, bold=True)
            high, low = measure.ascent(title.size_mm), measure.descent(title.size_mm)
            if title.angle:
                rect = Rect(title.x - high, title.y - width / 2, high + low, width)
            else:
                rect = Rect(title.x - width / 2, title.y - high, width, high + low)
            boxes.append(Box(AxisTitle(self.name), rect))
        return boxes

    def grid(self, inner: Rect, *, minor: bool) -> Lines | None:
        """Lines across the data area at its ticks, or at the minor ones."""
        wanted = [tick.value for tick in self.scale.ticks if tick.minor == minor]
        look = self.look.minor if minor else self.look.major
        along = self._along(inner, wanted)
        if not along:
            return None
        wide = inner.grown(self.style.room_mm)
        if self.level:
            ends = [[t, wide.top, t, wide.bottom] for t in along]
        else:
            ends = [[wide.left, t, wide.right, t] for t in along]
        return Lines(
            self.of.replace("axis", "grid"), np.array(ends), _stroke(look, self.style, minor)
        )


_POINTING = {"in": (1.0, 0.0), "out": (0.0, 1.0), "across": (1.0, 1.0), "none": (0.0, 0.0)}


def _stroke(look: GridLine, style: Style, minor: bool) -> Stroke:
    width, dashes = style.fine(0.1 if minor else 0.18, *DASHES[look.dash])
    return Stroke(style.colour(look.colour) or style.grid, look.width_mm or width, dashes)


def dressed(label: Rich, before: Rich, after: Rich) -> Rich:
    """A label with the texts before and behind it."""
    return (*before, *label, *after) if label else ()


def relabelled(scale: Resolved, labels: Sequence[Rich]) -> Resolved:
    """A scale whose ticks have other labels."""
    ticks = (t._replace(label=label) for t, label in zip(scale.ticks, labels, strict=True))
    return evolve(scale, ticks=tuple(ticks))
