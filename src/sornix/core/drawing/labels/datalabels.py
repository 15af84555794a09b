"""Values and names written at points, where they touch nothing."""

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.marks.bars import bar_rects
from sornix.core.drawing.parts.items import Item, Measure, PanelPlace, Rect, Text
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import (
    MARKS,
    Panel,
    Series,
    bar_sets,
    lies,
    marked,
    scale_kind,
    series_name,
)
from sornix.core.readings import Tables, table_named
from sornix.core.scales import KINDS
from sornix.core.text import rich, with_comma

Floats = NDArray[np.float64]

# Of more points than this no one reads the values.
_MOST = 400
_GAP_MM = 0.5


def written_items(
    panel: Panel, tables: Tables, place: PanelPlace, taken: Floats, style: Style, measure: Measure
) -> list[Item]:
    """What is written at the points of a panel; `taken` (n, 2) are points not to be covered. What
    has no free place is left out."""
    items: list[Item] = []
    rects: list[Rect] = []
    size = 0.85 * style.label_pt * MM_PER_POINT
    for series in panel.shown:
        if not series.written:
            continue
        own = place.on(series)
        for at, text, inside in _places(series, panel, tables, own):
            runs = rich(text)
            if style.decimal == "comma" and series.written in ("x", "y"):
                runs = with_comma(runs)
            width, height = measure.width(runs, size), measure.ascent(size)
            box = _free(at, width, height, taken, rects, own, inside=inside)
            if box is not None:
                rects.append(box)
                colour = style.paper if inside else style.ink
                items.append(
                    Text(f"series/{series.id}/written", box.left, box.bottom, runs, size, colour)
                )
    return items


def _places(
    series: Series, panel: Panel, tables: Tables, place: PanelPlace
) -> list[tuple[tuple[float, float], str, bool]]:
    """Where something is written, what, and whether it stands inside a bar."""
    points = marked(series, panel, tables).points
    if len(points.x) > _MOST:
        return []
    values = points.x, points.y
    bars = bar_sets(panel, tables).get(series.id) if MARKS[series.mark].bars else None
    at = place.place(*values)
    inside = False
    if bars is not None:
        lying = lies(panel, tables)
        corners = bar_rects(bars, panel, place, lying)
        inside = panel.bars != "beside"
        middle = (corners[:, :2] + corners[:, 2:]) / 2
        tips = np.column_stack((corners[:, 2], middle[:, 1]) if lying else
                               (middle[:, 0], corners[:, 1]))  # fmt: skip
        at = middle if inside else tips
        if panel.bars == "shares":
            share = bars.top - bars.base
            values = (share, points.y) if lying else (points.x, share)
    texts = _texts(series, panel, tables, values, points.rows)
    held = place.inner.grown(0.01)
    return [
        ((float(x), float(y)), text, inside)
        for (x, y), text in zip(at, texts, strict=True)
        if held.holds(x, y) and text
    ]


def _texts(
    series: Series,
    panel: Panel,
    tables: Tables,
    values: tuple[Floats, Floats],
    rows: NDArray[np.intp],
) -> list[str]:
    if series.written == "name":
        return [series_name(panel, series, tables)] * len(rows)
    if series.written.startswith("="):
        table = table_named(tables, series.table)
        name = series.written[1:]
        column = table.column(name) if name in table.column_names else None
        return [column.cell(int(row)) for row in rows] if column is not None else [""] * len(rows)
    axis = series.axis(series.written)
    kind = KINDS[scale_kind(panel, tables, axis)]
    found = values[0] if series.written == "x" else values[1]
    # as exactly as a thousandth of their range
    within = float(np.ptp(found)) * 5e-4 if len(found) > 1 else 0.0
    return [kind.words(float(value), within) for value in found]


def _free(
    at: tuple[float, float], width: float, height: float, taken: Floats, rects: list[Rect],
    place: PanelPlace, *, inside: bool,
) -> Rect | None:  # fmt: skip
    """The first free place around a point: above, below, beside, then aslant; inside a bar only its
    middle."""
    x, y = at
    if inside:
        box = Rect(x - width / 2, y - height / 2, width, height)
        return None if any(box.meets(other) for other in rects) else box
    off = _GAP_MM + 0.8
    for left, top in (
        (x - width / 2, y - off - height), (x - width / 2, y + off), (x + off, y - height / 2),
        (x - off - width, y - height / 2), (x + 0.6 * off, y - 0.6 * off - height),
        (x - 0.6 * off - width, y - 0.6 * off - height), (x + 0.6 * off, y + 0.6 * off),
        (x - 0.6 * off - width, y + 0.6 * off),
    ):  # fmt: skip
        box = Rect(left, top, width, height)
        wide = box.grown(0.35)
        edge = place.inner.grown(1.0)
        within = edge.holds(box.left, box.top) and edge.holds(box.right, box.bottom)
        hidden = (
            (taken[:, 0] > wide.left) & (taken[:, 0] < wide.right)
            & (taken[:, 1] > wide.top) & (taken[:, 1] < wide.bottom)
        )  # fmt: skip
        if within and not hidden.any() and not any(wide.meets(other) for other in rects):
            return box
    return None
