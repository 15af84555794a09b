"""What the columns of a table are: what stands along, what was measured, what is not drawn.

Names are looked at only for what the readings themselves leave open.
"""

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.figure.derived.paneldata import remembered
from sornix.core.figure.derived.runs import (
    chosen,
    distinct,
    is_depth_name,
    is_pressure,
    levels,
    repeats,
    steadiness,
)
from sornix.core.figure.derived.spreads import (
    YEARS,
    length_of,
    owner_of_extreme,
    owner_of_spread,
    plain,
)
from sornix.core.figure.derived.workedout import made_of
from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, TEXT, TIME, Column, Table
from sornix.core.readings.tables.column import NAMELESS, pieces
from sornix.core.readings.tables.rule import Counted, DateParts, DayOfYear, Together
from sornix.core.text.names import REMARK_NAME

# Not drawn: nothing or one thing in every cell, numbers of rows, words about readings, the same
# quantity once more in another unit, the least and greatest beside a mean.
EMPTY, CONSTANT, NUMBERED, REMARK, ONCE_MORE, EXTREME = (
    "empty", "constant", "numbered", "remark", "once more", "extreme",
)  # fmt: skip
# Lengths of error bars of another column, and what is none: relative ones, how many there were.
UNCERTAINTY, ABOUT = "uncertainty", "about"
# Where on the map.
PLACE = "place"
# What readings can stand along, and what is measured.
MOMENT, YEAR, NAMES, GROUPS, CODES, QUANTITY = (
    "moment", "year", "names", "groups", "codes", "quantity",
)  # fmt: skip
NOT_DRAWN = (
    EMPTY, CONSTANT, NUMBERED, REMARK, ONCE_MORE, EXTREME, UNCERTAINTY, ABOUT, PLACE,
)  # fmt: skip
# What one end alone is.
_LONE = {EXTREME: QUANTITY, UNCERTAINTY: ABOUT}

_NUMBERED = pattern(
    r"(?:#|no\.?|nos\.?|nr\.?|n°|id|ids|index|idx|row|rows|number|numéro|nummer|record|rec\.?"
    r"|obs\.?|observation|entry|lfd\.? ?nr\.?|sample(?: ?(?:no\.?|nr\.?|id|number))?|probe"
    r"|s(?:r|erial)?\.? ?no\.?|lp\.?|num\.?|reading|run(?: ?no\.?)?|peak ?(?:#|no\.?)?|scan"
    r"|event|unnamed.*|)",
    re.IGNORECASE,
)
_STANDS_FOR = pattern(
    r"(?:level|standard|std\.?|channel|pixel)s?(?: ?(?:no\.?|nr\.?|#))?", re.IGNORECASE
)
_RANK = pattern(r"rank(?:ing)?", re.IGNORECASE)
_WHO = pattern(r"operator|analyst", re.IGNORECASE)
_ABOUT = pattern(
    r"(?:r\.?s\.?d\.?|c\.?v\.?|rel\.? ?(?:sd|se|err(?:or)?\.?)|relative (?:sd|error)"
    r"|relative standard deviation|coefficient of variation)|n|n \(.*"
    r"|.+ in brackets|sample size|replicates|no\. of replicates|lod|loq"
    r"|(?:limit of )?(?:detection|quantification)(?: limit)?",
    re.IGNORECASE,
)
_LATITUDE = pattern(r"lat(?:itude)?|northing|breite|y ?coord(?:inate)?", re.IGNORECASE)
_LONGITUDE = pattern(r"lon(?:g|gitude)?|lng|easting|länge|x ?coord(?:inate)?", re.IGNORECASE)
_YEAR = pattern(r"(?:.*\b)?(?:year|decade|jahr|année|año|anno|rok|år)s?\b.*", re.IGNORECASE)
_CODE = pattern(
    r".*\b(?:treatment|tank|group|plot|block|replicate|rep\.?|batch|class|code|type|station|site|"
    r"channel|plate|cage|lane|pond|mesocosm|cast|transect|haul|dive|survey|visit|category|stage|grade|level)s?(?:[\s_]*(?:no\.?|nr\.?|\d+))?",
    re.IGNORECASE,
)
# What was worked out of a column takes its place where there is one more to draw against it.
_WITH_ANSWER = 2
_LONG_WORDS, _MOST_CODES = 24.0, 8
_FIRST_YEAR, _LAST_YEAR = 1500, 2200
# parts of a date that are years and months
_MONTHS = 2


