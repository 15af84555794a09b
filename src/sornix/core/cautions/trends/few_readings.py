"""A trend with too little under it to be judged."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.errors import TrendImpossible
from sornix.core.figure import TrendPending, trend_fit, trend_words
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    for trend in view.panel.trends:
        try:
            count = trend_fit(trend, view.panel, view.tables).n
        except TrendPending:
            continue
        except TrendImpossible as error:
            yield Finding(str(error))
            continue
        if count < 3:
            yield Finding(
                f"The {trend_words(trend)} goes through {plural(count, 'reading')} only: it "
                "fits them whatever they are, and R² says nothing."
            )
