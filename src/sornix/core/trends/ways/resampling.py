"""Intervals by resampling, for any fit, and checks of its residuals.

Readings are made anew many times: the trend, and to each place a residual drawn from all of them,
made as large as the leverage of its reading had made it small (A. C. Davison and D. V. Hinkley,
"Bootstrap Methods and Their Application" (1997), algorithm 6.1; for errors in both x and y whole
readings are drawn, algorithm 6.2). The trend is put through each set. How far the trends of the
sets are from the one they came from, in their own standard errors, tells the interval (the
studentised bootstrap, there section 2.4). The interval of a new reading stays what it was: a few
residuals tell too little of how far out one can be.

A smoother has no standard error: its intervals are made of the differences alone, and are those of
what scatter does to the line, not of what smoothing takes away.

Residuals are checked by readings that scatter normally about the trend, which need no table of
critical values and no large number of readings.
"""

import math
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.patience import go_on
from sornix.core.text import plural, spoken
from sornix.core.trends.fits.fit import Fit
from sornix.core.trends.fits.resampled import Asked, Check, Pair, Resampling
from sornix.core.trends.fits.sample import Ends, Floats, Sample
from sornix.core.trends.fits.statistics import leverages, normal_quantiles
from sornix.core.trends.ways.draws import Draws, Family, drawn_together

# The curve is looked at in so many places, from half the range of the readings below them to as far
# above.
_PLACES, _BEYOND = 81, 0.5
_SMOOTH_PLACES = 241
# What is left out on each side of the interval.
_SIDES = np.array([0.025, 0.975])
# More sets than this part that lead nowhere are told.
_LOST = 0.01
# Residuals of more readings are not checked.
MOST_CHECKED = 20_000
_READINGS_AT_ONCE = 1_000_000


# Puts the trend, with those that share parameters with it, through other readings.
Refit = Callable[[list[Sample]], list[Fit]]


def resampled(
    fits: Sequence[Fit], at: int, asked: Asked, refit: Refit, within: Mapping[str, Ends]
) -> Fit:
    """The fit at a place among those that share parameters with it, with its intervals by
    resampling; those of parameters with bounds stay `within` them. Raises TrendImpossible where
    there is nothing to resample."""
    fit = fits[at]
    _check(fit)
    random = np.random.default_rng(asked.seed)
    if not fit.names:
        return _smoothed(fit, asked, refit, random)
    # those that have something in common scatter alike
    residuals = np.concatenate([_even_residuals(one) for one in fits])
    places = _places(fit, _PLACES)
    if fit.sample.x_sd is None and len(fits) == 1:

        def noise(first: int, last: int) -> Floats:
            return random.choice(residuals, (last - first, fit.n))

        draws = drawn_together(fit, noise, asked.times, places)
    else:
        draws = _one_by_one(fits, at, asked, refit, _again(fits, residuals, random), places)
    kept = np.isfinite(draws.sd) & np.isfinite(draws.away).all(axis=1)
    if 2 * kept.sum() < asked.times:
        raise TrendImpossible(
            f"Of {asked.times} sets of readings made anew, only {kept.sum()} gave a trend, too few "
            "to say how it varies.",
            remedy="Choose the usual intervals, or a shape with fewer parameters.",
        )
    fitted = np.log(fit.at(places)) if fit.on_logs else fit.at(places)
    with np.errstate(all="ignore"):
        of_mean = _sides((draws.curve[kept] - fitted) / draws.curve_errors[kept])
        low, high = _sides(draws.away[kept] / draws.errors[kept])
    checks = _checks(fit, asked.times, random)
    known = Resampling(asked, int(kept.sum()), places, of_mean, checks)
    ends: dict[str, Ends] = {}
    for i, name in enumerate(name for name in fit.names if name not in fit.held):
        error = fit.standard_error(name) or 0.0
        least, most = within.get(name, (-math.inf, math.inf))
        ends[name] = (
            max(fit.by.interval(fit, name, -float(low[i]) * error)[0], least),
            min(fit.by.interval(fit, name, float(high[i]) * error)[1], most),
        )
    return _with(evolve(fit, ends95={**fit.ends95, **ends}, ends_by="resampling"), known)


def _with(fit: Fit, known: Resampling) -> Fit:
    """A fit with what resampling tells of it."""
    asked = known.asked
    said = f"Intervals by resampling, {spoken(asked.times)} times, seed {asked.seed}."
    lost = asked.times - known.counted
    if lost > _LOST * asked.times:
        verb = "is" if lost == 1 else "are"
        said += f" {plural(lost, 'set')} of readings gave no trend and {verb} not counted."
    return evolve(fit, resampled=known, notes=(*fit.notes, said))


