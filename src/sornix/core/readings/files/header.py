"""A header cell: the name of a quantity and its unit."""

import re
from collections import Counter
from typing import NamedTuple

from sornix.core.letters import whole_letters
from sornix.core.text import short
from sornix.core.text.lengths import LONGEST_NAME

_BRACKETED = re.compile(r"^(?P<name>.*?)\s*(?:\((?P<round>[^()]*)\)|\[(?P<square>[^\[\]]*)\])$")
_SPACED_SLASH = re.compile(r"^(?P<name>.*\S)\s+/\s+(?P<unit>\S.*)$")
_TIGHT_SLASH = re.compile(r"^(?P<name>[^/]*[^/\s])\s?/\s?(?P<unit>\S.*)$")
# A slash without spaces divides a name from its unit only where a unit follows ("mass/g"), not in
# "signal/noise": SI symbols and what a water laboratory writes beside them, with prefix and power.
_UNIT = (
    r"(?:%|‰|°C|°F|°|1|"
    r"(?:[fpnµμumcdhkMG]|da)?(?:m|g|s|A|K|mol|cd|L|l|Hz|N|Pa|J|W|C|V|F|S|T|M|Ω|ohm|eV|bar|cal)"
    r"|min|h|d|a|yr|day|days|year|years|ha|t|ppm|ppb|rpm|count|counts|NTU|FNU|PSU|RFU|AU)"
    r"(?:\^?[-−+]?\d+|[²³¹⁻]+)?"
)


class Heading(NamedTuple):
    """What a header cell says: `name` of the quantity, `unit` as written or ""."""

    name: str
    unit: str = ""


def is_unit(text: str) -> bool:
    """Whether a text reads as a unit: `mg/L`, `°C`, `m^3 s^-1`."""
    parts = re.split(r"[\s·*/⋅]+", text.strip())
    return bool(parts) and all(re.fullmatch(_UNIT, part) for part in parts if part)


def parse_heading(cell: str) -> Heading:
    """The name and the unit in a header cell.

    A unit stands in round or square brackets at the end, or after a slash: `Depth (m)`,
    `Depth [m]`, `Depth / m`, `Depth/m`. Round brackets at the end are taken as a unit only where
    a name stands before them.
    """
    text = " ".join(whole_letters(cell).split())
    if len(text) > LONGEST_NAME:
        return Heading(short(text, LONGEST_NAME))
    if (match := _BRACKETED.match(text)) and match["name"]:
        unit = match["round"] if match["round"] is not None else match["square"]
        return Heading(match["name"], unit.strip())
    if match := _SPACED_SLASH.match(text):
        return Heading(match["name"], match["unit"])
    if (match := _TIGHT_SLASH.match(text)) and is_unit(match["unit"]):
        return Heading(match["name"], match["unit"])
    return Heading(text)


def header_row(rows: list[list[str]]) -> int:
    """The place of the header among the first rows: the first that is as full as rows are.

    Titles and remarks above a table fill a cell or two of a row, whatever the row's length.
    """
    filled = [sum(bool(cell.strip()) for cell in row) for row in rows]
    usual = Counter(filled).most_common(1)[0][0]
    full = Counter(f for f in filled if f > 1).most_common(1)
    if usual <= 1 and full and full[0][1] * 2 >= len(rows):
        usual = full[0][0]
    if usual <= 1:
        return 0
    return next((i for i, count in enumerate(filled) if count >= max(2, 0.6 * usual)), 0)
