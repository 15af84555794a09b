"""`sornix render`."""

import re
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import NamedTuple

import click
from attrs import define, field

from sornix.cli.answer import UNUSABLE_INPUT, strict_option
from sornix.cli.files import (
    Targets,
    chosen_figures,
    dialect_options,
    each_once,
    figure_option,
    held_words,
    own_names,
    tell_remarks,
)
from sornix.cli.painting import drawing_of, make_folder, planned, tell_cautions, write_out
from sornix.core.document import (
    ENDING,
    Document,
    figure_names,
    load_document,
    matched,
    out_endings,
    pages_of,
    read_for,
    small_panels,
    under_names,
    with_readings,
)
from sornix.core.errors import SornixError
from sornix.core.figure import STYLE_NAMES, set_style
from sornix.core.letters import printable
from sornix.core.readings import Table
from sornix.core.text import plural
from sornix.paint.exportfiles import file_names

_DATA_ENDINGS = "PNG, SVG, PDF, HTML, CSV (the numbers that are drawn) or a document"


def _pairs(
    _ctx: click.Context, _parameter: click.Parameter, values: tuple[str, ...]
) -> dict[str, str]:
    """`NAME=OTHER` of each --match."""
    found = {}
    for value in values:
        name, equals, other = value.partition("=")
        if not (name.strip() and equals and other.strip()):
            raise click.BadParameter(f"“{value}” is not written as NAME=COLUMN.")
        if name.strip() in found:
            raise click.BadParameter(f"“{name.strip()}” has two of them.")
        found[name.strip()] = other.strip()
    return found


@click.command()
@click.argument(
    "paths", nargs=-1, required=True, type=click.Path(path_type=Path), metavar="DOCUMENT..."
)
@click.option(
    "--readings",
    "first_runs",
    multiple=True,
    type=click.Path(path_type=Path),
    help="Draw these readings, with the same columns, in place of those in the document; may be "
    "repeated. More files may follow, as the shell makes of run-*.csv; of a folder all its files "
    "are taken.",
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
    type=click.Choice([ending.lstrip(".") for ending in out_endings()]),
    help="Formats to write into a folder; may be repeated. Without it as the document says.",
)
@click.option(
    "--out",
    required=True,
    type=click.Path(path_type=Path),
    help=f"File or folder to write. The ending of a file decides: {_DATA_ENDINGS}.",
)
@figure_option
@dialect_options
@partial(strict_option, where=", or a caution is told")
def render(
    paths: tuple[Path, ...],
    first_runs: tuple[Path, ...],
    sheet: str | None,
    names: dict[str, str],
    one_page: bool,
    style: str | None,
    endings: tuple[str, ...],
    out: Path,
    figures: tuple[str, ...],
) -> None:
    """Draws the figures of saved documents, also for other readings.

    \b
    sornix render figure.sornix --out figure.pdf
    sornix render season.sornix --out figures/
    sornix render season.sornix --figure "Depth profile" --out profile.pdf
    sornix render pattern.sornix --readings run-*.csv --out figures/
    sornix render pattern.sornix --readings run-*.csv --one-page --out all.pdf

    A file that cannot be drawn does not keep the others from it: all that went wrong is said at
    the end, and the exit status is 3 then.
    """
    documents, runs = _sorted_out(paths, first_runs)
    for wrong, said in (
        (names and not runs, "--match has no effect without --readings."),
        (sheet is not None and not runs, "--sheet has no effect without --readings."),
        (one_page and not runs, "--one-page needs the files that --readings names."),
    ):
        if wrong:
            raise click.UsageError(said)
    single = _is_file(out)
    if single and endings:
        raise click.UsageError(f"--as has no effect: the ending of {out} decides.")
    if single and (len(documents) > 1 or (len(runs) > 1 and not one_page)):
        raise click.UsageError("Several figures need a folder: let --out name one.")
    formats = tuple(f".{e}" for e in endings)
    asked = _Asked(runs, sheet, names, one_page, style, formats, figures)
    work = _Work(asked, out, single, Targets([*documents, *runs]))
    for path, name in own_names(documents).items():
        work.draw(path, name, f"{name}-" if len(documents) > 1 else "")
    work.write()
    if work.failed:
        drawn = plural(work.drawn, "figure")
        click.echo(f"{drawn} drawn, {plural(len(work.failed), 'file')} not:", err=True)
        for line in work.failed:
            click.echo(f"sornix: {line}", err=True)
        raise click.exceptions.Exit(UNUSABLE_INPUT)


