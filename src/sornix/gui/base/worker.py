"""Long work off the interface thread: it delivers a result or an error.

The threads are Python's own, and touch nothing of Qt. What they found comes back through a queue,
and a descriptor of the system wakes the interface thread. The work itself comes back too, so that
whatever it refers to, widgets among it, is let go of in the interface thread.
"""

import itertools
import os
import sys
import threading
import time
import traceback
from collections.abc import Callable
from functools import partial
from queue import SimpleQueue
from typing import Any, NamedTuple

from PyQt6 import sip
from PyQt6.QtCore import QCoreApplication, QObject, QSocketNotifier, pyqtSignal
from PyQt6.sip import voidptr

from sornix.core.errors import SornixError
from sornix.core.patience import GivenUp, telling, while_wanted

UNEXPECTED = SornixError(
    "Something went wrong inside Sornix, and nothing was changed.",
    remedy="The details are on the terminal; please report them.",
)
_NO_MEMORY = SornixError(
    "There is not enough memory for this, and nothing was changed.",
    remedy="Close what is not needed, or take fewer readings.",
)

Work = Callable[[], Any]


class _Order(NamedTuple):
    """Work for a lane: its `ticket`, the work alone in a list, and whether it was given up."""

    ticket: int
    work: list[Work]
    given_up: threading.Event


class _Outcome(NamedTuple):
    """What came of an order: a result, or an error; or what `part` of it is done so far."""

    order: _Order
    result: Any = None
    error: BaseException | None = None
    part: float | None = None


class _Post:
    """Brings outcomes to the interface thread; one for the whole program."""

    def __init__(self) -> None:
        self._outcomes: SimpleQueue[_Outcome] = SimpleQueue()
        self._wake = os.eventfd(0, os.EFD_CLOEXEC | os.EFD_NONBLOCK)
        self._takers: dict[int, Callable[[_Outcome], None]] = {}
        self._tickets = itertools.count(1)
        # it goes with the application, like all that Qt watches
        self._watch = QSocketNotifier(
            voidptr(self._wake), QSocketNotifier.Type.Read, QCoreApplication.instance()
        )
        self._watch.activated.connect(self.hand_out)

    def ticket(self, taker: Callable[[_Outcome], None]) -> int:
        """A number under which `taker` gets the outcome, unless it is forgotten before."""
        number = next(self._tickets)
        self._takers[number] = taker
        return number

    def forget(self, ticket: int) -> None:
        self._takers.pop(ticket, None)

    def send(self, outcome: _Outcome) -> None:
        """From any thread."""
        self._outcomes.put(outcome)
        os.eventfd_write(self._wake, 1)

    def hand_out(self) -> None:
        """Gives what has come to those who wait for it."""
        try:
            os.eventfd_read(self._wake)
        except BlockingIOError:
            return
        try:
            while not self._outcomes.empty():
                self._hand(self._outcomes.get())
        finally:
            if not self._outcomes.empty():
                os.eventfd_write(self._wake, 1)

    def _hand(self, outcome: _Outcome) -> None:
        if outcome.part is not None:
            taker = self._takers.get(outcome.order.ticket)
            if taker is not None:
                taker(outcome)
            return
        # here, in the interface thread, the last reference to the work goes
        outcome.order.work.clear()
        taker = self._takers.pop(outcome.order.ticket, None)
        if taker is not None:
            taker(outcome)


_the_post: list[_Post] = []


def _post() -> _Post:
    if not _the_post:
        _the_post.append(_Post())
    return _the_post[0]


class _Lane:
    """A thread that does one order after the other, and ends when there is none."""

    def __init__(self, post: _Post) -> None:
        self._post = post
        self._orders: SimpleQueue[_Order] = SimpleQueue()
        self._lock = threading.Lock()
        self._runs = False

    def add(self, order: _Order) -> None:
        with self._lock:
            self._orders.put(order)
            if not self._runs:
                self._runs = True
                # a daemon: nobody waits for a read that was given up, not even the end
                threading.Thread(target=self._work, name="sornix work", daemon=True).start()

    def _work(self) -> None:
        while True:
            with self._lock:
                if self._orders.empty():
                    self._runs = False
                    return
                order = self._orders.get()
            self._post.send(_outcome_of(order, self._post))
            del order


# How far work is, is told no more often than this.
_TELL_S = 0.15


