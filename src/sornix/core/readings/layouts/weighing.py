"""Which layout explains a text best.

Every layout that a text allows is weighed by the bits that it takes to write the first rows down
in it, and the lightest is taken (shortest description: J. Rissanen, Automatica 14 (1978) 465–471).
A digit of a number takes fewer bits than a letter; a cell that is not of its column's kind, a row
that is not of the usual width, and names that do not fit the columns take some more. So nothing is
decided before all has been looked at: separator, marks, preamble, names and the first reading.
"""

from collections import Counter
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, find_marks, is_number
from sornix.core.readings.layouts.between import lines_under
from sornix.core.readings.layouts.bits import (
    AGAINST_EVEN,
    BITS_OF,
    BY_CHANCE,
    DIGIT,
    EMPTY,
    FAREWELL,
    LETTER,
    NUMBERS_ALONE,
    ODD_CELL,
    ODD_ROW,
    Weight,
    is_padded,
    kind_of_cell,
)
from sornix.core.readings.layouts.naming import Names, names_of_rows
from sornix.core.readings.layouts.rows import (
    HEAD_BYTES,
    SEPARATORS,
    UNDIVIDED,
    head_of,
    numbered_rows,
)
from sornix.core.readings.layouts.spacing import COLUMNS, SPACED, spaced_head

# Layouts whose weights differ by less are as good as one another.
_NEAR, _NEAR_SHARE = 12.0, 0.02
_FEW_ROWS = 150
# so many times as heavy is a layout without names where a sign divides names and rows evenly
_NAMELESS = 3.0
_MOST_WIDTHS = 3
# so many places of the first reading are looked at, unless they are this much heavier
_MOST_STARTS, _FAR = 6, 150.0
# A preamble longer than this is a document, not a preamble.
_MOST_PREAMBLE = 60
# Under so many rows others may be a farewell.
_LEAST_ABOVE = 2
# a text is asked for more than once while it is read
_MOST_TEXTS = 4
_WHOLE = pattern(r"[+\-−]?(?:0|[1-9]\d*)")
Rows = Sequence[tuple[int, list[str]]]


class Layout(NamedTuple):
    """A layout: what divides cells (`separator`, or a way of SPACED, or ""), the line of the names
    (0 for none), the line of the first reading, and the bits that the first rows take in it.
    `names_doubt` says why other lines could hold the names, or why the table may be `lying` on its
    side; `groups` are the groups that columns
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
    # the line where what is neither names, units nor readings begins, and how many such lines
    under: tuple[int, int] | None = None
    # whether all rows are of this width
    even: bool = False
    lying: bool = False
    # whether the first column has no name
    shifted: bool = False


def weighed(
    raw: bytes, separators: Sequence[str] = (), *, units: bool | None = None
) -> list[Layout]:
    """The layouts that a UTF-8 text allows, the lightest first; of some `separators` alone where
    they are given (a space stands for any run of them, COLUMNS for columns of letters, UNDIVIDED
    for one column).
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
        if separator in (*SEPARATORS, UNDIVIDED)
        and (separators or separator.encode() in raw[:HEAD_BYTES])
    ]
    for spacing in SPACED:
        if not separators or (COLUMNS if spacing == COLUMNS else " ") in separators:
            head = spaced_head(raw, spacing)
            if head is not None:
                layout = _weighed(numbered_rows(head, "\t", _FEW_ROWS), "\t", spacing, units)
                found += [layout] if layout.width > 1 else []
    if not separators and b"\t" not in raw:
        rows = numbered_rows(raw, "\t", _FEW_ROWS)
        if _is_one_column(rows):
            found.append(_weighed(rows, "\t", "", units))
    if any(
        one.even and one.width > 1 and one.header and not (one.before or one.spacing)
        for one in found
    ):
        # a sign that stands as often in the names as in each row divides them
        found = [
            # the more of a layout that would lose the names
            one._replace(bits=(AGAINST_EVEN if one.header else _NAMELESS) * one.bits + BY_CHANCE)
            if one.spacing or one.width == 1 or not one.even
            else one
            for one in found
        ]
    if not found:
        found = [_weighed(numbered_rows(raw, ",", _FEW_ROWS), ",", "", units)]
    return tuple(sorted(found, key=lambda layout: layout.bits))


def _is_one_column(rows: Rows) -> bool:
    """Whether lines are numbers with decimal commas under a name that has no comma."""
    cells = [row[0].strip() for _, row in rows]
    comma = Marks(",")
    named = len(cells) > 1 and "," not in cells[0] and not is_number(cells[0], comma)
    return named and all(is_number(cell, comma) for cell in cells[1:])


