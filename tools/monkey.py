"""A monkey at the window: python -m tools.monkey [--acts N] [--seed S] [--demo NAME …] [--strange]
[--files FILE …].

It clicks, drags, turns the wheel, types, presses keys, opens menus and dialogs and takes entries,
all by chance and by real events of Qt, on every demo figure, or on files. After each burst it
looks whether undo leads back to the first document and redo to the last, whether the document is
saved and opened as it was and its statement understood, and whether Qt warned, anything was raised,
or the window stood still. A seed does the same again; what went wrong is told with the last acts.
"""

import argparse
import faulthandler
import gc
import os
import random
import resource
import shutil
import signal
import sys
import tempfile
import time
import traceback
from collections import Counter, deque
from collections.abc import Callable
from pathlib import Path
from types import FrameType, TracebackType
from typing import Any

from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt, QTimer, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QGuiApplication, QWheelEvent
from PyQt6.QtTest import QTest as _QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QListWidget,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QWidget,
)

from sornix.core.document import Document, load_document, save_document
from sornix.core.errors import SornixError
from sornix.core.statement import read_statement, write_statement
from sornix.demo import DEMOS, demo_document
from sornix.gui.base.settings import Settings
from sornix.gui.base.theme import LIGHT
from sornix.gui.shell.application import make_application
from sornix.gui.shell.frame import Frame
from sornix.gui.shell.menus import window_acts
from sornix.gui.shell.window import Window
from tools.options import strange

QTest: Any = _QTest
_LEFT, _RIGHT = Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton
_NOTHING, _SHIFT, _CTRL, _ALT = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
)
_KEYS = (
    Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Backspace, Qt.Key.Key_Delete,
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Home,
    Qt.Key.Key_End, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Space, Qt.Key.Key_F2,
    Qt.Key.Key_X, Qt.Key.Key_Y, Qt.Key.Key_Plus, Qt.Key.Key_Minus, Qt.Key.Key_0, Qt.Key.Key_Menu,
)  # fmt: skip
_MODIFIERS = {_SHIFT: Qt.Key.Key_Shift, _CTRL: Qt.Key.Key_Control, _ALT: Qt.Key.Key_Alt}
_TEXTS = (
    "0", "-1", "20", "1e308", "-1e308", "1e-320", "0.1", "12", "3 June", "2026-05-03", "soon", "",
    "a*x + b", "a*exp(-k*x)", "sin(", "x^2", "x", "Title with H_2O", "<b>bold</b>", "&&", "½",
    "c * Mass + 1", "very long " * 40, "{mu}m", "NaN", "inf", "1/0", "5", "100", "1,5", "=", "\\",
)  # fmt: skip
# What would end the walk, or ask the desktop for something.
NOT_TAKEN = frozenset(("quit", "close", "open", "add-readings", "print"))
_STILL_S = 1.0
_BURST = 40


