"""Dates and times in and out: what stands in files, what people type, what is printed.

A moment is a number of seconds since 1970-01-01 00:00 on the clock of whoever wrote it down: no
zone is ever added to a plain date or time, so midnight stays midnight.
"""

import re
from datetime import date
from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.text.lengths import LONGEST_MOMENT
from sornix.core.text.months import MONTH_NUMBERS

DAY = 86400.0
MONTHS = (
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
)  # fmt: skip
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")

# How finely a moment is written, from coarse to fine; `clock` is a time of day without its date.
MONTH, DATE, MINUTE, SECOND, FRACTION, CLOCK = (
    "month",
    "day",
    "minute",
    "second",
    "fraction",
    "clock",
)
_FINENESS = (MONTH, DATE, MINUTE, SECOND, FRACTION)
# Which number comes first in a date such as 03/04/2026.
DAY_FIRST, MONTH_FIRST = "day", "month"

_EPOCH = date(1970, 1, 1).toordinal()
_TIME = (
    r"(?P<hour>\d{1,2}):(?P<minute>\d{2})(?::(?P<second>\d{2})(?:[.,](?P<part>\d{1,9}))?)?"
    r"\s?(?P<half>[ap]\.?m\.?)?"
)
# Behind a date, 08.30 and 8h30 are nothing else.
_TIME_OF_DAY = _TIME.replace(":(?P<minute>", "[:.h](?P<minute>").replace("(?::(", "(?:[:.](")
# Hours from universal time of clocks whose names mean one thing everywhere.
_ZONES = {
    "UTC": 0, "GMT": 0, "WET": 0, "WEST": 1, "CET": 1, "MEZ": 1, "CEST": 2, "MESZ": 2, "EET": 2,
    "EEST": 3, "JST": 9, "AEST": 10, "AEDT": 11, "NZST": 12, "NZDT": 13, "EST": -5, "EDT": -4,
    "MDT": -6, "PST": -8, "PDT": -7,
}  # fmt: skip
_ZONE = "|".join(sorted(_ZONES, key=len, reverse=True))
_OFFSET = rf"\s?(?P<offset>Z|{_ZONE}|[+−-]\d{{2}}:?\d{{2}}|[+−-]\d{{2}})?"
_AFTER = rf"(?:(?:T|,?\s+|:){_TIME_OF_DAY}{_OFFSET})?"
_MONTH_NAME = rf"(?P<name>{'|'.join(sorted(MONTH_NUMBERS, key=len, reverse=True))})\.?"
_WEEKDAY = r"(?:(?:mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+)?"
_YEAR_FIRST = (
    rf"(?P<year>\d{{4}})(?P<mark>[-/._])(?P<month>\d{{1,2}})(?:(?P=mark)(?P<day>\d{{1,2}}))?"
    rf"{_AFTER}"
)
_IN_SIGNS = (
    rf"(?P<year>\d{{4}})\s?[年년]\s?(?P<month>\d{{1,2}})\s?[月월](?:\s?(?P<day>\d{{1,2}})\s?[日일])?"
    rf"{_AFTER}"
)
_YEAR_LAST = (
    rf"(?P<first>\d{{1,2}})(?P<mark>[-/.])(?P<last>\d{{1,2}})(?P=mark)"
    rf"(?P<year>\d{{4}}|\d{{2}}){_AFTER}"
)
_NAMED = (
    (
        rf"{_WEEKDAY}(?P<day>\d{{1,2}})(?:st|nd|rd|th|er|\.)?(?:\s+de)?[\s/-]*{_MONTH_NAME}"
        rf"(?:\s+de)?[\s,/-]*(?P<year>\d{{4}}|\d{{2}}){_AFTER}"
    ),
    rf"{_WEEKDAY}{_MONTH_NAME}\s+(?P<day>\d{{1,2}})(?:st|nd|rd|th)?,?\s+(?P<year>\d{{4}}){_AFTER}",
    # as the clocks of computers are printed: Wed Jun  3 08:00:00 2026
    rf"{_WEEKDAY}{_MONTH_NAME}\s+(?P<day>\d{{1,2}})\s+{_TIME}{_OFFSET}\s+(?P<year>\d{{4}})",
    rf"{_MONTH_NAME}(?:[\s/-]+(?P<year>\d{{4}})|\s?[-'’/]\s?(?P<short>\d{{2}}))",
    rf"(?P<year>\d{{4}})[\s/-]+{_MONTH_NAME}(?:[\s/-]+(?P<day>\d{{1,2}}))?{_AFTER}",
)
_MONTH_OF_YEAR = r"(?P<month>0?[1-9]|1[0-2])[-/.](?P<year>1[6-9]\d\d|2[01]\d\d)"
_PART_OF_YEAR = (
    r"(?P<year>\d{4})[\s/-]?(?:Q(?P<quarter>[1-4])|W(?P<week>\d{2})(?:-?(?P<weekday>[1-7]))?)"
    r"|Q(?P<fourth>[1-4])[\s/-]?(?P<later>\d{4})"
)
# a day by its number in the year, as loggers write it: of years in which they do
_DAY_OF_YEAR = rf"(?P<year>19\d\d|20\d\d)-(?P<ordinal>\d{{3}}){_AFTER}"
_DAY_AND_MONTH = rf"(?P<day>\d{{1,2}})\.?\s+{_MONTH_NAME}"


