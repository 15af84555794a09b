"""Who must not wait for fits, and what is known of them while one figure is looked at."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any
from weakref import WeakSet

from sornix.core.errors import TrendImpossible

# So long the trends of a figure may hold up its drawing, all together.
PATIENCE_S = 0.08


class TrendPending(TrendImpossible):
    """A fit that is being worked out elsewhere."""


# All that decides about a fit (trendfits.Spec).
Work = Any
Postpone = Callable[[Work], None]
# Who must not wait, such as the thread of a window, puts here what takes fits off its hands.
_POSTPONE: ContextVar[tuple[Postpone, ...]] = ContextVar("postpone", default=())


def postponing() -> tuple[Postpone, ...]:
    """Who takes fits that take long off this thread's hands; nobody, if it may wait."""
    return _POSTPONE.get()


def postpone_with(postpone: Postpone) -> None:
    """Says what to do in this thread with fits that take long: instead of fitting, `postpone` is
    called and TrendPending raised. Of several, one for each window, all are called, since a fit is
    remembered for all of them."""
    _POSTPONE.set((*_POSTPONE.get(), postpone))


def postpone_no_more(postpone: Postpone) -> None:
    """Takes back `postpone_with`; where nobody postpones fits any more, they are made at once."""
    _POSTPONE.set(tuple(one for one in _POSTPONE.get() if one != postpone))


@contextmanager
def waiting() -> Iterator[None]:
    """Within it, this thread waits for every fit."""
    token = _POSTPONE.set(())
    try:
        yield
    finally:
        _POSTPONE.reset(token)


class View:
    """One look at a figure: the fits that it asks for, those that are not known for the whole of
    it, and how many seconds may still be spent on others."""

    def __init__(self) -> None:
        self.asked: set[Work] = set()
        self.pending: set[Work] = set()
        self.seconds = PATIENCE_S
        _VIEWS.add(self)


_VIEWS: WeakSet[View] = WeakSet()


def asked_for() -> set[Work]:
    """All fits that what is still looked at has asked for."""
    return set().union(*(view.asked for view in tuple(_VIEWS)))


_VIEW: ContextVar[View | None] = ContextVar("view", default=None)


def view_now() -> View | None:
    """The look at a figure that this is part of."""
    return _VIEW.get()


@contextmanager
def steady_fits(view: View | None = None) -> Iterator[None]:
    """Within it, a fit that is not known when it is first asked for stays unknown, though it may
    become known in another thread meanwhile: a figure is drawn from one state of things. What
    belongs to one `view` shares its state; within another one, that goes on."""
    if _VIEW.get() is not None:
        yield
        return
    token = _VIEW.set(view or View())
    try:
        yield
    finally:
        _VIEW.reset(token)