def _check(fit: Fit) -> None:
    if fit.names and (fit.dof < 1 or fit.loose or not fit.converged or not fit.free):
        raise TrendImpossible(
            "There is nothing to resample where readings do not determine the trend.",
            remedy="Choose the usual intervals, another shape, or more readings.",
        )
    if fit.is_exact:
        raise TrendImpossible(
            "The trend goes through every reading, so there are no residuals to resample.",
            remedy="Choose the usual intervals.",
        )


def _places(fit: Fit, many: int) -> Floats:
    low, high = fit.ends
    room = _BEYOND * (high - low) if fit.names else 0.0
    return np.linspace(low - room, high + room, many)


def _even_residuals(fit: Fit) -> Floats:
    """The residuals as those of readings that weigh the same and have no leverage, with nothing
    left that would move the trend: 0 on average, or as they are where a robust fit has placed
    them."""
    roots = 1.0 if fit.sample.roots is None else fit.sample.roots
    left = np.maximum(1 - leverages(fit), 0.01)
    found: Floats = fit.residuals * roots / np.sqrt(left)
    return found if fit.loss else found - found.mean()


def _again(
    fits: Sequence[Fit], residuals: Floats, random: np.random.Generator
) -> Callable[[], list[Sample]]:
    """What makes the readings of some fits anew: where both x and y have errors, by drawing whole
    readings, else by the residuals."""

    def once() -> list[Sample]:
        made = []
        for fit in fits:
            sample = fit.sample
            if sample.x_sd is not None:
                drawn = evolve(sample, weights=None).some(random.integers(0, fit.n, fit.n))
            else:
                roots = 1.0 if sample.roots is None else sample.roots
                noise = random.choice(residuals, fit.n) / roots
                drawn = evolve(sample, y=fit.fitted + noise)
            made.append(drawn)
        return made

    return once


def _one_by_one(
    fits: Sequence[Fit], at: int, asked: Asked, refit: Refit, again: Callable[[], list[Sample]],
    places: Floats,
) -> Draws:  # fmt: skip
    """What comes of each set, where they cannot be worked out together."""
    fit = fits[at]
    shape = (len(fit.names), len(fit.names), len(places), len(places))
    rows = []
    for turn in range(asked.times):
        go_on(turn / asked.times)
        try:
            other = refit(again())[at]
        except TrendImpossible:
            rows.append((*(np.full(size, np.nan) for size in shape), np.array(np.nan)))
            continue
        errors = np.array([other.standard_error(name) or np.nan for name in fit.names])
        away = np.subtract(other.values, fit.values)
        sd = np.array(other.residual_sd or np.nan)
        rows.append((away, errors, other.at(places), other.errors_at(places), sd))
    return Draws(*(np.array(field) for field in zip(*rows, strict=True)))


def _sides(studentised: Floats) -> Pair:
    """The ends of the interval that goes with distances (b, k) of the sets from the trend."""
    usable = np.where(np.isfinite(studentised), studentised, np.nan)
    # where nothing varies, as at a point that the trend is held to, the multiples are those of
    # the nearest places
    known = np.flatnonzero(np.isfinite(usable).any(axis=0))
    if not len(known):
        return (np.zeros(usable.shape[1]), np.zeros(usable.shape[1]))
    every = np.arange(usable.shape[1])
    low, high = (
        np.interp(every, known, end)
        # so that of b sets α (b + 1) are beyond (Davison and Hinkley, section 2.4): taken between
        # the extremes, 400 sets would leave 2.7 % beyond an end
        for end in np.nanquantile(usable[:, known], _SIDES, axis=0, method="weibull")
    )
    # the truth is as far from the trend as the trend from those of the sets
    return -high, -low


# -- smoothers ---------------------------------------------------------------------------------


