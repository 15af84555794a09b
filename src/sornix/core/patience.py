"""Work that somebody waits for, and may not wait for any longer."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


def _always() -> bool:
    return True


_wanted: ContextVar[Callable[[], bool]] = ContextVar("wanted", default=_always)


def _nobody(_part: float) -> None:
    pass


_told: ContextVar[Callable[[float], None]] = ContextVar("told", default=_nobody)


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


def go_on(part: float | None = None) -> None:
    """Raises GivenUp where nobody waits any longer; tells whoever waits what part is done."""
    if not is_wanted():
        raise GivenUp
    if part is not None:
        _told.get()(part)


@contextmanager
def telling(told: Callable[[float], None]) -> Iterator[None]:
    """What is done inside tells by this how far it is."""
    token = _told.set(told)
    try:
        yield
    finally:
        _told.reset(token)
