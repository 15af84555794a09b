"""`sornix say`."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import click

from sornix.cli.answer import json_option, print_json
from sornix.cli.files import chosen_figures, dialect_options, figure_option, open_source
from sornix.cli.painting import drawing_of
from sornix.core.document import Document, figure_names
from sornix.core.statement import differences_in_words, write_statement
from sornix.core.statement.telling import everything_that_can_be_said
from sornix.core.text import plain_text


@click.command()
@click.argument("file", required=False, type=click.Path(path_type=Path))
@click.argument("other", required=False, type=click.Path(path_type=Path))
@click.option("--whole", is_flag=True, help="With everything, also what Sornix chooses by itself.")
@click.option("--words", is_flag=True, help="Tell all that can be said in a statement.")
@figure_option
@dialect_options
@json_option
def say(
    file: Path | None,
    other: Path | None,
    whole: bool,
    words: bool,
    as_json: bool,
    figures: tuple[str, ...],
) -> None:
    """Says the figures of FILE in words, as "sornix plot" takes them.

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
    chosen = chosen_figures(document, figures)
    names = figure_names(document)
    if other is not None:
        said, others = _all_said(document, figures, whole), _all_said(
            open_source(other), figures, whole)  # fmt: skip
        click.echo("\n".join(differences_in_words(said, others)))
    elif as_json:
        told = [
            {"name": names[one.place], "statement": _said(one, whole=whole).splitlines(),
             "panels": list(_panels(one))}
            for one in chosen
        ]  # fmt: skip
        # a document with one figure is told as that
        print_json({k: v for k, v in told[0].items() if k != "name"}
                   if len(document.figures) == 1 else {"figures": told})  # fmt: skip
    else:
        click.echo(_all_said(document, figures, whole))


def _all_said(document: Document, figures: tuple[str, ...], whole: bool) -> str:
    """The statements of the figures that are asked for, under their names where there are
    several in the document."""
    chosen = chosen_figures(document, figures)
    if len(chosen) == 1:
        return _said(chosen[0], whole=whole)
    names = figure_names(document)
    return "\n\n".join(f"— {names[one.place]} —\n{_said(one, whole=whole)}" for one in chosen)


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
