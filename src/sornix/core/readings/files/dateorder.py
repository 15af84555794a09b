"""Whether cells may be dates, and whether days or months stand first in them."""

import re
from collections.abc import Iterable, Sequence

from sornix.core.patterns import pattern
from sornix.core.text.lengths import LONGEST_MOMENT

# also 2025Q1 and 2025W51, of years in which such are written
_MONTH_AND_YEAR = pattern(
    r"[^\W\d]{3,}\.?\s?[\s/'’-]\s?\d{2,4}|\d{4}[\s/-]\s?[^\W\d]{3,}"
    r"|(?:19|20)\d\d(?:[Qq][1-4]|[Ww]\d\d)"
)
_ORDER_TOLD = pattern(r"\b(d{1,2}[-/.]m{1,2}|m{1,2}[-/.]d{1,2})\b", re.IGNORECASE)
_HALF = pattern(r"\d\s?[ap]\.?m\b", re.IGNORECASE)
_BETWEEN_DIGITS = pattern(r"\d.*\d")
_DATE_SIGN = pattern(r"[-/.:_\s年년]")


def may_be_date(cell: str) -> bool:
    """Whether a sign of dates stands between two digits, or a word or a part beside a
    year."""
    if len(cell) > LONGEST_MOMENT:
        return False
    between = _BETWEEN_DIGITS.search(cell)
    if between is not None and _DATE_SIGN.search(between[0]) is not None:
        return True
    return _MONTH_AND_YEAR.fullmatch(cell.strip()) is not None


def find_order(columns: Iterable[Sequence[str]], titles: str = "") -> tuple[str, str]:
    """Whether days or months stand first in dates such as 03/04/2026, "" where there are none
    such, and a doubt about it in words. What the cells leave open the `titles` of columns may tell
    (MM/DD/YYYY), or a clock of twelve hours, which goes with months first."""
    example, halves, found = "", False, {"day": 0, "month": 0}
    for cells in columns:
        likely = [cell for cell in cells if may_be_date(cell)]
        if len(likely) * 2 < len(cells):
            continue
        from sornix.core.text.moments import date_order

        for cell in likely:
            told = date_order(cell)
            if told:
                found[told] += 1
            elif told is not None:
                example = example or cell.strip()
                halves = halves or _HALF.search(cell) is not None
    if found["day"] or found["month"]:
        return ("day" if found["day"] >= found["month"] else "month"), ""
    if not example:
        return "", ""
    if (match := _ORDER_TOLD.search(titles)) is not None:
        return ("day" if match[1][0] in "dD" else "month"), ""
    order = "month" if halves else "day"
    return order, _order_doubt(example, order)


def _order_doubt(example: str, taken: str) -> str:
    from sornix.core.text.moments import MONTHS, moment_text, parse_moment

    said = []
    for order in ("day", "month"):
        moment = parse_moment(example, order)
        if moment is None:
            return ""
        _, month, day = moment_text(moment.seconds, "day")[:10].split("-")
        said.append(f"{int(day)} {MONTHS[int(month) - 1]}")
    if said[0] == said[1]:
        return ""
    date = example.split(maxsplit=1)[0]
    return f"“{date}” may be {said[0]} or {said[1]}; {taken}s were taken to come first."
