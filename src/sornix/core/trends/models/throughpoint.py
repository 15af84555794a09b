"""Lines through a fixed point: polynomials whose b0 is held at it."""

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fits.equation import Equation, Printing, as_typed, polynomial_runs
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample
from sornix.core.trends.models.polynomial import Polynomial
from sornix.core.trends.models.rational import as_fraction


class ThroughPoint(Polynomial):
    """A line through a fixed point: the origin unless it is held elsewhere as `x0`, `y0`."""

    def __init__(self, name: str, words: str, *, elsewhere: bool) -> None:
        super().__init__(1, name, words)
        self._elsewhere = elsewhere
        if elsewhere:
            self.meanings = {"x0": "x of the point", "y0": "y of the point"}

    @property
    def names(self) -> tuple[str, ...]:
        return ("x0", "y0", "slope") if self._elsewhere else ("slope",)

    @property
    def formula(self) -> str:
        return "y0 + slope * (x - x0)" if self._elsewhere else "slope * x"

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        way.checked(self.names, self.words)
        point = {"x0": 0.0, "y0": 0.0} | {n: v for n, v in way.held.items() if n != "slope"}
        if "slope" in way.held or way.bounds:
            raise TrendImpossible("The slope is all that is fitted here, so it cannot be held.")
        centre = as_fraction(point["x0"])
        found = self.solved(sample, {0: as_fraction(point["y0"])}, centre, in_turn=way.quick)
        kept = np.zeros((len(self.names),) * 2)
        kept[-1, -1] = found.unscaled[1, 1]
        values = (point["x0"], point["y0"], found.values[1])
        units = (sample.x_unit, sample.y_unit, found.units[1])
        held = frozenset(point) if self._elsewhere else frozenset()
        return evolve(
            found, names=self.names, values=values[-len(self.names) :],
            units=units[-len(self.names) :], unscaled=kept, held=held,
        )  # fmt: skip

    def turned(self, fit: Fit) -> Floats:
        found = np.zeros((len(fit.names), 2))
        found[-1, 1] = 1.0
        return found

    def equation(self, fit: Fit, asked: Printing) -> Equation:
        symbols, drawn, tolerance, units = asked
        spread = np.diag([0.0, float(fit.unscaled[-1, -1])])
        inner = self.printed(fit, fit.inner, spread, fit.centre, drawn, tolerance)
        centre = as_typed(fit.centre) if fit.centre else None
        of = (fit.sample.y_unit, fit.units[-1]) if units else ()
        return Equation(polynomial_runs(symbols, inner, centre, of), inner)

    def holds(self, _fit: Fit, power: int) -> bool:
        return power == 0


ORIGIN = ThroughPoint("line-through-origin", "line through 0", elsewhere=False)
THROUGH = ThroughPoint("line-through-point", "line through a fixed point", elsewhere=True)
