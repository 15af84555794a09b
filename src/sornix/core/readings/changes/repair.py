"""Cells of a number column that are text: what they look like, and what can be made of them."""

import math
import re
from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.patterns import pattern
from sornix.core.readings.cells import otherwise as written
from sornix.core.readings.cells.forms import FORMS as WRITTEN
from sornix.core.readings.cells.marks import Marks, number_in
from sornix.core.readings.tables.column import NUMBER, Column
from sornix.core.text import plural
from sornix.core.text.lengths import LONGEST_NUMBER

_NUMBER = r"[+\-−]?(?:\d+(?:[.,]\d+)?|[.,]\d+)(?:[eE][+\-−]?\d+)?"
# how a word behind a number begins: not as what goes on with the number
_WORD = r"[^\d\s:/()×·^.,'’−–-]"
# letters that are typed for digits
_SLIPS = str.maketrans("OolI|", "00111")


class Mended(NamedTuple):
    """What a cell becomes: a number (NaN where missing), and `<` or `>` where it is a limit."""

    value: float
    bound: str = ""


class Way(NamedTuple):
    """A way of mending: words for a button, and what it makes of a match. `unit` tells whether
    the word behind the number goes to the header."""

    words: str
    mend: Callable[[re.Match[str]], Mended]
    unit: bool = False


class Form(NamedTuple):
    """What cells can look like: a pattern, words for it, and the ways of mending, best first."""

    pattern: re.Pattern[str]
    words: str
    ways: Mapping[str, Way]


class Proposal(NamedTuple):
    """Cells of one form: its name, their rows, one of them as an example, and words about them."""

    form: str
    rows: tuple[int, ...]
    example: str
    words: str


def _number(text: str) -> float:
    decimal = "," if "," in text and "." not in text else "."
    value = number_in(text, Marks(decimal))
    return math.nan if value is None else value


def _first(match: re.Match[str]) -> Mended:
    return Mended(_number(match["number"]))


def _missing(_match: re.Match[str]) -> Mended:
    return Mended(math.nan)


_AS_MISSING = Way("count as missing", _missing)


def _limit(match: re.Match[str]) -> Mended:
    return Mended(_number(match["number"]), "<" if match["sign"] in "<≤" else ">")


def _half(match: re.Match[str]) -> Mended:
    return Mended(_number(match["number"]) / 2)


def _ungrouped(match: re.Match[str]) -> Mended:
    return Mended(_number(re.sub(r"[,.'’ \u00a0\u2009\u202f](?=\d{3})", "", match["number"])))


def _respelt(match: re.Match[str]) -> Mended:
    return Mended(_number(match[0].strip().translate(_SLIPS)))


def _written(form: str) -> Callable[[re.Match[str]], Mended]:
    """What a cell in a form of whole columns is."""

    def mend(match: re.Match[str]) -> Mended:
        decimal = "," if "," in match[0] and "." not in match[0] else "."
        cell = WRITTEN[form].parse(match[0].strip(), Marks(decimal))
        return Mended(math.nan if cell is None else cell.value)

    return mend


def _negative(match: re.Match[str]) -> Mended:
    return Mended(-_number(match["number"]))


def _seconds(match: re.Match[str]) -> Mended:
    first, second, third = (float(part or "nan") for part in match.group("a", "b", "c"))
    return Mended(60 * first + second if math.isnan(third) else 3600 * first + 60 * second + third)


def _minutes(match: re.Match[str]) -> Mended:
    return Mended(_seconds(match).value if match["c"] else 60 * _seconds(match).value)


def _middle(match: re.Match[str]) -> Mended:
    return Mended((_number(match["number"]) + _number(match["other"])) / 2)


