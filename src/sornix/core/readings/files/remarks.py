"""Lines of a text that are remarks. They are blanked, but for the names of columns, which may stand
in them: in the last one above the readings, or one in each of several.
"""

import csv
import io
import re
from collections.abc import Mapping, Sequence
from itertools import groupby
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import units_in
from sornix.core.readings.cells.marks import Marks, find_marks, is_number
from sornix.core.readings.layouts.bits import kind_of_cell
from sornix.core.readings.layouts.ending import passed_over
from sornix.core.readings.layouts.rows import HEAD_BYTES, LINE, begin_of, sample_rows
from sornix.core.readings.layouts.spacing import ANY, spaced
from sornix.core.readings.layouts.weighing import Layout, weighed
from sornix.core.text import short

# what lines of remarks begin with
_SIGNS = " \t#%/!*"
_BEGUN = ("#", "%", "//", "!", "*")
# a % alone in the first cell is a unit
_MARK = rb"(?:#|%(?= ?[^\s,;|])|//|!)"
_REMARK = pattern(rb"^[ \t]*" + _MARK + rb"[^\r\n]*", re.MULTILINE)
# a text may begin with lines that have stars; further down a star marks a reading
_STARRED = pattern(rb"[ \t]*(?:\*(?![\d.,;\t|+-])|" + _MARK + rb")[^\r\n]*|[ \t]*(?=[\r\n])")
_LINE_END = pattern(rb"\r\n|\n|\r")
# So many rows tell whether the first holds readings.
_FEW_ROWS = 4
# what columns are called, one in a line: name 0 = Pressure [db]; Column 1: Depth (m); 1: Depth (m)
_NUMBERED = pattern(
    r"(?P<what>[^\W\d]+)?[ \t]*[\[(]?(?P<number>\d{1,3})[\])]?[ \t]*[:=][ \t]*(?P<name>\S.*)"
)
_NAMES = ("name", "column", "col", "field", "variable", "channel")
_Span = tuple[int, int]


class Remarks(NamedTuple):
    """A text without its remarks, and how many there were. Where several of them held the names,
    one a column, these stand in the `line` of the last, and something is to be said of that."""

    raw: bytes
    blank: int
    said: str = ""
    line: int = 0

    @property
    def notes(self) -> list[str]:
        """All that is to be said of them."""
        passed = passed_over(self.blank, "of remarks") if self.blank else ""
        return list(filter(None, (self.said, passed)))


def without_remarks(raw: bytes, *, thorough: bool) -> Remarks:
    """The text with its remarks blanked, but for those that turn out to be names. Unless
    `thorough`, they are only looked for near the beginning and the end of a long text."""
    looked_at = raw if thorough else raw[:HEAD_BYTES] + raw[-HEAD_BYTES:]
    starred = raw[:HEAD_BYTES].lstrip()[:1] == b"*"
    # looking for the marks themselves is a hundred times faster than for lines that begin so
    if not starred and not any(mark in looked_at for mark in (b"#", b"%", b"//", b"!")):
        return Remarks(raw, 0)
    top = _starred(raw) if starred else []
    below = top[-1][1] if top else 0
    spans = top + [match.span() for match in _REMARK.finditer(raw) if match.start() >= below]
    if not spans:
        return Remarks(raw, 0)
    bare = _blanked(raw, spans, {})
    layout = weighed(bare)[0]
    rows = sample_rows(_divided(bare[: 2 * HEAD_BYTES], layout), layout.separator)
    marks = find_marks((cell for row in rows[:50] for cell in row), layout.separator)[0]
    above = _above(raw, spans)
    if not rows or not above or not _are_readings(rows, marks):
        return Remarks(bare, len(spans))
    told = [raw[slice(*span)].decode("utf-8", "ignore").strip(_SIGNS) for span in above]
    if named := names_by_number(told, len(rows[0])):
        at = above[max(named)]
        put = {at: _written(list(named.values()), layout)}
        return Remarks(
            _blanked(raw, spans, put), len(spans) - len(named),
            taken_from(told[min(named)]),
            len(_LINE_END.findall(raw[: at[0]])) + 1,
        )  # fmt: skip
    words = raw[slice(*above[-1])].lstrip(_SIGNS.replace("\t", "").encode())
    # the sign is the name of the first column
    alone = bool(layout.separator) and words.startswith(layout.separator.encode())
    words = b"#" + words if alone else words.lstrip(_SIGNS.encode())
    cells = sample_rows(_divided(words, layout), layout.separator)
    if len(rows[0]) > 1 and cells and _are_names(cells[0], rows[0], marks) and not (
        _are_settings(told, layout, marks)
    ):  # fmt: skip
        put = {above[-1]: words}
        if len(above) > 1 and units_in(cells[0], marks) is not None:
            # units, with names in the remark before
            words = raw[slice(*above[-2])].lstrip(_SIGNS.encode())
            names = sample_rows(_divided(words, layout), layout.separator)
            if names and len(names[0]) == len(cells[0]) and units_in(names[0], marks) is None:
                put[above[-2]] = words
        return Remarks(_blanked(raw, spans, put), len(spans) - len(put))
    return Remarks(bare, len(spans))


