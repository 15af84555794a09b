"""A report of the document: what is in it, in which formats, and its pages before they are
written."""

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any, NamedTuple

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, Qt, QTimer
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPdfWidgets import QPdfView
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from sornix.core.document import Document, figure_names
from sornix.core.errors import EditRefused, SornixError
from sornix.core.report import TEMPLATES, Report, Template, read_template, report_of, report_title
from sornix.gui.base.plain import plain_label
from sornix.gui.base.worker import Worker
from sornix.gui.dialogs.places import folder_button, typed_place
from sornix.paint.measure import QtMeasure
from sornix.paint.report.pdf import report_pdf
from sornix.paint.report.writing import REPORT_ENDINGS, write_report

# The preview follows what is typed when that rests for so long.
_REST_MS = 350
_FILE = "a template in a file…"


class ReportChosen(NamedTuple):
    """A report that is to be written: how it is made, its template, and where to."""

    make: Callable[[], Report]
    template: Template
    folder: Path
    name: str
    endings: tuple[str, ...]

    @property
    def paths(self) -> list[Path]:
        return [self.folder / f"{self.name}{ending}" for ending in self.endings]

    def write(self) -> list[Path]:
        """Writes all of it; gives the files. Raises DocumentError."""
        made = self.make()
        return [file for path in self.paths for file in write_report(made, self.template, path)]


