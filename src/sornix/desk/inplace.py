"""A field that stands over a text and takes its place."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from sornix.core import figure as edits
from sornix.core.figure import AXES, Figure, axis_title, series_name
from sornix.desk.workbench import Scene
from sornix.paint.fonts import FAMILY


class InPlace(QLineEdit):
    """Enter or leaving takes what was typed, Esc leaves all as it was."""

    def __init__(self, parent: QWidget, name: str, text: str, take: Callable[[str], None]) -> None:
        super().__init__(text, parent)
        self.setObjectName("inPlace")
        self.setAccessibleName(name)
        self.setToolTip(
            "cm^3 and H_2O become super- and subscripts. Enter takes it, Esc leaves it."
        )
        self.setFont(QFont(FAMILY))
        self.selectAll()
        self._take: Callable[[str], None] | None = take
        self.editingFinished.connect(lambda: self.finish(self.text()))

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
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.finish(None)
            return
        super().keyPressEvent(event)


def typed_text(scene: Scene, of: str) -> tuple[str, str]:
    """A text of the figure as it was typed, and the name of its field."""
    panel = scene.figure.panel
    if of == "title":
        return scene.figure.title, "Title"
    if of == "panel-title":
        return panel.title, "Title of the panel"
    if of.endswith("-title"):
        axis = of.removesuffix("-title")
        return axis_title(panel, scene.tables, axis), f"{AXES[axis]} title"
    if of.startswith("curve/"):
        curve = next(c for c in panel.curves if c.id == of.split("/")[1])
        return curve.name, "Name of the curve"
    series = panel.one_series(of.split("/")[1])
    return series_name(panel, series, scene.tables), "Name of the series"


def retyped(of: str, text: str) -> tuple[str, Callable[[Figure], Figure]]:
    """What typing a text anew is called in the history, and what it makes of the figure."""
    if of == "title":
        return "changed the title", lambda f: edits.set_title(f, text)
    if of == "panel-title":
        words = "changed the title of a panel"
        return words, lambda f: edits.set_panel_title(f, f.hand, text)
    if of.endswith("-title"):
        axis = of.removesuffix("-title")
        words = f"changed the title of {AXES[axis]}"
        return words, lambda f: edits.set_axis_title(f, axis, text.strip() or None)
    name = of.split("/")[1]
    if of.startswith("curve/"):
        return "named a curve", lambda f: edits.name_curve(f, name, text)
    return "renamed a series", lambda f: edits.rename_series(f, name, text)
