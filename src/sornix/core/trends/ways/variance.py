"""Weights from how readings scatter about the curve itself.

The standard deviation of a reading is taken to be proportional to a power of the height of the
curve there: power 0 is a constant scatter, 1 a constant percentage, 1/2 that of counts. Weights are
worked out from the curve, not from the readings, and curve and weights in turn until both rest (R.
J. Carroll and D. Ruppert, "Transformation and Weighting in Regression", 1988, chapter 2): a reading
that happens to be low would otherwise weigh too much.

Where the power is not given, it is that of the greatest restricted likelihood (H. D. Patterson and
R. Thompson, Biometrika 58 (1971) 545–554), every power being taken beforehand to be e times as
likely as one that is 1 more: few readings tell little of it, and a low one is the more careful.
Curves are then weighed over all powers by how likely these are: the covariance is the mean of those
of each power and the spread of the curves about the likeliest one, in the tangent plane there, and
a new reading has the mean of the variances (A. Gelman et al., "Bayesian Data Analysis", 3rd edition
(2013), sections 2.7 and 14.7, with the variance integrated over).
"""

import math
from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.patience import go_on
from sornix.core.text import significant
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample
from sornix.core.trends.fits.scatter import Powers, Scatter

# Powers that are tried; between the best and its neighbours by a parabola.
_POWERS = np.linspace(-0.5, 2.0, 51)
# By so much the logarithm of how likely a power is beforehand falls with it.
_FALLS = 1.0
# So many numbers are worked out together.
_AT_ONCE = 2_000_000
_MOST_TURNS, _MOST_STRAIGHT, _RESTS = 60, 6, 1e-7
# Where a curve comes near 0, readings are taken to scatter like those at this part of its greatest
# height.
_LEAST_PART = 0.02


def fit_by_height(
    model: Model, sample: Sample, way: ParameterConstraints = PLAIN, power: float | None = None
) -> Fit:
    """A model through readings that weigh by a power of its own height, estimated if it is not
    given. Raises TrendImpossible."""
    way = evolve(way, quick=True)
    found = model.fit(evolve(sample, weights=None), way)
    if found.dof <= 0:
        return found
    if found.dof <= 1 and power is None:
        raise TrendImpossible(
            "How these readings scatter takes more of them to tell.",
            remedy="Weigh all readings the same.",
        )
    scatter, before = _scatter(found, power), np.ones(sample.n)
    for turn in range(_MOST_TURNS):
        go_on()
        weights = 1 / scatter.relative(found.fitted)
        if np.abs(weights / before - 1).max() < _RESTS:
            break
        if turn > _MOST_STRAIGHT:
            # curve and weights swing about each other: half the way
            weights = np.sqrt(weights * before)
        before = weights
        # lines and polynomials are not searched for
        on = way.begun_at(found.known) if found.iterations else way
        found = model.fit(evolve(sample, weights=weights), on)
        scatter = _scatter(found, power)
    else:
        found = evolve(found, notes=(*found.notes, "Curve and weights did not come to rest."))
    if power is not None:
        return evolve(found, scatter=scatter)
    return _with_uncertainty(found, scatter)


def _scatter(fit: Fit, power: float | None) -> Scatter:
    """How the readings of a fit scatter about it."""
    height = np.abs(fit.fitted)
    greatest = float(height.max())
    if not greatest or not math.isfinite(greatest):
        raise TrendImpossible(
            "The trend is 0, so readings cannot weigh by its height.",
            remedy="Weigh the readings otherwise.",
        )
    least = _LEAST_PART * greatest
    logs = np.log(np.maximum(height, least))
    if power is None:
        power = _likeliest(fit, logs - logs.mean())
    # the mean weight is 1
    shift = math.log(float(np.exp(-2 * power * (logs - logs.mean())).mean()))
    centre = float(logs.mean()) - (shift / (2 * power) if power else 0.0)
    return Scatter(power, least, centre)


def _slopes(fit: Fit) -> tuple[Floats, NDArray[np.bool_]]:
    """How the curve changes with its free parameters at the readings, (n, q), and which are."""
    slopes = fit.own_slopes
    free = np.diag(fit.spread) > 0
    return slopes[:, free], free


