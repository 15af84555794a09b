"""Asking for files, and the question before something would be lost."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from sornix.core.document import ENDING
from sornix.core.readings.formats.sources import FILE_TYPES
from sornix.gui.base.plain import plain_question


def _endings() -> str:
    """The endings of all types of file, as a dialog has them."""
    return " ".join(f"*{ending}" for kind in FILE_TYPES.values() for ending in kind.endings)


_READINGS = f"Readings and documents ({_endings()} *{ENDING});;All files (*)"
# Ways of writing a table: separator, and whether spreadsheets are told of the letters.
_TABLES = {
    "CSV (*.csv)": (",", False),
    "CSV for spreadsheets (*.csv)": (",", True),
    "Tab-separated text (*.tsv)": ("\t", False),
}
_DOCUMENTS = f"Sornix documents (*{ENDING})"


class Files:
    """File dialogs of the window. They do not block: the answer comes by a call."""

    def __init__(self, parent: QWidget) -> None:
        self._parent = parent
        self.folder = Path.cwd()

    def ask_open(
        self, then: Callable[[Path], None], title: str = "Open readings or a document"
    ) -> None:
        dialog = self._dialog(title, _READINGS)
        dialog.setFileMode(QFileDialog.FileMode.ExistingFile)
        self._open(dialog, then)

    def ask_several(self, title: str, then: Callable[[list[Path]], None]) -> None:
        """`then` gets one file or more, in the order of their names."""
        dialog = self._dialog(title, _READINGS)
        dialog.setFileMode(QFileDialog.FileMode.ExistingFiles)

        def take(names: list[str]) -> None:
            paths = sorted(Path(name) for name in names)
            self.folder = paths[0].parent
            then(paths)

        dialog.filesSelected.connect(take)
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def ask_save(
        self, name: str, then: Callable[[Path], None], title: str = "Save the document"
    ) -> None:
        dialog = self._dialog(title, _DOCUMENTS)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(ENDING.lstrip("."))
        dialog.selectFile(name + ENDING)
        self._open(dialog, then)

    def ask_save_table(self, name: str, then: Callable[..., None]) -> None:
        """`then` gets the path, the separator and `for_spreadsheets`."""
        dialog = self._dialog("Save the table", ";;".join(_TABLES))
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("csv")
        dialog.filterSelected.connect(
            lambda text: dialog.setDefaultSuffix(text.rsplit("*.", 1)[1].rstrip(")"))
        )
        dialog.selectFile(name)

        def take(path: Path) -> None:
            separator, for_spreadsheets = _TABLES[dialog.selectedNameFilter()]
            then(path, separator, for_spreadsheets=for_spreadsheets)

        self._open(dialog, take)

    def _ask_written(
        self, title: str, filters: str, ending: str, name: str, then: Callable[[Path], None]
    ) -> None:
        """Asks for a file to write, whose ending follows the type that is chosen."""
        dialog = self._dialog(title, filters)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(ending)
        dialog.filterSelected.connect(
            lambda text: dialog.setDefaultSuffix(text.rsplit("*.", 1)[1].rstrip(")"))
        )
        dialog.selectFile(name)
        self._open(dialog, then)

    def ask_report(self, name: str, then: Callable[[Path], None]) -> None:
        from sornix.core.trends.fits.report import FORM_WORDS

        kinds = ";;".join(f"{words} (*.{ending})" for ending, words in FORM_WORDS.items())
        self._ask_written("Save a report of the trends", kinds, "txt", name, then)

    def _dialog(self, title: str, filters: str) -> QFileDialog:
        dialog = QFileDialog(self._parent, title, str(self.folder), filters)
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        return dialog

    def _open(self, dialog: QFileDialog, then: Callable[[Path], None]) -> None:
        def take(text: str) -> None:
            path = Path(text)
            self.folder = path.parent
            then(path)

        dialog.fileSelected.connect(take)
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def ask_before_losing(
        self, name: str, save: Callable[[], None], go_on: Callable[[], None]
    ) -> None:
        """Asks whether to save changes; `go_on` follows only if they are not wanted."""
        box = plain_question(
            self._parent, f"Save the changes to “{name}”?", "They are lost otherwise."
        )
        buttons = QMessageBox.StandardButton
        box.setStandardButtons(buttons.Save | buttons.Discard | buttons.Cancel)
        box.setDefaultButton(buttons.Save)

        def answered(_result: int) -> None:
            clicked = box.standardButton(box.clickedButton())
            box.deleteLater()
            if clicked == buttons.Save:
                save()
            elif clicked == buttons.Discard:
                go_on()

        box.finished.connect(answered)
        box.open()
