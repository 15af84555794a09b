"""The command palette: every act that can be done now, found by typing a few letters of it."""

from collections.abc import Sequence

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QAction, QKeyEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QLineEdit,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)


def matches(typed: str, text: str) -> bool:
    """Whether each word that was typed begins a word of the text or stands inside it."""
    return all(part in text.casefold() for part in typed.casefold().split())


class Palette(QFrame):
    """A field and the list of acts that match it; Enter does the first, Esc leaves."""

    def __init__(self, parent: QWidget, actions: Sequence[tuple[str, str, QAction]]) -> None:
        super().__init__(parent)
        self.setObjectName("palette")
        self.setAccessibleName("Find an act")
        # who had the keyboard gets it back
        self._before = QApplication.focusWidget()
        self._actions = [act for act in actions if act[2].isEnabled() and act[2].isVisible()]
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        self.field = QLineEdit()
        self.field.setPlaceholderText("What do you want to do?")
        self.field.setAccessibleName("What do you want to do?")
        self.field.textChanged.connect(self._fill)
        self.field.installEventFilter(self)
        self.list = QTreeWidget()
        self.list.setAccessibleName("Acts")
        self.list.setColumnCount(3)
        self.list.setHeaderHidden(True)
        self.list.setRootIsDecorated(False)
        self.list.itemClicked.connect(self._run)
        column.addWidget(self.field)
        column.addWidget(self.list)
        width = min(560, parent.width() - 40)
        self.setGeometry((parent.width() - width) // 2, 60, width, 340)
        self._fill("")
        self.show()
        self.raise_()
        self.field.setFocus()

    def _fill(self, typed: str) -> None:
        self.list.clear()
        for menu, under, action in self._actions:
            words = f"{under}{action.text()}".replace("&", "")
            if matches(typed, f"{menu} {words}"):
                keys = action.shortcut().toString()
                item = QTreeWidgetItem([words, menu, keys])
                item.setData(0, Qt.ItemDataRole.UserRole, action)
                self.list.addTopLevelItem(item)
        self.list.setColumnWidth(0, self.width() - 230)
        self.list.setColumnWidth(1, 80)
        self.list.setCurrentItem(self.list.topLevelItem(0))

    def _run(self, item: QTreeWidgetItem | None) -> None:
        action = item.data(0, Qt.ItemDataRole.UserRole) if item is not None else None
        self._leave()
        if isinstance(action, QAction):
            action.trigger()

    def _leave(self) -> None:
        self.field.removeEventFilter(self)
        self.close()
        self.deleteLater()
        if self._before is not None and not sip.isdeleted(self._before):
            self._before.setFocus()

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.FocusOut and self.isVisible():
            self.close()
            self.deleteLater()
            return False
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self._run(None)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._run(self.list.currentItem())
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            now = self.list.indexOfTopLevelItem(self.list.currentItem())
            row = min(max(now + step, 0), self.list.topLevelItemCount() - 1)
            self.list.setCurrentItem(self.list.topLevelItem(row))
        else:
            return False
        return True
