"""The words of a statement that can change: real controls that read like text."""

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

from PyQt6.QtCore import QEvent, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QIcon, QKeyEvent, QKeySequence, QShowEvent
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLayout,
    QLayoutItem,
    QLineEdit,
    QMenu,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.gui.base.plain import plain_label, plain_tip


class Choice(NamedTuple):
    """An entry of a word's menu. `ticked` None is an entry that only acts; `under` names a menu of
    its own that it stands in. What follows a tab stands at the right."""

    value: object
    text: str
    ticked: bool | None = None
    enabled: bool = True
    divided: bool = False
    under: str = ""


def mark_states(widget: QWidget, states: Mapping[str, bool]) -> None:
    """Marks a widget with states that the style sheet knows; one that has none is in none."""
    changed = {name: str(on).lower() for name, on in states.items()}
    changed = {n: on for n, on in changed.items() if (widget.property(n) or "false") != on}
    for name, on in changed.items():
        widget.setProperty(name, on)
    style = widget.style() if changed else None
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


# What a word offers, or what makes it: of hundreds of columns it is made when it is asked for.
Offered = Sequence[Choice] | Callable[[], Sequence[Choice]]


class ChoiceWord(QPushButton):
    """A word with a menu of other words. Space, Enter or the down arrow opens it."""

    chosen = pyqtSignal(object)

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("word", "true")
        self.setAccessibleName(name)
        self.setToolTip(plain_tip(name))
        self._menu: QMenu | None = None
        self.clicked.connect(self._open)
        self._choices: Offered = ()
        # what opens in place of the menu
        self.opener: Callable[[], object] | None = None

    def set_choices(self, text: str, choices: Offered, icon: QIcon | None = None) -> None:
        """Shows `text` with its mark, and offers `choices`, or what they give when it is opened."""
        # an ampersand in a column's name is no shortcut
        self.setText(f"{text.replace('&', '&&')} ▾")
        self.setAccessibleDescription(text)
        if icon is not None:
            self.setIcon(icon)
        self._choices = choices

    @property
    def choices(self) -> Sequence[Choice]:
        """What is offered when it is opened."""
        return self._choices() if callable(self._choices) else self._choices

    def mark(self, **states: bool) -> None:
        """Marks the word for the style sheet: `held`, `doubtful`."""
        mark_states(self, states)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (
            Qt.Key.Key_Down,
            Qt.Key.Key_Return,
            Qt.Key.Key_Enter,
        ):
            self._open()
            return
        super().keyPressEvent(event)

    def _open(self) -> None:
        if self.opener is not None:
            self.opener()
            return
        # made when it is first needed: a window has dozens of words
        if self._menu is None:
            self._menu = QMenu(self)
        self._menu.clear()
        under: dict[str, QMenu | None] = {}
        for choice in self.choices:
            if choice.divided:
                self._menu.addSeparator()
            if choice.under and choice.under not in under:
                under[choice.under] = self._menu.addMenu(choice.under)
            menu = under.get(choice.under) or self._menu
            action = menu.addAction(choice.text.replace("&", "&&"))
            if action is None:
                continue
            action.setEnabled(choice.enabled)
            if choice.ticked is not None:
                action.setCheckable(True)
                action.setChecked(choice.ticked)
            action.triggered.connect(lambda _, value=choice.value: self.chosen.emit(value))
        self._menu.popup(self.mapToGlobal(QPoint(0, self.height())))


class ActWord(QPushButton):
    """A word that does one thing."""

    def __init__(self, text: str, name: str, *, link: bool = False) -> None:
        super().__init__(text)
        self.setProperty("link" if link else "word", "true")
        self.setAccessibleName(name)
        self.setToolTip(plain_tip(name))


class _Field(QLineEdit):
    """A field that leaves undo and redo to the figure once what was typed has been taken."""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() in (
            QEvent.Type.ShortcutOverride,
            QEvent.Type.KeyPress,
        ):
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo:
                event.ignore()
                return False
        return super().event(event)


_NUDGES: dict[int, int] = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}


