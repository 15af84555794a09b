"""Delimited text: read into tables, written in full precision."""

import csv
import io
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import ReadingsError, refusal
from sornix.core.readings.cells.header import (
    Heading,
    in_groups,
    parse_headings,
)
from sornix.core.readings.cells.marks import Marks, settled_marks
from sornix.core.readings.cells.standins import told_stand_ins, without_stand_ins
from sornix.core.readings.files.beside import taken_together, with_spreads
from sornix.core.readings.files.body import Body, Cells, Moments
from sornix.core.readings.files.dateorder import find_order
from sornix.core.readings.files.dividing import Ragged, after_row, divide, found_kinds
from sornix.core.readings.files.encoding import Decoded, check_lines, utf8
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
from sornix.core.readings.files.prepare import Prepared, prepare, word_of
from sornix.core.readings.files.rowwise import table_of_rows
from sornix.core.readings.layouts.blocks import blocks_in, titles_of
from sornix.core.readings.layouts.rows import begin_of, numbered_rows
from sornix.core.readings.layouts.subnames import under_names
from sornix.core.readings.tables.column import (
    NUMBER,
    TIME,
    Column,
    moments_column,
    number_column,
)
from sornix.core.readings.tables.dialect import NOTHING_HELD, WORDS, Dialect, Held, ReadAs
from sornix.core.readings.tables.table import Table, told_of_all, unique_names
from sornix.core.text import capital, plural

# Longer tables are written by pyarrow.
_MANY_ROWS = 20_000
# So many cells of a time column are looked at for their offsets from universal time.
_OFFSET_SAMPLE = 50


def read_bytes(path: Path) -> bytes:
    """What a file holds. Raises ReadingsError."""
    try:
        return path.read_bytes()
    except FileNotFoundError as error:
        raise ReadingsError("There is no such file.", where=str(path)) from error
    except IsADirectoryError as error:
        raise ReadingsError(
            "This is a folder, not a file.", where=str(path), remedy="Choose a file in it."
        ) from error
    except OSError as error:
        raise ReadingsError(
            f"The file cannot be read ({refusal(error)}).", where=str(path)
        ) from error


def read_text(raw: bytes, name: str, *, where: str = "", held: Held = NOTHING_HELD) -> Table:
    """The table in a delimited text.

    `name` becomes the table's name, `where` stands before messages. Everything in the dialect is
    found from the text but for what is `held` (fields of Dialect by name). Raises ReadingsError.
    """
    where = where or name
    return _read(utf8(raw, where, held.get("encoding")), name, where, held)


def read_texts(
    raw: bytes, name: str, *, where: str = "", held: Held = NOTHING_HELD
) -> tuple[Table, ...]:
    """The tables in a delimited text, one or several below one another. Raises ReadingsError."""
    where = where or name
    decoded = utf8(raw, where, held.get("encoding"))
    blocks = blocks_in(decoded.text) if "header" not in held else []
    if not blocks:
        return (_read(decoded, name, where, held),)
    lines = decoded.text.splitlines(keepends=True)
    titles = titles_of([block.title for block in blocks], name) if blocks[1:] else [name]
    tables = []
    for title, block in zip(titles, blocks, strict=True):
        # blank lines before it, so that lines keep their numbers
        part = decoded._replace(text=b"\n" * block.begin + block.part_of(lines))
        tables.append(_read(part, title, where, held))
    return told_of_all(tables, "file")


def _read(decoded: Decoded, name: str, where: str, held: Held) -> Table:
    try:
        return _read_text(decoded, name, where, held, thorough=False)
    except Ragged:
        return _read_text(decoded, name, where, held, thorough=True)


class _Head(NamedTuple):
    """What stands above the readings of a text, and the text below it."""

    headings: list[Heading]
    body: Body
    units: bool
    notes: tuple[str, ...]


class _Found(NamedTuple):
    """Columns, the marks of missing readings in them, the order of dates and a doubt about it."""

    columns: tuple[Column, ...]
    missing: tuple[str, ...]
    order: str
    doubt: str
    notes: tuple[str, ...]


