"""Figure, panel, series, scale and trend: frozen values, changed only by making new ones."""

import math
from collections.abc import Callable, Container, Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from attrs import Attribute, field, frozen

from sornix.core.scales import KINDS
from sornix.core.trends import MODELS


class Mark(NamedTuple):
    """A way of drawing a series: `name` in files and commands, `words` in statements."""

    name: str
    words: str
    points: bool
    line: bool


MARKS: Mapping[str, Mark] = MappingProxyType(
    {
        mark.name: mark
        for mark in (
            Mark("points", "points", points=True, line=False),
            Mark("line", "line", points=False, line=True),
            Mark("points-and-line", "points and line", points=True, line=True),
        )
    }
)
# What a trend may write on the figure.
SHOWS: Mapping[str, str] = MappingProxyType(
    {"equation": "equation", "r-squared": "R²", "count": "n"}
)


# How the ticks of a scale are labelled, by names in files and commands.
LABELS: Mapping[str, str] = MappingProxyType(
    {
        "free": "labels as needed",
        "power": "labels as powers of ten",
        "thousands": "labels in thousands (k)",
        "percent": "labels as percent of 1",
        "none": "no labels",
    }
    | {str(n): f"labels with {n} decimals" for n in (0, 2, 3, 4, 5, 6)}
    | {"1": "labels with 1 decimal"}
)


# The bases of a log scale, by names in files.
BASES: Mapping[str, float] = MappingProxyType({"10": 10.0, "2": 2.0, "e": math.e})


# Validators of our own: attrs' module of them takes 6 ms to import, and the start counts.
_Validator = Callable[[object, "Attribute[Any]", Any], None]


def _valid(rule: Callable[[Any], bool], words: str) -> _Validator:
    """A validator that raises ValueError with the attribute's name and `words`."""

    def check(_instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        if not rule(value):
            raise ValueError(f"{attribute.name} must be {words}, not {value!r}")

    return check


def _one_of(names: Container[str | None]) -> _Validator:
    return _valid(lambda value: value in names, "one of those known")


_FINITE = _valid(lambda v: v is None or abs(v) < float("inf"), "a finite number")
_STEP = _valid(lambda v: v is None or 0 < v < float("inf"), "a number above 0")
_NOT_EMPTY = _valid(lambda value: len(value) > 0, "one or more")
_SIZE = _valid(lambda value: 20 <= value <= 2000, "20 to 2000 mm")
_LOOK = _valid(lambda value: value >= 0, "0 or more")


@frozen
class LeftOut:
    """A reading that takes no part in trends and is drawn hollow: its row index, and why."""

    row: int = field(validator=_LOOK)
    reason: str = ""


@frozen
class Spot:
    """Where something that was dragged stands: its top left, in parts of the data area (for a
    label or the legend) or of the figure (for the title), from the upper left corner."""

    x: float = field(validator=_FINITE)
    y: float = field(validator=_FINITE)


@frozen
class Other:
    """An axis in other units on the other side: its value there is `factor` times that on the axis,
    and `offset` more. `title` is written beside it."""

    factor: float = field(validator=_valid(lambda v: v != 0 and abs(v) < float("inf"), "not 0"))
    offset: float = field(default=0.0, validator=_FINITE)
    title: str = ""


@frozen
class Scale:
    """An axis. Its `kind` None follows the columns: time for dates and times, else linear.

    Each of `start`, `end`, `step` is held at a value, or None where it is free. `title` None
    follows the columns; "" shows none. `labels` is a name in LABELS, `base` one in BASES;
    `before` and `after` stand beside the number in each label.
    """

    kind: str | None = field(default=None, validator=_one_of((None, *KINDS)))
    start: float | None = field(default=None, validator=_FINITE)
    end: float | None = field(default=None, validator=_FINITE)
    step: float | None = field(default=None, validator=_STEP)
    reversed: bool = False
    title: str | None = None
    grid: bool = False
    labels: str = field(default="free", validator=_one_of(LABELS))
    base: str = field(default="10", validator=_one_of(BASES))
    before: str = ""
    after: str = ""
    other: Other | None = None


@frozen
class Guide:
    """A line across the panel at a `value` of the axis `x` or `y`, or a shaded range to `end`."""

    id: str
    axis: str = field(validator=_one_of(("x", "y")))
    value: float = field(validator=_FINITE)
    end: float | None = field(default=None, validator=_FINITE)
    label: str = ""


@frozen
class Series:
    """The readings of two columns drawn in one way. A column None stands for the row number.

    `look` is the place in the palette of colours and shapes, and stays with the series. `name`
    None follows the column by which the series differs. `left_out` is in order of rows.
    """

    id: str
    table: str
    x: str | None
    y: str | None
    mark: str = field(default="points", validator=_one_of(MARKS))
    look: int = field(default=0, validator=_LOOK)
    name: str | None = None
    left_out: tuple[LeftOut, ...] = ()


@frozen
class Trend:
    """A model through the readings of a series, and what it writes on the figure.

    Its label finds its own place, or stands at `spot`. Where it is `extended` it is drawn over the
    whole axis, else over the range of its readings.
    """

    id: str
    series: str
    model: str = field(default="line", validator=_one_of(MODELS))
    shows: tuple[str, ...] = ("equation", "r-squared", "count")
    spot: Spot | None = None
    extended: bool = False


@frozen
class Panel:
    """Series on one pair of axes."""

    series: tuple[Series, ...] = field(validator=_NOT_EMPTY)
    x: Scale = Scale()
    y: Scale = Scale(grid=True)
    trends: tuple[Trend, ...] = ()
    legend_spot: Spot | None = None
    guides: tuple[Guide, ...] = ()

    def scale(self, axis: str) -> Scale:
        """The scale of the axis named `x` or `y`."""
        return {"x": self.x, "y": self.y}[axis]

    def one_series(self, series_id: str) -> Series:
        """The series of that id. Raises KeyError."""
        for series in self.series:
            if series.id == series_id:
                return series
        raise KeyError(series_id)

    def trends_of(self, series_id: str) -> tuple[Trend, ...]:
        return tuple(trend for trend in self.trends if trend.series == series_id)


@frozen
class Figure:
    """A figure of its true size in mm. `caption` None is written from the figure."""

    panels: tuple[Panel, ...] = field(validator=_NOT_EMPTY)
    title: str = ""
    width_mm: float = field(default=85.0, validator=_SIZE)
    height_mm: float = field(default=64.0, validator=_SIZE)
    style: str = "report"
    title_spot: Spot | None = None
    caption: str | None = None

    @property
    def panel(self) -> Panel:
        """The panel in hand."""
        return self.panels[0]
