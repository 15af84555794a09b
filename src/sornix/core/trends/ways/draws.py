"""One curve put through many sets of readings at once: what resampling needs two thousand times.

All sets have the places and the weights of one fit, and begin where it ended. Its own derivatives
make the parameters alike in size and independent; in these, steps of Gauss and Newton go down for
all sets together, halved where they lead up, and robust weights are worked out anew in each turn.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from sornix.core.frozen import frozen
from sornix.core.patience import go_on
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.sample import Floats
from sornix.core.trends.models.byformula import ByFormula
from sornix.core.trends.ways.robust import LOSSES, asymptotic_variance

# So many steps are enough from where the fit ended; they are done when none is longer than this
# part of a standard error.
_STEPS, _TURNS, _RESTS = 60, 80, 1e-5
# A step is halved at most this often.
_SHORTEST = 2.0**-12
# So many numbers are worked with at a time.
_AT_ONCE = 200_000


@frozen(eq=False)
class Draws:
    """What came of b sets of readings: how far the parameters that were fitted are from those of
    the fit (b, p), their standard errors, the curve at some places (b, k), its standard errors
    there, and the residual SD (b,); NaN where no curve was found. Parameters and curve are on the
    scale where they are even: that of logarithms for a fit to these."""

    away: Floats
    errors: Floats
    curve: Floats
    curve_errors: Floats
    sd: Floats


class Family:
    """The curves of a fit's model, by how far (p,) they are from it in standard errors and
    independent of each other."""

    def __init__(self, fit: Fit) -> None:
        self._fit = fit
        self.searched = isinstance(fit.by, ByFormula) and not fit.on_logs
        self.free: NDArray[np.intp] = np.flatnonzero(np.diag(fit.spread) > 0)
        weights = np.ones(fit.n) if fit.sample.weights is None else fit.sample.weights
        self.roots: Floats = np.sqrt(weights)
        slopes = fit.own_slopes[:, self.free] * self.roots[:, None]
        scale = np.linalg.norm(slopes, axis=0)
        scale[scale == 0] = 1.0
        basis, triangle = np.linalg.qr(slopes / scale)
        self.basis: Floats = basis
        # the parameters of the fit's own gradient from these
        self.turn: Floats = np.linalg.inv(triangle) / scale[:, None]
        self.fitted: Floats = self._even(fit.fitted)
        # those by name, of the parameters that were fitted
        names = [i for i, name in enumerate(fit.names) if name not in fit.held]
        self.named: Floats = fit.by.even(fit)[np.ix_(np.array(names), self.free)] @ self.turn

    def _even(self, values: Floats) -> Floats:
        return np.log(values) if self._fit.on_logs else values

    def at(self, away: Floats, places: Floats | None) -> tuple[Floats, Floats]:
        """Curves (b, k) so far `away` (b, p) from the fit at places (k,) along x, or at the
        readings, and how they change (b, k, p)."""
        fit = self._fit
        if places is None and not self.searched:
            whole: Floats = self.basis / self.roots[:, None]
            return self.fitted + away @ whole.T, np.broadcast_to(whole, (len(away), *whole.shape))
        places = fit.x if places is None else places
        if not self.searched:
            own: Floats = fit.slopes_at(places)[:, self.free] @ self.turn
            curve = self._even(fit.at(places)) + away @ own.T
            return curve, np.broadcast_to(own, (len(away), *own.shape))
        assert isinstance(fit.by, ByFormula)
        moved = np.zeros((len(away), len(fit.names)))
        moved[:, self.free] = away @ self.turn.T
        curve, *derivatives = fit.by.run(fit, fit.along.count(places), moved)
        slopes: Floats = np.stack([derivatives[i] for i in self.free], axis=-1) @ self.turn
        return curve, slopes


def drawn_together(
    fit: Fit, noise: Callable[[int, int], Floats], times: int, places: Floats
) -> Draws:
    """The curve through `times` sets of readings that are the fit and some noise: `noise(first,
    last)` gives that of the sets from the first to before the last, (b, n), where all weigh the
    same."""
    family = Family(fit)
    robust = fit.loss
    parts = []
    block = max(1, _AT_ONCE // (fit.n * (len(family.free) + 2)))
    for first in range(0, times, block):
        go_on(first / times)
        last = min(first + block, times)
        with np.errstate(all="ignore"):
            away, rest, slopes = _settled(family, fit, noise(first, last), robust)
            parts.append(_told(family, (away, rest, slopes), robust, places))
    fields = [np.concatenate(values) for values in zip(*parts, strict=True)]
    return Draws(*fields)


def _settled(family: Family, fit: Fit, noise: Floats, robust: str) -> tuple[Floats, Floats, Floats]:
    """Where the steps come to rest for each set, (b, p), the residuals there (b, n), and the
    derivatives (b, n, p), weighted; NaN for a set where they do not."""
    goal = family.fitted * family.roots + noise
    sets, p = len(noise), len(family.free)
    if not family.searched and not robust:
        away = noise @ family.basis
        rest = noise - away @ family.basis.T
        return away, rest, np.broadcast_to(family.basis, (sets, *family.basis.shape))
    sd = fit.residual_sd or 1.0

    def at(away: Floats, which: Floats) -> tuple[Floats, Floats]:
        curve, slopes = family.at(away, None)
        return which - curve * family.roots, slopes * family.roots[:, None]

    away = np.zeros((sets, p))
    rest, slopes = at(away, goal)
    losses = tuple(dict.fromkeys(("huber", robust))) if robust else ("",)
    good = np.ones(sets, dtype=bool)
    for loss in losses:
        going = good.copy()
        for _ in range(_TURNS if robust else _STEPS):
            go_on()
            if not going.any():
                break
            i = np.flatnonzero(going)
            heavy = _heavy(rest[i], loss)
            step = _step(slopes[i], rest[i], heavy)
            moved, fresh, turned, stuck = _walked(at, away[i], step, goal[i], rest[i], heavy)
            length = np.linalg.norm(moved - away[i], axis=1)
            away[i], rest[i], slopes[i] = moved, fresh, turned
            lost = ~np.isfinite(step).all(axis=1)
            good[i[lost]] = False
            going[i[lost | stuck | (length < _RESTS * sd)]] = False
        good &= ~going
    rest[~good] = np.nan
    return away, rest, slopes


def _heavy(rest: Floats, loss: str) -> Floats | None:
    """The weights of residuals (b, n) by a loss; None where all weigh the same."""
    if not loss:
        return None
    scale = np.median(np.abs(rest), axis=1, keepdims=True) / 0.6745
    return LOSSES[loss].weight(rest / np.where(scale > 0, scale, 1.0))


def _step(slopes: Floats, rest: Floats, heavy: Floats | None) -> Floats:
    """The step (b, p) to the least of the weighted sum of squares in the tangent plane."""
    turned = slopes if heavy is None else slopes * heavy[..., None]
    squares = np.einsum("bni,bnj->bij", turned, slopes)
    right = np.einsum("bni,bn->bi", turned, rest)
    usable = np.isfinite(squares).all(axis=(1, 2)) & np.isfinite(right).all(axis=1)
    eye = np.eye(squares.shape[1])
    squares = np.where(usable[:, None, None], squares, eye)
    singular = ~(np.linalg.cond(squares) < 1e12)
    squares[singular] = eye
    step: Floats = np.linalg.solve(squares, np.where(usable[:, None], right, 0.0)[..., None])[
        ..., 0
    ]
    step[~usable | singular] = np.nan
    return step


def _walked(
    at: Callable[[Floats, Floats], tuple[Floats, Floats]], away: Floats, step: Floats, goal: Floats,
    rest: Floats, heavy: Floats | None,
) -> tuple[Floats, Floats, Floats, NDArray[np.bool_]]:  # fmt: skip
    """Where steps lead that are halved until they lead down, with residuals and derivatives there,
    and for which sets no step does."""

    def size(of: Floats, some: "slice | NDArray[np.intp]" = slice(None)) -> Floats:
        found: Floats = (of**2 if heavy is None else heavy[some] * of**2).sum(axis=1)
        return found

    before, part = size(rest), 1.0
    moved = np.where(np.isfinite(step), away + step, away)
    fresh, slopes = at(moved, goal)
    worse = np.flatnonzero(~(size(fresh) <= before * (1 + 1e-12)))
    slopes = np.array(slopes)
    while len(worse) and part > _SHORTEST:
        part /= 2
        moved[worse] = away[worse] + part * np.nan_to_num(step[worse])
        fresh[worse], slopes[worse] = at(moved[worse], goal[worse])
        worse = worse[~(size(fresh[worse], worse) <= before[worse] * (1 + 1e-12))]
    stuck = np.zeros(len(away), dtype=bool)
    stuck[worse] = True
    moved[worse] = away[worse]
    if len(worse):
        fresh[worse], slopes[worse] = at(moved[worse], goal[worse])
    return moved, fresh, slopes, stuck


def _told(
    family: Family, found: tuple[Floats, Floats, Floats], robust: str, places: Floats
) -> tuple[Floats, Floats, Floats, Floats, Floats]:
    """The fields of Draws."""
    away, rest, slopes = found
    sets, n, p = slopes.shape
    heavy = _heavy(rest, robust)
    if family.searched or heavy is not None:
        turned = slopes if heavy is None else slopes * heavy[..., None]
        squares = np.einsum("bni,bnj->bij", turned, slopes)
        usable = np.isfinite(squares).all(axis=(1, 2)) & np.isfinite(rest).all(axis=1)
        squares[~usable] = np.eye(p)
        usable &= np.linalg.cond(squares) < 1e12
        squares[~usable] = np.eye(p)
        spread = np.linalg.inv(squares)
        spread[~usable] = np.nan
    else:
        spread = np.broadcast_to(np.eye(p), (sets, p, p))
    if heavy is not None:
        scale = np.median(np.abs(rest), axis=1) / 0.6745
        variance = asymptotic_variance(rest / scale[:, None], scale, LOSSES[robust], p)
        # as for the fit itself: see trends.robust
        prior = family.roots**2
        spread = spread * ((heavy @ prior) / prior.sum())[:, None, None]
    else:
        variance = (rest**2).sum(axis=1) / (n - p)
    sd = np.sqrt(variance)
    named = family.named
    values = away @ named.T
    errors = sd[:, None] * np.sqrt(np.einsum("ij,bjk,ik->bi", named, spread, named))
    curve, lean = family.at(away, places)
    lever = np.einsum("bki,bij,bkj->bk", lean, spread, lean)
    lost = ~np.isfinite(sd)
    values[lost], curve[lost] = np.nan, np.nan
    return values, errors, curve, sd[:, None] * np.sqrt(np.maximum(lever, 0.0)), sd
