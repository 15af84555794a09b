"""What a figure is made for: its style by name, single choices that are held against it, sizes."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from attrs import field

from sornix.core.figure.model.checks import between, one_of, told
from sornix.core.frozen import frozen


class Size(NamedTuple):
    """A size that a style offers: its name, its words, width and height in mm."""

    name: str
    words: str
    width_mm: float
    height_mm: float


_REPORT_SIZES = (
    Size("column", "one column", 84.0, 63.0),
    Size("page", "full width", 174.0, 108.0),
    Size("leaf", "a whole page", 174.0, 240.0),
)
_SLIDE_SIZES = (
    Size("slide", "a whole slide, 16:9", 254.0, 142.875),
    Size("half-slide", "half a slide", 124.0, 124.0),
)


class StyleName(NamedTuple):
    """A style as it is said in the statement, and the sizes that it offers, the usual one first."""

    words: str
    sizes: tuple[Size, ...] = _REPORT_SIZES


STYLE_NAMES: Mapping[str, StyleName] = MappingProxyType(
    {
        "report": StyleName("for a report"),
        "slide": StyleName("for slides", _SLIDE_SIZES),
        "grey": StyleName("for print in grey"),
        "dark": StyleName("on dark"),
        "dark-slide": StyleName("for dark slides", _SLIDE_SIZES),
        "contrast": StyleName("with high contrast"),
    }
)
# Sets of colours by name: what they are, the drawing knows. "" is that of the style.
PALETTES: Mapping[str, str] = MappingProxyType(
    {
        "": "colours of the style",
        "lake": "lake colours",
        "light": "light colours",
        "deep": "deep colours",
        "grey": "greys",
    }
)
# How the unit stands in a title that follows its columns.
UNITS: Mapping[str, str] = MappingProxyType(
    {"stroke": "Quantity / unit", "brackets": "Quantity (unit)"}
)
# The mark between whole and part in numbers on the figure.
DECIMALS: Mapping[str, str] = MappingProxyType(
    {"point": "decimal point, 0.5", "comma": "decimal comma, 0,5"}
)


_OF_STYLE = told("null: that of the style")


@frozen
class Choices:
    """Single choices that are held whatever the style; None and "" leave them to it."""

    type_pt: float | None = field(
        default=None, validator=between(4, 48, "points"), metadata=_OF_STYLE
    )
    line_mm: float | None = field(
        default=None, validator=between(0.05, 3, "mm"), metadata=_OF_STYLE
    )
    marker_mm: float | None = field(
        default=None, validator=between(0.3, 12, "mm"), metadata=_OF_STYLE
    )
    axis_mm: float | None = field(
        default=None, validator=between(0.05, 3, "mm"), metadata=_OF_STYLE
    )
    palette: str = field(default="", validator=one_of(PALETTES))
    units: str = field(default="stroke", validator=one_of(UNITS))
    decimal: str = field(default="point", validator=one_of(DECIMALS))


NO_CHOICES = Choices()


@frozen
class OwnStyle:
    """A style of the user's own: one that is there, with single choices and a size."""

    name: str
    style: str = field(validator=one_of(STYLE_NAMES))
    choices: Choices
    width_mm: float
    height_mm: float
