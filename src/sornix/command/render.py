"""`sornix render`."""

from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

import click
from attrs import define, evolve, field

from sornix.command.answer import UNUSABLE_INPUT
from sornix.command.painting import make_folder, write_out
from sornix.core.document import (
    ENDING,
    OUT_ENDINGS,
    Document,
    load_document,
    matched,
    pages_of,
    read_for,
    small_panels,
    under_names,
    with_readings,
)
from sornix.core.errors import SornixError
from sornix.core.figure import STYLE_NAMES, set_style
from sornix.core.readings import Table
from sornix.core.text import plural

_DATA_ENDINGS = "PNG, SVG, PDF, CSV (the numbers that are drawn) or a document"


def _pairs(
    _ctx: click.Context, _parameter: click.Parameter, values: tuple[str, ...]
) -> dict[str, str]:
    """`NAME=OTHER` of each --match."""
    found = {}
    for value in values:
        name, equals, other = value.partition("=")
        if not (name.strip() and equals and other.strip()):
            raise click.BadParameter(f"“{value}” is not written as NAME=COLUMN.")
        found[name.strip()] = other.strip()
    return found


@click.command()
@click.argument(
    "paths", nargs=-1, required=True, type=click.Path(path_type=Path), metavar="DOCUMENT..."
)
@click.option(
    "--readings",
    "first_run",
    type=click.Path(path_type=Path),
    help="Draw these readings, with the same columns, in place of those in the document. More "
    "files may follow, as the shell makes of run-*.csv; of a folder all its files are taken.",
)
@click.option("--sheet", help="Sheet of workbooks that are given with --readings.")
@click.option(
    "--match",
    "names",
    multiple=True,
    callback=_pairs,
    metavar="NAME=COLUMN",
    help="The column of the readings that stands for a column of the document; may be repeated.",
)
@click.option("--one-page", is_flag=True, help="Draw all readings on one page, as small panels.")
@click.option("--style", type=click.Choice(list(STYLE_NAMES)), help="Style in place of its own.")
@click.option(
    "--as",
    "endings",
    multiple=True,
    type=click.Choice([ending.lstrip(".") for ending in OUT_ENDINGS]),
    help="Formats to write into a folder; may be repeated. Without it as the document says.",
)
@click.option(
    "--out",
    required=True,
    type=click.Path(path_type=Path),
    help=f"File or folder to write. The ending of a file decides: {_DATA_ENDINGS}.",
)
def render(
    paths: tuple[Path, ...],
    first_run: Path | None,
    sheet: str | None,
    names: dict[str, str],
    one_page: bool,
    style: str | None,
    endings: tuple[str, ...],
    out: Path,
) -> None:
    """Draws saved documents, also for other readings.

    \b
    sornix render figure.sornix --out figure.pdf
    sornix render pattern.sornix --readings run-*.csv --out figures/
    sornix render pattern.sornix --readings run-*.csv --one-page --out all.pdf

    A file that cannot be drawn does not keep the others from it: all that went wrong is said at
    the end, and the exit status is 3 then.
    """
    documents, runs = _sorted_out(paths, first_run)
    single = out.suffix.lower() in OUT_ENDINGS and not out.is_dir()
    many = 1 if one_page else max(len(runs), 1) * len(documents)
    if single and many > 1:
        raise click.UsageError("Several figures need a folder: let --out name one.")
    if one_page and not runs:
        raise click.UsageError("--one-page needs the files that --readings names.")
    if not single:
        make_folder(out, "Name another one, or a file that ends in .png, .svg, .pdf or .csv.")
    work = _Work(runs, sheet, names, one_page, style, tuple(f".{e}" for e in endings), out, single)
    for path in documents:
        work.draw(path, f"{path.stem}-" if len(documents) > 1 else "")
    if work.failed:
        drawn = plural(work.drawn, "figure")
        click.echo(f"{drawn} drawn, {plural(len(work.failed), 'file')} not:", err=True)
        for line in work.failed:
            click.echo(f"sornix: {line}", err=True)
        raise click.exceptions.Exit(UNUSABLE_INPUT)


