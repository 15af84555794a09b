"""Where files are written to: a name and a folder, as dialogs ask for them."""

from collections.abc import Container
from pathlib import Path

from PyQt6.QtWidgets import QDialog, QFileDialog, QLineEdit, QPushButton

from sornix.core.errors import EditRefused


def folder_button(dialog: QDialog, field: QLineEdit) -> QPushButton:
    """A button of a dialog that lets the folder of a field be chosen."""
    button = QPushButton("Choose…")
    button.setAccessibleName("Choose the folder")
    button.setAutoDefault(False)
    button.clicked.connect(lambda: _ask_folder(dialog, field))
    return button


def _ask_folder(parent: QDialog, field: QLineEdit) -> None:
    dialog = QFileDialog(parent, "Folder to write into", field.text())
    dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
    dialog.setFileMode(QFileDialog.FileMode.Directory)
    dialog.fileSelected.connect(field.setText)
    dialog.finished.connect(dialog.deleteLater)
    dialog.open()


def typed_place(name: QLineEdit, folder: QLineEdit, endings: Container[str]) -> tuple[Path, str]:
    """The folder and the name of the files, without one of the `endings`. Raises EditRefused."""
    stem = name.text().strip()
    # a typed ending says what is ticked anyway
    if Path(stem).suffix.lower() in endings:
        stem = Path(stem).stem
    if not stem or "/" in stem:
        raise EditRefused("Give the files a name.")
    place = Path(folder.text().strip()).expanduser()
    if not place.is_dir():
        raise EditRefused(f"There is no folder {place}.")
    return place, stem
