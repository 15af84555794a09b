"""A window at work: it joins the frame, the workbench and the parts, and handles files."""

from collections.abc import Callable, Iterable, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from attrs import evolve
from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication

from sornix.core.document import ENDING, Document, load_with_state, new_document
from sornix.core.errors import SornixError
from sornix.core.figure import Figure
from sornix.core.files import same_file
from sornix.core.letters import printable
from sornix.core.readings import Table
from sornix.core.readings.formats.sources import read_file
from sornix.core.text import plural
from sornix.demo import DEMOS, demo_document
from sornix.gui.actions.atreading import AtReading
from sornix.gui.actions.axisquestions import ask_beside, ask_guide, ask_other
from sornix.gui.actions.finding import Finding
from sornix.gui.actions.handover import HandOver
from sornix.gui.actions.ownstyles import own_shapes, own_styles
from sornix.gui.actions.readingsdesk import ReadingsDesk
from sornix.gui.actions.saving import Saving
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import Theme
from sornix.gui.base.themes import chosen_theme, put_on
from sornix.gui.base.worker import Worker
from sornix.gui.dialogs.files import Files
from sornix.gui.session.workbench import Made, Workbench, made_ready
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.titles import show_state
from sornix.gui.widgets.acts import Act, Menus, State
from sornix.paint.measure import QtMeasure

if TYPE_CHECKING:
    from sornix.core.document.stored.safetycopy import LeftCopy
    from sornix.gui.session.nearest import Reading
    from sornix.gui.shell.autosave import Autosave
    from sornix.gui.shell.panes import Panes
    from sornix.gui.shell.tips import Tips


