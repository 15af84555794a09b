"""How readings are shown: in full where a person wrote them, else as far as anyone reads them."""

from math import isnan

from sornix.core.readings.tables.column import NUMBER, Column
from sornix.core.text import decimal_text, rounded


def shown_cell(column: Column, row: int, decimals: int) -> str:
    """The cell at a row index as a table shows it, numbers with so many decimals."""
    if column.kind != NUMBER or row in column.texts:
        return column.cell(row)
    shown = shown_number(float(column.numbers[row]), decimals)
    return shown and column.bounds.get(row, "") + shown


def shown_number(value: float, decimals: int) -> str:
    """A number with some decimals, as a power of ten where these are none of it; "" for NaN."""
    if isnan(value):
        return ""
    shown = rounded(value, decimals)
    if (shown == 0 and value != 0) or abs(value) >= 1e12:
        return f"{value:.4g}".replace("-", "−")
    return decimal_text(shown)
