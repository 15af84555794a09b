"""Work that somebody waits for, and may not wait for any longer."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


def _always() -> bool:
    return True


_wanted: ContextVar[Callable[[], bool]] = ContextVar("wanted", default=_always)


class GivenUp(Exception):
    """Nobody waits for this work any longer. No failure that anybody is told of."""


@contextmanager
def while_wanted(wanted: Callable[[], bool]) -> Iterator[None]:
    """What is done inside may end with GivenUp as soon as it is not `wanted`, or what it is part of
    is not."""
    whole = _wanted.get()
    token = _wanted.set(lambda: wanted() and whole())
    try:
        yield
    finally:
        _wanted.reset(token)


def is_wanted() -> bool:
    """Whether somebody still waits for what goes on here."""
    return _wanted.get()()


def go_on() -> None:
    """Raises GivenUp where nobody waits any longer."""
    if not is_wanted():
        raise GivenUp
