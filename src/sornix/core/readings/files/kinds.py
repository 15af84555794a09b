"""Cells become columns: of numbers, of dates and times, or of text."""

import re
from collections.abc import Iterable, Iterator, Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import ReadingsError
from sornix.core.patterns import pattern
from sornix.core.readings.cells.header import Heading, is_unit, unit_for
from sornix.core.readings.cells.marks import Marks, has_digit, is_number, number_in
from sornix.core.readings.cells.standins import without_stand_ins
from sornix.core.readings.files.dateorder import may_be_date
from sornix.core.readings.layouts.bits import A_NUMBER
from sornix.core.readings.tables.column import (
    NUMBER,
    TEXT,
    TIME,
    Column,
    moments_column,
    number_column,
    text_column,
    time_column,
)
from sornix.core.readings.tables.dialect import MISSING_MARKS
from sornix.core.text import short
from sornix.core.text.names import DAY_OF_YEAR, REMARK_NAME

# A column in which at least this share of the cells are numbers is a number column with text in
# it, to be reported; below that it is a text column in which numbers occur.
_MOSTLY = 0.5
# More columns than this are no table of readings that anyone looks at.
MOST_COLUMNS = 20_000
_MANY = 10_000
# so many cells tell whether they are numbers in another form
_MANY_ROWS = 2000
# dates without marks have eight
_FEW_SIGNS = 7
_USUAL_MARKS = frozenset(MISSING_MARKS)
# what stands in the place of a unit over lengths of time
_LENGTHS = pattern(r"[dhms]{1,2}(?::[hms]{1,2}){1,2}", re.IGNORECASE)
_SHORT_YEAR = pattern(r"\d{1,2}([-/.])\d{1,2}\1\d{2}(?!\d)|[^\W\d]{3,}\.?\s?[-'’/]\s?\d{2}$")
_RANGE = pattern(r"\d{1,9}(?:[.,]\d{1,9})?\s?[-–]\s?\d{1,9}(?:[.,]\d{1,9})?")
# about a number, one with marks behind it, with a word or with one of several units
_BESIDE = pattern(
    rf"(?:[~≈]|ca?\.|approx\.?)\s?{A_NUMBER}|{A_NUMBER}\s?[*†‡?!#]{{1,3}}"
    rf"|[+\-−]?\d{{1,15}}[.,]\d{{1,15}}\s?[^\W\d_]{{1,6}}"
    rf"|{A_NUMBER}\s?(?:°[CF]?|(?:[µ%‰]|[^\W\d_]{{1,6}}/)\S{{0,8}})",
    re.IGNORECASE,
)
_SIGNS = "+-−.,0123456789"
_LIMIT = pattern(r"[<>≤≥]\s?\d{1,15}(?:[.,]\d{1,15})?")
_NUMBERS_IN_WORDS = (
    (_RANGE, "ranges", "as numbers, Repair takes their middles"),
    (_LIMIT, "limits", "as numbers, Repair keeps them, marked, or takes the half"),
    (_BESIDE, "numbers with something beside them", "as numbers, Repair takes them alone"),
)
# A clock, but for what says how dates are written: DD/MM, HHMM.
_ZONE = pattern(
    r"(?:UTC|GMT|Z)\b.*|[+\-−]\d{1,2}(?::?\d\d)?|(?!(?i:[DMYHS]+)$)[A-Z]{3,5}|.*\b(?:time|local)",
)
# 05.2026, 06.2026: nobody writes a zero before numbers
_MONTH = pattern(r"(?:0[1-9]|1[0-2])\.(?:19|20)\d\d")
_HALF_DAY = 43_200.0
# what is said of {names}, until they are filled
ABOVE_EMPTY = (
    "Below each filled cell of {names} are empty ones; “Fill empty cells from above”, in the menu "
    "of the column, fills them."
)


class Manner(NamedTuple):
    """How cells are understood: marks in numbers, order of dates, and marks of missing readings
    (None: those that stand out are found, and numbers that are `told` to be such); whether the
    decimal mark is `held` for all columns."""

    marks: Marks = Marks()
    order: str = "day"
    missing: tuple[str, ...] | None = None
    held: bool = False
    told: tuple[float, ...] = ()


class Known(NamedTuple):
    """A column, the marks of missing readings that were found in it, what was written beside the
    numbers in its cells, as their uncertainties, and what is to be said of it, or of all of the
    same {names}."""

    column: Column
    missing: tuple[str, ...] = ()
    beside: Column | None = None
    notes: tuple[str, ...] = ()