class NumberWord(QFrame):
    """A number in a statement: free, or held by the user and marked so.

    Typing and Enter (or leaving) holds it; emptying it, or its cross, frees it; Esc restores.
    """

    entered = pyqtSignal(str)
    freed = pyqtSignal()
    # by the arrow keys: 1 up, −1 down
    nudged = pyqtSignal(int)

    def __init__(self, name: str, free: str = "follows the readings") -> None:
        """`free` says what it does where it is not held; "" where it can only be held."""
        super().__init__()
        self.setObjectName("numberWord")
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 1, 5, 1)
        row.setSpacing(2)
        self.field = _Field()
        self.field.setFrame(False)
        self.field.setAccessibleName(name)
        self.field.setToolTip(plain_tip(name))
        self.field.textEdited.connect(self._fit)
        self.field.editingFinished.connect(self._finish)
        self.free = QPushButton("×")
        self.free.setAccessibleName(f"{name}: free")
        self.free.setToolTip(f"Held by you. Click to free it{free and f': {free}'}.")
        self.free.clicked.connect(self.freed)
        row.addWidget(self.field)
        row.addWidget(self.free)
        self.setFocusProxy(self.field)
        self._name, self._free = name, free
        self._shown = ""
        self._told: tuple[str, bool, str] | None = None

    def rename(self, name: str) -> None:
        """Another name for the same word."""
        self._name, self._told = name, None
        self.field.setAccessibleName(name)
        self.free.setAccessibleName(f"{name}: free")

    @property
    def is_touched(self) -> bool:
        """Whether something else stands here than what was shown."""
        return self.field.isModified() or self.property("wrong") == "true"

    def show_value(self, text: str, *, held: bool, full: str) -> None:
        """Shows a value; `full` is what it is in full precision."""
        told = text, held, full
        self._shown = text
        if self.field.text() != text or self.field.isModified():
            self.field.setText(text)
        elif told == self._told and self.property("wrong") != "true":
            # each step of an edit shows all numbers, and changes few
            return
        self._told = told
        state = "held by you" if held else self._free and f"free: {self._free}"
        self.field.setToolTip(plain_tip(f"{self._name}: {full}{state and f' ({state})'}"))
        self.field.setAccessibleDescription(state)
        self.free.setVisible(held)
        self._mark("held", held)
        self._mark("wrong", False)
        self._fit()

    def mark_wrong(self) -> None:
        """Shows that what stands here was not taken; the text stays for mending."""
        self._mark("wrong", True)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in _NUDGES:
            self.nudged.emit(_NUDGES[event.key()])
            return
        if event is not None and event.key() == Qt.Key.Key_Escape and self.is_touched:
            self.field.setText(self._shown)
            self._mark("wrong", False)
            self.field.selectAll()
            self._fit()
            return
        super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self.field.selectAll()

    def _mark(self, name: str, on: bool) -> None:
        mark_states(self, {name: on})

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        # the typeface of the style comes with the window, after the first value
        self._fit()

    def _fit(self) -> None:
        self.field.ensurePolished()
        width = self.field.fontMetrics().horizontalAdvance(self.field.text() or "0") + 9
        self.field.setFixedWidth(max(width, 22))
        self.updateGeometry()

    def _finish(self) -> None:
        # what a person typed is meant, even where it is what stood there: it holds that value
        if not self.field.isModified():
            return
        text = self.field.text()
        self.field.setModified(False)
        if text.strip():
            self.entered.emit(text)
        else:
            self.freed.emit()


class FlowLayout(QLayout):
    """Lays words out in lines like text, and takes the height that they need."""

    def __init__(self, parent: QWidget | None = None, gap: int = 5, line_gap: int = 2) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap, self._line_gap = gap, line_gap
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._arrange(QRect(0, 0, width, 0), place=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._arrange(rect, place=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _arrange(self, rect: QRect, *, place: bool) -> int:
        """Places the items line by line; gives the height that they take."""
        x, y, line = rect.x(), rect.y(), 0
        row: list[tuple[QLayoutItem, QRect]] = []

        def finish_row() -> None:
            for item, box in row:
                box.moveTop(y + (line - box.height()) // 2)
                if place:
                    item.setGeometry(box)
            row.clear()

        for item in self._items:
            widget = item.widget()
            if widget is not None and widget.isHidden():
                continue
            size = item.sizeHint()
            if row and x + size.width() > rect.right() + 1:
                finish_row()
                x, y, line = rect.x(), y + line + self._line_gap, 0
            row.append((item, QRect(QPoint(x, y), size)))
            x += size.width() + self._gap
            line = max(line, size.height())
        finish_row()
        return y + line - rect.y()


def group(*words: QWidget, filling: bool = False) -> QWidget:
    """Words that stay on one line together, at its left where they are `filling` more room."""
    holder = QWidget()
    row = QHBoxLayout(holder)
    row.setContentsMargins(0, 0, 0, 0)
    row.setSpacing(5)
    for word in words:
        row.addWidget(word)
    if filling:
        row.addStretch(1)
    return holder


class StatementLine(QWidget):
    """One line of the statement: its name at the left, words in the rest."""

    def __init__(self, name: str) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        label = plain_label(name)
        label.setObjectName("lineName")
        label.setFixedWidth(48)
        label.setContentsMargins(0, 4, 0, 0)
        row.addWidget(label, 0, Qt.AlignmentFlag.AlignTop)
        holder = QWidget()
        self.words = FlowLayout(holder)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        holder.setSizePolicy(policy)
        row.addWidget(holder, 1)

    def add(self, *words: QWidget) -> None:
        for word in words:
            self.words.addWidget(word)


# More lines of one kind than this scroll, so that the paper keeps its place.
_MOST_LINES = 3


def scrolling(lines: Sequence[QWidget]) -> QWidget:
    """The lines under each other; a few of them in sight where there are many."""
    holder = QWidget()
    column = QVBoxLayout(holder)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(3)
    for line in lines:
        column.addWidget(line)
    column.addStretch(1)
    holder.setObjectName("scrolledLines")
    if len(lines) <= _MOST_LINES:
        return holder
    area = QScrollArea()
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(holder)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFixedHeight(_MOST_LINES * 32 - 4)
    return area
