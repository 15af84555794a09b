"""How a delimited text is written: its encoding, its separator and its decimal mark."""

import csv
import io
import itertools
import re
from collections import Counter
from collections.abc import Iterable
from typing import NamedTuple

from sornix.core.errors import ReadingsError

MISSING_MARKS = ("", "NA", "N/A", "n/a", "NaN", "nan", "null", "—", "–", "-")
HEAD_BYTES = 1 << 16
_SAMPLE_ROWS = 1000
_SEPARATORS = (",", ";", "\t", "|")
_NUMBER = re.compile(r"[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?")
_COMMA_NUMBER = re.compile(r"[+-]?\d*,\d+([eE][+-]?\d+)?")
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


class Dialect(NamedTuple):
    """`separator` between cells, `decimal` mark in numbers."""

    separator: str = ","
    decimal: str = "."


def utf8(raw: bytes, where: str) -> bytes:
    """The text as UTF-8 without byte order mark.

    UTF-8, UTF-16 with its mark, and else Windows-1252 (which holds Latin-1's letters). Raises
    ReadingsError where the bytes are no text.
    """
    for magic, kind in _FOREIGN.items():
        if raw.startswith(magic):
            raise ReadingsError(
                f"This is {kind}, not delimited text.",
                where=where,
                remedy="Choose a text file with one row of readings a line.",
            )
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return raw.decode("utf-16").encode()
        except UnicodeDecodeError as error:
            raise _not_text(where) from error
    raw = raw.removeprefix(b"\xef\xbb\xbf")
    if b"\0" in raw:
        raise _not_text(where)
    if raw.isascii():  # much faster than decoding, and most readings are
        return raw
    try:
        raw.decode("utf-8")
    except UnicodeDecodeError:
        try:
            return raw.decode("cp1252").encode()
        except UnicodeDecodeError as error:
            raise _not_text(where) from error
    return raw


def _not_text(where: str) -> ReadingsError:
    return ReadingsError(
        "This file holds no readable text.", where=where, remedy="Choose a delimited text file."
    )


def is_number(cell: str, decimal: str = ".") -> bool:
    """Whether a cell reads as a finite number with this decimal mark."""
    text = cell.strip()
    return bool(_NUMBER.fullmatch(text.replace(",", ".") if decimal == "," else text))


def sample_rows(raw: bytes, separator: str) -> list[list[str]]:
    """The first records of a UTF-8 text as lists of cells, blank lines left out."""
    head = raw[:HEAD_BYTES]
    if len(raw) > HEAD_BYTES:
        head = head[: head.rfind(b"\n") + 1] or head
    lines = io.StringIO(head.decode("utf-8", "ignore"), newline="")
    rows = csv.reader(lines, delimiter=separator)
    return [row for row in itertools.islice(rows, _SAMPLE_ROWS) if any(c.strip() for c in row)]


def _agreement(rows: list[list[str]]) -> tuple[float, int]:
    """How well a separator divides rows: the share of rows of the commonest length, that length."""
    if not rows:
        return 0.0, 0
    length, count = Counter(len(row) for row in rows).most_common(1)[0]
    return (count / len(rows) if length > 1 else 0.0), length


def find_dialect(raw: bytes) -> Dialect:
    """The dialect that divides the first rows most evenly, into most cells."""
    samples = {separator: sample_rows(raw, separator) for separator in _SEPARATORS}
    agreements = {separator: _agreement(rows) for separator, rows in samples.items()}
    # of equals the first one: max keeps it
    best = max(_SEPARATORS, key=agreements.__getitem__)
    if agreements[best][0] == 0:
        best = ","
    cells: Iterable[str] = itertools.chain.from_iterable(samples[best][1:])
    commas = points = 0
    for cell in cells:
        commas += bool(_COMMA_NUMBER.fullmatch(cell.strip()))
        points += "." in cell and is_number(cell)
    return Dialect(best, "," if best != "," and commas > points else ".")
