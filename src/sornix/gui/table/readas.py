"""The line above the table: how the readings were understood, each decision a word to change."""

from collections.abc import Mapping
from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QSizePolicy, QWidget

from sornix.core.readings import ReadAs, Table
from sornix.core.readings.tables.dialect import WORDS, choices, said
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord, FlowLayout

# stands in the menu of missing marks for one that is to be typed
OTHER = "other"


class ReadAsLine(QWidget):
    """“Read with commas, decimal points, names in line 1, −999 missing”.

    `changed` gives the name of a decision and its new value; OTHER is to be asked for.
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
        for name, word in self.words.items():
            shown = name in read_as.words
            word.setVisible(shown)
            if shown:
                self._show_word(word, name, read_as, can_change=can_change)

    def _show_word(self, word: ChoiceWord, name: str, read_as: ReadAs, *, can_change: bool) -> None:
        present = getattr(read_as.dialect, name)
        doubt = read_as.doubts.get(name, "")
        entries = [
            Choice(value, said(name, value), value == present)
            for value in choices(name, read_as.dialect)
        ]
        if name == "missing":
            entries.append(Choice(OTHER, "Another mark…", divided=True))
        word.set_choices(said(name, present) + (" ?" if doubt else ""), entries)
        word.setEnabled(can_change)
        state = "held by you" if name in read_as.held else "found in the file"
        why = doubt or f"{WORDS[name].about} ({state})"
        word.setToolTip(plain_tip(why if can_change else f"{why}. The file is not known any more."))
        word.mark(doubtful=bool(doubt), held=name in read_as.held)


def with_word(read_as: ReadAs, name: str, value: Any) -> Mapping[str, Any]:
    """What is held of a dialect after one more decision of the user."""
    return {**read_as.held, name: value}
