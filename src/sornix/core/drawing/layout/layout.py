"""The layout of a figure: margins from the text that stands in them, then axes, marks, labels."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.drawing.labels.breaking import fitted_size
from sornix.core.drawing.labels.datalabels import written_items
from sornix.core.drawing.labels.guides import guide_items
from sornix.core.drawing.labels.labels import (
    GROUND,
    hidden_by,
    label_points,
    legend_place,
    obstacles,
    trend_label_items,
)
from sornix.core.drawing.labels.legend import (
    Entry,
    below_items,
    end_names,
    ends_width,
    height_below,
    legend_items,
    legend_size,
    rows_below,
    wants_names,
)
from sornix.core.drawing.labels.notes import note_items, source_height, source_items
from sornix.core.drawing.labels.readoffs import range_boxes, read_off_items
from sornix.core.drawing.layout.kept import Canvas, Kept
from sornix.core.drawing.layout.panelgrid import (
    Arranged,
    arrange_panels,
    divider_boxes,
    panel_head,
)
from sornix.core.drawing.layout.settling import Margins, Settled
from sornix.core.drawing.marks.crowds import uncrowded
from sornix.core.drawing.marks.curves import curve_items
from sornix.core.drawing.marks.marks import series_items, trend_bands, trend_curves, trend_equations
from sornix.core.drawing.marks.reduction import FULL, Detail
from sornix.core.drawing.parts.items import (
    Box,
    Drawing,
    Fill,
    Item,
    Markers,
    Measure,
    PanelPlace,
    Path,
    Rect,
    Rects,
    Text,
    at_spot,
)
from sornix.core.drawing.parts.style import MM_PER_POINT, Style, style_of
from sornix.core.figure import Figure, Panel, Title, steady_fits
from sornix.core.readings import Tables
from sornix.core.text import rich


def draw_figure(figure: Figure, tables: Tables, measure: Measure, detail: Detail = FULL) -> Drawing:
    """The display list of a figure, with as much `detail` of many readings."""
    with steady_fits():
        return _draw(figure, tables, measure, detail)


def _draw(figure: Figure, tables: Tables, measure: Measure, detail: Detail) -> Drawing:
    style = style_of(figure)
    top = style.margin_mm
    size = style.title_pt * MM_PER_POINT
    if figure.title:
        top += measure.ascent(size) + measure.descent(size) + 1.6
    edge = style.margin_mm
    foot = edge + source_height(figure, style, measure)
    area = Rect(edge, top, figure.width_mm - 2 * edge, figure.height_mm - top - foot)
    canvas = Canvas(tables, style, measure, detail)
    extra = [_room_for_names(figure.seen(i), area, canvas) for i in range(len(figure.panels))]
    arranged = arrange_panels(figure, area, canvas, extra)
    drawn = [_drawn(one, canvas, None) for one in arranged]
    # a legend that has no room inside stands beside: then all is arranged anew
    beside = [one if isinstance(one, float) else 0.0 for one in drawn]
    if any(beside):
        extra = [more._replace(right=more.right + by)
                 for more, by in zip(extra, beside, strict=True)]  # fmt: skip
        arranged = arrange_panels(figure, area, canvas, extra)
        drawn = [_drawn(one, canvas, by) for one, by in zip(arranged, beside, strict=True)]
    parts = [one for one in drawn if not isinstance(one, float)]
    places = [place for place, _, _ in parts]
    items = [item for _, found, _ in parts for item in found]
    counts = [len(found) for _, found, _ in parts]
    boxes = [box._replace(panel=index) for index, (_, _, held) in enumerate(parts) for box in held]
    boxes = [*divider_boxes(figure, arranged), *boxes]
    if figure.title:
        left = min(place.inner.left for place in places)
        title, box = _title(figure, left, style, measure)
        items, boxes = [*items, title], [*boxes, box]
    source, source_boxes = source_items(figure, style, measure)
    items, boxes = [*items, *source], [*boxes, *source_boxes]
    size_mm = (figure.width_mm, figure.height_mm)
    hand = min(figure.hand, len(places) - 1)
    return Drawing(
        *size_mm, style.paper, tuple(items), tuple(places), tuple(boxes), hand, tuple(counts),
        _unwritten(items, measure),
    )  # fmt: skip


def _unwritten(items: Sequence[Item], measure: Measure) -> str:
    """The letters of texts that no font has, each once; every font has those of ASCII."""
    texts = (run.text for item in items if isinstance(item, Text) for run in item.runs)
    return "".join(dict.fromkeys(
        letter for text in texts if not text.isascii() for letter in measure.lacks(text)
    ))  # fmt: skip


def _title(figure: Figure, left: float, style: Style, measure: Measure) -> tuple[Text, Box]:
    """The title above the data area's edge, as far to the left of that as it needs, or at its
    spot."""
    title = rich(figure.said(figure.title))
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
    return text, Box(Title(), box)


def _room_for_names(panel: Panel, area: Rect, canvas: Canvas) -> Margins:
    """The room that names take outside the data area, where they are asked to stand there."""
    style, measure = canvas.style, canvas.measure
    listed = wants_names(panel, canvas.tables, style)
    if not listed or panel.legend_spot is not None:
        return Margins(0, 0, 0, 0)
    if panel.names == "right":
        return Margins(0, 0, legend_size(listed, style, measure)[0] + _BESIDE_MM, 0)
    if panel.names == "ends":
        return Margins(0, 0, ends_width(listed, style, measure), 0)
    if panel.names == "below":
        rows = rows_below(listed, 0.8 * area.width, style, measure)
        return Margins(0, 0, 0, height_below(rows, style))
    return Margins(0, 0, 0, 0)


# Between the data and a legend beside it.
_BESIDE_MM = 2.0
_Parts = tuple[PanelPlace, list[Item], list[Box]]


def _drawn(arranged: Arranged, canvas: Canvas, beside: float | None) -> _Parts | float:
    """A panel with the names of its series, for which so much room is left `beside` it. None is
    left before it is known whether they have a place among what is drawn: then, where they have
    none, how much they take."""
    of = (arranged.inner, arranged.cell, arranged.head, arranged.bare, arranged.above, beside)
    return _DRAWN.answer(
        arranged.panel, canvas, *of, make=lambda: _draw_panel(arranged, canvas, beside),
        light=_is_light,
    )  # fmt: skip


# A report has seldom more panels than half of these; of many readings none is kept for long.
_DRAWN: "Kept[_Parts | float]" = Kept(24)
_MOST_POINTS = 100_000


def _is_light(found: _Parts | float) -> bool:
    if isinstance(found, float):
        return True
    drawn = (item.points for item in found[1] if isinstance(item, (Markers, Path, Fill)))
    return sum(map(len, drawn)) <= _MOST_POINTS


def _draw_panel(arranged: Arranged, canvas: Canvas, beside: float | None) -> _Parts | float:
    marked = _marked(arranged, canvas)
    panel, style, measure = arranged.panel, canvas.style, canvas.measure
    listed = wants_names(panel, canvas.tables, style)
    if not listed:
        return _compose(arranged, marked, canvas)
    wanted = legend_size(listed, style, measure)
    free = panel.names == "free" and panel.legend_spot is None and not beside
    asks = free and beside is None
    # names without room among the marks alone have none among all that stands between them; most
    # panels have so little of that that it is as soon drawn
    first = asks and bool(panel.trends or panel.notes)
    if first and legend_place(marked.place, wanted, marked.drawn, measure) is None:
        return wanted[0] + _BESIDE_MM
    place, items, boxes = _compose(arranged, marked, canvas)
    found = legend_place(place, wanted, items, measure) if free else None
    if asks and found is None:
        return wanted[0] + _BESIDE_MM
    names, name_boxes = _names(arranged, place, listed, found, canvas)
    return place, [*items, *names], [*boxes, *name_boxes]


def _names(
    arranged: Arranged, place: PanelPlace, listed: list[Entry], found: Rect | None, canvas: Canvas
) -> tuple[list[Item], list[Box]]:
    """The names of a panel's series, where they are to stand, or at the place that was `found`."""
    panel, tables, style, measure = arranged.panel, canvas.tables, canvas.style, canvas.measure
    if panel.names == "ends":
        return end_names(panel, tables, place, listed, style, measure)
    wanted = legend_size(listed, style, measure)
    margins = arranged.settled.margins
    right = place.inner.right + margins.right + _BESIDE_MM
    rect = found or Rect(right, place.inner.top - style.room_mm, *wanted)
    if panel.legend_spot is not None:
        rect = at_spot(panel.legend_spot, place.inner, *wanted)
    elif panel.names == "below":
        rows = rows_below(listed, arranged.cell.width * 0.8, style, measure)
        top = place.inner.bottom + margins.bottom + 0.8
        return below_items(rows, place.inner.left, top, style, measure)
    return legend_items(listed, rect, style, measure)


