"""The paper: the figure at its true proportions, fitted to the space, and what lies under the
pointer."""

from collections.abc import Callable

import numpy as np
from attrs import frozen
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import QLineEdit, QSizePolicy, QWidget

from sornix.core.drawing import Drawing, Rect, Text
from sornix.core.figure import axis_title, series_points
from sornix.desk.theme import Theme
from sornix.desk.workbench import Scene
from sornix.paint.fonts import FAMILY
from sornix.paint.painter import paint

_EDGE = 14  # pixels of desk around the paper
_REACH = 14.0  # pixels within which a reading answers the pointer
_TITLES = ("title", "x-title", "y-title")


@frozen
class Reading:
    """A reading of the figure: its series, its row index and its values."""

    series: str
    row: int
    x: float
    y: float


class Paper(QWidget):
    """Shows a scene's drawing. Nothing here changes the figure."""

    hovered = pyqtSignal(object)
    picked = pyqtSignal(object)
    retitled = pyqtSignal(str, str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._scene: Scene | None = None
        self._picture: QPixmap | None = None
        self._near: Reading | None = None
        self._lit: tuple[int, ...] = ()
        self._editor: _InPlace | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Figure")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        return QSize(600, 420)

    def minimumSizeHint(self) -> QSize:
        return QSize(240, 180)

    def _take_room(self) -> None:
        """Asks for no more height than the paper has at this width, so the caption stays near."""
        if self._scene is not None:
            drawing = self._scene.drawing
            across = max(self.width() - 2 * _EDGE, 1) / drawing.width_mm
            self.setMaximumHeight(round(drawing.height_mm * across) + 2 * _EDGE)

    def show_scene(self, scene: Scene) -> None:
        """Shows another drawing."""
        self._scene = scene
        self._take_room()
        self._picture = None
        self._near = None
        self.setAccessibleDescription(scene.caption)
        self.update()

    def light_rows(self, rows: tuple[int, ...]) -> None:
        """Rings the readings of these row indices."""
        self._lit = rows
        self.update()

    # -- places ------------------------------------------------------------------------------

    @property
    def drawing(self) -> Drawing | None:
        return self._scene.drawing if self._scene else None

    @property
    def pixels_per_mm(self) -> float:
        """The zoom that fits the paper into the widget."""
        drawing = self.drawing
        if drawing is None:
            return 1.0
        across = (self.width() - 2 * _EDGE) / drawing.width_mm
        down = (self.height() - 2 * _EDGE) / drawing.height_mm
        return max(min(across, down), 0.2)

    @property
    def corner(self) -> QPointF:
        """Where the top left of the paper stands in the widget, on a whole pixel."""
        drawing = self.drawing
        if drawing is None:
            return QPointF()
        scale = self.pixels_per_mm
        left = (self.width() - drawing.width_mm * scale) / 2
        return QPointF(round(left), _EDGE)

    def pixel(self, x: float, y: float) -> QPointF:
        """Where the reading x, y of the panel stands in the widget."""
        assert self._scene is not None
        mm = self._scene.drawing.panels[0].place(np.array([x]), np.array([y]))[0]
        return self.corner + QPointF(*mm) * self.pixels_per_mm

    def reading_at(self, position: QPointF) -> Reading | None:
        """The nearest reading within reach of a point of the widget."""
        if self._scene is None:
            return None
        scene, place = self._scene, self._scene.drawing.panels[0]
        at = (position - self.corner) / self.pixels_per_mm
        best: tuple[float, Reading] | None = None
        if not place.inner.grown(2.0).holds(at.x(), at.y()):
            return None
        for series in scene.figure.panel.series:
            points = series_points(series, scene.tables)
            if not len(points.x):
                continue
            away = place.place(points.x, points.y) - (at.x(), at.y())
            distance = np.einsum("ij,ij->i", away, away)
            i = int(np.argmin(distance))
            inside = place.inner.grown(0.01).holds(*(away[i] + (at.x(), at.y())))
            if inside and (best is None or distance[i] < best[0]):
                values = float(points.x[i]), float(points.y[i])
                best = float(distance[i]), Reading(series.id, int(points.rows[i]), *values)
        if best is None or best[0] ** 0.5 * self.pixels_per_mm > _REACH:
            return None
        return best[1]

    # -- painting ----------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._picture = None
        self._take_room()
        self._close_editor()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._scene is None:
            return
        painter = QPainter(self)
        drawing, scale = self._scene.drawing, self.pixels_per_mm
        corner = self.corner
        page = QRectF(corner.x(), corner.y(), drawing.width_mm * scale, drawing.height_mm * scale)
        painter.fillRect(page.adjusted(-1, 0, 1, 2), QColor(0, 0, 0, 26))
        painter.fillRect(page.adjusted(0, 2, 0, 4), QColor(0, 0, 0, 16))
        if self._picture is None:
            self._picture = self._painted(drawing, scale)
        painter.drawPixmap(corner, self._picture)
        self._ring_rows(painter)
        painter.end()

    def _painted(self, drawing: Drawing, scale: float) -> QPixmap:
        ratio = self.devicePixelRatioF()
        width, height = (round(mm * scale * ratio) for mm in (drawing.width_mm, drawing.height_mm))
        picture = QPixmap(max(width, 1), max(height, 1))
        picture.setDevicePixelRatio(ratio)
        # the paper ends inside its last row and column of pixels
        picture.fill(QColor(drawing.background))
        painter = QPainter(picture)
        paint(drawing, painter, scale)
        painter.end()
        return picture

    def _ring_rows(self, painter: QPainter) -> None:
        scene = self._scene
        rows = set(self._lit) | ({self._near.row} if self._near else set())
        if scene is None or not rows:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self._theme.warn), 2.4))
        place = scene.drawing.panels[0]
        for series in scene.figure.panel.series:
            points = series_points(series, scene.tables)
            for row in rows:
                i = int(np.searchsorted(points.rows, row))
                if i >= len(points.rows) or points.rows[i] != row:
                    continue
                mm = place.place(points.x[i : i + 1], points.y[i : i + 1])[0]
                if place.inner.grown(0.01).holds(*mm):
                    centre = self.corner + QPointF(*mm) * self.pixels_per_mm
                    painter.drawEllipse(centre, 8.5, 8.5)

    # -- pointer and keys --------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._hover(self.reading_at(event.position()))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.picked.emit(self.reading_at(event.position()))

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        at = (event.position() - self.corner) / self.pixels_per_mm
        for text, box in self._title_boxes():
            if box.grown(1.0).holds(at.x(), at.y()):
                self.edit_title(text.of)
                return

    def leaveEvent(self, _event: object) -> None:
        self._hover(None)

    def _hover(self, reading: Reading | None) -> None:
        if reading != self._near:
            self._near = reading
            self.hovered.emit(reading)
            self.update()

    # -- typing in place ---------------------------------------------------------------------

    def _title_boxes(self) -> list[tuple[Text, Rect]]:
        """The titles on the figure, and the rectangles in mm that they stand in."""
        if self._scene is None:
            return []
        boxes = []
        for item in self._scene.drawing.items:
            if isinstance(item, Text) and item.of in _TITLES:
                width = self._scene.measure.width(item.runs, item.size_mm, bold=item.bold)
                size = item.size_mm
                if item.turned:
                    box = Rect(item.x - size, item.y - width / 2, 1.3 * size, width)
                else:
                    left = item.x - item.anchor * width
                    box = Rect(left, item.y - size, width, 1.3 * size)
                boxes.append((item, box))
        return boxes

    def edit_title(self, of: str) -> None:
        """Opens a field over a title; Enter takes what was typed, Esc leaves all as it was."""
        if self._scene is None:
            return
        self._close_editor()
        figure = self._scene.figure
        boxes = {text.of: box for text, box in self._title_boxes()}
        typed = figure.title
        if of != "title":
            typed = axis_title(figure.panel, self._scene.tables, of[0])
        inner = self._scene.drawing.panels[0].inner
        box = boxes.get(of, Rect(inner.left, 1.0, inner.width, 3.0))
        editor = _InPlace(self, lambda text: self.retitled.emit(of, text))
        editor.setAccessibleName({"title": "Title", "x-title": "x title", "y-title": "y title"}[of])
        editor.setText(typed)
        editor.selectAll()
        scale, middle = self.pixels_per_mm, self.corner
        width = max(int(box.width * scale) + 40, 260)
        left = int(middle.x() + (box.left + box.width / 2) * scale - width / 2)
        top = int(middle.y() + (box.top + box.height / 2) * scale - 16)
        left = max(min(left, self.width() - width - 4), 4)
        editor.setGeometry(left, max(top, 2), width, 32)
        editor.show()
        editor.setFocus()
        self._editor = editor

    def _close_editor(self) -> None:
        if self._editor is not None:
            self._editor.finish(None)
            self._editor = None


class _InPlace(QLineEdit):
    """A field that stands over a text of the figure."""

    def __init__(self, paper: QWidget, take: Callable[[str], None]) -> None:
        super().__init__(paper)
        self.setObjectName("inPlace")
        self.setToolTip(
            "cm^3 and H_2O become super- and subscripts. Enter takes it, Esc leaves it."
        )
        self.setFont(self.font().__class__(FAMILY))
        self._take: Callable[[str], None] | None = take
        self.editingFinished.connect(lambda: self.finish(self.text()))

    def finish(self, text: str | None) -> None:
        """Closes the field; `text` None leaves the figure as it was."""
        take, self._take = self._take, None
        if take is None:
            return
        self.hide()
        self.deleteLater()
        if text is not None:
            take(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finish(None)
            return
        super().keyPressEvent(event)
