"""`sornix say`."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import click

from sornix.cli.answer import json_option, print_json
from sornix.cli.files import dialect_options, open_source
from sornix.cli.painting import drawing_of
from sornix.core.document import Document
from sornix.core.statement import differences_in_words, write_statement
from sornix.core.statement.telling import everything_that_can_be_said
from sornix.core.text import plain_text


@click.command()
@click.argument("file", required=False, type=click.Path(path_type=Path))
@click.argument("other", required=False, type=click.Path(path_type=Path))
@click.option("--whole", is_flag=True, help="With everything, also what Sornix chooses by itself.")
@click.option("--words", is_flag=True, help="Tell all that can be said in a statement.")
@dialect_options
@json_option
def say(file: Path | None, other: Path | None, whole: bool, words: bool, as_json: bool) -> None:
    """Says the figure of FILE in words, as "sornix plot" takes them.

    With OTHER, tells what is said otherwise there: − what goes, + what comes.

    \b
    sornix say level.sornix
    sornix say level.sornix --json
    sornix say first.sornix second.sornix
    """
    if words:
        if file is not None:
            raise click.UsageError("--words is about no file.")
        click.echo("\n".join(everything_that_can_be_said()))
        return
    if file is None:
        raise click.UsageError("Missing argument 'FILE'.")
    if other is not None and as_json:
        raise click.UsageError("--json is about one file.")
    document = open_source(file)
    said = _said(document, whole=whole)
    if other is not None:
        click.echo("\n".join(differences_in_words(said, _said(open_source(other), whole=whole))))
    elif as_json:
        print_json({"statement": said.splitlines(), "panels": list(_panels(document))})
    else:
        click.echo(said)


def _said(document: Document, *, whole: bool) -> str:
    return write_statement(document.figure, document.tables, whole=whole, plotted=True)


def _panels(document: Document) -> Iterator[dict[str, Any]]:
    """What is drawn of each panel: ranges, ticks with their labels, equations of trends."""
    drawing = drawing_of(document)
    for panel, place in zip(document.figure.panels, drawing.panels, strict=True):
        axes = {}
        for axis in panel.axes:
            scale = place.scale(axis)
            axes[axis] = {
                "kind": scale.kind, "from": scale.start, "to": scale.end, "every": scale.step,
                "ticks": [
                    {"value": tick.value, "label": plain_text(tick.label)} for tick in scale.ticks
                ],
            }  # fmt: skip
        equations = {name: equation.text for name, equation in place.equations.items()}
        yield {"title": panel.title, "axes": axes, "trends": [
            {"series": trend.series, "model": trend.model, "equation": equations.get(trend.id, "")}
            for trend in panel.trends
        ]}  # fmt: skip