# More markers than these are a crowd.
_CROWD = 60


class _Marked(NamedTuple):
    """What a panel draws of its readings, and its place."""

    place: PanelPlace
    marks: list[Item]
    curves: list[Item]

    @property
    def drawn(self) -> list[Item]:
        return [*self.marks, *self.curves]


def _marked(arranged: Arranged, canvas: Canvas) -> _Marked:
    """Marks and trends of a panel."""
    panel, inner, settled = arranged.panel, arranged.inner, arranged.settled
    tables, style = canvas.tables, canvas.style
    second = {axis: scale for axis, scale in settled.scales.items() if axis not in "xy"}
    bare = PanelPlace(inner, settled.scales["x"], settled.scales["y"], second=second)
    if not panel.has_axes:
        return _Marked(bare, [], [])
    place = evolve(bare, equations=trend_equations(panel, tables, bare, style))
    curves = [*trend_curves(panel, tables, place, style), *curve_items(panel, place, style)]
    drawn_series = [
        item
        for series in panel.shown
        for item in series_items(series, panel, tables, place, style, canvas.detail)
    ]
    held = any(series.style.size_mm for series in panel.shown)
    marks, crowding = uncrowded(drawn_series, inner, style.paper, held=held)
    return _Marked(evolve(place, crowding=crowding), marks, curves)