class Seen(NamedTuple):
    """A column, its role, and the name of the column that it is about, if it is."""

    column: Column
    role: str
    about: str = ""

    @property
    def drawn(self) -> bool:
        return self.role not in NOT_DRAWN


@remembered
def roles(table: Table) -> tuple[Seen, ...]:
    """What each column of a table is."""
    # differences of the largest numbers there are have no end
    with np.errstate(over="ignore", invalid="ignore"):
        return _roles(table)


def _roles(table: Table) -> tuple[Seen, ...]:
    columns = table.columns
    found: list[Seen] = []
    beside = _Beside(
        [one for one in columns if one.kind in (NUMBER, TIME) and one.count],
        any(one.kind == TEXT and _role_of_words(one) == GROUPS for one in columns if one.count),
    )
    for at, column in enumerate(columns):
        found.append(_seen(column, columns, at, found, beside))
    told = _told_by_moments(columns)
    found = [one._replace(role=ONCE_MORE, about=told[one.column.name])
             if one.column.name in told else one for one in found]  # fmt: skip
    found = _without_what_is_about(found)
    found = _without_repeats(found)
    found = _with_who_measured(_with_lone_extremes(found))
    numbers = [one.column for one in found if one.role == QUANTITY]
    worked_out = made_of(numbers) if len(numbers) > _WITH_ANSWER else {}
    return tuple(
        Seen(one.column, ONCE_MORE, worked_out[one.column.name].name)
        if one.role == QUANTITY and one.column.name in worked_out else one
        for one in found
    )  # fmt: skip


def _told_by_moments(columns: Sequence[Column]) -> dict[str, str]:
    """The columns that moments are counted in, or that hold their parts down to days, each with
    that of the moments. Of years and months each says something by itself."""
    found: dict[str, str] = {}
    for column in columns:
        rule = column.rule
        whole = isinstance(rule, DateParts) and len(rule.columns) > _MONTHS
        if rule is not None and (whole or isinstance(rule, Counted | DayOfYear)):
            found |= dict.fromkeys(rule.inputs(), column.name)
        elif isinstance(rule, Together):
            # a day and a time of day say something by themselves, 1430 does not
            numbers = [one.name for one in columns if one.kind == NUMBER]
            found |= {one: column.name for one in rule.inputs() if one in numbers}
    return found


def _without_what_is_about(found: list[Seen]) -> list[Seen]:
    """The roles with places on the map, relative deviations and counts of replicates apart, where
    there is more to draw."""
    numbers = [one for one in found if one.role in (QUANTITY, CODES)]
    names = [one.column.name.strip() for one in numbers]
    mapped = all(any(map(word.fullmatch, names)) for word in (_LATITUDE, _LONGITUDE))
    apart = {}
    named = any(one.role == NAMES for one in found)
    for one, name in zip(numbers, names, strict=True):
        if mapped and (_LATITUDE.fullmatch(name) or _LONGITUDE.fullmatch(name)):
            apart[one.column.name] = PLACE
        elif (_ABOUT.fullmatch(name) and not _is_order(one.column, found[0].column)) or (
            named and _RANK.fullmatch(name)
        ):
            apart[one.column.name] = ABOUT
    if len(apart) == len(numbers):
        return found
    return [one._replace(role=apart.get(one.column.name, one.role)) for one in found]


def _is_order(column: Column, first: Column) -> bool:
    """Whether a column called n holds other than counts of replicates: parts of whole numbers, or
    the orders of what is told behind it, of lines and levels."""
    in_order = column is first and steadiness(column) == 2
    return column.name.strip() == "n" and (not column.is_whole or in_order)


def _with_lone_extremes(found: list[Seen]) -> list[Seen]:
    """The roles with the greatest depths beside mean ones as what they are, and lengths on one side
    as none: error bars have two ends."""
    sides = Counter((one.role, one.about) for one in found)
    return [
        one._replace(role=_LONE[one.role], about="")
        if one.about and sides[one.role, one.about] == 1
        and (one.role == EXTREME or (one.role == UNCERTAINTY and length_of(one.column.name)[0]))
        else one
        for one in found
    ]  # fmt: skip


