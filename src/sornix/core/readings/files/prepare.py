"""What stands in a text beside its readings: remarks, a preamble, loose spacing.

Lines that hold no readings are blanked, not removed, so that line numbers in messages stay those of
the file.
"""

import csv
import io
import re
from collections.abc import Sequence
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.layouts.ending import (
    MOST_LINES,
    passed_over,
    passed_over_below,
    summing_up,
)
from sornix.core.readings.layouts.marks import Marks, find_marks, is_number
from sornix.core.readings.layouts.rows import HEAD_BYTES, sample_rows
from sornix.core.readings.layouts.spacing import ANY, COLUMNS, spaced
from sornix.core.readings.layouts.weighing import Layout, separator_doubt, weighed
from sornix.core.readings.tables.dialect import NOTHING_HELD, WORDS, Held
from sornix.core.text import capital

# a % alone in the first cell is a unit
_MARK = rb"(?:#|%(?= ?[^\s,;|])|//|!)"
_REMARK = pattern(rb"^[ \t]*" + _MARK + rb"[^\r\n]*", re.MULTILINE)
_FIRST_READINGS = pattern(rb"^(?![ \t]*" + _MARK + rb")[^\r\n]*[^\s]", re.MULTILINE)
# So many rows tell whether the first holds readings.
_FEW_ROWS = 4
# a cell that was kept from being read as a number: ="00042", also as text of a cell
_KEPT = pattern(rb'(^|[,;\t|])"?="{1,2}([^"\r\n]*)"{1,3}(?=[,;\t|\r\n]|$)', re.MULTILINE)
_RULE = pattern(rb"^(?=[^\r\n]*(?:[-=]{2}|-\|-))[-=+|:, ;\t]+$", re.MULTILINE)
_OUTER_BARS = pattern(rb"^[ \t]*\|[ \t]*|[ \t]*\|[ \t]*(?=\r?$)", re.MULTILINE)
_LINE = pattern(rb"[^\r\n]*(?:\r\n|\n|\r|$)")


class Prepared(NamedTuple):
    """A text ready for division into cells.

    `separator` is what stands between cells now, and `spacing` how spaces were brought to it (see
    SPACED); `header` is the line of the names (0 for none), `groups` those of the columns, `doubts`
    are those about words of the dialect, and `notes` say what was found beside the readings.
    """

    raw: bytes
    separator: str
    spacing: str
    header: int
    groups: tuple[str, ...]
    doubts: dict[str, str]
    notes: tuple[str, ...]


def prepare(raw: bytes, held: Held = NOTHING_HELD, *, thorough: bool = True) -> Prepared:
    """Blanks remarks and what stands before the header, and brings loose spacing into tabs.

    What the user `held` of the dialect is kept to. Unless `thorough`, remarks are only
    looked for near the beginning and the end of a long text.
    """
    header = held.get("header")
    if header is None:
        raw, remarks = _without_remarks(raw, thorough=thorough)
    else:
        raw, remarks = _remarks_after(raw, header)
        raw = _blank_lines(raw, 0, max(header - 1, 0))
    raw = _without_rules(raw)
    if b'="' in raw[:HEAD_BYTES]:
        raw = _KEPT.sub(rb'\1"\2"', raw)
    notes = []
    if remarks:
        notes.append(passed_over(remarks, "of remarks"))
    raw, layout, doubts = _laid_out(raw, held)
    if header is not None:
        return Prepared(raw, layout.separator, layout.spacing, header, (), doubts, tuple(notes))
    before = layout.before - bool(layout.groups)
    if before:
        notes.append(passed_over(before, "before the header"))
    if layout.before:
        raw = _blank_lines(raw, 0, (layout.header or layout.first) - 1)
    if layout.under:
        raw = _blank_lines(raw, layout.under[0] - 1, layout.first - 1)
        notes.append(passed_over(layout.under[1], "between names and readings"))
    if layout.shifted:
        at = _begin_of(raw, layout.header)
        raw = raw[:at] + layout.separator.encode() + raw[at:]
        notes.append("The first column has no name: the names stand above all others.")
    if layout.names_doubt:
        doubts["lying" if layout.lying else "header"] = layout.names_doubt
    raw, below = _without_sums(raw, layout.separator)
    notes += below
    return Prepared(
        raw, layout.separator, layout.spacing, layout.header, layout.groups, doubts, tuple(notes)
    )


def _without_sums(raw: bytes, separator: str) -> tuple[bytes, list[str]]:
    """The text without lines at its end that sum up the readings, and what is to be said of it."""
    begin = len(raw)
    for _ in range(MOST_LINES):
        begin = max(raw.rfind(b"\n", 0, max(begin - 1, 0)), 0)
    text = raw[begin:].decode("utf-8", "ignore")
    if '"' in text and text.count('"') % 2:
        return raw, []
    rows = list(csv.reader(io.StringIO(text, newline=""), delimiter=separator))
    marks = find_marks((cell for row in rows for cell in row), separator)[0]
    count = summing_up(rows, marks)
    if not count or any("\n" in cell for row in rows for cell in row):
        return raw, []
    words = [next(c.strip() for c in row if c.strip()) for row in rows[-count:] if any(row)]
    lines = raw[begin:].splitlines(keepends=True)[:-count]
    return raw[:begin] + b"".join(lines), [passed_over_below(words)]


