"""An axis as a value: its range, its ticks, what they say, and how they are drawn."""

import math
import re
from collections.abc import Iterator, Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from attrs import Attribute, evolve, field, fields

from sornix.core.figure.model.checks import ABOVE_0, FINITE, Offer, Rule, between, one_of, told
from sornix.core.frozen import frozen
from sornix.core.scales import DATE_FORMS, KINDS

# The axes of a panel, by names in files and commands, as they are said in sentences.
AXES: Mapping[str, str] = MappingProxyType({"x": "x", "y": "y", "x2": "upper x", "y2": "right y"})

# How the ticks of a scale are labelled, by names in files and commands.
LABELS: Mapping[str, str] = MappingProxyType(
    {
        "free": "labels as needed",
        "power": "labels as powers of ten",
        "common-power": "one power of ten at the end",
        "thousands": "labels in thousands (k)",
        "prefix": "labels with prefixes (µ, m, k, M)",
        "percent": "labels as percent of 1",
        "percent-of-100": "labels as percent of 100",
        "none": "no labels",
    }
    | {str(n): f"labels with {n} decimal{'' if n == 1 else 's'}" for n in range(7)}
)
# How ticks of dates and times are labelled, each with an example.
DATE_LABELS: Mapping[str, str] = MappingProxyType(
    {"free": "labels as needed", "one-line": "labels in one line"}
    | {name: f"labels like {form.example}" for name, form in DATE_FORMS.items()}
    | {"none": "no labels"}
)

# The bases of a log scale, by names in files.
BASES: Mapping[str, float] = MappingProxyType({"10": 10.0, "2": 2.0, "e": math.e})
# Where ticks point to from the axis line.
TICKS: Mapping[str, str] = MappingProxyType(
    {"in": "ticks inward", "out": "ticks outward", "across": "ticks across", "none": "no ticks"}
)
MINOR: Mapping[str, str] = MappingProxyType(
    {
        "usual": "minor ticks where usual",
        "free": "minor ticks as fit",
        "0": "no minor ticks",
        "1": "1 minor tick between",
    }
    | {str(n): f"{n} minor ticks between" for n in (2, 3, 4, 5, 9)}
)
DASHES: Mapping[str, tuple[float, ...]] = MappingProxyType(
    {"solid": (), "dashed": (1.2, 0.8), "dotted": (0.25, 0.6)}
)
# Colours by name; what they are, the figure's style knows. Others are written #rrggbb.
COLOURS = ("ink", "grey", "teal", "brick", "ochre", "indigo", "plum", "moss", "slate")
# Degrees by which labels can be turned.
TURNS = (0, 30, 45, 60, 90)
HIDDEN: Mapping[tuple[str, ...], str] = MappingProxyType(
    {
        (): "all shown",
        ("first",): "without the first",
        ("last",): "without the last",
        ("first", "last"): "without first and last",
    }
)

_TURNED = {None: "turned as they need", 0: "lying"} | {
    t: "upright" if t == 90 else f"turned by {t}°" for t in (90, *TURNS) if t
}
_ROOMS = {None: "room up to a tick", 0.0: "no room at ends"} | {
    part: f"{part * 100:.0f} % room at ends" for part in (0.02, 0.05, 0.1, 0.2)
}
COLOURED = {"": "plain"} | {name: name for name in COLOURS}


def _has_numbers(kind: str) -> bool:
    return not KINDS[kind].traits.listed


COLOUR = Rule(
    lambda v: v in ("", *COLOURS) or re.fullmatch(r"#[0-9a-f]{6}", v) is not None,
    "the name of a colour, or #rrggbb",
    {"pattern": f"^(|{'|'.join(COLOURS)}|#[0-9a-f]{{6}})$"},
)


@frozen
class Other:
    """An axis in other units on the other side: each of its values is that of `formula` for the
    value x of the axis (sornix.core.formula). `title` is written beside it."""

    formula: str = field(metadata=told("of x, in the grammar of docs/file-format.md"))
    title: str = ""


@frozen
class GridLine:
    """How grid lines are drawn; `colour` "" and `width_mm` None are those of the style."""

    colour: str = field(default="", validator=COLOUR)
    width_mm: float | None = field(default=None, validator=between(0, 5, "mm", above=True))
    dash: str = field(default="solid", validator=one_of(DASHES))


@frozen
class AxisLook:
    """How an axis is drawn: its `line`, its `ticks` (a name in TICKS), grid lines at minor ticks
    too (`minor_grid`), and size and `colour` of its labels, "" and None being those of the style.
    `hide` leaves out the first or the last label, or both.
    """

    line: bool = field(
        default=True,
        metadata=told(
            offer=Offer("The axis line", "Ticks", {True: "axis line", False: "no axis line"})
        ),
    )
    ticks: str = field(
        default="in",
        validator=one_of(TICKS),
        metadata=told(offer=Offer("Where ticks point", "Ticks", TICKS)),
    )
    major: GridLine = GridLine()
    minor_grid: bool = False
    minor: GridLine = GridLine()
    size_pt: float | None = field(
        default=None,
        validator=between(3, 40, "points"),
        metadata=told(
            "null: as the style has it",
            Offer("Size of the labels in points", "Labels", None, "size", "points"),
        ),
    )
    colour: str = field(
        default="",
        validator=COLOUR,
        metadata=told(offer=Offer("Colour of axis and labels", "Labels", COLOURED, "colour")),
    )
    hide: tuple[str, ...] = field(
        default=(),
        validator=one_of(HIDDEN),
        metadata=told(offer=Offer("First and last label", "Labels", HIDDEN)),
    )


