"""Series and trends as marks inside the data area."""

from collections.abc import Hashable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.colours import mixed
from sornix.core.drawing.marks.bars import bar_items, bar_rects, whisker_items
from sornix.core.drawing.marks.crowds import MANY, inside, merged
from sornix.core.drawing.marks.paths import JOINED, areas
from sornix.core.drawing.marks.reduction import (
    WORTH_REDUCING,
    Detail,
    clipped,
    reduced_rising,
)
from sornix.core.drawing.marks.tracing import OFF, traced
from sornix.core.drawing.parts.items import Fill, Item, Markers, PanelPlace, Path, Rect, Stroke
from sornix.core.drawing.parts.memory import Memory
from sornix.core.drawing.parts.style import AREA_COVER, Look, Style
from sornix.core.figure import (
    MARKS,
    BarSet,
    Mark,
    Panel,
    Points,
    Series,
    Trend,
    bar_sets,
    fitted_trends,
    lies,
    marked,
    series_points,
)
from sornix.core.figure import trend_symbols as symbols_of
from sornix.core.figure.derived.paneldata import remembered
from sornix.core.readings import Tables
from sornix.core.trends import Equation, Fit

Floats = NDArray[np.float64]

# Positions are kept within this many figure sizes, so that painters never meet absurd numbers.
_FAR = 1e4


def _area(place: PanelPlace) -> Rect:
    # a hair more than the range itself, so that rounding cuts nothing that stands on its end
    return place.inner.grown(1e-6)


def _corners(place: PanelPlace) -> tuple[tuple[float, float], tuple[float, float]]:
    area = _area(place)
    return (area.left, area.top), (area.right, area.bottom)


def _line(points: Points, place: PanelPlace, column_mm: float) -> Floats:
    """The line of a series in mm, (m, 2), broken by NaN; many readings as columns."""
    columns = max(int(place.inner.width / column_mm), 1)
    if points.rising and len(points.x) > WORTH_REDUCING * columns:
        edges = place.x.edges(columns)
        values = reduced_rising(points.x, points.y, points.gaps, edges, points.blocks)
        placed = place.place(values[:, 0], values[:, 1])
    else:
        placed = place.place(points.x, points.y)
        gaps = points.gaps
        placed = np.insert(placed, gaps, np.nan, axis=0) if len(gaps) else placed
    return np.clip(placed, -_FAR, _FAR)


def series_items(
    series: Series, panel: Panel, tables: Tables, place: PanelPlace, style: Style, detail: Detail
) -> list[Item]:
    """What a series draws, nothing outside the range of the scales: its area or bars first, then
    its line, error bars and markers.

    Readings that are left out are hollow, or full crosses where all others are hollow. Of many
    there is as much `detail`.
    """
    place = place.on(series)
    found = marked(series, panel, tables)
    mark, look = MARKS[series.mark], style.look_of(series)
    low, high = _corners(place)
    items: list[Item] = []
    shift = (0.0, 0.0)
    if mark.bars:
        lying = lies(panel, tables)
        bars = bar_sets(panel, tables).get(series.id)
        if bars is not None and len(bars.at):
            items += bar_items(bars, series, panel, place, lying, style)
            shift = _to_bar(bars, panel, place, lying)
    if mark.line:
        path = _path(found.points, mark, place, detail.column_mm)
        if mark.area:
            base = (
                float(np.clip(place.y.position(np.zeros(1)), 0, 1)[0])
                if place.y.traits.even
                else float(place.y.reversed)
            )
            level = place.inner.bottom - base * place.inner.height
            inside = np.clip(path, low, high)
            items += [Fill(f"series/{series.id}/area", part, look.colour, AREA_COVER)
                      for part in areas(inside, level)]  # fmt: skip
        line = clipped(path, low, high)
        width = series.style.width_mm or style.line_mm
        stroke = Stroke(look.colour, width, line_dashes(panel, series, style))
        items.append(Path(f"series/{series.id}/line", line, stroke))
    if found.whiskers and (not mark.bars or panel.bars == "beside"):
        items += whisker_items(found, series, place, style, shift)
    if series.replicates and series.together != "each":
        raw = series_points(series, panel, tables)
        small = 0.6 * (series.style.size_mm or style.marker_mm)
        pale = look._replace(colour=mixed(look.colour, style.paper, 0.45))
        which = _in_range(raw, place, detail)
        items += _markers(raw, which, pale, small, series, place, style)
    if mark.bars:
        return items
    points = found.points
    out = [at for left in series.left_out if (at := points.at_row(left.row)) is not None]
    left = _exactly(out if series.together == "each" else [])
    full = _in_range(points, place, detail) if mark.points else Some(points.lone, "lone")
    if len(left.which):
        full = full._replace(
            which=np.setdiff1d(full.which, left.which),
            chosen=("without", full.chosen, *out),
            span=None,
        )
    size = (series.style.size_mm or style.marker_mm) * (1 if mark.points else 0.6)
    filled = series.style.filled
    apart = look if filled else look._replace(shape=LEFT_OUT_OF_HOLLOW)
    items += _markers(points, full, look, size, series, place, style, filled=filled)
    items += _markers(points, left, apart, size, series, place, style, filled=not filled)
    return items


