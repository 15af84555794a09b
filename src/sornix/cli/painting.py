"""Drawing without a window: what commands need of Qt, and only when they draw."""

from pathlib import Path

from sornix.core.document import Document
from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError

FIGURE_ENDINGS = (".png", ".svg", ".pdf")


def drawing_of(document: Document) -> Drawing:
    """The display list of a document's figure, measured with the figures' own typeface."""
    from sornix.paint import offscreen

    return offscreen.drawing_of(document)


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
