"""What stands in a text beside its readings: remarks, a preamble, loose spacing.

Lines that hold no readings are blanked, not removed, so that line numbers in messages stay those of
the file.
"""

import re
from typing import NamedTuple

from sornix.core.readings.files.header import header_row, is_unit
from sornix.core.readings.files.sniff import (
    HEAD_BYTES,
    Marks,
    find_marks,
    find_separator,
    is_number,
    numbered_rows,
    sample_rows,
)
from sornix.core.text import plural

_REMARK = re.compile(rb"^[ \t]*(?:#|%|//|!)[^\r\n]*", re.MULTILINE)
_FIRST_READINGS = re.compile(rb"^(?![ \t]*(?:#|%|//|!))[^\r\n]*[^\s]", re.MULTILINE)
_LINE = re.compile(rb"[^\r\n]*(?:\r\n|\n|\r|$)")
_OUTER_GAPS = re.compile(rb"^[ \t]+|(?<![ \t])[ \t]+$", re.MULTILINE)
_WIDE_GAPS = re.compile(rb"[ \t]{2,}|\t")
_ANY_GAPS = re.compile(rb"[ \t]+")
# a preamble longer than this is a document, not a preamble
_MOST_PREAMBLE = 60


class Prepared(NamedTuple):
    """A text ready for division into cells.

    `separator` is what stands between cells now, `header` the line of the names (0 for none), and
    `notes` say what was found beside the readings.
    """

    raw: bytes
    separator: str
    spaced: bool
    header: int
    notes: tuple[str, ...]


def prepare(
    raw: bytes, separator: str | None = None, header: int | None = None, *, thorough: bool = True
) -> Prepared:
    """Blanks remarks and what stands before the header, and brings loose spacing into tabs.

    `separator` and `header` are what the user holds of them. Unless `thorough`, remarks are only
    looked for near the beginning and the end of a long text.
    """
    notes = []
    if header is None:
        raw, remarks = _without_remarks(raw, thorough=thorough)
    else:
        raw, remarks = _remarks_after(raw, header)
    if remarks:
        lines = plural(remarks, "line of remarks", "lines of remarks")
        notes.append(f"{lines} {'was' if remarks == 1 else 'were'} passed over.")
    spaced = False
    if separator in (None, " "):
        raw, spaced = _tabs_for_spaces(raw, wanted=separator == " ")
    found = "\t" if spaced else separator or find_separator(raw)
    if header is not None:
        raw = _blank_lines(raw, max(header - 1, 0))
        return Prepared(raw, found, spaced, header, tuple(notes))
    before, line = _preamble(raw, found)
    if before:
        lines = plural(before, "line")
        notes.append(f"{lines} before the header {'was' if before == 1 else 'were'} passed over.")
        raw = _blank_lines(raw, line - 1)
        if separator is None and not spaced:
            found = find_separator(raw)
    return Prepared(raw, found, spaced, line, tuple(notes))


def _without_remarks(raw: bytes, *, thorough: bool) -> tuple[bytes, int]:
    """The text with its remarks blanked, but for one that turns out to be the header."""
    looked_at = raw if thorough else raw[:HEAD_BYTES] + raw[-HEAD_BYTES:]
    # looking for the marks themselves is a hundred times faster than for lines that begin so
    if not any(mark in looked_at for mark in (b"#", b"%", b"//", b"!")):
        return raw, 0
    found = list(_REMARK.finditer(raw))
    if not found:
        return raw, 0
    bare = _REMARK.sub(b"", raw)
    separator = find_separator(bare)
    rows = sample_rows(bare, separator)
    first = _FIRST_READINGS.search(raw)
    above = [match for match in found if first is not None and match.start() < first.start()]
    marks = find_marks((cell for row in rows[:50] for cell in row), separator)[0]
    if rows and above and all(is_number(cell, marks) for cell in rows[0] if cell.strip()):
        last = above[-1]
        words = last[0].lstrip(b" \t#%/!")
        cells = sample_rows(words, separator)
        if len(rows[0]) > 1 and cells and len(cells[0]) == len(rows[0]):
            head = _REMARK.sub(b"", raw[: last.start()])
            return head + words + _REMARK.sub(b"", raw[last.end() :]), len(found) - 1
    return bare, len(found)


def _remarks_after(raw: bytes, line: int) -> tuple[bytes, int]:
    """The text with the remarks under a line blanked, and a mark before the line taken off."""
    offset = 0
    for _ in range(max(line - 1, 0)):
        match = _LINE.match(raw, offset)
        offset = match.end() if match else offset
    above, held = raw[:offset], _LINE.match(raw, offset)
    end = held.end() if held and line else offset
    rest, count = _REMARK.subn(b"", raw[end:])
    return above + raw[offset:end].lstrip(b"#%/! \t") + rest, count


def _tabs_for_spaces(raw: bytes, *, wanted: bool) -> tuple[bytes, bool]:
    """Cells that are divided by spaces, divided by tabs instead; other texts as they are."""
    if not wanted and any(len(row) > 1 for row in sample_rows(raw, find_separator(raw), 50)):
        return raw, False
    head = _OUTER_GAPS.sub(b"", raw[: 2 * HEAD_BYTES])
    for gaps in (_WIDE_GAPS, _ANY_GAPS):
        rows = sample_rows(gaps.sub(b"\t", head), "\t")[:200]
        widths = {len(row) for row in rows}
        if len(rows) > 1 and len(widths) == 1 and widths.pop() > 1:
            marks = find_marks((cell for row in rows for cell in row), "\t")[0]
            numbers = sum(is_number(cell, marks) for row in rows[1:] for cell in row)
            if wanted or numbers * 2 > sum(map(len, rows[1:])):
                return gaps.sub(b"\t", _OUTER_GAPS.sub(b"", raw)), True
    if wanted:
        return _ANY_GAPS.sub(b"\t", _OUTER_GAPS.sub(b"", raw)), True
    return raw, False


def _preamble(raw: bytes, separator: str) -> tuple[int, int]:
    """How many lines with something in them stand before the header, and the header's line; that
    is 0 where the columns have no names."""
    rows = numbered_rows(raw, separator)
    if not rows:
        return 0, 1
    before = header_row([row for _, row in rows]) if len(rows) > 2 else 0
    if before > _MOST_PREAMBLE:
        before = 0
    line, cells = rows[before]
    marks = find_marks((cell for _, row in rows[:50] for cell in row), separator)[0]
    named = not all(not cell.strip() or is_number(cell, marks) for cell in cells)
    return before, line if named else 0


def _blank_lines(raw: bytes, count: int) -> bytes:
    """The text with its first lines blanked."""
    endings, offset = [], 0
    for _ in range(count):
        line = _LINE.match(raw, offset)
        if line is None or not line[0]:
            break
        endings.append(line[0][len(line[0].rstrip(b"\r\n")) :])
        offset = line.end()
    return b"".join(endings) + raw[offset:]


def units_in(row: list[str], marks: Marks) -> list[str] | None:
    """The units in the row under the header, if that is what it holds: "" where there is none."""
    cells = [cell.strip().strip("()[]").strip() for cell in row]
    named = [cell for cell in cells if cell and cell not in ("-", "–", "—")]
    if not named or any(is_number(cell, marks) for cell in cells):
        return None
    if sum(is_unit(cell) for cell in named) * 2 <= len(named):
        return None
    return unit_cells(row)


def unit_cells(row: list[str]) -> list[str]:
    """The cells of a row as units, brackets and dashes taken off."""
    cells = [cell.strip().strip("()[]").strip() for cell in row]
    return ["" if cell in ("-", "–", "—") else cell for cell in cells]
