"""Figure, panel and trend: frozen values, changed only by making new ones."""

from collections.abc import Callable, Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Any, Protocol, TypeVar

from attrs import evolve, field, fields

from sornix.core.errors import NotThere
from sornix.core.figure.model.additions import Curve, Guide, Note
from sornix.core.figure.model.checks import (
    FINITE,
    NOT_BELOW_0,
    NOT_EMPTY,
    between,
    each,
    one_of,
    told,
)
from sornix.core.figure.model.scale import AXES, Scale, Spot
from sornix.core.figure.model.series import Series
from sornix.core.figure.model.styling import NO_CHOICES, STYLE_NAMES, Choices
from sornix.core.figure.model.trend import Trend
from sornix.core.frozen import frozen

# How bars of several series stand.
BARS: Mapping[str, str] = MappingProxyType(
    {"beside": "side by side", "stacked": "stacked", "shares": "as shares of the whole"}
)
# What a panel shows: series on axes, or something of its first series or their table.
FORMS: Mapping[str, str] = MappingProxyType(
    {
        "series": "series on axes",
        "ring": "ring of shares",
        "one-bar": "one bar of shares",
        "correlations": "correlations of all columns",
    }
)
# Where the names of series stand.
NAMES: Mapping[str, str] = MappingProxyType(
    {
        "free": "names where there is room",
        "right": "names at the right",
        "below": "names below",
        "ends": "names at the line ends",
        "none": "no names",
    }
)
_PART = between(0.02, 1)
_RATIOS = each(between(0.01, 100))
# Rows and columns of panels: a page has no room for more.
_TRACK = between(0, 999)
_SIZE = between(20, 2000, "mm")


class _HasId(Protocol):
    @property
    def id(self) -> str: ...


_Thing = TypeVar("_Thing", bound=_HasId)


def _of_id(things: tuple[_Thing, ...], sought: str) -> _Thing:
    for thing in things:
        if thing.id == sought:
            return thing
    raise NotThere


_PLAIN = Scale()
_WITH_GRID = Scale(grid=True)


@frozen(slots=False)
class Panel:
    """Series on one pair of axes, or some of them on a second one (`x2` above, `y2` right).

    Its `form` says if it shows something else of them. It stands in a cell of the
    grid of panels, counted from the upper left.
    """

    series: tuple[Series, ...] = field(validator=NOT_EMPTY)
    x: Scale = _PLAIN
    y: Scale = _WITH_GRID
    trends: tuple[Trend, ...] = ()
    legend_spot: Spot | None = None
    guides: tuple[Guide, ...] = ()
    x2: Scale = _PLAIN
    y2: Scale = _PLAIN
    title: str = ""
    row: int = field(default=0, validator=_TRACK)
    column: int = field(default=0, validator=_TRACK)
    bars: str = field(default="beside", validator=one_of(BARS))
    bar_width: float = field(default=0.8, validator=_PART)
    names: str = field(default="free", validator=one_of(NAMES))
    form: str = field(
        default="series", validator=one_of(FORMS), metadata=told("what the panel shows")
    )
    curves: tuple[Curve, ...] = ()
    notes: tuple[Note, ...] = ()
    title_spot: Spot | None = None

    @cached_property
    def shown(self) -> tuple[Series, ...]:
        """The series that are drawn."""
        return tuple(series for series in self.series if not series.hidden)

    @cached_property
    def has_axes(self) -> bool:
        """Whether readings are drawn on axes, and not as shares or correlations."""
        return self.form == "series"

    @cached_property
    def drawn_trends(self) -> tuple[Trend, ...]:
        """The trends that are drawn: without axes none is, though they are kept."""
        return self.trends if self.has_axes else ()

    def company(self, axis: str) -> tuple["Panel", ...]:  # noqa: ARG002 - see SharingPanel
        """The other panels that share an axis."""
        return ()

    @cached_property
    def axes(self) -> tuple[str, ...]:
        """The axes that series stand on: x and y always, and the second ones in use."""
        used = {one.axis(direction) for one in self.series for direction in "xy"}
        return tuple(axis for axis in AXES if axis in used or axis in "xy")

    def scale(self, axis: str) -> Scale:
        """The scale of an axis. Raises NotThere."""
        return {"x": self.x, "y": self.y, "x2": self.x2, "y2": self.y2}[axis]

    def with_scale(self, axis: str, scale: Scale) -> "Panel":
        changes: dict[str, Any] = {axis: scale}
        return evolve(self, **changes)

    def series_on(self, axis: str) -> tuple[Series, ...]:
        """The series that stand on an axis, those of panels that share it after its own; on a main
        one without any, all of its own."""
        company = self.company(axis)
        every = [s for panel in (self, *company) for s in panel.series] if company else self.series
        found = [s for s in every if s.axis(axis[0]) == axis]
        return tuple(found) or (self.series if axis in "xy" else ())

    def one_series(self, series_id: str) -> Series:
        """The series of that id. Raises NotThere."""
        return _of_id(self.series, series_id)

    def one_trend(self, trend_id: str) -> Trend:
        """The trend of that id. Raises NotThere."""
        return _of_id(self.trends, trend_id)

    def one_note(self, note_id: str) -> Note:
        """The note of that id. Raises NotThere."""
        return _of_id(self.notes, note_id)

    def one_curve(self, curve_id: str) -> Curve:
        """The curve of that id. Raises NotThere."""
        return _of_id(self.curves, curve_id)

    def one_guide(self, guide_id: str) -> Guide:
        """The guide of that id. Raises NotThere."""
        return _of_id(self.guides, guide_id)

    def trends_of(self, series_id: str) -> tuple[Trend, ...]:
        return tuple([trend for trend in self.trends if trend.series == series_id])


