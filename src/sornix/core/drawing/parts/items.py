"""The display list: what a painter draws, in mm from the top left, y downward.

Every item says in `of` what it is a part of ("title", "x-axis", "series/s1", "trend/t1/line").
What the pointer can take hold of are boxes, each with the Target that it stands for.
"""

from collections.abc import Mapping, Sequence
from typing import NamedTuple, Protocol

import numpy as np
from attrs import evolve, field
from numpy.typing import NDArray

from sornix.core.figure import Series, Spot, Target
from sornix.core.frozen import frozen
from sornix.core.scales import Resolved
from sornix.core.text import Rich
from sornix.core.trends import Equation

Floats = NDArray[np.float64]


class Rect(NamedTuple):
    """A rectangle in mm."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        return self.left + self.width

    @property
    def bottom(self) -> float:
        return self.top + self.height

    @property
    def corners(self) -> Floats:
        """Its corners in turn, shape (4, 2)."""
        return np.array([[self.left, self.top], [self.right, self.top],
                         [self.right, self.bottom], [self.left, self.bottom]])  # fmt: skip

    def grown(self, by: float) -> "Rect":
        """The rectangle with `by` mm more on each side."""
        return Rect(self.left - by, self.top - by, self.width + 2 * by, self.height + 2 * by)

    def holds(self, x: float, y: float) -> bool:
        return self.left <= x <= self.right and self.top <= y <= self.bottom

    def meets(self, other: "Rect") -> bool:
        """Whether the two have more than an edge in common."""
        along = self.left < other.right and other.left < self.right
        return along and self.top < other.bottom and other.top < self.bottom


def at_spot(spot: Spot, area: Rect, width: float, height: float) -> Rect:
    """The rectangle of that size whose top left stands at a spot of `area`."""
    return Rect(area.left + spot.x * area.width, area.top + spot.y * area.height, width, height)


class Stroke(NamedTuple):
    """A pen: colour `#rrggbb`, width in mm, lengths of dashes and gaps in mm."""

    colour: str
    width_mm: float
    dashes: tuple[float, ...] = ()


@frozen(eq=False)
class Lines:
    """Single lines: `ends` (n, 4) holds x1, y1, x2, y2."""

    of: str
    ends: Floats
    stroke: Stroke


@frozen(eq=False)
class Path:
    """A line through `points` (n, 2), broken at NaN."""

    of: str
    points: Floats
    stroke: Stroke


@frozen(eq=False)
class Markers:
    """A shape at each of `points` (n, 2), which stand for the row indices `rows` (n,); of so many
    readings that no eye tells them apart each may stand for several, `weights` (n,) of them."""

    of: str
    points: Floats
    rows: NDArray[np.intp]
    shape: str
    size_mm: float
    fill: str
    edge: Stroke
    weights: NDArray[np.intp] | None = None

    @property
    def count(self) -> int:
        """How many readings it shows."""
        return len(self.points) if self.weights is None else int(self.weights.sum())

    def some(self, most: int) -> tuple[Floats, int]:
        """About `most` of its points where there are more, and for how many each stands."""
        return _some((self.points,), most)


def _some(points: Sequence[Floats], most: int) -> tuple[Floats, int]:
    each = max(sum(map(len, points)) // most, 1)
    return np.concatenate([part[::each] for part in points]), each


class CrowdPart(NamedTuple):
    """The readings of one series in a crowd, at `points` (n, 2), each of which stands for as many
    as `weights` (n,) says, or for one."""

    of: str
    points: Floats
    colour: str
    weights: NDArray[np.intp] | None = None


@frozen(eq=False)
class Crowd:
    """More markers than can be told apart: a dot of `dot_mm` for each reading, and the shade of a
    place grows with the number of dots there, in equal steps of light from one dot to the colour
    of the readings, where `full` or more of them lie. Where several series meet, each takes its
    part of the shade."""

    of: str
    area: Rect
    parts: tuple[CrowdPart, ...]
    dot_mm: float
    full: float
    paper: str

    def some(self, most: int) -> tuple[Floats, int]:
        """About `most` of its points, and for how many each stands."""
        return _some([part.points for part in self.parts], most)


class Crowding(NamedTuple):
    """How the markers of a panel stand against being too many: their `size` as a part of the
    style's, whether they are `outlined`, at how many readings a shade is `full` (None: drawn one by
    one), and which share of them is `hidden` by others."""

    size: float = 1.0
    outlined: bool = True
    full: float | None = None
    hidden: float = 0.0


UNCROWDED = Crowding()


@frozen
class Text:
    """Runs of text from `x`, `y` on the baseline.

    `anchor` 0 begins, 0.5 centres and 1 ends the text at x; it is turned there by `angle` degrees
    against the clock.
    """

    of: str
    x: float
    y: float
    runs: Rich
    size_mm: float
    colour: str
    anchor: float = 0.0
    bold: bool = False
    angle: float = 0.0


@frozen(eq=False)
class Fill:
    """An area of one colour inside the corners `points` (n, 2), which hides only the `cover` part
    of what lies under it."""

    of: str
    points: Floats
    colour: str
    cover: float = 1.0


@frozen(eq=False)
class Rects:
    """Upright rectangles `corners` (n, 4), each left, top, right, bottom, which stand for the row
    indices `rows` (n,)."""

    of: str
    corners: Floats
    rows: NDArray[np.intp]
    colour: str
    edge: Stroke


Item = Lines | Path | Markers | Crowd | Text | Fill | Rects


class Measure(Protocol):
    """Sizes of text in mm, asked of whoever will paint it; the same ones at all times."""

    def __hash__(self) -> int: ...

    def width(self, runs: Rich, size_mm: float, *, bold: bool = False) -> float: ...

    def ascent(self, size_mm: float) -> float:
        """Height of figures and capitals above the baseline."""
        ...

    def descent(self, size_mm: float) -> float: ...

    def lacks(self, text: str) -> str:
        """The letters of a text that no font has, each once."""
        ...


@frozen
class PanelPlace:
    """Where a panel's readings stand: `inner` is the rectangle from start to end of both scales.

    `second` are the scales at the other sides, by axis; `notes` what scales could not follow;
    `equations` are by trend id, as printed; `crowding` is how its many markers are drawn.
    """

    inner: Rect
    x: Resolved
    y: Resolved
    equations: Mapping[str, Equation] = field(factory=dict)
    second: Mapping[str, Resolved] = field(factory=dict)
    crowding: Crowding = UNCROWDED

    @property
    def notes(self) -> tuple[str, ...]:
        return tuple(scale.note for scale in self.scales.values() if scale.note)

    @property
    def scales(self) -> dict[str, Resolved]:
        """Every scale by axis."""
        return {"x": self.x, "y": self.y, **self.second}

    def scale(self, axis: str) -> Resolved:
        """The scale of an axis. Raises KeyError."""
        return self.scales[axis]

    def on(self, series: Series) -> "PanelPlace":
        """The same place with the scales that a series stands on as x and y."""
        if not self.second:
            return self
        return evolve(self, x=self.scale(series.x_axis), y=self.scale(series.y_axis))

    def place(self, x: Floats, y: Floats) -> Floats:
        """Readings (n,), (n,) to mm, (n, 2)."""
        # what lies beyond all numbers lies beyond the paper
        with np.errstate(over="ignore", invalid="ignore"):
            across = self.inner.left + self.x.position(x) * self.inner.width
            down = self.inner.bottom - self.y.position(y) * self.inner.height
        return np.column_stack((across, down))


class Box(NamedTuple):
    """Where something that can be taken hold of stands, whatever it is made of, and the panel that
    it belongs to."""

    of: Target
    rect: Rect
    panel: int = 0


@frozen
class Drawing:
    """A figure ready to be painted. Of `boxes`, later ones lie above earlier ones; `panels` are in
    the order of the figure, and `hand` is the one in hand. So many `of_panels` of the items are of
    each panel, in their order, and the others of the figure. No font has the letters `unwritten`.
    """

    width_mm: float
    height_mm: float
    background: str
    items: tuple[Item, ...]
    panels: tuple[PanelPlace, ...] = ()
    boxes: tuple[Box, ...] = ()
    hand: int = 0
    of_panels: tuple[int, ...] = ()
    unwritten: str = ""

    @property
    def place(self) -> PanelPlace:
        """The place of the panel in hand."""
        return self.panels[self.hand]

    @property
    def equations(self) -> dict[str, str]:
        """The equations by trend id, as printed."""
        return {name: e.text for place in self.panels for name, e in place.equations.items()}

    @property
    def shades(self) -> list[float | None]:
        """At how many readings the shade of each panel is full, None where it has none."""
        return [place.crowding.full for place in self.panels]

    def panel_at(self, x: float, y: float, reach: float = 0.0) -> int | None:
        """The panel whose data area holds a point in mm."""
        for index, place in enumerate(self.panels):
            if place.inner.grown(reach).holds(x, y):
                return index
        return None

    def box_at(self, x: float, y: float, reach: float = 0.0) -> Box | None:
        """The uppermost box at a point in mm."""
        for box in reversed(self.boxes):
            if box.rect.grown(reach).holds(x, y):
                return box
        return None

    def box_of(self, of: Target) -> Rect | None:
        """The rectangle of something, in the panel in hand if it is there."""
        found = [box for box in self.boxes if box.of == of]
        return next((b.rect for b in sorted(found, key=lambda b: b.panel != self.hand)), None)
