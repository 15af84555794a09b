"""Texts whose cells are divided otherwise than they are meant: lines in quotation marks, times in
brackets, signs that stand apart from their numbers, numbers that touch, colons between cells,
separators within brackets and within dates."""

import re
from collections import Counter
from functools import partial

from sornix.core.patterns import pattern
from sornix.core.readings.layouts.ending import MOST_LINES
from sornix.core.readings.layouts.rows import HEAD_BYTES

# a sign that stands apart from its number, as balances print it
_APART = pattern(rb"(?:(?<=[ \t])|^)([+-])[ \t]+(?=[.,]?\d)", re.MULTILINE)
# a number with a decimal point that the sign of another one follows, as where places are too few
_TOUCHING = pattern(rb"(\.\d*(?:[eEdD][-+]?\d+)?)(?=[-+]\d*\.\d)")
_RANGE = pattern(rb"(?<!\S)\d+\.\d*-\d+\.\d*(?!\S)")
_LEAST_CELLS = 2
_IN_BRACKETS = pattern(rb"^[^\r\n]*[(\[][^\r\n]*", re.MULTILINE)
_NUMBERS = pattern(rb"[\s\d.+*eEdD-]+")
# Mar 2, 2026 as a cell, perhaps with a day of the week before it and a time behind
_WITH_COMMA = pattern(
    rb"(?<![^\n,])((?:[A-Za-z]{3,9}, )?[A-Za-z]{3,9}\.? \d{1,2}, \d{4}"
    rb"(?:,? \d{1,2}:\d\d(?::\d\d)?(?: ?[AaPp][Mm])?)?)(?=,|\r?$)",
    re.MULTILINE,
)
_FEWEST_DATES = 2
# a line that is quoted as a whole
_QUOTED = pattern(rb'^"([^"\r\n]*[,;\t|][^"\r\n]*)"[ \t]*(?=\r?$)', re.MULTILINE)
_BEFORE_QUOTES = pattern(rb'([,;|]) +(?=")')
_COLON = pattern(rb"(?<![ \t])[ \t]+:[ \t]+")
# [2026-03-02 08:00:00] 7.1 and 08:00:00: 7.1; what receivers send, $A,0.0,7.1*1B
_PRINTED = (
    (pattern(rb"^\[(\d[\d:./TZ+ -]{4,30})\][ \t]*", re.MULTILINE), rb"\1 ", ""),
    (pattern(rb"^((?:\d[\d./-]{5,9}[ T])?\d{1,2}:\d\d(?::\d\d(?:[.,]\d{1,9})?)?):[ \t]+",
             re.MULTILINE), rb"\1 ", ""),
    (pattern(rb"^(\$[^*\r\n]*)\*[0-9A-Fa-f]{2}[ \t]*(?=\r?$)", re.MULTILINE), rb"\1",
     "The check sums at the ends of lines were taken off."),
)  # fmt: skip


