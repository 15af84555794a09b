"""Whether columns hold one quantity: stations, channels, replicates, spectra."""

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.patterns import pattern
from sornix.core.readings import NUMBER, Column
from sornix.core.text.months import MONTH_NUMBERS
from sornix.core.text.names import name_stem

# Quantities that stand beside one another in the tables of laboratories; two of these are not one.
_QUANTITIES = frozenset(
    re.findall(
        r"[a-z]+\d*",
        """
        temperature temp t pressure p ph oxygen o2 conductivity ec salinity turbidity chlorophyll
        co2 ch4 humidity rh rain speed velocity discharge flow level stage radiation light par
        absorbance abs transmittance intensity signal current voltage power resistance mass weight
        length width height depth volume area density count counts number concentration conc time
        age rate yield activity ratio alkalinity hardness od biomass respiration photosynthesis
        growth clarity secchi precipitation rainfall evaporation evapotranspiration snow ice
        distance dose response force strain stress
        torque frequency amplitude phase energy heat flux mean median n
        """,
    )
)
# Concentrations of several of these are seen together where they are of like size.
SUBSTANCES = frozenset(
    re.findall(
        r"[a-z]+",
        """
        nitrate nitrite ammonium phosphate silicate nitrogen phosphorus carbon chloride sulfate
        sulphate calcium magnesium sodium potassium iron copper lead zinc cadmium chromium nickel
        manganese aluminium aluminum arsenic mercury cobalt barium boron bromide fluoride ammonia
        """,
    )
)
# What falls and goes of water is seen together.
_WATER = frozenset(
    ("precipitation", "rain", "rainfall", "evaporation", "evapotranspiration", "runoff")
)
_STATISTICS = frozenset(("mean", "median", "n"))
# What stands beside readings of one unit to be compared with them; what was only set once is no
# such line.
_LIMIT = pattern(
    r".*\b(?:quota|limit|guideline|target|threshold|criterion|permitted|allowed|norm|tac|grenzwert"
    r"|seuil)s?\b.*",
    re.IGNORECASE,
)
_SET_POINT = pattern(r".*\b(?:set[ -]?point|sollwert)s?\b.*", re.IGNORECASE)
_BLANK = pattern(
    r"(?:.* )?(?:blank|control|reference|zero|blind(?:wert)?|blanc|ntc|no template|background|dark"
    r"|baseline|untreated)\b.*",
    re.IGNORECASE,
)
# What is told of the same readings: their mean, and how far they reach.
_STATISTIC = pattern(
    r"(?:mean|average|median|mode|(?:\d+(?:st|nd|rd|th)?|first|third|lower|upper) "
    r"(?:percentile|quartile|decile|quantile)|[pq] ?\d+|min(?:\.|imum)?|max(?:\.|imum)?)",
    re.IGNORECASE,
)
_MOST = 12
# Two quantities go together where their ranks are as much alike: with few readings, and with more.
_FEWEST, _SOME = 6, 8
_RANKS_OF_FEW, _RANKS = 0.95, 0.9


def alike(first: Column, others: Sequence[Column]) -> list[Column]:
    """The columns that hold what the first holds, with it, to a dozen."""
    found = [first, *(one for one in others if _is_alike(first, one))]
    # 10 µM beside 1 µM, though it is far from the control
    named = {_stem(one.name) for one in found} - {""}
    units = {one.unit for one in found}
    between = range(max((at for at, one in enumerate(others) if one in found), default=0))
    return [
        one for at, one in enumerate((first, *others), -1)
        if one in found
        or (one.unit in units and _stem(one.name) in named)
        # a treatment that is called as a quantity: heat, between control and cold
        or (at in between and not one.unit and " " not in one.name and _as_large(first, one))
    ][:_MOST]  # fmt: skip


