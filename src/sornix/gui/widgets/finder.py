"""A field over a list that what is typed narrows: of acts, and of symbols."""

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, QRect, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QLineEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)


class Finder(QFrame):
    """Enter takes the first entry, or the one that the arrows came to, Esc leaves; who had the
    keyboard before gets it back."""

    def __init__(self, parent: QWidget, name: str, words: str, listed: str, columns: int) -> None:
        super().__init__(parent)
        self.setObjectName("palette")
        self.setAccessibleName(name)
        self._before = QApplication.focusWidget()
        self.field = QLineEdit()
        self.field.setPlaceholderText(words)
        self.field.setAccessibleName(words)
        self.field.textChanged.connect(self.fill)
        self.field.installEventFilter(self)
        self.list = QTreeWidget()
        self.list.setAccessibleName(listed)
        self.list.setColumnCount(columns)
        self.list.setHeaderHidden(True)
        self.list.setRootIsDecorated(False)
        self.list.itemClicked.connect(self._choose)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self.field)
        column.addWidget(self.list)

    def fill(self, typed: str) -> None:
        """Lists what has all that was typed."""
        raise NotImplementedError

    def take(self, item: QTreeWidgetItem) -> None:
        """Does what an entry stands for."""
        raise NotImplementedError

    def begin(self, place: QRect) -> None:
        """Shows the finder at a place of its window, and takes the keyboard."""
        self.setGeometry(place)
        self.fill("")
        self.show()
        self.raise_()
        self.field.setFocus()

    def _choose(self, item: QTreeWidgetItem | None) -> None:
        self._leave()
        if item is not None:
            self.take(item)

    def _leave(self) -> None:
        self.field.removeEventFilter(self)
        self.close()
        self.deleteLater()
        if self._before is not None and not sip.isdeleted(self._before):
            self._before.setFocus()

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.FocusOut and self.isVisible():
            self._before = None
            self._leave()
            return False
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self._choose(None)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._choose(self.list.currentItem())
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            now = self.list.indexOfTopLevelItem(self.list.currentItem())
            row = min(max(now + step, 0), self.list.topLevelItemCount() - 1)
            self.list.setCurrentItem(self.list.topLevelItem(row))
        else:
            return False
        return True