@frozen(slots=False)
class SharingPanel(Panel):
    """A panel together with those that share its x or its y, as its figure gives it."""

    with_x: tuple[Panel, ...] = ()
    with_y: tuple[Panel, ...] = ()

    def company(self, axis: str) -> tuple[Panel, ...]:
        return {"x": self.with_x, "y": self.with_y}.get(axis, ())

    def alone(self) -> Panel:
        """The panel as its figure keeps it."""
        parts = {part.name: getattr(self, part.name) for part in fields(Panel)}
        return Panel(**parts)


# Which axes the panels of a figure share.
SHARES: Mapping[str, str] = MappingProxyType(
    {
        "none": "each with its own scales",
        "x": "sharing x",
        "y": "sharing y",
        "both": "sharing x and y",
    }
)


# Panels as their figures have given them, by the panels of the figure, and the very same panels by
# what they were made of; this is kept besides, so that nothing else can have its number. What is
# known of a panel need not be found out again while others are edited.
_SEEN: dict[tuple[int, int, str], tuple[tuple[Panel, ...], Panel]] = {}
_MADE: dict[tuple[Any, ...], tuple[tuple[Any, ...], Panel]] = {}
_MOST_KEPT = 800
_Key = TypeVar("_Key")
_Kept = TypeVar("_Kept")


def _keep(kept: dict[_Key, _Kept], key: _Key, value: _Kept) -> None:
    if len(kept) >= _MOST_KEPT:
        kept.clear()
    kept[key] = value


def _very_same(about: tuple[Any, ...], more: object, make: Callable[[], Panel]) -> Panel:
    """The panel that was made of the very same parts and of `more`, or now is."""
    key = (*map(id, about), more)
    known = _MADE.get(key)
    if known is None:
        known = about, make()
        _keep(_MADE, key, known)
    return known[1]


def _company(panel: Panel, axis: str) -> Panel:
    """A panel as those see it that share an axis with it: what bears on that, so that it is the
    same for them whatever else is done to it."""
    parts = {name: getattr(panel, name) for name in ("series", "trends", "bars", "form", axis)}
    kinds = {other: panel.scale(other).kind for other in AXES if other != axis}

    def make() -> Panel:
        scales: dict[str, Any] = {other: Scale(kind) for other, kind in kinds.items()}
        return Panel(**parts, **scales)

    return _very_same(tuple(parts.values()), (axis, *kinds.values()), make)


@frozen
class Noted:
    """A caution that the user has noted: what it is `about`, its words without numbers, and how
    large its cause was."""

    about: str
    size: float = field(default=0.0, validator=FINITE)


