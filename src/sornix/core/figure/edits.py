"""Edits: functions from figure to figure. They raise EditRefused and then nothing has changed."""

import math
from collections.abc import Callable, Iterable
from typing import Any

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.points import axis_extent, column_or_rows, scale_kind, settled_range
from sornix.core.figure.values import (
    Figure,
    Guide,
    LeftOut,
    Other,
    Panel,
    Scale,
    Series,
    Spot,
    Trend,
)
from sornix.core.readings import TIME, Table, Tables, table_named
from sornix.core.scales import KINDS, LISTED, Kind, check_range, check_step
from sornix.core.text import significant
from sornix.core.trends import MODELS

SMALLEST_MM, LARGEST_MM = 20.0, 2000.0


def new_figure(table: Table) -> Figure:
    """The figure to begin with: the first number column against the first time column, as a line;
    without times, the second number column against the first, as points.

    With one column only, it is drawn against the row number.
    """
    numbers = [column.name for column in table.number_columns if column.count]
    times = [column for column in table.columns if column.kind == TIME and column.count]
    if times and numbers:
        # a line is for readings in the order of time
        rising = bool((np.diff(times[0].numbers[times[0].present]) > 0).all())
        mark = "line" if rising and times[0].count > 2 else "points"
        return Figure((Panel((Series("s1", table.name, times[0].name, numbers[0], mark),)),))
    places = [column.name for column in table.columns if column.has_places]
    names = numbers or places or list(table.column_names)
    x, y = (names[0], names[1]) if len(names) > 1 else (None, names[0])
    return Figure((Panel((Series("s1", table.name, x, y),)),))


def _with_panel(figure: Figure, panel: Panel) -> Figure:
    return evolve(figure, panels=(panel, *figure.panels[1:]))


def change_series(figure: Figure, tables: Tables, series_id: str, **changes: Any) -> Figure:
    """A series with other columns (`x`, `y`), `mark`, `look` or `name`; all else is kept.

    A held range or step of an axis is freed when the axis gets other readings by this, because
    it was chosen for the readings that it had.
    """
    panel = figure.panel
    old = panel.one_series(series_id)
    new = evolve(old, **changes)
    for column in (new.x, new.y):
        column_or_rows(table_named(tables, new.table), column)
    if (new.table, new.x, new.y) != (old.table, old.x, old.y):
        # they were left out of other readings
        new = evolve(new, left_out=())
    changed = _with_series(panel, new)
    if len(panel.series) == 1:
        if new.x != old.x:
            changed = evolve(changed, x=evolve(_freed(changed.x), other=None))
        if new.y != old.y:
            changed = evolve(changed, y=evolve(_freed(changed.y), other=None))
    return _with_panel(figure, changed)


def add_series(figure: Figure, tables: Tables) -> Figure:
    """One more series: the next column of numbers not drawn yet, against the x of the last one."""
    panel = figure.panel
    last = panel.series[-1]
    table = table_named(tables, last.table)
    drawn = {s.y for s in panel.series if s.table == last.table} | {last.x}
    free = [c.name for c in table.number_columns if c.name not in drawn and c.count]
    if not free:
        raise EditRefused(
            "Every column of numbers is drawn already.",
            remedy="Change the columns of a series instead.",
        )
    look = min(set(range(len(panel.series) + 1)) - {s.look for s in panel.series})
    series = Series(
        _next_id("s", [s.id for s in panel.series]), table.name, last.x, free[0], last.mark, look
    )
    return _with_panel(figure, evolve(panel, series=(*panel.series, series)))


def remove_series(figure: Figure, series_id: str) -> Figure:
    """The figure without a series and its trends; the others keep their looks."""
    panel = figure.panel
    if len(panel.series) == 1:
        raise EditRefused("The last series of a panel stays.", remedy="Change its columns instead.")
    return _with_panel(
        figure,
        evolve(
            panel,
            series=tuple(s for s in panel.series if s.id != series_id),
            trends=tuple(t for t in panel.trends if t.series != series_id),
        ),
    )


