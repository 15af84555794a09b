"""Files that leave the bench: figures, the numbers that are drawn, and documents."""

import re
from collections.abc import Iterable
from pathlib import Path

from sornix.core.document import ENDING, Document, out_endings, save_document
from sornix.core.drawing import Drawing, drawn_names, drawn_tables
from sornix.core.errors import DocumentError
from sornix.core.figure import caption
from sornix.core.figure.prose.caption import shown_words
from sornix.core.files import write_atomically
from sornix.core.letters import printable
from sornix.core.readings import Table, unique_names, write_text
from sornix.core.text import plain_text, rich
from sornix.paint.export import Told, export, preview


def told_of(document: Document, drawing: Drawing) -> Told:
    """The title of a figure and its caption, for those who cannot see it."""
    figure = document.figure
    title = plain_text(rich(figure.said(figure.title)))
    said = caption(figure, document.tables, drawing.equations, drawing.shades)
    called = title or shown_words(figure, document.tables) or "Figure"
    return Told(printable(title), printable(said), printable(called))


def check_ending(path: Path) -> None:
    """Raises DocumentError for a file that nothing can be written as."""
    if path.suffix.lower() not in out_endings():
        raise DocumentError(
            f"Figures cannot be written as “{path.suffix or 'a file without ending'}”.",
            where=str(path),
            remedy=f"Let the name end in one of {', '.join(out_endings())}.",
        )


def write_out(document: Document, drawing: Drawing, path: Path) -> list[Path]:
    """Writes a document as figure, as the numbers drawn or as document, by the ending of `path`;
    gives the files written. Raises DocumentError."""
    check_ending(path)
    ending = path.suffix.lower()
    if ending == ENDING:
        save_document(document, path, preview(drawing))
        return [path]
    if ending == ".csv":
        files = number_files(document, drawing, path)
        for file, table in files.items():
            write_atomically(file, write_text(table, units=True))
        return list(files)
    if ending == ".html":
        from sornix.paint.page.page import page

        content = page(document, drawing, told_of(document, drawing))
    else:
        content = export(drawing, ending, document.export, told_of(document, drawing))
    write_atomically(path, content)
    return [path]


def planned(document: Document, drawing: Drawing, path: Path) -> list[Path]:
    """The files that `write_out` writes."""
    is_numbers = path.suffix.lower() == ".csv"
    return number_paths(document, drawing, path) if is_numbers else [path]


def number_files(document: Document, drawing: Drawing, path: Path) -> dict[Path, Table]:
    """What is drawn as tables, by the file of each: one file, or one for each series and trend
    with their names behind that of `path`."""
    paths = number_paths(document, drawing, path)
    tables = drawn_tables(document.figure, document.tables, drawing)
    return dict(zip(paths, tables, strict=True))


def number_paths(document: Document, drawing: Drawing, path: Path) -> list[Path]:
    """These files alone."""
    named = drawn_names(document.figure, document.tables, drawing)
    if len(named) == 1:
        return [path]
    names = file_names(named, "numbers")
    return [path.with_name(f"{path.stem}-{name}{path.suffix}") for name in names]


def file_names(named: Iterable[str], otherwise: str) -> list[str]:
    """Names as those of files: of words and dashes, as long as they may be, and none twice."""
    slugs = [re.sub(r"\W+", "-", name.casefold()).strip("-")[:60] for name in named]
    names = unique_names((slug or otherwise for slug in slugs), ())
    return [name.replace(" ", "-") for name in names]
