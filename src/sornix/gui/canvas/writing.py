"""What is written on the sheet: taken in hand, moved by keys, put back, typed in place."""

from functools import partial

from attrs import evolve
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPen

from sornix.core import figure as edits
from sornix.core.drawing import Rect
from sornix.core.errors import NotThere
from sornix.core.figure import Figure, Note
from sornix.gui.canvas.gestures import Point, label_words, moved_to, place_along, value_at
from sornix.gui.canvas.sheet import Sheet
from sornix.gui.canvas.typing import NEW_NOTE, typing_of
from sornix.gui.session.nearest import Reading
from sornix.gui.session.workbench import Scene, Workbench
from sornix.gui.widgets.inplace import InPlace

_STEP_MM, _FINE_MM = 0.5, 0.1
_KEYS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


def can_be_placed(of: str) -> bool:
    """Whether a box is of something that has a place of its own: text, legend, label or note."""
    whole = of in ("title", "source", "legend") or of.endswith("-title")
    return whole or of.startswith("note/") or (of.startswith("trend/") and of.endswith("/label"))


def can_be_typed(of: str) -> bool:
    """Whether a box is of a text that can be typed in place."""
    typed = of == "source" or of.endswith(("title", "/name")) or of.startswith(("note/", "guide/"))
    return typed and not of.endswith("-other-title")


