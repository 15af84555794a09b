"""What can be done to a table: acts by name, so that they can be kept and done again.

Each takes a table and gives a new one. Where rows move or columns change their names it says so,
and the figure follows.
"""

from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import EditRefused, SornixError
from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import Heading, parse_heading
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.changes.fill import filled_down
from sornix.core.readings.files.kinds import ABOVE_EMPTY, Manner, kind_of, make_column
from sornix.core.readings.tables.column import KIND_WORDS, NUMBER, TEXT, TIME, Column, Floats
from sornix.core.readings.tables.origin import Change
from sornix.core.readings.tables.rules import recomputed, rule_from_json, with_rule
from sornix.core.readings.tables.table import Table, refuse_long, unique_names

# How a person types: with a decimal point, days first.
_AS_TYPED = Manner(Marks(), "day", ())
_WITH_COMMA = pattern(r"[<>≤≥~±]?\s?[-+−]?\d*,\d+(?:[eE][-+]?\d+)?")
_NO_NAMES: Mapping[str, str] = MappingProxyType({})


class Edited(NamedTuple):
    """A table after an act. `names` maps old names of columns to new ones; `rows`, shape (n,),
    gives for each row of the new table the row that it was, −1 for a new one; None: none moved."""

    table: Table
    names: Mapping[str, str] = _NO_NAMES
    rows: NDArray[np.intp] | None = None


Operation = Callable[..., Edited]
OPERATIONS: dict[str, Operation] = {}
# Of tables that are too long to be changed.
_AT_ANY_SIZE = ("rename", "delete_columns")


def _act(function: Operation) -> Operation:
    OPERATIONS[function.__name__.strip("_")] = function
    return function


def apply_change(table: Table, change: Change) -> Edited:
    """A table after a change, computed columns brought up to date. Raises SornixError."""
    if change.act not in _AT_ANY_SIZE:
        refuse_long(table, "only the names are changed here")
    edited = OPERATIONS[change.act](table, **change.arguments)
    return edited._replace(table=recomputed(edited.table, table))


def reapplied(fresh: Table, changes: Sequence[Change]) -> tuple[Table, tuple[str, ...]]:
    """A table that was read anew after the changes that the old one had, and what did not fit."""
    table, kept, lost = fresh, [], []
    for change in changes:
        try:
            table = apply_change(table, change).table
            kept.append(change)
        except SornixError as error:
            lost.append(str(error))
    return evolve(table, changes=tuple(kept)), tuple(lost)


def _with_column(table: Table, name: str, column: Column) -> Table:
    return evolve(table, columns=tuple(column if c.name == name else c for c in table.columns))


def _own(table: Table, name: str) -> Column:
    """A column that is not computed. Raises EditRefused."""
    column = table.column(name)
    if column.rule is not None:
        raise EditRefused(
            f"“{name}” is computed ({column.rule.words}), so its cells cannot be typed.",
            remedy="Change its formula, or make it a column of its own first.",
        )
    if table.grouping is not None:
        raise EditRefused(
            f"“{table.name}” follows “{table.grouping.source}”, so its cells cannot be typed.",
            remedy="Change the readings there.",
        )
    return column


def _own_table(table: Table) -> None:
    if table.grouping is not None:
        raise EditRefused(
            f"“{table.name}” follows “{table.grouping.source}”.",
            remedy="Change the readings there.",
        )


# -- columns ----------------------------------------------------------------------------------


@_act
def rename(table: Table, column: str, name: str, unit: str) -> Edited:
    """Another name or unit for a column; formulas follow."""
    _own_table(table)
    old = table.column(column)
    name = " ".join(name.split())
    if not name:
        raise EditRefused("A column needs a name.")
    if '"' in name:
        raise EditRefused("The name of a column cannot hold a quotation mark.")
    if name != column and name in table.column_names:
        raise EditRefused(f"There is a column “{name}” already.", remedy="Choose another name.")

    def follow(one: Column) -> Column:
        if one is old:
            one = evolve(one, name=name, unit=unit.strip())
        if one.rule is not None and column in one.rule.inputs():
            one = evolve(one, rule=one.rule.following(column, name))
        return one

    columns = tuple(follow(one) for one in table.columns)
    return Edited(evolve(table, columns=columns), {column: name} if name != column else _NO_NAMES)


@_act
def set_kind(table: Table, column: str, kind: str, order: str = "day") -> Edited:
    """Another kind for a column: its cells as text are understood anew."""
    old = _own(table, column)
    if kind == old.kind:
        return Edited(table)
    fresh = _understood(old, old.cells(), kind, order)
    if kind != TEXT and not fresh.count and old.count:
        raise EditRefused(
            f"No cell of “{column}” reads as a {KIND_WORDS[kind]}.",
            remedy="The column stays as it was.",
        )
    return Edited(_with_column(table, column, fresh))


@_act
def convert(table: Table, column: str, unit: str) -> Edited:
    """A column in another unit of the same quantity, values converted."""
    from sornix.core.readings.tables.units import convert as converted

    old = _own(table, column)
    if old.kind != NUMBER:
        raise EditRefused(f"“{column}” holds no numbers.")
    values = converted(old.numbers, old.unit, unit)
    return Edited(_with_column(table, column, evolve(old, values=values, unit=unit)))


