"""Styles as data: sizes in mm, type sizes in points, colours."""

from collections.abc import Iterable, Mapping
from functools import lru_cache
from types import MappingProxyType
from typing import NamedTuple

from attrs import evolve

from sornix.core.colours import readable
from sornix.core.figure import COLOURS, DASHES, Choices, Figure, Series
from sornix.core.frozen import frozen

MM_PER_POINT = 25.4 / 72
# How much an area hides of what lies under it: lower ones are seen through it.
AREA_COVER = 0.28


class Look(NamedTuple):
    """How a series is told from others: colour, marker shape and dashes (mm)."""

    colour: str
    shape: str
    dashes: tuple[float, ...]


@frozen
class Style:
    """Everything that drawing takes its measures from."""

    paper: str
    ink: str
    grey: str
    grid: str
    # of ranges that are pointed out
    shade: str
    looks: tuple[Look, ...]
    title_pt: float
    axis_title_pt: float
    label_pt: float
    marker_mm: float
    line_mm: float
    trend_mm: float
    beyond_dashes: tuple[float, ...]
    axis_mm: float
    margin_mm: float
    # from the axis line to the data area; ticks point into this gap
    gap_mm: float
    # from the outermost readings' places to the edge of the data area, so no marker is cut
    room_mm: float
    # how large small things are (edges of markers, grid lines, dashes), 1 in a report
    scale: float = 1.0
    units: str = "stroke"
    decimal: str = "point"

    def fine(self, width_mm: float, *dashes: float) -> "tuple[float, tuple[float, ...]]":
        """A fine line and its dashes as a report has them, at the scale of the style."""
        return width_mm * self.scale, self.dashed(dashes)

    def dashed(self, dashes: Iterable[float]) -> tuple[float, ...]:
        """The dashes of a report, at the scale of the style."""
        return tuple(dash * self.scale for dash in dashes)

    def colour(self, name: str) -> str:
        """A colour by its name in the figure, or as `#rrggbb`; "" for the name ""."""
        if name in ("", "ink"):
            return self.ink if name else ""
        if name == "grey":
            return self.grey
        return self.looks[COLOURS.index(name) - 2].colour if name in COLOURS else name

    def look_of(self, series: Series) -> Look:
        """The look of a series: that of the palette, and what is its own."""
        look, dress = self.look(series.palette_index), series.style
        return Look(
            self.colour(dress.colour) or look.colour,
            dress.shape or look.shape,
            self.dashed(DASHES[dress.dash]) if dress.dash else look.dashes,
        )

    def written(self, colour: str) -> str:
        """The colour for text in it, which can be read on the paper."""
        return readable(colour, self.paper)

    def look(self, number: int) -> Look:
        look = self.looks[number % len(self.looks)]
        return look._replace(dashes=self.dashed(look.dashes))


_SHAPES = ("circle", "square", "triangle", "diamond", "down-triangle", "pentagon", "cross")
_DASHES: tuple[tuple[float, ...], ...] = (
    (),
    (2.2, 0.8),
    (0.5, 0.7),
    (2.6, 0.7, 0.5, 0.7),
    (1.2, 0.8),
    (3.4, 0.9),
    (1.4, 0.6, 0.4, 0.6, 0.4, 0.6),
)


def _looks(*colours: str) -> tuple[Look, ...]:
    return tuple(Look(*parts) for parts in zip(colours, _SHAPES, _DASHES, strict=True))


# Sets of colours by the names in PALETTES. Lightness and hue were chosen by a search for the
# largest least distance of any two, as seen with full colour vision and with each common deficiency
# (tests/core/test_styles.py says how far apart they are).
LOOKS: Mapping[str, tuple[Look, ...]] = MappingProxyType(
    {
        "lake": _looks("#0b6e6e", "#aa4224", "#bf8400", "#8674dc", "#a667ad", "#719b5b", "#363934"),
        "light": _looks(
            "#4fc4bd", "#fc8b75", "#ffe268", "#9a91f4", "#ffb0ff", "#8ea628", "#eaf9f1"
        ),
        "deep": _looks("#00504f", "#b50410", "#635611", "#0b33c4", "#880d6b", "#3b6127", "#150f0d"),
        "grey": _looks("#1c1c1c", "#8c8c8c", "#4a4a4a", "#707070", "#303030", "#939393", "#5e5e5e"),
    }
)

_REPORT = Style(
    paper="#ffffff",
    ink="#1f2b2a",
    grey="#7b8785",
    grid="#e3e9e7",
    shade="#e3efec",
    looks=LOOKS["lake"],
    title_pt=8.5,
    axis_title_pt=7.5,
    label_pt=7.2,
    marker_mm=1.55,
    line_mm=0.32,
    trend_mm=0.32,
    beyond_dashes=(1.1, 0.9),
    axis_mm=0.2,
    margin_mm=2.4,
    gap_mm=1.1,
    room_mm=1.3,
)


def _on_dark(style: Style) -> Style:
    return evolve(
        style,
        paper="#16201f",
        ink="#e9f0ee",
        grey="#93a3a0",
        grid="#2c3a38",
        shade="#243432",
        looks=LOOKS["light"],
    )


def _on_slide(style: Style) -> Style:
    # read from the last row of a room: type of 16 points and more on a slide of 254 mm
    return evolve(
        style,
        title_pt=22.0,
        axis_title_pt=18.0,
        label_pt=16.0,
        marker_mm=3.4,
        line_mm=0.85,
        trend_mm=0.85,
        beyond_dashes=(2.6, 2.1),
        axis_mm=0.45,
        margin_mm=7.0,
        gap_mm=2.4,
        room_mm=3.0,
        scale=2.2,
    )


STYLES: Mapping[str, Style] = MappingProxyType(
    {
        "report": _REPORT,
        "slide": _on_slide(_REPORT),
        "grey": evolve(
            _REPORT,
            ink="#000000",
            grey="#6e6e6e",
            grid="#dedede",
            shade="#ececec",
            looks=LOOKS["grey"],
        ),
        "dark": _on_dark(_REPORT),
        "dark-slide": _on_slide(_on_dark(_REPORT)),
        "contrast": evolve(
            _REPORT,
            ink="#000000",
            grey="#404040",
            grid="#9a9a9a",
            shade="#d6e6e2",
            looks=LOOKS["deep"],
            title_pt=9.5,
            axis_title_pt=8.5,
            label_pt=8.2,
            marker_mm=1.9,
            line_mm=0.55,
            trend_mm=0.55,
            axis_mm=0.35,
        ),
    }
)


def style_of(figure: Figure) -> Style:
    """The style of a figure with the choices that are held against it."""
    return _chosen(figure.style, figure.choices)


@lru_cache(maxsize=64)
def _chosen(name: str, choices: Choices) -> Style:
    style = STYLES[name]
    larger = (choices.type_pt or style.label_pt) / style.label_pt
    return evolve(
        style,
        title_pt=style.title_pt * larger,
        axis_title_pt=style.axis_title_pt * larger,
        label_pt=style.label_pt * larger,
        line_mm=choices.line_mm or style.line_mm,
        trend_mm=choices.line_mm or style.trend_mm,
        marker_mm=choices.marker_mm or style.marker_mm,
        axis_mm=choices.axis_mm or style.axis_mm,
        looks=LOOKS[choices.palette] if choices.palette else style.looks,
        units=choices.units,
        decimal=choices.decimal,
    )
