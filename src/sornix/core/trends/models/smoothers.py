"""Smooth lines through readings that are no model: moving average and local regression.

They have no parameters and no equation, and tell nothing beyond the readings.
"""

import math
from collections.abc import Mapping

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.text import as_subject, plural
from sornix.core.trends.fits.equation import Equation, Printing
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.model import Symmetric
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample

# A local line is worked out at so many places, and between them it is straight.
_PLACES = 400
# A line through fewer readings would go through each.
_FEWEST = 3


class Smoother(Symmetric):
    """What both share: an order of x, and what is set of them, their `width`."""

    straight = False
    formula = ""
    names: tuple[str, ...] = ()
    name = words = method = ""
    meanings: Mapping[str, str] = {}

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        if sample.n < 3:
            raise TrendImpossible(
                f"{as_subject(self.words, 'needs', 'need')} at least 3 readings, and there "
                f"{'is' if sample.n == 1 else 'are'} {sample.n or 'none'}."
            )
        way.checked(("width",), self.words)
        width = way.held.get("width", self.usual_width)
        order = np.argsort(sample.x, kind="stable")
        x = sample.x[order]
        weights = np.ones(sample.n) if sample.weights is None else sample.weights[order]
        places, smooth = self.smoothed(x, sample.y[order], weights, width)
        fitted = np.interp(sample.x, places, smooth)
        residuals = sample.y - fitted
        about = sample.y - sample.y.mean()
        return Fit(
            self, (), (), (), np.zeros((0, 0)), sample, residuals, float(residuals @ residuals),
            float(about @ about), own_dof=0, inner=(*places.tolist(), *smooth.tolist()),
            own_method=f"{self.words} over {self.said(width, sample.n)}",
        )  # fmt: skip

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats]:
        """Places that rise and the smooth values there, from readings in the order of x."""
        raise NotImplementedError

    def said(self, width: float, n: int) -> str:
        """What a width is of: `5 readings`."""
        raise NotImplementedError

    def evaluate(self, fit: Fit, x: Floats) -> Floats:
        half = len(fit.inner) // 2
        places, smooth = np.array(fit.inner[:half]), np.array(fit.inner[half:])
        found: Floats = np.interp(x, places, smooth, left=np.nan, right=np.nan)
        return found

    def gradient(self, fit: Fit, x: Floats) -> Floats:  # noqa: ARG002 - it has no parameters
        return np.zeros((len(x), 0))

    def equation(self, fit: Fit, asked: Printing) -> Equation:  # noqa: ARG002 - it has none
        return Equation((), ())


class MovingAverage(Smoother):
    """The mean of so many neighbours in the order of x, as many before as after; fewer at the ends.
    Of an even number, one more is taken and the outer two count half (the centred average of M. G.
    Kendall and A. Stuart, "The Advanced Theory of Statistics" 3 (1966), section 46.10)."""

    name, words = "moving-average", "moving average"
    usual_width, width_unit = 5.0, "readings"

    def said(self, width: float, n: int) -> str:
        # as many before a reading as after it
        words = plural(int(width) if width < n else n - 1 + n % 2, "reading")
        return words if width % 2 or width >= n else f"{words}, the outer two counting half"

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats]:
        if width < 2 or width != round(width):
            raise TrendImpossible(
                "A moving average is over a whole number of readings, 2 or more.",
                remedy="Type a number such as 5.",
            )
        n = len(x)
        # readings at one x have one place, and no order among them
        places, first, group, counts = np.unique(
            x, return_index=True, return_inverse=True, return_counts=True
        )
        heavy = (np.add.reduceat(weights, first) / counts)[group]
        mean = np.add.reduceat(y * weights, first) / np.add.reduceat(weights, first)
        about = float(mean.mean())
        level = (mean - about)[group] * heavy
        half = min(int(width) // 2, (n - 1) // 2)
        sums, total = (np.concatenate(([0.0], np.cumsum(v))) for v in (level, heavy))
        middle = np.arange(n)
        reach = np.minimum(np.minimum(middle, n - 1 - middle), half)
        low, high = middle - reach, middle + reach + 1
        above, below = sums[high] - sums[low], total[high] - total[low]
        if int(width) % 2 == 0 and int(width) < n:
            outer = reach == half
            above -= np.where(outer, (level[low] + level[high - 1]) / 2, 0.0)
            below -= np.where(outer, (heavy[low] + heavy[high - 1]) / 2, 0.0)
        smooth = above / below + about
        return places, np.add.reduceat(smooth, first) / counts


class LocalRegression(Smoother):
    """A line through the nearest share of the readings at each place, the nearer the heavier, by
    tricube weights (W. S. Cleveland, Journal of the American Statistical Association 74 (1979)
    829–836, without its robust turns)."""

    name, words = "local-regression", "local regression"
    usual_width, width_unit = 30.0, "% of the readings"

    def said(self, width: float, n: int) -> str:
        share = f"{width:g} %" if math.ceil(n * width / 100) >= _FEWEST else f"{min(_FEWEST, n)}"
        return f"the nearest {share} of {plural(n, 'reading')}"

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats]:
        if not 0 < width <= 100:
            raise TrendImpossible(
                "A local regression is over a share of the readings.",
                remedy="Type more than 0 and up to 100 percent.",
            )
        n = len(x)
        count = min(max(math.ceil(n * width / 100), _FEWEST), n)
        places = np.unique(x)
        if len(places) > _PLACES:
            places = np.linspace(x[0], x[-1], _PLACES)
        smooth = np.array([_local(x, y, weights, at, count) for at in places.tolist()])
        return places, smooth


def _local(x: Floats, y: Floats, weights: Floats, at: float, count: int) -> float:
    """The local line at one place."""
    # the nearest are neighbours in the order of x, all of those that are as near
    place = int(np.searchsorted(x, at))
    low, high = max(place - count, 0), min(place + count, len(x))
    nearest = float(np.partition(np.abs(x[low:high] - at), count - 1)[count - 1])
    reach = nearest * (1 + 1e-9) or 1.0
    low = int(np.searchsorted(x, at - nearest, "left"))
    high = int(np.searchsorted(x, at + nearest, "right"))
    away = np.abs(x[low:high] - at)
    heavy = weights[low:high] * np.clip(1 - (away / reach) ** 3, 0, None) ** 3
    if not heavy.any():
        # all of them are just as far away
        heavy = weights[low:high] * (away <= reach)
    dx, dy = x[low:high] - at, y[low:high]
    total, mean = heavy.sum(), (heavy * dx).sum() / heavy.sum()
    spread = (heavy * (dx - mean) ** 2).sum()
    level = float((heavy * dy).sum() / total)
    if spread <= 1e-12 * reach**2 * total:
        return level
    slope = (heavy * (dx - mean) * dy).sum() / spread
    return float(level - slope * mean)


SMOOTHERS = (MovingAverage(), LocalRegression())
