"""Makes the pictures in docs/screenshots from the demo data: python tools/screenshots.py [NAME…]"""

import os
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtWidgets import QApplication, QWidget

from sornix.core import figure as edits
from sornix.desk.application import make_application
from sornix.desk.frame import Frame
from sornix.desk.look import Look
from sornix.desk.settings import Settings
from sornix.desk.theme import LIGHT
from sornix.desk.window import Window

FOLDER = Path(__file__).resolve().parent.parent / "docs" / "screenshots"


def _calibration(window: Window) -> None:
    window.open_demo("nitrate-standards")


def _held_and_refused(window: Window) -> None:
    """The scale strip on x: one end held, and a step that is refused."""
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    window.edit("held", lambda f: edits.hold(f, window.bench.tables, "x", end=12.5))
    window.panes.open_strip("x")
    step = window.panes.strip.fields["step"]
    step.field.setText("40")
    step.entered.emit("40")


def _cautions(window: Window) -> None:
    """Readings left out, readings outside a held range, a trend beyond its readings."""
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    tables = window.bench.tables
    window.leave_out((16,), "bubble in the cuvette")
    window.edit("held", lambda f: edits.hold(f, tables, "x", start=0.0, end=11.0))
    window.edit("reach", lambda f: edits.change_trend(f, "t1", extended=True))
    window.edit("range", lambda f: edits.hold(f, tables, "y", start=0.1))


def _closer_look(window: Window) -> None:
    _calibration(window)
    _settle(window)
    assert window.panes is not None
    paper = window.panes.paper
    paper.look_closer(Look((7.4, 8.6), (0.52, 0.62)))
    at = paper.pixel(8.0, 0.562)
    _move(paper, at)


def _dark(window: Window) -> None:
    window.choose_theme("dark")
    window.open_demo("depth-profile")


def _several_series(window: Window) -> None:
    window.open_demo("site-ranks")


def _palette(window: Window) -> None:
    window.open_demo("depth-profile")
    _settle(window)
    window.find_act()


def _empty(_window: Window) -> None:
    """A window as it opens without a file."""


VIEWS: dict[str, Callable[[Window], None]] = {
    "calibration": _calibration,
    "scale-strip": _held_and_refused,
    "closer-look": _closer_look,
    "cautions": _cautions,
    "several-series": _several_series,
    "dark": _dark,
    "palette": _palette,
    "empty": _empty,
}


def _move(widget: QWidget, at: QPointF) -> None:
    """The pointer over a place of a widget."""
    event = QMouseEvent(
        QEvent.Type.MouseMove,
        at,
        widget.mapToGlobal(at),
        Qt.MouseButton.NoButton,
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
    )
    QApplication.sendEvent(widget, event)


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
        window = Window(frame, Settings(Path(tempfile.mkdtemp()) / "settings.json"))
        _settle(window)
        VIEWS[name](window)
        _settle(window)
        frame.grab().save(str(FOLDER / f"{name}.png"))
        window.close_without_asking()
    application.quit()


if __name__ == "__main__":
    main()