def _read_text(decoded: Decoded, name: str, where: str, held: Held, *, thorough: bool) -> Table:
    raw = decoded.text
    if not raw or raw.isspace():
        raise ReadingsError("The file is empty.", where=where)
    check_lines(raw, where)
    ready = prepare(raw, held, thorough=thorough)
    separator = held.get("separator", word_of(ready))
    if word_of(ready) != separator:
        words = capital(WORDS["separator"].values[separator])
        raise ReadingsError(f"{words} do not divide these lines.", where=where)
    numbered = numbered_rows(ready.raw, ready.separator)
    rows = [row for _, row in numbered]
    if not rows:
        raise ReadingsError("The file holds remarks and nothing else.", where=where)
    if held.get("lying"):
        return _turned(decoded, ready, name, where, held)
    marks, doubt = settled_marks((c for row in rows for c in row), ready.separator, held)
    doubts = {"decimal": doubt} if doubt else {}
    head = _head(ready, rows, marks, held, where)
    # of a line of names far down no reading may be among the first lines
    first = numbered[: 1 + bool(ready.header)][-1][0]
    above = raw[: begin_of(raw, first)].decode("utf-8", "ignore")
    manner = Manner(marks, missing=held.get("missing"), held="decimal" in held,
                    told=told_stand_ins(above))  # fmt: skip
    found = _columns(head.body, head.headings, manner, held, thorough=thorough)
    need_places(found.columns, where)
    doubts |= ready.doubts
    if decoded.doubt:
        doubts["encoding"] = decoded.doubt
    if found.doubt:
        doubts["order"] = found.doubt
    dialect = Dialect(
        word_of(ready), *marks, numbered[0][0] if ready.header else 0, head.units,
        found.missing, found.order, decoded.encoding,
    )  # fmt: skip
    read_as = ReadAs(dialect, _words(dialect, doubts), held, doubts)
    return Table(
        name, found.columns, (*decoded.notes, *ready.notes, *head.notes, *found.notes), read_as
    )


def _turned(decoded: Decoded, ready: Prepared, name: str, where: str, held: Held) -> Table:
    """The table in a text that holds a reading in each column. Raises ReadingsError."""
    text = io.StringIO(ready.raw.decode("utf-8"), newline="")
    try:
        rows = [row for row in csv.reader(text, delimiter=ready.separator) if any(row)]
    except csv.Error as error:
        raise ReadingsError(f"The text cannot be divided ({error}).", where=where) from error
    table = table_of_rows(rows, name, where=where, held=held)
    assert table.read_as is not None
    dialect = table.read_as.dialect._replace(
        separator=word_of(ready), encoding=decoded.encoding
    )  # fmt: skip
    doubts = {k: v for k, v in {**table.read_as.doubts, **ready.doubts}.items() if k != "lying"}
    if decoded.doubt:
        doubts["encoding"] = decoded.doubt
    read_as = ReadAs(dialect, _words(dialect, doubts), held, doubts)
    return evolve(table, read_as=read_as, notes=(*decoded.notes, *ready.notes, *table.notes))


def _head(ready: Prepared, rows: list[list[str]], marks: Marks, held: Held, where: str) -> _Head:
    """Names and units of the columns. Raises ReadingsError where nothing follows them."""
    width = max(map(len, rows))
    if width > MOST_COLUMNS:
        raise ReadingsError(
            f"This text would make {plural(width, 'column')}.",
            where=where,
            remedy="Choose a text file with one row of readings a line.",
        )
    if ready.header == 0:
        named = [Heading(one.name) for one in ready.captions]
        headings = [*named, *(Heading(f"Column {i + 1}") for i in range(len(rows[0]) - len(named)))]
        numbered = ("There is no header row, so the columns are numbered.",)
        body = Body(ready.raw, 0, ready.separator, where, 1)
        return _Head(_with_words(headings, ready), body, False, numbered)
    body = after_row(Body(ready.raw, 0, ready.separator, where, 1))
    headings, notes = in_groups(parse_headings(rows[0]), ready.groups)
    free = not held.get("units") and "lying" not in ready.doubts
    under = under_names(
        headings, rows[1:], marks, held.get("units"), free=free, above=ready.under,
        spaced=bool(ready.spacing),
    )  # fmt: skip
    for _ in range(under.rows):
        body = after_row(body)
    if body.is_blank:
        raise ReadingsError("There is a header row and nothing under it.", where=where)
    headings = _with_words(under.headings, ready)
    return _Head(headings, body, under.units, (*notes, *under.notes))


def _with_words(headings: list[Heading], ready: Prepared) -> list[Heading]:
    """Headings of which the first are over words, where these are captions."""
    worded = [heading._replace(words=one.words)
              for heading, one in zip(headings, ready.captions, strict=False)]  # fmt: skip
    return [*worded, *headings[len(worded) :]]


