"""A fit that did not come to rest, or whose readings leave parameters open."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.figure import fitted_trends, trend_words
from sornix.core.text import capital
from sornix.core.trends import UNDETERMINED, UNSETTLED, UNSURE


def find(view: View) -> Iterator[Finding]:
    for trend, fit in fitted_trends(view.panel, view.tables):
        for note in fit.notes:
            if note.startswith((UNSETTLED, UNDETERMINED, UNSURE)):
                words = trend_words(trend)
                yield Finding(f"{capital(words)}: {note[:1].lower()}{note[1:]}")