# What was dragged is on the paper, or not far from it.
_NEAR = between(-100, 100)


@frozen
class Spot:
    """Where something that was dragged stands: its top left, in parts of the data area of its panel
    (the title of the figure and its source line: of the figure), from the upper left corner."""

    x: float = field(validator=_NEAR)
    y: float = field(validator=_NEAR)


@frozen
class Scale:
    """An axis. Its `kind` None follows the columns: time for dates and times, else linear.

    Each of `start`, `end`, `step` is held at a value, or None where it is free. A held step is
    counted from `origin`. `zero` keeps 0 in a free range; `room` is the part of the range that
    stays empty at its free ends, None as far as the next tick.
    `title` None follows the columns; "" shows none. `labels` is a name in LABELS or DATE_LABELS,
    `base` one in BASES, `minor` one in MINOR; labels stand at every n-th tick. `before` and `after`
    stand beside the number in each label, `words` is a column whose cells stand in place of it;
    `turn` are the degrees by which labels are turned, None as they need.
    """

    kind: str | None = field(
        default=None,
        validator=one_of(KINDS, None),
        metadata=told(offer=Offer("Kind of scale")),
    )
    start: float | None = field(default=None, validator=FINITE, metadata=told("null: free"))
    end: float | None = field(default=None, validator=FINITE)
    step: float | None = field(default=None, validator=ABOVE_0)
    reversed: bool = field(
        default=False,
        metadata=told(offer=Offer("Direction")),
    )
    title: str | None = field(
        default=None,
        metadata=told("null: follows the columns", Offer("Title")),
    )
    grid: bool = field(
        default=False,
        metadata=told(offer=Offer("Grid lines")),
    )
    labels: str = field(
        default="free",
        validator=one_of({**LABELS, **DATE_LABELS}),
        metadata=told(offer=Offer("Labels")),
    )
    base: str = field(default="10", validator=one_of(BASES))
    before: str = field(
        default="",
        metadata=told(offer=Offer("Before")),
    )
    after: str = field(
        default="",
        metadata=told(offer=Offer("After")),
    )
    other: Other | None = None
    origin: float | None = field(
        default=None,
        validator=FINITE,
        metadata=told("a held step is counted from it; null: from 0, or by the calendar"),
    )
    zero: bool = field(
        default=False,
        metadata=told(
            "0 stays in a free range",
            Offer(
                "Whether 0 is in a free range",
                "Range",
                {False: "0 if readings reach it", True: "0 in the range"},
                where=lambda kind: kind == "linear",
            ),
        ),
    )
    room: float | None = field(
        default=None,
        validator=between(0, 1),
        metadata=told(
            "part of the range that stays empty at free ends; null: to the next tick",
            Offer("Room at the free ends", "Range", _ROOMS, where=_has_numbers),
        ),
    )
    every: int = field(
        default=1,
        validator=between(1, 1000),
        metadata=told(
            "a label at every n-th tick",
            Offer("Every how many ticks there is a label", "Ticks", None, "label at every", "tick"),
        ),
    )
    minor: str = field(
        default="usual",
        validator=one_of(MINOR),
        metadata=told(offer=Offer("Minor ticks", "Ticks", MINOR, where=_has_numbers)),
    )
    words: str | None = field(
        default=None,
        metadata=told(
            "name of a column whose cells are the labels",
            Offer("Words"),
        ),
    )
    turn: int | None = field(
        default=None,
        validator=one_of(TURNS, None),
        metadata=told(
            "degrees; null: as labels need",
            Offer("How labels are turned", "Labels", _TURNED),
        ),
    )
    look: AxisLook = AxisLook()
    title_spot: Spot | None = None


class AxisOption(NamedTuple):
    """An option of an axis, of its Scale or of its AxisLook, and how it is offered."""

    field: "Attribute[Any]"
    offer: Offer
    of_look: bool

    def of(self, scale: Scale) -> Any:
        return getattr(scale.look if self.of_look else scale, self.field.name)

    def on(self, scale: Scale, value: Any) -> Scale:
        """A scale with another value of it. Raises Unfit."""
        changes: dict[str, Any] = {self.field.name: value}
        if self.of_look:
            return evolve(scale, look=evolve(scale.look, **changes))
        return evolve(scale, **changes)


def axis_options() -> Iterator[AxisOption]:
    """What is offered of an axis: how it is drawn first, then what it says."""
    for owner in (AxisLook, Scale):
        for one in fields(owner):
            if "offer" in one.metadata:
                yield AxisOption(one, one.metadata["offer"], owner is AxisLook)
