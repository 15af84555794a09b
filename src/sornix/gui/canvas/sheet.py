"""The sheet of paper in the window: the figure or a closer look at it, and where things stand."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
)
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from sornix.core import figure as edits
from sornix.core.drawing import Drawing, Rect
from sornix.core.figure import series_points
from sornix.gui.base.theme import LIGHT
from sornix.gui.canvas.gestures import (
    Point,
)
from sornix.gui.canvas.overlay import (
    EdgeCount,
    edge_counts,
    is_range_end,
    paint_across,
    paint_edge_count,
    paint_flag,
    paint_look_box,
    paint_range_end,
    paint_ring,
    paint_snap_line,
)
from sornix.gui.session.look import Look, looked_at
from sornix.gui.session.nearest import Reading, nearest_reading
from sornix.gui.session.readout import flag_words
from sornix.gui.session.workbench import Scene, Workbench
from sornix.paint.painter import paint

_EDGE = 9  # pixels of desk around the paper
_MOST_PIXELS = 8000  # a side of the picture of the paper at its largest zoom
_REACH = 14.0  # pixels within which a reading answers the pointer


class Sheet(QWidget):
    """Shows a scene, or a closer look at it, with what lies over it."""

    room_changed = pyqtSignal(int)

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        # paper stays paper in every theme, and so does what is painted on it
        self._theme = LIGHT
        self._scene: Scene | None = None
        self._shown: Scene | None = None
        # the scene and the look at it that this is made from
        self._shown_of: tuple[Scene | None, Look | None] = None, None
        self._drawing: Drawing | None = None
        self._picture: QPixmap | None = None
        self._looks: list[Look] = []
        self._edges: list[EdgeCount] = []
        self._near: Reading | None = None
        self._at: Reading | None = None
        # what stands at the x under the pointer, in every panel that shares it
        self._across: list[Reading] = []
        self._lit: tuple[int, ...] = ()
        self._lit_table = ""
        self._zoom: float | None = None
        # scale and corner while the paper is resized: they must not run from under the hand
        self._frozen: tuple[float, QPointF] | None = None
        # whether the keyboard came here by keys: a hand sees where it has clicked
        self._by_keys = False
        self._look_bar = self._make_look_bar()
        self.setAccessibleName("Figure")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def _make_look_bar(self) -> QWidget:
        bar = QWidget(self)
        bar.setObjectName("lookBar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(bar)
        row.setContentsMargins(6, 4, 6, 4)
        row.setSpacing(4)
        self.keep_button = QPushButton("Keep this range")
        self.step_button = QPushButton("One look back")
        self.back_button = QPushButton("Back to the figure")
        for button, act in (
            (self.keep_button, self.keep_look),
            (self.step_button, self.step_back),
            (self.back_button, self.leave_look),
        ):
            button.clicked.connect(act)
            row.addWidget(button)
        bar.hide()
        return bar

    # -- what is shown -----------------------------------------------------------------------

    def sizeHint(self) -> QSize:
        return QSize(600, 420)

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene; a look at the one before is left if it is another document."""
        before = self._scene.document if self._scene is not None else None
        if before is not scene.document and not self._bench.in_gesture:
            self._let_go()
        if before is None or before.tables is not scene.document.tables:
            self._looks = []
            self._at = None
        ids = [series.id for panel in scene.figure.panels for series in panel.series]
        if self._at is not None and self._at.series not in ids:
            self._at = None
        self._scene = scene
        self._near = None
        self._across = []
        self._draw()
        self._take_room()
        if not self._bench.in_gesture:
            self.setAccessibleDescription(scene.caption)

    def _let_go(self) -> None:
        """Lets go of what the hand holds: it may be there no longer."""

    def _draw(self) -> None:
        """Draws the scene, or the look at it, for this widget."""
        scene = self._scene
        if scene is None:
            return
        look = self.look
        if self._shown is None or self._shown_of[0] is not scene or self._shown_of[1] is not look:
            # once, however often the paper changes its size
            self._shown, self._shown_of = looked_at(scene, look) if look else scene, (scene, look)
        # half a pixel: what is finer than that cannot be seen here
        self._drawing = self._shown.drawing_at(0.5 / self.pixels_per_mm)
        self._picture = None
        self._edges = []
        if look is None and not self._bench.in_gesture:
            self._edges = edge_counts(scene, self._inner_pixels())
        self._look_bar.setVisible(look is not None)
        self.step_button.setVisible(len(self._looks) > 1)
        self._place_look_bar()
        self.update()

    def light_rows(self, table: str, rows: tuple[int, ...]) -> None:
        """Rings the readings of these row indices of a table."""
        self._lit_table, self._lit = table, rows
        self.update()

    @property
    def drawing(self) -> Drawing | None:
        """What is on the paper now: the figure, or the look at it."""
        return self._drawing

    # -- the closer look -----------------------------------------------------------------------

    @property
    def look(self) -> Look | None:
        """The ranges that are looked at, or None where the figure is shown."""
        return self._looks[-1] if self._looks else None

    def look_closer(self, look: Look) -> None:
        """Looks at other ranges; the figure stays as it is."""
        self._looks.append(look)
        self._draw()

    def _follow_look(self, look: Look | None) -> None:
        """Replaces the newest look while a gesture goes on; None takes it back."""
        # it may have been left while the hand was on it
        self._looks = self._looks[:-1]
        if look is not None:
            self._looks.append(look)
        self._draw()

    def step_back(self) -> None:
        """The look before this one, or the figure."""
        if self._looks:
            self._looks.pop()
            self._draw()

    def leave_look(self) -> None:
        self._looks = []
        self._draw()

    def keep_look(self) -> None:
        """Makes the ranges that are looked at those of the figure, held."""
        look = self.look
        if look is not None:
            self._looks = []
            self._bench.edit("kept the range", lambda f: edits.hold_view(f, look.ranges))
            self._draw()

    # -- places ------------------------------------------------------------------------------

    @property
    def pixels_per_mm(self) -> float:
        """The zoom: as set, or as fits the paper into the widget."""
        if self._scene is None:
            return 1.0
        if self._frozen is not None:
            return self._frozen[0]
        if self._zoom is not None:
            return self._zoom
        figure = self._scene.figure
        across = (self.width() - 2 * _EDGE) / figure.width_mm
        down = (self.height() - 2 * _EDGE) / figure.height_mm
        return max(min(across, down), 0.2)

    def set_zoom(self, pixels_per_mm: float | None) -> None:
        """Pixels to the millimetre; None fits the paper into the window."""
        if pixels_per_mm is not None and self._scene is not None:
            figure = self._scene.figure
            most = min(60.0, _MOST_PIXELS / max(figure.width_mm, figure.height_mm))
            pixels_per_mm = max(min(pixels_per_mm, most), min(1.0, most))
        self._zoom = pixels_per_mm
        self._take_room()
        self._draw()

    def _take_room(self) -> None:
        """Asks for the room that the paper needs at its zoom, or leaves it to the window."""
        if self._scene is None:
            return
        figure = self._scene.figure
        if self._zoom is None:
            self.setMinimumSize(240, 160)
            across = max(self.width() - 2 * _EDGE, 1) / figure.width_mm
            self.setMaximumHeight(round(figure.height_mm * across) + 2 * _EDGE)
        else:
            self.setMaximumHeight(16_777_215)
            size = (figure.width_mm * self._zoom, figure.height_mm * self._zoom)
            self.setMinimumSize(*(round(side) + 2 * _EDGE for side in size))
        self.room_changed.emit(self.maximumHeight())

    @property
    def corner(self) -> QPointF:
        """Where the top left of the paper stands in the widget, on a whole pixel."""
        if self._scene is None:
            return QPointF()
        if self._frozen is not None:
            return self._frozen[1]
        left = (self.width() - self._scene.figure.width_mm * self.pixels_per_mm) / 2
        return QPointF(round(left), _EDGE)

    def pixel(self, x: float, y: float, series: str = "") -> QPointF:
        """Where the reading x, y stands in the widget, on the scales of a series."""
        assert self._drawing is not None and self._shown is not None
        place = self._drawing.place
        if series:
            figure = self._shown.figure
            home = figure.home(series)
            place = self._drawing.panels[home].on(figure.panels[home].one_series(series))
        mm = place.place(np.array([x]), np.array([y]))[0]
        return self.corner + QPointF(*mm) * self.pixels_per_mm

    def point(self, position: QPointF) -> Point:
        """A position in the widget as mm of the figure."""
        at = (position - self.corner) / self.pixels_per_mm
        return at.x(), at.y()

    def pixels(self, rect: Rect) -> QRectF:
        """A rectangle in mm as pixels of the widget."""
        scale = self.pixels_per_mm
        left = self.corner + QPointF(rect.left, rect.top) * scale
        return QRectF(left.x(), left.y(), rect.width * scale, rect.height * scale)

    def _inner_pixels(self) -> QRectF:
        assert self._drawing is not None
        return self.pixels(self._drawing.place.inner)

    def _place_look_bar(self) -> None:
        if self._drawing is not None and self._look_bar.isVisible():
            self._look_bar.adjustSize()
            # the upper right corner of the paper, where no figure has anything of its own
            right, _ = self.corner_grip
            left = max(right - self._look_bar.width() - 6, 4)
            self._look_bar.move(round(left), round(self.corner.y()) + 6)

    def reading_at(self, position: QPointF) -> Reading | None:
        """The nearest reading within reach of a position in the widget."""
        if self._shown is None or self._drawing is None:
            return None
        reach = _REACH / self.pixels_per_mm
        return nearest_reading(self._shown, self._drawing, self.point(position), reach)

    # -- painting ----------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._take_room()
        self._draw()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        reasons = Qt.FocusReason
        by_keys = (reasons.TabFocusReason, reasons.BacktabFocusReason)
        self._by_keys = event is not None and event.reason() in by_keys
        super().focusInEvent(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self._scene is None or self._drawing is None:
            return
        painter = QPainter(self)
        drawing, scale, corner = self._drawing, self.pixels_per_mm, self.corner
        page = QRectF(corner.x(), corner.y(), drawing.width_mm * scale, drawing.height_mm * scale)
        if self.hasFocus() and self._by_keys:
            painter.setPen(QPen(QColor(self._bench.theme.accent), 2))
            painter.drawRoundedRect(page.adjusted(-4, -4, 4, 4), 3, 3)
        painter.fillRect(page.adjusted(-1, 0, 1, 2), QColor(0, 0, 0, 26))
        painter.fillRect(page.adjusted(0, 2, 0, 4), QColor(0, 0, 0, 16))
        if self._picture is None:
            self._picture = self._painted(drawing, scale)
        painter.drawPixmap(corner, self._picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_overlay(painter, page)
        painter.end()

    def _painted(self, drawing: Drawing, scale: float) -> QPixmap:
        ratio = self.devicePixelRatioF()
        width, height = (round(mm * scale * ratio) for mm in (drawing.width_mm, drawing.height_mm))
        picture = QPixmap(max(width, 1), max(height, 1))
        picture.setDevicePixelRatio(ratio)
        # the paper ends inside its last row and column of pixels
        picture.fill(QColor(drawing.background))
        painter = QPainter(picture)
        paint(drawing, painter, scale, raster=True)
        painter.end()
        return picture

    def _paint_overlay(self, painter: QPainter, page: QRectF) -> None:
        x, y = self.corner_grip
        painter.setPen(QColor(self._theme.word_line))
        for step in (4, 8):
            painter.drawLine(QPointF(x - step, y - 1), QPointF(x - 1, y - step))
        self._paint_grips(painter)
        self._paint_in_hand(painter)
        for axis, at in self._snapped():
            paint_snap_line(painter, axis, self.pixels(Rect(at, at, 0, 0)).topLeft(), page)
        for edge in self._edges:
            paint_edge_count(painter, edge, self._theme)
        for position in self._ringed():
            paint_ring(painter, position, self._theme)
        if self._across and self._drawing is not None:
            areas = [self.pixels(place.inner) for place in self._drawing.panels]
            points = [self.pixel(r.x, r.y, r.series) for r in self._across]
            held = [p for p in points if any(a.adjusted(-1, -1, 1, 1).contains(p) for a in areas)]
            paint_across(painter, points[0].x(), areas, held, self._theme)
        shown = self._flagged()
        if shown is not None and self._shown is not None:
            lines = flag_words(shown, self._shown)
            paint_flag(
                painter, self.pixel(shown.x, shown.y, shown.series), lines, page, self._theme
            )
        box = self._box()
        if box is not None:
            paint_look_box(painter, self.pixels(box).normalized(), self._theme)

    def _paint_grips(self, painter: QPainter) -> None:
        """The ends of the ranges of trends."""
        for grip in self._drawing.boxes if self._drawing is not None else ():
            if is_range_end(grip.of):
                paint_range_end(painter, self.pixels(grip.rect), self._theme)

    def _paint_in_hand(self, painter: QPainter) -> None:
        """Shows what is taken in hand."""

    def _snapped(self) -> list[tuple[str, float]]:
        """The lines that something dragged keeps to, along `x` or `y` in mm."""
        return []

    def _box(self) -> Rect | None:
        """The box that is being drawn, in mm."""
        return None

    def _flagged(self) -> Reading | None:
        """The reading that bears the flag."""
        return self._near or self._at

    @property
    def corner_grip(self) -> tuple[float, float]:
        """The lower right corner of the paper, in pixels."""
        assert self._drawing is not None
        size = QPointF(self._drawing.width_mm, self._drawing.height_mm) * self.pixels_per_mm
        end = self.corner + size
        return end.x(), end.y()

    def _ringed(self) -> list[QPointF]:
        """Where the readings stand that are lit, under the pointer, or walked to."""
        scene, drawing = self._shown, self._drawing
        if scene is None or drawing is None:
            return []
        found = []
        drawn = [
            (series, scene.figure.seen(index), place.on(series))
            for index, place in enumerate(drawing.panels)
            for series in scene.figure.panels[index].series
        ]
        for series, panel, place in drawn:
            points = series_points(series, panel, scene.tables)
            rows = set(self._lit) if series.table == self._lit_table else set()
            rows |= {r.row for r in (self._near, self._at) if r and r.series == series.id}
            for row in rows:
                at = points.at_row(row)
                if at is not None:
                    mm = place.place(points.x[at : at + 1], points.y[at : at + 1])[0]
                    if place.inner.grown(0.01).holds(*mm):
                        found.append(self.corner + QPointF(*mm) * self.pixels_per_mm)
        return found
