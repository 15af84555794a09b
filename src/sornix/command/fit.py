"""`sornix fit`."""

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import click
import numpy as np
from attrs import evolve

from sornix.command.answer import json_option, print_json
from sornix.command.painting import drawing_of
from sornix.command.sources import need_numbers, read_table
from sornix.core.document import Document
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import (
    FORMULA,
    ErrorBars,
    Figure,
    Panel,
    Series,
    Trend,
    Unknown,
    add_trend,
    trend_fit,
)
from sornix.core.figure.trendreport import report_sections
from sornix.core.files import write_atomically
from sornix.core.readings import Table
from sornix.core.text import parse_number, significant
from sornix.core.trends import METHODS, MODELS, ON_LOGS, Fit, Prediction, Setting
from sornix.core.trends.account import Row, parameter_rows, quality_rows, test_rows
from sornix.core.trends.readoff import ReadOff, read_off
from sornix.core.trends.report import FORMS
from sornix.core.trends.statistics import correlations, lack_of_fit, regression_test, runs_test


class Number(click.ParamType[float]):
    """A number as people type it."""

    name = "number"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> float:
        if isinstance(value, float):
            return value
        try:
            return parse_number(str(value))
        except EditRefused as error:
            self.fail(str(error), param, ctx)


NUMBER = Number()
_ROBUST = [name for name in METHODS if name != "least-squares"]


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--x", "x_name", required=True, help="Column along.")
@click.option("--y", "y_name", required=True, help="Column upward.")
@click.option("--sheet", help="Sheet of a workbook.")
@click.option(
    "--model",
    type=click.Choice(
        [*(m for m in MODELS if not m.startswith("polynomial-")), "polynomial", FORMULA]
    ),
    default="line",
    help="Shape of the trend.",
)
@click.option(
    "--degree", type=click.IntRange(1, 10), default=2, help="Degree of a polynomial; by default 2."
)
@click.option("--formula", help="Formula of x for --model formula; other names are parameters.")
@click.option("--start", multiple=True, help="NAME=VALUE to begin with; repeatable.")
@click.option("--hold", multiple=True, help="NAME=VALUE of a parameter not to be fitted.")
@click.option("--bound", multiple=True, help="NAME=LOW:HIGH to stay between; either may be empty.")
@click.option("--sd", "sd_name", help="Column of the standard deviations of y, to weigh by.")
@click.option("--x-sd", "x_sd_name", help="Column of those of x: errors in both, with --sd.")
@click.option(
    "--weights", type=click.Choice(["1/y", "1/y2", "replicates"]), help="Another way to weigh."
)
@click.option("--robust", type=click.Choice(_ROBUST), help="Let wild readings count less.")
@click.option(
    "--on-logs", is_flag=True,
    help=f"Fit the logarithms of y ({', '.join(ON_LOGS)}).",
)  # fmt: skip
@click.option("--from", "lowest", type=NUMBER, help="Fit readings from this x on.")
@click.option("--to", "highest", type=NUMBER, help="Fit readings up to this x.")
@click.option("--at", type=NUMBER, multiple=True, help="Tell the trend at this x.")
@click.option("--read-off", type=NUMBER, multiple=True, help="Tell the x that belongs to this y.")
@click.option("--unknowns", help="Column of y whose x are told, one for each row.")
@click.option(
    "--replicates", type=click.IntRange(1), default=1, help="How many readings each y is a mean of."
)
@click.option(
    "--report", type=click.Path(path_type=Path), help="Write a report (.txt, .md, .html, .csv)."
)
@json_option
def fit(file: Path, x_name: str, y_name: str, sheet: str | None, model: str, **asked: Any) -> None:
    """Puts a trend through the readings in FILE by least squares.

    The equation is given as it is printed on the figure of these readings; --json gives every
    number in full precision.
    """
    if model == "polynomial":
        model = f"polynomial-{asked['degree']}" if asked["degree"] > 1 else "line"
    table = read_table(file, sheet)
    for name in (x_name, y_name, asked["sd_name"], asked["x_sd_name"], asked["unknowns"]):
        if name is not None:
            need_numbers(table, name)
    if model == FORMULA and not asked["formula"]:
        raise click.UsageError("--model formula needs --formula.")
    unknowns = [*asked["read_off"], *_column(table, asked["unknowns"])]
    figure = _figure(table, x_name, y_name, model, asked, unknowns)
    panel = figure.panel
    trend = panel.trends[0]
    found = _fitted(trend, panel, table)
    equations = drawing_of(Document((table,), figure)).place.equations
    equation = equations["t1"].text if found.names else ""
    predictions = [found.predict(x) for x in asked["at"]]
    inverse = [read_off(found, y, asked["replicates"]) for y in unknowns]
    if asked["report"] is not None:
        sections = report_sections(panel, (table,), equations)
        _write(asked["report"], f"{y_name} against {x_name}, {table.name}", sections)
    if asked["as_json"]:
        print_json(_as_json(found, equation, predictions, inverse))
    else:
        click.echo(_as_text(found, equation, predictions, inverse))


def _fitted(trend: Trend, panel: Panel, table: Table) -> Fit:
    try:
        return trend_fit(trend, panel, (table,))
    except TrendImpossible as error:
        raise TrendImpossible(error.what, where=table.name, remedy=error.remedy) from error


def _column(table: Table, name: str | None) -> list[float]:
    if name is None:
        return []
    column = table.column(name)
    return [float(value) for value in column.numbers[column.present]]


