"""Which theme holds: the one that was chosen, or the desktop's."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication

from sornix.desk.theme import DARK, LIGHT, Theme

# the choices, by their names in the settings
THEMES = {"desktop": "As the desktop", "light": "Light", "dark": "Dark"}


def chosen_theme(name: str) -> Theme:
    """The theme of a choice."""
    if name in ("light", "dark"):
        return DARK if name == "dark" else LIGHT
    hints = QApplication.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    return DARK if dark else LIGHT
