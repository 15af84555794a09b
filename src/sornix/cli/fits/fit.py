"""`sornix fit`."""

import math
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import click
from attrs import evolve

from sornix.cli.answer import json_option, print_json, strict_option
from sornix.cli.files import (
    Targets,
    dialect_options,
    need_ending,
    need_numbers,
    read_table,
    tell_remarks,
)
from sornix.cli.fits.readoffs import (
    Asked,
    Told,
    answered,
    unknowns_in,
)
from sornix.cli.fits.said import fit_said, fitted, refuse_options_beside
from sornix.cli.fits.told import as_json, as_text
from sornix.cli.painting import drawing_of
from sornix.cli.plot import Words
from sornix.core.document import Document
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    FORMULA,
    INTERVALS,
    ErrorBars,
    Figure,
    Panel,
    Series,
    Trend,
    Unknown,
    add_trend,
)
from sornix.core.figure.derived.trendfits import is_searched
from sornix.core.figure.model.checks import limits_of
from sornix.core.figure.prose.trendreport import report_sections
from sornix.core.files import write_atomically
from sornix.core.readings import Column, Table
from sornix.core.text import parse_measured, parse_number
from sornix.core.trends import (
    METHODS,
    MODELS,
    ON_LOGS,
    Setting,
    Treatment,
)
from sornix.core.trends.fits.report import FORMS


class Measured(click.ParamType[tuple[float, float | None]]):
    """A number as people type it, with its standard deviation where one is given."""

    name = "number"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> tuple[float, float | None]:
        if isinstance(value, tuple):
            return value
        try:
            return parse_measured(str(value))
        except EditRefused as error:
            self.fail(str(error), param, ctx)


