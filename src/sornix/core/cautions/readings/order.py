"""A line through readings whose x goes to and fro."""

from collections.abc import Iterator
from functools import partial

import numpy as np
from numpy.typing import NDArray

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import MARKS, change_series, series_points
from sornix.core.text import plural


def _turns(values: NDArray[np.float64]) -> int:
    """How many times values (n,) in the order of rows change from rising to falling or back."""
    steps = np.sign(np.diff(values))
    return int(np.count_nonzero(np.diff(steps[steps != 0])))


def find(view: View) -> Iterator[Finding]:
    for series in view.panel.series:
        if not MARKS[series.mark].line:
            continue
        points = series_points(series, view.panel, view.tables)
        turns = _turns(points.x)
        # a profile goes along y: its line is in order there
        if turns and _turns(points.y):
            edit = partial(change_series, tables=view.tables, series_id=series.id, mark="points")
            yield Finding(
                f"The line of {view.name(series)} follows the rows, and x turns back "
                f"{plural(turns, 'time')} on the way.",
                Remedy("Draw points only", "drew points", edit),
            )
