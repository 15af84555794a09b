"""The logarithmic scale: equal distances for equal ratios.

Ticks stand at powers of the base (10, 2 or e), at 1, 2 and 5 times powers of ten, or, over less
than a power, at round steps; minor ticks at 2 to 9. A step is a number of powers.
"""

import math
from collections.abc import Iterator
from decimal import Decimal

import numpy as np

from sornix.core.errors import EditRefused
from sornix.core.scales.families import (
    Family,
    Positive,
    mantissas,
    multiples,
    positive_span,
    round_steps,
    settle,
)
from sornix.core.scales.kind import AxisConstraints, Extent, Floats, Resolved, Room, Traits
from sornix.core.text import Rich, Run, decimal_text, parse_number

# within these a number is read faster than a power
_PLAIN_FROM, _PLAIN_TO = -4, 5
# over less of a power than this, equal steps are read faster than 1, 2 and 5
_LINEAR_WITHIN = 0.7
_POWERS = (1, 2, 3, 4, 5, 6, 10, 15, 20, 30, 50, 100)


class Log(Positive):
    """See the module."""

    name = "log"
    traits = Traits(whole=True, offers={"10": "log", "2": "log, base 2", "e": "log, base e"})
    why = "a logarithm needs readings above 0"

    def position(self, values: Floats, start: float, end: float) -> Floats:
        with np.errstate(divide="ignore", invalid="ignore"):
            return (np.log(values) - math.log(start)) / (math.log(end) - math.log(start))

    def value(self, places: Floats, start: float, end: float) -> Floats:
        exponents = math.log(start) * (1 - places) + math.log(end) * places
        return np.exp(np.clip(exponents, -700.0, 700.0))

    def span(self, start: float, end: float) -> float:
        return math.log10(end) - math.log10(start)

    def tick_count(self, start: float, end: float, step: float) -> int:
        return math.floor(math.log10(end) / step) - math.ceil(math.log10(start) / step) + 1

    def divisions(self, step: float) -> int:  # noqa: ARG002 - powers are divided in the same way
        return 9

    def parse(self, text: str, about: float) -> float:  # noqa: ARG002 - nothing is left unsaid
        return parse_number(text)

    def step_words(self, step: float) -> str:
        return f"{step:g} power" if step == 1 else f"{step:g} powers"

    def parse_step(self, text: str) -> float:
        bare = text.lower().replace("powers", "").replace("power", "").strip()
        powers = parse_number(bare) if bare else 1.0
        if powers != round(powers) or powers < 1:
            raise EditRefused(
                f"“{text.strip()}” is not a number of whole powers.",
                remedy="Write 1 for a tick at every power, 2 for every other one.",
            )
        return powers

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        ends = positive_span(extent, held, apart=10.0, around=3.0)
        note = ""
        settled = None
        if held.step is not None:
            said = f"The held step of {self.step_words(held.step)} "
            if held.step < 1 or held.step != round(held.step):
                note = f"{said}is not a number of whole powers, so the axis chooses its own."
            else:
                family = _powers(held.base, round(held.step))
                settled = settle([family], np.log, ends, held, room, self._labels(held))
                if settled is None:
                    note = f"{said}makes too few ticks on this range, so the axis chooses its own."
        if settled is None:
            families = _families(*ends, held)
            settled = settle(families, np.log, ends, held, room, self._labels(held))
        if settled is None:
            families = (multiples(step) for step in round_steps(ends[1] - ends[0]))
            settled = settle(families, np.log, ends, held, room, self._labels(held))
        if settled is None:
            return Resolved(self.name, *ends, (), 1.0, reverse, note)
        angle = float(held.turn or 0)
        return Resolved(self.name, *settled[:4], reverse, note, settled.said, angle)

    def _labels(self, held: AxisConstraints) -> "_Labels":
        return _Labels(held.base, held.labels)


class _Labels:
    """Labels of ticks: plain numbers, or powers where those are long."""

    def __init__(self, base: float, form: str) -> None:
        self._base, self._form = base, form

    def __call__(self, values: list[Decimal]) -> list[Rich]:
        if self._base == math.e:
            return [_power("e", round(math.log(float(v)))) for v in values]
        sizes = [value.adjusted() for value in values]
        plain = min(sizes) >= _PLAIN_FROM and max(sizes) <= _PLAIN_TO
        if self._form != "power" and (plain or (self._base == 2 and max(sizes) < 8)):
            return [(Run(decimal_text(_tidy(value))),) for value in values]
        if self._base == 2:
            return [_power("2", round(math.log2(float(value)))) for value in values]
        return [_times_power(value) for value in values]


def _tidy(value: Decimal) -> Decimal:
    return value.quantize(Decimal(1)) if value == value.to_integral_value() else value.normalize()


def _power(base: str, exponent: int) -> Rich:
    return (Run(base), Run(str(exponent).replace("-", "−"), script=1))


def _times_power(value: Decimal) -> Rich:
    exponent = value.adjusted()
    mantissa = _tidy(value.scaleb(-exponent))
    power = _power("10", exponent)
    return power if mantissa == 1 else (Run(f"{decimal_text(mantissa)}×10"), power[1])


LOG = Log()
# The logarithm of the largest power of ten that binary64 has a number for, and its reciprocal.
_FAR = 307 * math.log(10)


def _families(low: float, high: float, held: AxisConstraints) -> Iterator[Family]:
    base = held.base
    powers = (math.log(high) - math.log(low)) / math.log(base)
    for count in _POWERS:
        if powers / count < 60:
            yield _powers(base, count)
    # a power of its own for every 2 and 5 would be more ink than help
    if base != 10 or (held.labels == "power" and powers >= 2):
        return
    if powers < 4:
        yield mantissas(1, 2, 5)
    if powers < _LINEAR_WITHIN:
        yield from (multiples(step) for step in round_steps(high - low))


def _powers(base: float, count: int) -> Family:
    """Every n-th power of a base."""

    def value(power: int) -> Decimal:
        return Decimal(1).scaleb(power) if base == 10 else Decimal(base**power)

    def between(low: float, high: float, step: int) -> list[Decimal]:
        unit = math.log(base) * step
        # a rounding error in a logarithm must not lose the power itself
        first = math.floor(math.log(low) / unit + 1e-12)
        last = math.ceil(math.log(high) / unit - 1e-12)
        most = math.floor(_FAR / unit)
        first, last = max(first, -most), min(last, most)
        return [value(k * step) for k in range(first, last + 1)] if last - first < 400 else []

    def minor(low: float, high: float) -> list[Decimal]:
        if base == 10 and count == 1:
            return mantissas(1).minor(low, high)
        return between(low, high, 1)

    return Family(lambda low, high: between(low, high, count), float(count), minor)
