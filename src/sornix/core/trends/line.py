"""The straight line by ordinary least squares: y = intercept + slope · x.

The line is found from sums about the means and then corrected: residuals are taken in doubled
precision and a second line through them is added, which leaves about as many correct digits as
the readings themselves have (iterative refinement, Å. Björck, "Numerical Methods for Least Squares
Problems", 1996, section 2.9).
"""

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.trends.double_double import line_residuals, total, two_sum
from sornix.core.trends.equation import Equation, line_runs, printed_value
from sornix.core.trends.fit import Fit, Floats, Prediction, ratio_unit
from sornix.core.trends.model import MODELS


class Line:
    """See the module."""

    name = "line"
    words = "straight line"
    straight = True
    method = "ordinary least squares"

    def fit(self, x: Floats, y: Floats, rows: NDArray[np.intp], x_unit: str, y_unit: str) -> Fit:
        n = len(x)
        if n < 2:
            raise TrendImpossible(
                f"A straight line needs at least 2 readings, and there {_is_or_are(n)}."
            )
        if np.ptp(x) == 0:
            raise TrendImpossible(
                f"All {n} readings have the same x, so no straight line can be put through them."
            )
        # powers of two, so that scaling changes no digit and nothing overflows when squared
        x_size, y_size = _power_of_two(x), _power_of_two(y)
        intercept, slope, residuals, sxx, x_mean = _solve(x / x_size, y / y_size)
        rss = _sum_of_products(residuals, residuals)
        about = _about_mean(y / y_size)
        tss = _sum_of_products(about, about)
        if rss <= tss * 1e-32:  # nothing is left but the rounding of the readings
            rss = 0.0
        with np.errstate(all="ignore"):
            unscaled = np.array(
                [[1 / n + x_mean**2 / sxx, -x_mean / sxx], [-x_mean / sxx, 1 / sxx]]
            ) / (np.array([[1, x_size], [x_size, x_size]]) * np.array([[1, 1], [1, x_size]]))
            values = np.array([intercept, slope]) * y_size / np.array([1.0, x_size])
            squares = np.array([rss, tss]) * y_size * y_size
        if not (np.isfinite(unscaled).all() and np.isfinite([*values, *squares]).all()):
            raise TrendImpossible(
                "These numbers are too large or too small for a line to be computed.",
                remedy="Give the columns in other units.",
            )
        r = None
        if tss > 0:
            r = math.copysign(math.sqrt(max(1 - rss / tss, 0)), slope)
        return Fit(
            self.name,
            ("intercept", "slope"),
            (float(values[0]), float(values[1])),
            (y_unit, ratio_unit(y_unit, x_unit)),
            unscaled,
            x,
            y,
            rows,
            residuals * y_size,
            float(squares[0]),
            float(squares[1]),
            r,
            notes=()
            if n > 2
            else ("Two readings determine a line, and leave nothing to judge it by.",),
        )

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        return fit.value("intercept") + fit.value("slope") * x

    def predict(self, fit: Fit, x: float) -> Prediction:
        value = fit.value("intercept") + fit.value("slope") * x
        if fit.residual_sd is None or fit.t95 is None:
            return Prediction(x, value, None, None)
        gradient = np.array([1.0, x])
        leverage = float(gradient @ fit.unscaled @ gradient)
        mean = fit.t95 * fit.residual_sd * math.sqrt(leverage)
        single = fit.t95 * fit.residual_sd * math.sqrt(1 + leverage)
        return Prediction(x, value, (value - mean, value + mean), (value - single, value + single))

    def read_off(self, fit: Fit, y: float) -> tuple[float, tuple[float, float] | None]:
        """Fieller's interval for one measured `y` (E. C. Fieller, Journal of the Royal
        Statistical Society B 16 (1954) 175–185). Raises TrendImpossible for a level line."""
        slope = fit.value("slope")
        if slope == 0:
            raise TrendImpossible("The line is level, so no x belongs to one y.")
        x = (y - fit.value("intercept")) / slope
        if fit.residual_sd is None or fit.t95 is None:
            return x, None
        mean = total(fit.x) / fit.n
        spread = (fit.t95 * fit.residual_sd) ** 2
        per_slope = float(fit.unscaled[1, 1])
        rest = slope**2 - spread * per_slope
        if rest <= 0:  # the slope itself is not told apart from zero
            return x, None
        middle = mean + slope * (x - mean) * slope / rest
        inside = spread * (rest * (1 + 1 / fit.n) + (slope * (x - mean)) ** 2 * per_slope)
        half = math.sqrt(inside) / rest
        return x, (middle - half, middle + half)

    def equation(
        self, fit: Fit, symbols: tuple[str, str], drawn: tuple[float, float], tolerance: float
    ) -> Equation:
        reach = max(abs(drawn[0]), abs(drawn[1]), np.finfo(float).tiny)
        slope = printed_value(
            fit.value("slope"),
            within=_within(tolerance / 2 / reach, fit.standard_error("slope")),
            exact=fit.rss == 0,
        )
        intercept = printed_value(
            fit.value("intercept"),
            within=_within(tolerance / 2, fit.standard_error("intercept")),
            exact=fit.rss == 0,
        )
        return Equation(line_runs(symbols, slope, intercept), (intercept, slope))


