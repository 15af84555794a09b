"""What stands in a text beside its readings: remarks, a preamble, loose spacing.

Lines that hold no readings are blanked, not removed, so that line numbers in messages stay those of
the file.
"""

import csv
import io
import re
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import find_marks
from sornix.core.readings.files.listed import as_rows
from sornix.core.readings.files.remarks import remarks_after, without_remarks
from sornix.core.readings.layouts.captions import Captions, with_captions, without_captions
from sornix.core.readings.layouts.ending import (
    MOST_LINES,
    passed_over,
    passed_over_below,
    summing_up,
)
from sornix.core.readings.layouts.mending import with_cells_apart
from sornix.core.readings.layouts.rows import HEAD_BYTES, LINE, UNDIVIDED, begin_of
from sornix.core.readings.layouts.spacing import COLUMNS, spaced, with_units_in_place
from sornix.core.readings.layouts.weighing import Layout, decimal_line, separator_doubt, weighed
from sornix.core.readings.tables.dialect import NOTHING_HELD, WORDS, Held, without_header
from sornix.core.text import capital

# a cell that was kept from being read as a number: ="00042", also as text of a cell
_KEPT = pattern(rb'(^|[,;\t|])"?="{1,2}([^"\r\n]*)"{1,3}(?=[,;\t|\r\n]|$)', re.MULTILINE)
# a cell in single quotation marks
_SINGLE = pattern(rb"(^|[,;\t|])'([^'\"\r\n]*)'(?=[,;\t|\r\n]|$)", re.MULTILINE)
_RULE = pattern(rb"^(?=[^\r\n]*(?:[-=]{2}|-\|-))[-=+|:, ;\t]+(?=\r?$)", re.MULTILINE)
# rows as they are typeset: cells between ampersands, a double backslash behind them
_TYPESET_ROW = pattern(rb"^([^\r\n]*?[^\r\n\\]&[^\r\n]*?)[ \t]*\\\\[^&\r\n]*(?=\r?$)", re.MULTILINE)
_AMPERSAND = pattern(rb"[ \t]*(?<!\\)&[ \t]*")
_TYPESET = pattern(rb"^[ \t]*\\[a-z][^\r\n&]*(?=\r?$)", re.MULTILINE)
# of so many lines each has such a cell
_FEW = 5
# what begins as a number or a limit does
_READ = pattern(rb"[ \t]*[<>~+-]?[ \t]*[.,]?\d")
_LEAST_WIDTH = 2
_DIGIT = pattern(rb"\d")
_OUTER_BARS = pattern(rb"^[ \t]*\|[ \t]*|[ \t]*\|[ \t]*(?=\r?$)", re.MULTILINE)


class Prepared(NamedTuple):
    """A text ready for division into cells.

    `separator` is what stands between cells now, and `spacing` how spaces were brought to it (see
    SPACED); `width` counts columns, `header` is the line of the names (0 for none), `groups` are
    those of the columns, `doubts` those about words of the dialect, and `notes` say what was found
    beside the readings. `captions` are those of the first columns; so many lines
    `under` the names stand above the readings.
    """

    raw: bytes
    separator: str
    spacing: str
    width: int
    header: int
    groups: tuple[str, ...]
    doubts: dict[str, str]
    notes: tuple[str, ...]
    captions: tuple[Captions, ...] = ()
    under: int = 0


def prepare(raw: bytes, held: Held = NOTHING_HELD, *, thorough: bool = True) -> Prepared:
    """Blanks remarks and what stands before the header, and brings loose spacing into tabs.

    What the user `held` of the dialect is kept to. Unless `thorough`, remarks are only
    looked for near the beginning and the end of a long text.
    """
    header = held.get("header")
    if header:
        found = prepare(raw, without_header(held), thorough=thorough)
        if found.header == header:
            # the line that is chosen would be found: it keeps what goes with it
            return found._replace(doubts=without_header(found.doubts))
    found = _prepared(raw, held, header, thorough=thorough)
    top = _names_at_the_top(raw, found) if header is None else 0
    return _prepared(raw, held, top, thorough=thorough) if top else found


