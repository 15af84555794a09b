"""Exponential, power law and Arrhenius form as straight lines through logarithms.

ln y = ln a + k · x and its like: the sum of squares is that of ln y, so each reading counts by its
ratio to the curve and R² is of ln y. The intervals follow from those of the line and are not
symmetric about the curve.
"""

import math
from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.text import plural
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample, Setting
from sornix.core.trends.fits.told import Bands
from sornix.core.trends.models.byformula import ByFormula
from sornix.core.trends.models.line import LINE
from sornix.core.trends.models.shapes import SHAPES


class _Turn(NamedTuple):
    """How a shape becomes a line: what is along, the parameter that is its slope, and by what that
    is multiplied."""

    along: Callable[[Floats], Floats]
    slope: str
    sign: float = 1.0
    rising_x: bool = False


_TURNS: Mapping[str, _Turn] = MappingProxyType(
    {
        "exponential": _Turn(lambda x: x, "k"),
        "power": _Turn(np.log, "p", rising_x=True),
        "arrhenius": _Turn(lambda x: 1 / x, "b", -1.0, rising_x=True),
    }
)


class OnLogs(ByFormula):
    """A shape fitted to the logarithms of y; see the module."""

    method = "least squares on the logarithms of y"

    def __init__(self, base: ByFormula) -> None:
        super().__init__(
            base.name,
            f"{base.words} on logarithms",
            base.formula,
            base.meanings,
            origin=base.origin,
        )
        self._base = base
        self._turn = _TURNS[base.name]

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        way.checked(self.names, self._base.words)
        self._base.check_unit(sample)
        (sample,) = self.counted([sample])
        turn = self._turn
        usable = sample.y > 0
        if turn.rising_x:
            usable &= sample.x > 0
        notes = []
        without = int(sample.n - usable.sum())
        if without:
            has = "has" if without == 1 else "have"
            was = "was" if without == 1 else "were"
            notes.append(
                f"{plural(without, 'reading')} at or below 0 {has} no logarithm and {was} left out."
            )
        seen = sample.some(usable)
        x, y = seen.x, seen.y
        if len(x) < 2:
            raise TrendImpossible(
                "Fewer than 2 readings have a logarithm.", remedy="Fit the readings themselves."
            )
        if seen.weights is not None:
            weights = seen.weights * y * y
            seen = evolve(seen, weights=weights / weights.mean())
        on_line = Sample(turn.along(x), np.log(y), seen.rows, weights=seen.weights)
        line = LINE.fit(on_line, self._on_line(way))
        with np.errstate(over="ignore"):
            level = float(np.exp(line.values[0]))
        if not math.isfinite(level) or not level:
            raise TrendImpossible(
                "The value at 0 is beyond all numbers.", remedy="Give x from another origin."
            )
        change = np.diag([level, turn.sign])
        with np.errstate(over="ignore", invalid="ignore"):
            spread = change @ line.unscaled @ change
        held = {"intercept": "a", "slope": turn.slope}
        return Fit(
            self, self.names, (level, line.values[1] * turn.sign), self._base.units(sample),
            spread, seen, line.residuals, line.rss, line.tss,
            notes=(*notes, *line.notes), held=frozenset(held[name] for name in line.held),
            centre=line.centre, inner=line.inner, inner_unscaled=line.inner_unscaled, on_logs=True,
        )  # fmt: skip

    def _on_line(self, way: ParameterConstraints) -> ParameterConstraints:
        """What is asked of the parameters, of the line."""

        def turned(setting: Setting) -> Setting:
            ends = [setting.held, setting.low, setting.high]
            if setting.name != "a":
                ends = [None if v is None else v * self._turn.sign for v in ends]
                if self._turn.sign < 0:
                    ends[1:] = ends[:0:-1]
                return Setting("slope", *ends)
            if any(v is not None and v <= 0 for v in (setting.held, setting.high)):
                raise TrendImpossible("On logarithms, a is above 0.")
            logs = [None if v is None or v <= 0 else math.log(v) for v in ends]
            return Setting("intercept", *logs)

        return ParameterConstraints(tuple(turned(setting) for setting in way.settings))

    def gradient(self, fit: Fit, x: Floats) -> Floats:
        """Of ln y."""
        with np.errstate(all="ignore"):
            return np.vander(self._turn.along(x) - fit.centre, 2, increasing=True)

    def even(self, fit: Fit) -> Floats:
        return np.array([[1.0, -fit.centre], [0.0, self._turn.sign]])

    def around(self, value: Floats, mean: Floats, single: Floats) -> Bands:
        # what is 0 times more than there are numbers is not known
        with np.errstate(over="ignore", invalid="ignore"):
            sides = [(value * np.exp(-half), value * np.exp(half)) for half in (mean, single)]
        return Bands(value, sides[0], sides[1])

    def interval(self, fit: Fit, name: str, half: float) -> tuple[float, float]:
        value = fit.value(name)
        if name != "a":
            return value - half, value + half
        factor = math.exp(min(half / value, 700.0))
        return value / factor, value * factor


# The shapes that can be fitted to logarithms, by the names of their models.
LOGGED: Mapping[str, OnLogs] = MappingProxyType(
    {shape.name: OnLogs(shape) for shape in SHAPES if shape.name in _TURNS}
)
