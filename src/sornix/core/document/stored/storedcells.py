"""The cells of a table as a document keeps them: nothing is decided anew when they are read back.

The text has every cell as a reader sees it. What the text alone would not give back as it was is
told beside it, by row: cells that are text in a column of numbers or times (`texts`), and moments
that the written date is too coarse for (`exact`).
"""

import csv
import io
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.letters import has_half, whole_letters
from sornix.core.readings import NUMBER, TEXT, TIME, Column, Table, unique_names, write_text
from sornix.core.readings.cells.marks import number_in
from sornix.core.readings.files.body import Body, Cells, Moments
from sornix.core.readings.files.dividing import divide
from sornix.core.readings.files.kinds import Manner
from sornix.core.readings.tables.column import NO_TEXTS, Floats, Texts

_NOTHING_HIDDEN = Manner(missing=())
# Years 1 to 9999, which a written date can have.
FIRST_MOMENT, LAST_MOMENT = -62_135_596_800.0, 253_402_300_799.0
# Up to here (the year 2255) microseconds come back from their digits as they were.
_LAST_FRACTION = 2.0**53 / 1e6


class Kept(NamedTuple):
    """What is told of a column's cells beside the text: its `kind`, and by row index `texts` and
    `exact` moments in seconds since 1970."""

    name: str
    kind: str
    texts: Texts = NO_TEXTS
    exact: Mapping[int, float] = MappingProxyType({})


def write_cells(table: Table) -> bytes:
    """The table as RFC 4180 text; marks of limits stand in the package's description."""
    columns = [_written(column) for column in table.columns]
    # two names may differ in halves of letters only; the header is for other readers
    names = unique_names(column.name for column in columns)
    named = (evolve(c, name=n) for c, n in zip(columns, names, strict=True))
    return write_text(evolve(table, columns=tuple(named)))


def _written(column: Column) -> Column:
    """A column as its text has it: halves of letters, which no text can hold, are replaced."""
    column = evolve(column, name=whole_letters(column.name))
    if column.kind != TEXT:
        texts = {row: whole_letters(text) for row, text in column.texts.items()}
        return evolve(column, bounds={}, texts=texts)
    if not half_letters(column):
        return column
    values = np.array([whole_letters(cell) for cell in column.values], dtype=object)
    return evolve(column, values=values)


def half_letters(column: Column) -> dict[int, str]:
    """The cells of a column of text with half a letter in them, by row."""
    return {row: cell for row, cell in enumerate(column.values) if has_half(cell)}


def exact_moments(column: Column) -> dict[int, float]:
    """The moments of a time column that its text does not give back, by row."""
    seconds = column.numbers
    with np.errstate(invalid="ignore"):
        whole = seconds == np.floor(seconds)
        there = (seconds >= FIRST_MOMENT) & (seconds <= LAST_MOMENT)
        fraction = (np.abs(seconds) < _LAST_FRACTION) & (_micro(seconds) == seconds)
        lost = np.isfinite(seconds) & ~(there & (whole | fraction))
    return {int(row): float(seconds[row]) for row in np.flatnonzero(lost)}


def _micro(seconds: Floats) -> Floats:
    """Moments to the microsecond, in the one way in which they are written and read."""
    return np.asarray(np.round(seconds * 1e6) / 1e6)


def read_cells(raw: bytes, where: str, kept: list[Kept]) -> list[Column]:
    """The columns in a text that `write_cells` has written, each as it was.

    Raises ReadingsError where rows are too long, ValueError where they are too short for a row
    that is told of.
    """
    body = Body(raw, _after_header(raw), ",", where, 2)
    kinds = [one.kind for one in kept]
    divided = [[] for _ in kept] if body.is_blank else divide(body, kinds, _NOTHING_HIDDEN).columns
    return [_column(one, cells) for one, cells in zip(kept, divided, strict=True)]


def _after_header(raw: bytes) -> int:
    """Where the second record begins."""
    head = raw[: 1 << 22].decode("utf-8", "ignore")
    reader = csv.reader(io.StringIO(head, newline=""))
    next(reader, None)
    lines = io.StringIO(head, newline="")
    return len("".join(next(lines, "") for _ in range(reader.line_num)).encode())


def _column(kept: Kept, cells: Cells) -> Column:
    count = len(cells.seconds) if isinstance(cells, Moments) else len(cells)
    for row in (*kept.texts, *kept.exact):
        if not 0 <= row < count:
            raise ValueError(f"“{kept.name}” has no row {row}")
    if kept.kind == TEXT:
        words = np.empty(count, dtype=object)
        words[:] = cells if isinstance(cells, list) else [""] * count
        for row, text in kept.texts.items():
            words[row] = text
        return Column(kept.name, "", TEXT, words)
    if kept.kind == NUMBER:
        values, texts = _numbers(cells, kept.texts)
    else:
        values, texts = _moments(cells, kept.texts)
        values = np.where(np.isfinite(values), _micro(values), np.nan)
    for row, seconds in kept.exact.items():
        values[row] = seconds
        texts.pop(row, None)
    return Column(kept.name, "", kept.kind, values, MappingProxyType(texts))


def _numbers(cells: Cells, told: Texts) -> tuple[Floats, dict[int, str]]:
    if not isinstance(cells, list):
        values = np.array(cells, dtype=np.float64)
        values[[*told]] = np.nan
        return np.where(np.isfinite(values), values, np.nan), dict(told)
    return _parsed(cells, told, lambda cell: number_in(cell, _NOTHING_HIDDEN.marks))


def _moments(cells: Cells, told: Texts) -> tuple[Floats, dict[int, str]]:
    if isinstance(cells, Moments):
        values = cells.seconds.copy()
        values[[*told]] = np.nan
        return values, dict(told)
    from sornix.core.text.moments import parse_moment

    def seconds(cell: str) -> float | None:
        moment = parse_moment(cell)
        return moment.seconds if moment is not None else None

    return _parsed(cells if isinstance(cells, list) else [], told, seconds)


def _parsed(cells: list[str], told: Texts, parse: Any) -> tuple[Floats, dict[int, str]]:
    """Values of the cells that are no texts. A cell that is no value is one all the same: the file
    may come from another program, or from a Sornix that told nothing of texts."""
    values, texts = np.full(len(cells), np.nan), dict(told)
    for row, cell in enumerate(cells):
        if not cell or row in told:
            continue
        value = parse(cell)
        if value is None or not np.isfinite(value):
            texts[row] = cell
        else:
            values[row] = value
    return values, dict(sorted(texts.items()))


def told_texts(column: Column) -> dict[int, str]:
    """The cells whose text is told beside the table, by row."""
    return half_letters(column) if column.kind == TEXT else dict(column.texts)


def told_exact(column: Column) -> dict[int, float]:
    """The moments that are told beside the table, by row."""
    return exact_moments(column) if column.kind == TIME else {}
