"""Validators of the figure's values.

They are our own: attrs' module of them takes 6 ms to import, and the start counts.
"""

from collections.abc import Callable, Container
from typing import Any

from attrs import Attribute

Validator = Callable[[object, "Attribute[Any]", Any], None]


def valid(rule: Callable[[Any], bool], words: str) -> Validator:
    """A validator that raises ValueError with the attribute's name and `words`."""

    def check(_instance: object, attribute: "Attribute[Any]", value: Any) -> None:
        if not rule(value):
            raise ValueError(f"{attribute.name} must be {words}, not {value!r}")

    return check


def one_of(names: Container[str | None]) -> Validator:
    return valid(lambda value: value in names, "one of those known")


FINITE = valid(lambda v: v is None or abs(v) < float("inf"), "a finite number")
ABOVE_0 = valid(lambda v: v is None or 0 < v < float("inf"), "a number above 0")
NOT_EMPTY = valid(lambda value: len(value) > 0, "one or more")
NOT_BELOW_0 = valid(lambda value: value >= 0, "0 or more")
