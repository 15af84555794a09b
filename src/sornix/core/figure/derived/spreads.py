"""Columns that tell of others how sure they are: uncertainties, least and greatest readings."""

import re
from collections.abc import Sequence

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
_SIDES = pattern(r"(?:low|high|lower|upper|min|max)(?:er)?(?: (?:limit|bound|end))?", re.IGNORECASE)
_EXTREME = pattern(
    r"(?:(?:\d+ ?% ?)?ci[\s_]+)?"
    r"(?:(?:min|max)(?:\.|imum)?|least|greatest|lowest|highest|lower|upper|lcl|ucl|low|high)"
    r"(?:[\s_]+(?P<of>.*))?|(?P<before>.*?)[\s_]+(?:min|max)(?:\.|imum)?",
    re.IGNORECASE,
)
_MEAN = pattern(r"(?:mean|average|avg\.?|median|mittel(?:wert)?|moyenne)\b.*", re.IGNORECASE)
YEARS = ("a", "y", "yr", "yrs", "year", "years")


def owner_of_spread(column: Column, before: Sequence[Column], *, behind: bool) -> str:
    """The column whose uncertainties these are, of those measured `before` it, "" where they are
    none; `behind` is whether the last of them stands right before it."""
    name = column.name.strip()
    match = _SPREAD_FIRST.fullmatch(name) or _SPREAD_LAST.fullmatch(name)
    unit_says = re.fullmatch(_SPREAD, column.unit.strip(), re.IGNORECASE) is not None
    measured = [one for one in before if _can_be_spread(column, one)]
    if match is None and measured and _is_symbol_of_spread(column, measured[-1]):
        return measured[-1].name
    if (match is None and not unit_says) or (column.ends or (0.0, 0.0))[0] < 0:
        return ""
    if match is not None and match["of"] and _SIDES.fullmatch(match["of"].strip()):
        return ""
    of = plain((match["of"] or "") if match is not None else name)
    named = [one.name for one in measured if of and (plain(one.name) == of or (
        len(of) > 2 and (of in plain(one.name) or plain(one.name) in of)))]  # fmt: skip
    if named:
        return named[-1]
    if of and match is not None and not unit_says and _SPREAD_FIRST.fullmatch(name) is None:
        # “Fit error” is about nothing that is here
        return ""
    return measured[-1].name if measured and behind else ""


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


def owner_of_extreme(column: Column, columns: Sequence[Column]) -> str | None:
    """The mean beside which these are the least or the greatest, None where they are none."""
    match = _EXTREME.fullmatch(column.name.strip())
    if match is None:
        return None
    of = plain(match["of"] or match["before"] or "")
    means = [one.name for one in columns if of and plain(one.name) == of]
    means += [one.name for one in columns if _MEAN.fullmatch(one.name.strip())]
    if not means and not of:
        means += _between(column, columns)
    return means[0] if means else None


def _between(column: Column, columns: Sequence[Column]) -> list[str]:
    """The column that stands before lower and upper ends, and everywhere between them."""
    at = columns.index(column)
    ends = [
        one for one in columns
        if (match := _EXTREME.fullmatch(one.name.strip())) and not (match["of"] or match["before"])
    ]  # fmt: skip
    first = columns.index(ends[0])
    if len(ends) != 2 or at < first or not first or columns[first - 1].kind != NUMBER:
        return []
    of = columns[first - 1]
    sides = np.sort([one.numbers for one in ends], axis=0)
    with np.errstate(invalid="ignore"):
        out = (of.numbers < sides[0]) | (of.numbers > sides[1])
    return [] if out.any() or column.unit not in ("", of.unit) else [of.name]


def plain(text: str) -> str:
    """The letters and digits of a name, small, to compare it."""
    return re.sub(r"[\W_]+", "", text.casefold())
