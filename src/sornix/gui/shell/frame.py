"""The frame of a window: bars and the place for its parts. It knows nothing of documents.

It imports nothing of the core, so that it stands while the core is still being loaded.
"""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData, Qt, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QMainWindow,
    QMenuBar,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from sornix.gui.base.plain import plain_label
from sornix.gui.base.theme import Theme, style_sheet
from sornix.gui.widgets.bars import Bar, Footer, MessageBar
from sornix.gui.widgets.startsheet import StartSheet


class Frame(QMainWindow):
    """Top bar, start sheet and footer; `add_panes` puts a document's parts in the middle.

    `may_close` is asked before the window closes.
    """

    file_dropped = pyqtSignal(Path)
    text_dropped = pyqtSignal(str)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.may_close: Callable[[], bool] = lambda: True
        self.set_theme(theme)
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.setMinimumSize(900, 560)
        self.setWindowTitle("Sornix")
        self.message = MessageBar()
        self.footer = Footer()
        self.start = StartSheet()
        self.name = plain_label("Sornix")
        self.menu_bar = QMenuBar()
        self.undo = QPushButton("↶")
        self.redo = QPushButton("↷")
        self.copy = QPushButton("Copy figure")
        self.export = QPushButton("Export…")
        self._stack = QStackedWidget()
        self._stack.addWidget(self._make_empty())
        body = QWidget()
        whole = QVBoxLayout(body)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self._make_top_bar())
        whole.addWidget(self._stack, 1)
        whole.addWidget(self.footer)
        self.setCentralWidget(body)

    def _make_top_bar(self) -> QWidget:
        bar = Bar("topBar")
        row = QHBoxLayout(bar)
        row.setContentsMargins(0, 2, 14, 2)
        row.setSpacing(8)
        self.menu_bar.setNativeMenuBar(False)
        self.menu_bar.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        row.addWidget(self.name)
        row.addWidget(self.menu_bar, 1, Qt.AlignmentFlag.AlignVCenter)
        for button in (self.undo, self.redo, self.copy, self.export):
            button.setEnabled(False)
            row.addWidget(button)
        return bar

    def _make_empty(self) -> QWidget:
        empty = Bar("ground")
        around = QVBoxLayout(empty)
        around.setContentsMargins(0, 0, 0, 0)
        around.addWidget(self.message)
        holder = QHBoxLayout()
        holder.addStretch(1)
        self.start.setFixedWidth(1000)
        self.start.setMinimumHeight(330)
        holder.addWidget(self.start)
        holder.addStretch(1)
        around.addStretch(1)
        around.addLayout(holder)
        around.addStretch(2)
        return empty

    def set_theme(self, theme: Theme) -> None:
        self.setStyleSheet(style_sheet(theme))

    def tell_mishap(self) -> None:
        """Says that something unforeseen happened, and that the work is still there."""
        self.footer.state.setText("something went wrong inside Sornix: save your work")

    def add_panes(self, panes: QWidget) -> None:
        """Puts the parts of a document in the middle."""
        self._stack.addWidget(panes)
        self._stack.setCurrentWidget(panes)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is not None:
            event.setAccepted(self.may_close())

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and (_dropped_file(event.mimeData()) or _text(event.mimeData())):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None:
            return
        path, text = _dropped_file(event.mimeData()), _text(event.mimeData())
        if path is not None:
            event.acceptProposedAction()
            self.file_dropped.emit(path)
        elif text:
            event.acceptProposedAction()
            self.text_dropped.emit(text)


def _dropped_file(data: QMimeData | None) -> Path | None:
    urls = data.urls() if data is not None else []
    local = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
    return local[0] if local else None


def _text(data: QMimeData | None) -> str:
    return data.text() if data is not None and data.hasText() else ""
