"""Several readings at one x under a line."""

from collections.abc import Iterator
from functools import partial

import numpy as np

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import MARKS, change_series, marked, own_axis
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    for series in view.panel.shown:
        if not MARKS[series.mark].line or own_axis(view.panel) == "x":
            continue
        points = marked(series, view.panel, view.tables).points
        same = points.repeated
        down = np.diff(points.y) if same else points.y[:0]
        # a profile goes along y, and may well be straight up and down
        if same and not ((down > 0).all() or (down < 0).all()):
            edit = partial(change_series, tables=view.tables, series_id=series.id, mark="points")
            yield Finding(
                f"{plural(same, 'reading')} of {view.name(series)} "
                f"{'has' if same == 1 else 'have'} the same x as the one before, so the line runs "
                "straight up and down there.",
                Remedy("Draw points only", "drew points", edit),
                size=same,
            )
