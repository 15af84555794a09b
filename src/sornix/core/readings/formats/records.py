"""Records of JSON: in a list, in columns, in rows, or one in each line; also deep in other values.

What stands within a record becomes columns with dotted names: `site.depth`. Records that hold a
series each, in lists that are as long, are taken apart.
"""

import json
import sys
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import is_unit
from sornix.core.readings.files.delimited import read_bytes
from sornix.core.readings.files.kinds import MOST_COLUMNS
from sornix.core.readings.files.rowwise import table_of_named_rows, table_of_rows
from sornix.core.readings.tables.column import NUMBER
from sornix.core.readings.tables.dialect import Held
from sornix.core.readings.tables.table import Table, told_of_all, unique_names
from sornix.core.text import plural, short

_MOST_EMPTY = 2_000_000
_LARGEST = sys.float_info.max
_MOST_TABLES = 100
# What units of columns are called beside them, and how deep they are looked for.
_UNITS = pattern(r"(?:.*_)?units?")
_DEEPEST = 4
# Lists of so many entries at most become columns.
_MOST_ENTRIES = 16
# So many entries may be the place of something.
_MOST_COORDINATES = 3
_REMEDY = 'Records look like [{"Depth (m)": 0.5, "Temperature (°C)": 19.2}, …].'


class Found(NamedTuple):
    """A table among other values: its dotted name, its rows with the names first, whether the first
    row has names, and what is to be said of lists in its cells."""

    name: str
    rows: list[list[Any]]
    named: bool = True
    notes: tuple[str, ...] = ()


def read_json(path: Path, held: Held) -> tuple[Table, ...]:
    """The tables in records, in columns, or in lines of records. Raises ReadingsError."""
    raw = read_bytes(path)
    try:
        try:
            value = json.loads(raw)
        except (ValueError, UnicodeDecodeError) as error:
            value = _json_lines(raw)
            if value is None:
                raise ReadingsError(
                    f"The JSON cannot be read ({error}).", where=path.name
                ) from error
        return tables_in(value, path.stem, path.name, held)
    except RecursionError as error:
        raise ReadingsError("The JSON is nested too deeply.", where=path.name) from error


def _json_lines(raw: bytes) -> list[Any] | None:
    """The records of a text that has one in each line, or None."""
    try:
        found = [json.loads(line) for line in raw.splitlines() if line.strip()]
    except (ValueError, UnicodeDecodeError):
        return None
    return found if len(found) > 1 and _is_records(found) else None


def tables_in(value: Any, name: str, where: str, held: Held) -> tuple[Table, ...]:
    """The tables in a value of JSON. Raises ReadingsError where there is none."""
    found = list(_tables(value, ""))
    if not found:
        raise ReadingsError("This JSON holds no list of records.", where=where, remedy=_REMEDY)
    if len(found) > _MOST_TABLES:
        raise ReadingsError(
            f"This JSON would make {plural(len(found), 'table')}.", where=where, remedy=_REMEDY
        )
    units = dict(_units_told(value, 0))
    tables: list[Table] = []
    problems: list[ReadingsError] = []
    for one in found:
        called = one.name if len(found) > 1 and one.name else name
        try:
            read = table_of_named_rows if one.named else table_of_rows
            table = read(one.rows, called, where=where, held=held)
        except ReadingsError as error:
            problems.append(error)
            continue
        table = _with_units(table, units)
        tables.append(evolve(table, notes=(*table.notes, *one.notes)))
    if not tables:
        raise problems[0]
    own_names = unique_names(table.name for table in tables)
    tables = [evolve(t, name=own) for t, own in zip(tables, own_names, strict=True)]
    return told_of_all(tables, "file")


def _units_told(value: Any, depth: int) -> Iterator[tuple[str, str]]:
    """The names of columns with their units, as objects called units tell them:
    "hourly_units": {"rain": "mm"}."""
    if not isinstance(value, dict) or depth > _DEEPEST:
        return
    for key, inner in value.items():
        if isinstance(inner, dict) and _UNITS.fullmatch(key):
            yield from ((k, unit) for k, unit in inner.items() if isinstance(unit, str))
        else:
            yield from _units_told(inner, depth + 1)


def _with_units(table: Table, units: Mapping[str, str]) -> Table:
    """A table whose columns of numbers have the units that are told of them beside it."""
    given = {
        column.name: units[column.name] for column in table.columns
        if column.kind == NUMBER and not column.unit and is_unit(units.get(column.name, "-"))
    }  # fmt: skip
    if not given:
        return table
    columns = tuple(evolve(c, unit=given.get(c.name, c.unit)) for c in table.columns)
    names = short(", ".join(f"“{name}”" for name in given), 60)
    what, are = ("units", "are") if len(given) > 1 else ("unit", "is")
    note = f"The {what} of {names} {are} told beside the readings."
    return evolve(table, columns=columns, notes=(*table.notes, note))


