"""Several tables in one text, one below the other."""

import re
from collections import Counter
from collections.abc import Callable, Sequence
from itertools import zip_longest
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import units_in
from sornix.core.readings.cells.marks import Marks, find_marks, is_number, number_in
from sornix.core.readings.layouts.bits import kind_of_cell
from sornix.core.readings.layouts.rows import SEPARATORS, numbered_rows, runs_of
from sornix.core.readings.layouts.weighing import weighed
from sornix.core.readings.tables.dialect import MISSING_MARKS
from sornix.core.readings.tables.table import unique_names

# Longer texts are of one table: loggers write no others.
_MOST_BYTES = 1 << 22
_MOST_ROWS = 200_000
_MISSING = frozenset(MISSING_MARKS)
_FEWEST_SETTINGS, _MOST_TITLES = 4, 6
_LONGEST_TITLE, _AROUND_A_TITLE = 60, " [<>]{}*=#-–—:"
# Names that come again stand in the first lines of a text.
_MOST_ABOVE = 300


# What is said of a measurement above its readings, and no column is called.
_OF_A_FACT = pattern(
    r"(?:operator|user|analyst|instrument|device|serial\b.*|file ?name|software|comments?):?",
    re.IGNORECASE,
)


# What facts are called, and what is said of them.
_FACTS = pattern(
    r"(?:parameters?|settings?|propert(?:y|ies)|name|field|key|item|quantity|parametr(?:e|o)s?)"
    r" ?(?:values?|settings?|wert|valeur|valor)",
    re.IGNORECASE,
)


class Block(NamedTuple):
    """A table within a text: its title or "", and its lines from `begin` to before `end`; the first
    of them are so many `facts`, of two cells with the separator `between` them."""

    title: str
    begin: int
    end: int
    facts: int = 0
    between: str = ""

    def part_of(self, lines: Sequence[bytes]) -> bytes:
        """What it is of a text, which is given as its lines with their ends: facts in one cell, so
        that they are no readings."""
        head = lines[self.begin : self.begin + self.facts]
        facts = [line.replace(self.between.encode(), b":") for line in head]
        return b"".join([*facts, *lines[self.begin + self.facts : self.end]])


def blocks_in(raw: bytes) -> list[Block]:
    """The tables in a UTF-8 text, none where it is one.

    Another table begins where names stand again among numbers: after a blank line, under a title,
    or the same names once more.
    """
    if len(raw) > _MOST_BYTES:
        return []
    layout = weighed(raw)[0]
    separator = layout.separator
    if layout.spacing or separator == " ":
        return _between_spaces(raw)
    if separator not in SEPARATORS or not _may_be_several(raw, separator):
        return []
    rows = numbered_rows(raw, separator, _MOST_ROWS, head=False)
    marks = find_marks((cell for _, row in rows[:300] for cell in row), separator)[0]
    found = _between(rows, _starts(rows, marks), marks, raw.count(b"\n") + 1)
    found = [block._replace(between=separator) for block in found]
    return found if len(found) > 1 or found[0].facts else []


def _between_spaces(raw: bytes) -> list[Block]:
    """The tables of a text whose cells are divided by spaces: where the same line of names comes
    again. What stands right above it are no numbers, and the title."""
    lines = raw.split(b"\n")

    def cells(begin: int, end: int) -> list[list[str]]:
        return [line.decode("utf-8", "ignore").split() for line in lines[begin:end]]

    head = cells(0, _MOST_ABOVE)
    marks = find_marks((cell for row in head for cell in row), " ")[0]
    first = next((at for at in range(len(head) - 1) if _stand_over(head[at : at + 3], marks)), None)
    if first is None:
        return []
    again = (at for at, line in enumerate(lines[:-1]) if line == lines[first])
    names = [at for at in again if _stand_over(cells(at, at + 3), marks)]
    names = [at for at in names if at == names[0] or not _go_on(cells(at - 1, at + 3), marks)]
    if len(names) < 2:
        return []

    def above(at: int) -> str:
        words = cells(at, at + 1)[0]
        told = words and not is_number(words[0], marks) and len(" ".join(words)) <= _LONGEST_TITLE
        return " ".join(words) if told else ""

    titles, tops = _titles([_stack(above, at) for at in names], names)
    # a title alone is told by the name of the table
    begins = [at if at - top < 2 else top for at, top in zip(names, tops, strict=True)]
    begins[0] = 0 if b"".join(lines[: tops[0]]).strip() else begins[0]
    ends = [*tops[1:], len(lines)]
    return [Block(*one) for one in zip(titles, begins, ends, strict=True)]


