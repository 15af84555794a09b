"""`sornix render`."""

from pathlib import Path

import click
from attrs import evolve

from sornix.command.painting import FIGURE_ENDINGS, write_out
from sornix.command.sources import read_table
from sornix.core.document import Document, load_document
from sornix.core.readings import Table


@click.command()
@click.argument("documents", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option(
    "--readings",
    "readings_file",
    type=click.Path(path_type=Path),
    help="Draw these readings, with the same columns, in place of those in the document.",
)
@click.option(
    "--out",
    required=True,
    type=click.Path(path_type=Path),
    help="File (.png, .svg, .pdf, .sornix) or, for several documents, a folder (PNG).",
)
def render(documents: tuple[Path, ...], readings_file: Path | None, out: Path) -> None:
    """Draws saved DOCUMENTS."""
    single = out.suffix.lower() in (*FIGURE_ENDINGS, ".sornix") and not out.is_dir()
    if single and len(documents) > 1:
        raise click.UsageError("Several documents need a folder: let --out name one.")
    if not single:
        out.mkdir(parents=True, exist_ok=True)
    for path in documents:
        document = load_document(path)
        if readings_file is not None:
            document = _with_readings(document, read_table(readings_file))
        target = out if single else out / f"{path.stem}.png"
        write_out(document, target)
        click.echo(f"written: {target}")


def _with_readings(document: Document, table: Table) -> Document:
    """The figure on other readings. Raises UnknownColumn where a column of it is not there."""
    for panel in document.figure.panels:
        for series in panel.series:
            for name in (series.x, series.y):
                if name is not None:
                    table.column(name)
    old = document.figure.panel.series[0].table
    renamed = evolve(table, name=old)
    return evolve(document, tables=tuple(renamed if t.name == old else t for t in document.tables))
