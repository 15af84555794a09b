"""What the columns of a table are: what stands along, what was measured, what is not drawn.

Names are looked at only for what the readings themselves leave open.
"""

import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.figure.derived.paneldata import remembered
from sornix.core.figure.derived.workedout import made_of
from sornix.core.readings import NUMBER, TEXT, TIME, Column, Table

# Not drawn: nothing or one thing in every cell, numbers of rows, words about readings, the same
# quantity once more in another unit, the least and greatest beside a mean.
EMPTY, CONSTANT, NUMBERED, REMARK, ONCE_MORE, EXTREME = (
    "empty", "constant", "numbered", "remark", "once more", "extreme",
)  # fmt: skip
# Lengths of error bars of another column.
UNCERTAINTY = "uncertainty"
# What readings can stand along, and what is measured.
MOMENT, YEAR, NAMES, GROUPS, CODES, QUANTITY = (
    "moment", "year", "names", "groups", "codes", "quantity",
)  # fmt: skip
NOT_DRAWN = (EMPTY, CONSTANT, NUMBERED, REMARK, ONCE_MORE, EXTREME, UNCERTAINTY)

_NUMBERED = re.compile(
    r"(?:#|no\.?|nos\.?|nr\.?|n°|id|ids|index|idx|row|rows|number|numéro|nummer|record|rec\.?"
    r"|obs\.?|observation|entry|lfd\.? ?nr\.?|sample(?: ?(?:no\.?|nr\.?|id|number))?|probe"
    r"|s(?:r|erial)?\.? ?no\.?|lp\.?|num\.?|reading|run(?: ?no\.?)?|peak ?(?:#|no\.?)?|scan"
    r"|event|column \d+|unnamed.*|)",
    re.IGNORECASE,
)
_REMARK = re.compile(
    r"remarks?|comments?|notes?|bemerkung(?:en)?|kommentar|remarque|observaciones|info|description|"
    r"flag|quality|operator|analyst",
    re.IGNORECASE,
)
_SPREAD = (
    r"(?:s\.?\s?d\.?|s\.?\s?e\.?\s?m?\.?|st\.?\s?dev\.?|std\.?(?:[\s_]?(?:dev|err)\.?)?|stdev|stderr|"
    r"standard[\s_](?:deviation|error)|uncertainty|unc\.?|errors?|err\.?|σ|sigma|±|\+/-|"
    r"95\s?%\s?ci|ci\s?95)"
)
_SPREAD_FIRST = re.compile(
    rf"{_SPREAD}(?:[\s_,:(]+(?:of|for|in)?[\s_]*\(?(?P<of>.*?)\)?)?", re.IGNORECASE
)
_SPREAD_LAST = re.compile(rf"(?P<of>.*?)[\s_,:(-]+{_SPREAD}\)?", re.IGNORECASE)
_EXTREME = re.compile(
    r"(?:(?:min|max)(?:\.|imum)?|least|greatest|lowest|highest|lower|upper|lcl|ucl|low|high)"
    r"(?:[\s_]+(?P<of>.*))?|(?P<before>.*?)[\s_]+(?:min|max)(?:\.|imum)?",
    re.IGNORECASE,
)
_MEAN = re.compile(r"(?:mean|average|avg\.?|median|mittel(?:wert)?|moyenne)\b.*", re.IGNORECASE)
_YEAR = re.compile(r"(?:.*\b)?(?:year|jahr|année|año|anno|rok|år)s?\b.*", re.IGNORECASE)
# What is chosen or swept, not measured; and what is only where it goes one way.
_CHOSEN = re.compile(
    r"(?:time|times|zeit|temps|tiempo|tempo|elapsed|duration|days?|tage?|hours?|minutes?|seconds?|min|"
    r"sec|age|distance|dist\.?|position|pos\.?|depth|tiefe|profondeur|profundidad|layer|altitude|"
    r"elevation|dose|level|standards?|conc\.?|concentrations?|added|volume added|titrant|"
    r"wavelength|wellenlänge|λ|lambda|wave ?number|frequency|freq\.?|angle|2 ?theta|2θ|theta|"
    r"(?:river )?km|chainage|lo?g(?: ?10)? .+|retention(?: time)?|r\.? ?time|rt|m/z|mass/charge|"
    r"binding energy|energy|(?:raman |chemical )?shift|cycles?|dilution|irradiance|light|minute|"
    r"generation|week|month|hour of day)"
    r"(?:[\s_,.:(].*)?|.*[\s_](?:concentration|conc\.?|depth|distance|time|wavelength|dose|added|age)",
    re.IGNORECASE,
)
_SWEPT = re.compile(
    r"(?:temperature|temp\.?|volume|vol\.?|voltage|potential|pressure|current|field|height|"
    r"water height|stage|load|force|strain|x|t|e|u|ph)(?:[\s_,.:(].*)?",
    re.IGNORECASE,
)
_CODE = re.compile(
    r".*\b(?:treatment|tank|group|plot|block|replicate|rep\.?|batch|class|code|type|station|site|"
    r"channel|plate|cage|lane|pond|mesocosm|cast|transect|haul|dive|survey|visit|category|stage|grade|level)s?(?:[\s_]*(?:no\.?|nr\.?|\d+))?",
    re.IGNORECASE,
)
_DEPTH = re.compile(
    r"(?:.*\b)?(?:depth|tiefe|profondeur|profundidad|depth below.*|layer|sounding)\b.*",
    re.IGNORECASE,
)
_AMOUNT = re.compile(
    r"\b(?:conc|conc\.|concentrations?|konzentration|standards?|amounts?|contents?|spiked?|added|"
    r"mass fraction|dose)\b|^c\(", re.IGNORECASE,
)  # fmt: skip
_PER_AMOUNT = re.compile(
    r"[fpnµμmk]?(?:g|mol|M)\s*(?:/|\s|·)\s*(?:[mµμnd]?[Ll]|c?m³|d?m\^?3|k?g|L⁻¹|L\^?-1|mL\^?-1)(?:\^?-1)?"
    r"|[fpnµμm]?M|ppm|ppb|ppt"
)
_MOST_LEVELS = 20
# What was worked out of a column takes its place where there is one more to draw against it.
_WITH_ANSWER = 2
_CALENDAR = re.compile(
    r"(?:month|week|quarter|day|hour|monat|woche|tag|mois|semaine)(?: (?:no\.?|of .*))?",
    re.IGNORECASE,
)
_GOES_ON = 0.85
_LONG_WORDS, _MOST_CODES = 24.0, 8
_FIRST_YEAR, _LAST_YEAR = 1500, 2200


