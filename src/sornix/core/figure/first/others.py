"""Other figures of a table than the first one."""

from collections.abc import Iterator, Sequence

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.roles import (
    CODES,
    GROUPS,
    NAMES,
    QUANTITY,
    Seen,
    measured,
)
from sornix.core.figure.derived.runs import distinct, is_depth
from sornix.core.figure.edits.paneledits import add_panel, split_series
from sornix.core.figure.first.way import MARK_WORDS, Along, Way, capital
from sornix.core.figure.model.series import ErrorBars, Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import Column, Table
from sornix.core.text import spoken_list

_MOST_GROUPS, _MOST_PANELS, _MOST_NAMES = 8, 4, 24
# Readings go over so many times the least of them for a logarithmic scale, fewer where they were
# chosen for one: with steps that differ by less than so many times.
_DECADES, _FEW_DECADES, _STEADY = 1000.0, 50.0, 2.5


def other_ways(
    table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column], first: Way
) -> Iterator[Way]:
    """Other figures of the same table, in the order in which they are likely."""
    if not up:
        return
    figure, x = first.figure, along.column
    yield from _by_words(table, seen, along, up, figure)
    if along.role == GROUPS:
        yield from _of_groups(figure, along)
    panels = _in_panels(table, seen, along, up, figure)
    if panels is not None:
        yield panels
    if x is not None and along.role not in (NAMES, GROUPS, CODES):
        logs = _on_logs(figure, along, up)
        if logs is not None:
            yield logs
        yield from _with_marks(figure)
    if along.role == NAMES:
        yield from _with_marks(figure, ("bars", "points-and-line", "points"))


def _by_words(
    table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column], figure: Figure
) -> Iterator[Way]:
    """A series for each group, and bars for names."""
    x = along.column
    groups = [one.column for one in seen if one.role == GROUPS and one.column is not x]
    for column in groups:
        different = {cell for cell in column.values if cell}
        if 2 <= len(different) <= _MOST_GROUPS and len(figure.panel.series) == 1:
            try:
                split = split_series(figure, (table,), "s1", column.name)
            except EditRefused:
                continue
            yield Way(split, f"a series for each “{column.name}”",
                      f"“{column.name}” has {len(different)} groups.")  # fmt: skip
    names = [one.column for one in seen if one.role == NAMES and one.column is not x]
    if names and names[0].count <= _MOST_NAMES:
        bars = Series("s1", table.name, names[0].name, up[0].name, "bars", 0)
        yield Way(Figure((Panel((bars,)),)), f"bars for each “{names[0].name}”",
                  f"Each “{names[0].name}” stands once.")  # fmt: skip


def _of_groups(figure: Figure, along: Along) -> Iterator[Way]:
    means = tuple(
        evolve(one, mark="bars", together="mean", replicates=False, errors_y=ErrorBars("sd"))
        for one in figure.panel.series
    )
    yield Way(_with_series(figure, means), "bars of means with SD",
              f"{capital(along.because)}.")  # fmt: skip
    single = tuple(
        evolve(one, mark="points", together="each", replicates=False, errors_y=None)
        for one in figure.panel.series
    )
    yield Way(_with_series(figure, single), "every reading", "Nothing is left out.")


def _in_panels(
    table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column], figure: Figure
) -> Way | None:
    """Quantities of other units in panels below."""
    rest = [one.column for one in measured(seen, along.column)
            if one.role == QUANTITY and one.column not in up]  # fmt: skip
    if not rest or len(figure.panels) != 1 or any(is_depth(c) for c in [along.column] if c):
        return None
    made = figure
    for _ in rest[: _MOST_PANELS - 1]:
        try:
            made = add_panel(made, (table,))
        except EditRefused:
            break
    if len(made.panels) == 1:
        return None
    names = [f"“{panel.series[0].y}”" for panel in made.panels[1:]]
    scales = "have scales of their own" if names[1:] else "has a scale of its own"
    return Way(made, "a panel for each quantity", f"{spoken_list(names)} {scales}.")


def _with_marks(
    figure: Figure, marks: Sequence[str] = ("points", "points-and-line", "line")
) -> Iterator[Way]:
    for mark in marks:
        if figure.panel.series[0].mark != mark:
            series = tuple(evolve(one, mark=mark) for one in figure.panel.series)
            yield Way(_with_series(figure, series), MARK_WORDS[mark], "The same readings.")


def _on_logs(figure: Figure, along: Along, up: Sequence[Column]) -> Way | None:
    """Logarithmic scales where readings go over decades: along x, and upward if all can."""
    x = along.column
    assert x is not None
    if along.role != QUANTITY or not _ratio(x):
        return None
    if _ratio(x) < (_FEW_DECADES if _is_steady_in_logs(x) else _DECADES):
        return None
    panel = figure.panel
    both = all(_ratio(column) > 0 for column in up) and any(
        _ratio(column) >= _FEW_DECADES for column in up
    )
    down = panel.y.reversed
    for axis in ("x", "y") if both else ("y" if down else "x",):
        panel = panel.with_scale(axis, evolve(panel.scale(axis), kind="log"))
    if both:
        return Way(figure.with_panel(panel), "on logarithmic scales", "Both go over decades.")
    return Way(figure.with_panel(panel), f"“{x.name}” on a logarithmic scale",
               f"“{x.name}” goes over decades.")  # fmt: skip


def _ratio(column: Column) -> float:
    """How many times the least reading the greatest is; 0 where one is not positive."""
    if column.ends is None or column.ends[0] <= 0:
        return 0.0
    return column.ends[1] / column.ends[0]


def _is_steady_in_logs(column: Column) -> bool:
    """Whether readings were chosen to be evenly apart on a logarithmic scale: 1, 3, 10, 30."""
    steps = np.diff(np.log(distinct(column.known)[0]))
    return len(steps) > 1 and bool(steps.max() < _STEADY * steps.min())


def _with_series(figure: Figure, series: tuple[Series, ...]) -> Figure:
    return figure.with_panel(evolve(figure.panel, series=series))
