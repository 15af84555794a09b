"""The views of the window as readable texts, one file a view in tests/data/views. They are made
anew by `python -m tests.gui.views`; what changed is to be read in the difference before it is
kept."""

import tempfile
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QAbstractItemModel, QPoint, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QAbstractButton, QApplication, QLabel, QLineEdit, QTableView, QWidget

from sornix.core import figure as edits
from sornix.gui.base.preferences import PreferencesDialog
from sornix.gui.dialogs.formuladialog import FormulaDialog
from sornix.gui.dialogs.historyview import HistoryView
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.gui.dialogs.printing import PrintDialog
from sornix.gui.dialogs.shapedialog import ShapeDialog
from sornix.gui.dialogs.summarydialog import SummaryDialog
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.window import Window
from sornix.gui.widgets.inlinecontrols import ChoiceWord
from sornix.gui.widgets.question import Question
from tests.base import DATA
from tools.screenshots import SIZE, VIEWS, View, settle, take

FOLDER = DATA / "views"
_MOST_ROWS, _MOST_COLUMNS = 4, 6
_TICKS = {None: "", False: "", True: "✓ "}


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


def _asked(window: Window, act: str, demo: str = "nitrate-standards") -> None:
    """What an act of the menus asks; one step of history lies behind."""
    window.open_demo(demo)
    settle(window)
    window.edit("gave it a title", lambda f: edits.set_title(f, "March"))
    if act == "save-shape":
        window.edit("a formula", lambda f: edits.change_trend(
            f, "t1", model="formula", formula="a*x/(b + x)"))  # fmt: skip
        settle(window)
    window.menus.update()
    window.menus.actions[act].trigger()


def _other_names(window: Window) -> None:
    """Readings in place of others, whose columns bear other names."""
    window.open_demo("nitrate-standards")
    settle(window)
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "april.csv"
        file.write_text(
            "Nitrate conc. (mg/L),Absorbance 220 nm,Replicate\n0,0.01,A\n1,0.08,A\n2,0.15,A\n"
        )
        window.hand_over.replace_readings(file)
        settle(window)


def _mixed(window: Window, number: int) -> None:
    """A figure whose parts are mixed by chance, with every word of its first lines, and the strip
    of an axis; in a window that was smaller before."""
    window.frame.resize(1000, 640)
    window.open_path(DATA / "version-3" / f"mixed-{number:02}.sornix")
    settle(window)
    assert window.panes is not None
    statement = window.panes.statement
    lines = [statement.plots[0].further, statement.figure_line.further]
    lines += [line.further for line in statement.trends[:1] if line.further.isVisible()]
    for word in lines:
        word.click()
    window.panes.open_inspector("xy"[number % 2])
    settle(window)
    window.frame.resize(*SIZE)


_MIXED = (1, 2, 4, 5, 7, 8, 11, 13, 14, 16, 18, 21, 22, 24, 26, 30)
_ASKED: dict[str, tuple[str, str, type[QWidget]]] = {
    "print": ("print", "Print the figure", PrintDialog),
    "history": ("history", "History", HistoryView),
    "preferences": ("preferences", "Preferences", PreferencesDialog),
    "compute": ("compute", "Compute a column", FormulaDialog),
    "summary": ("summary", "Summarise by groups", SummaryDialog),
    "rename": ("rename-table", "Rename the table", Question),
    "shape": ("save-shape", "A shape of your own", ShapeDialog),
    "find-act": ("find", "Nitrate standards – Sornix", Frame),
    "find-reading": ("find-reading", "Nitrate standards – Sornix", Frame),
}
# Views that have no picture.
MORE = {
    **{
        name: View(partial(_asked, act=act), title, kind)
        for name, (act, title, kind) in _ASKED.items()
    },
    **{
        f"mixed-{number:02}": View(partial(_mixed, number=number), f"mixed-{number:02} – Sornix")
        for number in _MIXED
    },
    "other-names": View(_other_names, "Which columns are meant?", MatchDialog),
    "lines-open": View(_lines_open, "Nitrate standards – Sornix"),
    "log-strip": View(partial(_strip, demo="stage-discharge", axis="y"), "Rating curve – Sornix"),
    "bars-open": View(
        partial(_strip, demo="snail-counts", axis="x", opened=True), "Snail counts – Sornix"
    ),
    "curve": View(partial(_strip, demo="light-response", axis="x"), "Light response – Sornix"),
}
ALL = {**VIEWS, **MORE}


def view_of(name: str) -> tuple[str, QImage]:
    """What stands where in a view, and its picture."""
    lines: list[str] = []

    def keep(shown: list[QWidget]) -> None:
        for widget in sorted(shown, key=lambda w: type(w).__name__):
            lines.extend(lines_of(widget, widget, 0))

    with tempfile.TemporaryDirectory() as folder:
        problem = take(name, Path(folder), keep, ALL[name])
        assert not problem, problem
        picture = QImage(str(Path(folder) / f"{name}.png"))
    return "\n".join(lines) + "\n", picture


def lines_of(widget: QWidget, window: QWidget, depth: int, *, placed: bool = True) -> list[str]:
    """What a widget and all within it say; with `placed`, where and how large they are."""
    lines: list[str] = []
    _tell(widget, window if placed else None, depth, lines)
    return lines


def _tell(widget: QWidget, window: QWidget | None, depth: int, lines: list[str]) -> None:
    if not widget.isVisible():
        return
    said = [type(widget).__name__]
    if window is not None:
        at = widget.mapTo(window, QPoint()) if widget is not window else QPoint()
        said.append(f"{at.x()},{at.y()} {widget.width()}x{widget.height()}")
    said += _words_of(widget)
    lines.append("  " * depth + " ".join(said).replace("\n", "⏎"))
    model = widget.model() if isinstance(widget, QTableView) else None
    if model is not None:
        lines.extend("  " * (depth + 1) + line for line in _cells(model))
    inside = [c for c in widget.children() if isinstance(c, QWidget) and not c.isWindow()]
    if window is not None:
        # from the top down: which of two was made first hangs on how long a fit takes
        inside.sort(key=lambda one: (one.y(), one.x()))
    for child in inside:
        _tell(child, window, depth + 1, lines)


def _words_of(widget: QWidget) -> list[str]:
    """What a widget itself says and offers."""
    said = []
    if not widget.isEnabled():
        said.append("off")
    if isinstance(widget, QLabel | QLineEdit | QAbstractButton) and (text := widget.text()):
        said.append(f"“{text}”")
    for words, mark in ((widget.accessibleName(), "named"), (widget.toolTip(), "tip")):
        if words:
            said.append(f"{mark} “{words}”")
    if isinstance(widget, ChoiceWord):
        offered = (
            f"{f'{c.under} / ' if c.under else ''}{_TICKS[c.ticked]}{c.text}"
            + " off" * (not c.enabled) for c in widget.choices
        )  # fmt: skip
        said.append(f"offers: {'; '.join(offered)}")
    return said


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
        (FOLDER / f"{view}.txt").write_text(view_of(view)[0])
        QApplication.processEvents()