class Seen(NamedTuple):
    """A column, its role, and the name of the column that it is about, if it is."""

    column: Column
    role: str
    about: str = ""

    @property
    def drawn(self) -> bool:
        return self.role not in NOT_DRAWN


@remembered
def roles(table: Table) -> tuple[Seen, ...]:
    """What each column of a table is."""
    columns = table.columns
    found: list[Seen] = []
    for at, column in enumerate(columns):
        found.append(_seen(column, columns, at, found))
    numbers = [one.column for one in found if one.role == QUANTITY]
    worked_out = made_of(numbers) if len(numbers) > _WITH_ANSWER else {}
    return tuple(
        Seen(one.column, ONCE_MORE, worked_out[one.column.name].name)
        if one.role == QUANTITY and one.column.name in worked_out else one
        for one in found
    )  # fmt: skip


def _seen(column: Column, columns: Sequence[Column], at: int, before: Sequence[Seen]) -> Seen:
    if not column.count:
        return Seen(column, EMPTY)
    if column.kind == TEXT:
        return Seen(column, _role_of_words(column))
    values = column.numbers[column.present]
    if len(values) > 2 and (values == values[0]).all():
        # the same for all may still be how sure each of another column's is
        owner = _owner_of_spread(column, before) if column.kind == NUMBER else ""
        return Seen(column, UNCERTAINTY, owner) if owner else Seen(column, CONSTANT)
    if column.kind == TIME:
        return Seen(column, MOMENT)
    return _seen_numbers(column, columns, at, before)


def _seen_numbers(
    column: Column, columns: Sequence[Column], at: int, before: Sequence[Seen]
) -> Seen:
    values = column.numbers[column.present]
    numbers = [one for one in columns if one.kind == NUMBER and one.count]
    if _is_numbered(column, values, first=at == 0, beside=len(numbers) - 1):
        return Seen(column, NUMBERED)
    owner = _owner_of_spread(column, before)
    if owner:
        return Seen(column, UNCERTAINTY, owner)
    if (mean := _owner_of_extreme(column, columns)) is not None:
        return Seen(column, EXTREME, mean)
    if _is_year(column, values):
        return Seen(column, YEAR)
    for one in before:
        if one.drawn and _is_same(one.column, column):
            return Seen(column, ONCE_MORE, one.column.name)
    code = _is_code(column, values, first=column is numbers[0])
    return Seen(column, CODES if code else QUANTITY)


