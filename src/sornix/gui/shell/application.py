"""Starting the window."""

import gc
import os
import sys
import threading
import traceback
from collections.abc import Callable, Sequence
from functools import partial
from importlib import import_module
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

# NumPy is loaded before the window is shown and the core after it, so neither waits for both.
import numpy  # noqa: F401, ICN001
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from sornix.gui.base.collector import Collector
from sornix.gui.base.settings import Settings, user_settings
from sornix.gui.base.themes import chosen_theme
from sornix.gui.shell.frame import Frame
from sornix.paint.fonts import load_fonts
from sornix.version import APPLICATION_ID, __version__

if TYPE_CHECKING:
    from sornix.gui.shell.window import Window


_AT_LEISURE_MS = 1500
_SOON_MS = 150
_TAKES_OVER_S = 0.0005


def make_application() -> QApplication:
    """The application object, with the typeface loaded."""
    # as an argument: to be handed a style would make the hundreds of names that styles have
    application = QApplication([*sys.argv[:1], "-style", "fusion"])
    Collector().start()
    # the interface thread takes over from work beside it as soon as it has something to do
    sys.setswitchinterval(_TAKES_OVER_S)
    application.setApplicationName("Sornix")
    application.setApplicationVersion(__version__)
    application.setDesktopFileName(APPLICATION_ID)
    load_fonts()
    return application


def open_desk(
    files: Sequence[Path],
    demo: str = "",
    shown: Callable[[], None] = lambda: None,
    ready: Callable[["Window"], None] = lambda _: None,
) -> int:
    """Opens a window for each file, or one for the demo, and runs until the last is closed.

    `shown` is called once the windows stand and events are handled, `ready` once they can work;
    benchmarks use both. Returns an exit status.
    """
    sys.excepthook = survive
    application = make_application()
    settings = user_settings()
    theme = chosen_theme(settings.text("theme", "desktop"))
    frames = [Frame(theme) for _ in range(max(len(files), 1))]
    size = settings.numbers("window")
    for frame in frames:
        if len(size) == 2:
            frame.resize(*size)
        frame.show()
    QTimer.singleShot(0, shown)
    # the windows stand before the core is loaded: it takes as long as they do
    QTimer.singleShot(0, partial(_set_to_work, frames, settings, files, demo, ready))
    status = application.exec()
    if threading.active_count() > 1:
        # a read that was given up may never end; what had to be written is
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(status)
    return status


def survive(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
    """What was raised in a slot and not foreseen: told, where Qt would end the program and all
    that is not saved with it."""
    traceback.print_exception(kind, error, trace)
    if issubclass(kind, KeyboardInterrupt):
        QApplication.quit()
        return
    for widget in QApplication.topLevelWidgets():
        if isinstance(widget, Frame):
            widget.tell_mishap()


# kept here: a window without a parent is gone with its last reference
_windows: list["Window"] = []


def _set_to_work(
    frames: Sequence[Frame],
    settings: Settings,
    files: Sequence[Path],
    demo: str,
    ready: Callable[["Window"], None],
) -> None:
    from sornix.gui.shell.menus import window_acts
    from sornix.gui.shell.window import Window

    _windows.extend(Window(frame, settings, window_acts) for frame in frames)
    for window, path in zip(_windows, files, strict=False):
        window.open_path(path)
    if demo and not files:
        _windows[0].open_demo(demo)
    elif not files:
        QTimer.singleShot(_SOON_MS, partial(_fill_start_sheet, _windows[0]))
    # what start-up has made stays: it is not looked through again and again
    gc.freeze()
    ready(_windows[0])
    # what has time: by then a file of usual size has been opened and shown
    QTimer.singleShot(_AT_LEISURE_MS, _look_after_all)


def _fill_start_sheet(window: "Window") -> None:
    from sornix.gui.shell.thumbnails import Thumbnails

    sheet = window.frame.start
    sheet.pictures = Thumbnails(sheet, window.settings.recent, lambda: window.panes is None)


def _look_after_all() -> None:
    """Icon, tips and safety copies, and what an earlier program left behind."""
    from PyQt6.QtGui import QIcon

    from sornix.desktop_entry import icon_path

    QApplication.setWindowIcon(QIcon(str(icon_path())))
    for window in _windows:
        _look_after(window)
    first = _windows[0]
    if first.autosave is not None:
        first.autosave.offer(partial(_open_another, first.settings))
    threading.Thread(target=_load_ahead, daemon=True).start()


def _load_ahead() -> None:
    """What a first trend and a first unit would wait for, half a second long each."""
    import_module("scipy.special")
    from sornix.core.readings.tables.units import load_units

    load_units()


def _look_after(window: "Window") -> None:
    from sornix.gui.shell.autosave import Autosave, recovery_folder
    from sornix.gui.shell.tips import Tips

    window.tips = Tips(window)
    window.autosave = Autosave(window, recovery_folder())
    if window.bench.scene is not None:
        window.tips.come()
        # what was changed before safety copies were kept
        window.autosave.follow_preference()


def _open_another(settings: Settings) -> "Window":
    """One more window, empty."""
    from sornix.gui.shell.menus import window_acts
    from sornix.gui.shell.window import Window

    frame = Frame(chosen_theme(settings.text("theme", "desktop")))
    frame.show()
    window = Window(frame, settings, window_acts)
    _windows.append(window)
    _look_after(window)
    return window
