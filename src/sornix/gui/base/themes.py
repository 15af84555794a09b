"""Which theme holds: the one that was chosen, or the desktop's."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPalette
from PyQt6.QtWidgets import QApplication

from sornix.gui.base.theme import DARK, LIGHT, Theme

# the choices, by their names in the settings
THEMES = {"desktop": "As the desktop", "light": "Light", "dark": "Dark"}


def chosen_theme(name: str) -> Theme:
    """The theme of a choice."""
    if name in ("light", "dark"):
        return DARK if name == "dark" else LIGHT
    hints = QApplication.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    return DARK if dark else LIGHT


# The one that all windows are in now.
_NOW = [LIGHT]


def theme_now() -> Theme:
    """The theme that everything is painted in."""
    return _NOW[0]


def put_on(theme: Theme) -> None:
    """Makes a theme that of the application; windows that are there are told by whoever asks."""
    _NOW[0] = theme
    QApplication.setPalette(palette_of(theme))


def palette_of(theme: Theme) -> QPalette:
    """The colours of what the style sheet leaves to Qt: fields, buttons and lists of dialogs, and
    what is selected."""
    roles = QPalette.ColorRole
    # on dark grounds fields are told by being lighter: the lines around them are not seen
    field, button = (theme.line, theme.line) if theme is DARK else (theme.card, theme.statement)
    colours = {
        roles.Window: theme.panel,
        roles.WindowText: theme.ink,
        roles.Base: field,
        roles.AlternateBase: theme.panel,
        roles.Text: theme.ink,
        roles.Button: button,
        roles.ButtonText: theme.ink,
        roles.PlaceholderText: theme.soft,
        roles.ToolTipBase: theme.bar,
        roles.ToolTipText: theme.bar_ink,
        roles.Highlight: LIGHT.accent,
        roles.Accent: LIGHT.accent,
        roles.HighlightedText: LIGHT.card,
        roles.Link: theme.accent,
    }
    palette = QPalette()
    for role, colour in colours.items():
        palette.setColor(role, QColor(colour))
    for role in (roles.WindowText, roles.Text, roles.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, QColor(theme.word_line))
    return palette
