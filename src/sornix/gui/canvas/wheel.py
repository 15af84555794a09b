"""The wheel and the pinch over the figure: they stretch an axis, or look closer."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from sornix.core import figure as edits
from sornix.core.drawing import PanelPlace
from sornix.core.errors import SornixError
from sornix.core.figure import AXES, AxisBand
from sornix.gui.canvas.gestures import END_PART, Point, place_along, zoomed
from sornix.gui.canvas.view import FigureView
from sornix.gui.session.look import Look, look_at
from sornix.gui.session.workbench import Workbench

_PAUSE_MS = 350  # a pause of this length ends a gesture of the wheel


def _end(place: PanelPlace, axis: str, fixed: float) -> str:
    """Which end of an axis moves where the other place is fixed."""
    return "start" if (fixed == 1.0) != place.scale(axis).reversed else "end"


class Wheel(QObject):
    """Turns of the wheel that follow each other soon are one gesture."""

    def __init__(self, view: FigureView, bench: Workbench, is_dragging: Callable[[], bool]) -> None:
        super().__init__(view)
        self._view, self._bench, self._is_dragging = view, bench, is_dragging
        self._name = ""
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(_PAUSE_MS)
        self._rest.timeout.connect(self._end)

    def stretch(self, point: Point, ratio: float) -> bool:
        """Stretches what is at a point in mm: an axis, or the look. False where nothing is."""
        drawing = self._view.drawing
        assert drawing is not None
        place = drawing.place
        x, y = (place_along(place, axis, point) for axis in "xy")
        box = drawing.box_at(*point)
        if box is not None and isinstance(box.of, AxisBand):
            axis = box.of.axis
            at = x if axis[0] == "x" else y
            # near an end, that end goes and the other one stays
            fixed = 0.0 if at > 1 - END_PART else 1.0 if at < END_PART else at
            window = zoomed(fixed, ratio)
            if self._view.look is not None:
                return self._look_on(look_at(place, {axis: window, axis[0]: (0.0, 1.0)}))
            moves = "" if fixed == at else _end(place, axis, fixed)
            return self.stretch_axis(axis, window, moves)
        if not place.inner.grown(1.5).holds(*point):
            return False
        return self._look_on(look_at(place, {"x": zoomed(x, ratio), "y": zoomed(y, ratio)}))

    def _look_on(self, look: Look | None) -> bool:
        """A further turn of the wheel goes on with the look that the first one began."""
        if look is not None:
            if self._rest.isActive() and self._view.looks:
                self._view.looks.pop()
            self._rest.start()
            self._view.look_closer(look)
        return True

    def stretch_axis(self, axis: str, window: Point, moves: str) -> bool:
        """Holds a stretch of an axis, or only the end that `moves`, until the wheel rests."""
        scene, drawing = self._view.scene, self._view.drawing
        assert scene is not None and drawing is not None
        try:
            start, end = drawing.place.scale(axis).window(*window)
        except SornixError:
            # beyond the calendar, or beyond all numbers
            return True
        held = {"start": start, "end": end}
        held = {moves: held[moves]} if moves else held
        self._bench.preview(lambda f: edits.hold(f, scene.tables, axis, **held))
        words = f"the {moves} of {AXES[axis]}" if moves else AXES[axis]
        self._name = f"stretched {words}"
        self._rest.start()
        return True

    def give_up(self) -> None:
        """Ends the gesture as if it had never been."""
        self._rest.stop()
        self._bench.cancel()

    def _end(self) -> None:
        if self._bench.in_gesture and not self._is_dragging():
            self._bench.commit(self._name)
