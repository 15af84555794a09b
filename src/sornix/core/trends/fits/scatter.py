"""How readings scatter where they weigh by the height of the curve."""

import numpy as np

from sornix.core.frozen import frozen
from sornix.core.trends.fits.sample import Floats


@frozen(eq=False)
class Powers:
    """Powers (k,) by which readings may scatter, and the residual variance of each times how
    likely it is (k,), as a part of the residual variance of the fit."""

    powers: Floats
    parts: Floats


@frozen(eq=False)
class Scatter:
    """How readings scatter: with an SD proportional to |y|^power, of heights of at least `least`;
    a weight is 1 where the logarithm of the height is `centre`. `known` is what the readings tell
    of a power that was not given."""

    power: float
    least: float
    centre: float
    known: Powers | None = None

    def logs(self, height: Floats) -> Floats:
        """Logarithms of heights of the curve, shape (k,), from the centre."""
        found: Floats = np.log(np.maximum(np.abs(height), self.least)) - self.centre
        return found

    def relative(self, height: Floats) -> Floats:
        """The variance of a reading at heights of the curve (k,), as a multiple of the residual
        variance."""
        found: Floats = np.exp(2 * self.power * self.logs(height))
        return found

    def expected(self, height: Floats) -> Floats:
        """The same, as far as is known of the power."""
        if self.known is None:
            return self.relative(height)
        found: Floats = (
            np.exp(2 * np.outer(self.logs(height), self.known.powers)) @ self.known.parts
        )
        return found
