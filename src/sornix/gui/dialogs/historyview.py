"""The steps of a document, each as the words that it changed; a double click goes there."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from sornix.core.document import Document
from sornix.core.statement import differences_in_words, write_statement
from sornix.gui.base.plain import plain_label

# Steps are told in words so many at a time, so that the window never waits.
_AT_ONCE = 4
_WIDTH, _HEIGHT, _FIRST_COLUMN = 780, 420, 250


class HistoryView(QDialog):
    """`steps` are the names of steps with the document after each, the first without a name;
    `present` is the place of the one on show, and `go` takes the number of steps to go, back if
    below 0."""

    def __init__(
        self, parent: QWidget, steps: Sequence[tuple[str, Document]], present: int,
        go: Callable[[int], object],
    ) -> None:  # fmt: skip
        super().__init__(parent)
        self.setWindowTitle("History")
        self.resize(_WIDTH, _HEIGHT)
        self._steps, self._present, self._go = steps, present, go
        self.list = QTreeWidget()
        self.list.setAccessibleName("Steps, the latest last")
        self.list.setHeaderLabels(["Step", "What is said otherwise: − goes, + comes"])
        self.list.setColumnWidth(0, _FIRST_COLUMN)
        self.list.setRootIsDecorated(False)
        self.list.setWordWrap(True)
        self.list.itemActivated.connect(self._take)
        for number, (name, _) in enumerate(steps):
            words = name or "as it was opened"
            here = "  ← here" if number == present else ""
            self.list.addTopLevelItem(QTreeWidgetItem([f"{words}{here}", ""]))
        self.list.setCurrentItem(self.list.topLevelItem(present))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.there = buttons.addButton("Go there", QDialogButtonBox.ButtonRole.AcceptRole)
        assert self.there is not None
        self.there.clicked.connect(lambda: self._take(self.list.currentItem()))
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(plain_label("Go to any step: those behind it stay, until you change "
                                     "something."))  # fmt: skip
        column.addWidget(self.list)
        column.addWidget(buttons)
        # the steps that are still to be told, the latest first: they are in sight
        self.left = list(range(1, len(steps)))
        self._said: dict[int, str] = {}
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._tell_some)
        self._timer.start(0)

    def _take(self, item: QTreeWidgetItem | None) -> None:
        if item is not None:
            number = self.list.indexOfTopLevelItem(item)
            self.accept()
            self._go(number - self._present)

    def _tell_some(self) -> None:
        for _ in range(_AT_ONCE):
            if not self.left:
                self._timer.stop()
                return
            number = self.left.pop()
            told = differences_in_words(self._words(number - 1), self._words(number))
            item = self.list.topLevelItem(number)
            if item is not None:
                item.setText(1, "\n".join(told) or "(in the readings)")

    def _words(self, number: int) -> str:
        if number not in self._said:
            document = self._steps[number][1]
            self._said[number] = write_statement(document.figure, document.tables, plotted=True)
        return self._said[number]
