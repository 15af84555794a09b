"""The hand on the paper: pointer, wheel, keys, and typing in place."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QEvent, QKeyCombination, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QResizeEvent,
    QWheelEvent,
)

from sornix.core import figure as edits
from sornix.core.drawing import Box, PanelPlace, Rect
from sornix.core.errors import SornixError
from sornix.core.figure import AXES
from sornix.gui.canvas.gestures import (
    END_PART,
    AxisDrag,
    Gesture,
    LabelDrag,
    LookBox,
    LookDrag,
    Point,
    SizeDrag,
    drag_of,
    place_along,
    zoomed,
)
from sornix.gui.canvas.overlay import is_range_end
from sornix.gui.canvas.writing import WritingSheet, can_be_placed, can_be_typed
from sornix.gui.session.look import Look, look_at
from sornix.gui.session.nearest import Reading, readings_across, step_across, step_along
from sornix.gui.session.readout import flag_words
from sornix.gui.session.scalewords import free_part
from sornix.gui.session.workbench import Workbench

_CORNER = 12.0  # pixels of the paper's corner that resize it
_CLICK = 4  # pixels that a hand trembles without meaning it
_NOTCH = 1.15  # how much one notch of the wheel stretches
_WHEEL_PAUSE_MS = 350  # a pause of this length ends a gesture of the wheel


_SHIFT = Qt.KeyboardModifier.ShiftModifier


def _axis(box: Box) -> str:
    """The axis whose band a box is."""
    return box.of.removesuffix("-axis")


def _end(place: PanelPlace, axis: str, fixed: float) -> str:
    """Which end of an axis moves where the other place is fixed."""
    return "start" if (fixed == 1.0) != place.scale(axis).reversed else "end"


def _cursor_of(of: str) -> Qt.CursorShape:
    """The cursor over something that can be taken hold of."""
    shapes = Qt.CursorShape
    if of.endswith("-axis"):
        return shapes.SizeHorCursor if of[0] == "x" else shapes.SizeVerCursor
    if of.startswith("divider/"):
        return shapes.SplitVCursor if "row" in of else shapes.SplitHCursor
    if is_range_end(of):
        return shapes.SizeHorCursor
    if of.startswith("guide/"):
        return shapes.PointingHandCursor
    if "/read-off/" in of:
        return shapes.SizeVerCursor
    return shapes.IBeamCursor if of.endswith("-title") else shapes.SizeAllCursor


def _asking(axis: str) -> Callable[["Paper"], None]:
    return lambda paper: paper.ask_axis(axis)


def _is_of_all(box: Box) -> bool:
    """Whether what stands at a box belongs to the figure, not to one of its panels."""
    return box.of == "title" or box.of.startswith("divider/")


class Paper(WritingSheet):
    """Turns what the hand does on the sheet into edits and looks."""

    hovered = pyqtSignal(object)
    # the readings of every panel at the x under the pointer
    crossed = pyqtSignal(object)
    picked = pyqtSignal(object)
    axis_clicked = pyqtSignal(str)
    zoom_wanted = pyqtSignal(int)
    menu_wanted = pyqtSignal(object, object)

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench)
        self._gesture: Gesture | None = None
        self._pressed: QPointF | None = None
        self._moved = self._space = self._has_put_back = False
        self._wheel_name = ""
        self._wheel = QTimer(self)
        self._wheel.setSingleShot(True)
        self._wheel.setInterval(_WHEEL_PAUSE_MS)
        self._wheel.timeout.connect(self._end_wheel)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def _box(self) -> Rect | None:
        if not isinstance(self._gesture, LookBox) or not self._moved:
            return None
        first, last = self._gesture.begin, self._gesture.end
        return Rect(first[0], first[1], last[0] - first[0], last[1] - first[1])

    def _snapped(self) -> list[tuple[str, float]]:
        gesture = self._gesture
        return gesture.snapped if isinstance(gesture, LabelDrag) and self._moved else []

    def _flagged(self) -> Reading | None:
        return (self._near or self._at) if self._gesture is None else None

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._close_editor()

    def _let_go(self) -> None:
        self._gesture = self._pressed = self._frozen = None

    # -- the pointer -------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._drawing is None:
            return
        position = event.position()
        if self._pressed is not None:
            far = (position - self._pressed).manhattanLength() > _CLICK
            if self._gesture is not None and (self._moved or far):
                self._moved = True
                self._gesture.move(self.point(position))
                self.update()
            return
        self._hover(self.reading_at(position))
        self._read_across(position)
        self.setCursor(self._cursor_at(position))

    def _read_across(self, position: QPointF | None) -> None:
        """Reads every panel at the x under the pointer."""
        found: list[Reading] = []
        if position is not None and self._shown is not None and self._drawing is not None:
            found = readings_across(self._shown, self._drawing, self.point(position))
        if found != self._across:
            self._across = found
            self.crossed.emit(found)
            self.update()

    def _cursor_at(self, position: QPointF) -> Qt.CursorShape:
        assert self._drawing is not None
        shapes = Qt.CursorShape
        if self._space:
            return shapes.OpenHandCursor
        if self._on_corner(position):
            return shapes.SizeFDiagCursor
        box = self._drawing.box_at(*self.point(position))
        if box is None:
            inner = self._drawing.place.inner
            return shapes.CrossCursor if inner.holds(*self.point(position)) else shapes.ArrowCursor
        return _cursor_of(box.of)

    def _on_corner(self, position: QPointF) -> bool:
        x, y = self.corner_grip
        inside = -_CORNER < position.x() - x < 5 and -_CORNER < position.y() - y < 5
        return inside and self.look is None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._drawing is None:
            return
        self.setFocus()
        self._has_put_back = False
        self._pressed, self._moved = event.position(), False
        self._take_in_hand(self.point(event.position()))
        button = event.button()
        if button == Qt.MouseButton.MiddleButton or self._space:
            self._gesture = self._begin_pan(self.point(event.position()))
        elif button == Qt.MouseButton.LeftButton:
            self._gesture = self._begin(event.position())
        else:
            self._pressed = None

    def _take_in_hand(self, point: Point) -> None:
        """Takes the panel at a point in hand, where there are several."""
        drawing = self._drawing
        if drawing is None or len(drawing.panels) == 1 or self.look is not None:
            return
        box = drawing.box_at(*point)
        if box is not None and _is_of_all(box):
            return
        index = box.panel if box is not None else drawing.panel_at(*point, 1.5)
        if index is not None and index != drawing.hand:
            self._bench.take_in_hand(index)

    def _begin(self, position: QPointF) -> Gesture | None:
        """The gesture that begins at a position with the left button."""
        assert self._drawing is not None and self._scene is not None
        point = self.point(position)
        if self.on_pin(position.x(), position.y()):
            return None
        if self._on_corner(position):
            self._frozen = (self.pixels_per_mm, self.corner)
            return SizeDrag(self._bench, self._drawing, point)
        box = self._drawing.box_at(*point)
        found = self._begin_on(box, point) if box is not None else None
        place = self._drawing.place
        if found is None and place.inner.grown(1.5).holds(*point):
            return LookBox(place, point, self.look_closer)
        return found

    def _begin_on(self, box: Box, point: Point) -> Gesture | None:
        """The gesture that takes hold of what a box stands for, if that can be dragged."""
        assert self._drawing is not None and self._scene is not None
        drawing, figure = self._drawing, self._scene.figure
        if box.of.endswith("-axis") and self.look is not None:
            return self._begin_pan(point)
        if box.panel != drawing.hand and not _is_of_all(box):
            # a closer look keeps its panel in hand, and no other has what stands here
            return None
        if box.of.endswith("-axis"):
            return AxisDrag(self._bench, drawing, _axis(box), point, self._scene.tables)
        return drag_of(self._bench, drawing, box.of, point, figure)

    def _begin_pan(self, point: Point) -> Gesture:
        """Begins a look at what is shown now, which then follows the hand."""
        assert self._drawing is not None
        place = self._drawing.place
        self._looks.append(Look({a: (s.start, s.end) for a, s in place.scales.items()}))
        return LookDrag(place, point, self._follow_look)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._pressed is None:
            return
        gesture, self._gesture = self._gesture, None
        pressed, self._pressed = self._pressed, None
        self._frozen = None
        if gesture is not None and self._moved:
            gesture.finish()
            self.take(getattr(gesture, "of", ""))
            self._take_room()
            self._draw()
            return
        if isinstance(gesture, LookDrag):
            gesture.cancel()
        if event.button() == Qt.MouseButton.LeftButton:
            self._click(pressed)

    def _click(self, position: QPointF) -> None:
        """A click without a movement: an edge count, an axis, or a reading."""
        assert self._drawing is not None
        hit = next((edge for edge in self._edges if edge.rect.contains(position)), None)
        if hit is not None:
            free_part(self._bench, hit.axis, hit.part)
            return
        if self.on_pin(position.x(), position.y()):
            self.put_back()
            # a double click puts back no more than a single one
            self._has_put_back = True
            return
        box = self._drawing.box_at(*self.point(position))
        self.take(box.of if box is not None and can_be_placed(box.of) else "")
        if self.in_hand:
            return
        if box is not None and box.of.endswith("-axis"):
            self.axis_clicked.emit(_axis(box))
            return
        self._at = self.reading_at(position)
        self.picked.emit(self._at)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._drawing is None or self._scene is None or self._has_put_back:
            return
        box = self._drawing.box_at(*self.point(event.position()), 0.5)
        if box is None:
            return
        tables = self._scene.tables
        if box.of.endswith("-axis"):
            axis = _axis(box)
            self._bench.edit(
                f"freed the range of {AXES[axis]}",
                lambda f: edits.hold(f, tables, axis, start=None, end=None),
            )
        elif box.of.startswith("divider/"):
            rows = "row" in box.of
            self._bench.edit(
                "made panels equal",
                lambda f: edits.set_ratios(
                    f, heights=() if rows else None, widths=None if rows else ()
                ),
            )
        elif can_be_typed(box.of):
            self.edit_text(box.of)
        elif can_be_placed(box.of):
            self._bench.edit("let a label find its place", lambda f: edits.move(f, box.of, None))

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event is not None:
            reading = self.reading_at(QPointF(event.pos()))
            self._at = reading
            self.here = self.point(QPointF(event.pos()))
            box = self._drawing.box_at(*self.here) if self._drawing is not None else None
            self.take(box.of if box is not None and can_be_placed(box.of) else "")
            self._take_in_hand(self.point(QPointF(event.pos())))
            self.menu_wanted.emit(reading, event.globalPos())

    def leaveEvent(self, _event: object) -> None:
        self._hover(None)
        self._read_across(None)

    def _hover(self, reading: Reading | None) -> None:
        if reading != self._near:
            self._near = reading
            self.hovered.emit(reading)
            self.update()

    # -- wheel and pinch ---------------------------------------------------------------------

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is None or self._drawing is None:
            return
        notches = event.angleDelta().y() / 120 or event.pixelDelta().y() / 40
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_wanted.emit(1 if notches > 0 else -1)
        elif notches and not self._stretch(self.point(event.position()), _NOTCH**notches):
            event.ignore()

    def event(self, event: QEvent | None) -> bool:
        pinch = Qt.NativeGestureType.ZoomNativeGesture
        if isinstance(event, QNativeGestureEvent) and event.gestureType() == pinch:
            return self._stretch(self.point(event.position()), 1 + event.value())
        return super().event(event)

    def _stretch(self, point: Point, ratio: float) -> bool:
        """Stretches what is under the pointer: an axis, or the look. False where nothing is."""
        self._take_in_hand(point)
        assert self._drawing is not None and self._scene is not None
        place = self._drawing.place
        x, y = (place_along(place, axis, point) for axis in "xy")
        box = self._drawing.box_at(*point)
        if box is not None and box.of.endswith("-axis"):
            axis = _axis(box)
            at = x if axis[0] == "x" else y
            # near an end, that end goes and the other one stays
            fixed = 0.0 if at > 1 - END_PART else 1.0 if at < END_PART else at
            window = zoomed(fixed, ratio)
            if self.look is not None:
                return self._look_on(look_at(place, {axis: window, axis[0]: (0.0, 1.0)}))
            return self._stretch_axis(
                axis, window, moves="" if fixed == at else _end(place, axis, fixed)
            )
        if not place.inner.grown(1.5).holds(*point):
            return False
        return self._look_on(look_at(place, {"x": zoomed(x, ratio), "y": zoomed(y, ratio)}))

    def _look_on(self, look: Look | None) -> bool:
        """A further turn of the wheel goes on with the look that the first one began."""
        if look is not None:
            if self._wheel.isActive() and self._looks:
                self._looks.pop()
            self._wheel.start()
            self.look_closer(look)
        return True

    def _stretch_axis(self, axis: str, window: Point, moves: str) -> bool:
        """Holds a stretch of an axis, or only the end that `moves`, until the wheel rests."""
        assert self._drawing is not None and self._scene is not None
        place, tables = self._drawing.place, self._scene.tables
        try:
            start, end = place.scale(axis).window(*window)
        except SornixError:
            # beyond the calendar, or beyond all numbers
            return True
        held = {"start": start, "end": end}
        held = {moves: held[moves]} if moves else held
        self._bench.preview(lambda f: edits.hold(f, tables, axis, **held))
        words = f"the {moves} of {AXES[axis]}" if moves else AXES[axis]
        self._wheel_name = f"stretched {words}"
        self._wheel.start()
        return True

    def _end_wheel(self) -> None:
        if self._bench.in_gesture and self._gesture is None:
            self._bench.commit(self._wheel_name)

    # -- keys --------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self._scene is None:
            return
        keys = Qt.Key
        steps = {keys.Key_Left: -1, keys.Key_Right: 1, keys.Key_Home: -(10**9), keys.Key_End: 10**9}
        key: Any = event.key()
        if self.key_in_hand(event):
            return
        if key == keys.Key_Escape:
            self._escape(event)
        elif key == keys.Key_Space and not event.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif event.keyCombination().toCombined() in _ACTS:
            _ACTS[event.keyCombination().toCombined()](self)
        elif key in steps:
            self._walk(step_along(self._scene, self._at, steps[key]))
        elif key in (keys.Key_Up, keys.Key_Down):
            self._walk(step_across(self._scene, self._at, -1 if key == keys.Key_Up else 1))
        else:
            event.ignore()

    def ask_axis(self, axis: str) -> None:
        """Asks for the strip of an axis that is there."""
        if self._scene is not None and axis in self._scene.figure.panel.axes:
            self.axis_clicked.emit(axis)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self.unsetCursor()

    def _escape(self, event: QKeyEvent) -> None:
        """Ends what is going on: a gesture, a look, or the walk along the readings."""
        if self._gesture is not None:
            gesture, self._gesture = self._gesture, None
            self._pressed = self._frozen = None
            gesture.cancel()
        elif self._bench.in_gesture:
            self._wheel.stop()
            self._bench.cancel()
        elif self.look is not None:
            self.leave_look()
        elif self._at is not None:
            self._walk(None)
        else:
            event.ignore()
        self.update()

    def _walk(self, reading: Reading | None) -> None:
        self._at = reading
        self.picked.emit(reading)
        self.hovered.emit(reading)
        # screen readers say what has changed
        scene = self._scene
        if scene is not None:
            said = ", ".join(flag_words(reading, scene)) if reading is not None else scene.caption
            self.setAccessibleDescription(said)
        self.update()


# What single keys do. Not kept by a paper itself: what refers to itself is not taken away until
# garbage is looked for, which may be in another thread.
_ACTS: dict[int, Callable[[Paper], None]] = {
    Qt.Key.Key_N: Paper.write_note,
    Qt.Key.Key_P: Paper.pin,
    Qt.Key.Key_L: Paper.take_next,
    Qt.Key.Key_X: _asking("x"),
    Qt.Key.Key_Y: _asking("y"),
    QKeyCombination(_SHIFT, Qt.Key.Key_X).toCombined(): _asking("x2"),
    QKeyCombination(_SHIFT, Qt.Key.Key_Y).toCombined(): _asking("y2"),
}
