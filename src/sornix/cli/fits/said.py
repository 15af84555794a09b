"""The trends that a statement says, for `sornix fit`."""

from pathlib import Path
from typing import Any

import click

from sornix.cli.answer import print_json
from sornix.cli.files import read_tables, tell_remarks
from sornix.cli.fits.readoffs import Asked, Told, answered
from sornix.cli.fits.told import as_json, as_text
from sornix.cli.painting import drawing_of
from sornix.core.document import Document
from sornix.core.errors import TrendImpossible
from sornix.core.figure import (
    Panel,
    Trend,
    column_or_rows,
    possible_intervals,
    series_name,
    trend_fit,
)
from sornix.core.figure.prose.trendreport import report_sections
from sornix.core.files import write_atomically
from sornix.core.readings import Tables, table_named
from sornix.core.statement import read_statement
from sornix.core.text import short
from sornix.core.trends import Fit
from sornix.core.trends.fits.report import FORMS

# What may be asked beside a statement.
_BESIDE = frozenset(("file", "statement", "sheet", "reports", "as_json"))


def refuse_options_beside(statement: str) -> None:
    """Raises UsageError for options that a statement has words for."""
    context = click.get_current_context()
    for parameter in context.command.params:
        given = parameter.name and context.get_parameter_source(parameter.name)
        if parameter.name in _BESIDE or not parameter.expose_value:
            continue
        if given == click.core.ParameterSource.COMMANDLINE:
            raise click.UsageError(
                f"{parameter.opts[0]} has no effect beside a statement, which says it in words: "
                f"“{short(statement, 60)}”."
            )


def fit_said(file: Path, statement: str, sheet: str | None, asked: dict[str, Any]) -> None:
    """Tells every trend that a statement says of the readings in a file."""
    tables = read_tables(file, sheet)
    tell_remarks(tables[0])
    figure = read_statement(statement, tables, checked=True)
    drawing = drawing_of(Document(tables, figure))
    told: list[dict[str, Any]] = []
    texts: list[str] = []
    sections = []
    for index, place in enumerate(drawing.panels):
        panel = figure.seen(index)
        if asked["reports"] and panel.trends:
            sections += report_sections(panel, tables, place.equations)
        for trend in panel.trends:
            series = panel.one_series(trend.series)
            found = fitted(trend, panel, tables)
            table = table_named(tables, series.table)
            column = column_or_rows(table, series.x)
            unknowns = [Asked("", one.y, one.sd) for one in trend.read_offs]
            counts = [one.replicates for one in trend.read_offs]
            answers = Told(
                column, [found.predict(x) for x in trend.told_at],
                [answered(found, one, n) for one, n in zip(unknowns, counts, strict=True)],
                trend.treatment,
            )  # fmt: skip
            equation = place.equations[trend.id].text if found.names else ""
            name = series_name(panel, series, tables)
            told.append({"series": name, **as_json(found, equation, answers)})
            texts.append(as_text(found, equation, answers))
    if not told:
        raise click.UsageError("The statement says no trend: “Trend straight line”, for example.")
    for path in asked["reports"]:
        form = FORMS[path.suffix.removeprefix(".").lower()]
        write_atomically(path, form(tables[0].name, sections).encode("utf-8"))
    if asked["as_json"]:
        print_json({"trends": told})
        return
    for one, text in zip(told, texts, strict=True):
        click.echo((f"{one['series']}:\n" if len(told) > 1 else "") + text)


def fitted(trend: Trend, panel: Panel, tables: Tables) -> Fit:
    """The fit of a trend. Raises UsageError and TrendImpossible."""
    if trend.intervals not in possible_intervals(trend):
        raise click.UsageError("--intervals profile has no effect: this trend is not searched for.")
    try:
        return trend_fit(trend, panel, tables)
    except TrendImpossible as error:
        where = panel.one_series(trend.series).table
        raise TrendImpossible(error.what, where=where, remedy=error.remedy) from error
