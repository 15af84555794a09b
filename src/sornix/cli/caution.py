"""`sornix caution`."""

import sys
from pathlib import Path

import click

from sornix.cli.answer import WITH_CAUTIONS, json_option, print_json
from sornix.cli.files import open_source
from sornix.cli.painting import drawing_of
from sornix.core.cautions import find_cautions


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--strict", is_flag=True, help="Exit with status 1 where there is a caution.")
@json_option
def caution(file: Path, strict: bool, as_json: bool) -> None:
    """Tells what a careful colleague would say of the figure in FILE.

    FILE is a document, or readings, which are judged as the figure that they begin with.
    """
    document = open_source(file)
    found = find_cautions(document.figure, document.tables, drawing_of(document))
    if as_json:
        remedies = [finding.remedy.words if finding.remedy else None for finding in found]
        texts = [finding.text for finding in found]
        listed = [
            {"text": t, "remedy": r, "mild": f.mild, "noted": f.noted}
            for t, r, f in zip(texts, remedies, found, strict=True)
        ]
        print_json({"cautions": listed})
    else:
        for finding in found:
            before = "Noted: " if finding.noted else "Also: " if finding.mild else ""
            click.echo(f"{before}{finding.text}")
    if strict and any(finding.loud for finding in found):
        sys.exit(WITH_CAUTIONS)
