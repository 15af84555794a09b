"""A header cell: the name of a quantity and its unit."""

import re
from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

from sornix.core.letters import whole_letters
from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, has_digit, is_number
from sornix.core.readings.cells.suffix import unit_at_end
from sornix.core.text import short
from sornix.core.text.lengths import LONGEST_NAME

_BRACKETED = pattern(
    r"^(?P<name>.*?)\s*"
    r"(?:\((?P<round>[^()]*)\)|\[(?P<square>[^\[\]]*)\]|\{(?P<curly>[^{}]*)\})$"
)
# as they are written between signs as wide as they are high
_WIDE = str.maketrans("（）［］／％", "()[]/%")
_OPENING, _CLOSING = frozenset("([{"), frozenset(")]}")
_SPACED_SLASH = pattern(r"^(?P<name>.*\S)\s+/\s+(?P<unit>\S.*)$")
# C / J/(mol K)
_OVER_BRACKETS = pattern(r"^(?P<name>[^/(]*\S)\s+/\s+(?P<unit>[^\s()]+/\([^()]+\))$")
# λ (W/(m K))
_NESTED = pattern(
    r"^(?P<name>.*\S)(?:\s*[(\[](?P<unit>[^\s()\[\]]+/\([^()]+\))[)\]]|\s(?P<bare>[^\s()]+/\([^()]+\)))$"
)
_UNDER_BRACKETS = pattern(r"(?P<over>[^()/]+)/\s?\((?P<under>[^()/]+)\)")
# How dates or times are written in a column, as a row of units may tell: dd.mm.yyyy, HH:MM:SS
_MASK = pattern(r"(?:([DTJYAMHS])\1{1,3}(?:[.:/, -]+|T(?=H)|$)){2,}", re.IGNORECASE)
# What stands in a row of units for none, and what such a row is called
_NO_UNITS = frozenset(
    # TS and RN are those of a logger for its moments and for numbers of records
    ("", "-", "–", "—", "ts", "rn", "n/a", "unit", "units", "einheit", "einheiten", "unité",
     "unités", "unidad", "unidades", "unità")
)  # fmt: skip
# What is divided by a quantity in symbols: 1/T, 1/d²
_INVERSE = pattern(r"1\s?/\s?[^\W\d_]\w{0,4}[²³]?")
_IN = pattern(r"^(?P<name>.*\S)\s+in\s+(?P<unit>\S.*)$")
_COMMA = pattern(r"^(?P<name>.*[^,\s])\s*,\s(?P<unit>\S+)$")
# single letters behind a comma are more likely symbols, or names of sites
_SYMBOLS = frozenset("AFGJKLMNPSTVWadghst1")
# an amount: the name of what was given it, not a quantity with a unit
_SO_MUCH = pattern(r"^[<>≤≥~±]?\s?\d[\d.,]*\s?(?P<unit>[^\W\d].*|%)$")
# What stands in brackets and is no unit: LGR S/N: 1234, n=3
_REMARK = pattern(r":\s|[=#]|.{25}")
_SHARE = pattern(r"[A-Z]/[A-Z]")
# What tells a unit behind a name from a word: a sign or a power, and no place such as S-1.
_SIGN = pattern(r"[/%‰°²³⁻^]|deg [CF]\b|(?:^|\s)(?:[a-zµ]|[A-Za-zµ]{2,}|\S+ \S+)-\d\b|\S\s\S+-\d")
_LEAST = pattern(r"(.*[ _])min", re.IGNORECASE)
_AMOUNT_OF = pattern(r"(\d[\d.,]*)\s?([^\W\d].*|[°%].*)")
_POWER_OF_TEN = pattern(r"10*|0[.,]0*1|1(?:[., ]000)+")
_MOST_WORDS = 3
_AMOUNT = pattern(r"[<>≤≥~±]?[\d.,]+")
# Chl a µg/L is no year, nor Rep 1 % one
_NO_FIRST = ("a", "A", "1")
_TIGHT_SLASH = pattern(r"^(?P<name>[^/]*[^/\s])\s?/\s?(?P<unit>\S.*)$")
# A slash without spaces divides a name from its unit only where a unit follows ("mass/g"), not in
# "signal/noise": SI symbols and what a water laboratory writes beside them, with prefix and power.
# Ratios of two of a kind, a quantity to its first value among them, though their second part could
# be a unit.
_RATIO = pattern(
    r"[ΔδdD]?(?P<of>[A-Za-zΑ-ω]{1,3})/(?P=of)_?(?:0|max|min|ref|o|i)?|[d∂Δ][A-Za-zΑ-ω]{1,3}/[d∂Δ][A-Za-zΑ-ω]{1,3}|[SC]/N|N/[CP]|C/[NP]|[wv]/[wv]|m/z"
)
_FUNCTION = pattern(r"ln|log|lg|log_?(?:2|10)|sqrt|exp|√|Δ|d|1/|asin|arcsin|logit", re.IGNORECASE)
# units that are told to be none in particular
_ARBITRARY = pattern(r"[aA]\. ?[uU]\.|arb\.? ?u(?:\.|nits?)")
_UNIT = (
    r"(?:%|‰|°C|°F|°|1|"
    r"(?:[fpnµμumcdhkMG]|da)?(?:m|g|s|A|K|mol|cd|L|l|Hz|N|Pa|J|W|C|V|F|S|T|M|Ω|[Oo]hms?|eV|bar|cal)"
    r"|[Dd]eg ?[CF]?|sec|mins?|hrs?|(?i:seconds?|minutes?|hours?|weeks?|met(?:er|re)s?|grams?"
    r"|lit(?:er|re)s?|volts?|amp(?:ere)?s?|watts?|newtons?|joules?|pascals?|kelvin|celsius|moles?"
    r"|percent)"
    r"|min|mn|h|d|dy|mo|a|yr|day|days|year|years|ha|t|ppm|ppb|rpm|count|counts|cells|NTU|FNU|PSU|psu|RFU|m?AU"
    r"|dBm?|psi|atm|m?Pas|[mµ]?[Tt]orr|mmHg|inHg|[mµ]?eq|k?lx|[Ll]ux|lm|[kMG]?Bq|[mµ]?Sv|[mk]?Gy|m?rad|k?Da|cps|cfu|CFU"
    r"|(?:wt|at|mol|vol) ?%"
    r"|℃|°С|(?:мк|[пнмкМГдс]|да)?(?:м|г|с|А|К|моль|л|Гц|Н|Па|Дж|Вт|В|См|Ом)|мин|ч|сут|шт|об)"
    # a digit alone is a power where one is met: m3, not the first or seventh of things, T1 and A7
    r"(?:\^[-−+]?\d+|[-−+]\d+|[2-4]|[²³¹⁻]+)?"
)


