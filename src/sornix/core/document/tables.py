"""Edits on the readings of a document: the figure and the tables that follow come along."""

from collections.abc import Callable, Iterable, Mapping
from typing import TYPE_CHECKING, Any

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.document.value import Document
from sornix.core.errors import EditRefused, SornixError
from sornix.core.figure import (
    AXES,
    Figure,
    LeftOut,
    Note,
    Panel,
    Scale,
    Series,
    Trend,
    Unknown,
    new_figure,
    series_points,
)
from sornix.core.figure.edits.axisedits import suited
from sornix.core.readings import NUMBER, Table, Tables, table_named, unique_names

if TYPE_CHECKING:
    from sornix.core.readings.changes.operations import Edited
    from sornix.core.readings.tables.origin import Grouping

# What changes tables is imported on first use: a figure that is only looked at has no need of it.


def change_table(document: Document, name: str, act: str, /, **arguments: Any) -> Document:
    """A document after an act on a table (a name in OPERATIONS). Raises SornixError; then nothing
    has changed."""
    from sornix.core.readings.changes.operations import apply_change
    from sornix.core.readings.tables.origin import Change

    before = table_named(document.tables, name)
    change = Change(act, _as_json(arguments))
    edited = apply_change(before, change)
    if edited.table is before:
        return document
    after = edited.table
    if edited.rows is not None:
        after = _with_moved_rules(after, edited.rows)
    if before.source is not None:
        after = evolve(after, changes=(*before.changes, change))
    for figure in document.figures:
        _check_columns(figure, name, after, edited, elsewhere=figure is not document.figure)

    def follow(figure: Figure) -> Figure:
        figure = _following(figure, before, edited)
        if act == "convert":
            figure = _converted(figure, before, str(arguments["column"]), str(arguments["unit"]))
        return figure

    tables = replaced(document.tables, name, after, edited.names)
    changed = document.each(
        lambda figure: _with_panels(follow(figure), lambda panel: suited(panel, tables))
    )
    return evolve(changed, tables=tables)


def _with_moved_rules(table: Table, rows: NDArray[np.intp]) -> Table:
    """A table whose rows went to other places: what is left out of trends that columns are computed
    from has gone there too."""
    from sornix.core.readings.tables.rule import Residuals
    from sornix.core.readings.tables.rules import recomputed

    if not any(isinstance(column.rule, Residuals) for column in table.columns):
        return table
    places = {old: new for new, old in enumerate(rows.tolist()) if old >= 0}
    columns = tuple(
        evolve(c, rule=c.rule.moved(places)) if isinstance(c.rule, Residuals) else c
        for c in table.columns
    )
    return recomputed(evolve(table, columns=columns))


def _as_json(value: Any) -> Any:
    """Arguments as JSON has them, so that those of a document that was reopened are the same."""
    if isinstance(value, Mapping):
        return {str(name): _as_json(inner) for name, inner in value.items()}
    if isinstance(value, (list, tuple, range)):
        return [_as_json(inner) for inner in value]
    return value


def _check_columns(
    figure: Figure, name: str, table: Table, edited: "Edited", *, elsewhere: bool
) -> None:
    """Raises EditRefused where a figure, the one in sight or another, needs a column that is not
    there any more."""
    there = set(table.column_names)
    for panel in figure.panels:
        for series in panel.series:
            of_trends = [
                c for t in panel.trends_of(series.id) for c in (t.weight_column, *t.columns)
            ]
            for column in (*series.columns, *(c for c in of_trends if c is not None)):
                if series.table == name and edited.names.get(column, column) not in there:
                    which = "another figure" if elsewhere else "the figure"
                    raise EditRefused(
                        f"“{column}” is drawn in {which}.",
                        remedy="Choose another column for that series first.",
                    )


def replaced(tables: Tables, name: str, fresh: Table, names: Mapping[str, str]) -> Tables:
    """The tables with one of them changed, and those that follow it brought up to date."""
    result = [fresh if table.name == name else table for table in tables]
    for i, table in enumerate(result):
        grouping = table.grouping
        if grouping is not None and grouping.source == name:
            from sornix.core.readings.tables.grouping import group_rows

            for old, new in names.items():
                grouping = grouping.following(old, new)
            result[i] = group_rows(fresh, grouping, table.name)
    return tuple(result)


def _note_after(note: Note, places: Mapping[int, int]) -> Note | None:
    """A note where the row of its reading went; None where that is gone."""
    if note.row is None:
        return note
    return evolve(note, row=places[note.row]) if note.row in places else None