def _prepared(raw: bytes, held: Held, header: int | None, *, thorough: bool) -> Prepared:
    bare, captions = (raw, ()) if held.get("lying") else without_captions(raw)
    if any(header in one.said for one in captions):
        # whoever chooses a line for names says that it is no caption
        bare, captions = raw, ()
    raw = bare
    remarks = without_remarks(raw, thorough=thorough)
    if header is not None and header != remarks.line:
        remarks = remarks_after(raw, header)
    raw = remarks.raw
    if header is not None:
        raw = _blank_lines(raw, 0, max(header - 1, 0))
    raw, typeset = _without_typesetting(_without_rules(raw))
    raw, listed = as_rows(raw)
    raw = _in_usual_quotes(raw)
    notes = [*remarks.notes, *typeset, *listed]
    raw, mended = with_cells_apart(raw)
    notes += mended
    raw = with_units_in_place(raw)
    raw, layout, doubts = _laid_out(raw, held)
    raw, again = _without_names_again(raw, layout)
    notes += again
    if header is not None:
        found = Prepared(
            raw, layout.separator, layout.spacing, layout.width, header, (), doubts, tuple(notes)
        )
        return _captioned(found, layout.first, captions)
    before = layout.before - bool(layout.groups)
    if before:
        notes.append(passed_over(before, "before the header"))
    if layout.before:
        raw = _blank_lines(raw, 0, (layout.header or layout.first) - 1)
    if layout.under:
        raw, under = _without_lines_under(raw, layout, *layout.under)
        notes += under
    if layout.shifted:
        at = begin_of(raw, layout.header)
        raw = raw[:at] + layout.separator.encode() + raw[at:]
        notes.append("The first column has no name: the names stand above all others.")
    if layout.names_doubt:
        doubts["lying" if layout.lying else "header"] = layout.names_doubt
    raw, below = _without_sums(raw, layout.separator)
    notes += below
    found = Prepared(
        raw, layout.separator, layout.spacing, layout.width, layout.header, layout.groups, doubts,
        tuple(notes), under=_filled_between(raw, layout.header, layout.first),
    )  # fmt: skip
    return _captioned(found, layout.first, captions)


def _names_at_the_top(raw: bytes, found: Prepared) -> int:
    """The first line that holds something, from 1, where it names the columns although a reading
    further down was taken for names, since cells of many forms are as free text; else 0."""
    if found.header <= _FEW or found.spacing or found.width < _LEAST_WIDTH or found.groups:
        return 0
    above = raw[: begin_of(raw, found.header + 1)].splitlines()
    rows = [(at, line.split(found.separator.encode())) for at, line in enumerate(above, 1)]
    rows = [(at, row) for at, row in rows if any(map(bytes.strip, row))]
    if {len(row) for _, row in rows} != {found.width}:
        return 0
    (top, names), taken = rows[0], rows[-1][1]
    return top if any(map(_READ.match, taken)) and not any(map(_READ.match, names)) else 0


def _without_names_again(raw: bytes, layout: Layout) -> tuple[bytes, list[str]]:
    """The text without the names that come again below readings, as loggers that begin anew print
    them, perhaps with their units; and what is to be said of that."""
    if not layout.header or layout.width == 1:
        return raw, []
    begin, end = (begin_of(raw, line) for line in (layout.header, layout.header + 1))
    names = raw[begin:end].rstrip(b"\r\n")
    # names begin with a letter, which is found much faster than the end of a line
    if not names or raw.find(names, end) < 0:
        return raw, []
    lines = raw[end:].splitlines(keepends=True)
    bare = [line.rstrip(b"\r\n") for line in lines]
    # units have no digits, or are none of another reading
    units = bare[0] if bare and not _DIGIT.search(bare[0]) else None
    again = [at for at, line in enumerate(bare) if line == names]
    for at in again:
        for more in (at, at + 1):
            if more == at or (more < len(lines) and bare[more] == units):
                lines[more] = lines[more][len(bare[more]) :]
    count = len(again)
    said = [passed_over(count, "of names that come again")] if count else []
    return raw[:end] + b"".join(lines), said


