"""The closer look: other ranges on the paper, the figure itself unchanged."""

from typing import NamedTuple

from attrs import evolve

from sornix.core.document import Document
from sornix.core.drawing import PanelPlace
from sornix.core.figure import hold_view
from sornix.desk.workbench import Scene

# A look closer than this shows nothing but the grain of the numbers.
_CLOSEST = 1e-9


class Look(NamedTuple):
    """Ranges of x and y that are looked at."""

    x: tuple[float, float]
    y: tuple[float, float]


def look_at(place: PanelPlace, x: tuple[float, float], y: tuple[float, float]) -> Look | None:
    """The look at a stretch of each axis, given in places of the present one; None if too close."""
    ranges = (place.x.window(*x), place.y.window(*y))
    for start, end in ranges:
        if not end - start > _CLOSEST * max(abs(start), abs(end)):
            return None
    return Look(*ranges)


def looked_at(scene: Scene, look: Look) -> Scene:
    """The scene as the look shows it: both ranges held, free steps, nothing else changed."""
    figure = hold_view(scene.figure, look.x, look.y)
    panel = figure.panel
    free = evolve(panel, x=evolve(panel.x, step=None), y=evolve(panel.y, step=None))
    figure = evolve(figure, panels=(free, *figure.panels[1:]))
    return Scene(Document(scene.tables, figure), scene.measure)
