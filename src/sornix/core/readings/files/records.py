"""Records of JSON: in a list, in columns, or one in each line."""

import json
import sys
from pathlib import Path
from typing import Any

from sornix.core.errors import ReadingsError
from sornix.core.readings.files.delimited import MOST_COLUMNS, read_bytes
from sornix.core.readings.files.rowwise import table_of_rows
from sornix.core.readings.tables.dialect import Held
from sornix.core.readings.tables.table import Table
from sornix.core.text import plural

_MOST_EMPTY = 2_000_000
_LARGEST = sys.float_info.max


def read_json(path: Path, held: Held) -> tuple[Table, ...]:
    """The table in records, in columns, or in lines of records. Raises ReadingsError."""
    raw = read_bytes(path)
    try:
        value = json.loads(raw)
    except (ValueError, UnicodeDecodeError) as error:
        value = _json_lines(raw)
        if value is not None:
            return _table_of_json(value, path, held)
        raise ReadingsError(f"The JSON cannot be read ({error}).", where=path.name) from error
    except RecursionError as error:
        raise ReadingsError("The JSON is nested too deeply.", where=path.name) from error
    return _table_of_json(value, path, held)


def _json_lines(raw: bytes) -> list[Any] | None:
    """The records of a text that has one in each line, or None."""
    try:
        found = [json.loads(line) for line in raw.splitlines() if line.strip()]
    except (ValueError, UnicodeDecodeError, RecursionError):
        return None
    return found if len(found) > 1 and all(isinstance(one, dict) for one in found) else None


def _table_of_json(value: Any, path: Path, held: Held) -> tuple[Table, ...]:
    rows = _records(value)
    if rows is None:
        raise ReadingsError(
            "This JSON holds no list of records.",
            where=path.name,
            remedy='Records look like [{"Depth (m)": 0.5, "Temperature (°C)": 19.2}, …].',
        )
    return (table_of_rows(rows, path.stem, where=path.name, held=held),)


def _records(value: Any) -> list[list[Any]] | None:
    """A header and rows from a list of records, from columns, or from either within an object."""
    if isinstance(value, dict):
        if value and all(isinstance(cells, list) for cells in value.values()):
            if len(value) == 1:
                inner = _records(next(iter(value.values())))
                if inner is not None:
                    return inner
            length = max(map(len, value.values()))
            _check_cells(len(value), length, sum(map(len, value.values())))
            columns = [cells + [None] * (length - len(cells)) for cells in value.values()]
            rows = [[_plain(cell) for cell in row] for row in zip(*columns, strict=True)]
            return [list(value), *rows]
        lists = [inner for inner in value.values() if isinstance(inner, list)]
        return _records(lists[0]) if len(lists) == 1 else None
    if not isinstance(value, list) or not value or not all(isinstance(r, dict) for r in value):
        return None
    names = list(dict.fromkeys(name for record in value for name in record))
    _check_cells(len(names), len(value), sum(map(len, value)))
    return [names, *([_plain(record.get(name)) for name in names] for record in value)]


def _check_cells(columns: int, rows: int, filled: int) -> None:
    """Raises ReadingsError for a table of next to nothing but empty cells."""
    if columns > MOST_COLUMNS or columns * rows > max(_MOST_EMPTY, 50 * filled):
        raise ReadingsError(
            f"This JSON would make a table of {plural(columns, 'column')} and "
            f"{plural(rows, 'row')}, most of it empty.",
            remedy="Write records that hold the same names.",
        )


def _plain(cell: Any) -> Any:
    """A cell of JSON as one that a table holds; lists become their entries with commas."""
    if isinstance(cell, (int, float)) and not abs(cell) <= _LARGEST:
        # not a number, or larger than any: told as the text that it is
        return None if cell != cell else str(cell)  # noqa: PLR0124 - only NaN is not itself
    if isinstance(cell, list):
        return ", ".join(str(entry) for entry in cell)
    return json.dumps(cell, ensure_ascii=False) if isinstance(cell, dict) else cell
