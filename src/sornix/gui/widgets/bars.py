"""The bars of the window: message and footer, and the sheet that an empty window shows."""

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from sornix.gui.base.plain import plain_label

if TYPE_CHECKING:
    from PyQt6.QtWidgets import QProgressBar

# Work that is done within this time needs nothing that moves.
_PATIENCE_MS = 250


class Bar(QWidget):
    """A widget with a name in the style sheet and a background of its own."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)


class MessageBar(Bar):
    """What was refused or could not be done, in a sentence; it goes with the next change."""

    def __init__(self) -> None:
        super().__init__("message")
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 5, 10, 5)
        self.layout_row = row
        self.buttons: dict[str, QPushButton] = {}
        self.label = plain_label()
        self.label.setWordWrap(True)
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        close = QPushButton("×")
        close.setAccessibleName("Close the message")
        close.clicked.connect(self.hide)
        row.addWidget(self.label, 1)
        row.addWidget(close, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    def say(self, sentence: str, acts: Mapping[str, Callable[[], object]] | None = None) -> None:
        """Shows a sentence, and buttons for what can be done about it."""
        self.label.setText(sentence)
        self.setAccessibleName(sentence)
        for button in self.buttons.values():
            button.deleteLater()
        self.buttons = {}
        for words, act in (acts or {}).items():
            button = QPushButton(words)
            button.setObjectName("act")
            button.clicked.connect(self.hide)
            button.clicked.connect(lambda _=False, act=act: act())
            self.layout_row.insertWidget(self.layout_row.count() - 1, button)
            self.buttons[words] = button
        self.show()


class Footer(Bar):
    """The reading under the pointer at the left; counts, size and file state at the right.

    While something long goes on, that it does, and a way to give it up (`cancelled`).
    """

    cancelled = pyqtSignal()

    def __init__(self) -> None:
        super().__init__("footer")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 3, 14, 4)
        row.setSpacing(26)
        self.reading, self.cautions, self.count, self.extent, self.state = (
            plain_label() for _ in range(5)
        )
        row.addWidget(self.reading, 1)
        for label in (self.cautions, self.count, self.extent, self.state):
            row.addWidget(label)
        # made when something first takes long: an empty window stands sooner without them
        self.progress: QProgressBar | None = None
        self._part: float | None = None
        self.cancel = QPushButton("Cancel")
        self._row = row
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(_PATIENCE_MS)
        self._patience.timeout.connect(self._show_progress)

    def show_busy(self, words: str, part: float | None = None) -> None:
        """Says what goes on, and shows that it does if it takes long, and what `part` is done where
        that is known; "" ends it."""
        self._part = part
        if self.progress is not None:
            self._show_part(self.progress)
        if words:
            self.state.setText(words)
            # how far it is comes again and again
            if not self._patience.isActive():
                self._patience.start()
            return
        self._patience.stop()
        if self.progress is not None:
            self.progress.hide()
            self.cancel.hide()

    def _show_progress(self) -> None:
        if self.progress is None:
            from PyQt6.QtWidgets import QProgressBar

            self.progress = bar = QProgressBar()
            bar.setTextVisible(False)
            bar.setFixedSize(90, 8)
            self.cancel.clicked.connect(self.cancelled)
            self._row.addWidget(bar)
            self._row.addWidget(self.cancel)
        self._show_part(self.progress)
        self.progress.setAccessibleName(self.state.text())
        self.progress.show()
        self.cancel.show()

    def _show_part(self, bar: "QProgressBar") -> None:
        # without an end, it only moves
        bar.setRange(0, 0 if self._part is None else 100)
        if self._part is not None:
            bar.setValue(round(100 * self._part))
