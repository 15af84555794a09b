"""Drawing without a window: what commands need of Qt, and only when they draw."""

import os
from pathlib import Path

from sornix.core.document import Document
from sornix.core.drawing import Drawing, draw_figure
from sornix.core.errors import DocumentError

FIGURE_ENDINGS = (".png", ".svg", ".pdf")

_application: list[object] = []


def drawing_of(document: Document) -> Drawing:
    """The display list of a document's figure, measured with the figures' own typeface."""
    _ready_to_paint()
    from sornix.paint.measure import QtMeasure

    return draw_figure(document.figure, document.tables, QtMeasure())


def _ready_to_paint() -> None:
    """Fonts need an application object; without a window it needs no display."""
    from PyQt6.QtGui import QGuiApplication

    from sornix.paint.fonts import load_fonts

    if QGuiApplication.instance() is None:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        # kept for the life of the process: Qt takes the fonts away with it
        _application.append(QGuiApplication(["sornix"]))
    load_fonts()


def make_folder(folder: Path, remedy: str = "") -> None:
    """Makes the folder to write into. Raises DocumentError."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise DocumentError(
            f"The folder cannot be made ({error.strerror}).", where=str(folder), remedy=remedy
        ) from error


def planned(document: Document, drawing: Drawing, path: Path) -> list[Path]:
    """The files that `write_out` would write."""
    from sornix.paint import exportfiles

    return exportfiles.planned(document, drawing, path)


def write_out(document: Document, path: Path, drawing: Drawing | None = None) -> list[Path]:
    """Writes a document as figure, as the numbers drawn or as document, by the ending of `path`;
    gives the files written. Raises DocumentError."""
    from sornix.paint import exportfiles

    exportfiles.check_ending(path)
    return exportfiles.write_out(document, drawing or drawing_of(document), path)
