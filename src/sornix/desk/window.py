"""The main window: it puts the parts together and passes their wishes on."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QByteArray, QMimeData, Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMenuBar,
    QPushButton,
    QSizePolicy,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.document import ENDING, Document, load_document, new_document, save_document
from sornix.core.drawing import Drawing
from sornix.core.errors import SornixError
from sornix.core.figure import Figure
from sornix.core.readings import read_delimited
from sornix.demo import DEMOS, demo_document
from sornix.desk.acts import Menus
from sornix.desk.bars import CaptionBar, Footer, MessageBar, StartSheet
from sornix.desk.files import Files
from sornix.desk.ledger import Ledger
from sornix.desk.menus import window_acts
from sornix.desk.paper import Paper, Reading
from sornix.desk.statement import Statement
from sornix.desk.theme import LIGHT, style_sheet
from sornix.desk.tray import Tray
from sornix.desk.workbench import Workbench
from sornix.desk.worker import Worker
from sornix.paint import QtMeasure, export, png, write_figure


class MainWindow(QMainWindow):
    """The window on one document."""

    def __init__(self) -> None:
        super().__init__()
        self.bench = Workbench(QtMeasure())
        self.worker = Worker()
        self.files = Files(self)
        self._closing = False
        self.setStyleSheet(style_sheet(LIGHT))
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(900, 560)
        self.message = MessageBar()
        self.statement = Statement(self.bench)
        self.paper = Paper(LIGHT)
        self.caption = CaptionBar(self.copy_caption)
        self.tray = Tray(LIGHT)
        self.ledger = Ledger(self._copy_text)
        self.footer = Footer()
        self.start = StartSheet()
        top = self._make_top_bar()
        self._lay_out(top)
        self.menus = Menus(self._menu_bar, self, window_acts(self))
        self._connect()
        self._show_state()

    # -- building ----------------------------------------------------------------------------

    def _make_top_bar(self) -> QWidget:
        bar = QWidget()
        bar.setObjectName("topBar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(bar)
        row.setContentsMargins(0, 2, 14, 2)
        row.setSpacing(8)
        self._name = QLabel()
        self._menu_bar = QMenuBar()
        self._menu_bar.setNativeMenuBar(False)
        self._menu_bar.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        row.addWidget(self._name)
        row.addWidget(self._menu_bar, 1, Qt.AlignmentFlag.AlignVCenter)
        self._undo = QPushButton("↶")
        self._redo = QPushButton("↷")
        self._copy = QPushButton("Copy figure")
        self._export = QPushButton("Export…")
        for button in (self._undo, self._redo, self._copy, self._export):
            row.addWidget(button)
        return bar

    def _lay_out(self, top: QWidget) -> None:
        middle = QWidget()
        middle.setObjectName("ground")
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.statement)
        column.addWidget(self.message)
        column.addWidget(self.paper, 100)
        column.addWidget(self.caption)
        column.addStretch(1)
        self._splitter = QSplitter()
        self._splitter.setHandleWidth(1)
        self._splitter.setChildrenCollapsible(False)
        for part, width in ((self.tray, 150), (middle, 480), (self.ledger, 220)):
            part.setMinimumWidth(width)
            self._splitter.addWidget(part)
        self._splitter.setSizes([270, 726, 284])
        self._splitter.setStretchFactor(1, 1)
        self._splitter.setStretchFactor(0, 0)
        self._splitter.setStretchFactor(2, 0)
        empty = QWidget()
        empty.setObjectName("ground")
        empty.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        around = QVBoxLayout(empty)
        self._empty_message = MessageBar()
        around.setContentsMargins(0, 0, 0, 0)
        around.addWidget(self._empty_message)
        holder = QHBoxLayout()
        holder.addStretch(1)
        self.start.setFixedSize(660, 430)
        holder.addWidget(self.start)
        holder.addStretch(1)
        around.addStretch(1)
        around.addLayout(holder)
        around.addStretch(2)
        self._stack = QStackedWidget()
        self._stack.addWidget(empty)
        self._stack.addWidget(self._splitter)
        body = QWidget()
        whole = QVBoxLayout(body)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(top)
        whole.addWidget(self._stack, 1)
        whole.addWidget(self.footer)
        self.setCentralWidget(body)

    def _connect(self) -> None:
        self.bench.changed.connect(self._show_scene)
        self.bench.file_changed.connect(self._show_state)
        self.bench.refused.connect(self.say)
        self.worker.busy_changed.connect(self._show_busy)
        self.paper.hovered.connect(self._hovered)
        self.paper.picked.connect(self._picked)
        self.paper.retitled.connect(self._retitle)
        self.tray.rows_selected.connect(self.paper.light_rows)
        self.start.open_wanted.connect(self.ask_open)
        self.start.demo_wanted.connect(self.open_demo)
        self._undo.clicked.connect(self.bench.undo)
        self._redo.clicked.connect(self.bench.redo)
        self._copy.clicked.connect(self.copy_figure)
        self._export.clicked.connect(self.ask_export)

    # -- showing -----------------------------------------------------------------------------

    def _show_scene(self) -> None:
        scene = self.bench.scene
        if scene is None:
            return
        self.message.hide()
        self._empty_message.hide()
        self._stack.setCurrentIndex(1)
        self.statement.show_scene(scene)
        self.paper.show_scene(scene)
        self.caption.show_scene(scene)
        self.tray.show_scene(scene)
        self.ledger.show_scene(scene)
        self.footer.show_scene(scene)
        self._show_state()

    def _show_state(self) -> None:
        bench = self.bench
        has_document = bench.document is not None
        self._name.setText(bench.name or "Sornix")
        unsaved = bench.has_unsaved_changes
        self.setWindowTitle(f"{bench.name} – Sornix" if has_document else "Sornix")
        state = "not saved" if unsaved else "saved" if bench.path else ""
        self.footer.state.setText(state)
        for button, name, shortcut in (
            (self._undo, bench.undo_name, "undo"),
            (self._redo, bench.redo_name, "redo"),
        ):
            button.setEnabled(bool(name))
            words = f"{shortcut.capitalize()}: {name}" if name else f"Nothing to {shortcut}"
            button.setToolTip(words)
            button.setAccessibleName(words)
        self._copy.setEnabled(has_document)
        self._export.setEnabled(has_document)
        self.menus.update()

    def _show_busy(self, words: str) -> None:
        if words:
            self.footer.state.setText(words)
        else:
            self._show_state()

    def say(self, sentence: str) -> None:
        """Shows a message until the next change."""
        bar = self.message if self.bench.scene is not None else self._empty_message
        bar.say(sentence)

    def _say_error(self, error: SornixError) -> None:
        self.say(str(error))

    def _hovered(self, reading: Reading | None) -> None:
        self.footer.show_reading(reading)

    def _picked(self, reading: Reading | None) -> None:
        self.tray.light_row(reading.row if reading else None)

    # -- files -------------------------------------------------------------------------------

    def ask_open(self) -> None:
        self.files.ask_open(self.open_path)

    def open_path(self, path: Path) -> None:
        """Opens a file in place of the present document, after asking about unsaved changes."""
        self._unless_losing(lambda: self._open(path))

    def _open(self, path: Path) -> None:
        def work() -> Document:
            if path.suffix.lower() == ENDING:
                return load_document(path)
            return new_document(read_delimited(path))

        def done(document: Document) -> None:
            saved = path if path.suffix.lower() == ENDING else None
            self.bench.begin(document, path=saved, name=path.stem)
            self.paper.setFocus()

        self.worker.start(f"opening {path.name}…", work, done, self._say_error)

    def open_demo(self, name: str) -> None:
        """Opens a demo figure as a document that is not saved anywhere yet."""

        def done(document: Document) -> None:
            self.bench.begin(document, path=None, name=DEMOS[name].words)
            self.paper.setFocus()

        def go() -> None:
            self.worker.start(
                "opening the demo…",
                lambda: demo_document(name),
                done,
                self._say_error,
            )

        self._unless_losing(go)

    def save(self) -> None:
        if self.bench.path is not None:
            self._save(self.bench.path)
        else:
            self.save_as()

    def save_as(self) -> None:
        if self.bench.document is not None:
            self.files.ask_save(self.bench.name, self._save)

    def _save(self, path: Path) -> None:
        scene = self.bench.scene
        if scene is None:
            return
        document = scene.document
        preview = png(scene.drawing, 150)
        self.worker.start(
            f"saving {path.name}…",
            lambda: save_document(document, path, preview),
            lambda _: self.bench.saved(document, path),
            self._say_error,
        )

    def ask_export(self) -> None:
        if self.bench.scene is not None:
            self.files.ask_export(self.bench.name, self.export_to)

    def export_to(self, path: Path) -> None:
        """Writes the figure as PNG, SVG or PDF, by the ending of the path."""
        if self.bench.scene is None:
            return
        try:
            write_figure(self.bench.scene.drawing, path)
        except SornixError as error:
            self._say_error(error)
        else:
            self.footer.state.setText(f"written to {path.name}")

    def copy_figure(self) -> None:
        """Puts the figure on the clipboard as picture and as SVG, with its caption as text."""
        clipboard = QApplication.clipboard()
        if self.bench.scene is None or clipboard is None:
            return
        drawing: Drawing = self.bench.scene.drawing
        data = QMimeData()
        data.setData("image/png", QByteArray(png(drawing)))
        data.setData("image/svg+xml", QByteArray(export(drawing, ".svg")))
        data.setText(self.bench.scene.caption)
        clipboard.setMimeData(data)
        self.footer.state.setText("figure copied")

    def copy_caption(self) -> None:
        if self.bench.scene is not None:
            self._copy_text(self.bench.scene.caption)

    def copy_numbers(self) -> None:
        self._copy_text(self.ledger.text)

    def _copy_text(self, text: str) -> None:
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(text)
            self.footer.state.setText("copied")

    # -- edits from menus and titles ----------------------------------------------------------

    def edit(self, name: str, change: Callable[[Figure], Figure]) -> None:
        self.bench.edit(name, change)

    def _retitle(self, of: str, text: str) -> None:
        if of == "title":
            self.edit("changed the title", lambda f: edits.set_title(f, text))
            return
        scene, axis = self.bench.scene, of[0]
        if scene is None or text == edits.axis_title(scene.figure.panel, scene.tables, axis):
            return
        self.edit(
            f"changed the title of {axis}",
            lambda f: edits.set_axis_title(f, axis, text.strip() or None),
        )

    def toggle(self, part: QWidget) -> None:
        """Folds a part of the window away, or brings it back."""
        part.setVisible(part.isHidden())

    # -- closing -----------------------------------------------------------------------------

    def _unless_losing(self, go_on: Callable[[], None]) -> None:
        if self.bench.has_unsaved_changes:
            self.files.ask_before_losing(self.bench.name, self.save, go_on)
        else:
            go_on()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if self._closing or not self.bench.has_unsaved_changes:
            self.worker.wait()
            event.accept()
            return
        event.ignore()
        self.files.ask_before_losing(self.bench.name, self.save, self.close_without_asking)

    def close_without_asking(self) -> None:
        """Closes the window; what is not saved is lost."""
        self._closing = True
        self.close()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and _dropped_file(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        path = _dropped_file(event.mimeData()) if event is not None else None
        if event is not None and path is not None:
            event.acceptProposedAction()
            self.open_path(path)


def _dropped_file(data: QMimeData | None) -> Path | None:
    urls = data.urls() if data is not None else []
    local = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    return local[0] if local else None
