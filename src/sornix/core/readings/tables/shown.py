"""How readings are shown: in full where a person wrote them, else as far as anyone reads them."""

from math import isnan

from sornix.core.text import decimal_text, rounded


def shown_number(value: float, decimals: int) -> str:
    """A number with some decimals, as a power of ten where these are none of it; "" for NaN."""
    if isnan(value):
        return ""
    shown = rounded(value, decimals)
    if (shown == 0 and value != 0) or abs(value) >= 1e12:
        return f"{value:.4g}".replace("-", "−")
    return decimal_text(shown)
