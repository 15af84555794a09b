"""Asking how a table is to be summarised: grouped by what, of what, and which statistics."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from sornix.core.readings import NUMBER, TEXT, Column, Table
from sornix.core.readings.tables.grouping import STATISTICS
from sornix.core.readings.tables.origin import Grouping
from sornix.gui.base.plain import plain_label

_BEGINNING = ("mean", "SD", "n")


class SummaryDialog(QDialog):
    """Three lists with ticks; `take` gets the grouping."""

    def __init__(
        self,
        parent: QWidget,
        table: Table,
        current: Column | None,
        take: Callable[[Grouping], None],
    ) -> None:
        super().__init__(parent)
        self._table, self._take = table, take
        self.setWindowTitle("Summarise by groups")
        self.resize(680, 380)
        whole = QVBoxLayout(self)
        lists = QGridLayout()
        lists.setHorizontalSpacing(14)
        texts = [c.name for c in table.columns if c.kind == TEXT]
        by = texts[:1]
        if current is not None and current.kind == TEXT:
            by = [current.name]
        numbers = [c.name for c in table.columns if c.kind == NUMBER and c.name not in by]
        self.by = _ticks([c.name for c in table.columns], by)
        self.values = _ticks(numbers, numbers)
        words = {name: statistic[0] for name, statistic in STATISTICS.items()}
        self.statistics = _ticks(list(words), list(_BEGINNING), words)
        for place, (title, widget) in enumerate(
            (("Rows that agree in", self.by), ("Summarise", self.values), ("By", self.statistics))
        ):
            label = plain_label(title)
            label.setBuddy(widget)
            widget.setAccessibleName(title)
            lists.addWidget(label, 0, place)
            lists.addWidget(widget, 1, place)
        whole.addLayout(lists)
        self.told = plain_label("The summary is a table of its own, and follows the readings.")
        self.told.setObjectName("notes")
        whole.addWidget(self.told)
        for place, stretch in enumerate((2, 2, 3)):
            lists.setColumnStretch(place, stretch)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        buttons.addButton("Summarise", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        whole.addWidget(buttons)
        self.finished.connect(self.deleteLater)
        self.open()

    def _finish(self) -> None:
        by, values = _ticked(self.by), _ticked(self.values)
        statistics = _ticked(self.statistics)
        if not by:
            self.told.setText("Tick at least one column whose equal cells make a group.")
            return
        values = tuple(name for name in values if name not in by)
        self._take(Grouping(self._table.name, by, values, statistics))
        self.accept()


def _ticks(names: list[str], ticked: list[str], words: dict[str, str] | None = None) -> QListWidget:
    """A list of names, each with a tick."""
    widget = QListWidget()
    for name in names:
        item = QListWidgetItem((words or {}).get(name, name))
        item.setData(Qt.ItemDataRole.UserRole, name)
        item.setFlags(
            Qt.ItemFlag.ItemIsEnabled
            | Qt.ItemFlag.ItemIsUserCheckable
            | Qt.ItemFlag.ItemIsSelectable
        )
        item.setCheckState(Qt.CheckState.Checked if name in ticked else Qt.CheckState.Unchecked)
        widget.addItem(item)
    return widget


def _ticked(widget: QListWidget) -> tuple[str, ...]:
    items = (widget.item(row) for row in range(widget.count()))
    return tuple(
        str(item.data(Qt.ItemDataRole.UserRole))
        for item in items
        if item is not None and item.checkState() == Qt.CheckState.Checked
    )
