"""What the readings of a table stand along."""

import re
from collections import Counter
from collections.abc import Sequence

import numpy as np

from sornix.core.figure.derived.roles import (
    CODES,
    CONSTANT,
    EXTREME,
    GROUPS,
    MOMENT,
    NAMES,
    NUMBERED,
    ONCE_MORE,
    QUANTITY,
    UNCERTAINTY,
    YEAR,
    Seen,
)
from sornix.core.figure.derived.runs import (
    chosen,
    distinct,
    is_depth,
    is_even,
    repeats,
    steadiness,
)
from sornix.core.figure.first.alike import alike, go_together
from sornix.core.figure.first.order import are_directions, are_numbered, natural_order
from sornix.core.figure.first.way import Along
from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, Column
from sornix.core.readings.tables.rule import GoingOn
from sornix.core.text.names import name_stem

# More names than this are not read one by one.
_MANY_NAMES = 16
_MOST_GROUPS, _LEAST_IN_GROUP = 8, 3
# Numbers of rows, which no axis needs; others number something.
_ROWS = pattern(
    r"#|no\.?|nos\.?|nr\.?|n°|ids?|index|idx|rows?|num(?:ber|éro|mer|\.)?|rec(?:ord|\.)?|entry"
    r"|lfd\.? ?nr\.?|lp\.?|s(?:r|erial)?\.? ?no\.?|obs(?:ervation|\.)?|column \d+|unnamed.*|",
    re.IGNORECASE,
)
# Where peaks were found that have names.
_FOUND_AT = pattern(r"(?:retention time|r\.?t\.?|t_?r|m/z)", re.IGNORECASE)
_TIMED = pattern(r"(?:elapsed|time|zeit|temps|tiempo|tempo)\b", re.IGNORECASE)
_BEFORE_AND_AFTER = (("before", "after"), ("start", "end"), ("initial", "final"), ("pre", "post"))
# What is done one after the other, so that readings stand along it whatever was measured.
_IN_TURN = pattern(
    r"(?:\w+ )?(?:fraction|injection|trial|shot|scan|subgroup|order|mode|harmonic|step|iteration"
    r"|epoch|round"
    r"|sweep|pulse|lap)s?"
    r"(?: ?(?:no\.?|nr\.?|#))?|n",
    re.IGNORECASE,
)


def along_what(seen: Sequence[Seen]) -> Along:
    """What the readings stand along."""
    drawn = [one for one in seen if one.drawn]
    numbers = [one.column for one in drawn if one.role in (QUANTITY, CODES)]
    # what stands for another stands where that one does
    places = [(one.column.name, one.about if one.role == ONCE_MORE else "") for one in seen]
    numbers.sort(key=lambda c: next(i for i, names in enumerate(places) if c.name in names))
    if not numbers:
        return Along(None, "", "there is one column of numbers")
    return _along_order(seen, drawn) or _along_words_or_numbers(seen, drawn, numbers)


def _along_order(seen: Sequence[Seen], drawn: Sequence[Seen]) -> Along | None:
    """What came one after the other by itself: times, years, what was done in turn."""
    moments = [one.column for one in drawn if one.role == MOMENT and one.column.count > 1]
    gone_on = [one.column for one in seen if isinstance(one.column.rule, GoingOn)]
    if gone_on and len(moments) == 1:
        return Along(gone_on[0], MOMENT, f"“{moments[0].name}” goes on over midnight")
    parts = {name for one in moments if one.rule is not None for name in one.rule.inputs()}
    moments = [one for one in moments if one.name not in parts]
    if moments:
        best = max(moments, key=lambda c: (steadiness(c), -moments.index(c)))
        return Along(best, MOMENT, f"“{best.name}” is a time")
    first = seen[0].column
    if _IN_TURN.fullmatch(first.name.strip()) and first.is_whole and steadiness(first) == 2:
        return Along(first, QUANTITY, f"each “{first.name}” came after the other")
    years = [one.column for one in drawn if one.role == YEAR]
    return Along(years[0], YEAR, f"“{years[0].name}” are years") if years else None


