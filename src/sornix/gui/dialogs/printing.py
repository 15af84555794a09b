"""Printing with a preview: at true size or as large as the sheet allows."""

from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

from PyQt6.QtCore import QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QPageLayout, QPageSize, QPainter
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter, QPrintPreviewWidget
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError, SornixError
from sornix.core.files import write_atomically
from sornix.core.text import shortest
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.paint.painter import paint

_MARGIN_MM = 15.0
_SIZES = {"true": "at its true size", "page": "as large as the sheet allows"}
_SHEETS = {
    "A4": QPageSize.PageSizeId.A4,
    "A3": QPageSize.PageSizeId.A3,
    "A5": QPageSize.PageSizeId.A5,
    "Letter": QPageSize.PageSizeId.Letter,
}
_WAYS = {
    "upright": QPageLayout.Orientation.Portrait,
    "lying": QPageLayout.Orientation.Landscape,
}


def place_on_sheet(drawing: Drawing, sheet: QSizeF, *, whole: bool) -> QRectF:
    """Where the figure stands on a sheet in mm: in the middle, at its true size, or as large as the
    margins leave room where the `whole` sheet is wanted or it would not fit."""
    room = sheet.width() - 2 * _MARGIN_MM, sheet.height() - 2 * _MARGIN_MM
    fits = min(room[0] / drawing.width_mm, room[1] / drawing.height_mm)
    scale = fits if whole or fits < 1 else 1.0
    width, height = drawing.width_mm * scale, drawing.height_mm * scale
    return QRectF((sheet.width() - width) / 2, (sheet.height() - height) / 2, width, height)


def print_drawing(drawing: Drawing, printer: QPrinter, *, whole: bool) -> None:
    """Prints the figure on the sheet that the printer has. Raises DocumentError."""
    sheet = printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter).size()
    place = place_on_sheet(drawing, sheet, whole=whole)
    units = printer.resolution() / 25.4
    printer.setFullPage(True)
    painter = QPainter()
    if not painter.begin(printer):
        raise DocumentError("The printer does not take it.", remedy="See whether it is there.")
    painter.translate(place.left() * units, place.top() * units)
    paint(drawing, painter, units * place.width() / drawing.width_mm)
    painter.end()


class PrintDialog(QDialog):
    """A preview, what can be chosen about it, and where it goes."""

    def __init__(
        self, parent: QWidget, drawing: Drawing, name: str, told: Callable[[str], object]
    ) -> None:
        super().__init__(parent)
        self._drawing, self._name, self._told = drawing, name, told
        self.setWindowTitle("Print the figure")
        self.resize(640, 720)
        self.printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        self.printer.setDocName(name)
        self.printer.setCreator("Sornix")
        self.size_word = self._combo("Size on the sheet", _SIZES)
        self.sheet = self._combo("Sheet", {name: name for name in _SHEETS})
        self.way = self._combo("How the sheet lies", {name: name for name in _WAYS})
        if drawing.width_mm > drawing.height_mm and drawing.width_mm > 210 - 2 * _MARGIN_MM:
            self.way.setCurrentIndex(1)
        self.said = plain_label()
        self.said.setObjectName("notes")
        self._lay_sheet()
        self.preview = QPrintPreviewWidget(self.printer)
        self.preview.setAccessibleName("The sheet as it will be printed")
        self.preview.paintRequested.connect(self.draw)
        words = QHBoxLayout()
        for part in (
            plain_label("Print it"),
            self.size_word,
            plain_label("on"),
            self.sheet,
            self.way,
        ):
            words.addWidget(part)
        words.addStretch(1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        actions = QDialogButtonBox.ButtonRole.ActionRole
        to_file = buttons.addButton("To a PDF file…", actions)
        to_printer = buttons.addButton("Print…", QDialogButtonBox.ButtonRole.AcceptRole)
        assert to_file is not None and to_printer is not None
        to_file.clicked.connect(self._ask_file)
        buttons.accepted.connect(self._ask_printer)
        buttons.rejected.connect(self.reject)
        whole = QVBoxLayout(self)
        whole.addLayout(words)
        whole.addWidget(self.said)
        whole.addWidget(self.preview, 1)
        whole.addWidget(buttons)
        self.finished.connect(self.deleteLater)
        self._change()
        self.open()

    def _combo(self, name: str, words: dict[str, str]) -> QComboBox:
        combo = QComboBox()
        combo.setAccessibleName(name)
        combo.setToolTip(plain_tip(name))
        for key, text in words.items():
            combo.addItem(text, key)
        combo.currentIndexChanged.connect(self._change)
        return combo

    @property
    def _whole(self) -> bool:
        return bool(self.size_word.currentData() == "page")

    def _lay_sheet(self) -> None:
        layout = QPageLayout(
            QPageSize(_SHEETS[self.sheet.currentData()]),
            _WAYS[self.way.currentData()],
            QMarginsF(0, 0, 0, 0),
        )
        self.printer.setPageLayout(layout)

    def _change(self) -> None:
        if not hasattr(self, "preview"):
            return
        self._lay_sheet()
        sheet = self.printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter).size()
        place = place_on_sheet(self._drawing, sheet, whole=self._whole)
        mm = " × ".join(shortest(side, 0.05) for side in (place.width(), place.height()))
        smaller = place.width() < self._drawing.width_mm - 0.01
        more = ": smaller than its true size, which has no room" if smaller else ""
        self.said.setText(f"{mm} mm on the sheet{more}")
        self.preview.updatePreview()

    def draw(self, printer: QPrinter) -> None:
        """Draws the sheet as it is chosen now."""
        print_drawing(self._drawing, printer, whole=self._whole)

    def _ask_printer(self) -> None:
        dialog = QPrintDialog(self.printer, self)

        def send() -> None:
            try:
                self.draw(self.printer)
            except SornixError as error:
                self.said.setText(str(error))
                return
            self._told(f"sent to {self.printer.printerName() or 'the printer'}")
            self.accept()

        dialog.accepted.connect(send)
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def _ask_file(self) -> None:
        dialog = QFileDialog(self, "Print to a PDF file", "", "PDF document (*.pdf)")
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("pdf")
        dialog.selectFile(f"{self._name} (sheet)")
        dialog.fileSelected.connect(lambda text: self.print_to(Path(text)))
        dialog.finished.connect(dialog.deleteLater)
        dialog.open()

    def print_to(self, path: Path) -> None:
        """Prints the sheet into a PDF file."""
        try:
            with TemporaryDirectory() as folder:
                sheet = Path(folder) / "sheet.pdf"
                self.printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
                self.printer.setOutputFileName(str(sheet))
                self.draw(self.printer)
                write_atomically(path, sheet.read_bytes())
        except (SornixError, OSError) as error:
            self.said.setText(str(error))
            return
        self._told(f"printed to {path.name}")
        self.accept()
