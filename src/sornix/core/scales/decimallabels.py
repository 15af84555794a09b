"""Labels of evenly spaced decimal numbers, in the forms that a linear scale offers."""

import math
from collections.abc import Sequence
from decimal import Decimal, localcontext
from fractions import Fraction
from typing import NamedTuple

from sornix.core.text import Rich, Run, decimal_text


class Labels(NamedTuple):
    """One label a tick, and what all of them are to be multiplied by."""

    texts: list[Rich]
    factor: Rich = ()


def labels(step: Fraction, origin: Fraction, indices: Sequence[int], form: str) -> Labels:
    """Labels that all have the same number of decimals, or the same power of ten, of the multiples
    of a step, counted from an origin."""
    apart, begin = decimal_of(step), decimal_of(origin)
    values = [begin + apart * k for k in indices]
    exponent = min(_exponent(apart), _exponent(begin)) if begin else _exponent(apart)
    size = max(abs(values[0]), abs(values[-1])).adjusted()
    plain = exponent >= -5 and size < 6
    thousands = math.floor(size / 3)
    if form == "prefix" and thousands not in _PREFIXES:
        form = "free"
    if form == "power" or (form in ("free", "none") and not plain and size - exponent <= 12):
        return Labels([_power_label(value, size, min(exponent - size, 0)) for value in values])
    if form == "common-power":
        return _common_power(values, exponent, size)
    if form in _SCALED:
        return Labels(_scaled_labels(values, exponent, *_SCALED[form]))
    if form == "prefix":
        shown = "\u2009" + _PREFIXES[thousands] if thousands else ""
        return Labels(_scaled_labels(values, exponent, -3 * thousands, shown))
    if form in ("0", "1", "2", "3", "4", "5", "6"):
        # never fewer decimals than tell the ticks apart: a label must not lie about its tick
        places = max(int(form), -exponent)
        return Labels([(Run(decimal_text(_with_places(v, places))),) for v in values])
    # far from zero a power of ten would save nothing
    quantum = Decimal(1).scaleb(min(exponent, 0))
    return Labels([(Run(decimal_text(v.quantize(quantum) if plain else v)),) for v in values])


# By how many powers of ten labels are shifted, and the mark behind them.
_SCALED = {"thousands": (-3, "k"), "percent": (2, "\u2009%"), "percent-of-100": (0, "\u2009%")}
# The prefixes of the International System of Units, by powers of a thousand.
_PREFIXES = dict(
    zip(
        range(-10, 11),
        [*"qryzafpnµm", "", *"kMGTPEZYRQ"],
        strict=True,
    )
)


def _exponent(value: Decimal) -> int:
    exponent = value.as_tuple().exponent
    assert isinstance(exponent, int)
    return exponent if value else 0


def _scaled_labels(values: list[Decimal], exponent: int, shift: int, mark: str) -> list[Rich]:
    """Labels of values shifted by powers of ten, with a mark; zero has none but a percent sign."""
    places = max(-(exponent + shift), 0)
    return [
        (
            Run(
                decimal_text(_with_places(v.scaleb(shift), places))
                + (mark if v or "%" in mark else "")
            ),
        )
        for v in values
    ]


def _common_power(values: list[Decimal], exponent: int, size: int) -> Labels:
    """Plain numbers, and the power of ten that they share, a multiple of three where that keeps
    them short."""
    if -2 <= size <= 2:
        return Labels([(Run(decimal_text(_with_places(v, max(-exponent, 0)))),) for v in values])
    power = 3 * math.floor(size / 3) if size - 3 * math.floor(size / 3) < 3 else size
    places = max(-(exponent - power), 0)
    texts: list[Rich] = [
        (Run(decimal_text(_with_places(v.scaleb(-power), places))),) for v in values
    ]
    return Labels(texts, (Run("×10"), Run(str(power).replace("-", "−"), script=1)))


def decimal_labels(values: list[Decimal]) -> list[Rich]:
    """Labels of round values, all with the same number of decimals."""
    exponents = [value.normalize().as_tuple().exponent for value in values]
    places = max(-int(exponent) for exponent in exponents)
    return [(Run(decimal_text(_with_places(value, max(places, 0)))),) for value in values]


def _with_places(value: Decimal, places: int) -> Decimal:
    with localcontext() as context:
        context.prec = max(28, abs(value.adjusted()) + places + 4)
        return value.quantize(Decimal(1).scaleb(-max(places, 0)))


def _power_label(value: Decimal, size: int, exponent: int) -> Rich:
    if not value:
        return (Run("0"),)
    mantissa = value.scaleb(-size).quantize(Decimal(1).scaleb(exponent))
    power = str(size).replace("-", "−")
    return (Run(decimal_text(mantissa) + "×10"), Run(power, script=1))


def decimal_of(step: Fraction) -> Decimal:
    """A number that has a finite decimal form, without trailing zeros of a fraction."""
    if not step:
        return Decimal(0)
    power = 0
    while step.denominator != 1:
        step, power = step * 10, power - 1
    whole = step.numerator
    while whole % 10 == 0:
        whole, power = whole // 10, power + 1
    return Decimal(whole).scaleb(power)
