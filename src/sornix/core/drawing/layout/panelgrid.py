"""Panels in their cells: data areas that stand in line, margins from what their axes need."""

from collections.abc import Sequence
from typing import NamedTuple

from sornix.core.drawing.labels.breaking import fitted_size
from sornix.core.drawing.layout.kept import Canvas
from sornix.core.drawing.layout.settling import Margins, Settled, settle
from sornix.core.drawing.parts.items import Box, Item, Rect, Text, at_spot
from sornix.core.drawing.parts.style import MM_PER_POINT
from sornix.core.figure import Divider, Figure, Panel, PanelTitle, ratios
from sornix.core.text import Rich, rich

# Below this the inside of a panel is not made smaller, whatever the margins ask for.
_LEAST_INSIDE_MM = 4.0
# Between two panels, in mm.
_GAP_MM = 3.4
# Margins change what the scales come to, and these the margins: that settles in two or three turns.
_TURNS = 3
_FIRST = Margins(10.0, 2.5, 1.3, 9.0)


class Arranged(NamedTuple):
    """A panel in its place: its data area, the cell that it may fill, its scales and axes, and what
    stands over it, so far `above` its data."""

    panel: Panel
    inner: Rect
    cell: Rect
    settled: Settled
    head: Rich
    bare: frozenset[str]
    above: float


def arrange_panels(
    figure: Figure, area: Rect, canvas: Canvas, extra: Sequence[Margins]
) -> list[Arranged]:
    """The panels of a figure in an area of it, in their order; `extra` is room that each keeps free
    around what its axes need."""
    panels = [figure.seen(i) for i in range(len(figure.panels))]
    heads = [_head(figure, i) for i in range(len(panels))]
    bare = [_bare(figure, i) for i in range(len(panels))]
    margins = [_FIRST for _ in panels]
    settled: list[Settled] = []
    inners: list[Rect] = []
    for _ in range(_TURNS):
        inners = _inners(figure, area, margins)
        settled = [
            settle(p, canvas, (r.width, r.height), without)
            for p, r, without in zip(panels, inners, bare, strict=True)
        ]
        needed = [
            Margins(
                *(a + b for a, b in zip(_with_head(one.margins, head, canvas), more, strict=True))
            )
            for one, head, more in zip(settled, heads, extra, strict=True)
        ]
        change = max(
            abs(a - b)
            for one, other in zip(needed, margins, strict=True)
            for a, b in zip(one, other, strict=True)
        )
        margins = needed
        if change < 0.02:
            break
    else:
        inners = _inners(figure, area, margins)
    cells = _cells(figure, area, inners)
    # titles in a row stand on one line
    lines: dict[int, float] = {}
    for panel, one, head in zip(figure.panels, settled, heads, strict=True):
        if head:
            lines[panel.row] = max(lines.get(panel.row, 0.0), one.margins.top)
    above = [lines.get(panel.row, 0.0) for panel in figure.panels]
    return [
        Arranged(*parts)
        for parts in zip(panels, inners, cells, settled, heads, bare, above, strict=True)
    ]


def _bare(figure: Figure, index: int) -> frozenset[str]:
    """The shared axes of a panel that another one says: x below it, y to the left of it."""
    panel = figure.panels[index]
    below = any(p.column == panel.column and p.row > panel.row for p in figure.panels)
    before = any(p.row == panel.row and p.column < panel.column for p in figure.panels)
    found = {"x"} if below and figure.shares("x") else set()
    return frozenset(found | {"y"} if before and figure.shares("y") else found)


def _head(figure: Figure, index: int) -> Rich:
    """The letter and the title over a panel."""
    parts = [part for part in (figure.letter(index), figure.panels[index].title) if part]
    return rich("  ".join(parts)) if parts else ()


def _head_mm(canvas: Canvas) -> float:
    size = canvas.style.axis_title_pt * MM_PER_POINT
    return canvas.measure.ascent(size) + canvas.measure.descent(size) + 0.8


def _with_head(margins: Margins, head: Rich, canvas: Canvas) -> Margins:
    return margins._replace(top=margins.top + _head_mm(canvas)) if head else margins


def _inners(figure: Figure, area: Rect, margins: Sequence[Margins]) -> list[Rect]:
    """The data areas: in line in each row and column, as wide and high as their ratios say."""
    rows, columns = ([p.row for p in figure.panels], [p.column for p in figure.panels])
    lefts, widths = _along(
        area.left, area.width, columns, ratios(figure, "widths"),
        [m.left for m in margins], [m.right for m in margins],
    )  # fmt: skip
    tops, heights = _along(
        area.top, area.height, rows, ratios(figure, "heights"),
        [m.top for m in margins], [m.bottom for m in margins],
    )  # fmt: skip
    return [
        Rect(lefts[c], tops[r], widths[c], heights[r]) for r, c in zip(rows, columns, strict=True)
    ]


