"""Everyone can work with it: names, the keyboard, contrast, and no text that is cut."""

import os
import subprocess
import sys
import unittest
from collections.abc import Callable, Iterator

import numpy as np
from PyQt6.QtCore import QObject, QPoint, QRect, Qt
from PyQt6.QtGui import QFontMetricsF, QImage
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractSlider,
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QLabel,
    QLineEdit,
    QPlainTextEdit,
    QRadioButton,
    QTextEdit,
    QWidget,
)

from sornix.core import figure as edits
from sornix.core.colours import contrast
from sornix.core.document import Missing
from sornix.core.document.stored.safetycopy import SafetyCopy, Work, left_behind
from sornix.core.figure import Title
from sornix.gui.actions.saving import CHANGED, HindranceDialog
from sornix.gui.base.themes import theme_now
from sornix.gui.canvas.view import FigureView
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.gui.dialogs.palette import Palette
from sornix.gui.dialogs.recovery import RecoveryDialog
from sornix.gui.shell.tips import Tips
from sornix.gui.widgets.symbolfinder import SymbolFinder
from tests.qt import QTest, WindowTest

_CONTROLS = (
    QAbstractButton, QLineEdit, QComboBox, QAbstractItemView, QPlainTextEdit, QTextEdit,
    QAbstractSlider, FigureView,
)  # fmt: skip
_SCALED = "SORNIX_TEST_SCALED"


# those whose words are looked at
_READ = (QAbstractButton, QLineEdit, QComboBox)


def _says(widget: QWidget) -> bool:
    """Whether words stand in a control."""
    if isinstance(widget, QComboBox):
        return bool(widget.currentText())
    return bool(widget.text()) if isinstance(widget, (QAbstractButton, QLineEdit)) else False


def _class(widget: QWidget) -> str:
    return (widget.metaObject() or QObject.staticMetaObject).className()


def _is_ours(widget: QWidget) -> bool:
    """Whether a widget is one that a person works, not a part that Qt makes inside another."""
    inner = (
        "Corner",
        "QComboBoxPrivate",
        "QLineEditIcon",
        "QScrollBar",
        "QComboBoxListView",
        "Head",
    )
    return not any(name in _class(widget) for name in inner)


def _shown(root: QWidget, kind: type | tuple[type, ...]) -> Iterator[QWidget]:
    for widget in [root, *root.findChildren(QWidget)]:
        if isinstance(widget, kind) and widget.isVisible() and _is_ours(widget):
            yield widget


def _named(widget: QWidget) -> str:
    text = widget.text() if isinstance(widget, (QAbstractButton, QLabel)) else ""
    return widget.accessibleName() or text


def _contrast(widget: QWidget, root: QWidget, whole: QImage) -> float:
    """The largest contrast with its ground that anything in a widget has, in a picture of all."""
    ratio = whole.devicePixelRatio()
    corner = widget.mapTo(root, QPoint(0, 0)) if widget is not root else QPoint(0, 0)
    shown = QRect(corner, widget.size())
    parent = widget.parentWidget()
    while parent is not None and parent is not root:
        shown &= QRect(parent.mapTo(root, QPoint(0, 0)), parent.size())
        parent = parent.parentWidget()
    over = root.childAt(shown.center())
    hidden = over is not None and not (over is widget or widget.isAncestorOf(over))
    if shown.height() < min(widget.height(), 12) or shown.width() < 6 or hidden:
        return 21.0  # scrolled out of sight, or under something that was opened
    # neither its border nor a box to tick: what is left is the text
    box = 22 if isinstance(widget, (QCheckBox, QRadioButton)) else 0
    inside = shown.adjusted(3 + box, 3, -3, -3) if isinstance(widget, _CONTROLS) else shown
    image = whole.copy(QRect(inside.topLeft() * ratio, inside.size() * ratio))
    bits = image.constBits()
    if bits is None or not image.width():
        return 21.0
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits.asstring(), np.uint32) & 0xFFFFFF
    colours, counts = np.unique(pixels, return_counts=True)
    ground = f"#{int(colours[counts.argmax()]):06x}"
    return max(contrast(f"#{int(colour):06x}", ground) for colour in colours)