def swap_axes(figure: Figure) -> Figure:
    """x for y: columns, ranges, steps and titles change places, and trends follow."""
    panel = figure.panel
    return _with_panel(
        figure,
        evolve(
            panel,
            series=tuple(evolve(s, x=s.y, y=s.x) for s in panel.series),
            x=evolve(panel.y, grid=panel.x.grid),
            y=evolve(panel.x, grid=panel.y.grid),
            guides=tuple(evolve(g, axis="y" if g.axis == "x" else "x") for g in panel.guides),
        ),
    )


def add_trend(figure: Figure, series_id: str, model: str = "line") -> Figure:
    """A trend through the readings of a series."""
    panel = figure.panel
    series = panel.one_series(series_id)
    if any(trend.model == model for trend in panel.trends_of(series.id)):
        raise EditRefused(f"This series has its {MODELS[model].words} already.")
    trend = Trend(_next_id("t", [t.id for t in panel.trends]), series.id, model)
    return _with_panel(figure, evolve(panel, trends=(*panel.trends, trend)))


def change_trend(figure: Figure, trend_id: str, **changes: Any) -> Figure:
    """A trend with another `series`, `model` or other `shows`."""
    panel = figure.panel
    trends = tuple(evolve(t, **changes) if t.id == trend_id else t for t in panel.trends)
    return _with_panel(figure, evolve(panel, trends=trends))


def leave_out(figure: Figure, series_id: str, rows: Iterable[int], reason: str = "") -> Figure:
    """Leaves readings out of trends; rows that were left out already get the new reason."""
    panel = figure.panel
    series = panel.one_series(series_id)
    wanted = dict.fromkeys(rows, reason)
    kept = {left.row: left.reason for left in series.left_out} | wanted
    left_out = tuple(LeftOut(row, why) for row, why in sorted(kept.items()))
    return _with_panel(figure, _with_series(panel, evolve(series, left_out=left_out)))


def bring_back(figure: Figure, series_id: str, rows: Iterable[int]) -> Figure:
    """Takes readings that were left out into the trends again."""
    panel = figure.panel
    series = panel.one_series(series_id)
    back = set(rows)
    left_out = tuple(left for left in series.left_out if left.row not in back)
    return _with_panel(figure, _with_series(panel, evolve(series, left_out=left_out)))


def _with_series(panel: Panel, series: Series) -> Panel:
    return evolve(panel, series=tuple(series if s.id == series.id else s for s in panel.series))


def move(figure: Figure, of: str, spot: Spot | None) -> Figure:
    """Puts the title, the legend or the label of a trend (`trend/t1/label`) at a spot; None lets
    it find its own place again. Raises KeyError for what cannot be moved."""
    if of == "title":
        return evolve(figure, title_spot=spot)
    if of == "legend":
        return _with_panel(figure, evolve(figure.panel, legend_spot=spot))
    kind, trend_id, part = of.split("/")
    if (kind, part) != ("trend", "label"):
        raise KeyError(of)
    return change_trend(figure, trend_id, spot=spot)


def set_caption(figure: Figure, caption: str | None) -> Figure:
    """A caption of one's own, or None for the one that is written from the figure."""
    return evolve(figure, caption=caption.strip() if caption and caption.strip() else None)


def rename_series(figure: Figure, series_id: str, name: str) -> Figure:
    """A name of one's own for a series; emptied, it follows its column again."""
    panel = figure.panel
    series = evolve(panel.one_series(series_id), name=name.strip() or None)
    return _with_panel(figure, _with_series(panel, series))


def add_guide(
    figure: Figure, tables: Tables, axis: str, value: float, end: float | None = None,
    label: str = "",
) -> Figure:  # fmt: skip
    """A line at a value of an axis, or a shaded range to `end`. Refused on listed places."""
    panel = figure.panel
    kind = scale_kind(panel, tables, axis)
    if kind in LISTED:
        raise EditRefused(f"{axis} has places in a list, and no values between them.")
    if end is not None:
        value, end = sorted((value, end))
        check_range(value, end, value_words(kind))
    guide = Guide(_next_id("g", [g.id for g in panel.guides]), axis, value, end, label.strip())
    return _with_panel(figure, evolve(panel, guides=(*panel.guides, guide)))


def remove_guide(figure: Figure, guide_id: str) -> Figure:
    """The figure without a line or a shaded range."""
    panel = figure.panel
    guides = tuple(guide for guide in panel.guides if guide.id != guide_id)
    return _with_panel(figure, evolve(panel, guides=guides))


