"""Files that readings came from: watched, offered for reading again, or followed as they grow."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QFileSystemWatcher, QObject, QTimer

from sornix.core.document import with_table_read_again
from sornix.core.readings.changes.again import read_again

if TYPE_CHECKING:
    from collections.abc import Callable

    from sornix.core.errors import SornixError
    from sornix.core.readings import Table
    from sornix.gui.session.host import Host

# Loggers write in small pieces: what comes within this time is read at once.
_PAUSE_MS = 250
_SOON_MS = 100


class Follower(QObject):
    """Watches the files of the tables of a document."""

    def __init__(self, window: Host, read_again: Callable[[str], object]) -> None:
        """`read_again` reads a table of some name anew, and shows it."""
        super().__init__(window.frame)
        self._window = window
        self._read_again = read_again
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._changed)
        self._watcher.directoryChanged.connect(self._folder_changed)
        self._followed: set[str] = set()
        self._waiting: set[str] = set()
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(_PAUSE_MS)
        self._pause.timeout.connect(self._look)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_SOON_MS)
        self._soon.timeout.connect(self._begin)

    def watch_soon(self) -> None:
        """Watches the files of what is shown, once it is: the figure does not wait for that."""
        self._soon.start()

    def _begin(self) -> None:
        self.watch()
        # what has changed since it was read
        self._folder_changed("")

    def watch(self) -> None:
        """Watches the files of the present document and of its readings, and no others."""
        bench = self._window.bench
        files = {t.source.path for t in bench.tables if t.source and t.source.path}
        # one that a logger has renamed comes again, perhaps much later
        self._followed &= files
        if bench.path is not None:
            files.add(str(bench.path))
            bench.see_file(gone=not bench.path.exists())
        # a file that is replaced by another one of its name only shows in its folder
        wanted = {*files, *(str(Path(path).parent) for path in files)}
        wanted = {path for path in wanted if Path(path).exists()}
        watched = {*self._watcher.files(), *self._watcher.directories()}
        if gone := watched - wanted:
            self._watcher.removePaths(list(gone))
        if fresh := wanted - watched:
            self._watcher.addPaths(list(fresh))

    def is_followed(self, table: Table | None) -> bool:
        return (
            table is not None and table.source is not None and table.source.path in self._followed
        )

    def follow(self, table: Table, *, on: bool) -> None:
        """Follows the file of a table, or no longer."""
        if table.source is None or not table.source.path:
            return
        if on:
            self._followed.add(table.source.path)
            self._waiting.add(table.source.path)
            self._pause.start()
        else:
            self._followed.discard(table.source.path)

    def _changed(self, path: str) -> None:
        self._waiting.add(path)
        if not self._pause.isActive():
            self._pause.start()

    def _folder_changed(self, _folder: str) -> None:
        bench = self._window.bench
        if bench.path is not None and bench.path.exists() == bench.file_is_gone:
            self._changed(str(bench.path))
        for table in self._window.bench.tables:
            source = table.source
            if (
                source is not None
                and source.path
                and _is_other(source.path, source.size, source.changed)
            ):
                self._changed(source.path)

    def _look(self) -> None:
        """Looks at the files that have changed."""
        waiting, self._waiting = self._waiting, set()
        self.watch()
        for table in self._window.bench.tables:
            source = table.source
            if source is None or source.path not in waiting:
                continue
            if not _is_other(source.path, source.size, source.changed):
                continue
            if source.path in self._followed:
                self._read(table)
            else:
                name = Path(source.path).name
                self._window.offer(
                    f"{name} has changed on disk.",
                    {
                        "Read it again": partial(self._read_again, table.name),
                        "Follow it": partial(self.follow, table, on=True),
                    },
                )

    def _read(self, table: Table) -> None:
        window = self._window

        def take(found: tuple[Table, tuple[str, ...]]) -> None:
            fresh, _ = found
            document = window.bench.document
            if document is not None and any(t.name == table.name for t in document.tables):
                now = next(t for t in document.tables if t.name == table.name)
                # something was changed by hand meanwhile: the next time will do
                if now is table:
                    window.bench.follow(with_table_read_again(document, table.name, fresh))
                else:
                    self._changed(table.source.path if table.source else "")

        def wait(error: SornixError) -> None:
            # a logger has begun anew: the readings that were there stay until there are others
            name = Path(table.source.path).name if table.source else table.name
            window.tell(f"waiting for readings in {name}: {error.what}")

        work = partial(read_again, table, whole_lines=True)
        window.start(f"following {table.name}…", work, take, failed=wait)


def _is_other(path: str, size: int, changed: int) -> bool:
    """Whether a file is not as it was when it was read."""
    file = Path(path)
    if not file.is_file():
        return False
    state = file.stat()
    return (state.st_size, state.st_mtime_ns) != (size, changed)