@cache
def _pattern(text: str) -> re.Pattern[str]:
    """A pattern, made when it is first needed: most figures have no dates."""
    return re.compile(text, re.IGNORECASE)


class Moment(NamedTuple):
    """`seconds` since 1970, how finely that was written (`form`), and the offset from universal
    time in seconds, None where none was written. The offset is not taken off `seconds`."""

    seconds: float
    form: str
    offset: float | None = None


def parse_moment(text: str, order: str = DAY_FIRST) -> Moment | None:
    """The date, time or both in a text, or None. `order` says how 03/04/2026 is meant."""
    tidy = text.strip() if len(text) <= LONGEST_MOMENT else ""
    if not tidy or not any(sign.isdigit() for sign in tidy):
        return None
    if match := _pattern(_YEAR_FIRST).fullmatch(tidy) or _in_signs(tidy):
        return _moment(match, int(match["year"]), int(match["month"]), match["day"])
    if match := _pattern(_YEAR_LAST).fullmatch(tidy):
        first, last = int(match["first"]), int(match["last"])
        number, month = (first, last) if order == DAY_FIRST else (last, first)
        return _moment(match, _full_year(match["year"]), month, str(number))
    if tidy[0].isalnum() and any(sign.isalpha() for sign in tidy):
        for pattern in _NAMED:
            if match := _pattern(pattern).fullmatch(tidy):
                month = _month_number(match["name"])
                parts = match.groupdict()
                year = _full_year(parts["year"] or parts["short"])
                return _moment(match, year, month, parts.get("day"))
    if match := _pattern(_MONTH_OF_YEAR).fullmatch(tidy):
        return _moment(match, int(match["year"]), int(match["month"]), None)
    if (match := _pattern(_PART_OF_YEAR).fullmatch(tidy)) is not None:
        return _part_of_year(match)
    if match := _pattern(_TIME).fullmatch(tidy):
        seconds, _ = _time_of_day(match)
        return None if seconds is None else Moment(seconds, CLOCK)
    return _by_day_of_year(tidy)


def _in_signs(text: str) -> re.Match[str] | None:
    """A date with the signs for year, month and day behind its numbers."""
    return _pattern(_IN_SIGNS).fullmatch(text) if "年" in text or "년" in text else None


def _by_day_of_year(text: str) -> Moment | None:
    match = _pattern(_DAY_OF_YEAR).fullmatch(text)
    if match is None:
        return None
    begin = date(int(match["year"]), 1, 1).toordinal()
    day = date.fromordinal(begin - 1 + int(match["ordinal"]))
    same = day.year == int(match["year"])
    return _moment(match, day.year, day.month, str(day.day)) if same else None


def _part_of_year(match: re.Match[str]) -> Moment | None:
    """The first day of a quarter, or of a week of ISO 8601."""
    if match["week"] is not None:
        try:
            day = date.fromisocalendar(
                int(match["year"]), int(match["week"]), int(match["weekday"] or 1)
            )
        except ValueError:
            return None
        return Moment((day.toordinal() - _EPOCH) * DAY, DATE)
    year = int(match["year"] or match["later"])
    days = _days(year, 3 * int(match["quarter"] or match["fourth"]) - 2, 1)
    return None if days is None else Moment(days * DAY, MONTH)


