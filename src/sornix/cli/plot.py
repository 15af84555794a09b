"""`sornix plot`."""

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple

import click
from click.shell_completion import CompletionItem

from sornix.cli.answer import strict_option
from sornix.cli.files import Targets, dialect_options, need_ending, read_tables, tell_remarks
from sornix.cli.painting import drawing_of, planned, tell_cautions, write_out
from sornix.core.document import Document, Export, out_endings
from sornix.core.errors import ReadingsError, SornixError
from sornix.core.figure import Figure, first_ways
from sornix.core.figure.model.checks import limits_of
from sornix.core.letters import printable
from sornix.core.readings import Table, Tables
from sornix.core.text import plural

# With what a line begins that names the file of the figure below it.
_BREAK = "---"
_DPI, _PX = (limits_of(Export, name) for name in ("dots_per_inch", "width_px"))


class Words(click.ParamType[str]):
    """A statement, completed by the columns of the file before it."""

    name = "statement"

    def shell_complete(
        self, ctx: click.Context, param: click.Parameter, incomplete: str
    ) -> list[CompletionItem]:
        _ = param
        try:
            with ctx.scope(cleanup=False):
                tables = read_tables(Path(ctx.params["file"]), ctx.params.get("sheet"))
        except (SornixError, KeyError, OSError, TypeError):
            return []
        from sornix.core.statement import completions

        found = completions(incomplete, len(incomplete), tables)
        return [CompletionItem(incomplete[: one.begin] + one.text, help=one.means) for one in found]


def export_options(command: Any) -> Any:
    """How pictures are written."""
    for option in reversed((
        click.option("--dpi", type=click.FloatRange(_DPI.low, _DPI.high),
                     help="Dots to the inch of a PNG; usually 300."),
        click.option("--px", type=click.IntRange(int(_PX.low), int(_PX.high)),
                     help="Width of a PNG in pixels."),
        click.option("--transparent", is_flag=True, help="Without the colour of the paper."),
        click.option("--outlines", is_flag=True, help="Text of SVG as outlines."),
    )):  # fmt: skip
        command = option(command)
    return command


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("statement", required=False, type=Words())
@click.option(
    "--statement", "from_file", type=click.Path(path_type=Path),
    help="File with the statement; with several, each under a line --- NAME.pdf.",
)  # fmt: skip
@click.option(
    "--other",
    type=click.IntRange(1, 3),
    help="Another way to draw the columns that Sornix chooses, the next best one by its number.",
)
@click.option("--sheet", help="Sheet of a workbook.")
@export_options
@dialect_options
@partial(strict_option, where=", or a caution is told")
@click.option(
    "--out",
    "outputs",
    multiple=True,
    type=click.Path(path_type=Path),
    help="File to write: .png, .svg, .pdf, .html, .csv (the numbers) or .sornix; may be repeated.",
)
def plot(
    file: Path, statement: str | None, from_file: Path | None, other: int | None,
    sheet: str | None, outputs: tuple[Path, ...], **export: Any,
) -> None:  # fmt: skip
    """Draws a figure from the readings in FILE, as STATEMENT says it, or as Sornix would.

    A statement is what stands over the figure in the window. What it leaves open Sornix chooses;
    "sornix say --words" tells all that can be said.

    \b
    sornix plot run.csv --out run.pdf
    sornix plot run.csv "Plot Level against Time as line; y from 0" --out level.pdf
    sornix plot standards.csv "Trend straight line with equation, R²" --out line.png
    """
    if statement is not None and from_file is not None:
        raise click.UsageError("A statement is given as words or as a file, not both.")
    text = _text_of(from_file) if from_file is not None else statement or ""
    asked = _asked(text, file, outputs)
    targets = Targets([file, *([from_file] if from_file is not None else [])])
    for one in asked:
        for path in one.outputs:
            need_ending(path, out_endings(), "--out")
            Targets([file]).add([path])
    tables = read_tables(file, sheet)
    tell_remarks(tables[0])
    documents = [(_document(one.text, tables, other, export), one.outputs) for one in asked]
    write_documents(documents, targets)


