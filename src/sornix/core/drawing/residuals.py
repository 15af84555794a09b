"""Residuals drawn against x: a small picture beside the numbers of a trend."""

import numpy as np

from sornix.core.drawing.items import Drawing, Item, Lines, Markers, Stroke
from sornix.core.drawing.reduction import visible_markers
from sornix.core.drawing.style import Style
from sornix.core.trends import Fit


def draw_residuals(
    fit: Fit, style: Style, colours: tuple[str, str], size_mm: tuple[float, float]
) -> Drawing:
    """Reading − trend against x, the zero line in the trend's colour, symmetric about zero.

    `colours` are those of the series and of the trend.
    """
    width, height = size_mm
    edge = 1.6
    middle = height / 2
    greatest = float(np.abs(fit.residuals).max()) or 1.0
    span = float(fit.x.max() - fit.x.min()) or 1.0
    x = edge + (fit.x - fit.x.min()) / span * (width - 2 * edge)
    y = middle - fit.residuals / greatest * (middle - edge)
    points = np.column_stack((x, y))
    kept = visible_markers(points, apart_mm=0.2, many=2000)
    points = points[kept]
    stems = np.column_stack((points[:, 0], np.full(len(kept), middle), points))
    items: list[Item] = []
    if len(kept) <= 200:
        items.append(Lines("stems", stems, Stroke("#b9c6c3", 0.15)))
    zero = np.array([[0.0, middle, width, middle]])
    items.append(Lines("zero", zero, Stroke(colours[1], 0.3)))
    edge_stroke = Stroke(style.paper, 0.1)
    items.append(
        Markers("residuals", points, fit.rows[kept], "circle", 1.3, colours[0], edge_stroke)
    )
    return Drawing(width, height, style.paper, tuple(items))