def _role_of_words(column: Column) -> str:
    words = [str(cell) for cell in column.values if cell]
    different = len(set(words))
    if _REMARK.fullmatch(column.name.strip()):
        return REMARK
    if different == 1 and len(words) > 2:
        return CONSTANT
    if _NUMBERED.fullmatch(column.name.strip()) and different == len(words) > 12:
        return NUMBERED
    mean = sum(map(len, words)) / len(words)
    if mean > _LONG_WORDS and different > len(words) / 2:
        return REMARK
    if 2 * column.count < len(column):
        # a word here and there
        return REMARK
    return NAMES if different == len(words) else GROUPS


def _is_numbered(column: Column, values: NDArray[np.float64], *, first: bool, beside: int) -> bool:
    """Whether a column only numbers the rows, with so many columns of numbers `beside` it."""
    if not column.is_whole:
        return False
    name = column.name.strip()
    counts_up = bool((np.diff(values) == 1).all()) and values[0] in (0, 1)
    if not _NUMBERED.fullmatch(name):
        # tubes, bottles, animals: numbers of things, where two quantities stand beside them
        thing = not column.unit and len(name) > 1 and not chosen(column)
        return first and counts_up and thing and beside > 1 and len(values) > 2
    return counts_up or (first and len(np.unique(values)) == len(values) and bool(column.name))


def _owner_of_spread(column: Column, before: Sequence[Seen]) -> str:
    """The column whose uncertainties these are, "" where they are none."""
    name = column.name.strip()
    match = _SPREAD_FIRST.fullmatch(name) or _SPREAD_LAST.fullmatch(name)
    unit_says = re.fullmatch(_SPREAD, column.unit.strip(), re.IGNORECASE) is not None
    if (match is None and not unit_says) or (column.ends or (0.0, 0.0))[0] < 0:
        return ""
    measured = [one.column for one in before if one.role in (QUANTITY, YEAR, CODES)]
    of = _plain((match["of"] or "") if match is not None else name)
    named = [one.name for one in measured if of and (_plain(one.name) == of or (
        len(of) > 2 and (of in _plain(one.name) or _plain(one.name) in of)))]  # fmt: skip
    if named:
        return named[-1]
    if of and match is not None and not unit_says and _SPREAD_FIRST.fullmatch(name) is None:
        # “Fit error” is about nothing that is here
        return ""
    return measured[-1].name if measured and before[-1].role in (QUANTITY, CODES) else ""


def _owner_of_extreme(column: Column, columns: Sequence[Column]) -> str | None:
    """The mean beside which these are the least or the greatest, None where they are none."""
    match = _EXTREME.fullmatch(column.name.strip())
    if match is None:
        return None
    of = _plain(match["of"] or match["before"] or "")
    means = [one.name for one in columns if of and _plain(one.name) == of]
    means += [one.name for one in columns if _MEAN.fullmatch(one.name.strip())]
    return means[0] if means else None


def _is_year(column: Column, values: NDArray[np.float64]) -> bool:
    says = _YEAR.fullmatch(column.name) is not None
    if not (column.is_whole or says) or column.unit not in ("", "a", "yr", "year", "years"):
        return False
    if not ((values >= _FIRST_YEAR) & (values <= _LAST_YEAR)).all():
        return False
    steps = np.diff(values)
    one_way = bool((steps >= 0).all() or (steps <= 0).all())
    return says or (one_way and bool((np.abs(steps) == 1).all()) and len(values) > 2)


def _is_same(one: Column, other: Column) -> bool:
    """Whether two columns hold one quantity in two units: each is the other times a factor, with an
    offset, to its digits, and both have the same name."""
    if one.kind != NUMBER or not _same_name(one.name, other.name) or one.unit == other.unit:
        return False
    both = one.present & other.present
    if both.sum() < 3 or not one.unit or not other.unit:
        return False
    a, b = one.numbers[both], other.numbers[both]
    if np.ptp(a) == 0 or np.ptp(b) == 0:
        return False
    return bool(abs(np.corrcoef(a, b)[0, 1]) > 0.9999)


def _same_name(one: str, other: str) -> bool:
    return _plain(re.sub(r"\s\d+$", "", one)) == _plain(re.sub(r"\s\d+$", "", other))


