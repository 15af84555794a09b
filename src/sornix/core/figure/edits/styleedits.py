"""Edits of what a figure is made for: its style, its size, single choices."""

from typing import Any

from attrs import evolve, fields

from sornix.core.errors import EditRefused
from sornix.core.figure.model.checks import limits_of
from sornix.core.figure.model.styling import NO_CHOICES, STYLE_NAMES, Choices, OwnStyle, Size
from sornix.core.figure.model.values import Figure


def size_name(figure: Figure) -> str:
    """The name of the figure's size among those that its style offers, "" for one of its own."""
    return next(
        (
            size.name
            for size in STYLE_NAMES[figure.style].sizes
            if (size.width_mm, size.height_mm) == (figure.width_mm, figure.height_mm)
        ),
        "",
    )


def set_style(figure: Figure, name: str) -> Figure:
    """The figure in another style. What is held stays; a size that the style offered becomes that
    of the same name in the new one, or its usual one."""
    here, sizes = size_name(figure), STYLE_NAMES[name].sizes
    changed = evolve(figure, style=name, style_name="")
    return (
        _sized(changed, next((s for s in sizes if s.name == here), sizes[0])) if here else changed
    )


def choose_size(figure: Figure, name: str) -> Figure:
    """One of the sizes that the style offers. Raises StopIteration for another name."""
    return _sized(figure, next(s for s in STYLE_NAMES[figure.style].sizes if s.name == name))


def _sized(figure: Figure, size: Size) -> Figure:
    return evolve(figure, width_mm=size.width_mm, height_mm=size.height_mm)


def choose(figure: Figure, **changes: Any) -> Figure:
    """Holds single choices, or leaves them to the style again (None, ""). Raises EditRefused."""
    try:
        return evolve(figure, choices=evolve(figure.choices, **changes))
    except ValueError as error:
        name = next(iter(changes))
        known = limits_of(Choices, name)
        raise EditRefused(
            f"{changes[name]:g} {known.unit} cannot be drawn.", remedy=f"Choose {known.words}."
        ) from error


def held_choices(figure: Figure) -> tuple[str, ...]:
    """The names of the choices that are held against the style."""
    names = (part.name for part in fields(Choices))
    return tuple(n for n in names if getattr(figure.choices, n) != getattr(NO_CHOICES, n))


def free_choices(figure: Figure) -> Figure:
    """Leaves every choice about sizes and colours to the style again."""
    kept = Choices(units=figure.choices.units, decimal=figure.choices.decimal)
    return evolve(figure, choices=kept, style_name="")


def own_style(figure: Figure, name: str) -> OwnStyle:
    """The style of a figure under a name of the user's own. Raises EditRefused without one."""
    name = name.strip()
    if not name or any(name == known.words for known in STYLE_NAMES.values()):
        raise EditRefused("A style of your own needs a name of its own.")
    return OwnStyle(name, figure.style, figure.choices, figure.width_mm, figure.height_mm)


def put_on_style(figure: Figure, own: OwnStyle) -> Figure:
    """The figure in a style of the user's own: all that it holds comes with it."""
    return evolve(
        figure,
        style=own.style,
        choices=own.choices,
        style_name=own.name,
        width_mm=own.width_mm,
        height_mm=own.height_mm,
    )