def _compose(arranged: Arranged, marked: _Marked, canvas: Canvas) -> _Parts:
    """Axes, and all that is written about the marks."""
    panel, inner, settled = arranged.panel, arranged.inner, arranged.settled
    tables, style, measure = canvas.tables, canvas.style, canvas.measure
    place, marks, curves = marked
    if not panel.has_axes:
        return _compose_whole(arranged, place, canvas)
    axes = {axis.of: axis.items(inner, arranged.cell, measure) for axis in settled.axes}
    axis_boxes = [
        box
        for axis in settled.axes
        if not axis.other
        for box in axis.boxes(inner, axes[axis.of], measure)
    ]
    guides, guide_boxes = guide_items(panel, place, [*marks, *curves], style, measure)
    reads, read_boxes = read_off_items(panel, tables, place, style, measure)
    drawn = [*marks, *curves, *reads, *(item for item in guides if isinstance(item, Text))]
    # to look where everything stands takes time, and most panels have nothing that asks
    asked = panel.trends or panel.notes
    taken = hidden_by(drawn, measure) if asked else np.zeros((0, 2))
    labels, label_boxes = trend_label_items(panel, tables, place, drawn, taken, style, measure)
    heads, head_boxes = panel_head(arranged, canvas)
    written: list[Item] = []
    if any(series.written for series in panel.shown):
        points = obstacles([*marks, *curves])
        written = written_items(panel, tables, place, points, style, measure)
    notes, note_boxes = _notes(panel, place, taken, label_boxes, canvas)
    # a curve lies under its readings, unless so many would hide it
    crowded = (
        sum(len(i.points) for i in marks if isinstance(i, Markers)) > _CROWD
        or place.crowding.full is not None
    )
    items = [
        *[item for item in guides if isinstance(item, Fill)],
        *trend_bands(panel, tables, place, style),
        *_grid(panel, settled, inner),
        *[item for found in axes.values() for item in found],
        *heads,
        *[item for item in guides if not isinstance(item, Fill)],
        *[item for item in marks if isinstance(item, (Fill, Rects))],
        *[item for item in marks if isinstance(item, Path)],
        *reads,
        *[item for item in labels if isinstance(item, Fill) and not item.of.endswith(GROUND)],
        *(() if crowded else curves),
        *[item for item in marks if not isinstance(item, (Fill, Rects, Path))],
        *(curves if crowded else ()),
        *written,
        *[item for item in labels if item.of.endswith(GROUND)],
        *[item for item in labels if not isinstance(item, Fill)],
        *notes,
    ]
    grips = [*range_boxes(panel, place), *read_boxes]
    return place, items, [*guide_boxes, *grips, *axis_boxes, *head_boxes, *label_boxes, *note_boxes]


def _compose_whole(
    arranged: Arranged, place: PanelPlace, canvas: Canvas
) -> tuple[PanelPlace, list[Item], list[Box]]:
    """A panel without axes: parts of a whole, or a matrix."""
    from sornix.core.drawing.layout.pie import whole_items

    panel, inner = arranged.panel, arranged.inner
    heads, head_boxes = panel_head(arranged, canvas)
    drawn = whole_items(panel, canvas.tables, inner, canvas.style, canvas.measure)
    notes, note_boxes = _notes(panel, place, obstacles(drawn), [], canvas)
    return place, [*heads, *drawn, *notes], [*head_boxes, *note_boxes]


def _notes(
    panel: Panel, place: PanelPlace, taken: NDArray[np.float64], labels: list[Box], canvas: Canvas
) -> tuple[list[Item], list[Box]]:
    """The notes of a panel, clear of the points `taken` (n, 2) and of labels."""
    if not panel.notes:
        return [], []
    taken = np.concatenate((taken, *(label_points(box.rect) for box in labels)))
    return note_items(panel, canvas.tables, place, taken, canvas.style, canvas.measure)


def _grid(panel: Panel, settled: Settled, inner: Rect) -> list[Item]:
    """Grid lines, the minor ones under the others."""
    found = [
        axis.grid(inner, minor=minor)
        for minor in (True, False)
        for axis in settled.axes
        # an axis in other units has none of its own
        if not axis.other and panel.scale(axis.name).grid
        if not minor or axis.look.minor_grid
    ]
    return [lines for lines in found if lines is not None]
