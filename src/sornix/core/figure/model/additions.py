"""What stands in a panel beside its series and their trends: guides, notes and curves."""

from attrs import field

from sornix.core.figure.model.checks import FINITE, NOT_BELOW_0, one_of, told
from sornix.core.figure.model.scale import AXES, Spot
from sornix.core.frozen import frozen


@frozen
class Guide:
    """A line across the panel at a `value` of an axis, or a shaded range to `end`."""

    id: str
    axis: str = field(validator=one_of(AXES))
    value: float = field(validator=FINITE)
    end: float | None = field(default=None, validator=FINITE)
    label: str = ""


@frozen
class Note:
    """Words on a panel with a leader to what they are about: the reading in `row` (an index) of a
    `series`, or the place `x`, `y`; neither, and they stand for themselves. Without words it is a
    pin, which tells the values there."""

    id: str
    text: str = field(default="", metadata=told('"": a pin, which tells the values there'))
    series: str = ""
    row: int | None = field(
        default=None, metadata=told("index of the row of the reading it is about")
    )
    x: float | None = field(default=None, validator=FINITE)
    y: float | None = field(default=None, validator=FINITE)
    spot: Spot | None = None


@frozen
class Constant:
    """A named number in a formula."""

    name: str
    value: float = field(validator=FINITE)


@frozen
class Curve:
    """A curve from a formula of x with named constants, drawn over the measured points."""

    id: str
    formula: str
    constants: tuple[Constant, ...] = ()
    name: str = ""
    palette_index: int = field(default=0, validator=NOT_BELOW_0)
