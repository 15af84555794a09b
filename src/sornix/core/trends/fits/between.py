"""What two trends of one shape have to do with each other: differences and ratios of their
parameters, and whether one curve would do for both."""

import math
from collections.abc import Sequence
from contextlib import suppress
from typing import NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import ParameterConstraints, Sample
from sornix.core.trends.fits.statistics import FTest, f_test

Ends = tuple[float, float]


class Apart(NamedTuple):
    """How far a parameter of one trend is from that of another, and how many times as large; the
    95 % intervals are None where they have no bounds."""

    name: str
    difference: float
    of_difference: Ends
    ratio: float | None
    of_ratio: Ends | None


def apart(one: Fit, other: Fit) -> tuple[Apart, ...]:
    """Each parameter of `one` less that of `other`, and divided by it, from readings that have
    nothing to do with each other.

    Degrees of freedom are those of B. L. Welch (Biometrika 34 (1947) 28–35), ratios after E. C.
    Fieller (Journal of the Royal Statistical Society B 16 (1954) 175–185).
    """
    from scipy.special import stdtrit

    found = []
    for name in one.names:
        a, b = one.value(name), other.value(name)
        sa, sb = one.standard_error(name), other.standard_error(name)
        if not sa or not sb:
            continue
        error = math.hypot(sa, sb)
        dof = error**4 / (sa**4 / one.dof + sb**4 / other.dof)
        t = float(stdtrit(dof, 0.975))
        ends = a - b - t * error, a - b + t * error
        found.append(Apart(name, a - b, ends, a / b if b else None, _of_ratio(a, sa, b, sb, t)))
    return tuple(found)


def _of_ratio(a: float, sa: float, b: float, sb: float, t: float) -> Ends | None:
    """The r for which a − r b is not told apart from 0."""
    # (a − r b)² ≤ t² (sa² + r² sb²)
    square, half, rest = b * b - (t * sb) ** 2, a * b, a * a - (t * sa) ** 2
    if square <= 0:
        return None
    root = math.sqrt(max(half * half - square * rest, 0.0))
    return (half - root) / square, (half + root) / square


def one_for_all(fits: Sequence[Fit]) -> FTest | None:
    """Whether curves of their own take up more than one for all would (G. C. Chow, Econometrica 28
    (1960) 591–605); None where that cannot be told. The scatter is taken to be the same in all."""
    first = fits[0]
    plain = all(
        fit.sample.weights is None and not fit.held and not fit.on_logs
        and fit.own_variance is None and fit.along == first.along for fit in fits
    )  # fmt: skip
    if not plain or len(fits) < 2 or not first.names:
        return None
    samples = [fit.sample for fit in fits]
    read = np.concatenate([s.places for s in samples])
    whole = Sample(
        np.concatenate([s.x for s in samples]), np.concatenate([s.y for s in samples]),
        np.arange(len(read)), along=first.along, read=read,
    )  # fmt: skip
    reached = []
    for fit in fits:
        # a search of its own would take long: the curve of one is near that of all
        with suppress(TrendImpossible):
            reached.append(
                first.by.fit(whole, ParameterConstraints(quick=True).begun_at(fit.known))
            )
    if not reached:
        return None
    together = min(reached, key=lambda fit: fit.rss)
    alone = math.fsum(fit.rss for fit in fits)
    own = sum(fit.free for fit in fits)
    return f_test(together.rss - alone, own - together.free, alone, whole.n - own)
