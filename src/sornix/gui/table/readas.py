"""The line above the table: how the readings were understood, each decision a word to change."""

from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from sornix.core.readings import Dialect, ReadAs, Table
from sornix.core.readings.files.encoding import names_in_codes
from sornix.core.readings.layouts.rows import HEAD_BYTES
from sornix.core.readings.tables.dialect import WORDS, choices, said
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.widgets.inlinecontrols import ActWord, Choice, ChoiceWord, FlowLayout

# Which words are hidden first where there is no room for all.
_LEAST = ("units", "header", "encoding", "thousands", "separator", "decimal", "missing", "order")
_MOST_LINES = 2
# stands in the menu of missing marks for one that is to be typed
OTHER = "other"


class ReadAsLine(QWidget):
    """“Read with commas, decimal points, names in line 1, −999 missing”.

    It takes two lines: what is neither doubtful nor held by the user makes room, and is shown on
    demand. `changed` gives the name of a decision and its new value; OTHER is to be asked for.
    """

    changed = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("readAs")
        self._flow = FlowLayout(self, gap=1, line_gap=0)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self._flow.addWidget(plain_label("Read with"))
        # what is shown now: it stays the same at nearly every step
        self._shown: tuple[int, bool] | None = None
        self._kept: ReadAs | None = None
        self.words: dict[str, ChoiceWord] = {}
        for name, word in WORDS.items():
            choice = ChoiceWord(word.about)
            choice.setProperty("small", "true")
            choice.chosen.connect(partial(self.changed.emit, name))
            self.words[name] = choice
            self._flow.addWidget(choice)
        self.turn = ActWord("turn the table", "Exchange the rows and the columns of the file")
        self.turn.setProperty("small", "true")
        self.turn.clicked.connect(self._turn_table)
        self._flow.addWidget(self.turn)
        self.more = ActWord("", "Show every decision on how the table was read", link=True)
        self.more.setProperty("small", "true")
        self.more.clicked.connect(self._turn_all)
        self._flow.addWidget(self.more)
        self._all = False

    def show_table(self, table: Table) -> None:
        read_as = table.read_as
        self.setVisible(read_as is not None)
        if read_as is None:
            return
        source = table.source
        can_change = source is not None and bool(source.path or source.text)
        if self._shown == (id(read_as), can_change):
            return
        # kept, so that no other one can have its number
        self._shown, self._kept = (id(read_as), can_change), read_as
        self.turn.setVisible(can_change and "lying" in read_as.doubts)
        for name, word in self.words.items():
            shown = name in read_as.words
            word.setVisible(shown)
            if shown:
                self._show_word(word, name, table, read_as, can_change=can_change)
        self._all = False
        self._fit()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        if event is not None and event.size().width() != event.oldSize().width():
            self._fit()

    def _turn_table(self) -> None:
        if self._kept is not None:
            self.changed.emit("lying", not self._kept.dialect.lying)

    def _turn_all(self) -> None:
        self._all = not self._all
        self._fit()

    def _fit(self) -> None:
        """Hides words until the others take two lines."""
        read_as = self._kept
        if read_as is None:
            return
        for name in read_as.words:
            self.words[name].setVisible(True)
        self.more.setVisible(False)
        usual = Dialect()
        spare = [
            name for name in _LEAST
            if name in read_as.words and name not in read_as.doubts and name not in read_as.held
        ]  # fmt: skip
        # what is as in most files goes first
        spare.sort(key=lambda n: getattr(read_as.dialect, n) != getattr(usual, n))
        for hidden, name in enumerate(spare, 1):
            if self._has_room():
                break
            self.more.setVisible(True)
            self.more.setText("less ▴" if self._all else f"{hidden} more ▾")
            if not self._all:
                self.words[name].setVisible(False)
        self.updateGeometry()

    def _has_room(self) -> bool:
        line = self.words["decimal"].sizeHint().height()
        return self._flow.heightForWidth(self.contentsRect().width()) <= _MOST_LINES * line + 1

    def _show_word(
        self, word: ChoiceWord, name: str, table: Table, read_as: ReadAs, *, can_change: bool
    ) -> None:
        present = getattr(read_as.dialect, name)
        doubt = read_as.doubts.get(name, "")
        # files are looked at when a menu is opened
        entries = partial(_entries, name, table, read_as)
        word.set_choices(said(name, present) + (" ?" if doubt else ""), entries)
        word.setEnabled(can_change)
        state = "held by you" if name in read_as.held else "found in the file"
        why = doubt or f"{WORDS[name].about} ({state})"
        word.setToolTip(plain_tip(why if can_change else f"{why}. The file is not known any more."))
        word.mark(doubtful=bool(doubt), held=name in read_as.held)


def _entries(name: str, table: Table, read_as: ReadAs) -> list[Choice]:
    """The values of a word; those of an encoding with how the names would look in them."""
    present = getattr(read_as.dialect, name)
    looks = _looks(table, read_as) if name == "encoding" else None
    entries = []
    # the likeliest encodings first, and those last in which the file cannot be
    for value in dict.fromkeys((*(looks or ()), *choices(name, read_as.dialect))):
        words, there = said(name, value), True
        if looks:
            there = value in looks
            words += f"\t{looks.get(value, 'not possible')}"
        entries.append(Choice(value, words, value == present, enabled=there or value == present))
    if name == "missing":
        entries.append(Choice(OTHER, "Another mark…", divided=True))
    return entries


def _looks(table: Table, read_as: ReadAs) -> Mapping[str, str]:
    """How the names of the columns would look in each encoding that the file can be in."""
    if table.source is None:
        return {}
    raw = table.source.text
    try:
        if not raw:
            with Path(table.source.path).open("rb") as file:
                raw = file.read(HEAD_BYTES)
    except OSError:
        return {}
    return names_in_codes(raw, read_as.dialect.header)


def with_word(read_as: ReadAs, name: str, value: Any) -> Mapping[str, Any]:
    """What is held of a dialect after one more decision of the user."""
    return {**read_as.held, name: value}
