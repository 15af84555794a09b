"""What an axis has to show, and what is held of it."""

from functools import lru_cache

import numpy as np

from sornix.core.figure.derived.drawn import drawn_extent
from sornix.core.figure.derived.points import (
    axis_columns,
    axis_list,
    scale_kind,
    series_points,
)
from sornix.core.figure.derived.trendfits import fitted_trends
from sornix.core.figure.model.scale import BASES, Scale
from sornix.core.figure.model.values import Panel
from sornix.core.readings import TIME, Column, Tables, table_named
from sornix.core.scales import KINDS, AxisConstraints, Extent, Resolved, Room, is_categorical

_MOST_SETTLED = 128
# Settling a range outside a drawing needs some size of axis; this is that of a report figure.
_USUAL_ROOM = {"x": Room(66.0, lambda runs: 1.4 * sum(len(r.text) for r in runs), 2.0, 13.3),
               "y": Room(46.0, lambda _: 2.8, 1.0, 11.0, level=False)}  # fmt: skip


def axis_extent(panel: Panel, tables: Tables, axis: str) -> Extent | None:
    """What a free axis has to show: every reading with its error bar, bars from their beginning,
    and for y the trends over their readings."""
    drawn = drawn_extent(panel, tables, axis)
    ends = [*drawn] if drawn is not None else []
    kind = KINDS[scale_kind(panel, tables, axis)]
    if axis[0] == "y":
        ids = {series.id for series in panel.series_on(axis) if not series.hidden}
        trends = (t for one in (panel, *panel.company(axis)) for t in fitted_trends(one, tables))
        for trend, fit in trends:
            if trend.series in ids:
                # an extended trend does not stretch the axes: it is drawn as far as they go
                values = fit.heights[kind.shows(fit.heights)]
                ends += [float(values.min()), float(values.max())] if len(values) else []
    if ends:
        # a limit is drawn to be seen, even where no reading has reached it
        limits = [v for g in panel.guides if g.axis == axis for v in (g.value, g.end)]
        ends += [v for v in limits if v is not None and bool(kind.shows(np.array([v]))[0])]
    return Extent(min(ends), max(ends)) if ends else None


def fitting(panel: Panel, tables: Tables, axis: str) -> AxisConstraints:
    """What is held of a scale, and what its kind has to know of the readings."""
    scale = panel.scale(axis)
    base = BASES[scale.base]
    whole = all(column.is_whole for column in axis_columns(panel, tables, axis))
    names: tuple[str, ...] = ()
    if is_categorical(scale_kind(panel, tables, axis)):
        names = _said(axis_list(panel, tables, axis), axis_columns(panel, tables, axis))
    held = AxisConstraints(
        scale.start, scale.end, scale.step, scale.labels, base, whole, names, scale.origin,
        scale.every, scale.zero, scale.turn,
    )  # fmt: skip
    return _with_room(held, scale.room, panel, tables, axis)


def _with_room(
    held: AxisConstraints, room: float | None, panel: Panel, tables: Tables, axis: str
) -> AxisConstraints:
    """With free ends where a part of the range stays empty beyond the readings."""
    extent = axis_extent(panel, tables, axis) if room is not None else None
    name = scale_kind(panel, tables, axis)
    if room is None or extent is None or is_categorical(name):
        return held
    if held.zero and name == "linear":
        extent = Extent(min(extent.least, 0.0), max(extent.greatest, 0.0))
    least = held.start if held.start is not None else extent.least
    greatest = held.end if held.end is not None else extent.greatest
    if not least < greatest:
        return held
    start, end = KINDS[name].value(np.array([-room, 1 + room]), least, greatest).tolist()
    return held._replace(
        start=held.start if held.start is not None else start,
        end=held.end if held.end is not None else end,
    )


def tick_words(panel: Panel, tables: Tables, axis: str) -> dict[float, str]:
    """What stands in place of values as labels, by value; nothing where numbers do."""
    name = panel.scale(axis).words
    found: dict[float, str] = {}
    for series in panel.series_on(axis):
        table = table_named(tables, series.table)
        if name not in table.column_names:
            continue
        points = series_points(series, panel, tables)
        values = points.x if axis[0] == "x" else points.y
        words = table.column(name)
        if len(values) <= _MOST_WORDED:
            for value, row in zip(values.tolist(), points.rows.tolist(), strict=True):
                if word := words.cell(row):
                    found.setdefault(value, word)
    return found


# An axis of more readings than this has no room for words.
_MOST_WORDED = 2000


def _said(names: tuple[str, ...], columns: list[Column]) -> tuple[str, ...]:
    """Cells as labels: dates as `6 Apr`, with the year where it changes."""
    if columns[0].kind != TIME or any("-" not in name for name in names):
        return names
    from sornix.core.text.moments import MONTHS

    said, before = [], ""
    for name in names:
        day, _, clock = name.partition(" ")
        year, month, *rest = day.split("-")
        label = f"{int(rest[0])} " if rest else ""
        label += MONTHS[int(month) - 1][:3] + (f" {int(year)}" if year != before else "")
        said.append(f"{label} {clock}".strip())
        before = year
    return tuple(said)


def settled_range(
    scale: Scale, kind: str, extent: Extent | None, axis: str, *, free_step: bool
) -> Resolved:
    """The range that a scale comes to, for judging an edit before anything is drawn."""
    step = None if free_step else scale.step
    held = AxisConstraints(
        scale.start, scale.end, step, scale.labels, BASES[scale.base],
        origin=scale.origin, zero=scale.zero,
    )  # fmt: skip
    return _settled(kind, extent, held, axis[0], scale.reversed)


@lru_cache(_MOST_SETTLED)
def _settled(
    kind: str, extent: Extent | None, held: AxisConstraints, direction: str, reverse: bool
) -> Resolved:
    # typing goes from one step to the next on the same readings
    return KINDS[kind].resolve(extent, held, _USUAL_ROOM[direction], reverse=reverse)