def typed_moment(text: str, about: float) -> float:
    """The moment that a person typed: also `3 June` and `14:30`, on the year and day of `about`.

    Raises EditRefused.
    """
    moment = parse_moment(text)
    if moment is not None and moment.form == CLOCK:
        return float(np.floor(about / DAY) * DAY + moment.seconds)
    if moment is not None:
        return moment.seconds
    if match := _pattern(_DAY_AND_MONTH).fullmatch(text.strip()):
        year = int(str(np.datetime64(int(about // DAY), "D"))[:4])
        days = _days(year, _month_number(match["name"]), int(match["day"]))
        if days is not None:
            return days * DAY
    raise EditRefused(
        f"“{text.strip()}” is not a date or a time.",
        remedy="Write it as 2026-06-03, 3 June or 14:30.",
    )


def _full_year(text: str) -> int:
    year = int(text)
    # as in POSIX: 69 to 99 are of the last century
    return year if len(text) > 2 else year + (1900 if year >= 69 else 2000)


def _month_number(name: str) -> int:
    return MONTH_NUMBERS[name.lower()]


def _days(year: int, month: int, day: int) -> int | None:
    try:
        return date(year, month, day).toordinal() - _EPOCH
    except ValueError:
        return None


def _moment(match: re.Match[str], year: int, month: int, day: str | None) -> Moment | None:
    days = _days(year, month, int(day) if day else 1)
    if days is None:
        return None
    if "hour" not in match.re.groupindex or not match["hour"]:
        return Moment(days * DAY, DATE if day else MONTH)
    seconds, form = _time_of_day(match)
    if seconds is None:
        return None
    return Moment(days * DAY + seconds, form, _offset(match["offset"]))


def _time_of_day(match: re.Match[str]) -> tuple[float | None, str]:
    hour, minute, second = (int(match[part] or 0) for part in ("hour", "minute", "second"))
    if match["half"]:
        if not 1 <= hour <= 12:
            return None, ""
        hour = hour % 12 + (12 if match["half"][0] in "pP" else 0)
    # 24:00 is the end of a day, and a second of 60 is a leap second
    if minute > 59 or second > 60 or hour > 24 or (hour == 24 and minute + second > 0):
        return None, ""
    part = match["part"]
    form = MINUTE if match["second"] is None else FRACTION if part else SECOND
    return hour * 3600 + minute * 60 + second + (float(f"0.{part}") if part else 0.0), form


def _offset(text: str | None) -> float | None:
    if not text:
        return None
    if text.isalpha():
        return 3600.0 * _ZONES.get(text.upper(), 0)
    digits = text[1:].replace(":", "").ljust(4, "0")
    seconds = int(digits[:2]) * 3600.0 + int(digits[2:]) * 60.0
    return -seconds if text[0] in "-−" else seconds


# A month as a length of time: a twelfth of 365.2425 days, the mean of the Gregorian calendar.
MEAN_MONTH = 2_629_746.0


def finer(one: str, other: str) -> str:
    """The finer of two forms."""
    if CLOCK in (one, other):
        return CLOCK if one == other else one if other == CLOCK else other
    return max(one, other, key=_FINENESS.index)


def date_order(text: str) -> str | None:
    """What a text tells of the order of dates: `day`, `month`, "" if it leaves that open, or None
    if it is no date of that form."""
    tidy = text.strip() if len(text) <= LONGEST_MOMENT else ""
    if all(tidy.count(mark) < 2 for mark in "-/."):
        # so that no pattern is compiled for numbers
        return None
    match = _pattern(_YEAR_LAST).fullmatch(tidy)
    if match is None:
        return None
    first, last = int(match["first"]), int(match["last"])
    if first > 12 >= last:
        return DAY_FIRST
    if last > 12 >= first:
        return MONTH_FIRST
    # points between the numbers are only written with the day first
    return DAY_FIRST if match["mark"] == "." else ""


_UNITS = {MONTH: "M", DATE: "D", MINUTE: "m", SECOND: "s", FRACTION: "us", CLOCK: "us"}


_PIECE = 1 << 14
# The last second whose microseconds are counted in 64 bits, some 292 000 years from now.
_LAST_DATE = 9.2e12


def moment_texts(seconds: NDArray[np.float64], form: str) -> list[str]:
    """Moments, shape (n,), as ISO dates and times with a space between; "" where NaN.

    Anything finer than the form is written too, so that nothing is lost.
    """
    if len(seconds) > _PIECE:
        # in pieces, so that a window stays live meanwhile
        pieces = (seconds[i : i + _PIECE] for i in range(0, len(seconds), _PIECE))
        return [text for piece in pieces for text in moment_texts(piece, form)]
    # far beyond all calendars there are only seconds
    known = np.abs(seconds) < _LAST_DATE
    whole = np.zeros(len(seconds), dtype="datetime64[us]")
    whole[known] = np.round(seconds[known] * 1e6).astype(np.int64).view("datetime64[us]")
    texts = np.datetime_as_string(whole, unit="us")
    return [
        _trimmed(str(text), form) if there else f"{value!r} s" if np.isfinite(value) else ""
        for text, there, value in zip(texts, known, seconds.tolist(), strict=True)
    ]


def moment_text(seconds: float, form: str) -> str:
    """One moment as `moment_texts` writes it."""
    return moment_texts(np.array([seconds]), form)[0]


def moment_words(seconds: float, within: float) -> str:
    """One moment for reading, only as fine as `within` seconds need."""
    for unit in (DAY, 60.0, 1.0):
        nearest = round(seconds / unit) * unit
        if abs(nearest - seconds) <= within:
            seconds = nearest
            break
    return moment_text(seconds, CLOCK if 0 <= seconds < DAY else DATE)


def _trimmed(text: str, form: str) -> str:
    day, clock = text.split("T")
    hours, part = clock[:8], clock[9:].rstrip("0")
    fine = f"{hours}.{part}" if part else hours
    if form == CLOCK and day == "1970-01-01":
        return fine if part or not hours.endswith(":00") else hours[:5]
    if part or form in (SECOND, FRACTION):
        return f"{day} {fine}"
    if not hours.endswith(":00"):
        return f"{day} {hours}"
    if form == MINUTE or hours != "00:00:00":
        return f"{day} {hours[:5]}"
    return day[:-3] if form == MONTH and day.endswith("-01") else day
