"""Panels without axes: the parts of a whole as a ring or one bar, and correlations as a matrix."""

import math
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.colours import contrast, mixed
from sornix.core.drawing.labels.legend import apart
from sornix.core.drawing.layout.ticklabels import label_lines
from sornix.core.drawing.parts.items import Fill, Item, Measure, Rect, Rects, Stroke, Text
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import Panel, parts_of_whole
from sornix.core.readings import Table, Tables, table_named
from sornix.core.readings.tables.correlation import Correlations, correlations
from sornix.core.text import Rich, Run, decimal_text, rich, rounded

Floats = NDArray[np.float64]
_NONE: NDArray[np.intp] = np.zeros(0, np.intp)
_STEP_DEGREES = 2.0
_HOLE = 0.56


class Part(NamedTuple):
    """A part of a whole: its name, its share from 0 to 1, its colour."""

    label: Rich
    share: float
    colour: str


def whole_items(
    panel: Panel, tables: Tables, inner: Rect, style: Style, measure: Measure
) -> list[Item]:
    """A panel whose form is no pair of axes."""
    if panel.form == "correlations":
        return _matrix(panel, tables, inner, style, measure)
    parts = _parts(panel, tables, style)
    if not parts:
        return []
    draw = _ring if panel.form == "ring" else _one_bar
    return draw(parts, inner, style, measure)


def _parts(panel: Panel, tables: Tables, style: Style) -> list[Part]:
    named = [(name, value) for name, value in parts_of_whole(panel, tables) if value > 0]
    total = sum(value for _, value in named)
    # an equation of whole percents to 100 is kept by one decimal
    found = []
    for i, (name, value) in enumerate(named):
        share = value / total
        percent = decimal_text(rounded(100 * share, 1))
        label = (*rich(name), Run(f"  {percent}\u2009%"))
        cycle = i // len(style.looks)
        colour = mixed(style.look(i).colour, style.paper, 0.6**cycle)
        found.append(Part(label, share, colour))
    return found


def _label_mm(style: Style) -> float:
    return style.label_pt * MM_PER_POINT


def _ring(parts: Sequence[Part], inner: Rect, style: Style, measure: Measure) -> list[Item]:
    """A ring from the top on, with the clock; names outside it at the height of their part."""
    size = _label_mm(style)
    widest = max(measure.width(part.label, size) for part in parts)
    radius = max(min(inner.height / 2, (inner.width - 2 * widest - 8) / 2), 3.0)
    middle = (inner.left + inner.width / 2, inner.top + inner.height / 2)
    items: list[Item] = []
    sides: dict[bool, list[tuple[float, Part]]] = {True: [], False: []}
    begin = 0.0
    for part in parts:
        end = begin + part.share
        items.append(_sector(middle, radius, begin, end, part.colour))
        half = 2 * math.pi * (begin + end) / 2
        sides[half <= math.pi].append((middle[1] - math.cos(half) * radius, part))
        begin = end
    step = 1.3 * size
    for right, listed in sides.items():
        listed.sort(key=lambda pair: pair[0])
        places = apart([y for y, _ in listed], step, inner.top + step / 2, inner.bottom - step / 2)
        for y, (_, part) in zip(places, listed, strict=True):
            # beside the ring at the height at which the name comes nearest to it
            nearest = max(abs(y - middle[1]) - step / 2, 0.0)
            reach = math.sqrt(max(radius**2 - nearest**2, 0.0))
            x = middle[0] + (reach + 1.6) * (1 if right else -1)
            baseline = y + measure.ascent(size) / 2
            anchor = 0.0 if right else 1.0
            items.append(Text("parts", x, baseline, part.label, size, style.ink, anchor))
    return items


def _sector(
    middle: tuple[float, float], radius: float, begin: float, end: float, colour: str
) -> Fill:
    """A part of a ring between two parts of a turn, a hair apart from its neighbours."""
    gap = 0.12 / radius / 2
    low, high = 2 * math.pi * begin + gap, 2 * math.pi * end - gap
    count = max(int(math.degrees(max(high - low, 0.0)) / _STEP_DEGREES), 1) + 1
    turn = np.linspace(low, max(high, low), count)
    outer = np.column_stack((np.sin(turn), -np.cos(turn)))
    points = np.concatenate((outer * radius, outer[::-1] * radius * _HOLE)) + np.array(middle)
    return Fill("parts", points, colour)


