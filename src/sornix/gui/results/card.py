"""A card of the ledger: an edge in a colour, rows of names and values, and buttons at its foot."""

from collections.abc import Callable, Hashable, Mapping
from functools import partial

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
from sornix.gui.results.kept import Kept, Part
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord
from sornix.paint.painter import paint

# Asks the workbench for an edit, by the name that its step will have.
Ask = Callable[[str, Callable[[Figure], Figure]], object]
# And of the whole document.
AskDocument = Callable[[str, Callable[[Document], Document]], object]


BY_TAB = Qt.FocusPolicy.TabFocus
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
    """A card with an edge in a colour, rows of names and values, and its text for copying. What it
    tells is told anew from `begin` to `end`."""

    _theme: Theme

    def __init__(self, copy: Callable[[str], None]) -> None:
        super().__init__()
        self.setObjectName("card")
        self._colour = QColor()
        self._lines: list[str] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 8, 9, 7)
        column.setSpacing(3)
        self.parts = Kept(column)
        self._links: Kept | None = None
        self._copy = copy

    @property
    def text(self) -> str:
        """The card as plain text, one line a row."""
        return "\n".join(self._lines)

    def begin(self, theme: Theme, colour: str) -> None:
        self._theme = theme
        self._lines, self._links = [], None
        self.parts.begin()
        if self._colour != QColor(colour):
            self._colour = QColor(colour)
            self.update()

    def end(self) -> None:
        self._end_links()
        self.parts.end()

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

    def _label(self, kind: str, shown: str, said: str, *, rich: bool = False) -> None:
        """A line of words of a kind."""

        def make() -> Part:
            label = QLabel() if rich else plain_label("")
            if rich:
                label.setTextFormat(Qt.TextFormat.RichText)
            label.setWordWrap(True)
            if kind == "small":
                label.setObjectName("small")
            if kind == "headline":
                label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            return Part(kind, label, label)

        (label,) = self.parts.next(kind, make).widgets
        assert isinstance(label, QLabel)
        label.setText(shown)
        self._lines.append(said)

    def headline(self, runs: Rich, colour: str) -> None:
        # a long equation keeps to one line where it can
        size = 18 if len(plain_text(runs)) <= 26 else 15
        shown = self._in_colour(html(runs), colour, f"font-size: {size}px;")
        self._label("headline", shown, plain_text(runs), rich=True)

    def name(self, text: str, colour: str) -> None:
        self._label("name", self._in_colour(html((Run(text),)), colour), text, rich=True)

    def sentence(self, text: str) -> None:
        self._label("sentence", text, text)

    def small(self, text: str) -> None:
        # buttons that follow belong to this
        self._end_links()
        self._label("small", text, text)

    def act(
        self, text: str, words: str, step: str, edit: Callable[[Figure], Figure], ask: "Ask"
    ) -> None:
        """A sentence with a button that asks for an edit."""
        self.sentence(text)

        def make() -> Part:
            row, button = QHBoxLayout(), QPushButton()
            row.addStretch(1)
            row.addWidget(button)
            return _pressed(Part("act", row, button), button)

        part = self.parts.next("act", make)
        _say(part.widgets[0], words, f"{words}: {text}")
        part.act = partial(ask, step, edit)

    def row(self, name: str, value: str, tip: str = "") -> None:
        """A name at the left and its value at the right."""
        name_label, value_label = self.parts.next("row", _row).widgets
        assert isinstance(name_label, QLabel)
        assert isinstance(value_label, QLabel)
        name_label.setText(name)
        value_label.setText(value)
        # short names keep to one line; a long one must not push its value out of the card
        if name_label.wordWrap() != (wraps := len(name) > _LONG_NAME):
            # which lays out and paints the label, even where it changes nothing
            name_label.setWordWrap(wraps)
        for label in (name_label, value_label):
            label.setToolTip(plain_tip(tip))
        self._lines.append(f"{name}\t{value}")

    def choice(
        self, about: str, shown: str, choices: list[Choice], act: Callable[..., object]
    ) -> None:
        """A word to choose by, at the foot of the card."""

        def make() -> Part:
            word = ChoiceWord(about)
            word.setProperty("word", None)
            part = Part(("choice", about), word, word)
            word.chosen.connect(part.choose)
            return part

        part = self._foot().next(("choice", about), make)
        (word,) = part.widgets
        assert isinstance(word, ChoiceWord)
        word.set_choices(shown, choices)
        part.act = act

    def removable(self, text: str, tip: str, remove: Callable[[], object]) -> None:
        """A sentence with a cross that takes it away."""
        part = self.parts.next("removable", _removable)
        label, cross = part.widgets
        assert isinstance(label, QLabel)
        label.setText(text)
        label.setToolTip(plain_tip(tip))
        cross.setAccessibleName(f"Remove: {text}")
        part.act = remove
        self._lines.append(text)

    def picture(self, drawing: Drawing, name: str) -> None:
        def make() -> Part:
            picture = Picture()
            return Part("picture", picture, picture)

        (picture,) = self.parts.next("picture", make).widgets
        assert isinstance(picture, Picture)
        picture.show_drawing(drawing, name)

    def link(self, words: str, name: str, act: Callable[[], object], tip: str = "") -> None:
        """A button in words that does something; those that follow each other stand in one row."""

        def make() -> Part:
            button = QPushButton()
            return _pressed(Part("link", button, button), button)

        part = self._foot().next("link", make)
        _say(part.widgets[0], words, name, tip or name)
        part.act = act

    def _foot(self) -> Kept:
        """The row of buttons that is at the end of the card now."""
        if self._links is None:
            self._links = self.parts.next("foot", _foot).inner
            assert self._links is not None
            self._links.begin()
        return self._links

    def _end_links(self) -> None:
        if self._links is not None:
            self._links.end()
            self._links = None

    def finish(self, what: str) -> None:
        """Puts the copy button at the foot."""
        self.link("copy", f"Copy {what} as text", lambda: self._copy(self.text))

    def menu_link(self, words: str, name: str, acts: Mapping[str, Callable[[], object]]) -> None:
        """A button with a menu of acts."""

        def make() -> Part:
            button = QPushButton()
            QMenu(button)
            return _pressed(Part("menu", button, button), button)

        part = self._foot().next("menu", make)
        (button,) = part.widgets
        menu = button.findChild(QMenu)
        assert menu is not None
        _say(button, f"{words} ▾", name, name)

        def open_menu() -> None:
            menu.clear()
            for entry, act in acts.items():
                action = menu.addAction(entry)
                if action is not None:
                    action.triggered.connect(act)
            menu.popup(button.mapToGlobal(QPoint(0, button.height())))

        part.act = open_menu

    def widget(self, of: Hashable, make: Callable[[], QWidget]) -> None:
        """Something of its own in the card, made anew where what it is `of` is another."""
        self._end_links()

        def made() -> Part:
            widget = make()
            fields = [w for w in widget.findChildren(QWidget) if w.focusPolicy() & BY_TAB]
            return Part(("widget", of), widget, widget, *fields)

        self.parts.next(("widget", of), made)


