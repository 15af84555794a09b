"""The figure on its paper in the window, or a closer look at it, and where things stand."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QWidget

from sornix.core import figure as edits
from sornix.core.document import Document
from sornix.core.drawing import Drawing, Rect
from sornix.core.figure import TrendEnd, series_points
from sornix.gui.base.theme import LIGHT
from sornix.gui.base.themes import theme_now
from sornix.gui.canvas.gestures import Point
from sornix.gui.canvas.lookbar import LookBar
from sornix.gui.canvas.motion import Motion
from sornix.gui.canvas.overlay import (
    EdgeCount,
    edge_counts,
    paint_across,
    paint_desk,
    paint_edge_count,
    paint_flag,
    paint_in_hand,
    paint_look_box,
    paint_range_end,
    paint_ring,
    paint_snap_line,
)
from sornix.gui.canvas.pictures import Pictures
from sornix.gui.canvas.selection import Selection
from sornix.gui.session.look import Look, looked_at
from sornix.gui.session.nearest import Reading, nearest_reading
from sornix.gui.session.readout import flag_words
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench

_EDGE = 9  # pixels of desk around the paper
_MOST_PIXELS = 8000  # a side of the picture of the paper at its largest zoom
_REACH = 14.0  # pixels within which a reading answers the pointer


class Traces(NamedTuple):
    """What the hand leaves on the paper while it moves: a box in mm, and lines along `x` or `y` in
    mm that something keeps to; the flag of a reading would be in its way."""

    box: Rect | None = None
    lines: Sequence[tuple[str, float]] = ()
    flag: bool = True


class FigureView(QWidget):
    """Shows a scene, or a closer look at it, with what is picked out and what the hand does.

    `replaced` says that another document is shown, `looked` that something else is in view,
    `room_changed` how high the paper may be.
    """

    room_changed = pyqtSignal(int)
    looked = pyqtSignal()
    replaced = pyqtSignal()

    def __init__(self, bench: Workbench, selection: Selection) -> None:
        super().__init__()
        self._bench = bench
        self._selection = selection
        selection.changed.connect(self.update)
        self.traces = Traces()
        # paper stays paper in every theme, and so does what is painted on it
        self._theme = LIGHT
        self._document: Document | None = None
        self.shown: Scene | None = None
        # the scene and the look at it that this is made from
        self._shown_of: tuple[Scene | None, Look | None] = None, None
        # what is on the paper now: the figure, or the look at it
        self.drawing: Drawing | None = None
        self._pictures = Pictures()
        self._motion = Motion(self, self.draw)
        self.looks: list[Look] = []
        self.edges: list[EdgeCount] = []
        self._zoom: float | None = None
        # scale and corner while the paper is resized: they must not run from under the hand
        self.frozen: tuple[float, QPointF] | None = None
        # whether the keyboard came here by keys: a hand sees where it has clicked
        self._by_keys = False
        self.look_bar = LookBar(self, self.keep_look, self.step_back, self.leave_look)
        self.setAccessibleName("Figure")
        # the desk is painted around the paper: under it, that would be a third of a frame's work
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    # -- what is shown -----------------------------------------------------------------------

    @property
    def scene(self) -> Scene | None:
        return self._bench.scene

    def sizeHint(self) -> QSize:
        return QSize(600, 420)

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene; a look at the one before is left if it is another document."""
        before, self._document = self._document, scene.document
        if before is not scene.document and not self._bench.in_gesture:
            self.replaced.emit()
        other = before is None or before.tables is not scene.document.tables
        if other:
            self.looks = []
        self._selection.follow(scene, other_readings=other)
        self.draw()
        self.take_room()
        if not self._bench.in_gesture:
            self.setAccessibleDescription(scene.caption)

    def draw(self) -> None:
        """Draws the scene, or the look at it, for this widget."""
        scene = self.scene
        if scene is None:
            return
        look = self.look
        if self.shown is None or self._shown_of[0] is not scene or self._shown_of[1] is not look:
            # once, however often the paper changes its size
            self.shown, self._shown_of = looked_at(scene, look) if look else scene, (scene, look)
            self.looked.emit()
        # half a pixel: what is finer than that cannot be seen here
        self.drawing = self.shown.drawing_at(self._motion.detail(0.5 / self.pixels_per_mm))
        self.edges = []
        if look is None and not self._bench.in_gesture:
            self.edges = edge_counts(scene, self._inner_pixels())
        self.look_bar.setVisible(look is not None)
        self.look_bar.step_button.setVisible(len(self.looks) > 1)
        self._place_look_bar()
        self.update()

    # -- the closer look -----------------------------------------------------------------------

    @property
    def look(self) -> Look | None:
        """The ranges that are looked at, or None where the figure is shown."""
        return self.looks[-1] if self.looks else None

    def look_closer(self, look: Look) -> None:
        """Looks at other ranges; the figure stays as it is."""
        self.looks.append(look)
        self._motion.begin(self._bench.tables)
        self.draw()

    def follow_look(self, look: Look | None) -> None:
        """Replaces the newest look while a gesture goes on; None takes it back."""
        # it may have been left while the hand was on it
        self.looks = self.looks[:-1]
        if look is not None:
            self.looks.append(look)
        self._motion.begin(self._bench.tables)
        self.draw()

    def step_back(self) -> None:
        """The look before this one, or the figure."""
        if self.looks:
            self.looks.pop()
            self.draw()

    def leave_look(self) -> None:
        self.looks = []
        self.draw()

    def keep_look(self) -> None:
        """Makes the ranges that are looked at those of the figure, held."""
        look = self.look
        if look is not None:
            self.looks = []
            self._bench.edit("kept the range", lambda f: edits.hold_view(f, look.ranges))
            self.draw()

    # -- places ------------------------------------------------------------------------------

    @property
    def pixels_per_mm(self) -> float:
        """The zoom: as set, or as fits the paper into the widget."""
        if self.scene is None:
            return 1.0
        if self.frozen is not None:
            return self.frozen[0]
        if self._zoom is not None:
            return self._zoom
        figure = self.scene.figure
        across = (self.width() - 2 * _EDGE) / figure.width_mm
        down = (self.height() - 2 * _EDGE) / figure.height_mm
        return max(min(across, down), 0.2)

    def set_zoom(self, pixels_per_mm: float | None) -> None:
        """Pixels to the millimetre; None fits the paper into the window."""
        if pixels_per_mm is not None and self.scene is not None:
            figure = self.scene.figure
            most = min(60.0, _MOST_PIXELS / max(figure.width_mm, figure.height_mm))
            pixels_per_mm = max(min(pixels_per_mm, most), min(1.0, most))
        self._zoom = pixels_per_mm
        self.take_room()
        self.draw()

    def take_room(self) -> None:
        """Asks for the room that the paper needs at its zoom, or leaves it to the window."""
        if self.scene is None:
            return
        figure = self.scene.figure
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
        if self.scene is None:
            return QPointF()
        if self.frozen is not None:
            return self.frozen[1]
        left = (self.width() - self.scene.figure.width_mm * self.pixels_per_mm) / 2
        return QPointF(round(left), _EDGE)

    def pixel(self, x: float, y: float, series: str = "") -> QPointF:
        """Where the reading x, y stands in the widget, on the scales of a series."""
        assert self.drawing is not None and self.shown is not None
        place = self.drawing.place
        if series:
            figure = self.shown.figure
            home = figure.home(series)
            place = self.drawing.panels[home].on(figure.panels[home].one_series(series))
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
        assert self.drawing is not None
        return self.pixels(self.drawing.place.inner)

    def _place_look_bar(self) -> None:
        if self.drawing is not None and self.look_bar.isVisible():
            # the upper right corner of the paper, where no figure has anything of its own
            self.look_bar.place(self.corner_grip[0], self.corner.y())

    def reading_at(self, position: QPointF) -> Reading | None:
        """The nearest reading within reach of a position in the widget."""
        if self.shown is None or self.drawing is None:
            return None
        reach = _REACH / self.pixels_per_mm
        return nearest_reading(self.shown, self.drawing, self.point(position), reach)

    # -- painting ----------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.take_room()
        self.draw()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        reasons = Qt.FocusReason
        by_keys = (reasons.TabFocusReason, reasons.BacktabFocusReason)
        self._by_keys = event is not None and event.reason() in by_keys
        super().focusInEvent(event)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self.scene is None or self.drawing is None:
            painter.fillRect(self.rect(), QColor(theme_now().ground))
            painter.end()
            return
        drawing, scale, corner = self.drawing, self.pixels_per_mm, self.corner
        page = QRectF(corner.x(), corner.y(), drawing.width_mm * scale, drawing.height_mm * scale)
        paint_desk(painter, self.rect(), page.toRect(), theme_now())
        if self.hasFocus() and self._by_keys:
            painter.setPen(QPen(QColor(theme_now().accent), 2))
            painter.drawRoundedRect(page.adjusted(-4, -4, 4, 4), 3, 3)
        painter.drawPixmap(corner, self._pictures.of(drawing, scale, self.devicePixelRatioF()))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._paint_overlay(painter, page)
        painter.end()

    def _paint_overlay(self, painter: QPainter, page: QRectF) -> None:
        assert self.drawing is not None
        selection, traces = self._selection, self.traces
        self._paint_grips(painter, self.drawing)
        frame = self.frame_in_hand()
        if frame is not None and self.look is None:
            paint_in_hand(painter, frame, self.pin_of(frame), self._theme)
        for axis, at in traces.lines:
            paint_snap_line(painter, axis, self.pixels(Rect(at, at, 0, 0)).topLeft(), page)
        for edge in self.edges:
            paint_edge_count(painter, edge, self._theme)
        for position in self._ringed():
            paint_ring(painter, position, self._theme)
        if selection.across:
            areas = [self.pixels(place.inner) for place in self.drawing.panels]
            points = [self.pixel(r.x, r.y, r.series) for r in selection.across]
            held = [p for p in points if any(a.adjusted(-1, -1, 1, 1).contains(p) for a in areas)]
            paint_across(painter, points[0].x(), areas, held, self._theme)
        told = (selection.near or selection.at) if traces.flag else None
        if told is not None and self.shown is not None:
            flagged = self.pixel(told.x, told.y, told.series)
            paint_flag(painter, flagged, flag_words(told, self.shown), page, self._theme)
        if traces.box is not None:
            paint_look_box(painter, self.pixels(traces.box).normalized(), self._theme)

    def _paint_grips(self, painter: QPainter, drawing: Drawing) -> None:
        """The corner of the paper, and the ends of the ranges of trends."""
        x, y = self.corner_grip
        painter.setPen(QColor(self._theme.word_line))
        for step in (4, 8):
            painter.drawLine(QPointF(x - step, y - 1), QPointF(x - 1, y - step))
        for grip in drawing.boxes:
            if isinstance(grip.of, TrendEnd):
                paint_range_end(painter, self.pixels(grip.rect), self._theme)

    def frame_in_hand(self) -> QRectF | None:
        """The frame around what is in hand, in pixels, where it is on the paper."""
        of = self._selection.in_hand
        box = self.drawing.box_of(of) if self.drawing is not None and of is not None else None
        return self.pixels(box.grown(0.4)) if box is not None else None

    def pin_of(self, frame: QRectF) -> QRectF | None:
        """The small square at the corner of what is in hand that tells that it was put there."""
        of = self._selection.in_hand
        if self.scene is None or of is None or of not in edits.spots(self.scene.figure):
            return None
        return QRectF(frame.left() - 5, frame.top() - 5, 10, 10)

    def is_on_pin(self, position: QPointF) -> bool:
        """Whether a position in the widget is on that square."""
        frame = self.frame_in_hand()
        pin = self.pin_of(frame) if frame is not None else None
        return pin is not None and pin.adjusted(-3, -3, 3, 3).contains(position)

    @property
    def corner_grip(self) -> tuple[float, float]:
        """The lower right corner of the paper, in pixels."""
        assert self.drawing is not None
        size = QPointF(self.drawing.width_mm, self.drawing.height_mm) * self.pixels_per_mm
        end = self.corner + size
        return end.x(), end.y()

    def _ringed(self) -> list[QPointF]:
        """Where the readings stand that are lit, under the pointer, or walked to."""
        scene, drawing, selection = self.shown, self.drawing, self._selection
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
            rows = set(selection.lit) if series.table == selection.lit_table else set()
            rows |= {r.row for r in (selection.near, selection.at) if r and r.series == series.id}
            for row in rows:
                at = points.at_row(row)
                if at is not None:
                    mm = place.place(points.x[at : at + 1], points.y[at : at + 1])[0]
                    if place.inner.grown(0.01).holds(*mm):
                        found.append(self.corner + QPointF(*mm) * self.pixels_per_mm)
        return found
