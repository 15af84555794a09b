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


LIGHT = Theme()

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
QMenu::item:selected { background: $accent; color: #ffffff; }
QMenu::item:disabled { color: #8a9694; }
QMenu::separator { height: 1px; background: $line; margin: 4px 10px; }

#statement { background: $statement; border-bottom: 1px solid $line; }
#statement QScrollArea, #plotLines { background: transparent; border: none; }
#statement QLabel { font-size: 15px; }
#statement QLabel#lineName { font-size: 13px; color: $soft; }
#statement QPushButton { font-size: 15px; }
.word, #statement QPushButton[word="true"] { background: $card; border: 1px solid $word_line;
    border-bottom: 2px solid $accent; border-radius: 4px; padding: 1px 7px; font-weight: 600; }
#statement QPushButton[word="true"]:hover { background: #eaf4f2; }
#statement QPushButton[word="true"]:focus { border: 1px solid $accent;
    border-bottom: 2px solid $accent; background: #e2f0ee; }
#statement QPushButton[word="true"]::menu-indicator { image: none; width: 0; }
#statement QPushButton[link="true"] { background: transparent; border: 1px solid transparent;
    color: $accent; padding: 1px 4px; border-radius: 3px; font-size: 14px; }
#statement QPushButton[link="true"]:hover { text-decoration: underline; }
#statement QPushButton[link="true"]:focus { border-color: $accent; }
#numberWord { background: $card; border: 1px solid $word_line; border-bottom: 2px solid $accent;
    border-radius: 4px; }
#numberWord[held="true"] { border-bottom: 2px solid $held; background: $held_ground; }
#numberWord[wrong="true"] { border: 1px solid #b3261e; border-bottom: 2px solid #b3261e; }
#numberWord QLineEdit { background: transparent; border: none; font-size: 15px; font-weight: 600;
    padding: 0; selection-background-color: $accent; }
#numberWord QPushButton { background: transparent; border: none; color: #7a5600;
    font-size: 13px; font-weight: 600; padding: 0 3px; }
#numberWord QPushButton:hover, #numberWord QPushButton:focus { color: $ink; background: $lit; }

#tray, #ledger { background: $panel; }
#tray { border-right: 1px solid $line; }
#ledger { border-left: 1px solid $line; }
QLabel#heading { font-size: 12px; font-weight: 600; color: $soft; }
#tray QTableView { background: $panel; border: none; gridline-color: #e3e9e7;
    selection-background-color: $lit; selection-color: $ink; }
#tray QTableCornerButton::section { background: $panel; border: none;
    border-bottom: 1px solid $line; }
#tray QHeaderView { background: $panel; border: none; }
#ledger QScrollArea, #ledgerBody { background: $panel; border: none; }
#card { background: $card; border: 1px solid #dde4e2; border-top-right-radius: 4px;
    border-bottom-right-radius: 4px; }
#card QLabel { background: transparent; }
#card QLabel#name { color: $soft; }
#card QLabel#value { font-weight: 600; }
#card QLabel#small { color: $soft; font-size: 13px; }
#card QPushButton, #captionBar QPushButton { background: transparent; color: $accent;
    border: 1px solid transparent; border-radius: 3px; padding: 0 4px; font-size: 13px; }
#card QPushButton:hover, #captionBar QPushButton:hover { text-decoration: underline; }
#card QPushButton:focus, #captionBar QPushButton:focus { border-color: $accent; }

#captionBar QLabel { color: $soft; }
#message { background: $lit; border-bottom: 1px solid $warn; }
#message QLabel { font-size: 14px; }
#message QPushButton { background: transparent; border: 1px solid transparent; padding: 0 6px;
    color: $ink; }
#message QPushButton:hover, #message QPushButton:focus { border-color: $ink; }
#footer { background: $footer; border-top: 1px solid $line; }
#footer QLabel { font-size: 13.5px; padding: 0 0; }

#start { background: $card; border: 1px solid $line; }
#start QLabel#big { font-size: 22px; font-weight: 600; }
#start QPushButton { background: $card; border: 1px solid $word_line;
    border-bottom: 2px solid $accent; border-radius: 4px; padding: 4px 14px; font-weight: 600; }
#start QPushButton:hover, #start QPushButton:focus { background: #e2f0ee;
    border-color: $accent; }
#inPlace { background: #ffffff; border: 1px solid $accent; font-weight: 600; }
QScrollBar:vertical { background: transparent; width: 11px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 11px; margin: 0; }
QScrollBar::handle { background: #bccac6; border-radius: 4px; margin: 2px; }
QScrollBar::handle:vertical { min-height: 26px; }
QScrollBar::handle:horizontal { min-width: 26px; }
QScrollBar::handle:hover { background: #94a5a1; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
""")


def style_sheet(theme: Theme) -> str:
    """The style sheet of the whole window."""
    return _SHEET.substitute(theme._asdict())