def _outcome_of(order: _Order, post: _Post) -> _Outcome:
    """Does the work. Nothing leaves here but as a value."""
    if order.given_up.is_set():
        return _Outcome(order)
    last = time.monotonic()

    def tell(part: float) -> None:
        nonlocal last
        if time.monotonic() - last > _TELL_S:
            last = time.monotonic()
            post.send(_Outcome(order, part=part))

    try:
        with while_wanted(lambda: not order.given_up.is_set()), telling(tell):
            result = order.work[0]()
    except (SornixError, GivenUp) as error:
        return _Outcome(order, error=_bare(error))
    except MemoryError:
        return _Outcome(order, error=_NO_MEMORY)
    except BaseException as error:  # noqa: BLE001 - the thread ends with it otherwise
        error.add_note(traceback.format_exc())
        return _Outcome(order, error=_bare(error))
    return _Outcome(order, result)


def hand_on(to: Callable[[Any], object], what: object) -> None:
    """Hands an outcome on, unless who asked for it is gone: a dialog that was closed."""
    asked = getattr(to.func if isinstance(to, partial) else to, "__self__", None)
    if not (isinstance(asked, QObject) and sip.isdeleted(asked)):
        to(what)


def _bare(error: BaseException) -> BaseException:
    """An error without the frames that it went through, which hold on to what they worked with."""
    error.__traceback__ = error.__cause__ = error.__context__ = None
    return error


class _Job(NamedTuple):
    words: str
    order: _Order
    writes: bool
    part: float | None = None


class Worker(QObject):
    """Runs one job at a time in order; a job that is asked for later is done later."""

    busy_changed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._post = _post()
        self._lane = _Lane(self._post)
        self._jobs: dict[int, _Job] = {}

    def start(
        self,
        words: str,
        work: Work,
        done: Callable[[Any], None],
        failed: Callable[[SornixError], None],
        *,
        writes: bool = False,
    ) -> None:
        """Does `work` elsewhere, then `done` or `failed` here; `words` tell what is going on. What
        `writes` is not given up and is waited for before the program ends."""

        def take(outcome: _Outcome) -> None:
            if outcome.part is not None:
                far = f"{words.rstrip('…')}, {outcome.part:.0%} done…".replace("%", " %")
                self._jobs[outcome.order.ticket] = _Job(far, outcome.order, writes, outcome.part)
                self.busy_changed.emit(self._words)
                return
            del self._jobs[outcome.order.ticket]
            self.busy_changed.emit(self._words)
            if outcome.error is None:
                hand_on(done, outcome.result)
            else:
                # who gave it up does not wait for it: what ends so here has ended by itself
                ended = isinstance(outcome.error, GivenUp)
                hand_on(failed, UNEXPECTED if ended else _told(outcome.error))

        order = _Order(self._post.ticket(take), [work], threading.Event())
        self._jobs[order.ticket] = _Job(words, order, writes)
        self.busy_changed.emit(words)
        self._lane.add(order)

    @property
    def _words(self) -> str:
        """What goes on now, or ""."""
        return next((job.words for job in self._jobs.values()), "")

    @property
    def part(self) -> float | None:
        """What part of what goes on now is done, None where that is not known."""
        return next((job.part for job in self._jobs.values()), None)

    @property
    def is_busy(self) -> bool:
        return bool(self._jobs)

    @property
    def is_writing(self) -> bool:
        return any(job.writes for job in self._jobs.values())

    def cancel(self) -> None:
        """Gives up what goes on but for what is being written: its results are not wanted any
        more, and what comes next does not wait for it."""
        for ticket, job in list(self._jobs.items()):
            if not job.writes:
                self._post.forget(ticket)
                job.order.given_up.set()
                del self._jobs[ticket]
        if not self._jobs:
            self._lane = _Lane(self._post)
        self.busy_changed.emit(self._words)

    def wait(self) -> None:
        """Waits until all that was not given up is done, and hands its results out."""
        while self._jobs:
            ready = threading.Event()
            ready.wait(0.001)
            self._post.hand_out()


def _told(error: BaseException) -> SornixError:
    """An error as it is said; one that was not foreseen goes to the exception hook as well."""
    if isinstance(error, SornixError):
        return error
    sys.excepthook(type(error), error, None)
    return UNEXPECTED
