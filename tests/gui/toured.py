"""What tours of demos bring about: each act, button, word and field of the window in turn, a file a
demo in tests/data/toured. They are made anew by `python -m tests.gui.toured`; what changed is to be
read in the difference before it is kept."""

from collections import Counter
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QDialog,
    QFileDialog,
    QLabel,
    QLineEdit,
    QMenu,
    QPushButton,
    QWidget,
)

from sornix.gui.widgets.inlinecontrols import ChoiceWord
from tests.base import DATA
from tests.gui.walked import Teller, renew, told_by
from tools.monkey import NOT_TAKEN, QTest
from tools.screenshots import settle

FOLDER = DATA / "toured"
# where all is opened that the statement folds away, its words and fields alone are touched
_OPENED = " opened"
TOURED = (
    "nitrate-standards", "depth-panels",
    *(demo + _OPENED for demo in ("respiration-temperature", "buoy-week")),
)  # fmt: skip
_TYPED = ("2", "soon")
# so many of the choices of a word are taken
_CHOSEN = 4
# acts after which the window stands otherwise
_TURNS = ("places", "to-readings", "paste-statement", "find-reading", "compare", "methods")
Touch = tuple[str, Callable[[], object]]
Part = TypeVar("Part", bound=QWidget)


class Tour(Teller):
    """Touches all that there is, each thing from the document as it was."""

    # how many buttons the dialogs have that the last touch opened
    _offered = 0

    def __init__(self, demo: str, folder: Path) -> None:
        super().__init__(demo, folder)
        self._touched: set[str] = set()
        self._opened: set[str] = set()

    def touch_all(self, demo: str) -> None:
        self.window.menus.update()
        for name in sorted(self.window.menus.actions):
            action = self.window.menus.actions[name]
            if action.isEnabled() and name not in NOT_TAKEN and "/" not in name:
                self._touch(f"act {name}", action.trigger)
                for number in range(self._offered):
                    self._touch(f"act {name}, there {number}", partial(_in_dialog, action, number))
            if name in _TURNS:
                self.begin(demo)
                self.window.menus.update()
        for kind, touches in ((QAbstractButton, _pressed), (ChoiceWord, _chosen),
                              (QLineEdit, _typed)):  # fmt: skip
            self.begin(demo)
            self._touch_each(kind, touches)

    def touch_opened(self) -> None:
        """The strip of x, what a series and its trends look like, and all further words."""
        self.window.menus.update()
        self.window.menus.actions["strip-x"].trigger()
        settle(self.window)
        for button in self._visible(QPushButton):
            if isinstance(button, QPushButton) and button.text() == "more ▾":
                button.click()
                settle(self.window)
        self._before = Counter(self._said())
        self._touch_each(ChoiceWord, _chosen)
        self._touch_each(QLineEdit, _typed)

    def _touch_each(self, kind: type[QWidget], touches: Callable[[QWidget], list[Touch]]) -> None:
        at = turn = 0
        while at < len(there := [w for w in self._visible(kind) if w.isEnabled()]):
            ways = touches(there[at])
            if turn < len(ways):
                self._touch(*ways[turn])
                turn += 1
            else:
                at, turn = at + 1, 0

    def _touch(self, words: str, touch: Callable[[], object]) -> None:
        if words in self._touched:
            return
        self._touched.add(words)
        opened: list[str] = []

        def way() -> str:
            touch()
            settle(self.window)
            opened.extend(_opened())
            self._offered = sum(len(_buttons(dialog)) for dialog in _dialogs())
            return words

        self.do(way)
        self.told += [line for line in opened if line not in self._opened]
        self._opened.update(opened)
        bench = self.window.bench
        while bench.undo_name:
            bench.undo()
        self.window.tell("")
        self.window.say("")
        settle(self.window)
        self._before = Counter(self._said())


def _pressed(button: QWidget) -> list[Touch]:
    assert isinstance(button, QAbstractButton)
    words = button.text() or button.accessibleName()
    return [(f"press {words}", partial(QTest.mouseClick, button, Qt.MouseButton.LeftButton))]


def _chosen(word: QWidget) -> list[Touch]:
    assert isinstance(word, ChoiceWord)
    name = word.accessibleName()
    other = [one for one in word.choices if one.enabled and not one.ticked]
    return [(f"choose {one.text} as {name}", partial(word.chosen.emit, one.value))
            for one in other[:_CHOSEN]]  # fmt: skip


def _typed(field: QWidget) -> list[Touch]:
    assert isinstance(field, QLineEdit)

    def typed(text: str) -> None:
        field.setFocus()
        field.selectAll()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    if field.isReadOnly():
        return []
    return [(f"type {text} as {field.accessibleName()}", partial(typed, text)) for text in _TYPED]


def _dialogs() -> list[QDialog]:
    return [d for d in QApplication.topLevelWidgets() if isinstance(d, QDialog) and d.isVisible()
            and not isinstance(d, QFileDialog)]  # fmt: skip


def _buttons(dialog: QDialog) -> list[QAbstractButton]:
    return [button for button in _parts(dialog, QAbstractButton) if button.isEnabled()]


def _parts(dialog: QDialog, kind: type[Part]) -> list[Part]:
    """What is seen in a dialog itself, not in one that it opens."""
    return [w for w in dialog.findChildren(kind) if w.isVisible() and w.window() is dialog]


def _in_dialog(action: QAction, number: int) -> None:
    """Presses one of the buttons of the dialog that an act opens."""
    action.trigger()
    QTest.qWait(1)
    for dialog in _dialogs():
        QTest.mouseClick(_buttons(dialog)[number], Qt.MouseButton.LeftButton)


def _opened() -> Iterator[str]:
    """What stands in the dialogs and menus that are open."""
    popup = QApplication.activePopupWidget()
    if isinstance(popup, QMenu):
        yield f"  menu {'; '.join(action.text() for action in popup.actions())}"
    for dialog in _dialogs():
        yield f"  dialog {dialog.windowTitle()}: {'; '.join(b.text() for b in _buttons(dialog))}"
        for label in _parts(dialog, QLabel):
            # how far the pages are, the machine tells
            if label.text() and label is not getattr(dialog, "state", None):
                yield f"    {label.text()}".replace("\n", "⏎")


def toured(demo: str) -> str:
    """What a tour of a demo tells: a line a touch, and what came with it."""
    if demo.endswith(_OPENED):
        return told_by(Tour, demo.removesuffix(_OPENED), Tour.touch_opened)
    return told_by(Tour, demo, lambda tour: tour.touch_all(demo))


if __name__ == "__main__":
    renew(FOLDER, TOURED, toured)
