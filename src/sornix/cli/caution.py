"""`sornix caution`."""

import sys
from pathlib import Path

import click

from sornix.cli.answer import WITH_CAUTIONS, json_option, print_json
from sornix.cli.files import chosen_figures, figure_option, open_source
from sornix.cli.painting import drawing_of
from sornix.core.cautions import Finding, find_cautions
from sornix.core.document import figure_names


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--strict", is_flag=True, help="Exit with status 1 where there is a caution.")
@figure_option
@json_option
def caution(file: Path, strict: bool, as_json: bool, figures: tuple[str, ...]) -> None:
    """Tells what a careful colleague would say of the figures in FILE.

    FILE is a document, or readings, which are judged as the figure that they begin with.
    """
    document = open_source(file)
    names = figure_names(document)
    several = len(document.figures) > 1
    found: list[Finding] = []
    listed: list[dict[str, object]] = []
    for one in chosen_figures(document, figures):
        here = find_cautions(one.figure, one.tables, drawing_of(one))
        found += here
        for finding in here:
            listed.append({
                **({"figure": names[one.place]} if several else {}), "text": finding.text,
                "remedy": finding.remedy.words if finding.remedy else None, "mild": finding.mild,
                "noted": finding.noted,
            })  # fmt: skip
            before = "Noted: " if finding.noted else "Also: " if finding.mild else ""
            of = f"{names[one.place]}: " if several else ""
            if not as_json:
                click.echo(f"{of}{before}{finding.text}")
    if as_json:
        print_json({"cautions": listed})
    if strict and any(finding.loud for finding in found):
        sys.exit(WITH_CAUTIONS)
