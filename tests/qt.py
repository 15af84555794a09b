"""The test case of everything that needs Qt, and hands for the window."""

import os
import sys
import time
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any, TypeVar

from PyQt6.QtCore import QMessageLogContext, QPoint, Qt, QtMsgType, qInstallMessageHandler
from PyQt6.QtTest import QTest as _QTest
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QWidget,
)

from sornix.core.document import Document
from sornix.core.figure import Figure, Panel
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.menus import window_acts
from sornix.gui.shell.panes import Panes
from sornix.gui.shell.window import Window
from tests.base import SornixTest

# PyQt's stubs take its static functions for methods.
QTest: Any = _QTest
_LEFT = Qt.MouseButton.LeftButton
# What Qt says about the bare displays of test machines, and not about us.
_ABOUT_THE_DISPLAY = ("XDG_RUNTIME_DIR", "This plugin does not support", "Could not connect")
_application: list[QApplication] = []

Kind = TypeVar("Kind", bound=QWidget)


class QtTest(SornixTest):
    """Fails on Qt's warnings, on exceptions in slots and on windows that stay open."""

    def setUp(self) -> None:
        super().setUp()
        if not _application:
            _application.append(make_application())
        self._said: list[str] = []
        previous = qInstallMessageHandler(self._hear)
        self.addCleanup(qInstallMessageHandler, previous)
        self._raised: list[BaseException] = []
        self._hook = sys.excepthook
        sys.excepthook = self._catch
        self.addCleanup(self._check)

    def _hear(self, kind: QtMsgType, _where: QMessageLogContext, text: str | None) -> None:
        if kind != QtMsgType.QtDebugMsg and not any(a in (text or "") for a in _ABOUT_THE_DISPLAY):
            self._said.append(text or "")

    def _catch(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        self._raised.append(error)
        self._hook(kind, error, trace)

    def _check(self) -> None:
        sys.excepthook = self._hook
        open_windows = [w for w in QApplication.topLevelWidgets() if w.isVisible()]
        for window in open_windows:
            window.close()
        QApplication.processEvents()
        self.assertEqual(self._said, [], "Qt's warnings")
        self.assertEqual(self._raised, [], "exceptions in slots")
        self.assertEqual([type(w).__name__ for w in open_windows], [], "windows left open")


def _exposed(window: QWidget) -> bool:
    handle = window.windowHandle()
    return handle is not None and handle.isExposed()


class WindowTest(QtTest):
    """Has a window, and hands that work it as a person does; on a `demo`, if one is named."""

    demo = ""

    def setUp(self) -> None:
        super().setUp()
        self.window = self.new_window()
        if self.demo:
            self.window.open_demo(self.demo)
            self.settle()

    def new_window(self) -> Window:
        """A window of 1280 × 800, closed at the end of the test."""
        frame = Frame(LIGHT)
        frame.show()
        window = Window(frame, Settings(self.folder / "settings.json"), window_acts)
        window.files.folder = self.folder
        frame.activateWindow()
        self.wait_until(lambda: _exposed(frame), "the window was shown")
        self.addCleanup(self._close, window)
        return window

    @property
    def panes(self) -> Panes:
        """The parts of the window that show a document."""
        assert self.window.panes is not None, "no document is open"
        return self.window.panes

    @property
    def document(self) -> Document:
        assert self.window.bench.document is not None
        return self.window.bench.document

    @property
    def figure(self) -> Figure:
        return self.document.figure

    @property
    def panel(self) -> Panel:
        return self.figure.panel

    @staticmethod
    def _close(window: Window) -> None:
        window.worker.wait()
        QApplication.processEvents()
        window.close_without_asking()
        window.frame.deleteLater()
        QApplication.processEvents()

    def wait_until(self, happened: Callable[[], object], what: str = "it happened") -> None:
        """Handles events until something is so; fails after half a minute, more if others work."""
        if not self.happens(happened, 30):
            self.fail(f"waited in vain until {what}")

    def settle(self) -> None:
        """Lets work and events come to an end."""
        self.wait_until(lambda: not self.window.worker.is_busy, "work was done")
        # a layout that follows from another one takes several turns
        for _ in range(6):
            QApplication.processEvents()

    def open(self, path: Path) -> None:
        self.window.open_path(path)
        self.settle()

    def act(self, name: str) -> None:
        """Does an act of the menus, which must be there to be done."""
        self.window.menus.update()
        action = self.window.menus.actions[name]
        self.assertTrue(action.isEnabled(), name)
        action.trigger()
        self.settle()

    def click(self, widget: QWidget, at: QPoint | None = None) -> None:
        QTest.mouseClick(widget, _LEFT, pos=at or QPoint(widget.width() // 2, widget.height() // 2))
        QApplication.processEvents()

    def choose(self, word: QWidget, text: str) -> None:
        """Opens a word's menu by a click and takes the entry that begins with `text`."""
        # where a window has just closed, X may take a moment to let another grab the pointer
        for _ in range(3):
            self.open_menu_of(word)
            if self.happens(QApplication.activePopupWidget, 1.0):
                break
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu), "no menu opened"
        for action in menu.actions():
            if action.text().startswith(text) and action.menu() is None:
                self.take_entry(menu, menu.actionGeometry(action).center())
                return
            # an entry of a menu in the menu is called by both
            for inner in action.menu().actions() if action.menu() is not None else ():  # type: ignore[union-attr]
                if f"{action.text()} {inner.text()}".startswith(text):
                    self.take_entry(menu, menu.actionGeometry(action).center())
                    within = action.menu()
                    assert within is not None
                    self.wait_until(within.isVisible, "the inner menu was open")
                    self.take_entry(within, within.actionGeometry(inner).center())
                    return
        menu.close()
        self.fail(f"no entry “{text}” among {[a.text() for a in menu.actions()]}")

    def open_menu_of(self, word: QWidget) -> None:
        self.click(word)

    def take_entry(self, menu: QMenu, at: QPoint) -> None:
        QTest.mouseClick(menu, _LEFT, pos=at)
        QApplication.processEvents()

    def happens(self, what: Callable[[], object], seconds: float) -> bool:
        """Handles events until something is so, or the time is over: on a machine with much else to
        do there is more of it, so that no test depends on the clock."""
        deadline = time.monotonic() + seconds * (1 + os.getloadavg()[0])
        while not what():
            if time.monotonic() > deadline:
                return False
            QApplication.processEvents()
            time.sleep(0.002)
        return True

    def type_into(self, field: QWidget, text: str) -> None:
        """Double-clicks a field, types over what is there, and presses Enter."""
        field.setFocus()
        QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        QTest.keyClick(field, Qt.Key.Key_Delete)
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        QApplication.processEvents()

    def keys(self, key: Qt.Key, *modifiers: Qt.KeyboardModifier) -> None:
        """A key with modifiers, sent to the window."""
        # without a window manager, a closed menu does not give the keyboard back
        self.window.frame.activateWindow()
        QApplication.processEvents()
        combined = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            combined |= modifier
        QTest.keyClick(QApplication.focusWidget() or self.window.frame, key, combined)
        QApplication.processEvents()

    def dialog(self, kind: type[Kind]) -> Kind:
        """The dialog of that kind that is open now."""
        self.wait_until(lambda: self._dialogs(kind), f"a {kind.__name__} opened")
        return self._dialogs(kind)[0]

    def _dialogs(self, kind: type[Kind]) -> list[Kind]:
        return [w for w in QApplication.topLevelWidgets() if isinstance(w, kind) and w.isVisible()]

    def name_file(self, path: Path) -> None:
        """Types a path into the file dialog that is open, and accepts it."""
        dialog = self.dialog(QFileDialog)
        self.assertNotIn("*", dialog.windowTitle())
        field = dialog.findChild(QLineEdit, "fileNameEdit")
        assert field is not None
        # Qt's dialog clears the field when it has read its folder, and a list of completions may
        # come up at any moment and take a key for itself
        for _ in range(5):
            if field.text() != str(path):
                field.selectAll()
                QTest.keyClicks(field, str(path))
            popup = QApplication.activePopupWidget()
            if popup is not None:
                popup.close()
            QTest.keyClick(field, Qt.Key.Key_Return)
            if self.happens(lambda: not self._dialogs(QFileDialog), 2):
                break
        self.assertFalse(self._dialogs(QFileDialog), f"stayed open with “{field.text()}”")
        self.wait_until(lambda: QApplication.activeModalWidget() is None, "nothing was modal")
        self.settle()

    def say(self, text: str) -> None:
        """Answers the question for a line of text."""
        dialog = self.dialog(QInputDialog)
        dialog.setTextValue(text)
        dialog.accept()
        self.settle()

    def answer(self, button: QMessageBox.StandardButton) -> None:
        """Presses a button of the question that is open."""
        found = self.dialog(QMessageBox).button(button)
        assert found is not None
        self.click(found)
        self.settle()