def _smoothed(fit: Fit, asked: Asked, refit: Refit, random: np.random.Generator) -> Fit:
    """A smoother with the interval of its line."""
    places = _places(fit, _SMOOTH_PLACES)
    roots = np.ones(fit.n) if fit.sample.roots is None else fit.sample.roots
    # what smoothing leaves of a scatter of 1 at each reading
    few = max(50, min(asked.times // 5, 400))
    left = np.zeros(fit.n)
    normal = np.empty((few, fit.n)) if fit.n <= MOST_CHECKED else None
    for turn in range(few):
        go_on(turn / (asked.times + few))
        noise = random.standard_normal(fit.n) / roots
        rest = refit([evolve(fit.sample, y=noise)])[0].residuals * roots
        left += rest**2 / few
        if normal is not None:
            normal[turn] = rest
    even = fit.residuals * roots / np.sqrt(np.maximum(left, 0.01))
    even -= even.mean()
    off, single = np.empty((asked.times, len(places))), np.empty((asked.times, len(places)))
    base = fit.at(places)
    own = np.sqrt(fit.new_variance(places))
    for turn in range(asked.times):
        go_on((few + turn) / (asked.times + few))
        noise = random.choice(even, fit.n) / roots
        (other,) = refit([evolve(fit.sample, y=fit.fitted + noise)])
        off[turn] = other.at(places) - base
        single[turn] = off[turn] - random.choice(even) * own
    checks = () if normal is None else _compared(fit, [normal])
    pairs = [_sides(values) for values in (off, single)]
    known = Resampling(asked, asked.times, places, pairs[0], checks, pairs[1])
    return _with(fit, known)


# -- checks of residuals -----------------------------------------------------------------------


def _checks(fit: Fit, times: int, random: np.random.Generator) -> tuple[Check, ...]:
    """The checks by residuals that normal readings would leave, in the plane of the tangent."""
    if fit.n > MOST_CHECKED or fit.dof < 3:
        return ()
    basis = Family(fit).basis
    block = max(1, _READINGS_AT_ONCE // fit.n)

    def normal() -> Iterator[Floats]:
        for first in range(0, times, block):
            go_on()
            noise = random.standard_normal((min(block, times - first), fit.n))
            yield noise - (noise @ basis) @ basis.T

    return _compared(fit, normal())


def _compared(fit: Fit, normal: Iterable[Floats]) -> tuple[Check, ...]:
    """What the residuals show beside those of normal readings, which come in parts (b, n): of all
    of them together, there may be more than memory holds."""
    roots = 1.0 if fit.sample.roots is None else fit.sample.roots
    left = np.sqrt(np.maximum(1 - leverages(fit), 1e-6))
    own = (fit.residuals * roots / left)[None]
    order = np.argsort(fit.x, kind="stable")
    height = _ranks(fit.fitted[None])

    def neighbours(rest: Floats) -> Floats:
        steps = np.diff(rest[:, order], axis=1)
        found: Floats = (steps**2).sum(axis=1) / (rest**2).sum(axis=1)
        return found

    def grows(rest: Floats) -> Floats:
        return _correlation(_ranks(np.abs(rest)), height)

    expected = normal_quantiles(fit.n)[None]

    def bends(rest: Floats) -> Floats:
        return _correlation(np.sort(rest, axis=1), expected)

    def furthest(rest: Floats) -> Floats:
        found: Floats = np.abs(rest).max(axis=1) / np.sqrt((rest**2).mean(axis=1))
        return found

    looks = (
        ("neighbours alike", _NEIGHBOURS, neighbours, -1),
        ("scatter by height", _GROWS, grows, 0),
        ("shape of the scatter", _BENDS, bends, -1),
        ("furthest reading", _FURTHEST, furthest, 1),
    )
    seen = [[look(part / left) for _, _, look, _ in looks] for part in normal]
    found = []
    for (name, about, look, side), parts in zip(looks, zip(*seen, strict=True), strict=True):
        mine, chance = float(look(own)[0]), np.concatenate(parts)
        if side < 0:
            beyond = chance <= mine
        else:
            beyond = chance >= mine if side > 0 else np.abs(chance) >= abs(mine)
        p = (1 + int(beyond.sum())) / (1 + len(chance))
        if math.isfinite(mine):
            found.append(Check(name, about, mine, p))
    return tuple(found)


_NEIGHBOURS = (
    "Ratio of von Neumann (1941), about 2 by chance; less where neighbours along x lie on one side"
)
_GROWS = "Rank correlation of the size of residuals with the height of the trend, about 0 by chance"
_BENDS = "Correlation with normal quantiles (Filliben 1975); less where the scatter is not normal"
_FURTHEST = "The greatest residual as a multiple of the scatter"


def _ranks(values: Floats) -> Floats:
    """The ranks of values (b, n) in each row, about 0; those that are alike in any order."""
    found = np.argsort(np.argsort(values, axis=1, kind="stable"), axis=1, kind="stable")
    centred: Floats = found - (values.shape[1] - 1) / 2
    return centred


def _correlation(one: Floats, other: Floats) -> Floats:
    """The correlation of rows (b, n) with a row (1, n)."""
    one = one - one.mean(axis=1, keepdims=True)
    other = other - other.mean(axis=1, keepdims=True)
    sizes = np.sqrt((one**2).sum(axis=1) * (other**2).sum(axis=1))
    with np.errstate(all="ignore"):
        found: Floats = (one * other).sum(axis=1) / sizes
    return found
