"""How readings are shown: in full where a person wrote them, else as far as anyone reads them."""

from math import floor, isnan, log10

from sornix.core.readings.tables.column import NUMBER, Column
from sornix.core.text import decimal_text, rounded

_SAMPLE_ROWS = 400
_MOST_DECIMALS = 6
# Numbers that were typed have no more decimals than this.
_MOST_TYPED = 8


def shown_decimals(column: Column) -> int:
    """Decimals that show the first rows of a number column in full, if they are at most 6."""
    if column.kind != NUMBER:
        return 0
    rows = range(min(len(column), _SAMPLE_ROWS))
    cells = (column.cell(row) for row in rows if row not in column.texts)
    decimals = max((len(c.partition(".")[2]) for c in cells if "e" not in c), default=0)
    if decimals > _MOST_TYPED and column.ends is not None:
        # computed numbers carry more digits than anyone reads: four that count
        size = max(map(abs, column.ends))
        return min(max(3 - floor(log10(size)), 0), _MOST_DECIMALS) if size > 0 else 0
    return min(decimals, _MOST_DECIMALS)


def shown_number(value: float, decimals: int) -> str:
    """A number with some decimals, as a power of ten where these are none of it; "" for NaN."""
    if isnan(value):
        return ""
    shown = rounded(value, decimals)
    if (shown == 0 and value != 0) or abs(value) >= 1e12:
        return f"{value:.4g}".replace("-", "−")
    return decimal_text(shown)
