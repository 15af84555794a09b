"""What every kind of scale answers, and the table of kinds."""

import math
from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import EditRefused
from sornix.core.frozen import frozen
from sornix.core.text import Rich, plural

Floats = NDArray[np.float64]


class Extent(NamedTuple):
    """The least and greatest of the readings that an axis has to show."""

    least: float
    greatest: float


class AxisConstraints(NamedTuple):
    """What is held of a scale: each end and the step are a value, or None where free.

    `labels` is the form of labels, or a number of decimals as text; `base` that of a log scale. Of
    `whole` readings a free step is no fraction. `names` are the labels of listed places. A step is
    counted from `origin`; `every` n-th tick has a label; `zero` stays in a free range; labels are
    `turn`ed by these degrees, None as they need.
    """

    start: float | None = None
    end: float | None = None
    step: float | None = None
    labels: str = "free"
    base: float = 10.0
    whole: bool = False
    names: tuple[str, ...] = ()
    origin: float | None = None
    every: int = 1
    zero: bool = False
    turn: int | None = None


class Tick(NamedTuple):
    """A tick at `value`; `label` is empty at `minor` ticks, and where it would touch another. Lines
    of a label are divided by line feeds."""

    value: float
    label: Rich
    minor: bool = False


class Group(NamedTuple):
    """A stretch of an axis, from `start` to `end`, that is said once under the labels of its
    ticks: the year under months, the day under hours."""

    start: float
    end: float
    label: Rich


class Room(NamedTuple):
    """The room for ticks: an axis of `length_mm`, and `size_mm` of a label along it.

    `apart_mm` is the least gap between two labels, `ideal_mm` the distance between ticks at
    which an axis reads best. Labels stand one after another on a `level` axis, else one above
    another.
    """

    length_mm: float
    size_mm: Callable[[Rich], float]
    apart_mm: float
    ideal_mm: float
    level: bool = True


@frozen
class Resolved:
    """A scale settled for its readings and its size: start < end, ticks in rising order.

    `note` explains why something held could not be followed; it is empty otherwise. `said` are
    words for a step that its number does not tell. Labels are turned by `angle` degrees. `groups`
    are said under the ticks, `factor` at the end of the axis: it multiplies what all labels say.
    """

    kind: str
    start: float
    end: float
    ticks: tuple[Tick, ...]
    step: float
    reversed: bool = False
    note: str = ""
    said: str = ""
    angle: float = 0.0
    groups: tuple[Group, ...] = ()
    factor: Rich = ()

    def position(self, values: Floats) -> Floats:
        """Places of `values`, shape (n,), along the axis: 0 at its beginning, 1 at its end."""
        places = KINDS[self.kind].position(values, self.start, self.end)
        return 1 - places if self.reversed else places

    def window(self, first: float, last: float) -> tuple[float, float]:
        """The range that a stretch between two places would have, whatever lies in it.

        Places may be outside 0 to 1. The ends are given with as many digits as a thousandth of
        the range needs.
        """
        ends = sorted((self.value(first), self.value(last)))
        within = abs(ends[1] / 2 - ends[0] / 2) * 2e-3
        kind = KINDS[self.kind]
        start, end = (kind.parse(kind.words(end, within), end) for end in ends)
        return start, end

    def edges(self, count: int) -> Floats:
        """Rising values, shape (count + 1,), that divide the range into stretches of one length."""
        return KINDS[self.kind].value(np.linspace(0, 1, count + 1), self.start, self.end)

    def values(self, places: Floats) -> Floats:
        """The values at places, shape (n,), between 0 and 1."""
        at = 1 - places if self.reversed else places
        return KINDS[self.kind].value(at, self.start, self.end)

    @property
    def traits(self) -> "Traits":
        """What its kind is."""
        return KINDS[self.kind].traits

    def value(self, place: float) -> float:
        """The value at a place between 0 and 1."""
        return float(self.values(np.array([place]))[0])


class Traits(NamedTuple):
    """What a kind of scale is, for whoever would otherwise ask for its name.

    On `even` ones equal differences are equally far apart; places of `listed` ones are numbers in a
    list; `dated` ones show moments; steps of `whole` ones are whole numbers. `offers` are what it
    can be chosen as, words by the base that goes with them; it suits columns that ask for one of
    the kinds in `suits`. A `plain` one goes without saying where columns ask for it.
    """

    even: bool = False
    listed: bool = False
    dated: bool = False
    whole: bool = False
    offers: Mapping[str, str] = MappingProxyType({})
    suits: tuple[str, ...] = ("linear",)
    plain: bool = False

    @property
    def counts(self) -> bool:
        """Whether its values are plain numbers, in the unit of the columns."""
        return not (self.listed or self.dated)


