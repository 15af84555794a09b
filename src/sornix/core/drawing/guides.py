"""Lines and shaded ranges across a panel at given values, with their labels."""

import numpy as np

from sornix.core.drawing.items import (
    Box,
    Fill,
    Item,
    Lines,
    Measure,
    PanelPlace,
    Rect,
    Stroke,
    Text,
)
from sornix.core.drawing.style import MM_PER_POINT, Style
from sornix.core.figure import Guide, Panel
from sornix.core.text import rich

_DASHES = (1.6, 1.0)


def guide_items(
    panel: Panel, place: PanelPlace, style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """What stands behind the readings; a guide outside the range is not drawn."""
    items: list[Item] = []
    boxes: list[Box] = []
    inner = place.inner.grown(style.room_mm)
    for guide in panel.guides:
        along = _along(guide, place)
        if along is None:
            continue
        of = f"guide/{guide.id}"
        if guide.axis == "x":
            area = Rect(along[0], inner.top, along[1] - along[0], inner.height)
        else:
            area = Rect(inner.left, along[0], inner.width, along[1] - along[0])
        if guide.end is not None:
            items.append(Fill(of, _corners(area), style.shade))
        else:
            ends = [[area.left, area.top, area.right, area.bottom]]
            stroke = Stroke(style.ink, 0.22, _DASHES)
            items.append(Lines(of, np.array(ends), stroke))
        boxes.append(Box(of, area.grown(0.6)))
        if guide.label:
            items.append(_label(guide, area, inner, style, measure))
    return items, boxes


def _along(guide: Guide, place: PanelPlace) -> tuple[float, float] | None:
    """Where a guide stands along its axis, in mm of the figure, rising; None outside the range."""
    scale = place.x if guide.axis == "x" else place.y
    values = np.array([guide.value, guide.value if guide.end is None else guide.end])
    at = scale.position(values)
    if not np.isfinite(at).all() or at.max() < 0 or at.min() > 1:
        return None
    at = np.clip(at, 0, 1)
    inner = place.inner
    if guide.axis == "x":
        ends = sorted(inner.left + at * inner.width)
    else:
        ends = sorted(inner.bottom - at * inner.height)
    return float(ends[0]), float(ends[1])


def _corners(area: Rect) -> np.ndarray:
    return np.array(
        [
            [area.left, area.top],
            [area.right, area.top],
            [area.right, area.bottom],
            [area.left, area.bottom],
        ]
    )


def _label(guide: Guide, area: Rect, inner: Rect, style: Style, measure: Measure) -> Text:
    """At the right end above a level line, at the upper end beside an upright one."""
    size = 0.9 * style.label_pt * MM_PER_POINT
    runs, gap = rich(guide.label), 0.7
    if guide.axis == "y":
        baseline = area.top - gap if guide.end is None else area.top + gap + measure.ascent(size)
        if baseline - measure.ascent(size) < inner.top:
            baseline = area.bottom + gap + measure.ascent(size)
        return Text(f"guide/{guide.id}", inner.right - gap, baseline, runs, size, style.ink, 1.0)
    width = measure.width(runs, size)
    left = area.left + gap if guide.end is not None else area.right + gap
    if left + width > inner.right:
        left = area.left - gap - width
    top = inner.top + gap + measure.ascent(size)
    return Text(f"guide/{guide.id}", left, top, runs, size, style.ink)
