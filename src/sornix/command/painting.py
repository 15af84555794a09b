"""Drawing without a window: what commands need of Qt, and only when they draw."""

import os
from pathlib import Path

from sornix.core.document import ENDING, Document, save_document
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


def write_out(document: Document, path: Path) -> None:
    """Writes a document as figure or as document, by the ending of `path`. Raises DocumentError."""
    ending = path.suffix.lower()
    if ending not in (*FIGURE_ENDINGS, ENDING):
        raise DocumentError(
            f"Figures cannot be written as “{path.suffix or 'a file without ending'}”.",
            where=str(path),
            remedy=f"Let the name end in {', '.join(FIGURE_ENDINGS)} or {ENDING}.",
        )
    drawing = drawing_of(document)
    from sornix.paint.export import preview, write_figure

    if ending == ENDING:
        save_document(document, path, preview(drawing))
    else:
        write_figure(drawing, path)