class Heading(NamedTuple):
    """What a header cell says: `name` of the quantity, `unit` as written or ""; whether its cells
    are known to be `words`."""

    name: str
    unit: str = ""
    words: bool = False


def is_unit(text: str) -> bool:
    """Whether a text reads as a unit: `mg/L`, `°C`, `m^3 s^-1`, `mg/(g h)`."""
    text = text.strip()
    if _ARBITRARY.fullmatch(text):
        return True
    if under := _UNDER_BRACKETS.fullmatch(text):
        text = f"{under['over']}/{under['under']}"
    parts = re.split(r"[\s·*/⋅]+", text)
    return any(parts) and all(re.fullmatch(_UNIT, part) for part in parts if part)


_DEGREES = ("C", "F")
_WARMTH = pattern(r"temp", re.IGNORECASE)


def parse_heading(cell: str) -> Heading:
    """The name and the unit in a header cell.

    A unit stands in round or square brackets at the end, or after a slash or a comma: `Depth (m)`,
    `Depth [m]`, `Depth / m`, `Depth/m`, `Depth, m`. Round brackets at the end
    are taken as a unit only where a name stands before them. A name in one word ends in it behind
    a stroke: `depth_m`.
    """
    text = " ".join(whole_letters(cell).translate(_WIDE).split())
    # Time:, Range=
    found = _parsed(text.rstrip(" :=") or text)
    return found._replace(unit=unit_for(found.name, found.unit))


def unit_for(name: str, unit: str) -> str:
    """A unit as it is meant: nobody measures a temperature in coulombs."""
    return f"°{unit}" if unit in _DEGREES and _WARMTH.search(name) else unit


def _parsed(text: str) -> Heading:
    if len(text) > LONGEST_NAME:
        return Heading(short(text, LONGEST_NAME))
    amount = _SO_MUCH.match(text) if has_digit(text) else None
    if _is_only_unit(text) or (amount and is_unit(amount["unit"])):
        return Heading(text)
    # what a sign cannot be in is asked of no pattern: most names are words
    if "/" in text:
        if _INVERSE.fullmatch(text):
            return Heading(text)
        if match := _OVER_BRACKETS.match(text):
            return Heading(match["name"], match["unit"])
        if match := _NESTED.match(text):
            return Heading(match["name"], match["unit"] or match["bare"])
    if text[-1:] in _CLOSING and (match := _BRACKETED.match(text)) and match["name"]:
        return _in_brackets(match, text)
    return _behind_a_sign(text)