def _is_alike(one: Column, other: Column) -> bool:
    if one.unit != other.unit:
        return False
    if _stem(one.name) and _stem(one.name) == _stem(other.name):
        return True
    if all(column.name.strip().casefold() in MONTH_NUMBERS for column in (one, other)):
        # a year in a row, with the seasons that it has
        return True
    mine, its = _quantities(one.name), _quantities(other.name)
    if _says(_BLANK, one, other, both=False) and (one.unit or not (mine or its)):
        # beside which others are large
        return True
    if one.unit and _says(_STATISTIC, one, other, both=True):
        return True
    dissolved = [_words(column.name) & SUBSTANCES for column in (one, other)]
    if any(dissolved) and not (mine or its):
        return dissolved[0] == dissolved[1] or _as_large(one, other)
    if one.unit and mine & _WATER and its & _WATER:
        return True
    if mine or its:
        # O2 light and O2 dark: one quantity in two places or under two conditions
        return mine == its or (
            bool(one.unit)
            and (_begins_alike(one.name, other.name) or _ends_alike(one.name, other.name))
        )
    # names of places or treatments, with the unit in each, or of readings of like size
    return bool(one.unit) or _as_large(one, other)


def _says(word: re.Pattern[str], one: Column, other: Column, *, both: bool) -> bool:
    """Whether the names of one or both columns are so."""
    found = [word.fullmatch(column.name.strip()) is not None for column in (one, other)]
    return all(found) if both else any(found)


def is_control(constant: Column, other: Column) -> bool:
    """Whether a column of one number alone holds what another holds, by its name and unit."""
    if constant.kind != NUMBER or constant.unit != other.unit:
        return False
    if _BLANK.fullmatch(constant.name.strip()):
        return True
    by_name = bool(constant.unit) or _stem(constant.name) == _stem(other.name)
    return by_name and _is_alike(other, constant)


def is_set_beside(column: Column, other: Column) -> bool:
    """Whether a column holds the limits, quotas or targets of what another holds."""
    name = column.name.strip()
    named = _LIMIT.fullmatch(name) or (_SET_POINT.fullmatch(name) and _changes(column))
    return column.kind == NUMBER and bool(named and column.unit) and column.unit == other.unit


def _changes(column: Column) -> bool:
    return column.ends is not None and column.ends[0] < column.ends[1]


def go_together(one: Column, other: Column) -> bool:
    """Whether two quantities that are not alike rise and fall with each other, from name to name:
    they are drawn against each other then."""
    if _is_alike(one, other):
        return False
    both = one.present & other.present
    count = int(both.sum())
    if count < _FEWEST:
        return False
    ranks = np.corrcoef(_ranks(one.numbers[both]), _ranks(other.numbers[both]))[0, 1]
    return bool(abs(ranks) >= (_RANKS_OF_FEW if count < _SOME else _RANKS))


def _ranks(values: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.unique(values, return_inverse=True)[1].astype(float)


def _stem(name: str) -> str:
    """The letters of a name's stem, those of an amount's unit; "number" for a mere number."""
    text = name_stem(name).casefold()
    if re.fullmatch(r"[<>]?\s?[\d.,]+\s?[^\W\d]\S*", text):
        # an amount is told by its unit
        text = re.sub(r"[<>\d.,]", "", text)
    return re.sub(r"[\W_]+", "", text) or ("number" if re.fullmatch(r"[\d.,\s]+", name) else "")


def _quantities(name: str) -> frozenset[str]:
    """The quantities that a name speaks of."""
    words = _words(name) & _QUANTITIES
    return frozenset(words - _STATISTICS or words)


def _begins_alike(one: str, other: str) -> bool:
    """Whether two names begin with the same quantity."""
    first, second = (re.match(r"[^\W\d_]+\d*", name.casefold()) for name in (one, other))
    if first is None or second is None or first[0] != second[0]:
        return False
    return first[0] in _QUANTITIES - _STATISTICS


def _ends_alike(one: str, other: str) -> bool:
    """Whether two names end with the same word: yield strength and tensile strength."""
    first, second = (re.findall(r"[^\W\d_]{4,}$", name.casefold().strip()) for name in (one, other))
    return bool(first) and first == second


def _words(name: str) -> set[str]:
    return set(re.findall(r"[^\W\d_]+\d*", name.casefold()))


def _as_large(one: Column, other: Column) -> bool:
    """Whether readings are of like size, so that they can be seen on one scale."""
    if one.ends is None or other.ends is None:
        return False
    sizes = [max(abs(column.ends[0]), abs(column.ends[1])) for column in (one, other)
             if column.ends is not None]  # fmt: skip
    small, large = sorted(sizes)
    return small > 0 and large / small < 5
