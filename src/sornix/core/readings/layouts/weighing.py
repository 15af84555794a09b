"""Which layout explains a text best.

Every layout that a text allows is weighed by the bits that it takes to write the first rows down
in it, and the lightest is taken (shortest description: J. Rissanen, Automatica 14 (1978) 465–471).
A digit of a number takes fewer bits than a letter; a cell that is not of its column's kind, a row
that is not of the usual width, and names that do not fit the columns take some more. So nothing is
decided before all has been looked at: separator, marks, preamble, names and the first reading.
"""

import re
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from sornix.core.readings.layouts.header import units_in
from sornix.core.readings.layouts.marks import Marks, find_marks, is_number
from sornix.core.readings.layouts.rows import HEAD_BYTES, SEPARATORS, head_of, numbered_rows
from sornix.core.readings.layouts.spacing import COLUMNS, SPACED, spaced_head
from sornix.core.readings.tables.dialect import MISSING_MARKS

# Bits of a letter out of 96, of a sign of a number out of 13, of an empty cell.
_LETTER, _DIGIT, _EMPTY = 6.6, 3.7, 2.0
# And of what is not as the rest is, the more of them the more seldom it is in tables:
_ODD_CELL = 12.0  # a cell of another kind than its column
_ODD_ROW = 100.0  # a row of another width, since tables mostly go on to the end
_ODD_NAMES = 300.0  # names that are more or fewer than the columns
_LOST_NAMES, _LOST_NAME = 300.0, 12.0  # names that no column gets, and each of them
_PREAMBLE = 20.0  # lines before the names
_NO_NAMES = 25.0
_TITLE = 40.0  # lines before readings without names
_NUMBER_AS_NAME = 15.0
_BY_CHANCE = 40.0  # columns of letters
_NUMBERS_ALONE = 40.0  # numbers that are no readings
# Layouts whose weights differ by less are as good as one another.
_NEAR, _NEAR_SHARE = 12.0, 0.02
_FEW_ROWS = 150
_MOST_WIDTHS = 3
# so many places of the first reading are looked at, unless they are this much heavier
_MOST_STARTS, _FAR = 6, 150.0
# A preamble longer than this is a document, not a preamble.
_MOST_PREAMBLE = 60
_NAMED = 0.6
_MISSING = frozenset(MISSING_MARKS)
_MOMENT = re.compile(
    r"\d{1,4}([-/.])\d{1,2}\1\d{1,4}"
    r"([ T]\d{1,2}:\d{2}(:\d{2}([.,]\d{1,9})?)?(Z|[+-]\d{2}:?\d{2}| ?[AaPp]\.?[Mm]\.?)?)?"
    r"|\d{1,2}:\d{2}(:\d{2}([.,]\d{1,9})?)?( ?[AaPp]\.?[Mm]\.?)?"
    r"|\d{1,2}\.?[ -][^\W\d]{3,9}\.?[ -]\d{2,4}( \d{1,2}:\d{2}(:\d{2})?)?"
)
# a number with a unit or another word beside it, which mostly is the same in a column
_QUANTITY = re.compile(
    r"[<>≤≥≈~$€£¥] ?[-+−]?\d[\d.,]*|[-+−]?\d[\d.,]* ?(?:[^\W\d_]|[%‰°$€£¥])[^\s,;]{0,12}"
)
_LONG = 40
# cells are looked at once, however many layouts hold them
_MOST_CELLS = 1 << 14
# a text is asked for more than once while it is read
_MOST_TEXTS = 4
_BITS = {"n": _DIGIT, "d": _DIGIT, "q": _DIGIT, "t": _LETTER}
Rows = Sequence[tuple[int, list[str]]]


class Layout(NamedTuple):
    """A layout: what divides cells (`separator`, or a way of SPACED, or ""), the line of the names
    (0 for none), the line of the first reading, and the bits that the first rows take in it.
    `names_doubt` says why other lines could hold the names; `groups` are the groups that columns
    are of."""

    separator: str
    spacing: str
    header: int
    first: int
    before: int
    bits: float
    width: int
    names_doubt: str = ""
    groups: tuple[str, ...] = ()