def _pressed(part: Part, button: QPushButton) -> Part:
    """A part that does what it does when a button of it is pressed."""
    button.clicked.connect(part.press)
    return part


def _say(button: QWidget, words: str, name: str, tip: str = "") -> None:
    assert isinstance(button, QPushButton)
    button.setText(words)
    button.setAccessibleName(name)
    if tip:
        button.setToolTip(plain_tip(tip))


def _row() -> Part:
    name, value = plain_label(""), plain_label("")
    name.setObjectName("name")
    value.setObjectName("value")
    value.setWordWrap(True)
    value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
    name.setAlignment(Qt.AlignmentFlag.AlignTop)
    value.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    row = QHBoxLayout()
    row.setSpacing(8)
    row.addWidget(name)
    row.addWidget(value, 1)
    return Part("row", row, name, value)


def _removable() -> Part:
    label, cross = plain_label(""), QPushButton("×")
    label.setWordWrap(True)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    cross.setToolTip("Remove")
    row = QHBoxLayout()
    row.addWidget(label, 1)
    row.addWidget(cross, 0, Qt.AlignmentFlag.AlignTop)
    return _pressed(Part("removable", row, label, cross), cross)


def _foot() -> Part:
    row = QHBoxLayout()
    row.setContentsMargins(0, 1, 0, 0)
    row.addStretch(1)
    return Part("foot", row, inner=Kept(row, fixed=1))


class Picture(QWidget):
    """A small drawing, as wide as the card."""

    def __init__(self, height: int = 72) -> None:
        super().__init__()
        self.drawing: Drawing | None = None
        self.setFixedHeight(height)

    def show_drawing(self, drawing: Drawing, name: str) -> None:
        self.setAccessibleName(name)
        if drawing is not self.drawing:
            self.drawing = drawing
            self.update()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self.drawing is None:
            return
        scale = self.width() / self.drawing.width_mm
        painter = QPainter(self)
        painter.translate(0, (self.height() - self.drawing.height_mm * scale) / 2)
        paint(self.drawing, painter, scale)
        painter.end()
