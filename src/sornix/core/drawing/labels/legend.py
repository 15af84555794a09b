"""Names of series and curves: a legend inside, beside or below, or names at the ends of lines."""

from typing import NamedTuple

import numpy as np

from sornix.core.colours import mixed
from sornix.core.drawing.marks.marks import line_dashes
from sornix.core.drawing.parts.items import (
    Box,
    Item,
    Lines,
    Markers,
    Measure,
    PanelPlace,
    Rect,
    Rects,
    Stroke,
    Text,
)
from sornix.core.drawing.parts.style import AREA_COVER, MM_PER_POINT, Look, Style
from sornix.core.figure import (
    MARKS,
    CurveName,
    Legend,
    Mark,
    Panel,
    SeriesName,
    marked,
    series_name,
)
from sornix.core.readings import Tables
from sornix.core.text import Rich, rich

_SAMPLE = 2.6  # length of a legend's line, in type sizes
_INDENT = 3.0  # from the beginning of the sample to the name
_ROW = 1.35  # from one line to the next
_APART = 1.6  # between two names in one line
_TO_NAME_MM = 1.3


class Entry(NamedTuple):
    """A name with what it is told by: `of` is what its box stands for."""

    of: SeriesName | CurveName
    runs: Rich
    look: Look
    mark: Mark
    filled: bool = True

    @property
    def part(self) -> str:
        """What its items are a part of."""
        if isinstance(self.of, CurveName):
            return f"curve/{self.of.curve}/name"
        return f"series/{self.of.series}/name"


_CURVE = Mark("curve", "curve", path="straight")


def entries(panel: Panel, tables: Tables, style: Style) -> list[Entry]:
    """What a legend would list: series that are shown, and curves."""
    found = []
    for series in panel.shown:
        look = style.look_of(series)._replace(dashes=line_dashes(panel, series, style))
        name = rich(series_name(panel, series, tables))
        found.append(
            Entry(SeriesName(series.id), name, look, MARKS[series.mark], series.style.filled)
        )
    for curve in panel.curves:
        name = rich(curve.name or curve.formula)
        look = style.look(curve.palette_index)._replace(dashes=())
        found.append(Entry(CurveName(curve.id), name, look, _CURVE))
    return found


def wants_names(panel: Panel, tables: Tables, style: Style) -> list[Entry]:
    """The names that are worth being said: none of a single series, nor where each has a scale of
    its own, whose title says it in the series' colour."""
    if not panel.has_axes or panel.names == "none":
        return []
    if len(panel.shown) + len(panel.curves) < 2:
        return []
    alone = not panel.curves and any(
        f"{d}2" in panel.axes and all(len(panel.series_on(a)) == 1 for a in (d, f"{d}2"))
        for d in "xy"
    )
    return [] if alone else entries(panel, tables, style)


def _size(style: Style) -> float:
    return style.label_pt * MM_PER_POINT


def legend_size(listed: list[Entry], style: Style, measure: Measure) -> tuple[float, float]:
    """Width and height in mm of names under each other."""
    size = _size(style)
    width = max(measure.width(entry.runs, size) for entry in listed)
    return width + _INDENT * size, len(listed) * _ROW * size


def rows_below(
    listed: list[Entry], width_mm: float, style: Style, measure: Measure
) -> list[list[Entry]]:
    """Names in lines of at most a width."""
    size = _size(style)
    rows: list[list[Entry]] = [[]]
    used = 0.0
    for entry in listed:
        wide = _wide(entry, size, measure)
        if rows[-1] and used + wide > width_mm:
            rows.append([])
            used = 0.0
        rows[-1].append(entry)
        used += wide
    return rows


def _wide(entry: Entry, size: float, measure: Measure) -> float:
    return measure.width(entry.runs, size) + (_INDENT + _APART) * size


def height_below(rows: list[list[Entry]], style: Style) -> float:
    return len(rows) * _ROW * _size(style) + 0.8


