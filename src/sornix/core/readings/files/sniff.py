"""How a delimited text is written: its encoding, its separator and the marks in its numbers."""

import csv
import io
import itertools
import re
from collections import Counter
from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from sornix.core.errors import ReadingsError

HEAD_BYTES = 1 << 16
# A line longer than this is not a row of readings.
_LONGEST_LINE = 1 << 20
_SAMPLE_ROWS = 300
# so many tell the separator
_FEW_ROWS = 150
# the csv module refuses longer cells, and by another separator a whole line is one cell
csv.field_size_limit(_LONGEST_LINE)
SEPARATORS = (",", ";", "\t", "|")
# each sign can be taken in one way only: the time that a long cell takes grows with its length
_NUMBER = re.compile(r"[+\-−]?(\d+(?:\.\d*)?|\.\d+)([eE][+\-−]?\d+)?")
_PLAIN = frozenset("0123456789.")
# numbers whose commas (points) can only be decimal marks: not three digits behind, or a lone zero
# before
_COMMA_DECIMAL = re.compile(
    r"[+\-−]?(?:\d*,(?:\d{1,2}|\d{4,})|0,\d+|\d{4,},\d+)(?:[eE][+\-−]?\d+)?"
)
_POINT_DECIMAL = re.compile(
    r"[+\-−]?(?:\d*\.(?:\d{1,2}|\d{4,})|0\.\d+|\d{4,}\.\d+)(?:[eE][+\-−]?\d+)?"
)
_AFTER_GROUP = {",": re.compile(r"[.' ’]\d{3},\d+$"), ".": re.compile(r"[,' ’]\d{3}\.\d+$")}
# one comma with three digits behind it can be either
_EITHER = re.compile(r"[+\-−]?[1-9]\d{0,2},\d{3}")
_GROUPED = {
    ",": re.compile(r"[+\-−]?[1-9]\d{0,2}(?:,\d{3})+(?:\.\d+)?"),
    ".": re.compile(r"[+\-−]?[1-9]\d{0,2}(?:\.\d{3})+(?:,\d+)?"),
    " ": re.compile(r"[+\-−]?[1-9]\d{0,2}(?:[ \u00a0\u2009\u202f]\d{3})+(?:[.,]\d+)?"),
    "'": re.compile(r"[+\-−]?[1-9]\d{0,2}(?:['’]\d{3})+(?:[.,]\d+)?"),
}
_BEGINNINGS = frozenset("+-−.,0123456789")
# what people rename to .csv, by the bytes that such files begin with
_FOREIGN = {
    b"\x89PNG": "a PNG picture",
    b"\xff\xd8\xff": "a JPEG picture",
    b"GIF8": "a GIF picture",
    b"%PDF": "a PDF document",
    b"PK\x03\x04": "a packed file such as a workbook",
    b"\xd0\xcf\x11\xe0": "an old workbook",
    b"\x1f\x8b": "a compressed file",
    b"PAR1": "a Parquet file",
}


def utf8(raw: bytes, where: str, encoding: str | None = None) -> tuple[bytes, str]:
    """The text as UTF-8 without byte order mark, and the encoding that it was in.

    UTF-8, UTF-16 with its mark or with a zero in every other byte, and else Windows-1252 (which
    holds Latin-1's letters), unless `encoding` says which. Raises ReadingsError where the bytes
    are no text.
    """
    for magic, kind in _FOREIGN.items():
        if raw.startswith(magic):
            raise ReadingsError(
                f"This is {kind}, not delimited text.",
                where=where,
                remedy="Choose a text file with one row of readings a line.",
            )
    if encoding is not None:
        return _decoded(raw, encoding, where), encoding
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        return _decoded(raw, "utf-16", where), "utf-16"
    if raw.find(b"\0", 0, HEAD_BYTES) >= 0 or _least(raw, HEAD_BYTES) == 0:
        head = raw[:400]
        for offset, codec in ((1, "utf-16-le"), (0, "utf-16-be")):
            if len(head) > 3 and not any(head[offset::2]) and 0 not in head[1 - offset :: 2]:
                return _decoded(raw, codec, where), "utf-16"
        raise _not_text(where)
    raw = raw.removeprefix(b"\xef\xbb\xbf")
    # much faster than decoding it all: letters beyond ASCII mostly stand in the header
    plain = _greatest(raw, HEAD_BYTES) < 128
    try:
        _whole_letters(raw[:HEAD_BYTES] if plain else raw).decode("utf-8")
    except UnicodeDecodeError:
        return _decoded(raw, "cp1252", where), "cp1252"
    return raw, "utf-8"


def _least(raw: bytes, offset: int) -> int:
    """The least byte from an offset on, 255 where there is none."""
    rest = np.frombuffer(raw, np.uint8)[offset:]
    return int(rest.min(initial=255))


def _greatest(raw: bytes, offset: int) -> int:
    rest = np.frombuffer(raw, np.uint8)[offset:]
    return int(rest.max(initial=0))


def _whole_letters(head: bytes) -> bytes:
    """A text whose last letter was not cut: one that may be is left off."""
    return head if len(head) != HEAD_BYTES else head[: head.rfind(b"\n") + 1]