def _tables(value: Any, name: str) -> Iterator[Found]:
    """The tables in a value, the outermost first."""
    if isinstance(value, list) and value:
        yield from _in_list(value, name)
    if not isinstance(value, dict):
        return
    framed = _framed(value, name)
    if framed is not None:
        yield framed
        value = {k: v for k, v in value.items() if isinstance(v, dict) or _is_records(v)}
    whole = _by_numbers(value, name)
    if whole is None and len(value) > 1 and _are_alike(value):
        whole = _of_records([{"Record": key, **one} for key, one in value.items()], name)
    if whole is not None:
        yield whole
        return
    columns = {k: v for k, v in value.items() if isinstance(v, list) and v and not _is_deep(v)}
    if columns:
        yield _of_columns(columns, name)
    for key, inner in value.items():
        if key not in columns:
            yield from _tables(inner, f"{name}.{key}" if name else str(key))


def _in_list(value: list[Any], name: str) -> Iterator[Found]:
    """The table in a list of records, of rows of cells, or of numbers."""
    if _is_records(value):
        yield _of_records(value, name)
    elif all(isinstance(one, list) for one in value) and not any(map(_is_deep, value)):
        _check_cells(max(map(len, value)), len(value), sum(map(len, value)))
        yield Found(name, [[_plain(cell) for cell in row] for row in value], named=False)
    elif len(value) > 1 and _are_numbers(value):
        yield Found(name, [["Value"], *([_plain(one)] for one in value)])


def _is_records(value: Any) -> bool:
    return isinstance(value, list) and all(isinstance(one, dict) for one in value)


def _is_deep(values: list[Any]) -> bool:
    return any(isinstance(one, (dict, list)) for one in values)


def _are_alike(value: dict[str, Any]) -> bool:
    """Whether an object has a record of the same names under each of its own."""
    inner = list(value.values())
    return bool(inner) and all(
        isinstance(one, dict) and one and one.keys() == inner[0].keys()
        and not _is_deep(list(one.values()))
        for one in inner
    )  # fmt: skip


def _by_numbers(value: dict[str, Any], name: str) -> Found | None:
    """The table in columns whose cells stand under the numbers of their rows; None where they do
    not."""
    if not _are_alike(value):
        return None
    first = next(iter(value.values()))
    if len(first) < 2 or not all(key.isdecimal() for key in first):
        return None
    keys = list(map(int, first))
    numbers = {} if keys == list(range(len(keys))) else {"Record": keys}
    return _of_columns(numbers | {k: list(one.values()) for k, one in value.items()}, name)


def _framed(value: dict[str, Any], name: str) -> Found | None:
    """The table in rows of cells whose names, and perhaps whose numbers, stand beside them; None
    where there is none."""
    lists = {key: inner for key, inner in value.items() if isinstance(inner, list) and inner}
    sheets = [inner for inner in lists.values() if all(isinstance(row, list) for row in inner)]
    widths = {len(row) for row in sheets[0]} if len(sheets) == 1 else set()
    names = [
        inner for inner in lists.values()
        if {len(inner)} == widths and all(isinstance(one, str) for one in inner)
        and len(set(inner)) == len(inner)
    ]  # fmt: skip
    if len(names) != 1 or any(map(_is_deep, sheets[0])):
        return None
    rows = [list(map(_plain, row)) for row in sheets[0]]
    _check_cells(len(names[0]), len(rows), len(rows) * len(names[0]))
    heads = list(names[0])
    for key, inner in lists.items():
        beside = inner not in (*sheets, *names) and len(inner) == len(rows) and not _is_deep(inner)
        if beside and inner != list(range(len(rows))):
            heads = [key, *heads]
            rows = [[_plain(one), *row] for one, row in zip(inner, rows, strict=True)]
    return Found(name, [heads, *rows])


def _of_columns(columns: dict[str, list[Any]], name: str) -> Found:
    length = max(map(len, columns.values()))
    _check_cells(len(columns), length, sum(map(len, columns.values())))
    even = [cells + [None] * (length - len(cells)) for cells in columns.values()]
    rows = [[_plain(cell) for cell in row] for row in zip(*even, strict=True)]
    return Found(name, [list(columns), *rows])


def _of_records(records: Sequence[dict[str, Any]], name: str) -> Found:
    unfolded, opened = _unfolded([_flat(record) for record in records])
    taken, told = _of_series(unfolded)
    flat, notes = _without_lists(taken)
    names = list(dict.fromkeys(key for record in flat for key in record))
    _check_cells(len(names), len(flat), sum(map(len, flat)))
    rows = [[_plain(record.get(key)) for key in names] for record in flat]
    return Found(name, [names, *rows], notes=opened + told + notes)


def _without_lists(records: list[dict[str, Any]]) -> tuple[list[dict[str, Any]], tuple[str, ...]]:
    """Records in which short lists of as many numbers have become a value for each entry, and what
    is to be said of lists."""
    found: dict[str, list[list[Any]]] = {}
    for record in records:
        for key, cell in record.items():
            if isinstance(cell, list):
                found.setdefault(key, []).append(cell)
    even = {
        key: len(lists[0]) for key, lists in found.items()
        if 2 <= len(lists[0]) <= _MOST_ENTRIES and all(map(_are_numbers, lists))
        and {len(one) for one in lists} == {len(lists[0])}
    }  # fmt: skip
    notes = []
    for said, keys in (
        ("have a column for each entry now", [key for key in found if key in even]),
        ("are kept as text", [key for key in found if key not in even]),
    ):
        if keys:
            names = short(", ".join(f"“{key}”" for key in keys), 60)
            notes.append(f"Lists in {names} {said}.")
    return [_with_entries(record, even) for record in records] if even else records, tuple(notes)


