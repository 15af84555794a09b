"""The fits of trends: which readings they go through, how these weigh, and what comes of it."""

import math
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import SornixError, TrendImpossible
from sornix.core.figure.derived.fitviews import (
    TrendPending,
    View,
    asked_for,
    postponing,
    view_now,
)
from sornix.core.figure.derived.further import taken_from
from sornix.core.figure.derived.paneldata import remembered
from sornix.core.figure.derived.trendsamples import (
    POWERS,
    Readings,
    readings_of,
    sample_of,
    trend_columns,
)
from sornix.core.figure.model.trend import FORMULA, WEIGHTS, Meaning, Trend
from sornix.core.figure.model.values import Panel
from sornix.core.patience import GivenUp, go_on, while_wanted
from sornix.core.readings import TIME, Tables, symbols_for
from sornix.core.text.numbers import counted
from sornix.core.trends import (
    UNTREATED,
    ByFormula,
    Fit,
    Model,
    ParameterConstraints,
    Sample,
    model_of,
    put_through,
)
from sornix.core.trends.fits.counting import by_clock

Floats = NDArray[np.float64]


class Spec(NamedTuple):
    """All that decides about a fit: how it is made, from which readings, and those of the trends
    that share parameters with it, itself among them at the place `at`."""

    trend: Trend
    readings: tuple[Readings, ...]
    at: int


class Impossible(NamedTuple):
    """Why readings have no fit. An error that was raised is not kept: it holds the frames of all
    who asked, and what they hold."""

    what: str
    where: str
    remedy: str


def trend_model(trend: Trend) -> Model:
    """The model of a trend. Raises TrendImpossible for a formula that cannot be fitted."""
    if trend.model == FORMULA:
        return _typed(trend.formula, trend.called, trend.meanings)
    return model_of(trend.model, on_logs=trend.on_logs)


def trend_words(trend: Trend) -> str:
    """How a trend is called in sentences: `straight line`."""
    if trend.columns:
        return f"straight line in {len(trend.columns) + 1} columns"
    return trend.called or "formula" if trend.model == FORMULA else trend_model(trend).words


def weighing_words(trend: Trend) -> str:
    """How the readings of a trend weigh: `weighing 1/y`; "" where they weigh the same, or the
    method says it."""
    if trend.weights == "column":
        return f"weighing by {trend.weight_column}"
    return "" if trend.weights in ("equal", "both") else WEIGHTS[trend.weights]


@lru_cache(maxsize=32)
def _typed(formula: str, called: str, meanings: tuple[Meaning, ...]) -> ByFormula:
    model = ByFormula(FORMULA, "formula", formula)
    try:
        names = model.names
    except SornixError as error:
        raise TrendImpossible(error.what, where=error.where, remedy=error.remedy) from error
    if not (called or meanings):
        return model
    said = {one.name: one for one in meanings}
    found = {name: said.get(name, Meaning(name)) for name in names}
    means = {name: one.means for name, one in found.items()}
    units = {name: one.unit for name, one in found.items()}
    return ByFormula(FORMULA, called or "formula", formula, means, None, units)


def trend_fit(trend: Trend, panel: Panel, tables: Tables, *, at_once: bool = True) -> Fit:
    """The fit of a trend, without the readings left out. Raises TrendImpossible, and TrendPending
    where this thread must not wait for it, or would rather not: if it need not be `at_once`."""
    spec = _spec(trend, panel, tables)
    asked, view = postponing(), view_now()
    if view is not None:
        view.asked.add(spec)
    found = _soon(spec, at_once=at_once) if asked else fit_now(spec)
    if found is None:
        if view is not None:
            view.pending.add(spec)
        for postpone in asked:
            postpone(spec)
        if trend.intervals == "resampling":
            # until readings were made anew, the trend is shown with what is known of it
            usual = trend_fit(evolve(trend, intervals="usual"), panel, tables, at_once=at_once)
            return evolve(usual, notes=(*usual.notes, RESAMPLING))
        raise TrendPending("This trend is being fitted.")
    return found


RESAMPLING = "Intervals by resampling are being worked out; these are the usual ones."


def _soon(spec: Spec, *, at_once: bool) -> Fit | None:
    """A fit that is known, or soon is; None for one that takes long."""
    view = view_now() or View()
    if spec in view.pending:
        return None
    if spec in _KNOWN:
        return fit_now(spec)
    if not at_once or _cost_ms(spec) > _LONG_MS or view.seconds <= 0:
        return None
    # a search may take many times what searches usually take: it is given up then
    begin = time.thread_time()
    try:
        with while_wanted(lambda: time.thread_time() - begin < view.seconds):
            return fit_now(spec)
    except GivenUp:
        go_on()
        return None
    finally:
        view.seconds -= time.thread_time() - begin


