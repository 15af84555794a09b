"""Units as quantities, through pint: whether they are known, what they can become, what results.

pint takes most of a second to import, so nothing here is asked for while a window opens; a window
has it loaded beside, once there is time.
"""

from collections.abc import Callable, Mapping
from functools import cache
from threading import Lock
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.patterns import pattern
from sornix.core.text.lengths import LONGEST_UNIT

if TYPE_CHECKING:
    from sornix.core.formula import Expression

# What water laboratories write besides SI; each is a dimension of its own.
_LABORATORY = """
NTU = [turbidity]
FNU = [formazin_turbidity]
PSU = [practical_salinity]
RFU = [relative_fluorescence]
cfu = [colonies] = CFU
"""
_TOKEN = pattern(
    r"[\s*·⋅]*(?:(?P<sign>[/()])|1|(?P<symbol>[A-Za-zµμΩ°%‰_]+)(?:\^?\(?(?P<power>-?\d{1,2})\)?)?)\s*"
)
_PLAIN_DIGITS = str.maketrans("−⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "--0123456789")
# The units that are offered for each dimension, most used first.
_OFFERED = (
    ("ng/L", "µg/L", "mg/L", "g/L", "kg/m^3"),
    ("nmol/L", "µmol/L", "mmol/L", "mol/L"),
    ("µL", "mL", "L", "m^3"),
    ("µg", "mg", "g", "kg"),
    ("nm", "µm", "mm", "cm", "m", "km"),
    ("s", "min", "h", "d"),
    ("°C", "K", "°F"),
    ("L/s", "m^3/s", "m^3/h"),
    ("mm/h", "cm/s", "m/s", "km/h"),
    ("µS/cm", "mS/cm", "S/m"),
    ("Pa", "hPa", "kPa", "bar", "atm"),
    ("J", "kJ", "kWh", "eV"),
    ("W", "kW"),
    ("mV", "V"),
    ("µA", "mA", "A"),
    ("%", "1", "‰", "ppm"),
    ("mm^2", "cm^2", "m^2", "ha", "km^2"),
    ("Hz", "kHz", "MHz"),
)


# units of two registries cannot be compared, and two threads might each make one
_lock = Lock()


def _registry() -> Any:
    with _lock:
        return _made_registry()


def load_units() -> None:
    """Loads what is known of units, so that the first question about one is answered at once."""
    _registry()


@cache
def _made_registry() -> Any:
    import pint

    registry: Any = pint.UnitRegistry()
    registry.load_definitions(_LABORATORY.strip().splitlines())
    return registry


def _parsed(unit: str) -> Any:
    """The unit of pint, or None where it knows none such. Its own parser is not asked: it is made
    for programmers."""
    import pint

    powers = _powers(unit)
    if powers is None:
        return None
    result = _registry().Unit("dimensionless")
    for symbol, power in powers.items():
        try:
            result = result * _registry().Unit(symbol) ** power
        except pint.UndefinedUnitError:
            return None
    return result


def _powers(unit: str) -> dict[str, int] | None:
    """Symbols with their powers, multiplied or after a slash divided, of `mol/(m2 s)`; None where
    it is not written so."""
    found: dict[str, int] = {}
    if len(unit) > LONGEST_UNIT:
        return None
    tidy = unit.translate(_PLAIN_DIGITS).strip()
    inverse = depth = 0
    end = 0
    for match in _TOKEN.finditer(tidy):
        if match.start() != end:
            return None
        end = match.end()
        sign = match["sign"]
        if sign == "/":
            inverse = 1
        elif sign == "(":
            depth += 1
        elif sign == ")":
            depth, inverse = depth - 1, 0
        elif match["symbol"]:
            power = int(match["power"] or 1) * (-1 if inverse else 1)
            found[match["symbol"]] = found.get(match["symbol"], 0) + power
            # a slash reaches over one symbol, or over a bracket
            inverse = inverse if depth else 0
    return found if end == len(tidy) and depth == inverse == 0 else None


def is_alike(one: str, other: str) -> bool:
    """Whether two units are one, however they are written: `mg/L` and `mg L⁻¹`."""
    if one == other:
        return True
    powers = _powers(one)
    return powers is not None and powers == _powers(other)


def is_known(unit: str) -> bool:
    """Whether a unit is known; none is."""
    return _parsed(unit) is not None


def convert(values: NDArray[np.float64], old: str, new: str) -> NDArray[np.float64]:
    """Values of shape (n,) in another unit. Raises EditRefused where there is no way."""
    import pint

    before, after = _parsed(old), _parsed(new)
    for unit, found in ((old, before), (new, after)):
        if found is None:
            raise EditRefused(
                f"“{unit}” is not a unit that Sornix knows.",
                remedy="Change the unit of the column without converting, if it was misspelt.",
            )
    try:
        converted = _registry().Quantity(values.copy(), before).to(after)
    except pint.DimensionalityError as error:
        raise EditRefused(
            f"“{old or '1'}” cannot become “{new or '1'}”: they measure different things.",
            remedy="Choose a unit of the same quantity.",
        ) from error
    result: NDArray[np.float64] = converted.magnitude
    return result


def offers(unit: str) -> tuple[str, ...]:
    """Other units of the same quantity, for a menu."""
    known = _parsed(unit)
    if known is None:
        return ()
    for group in _OFFERED:
        if any(known.is_compatible_with(_parsed(other)) for other in group[:1]):
            return tuple(other for other in group if _parsed(other) != known)
    return ()


def unit_of(expression: "Expression", units: dict[str, str]) -> str:
    """The unit that a formula's result has, from the `units` of its names; "" where none can be
    told. A number beside a unit in a sum is taken to be of that unit."""
    import pint

    try:
        result = _quantity(expression, units)
    except (pint.PintError, ArithmeticError, TypeError, ValueError):
        return ""
    if result is None or result.dimensionless:
        return ""
    return _written(result)


def _quantity(expression: "Expression", units: dict[str, str]) -> Any:
    """A unit, or None for a plain number. Raises ValueError where there can be none."""
    from sornix.core.formula import Name, Number

    if isinstance(expression, Number):
        return None
    if isinstance(expression, Name):
        unit = _parsed(units.get(expression.name, ""))
        if unit is None:
            raise ValueError(expression.name)
        return unit
    of_operation = _OPERATIONS.get(expression.function)
    if of_operation is None:
        return None
    return of_operation(expression.operands, [_quantity(o, units) for o in expression.operands])


def _product(_operands: Any, units: list[Any]) -> Any:
    first, second = units
    return first if second is None else second if first is None else first * second


def _ratio(_operands: Any, units: list[Any]) -> Any:
    first, second = units
    if second is None:
        return first
    return (_registry().Unit("dimensionless") if first is None else first) / second


def _power(operands: Any, units: list[Any]) -> Any:
    from sornix.core.formula import Number

    power = operands[1]
    return units[0] ** power.value if units[0] is not None and isinstance(power, Number) else None


def _sum(_operands: Any, units: list[Any]) -> Any:
    found = [unit for unit in units if unit is not None]
    if any(unit != found[0] for unit in found[1:]):
        raise ValueError("different units in one sum")
    return found[0] if found else None


def _root(_operands: Any, units: list[Any]) -> Any:
    return None if units[0] is None else units[0] ** 0.5


_OPERATIONS: Mapping[str, Callable[[Any, list[Any]], Any]] = {
    "*": _product, "/": _ratio, "^": _power, "sqrt": _root, "+": _sum, "-": _sum, "neg": _sum,
    "abs": _sum, "min": _sum, "max": _sum,
}  # fmt: skip


def _written(unit: Any) -> str:
    """A unit as laboratories write it: `mg L^-1`, `m/s`."""
    parts = [(f"{_registry().Unit(name):~}", power) for name, power in unit._units.items()]  # noqa: SLF001
    parts = [
        (symbol.replace("l", "L") if symbol in ("l", "ml", "µl") else symbol, power)
        for symbol, power in parts
    ]
    above = [(s, p) for s, p in parts if p > 0]
    below = [(s, p) for s, p in parts if p < 0]
    if len(above) == 1 and above[0][1] == 1 and len(below) == 1 and below[0][1] == -1:
        return f"{above[0][0]}/{below[0][0]}"
    return " ".join(s if p == 1 else f"{s}^{p:g}" for s, p in [*above, *below])
