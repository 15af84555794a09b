"""What is alike stands in one line and is changed as one: series of a panel that share all but
their column and their look, and trends that share all but their series."""

from collections.abc import Collection, Hashable, Iterable, Sequence
from typing import Any

from attrs import evolve, fields

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.points import own_axis, own_column
from sornix.core.figure.edits.edits import for_other_readings, remove_series
from sornix.core.figure.edits.trendedits import remove_trend
from sornix.core.figure.model.series import Series, SeriesStyle
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import Tables
from sornix.core.trends import UNTREATED

# What each series of a line has for itself.
_SINGLE = ("id", "palette_index", "name", "only", "left_out", "hidden", "style")
SINGLE_OF_TREND = ("id", "series", "spot", "read_offs", "told_at", "treatment")


def bare(trend: Trend, trend_id: str = "", series: str = "") -> Trend:
    """A trend without what is single to it, as another one, or as none."""
    return evolve(
        trend, id=trend_id, series=series, spot=None, read_offs=(), told_at=(),
        treatment=UNTREATED,
    )  # fmt: skip


def changes(old: Any, new: Any, but: Collection[str] = ()) -> dict[str, Any]:
    """The parts of a panel, series, style or trend that an edit has changed, `but` for some."""
    names = [part.name for part in fields(type(new)) if part.name not in but]
    return {name: getattr(new, name) for name in names if getattr(new, name) != getattr(old, name)}


def _alike(series: Series, own: str, unit: str) -> Hashable:
    """What series of one line have in common, with the `unit` of their columns; `own` is the axis
    along which each has its column."""
    only = series.only.column if series.only is not None else None
    told = {part.name: getattr(series, part.name) for part in fields(Series)}
    if only is None:
        # with one series per value of a column, the columns are the same
        told[own] = None
        for errors in ("errors_x", "errors_y"):
            if told[errors] is not None:
                told[errors] = evolve(told[errors], column=None, upper=None)
    return only, unit, *(value for name, value in told.items() if name not in _SINGLE)


def series_lines(
    panel: Panel, tables: Tables, apart: Collection[str] = ()
) -> list[tuple[str, ...]]:
    """The ids of the series of a panel, line by line; those that are to stand `apart` by
    themselves. What has another unit may want a scale of its own, and has its own line."""
    own = own_axis(panel)
    lines: dict[Hashable, list[str]] = {}
    for series in panel.series:
        unit = own_column(panel, series, tables).unit
        key = series.id if series.id in apart else _alike(series, own, unit)
        lines.setdefault(key, []).append(series.id)
    return [tuple(ids) for ids in lines.values()]


def trend_lines(panel: Panel, lines: Iterable[Sequence[str]]) -> list[tuple[str, ...]]:
    """The ids of the trends of a panel, line by line: through each series of one of its `lines`."""
    at = {series: number for number, ids in enumerate(lines) for series in ids}
    found: dict[Hashable, list[str]] = {}
    for trend in panel.trends:
        found.setdefault((at.get(trend.series), bare(trend)), []).append(trend.id)
    return [tuple(ids) for ids in found.values()]


def spread_series(before: Figure, after: Figure, tables: Tables, ids: Sequence[str]) -> Figure:
    """The figure in which all series of a line follow what an edit has made of the first one."""
    panel = after.panel
    known = {series.id: series for series in panel.series}
    if ids[0] not in known:
        return after
    old, new = before.panel.one_series(ids[0]), known[ids[0]]
    own = own_axis(before.panel) if new.only is None else ""
    changed = changes(old, new, (*_SINGLE, own))
    dressed = changes(old.style, new.style)
    if old.left_out and not new.left_out:
        # they were left out of other readings
        changed["left_out"] = ()
    if not changed and not dressed and new.hidden == old.hidden:
        return after

    def follow(series: Series) -> Series:
        if series.id not in ids or series.id == ids[0]:
            return series
        return evolve(series, **changed, style=evolve(series.style, **dressed))

    figure = after.with_panel(evolve(panel, series=tuple(map(follow, panel.series))))
    for direction in "xy":
        if all(one.axis(direction) != direction for one in figure.panel.series):
            raise EditRefused(
                f"{direction} keeps one series at least: a second scale stands beside the first.",
                remedy="Give one of them a line of its own first.",
            )
    panel = figure.panel
    for direction in "xy":
        if direction in changed:
            panel = for_other_readings(panel, tables, old, new, direction, ids)
    return figure.with_panel(panel)


