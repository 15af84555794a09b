"""Columns that tell of others how sure they are: uncertainties, least and greatest readings."""

import re
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, Column

_SPREAD = (
    r"(?:s\.?\s?d\.?|s\.?\s?e\.?\s?m?\.?|st\.?\s?dev\.?|std\.?(?:[\s_]?(?:dev|err)\.?)?|stdev|stderr|"
    r"standard[\s_](?:deviation|error)|uncertainty|unc\.?|errors?|err\.?|σ|sigma|±|\+/-|"
    r"95\s?%\s?ci|c\.?i\.?|ci\s?95|u95|u(?= ?\(?k)|expanded uncertainty|k ?= ?[23])"
)
_SPREAD_FIRST = pattern(
    rf"{_SPREAD}(?:[\s_,:(]+(?:of|for|in)?[\s_]*\(?(?P<of>.*?)\)?)?", re.IGNORECASE
)
_SPREAD_LAST = pattern(rf"(?P<of>.*?)[\s_,:(-]+{_SPREAD}\)?", re.IGNORECASE)
_SYMBOL = pattern(
    r"(?:u|U|uc|s)|(?:[duΔσs]|err|delta|sigma)[_ ]?\(?(?P<of>.+?)\)?|(?P<stem>[a-z]+)S[DE]"
)
# Differences are as small as what is known of them.
_DIFFERENCE = pattern(r"(?:.*\b)?(?:deviation|error|bias|difference|correction|Δ).*", re.IGNORECASE)
# An uncertainty is no more than this share of all that its readings go through.
_MOST_UNSURE = 0.3
# which end a word of a name says
_LOW = pattern(r"min(?:\.|imum)?|least|lowest|lower|lcl|low|lwr|minus", re.IGNORECASE)
_HIGH = pattern(r"max(?:\.|imum)?|greatest|highest|upper|ucl|high|upr|plus", re.IGNORECASE)
# and does so behind what is short already: err_lo
_SHORT_LOW, _SHORT_HIGH = pattern(r"lo|[-−]", re.IGNORECASE), pattern(r"hi|up|\+", re.IGNORECASE)
# and does so of an interval alone
_FROM, _TO = pattern(r"from|von|de", re.IGNORECASE), pattern(r"to|bis|à", re.IGNORECASE)
_WORDS = pattern(r"[\s_,;:()]+|(?<=\w)(?=[-+−]$)|(?<=^[-+−])(?=\w)")
_OF_INTERVALS = pattern(
    r"\d+|%|\d+%|ci|c\.i\.|conf\.?|confidence|interval|of|limit|bound|end", re.IGNORECASE
)
_INTERVAL = pattern(r"ci|c\.i\.|conf\.?|confidence", re.IGNORECASE)
# 2.5 %, q25, 75th percentile
_QUANTILE = pattern(
    r"(?:[qp] ?(?P<of>\d\d?(?:\.\d+)?)|(?P<in>\d\d?(?:\.\d+)?) ?(?:%|th percentile|percentile))",
    re.IGNORECASE,
)
_SURE = pattern(r"min(?:\.|imum)?|max(?:\.|imum)?|least|greatest|lowest|highest", re.IGNORECASE)
_MEAN = pattern(r"(?:mean|average|avg\.?|median|mittel(?:wert)?|moyenne)\b.*", re.IGNORECASE)
_LENGTH = pattern(_SPREAD, re.IGNORECASE)
_OTHER = {"low": "high", "high": "low"}
_HALF = 50.0
YEARS = ("a", "y", "yr", "yrs", "year", "years")


def owner_of_spread(column: Column, before: Sequence[Column], *, behind: bool) -> str:
    """The column whose uncertainties these are, of those measured `before` it, "" where they are
    none; `behind` is whether the last of them stands right before it."""
    side, name = length_of(column.name)
    match = _SPREAD_FIRST.fullmatch(name) or _SPREAD_LAST.fullmatch(name)
    unit_says = re.fullmatch(_SPREAD, column.unit.strip(), re.IGNORECASE) is not None
    last = next((one for one in reversed(before) if _can_be_spread(column, one)), None)
    if match is None and last is not None and _is_symbol_of_spread(column, last):
        return last.name
    if (match is None and not unit_says) or (column.ends or (0.0, 0.0))[0] < 0:
        return ""
    if match is not None and not side and end_of(name)[0]:
        # an end of an interval, no length
        return ""
    of = plain((match["of"] or "") if match is not None else name)
    measured = (one for one in before if of and _can_be_spread(column, one))
    named = [one.name for one in measured if plain(one.name) == of or (
        len(of) > 2 and (of in plain(one.name) or plain(one.name) in of))]  # fmt: skip
    if named:
        return named[-1]
    if of and match is not None and not unit_says and _SPREAD_FIRST.fullmatch(name) is None:
        # “Fit error” is about nothing that is here
        return ""
    return last.name if last is not None and behind else ""


