"""A text as UTF-8, whatever it was written in."""

import codecs
import re
from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from sornix.core.errors import ReadingsError
from sornix.core.letters import UNSEEN, printable
from sornix.core.marked import UTF16
from sornix.core.patterns import pattern
from sornix.core.readings.cells.alphabets import code_of, ranked_codes
from sornix.core.readings.layouts.ending import passed_over
from sornix.core.readings.layouts.rows import HEAD_BYTES, LONGEST_LINE
from sornix.core.readings.tables.dialect import WORDS
from sornix.core.text import short

# So many names are shown, of so many letters together.
_MOST_NAMES, _MOST_SHOWN = 3, 40
# So many encodings each are told first by our own order and by a detector.
_MOST_LIKELY = 3
# A detector is shown so many bytes: a menu waits for it.
_MOST_LOOKED_AT = 8192
# Packed files by their endings, and what they begin with.
PACKED = {".gz": b"\x1f\x8b", ".bz2": b"BZh", ".xz": b"\xfd7zXZ", ".zst": b"(\xb5/\xfd"}
# what people rename to .csv, by the bytes that such files begin with
_FOREIGN = {
    b"\x89PNG": "a PNG picture",
    b"\xff\xd8\xff": "a JPEG picture",
    b"GIF8": "a GIF picture",
    b"%PDF": "a PDF document",
    b"PK\x03\x04": "a packed file such as a workbook",
    b"\xd0\xcf\x11\xe0": "an old workbook",
    b"PAR1": "a Parquet file",
    b"{\\rtf": "a text document (RTF)",
    b"MIME-Version:": "a web page in parts (MHTML)",
}


# What begins a page, a drawing or another document of marked text, whatever its letters.
_MARKED = {
    b"<!doctype html": "a web page",
    b"<html": "a web page",
    b"<!doctype svg": "a drawing (SVG)",
    b"<svg": "a drawing (SVG)",
    b"<?xml": "an XML document",
}
_BEGINNING = 2000


def _foreign(head: bytes) -> str:
    """What a file is that is no text of readings, by how it begins; "" for others."""
    for magic, kind in _FOREIGN.items():
        if head.startswith(magic):
            return kind
    plain = head.removeprefix(b"\xef\xbb\xbf").lstrip().lower()
    for begin, kind in _MARKED.items():
        if plain.startswith(begin):
            return _MARKED[b"<svg"] if begin == b"<?xml" and b"<svg" in plain else kind
    return ""


class Decoded(NamedTuple):
    """A text as UTF-8 without byte order mark, the encoding that it was in, a doubt about it in
    words, or "", and what was found beside it."""

    text: bytes
    encoding: str
    doubt: str = ""
    notes: tuple[str, ...] = ()


_UNSEEN = pattern(b"|".join(re.escape(chr(sign).encode()) for sign in UNSEEN))
_SPACES_BEHIND = pattern(rb"(?<! ) +(?=\r?\n|\r)")
_BLANK_LINES = pattern(rb"(\r?\n)(?:[ \t]*\r?\n)+[ \t]*\Z")
_TAIL_BYTES = 1 << 12
# how these begin, which is found much faster than a pattern
_MAY_BE_UNSEEN = (b"\xe2\x80", b"\xe2\x81", b"\xef\xbb\xbf")


def utf8(raw: bytes, where: str, encoding: str | None = None) -> Decoded:
    """A text as UTF-8, without signs that cannot be seen.

    UTF-8, UTF-16 with its mark or with a zero in every other byte, and else the code that its
    letters fit best, unless `encoding` says which. Raises ReadingsError where the bytes
    are no text.
    """
    found = _utf8(raw, where, encoding)
    text = _tidy(found.text)
    found = found._replace(text=text)
    if _is_plain(text, HEAD_BYTES):
        # only in the head may they be
        seen = _UNSEEN.sub(b"", text[:HEAD_BYTES])
        whole = len(seen) == len(text[:HEAD_BYTES])
        return found if whole else found._replace(text=seen + text[HEAD_BYTES:])
    if not any(sign in text for sign in _MAY_BE_UNSEEN):
        return found
    return found._replace(text=_UNSEEN.sub(b"", text))


def _tidy(text: bytes) -> bytes:
    """The text without spaces at the ends of its lines and blank lines below the last one, and with
    usual line ends."""
    head = text[:HEAD_BYTES]
    if b"\r" in head and b"\n" not in text:
        # the line ends of old machines, which some instruments still write
        text = text.replace(b"\r", b"\n")
    if b" \n" in head or b" \r" in head:
        text = _SPACES_BEHIND.sub(b"", text)
    tail = text[-_TAIL_BYTES:]
    bare = _BLANK_LINES.sub(rb"\1", tail)
    return text if len(bare) == len(tail) else text[: -len(tail)] + bare


