"""The readings that a trend goes through, with what they weigh."""

from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.figure.derived.further import have_all, taken_from
from sornix.core.figure.derived.points import (
    Points,
    SameColumn,
    column_or_rows,
    points_of,
    rows_of,
    scale_kind,
)
from sornix.core.figure.model.scale import AXES
from sornix.core.figure.model.series import OF_REPLICATES, Series
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Panel
from sornix.core.readings import TIME, Column, Table, Tables, table_named
from sornix.core.scales import is_categorical
from sornix.core.text import plural
from sornix.core.trends import Sample

Floats = NDArray[np.float64]

# The powers of the height of the curve that readings scatter by, where it is given.
POWERS = {"1/y": 0.5, "1/y2": 1.0}
_NO_WEIGHT = "No reading of this series has a standard deviation above 0 to weigh it by."


class Readings(NamedTuple):
    """What the sample of a trend is made from; equal where it is made from the very same."""

    x: SameColumn
    y: SameColumn
    left_out: tuple[int, ...]
    only: tuple[SameColumn, str] | None
    ends: tuple[float | None, float | None] = (None, None)
    x_errors: tuple[str, float, tuple[SameColumn, ...]] | None = None
    y_errors: tuple[str, float, tuple[SameColumn, ...]] | None = None
    others: tuple[SameColumn, ...] = ()


def readings_of(trend: Trend, panel: Panel, tables: Tables) -> Readings:
    series = panel.one_series(trend.series)
    for axis in (series.x_axis, series.y_axis):
        kind = scale_kind(panel, tables, axis)
        if is_categorical(kind):
            raise TrendImpossible(
                f"A trend needs distances, and {AXES[axis]} only has places in a list.",
                remedy="Choose another kind of scale, or a column of numbers.",
            )
    x, y = trend_columns(trend, panel, tables)
    errors = trend.weights in ("errors", "both", "column")
    return Readings(
        SameColumn(x),
        SameColumn(y),
        tuple(left.row for left in series.left_out),
        rows_of(series, tables),
        (trend.start, trend.end),
        _errors(series, "x", None, tables) if trend.weights == "both" else None,
        _errors(series, "y", trend.weight_column, tables) if errors else None,
        tuple(SameColumn(table_named(tables, series.table).column(c)) for c in trend.columns),
    )


def _errors(
    series: Series, direction: str, column: str | None, tables: Tables
) -> tuple[str, float, tuple[SameColumn, ...]]:
    """What the standard deviations of readings come from: a kind of error bars, their size, and
    columns. Raises TrendImpossible."""
    table = table_named(tables, series.table)
    if column is not None:
        return "column", 0.0, (_numbers(table, column),)
    bars = series.errors(direction)
    if bars is None:
        raise TrendImpossible(
            f"This series has no error bars in {direction} to weigh its readings by.",
            remedy="Give it error bars in its further lines, or weigh its readings otherwise.",
        )
    names = [name for name in (bars.column, bars.upper) if name]
    return bars.kind, bars.size, tuple(_numbers(table, name) for name in names)


def _numbers(table: Table, name: str) -> SameColumn:
    column = table.column(name)
    if not column.has_places:
        raise TrendImpossible(f"Column “{name}” holds no numbers to weigh by.", where=table.name)
    return SameColumn(column)


def _used(made_from: Readings, points: Points) -> NDArray[np.bool_]:
    """Which of the points a trend goes through, shape (n,). Raises TrendImpossible."""
    used = np.ones(len(points.x), dtype=bool)
    if made_from.left_out:
        used &= ~np.isin(points.rows, made_from.left_out)
    start, end = made_from.ends
    if start is not None:
        used &= points.x >= start
    if end is not None:
        used &= points.x <= end
    if made_from.ends != (None, None) and not used.any():
        raise TrendImpossible(
            "No reading lies in the range of x that is held.", remedy="Free its ends, or move them."
        )
    return used


def sample_of(
    made_from: Readings, weights: str, *, on_logs: bool
) -> tuple[Sample, tuple[str, ...]]:
    """The readings of a trend with their weights, and what is to be said of those that have none.
    Raises TrendImpossible."""
    points = points_of(made_from.x, made_from.y, only=made_from.only)
    units = trend_unit(made_from.x.column), trend_unit(made_from.y.column)
    sample = Sample(points.x, points.y, points.rows, *units)
    if made_from == Readings(made_from.x, made_from.y, (), made_from.only):
        # nothing is asked of any reading
        return _weighed(sample, weights, on_logs=on_logs), ()
    return _with_sds(made_from, points, sample, weights, on_logs=on_logs)


