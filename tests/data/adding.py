"""One thing of each kind, added from outside: what docs/adding.md shows, whole."""

from collections.abc import Iterator
from pathlib import Path

import numpy as np

from sornix.core.cautions import CAUTIONS, Finding, View
from sornix.core.document import EXPORT_ENDINGS, Export
from sornix.core.drawing import Drawing
from sornix.core.drawing.marks.paths import JOINED
from sornix.core.figure import MARKS, Mark
from sornix.core.readings import Table, number_column
from sornix.core.readings.formats.sources import FILE_TYPES, FileType
from sornix.core.readings.tables.dialect import Held
from sornix.core.scales import KINDS, AxisConstraints, Extent, Resolved, Room, Traits
from sornix.core.scales.kind import Floats
from sornix.core.scales.linear import Linear
from sornix.core.trends import MODELS, ByFormula, Sample
from sornix.paint.export import FORMATS, Told


# -- a mark: lines that drop to the next height before they go on --------------------------------
def dropped(points: Floats) -> Floats:
    """A line (n, 2), broken at NaN, that takes the height of the next point at once."""
    corners = np.column_stack((points[:-1, 0], points[1:, 1]))
    return np.insert(points, np.arange(1, len(points)), corners, axis=0)


JOINED["drops"] = dropped
MARKS["drops"] = Mark("drops", "drops", path="drops")


# -- a kind of scale: places by the root --------------------------------------------------------
class Root(Linear):
    """Counts and areas: equal changes look smaller the larger the numbers are."""

    name = "root"
    traits = Traits(offers={"10": "square root"})
    why = "a root needs readings of at least 0"

    def shows(self, values: Floats) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
        return values >= 0

    def position(self, values: Floats, start: float, end: float) -> Floats:
        low, high = np.sqrt(max(start, 0.0)), np.sqrt(end)
        with np.errstate(invalid="ignore"):
            found: Floats = (np.sqrt(values) - low) / (high - low)
        return found

    def value(self, places: Floats, start: float, end: float) -> Floats:
        low, high = np.sqrt(max(start, 0.0)), np.sqrt(end)
        found: Floats = (low + np.maximum(places, 0.0) * (high - low)) ** 2
        return found

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        found = super().resolve(extent, held, room, reverse=reverse)
        return Resolved("root", max(found.start, 0.0), found.end, found.ticks, found.step, reverse)


KINDS["root"] = Root()


# -- a model -------------------------------------------------------------------------------------
def places_of_half(sample: Sample) -> Floats:
    """Where the search looks for the parameters that enter in no straight way."""
    return np.geomspace(1e-3, 10, 60)[:, None] * float(np.abs(sample.x).max())


MODELS["inverse-rise"] = ByFormula(
    "inverse-rise", "inverse rise", "f + g / (1 + x / w)",
    {"f": "level far out", "g": "height at 0", "w": "place of half of it"}, places_of_half,
    {"f": "y", "g": "y", "w": "x"},
)  # fmt: skip


# -- a caution -----------------------------------------------------------------------------------
def alike(view: View) -> Iterator[Finding]:
    """Two columns that hold the same."""
    for series in view.panel.series:
        if series.x == series.y:
            yield Finding(f"{view.name(series)} is drawn against itself.")


CAUTIONS["alike"] = alike


# -- a type of file ------------------------------------------------------------------------------
def read_pairs(path: Path, _sheet: str | None, _held: Held) -> tuple[Table, ...]:
    """x=y in each line."""
    pairs = [line.split("=") for line in path.read_text().splitlines()]
    columns = zip(*((float(x), float(y)) for x, y in pairs), strict=True)
    return (Table(path.stem, tuple(map(number_column, ("x", "y"), columns))),)


FILE_TYPES["pairs"] = FileType("Pairs", (".pairs",), (), read_pairs)


# -- a format of figures -------------------------------------------------------------------------
def counted(drawing: Drawing, _how: Export, _told: Told) -> bytes:
    """What is on the paper, in words."""
    return f"{len(drawing.items)} items in {len(drawing.panels)} panel\n".encode()


EXPORT_ENDINGS[".told"] = "TOLD, what is on it"
FORMATS[".told"] = counted