def _is_file(out: Path) -> bool:
    """Whether --out names a file, not a folder. Raises BadParameter for an ending that cannot be
    written."""
    if out.is_dir() or not out.suffix:
        return False
    if out.suffix.lower() in out_endings():
        return True
    if re.fullmatch(r"\.[A-Za-z]\w{0,5}", out.suffix):
        known = ", ".join(out_endings())
        raise click.BadParameter(
            f"“{out}” ends in none of {known}. Make the folder first, if it is meant to be one.",
            param_hint="--out",
        )
    return False


def _sorted_out(paths: Sequence[Path], first_runs: Sequence[Path]) -> tuple[list[Path], list[Path]]:
    """Documents, and the files with readings: those that the shell put behind --readings stand
    among the arguments."""
    documents = [path for path in paths if path.suffix.lower() == ENDING]
    others = [path for path in paths if path.suffix.lower() != ENDING]
    if others and not first_runs:
        # a document under another name says itself what is wrong with it
        return [*documents, *others], []
    if not documents:
        raise click.UsageError(f"Name a document (*{ENDING}) before --readings.")
    runs = (file for run in (*first_runs, *others) for file in _files_in(run))
    return each_once(documents), each_once(runs)


def _files_in(path: Path) -> list[Path]:
    """The files with readings in a folder, or the file itself."""
    if not path.is_dir():
        return [path]
    from sornix.core.readings.formats.sources import FILE_TYPES

    endings = {ending for kind in FILE_TYPES.values() for ending in kind.endings}
    found = sorted(file for file in path.iterdir() if file.suffix.lower() in endings)
    if not found:
        raise click.UsageError(f"There are no readings in the folder {path}.")
    return found


class _Asked(NamedTuple):
    """What is asked of every figure."""

    runs: list[Path]
    sheet: str | None
    names: dict[str, str]
    one_page: bool
    style: str | None
    endings: tuple[str, ...]
    figures: tuple[str, ...]


class _Result(NamedTuple):
    """A figure that is to be written: how it is called in messages, how its document is made, and
    the files that it was made for."""

    called: str
    make: Callable[[], Document]
    paths: list[Path]


