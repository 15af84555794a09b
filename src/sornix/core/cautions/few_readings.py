"""A trend with too little under it to be judged."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.errors import TrendImpossible
from sornix.core.figure import trend_fit
from sornix.core.text import plural
from sornix.core.trends import MODELS


def find(view: View) -> Iterator[Finding]:
    for trend in view.panel.trends:
        try:
            count = trend_fit(trend, view.panel, view.tables).n
        except TrendImpossible as error:
            yield Finding(str(error))
            continue
        if count < 3:
            yield Finding(
                f"The {MODELS[trend.model].words} goes through {plural(count, 'reading')} only: it "
                "fits them whatever they are, and R² says nothing."
            )