def _captioned(found: Prepared, first: int, captions: tuple[Captions, ...]) -> Prepared:
    """A text with its captions in first columns from the line of the first reading on."""
    if not captions or found.width == 1:
        return found
    raw, first = found.raw, max(first, found.header + 1)
    for one in reversed(captions):
        raw = with_captions(raw, one, found.separator, found.header, first)
    return found._replace(
        raw=raw,
        width=found.width + len(captions),
        groups=(*[""] * len(captions), *found.groups) if found.groups else (),
        notes=(*found.notes, *(note for one in captions for note in one.notes)),
        captions=captions,
    )


def _in_usual_quotes(raw: bytes) -> bytes:
    """The text with cells that were kept from being read as numbers, or stand in single quotation
    marks, in double ones."""
    head = raw[:HEAD_BYTES]
    if b'="' in head:
        raw = _KEPT.sub(rb'\1"\2"', raw)
    if b"'" in head and all(map(_SINGLE.search, head.lstrip().splitlines()[:_FEW])):
        raw = _SINGLE.sub(rb'\1"\2"', raw)
    return raw


def _filled_between(raw: bytes, header: int, first: int) -> int:
    """How many lines hold something between the names and the first reading."""
    if not header:
        return 0
    between = raw[begin_of(raw, header + 1) : begin_of(raw, first)]
    return sum(bool(line.strip()) for line in between.splitlines())


def _without_lines_under(
    raw: bytes, layout: Layout, line: int, count: int
) -> tuple[bytes, list[str]]:
    """The text without the lines, so many from one on, between names and readings, and what is to
    be said of them."""
    blank = _blank_lines(raw, line - 1, layout.first - 1)
    return blank, [passed_over(count, "between names and readings")]


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


def _without_typesetting(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with tabs between the cells of rows that are typeset, if all its rows are; and what
    is to be said of it."""
    if b"\\\\" not in raw[:HEAD_BYTES]:
        return raw, []
    bare = _TYPESET.sub(b"", raw)
    lines = [line for line in bare.splitlines() if line.strip()]
    if not lines or not all(map(_TYPESET_ROW.fullmatch, lines)):
        return raw, []
    rows = _AMPERSAND.sub(b"\t", _TYPESET_ROW.sub(rb"\1", bare))
    return rows.replace(b"\\&", b"&"), ["Rows as they are typeset were divided at “&”."]


def _laid_out(raw: bytes, held: Held) -> tuple[bytes, Layout, dict[str, str]]:
    """The text divided as its lightest layout has it, and a doubt about the separator."""
    separator, units = held.get("separator"), held.get("units")
    layouts = weighed(raw, () if separator is None else (separator or UNDIVIDED,), units=units)
    either = decimal_line(raw, layouts[0]) if separator is None else ""
    if either and held.get("decimal") == ",":
        layouts = weighed(raw, (UNDIVIDED,), units=units)
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
    if either and "decimal" not in held:
        one = either.replace(",", ".")
        two = either.replace(",", " and ")
        doubts = {"separator": f"“{either}” may be {one} or {two}; it was read as {two}."}
    return (raw if divided is None else divided), best, doubts


def word_of(layout: "Layout | Prepared") -> str:
    """What divides the cells as the dialect has it: a space stands for any run of them, "" for
    nothing."""
    if layout.width == 1:
        return ""
    if layout.spacing == COLUMNS:
        return COLUMNS
    return " " if layout.spacing else layout.separator


def _separator_doubt(best: Layout, other: Layout) -> str:
    taken, found = (WORDS["separator"].values[word_of(one)] for one in (best, other))
    were = f"{taken} were taken" if word_of(best) else f"they were read as {taken}"
    return f"{capital(found)} divide these lines as well; {were}."


def _blank_lines(raw: bytes, begin: int, end: int) -> bytes:
    """The text with its lines from `begin` to before `end`, counted from 0, blanked."""
    endings: list[bytes] = []
    offset = start = 0
    for number in range(end):
        line = LINE.match(raw, offset)
        if line is None or not line[0]:
            break
        offset = line.end()
        if number < begin:
            start = offset
        else:
            endings.append(line[0][len(line[0].rstrip(b"\r\n")) :])
    return raw[:start] + b"".join(endings) + raw[offset:]