class Kind(Protocol):
    """A kind of scale. `name` is its word in statements and commands."""

    name: str
    traits: Traits
    # why it cannot show some values, for a sentence
    why: str

    def shows(self, values: Floats) -> NDArray[np.bool_]:
        """Which values, shape (n,), have a place on the scale."""
        ...

    def span(self, start: float, end: float) -> float:
        """The length of a range in the units of its step."""
        ...

    def position(self, values: Floats, start: float, end: float) -> Floats: ...

    def value(self, places: Floats, start: float, end: float) -> Floats: ...

    def resolve(
        self, extent: Extent | None, held: AxisConstraints, room: Room, *, reverse: bool
    ) -> Resolved:
        """The scale that shows `extent` (None without readings) with what is held."""
        ...

    def tick_count(self, start: float, end: float, step: float) -> int:
        """How many ticks a step makes between two ends."""
        ...

    def words(self, value: float, within: float) -> str:
        """A value as a person would type it, off by at most `within`."""
        ...

    def parse(self, text: str, about: float) -> float:
        """The value that a person typed; what was left unsaid is as in `about`. Raises
        EditRefused."""
        ...

    def step_words(self, step: float) -> str:
        """A step as a person would type it."""
        ...

    def parse_step(self, text: str) -> float:
        """The step that a person typed. Raises EditRefused."""
        ...

    def divisions(self, step: float) -> int:
        """Into how many equal parts a step is divided by minor ticks."""
        ...


class Even:
    """What kinds have in common on which equal differences are equally far apart."""

    why = ""

    def shows(self, values: Floats) -> NDArray[np.bool_]:
        return np.ones(len(values), dtype=bool)

    def span(self, start: float, end: float) -> float:
        return end - start

    def position(self, values: Floats, start: float, end: float) -> Floats:
        # halves, because the difference of two numbers near 1e308 is beyond binary64
        return (values / 2 - start / 2) / (end / 2 - start / 2)

    def value(self, places: Floats, start: float, end: float) -> Floats:
        # beyond the largest number there is no value
        with np.errstate(over="ignore", invalid="ignore"):
            return start * (1 - places) + end * places


# The kinds by name, as sornix.core.scales lists them.
KINDS: dict[str, Kind] = {}


def on_scale(words: str) -> str:
    """How something is drawn on a scale of these words: `on a log scale`; what is `in order` has
    none."""
    return words if words.startswith("in ") else f"on a {words} scale"


def is_categorical(kind: str) -> bool:
    """Whether the places of a kind of scale are numbers in a list."""
    return KINDS[kind].traits.listed


MOST_TICKS = 200


def check_range(
    start: float, end: float, words: Callable[[float], str], *, of_axis: bool = True
) -> None:
    """Refuses a range that does not rise."""
    if start == end:
        raise EditRefused(
            f"A range from {words(start)} to {words(end)} has no width.",
            remedy="Give the two ends different values.",
        )
    if start > end:
        raise EditRefused(
            f"A range from {words(start)} to {words(end)} runs backward.",
            remedy="Give the lower value first"
            + ("; to turn the axis round, reverse its direction." if of_axis else "."),
        )


_COUNTABLE = 1e6


def check_step(
    kind: str, start: float, end: float, step: float, words: Callable[[float], str]
) -> None:
    """Refuses a step that makes no second tick, or more than a figure can show."""
    said, whole = KINDS[kind].step_words, KINDS[kind].traits.whole
    if step <= 0:
        raise EditRefused(
            f"A step of {said(step)} does not lead anywhere.",
            remedy="Give a step greater than 0.",
        )
    span = KINDS[kind].span(start, end)
    if step > span:
        longest = math.floor(span) if whole else span
        raise EditRefused(
            f"A step of {said(step)} is longer than the range from {words(start)} to "
            f"{words(end)}, so there would not be two ticks.",
            remedy=f"Give a step of {said(longest)} or less."
            if longest
            else "Let the step be free, or hold a longer range first.",
        )
    # of steps that go into the range without end, no count is a number
    many = span / step > _COUNTABLE if step > span * 1e-300 else True
    count = 0 if many else KINDS[kind].tick_count(start, end, step)
    if many or count > MOST_TICKS:
        shortest = math.ceil(span / MOST_TICKS) if whole else span / MOST_TICKS
        made = "more than a million ticks" if many else plural(count, "tick")
        raise EditRefused(
            f"A step of {said(step)} from {words(start)} to {words(end)} would make {made}.",
            remedy=f"Give a step of {said(shortest)} or more.",
        )
