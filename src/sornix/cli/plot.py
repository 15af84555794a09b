"""`sornix plot`."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from sornix.cli.answer import Command, strict_option
from sornix.cli.axisoptions import WithAxes, option_of_axis
from sornix.cli.files import Targets, dialect_options, need_ending, read_table, tell_remarks
from sornix.cli.painting import drawing_of, planned, write_out
from sornix.core.document import Document, out_endings
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    AXES,
    FORMULA,
    MARKS,
    STYLE_NAMES,
    Figure,
    Panel,
    Scale,
    Series,
    add_trend,
    axis_extent,
    hold,
    scale_kind,
    set_size,
    set_style,
)
from sornix.core.figure.model.scale import axis_options
from sornix.core.letters import printable
from sornix.core.readings import Table, Tables
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


# The options of each axis, by the word that they begin with.
_OPTIONS = {"x": "x", "y": "y", "right": "y2"}


def _scale_options(word: str) -> Callable[[Command], Command]:
    """`--x-scale`, `--x-from`, `--x-to`, `--x-every` and so on for an axis."""
    axis = AXES[_OPTIONS[word]]
    held = (
        click.option(f"--{word}-from", help=f"Start of {axis}."),
        click.option(f"--{word}-to", help=f"End of {axis}."),
        click.option(f"--{word}-every", help=f"Step of the ticks of {axis}."),
        click.option(f"--{word}-origin", help=f"Value that the steps of {axis} count from."),
    )

    def add(command: Command) -> Command:
        for option in reversed((*held, *(option_of_axis(word, axis, o) for o in axis_options()))):
            command = option(command)
        return command

    return add


@click.command(cls=WithAxes)
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--x", "x_name", required=True, help="Column along.")
@click.option(
    "--y", "y_names", required=True, multiple=True, help="Column upward; may be repeated."
)
@click.option(
    "--right", "right_names", multiple=True, help="Column upward on the right scale; repeatable."
)
@click.option("--sheet", help="Sheet of a workbook.")
@click.option("--as", "mark", type=click.Choice(list(MARKS)), default="points", help="How to draw.")
@click.option("--trend", type=click.Choice([*MODELS, FORMULA]), help="Trend through each series.")
@click.option("--formula", default="", help="Formula of x for --trend formula.")
@_scale_options("x")
@_scale_options("y")
@_scale_options("right")
@dialect_options
@strict_option
@click.option("--title", default="", help="Title above the figure.")
@click.option(
    "--style",
    type=click.Choice(list(STYLE_NAMES)),
    default="report",
    help="What the figure is made for.",
)
@click.option("--size", type=_Size(), help="Width and height in mm; by default that of the style.")
@click.option(
    "--out",
    "outputs",
    required=True,
    multiple=True,
    type=click.Path(path_type=Path),
    help="File to write: .png, .svg, .pdf, .csv (the numbers drawn) or .sornix; may be repeated.",
)
def plot(
    file: Path,
    x_name: str,
    y_names: tuple[str, ...],
    right_names: tuple[str, ...],
    sheet: str | None,
    mark: str,
    trend: str | None,
    title: str,
    size: tuple[float, float] | None,
    outputs: tuple[Path, ...],
    **scales: Any,
) -> None:
    """Draws a figure straight from the readings in FILE.

    \b
    sornix plot run.csv --x Time --y Level --as line --out level.pdf
    sornix plot standards.csv --x Nitrate --y Absorbance --trend line --out line.png
    """
    for path in outputs:
        need_ending(path, out_endings(), "--out")
        Targets([file]).add([path])
    if not right_names:
        _refuse_right(scales)
    if (trend == FORMULA) != bool(scales["formula"]):
        raise click.UsageError("--trend formula and --formula need each other.")
    table = read_table(file, sheet)
    tell_remarks(table)
    for name in (x_name, *y_names, *right_names):
        table.column(name)
    sides = [*((name, "y") for name in y_names), *((name, "y2") for name in right_names)]
    series = tuple(
        Series(f"s{i + 1}", table.name, x_name, name, mark, i, y_axis=side)
        for i, (name, side) in enumerate(sides)
    )
    made: dict[str, Any] = {axis: _scale(word, scales, table) for word, axis in _OPTIONS.items()}
    panel = Panel(series, **made)
    figure = set_style(Figure((panel,), title), scales.pop("style"))
    figure = set_size(figure, *size) if size is not None else figure
    for one in series if trend is not None else ():
        figure = add_trend(figure, one.id, trend or "", scales["formula"])
    tables = (table,)
    for word, axis in _OPTIONS.items():
        if axis in panel.axes:
            held = _held(figure, tables, word, scales)
            figure = hold(figure, tables, axis, **held)
    _write(Document(tables, figure), outputs, Targets([file]))


def _write(document: Document, outputs: tuple[Path, ...], targets: Targets) -> None:
    drawing = drawing_of(document)
    for path in outputs:
        targets.add(planned(document, drawing, path))
    for path in outputs:
        for written in write_out(document, path, drawing):
            click.echo(f"written: {printable(str(written))}")


def _refuse_right(scales: dict[str, Any]) -> None:
    """Raises UsageError for options of the right scale where nothing stands on it."""
    for name, value in scales.items():
        if name.startswith("right_") and value not in (None, False):
            option = name.replace("_", "-")
            raise click.UsageError(f"--{option} has no effect without --right.")


def _held(figure: Figure, tables: Tables, word: str, scales: dict[str, Any]) -> dict[str, float]:
    """What the options hold of an axis, understood as its kind of scale is typed."""
    axis = _OPTIONS[word]
    kind = KINDS[scale_kind(figure.panel, tables, axis)]
    extent = axis_extent(figure.panel, tables, axis)
    about = extent.least if extent is not None else 0.0
    held = {}
    for part, option in (("start", "from"), ("end", "to"), ("step", "every"), ("origin", "origin")):
        typed = scales[f"{word}_{option}"]
        if typed is None:
            continue
        try:
            held[part] = kind.parse_step(typed) if part == "step" else kind.parse(typed, about)
        except EditRefused as error:
            raise click.BadParameter(str(error), param_hint=f"--{word}-{option}") from error
    return held


def _scale(word: str, scales: dict[str, Any], table: Table) -> Scale:
    """The scale of an axis but for what is held of it."""
    scale = Scale(grid=word == "y")
    for option in axis_options():
        value = scales[f"{word}_{option.offer.word.replace('-', '_')}"]
        if value is not None:
            scale = option.on(scale, value)
    if scale.words is not None:
        table.column(scale.words)
    return scale
