"""One model through several series at once, some of its parameters the same for all of them."""

import math
from collections.abc import Sequence

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.text import as_subject, plural
from sornix.core.trends.fits.counting import AS_IT_IS, Counting
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.sample import Floats, ParameterConstraints, Sample, about_mean
from sornix.core.trends.models.byformula import ByFormula
from sornix.core.trends.search.descent import Curve, descend

Places = NDArray[np.intp]


def fit_shared(
    model: Model, samples: Sequence[Sample], shared: Sequence[str], begun: Sequence[Fit] = ()
) -> list[Fit]:
    """The fits of one model to each sample, with the parameters named in `shared` in common; the
    variance of a reading is taken to be the same in all. The search begins where those `begun`
    have ended, if there are any. Raises TrendImpossible."""
    names = model.names
    unknown = [name for name in shared if name not in names]
    if unknown or not model.formula or model.name.startswith("polynomial"):
        which = f" {unknown[0]}" if unknown else ""
        none = as_subject(model.words, "has no", "have no", known=True)
        raise TrendImpossible(f"{none} parameter{which} that can be shared.")
    for sample in samples:
        sample.need_squares()
    own = [name for name in names if name not in shared]
    layout = _layout(names, shared, len(samples))
    count = len(shared) + len(own) * len(samples)
    total = sum(sample.n for sample in samples)
    if total < count:
        raise TrendImpossible(
            f"These {len(samples)} curves have {plural(count, 'parameter')} together, and there "
            f"are {total} readings."
        )
    read = samples
    if isinstance(model, ByFormula):
        samples = model.counted(samples)
    curve, y = _curve(model, samples, layout, count)
    alone = list(begun) or [
        model.fit(sample, ParameterConstraints(quick=True)) for sample in samples
    ]
    starts = _starts(model, shared, alone, layout, samples[0].along if begun else AS_IT_IS)
    with np.errstate(all="ignore"):
        found = descend(curve, y, starts)
    if found is None:
        raise TrendImpossible(f"No {model.words} could be put through all these series.")
    dof = total - count
    variance = found.rss / dof if dof > 0 else None
    fits: list[Fit] = []
    begin = 0
    listed = ", ".join(shared)
    for sample, places, own_fit in zip(samples, layout, alone, strict=True):
        rest = found.residuals[begin : begin + sample.n]
        if sample.roots is not None:
            rest = rest / sample.roots
        begin += sample.n
        weights = np.ones(sample.n) if sample.weights is None else sample.weights
        values = tuple(found.values[places].tolist())
        spread = found.unscaled[np.ix_(places, places)]
        fit = Fit(
            model, names, values, own_fit.units, spread, sample, rest,
            math.fsum((weights * rest**2).tolist()), about_mean(sample), iterations=found.steps,
            converged=found.converged, own_dof=dof, own_variance=variance,
            own_method=f"least squares with {listed} in common",
        )  # fmt: skip
        # of a line, what it is drawn from
        fits.append(evolve(fit, inner=values, inner_unscaled=spread) if model.straight else fit)
    if isinstance(model, ByFormula) and samples[0] is not read[0]:
        return [model.put_back(fit, sample) for fit, sample in zip(fits, read, strict=True)]
    return fits


def _starts(
    model: Model, shared: Sequence[str], alone: Sequence[Fit], layout: Sequence[Places],
    along: Counting,
) -> list[Floats]:  # fmt: skip
    """Where to begin: with the parameters of each fit, and those in common of one after the other;
    `along` counts a place that was put back among x."""
    known = np.array([fit.values for fit in alone])
    if model.origin in model.names:
        place = model.names.index(model.origin)
        known[:, place] = along.count(known[:, place])
    start = np.empty(max(places.max() for places in layout) + 1)
    for values, places in zip(known, layout, strict=True):
        start[places] = values
    in_common = [model.names.index(name) for name in shared]
    starts = []
    for one in known:
        start[layout[0][in_common]] = one[in_common]
        starts.append(start.copy())
    return starts


def _curve(
    model: Model, samples: Sequence[Sample], layout: Sequence[Places], count: int
) -> tuple[Curve, Floats]:
    """What the descent of all curves together goes down, and the readings it goes by."""
    names = model.names
    total = sum(sample.n for sample in samples)
    parts = ByFormula(model.name, model.words, model.formula, dict.fromkeys(names, "")).parts
    roots = np.concatenate([np.ones(s.n) if s.roots is None else s.roots for s in samples])
    y = np.concatenate([sample.y for sample in samples]) * roots

    def at(values: Floats) -> tuple[Floats, Floats]:
        fitted, columns = np.empty(total), np.zeros((total, count))
        begin = 0
        for sample, places in zip(samples, layout, strict=True):
            known = dict(zip(names, values[places].tolist(), strict=True))
            whole, *slopes = parts.program.run(known | {"x": sample.x}, sample.n)
            rows = slice(begin, begin + sample.n)
            fitted[rows] = whole
            columns[rows, places] = np.column_stack(slopes)
            begin += sample.n
        return fitted * roots, columns * roots[:, None]

    straight = np.zeros(count, dtype=bool)
    for places in layout:
        straight[places] = [name in parts.straight for name in names]
    low, high = np.full(count, -np.inf), np.full(count, np.inf)
    return Curve(at, straight, low, high), y


def _layout(names: Sequence[str], shared: Sequence[str], count: int) -> list[Places]:
    """Where the parameters of each curve stand among all of them, the shared ones first."""
    own = [name for name in names if name not in shared]
    return [
        np.array([shared.index(name) if name in shared else
                  len(shared) + len(own) * i + own.index(name) for name in names])
        for i in range(count)
    ]  # fmt: skip
