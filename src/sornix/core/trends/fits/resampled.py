"""What resampling tells of a fit (see sornix.core.trends.ways.resampling)."""

from typing import NamedTuple

import numpy as np

from sornix.core.frozen import frozen
from sornix.core.trends.fits.sample import Floats

Pair = tuple[Floats, Floats]


class Asked(NamedTuple):
    """How many times readings are made anew, and the seed of what is drawn."""

    times: int = 2000
    seed: int = 1


class Check(NamedTuple):
    """A check of residuals: its name, what it looks at, what was found, and the probability of as
    much or more by chance."""

    name: str
    about: str
    found: float
    p: float


@frozen(eq=False)
class Resampling:
    """What resampling tells of a fit: how often readings were made anew, how many of these sets
    gave a trend, and at `places` (k,) the ends of the 95 % interval of the trend, each (k,), as
    multiples of the standard error there; for a smoother as distances, and those of a new reading
    too."""

    asked: Asked
    counted: int
    places: Floats
    of_mean: Pair
    checks: tuple[Check, ...]
    of_single: Pair | None = None

    def multiples(self, x: Floats) -> Pair:
        """The ends of the interval of the trend at x (k,), as `of_mean`."""
        low, high = (np.interp(x, self.places, end) for end in self.of_mean)
        return low, high

    def of_new(self, x: Floats) -> Pair | None:
        """Those of a new reading, where resampling tells them."""
        if self.of_single is None:
            return None
        low, high = (np.interp(x, self.places, end) for end in self.of_single)
        return low, high
