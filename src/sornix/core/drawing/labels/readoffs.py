"""What is read off a trend, as dashed lines from one axis over the curve to the other; and where
the ends of the range of a trend can be taken hold of."""

import numpy as np

from sornix.core.drawing.marks.marks import trend_colour
from sornix.core.drawing.parts.items import Box, Item, Measure, PanelPlace, Path, Rect, Stroke, Text
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import Panel, ReadOffLine, TrendEnd, fitted_trends
from sornix.core.readings import Tables
from sornix.core.scales import KINDS, Resolved
from sornix.core.text import Rich, Run, significant, with_comma

_DASHES = (1.2, 0.9)
# so many points of a line are enough for labels to keep out of its way
_POINTS = 40
# half the width of what can be taken hold of
_GRIP_MM = 0.9


def read_off_items(
    panel: Panel, tables: Tables, place: PanelPlace, style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """The lines with the x that was found at their foot, and boxes by which they are dragged."""
    items: list[Item] = []
    boxes: list[Box] = []
    for trend, fit in fitted_trends(panel, tables):
        if "read-offs" not in trend.shows:
            continue
        from sornix.core.figure.prose.trendreport import asked_read_offs

        own = place.on(panel.one_series(trend.series))
        colour = trend_colour(trend, panel, style)
        found = asked_read_offs(trend, fit)
        pairs: list[tuple[float, float, ReadOffLine | None]]
        pairs = [(one.x, one.y, ReadOffLine(trend.id, i)) for i, one in enumerate(found) if one]
        told = np.array(trend.told_at)
        values = fit.at(told) if len(told) else told
        pairs += [(float(x), float(y), None) for x, y in zip(told, values, strict=True)]
        for x, y, target in pairs:
            at = own.place(np.array([x]), np.array([y]))[0]
            inner = place.inner
            if not (np.isfinite(at).all() and inner.grown(0.1).holds(*at)):
                continue
            of = f"trend/{trend.id}/{'told' if target is None else 'read-off'}"
            level = np.linspace([inner.left, at[1]], at, _POINTS)
            upright = np.linspace(at, [at[0], inner.bottom], _POINTS)
            line = np.concatenate((level, upright[1:]))
            items.append(Path(of, line, Stroke(colour, *style.fine(0.22, *_DASHES))))
            value, scale = (y, own.y) if target is None else (x, own.x)
            items.append(_foot(of, _words(value, scale), at, inner, colour, style, measure,
                               by_x=target is not None))  # fmt: skip
            if target is not None:
                band = Rect(inner.left, float(at[1]), float(at[0]) - inner.left, 0.0)
                boxes.append(Box(target, band.grown(_GRIP_MM)))
    return items, boxes


def _words(value: float, scale: Resolved) -> str:
    """A moment as a date, as exactly as the axis shows; a number with four digits."""
    if scale.traits.dated:
        return KINDS[scale.kind].words(value, (scale.end - scale.start) * 2e-3)
    return significant(value, 4)


def _foot(
    of: str, value: str, at: "np.ndarray[tuple[int], np.dtype[np.float64]]", inner: Rect,
    colour: str, style: Style, measure: Measure, *, by_x: bool,
) -> Text:  # fmt: skip
    """The value that was found, where the line meets its axis."""
    runs: Rich = (Run(value),)
    runs = with_comma(runs) if style.decimal == "comma" else runs
    size = 0.85 * style.label_pt * MM_PER_POINT
    width = measure.width(runs, size)
    if by_x:
        left = float(at[0]) + 0.8
        left = left if left + width < inner.right else float(at[0]) - 0.8 - width
        return Text(of, left, inner.bottom - 0.8, runs, size, style.written(colour))
    return Text(of, inner.left + 0.8, float(at[1]) - 0.7, runs, size, style.written(colour))


def range_boxes(panel: Panel, place: PanelPlace) -> list[Box]:
    """Boxes at the held ends of the x that trends go over."""
    boxes = []
    for trend in panel.trends:
        scale = place.on(panel.one_series(trend.series)).x
        for part, value in (("start", trend.start), ("end", trend.end)):
            if value is None:
                continue
            at = float(scale.position(np.array([value]))[0])
            if np.isfinite(at) and -1e-9 <= at <= 1 + 1e-9:
                middle = place.inner.left + at * place.inner.width
                upright = Rect(middle, place.inner.top, 0.0, place.inner.height)
                boxes.append(Box(TrendEnd(trend.id, part), upright.grown(_GRIP_MM)))
    return boxes