def _stand_over(rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether the first of some rows holds names of numbers below it, or below their units."""
    names, *below = rows
    # rules are drawn above and below names
    if not _is_names(names, marks) or not all(any(map(str.isalpha, cell)) for cell in names):
        return False
    if len(below) > 1 and units_in(list(below[0]), marks) is not None:
        below = below[1:]
    return len(below[0]) == len(names) and _has_numbers(below[0], marks)


def _between(
    rows: Sequence[tuple[int, list[str]]], starts: Sequence[int], marks: Marks, end: int
) -> list[Block]:
    """The blocks that begin at some places, with their titles; the whole where there is one. What
    is said of a table above it, each with its name, is a part of it."""
    if len(starts) < 2:
        return [Block("", 0, end)]

    def told(at: int) -> str:
        apart = at + 1 not in starts and rows[at + 1][0] - rows[at][0] > 1
        return "" if apart else _title(rows[at][1])

    titles, tops = _titles([_stack(told, at) for at in starts], starts)
    tops[0] = 0
    ends = [*tops[1:], len(rows)]
    cells = [row for _, row in rows]
    begins = [
        0 if i == 0 else _top_of_facts(cells, at, tops[i - 1], marks) for i, at in enumerate(tops)
    ]
    facts = [
        until < len(rows) and _are_facts(cells[begin:until], cells[at], marks)
        for begin, at, until in zip(begins, starts, ends, strict=True)
    ]
    begins = [begin if is_ else at for begin, at, is_ in zip(begins, tops, facts, strict=True)]
    lines = [0, *(rows[at][0] - 1 for at in begins[1:]), end]
    found: list[Block] = []
    above = 0
    for i, title in enumerate(titles):
        if facts[i]:
            above += lines[i + 1] - lines[i]
        else:
            # a title is told by the name of the table, if it is all that stands above the names
            alone = title and not above and begins[i] == starts[i] - 1
            begin = rows[starts[i]][0] - 1 if alone else lines[i] - above
            found.append(Block(title, begin, lines[i + 1], above))
            above = 0
    return found


def _are_facts(rows: Sequence[Sequence[str]], names: Sequence[str], marks: Marks) -> bool:
    """Whether rows are pairs of a name and what is said of it, numbers and others among them, and
    those that could be names as well."""
    pairs = list(map(_filled, rows))
    if not all(_is_fact(pair, marks) for pair in pairs):
        return _are_settings(pairs, marks)
    name = _filled(names)
    if kind_of_cell(name[-1], marks) in "nd" or _OF_A_FACT.fullmatch(pairs[0][0]):
        return True
    told = [pair for pair in pairs if len(pair) == 2]
    # a lone one below two words is no reading
    if len(name) == 2 and (len(told) <= 2 or _FACTS.fullmatch(" ".join(name))):
        return True
    # names stand above numbers, most of all
    others = [pair[1] for pair in pairs if len(pair) == 2 and pair != name]
    return 2 * sum(is_number(cell, marks) or cell in _MISSING for cell in others) <= len(others)


def _are_settings(rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether rows are names with what is set for each of several channels: no column is of
    numbers, and one has numbers among words."""
    told = [row for row in rows if len(row) > 1]
    if len(told) < _FEWEST_SETTINGS or any(is_number(row[0], marks) for row in rows if row):
        return False
    columns = zip_longest(*(row[1:] for row in told[1:]), fillvalue="")
    shares = [[is_number(cell, marks) for cell in column if cell] for column in columns]
    return not any(map(all, shares)) and any(map(any, shares))


def _filled(row: Sequence[str]) -> list[str]:
    """The cells of a row that hold something."""
    return [cell.strip() for cell in row if cell.strip()]


def _is_fact(cells: Sequence[str], marks: Marks) -> bool:
    """Whether cells are a name and what is said of it, or a title of such."""
    return 0 < len(cells) <= 2 and not is_number(cells[0], marks)


def _top_of_facts(rows: Sequence[Sequence[str]], at: int, after: int, marks: Marks) -> int:
    """The place of the first of the facts above a place; the place itself where they would be all
    that stands `after` another."""
    top = at
    while top > after and _is_fact(_filled(rows[top - 1]), marks):
        top -= 1
    return top if top > after else at


def titles_of(titles: Sequence[str], name: str) -> list[str]:
    """What tables of a text or sheet of that name are called: by their titles, or by numbers."""
    return unique_names(title or f"{name} {i + 1}" for i, title in enumerate(titles))


def blocks_among(rows: Sequence[Sequence[str]]) -> list[Block]:
    """The tables below one another in rows of cells, blank rows among them."""
    numbered = [(i + 1, list(row)) for i, row in enumerate(rows) if any(c.strip() for c in row)]
    marks = find_marks((cell for _, row in numbered[:300] for cell in row), "\t")[0]
    return _between(numbered, _starts(numbered, marks), marks, len(rows))


def side_by_side(rows: Sequence[Sequence[str]], width: int) -> list[tuple[int, int]]:
    """The columns, from and to before, of tables beside one another: with a blank column between
    them, and two columns or more each that hold numbers under names."""
    filled = [any(i < len(row) and row[i].strip() for row in rows) for i in range(width)]
    spans = runs_of(filled)
    lengths = {sum(any(c.strip() for c in row[a:b]) for row in rows) for a, b in spans}
    if len(spans) < 2 or any(b - a < 2 for a, b in spans) or len(lengths) < 2:
        return []
    return spans


def _may_be_several(raw: bytes, separator: str) -> bool:
    """Whether a line is blank, a title or the names once more: much faster than to divide all."""
    rows = numbered_rows(raw, separator)
    marks = find_marks((cell for _, row in rows for cell in row), separator)[0]
    at = next((i for i, (_, row) in enumerate(rows) if _has_numbers(row, marks)), None)
    if at is None:
        return False
    begin = 0
    for _ in range(rows[at][0]):
        begin = raw.find(b"\n", begin) + 1
        if not begin:
            return False
    names = raw.split(b"\n", rows[at][0])[rows[at - 1][0] - 1].strip() if at else b""
    if names and raw.find(b"\n" + names, begin) >= 0:
        return True
    lone = rb"^[^" + re.escape(separator.encode()) + rb"\n]*$"
    found = re.compile(lone, re.MULTILINE).search(raw, begin)
    return found is not None and found.start() < len(raw.rstrip())


def _starts(rows: Sequence[tuple[int, list[str]]], marks: Marks) -> list[int]:
    """The places of names that have numbers under them and, but for the first, numbers above."""
    found: list[int] = []
    numbers_since = True
    again = Counter(tuple(row) for _, row in rows)
    for at, (line, row) in enumerate(rows[:-1]):
        counted = again[tuple(row)] > 1 and _are_counted(row)
        if _has_numbers(row, marks) and not counted:
            numbers_since = True
            continue
        if not numbers_since or not (counted or _is_names(row, marks)):
            continue
        under = rows[at + 1][1]
        if units_in(list(under), marks) is not None and at + 2 < len(rows):
            under = rows[at + 2][1]
        if not _has_numbers(under, marks) or abs(len(under) - len(row)) > 1:
            continue
        before = rows[at - 1] if at else (line, [""])
        apart = line - before[0] > 1 or _is_title(before[1])
        if not found or apart or (row == rows[found[0]][1] and _is_alone(rows, found[0], at)):
            numbers_since = False
            if not found or apart or not _go_on([one for _, one in rows[at - 1 : at + 3]], marks):
                found.append(at)
    return found


def _is_alone(rows: Sequence[tuple[int, list[str]]], first: int, at: int) -> bool:
    """Whether no row between has a word of a row in the same column: words that come again there
    are readings."""
    row = rows[at][1]
    between = (one for _, one in rows[first + 1 : at] if one != row)
    return not any(
        cell and cell == other for one in between for cell, other in zip(row, one, strict=False)
    )


def _go_on(rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether readings go on below names that come again: of a reading, the names, perhaps their
    units, and the next reading, this one is later or greater, by its first cells."""
    before, _, *below = rows
    after = next((row for row in below if _has_numbers(row, marks)), [])
    for one, other in zip(before[:2], after[:2], strict=False):
        a, b = _placed(one, marks), _placed(other, marks)
        if a is None or b is None or a > b:
            return False
        if a < b:
            return True
    return False


def _placed(cell: str, marks: Marks) -> float | None:
    """The number or the moment in a cell."""
    number = number_in(cell, marks)
    if number is not None or not any(map(str.isdigit, cell)):
        return number
    from sornix.core.text.moments import parse_moment

    moment = parse_moment(cell)
    return None if moment is None else moment.seconds


def _is_names(row: Sequence[str], marks: Marks) -> bool:
    filled = _filled(row)
    return len(filled) > 1 and not any(
        cell in _MISSING or is_number(cell, marks) for cell in filled
    )


def _are_counted(row: Sequence[str]) -> bool:
    """Whether a row counts the columns of a plate from 1 on, behind a corner that is no number."""
    corner, *counts = [cell.strip() for cell in row] or [""]
    numbers = [str(i + 1) for i in range(len(counts))]
    return len(counts) > 1 and counts == numbers and not corner.isdecimal()


def _has_numbers(row: Sequence[str], marks: Marks) -> bool:
    return len(row) > 1 and any(is_number(cell, marks) for cell in row)


def _is_title(row: Sequence[str]) -> bool:
    filled = [cell for cell in row if cell.strip()]
    return len(filled) == 1 and len(filled[0]) <= _LONGEST_TITLE


def _stack(above: Callable[[int], str], at: int) -> list[str]:
    """What the lines say that stand right above a place, from the uppermost, as long as they may be
    titles: `above` tells what one does, "" for none."""
    found: list[str] = []
    while at > 0 and len(found) < _MOST_TITLES and (title := above(at - 1)):
        found.insert(0, title)
        at -= 1
    return found


def _titles(stacks: Sequence[list[str]], starts: Sequence[int]) -> tuple[list[str], list[int]]:
    """The titles of tables below one another from the lines above each, and where these begin. Of
    several lines the first that is another above each table is its title."""
    depth = min(len(stack) for stack in stacks)
    last = [stack[-1] if stack else "" for stack in stacks]
    if depth < 2:
        return last, [at - bool(title) for at, title in zip(starts, last, strict=True)]
    lines = list(zip(*(stack[-depth:] for stack in stacks), strict=True))
    titles = next((line for line in lines if len(set(line)) == len(line)), lines[-1])
    return list(titles), [at - depth for at in starts]


def _title(row: Sequence[str]) -> str:
    """What a row says that may be a title, "" for others."""
    if not _is_title(row):
        return ""
    title = next(cell.strip() for cell in row if cell.strip())
    # [Peaks], *** Peaks ***, # Peaks
    bare = title.strip(_AROUND_A_TITLE)
    return bare if any(map(str.isalpha, bare)) else title
