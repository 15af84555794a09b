"""Shapes of 1/x that are fitted about a middle, such as the Arrhenius form.

a·exp(−b/x) of a high temperature of activation has an `a` of a hundred powers of ten, far from all
readings, and nothing is determined but their product. So a'·exp(−b (1/x − 1/x₀)) is fitted, with x₀
the harmonic mean of x; a = a'·exp(b/x₀), and its variance follows from those of the two.
"""

import math

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample
from sornix.core.trends.models.byformula import ByFormula

# Units of temperature whose 0 is not that of temperature.
_FROM_ELSEWHERE = ("°C", "℃", "degC", "C", "celsius", "°F", "℉", "degF", "fahrenheit")


class AboutMiddle(ByFormula):
    """A shape a * exp(-b / x); see the module."""

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        way.checked(self.names, self.words)
        self.check_unit(sample)
        ends = {s.name for s in way.settings if (s.held, s.low, s.high) != (None, None, None)}
        if "a" in ends or not sample.n or not (sample.x != 0).all():
            return super().fit(sample, way)
        per_middle = float((1 / sample.x).mean())
        about = ByFormula(
            self.name, self.words, f"a * exp(-b * (1 / x - {per_middle!r}))", self.meanings,
            self._grid, self._units,
        )  # fmt: skip
        # a is solved for, wherever it begins
        settings = tuple(s for s in way.settings if s.name != "a")
        found = about.fit(sample, evolve(way, settings=settings))
        a, b = found.values
        with np.errstate(all="ignore"):
            factor = float(np.exp(b * per_middle))
            change = np.array([[factor, a * factor * per_middle], [0.0, 1.0]])
            whole = a * factor
            unscaled = change @ found.unscaled @ change.T
        if not math.isfinite(whole) or (not whole and a):
            raise TrendImpossible(
                "The value at infinite x is beyond all numbers.",
                remedy="Give x in another unit, or fit another shape.",
            )
        if not np.isfinite(unscaled).all():
            # a number with a hundred digits has a square beyond all numbers
            unscaled[~np.isfinite(unscaled)] = math.inf
        return evolve(
            found, by=self, values=(whole, b), unscaled=unscaled, centre=per_middle,
            inner=found.values, inner_unscaled=found.unscaled,
            ends95={n: ends for n, ends in found.ends95.items() if n == "b"},
        )  # fmt: skip

    def check_unit(self, sample: Sample) -> None:
        if sample.x_unit in _FROM_ELSEWHERE:
            raise TrendImpossible(
                f"An {self.words} counts temperatures from absolute zero, and x is in "
                f"{sample.x_unit}.",
                remedy="Convert x to K.",
            )

    def interval(self, fit: Fit, name: str, half: float) -> tuple[float, float]:
        value = fit.value(name)
        if name != "a" or not fit.inner or not value:
            return super().interval(fit, name, half)
        # it is ln a that the readings tell
        factor = math.exp(min(half / abs(value), 700.0))
        ends = sorted((value / factor, value * factor))
        return ends[0], ends[1]

    def turned(self, fit: Fit) -> Floats:
        if not fit.inner:
            return super().turned(fit)
        factor = math.exp(min(fit.inner[1] * fit.centre, 700.0))
        return np.array([[factor, fit.inner[0] * factor * fit.centre], [0.0, 1.0]])

    def even(self, fit: Fit) -> Floats:
        if not fit.inner:
            return super().even(fit)
        return np.array([[1 / fit.inner[0], fit.centre], [0.0, 1.0]])

    def run(self, fit: Fit, x: Floats, moved: Floats | None = None) -> list[Floats]:
        if not fit.inner:
            return super().run(fit, x, moved)
        a, b = fit.inner if moved is None else (fit.inner + moved).T[..., None]
        with np.errstate(all="ignore"):
            away = 1 / x - fit.centre
            part = np.exp(-b * away)
            return [a * part, part, -a * away * part]
