"""Rows between names and readings: units, and what tells columns of one name apart, replicates,
wavelengths, depths."""

import re
from collections import Counter
from collections.abc import Sequence
from itertools import takewhile
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import (
    Heading,
    are_units_above,
    completed,
    parse_heading,
    spread_over,
    unit_cells,
    units_in,
    with_units,
)
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.layouts.bits import kind_of_cell
from sornix.core.readings.layouts.ending import is_limit, passed_over, says_of_columns
from sornix.core.text import plural
from sornix.core.text.names import THINGS, name_stem

# What such a row is called.
_CALLED = pattern(
    rf"(?:{THINGS}|id|number|position|bottle|vessel|vial|cast|core|transect|fish|plant|leaf|specimen"
    r"|wave(?:length|number)|λ|line|m/z|mass|isotope|depth|height|distance|dose|level|treatment|date"
    r"|temperature|age|sex|year|operator)s?(?: (?:no|nr|number|id))?\.?:?",
    re.IGNORECASE,
)
_LONGEST, _LEAST = 30, 2


class Under(NamedTuple):
    """Headings with what the rows under the names say of them, how many these are, whether units
    are among them, and what is to be said."""

    headings: list[Heading]
    rows: int
    units: bool
    notes: tuple[str, ...]


def under_names(
    headings: list[Heading], rows: Sequence[Sequence[str]], marks: Marks, held: bool | None,
    *, free: bool, above: int, spaced: bool = False,
) -> Under:  # fmt: skip
    """What the first of the rows under the names say of these: their units, which are `held` to be
    there or not, or found; and, where rows are `free` to be no readings, what tells names apart,
    above or below units, and the names of columns that have none. So many rows are known to stand
    `above` the readings. Where rows are `spaced`, nothing tells which names have no unit."""
    found = Under(headings, 0, False, ())
    if free:
        found = _apart(found, rows, marks)
    units = _units_in(found.headings, rows[found.rows :], marks, held)
    if units is not None and (not spaced or held or len(units) >= len(headings)):
        found = _with_units(found, units)
    if free:
        found = _apart(found, rows, marks, bare=found.units)
        if found.rows < min(above, len(rows)):
            found = _merged(found, rows[found.rows])
        found = _without_limits(found, rows, marks)
    return found


def _units_in(
    headings: Sequence[Heading], rows: Sequence[Sequence[str]], marks: Marks, held: bool | None
) -> list[str] | None:
    """The units in the first of the rows under the names."""
    if held is not None:
        return unit_cells(rows[0]) if held and rows else None
    # units stand above readings
    found = units_in(list(rows[0]), marks) if len(rows) > 1 else None
    told = [heading.unit for heading in headings]
    # names with units over a row of units: the same ones once more
    return found if found is not None and (not any(told) or found == told) else None


def _with_units(found: Under, units: list[str]) -> Under:
    headings, notes = found.headings, found.notes
    if len(units) < len(headings):
        said = f"{plural(len(headings), 'column')} have {plural(len(units), 'unit')}: these "
        notes = (*notes, said + "were taken from the left.")
    return Under(with_units(headings, units), found.rows + 1, True, notes)


def _apart(
    found: Under, rows: Sequence[Sequence[str]], marks: Marks, *, bare: bool = False
) -> Under:
    """With the row that tells headings apart, if it comes next; it may be called nothing where it
    is `bare`, under units."""
    row, *below = rows[found.rows :] or [()]
    called = [heading.name for heading in found.headings]
    names = names_apart(called, row, below, marks, bare=bare) if below else None
    if names is None:
        return found
    headings = [one._replace(name=name) for one, name in zip(found.headings, names, strict=True)]
    label = row[0].strip().rstrip(":")
    what = f"“{label}”" if label else "below the units"
    said = f"The row {what} tells columns of one name apart."
    return found._replace(headings=headings, rows=found.rows + 1, notes=(*found.notes, said))


