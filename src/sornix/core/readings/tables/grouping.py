"""Rows grouped by categories and summarised, as a table that follows its source."""

from collections.abc import Callable, Mapping
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.readings.tables.column import Column, number_column
from sornix.core.readings.tables.origin import Grouping
from sornix.core.readings.tables.table import Table, refuse_long

Floats = NDArray[np.float64]


def _spread(values: Floats) -> float:
    return float(np.std(values, ddof=1)) if len(values) > 1 else float("nan")


def _error(values: Floats) -> float:
    return _spread(values) / float(np.sqrt(len(values))) if len(values) else float("nan")


# Name in files and column names, words in menus, what it makes of the readings of a group, and
# whether the result has the unit of the readings.
STATISTICS: Mapping[str, tuple[str, Callable[[Floats], float], bool]] = MappingProxyType(
    {
        "mean": ("mean", lambda v: float(np.mean(v)) if len(v) else float("nan"), True),
        "SD": ("standard deviation (SD, of n − 1)", _spread, True),
        "SE": ("standard error of the mean (SE)", _error, True),
        "n": ("number of readings (n)", lambda v: float(len(v)), False),
        "sum": ("sum", lambda v: float(np.sum(v)), True),
        "median": ("median", lambda v: float(np.median(v)) if len(v) else float("nan"), True),
        "rows": ("number of rows", lambda v: float(len(v)), False),
    }
)


def group_rows(table: Table, grouping: Grouping, name: str) -> Table:
    """The summary of a table, groups in the order in which they first occur.

    Raises UnknownColumn, and EditRefused where a column of values holds text.
    """
    if not grouping.by:
        raise EditRefused("A summary needs a column of categories to group by.")
    refuse_long(table, "no summaries are made")
    keys = [table.column(column) for column in grouping.by]
    first, member = _groups(keys, table.row_count)
    order = np.argsort(member, kind="stable")
    cuts = np.searchsorted(member[order], np.arange(1, len(first)))
    columns = [_chosen(column, first) for column in keys]
    for value in grouping.values:
        column = table.column(value)
        if not column.has_places:
            raise EditRefused(
                f"“{value}” holds text, which has no mean.", remedy="Choose a column of numbers."
            )
        groups = np.split(column.numbers[order], cuts) if len(first) else []
        for statistic in grouping.statistics:
            if statistic == "rows":
                continue
            _, summarise, has_unit = STATISTICS[statistic]
            results = [summarise(group[np.isfinite(group)]) for group in groups]
            unit = column.unit if has_unit else ""
            columns.append(number_column(f"{value} {statistic}", results, unit))
    if "rows" in grouping.statistics or not grouping.values:
        counts = np.bincount(member, minlength=len(first)).astype(float)
        columns.append(number_column("Rows", counts))
    by = ", ".join(f"“{n}”" for n in grouping.by)
    notes = (f"Follows “{table.name}”, grouped by {by}.",)
    return Table(name, tuple(columns), notes, grouping=grouping)


def _groups(keys: list[Column], count: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The first row of each group, and the group of each row, shape (count,)."""
    member = np.zeros(count, dtype=np.intp)
    for column in keys:
        cells = column.numbers if column.has_places else column.values.astype(str)
        _, codes = np.unique(cells, return_inverse=True)
        member = np.unique(member * (int(codes.max(initial=0)) + 1) + codes, return_inverse=True)[1]
    _, first, member = np.unique(member, return_index=True, return_inverse=True)
    rank = np.argsort(np.argsort(first))
    return np.sort(first), rank[member]


def _chosen(column: Column, rows: NDArray[np.intp]) -> Column:
    """Some rows of a column, as a column of its own."""
    texts = {i: column.texts[row] for i, row in enumerate(rows.tolist()) if row in column.texts}
    return Column(column.name, column.unit, column.kind, column.values[rows], texts, column.form)