@frozen(slots=False)
class Figure:
    """A figure of its true size in mm. `caption` and `methods` None are written from the figure.

    Its panels stand in a grid whose columns and rows have `widths` and `heights` in proportion
    (those not named: 1), and share the axes in `share`; `hand` is the one in hand. `choices` are
    held against the `style`; `style_name` is what the user calls both together. Cautions that were
    `noted` are told at the foot.
    """

    panels: tuple[Panel, ...] = field(validator=NOT_EMPTY)
    title: str = ""
    width_mm: float = field(default=84.0, validator=_SIZE)
    height_mm: float = field(default=63.0, validator=_SIZE)
    style: str = field(default="report", validator=one_of(STYLE_NAMES))
    title_spot: Spot | None = None
    caption: str | None = field(default=None, metadata=told("null: written from the figure"))
    hand: int = field(default=0, validator=NOT_BELOW_0, metadata=told("the panel in hand"))
    share: str = field(default="none", validator=one_of(SHARES))
    letters: bool = False
    widths: tuple[float, ...] = field(
        default=(), validator=_RATIOS, metadata=told("in proportion; those not named are 1")
    )
    heights: tuple[float, ...] = field(
        default=(), validator=_RATIOS, metadata=told("in proportion; those not named are 1")
    )
    choices: Choices = NO_CHOICES
    style_name: str = field(
        default="", metadata=told("what the user calls the style and the choices together")
    )
    source: str = field(default="", metadata=told("the line at the foot"))
    source_spot: Spot | None = None
    noted: tuple[Noted, ...] = ()
    methods: str | None = field(default=None, metadata=told("null: written from the trends"))
    name: str = field(
        default="", metadata=told("what it is called among the figures of a document")
    )

    @cached_property
    def panel(self) -> Panel:
        """The panel in hand."""
        return self.seen(min(self.hand, len(self.panels) - 1))

    def seen(self, index: int) -> Panel:
        """A panel, with those that share its axes."""
        panel = self.panels[index]
        others = self.panels[:index] + self.panels[index + 1 :]
        if self.share == "none" or not others:
            return panel
        key = id(self.panels), index, self.share
        known = _SEEN.get(key)
        if known is not None and known[0] is self.panels:
            return known[1]
        with_x, with_y = (
            tuple(_company(one, axis) for one in others) if self.shares(axis) else ()
            for axis in "xy"
        )
        about = panel, *with_x, *with_y

        def make() -> Panel:
            parts = {part.name: getattr(panel, part.name) for part in fields(Panel)}
            return SharingPanel(**parts, with_x=with_x, with_y=with_y)

        seen = _very_same(about, len(with_x), make)
        _keep(_SEEN, key, (self.panels, seen))
        return seen

    def shares(self, axis: str) -> bool:
        """Whether the panels have one scale along an axis."""
        return self.share in (axis, "both")

    def said(self, text: str) -> str:
        """A title or a source line, in which `{file}` stands for the name of the readings."""
        return text.replace("{file}", self.panels[0].series[0].table)

    def heading(self, index: int) -> str:
        """What a sentence about a panel begins with: `(a)`, `run-1:` or `Panel 1:`."""
        if self.letters:
            return self.letter(index)
        return f"{self.panels[index].title or f'Panel {index + 1}'}:"

    def with_hand(self, index: int) -> "Figure":
        """The figure with another panel in hand."""
        return evolve(self, hand=index)

    def with_panel(self, panel: Panel) -> "Figure":
        """The figure with another panel in place of the one in hand."""
        alone = panel.alone() if isinstance(panel, SharingPanel) else panel
        at = min(self.hand, len(self.panels) - 1)
        panels = (*self.panels[:at], alone, *self.panels[at + 1 :])
        figure = evolve(self, panels=panels)
        for axis in "xy":
            if self.shares(axis) and alone.scale(axis) != self.panels[at].scale(axis):
                figure = figure.with_scale(axis, alone.scale(axis))
        return figure

    def with_scale(self, axis: str, scale: Scale) -> "Figure":
        """The figure with another scale of an axis of the panel in hand, and of all that share
        it."""
        at = min(self.hand, len(self.panels) - 1)
        panels = (
            panel.with_scale(axis, scale) if i == at or self.shares(axis) else panel
            for i, panel in enumerate(self.panels)
        )
        return evolve(self, panels=tuple(panels))

    def next_id(self, letter: str) -> str:
        """The first id of a letter and a number that nothing in the figure has."""
        taken = [s.id for p in self.panels for s in p.series]
        taken += [t.id for p in self.panels for t in p.trends]
        taken += [g.id for p in self.panels for g in p.guides]
        taken += [c.id for p in self.panels for c in p.curves]
        taken += [n.id for p in self.panels for n in p.notes]
        return next_id(letter, taken)

    def home(self, series_id: str) -> int:
        """Which panel a series is in. Raises NotThere."""
        for index, panel in enumerate(self.panels):
            if any(series.id == series_id for series in panel.series):
                return index
        raise NotThere

    def name_of(self, index: int) -> str:
        """A panel in a sentence: by its letter, or by its number from 1."""
        return self.letter(index) or f"panel {index + 1}"

    def letter(self, index: int) -> str:
        """`(a)` for the first panel, where panels have letters."""
        return f"({chr(ord('a') + index)})" if self.letters else ""


def next_id(letter: str, taken: list[str]) -> str:
    """The first id of a letter and a number that is not taken."""
    number = 1
    while f"{letter}{number}" in taken:
        number += 1
    return f"{letter}{number}"
