"""The sheet that an empty window shows: how to begin."""

from collections.abc import Sequence
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QIcon, QImage, QKeyEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QToolButton, QVBoxLayout

from sornix.gui.base.plain import plain_label, plain_tip

_DEMOS_A_ROW = 7
_MOST_RECENT = 6
# The size of a picture of a figure on the start sheet.
PICTURE = QSize(118, 84)


def _on_paper(picture: QImage | None) -> QPixmap:
    """A picture in the middle of a piece of paper, which is empty before there is one."""
    ratio = 2
    paper = QPixmap(PICTURE * ratio)
    paper.fill(Qt.GlobalColor.white)
    if picture is not None:
        small = picture.scaled(PICTURE * ratio, Qt.AspectRatioMode.KeepAspectRatio,
                               Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        painter = QPainter(paper)
        painter.drawImage((paper.width() - small.width()) // 2,
                          (paper.height() - small.height()) // 2, small)  # fmt: skip
        painter.end()
    paper.setDevicePixelRatio(ratio)
    return paper


class _Choice(QToolButton):
    """A picture with words under it, to be clicked, or chosen with space or Enter."""

    def __init__(self) -> None:
        super().__init__()
        self.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
        self.setIconSize(PICTURE)
        self.setObjectName("pictured")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)


class StartSheet(QFrame):
    """What an empty window shows: how to begin."""

    open_wanted = pyqtSignal()
    demo_wanted = pyqtSignal(str)
    recent_wanted = pyqtSignal(str)
    paste_wanted = pyqtSignal()
    type_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        # what fills it with pictures
        self.pictures: object = None
        self.setObjectName("start")
        column = QVBoxLayout(self)
        column.setContentsMargins(40, 26, 40, 26)
        column.setSpacing(10)
        big = plain_label("Begin with readings")
        big.setObjectName("big")
        column.addWidget(big)
        text = plain_label(
            "Open a text file, a workbook or what an instrument wrote: a row of readings a line, "
            "the names of the columns, with their units, above them. Or drop it here, or copy a "
            "table in another program and paste it, or type one."
        )
        text.setWordWrap(True)
        column.addWidget(text)
        row = QHBoxLayout()
        for words, signal in (
            ("Open a file…", self.open_wanted),
            ("Paste a table", self.paste_wanted),
            ("Type a table", self.type_wanted),
        ):
            button = QPushButton(words)
            button.clicked.connect(signal)
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        column.addSpacing(4)
        column.addWidget(plain_label("Or look at a demo figure:"))
        self._choices: dict[str, QToolButton] = {}
        self._demos = QGridLayout()
        self._demos.setHorizontalSpacing(8)
        self._demos.setVerticalSpacing(8)
        column.addLayout(self._demos)
        column.addSpacing(2)
        self._recent_words = plain_label("Or go on with:")
        self._recent_words.hide()
        column.addWidget(self._recent_words)
        self._recent = QHBoxLayout()
        column.addLayout(self._recent)
        column.addStretch(1)

    def offer(self, demos: Sequence[tuple[str, str]], recent: Sequence[Path]) -> None:
        """Offers demo figures, each a name and the words on its button, and recent files; once."""
        if self._choices:
            return
        for number, (name, words) in enumerate(demos):
            choice = self._choice(name, words)
            choice.clicked.connect(lambda _, name=name: self.demo_wanted.emit(name))
            self._demos.addWidget(choice, number // _DEMOS_A_ROW, number % _DEMOS_A_ROW)
        self._demos.setColumnStretch(_DEMOS_A_ROW, 1)
        self._recent_words.setVisible(bool(recent))
        for path in map(str, recent[:_MOST_RECENT]):
            choice = self._choice(path, Path(path).name)
            choice.setToolTip(plain_tip(path))
            choice.clicked.connect(lambda _, path=path: self.recent_wanted.emit(path))
            self._recent.addWidget(choice)
        self._recent.addStretch(1)

    def show_picture(self, name: str, picture: QImage) -> None:
        """The picture of a demo figure or of a recent file."""
        choice = self._choices.get(name)
        if choice is not None:
            choice.setIcon(QIcon(_on_paper(picture)))

    def _choice(self, name: str, words: str) -> QToolButton:
        choice = _Choice()
        choice.setText(words.replace("&", "&&"))
        choice.setIcon(QIcon(_on_paper(None)))
        self._choices[name] = choice
        return choice
