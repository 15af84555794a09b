"""The same axis in other units on the other side: its ticks, its labels and its title."""

import numpy as np

from sornix.core.drawing.axes import fitted_size, label_room
from sornix.core.drawing.items import Item, Lines, Measure, PanelPlace, Rect, Stroke, Text
from sornix.core.drawing.style import MM_PER_POINT, Style
from sornix.core.figure import Other, Panel
from sornix.core.scales import KINDS, Extent, Fitting, Resolved, Room, Tick
from sornix.core.text import rich


def _ticks(scale: Resolved, other: Other, room: Room) -> tuple[Tick, ...]:
    """Ticks at round values of the other unit, each at the value of the axis that it stands for."""
    ends = sorted(other.factor * end + other.offset for end in (scale.start, scale.end))
    held = Fitting(ends[0], ends[1])
    found = KINDS[scale.kind].resolve(Extent(*ends), held, room, reverse=False)
    return tuple(
        tick._replace(value=(tick.value - other.offset) / other.factor) for tick in found.ticks
    )


def _room(axis: str, inner: Rect, style: Style, measure: Measure) -> Room:
    size = style.label_pt * MM_PER_POINT
    height = measure.ascent(size)
    if axis == "y":
        return Room(inner.height, lambda _: height, 0.25 * size, 3.3 * height)
    return Room(inner.width, lambda label: measure.width(label, size), 0.75 * size, 6.0 * height)


def other_margins(
    panel: Panel, place: PanelPlace, style: Style, measure: Measure
) -> tuple[float, float]:
    """What the other sides take at the right and at the top, in mm."""
    size, title = style.label_pt * MM_PER_POINT, style.axis_title_pt * MM_PER_POINT
    right = top = 0.0
    if panel.y.other is not None:
        ticks = _ticks(place.y, panel.y.other, _room("y", place.inner, style, measure))
        widest = max((measure.width(t.label, size) for t in ticks if t.label), default=0.0)
        right = style.gap_mm + label_room(style) + widest
        right += _title_room(panel.y.other, title, measure)
    if panel.x.other is not None:
        top = style.gap_mm + label_room(style) + measure.ascent(size)
        top += _title_room(panel.x.other, title, measure)
    return right, top


def _title_room(other: Other, size_mm: float, measure: Measure) -> float:
    return measure.ascent(size_mm) + measure.descent(size_mm) + 0.8 if other.title else 0.0


def other_items(
    panel: Panel, place: PanelPlace, area: Rect, style: Style, measure: Measure
) -> list[Item]:
    """The axes of the other sides."""
    items: list[Item] = []
    if panel.y.other is not None:
        items += _right_side(panel.y.other, place, area, style, measure)
    if panel.x.other is not None:
        items += _upper_side(panel.x.other, place, area, style, measure)
    return items


def _right_side(
    other: Other, place: PanelPlace, area: Rect, style: Style, measure: Measure
) -> list[Item]:
    inner, size = place.inner, style.label_pt * MM_PER_POINT
    ticks = _ticks(place.y, other, _room("y", inner, style, measure))
    line = inner.right + style.room_mm + style.gap_mm
    values = np.array([tick.value for tick in ticks])
    at = inner.bottom - place.y.position(values) * inner.height
    items: list[Item] = []
    if len(at):
        half = style.axis_mm / 2
        ends = [[line, at.min() - half, line, at.max() + half]]
        ends += [[line, t, line - style.gap_mm, t] for t in at]
        items.append(Lines("y-other", np.array(ends), Stroke(style.ink, style.axis_mm)))
    edge, half_height = line + label_room(style), measure.ascent(size) / 2
    items += [
        Text("y-other", edge, float(t) + half_height, tick.label, size, style.ink)
        for t, tick in zip(at, ticks, strict=True)
        if tick.label
    ]
    if other.title:
        widest = max((measure.width(t.label, size) for t in ticks if t.label), default=0.0)
        title, full = rich(other.title), style.axis_title_pt * MM_PER_POINT
        big = fitted_size(title, full, area.height - 1.2 * style.margin_mm, measure)
        baseline = edge + widest + 0.8 + measure.ascent(full)
        middle = inner.top + inner.height / 2
        items.append(
            Text("y-other-title", baseline, middle, title, big, style.ink, 0.5, True, True)
        )
    return items


def _upper_side(
    other: Other, place: PanelPlace, area: Rect, style: Style, measure: Measure
) -> list[Item]:
    inner, size = place.inner, style.label_pt * MM_PER_POINT
    ticks = _ticks(place.x, other, _room("x", inner, style, measure))
    line = inner.top - style.room_mm - style.gap_mm
    values = np.array([tick.value for tick in ticks])
    at = inner.left + place.x.position(values) * inner.width
    items: list[Item] = []
    if len(at):
        half = style.axis_mm / 2
        ends = [[at.min() - half, line, at.max() + half, line]]
        ends += [[t, line, t, line + style.gap_mm] for t in at]
        items.append(Lines("x-other", np.array(ends), Stroke(style.ink, style.axis_mm)))
    baseline = line - label_room(style)
    items += [
        Text("x-other", float(t), baseline, tick.label, size, style.ink, 0.5)
        for t, tick in zip(at, ticks, strict=True)
        if tick.label
    ]
    if other.title:
        title, full = rich(other.title), style.axis_title_pt * MM_PER_POINT
        big = fitted_size(title, full, area.width - 2 * style.margin_mm, measure)
        above = baseline - measure.ascent(size) - 0.8 - measure.descent(full)
        middle = inner.left + inner.width / 2
        items.append(Text("x-other-title", middle, above, title, big, style.ink, 0.5, True))
    return items
