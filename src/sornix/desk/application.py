"""Starting the window."""

import sys
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from sornix import APPLICATION_ID, __version__
from sornix.desk.window import MainWindow
from sornix.paint import load_fonts


def make_application() -> QApplication:
    """The application object, with the typeface loaded."""
    application = QApplication(sys.argv[:1])
    application.setApplicationName("Sornix")
    application.setApplicationVersion(__version__)
    application.setDesktopFileName(APPLICATION_ID)
    application.setStyle("Fusion")
    load_fonts()
    return application


def open_desk(
    files: Sequence[Path], demo: str = "", ready: Callable[[MainWindow], None] | None = None
) -> int:
    """Opens a window for each file, or one for the demo, and runs until the last is closed.

    `ready` is called once events are being handled; benchmarks use it. Returns an exit status.
    """
    application = make_application()
    windows = [MainWindow() for _ in range(max(len(files), 1))]
    for window in windows:
        window.show()
    # the windows stand before anything is read: reading takes libraries of its own
    for window, path in zip(windows, files, strict=False):
        QTimer.singleShot(0, partial(window.open_path, path))
    if demo and not files:
        QTimer.singleShot(0, partial(windows[0].open_demo, demo))
    if ready is not None:
        QTimer.singleShot(0, partial(ready, windows[0]))
    return application.exec()
