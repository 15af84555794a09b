"""The views of the window as readable texts, one file a view in tests/data/views. They are made
anew by `python -m tests.gui.views`; what changed is to be read in the difference before it is
kept."""

import tempfile
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QAbstractItemModel, QEvent, QPoint, Qt
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QLineEdit, QTableView, QWidget

from sornix.gui.shell.application import make_application
from sornix.gui.shell.window import Window
from tests.base import DATA
from tools.screenshots import VIEWS, View, settle, take

FOLDER = DATA / "views"
_MOST_ROWS, _MOST_COLUMNS = 4, 6


def _lines_open(window: Window) -> None:
    """Every word of a statement, and the strip of an axis."""
    window.open_demo("nitrate-standards")
    settle(window)
    assert window.panes is not None
    statement = window.panes.statement
    for word in (statement.plots[0], statement.trends[0], statement.figure_line):
        word.further.click()
    window.panes.open_inspector("x")


def _strip(window: Window, demo: str, axis: str, *, opened: bool = False) -> None:
    """The strip of an axis of a demo, with further words of its first series."""
    window.open_demo(demo)
    settle(window)
    assert window.panes is not None
    if opened:
        window.panes.statement.plots[0].further.click()
    window.panes.open_inspector(axis)


# Views that have no picture.
MORE = {
    "lines-open": View(_lines_open, "Nitrate standards – Sornix"),
    "log-strip": View(partial(_strip, demo="stage-discharge", axis="y"), "Rating curve – Sornix"),
    "bars-open": View(
        partial(_strip, demo="snail-counts", axis="x", opened=True), "Snail counts – Sornix"
    ),
    "curve": View(partial(_strip, demo="light-response", axis="x"), "Light response – Sornix"),
}
ALL = {**VIEWS, **MORE}


def view_text(name: str) -> str:
    """What stands where in a view."""
    lines: list[str] = []

    def keep(shown: list[QWidget]) -> None:
        # what was said last may still wait for its room
        QApplication.sendPostedEvents(None, QEvent.Type.LayoutRequest.value)
        for widget in sorted(shown, key=lambda w: type(w).__name__):
            lines.extend(_lines(widget, widget, 0))

    with tempfile.TemporaryDirectory() as folder:
        problem = take(name, Path(folder), keep, ALL[name])
    assert not problem, problem
    return "\n".join(lines) + "\n"


def _lines(widget: QWidget, window: QWidget, depth: int) -> Iterator[str]:
    if not widget.isVisible():
        return
    at = widget.mapTo(window, QPoint()) if widget is not window else QPoint()
    said = [type(widget).__name__, f"{at.x()},{at.y()} {widget.width()}x{widget.height()}"]
    if not widget.isEnabled():
        said.append("off")
    if isinstance(widget, QLabel | QLineEdit | QAbstractButton) and widget.text():
        said.append(f"“{widget.text()}”")
    for words, mark in ((widget.accessibleName(), "named"), (widget.toolTip(), "tip")):
        if words:
            said.append(f"{mark} “{words}”")
    yield "  " * depth + " ".join(said).replace("\n", "⏎")
    model = widget.model() if isinstance(widget, QTableView) else None
    if model is not None:
        yield from ("  " * (depth + 1) + line for line in _cells(model))
    for child in widget.children():
        if isinstance(child, QWidget) and not child.isWindow():
            yield from _lines(child, window, depth + 1)


def _cells(model: QAbstractItemModel) -> Iterator[str]:
    columns = range(min(model.columnCount(), _MOST_COLUMNS))
    heads = [model.headerData(i, Qt.Orientation.Horizontal) for i in columns]
    yield " | ".join(str(head).replace("\n", " ") for head in heads)
    for row in range(min(model.rowCount(), _MOST_ROWS)):
        yield " | ".join(str(model.index(row, i).data()) for i in columns)


if __name__ == "__main__":
    application = make_application()
    FOLDER.mkdir(exist_ok=True)
    for view in ALL:
        (FOLDER / f"{view}.txt").write_text(view_text(view))
        QApplication.processEvents()
