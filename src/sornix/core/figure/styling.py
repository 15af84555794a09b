"""What a figure is made for: its style by name, single choices that are held against it, sizes."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import TYPE_CHECKING, Any, NamedTuple

from attrs import evolve, field, fields, frozen

from sornix.core.errors import EditRefused
from sornix.core.figure.checks import one_of, valid

if TYPE_CHECKING:
    from sornix.core.figure.values import Figure


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


def _within(low: float, high: float, unit: str) -> Any:
    words = f"{low:g} to {high:g} {unit}"
    rule = valid(lambda v: v is None or low <= v <= high, words)
    return field(default=None, validator=rule, metadata={"low": low, "high": high, "unit": unit})


@frozen
class Choices:
    """Single choices that are held whatever the style; None and "" leave them to it."""

    type_pt: float | None = _within(4, 48, "points")
    line_mm: float | None = _within(0.05, 3, "mm")
    marker_mm: float | None = _within(0.3, 12, "mm")
    axis_mm: float | None = _within(0.05, 3, "mm")
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


def size_name(figure: "Figure") -> str:
    """The name of the figure's size among those that its style offers, "" for one of its own."""
    return next(
        (
            size.name
            for size in STYLE_NAMES[figure.style].sizes
            if (size.width_mm, size.height_mm) == (figure.width_mm, figure.height_mm)
        ),
        "",
    )


def set_style(figure: "Figure", name: str) -> "Figure":
    """The figure in another style. What is held stays; a size that the style offered becomes that
    of the same name in the new one, or its usual one."""
    here, sizes = size_name(figure), STYLE_NAMES[name].sizes
    changed = evolve(figure, style=name, style_name="")
    return (
        _sized(changed, next((s for s in sizes if s.name == here), sizes[0])) if here else changed
    )


def choose_size(figure: "Figure", name: str) -> "Figure":
    """One of the sizes that the style offers. Raises StopIteration for another name."""
    return _sized(figure, next(s for s in STYLE_NAMES[figure.style].sizes if s.name == name))


def _sized(figure: "Figure", size: Size) -> "Figure":
    return evolve(figure, width_mm=size.width_mm, height_mm=size.height_mm)


def choose(figure: "Figure", **changes: Any) -> "Figure":
    """Holds single choices, or leaves them to the style again (None, ""). Raises EditRefused."""
    try:
        return evolve(figure, choices=evolve(figure.choices, **changes))
    except ValueError as error:
        name = next(iter(changes))
        known = getattr(fields(Choices), name).metadata
        raise EditRefused(
            f"{changes[name]:g} {known['unit']} cannot be drawn.",
            remedy=f"Choose {known['low']:g} to {known['high']:g} {known['unit']}.",
        ) from error


def held_choices(figure: "Figure") -> tuple[str, ...]:
    """The names of the choices that are held against the style."""
    names = (part.name for part in fields(Choices))
    return tuple(n for n in names if getattr(figure.choices, n) != getattr(NO_CHOICES, n))


def free_choices(figure: "Figure") -> "Figure":
    """Leaves every choice about sizes and colours to the style again."""
    kept = Choices(units=figure.choices.units, decimal=figure.choices.decimal)
    return evolve(figure, choices=kept, style_name="")


def own_style(figure: "Figure", name: str) -> OwnStyle:
    """The style of a figure under a name of the user's own. Raises EditRefused without one."""
    name = name.strip()
    if not name or any(name == known.words for known in STYLE_NAMES.values()):
        raise EditRefused("A style of your own needs a name of its own.")
    return OwnStyle(name, figure.style, figure.choices, figure.width_mm, figure.height_mm)


def put_on_style(figure: "Figure", own: OwnStyle) -> "Figure":
    """The figure in a style of the user's own: all that it holds comes with it."""
    return evolve(
        figure,
        style=own.style,
        choices=own.choices,
        style_name=own.name,
        width_mm=own.width_mm,
        height_mm=own.height_mm,
    )
