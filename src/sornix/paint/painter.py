"""One painter for every medium: it draws a display list on a QPainter scaled to millimetres."""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6 import sip
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath

from sornix.core.drawing import (
    Crowd,
    Drawing,
    Fill,
    Lines,
    Markers,
    Path,
    Rects,
    Text,
    dashed,
)
from sornix.paint.fonts import UNITS_PER_MM
from sornix.paint.measure import set_runs
from sornix.paint.shade import paint_crowd
from sornix.paint.shapes import draw_markers, pen, polygon
from sornix.paint.stamps import MANY_MARKERS, stamp_markers

Floats = NDArray[np.float64]

# A line of more points than this is painted as single segments: Qt joins wide polylines at a cost
# that grows with the square of their windings (benchmarks, docs/architecture.md).
_MANY_POINTS = 600


def paint(
    drawing: Drawing,
    painter: QPainter,
    units_per_mm: float,
    *,
    raster: bool = False,
    background: bool = True,
    outlines: bool = False,
    dots_per_mm: float = 12.0,
) -> None:
    """Paints `drawing` with its top left at the origin, `units_per_mm` units to the millimetre.

    On a `raster` of device pixels, many markers are stamped rather than drawn one by one, and the
    shade of a crowd is worked out for its pixels; elsewhere that is a picture of `dots_per_mm`.
    Without `background` the paper is left out; as `outlines` text is drawn as areas.
    """
    painter.save()
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
    painter.scale(units_per_mm, units_per_mm)
    if background:
        page = QRectF(0, 0, drawing.width_mm, drawing.height_mm)
        painter.fillRect(page, QColor(drawing.background))
    for item in drawing.items:
        if raster and isinstance(item, Markers):
            if len(item.points) > MANY_MARKERS:
                stamp_markers(item, painter)
            else:
                draw_markers(item, item.points, painter, raster=True)
            continue
        if isinstance(item, Crowd):
            paint_crowd(item, painter, None if raster else dots_per_mm)
            continue
        if outlines and isinstance(item, Text):
            _outline_text(item, painter)
            continue
        _PAINTERS[type(item)](item, painter)
    painter.restore()


def _line_array(ends: Floats) -> Any:
    # sip's stubs do not know that its arrays can be made with a length
    make: Any = sip.array
    lines: Any = make(QLineF, len(ends))
    np.frombuffer(lines, np.float64).reshape(-1, 4)[:] = ends
    return lines


def _paint_lines(item: Lines, painter: QPainter) -> None:
    painter.setPen(pen(item.stroke))
    ends = item.ends
    if item.stroke.dashes:
        gaps = np.full((len(ends), 1, 2), np.nan)
        broken = np.concatenate((ends.reshape(-1, 2, 2), gaps), axis=1).reshape(-1, 2)
        ends = _overlapping(dashed(broken, item.stroke.dashes), 0.0)
    painter.drawLines(_line_array(ends))


def _paint_path(item: Path, painter: QPainter) -> None:
    points = dashed(item.points, item.stroke.dashes)
    if len(points) > _MANY_POINTS:
        painter.setPen(pen(item.stroke))
        painter.drawLines(_line_array(_overlapping(points, item.stroke.width_mm)))
        return
    cap = Qt.PenCapStyle.FlatCap if item.stroke.dashes else Qt.PenCapStyle.RoundCap
    painter.setPen(pen(item.stroke, cap))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    broken = np.isnan(points).any(axis=1)
    for part in np.split(points, np.flatnonzero(broken)):
        known = part[np.isfinite(part).all(axis=1)]
        if len(known) > 1:
            painter.drawPolyline(polygon(known))


def _overlapping(points: Floats, width_mm: float) -> Floats:
    """Segments (n, 4) of a broken line, each drawn out a little so that joints do not show."""
    a, b = points[:-1], points[1:]
    step = b - a
    length = np.hypot(step[:, 0], step[:, 1])
    kept = np.isfinite(length) & (length > 0)
    out = step[kept] * (0.15 * width_mm / length[kept])[:, None]
    return np.hstack((a[kept] - out, b[kept] + out))


def _paint_markers(item: Markers, painter: QPainter) -> None:
    draw_markers(item, item.points, painter)


def _paint_text(item: Text, painter: QPainter) -> None:
    painter.setPen(QColor(item.colour))

    def draw(at: QPointF, font: QFont, text: str) -> None:
        painter.setFont(font)
        painter.drawText(at, text)

    _set_text(item, painter, draw)


def _outline_text(item: Text, painter: QPainter) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(item.colour))

    def draw(at: QPointF, font: QFont, text: str) -> None:
        outline = QPainterPath()
        outline.addText(at, font, text)
        painter.drawPath(outline)

    _set_text(item, painter, draw)


def _set_text(item: Text, painter: QPainter, draw: Callable[[QPointF, QFont, str], None]) -> None:
    """Draws each run of a text in its place."""
    set_text = set_runs(item.runs, item.size_mm, item.bold)
    width = sum([run.advance for run in set_text])
    painter.save()
    painter.translate(item.x, item.y)
    painter.rotate(-item.angle)
    painter.scale(1 / UNITS_PER_MM, 1 / UNITS_PER_MM)
    for run in set_text:
        draw(QPointF(run.x - item.anchor * width, run.y), run.font, run.text)
    painter.restore()


# A table rather than dispatch by annotations, which costs 20 ms when the module is imported.
def _paint_fill(item: Fill, painter: QPainter) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    colour = QColor(item.colour)
    colour.setAlphaF(item.cover)
    painter.setBrush(colour)
    painter.drawPolygon(polygon(item.points))


def _paint_rects(item: Rects, painter: QPainter) -> None:
    painter.setPen(pen(item.edge) if item.edge.width_mm else Qt.PenStyle.NoPen)
    painter.setBrush(QColor(item.colour))
    for a, b, c, d in item.corners.tolist():
        painter.drawRect(QRectF(a, b, c - a, d - b))


_PAINTERS: dict[type[Any], Callable[[Any, QPainter], None]] = {
    Fill: _paint_fill,
    Rects: _paint_rects,
    Lines: _paint_lines,
    Path: _paint_path,
    Markers: _paint_markers,
    Text: _paint_text,
}