@_act
def repair(table: Table, column: str, form: str, way: str) -> Edited:
    """The strange cells of a form in a column, mended in one way."""
    from sornix.core.readings.changes.repair import repaired

    fresh = repaired(_own(table, column), form, way)
    return Edited(_with_column(table, column, fresh))


@_act
def restore(table: Table, column: str) -> Edited:
    """The cells of a column as they were read, before repairs."""
    old = _own(table, column)
    if not old.as_read:
        return Edited(table)
    values = old.numbers.copy()
    for row in old.as_read:
        values[row] = np.nan
    bounds = {row: bound for row, bound in old.bounds.items() if row not in old.as_read}
    texts = dict(sorted({**old.texts, **old.as_read}.items()))
    fresh = evolve(old, values=values, texts=texts, bounds=bounds, as_read={})
    return Edited(_with_column(table, column, fresh))


@_act
def fill_down(table: Table, column: str) -> Edited:
    """The empty cells of a column filled from above; what was said of them is said no more."""
    filled = _with_column(table, column, filled_down(_own(table, column)))
    said = ABOVE_EMPTY.format(names=f"“{column}”")
    return Edited(evolve(filled, notes=tuple(note for note in table.notes if note != said)))


@_act
def compute(
    table: Table, name: str, unit: str, rule: Mapping[str, Any], at: int | None = None
) -> Edited:
    """A computed column, new or in place of the one of that name."""
    _own_table(table)
    return Edited(with_rule(table, name, unit, rule_from_json(rule), at))


@_act
def settle(table: Table, column: str) -> Edited:
    """A computed column as one of its own, with the values that it has."""
    return Edited(_with_column(table, column, evolve(table.column(column), rule=None)))


@_act
def insert_column(table: Table, at: int, name: str = "") -> Edited:
    """An empty column of numbers."""
    _own_table(table)
    named = unique_names([name or f"Column {len(table.columns) + 1}"], table.column_names)[0]
    columns = list(table.columns)
    columns.insert(at, Column(named, "", NUMBER, np.full(table.row_count, np.nan)))
    return Edited(evolve(table, columns=tuple(columns)))


@_act
def delete_columns(table: Table, names: Sequence[str]) -> Edited:
    """The table without some columns, on which no other may depend."""
    _own_table(table)
    left = tuple(column for column in table.columns if column.name not in names)
    if not left:
        raise EditRefused("A table keeps at least one column.")
    for column in left:
        needed = set(column.rule.inputs()) & set(names) if column.rule else set()
        if needed:
            raise EditRefused(
                f"“{column.name}” is computed from “{needed.pop()}”.",
                remedy=f"Delete “{column.name}” first, or make it a column of its own.",
            )
    return Edited(evolve(table, columns=left))


@_act
def add_columns(table: Table, columns: Sequence[Mapping[str, Any]]) -> Edited:
    """New columns at the right: each a `name`, a `unit` and `cells` as text."""
    _own_table(table)
    rows = max(table.row_count, *(len(column["cells"]) for column in columns))
    taller = insert_rows(table, table.row_count, rows - table.row_count).table
    names = unique_names((column["name"] for column in columns), table.column_names)
    fresh = []
    for name, column in zip(names, columns, strict=True):
        cells = [*column["cells"], *[""] * (rows - len(column["cells"]))]
        fresh.append(make_column(Heading(name, column["unit"]), cells, None, Manner()).column)
    return Edited(evolve(taller, columns=(*taller.columns, *fresh)))


# -- rows and cells ---------------------------------------------------------------------------


@_act
def set_cells(table: Table, cells: Sequence[tuple[int, int, str]]) -> Edited:
    """Cells by row index, column index and text. The table grows where they lie beyond it.

    Words typed into a column without any readings become its name. In a table that was read with
    decimal commas, 2,5 is a number.
    """
    by_column: dict[int, dict[int, str]] = {}
    commas = table.read_as is not None and table.read_as.dialect.decimal == ","
    words = [column.kind == TEXT for column in table.columns]
    for row, column, text in cells:
        of_words = column < len(words) and words[column]
        point = commas and not of_words and _WITH_COMMA.fullmatch(text.strip())
        by_column.setdefault(column, {})[row] = text.replace(",", ".") if point else text
    for at in range(len(table.columns), max(by_column, default=0) + 1):
        table = insert_column(table, at).table
    names: dict[str, str] = {}
    for number, new in by_column.items():
        old = table.columns[number]
        if is_unnamed(old) and new.get(0, "").strip() and kind_of([new[0]], _AS_TYPED) == TEXT:
            heading = parse_heading(new[0])
            taken = (c.name for c in table.columns if c is not old)
            name = unique_names([heading.name], taken)[0]
            table = rename(table, old.name, name, heading.unit).table
            names[old.name] = name
            by_column[number] = {row - 1: text for row, text in new.items() if row}
    tall = max((row for new in by_column.values() for row in new), default=-1) + 1
    table = insert_rows(table, table.row_count, tall - table.row_count).table
    columns = list(table.columns)
    for number, new in by_column.items():
        columns[number] = _with_cells(_own(table, columns[number].name), new)
    return Edited(evolve(table, columns=tuple(columns)), names)


