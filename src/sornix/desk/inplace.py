"""A field that stands over a text and takes its place."""

from collections.abc import Callable
from typing import NamedTuple

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QFocusEvent, QFont, QIcon, QKeyEvent, QPainter, QPixmap
from PyQt6.QtWidgets import QLineEdit, QWidget

from sornix.core import figure as edits
from sornix.core.figure import AXES, Figure, axis_title, note_text, series_name
from sornix.desk.workbench import Scene
from sornix.paint.fonts import FAMILY

NEW_NOTE = "new-note"


class InPlace(QLineEdit):
    """Enter or leaving takes what was typed, Esc leaves all as it was."""

    def __init__(self, parent: QWidget, name: str, text: str, take: Callable[[str], None]) -> None:
        super().__init__(text, parent)
        self.setObjectName("inPlace")
        self.setAccessibleName(name)
        self.setToolTip(
            "cm^3 and H_2O become super- and subscripts, {mu} becomes µ. Ctrl+J finds symbols by "
            "name. Enter takes it, Esc leaves it."
        )
        self.setFont(QFont(FAMILY))
        self.selectAll()
        self._take: Callable[[str], None] | None = take
        self._finding = False
        symbols = QAction(self._omega(), "Find a symbol by its name (Ctrl+J)", self)
        symbols.setShortcut("Ctrl+J")
        symbols.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        symbols.triggered.connect(self.find_symbol)
        self.addAction(symbols, QLineEdit.ActionPosition.TrailingPosition)
        self.editingFinished.connect(self._leave)

    def _omega(self) -> QIcon:
        """The letter that stands for all symbols."""
        picture = QPixmap(32, 32)
        picture.setDevicePixelRatio(2)
        picture.fill(Qt.GlobalColor.transparent)
        painter = QPainter(picture)
        painter.setFont(self.font())
        painter.setPen(self.palette().text().color())
        painter.drawText(0, 0, 16, 16, int(Qt.AlignmentFlag.AlignCenter), "Ω")
        painter.end()
        return QIcon(picture)

    def find_symbol(self) -> None:
        """Opens the list of symbols; what is typed here stays open meanwhile."""
        from sornix.desk.symbolfinder import SymbolFinder

        self._finding = True
        SymbolFinder(self)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        self._finding = False
        super().focusInEvent(event)

    def _leave(self) -> None:
        if not self._finding:
            self.finish(self.text())

    def finish(self, text: str | None) -> None:
        """Closes the field; `text` None leaves all as it was."""
        take, self._take = self._take, None
        if take is None:
            return
        self.hide()
        self.deleteLater()
        if text is not None:
            take(text)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        # neither key goes on to the paper, where it means something else
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finish(None)
        elif event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finish(self.text())
        else:
            super().keyPressEvent(event)


class Typing(NamedTuple):
    """A text of the figure as it was typed, the name of its field, what typing it anew is called in
    the history, and what it makes of the figure."""

    text: str
    field: str
    step: str
    put: Callable[[Figure, str], Figure]


def typing_of(scene: Scene, of: str) -> Typing:
    """The text that a box is of. Raises NotThere where it is no longer there."""
    figure, panel = scene.figure, scene.figure.panel
    kind, *name = of.split("/")
    if name and kind in _NAMED:
        return _NAMED[kind](scene, name[0])
    whole = {
        NEW_NOTE: Typing("", "Note", "wrote a note", lambda f, _: f),
        "source": Typing(figure.source, "Source line", "changed the source line", edits.set_source),
        "title": Typing(figure.title, "Title", "changed the title", edits.set_title),
        "panel-title": Typing(
            panel.title, "Title of the panel", "changed the title of a panel",
            lambda f, text: edits.set_panel_title(f, f.hand, text),
        ),
    }  # fmt: skip
    return whole[of] if of in whole else _axis_typing(scene, of.removesuffix("-title"))


def _axis_typing(scene: Scene, axis: str) -> Typing:
    said = AXES[axis]
    return Typing(
        axis_title(scene.figure.panel, scene.tables, axis, scene.style.units),
        f"{said} title",
        f"changed the title of {said}",
        lambda f, text: edits.set_axis_title(f, axis, text.strip() or None),
    )


def _series_typing(scene: Scene, name: str) -> Typing:
    panel = scene.figure.panel
    text = series_name(panel, panel.one_series(name), scene.tables)
    return Typing(
        text, "Name of the series", "renamed a series", lambda f, t: edits.rename_series(f, name, t)
    )


def _curve_typing(scene: Scene, name: str) -> Typing:
    text = scene.figure.panel.one_curve(name).name
    return Typing(
        text, "Name of the curve", "named a curve", lambda f, t: edits.name_curve(f, name, t)
    )


def _note_typing(scene: Scene, name: str) -> Typing:
    panel = scene.figure.panel
    text = note_text(panel.one_note(name), panel, scene.tables)
    return Typing(
        text, "Note", "changed a note", lambda f, t: edits.change_note(f, name, text=t.strip())
    )


def _guide_typing(scene: Scene, name: str) -> Typing:
    text = scene.figure.panel.one_guide(name).label
    return Typing(
        text,
        "Label of the line",
        "changed the label of a line",
        lambda f, t: edits.change_guide(f, name, label=t.strip()),
    )


_NAMED: dict[str, Callable[[Scene, str], Typing]] = {
    "series": _series_typing,
    "curve": _curve_typing,
    "note": _note_typing,
    "guide": _guide_typing,
}
