"""The closer look: other ranges on the paper, the figure itself unchanged."""

from collections.abc import Mapping

from attrs import evolve

from sornix.core.document import Document
from sornix.core.drawing import PanelPlace
from sornix.core.errors import SornixError
from sornix.core.figure import hold_view
from sornix.core.frozen import frozen
from sornix.gui.session.scene import Scene

# A look closer than this shows nothing but the grain of the numbers.
_CLOSEST = 1e-9


@frozen
class Look:
    """The ranges that are looked at, by axis."""

    ranges: Mapping[str, tuple[float, float]]


def look_at(place: PanelPlace, stretches: Mapping[str, tuple[float, float]]) -> Look | None:
    """The look at stretches given in places of the present axes, by axis or for all that run along
    `x` or `y`; None if too close, or where there are no such places."""
    ranges = {}
    for axis, scale in place.scales.items():
        stretch = stretches.get(axis, stretches.get(axis[0], (0.0, 1.0)))
        try:
            whole = stretch == (0.0, 1.0)
            start, end = (scale.start, scale.end) if whole else scale.window(*stretch)
        except SornixError:
            # beyond the calendar, or beyond all numbers
            return None
        if not end - start > _CLOSEST * max(abs(start), abs(end)):
            return None
        ranges[axis] = start, end
    return Look(ranges)


def looked_at(scene: Scene, look: Look) -> Scene:
    """The scene as the look shows it: its ranges held, free steps, nothing else changed."""
    figure = hold_view(scene.figure, look.ranges)
    for axis in look.ranges:
        figure = figure.with_scale(axis, evolve(figure.panel.scale(axis), step=None))
    return Scene(Document(scene.tables, figure), scene.measure)
