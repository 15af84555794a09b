"""Readings that a kind of scale has no place for."""

from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, set_kind, unplaced
from sornix.core.scales import KINDS
from sornix.core.text import plural

# so many rows are named one by one
_MOST_NAMED = 4


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        kind = KINDS[scale.kind]
        if not kind.why:
            continue
        rows: list[int] = []
        for series in view.shown_on(axis):
            rows += unplaced(series, view.panel, view.tables, axis).tolist()
        if rows:
            named = ", ".join(str(row + 1) for row in rows[:_MOST_NAMED])
            more = " and more" if len(rows) > _MOST_NAMED else ""
            yield Finding(
                f"{plural(len(rows), 'reading')} {'is' if len(rows) == 1 else 'are'} not shown on "
                f"{AXES[axis]}: {kind.why} ({'row' if len(rows) == 1 else 'rows'} {named}{more}).",
                Remedy(
                    f"Draw {AXES[axis]} on a linear scale",
                    f"drew {AXES[axis]} on a linear scale",
                    partial(set_kind, tables=view.tables, axis=axis, kind="linear"),
                ),
                size=len(rows),
            )
