"""Colours of the window as data, and the style sheet made from them."""

from string import Template
from typing import NamedTuple


class Theme(NamedTuple):
    """Colours of the window; the paper has its own, in the figure's style."""

    bar: str = "#22302f"
    bar_ink: str = "#eef3f1"
    bar_button: str = "#35504e"
    ground: str = "#e9eeec"
    panel: str = "#f7f9f8"
    statement: str = "#f1f5f3"
    card: str = "#ffffff"
    ink: str = "#1f2b2a"
    soft: str = "#566462"
    line: str = "#cdd7d4"
    word_line: str = "#b7c4c1"
    accent: str = "#0b6e6e"
    held: str = "#c58a00"
    held_ground: str = "#fdf6e3"
    lit: str = "#fdf0c8"
    warn: str = "#d9a21b"
    footer: str = "#dbe4e1"
    hover: str = "#eaf4f2"
    focus: str = "#e2f0ee"
    held_ink: str = "#6b4c00"
    rule: str = "#e3e9e7"
    handle: str = "#bccac6"
    wrong: str = "#b3261e"


LIGHT = Theme()
DARK = Theme(
    bar="#141c1b",
    bar_button="#2b3f3d",
    ground="#1d2625",
    panel="#222d2c",
    statement="#263231",
    card="#2b3837",
    ink="#e6edeb",
    soft="#a9b8b5",
    line="#3a4a48",
    word_line="#4d605d",
    accent="#4fb3ae",
    held="#e0a92e",
    held_ground="#3b331d",
    lit="#4a3f1d",
    warn="#e0a92e",
    footer="#1a2322",
    hover="#33504d",
    focus="#2f4a48",
    held_ink="#f3cf7a",
    rule="#354442",
    handle="#556764",
    wrong="#ff8a80",
)

