"""A figure that is too small for what stands in it."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, set_size
from sornix.core.text import spoken

# A data area that is smaller than this, in mm, shows nothing, and its labels may not fit the page.
_LEAST_MM = 9.0
_LARGER = 1.5


def _enlarged(figure: Figure) -> Figure:
    try:
        return set_size(figure, figure.width_mm * _LARGER, figure.height_mm * _LARGER)
    except EditRefused:
        return figure


def find(view: View) -> Iterator[Finding]:
    inner = view.place.inner
    if min(inner.width, inner.height) < _LEAST_MM:
        size = " × ".join(spoken(round(side, 1)) for side in (inner.width, inner.height))
        yield Finding(
            f"Only {size} mm are left for the readings, and texts may not fit the page.",
            Remedy("Make the figure larger", "made the figure larger", _enlarged),
        )
