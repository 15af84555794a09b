"""The error bars that a table gives its columns: lengths in a column, or the least and the greatest
beside a mean."""

import re
from collections.abc import Sequence

from sornix.core.figure.derived.roles import EXTREME, UNCERTAINTY, Seen
from sornix.core.figure.model.series import ErrorBars
from sornix.core.patterns import pattern
from sornix.core.readings import Column

_LOW = pattern(r"min(?:\.|imum)?|least|lowest|lower|lcl|low", re.IGNORECASE)
_HIGH = pattern(r"max(?:\.|imum)?|greatest|highest|upper|ucl|high", re.IGNORECASE)
# and those of intervals alone
_BEGIN = pattern(r"start|begin(?:ning)?|from|left|lo", re.IGNORECASE)
_END = pattern(r"end|stop|to|right|hi", re.IGNORECASE)
_WORD = pattern(r"[\s_]+")


def error_bars(seen: Sequence[Seen]) -> dict[str, ErrorBars]:
    """The error bars of columns by their names."""
    found = {
        one.about: ErrorBars("column", column=one.column.name)
        for one in seen
        if one.role == UNCERTAINTY
    }
    ends: dict[str, dict[str, str]] = {}
    for one in seen:
        if one.role == EXTREME and one.about:
            side, _ = _side(one.column.name)
            if side:
                ends.setdefault(one.about, {})[side] = one.column.name
    for owner, sides in ends.items():
        if len(sides) == 2 and owner not in found:
            found[owner] = ErrorBars("bounds", column=sides["low"], upper=sides["high"])
    return found


def is_other_end(column: Column, of: Column | None) -> bool:
    """Whether readings are the upper ends of intervals whose lower ends another column holds."""
    if of is None:
        return False
    for low, high in ((_LOW, _HIGH), (_BEGIN, _END)):
        (side, rest), (other, same) = (_side(one.name, low, high) for one in (of, column))
        if (side, other) == ("low", "high") and rest == same:
            return True
    return False


def _side(
    name: str, low: re.Pattern[str] = _LOW, high: re.Pattern[str] = _HIGH
) -> tuple[str, list[str]]:
    """Which end of an interval a name says, "" for none, and its other words."""
    words = _WORD.split(name.strip())
    for side, said in (("low", low), ("high", high)):
        rest = [word for word in words if not said.fullmatch(word)]
        if len(rest) < len(words):
            return side, rest
    return "", words
