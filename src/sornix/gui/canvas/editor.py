"""The hand on the figure: pointer, wheel and keys become edits, looks and what is picked out."""

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtCore import QEvent, QKeyCombination, QObject, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QNativeGestureEvent, QWheelEvent

from sornix.core import figure as edits
from sornix.core.drawing import Box, Drawing, Rect
from sornix.core.figure import AXES, AxisBand, Divider
from sornix.gui.canvas.gestures import (
    Gesture,
    LabelDrag,
    LookBox,
    LookDrag,
    Point,
    SizeDrag,
    drag_of,
)
from sornix.gui.canvas.handling import can_be_placed, handling
from sornix.gui.canvas.selection import Selection
from sornix.gui.canvas.typing import can_be_typed
from sornix.gui.canvas.view import FigureView, Traces
from sornix.gui.canvas.wheel import Wheel
from sornix.gui.canvas.writing import Writing
from sornix.gui.session.look import Look
from sornix.gui.session.nearest import Reading, readings_across, step_across, step_along
from sornix.gui.session.readout import flag_words
from sornix.gui.session.scalewords import free_part
from sornix.gui.session.workbench import Workbench

_CORNER = 12.0  # pixels of the paper's corner that resize it
_CLICK = 4  # pixels that a hand trembles without meaning it
_NOTCH = 1.15  # how much one notch of the wheel stretches
_STEPS: Mapping[int, int] = {
    Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Home: -(10**9), Qt.Key.Key_End: 10**9,
}  # fmt: skip
_SHIFT = Qt.KeyboardModifier.ShiftModifier


