"""Rows of cells that have kinds of their own, as workbooks, JSON and pasted tables give them."""

from collections.abc import Sequence
from contextlib import suppress
from itertools import chain, takewhile
from typing import Any, NamedTuple

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.readings.cells.header import (
    Heading,
    in_groups,
    parse_headings,
)
from sornix.core.readings.cells.marks import Marks, settled_marks
from sornix.core.readings.files.beside import taken_together, with_spreads
from sornix.core.readings.files.dateorder import find_order
from sornix.core.readings.files.kinds import (
    MOST_COLUMNS,
    Manner,
    need_places,
    notes_of,
)
from sornix.core.readings.files.remarks import names_by_number, remark_in, taken_from
from sornix.core.readings.files.typed import EMPTY, Row, column_of, texts_of
from sornix.core.readings.layouts.between import lines_under
from sornix.core.readings.layouts.bits import Weight
from sornix.core.readings.layouts.blocks import blocks_among, side_by_side
from sornix.core.readings.layouts.captions import Captions, filled, find_captions
from sornix.core.readings.layouts.ending import (
    MOST_LINES,
    passed_over,
    passed_over_below,
    summing_up,
)
from sornix.core.readings.layouts.naming import Names
from sornix.core.readings.layouts.subnames import under_names
from sornix.core.readings.layouts.weighing import length_of, lightest, weighed_rows
from sornix.core.readings.tables.dialect import (
    NOTHING_HELD,
    Dialect,
    Held,
    ReadAs,
    without_header,
)
from sornix.core.readings.tables.table import Table, unique_names
from sornix.core.text import plural

_HEAD_ROWS = 100
# so many rows under the names tell whether the first of them are no readings
_MOST_UNDER = 20
# a sheet without captions in so many rows has none
_MOST_WITHOUT = 2000
_MIDNIGHT = " 00:00:00"
# longer sheets are of one table
_MOST_DIVIDED = 20_000
# what is decided where a file itself says the names of its columns
_NAMED: Held = {"header": 1, "units": False}


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
    rows, captions = (rows, ()) if lying else _without_captions(rows, marks)
    rows, told = _without_remarks(rows)
    layout = _laid_out(rows, marks, held, where)
    if captions:
        layout = _with_captions(layout, captions, rows)
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
        column_of(heading._replace(name=name), column, manner)
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
    head = texts_of(filled[:_HEAD_ROWS], marks)
    if not head:
        return []
    _, names = weighed_rows(head, marks)
    body = filled[names.at or 0 :]
    width = max(i + 1 for row in body for i, cell in enumerate(row) if cell not in EMPTY)
    if len(body) > MOST_COLUMNS:
        raise ReadingsError(f"This would make {plural(len(body), 'column')}.")
    return [[row[i] if i < len(row) else "" for row in body] for i in range(width)]


def tables_among(rows: Sequence[Row]) -> list[tuple[str, list[Row]]]:
    """The tables beside and below one another in rows, with their titles; one that is the whole of
    it where there are no others."""
    whole: list[tuple[str, list[Row]]] = [("", list(rows))]
    if not 3 <= len(rows) <= _MOST_DIVIDED:
        return whole
    texts = texts_of(rows, Marks())
    width = max(map(len, texts))
    found: list[tuple[str, list[Row]]] = []
    told = False
    for begin, end in side_by_side(texts, width) or [(0, width)]:
        part = [row[begin:end] for row in texts]
        for block in blocks_among(part):
            inside = [list(row[begin:end]) for row in rows[block.begin : block.end]]
            above = texts_of(inside[: block.facts], Marks())
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
    head = texts_of(rows[:_HEAD_ROWS], marks)
    filled = [i for i, row in enumerate(head) if any(row)]
    if not filled:
        raise ReadingsError("There are no readings here.", where=where)
    padded = _padded([head[i] for i in filled], where)
    width = len(padded[0])
    weight, names = lightest(padded, marks, held.get("units"))
    notes: list[str] = []
    doubt, doubtful, units = "", "lying" if names.lying else "header", False
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
        cells = texts_of([rows[first]], marks)[0][:width]
        headings = parse_headings([*cells, *[""] * (width - len(cells))])
        if "header" not in held:
            headings, said = in_groups(headings, names.groups)
            notes += said
    if first >= 0:
        free = not held.get("units") and not names.lying
        rest = _padded(texts_of(rows[first + 1 : first + 1 + _MOST_UNDER], marks), where, width)
        above = 0 if "header" in held else max(filled[weight.first] - first - 1, 0)
        under = under_names(headings, rest, marks, held.get("units"), free=free, above=above)
        headings, units, begin = under.headings, under.units, max(begin, first + 1 + under.rows)
        notes += under.notes
    between = _between(list(zip(filled, padded, strict=True)), names, weight, marks, held)
    if between:
        begin = max(begin, filled[weight.first])
        notes.append(passed_over(between, "between names and readings", "row"))
    whole, below = _without_sums(rows[begin:], marks)
    body = [row for row in whole if _has_cells(row)]
    body, again = _without_names_again(body, rows[first : first + 2] if first >= 0 else [])
    notes += below + again
    if not body:
        raise ReadingsError("There is a header row and nothing under it.", where=where)
    return _Layout(headings, body, first + 1, units, tuple(notes), doubt, doubtful)


