"""A field that stands over a text and takes its place."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QFocusEvent, QFont, QIcon, QKeyEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QLineEdit, QWidget

from sornix.paint.fonts import FAMILY


class InPlace(QLineEdit):
    """Enter or leaving takes what was typed, Esc leaves all as it was."""

    def __init__(self, parent: QWidget, name: str, text: str, take: Callable[[str], None]) -> None:
        super().__init__(text, parent)
        self.setObjectName("inPlace")
        self.setAccessibleName(name)
        self.setToolTip(
            "cm^3 and H_2O become super- and subscripts, {mu} becomes µ. Ctrl+J finds symbols by "
            "name. Enter takes it, Esc leaves it."
        )
        self.setFont(QFont(FAMILY))
        self.selectAll()
        self._take: Callable[[str], None] | None = take
        self._finding = False
        symbols = QAction(self._omega(), "Find a symbol by its name (Ctrl+J)", self)
        symbols.setShortcut("Ctrl+J")
        symbols.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        symbols.triggered.connect(self.find_symbol)
        self.addAction(symbols, QLineEdit.ActionPosition.TrailingPosition)
        self.editingFinished.connect(self._leave)

    def _omega(self) -> QIcon:
        """The letter that stands for all symbols."""
        picture = QPixmap(32, 32)
        picture.setDevicePixelRatio(2)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setFont(self.font())
        painter.setPen(self.palette().text().color())
        painter.drawText(0, 0, 16, 16, int(Qt.AlignmentFlag.AlignCenter), "Ω")
        painter.end()
        return QIcon(picture)

    def find_symbol(self) -> None:
        """Opens the list of symbols; what is typed here stays open meanwhile."""
        from sornix.gui.widgets.symbolfinder import SymbolFinder

        self._finding = True
        SymbolFinder(self)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self._finding = False
        super().focusInEvent(event)

    def _leave(self) -> None:
        if not self._finding:
            self.finish(self.text())

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
        # neither key goes on to the paper, where it means something else
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finish(None)
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finish(self.text())
        else:
            super().keyPressEvent(event)
