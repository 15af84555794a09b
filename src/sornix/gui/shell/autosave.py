"""Safety copies of unsaved work: kept up while it is changed, offered after Sornix ended badly."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from PyQt6.QtCore import QObject, QTimer

from sornix.core.document.stored.safetycopy import LeftCopy, SafetyCopy, Work, left_behind
from sornix.core.document.stored.toolong import too_long
from sornix.core.text import plural, spoken_list
from sornix.gui.base.preferences import preferred
from sornix.gui.base.worker import Worker
from sornix.gui.session.host import Host

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from sornix.core.document import Document
    from sornix.core.errors import SornixError
    from sornix.gui.dialogs.recovery import RecoveryDialog

# So long after a change its copy is written, together with what was changed meanwhile.
_SOON_MS = 1500
_AGAIN_MS = 5000


def recovery_folder() -> Path:
    """The user's folder for safety copies."""
    from platformdirs import user_state_path

    return user_state_path("sornix") / "recovery"


class Kept(Host, Protocol):
    """A window whose work is kept."""

    @property
    def worker(self) -> Worker: ...

    def bring_back(self, copy: LeftCopy) -> None:
        """Takes up what a safety copy holds."""
        ...


class Autosave(QObject):
    """Keeps a safety copy of a window's unsaved work, written in a thread of its own, and takes it
    away when the work is saved or given up."""

    def __init__(self, window: Kept, root: Path) -> None:
        super().__init__(window.frame)
        self._window, self._root = window, root
        self._copy = SafetyCopy(root)
        self._kept: Document | None = None
        self._worker = Worker()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.keep)
        self._told = False
        self.dialog: RecoveryDialog | None = None
        window.bench.changed.connect(self._changed)
        window.bench.file_changed.connect(self.forget)

    def follow_preference(self) -> None:
        """Begins or ends keeping copies as is preferred now."""
        if preferred(self._window.settings, "autosave") == "0":
            self.forget()
        else:
            self._changed()

    def _changed(self) -> None:
        if not self._soon.isActive() and preferred(self._window.settings, "autosave") != "0":
            self._soon.start(_SOON_MS)

    def keep(self) -> None:
        """Writes a copy, if there is something that is not saved and not copied yet."""
        bench = self._window.bench
        document = bench.document
        if document is None or document is self._kept or not bench.has_unsaved_changes:
            return
        if (long := too_long(document)) is not None:
            self._kept = document
            if not self._told:
                self._told = True
                self._window.say(
                    f"No safety copy is kept of so many readings as “{long.name}” has. Save the "
                    "figure as a pattern from time to time."
                )
            return
        if self._worker.is_busy:
            self._soon.start(_SOON_MS)
            return
        work = Work(bench.name, bench.path, bench.file_state)
        copy, self._kept = self._copy, document
        self._worker.start("", partial(copy.write, document, work), self._written, self._failed)

    def _written(self, _nothing: object) -> None:
        self._told = False

    def _failed(self, error: SornixError) -> None:
        """Says it once, and tries again."""
        self._kept = None
        self._soon.start(_AGAIN_MS)
        if not self._told:
            self._told = True
            self._window.say(f"{error.what} Save your work. It is tried again meanwhile.")

    def forget(self) -> None:
        """Takes the copy away."""
        self._kept = None
        self._soon.stop()
        copy, self._copy = self._copy, SafetyCopy(self._root)
        # in its thread, after what may still be being written
        self._worker.start("", copy.forget, lambda _: None, lambda _: None, writes=True)

    def adopt(self, left: LeftCopy) -> None:
        """Goes on with a copy that was left behind, until what is in it is saved."""
        copy = left.take_over()
        if copy is not None:
            self._copy = copy

    def close(self) -> None:
        """Ends with the window: its work is saved or given up."""
        self.forget()
        self._worker.wait()

    def offer(self, open_another: Callable[[], Kept]) -> None:
        """Offers what programs that ended badly left behind; `open_another` gives a window for
        each but the first."""
        copies = left_behind(self._root)
        if not copies:
            return

        def show() -> None:
            from sornix.gui.dialogs.recovery import RecoveryDialog

            take = partial(self._bring_back, open_another)
            self.dialog = RecoveryDialog(self._window.frame, copies, self._window.worker, take)

        names = [f"“{copy.work.name}”" for copy in copies[:3]]
        if len(copies) > 3:
            names.append(plural(len(copies) - 3, "other"))
        named = spoken_list(names)
        there = "is a copy of it" if len(copies) == 1 else "are copies of them"
        self._window.offer(
            f"Sornix ended without saving {named}. There {there}.",
            {"Look at what there is…": show},
        )

    def _bring_back(self, open_another: Callable[[], Kept], copies: Sequence[LeftCopy]) -> None:
        for copy in copies:
            window = self._window
            if window.bench.document is not None:
                window = open_another()
            window.bring_back(copy)
