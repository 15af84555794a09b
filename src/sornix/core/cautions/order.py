"""A line through readings whose x goes to and fro."""

from collections.abc import Iterator
from functools import partial

import numpy as np

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import MARKS, change_series, series_points
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    for series in view.panel.series:
        if not MARKS[series.mark].line:
            continue
        steps = np.sign(np.diff(series_points(series, view.tables).x))
        steps = steps[steps != 0]
        turns = int(np.count_nonzero(np.diff(steps)))
        # one turn is a way there and back; a profile read upward has none
        if turns:
            edit = partial(change_series, tables=view.tables, series_id=series.id, mark="points")
            yield Finding(
                f"The line of {view.name(series)} follows the rows, and x turns back "
                f"{plural(turns, 'time')} on the way.",
                Remedy("Draw points only", "drew points", edit),
            )
