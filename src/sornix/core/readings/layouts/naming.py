"""Where the names of columns stand, and the groups that columns are of."""

import itertools
from collections.abc import Sequence
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import (
    are_units_above,
    is_unit,
    parse_heading,
    unit_alone,
    units_in,
)
from sornix.core.readings.cells.marks import Marks, is_number, number_in
from sornix.core.readings.layouts.bits import (
    LOST_NAME,
    LOST_NAMES,
    NO_NAMES,
    NO_READINGS,
    NUMBER_AS_NAME,
    ODD_NAMES,
    PREAMBLE,
    SHIFTED,
    TITLE,
    Weight,
    is_padded,
    kind_of_cell,
)
from sornix.core.readings.layouts.lying import (
    FEW_NUMBERS,
    has_numbers_along,
    lies_on_its_side,
    row_of_dates,
)
from sornix.core.readings.layouts.subnames import names_apart
from sornix.core.text import plural

_NAMED = 0.6
# numbers so many times as far from others as these reach are of another kind
_APART = 5.0
# What a computer calls the kind of a column: <dbl>
_KIND = pattern(r"<[a-z][a-z0-9+]{1,7}>")


class Names(NamedTuple):
    """The place of the row of names, or None; the bits of names that do not fit the columns, and
    why other lines could hold them, or why the table may be `lying` on its side. `groups` are the
    names of groups of columns above them, for each column, where there are any. Names are `shifted`
    where the first column, one of words, has none."""

    at: int | None
    bits: float
    doubt: str = ""
    groups: tuple[str, ...] = ()
    lying: bool = False
    shifted: bool = False


def names_of_rows(
    rows: Sequence[Sequence[str]], weight: Weight, marks: Marks, units: bool | None
) -> Names:
    """Which row holds the names of the columns.

    They stand above the first reading, over a row of units or other rows as wide; in two columns
    only over a row of units, since pairs above a table are its preamble.
    """
    named = _named_above(rows, weight, marks)
    if not named:
        return _names_below(rows, weight, marks)
    width = weight.width
    at, doubt = named[0], ""
    if units is not None:
        at = named[min(int(units), len(named) - 1)]
    elif (over := _above_what_tells_apart(rows, named, weight.first, marks)) is not None:
        at = over
    elif width > 2:
        full = [one for one in named if len(rows[one]) == width and _are_distinct(rows[one])]
        # the uppermost, unless it has numbers or units where another one has names
        at = min(reversed(full), default=at, key=lambda i: _how_odd(rows[i], marks))
        others = [one for one in full if one != at and units_in(list(rows[one]), marks) is None]
        others = [one for one in others if not recurs(rows[one], rows[weight.first :])]
        if others:
            doubt = f"“{', '.join(rows[others[0]][:3])}” may be the names as well."
    elif (better := _above_others(rows, named, marks)) is not None:
        at = better
        below = rows[named[named.index(at) - 1]]
        read = any(cell.strip()[:1].isdigit() for cell in below)
        if units_in(list(below), marks) is None and _are_distinct(below) and not read:
            doubt = f"“{', '.join(below[:3])}” may be the names as well."
    elif len(named) == 2 and at == weight.first - 1 and at == 1 and not are_units_above(rows[0]):
        doubt = f"“{', '.join(rows[0][:3])}” may be the names as well."
    dates = row_of_dates(rows[weight.first :], marks)
    if dates:
        doubt = f"“{dates}” has dates and other rows numbers: the table may lie on its side."
    return Names(
        at, _names_bits(rows, at, weight, marks), doubt, _groups(rows, at, width, marks),
        lying=bool(dates), shifted=_is_shifted(rows, at, weight, marks),
    )  # fmt: skip


def _above_what_tells_apart(
    rows: Sequence[Sequence[str]], named: Sequence[int], first: int, marks: Marks
) -> int | None:
    """The row of names, from below, of which several are one and the row under it, or under units,
    tells them apart; None where there is none."""
    for at in named:
        names = [parse_heading(cell).name for cell in rows[at]]
        for under in range(at + 1, min(at + 3, first)):
            bare = under > at + 1 and units_in(list(rows[at + 1]), marks) is not None
            if names_apart(names, rows[under], rows[first:], marks, bare=bare) is not None:
                return at
    return None


