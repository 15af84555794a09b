"""Names, notes and messages are text, never markup: Qt takes what looks like HTML for HTML.

A name such as `<img src=…>` would make the window open that file. So every text that comes from a
person or a file goes through here.
"""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QInputDialog, QLabel, QMessageBox, QWidget


def plain_label(text: str = "") -> QLabel:
    """A label that shows a text as it stands."""
    label = QLabel()
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setText(text)
    return label


def plain_tip(text: str) -> str:
    """A text as a tool tip, which has no form of its own that is plain."""
    if "<" not in text:
        return text
    # its tables of entities need not be there when the window is shown
    import html

    return f"<span>{html.escape(text).replace(chr(10), '<br>')}</span>"


def plain_question(parent: QWidget, text: str, more: str = "") -> QMessageBox:
    """A question above a window, without buttons yet."""
    box = QMessageBox(parent)
    box.setIcon(QMessageBox.Icon.Question)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(text)
    box.setInformativeText(more)
    for label in box.findChildren(QLabel):
        label.setTextFormat(Qt.TextFormat.PlainText)
    return box


def make_plain(dialog: QInputDialog) -> None:
    """Shows the question of a dialog as it stands."""
    for label in dialog.findChildren(QLabel):
        label.setTextFormat(Qt.TextFormat.PlainText)