LINE = Line()
MODELS[LINE.name] = LINE


def _is_or_are(count: int) -> str:
    return f"is {count}" if count == 1 else "are none"


def _within(tolerance: float, standard_error: float | None) -> float:
    """The tighter of the drawing's tolerance and a tenth of a standard error, if there is one."""
    return min(tolerance, standard_error / 10) if standard_error else tolerance


def _power_of_two(values: Floats) -> float:
    greatest = float(np.max(np.abs(values)))
    return math.ldexp(1.0, min(math.frexp(greatest)[1], 1023)) if greatest else 1.0


# Long arrays are worked through in parts that stay in the processor's cache: four times faster.
_PART = 1 << 14


def _parts(n: int) -> Iterator[slice]:
    return (slice(begin, begin + _PART) for begin in range(0, n, _PART))


def _about_mean(values: Floats) -> Floats:
    """`values` less their mean, the mean in two parts."""
    n = len(values)
    mean = total(values) / n
    about, errors = np.empty(n), np.empty(n)
    for part in _parts(n):
        about[part], errors[part] = two_sum(values[part], np.float64(-mean))
    rest = (total(about) + total(errors)) / n
    for part in _parts(n):
        about[part] += errors[part] - rest
    return about


def _solve(x: Floats, y: Floats) -> tuple[float, float, Floats, float, float]:
    """Intercept, slope, residuals (n,), Σ(x − mean)², mean of x."""
    n = len(x)
    dx = _about_mean(x)
    sxx = _sum_of_products(dx, dx)
    mean = total(x) / n
    slope = (_sum_of_products(dx, y) / sxx, 0.0)
    intercept = (total(y) / n - slope[0] * mean, 0.0)
    residuals = np.empty(n)
    for _ in range(2):
        levels, steps = [], []
        for part in _parts(n):
            high, low = line_residuals(x[part], y[part], intercept, slope)
            residuals[part] = high + low
            levels += [total(high), total(low)]
            steps += [total(dx[part] * high), total(dx[part] * low)]
        step = math.fsum(steps) / sxx
        slope = _plus(slope, step)
        intercept = _plus(intercept, math.fsum(levels) / n - step * mean)
    return sum(intercept), sum(slope), residuals, sxx, mean


def _sum_of_products(a: Floats, b: Floats) -> float:
    return math.fsum(total(a[part] * b[part]) for part in _parts(len(a)))


def _plus(pair: tuple[float, float], value: float) -> tuple[float, float]:
    low = pair[1] + value
    high = pair[0] + low
    return high, low - (high - pair[0])
