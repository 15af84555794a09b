"""Readings with a label before each, as small loggers print them, and lists of numbers as programs
write them: brought into rows under names."""

import re
from collections import Counter

from sornix.core.patterns import pattern
from sornix.core.readings.layouts.ending import passed_over
from sornix.core.readings.layouts.rows import HEAD_BYTES
from sornix.core.text import plural

# A name and a sign before what was read: Temp: 21.5, rh=80. What stands behind a digit or another
# letter is a part of it, as are the minutes of T08:30.
_LABEL = pattern(
    r"(?<![^\s,;|])(?!T\d\d:)(?P<name>[^\W\d_][^\s,;|:=]{0,30}(?: [^\W\d_][^\s,;|:=]{0,30}){0,3})"
    r"[ \t]*[:=](?!//)[ \t]*(?=\S)"
)
_BETWEEN = " \t,;|"
# a line of labels that stands in braces, perhaps as an entry of a list
_IN_BRACES = pattern(r"^[ \t]*(?:-[ \t]*)?\{(.*)\}[ \t]*(?:,[ \t]*)?(?=\r?$)", re.MULTILINE)
# one of several lines of a record
_STACKED = pattern(r"[ \t]*(?:-[ \t]+)?([^\W\d][^:=\t]{0,40}?)[ \t]*(?<!\d)[:=][ \t]*(\S[^\t]*)")
_NUMBER = pattern(r"[-+−]?[\d.,]*\d")
_NUMBER_ALONE = pattern(r"[-+−]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?")
# so many lines, and of all so large a part, have the same labels
_FEWEST, _MOSTLY, _LOOKED_AT = 3, 0.9, 40
_LIST = pattern(r"\s*(?P<name>[^\W\d]\w*)\s*=\s*[\[({](?P<cells>[^\[\](){}=]*)[\])}]\s*[;,]?\s*")
_BEGIN = pattern(rb"\s*(?:[^\W\d]\w*\s*=\s*)?(?=[\[({])")
_IN_ROWS = pattern(r"(?:[\[\](){}\d.,;e+\-−\s]|nan)+", re.IGNORECASE)
_NEXT_ROW = pattern(r"[\])}]\s*[,;]?\s*[\[({]|;\s*(?=[\d\[({+\-−.])")
_BRACKETS = pattern(r"[\[\](){}]")


def as_rows(raw: bytes) -> tuple[bytes, list[str]]:
    """A text with the labels of its lines, or the names of its lists, in a line above the readings;
    and what is to be said of that. Any other as it is."""
    head = raw[:HEAD_BYTES]
    labelled = b"=" in head or b":" in head
    found = (_without_labels(raw) or _out_of_stacks(raw)) if labelled else None
    if found is None:
        found = _out_of_a_row(raw)
    if found is None and (begin := _BEGIN.match(head)) is not None:
        found = _out_of_lists(raw, begin.end())
    return found or (raw, [])


def _without_labels(raw: bytes) -> tuple[bytes, list[str]] | None:
    """The lines of a text that have the same labels as rows under these; None where few have."""
    lines = _bare_lines(raw[:HEAD_BYTES])
    head = [line for line in lines[:_LOOKED_AT] if line.strip()]
    labels, count = Counter(map(_labels, head)).most_common(1)[0] if head else ((), 0)
    begin = next((i for i, line in enumerate(head) if _labels(line) == labels), 0)
    if not labels or count < max(_FEWEST, _MOSTLY * (len(head) - begin)):
        return None
    rows: list[list[str]] = []
    left_out = 0
    for line in _bare_lines(raw):
        found = list(_LABEL.finditer(line))
        if tuple(match["name"] for match in found) != labels:
            left_out += bool(line.strip())
            continue
        ends = [*(match.start() for match in found[1:]), len(line)]
        cells = [line[m.end() : end].strip(_BETWEEN) for m, end in zip(found, ends, strict=True)]
        rows.append([*line[: found[0].start()].strip(_BETWEEN).split(), *cells])
    widths = {len(row) for row in rows}
    numbers = sum(any(map(_NUMBER.match, row[-len(labels) :])) for row in rows)
    if len(widths) != 1 or numbers < _MOSTLY * len(rows):
        return None
    first = [""] * (widths.pop() - len(labels))
    if len(labels) == 1 and not first:
        # spaces that divide nothing: 1.5 mA is one cell
        rows = [["\u00a0".join(cell.split())] for (cell,) in rows]
    said = [f"{plural(len(labels), 'label')} in each line became the names of columns."]
    said += [passed_over(left_out, "without these labels")] * bool(left_out)
    text = "\n".join("\t".join(row) for row in ([*first, *labels], *rows))
    return f"{text}\n".encode(), said


