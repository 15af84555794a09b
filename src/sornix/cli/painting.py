"""Drawing without a window: what commands need of Qt, and only when they draw."""

from pathlib import Path

import click

from sornix.cli.answer import note_doubt
from sornix.core.document import Document
from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError, TrendImpossible, refusal

FIGURE_ENDINGS = (".png", ".svg", ".pdf")


def drawing_of(document: Document) -> Drawing:
    """The display list of a document's figure, measured with the figures' own typeface."""
    from sornix.paint import offscreen

    return offscreen.drawing_of(document)


def tell_cautions(document: Document, drawing: Drawing, called: str) -> None:
    """Says of a figure, after how it is `called`, which trends cannot be drawn and what else should
    not be passed over."""
    from sornix.core.cautions import find_cautions
    from sornix.core.figure import trend_fit, trend_words

    told = {remark for table in document.tables for remark in table.remarks}
    for index, panel in enumerate(document.figure.panels):
        for trend in panel.trends:
            try:
                trend_fit(trend, document.figure.seen(index), document.tables)
            except TrendImpossible as error:
                told.add(str(error))
                click.echo(f"{called}: no {trend_words(trend)} is drawn: {error}", err=True)
    for finding in find_cautions(document.figure, document.tables, drawing):
        if finding.loud and finding.text not in told:
            click.echo(f"{called}: {finding.text}", err=True)
            note_doubt()


def make_folder(folder: Path, remedy: str = "") -> None:
    """Makes the folder to write into. Raises DocumentError."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise DocumentError(
            f"The folder cannot be made ({refusal(error)}).", where=str(folder), remedy=remedy
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
