"""The marks in numbers, and the numbers in cells."""

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any, NamedTuple

from sornix.core.patterns import pattern

# each sign can be taken in one way only: the time that a long cell takes grows with its length
_NUMBER = pattern(r"[+\-−]?(\d+(?:[.٫]\d*)?|[.٫]\d+)([eE][+\-−–‐‑﹣－]?\d+)?")
_PLAIN = frozenset("0123456789.")
# numbers whose commas (points) can only be decimal marks: not three digits behind, or a lone zero
# before
_COMMA_DECIMAL = pattern(r"[+\-−]?(?:\d*,(?:\d{1,2}|\d{4,})|0,\d+|\d{4,},\d+)(?:[eE][+\-−]?\d+)?")
_POINT_DECIMAL = pattern(
    r"[+\-−]?(?:\d*\.(?:\d{1,2}|\d{4,})|0\.\d+|\d{4,}\.\d+)(?:[eE][+\-−]?\d+)?"
)
_AFTER_GROUP = {
    ",": pattern(r"[.' ’\u00a0\u2009\u202f]\d{3},\d+$"),
    ".": pattern(r"[,' ’\u00a0\u2009\u202f]\d{3}\.\d+$"),
}
# one comma with three digits behind it can be either
_EITHER = pattern(r"[+\-−]?[1-9]\d{0,2},\d{3}")
_GROUPED = {
    # also by lakh and crore: 12,34,567
    ",": pattern(r"[+\-−]?[1-9]\d{0,2}(?:(?:,\d{3})+|(?:,\d{2})+,\d{3})(?:\.\d+)?"),
    ".": pattern(r"[+\-−]?[1-9]\d{0,2}(?:\.\d{3})+(?:,\d+)?"),
    " ": pattern(r"[+\-−]?[1-9]\d{0,2}(?:[ \u00a0\u2009\u202f]\d{3})+(?:[.,]\d+)?"),
    "'": pattern(r"[+\-−]?[1-9]\d{0,2}(?:['’]\d{3})+(?:[.,]\d+)?"),
}
# what is written for a minus sign besides it: dashes of all widths
_DASHES = ("–", "‐", "‑", "﹣", "－")
_AS_WRITTEN_HERE = str.maketrans({**dict.fromkeys(("−", *_DASHES), "-"), "٫": "."})
_BEGINNINGS = frozenset("+-−.,0123456789")


class Marks(NamedTuple):
    """The marks in numbers: between whole and fraction, and between thousands ("" for none)."""

    decimal: str = "."
    thousands: str = ""


def number_in(cell: str, marks: Marks) -> float | None:
    """The number that a cell holds, or None."""
    text = cell.strip()
    if text[:1] in _DASHES:
        text = f"-{text[1:]}"
    if not text or not (text[0] in _BEGINNINGS or text[0].isdecimal()):
        return None
    if marks.thousands and _GROUPED[marks.thousands].fullmatch(text):
        for mark in (marks.thousands, "’", "\u00a0", "\u2009", "\u202f"):
            text = text.replace(mark, "")
    if marks.decimal == ",":
        if "." in text:
            return None
        text = text.replace(",", ".")
    if _PLAIN.issuperset(text):
        # most numbers, and no pattern is compiled for them
        return float(text) if text.count(".") < 2 and text != "." else None
    return float(text.translate(_AS_WRITTEN_HERE)) if _NUMBER.fullmatch(text) else None


def otherwise_divided(cell: str, marks: Marks) -> float | None:
    """The number that a cell holds whose decimal mark is the other one, or None."""
    other = "," if marks.decimal == "." else "."
    return number_in(cell, Marks(other)) if cell.count(other) == 1 else None


def has_digit(text: str) -> bool:
    """Whether a text can hold a number at all; quicker than a pattern that may not be needed."""
    return any(map(str.isdecimal, text))


def is_number(cell: str, marks: Marks = Marks()) -> bool:  # noqa: B008 - a frozen value
    """Whether a cell reads as a number with these marks."""
    return number_in(cell, marks) is not None


def settled_marks(
    cells: Iterable[str], separator: str, held: Mapping[str, Any]
) -> tuple[Marks, str]:
    """The marks in the numbers among cells, but for what is held of a dialect, and a doubt about
    them in words, or ""."""
    found, doubt = find_marks(cells, separator)
    if "decimal" in held:
        decimal, doubt = held["decimal"], ""
        other = {",": ".", ".": ","}[decimal]
        # where the other one stands in numbers, it divides thousands
        divides = found.thousands in (".", ",") or found.decimal == other == ","
        found = Marks(decimal, other if divides else found.thousands)
    if "thousands" in held:
        found, doubt = Marks(found.decimal, held["thousands"]), ""
    return found, doubt


def find_marks(cells: Iterable[str], separator: str) -> tuple[Marks, str]:
    """The marks in the numbers among cells, and a doubt about them in words, or ""."""
    points = commas = 0
    grouped: Counter[str] = Counter()
    either, several = "", set[str]()
    for cell in cells:
        text = cell.strip()
        if not text[-1:].isdecimal():
            # so that no pattern is compiled for words
            continue
        if _PLAIN.issuperset(text) and text.count(".") < 2:
            # most numbers: the answers of _POINT_DECIMAL and of _GROUPED without these
            whole, point, part = text.partition(".")
            no_group = len(part) != 3 or whole == "0" or len(whole) > 3
            points += bool(point) and no_group
            grouped["."] += bool(point) and not no_group and whole[:1] not in ("", "0")
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
                    several |= {mark} if text.count(mark) > 1 else set()
            # a group before a decimal mark tells of both
            commas += bool(_AFTER_GROUP[","].search(text))
            points += bool(_AFTER_GROUP["."].search(text))
    # where commas divide no cells, they are as likely decimal marks; 1.234.567 has no decimal
    # point, and so has 12.345 none beside it
    likely = commas == points > 0 and separator == ";"
    decimal = "," if commas > points or likely or ("." in several and not points) else "."
    if decimal == "." and either and not points and not several and separator != ",":
        meant = either.replace(",", ".")
        doubt = f"“{either}” may be {either.replace(',', '')} or {meant}; it was read as {meant}."
        return Marks(","), doubt
    # what divides whole and fraction in some of the numbers divides no thousands in others
    divides = {",": commas, ".": points}
    rest = [mark for mark, count in grouped.most_common()
            if count and mark != decimal and (several or not divides.get(mark))]  # fmt: skip
    return Marks(decimal, rest[0] if rest else ""), ""