def _bare_lines(raw: bytes) -> list[str]:
    """The lines of a text without braces around them."""
    return _IN_BRACES.sub(r"\1", raw.decode("utf-8", "replace")).splitlines()


def _out_of_a_row(raw: bytes) -> tuple[bytes, list[str]] | None:
    """The numbers of a text that has one row of them and nothing else, below each other; None for
    any other."""
    if len(raw) > HEAD_BYTES or raw.strip().count(b"\n"):
        return None
    text = raw.decode("utf-8", "replace").strip()
    sign = next((sign for sign in (";", "\t", "|") if sign in text), None)
    cells = [cell.strip() for cell in (text.split(sign) if sign else re.split(r",?\s+|,", text))]
    if len(cells) < _FEWEST or not all(map(_NUMBER_ALONE.fullmatch, cells)):
        return None
    return "\n".join([*cells, ""]).encode(), ["The row of numbers became a column."]


def _out_of_stacks(raw: bytes) -> tuple[bytes, list[str]] | None:
    """Records of which each line holds a name and what was read, one record below the other, as
    rows; None for any other text."""
    last = raw[-HEAD_BYTES:].rstrip().rpartition(b"\n")[2].decode("utf-8", "replace")
    if not _STACKED.fullmatch(last):
        return None
    lines = [line for line in raw.decode("utf-8", "replace").splitlines() if line.strip()]
    found = [match.groups() if (match := _STACKED.fullmatch(line)) else ("", "") for line in lines]
    counts = Counter(name for name, _ in found if name)
    most = max(counts.values(), default=0)
    names = [name for name, count in counts.items() if count == most]
    if most < _FEWEST or len(names) < 2:
        return None
    begin = next(at for at, (name, _) in enumerate(found) if name in names)
    stacked, width = found[begin:], len(names)
    rows = [stacked[at : at + width] for at in range(0, len(stacked), width)]
    if any([name for name, _ in row] != names for row in rows):
        return None
    cells = [names, *([cell for _, cell in row] for row in rows)]
    said = [f"{plural(width, 'line')} of each record became a row."]
    said += [passed_over(begin, "above the records")] * bool(begin)
    return "".join("\t".join(row) + "\n" for row in cells).encode(), said


def _labels(line: str) -> tuple[str, ...]:
    return tuple(match["name"] for match in _LABEL.finditer(line))


def _out_of_lists(raw: bytes, begin: int) -> tuple[bytes, list[str]] | None:
    """Lists with names as columns, and a list of rows, which would begin there, as rows; None for
    any other text."""
    text = raw.decode("utf-8", "replace").rstrip()
    named, at = [], 0
    while (match := _LIST.match(text, at)) is not None and match.end() > at:
        cells = [cell.strip(" \t\r\n\"'") for cell in re.split(r"[,;\s]+", match["cells"].strip())]
        named.append([match["name"], *cells])
        at = match.end()
    lengths = {len(one) for one in named}
    if len(named) > 1 and at == len(text) and len(lengths) == 1:
        columns = map("\t".join, zip(*named, strict=True))
        return "\n".join(columns).encode() + b"\n", ["Each list became a column."]
    # what begins a list is ASCII
    rows = text[begin:]
    if not _IN_ROWS.fullmatch(rows):
        return None
    rows_of_text = _NEXT_ROW.sub("\n", rows)
    lines = [_BRACKETS.sub("", line).strip(_BETWEEN) for line in rows_of_text.splitlines()]
    return "\n".join(filter(None, lines)).encode() + b"\n", ["Brackets around rows were taken off."]
