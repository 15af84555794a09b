"""Edits: functions from figure to figure. They raise EditRefused and then nothing has changed."""

from collections.abc import Collection, Iterable
from typing import Any

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.errorbars import error_bars
from sornix.core.figure.derived.points import column_or_rows, own_axis
from sornix.core.figure.derived.roles import roles, to_draw
from sornix.core.figure.derived.runs import is_depth_name
from sornix.core.figure.edits.axisedits import for_others, suited
from sornix.core.figure.edits.notes import change_note
from sornix.core.figure.edits.seriesedits import each_alone, with_errors
from sornix.core.figure.edits.trendedits import change_trend
from sornix.core.figure.model.checks import limits_of
from sornix.core.figure.model.scale import AXES, Scale, Spot
from sornix.core.figure.model.series import ErrorBars, LeftOut, Series
from sornix.core.figure.model.targets import (
    AxisTitle,
    Legend,
    Movable,
    NoteBox,
    PanelTitle,
    SourceLine,
    Title,
    TrendLabel,
)
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import TEXT, Tables, table_named
from sornix.core.readings.tables.units import is_alike
from sornix.core.text import spoken


def change_series(figure: Figure, tables: Tables, series_id: str, **changes: Any) -> Figure:
    """A series with other columns (`x`, `y`), `mark`, `look` or `name`; all else is kept.

    A held range, a step, a title and words of an axis are freed when the axis gets other readings
    by this, because they were chosen for those that it had; so are a name that was for another
    column, and a kind of scale that is not for them. What stands at values of another quantity is
    gone.
    """
    panel = figure.panel
    old = panel.one_series(series_id)
    new = evolve(old, **changes)
    table = table_named(tables, new.table)
    columns = [column_or_rows(table, name) for name in (new.x, new.y)]
    if (new.table, new.x, new.y) != (old.table, old.x, old.y):
        # they were left out of other readings
        new = evolve(new, left_out=())
        own = own_axis(panel)
        if new.only is None and "name" not in changes and new.column(own) != old.column(own):
            new = evolve(new, name=None)
        new = _with_own_errors(new, old, tables)
        if all(column.kind == TEXT for column in columns):
            # names have no mean
            new = each_alone(new)
        if not panel.shown:
            # who chooses a column for a figure that draws nothing yet wants to see it
            new = evolve(new, hidden=False)
    changed = _with_series(panel, new)
    if new.table != old.table:
        # and rows of another table are other readings
        kept = (n for n in panel.notes if n.series != series_id or n.row is None)
        changed = evolve(changed, notes=tuple(kept))
    for direction in "xy":
        changed = for_other_readings(changed, tables, old, new, direction, (series_id,))
    return figure.with_panel(suited(changed, tables))


def _with_own_errors(new: Series, old: Series, tables: Tables) -> Series:
    """A series without error bars that are those of what it held before, lengths in columns and a
    length of another quantity; those that the table gives its columns go from one to the next."""
    for direction in "xy":
        errors = new.errors(direction)
        if errors is None or errors != old.errors(direction):
            continue
        if new.column(direction) == old.column(direction):
            continue
        if errors.column is not None:
            given = _given(old, tables, direction) == evolve(errors, band=False)
            own = _given(new, tables, direction) if given else None
            own = evolve(own, band=errors.band) if own is not None else None
            new = with_errors(new, direction, own)
        elif errors.kind == "fixed" and _is_other_quantity(new, old, tables, direction):
            new = with_errors(new, direction, None)
    return new


def _given(series: Series, tables: Tables, direction: str) -> ErrorBars | None:
    """The error bars that a table gives what a series holds along an axis."""
    known = error_bars(roles(table_named(tables, series.table)))
    return known.get(series.column(direction) or "")


