"""The layout of a figure: margins from the text that stands in them, then axes, marks, labels."""

from attrs import evolve

from sornix.core.drawing.axes import fitted_size
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
from sornix.core.drawing.panelgrid import (
    Arranged,
    Canvas,
    arrange_panels,
    divider_boxes,
    narrowed,
    panel_head,
)
from sornix.core.drawing.reduction import COLUMN_MM
from sornix.core.drawing.settling import Settled
from sornix.core.drawing.style import MM_PER_POINT, STYLES, Style
from sornix.core.figure import Figure, Panel
from sornix.core.readings import Tables
from sornix.core.text import rich


def draw_figure(
    figure: Figure, tables: Tables, measure: Measure, column_mm: float = COLUMN_MM
) -> Drawing:
    """The display list of a figure; of many readings, columns of `column_mm` are kept."""
    style = STYLES[figure.style]
    top = style.margin_mm
    size = style.title_pt * MM_PER_POINT
    if figure.title:
        top += measure.ascent(size) + measure.descent(size) + 1.6
    edge = style.margin_mm
    area = Rect(edge, top, figure.width_mm - 2 * edge, figure.height_mm - top - edge)
    canvas = Canvas(tables, style, measure, column_mm)
    arranged = arrange_panels(figure, area, canvas)
    places: list[PanelPlace] = []
    items: list[Item] = []
    boxes: list[Box] = []
    for index, one in enumerate(arranged):
        place, drawn, held = _draw_panel(one, canvas)
        places.append(place)
        items += drawn
        boxes += [box._replace(panel=index) for box in held]
    boxes = [*divider_boxes(figure, arranged), *boxes]
    if figure.title:
        left = min(place.inner.left for place in places)
        title, box = _title(figure, left, style, measure)
        items, boxes = [title, *items], [*boxes, box]
    size_mm = (figure.width_mm, figure.height_mm)
    hand = min(figure.hand, len(places) - 1)
    return Drawing(*size_mm, style.paper, tuple(items), tuple(places), tuple(boxes), hand)


def _title(figure: Figure, left: float, style: Style, measure: Measure) -> tuple[Text, Box]:
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
        x = min(left - style.room_mm, figure.width_mm - style.margin_mm - width)
        box = Rect(max(x, style.margin_mm), style.margin_mm, width, height)
    baseline = box.top + measure.ascent(size)
    text = Text("title", box.left, baseline, title, size, style.ink, bold=True)
    return text, Box("title", box)


def _draw_panel(arranged: Arranged, canvas: Canvas) -> tuple[PanelPlace, list[Item], list[Box]]:
    """A panel with its legend at its spot, in a free place inside, or else beside the data."""
    panel, tables, style, measure = (
        arranged.panel, canvas.tables, canvas.style, canvas.measure
    )  # fmt: skip
    place, items, boxes = _compose(arranged, canvas)
    wanted = legend_size(panel, tables, style, measure)
    if not wanted[0]:
        return place, items, boxes
    if panel.legend_spot is not None:
        rect: Rect | None = at_spot(panel.legend_spot, place.inner, *wanted)
    else:
        rect = legend_place(place, wanted, items, style, measure)
    if rect is None:
        beside = wanted[0] + 2.0
        arranged = narrowed(arranged, beside, canvas)
        place, items, boxes = _compose(arranged, canvas)
        right = arranged.inner.right + arranged.settled.margins.right + beside
        rect = Rect(right - wanted[0], place.inner.top - style.room_mm, *wanted)
    legend, legend_boxes = legend_items(panel, tables, rect, style, measure)
    return place, items + legend, boxes + legend_boxes


def _compose(arranged: Arranged, canvas: Canvas) -> tuple[PanelPlace, list[Item], list[Box]]:
    """Axes, marks, trends and the labels of trends."""
    panel, inner, settled = arranged.panel, arranged.inner, arranged.settled
    tables, style, measure = canvas.tables, canvas.style, canvas.measure
    second = {axis: scale for axis, scale in settled.scales.items() if axis not in "xy"}
    bare = PanelPlace(inner, settled.scales["x"], settled.scales["y"], second=second)
    place = evolve(bare, equations=trend_equations(panel, tables, bare, style))
    curves = trend_curves(panel, tables, place, style)
    marks = [
        item
        for series in panel.series
        for item in series_items(series, panel, tables, place, style, canvas.column_mm)
    ]
    axes = {axis.of: axis.items(inner, arranged.cell, measure) for axis in settled.axes}
    axis_boxes = [
        box
        for axis in settled.axes
        if axis.of.endswith("-axis")
        for box in axis.boxes(inner, axes[axis.of], measure)
    ]
    guides, guide_boxes = guide_items(panel, place, [*marks, *curves], style, measure)
    labels, label_boxes = trend_label_items(panel, tables, place, [*marks, *curves], style, measure)
    heads, head_boxes = panel_head(arranged, canvas)
    items = [
        *(item for item in guides if isinstance(item, Fill)),
        *_grid(panel, settled, inner),
        *(item for found in axes.values() for item in found),
        *heads,
        *(item for item in guides if not isinstance(item, Fill)),
        *(item for item in marks if item.of.endswith("/line")),
        *curves,
        *(item for item in marks if not item.of.endswith("/line")),
        *labels,
    ]
    return place, items, [*guide_boxes, *axis_boxes, *head_boxes, *label_boxes]


def _grid(panel: Panel, settled: Settled, inner: Rect) -> list[Item]:
    """Grid lines, the minor ones under the others."""
    found = []
    for minor in (True, False):
        for axis in settled.axes:
            name = axis.of.removesuffix("-axis")
            # an axis in other units has none of its own
            if (
                name in panel.axes
                and panel.scale(name).grid
                and (not minor or axis.look.minor_grid)
            ):
                found.append(axis.grid(inner, minor=minor))
    return [lines for lines in found if lines is not None]
