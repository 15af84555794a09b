"""The caption under the paper, or the text for a methods section: written from the figure, or typed
over."""

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QPlainTextEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
)

from sornix.core.figure import Figure, set_caption, set_methods
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.bars import Bar

# More lines of a caption than this scroll.
_MOST_LINES = 4


class _Text(NamedTuple):
    """A text that is written from the figure: how it is called, what it says, what was typed in its
    place, and the edit that sets that."""

    name: str
    said: Callable[[Scene], str]
    own: Callable[[Figure], str | None]
    put: Callable[[Figure, str | None], Figure]


_TEXTS = (
    _Text("caption", lambda s: s.caption, lambda f: f.caption, set_caption),
    _Text("methods text", lambda s: s.methods, lambda f: f.methods, set_methods),
)


class CaptionBar(Bar):
    """Shows the caption, or the methods text. Double-click it, or press *edit*, to type one of your
    own."""

    def __init__(self, bench: Workbench, copy: Callable[[str], None]) -> None:
        super().__init__("captionBar")
        self._bench = bench
        self._text = _TEXTS[0]
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 1, 16, 6)
        row.setSpacing(4)
        self.label = plain_label()
        self.label.setWordWrap(True)
        self.label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.label.setSizePolicy(policy)
        # a long text scrolls: the figure keeps its room
        self.area = QScrollArea()
        self.area.setObjectName("captionArea")
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.area.setWidget(self.label)
        self.label.installEventFilter(self)
        self.area.installEventFilter(self)
        self.editor = QPlainTextEdit()
        self.editor.setAccessibleName("Caption or methods text")
        self.editor.setFixedHeight(64)
        self.editor.setTabChangesFocus(True)
        self.editor.installEventFilter(self)
        self.editor.hide()
        row.addWidget(self.area, 1)
        row.addWidget(self.editor, 1)
        self.edit = self._button("edit", "Type a text of your own", self.begin)
        self.write = self._button("write it again", "Write the text from the figure", self._free)
        self._button("copy", "Copy the text", lambda: copy(self.label.text()))
        self.other = self._button("", "", self._show_other)

    def _button(self, words: str, name: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setAccessibleName(name)
        button.setToolTip(plain_tip(name))
        button.clicked.connect(act)
        layout = self.layout()
        if isinstance(layout, QHBoxLayout):
            layout.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        return button

    def show_scene(self, scene: Scene) -> None:
        self.label.setText(self._text.said(scene))
        self._fit()
        self.write.setVisible(self._text.own(scene.figure) is not None)
        other = next(text for text in _TEXTS if text is not self._text)
        self.other.setText(f"{other.name} ▸")
        self.other.setAccessibleName(f"Show the {other.name}")
        self.other.setToolTip(plain_tip(self.other.accessibleName()))

    def _fit(self) -> None:
        """As high as the text needs, up to a few lines."""
        line = self.label.fontMetrics().lineSpacing()
        bar = self.area.verticalScrollBar()
        width = max(self.area.width(), 200)
        # a label never asks for less than it was given
        self.label.setMinimumHeight(0)
        needed = max(self.label.heightForWidth(width), line)
        if needed > _MOST_LINES * line and bar is not None:
            needed = self.label.heightForWidth(width - bar.sizeHint().width())
        self.label.setFixedHeight(needed)
        self.area.setFixedHeight(min(needed, _MOST_LINES * line))

    def _show_other(self) -> None:
        """Shows the other of the two texts."""
        self._finish(take=True)
        self._text = next(text for text in _TEXTS if text is not self._text)
        if self._bench.scene is not None:
            self.show_scene(self._bench.scene)

    def show_text(self, number: int) -> None:
        """Shows the caption (0) or the methods text (1)."""
        if self._text is not _TEXTS[number]:
            self._show_other()

    def begin(self) -> None:
        """Opens the text for typing; leaving takes it, Esc does not."""
        scene = self._bench.scene
        if scene is None:
            return
        own = self._text.own(scene.figure)
        self.editor.setPlainText(own if own is not None else self._text.said(scene))
        self.area.hide()
        self.editor.show()
        self.editor.setFocus()
        self.editor.selectAll()

    def _finish(self, *, take: bool) -> None:
        if self.editor.isHidden():
            return
        text = self.editor.toPlainText()
        self.editor.hide()
        self.area.show()
        if take and text != self.label.text():
            put = self._text.put
            self._bench.edit(f"changed the {self._text.name}", lambda f: put(f, text))

    def _free(self) -> None:
        put = self._text.put
        self._bench.edit(f"let the {self._text.name} be written", lambda f: put(f, None))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is None:
            return False
        if watched is self.area:
            # the text has another width, whatever the reason: another window, or another button
            if isinstance(event, QResizeEvent) and event.size().width() != event.oldSize().width():
                self._fit()
            return False
        if watched is self.label:
            if event.type() == QEvent.Type.MouseButtonDblClick:
                self.begin()
                return True
            return False
        if event.type() == QEvent.Type.FocusOut:
            self._finish(take=True)
        elif isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            if event.key() == Qt.Key.Key_Escape or enter:
                self._finish(take=enter)
                return True
        return False