def notes_of(known: Sequence[Known]) -> tuple[str, ...]:
    """What is to be said of columns, once where it is the same of several."""
    said: dict[str, list[str]] = {}
    for one in known:
        for note in one.notes:
            said.setdefault(note, []).append(one.column.name)
    named = {note: ", ".join(f"“{name}”" for name in names) for note, names in said.items()}
    return tuple(note.replace("{names}", short(names, 60)) for note, names in named.items())


def kind_of(cells: Iterable[str], manner: Manner, name: str = "") -> str:
    """The kind that the present cells of a column of that name suggest; number where there are
    none."""
    present = [cell for cell in cells if cell.strip() not in _USUAL_MARKS]
    numbers = sum(number_in(cell, manner.marks) is not None for cell in present)
    if numbers >= _MOSTLY * len(present):
        # names of samples, and dates as 20260128, are to be kept as they stand
        bare = [cell.strip() for cell in present]
        if bare and all(map(_MONTH.fullmatch, bare)) and any(cell[0] == "0" for cell in bare):
            return TIME
        kept = bare and DAY_OF_YEAR.fullmatch(name.strip()) is None and _are_kept(bare)
        return TEXT if kept else NUMBER
    likely = [cell for cell in present if may_be_date(cell)]
    if len(likely) < _MOSTLY * len(present):
        return TEXT
    from sornix.core.readings.cells.forms import are_spans_of_years
    from sornix.core.readings.cells.lasting import are_durations

    bare = [cell.strip() for cell in likely]
    if are_durations(bare) or (len(bare) > 1 and are_spans_of_years(bare)):
        return TEXT
    from sornix.core.text.moments import parse_moment

    moments = sum(parse_moment(cell, manner.order) is not None for cell in likely)
    if moments < _MOSTLY * len(present):
        return TEXT
    # Mar-12, Mar-13 may as well be names
    stems = {cell[:3] for cell in bare if cell[0].isalpha() and _SHORT_YEAR.match(cell)}
    return TEXT if len(stems) == 1 and len(bare) > 1 else TIME


def _are_kept(cells: Sequence[str]) -> bool:
    """Whether cells that could be numbers are names of samples, or dates without marks."""
    # most columns of numbers need not be looked at closely
    if not any(cell.isalnum() and (cell[0] == "0" or len(cell) > _FEW_SIGNS or not cell.isdigit())
               for cell in cells):  # fmt: skip
        return False
    from sornix.core.readings.cells.forms import are_compact_dates, are_identifiers

    return are_identifiers(cells) or are_compact_dates(cells)


def _some(cells: Sequence[str]) -> Sequence[str]:
    """Of very many cells some from everywhere, which tell as much: picked by chance, because what
    repeats itself would fool every other way."""
    if len(cells) <= _MANY:
        return cells
    import random

    return [cells[i] for i in random.Random(_MANY).sample(range(len(cells)), _MANY)]


def make_column(
    heading: Heading,
    cells: Sequence[str],
    kind: str | None,
    manner: Manner,
    *,
    settled: bool = False,
) -> Known:
    """The column of these cells; `kind` None finds it, if they are not known to be words. Unless
    `settled`, a number column that is text for the most part becomes one of text."""
    stripped = [cell.strip() for cell in cells]
    if heading.words:
        return Known(text_column(heading.name, stripped, heading.unit))
    kind = kind or kind_of(_some(stripped), manner, heading.name)
    if not settled and kind != NUMBER and _begins_with_digits(stripped):
        # what is a date with points is no number with another decimal mark
        known = _otherwise_written(heading, stripped, manner._replace(held=True)
                                   if kind == TIME else manner)  # fmt: skip
        if known is not None:
            return known
    if kind == TEXT:
        words = [("" if text in _USUAL_MARKS and not settled else text) for text in stripped]
        remarks = REMARK_NAME.fullmatch(heading.name.strip()) is not None
        notes = kept_as_words(words) + (() if remarks else _above_empty(words))
        return Known(text_column(heading.name, words, heading.unit), notes=notes)
    if kind == TIME:
        column = _time_column(heading, stripped, manner)
        days = column.form == "day"
        below = _above_empty([t if t not in _USUAL_MARKS else "" for t in stripped]) if days else ()
        return Known(column, notes=(*time_notes(column, stripped), *zone_notes(heading), *below))
    return _numbers(heading, stripped, manner, settled=settled)


