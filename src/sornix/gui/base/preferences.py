"""Preferences as data: what can be preferred, and what it changes. Their dialog is made from it."""

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from attrs import evolve
from PyQt6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QWidget

from sornix.core import figure as edits
from sornix.core.figure import DECIMALS, PALETTES, STYLE_NAMES, UNITS, Figure
from sornix.core.frozen import frozen
from sornix.gui.base.plain import plain_label
from sornix.gui.base.settings import Settings
from sornix.gui.base.themes import THEMES

if TYPE_CHECKING:
    from sornix.core.document import Document

_KEPT = "preferences"


@frozen
class Preference:
    """Something that can be preferred: its name in the settings, its words, what there is to choose
    from (the usual one first), and what a choice makes of a new figure."""

    name: str
    words: str
    entries: Sequence[tuple[str, str]]
    apply: Callable[[Figure, str], Figure] | None = None


def _sized(figure: Figure, name: str) -> Figure:
    """One of the sizes that the style offers, where it offers that one."""
    offered = [size.name for size in STYLE_NAMES[figure.style].sizes]
    return edits.choose_size(figure, name) if name in offered else figure


_SIZES = {
    size.name: f"{size.words}, {size.width_mm:g} × {size.height_mm:g} mm"
    for style in ("report", "slide")
    for size in STYLE_NAMES[style].sizes
}

# Those about new figures in the order in which they are applied, then those about the window.
PREFERENCES = (
    Preference("style", "New figures are made", [(k, s.words) for k, s in STYLE_NAMES.items()],
               edits.set_style),
    Preference("size", "Their size", [("", "the usual one of the style"), *_SIZES.items()], _sized),
    Preference("palette", "Their colours", list(PALETTES.items()),
               lambda f, v: edits.choose(f, palette=v)),
    Preference("units", "Units in titles", list(UNITS.items()),
               lambda f, v: edits.choose(f, units=v)),
    Preference("decimal", "Numbers on figures", list(DECIMALS.items()),
               lambda f, v: edits.choose(f, decimal=v)),
    Preference("theme", "The window", list(THEMES.items())),
    Preference("autosave", "Keep a safety copy of unsaved work",
               [("on", "while it is changed"), ("0", "never")]),
    Preference("tips", "Tips about what is new to you", [("on", "shown once"), ("off", "never")]),
)  # fmt: skip


def preferred(settings: Settings, name: str) -> str:
    """What is preferred; the usual where nothing is, or nothing that is known."""
    if name == "theme":
        return settings.text("theme", "desktop")
    known = next(p for p in PREFERENCES if p.name == name)
    value = settings.table(_KEPT).get(name)
    return value if value in dict(known.entries) else known.entries[0][0]


def as_preferred(document: "Document", settings: Settings) -> "Document":
    """A document that begins with a new figure, as new figures are preferred."""
    figure = document.figure
    for preference in PREFERENCES:
        if preference.apply is not None:
            value = preferred(settings, preference.name)
            if value != preference.entries[0][0]:
                figure = preference.apply(figure, value)
    return evolve(document, figure=figure)


class PreferencesDialog(QDialog):
    """A choice for each preference; each holds at once. `changed` gets name and value."""

    def __init__(
        self, parent: QWidget, settings: Settings, changed: Callable[[str, str], object]
    ) -> None:
        super().__init__(parent)
        self._settings, self._changed = settings, changed
        self.setWindowTitle("Preferences")
        self.setMinimumWidth(520)
        form = QFormLayout(self)
        form.setHorizontalSpacing(16)
        form.setVerticalSpacing(8)
        self.words: dict[str, QComboBox] = {}
        for preference in PREFERENCES:
            combo = QComboBox()
            combo.setAccessibleName(preference.words)
            for value, text in preference.entries:
                combo.addItem(text, value)
            combo.setCurrentIndex(combo.findData(preferred(settings, preference.name)))
            combo.currentIndexChanged.connect(
                lambda _, name=preference.name, combo=combo: self._choose(name, combo.currentData())
            )
            form.addRow(f"{preference.words}:", combo)
            self.words[preference.name] = combo
        said = plain_label(
            "They are for new figures and for this window; figures that are there stay."
        )
        said.setObjectName("notes")
        said.setWordWrap(True)
        form.addRow(said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self.finished.connect(self.deleteLater)
        self.open()

    def _choose(self, name: str, value: str) -> None:
        if name != "theme":
            kept = self._settings.table(_KEPT) | {name: value}
            self._settings.remember(**{_KEPT: kept})
        self._changed(name, value)