Apart = tuple[list[dict[str, Any]], tuple[str, ...]]


def _unfolded(records: list[dict[str, Any]]) -> Apart:
    """Records of which each holds a list of alike records, or of pairs of numbers, with a record
    for each entry in its place, and what is to be said of that; others as they are."""
    keys = [key for key, cell in records[0].items() if isinstance(cell, list) and _is_deep(cell)]
    lists = [record.get(keys[0]) for record in records] if len(keys) == 1 else []
    inner = [_entries(cell) for cell in lists]
    if not inner or not all(inner) or len({(*one.keys(),) for part in inner for one in part}) > 1:
        return records, ()
    count = sum(map(len, inner))
    _check_cells(len(records[0]) + 1, count, count)
    return [
        {key: cell for key, cell in record.items() if key != keys[0]} | one
        for record, part in zip(records, inner, strict=True)
        for one in part
    ], (f"Lists in “{keys[0]}” have a row for each entry now.",)


def _entries(cell: Any) -> list[dict[str, Any]]:
    """The entries of a list of records that hold numbers, or of pairs of numbers, as records; none
    of any other."""
    if not isinstance(cell, list):
        return []
    if all(isinstance(one, list) and len(one) == 2 and _are_numbers(one) for one in cell):
        return [{"x": x, "y": y} for x, y in cell]
    flat = [_flat(one) for one in cell if isinstance(one, dict)]
    numbers = all(any(_are_numbers([value]) for value in one.values()) for one in flat)
    return flat if len(flat) == len(cell) and numbers else []


def _of_series(records: list[dict[str, Any]]) -> Apart:
    """Records that hold a series each taken apart, and what is to be said of that: a record for
    each of its readings, or where each is one list under a name of its own, for each place a record
    with a value of every name. Others as they are: there lists are short, or no longer than there
    are records."""
    keys = [k for k in records[0] if all(_holds_list(one.get(k)) for one in records)]
    lengths = [{len(record[key]) for key in keys} for record in records]
    if not keys or any(len(one) > 1 for one in lengths):
        return records, ()
    counts = [min(one) for one in lengths]
    if max(counts) <= max(len(records), _MOST_COORDINATES):
        return records, ()
    _check_cells(len(records[0]), sum(counts), sum(counts) * len(keys))
    told = short(", ".join(f"“{key}”" for key in keys), 60)
    if len(keys) > 1:
        return [
            {key: cell[i] if key in keys else cell for key, cell in record.items()}
            for record, count in zip(records, counts, strict=True)
            for i in range(count)
        ], (f"Lists in {told} have a row for each entry now.",)
    (key,) = keys
    names = [_name_of(record) for record in records]
    if not all(names) or len(set(names)) < len(names):
        return records, ()
    return [
        {name: one[key][i] if i < count else None
         for name, one, count in zip(names, records, counts, strict=True)}
        for i in range(max(counts))
    ], (f"Each list in {told} is a column now.",)  # fmt: skip


def _holds_list(cell: Any) -> bool:
    return isinstance(cell, list) and bool(cell) and not _is_deep(cell)


def _name_of(record: dict[str, Any]) -> str:
    """The first text of a record, with its unit where one is told."""
    name = next((cell for cell in record.values() if isinstance(cell, str)), "")
    unit = record.get("unit") or record.get("units")
    return f"{name} ({unit})" if name and isinstance(unit, str) and unit != name else name


def _are_numbers(values: list[Any]) -> bool:
    return all(isinstance(one, (int, float)) and not isinstance(one, bool) for one in values)


def _with_entries(record: dict[str, Any], even: Mapping[str, int]) -> dict[str, Any]:
    made: dict[str, Any] = {}
    for key, cell in record.items():
        if isinstance(cell, list) and key in even:
            made |= {f"{key} {i + 1}": entry for i, entry in enumerate(cell)}
        else:
            made[key] = cell
    return made


def _flat(record: dict[str, Any]) -> dict[str, Any]:
    """A record without records in it: what stands in these has dotted names."""
    if not any(isinstance(cell, dict) for cell in record.values()):
        return record
    found: dict[str, Any] = {}
    for key, cell in record.items():
        if isinstance(cell, dict):
            found |= {f"{key}.{inner}": value for inner, value in _flat(cell).items()}
        else:
            found[key] = cell
    return found


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
        return ", ".join(_entry(entry) for entry in cell)
    return cell


def _entry(entry: Any) -> str:
    inside = isinstance(entry, (dict, list))
    return json.dumps(entry, ensure_ascii=False) if inside else str(entry)
