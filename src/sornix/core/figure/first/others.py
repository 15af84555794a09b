"""Other figures of a table than the first one."""

from collections.abc import Iterator, Sequence

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.roles import (
    CODES,
    GROUPS,
    NAMES,
    QUANTITY,
    Seen,
    is_depth,
    measured,
)
from sornix.core.figure.edits.paneledits import add_panel, split_series
from sornix.core.figure.first.way import MARK_WORDS, Along, Way, capital
from sornix.core.figure.model.series import ErrorBars, Series
from sornix.core.figure.model.values import Figure
from sornix.core.readings import Column, Table

_MOST_GROUPS, _MOST_PANELS = 8, 4
_DECADES = 1000.0


def other_ways(
    table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column], first: Way
) -> Iterator[Way]:
    """Other figures of the same table, in the order in which they are likely."""
    if not up:
        return
    figure, x = first.figure, along.column
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
    names = ", ".join(f"“{panel.series[0].y}”" for panel in made.panels[1:])
    return Way(made, "a panel for each quantity", f"{names} have scales of their own.")


def _with_marks(
    figure: Figure, marks: Sequence[str] = ("points", "points-and-line", "line")
) -> Iterator[Way]:
    for mark in marks:
        if figure.panel.series[0].mark != mark:
            series = tuple(evolve(one, mark=mark) for one in figure.panel.series)
            yield Way(_with_series(figure, series), MARK_WORDS[mark], "The same readings.")


def _on_logs(figure: Figure, along: Along, up: Sequence[Column]) -> Way | None:
    x = along.column
    assert x is not None
    wide = [c.ends is not None and c.ends[0] > 0 and c.ends[1] / c.ends[0] >= _DECADES
            for c in (x, *up)]  # fmt: skip
    if along.role != QUANTITY or not wide[0] or not any(wide[1:]):
        return None
    panel = figure.panel
    for axis in ("x", "y"):
        panel = panel.with_scale(axis, evolve(panel.scale(axis), kind="log"))
    return Way(figure.with_panel(panel), "on logarithmic scales",
               "Both go over three decades and more.")  # fmt: skip


def _with_series(figure: Figure, series: tuple[Series, ...]) -> Figure:
    return figure.with_panel(evolve(figure.panel, series=series))
