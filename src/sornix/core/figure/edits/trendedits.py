"""Edits of trends: what they go through, how, and what is asked of them."""

from typing import Any

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.trendfits import possible_intervals, trend_model, trend_words
from sornix.core.figure.model.trend import (
    FORMULA,
    SHOWS,
    Meaning,
    OwnShape,
    Trend,
    Unknown,
)
from sornix.core.figure.model.values import Figure
from sornix.core.scales import check_range
from sornix.core.text import spoken
from sornix.core.trends import MODELS, ON_LOGS, UNTREATED, Setting


def add_trend(
    figure: Figure, series_id: str, model: str = "line", formula: str = "", **more: Any
) -> Figure:
    """A trend through the readings of a series, the model of a name or a typed formula.

    Refused: one that is there already, a formula that cannot be fitted.
    """
    panel = figure.panel
    series = panel.one_series(series_id)
    trend = Trend(figure.next_id("t"), series.id, model, formula=formula.strip(), **more)
    trend_model(trend)
    if any(_alike(trend, other) for other in panel.trends_of(series.id)):
        raise EditRefused(f"This series has its {trend_words(trend)} already.")
    return figure.with_panel(evolve(panel, trends=(*panel.trends, trend)))


def _alike(one: Trend, other: Trend) -> bool:
    """Whether two trends are made in the same way."""
    return _made(one) == _made(other)


def _made(trend: Trend) -> Trend:
    """A trend without what does not make another one of it."""
    return evolve(
        trend, id="", shows=(), spot=None, extended=False, read_offs=(), told_at=(),
        treatment=UNTREATED,
    )  # fmt: skip


def change_trend(figure: Figure, trend_id: str, **changes: Any) -> Figure:
    """A trend with another `series`, `model`, other `shows`, or held `start` and `end` of x.

    What was asked of the parameters of another model falls away. Refused: a range of x that does
    not rise, a formula that cannot be fitted.
    """
    panel = figure.panel
    old = figure.panel.one_trend(trend_id)
    fresh = evolve(old, **changes)
    if fresh.model != old.model:
        if fresh.model != FORMULA:
            fresh = evolve(fresh, formula="", called="", meanings=())
        names = trend_model(fresh).names
        kept = tuple(s for s in fresh.settings if "settings" in changes and s.name in names)
        fresh = evolve(
            fresh, settings=kept, shared=(), on_logs=fresh.on_logs and fresh.model in ON_LOGS
        )
        if fresh.weights == "both" and not trend_model(fresh).errors_in_both:
            fresh = evolve(fresh, weights="equal")
    elif fresh.formula != old.formula:
        names = trend_model(fresh).names
        settings = tuple(s for s in fresh.settings if s.name in names)
        meanings = tuple(m for m in fresh.meanings if m.name in names)
        # another formula is no more what the one before was called
        called = fresh.called if "called" in changes else ""
        fresh = evolve(fresh, settings=settings, meanings=meanings, called=called)
    fresh = _with_columns(fresh, figure)
    if fresh.intervals not in possible_intervals(fresh):
        fresh = evolve(fresh, intervals="usual")
    if fresh.start is not None and fresh.end is not None:
        check_range(fresh.start, fresh.end, spoken, of_axis=False)
    trends = tuple(fresh if t.id == trend_id else t for t in panel.trends)
    return figure.with_panel(evolve(panel, trends=trends))


def own_shape(trend: Trend, name: str, meanings: tuple[Meaning, ...],
              starts: tuple[Setting, ...]) -> OwnShape:  # fmt: skip
    """The formula of a trend as a shape under a name. Refused: no name, one that is taken."""
    name = " ".join(name.split())
    if not name:
        raise EditRefused("A shape needs a name.")
    if any(model.words.casefold() == name.casefold() for model in MODELS.values()):
        raise EditRefused(f"There is a shape “{name}” already.", remedy="Choose another name.")
    known = set(trend_model(trend).names)
    return OwnShape(name, trend.formula, tuple(m for m in meanings if m.name in known),
                    tuple(s for s in starts if s.name in known))  # fmt: skip


