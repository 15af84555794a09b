"""Residuals as small pictures beside the numbers of a trend."""

from collections.abc import Mapping
from types import MappingProxyType

import numpy as np

from sornix.core.drawing.marks.crowds import uncrowded
from sornix.core.drawing.parts.items import Drawing, Item, Lines, Markers, Rect, Stroke
from sornix.core.drawing.parts.style import Style
from sornix.core.trends import Fit
from sornix.core.trends.fits.statistics import normal_quantiles

# What residuals are drawn against.
AGAINST: Mapping[str, str] = MappingProxyType(
    {"x": "against x", "fitted": "against the trend", "normal": "against normal quantiles"}
)
_EDGE_MM = 1.6
# More stems than these are a grey area.
_MOST_STEMS = 200


def draw_residuals(
    fit: Fit, style: Style, colours: tuple[str, str], size_mm: tuple[float, float],
    against: str = "x",
) -> Drawing:  # fmt: skip
    """Reading − trend, symmetric about the zero line in the trend's colour, against what a name in
    AGAINST says. Against normal quantiles the line is where they lie if they are normal.

    `colours` are those of the series and of the trend. With weights, residuals are drawn as they
    count, times the roots of these.
    """
    width, height = size_mm
    middle = height / 2
    rest = fit.told_residuals
    rest = rest if fit.sample.roots is None else rest * fit.sample.roots
    along, rows = _along(fit, against), fit.rows
    slope = 0.0
    if against == "normal":
        order = np.argsort(rest, kind="stable")
        rest, rows = rest[order], rows[order]
        slope = float(np.std(rest))
    ends = float(along.min()), float(along.max())
    span = (ends[1] - ends[0]) or 1.0
    greatest = max(float(np.abs(rest).max()), slope * max(map(abs, ends))) or 1.0
    x = _EDGE_MM + (along - ends[0]) / span * (width - 2 * _EDGE_MM)
    y = middle - rest / greatest * (middle - _EDGE_MM)
    points = np.column_stack((x, y))
    items: list[Item] = []
    line = np.array([[0.0, middle, width, middle]])
    if against == "normal":
        at = middle - slope * np.array(ends) / greatest * (middle - _EDGE_MM)
        line = np.array([[_EDGE_MM, at[0], width - _EDGE_MM, at[1]]])
    elif len(points) <= _MOST_STEMS:
        stems = np.column_stack((points[:, 0], np.full(len(points), middle), points))
        items.append(Lines("stems", stems, Stroke("#b9c6c3", 0.15)))
    items.append(Lines("zero", line, Stroke(colours[1], 0.3)))
    edge_stroke = Stroke(style.paper, 0.1)
    markers = Markers("residuals", points, rows, "circle", 1.3, colours[0], edge_stroke)
    shown, _ = uncrowded([markers], Rect(0, 0, width, height), style.paper, held=False)
    items += shown
    return Drawing(width, height, style.paper, tuple(items))


def _along(fit: Fit, against: str) -> "np.ndarray[tuple[int], np.dtype[np.float64]]":
    if against == "fitted":
        fitted = fit.fitted
        return np.where(np.isfinite(fitted), fitted, fit.y)
    return normal_quantiles(fit.n) if against == "normal" else fit.x
