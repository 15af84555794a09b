"""What is drawn, as numbers: a table for each series with its residuals, and for each trend."""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

import numpy as np

from sornix.core.drawing.marks.marks import trend_reach
from sornix.core.drawing.parts.items import Drawing, PanelPlace
from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    Trend,
    column_or_rows,
    fitted_trends,
    marked,
    series_name,
    trend_words,
)
from sornix.core.readings import (
    NUMBER,
    TIME,
    Column,
    Table,
    Tables,
    number_column,
    table_named,
    text_column,
    unique_names,
)
from sornix.core.readings.files.textout import need_few
from sornix.core.readings.tables.column import time_column
from sornix.core.text import plain_text, rich
from sornix.core.trends import Fit

_CURVE_POINTS = 201


def drawn_tables(figure: Figure, tables: Tables, drawing: Drawing) -> tuple[Table, ...]:
    """One table for each series: the places drawn, the ends of error bars, what trends give there
    and the residuals; one for each trend: points of its curve and of its 95 % bands. Raises
    ReadingsError where that is too much."""
    need_few(sum(
        len(marked(series, figure.seen(index), tables).points.x)
        for index in range(len(figure.panels)) for series in figure.seen(index).shown
    ))  # fmt: skip
    named = [(name, make()) for name, make in _parts(figure, tables, drawing)]
    names = unique_names((name for name, _ in named), ())
    return tuple(Table(n, t.columns) for n, (_, t) in zip(names, named, strict=True))


def drawn_names(figure: Figure, tables: Tables, drawing: Drawing) -> list[str]:
    """The names of these tables, without what is in them."""
    return unique_names((name for name, _ in _parts(figure, tables, drawing)), ())


def _parts(
    figure: Figure, tables: Tables, drawing: Drawing
) -> Iterator[tuple[str, Callable[[], Table]]]:
    """The name of each table, and what makes it."""
    for index, place in enumerate(drawing.panels):
        panel = figure.seen(index)
        before = f"{figure.name_of(index)} " if len(figure.panels) > 1 else ""
        for series in panel.shown:
            name = f"{before}{_plain(series_name(panel, series, tables))}"
            yield name, partial(_series_table, name, series, panel, tables)
        for trend, fit in fitted_trends(panel, tables):
            if not trend_reach(trend, fit, place.on(panel.one_series(trend.series))):
                # no part of it is drawn
                continue
            name = f"{before}{trend_words(trend)}"
            if len(panel.series) > 1:
                of = series_name(panel, panel.one_series(trend.series), tables)
                name += f" of {_plain(of)}"
            yield name, partial(_trend_table, name, trend, fit, panel, tables, place)


def _plain(text: str) -> str:
    return plain_text(rich(text))


def _like(column: Column, name: str, values: Any) -> Column:
    """Values in the kind and the unit of a column."""
    if column.kind == TIME:
        return time_column(name, values, column.form)
    return number_column(name, values, column.unit if column.kind == NUMBER else "")


def _series_table(name: str, series: Series, panel: Panel, tables: Tables) -> Table:
    table = table_named(tables, series.table)
    x, y = (column_or_rows(table, part) for part in (series.x, series.y))
    shown = marked(series, panel, tables)
    points = shown.points
    single = series.together == "each"
    columns = [number_column("row", points.rows.astype(np.float64) + 1)] if single else []
    for column, values in ((x, points.x), (y, points.y)):
        if column.has_places:
            columns.append(_like(column, column.name, values))
        else:
            cells = [column.cell(int(row)) for row in points.rows]
            columns.append(text_column(column.name, cells))
    for direction, column in (("x", x), ("y", y)):
        if direction in shown.whiskers:
            for word, ends in zip(("low", "high"), shown.whiskers[direction], strict=True):
                columns.append(_like(column, f"{column.name} {word}", ends))
    if single and series.left_out:
        rows = {left.row for left in series.left_out}
        cells = ["left out" if int(row) in rows else "" for row in points.rows]
        columns.append(text_column("left out", cells))
    for trend, fit in fitted_trends(panel, tables):
        if trend.series == series.id:
            at = fit.at(points.x)
            columns.append(_like(y, trend_words(trend), at))
            columns.append(number_column(f"residual of {trend_words(trend)}", points.y - at))
    return _table(name, columns)


def _trend_table(
    name: str, trend: Trend, fit: Fit, panel: Panel, tables: Tables, place: PanelPlace
) -> Table:
    series = panel.one_series(trend.series)
    table = table_named(tables, series.table)
    x, y = (column_or_rows(table, part) for part in (series.x, series.y))
    own = place.on(series)
    stretches = trend_reach(trend, fit, own)
    ends = own.x.position(np.array([min(s[0] for s in stretches), max(s[1] for s in stretches)]))
    at = own.x.values(np.linspace(ends[0], ends[1], _CURVE_POINTS))
    columns = [_like(x, x.name, at), _like(y, trend_words(trend), fit.at(at))]
    bands = fit.bands(at) if fit.residual_sd is not None else None
    if bands is not None:
        for words, (low, high) in (("mean", bands.mean), ("new reading", bands.single)):
            columns.append(_like(y, f"95 % low of {words}", low))
            columns.append(_like(y, f"95 % high of {words}", high))
    return _table(name, columns)


def _table(name: str, columns: list[Column]) -> Table:
    names = unique_names((column.name for column in columns), ())
    return Table(
        name,
        tuple(
            Column(n, c.unit, c.kind, c.values, c.texts, c.form)
            for n, c in zip(names, columns, strict=True)
        ),
    )