def put_own_shape(figure: Figure, trend_id: str, shape: OwnShape) -> Figure:
    """A trend of a shape of the user's own, which begins where that says."""
    return change_trend(
        figure, trend_id, model=FORMULA, formula=shape.formula, called=shape.name,
        meanings=shape.meanings, settings=shape.starts,
    )  # fmt: skip


_MOST_COLUMNS = 3


def _with_columns(trend: Trend, figure: Figure) -> Trend:
    """A trend without what goes ill with further columns; one of another shape has none. Refused:
    more columns than can be looked at, the columns that the series itself is of."""
    if not trend.columns or not trend_model(trend).in_several:
        return evolve(trend, columns=(), products=False)
    if len(trend.columns) > _MOST_COLUMNS:
        raise EditRefused(f"A line takes {_MOST_COLUMNS} further columns at most.")
    series = figure.panel.one_series(trend.series)
    if set(trend.columns) & {series.x, series.y}:
        raise EditRefused("A column that is drawn is no further one.")
    weights = "equal" if trend.weights == "both" else trend.weights
    return evolve(trend, settings=(), shared=(), weights=weights)


def change_setting(figure: Figure, trend_id: str, name: str, **changes: float | None) -> Figure:
    """Something else asked of a parameter of a trend: `held`, `low`, `high` or `start`.

    Refused: ends that do not rise.
    """
    trend = figure.panel.one_trend(trend_id)
    given: dict[str, Any] = dict(changes)
    setting = evolve(trend.setting(name), **given)
    if setting.low is not None and setting.high is not None:
        check_range(setting.low, setting.high, spoken, of_axis=False)
    return change_trend(figure, trend_id, settings=trend.with_setting(setting).settings)


def read_off_trend(
    figure: Figure, trend_id: str, y: float, replicates: int = 1, sd: float | None = None
) -> Figure:
    """Reads x off a trend for one more y, the mean of some replicates or with an SD of its own, and
    shows it there."""
    trend = figure.panel.one_trend(trend_id)
    if replicates < 1:
        raise EditRefused("A y is the mean of 1 replicate or more.")
    if sd is not None and sd <= 0:
        raise EditRefused("The standard deviation of a y is above 0.")
    asked = (*trend.read_offs, Unknown(y, replicates, sd))
    shows = tuple(name for name in SHOWS if name in (*trend.shows, "read-offs"))
    return change_trend(figure, trend_id, read_offs=asked, shows=shows)


def change_read_off(figure: Figure, trend_id: str, index: int, y: float | None) -> Figure:
    """Another y in place of one that is read off a trend, or none."""
    asked = list(figure.panel.one_trend(trend_id).read_offs)
    if y is None:
        del asked[index]
    else:
        asked[index] = evolve(asked[index], y=y)
    return change_trend(figure, trend_id, read_offs=tuple(asked))


def tell_at(figure: Figure, trend_id: str, x: float) -> Figure:
    """Tells the trend at one more x, or no more at one that is told."""
    told = figure.panel.one_trend(trend_id).told_at
    kept = tuple(one for one in told if one != x) if x in told else (*told, x)
    return change_trend(figure, trend_id, told_at=kept)


def treat_samples(figure: Figure, trend_id: str, **changes: float) -> Figure:
    """Something else that was done to the samples that are read off a trend: `dilution`,
    `recovery`, `recovery_sd`. Refused: what is not above 0."""
    trend = figure.panel.one_trend(trend_id)
    return change_trend(figure, trend_id, treatment=evolve(trend.treatment, **changes))


def remove_trend(figure: Figure, trend_id: str) -> Figure:
    """The figure without a trend."""
    panel = figure.panel
    return figure.with_panel(
        evolve(panel, trends=tuple(t for t in panel.trends if t.id != trend_id))
    )
