"""Axis lines, ticks, tick labels, axis titles and grid lines.

The axis lines stand a little off the data area and run from the first tick to the last; ticks
point from the line into the gap.
"""

import numpy as np

from sornix.core.drawing.items import Box, Item, Lines, Measure, PanelPlace, Rect, Stroke, Text
from sornix.core.drawing.style import MM_PER_POINT, Style
from sornix.core.figure import Panel
from sornix.core.scales import Resolved
from sornix.core.text import Rich


def fitted_size(runs: Rich, size_mm: float, room_mm: float, measure: Measure) -> float:
    """The size at which a bold title has room: its own, or smaller, but not below half of it."""
    width = measure.width(runs, size_mm, bold=True)
    return size_mm * min(max(room_mm / width, 0.5), 1.0) if width else size_mm


def label_room(style: Style) -> float:
    """From the axis line to the tick labels, in mm."""
    return 0.35 * style.label_pt * MM_PER_POINT


def axis_items(
    panel: Panel,
    place: PanelPlace,
    area: Rect,
    titles: dict[str, Rich],
    style: Style,
    measure: Measure,
) -> tuple[list[Item], list[Box]]:
    """Grid lines first, then both axes with their titles."""
    items = [
        *_grid(panel, place, style),
        *_x_axis(place, area, titles["x"], style, measure),
        *_y_axis(place, area, titles["y"], style, measure),
    ]
    return items, _axis_boxes(place, items, style, measure)


def _axis_boxes(place: PanelPlace, items: list[Item], style: Style, measure: Measure) -> list[Box]:
    """The bands of the axes with their labels, as long as the data area, and the titles."""
    inner, size = place.inner, style.label_pt * MM_PER_POINT
    titles = {i.of: i for i in items if isinstance(i, Text) and i.of.endswith("-title")}
    below = inner.bottom + style.room_mm
    band = style.gap_mm + label_room(style) + measure.ascent(size) + measure.descent(size)
    band += upright_extra(place.x, style, measure)
    widest = max((measure.width(t.label, size) for t in place.y.ticks if t.label), default=0.0)
    beside = inner.left - style.room_mm
    wide = style.gap_mm + label_room(style) + widest
    ends = 0.6 * size
    boxes = [
        Box("x-axis", Rect(inner.left - ends, below, inner.width + 2 * ends, band)),
        Box("y-axis", Rect(beside - wide, inner.top - ends, wide, inner.height + 2 * ends)),
    ]
    for of, title in titles.items():
        width = measure.width(title.runs, title.size_mm, bold=True)
        high, low = measure.ascent(title.size_mm), measure.descent(title.size_mm)
        if title.turned:
            rect = Rect(title.x - high, title.y - width / 2, high + low, width)
        else:
            rect = Rect(title.x - width / 2, title.y - high, width, high + low)
        boxes.append(Box(of, rect))
    return boxes


def _tick_places(place: PanelPlace, axis: str, *, minor: bool = True) -> list[float]:
    """Where the ticks of an axis stand, in mm along the figure, with the minor ones or without."""
    scale = place.x if axis == "x" else place.y
    values = np.array([tick.value for tick in scale.ticks if minor or not tick.minor])
    if axis == "x":
        along = place.inner.left + scale.position(values) * place.inner.width
    else:
        along = place.inner.bottom - scale.position(values) * place.inner.height
    return [float(value) for value in along]


def upright_extra(scale: Resolved, style: Style, measure: Measure) -> float:
    """How much more height labels that stand upright on x take than lying ones, in mm."""
    if not scale.turned:
        return 0.0
    size = style.label_pt * MM_PER_POINT
    widest = max((measure.width(t.label, size) for t in scale.ticks if t.label), default=0.0)
    return max(widest - measure.ascent(size), 0.0)


def _lengths(scale: Resolved, style: Style) -> list[float]:
    """How far each tick points from its axis, in mm."""
    return [style.gap_mm * (0.55 if tick.minor else 1.0) for tick in scale.ticks]


