"""A list of entries with a tick each, under a word of the statement."""

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, QSignalBlocker, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from sornix.gui.base.plain import plain_label
from sornix.gui.widgets.inlinecontrols import ActWord, Choice

_MOST_ROWS = 14
_FLAGS = (
    Qt.ItemFlag.ItemIsEnabled
    | Qt.ItemFlag.ItemIsUserCheckable
    | Qt.ItemFlag.ItemIsSelectable
    | Qt.ItemFlag.ItemIsDragEnabled
)
_ROLE = Qt.ItemDataRole.UserRole


class TickList(QFrame):
    """Ticks and order of some entries. Each tick, and each drag to another place, is told at once
    by `changed`, with the values that are ticked in their order; Enter, Esc or a click beside it
    leaves."""

    changed = pyqtSignal(list)

    def __init__(self, name: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("tickList")
        self.list = _List(self)
        self.list.setAccessibleName(name)
        self.list.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.all = ActWord("all of them", "Tick all of the same unit", link=True)
        self.none = ActWord("none", "Take every tick away", link=True)
        row = QHBoxLayout()
        row.addWidget(self.all)
        row.addWidget(self.none)
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addLayout(row)
        column.addWidget(self.list)
        hint = plain_label("Drag to change the order")
        hint.setObjectName("small")
        column.addWidget(hint)
        self._common = 0
        self.list.itemChanged.connect(self._tell)
        model = self.list.model()
        assert model is not None
        model.rowsMoved.connect(self._tell)
        self.all.clicked.connect(self._tick_all)
        self.none.clicked.connect(self._tick_none)

    @property
    def ticked(self) -> list[object]:
        """The values that are ticked, in their order."""
        items = (self.list.item(row) for row in range(self.list.count()))
        return [item.data(_ROLE) for item in items
                if item is not None and item.checkState() == Qt.CheckState.Checked]  # fmt: skip

    def open_under(self, word: QWidget, entries: Sequence[Choice], common: int) -> None:
        """Opens under a word; the first `common` entries are those that *all of them* ticks."""
        self._common = common
        with QSignalBlocker(self.list):
            self.list.clear()
            for entry in entries:
                item = QListWidgetItem(entry.text)
                item.setData(_ROLE, entry.value)
                item.setFlags(_FLAGS)
                item.setCheckState(
                    Qt.CheckState.Checked if entry.ticked else Qt.CheckState.Unchecked
                )
                self.list.addItem(item)
        rows = min(len(entries), _MOST_ROWS)
        self.list.setFixedHeight(rows * max(self.list.sizeHintForRow(0), 20) + 6)
        self.list.setMinimumWidth(self.list.sizeHintForColumn(0) + 30)
        self.adjustSize()
        self.move(word.mapToGlobal(QPoint(0, word.height())))
        self.show()
        self.list.setCurrentRow(0)
        self.list.setFocus()

    def _tell(self) -> None:
        self.changed.emit(self.ticked)

    def _tick(self, rows: range, *, on: bool) -> None:
        with QSignalBlocker(self.list):
            for row in rows:
                item = self.list.item(row)
                if item is not None:
                    item.setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)

    def _tick_all(self) -> None:
        self._tick(range(self._common or self.list.count()), on=True)
        self._tell()

    def _tick_none(self) -> None:
        # the first tick says what is drawn instead
        self._tick(range(self.list.count()), on=False)


class _List(QListWidget):
    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            window = self.window()
            if window is not None:
                window.close()
            return
        super().keyPressEvent(event)
