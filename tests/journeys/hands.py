"""A hand on a real mouse and a real keyboard: every event goes through the X server."""

import re
import subprocess
import time
from collections import Counter

from PyQt6.QtCore import QEvent, QObject, QPoint, QPointF, QTimer
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from sornix.core.figure import Target
from sornix.demo import demo_text
from sornix.gui.canvas.view import FigureView
from tests.qt import WindowTest

_KEYS = {"\t": "Tab", "\n": "Return"}
# what is put off by no more than this belongs to what was done; tips and safety copies do not
_SOON_MS = 400


def _xdotool(*words: object) -> None:
    subprocess.run(["xdotool", *map(str, words)], check=True, capture_output=True)


class _Arrivals(QObject):
    """Counts the keys and buttons as they come from the X server."""

    def __init__(self) -> None:
        super().__init__()
        self.of: Counter[QEvent.Type] = Counter()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and watched is not None and watched.isWindowType():
            self.of[event.type()] += 1
        return False


class HandsTest(WindowTest):
    """Moves, presses, drags, turns the wheel and types."""

    def setUp(self) -> None:
        super().setUp()
        self.assertEqual(QApplication.platformName(), "xcb", "journeys need a real window")
        self.window.frame.move(0, 0)
        self._arrivals = _Arrivals()
        application = QApplication.instance()
        assert application is not None
        application.installEventFilter(self._arrivals)
        self.addCleanup(application.removeEventFilter, self._arrivals)
        self.pause()

    def pause(self, seconds: float = 0.06) -> None:
        """Lets the X server and Qt catch up: so long at least, and until all that was begun is
        done."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            # asking where the pointer is brings what the server has sent before its answer
            QCursor.pos()
            QApplication.processEvents()
            time.sleep(0.008)
        self.happens(self._is_at_rest, 30)
        QApplication.processEvents()

    def _is_at_rest(self) -> bool:
        """Nothing waits to be shown, worked out or read."""
        window = self.window
        if window.worker.is_busy or window.bench.fitter.is_busy:
            return False
        soon = (t for t in window.frame.findChildren(QTimer) if t.isSingleShot() and t.isActive())
        return not any(timer.interval() <= _SOON_MS for timer in soon)

    def _strike(self, kind: QEvent.Type, times: int, *words: object) -> None:
        """Works the hand until so many of its events have come: an X server may be busy. What a
        dialog that opens or closes meanwhile is in the way of does not come."""
        wanted, before = self._arrivals.of[kind] + times, QApplication.activeModalWidget()
        _xdotool(*words)
        self.happens(
            lambda: (
                self._arrivals.of[kind] >= wanted or QApplication.activeModalWidget() is not before
            ),
            5,
        )

    def point_at(self, widget: QWidget, at: QPointF | QPoint | None = None) -> None:
        """Moves the pointer to a place of a widget, its middle by default."""
        place = at.toPoint() if isinstance(at, QPointF) else at
        where = widget.mapToGlobal(place if place is not None else widget.rect().center())
        _xdotool("mousemove", where.x(), where.y())
        self.wait_until(lambda: QCursor.pos() == where, "the pointer was there")
        self.pause(0.03)

    def press(self, button: int = 1) -> None:
        self._strike(QEvent.Type.MouseButtonPress, 1, "mousedown", button)
        self.pause(0.03)

    def release(self, button: int = 1) -> None:
        self._strike(QEvent.Type.MouseButtonRelease, 1, "mouseup", button)
        self.pause()

    def click_at(
        self, widget: QWidget, at: QPointF | QPoint | None = None, button: int = 1
    ) -> None:
        # a pause, so that two clicks are not taken for a double one
        self.pause(0.45)
        self.point_at(widget, at)
        self.press(button)
        self.release(button)

    def open_menu_of(self, word: QWidget) -> None:
        self.click_at(word)

    def take_entry(self, menu: QMenu, at: QPoint) -> None:
        self.click_at(menu, at)

    def double_click_at(self, widget: QWidget, at: QPointF) -> None:
        self.pause(0.45)
        self.point_at(widget, at)
        again = ("click", "--repeat", 2, "--delay", 30, 1)
        self._strike(QEvent.Type.MouseButtonRelease, 2, *again)
        self.pause(0.12)

    def drag(
        self, widget: QWidget, begin: QPointF, end: QPointF, button: int = 1, *, let_go: bool = True
    ) -> None:
        """Drags in ten steps; leaves the button down unless told to let go."""
        self.pause(0.45)
        self.point_at(widget, begin)
        self.press(button)
        for step in range(1, 11):
            self.point_at(widget, begin + (end - begin) * (step / 10))
        if let_go:
            self.release(button)

    def wheel_at(self, widget: QWidget, at: QPointF, notches: int) -> None:
        """Turns the wheel away (positive) or towards oneself."""
        self.point_at(widget, at)
        _xdotool("click", "--repeat", abs(notches), "--delay", 15, 4 if notches > 0 else 5)
        self.pause()

    def key(self, *names: str) -> None:
        """Presses keys such as `Escape`, `ctrl+z`, `Tab`."""
        for name in names:
            self._press_keys(1, "key", name)

    def type(self, text: str) -> None:
        """Types a text; tabs and line ends are the keys Tab and Enter."""
        for part in filter(None, re.split(r"([\t\n])", text)):
            if part in _KEYS:
                self.key(_KEYS[part])
            else:
                self._press_keys(len(part), "type", "--delay", 8, "--", part)

    def _press_keys(self, keys: int, *words: object) -> None:
        self._strike(QEvent.Type.KeyRelease, keys, *words)
        self.pause(0.04)


class FigureHandsTest(HandsTest):
    """A hand that finds things on the paper."""

    def begin(self, name: str) -> None:
        """Opens the readings of a demo, as a file of their own."""
        path = self.folder / f"{name}.csv"
        path.write_text(demo_text(name))
        self.open(path)
        self.pause(0.2)

    @property
    def paper(self) -> FigureView:
        return self.panes.paper

    def on(self, of: Target, across: float = 0.5, down: float = 0.5) -> QPointF:
        """A place on something of the figure, in pixels of the paper."""
        assert self.paper.drawing is not None
        box = self.paper.drawing.box_of(of)
        assert box is not None, f"there is no {of}"
        rect = self.paper.pixels(box)
        return QPointF(rect.left() + across * rect.width(), rect.top() + down * rect.height())
