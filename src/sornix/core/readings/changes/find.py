"""Looking for a text or a number in a table."""

import re

import numpy as np

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import number_in
from sornix.core.readings.files.kinds import Manner
from sornix.core.readings.tables.column import NUMBER, TEXT, Column
from sornix.core.readings.tables.table import Table

_ROW = pattern(r"\s*row\s*(\d[\d\s]{0,20})", re.IGNORECASE)


def row_in(wanted: str) -> int | None:
    """The number of the row that is asked for, as in `row 500`; None where something else is."""
    match = _ROW.fullmatch(wanted)
    return int("".join(match[1].split())) if match is not None else None


def find_cells(table: Table, wanted: str) -> list[tuple[int, int]]:
    """The (row, column) indices of cells that hold a text in any case, or a number as it would be
    rounded when written so; in the order of rows."""
    text = wanted.strip().casefold()
    if not text:
        return []
    found = [
        (row, number) for number, column in enumerate(table.columns) for row in _rows(column, text)
    ]
    return sorted(found)


def _rows(column: Column, text: str) -> list[int]:
    strange = [row for row, cell in column.texts.items() if text in cell.casefold()]
    if column.kind == TEXT:
        return [row for row, cell in enumerate(column.values) if text in cell.casefold()]
    if column.kind != NUMBER:
        return [row for row, cell in enumerate(column.cells()) if text in cell.casefold()]
    value = number_in(text, Manner().marks)
    if value is None:
        return strange
    decimals = len(text.partition(".")[2]) if "e" not in text else 0
    within = 0.5 * 10.0**-decimals if decimals else 0.0
    with np.errstate(invalid="ignore"):
        close = np.abs(column.numbers - value) <= within * (1 - 1e-9)
    return strange + [int(row) for row in np.flatnonzero(close)]
