"""The equation of a trend as printed: with as many digits as mean something, and no fewer."""

import math
import re
from collections.abc import Callable, Mapping, Sequence
from decimal import Decimal
from types import MappingProxyType
from typing import NamedTuple

from sornix.core.formula import Call, Expression, Name, Number
from sornix.core.text import (
    THIN_SPACE,
    Rich,
    Run,
    decimal_text,
    plain_text,
    rich,
    rounded,
    unit_text,
)
from sornix.core.text.rich import scripts
from sornix.core.trends.fits.counting import AS_IT_IS, Counting

_MOST_DIGITS = 17  # enough to tell any two binary64 numbers apart


class Printing(NamedTuple):
    """What an equation is printed for: the symbols of x and y, the ends of x between which it is
    drawn, how far off it may be there (in units of y), and whether parameters have their units."""

    symbols: tuple[str, str]
    drawn: tuple[float, float]
    tolerance: float
    units: bool = False


class Equation(NamedTuple):
    """An equation as runs of text, and the coefficients just as they are printed."""

    runs: Rich
    coefficients: tuple[Decimal, ...]

    @property
    def text(self) -> str:
        """As plain text, the way the figure shows it."""
        return plain_text(self.runs)

    @property
    def latex(self) -> str:
        """As LaTeX, for text processors and Markdown that take it between dollar signs."""
        written = ""
        for script, together in scripts(self.runs):
            text = "".join(map(_in_latex, together))
            written += f"{'^' if script > 0 else '_'}{{{text}}}" if script else text
        return re.sub(r"\b(exp|ln|sin|cos|tanh?)\(", r"\\\1(", written)

    def formula(self, x: str) -> str:
        """What stands at the right, in the grammar of formulas, with `x` for the quantity along."""
        written, raised = "", False
        start = next((i for i, run in enumerate(self.runs) if "=" in run.text), -1)
        for i, run in enumerate(self.runs[start:]):
            text = x if run.italic else run.text
            text = text.partition("=")[2] if not i else text
            if run.script < 0:
                continue
            if raised and not run.script:
                written += ")"
            elif run.script and not raised:
                written += "^("
            raised = bool(run.script)
            written += text
        written += ")" * raised
        written = re.sub(r"×10\^\(([−\d]+)\)", r"e\1", written)
        # a thin space divides digits in groups of three, and stands for a product elsewhere
        written = re.sub(rf"(?<=\d){THIN_SPACE}(?=\d{{3}}(\D|$))", "", written)
        written = written.replace(THIN_SPACE, " * ").replace("π", "pi").replace("−", "-")
        return written.replace("×", "*").strip()


def _in_latex(run: Run) -> str:
    text = run.text
    for mark, command in _COMMANDS.items():
        text = text.replace(mark, command)
    return rf"\mathit{{{text}}}" if run.italic and len(text) > 1 else text


_COMMANDS = {"−": "-", "×": r" \times ", "π": r"\pi ", THIN_SPACE: r"\,", "·": r"\cdot "}


def printed_value(
    value: float, *, within: float, exact: bool = False, least_digits: int = 2
) -> Decimal:
    """`value` rounded so that it is off by at most `within`, and to `least_digits` at least.

    Where the fit is `exact`, a short number is given without the zeros that would prove it.
    """
    if value == 0:
        return Decimal(0)
    size = Decimal(value).adjusted()
    places = least_digits - 1 - size
    if 0 < 2 * within < math.inf:
        # half a unit of the last place is the most that rounding is off by
        places = max(places, math.ceil(-math.log10(2 * within)))
    places = min(places, _MOST_DIGITS - 1 - size)
    kept = rounded(value, places)
    return short(kept) if exact and kept == rounded(value, places + 3) else kept


def short(value: Decimal) -> Decimal:
    """`value` without trailing zeros, but for those before the point that are written out."""
    found = value.normalize()
    exponent = found.as_tuple().exponent
    assert isinstance(exponent, int)
    return found.quantize(Decimal(1)) if exponent > 0 and found.adjusted() < 20 else found


def as_typed(value: float) -> Decimal:
    """A number as people type it: `0.1`."""
    return short(Decimal(repr(value)))


