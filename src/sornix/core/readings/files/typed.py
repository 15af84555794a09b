"""Cells that have kinds of their own: as texts, and as columns."""

import datetime as dt
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sornix.core.letters import UNSEEN
from sornix.core.readings.cells.header import Heading
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.cells.shares import Share, shown
from sornix.core.readings.cells.standins import without_stand_ins
from sornix.core.readings.files.kinds import Known, Manner, make_column, offset_note, zone_notes
from sornix.core.readings.tables.column import TIME, moments_column, number_column

_EPOCH = dt.datetime(1970, 1, 1)  # noqa: DTZ001 - plain time, without any zone
# So many cells of a time column are looked at for their offsets from universal time.
_OFFSET_SAMPLE = 50
EMPTY, _MOST_KEPT = ("", None), 1e15
Row = Sequence[Any]


def texts_of(rows: Sequence[Row], marks: Marks) -> list[list[str]]:
    """Cells as texts in full precision, numbers with the mark that those in words have."""
    return [[_text(cell, marks.decimal) for cell in row] for row in rows]


def _text(cell: Any, decimal: str) -> str:
    if cell is None or isinstance(cell, str):
        text = (cell or "").strip()
        return text if text.isascii() else text.translate(UNSEEN).strip()
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


def column_of(heading: Heading, cells: Sequence[Any], manner: Manner) -> Known:
    kinds = set(map(type, cells))
    if Share in kinds:
        heading, cells, told = shown(heading, cells)
        known = column_of(heading, cells, manner)
        return known._replace(notes=(*known.notes, told))
    empty = {str, type(None)} & kinds
    rest = kinds - empty
    if rest and (not empty or all(cell in EMPTY for cell in cells if type(cell) in empty)):
        if rest <= {float, int, bool}:
            filled = [np.nan if cell in EMPTY else cell for cell in cells] if empty else cells
            values = np.array(filled, dtype=np.float64)
            # with more digits than numbers keep they are names, as in texts
            if rest != {int} or not (np.abs(values) >= _MOST_KEPT).any():
                return _numbers(heading, values, manner)
        if rest == {dt.timedelta}:
            lasting = [np.nan if c in EMPTY else c.total_seconds() for c in cells]
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
        days = [np.nan if cell in EMPTY else cell.toordinal() for cell in cells]
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
