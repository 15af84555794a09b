"""Shares of what is no whole, or of more parts than can be compared."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import parts_of_whole, set_mark
from sornix.core.figure.model.values import Figure
from sornix.core.readings import Tables
from sornix.core.text import plural

_MOST_PARTS = 7


def _as_bars(figure: Figure, tables: Tables) -> Figure:
    return set_mark(figure, tables, figure.panel.series[0].id, "bars")


def find(view: View) -> Iterator[Finding]:
    if view.panel.form not in ("ring", "one-bar"):
        return
    parts = parts_of_whole(view.panel, view.tables)
    remedy = Remedy("Draw bars", "drew bars", partial(_as_bars, tables=view.tables))
    below = sum(value < 0 for _, value in parts)
    if below:
        verb = "is" if below == 1 else "are"
        yield Finding(
            f"{plural(below, 'part')} {verb} below 0 and cannot be a share of a whole.", remedy
        )
    if len(parts) > _MOST_PARTS:
        yield Finding(f"{len(parts)} parts are more than can be compared as shares.", remedy)