def _one_bar(parts: Sequence[Part], inner: Rect, style: Style, measure: Measure) -> list[Item]:
    """One bar from the bottom up, names at its right."""
    size = _label_mm(style)
    widest = max(measure.width(part.label, size) for part in parts)
    width = max(min(inner.width - widest - 3, 0.35 * inner.width), 3.0)
    left = inner.left + max((inner.width - width - widest - 3) / 2, 0.0)
    items: list[Item] = []
    centres = []
    base = inner.bottom
    for part in parts:
        top = base - part.share * inner.height
        corners = np.array([[left, top + 0.06, left + width, base - 0.06]])
        items.append(Rects("parts", corners, _NONE, part.colour, Stroke(style.paper, 0.0)))
        centres.append((top + base) / 2)
        base = top
    step = 1.3 * size
    order = sorted(range(len(parts)), key=lambda i: centres[i])
    places = apart([centres[i] for i in order], step, inner.top + step / 2, inner.bottom - step / 2)
    for y, i in zip(places, order, strict=True):
        baseline = y + measure.ascent(size) / 2
        items.append(Text("parts", left + width + 2, baseline, parts[i].label, size, style.ink))
    return items


class _Same:
    """A table as a key: the very same one, so that no readings are compared."""

    def __init__(self, table: Table) -> None:
        self.table = table

    def __hash__(self) -> int:
        return id(self.table)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and self.table is other.table


@lru_cache(maxsize=4)
def _correlations(same: _Same) -> Correlations:
    return correlations(same.table)


def _matrix(
    panel: Panel, tables: Tables, inner: Rect, style: Style, measure: Measure
) -> list[Item]:
    """Coefficients of correlation below the diagonal, from −1 in the second colour of the palette
    over the paper to 1 in its first; names at the left and below."""
    found = _correlations(_Same(table_named(tables, panel.series[0].table)))
    size = _label_mm(style)
    names = [rich(name) for name in found.names]
    count = len(names)
    if count < 2:
        return []
    # the first name stands only below, the last only at the left
    left = max(measure.width(name, size) for name in names[1:]) + 1.6
    turned = _wide(names[:-1], size, measure) > (inner.width - left) / (count - 1) - 0.8
    below = max(measure.width(name, size) for name in names[:-1]) if turned else size
    side_x = (inner.width - left) / (count - 1)
    side_y = max((inner.height - below - 1.6) / (count - 1), 1.0)
    items: list[Item] = []
    number = min(size, 0.42 * side_x, 0.7 * side_y)
    for row in range(1, count):
        top = inner.top + (row - 1) * side_y
        baseline = top + side_y / 2 + measure.ascent(size) / 2
        items.append(
            Text("matrix", inner.left + left - 1.2, baseline, names[row], size, style.ink, 1.0)
        )
        for column in range(row):
            x = inner.left + left + column * side_x
            items += _cell(Rect(x, top, side_x, side_y), float(found.r[row, column]), number,
                           style, measure)  # fmt: skip
    under = inner.top + (count - 1) * side_y + 1.0
    for column in range(count - 1):
        x = inner.left + left + (column + 0.5) * side_x
        if turned:
            at = x + measure.ascent(size) / 2
            items.append(Text("matrix", at, under, names[column], size, style.ink, 1.0, angle=90.0))
        else:
            baseline = under + measure.ascent(size)
            items.append(Text("matrix", x, baseline, names[column], size, style.ink, 0.5))
    return items


def _wide(names: Sequence[Rich], size: float, measure: Measure) -> float:
    return max(measure.width(line, size) for name in names for line in label_lines(name))


def _cell(rect: Rect, r: float, size: float, style: Style, measure: Measure) -> list[Item]:
    middle = rect.left + rect.width / 2, rect.top + rect.height / 2 + measure.ascent(size) / 2
    if not math.isfinite(r):
        return [Text("matrix", *middle, (Run("–"),), size, style.grey, 0.5)]
    base = style.look(0 if r >= 0 else 1).colour
    colour = mixed(base, style.paper, abs(r))
    corners = np.array([[rect.left, rect.top, rect.right - 0.25, rect.bottom - 0.25]])
    text = decimal_text(rounded(r, 2))
    ink = max((style.ink, style.paper), key=lambda ink: contrast(ink, colour))
    return [
        Rects("matrix", corners, _NONE, colour, Stroke(style.paper, 0.0)),
        Text("matrix", *middle, (Run(text),), size, ink, 0.5),
    ]
