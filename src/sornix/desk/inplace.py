"""A field that stands over a text and takes its place."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from sornix.paint.fonts import FAMILY


class InPlace(QLineEdit):
    """Enter or leaving takes what was typed, Esc leaves all as it was."""

    def __init__(self, parent: QWidget, name: str, text: str, take: Callable[[str], None]) -> None:
        super().__init__(text, parent)
        self.setObjectName("inPlace")
        self.setAccessibleName(name)
        self.setToolTip(
            "cm^3 and H_2O become super- and subscripts. Enter takes it, Esc leaves it."
        )
        self.setFont(QFont(FAMILY))
        self.selectAll()
        self._take: Callable[[str], None] | None = take
        self.editingFinished.connect(lambda: self.finish(self.text()))

    def finish(self, text: str | None) -> None:
        """Closes the field; `text` None leaves all as it was."""
        take, self._take = self._take, None
        if take is None:
            return
        self.hide()
        self.deleteLater()
        if text is not None:
            take(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finish(None)
            return
        super().keyPressEvent(event)
