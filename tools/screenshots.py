"""Makes the pictures in docs/screenshots from the demo data: python tools/screenshots.py [NAME…]"""

import os
import sys
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtWidgets import QApplication

from sornix.desk.application import make_application
from sornix.desk.frame import Frame
from sornix.desk.settings import Settings
from sornix.desk.theme import LIGHT
from sornix.desk.window import Window

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def _enter(window: Window, axis: str, part: str, text: str) -> None:
    """Types a value into a word of the statement's Scales line."""
    assert window.panes is not None
    word = window.panes.statement.scales[axis].fields[part]
    word.field.setText(text)
    word.entered.emit(text)


def _calibration(window: Window) -> None:
    window.open_demo("nitrate-standards")


def _held_and_refused(window: Window) -> None:
    window.open_demo("nitrate-standards")
    _settle(window)
    _enter(window, "x", "start", "0")
    _enter(window, "x", "end", "10")
    _enter(window, "x", "step", "40")


def _several_series(window: Window) -> None:
    window.open_demo("site-ranks")


def _reversed_depth(window: Window) -> None:
    window.open_demo("depth-profile")


def _empty(_window: Window) -> None:
    """A window as it opens without a file."""


VIEWS: dict[str, Callable[[Window], None]] = {
    "calibration": _calibration,
    "held-and-refused": _held_and_refused,
    "several-series": _several_series,
    "reversed-depth": _reversed_depth,
    "empty": _empty,
}


def _settle(window: Window) -> None:
    while window.worker.is_busy:
        QApplication.processEvents()
    for _ in range(20):
        QApplication.processEvents()


def main() -> None:
    application = make_application()
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name in sys.argv[1:] or VIEWS:
        frame = Frame(LIGHT)
        frame.show()
        window = Window(frame, Settings(Path(os.devnull)))
        _settle(window)
        VIEWS[name](window)
        _settle(window)
        frame.grab().save(str(FOLDER / f"{name}.png"))
        window.close_without_asking()
    application.quit()


if __name__ == "__main__":
    main()
