"""Cells that are divided by spaces, or that stand in columns of letters."""

import re
from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise
from types import MappingProxyType

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import units_in
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.layouts.rows import HEAD_BYTES, first_lines, runs_of

WIDE, ANY, COLUMNS = "wide", "any", "columns"
_OUTER_GAPS = pattern(rb"^[ \t]+|(?<![ \t])[ \t]+(?=\r?$)", re.MULTILINE)
_GAPS = {WIDE: pattern(rb"[ \t]{2,}|\t"), ANY: pattern(rb"[ \t]+")}
_WORDS = pattern(r"\s{2,}")
_NUMBER_FIRST = pattern(r"\s*[-−+]?[.,]?\d")
_LEAST_LINES = 3
# so many lines tell
_HEAD_LINES = 200
_LONGEST = 5000
# a line across the columns stands above a table, not in it
_MOST_ACROSS = 60


def _by_gaps(raw: bytes, spacing: str) -> bytes | None:
    if b" " not in raw:
        return None
    head = first_lines(raw, _HEAD_LINES)
    if 2 * head.count(b"\t") > head.count(b"\n"):
        # where tabs divide, spaces stand within cells
        return None
    return _GAPS[spacing].sub(b"\t", _OUTER_GAPS.sub(b"", raw))


def _spans(head: bytes) -> list[tuple[int, int]]:
    """The columns of letters, from and to, between places that are blank in every line but the
    first quarter, where a preamble stands; none where there are fewer than two."""
    lines = first_lines(head, _HEAD_LINES).decode("utf-8", "ignore").splitlines()
    lines = [line for line in lines if line.strip()]
    if len(lines) < _LEAST_LINES or any("\t" in line for line in lines):
        return []
    lines = lines[len(lines) // 4 :]
    longest = max(len(line.rstrip()) for line in lines)
    if longest > _LONGEST:
        return []
    rows = [line.ljust(longest) for line in lines]
    filled = [any(row[i] != " " for row in rows) for i in range(longest)]
    spans = runs_of(filled)
    # names may begin further left than the numbers under them
    spans[:1] = [(0, end) for _, end in spans[:1]]
    # one line with spaces among others without any makes no columns
    filled_lines = sum(sum(bool(row[a:b].strip()) for a, b in spans) > 1 for row in rows)
    return spans if len(spans) > 1 and 2 * filled_lines >= len(rows) else []


def _by_columns(raw: bytes, _spacing: str) -> bytes | None:
    """None also where a line far down stands across the places between columns."""
    spans = _spans(raw[:HEAD_BYTES])
    if not spans:
        return None
    gaps = list(zip((end for _, end in spans), (begin for begin, _ in spans[1:]), strict=False))
    last, found, across, readings = spans[-1][0], list[str](), "", False
    for number, line in enumerate(raw.decode("utf-8", "replace").splitlines(keepends=True)):
        bare = line.rstrip("\r\n")
        words = _WORDS.split(bare.strip())
        if not readings and _NUMBER_FIRST.match(bare):
            readings = True
            if len(across.split()) == len(spans):
                # as many words right above the readings are names, though they stand elsewhere
                found[-1] = "\t".join(across.split()) + "\n"
        across = ""
        cells = [bare[a:b].strip() for a, b in spans[:-1]] + [bare[last:].strip()]
        if number <= _MOST_ACROSS and len(words) == len(spans):
            # names and units need not stand where the numbers under them do
            cells = words
        elif not any(bare[a:b].strip() for a, b in gaps):
            if not readings and "" in cells and len(bare.split()) == len(spans):
                # as many words, of which two stand where one number does
                cells = bare.split()
        elif number > _MOST_ACROSS:
            return None
        else:
            # a title
            cells, across = [bare.strip()], bare
        found.append(("\t".join(cells) if bare.strip() else "") + line[len(bare) :])
    return "".join(found).encode()


_TOKENS = (pattern(r"\S+(?: \S+)*"), pattern(r"\S+"))
# so many lines above the readings may hold names
_MOST_ABOVE = 60


def with_units_in_place(raw: bytes) -> bytes:
    """The text with dashes in a line of units where it has none for a name right above it: units
    that stand below other names than the first ones would go to these."""
    head = first_lines(raw, _MOST_ABOVE)
    lines = head.decode("utf-8", "ignore").splitlines(keepends=True)
    if any(sign in head for sign in (b"\t", b";")) or b"  " not in head:
        return raw
    for at, (names, units) in enumerate(pairwise(lines)):
        below = [line for line in lines[at + 2 : at + 2 + _LEAST_LINES] if line.strip()]
        found = _in_place(names, units, below) if below and "," not in names else ""
        if found:
            begin = len("".join(lines[: at + 1]).encode())
            return raw[:begin] + found.encode() + raw[begin + len(units.encode()) :]
    return raw


def _in_place(names: str, units: str, below: Sequence[str]) -> str:
    """A line of units with a dash for each of the names that has none; "" where it is no such line,
    or has one for each."""
    for tokens in _TOKENS:
        above, own = ([*tokens.finditer(line.rstrip())] for line in (names, units))
        read = [len(tokens.findall(line)) for line in below if _NUMBER_FIRST.match(line)]
        if not 0 < len(own) < len(above) or len(above) not in read:
            continue
        if units_in([one[0] for one in own], Marks()) is None:
            continue
        middles = [(one.start() + one.end()) / 2 for one in above]
        places = [
            min(range(len(above)), key=lambda i: abs(middles[i] - (one.start() + one.end()) / 2))
            for one in own
        ]
        if places == sorted(set(places)):
            cells = ["-"] * len(above)
            for place, one in zip(places, own, strict=True):
                cells[place] = one[0]
            return "   ".join(cells) + units[len(units.rstrip("\r\n")) :]
    return ""


# The ways in which spaces divide, each a function that puts tabs in their place, None where there
# is nothing to divide.
SPACED: Mapping[str, Callable[[bytes, str], bytes | None]] = MappingProxyType(
    {WIDE: _by_gaps, ANY: _by_gaps, COLUMNS: _by_columns}
)


def spaced(raw: bytes, spacing: str) -> bytes | None:
    """A text with tabs between its cells, as a way of SPACED divides it; None where it does not."""
    return SPACED[spacing](raw, spacing)


def spaced_head(raw: bytes, spacing: str) -> bytes | None:
    """The first lines of a text in the same way, None where it has no spaces to divide."""
    head = first_lines(raw, _HEAD_LINES)
    return SPACED[spacing](head, spacing)