def weighed(
    raw: bytes, separators: Sequence[str] = (), *, units: bool | None = None
) -> list[Layout]:
    """The layouts that a UTF-8 text allows, the lightest first; of some `separators` alone where
    they are given (a space stands for any run of them, COLUMNS for columns of letters).
    `units` holds that a row of units stands under the names, or none."""
    # a long line may end far behind the head
    head = raw if len(raw) <= 2 * HEAD_BYTES else head_of(raw)
    return list(_weighed_head(head, tuple(separators), units))


@lru_cache(_MOST_TEXTS)
def _weighed_head(
    raw: bytes, separators: tuple[str, ...], units: bool | None
) -> tuple[Layout, ...]:
    found = [
        _weighed(numbered_rows(raw, separator, _FEW_ROWS), separator, "", units)
        for separator in separators or SEPARATORS
        if separator in SEPARATORS and (separators or separator.encode() in raw[:HEAD_BYTES])
    ]
    for spacing in SPACED:
        if not separators or (COLUMNS if spacing == COLUMNS else " ") in separators:
            head = spaced_head(raw, spacing)
            if head is not None:
                layout = _weighed(numbered_rows(head, "\t", _FEW_ROWS), "\t", spacing, units)
                found += [layout] if layout.width > 1 else []
    if not found:
        found = [_weighed(numbered_rows(raw, ",", _FEW_ROWS), ",", "", units)]
    return tuple(sorted(found, key=lambda layout: layout.bits))


def separator_doubt(layouts: Sequence[Layout]) -> Layout | None:
    """Another layout that is as good as the lightest and divides the text otherwise."""
    best = layouts[0]
    for other in layouts[1:]:
        # what a separator divides may stand in columns of letters by chance
        chance = other.spacing == COLUMNS and not best.spacing
        near = not chance and other.bits - best.bits < max(_NEAR, _NEAR_SHARE * best.bits)
        if near and other.width > 1 and not (best.spacing and other.spacing):
            return other
    return None


def _weighed(rows: Rows, separator: str, spacing: str, units: bool | None) -> Layout:
    """The layout of rows of cells: the lightest of those that have one of the usual widths."""
    if not rows:
        return Layout(separator, spacing, 1, 1, 0, 0.0, 0)
    cells = [row for _, row in rows]
    marks = find_marks((cell for row in cells for cell in row), separator)[0]
    weight, names = weighed_rows(cells, marks, units=units, ragged=not spacing)
    # what is laid out in columns of letters may also be so by chance
    bits = weight.bits + names.bits + (_BY_CHANCE if spacing == COLUMNS else 0)
    line = rows[names.at][0] if names.at is not None else 0
    first = rows[min(weight.first, len(rows) - 1)][0]
    before = names.at if names.at is not None else weight.first
    return Layout(
        separator, spacing, line, first, before, bits, weight.width, names.doubt, names.groups
    )


class Weight(NamedTuple):
    """Bits of rows of a width; `first` is the place of the first reading, `kinds` are those of the
    columns: n numbers, d dates and times, q quantities such as 12 mg, t text."""

    bits: float
    first: int
    width: int
    kinds: str


def weighed_rows(
    rows: Sequence[Sequence[str]],
    marks: Marks,
    *,
    units: bool | None = None,
    ragged: bool = True,
) -> "tuple[Weight, Names]":
    """The lightest of the layouts that rows allow, and where its names stand. Unless they may be
    `ragged`, no cell of a row can be left out: between spaces none would know which."""
    widths = Counter(map(len, rows)).most_common(_MOST_WIDTHS)
    weights = [
        weight for width, _ in widths for weight in _weights(rows, width, marks, ragged=ragged)
    ]
    found = [(weight, _names(rows, weight, marks, units)) for weight in weights]
    return min(found, key=lambda one: one[0].bits + one[1].bits)


