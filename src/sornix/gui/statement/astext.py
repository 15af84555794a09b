"""The statement as text, in the place of its words: typed, and followed by the figure."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from PyQt6.QtCore import QEvent, QPoint, QRect, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QKeyEvent,
    QResizeEvent,
    QTextCharFormat,
    QTextCursor,
)
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QPushButton,
    QTextEdit,
    QVBoxLayout,
)

from sornix.core.errors import SornixError
from sornix.core.figure import Figure
from sornix.core.statement import (
    Completion,
    StatementError,
    completions,
    read_statement,
    write_statement,
)
from sornix.core.statement.around import Around
from sornix.gui.base.plain import plain_label
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import ActWord

_LEAST_LINES, _MOST_LINES = 3, 12
_MOST_OFFERED, _MOST_SHOWN = 3, 8
_LIST_WIDTH = 420
_MISTAKE = QColor("#e0564b")


class _Editor(QPlainTextEdit):
    """The field; it offers how a word goes on, and asks whoever holds it about other keys."""

    left = pyqtSignal()
    given_up = pyqtSignal()
    done = pyqtSignal()

    def __init__(self, ask: Callable[[str, int], list[Completion]]) -> None:
        super().__init__()
        self._ask = ask
        self.setAccessibleName("Statement as text")
        self.setTabChangesFocus(False)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.WidgetWidth)
        self.offers = QListWidget(self)
        self.offers.setObjectName("offers")
        self.offers.setWindowFlags(Qt.WindowType.ToolTip)
        self.offers.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.offers.setAttribute(Qt.WidgetAttribute.WA_ShowWithoutActivating)
        self.offers.setAccessibleName("How the word goes on")
        self.offers.itemClicked.connect(lambda _: self._take())
        self.offers.hide()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, held = event.key(), event.modifiers()
        if self.offers.isVisible() and self._offered_key(key):
            return
        control = held & Qt.KeyboardModifier.ControlModifier
        if key == Qt.Key.Key_Escape:
            self.given_up.emit()
        elif control and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.done.emit()
        elif (control and key == Qt.Key.Key_Space) or (key == Qt.Key.Key_Tab and not held):
            self.offer(always=True)
        else:
            before = self.toPlainText()
            super().keyPressEvent(event)
            if self.toPlainText() != before:
                self.offer(always=False)
            else:
                self.offers.hide()

    def _offered_key(self, key: int) -> bool:
        """What a key does to the list, and whether it did."""
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            rows = self.offers.count()
            self.offers.setCurrentRow((self.offers.currentRow() + step) % rows)
        elif key in (Qt.Key.Key_Tab, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take()
        elif key == Qt.Key.Key_Escape:
            self.offers.hide()
        else:
            return False
        return True

    def offer(self, *, always: bool) -> None:
        """Lists how the word at the cursor goes on; where none has begun, only when asked."""
        at = self.textCursor().position()
        text = self.toPlainText()
        begun = at > 0 and not text[at - 1].isspace() and text[at - 1] not in ',;"('
        found = self._ask(text, at) if always or begun else []
        self.offers.clear()
        for one in found:
            item = QListWidgetItem(f"{one.text}    {one.means}")
            item.setData(Qt.ItemDataRole.UserRole, one)
            self.offers.addItem(item)
        if not found:
            self.offers.hide()
            return
        self.offers.setCurrentRow(0)
        shown = min(len(found), _MOST_SHOWN)
        height = self.offers.sizeHintForRow(0) * shown + 2 * self.offers.frameWidth() + 2
        corner = self.mapToGlobal(self.cursorRect().bottomLeft() + QPoint(0, 4))
        self.offers.setGeometry(QRect(corner.x(), corner.y(), _LIST_WIDTH, height))
        self.offers.show()

    def _take(self) -> None:
        item = self.offers.currentItem()
        self.offers.hide()
        if item is None:
            return
        one: Completion = item.data(Qt.ItemDataRole.UserRole)
        self.put(one.begin, self.textCursor().position(), one.text)

    def put(self, begin: int, end: int, text: str) -> None:
        """Puts a text in place of what stands there."""
        cursor = self.textCursor()
        cursor.setPosition(begin)
        cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
        cursor.insertText(text)
        self.setTextCursor(cursor)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        self.offers.hide()
        if event is not None and event.reason() not in (
            Qt.FocusReason.PopupFocusReason,
            Qt.FocusReason.ActiveWindowFocusReason,
        ):
            self.left.emit()


class StatementText(Bar):
    """The statement as text. The figure follows each keystroke that can be read; what cannot is
    underlined, and why is said under it. Leaving is one step of history, Esc takes it back."""

    closed = pyqtSignal()

    def __init__(self, bench: Workbench, copy: Callable[[str], None]) -> None:
        super().__init__("statementText")
        self._bench = bench
        # what stood there when it was opened, or last taken
        self._before = ""
        self._error: StatementError | None = None
        self._own = False
        self.editor = _Editor(self._completed)
        self.editor.textChanged.connect(self._typed)
        self.editor.left.connect(self._take)
        self.editor.given_up.connect(self.give_up)
        self.editor.done.connect(self.close_text)
        self.message = plain_label()
        self.message.setWordWrap(True)
        self.offered = [QPushButton() for _ in range(_MOST_OFFERED)]
        self.words = ActWord("as words", "Back to the words (Ctrl+Enter)", link=True)
        self.words.clicked.connect(self.close_text)
        self.copy = ActWord("copy", "Copy the statement as text", link=True)
        self.copy.clicked.connect(lambda: copy(self.editor.toPlainText()))
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 7, 14, 5)
        column.setSpacing(3)
        column.addWidget(self.editor)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.message, 1)
        for number, button in enumerate(self.offered):
            button.setProperty("link", "true")
            button.clicked.connect(lambda _=False, n=number: self._put_offered(n))
            button.hide()
            row.addWidget(button)
        row.addWidget(self.copy)
        row.addWidget(self.words)
        column.addLayout(row)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self._read)
        self.hide()

    # -- coming and going ------------------------------------------------------------------------

    def open_text(self, text: str | None = None) -> None:
        """Shows the statement as text, or another one, which is tried at once."""
        scene = self._bench.scene
        if scene is None:
            return
        self._before = _said(scene)
        with self._by_itself():
            self.editor.setPlainText(self._before if text is None else text)
        self.show()
        self._fit()
        self.editor.setFocus()
        self.editor.moveCursor(QTextCursor.MoveOperation.End)
        self._read()

    def close_text(self) -> None:
        """Takes what was typed, and goes back to the words; with an error it stays."""
        self._later.stop()
        self._read()
        if self._error is not None:
            self.editor.setFocus()
            return
        self._take()
        self._go()

    def give_up(self) -> None:
        """Goes back to the words, and to the figure as it was."""
        self._later.stop()
        self._bench.cancel()
        self._go()

    def _go(self) -> None:
        self.hide()
        self.editor.offers.hide()
        self.closed.emit()

    def _take(self) -> None:
        """Makes what was typed one step of history."""
        if self._later.isActive():
            self._later.stop()
            self._read()
        if self.isHidden() or self._error is not None or not self._bench.in_gesture:
            return
        with self._by_itself():
            self._bench.commit("changed the statement")
        if self._bench.scene is not None:
            self._before = _said(self._bench.scene)

    def show_scene(self, scene: Scene) -> None:
        """Shows what something else has changed meanwhile."""
        if self.isHidden() or self._own or self._bench.in_gesture:
            return
        said = _said(scene)
        if said != self._before:
            self._before = said
            with self._by_itself():
                self.editor.setPlainText(said)
            self._tell(None)

    @contextmanager
    def _by_itself(self) -> Iterator[None]:
        """What is changed meanwhile was not typed, and is not followed."""
        self._own = True
        try:
            yield
        finally:
            self._own = False

    # -- what is typed -----------------------------------------------------------------------------

    def _completed(self, text: str, at: int) -> list[Completion]:
        return completions(text, at, self._bench.tables)

    def _typed(self) -> None:
        self._fit()
        if not self._own:
            # once for all letters that have come
            self._later.start()

    def _read(self) -> None:
        """Lets the figure follow, or says why it cannot."""
        text = self.editor.toPlainText()
        try:
            figure = read_statement(text, self._bench.tables, checked=True)
        except StatementError as error:
            self._tell(error)
            return
        self._tell(None)
        if text == self._before:
            with self._by_itself():
                self._bench.cancel()
            return
        self._bench.preview(lambda _: figure)
        scene = self._bench.scene
        if scene is not None and scene.figure is not figure:
            self._tell_undrawn(figure)

    def _tell_undrawn(self, figure: Figure) -> None:
        from sornix.core.drawing import draw_figure

        scene = self._bench.scene
        assert scene is not None
        try:
            draw_figure(figure, scene.tables, scene.measure)
        except SornixError as error:
            self.message.setText(str(error))
        except ArithmeticError:
            self.message.setText("The numbers of this figure are too large to be drawn.")

    def _tell(self, error: StatementError | None) -> None:
        self._error = error
        marks = []
        if error is not None:
            mark = QTextEdit.ExtraSelection()
            form = QTextCharFormat()
            form.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            form.setUnderlineColor(_MISTAKE)
            cursor = self.editor.textCursor()
            length = len(self.editor.toPlainText())
            cursor.setPosition(min(error.at, length))
            cursor.setPosition(min(error.end, length), QTextCursor.MoveMode.KeepAnchor)
            mark.cursor, mark.format = cursor, form
            marks.append(mark)
        self.editor.setExtraSelections(marks)
        told = f"{error.where}: {error.what}" if error is not None else ""
        self.message.setText(told)
        offered = error.offered if error is not None else ()
        for number, button in enumerate(self.offered):
            there = number < len(offered)
            button.setVisible(there)
            if there:
                button.setText(f"“{offered[number]}”")
                button.setAccessibleName(f"Put {offered[number]} there")

    def _put_offered(self, number: int) -> None:
        """Puts what is offered in place of what was misread."""
        error = self._error
        if error is None or number >= len(error.offered):
            return
        word = error.offered[number]
        around = Around(self._bench.tables)
        if word in around.column_names:
            word = around.column_words(word)
        self.editor.put(*error.mended(word))
        self.editor.setFocus()

    def _fit(self) -> None:
        """As high as the lines need."""
        document = self.editor.document()
        assert document is not None
        lines = min(max(int(document.size().height()), _LEAST_LINES), _MOST_LINES)
        spacing = self.editor.fontMetrics().lineSpacing()
        self.editor.setFixedHeight(lines * spacing + 2 * int(document.documentMargin()) + 4)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.FontChange:
            self._fit()


def _said(scene: Scene) -> str:
    return write_statement(scene.figure, scene.tables, plotted=True)