def _with_sds(
    made_from: Readings, points: Points, sample: Sample, weights: str, *, on_logs: bool
) -> tuple[Sample, tuple[str, ...]]:
    """Those of a sample of all points that a trend goes through, weighed by their errors."""
    used = _used(made_from, points)
    sides = {"x": made_from.x_errors, "y": made_from.y_errors}
    found = {}
    without = np.zeros(len(used), dtype=bool)
    for direction, errors in sides.items():
        if errors is not None:
            values = points.x if direction == "x" else points.y
            found[direction] = _deviations(errors, values, points.x, points.rows)
            # a reading without an SD has no weight
            without |= used & ~(np.isfinite(found[direction]) & (found[direction] > 0))
    used &= ~without
    if without.any() and not used.any():
        raise TrendImpossible(_NO_WEIGHT, remedy="Weigh all readings the same.")
    what = "a standard deviation above 0"
    notes = (_left_without(what, points.rows[without]),) if without.any() else ()
    others = [same.column for same in made_from.others]
    if others:
        lacking = used & ~have_all(others, points.rows)
        used &= ~lacking
        listed = " or ".join(f"“{column.name}”" for column in others)
        if lacking.any():
            notes = (*notes, _left_without(f"a value in {listed}", points.rows[lacking]))
    if not used.all():
        sample = sample.some(used)
    if others:
        sample = evolve(sample, others=taken_from(others, sample.rows)[1])
    if weights == "both":
        x_sd, y_sd = (found[side][used] for side in "xy")
        return evolve(sample, x_sd=x_sd, y_sd=y_sd), notes
    if "y" in found:
        return evolve(sample, weights=_relative(found["y"][used] ** -2.0)), notes
    return _weighed(sample, weights, on_logs=on_logs), notes


_MOST_LISTED = 6


def _left_without(what: str, rows: NDArray[np.intp]) -> str:
    """Which readings were left out since they have not what a trend needs of each."""
    listed = ", ".join(str(row + 1) for row in rows[:_MOST_LISTED].tolist())
    more = " and others" if len(rows) > _MOST_LISTED else ""
    was = "was" if len(rows) == 1 else "were"
    in_rows = "row" if len(rows) == 1 else "rows"
    return (
        f"{plural(len(rows), 'reading')} without {what} {was} left out: {in_rows} {listed}{more}."
    )


def trend_unit(column: Column) -> str:
    """The unit in which a trend takes a column: times are seconds."""
    return "s" if column.kind == TIME else column.unit


def _weighed(sample: Sample, weights: str, *, on_logs: bool) -> Sample:
    """Readings that can be weighed in a way that follows from themselves; on logarithms, weighed by
    it. Raises TrendImpossible."""
    if weights == "1/y" and (sample.y < 0).any():
        raise TrendImpossible(
            "Readings below 0 cannot weigh 1/y.",
            remedy="Leave them out, hold a range of x, or weigh the readings otherwise.",
        )
    if weights == "replicates":
        if on_logs:
            raise TrendImpossible(
                "On logarithms each reading weighs by its ratio to the curve.",
                remedy="Weigh all readings the same, or fit the readings themselves.",
            )
        _, counts = np.unique(sample.x, return_counts=True)
        if (counts > 1).sum() < 2:
            raise TrendImpossible(
                "Two x or more need 2 readings each to weigh by the scatter of replicates.",
                remedy="Weigh the readings otherwise.",
            )
    if on_logs and weights in POWERS:
        heights = np.abs(sample.y)
        return evolve(sample, weights=_relative(_above_0(heights) ** (-2.0 * POWERS[weights])))
    return sample


def _deviations(
    errors: tuple[str, float, tuple[SameColumn, ...]],
    values: Floats,
    x: Floats,
    rows: NDArray[np.intp],
) -> Floats:
    """The standard deviation of each reading, shape (n,), NaN where it is not known."""
    kind, size, columns = errors
    if kind == "fixed":
        return np.full(len(values), size)
    if kind == "percent":
        return np.abs(values) * size / 100
    if kind in OF_REPLICATES:
        return _spread_of_replicates(x, values)
    sides = [same.column.numbers[rows] for same in columns]
    if kind == "pair":
        # how far it reaches downward and upward, whatever the sign
        sides = [np.abs(side) for side in sides]
    if kind == "bounds":
        sides = [np.abs(side - values) for side in sides]
    mean: Floats = sum(sides[1:], sides[0]) / len(sides)
    return mean


def _spread_of_replicates(x: Floats, y: Floats) -> Floats:
    """The SD of the readings at the x of each, shape (n,), NaN where there is one alone."""
    _, group, counts = np.unique(x, return_inverse=True, return_counts=True)
    means = np.bincount(group, y) / counts
    squares = np.bincount(group, (y - means[group]) ** 2)
    with np.errstate(all="ignore"):
        spread: Floats = np.sqrt(squares / (counts - 1))[group]
    return spread


def _above_0(spread: Floats) -> Floats:
    """Standard deviations with the least that is not 0 in place of 0. Raises TrendImpossible."""
    known = spread[spread > 0]
    if not len(known):
        raise TrendImpossible(_NO_WEIGHT, remedy="Weigh all readings the same.")
    found: Floats = np.maximum(spread, known.min())
    return found


def _relative(weights: Floats) -> Floats:
    """Weights that are 1 on average."""
    found: Floats = weights / weights.mean()
    return found


def trend_columns(trend: Trend, panel: Panel, tables: Tables) -> tuple[Column, Column]:
    """The columns along and upward that a trend goes through."""
    series = panel.one_series(trend.series)
    table = table_named(tables, series.table)
    return column_or_rows(table, series.x), column_or_rows(table, series.y)