_SHEET = Template("""
* { font-family: "Source Sans Pro"; font-size: 14px; color: $ink; }
QMainWindow, #ground { background: $ground; }
QToolTip { background: $bar; color: $bar_ink; border: none; padding: 4px 7px; }

#topBar { background: $bar; }
#topBar QLabel { color: $bar_ink; font-weight: 600; padding: 0 6px 0 14px; }
#topBar QMenuBar { background: transparent; border: none; }
#topBar QMenuBar::item { color: $bar_ink; background: transparent; padding: 5px 10px;
    border-radius: 3px; }
#topBar QMenuBar::item:selected, #topBar QMenuBar::item:pressed { background: $bar_button; }
#topBar QPushButton { color: $bar_ink; background: $bar_button; border: 1px solid transparent;
    border-radius: 3px; padding: 3px 11px; }
#topBar QPushButton:hover { background: #44625f; }
#topBar QPushButton:disabled { color: #7e918e; background: transparent; }
#topBar QPushButton:focus { border-color: $bar_ink; }
QMenu { background: $card; border: 1px solid $line; padding: 4px 0; }
QMenu::item { padding: 5px 26px 5px 24px; }
QMenu::item:selected { background: $focus; color: $ink; }
QMenu::item:disabled { color: #8a9694; }
QMenu::separator { height: 1px; background: $line; margin: 4px 10px; }

QPushButton[word="true"], #strip QPushButton { color: $ink; }
#strip { background: $bar; }
#strip QLabel { color: $bar_ink; font-size: 15px; }
#strip QLabel#stripName { font-weight: 600; padding-right: 6px; }
#strip QPushButton[word="true"] { background: $bar_button; color: $bar_ink; border-radius: 4px;
    border: 1px solid transparent; padding: 3px 9px; font-weight: 600; }
#strip QPushButton[word="true"]:hover, #strip QPushButton[word="true"]:focus {
    border: 1px solid $bar_ink; }
#lookBar { background: $bar; border-radius: 5px; }
#lookBar QPushButton { color: $bar_ink; background: $bar_button; border: 1px solid transparent;
    border-radius: 3px; padding: 3px 10px; }
#lookBar QPushButton:hover, #lookBar QPushButton:focus { border-color: $bar_ink; }
#paperArea, #paperArea > QWidget > QWidget { background: $ground; }
#palette { background: $card; border: 1px solid $accent; border-radius: 6px; }
#palette QLineEdit { font-size: 16px; padding: 5px; border: 1px solid $line; background: $card; }
#palette QTreeWidget { border: none; background: $card; outline: none; }
#palette QTreeWidget::item { padding: 4px 6px; }
#palette QTreeWidget::item:selected { background: $focus; color: $ink; }
#captionBar QPlainTextEdit, #statementText QPlainTextEdit {
    background: $card; border: 1px solid $accent;
}
#statementText QLabel { color: $soft; background: transparent; }
QDialog, QMessageBox, QFileDialog, QDialog QScrollArea, QDialog QScrollArea > QWidget > QWidget {
    background: $panel; }
QDialog QListWidget { background: $card; border: 1px solid $word_line; }
QProgressBar { background: $rule; border: none; border-radius: 4px; }
QProgressBar::chunk { background: $accent; border-radius: 4px; }
#footer QPushButton { background: transparent; color: $accent; border: 1px solid transparent;
    border-radius: 3px; padding: 0 5px; }
#footer QPushButton:hover { text-decoration: underline; }
#footer QPushButton:focus { border-color: $accent; }
#message QPushButton#act { background: $card; border: 1px solid $word_line;
    border-bottom: 2px solid $accent; border-radius: 4px; padding: 1px 9px; font-weight: 600; }
QFileDialog QLineEdit, QInputDialog QLineEdit, QFileDialog QListView, QFileDialog QTreeView,
QComboBox { background: $card; color: $ink; }
#statement { background: $statement; border-bottom: 1px solid $line; }
#statement QScrollArea, #scrolledLines { background: transparent; border: none; }
#statement QLabel { font-size: 15px; }
#statement QLabel#lineName { font-size: 13px; color: $soft; }
#statement QPushButton { font-size: 15px; }
.word, #statement QPushButton[word="true"] { background: $card; border: 1px solid $word_line;
    border-bottom: 2px solid $accent; border-radius: 4px; padding: 1px 7px; font-weight: 600; }
#statement QPushButton[chosen="true"] { background: $accent; color: $card; font-weight: 600; }
#statement QPushButton[word="true"]:hover { background: $hover; color: $ink; }
#statement QPushButton[word="true"]:focus { border: 1px solid $accent;
    border-bottom: 2px solid $accent; background: $focus; }
#statement QPushButton[word="true"]::menu-indicator { image: none; width: 0; }
#statement QPushButton[link="true"] { background: transparent; border: 1px solid transparent;
    color: $accent; padding: 1px 4px; border-radius: 3px; font-size: 14px; }
#statement QPushButton[link="true"]:hover { text-decoration: underline; }
#statement QPushButton[link="true"]:focus { border-color: $accent; }
#ledgerBody QLineEdit { background: $card; color: $ink; border: 1px solid $word_line;
    border-radius: 3px; padding: 2px 5px; }
#ledgerBody QLineEdit:focus { border-color: $accent; }
#statement QSlider::groove:horizontal { height: 4px; background: $word_line; border-radius: 2px; }
#statement QSlider::handle:horizontal { width: 12px; height: 12px; margin: -4px 0;
    background: $accent; border-radius: 6px; }
#statement QSlider::handle:horizontal:hover, #statement QSlider::handle:horizontal:focus {
    background: $ink; }
#numberWord { background: $card; border: 1px solid $word_line; border-bottom: 2px solid $accent;
    border-radius: 4px; }
#numberWord[held="true"] { border-bottom: 2px solid $held; background: $held_ground; }
#numberWord[wrong="true"] { border: 1px solid $wrong; border-bottom: 2px solid $wrong; }
#numberWord QLineEdit { background: transparent; border: none; font-size: 15px; font-weight: 600;
    padding: 0; selection-background-color: $accent; }
#numberWord QPushButton { background: transparent; border: none; color: $held_ink;
    font-size: 13px; font-weight: 600; padding: 0 3px; }
#numberWord QPushButton:hover, #numberWord QPushButton:focus { color: $ink; background: $lit; }

#tray, #ledger { background: $panel; }
#tray { border-right: 1px solid $line; }
#ledger { border-left: 1px solid $line; }
QLabel#notes { font-size: 13px; color: $soft; }
#tray QPushButton[heading="true"] { font-size: 14px; font-weight: 600; background: transparent;
    border: 1px solid transparent; border-radius: 3px; padding: 1px 4px; text-align: left; }
#tray QPushButton[small="true"] { font-size: 13px; background: transparent; color: $accent;
    border: 1px solid transparent; border-radius: 3px; padding: 0 1px; }
#tray QPushButton[heading="true"]:hover, #tray QPushButton[small="true"]:hover {
    background: $hover; }
#tray QPushButton[heading="true"]:focus, #tray QPushButton[small="true"]:focus {
    border-color: $accent; }
#tray QPushButton[small="true"]:disabled { color: $soft; }
#tray QPushButton[held="true"], #tray QPushButton[doubtful="true"] { color: $held_ink;
    background: $held_ground; }
#readAs QLabel { font-size: 13px; color: $soft; }
#finder { background: $card; border: 1px solid $word_line; border-radius: 3px; padding: 2px 5px; }
#tray QTableView QLineEdit { background: $card; border: 1px solid $accent; padding: 0 3px; }
QLabel#heading { font-size: 12px; font-weight: 600; color: $soft; }
#tray QTableView { background: $panel; border: none; gridline-color: $rule;
    selection-background-color: $lit; selection-color: $ink; }
#tray QTableCornerButton::section { background: $panel; border: none;
    border-bottom: 1px solid $line; }
#tray QHeaderView { background: $panel; border: none; }
#ledger QScrollArea, #ledgerBody { background: $panel; border: none; }
#card { background: $card; border: 1px solid $line; border-top-right-radius: 4px;
    border-bottom-right-radius: 4px; }
#card QLabel { background: transparent; }
#card QLabel#name { color: $soft; }
#card QLabel#value { font-weight: 600; }
#card QLabel#small { color: $soft; font-size: 13px; }
#card QPushButton, #captionBar QPushButton, #comparison QPushButton, #figureRow QPushButton,
#statementText QPushButton {
    background: transparent; color: $accent;
    border: 1px solid transparent; border-radius: 3px; padding: 0 4px; font-size: 13px; }
#card QPushButton:hover, #captionBar QPushButton:hover, #comparison QPushButton:hover,
#figureRow QPushButton:hover,
#statementText QPushButton:hover {
    text-decoration: underline; }
#card QPushButton:focus, #captionBar QPushButton:focus, #comparison QPushButton:focus,
#figureRow QPushButton:focus,
#statementText QPushButton:focus {
    border-color: $accent; }

#captionBar QLabel { color: $soft; background: transparent; }
#captionArea, #captionArea > QWidget { background: transparent; border: none; }
#ways { background: $card; border: 1px solid $line; }
#comparison { background: $panel; border-top: 1px solid $line; }
#comparison QTableWidget { background: $card; border: 1px solid $line; gridline-color: $rule; }
#comparison QTableWidget::item:selected { background: $focus; color: $ink; }
#comparison QHeaderView::section { background: $panel; border: none; padding: 2px 3px;
    font-size: 13px; color: $soft; }
#comparison QTableWidget { font-size: 13.5px; }
#message { background: $lit; border-bottom: 1px solid $warn; }
#message QLabel { font-size: 14px; }
#message QPushButton { background: transparent; border: 1px solid transparent; padding: 0 6px;
    color: $ink; }
#message QPushButton:hover, #message QPushButton:focus { border-color: $ink; }
#footer { background: $footer; border-top: 1px solid $line; }
#footer QLabel { font-size: 13.5px; padding: 0 0; }

#figureRow { background: $panel; border-top: 1px solid $line; }
#figureArea, #figureArea > QWidget > QWidget { background: transparent; border: none; }
#figureTile { background: transparent; border: 1px solid transparent; border-radius: 4px;
    border-bottom: 2px solid transparent; padding: 4px 3px 2px 3px; font-size: 13px; color: $soft; }
#figureTile:hover, #figureTile:focus { background: $focus; border-color: $accent; }
#figureTile:checked { background: $card; border: 1px solid $line;
    border-bottom: 2px solid $accent; color: $ink; }
#figureTile:checked:focus { border-color: $accent; }

#start { background: $card; border: 1px solid $line; }
#start QLabel#big { font-size: 22px; font-weight: 600; }
#start QToolButton { background: transparent; border: 1px solid transparent; border-radius: 4px;
    padding: 5px 5px 3px 5px; font-size: 13px; color: $ink; }
#start QToolButton:hover, #start QToolButton:focus { background: $focus; border-color: $accent; }
#start QPushButton { background: $card; border: 1px solid $word_line;
    border-bottom: 2px solid $accent; border-radius: 4px; padding: 4px 14px; font-weight: 600; }
#start QPushButton:hover, #start QPushButton:focus { background: $focus;
    border-color: $accent; }
#tip { background: transparent; border: none; }
#tip QLabel { color: $bar_ink; font-size: 14px; }
#tip QPushButton { color: $bar_ink; background: transparent; border: 1px solid transparent;
    border-radius: 3px; padding: 0 5px; font-size: 15px; }
#tip QPushButton:hover, #tip QPushButton:focus { border-color: $bar_ink; }
QTextBrowser, QDialog QListWidget { background: $card; color: $ink; border: 1px solid $word_line; }
#inPlace { background: $card; border: 1px solid $accent; font-weight: 600; }
QScrollBar:vertical { background: transparent; width: 11px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 11px; margin: 0; }
QScrollBar::handle { background: $handle; border-radius: 4px; margin: 2px; }
QScrollBar::handle:vertical { min-height: 26px; }
QScrollBar::handle:horizontal { min-width: 26px; }
QScrollBar::handle:hover { background: $soft; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
""")


def style_sheet(theme: Theme) -> str:
    """The style sheet of the whole window."""
    return _SHEET.substitute(theme._asdict())