def spread_trends(before: Figure, after: Figure, ids: Sequence[str]) -> Figure:
    """The figure in which all trends of a line follow what an edit has made of the first one; they
    go with it."""
    known = {trend.id: trend for trend in after.panel.trends}
    if ids[0] not in known:
        for trend_id in ids[1:]:
            after = remove_trend(after, trend_id)
        return after
    old, new = before.panel.one_trend(ids[0]), known[ids[0]]
    changed = changes(old, new, SINGLE_OF_TREND)
    trends = tuple(evolve(t, **changed) if t.id in ids else t for t in after.panel.trends)
    return after.with_panel(evolve(after.panel, trends=trends))


def set_columns(figure: Figure, ids: Sequence[str], names: Sequence[str]) -> Figure:
    """The columns that a line of series draws, in their order: series that draw one of them stay as
    they are, new ones are made like the first, the others go."""
    if not names:
        raise EditRefused("One column at least is drawn.", remedy="Remove the series instead.")
    own = own_axis(figure.panel)
    first = figure.panel.one_series(ids[0])
    drawn = {s.column(own): s for s in figure.panel.series if s.id in ids}
    made: list[Series] = []
    for name in names:
        series = drawn.get(name)
        if series is None:
            taken = {s.palette_index for s in (*figure.panel.series, *made)}
            index = min(set(range(len(taken) + 1)) - taken)
            series = _like(first, _next_id(figure, made), index, own, name)
        made.append(series)
    kept = {series.id for series in made}
    at = next(i for i, s in enumerate(figure.panel.series) if s.id in ids)
    others = [s for s in figure.panel.series if s.id not in ids]
    before = sum(s.id not in ids for s in figure.panel.series[:at])
    gone = [i for i in ids if i not in kept]
    # new ones first: the last series of a panel cannot go
    leaving = (figure.panel.one_series(series_id) for series_id in gone)
    listed = (*others[:before], *made, *leaving, *others[before:])
    figure = figure.with_panel(evolve(figure.panel, series=listed))
    for series_id in gone:
        figure = remove_series(figure, series_id)
    return figure


def _like(first: Series, series_id: str, index: int, own: str, name: str) -> Series:
    """A series like another one, of another column; the lengths of its error bars stood in columns
    of the other one."""
    errors = {part: None for part in ("errors_x", "errors_y")
              if (found := getattr(first, part)) is not None and found.column}  # fmt: skip
    columns: dict[str, Any] = {own: name, **errors}
    return evolve(
        first, id=series_id, palette_index=index, name=None, left_out=(), hidden=False,
        style=SeriesStyle(), **columns,
    )  # fmt: skip


def _next_id(figure: Figure, made: Sequence[Series]) -> str:
    panel = evolve(figure.panels[0], series=(*figure.panels[0].series, *made))
    return evolve(figure, panels=(panel, *figure.panels[1:])).next_id("s")


def trend_through(figure: Figure, ids: Sequence[str], series: Sequence[str]) -> Figure:
    """The trends of a line through each of some series, and no others: those that go through one
    of them stay, new ones are made like the first."""
    first = figure.panel.one_trend(ids[0])
    known = {t.series: t for t in figure.panel.trends if t.id in ids}
    made: list[Trend] = []
    for one in series:
        trend = known.get(one)
        if trend is None:
            figure_with = figure.with_panel(
                evolve(figure.panel, trends=(*figure.panel.trends, *made))
            )
            trend = bare(first, figure_with.next_id("t"), one)
        made.append(trend)
    at = next(i for i, t in enumerate(figure.panel.trends) if t.id in ids)
    others = [t for t in figure.panel.trends if t.id not in ids]
    trends = (*others[:at], *made, *others[at:])
    return figure.with_panel(evolve(figure.panel, trends=trends))
