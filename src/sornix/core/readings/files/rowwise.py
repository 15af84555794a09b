"""Rows of cells that have kinds of their own, as workbooks, JSON and pasted tables give them."""

import datetime as dt
from collections.abc import Sequence
from contextlib import suppress
from itertools import chain
from typing import Any, NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.readings.files.beside import taken_together, with_spreads
from sornix.core.readings.files.dateorder import find_order
from sornix.core.readings.files.kinds import (
    MOST_COLUMNS,
    Known,
    Manner,
    make_column,
    need_places,
    notes_of,
    offset_note,
    zone_notes,
)
from sornix.core.readings.files.remarks import names_by_number, remark_in, taken_from
from sornix.core.readings.files.shares import Share, shown
from sornix.core.readings.layouts.bits import Weight
from sornix.core.readings.layouts.blocks import blocks_among, side_by_side
from sornix.core.readings.layouts.ending import (
    MOST_LINES,
    passed_over,
    passed_over_below,
    summing_up,
)
from sornix.core.readings.layouts.header import (
    Heading,
    completed,
    in_groups,
    parse_headings,
    unit_cells,
    units_in,
    with_units,
)
from sornix.core.readings.layouts.marks import Marks, settled_marks
from sornix.core.readings.layouts.naming import Names, lines_under
from sornix.core.readings.layouts.standins import without_stand_ins
from sornix.core.readings.layouts.weighing import length_of, lightest, weighed_rows
from sornix.core.readings.tables.column import TIME, moments_column, number_column
from sornix.core.readings.tables.dialect import (
    NOTHING_HELD,
    Dialect,
    Held,
    ReadAs,
    without_header,
)
from sornix.core.readings.tables.table import Table, unique_names
from sornix.core.text import plural

_EPOCH = dt.datetime(1970, 1, 1)  # noqa: DTZ001 - plain time, without any zone
_HEAD_ROWS = 100
# longer sheets are of one table
_MOST_DIVIDED = 20_000
# So many cells of a time column are looked at for their offsets from universal time.
_OFFSET_SAMPLE = 50
_EMPTY, _MOST_KEPT = ("", None), 1e15
# what is decided where a file itself says the names of its columns
_NAMED: Held = {"header": 1, "units": False}
Row = Sequence[Any]


class _Layout(NamedTuple):
    """Where things stand in rows: `headings` of the columns, and the `body` under them; a doubt,
    and the word that it is about."""

    headings: list[Heading]
    body: list[Row]
    header: int
    units: bool
    notes: tuple[str, ...]
    doubt: str
    doubtful: str = "header"


def table_of_rows(
    rows: Sequence[Row], name: str, *, where: str = "", held: Held = NOTHING_HELD
) -> Table:
    """The table in rows of cells: str, float, int, bool, dates and times, "" or None where empty.

    Header, units and kinds are found as in texts. Raises ReadingsError.
    """
    where = where or name
    texts = (cell for row in rows[:1000] for cell in row if isinstance(cell, str))
    marks, doubt = settled_marks(texts, "\t", held)
    lying = bool(held.get("lying"))
    if lying:
        rows = _turned(rows, marks)
    rows, told = _without_remarks(rows)
    layout = _laid_out(rows, marks, held, where)
    width = len(layout.headings)
    cells = _columns(layout.body, width)
    order, order_doubt = find_order(
        ([c for c in column[:1000] if isinstance(c, str)] for column in cells),
        " ".join(f"{heading.name} {heading.unit}" for heading in layout.headings),
    )
    if "order" in held and order:
        order, order_doubt = held["order"], ""
    manner = Manner(marks, order or "day", held.get("missing"), "decimal" in held)
    names = unique_names(h.name or f"Column {i + 1}" for i, h in enumerate(layout.headings))
    known = [
        _column(Heading(name, heading.unit), column, manner)
        for name, heading, column in zip(names, layout.headings, cells, strict=True)
    ]
    known = taken_together(known, manner)
    found = tuple(dict.fromkeys(chain.from_iterable(one.missing for one in known)))
    missing = found if manner.missing is None else manner.missing
    # a column of a sheet that has neither a name nor a reading is not there
    columns = with_spreads(
        one
        for one, heading in zip(known, layout.headings, strict=True)
        if heading.name or one.column.count or one.column.texts
    )
    notes = (*told, *layout.notes, *notes_of(known))
    need_places(columns, where)
    dialect = Dialect("\t", *marks, layout.header, layout.units, missing, order, lying=lying)
    doubts = {"decimal": doubt, "order": order_doubt, layout.doubtful: layout.doubt}
    doubts = {w: said for w, said in doubts.items() if said and not (lying and w == "lying")}
    words = [] if lying else ["header", *["units"] * bool(layout.header)]
    words += [*["lying"] * (lying or "lying" in doubts), *["order"] * bool(order), "missing"]
    return Table(name, columns, notes, ReadAs(dialect, tuple(words), held, doubts))


