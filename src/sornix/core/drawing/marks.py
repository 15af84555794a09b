"""Series and trends as marks inside the data area."""

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.items import Item, Markers, PanelPlace, Path, Stroke
from sornix.core.drawing.reduction import clipped, reduced_line, visible_markers
from sornix.core.drawing.style import Style
from sornix.core.errors import TrendImpossible
from sornix.core.figure import MARKS, Panel, Points, Series, Trend, series_points, trend_fit
from sornix.core.figure import trend_symbols as symbols_of
from sornix.core.readings import Tables
from sornix.core.trends import MODELS, Equation

Floats = NDArray[np.float64]

# Positions are kept within this many figure sizes, so that painters never meet absurd numbers.
_FAR = 1e4


def _placed(points: Points, place: PanelPlace) -> Floats:
    """The readings in mm, with a row of NaN before each that follows missing ones."""
    placed = np.clip(place.place(points.x, points.y), -_FAR, _FAR)
    at = np.flatnonzero(points.breaks)
    return np.insert(placed, at, np.nan, axis=0) if len(at) else placed


def _corners(place: PanelPlace) -> tuple[tuple[float, float], tuple[float, float]]:
    # a hair more than the range itself, so that rounding cuts nothing that stands on its end
    inner = place.inner.grown(1e-6)
    return (inner.left, inner.top), (inner.right, inner.bottom)


def series_items(series: Series, tables: Tables, place: PanelPlace, style: Style) -> list[Item]:
    """The line and the markers of a series, nothing outside the range of the scales."""
    points = series_points(series, tables)
    mark, look = MARKS[series.mark], style.look(series.look)
    placed = _placed(points, place)
    low, high = _corners(place)
    items: list[Item] = []
    lone = np.zeros(len(points.rows), dtype=bool)
    if mark.line:
        line = clipped(reduced_line(placed), low, high)
        stroke = Stroke(look.colour, style.line_mm, look.dashes)
        items.append(Path(f"series/{series.id}/line", line, stroke))
        # a reading between two gaps has no line to show it
        after = np.append(points.breaks[1:], True)
        before = points.breaks.copy()
        before[:1] = True
        lone = before & after
    shown = place.place(points.x, points.y)
    inside = np.all((shown >= low) & (shown <= high), axis=1)
    if not mark.points:
        inside &= lone
    kept = np.flatnonzero(inside)
    kept = kept[visible_markers(shown[kept])] if len(kept) else kept
    if len(kept):
        small = mark.line and not mark.points
        size = style.marker_mm * (0.6 if small else 1)
        items.append(
            Markers(
                f"series/{series.id}",
                shown[kept],
                points.rows[kept],
                look.shape,
                size,
                look.colour,
                Stroke(style.paper, 0.12),
            )
        )
    return items


def trend_colour(trend: Trend, panel: Panel, style: Style) -> str:
    """The next colour of the palette over a single series; else the colour of its series."""
    look = panel.one_series(trend.series).look
    return style.look(look + 1 if len(panel.series) == 1 else look).colour


def trend_curves(panel: Panel, tables: Tables, place: PanelPlace, style: Style) -> list[Item]:
    """The trends over the range of their readings."""
    items: list[Item] = []
    low, high = _corners(place)
    for trend in panel.trends:
        try:
            fit = trend_fit(trend, panel, tables)
        except TrendImpossible:
            continue
        x = np.array([fit.x.min(), fit.x.max()])
        y = MODELS[trend.model].evaluate(fit, x)
        line = clipped(np.clip(place.place(x, y), -_FAR, _FAR), low, high)
        colour = trend_colour(trend, panel, style)
        items.append(Path(f"trend/{trend.id}/line", line, Stroke(colour, style.trend_mm)))
    return items


def trend_equations(
    panel: Panel, tables: Tables, place: PanelPlace, style: Style
) -> dict[str, Equation]:
    """The equations by trend id, exact to half the width of the line as it is drawn here."""
    found = {}
    per_mm = (place.y.end / 2 - place.y.start / 2) / (place.inner.height / 2)
    for trend in panel.trends:
        try:
            fit = trend_fit(trend, panel, tables)
        except TrendImpossible:
            continue
        drawn = (float(fit.x.min()), float(fit.x.max()))
        found[trend.id] = MODELS[trend.model].equation(
            fit, symbols_of(trend, panel, tables), drawn, per_mm * style.trend_mm / 2
        )
    return found