def _without_repeats(found: list[Seen]) -> list[Seen]:
    """The roles with numbers that begin anew with each group as what they are: they number the
    readings in it."""
    groups = [one.column for one in found if one.role == GROUPS]
    return [
        one._replace(role=NUMBERED)
        if one.role in (QUANTITY, CODES)
        and any(_counts_within(one.column, group) for group in groups) else one
        for one in found
    ]  # fmt: skip


def _counts_within(column: Column, group: Column) -> bool:
    """Whether a column counts from 1 on in every group, and is called after what it counts."""
    if not column.is_whole or column.unit or chosen(column) or not column.present.all():
        return False
    numbers = column.numbers
    anew, steps = numbers[1:] == 1, np.diff(numbers)
    # most columns are told by their numbers alone, and words are slow to walk
    if numbers[0] != 1 or not anew.any() or not (anew | (steps == 1)).all():
        return False
    begins = np.array([a != b for a, b in pairwise(group.values)], dtype=bool)
    return bool(anew[begins].all() and begins.any() and (steps[~begins] == 1).all())


def _with_who_measured(found: list[Seen]) -> list[Seen]:
    """The roles with who measured as groups, where one quantity is there and nothing to draw it
    against."""
    if [one.role for one in found if one.drawn] != [QUANTITY]:
        return found
    return [
        one._replace(role=GROUPS) if one.role == REMARK and _WHO.fullmatch(one.column.name.strip())
        and one.column.kind == TEXT and repeats(one.column) else one
        for one in found
    ]  # fmt: skip


class _Beside(NamedTuple):
    """The columns of numbers of a table, and whether there is one of groups."""

    numbers: list[Column]
    grouped: bool


def _seen(
    column: Column, columns: Sequence[Column], at: int, before: Sequence[Seen], beside: _Beside
) -> Seen:
    if not column.count:
        return Seen(column, EMPTY)
    if column.kind == TEXT:
        return Seen(column, _role_of_words(column))
    values = column.known
    if len(values) > 2 and all(bool((part == values[0]).all()) for part in pieces(values)):
        # the same for all may still be how sure each of another column's is
        owner = _owner_of_spread(column, before) if column.kind == NUMBER else ""
        return Seen(column, UNCERTAINTY, owner) if owner else Seen(column, CONSTANT)
    if column.kind == TIME:
        return Seen(column, MOMENT)
    return _seen_numbers(column, columns, at, before, beside)


def _seen_numbers(
    column: Column, columns: Sequence[Column], at: int, before: Sequence[Seen], beside: _Beside
) -> Seen:
    first = all(one.kind == TEXT for one in columns[:at])
    if _is_numbered(column, beside, first=first):
        return Seen(column, NUMBERED)
    owner = _owner_of_spread(column, before)
    if owner:
        return Seen(column, UNCERTAINTY, owner)
    if (mean := owner_of_extreme(column, columns)) is not None:
        return Seen(column, EXTREME, mean)
    if _is_year(column, column.known):
        return Seen(column, YEAR)
    for one in before:
        if _is_same(one.column, column) and one.drawn:
            return Seen(column, ONCE_MORE, one.column.name)
    code = _is_code(column, column.known, first=column is beside.numbers[0])
    return Seen(column, CODES if code else QUANTITY)


def _role_of_words(column: Column) -> str:
    words = [str(cell) for cell in column.values if cell]
    different = len(set(words))
    if REMARK_NAME.fullmatch(column.name.strip()):
        return REMARK
    if different == 1 and len(words) > 2:
        return CONSTANT
    if _NUMBERED.fullmatch(column.name.strip()) and different == len(words) > 12:
        return NUMBERED
    mean = sum(map(len, words)) / len(words)
    if mean > _LONG_WORDS and different > len(words) / 2:
        return REMARK
    if 2 * column.count < len(column):
        # a word here and there
        return REMARK
    return NAMES if different == len(words) else GROUPS