class Access(WindowTest):
    """Every part that can be shown is walked through."""

    demo = "light-response"

    def _views(self) -> Iterator[tuple[str, QWidget]]:
        """The window and every dialog, opened one after the other, in both themes."""
        window, panes = self.window, self.panes
        tables = window.bench.tables
        for theme in ("light", "dark"):
            window.choose_theme(theme)
            self.settle()
            yield f"window, {theme}", window.frame
            panes.statement.plots[0].further.setChecked(True)
            panes.statement.figure_line.further.setChecked(True)
            panes.open_inspector("x")
            panes.inspector.more.setChecked(True)
            window.edit("note", lambda f: edits.add_note(f, tables, series="s1", row=1))
            window.edit("note", lambda f: edits.add_note(f, tables, series="s1", row=4))
            window.edit("held", lambda f: edits.hold(f, tables, "y", start=1.0))
            self.settle()
            window.say("A step of 40 is longer than the range.")
            self.settle()
            yield f"window with all lines, {theme}", window.frame
            panes.inspector.more.setChecked(False)
            panes.close_inspector()
            panes.statement.plots[0].further.setChecked(False)
            panes.statement.figure_line.further.setChecked(False)
            for _ in range(3):
                window.bench.undo()
            self.settle()
            for name, ask in self._asked():
                ask()
                self.settle()
                found = [d for d in QApplication.topLevelWidgets() if isinstance(d, QDialog)]
                shown = [dialog for dialog in found if dialog.isVisible()]
                self.assertEqual(len(shown), 1, name)
                yield f"{name}, {theme}", shown[0]
                shown[0].close()
                self.settle()
            window.finding.find_act()
            self.settle()
            palette = window.frame.findChildren(Palette)[-1]
            yield f"palette, {theme}", palette
            QTest.keyClick(palette.field, Qt.Key.Key_Escape)
            panes.editor.writing.edit_text(Title())
            finder = SymbolFinder(next(_shown(panes.paper, QLineEdit)))  # type: ignore[arg-type]
            self.settle()
            yield f"symbols, {theme}", finder
            QTest.keyClick(finder.field, Qt.Key.Key_Escape)
            self.settle()
            panes.paper.setFocus()
            window.settings.remember(**{"tips seen": []})
            tips = Tips(window)
            tips.show_next()
            assert tips.bubble is not None
            self.settle()
            yield f"tip, {theme}", tips.bubble
            tips.bubble.leave()
            self.settle()

    def _asked(self) -> list[tuple[str, Callable[[], object]]]:
        window = self.window
        missing = [Missing("Light", ("light level", "other"))]
        columns = ("light level", "other")
        copy = SafetyCopy(self.folder / "copies")
        copy.write(self.document, Work("Light response", self.folder / "light.sornix"))
        copy.let_go()
        copies = left_behind(self.folder / "copies")[:1]
        return [
            ("export", window.hand_over.ask_export),
            ("print", window.hand_over.ask_print),
            ("preferences", window.ask_preferences),
            ("guide", window.finding.show_help),
            (
                "hindrance",
                lambda: HindranceDialog(window.frame, self.folder / "d.sornix", CHANGED, print),
            ),
            ("recovery", lambda: RecoveryDialog(window.frame, copies, window.worker, print)),
            ("match", lambda: MatchDialog(window.frame, "a.csv", missing, columns, print)),
            ("size", window.menus.actions["size"].trigger),
            ("formula", window.menus.actions["compute"].trigger),
            ("summary", window.menus.actions["summary"].trigger),
        ]

    def test_every_control_can_be_named_seen_and_read(self) -> None:
        if not os.environ.get(_SCALED):
            self.window.frame.resize(1024, 700)
        for where, root in self._views():
            whole = root.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
            for control in _shown(root, _CONTROLS):
                named = _named(control)
                with self.subTest(where, control=named or _class(control)):
                    self.assertTrue(named, f"{_class(control)} has no name")
                    policy = control.focusPolicy()
                    ours = bool(policy & Qt.FocusPolicy.TabFocus) or not control.isEnabled()
                    self.assertTrue(ours, f"“{named}” is not reached by Tab")
                    if isinstance(control, _READ) and control.isEnabled() and _says(control):
                        self.assertGreaterEqual(_contrast(control, root, whole), 4.5, named)
            for label in _shown(root, QLabel):
                assert isinstance(label, QLabel)
                if label.text().strip() and label.isEnabled():
                    with self.subTest(where, label=label.text()[:60]):
                        self.assertGreaterEqual(_contrast(label, root, whole), 4.5)
            self._nothing_is_cut(where, root)

    def _nothing_is_cut(self, where: str, root: QWidget) -> None:
        for widget in _shown(root, (QLabel, QAbstractButton, QComboBox)):
            text = widget.currentText() if isinstance(widget, QComboBox) else widget.text()  # type: ignore[attr-defined]
            if not text.strip() or "<" in text or widget.property("elided"):
                continue
            metrics = QFontMetricsF(widget.font())
            lines = text.replace("&", "").split("\n")
            wide = max(metrics.horizontalAdvance(line) for line in lines)
            if isinstance(widget, QLabel) and widget.wordWrap():
                room, needed = widget.height(), widget.heightForWidth(widget.width())
            else:
                room, needed = widget.width(), int(wide)
            with self.subTest(where, text=text[:60]):
                self.assertGreaterEqual(room + 2, needed, f"“{text}” is cut")

    def test_tab_reaches_everything_and_comes_round(self) -> None:
        frame = self.window.frame
        frame.activateWindow()
        self.panes.paper.setFocus()
        self.settle()
        wanted = {
            control
            for control in _shown(frame, _CONTROLS)
            if control.isEnabled() and control.focusPolicy() & Qt.FocusPolicy.TabFocus
        }
        reached: set[QWidget] = set()
        unseen: list[str] = []
        self.panes.table_pane.grid.setFocus()
        before = frame.grab().toImage()
        paper = self.panes.paper
        paper.setFocus(Qt.FocusReason.TabFocusReason)
        # a ring around the paper, a little off it
        ring = paper.grab().toImage().pixelColor(paper.corner.toPoint() + QPoint(-4, 60))
        self.assertEqual(ring.name(), theme_now().accent)
        for _ in range(4 * len(wanted)):
            focused = QApplication.focusWidget()
            assert focused is not None
            if focused not in reached and focused in wanted:
                place = QRect(focused.mapTo(frame, QPoint(0, 0)), focused.size())
                place = place.adjusted(-4, -4, 4, 4)
                shown, plain = frame.grab().toImage().copy(place), before.copy(place)
                if focused is not self.panes.table_pane.grid and shown == plain:
                    unseen.append(_named(focused))
            reached.add(focused)
            QTest.keyClick(focused, Qt.Key.Key_Tab)
        self.assertEqual(unseen, [], "where the keyboard is cannot be seen")
        missing = [_named(control) or _class(control) for control in wanted - reached]
        self.assertEqual(missing, [])

    @unittest.skipIf(os.environ.get(_SCALED), "this is the run at 200 %")
    def test_all_of_it_at_200_percent(self) -> None:
        name = f"{__name__}.Access.test_every_control_can_be_named_seen_and_read"
        done = subprocess.run(
            [sys.executable, "-m", "unittest", name], capture_output=True, text=True, check=False,
            env={**os.environ, "QT_SCALE_FACTOR": "2", _SCALED: "1"},
        )  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr[-6000:])