def _are_settings(remarks: Sequence[str], layout: Layout, marks: Marks) -> bool:
    """Whether several remarks are pairs of a word and what it is set to, the last one a number with
    its unit or a moment."""
    rows = [sample_rows(_divided(one.encode(), layout), layout.separator) for one in remarks]
    pairs = [row[0] for row in rows if row and len(row[0]) == 2]
    last = kind_of_cell(pairs[-1][1], marks) if pairs else ""
    return len(pairs) == len(remarks) > 1 and last in ("n", "d", "q")


def names_by_number(remarks: Sequence[str], width: int) -> dict[int, str]:
    """The names in remarks that count up to the number of columns, from 0 or from 1, each by the
    place of its remark; none where several may be meant."""
    found = [(at, match) for at, remark in enumerate(remarks)
             if (match := _NUMBERED.fullmatch(remark))]  # fmt: skip
    runs: dict[str, dict[int, str]] = {}
    for what, each in groupby(found, key=lambda one: (one[1]["what"] or "").casefold()):
        several = list(each)
        numbers = [int(match["number"]) for _, match in several]
        counts = numbers in (list(range(width)), list(range(1, width + 1)))
        names = [match["name"].strip() for _, match in several]
        if width > 1 and counts and all(any(map(str.isalpha, name)) for name in names):
            runs[what] = {at: name for (at, _), name in zip(several, names, strict=True)}
    known = [what for what in _NAMES if what in runs] or list(runs)
    return runs[known[0]] if len(known) == 1 else {}


def taken_from(remark: str) -> str:
    """What is said of names that stood in remarks, of which the first is given."""
    return f"The names of the columns were taken from remarks: “{short(remark, 60)}” and so on."


def remark_in(cell: str) -> str:
    """What a cell that begins as a remark does says, "" for others."""
    text = cell.strip()
    return text.strip(_SIGNS) if text.startswith(_BEGUN) else ""


def _written(names: Sequence[str], layout: Layout) -> bytes:
    """Names as a line of a text of a layout."""
    if layout.spacing:
        # spaces that divide nothing
        return "  ".join("\u00a0".join(name.split()) for name in names).encode()
    line = io.StringIO()
    csv.writer(line, delimiter=layout.separator, lineterminator="").writerow(names)
    return line.getvalue().encode()


def _starred(raw: bytes) -> list[_Span]:
    """The lines with stars, and other remarks among them, with which a text begins."""
    found, at = [], 0
    while (match := _STARRED.match(raw, at)) is not None:
        if match[0].strip():
            found.append(match.span())
        end = _LINE_END.match(raw, match.end())
        if end is None:
            break
        at = end.end()
    return found


def _above(raw: bytes, spans: Sequence[_Span]) -> list[_Span]:
    """The remarks above everything else."""
    found, at = [], 0
    for span in spans:
        if raw[at : span[0]].strip():
            break
        found.append(span)
        at = span[1]
    return found


def _blanked(raw: bytes, spans: Sequence[_Span], put: Mapping[_Span, bytes]) -> bytes:
    """The text with something put in place of parts of it, nothing unless told."""
    found, at = [], 0
    for span in spans:
        found += [raw[at : span[0]], put.get(span, b"")]
        at = span[1]
    return b"".join([*found, raw[at:]])


def _are_readings(rows: Sequence[Sequence[str]], marks: Marks) -> bool:
    """Whether the first of some rows holds readings as the next ones do, not their names."""
    first, following = rows[0], rows[1:_FEW_ROWS]
    for column, cell in enumerate(first):
        below = [row[column] for row in following if column < len(row) and row[column].strip()]
        kind = _is_reading(cell, marks)
        if cell.strip() and below and all(_is_reading(one, marks) != kind for one in below):
            return False
    return any(_is_reading(cell, marks) for cell in first)


def _are_names(cells: Sequence[str], first: Sequence[str], marks: Marks) -> bool:
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


def _divided(raw: bytes, layout: Layout) -> bytes:
    """A text with what divides its cells in a layout, names that stand alone by spaces too."""
    if not layout.spacing:
        return raw
    return spaced(raw, layout.spacing) or spaced(raw, ANY) or raw


def remarks_after(raw: bytes, line: int) -> Remarks:
    """The text with the remarks under a line blanked, and a mark before the line taken off."""
    offset = begin_of(raw, line)
    above, held = raw[:offset], LINE.match(raw, offset)
    end = held.end() if held and line else offset
    rest, count = _REMARK.subn(b"", raw[end:])
    return Remarks(above + raw[offset:end].lstrip(_SIGNS.encode()) + rest, count)