def _without_rules(raw: bytes) -> bytes:
    """The text with lines that only rule a table blanked, and no bars at both ends of lines."""
    head = raw[:HEAD_BYTES]
    if b"--" not in head and b"==" not in head and b"-|-" not in head:
        return raw
    raw = _RULE.sub(b"", raw)
    lines = [line.strip() for line in head.splitlines() if line.strip()]
    if all(line.startswith(b"|") and line.endswith(b"|") for line in lines[:-1]):
        raw = _OUTER_BARS.sub(b"", raw)
    return raw


def _laid_out(raw: bytes, held: Held) -> tuple[bytes, Layout, dict[str, str]]:
    """The text divided as its lightest layout has it, and a doubt about the separator."""
    separator = held.get("separator")
    layouts = weighed(raw, () if separator is None else (separator,), units=held.get("units"))
    best = layouts[0]
    if not best.spacing:
        divided: bytes | None = raw
    elif (divided := spaced(raw, best.spacing)) is None:
        # far down the columns of letters are not kept to
        layouts = [one for one in layouts if one.spacing != COLUMNS] or weighed(raw, (",",))
        best = layouts[0]
        divided = spaced(raw, best.spacing) if best.spacing else raw
    other = separator_doubt(layouts) if separator is None else None
    doubts = {"separator": _separator_doubt(best, other)} if other is not None else {}
    return (raw if divided is None else divided), best, doubts


def word_of(layout: "Layout | Prepared") -> str:
    """What divides the cells as the dialect has it: a space stands for any run of them."""
    if layout.spacing == COLUMNS:
        return COLUMNS
    return " " if layout.spacing else layout.separator


def _separator_doubt(best: Layout, other: Layout) -> str:
    taken, found = (WORDS["separator"].values[word_of(one)] for one in (best, other))
    return f"{capital(found)} divide these lines as well; {taken} were taken."


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
    layout = weighed(bare)[0]
    separator = layout.separator
    rows = sample_rows(_divided(bare[: 2 * HEAD_BYTES], layout), separator)
    first = _FIRST_READINGS.search(raw)
    above = [match for match in found if first is not None and match.start() < first.start()]
    marks = find_marks((cell for row in rows[:50] for cell in row), separator)[0]
    if rows and above and _are_readings(rows, marks):
        last = above[-1]
        words = last[0].lstrip(b" \t#%/!")
        if layout.separator and words.startswith(layout.separator.encode()):
            # the sign is the name of the first column
            words = b"#" + words
        cells = sample_rows(_divided(words, layout), separator)
        if len(rows[0]) > 1 and cells and _names(cells[0], rows[0], marks):
            head = _REMARK.sub(b"", raw[: last.start()])
            return head + words + _REMARK.sub(b"", raw[last.end() :]), len(found) - 1
    return bare, len(found)


def _are_readings(rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether the first of some rows holds readings as the next ones do, not their names."""
    first, following = rows[0], rows[1:_FEW_ROWS]
    for column, cell in enumerate(first):
        below = [row[column] for row in following if column < len(row) and row[column].strip()]
        kind = _is_reading(cell, marks)
        if cell.strip() and below and all(_is_reading(one, marks) != kind for one in below):
            return False
    return any(_is_reading(cell, marks) for cell in first)


def _names(cells: Sequence[str], first: Sequence[str], marks: Marks) -> bool:
    """Whether cells name the columns of a first row of readings, and are no readings left out."""
    if len(cells) != len(first):
        return False
    above = [name for name, cell in zip(cells, first, strict=True) if _is_reading(cell, marks)]
    return not all(_is_reading(name, marks) for name in above)


def _is_reading(cell: str, marks: Marks) -> bool:
    if is_number(cell, marks):
        return True
    if not any(map(str.isdigit, cell)):
        return False
    from sornix.core.text.moments import parse_moment

    return any(parse_moment(cell, order) is not None for order in ("day", "month"))


def _remarks_after(raw: bytes, line: int) -> tuple[bytes, int]:
    """The text with the remarks under a line blanked, and a mark before the line taken off."""
    offset = _begin_of(raw, line)
    above, held = raw[:offset], _LINE.match(raw, offset)
    end = held.end() if held and line else offset
    rest, count = _REMARK.subn(b"", raw[end:])
    return above + raw[offset:end].lstrip(b"#%/! \t") + rest, count


def _begin_of(raw: bytes, line: int) -> int:
    """Where a line begins, from 1."""
    offset = 0
    for _ in range(line - 1):
        match = _LINE.match(raw, offset)
        offset = match.end() if match else offset
    return offset


def _divided(raw: bytes, layout: Layout) -> bytes:
    """A text with what divides its cells in a layout, names that stand alone by spaces too."""
    if not layout.spacing:
        return raw
    return spaced(raw, layout.spacing) or spaced(raw, ANY) or raw


def _blank_lines(raw: bytes, begin: int, end: int) -> bytes:
    """The text with its lines from `begin` to before `end`, counted from 0, blanked."""
    endings: list[bytes] = []
    offset = start = 0
    for number in range(end):
        line = _LINE.match(raw, offset)
        if line is None or not line[0]:
            break
        offset = line.end()
        if number < begin:
            start = offset
        else:
            endings.append(line[0][len(line[0].rstrip(b"\r\n")) :])
    return raw[:start] + b"".join(endings) + raw[offset:]
