"""A card of the ledger: an edge in a colour, rows of names and values, and buttons at its foot."""

from collections.abc import Callable, Mapping

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from sornix.core.colours import readable
from sornix.core.document import Document
from sornix.core.drawing import Drawing
from sornix.core.figure import Figure
from sornix.core.text import Rich, Run, plain_text
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.base.theme import Theme
from sornix.paint.painter import paint

# Asks the workbench for an edit, by the name that its step will have.
Ask = Callable[[str, Callable[[Figure], Figure]], object]
# And of the whole document.
AskDocument = Callable[[str, Callable[[Document], Document]], object]


_LONG_NAME = 22


def html(runs: Rich) -> str:
    """Runs as the rich text that labels show."""
    parts = []
    for run in runs:
        text = run.text.replace("&", "&amp;").replace("<", "&lt;")
        if run.italic:
            text = f"<i>{text}</i>"
        if run.script:
            tag = "sup" if run.script > 0 else "sub"
            text = f"<{tag}>{text}</{tag}>"
        parts.append(text)
    return "".join(parts)


class Card(QFrame):
    """A card with an edge in a colour, rows of names and values, and its text for copying."""

    def __init__(self, colour: str, theme: Theme, copy: Callable[[str], None]) -> None:
        super().__init__()
        self._theme = theme
        self.setObjectName("card")
        self._colour = QColor(colour)
        self._lines: list[str] = []
        self._links: QHBoxLayout | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 9, 7)
        column.setSpacing(3)
        self._column = column
        self._copy = copy

    @property
    def text(self) -> str:
        """The card as plain text, one line a row."""
        return "\n".join(self._lines)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        # a style sheet of its own for each card takes a millisecond for every label in it
        painter = QPainter(self)
        painter.fillRect(0, 0, 4, self.height(), self._colour)
        painter.end()

    def _in_colour(self, text: str, colour: str, more: str = "") -> str:
        """Rich text in a colour that can be read on the card."""
        shown = readable(colour, self._theme.card)
        return f'<span style="color: {shown}; font-weight: 600; {more}">{text}</span>'

    def headline(self, runs: Rich, colour: str) -> None:
        label = QLabel(html(runs))
        label.setTextFormat(Qt.TextFormat.RichText)
        # a long equation keeps to one line where it can
        size = 18 if len(plain_text(runs)) <= 26 else 15
        label.setText(self._in_colour(html(runs), colour, f"font-size: {size}px;"))
        label.setWordWrap(True)
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._lines.append(plain_text(runs))
        self._column.addWidget(label)

    def name(self, text: str, colour: str) -> None:
        label = QLabel(self._in_colour(html((Run(text),)), colour))
        label.setTextFormat(Qt.TextFormat.RichText)
        label.setWordWrap(True)
        self._lines.append(text)
        self._column.addWidget(label)

    def sentence(self, text: str) -> None:
        label = plain_label(text)
        label.setWordWrap(True)
        self._lines.append(text)
        self._column.addWidget(label)

    def small(self, text: str) -> None:
        label = plain_label(text)
        label.setObjectName("small")
        label.setWordWrap(True)
        # buttons that follow belong to this
        self._links = None
        self._lines.append(text)
        self._column.addWidget(label)

    def act(
        self, text: str, words: str, step: str, edit: Callable[[Figure], Figure], ask: "Ask"
    ) -> None:
        """A sentence with a button that asks for an edit."""
        self.sentence(text)
        button = QPushButton(words)
        button.setAccessibleName(f"{words}: {text}")
        button.clicked.connect(lambda: ask(step, edit))
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button)
        self._column.addLayout(row)

    def row(self, name: str, value: str, tip: str = "") -> None:
        """A name at the left and its value at the right."""
        name_label, value_label = plain_label(name), plain_label(value)
        name_label.setObjectName("name")
        value_label.setObjectName("value")
        value_label.setWordWrap(True)
        # short names keep to one line; a long one must not push its value out of the card
        name_label.setWordWrap(len(name) > _LONG_NAME)
        value_label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
        name_label.setAlignment(Qt.AlignmentFlag.AlignTop)
        value_label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row = QHBoxLayout()
        row.setSpacing(8)
        for label in (name_label, value_label):
            label.setToolTip(plain_tip(tip))
        row.addWidget(name_label)
        row.addWidget(value_label, 1)
        self._column.addLayout(row)
        self._lines.append(f"{name}\t{value}")

    def choice(self, word: QWidget) -> None:
        """A word to choose by, at the foot of the card."""
        self._foot().addWidget(word)

    def removable(self, text: str, tip: str, remove: Callable[[], object]) -> None:
        """A sentence with a cross that takes it away."""
        label = plain_label(text)
        label.setWordWrap(True)
        label.setToolTip(plain_tip(tip))
        label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        cross = QPushButton("×")
        cross.setAccessibleName(f"Remove: {text}")
        cross.setToolTip("Remove")
        cross.clicked.connect(remove)
        row = QHBoxLayout()
        row.addWidget(label, 1)
        row.addWidget(cross, 0, Qt.AlignmentFlag.AlignTop)
        self._column.addLayout(row)
        self._lines.append(text)

    def picture(self, drawing: Drawing, name: str) -> None:
        self._column.addWidget(Picture(drawing, name))

    def link(self, words: str, name: str, act: Callable[[], object]) -> QPushButton:
        """A button in words that does something; those that follow each other stand in one row."""
        button = QPushButton(words)
        button.setAccessibleName(name)
        button.setToolTip(plain_tip(name))
        button.clicked.connect(act)
        self._foot().addWidget(button)
        return button

    def _foot(self) -> QHBoxLayout:
        """The row of buttons that is at the end of the card now."""
        if self._links is None:
            self._links = QHBoxLayout()
            self._links.setContentsMargins(0, 1, 0, 0)
            self._links.addStretch(1)
            self._column.addLayout(self._links)
        return self._links

    def finish(self, what: str) -> None:
        """Puts the copy button at the foot."""
        self.link("copy", f"Copy {what} as text", lambda: self._copy(self.text))

    def menu_link(self, words: str, name: str, acts: Mapping[str, Callable[[], object]]) -> None:
        """A button with a menu of acts."""
        button = self.link(f"{words} ▾", name, lambda: None)
        menu = QMenu(button)
        for entry, act in acts.items():
            action = menu.addAction(entry)
            if action is not None:
                action.triggered.connect(act)
        button.clicked.connect(lambda: menu.popup(button.mapToGlobal(QPoint(0, button.height()))))

    def widget(self, widget: QWidget) -> None:
        """Something of its own in the card."""
        self._links = None
        self._column.addWidget(widget)


class Picture(QWidget):
    """A small drawing, as wide as the card."""

    def __init__(self, drawing: Drawing, name: str, height: int = 72) -> None:
        super().__init__()
        self._drawing = drawing
        self.setAccessibleName(name)
        self.setFixedHeight(height)

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        scale = self.width() / self._drawing.width_mm
        painter = QPainter(self)
        painter.translate(0, (self.height() - self._drawing.height_mm * scale) / 2)
        paint(self._drawing, painter, scale)
        painter.end()
