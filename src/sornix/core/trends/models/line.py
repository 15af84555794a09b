"""The straight line by ordinary least squares: y = intercept + slope · x.

The line is found from sums about the means. Of few readings it is then corrected: residuals are
taken in doubled precision and a second line through them is added, which leaves about as many
correct digits as the readings themselves have (iterative refinement, Å. Björck, "Numerical Methods
for Least Squares Problems", 1996, section 2.9). Of many, the errors of rounding even out.
"""

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.readings.tables.column import ends_of
from sornix.core.readings.tables.laid import let_go_behind, room_for
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample, ratio_unit
from sornix.core.trends.models.double_double import line_residuals, total, two_sum
from sornix.core.trends.models.polynomial import TWO_USED, Polynomial

# So many readings are worth the doubled precision.
_MOST_REFINED = 50_000


class Line(Polynomial):
    """See the module; with weights, held parameters or bounds it is a polynomial of degree 1."""

    in_several = errors_in_both = True

    def __init__(self) -> None:
        super().__init__(1, "line", "straight line")

    @property
    def names(self) -> tuple[str, ...]:
        return ("intercept", "slope")

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        way.checked(self.names, self.words)
        if sample.n < 2:
            raise TrendImpossible(
                f"A straight line needs at least 2 readings, and there {_is_or_are(sample.n)}."
            )
        low, high = ends_of(sample.x)
        if low == high and not way.held:
            raise TrendImpossible(
                f"All {sample.n} readings have the same x, so no straight line can be put through "
                "them."
            )
        if sample.weights is not None or way.held or way.bounds:
            return super().fit(sample, way)
        return self._plain(sample, max(abs(low), abs(high)))

    def _plain(self, sample: Sample, greatest: float) -> Fit:
        # powers of two, so that scaling changes no digit and nothing overflows when squared
        x, y, n = sample.x, sample.y, sample.n
        lowest, highest = ends_of(y)
        x_size = _power_of_two(greatest)
        y_size = _power_of_two(max(abs(lowest), abs(highest)))
        solve = _solve if n <= _MOST_REFINED else _solve_many
        found = solve(_scaled(x, x_size), _scaled(y, y_size))
        rss = found.rss
        if rss <= found.tss * 1e-32:  # nothing is left but the rounding of the readings
            rss = 0.0
        mean, sxx = found.x_mean, found.sxx
        with np.errstate(all="ignore"):
            per_slope = 1 / sxx / x_size / x_size
            unscaled = np.array([[1 / n + mean**2 / sxx, -mean / sxx / x_size],
                                 [-mean / sxx / x_size, per_slope]])  # fmt: skip
            values = np.array([found.intercept, found.slope]) * y_size / np.array([1.0, x_size])
            squares = np.array([rss, found.tss]) * y_size * y_size
        if not (np.isfinite(unscaled).all() and np.isfinite([*values, *squares]).all()):
            raise TrendImpossible(
                "These numbers are too large or too small for a line to be computed.",
                remedy="Give the columns in other units.",
            )
        grain = 4 * float(np.finfo(float).eps) * max(abs(lowest), abs(highest))
        residuals = found.residuals if y_size == 1 else found.residuals * y_size
        if abs(values[0]) <= grain and float(np.abs(residuals).max()) <= grain:
            # what rounding leaves is no intercept
            values[0] = 0.0
        r = None
        if found.tss > 0 and n > 2:
            r = math.copysign(math.sqrt(max(1 - rss / found.tss, 0)), found.slope)
        centre = _short_near(mean * x_size, float(np.sqrt(sxx / n)) * x_size)
        off = centre - mean * x_size
        return Fit(
            self, self.names, (float(values[0]), float(values[1])),
            (sample.y_unit, ratio_unit(sample.y_unit, sample.x_unit)), unscaled, sample,
            residuals, float(squares[0]),
            float(squares[1]), r, notes=() if n > 2 else (TWO_USED,), centre=centre,
            inner=(found.level * y_size + float(values[1]) * off, float(values[1])),
            inner_unscaled=np.array([[1 / n + off * off * per_slope, off * per_slope],
                                     [off * per_slope, per_slope]]),
        )  # fmt: skip


LINE = Line()


def _is_or_are(count: int) -> str:
    return f"is {count}" if count == 1 else "are none"


def _power_of_two(greatest: float) -> float:
    # ordinary numbers need no scaling: their squares are far from the ends of binary64
    if 1e-60 < greatest < 1e60 or not greatest:
        return 1.0
    return math.ldexp(1.0, min(math.frexp(greatest)[1], 1023))


