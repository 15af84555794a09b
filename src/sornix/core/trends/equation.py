"""The equation of a trend as printed: with as many digits as mean something, and no fewer."""

import math
from collections.abc import Sequence
from decimal import Decimal
from typing import NamedTuple

from sornix.core.text import THIN_SPACE, Rich, Run, decimal_text, plain_text, rounded

_MOST_DIGITS = 17  # enough to tell any two binary64 numbers apart


class Equation(NamedTuple):
    """An equation as runs of text, and the coefficients just as they are printed."""

    runs: Rich
    coefficients: tuple[Decimal, ...]

    @property
    def text(self) -> str:
        return plain_text(self.runs)


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
    if within > 0:
        # half a unit of the last place is the most that rounding is off by
        places = max(places, math.ceil(-math.log10(2 * within)))
    places = min(places, _MOST_DIGITS - 1 - size)
    kept = rounded(value, places)
    return _short(kept) if exact and kept == rounded(value, places + 3) else kept


def _short(value: Decimal) -> Decimal:
    """`value` without trailing zeros behind the point."""
    return value.quantize(Decimal(1)) if value == value.to_integral() else value.normalize()


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
    symbols: tuple[str, str], values: tuple[Decimal, ...], powers: Sequence[int],
    centre: Decimal | None = None,
) -> Rich:  # fmt: skip
    """`y = a x² − b x + c`, or in powers of (x − centre); a coefficient of 0 is left out."""
    x, y = symbols
    base: Rich = symbol_runs(x)
    if centre:
        sign = "−" if centre > 0 else "+"
        base = (Run("("), *base, Run(f" {sign} "), *number_runs(abs(centre)), Run(")"))
    runs = [*symbol_runs(y), Run(" = ")]
    first = True
    for value, power in sorted(zip(values, powers, strict=True), key=lambda pair: -pair[1]):
        if not value and len(values) > 1:
            continue
        sign = "−" if value < 0 else "" if first else "+"
        runs.append(Run(sign if first else f" {sign} "))
        # a coefficient that is known to be just 1 goes without saying
        if not power or abs(value) != 1 or value.as_tuple().exponent:
            runs += number_runs(abs(value))
            runs += [Run(THIN_SPACE)] * bool(power)
        if power:
            runs += base
        if power > 1:
            runs.append(Run(str(power), script=1))
        first = False
    if first:
        runs.append(Run("0"))
    return tuple(run for run in runs if run.text)


def line_runs(symbols: tuple[str, str], slope: Decimal, intercept: Decimal) -> Rich:
    """`y = slope x + intercept` with signs set properly."""
    x, y = symbols
    runs = [*symbol_runs(y), Run(" = " + ("−" if slope < 0 else ""))]
    runs += [*number_runs(abs(slope)), Run(THIN_SPACE), *symbol_runs(x)]
    runs += [Run(" − " if intercept < 0 else " + "), *number_runs(abs(intercept))]
    return tuple(runs)
