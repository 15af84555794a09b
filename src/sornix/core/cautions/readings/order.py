"""Lines through readings whose x goes to and fro."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View, up_to
from sornix.core.figure import MARKS, series_points


def find(view: View) -> Iterator[Finding]:
    lines = [series for series in view.panel.shown if MARKS[series.mark].line]
    turns = {series: series_points(series, view.panel, view.tables).turns for series in lines}
    back = [series for series, count in turns.items() if count]
    if not back:
        return
    times = up_to([turns[series] for series in back], "time")
    one = len(back) == 1
    yield Finding(
        f"The {'line' if one else 'lines'} of {view.names(back)} {'follows' if one else 'follow'} "
        f"the rows, and x turns back {times} on the way.",
        view.points_only(back),
    )