def decimal_line(raw: bytes, layout: Layout) -> str:
    """The first line of a nameless text that commas divide into pairs of whole numbers, where each
    line may as well be one number with a decimal comma; else ""."""
    if (layout.separator, layout.width, layout.header, layout.before) != (",", 2, 0, 0):
        return ""
    rows = [row for _, row in numbered_rows(raw, ",", _FEW_ROWS)]
    if not all(len(row) == 2 and _WHOLE.fullmatch(row[0]) and row[1].isdecimal() for row in rows):
        return ""
    parts = [part for _, part in rows]
    # numbers are written with as many digits each, or without zeros at their end
    fixed = len(set(map(len, parts))) == 1
    shortest = not any(len(part) > 1 and part.endswith("0") for part in parts)
    return ",".join(rows[0]) if fixed or shortest else ""


def separator_doubt(layouts: Sequence[Layout]) -> Layout | None:
    """Another layout that is as good as the lightest and divides the text otherwise."""
    best = layouts[0]
    for other in layouts[1:]:
        # what a separator divides may stand in columns of letters by chance
        chance = other.spacing == COLUMNS and not best.spacing
        # a tab is a wide space too
        same = best.separator == "\t" and other.separator == "\t" and best.width == other.width
        near = (
            not chance and not same and other.bits - best.bits < max(_NEAR, _NEAR_SHARE * best.bits)
        )
        if near and other.width > 1 and not (best.spacing and other.spacing):
            return other
    return None


def _weighed(rows: Rows, separator: str, spacing: str, units: bool | None) -> Layout:
    """The layout of rows of cells: the lightest of those that have one of the usual widths."""
    if not rows:
        return Layout(separator, spacing, 1, 1, 0, 0.0, 0)
    cells = [row for _, row in rows]
    marks = find_marks((cell for row in cells for cell in row), separator)[0]
    weight, names = weighed_rows(
        cells, marks, units=units, ragged=not spacing, below=_below_blanks(rows)
    )
    # what is laid out in columns of letters may also be so by chance
    bits = weight.bits + names.bits + (BY_CHANCE if spacing == COLUMNS else 0)
    line = rows[names.at][0] if names.at is not None else 0
    first = rows[min(weight.first, len(rows) - 1)][0]
    before = names.at if names.at is not None else weight.first
    under = lines_under(rows, names, weight, marks, units)
    return Layout(
        separator,
        spacing,
        line,
        first,
        before,
        bits,
        weight.width,
        names.doubt,
        names.groups,
        under,
        len(set(map(len, cells))) == 1,
        names.lying,
        names.shifted,
    )


def _below_blanks(rows: Rows) -> int | None:
    """The place of the first row under the last blank line, None where few rows stand above."""
    for at in range(len(rows) - 1, _LEAST_ABOVE - 1, -1):
        line, row = rows[at - 1]
        if rows[at][0] > line + 1 + sum(cell.count("\n") for cell in row):
            return at
    return None


def weighed_rows(
    rows: Sequence[Sequence[str]],
    marks: Marks,
    *,
    units: bool | None = None,
    ragged: bool = True,
    below: int | None = None,
) -> "tuple[Weight, Names]":
    """The lightest of the layouts that rows allow, and where its names stand. Unless they may be
    `ragged`, no cell of a row can be left out: between spaces none would know which. What stands
    from the place `below` on, if any, may be a farewell."""
    widths = Counter(map(len, rows)).most_common(_MOST_WIDTHS)
    weights = [
        weight
        for width, _ in widths
        for weight in _weights(rows, width, marks, ragged=ragged, below=below)
    ]
    found = [(weight, names_of_rows(rows, weight, marks, units)) for weight in weights]
    return min(found, key=lambda one: one[0].bits + one[1].bits)