# What is left out of a series of hollow markers is full, in this shape.
LEFT_OUT_OF_HOLLOW = "cross"


class Some(NamedTuple):
    """Some readings by their places, rising, by what they were chosen (it tells one choice from
    another of the same readings), for how many each of them stands, and the `span` that they are
    where they are equally far apart."""

    which: NDArray[np.intp]
    chosen: Hashable
    each: int = 1
    span: slice | None = None


def _exactly(places: Sequence[int]) -> Some:
    return Some(np.array(sorted(places), dtype=np.intp), tuple(places))


def _in_range(points: Points, place: PanelPlace, detail: Detail) -> Some:
    """The readings that may be seen: where x rises, those in its range alone."""
    begin, end = 0, len(points.x)
    if points.rising:
        # a hair more than the range itself, as the corners have it
        room = (place.x.end - place.x.start) * 1e-6
        begin, end = points.between(place.x.start - room, place.x.end + room)
    each = max(-(-(end - begin) // detail.most), 1) if detail.most else 1
    span = slice(begin, end, each)
    return Some(np.arange(begin, end, each), (begin, end, each), each, span)


# Readings that are drawn again where they were: in a coarse drawing and in the full one, and back.
_MERGED: Memory[tuple[Floats, NDArray[np.intp], NDArray[np.intp]]] = Memory(8)


def _markers(
    points: Points, some: Some, look: Look, size: float, series: Series,
    place: PanelPlace, style: Style, *, filled: bool = True,
) -> list[Item]:  # fmt: skip
    """Some of the points as markers, filled or hollow."""
    area = _area(place)
    fill, edge = (look.colour, Stroke(style.paper, *style.fine(0.12))) if filled else (
        style.paper, Stroke(look.colour, *style.fine(0.22)))  # fmt: skip
    of, which = f"series/{series.id}", some.which
    at = some.span or which
    x, y = points.x[at], points.y[at]
    counts = None
    if len(which) > MANY:
        scales = [(s.kind, s.start, s.end, s.reversed) for s in (place.x, place.y)]
        key = (*scales, area, some.chosen)
        shown, kept, counts = _MERGED.of(
            points,
            key,
            lambda: merged(len(which), lambda part: place.place(x[part], y[part]), area, (x, y)),
        )
        which = which[kept]
    else:
        shown = place.place(x, y)
        there = inside(shown, area)
        if not there.all():
            shown, which = shown[there], which[there]
    if not len(which):
        return []
    if some.each > 1:
        counts = np.full(len(which), some.each) if counts is None else counts * some.each
    return [Markers(of, shown, points.rows[which], look.shape, size, fill, edge, counts)]


def _path(points: Points, mark: Mark, place: PanelPlace, column_mm: float) -> Floats:
    """The line of a series in mm, as its mark draws it."""
    return JOINED[mark.path](_line(points, place, column_mm))


def _to_bar(bars: BarSet, panel: Panel, place: PanelPlace, lying: bool) -> tuple[float, float]:
    """How far the middle of a series' bars is from the middle of their places, in mm."""
    if bars.slots == 1:
        return 0.0, 1e-9
    corners = bar_rects(bars, panel, place, lying)
    at = (place.y if lying else place.x).position(bars.at)
    if lying:
        middle = place.inner.bottom - at * place.inner.height
        return 0.0, float(((corners[:, 1] + corners[:, 3]) / 2 - middle)[0])
    middle = place.inner.left + at * place.inner.width
    return float(((corners[:, 0] + corners[:, 2]) / 2 - middle)[0]), 0.0


def line_dashes(panel: Panel, series: Series, style: Style) -> tuple[float, ...]:
    """The dashes of a series' line: a line that is alone in its panel needs none."""
    if series.style.dash or _has_lines(panel):
        return style.look_of(series).dashes
    return ()


@remembered
def _has_lines(panel: Panel) -> bool:
    """Whether several lines are drawn on a panel."""
    return sum(MARKS[one.mark].line for one in panel.shown) > 1


def trend_colour(trend: Trend, panel: Panel, style: Style) -> str:
    """The next colours of the palette over a single series; else the colour of its series."""
    series = panel.one_series(trend.series)
    if len(panel.series) == 1:
        return style.look(series.palette_index + 1 + panel.trends.index(trend)).colour
    return style.look_of(series).colour


def trend_reach(trend: Trend, fit: Fit, place: PanelPlace) -> list[tuple[float, float, bool]]:
    """The stretches of x over which a trend is drawn, and whether each is beyond the readings."""
    least, greatest = fit.ends
    stretches = [(least, greatest, False)]
    if trend.extended:
        if place.x.start < least:
            stretches.append((place.x.start, least, True))
        if place.x.end > greatest:
            stretches.append((greatest, place.x.end, True))
    if place.x.traits.even:
        return stretches
    # some x, such as 0 on a log scale, have no place at all
    low, high = place.x.start, place.x.end
    seen = ((max(start, low), min(end, high), beyond) for start, end, beyond in stretches)
    return [stretch for stretch in seen if stretch[0] < stretch[1]]


def _along(start: float, end: float, place: PanelPlace, fit: Fit, style: Style) -> Floats:
    """Places along x where a curve is drawn through: two where a straight one is on even scales,
    else as many as it takes."""
    if place.x.traits.even and place.y.traits.even and fit.by.straight:
        return np.array([start, end])
    return traced(lambda x: [fit.at(x)], place, (start, end), style.trend_mm * OFF, fit.x)


def trend_curves(panel: Panel, tables: Tables, place: PanelPlace, style: Style) -> list[Item]:
    """The trends over the range of their readings, and dashed beyond it where they are extended."""
    items: list[Item] = []
    low, high = _corners(place)
    for trend, fit in fitted_trends(panel, tables):
        colour = trend_colour(trend, panel, style)
        own = place.on(panel.one_series(trend.series))
        for start, end, beyond in trend_reach(trend, fit, own):
            x = _along(start, end, own, fit, style)
            y = fit.at(x)
            line = clipped(np.clip(own.place(x, y), -_FAR, _FAR), low, high)
            stroke = Stroke(colour, style.trend_mm, style.beyond_dashes if beyond else ())
            items.append(Path(f"trend/{trend.id}/line", line, stroke))
    return items


# How much each band hides of what lies under it, the wider one first.
_BANDS = {"prediction": 0.1, "confidence": 0.24}


def trend_bands(panel: Panel, tables: Tables, place: PanelPlace, style: Style) -> list[Item]:
    """The 95 % bands that trends show: for one new reading, and for the trend itself."""
    items: list[Item] = []
    for trend, fit in fitted_trends(panel, tables):
        own = place.on(panel.one_series(trend.series))
        wanted = [name for name in _BANDS if name in trend.shows]
        stretches = trend_reach(trend, fit, own) if wanted else []
        if not stretches or fit.residual_sd is None:
            continue
        start, end = min(s[0] for s in stretches), max(s[1] for s in stretches)

        def edges(x: Floats, fit: Fit = fit) -> list[Floats]:
            there = fit.bands(x)
            return [] if there is None else [*there.mean, *there.single]

        if not edges(np.array([start])):
            continue
        x = traced(edges, own, (start, end), style.trend_mm * OFF)
        found = fit.bands(x)
        colour = trend_colour(trend, panel, style)
        for name in wanted:
            if found is None:
                break
            low, high = found.mean if name == "confidence" else found.single
            outline = _outline(own, x, low, high)
            of = f"trend/{trend.id}/{name}"
            items.append(Fill(of, outline, colour, _BANDS[name]))
    return items


def _outline(place: PanelPlace, x: Floats, low: Floats, high: Floats) -> Floats:
    """The corners of a band, within the data area; beyond what a scale can show it ends there."""
    inner = place.inner
    with np.errstate(invalid="ignore", divide="ignore"):
        upper, lower = place.place(x, high), place.place(x, low)
    bottom = inner.top if place.y.reversed else inner.bottom
    outline = np.nan_to_num(np.concatenate((upper, lower[::-1])), nan=bottom)
    cut: Floats = np.clip(outline, (inner.left, inner.top), (inner.right, inner.bottom))
    return cut


# Places along a curve at which half the width of its line is looked at.
_LOOKED_AT = 97


def trend_equations(
    panel: Panel, tables: Tables, place: PanelPlace, style: Style
) -> dict[str, Equation]:
    """The equations by trend id, exact to half the width of the line as it is drawn here."""
    found = {}
    for trend, fit in fitted_trends(panel, tables):
        own = place.on(panel.one_series(trend.series))
        stretches = trend_reach(trend, fit, own) or [(own.x.start, own.x.end, False)]
        drawn = (min(s[0] for s in stretches), max(s[1] for s in stretches))
        ends = own.x.position(np.array(drawn))
        along = own.x.values(np.linspace(ends[0], ends[1], _LOOKED_AT))
        within = _half_width(fit.at(along), own, style)
        symbols = symbols_of(trend, panel, tables)
        found[trend.id] = fit.equation(symbols, drawn, within, units="units" in trend.shows)
    return found


def _half_width(y: Floats, place: PanelPlace, style: Style) -> float:
    """Half the width of a trend's line in units of y, where that is least along a curve of y."""
    part = style.trend_mm / 2 / place.inner.height
    if place.y.traits.even:
        return (place.y.end / 2 - place.y.start / 2) * 2 * part
    at = place.y.position(y)
    at = at[np.isfinite(at) & (at >= 0) & (at <= 1)]
    widths = np.abs(place.y.values(at + part) - place.y.values(at))
    return float(widths.min(initial=(place.y.end - place.y.start) * part))