class _Asked(NamedTuple):
    """The text of a figure, and the files that it is written to."""

    text: str
    outputs: tuple[Path, ...]


def _text_of(path: Path) -> str:
    """The text of a file, in whichever letters it was written."""
    from sornix.core.readings.files.encoding import utf8
    from sornix.core.statement.words.tokens import MOST_LETTERS

    if path.stat().st_size > MOST_LETTERS:
        raise ReadingsError("This is longer than a statement can be.", where=path.name)
    return utf8(path.read_bytes(), path.name).text.decode("utf-8")


def _asked(text: str, file: Path, outputs: Sequence[Path]) -> list[_Asked]:
    """The figures that a text asks for: one, or one under each line that names a file."""
    lines = text.splitlines()
    begins = [at for at, line in enumerate(lines) if line.startswith(_BREAK)]
    if not begins:
        if not outputs:
            raise click.UsageError("Missing option '--out'.")
        return [_Asked(text, tuple(outputs))]
    if outputs:
        raise click.UsageError(f"The statement names its files after {_BREAK}: leave --out away.")
    if any(line.strip() for line in lines[: begins[0]]):
        raise click.UsageError(f"line 1: a line {_BREAK} NAME stands before the first figure.")
    found = []
    for at, end in zip(begins, [*begins[1:], len(lines)], strict=True):
        name = lines[at].removeprefix(_BREAK).strip().replace("{file}", file.stem)
        if not name:
            raise click.UsageError(f"line {at + 1}: the name of a file is missing.")
        # places in messages stay those of the file
        found.append(_Asked("\n" * (at + 1) + "\n".join(lines[at + 1 : end]), (Path(name),)))
    return found


def _document(text: str, tables: Tables, other: int | None, export: dict[str, Any]) -> Document:
    figure = _first(tables[0], other or 0, tell=not text.strip())
    if text.strip():
        figure = _said(text, tables, figure, is_other=other is not None)
    usual = Export()
    chosen = Export(
        dots_per_inch=export["dpi"] or usual.dots_per_inch, width_px=export["px"],
        transparent=export["transparent"], outlines=export["outlines"],
    )  # fmt: skip
    return Document(tables, figure, chosen)


def _said(text: str, tables: Tables, first: Figure, *, is_other: bool) -> Figure:
    """What a statement makes of the figure that is drawn unasked."""
    # the words of statements are many, and figures without any need none of them
    from sornix.core.statement import read_statement
    from sornix.core.statement.reading import heard

    if is_other and any(one.kind.name == "plot" for one in heard(text, tables)):
        figure = read_statement(text, tables)
        raise click.UsageError(
            f"--other is for columns that Sornix chooses, and the statement plots "
            f"{plural(len(figure.panels[0].series), 'series', 'series')}."
        )
    return read_statement(text, tables, first, checked=True)


def _first(table: Table, other: int, *, tell: bool) -> Figure:
    """The figure that is drawn unasked, or one of the other ways, which says why it is so."""
    ways = first_ways(table)
    if other >= len(ways):
        many = plural(len(ways) - 1, "other way", "other ways")
        raise click.UsageError(f"There {'is' if len(ways) == 2 else 'are'} {many} to draw this.")
    if tell:
        click.echo(f"sornix: drawn as {ways[other].words}. {ways[other].because}", err=True)
    return ways[other].figure


def write_documents(
    documents: Sequence[tuple[Document, tuple[Path, ...]]], targets: Targets
) -> None:
    """Writes each document to its files, once it is known that none is written twice."""
    drawn = []
    for document, outputs in documents:
        drawing = drawing_of(document)
        tell_cautions(document, drawing, str(outputs[0]) if len(documents) > 1 else "sornix")
        for path in outputs:
            targets.add(planned(document, drawing, path))
        drawn.append((document, drawing, outputs))
    for document, drawing, outputs in drawn:
        for path in outputs:
            for written in write_out(document, path, drawing):
                click.echo(f"written: {printable(str(written))}")
