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
    """What a power of _POWERS makes of readings: the logarithm of how likely it is, what it adds
    to the free parameters (q,), the inverse of XᵀWX (q, q), and the sum of squares."""

    likely: float
    added: Floats
    inverse: Floats
    rss: float


def _weighed(fit: Fit, logs: Floats) -> list[_Weighed]:
    """Each power of _POWERS in the tangent plane of a fit, for readings whose heights have these
    logarithms; none where the readings tell nothing of it."""
    slopes, _ = _slopes(fit)
    scale = np.linalg.norm(slopes, axis=0)
    scale = np.where(scale > 0, scale, 1.0)
    n, q = slopes.shape
    found = []
    for power in _POWERS:
        roots = np.exp(-power * logs)
        basis, triangle = np.linalg.qr(slopes / scale * roots[:, None])
        rest = fit.residuals * roots
        along = basis.T @ rest
        left = rest - basis @ along
        rss = float(left @ left)
        size = np.abs(np.diag(triangle))
        if not rss > 0 or not size.all():
            return []
        likely = (
            -(n - q) / 2 * math.log(rss) - power * float(logs.sum()) - float(np.log(size).sum())
        )
        back = np.linalg.inv(triangle) / scale[:, None]
        found.append(_Weighed(likely - _FALLS * float(power), back @ along, back @ back.T, rss))
    return found


def _likeliest(fit: Fit, logs: Floats) -> float:
    """The likeliest power, for readings whose heights have these logarithms."""
    found = [one.likely for one in _weighed(fit, logs)]
    if not found:
        return 0.0
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
    of_each, known, unscaled = _weighed(fit, scatter.logs(fit.fitted)), None, fit.spread
    if of_each:
        _, free = _slopes(fit)
        likely = np.array([one.likely for one in of_each])
        parts = np.exp(likely - likely.max())
        parts /= parts.sum()
        # residual variances as parts of that of the fit
        sizes = np.array([one.rss for one in of_each]) / fit.dof / fit.residual_sd**2
        known = Powers(_POWERS, parts * sizes)
        inverses = np.array([one.inverse for one in of_each])
        added = np.array([one.added for one in of_each]) / fit.residual_sd
        unscaled = np.zeros_like(fit.spread)
        unscaled[np.ix_(free, free)] = np.einsum("k,kij->ij", parts * sizes, inverses) + np.einsum(
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