def _figure(
    table: Table, x_name: str, y_name: str, model: str, asked: dict[str, Any],
    unknowns: Sequence[float],
) -> Figure:  # fmt: skip
    """The figure whose trend is what is asked for."""
    series = Series("s1", table.name, x_name, y_name)
    weights, column = asked["weights"] or "equal", None
    if asked["x_sd_name"] is not None:
        if asked["sd_name"] is None:
            raise click.UsageError("--x-sd needs --sd.")
        series = evolve(
            series, errors_x=ErrorBars("column", column=asked["x_sd_name"]),
            errors_y=ErrorBars("column", column=asked["sd_name"]),
        )  # fmt: skip
        weights = "both"
    elif asked["sd_name"] is not None:
        weights, column = "column", asked["sd_name"]
    more = {
        "start": asked["lowest"],
        "end": asked["highest"],
        "weights": weights,
        "weight_column": column,
        "method": asked["robust"] or "least-squares",
        "on_logs": asked["on_logs"],
        "settings": _settings(asked),
        "read_offs": tuple(Unknown(y, asked["replicates"]) for y in unknowns),
    }
    if asked["on_logs"] and model not in ON_LOGS:
        raise click.UsageError(f"--on-logs is for {', '.join(ON_LOGS)}.")
    formula = asked["formula"] or "" if model == FORMULA else ""
    return add_trend(Figure((Panel((series,)),)), "s1", model, formula, **more)


def _settings(asked: dict[str, Any]) -> tuple[Setting, ...]:
    """What is asked of single parameters."""
    settings: dict[str, Setting] = {}
    for option, form in _FORMS.items():
        for text in asked[option]:
            name, sign, value = (piece.strip() for piece in text.partition("="))
            try:
                changes = _asked_of(option, value if sign else "")
            except EditRefused as error:
                raise click.BadParameter(
                    f"“{text}” is not {form}.", param_hint=f"--{option}"
                ) from error
            settings[name] = evolve(settings.get(name, Setting(name)), **changes)
    return tuple(settings.values())


_FORMS = {"start": "NAME=VALUE", "hold": "NAME=VALUE", "bound": "NAME=LOW:HIGH"}


def _asked_of(option: str, value: str) -> dict[str, Any]:
    """What an option asks of a parameter. Raises EditRefused."""
    if option != "bound":
        return {"held" if option == "hold" else option: parse_number(value)}
    low, colon, high = value.partition(":")
    if not colon:
        raise EditRefused("Two ends need a colon between them.")
    return {"low": _number_or_none(low), "high": _number_or_none(high)}


def _number_or_none(text: str) -> float | None:
    return parse_number(text) if text.strip() else None


def _write(path: Path, title: str, sections: Any) -> None:
    form = FORMS.get(path.suffix.removeprefix(".").lower())
    if form is None:
        endings = ", ".join(f".{name}" for name in FORMS)
        raise click.BadParameter(f"“{path}” ends in none of {endings}.", param_hint="--report")
    write_atomically(path, form(title, sections).encode("utf-8"))


def _as_json(
    found: Fit, equation: str, predictions: list[Prediction], inverse: list[ReadOff]
) -> dict[str, Any]:
    tests = {"regression": regression_test(found), "lack_of_fit": lack_of_fit(found),
             "runs": runs_test(found)}  # fmt: skip
    return {
        "model": found.model,
        "method": found.method,
        "equation": equation,
        "n": found.n,
        "dof": found.dof,
        "parameters": [
            {
                "name": p.name,
                "value": p.value,
                "standard_error": p.standard_error,
                "ci95": p.ci95,
                "unit": p.unit,
                "held": p.held,
            }
            for p in found.parameters
        ],
        "correlation": np.round(correlations(found), 12).tolist(),
        "rss": found.rss,
        "residual_sd": found.residual_sd,
        "r_squared": found.r_squared,
        "adjusted_r_squared": found.adjusted_r_squared,
        "r": found.r,
        "aicc": found.aicc,
        "tests": {name: test._asdict() for name, test in tests.items() if test is not None},
        "converged": found.converged,
        "iterations": found.iterations,
        "notes": list(found.notes),
        "predictions": [
            {
                "x": p.x,
                "value": p.value,
                "confidence95": p.confidence95,
                "prediction95": p.prediction95,
            }
            for p in predictions
        ],
        "read_off": [
            {"y": one.y, "value": one.x, "ci95": one.interval, "beyond": one.beyond}
            for one in inverse
        ],
    }


def _as_text(
    found: Fit, equation: str, predictions: list[Prediction], inverse: list[ReadOff]
) -> str:
    def line(row: Row) -> str:
        return f"{row.name:<28} {row.value}".rstrip()

    lines = [equation] if equation else []
    lines += [line(row) for row in parameter_rows(found)]
    lines += [line(row) for row in (*quality_rows(found), *test_rows(found))]
    lines.append(found.method)
    lines += [
        f"at x = {significant(at.x, 6)}: {_with_interval(at.value, at.confidence95)}"
        for at in predictions
    ]
    lines += [
        f"y = {significant(one.y, 6)} gives x = {_with_interval(one.x, one.interval)}"
        + (", beyond the readings" if one.beyond else "")
        for one in inverse
    ]
    return "\n".join([*lines, *(f"Note: {note}" for note in found.notes)])


def _with_interval(value: float, interval: tuple[float, float] | None) -> str:
    if interval is None:
        return significant(value, 6)
    low, high = (significant(end, 6) for end in interval)
    return f"{significant(value, 6)} (95 %: {low} to {high})"