def _how_odd(row: Sequence[str], marks: Marks) -> tuple[int, bool]:
    """How little the cells of a row are like names: a date stands in a title."""
    return sum(kind_of_cell(cell, marks) in "nd" for cell in row), are_units_above(row)


def _above_others(rows: Sequence[Sequence[str]], named: Sequence[int], marks: Marks) -> int | None:
    """The row of names, from below, that stands over units, or has units where the one below it has
    none, or over words for kinds of columns; None where nothing tells it."""
    for below, at in itertools.pairwise(named):
        units, others = ([parse_heading(cell).unit for cell in rows[i]] for i in (at, below))
        united = any(unit and is_unit(unit) for unit in units)
        if (
            units_in(list(rows[below]), marks) is not None
            or (united and not any(others))
            or (not _are_distinct(rows[below]) and _are_distinct(rows[at]))
        ):
            return at
    return None


def _named_above(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> list[int]:
    """The places of rows above the first reading that may hold names, from below."""
    found: list[int] = []
    for at in range(weight.first - 1, -1, -1):
        if not _is_as_wide(rows[at], weight.width):
            break
        if _is_among(rows[at], rows[at + 1 :], marks):
            # what stands below a reading names nothing, unless it is all words
            return [one for one in found if not any(is_number(c, marks) for c in rows[one])]
        read = _comes_again(rows[at], rows[weight.first :], marks)
        if _is_named(rows[at], weight.width, marks) and not read:
            found.append(at)
    return found


def _is_shifted(rows: Sequence[Sequence[str]], at: int, weight: Weight, marks: Marks) -> bool:
    """Whether a row names all columns but the first, which holds words or the numbers of rows."""
    row = rows[at]
    return (
        len(row) == weight.width - 1 > 1
        and _are_distinct(row)
        and not any(is_number(cell, marks) for cell in row)
        # a comma too many may be one of decimals
        and (weight.kinds[:1] == "t" or (weight.spaced and _are_counted(rows[weight.first :])))
    )


def _are_counted(rows: Sequence[Sequence[str]]) -> bool:
    """Whether rows begin with their numbers, from 0 or 1."""
    begun = [row[0].strip() for row in rows if row]
    return len(begun) > 1 and any(
        begun == [str(i + first) for i in range(len(begun))] for first in (0, 1)
    )


def _names_bits(rows: Sequence[Sequence[str]], at: int, weight: Weight, marks: Marks) -> float:
    bits, width = PREAMBLE if at else 0.0, weight.width
    row = rows[at]
    if at == len(rows) - 1:
        bits += NO_READINGS
    if _is_shifted(rows, at, weight, marks):
        bits += SHIFTED
    elif len(row) != width and not is_padded(row, width):
        bits += ODD_NAMES
    bits += NUMBER_AS_NAME * sum(is_number(cell, marks) for cell in row)
    if units_in(list(row), marks) is not None:
        # what stands above units are names, however many
        lost = at > 0 and len(rows[at - 1]) > 1 and _is_named(rows[at - 1], width, marks)
        bits += LOST_NAMES if lost else 0
    return bits


def _names_below(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> Names:
    """Names in what looks like the first reading: numbers as names, or a table of text; none, with
    a doubt, where names stand above that are not as many as the columns."""
    found = _names_within(rows, weight, marks)
    texts = [
        row for row in rows[: weight.first] if len(row) > 1 and _is_named(row, len(row), marks)
    ]
    if found.at is not None or found.doubt or not texts:
        return found
    row = texts[-1]
    cells = plural(weight.width, "cell")
    doubt = f"“{', '.join(row[:3])}” name {len(row)} columns, and rows have {cells}."
    return Names(None, LOST_NAMES + LOST_NAME * len(row), doubt)


def _names_within(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> Names:
    row = rows[weight.first] if weight.first < len(rows) else []
    kinds = [kind_of_cell(cell, marks) for cell in row]
    texts = kinds.count("t")
    if _are_numbered(rows[weight.first :], kinds, weight.width, marks):
        bits = _names_bits(rows, weight.first, weight, marks) - NUMBER_AS_NAME * kinds.count("n")
        sure = kinds[0] == "e" and _count_up(row, kinds, marks) and len(row) > FEW_NUMBERS
        said = f"“{', '.join(filter(None, row[:4]))}” may be readings as well as names."
        groups = _groups(rows, weight.first, weight.width, marks)
        return Names(weight.first, bits, "" if sure else said, groups)
    # a row of numbers with words that come again is no row of names
    again = _comes_again(row, rows[weight.first + 1 :], marks)
    alone = weight.width > 2 and sum(bool(cell.strip()) for cell in row) == 1
    if not texts or again or alone or len(row) < weight.width * _NAMED:
        return Names(None, NO_NAMES + (TITLE if weight.first else 0))
    at = weight.first
    above = at > 0 and _is_among(rows[at - 1], rows[at:], marks)
    if above or _is_among(row, rows[at + 1 :], marks):
        said = f"“{', '.join(row[:3])}” may be the names as well."
        return Names(None, NO_NAMES + (TITLE if weight.first else 0), said)
    bits = _names_bits(rows, weight.first, weight, marks)
    if _count_up(row, kinds, marks):
        bits -= NUMBER_AS_NAME * kinds.count("n")
    strange = any(k == "t" and usual != "t" for k, usual in zip(kinds, weight.kinds, strict=False))
    if lies_on_its_side(rows, weight.first):
        said = f"“{row[0]}” stands among names in the first column"
        said += ": the table may lie on its side."
        return Names(weight.first, bits, said, lying=True)
    if has_numbers_along(rows[weight.first :], kinds, marks):
        said = f"“{row[0]}” stands over words, with numbers beside it"
        said += ": the table may lie on its side."
        return Names(weight.first, bits, said, lying=True)
    # years and doses are whole numbers
    broken = any(k == "n" and not c.strip().isdigit() for k, c in zip(kinds, row, strict=True))
    if (strange and not broken) or texts == len(row) or _count_up(row, kinds, marks):
        return Names(weight.first, bits)
    return Names(weight.first, bits, f"“{', '.join(row[:3])}” may be readings as well as names.")


def _are_numbered(
    rows: Sequence[Sequence[str]], kinds: Sequence[str], width: int, marks: Marks
) -> bool:
    """Whether columns have numbers as names, in the first row: rising ones beside an empty corner,
    or evenly rising ones far from all that stands below them, as years do."""
    row, below = rows[0] if rows else [], [one for one in rows[1:] if len(one) == width]
    if len(row) != width or len(below) < 2:
        return False
    if kinds[0] == "e" and set(kinds[1:]) == {"n"} and width > 2:
        rising = [number_in(cell, marks) or 0.0 for cell in row[1:]]
        cornered = all(one[0].strip() for one in below)
        return cornered and all(a < b for a, b in itertools.pairwise(rising))
    if set(kinds) != {"n"} or not _count_up(row, kinds, marks):
        return False
    columns = zip(row, *below, strict=True)
    return not any(_is_near(name, cells, marks) for name, *cells in columns)


def _is_near(name: str, cells: Sequence[str], marks: Marks) -> bool:
    """Whether a number may be one of those below it."""
    values = [one for cell in cells if (one := number_in(cell, marks)) is not None]
    low, high = min(values, default=0.0), max(values, default=0.0)
    at = number_in(name, marks) or 0.0
    return len(values) < 2 or max(at - high, low - at) <= _APART * (high - low)


def _is_among(row: Sequence[str], rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether a row is like those below it: words over words, dates over dates, and numbers that
    are near the others and do not rise, as numbers that are names do."""
    kinds = [kind_of_cell(cell, marks) for cell in row]
    if not {"n", "d", "q"}.intersection(kinds):
        return False
    below = [one for one in rows if len(one) == len(row)]
    numbers = [one for cell in row if (one := number_in(cell, marks)) is not None]
    rising = len(numbers) > 1 and all(a < b for a, b in itertools.pairwise(numbers))
    if len(below) < 2 or rising:
        return False
    return all(
        kind_of_cell(cells[0], marks) == kind and (kind != "n" or _is_near(cell, cells, marks))
        for kind, cell, *cells in zip(kinds, row, *below, strict=True)
    )


def _count_up(row: Sequence[str], kinds: Sequence[str], marks: Marks) -> bool:
    """Whether the numbers among names count up evenly, as years and the columns of plates do."""
    found = [number_in(cell, marks) for cell, kind in zip(row, kinds, strict=True) if kind == "n"]
    steps = {b - a for a, b in itertools.pairwise([one for one in found if one is not None])}
    return len(steps) == 1 and min(steps) >= 1 and all(s.is_integer() for s in steps)


def _groups(rows: Sequence[Sequence[str]], at: int, width: int, marks: Marks) -> tuple[str, ...]:
    """The groups in the row above the names: each cell that is filled begins one."""
    above = [cell.strip() for cell in rows[at - 1]] if at else []
    # names that hold their own units need none
    units = len(above) == width and are_units_above(above) and not any(
        parse_heading(cell).unit for cell in rows[at]
    )  # fmt: skip
    if units and _is_named(above, width, marks):
        return tuple(above)
    filled = [cell for cell in above if cell]
    names = [cell.strip() for cell in rows[at] if cell.strip()]
    # pairs above a table are its preamble, not groups
    wanted = filled and (
        len(set(names)) < len(names)
        or (
            len(filled) > 1
            and (not above[0] or _completes(above, rows[at], first=_are_titles(rows[: at - 1])))
        )
        or (len(filled) > 1 and units)
    )
    if len(above) != width or len(filled) == width or not wanted:
        return ()
    # years may be groups, but what could be readings stands above names that are all different
    if any(is_number(cell, marks) for cell in filled) and len(set(names)) == len(names):
        return ()
    found: list[str] = []
    group = ""
    for cell, name in zip(above, rows[at], strict=False):
        group = cell or group
        # what has no name of its own, and none above it, stands between groups
        found.append(group if cell or name.strip() else "")
    return tuple(found)


def _are_titles(rows: Sequence[Sequence[str]]) -> bool:
    """Whether each of some rows, if there are any, has one cell that holds something."""
    return all(sum(bool(cell.strip()) for cell in row) == 1 for row in rows)


def _completes(above: Sequence[str], names: Sequence[str], *, first: bool) -> bool:
    """Whether the first column, which has no name of its own or only a unit, has it in the row
    above, which is the `first` of all: a name that reaches over both rows, or stands in both."""
    own = names[0].strip()
    bare = own in ("", above[0]) or bool(unit_alone(own))
    return bare and first and not above[0].endswith(":") and not (above[1] and is_unit(above[1]))


def _comes_again(row: Sequence[str], below: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether a row has a number, and words that come again below it: 1.5 mA."""
    kinds = [kind_of_cell(cell, marks) for cell in row]
    words = [cell if kind == "t" else "" for cell, kind in zip(row, kinds, strict=True)]
    return "n" in kinds and recurs(words, below)


def recurs(row: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether a row has words, such as <LOD, that stand in the same columns below it: it is one of
    readings then."""
    words = [{*map(str.strip, column)} for column in itertools.zip_longest(*below, fillvalue="")]
    return any(cell.strip() and cell.strip() in known
               for cell, known in zip(row, words, strict=False))  # fmt: skip


def _is_as_wide(row: Sequence[str], width: int) -> bool:
    return _NAMED * width <= len(row) <= width or is_padded(row, width)


def _is_named(row: Sequence[str], width: int, marks: Marks) -> bool:
    filled = [cell for cell in row if cell.strip()]
    if all(_KIND.fullmatch(cell.strip()) for cell in filled):
        return False
    return len(filled) >= max(1, _NAMED * width) and not all(is_number(c, marks) for c in filled)


def _are_distinct(row: Sequence[str]) -> bool:
    names = [cell.strip() for cell in row]
    return all(names) and len(set(names)) == len(names)