class _Weighed(NamedTuple):
    """What each of _POWERS makes of readings (k of them): the logarithm of how likely it is (k,),
    what it adds to the free parameters (k, q), the inverse of XᵀWX (k, q, q), and the sum of
    squares (k,)."""

    likely: Floats
    added: Floats
    inverse: Floats
    rss: Floats


def _weighed(fit: Fit, logs: Floats) -> _Weighed | None:
    """Each power of _POWERS in the tangent plane of a fit, for readings whose heights have these
    logarithms; None where the readings tell nothing of it."""
    slopes, _ = _slopes(fit)
    scale = np.linalg.norm(slopes, axis=0)
    scale = np.where(scale > 0, scale, 1.0)
    n, q = slopes.shape
    parts = []
    # of many readings, a few powers at once
    step = max(_AT_ONCE // max(n * q, 1), 1)
    for first in range(0, len(_POWERS), step):
        go_on()
        powers = _POWERS[first : first + step]
        roots = np.exp(-np.outer(powers, logs))
        basis, triangle = np.linalg.qr(slopes / scale * roots[:, :, None])
        rest = fit.residuals * roots
        along = np.einsum("knq,kn->kq", basis, rest)
        rss = ((rest - np.einsum("knq,kq->kn", basis, along)) ** 2).sum(axis=1)
        sizes = np.abs(np.diagonal(triangle, axis1=1, axis2=2))
        if not (rss > 0).all() or not sizes.all():
            return None
        likely = -(n - q) / 2 * np.log(rss) - powers * logs.sum() - np.log(sizes).sum(axis=1)
        back = np.linalg.inv(triangle) / scale[:, None]
        parts.append((
            likely - _FALLS * powers, np.einsum("kij,kj->ki", back, along),
            back @ back.transpose(0, 2, 1), rss,
        ))  # fmt: skip
    return _Weighed(*(np.concatenate(part) for part in zip(*parts, strict=True)))


def _likeliest(fit: Fit, logs: Floats) -> float:
    """The likeliest power, for readings whose heights have these logarithms."""
    weighed = _weighed(fit, logs)
    if weighed is None:
        return 0.0
    found = weighed.likely
    best = int(np.argmax(found))
    if best in (0, len(found) - 1):
        return float(_POWERS[best])
    low, middle, high = found[best - 1 : best + 2]
    curved = low - 2 * middle + high
    step = float(_POWERS[1] - _POWERS[0])
    return float(_POWERS[best]) + (step * (low - high) / (2 * curved) if curved else 0.0)


def _with_uncertainty(fit: Fit, scatter: Scatter) -> Fit:
    """The fit with the covariance that an estimated power leaves."""
    assert fit.residual_sd is not None
    weighed, known, unscaled = _weighed(fit, scatter.logs(fit.fitted)), None, fit.spread
    if weighed is not None:
        _, free = _slopes(fit)
        parts = np.exp(weighed.likely - weighed.likely.max())
        parts /= parts.sum()
        # residual variances as parts of that of the fit
        sizes = parts * weighed.rss / fit.dof / fit.residual_sd**2
        known, added = Powers(_POWERS, sizes), weighed.added / fit.residual_sd
        unscaled = np.zeros_like(fit.spread)
        unscaled[np.ix_(free, free)] = np.einsum("k,kij->ij", sizes, weighed.inverse) + np.einsum(
            "k,ki,kj->ij", parts, added, added
        )
    turn = fit.by.turned(fit)
    said = significant(max(scatter.power, 0.0), 2) if abs(scatter.power) > 5e-3 else "0"
    said = f"−{significant(-scatter.power, 2)}" if scatter.power < -5e-3 else said
    return evolve(
        fit, scatter=evolve(scatter, known=known), unscaled=turn @ unscaled @ turn.T,
        inner_unscaled=unscaled if fit.inner_unscaled is not None else None,
        notes=(*fit.notes, f"The scatter was found to grow as y to the power {said}."),
    )  # fmt: skip
