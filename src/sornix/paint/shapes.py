"""Pens, outlines and markers in Qt's terms."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from sornix.core.drawing import SHAPES, Markers, Stroke

Floats = NDArray[np.float64]


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


def draw_markers(item: Markers, points: Floats, painter: QPainter) -> None:
    """The shape of `item` at `points` (n, 2), one by one."""
    painter.setPen(pen(item.edge) if item.edge.width_mm else Qt.PenStyle.NoPen)
    painter.setBrush(QBrush(QColor(item.fill)))
    outline = SHAPES[item.shape]
    radius = item.size_mm / 2
    if outline is None:
        for x, y in points.tolist():
            painter.drawEllipse(QPointF(x, y), radius, radius)
        return
    shape = outline * item.size_mm
    for point in points:
        painter.drawPolygon(polygon(shape + point))
