"""Pens, outlines and markers in Qt's terms."""

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from sornix.core.drawing import SHAPES, Markers, Stroke

Floats = NDArray[np.float64]
_OPAQUE, _UNSEEN_PX = 255, 0.02


def pen(stroke: Stroke, cap: Qt.PenCapStyle = Qt.PenCapStyle.FlatCap) -> QPen:
    """The solid pen of a stroke; dashes are geometry (see `dashed`)."""
    made = QPen(QColor(stroke.colour), stroke.width_mm, Qt.PenStyle.SolidLine, cap)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    return made


def polygon(points: Floats) -> QPolygonF:
    """Points (n, 2) as Qt's polygon, filled without a loop."""
    made = QPolygonF()
    made.resize(len(points))
    data: Any = made.data()
    if data is not None and len(points):
        data.setsize(16 * len(points))
        np.frombuffer(data, np.float64).reshape(-1, 2)[:] = points
    return made


def draw_markers(item: Markers, points: Floats, painter: QPainter, *, raster: bool = False) -> None:
    """The shape of `item` at `points` (n, 2), one by one; on a `raster` circles are polygons that
    no pixel tells from them, which take a tenth of the time."""
    edge, radius = item.edge, item.size_mm / 2
    painter.setPen(pen(edge) if edge.width_mm else Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(item.fill)))
    outline = SHAPES[item.shape]
    if outline is not None:
        shape = polygon(outline * item.size_mm)
    elif raster and not edge.width_mm:
        shape = _disc(radius, painter)
    elif raster and _can_be_covered(item):
        _draw_discs(item, points, painter)
        return
    else:
        for x, y in points.tolist():
            painter.drawEllipse(QPointF(x, y), radius, radius)
        return
    for x, y in points.tolist():
        painter.drawPolygon(shape.translated(x, y))


def _can_be_covered(item: Markers) -> bool:
    """Whether an edge looks the same as a disc that all but its edge is covered of again."""
    opaque = all(QColor(colour).alpha() == _OPAQUE for colour in (item.fill, item.edge.colour))
    return opaque and 0 < item.edge.width_mm < item.size_mm


def _draw_discs(item: Markers, points: Floats, painter: QPainter) -> None:
    """Circles with an edge, as two discs each: a pen takes ten times as long."""
    outer, inner = ((item.size_mm + sign * item.edge.width_mm) / 2 for sign in (1, -1))
    discs = [(_disc(radius, painter), QBrush(QColor(colour)))
             for radius, colour in ((outer, item.edge.colour), (inner, item.fill))]  # fmt: skip
    painter.setPen(Qt.PenStyle.NoPen)
    for x, y in points.tolist():
        for disc, brush in discs:
            painter.setBrush(brush)
            painter.drawPolygon(disc.translated(x, y))


def _disc(radius: float, painter: QPainter) -> QPolygonF:
    """A circle around the origin, with so many corners that it is nowhere further from its sides
    than a small part of a pixel."""
    pixels = max(radius * painter.deviceTransform().m11(), 1.0)
    corners = math.ceil(math.pi / math.acos(1 - _UNSEEN_PX / pixels))
    turns = np.linspace(0, 2 * np.pi, corners, endpoint=False)
    # as much outside as inside
    radius += _UNSEEN_PX / 2 / pixels * radius
    return polygon(radius * np.column_stack((np.cos(turns), np.sin(turns))))
