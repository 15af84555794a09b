"""What a window shows of a document: tray, statement, paper, caption and ledger.

They are made with the first document, not with the window: an empty window has no use for them,
and a window that opens a file stands a good deal sooner.
"""

from collections.abc import Callable

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QSplitter, QVBoxLayout, QWidget

from sornix.desk.bars import MessageBar
from sornix.desk.caption import CaptionBar
from sornix.desk.ledger import Ledger
from sornix.desk.paper import Paper, Reading
from sornix.desk.statement import Statement
from sornix.desk.theme import Theme
from sornix.desk.tray import Tray
from sornix.desk.workbench import Scene, Workbench


class Panes(QSplitter):
    """The parts side by side. `hovered` gives the Reading under the pointer, or None."""

    hovered = pyqtSignal(object)
    retitled = pyqtSignal(str, str)

    def __init__(self, bench: Workbench, theme: Theme, copy: Callable[[str], None]) -> None:
        super().__init__()
        self._scene: Scene | None = None
        # the figure is painted first, and the numbers beside it right after
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._show_numbers)
        self.message = MessageBar()
        self.statement = Statement(bench)
        self.paper = Paper(theme)
        self.caption = CaptionBar(copy)
        self.tray = Tray(theme)
        self.ledger = Ledger(copy)
        middle = QWidget()
        middle.setObjectName("ground")
        column = QVBoxLayout(middle)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.statement)
        column.addWidget(self.message)
        column.addWidget(self.paper, 100)
        column.addWidget(self.caption)
        column.addStretch(1)
        self.setHandleWidth(1)
        self.setChildrenCollapsible(False)
        for part, width in ((self.tray, 150), (middle, 480), (self.ledger, 220)):
            part.setMinimumWidth(width)
            self.addWidget(part)
        self.setSizes([270, 726, 284])
        for index, stretch in enumerate((0, 1, 0)):
            self.setStretchFactor(index, stretch)
        self.paper.hovered.connect(self.hovered)
        self.paper.picked.connect(self._picked)
        self.paper.retitled.connect(self.retitled)
        self.tray.rows_selected.connect(self.paper.light_rows)

    def show_scene(self, scene: Scene) -> None:
        """Shows a scene in every part; a message about the last act goes."""
        self.message.hide()
        self._scene = scene
        self.paper.show_scene(scene)
        self.statement.show_scene(scene)
        self.caption.show_scene(scene)
        self.tray.show_scene(scene)
        self._later.start()

    def _show_numbers(self) -> None:
        if self._scene is not None:
            self.ledger.show_scene(self._scene)

    def _picked(self, reading: Reading | None) -> None:
        self.tray.light_row(reading.row if reading else None)
