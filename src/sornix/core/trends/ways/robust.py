"""Fits that a few wild readings do not pull away.

Weights that fall where residuals are large are found in turns (iteratively reweighted least
squares): P. J. Huber, Annals of Mathematical Statistics 35 (1964) 73–101, with k = 1.345, and the
bisquare of A. E. Beaton and J. W. Tukey, Technometrics 16 (1974) 147–185, with c = 4.685, begun at
Huber's. The scale is the median absolute residual / 0.6745. Standard errors are the asymptotic ones
of P. J. Huber, "Robust Statistics" (1981), equation 6.5 of chapter 7.
"""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.patience import go_on
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.model import METHODS
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample, about_mean

_MOST_TURNS = 60


class Loss(NamedTuple):
    """A way to count residuals of u scales: the weight of each, and the derivative of
    weight · u."""

    weight: Callable[[Floats], Floats]
    slope: Callable[[Floats], Floats]


def _huber(u: Floats) -> Floats:
    found: Floats = 1.345 / np.maximum(np.abs(u), 1.345)
    return found


def _tukey(u: Floats) -> Floats:
    found: Floats = np.clip(1 - (u / 4.685) ** 2, 0, None) ** 2
    return found


def _tukey_slope(u: Floats) -> Floats:
    inside = np.clip(1 - (u / 4.685) ** 2, 0, None)
    found: Floats = inside * (1 - 5 * (u / 4.685) ** 2)
    return found


LOSSES: Mapping[str, Loss] = MappingProxyType(
    {
        "huber": Loss(_huber, lambda u: (np.abs(u) <= 1.345).astype(np.float64)),
        "tukey": Loss(_tukey, _tukey_slope),
    }
)


def fit_robust(
    model: Model, sample: Sample, way: ParameterConstraints = PLAIN, loss: str = "huber"
) -> Fit:
    """A model through readings by a loss of LOSSES. Raises TrendImpossible."""
    way = evolve(way, quick=True)
    first = found = model.fit(sample, way)
    # those readings that have a logarithm, where it is fitted, and how they weigh there
    base = first.sample
    prior = np.ones(base.n) if base.weights is None else base.weights
    per = base.y**-2.0 if first.on_logs else 1.0
    turns = 0
    u, scale = _scaled(found, prior)
    for name in dict.fromkeys(("huber", loss)):
        before = found.values
        for _ in range(_MOST_TURNS):
            if not scale:
                break
            go_on()
            turns += 1
            heavy = prior * LOSSES[name].weight(u)
            found = model.fit(evolve(base, weights=heavy * per), way.begun_at(found.known))
            u, scale = _scaled(found, prior)
            moved = np.abs(np.subtract(found.values, before))
            before = found.values
            if (moved <= 1e-9 * (np.abs(before) + 1e-300)).all():
                break
    notes = dict.fromkeys((*first.notes, *found.notes))
    found = evolve(found, notes=tuple(notes), sample=base)
    return _told(found, prior, u, scale, loss, turns)


def _scaled(fit: Fit, prior: Floats) -> tuple[Floats, float]:
    """Residuals as multiples of the scale, and the scale."""
    rest = fit.residuals * np.sqrt(prior)
    scale = float(np.median(np.abs(rest))) / 0.6745
    return rest / (scale or 1.0), scale


def asymptotic_variance(u: Floats, scale: Floats, loss: Loss, free: int) -> Floats:
    """The variance that takes the place of the residual one, shape (b,), from residuals of b fits
    with so many free parameters as multiples `u` (b, n) of their scales (b,); see the module."""
    n = u.shape[1]
    slope = loss.slope(u)
    mean = slope.mean(axis=1)
    correction = 1 + free / n * slope.var(axis=1) / mean**2
    psi = ((loss.weight(u) * u) ** 2).sum(axis=1) / (n - free)
    found: Floats = (scale * correction / mean) ** 2 * psi
    return found


def _told(found: Fit, prior: Floats, u: Floats, scale: float, name: str, turns: int) -> Fit:
    """The outcome with the statistics of all readings, whatever they weighed in the end."""
    loss, words, sample = LOSSES[name], METHODS[name], found.sample
    rss = float((prior * found.residuals**2).sum())
    weights = loss.weight(u)
    light = int((weights < 0.2).sum())
    notes = [f"{light} of {found.n} readings weigh less than a fifth of the others."] * bool(light)
    variance = None
    if found.dof > 0 and scale:
        variance = float(asymptotic_variance(u[None], np.array([scale]), loss, found.free)[0])
    # covariances were those of the weights at the end; these are those of the readings
    part = 1.0 if found.on_logs else float((prior * weights).sum() / prior.sum())
    on_scale = evolve(sample, y=np.log(sample.y)) if found.on_logs else sample
    return evolve(
        found, rss=rss, tss=about_mean(on_scale), level=None, r=None,
        iterations=turns, own_variance=variance, own_method=f"{words} least squares", loss=name,
        unscaled=found.unscaled * part,
        inner_unscaled=None if found.inner_unscaled is None else found.inner_unscaled * part,
        notes=(*found.notes, *notes),
    )  # fmt: skip
