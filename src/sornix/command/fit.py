"""`sornix fit`."""

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
from sornix.core.figure import Figure, Panel, Series, add_trend, r_squared_text
from sornix.core.readings import Column, Table, symbols_for
from sornix.core.text import parse_number, plain_text, plural, rich, significant, with_error
from sornix.core.trends import MODELS, ByFormula, Fit, Prediction


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


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--x", "x_name", required=True, help="Column along.")
@click.option("--y", "y_name", required=True, help="Column upward.")
@click.option("--sheet", help="Sheet of a workbook.")
@click.option(
    "--model",
    type=click.Choice(
        [*(m for m in MODELS if not m.startswith("polynomial-")), "polynomial", "formula"]
    ),
    default="line",
    help="Shape of the trend.",
)
@click.option(
    "--degree", type=click.IntRange(1, 10), default=2, help="Degree of a polynomial; by default 2."
)
@click.option("--formula", help="Formula of x for --model formula; other names are parameters.")
@click.option("--start", multiple=True, help="NAME=VALUE to begin with; repeatable.")
@click.option("--from", "lowest", type=NUMBER, help="Fit readings from this x on.")
@click.option("--to", "highest", type=NUMBER, help="Fit readings up to this x.")
@click.option("--at", type=NUMBER, multiple=True, help="Tell the trend at this x.")
@click.option("--read-off", type=NUMBER, multiple=True, help="Tell the x that belongs to this y.")
@json_option
def fit(
    file: Path,
    x_name: str,
    y_name: str,
    sheet: str | None,
    model: str,
    degree: int,
    lowest: float | None,
    highest: float | None,
    **asked: Any,
) -> None:
    """Puts a trend through the readings in FILE by least squares.

    The equation is given as it is printed on the figure of these readings; --json gives every
    number in full precision.
    """
    if model == "polynomial":
        model = f"polynomial-{degree}" if degree > 1 else "line"
    table = read_table(file, sheet)
    for name in (x_name, y_name):
        need_numbers(table, name)
    table = _between(table, x_name, lowest, highest)
    shape = MODELS[model] if model != "formula" else _typed_formula(asked)
    x, y = table.column(x_name), table.column(y_name)
    rows = np.flatnonzero(x.present & y.present)
    found = shape.fit(x.numbers[rows], y.numbers[rows], rows, x.unit, y.unit)
    if model == "formula":
        # as exactly as half a line of a report figure is wide
        within = float(np.ptp(found.y)) * _HALF_LINE
        drawn = float(found.x.min()), float(found.x.max())
        equation = shape.equation(found, symbols_for(x, y), drawn, within).text
    else:
        panel = Panel((Series("s1", table.name, x_name, y_name),))
        figure = add_trend(Figure((panel,)), "s1", model)
        equation = drawing_of(Document((table,), figure)).place.equations["t1"].text
    predictions = [shape.predict(found, x) for x in asked["at"]]
    inverse = [(y, *shape.read_off(found, y)) for y in asked["read_off"]]
    if asked["as_json"]:
        print_json(_as_json(found, equation, predictions, inverse))
    else:
        click.echo(_as_text(found, shape.method, equation, predictions, inverse))


# Half the width of a trend's line, as a part of the height of a report figure's data area.
_HALF_LINE = 0.16 / 46


def _typed_formula(asked: dict[str, Any]) -> ByFormula:
    """The formula that was given, with the starts that were."""
    if not asked["formula"]:
        raise click.UsageError("--model formula needs --formula.")
    starts = {}
    for text in asked["start"]:
        name, sign, value = text.partition("=")
        try:
            starts[name.strip()] = parse_number(value if sign else "")
        except EditRefused as error:
            raise click.BadParameter(
                f"“{text}” is not NAME=VALUE.", param_hint="--start"
            ) from error
    return ByFormula("formula", "formula", asked["formula"], starts=starts)


def _between(table: Table, x_name: str, lowest: float | None, highest: float | None) -> Table:
    """The table with x missing outside the range, so that those rows take no part."""
    if lowest is None and highest is None:
        return table
    low = -np.inf if lowest is None else lowest
    high = np.inf if highest is None else highest
    x = table.column(x_name)
    kept = (x.numbers >= low) & (x.numbers <= high)
    if not kept.any():
        raise TrendImpossible("No reading lies between --from and --to.", where=table.name)
    inside = evolve(x, values=np.where(kept, x.numbers, np.nan))

    def replaced(column: Column) -> Column:
        return inside if column.name == x_name else column

    return evolve(table, columns=tuple(replaced(column) for column in table.columns))


_ReadOff = tuple[float, float, tuple[float, float] | None]


def _as_json(
    found: Fit, equation: str, predictions: list[Prediction], inverse: list[_ReadOff]
) -> dict[str, Any]:
    return {
        "model": found.model,
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
            }
            for p in found.parameters
        ],
        "rss": found.rss,
        "residual_sd": found.residual_sd,
        "r_squared": found.r_squared,
        "adjusted_r_squared": found.adjusted_r_squared,
        "r": found.r,
        "aicc": found.aicc,
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
        "read_off": [{"y": y, "value": x, "ci95": interval} for y, x, interval in inverse],
    }


def _as_text(
    found: Fit, method: str, equation: str, predictions: list[Prediction], inverse: list[_ReadOff]
) -> str:
    lines = [equation]
    for p in found.parameters:
        unit = plain_text(rich(p.unit))
        lines.append(f"{p.name:<12} {with_error(p.value, p.standard_error)} {unit}".rstrip())
    if found.r_squared is not None:
        lines.append(f"{'R²':<12} {r_squared_text(found.r_squared)}")
    if found.residual_sd is not None:
        lines.append(f"{'residual SD':<12} {significant(found.residual_sd, 3)}")
    lines.append(f"{plural(found.n, 'reading')}, {method}")
    lines += [
        f"at x = {significant(at.x, 6)}: {_with_interval(at.value, at.confidence95)}"
        for at in predictions
    ]
    lines += [
        f"y = {significant(y, 6)} gives x = {_with_interval(x, interval)}"
        for y, x, interval in inverse
    ]
    return "\n".join([*lines, *(f"Note: {note}" for note in found.notes)])


def _with_interval(value: float, interval: tuple[float, float] | None) -> str:
    if interval is None:
        return significant(value, 6)
    low, high = (significant(end, 6) for end in interval)
    return f"{significant(value, 6)} (95 %: {low} to {high})"