@define
class _Work:
    """All that is to be drawn, and what became of it. Nothing is written before every result is
    known to have a file of its own."""

    asked: _Asked
    out: Path
    single: bool
    targets: Targets
    drawn: int = 0
    failed: list[str] = field(factory=list)
    results: list[_Result] = field(factory=list)
    # what was said of runs, which are drawn in each figure of a document
    told: set[tuple[Path, str]] = field(factory=set)

    def draw(self, path: Path, name: str, before: str) -> None:
        """Takes a document, for each run where there are some."""
        try:
            whole = load_document(path)
            figures = chosen_figures(whole, self.asked.figures)
        except SornixError as error:
            said = str(error)
            self.failed.append(said if path.name in said else f"{path.name}: {said}")
            return
        if self.single and self.out.suffix.lower() == ENDING:
            # a document is written whole
            figures = figures[:1]
        if self.single and len(figures) > 1:
            listed = ", ".join(f"“{one}”" for one in figure_names(whole))
            self.failed.append(
                f"{path.name}: It holds {plural(len(figures), 'figure')}: {listed}. Name one with "
                "--figure, or a folder with --out."
            )
            return
        slugs = file_names(figure_names(whole), "figure")
        for number, document in enumerate(figures):
            after = f"-{slugs[document.place]}" if len(whole.figures) > 1 else ""
            self._draw_one(document, path, (before, name, after), again=number > 0)

    def _draw_one(
        self, document: Document, path: Path, parts: tuple[str, str, str], *, again: bool
    ) -> None:
        """Takes a figure of a document, for each run; `parts` make its name in a folder. Where it
        is not the first of a document, the document itself is not written `again`."""
        before, name, after = parts
        if self.asked.one_page:
            self._take_pages(document, f"{name}{after}")
        elif self.asked.runs:
            for run, run_name in own_names(self.asked.runs).items():
                make = partial(self._of_run, document, run)
                called = f"{run.name}{after}"
                self._take(called, make, document, (f"{before}{run_name}", after), again=again)
        else:
            self._take(f"{path.name}{after}", lambda: document, document, (name, after),
                       again=again)  # fmt: skip

    def _take(
        self, called: str, make: Callable[[], Document], document: Document,
        name: tuple[str, str], *, again: bool = False,
    ) -> None:  # fmt: skip
        """Takes a result with its files; `name` is that of files in a folder, of the document and
        of the figure."""
        if self.single:
            paths = [self.out]
        else:
            endings = self.asked.endings or document.export.endings
            paths = [
                self.out / f"{''.join(name)}{ending}" for ending in endings if ending != ENDING
            ]
            if ENDING in endings and not again:
                paths.append(self.out / f"{name[0]}{ENDING}")
            if not paths:
                return
        numbers = [path for path in paths if path.suffix.lower() == ".csv"]
        self.targets.add([path for path in paths if path not in numbers], called)
        if not numbers:
            self.results.append(_Result(called, make, paths))
            return

        # the names of files of numbers are those of what is drawn, so that is found out now
        def look() -> None:
            styled = self._styled(make())
            drawing = drawing_of(styled)
            for path in numbers:
                self.targets.add(planned(styled, drawing, path), called)
            self.results.append(_Result(called, lambda: styled, paths))

        self._try(called, look)

    def write(self) -> None:
        """Draws and writes what was taken."""
        if not self.single and self.results:
            make_folder(self.out, "Name another one, or a file that ends in .png, .svg or .pdf.")
        for result in self.results:
            self._try(result.called, partial(self._write, result))

    def _write(self, result: _Result) -> None:
        document = self._styled(result.make())
        drawing = drawing_of(document)
        if self.asked.runs:
            # of its own readings, who saved it has seen them
            tell_cautions(document, drawing, result.called)
        for path in result.paths:
            for written in write_out(document, path, drawing):
                click.echo(f"written: {printable(str(written))}")
        self.drawn += 1

    def _styled(self, document: Document) -> Document:
        if self.asked.style is None:
            return document
        style = self.asked.style
        return document.each(lambda figure: set_style(figure, style))

    def _try(self, name: str, act: Callable[[], None]) -> None:
        """Does it, or notes why that could not be done."""
        try:
            act()
        except SornixError as error:
            known = error.where in ("", name, Path(name).stem)
            self.failed.append(
                f"{name}: {error.what} {error.remedy}".strip() if known else str(error)
            )
        except (OSError, MemoryError) as error:
            reason = getattr(error, "strerror", None) or "there is not enough memory"
            self.failed.append(f"{name}: It could not be drawn ({reason}).")

    def _of_run(self, document: Document, run: Path) -> Document:
        fitted = with_readings(document, self._readings(document, run))
        for note in fitted.notes:
            if self._is_new(run, note):
                click.echo(f"{run.name}: {note}", err=True)
        return fitted.document

    def _is_new(self, run: Path, said: str) -> bool:
        """Whether something was not said of a run yet."""
        new = (run, said) not in self.told
        self.told.add((run, said))
        return new

    def _take_pages(self, document: Document, name: str) -> None:
        tables: list[Table] = []

        def take(run: Path) -> None:
            table = self._readings(document, run)
            # what cannot be drawn is found out now, not with the whole page
            with_readings(document, table)
            tables.append(table)

        for run in self.asked.runs:
            self._try(run.name, partial(take, run))
        pages = pages_of(tables)
        whole = self.out
        for number, page in enumerate(pages, 1):
            paged = name if len(pages) == 1 else f"{name}-{number}"
            if len(pages) > 1 and self.single:
                # a file for each page
                self.out = whole.with_name(f"{whole.stem}-{number}{whole.suffix}")
            self._take(paged, partial(small_panels, document, page), document, (paged, ""))

    def _readings(self, document: Document, run: Path) -> Table:
        """The readings of a run under the document's names of columns."""
        fresh = read_for(document, run, self.asked.sheet, held_words())
        if self._is_new(run, ""):
            tell_remarks(fresh)
        names = self.asked.names
        there = {n: other for n, other in names.items() if other in fresh.column_names}
        return matched(document, under_names(fresh, there))
