"""Markers that others hide."""

from collections.abc import Iterator

from attrs import evolve

from sornix.core.cautions.caution import Finding, Remedy, View
from sornix.core.figure import Figure

# With so large a share hidden nobody is misled; with more, a figure looks emptier than it is.
_MILD, _MUCH = 0.1, 0.25


def find(view: View) -> Iterator[Finding]:
    hidden = view.place.crowding.hidden
    if hidden <= _MILD:
        return
    held = any(series.style.size_mm for series in view.panel.shown)
    yield Finding(
        f"{100 * hidden:.0f} % of the markers are hidden by others.",
        Remedy("Let their size follow their number", "freed the size of markers", _freed)
        if held
        else None,
        mild=hidden < _MUCH,
        size=hidden,
    )


def _freed(figure: Figure) -> Figure:
    """The figure with the sizes of markers in the panel in hand as they come about."""
    panel = figure.panel
    series = [evolve(one, style=evolve(one.style, size_mm=None)) for one in panel.series]
    return figure.with_panel(evolve(panel, series=tuple(series)))
