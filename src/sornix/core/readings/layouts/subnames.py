"""Rows between names and readings: units, and what tells columns of one name apart, replicates,
wavelengths, depths."""

import re
from collections import Counter
from collections.abc import Callable, Sequence
from itertools import takewhile
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import (
    Heading,
    are_units_above,
    parse_heading,
    units_in,
    with_units,
)
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.layouts.bits import kind_of_cell
from sornix.core.readings.layouts.ending import is_limit, passed_over
from sornix.core.text import plural
from sornix.core.text.names import THINGS, name_stem

# What such a row is called.
_CALLED = pattern(
    rf"(?:{THINGS}|id|number|position|bottle|vessel|vial|cast|core|transect|fish|plant|leaf|specimen"
    r"|wave(?:length|number)|λ|line|m/z|mass|isotope|depth|height|distance|dose|level|treatment|date"
    r"|temperature|age|sex|year|operator)s?(?: (?:no|nr|number|id))?\.?:?",
    re.IGNORECASE,
)
_LONGEST = 30


class Under(NamedTuple):
    """Headings with what the rows under the names say of them, how many these are, whether units
    are among them, and what is to be said."""

    headings: list[Heading]
    rows: int
    units: bool
    notes: tuple[str, ...]


def under_names(
    headings: list[Heading],
    rows: Sequence[Sequence[str]],
    marks: Marks,
    units_of: Callable[[list[Heading], Sequence[Sequence[str]]], list[str] | None],
    *,
    free: bool,
) -> Under:
    """What the first of the rows under the names say of these: their units, as `units_of` finds
    them in rows, and, where rows are `free` to be no readings, what tells names apart, above or
    below them."""
    found = Under(headings, 0, False, ())
    if free:
        found = _apart(found, rows, marks)
    found = _with_units(found, units_of(found.headings, rows[found.rows :]))
    if free:
        found = _without_limits(_apart(found, rows, marks), rows)
    return found


def _with_units(found: Under, units: list[str] | None) -> Under:
    if units is None:
        return found
    headings, notes = found.headings, found.notes
    if len(units) < len(headings):
        said = f"{plural(len(headings), 'column')} have {plural(len(units), 'unit')}: these "
        notes = (*notes, said + "were taken from the left.")
    return Under(with_units(headings, units), found.rows + 1, True, notes)


def _apart(found: Under, rows: Sequence[Sequence[str]], marks: Marks) -> Under:
    """With the row that tells headings apart, if it comes next."""
    row, *below = rows[found.rows :] or [()]
    called = [heading.name for heading in found.headings]
    names = names_apart(called, row, below, marks) if below else None
    if names is None:
        return found
    headings = [one._replace(name=name) for one, name in zip(found.headings, names, strict=True)]
    said = f"The row “{row[0].strip().rstrip(':')}” tells columns of one name apart."
    return found._replace(headings=headings, rows=found.rows + 1, notes=(*found.notes, said))


def _without_limits(found: Under, rows: Sequence[Sequence[str]]) -> Under:
    """Without the limits of detection that come next, which are no readings."""
    limits = list(takewhile(is_limit, rows[found.rows :]))
    below = rows[found.rows + len(limits) :]
    if not limits or not below or any(map(is_limit, below)):
        return found
    words = ", ".join(next(cell.strip() for cell in row if cell.strip()) for row in limits)
    said = passed_over(len(limits), f"above the readings ({words})")
    return found._replace(rows=found.rows + len(limits), notes=(*found.notes, said))


def names_apart(
    names: Sequence[str], row: Sequence[str], below: Sequence[Sequence[str]], marks: Marks
) -> list[str] | None:
    """The names of columns with what a row under them says, where several are one name and this
    tells them apart: it is called after what it says, or counts each of a name. None where it does
    not, or where rows `below` are called as it is."""
    cells = [cell.strip() for cell in row]
    label = parse_heading(cells[0]) if cells and cells[0] else None
    if label is None or len(cells) != len(names) or kind_of_cell(cells[0], marks) != "t":
        return None
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
    if same or not (_CALLED.fullmatch(label.name) or _count(pairs)):
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