def fit_now(spec: Spec, ready: Callable[[Fit], object] = lambda _: None) -> Fit:
    """The fit of a specification, from memory where it was made before; `ready` does what is to be
    done before anyone else knows of it. Raises TrendImpossible."""
    found = _KNOWN.get(spec)
    if found is None:
        try:
            found = _fitted(spec)
            # asked for by all who show it
            _ = found.is_exact, found.ends
            ready(found)
        except TrendImpossible as error:
            found = Impossible(error.what, error.where, error.remedy)
        _remember(spec, found)
    if isinstance(found, Impossible):
        raise TrendImpossible(found.what, where=found.where, remedy=found.remedy)
    return found


# Fits that were made, the oldest first.
_KNOWN: dict[Spec, Fit | Impossible] = {}
# So many are kept, of so many readings together: the residuals of each take their room. What is
# still looked at is kept besides, or the fits of one figure would push each other out for ever.
_MOST_KNOWN, _MOST_READINGS = 2000, 8_000_000


def _remember(spec: Spec, found: Fit | Impossible) -> None:
    """Keeps a fit, and lets the oldest go."""
    _KNOWN[spec] = found
    readings = sum(one.n for one in tuple(_KNOWN.values()) if isinstance(one, Fit))
    if len(_KNOWN) <= _MOST_KNOWN and readings <= _MOST_READINGS:
        return
    kept = asked_for() | {spec}
    for old in tuple(_KNOWN):
        if len(_KNOWN) <= _MOST_KNOWN and readings <= _MOST_READINGS:
            break
        if old in kept:
            continue
        gone = _KNOWN.pop(old, None)
        readings -= gone.n if isinstance(gone, Fit) else 0


_LONG_MS = 100.0
# Weights that are known before the curve is.
_AT_ONCE = ("equal", "errors", "both", "column")


def _cost_ms(spec: Spec) -> float:
    """About how long a fit takes, as measured on the machine of the benchmarks."""
    n = sum(len(readings.x.column) for readings in spec.readings)
    if spec.trend.intervals != "usual":
        return math.inf
    model = trend_model(spec.trend)
    in_turn = spec.trend.method != "least-squares" or spec.trend.weights not in _AT_ONCE
    turns = 12 if in_turn else 1
    if isinstance(model, ByFormula) and not spec.trend.on_logs:
        search = 25 if len(model.names) < 4 else 60
        return turns * (search + n * len(model.names) * 0.001)
    degree = max(len(model.names) - 1, 1)
    # rational arithmetic, or QR beyond it
    few = n * (2 * degree + 1) <= 60_000
    return turns * (n * degree * 0.002 if few and degree > 1 else n * degree * 2e-5)


def is_searched(trend: Trend) -> bool:
    """Whether the parameters of a trend are looked for from starts."""
    return isinstance(trend_model(trend), ByFormula) and not trend.on_logs


def possible_intervals(trend: Trend) -> tuple[str, ...]:
    """The names of INTERVALS that make a difference to a trend."""
    by_profile = (
        is_searched(trend) and trend.method == "least-squares" and trend.weights in _AT_ONCE
        and trend.weights != "both" and not trend.shared
    )  # fmt: skip
    return ("usual", *("profile",) * by_profile, "resampling")


def _fitted(spec: Spec) -> Fit:
    trend = spec.trend
    if trend.intervals == "resampling":
        return _resampled(spec)
    samples, notes = _samples(spec)
    _need_few(trend, samples)
    model: Model | None = None
    if trend.columns:
        from sornix.core.trends.models.several import Several

        made_from = spec.readings[0]
        further, _ = taken_from([same.column for same in made_from.others], samples[0].rows)
        model = Several(made_from.x.column.name, further, products=trend.products)
    found = _through(trend, samples, (), model)[spec.at]
    return evolve(found, notes=(*found.notes, *notes)) if notes else found


# Only a plain line is put through more: all others take several columns' memory.
_MOST_FITTED = 20_000_000


def _need_few(trend: Trend, samples: Sequence[Sample]) -> None:
    """Raises TrendImpossible where a trend would take more memory than there may be."""
    plain = trend.model == "line" and not (
        trend.settings or trend.shared or trend.columns or trend.on_logs
    )
    asked = trend.weights, trend.method, trend.intervals
    plain = plain and asked == ("equal", "least-squares", "usual")
    count = sum(sample.n for sample in samples)
    if count > _MOST_FITTED and not plain:
        raise TrendImpossible(
            f"Only a plain straight line is put through more than {counted(_MOST_FITTED)} "
            f"readings, and these are {counted(count)}.",
            remedy="Hold a range of x, or take every tenth reading.",
        )


