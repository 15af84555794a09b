"""Further columns of a straight line: which readings have them, and what the line takes of them."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.readings import TIME, Column
from sornix.core.trends.models.several import Further

Floats = NDArray[np.float64]


def have_all(columns: Sequence[Column], rows: NDArray[np.intp]) -> NDArray[np.bool_]:
    """Which of some rows hold a value in each of the columns, shape (n,)."""
    found = np.ones(len(rows), dtype=bool)
    for column in columns:
        if column.has_places:
            found &= column.present[rows]
        else:
            found &= np.array([bool(column.cell(row).strip()) for row in rows.tolist()], dtype=bool)
    return found


def taken_from(
    columns: Sequence[Column], rows: NDArray[np.intp]
) -> tuple[tuple[Further, ...], Floats]:
    """The columns as a line takes them, and their values in some rows, shape (n, k): categories as
    places among their words, in the order in which these come."""
    further: list[Further] = []
    values = np.empty((len(rows), len(columns)))
    for place, column in enumerate(columns):
        if column.has_places:
            numbers = column.numbers[rows]
            # dates count from the first of them, as along x
            first = float(numbers.min()) if column.kind == TIME and len(numbers) else 0.0
            values[:, place] = numbers - first
            further.append(Further(column.name, "s" if column.kind == TIME else column.unit))
            continue
        cells = [column.cell(row) for row in rows.tolist()]
        levels = tuple(dict.fromkeys(cells))
        values[:, place] = [levels.index(cell) for cell in cells]
        further.append(Further(column.name, "", levels))
    return tuple(further), values