def legend_items(
    listed: list[Entry], box: Rect, style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """Names under each other in a box, with samples of their marks."""
    size = _size(style)
    items: list[Item] = []
    boxes = [Box(Legend(), box)]
    for i, entry in enumerate(listed):
        top = box.top + i * _ROW * size
        drawn, name = _entry_items(entry, box.left, top, style, measure)
        items += drawn
        boxes.append(name)
    return items, boxes


def below_items(
    rows: list[list[Entry]], left: float, top: float, style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """Names in lines from a corner."""
    size = _size(style)
    items: list[Item] = []
    boxes: list[Box] = []
    for i, row in enumerate(rows):
        at = left
        for entry in row:
            drawn, name = _entry_items(entry, at, top + i * _ROW * size, style, measure)
            items += drawn
            boxes.append(name)
            at += _wide(entry, size, measure)
    return items, boxes


def _entry_items(
    entry: Entry, left: float, top: float, style: Style, measure: Measure
) -> tuple[list[Item], Box]:
    size = _size(style)
    sample, indent = _SAMPLE * size, _INDENT * size
    middle = top + 0.2 * size + 0.55 * measure.ascent(size)
    look, mark = entry.look, entry.mark
    items: list[Item] = []
    if mark.area or mark.bars:
        half = 0.5 * measure.ascent(size)
        corners = np.array([[left, middle - half, left + sample, middle + half]])
        colour = mixed(look.colour, style.paper, AREA_COVER) if mark.area else look.colour
        items.append(
            Rects("legend", corners, np.zeros(0, np.intp), colour, Stroke(style.paper, 0.0))
        )
    if mark.line:
        ends = np.array([[left, middle, left + sample, middle]])
        items.append(Lines("legend", ends, Stroke(look.colour, style.line_mm, look.dashes)))
    if mark.points:
        fill, edge = (look.colour, Stroke(style.paper, *style.fine(0.12))) if entry.filled else (
            style.paper, Stroke(look.colour, *style.fine(0.22)))  # fmt: skip
        at = np.array([[left + sample / 2, middle]])
        items.append(
            Markers("legend", at, np.zeros(0, np.intp), look.shape, style.marker_mm, fill, edge)
        )
    baseline = top + 0.2 * size + measure.ascent(size)
    items.append(Text("legend", left + indent, baseline, entry.runs, size, style.ink))
    width = measure.width(entry.runs, size)
    return items, Box(entry.of, Rect(left + indent, top, width, _ROW * size))


def ends_width(listed: list[Entry], style: Style, measure: Measure) -> float:
    """The room that names at line ends take at the right."""
    return (
        max(measure.width(entry.runs, _size(style)) for entry in listed) + _TO_NAME_MM * style.scale
    )


def end_names(
    panel: Panel, tables: Tables, place: PanelPlace, listed: list[Entry], style: Style,
    measure: Measure,
) -> tuple[list[Item], list[Box]]:  # fmt: skip
    """Each name in its series' colour at the height where its line ends, moved apart where they
    would touch."""
    size = _size(style)
    step = _ROW * 0.9 * size
    inner = place.inner
    ends = []
    for entry, series in zip(listed, panel.shown, strict=False):
        points = marked(series, panel, tables).points
        placed = place.on(series).place(points.x, points.y)
        seen = placed[[inner.grown(0.01).holds(*p) for p in placed.tolist()]]
        if len(seen):
            ends.append((float(seen[np.argmax(seen[:, 0]), 1]), entry))
    ends.sort(key=lambda pair: pair[0])
    tops = apart([y for y, _ in ends], step, inner.top, inner.bottom)
    items: list[Item] = []
    boxes: list[Box] = []
    left = inner.right + style.room_mm / 2 + _TO_NAME_MM * style.scale / 2
    for y, (_, entry) in zip(tops, ends, strict=True):
        baseline = y + measure.ascent(size) / 2
        items.append(
            Text(entry.part, left, baseline, entry.runs, size, style.written(entry.look.colour))
        )
        width = measure.width(entry.runs, size)
        boxes.append(Box(entry.of, Rect(left, y - step / 2, width, step)))
    return items, boxes


def apart(wanted: list[float], step: float, low: float, high: float) -> list[float]:
    """Rising places as near to those wanted as can be, at least a step apart, between two ends
    where there is room: neighbours that would touch are moved by equal shares."""
    groups: list[list[float]] = []
    for y in wanted:
        groups.append([y])
        while len(groups) > 1 and _begin(groups[-1], step) < _begin(groups[-2], step) + step * len(
            groups[-2]
        ):
            last = groups.pop()
            groups[-1] += last
    places: list[float] = []
    for members in groups:
        begin = _begin(members, step)
        places += [begin + i * step for i in range(len(members))]
    if places:
        over = max(places[-1] - high, 0.0)
        places = [place - over for place in places]
        under = max(low - places[0], 0.0)
        places = [place + under for place in places] if over == 0 else places
    for i in range(len(places) - 2, -1, -1):
        places[i] = min(places[i], places[i + 1] - step)
    return places


def _begin(members: list[float], step: float) -> float:
    """Where a group begins so that its middle is the mean of what its members want."""
    return sum(members) / len(members) - step * (len(members) - 1) / 2
