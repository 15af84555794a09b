"""A line through readings whose x goes to and fro."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import MARKS, change_series, series_points
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    for series in view.panel.shown:
        if not MARKS[series.mark].line:
            continue
        turns = series_points(series, view.panel, view.tables).turns
        if turns:
            edit = partial(change_series, tables=view.tables, series_id=series.id, mark="points")
            yield Finding(
                f"The line of {view.name(series)} follows the rows, and x turns back "
                f"{plural(turns, 'time')} on the way.",
                Remedy("Draw points only", "drew points", edit),
            )
