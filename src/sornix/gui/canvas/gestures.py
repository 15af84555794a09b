"""What the hand does on the paper: each gesture turns movements into edits or looks.

A gesture begins where the button went down, follows the pointer, and ends as one step of history
or, on Esc, as if it had never been. Points are in mm of the figure.
"""

import math
from collections.abc import Callable
from typing import Protocol

import numpy as np

from sornix.core import figure as edits
from sornix.core.drawing import Drawing, PanelPlace, Rect
from sornix.core.errors import SornixError
from sornix.core.figure import (
    AXES,
    AxisBand,
    CurveName,
    Divider,
    Figure,
    GuideBox,
    Legend,
    Movable,
    ReadOffLine,
    SeriesName,
    SourceLine,
    Spot,
    Target,
    Title,
    TrendEnd,
)
from sornix.core.readings import Tables
from sornix.core.scales import Resolved
from sornix.gui.canvas.handling import can_be_placed, handling
from sornix.gui.session.look import Look, look_at
from sornix.gui.session.workbench import Workbench

Point = tuple[float, float]

# The part of an axis at each end that takes hold of that end.
END_PART = 0.16


class Gesture(Protocol):
    """A drag in progress."""

    def move(self, point: Point) -> None: ...

    def finish(self) -> None: ...

    def cancel(self) -> None: ...


def place_along(place: PanelPlace, axis: str, point: Point) -> float:
    """Where a point stands along an axis: 0 at its beginning, 1 at its end."""
    inner = place.inner
    if axis[0] == "x":
        return (point[0] - inner.left) / inner.width
    return (inner.bottom - point[1]) / inner.height


def zoomed(fixed: float, ratio: float) -> Point:
    """The places whose stretch fills the axis when all grows by `ratio` about `fixed`."""
    return fixed - fixed / ratio, fixed + (1 - fixed) / ratio


def stretched(fixed: float, grasped: float, now: float) -> Point:
    """The places whose stretch fills the axis when what was at `grasped` goes to `now` and what
    is at `fixed` stays."""
    least = 0.02  # never through the fixed end, and never without end
    before = grasped - fixed
    after = now - fixed
    ratio = max(after / before, least) if before else 1.0
    return zoomed(fixed, ratio)


class _Edit:
    """A gesture that previews edits and commits them as one step."""

    def __init__(self, bench: Workbench, name: str) -> None:
        self._bench = bench
        self._name = name

    def finish(self) -> None:
        self._bench.commit(self._name)

    def cancel(self) -> None:
        self._bench.cancel()


class AxisDrag(_Edit):
    """Drags an axis: near an end, that end; elsewhere, the whole range."""

    def __init__(
        self, bench: Workbench, drawing: Drawing, axis: str, point: Point, tables: Tables
    ) -> None:
        self._place = drawing.place
        self._axis = axis
        self._scale = self._place.scale(axis)
        self._from = place_along(self._place, axis, point)
        self._tables = tables
        self._part = "range"
        if self._from > 1 - END_PART:
            self._part = "start" if self._scale.reversed else "end"
        elif self._from < END_PART:
            self._part = "end" if self._scale.reversed else "start"
        said = AXES[axis]
        words = {"range": f"moved {said}", "start": f"moved the start of {said}"}
        super().__init__(bench, words.get(self._part, f"moved the end of {said}"))

    def move(self, point: Point) -> None:
        now = place_along(self._place, self._axis, point)
        try:
            held = self._held(now)
        except SornixError:
            # there are no such places: beyond the calendar, or beyond all numbers
            return

        def change(figure: Figure) -> Figure:
            return edits.hold(figure, self._tables, self._axis, **held)

        self._bench.preview(change)

    def _held(self, now: float) -> dict[str, float]:
        """What the hand holds where it is now. Raises SornixError."""
        if self._part == "range":
            shift = now - self._from
            start, end = self._scale.window(-shift, 1 - shift)
            return {"start": start, "end": end}
        fixed = 0.0 if self._from > 0.5 else 1.0
        start, end = self._scale.window(*stretched(fixed, self._from, now))
        return {self._part: start if self._part == "start" else end}


# What is dragged snaps to edges and middles this near.
_SNAP_MM = 0.8


def moved_to(drawing: Drawing, of: Movable, left: float, top: float) -> Spot:
    """The spot of something whose top left comes to a place in mm, kept on the paper."""
    box = drawing.box_of(of)
    width, height = (box.width, box.height) if box is not None else (0.0, 0.0)
    left = min(max(left, 0.0), drawing.width_mm - width)
    top = min(max(top, 0.0), drawing.height_mm - height)
    if isinstance(of, Title | SourceLine):
        return Spot(round(left / drawing.width_mm, 5), round(top / drawing.height_mm, 5))
    inner = drawing.place.inner
    return Spot(
        round((left - inner.left) / inner.width, 5), round((top - inner.top) / inner.height, 5)
    )


