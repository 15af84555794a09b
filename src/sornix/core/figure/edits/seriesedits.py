"""Edits of how a series is drawn: its look, what is drawn together, error bars, its place among the
others; and of how the series of a panel stand and are named."""

import re
from typing import Any

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.points import column_or_rows, lies, series_points
from sornix.core.figure.model.series import IN_TWO_COLUMNS, MARKS, OF_REPLICATES, ErrorBars, Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.patterns import pattern
from sornix.core.readings import TIME, Column, Table, Tables, table_named

# What a column of lengths of error bars is called.
_LENGTHS = pattern(r"\b(SD|SE|SEM|s\.?d\.?|error|uncertainty|deviation)\b", re.IGNORECASE)


def _with(figure: Figure, series: Series) -> Figure:
    panel = figure.panel
    changed = tuple(series if s.id == series.id else s for s in panel.series)
    return figure.with_panel(evolve(panel, series=changed))


def style_series(figure: Figure, series_id: str, **changes: Any) -> Figure:
    """A series of another colour, shape, size, width or dash than its palette's."""
    series = figure.panel.one_series(series_id)
    return _with(figure, evolve(series, style=evolve(series.style, **changes)))


def set_mark(figure: Figure, tables: Tables, series_id: str, mark: str) -> Figure:
    """Another mark, on axes. Bars of several readings at one place become those of their mean."""
    figure = change_panel(figure, form="series")
    series = evolve(figure.panel.one_series(series_id), mark=mark)
    if MARKS[mark].bars and series.together == "each" and repeats(figure.panel, tables, series):
        series = evolve(series, together="mean")
    return _with(figure, series)


def repeats(panel: Panel, tables: Tables, series: Series) -> bool:
    """Whether several readings of a series stand at one place along its axis."""
    points = series_points(series, panel, tables)
    at = points.y if lies(panel, tables) else points.x
    return len(set(at.tolist())) < len(at) if len(at) <= _MOST_COMPARED else False


_MOST_COMPARED = 100_000


def set_together(figure: Figure, series_id: str, together: str) -> Figure:
    """Whether every reading is drawn, or the mean or the sum of those at one place; error bars that
    are about the mean go with it."""
    series = figure.panel.one_series(series_id)
    if together != "mean":
        series = each_alone(series)
    return _with(figure, evolve(series, together=together))


def each_alone(series: Series) -> Series:
    """A series with every reading drawn, and without error bars that are about means."""
    for direction in "xy":
        errors = series.errors(direction)
        if errors is not None and errors.kind in OF_REPLICATES:
            series = with_errors(series, direction, None)
    return evolve(series, together="each")


def with_errors(series: Series, direction: str, errors: ErrorBars | None) -> Series:
    """The series with other error bars along an axis, or none."""
    if direction == "x":
        return evolve(series, errors_x=errors)
    return evolve(series, errors_y=errors)


def set_errors(
    figure: Figure, tables: Tables, series_id: str, direction: str, kind: str | None
) -> Figure:
    """Error bars along `x` or `y`, or None for none, with what fits the readings to begin with."""
    panel = figure.panel
    series = panel.one_series(series_id)
    if kind is None:
        return _with(figure, with_errors(series, direction, None))
    old = series.errors(direction)
    table = table_named(tables, series.table)
    errors = ErrorBars(kind, band=old.band if old is not None else False)
    column = column_or_rows(table, series.x if direction == "x" else series.y)
    if kind == "percent" and column.kind == TIME:
        raise EditRefused(
            "A date has no percent of itself.", remedy="Choose a fixed length of error bars."
        )
    if kind == "percent":
        errors = evolve(errors, size=5.0)
    elif kind == "fixed":
        points = series_points(series, panel, tables)
        values = points.x if direction == "x" else points.y
        spread = float(values.max() - values.min()) if len(values) else 0.0
        errors = evolve(errors, size=_round(spread * 0.05 or 1.0, is_time=column.kind == TIME))
    elif kind in ("column", *IN_TWO_COLUMNS):
        name = _lengths(table, column)
        errors = evolve(errors, column=name, upper=name if kind in IN_TWO_COLUMNS else None)
    elif not repeats(panel, tables, series):
        raise EditRefused(
            "There is one reading at each place, so there is nothing to take a mean of.",
            remedy="Choose a fixed length, percent, or a column of lengths.",
        )
    else:
        series = evolve(series, together="mean")
    return _with(figure, with_errors(series, direction, errors))


def _round(size: float, *, is_time: bool) -> float:
    """A size to one digit, or to whole days, hours or minutes along a time."""
    unit = next((unit for unit in _LENGTHS_OF_TIME if size >= unit), 0.0) if is_time else 0.0
    return unit * round(size / unit) if unit else float(f"{size:.0e}")


_LENGTHS_OF_TIME = (86_400.0, 3_600.0, 60.0)


def _lengths(table: Table, own: Column) -> str:
    """The column that most likely holds the lengths of error bars."""
    numbers = [c.name for c in table.number_columns if c.name != own.name]
    if own.kind == TIME:
        numbers = [name for name in numbers if table.column(name).unit == "s"]
    if not numbers:
        # a date has no percent of itself
        needed, length = ("column of seconds", "a fixed length") if own.kind == TIME else (
            "other column of numbers", "a fixed length or percent"
        )  # fmt: skip
        raise EditRefused(
            f"There is no {needed}.", remedy=f"Give {length}, or compute a column first."
        )
    likely = [name for name in numbers if _LENGTHS.search(name)]
    same = [name for name in likely if table.column(name).unit == own.unit]
    return (same or likely or numbers)[0]


def change_errors(figure: Figure, series_id: str, direction: str, **changes: Any) -> Figure:
    """Error bars of another size, column or form."""
    series = figure.panel.one_series(series_id)
    errors = series.errors(direction)
    if errors is None:
        return figure
    return _with(figure, with_errors(series, direction, evolve(errors, **changes)))


def hide_series(figure: Figure, series_id: str, hidden: bool) -> Figure:
    """A series that is kept but not drawn. The last one that is shown stays."""
    panel = figure.panel
    if hidden and [s.id for s in panel.shown] == [series_id]:
        raise EditRefused("One series stays in sight.", remedy="Show another one first.")
    return _with(figure, evolve(panel.one_series(series_id), hidden=hidden))


def shift_series(figure: Figure, series_id: str, by: int) -> Figure:
    """A series earlier (−1) or later (1) in the order of drawing and naming."""
    panel = figure.panel
    order = [s.id for s in panel.series]
    at = order.index(series_id)
    to = min(max(at + by, 0), len(order) - 1)
    series = list(panel.series)
    series.insert(to, series.pop(at))
    return figure.with_panel(evolve(panel, series=tuple(series)))


def change_panel(figure: Figure, **changes: Any) -> Figure:
    """How bars stand and how wide they are, where names stand, and what the panel shows: `bars`,
    `bar_width`, `names`, `form`."""
    return figure.with_panel(evolve(figure.panel, **changes))
