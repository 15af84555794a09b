"""A series as a value: its readings, its mark, and how it differs from its palette's look."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from attrs import evolve, field

from sornix.core.figure.model.checks import NOT_BELOW_0, between, one_of, told
from sornix.core.figure.model.scale import COLOUR, DASHES
from sornix.core.frozen import frozen

# Shapes of markers; the first seven are those of the palette.
SHAPE_NAMES = (
    "circle", "square", "triangle", "diamond", "down-triangle", "pentagon", "cross", "hexagon",
    "star", "plus", "left-triangle", "right-triangle",
)  # fmt: skip


class Mark(NamedTuple):
    """A way of drawing a series: `name` in files and commands, `words` in statements.

    It has `points`, a line along a `path` (a name in core.drawing.marks.paths.JOINED, or none), an
    `area` under that line, or `bars`.
    """

    name: str
    words: str
    points: bool = False
    path: str = ""
    area: bool = False
    bars: bool = False

    @property
    def line(self) -> bool:
        return bool(self.path)


MARKS: dict[str, Mark] = {
    mark.name: mark
    for mark in (
        Mark("points", "points", points=True),
        Mark("line", "line", path="straight"),
        Mark("points-and-line", "points and line", points=True, path="straight"),
        Mark("smooth", "smooth curve", path="smooth"),
        Mark("steps", "steps", path="steps"),
        Mark("area", "area", path="straight", area=True),
        Mark("bars", "bars", bars=True),
    )
}
# What becomes of several readings at one place.
TOGETHER: Mapping[str, str] = MappingProxyType(
    {"each": "every", "mean": "mean of", "sum": "sum of"}
)
# Where the lengths of error bars come from.
ERRORS: Mapping[str, str] = MappingProxyType(
    {
        "fixed": "a fixed length",
        "percent": "percent of the value",
        "column": "a column",
        "pair": "two columns, below and above",
        "bounds": "two columns of their ends",
        "sd": "SD of readings at one place",
        "se": "SE of readings at one place",
        "ci95": "95 % interval of their mean",
    }
)
# Those that stand in two columns.
IN_TWO_COLUMNS = ("pair", "bounds")
# Those that need several readings at one place, and are about their mean.
OF_REPLICATES = ("sd", "se", "ci95")
# What can be written at each point, besides the cells of a column.
WRITTEN: Mapping[str, str] = MappingProxyType(
    {"": "nothing written at them", "y": "y written at them", "x": "x written at them",
     "name": "name written at them"}
)  # fmt: skip
_MARK_SIZE = between(0, 20, "mm", above=True)


@frozen
class LeftOut:
    """A reading that takes no part in trends and is drawn hollow: its row index, and why."""

    row: int = field(validator=NOT_BELOW_0, metadata=told("row index from 0"))
    reason: str = ""


@frozen
class ErrorBars:
    """The lengths of error bars: `kind` is a name in ERRORS, `size` their length or percent,
    `column` (and `upper`, of a pair) what holds them, or their lower and upper ends, of bounds. A
    `band` is drawn instead of bars."""

    kind: str = field(validator=one_of(ERRORS))
    size: float = field(default=0.0, validator=NOT_BELOW_0, metadata=told("length, or percent"))
    column: str | None = None
    upper: str | None = field(default=None, metadata=told("of a pair: the column of lengths above"))
    band: bool = False


@frozen
class SeriesStyle:
    """What differs from the look that the palette gives: "" and None are as the palette has it."""

    colour: str = field(default="", validator=COLOUR)
    shape: str = field(default="", validator=one_of(SHAPE_NAMES, ""))
    filled: bool = True
    size_mm: float | None = field(
        default=None, validator=_MARK_SIZE, metadata=told("null: as the style has it")
    )
    width_mm: float | None = field(
        default=None, validator=_MARK_SIZE, metadata=told("null: as the style has it")
    )
    dash: str = field(default="", validator=one_of(DASHES, ""))


_AS_THE_PALETTE = SeriesStyle()


@frozen
class Only:
    """The rows of a table in which a `column` holds a `value`, as its cells say it."""

    column: str
    value: str = field(metadata=told("as the cells say it"))


@frozen
class Series:
    """The readings of two columns drawn in one way. A column None stands for the row number.

    It stands on the scales `x_axis` (x, or x2 above) and `y_axis` (y, or y2 at the right). `only`
    takes some of the rows of its table. Several readings at one place are drawn `together` as a
    name in TOGETHER says, with the single ones behind if `replicates`. `written` is what stands at
    each point: a name in WRITTEN, or "=" and that of a column.

    `palette_index` is the place in the palette of colours and shapes, and stays with the series.
    `name` None follows the column by which the series differs. `left_out` is in order of rows.
    """

    id: str
    table: str = field(metadata=told("Title of a resource in datapackage.json"))
    x: str | None = field(metadata=told("Name of a column; null: the row number"))
    y: str | None
    mark: str = field(default="points", validator=one_of(MARKS))
    palette_index: int = field(
        default=0,
        validator=NOT_BELOW_0,
        metadata=told("Place in the palette of colours, shapes and dashes"),
    )
    name: str | None = field(default=None, metadata=told("null: the name of the y column"))
    only: Only | None = None
    left_out: tuple[LeftOut, ...] = ()
    x_axis: str = field(default="x", validator=one_of(("x", "x2")))
    y_axis: str = field(default="y", validator=one_of(("y", "y2")))
    together: str = field(
        default="each",
        validator=one_of(TOGETHER),
        metadata=told("what is drawn of several readings at one place"),
    )
    replicates: bool = False
    errors_x: ErrorBars | None = None
    errors_y: ErrorBars | None = None
    written: str = field(
        default="", metadata=told('"", "x", "y", "name", or "=" and the name of a column')
    )
    hidden: bool = False
    style: SeriesStyle = _AS_THE_PALETTE

    @property
    def columns(self) -> tuple[str, ...]:
        """The names of all columns that it needs, each once."""
        found = [self.x, self.y, self.only.column if self.only else None]
        for errors in (self.errors_x, self.errors_y):
            found += [errors.column, errors.upper] if errors is not None else []
        found.append(self.written[1:] if self.written.startswith("=") else None)
        return tuple(dict.fromkeys(name for name in found if name))

    def following(self, names: Mapping[str, str]) -> "Series":
        """The series after columns of its table were renamed."""

        def new(name: str | None) -> str | None:
            return names.get(name, name) if name else name

        def follow(errors: ErrorBars | None) -> ErrorBars | None:
            if errors is None:
                return None
            return evolve(errors, column=new(errors.column), upper=new(errors.upper))

        only, written = self.only, self.written
        if only is not None:
            only = evolve(only, column=names.get(only.column, only.column))
        if written.startswith("="):
            written = f"={new(written[1:])}"
        return evolve(
            self, x=new(self.x), y=new(self.y), only=only, written=written,
            errors_x=follow(self.errors_x), errors_y=follow(self.errors_y),
        )  # fmt: skip

    def errors(self, direction: str) -> ErrorBars | None:
        """Its error bars along `x` or `y`."""
        return self.errors_x if direction == "x" else self.errors_y

    def on(self, axis: str) -> "Series":
        """The series on that axis instead."""
        changes: dict[str, Any] = {f"{axis[0]}_axis": axis}
        return evolve(self, **changes)

    def axis(self, direction: str) -> str:
        """The axis on which the series stands, along `x` or `y`."""
        return self.x_axis if direction == "x" else self.y_axis

    def column(self, axis: str) -> str | None:
        """The name of its column along an axis."""
        return self.x if axis[0] == "x" else self.y
