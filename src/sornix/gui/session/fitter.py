"""Fits that take long, off the interface thread: their trends are shown when they are done."""

import weakref
from collections.abc import Sequence
from contextlib import suppress
from functools import partial

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from sornix.core.drawing import ready_residuals
from sornix.core.errors import TrendImpossible
from sornix.core.figure import Spec, fit_now, postpone_no_more, postpone_with
from sornix.gui.base.worker import Worker


class Fitter(QObject):
    """Works out the fits that the scene on show wants; those of an earlier scene are given up.

    `fitted` tells that they are known now.
    """

    fitted = pyqtSignal()
    busy_changed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._worker = Worker()
        self._worker.busy_changed.connect(self.busy_changed)
        self._wanted: dict[Spec, None] = {}
        self._running: tuple[Spec, ...] = ()
        # a scene wants all its fits before any is begun
        self._begin = QTimer(self)
        self._begin.setSingleShot(True)
        self._begin.setInterval(0)
        self._begin.timeout.connect(self._run)
        mine = weakref.WeakMethod(self._postpone)

        def hand_on(spec: Spec) -> None:
            postpone = mine()
            if postpone is not None:
                postpone(spec)

        postpone_with(hand_on)
        # whoever is gone, closed or not, postpones nothing
        self._no_more = weakref.finalize(self, postpone_no_more, hand_on)

    def _postpone(self, spec: Spec) -> None:
        self._wanted[spec] = None
        self._begin.start()

    def forget(self) -> tuple[Spec, ...]:
        """A new scene comes, which says anew what it wants; what the last one wanted."""
        wanted = tuple(self._wanted)
        self._wanted.clear()
        if self._running:
            self._begin.start()
        return wanted

    def want_again(self, wanted: Sequence[Spec]) -> None:
        """The new scene does not come after all."""
        for spec in wanted:
            self._postpone(spec)

    def _run(self) -> None:
        wanted = tuple(self._wanted)
        if wanted == self._running:
            return
        self.abandon()
        if not wanted:
            return
        self._running = wanted
        self._worker.start("Fitting…", partial(fit_all, wanted), self._done, self._done)

    def _done(self, _outcome: object) -> None:
        self._running = ()
        self._wanted.clear()
        self.fitted.emit()

    @property
    def part(self) -> float | None:
        """What part of the fits that go on is done, None where that is not known."""
        return self._worker.part

    @property
    def is_busy(self) -> bool:
        """Whether a trend of the scene on show is still being fitted."""
        return bool(self._wanted)

    def abandon(self) -> None:
        """Gives up what is going on; what is still wanted is begun anew."""
        if self._running:
            self._running = ()
            self._worker.cancel()
        if self._wanted:
            self._begin.start()

    def give_up(self) -> bool:
        """Ends what goes on until a scene asks for it again; whether there was anything."""
        was_busy = bool(self._running)
        self._wanted.clear()
        self.abandon()
        return was_busy

    def close(self) -> None:
        """Gives up everything and waits until no thread is left."""
        self._no_more()
        self._wanted.clear()
        self.abandon()
        self._begin.stop()
        self._worker.wait()


def fit_all(wanted: Sequence[Spec]) -> None:
    """Makes each fit, which is then remembered, and where its residuals stand; for a worker."""
    for spec in wanted:
        # that one is impossible is remembered too
        with suppress(TrendImpossible):
            fit_now(spec, ready_residuals)
