"""x for a measured y, with its interval, and what a calibration can detect.

The 95 % interval is made of all x whose prediction interval holds the measured y: for lines that is
the interval of E. C. Fieller, Journal of the Royal Statistical Society B 16 (1954) 175–185, in
closed form; for other curves its ends are looked for. The mean of m replicates of the unknown has a
variance m times less.
"""

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fit import Fit, Floats

_PLACES = 2001
# x is looked for this part of the readings' range beyond them, and ends of intervals this far
_BEYOND, _FAR = 0.5, 3.0


class ReadOff(NamedTuple):
    """The x that belongs to a y, its 95 % interval where that is bounded, and whether it lies
    beyond the readings of the trend."""

    y: float
    x: float
    interval: tuple[float, float] | None
    beyond: bool


class Limits(NamedTuple):
    """What a calibration line can detect and quantify, in units of x, and the same as y."""

    detection: float
    quantification: float
    critical: float


def read_off(fit: Fit, y: float, replicates: int = 1) -> ReadOff:
    """x for the mean `y` of some replicates. Raises TrendImpossible where there is not just one."""
    if replicates < 1:
        raise TrendImpossible("A y is the mean of 1 replicate or more.")
    if not math.isfinite(y):
        raise TrendImpossible("Read off needs a number for y.")
    if fit.by.straight and fit.scatter is None:
        x, interval = _of_line(fit, y, replicates)
    else:
        x, interval = _of_curve(fit, y, replicates)
    beyond = not fit.x.min() <= x <= fit.x.max()
    return ReadOff(y, x, interval, beyond)


def _spread(fit: Fit) -> float | None:
    """t · residual SD, or None without degrees of freedom."""
    return None if fit.t95 is None or fit.residual_sd is None else fit.t95 * fit.residual_sd


def _of_line(fit: Fit, y: float, m: float) -> tuple[float, tuple[float, float] | None]:
    level, slope = fit.inner[0], fit.inner[1]
    if slope == 0:
        raise TrendImpossible("The line is level, so no x belongs to one y.")
    away = (y - level) / slope
    x = fit.along.place(fit.centre + away)
    spread = _spread(fit)
    if spread is None:
        return x, None
    unscaled = fit.spread
    own = float(fit.new_variance(np.array([x]))[0]) / m
    # (level + slope·u − y)² ≤ spread² (own + unscaled₀₀ + 2 unscaled₀₁ u + unscaled₁₁ u²)
    apart, square = level - y, spread * spread
    a = slope * slope - square * float(unscaled[1, 1])
    b = slope * apart - square * float(unscaled[0, 1])
    c = apart * apart - square * (own + float(unscaled[0, 0]))
    if not all(map(math.isfinite, (x, a, b, c))):
        raise TrendImpossible("This y is too far from all readings to be read off.")
    if a <= 0:  # the slope itself is not told apart from zero
        return x, None
    root = math.sqrt(max(b * b - a * c, 0.0))
    low, high = ((-b + side) / a for side in (-root, root))
    return x, (fit.along.place(fit.centre + low), fit.along.place(fit.centre + high))


def _of_curve(fit: Fit, y: float, m: int) -> tuple[float, tuple[float, float] | None]:
    low, high = float(fit.x.min()), float(fit.x.max())
    reach = high - low

    def off(x: Floats) -> Floats:
        return fit.at(x) - y

    inside = _crossings(off, low, high)
    if not inside:
        room = _BEYOND * reach
        inside = _crossings(off, low - room, high + room)
    if len(inside) != 1:
        several = f"{len(inside)} different x have" if inside else "no x near the readings has"
        raise TrendImpossible(f"On this curve {several} that y.")
    x = inside[0]
    if fit.t95 is None or fit.residual_sd is None or not fit.names or fit.loose:
        return x, None

    def outside(places: Floats) -> Floats:
        room = fit.half_widths(places, m)
        value = fit.at(places)
        apart = np.log(value / y) if fit.on_logs else value - y
        return np.abs(apart) - room

    with np.errstate(all="ignore"):
        below = _crossings(outside, x - _FAR * reach, x)
        above = _crossings(outside, x, x + _FAR * reach)
    if not below or not above:
        return x, None
    return x, (below[-1], above[0])


# Each round leaves one part of so many of a stretch: 70 halvings in all, in few calls.
_ROUNDS, _PARTS = 14, 32


def _crossings(function: Callable[[Floats], Floats], low: float, high: float) -> list[float]:
    """Where a function of x crosses zero between two ends, to the last digits."""
    places = np.linspace(low, high, _PLACES)
    with np.errstate(all="ignore"):
        values = function(places)
    signs = np.sign(values)
    found = [float(at) for at in places[signs == 0]]
    for i in np.flatnonzero(signs[:-1] * signs[1:] < 0):
        a, b = float(places[i]), float(places[i + 1])
        for _ in range(_ROUNDS):
            between = np.linspace(a, b, _PARTS + 1)
            crossed = ~(function(between) * signs[i] > 0)
            crossed[0], crossed[-1] = False, True
            end = int(np.argmax(crossed))
            a, b = float(between[end - 1]), float(between[end])
        found.append(a / 2 + b / 2)
    # a touch at the grid is one place, not two
    return sorted(found)


def added_to(fit: Fit) -> ReadOff | None:
    """How much was there before anything was added, from the line of a standard addition: the
    distance of 0 from where the line is 0, with its 95 % interval (S. L. R. Ellison and M.
    Thompson, Analyst 133 (2008) 992–997). None for what is no rising line."""
    if not fit.by.straight or fit.scatter is not None or fit.inner[1] <= 0 or fit.along.words:
        return None
    x, ends = _of_line(fit, 0.0, math.inf)
    return ReadOff(0.0, -x, None if ends is None else (-ends[1], -ends[0]), beyond=False)


def limits(fit: Fit) -> Limits | None:
    """Limits of detection and of quantification of a straight calibration line: 3.3 and 10 times
    the residual SD over the slope (ICH Q2(R1), section 6.3), and the critical value of y, above
    which a reading is not a blank's at 95 % (L. A. Currie, Analytical Chemistry 40 (1968) 586–593,
    with the uncertainty of the line). None without degrees of freedom."""
    if not fit.by.straight or not fit.residual_sd or fit.t95 is None:
        return None
    slope = abs(fit.inner[1])
    if not slope:
        return None
    from scipy.special import stdtrit

    at_0 = np.array([fit.along.place(0.0)])
    own = float(fit.new_variance(at_0)[0]) + float(fit.leverage_at(at_0)[0])
    one_sided = float(stdtrit(fit.dof, 0.95))
    critical = float(fit.at(at_0)[0]) + math.copysign(
        one_sided * fit.residual_sd * math.sqrt(own), fit.inner[1]
    )
    # the scatter where the limits are, at the lowest level
    size = fit.residual_sd * math.sqrt(float(fit.new_variance(at_0)[0])) / slope
    return Limits(3.3 * size, 10 * size, critical)
