"""How the readings of a column run, and what its name says of them."""

import itertools
import re
from collections import Counter

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, TEXT, Column
from sornix.core.readings.tables.column import pieces, turns

# What is chosen or swept, not measured; and what is only where it goes one way.
_CHOSEN = pattern(
    r"(?:time|times|zeit|temps|tiempo|tempo|elapsed|duration|days?|tage?|hours?|minutes?|seconds?|min|"
    r"sec|age|distance|dist\.?|position|pos\.?|depth|tiefe|profondeur|profundidad|layer|altitude|"
    r"elevation|dose|level|standards?|conc\.?|concentrations?|added|volume added|titrant|"
    r"wavelength|wellenlänge|λ|lambda|wave ?number|frequency|freq\.?|angle|2 ?theta|2θ|theta|"
    r"(?:river )?km|chainage|spiked?|retention(?: time)?|r\.? ?time|rt|m/z|mass/charge|"
    r"binding energy|energy|(?:raman |chemical )?shift|cycles?|dilution|irradiance|light|minute|"
    r"(?:particle|grain|pore|sieve|mesh|bead|droplet) (?:size|diameter)|"
    r"generation|week|month|hour of day|p/p_?(?:0|o|°)|relative pressure|percentile|"
    r"quantile|channel|pixel|x(?: ?\d+)?)"
    r"(?:[\s_,.:(].*)?|.*[\s_](?:concentration|conc\.?|wavelength|dose|added)",
    re.IGNORECASE,
)
_LASTED = pattern(r"(?:time|zeit|temps|tiempo|tempo|duration)s?\b", re.IGNORECASE)
# What is called so may as well be measured: a fall time, a doubling time.
_OF_SOMETHING = pattern(r".*[\s_](?:depth|distance|time|age|volume)", re.IGNORECASE)
# A reading at a depth, a dose or a time is none of these: Depth 0.5 m (µg/L), Dose 3.
_LABELLED = pattern(
    r"(?:depth|tiefe|dose|level|layer|position|day|week|hour|time) ?[\d.,]+ ?\S{0,4}", re.IGNORECASE
)
# Levels of water are measured, those of a dose are not.
_STAGE = pattern(r"(?:level|stage)\b", re.IGNORECASE)
_LENGTH_UNITS = ("mm", "cm", "m", "ft")
# What is only called after it: a time constant, the shift of a frequency.
_MEASURED = pattern(
    r"[\s_](?:shift|change|difference|constant|errors?|ratio|response|factor|loss|lag)$",
    re.IGNORECASE,
)
_SHIFTS = pattern(r"(?:raman|chemical) shift", re.IGNORECASE)
_SWEPT = pattern(
    r"(?:moles?|amount|temperature|temp\.?|volume|vol\.?|voltage|potential|pressure|current|field|height|"
    r"water height|stage|load|force|strain|t|e|u|ph|lo?g(?: ?10)? .+)(?:[\s_,.:(].*)?",
    re.IGNORECASE,
)
_DEPTH = pattern(
    r"(?:.*\b)?(?:depth(?! of (?!(?:the )?(?:water|sampl|sensor|probe|measur|instrument|gauge)))"
    r"|tiefe|profondeur|profundidad|sounding)\b.*"
    r"|layer(?: ?[\d(,].*)?",
    re.IGNORECASE,
)
_AMOUNT = pattern(
    r"\b(?:conc|conc\.|concentrations?|konzentration|standards?|amounts?|contents?|spiked?|added|"
    r"mass fraction|dose)\b|^c\(", re.IGNORECASE,
)  # fmt: skip
_PER_AMOUNT = pattern(
    r"[fpnµμmk]?(?:g|mol|M)\s*(?:/|\s|·)\s*(?:[mµμnd]?[Ll]|c?m³|d?m\^?3|k?g|L⁻¹|L\^?-1|mL\^?-1)(?:\^?-1)?"
    r"|[fpnµμm]?M|ppm|ppb|ppt"
)
_MOST_LEVELS = 20
_CALENDAR = pattern(
    r"(?:month|week|quarter|day|hour|monat|woche|tag|mois|semaine)(?: (?:no\.?|of .*))?",
    re.IGNORECASE,
)
_GOES_ON = 0.85
# What instruments go over evenly, so that few readings are a curve already.
_SCANNED = pattern(
    r"(?:wave ?length|wellenlänge|λ|lambda|nm|wave ?number|2 ?theta|2θ|theta|retention(?: time)?|"
    r"rt|m/z|(?:binding )?energy|(?:raman |chemical )?shift|frequency|freq\.?|channel)"
    r"(?:[\s_,.:(].*)?",
    re.IGNORECASE,
)
# So many evenly spaced readings are a curve, so many of what an instrument goes over, so many
# of a sweep through decades.
_CURVE, _SCAN, _SWEEP = 40, 30, 100
# Levels are looked for in pieces of so many readings, even steps in about so many readings.
_PIECE, _LOOKED_AT = 1 << 16, 1 << 18
# What the trade draws from right to left; wavenumbers where they are those of infrared.
_LEFTWARD = pattern(
    r"(?P<ir>wave ?number.*)|(?:.*\b)?chemical shift.*|δ.*|delta.*|binding energy.*", re.IGNORECASE
)
_PER_LENGTH = pattern(r"cm(?:\^?[-−]1|⁻¹)|1/cm", re.IGNORECASE)
_INFRARED = 5000.0
# A way there and back turns so often, in steps that differ by so many times from the usual one.
_TURNS, _UNEVEN = 12, 1.6
_PRESSURE = pattern(r"pres(?:s|sure)?\b.*|p", re.IGNORECASE)
_OF_WATER = ("dbar", "db", "decibar", "dbars")
# A factor has few levels, with so many readings at each, in the middle.
_FACTOR_LEVELS, _AT_EACH = 8, 3


