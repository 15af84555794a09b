"""What every model of a trend answers, and the table of models."""

from collections.abc import Iterable, Mapping
from types import MappingProxyType

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fits.fit import Fit, Model
from sornix.core.trends.fits.sample import Ends, Floats, ParameterConstraints, Sample
from sornix.core.trends.fits.told import Bands


class Symmetric:
    """Intervals that reach as far up as down: those of every fit to the readings themselves."""

    origin = group = ""
    in_several = errors_in_both = False
    usual_width, width_unit = 0.0, ""

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        raise NotImplementedError

    def at_readings(self, fit: Fit) -> Floats:
        return self.gradient(fit, fit.sample.x)

    def turned(self, fit: Fit) -> Floats:
        return np.eye(len(fit.names))

    def even(self, fit: Fit) -> Floats:
        return self.turned(fit)

    def around(self, value: Floats, mean: Floats, single: Floats) -> Bands:
        # far from the readings there may be no number any more
        with np.errstate(over="ignore", invalid="ignore"):
            return Bands(value, (value - mean, value + mean), (value - single, value + single))

    def interval(self, fit: Fit, name: str, half: float) -> tuple[float, float]:
        value = fit.value(name)
        return value - half, value + half


def at_ends(
    model: Model,
    sample: Sample,
    way: ParameterConstraints,
    names: Iterable[str],
    known: Mapping[str, float],
) -> dict[str, Ends]:
    """The 95 % intervals of parameters that are at one of their ends, where there are any: those of
    the fit without these ends, as far as they lie between them."""
    found = {}
    for name in names:
        low, high = way.bounds[name]
        try:
            free = model.fit(sample, way.without_ends(name).begun_at(known))
        except TrendImpossible:
            continue
        (parameter,) = (p for p in free.parameters if p.name == name)
        if parameter.ci95 is None or free.loose:
            continue
        inside = [min(max(end, low), high) for end in parameter.ci95]
        found[name] = min(inside[0], known[name]), max(inside[1], known[name])
    return found


# How residuals count, by name; those of trends.ways.robust.LOSSES besides the first.
METHODS: Mapping[str, str] = MappingProxyType(
    {
        "least-squares": "least squares",
        "huber": "robust (Huber)",
        "tukey": "robust (Tukey’s bisquare)",
    }
)
# The models by name, as sornix.core.trends lists them.
MODELS: dict[str, Model] = {}
