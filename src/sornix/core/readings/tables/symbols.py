"""The letters that stand for quantities in an equation."""

import re

from sornix.core.readings.tables.column import TIME, Column

# The usual symbols of the trade (IUPAC Green Book, 3rd edition, chapter 2), by the words that a
# column's name holds; the last word that is known decides ("Nitrate concentration": c).
_SYMBOLS = {
    "absorbance": "A",
    "concentration": "c",
    "depth": "z",
    "discharge": "Q",
    "distance": "s",
    "flow": "Q",
    "fluorescence": "F",
    "height": "h",
    "intensity": "I",
    "length": "l",
    "level": "h",
    "mass": "m",
    "month": "t",
    "pressure": "p",
    "rank": "R",
    "temperature": "T",
    "time": "t",
    "velocity": "v",
    "volume": "V",
    "wavelength": "λ",
    "year": "t",
}

# Other words by which a quantity is known, without a symbol that all would read.
_QUANTITIES = {
    "chlorophyll",
    "count",
    "nitrate",
    "oxygen",
    "production",
    "rain",
    "rate",
    "turbidity",
}


def _symbol(name: str) -> str | None:
    if re.fullmatch(r"[^\W\d_](_?\d)?", name):
        return name
    known = [_SYMBOLS[w] for w in re.findall(r"[a-z]+", name.casefold()) if w in _SYMBOLS]
    return known[-1] if known else None


def is_quantity(name: str) -> bool:
    """Whether a column's name holds the word of a known quantity."""
    return any(
        word in _SYMBOLS or word in _QUANTITIES for word in re.findall(r"[a-z]+", name.casefold())
    )


def symbols_for(x: Column, y: Column) -> tuple[str, str]:
    """Symbols for two columns in one equation; `x` and `y` where none is usual or both agree."""
    x_symbol = _symbol(x.name) or ("t" if x.kind == TIME else "x")
    y_symbol = _symbol(y.name) or "y"
    if x_symbol == y_symbol or (x_symbol, y_symbol) == ("y", "x"):
        return "x", "y"
    return x_symbol, y_symbol