def _utf8(raw: bytes, where: str, encoding: str | None) -> Decoded:
    foreign = _foreign(raw[:_BEGINNING])
    if foreign:
        raise ReadingsError(
            f"This is {foreign}, not delimited text.",
            where=where,
            remedy="Choose a text file with one row of readings a line, or copy its table and "
            "paste it.",
        )
    whole = raw.rstrip(b"\0")
    if len(whole) < len(raw) and b"\0" not in whole[:HEAD_BYTES]:
        # with which a file ends whose writer lost its power
        note = passed_over(len(raw) - len(whole), "at the end of the file", "empty byte")
        return utf8(whole, where, encoding)._replace(notes=(note,))
    if raw.endswith(b"\x1a"):
        # with which old systems end a text
        raw = raw[:-1]
    if encoding is not None:
        return Decoded(_decoded(raw, encoding, where), encoding)
    if raw.startswith(UTF16):
        return Decoded(_decoded(raw, "utf-16", where), "utf-16")
    # much faster than decoding it all: letters beyond ASCII mostly stand in the header
    plain = _is_plain(raw, HEAD_BYTES)
    if b"\0" in (raw[:HEAD_BYTES] if plain else raw):
        head = raw[:400]
        for offset, codec in ((1, "utf-16-le"), (0, "utf-16-be")):
            if len(head) > 3 and not any(head[offset::2]) and 0 not in head[1 - offset :: 2]:
                return Decoded(_decoded(raw, codec, where), "utf-16")
        raise _not_text(where)
    raw = raw.removeprefix(b"\xef\xbb\xbf")
    try:
        _whole_letters(raw[:HEAD_BYTES] if plain else raw).decode("utf-8")
    except UnicodeDecodeError:
        code, doubt = code_of(raw)
        return Decoded(_decoded(raw, code, where), code, doubt)
    return Decoded(raw, "utf-8")


def names_in_codes(raw: bytes, line: int) -> Mapping[str, str]:
    """How the first names with letters beyond ASCII look in each encoding that the head of a text
    can be in, the likeliest first by our own order, then those that a detector proposes: the names
    of a line from 1, or else of the first line that has some."""
    whole = raw[: raw.rfind(b"\n") + 1] or raw
    found = {}
    likely = [*ranked_codes(whole)[:_MOST_LIKELY], *proposed_codes(whole)[:_MOST_LIKELY]]
    for code in dict.fromkeys((*likely, *WORDS["encoding"].values)):
        if code == "utf-16" and b"\0" not in whole:
            # any two bytes are a letter of it
            continue
        try:
            lines = whole.decode(code).splitlines()
        except UnicodeDecodeError:
            continue
        named = [lines[line - 1]] if 0 < line <= len(lines) else []
        words = next(filter(None, map(_beyond_ascii, (*named, *lines))), None)
        if words is not None and "\0" not in "".join(words):
            found[code] = short(printable(", ".join(words)), _MOST_SHOWN)
    return found


def proposed_codes(raw: bytes) -> list[str]:
    """The encodings that charset-normalizer proposes for the head of a text, the likeliest first.

    It is right about fewer short tables than our own order (`alphabets`), so that it only says
    which are looked at first where somebody doubts that one.
    """
    try:
        from charset_normalizer import from_bytes
    except ImportError:
        return []
    ours = {codecs.lookup(code).name: code for code in WORDS["encoding"].values}
    found = from_bytes(raw[:_MOST_LOOKED_AT], cp_isolation=list(ours))
    names = [codecs.lookup(match.encoding).name for match in found]
    return [ours[name] for name in names if name in ours]


def _beyond_ascii(line: str) -> list[str]:
    """The first cells of a line in which letters beyond ASCII stand."""
    cells = [cell.strip(' "') for cell in re.split(r"[,;|\t]", line)]
    return [cell for cell in cells if not cell.isascii()][:_MOST_NAMES]


def _is_plain(raw: bytes, offset: int) -> bool:
    """Whether no letter beyond ASCII, and no zero, stands from an offset on; as signed numbers both
    are no more than 0, and no byte has to be copied to know it."""
    return len(raw) <= offset or bool(np.frombuffer(raw, np.int8, offset=offset).min() > 0)


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
        end = raw.find(b"\n", start, start + LONGEST_LINE)
        if end < 0:
            if len(raw) - start >= LONGEST_LINE and b"\r" not in raw[start : start + LONGEST_LINE]:
                raise ReadingsError(
                    "A line of this file is longer than a million letters.",
                    where=where,
                    remedy="Choose a text file with one row of readings a line.",
                )
            return
        start = end + 1