def _sorted_out(paths: Sequence[Path], first_run: Path | None) -> tuple[list[Path], list[Path]]:
    """Documents, and the files with readings: those that the shell put behind --readings stand
    among the arguments."""
    documents = [path for path in paths if path.suffix.lower() == ENDING]
    others = [path for path in paths if path.suffix.lower() != ENDING]
    if others and first_run is None:
        # a document under another name says itself what is wrong with it
        return [*documents, *others], []
    if not documents:
        raise click.UsageError(f"Name a document (*{ENDING}) before --readings.")
    runs = [first_run, *others] if first_run is not None else []
    return documents, [file for run in runs for file in _files_in(run)]


def _files_in(path: Path) -> list[Path]:
    """The files with readings in a folder, or the file itself."""
    if not path.is_dir():
        return [path]
    from sornix.core.readings.sources import FILE_TYPES

    endings = {ending for kind in FILE_TYPES.values() for ending in kind.endings}
    found = sorted(file for file in path.iterdir() if file.suffix.lower() in endings)
    if not found:
        raise click.UsageError(f"There are no readings in the folder {path}.")
    return found


@define
class _Work:
    """All that is to be drawn, and what became of it."""

    runs: list[Path]
    sheet: str | None
    names: dict[str, str]
    one_page: bool
    style: str | None
    endings: tuple[str, ...]
    out: Path
    single: bool
    drawn: int = 0
    failed: list[str] = field(factory=list)

    def draw(self, path: Path, before: str) -> None:
        """Draws a document, for each run where there are some."""
        try:
            document = load_document(path)
        except SornixError as error:
            self.failed.append(str(error))
            return
        if self.one_page:
            self._draw_pages(document, path.stem)
        elif self.runs:
            for run in self.runs:
                self._try(run.name, partial(self._draw_run, document, run, before))
        else:
            self._try(path.stem, partial(self._write, document, path.stem))

    def _try(self, name: str, draw: Callable[[], None]) -> None:
        """Draws, or notes why that could not be done."""
        try:
            draw()
        except SornixError as error:
            known = error.where in ("", Path(name).stem)
            self.failed.append(
                f"{name}: {error.what} {error.remedy}".strip() if known else str(error)
            )

    def _draw_run(self, document: Document, run: Path, before: str) -> None:
        fitted = with_readings(document, self._readings(document, run))
        for note in fitted.notes:
            click.echo(f"{run.name}: {note}", err=True)
        self._write(fitted.document, f"{before}{run.stem}")

    def _draw_pages(self, document: Document, name: str) -> None:
        tables: list[Table] = []

        def take(run: Path) -> None:
            table = self._readings(document, run)
            # what cannot be drawn is found out now, not with the whole page
            with_readings(document, table)
            tables.append(table)

        for run in self.runs:
            self._try(run.name, partial(take, run))
        pages = pages_of(tables)
        for number, page in enumerate(pages, 1):
            paged = name if len(pages) == 1 else f"{name}-{number}"
            self._try(paged, lambda page=page, paged=paged: self._write(  # type: ignore[misc]
                small_panels(document, page), paged))  # fmt: skip

    def _readings(self, document: Document, run: Path) -> Table:
        """The readings of a run under the document's names of columns."""
        fresh = read_for(document, run, self.sheet)
        there = {n: other for n, other in self.names.items() if other in fresh.column_names}
        return matched(document, under_names(fresh, there))

    def _write(self, document: Document, name: str) -> None:
        if self.style is not None:
            document = evolve(document, figure=set_style(document.figure, self.style))
        if self.single:
            targets = [self.out]
        else:
            endings = self.endings or document.export.endings
            targets = [self.out / f"{name}{ending}" for ending in endings]
        for target in targets:
            write_out(document, target)
            click.echo(f"written: {target}")
        self.drawn += 1
