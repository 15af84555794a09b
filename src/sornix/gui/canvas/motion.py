"""What is drawn while the hand moves a closer look: of very many readings some, until it rests."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from sornix.core.drawing import Detail
from sornix.core.readings import Tables

# So many markers are drawn as fast as a hand moves.
_WHILE_MOVING = 1 << 15
_RESTS_MS = 150


class Motion(QTimer):
    """Begins with each move, and calls `rested` a moment after the last one."""

    def __init__(self, parent: QObject, rested: Callable[[], None]) -> None:
        super().__init__(parent)
        self.setSingleShot(True)
        self.setInterval(_RESTS_MS)
        self.timeout.connect(rested)

    def begin(self, tables: Tables) -> None:
        """Something moves; few readings are drawn whole meanwhile."""
        if sum(table.row_count for table in tables) > _WHILE_MOVING:
            self.start()

    def detail(self, column_mm: float) -> Detail:
        """What is to be drawn now, of lines columns of so many mm, or twice as many."""
        return Detail(2 * column_mm, _WHILE_MOVING) if self.isActive() else Detail(column_mm)
