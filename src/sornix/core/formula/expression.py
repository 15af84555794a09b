"""A formula as a tree of values."""

from collections.abc import Iterator
from typing import NamedTuple, Union

from sornix.core.patterns import pattern

_BARE = pattern(r"[^\W\d]\w*")


class Number(NamedTuple):
    """A number as written."""

    value: float


class Name(NamedTuple):
    """A column or a parameter; it begins at character `at` of the formula."""

    name: str
    at: int


class Call(NamedTuple):
    """A function, or an operation by its sign (`neg` for a minus before one operand)."""

    function: str
    operands: tuple["Expression", ...]
    at: int


Expression = Union[Number, Name, Call]  # noqa: UP007 - a name for a recursive type


def names_in(expression: Expression) -> Iterator[Name]:
    """Every name in a formula, in the order of writing."""
    if isinstance(expression, Name):
        yield expression
    elif isinstance(expression, Call):
        for operand in expression.operands:
            yield from names_in(operand)


def quoted(name: str) -> str:
    """A name as it is written in formulas: in double quotes where it needs them."""
    return name if _BARE.fullmatch(name) else f'"{name}"'


def renamed(text: str, expression: Expression, old: str, new: str) -> str:
    """The formula `text`, parsed as `expression`, with one name changed for another."""
    for found in reversed(list(names_in(expression))):
        if found.name == old:
            written = f'"{old}"' if text[found.at] == '"' else old
            text = text[: found.at] + quoted(new) + text[found.at + len(written) :]
    return text
