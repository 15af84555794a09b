"""The layout of a figure: margins from the text that stands in them, then axes, marks, labels."""

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.axes import axis_items, fitted_size, label_room
from sornix.core.drawing.items import Drawing, Item, Measure, PanelPlace, Rect, Text
from sornix.core.drawing.labels import legend_items, legend_place, legend_size, trend_label_items
from sornix.core.drawing.marks import series_items, trend_curves, trend_equations
from sornix.core.drawing.style import MM_PER_POINT, STYLES, Style
from sornix.core.figure import Figure, Panel, axis_extent, axis_title
from sornix.core.readings import Tables
from sornix.core.scales import KINDS, Fitting, Resolved, Room
from sornix.core.text import Rich, rich

# Below this the inside of a figure is not made smaller, whatever the margins ask for.
_LEAST_INSIDE_MM = 4.0

Floats = NDArray[np.float64]


def draw_figure(figure: Figure, tables: Tables, measure: Measure) -> Drawing:
    """The display list of a figure."""
    style = STYLES[figure.style]
    items: list[Item] = []
    top = style.margin_mm
    if figure.title:
        size = style.title_pt * MM_PER_POINT
        baseline = top + measure.ascent(size)
        top = baseline + measure.descent(size) + 1.6
    area = Rect(0, top, figure.width_mm, figure.height_mm - top)
    place, inside = _draw_panel(figure.panel, tables, area, style, measure)
    if figure.title:
        title = rich(figure.title)
        size = fitted_size(title, size, figure.width_mm - 2 * style.margin_mm, measure)
        width = measure.width(title, size, bold=True)
        # above the data area's edge, or as far to the left of that as it has to go
        x = min(place.inner.left - style.room_mm, figure.width_mm - style.margin_mm - width)
        x = max(x, style.margin_mm)
        items.append(Text("title", x, baseline, title, size, style.ink, bold=True))
    return Drawing(figure.width_mm, figure.height_mm, style.paper, (*items, *inside), (place,))


def _draw_panel(
    panel: Panel, tables: Tables, area: Rect, style: Style, measure: Measure
) -> tuple[PanelPlace, list[Item]]:
    """A panel with its legend in a free place inside, or else beside the data area."""
    place, items = _compose(panel, tables, area, style, measure)
    wanted = legend_size(panel, tables, style, measure)
    if not wanted[0]:
        return place, items
    box = legend_place(place, wanted, items, style, measure)
    if box is None:
        beside = wanted[0] + 2.0
        narrower = Rect(area.left, area.top, area.width - beside, area.height)
        place, items = _compose(panel, tables, narrower, style, measure)
        right = area.right - style.margin_mm
        box = Rect(right - wanted[0], place.inner.top - style.room_mm, *wanted)
    return place, items + legend_items(panel, tables, box, style, measure)


def _compose(
    panel: Panel, tables: Tables, area: Rect, style: Style, measure: Measure
) -> tuple[PanelPlace, list[Item]]:
    """Axes, marks, trends and the labels of trends."""
    titles = {axis: rich(axis_title(panel, tables, axis)) for axis in "xy"}
    inner, x, y = _settle(panel, tables, area, titles, style, measure)
    bare = PanelPlace(inner, x, y)
    place = PanelPlace(inner, x, y, trend_equations(panel, tables, bare, style))
    curves = trend_curves(panel, tables, place, style)
    marks = [item for series in panel.series for item in series_items(series, tables, place, style)]
    return place, [
        *axis_items(panel, place, area, titles, style, measure),
        *(item for item in marks if item.of.endswith("/line")),
        *curves,
        *(item for item in marks if not item.of.endswith("/line")),
        *trend_label_items(panel, tables, place, [*marks, *curves], style, measure),
    ]


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
        held = Fitting(scale.start, scale.end, scale.step)
        return KINDS[scale.kind].resolve(extents[axis], held, room, reverse=scale.reversed)

    height = max(area.height - top - bottom, _LEAST_INSIDE_MM)
    y = resolve("y", Room(height, lambda _: label_height, 0.25 * label_mm, 3.3 * label_height))
    widest = max((measure.width(tick.label, label_mm) for tick in y.ticks if tick.label), default=0)
    left = style.margin_mm + widest + label_room(style) + outside
    if titles["y"]:
        left += title_height + 0.8
    for _ in range(2):
        width = max(area.width - left - right, _LEAST_INSIDE_MM)
        x = resolve(
            "x",
            Room(width, lambda r: measure.width(r, label_mm), 0.75 * label_mm, 6.0 * label_height),
        )
        over = [
            abs(place) * width + measure.width(tick.label, label_mm) / 2
            for tick in x.ticks
            for place in [float(x.position(_one(tick.value))[0])]
        ]
        needed = max(over, default=0) - width + style.margin_mm / 2
        if needed <= right:
            break
        right = needed
    return Rect(area.left + left, area.top + top, width, height), x, y


def _one(value: float) -> Floats:
    return np.array([value])
