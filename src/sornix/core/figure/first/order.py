"""Names that follow one another by themselves."""

import re
from collections.abc import Sequence

from sornix.core.patterns import pattern
from sornix.core.readings import Column
from sornix.core.readings.cells.forms import are_spans_of_years
from sornix.core.readings.cells.header import is_unit
from sornix.core.text.months import MONTH_NUMBERS

_STEPS = frozenset(
    re.findall(
        r"[a-z]+",
        "week woche semaine day tag hour minute month quarter q dose level step stage cycle "
        "generation year age",
    )
)
_QUESTION = pattern(r"question|item|statement|frage", re.IGNORECASE)
_QUARTERS, _FEW_NUMBERED = 4, 5
_SEASONS = (
    ("spring", "summer", "autumn", "winter"), ("spring", "summer", "fall", "winter"),
    ("winter", "spring", "summer", "autumn"), ("winter", "spring", "summer", "fall"),
    ("frühling", "sommer", "herbst", "winter"), ("frühjahr", "sommer", "herbst", "winter"),
    ("printemps", "été", "automne", "hiver"), ("primavera", "verano", "otoño", "invierno"),
    ("primavera", "estate", "autunno", "inverno"),
)  # fmt: skip
_DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


def natural_order(words: Sequence[str], of: str = "") -> str:
    """What names are of that follow one another by themselves: months, seasons, days of the week,
    years (2009/10, 2010/11) or numbers (week 1, week 2); "" for others. `of` is what they are
    called: Q1 is no quarter where it is a question."""
    plain = [word.strip().casefold().rstrip(".") for word in words]
    if all(word in MONTH_NUMBERS for word in plain):
        return "months"
    if all(word[:3] in _DAYS and len(word) > 1 for word in plain):
        return "days of the week"
    if tuple(plain) in _SEASONS:
        return "seasons"
    if len(plain) > 1 and are_spans_of_years(plain) and plain == sorted(plain):
        return "years"
    numbers = [re.search(r"\d+(?:[.,]\d+)?", word) for word in plain]
    if len(plain) > 2 and all(numbers):
        values = [float(m[0].replace(",", ".")) for m in numbers if m is not None]
        stems = {re.sub(r"[\d.,\s]+", "", word) for word in plain}
        if all(re.fullmatch(r"\d+[A-Z]", word.strip()) for word in words):
            # 1A, 2A, 3A are places
            return ""
        # 5 mg is an amount, and S5 a name; there are four quarters
        amounts = all(word[0].isdigit() for word in plain)
        if len(stems) == 1 and values == sorted(values):
            stem = stems.pop()
            quarters = values[-1] <= _QUARTERS and not _QUESTION.match(of)
            amount = amounts and (not stem or is_unit(stem))
            if (stem in _STEPS and (stem != "q" or quarters)) or amount:
                return "steps"
    return ""


_DIRECTIONS = frozenset(
    [
        "n",
        "nne",
        "ne",
        "ene",
        "e",
        "ese",
        "se",
        "sse",
        "s",
        "ssw",
        "sw",
        "wsw",
        "w",
        "wnw",
        "nw",
        "nnw",
        "north",
        "east",
        "south",
        "west",
    ]
)


def are_directions(words: Sequence[str]) -> bool:
    """Whether names are points of the compass."""
    return len(words) > 3 and all(word.strip().casefold() in _DIRECTIONS for word in words)


def are_numbered(column: Column) -> bool:
    """Whether words only number what was measured: P1, P2, P3 or mouse 1, mouse 2."""
    words = [str(cell).strip().casefold() for cell in column.values if cell]
    stems = {re.sub(r"[\d\W_]+", "", word) for word in words}
    return (
        len(words) > _FEW_NUMBERED and len(stems) == 1 and all(map(re.compile(r"\d").search, words))
    )