def _scaled(values: Floats, size: float) -> Floats:
    return values if size == 1 else values / size


def _short_near(mean: float, spread: float) -> float:
    """A number of few digits near the mean, about which an equation may be printed."""
    if not (spread and math.isfinite(spread)):
        return mean
    grain = 10.0 ** math.floor(math.log10(spread))
    return float(f"{round(mean / grain) * grain:.15g}")


# Long arrays are worked through in parts that stay in the processor's cache: four times faster.
_PART = 1 << 14


class _Solved(NamedTuple):
    """Intercept, slope, level at the mean of x, residuals (n,), their sum of squares, that of y
    about its mean, Σ(x − mean)², mean of x."""

    intercept: float
    slope: float
    level: float
    residuals: Floats
    rss: float
    tss: float
    sxx: float
    x_mean: float


def _parts(n: int, *gone_through: Floats) -> Iterator[slice]:
    """Parts of n readings; of what is laid down on the disk, no more is in memory than some."""
    for begin in range(0, n, _PART):
        yield slice(begin, begin + _PART)
        let_go_behind(begin, *gone_through)


def _about_mean(values: Floats) -> Floats:
    """`values` less their mean, the mean in two parts."""
    n = len(values)
    mean = total(values) / n
    about, errors = two_sum(values, np.float64(-mean))
    rest = (total(about) + total(errors)) / n
    found: Floats = about + (errors - rest)
    return found


def _solve(x: Floats, y: Floats) -> _Solved:
    n = len(x)
    dx = _about_mean(x)
    sxx = total(dx * dx)
    mean = total(x) / n
    slope = (total(dx * y) / sxx, 0.0)
    intercept = (total(y) / n - slope[0] * mean, 0.0)
    residuals = y
    for _ in range(2):
        high, low = line_residuals(x, y, intercept, slope)
        residuals = high + low
        step = (total(dx * high) + total(dx * low)) / sxx
        slope = _plus(slope, step)
        intercept = _plus(intercept, (total(high) + total(low)) / n - step * mean)
    about = _about_mean(y)
    level = total(y) / n
    return _Solved(sum(intercept), sum(slope), level, residuals, total(residuals * residuals),
                   total(about * about), sxx, mean)  # fmt: skip


def _dot(a: Floats, b: Floats) -> float:
    # not by the threads of a library: they take longer to start than this takes
    return float(np.einsum("i,i->", a, b))


def _solve_many(x: Floats, y: Floats) -> _Solved:
    """In two passes: the sums about readings nearby, then the residuals and what is left there."""
    n = len(x)
    x_at, y_at = float(x[:_PART].mean()), float(y[:_PART].mean())
    buffers = np.empty((3, _PART))
    sums = []
    for part in _parts(n, x, y):
        dx, dy, _ = (buffer[: len(x[part])] for buffer in buffers)
        np.subtract(x[part], x_at, out=dx)
        np.subtract(y[part], y_at, out=dy)
        sums.append((dx.sum(), dy.sum(), _dot(dx, dx), _dot(dx, dy), _dot(dy, dy)))
    sx, sy, xx, xy, yy = (math.fsum(column) for column in zip(*sums, strict=True))
    sxx, sxy = xx - sx * sx / n, xy - sx * sy / n
    x_mean, y_mean = x_at + sx / n, y_at + sy / n
    slope = sxy / sxx
    residuals = room_for(n)
    left = []
    for part in _parts(n, residuals, x, y):
        dx, dy, _ = (buffer[: len(x[part])] for buffer in buffers)
        np.subtract(x[part], x_mean, out=dx)
        np.subtract(y[part], y_mean, out=dy)
        rest = residuals[part]
        np.multiply(dx, -slope, out=rest)
        rest += dy
        left.append((rest.sum(), _dot(rest, rest), _dot(dx, rest)))
    level, rss, step = (math.fsum(column) for column in zip(*left, strict=True))
    # what is left is rounding: a hair on slope and level, nothing on the residuals
    slope += step / sxx
    level = y_mean + level / n
    return _Solved(level - slope * x_mean, slope, level, residuals, rss - step * step / sxx,
                   yy - sy * sy / n, sxx, x_mean)  # fmt: skip


def _plus(pair: tuple[float, float], value: float) -> tuple[float, float]:
    low = pair[1] + value
    high = pair[0] + low
    return high, low - (high - pair[0])