def _is_other_quantity(one: Series, other: Series, tables: Tables, direction: str) -> bool:
    """Whether two series hold something of another kind or unit along an axis."""
    here, there = (
        column_or_rows(table_named(tables, s.table), s.column(direction)) for s in (one, other)
    )
    return here.kind != there.kind or not is_alike(here.unit, there.unit)


def _weighed_anew(trend: Trend, old: Series, new: Series, direction: str) -> Trend:
    """A trend that weighs no more by what told of other readings along an axis."""
    if old.column(direction) == new.column(direction):
        return trend
    weighed = ("errors", "both") if direction == "y" else ("both",)
    by_bars = trend.weights in weighed and new.errors(direction) is None
    if by_bars or (trend.weights == "column" and direction == "y"):
        return evolve(trend, weights="equal", weight_column=None)
    return trend


def for_other_readings(
    panel: Panel, tables: Tables, old: Series, new: Series, direction: str, ids: Collection[str]
) -> Panel:
    """A panel some of whose series hold along an axis what `new` holds, and held what `old` did:
    what was held and said of that, and stands at values of it, is gone where they are alone."""
    axis = old.axis(direction)
    alone = all(series.id in ids for series in panel.series_on(axis))
    asked: dict[str, Any] = {}
    if new.column(direction) != old.column(direction):
        if direction == "x":
            asked |= {"start": None, "end": None}
        if alone:
            scale = for_others(panel.scale(axis))
            if is_depth_name(old.column(axis) or "") > is_depth_name(new.column(axis) or ""):
                # only depths go down
                scale = evolve(scale, reversed=False)
            panel = panel.with_scale(axis, scale)
    if _is_other_quantity(new, old, tables, direction):
        asked |= {"told_at": ()} if direction == "x" else {"read_offs": ()}
        if alone:
            panel = evolve(panel, guides=tuple(g for g in panel.guides if g.axis != axis))
    trends = (
        _weighed_anew(evolve(t, **asked), old, new, direction) if t.series in ids else t
        for t in panel.trends
    )
    return evolve(panel, trends=tuple(trends))


def add_series(figure: Figure, tables: Tables) -> Figure:
    """One more series: the next column of numbers not drawn yet, against the x of the last one."""
    panel = figure.panel
    last = panel.series[-1]
    table = table_named(tables, last.table)
    drawn = {c for s in panel.series if s.table == last.table for c in (s.x, s.y)}
    free = [name for name in to_draw(table) if name not in drawn]
    if not free:
        raise EditRefused(
            "Every column of numbers is drawn already.",
            remedy="Change the columns of a series instead.",
        )
    look = min(set(range(len(panel.series) + 1)) - {s.palette_index for s in panel.series})
    series = beside(last, figure.next_id("s"), free[0], look)
    return figure.with_panel(evolve(panel, series=(*panel.series, series)))


def beside(last: Series, series_id: str, name: str, look: int = 0) -> Series:
    """A series of another column along what the last one is drawn along: upward, or in a profile
    sideways."""
    x, y = (name, last.y) if last.y and is_depth_name(last.y) else (last.x, name)
    return Series(series_id, last.table, x, y, last.mark, look)


def add_every_series(figure: Figure, tables: Tables) -> Figure:
    """A series for each column of numbers that is not drawn yet, up to a dozen."""
    changed = add_series(figure, tables)
    for _ in range(_MOST_AT_ONCE - 1):
        try:
            changed = add_series(changed, tables)
        except EditRefused:
            break
    return changed


_MOST_AT_ONCE = 12


def remove_series(figure: Figure, series_id: str) -> Figure:
    """The figure without a series and its trends; the others keep their looks."""
    panel = figure.panel
    if len(panel.series) == 1:
        raise EditRefused("The last series of a panel stays.", remedy="Change its columns instead.")
    series = tuple(s for s in panel.series if s.id != series_id)
    trends = tuple(t for t in panel.trends if t.series != series_id)
    notes = tuple(n for n in panel.notes if n.series != series_id)
    changed = evolve(panel, series=series, trends=trends, notes=notes)
    for direction in "xy":
        # the first scale is never without a series
        if all(s.axis(direction) != direction for s in series):
            changed = _second_as_first(changed, direction)
    return figure.with_panel(_without_empty_scales(changed, panel))