def _weights(
    rows: Sequence[Sequence[str]], width: int, marks: Marks, *, ragged: bool
) -> "list[Weight]":
    """The bits of rows, each before the first reading as free text and each from it on by the kinds
    of its columns; with the places of the first reading that make least of them."""
    kinds = _kinds(rows, width, marks)
    free = [_free(row, marks) for row in rows]
    bound = [_bound(row, width, kinds, marks, ragged=ragged) for row in rows]
    total = sum(bound)
    found = [Weight(total, 0, width, kinds)]
    for i in range(min(len(rows) - 1, _MOST_PREAMBLE)):
        total += free[i] - bound[i]
        found.append(Weight(total, i + 1, width, kinds))
    found.sort(key=lambda one: one.bits)
    return [one for one in found[:_MOST_STARTS] if one.bits < found[0].bits + _FAR]


def _kinds(rows: Sequence[Sequence[str]], width: int, marks: Marks) -> str:
    """What the columns hold, as the later rows of a width tell: what stands above a table does not
    stand among them."""
    same = [row for row in rows if len(row) == width]
    found = []
    for column in zip(*same[len(same) // 2 :], strict=True):
        counts = Counter(kind for cell in column if (kind := _kind(cell, marks)) != "e")
        found.append(counts.most_common(1)[0][0] if counts else "n")
    return "".join(found)


def _kind(cell: str, marks: Marks) -> str:
    """What a cell holds: n, d, q or t as in Weight, or e for nothing."""
    text = cell.strip()
    return _short_kind(text, marks) if len(text) < _LONG else "t"


@lru_cache(_MOST_CELLS)
def _short_kind(text: str, marks: Marks) -> str:
    if text in _MISSING:
        return "e"
    if is_number(text, marks):
        return "n"
    return "d" if _MOMENT.fullmatch(text) else "q" if _QUANTITY.fullmatch(text) else "t"


def _free(row: Sequence[str], marks: Marks) -> float:
    """The bits of a row as free text, which seldom is of numbers alone."""
    bits = _LETTER * sum(map(len, row)) + (_DIGIT + _EMPTY) * len(row)
    odd = all(_kind(cell, marks) in "en" for cell in row)
    return bits + (_NUMBERS_ALONE if odd else 0)


def _bound(row: Sequence[str], width: int, kinds: str, marks: Marks, *, ragged: bool) -> float:
    """The bits of a row by the kinds of the columns."""
    odd = 0.0
    if len(row) != width and not _is_padded(row, width):
        # the last cells of a row may be left out
        short = ragged and len(row) < width and _fits(row, kinds, marks)
        if not short:
            return _free(row, marks) + _ODD_ROW
        odd = _ODD_CELL
    bits = odd + (_DIGIT + _EMPTY) * len(row)
    for cell, usual in zip(row, kinds, strict=False):
        kind = _kind(cell, marks)
        if kind != "e":
            bits += _BITS[kind] * len(cell.strip())
            bits += _ODD_CELL if kind != usual else 0
    return bits


def _fits(row: Sequence[str], kinds: str, marks: Marks) -> bool:
    """Whether the cells of a short row are of the kinds of their columns, half of them at least;
    a lone text is a remark."""
    found = [_kind(cell, marks) for cell in row]
    alone = len(row) == 1 and found[0] == "t"
    return (
        not alone
        and 2 * len(row) >= len(kinds)
        and all(k in ("e", usual) for k, usual in zip(found, kinds, strict=False))
    )


class Names(NamedTuple):
    """The place of the row of names, or None; the bits of names that do not fit the columns, and
    why other lines could hold them. `groups` are the names of groups of columns above them, for
    each column, where there are any."""

    at: int | None
    bits: float
    doubt: str = ""
    groups: tuple[str, ...] = ()


def _names(
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
    elif width > 2:
        full = [one for one in named if len(rows[one]) == width and _are_distinct(rows[one])]
        at = full[-1] if full else at
        others = [one for one in full if one != at and units_in(list(rows[one]), marks) is None]
        if others:
            doubt = f"“{', '.join(rows[others[0]][:3])}” may be the names as well."
    elif len(named) > 1 and units_in(list(rows[at]), marks) is not None:
        at = named[1]
    return Names(at, _names_bits(rows, at, width, marks), doubt, _groups(rows, at, width, marks))


def _named_above(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> list[int]:
    """The places of rows above the first reading that may hold names, from below."""
    found = []
    for at in range(weight.first - 1, -1, -1):
        if not _is_as_wide(rows[at], weight.width):
            break
        if _is_named(rows[at], weight.width, marks):
            found.append(at)
    return found


def _names_bits(rows: Sequence[Sequence[str]], at: int, width: int, marks: Marks) -> float:
    bits = _PREAMBLE if at else 0.0
    row = rows[at]
    if len(row) != width and not _is_padded(row, width):
        bits += _ODD_NAMES
    bits += _NUMBER_AS_NAME * sum(is_number(cell, marks) for cell in row)
    if units_in(list(row), marks) is not None:
        # what stands above units are names, however many
        lost = at > 0 and len(rows[at - 1]) > 1 and _is_named(rows[at - 1], width, marks)
        bits += _LOST_NAMES if lost else 0
    return bits


def _names_below(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> Names:
    """Names in what looks like the first reading: numbers as names, or a table of text; none, with
    a doubt, where names stand above that are not as many as the columns."""
    found = _names_within(rows, weight, marks)
    texts = [
        row for row in rows[: weight.first] if len(row) > 1 and _is_named(row, len(row), marks)
    ]
    if found.at is not None or not texts:
        return found
    row = texts[-1]
    doubt = f"“{', '.join(row[:3])}” name {len(row)} columns, and rows have {weight.width} cells."
    return Names(None, _LOST_NAMES + _LOST_NAME * len(row), doubt)


def _names_within(rows: Sequence[Sequence[str]], weight: Weight, marks: Marks) -> Names:
    row = rows[weight.first] if weight.first < len(rows) else []
    kinds = [_kind(cell, marks) for cell in row]
    texts = kinds.count("t")
    if not texts or len(row) < weight.width * _NAMED:
        return Names(None, _NO_NAMES + (_TITLE if weight.first else 0))
    bits = _names_bits(rows, weight.first, weight.width, marks)
    strange = any(k == "t" and usual != "t" for k, usual in zip(kinds, weight.kinds, strict=False))
    if strange or texts == len(row):
        return Names(weight.first, bits)
    return Names(weight.first, bits, f"“{', '.join(row[:3])}” may be readings as well as names.")


def _groups(rows: Sequence[Sequence[str]], at: int, width: int, marks: Marks) -> tuple[str, ...]:
    """The groups in the row above the names: each cell that is filled begins one."""
    above = [cell.strip() for cell in rows[at - 1]] if at else []
    filled = [cell for cell in above if cell]
    names = [cell.strip() for cell in rows[at] if cell.strip()]
    # pairs above a table are its preamble, not groups
    wanted = filled and (len(set(names)) < len(names) or (len(filled) > 1 and not above[0]))
    if len(above) != width or len(filled) == width or not wanted:
        return ()
    if any(is_number(cell, marks) for cell in filled):
        return ()
    found: list[str] = []
    for cell in above:
        found.append(cell or (found[-1] if found else ""))
    return tuple(found)


def _is_as_wide(row: Sequence[str], width: int) -> bool:
    return _NAMED * width <= len(row) <= width or _is_padded(row, width)


def _is_padded(row: Sequence[str], width: int) -> bool:
    return len(row) > width and not any(cell.strip() for cell in row[width:])


def _is_named(row: Sequence[str], width: int, marks: Marks) -> bool:
    filled = [cell for cell in row if cell.strip()]
    return len(filled) >= max(1, _NAMED * width) and not all(is_number(c, marks) for c in filled)


def _are_distinct(row: Sequence[str]) -> bool:
    names = [cell.strip() for cell in row]
    return all(names) and len(set(names)) == len(names)
