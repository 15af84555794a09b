"""Text as people write it in laboratories: numbers, super- and subscripts."""

from sornix.core.text.numbers import (
    MINUS,
    THIN_SPACE,
    capital,
    decimal_text,
    parse_measured,
    parse_number,
    plural,
    power_of_ten,
    r_squared_text,
    rounded,
    short,
    shortest,
    significant,
    spoken,
    with_article,
    with_error,
)
from sornix.core.text.rich import Rich, Run, formula_text, plain_text, rich, with_comma
from sornix.core.text.symbols import SYMBOLS, find_symbols

__all__ = [
    "MINUS",
    "SYMBOLS",
    "THIN_SPACE",
    "Rich",
    "Run",
    "capital",
    "decimal_text",
    "find_symbols",
    "formula_text",
    "parse_measured",
    "parse_number",
    "plain_text",
    "plural",
    "power_of_ten",
    "r_squared_text",
    "rich",
    "rounded",
    "short",
    "shortest",
    "significant",
    "spoken",
    "with_article",
    "with_comma",
    "with_error",
]
