"""How readings scatter where they weigh by the height of the curve, and how sure that is."""

import numpy as np
from attrs import frozen
from numpy.typing import NDArray

from sornix.core.trends.fits.sample import Floats


@frozen(eq=False)
class Uncertainty:
    """What follows from an estimated power. `free` (p,) tells the parameters that were fitted (q of
    them), `covariance` (q, q) is that of these if variance and power were known, `rises` (2, q, q)
    says how their information changes with the residual variance and the power, `own` (2, 2) is the
    covariance of these two, and `variance` the residual variance."""

    free: NDArray[np.bool_]
    covariance: Floats
    rises: Floats
    own: Floats
    variance: float

    def dof(self, slopes: Floats, reading: Floats | None = None) -> Floats:
        """Degrees of freedom of the variance of gᵀβ, for rows g (k, p); with a reading's own
        variance, which is so many times the residual one and changes so with the power, in rows
        `reading` (k, 2)."""
        rows = slopes[:, self.free]
        lean = rows @ self.covariance
        change = -np.einsum("ki,qij,kj->kq", lean, self.rises, lean)
        whole = np.einsum("ki,ki->k", lean, rows)
        if reading is not None:
            change = change + reading
            whole = whole + reading[:, 0] * self.variance
        spread = np.einsum("kq,qr,kr->k", change, self.own, change)
        with np.errstate(divide="ignore", invalid="ignore"):
            found = 2 * whole**2 / spread
        kept: Floats = np.clip(np.nan_to_num(found, nan=1.0, posinf=1e9), 1.0, 1e9)
        return kept


@frozen(eq=False)
class Scatter:
    """How readings scatter: with an SD proportional to |y|^power, of heights of at least `least`;
    a weight is 1 where the logarithm of the height is `centre`."""

    power: float
    least: float
    centre: float
    uncertainty: Uncertainty | None = None

    def logs(self, height: Floats) -> Floats:
        """Logarithms of heights of the curve, shape (k,), from the centre."""
        found: Floats = np.log(np.maximum(np.abs(height), self.least)) - self.centre
        return found

    def relative(self, height: Floats) -> Floats:
        """The variance of a reading at heights of the curve (k,), as a multiple of the residual
        variance."""
        found: Floats = np.exp(2 * self.power * self.logs(height))
        return found
