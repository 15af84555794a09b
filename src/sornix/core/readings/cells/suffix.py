"""Units at the end of names that are written as one word: `temp_C`, `depth_m`, `nitrate_mg_L`."""

import re

from sornix.core.patterns import pattern

# Units of several letters as they are written in such names, and what they are.
_UNITS = {
    "degc": "°C", "deg_c": "°C", "degf": "°F", "pct": "%", "percent": "%", "perc": "%",
    "mm": "mm", "cm": "cm", "km": "km", "um": "µm", "nm": "nm", "ha": "ha", "m2": "m²",
    "cm2": "cm²", "m3": "m³", "cm3": "cm³", "kg": "kg", "mg": "mg", "ug": "µg", "ng": "ng",
    "ml": "mL", "ul": "µL", "hr": "h", "hrs": "h", "hours": "h", "sec": "s", "seconds": "s",
    "minutes": "min", "days": "d", "yr": "yr", "years": "yr",
    "mpas": "mPa·s", "mpa_s": "mPa·s", "kpa": "kPa", "hpa": "hPa", "mbar": "mbar", "dbar": "dbar",
    "mv": "mV", "volts": "V", "hz": "Hz", "khz": "kHz", "ppm": "ppm", "ppb": "ppb", "ntu": "NTU",
    "psu": "PSU", "mgl": "mg/L", "ugl": "µg/L", "ngl": "ng/L", "gl": "g/L", "mgkg": "mg/kg",
    "uscm": "µS/cm", "m3s": "m³/s", "ls": "L/s", "wm2": "W/m²",
}  # fmt: skip
# What is told in a space, in a time, or in both, each a part of its own: umol_kg, mg_m3, umol_m2_s.
_LENGTHS = {"mm": "mm", "cm": "cm", "m": "m", "km": "km"}
_VOLUMES = {"l": "L", "ml": "mL", "ul": "µL", "m3": "m³"}
_AMOUNTS = {
    "g": "g", "kg": "kg", "mg": "mg", "ug": "µg", "ng": "ng", "pg": "pg", "t": "t", "mol": "mol",
    "mmol": "mmol", "umol": "µmol", "nmol": "nmol", "pmol": "pmol", "cells": "cells", "cfu": "CFU",
}  # fmt: skip
_SPACES = {"l": "L", "ml": "mL", "kg": "kg", "g": "g", "m2": "m²", "m3": "m³", "cm2": "cm²",
           "cm3": "cm³", "ha": "ha"}  # fmt: skip
_TIMES = {"s": "s", "sec": "s", "h": "h", "hr": "h", "d": "d", "day": "d", "yr": "yr"}
_RATIOS = (
    # the least of a length is called min, and stands behind its unit: depth_m_min
    (_LENGTHS, _TIMES), (_VOLUMES, {**_TIMES, "min": "min"}), ({"ml": "mL"}, {"l": "L"}),
    (_AMOUNTS, {**_SPACES, **_TIMES}), ({"us": "µS", "ms": "mS"}, {"cm": "cm", "m": "m"}),
    ({"w": "W", "kw": "kW", "j": "J", "kj": "kJ", "mj": "MJ"}, {"m2": "m²"}),
)  # fmt: skip
# which no symbol has as its subscript: Zn_ppm
_PLAIN = frozenset(("ppm", "ppb", "pct", "percent", "perc"))
# Units that are told by their capitals: mM is no millimetre.
_EXACT = {"mM": "mM", "uM": "µM", "nM": "nM", "mA": "mA", "uA": "µA", "uS": "µS", "mS": "mS",
          "Pa": "Pa", "dB": "dB"}  # fmt: skip