def _grid(panel: Panel, place: PanelPlace, style: Style) -> list[Item]:
    stroke = Stroke(style.grid, 0.18)
    inner = place.inner.grown(style.room_mm)
    items: list[Item] = []
    if panel.x.grid and (ticks := _tick_places(place, "x", minor=False)):
        items.append(
            Lines("x-grid", np.array([[t, inner.top, t, inner.bottom] for t in ticks]), stroke)
        )
    if panel.y.grid and (ticks := _tick_places(place, "y", minor=False)):
        items.append(
            Lines("y-grid", np.array([[inner.left, t, inner.right, t] for t in ticks]), stroke)
        )
    return items


def _x_axis(
    place: PanelPlace, area: Rect, title: Rich, style: Style, measure: Measure
) -> list[Item]:
    ticks = _tick_places(place, "x")
    line = place.inner.bottom + style.room_mm + style.gap_mm
    size = style.label_pt * MM_PER_POINT
    baseline = line + label_room(style) + measure.ascent(size)
    items: list[Item] = []
    if ticks:
        half = style.axis_mm / 2
        ends = [[min(ticks) - half, line, max(ticks) + half, line]]
        lengths = _lengths(place.x, style)
        ends += [[t, line, t, line - mm] for t, mm in zip(ticks, lengths, strict=True)]
        items.append(Lines("x-axis", np.array(ends), Stroke(style.ink, style.axis_mm)))
    for t, tick in zip(ticks, place.x.ticks, strict=True):
        if not tick.label:
            continue
        if place.x.turned:
            middle, top = t + measure.ascent(size) / 2.6, line + label_room(style)
            items.append(
                Text("x-axis", middle, top, tick.label, size, style.ink, anchor=1.0, turned=True)
            )
        else:
            items.append(Text("x-axis", t, baseline, tick.label, size, style.ink, anchor=0.5))
    if title:
        full_size = style.axis_title_pt * MM_PER_POINT
        baseline += upright_extra(place.x, style, measure)
        below = baseline + measure.descent(size) + 0.5 + measure.ascent(full_size)
        room = area.width - 2 * style.margin_mm
        title_size = fitted_size(title, full_size, room, measure)
        half = measure.width(title, title_size, bold=True) / 2
        # under the middle of the axis, unless that would leave the paper
        middle = place.inner.left + place.inner.width / 2
        middle = min(middle, area.right - style.margin_mm / 2 - half)
        middle = max(middle, area.left + style.margin_mm / 2 + half)
        items.append(
            Text("x-title", middle, below, title, title_size, style.ink, anchor=0.5, bold=True)
        )
    return items


def _y_axis(
    place: PanelPlace, area: Rect, title: Rich, style: Style, measure: Measure
) -> list[Item]:
    ticks = _tick_places(place, "y")
    line = place.inner.left - style.room_mm - style.gap_mm
    size = style.label_pt * MM_PER_POINT
    items: list[Item] = []
    if ticks:
        half = style.axis_mm / 2
        ends = [[line, min(ticks) - half, line, max(ticks) + half]]
        lengths = _lengths(place.y, style)
        ends += [[line, t, line + mm, t] for t, mm in zip(ticks, lengths, strict=True)]
        items.append(Lines("y-axis", np.array(ends), Stroke(style.ink, style.axis_mm)))
    edge = line - label_room(style)
    half_height = measure.ascent(size) / 2
    items += [
        Text("y-axis", edge, t + half_height, tick.label, size, style.ink, anchor=1.0)
        for t, tick in zip(ticks, place.y.ticks, strict=True)
        if tick.label
    ]
    if title:
        full_size = style.axis_title_pt * MM_PER_POINT
        widest = max((measure.width(t.label, size) for t in place.y.ticks if t.label), default=0.0)
        baseline = edge - widest - 0.8 - measure.descent(full_size)
        room = area.height - 1.2 * style.margin_mm
        title_size = fitted_size(title, full_size, room, measure)
        half = measure.width(title, title_size, bold=True) / 2
        middle = place.inner.top + place.inner.height / 2
        middle = min(middle, area.bottom - style.margin_mm / 2 - half)
        middle = max(middle, area.top + style.margin_mm / 4 + half)
        items.append(
            Text(
                "y-title", baseline, middle, title, title_size, style.ink,
                anchor=0.5, bold=True, turned=True,
            )
        )  # fmt: skip
    return items
