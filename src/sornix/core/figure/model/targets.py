"""What stands on a figure and can be taken hold of, typed anew or moved."""

from sornix.core.frozen import frozen


@frozen
class Title:
    """The title of the figure."""


@frozen
class SourceLine:
    """The line at the foot that says where the readings come from."""


@frozen
class PanelTitle:
    """The title of the panel in hand."""


@frozen
class Legend:
    """The names of series and curves under each other."""


@frozen
class AxisTitle:
    """The title of an axis."""

    axis: str


@frozen
class TrendLabel:
    """What a trend writes on the figure."""

    trend: str


@frozen
class NoteBox:
    """A note or a pin."""

    note: str


# What has a place of its own: see sornix.core.figure.move.
Movable = Title | SourceLine | PanelTitle | Legend | AxisTitle | TrendLabel | NoteBox


@frozen
class AxisBand:
    """An axis with its ticks and labels."""

    axis: str


@frozen
class SeriesName:
    """The name of a series."""

    series: str


@frozen
class CurveName:
    """The name of a curve."""

    curve: str


@frozen
class GuideBox:
    """A line at a value, or a shaded range."""

    guide: str


@frozen
class TrendEnd:
    """A held end of the x that a trend goes over: `part` is `start` or `end`."""

    trend: str
    part: str


@frozen
class ReadOffLine:
    """The line at a y that is read off a trend, by its index among them."""

    trend: str
    index: int


@frozen
class Divider:
    """What is between two rows or two columns of panels: `along` is `row` or `column`, `number`
    that of the first of them."""

    along: str
    number: int


Target = Movable | AxisBand | SeriesName | CurveName | GuideBox | TrendEnd | ReadOffLine | Divider
