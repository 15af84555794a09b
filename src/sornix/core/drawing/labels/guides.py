"""Lines and shaded ranges across a panel at given values, with their labels."""

from collections.abc import Sequence

import numpy as np

from sornix.core.drawing.parts.items import (
    Box,
    Crowd,
    Fill,
    Item,
    Lines,
    Markers,
    Measure,
    PanelPlace,
    Path,
    Rect,
    Stroke,
    Text,
)
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import Guide, GuideBox, Panel
from sornix.core.text import rich

_DASHES = (1.6, 1.0)
# So many markers tell where a label would stand over them.
_ENOUGH = 10_000


def guide_items(
    panel: Panel, place: PanelPlace, marks: Sequence[Item], style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """What stands behind the readings; a guide outside the range is not drawn. Labels keep out of
    the way of `marks` where they can."""
    drawn = [item.points for item in marks if isinstance(item, Path)]
    drawn += [item.some(_ENOUGH)[0] for item in marks if isinstance(item, Markers | Crowd)]
    points = np.concatenate(drawn) if drawn and panel.guides else np.zeros((0, 2))
    items: list[Item] = []
    boxes: list[Box] = []
    labels: list[Rect] = []
    inner = place.inner.grown(style.room_mm)
    areas = {
        guide.id: _area(guide, along, inner)
        for guide in panel.guides
        if guide.axis in panel.axes and (along := _along(guide, place)) is not None
    }
    lines = [areas[guide.id] for guide in panel.guides if guide.id in areas and guide.end is None]
    for guide in panel.guides:
        if guide.id not in areas:
            continue
        area, of = areas[guide.id], f"guide/{guide.id}"
        if guide.end is not None:
            items.append(Fill(of, area.corners, style.shade))
        else:
            ends = [[area.left, area.top, area.right, area.bottom]]
            stroke = Stroke(style.ink, *style.fine(0.22, *_DASHES))
            items.append(Lines(of, np.array(ends), stroke))
        boxes.append(Box(GuideBox(guide.id), area.grown(0.6)))
        if guide.label:
            others = [line for line in lines if line is not area] + labels
            label, stands = _label(guide, area, inner, others, points, style, measure)
            items.append(label)
            labels.append(stands)
    return items, boxes


def _area(guide: Guide, along: tuple[float, float], inner: Rect) -> Rect:
    """What a guide covers, from edge to edge of the data."""
    if guide.axis[0] == "x":
        return Rect(along[0], inner.top, along[1] - along[0], inner.height)
    return Rect(inner.left, along[0], inner.width, along[1] - along[0])


def _along(guide: Guide, place: PanelPlace) -> tuple[float, float] | None:
    """Where a guide stands along its axis, in mm of the figure, rising; None outside the range."""
    scale = place.scale(guide.axis)
    values = np.array([guide.value, guide.value if guide.end is None else guide.end])
    at = scale.position(values)
    if not np.isfinite(at).all() or at.max() < 0 or at.min() > 1:
        return None
    at = np.clip(at, 0, 1)
    inner = place.inner
    if guide.axis[0] == "x":
        ends = sorted(inner.left + at * inner.width)
    else:
        ends = sorted(inner.bottom - at * inner.height)
    return float(ends[0]), float(ends[1])


def _label(
    guide: Guide, area: Rect, inner: Rect, others: Sequence[Rect], points: np.ndarray,
    style: Style, measure: Measure,
) -> tuple[Text, Rect]:  # fmt: skip
    """Above or below a level line, as far to the right as may be, or beside an end of an upright
    one: where it meets the fewest of `others`, then of the marks. Also where it stands."""
    size = 0.9 * style.label_pt * MM_PER_POINT
    runs, gap = rich(guide.label), 0.7
    width, height = measure.width(runs, size), measure.ascent(size)
    inside = guide.end is not None
    if guide.axis[0] == "y":
        lefts = np.linspace(inner.right - gap - width, inner.left + gap, 13).tolist()
        tops = [area.top + gap] if inside else [area.top - gap - height, area.bottom + gap]
    else:
        lefts = [area.left + gap] if inside else [area.right + gap, area.left - gap - width]
        tops = [inner.top + gap, inner.bottom - gap - height]
    places = [Rect(left, top, width, height) for left in lefts for top in tops]
    # of equals the first one: min keeps it
    best = min(places, key=lambda rect: (
        _leaves(rect, inner), sum(rect.grown(0.3).meets(other) for other in others),
        _count(points, rect.grown(0.6)),
    ))  # fmt: skip
    text = Text(f"guide/{guide.id}", best.left, best.top + height, runs, size, style.ink)
    return text, best


def _leaves(rect: Rect, inner: Rect) -> bool:
    """Whether a label would stand beyond the data area."""
    room = inner.grown(1e-9)
    return not (room.holds(rect.left, rect.top) and room.holds(rect.right, rect.bottom))


def _count(points: np.ndarray, rect: Rect) -> int:
    """How many points lie in a rectangle."""
    x, y = points[:, 0], points[:, 1]
    within = (x > rect.left) & (x < rect.right) & (y > rect.top) & (y < rect.bottom)
    return int(np.count_nonzero(within))