def _begins_with_digits(cells: Sequence[str]) -> bool:
    """Whether the first cell that is not missing has a digit, as one of any form of numbers has."""
    return has_digit(next((cell for cell in cells if cell not in _USUAL_MARKS), ""))


def kept_as_words(words: Sequence[str]) -> tuple[str, ...]:
    """What is to be said of words that are ranges or limits of numbers, or hold them."""
    present = [word for word in words if word]
    if len(present) < 2 or not any(map(has_digit, present[: len(present) // 2 + 1])):
        return ()
    found = [[word for word in present if form.fullmatch(word)] for form, _, _ in _NUMBERS_IN_WORDS]
    those = max(found, key=len)
    if not those or 2 * (sum(map(is_number, present)) + sum(map(len, found))) <= len(present):
        return ()
    form, what, way = _NUMBERS_IN_WORDS[found.index(those)]
    units = {word.lstrip(_SIGNS).strip() for word in those}
    if form is _BESIDE and len(units) > 1 and all(map(is_unit, units)):
        what, way = "numbers in several units", "as numbers, bring them to one before"
    return (f"Cells of {{names}} are {what} such as {those[0]}, kept as words; {way}.",)


def _above_empty(words: Sequence[str]) -> tuple[str, ...]:
    """What is to be said of words or days that stand in the first row of several each."""
    at = [row for row, word in enumerate(words) if word] if words[:1] != [""] else []
    if len(at) < 2 or any(b - a < 2 for a, b in pairwise([*at, len(words)])):
        return ()
    return (ABOVE_EMPTY,)


def _numbers(heading: Heading, stripped: Sequence[str], manner: Manner, *, settled: bool) -> Known:
    values = np.full(len(stripped), np.nan)
    texts = {}
    for row, text in enumerate(stripped):
        value = number_in(text, manner.marks)
        if value is not None and np.isfinite(value):
            values[row] = value
        elif text not in _USUAL_MARKS:
            texts[row] = text
    notes = _take_powers(values, texts, manner.marks) if texts else ()
    numbers = int(np.count_nonzero(np.isfinite(values)))
    if not settled and numbers < _MOSTLY * (numbers + len(texts)):
        return make_column(heading, stripped, kind_of(stripped, manner), manner, settled=True)
    marks = without_stand_ins(values, manner.missing, manner.told)
    for row, text in list(texts.items()):
        if manner.missing and text in manner.missing:
            del texts[row]
    column = number_column(heading.name, values, heading.unit, texts, owned=True)
    return Known(column, marks, notes=notes)


def _take_powers(
    values: NDArray[np.float64], texts: dict[int, str], marks: Marks
) -> tuple[str, ...]:
    """Puts among values, in place, what texts beside them hold if all are numbers with powers of
    ten, 1.5D-03; gives what is to be said of that."""
    from sornix.core.readings.cells.forms import FORMS, in_form

    found = in_form([*texts.values()], range(len(texts)), FORMS["power"], marks)
    if found is None:
        return ()
    values[list(texts)] = found.values
    texts.clear()
    return (found.said,)


def _otherwise_written(heading: Heading, cells: Sequence[str], manner: Manner) -> Known | None:
    """The column of cells that are numbers in another form."""
    if len(cells) > _MANY_ROWS:
        # most are not, which their ends tell as well
        ends = [*cells[: _MANY_ROWS // 2], *cells[-_MANY_ROWS // 2 :]]
        if _otherwise_written(heading, ends, manner) is None:
            return None
    from sornix.core.readings.cells.forms import mostly_with_unit, of_places, written
    from sornix.core.readings.cells.lasting import clock_times, counted_moments, durations

    found = (
        durations(heading.name, heading.unit, cells)
        or clock_times(heading.name, cells)
        or counted_moments(heading.name, cells)
        or of_places(heading.name, cells, manner.marks)
        or written(cells, manner.marks, held=manner.held)
        or mostly_with_unit(cells, manner.marks)
    )
    if found is None or (found.unit and heading.unit not in ("", found.unit, "h", "min", "s")
                         and not _LENGTHS.fullmatch(heading.unit)):  # fmt: skip
        return None
    if found.moments:
        from sornix.core.text.moments import CLOCK

        column = moments_column(heading.name, found.values)
        column = evolve(column, form=CLOCK) if found.clock else column
        return Known(column, notes=(found.said,))
    unit = unit_for(heading.name, found.unit or heading.unit)
    beside, (name, called) = None, (one.format(name=heading.name) for one in found.called)
    if isinstance(found.beside, tuple):
        beside = text_column(called, found.beside)
    elif found.beside is not None:
        beside = number_column(called, found.beside, unit)
    texts = {row: cell for row, cell in enumerate(cells) if row in found.left}
    column = number_column(name, found.values, unit, texts)
    said = found.said if name == heading.name else found.said.format(names=f"“{heading.name}”")
    return Known(column, (), beside, (said,))


def _time_column(heading: Heading, cells: Sequence[str], manner: Manner) -> Column:
    """A time column. Where every moment has one offset from universal time its own clock is kept;
    where they differ, all are brought to universal time."""
    from sornix.core.text.moments import Moment, finer, parse_moment

    seconds = np.full(len(cells), np.nan)
    offsets = np.full(len(cells), np.nan)
    texts, form = {}, ""
    # days and times of day come again and again
    parsed: dict[str, Moment | None] = {}
    for row, text in enumerate(cells):
        if text in _USUAL_MARKS:
            continue
        if text not in parsed:
            parsed[text] = parse_moment(text, manner.order or "day")
        moment = parsed[text]
        if moment is None:
            texts[row] = text
            continue
        seconds[row] = moment.seconds
        offsets[row] = np.nan if moment.offset is None else moment.offset
        if moment.form != form:
            form = finer(form, moment.form) if form else moment.form
    known = offsets[np.isfinite(offsets)]
    if len(known) and np.ptp(known) > 0:
        seconds -= np.where(np.isfinite(offsets), offsets, 0.0)
    return time_column(heading.name, seconds, form or "day", texts)


def time_notes(column: Column, cells: Sequence[str]) -> Iterator[str]:
    """What is to be said of a time column: of years of two digits, and of a clock that goes over
    midnight."""
    at = next((row for row, cell in enumerate(cells) if _SHORT_YEAR.match(cell)), None)
    if at is not None and column.present[at]:
        year = np.datetime64(int(column.numbers[at]), "s").astype("datetime64[Y]")
        yield f"Years of “{column.name}” have two digits: {cells[at]} was taken to be in {year}."
    if column.form == "clock":
        known = column.numbers[column.present]
        back = np.flatnonzero(np.diff(known) < -_HALF_DAY)
        if len(back) and (np.diff(known) < 0).sum() <= max(1, len(known) // 10):
            last = cells[int(np.flatnonzero(column.present)[back[0]])]
            yield (
                f"“{column.name}” goes over midnight: after {last} "
                "it begins anew, since there is no date. Put date and time together to go on."
            )


def offset_note(name: str, cells: Sequence[str]) -> str:
    """What is to be said about offsets from universal time in the cells of a time column."""
    from sornix.core.text.moments import parse_moment

    found = {moment.offset for cell in cells if (moment := parse_moment(cell)) is not None}
    known = sorted(offset for offset in found if offset is not None)
    if not known:
        return ""
    if len(found) == 1:
        return f"The clock of “{name}” is at {_offset_words(known[0])}."
    if None in found:
        return (
            f"Some times of “{name}” say their offset from universal time and others do not; "
            "the others were taken as universal time."
        )
    return f"The times of “{name}” have several offsets and were brought to universal time."


def zone_notes(heading: Heading) -> tuple[str, ...]:
    """What is to be said of a clock that the header of a time column names in place of a unit."""
    if _ZONE.fullmatch(heading.unit) is None:
        return ()
    return (f"The clock of {{names}} is at {heading.unit}, as its header says.",)


def _offset_words(seconds: float) -> str:
    if seconds == 0:
        return "universal time"
    hours, minutes = divmod(round(abs(seconds) / 60), 60)
    return f"universal time {'−' if seconds < 0 else '+'} {hours}:{minutes:02}"


def need_places(columns: Sequence[Column], where: str) -> None:
    """Raises ReadingsError where no column holds a number or a time."""
    if not any(column.has_places and column.count for column in columns):
        many = f"None of the {len(columns)} columns holds numbers."
        told = [c.name for c in columns if c.kind == TEXT and kept_as_words([*map(str, c.values)])]
        remedy = "Sornix needs at least one column of numbers under a header."
        if told:
            remedy = f"Write the numbers of “{short(told[0], 40)}” without what is beside them."
        raise ReadingsError(
            many if len(columns) > 1 else "There are no numbers.", where=where, remedy=remedy
        )
