"""The guide and all shortcuts, inside the application and searchable."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import (
    QColor,
    QFont,
    QImage,
    QKeySequence,
    QShortcut,
    QTextBlock,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTextBrowser,
    QTextEdit,
    QVBoxLayout,
    QWidget,
)

from sornix.core.text import plural
from sornix.data import data_path
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.base.theme import Theme

# What keys do on the figure: they are no acts of the menus.
FIGURE_KEYS = (
    ("X, Y", "open the strip of an axis; with Shift that of the upper or right one"),
    ("Left, Right, Home, End", "walk along the readings of a series"),
    ("Up, Down", "the same row in another series"),
    ("N", "write a note, about the reading in hand or anywhere"),
    ("P", "pin the values of the reading in hand, or take the pin away"),
    ("L", "take the next title, label or note in hand"),
    ("arrows, with Shift finely", "move what is in hand"),
    ("Enter", "type what is in hand anew"),
    ("Backspace", "let what is in hand find its own place again"),
    ("Delete", "remove a note or the source line in hand"),
    ("Ctrl+J while typing", "find a symbol by its name"),
    ("wheel", "a closer look; on an axis it stretches the range"),
    ("Space and drag, or the middle button", "move a closer look"),
    ("Esc", "end what goes on, or leave a closer look"),
)
_SHORTCUTS = "Shortcuts"
_WIDEST_PICTURE = 560
_FURTHER_LINE = 24


def guide_path() -> Path:
    """The guide's file."""
    return data_path("guide.md")


def shortcuts_text(listed: Sequence[tuple[str, str, str]]) -> str:
    """Every shortcut as Markdown; `listed` are menu, words and keys of the acts."""
    lines = [f"# {_SHORTCUTS}", "", "Every act is found by typing a few letters of it: Ctrl+K.", ""]
    menu = ""
    for of, words, keys in listed:
        if not keys:
            continue
        if of != menu:
            menu = of
            lines += ["", f"## {menu}", ""]
        lines.append(f"- **{keys}** {words}")
    lines += ["", "## On the figure", ""]
    lines += [f"- **{keys}** {words}" for keys, words in FIGURE_KEYS]
    return "\n".join(lines)


def _make_semibold(block: QTextBlock) -> None:
    """Bold words of a block in the typeface's own weight, which has no heavier one."""
    found = []
    each = block.begin()
    while not each.atEnd():
        piece = each.fragment()
        if piece.charFormat().fontWeight() > QFont.Weight.DemiBold:
            found.append((piece.position(), piece.length()))
        each += 1
    cursor = QTextCursor(block)
    form = QTextCharFormat()
    form.setFontWeight(QFont.Weight.DemiBold)
    for begin, length in found:
        cursor.setPosition(begin)
        cursor.setPosition(begin + length, QTextCursor.MoveMode.KeepAnchor)
        cursor.mergeCharFormat(form)


def _make_breakable(block: QTextBlock) -> None:
    """A command too long for the page goes on in a further line, set in, instead of leaving it."""
    form = block.blockFormat()
    if form.nonBreakableLines():
        form.setNonBreakableLines(False)
        form.setLeftMargin(form.leftMargin() + _FURTHER_LINE)
        form.setTextIndent(-_FURTHER_LINE)
        QTextCursor(block).setBlockFormat(form)


class _Guide(QTextBrowser):
    """A text whose pictures are no wider than a page of it."""

    def loadResource(self, kind: int, url: QUrl) -> object:
        if kind != int(QTextDocument.ResourceType.ImageResource.value):
            return super().loadResource(kind, url)
        picture = QImage(str(guide_path().parent / url.toString()))
        if picture.isNull() or picture.width() <= _WIDEST_PICTURE:
            return picture
        smooth = Qt.TransformationMode.SmoothTransformation
        return picture.scaledToWidth(_WIDEST_PICTURE, smooth)


