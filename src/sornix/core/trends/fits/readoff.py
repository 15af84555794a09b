"""x for a measured y, with its interval, and what a calibration can detect.

The 95 % interval is made of all x whose prediction interval holds the measured y: for lines that is
the interval of E. C. Fieller, Journal of the Royal Statistical Society B 16 (1954) 175–185, in
closed form; for other curves its ends are looked for. The mean of m replicates of the unknown has a
variance m times less; one with a standard uncertainty of its own has the square of that, with the
effective degrees of freedom of B. L. Welch and F. E. Satterthwaite ("Guide to the Expression of
Uncertainty in Measurement", JCGM 100 (2008), G.4).
"""

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Floats, Treatment

_PLACES = 2001
# x is looked for this part of the readings' range beyond them, and ends of intervals this far
_BEYOND, _FAR = 0.5, 3.0


class ReadOff(NamedTuple):
    """The x that belongs to a y, its 95 % interval where that is bounded, whether it lies beyond
    the readings of the trend, and the SD of that y where it has its own."""

    y: float
    x: float
    interval: tuple[float, float] | None
    beyond: bool
    sd: float | None = None


def in_sample(found: ReadOff, treatment: Treatment) -> ReadOff:
    """What was in the sample itself, by what was found: the part of the recovery in the interval is
    joined with that of the reading as independent of it (JCGM 100 (2008), 5.1.6)."""
    factor = treatment.dilution * 100 / treatment.recovery
    ends = found.interval
    if ends is not None:
        # 1.96 is what t is where the SD is taken as known
        part = 1.96 * treatment.recovery_sd / treatment.recovery * abs(found.x)
        low, high = (math.copysign(math.hypot(end - found.x, part), end - found.x) for end in ends)
        ends = (found.x + low) * factor, (found.x + high) * factor
    return found._replace(x=found.x * factor, interval=ends)


class Limits(NamedTuple):
    """What a calibration line can detect and quantify, in units of x, and the same as y."""

    detection: float
    quantification: float
    critical: float


def read_off(fit: Fit, y: float, replicates: int = 1, sd: float | None = None) -> ReadOff:
    """x for a `y` that is the mean of some replicates, which scatter as the readings do, or has an
    `sd` of its own. Raises TrendImpossible where there is not just one."""
    if replicates < 1:
        raise TrendImpossible("A y is the mean of 1 replicate or more.")
    if not math.isfinite(y):
        raise TrendImpossible("Read off needs a number for y.")
    if sd is not None and not 0 < sd < math.inf:
        raise TrendImpossible("The standard deviation of a y is above 0.")
    own_sd = sd
    if sd is not None and fit.on_logs:
        # of a logarithm it is that part of y
        sd = sd / y if y > 0 else None
    if fit.by.straight and fit.scatter is None:
        x, interval = _of_line(fit, y, replicates, sd)
    else:
        x, interval = _of_curve(fit, y, replicates, sd)
    beyond = not fit.ends[0] <= x <= fit.ends[1]
    return ReadOff(y, x, interval, beyond, own_sd)


def _t95(fit: Fit, lever: Floats, sd: float) -> Floats:
    """Student's t for the variance of the trend, s² · lever (k,), and that of a y of its own SD."""
    from scipy.special import stdtrit

    of_trend = (fit.residual_sd or 0.0) ** 2 * lever
    with np.errstate(all="ignore"):
        dof = fit.dof * ((of_trend + sd * sd) / of_trend) ** 2
    found: Floats = stdtrit(np.nan_to_num(dof, nan=1e9, posinf=1e9), 0.975)
    return found


def _of_line(
    fit: Fit, y: float, m: float, sd: float | None = None
) -> tuple[float, tuple[float, float] | None]:
    level, slope = fit.inner[0], fit.inner[1]
    if slope == 0:
        raise TrendImpossible("The line is level, so no x belongs to one y.")
    away = (y - level) / slope
    x = fit.along.place(fit.centre + away)
    if fit.t95 is None or fit.residual_sd is None:
        return x, None
    at, t, unscaled = np.array([x]), fit.t95, fit.spread
    own = float(fit.new_variance(at)[0]) / m
    if sd is not None and fit.residual_sd:
        own = (sd / fit.residual_sd) ** 2
        t = float(_t95(fit, fit.leverage_at(at), sd)[0])
    elif sd is not None:
        # the line is exact, and all that is uncertain is y
        away = abs(float(_t95(fit, np.zeros(1), sd)[0]) * sd / slope) * fit.along.step
        return x, (x - away, x + away)
    spread = t * fit.residual_sd
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


def _of_curve(
    fit: Fit, y: float, m: int, sd: float | None
) -> tuple[float, tuple[float, float] | None]:
    low, high = fit.ends
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
        if sd is None:
            room = fit.half_widths(places, m)
        else:
            lever = fit.leverage_at(places)
            room = _t95(fit, lever, sd) * np.hypot(fit.errors_at(places), sd)
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
