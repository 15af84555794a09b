"""The layout of a figure: margins from the text that stands in them, then axes, marks, labels."""

from collections.abc import Callable

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.drawing.axes import axis_items, fitted_size, label_room, upright_extra
from sornix.core.drawing.guides import guide_items
from sornix.core.drawing.items import Box, Drawing, Fill, Item, Measure, PanelPlace, Rect, Text
from sornix.core.drawing.labels import (
    at_spot,
    legend_items,
    legend_place,
    legend_size,
    trend_label_items,
)
from sornix.core.drawing.marks import series_items, trend_curves, trend_equations
from sornix.core.drawing.otherside import other_items, other_margins
from sornix.core.drawing.reduction import COLUMN_MM
from sornix.core.drawing.style import MM_PER_POINT, STYLES, Style
from sornix.core.figure import (
    Figure,
    Panel,
    Scale,
    axis_extent,
    axis_title,
    fitting,
    scale_kind,
)
from sornix.core.readings import Tables
from sornix.core.scales import KINDS, Resolved, Room
from sornix.core.text import Rich, rich

# Below this the inside of a figure is not made smaller, whatever the margins ask for.
_LEAST_INSIDE_MM = 4.0

Floats = NDArray[np.float64]


def draw_figure(
    figure: Figure, tables: Tables, measure: Measure, column_mm: float = COLUMN_MM
) -> Drawing:
    """The display list of a figure; of many readings, columns of `column_mm` are kept."""
    style = STYLES[figure.style]
    top = style.margin_mm
    size = style.title_pt * MM_PER_POINT
    if figure.title:
        top += measure.ascent(size) + measure.descent(size) + 1.6
    area = Rect(0, top, figure.width_mm, figure.height_mm - top)
    place, items, boxes = _draw_panel(figure.panel, tables, area, style, measure, column_mm)
    if figure.title:
        title, box = _title(figure, place, style, measure)
        items, boxes = [title, *items], [*boxes, box]
    size_mm = (figure.width_mm, figure.height_mm)
    return Drawing(*size_mm, style.paper, tuple(items), (place,), tuple(boxes))


def _title(figure: Figure, place: PanelPlace, style: Style, measure: Measure) -> tuple[Text, Box]:
    """The title above the data area's edge, as far to the left of that as it needs, or at its
    spot."""
    title = rich(figure.title)
    room = figure.width_mm - 2 * style.margin_mm
    size = fitted_size(title, style.title_pt * MM_PER_POINT, room, measure)
    width = measure.width(title, size, bold=True)
    height = measure.ascent(size) + measure.descent(size)
    if figure.title_spot is not None:
        page = Rect(0, 0, figure.width_mm, figure.height_mm)
        box = at_spot(figure.title_spot, page, width, height)
    else:
        x = min(place.inner.left - style.room_mm, figure.width_mm - style.margin_mm - width)
        box = Rect(max(x, style.margin_mm), style.margin_mm, width, height)
    baseline = box.top + measure.ascent(size)
    text = Text("title", box.left, baseline, title, size, style.ink, bold=True)
    return text, Box("title", box)


def _draw_panel(
    panel: Panel, tables: Tables, area: Rect, style: Style, measure: Measure, column_mm: float
) -> tuple[PanelPlace, list[Item], list[Box]]:
    """A panel with its legend at its spot, in a free place inside, or else beside the data."""
    place, items, boxes = _compose(panel, tables, area, style, measure, column_mm)
    wanted = legend_size(panel, tables, style, measure)
    if not wanted[0]:
        return place, items, boxes
    if panel.legend_spot is not None:
        rect: Rect | None = at_spot(panel.legend_spot, place.inner, *wanted)
    else:
        rect = legend_place(place, wanted, items, style, measure)
    if rect is None:
        beside = wanted[0] + 2.0
        narrower = Rect(area.left, area.top, area.width - beside, area.height)
        place, items, boxes = _compose(panel, tables, narrower, style, measure, column_mm)
        right = area.right - style.margin_mm
        rect = Rect(right - wanted[0], place.inner.top - style.room_mm, *wanted)
    legend, legend_boxes = legend_items(panel, tables, rect, style, measure)
    return place, items + legend, boxes + legend_boxes