def _without_remarks(rows: Sequence[Row]) -> tuple[Sequence[Row], tuple[str, ...]]:
    """Rows without remarks, each in a cell alone; where those above the readings name the columns,
    their names stand in place of the last. And what is to be said of that."""
    lone = [_lone_remark(row) if at < _HEAD_ROWS else "" for at, row in enumerate(rows)]
    top = list(takewhile(lambda at: lone[at] or not _has_cells(rows[at]), range(len(rows))))
    width = max((len(row) for row in rows[len(top) : _HEAD_ROWS]), default=0)
    named = names_by_number([lone[at] for at in top], width)
    aside = [at for at, said in enumerate(lone) if said]
    if not aside:
        return rows, ()
    fresh = [[] if at in aside else row for at, row in enumerate(rows)]
    passed = len(aside) - len(named)
    told = [passed_over(passed, "of remarks", "row")] * bool(passed)
    if named:
        fresh[max(named)] = list(named.values())
        told.insert(0, taken_from(lone[min(named)]))
    return fresh, tuple(told)


def _lone_remark(row: Row) -> str:
    """What a row says that is a remark in a cell alone, "" for others."""
    cells = [cell for cell in row if cell not in EMPTY]
    alone = len(cells) == 1 and isinstance(cells[0], str) and row[0] == cells[0]
    return remark_in(cells[0]) if alone else ""


def _without_captions(
    rows: Sequence[Row], marks: Marks
) -> tuple[Sequence[Row], tuple[Captions, ...]]:
    """Rows without the captions between them, which are counted from 1, and these."""
    captions = _captions_in(rows[:_MOST_WITHOUT], marks)
    if captions and len(rows) > _MOST_WITHOUT:
        captions = _captions_in(rows, marks)
    if not captions:
        return rows, ()
    said = {at for one in captions for at in one.said}
    return [[] if at in said else row for at, row in enumerate(rows, 1)], captions


def _captions_in(rows: Sequence[Row], marks: Marks) -> tuple[Captions, ...]:
    texts = enumerate(texts_of(rows, marks), 1)
    rest = ((at, filled([cell.removesuffix(_MIDNIGHT) for cell in row])) for at, row in texts)
    return find_captions([(at, row) for at, row in rest if row], spaced=False)


def _with_captions(layout: _Layout, captions: Sequence[Captions], rows: Sequence[Row]) -> _Layout:
    """A layout with captions in first columns."""
    places = {id(row): at for at, row in enumerate(rows, 1)}
    at = [places[id(row)] for row in layout.body]
    above = zip(*(one.of(at) for one in captions), strict=True)
    return layout._replace(
        headings=[*(Heading(one.name, words=one.words) for one in captions), *layout.headings],
        body=[[*said, *row] for said, row in zip(above, layout.body, strict=True)],
        notes=(*layout.notes, *(note for one in captions for note in one.notes)),
    )


def _padded(rows: Sequence[Sequence[str]], where: str, width: int | None = None) -> list[list[str]]:
    """Rows that are all as wide as the widest, or of that width. Raises ReadingsError where that is
    too much."""
    width = max(map(length_of, rows)) if width is None else width
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


def _without_sums(body: Sequence[Row], marks: Marks) -> tuple[Sequence[Row], list[str]]:
    """Rows without those at the end that sum them up, and what is to be said of these."""
    tail = texts_of(body[-MOST_LINES:], marks)
    count = summing_up(tail, marks)
    if not count:
        return body, []
    words = [next(filter(None, row)) for row in tail[-count:] if any(row)]
    return body[:-count], [passed_over_below(words)]


def _without_names_again(body: list[Row], head: Sequence[Row]) -> tuple[list[Row], list[str]]:
    """Rows without the names, and their units, that come again among them, which stand in the first
    rows of a table; and what is to be said of that."""
    names, units = [*map(list, head), [], []][:2]
    if not any(isinstance(cell, str) and any(map(str.isalpha, cell)) for cell in names):
        return body, []
    # a glance at the first cell tells of most rows
    same = [row[0] == names[0] and list(row) == names for row in body]
    if not any(same):
        return body, []
    after = zip([False, *same], body, strict=False)
    below = [before and list(row) == units for before, row in after]
    rest = [row for row, one, other in zip(body, same, below, strict=True) if not (one or other)]
    return rest, [passed_over(sum(same), "of names that come again", "row")]


def _has_cells(row: Row) -> bool:
    # most rows are full: a glance at the first cell spares one at the others
    return bool(row) and (row[0] not in EMPTY or any(cell not in EMPTY for cell in row))


def _columns(rows: Sequence[Row], width: int) -> list[Sequence[Any]]:
    if set(map(len, rows)) == {width}:
        return [[row[i] for row in rows] for i in range(width)]
    return [[row[i] if i < len(row) else "" for row in rows] for i in range(width)]