def _along_words_or_numbers(
    seen: Sequence[Seen], drawn: Sequence[Seen], numbers: list[Column]
) -> Along:
    named = _named(drawn)
    if named is not None and named.role == NAMES and len(numbers) > 1:
        # ranks of what has names
        numbers = [c for c in numbers if chosen(c) == 2 or not counts_rows(c)] or numbers
    unsure = {one.about for one in seen if one.role in (UNCERTAINTY, EXTREME)}
    ranked = sorted(numbers, key=lambda c: -_fitness(c, c is numbers[0], c.name in unsure))
    if named is not None and named.role == NAMES and _goes_by_names(named, drawn, ranked):
        return Along(named.column, NAMES, f"each “{named.column.name}” stands once")
    pairs = _numbered_pairs(seen, numbers)
    if pairs is not None:
        return Along(pairs, NAMES, f"each “{pairs.name}” was measured before and after")
    measured = {one.column.name for one in seen if one.role == QUANTITY}
    quantities = [column for column in ranked if column.name in measured]
    if named is not None and named.role == GROUPS and _are_of_groups(named, drawn, quantities):
        return Along(named.column, GROUPS, _of_several(named.column))
    runs = _things(seen)
    if runs and _are_called_in_order(quantities):
        return Along(runs[0], QUANTITY, f"each “{runs[0].name}” has its number")
    if len(quantities) > 1:
        best = quantities[0]
        if chosen(best) == 2 or steadiness(best) == 2:
            why = "goes one way" if steadiness(best) else "is what was chosen"
            return Along(best, QUANTITY, f"“{best.name}” {why}")
        return Along(best, QUANTITY, "there are two columns of numbers")
    if named is not None:
        once = f"each “{named.column.name}” stands once"
        why = once if named.role == NAMES else _of_several(named.column)
        return Along(named.column, named.role, why)
    return _along_what_is_left(seen, ranked, quantities)


def _numbered_pairs(seen: Sequence[Seen], numbers: Sequence[Column]) -> Column | None:
    """The numbers of things that were measured before and after; None where they were not."""
    things = _things(seen)
    if len(numbers) != 2 or not things or things[0].count > _MANY_NAMES:
        return None
    words = [set(re.findall(r"[a-z]+", column.name.casefold())) for column in numbers]
    told = any(a in words[0] and b in words[1] for a, b in _BEFORE_AND_AFTER)
    return things[0] if told and numbers[0].unit == numbers[1].unit else None


def _things(seen: Sequence[Seen]) -> list[Column]:
    """The columns of numbers that are those of things: runs, and not just rows."""
    return [one.column for one in seen if one.role == NUMBERED and _counts_something(one.column)]


def _are_called_in_order(quantities: Sequence[Column]) -> bool:
    """Whether several columns are A, B, C and so on, or one name with such numbers: they are of one
    quantity, and none of them is what the others stand along."""
    names = sorted(column.name.strip() for column in quantities)
    letters = [chr(ord("A") + at) for at in range(len(names))]
    counted = {name_stem(name) for name in names} - set(names)
    return len(names) > 2 and (names == letters or len(counted) == 1)


def _are_of_groups(named: Seen, drawn: Sequence[Seen], quantities: Sequence[Column]) -> bool:
    """Whether several quantities are the same of each group, which come first: roots and shoots."""
    first = drawn[0] is named and len(quantities) > 1 and bool(quantities[0].unit)
    same = first and len(alike(quantities[0], quantities[1:])) == len(quantities)
    return same and not any(map(chosen, quantities)) and not repeats(quantities[0])


def _named(drawn: Sequence[Seen]) -> Seen | None:
    """The words that readings can go by: those of groups rather than the numbers of plots and
    animals that were in them."""
    words = [one for one in drawn if one.role in (NAMES, GROUPS)]
    if any(one.role == GROUPS and _are_many(one.column) for one in words):
        words = [one for one in words if one.role == GROUPS or not are_numbered(one.column)]
    return words[0] if words else None


