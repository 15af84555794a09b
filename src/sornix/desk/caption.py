"""The caption under the paper: written from the figure, or typed over."""

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QSizePolicy

from sornix.core.figure import set_caption
from sornix.desk.bars import Bar
from sornix.desk.workbench import Scene, Workbench


class CaptionBar(Bar):
    """Shows the caption. Double-click it, or press *edit*, to type one of your own."""

    def __init__(self, bench: Workbench, copy: Callable[[str], None]) -> None:
        super().__init__("captionBar")
        self._bench = bench
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 2, 16, 8)
        row.setSpacing(4)
        self.label = QLabel()
        self.label.setWordWrap(True)
        self.label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.label.setSizePolicy(policy)
        self.label.installEventFilter(self)
        self.editor = QPlainTextEdit()
        self.editor.setAccessibleName("Caption")
        self.editor.setFixedHeight(64)
        self.editor.setTabChangesFocus(True)
        self.editor.installEventFilter(self)
        self.editor.hide()
        row.addWidget(self.label, 1)
        row.addWidget(self.editor, 1)
        self.edit = self._button("edit", "Type a caption of your own", self.begin)
        self.write = self._button("write it again", "Write the caption from the figure", self._free)
        self._button("copy", "Copy the caption", lambda: copy(self.label.text()))

    def _button(self, words: str, name: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setAccessibleName(name)
        button.setToolTip(name)
        button.clicked.connect(act)
        layout = self.layout()
        if isinstance(layout, QHBoxLayout):
            layout.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        return button

    def show_scene(self, scene: Scene) -> None:
        self.label.setText(scene.caption)
        self.write.setVisible(scene.figure.caption is not None)

    def begin(self) -> None:
        """Opens the caption for typing; leaving takes it, Esc does not."""
        scene = self._bench.scene
        if scene is None:
            return
        own = scene.figure.caption
        self.editor.setPlainText(own if own is not None else scene.caption)
        self.label.hide()
        self.editor.show()
        self.editor.setFocus()
        self.editor.selectAll()

    def _finish(self, *, take: bool) -> None:
        if self.editor.isHidden():
            return
        text = self.editor.toPlainText()
        self.editor.hide()
        self.label.show()
        if take and text != self.label.text():
            self._bench.edit("changed the caption", lambda f: set_caption(f, text))

    def _free(self) -> None:
        self._bench.edit("let the caption be written", lambda f: set_caption(f, None))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is None:
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
