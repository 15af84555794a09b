"""A list of symbols found by their names, beside the field that they are typed into."""

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout

from sornix.core.text import find_symbols


class SymbolFinder(QFrame):
    """Type a name, Enter takes the first symbol into `target`, Esc goes back to it."""

    def __init__(self, target: QLineEdit) -> None:
        parent = target.window() or target
        super().__init__(parent)
        self.setObjectName("palette")
        self.setAccessibleName("Symbols")
        self._target = target
        self.field = QLineEdit()
        self.field.setPlaceholderText("Name of a symbol: mu, degree, at most …")
        self.field.setAccessibleName("Name of a symbol")
        self.list = QListWidget()
        self.list.setAccessibleName("Symbols of that name")
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addWidget(self.field)
        column.addWidget(self.list)
        self.field.textChanged.connect(self._fill)
        self.field.installEventFilter(self)
        self.list.itemClicked.connect(self._take)
        at = parent.mapFromGlobal(target.mapToGlobal(QPoint(0, target.height() + 4)))
        width, height = 300, 240
        self.setGeometry(
            min(at.x(), parent.width() - width - 8),
            min(at.y(), parent.height() - height - 8),
            width,
            height,
        )
        self._fill("")
        self.show()
        self.raise_()
        self.field.setFocus()

    def _fill(self, typed: str) -> None:
        self.list.clear()
        for name, symbol in find_symbols(typed):
            item = QListWidgetItem(f"{symbol}    {name}")
            item.setData(Qt.ItemDataRole.UserRole, symbol)
            self.list.addItem(item)
        self.list.setCurrentRow(0)

    def _take(self, item: QListWidgetItem | None) -> None:
        symbol = item.data(Qt.ItemDataRole.UserRole) if item is not None else ""
        self._close()
        if symbol:
            self._target.insert(str(symbol))

    def _close(self) -> None:
        self.field.removeEventFilter(self)
        self.hide()
        self.deleteLater()
        self._target.setFocus()

    def eventFilter(self, _watched: QObject | None, event: QEvent | None) -> bool:
        if event is None:
            return False
        if event.type() == QEvent.Type.FocusOut:
            self._close()
            return False
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return False
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self._close()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take(self.list.currentItem())
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            row = min(max(self.list.currentRow() + step, 0), self.list.count() - 1)
            self.list.setCurrentRow(row)
        else:
            return False
        return True
