"""Validators of the figure's values.

They are our own: attrs' module of them takes 6 ms to import, and the start counts.
"""

from collections.abc import Callable, Container
from typing import Any

from attrs import Attribute

from sornix.core.errors import Unfit
from sornix.core.text import capital, short

Validator = Callable[[object, "Attribute[Any]", Any], None]


def valid(rule: Callable[[Any], bool], words: str) -> Validator:
    """A validator that raises Unfit, a ValueError, with the attribute's name and `words`."""

    def check(_instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        if not rule(value):
            said = attribute.name.replace("_", " ")
            raise Unfit(f"{capital(said)} must be {words}, not {short(_said(value))}.")

    return check


def _said(value: Any) -> str:
    return f"{value:g}" if isinstance(value, float) else f"“{value}”"


def one_of(names: Container[str | None]) -> Validator:
    return valid(lambda value: value in names, "one of those known")


FINITE = valid(lambda v: v is None or abs(v) < float("inf"), "a finite number")
ABOVE_0 = valid(lambda v: v is None or 0 < v < float("inf"), "a number above 0")
NOT_EMPTY = valid(lambda value: len(value) > 0, "one or more")
NOT_BELOW_0 = valid(lambda value: value >= 0, "0 or more")
