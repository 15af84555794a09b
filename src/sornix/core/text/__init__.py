"""Text as people write it in laboratories: numbers, super- and subscripts."""

from sornix.core.text.numbers import (
    MINUS,
    THIN_SPACE,
    decimal_text,
    parse_number,
    plural,
    power_of_ten,
    r_squared_text,
    rounded,
    shortest,
    significant,
    spoken,
    with_error,
)
from sornix.core.text.rich import Rich, Run, plain_text, rich

__all__ = [
    "MINUS",
    "THIN_SPACE",
    "Rich",
    "Run",
    "decimal_text",
    "parse_number",
    "plain_text",
    "plural",
    "power_of_ten",
    "r_squared_text",
    "rich",
    "rounded",
    "shortest",
    "significant",
    "spoken",
    "with_error",
]