def is_unnamed(column: Column) -> bool:
    """Whether a column waits for its name: it has the name that it was made with, and nothing
    in it."""
    return column.name.startswith("Column ") and not column.count and not column.texts


def _with_cells(column: Column, new: Mapping[int, str]) -> Column:
    """A column with other texts in some cells; an empty one takes the kind of what is typed."""
    present = [text for text in new.values() if text.strip()]
    if not column.count and not column.texts and present:
        kind = kind_of(present, _AS_TYPED)
        if kind != column.kind:
            column = _understood(column, [""] * len(column), kind, "day")
    if column.kind == TEXT:
        words = column.values.copy()
        for row, text in new.items():
            words[row] = text.strip()
        return evolve(column, values=words)
    rows = list(new)
    part = make_column(
        Heading(column.name), [new[row] for row in rows], column.kind, _AS_TYPED, settled=True
    ).column
    values = column.numbers.copy()
    values[rows] = part.numbers
    texts, bounds, as_read = (
        {row: text for row, text in kept.items() if row not in new}
        for kept in (column.texts, column.bounds, column.as_read)
    )
    texts.update({rows[i]: text for i, text in part.texts.items()})
    form = column.form
    if column.kind == TIME and part.count:
        from sornix.core.text.moments import finer

        form = finer(column.form, part.form) if column.count else part.form
    return evolve(
        column,
        values=values,
        texts=dict(sorted(texts.items())),
        bounds=bounds,
        as_read=as_read,
        form=form,
    )


@_act
def insert_rows(table: Table, at: int, count: int) -> Edited:
    """Empty rows before the row of index `at`."""
    if count <= 0:
        return Edited(table)
    _own_table(table)
    rows = np.arange(table.row_count, dtype=np.intp)
    return _with_rows(table, np.insert(rows, min(at, len(rows)), np.full(count, -1)))


@_act
def delete_rows(table: Table, rows: Sequence[int]) -> Edited:
    """The table without some rows, by index."""
    _own_table(table)
    kept = np.ones(table.row_count, dtype=bool)
    kept[[row for row in rows if row < table.row_count]] = False
    return _with_rows(table, np.flatnonzero(kept))


@_act
def sort(table: Table, column: str, descending: bool = False) -> Edited:
    """The rows in the order of a column; missing ones last, equal ones as they were."""
    _own_table(table)
    key = table.column(column)
    places: Floats
    if key.has_places:
        places = key.numbers
    else:
        words = np.array([text.casefold() for text in key.values], dtype=str)
        places = np.unique(words, return_inverse=True)[1].astype(float)
        places[~key.present] = np.nan
    order = np.argsort(-places if descending else places, kind="stable")
    return _with_rows(table, order)


def _with_rows(table: Table, rows: NDArray[np.intp]) -> Edited:
    """The table with these of its rows, −1 standing for an empty one."""
    columns = tuple(_taken(column, rows) for column in table.columns)
    return Edited(evolve(table, columns=columns), rows=rows)


def _taken(column: Column, rows: NDArray[np.intp]) -> Column:
    blank = rows < 0
    values: Any = column.values[np.where(blank, 0, rows)] if len(column) else None
    if values is None:
        values = np.full(len(rows), np.nan, dtype=column.values.dtype)
    values[blank] = np.nan if column.has_places else ""
    if not (column.texts or column.bounds or column.as_read):
        return evolve(column, values=values)
    places = {int(old): new for new, old in enumerate(rows.tolist())}
    texts, bounds, as_read = (
        dict(sorted((places[row], text) for row, text in kept.items() if row in places))
        for kept in (column.texts, column.bounds, column.as_read)
    )
    return evolve(column, values=values, texts=texts, bounds=bounds, as_read=as_read)


def _understood(column: Column, cells: Sequence[str], kind: str, order: str) -> Column:
    manner = Manner(Marks(), order, ())
    heading = Heading(column.name, column.unit)
    fresh = make_column(heading, cells, kind, manner, settled=True).column
    # a number may be the year, or the seconds, of a moment
    if kind == TIME and column.kind == NUMBER and not fresh.count:
        fresh = _years(column)
    return evolve(fresh, unit="" if kind == TIME else column.unit)


def _years(column: Column) -> Column:
    """Whole numbers from 1000 to 2999 as the first days of those years."""
    years = column.numbers
    whole = np.isfinite(years) & (years == np.floor(years)) & (years >= 1000) & (years < 3000)
    seconds = np.full(len(years), np.nan)
    starts = (years[whole].astype(np.int64) - 1970).astype("datetime64[Y]")
    seconds[whole] = starts.astype("datetime64[s]").astype(np.float64)
    return Column(column.name, "", TIME, seconds, form="month")
