"""Times and numbers, or several units, on one scale; error bars in another unit."""

from collections.abc import Iterator
from functools import partial

import numpy as np

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import (
    AXES,
    Figure,
    Series,
    column_or_rows,
    put_on,
    series_points,
    set_errors,
    set_share,
    split_panels,
)
from sornix.core.readings import NUMBER, TIME, Column, Tables, table_named
from sornix.core.readings.files.beside import holds_units
from sornix.core.readings.tables.units import is_alike
from sornix.core.text import plain_text, rich, spoken_list, unit_words


def find(view: View) -> Iterator[Finding]:
    yield from _of_scales(view)
    yield from _of_readings(view)
    for series in view.panel.shown:
        for direction in "yx":
            yield from _of_errors(view, series, direction)


def _of_readings(view: View) -> Iterator[Finding]:
    """Readings of one column in several units, as another one says."""
    for series in view.panel.shown:
        table, own = table_named(view.tables, series.table), _column(view, series, "y")
        said = next(filter(holds_units, table.columns), None)
        if said is None or own.kind != NUMBER or own.unit:
            continue
        cells, rows = said.cells(), np.sort(series_points(series, view.panel, view.tables).rows)
        units: list[str] = []
        for unit in dict.fromkeys(cells[row] for row in rows.tolist()):
            if unit and not any(is_alike(unit, known) for known in units):
                units.append(unit)
        if len(units) > 1:
            single = len(view.figure.panels) == 1
            yield Finding(
                f"Readings of “{_plain(own.name)}” are in {spoken_list(units)}, as “{said.name}” "
                "says: on one scale they cannot be compared.",
                Remedy("Give each unit a panel", "gave each unit a panel",
                       partial(_panels, tables=view.tables, column=said.name)) if single else None,
            )  # fmt: skip
            return


def _panels(figure: Figure, tables: Tables, column: str) -> Figure:
    """A panel for each value of a column, with scales of their own."""
    return set_share(split_panels(figure, tables, column), tables, "none")


def _of_errors(view: View, series: Series, direction: str) -> Iterator[Finding]:
    errors, own = series.errors(direction), _column(view, series, direction)
    if errors is None or own.kind != NUMBER:
        return
    table = table_named(view.tables, series.table)
    taken = [n for n in (errors.column, errors.upper) if n is not None and n in table.column_names]
    for column in map(table.column, taken):
        if own.unit and column.unit and not is_alike(own.unit, column.unit):
            yield Finding(
                f"Error bars of “{_plain(own.name)}”, which is in {unit_words(own.unit)}, are"
                f" taken from “{_plain(column.name)}” in {unit_words(column.unit)}.",
                Remedy("Leave these error bars away", "removed error bars",
                       partial(set_errors, tables=view.tables, series_id=series.id,
                               direction=direction, kind=None)),
            )  # fmt: skip
            return


def _of_scales(view: View) -> Iterator[Finding]:
    for axis in AXES:
        if view.figure.shares(axis[0]) and view.figure.hand:
            # the first of the panels that share it says it for all
            continue
        drawn = [(series, _column(view, series, axis)) for series in view.panel.series_on(axis)
                 if not series.hidden]  # fmt: skip
        times = [column for _, column in drawn if column.kind == TIME]
        numbers = [column.name for _, column in drawn if column.kind == NUMBER]
        if times and numbers:
            said = f"{AXES[axis]} tells times, and on it numbers are drawn as seconds since 1970"
            yield Finding(f"{said}: those of {_named(numbers)}.", _apart(view, axis))
            continue
        groups = _by_unit(drawn)
        if len(groups) > 1:
            units = spoken_list([unit_words(group[0][1].unit) for group in groups])
            names = _named([column.name for group in groups for _, column in group])
            yield Finding(
                f"{AXES[axis]} holds {units} on one scale: {names} cannot be compared on it.",
                _apart(view, axis) or _beside(view, axis, groups),
            )


def _column(view: View, series: Series, axis: str) -> Column:
    return column_or_rows(table_named(view.tables, series.table), series.column(axis))


def _by_unit(drawn: list[tuple[Series, Column]]) -> list[list[tuple[Series, Column]]]:
    """What is drawn, by its unit; what has none may be of any."""
    groups: list[list[tuple[Series, Column]]] = []
    for series, column in drawn:
        if not column.unit or column.kind != NUMBER:
            continue
        same = [group for group in groups if is_alike(group[0][1].unit, column.unit)]
        if same:
            same[0].append((series, column))
        else:
            groups.append([(series, column)])
    return groups


def _named(names: list[str]) -> str:
    return spoken_list([f"“{_plain(name)}”" for name in dict.fromkeys(names)])


def _plain(name: str) -> str:
    return plain_text(rich(name))


def _apart(view: View, axis: str) -> Remedy | None:
    """Scales of their own for panels that share one."""
    if not view.figure.shares(axis[0]):
        return None
    other = "y" if axis[0] == "x" else "x"
    share = other if view.figure.shares(other) else "none"
    words = f"Give each panel a scale of {axis[0]} of its own"
    return Remedy(
        words,
        f"gave each panel its own {axis[0]}",
        partial(set_share, tables=view.tables, share=share),
    )


def _beside(view: View, axis: str, groups: list[list[tuple[Series, Column]]]) -> Remedy | None:
    """The other scale, for a single series of another unit."""
    other = f"{axis[0]}2"
    if len(groups) > 2 or len(groups[1]) > 1 or axis == other or view.panel.series_on(other):
        return None
    ((series, column),) = groups[1]
    name = _named([column.name])
    words = f"Put {name} on the other scale of {axis}"
    return Remedy(words, f"put {name} on {other}", partial(put_on, series_id=series.id, axis=other))