def _is_numbered(column: Column, beside: _Beside, *, first: bool) -> bool:
    """Whether a column only numbers the rows, by the columns of numbers and of groups `beside`
    it."""
    if not column.is_whole:
        return False
    others = [one for one in beside.numbers if one is not column]
    more = len(others) + beside.grouped > 1
    name, values = column.name.strip(), column.known
    counts_up = bool((np.diff(values) == 1).all()) and values[0] in (0, 1)
    if NAMELESS.fullmatch(name):
        # wavelengths and times need no names; beside one column, places are as good as numbers
        return counts_up and more
    if not _NUMBERED.fullmatch(name):
        # tubes, bottles, animals: numbers of things, where two quantities stand beside them
        thing = not column.unit and len(name) > 1
        if chosen(column):
            # and levels and channels, whose concentrations and energies stand beside them
            thing &= _STANDS_FOR.fullmatch(name) is not None and 2 in map(chosen, others)
        return first and counts_up and thing and more and len(values) > 2
    one_by_one = bool((np.diff(values) == 1).all()) and len(values) > 2
    return (
        one_by_one
        or counts_up
        or (first and len(distinct(values)[0]) == len(values) and bool(column.name))
    )


def _owner_of_spread(column: Column, before: Sequence[Seen]) -> str:
    """The column before a column whose uncertainties it holds, "" where they are none."""
    if before and before[-1].role == UNCERTAINTY:
        (side, rest), (other, same) = (length_of(c.name) for c in (before[-1].column, column))
        if (side, other, rest) == ("low", "high", same):
            return before[-1].about
    found = [one.column for one in before if one.role in (QUANTITY, YEAR, CODES)]
    behind = bool(before) and before[-1].role in (QUANTITY, CODES)
    return owner_of_spread(column, found, behind=behind)


def _is_year(column: Column, values: NDArray[np.float64]) -> bool:
    says = _YEAR.fullmatch(column.name) is not None
    if not (column.is_whole or says) or column.unit not in ("", *YEARS):
        return False
    if not ((values >= _FIRST_YEAR) & (values <= _LAST_YEAR)).all():
        return False
    steps = np.diff(values)
    one_way = bool((steps >= 0).all() or (steps <= 0).all())
    return says or (one_way and bool((np.abs(steps) == 1).all()) and len(values) > 2)


def _is_same(one: Column, other: Column) -> bool:
    """Whether two columns hold one quantity in two units: each is the other times a factor, with an
    offset, to its digits, and both have the same name, or are the depth and its pressure."""
    if one.kind != NUMBER or one.unit == other.unit:
        return False
    if not _same_name(one.name, other.name) and not _are_depth_and_pressure(one, other):
        return False
    both = one.present & other.present
    if both.sum() < 3 or not one.unit or not other.unit:
        return False
    a, b = one.numbers[both], other.numbers[both]
    if np.ptp(a) == 0 or np.ptp(b) == 0:
        return False
    return bool(abs(np.corrcoef(a, b)[0, 1]) > 0.9999)


def _are_depth_and_pressure(one: Column, other: Column) -> bool:
    return any(is_depth_name(a.name) and is_pressure(b) for a, b in ((one, other), (other, one)))


def _same_name(one: str, other: str) -> bool:
    return plain(re.sub(r"\s\d+$", "", one)) == plain(re.sub(r"\s\d+$", "", other))


def _is_code(column: Column, values: NDArray[np.float64], *, first: bool) -> bool:
    """Whether few whole numbers that come often stand for names."""
    if not column.is_whole or column.unit:
        return False
    counts = levels(values, _MOST_CODES)
    if len(counts) < 2 or min(counts.values()) < 2:
        return False
    if _CODE.fullmatch(column.name.strip()) is not None:
        return True
    count_up = sorted(counts) == list(range(1, len(counts) + 1))
    return first and count_up and min(counts.values()) > 2 and not chosen(column)


def to_draw(table: Table) -> list[str]:
    """The columns of numbers in the order in which they are drawn: those that only number rows or
    belong to others come last."""
    numbers = [one for one in roles(table) if one.column.kind == NUMBER and one.column.count]
    return [one.column.name for one in sorted(numbers, key=lambda one: not one.drawn)]


def measured(seen: Sequence[Seen], along: Column | None) -> Iterator[Seen]:
    """What can be drawn upward against a column."""
    for one in seen:
        if one.role in (QUANTITY, YEAR, CODES) and one.column is not along:
            yield one
