"""Years beside one another: readings that have their year in one column, and their month, week or
day of the year in another."""

from collections.abc import Sequence

from sornix.core.figure.derived.roles import NOT_DRAWN, YEAR, Seen
from sornix.core.figure.derived.runs import distinct, is_calendar
from sornix.core.figure.first.order import natural_order
from sornix.core.readings import TEXT, Column
from sornix.core.text.names import DAY_OF_YEAR

_FEWEST_YEARS, _MOST_YEARS = 2, 8
_FEWEST_IN_YEAR = 3


def seasons(seen: Sequence[Seen]) -> tuple[Column, Column] | None:
    """The column of months or the like and the column of years, where each month of each year
    stands once and the years are few enough to be told apart; else None."""
    years = [one.column for one in seen if one.role == YEAR]
    parts = [
        one.column for one in seen
        if one.role not in NOT_DRAWN and one.role != YEAR and _is_part_of_year(one.column)
    ]  # fmt: skip
    if len(years) != 1 or len(parts) != 1:
        return None
    year, part = years[0], parts[0]
    cells = list(zip(year.cells(), part.cells(), strict=True))
    each, counts = distinct(year.known)
    if len(set(cells)) < len(cells) or not all(all(pair) for pair in cells):
        return None
    few = _FEWEST_YEARS <= len(each) <= _MOST_YEARS
    return (part, year) if few and counts.max() >= _FEWEST_IN_YEAR else None


def _is_part_of_year(column: Column) -> bool:
    if column.kind == TEXT:
        return natural_order([str(cell) for cell in column.values if cell]) == "months"
    return is_calendar(column) or DAY_OF_YEAR.fullmatch(column.name.strip()) is not None