def _merged(found: Under, row: Sequence[str]) -> Under:
    """With the names in a row under them, of columns that have none, if that is what it holds."""
    merged = merged_with(found.headings, row)
    if merged is None:
        return found
    headings, said = merged
    return found._replace(headings=headings, rows=found.rows + 1, notes=(*found.notes, *said))


def merged_with(
    headings: Sequence[Heading], row: Sequence[str]
) -> tuple[list[Heading], tuple[str, ...]] | None:
    """Headings with the names in a row under them, and what is to be said: of columns that have
    none above, of several below one, or of what the rows are: time (min), under what the columns
    are. None where the row holds something else."""
    cells = [cell.strip() for cell in row]
    if len(cells) != len(headings) or not any(cells):
        return None
    if cells[0] and not any(cells[1:]) and len(cells) > 1 and parse_heading(cells[0]).unit:
        said = f"The first column is called “{cells[0]}”, which stands below the names."
        return [parse_heading(cells[0]), *headings[1:]], (said,)
    whole = completed(headings, cells) or spread_over(headings, cells)
    return None if whole is None else (whole, ())


def _without_limits(found: Under, rows: Sequence[Sequence[str]], marks: Marks) -> Under:
    """Without the rows that come next and are no readings: limits of detection, and what is said of
    columns above readings that begin with numbers or times."""
    rest = rows[found.rows :]
    said = list(takewhile(lambda row: is_limit(row) or says_of_columns(row), rest))
    below = rest[len(said) :]
    begun = {kind_of_cell(row[0], marks) for row in below if row} - {"e"}
    if not (begun and begun <= {"n", "d"}):
        said = list(takewhile(is_limit, rest))
        below = rest[len(said) :]
    if not said or not below or any(map(is_limit, below)):
        return found
    words = ", ".join(next(cell.strip() for cell in row if cell.strip()) for row in said)
    note = passed_over(len(said), f"above the readings ({words})")
    return found._replace(rows=found.rows + len(said), notes=(*found.notes, note))


def names_apart(
    names: Sequence[str], row: Sequence[str], below: Sequence[Sequence[str]], marks: Marks,
    *, bare: bool = False,
) -> list[str] | None:  # fmt: skip
    """The names of columns with what a row under them says, where several are one name and this
    tells them apart: it is called after what it says, or counts each of a name, or is `bare` and
    has words. None where it does not, or where rows `below` are called as it is."""
    cells = [cell.strip() for cell in row]
    kinds = [kind_of_cell(cell, marks) for cell in cells]
    if len(cells) != len(names) or len(cells) < _LEAST or kinds[0] != ("t" if cells[0] else "e"):
        return None
    label = parse_heading(cells[0])
    worded = bare and not cells[0] and set(kinds[1:]) == {"t"}
    if not names[0] or are_units_above(names):
        # what has no name, or is a unit, stands in a row above the names
        return None
    several = {name for name, count in Counter(filter(None, names[1:])).items() if count > 1}
    pairs = [pair for pair in zip(names[1:], cells[1:], strict=True) if pair[0] in several]
    if not pairs or len(set(pairs)) < len(pairs) or units_in(cells, marks) is not None:
        return None
    if not all(0 < len(cell) <= _LONGEST for _, cell in pairs):
        return None
    # Day 0 above Day 3 is a reading
    same = any(name_stem(label.name) == name_stem(one[0].strip()) for one in below if one)
    told = bool(cells[0]) and (_CALLED.fullmatch(label.name) or _count(pairs))
    if not worded and (same or not told):
        return None
    behind = f" {label.unit}" if label.unit else ""
    between = ", " if behind else " "
    return [
        f"{name}{between}{cell}{behind}" if at and cell else name
        for at, (name, cell) in enumerate(zip(names, cells, strict=True))
    ]


def _count(pairs: Sequence[tuple[str, str]]) -> bool:
    """Whether each of a name has its number, from 1 on."""
    seen: Counter[str] = Counter()
    for name, cell in pairs:
        seen[name] += 1
        if cell != str(seen[name]):
            return False
    return True
