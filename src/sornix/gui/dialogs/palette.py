"""The command palette: every act that can be done now, found by typing a few letters of it."""

from collections.abc import Sequence

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QTreeWidgetItem, QWidget

from sornix.gui.widgets.finder import Finder

_ACTION = Qt.ItemDataRole.UserRole


def matches(typed: str, text: str) -> bool:
    """Whether each word that was typed begins a word of the text or stands inside it."""
    return all(part in text.casefold() for part in typed.casefold().split())


class Palette(Finder):
    """A field and the list of acts that match it."""

    def __init__(self, parent: QWidget, actions: Sequence[tuple[str, str, QAction]]) -> None:
        super().__init__(parent, "Find an act", "What do you want to do?", "Acts", 3)
        self._actions = [act for act in actions if act[2].isEnabled() and act[2].isVisible()]
        width = min(560, parent.width() - 40)
        self.begin(QRect((parent.width() - width) // 2, 60, width, 340))

    def fill(self, typed: str) -> None:
        self.list.clear()
        for menu, under, action in self._actions:
            words = f"{under}{action.text()}".replace("&", "")
            if matches(typed, f"{menu} {words}"):
                keys = action.shortcut().toString()
                item = QTreeWidgetItem([words, menu, keys])
                item.setData(0, _ACTION, action)
                self.list.addTopLevelItem(item)
        self.list.setColumnWidth(0, self.width() - 230)
        self.list.setColumnWidth(1, 80)
        self.list.setCurrentItem(self.list.topLevelItem(0))

    def take(self, item: QTreeWidgetItem) -> None:
        action = item.data(0, _ACTION)
        if isinstance(action, QAction):
            action.trigger()