class FigureEditor(QObject):
    """Answers what is done to a view: sees its events before the view does."""

    hovered = pyqtSignal(object)
    # the readings of every panel at the x under the pointer
    crossed = pyqtSignal(object)
    picked = pyqtSignal(object)
    axis_clicked = pyqtSignal(str)
    zoom_wanted = pyqtSignal(int)
    menu_wanted = pyqtSignal(object, object)

    def __init__(self, view: FigureView, selection: Selection, bench: Workbench) -> None:
        super().__init__(view)
        self._view, self._selection, self._bench = view, selection, bench
        self.writing = Writing(view, selection, bench)
        self.wheel = Wheel(view, bench, lambda: self._gesture is not None)
        self._gesture: Gesture | None = None
        self._pressed: QPointF | None = None
        self._moved = self._space = self._has_put_back = False
        view.replaced.connect(self._let_go)
        view.setMouseTracking(True)
        view.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        view.installEventFilter(self)

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        """Whether an event of the view is answered here."""
        act = _ANSWERED.get(event.type()) if event is not None else None
        if event is None or act is None or self._view.drawing is None:
            return False
        event.accept()
        return act(self, event)

    @property
    def _drawing(self) -> Drawing:
        assert self._view.drawing is not None
        return self._view.drawing

    def _let_go(self) -> None:
        """Lets go of what the hand holds: it may be there no longer."""
        self._gesture = self._pressed = self._view.frozen = None
        self._trace()

    def _trace(self) -> None:
        """Shows what the hand does on the paper."""
        gesture, box, lines = self._gesture, None, []
        if isinstance(gesture, LookBox) and self._moved:
            (left, top), (right, bottom) = gesture.begin, gesture.end
            box = Rect(left, top, right - left, bottom - top)
        elif isinstance(gesture, LabelDrag) and self._moved:
            lines = gesture.snapped
        self._view.traces = Traces(box, lines, gesture is None)
        self._view.update()

    # -- the pointer -------------------------------------------------------------------------

    def _move(self, event: QMouseEvent) -> bool:
        position = event.position()
        if self._pressed is None:
            self.hover(self._view.reading_at(position))
            self._read_across(self._view.point(position))
            self._view.setCursor(self._cursor_at(position))
            return True
        far = (position - self._pressed).manhattanLength() > _CLICK
        if self._gesture is not None and (self._moved or far):
            self._moved = True
            self._gesture.move(self._view.point(position))
            self._trace()
        return True

    def hover(self, reading: Reading | None) -> None:
        """Points at a reading, or at none."""
        if reading != self._selection.near:
            self._selection.near = reading
            self.hovered.emit(reading)
            self._view.update()

    def _read_across(self, point: Point | None) -> None:
        """Reads every panel at the x under the pointer."""
        found: list[Reading] = []
        if point is not None and self._view.shown is not None:
            found = readings_across(self._view.shown, self._drawing, point)
        if found != self._selection.across:
            self._selection.across = found
            self.crossed.emit(found)
            self._view.update()

    def _cursor_at(self, position: QPointF) -> Qt.CursorShape:
        shapes = Qt.CursorShape
        if self._space:
            return shapes.OpenHandCursor
        if self._is_on_corner(position):
            return shapes.SizeFDiagCursor
        point = self._view.point(position)
        box = self._drawing.box_at(*point)
        if box is not None:
            return handling(box.of).cursor
        inside = self._drawing.place.inner.holds(*point)
        return shapes.CrossCursor if inside else shapes.ArrowCursor

    def _is_on_corner(self, position: QPointF) -> bool:
        x, y = self._view.corner_grip
        inside = -_CORNER < position.x() - x < 5 and -_CORNER < position.y() - y < 5
        return inside and self._view.look is None

    def _press(self, event: QMouseEvent) -> bool:
        self._view.setFocus()
        self._has_put_back = False
        self._pressed, self._moved = event.position(), False
        point = self._view.point(event.position())
        self._take_panel(point)
        button = event.button()
        if button == Qt.MouseButton.MiddleButton or self._space:
            self._gesture = self._begin_pan(point)
        elif button == Qt.MouseButton.LeftButton:
            self._gesture = self._begin(event.position())
        else:
            self._pressed = None
        self._trace()
        return True

    def _take_panel(self, point: Point) -> None:
        """Takes the panel at a point in hand, where there are several."""
        drawing = self._drawing
        if len(drawing.panels) == 1 or self._view.look is not None:
            return
        box = drawing.box_at(*point)
        if box is not None and handling(box.of).of_all:
            return
        index = box.panel if box is not None else drawing.panel_at(*point, 1.5)
        if index is not None and index != drawing.hand:
            self._bench.take_in_hand(index)

    def _begin(self, position: QPointF) -> Gesture | None:
        """The gesture that begins at a position with the left button."""
        view, drawing = self._view, self._drawing
        point = view.point(position)
        if view.is_on_pin(position):
            return None
        if self._is_on_corner(position):
            view.frozen = (view.pixels_per_mm, view.corner)
            return SizeDrag(self._bench, drawing, point)
        box = drawing.box_at(*point)
        found = self._begin_on(box, point) if box is not None else None
        if found is None and drawing.place.inner.grown(1.5).holds(*point):
            return LookBox(drawing.place, point, view.look_closer)
        return found

    def _begin_on(self, box: Box, point: Point) -> Gesture | None:
        """The gesture that takes hold of what a box stands for, if that can be dragged."""
        scene, drawing = self._view.scene, self._drawing
        assert scene is not None
        if isinstance(box.of, AxisBand) and self._view.look is not None:
            return self._begin_pan(point)
        if box.panel != drawing.hand and not handling(box.of).of_all:
            # a closer look keeps its panel in hand, and no other has what stands here
            return None
        return drag_of(self._bench, drawing, box.of, point, scene.figure, scene.tables)

    def _begin_pan(self, point: Point) -> Gesture:
        """Begins a look at what is shown now, which then follows the hand."""
        place = self._drawing.place
        self._view.looks.append(Look({a: (s.start, s.end) for a, s in place.scales.items()}))
        return LookDrag(place, point, self._view.follow_look)

    def _release(self, event: QMouseEvent) -> bool:
        gesture, self._gesture = self._gesture, None
        pressed, self._pressed = self._pressed, None
        self._view.frozen = None
        if pressed is None:
            return True
        if gesture is not None and self._moved:
            gesture.finish()
            self._selection.take(gesture.of if isinstance(gesture, LabelDrag) else None)
            self._view.take_room()
            self._view.draw()
        else:
            if isinstance(gesture, LookDrag):
                gesture.cancel()
            if event.button() == Qt.MouseButton.LeftButton:
                self._click(pressed)
        self._trace()
        return True

    def _click(self, position: QPointF) -> None:
        """A click without a movement: an edge count, an axis, or a reading."""
        hit = next((edge for edge in self._view.edges if edge.rect.contains(position)), None)
        if hit is not None:
            free_part(self._bench, hit.axis, hit.part)
            return
        if self._view.is_on_pin(position):
            self.writing.put_back()
            # a double click puts back no more than a single one
            self._has_put_back = True
            return
        box = self._drawing.box_at(*self._view.point(position))
        self._take(box)
        if box is not None and isinstance(box.of, AxisBand):
            self.axis_clicked.emit(box.of.axis)
        elif self._selection.in_hand is None:
            self._selection.come_to(self._view.reading_at(position))
            self.picked.emit(self._selection.at)

    def _take(self, box: Box | None) -> None:
        """Takes what a box stands for in hand, where it has a place of its own."""
        self._selection.take(box.of if box is not None and can_be_placed(box.of) else None)

    def _double_click(self, event: QMouseEvent) -> bool:
        box = self._drawing.box_at(*self._view.point(event.position()), 0.5)
        if box is None or self._has_put_back or self._view.scene is None:
            return True
        of, tables = box.of, self._view.scene.tables
        if isinstance(of, AxisBand):
            axis = of.axis
            self._bench.edit(
                f"freed the range of {AXES[axis]}",
                lambda f: edits.hold(f, tables, axis, start=None, end=None),
            )
        elif isinstance(of, Divider):
            rows = of.along == "row"
            heights, widths = () if rows else None, None if rows else ()
            self._bench.edit(
                "made panels equal",
                lambda f: edits.set_ratios(f, heights=heights, widths=widths),
            )
        elif can_be_typed(of):
            self.writing.edit_text(of)
        elif can_be_placed(of):
            self._bench.edit("let a label find its place", lambda f: edits.move(f, of, None))
        return True

    def _ask_menu(self, event: QContextMenuEvent) -> bool:
        position = QPointF(event.pos())
        point = self._view.point(position)
        reading = self._view.reading_at(position)
        self._selection.here = point
        self._take(self._drawing.box_at(*point))
        self._selection.come_to(reading)
        self._take_panel(point)
        self.menu_wanted.emit(reading, event.globalPos())
        return True

    def _leave(self, _event: QEvent) -> bool:
        self.hover(None)
        self._read_across(None)
        return False

    def _resized(self, _event: QEvent) -> bool:
        self.writing.close_editor()
        return False

    # -- wheel and pinch ---------------------------------------------------------------------

    def _turn(self, event: QWheelEvent) -> bool:
        notches = event.angleDelta().y() / 120 or event.pixelDelta().y() / 40
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_wanted.emit(1 if notches > 0 else -1)
        elif notches and not self._stretch(event.position(), _NOTCH**notches):
            event.ignore()
        return True

    def _pinch(self, event: QNativeGestureEvent) -> bool:
        zooms = event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture
        return zooms and self._stretch(event.position(), 1 + event.value())

    def _stretch(self, position: QPointF, ratio: float) -> bool:
        point = self._view.point(position)
        self._take_panel(point)
        return self.wheel.stretch(point, ratio)

    # -- keys --------------------------------------------------------------------------------

    def _key(self, event: QKeyEvent) -> bool:
        """Whether a key does something here."""
        key: Any = event.key()
        combination = event.keyCombination().toCombined()
        scene, at = self._view.scene, self._selection.at
        assert scene is not None
        if self.writing.key_in_hand(event):
            return True
        if key == Qt.Key.Key_Escape:
            return self._escape()
        if key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = True
            self._view.setCursor(Qt.CursorShape.OpenHandCursor)
        elif combination in _ACTS:
            _ACTS[combination](self)
        elif key in _STEPS:
            self._walk(step_along(scene, at, _STEPS[key]))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self._walk(step_across(scene, at, -1 if key == Qt.Key.Key_Up else 1))
        else:
            return False
        return True

    def ask_axis(self, axis: str) -> None:
        """Asks for the strip of an axis that is there."""
        if self._view.scene is not None and axis in self._view.scene.figure.panel.axes:
            self.axis_clicked.emit(axis)

    def _key_up(self, event: QKeyEvent) -> bool:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self._space = False
            self._view.unsetCursor()
        return True

    def _escape(self) -> bool:
        """Ends what is going on: a gesture, a look, or the walk along the readings."""
        if self._gesture is not None:
            gesture = self._gesture
            self._let_go()
            gesture.cancel()
        elif self._bench.in_gesture:
            self.wheel.give_up()
        elif self._view.look is not None:
            self._view.leave_look()
        elif self._selection.at is not None:
            self._walk(None)
        else:
            return False
        self._view.update()
        return True

    def _walk(self, reading: Reading | None) -> None:
        self._selection.come_to(reading)
        self.picked.emit(reading)
        self.hovered.emit(reading)
        # screen readers say what has changed
        scene = self._view.scene
        if scene is not None:
            said = ", ".join(flag_words(reading, scene)) if reading is not None else scene.caption
            self._view.setAccessibleDescription(said)