def with_cells_apart(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with its cells divided as they are meant, and what is to be said of it."""
    notes: list[str] = []
    for mend in _WAYS:
        raw, said = mend(raw)
        notes += said
    return raw, notes


def _lines(raw: bytes) -> list[bytes]:
    """The first lines that hold something, all of them whole."""
    head = raw[:HEAD_BYTES]
    whole = head[: head.rfind(b"\n")] if len(raw) > len(head) else head
    return [line for line in whole.splitlines() if line.strip()]


def _with_bare_times(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with the times at the beginning of its lines without brackets and colons, and
    without the check sums at their ends, as loggers and receivers print them, if all lines have
    them."""
    first = raw[:HEAD_BYTES].lstrip().split(b"\n", 2)[:2]
    for form, put, said in _PRINTED:
        if any(map(form.match, first)):
            # names may stand in the first line
            lines = _lines(raw)[not form.match(first[0]) :]
            if all(map(form.match, lines)):
                return form.sub(put, raw), [said] * bool(said)
    return raw, []


def _with_bare_lines(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with lines of several cells that stand in quotation marks as a whole without
    these."""
    if not _QUOTED.match(raw[:HEAD_BYTES].lstrip()) or not all(map(_QUOTED.fullmatch, _lines(raw))):
        return raw, []
    return _QUOTED.sub(rb"\1", raw), ["Quotation marks around whole lines were taken off."]


def _without_ends(raw: bytes) -> tuple[bytes, list[str]]:
    """The text without separators at the ends of lines, where each line that has any ends so."""
    head = raw[:HEAD_BYTES]
    whole = head[: head.rfind(b"\n")] if len(raw) > len(head) else head
    # most texts have none, which their last lines tell
    below = whole.rstrip(b"\r\n ").rsplit(b"\n", 3)[-3:]
    last = [line.rstrip(b"\r ")[-1:] for line in below]
    for sign in (b",", b";", b"\t", b"|"):
        while sign in last and _all_end_so(raw, sign):
            raw = re.sub(re.escape(sign) + rb" *(?=\r?$)", b"", raw, flags=re.MULTILINE)
    return raw, []


def _all_end_so(raw: bytes, sign: bytes) -> bool:
    """Whether all lines that have a sign, several, end with it."""
    lines = [line for line in _lines(raw) if sign in line]
    return len(lines) > 1 and all(line.rstrip(b" ").endswith(sign) for line in lines)


def _without_spaces_behind(raw: bytes) -> tuple[bytes, list[str]]:
    """The text without spaces behind its separators: before quotation marks, and elsewhere where it
    has no quotation marks and the sign divides most of its lines evenly."""
    head = raw[:HEAD_BYTES]
    raw = _BEFORE_QUOTES.sub(rb"\1", raw) if _BEFORE_QUOTES.search(head) else raw
    sign = next((sign for sign in (b";", b"\t", b"|", b",") if sign in head), b"")
    if not sign or sign + b" " not in head or b'"' in raw:
        return raw, []
    lines = _lines(raw)
    count, many = Counter(line.count(sign) for line in lines).most_common(1)[0]
    usual = [line for line in lines if line.count(sign) == count]
    spaced = all(line.count(sign + b" ") + line.endswith(sign) >= count for line in usual)
    if not count or 2 * many <= len(lines) or not spaced:
        return raw, []
    return re.sub(re.escape(sign) + b" +", sign, raw), []


def _with_colons_between(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with tabs in place of colons between spaces, if all lines have as many, and mostly
    numbers between them; and what is to be said of it."""
    if b" : " not in raw[:HEAD_BYTES]:
        return raw, []
    lines = _lines(raw)
    cells = [_COLON.split(line.strip()) for line in lines]
    flat = [cell for row in cells for cell in row]
    numbers = sum(_NUMBERS.fullmatch(cell) is not None for cell in flat)
    if len({len(row) for row in cells}) != 1 or len(lines) <= _LEAST_CELLS:
        return raw, []
    if 2 * numbers < len(flat):
        return raw, []
    return _COLON.sub(b"\t", raw), ["Colons between spaces divide the cells."]


def _with_signs(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with signs at their numbers, where one stands apart from its number in each line of
    readings; and what is to be said of it."""
    if b"+" not in raw[:HEAD_BYTES]:
        # where all are the other sign, it may stand between the ends of ranges
        return raw, []
    lines = _lines(raw)
    apart = [found[1] if (found := _APART.search(line)) else b"" for line in lines]
    begin = next((at for at, sign in enumerate(apart) if sign), len(lines))
    if len(lines) - begin < 2 or not all(apart[begin:]) or b"+" not in apart:
        return raw, []
    return _APART.sub(rb"\1", raw), ["Signs that stood apart were put before their numbers."]


def _with_numbers_apart(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with a space before signs that touch the number before them, where lines have as
    many numbers then as others, or as there are names above them; and what is to be said of it."""
    if not _TOUCHING.search(raw[:HEAD_BYTES]):
        return raw, []
    lines = _lines(raw)
    read = [line for line in lines if _NUMBERS.fullmatch(line)]
    begin = lines.index(read[0]) if read else 0
    # what others have, or names; a lone line is no measure
    usual = {len(line.split()) for line in (*lines[:begin][-1:], *read)} - {1}
    apart = {len(_TOUCHING.sub(rb"\1 ", line).split()) for line in read}
    if len(apart) != 1 or not apart <= usual or 2 * len(read) <= len(lines) - begin:
        return raw, []
    # names in two words over ranges: as many words as there would be numbers
    if len({len(line.split()) for line in read}) == 1 and any(map(_RANGE.search, read)):
        return raw, []
    return _TOUCHING.sub(rb"\1 ", raw), ["Numbers that touched were divided at their signs."]


def _with_whole_brackets(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with cells in quotation marks where a separator stands within their brackets,
    EC (µS/cm, 25 °C), if more lines have as many cells as others then; and what is to be said."""
    head = raw[:HEAD_BYTES]
    if not (b"(" in head or b"[" in head):
        return raw, []
    lines = [line for line in head.splitlines()[:MOST_LINES] if line.strip()]
    for separator, called in ((b",", "Commas"), (b";", "Semicolons")):
        whole = [_cells_with_brackets(line, separator) for line in lines]
        before = Counter(line.count(separator) + 1 for line in lines).most_common(1)
        after = Counter(map(len, whole)).most_common(1)
        if not after or after[0][1] <= before[0][1] or after[0][0] < _LEAST_CELLS:
            continue
        mended = partial(_in_quotes, separator=separator, width=after[0][0])
        return _IN_BRACKETS.sub(mended, raw), [f"{called} within brackets divide no cells."]
    return raw, []


def _with_whole_dates(raw: bytes) -> tuple[bytes, list[str]]:
    """The text with dates such as Mar 2, 2026 in quotation marks, where most lines hold one between
    commas; and what is to be said of it."""
    if b", " not in raw[:HEAD_BYTES] or not _WITH_COMMA.search(raw[:HEAD_BYTES]):
        return raw, []
    lines = _lines(raw)
    dated = sum(_WITH_COMMA.search(line) is not None for line in lines)
    if dated < max(_FEWEST_DATES, len(lines) // 2):
        return raw, []
    return _WITH_COMMA.sub(rb'"\1"', raw), ["Commas within dates divide no cells."]


def _in_quotes(line: "re.Match[bytes]", separator: bytes, width: int) -> bytes:
    """A line whose cells are so many with brackets kept whole, with these cells in quotation
    marks; any other as it is."""
    cells = _cells_with_brackets(line[0], separator)
    if not len(cells) == width < line[0].count(separator) + 1:
        return line[0]
    return separator.join(b'"%b"' % cell.strip() if separator in cell else cell for cell in cells)


def _cells_with_brackets(line: bytes, separator: bytes) -> list[bytes]:
    """The cells of a line, of which none ends within brackets that are closed behind it; a line
    with quotation marks is left as it is."""
    parts = line.split(separator)
    if b'"' in line or not (b"(" in line or b"[" in line):
        return parts
    cells: list[bytes] = []
    held: list[bytes] = []
    depth = 0
    for part in parts:
        held.append(part)
        depth += part.count(b"(") + part.count(b"[") - part.count(b")") - part.count(b"]")
        if depth <= 0:
            # what closes without having been opened divides as ever
            cells += held if depth else [separator.join(held)]
            held, depth = [], 0
    return cells + held


_WAYS = (
    _without_ends,
    _with_bare_lines,
    _with_bare_times,
    _with_colons_between,
    _with_signs,
    _with_numbers_apart,
    _with_whole_brackets,
    _with_whole_dates,
    _without_spaces_behind,
)