def number_runs(value: Decimal) -> Rich:
    """The digits of a positive coefficient, as `0.0711` or `7.11×10⁻⁷`."""
    size = value.adjusted() if value else 0
    exponent = value.as_tuple().exponent
    assert isinstance(exponent, int)
    if -4 <= size < 6 and exponent <= 0:
        return (Run(decimal_text(value)),)
    if -4 <= size < 6 and not value % 1:
        return (Run(decimal_text(value.quantize(Decimal(1)))),)
    mantissa = value.scaleb(-size)
    return (
        Run(decimal_text(mantissa) + "×10"),
        Run(str(size).replace("-", "−"), script=1),
    )


def symbol_runs(symbol: str) -> Rich:
    """A quantity's symbol in italics, with a subscript if it has one (`k_1`)."""
    stem, _, index = symbol.partition("_")
    return (Run(stem, italic=True), Run(index, script=-1)) if index else (Run(stem, italic=True),)


def polynomial_runs(
    symbols: tuple[str, str], values: Sequence[Decimal], centre: Decimal | None = None,
    units: Sequence[str] = (),
) -> Rich:  # fmt: skip
    """`y = a x² − b x + c`, or in powers of (x − centre), from the coefficients of each power from
    0, with their units where they are given; a coefficient of 0 is left out."""
    x, y = symbols
    base: Rich = symbol_runs(x)
    if centre:
        sign = "−" if centre > 0 else "+"
        base = (Run("("), *base, Run(f" {sign} "), *number_runs(abs(centre)), Run(")"))
    runs = [*symbol_runs(y), Run(" = ")]
    first = True
    for power, value in reversed(list(enumerate(values))):
        if not value:
            continue
        sign = "−" if value < 0 else "" if first else "+"
        runs.append(Run(sign if first else f" {sign} "))
        # a coefficient that is known to be just 1 goes without saying
        unit = units[power] if units else ""
        if unit or not power or abs(value) != 1 or value.as_tuple().exponent:
            runs += number_runs(abs(value))
            if unit:
                opened, closed = ("(", ")") if power and set(unit) & set("/ ") else ("", "")
                runs += [Run(THIN_SPACE + opened), *rich(unit_text(unit)), Run(closed)]
            runs += [Run(THIN_SPACE)] * bool(power)
        if power:
            runs += base
        if power > 1:
            runs.append(Run(str(power), script=1))
        first = False
    if first:
        runs.append(Run("0"))
    return tuple(run for run in runs if run.text)


def formula_runs(
    formula: Expression, symbols: tuple[str, str], values: Mapping[str, Decimal],
    units: Mapping[str, str] = MappingProxyType({}), along: Counting = AS_IT_IS,
) -> Rich:  # fmt: skip
    """`A = 3.2 exp(−0.05 t) + 1.1`: a formula with numbers in place of its parameters, with the
    units of these where they are given, and x as it is counted: `exp(0.021 (x − 1990))`."""
    x, y = symbols
    parts = {name: _leaf_of(value, units.get(name, "")) for name, value in values.items()}
    if along != AS_IT_IS and not along.words:
        first = along.origin or along.step
        runs = list(number_runs(short(Decimal(repr(abs(first))))))
        if along.origin:
            parts["x"] = [*symbol_runs(x), Run(" − " if first > 0 else " + "), *runs], _SUM
        else:
            parts["x"] = [*symbol_runs(x), Run(" / "), *runs], _PRODUCT
    runs = [*symbol_runs(y), Run(" = "), *_typeset(formula, x, parts)[0]]
    return tuple(run for run in runs if run.text)


# How strongly parts hold together: sums, products, signs, powers, and what stands for itself.
_SUM, _PRODUCT, _POWER, _WHOLE = 1, 2, 4, 5


_Part = tuple[list[Run], int]


def _typeset(part: Expression, x: str, values: Mapping[str, _Part]) -> _Part:
    """The runs of a part of a formula, and how strongly they hold together."""
    if not isinstance(part, Call):
        return _leaf(part, x, values)
    parts = [_typeset(operand, x, values) for operand in part.operands]
    if part.function in _SETTINGS:
        return _SETTINGS[part.function](parts)
    inside = [run for i, one in enumerate(parts) for run in ([Run(", ")] * bool(i) + one[0])]
    return [Run(f"{part.function}("), *inside, Run(")")], _WHOLE