def _second_as_first(panel: Panel, direction: str) -> Panel:
    """A panel with the second scale of a direction, its series and what stands at its values, in
    the place of the first one, which has no series any more."""
    second = f"{direction}2"
    guides = tuple(
        evolve(guide, axis=direction) if guide.axis == second else guide
        for guide in panel.guides
        if guide.axis != direction
    )
    series = tuple(one.on(direction) for one in panel.series)
    moved = panel.with_scale(direction, panel.scale(second)).with_scale(second, Scale())
    return evolve(moved, series=series, guides=guides)


# The axis that takes the place of each one when x and y are swapped.
_SWAPPED = {"x": "y", "y": "x", "x2": "y2", "y2": "x2"}


def swap_axes(figure: Figure) -> Figure:
    """x for y: columns, ranges, steps and titles change places, and trends follow. Panels that
    share an axis are all swapped."""
    if figure.share != "none":
        alone = evolve(figure, share="none")
        for index in range(len(figure.panels)):
            alone = swap_axes(alone.with_hand(index))
        share = _SWAPPED.get(figure.share, figure.share)
        return evolve(alone, share=share, hand=figure.hand)
    panel = figure.panel
    series = tuple(
        evolve(s, x=s.y, y=s.x, x_axis=_SWAPPED[s.y_axis], y_axis=_SWAPPED[s.x_axis])
        for s in panel.series
    )
    scales: dict[str, Any] = {
        axis: evolve(panel.scale(other), grid=panel.scale(axis).grid)
        for axis, other in _SWAPPED.items()
    }
    guides = tuple(evolve(g, axis=_SWAPPED[g.axis]) for g in panel.guides)
    # a range of x says nothing about y
    trends = tuple(evolve(t, start=None, end=None, settings=()) for t in panel.trends)
    notes = tuple(evolve(n, x=n.y, y=n.x) for n in panel.notes)
    changes: dict[str, Any] = {"guides": guides, "trends": trends, "notes": notes, **scales}
    return figure.with_panel(evolve(panel, series=series, **changes))


def put_on(figure: Figure, series_id: str, axis: str) -> Figure:
    """A series on another scale: `x` or `x2` along, `y` or `y2` upward.

    Refused where no series would stay on the first scale. Other units give way to a second scale.
    """
    panel = figure.panel
    series = panel.one_series(series_id)
    changed = _with_series(panel, series.on(axis))
    if all(one.axis(axis[0]) != axis[0] for one in changed.series):
        raise EditRefused(
            f"{axis[0]} keeps one series at least: a second scale stands beside the first.",
            remedy="Add another series first.",
        )
    first = evolve(panel.scale(axis[0]), other=None)
    changed = _without_empty_scales(changed.with_scale(axis[0], first), panel)
    return figure.with_panel(changed)


def _without_empty_scales(panel: Panel, before: Panel) -> Panel:
    """A panel whose second scales are as new where no series is left on them: what was held and
    said there, and stands at their values, was for those that are gone."""
    for axis in AXES:
        if before.series_on(axis) and not panel.series_on(axis):
            guides = tuple(guide for guide in panel.guides if guide.axis != axis)
            panel = evolve(panel.with_scale(axis, Scale()), guides=guides)
    return panel


def leave_out(figure: Figure, series_id: str, rows: Iterable[int], reason: str = "") -> Figure:
    """Leaves readings out of trends; rows that were left out already get the new reason."""
    panel = figure.panel
    series = panel.one_series(series_id)
    wanted = dict.fromkeys(rows, reason)
    kept = {left.row: left.reason for left in series.left_out} | wanted
    left_out = tuple(LeftOut(row, why) for row, why in sorted(kept.items()))
    return figure.with_panel(_with_series(panel, evolve(series, left_out=left_out)))


