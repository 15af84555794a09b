"""Whether columns hold one quantity: stations, channels, replicates, spectra."""

import re
from collections.abc import Sequence

from sornix.core.readings import NUMBER, Column

# Quantities that stand beside one another in the tables of laboratories; two of these are not one.
_QUANTITIES = frozenset(
    re.findall(
        r"[a-z]+\d*",
        """
        temperature temp t pressure p ph oxygen o2 conductivity ec salinity turbidity chlorophyll
        nitrate nitrite ammonium phosphate silicate nitrogen phosphorus carbon co2 ch4 humidity rh
        rain wind speed velocity discharge flow level stage radiation light par absorbance abs
        transmittance intensity signal current voltage power resistance mass weight length width
        height depth volume area density count counts number concentration conc time age rate yield
        activity ratio alkalinity hardness chloride sulfate sulphate calcium magnesium sodium
        potassium iron copper lead zinc od biomass respiration photosynthesis growth clarity secchi
        precipitation snow ice distance dose response force strain stress torque frequency amplitude
        phase energy heat flux mean median n
        """,
    )
)
_STATISTICS = frozenset(("mean", "median", "n"))
_MOST = 12


def alike(first: Column, others: Sequence[Column]) -> list[Column]:
    """The columns that hold what the first holds, with it, to a dozen."""
    return [first, *(one for one in others if _is_alike(first, one))][:_MOST]


def _is_alike(one: Column, other: Column) -> bool:
    if one.unit != other.unit:
        return False
    if _stem(one.name) and _stem(one.name) == _stem(other.name):
        return True
    mine, its = _quantities(one.name), _quantities(other.name)
    if mine or its:
        return mine == its
    # names of places or treatments, with the unit in each, or of readings of like size
    return bool(one.unit) or _as_large(one, other)


def is_control(constant: Column, other: Column) -> bool:
    """Whether a column of one number alone holds what another holds, by its name and unit."""
    if constant.kind != NUMBER or not _is_alike(other, constant):
        return False
    return bool(constant.unit) or _stem(constant.name) == _stem(other.name)


def _stem(name: str) -> str:
    """A name without what tells columns of one quantity apart: a number, a letter, what stands
    behind a comma or in “at 2.5 m”."""
    text = name.casefold().strip()
    text = re.sub(r",\s.*$|\s(?:at|in|of|from)\s.*$", "", text)
    text = re.sub(r"[\s_.:#-]*(?:\d+(?:[.,]\d+)?|\b[a-h])$", "", text)
    return re.sub(r"[\W_]+", "", text) or ("number" if re.fullmatch(r"[\d.,\s]+", name) else "")


def _quantities(name: str) -> frozenset[str]:
    """The quantities that a name speaks of."""
    words = set(re.findall(r"[^\W\d_]+\d*", name.casefold())) & _QUANTITIES
    return frozenset(words - _STATISTICS or words)


def _as_large(one: Column, other: Column) -> bool:
    """Whether readings are of like size, so that they can be seen on one scale."""
    if one.ends is None or other.ends is None:
        return False
    sizes = [max(abs(column.ends[0]), abs(column.ends[1])) for column in (one, other)
             if column.ends is not None]  # fmt: skip
    small, large = sorted(sizes)
    return small > 0 and large / small < 5