class ReportDialog(QDialog):
    """`take` gets what was chosen."""

    def __init__(
        self, parent: QWidget, document: Document, folder: Path, name: str,
        take: Callable[[ReportChosen], object],
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self._document, self._take = document, take
        self._own: Template | None = None
        self._worker = Worker()
        self._buffer: QBuffer | None = None
        self.setWindowTitle("A report of this document")
        self.resize(1120, 720)
        whole = QHBoxLayout(self)
        whole.setSpacing(14)
        fields = QVBoxLayout()
        fields.setSpacing(7)
        self._make_fields(fields, folder, name)
        side = QWidget()
        side.setLayout(fields)
        side.setFixedWidth(390)
        whole.addWidget(side)
        pages = QVBoxLayout()
        self.state = plain_label("drawing the pages…")
        self.state.setObjectName("notes")
        self.pages = QPdfDocument(self)
        self.view = QPdfView(self)
        self.view.setDocument(self.pages)
        self.view.setPageMode(QPdfView.PageMode.MultiPage)
        self.view.setZoomMode(QPdfView.ZoomMode.FitToWidth)
        self.view.setAccessibleName("The pages of the report")
        pages.addWidget(self.view, 1)
        pages.addWidget(self.state)
        whole.addLayout(pages, 1)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(_REST_MS)
        self._rest.timeout.connect(self._draw)
        self.finished.connect(self.deleteLater)
        self._changed()
        self._draw()
        self.open()
        self.title.setFocus()
        self.title.selectAll()

    def _make_fields(self, column: QVBoxLayout, folder: Path, name: str) -> None:
        names = figure_names(self._document)
        self.title = QLineEdit(report_title(self._document))
        self.date = QLineEdit(date.today().isoformat())  # noqa: DTZ011 - that of the reader
        self.template = QComboBox()
        for key, template in TEMPLATES.items():
            self.template.addItem(template.words, key)
        self.template.addItem(_FILE, None)
        self.template.activated.connect(self._choose_template)
        for words, field in (
            ("&Title", self.title), ("&Date", self.date), ("&What is said", self.template)
        ):  # fmt: skip
            _labelled(column, words, field)
        self.figures = QListWidget()
        for place, called in enumerate(names):
            item = QListWidgetItem(called)
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
            item.setData(Qt.ItemDataRole.UserRole, place)
            self.figures.addItem(item)
        self.figures.setMaximumHeight(20 * min(len(names), 7) + 8)
        self.figures.itemChanged.connect(self._changed)
        if len(names) > 1:
            _labelled(column, "&Figures", self.figures)
        self.readings = QCheckBox("with the &readings as an appendix")
        column.addWidget(self.readings)
        column.addSpacing(6)
        self.formats: dict[str, QCheckBox] = {}
        for number, (ending, words) in enumerate(REPORT_ENDINGS.items()):
            box = QCheckBox(words)
            box.setChecked(number == 0)
            box.toggled.connect(self._tell)
            self.formats[ending] = box
            column.addWidget(box)
        column.addSpacing(6)
        self.name, self.folder = QLineEdit(f"{name} report"), QLineEdit(str(folder))
        _labelled(column, "&Name", self.name)
        _labelled(column, "F&older", self.folder, folder_button(self, self.folder))
        for field in (self.title, self.date):
            field.textChanged.connect(self._changed)
        for field in (self.name, self.folder):
            field.textChanged.connect(self._tell)
        self.readings.toggled.connect(self._changed)
        self.summary = plain_label()
        self.summary.setWordWrap(True)
        column.addStretch(1)
        column.addWidget(self.summary)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        button = buttons.addButton("Write", QDialogButtonBox.ButtonRole.AcceptRole)
        assert button is not None
        self.write = button
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def _choose_template(self) -> None:
        if self.template.currentData() is not None:
            self._changed()
            return
        dialog = QFileDialog(self, "A template of reports", self.folder.text(), "JSON (*.json)")
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.fileSelected.connect(lambda path: self.read_template(Path(path)))
        dialog.rejected.connect(lambda: self.template.setCurrentIndex(0))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def read_template(self, path: Path) -> None:
        """Takes a template of the user's own; what is wrong with it is said."""
        try:
            self._own = read_template(path)
        except SornixError as error:
            self.template.setCurrentIndex(0)
            self.summary.setText(str(error))
            return
        self._changed()

    # -- what is chosen ------------------------------------------------------------------------

    def chosen(self) -> ReportChosen:
        """What the fields say. Raises EditRefused."""
        endings = tuple(ending for ending, box in self.formats.items() if box.isChecked())
        if not endings:
            raise EditRefused("Tick at least one format.")
        folder, name = typed_place(self.name, self.folder, REPORT_ENDINGS)
        return ReportChosen(self._maker(), self._template(), folder, name, endings)

    def _template(self) -> Template:
        key = self.template.currentData()
        if key is None and self._own is not None:
            return self._own
        return TEMPLATES[key or next(iter(TEMPLATES))]

    def _maker(self) -> Callable[[], Report]:
        """What makes the report, in whichever thread. Raises EditRefused without any figure."""
        items = [self.figures.item(i) for i in range(self.figures.count())]
        places = tuple(
            i for i, item in enumerate(items)
            if item is not None and item.checkState() == Qt.CheckState.Checked
        )  # fmt: skip
        if not places:
            raise EditRefused("Tick at least one figure.")
        document, title, day = self._document, self.title.text(), self.date.text().strip()
        readings = self.readings.isChecked()

        def make() -> Report:
            return report_of(
                document, QtMeasure(), title=title, date=day, readings=readings, places=places
            )

        return make

    def _changed(self) -> None:
        self._tell()
        self._rest.start()

    def _tell(self) -> None:
        """Says what would be written."""
        try:
            chosen = self.chosen()
        except EditRefused as error:
            self.summary.setText(str(error))
            self.write.setEnabled(False)
            return
        self.write.setEnabled(True)
        files = [path.name for path in chosen.paths]
        beside = ", and its pictures beside it" if ".md" in chosen.endings else ""
        there = [path.name for path in chosen.paths if path.exists()]
        said = f"Writes {', '.join(files)}{beside}."
        self.summary.setText(f"{said} Replaces {', '.join(there)}." if there else said)
        self.write.setText("Replace and write" if there else "Write")

    # -- the pages -----------------------------------------------------------------------------

    def _draw(self) -> None:
        """Draws the pages beside the window."""
        if self._worker.is_busy:
            # what goes on is of fields that have changed since
            self._rest.start()
            return
        try:
            make, template = self._maker(), self._template()
        except EditRefused:
            return
        self.state.setText("drawing the pages…")
        self._worker.start("", lambda: report_pdf(make(), template), self._show, self._failed)

    def _show(self, content: Any) -> None:
        bar = self.view.verticalScrollBar()
        at = bar.value() if bar is not None else 0
        buffer = QBuffer(self)
        buffer.setData(QByteArray(content))
        buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        self.pages.load(buffer)
        if self._buffer is not None:
            self._buffer.deleteLater()
        self._buffer = buffer
        if bar is not None:
            bar.setValue(at)
        count = self.pages.pageCount()
        self.state.setText("1 page" if count == 1 else f"{count} pages")

    def _failed(self, error: SornixError) -> None:
        self.state.setText(str(error))

    @property
    def is_drawn(self) -> bool:
        """Whether the pages are those of what is chosen."""
        return not (self._rest.isActive() or self._worker.is_busy) and self.pages.pageCount() > 0

    def _finish(self) -> None:
        try:
            chosen = self.chosen()
        except EditRefused as error:
            self.summary.setText(str(error))
            return
        self._take(chosen)
        self.accept()


def _labelled(column: QVBoxLayout, words: str, field: QWidget, *more: QWidget) -> None:
    label = plain_label(words)
    label.setBuddy(field)
    label.setObjectName("notes")
    field.setAccessibleName(words.replace("&", ""))
    column.addWidget(label)
    if not more:
        column.addWidget(field)
        return
    row = QHBoxLayout()
    row.addWidget(field, 1)
    for one in more:
        row.addWidget(one)
    column.addLayout(row)