def _decoded(raw: bytes, encoding: str, where: str) -> bytes:
    try:
        text = raw.decode("utf-8-sig" if encoding == "utf-8" else encoding)
    except UnicodeDecodeError as error:
        raise _not_text(where) from error
    if "\0" in text:
        raise _not_text(where)
    return text.encode()


def _not_text(where: str) -> ReadingsError:
    return ReadingsError(
        "This file holds no readable text.", where=where, remedy="Choose a delimited text file."
    )


def check_lines(raw: bytes, where: str) -> None:
    """Raises ReadingsError where the first lines are too long to be rows of readings."""
    start = 0
    for _ in range(3):
        end = raw.find(b"\n", start, start + _LONGEST_LINE)
        if end < 0:
            if (
                len(raw) - start >= _LONGEST_LINE
                and b"\r" not in raw[start : start + _LONGEST_LINE]
            ):
                raise ReadingsError(
                    "A line of this file is longer than a million letters.",
                    where=where,
                    remedy="Choose a text file with one row of readings a line.",
                )
            return
        start = end + 1


class Marks(NamedTuple):
    """The marks in numbers: between whole and fraction, and between thousands ("" for none)."""

    decimal: str = "."
    thousands: str = ""


def number_in(cell: str, marks: Marks) -> float | None:
    """The number that a cell holds, or None."""
    text = cell.strip()
    if not text or text[0] not in _BEGINNINGS:
        return None
    if marks.thousands and _GROUPED[marks.thousands].fullmatch(text):
        for mark in (marks.thousands, "’", "\u00a0", "\u2009", "\u202f"):
            text = text.replace(mark, "")
    if marks.decimal == ",":
        if "." in text:
            return None
        text = text.replace(",", ".")
    return float(text.replace("−", "-")) if _NUMBER.fullmatch(text) else None


def is_number(cell: str, marks: Marks = Marks()) -> bool:  # noqa: B008 - a frozen value
    """Whether a cell reads as a number with these marks."""
    return number_in(cell, marks) is not None


def _head(raw: bytes) -> bytes:
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
    raw: bytes, separator: str, most: int = _SAMPLE_ROWS
) -> list[tuple[int, list[str]]]:
    """The first records of a UTF-8 text with the line, from 1, in which each begins."""
    head = _head(raw)
    lines = io.StringIO(head.decode("utf-8", "ignore"), newline="")
    reader = csv.reader(lines, delimiter=separator)
    rows: list[tuple[int, list[str]]] = []
    line = 1
    for row in itertools.islice(reader, most):
        if any(cell.strip() for cell in row):
            rows.append((line, row))
        line = reader.line_num + 1
    return rows


def _agreement(rows: list[list[str]]) -> tuple[float, int]:
    """How well a separator divides rows: the share of rows of the commonest length, that length."""
    if not rows:
        return 0.0, 0
    length, count = Counter(len(row) for row in rows).most_common(1)[0]
    return (count / len(rows) if length > 1 else 0.0), length


def find_separator(raw: bytes) -> str:
    """The separator that divides the first rows most evenly, into most cells."""
    agreements = {s: _agreement(sample_rows(raw, s, _FEW_ROWS)) for s in SEPARATORS}
    # of equals the first one: max keeps it
    best = max(SEPARATORS, key=agreements.__getitem__)
    # commas that stand in the numbers themselves divide them evenly too
    if best == "," and agreements[best][0] < 1:
        others = [s for s in SEPARATORS[1:] if agreements[s][0] == 1]
        best = others[0] if others else best
    return best if agreements[best][0] > 0 else ","


def find_marks(cells: Iterable[str], separator: str) -> tuple[Marks, str]:
    """The marks in the numbers among cells, and a doubt about them in words, or ""."""
    points = commas = 0
    grouped: Counter[str] = Counter()
    either, several = "", False
    for cell in cells:
        text = cell.strip()
        if _PLAIN.issuperset(text) and text.count(".") < 2:
            points += bool(_POINT_DECIMAL.fullmatch(text))
            grouped["."] += bool(_GROUPED["."].fullmatch(text))
        elif _COMMA_DECIMAL.fullmatch(text):
            commas += 1
        elif _EITHER.fullmatch(text):
            either = either or text
            grouped[","] += 1
        elif _POINT_DECIMAL.fullmatch(text):
            points += 1
        else:
            for mark, form in _GROUPED.items():
                if form.fullmatch(text):
                    grouped[mark] += 1
                    several = several or text.count(mark) > 1
            # a group before a decimal mark tells of both
            commas += bool(_AFTER_GROUP[","].search(text))
            points += bool(_AFTER_GROUP["."].search(text))
    decimal = "," if commas > points else "."
    if decimal == "." and either and not points and not several and separator != ",":
        meant = either.replace(",", ".")
        doubt = f"“{either}” may be {either.replace(',', '')} or {meant}; it was read as {meant}."
        return Marks(","), doubt
    rest = [mark for mark, count in grouped.most_common() if count and mark != decimal]
    return Marks(decimal, rest[0] if rest else ""), ""