def distinct(values: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.intp]]:
    """The different ones of some numbers, in order, and how often each stands. NumPy's own `unique`
    loads its masked arrays, for which the first figure of a session would wait."""
    ordered = np.sort(values)
    begins = np.flatnonzero(np.diff(ordered, prepend=np.nan) != 0)
    return ordered[begins], np.diff(begins, append=len(ordered))


def levels(values: NDArray[np.float64], most: int) -> dict[float, int]:
    """The different ones of some numbers, and how often each stands; nothing if there are more than
    so many, which a few readings tell."""
    found: Counter[float] = Counter()
    for number, part in enumerate(pieces(values)):
        # each piece but the first begins with a value of the one before
        different, counts = distinct(part[min(number, 1) :])
        if len(different) > most:
            return {}
        found.update(dict(zip(different.tolist(), counts.tolist(), strict=True)))
        if len(found) > most:
            return {}
    return found


def steadiness(column: Column) -> int:
    """2 where readings rise or fall from row to row, 1 where they never turn, else 0."""
    return abs(column.way)


def is_even(column: Column) -> bool:
    """Whether readings are as far apart as they can be: a sweep."""
    return _are_even(column.known)


def _are_even(places: NDArray[np.float64]) -> bool:
    if len(places) < 3:
        return False
    # of very many readings some from everywhere tell it
    every = max(len(places) // _LOOKED_AT, 1)
    steps = np.concatenate(
        [np.diff(part) for part in itertools.islice(pieces(places), 0, None, every)]
    )
    usual = np.median(steps)
    if not steps[0] or not usual:
        return False
    return bool((np.abs(steps / usual - 1) < 0.2).mean() > 0.9)


def is_curve(column: Column) -> bool:
    """Whether readings go one way in even steps, and are as many as a curve has."""
    least = _SCAN if _SCANNED.fullmatch(column.name.strip()) else _CURVE
    if steadiness(column) < 2:
        return False
    if column.count >= least and is_even(column):
        return True
    return column.count >= _SWEEP and column.known.min() > 0 and _are_even(np.log(column.known))


def goes_and_returns(column: Column) -> bool:
    """Whether many readings go there and back in even steps, as a potential in a cycle does."""
    if column.count < _CURVE or steadiness(column):
        return False
    found = turns(column.known, _TURNS)
    if not 0 < found <= _TURNS:
        return False
    sizes = np.abs(np.diff(column.known))
    sizes = sizes[sizes != 0]
    if len(sizes) < _CURVE // 2:
        return False
    return bool(sizes.max() <= _UNEVEN * float(np.median(sizes)))


def is_leftward(column: Column) -> bool:
    """Whether the trade draws a column from right to left: wavenumbers of infrared, chemical
    shifts, binding energies."""
    match = _LEFTWARD.fullmatch(column.name.strip())
    if match is None or column.ends is None:
        return False
    if match["ir"]:
        return bool(_PER_LENGTH.fullmatch(column.unit)) and column.ends[1] <= _INFRARED
    return column.unit in ("ppm", "eV") or not column.name.casefold().startswith(("δ", "delta"))


def repeats(column: Column) -> bool:
    """Whether several readings stand at one place."""
    if column.kind == TEXT:
        words = [cell for cell in column.values if cell]
        return len(set(words)) < len(words)
    run = steadiness(column)
    if run or column.count < 2:
        return run == 1
    return len(distinct(column.known)[0]) < column.count


def chosen(column: Column) -> int:
    """How much a name says that this was chosen by whoever measured: 2, or 1 where it can be."""
    name = column.name.strip()
    if _LABELLED.fullmatch(name) or name.casefold().startswith("cumulative"):
        return 0
    if _STAGE.match(name) and column.unit in _LENGTH_UNITS:
        return 0
    if _MEASURED.search(name) and not _SHIFTS.fullmatch(name):
        return 0
    if _CHOSEN.fullmatch(name):
        # a time that falls from row to row is what was measured
        fell = _LASTED.match(name) and _falls(column)
        return 0 if fell else 2
    return int(_SWEPT.fullmatch(name) is not None or _OF_SOMETHING.fullmatch(name) is not None)


def _falls(column: Column) -> bool:
    return column.way == -2


def goes_on(column: Column) -> bool:
    """Whether readings go one way, but for a few times that they begin anew: casts, cores."""
    steps = np.diff(column.known)
    if len(steps) < 2:
        return bool(len(steps))
    return max(int((steps > 0).sum()), int((steps < 0).sum())) >= _GOES_ON * len(steps)


def is_depth(column: Column) -> bool:
    """Whether a column tells how far down: by its name, or as the pressure of the water above."""
    by_pressure = is_pressure(column) and column.unit.casefold() in _OF_WATER
    return (is_depth_name(column.name) or by_pressure) and column.kind == NUMBER


def is_pressure(column: Column) -> bool:
    """Whether a column is called a pressure."""
    return _PRESSURE.fullmatch(column.name.strip()) is not None


def is_depth_name(name: str) -> bool:
    """Whether a column is called a depth."""
    return _DEPTH.fullmatch(name) is not None and _LABELLED.fullmatch(name) is None


def is_standard(column: Column) -> bool:
    """Whether a column holds the amounts or concentrations of standards: by its name or unit, with
    few levels that are repeated or round."""
    if column.kind != NUMBER or not column.count:
        return False
    if not _AMOUNT.search(column.name) and not _PER_AMOUNT.fullmatch(column.unit.strip()):
        return False
    found = levels(column.known, _MOST_LEVELS)
    round_ones = all(float(f"{level:.2g}") == level for level in found)
    return bool(found) and (len(found) < column.count or round_ones)


def is_calendar(column: Column) -> bool:
    """Whether whole numbers count months, weeks or the like."""
    return column.is_whole and not column.unit and _CALENDAR.fullmatch(column.name) is not None


def has_levels(column: Column) -> bool:
    """Whether readings stand at few values, each of them several times."""
    counts = levels(column.known, _FACTOR_LEVELS).values()
    few = bool(counts) and min(counts) > 1 and max(counts) <= 2 * min(counts)
    return few and _AT_EACH * len(counts) <= column.count