def snap(drawing: Drawing, of: Movable, box: Rect) -> tuple[Rect, list[tuple[str, float]]]:
    """A rectangle moved to what its edges or middle nearly stand in line with: the data area, the
    margins and the middle of the paper, and what else is written; and the lines that it keeps to,
    each `x` or `y` and its place in mm."""
    inner = drawing.place.inner
    page = Rect(0, 0, drawing.width_mm, drawing.height_mm)
    others = [b.rect for b in drawing.boxes if b.of != of and _is_written(b.of)]
    found: list[tuple[str, float]] = []
    moved = {}
    for axis, at in (("x", 0), ("y", 1)):
        lines = [line for r in (inner, page.grown(-2.4), *others) for line in _lines(r, at)]
        mine = _lines(box, at)
        gap, line = min(((line - own, line) for line in lines for own in mine),
                        key=lambda pair: abs(pair[0]))  # fmt: skip
        if abs(gap) <= _SNAP_MM:
            found.append((axis, line))
        moved[axis] = box[at] + (gap if abs(gap) <= _SNAP_MM else 0.0)
    return Rect(moved["x"], moved["y"], box.width, box.height), found


def _is_written(of: Target) -> bool:
    return can_be_placed(of) or isinstance(of, TrendEnd | ReadOffLine)


def _lines(rect: Rect, at: int) -> tuple[float, float, float]:
    """The edges and the middle of a rectangle along x (0) or y (1)."""
    begin, length = rect[at], rect[at + 2]
    return begin, begin + length / 2, begin + length


class LabelDrag(_Edit):
    """Drags a text, the legend or a label; it snaps to what it comes in line with."""

    def __init__(self, bench: Workbench, drawing: Drawing, of: Movable, point: Point) -> None:
        super().__init__(bench, f"moved the {handling(of).words}")
        self.of = of
        self.snapped: list[tuple[str, float]] = []
        box = drawing.box_of(of)
        assert box is not None
        self._offset = (point[0] - box.left, point[1] - box.top)
        self._size = (box.width, box.height)
        self._drawing = drawing

    def move(self, point: Point) -> None:
        left, top = (at - off for at, off in zip(point, self._offset, strict=True))
        box, self.snapped = snap(self._drawing, self.of, Rect(left, top, *self._size))
        spot = moved_to(self._drawing, self.of, box.left, box.top)
        self._bench.preview(lambda figure: edits.move(figure, self.of, spot))


class DividerDrag(_Edit):
    """Drags what is between two rows or columns of panels: one grows as the other shrinks."""

    def __init__(
        self, bench: Workbench, drawing: Drawing, of: Divider, point: Point, figure: Figure
    ) -> None:
        super().__init__(bench, "changed the sizes of panels")
        along = self._along = of.along
        self._number = of.number
        self._ratio_name = "heights" if along == "row" else "widths"
        self._ratios = edits.ratios(figure, self._ratio_name)
        sizes = {
            getattr(panel, along): place.inner.height if along == "row" else place.inner.width
            for panel, place in zip(figure.panels, drawing.panels, strict=True)
        }
        # how much of a ratio a millimetre is
        self._unit = self._ratios[self._number] / sizes[self._number]
        self._from = point

    def move(self, point: Point) -> None:
        at = 1 if self._along == "row" else 0
        by = (point[at] - self._from[at]) * self._unit
        sizes = list(self._ratios)
        sizes[self._number] += by
        sizes[self._number + 1] -= by
        rounded = tuple(round(size, 3) for size in sizes)

        def change(figure: Figure) -> Figure:
            if self._along == "row":
                return edits.set_ratios(figure, heights=rounded)
            return edits.set_ratios(figure, widths=rounded)

        self._bench.preview(change)


class RangeDrag(_Edit):
    """Drags an end of the x that a trend goes over."""

    def __init__(self, bench: Workbench, drawing: Drawing, of: TrendEnd, figure: Figure) -> None:
        self._trend, self._part = of.trend, of.part
        super().__init__(bench, f"moved the {self._part} of a trend")
        trend = figure.panel.one_trend(self._trend)
        self._place = drawing.place.on(figure.panel.one_series(trend.series))

    def move(self, point: Point) -> None:
        at = min(max(place_along(self._place, "x", point), 0.0), 1.0)
        changes = {self._part: value_at(self._place.x, at)}
        self._bench.preview(lambda f: edits.change_trend(f, self._trend, **changes))