def lightest(
    rows: Sequence[Sequence[str]], marks: Marks, units: bool | None
) -> tuple[Weight, Names]:
    """The lightest of the layouts with all rows as wide as the widest, with wide ones above those
    below where these are narrower, and with titles and pairs above as they are."""
    lengths = list(map(length_of, rows))
    narrow = max(lengths[len(rows) // 2 :])
    ways = [rows]
    if narrow < len(rows[0]):
        ways.append([row[: max(narrow, n)] for row, n in zip(rows, lengths, strict=True)])
    first = next((at for at, n in enumerate(lengths) if n == len(rows[0])), 0)
    most = 2 if first > _LEAST_ABOVE else 1
    if any(0 < n <= most for n in lengths[:first]):
        ways.append([row[:n] if at < first and n <= most else row
                     for at, (row, n) in enumerate(zip(rows, lengths, strict=True))])  # fmt: skip
    found = [weighed_rows(way, marks, units=units) for way in ways]
    return min(found, key=lambda one: one[0].bits + one[1].bits)


def length_of(row: Sequence[str]) -> int:
    """How many cells a row has up to its last that is not empty."""
    return max((i + 1 for i, cell in enumerate(row) if cell), default=0)


def _weights(
    rows: Sequence[Sequence[str]], width: int, marks: Marks, *, ragged: bool, below: int | None
) -> "list[Weight]":
    """The bits of rows, each before the first reading as free text and each from it on by the kinds
    of its columns; with the places of the first reading that make least of them."""
    kinds = _kinds(rows, width, marks)
    free = [_free(row, marks, kinds) for row in rows]
    bound = [_bound(row, width, kinds, marks, ragged=ragged) for row in rows]
    begin = _farewell(rows, width, below)
    if begin < len(rows):
        bound[begin:] = free[begin:]
        bound[-1] += FAREWELL
    total = sum(bound)
    found = [Weight(total, 0, width, kinds, spaced=not ragged)]
    for i in range(min(len(rows) - 1, _MOST_PREAMBLE)):
        total += free[i] - bound[i]
        found.append(Weight(total, i + 1, width, kinds, spaced=not ragged))
    found.sort(key=lambda one: one.bits)
    return [one for one in found[:_MOST_STARTS] if one.bits < found[0].bits + _FAR]


def _farewell(rows: Sequence[Sequence[str]], width: int, below: int | None) -> int:
    """Where rows begin that are none of the table: those under a blank line that are of other
    widths, and lone texts under rows of several cells."""
    if below is not None and all(len(row) != width for row in rows[below:]):
        return below
    begin = len(rows)
    while width > 1 and begin and len(rows[begin - 1]) == 1 and any(
        map(str.isalpha, rows[begin - 1][0])
    ):  # fmt: skip
        begin -= 1
    return begin if begin > _LEAST_ABOVE else len(rows)


def _kinds(rows: Sequence[Sequence[str]], width: int, marks: Marks) -> str:
    """What the columns hold, as the later rows of a width tell: what stands above a table does not
    stand among them."""
    same = [row for row in rows if len(row) == width]
    found = []
    for column in zip(*same[len(same) // 2 :], strict=True):
        counts = Counter(kind for cell in column if (kind := kind_of_cell(cell, marks)) != "e")
        found.append(counts.most_common(1)[0][0] if counts else "n")
    return "".join(found)


def _free(row: Sequence[str], marks: Marks, kinds_of: str = "") -> float:
    """The bits of a row as free text, which seldom is mostly of numbers, but for means and the like
    above a table: their name stands where it has numbers or times, by `kinds_of` columns."""
    bits = LETTER * sum(map(len, row)) + (DIGIT + EMPTY) * len(row)
    kinds = [kind_of_cell(cell, marks) for cell in row if cell.strip()]
    named = kinds[:1] == ["t"] and kinds_of[:1] in ("n", "d") and bool(row[0].strip())
    odd = len(row) > 1 and not named and 2 * sum(kind in "nd" for kind in kinds) > len(kinds)
    return bits + (NUMBERS_ALONE if odd or set(kinds) <= {"n", "e"} else 0)


def _bound(row: Sequence[str], width: int, kinds: str, marks: Marks, *, ragged: bool) -> float:
    """The bits of a row by the kinds of the columns."""
    odd = 0.0
    if len(row) != width and not is_padded(row, width):
        # the last cells of a row may be left out
        short = ragged and len(row) < width and _fits(row, kinds, marks)
        if not short:
            return _free(row, marks) + ODD_ROW
        odd = ODD_CELL
    bits = odd + (DIGIT + EMPTY) * len(row)
    for cell, usual in zip(row, kinds, strict=False):
        kind = kind_of_cell(cell, marks)
        if kind != "e":
            bits += BITS_OF[kind] * len(cell.strip())
            # a plain number is none the odder among numbers with units
            bits += ODD_CELL if kind != usual and {kind, usual} != {"n", "q"} else 0
    return bits


def _fits(row: Sequence[str], kinds: str, marks: Marks) -> bool:
    """Whether the cells of a short row are of the kinds of their columns, half of them at least;
    a lone text is a remark."""
    found = [kind_of_cell(cell, marks) for cell in row]
    alone = len(row) == 1 and found[0] == "t"
    return (
        not alone
        and 2 * len(row) >= len(kinds)
        and all(k in ("e", usual) for k, usual in zip(found, kinds, strict=False))
    )