class HelpWindow(QDialog):
    """A list of chapters, a field to search all of them, and the text."""

    def __init__(self, parent: QWidget, shortcuts: str, theme: Theme) -> None:
        super().__init__(parent)
        self.setWindowTitle("Guide")
        self.resize(980, 680)
        self.setModal(False)
        self._theme = theme
        self.text = _Guide()
        self.text.setAccessibleName("Guide")
        self.text.setOpenLinks(False)
        self.text.anchorClicked.connect(self._follow)
        self.chapters = QListWidget()
        self.chapters.setAccessibleName("Chapters")
        self.chapters.setFixedWidth(250)
        self.chapters.currentItemChanged.connect(self._go)
        self.field = QLineEdit()
        self.field.setPlaceholderText("Search the guide")
        self.field.setAccessibleName("Search the guide")
        self.field.setClearButtonEnabled(True)
        self.field.textChanged.connect(self._search)
        self.field.returnPressed.connect(lambda: self._step(1))
        self.found = plain_label()
        self.found.setObjectName("notes")
        self.found.setMinimumWidth(110)
        before, after = QPushButton("Before"), QPushButton("Next")
        for button, name, step in ((before, "Place before", -1), (after, "Next place", 1)):
            button.setAccessibleName(name)
            button.setToolTip(plain_tip(name))
            button.setAutoDefault(False)
            button.clicked.connect(lambda _=False, step=step: self._step(step))
        top = QHBoxLayout()
        for part in (self.field, self.found, before, after):
            top.addWidget(part, 1 if part is self.field else 0)
        middle = QHBoxLayout()
        middle.addWidget(self.chapters)
        middle.addWidget(self.text, 1)
        whole = QVBoxLayout(self)
        whole.addLayout(top)
        whole.addLayout(middle, 1)
        self._places: list[QTextCursor] = []
        self._at = 0
        self._show(shortcuts)
        QShortcut(QKeySequence.StandardKey.Find, self, self.field.setFocus)
        self.field.setFocus()

    def _show(self, shortcuts: str) -> None:
        path = guide_path()
        try:
            guide = path.read_text(encoding="utf-8")
        except OSError:
            guide = f"# Guide\n\nThe guide is not here: {path} is missing."
        document = self.text.document()
        assert document is not None
        document.setDefaultStyleSheet(f"a {{ color: {self._theme.accent}; }}")
        self.text.setMarkdown(f"{guide}\n\n{shortcuts}\n")
        document.setDocumentMargin(18)
        block = document.begin()
        while block.isValid():
            level = block.blockFormat().headingLevel()
            if level in (1, 2):
                item = QListWidgetItem(("" if level == 1 else "    ") + block.text())
                item.setData(Qt.ItemDataRole.UserRole, block.position())
                self.chapters.addItem(item)
            _make_semibold(block)
            _make_breakable(block)
            block = block.next()

    def show_chapter(self, words: str) -> None:
        """Goes to the first chapter whose title begins with some words."""
        for row in range(self.chapters.count()):
            item = self.chapters.item(row)
            if item is not None and item.text().strip().startswith(words):
                self.chapters.setCurrentRow(row)
                return

    def show_shortcuts(self) -> None:
        self.show_chapter(_SHORTCUTS)

    def _go(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            cursor = self.text.textCursor()
            cursor.setPosition(int(item.data(Qt.ItemDataRole.UserRole)))
            self._see(cursor, at_top=True)

    def _see(self, cursor: QTextCursor, *, at_top: bool = False) -> None:
        """Scrolls to a place: to the top of the text, or a third down."""
        self.text.setTextCursor(cursor)
        bar = self.text.verticalScrollBar()
        view = self.text.viewport()
        if bar is not None and view is not None:
            offset = 8 if at_top else view.height() // 3
            bar.setValue(bar.value() + self.text.cursorRect(cursor).top() - offset)

    def _follow(self, url: QUrl) -> None:
        """A link inside the guide goes to its chapter."""
        if url.fragment():
            self.show_chapter(url.fragment().replace("-", " ").capitalize())

    def _search(self, typed: str) -> None:
        """Marks every place that has what was typed, and goes to the first."""
        self._places, self._at = [], 0
        document = self.text.document()
        typed = typed.strip()
        if document is not None and len(typed) > 1:
            cursor = document.find(typed, 0, QTextDocument.FindFlag(0))
            while not cursor.isNull():
                self._places.append(cursor)
                cursor = document.find(typed, cursor, QTextDocument.FindFlag(0))
        marked = []
        for place in self._places:
            mark = QTextEdit.ExtraSelection()
            mark.cursor = place
            form = QTextCharFormat()
            form.setBackground(QColor(self._theme.lit))
            mark.format = form
            marked.append(mark)
        self.text.setExtraSelections(marked)
        self._tell(typed)
        if self._places:
            self._see(self._places[0])

    def _tell(self, typed: str) -> None:
        if len(typed) < 2:
            self.found.setText("")
        elif not self._places:
            self.found.setText("not in the guide")
        else:
            self.found.setText(f"{self._at + 1} of {plural(len(self._places), 'place')}")

    def _step(self, by: int) -> None:
        if self._places:
            self._at = (self._at + by) % len(self._places)
            self._see(self._places[self._at])
            self._tell(self.field.text().strip())