def _columns(
    body: Body, headings: list[Heading], manner: Manner, held: Held, *, thorough: bool
) -> _Found:
    """The columns of a body and what was found about their cells."""
    width = len(headings)
    sample = body.sample()
    titles = " ".join(f"{heading.name} {heading.unit}" for heading in headings)
    parts = ([row[i] for row in sample if i < len(row)] for i in range(width))
    order, doubt = find_order(parts, titles)
    wanted = held.get("order", "") if order else ""
    manner = manner._replace(order=wanted or order or "day")
    kinds = found_kinds(sample, headings, manner)
    divided = divide(body, kinds, manner, thorough=thorough or width == 1)
    cells = divided.columns
    if doubt and not wanted:
        # a row further down may tell what the first ones leave open
        found_order, found_doubt = find_order(c for c in cells if isinstance(c, list))
        if found_order:
            order, doubt = found_order, found_doubt
            manner = manner._replace(order=order)
        elif any(_is_sure(c) for c in cells if isinstance(c, Moments)):
            doubt = ""
    # separators at the ends of lines make columns without names or cells
    there = [i for i, c in enumerate(cells) if headings[i].name or not _is_blank(c)]
    there = there or list(range(len(cells)))
    cells = [cells[i] for i in there]
    names = unique_names(headings[i].name or f"Column {i + 1}" for i in there)
    known = [
        _column(headings[i]._replace(name=name), column, manner)
        for name, i, column in zip(names, there, cells, strict=True)
    ]
    found = tuple(dict.fromkeys(mark for one in known for mark in one.missing))
    missing = found if manner.missing is None else manner.missing
    notes = list(divided.notes)
    for one, column in zip(known, cells, strict=True):
        if one.column.kind == TIME and isinstance(column, list):
            notes += filter(None, [offset_note(one.column.name, column[:_OFFSET_SAMPLE])])
    known = taken_together(known, manner)
    notes += notes_of(known)
    columns = with_spreads(known)
    return _Found(columns, missing, wanted or order, "" if wanted else doubt, tuple(notes))


def _is_sure(moments: Moments) -> bool:
    """Whether a day after the twelfth tells that the first number of a date is the day."""
    days = np.floor(moments.seconds[np.isfinite(moments.seconds)] / 86400).astype("datetime64[D]")
    return bool(((days - days.astype("datetime64[M]")).astype(int) >= 12).any())


def _column(heading: Heading, cells: Cells, manner: Manner) -> Known:
    if isinstance(cells, list):
        return make_column(heading, cells, None, manner)
    if isinstance(cells, Moments):
        return Known(moments_column(heading.name, cells.seconds), notes=zone_notes(heading))
    if np.isinf(cells).any():
        texts = {int(row): str(cells[row]) for row in np.flatnonzero(np.isinf(cells))}
        return Known(number_column(heading.name, cells, heading.unit, texts))
    if not cells.flags.writeable:
        cells = cells.copy()
    marks = without_stand_ins(cells, manner.missing, manner.told)
    return Known(Column(heading.name, heading.unit, NUMBER, cells), marks)


def _is_blank(cells: Cells) -> bool:
    if isinstance(cells, list):
        return not any(cell.strip() for cell in cells)
    return bool(np.isnan(cells.seconds if isinstance(cells, Moments) else cells).all())


def _words(dialect: Dialect, doubts: Mapping[str, str]) -> tuple[str, ...]:
    """The words of the line above the table that matter for a text in this dialect."""
    words = ["separator", "decimal"]
    if dialect.thousands:
        words.append("thousands")
    if not dialect.lying:
        words += ["header", *["units"] * bool(dialect.header)]
    if dialect.lying or "lying" in doubts:
        words.append("lying")
    if dialect.order:
        words.append("order")
    words.append("missing")
    if dialect.encoding != "utf-8":
        words.append("encoding")
    return tuple(words)


def read_columns(raw: bytes, name: str, columns: Sequence[tuple[Heading, str]]) -> Table:
    """The table in comma-separated UTF-8 whose headings and kinds are known beforehand."""
    body = after_row(Body(raw, 0, ",", name, 1))
    headings, kinds = [h for h, _ in columns], [k for _, k in columns]
    manner = Manner(missing=())
    divided = [[] for _ in kinds] if body.is_blank else divide(body, kinds, manner).columns
    return Table(name, tuple(map(_settled, headings, kinds, divided)))


def _settled(heading: Heading, kind: str, cells: Cells) -> Column:
    manner = Manner(missing=())
    if isinstance(cells, list):
        column = make_column(heading, cells, kind, manner, settled=True).column
    else:
        column = _column(heading, cells, manner).column
    # also that of times, which have none when they are first read
    return evolve(column, unit=heading.unit)
