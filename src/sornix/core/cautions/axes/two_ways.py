"""A trend that comes out differently on the readings and on their logarithms."""

import math
from collections.abc import Iterator
from functools import partial

from attrs import evolve

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.errors import TrendImpossible
from sornix.core.figure import change_trend, trend_fit, trend_words
from sornix.core.text import with_error
from sornix.core.trends import ON_LOGS

# So many standard errors of the difference are more than chance.
_MANY = 3.0


def find(view: View) -> Iterator[Finding]:
    for trend in view.panel.trends:
        if trend.model not in ON_LOGS:
            continue
        turned = evolve(trend, on_logs=not trend.on_logs, method="least-squares")
        if any(t.on_logs != trend.on_logs and (t.series, t.model) == (trend.series, trend.model)
               for t in view.panel.trends):  # fmt: skip
            # both ways are shown already
            continue
        try:
            this = trend_fit(trend, view.panel, view.tables)
            other = trend_fit(turned, view.panel, view.tables)
        except TrendImpossible:
            continue
        name = this.names[-1]
        errors = [fit.standard_error(name) for fit in (this, other)]
        if None in errors:
            continue
        apart = abs(this.value(name) - other.value(name))
        if apart <= _MANY * math.hypot(*(error or 0.0 for error in errors)):
            continue
        fits = (other, this) if trend.on_logs else (this, other)
        values = [with_error(fit.value(name), fit.standard_error(name)) for fit in fits]
        meaning = this.by.meanings.get(name, name)
        instead = "the readings themselves" if trend.on_logs else "their logarithms"
        yield Finding(
            f"The {meaning} of the {trend_words(evolve(trend, on_logs=False))} is {values[0]} on "
            f"the readings and {values[1]} on their logarithms. The readings follow the large "
            "values, the logarithms count small ones as much; one of them does not fit the shape.",
            Remedy(
                f"Fit {instead}",
                f"fitted {instead}",
                partial(change_trend, trend_id=trend.id, on_logs=not trend.on_logs),
            ),
        )
