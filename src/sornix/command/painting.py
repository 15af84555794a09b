"""Drawing without a window: what commands need of Qt, and only when they draw."""

import os
from pathlib import Path

from sornix.core.document import ENDING, EXPORT_ENDINGS, Document, save_document, write_atomically
from sornix.core.drawing import Drawing, draw_figure, drawn_tables
from sornix.core.errors import DocumentError
from sornix.core.figure import caption
from sornix.core.readings import write_text
from sornix.core.text import plain_text, rich

FIGURE_ENDINGS = (".png", ".svg", ".pdf")
# All that a command can write.
OUT_ENDINGS = (*EXPORT_ENDINGS, ENDING)

_application: list[object] = []


def drawing_of(document: Document) -> Drawing:
    """The display list of a document's figure, measured with the figures' own typeface."""
    ready_to_paint()
    from sornix.paint.measure import QtMeasure

    return draw_figure(document.figure, document.tables, QtMeasure())


def ready_to_paint() -> None:
    """Fonts need an application object; without a window it needs no display."""
    from PyQt6.QtGui import QGuiApplication

    from sornix.paint.fonts import load_fonts

    if QGuiApplication.instance() is None:
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
        # kept for the life of the process: Qt takes the fonts away with it
        _application.append(QGuiApplication(["sornix"]))
    load_fonts()


def write_out(document: Document, path: Path) -> None:
    """Writes a document as figure, as the numbers drawn or as document, by the ending of `path`.
    Raises DocumentError."""
    ending = path.suffix.lower()
    if ending not in OUT_ENDINGS:
        raise DocumentError(
            f"Figures cannot be written as “{path.suffix or 'a file without ending'}”.",
            where=str(path),
            remedy=f"Let the name end in {', '.join(FIGURE_ENDINGS)}, .csv or {ENDING}.",
        )
    drawing = drawing_of(document)
    from sornix.paint.export import Told, preview, write_figure

    if ending == ENDING:
        save_document(document, path, preview(drawing))
    elif ending == ".csv":
        write_numbers(document, drawing, path)
    else:
        write_figure(drawing, path, document.export, Told(*told_of(document, drawing)))


def told_of(document: Document, drawing: Drawing) -> tuple[str, str]:
    """The title of a figure and its caption, for those who cannot see it."""
    equations = {name: e.text for place in drawing.panels for name, e in place.equations.items()}
    title = plain_text(rich(document.figure.said(document.figure.title)))
    return title, caption(document.figure, document.tables, equations)


def write_numbers(document: Document, drawing: Drawing, path: Path) -> list[Path]:
    """Writes what is drawn as CSV: one file, or one for each series and trend, with their names.
    Raises DocumentError."""
    import re

    tables = drawn_tables(document.figure, document.tables, drawing)
    written = []
    for table in tables:
        slug = re.sub(r"\W+", "-", table.name.casefold()).strip("-")
        target = path if len(tables) == 1 else path.with_name(f"{path.stem}-{slug}{path.suffix}")
        write_atomically(target, write_text(table, units=True))
        written.append(target)
    return written