class Monkey:
    """Acts by chance in one window, and keeps count of what went wrong."""

    texts: tuple[str, ...] = _TEXTS

    def __init__(
        self, seed: int, folder: Path, patience: float = _STILL_S, *, is_strange: bool = False
    ) -> None:
        self.patience, self.is_strange = patience, is_strange
        self.chance = random.Random(seed)
        self.seed, self.folder = seed, folder
        self.acts = 0
        self.faults: list[str] = []
        self.kinds: Counter[str] = Counter()
        self.longest = 0.0
        self._told: set[str] = set()
        self._where = ""
        # the least time that a piece of work has taken in this run
        self._pace = _pace()
        self._last: deque[str] = deque(maxlen=12)
        # dialogs about files ask in a loop of their own, which nobody else would end
        self._answering = QTimer()
        self._answering.setInterval(150)
        self._answering.timeout.connect(_answer)
        self._answering.start()
        self.window = self._new_window()
        self.ways: list[tuple[int, Callable[[], str]]] = [
            (12, self._click), (4, self._click_word), (4, self._drag), (4, self._wheel),
            (10, self._key), (4, self._type), (6, self._take_act), (3, self._undo_redo),
            (3, self._in_dialog),
        ]  # fmt: skip

    def note_where(self, _signal: int, frame: FrameType | None) -> None:
        """Keeps where the window stands still, should this act turn out to be slow."""
        self._where = "".join(traceback.format_stack(frame)[-24:])

    def _new_window(self) -> Window:
        frame = Frame(LIGHT)
        frame.show()
        window = Window(frame, Settings(self.folder / "settings.json"), window_acts)
        window.files.folder = self.folder
        return window

    # -- what goes wrong ------------------------------------------------------------------------

    def fault(self, what: str) -> None:
        acts = "; ".join(self._last)
        self.faults.append(what)
        print(f"FAULT seed {self.seed}, act {self.acts}: {what}\n    after {acts}", flush=True)

    def hear(self, kind: QtMsgType, _where: object, text: str | None) -> None:
        said = text or ""
        quiet = ("XDG_RUNTIME_DIR", "This plugin does not support", "propagateSizeHints")
        if kind != QtMsgType.QtDebugMsg and not any(q in said for q in quiet):
            self.fault(f"Qt: {said}")

    def catch(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        lines = traceback.format_exception(kind, error, trace)
        told = "".join([*lines[-6:], *getattr(error, "__notes__", [])])
        if told not in self._told:
            self._told.add(told)
            self.fault(told)

    # -- acts -----------------------------------------------------------------------------------

    def _visible(self, kind: type | tuple[type, ...], root: QWidget | None = None) -> list[QWidget]:
        top = root or self.window.frame
        return [w for w in top.findChildren(QWidget) if isinstance(w, kind) and w.isVisible()]

    def _at(self, widget: QWidget) -> QPoint:
        return QPoint(
            self.chance.randrange(max(widget.width(), 1)),
            self.chance.randrange(max(widget.height(), 1)),
        )

    def _modifier(self) -> Qt.KeyboardModifier:
        return self.chance.choices((_NOTHING, _SHIFT, _CTRL, _ALT), (8, 2, 2, 1))[0]

    def _paper(self) -> QWidget | None:
        panes = self.window.panes
        return panes.paper if panes is not None and panes.paper.isVisible() else None

    def _click(self) -> str:
        paper = self._paper()
        widgets = self._visible(QWidget)
        widget = paper if paper is not None and self.chance.random() < 0.5 else None
        widget = widget or self.chance.choice(widgets)
        at, button = self._at(widget), self.chance.choices((_LEFT, _RIGHT), (5, 1))[0]
        way = QTest.mouseDClick if self.chance.random() < 0.25 else QTest.mouseClick
        name = type(widget).__name__
        way(widget, button, self._modifier(), at)
        if button == _RIGHT:
            self._in_menu()
        return f"click {name}"

    def _click_word(self) -> str:
        buttons = [
            button
            for button in self._visible(QAbstractButton)
            if button.isEnabled() and not button.visibleRegion().isEmpty()
        ]
        if not buttons:
            return "no button"
        button = self.chance.choice(buttons)
        words = button.text() if isinstance(button, QAbstractButton) else ""
        QTest.mouseClick(button, _LEFT)
        self._in_menu()
        return f"press {words!r:.30}"

    def _in_menu(self) -> None:
        """Takes something in a menu that has opened, or leaves it."""
        QApplication.processEvents()
        menu = QApplication.activePopupWidget()
        for _ in range(4):
            if not isinstance(menu, QMenu):
                break
            entries = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator()]
            if not entries or self.chance.random() < 0.15:
                QTest.keyClick(menu, Qt.Key.Key_Escape)
            else:
                entry = self.chance.choice(entries)
                QTest.mouseClick(menu, _LEFT, _NOTHING, menu.actionGeometry(entry).center())
            self._pause()
            menu = QApplication.activePopupWidget()

    def _drag(self) -> str:
        widget = self._paper()
        if widget is None or self.chance.random() < 0.1:
            widget = self.chance.choice(self._visible(QWidget))
        name = type(widget).__name__
        modifier = self._modifier()
        QTest.mousePress(widget, _LEFT, modifier, self._at(widget))
        meanwhile = ""
        for _ in range(self.chance.randint(1, 6)):
            if not _is_there(widget):
                return f"drag {name}, and it went"
            QTest.mouseMove(widget, self._at(widget))
            self._pause()
            if self.chance.random() < 0.12:
                # with the button down, something else happens
                meanwhile = f" meanwhile {self.chance.choice((self._key, self._take_act))()}"
                if not _is_there(widget):
                    return f"drag {name}{meanwhile}"
        if _is_there(widget):
            QTest.mouseRelease(widget, _LEFT, modifier, self._at(widget))
        return f"drag {name}{meanwhile}"

    def _wheel(self) -> str:
        widget = self._paper() or self.window.frame
        at = self._at(widget)
        turn = QPoint(0, self.chance.choice((-480, -120, 120, 480)))
        event = QWheelEvent(
            QPointF(at), QPointF(widget.mapToGlobal(at)), QPoint(), turn,
            Qt.MouseButton.NoButton, self._modifier(), Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(widget, event)
        return "wheel"

    def _key(self) -> str:
        widget = QApplication.focusWidget() or self.window.frame
        key, modifier = self.chance.choice(_KEYS), self._modifier()
        self._strike(widget, key, modifier)
        return f"key {key.name} {modifier.name}"

    @staticmethod
    def _strike(widget: QWidget, key: Qt.Key, modifier: Qt.KeyboardModifier) -> None:
        """Presses a key and lets go of it, through the window, which looks anew who has the
        keyboard; QTest would send each release to where the press went, though that be gone."""
        window = widget.window()
        QTest.keyPress((window and window.windowHandle()) or widget, key, modifier)
        for released in (key, *(k for m, k in _MODIFIERS.items() if modifier & m)):
            there = QGuiApplication.focusWindow()
            if there is not None:
                QTest.keyRelease(there, released)

    def _type(self) -> str:
        fields = self._visible((QLineEdit, QPlainTextEdit))
        field = QApplication.focusWidget()
        if not isinstance(field, QLineEdit) or self.chance.random() < 0.5:
            if not fields:
                return "no field"
            field = self.chance.choice(fields)
        if not field.isEnabled() or (isinstance(field, QPlainTextEdit) and field.isReadOnly()):
            return "a field that cannot be typed into"
        text = self.chance.choice(self.texts)
        field.setFocus()
        QTest.keyClick(field, Qt.Key.Key_A, _CTRL)
        for letter in text[:60]:
            QTest.keyClicks(field, letter)
            self._pause()
            if not _is_there(field):
                return f"type {text!r:.30}, and it went"
        key = self.chance.choices(
            (Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape), (5, 2, 1)
        )[0]
        QTest.keyClick(field, key)
        return f"type {text!r:.30}"

    def _take_act(self) -> str:
        self.window.menus.update()
        actions = {
            name: action
            for name, action in self.window.menus.actions.items()
            if action.isEnabled() and action.isVisible() and name not in NOT_TAKEN
            and not name.startswith(("demo/", "recent/"))
        }  # fmt: skip
        name = self.chance.choice(sorted(actions))
        actions[name].trigger()
        return f"act {name}"

    def _undo_redo(self) -> str:
        bench = self.window.bench
        back = self.chance.random() < 0.7
        name = bench.undo_name if back else bench.redo_name
        (bench.undo if back else bench.redo)()
        return f"{'undo' if back else 'redo'} {name!r:.30}"

    def _in_dialog(self) -> str:
        found = QApplication.topLevelWidgets()
        dialogs = [d for d in found if isinstance(d, QDialog) and d.isVisible()]
        if not dialogs:
            return self._take_act()
        dialog = dialogs[-1]
        name = type(dialog).__name__
        for _ in range(self.chance.randint(1, 5)):
            parts = self._visible(
                (QAbstractButton, QLineEdit, QComboBox, QListWidget, QAbstractSpinBox), dialog
            )
            if not parts:
                break
            part = self.chance.choice(parts)
            if isinstance(part, QComboBox) and part.count():
                part.setCurrentIndex(self.chance.randrange(part.count()))
            elif isinstance(part, QLineEdit):
                part.selectAll()
                QTest.keyClicks(part, self.chance.choice(self.texts)[:60])
            else:
                QTest.mouseClick(part, _LEFT, _NOTHING, self._at(part))
            self._pause()
            if not _is_there(dialog) or not dialog.isVisible():
                break
        return f"in {name}"

    # -- bursts ---------------------------------------------------------------------------------

    def burst(self) -> None:
        """Some acts, and a look at everything after them."""
        self._pace = min(self._pace, _pace())
        for _ in range(_BURST):
            self.do(self.some_way())
            self.close_dialogs(now_and_then=True)
        self.close_dialogs()
        self._settle()
        self._look()

    def some_way(self) -> Callable[[], str]:
        """A way to act, by chance."""
        return self.chance.choices([w for _, w in self.ways], [n for n, _ in self.ways])[0]

    def do(self, way: Callable[[], str]) -> None:
        """Acts, and looks how long the window stood still for it."""
        self.acts += 1
        self._last.append(way.__name__)
        self._step = time.thread_time()
        self._slowest = 0.0
        self._where = ""
        signal.setitimer(signal.ITIMER_REAL, self.patience)
        said = way()
        self._pause()
        signal.setitimer(signal.ITIMER_REAL, 0)
        # as the loop of a program does, which a program that only handles events has not
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        seconds = self._slowest
        self._last[-1] = said
        self.kinds[said.split(" ")[0]] += 1
        self.longest = max(self.longest, seconds)
        if seconds > self.patience:
            # a processor that others share takes longer for the same
            slower = _pace() / self._pace
            if seconds / slower > self.patience:
                self.fault(f"stood still for {seconds:.1f} s, at {slower:.1f} times the pace")
                print(self._where, flush=True)

    def _pause(self) -> None:
        """Lets what was done take effect, and looks how long the window stood still for it."""
        QApplication.processEvents()
        now = time.thread_time()
        self._slowest = max(self._slowest, now - self._step)
        self._step = now

    def close_dialogs(self, *, now_and_then: bool = False) -> None:
        """Closes menus and dialogs that are open, or some of them."""
        popup = QApplication.activePopupWidget()
        while popup is not None:
            popup.close()
            popup = QApplication.activePopupWidget()
        for dialog in QApplication.topLevelWidgets():
            # one may take another along
            if _is_there(dialog) and isinstance(dialog, QDialog) and dialog.isVisible():
                if now_and_then and self.chance.random() < 0.7:
                    continue
                dialog.close()
                QApplication.processEvents()

    def _settle(self) -> None:
        # of the processor: how long the clock runs says how busy the machine is
        until = time.process_time() + 60
        window = self.window
        while window.worker.is_busy or window.bench.fitter.is_busy:
            QApplication.processEvents()
            time.sleep(0.001)
            if time.process_time() > until:
                self.fault("work took over a minute")
                window.worker.cancel()
                window.bench.fitter.abandon()
                break
        for _ in range(4):
            QApplication.processEvents()

    def _look_for_kept_events(self) -> None:
        """An event that is kept beyond its answer stands for another one later, at its place."""
        gc.collect()
        kept = [one for one in gc.get_objects() if isinstance(one, QEvent)]
        if kept:
            self.fault("kept beyond its answer: " + ", ".join(type(one).__name__ for one in kept))

    def _look(self) -> None:
        bench = self.window.bench
        document = bench.document
        if document is None:
            return
        self._last.append("looking")
        bench.cancel()
        self._look_for_kept_events()
        path = self.folder / "monkey.sornix"
        save_document(document, path, b"", whole_paths=True)
        if load_document(path) != document:
            self.fault("the document came back otherwise")
            path.rename(self.folder / f"otherwise-{self.seed}-{self.acts}.sornix")
        self._look_at_statements(document)
        history = bench._history  # noqa: SLF001
        assert history is not None
        first = history
        while first.past:
            first = first.undone()
        again = first
        while len(again.past) < len(history.past):
            again = again.redone()
        if again.present != document:
            self.fault("redo led to another document")
        if self.chance.random() < 0.3 or self._is_heavy():
            begin = time.thread_time()
            steps = 0
            while bench.undo_name and steps < 40:
                bench.undo()
                QApplication.processEvents()
                steps += 1
            if steps and (time.thread_time() - begin) / steps > self.patience:
                self.fault("undo stood still")

    def _look_at_statements(self, document: Document) -> None:
        tables = document.tables
        for figure in document.figures:
            try:
                read_statement(write_statement(figure, tables, whole=True), tables)
            except SornixError as error:
                self.fault(f"its own statement was not understood: {error}")

    def _is_heavy(self) -> bool:
        """Whether so much is drawn that every further act takes long."""
        figure = self.window.bench.scene.figure if self.window.bench.scene else None
        panels = figure.panels if figure is not None else ()
        parts = sum(2 * len(p.trends) + len(p.series) for p in panels)
        return parts > 6 or len(panels) > 4

    def walk(self, demo: str, acts: int) -> None:
        """So many acts on a demo figure."""
        self.window.bench.fitter.abandon()
        self.window.worker.cancel()
        self.begin(demo)
        end = self.acts + acts
        while self.acts < end:
            self.burst()
            bench = self.window.bench
            changed = self.is_strange or demo not in DEMOS
            if changed or bench.document is None or len(bench.tables) > 6:
                self.begin(demo)

    def begin(self, demo: str) -> None:
        """Begins with a demo in a new window."""
        self.close_dialogs()
        self._settle()
        self.window.close_without_asking()
        self.window.frame.deleteLater()
        self.window = self._new_window()
        if self.is_strange:
            document = strange(demo_document(demo), self.folder, self.chance)
            self.window.take_up("opening…", lambda: (document, None), demo)
        elif demo in DEMOS:
            self.window.open_demo(demo)
        else:
            self.window.open_path(Path(demo))
        self._settle()


def _pace() -> float:
    """Processor seconds that a piece of work takes now."""
    begin = time.thread_time()
    total = 0
    for i in range(200_000):
        total += i & 7
    return time.thread_time() - begin


def _answer() -> None:
    """Answers a question of a dialog about files."""
    box = QApplication.activeModalWidget()
    if isinstance(box, QMessageBox) and isinstance(box.parent(), QFileDialog):
        box.reject()


def _is_there(widget: QWidget) -> bool:
    from PyQt6 import sip

    return not sip.isdeleted(widget)


def main() -> int:
    """Walks on the demos; 1 where something went wrong."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--acts", type=int, default=2000)
    parser.add_argument("--seed", type=int, default=0)
    parser.add_argument("--patience", type=float, default=_STILL_S)
    parser.add_argument("--strange", action="store_true")
    parser.add_argument("--demo", nargs="*", default=list(DEMOS))
    parser.add_argument("--files", nargs="*", type=Path, help="in place of demos")
    asked = parser.parse_args()
    files = [path.resolve() for path in asked.files or ()]
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    faulthandler.enable()
    application = make_application()
    with tempfile.TemporaryDirectory() as folder:
        # it saves what it has open: never what it was given
        begun_with = [shutil.copy(path, folder) for path in files] or asked.demo
        os.chdir(folder)
        monkey = Monkey(asked.seed, Path(folder), asked.patience, is_strange=asked.strange)
        qInstallMessageHandler(monkey.hear)
        sys.excepthook = monkey.catch
        signal.signal(signal.SIGALRM, monkey.note_where)
        before = _memory_mb()
        for demo in begun_with:
            monkey.walk(demo, asked.acts // len(begun_with))
        monkey.window.close_without_asking()
        gc.collect()
        application.processEvents()
        grown = _memory_mb() - before
        if grown > 600:
            monkey.fault(f"{grown} MB of memory more")
        sys.excepthook = sys.__excepthook__
        qInstallMessageHandler(None)
    print(
        f"seed {asked.seed}: {monkey.acts} acts, {len(monkey.faults)} faults, the longest "
        f"{monkey.longest:.2f} s, {grown} MB more; {dict(monkey.kinds)}"
    )
    sys.stdout.flush()
    os._exit(1 if monkey.faults else 0)


def _memory_mb() -> int:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024


if __name__ == "__main__":
    sys.exit(main())