def table_of_named_rows(
    rows: Sequence[Row], name: str, *, where: str = "", held: Held = NOTHING_HELD
) -> Table:
    """The table in rows whose first is known to hold the names of the columns.

    What is known is no decision: the table neither offers it as words to be changed nor says that
    the user holds it. Raises ReadingsError.
    """
    table = table_of_rows(rows, name, where=where, held={**held, **_NAMED})
    assert table.read_as is not None
    words = tuple(word for word in table.read_as.words if word not in _NAMED)
    return evolve(table, read_as=evolve(table.read_as, words=words, held=held))


def _turned(rows: Sequence[Row], marks: Marks) -> list[list[Any]]:
    """Columns of rows, without what stands above the first of them."""
    filled = [row for row in rows if _has_cells(row)]
    head = _texts(filled[:_HEAD_ROWS], marks)
    if not head:
        return []
    _, names = weighed_rows(head, marks)
    body = filled[names.at or 0 :]
    width = max(i + 1 for row in body for i, cell in enumerate(row) if cell not in _EMPTY)
    if len(body) > MOST_COLUMNS:
        raise ReadingsError(f"This would make {plural(len(body), 'column')}.")
    return [[row[i] if i < len(row) else "" for row in body] for i in range(width)]


def tables_among(rows: Sequence[Row]) -> list[tuple[str, list[Row]]]:
    """The tables beside and below one another in rows, with their titles; one that is the whole of
    it where there are no others."""
    whole: list[tuple[str, list[Row]]] = [("", list(rows))]
    if not 3 <= len(rows) <= _MOST_DIVIDED:
        return whole
    texts = _texts(rows, Marks())
    width = max(map(len, texts))
    found: list[tuple[str, list[Row]]] = []
    told = False
    for begin, end in side_by_side(texts, width) or [(0, width)]:
        part = [row[begin:end] for row in texts]
        for block in blocks_among(part):
            inside = [list(row[begin:end]) for row in rows[block.begin : block.end]]
            above = _texts(inside[: block.facts], Marks())
            head = [[": ".join(filter(None, row))] for row in above]
            found.append((block.title, [*head, *inside[block.facts :]]))
            told = told or bool(head)
    return found if told or len(found) > 1 else whole


def _laid_out(rows: Sequence[Row], marks: Marks, held: Held, where: str) -> _Layout:
    """As `_layout`; a row of names that is chosen but would be found keeps the groups above it."""
    if held.get("header", 0) > 1:
        with suppress(ReadingsError):
            found = _layout(rows, marks, without_header(held), where)
            if found.header == held["header"]:
                return found._replace(doubt="")
    return _layout(rows, marks, held, where)


