"""Categories that are numbers at uneven distances, dates or numbers read as text, or too many."""

from collections.abc import Iterator, Sequence
from functools import partial

import numpy as np

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import AXES, axis_list, column_or_rows, set_kind
from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, TEXT, Column, table_named
from sornix.core.readings.cells.forms import are_identifiers
from sornix.core.readings.files.kinds import Manner, kind_of

_MOST = 30
_NUMBER_FIRST = pattern(r"[<>≤≥~≈€$£(]?\s?[-+−]?[.,]?\d")


def find(view: View) -> Iterator[Finding]:
    for axis, scale in view.place.scales.items():
        if scale.kind != "category":
            continue
        names = axis_list(view.panel, view.tables, axis)
        if len(names) > _MOST:
            yield Finding(f"{len(names)} categories on {AXES[axis]} are more than anyone compares.")
        for column in _columns(view, axis):
            if column.kind == NUMBER and _is_uneven(column):
                yield Finding(
                    f"“{column.name}” holds numbers at different distances, and {AXES[axis]} draws "
                    "them all the same distance apart.",
                    Remedy(
                        f"Draw {AXES[axis]} on a linear scale",
                        f"drew {AXES[axis]} on a linear scale",
                        partial(set_kind, tables=view.tables, axis=axis, kind=None),
                    ),
                )
            if column.kind == TEXT and kind_of(names, Manner()) == "time":
                yield Finding(
                    f"“{column.name}” looks like dates but was read as text, so {AXES[axis]} lists "
                    "them. Make it a column of dates in the column’s menu."
                )
            elif column.kind == TEXT and _are_like_numbers(names):
                yield Finding(
                    f"“{column.name}” looks like numbers but was read as text (“{names[0]}”), so "
                    f"{AXES[axis]} lists them. Mend the cells, or make it numbers in its menu."
                )


def _columns(view: View, axis: str) -> list[Column]:
    """The different columns on an axis."""
    found: list[Column] = []
    for series in view.panel.series_on(axis):
        table = table_named(view.tables, series.table)
        column = column_or_rows(table, series.column(axis))
        if all(column is not other for other in found):
            found.append(column)
    return found


def _are_like_numbers(names: Sequence[str]) -> bool:
    """Whether most names begin as numbers do, and are none of samples or wells."""
    like = [name for name in names if _NUMBER_FIRST.match(name)]
    return 2 * len(like) > len(names) and not are_identifiers(like)


def _is_uneven(column: Column) -> bool:
    values = np.unique(column.numbers[column.present])
    steps = np.diff(values)
    return len(steps) > 1 and not np.allclose(steps, steps[0])
