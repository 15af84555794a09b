"""What is written on the figure: taken in hand, moved by keys, put back, typed in place."""

from functools import partial

from attrs import evolve
from PyQt6.QtCore import QObject, Qt
from PyQt6.QtGui import QKeyEvent

from sornix.core import figure as edits
from sornix.core.drawing import Rect
from sornix.core.errors import NotThere
from sornix.core.figure import Figure, Note, NoteBox, SourceLine, Target
from sornix.gui.canvas.gestures import moved_to, place_along, value_at
from sornix.gui.canvas.handling import can_be_placed, handling
from sornix.gui.canvas.selection import Selection
from sornix.gui.canvas.typing import NewNote, can_be_typed, typing_of
from sornix.gui.canvas.view import FigureView
from sornix.gui.session.nearest import Reading
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.inplace import InPlace

_STEP_MM, _FINE_MM = 0.5, 0.1
_KEYS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class Writing(QObject):
    """Edits what is written on the figure that a view shows."""

    def __init__(self, view: FigureView, selection: Selection, bench: Workbench) -> None:
        super().__init__(view)
        self._view, self._selection, self._bench = view, selection, bench
        self._editor: InPlace | None = None

    def take_next(self) -> None:
        """Takes in hand what is written next to what is in hand, from the top."""
        if self._view.drawing is None:
            return
        places = {
            box.of: (round(box.rect.top), box.rect.left)
            for box in self._view.drawing.boxes
            if can_be_placed(box.of) and box.panel in (0, self._view.drawing.hand)
        }
        found = sorted(places, key=lambda of: places[of])
        now = self._selection.in_hand
        if found:
            at = found.index(now) + 1 if now in found else 0
            self._selection.take(found[at % len(found)])

    def put_back(self) -> None:
        """Lets what is in hand find its own place again."""
        of = self._selection.in_hand
        if of is not None:
            name = f"put the {handling(of).words} back"
            self._bench.edit(name, lambda f: edits.move(f, of, None))

    def _nudge(self, across: int, down: int, *, fine: bool) -> None:
        drawing, of = self._view.drawing, self._selection.in_hand
        box = drawing.box_of(of) if drawing is not None and of is not None else None
        if drawing is None or of is None or box is None:
            return
        step = _FINE_MM if fine else _STEP_MM
        spot = moved_to(drawing, of, box.left + across * step, box.top + down * step)
        self._bench.edit(f"moved the {handling(of).words}", lambda f: edits.move(f, of, spot))

    def _remove_in_hand(self) -> None:
        match self._selection.in_hand:
            case NoteBox(note):
                self._selection.take(None)
                self._bench.edit("removed a note", lambda f: edits.remove_note(f, note))
            case SourceLine():
                self._selection.take(None)
                self._bench.edit("removed the source line", lambda f: edits.set_source(f, ""))

    def key_in_hand(self, event: QKeyEvent) -> bool:
        """What a key does to what is in hand; False where it does nothing."""
        of = self._selection.in_hand
        if of is None:
            return False
        key = Qt.Key(event.key())
        if key in _KEYS:
            fine = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._nudge(*_KEYS[key], fine=fine)
        elif key == Qt.Key.Key_Backspace:
            self.put_back()
        elif key == Qt.Key.Key_Delete:
            self._remove_in_hand()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and can_be_typed(of):
            self.edit_text(of)
        elif key == Qt.Key.Key_Escape:
            self._selection.take(None)
        else:
            return False
        return True

    # -- notes and pins ------------------------------------------------------------------------

    def write_note(self) -> None:
        """Opens a field for a note: about the reading in hand, or anywhere."""
        self.edit_text(NewNote())

    def pin(self) -> None:
        """Pins the values of the reading in hand, or takes its pin away."""
        at = self._selection.at
        if at is None or self._view.scene is None:
            return
        panel = self._view.scene.figure.panel
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
        if self._selection.here is None or self._view.drawing is None:
            return
        place, tables = self._view.drawing.place, self._bench.tables
        along = {axis: place_along(place, axis, self._selection.here) for axis in "xy"}
        values = {axis: value_at(place.scale(axis), at) for axis, at in along.items()}
        x, y = values["x"], values["y"]
        self._bench.edit("pinned a place", lambda f: edits.add_note(f, tables, x=x, y=y))

    # -- typing in place ---------------------------------------------------------------------

    def edit_text(self, of: Target | NewNote) -> None:
        """Opens a field over a text of the figure, or where one is to be."""
        scene, drawing = self._view.scene, self._view.drawing
        if scene is None or drawing is None:
            return
        self.close_editor()
        self._view.leave_look()
        typing = typing_of(scene, of)
        inner = drawing.place.inner
        height = drawing.height_mm
        foot = Rect(inner.left, height - 5.0, inner.width, 3.0)
        box = drawing.box_of(of) if not isinstance(of, NewNote) else None
        box = box or (foot if isinstance(of, SourceLine) else None)
        box = box or Rect(inner.left, 1.0, inner.width, 3.0)
        # what is typed is about the panel and the reading that are in hand now
        take = partial(self.take_text, of, self._selection.at, scene.figure.hand)
        self._editor = InPlace(self._view, typing.field, typing.text, take)
        pixels = self._view.pixels(box)
        width = max(int(pixels.width()) + 40, 300)
        left = min(int(pixels.center().x() - width / 2), self._view.width() - width - 4)
        top = min(int(pixels.center().y() - 16), self._view.height() - 36)
        self._editor.setGeometry(max(left, 4), max(top, 2), width, 32)
        self._editor.show()
        self._editor.setFocus()

    def take_text(self, of: Target | NewNote, at: Reading | None, hand: int, text: str) -> None:
        """Makes what was typed part of the figure, in the panel that was in hand when the field
        was opened."""
        scene = self._view.scene
        self._editor = None
        self._view.setFocus()
        if scene is None or hand >= len(scene.figure.panels):
            return
        if isinstance(of, NewNote):
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

        if self._bench.edit("wrote a note", change) and self._view.scene is not None:
            notes: tuple[Note, ...] = self._view.scene.figure.panel.notes
            self._selection.take(NoteBox(notes[-1].id))

    def close_editor(self) -> None:
        if self._editor is not None:
            self._editor.finish(None)
            self._editor = None
