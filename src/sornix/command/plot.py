"""`sornix plot`."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click
from attrs import evolve

from sornix.command.answer import Command
from sornix.command.painting import write_out
from sornix.command.sources import read_table
from sornix.core.document import Document
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    MARKS,
    Figure,
    Panel,
    Scale,
    Series,
    add_trend,
    axis_extent,
    hold,
    scale_kind,
    set_size,
)
from sornix.core.readings import Tables
from sornix.core.scales import KINDS
from sornix.core.trends import MODELS


class _Size(click.ParamType[tuple[float, float]]):
    """`85x64`, in mm."""

    name = "WxH"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> tuple[float, float]:
        match = re.fullmatch(r"(\d+(?:\.\d+)?)[x×](\d+(?:\.\d+)?)", str(value))
        if match is None:
            self.fail(f"“{value}” is not a size. Write it as 85x64 (mm).", param, ctx)
        return float(match[1]), float(match[2])


def _scale_options(axis: str) -> Callable[[Command], Command]:
    """`--x-scale`, `--x-from`, `--x-to`, `--x-every`, `--x-reversed` for an axis."""

    def add(command: Command) -> Command:
        for option in (
            click.option(f"--{axis}-reversed", is_flag=True, help=f"Turn {axis} round."),
            click.option(f"--{axis}-every", help=f"Step of the ticks of {axis}."),
            click.option(f"--{axis}-to", help=f"End of {axis}."),
            click.option(f"--{axis}-from", help=f"Start of {axis}."),
            click.option(
                f"--{axis}-scale",
                type=click.Choice(list(KINDS)),
                help=f"Kind of scale of {axis}; by default time for dates, else linear.",
            ),
        ):
            command = option(command)
        return command

    return add


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--x", "x_name", required=True, help="Column along.")
@click.option(
    "--y", "y_names", required=True, multiple=True, help="Column upward; may be repeated."
)
@click.option("--sheet", help="Sheet of a workbook.")
@click.option("--as", "mark", type=click.Choice(list(MARKS)), default="points", help="How to draw.")
@click.option("--trend", type=click.Choice(list(MODELS)), help="Trend through each series.")
@_scale_options("x")
@_scale_options("y")
@click.option("--title", default="", help="Title above the figure.")
@click.option("--size", type=_Size(), default="85x64", help="Width and height in mm.")
@click.option(
    "--out",
    "outputs",
    required=True,
    multiple=True,
    type=click.Path(path_type=Path),
    help="File to write: .png, .svg, .pdf or .sornix; may be repeated.",
)
def plot(
    file: Path,
    x_name: str,
    y_names: tuple[str, ...],
    sheet: str | None,
    mark: str,
    trend: str | None,
    title: str,
    size: tuple[float, float],
    outputs: tuple[Path, ...],
    **scales: Any,
) -> None:
    """Draws a figure straight from the readings in FILE."""
    table = read_table(file, sheet)
    for name in (x_name, *y_names):
        table.column(name)
    series = tuple(
        Series(f"s{i + 1}", table.name, x_name, y_name, mark, i) for i, y_name in enumerate(y_names)
    )
    panel = Panel(series, _scale("x", scales), _scale("y", scales))
    figure = set_size(Figure((panel,), title), *size)
    if trend is not None:
        for one in series:
            figure = add_trend(figure, one.id, trend)
    tables = (table,)
    for axis in "xy":
        figure = hold(figure, tables, axis, **_held(figure, tables, axis, scales))
    for path in outputs:
        write_out(Document(tables, figure), path)
        click.echo(f"written: {path}")


def _held(figure: Figure, tables: Tables, axis: str, scales: dict[str, Any]) -> dict[str, float]:
    """What the options hold of an axis, understood as its kind of scale is typed."""
    kind = KINDS[scale_kind(figure.panel, tables, axis)]
    extent = axis_extent(figure.panel, tables, axis)
    about = extent.least if extent is not None else 0.0
    held = {}
    for part, word in (("start", "from"), ("end", "to"), ("step", "every")):
        typed = scales[f"{axis}_{word}"]
        if typed is None:
            continue
        try:
            held[part] = kind.parse_step(typed) if part == "step" else kind.parse(typed, about)
        except EditRefused as error:
            raise click.BadParameter(str(error), param_hint=f"--{axis}-{word}") from error
    return held


def _scale(axis: str, scales: dict[str, Any]) -> Scale:
    scale = Scale(kind=scales[f"{axis}_scale"], reversed=scales[f"{axis}_reversed"])
    return evolve(scale, grid=axis == "y")
