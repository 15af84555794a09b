"""`sornix report`."""

from datetime import date
from pathlib import Path

import click

from sornix.cli.answer import strict_option
from sornix.cli.files import Targets, dialect_options, figure_option, open_source
from sornix.core.document import place_of
from sornix.core.letters import printable
from sornix.core.report import TEMPLATES, read_template, report_of


@click.command()
@click.argument("path", type=click.Path(path_type=Path), metavar="FILE")
@click.option(
    "--out",
    "outs",
    required=True,
    multiple=True,
    type=click.Path(path_type=Path),
    help="File to write: .pdf, .html, .odt or .md; may be repeated.",
)
@click.option("--title", default="", help="Title, in place of the name of the first figure.")
@click.option("--date", "day", help='Date as it is to stand there, in place of today’s; "": none.')
@click.option(
    "--template",
    default="whole",
    metavar="NAME|FILE",
    help="What is said in which order: whole, results, pictures, or a JSON file of your own.",
)
@click.option("--with-readings", is_flag=True, help="With the readings as an appendix.")
@figure_option
@dialect_options
@strict_option
def report(
    path: Path,
    outs: tuple[Path, ...],
    title: str,
    day: str | None,
    template: str,
    with_readings: bool,
    figures: tuple[str, ...],
) -> None:
    """Writes a report of the figures in FILE: pictures, methods, trends in numbers.

    With cautions, and what was left out and why; as PDF, HTML, OpenDocument text or Markdown.

    \b
    sornix report season.sornix --out season.pdf --title "Brenn Mere, summer 2026"
    sornix report season.sornix --out season.odt --template results --with-readings
    """
    from sornix.paint.measure import QtMeasure
    from sornix.paint.offscreen import ready_to_paint
    from sornix.paint.report.writing import report_paths, write_report

    chosen = TEMPLATES[template] if template in TEMPLATES else read_template(Path(template))
    document = open_source(path)
    places = tuple(dict.fromkeys(place_of(document, name) for name in figures)) or None
    ready_to_paint()
    told = date.today().isoformat() if day is None else day  # noqa: DTZ011 - that of the reader
    made = report_of(
        document, QtMeasure(), title=title, date=told, readings=with_readings, places=places
    )
    targets = Targets([path])
    for out in outs:
        targets.add(report_paths(made, out), str(out))
    for out in outs:
        for file in write_report(made, chosen, out):
            click.echo(f"written: {printable(str(file))}")