def _along_what_is_left(
    seen: Sequence[Seen], ranked: Sequence[Column], quantities: Sequence[Column]
) -> Along:
    """What the readings of one quantity stand along where no column is a time or words."""
    codes = [one.column for one in seen if one.role == CODES]
    if codes and quantities:
        why = f"“{codes[0].name}” are few whole numbers that come often"
        return Along(codes[0], CODES, why)
    if codes and len(ranked) > 1:
        return Along(ranked[0], QUANTITY, "there are two columns of numbers")
    runs = _things(seen)
    if runs and quantities:
        return Along(runs[0], QUANTITY, f"each “{runs[0].name}” has its number")
    same = [one.column for one in seen if one.role == CONSTANT]
    if len(same) == len(quantities) == 1:
        why = f"“{same[0].name}” is the same in every row"
        order = [one.column for one in seen]
        # what was chosen stands first, and an answer that never changes is one
        chosen_first = order.index(quantities[0]) < order.index(same[0])
        is_along = chosen_first and steadiness(quantities[0]) == 2
        return Along(quantities[0] if is_along else None, QUANTITY if is_along else "", why)
    return Along(None, "", "there is one column of numbers")


def _of_several(column: Column) -> str:
    of = f"“{column.name}”"
    each = min(_counted(column).values()) > 1
    return f"each {of} has several readings" if each else f"some {of} have several readings"


def _counted(column: Column) -> Counter[str]:
    """How many readings each of some groups has."""
    return Counter(str(cell) for cell in column.values if cell)


def _counts_something(column: Column) -> bool:
    """Whether a column of numbers in a row is called after what it numbers: runs, not just rows."""
    return column.kind == NUMBER and _ROWS.fullmatch(column.name.strip()) is None


def _are_many(column: Column) -> bool:
    """Whether groups are few, with several readings each."""
    counts = _counted(column)
    return 1 < len(counts) <= _MOST_GROUPS and min(counts.values()) >= _LEAST_IN_GROUP


def counts_rows(column: Column) -> bool:
    """Whether a column counts from 0 or 1 on."""
    known = column.known
    return known[0] in (0, 1) and bool((np.diff(known) == 1).all())


def _fitness(column: Column, first: bool, unsure: bool) -> int:
    """How well readings can stand along a column, `first` of all or not. What has error bars of its
    own was measured."""
    named, steady = chosen(column), steadiness(column)
    if unsure:
        return 0
    if named == 2:
        return 6 + steady + is_depth(column)
    if named == 1 and steady == 2:
        # a ramp of temperatures is what its time only tells of
        return 8 if first else 5 if is_even(column) else 3
    if first and steady == 1 and 2 * len(distinct(column.known)[0]) <= column.count:
        # replicates at places in their order
        return 5
    return 2 * steady


def _goes_by_names(named: Seen, drawn: Sequence[Seen], ranked: Sequence[Column]) -> bool:
    """Whether readings go by names that stand once each: where these come first, no column of
    numbers behind them says that it was chosen, and two quantities of them do not go together."""
    words = [str(cell) for cell in named.column.values if cell]
    if natural_order(words, named.column.name) or are_directions(words):
        return True
    in_order = [one.column for one in drawn if one.column in (named.column, *ranked)]
    if in_order[0] is not named.column:
        return False
    best, numbers = ranked[0], [c for c in in_order[1:] if not is_found_at(c)]
    if not numbers:
        return False
    if best not in numbers:
        best = max(numbers, key=chosen)
    many = best.count > _MANY_NAMES
    if chosen(best) == 2 and (best is numbers[0] or many):
        return False
    if (
        many
        and len(numbers) > 1
        and (len(numbers) == 2 or len(alike(numbers[0], numbers[1:2])) == 1)
    ):
        # two quantities of more than can be read one by one are drawn against each other
        return False
    return len(numbers) != 2 or not go_together(*numbers)


def tells_the_same(column: Column, along: Column) -> bool:
    """Whether a column is the time of readings that stand along another as evenly."""
    timed = _TIMED.match(column.name.strip()) is not None and steadiness(column) == 2
    return timed and is_even(column) and steadiness(along) == 2 and is_even(along)


def is_part_of_run(column: Column) -> bool:
    """Whether a column numbers the steps or sweeps that readings were taken in, and never falls."""
    in_turn = _IN_TURN.fullmatch(column.name.strip()) is not None and column.name.strip() != "n"
    return in_turn and column.is_whole and steadiness(column) > 0


def is_found_at(column: Column) -> bool:
    """Whether a column holds where peaks were found that have names."""
    return _FOUND_AT.fullmatch(column.name.strip()) is not None