class WritingSheet(Sheet):
    """A sheet whose texts can be taken in hand and typed anew."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__(bench)
        self._editor: InPlace | None = None
        self.in_hand = ""
        # where the pointer was when acts were asked for, in mm
        self.here: Point | None = None

    @property
    def reading_in_hand(self) -> Reading | None:
        """The reading that the walk along the readings, or a click, has come to."""
        return self._at

    # -- taking in hand ----------------------------------------------------------------------

    def take(self, of: str) -> None:
        """Takes something that is written in hand, or nothing (“”)."""
        if of != self.in_hand:
            self.in_hand = of
            self.update()

    def take_next(self) -> None:
        """Takes in hand what is written next to what is in hand, from the top."""
        if self._drawing is None:
            return
        places = {
            box.of: (round(box.rect.top), box.rect.left)
            for box in self._drawing.boxes
            if can_be_placed(box.of) and box.panel in (0, self._drawing.hand)
        }
        found = sorted(places, key=lambda of: places[of])
        if found:
            at = found.index(self.in_hand) + 1 if self.in_hand in found else 0
            self.take(found[at % len(found)])

    def put_back(self) -> None:
        """Lets what is in hand find its own place again."""
        of = self.in_hand
        if of:
            name = f"put the {label_words(of)} back"
            self._bench.edit(name, lambda f: edits.move(f, of, None))

    def _nudge(self, across: int, down: int, *, fine: bool) -> None:
        drawing = self._drawing
        box = drawing.box_of(self.in_hand) if drawing is not None else None
        if drawing is None or box is None:
            return
        step = _FINE_MM if fine else _STEP_MM
        of = self.in_hand
        spot = moved_to(drawing, of, box.left + across * step, box.top + down * step)
        self._bench.edit(f"moved the {label_words(of)}", lambda f: edits.move(f, of, spot))

    def _remove_in_hand(self) -> None:
        of = self.in_hand
        if of.startswith("note/"):
            self.take("")
            self._bench.edit("removed a note", lambda f: edits.remove_note(f, of.split("/")[1]))
        elif of == "source":
            self.take("")
            self._bench.edit("removed the source line", lambda f: edits.set_source(f, ""))

    def key_in_hand(self, event: QKeyEvent) -> bool:
        """What a key does to what is in hand; False where it does nothing."""
        if not self.in_hand:
            return False
        key = Qt.Key(event.key())
        if key in _KEYS:
            fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._nudge(*_KEYS[key], fine=fine)
        elif key == Qt.Key.Key_Backspace:
            self.put_back()
        elif key == Qt.Key.Key_Delete:
            self._remove_in_hand()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and can_be_typed(self.in_hand):
            self.edit_text(self.in_hand)
        elif key == Qt.Key.Key_Escape:
            self.take("")
        else:
            return False
        return True

    def _paint_in_hand(self, painter: QPainter) -> None:
        """A frame around what is in hand, and a pin on what stands where it was put."""
        if self._drawing is None or self._scene is None or self.look is not None:
            return
        box = self._drawing.box_of(self.in_hand) if self.in_hand else None
        if box is None:
            return
        frame = self.pixels(box.grown(0.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(self._theme.accent), 1.4, Qt.PenStyle.DashLine))
        painter.drawRect(frame)
        pin = self._pin_of(frame)
        if pin is not None:
            painter.setPen(QPen(QColor(self._theme.held), 1.4))
            painter.setBrush(QColor(self._theme.held_ground))
            painter.drawRect(pin)

    def _pin_of(self, frame: QRectF) -> QRectF | None:
        """The small square at the corner of what is in hand that tells that it was put there."""
        if self._scene is None or self.in_hand not in edits.spots(self._scene.figure):
            return None
        return QRectF(frame.left() - 5, frame.top() - 5, 10, 10)

    def on_pin(self, x: float, y: float) -> bool:
        """Whether a position in the widget is on that square."""
        box = self._drawing.box_of(self.in_hand) if self._drawing and self.in_hand else None
        pin = self._pin_of(self.pixels(box.grown(0.4))) if box is not None else None
        return pin is not None and pin.adjusted(-3, -3, 3, 3).contains(x, y)

    # -- notes and pins ------------------------------------------------------------------------

    def write_note(self) -> None:
        """Opens a field for a note: about the reading in hand, or anywhere."""
        self.edit_text(NEW_NOTE)

    def pin(self) -> None:
        """Pins the values of the reading in hand, or takes its pin away."""
        at = self._at
        if at is None or self._scene is None:
            return
        panel = self._scene.figure.panel
        pins = [n for n in panel.notes if (n.series, n.row) == (at.series, at.row) and not n.text]
        if pins:
            self._bench.edit("removed a pin", lambda f: edits.remove_note(f, pins[0].id))
            return
        tables = self._bench.tables
        self._bench.edit(
            "pinned a reading",
            lambda f: edits.add_note(f, tables, series=at.series, row=at.row),
        )

    def pin_place(self) -> None:
        """Pins the values of the place in the panel in hand where the pointer was."""
        if self.here is None or self._drawing is None:
            return
        place, tables = self._drawing.place, self._bench.tables
        along = {axis: place_along(place, axis, self.here) for axis in "xy"}
        values = {axis: value_at(place.scale(axis), at) for axis, at in along.items()}
        x, y = values["x"], values["y"]
        self._bench.edit("pinned a place", lambda f: edits.add_note(f, tables, x=x, y=y))

    # -- typing in place ---------------------------------------------------------------------

    def edit_text(self, of: str) -> None:
        """Opens a field over a text of the figure, or where one is to be."""
        scene, drawing = self._scene, self._drawing
        if scene is None or drawing is None:
            return
        self._close_editor()
        self.leave_look()
        typing = typing_of(scene, of)
        inner = drawing.place.inner
        height = drawing.height_mm
        foot = Rect(inner.left, height - 5.0, inner.width, 3.0)
        box = drawing.box_of(of) or (foot if of == "source" else None)
        box = box or Rect(inner.left, 1.0, inner.width, 3.0)
        # what is typed is about the panel and the reading that are in hand now
        take = partial(self._take_text, of, self._at, scene.figure.hand)
        self._editor = InPlace(self, typing.field, typing.text, take)
        pixels = self.pixels(box)
        width = max(int(pixels.width()) + 40, 300)
        left = min(int(pixels.center().x() - width / 2), self.width() - width - 4)
        top = min(int(pixels.center().y() - 16), self.height() - 36)
        self._editor.setGeometry(max(left, 4), max(top, 2), width, 32)
        self._editor.show()
        self._editor.setFocus()

    def _take_text(self, of: str, at: Reading | None, hand: int, text: str) -> None:
        """Makes what was typed part of the figure, in the panel that was in hand when the field
        was opened."""
        scene = self._scene
        self._editor = None
        self.setFocus()
        if scene is None or hand >= len(scene.figure.panels):
            return
        if of == NEW_NOTE:
            self._add_note(text, at)
            return
        there = evolve(scene.document, figure=scene.figure.with_hand(hand))
        try:
            typing = typing_of(Scene(there, scene.measure), of)
        except NotThere:
            return
        if text != typing.text:
            self._bench.edit(
                typing.step, lambda f: typing.put(f.with_hand(hand), text).with_hand(f.hand)
            )

    def _add_note(self, text: str, at: Reading | None) -> None:
        if not text.strip():
            return
        tables = self._bench.tables
        place = {"series": at.series, "row": at.row} if at is not None else {}

        def change(figure: Figure) -> Figure:
            return edits.add_note(figure, tables, text, **place)

        if self._bench.edit("wrote a note", change) and self._scene is not None:
            notes: tuple[Note, ...] = self._scene.figure.panel.notes
            self.take(f"note/{notes[-1].id}")

    def _close_editor(self) -> None:
        if self._editor is not None:
            self._editor.finish(None)
            self._editor = None
