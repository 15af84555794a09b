"""A list of symbols found by their names, beside the field that they are typed into."""

from PyQt6 import sip
from PyQt6.QtCore import QPoint, QRect
from PyQt6.QtWidgets import QLineEdit, QTreeWidgetItem

from sornix.core.text import find_symbols
from sornix.gui.widgets.finder import Finder

_WIDTH, _HEIGHT = 300, 240


class SymbolFinder(Finder):
    """Type a name, and Enter puts the first symbol into `target`."""

    def __init__(self, target: QLineEdit) -> None:
        parent = target.window() or target
        words = "Name of a symbol: mu, degree, at most …"
        super().__init__(parent, "Symbols", words, "Symbols of that name", 2)
        self._target = target
        self._before = target
        at = parent.mapFromGlobal(target.mapToGlobal(QPoint(0, target.height() + 4)))
        left = min(at.x(), parent.width() - _WIDTH - 8)
        top = min(at.y(), parent.height() - _HEIGHT - 8)
        self.begin(QRect(left, top, _WIDTH, _HEIGHT))

    def fill(self, typed: str) -> None:
        self.list.clear()
        for name, symbol in find_symbols(typed):
            self.list.addTopLevelItem(QTreeWidgetItem([symbol, name]))
        self.list.setColumnWidth(0, 50)
        self.list.setCurrentItem(self.list.topLevelItem(0))

    def take(self, item: QTreeWidgetItem) -> None:
        # the figure may have changed meanwhile, and taken the field away
        if not sip.isdeleted(self._target):
            self._target.insert(item.text(0))