def _resampled(spec: Spec) -> Fit:
    """The fit of a specification with its intervals by resampling."""
    from sornix.core.trends.fits.resampled import Asked
    from sornix.core.trends.ways.resampling import resampled

    trend = spec.trend
    asked = Asked(trend.resamples, trend.seed)
    usual = evolve(trend, intervals="usual")
    # most often it is known and on show already
    base = spec._replace(trend=_bare(usual))
    fits = [fit_now(base)]
    if len(spec.readings) > 1:
        fits = [fit_now(base._replace(at=at)) for at in range(len(spec.readings))]
    _need_few(trend, [fit.sample for fit in fits])

    def refit(samples: list[Sample]) -> list[Fit]:
        return _through(usual, samples, fits, fits[0].by if trend.columns else None)

    bounds = ParameterConstraints(trend.settings).bounds
    return resampled(fits, spec.at, asked, refit, bounds)


_ANY = Trend("", "")


def _samples(spec: Spec) -> tuple[list[Sample], tuple[str, ...]]:
    """The readings of a specification, x counted by the clock for dates, and what is to be said of
    those that were left out."""
    trend = spec.trend
    made = [sample_of(one, trend.weights, on_logs=trend.on_logs) for one in spec.readings]
    samples, notes = [sample for sample, _ in made], made[spec.at][1]
    if spec.readings[0].x.column.kind == TIME:
        along = by_clock([sample.x for sample in samples])
        samples = [sample.counted(along) for sample in samples]
    return samples, notes


def _through(
    trend: Trend, samples: list[Sample], begun: Sequence[Fit] = (), model: Model | None = None
) -> list[Fit]:
    """A trend, with those that share parameters with it, through their readings; with a search that
    begins where others have ended, and a model of its own where that depends on the readings."""
    model = model or trend_model(evolve(trend, on_logs=False))
    way = ParameterConstraints(trend.settings, by_profile=trend.intervals == "profile")
    if (trend.weights in POWERS or trend.weights == "replicates") and not trend.on_logs:
        from sornix.core.trends.ways.variance import fit_by_height

        by_height = [
            fit_by_height(model, sample, way, POWERS.get(trend.weights)) for sample in samples
        ]
        if len(samples) == 1 and trend.method == "least-squares":
            return by_height
        samples = [fit.sample for fit in by_height]
    if len(samples) > 1:
        if trend.settings or trend.on_logs or trend.method != "least-squares":
            raise TrendImpossible(
                "Parameters in common are fitted by least squares on the readings, with none held "
                "or bounded.",
                remedy="Make the parameters each trend’s own, or ask nothing else of them.",
            )
        from sornix.core.trends.ways.shared import fit_shared

        return fit_shared(model, samples, trend.shared, begun)
    return [put_through(model, samples[0], way, trend.method, on_logs=trend.on_logs)]


def _spec(trend: Trend, panel: Panel, tables: Tables) -> Spec:
    """All that decides about the fit of a trend, remembered for those of the panel."""
    if any(one is trend for one in panel.trends):
        return _own_spec(panel, tables, trend.id)
    return _spec_of(trend, panel, tables)


@remembered
def _own_spec(panel: Panel, tables: Tables, trend_id: str) -> Spec:
    return _spec_of(panel.one_trend(trend_id), panel, tables)


def _spec_of(trend: Trend, panel: Panel, tables: Tables) -> Spec:
    company = [trend]
    if trend.shared:
        # one that is only tried shares nothing with those of the panel
        alike = [t for t in panel.trends if _same_way(t, trend)]
        company = alike if trend.id in [t.id for t in alike] else company
    readings = tuple(readings_of(one, panel, tables) for one in company)
    at = [t.id for t in company].index(trend.id) if len(company) > 1 else 0
    return Spec(_bare(trend), readings, at)


def _bare(trend: Trend) -> Trend:
    """A trend without what its fit does not depend on."""
    by_chance = trend if trend.intervals == "resampling" else _ANY
    return evolve(
        trend,
        resamples=by_chance.resamples,
        seed=by_chance.seed,
        id="",
        series="",
        shows=(),
        spot=None,
        extended=False,
        start=None,
        end=None,
        read_offs=(),
        told_at=(),
        treatment=UNTREATED,
    )


def _same_way(one: Trend, other: Trend) -> bool:
    """Whether two trends are fitted in the same way, however their intervals are found."""
    first, second = (_bare(evolve(trend, intervals="usual")) for trend in (one, other))
    return first == second


def fitted_trends(panel: Panel, tables: Tables) -> Iterator[tuple[Trend, Fit]]:
    """The trends of a panel that are drawn and can be put through their readings, with their
    fits."""
    for trend in panel.drawn_trends:
        with suppress(TrendImpossible):
            yield trend, trend_fit(trend, panel, tables)


def trend_symbols(trend: Trend, panel: Panel, tables: Tables) -> tuple[str, str]:
    """The symbols of x and y in the equation of a trend."""
    return symbols_for(*trend_columns(trend, panel, tables))