def bring_back(figure: Figure, series_id: str, rows: Iterable[int]) -> Figure:
    """Takes readings that were left out into the trends again."""
    panel = figure.panel
    series = panel.one_series(series_id)
    back = set(rows)
    left_out = tuple(left for left in series.left_out if left.row not in back)
    return figure.with_panel(_with_series(panel, evolve(series, left_out=left_out)))


def _with_series(panel: Panel, series: Series) -> Panel:
    return evolve(panel, series=tuple(series if s.id == series.id else s for s in panel.series))


def move(figure: Figure, what: Movable, spot: Spot | None) -> Figure:
    """Puts something at a spot; None lets it find its own place again. Raises NotThere."""
    panel = figure.panel
    match what:
        case Title():
            return evolve(figure, title_spot=spot)
        case SourceLine():
            return evolve(figure, source_spot=spot)
        case PanelTitle():
            return figure.with_panel(evolve(panel, title_spot=spot))
        case Legend():
            return figure.with_panel(evolve(panel, legend_spot=spot))
        case AxisTitle(axis):
            return figure.with_scale(axis, evolve(panel.scale(axis), title_spot=spot))
        case NoteBox(note):
            return change_note(figure, note, spot=spot)
        case TrendLabel(trend):
            return change_trend(figure, trend, spot=spot)


def spots(figure: Figure) -> dict[Movable, Spot]:
    """What stands where it was dragged to, on the figure and on the panel in hand."""
    panel = figure.panel
    found: dict[Movable, Spot | None] = {
        Title(): figure.title_spot,
        SourceLine(): figure.source_spot,
        Legend(): panel.legend_spot,
        PanelTitle(): panel.title_spot,
        **{AxisTitle(axis): panel.scale(axis).title_spot for axis in panel.axes},
        **{TrendLabel(trend.id): trend.spot for trend in panel.trends},
        **{NoteBox(note.id): note.spot for note in panel.notes},
    }
    return {what: spot for what, spot in found.items() if spot is not None}


def let_find_places(figure: Figure) -> Figure:
    """Takes back every spot that something was dragged to."""
    for what in spots(figure):
        figure = move(figure, what, None)
    return figure


def set_source(figure: Figure, source: str) -> Figure:
    """The line at the foot that says where the readings come from."""
    return evolve(figure, source=source.strip())


def set_caption(figure: Figure, caption: str | None) -> Figure:
    """A caption of one's own, or None for the one that is written from the figure."""
    return evolve(figure, caption=caption.strip() if caption and caption.strip() else None)


def set_methods(figure: Figure, methods: str | None) -> Figure:
    """A text for the methods section of one's own, or None for the one that is written."""
    return evolve(figure, methods=methods.strip() if methods and methods.strip() else None)


def rename_series(figure: Figure, series_id: str, name: str) -> Figure:
    """A name of one's own for a series; emptied, it follows its column again."""
    panel = figure.panel
    series = evolve(panel.one_series(series_id), name=name.strip() or None)
    return figure.with_panel(_with_series(panel, series))


def set_title(figure: Figure, title: str) -> Figure:
    return evolve(figure, title=title.strip())


def set_size(figure: Figure, width_mm: float, height_mm: float) -> Figure:
    """The true size of the figure. Refused below 20 mm and above 2000 mm."""
    for size in (width_mm, height_mm):
        if size not in limits_of(Figure, "width_mm"):
            raise EditRefused(
                f"A figure of {spoken(width_mm)} × {spoken(height_mm)} mm cannot be drawn.",
                remedy=f"Each side may be {limits_of(Figure, 'width_mm').words}.",
            )
    return evolve(figure, width_mm=width_mm, height_mm=height_mm)
