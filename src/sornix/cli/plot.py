"""`sornix plot`."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

import click
from attrs import evolve

from sornix.cli.answer import Command, strict_option
from sornix.cli.axisoptions import WithAxes, option_of_axis
from sornix.cli.files import Targets, dialect_options, need_ending, read_table, tell_remarks
from sornix.cli.painting import drawing_of, planned, write_out
from sornix.core.document import Document, out_endings
from sornix.core.errors import EditRefused, TrendImpossible
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
    first_ways,
    hold,
    scale_kind,
    set_size,
    set_style,
    trend_fit,
    trend_words,
)
from sornix.core.figure.model.scale import axis_options
from sornix.core.letters import printable
from sornix.core.readings import Table, Tables
from sornix.core.scales import KINDS
from sornix.core.text import plural
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
@click.option("--x", "x_name", help="Column along; without columns Sornix chooses them.")
@click.option("--y", "y_names", multiple=True, help="Column upward; may be repeated.")
@click.option(
    "--other",
    type=click.IntRange(1, 3),
    help="Without columns: another way to draw them, the next best one by its number.",
)
@click.option(
    "--right", "right_names", multiple=True, help="Column upward on the right scale; repeatable."
)
@click.option("--sheet", help="Sheet of a workbook.")
@click.option(
    "--as",
    "mark",
    type=click.Choice(list(MARKS)),
    help="How to draw; points where columns are given.",
)
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
    sheet: str | None,
    trend: str | None,
    title: str,
    size: tuple[float, float] | None,
    outputs: tuple[Path, ...],
    **scales: Any,
) -> None:
    """Draws a figure straight from the readings in FILE.

    \b
    sornix plot run.csv --out run.pdf
    sornix plot run.csv --x Time --y Level --as line --out level.pdf
    sornix plot standards.csv --x Nitrate --y Absorbance --trend line --out line.png
    """
    for path in outputs:
        need_ending(path, out_endings(), "--out")
        Targets([file]).add([path])
    columns = _Columns(**{name: scales.pop(name) for name in _Columns._fields})
    _check(columns, scales)
    if (trend == FORMULA) != bool(scales["formula"]):
        raise click.UsageError("--trend formula and --formula need each other.")
    table = read_table(file, sheet)
    tell_remarks(table)
    figure = evolve(_drawn(table, columns), title=title)
    panel = figure.panel
    for word, axis in _OPTIONS.items():
        panel = panel.with_scale(axis, _scale(word, scales, table, panel.scale(axis)))
    figure, series = figure.with_panel(panel), panel.series
    figure = set_style(figure, scales.pop("style"))
    figure = set_size(figure, *size) if size is not None else figure
    for one in series if trend is not None else ():
        figure = add_trend(figure, one.id, trend or "", scales["formula"])
    tables = (table,)
    for word, axis in _OPTIONS.items():
        if axis in panel.axes:
            held = _held(figure, tables, word, scales)
            figure = hold(figure, tables, axis, **held)
    for through in figure.panel.trends:
        try:
            trend_fit(through, figure.panel, tables)
        except TrendImpossible as error:
            click.echo(f"sornix: no {trend_words(through)} is drawn: {error}", err=True)
    _write(Document(tables, figure), outputs, Targets([file]))


class _Columns(NamedTuple):
    """The columns that are asked for: along, upward, upward on the right scale; or none, and which
    of the ways that Sornix has; and how they are drawn."""

    x_name: str | None
    y_names: tuple[str, ...]
    right_names: tuple[str, ...]
    other: int | None
    mark: str | None


def _check(columns: _Columns, scales: dict[str, Any]) -> None:
    """Raises UsageError where options of columns do not go together."""
    if bool(columns.x_name) != bool(columns.y_names):
        raise click.UsageError("Name both --x and --y, or neither.")
    if columns.x_name and columns.other is not None:
        raise click.UsageError("--other is for figures without --x and --y.")
    if columns.right_names and not columns.x_name:
        raise click.UsageError("--right needs --x and --y.")
    if not columns.right_names:
        _refuse_right(scales)


def _drawn(table: Table, columns: _Columns) -> Figure:
    """The columns that are asked for, each upward on its side; or the figure that is drawn unasked,
    which says why it is so."""
    if not columns.x_name:
        return _unasked(table, columns.other or 0, columns.mark)
    sides = [(name, "y") for name in columns.y_names]
    sides += [(name, "y2") for name in columns.right_names]
    for name in (columns.x_name, *(name for name, _ in sides)):
        table.column(name)
    series = tuple(
        Series(f"s{i + 1}", table.name, columns.x_name, name, columns.mark or "points", i,
               y_axis=side)
        for i, (name, side) in enumerate(sides)
    )  # fmt: skip
    return Figure((Panel(series),))


def _unasked(table: Table, other: int, mark: str | None) -> Figure:
    ways = first_ways(table)
    if other >= len(ways):
        many = plural(len(ways) - 1, "other way", "other ways")
        raise click.UsageError(f"There {'is' if len(ways) == 2 else 'are'} {many} to draw this.")
    way = ways[other]
    if mark is None:
        click.echo(f"sornix: drawn as {way.words}. {way.because}", err=True)
    panels = [
        evolve(panel, series=tuple(evolve(one, mark=mark or one.mark) for one in panel.series))
        for panel in way.figure.panels
    ]
    return evolve(way.figure, panels=tuple(panels))


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


def _scale(word: str, scales: dict[str, Any], table: Table, scale: Scale) -> Scale:
    """The scale of an axis with what the options say, but for what is held of it."""
    for option in axis_options():
        value = scales[f"{word}_{option.offer.word.replace('-', '_')}"]
        if value is not None:
            scale = option.on(scale, value)
    if scale.words is not None:
        table.column(scale.words)
    return scale