# What events are answered by. Not kept by an editor itself: what refers to itself is not taken
# away until garbage is looked for.
_ANSWERED: Mapping[QEvent.Type, Callable[[FigureEditor, Any], bool]] = {
    QEvent.Type.MouseMove: FigureEditor._move,  # noqa: SLF001
    QEvent.Type.MouseButtonPress: FigureEditor._press,  # noqa: SLF001
    QEvent.Type.MouseButtonRelease: FigureEditor._release,  # noqa: SLF001
    QEvent.Type.MouseButtonDblClick: FigureEditor._double_click,  # noqa: SLF001
    QEvent.Type.ContextMenu: FigureEditor._ask_menu,  # noqa: SLF001
    QEvent.Type.Leave: FigureEditor._leave,  # noqa: SLF001
    QEvent.Type.Resize: FigureEditor._resized,  # noqa: SLF001
    QEvent.Type.Wheel: FigureEditor._turn,  # noqa: SLF001
    QEvent.Type.NativeGesture: FigureEditor._pinch,  # noqa: SLF001
    QEvent.Type.KeyPress: FigureEditor._key,  # noqa: SLF001
    QEvent.Type.KeyRelease: FigureEditor._key_up,  # noqa: SLF001
}
# What single keys do.
_ACTS: Mapping[int, Callable[[FigureEditor], None]] = {
    Qt.Key.Key_N: lambda editor: editor.writing.write_note(),
    Qt.Key.Key_P: lambda editor: editor.writing.pin(),
    Qt.Key.Key_L: lambda editor: editor.writing.take_next(),
    Qt.Key.Key_X: lambda editor: editor.ask_axis("x"),
    Qt.Key.Key_Y: lambda editor: editor.ask_axis("y"),
    QKeyCombination(_SHIFT, Qt.Key.Key_X).toCombined(): lambda editor: editor.ask_axis("x2"),
    QKeyCombination(_SHIFT, Qt.Key.Key_Y).toCombined(): lambda editor: editor.ask_axis("y2"),
}