class ReadOffDrag(_Edit):
    """Drags the y that is read off a trend."""

    def __init__(self, bench: Workbench, drawing: Drawing, of: ReadOffLine, figure: Figure) -> None:
        super().__init__(bench, "moved what is read off")
        self._trend, self._index = of.trend, of.index
        trend = figure.panel.one_trend(self._trend)
        self._place = drawing.place.on(figure.panel.one_series(trend.series))

    def move(self, point: Point) -> None:
        y = value_at(self._place.y, min(max(place_along(self._place, "y", point), 0.0), 1.0))
        self._bench.preview(lambda f: edits.change_read_off(f, self._trend, self._index, y))


def value_at(scale: Resolved, at: float) -> float:
    """The value at a place of a scale, with as many digits as the hand can tell apart."""
    value = scale.value(at)
    within = abs(scale.value(min(at + 0.002, 1.0)) - scale.value(max(at - 0.002, 0.0))) or 1.0
    return round(value, max(-math.floor(math.log10(within)), 0))


class GuideDrag(_Edit):
    """Drags a line at a value, or a shaded range, along its axis."""

    def __init__(
        self, bench: Workbench, drawing: Drawing, of: GuideBox, point: Point, figure: Figure
    ) -> None:
        super().__init__(bench, "moved a line at a value")
        self._guide = figure.panel.one_guide(of.guide)
        self._place = drawing.place
        scale = self._scale = drawing.place.scale(self._guide.axis)
        at = float(scale.position(np.array([self._guide.value]))[0])
        # what the hand took hold of need not be the value itself, of a range
        self._off = place_along(self._place, self._guide.axis, point) - at

    def move(self, point: Point) -> None:
        at = place_along(self._place, self._guide.axis, point) - self._off
        value = value_at(self._scale, min(max(at, 0.0), 1.0))
        name = self._guide.id
        self._bench.preview(lambda f: edits.change_guide(f, name, value=value))


class SizeDrag(_Edit):
    """Drags the lower right corner of the paper, in whole millimetres."""

    def __init__(self, bench: Workbench, drawing: Drawing, point: Point) -> None:
        super().__init__(bench, "changed the size")
        self._rest = (drawing.width_mm - point[0], drawing.height_mm - point[1])

    def move(self, point: Point) -> None:
        width, height = (round(at + rest) for at, rest in zip(point, self._rest, strict=True))
        self._bench.preview(lambda figure: edits.set_size(figure, width, height))


def drag_of(
    bench: Workbench, drawing: Drawing, of: Target, point: Point, figure: Figure, tables: Tables
) -> Gesture | None:
    """The drag of what a box stands for; None where that cannot be dragged."""
    match of:
        case AxisBand(axis):
            return AxisDrag(bench, drawing, axis, point, tables)
        case Divider():
            return DividerDrag(bench, drawing, of, point, figure)
        case TrendEnd():
            return RangeDrag(bench, drawing, of, figure)
        case ReadOffLine():
            return ReadOffDrag(bench, drawing, of, figure)
        case GuideBox():
            return GuideDrag(bench, drawing, of, point, figure)
        case SeriesName() | CurveName():
            # names at line ends stand where the lines do
            if drawing.box_of(Legend()) is None:
                return None
            return LabelDrag(bench, drawing, Legend(), point)
    return LabelDrag(bench, drawing, of, point)


class LookDrag:
    """Drags what is looked at; the figure is unchanged."""

    def __init__(
        self, place: PanelPlace, point: Point, show: Callable[[Look | None], None]
    ) -> None:
        self._place, self._show = place, show
        self._from = [place_along(place, axis, point) for axis in "xy"]

    def move(self, point: Point) -> None:
        shifts = [place_along(self._place, axis, point) for axis in "xy"]
        x, y = (now - was for now, was in zip(shifts, self._from, strict=True))
        self._show(look_at(self._place, {"x": (-x, 1 - x), "y": (-y, 1 - y)}))

    def finish(self) -> None:
        """The look stays where it was put."""

    def cancel(self) -> None:
        self._show(None)


class LookBox:
    """Draws a box to look at."""

    def __init__(self, place: PanelPlace, point: Point, show: Callable[[Look], None]) -> None:
        self._place, self._show = place, show
        self.begin = self.end = point

    def move(self, point: Point) -> None:
        inner = self._place.inner
        self.end = (
            min(max(point[0], inner.left), inner.right),
            min(max(point[1], inner.top), inner.bottom),
        )

    def finish(self) -> None:
        """Shows the box, unless it is too small to have been meant."""
        ranges = [
            sorted(place_along(self._place, axis, p) for p in (self.begin, self.end))
            for axis in "xy"
        ]
        if all(last - first > 0.015 for first, last in ranges):
            (x0, x1), (y0, y1) = ranges
            look = look_at(self._place, {"x": (x0, x1), "y": (y0, y1)})
            if look is not None:
                self._show(look)

    def cancel(self) -> None:
        self.end = self.begin
