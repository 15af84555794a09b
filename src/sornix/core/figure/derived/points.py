"""What a figure takes from its readings: points, extents, titles and fits."""

from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from sornix.core.figure.derived.blocks import Blocks
from sornix.core.figure.derived.paneldata import remembered
from sornix.core.figure.model.series import MARKS, Series
from sornix.core.figure.model.values import Panel
from sornix.core.frozen import frozen
from sornix.core.readings import (
    TEXT,
    TIME,
    Column,
    Table,
    Tables,
    number_column,
    table_named,
)
from sornix.core.readings.tables.column import NAMELESS, mean_of, pieces, turns
from sornix.core.readings.tables.everyrow import EveryRow, every_row
from sornix.core.scales import KINDS, is_categorical
from sornix.core.text import unit_text
from sornix.core.text.names import common_name

Floats = NDArray[np.float64]
_PIECE = 1 << 16


@frozen(eq=False, slots=False)
class Points:
    """The readings of a series that can be drawn: `x`, `y` and row indices, shapes (n,).

    In drawing order; `gaps` (k,) are the places of readings before which rows were missing,
    rising, and `rising` tells whether x never falls.
    """

    x: Floats
    y: Floats
    rows: NDArray[np.intp]
    gaps: NDArray[np.intp]
    rising: bool

    @cached_property
    def x_ends(self) -> tuple[float, float]:
        """The least and the greatest x; there must be a reading."""
        if self.rising:
            return float(self.x[0]), float(self.x[-1])
        return float(self.x.min()), float(self.x.max())

    @cached_property
    def y_ends(self) -> tuple[float, float]:
        """The least and the greatest y; there must be a reading."""
        if self.blocks is not None:
            return self.blocks.whole(self.y)
        return float(self.y.min()), float(self.y.max())

    @cached_property
    def lone(self) -> NDArray[np.intp]:
        """Places of readings between two gaps, which no line shows."""
        begins = np.append(np.zeros(1, np.intp), self.gaps[self.gaps > 0])
        lone: NDArray[np.intp] = begins[np.diff(begins, append=len(self.x)) == 1]
        return lone

    @cached_property
    def means(self) -> tuple[float, float]:
        """The means of x and of y; there must be a reading."""
        return mean_of(self.x), mean_of(self.y)

    @cached_property
    def blocks(self) -> Blocks | None:
        """The lowest and highest y of blocks of very many readings."""
        return Blocks.of(self.y)

    @cached_property
    def turns(self) -> int:
        """How many times a line in the order of rows goes back along x, if along y as well: a
        profile goes along y, and its line is in order there."""
        found = 0 if self.rising else turns(self.x)
        return found if found and turns(self.y) else 0

    @cached_property
    def repeated(self) -> int:
        """How many readings have the same x as the one before."""
        return sum(int(np.count_nonzero(part[1:] == part[:-1])) for part in pieces(self.x))

    def between(self, low: float, high: float) -> tuple[int, int]:
        """Where the readings with x in a range begin and end; only where x rises."""
        begin, end = np.searchsorted(self.x, low), np.searchsorted(self.x, high, "right")
        return int(begin), int(end)

    def within(self, x: tuple[float, float], y: tuple[float, float]) -> int:
        """How many readings lie in a range of x and one of y, their ends included."""
        if not len(self.x):
            return 0
        begin, end = self.between(*x) if self.rising else (0, len(self.x))
        asked = [
            (values[begin:end], low, high)
            for values, ends, (low, high) in ((self.x, self.x_ends, x), (self.y, self.y_ends, y))
            if not (values is self.x and self.rising) and (ends[0] < low or ends[1] > high)
        ]
        if not asked:
            return max(end - begin, 0)
        found = 0
        for at in range(0, end - begin, _PIECE):
            parts = [(values[at : at + _PIECE], low, high) for values, low, high in asked]
            inside = [(part >= low) & (part <= high) for part, low, high in parts]
            found += int(np.count_nonzero(inside[0] if len(inside) == 1 else inside[0] & inside[1]))
        return found

    def at_row(self, row: int) -> int | None:
        """The place of a row index among the readings, or None where it holds none."""
        rows: object = self.rows
        if isinstance(rows, EveryRow):
            return row if 0 <= row < len(rows) else None
        i = int(np.searchsorted(self.rows, row))
        return i if i < len(self.rows) and self.rows[i] == row else None


def column_or_rows(table: Table, name: str | None) -> Column:
    """The number column of that name, or the row numbers from 1. Raises UnknownColumn."""
    return _row_numbers(table.row_count) if name is None else table.column(name)


@lru_cache(maxsize=16)
def _row_numbers(count: int) -> Column:
    return number_column("Row", np.arange(1.0, count + 1))