def _can_be_spread(column: Column, of: Column) -> bool:
    """Whether a column can be the uncertainty of another by its unit: the same, a part of it (yr of
    cal yr BP), or none."""
    return (
        column.unit in ("", of.unit, *of.unit.split())
        or (column.unit in YEARS and of.unit.endswith("BP"))
        or re.fullmatch(_SPREAD, column.unit, re.IGNORECASE) is not None
    )


def _is_symbol_of_spread(column: Column, of: Column) -> bool:
    """Whether a column right behind another is called as its uncertainty in symbols, u, dx or σx,
    and holds what can be one."""
    match = _SYMBOL.fullmatch(column.name.strip())
    if match is None or column.unit != of.unit or column.ends is None or of.ends is None:
        return False
    if len(match["of"] or "") > 1 and plain(match["of"]) != plain(of.name):
        return False
    if column.name.strip() in ("u", "U") and _DIFFERENCE.fullmatch(of.name):
        return column.ends[0] >= 0
    return column.ends[0] >= 0 and column.ends[1] <= _MOST_UNSURE * (of.ends[1] - of.ends[0])


@lru_cache(maxsize=1 << 15)
def end_of(name: str) -> tuple[str, str]:
    """Which end of an interval a name says, "low" or "high", "" for none, and of what."""
    name = name.strip()
    if (quantile := _QUANTILE.fullmatch(name)) is not None:
        share = float(quantile["of"] or quantile["in"])
        # those that belong together are as far from the middle
        return ("low" if share < _HALF else "high"), f"{min(share, 2 * _HALF - share):g} %"
    words = _words(name)
    side, rest = side_among(words)
    if not side and any(map(_INTERVAL.fullmatch, words)):
        side, rest = side_among(words, _FROM, _TO)
    if any(map(_INTERVAL.fullmatch, rest)) and side:
        rest = [word for word in rest if not _OF_INTERVALS.fullmatch(word)]
    return side, " ".join(rest)


def length_of(name: str) -> tuple[str, str]:
    """Which side of a reading a name says that lengths of error bars are on, "" for both, and the
    rest of the name: err_lo, error +, lower error. What is no such length has its whole name."""
    words = _words(name)
    side, rest = side_among(words)
    if not side and len(words) > 1:
        for at in (0, -1):
            for one, said in (("low", _SHORT_LOW), ("high", _SHORT_HIGH)):
                if said.fullmatch(words[at]):
                    side, rest = one, words[1:] if at == 0 else words[:-1]
    told = side and any(_LENGTH.fullmatch(one) and not _INTERVAL.fullmatch(one) for one in rest)
    return (side, " ".join(rest)) if told else ("", name.strip())


def _words(name: str) -> list[str]:
    return [word for word in _WORDS.split(name.strip()) if word]


def side_among(
    words: Sequence[str], low: re.Pattern[str] = _LOW, high: re.Pattern[str] = _HIGH
) -> tuple[str, list[str]]:
    """Which end some words say, "" for none, and the others."""
    for side, said in (("low", low), ("high", high)):
        rest = [word for word in words if not said.fullmatch(word)]
        if len(rest) < len(words):
            return side, rest
    return "", list(words)


def owner_of_extreme(column: Column, columns: Sequence[Column]) -> str | None:
    """The mean beside which these are the least or the greatest, None where they are none: there
    is another that says the other end, and what is called as they are, or a mean, or stands right
    before them, everywhere between both."""
    side, of = end_of(column.name)
    if not side:
        return None
    numbers = [one for one in columns if one.kind == NUMBER]
    others = [one for one in numbers if end_of(one.name) == (_OTHER[side], of)]
    if not others or column.kind != NUMBER:
        return None
    ends = (column, others[0])
    nameless = not of or of.endswith("%")
    inner = [one for one in numbers if not end_of(one.name)[0]]
    means = [one for one in inner if of and plain(one.name) == plain(of)]
    means += [one for one in inner if _MEAN.fullmatch(one.name.strip())
              and (nameless or plain(of) in plain(one.name))]  # fmt: skip
    # by their names: comparing columns takes long where there are many
    names = [one.name for one in columns]
    first = min(names.index(one.name) for one in ends)
    means += [one for one in inner if nameless and first and one is columns[first - 1]]
    sure = any(map(_SURE.fullmatch, _words(column.name)))
    return next((one.name for one in means if sure or _is_between(one, ends)), None)


def _is_between(of: Column, ends: Sequence[Column]) -> bool:
    """Whether readings are everywhere between ends in the same unit."""
    sides = np.sort([one.numbers for one in ends], axis=0)
    with np.errstate(invalid="ignore"):
        out = (of.numbers < sides[0]) | (of.numbers > sides[1])
    return not out.any() and all(one.unit in ("", of.unit) for one in ends)


def plain(text: str) -> str:
    """The letters and digits of a name, small, to compare it."""
    return re.sub(r"[\W_]+", "", text.casefold())
