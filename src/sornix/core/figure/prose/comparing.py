"""Several shapes through the same readings, side by side."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.figure.derived.fitviews import TrendPending
from sornix.core.figure.derived.trendfits import trend_fit, trend_symbols, trend_words
from sornix.core.figure.model.trend import FORMULA, Trend
from sornix.core.figure.model.values import Panel
from sornix.core.readings import Tables
from sornix.core.trends import Equation, Fit
from sornix.core.trends.fits.statistics import FTest, nested_test

# Shapes that are tried where nothing else is asked.
USUAL = ("line", "polynomial-2", "exponential", "power", "logarithm", "saturation", "decay")
# Half the width of a trend's line, as a part of the height of a report figure's data area.
_HALF_LINE = 0.16 / 46
# A shape whose criterion is within this of the least is told apart from it by nothing (K. P.
# Burnham and D. R. Anderson, "Model Selection and Multimodel Inference", 2002, section 2.6).
ALIKE = 2.0
# Shapes that are others with some parameter held, besides polynomials of rising degree.
_WITHIN = {
    "line-through-origin": ("line",),
    "line": (),
    "exponential": ("decay", "two-step-decay"),
    "decay": ("two-step-decay",),
}


class Compared(NamedTuple):
    """A shape that was tried: the trend as it would be, its fit and equation, or why there is
    none; `pending` while it is being worked out; `apart`: how much its AICc is above the least."""

    trend: Trend
    words: str
    fit: Fit | None
    equation: Equation | None
    why: str
    pending: bool
    apart: float | None


class Nested(NamedTuple):
    """An F test of a shape against one that has it within."""

    small: str
    large: str
    test: FTest


def compared(trend: Trend, panel: Panel, tables: Tables, models: Sequence[str]) -> list[Compared]:
    """A trend with each of the models, the one with the least AICc first, those without one last.
    All go through the same readings with the same weights, and all by least squares on them."""
    found = []
    for model in models:
        one = trend if model == trend.model else evolve(
            trend, model=model, settings=(),
            weights="equal" if trend.weights == "both" else trend.weights,
        )  # fmt: skip
        one = evolve(
            one, on_logs=False, method="least-squares", shared=(), intervals="usual"
        )  # fmt: skip
        if model == FORMULA and not one.formula:
            continue
        found.append(_tried(one, panel, tables))
    least = min((c.fit.aicc for c in found if c.fit and c.fit.aicc is not None), default=None)

    def with_distance(one: Compared) -> Compared:
        if least is None or one.fit is None or one.fit.aicc is None:
            return one
        return one._replace(apart=one.fit.aicc - least)

    told = [with_distance(one) for one in found]
    return sorted(told, key=lambda c: (c.apart is None, c.apart or 0.0, c.fit is None))


def _tried(trend: Trend, panel: Panel, tables: Tables) -> Compared:
    words = trend_words(trend)
    try:
        fit = trend_fit(trend, panel, tables, at_once=False)
    except TrendPending:
        return Compared(trend, words, None, None, "", pending=True, apart=None)
    except TrendImpossible as error:
        return Compared(trend, words, None, None, str(error), pending=False, apart=None)
    drawn = fit.ends
    symbols = trend_symbols(trend, panel, tables)
    equation = fit.equation(symbols, drawn, float(np.ptp(fit.y)) * _HALF_LINE)
    return Compared(trend, words, fit, equation, "", pending=False, apart=None)


def nested(found: Sequence[Compared]) -> list[Nested]:
    """F tests of the shapes of which one has another within it."""
    tests = []
    for small in found:
        for large in found:
            if small.fit is None or large.fit is None:
                continue
            if not _is_within(small.trend.model, large.trend.model):
                continue
            test = nested_test(small.fit, large.fit)
            if test is not None:
                tests.append(Nested(small.words, large.words, test))
    return tests


def _is_within(small: str, large: str) -> bool:
    if large in _WITHIN.get(small, ()):
        return True
    both = (small, large)
    degrees = [1 if name == "line" else int(name.rpartition("-")[2]) for name in both
               if name == "line" or name.startswith("polynomial-")]  # fmt: skip
    return len(degrees) == 2 and degrees[0] < degrees[1]
