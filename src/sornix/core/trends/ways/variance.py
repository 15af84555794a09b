"""Weights from how readings scatter about the curve itself.

The standard deviation of a reading is taken to be proportional to a power of the height of the
curve there: power 0 is a constant scatter, 1 a constant percentage, 1/2 that of counts. Weights are
worked out from the curve, not from the readings, and curve and weights in turn until both rest (R.
J. Carroll and D. Ruppert, "Transformation and Weighting in Regression", 1988, chapter 2): a reading
that happens to be low would otherwise weigh too much.

Where the power is not given it is estimated by restricted maximum likelihood (H. D. Patterson and
R. Thompson, Biometrika 58 (1971) 545–554). The covariance is then that of M. G. Kenward and J. H.
Roger (Biometrics 53 (1997) 983–997), which counts how uncertain the power itself is, and the
degrees of freedom of each interval are those of F. E. Satterthwaite (Biometrics Bulletin 2 (1946)
110–114), as there; for curves, in the tangent plane.
"""

import math

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.patience import go_on
from sornix.core.text import significant
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample
from sornix.core.trends.fits.scatter import Scatter, Uncertainty

# Powers that are tried; between the best and its neighbours by a parabola.
_POWERS = np.linspace(-0.5, 2.0, 51)
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


def _likeliest(fit: Fit, logs: Floats) -> float:
    """The power of the greatest restricted likelihood, for readings whose heights have these
    logarithms."""
    slopes, _ = _slopes(fit)
    scale = np.linalg.norm(slopes, axis=0)
    slopes = slopes / np.where(scale > 0, scale, 1.0)
    n, q = slopes.shape
    found = []
    for power in _POWERS:
        roots = np.exp(-power * logs)
        columns, rest = slopes * roots[:, None], fit.residuals * roots
        triangle = np.linalg.qr(columns, mode="r")
        left = rest - columns @ np.linalg.lstsq(columns, rest, rcond=None)[0]
        rss = float(left @ left)
        size = np.abs(np.diag(triangle))
        if not rss > 0 or not size.all():
            return 0.0
        found.append(
            -(n - q) / 2 * math.log(rss) - power * float(logs.sum()) - float(np.log(size).sum())
        )
    best = int(np.argmax(found))
    if best in (0, len(found) - 1):
        return float(_POWERS[best])
    low, middle, high = found[best - 1 : best + 2]
    curved = low - 2 * middle + high
    step = float(_POWERS[1] - _POWERS[0])
    return float(_POWERS[best]) + (step * (low - high) / (2 * curved) if curved else 0.0)


def _with_uncertainty(fit: Fit, scatter: Scatter) -> Fit:
    """The fit with the covariance and the degrees of freedom that an estimated power leaves."""
    slopes, free = _slopes(fit)
    assert fit.residual_sd is not None
    logs = scatter.logs(fit.fitted)
    variance = fit.residual_sd**2
    own = variance * np.exp(2 * scatter.power * logs)
    # derivatives of the variances by residual variance and power, and those of these
    first = np.array([own / variance, 2 * logs * own])
    second = np.array([[0 * own, 2 * logs * own / variance],
                       [2 * logs * own / variance, 4 * logs**2 * own]])  # fmt: skip
    inner = fit.spread[np.ix_(free, free)] * variance
    rises = -np.einsum("ni,qn,nj->qij", slopes, first / own**2, slopes)
    pairs = first[:, None] * first[None, :]
    twice = np.einsum("ni,qrn,nj->qrij", slopes, pairs / own**3, slopes)
    bent = np.einsum("ni,qrn,nj->qrij", slopes, second / own**2, slopes)
    turned = np.einsum("qij,jk,rkl->qril", rises, inner, rises)
    traces = 2 * np.einsum("ij,qrji->qr", inner, twice) - np.einsum("ij,qrji->qr", inner, turned)
    information = ((pairs / own**2).sum(axis=-1) - traces) / 2
    of_two = np.linalg.pinv(information, hermitian=True)
    more = np.einsum("qr,qrij->ij", of_two, twice - turned - bent / 4)
    adjusted = inner + 2 * inner @ more @ inner
    # a correction that would take away what is certain is none
    if not (np.diag(adjusted) >= np.diag(inner)).all():
        adjusted = inner
    whole = np.zeros_like(fit.spread)
    whole[np.ix_(free, free)] = adjusted / variance
    known = Uncertainty(free, inner, rises, of_two, variance)
    turn = fit.by.turned(fit)
    said = significant(max(scatter.power, 0.0), 2) if abs(scatter.power) > 5e-3 else "0"
    said = f"−{significant(-scatter.power, 2)}" if scatter.power < -5e-3 else said
    return evolve(
        fit, scatter=evolve(scatter, uncertainty=known), unscaled=turn @ whole @ turn.T,
        inner_unscaled=whole if fit.inner_unscaled is not None else None,
        notes=(*fit.notes, f"The scatter was found to grow as y to the power {said}."),
    )  # fmt: skip
