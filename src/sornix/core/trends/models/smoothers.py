"""Smooth lines through readings that are no model: moving average and local regression.

They have no parameters and no equation, and tell nothing beyond the readings.
"""

import math
from collections.abc import Mapping

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.text import as_subject, plural, there_are
from sornix.core.trends.fits.equation import Equation, Printing
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.model import Symmetric
from sornix.core.trends.fits.sample import PLAIN, Floats, ParameterConstraints, Sample

# A local line is worked out at so many places, and between them it is straight.
_PLACES = 400
# A local line reaches to so many different x: the farthest weighs nothing, and through the readings
# at two it would go through both.
_FEWEST = 4


class Smoother(Symmetric):
    """What both share: an order of x, and what is set of them, their `width`."""

    straight = False
    formula = ""
    names: tuple[str, ...] = ()
    name = words = method = ""
    meanings: Mapping[str, str] = {}
    fewest = 3

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> Fit:
        if sample.n < self.fewest:
            raise TrendImpossible(
                f"{as_subject(self.words, 'needs', 'need')} at least {self.fewest} readings, "
                f"and {there_are(sample.n)}."
            )
        way.checked(("width",), self.words)
        width = way.held.get("width", self.usual_width)
        order = np.argsort(sample.x, kind="stable")
        x = sample.x[order]
        weights = np.ones(sample.n) if sample.weights is None else sample.weights[order]
        places, smooth, of = self.smoothed(x, sample.y[order], weights, width)
        residuals = sample.y - np.interp(sample.x, places, smooth)
        with np.errstate(over="ignore"):
            rss, tss = (float(one @ one) for one in (residuals, sample.y - sample.y.mean()))
        return Fit(
            self, (), (), (), np.zeros((0, 0)), sample, residuals, rss, tss, own_dof=0,
            inner=(*places.tolist(), *smooth.tolist()), own_method=f"{self.words} over {of}",
        )  # fmt: skip

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats, str]:
        """Places that rise and the smooth values there, from readings in the order of x; and what
        each is made of: `5 readings`."""
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

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats, str]:
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
        with np.errstate(over="ignore"):
            about = float(mean.mean())
        if not math.isfinite(about):
            # the largest numbers have no sum
            about = float((mean / len(mean)).sum())
        level = (mean - about)[group] * heavy
        half = min(int(width) // 2, (n - 1) // 2)
        sums, total = (np.concatenate(([0.0], np.cumsum(v))) for v in (level, heavy))
        middle = np.arange(n)
        reach = np.minimum(np.minimum(middle, n - 1 - middle), half)
        low, high = middle - reach, middle + reach + 1
        above, below = sums[high] - sums[low], total[high] - total[low]
        # as many before a reading as after it
        of = plural(int(width) if width < n else n - 1 + n % 2, "reading")
        if int(width) % 2 == 0 and int(width) < n:
            of += ", the outer two counting half"
            outer = reach == half
            above -= np.where(outer, (level[low] + level[high - 1]) / 2, 0.0)
            below -= np.where(outer, (heavy[low] + heavy[high - 1]) / 2, 0.0)
        smooth = above / below + about
        return places, np.add.reduceat(smooth, first) / counts, of


class LocalRegression(Smoother):
    """A line through the nearest share of the readings at each place, the nearer the heavier, by
    tricube weights (W. S. Cleveland, Journal of the American Statistical Association 74 (1979)
    829–836, without its robust turns)."""

    name, words = "local-regression", "local regression"
    usual_width, width_unit = 30.0, "% of the readings"
    fewest = _FEWEST

    def smoothed(
        self, x: Floats, y: Floats, weights: Floats, width: float
    ) -> tuple[Floats, Floats, str]:
        if not 0 < width <= 100:
            raise TrendImpossible(
                "A local regression is over a share of the readings.",
                remedy="Type more than 0 and up to 100 percent.",
            )
        n = len(x)
        different = np.unique(x)
        if len(different) < _FEWEST:
            raise TrendImpossible(
                f"A local regression needs readings at {_FEWEST} different x, and "
                f"{there_are(len(different))}."
            )
        places = different
        if len(places) > _PLACES:
            places = np.linspace(x[0], x[-1], _PLACES)
        count = math.ceil(n * width / 100)
        reaches = [(_distance(x, at, count), _distance(different, at, _FEWEST))
                   for at in places.tolist()]  # fmt: skip
        smooth = [
            _local(x, y, weights, at, max(reach))
            for at, reach in zip(places.tolist(), reaches, strict=True)
        ]
        of = f"the nearest {width:g} % of {plural(n, 'reading')}"
        if any(least > share for share, least in reaches):
            of += f", at least {_FEWEST} different x"
        return places, np.array(smooth), of


def _distance(x: Floats, at: float, count: int) -> float:
    """How far the nearest `count` of rising x reach."""
    place = int(np.searchsorted(x, at))
    away = np.abs(x[max(place - count, 0) : place + count] - at)
    return float(np.partition(away, count - 1)[count - 1])


def _local(x: Floats, y: Floats, weights: Floats, at: float, nearest: float) -> float:
    """The local line at one place through all readings that are as near."""
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
