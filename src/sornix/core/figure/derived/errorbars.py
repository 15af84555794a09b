"""The error bars that a table gives its columns: lengths in a column, or the least and the greatest
beside a mean."""

import re
from collections.abc import Sequence

from sornix.core.figure.derived.roles import EXTREME, UNCERTAINTY, Seen
from sornix.core.figure.derived.spreads import end_of, length_of, side_among
from sornix.core.figure.model.series import ErrorBars
from sornix.core.patterns import pattern
from sornix.core.readings import Column

# Ends of intervals alone
_BEGIN = pattern(r"start|begin(?:ning)?|from|left|lo", re.IGNORECASE)
_END = pattern(r"end|stop|to|right|hi", re.IGNORECASE)
_WORD = pattern(r"[\s_]+")
_BOTH = 2


def error_bars(seen: Sequence[Seen]) -> dict[str, ErrorBars]:
    """The error bars of columns by their names."""
    lengths: dict[str, dict[str, str]] = {}
    ends: dict[str, dict[str, str]] = {}
    for one in seen:
        name = one.column.name
        if one.role == UNCERTAINTY:
            lengths.setdefault(one.about, {})[length_of(name)[0]] = name
        elif one.role == EXTREME and one.about:
            ends.setdefault(one.about, {})[end_of(name)[0]] = name
    found = {}
    for owner in (*ends, *lengths):
        bounds, sides = ends.get(owner, {}), lengths.get(owner, {})
        if len(bounds) == _BOTH:
            found[owner] = ErrorBars("bounds", column=bounds["low"], upper=bounds["high"])
        if "" in sides:
            found[owner] = ErrorBars("column", column=sides[""])
        elif len(sides) == _BOTH:
            found[owner] = ErrorBars("pair", column=sides["low"], upper=sides["high"])
    return found


def is_other_end(column: Column, of: Column | None) -> bool:
    """Whether readings are the upper ends of intervals whose lower ends another column holds."""
    if of is None:
        return False
    words = [_WORD.split(one.name.strip()) for one in (of, column)]
    for way in ((), (_BEGIN, _END)):
        (side, rest), (other, same) = (side_among(one, *way) for one in words)
        if (side, other) == ("low", "high") and rest == same:
            return True
    return False
