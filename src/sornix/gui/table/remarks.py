"""What is to be said of how a table was read: the first of it, and the rest on demand."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from sornix.core.text import plural
from sornix.gui.base.plain import plain_label
from sornix.gui.widgets.inlinecontrols import ActWord

# About two lines of a narrow tray.
_SHORT = 76


class Remarks(QWidget):
    """Remarks: as many as two lines hold, one at least, and a word that shows the others."""

    def __init__(self) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(11, 0, 8, 0)
        column.setSpacing(0)
        self.label = plain_label()
        self.label.setObjectName("notes")
        self.label.setWordWrap(True)
        self.label.setContentsMargins(3, 0, 0, 0)
        self.more = ActWord("", "Show all that is to be said of how the table was read")
        self.more.setProperty("small", "true")
        self.more.clicked.connect(self._turn)
        column.addWidget(self.label)
        column.addWidget(self.more, 0, Qt.AlignmentFlag.AlignLeft)
        self._remarks: tuple[str, ...] = ()
        self._all = False

    def show_remarks(self, remarks: Sequence[str]) -> None:
        if tuple(remarks) != self._remarks:
            self._remarks, self._all = tuple(remarks), False
        self._show()

    def text(self) -> str:
        """All remarks."""
        return " ".join(self._remarks)

    def _turn(self) -> None:
        self._all = not self._all
        self._show()

    def _show(self) -> None:
        first = 1
        while first < len(self._remarks) and len(" ".join(self._remarks[: first + 1])) <= _SHORT:
            first += 1
        rest = len(self._remarks) - first
        shown = self._remarks if self._all else self._remarks[:first]
        self.label.setText(" ".join(shown))
        self.more.setVisible(rest > 0)
        self.more.setText("less ▴" if self._all else f"{plural(rest, 'more note')} ▾")
        self.setVisible(bool(self._remarks))
