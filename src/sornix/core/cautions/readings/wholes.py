"""Shares of what is no whole, or of more parts than can be compared; columns that correlate with
nothing."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import parts_of_whole, set_mark
from sornix.core.figure.model.values import Figure
from sornix.core.readings import Tables, table_named
from sornix.core.text import short

_MOST_PARTS = 7


def _as_bars(figure: Figure, tables: Tables) -> Figure:
    return set_mark(figure, tables, figure.panel.series[0].id, "bars")


def find(view: View) -> Iterator[Finding]:
    if view.panel.form == "correlations":
        yield from _alone(view)
    elif view.panel.form in ("ring", "one-bar"):
        yield from _of_parts(view)


def _alone(view: View) -> Iterator[Finding]:
    """Columns without a coefficient: their cells hold a dash."""
    table = table_named(view.tables, view.panel.series[0].table)
    for column in table.number_columns:
        known = column.known
        if len(known) < 2 or (known == known[0]).all():
            why = "is the same in every row" if len(known) > 1 else "has too few readings"
            yield Finding(f"“{column.name}” {why}, so it correlates with nothing.", mild=True)


def _of_parts(view: View) -> Iterator[Finding]:
    parts = parts_of_whole(view.panel, view.tables)
    remedy = Remedy("Draw bars", "drew bars", partial(_as_bars, tables=view.tables))
    below = [name for name, value in parts if value < 0]
    if below:
        listed = short(", ".join(f"“{name}”" for name in below))
        verb = "is" if len(below) == 1 else "are"
        yield Finding(f"{listed} {verb} below 0: no share of a whole, and not drawn.", remedy)
    if len(parts) > _MOST_PARTS:
        yield Finding(f"{len(parts)} parts are more than can be compared as shares.", remedy)
