"""What else is to be known of a fit: tests of it, and how much each reading bears on it."""

import math
from typing import NamedTuple

import numpy as np

from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Floats


class FTest(NamedTuple):
    """A ratio of two mean squares with their degrees of freedom, and the probability of one as
    large or larger by chance."""

    ratio: float
    upper_dof: float
    lower_dof: float
    p: float


class RunsTest(NamedTuple):
    """Runs of residuals of one sign along x, how many are expected of a right curve, and the
    probability of as few or fewer by chance."""

    runs: int
    expected: float
    p: float


def f_test(upper: float, upper_dof: float, lower: float, lower_dof: float) -> FTest | None:
    """Two sums of squares with their degrees of freedom; None where they cannot be compared."""
    if upper_dof <= 0 or lower_dof <= 0 or lower <= 0:
        return None
    from scipy.special import fdtrc

    ratio = max(upper, 0.0) / upper_dof / (lower / lower_dof)
    return FTest(ratio, upper_dof, lower_dof, float(fdtrc(upper_dof, lower_dof, ratio)))


def regression_test(fit: Fit) -> FTest | None:
    """Whether the curve takes up more than its level alone would, or than the level that is held
    (N. R. Draper and H. Smith, "Applied Regression Analysis", 3rd edition (1998), section 1.3);
    None where it has no level among its curves, and where nothing was fitted."""
    if fit.own_variance is not None or fit.is_exact or not fit.free:
        return None
    if fit.level is not None:
        return f_test(fit.tss - fit.rss, fit.free, fit.rss, fit.dof)
    if fit.held or (fit.model == "formula" and not _has_level(fit)):
        return None
    return f_test(fit.tss - fit.rss, fit.free - 1, fit.rss, fit.dof)


def _has_level(fit: Fit) -> bool:
    """Whether a constant can be added to a curve, near where it is."""
    slopes = fit.own_slopes
    one = np.ones(fit.n)
    scale = np.linalg.norm(slopes, axis=0)
    slopes = slopes / np.where(scale > 0, scale, 1.0)
    if not np.isfinite(slopes).all():
        return False
    left = one - slopes @ np.linalg.lstsq(slopes, one, rcond=None)[0]
    return bool(np.linalg.norm(left) < 1e-6 * np.linalg.norm(one))


def lack_of_fit(fit: Fit) -> FTest | None:
    """Whether the means of replicates lie further from the curve than the replicates from each
    other (Draper and Smith, section 2.1); None where no x has two readings."""
    if fit.own_variance is not None or not fit.names:
        return None
    places, others = fit.x, fit.sample.others
    if others is not None:
        rows = np.column_stack((places, others))
        places = np.unique(rows, axis=0, return_inverse=True)[1].astype(np.float64)
    _, group, counts = np.unique(places, return_inverse=True, return_counts=True)
    weights = np.ones(fit.n) if fit.sample.weights is None else fit.sample.weights
    heavy = np.bincount(group, weights)
    means = np.bincount(group, weights * fit.residuals) / heavy
    pure = float((weights * (fit.residuals - means[group]) ** 2).sum())
    within = fit.n - len(counts)
    return f_test(fit.rss - pure, len(counts) - fit.free, pure, within)


def nested_test(small: Fit, large: Fit) -> FTest | None:
    """Whether the further parameters of the larger of two nested models take up more than chance
    would; both through the same readings."""
    if small.free >= large.free or small.on_logs != large.on_logs:
        return None
    return f_test(small.rss - large.rss, large.free - small.free, large.rss, large.dof)


def runs_test(fit: Fit) -> RunsTest | None:
    """Whether residuals keep their sign too long along x (A. Wald and J. Wolfowitz, Annals of
    Mathematical Statistics 11 (1940) 147–162), exact for few readings, by the normal
    approximation for more than 200."""
    if fit.is_exact:
        return None
    order = np.argsort(fit.x, kind="stable")
    # what rounding alone leaves has no sign to tell
    signs = np.sign(np.where(np.abs(fit.residuals) <= fit.grain, 0.0, fit.residuals)[order])
    signs = signs[signs != 0]
    above, below = int((signs > 0).sum()), int((signs < 0).sum())
    if min(above, below) < 1 or not fit.names:
        return None
    runs = int((signs[1:] != signs[:-1]).sum()) + 1
    n = above + below
    expected = 2 * above * below / n + 1
    if n > 200:
        variance = (expected - 1) * (expected - 2) / (n - 1)
        z = (runs + 0.5 - expected) / math.sqrt(variance)
        return RunsTest(runs, expected, 0.5 * math.erfc(-z / math.sqrt(2)))
    ways = 0
    for r in range(2, runs + 1):
        k = r // 2
        if r % 2 == 0:
            ways += 2 * math.comb(above - 1, k - 1) * math.comb(below - 1, k - 1)
        else:
            ways += math.comb(above - 1, k) * math.comb(below - 1, k - 1)
            ways += math.comb(above - 1, k - 1) * math.comb(below - 1, k)
    return RunsTest(runs, expected, ways / math.comb(n, above))


def leverages(fit: Fit) -> Floats:
    """How much each reading draws the curve to itself, 0 to 1, shape (n,)."""
    if not fit.names:
        return np.zeros(fit.n)
    weights = 1.0 if fit.sample.weights is None else fit.sample.weights
    return np.clip(fit.own_leverages * weights, 0.0, 1.0)


def standardised(fit: Fit) -> Floats | None:
    """Residuals as multiples of their own standard deviations, shape (n,); NaN where a reading
    determines the curve by itself."""
    if fit.residual_sd is None or not fit.residual_sd:
        return None
    root = 1.0 if fit.sample.roots is None else fit.sample.roots
    with np.errstate(all="ignore"):
        found: Floats = fit.residuals * root / fit.residual_sd / np.sqrt(1 - leverages(fit))
    return np.where(np.isfinite(found), found, np.nan)


def cooks_distances(fit: Fit) -> Floats | None:
    """How far the curve would move without each reading (R. D. Cook, Technometrics 19 (1977)
    15–18), shape (n,)."""
    own, lever = standardised(fit), leverages(fit)
    if own is None or not fit.free:
        return None
    with np.errstate(all="ignore"):
        found: Floats = own**2 * lever / (1 - lever) / fit.free
    return np.where(np.isfinite(found), found, np.nan)


def correlations(fit: Fit) -> Floats:
    """The correlations of the parameters, shape (p, p); 0 for those that are held, NaN where the
    numbers are too large for any."""
    sizes = np.sqrt(np.maximum(np.diag(fit.unscaled), 0.0))
    sizes[sizes == 0] = 1.0
    with np.errstate(all="ignore"):
        found: Floats = fit.unscaled / sizes / sizes[:, None]
    return np.where(np.isfinite(found), found, np.nan)


def normal_quantiles(n: int) -> Floats:
    """Where n sorted values of a normal distribution are expected, shape (n,) (G. Blom,
    "Statistical Estimates and Transformed Beta-Variables" (1958))."""
    from scipy.special import ndtri

    found: Floats = ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25))
    return found