class Window(QObject):
    """One window at work: its frame, its workbench, and what passes between them."""

    def __init__(
        self, frame: Frame, settings: Settings, acts: Callable[["Window"], list[Act]]
    ) -> None:
        super().__init__(frame)
        self.frame = frame
        self.settings = settings
        self.bench = Workbench(QtMeasure())
        self.worker = Worker()
        self.files = Files(frame)
        # for dialogs: an empty window stands sooner without it
        put_on(self.theme)
        self.bench.styles = own_styles(settings)
        self.bench.know_shapes(own_shapes(settings))
        self.panes: Panes | None = None
        # safety copies, where the application asks for them
        self.autosave: Autosave | None = None
        self.tips: Tips | None = None
        self._closing, self._failures = False, 0
        self.saving = Saving(self)
        self.readings = ReadingsDesk(self)
        self.hand_over = HandOver(self)
        self.at_reading = AtReading(self)
        self.finding = Finding(self)
        self.menus = Menus(frame.menu_bar, frame, acts(self))
        QTimer.singleShot(0, self._offer_start)
        frame.may_close = self._may_close
        self._connect()
        self._show_state()

    def _offer_start(self) -> None:
        """Fills the start sheet, where it stays to be seen."""
        if self.panes is None and not self.worker.is_busy:
            self.frame.start.offer([d[:2] for d in DEMOS.values()], self.settings.recent)

    def _make_panes(self) -> "Panes":
        from sornix.gui.shell.panes import Panes

        panes = Panes(self.bench, self.theme, self.copy_text)
        panes.hovered.connect(self._hovered)
        panes.crossed.connect(self._crossed)
        panes.menu_wanted.connect(self.at_reading.show_menu)
        panes.judged.connect(self._show_cautions)
        panes.counted.connect(self.frame.footer.count.setText)
        table_pane = panes.table_pane
        table_pane.start = table_pane.finder.start = self.start
        panes.reason.start = self.start
        ask = self.readings.ask
        questions = {
            "guide": lambda axis: ask_guide(self.bench, axis, ask),
            "other": lambda axis: ask_other(self.bench, axis, ask, self.start),
            "beside": lambda axis: ask_beside(self.bench, axis, ask),
        }
        panes.inspector.asked.connect(lambda what, axis: questions[what](axis))
        table_pane.act_wanted.connect(lambda name: self.menus.actions[name].trigger())
        for part in (panes.statement, panes.figures):
            part.asked.connect(lambda name: self.menus.actions[name].trigger())
        table_pane.word_changed.connect(self.readings.change_word)
        table_pane.column_menu_wanted.connect(self.readings.columns.open_menu)
        panes.figures.set_folded(self.settings.numbers("folded") == [1])
        panes.figures.folded.connect(lambda on: self.settings.remember(folded=[int(on)]))
        sizes = self.settings.numbers("panes")
        if len(sizes) == panes.count() and min(sizes) > 0:
            panes.setSizes(sizes)
        self.frame.add_panes(panes)
        panes.paper.setFocus()
        return panes

    def _connect(self) -> None:
        self.bench.changed.connect(self._show_scene)
        self.bench.file_changed.connect(self._show_state)
        self.bench.file_seen.connect(self._show_state)
        self.bench.refused.connect(self.say)
        self.worker.busy_changed.connect(self._show_busy)
        self.bench.fitter.busy_changed.connect(self._show_busy)
        frame = self.frame
        frame.file_dropped.connect(self.open_path)
        frame.text_dropped.connect(self.readings.clipboard.take_text)
        frame.footer.cancelled.connect(self._give_up)
        frame.start.paste_wanted.connect(self.readings.clipboard.paste_table)
        frame.start.type_wanted.connect(self.readings.new_table)
        frame.start.recent_wanted.connect(lambda path: self.open_path(Path(path)))
        hints = QApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self.follow_theme)
        frame.start.open_wanted.connect(self.ask_open)
        frame.start.demo_wanted.connect(self.open_demo)
        frame.undo.clicked.connect(self.bench.undo)
        frame.redo.clicked.connect(self.bench.redo)
        frame.copy.clicked.connect(self.hand_over.copy_figure)
        frame.export.clicked.connect(self.hand_over.ask_export)

    # -- showing -----------------------------------------------------------------------------

    def _show_scene(self) -> None:
        from sornix.gui.session.readout import size_words

        scene = self.bench.scene
        if scene is None:
            return
        if self.panes is None:
            self.panes = self._make_panes()
        self.panes.show_scene(scene)
        self.frame.footer.extent.setText(size_words(scene))
        self.frame.footer.reading.clear()
        self._show_state()
        self.readings.follower.watch_soon()

    def _show_state(self) -> None:
        show_state(self.frame, self.bench)
        self.menus.update()

    def refresh(self) -> None:
        """Shows the scene again, where something beside it has changed."""
        self._show_scene()

    def open_state(self) -> State:
        """For acts that need a document."""
        return State(self.bench.document is not None)

    def _show_busy(self, words: str) -> None:
        at_work = self.worker if self.worker.is_busy else self.bench.fitter
        self.frame.footer.show_busy(words, at_work.part)
        if not words:
            self._show_state()
            # what came of the work is not taken up yet
            QTimer.singleShot(0, self._offer_start)

    def _give_up(self) -> None:
        """Ends what goes on, but for what is being written."""
        self.worker.cancel()
        if self.bench.fitter.give_up():
            self.say("Fitting was given up. The next change of the figure begins it again.")

    def _show_cautions(self, count: int) -> None:
        self.frame.footer.cautions.setText(plural(count, "caution") if count else "")

    def say(self, sentence: str) -> None:
        """Shows a message until the next change."""
        self.offer(sentence, {})

    def offer(self, sentence: str, acts: Mapping[str, Callable[[], object]]) -> None:
        """Shows a message with buttons for what can be done."""
        bar = self.panes.message if self.panes is not None else self.frame.message
        bar.say(sentence, acts)

    def tell(self, words: str) -> None:
        """Says in the footer what was done."""
        self.frame.footer.state.setText(words)

    def is_read(self, paths: Iterable[Path]) -> bool:
        """Whether one of some files is where these readings come from, which is said: it is not
        written to."""
        sources = [Path(t.source.path) for t in self.bench.tables if t.source and t.source.path]
        for path in paths:
            if any(same_file(path, source) for source in sources):
                self.say(
                    f"{path.name} is where these readings come from, so it is not written to. "
                    "Choose another name or folder."
                )
                return True
        return False

    def start(
        self,
        words: str,
        work: Callable[[], Any],
        done: Callable[[Any], None],
        *,
        failed: Callable[[SornixError], None] | None = None,
        writes: bool = False,
    ) -> None:
        """Does work off the interface thread, then `done` here; an error is said, unless `failed`
        takes it. What `writes` a file is not given up."""
        self.worker.start(words, work, done, failed or self._say_error, writes=writes)

    def _say_error(self, error: SornixError) -> None:
        self._failures += 1
        self.say(str(error))

    def _hovered(self, reading: "Reading | None") -> None:
        from sornix.gui.session.readout import reading_words

        scene = self.bench.scene
        said = reading_words(reading, scene) if reading is not None and scene is not None else ""
        self.frame.footer.reading.setText(said)

    def _crossed(self, readings: "list[Reading]") -> None:
        from sornix.gui.session.readout import across_words

        scene = self.bench.scene
        self.frame.footer.reading.setText(across_words(readings, scene) if scene else "")

    # -- files -------------------------------------------------------------------------------

    def ask_open(self) -> None:
        self.files.ask_open(self.open_path)

    def open_path(self, path: Path) -> None:
        """Opens a file in place of the present document, after asking about unsaved changes."""
        is_document = path.suffix.lower() == ENDING

        def make() -> Made:
            return load_with_state(path) if is_document else (self._new(*read_file(path)), None)

        def opened() -> None:
            self.settings.remember_file(path)
            document = self.bench.document
            if document is not None and document.pattern:
                # what is drawn from a pattern is a document of its own
                self.bench.begin(
                    evolve(document, pattern=False), path=None, name=printable(path.stem)
                )
                self.hand_over.open_pattern(path, document)

        saved_at = path if is_document else None
        self.take_up(
            f"opening {path.name}…", make, printable(path.stem), path=saved_at, then=opened
        )

    def _new(self, *tables: Table) -> Document:
        """A document that begins with some tables, its figure as is preferred."""
        from sornix.gui.base.preferences import as_preferred

        return as_preferred(new_document(*tables), self.settings)

    def open_demo(self, name: str) -> None:
        """Opens a demo figure as a document that is not saved anywhere yet."""
        self.take_up("opening the demo…", lambda: (demo_document(name), None), DEMOS[name].words)

    def open_table(self, name: str, read: Callable[[], Table]) -> None:
        """Opens a table as a document of its own that is not saved anywhere yet."""
        self.take_up("reading the table…", lambda: (self._new(read()), None), name)

    def take_up(
        self, words: str, make: Callable[[], "Made"], name: str, *, path: Path | None = None,
        then: Callable[[], None] = lambda: None, unsaved: bool = False,
    ) -> None:  # fmt: skip
        """Makes a document, with the state of its file, off the interface thread and takes it up
        under `name`, after asking about unsaved changes; `path` is where it is saved, if it is;
        `unsaved` work would be asked about although nothing was done to it here."""

        def done(made: Made) -> None:
            document, state = made
            try:
                self.bench.begin(document, path=path, name=name, unsaved=unsaved, state=state)
            except SornixError as error:
                self._say_error(error)
            else:
                then()

        self._unless_losing(
            lambda: self.worker.start(words, partial(made_ready, make), done, self._say_error)
        )

    def bring_back(self, copy: "LeftCopy") -> None:
        """Takes up what a safety copy holds, and keeps the copy until it is saved."""

        def adopt() -> None:
            if self.autosave is not None:
                self.autosave.adopt(copy)

        work = copy.work
        self.take_up(
            "bringing it back…", lambda: (copy.load(), work.state), work.name, path=work.path,
            then=adopt, unsaved=True,
        )  # fmt: skip

    def copy_text(self, text: str) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(text)
            self.tell("copied")

    # -- edits from menus and titles ----------------------------------------------------------

    def edit(self, name: str, change: Callable[[Figure], Figure]) -> None:
        self.bench.edit(name, change)

    # -- theme and palette ---------------------------------------------------------------------

    @property
    def theme(self) -> Theme:
        """The theme that was chosen, or that of the desktop."""
        return chosen_theme(self.settings.text("theme", "desktop"))

    def choose_theme(self, name: str) -> None:
        """`light`, `dark` or `desktop`."""
        self.settings.remember(theme=name)
        self.follow_theme()

    def follow_theme(self) -> None:
        """Shows the window in the theme that holds now."""
        put_on(self.theme)
        self.frame.set_theme(self.theme)
        if self.panes is not None:
            self.panes.set_theme(self.theme)

    def ask_preferences(self) -> None:
        from sornix.gui.base.preferences import PreferencesDialog

        PreferencesDialog(self.frame, self.settings, self._preferred)

    def _preferred(self, name: str, value: str) -> None:
        if name == "theme":
            self.choose_theme(value)
        elif name == "autosave" and self.autosave is not None:
            self.autosave.follow_preference()

    # -- closing -----------------------------------------------------------------------------

    def _unless_losing(self, go_on: Callable[[], None]) -> None:
        if self.bench.has_unsaved_changes:
            self.files.ask_before_losing(self.bench.name, self.saving.save, go_on)
        else:
            go_on()

    def _may_close(self) -> bool:
        """Whether the frame may close now; otherwise it is asked about first."""
        if self._closing or not self.bench.has_unsaved_changes:
            # what is being read is of no use any more; what is being written is waited for
            self.worker.cancel()
            failures = self._failures
            self.worker.wait()
            if self._failures > failures and not self._closing:
                return False
            if self.autosave is not None:
                self.autosave.close()
            self.bench.fitter.close()
            self._remember()
            return True
        self.files.ask_before_losing(self.bench.name, self.saving.save, self.close_without_asking)
        return False

    def _remember(self) -> None:
        """Keeps the window's size and that of its parts for the next time."""
        values: dict[str, object] = {"window": [self.frame.width(), self.frame.height()]}
        if self.panes is not None:
            values["panes"] = self.panes.sizes()
        self.settings.remember(**values)

    def close(self) -> None:
        self.frame.close()

    def quit(self) -> None:
        """Closes every window; each asks about what is not saved."""
        QApplication.closeAllWindows()

    def close_without_asking(self) -> None:
        """Closes the window; what is not saved is lost."""
        self._closing = True
        self.frame.close()