@remembered
def series_points(series: Series, panel: Panel, tables: Tables) -> Points:
    """The readings of a series that have both an x and a y with a place on the panel's scales."""
    table = table_named(tables, series.table)
    axes = series.x_axis, series.y_axis
    kinds = scale_kind(panel, tables, axes[0]), scale_kind(panel, tables, axes[1])
    x, y = column_or_rows(table, series.x), column_or_rows(table, series.y)
    rows = rows_of(series, tables)
    if not any(map(is_categorical, kinds)):
        return points_of(SameColumn(x), SameColumn(y), *kinds, rows)
    placed = [
        _in_list(SameColumn(column), axis_list(panel, tables, axis))
        if is_categorical(kind)
        else column
        for axis, kind, column in zip(axes, kinds, (x, y), strict=True)
    ]
    return points_of(SameColumn(placed[0]), SameColumn(placed[1]), *kinds, rows)


def rows_of(series: Series, tables: Tables) -> "tuple[SameColumn, str] | None":
    if series.only is None:
        return None
    column = table_named(tables, series.table).column(series.only.column)
    return SameColumn(column), series.only.value


def row_count(series: Series, tables: Tables) -> int:
    """How many rows of its table a series is about."""
    only = rows_of(series, tables)
    if only is None:
        return table_named(tables, series.table).row_count
    return int(np.count_nonzero(_chosen(*only)))


def axis_list(panel: Panel, tables: Tables, axis: str) -> tuple[str, ...]:
    """What is listed along a category axis or one in order, as cells: texts in the order of the
    table, numbers and times in their own."""
    return _listed(tuple(SameColumn(column) for column in axis_columns(panel, tables, axis)))


@lru_cache(maxsize=16)
def _listed(columns: tuple["SameColumn", ...]) -> tuple[str, ...]:
    found = [same.column for same in columns]
    if any(column.kind == TEXT for column in found):
        return tuple(dict.fromkeys(cell for column in found for cell in column.cells() if cell))
    numbers = np.concatenate([column.known for column in found])
    values, first = np.unique(numbers, return_index=True)
    if len(found) == 1:
        rows = np.flatnonzero(found[0].present)[first]
        return tuple(found[0].cell(int(row)) for row in rows)
    return tuple(number_column("", values).cells())


@lru_cache(maxsize=32)
def _in_list(same: "SameColumn", names: tuple[str, ...]) -> Column:
    """A column of the places, from 0, of its cells in a list."""
    places = {name: float(i) for i, name in enumerate(names)}
    column = same.column
    return number_column(column.name, [places.get(cell, np.nan) for cell in column.cells()])


def unplaced(series: Series, panel: Panel, tables: Tables, axis: str) -> NDArray[np.intp]:
    """The row indices of readings of a series that an axis has no place for, shape (k,)."""
    table = table_named(tables, series.table)
    column = column_or_rows(table, series.column(axis))
    if not column.has_places:
        return np.zeros(0, np.intp)
    kind = KINDS[scale_kind(panel, tables, axis)]
    with np.errstate(invalid="ignore"):
        return np.flatnonzero(column.present & ~kind.shows(column.numbers))


class SameColumn:
    """A column as a key: the very same one, not one that holds the same readings. To compare a
    million readings with those before the last edit takes longer than to work on them."""

    __slots__ = ("column",)

    def __init__(self, column: Column) -> None:
        self.column = column

    def __hash__(self) -> int:
        return id(self.column)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, SameColumn) and self.column is other.column


@lru_cache(maxsize=64)
def points_of(
    x_column: SameColumn,
    y_column: SameColumn,
    x_kind: str = "linear",
    y_kind: str = "linear",
    only: tuple[SameColumn, str] | None = None,
) -> Points:
    x, y = x_column.column, y_column.column
    if not (x.has_places and y.has_places):
        nothing, none = np.zeros(0), np.zeros(0, np.intp)
        return Points(nothing, nothing, none, none, rising=True)
    if x.is_complete and y.is_complete and only is None and not (
        KINDS[x_kind].why or KINDS[y_kind].why
    ):  # fmt: skip
        return _all_points(x, y)
    both = x.present & y.present
    chosen = _chosen(*only) if only is not None else np.ones(len(x), bool)
    both &= chosen
    for column, kind in ((x, x_kind), (y, y_kind)):
        if KINDS[kind].why:
            with np.errstate(invalid="ignore"):
                both &= KINDS[kind].shows(column.numbers)
    if both.all():
        return _all_points(x, y)
    rows = np.flatnonzero(both)
    # rows of others between two readings are no gap
    counted = np.cumsum(chosen)[rows]
    gaps = np.flatnonzero(np.diff(counted, prepend=counted[0] if len(rows) else 0) > 1)
    known = x.numbers[rows]
    return Points(known, y.numbers[rows], rows, gaps, _rises(known))