def _is_code(column: Column, values: NDArray[np.float64], *, first: bool) -> bool:
    """Whether few whole numbers that come often stand for names."""
    if not column.is_whole or column.unit:
        return False
    different, counts = np.unique(values, return_counts=True)
    if not 1 < len(different) <= _MOST_CODES or counts.min() < 2:
        return False
    if _CODE.fullmatch(column.name.strip()) is not None:
        return True
    count_up = different[0] == 1 and bool((np.diff(different) == 1).all())
    return first and count_up and counts.min() > 2 and not chosen(column)


def _plain(text: str) -> str:
    return re.sub(r"[\W_]+", "", text.casefold())


# -- how columns run -----------------------------------------------------------------------------


def steadiness(column: Column) -> int:
    """2 where readings rise or fall from row to row, 1 where they never turn, else 0."""
    known = column.numbers[column.present]
    if len(known) < 2:
        return 0
    steps = np.diff(known)
    if (steps > 0).all() or (steps < 0).all():
        return 2
    return 1 if (steps >= 0).all() or (steps <= 0).all() else 0


def is_even(column: Column) -> bool:
    """Whether readings are as far apart as they can be: a sweep."""
    known = column.numbers[column.present]
    steps = np.diff(known)
    if len(steps) < 2 or not steps[0]:
        return False
    return bool((np.abs(steps / np.median(steps) - 1) < 0.2).mean() > 0.9)


def repeats(column: Column) -> bool:
    """Whether several readings stand at one place."""
    if column.kind == TEXT:
        words = [cell for cell in column.values if cell]
        return len(set(words)) < len(words)
    known = column.numbers[column.present]
    return len(np.unique(known)) < len(known)


def chosen(column: Column) -> int:
    """How much a name says that this was chosen by whoever measured: 2, or 1 where it can be."""
    name = column.name.strip()
    if _CHOSEN.fullmatch(name):
        return 2
    return int(_SWEPT.fullmatch(name) is not None)


def goes_on(column: Column) -> bool:
    """Whether readings go one way, but for a few times that they begin anew: casts, cores."""
    steps = np.diff(column.numbers[column.present])
    if len(steps) < 2:
        return bool(len(steps))
    return max(int((steps > 0).sum()), int((steps < 0).sum())) >= _GOES_ON * len(steps)


def is_depth(column: Column) -> bool:
    """Whether a column tells how far down, by its name."""
    return is_depth_name(column.name) and column.kind == NUMBER


def is_depth_name(name: str) -> bool:
    """Whether a column is called a depth."""
    return _DEPTH.fullmatch(name) is not None


def is_standard(column: Column) -> bool:
    """Whether a column holds the amounts or concentrations of standards: by its name or unit, with
    few levels that are repeated or round."""
    if column.kind != NUMBER or not column.count:
        return False
    if not _AMOUNT.search(column.name) and not _PER_AMOUNT.fullmatch(column.unit.strip()):
        return False
    known = column.numbers[column.present]
    levels = np.unique(known)
    round_ones = all(float(f"{level:.2g}") == level for level in levels.tolist())
    return len(levels) <= _MOST_LEVELS and (len(levels) < len(known) or round_ones)


def is_calendar(column: Column) -> bool:
    """Whether whole numbers count months, weeks or the like."""
    return column.is_whole and not column.unit and _CALENDAR.fullmatch(column.name) is not None


def has_levels(column: Column) -> bool:
    """Whether readings stand at few values, each of them several times."""
    _, counts = np.unique(column.numbers[column.present], return_counts=True)
    few = len(counts) <= _FACTOR_LEVELS and counts.min() > 1 and counts.max() <= 2 * counts.min()
    return bool(few and _AT_EACH * len(counts) <= counts.sum())


# A factor has few levels, with so many readings at each, in the middle.
_FACTOR_LEVELS, _AT_EACH = 8, 3


def to_draw(table: Table) -> list[str]:
    """The columns of numbers in the order in which they are drawn: those that only number rows or
    belong to others come last."""
    numbers = [one for one in roles(table) if one.column.kind == NUMBER and one.column.count]
    return [one.column.name for one in sorted(numbers, key=lambda one: not one.drawn)]


def measured(seen: Sequence[Seen], along: Column | None) -> Iterator[Seen]:
    """What can be drawn upward against a column."""
    for one in seen:
        if one.role in (QUANTITY, YEAR, CODES) and one.column is not along:
            yield one
