"""The first rows of a delimited text."""

import csv
import io
import itertools
from collections.abc import Sequence

from sornix.core.patterns import pattern

HEAD_BYTES = 1 << 16
# A line longer than this is not a row of readings.
LONGEST_LINE = 1 << 20
_SAMPLE_ROWS = 300
# the csv module refuses longer cells, and by another separator a whole line is one cell
csv.field_size_limit(LONGEST_LINE)
# a line with its end
LINE = pattern(rb"[^\r\n]*(?:\r\n|\n|\r|$)")
SEPARATORS = (",", ";", "\t", "|")
# divides the lines of one column, in which it does not stand
UNDIVIDED = "\x1f"


def head_of(raw: bytes) -> bytes:
    """The first lines of a text: three at least, however long they are."""
    if len(raw) <= HEAD_BYTES:
        return raw
    end = 0
    for _ in range(3):
        end = raw.find(b"\n", end) + 1 or len(raw)
    return raw[: max(end, raw.rfind(b"\n", 0, HEAD_BYTES) + 1)]


def sample_rows(raw: bytes, separator: str, most: int = _SAMPLE_ROWS) -> list[list[str]]:
    """The first records of a UTF-8 text as lists of cells, blank lines left out."""
    return [row for _, row in numbered_rows(raw, separator, most)]


def numbered_rows(
    raw: bytes, separator: str, most: int = _SAMPLE_ROWS, *, head: bool = True
) -> list[tuple[int, list[str]]]:
    """The first records of a UTF-8 text with the line, from 1, in which each begins; those of its
    head, or all."""
    text = head_of(raw) if head else raw
    lines = io.StringIO(text.decode("utf-8", "ignore"), newline="")
    reader = csv.reader(lines, delimiter=separator)
    rows: list[tuple[int, list[str]]] = []
    line = 1
    for row in itertools.islice(reader, most):
        if any(cell.strip() for cell in row):
            rows.append((line, row))
        line = reader.line_num + 1
    return rows


def first_lines(raw: bytes, count: int) -> bytes:
    """The first lines of a text, not many more bytes than a head has."""
    end = 0
    for _ in range(count):
        end = raw.find(b"\n", end, 2 * HEAD_BYTES) + 1
        if not end:
            return head_of(raw)
    return raw[:end]


def runs_of(filled: Sequence[bool]) -> list[tuple[int, int]]:
    """From and to before which places are filled, each run of them."""
    changes = zip([False, *filled], [*filled, False], strict=True)
    edges = [place for place, (was, now) in enumerate(changes) if was != now]
    return list(zip(edges[::2], edges[1::2], strict=True))


def begin_of(raw: bytes, line: int) -> int:
    """Where a line begins, from 1."""
    offset = 0
    for _ in range(line - 1):
        match = LINE.match(raw, offset)
        offset = match.end() if match else offset
    return offset
