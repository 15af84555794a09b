"""What stands in a text beside its readings: remarks, a preamble, a row of units, loose spacing.

Lines that hold no readings are blanked, not removed, so that line numbers in messages stay those of
the file.
"""

import re
from collections import Counter
from typing import NamedTuple

from sornix.core.readings.header import is_unit
from sornix.core.readings.sniff import HEAD_BYTES, Dialect, find_dialect, is_number, sample_rows
from sornix.core.text import plural

_REMARK = re.compile(rb"^[ \t]*(?:#|%|//)[^\r\n]*", re.MULTILINE)
_FIRST_READINGS = re.compile(rb"^(?![ \t]*(?:#|%|//))[^\r\n]*[^\s]", re.MULTILINE)
_LINE = re.compile(rb"[^\r\n]*(?:\r\n|\n|\r|$)")
_OUTER_GAPS = re.compile(rb"^[ \t]+|[ \t]+$", re.MULTILINE)
_WIDE_GAPS = re.compile(rb"[ \t]{2,}|\t")
_ANY_GAPS = re.compile(rb"[ \t]+")
# a preamble longer than this is a document, not a preamble
_MOST_PREAMBLE = 60


class Prepared(NamedTuple):
    """A text ready for division into cells, its dialect, and what was found beside the readings."""

    raw: bytes
    dialect: Dialect
    notes: tuple[str, ...]


def prepare(raw: bytes) -> Prepared:
    """Blanks remarks and what stands before the header, and brings loose spacing into tabs."""
    notes = []
    raw, remarks = _without_remarks(raw)
    if remarks:
        lines = plural(remarks, "line of remarks", "lines of remarks")
        notes.append(f"{lines} {'was' if remarks == 1 else 'were'} passed over.")
    raw, dialect = _tabs_for_spaces(raw, find_dialect(raw))
    raw, before = _without_preamble(raw, dialect)
    if before:
        lines = plural(before, "line")
        notes.append(f"{lines} before the header {'was' if before == 1 else 'were'} passed over.")
        dialect = find_dialect(raw)
    return Prepared(raw, dialect, tuple(notes))


def _without_remarks(raw: bytes) -> tuple[bytes, int]:
    """The text with its remarks blanked, but for one that turns out to be the header."""
    # looking for the marks themselves is a hundred times faster than for lines that begin so
    if not any(mark in raw for mark in (b"#", b"%", b"//")):
        return raw, 0
    found = list(_REMARK.finditer(raw))
    if not found:
        return raw, 0
    bare = _REMARK.sub(b"", raw)
    dialect = find_dialect(bare)
    rows = sample_rows(bare, dialect.separator)
    first = _FIRST_READINGS.search(raw)
    above = [match for match in found if first is not None and match.start() < first.start()]
    if rows and above and all(is_number(cell, dialect.decimal) for cell in rows[0] if cell.strip()):
        last = above[-1]
        words = last[0].lstrip(b" \t#%/")
        cells = sample_rows(words, dialect.separator)
        if len(rows[0]) > 1 and cells and len(cells[0]) == len(rows[0]):
            head = _REMARK.sub(b"", raw[: last.start()])
            return head + words + _REMARK.sub(b"", raw[last.end() :]), len(found) - 1
    return bare, len(found)


def _tabs_for_spaces(raw: bytes, dialect: Dialect) -> tuple[bytes, Dialect]:
    """Cells that are divided by spaces, divided by tabs instead; other texts as they are."""
    if any(len(row) > 1 for row in sample_rows(raw, dialect.separator)):
        return raw, dialect
    head = _OUTER_GAPS.sub(b"", raw[: 2 * HEAD_BYTES])
    for gaps in (_WIDE_GAPS, _ANY_GAPS):
        rows = sample_rows(gaps.sub(b"\t", head), "\t")[:200]
        widths = {len(row) for row in rows}
        if len(rows) > 1 and len(widths) == 1 and widths.pop() > 1:
            numbers = sum(is_number(cell) for row in rows[1:] for cell in row)
            if numbers * 2 > sum(map(len, rows[1:])):
                whole = gaps.sub(b"\t", _OUTER_GAPS.sub(b"", raw))
                return whole, find_dialect(whole)
    return raw, dialect


def _without_preamble(raw: bytes, dialect: Dialect) -> tuple[bytes, int]:
    """The text with the lines before its header blanked: those narrower than all that follows."""
    rows = sample_rows(raw, dialect.separator)
    if len(rows) < 3:
        return raw, 0
    width = Counter(len(row) for row in rows).most_common(1)[0][0]
    before = next((i for i, row in enumerate(rows) if len(row) == width), 0)
    # a short line further down is a ragged row, to be told of, not a preamble
    if width == 1 or before == 0 or before > _MOST_PREAMBLE:
        return raw, 0
    blanked, seen, offset = [], 0, 0
    while seen < before:
        line = _LINE.match(raw, offset)
        if line is None or not line[0]:
            break
        seen += bool(line[0].strip())
        ending = line[0][len(line[0].rstrip(b"\r\n")) :]
        blanked.append(ending)
        offset = line.end()
    return b"".join(blanked) + raw[offset:], before


def units_in(row: list[str], dialect: Dialect) -> list[str] | None:
    """The units in the row under the header, if that is what it holds: "" where there is none."""
    cells = [cell.strip().strip("()[]").strip() for cell in row]
    named = [cell for cell in cells if cell and cell not in ("-", "–", "—")]
    if not named or any(is_number(cell, dialect.decimal) for cell in cells):
        return None
    if sum(is_unit(cell) for cell in named) * 2 <= len(named):
        return None
    return [cell if cell in named else "" for cell in cells]