def _all_points(x: Column, y: Column) -> Points:
    """The readings of columns in which none is missing."""
    none = np.zeros(0, np.intp)
    rows = every_row(len(x))
    return Points(x.numbers, y.numbers, rows, none, rising=x.way > 0 or len(x) < 2)


def _rises(values: Floats) -> bool:
    """Whether values (n,) never fall."""
    return all(bool((part[1:] >= part[:-1]).all()) for part in pieces(values))


@lru_cache(maxsize=64)
def _chosen(same: "SameColumn", value: str) -> NDArray[np.bool_]:
    """Which rows (n,) of a column hold a value, as its cells say it."""
    return np.array([cell == value for cell in same.column.cells()], dtype=bool)


@remembered
def scale_kind(panel: Panel, tables: Tables, axis: str) -> str:
    """The kind of scale of an axis: the one that is held, or what its columns ask for."""
    return panel.scale(axis).kind or own_kind(panel, tables, axis)


def own_kind(panel: Panel, tables: Tables, axis: str) -> str:
    """The kind of scale that the columns on an axis ask for."""
    kinds = {column.kind for column in axis_columns(panel, tables, axis)}
    return "category" if TEXT in kinds else "time" if TIME in kinds else "linear"


@remembered
def own_axis(panel: Panel) -> str:
    """The axis on which the series differ: `y`, or `x` where all share one y (a depth, say)."""
    xs, ys = ({(series.table, series.column(axis)) for series in panel.series} for axis in "xy")
    return "x" if len(ys) == 1 and len(xs) > 1 else "y"


def own_column(panel: Panel, series: Series, tables: Tables) -> Column:
    """The column by which a series differs from the others."""
    name = series.x if own_axis(panel) == "x" else series.y
    return column_or_rows(table_named(tables, series.table), name)


def series_name(panel: Panel, series: Series, tables: Tables) -> str:
    """The name in legends: the series' own, or that of the column by which it differs."""
    if series.name is not None:
        return series.name
    if series.only is not None:
        return series.only.value
    return own_column(panel, series, tables).name


@remembered
def axis_columns(panel: Panel, tables: Tables, axis: str) -> list[Column]:
    columns: dict[tuple[str, str], Column] = {}
    for series in panel.series_on(axis):
        table = table_named(tables, series.table)
        column = column_or_rows(table, series.column(axis))
        columns.setdefault((column.name, column.unit), column)
    return list(columns.values())


def axis_title(panel: Panel, tables: Tables, axis: str, units: str = "stroke") -> str:
    """The title as set, or that of the columns: `Quantity / unit` (or as UNITS has it), a shared
    unit said once."""
    scale = panel.scale(axis)
    if scale.title is not None:
        return scale.title
    if panel.bars == "shares" and _is_value_axis(panel, tables, axis):
        return _titled("Share", "%", units)
    columns = axis_columns(panel, tables, axis)
    several = len(columns) > 1
    called = not all(NAMELESS.fullmatch(c.name) for c in columns)
    common = common_name([c.name for c in columns]) if several and called else ""
    if common and len({c.unit for c in columns}) == 1:
        return _titled(common, columns[0].unit, units)
    # many, or called by numbers: years, columns of a plate
    called = called and any(map(str.isalpha, "".join(c.name for c in columns)))
    if several and axis[0] == "y" and not (called and len(panel.series) <= 3):
        found = {c.unit for c in columns}
        return _titled("Value", found.pop() if len(found) == 1 else "", units)
    if len({c.unit for c in columns}) == 1 and columns[0].unit:
        return _titled(", ".join(c.name for c in columns), columns[0].unit, units)
    return ", ".join(_titled(c.name, c.unit, units) for c in columns)


def _titled(name: str, unit: str, units: str) -> str:
    """A quantity with its unit, as UNITS has it."""
    if not unit:
        return name
    unit = unit_text(unit)
    return f"{name} ({unit})" if units == "brackets" else f"{name} / {unit}"


@remembered
def lies(panel: Panel, tables: Tables) -> bool:
    """Whether bars lie: their categories are along y, and x is not listed."""
    y, x = scale_kind(panel, tables, "y"), scale_kind(panel, tables, "x")
    return is_categorical(y) and not is_categorical(x)


def _is_value_axis(panel: Panel, tables: Tables, axis: str) -> bool:
    """Whether bars reach along an axis."""
    if not any(MARKS[series.mark].bars for series in panel.series_on(axis)):
        return False
    return axis[0] == ("x" if lies(panel, tables) else "y")


def axis_unit(panel: Panel, tables: Tables, axis: str) -> str:
    """The unit that all columns of an axis share, or ""."""
    units = {c.unit for c in axis_columns(panel, tables, axis)}
    return units.pop() if len(units) == 1 else ""
