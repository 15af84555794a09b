"""Tables that lie on their side: a reading in each column, and its names in the first."""

import itertools
from collections.abc import Sequence

from sornix.core.readings.cells.header import is_unit, parse_heading
from sornix.core.readings.cells.marks import Marks, number_in
from sornix.core.readings.layouts.bits import kind_of_cell
from sornix.core.text.names import name_stem

# So many cells may as well be a reading whose first number is missing.
FEW_NUMBERS = 3


def lies_on_its_side(rows: Sequence[Sequence[str]], first: int) -> bool:
    """Whether most cells of the first column are names with units, and rows are longer than they
    are many."""
    column = [row[0] for row in rows[first:] if row]
    united = sum(bool(parse_heading(cell).unit) for cell in column)
    return 1 < len(column) < len(rows[first]) and 2 * united >= len(column)


def row_of_dates(rows: Sequence[Sequence[str]], marks: Marks) -> str:
    """The name that begins a row of dates, where each row begins with a name, and others are all
    numbers; "" where there is none."""
    kinds = [{kind_of_cell(cell, marks) for cell in row[1:]} for row in rows]
    named = all(row and kind_of_cell(row[0], marks) == "t" for row in rows)
    if not named or any(one not in ({"d"}, {"n"}, {"n", "e"}) for one in kinds):
        return ""
    dates = [row[0] for row, one in zip(rows, kinds, strict=True) if one == {"d"} and len(row) > 2]
    return dates[0] if 0 < len(dates) < len(rows) else ""


def has_numbers_along(rows: Sequence[Sequence[str]], kinds: Sequence[str], marks: Marks) -> bool:
    """Whether the first row holds the numbers of a quantity, with its unit before them, and the
    others have words there: the names of its readings. The unit may lack where there is one other,
    which would be the only reading of many columns, and where the others have one name with
    numbers."""
    row, *below = rows
    if len(row) < FEW_NUMBERS or kinds[0] != "t" or set(kinds[1:]) != {"n"}:
        return False
    numbers = [number_in(cell, marks) or 0.0 for cell in row[1:]]
    named = bool(below) and all(one and kind_of_cell(one[0], marks) == "t" for one in below)
    rising = all(a < b for a, b in itertools.pairwise(numbers))
    unit = parse_heading(row[0]).unit
    alone = len(below) == 1 and len(row) > FEW_NUMBERS
    # Absorbance 1, Absorbance 2
    stems = {name_stem(one[0].strip()) for one in below if one}
    same = len(below) > 1 and len(stems) == 1 and not stems & {one[0].strip() for one in below}
    return rising and named and ((bool(unit) and is_unit(unit)) or alone or same)