_TIMES = limits_of(Trend, "resamples")
MEASURED = Measured()
_IN_SEVERAL = [name for name, model in MODELS.items() if model.in_several]
_ROBUST = [name for name in METHODS if name != "least-squares"]


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("statement", required=False, type=Words())
@click.option("--x", "x_name", help="Column along.")
@click.option("--y", "y_name", help="Column upward.")
@click.option("--sheet", help="Sheet of a workbook.")
@click.option(
    "--model",
    type=click.Choice(
        [*(m for m in MODELS if not m.startswith("polynomial-")), "polynomial", FORMULA]
    ),
    default="line",
    help="Shape of the trend.",
)
@click.option("--degree", type=click.IntRange(1, 10), help="Degree of a polynomial; by default 2.")
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
@click.option(
    "--intervals",
    type=click.Choice(list(INTERVALS)),
    default="usual",
    help="How 95 % intervals are found.",
)
@click.option(
    "--times",
    type=click.IntRange(int(_TIMES.low), int(_TIMES.high)),
    help="How often readings are resampled; usually 2000.",
)
@click.option("--seed", type=click.IntRange(0), help="The seed of what is drawn; usually 1.")
@click.option(
    "--also", multiple=True, help="Further column of a straight line in several; repeatable."
)
@click.option("--products", is_flag=True, help="With the products of these columns.")
@click.option("--from", "lowest", help="Fit readings from this x on: a number, or a date or time.")
@click.option("--to", "highest", help="Fit readings up to this x.")
@click.option("--at", multiple=True, help="Tell the trend at this x; repeatable.")
@click.option(
    "--read-off",
    type=MEASURED,
    multiple=True,
    help="Tell the x that belongs to this y, such as 0.35 or 0.35±0.01.",
)
@click.option("--unknowns", help="Column of y whose x are told, one for each row.")
@click.option("--unknowns-sd", help="Column of their standard deviations.")
@click.option(
    "--replicates", type=click.IntRange(1), help="How many readings each y is a mean of; usually 1."
)
@click.option("--dilution", type=MEASURED, help="How many times the unknowns were diluted.")
@click.option(
    "--recovery", type=MEASURED, help="How many % of what is in them are found, such as 92±3."
)
@click.option(
    "--report", "reports", multiple=True, type=click.Path(path_type=Path),
    help="Write a report (.txt, .md, .html, .csv); repeatable.",
)  # fmt: skip
@dialect_options
@strict_option
@json_option
def fit(
    file: Path,
    statement: str | None,
    x_name: str | None,
    y_name: str | None,
    sheet: str | None,
    model: str,
    **asked: Any,
) -> None:
    """Puts a trend through the readings in FILE by least squares: the one that options ask for, or
    each of those that STATEMENT says.

    The equation is given as it is printed on the figure of these readings; --json gives every
    number in full precision.

    \b
    sornix fit standards.csv --x Nitrate --y Absorbance --read-off 0.35
    sornix fit tracer.csv --x Time --y Fluorescence --model decay --from 5 --json
    sornix fit tracer.csv "Trend decay to a background from 5" --json
    """
    targets = Targets([file])
    for path in asked["reports"]:
        need_ending(path, [f".{name}" for name in FORMS], "--report")
        targets.add([path])
    if statement is not None:
        refuse_options_beside(statement)
        fit_said(file, statement, sheet, asked)
        return
    if x_name is None or y_name is None:
        missing = "--x" if x_name is None else "--y"
        raise click.UsageError(f"Missing option '{missing}', or a statement with a trend.")
    _refuse_what_has_no_effect(model, asked)
    if model == "polynomial":
        degree = asked["degree"] or 2
        model = f"polynomial-{degree}" if degree > 1 else "line"
    asked["replicates"] = asked["replicates"] or 1
    table = read_table(file, sheet)
    tell_remarks(table)
    _need_columns(table, x_name, y_name, asked)
    column = table.column(x_name)
    for name in ("lowest", "highest"):
        if asked[name] is not None:
            option = "--from" if name == "lowest" else "--to"
            asked[name] = _x_of(column, asked[name], option)
    at = [_x_of(column, typed, "--at") for typed in asked["at"]]
    unknowns = [
        *(Asked("", y, sd) for y, sd in asked["read_off"]),
        *unknowns_in(table, asked["unknowns"], asked["unknowns_sd"]),
    ]
    figure = _figure(table, x_name, y_name, model, asked, unknowns)
    panel = figure.panel
    trend = panel.trends[0]
    found = fitted(trend, panel, (table,))
    if asked["start"] and not is_searched(trend):
        raise click.UsageError("--start has no effect: this trend is not searched for.")
    equations = drawing_of(Document((table,), figure)).place.equations
    equation = equations["t1"].text if found.names else ""
    told = Told(
        column,
        [found.predict(x) for x in at],
        [answered(found, one, asked["replicates"]) for one in unknowns],
        trend.treatment,
    )
    sections = report_sections(panel, (table,), equations) if asked["reports"] else []
    for path in asked["reports"]:
        form = FORMS[path.suffix.removeprefix(".").lower()]
        title = f"{y_name} against {x_name}, {table.name}"
        write_atomically(path, form(title, sections).encode("utf-8"))
    if asked["as_json"]:
        print_json(as_json(found, equation, told))
    else:
        click.echo(as_text(found, equation, told))