def set_beside(figure: Figure, axis: str, before: str, after: str) -> Figure:
    """Texts before and behind the number in each label of an axis."""
    return _with_scale(figure, axis, evolve(figure.panel.scale(axis), before=before, after=after))


def set_other(figure: Figure, tables: Tables, axis: str, other: Other | None) -> Figure:
    """The axis in other units on its other side, or None for no such side.

    Refused on scales of dates or lists, and with an offset on those that have no zero.
    """
    kind = scale_kind(figure.panel, tables, axis)
    if other is not None and (kind in LISTED or kind == "time"):
        raise EditRefused(f"A scale of kind “{kind}” has no other units.")
    if other is not None and KINDS[kind].why and (other.offset or other.factor < 0):
        raise EditRefused(
            f"On a {kind} scale other units can only be a multiple.",
            remedy="Choose a linear scale, or a unit with the same zero.",
        )
    scale = evolve(figure.panel.scale(axis), other=other)
    return _with_scale(figure, axis, scale)


def set_labels(figure: Figure, axis: str, labels: str) -> Figure:
    """How the ticks of an axis are labelled: a name in LABELS."""
    return _with_scale(figure, axis, evolve(figure.panel.scale(axis), labels=labels))


def hold_view(figure: Figure, x: tuple[float, float], y: tuple[float, float]) -> Figure:
    """Holds both ends of both axes; steps are kept where they still make ticks."""
    panel = figure.panel
    for axis, (start, end) in (("x", x), ("y", y)):
        check_range(start, end, _words)
        panel = _with_ends(panel, axis, start, end)
    return _with_panel(figure, panel)


def _with_ends(panel: Panel, axis: str, start: float, end: float) -> Panel:
    scale = evolve(panel.scale(axis), start=start, end=end)
    return evolve(panel, x=scale) if axis == "x" else evolve(panel, y=scale)


def remove_trend(figure: Figure, trend_id: str) -> Figure:
    """The figure without a trend."""
    panel = figure.panel
    return _with_panel(
        figure, evolve(panel, trends=tuple(t for t in panel.trends if t.id != trend_id))
    )


def _with_scale(figure: Figure, axis: str, scale: Scale) -> Figure:
    panel = figure.panel
    changed = evolve(panel, x=scale) if axis == "x" else evolve(panel, y=scale)
    return _with_panel(figure, changed)


def _freed(scale: Scale) -> Scale:
    return evolve(scale, start=None, end=None, step=None)


def set_kind(
    figure: Figure, tables: Tables, axis: str, kind: str | None, base: str = "10"
) -> Figure:
    """Another kind of scale, None for the one that the columns ask for, and the base of a log one.

    A held step is freed, because it is of another sort; so are held ends that the kind has no
    place for. Refused where it could show no reading at all.
    """
    old = figure.panel.scale(axis)
    scale = evolve(old, kind=kind, base=base, step=None, other=None)
    changed = _with_scale(figure, axis, scale)
    found = KINDS[scale_kind(changed.panel, tables, axis)]
    if not {scale_kind(figure.panel, tables, axis), found.name}.isdisjoint(LISTED):
        # a place in a list is no value
        changed = _with_scale(figure, axis, evolve(scale, start=None, end=None))
        scale = changed.panel.scale(axis)
    start, end = (
        value if value is not None and _has_place(found, value) else None
        for value in (scale.start, scale.end)
    )
    changed = _with_scale(figure, axis, evolve(scale, start=start, end=end))
    before, after = (axis_extent(f.panel, tables, axis) for f in (figure, changed))
    if before is not None and after is None:
        raise EditRefused(
            f"No reading has a place on a {found.name} scale: {found.why}.",
            remedy="Choose other columns, or another kind of scale.",
        )
    return changed


def _has_place(kind: Kind, value: float) -> bool:
    return bool(kind.shows(np.array([value]))[0])