def _leaf(part: Number | Name, x: str, values: Mapping[str, _Part]) -> _Part:
    if isinstance(part, Number):
        if part.value == math.pi:
            return [Run("π")], _WHOLE
        return _signed(short(Decimal(repr(part.value))))
    if part.name in values:
        return values[part.name]
    return list(symbol_runs(x) if part.name == "x" else (Run(part.name),)), _WHOLE


def _leaf_of(value: Decimal, unit: str) -> _Part:
    """A parameter's number with its unit, which in a product may need parentheses."""
    if not unit:
        return _signed(value)
    runs = [*_signed(value)[0], Run(THIN_SPACE), *rich(unit_text(unit))]
    return runs, _SUM if set(unit) & set("/ ") or value < 0 else _PRODUCT


def _product(parts: list[_Part]) -> _Part:
    # a minus of either stands before both
    signs = [part[0][0].text == "−" and not _has_sum(part[0][1:]) for part in parts]
    parts = [(runs[1:], _PRODUCT) if minus else (runs, strength)
             for (runs, strength), minus in zip(parts, signs, strict=True)]  # fmt: skip
    # numbers come first
    if parts[1][0][0].text[:1].isdigit() and not parts[0][0][0].text[:1].isdigit():
        parts = [parts[1], parts[0]]
    left, right = _held(parts[0], _PRODUCT), _factor(parts[1])
    # two numbers beside each other would be read as one
    sign = "×" if right[0].text[:1].isdigit() else THIN_SPACE
    minus = [Run("−")] * (signs[0] != signs[1])
    return [*minus, *left, Run(sign), *right], _PRODUCT


def _power(parts: list[_Part]) -> _Part:
    base, exponent = _held(parts[0], _WHOLE), parts[1][0]
    if any(run.script for run in exponent):
        return [*base, Run("^("), *exponent, Run(")")], _POWER
    return [*base, *(Run(run.text, script=1, italic=run.italic) for run in exponent)], _POWER


_SETTINGS: Mapping[str, Callable[[list[_Part]], _Part]] = {
    "+": lambda parts: (_joined("+", parts), _SUM),
    "-": lambda parts: (_joined("-", parts), _SUM),
    "neg": lambda parts: _negated(parts[0]),
    "*": _product,
    "/": lambda parts: (
        [*_held(parts[0], _PRODUCT), Run(" / "), *_held(parts[1], _POWER)], _PRODUCT
    ),
    "^": _power,
}  # fmt: skip


def _negated(part: _Part) -> _Part:
    """A part with a minus before it; two of them are none."""
    runs, _ = part
    if runs[0].text == "−" and not _has_sum(runs[1:]):
        return runs[1:], _PRODUCT
    return [Run("−"), *_held(part, _PRODUCT)], _SUM


def _signed(value: Decimal) -> tuple[list[Run], int]:
    if value < 0:
        return [Run("−"), *number_runs(-value)], _SUM
    runs = list(number_runs(value))
    return runs, _WHOLE if len(runs) == 1 else _PRODUCT


def _held(part: tuple[list[Run], int], least: int) -> list[Run]:
    """A part that holds together at least so strongly, in parentheses if need be; a sign may stand
    before a product."""
    runs, strength = part
    if strength >= least:
        return runs
    negative = runs[0].text == "−" and least == _PRODUCT and not _has_sum(runs[1:])
    return runs if negative else [Run("("), *runs, Run(")")]


def _has_sum(runs: list[Run]) -> bool:
    depth = 0
    for run in runs:
        if not depth and run.text in (" + ", " − "):
            return True
        depth += run.text.count("(") - run.text.count(")")
    return False


def _factor(part: tuple[list[Run], int]) -> list[Run]:
    """The second factor of a product: never with a bare sign."""
    runs, strength = part
    return runs if strength >= _PRODUCT else [Run("("), *runs, Run(")")]


def _joined(sign: str, parts: list[tuple[list[Run], int]]) -> list[Run]:
    """A sum or a difference; adding what has a minus before it is taking it away."""
    (left, _), (right, _) = parts
    minus = sign == "-"
    if right[0].text == "−" and not _has_sum(right[1:]):
        minus, right = not minus, right[1:]
    elif minus and _has_sum(right):
        right = [Run("("), *right, Run(")")]
    return [*left, Run(" − " if minus else " + "), *right]
