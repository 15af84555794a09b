"""Long work off the interface thread: it delivers a result or an error."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from sornix.core.errors import SornixError

UNEXPECTED = SornixError(
    "Something went wrong inside Sornix, and nothing was changed.",
    remedy="The details are on the terminal; please report them.",
)


class _Signals(QObject):
    done = pyqtSignal(object)
    failed = pyqtSignal(object)


class _Job(QRunnable):
    def __init__(self, work: Callable[[], Any]) -> None:
        super().__init__()
        self.setAutoDelete(False)
        self.signals = _Signals()
        self._work = work

    def run(self) -> None:
        problem: SornixError | None = UNEXPECTED
        try:
            result = self._work()
            problem = None
        except SornixError as error:
            problem = error
        finally:
            # also where something unforeseen was raised, which goes on to the exception hook
            if problem is not None:
                self.signals.failed.emit(problem)
        if problem is None:
            self.signals.done.emit(result)


class Worker(QObject):
    """Runs one job at a time in order; a job that is asked for later is done later."""

    busy_changed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._pool = self._new_pool()
        self._old_pools: list[QThreadPool] = []
        # kept until the end: they may still run
        self._abandoned: list[_Job] = []
        self._jobs: list[_Job] = []

    def start(
        self,
        words: str,
        work: Callable[[], Any],
        done: Callable[[Any], None],
        failed: Callable[[SornixError], None],
    ) -> None:
        """Does `work` elsewhere, then `done` or `failed` here; `words` tell what is going on."""
        job = _Job(work)
        self._jobs.append(job)

        def finish(then: Callable[[Any], None], value: Any) -> None:
            self._jobs.remove(job)
            self.busy_changed.emit(words if self._jobs else "")
            then(value)

        job.signals.done.connect(lambda result: finish(done, result))
        job.signals.failed.connect(lambda error: finish(failed, error))
        self.busy_changed.emit(words)
        self._pool.start(job)

    @property
    def is_busy(self) -> bool:
        return bool(self._jobs)

    def cancel(self) -> None:
        """Gives up what goes on: its results are not wanted any more, and what comes next does not
        wait for it."""
        for job in self._jobs:
            job.signals.done.disconnect()
            job.signals.failed.disconnect()
        self._abandoned += self._jobs
        self._jobs = []
        self._old_pools.append(self._pool)
        self._pool = self._new_pool()
        self.busy_changed.emit("")

    def _new_pool(self) -> QThreadPool:
        pool = QThreadPool(self)
        pool.setMaxThreadCount(1)
        return pool

    def wait(self) -> None:
        """Waits until nothing runs any more."""
        for pool in (self._pool, *self._old_pools):
            pool.waitForDone()
