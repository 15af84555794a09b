"""The paper as pixels, painted once for each drawing: undo and redo show what was painted then."""

from collections import OrderedDict

from PyQt6.QtGui import QColor, QPainter, QPixmap

from sornix.core.drawing import Drawing
from sornix.paint.painter import paint

_MOST = 6


class Pictures:
    """The last pictures of drawings, each at its scale in pixels to the millimetre."""

    def __init__(self) -> None:
        # the drawing is kept besides, so that no other can have its number
        self._kept: OrderedDict[tuple[int, float, float], tuple[Drawing, QPixmap]] = OrderedDict()

    def of(self, drawing: Drawing, scale: float, ratio: float) -> QPixmap:
        """The picture of a drawing, for a screen with so many pixels to the point."""
        key = id(drawing), scale, ratio
        if key in self._kept:
            self._kept.move_to_end(key)
        else:
            self._kept[key] = drawing, _painted(drawing, scale, ratio)
            while len(self._kept) > _MOST:
                self._kept.popitem(last=False)
        return self._kept[key][1]


def _painted(drawing: Drawing, scale: float, ratio: float) -> QPixmap:
    width, height = (round(mm * scale * ratio) for mm in (drawing.width_mm, drawing.height_mm))
    picture = QPixmap(max(width, 1), max(height, 1))
    picture.setDevicePixelRatio(ratio)
    # the paper ends inside its last row and column of pixels
    picture.fill(QColor(drawing.background))
    painter = QPainter(picture)
    paint(drawing, painter, scale, raster=True, background=False)
    painter.end()
    return picture