def _refuse_what_has_no_effect(model: str, asked: dict[str, Any]) -> None:
    """Raises UsageError for an option that could change nothing."""
    resampled = asked["intervals"] == "resampling"
    unknown = bool(asked["read_off"]) or asked["unknowns"] is not None
    for wrong, said in (
        (
            (model == FORMULA) != bool(asked["formula"]),
            "--model formula and --formula need each other.",
        ),
        (
            asked["degree"] is not None and model != "polynomial",
            "--degree has no effect without --model polynomial.",
        ),
        (
            asked["weights"] is not None and asked["sd_name"] is not None,
            "--weights has no effect beside --sd: readings weigh by one or the other.",
        ),
        (asked["x_sd_name"] is not None and asked["sd_name"] is None, "--x-sd needs --sd."),
        (
            asked["unknowns_sd"] is not None and asked["unknowns"] is None,
            "--unknowns-sd has no effect without --unknowns.",
        ),
        (
            (asked["dilution"], asked["recovery"]) != (None, None) and not unknown,
            "--dilution and --recovery have no effect without --read-off or --unknowns.",
        ),
        (
            asked["replicates"] is not None and not unknown,
            "--replicates has no effect without --read-off or --unknowns.",
        ),
        (
            bool(asked["also"]) and model not in _IN_SEVERAL,
            f"--also is for {', '.join(_IN_SEVERAL)}.",
        ),
        (asked["products"] and not asked["also"], "--products has no effect without --also."),
        (
            bool(asked["also"] and (asked["hold"] or asked["bound"] or asked["x_sd_name"])),
            "--hold, --bound and --x-sd are for a line in one column.",
        ),
        (
            not resampled and (asked["times"], asked["seed"]) != (None, None),
            "--times and --seed have no effect without --intervals resampling.",
        ),
        (
            asked["on_logs"] and model not in ON_LOGS,
            f"--on-logs is for {', '.join(ON_LOGS)}.",
        ),
    ):
        if wrong:
            raise click.UsageError(said)


def _need_columns(table: Table, x_name: str, y_name: str, asked: dict[str, Any]) -> None:
    """Raises UnknownColumn or ReadingsError for a column that is not there, or not of numbers."""
    others = (asked[name] for name in ("sd_name", "x_sd_name", "unknowns", "unknowns_sd"))
    for name in (x_name, y_name, *others):
        if name is not None:
            need_numbers(table, name)
    for name in asked["also"]:
        table.column(name)


def _x_of(column: Column, typed: str, option: str) -> float:
    """A value of x as it is typed: a number, or a date or time for a column of these."""
    try:
        return column.typed(typed)
    except EditRefused as error:
        raise click.BadParameter(str(error), param_hint=option) from error


def _figure(
    table: Table, x_name: str, y_name: str, model: str, asked: dict[str, Any],
    unknowns: Sequence[Asked],
) -> Figure:  # fmt: skip
    """The figure whose trend is what is asked for."""
    series = Series("s1", table.name, x_name, y_name)
    weights, column = asked["weights"] or "equal", None
    if asked["x_sd_name"] is not None:
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
        "intervals": asked["intervals"],
        "columns": asked["also"],
        "products": asked["products"],
        **{
            name: asked[option]
            for name, option in (("resamples", "times"), ("seed", "seed"))
            if asked[option] is not None
        },
        "read_offs": tuple(
            Unknown(one.y, asked["replicates"], one.sd)
            for one in unknowns
            if math.isfinite(one.y) and (one.sd is None or one.sd > 0)
        ),
        "treatment": _treatment(asked),
    }
    formula = asked["formula"] or "" if model == FORMULA else ""
    return add_trend(Figure((Panel((series,)),)), "s1", model, formula, **more)


def _settings(asked: dict[str, Any]) -> tuple[Setting, ...]:
    """What is asked of single parameters."""
    settings: dict[str, Setting] = {}
    for option, form in _FORMS.items():
        known: set[str] = set()
        for text in asked[option]:
            name, sign, value = (piece.strip() for piece in text.partition("="))
            if name in known:
                raise click.BadParameter(f"“{name}” has two of them.", param_hint=f"--{option}")
            known.add(name)
            try:
                changes = _asked_of(option, value if sign else "")
            except EditRefused as error:
                raise click.BadParameter(
                    f"“{text}” is not {form}.", param_hint=f"--{option}"
                ) from error
            settings[name] = evolve(settings.get(name, Setting(name)), **changes)
    return tuple(settings.values())


def _treatment(asked: dict[str, Any]) -> Treatment:
    """What was done to the unknowns."""
    dilution, of_dilution = asked["dilution"] or (1.0, None)
    if of_dilution is not None:
        raise click.UsageError("--dilution has no standard deviation.")
    recovery, sd = asked["recovery"] or (100.0, None)
    return Treatment(dilution, recovery, sd or 0.0)


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