def _behind_a_sign(text: str) -> Heading:
    """The name and the unit where the unit stands behind a comma, a slash or “in”, if any."""
    comma = _COMMA.match(text) if ", " in text else None
    if comma and is_unit(comma["unit"]) and comma["unit"] not in _SYMBOLS:
        return Heading(comma["name"], comma["unit"])
    if " in " in text and (match := _IN.match(text)) and is_unit(match["unit"]):
        return Heading(match["name"], match["unit"])
    slash = "/" in text
    if slash and (match := _SPACED_SLASH.match(text)):
        return Heading(match["name"], match["unit"])
    if slash and _RATIO.fullmatch(text):
        return Heading(text)
    if (found := _behind_spaces(text)) is not None:
        return found
    if slash and (match := _TIGHT_SLASH.match(text)) and is_unit(match["unit"]):
        return Heading(match["name"], match["unit"])
    return Heading(*(unit_at_end(text) or (text,)))


def parse_headings(cells: Sequence[str]) -> list[Heading]:
    """The names of columns and their units. Beside “age max”, “age min” is no age in minutes, and
    beside “E (keV)” “mu(E)” is a function of that."""
    names = {cell.strip().casefold() for cell in cells}
    found = [
        Heading(" ".join(cell.split()))
        if (match := _LEAST.fullmatch(cell.strip())) and f"{match[1]}max".casefold() in names
        else parse_heading(cell)
        for cell in cells
    ]
    called = {heading.name for heading in found}
    return [
        Heading(" ".join(cell.split()))
        if heading.unit and heading.unit in called and not is_unit(heading.unit) else heading
        for heading, cell in zip(found, cells, strict=True)
    ]  # fmt: skip


def _is_only_unit(text: str) -> bool:
    """Whether a heading is a unit, mg/L, and no quantity in one, T/K."""
    above, slash, _ = text.partition("/")
    return bool(slash) and len(above) > 1 and " " not in text and is_unit(above) and is_unit(text)


def _behind_spaces(text: str) -> Heading | None:
    """The name and the unit where a unit with a sign stands behind a space or a stroke: Sand %,
    Nitrate mg/L, Density g cm-3; None where none does."""
    words = text.replace("_", " ").split(" ") if " " not in text else text.split(" ")
    for count in range(min(_MOST_WORDS, len(words) - 1), 0, -1):
        name, unit = text[: -sum(map(len, words[-count:])) - count], " ".join(words[-count:])
        if "/" in name or not name.strip() or not is_unit(unit) or not _SIGN.search(unit):
            continue
        if count > 1 and words[-count] in _NO_FIRST:
            continue
        # an amount behind a number, the name of a share, what is counted on so much
        last = name.split()[-1]
        part_of_it = _AMOUNT.fullmatch(last) or last == "per" or _SHARE.fullmatch(unit)
        return Heading(text) if part_of_it else Heading(name.rstrip(" ,_"), unit)
    return None


def _in_brackets(match: "re.Match[str]", text: str) -> Heading:
    """The name and the unit where something stands in brackets at the end."""
    unit = match["round"] or match["square"] or match["curly"] or ""
    if len(match["name"]) == 1 and text[1] == "(" and not is_unit(unit):
        # the concentration c(Cu), the mass fraction w(N)
        return Heading(text)
    if _FUNCTION.fullmatch(match["name"]) and not is_unit(unit):
        return Heading(text)
    inner = _BRACKETED.match(match["name"])
    if inner is not None and inner["name"] and not is_unit(unit) and is_unit(_inside(inner)):
        # Temperature (°C) (mean)
        return Heading(f"{inner['name'].strip()} {text[match.end('name'):].strip()}",
                       _inside(inner).strip())  # fmt: skip
    first, comma, rest = unit.partition(", ")
    if comma and not is_unit(unit) and is_unit(first):
        # EC (µS/cm, 25 °C)
        return Heading(f"{match['name']} ({rest.strip()})", first.strip())
    if not is_unit(unit) and (_REMARK.search(unit) or _is_amount(unit)):
        # the number of an instrument, or of readings: what stands before may hold the unit
        before = _behind_a_sign(match["name"].rstrip())
        behind = text[match.end("name") :].strip()
        return Heading(f"{before.name} {behind}", before.unit)
    return Heading(match["name"].rstrip("/ ") or match["name"], unit.strip())


def _is_amount(text: str) -> bool:
    """Whether a text is where or when something was measured, at 600 nm, in 5 m, and no unit of so
    many: 1000 t, 100 mL."""
    found = _AMOUNT_OF.fullmatch(text.strip())
    number, unit = found.groups() if found is not None else (text.strip(), "")
    if not (is_unit(unit) if unit else number.isdecimal()):
        return False
    return not _POWER_OF_TEN.fullmatch(number)


def _inside(match: "re.Match[str]") -> str:
    return match["round"] or match["square"] or match["curly"] or ""


def units_in(row: list[str], marks: Marks) -> list[str] | None:
    """The units in the row under the header, if that is what it holds: "" where there is none."""
    cells = [_bare(cell) for cell in row]
    named = [cell for cell in cells if _names_unit(cell)]
    if not named or any(is_number(cell, marks) for cell in cells):
        return None
    if sum(is_unit(cell) for cell in named) * 2 <= len(named):
        return None
    return unit_cells(row)