def _layout(rows: Sequence[Row], marks: Marks, held: Held, where: str) -> _Layout:
    """Names, units and body of a table in rows. Raises ReadingsError."""
    head = _texts(rows[:_HEAD_ROWS], marks)
    filled = [i for i, row in enumerate(head) if any(row)]
    if not filled:
        raise ReadingsError("There are no readings here.", where=where)
    padded = _padded([head[i] for i in filled], where)
    width = len(padded[0])
    weight, names = lightest(padded, marks, held.get("units"))
    notes: list[str] = []
    doubt, doubtful = "", "lying" if names.lying else "header"
    if "header" in held:
        first, begin = min(held["header"], len(rows)) - 1, 0
    elif names.at is None:
        first, begin, doubt = -1, filled[weight.first], names.doubt
        notes = ["There is no header row, so the columns are numbered."]
    else:
        first, begin, doubt = filled[names.at], 0, names.doubt
    before = sum(i < max(first, begin) for i in filled) - bool(names.groups and first > begin)
    if before:
        notes.append(passed_over(before, "before the header", "row"))
    headings = [Heading("")] * width
    if first >= 0:
        cells = _texts([rows[first]], marks)[0][:width]
        headings = parse_headings([*cells, *[""] * (width - len(cells))])
        if "header" not in held:
            headings, said = in_groups(headings, names.groups)
            notes += said
    units = _unit_row(rows, first + 1, headings, marks, held)
    if units is not None:
        headings = with_units(headings, units)
    begin = max(begin, first + (2 if units is not None else 1))
    between = _between(list(zip(filled, padded, strict=True)), names, weight, marks, held)
    if between:
        begin = max(begin, filled[weight.first])
        whole = completed(headings, padded[weight.first - 1]) if between == 1 else None
        headings = whole or headings
        notes += [] if whole else [passed_over(between, "between names and readings", "row")]
    body = [row for row in rows[begin:] if _has_cells(row)]
    body, below = _without_sums(body, marks)
    notes += below
    if not body:
        raise ReadingsError("There is a header row and nothing under it.", where=where)
    return _Layout(headings, body, first + 1, units is not None, tuple(notes), doubt, doubtful)


def _without_remarks(rows: Sequence[Row]) -> tuple[Sequence[Row], tuple[str, ...]]:
    """Rows without the remarks above them, each in a cell alone, where these name the columns: then
    their names stand in place of the last; and what is to be said of that."""
    top: list[str] = []
    for row in rows[:_HEAD_ROWS]:
        cells = [cell for cell in row if cell not in _EMPTY]
        said = remark_in(cells[0]) if len(cells) == 1 and isinstance(cells[0], str) else ""
        if cells and not said:
            break
        top.append(said)
    width = max((len(row) for row in rows[len(top) : _HEAD_ROWS]), default=0)
    named = names_by_number(top, width)
    if not named:
        return rows, ()
    last = max(named)
    fresh = [[] if at in named else row for at, row in enumerate(rows)]
    fresh[last] = list(named.values())
    return fresh, (taken_from(top[min(named)]),)


def _padded(rows: Sequence[Sequence[str]], where: str) -> list[list[str]]:
    """Rows that are all as wide as the widest. Raises ReadingsError where that is too much."""
    width = max(map(length_of, rows))
    if width > MOST_COLUMNS:
        raise ReadingsError(f"This would make {plural(width, 'column')}.", where=where)
    return [[*row, *[""] * (width - len(row))][:width] for row in rows]


def _between(
    rows: list[tuple[int, list[str]]], names: Names, weight: Weight, marks: Marks, held: Held
) -> int:
    """How many rows between names and readings are neither; none where a row is held for names."""
    named = "header" in held
    under = None if named else lines_under(rows, names, weight, marks, held.get("units"))
    return under[1] if under is not None else 0


def _without_sums(body: list[Row], marks: Marks) -> tuple[list[Row], list[str]]:
    """Rows without those at the end that sum them up, and what is to be said of these."""
    tail = _texts(body[-MOST_LINES:], marks)
    count = summing_up(tail, marks)
    if not count:
        return body, []
    words = [next(filter(None, row)) for row in tail[-count:] if any(row)]
    return body[:-count], [passed_over_below(words)]


def _has_cells(row: Row) -> bool:
    # most rows are full: a glance at the first cell spares one at the others
    return bool(row) and (row[0] not in _EMPTY or any(cell not in _EMPTY for cell in row))


def _unit_row(
    rows: Sequence[Row], at: int, headings: list[Heading], marks: Marks, held: Held
) -> list[str] | None:
    if at == 0 or at >= len(rows):
        return None
    cells = _texts([rows[at]], marks)[0]
    if "units" in held:
        return unit_cells(cells) if held["units"] else None
    if any(heading.unit for heading in headings) or at + 1 >= len(rows):
        return None
    if any(cell and not isinstance(cell, str) for cell in rows[at]):
        return None
    return units_in(cells, marks)