# One letter, and `min`, are units only behind a quantity that has them: site_A is a site, and
# temp_min the least one.
_BEHIND = tuple(
    (pattern(words, re.IGNORECASE), units)
    for words, units in (
        (
            r"temp|^tmp$|_t$|^t(?:min|max|mean|air|water)$|^t[_ ](?:min|max|mean|air|water)",
            {"C": "°C", "c": "°C", "F": "°F", "K": "K"},
        ),
        (
            r"^lev$|^lvl$|depth|height|length|width|dist|level|stage|elev|altitude|diameter|radius|thickness|secchi|head",
            {"m": "m", "ft": "ft"},
        ),
        (r"mass|weight|biomass", {"g": "g", "t": "t"}),
        (
            r"time|elapsed|duration|age|delay|latency|^t$",
            {"s": "s", "ms": "ms", "us": "µs", "h": "h", "d": "d", "min": "min", "a": "a"},
        ),
        (r"speed|velocity|wind|^ws$", {"ms": "m/s", "kmh": "km/h", "mps": "m/s"}),
        (r"^lat|^lon|angle|phase|azimuth|heading|direction", {"deg": "°", "rad": "rad"}),
        (r"energy", {"eV": "eV", "keV": "keV", "J": "J", "kJ": "kJ"}),
        (r"dose", {"Gy": "Gy", "mGy": "mGy"}),
        (r"volt|potential|battery|batt", {"V": "V", "v": "V"}),
        (r"current", {"A": "A"}),
        (r"power", {"W": "W"}),
        (r"force|load", {"N": "N"}),
        (r"vol", {"L": "L", "l": "L"}),
    )
)
# V_mV is a symbol with a subscript, perhaps: a word stands before a unit, or what is short for one
_WORD = 4
_NAME = pattern(r"[^\W\d_]{3}|^(?:do|ec|ph|tp|tn|o2|rh|t_\w+)$", re.IGNORECASE)
_FORMULA = pattern(r"[A-Za-z]{1,4}\d")


def unit_at_end(text: str) -> tuple[str, str] | None:
    """The name and the unit in a name that ends in one behind a stroke, or behind the only space,
    None for any other."""
    between = " " if text.count(" ") == 1 and "_" not in text else "_"
    parts = text.split(between)
    if not all(parts) or " " in "".join(parts):
        return None
    # up to four parts may be one unit: mg_L, umol_m2_s, mg_per_L
    for count in (4, 3, 2, 1):
        name, unit = between.join(parts[:-count]), between.join(parts[-count:])
        found = _unit_behind(name, unit) if name else ""
        # sunny days are no sun in days, and HA is no hectare
        as_written = unit in (found, unit.lower()) or unit in _EXACT or len(unit) == 1
        if found and (between == "_" or (len(unit) < _WORD and as_written)):
            return name.rstrip(","), found
    return None


def _ratio(unit: str) -> str:
    """A unit of parts that stand apart, of what is in a space, in a time or both; "" for none."""
    over, *under = [part for part in unit.lower().split("_") if part != "per"] or [""]
    if len(under) == 2 and over in _AMOUNTS and under[0] in _SPACES and under[1] in _TIMES:
        return f"{_AMOUNTS[over]}/({_SPACES[under[0]]} {_TIMES[under[1]]})"
    if len(under) != 1:
        return ""
    return next((f"{some[over]}/{sizes[under[0]]}" for some, sizes in _RATIOS
                 if over in some and under[0] in sizes), "")  # fmt: skip


def _unit_behind(name: str, unit: str) -> str:
    ratio = _ratio(unit)
    if ratio and (len(unit.partition("_")[0]) > 1 or _NAME.search(name) or _FORMULA.match(name)):
        return ratio
    known = _EXACT.get(unit) or _UNITS.get(unit.lower(), "")
    if known == "km" and name.lower() == "river":
        # a place on the river
        return ""
    if known and (
        _NAME.search(name) or unit.lower() in _PLAIN or ("/" in known and _FORMULA.match(name))
    ):
        return known
    return next((units[unit] for words, units in _BEHIND if unit in units and words.search(name)),
                "")  # fmt: skip
