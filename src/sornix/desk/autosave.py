"""Safety copies of unsaved work: written now and then, offered after Sornix has ended badly."""

import contextlib
import json
import os
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QObject, QTimer

from sornix.core.document import ENDING, Document, load_document, save_document
from sornix.core.errors import SornixError
from sornix.core.files import write_atomically
from sornix.desk.preferences import preferred

if TYPE_CHECKING:
    from sornix.desk.window import Window


def recovery_folder() -> Path:
    """The user's folder for safety copies."""
    from platformdirs import user_state_path

    return user_state_path("sornix") / "recovery"


class Copy(NamedTuple):
    """A safety copy that was left behind: its file, and the name of what was worked on."""

    file: Path
    name: str

    @property
    def note(self) -> Path:
        return self.file.with_suffix(".json")


def left_behind(folder: Path) -> list[Copy]:
    """The safety copies of programs that run no more, the newest first."""
    found = []
    for file in sorted(folder.glob(f"*{ENDING}"), key=_changed, reverse=True):
        process = file.stem.partition("-")[0]
        if process.isdigit() and not _runs(int(process)):
            try:
                name = str(json.loads(file.with_suffix(".json").read_text())["name"])
            except (OSError, ValueError, KeyError, TypeError):
                name = "a figure"
            found.append(Copy(file, name))
    return found


def _changed(file: Path) -> float:
    try:
        return file.stat().st_mtime
    except OSError:
        return 0.0


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except PermissionError:
        return True
    return True


class Autosave(QObject):
    """Writes a safety copy of a window's unsaved work at the interval preferred, and takes it away
    when it is saved or given up."""

    def __init__(self, window: "Window", folder: Path) -> None:
        super().__init__(window)
        self._window, self._folder = window, folder
        number = len(list(folder.glob(f"{os.getpid()}-*{ENDING}"))) if folder.is_dir() else 0
        self._copy = Copy(folder / f"{os.getpid()}-{id(window):x}-{number}{ENDING}", "")
        self._last: Document | None = None
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.keep)
        self.follow_preference()
        window.bench.file_changed.connect(self.forget)

    def follow_preference(self) -> None:
        """Takes up the interval that is preferred now; 0 keeps none."""
        minutes = int(preferred(self._window.settings, "autosave"))
        self._timer.setInterval(minutes * 60_000)
        if minutes:
            self._timer.start()
        else:
            self._timer.stop()

    def keep(self) -> None:
        """Writes a copy, if there is something that is not saved and not copied yet."""
        bench = self._window.bench
        scene = bench.scene
        if scene is None or not bench.has_unsaved_changes or scene.document is self._last:
            return
        document, drawing, name = scene.document, scene.drawing, bench.name
        self._last = document

        def write() -> None:
            from sornix.paint.export import preview

            self._folder.mkdir(parents=True, exist_ok=True)
            note = json.dumps({"name": name, "path": str(bench.path or "")})
            write_atomically(self._copy.note, note.encode())
            save_document(document, self._copy.file, preview(drawing))

        # a full disk must not keep anybody from working: saving will tell of it
        self._window.worker.start("", write, lambda _: None, lambda _: None)

    def forget(self) -> None:
        """Takes the copy away."""
        self._last = None
        _remove(self._copy)

    def offer(self) -> None:
        """Offers what a program that ended badly left behind."""
        copies = left_behind(self._folder)
        if not copies:
            return
        copy = copies[0]
        more = f" (and {len(copies) - 1} more)" if len(copies) > 1 else ""

        def bring_back() -> None:
            def make() -> Document:
                try:
                    return load_document(copy.file)
                except SornixError as error:
                    raise SornixError(
                        "The safety copy cannot be read.", where=str(copy.file), remedy=error.what
                    ) from error

            self._window.take_up(
                "bringing it back…", make, copy.name, then=lambda: _remove(copy), unsaved=True
            )

        def give_up() -> None:
            _remove(copy)
            self.offer()

        self._window.offer(
            f"Sornix ended without saving “{copy.name}”{more}. There is a copy of it.",
            {"Bring it back": bring_back, "Throw it away": give_up},
        )


def _remove(copy: Copy) -> None:
    for file in (copy.file, copy.note):
        with contextlib.suppress(OSError):
            file.unlink(missing_ok=True)
