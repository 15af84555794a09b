"""Residuals as small pictures beside the numbers of a trend."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.marks.crowds import MANY, merged, uncrowded
from sornix.core.drawing.parts.items import Drawing, Item, Lines, Markers, Rect, Stroke
from sornix.core.drawing.parts.memory import Memory
from sornix.core.drawing.parts.style import Style
from sornix.core.readings.tables.column import ends_of
from sornix.core.trends import Fit
from sornix.core.trends.fits.statistics import normal_quantiles

Floats = NDArray[np.float64]

# What residuals are drawn against.
AGAINST: Mapping[str, str] = MappingProxyType(
    {"x": "against x", "fitted": "against the trend", "normal": "against normal quantiles"}
)
# The size of the picture beside the numbers.
RESIDUALS_MM = (62.0, 17.0)
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
    told = _told(fit, against, size_mm)
    points = told.points
    items: list[Item] = []
    line = np.array([[0.0, middle, width, middle]])
    if against == "normal":
        at = middle - told.slope * np.array(told.ends) / told.greatest * (middle - _EDGE_MM)
        line = np.array([[_EDGE_MM, at[0], width - _EDGE_MM, at[1]]])
    elif len(points) <= _MOST_STEMS:
        stems = np.column_stack((points[:, 0], np.full(len(points), middle), points))
        items.append(Lines("stems", stems, Stroke("#b9c6c3", 0.15)))
    items.append(Lines("zero", line, Stroke(colours[1], 0.3)))
    edge_stroke = Stroke(style.paper, 0.1)
    markers = Markers(
        "residuals", points, told.rows, "circle", 1.3, colours[0], edge_stroke, told.counts
    )
    shown, _ = uncrowded([markers], Rect(0, 0, width, height), style.paper, held=False)
    items += shown
    return Drawing(width, height, style.paper, tuple(items))


class _Told(NamedTuple):
    """Residuals as points (n, 2) in mm of row indices (n,), each of which stands for as many as
    `counts` (n,) says; the `greatest`, their spread where a line shows it, and the `ends` of what
    they are drawn against."""

    points: Floats
    rows: NDArray[np.intp]
    counts: NDArray[np.intp] | None
    greatest: float
    slope: float
    ends: tuple[float, float]


def ready_residuals(fit: Fit) -> None:
    """Finds out where the residuals of many readings stand, before they are to be drawn."""
    if fit.n > MANY:
        _told(fit, "x", RESIDUALS_MM)


def _told(fit: Fit, against: str, size_mm: tuple[float, float]) -> _Told:
    """Where the residuals of a fit stand; those of many readings are remembered."""
    if fit.n <= MANY:
        return _placed(fit, against, size_mm)
    return _KNOWN.of(fit, (against, size_mm), lambda: _placed(fit, against, size_mm))


_KNOWN: Memory[_Told] = Memory(8)


def _placed(fit: Fit, against: str, size_mm: tuple[float, float]) -> _Told:
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
    ends = fit.ends if along is fit.x else ends_of(along)
    span = (ends[1] - ends[0]) or 1.0
    lowest, highest = ends_of(rest)
    greatest = max(highest, -lowest, slope * max(map(abs, ends))) or 1.0

    def placed(at: slice | NDArray[np.intp]) -> Floats:
        x = _EDGE_MM + (along[at] - ends[0]) / span * (width - 2 * _EDGE_MM)
        return np.column_stack((x, middle - rest[at] / greatest * (middle - _EDGE_MM)))

    if fit.n <= MANY:
        return _Told(placed(slice(None)), rows, None, greatest, slope, ends)
    points, kept, counts = merged(fit.n, placed, Rect(0, 0, width, height), (along, rest))
    return _Told(points, rows[kept], counts, greatest, slope, ends)


def _along(fit: Fit, against: str) -> Floats:
    if against == "fitted":
        fitted = fit.fitted
        return np.where(np.isfinite(fitted), fitted, fit.y)
    return normal_quantiles(fit.n) if against == "normal" else fit.x
