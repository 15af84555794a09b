"""Labels inside the data area that find their own place: equations and the legend."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.labels.breaking import broken
from sornix.core.drawing.labels.placing import densified, free_place, thinned
from sornix.core.drawing.labels.toldtable import table_items, told_table
from sornix.core.drawing.marks.marks import trend_colour
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
    Rects,
    Text,
    at_spot,
)
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import (
    Panel,
    Trend,
    TrendLabel,
    fitted_trends,
    trend_symbols,
)
from sornix.core.patterns import pattern
from sornix.core.readings import Tables
from sornix.core.text import (
    Rich,
    Run,
    counted,
    r_squared_text,
    significant,
    with_comma,
)
from sornix.core.trends import Equation, Fit
from sornix.core.trends.fits.equation import symbol_runs

Floats = NDArray[np.float64]


class _Row(NamedTuple):
    """A line of a label, with the series that its sample shows (or "")."""

    of: str
    runs: Rich
    colour: str


def obstacles(items: list[Item]) -> Floats:
    """Points (n, 2) that a label must not cover: markers, lines, other labels."""
    found = [np.zeros((0, 2))]
    for item in items:
        if isinstance(item, Markers | Crowd):
            found.append(item.some(_MANY_MARKERS)[0])
        elif isinstance(item, Path):
            found.append(densified(item.points, 0.8))
        elif isinstance(item, Lines) and (
            item.of.endswith("/errors") or item.of.startswith("note/")
        ):
            gaps = np.full((len(item.ends), 1, 2), np.nan)
            broken = np.concatenate((item.ends.reshape(-1, 2, 2), gaps), axis=1).reshape(-1, 2)
            found.append(densified(broken, 0.8))
        elif isinstance(item, Rects):
            found.append(_spread_over(item.corners[:: max(len(item.corners) // _MANY_BARS, 1)]))
    # of labels, which are added to these, none is left out then
    return thinned(np.concatenate(found))


def hidden_by(items: list[Item], measure: Measure) -> Floats:
    """Points (n, 2) that a label must not cover, those of texts among them."""
    texts = [text_box(item, measure) for item in items if isinstance(item, Text)]
    return np.concatenate((obstacles(items), *map(label_points, texts)))


# Texts within the data area, where a legend may come.
_INSIDE = pattern(r"(?:trend|note|guide|series)/")


def label_points(box: Rect) -> Floats:
    """A grid of points (n, 2) over a label already placed, for `obstacles`; each counts twice, for
    words over words are harder to read than over what is drawn."""
    points = _spread_over(np.array([[box.left, box.top, box.right, box.bottom]]))
    return np.concatenate((points, points))


_MANY_BARS, _MANY_MARKERS = 400, 1000
# Points over a rectangle are so far apart, in mm; along a side are no more than so many.
_POINTS_APART, _LEAST_POINTS, _MOST_POINTS = 1.2, 6, 60


def _spread_over(corners: Floats) -> Floats:
    """Points (k, 2) over rectangles (n, 4), each left, top, right, bottom; as many over each."""
    left, top, right, bottom = (side[:, None] for side in corners.T)
    sizes = np.max(right - left, initial=0.0), np.max(bottom - top, initial=0.0)
    counts = [min(max(int(size / _POINTS_APART), _LEAST_POINTS), _MOST_POINTS) for size in sizes]
    x_part, y_part = (np.arange(count) / (count - 1) for count in counts)
    points = np.empty((len(corners), counts[1], counts[0], 2))
    points[..., 0] = (left + (right - left) * x_part)[:, None, :]
    points[..., 1] = (top + (bottom - top) * y_part)[:, :, None]
    return points.reshape(-1, 2)


# The type of a table, beside that of an equation.
_SMALLER = 0.85
# The part of a panel's height that an equation may take.
_LABEL_PART = 0.6


def trend_rows(trend: Trend, fit: Fit, equation: Equation, x_symbol: str) -> list[Rich]:
    """What a trend writes on the figure: the equation, what x is counted from where it is, and
    under it R² and n."""
    rows = [equation.runs] if "equation" in trend.shows and equation.runs else []
    if rows and fit.along.told:
        rows.append((*symbol_runs(x_symbol), Run(f" in {fit.along.told}")))
    numbers: list[Rich] = []
    if "r-squared" in trend.shows and fit.r_squared is not None:
        symbol = equation.runs[:1] or (Run("y", italic=True),)
        of = (Run(" of ln "), *symbol) if fit.on_logs else ()
        numbers.append(
            (
                Run("R", italic=True),
                Run("2", script=1),
                *of,
                Run(f" = {r_squared_text(fit.r_squared)}"),
            )
        )
    if "scatter" in trend.shows and fit.residual_sd is not None:
        numbers.append((Run("s", italic=True), Run(f" = {significant(fit.residual_sd, 2)}")))
    if "count" in trend.shows:
        numbers.append((Run("n", italic=True), Run(f" = {counted(fit.n)}")))
    if numbers:
        joined = numbers[0]
        for more in numbers[1:]:
            joined = (*joined, Run(", "), *more)
        rows.append(joined)
    return rows


def trend_label_items(
    panel: Panel,
    tables: Tables,
    place: PanelPlace,
    marks: list[Item],
    taken: Floats,
    style: Style,
    measure: Measure,
) -> tuple[list[Item], list[Box]]:
    """The label of each trend, in its colour, at its spot or where it hides no reading: none of the
    points `taken` (n, 2)."""
    if not panel.trends:
        return [], []
    items: list[Item] = []
    boxes: list[Box] = []
    size = style.label_pt * MM_PER_POINT
    for trend, fit in fitted_trends(panel, tables):
        colour = style.written(trend_colour(trend, panel, style))
        of = f"trend/{trend.id}/label"
        symbols = trend_symbols(trend, panel, tables)
        said = trend_rows(trend, fit, place.equations[trend.id], symbols[0])
        said = [with_comma(row) for row in said] if style.decimal == "comma" else said
        table = told_table(trend, fit, symbols, panel, tables, style, _SMALLER * size, measure)
        if not said and table is None:
            continue
        more = (table.width, table.height) if table is not None else (0.0, 0.0)
        if trend.spot is not None:
            lines, extent = _set_in(1.0, said, more, place.inner, size, measure)
            box = at_spot(trend.spot, place.inner, *extent)
        else:
            curve = [i for i in marks if i.of == f"trend/{trend.id}/line" and isinstance(i, Path)]
            near = _on_curve(curve[0].points, place) if curve else _middle(place)
            lines, box = _placed(said, more, place.inner, taken, near, size, measure)
        rows = [_Row(of, line, colour) for line in lines]
        taken = np.concatenate((taken, label_points(box)))
        if _is_crossed(box, marks):
            # lines at which something is read off end at the label, readings do not
            items.append(Fill(of, box.grown(0.3).corners, style.paper))
        if _is_crowded(box, marks):
            items.append(Fill(f"{of}/{GROUND}", box.grown(0.6).corners, style.paper, _GROUND_COVER))
        items += _row_texts(rows, box, size, measure, indent=0.0)
        if table is not None:
            under = box.top + len(rows) * 1.35 * size
            below = Rect(box.left, under, table.width, table.height)
            items += table_items(of, table, below, colour, style, _SMALLER * size, measure)
        boxes.append(Box(TrendLabel(trend.id), box))
    return items, boxes


def text_box(item: Text, measure: Measure) -> Rect:
    """About where a text stands."""
    width = measure.width(item.runs, item.size_mm)
    return Rect(item.x, item.y - item.size_mm, width, 1.3 * item.size_mm)


def _is_crossed(box: Rect, marks: list[Item]) -> bool:
    """Whether a line at which something is read off goes through a label."""
    lines = [i.points for i in marks if isinstance(i, Path) and _READ.search(i.of)]
    if not lines:
        return False
    x, y = np.concatenate(lines).T
    inside = (x > box.left) & (x < box.right) & (y > box.top) & (y < box.bottom)
    return bool(inside.any())


# What lies between a crowd and a label over it, and how much it hides of the crowd.
GROUND, _GROUND_COVER = "ground", 0.85
# A label over so many markers cannot be read, and hides none that could be told apart; of a crowd
# so many are looked at.
_CROWD_UNDER, _ENOUGH = 40, 20_000


def _is_crowded(box: Rect, marks: list[Item]) -> bool:
    """Whether a label lies over so many markers that it could not be read."""
    under = 0
    for item in marks:
        if isinstance(item, Markers | Crowd):
            points, each = item.some(_ENOUGH)
            x, y = points.T
            inside = (x > box.left) & (x < box.right) & (y > box.top) & (y < box.bottom)
            under += each * int(np.count_nonzero(inside))
    return under >= _CROWD_UNDER


_READ = pattern(r"/(read-off|told)$")


def _middle(place: PanelPlace) -> tuple[float, float]:
    return place.inner.left + place.inner.width / 2, place.inner.top + place.inner.height / 2


def _on_curve(points: Floats, place: PanelPlace) -> tuple[float, float]:
    """Two thirds along a trend, where its label is looked for."""
    known = points[np.isfinite(points).all(axis=1)]
    if len(known) < 2:
        return _middle(place)
    x, y = known[0] + (known[-1] - known[0]) * 2 / 3
    return float(x), float(y)


# A label that is in the way is set in narrower lines, if it is wide: in these parts of the panel's
# width.
_NARROWER = (1.0, 0.75, 0.6, 0.5)


def _placed(
    said: list[Rich], more: tuple[float, float], inner: Rect, taken: Floats,
    near: tuple[float, float], size: float, measure: Measure,
) -> tuple[list[Rich], Rect]:  # fmt: skip
    """The lines of a label and where they hide nothing, in narrower ones where they would; as wide
    as may be where these would, too."""
    wide = max((measure.width(row, size) for row in said), default=0.0)
    tried: list[tuple[list[Rich], Rect]] = []
    for part in _NARROWER if wide > _NARROWER[1] * inner.width else _NARROWER[:1]:
        lines, extent = _set_in(part, said, more, inner, size, measure)
        if tried and lines == tried[-1][0]:
            continue
        box, free = free_place(inner, *extent, taken, near)
        if free:
            return lines, box
        tried.append((lines, box))
    return tried[0]


def _set_in(
    part: float, said: list[Rich], more: tuple[float, float], inner: Rect, size: float,
    measure: Measure,
) -> tuple[list[Rich], tuple[float, float]]:  # fmt: skip
    """What a label says in lines of a part of the panel's width, and the width and height of it
    with what stands under it."""
    most = max(int(inner.height * _LABEL_PART / (1.35 * size)), 2)
    room = part * (inner.width - 2 * size * 0.3)
    lines = [line for row in said for line in broken(row, room, size, measure, most)]
    width = max((measure.width(line, size) for line in lines), default=0.0)
    return lines, (max(width, more[0]), len(lines) * 1.35 * size + more[1])


def _row_texts(
    rows: list[_Row], box: Rect, size: float, measure: Measure, indent: float
) -> list[Item]:
    return [
        Text(
            row.of,
            box.left + indent,
            box.top + i * 1.35 * size + 0.2 * size + measure.ascent(size),
            row.runs,
            size,
            row.colour,
        )
        for i, row in enumerate(rows)
    ]


def legend_place(
    place: PanelPlace,
    wanted: tuple[float, float],
    items: list[Item],
    measure: Measure,
) -> Rect | None:
    """Where a legend of that size covers nothing, nearest to the upper right; None if nowhere."""
    taken = hidden_by([i for i in items if not isinstance(i, Text) or _INSIDE.match(i.of)], measure)
    box, free = free_place(place.inner, *wanted, taken, (place.inner.right, place.inner.top))
    return box if free else None
