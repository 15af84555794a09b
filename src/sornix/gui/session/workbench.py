"""The one owner of what is being worked on: document, history, file."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from attrs import evolve
from PyQt6.QtCore import QObject, pyqtSignal

from sornix.core.document import Document, Export, History
from sornix.core.errors import SornixError
from sornix.core.figure import Figure, OwnStyle, Spec
from sornix.core.figure.derived.drawn import look_through
from sornix.core.figure.model.trend import OwnShape
from sornix.core.files import FileState
from sornix.core.letters import printable
from sornix.core.readings import Tables
from sornix.gui.session.fitter import Fitter, fit_all
from sornix.gui.session.scene import Scene

if TYPE_CHECKING:
    from sornix.core.drawing import Measure


# A document, and the state of the file that it came from.
Made = tuple[Document, FileState | None]


def made_ready(make: Callable[[], Made]) -> Made:
    """A document that is made off the interface thread, its readings looked through, so that the
    window need not wait for that."""
    document, state = make()
    look_through(document.figure, document.tables)
    return document, state


FigureEdit = Callable[[Figure], Figure]
DocumentEdit = Callable[[Document], Document]


def _at_rest(document: Document | None) -> Document | None:
    """A document whatever figure is in sight and panel in hand, and however it was exported."""
    if document is None:
        return None
    first = document.looking_at(0).each(lambda figure: figure.with_hand(0))
    return evolve(first, export=_NO_EXPORT)


def _kinds(document: Document) -> list[tuple[str, str]]:
    """The columns of all tables, and of what kind each is."""
    return [(c.name, c.kind) for table in document.tables for c in table.columns]


_NO_EXPORT = Export()
_MOST_RECENT = 16
_TOO_LARGE = "This would lead to numbers that are too large or too small. Nothing was changed."


class Workbench(QObject):
    """Holds the history and asks edits of it; widgets show `scene` and ask for edits."""

    changed = pyqtSignal()
    previewed = pyqtSignal()
    # the work has another file, or is saved in its own
    file_changed = pyqtSignal()
    # something else is known of the file
    file_seen = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, measure: "Measure") -> None:
        super().__init__()
        # the styles of the user's own, kept with the settings
        self.styles: Sequence[OwnStyle] = ()
        self._shapes: Sequence[OwnShape] = ()
        self._measure = measure
        self._history: History | None = None
        self._saved: Document | None = None
        self._unsaved = False
        self._in_gesture = False
        self.scene: Scene | None = None
        # those that were shown last, so that undo and redo paint at once
        self._recent: list[Scene] = []
        self.path: Path | None = None
        # the file as it was when it was opened or saved here, and whether it is gone since
        self.file_state: FileState | None = None
        self.file_is_gone = False
        self.name = ""
        self.fitter = Fitter()
        self.fitter.fitted.connect(self._show_fits)

    def _show_fits(self) -> None:
        """Shows the trends whose fits took long."""
        if self.scene is None:
            return
        self.scene = Scene(self.scene.document, self._measure)
        (self.previewed if self._in_gesture else self.changed).emit()

    def with_every_trend(self, start: Callable[..., None], then: Callable[[Scene], object]) -> None:
        """Goes on with the scene with every trend, for what leaves the window: now, or when those
        that take long have been fitted, which `start` lets go on beside the work."""
        if self.scene is None:
            return
        document, wanted = self.scene.document, self.scene.pending
        if not wanted:
            then(self.scene)
            return
        start("fitting…", partial(fit_all, wanted), lambda _: then(Scene(document, self._measure)))

    def begin(
        self, document: Document, *, path: Path | None, name: str, unsaved: bool = False,
        state: FileState | None = None,
    ) -> None:  # fmt: skip
        """Takes up another document; `path` is where it is saved, if it is, `state` how that file
        is, and `unsaved` one holds work that is saved nowhere."""
        self._saved = document if path and not unsaved else None
        self._unsaved, self.file_state, self.file_is_gone = unsaved, state, False
        self.path, self.name = path, name
        # what was done before is not of what begins, even where it is the very same document
        self._history = None
        self._set(History(document))
        self.file_changed.emit()

    def edit(self, name: str, change: FigureEdit) -> bool:
        """One step of history that changes the figure."""
        return self.edit_document(name, lambda d: evolve(d, figure=change(d.figure)))

    def edit_document(self, name: str, change: DocumentEdit) -> bool:
        """One step of history; a refused edit changes nothing and is said aloud."""
        if self._history is None:
            return False
        self.cancel()
        before = self._history.present
        wanted: tuple[Spec, ...] = ()
        try:
            document = change(before)
            wanted = self.fitter.forget()
            # drawing is part of the edit: a figure that cannot be drawn is not taken
            scene = Scene(document, self._measure)
            scene.drawing  # noqa: B018
            self._draw_others(before, document)
        except (SornixError, ArithmeticError) as error:
            # the scene on show stays, with what it wants
            self.fitter.want_again(wanted)
            self.refused.emit(str(error) if isinstance(error, SornixError) else _TOO_LARGE)
            return False
        self._set(self._history.done(name, document), scene)
        return True

    def _draw_others(self, before: Document, document: Document) -> None:
        """Draws the figures that are not in sight where a column has become one of another kind:
        what keeps one from being drawn keeps the edit from being taken. Raises SornixError."""
        if len(document.figures) == 1 or _kinds(before) == _kinds(document):
            return
        for place in range(len(document.figures)):
            if place != document.place:
                Scene(document.looking_at(place), self._measure).drawing  # noqa: B018

    def follow(self, document: Document) -> None:
        """Takes what a file that is followed has grown to, without a step of history: undo goes
        back to what a person did."""
        if self._history is not None and not self._in_gesture:
            self._set(evolve(self._history, present=document))

    def remember_export(self, export: Export) -> None:
        """Keeps how the figure was exported with the document: no step of history."""
        if self._history is not None and self._history.present.export != export:
            document = evolve(self._history.present, export=export)
            self._set(evolve(self._history, present=document))

    def take_in_hand(self, index: int) -> None:
        """Takes another panel in hand: a matter of looking, no step of history."""
        if self._history is None or self._history.present.figure.hand == index:
            return
        self.cancel()
        present = self._history.present
        document = evolve(present, figure=present.figure.with_hand(index))
        self._set(evolve(self._history, present=document))

    def look_at(self, place: int) -> None:
        """Brings another figure in sight: a matter of looking, no step of history. One that cannot
        be drawn any more says why, and is not shown."""
        if self._history is None or not 0 <= place < len(self._history.present.figures):
            return
        self.cancel()
        document = self._history.present.looking_at(place)
        if document is self._history.present:
            return
        scene = self._scene_of(document)
        try:
            scene.drawing  # noqa: B018
        except (SornixError, ArithmeticError) as error:
            self.refused.emit(str(error) if isinstance(error, SornixError) else _TOO_LARGE)
            return
        self._set(evolve(self._history, present=document), scene)

    # -- gestures: many small changes that become one step ------------------------------------

    def preview(self, change: FigureEdit) -> None:
        """Shows what an edit of the present figure would make, without a step of history.

        A change that is refused shows nothing new. `commit` or `cancel` ends the gesture.
        """
        if self._history is None:
            return
        present = self._history.present
        wanted = self.fitter.forget()
        try:
            scene = Scene(evolve(present, figure=change(present.figure)), self._measure)
            scene.drawing  # noqa: B018 - drawn in any case, and what cannot be drawn is not shown
        except (SornixError, ArithmeticError):
            self.fitter.want_again(wanted)
            return
        self.scene = scene
        self._in_gesture = True
        self.previewed.emit()

    def commit(self, name: str) -> None:
        """Makes what is previewed one step of history."""
        if self._in_gesture and self._history is not None and self.scene is not None:
            self._in_gesture = False
            before, document = self._history.present, self.scene.document
            self._history = self._history.done(name, document)
            if self._history.present is before:
                self.scene = Scene(before, self._measure)
            self.changed.emit()

    def cancel(self) -> None:
        """Goes back to the figure as it was before the gesture."""
        if self._in_gesture and self._history is not None:
            self._in_gesture = False
            self.scene = self._scene_of(self._history.present)
            self.changed.emit()

    @property
    def in_gesture(self) -> bool:
        return self._in_gesture

    def undo(self) -> None:
        self.cancel()
        if self._history is not None:
            self._set(self._history.undone())

    def redo(self) -> None:
        self.cancel()
        if self._history is not None:
            self._set(self._history.redone())

    @property
    def history(self) -> History | None:
        return self._history

    def go(self, steps: int) -> None:
        """So many steps forward, or back if below 0."""
        self.cancel()
        history = self._history
        if history is not None and steps:
            for _ in range(abs(steps)):
                history = history.redone() if steps > 0 else history.undone()
            self._set(history)

    @property
    def undo_name(self) -> str:
        """What undo would take back, or ""."""
        past = self._history.past if self._history else ()
        return past[-1].name if past else ""

    @property
    def redo_name(self) -> str:
        """What redo would bring back, or ""."""
        future = self._history.future if self._history else ()
        return future[-1].name if future else ""

    @property
    def shapes(self) -> Sequence[OwnShape]:
        """The shapes of the user's own, kept with the settings."""
        return self._shapes

    def know_shapes(self, shapes: Sequence[OwnShape]) -> None:
        """Offers other shapes of the user's own."""
        self._shapes = shapes

    @property
    def tables(self) -> Tables:
        """The readings of the document, none without one."""
        return self._history.present.tables if self._history else ()

    @property
    def document(self) -> Document | None:
        return self._history.present if self._history else None

    @property
    def has_unsaved_changes(self) -> bool:
        """Whether closing would lose something that a person did."""
        if self._history is None:
            return False
        if self.file_is_gone:
            return True
        if _at_rest(self._history.present) == _at_rest(self._saved):
            return False
        done = bool(self._history.past or self._history.future)
        return self.path is not None or done or self._unsaved

    def saved(self, document: Document, path: Path, state: FileState | None) -> None:
        """Notes that `document` stands in the file `path`, which is in this `state`."""
        self._saved, self.path, self.name = document, path, printable(path.stem)
        self.file_state, self.file_is_gone = state, False
        if document is self.document:
            self.file_changed.emit()
        else:
            # something was changed while it was being saved
            self.file_seen.emit()

    def see_file(self, *, gone: bool) -> None:
        """Notes that the file is no longer there, or there again."""
        if self.file_is_gone != gone:
            self.file_is_gone = gone
            self.file_seen.emit()

    def _set(self, history: History, scene: Scene | None = None) -> None:
        if self._history is not None and history.present is self._history.present:
            return
        self._history = history
        if scene is None or scene.document is not history.present:
            self.fitter.forget()
            scene = self._scene_of(history.present)
        self.scene = scene
        self._recent = [*(s for s in self._recent if s is not scene), scene][-_MOST_RECENT:]
        self.changed.emit()

    def _scene_of(self, document: Document) -> Scene:
        """The scene of a document: one that was shown, where nothing was left open in it; what was
        made for the very same figure and readings is not made again."""
        figure, tables = document.figure, document.tables
        for scene in reversed(self._recent):
            if scene.figure is figure and scene.tables is tables and not scene.pending:
                return scene if scene.document is document else scene.of(document)
        return Scene(document, self._measure)