def _following(figure: Figure, before: Table, edited: "Edited") -> Figure:
    """The figure with new names of columns, and with left-out readings where their rows went."""
    names, rows = edited.names, edited.rows
    drawn = any(series.table == before.name for p in figure.panels for series in p.series)
    if not drawn or (not names and rows is None):
        return figure
    places: dict[int, int] | None = None
    if rows is not None:
        places = {old: new for new, old in enumerate(rows.tolist()) if old >= 0}

    def follow(series: Series) -> Series:
        if series.table != before.name:
            return series
        left_out = series.left_out
        if places is not None:
            moved = (evolve(left, row=places[left.row]) for left in left_out if left.row in places)
            left_out = tuple(sorted(moved, key=_row_of))
        return evolve(series.following(names), left_out=left_out)

    def follow_panel(panel: Panel) -> Panel:
        series = tuple(map(follow, panel.series))
        # words of a column stand on axes whose series are of its table
        for axis in AXES:
            words = panel.scale(axis).words
            on_axis = panel.series_on(axis)
            if words in names and on_axis and on_axis[0].table == before.name:
                scale = evolve(panel.scale(axis), words=names[str(words)])
                panel = panel.with_scale(axis, scale)

        notes = panel.notes
        if places is not None:
            ours = {s.id for s in panel.series if s.table == before.name}
            kept = (_note_after(n, places) if n.series in ours else n for n in notes)
            notes = tuple(note for note in kept if note is not None)
        trends = tuple(_renamed(trend, panel, before, names) for trend in panel.trends)
        return evolve(panel, series=series, trends=trends, notes=notes)

    return _with_panels(figure, follow_panel)


def _renamed(trend: Trend, panel: Panel, table: Table, names: Mapping[str, str]) -> Trend:
    """A trend that weighs by, or goes along, columns of new names."""
    if panel.one_series(trend.series).table != table.name:
        return trend
    weights = trend.weight_column
    return evolve(
        trend, weight_column=None if weights is None else names.get(weights, weights),
        columns=tuple(names.get(column, column) for column in trend.columns),
    )  # fmt: skip


def _row_of(left: LeftOut) -> int:
    return left.row


def _with_panels(figure: Figure, change: Callable[[Panel], Panel]) -> Figure:
    return evolve(figure, panels=tuple(change(panel) for panel in figure.panels))


def _converted(figure: Figure, table: Table, column: str, unit: str) -> Figure:
    """The figure with held ends of the axes of a column in its new unit; a held step is freed,
    because a round one would not stay round."""
    from sornix.core.readings.tables.units import convert

    old = table.column(column).unit

    def new(value: float | None) -> float | None:
        return None if value is None else float(convert(np.array([value]), old, unit)[0])

    def change(scale: Scale) -> Scale:
        return evolve(
            scale, start=new(scale.start), end=new(scale.end), step=None, origin=None, other=None
        )

    def change_trend(panel: Panel, trend: Trend) -> Trend:
        """What is held of x or y, in the new unit; parameters are free again: theirs changed."""
        series = panel.one_series(trend.series)
        if series.table != table.name:
            return trend
        if series.x == column:
            told = tuple(new(x) or 0.0 for x in trend.told_at)
            return evolve(trend, start=new(trend.start), end=new(trend.end), told_at=told,
                          settings=())  # fmt: skip
        if series.y == column:
            read = tuple(_read_in(one, new) for one in trend.read_offs)
            return evolve(trend, read_offs=read, settings=())
        return trend

    def change_panel(panel: Panel) -> Panel:
        for axis in panel.axes:
            drawn = {(s.table, s.column(axis)) for s in panel.series_on(axis)}
            if drawn == {(table.name, column)}:
                guides = tuple(
                    evolve(g, value=new(g.value) or 0.0, end=new(g.end)) if g.axis == axis else g
                    for g in panel.guides
                )
                panel = panel.with_scale(axis, change(panel.scale(axis)))
                panel = evolve(panel, guides=guides)
        return evolve(panel, trends=tuple(change_trend(panel, t) for t in panel.trends))

    return _with_panels(figure, change_panel)


# -- whole tables ------------------------------------------------------------------------------


def _read_in(asked: Unknown, new: Callable[[float | None], float | None]) -> Unknown:
    """A y that is read off, in another unit."""
    y = new(asked.y) or 0.0
    sd = None if asked.sd is None else abs((new(asked.y + asked.sd) or 0.0) - y)
    return evolve(asked, y=y, sd=sd or None)


