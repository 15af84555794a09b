"""Numbers that a workbook shows as percent: 0.125, shown as 12.5 %."""

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from sornix.core.readings.cells.header import Heading

PERCENT = "%"


class Share(float):
    """A part of 1 that is shown as percent."""

    @property
    def percent(self) -> float:
        """As so many in 100: by its digits, since the product need not be the nearest double."""
        return float(Decimal(repr(float(self))).scaleb(2))


def shown(heading: Heading, cells: Sequence[Any]) -> tuple[Heading, list[Any], str]:
    """A column with shares in it as its reader sees it: its heading, its cells, and what is to be
    said of {names}.

    Numbers among shares are percent as they stand where the heading says so. Else nobody knows what
    they are, and all of them stay as they are stored.
    """
    if heading.name.endswith(PERCENT) and not heading.unit:
        heading = Heading(heading.name[:-1].rstrip(" ,/") or heading.name, PERCENT)
    mixed = any(type(cell) in (int, float) for cell in cells)
    if heading.unit == PERCENT or not (mixed or heading.unit):
        said = "The workbook shows {names} as percent: so it was read."
        cells = [cell.percent if isinstance(cell, Share) else cell for cell in cells]
        return Heading(heading.name, PERCENT), cells, said
    said = "Numbers of {names} that the workbook shows as percent are parts of 1 here."
    return heading, [float(c) if isinstance(c, Share) else c for c in cells], said
