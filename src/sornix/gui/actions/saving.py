"""Saving a document, and what may stand in the way of it."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QPlainTextEdit, QVBoxLayout, QWidget

from sornix.core.document import ENDING, Document, load_document, save_document
from sornix.core.document.differences import differences
from sornix.core.document.stored.tablejson import told_by_name
from sornix.core.files import FileState, is_read_only
from sornix.gui.base.plain import plain_label

if TYPE_CHECKING:
    from collections.abc import Callable

    from sornix.core.errors import SornixError
    from sornix.gui.actions.atwork import AtWork

CHANGED, READ_ONLY = "changed", "read-only"


def hindrance(path: Path, known: FileState | None) -> str:
    """What stands in the way of writing a document to a file: that it is `read-only`, or `changed`
    since it was `known`; "" where nothing does."""
    try:
        if known is not None and not known.is_still(path):
            return CHANGED
    except OSError:
        # it is gone, and is written anew
        return ""
    return READ_ONLY if is_read_only(path) else ""


class Saving:
    """The acts by which a window's document comes into its file."""

    def __init__(self, window: AtWork) -> None:
        self._window = window
        # the question that is open, or was last
        self.dialog: HindranceDialog | None = None

    def save(self) -> None:
        bench = self._window.bench
        if bench.path is not None:
            self._save(bench.path, bench.file_state)
        else:
            self.save_as()

    def save_as(self) -> None:
        if self._window.bench.document is not None:
            self._window.files.ask_save(
                self._window.bench.name, lambda path: self._save(path, None)
            )

    def save_pattern(self) -> None:
        """Saves the document as one that asks for readings when it is opened."""
        window = self._window

        def save(path: Path) -> None:
            self._save(path, None, pattern=True)

        if window.bench.document is not None:
            window.files.ask_save(f"{window.bench.name} pattern", save, "Save as a pattern")

    def _save(
        self, path: Path, known: FileState | None, *, sure: bool = False, pattern: bool = False
    ) -> None:
        """Writes the document, and asks first where something is in the way, unless it is `sure`
        that it may."""
        # a picture for lists of files: no trend that takes long is waited for
        scene = self._window.bench.scene
        if scene is None:
            return
        from attrs import evolve

        from sornix.paint.export import preview

        document = evolve(scene.document, pattern=True) if pattern else scene.document
        picture = preview(scene.drawing)

        def work() -> FileState | str | None:
            found = "" if sure else hindrance(path, known)
            return found or save_document(document, path, picture)

        def done(found: FileState | str | None) -> None:
            if isinstance(found, str):
                again = partial(self._save, sure=True, pattern=pattern)
                self._ask(found, path, document, again)
            elif pattern:
                self._window.tell(f"pattern saved: {path.name}")
            else:
                self._saved(document, path, found)

        self._window.start(f"saving {path.name}…", work, done, writes=True)

    def _saved(self, document: Document, path: Path, state: FileState | None) -> None:
        window = self._window
        window.bench.saved(document, path, state)
        window.settings.remember_file(path)
        far = [
            Path(t.source.path).name
            for t in document.tables
            if t.source is not None and told_by_name(t, path.parent)
        ]
        if far:
            window.tell(f"saved; of {', '.join(far)} the name alone, not the folder")

    def _ask(
        self, what: str, path: Path, document: Document, again: Callable[[Path, None], None]
    ) -> None:
        self.dialog = HindranceDialog(self._window.frame, path, what, again)
        if what == CHANGED:
            dialog = self.dialog
            self._window.start(
                "comparing…",
                lambda: differences(document, load_document(path)),
                dialog.show_differences,
                failed=dialog.show_problem,
            )


class HindranceDialog(QDialog):
    """Asks before a file is replaced that somebody else changed, or that is not to be written to.
    `save` gets the path to save to."""

    def __init__(
        self, parent: QWidget, path: Path, what: str, save: Callable[[Path, None], None]
    ) -> None:
        super().__init__(parent)
        self._path, self._save = path, save
        self._open = True
        self.setWindowTitle("Before it is saved")
        self.resize(560, 340 if what == CHANGED else 160)
        whole = QVBoxLayout(self)
        said = plain_label(
            f"{path.name} was changed by another window or program after it was opened here. "
            "If it is replaced, what was changed there is lost."
            if what == CHANGED
            else f"{path.name} is write-protected. Is it to be replaced all the same?"
        )
        said.setWordWrap(True)
        whole.addWidget(said)
        self.differences = QPlainTextEdit("Comparing…")
        self.differences.setReadOnly(True)
        self.differences.setTabChangesFocus(True)
        self.differences.setAccessibleName("What differs")
        self.differences.setVisible(what == CHANGED)
        whole.addWidget(self.differences, 1)
        roles = QDialogButtonBox.ButtonRole
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        beside = beside_it(path)
        self.beside = buttons.addButton(f"Keep mine as {beside.name}", roles.AcceptRole)
        self.replace = buttons.addButton("Replace the file", roles.DestructiveRole)
        if self.beside is not None:
            self.beside.clicked.connect(lambda: self._answer(beside))
            self.beside.setDefault(True)
        if self.replace is not None:
            self.replace.clicked.connect(lambda: self._answer(path))
        buttons.rejected.connect(self.reject)
        whole.addWidget(buttons)
        self.finished.connect(self._closed)
        self.finished.connect(self.deleteLater)
        self.open()

    def _closed(self) -> None:
        self._open = False

    def _answer(self, path: Path) -> None:
        self.accept()
        self._save(path, None)

    def show_differences(self, lines: list[str]) -> None:
        if self._open:
            self.differences.setPlainText("\n".join(lines) or "The two say the same.")

    def show_problem(self, error: SornixError) -> None:
        if self._open:
            self.differences.setPlainText(f"The file there cannot be compared. {error.what}")


def beside_it(path: Path) -> Path:
    """A name beside a file that nothing has yet."""
    number = 2
    while (found := path.with_name(f"{path.stem} {number}{ENDING}")).exists():
        number += 1
    return found