def add_tables(document: Document, tables: Iterable[Table]) -> Document:
    """More tables; a name that is taken gets a number behind it."""
    from sornix.core.readings.changes.together import with_whole_times

    fresh = [t if t.grouping or t.changes else with_whole_times(t) for t in tables]
    names = unique_names((t.name for t in fresh), (t.name for t in document.tables))
    named = [evolve(t, name=n) for t, n in zip(fresh, names, strict=True)]
    return evolve(document, tables=(*document.tables, *named))


def remove_table(document: Document, name: str) -> Document:
    """A document without a table. Raises EditRefused where it is drawn or followed, or the last."""
    for figure in document.figures:
        if any(series.table == name for panel in figure.panels for series in panel.series):
            which = "the figure" if figure is document.figure else "another figure"
            raise EditRefused(f"“{name}” is drawn in {which}.", remedy="Draw another table first.")
    for table in document.tables:
        if table.grouping is not None and table.grouping.source == name:
            raise EditRefused(f"“{table.name}” follows “{name}”.", remedy="Remove that one first.")
    return evolve(document, tables=tuple(t for t in document.tables if t.name != name))


def rename_table(document: Document, name: str, new: str) -> Document:
    """Another name for a table; the figure and summaries follow. Raises EditRefused."""
    new = " ".join(new.split())
    if not new:
        raise EditRefused("A table needs a name.")
    if new != name and any(table.name == new for table in document.tables):
        raise EditRefused(f"There is a table “{new}” already.", remedy="Choose another name.")

    def follow(table: Table) -> Table:
        if table.name == name:
            table = evolve(table, name=new)
        if table.grouping is not None and table.grouping.source == name:
            table = evolve(table, grouping=evolve(table.grouping, source=new))
        return table

    def follow_series(panel: Panel) -> Panel:
        return evolve(
            panel,
            series=tuple(evolve(s, table=new) if s.table == name else s for s in panel.series),
        )

    tables = tuple(follow(table) for table in document.tables)
    followed = document.each(lambda figure: _with_panels(figure, follow_series))
    return evolve(followed, tables=tables)


def add_summary(document: Document, grouping: "Grouping") -> Document:
    """A table that summarises another and follows it."""
    from sornix.core.readings.tables.grouping import group_rows

    source = table_named(document.tables, grouping.source)
    name = f"{source.name} by {', '.join(grouping.by)}"
    return add_tables(document, [group_rows(source, grouping, name)])


def draw_table(document: Document, name: str) -> Document:
    """The document with the first figure of a table in place of the present one."""
    return evolve(document, figure=first_like(document.figure, document.tables, name))


def first_like(old: Figure, tables: Tables, name: str) -> Figure:
    """The first figure of a table, of the size and in the style of another one."""
    return evolve(
        new_figure(table_named(tables, name)), width_mm=old.width_mm, height_mm=old.height_mm,
        style=old.style, choices=old.choices, style_name=old.style_name, name=old.name,
    )  # fmt: skip


def with_table_read_again(document: Document, name: str, fresh: Table) -> Document:
    """The document with a table that was read anew in place of the old one.

    A figure is kept where its columns are still there, else drawn anew from the table.
    """
    tables = replaced(document.tables, name, evolve(fresh, name=name), {})

    def kept(figure: Figure) -> Figure:
        try:
            for panel in figure.panels:
                for series in panel.series:
                    for name_of_column in series.columns:
                        table_named(tables, series.table).column(name_of_column)
                    series_points(series, panel, tables)
                    _keep_kinds(series, document.tables, tables)
        except SornixError:
            return first_like(figure, tables, name)
        return figure

    return evolve(document.each(kept), tables=tables)


def _keep_kinds(series: Series, before: Tables, now: Tables) -> None:
    """Raises EditRefused where a column of numbers that a series draws has become text."""
    old, new = (table_named(tables, series.table) for tables in (before, now))
    for name in (series.x, series.y):
        if name is not None and old.column(name).has_places and not new.column(name).has_places:
            raise EditRefused(f"“{name}” holds text now.")


def blank_document() -> Document:
    """A document with an empty table to type into."""
    from sornix.core.readings import Column

    columns = tuple(Column(f"Column {i + 1}", "", NUMBER, _nothing()) for i in range(2))
    table = Table("readings", columns)
    return Document((table,), new_figure(table))


def _nothing() -> NDArray[np.float64]:
    return np.zeros(0)
