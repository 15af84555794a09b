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
    "psu": "PSU", "mgl": "mg/L", "mg_l": "mg/L", "ugl": "µg/L", "ug_l": "µg/L", "ngl": "ng/L",
    "ng_l": "ng/L", "gl": "g/L", "g_l": "g/L", "mg_kg": "mg/kg", "mgkg": "mg/kg", "ug_g": "µg/g",
    "us_cm": "µS/cm", "uscm": "µS/cm", "m_s": "m/s", "cm_s": "cm/s", "m3s": "m³/s", "m3_s": "m³/s",
    "l_s": "L/s", "ls": "L/s", "ml_min": "mL/min", "w_m2": "W/m²", "wm2": "W/m²",
}  # fmt: skip
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
            r"temp|_t$|^t(?:min|max|mean|air|water)$|^t[_ ](?:min|max|mean|air|water)",
            {"C": "°C", "c": "°C", "F": "°F", "K": "K"},
        ),
        (
            r"depth|height|length|width|dist|level|stage|elev|altitude|diameter|radius|thickness|secchi|head",
            {"m": "m", "ft": "ft"},
        ),
        (r"mass|weight|biomass", {"g": "g", "t": "t"}),
        (r"time|elapsed|duration|age", {"s": "s", "h": "h", "d": "d", "min": "min", "a": "a"}),
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
    # two parts may be one unit: mg_L
    for count in (2, 1):
        name, unit = between.join(parts[:-count]), between.join(parts[-count:])
        found = _unit_behind(name, unit) if name else ""
        # sunny days are no sun in days, and HA is no hectare
        as_written = unit in (found, unit.lower()) or unit in _EXACT or len(unit) == 1
        if found and (between == "_" or (len(unit) < _WORD and as_written)):
            return name.rstrip(","), found
    return None


def _unit_behind(name: str, unit: str) -> str:
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