def hold(figure: Figure, tables: Tables, axis: str, **held: float | None) -> Figure:
    """Holds `start`, `end` or `step` of an axis at a value, or frees it with None.

    Refused: an end that is not below the other held one, a step that is longer than the range or
    makes too many ticks.
    """
    for value in held.values():
        if value is not None and not math.isfinite(value):
            raise EditRefused("A range needs finite numbers.")
    panel = figure.panel
    old = panel.scale(axis)
    kind = scale_kind(panel, tables, axis)
    if kind in LISTED and any(held.get(part) is not None for part in ("start", "end")):
        raise EditRefused(
            f"On a scale of kind “{kind}” everything that is listed is shown.",
            remedy="Leave readings out of the table instead, or look closer.",
        )
    words = value_words(kind)
    for part in ("start", "end"):
        value = held.get(part)
        if value is not None and not _has_place(KINDS[kind], value):
            raise EditRefused(
                f"{words(value)} has no place on a {kind} scale: {KINDS[kind].why}.",
                remedy="Give a value above 0, or choose another kind of scale.",
            )
    if "step" in held and held["step"] is not None and held["step"] <= 0:
        check_step(kind, 0, 1, held["step"], words)
    changes: dict[str, Any] = held
    scale = evolve(old, **changes)
    if scale.start is not None and scale.end is not None:
        check_range(scale.start, scale.end, words)
    extent = axis_extent(panel, tables, axis)
    if extent is not None:
        _refuse_emptiness(scale, extent.least, extent.greatest, words)
    if held.get("step") is not None:
        span = settled_range(scale, kind, extent, axis, free_step=True)
        check_step(kind, span.start, span.end, float(held["step"] or 0), words)
    return _with_scale(figure, axis, scale)


def _refuse_emptiness(
    scale: Scale, least: float, greatest: float, words: Callable[[float], str]
) -> None:
    """Refuses one held end that leaves a free other end nothing to follow."""
    if scale.end is None and scale.start is not None and scale.start >= greatest > least:
        said = f"from {words(scale.start)} would hold no reading: the greatest"
        reading = greatest
    elif scale.start is None and scale.end is not None and scale.end <= least < greatest:
        said = f"to {words(scale.end)} would hold no reading: the least"
        reading = least
    else:
        return
    raise EditRefused(
        f"A range {said} one is {words(reading)}.",
        remedy="Hold the other end first if this is meant.",
    )


def value_words(kind: str) -> Callable[[float], str]:
    """How values of a kind of scale are said in a sentence."""
    if kind == "linear":
        return _words
    return lambda value: KINDS[kind].words(value, 0.0)


def free_scale(figure: Figure, axis: str) -> Figure:
    """Both ends and the step of an axis free."""
    return _with_scale(figure, axis, _freed(figure.panel.scale(axis)))


def reverse(figure: Figure, axis: str) -> Figure:
    """The axis turned round."""
    scale = figure.panel.scale(axis)
    return _with_scale(figure, axis, evolve(scale, reversed=not scale.reversed))


def set_axis_title(figure: Figure, axis: str, title: str | None) -> Figure:
    """A title of one's own, or None to follow the columns."""
    return _with_scale(figure, axis, evolve(figure.panel.scale(axis), title=title))


def set_grid(figure: Figure, axis: str, shown: bool) -> Figure:
    """Grid lines at the ticks of an axis, or none."""
    return _with_scale(figure, axis, evolve(figure.panel.scale(axis), grid=shown))


def set_title(figure: Figure, title: str) -> Figure:
    return evolve(figure, title=title.strip())


def set_size(figure: Figure, width_mm: float, height_mm: float) -> Figure:
    """The true size of the figure. Refused below 20 mm and above 2000 mm."""
    for size in (width_mm, height_mm):
        if not SMALLEST_MM <= size <= LARGEST_MM:
            raise EditRefused(
                f"A figure of {_words(width_mm)} × {_words(height_mm)} mm cannot be drawn.",
                remedy=f"Each side may be {SMALLEST_MM:.0f} to {LARGEST_MM:.0f} mm.",
            )
    return evolve(figure, width_mm=width_mm, height_mm=height_mm)


def _next_id(letter: str, taken: list[str]) -> str:
    number = 1
    while f"{letter}{number}" in taken:
        number += 1
    return f"{letter}{number}"


def _words(value: float) -> str:
    """A number for a sentence: as short as it can be said within six digits."""
    text = significant(value, 6)
    if "." in text and "×" not in text:
        text = text.rstrip("0").rstrip(".")
    return text
