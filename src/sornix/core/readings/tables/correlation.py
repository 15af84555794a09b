"""How strongly the columns of a table go with one another."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.readings.tables.table import Table, refuse_long

Floats = NDArray[np.float64]
PEARSON, SPEARMAN = "pearson", "spearman"


class Correlations(NamedTuple):
    """For k columns by `names`: the coefficients `r`, shape (k, k), NaN where they are not
    defined, and the numbers `n` of rows in which both columns hold a reading, shape (k, k)."""

    names: tuple[str, ...]
    r: Floats
    n: NDArray[np.int64]


def correlations(table: Table, method: str = PEARSON) -> Correlations:
    """Every number column against every other, each pair over its complete rows.

    Pearson's product-moment coefficient (1895), or Spearman's (1904): Pearson's of the ranks,
    equal readings sharing their mean rank. Raises EditRefused for too many rows.
    """
    refuse_long(table, "no correlations are worked out")
    columns = table.number_columns
    k = len(columns)
    r, n = np.full((k, k), np.nan), np.zeros((k, k), dtype=np.int64)
    for i in range(k):
        for j in range(i, k):
            both = columns[i].present & columns[j].present
            n[i, j] = n[j, i] = int(np.count_nonzero(both))
            x, y = columns[i].numbers[both], columns[j].numbers[both]
            r[i, j] = r[j, i] = _spearman(x, y) if method == SPEARMAN else _pearson(x, y)
    return Correlations(tuple(column.name for column in columns), r, n)


def _pearson(x: Floats, y: Floats) -> float:
    if len(x) < 2:
        return float("nan")
    dx, dy = x - x.mean(), y - y.mean()
    # scaled, so that squares of very large or small readings stay within binary64
    sx, sy = float(np.abs(dx).max()), float(np.abs(dy).max())
    if sx <= 1e-15 * float(np.abs(x).max()) or sy <= 1e-15 * float(np.abs(y).max()):
        return float("nan")
    dx, dy = dx / sx, dy / sy
    return float(np.clip(dx @ dy / np.sqrt((dx @ dx) * (dy @ dy)), -1, 1))


def _spearman(x: Floats, y: Floats) -> float:
    return _pearson(mean_ranks(x), mean_ranks(y))


def mean_ranks(values: Floats) -> Floats:
    """Ranks from 1, shape (n,); equal values share the mean of theirs."""
    _, member, counts = np.unique(values, return_inverse=True, return_counts=True)
    ends = np.cumsum(counts)
    means: Floats = (ends + (ends - counts + 1)) / 2
    return means[member]