def _along(
    begin: float,
    length: float,
    places: Sequence[int],
    parts: Sequence[float],
    before: Sequence[float],
    after: Sequence[float],
) -> tuple[list[float], list[float]]:
    """Where data areas begin and how long they are, by their row or column."""
    count = len(parts)
    if len(places) == 1:
        # most figures are one panel, which fills them, whichever row it was in among others
        unit = max(length - before[0] - after[0], _LEAST_INSIDE_MM)
        return [begin + before[0]] * count, [unit] * count
    need = [
        [max((m for m, at in zip(side, places, strict=True) if at == i), default=0.0)
         for i in range(count)]
        for side in (before, after)
    ]  # fmt: skip
    free = length - sum(need[0]) - sum(need[1]) - _GAP_MM * (count - 1)
    unit = max(free, _LEAST_INSIDE_MM * count) / sum(parts)
    begins, at = [], begin
    for i in range(count):
        begins.append(at + need[0][i])
        at = begins[-1] + parts[i] * unit + need[1][i] + _GAP_MM
    return begins, [part * unit for part in parts]


def _cells(figure: Figure, area: Rect, inners: Sequence[Rect]) -> list[Rect]:
    """The part of the figure that each panel may fill with titles: half way to its neighbours."""
    if len(inners) == 1:
        return [area]
    cells = []
    for panel, inner in zip(figure.panels, inners, strict=True):
        above = [r.bottom for p, r in zip(figure.panels, inners, strict=True) if p.row < panel.row]
        below = [r.top for p, r in zip(figure.panels, inners, strict=True) if p.row > panel.row]
        left = [r.right for p, r in zip(figure.panels, inners, strict=True)
                if p.column < panel.column]  # fmt: skip
        right = [r.left for p, r in zip(figure.panels, inners, strict=True)
                 if p.column > panel.column]  # fmt: skip
        begin_x = (max(left) + inner.left) / 2 if left else area.left
        end_x = (min(right) + inner.right) / 2 if right else area.right
        begin_y = (max(above) + inner.top) / 2 if above else area.top
        end_y = (min(below) + inner.bottom) / 2 if below else area.bottom
        cells.append(Rect(begin_x, begin_y, end_x - begin_x, end_y - begin_y))
    return cells


def panel_head(arranged: Arranged, canvas: Canvas) -> tuple[list[Item], list[Box]]:
    """The letter and the title over a panel, at the left edge of its data."""
    if not arranged.head:
        return [], []
    style, measure = canvas.style, canvas.measure
    room = arranged.cell.right - arranged.inner.left + style.room_mm
    size = fitted_size(arranged.head, style.axis_title_pt * MM_PER_POINT, room, measure)
    height = _head_mm(canvas)
    top = arranged.inner.top - arranged.above - height
    left = arranged.inner.left - style.room_mm
    spot = arranged.panel.title_spot
    if spot is not None:
        left, top, *_ = at_spot(spot, arranged.inner, 0.0, 0.0)
    baseline = top + measure.ascent(size)
    text = Text("panel-title", left, baseline, arranged.head, size, style.ink, bold=True)
    width = measure.width(arranged.head, size, bold=True)
    return [text], [Box(PanelTitle(), Rect(left, top, width, height))]


def divider_boxes(figure: Figure, arranged: Sequence[Arranged]) -> list[Box]:
    """Where rows and columns meet: what is dragged to make one larger and the other smaller."""
    if len(arranged) == 1:
        return []
    inners = [one.inner for one in arranged]
    left, right = min(r.left for r in inners), max(r.right for r in inners)
    top, bottom = min(r.top for r in inners), max(r.bottom for r in inners)
    boxes = []
    rows = sorted({p.row for p in figure.panels})
    columns = sorted({p.column for p in figure.panels})
    for row in rows[:-1]:
        end = max(r.bottom for p, r in zip(figure.panels, inners, strict=True) if p.row == row)
        begin = min(r.top for p, r in zip(figure.panels, inners, strict=True) if p.row > row)
        boxes.append(Box(Divider("row", row), Rect(left, end, right - left, begin - end)))
    for column in columns[:-1]:
        end = max(r.right for p, r in zip(figure.panels, inners, strict=True)
                  if p.column == column)  # fmt: skip
        begin = min(r.left for p, r in zip(figure.panels, inners, strict=True)
                    if p.column > column)  # fmt: skip
        boxes.append(Box(Divider("column", column), Rect(end, top, begin - end, bottom - top)))
    return boxes
