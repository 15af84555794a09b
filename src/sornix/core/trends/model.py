"""What every model of a trend answers, and the table of models."""

from collections.abc import Iterable, Mapping
from typing import Protocol

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.trends.equation import Equation, Printing
from sornix.core.trends.fit import Bands, Fit
from sornix.core.trends.sample import PLAIN, Ends, Floats, Sample, Way


class Model(Protocol):
    """A model. `name` is its name in commands, `words` its words in statements, `formula` it in our
    grammar with `names` as its parameters, "" for a smoother; `meanings` say what these are;
    `origin` says what comes of it where x is far from 0 (see ByFormula)."""

    name: str
    words: str
    method: str
    origin: str

    @property
    def formula(self) -> str: ...

    @property
    def straight(self) -> bool:
        """Whether it is a straight line on linear scales."""
        ...

    @property
    def names(self) -> tuple[str, ...]: ...

    @property
    def meanings(self) -> Mapping[str, str]: ...

    def fit(self, sample: Sample, way: Way = PLAIN) -> Fit:
        """Least squares through readings. Raises TrendImpossible."""
        ...

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        """The trend at `x`, any shape, counted as the sample of the fit is."""
        ...

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        """How the trend at `x` (k,) changes with the parameters of `fit.spread`, shape (k, p)."""
        ...

    def at_readings(self, fit: Fit) -> Floats:
        """The gradient at each reading, shape (n, p)."""
        ...

    def turned(self, fit: Fit) -> Floats:
        """How the parameters of `fit` change with those of `fit.spread`, shape (p, q)."""
        ...

    def even(self, fit: Fit) -> Floats:
        """As `turned`, but for parameters whose intervals are not even of their logarithms."""
        ...

    def around(self, value: Floats, mean: Floats, single: Floats) -> Bands:
        """Values of the trend (k,) with half widths as intervals about them."""
        ...

    def interval(self, fit: Fit, name: str, half: float) -> tuple[float, float]:
        """The interval of a parameter from its half width."""
        ...

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        """See Fit.equation."""
        ...


class Symmetric:
    """Intervals that reach as far up as down: those of every fit to the readings themselves."""

    origin = ""

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
    model: Model, sample: Sample, way: Way, names: Iterable[str], known: Mapping[str, float]
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


MODELS: dict[str, Model] = {}