def _columns(rows: Sequence[Row], width: int) -> list[Sequence[Any]]:
    if set(map(len, rows)) == {width}:
        return [[row[i] for row in rows] for i in range(width)]
    return [[row[i] if i < len(row) else "" for row in rows] for i in range(width)]


def _texts(rows: Sequence[Row], marks: Marks) -> list[list[str]]:
    """Cells as texts in full precision, numbers with the mark that those in words have."""
    return [[_text(cell, marks.decimal) for cell in row] for row in rows]


def _text(cell: Any, decimal: str) -> str:
    if cell is None or isinstance(cell, str):
        return (cell or "").strip()
    if isinstance(cell, bool):
        return "1" if cell else "0"
    if isinstance(cell, Share):
        return f"{_text(cell.percent, decimal)} %"
    if isinstance(cell, float):
        whole = cell.is_integer() and abs(cell) < 1e15
        return repr(int(cell)) if whole else repr(cell).replace(".", decimal)
    if isinstance(cell, dt.timedelta):
        return repr(cell.total_seconds())
    if isinstance(cell, (dt.datetime, dt.date, dt.time)):
        return cell.isoformat(" ") if isinstance(cell, dt.datetime) else cell.isoformat()
    return str(cell)


def _column(heading: Heading, cells: Sequence[Any], manner: Manner) -> Known:
    kinds = set(map(type, cells))
    if Share in kinds:
        heading, cells, told = shown(heading, cells)
        known = _column(heading, cells, manner)
        return known._replace(notes=(*known.notes, told))
    empty = {str, type(None)} & kinds
    rest = kinds - empty
    if rest and (not empty or all(cell in _EMPTY for cell in cells if type(cell) in empty)):
        if rest <= {float, int, bool}:
            filled = [np.nan if cell in _EMPTY else cell for cell in cells] if empty else cells
            values = np.array(filled, dtype=np.float64)
            # with more digits than numbers keep they are names, as in texts
            if rest != {int} or not (np.abs(values) >= _MOST_KEPT).any():
                return _numbers(heading, values, manner)
        if rest == {dt.timedelta}:
            lasting = [np.nan if c in _EMPTY else c.total_seconds() for c in cells]
            said = ("Lengths of time in {names} are in seconds now.",)
            column = number_column(heading.name, np.array(lasting), "s")
            return Known(column, notes=said)
        if rest <= {dt.datetime, dt.date}:
            moments = moments_column(heading.name, _all_seconds(cells, rest))
            return Known(moments, notes=zone_notes(heading))
    texts = [_text(cell, manner.marks.decimal) for cell in cells]
    known = make_column(heading, texts, None, manner)
    if known.column.kind != TIME:
        return known
    offset = offset_note(heading.name, texts[:_OFFSET_SAMPLE])
    return known._replace(notes=(*known.notes, offset)) if offset else known


def _numbers(heading: Heading, values: np.ndarray, manner: Manner) -> Known:
    values[~np.isfinite(values)] = np.nan
    marks = without_stand_ins(values, manner.missing)
    return Known(number_column(heading.name, values, heading.unit), marks)


def _all_seconds(cells: Sequence[Any], kinds: set[type]) -> NDArray[np.float64]:
    """Seconds since 1970 of dates and times, shape (n,), NaN for empty cells."""
    if kinds == {dt.date}:
        # days by their numbers: much the fastest way
        days = [np.nan if cell in _EMPTY else cell.toordinal() for cell in cells]
        return (np.array(days, dtype=np.float64) - _EPOCH.toordinal()) * 86400
    return np.array([_seconds(cell) for cell in cells])


def _seconds(cell: Any) -> float:
    if cell in ("", None):
        return float("nan")
    if not isinstance(cell, dt.datetime):
        cell = dt.datetime(cell.year, cell.month, cell.day)  # noqa: DTZ001
    offset = cell.utcoffset()
    plain = cell.replace(tzinfo=None) - (offset or dt.timedelta())
    return float((plain - _EPOCH).total_seconds())
