"""Many markers on a raster: drawn once in 16 sub-pixel places, then stamped.

Qt stamps pictures at whole pixels only, which would shift markers by up to half a pixel; with the
marker drawn in 4 × 4 places between two pixels the shift is an eighth at most.
"""

from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6 import sip
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPainter, QPixmap

from sornix.core.drawing import Markers
from sornix.core.drawing.parts.items import Stroke
from sornix.paint.pixels import pixels_of
from sornix.paint.shapes import draw_markers

Floats = NDArray[np.float64]

# fewer are drawn one by one in less time than it takes to make the stamp
MANY_MARKERS = 400
_PHASES = 4


def stamp_markers(item: Markers, painter: QPainter) -> None:
    """Stamps the markers on a device whose transform is a scale and a shift."""
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    matrix = painter.transform()
    scale = matrix.m11() * ratio
    cell = int(np.ceil((item.size_mm * 1.1 + item.edge.width_mm) * scale)) + 3
    stamp, inked = _stamp(item.shape, item.size_mm, item.fill, item.edge, scale, cell)
    across, down, width, height = inked
    x = (item.points[:, 0] * matrix.m11() + matrix.dx()) * ratio
    y = (item.points[:, 1] * matrix.m22() + matrix.dy()) * ratio
    left, top = np.floor(x), np.floor(y)
    # sip's stubs do not know that its arrays can be made with a length
    make: Any = sip.array
    fragments: Any = make(QPainter.PixmapFragment, len(x))
    values = np.frombuffer(fragments, np.float64).reshape(-1, 10)
    values[:, 0] = left - cell // 2 + across + width / 2
    values[:, 1] = top - cell // 2 + down + height / 2
    values[:, 2] = np.floor((x - left) * _PHASES) * cell + across
    values[:, 3] = np.floor((y - top) * _PHASES) * cell + down
    values[:, 4:] = (width, height, 1, 1, 0, 1)
    painter.save()
    painter.resetTransform()
    painter.scale(1 / ratio, 1 / ratio)
    painter.drawPixmapFragments(fragments, stamp)
    painter.restore()


@lru_cache(maxsize=64)
def _stamp(
    shape: str, size_mm: float, fill: str, edge: Stroke, scale: float, cell: int
) -> tuple[QPixmap, tuple[int, int, int, int]]:
    """The marker in the middle of each of 16 cells, a quarter of a pixel further in each; and the
    part of a cell, from the left and the top so wide and high, that is blank in none of them."""
    places, rows = np.zeros((0, 2)), np.zeros(0, np.intp)
    item = Markers("", places, rows, shape, size_mm, fill, edge)
    picture = QPixmap(cell * _PHASES, cell * _PHASES)
    picture.fill(Qt.GlobalColor.transparent)
    steps = (np.arange(_PHASES) + 0.5) / _PHASES
    middles = np.arange(_PHASES) * cell + cell // 2 + steps
    x, y = np.meshgrid(middles, middles)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(scale, scale)
    draw_markers(item, np.column_stack((x.ravel(), y.ravel())) / scale, painter, raster=True)
    painter.end()
    image = picture.toImage().convertToFormat(QImage.Format.Format_ARGB32)
    cells = pixels_of(image).reshape(_PHASES, cell, _PHASES, cell)
    (top, foot), (left, right) = (
        np.flatnonzero(cells.max(axis=blank))[[0, -1]] for blank in ((0, 2, 3), (0, 1, 2))
    )
    return picture, (int(left), int(top), int(right - left) + 1, int(foot - top) + 1)