def _compose(
    panel: Panel, tables: Tables, area: Rect, style: Style, measure: Measure, column_mm: float
) -> tuple[PanelPlace, list[Item], list[Box]]:
    """Axes, marks, trends and the labels of trends."""
    titles = {axis: rich(axis_title(panel, tables, axis)) for axis in "xy"}
    inner, x, y = _settle(panel, tables, area, titles, style, measure)
    if panel.x.other is not None or panel.y.other is not None:
        # what the other sides need is known when the scales are settled once
        right, top = other_margins(panel, PanelPlace(inner, x, y), style, measure)
        less = Rect(area.left, area.top + top, area.width - right, area.height - top)
        inner, x, y = _settle(panel, tables, less, titles, style, measure)
    bare = PanelPlace(inner, x, y)
    place = PanelPlace(inner, x, y, trend_equations(panel, tables, bare, style))
    curves = trend_curves(panel, tables, place, style)
    marks = [
        item
        for series in panel.series
        for item in series_items(series, panel, tables, place, style, column_mm)
    ]
    axes, axis_boxes = axis_items(panel, place, area, titles, style, measure)
    guides, guide_boxes = guide_items(panel, place, [*marks, *curves], style, measure)
    labels, label_boxes = trend_label_items(panel, tables, place, [*marks, *curves], style, measure)
    items = [
        *(item for item in guides if isinstance(item, Fill)),
        *axes,
        *other_items(panel, place, area, style, measure),
        *(item for item in guides if not isinstance(item, Fill)),
        *(item for item in marks if item.of.endswith("/line")),
        *curves,
        *(item for item in marks if not item.of.endswith("/line")),
        *labels,
    ]
    return place, items, [*guide_boxes, *axis_boxes, *label_boxes]


def _settle(
    panel: Panel,
    tables: Tables,
    area: Rect,
    titles: dict[str, Rich],
    style: Style,
    measure: Measure,
) -> tuple[Rect, Resolved, Resolved]:
    """The inner rectangle and both scales; margins and ticks are settled in turn."""
    title_mm = style.axis_title_pt * MM_PER_POINT
    label_mm = style.label_pt * MM_PER_POINT
    label_height = measure.ascent(label_mm)
    title_height = measure.ascent(title_mm) + measure.descent(title_mm)
    outside = style.gap_mm + style.room_mm
    bottom = (
        style.margin_mm + outside + label_room(style) + label_height + measure.descent(label_mm)
    )
    if titles["x"]:
        bottom += title_height + 0.5
    top = style.room_mm + label_height / 2
    right = style.margin_mm + style.room_mm
    extents = {axis: axis_extent(panel, tables, axis) for axis in "xy"}

    def resolve(axis: str, room: Room) -> Resolved:
        scale = panel.scale(axis)
        held = fitting(panel, tables, axis)
        kind = KINDS[scale_kind(panel, tables, axis)]
        dressed = room._replace(size_mm=lambda label: room.size_mm(_dressed(label, scale)))
        found = kind.resolve(extents[axis], held, dressed, reverse=scale.reversed)
        ticks = tuple(tick._replace(label=_dressed(tick.label, scale)) for tick in found.ticks)
        return evolve(found, ticks=ticks)

    for _ in range(2):
        height = max(area.height - top - bottom, _LEAST_INSIDE_MM)
        y = resolve("y", Room(height, lambda _: label_height, 0.25 * label_mm, 3.3 * label_height))
        widest = max((measure.width(t.label, label_mm) for t in y.ticks if t.label), default=0)
        left = style.margin_mm + widest + label_room(style) + outside
        if titles["y"]:
            left += title_height + 0.8
        width, x = _settle_x(resolve, area.width - left, right, label_mm, measure, style)
        extra = upright_extra(x, style, measure)
        if not extra:
            break
        bottom += extra
    return Rect(area.left + left, area.top + top, width, height), x, y


def _dressed(label: Rich, scale: Scale) -> Rich:
    """A label with the texts before and behind it, or none where labels are hidden."""
    if scale.labels == "none" or not label:
        return ()
    before, after = (rich(text) if text else () for text in (scale.before, scale.after))
    return (*before, *label, *after)


def _settle_x(
    resolve: Callable[[str, Room], Resolved],
    room_mm: float,
    right: float,
    label_mm: float,
    measure: Measure,
    style: Style,
) -> tuple[float, Resolved]:
    """The width of the data area and the x scale, so that no label leaves the paper."""
    label_height = measure.ascent(label_mm)
    for _ in range(2):
        width = max(room_mm - right, _LEAST_INSIDE_MM)
        x = resolve(
            "x",
            Room(width, lambda r: measure.width(r, label_mm), 0.75 * label_mm, 6.0 * label_height),
        )
        over = [
            abs(place) * width + (0 if x.turned else measure.width(tick.label, label_mm) / 2)
            for tick in x.ticks
            for place in [float(x.position(_one(tick.value))[0])]
        ]
        needed = max(over, default=0) - width + style.margin_mm / 2
        if needed <= right:
            break
        right = needed
    return width, x


def _one(value: float) -> Floats:
    return np.array([value])
