"""Exporting: several formats at once, with their sizes and names told before."""

from collections.abc import Callable, Mapping
from functools import cached_property
from pathlib import Path
from typing import NamedTuple

from attrs import evolve
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from sornix.core.document import EXPORT_ENDINGS, Export
from sornix.core.errors import EditRefused
from sornix.core.figure.model.checks import limits_of
from sornix.core.text import parse_number, plural, shortest
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.dialogs.places import folder_button, typed_place
from sornix.gui.session.readout import size_words
from sornix.gui.session.scene import Scene
from sornix.paint.export import picture_size


def _with_keys(formats: Mapping[str, str]) -> dict[str, str]:
    """The words of formats, each with a letter of its own as its key."""
    taken: set[str] = set()
    found = {}
    for ending, words in formats.items():
        at = next((i for i, sign in enumerate(words) if sign.lower() not in taken), 0)
        taken.add(words[at].lower())
        found[ending] = f"{words[:at]}&{words[at:]}"
    return found


class Chosen(NamedTuple):
    """What is to be written: how, into which folder, under which name."""

    export: Export
    folder: Path
    name: str

    @property
    def paths(self) -> list[Path]:
        return [self.folder / f"{self.name}{ending}" for ending in self.export.endings]


class ExportDialog(QDialog):
    """`take` gets what was chosen."""

    def __init__(
        self,
        parent: QWidget,
        scene: Scene,
        folder: Path,
        name: str,
        take: Callable[[Chosen], object],
    ) -> None:
        super().__init__(parent)
        self._scene, self._take = scene, take
        how = scene.document.export
        self.setWindowTitle("Export the figure")
        self.setMinimumWidth(560)
        whole = QVBoxLayout(self)
        whole.setSpacing(8)
        size = plain_label(f"The figure is {size_words(scene)}.")
        size.setObjectName("notes")
        whole.addWidget(size)
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(1, 1)
        self.formats = {e: QCheckBox(words) for e, words in _with_keys(EXPORT_ENDINGS).items()}
        self.told = {ending: plain_label() for ending in EXPORT_ENDINGS}
        for row, (ending, box) in enumerate(self.formats.items()):
            box.setChecked(ending in how.endings)
            box.toggled.connect(self._tell)
            grid.addWidget(box, 2 * row, 0)
            self.told[ending].setObjectName("notes")
            grid.addWidget(self.told[ending], 2 * row, 1)
        self._picture_row(grid, 1, how)
        self._svg_row(grid, 3, how)
        whole.addLayout(grid)
        self.transparent = QCheckBox("Pictures and drawings &without the paper (transparent)")
        self.transparent.setChecked(how.transparent)
        whole.addWidget(self.transparent)
        self._place_rows(whole, folder, name)
        self.summary = plain_label()
        self.summary.setWordWrap(True)
        self.summary.setMinimumHeight(40)
        whole.addWidget(self.summary)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        button = buttons.addButton("Export", QDialogButtonBox.ButtonRole.AcceptRole)
        assert button is not None
        self.export = button
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        whole.addWidget(buttons)
        self.finished.connect(self.deleteLater)
        self._tell()
        self.open()
        self.name.setFocus()
        self.name.selectAll()

    def _picture_row(self, grid: QGridLayout, row: int, how: Export) -> None:
        """Dots to the inch, or in all."""
        self.dots = QLineEdit(shortest(how.dots_per_inch, 0))
        self.width_px = QLineEdit(str(how.width_px or ""))
        for field, name, wide in (
            (self.dots, "Dots to the inch", 56),
            (self.width_px, "Width in dots, in place of dots to the inch", 64),
        ):
            field.setAccessibleName(name)
            field.setToolTip(plain_tip(name))
            field.setFixedWidth(wide)
            field.textChanged.connect(self._tell)
        between, behind = plain_label("dots to the inch, or"), plain_label("dots wide")
        grid.addLayout(_row(self.dots, between, self.width_px, behind), row, 0, 1, 2)

    def _svg_row(self, grid: QGridLayout, row: int, how: Export) -> None:
        self.as_text = QRadioButton("text as text")
        self.as_outlines = QRadioButton("text as outlines, the same on every machine")
        group = QButtonGroup(self)
        for button in (self.as_text, self.as_outlines):
            group.addButton(button)
        (self.as_outlines if how.outlines else self.as_text).setChecked(True)
        grid.addLayout(_row(self.as_text, self.as_outlines), row, 0, 1, 2)

    def _place_rows(self, whole: QVBoxLayout, folder: Path, name: str) -> None:
        self.name = QLineEdit(name)
        self.folder = QLineEdit(str(folder))
        for field, words, more in (
            (self.name, "&Name:", ()),
            (self.folder, "&Folder:", (folder_button(self, self.folder),)),
        ):
            label = plain_label(words)
            label.setBuddy(field)
            label.setFixedWidth(60)
            field.setAccessibleName(words.replace("&", "").rstrip(":"))
            field.textChanged.connect(self._tell)
            row = QHBoxLayout()
            for part in (label, field, *more):
                row.addWidget(part, 1 if part is field else 0)
            whole.addLayout(row)

    # -- what is chosen ------------------------------------------------------------------------

    def chosen(self) -> Chosen:
        """What the fields say. Raises EditRefused."""
        endings = tuple(e for e in EXPORT_ENDINGS if self.formats[e].isChecked())
        if not endings:
            raise EditRefused("Tick at least one format.")
        how = evolve(
            self._scene.document.export,
            transparent=self.transparent.isChecked(),
            outlines=self.as_outlines.isChecked(),
            endings=endings,
        )
        if self.formats[".png"].isChecked():
            how = self._with_dots(how)
        folder, name = typed_place(self.name, self.folder, EXPORT_ENDINGS)
        return Chosen(how, folder, name)

    def _with_dots(self, how: Export) -> Export:
        typed = self.width_px.text().strip()
        try:
            if typed:
                return evolve(how, width_px=round(parse_number(typed)))
            return evolve(how, width_px=None, dots_per_inch=parse_number(self.dots.text()))
        except ValueError as error:
            raise EditRefused(
                f"A picture has {limits_of(Export, 'dots_per_inch').words} dots to the inch, or is "
                f"{limits_of(Export, 'width_px').words} dots wide."
            ) from error

    def _tell(self) -> None:
        """Says what would be written."""
        try:
            chosen = self.chosen()
        except EditRefused as error:
            self.summary.setText(str(error))
            self.export.setEnabled(False)
            return
        self.export.setEnabled(True)
        drawing = self._scene.drawing
        width, height = picture_size(drawing, chosen.export)
        dots = shortest(width / drawing.width_mm * 25.4, 0.5)
        mm = size_words(self._scene)
        self.told[".png"].setText(f"{width} × {height} dots, {dots} to the inch, {mm}")
        for ending in (".svg", ".pdf"):
            self.told[ending].setText(mm)
        self.told[".html"].setText("one file, for any browser")
        files = [path for path in chosen.paths if path.suffix != ".csv"]
        numbers = [path for path in chosen.paths if path.suffix == ".csv"]
        if numbers:
            listed = [numbers[0].with_name(numbers[0].stem + end) for end in self._number_endings]
            self.told[".csv"].setText(plural(len(listed), "file"))
            files += listed
        said = "Writes " + ", ".join(path.name for path in files) + "."
        there = [path.name for path in files if path.exists()]
        if there:
            said += f" Replaces {', '.join(there)}."
        self.export.setText("Replace and export" if there else "Export")
        self.summary.setText(said)

    @cached_property
    def _number_endings(self) -> list[str]:
        """What the files with numbers have behind the name."""
        from sornix.paint.exportfiles import number_paths

        found = number_paths(self._scene.document, self._scene.drawing, Path("x.csv"))
        return [path.name.removeprefix("x") for path in found]

    def _finish(self) -> None:
        self._take(self.chosen())
        self.accept()


def _row(*parts: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setContentsMargins(24, 0, 0, 4)
    row.setSpacing(6)
    for part in parts:
        row.addWidget(part)
    row.addStretch(1)
    return row
