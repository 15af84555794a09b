"""Something read off a trend where nothing was measured."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.figure import fitted_trends, trend_words
from sornix.core.text import spoken


def find(view: View) -> Iterator[Finding]:
    for trend, fit in fitted_trends(view.panel, view.tables):
        if not (trend.read_offs or trend.told_at):
            continue
        from sornix.core.figure.prose.trendreport import asked_read_offs

        least, greatest = fit.ends
        within, said = (greatest - least) * 1e-3, view.words_along(trend)
        beyond = [f"{said(one.x, within)} for y = {spoken(one.y)}"
                  for one in asked_read_offs(trend, fit) if one and one.beyond]  # fmt: skip
        beyond += [f"x = {said(x, 0.0)}" for x in trend.told_at if not least <= x <= greatest]
        if beyond:
            yield Finding(
                f"Read off the {trend_words(trend)} beyond its readings "
                f"(x {view.range_along(trend, fit)}): "
                f"{', '.join(beyond)}. Nothing says that the shape goes on there."
            )