def unit_cells(row: Sequence[str]) -> list[str]:
    """The cells of a row as units, brackets and dashes taken off."""
    cells = [_bare(cell) for cell in row]
    return [cell if _names_unit(cell) else "" for cell in cells]


def _bare(cell: str) -> str:
    """A cell without the brackets around it; mg/(g h) keeps the one that it needs."""
    text = cell.strip().strip("()[]<>").strip()
    return f"{text})" if text.count("(") > text.count(")") else text


def _names_unit(cell: str) -> bool:
    """Whether a cell of a row of units has one to tell: no dash, no form of dates, and not what
    the row itself is called."""
    return cell.casefold() not in _NO_UNITS and _MASK.fullmatch(cell) is None


def with_units(headings: Sequence[Heading], units: Sequence[str]) -> list[Heading]:
    """Headings with the units of a row of them; what such a row leaves out stays."""
    # a row of units that is narrower or wider than the header is told of as any other
    pairs = list(zip(headings, [*units, *[""] * len(headings)], strict=False))
    if {"min", "max"} <= {unit.casefold() for unit in units}:
        # the least and the greatest, and no minutes
        return [
            Heading(f"{heading.name} {unit}", heading.unit)
            if unit.casefold() in ("min", "max")
            else Heading(heading.name, unit or heading.unit)
            for heading, unit in pairs
        ]
    return [
        Heading(heading.name, unit or heading.unit)
        # a name may stand there, over no units
        if heading.name or not unit or is_unit(unit) else parse_heading(unit)
        for heading, unit in pairs
    ]  # fmt: skip


def completed(headings: Sequence[Heading], row: Sequence[str]) -> list[Heading] | None:
    """Headings with the names of columns that have none, from a row under them; None where it holds
    something else."""
    pairs = list(zip(headings, row, strict=True))
    if any(heading.name and cell.strip() for heading, cell in pairs):
        return None
    return [heading if heading.name else parse_heading(cell) for heading, cell in pairs]


def spread_over(headings: Sequence[Heading], row: Sequence[str]) -> list[Heading] | None:
    """Headings with the names in a row under them, where one stands over several of these: Length
    over Mean and SD; None where none does."""
    pairs = list(zip(headings, [cell.strip() for cell in row], strict=True))
    wide = any(
        left.name and below and not right.name and beside
        for (left, below), (right, beside) in pairwise(pairs)
    )
    if not wide:
        return None
    found, over = list[Heading](), Heading("")
    for heading, below in pairs:
        over = heading if heading.name or not below else over
        name = ", ".join(filter(None, (below, over.name)))
        found.append(Heading(name, over.unit))
    return found


def in_groups(
    headings: Sequence[Heading], groups: Sequence[str]
) -> tuple[list[Heading], tuple[str, ...]]:
    """Headings with the groups that they are of, if any, in their names, and what is to be said of
    it; what has no name of its own, or only a unit, takes that of its group. Units in the row
    above distinct names without any stay units."""
    pairs = zip(headings, [*groups, *[""] * len(headings)], strict=False)
    bare = not any(heading.unit for heading in headings)
    distinct = len({heading.name for heading in headings}) == len(headings)
    listed = dict.fromkeys(filter(None, groups))
    named = short(", ".join(f"“{group}”" for group in listed), 80)
    if bare and distinct and are_units_above(groups):
        said = f"The row above the names holds units: {named}."
        return with_units(headings, unit_cells(groups)), (said,)
    found = [_in_group(heading, group) if group else heading for heading, group in pairs]
    said = f"The row above the names groups the columns: {named}."
    return found, (said,) if named else ()


def are_units_above(cells: Sequence[str]) -> bool:
    """Whether cells above names are units; letters alone may as well be sites."""
    named = [unit for unit in unit_cells(cells) if unit]
    return all(map(is_unit, named)) and any(len(unit) > 1 for unit in named)


def _in_group(heading: Heading, group: str) -> Heading:
    unit = "" if heading.unit else unit_alone(heading.name)
    if unit:
        return Heading(group, unit)
    above = parse_heading(group)
    if above == heading:
        return heading
    if heading.unit and above.unit:
        # both are told
        above = Heading(group)
    name = ", ".join(filter(None, (heading.name, above.name)))
    return Heading(name, heading.unit or above.unit)


def unit_alone(cell: str) -> str:
    """The unit that is all that stands in a cell, in brackets or not; else ""."""
    text = cell.strip()
    if text[:1] in _OPENING and text[-1:] in _CLOSING:
        return text[1:-1] if is_unit(text[1:-1]) else ""
    return text if _is_only_unit(text) else ""
