"""Drawing without a window, and without an application of the user's."""

import os

from PyQt6.QtGui import QGuiApplication

from sornix.core.document import Document
from sornix.core.drawing import Drawing, draw_figure
from sornix.paint.fonts import load_fonts
from sornix.paint.measure import QtMeasure

_application: list[QGuiApplication] = []


def drawing_of(document: Document) -> Drawing:
    """The display list of a document's figure, measured with the figures' own typeface."""
    ready_to_paint()
    return draw_figure(document.figure, document.tables, QtMeasure())


def ready_to_paint() -> None:
    """Fonts need an application object; without a window it needs no display."""
    if QGuiApplication.instance() is None:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        # kept for the life of the process: Qt takes the fonts away with it
        _application.append(QGuiApplication(["sornix"]))
    load_fonts()
