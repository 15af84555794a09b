"""A trend drawn where nothing was measured."""

import math
from collections.abc import Iterator
from functools import partial

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import change_trend, fitted_trends, trend_words
from sornix.core.text import as_subject, shortest


def find(view: View) -> Iterator[Finding]:
    for trend, fit in fitted_trends(view.panel, view.tables):
        if not trend.extended:
            continue
        scale = view.place.on(view.panel.one_series(trend.series)).x
        least, greatest = fit.ends
        part = max(least - scale.start, scale.end - greatest) / ((greatest - least) or 1.0)
        if part > 0:
            ends = view.range_along(trend, fit)
            words = trend_words(trend)
            # beside an axis to the end of all numbers, their range is nothing
            far = shortest(part * 100, 0.5)
            by = f", by up to {far} % of their range" if math.isfinite(part * 100) else ""
            yield Finding(
                f"{as_subject(words, 'is', 'are', known=True)} drawn beyond the readings "
                f"(x {ends}){by}. Nothing was measured there.",
                Remedy(
                    "Draw it over the readings only",
                    f"shortened the {words}",
                    partial(change_trend, trend_id=trend.id, extended=False),
                ),
            )
