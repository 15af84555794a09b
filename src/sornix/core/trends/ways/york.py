"""The straight line with errors in both x and y.

D. York, N. M. Evensen, M. López Martínez and J. De Basabe Delgado, "Unified equations for the
slope, intercept, and standard errors of the best straight line", American Journal of Physics 72
(2004) 367–375, without correlation of the errors. With the same SD for all x and another for all y
it is Deming's line. Standard errors are scaled by the scatter, like those of other weighted fits.
"""

import math

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.text import significant
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Sample
from sornix.core.trends.models.line import LINE

_MOST_TURNS = 500


def fit_york(sample: Sample) -> Fit:
    """The line through readings with `x_sd` and `y_sd`. Raises TrendImpossible."""
    assert sample.x_sd is not None
    assert sample.y_sd is not None
    if sample.n < 3:
        raise TrendImpossible("A line with errors in both x and y needs at least 3 readings.")
    plain = LINE.fit(evolve(sample, weights=None))
    x, y = sample.x, sample.y
    of_x, of_y = sample.x_sd**-2.0, sample.y_sd**-2.0
    slope = plain.value("slope")
    turns, rests = 0, False
    while not rests and turns < _MOST_TURNS and math.isfinite(slope):
        turns += 1
        heavy = of_x * of_y / (of_x + slope**2 * of_y)
        x_mean, y_mean = (float((heavy * v).sum() / heavy.sum()) for v in (x, y))
        u, v = x - x_mean, y - y_mean
        beta = heavy * (u / of_y + slope * v / of_x)
        fresh = float((heavy * beta * v).sum() / (heavy * beta * u).sum())
        rests = abs(fresh - slope) <= 1e-15 * abs(fresh)
        slope = fresh
    if not math.isfinite(slope):
        raise TrendImpossible("No line with errors in both x and y could be found.")
    intercept = y_mean - slope * x_mean
    adjusted = x_mean + beta
    middle = float((heavy * adjusted).sum() / heavy.sum())
    per_slope = 1 / float((heavy * (adjusted - middle) ** 2).sum())
    level = 1 / float(heavy.sum())
    size = float(heavy.mean())
    residuals = y - intercept - slope * x
    rss = float((heavy * residuals**2).sum()) / size
    tss = float((heavy * (y - y_mean) ** 2).sum()) / size
    inner = np.array([[level, 0], [0, per_slope]]) * size
    away = np.array([[1, -middle], [0, 1]])
    times = significant(math.sqrt(rss * size / (sample.n - 2)), 2)
    return Fit(
        LINE, LINE.names, (intercept, slope), plain.units, away @ inner @ away.T,
        evolve(sample, weights=heavy / size), residuals, rss, tss,
        iterations=turns, converged=rests, centre=middle,
        inner=(intercept + slope * middle, slope), inner_unscaled=inner,
        notes=(f"The scatter is {times} times what the errors account for.",),
        own_method="least squares with errors in x and y",
    )  # fmt: skip