# In the order in which they are tried; the last takes whatever is left.
FORMS: Mapping[str, Form] = MappingProxyType(
    {
        "limit": Form(
            pattern(rf"(?P<sign>[<>≤≥])\s*(?P<number>{_NUMBER})"),
            "below or above a limit",
            {
                "mark": Way("keep the limit, marked", _limit),
                "half": Way("take half the limit", _half),
                "missing": _AS_MISSING,
            },
        ),
        "about": Form(
            pattern(
                rf"(?:~|≈|ca?\.?|circa|approx\.?|about)\s*(?P<number>{_NUMBER})", re.IGNORECASE
            ),
            "roughly known",
            {"number": Way("take the number", _first), "missing": _AS_MISSING},
        ),
        "money": Form(
            pattern(rf"[€$£¥]\s?(?P<number>{_NUMBER})"),
            "with a sign of money",
            {"number": Way("take the number", _first), "missing": _AS_MISSING},
        ),
        "power": Form(
            written.POWER,
            "with a power of ten",
            {"number": Way("work the power out", _written("power")), "missing": _AS_MISSING},
        ),
        "fraction": Form(
            written.FRACTION,
            "that are fractions",
            {"number": Way("divide them", _written("fraction")), "missing": _AS_MISSING},
        ),
        "minus": Form(
            written.MINUS_BEHIND,
            "with − behind",
            {"number": Way("take them as negative", _written("negative")), "missing": _AS_MISSING},
        ),
        "lasting": Form(
            pattern(r"(?P<a>\d{1,4}):(?P<b>[0-5]\d)(?::(?P<c>[0-5]\d(?:[.,]\d{1,9})?))?"),
            "with hours, minutes or seconds",
            {
                "seconds": Way("take minutes and seconds, in seconds", _seconds),
                "hours": Way("take hours and minutes, in seconds", _minutes),
                "missing": _AS_MISSING,
            },
        ),
        "thousands": Form(
            pattern(r"(?P<number>[+\-−]?\d{1,3}(?:[,'’ \u00a0\u2009\u202f]\d{3})+(?:\.\d+)?)"),
            "with divided thousands",
            {
                "joined": Way("join the thousands", _ungrouped),
                "decimal": Way("take the comma as decimal mark", _first),
                "missing": _AS_MISSING,
            },
        ),
        "comma": Form(
            pattern(r"(?P<number>[+\-−]?\d*,\d+(?:[eE][+\-−]?\d+)?)"),
            "with a decimal comma",
            {"number": Way("take the comma as decimal mark", _first), "missing": _AS_MISSING},
        ),
        "slip": Form(
            pattern(r"(?=.*\d)(?=.*[OolI|])[+\-−]?[\dOolI|]*[.,]?[\dOolI|]+"),
            "with letters for digits",
            {"digits": Way("read O as 0 and l as 1", _respelt), "missing": _AS_MISSING},
        ),
        "range": Form(
            pattern(rf"(?P<number>{_NUMBER})\s*(?:-|–|to|…|\.\.)\s*(?P<other>{_NUMBER})"),
            "from one number to another",
            {"middle": Way("take the middle", _middle), "missing": _AS_MISSING},
        ),
        "error": Form(
            pattern(
                rf"(?P<number>{_NUMBER})(?:\s*(?:±|\+/-|\+-)\s*(?P<other>{_NUMBER}).*|\(\d{{1,3}}\))"
            ),
            "with an error behind",
            {"number": Way("take the number without it", _first), "missing": _AS_MISSING},
        ),
        "bracketed": Form(
            pattern(rf"[(\[]\s*(?P<number>{_NUMBER})\s*[)\]]"),
            "in brackets",
            {
                "number": Way("take the number", _first),
                "negative": Way("take it as negative", _negative),
                "missing": _AS_MISSING,
            },
        ),
        "unit": Form(
            pattern(rf"(?P<number>{_NUMBER})\s*(?P<word>{_WORD}.*)"),
            "with a word behind the number",
            {
                "header": Way("move the word to the header as unit", _first, unit=True),
                "strip": Way("take the number, drop the word", _first),
                "missing": _AS_MISSING,
            },
        ),
        "words": Form(pattern(r".*", re.DOTALL), "in words", {"missing": _AS_MISSING}),
    }
)


def proposals(column: Column) -> list[Proposal]:
    """The strange cells of a column by their form, the most frequent first."""
    rows: dict[str, list[int]] = {}
    for row, text in column.texts.items():
        rows.setdefault(form_of(text), []).append(row)
    found = []
    for name, places in sorted(rows.items(), key=lambda item: -len(item[1])):
        example = column.texts[places[0]]
        words = f"{plural(len(places), 'cell')} {FORMS[name].words}"
        found.append(Proposal(name, tuple(places), example, words))
    return found


def form_of(text: str) -> str:
    """The name of the form of a cell that is no number."""
    return next(name for name in FORMS if _match(name, text))


def _match(form: str, text: str) -> re.Match[str] | None:
    """The cell as of a form; a long one is in words."""
    if len(text) > LONGEST_NUMBER and form != "words":
        return None
    return FORMS[form].pattern.fullmatch(text.strip())


def ways_for(proposal: Proposal, column: Column) -> Mapping[str, Way]:
    """The ways of mending the cells of a proposal: only one word for all can go to the header."""
    ways = dict(FORMS[proposal.form].ways) if column.kind == NUMBER else {"missing": _AS_MISSING}
    word = word_behind(proposal, column)
    # “12 snails” under “Snails” names what is counted again: that is no unit
    if "header" in ways and (column.unit or not word or word.casefold() in column.name.casefold()):
        del ways["header"]
    if "decimal" in ways and proposal.example.count(",") != 1:
        del ways["decimal"]
    return ways


def word_behind(proposal: Proposal, column: Column) -> str | None:
    """The word that stands behind the numbers of a proposal, if it is the same in all."""
    words = {_word(column.texts[row]) for row in proposal.rows}
    # 1 snail and 2 snails are of one unit
    if len({word.removesuffix("s") for word in words}) == 1:
        return max(words, key=len)
    return None


def _word(text: str) -> str:
    match = _match("unit", text)
    return match["word"].strip() if match else ""


def repaired(column: Column, form: str, way: str) -> Column:
    """The column with every cell of a form mended in one way; what was read is kept."""
    rows = [row for row, text in column.texts.items() if form_of(text) == form]
    if not rows:
        return column
    if way not in FORMS[form].ways:
        raise EditRefused(f"Cells {FORMS[form].words} cannot be mended in the way “{way}”.")
    chosen = FORMS[form].ways[way]
    values = column.numbers.copy()
    texts, bounds = dict(column.texts), dict(column.bounds)
    unit = column.unit
    if chosen.unit:
        places = Proposal(form, tuple(rows), column.texts[rows[0]], "")
        unit = word_behind(places, column) or unit
    for row in rows:
        match = _match(form, texts.pop(row))
        assert match is not None
        mended = chosen.mend(match)
        values[row] = mended.value if np.isfinite(mended.value) else np.nan
        if mended.bound:
            bounds[row] = mended.bound
    as_read = {**column.as_read, **{row: column.texts[row] for row in rows}}
    return evolve(column, values=values, texts=texts, bounds=bounds, as_read=as_read, unit=unit)
