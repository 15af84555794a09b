"""Styles as data: sizes in mm, type sizes in points, colours."""

from typing import NamedTuple

from attrs import frozen

from sornix.core.figure import COLOURS, DASHES, Series

MM_PER_POINT = 25.4 / 72


class Look(NamedTuple):
    """How a series is told from others: colour, marker shape and dashes (mm)."""

    colour: str
    shape: str
    dashes: tuple[float, ...]


@frozen
class Style:
    """Everything that drawing takes its measures from."""

    name: str
    words: str
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

    def colour(self, name: str) -> str:
        """A colour by its name in the figure, or as `#rrggbb`; "" for the name ""."""
        if name in ("", "ink"):
            return self.ink if name else ""
        if name == "grey":
            return self.grey
        return self.looks[COLOURS.index(name) - 2].colour if name in COLOURS else name

    def look_of(self, series: Series) -> Look:
        """The look of a series: that of the palette, and what is its own."""
        look, dress = self.look(series.look), series.dress
        return Look(
            self.colour(dress.colour) or look.colour,
            dress.shape or look.shape,
            DASHES[dress.dash] if dress.dash else look.dashes,
        )

    def look(self, number: int) -> Look:
        return self.looks[number % len(self.looks)]


def tinted(colour: str, paper: str, part: float) -> str:
    """A colour mixed with that of the paper, of which it is only a part."""
    mixed = (
        round(part * int(a, 16) + (1 - part) * int(b, 16))
        for a, b in zip(_channels(colour), _channels(paper), strict=True)
    )
    return "#" + "".join(f"{value:02x}" for value in mixed)


def contrast(one: str, other: str) -> float:
    """The ratio of the luminances of two colours, 1 to 21 (WCAG 2.1, "contrast ratio")."""
    low, high = sorted(_luminance(colour) for colour in (one, other))
    return (high + 0.05) / (low + 0.05)


def _luminance(colour: str) -> float:
    shares = (int(channel, 16) / 255 for channel in _channels(colour))
    linear = [s / 12.92 if s <= 0.04045 else ((s + 0.055) / 1.055) ** 2.4 for s in shares]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def _channels(colour: str) -> tuple[str, str, str]:
    return colour[1:3], colour[3:5], colour[5:7]


_LOOKS = (
    Look("#0b6e6e", "circle", ()),
    Look("#c2492f", "square", (2.2, 0.8)),
    Look("#b07d0a", "triangle", (0.5, 0.7)),
    Look("#3f4fa3", "diamond", (2.6, 0.7, 0.5, 0.7)),
    Look("#84356f", "down-triangle", (1.2, 0.8)),
    Look("#5d7a2a", "pentagon", (3.4, 0.9)),
    Look("#56646c", "cross", (1.4, 0.6, 0.4, 0.6, 0.4, 0.6)),
)

REPORT = Style(
    name="report",
    words="report",
    paper="#ffffff",
    ink="#1f2b2a",
    grey="#7b8785",
    grid="#e3e9e7",
    shade="#e3efec",
    looks=_LOOKS,
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

STYLES = {style.name: style for style in (REPORT,)}
