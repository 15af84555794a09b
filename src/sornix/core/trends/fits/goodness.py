"""How near a trend is to its readings."""

import math
from functools import cached_property

import numpy as np

from sornix.core.readings.tables.column import ends_of, largest_of
from sornix.core.trends.fits.sample import Floats, Sample, about_mean

# among so many readings others are looked for that are as far from the trend
_MOST_ALIKE = 100_000


class Goodness:
    """What follows from the residuals of a fit and their sums of squares: see Fit."""

    names: tuple[str, ...]
    sample: Sample
    residuals: Floats
    rss: float
    tss: float
    held: frozenset[str]
    level: float | None
    own_dof: float | None
    own_variance: float | None
    on_logs: bool

    @property
    def y(self) -> Floats:
        return self.sample.y

    @property
    def n(self) -> int:
        return self.sample.n

    @property
    def free(self) -> int:
        """How many parameters were fitted."""
        return len(self.names) - len(self.held)

    @property
    def dof(self) -> float:
        """Degrees of freedom: readings less fitted parameters."""
        return self.n - self.free if self.own_dof is None else self.own_dof

    @cached_property
    def grain(self) -> float:
        """What rounding alone leaves of residuals; less than this is nothing."""
        ends = np.array(ends_of(self.y) if self.n else (0.0, 0.0))
        size = float(np.abs(np.log(ends) if self.on_logs and self.n else ends).max())
        return 4 * float(np.finfo(float).eps) * size

    @cached_property
    def is_exact(self) -> bool:
        """Whether the trend goes through all readings, but for rounding."""
        return bool(self.n == 0 or abs(self.residuals[self._farthest]) <= self.grain)

    @cached_property
    def largest(self) -> int:
        """The place of the reading that is farthest from the trend, the first of some that only
        rounding tells apart."""
        least = abs(self.residuals[self._farthest]) - self.grain
        alike = np.flatnonzero(np.abs(self.residuals[:_MOST_ALIKE]) >= least)
        return int(alike[0]) if len(alike) else self._farthest

    @cached_property
    def _farthest(self) -> int:
        return largest_of(self.residuals)

    @property
    def told_residuals(self) -> Floats:
        """The residuals (n,), all 0 where only rounding is left of them."""
        return np.zeros(self.n) if self.is_exact else self.residuals

    @property
    def residual_sd(self) -> float | None:
        if self.dof <= 0:
            return None
        if self.is_exact:
            return 0.0
        if self.own_variance is not None:
            return math.sqrt(self.own_variance)
        return math.sqrt(self.rss / self.dof)

    @cached_property
    def tss_about_mean(self) -> float:
        """The weighted sum of squares about the mean, which all trends can be set beside."""
        return self.tss if self.level is None else about_mean(self.sample)

    @property
    def r_squared(self) -> float | None:
        """1 − rss / tss about the mean, below 0 where the mean is nearer to the readings; None
        where all y agree, where as many parameters leave nothing to judge by, and for what is no
        model."""
        if not (self.names and self.tss_about_mean > 0) or self.n <= self.free:
            return None
        return 1 - self.rss / self.tss_about_mean

    @property
    def r_squared_about_level(self) -> float | None:
        """1 − rss / tss about the level that is held, often given for lines through 0; None where
        none is."""
        if self.level is None or not self.tss > 0 or self.n <= self.free:
            return None
        return 1 - self.rss / self.tss

    @property
    def adjusted_r_squared(self) -> float | None:
        # parameters in common are no one curve's
        if self.r_squared is None or self.dof <= 0 or self.n < 2 or self.own_dof is not None:
            return None
        return 1 - (self.rss / self.dof) / (self.tss_about_mean / (self.n - 1))

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion for small samples (C. M. Hurvich and C.-L. Tsai, Biometrika 76
        (1989) 297–307), the variance counted as a parameter; None where it is not defined."""
        k = self.free + 1
        if self.rss <= 0 or self.n - k - 1 <= 0 or not self.names:
            return None
        # with weights, the likelihood of each reading has its own variance
        own = 0.0
        if self.sample.weights is not None:
            own = -float(np.log(self.sample.weights).sum())
        # and of logarithms, it is that of the readings all the same
        own += 2 * float(np.log(self.y).sum()) if self.on_logs else 0.0
        small = 2 * k * (k + 1) / (self.n - k - 1)
        return self.n * math.log(self.rss / self.n) + own + 2 * k + small
