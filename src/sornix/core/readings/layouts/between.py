"""Lines between names and readings that are neither."""

from collections.abc import Sequence

from sornix.core.readings.cells.header import parse_heading, units_in
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.layouts.bits import Weight, kind_of_cell
from sornix.core.readings.layouts.naming import Names, recurs
from sornix.core.readings.layouts.subnames import merged_with, names_apart


def lines_under(
    rows: Sequence[tuple[int, list[str]]], names: Names, weight: Weight, marks: Marks,
    units: bool | None,
) -> tuple[int, int] | None:  # fmt: skip
    """The line after names and units where other lines stand before the first reading, and how many
    these are."""
    if names.at is None or names.at >= weight.first:
        return None
    begin = names.at + 1
    found = begin < weight.first and units_in(rows[begin][1], marks) is not None
    begin += found if units is None else units
    between = [row for _, row in rows[begin : weight.first]]
    if between and _say_of_names(rows[names.at][1], between, begin > names.at + 1, marks):
        return None
    # what holds numbers is left to be told cell by cell
    if any(kind_of_cell(cell, marks) in "ndq" for row in between for cell in row):
        return None
    below = [row for _, row in rows[weight.first :]]
    if any(recurs(row, below) or _lacks(row, marks) for row in between):
        return None
    return (rows[begin][0], len(between)) if between else None


def _say_of_names(
    names: Sequence[str], between: Sequence[Sequence[str]], united: bool, marks: Marks
) -> bool:
    """Whether the first of the rows between names and readings, perhaps under units, says more of
    the names."""
    headings = [parse_heading(cell) for cell in names]
    called = [heading.name for heading in headings]
    apart = names_apart(called, between[0], (), marks, bare=united)
    return apart is not None or (
        len(between) == 1 and merged_with(headings, between[0]) is not None
    )


def _lacks(row: Sequence[str], marks: Marks) -> bool:
    """Whether a row says of most columns that there is no reading, as of a blank sample."""
    said = [cell for cell in row if cell.strip().strip("-–—")]
    return 2 * sum(kind_of_cell(cell, marks) == "e" for cell in said) > len(said)
