"""Several readings at one x under lines."""

from collections.abc import Iterator

import numpy as np

from sornix.core.cautions.caution import Finding, View, up_to
from sornix.core.figure import MARKS, Series, marked, own_axis
from sornix.core.text import capital


def find(view: View) -> Iterator[Finding]:
    if own_axis(view.panel) == "x":
        return
    lines = [series for series in view.panel.shown if MARKS[series.mark].line]
    counts = {series: count for series in lines if (count := _repeated(view, series))}
    if not counts:
        return
    most, several = max(counts.values()), list(counts)
    each = " each" if len(several) > 1 else ""
    yield Finding(
        f"{capital(up_to(list(counts.values()), 'reading'))}{each} of {view.names(several)} "
        f"{'has' if most == 1 else 'have'} the same x as the one before, so the "
        f"{'lines run' if each else 'line runs'} straight up and down there.",
        view.points_only(several),
        size=most,
    )


def _repeated(view: View, series: Series) -> int:
    """How many readings stand above one another under a line that goes to and fro there."""
    points = marked(series, view.panel, view.tables).points
    same = points.repeated
    down = np.diff(points.y) if same else points.y[:0]
    # a profile goes along y, and may well be straight up and down
    return same if same and not ((down > 0).all() or (down < 0).all()) else 0
