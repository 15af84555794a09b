"""The scale strip: everything that is often changed about one axis, in one line along it."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton

from sornix.core import figure as edits
from sornix.core.figure import LABELS, Figure, Guide
from sornix.core.scales import KINDS
from sornix.desk.bars import Bar
from sornix.desk.scalewords import (
    PARTS,
    choose_kind,
    free_part,
    hold_typed,
    show_direction,
    show_held,
    show_kind,
    shows_range,
)
from sornix.desk.words import Choice, ChoiceWord, NumberWord
from sornix.desk.workbench import Scene, Workbench


class Strip(Bar):
    """One line for the axis in hand. Every change shows at once; Esc closes it."""

    closed = pyqtSignal()
    title_wanted = pyqtSignal(str)
    guide_wanted = pyqtSignal(str)
    beside_wanted = pyqtSignal(str)
    other_wanted = pyqtSignal(str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__("strip")
        self._bench = bench
        self.axis = "x"
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 5, 8, 5)
        row.setSpacing(6)
        self._name = QLabel()
        self._name.setObjectName("stripName")
        row.addWidget(self._name)
        self.fields = {part: NumberWord(word) for part, word in PARTS.items()}
        self._words = [QLabel(word) for word in PARTS.values()]
        for label, (part, field) in zip(self._words, self.fields.items(), strict=True):
            row.addWidget(label)
            row.addWidget(field)
            field.entered.connect(partial(self._hold, part))
            field.freed.connect(partial(self._free, part))
        self.kind = ChoiceWord("The kind of scale")
        self.kind.chosen.connect(lambda chosen: choose_kind(bench, self.axis, chosen))
        self.direction = QPushButton()
        self.direction.setProperty("word", "true")
        self.direction.clicked.connect(self._reverse)
        self.labels = ChoiceWord("How the ticks are labelled")
        self.labels.chosen.connect(self._set_labels)
        self.more = ChoiceWord("More about this axis")
        self.more.chosen.connect(self._do_more)
        close = QPushButton("×")
        close.setProperty("word", "true")
        close.setAccessibleName("Close the scale strip")
        close.setToolTip("Close (Esc)")
        close.clicked.connect(self.closed)
        for widget in (self.kind, self.direction, self.labels, self.more):
            row.addWidget(widget)
        row.addStretch(1)
        row.addWidget(close)
        self.hide()

    def open_for(self, axis: str, scene: Scene) -> None:
        """Shows an axis and takes the keyboard."""
        self.axis = axis
        self._name.setText(f"{axis} scale")
        self.setAccessibleName(f"Scale of {axis}")
        for part, field in self.fields.items():
            field.rename(f"{axis} {PARTS[part]}")
        self.show()
        self.show_scene(scene)
        self.fields["start"].setFocus()
        self.fields["start"].field.selectAll()

    def show_scene(self, scene: Scene) -> None:
        if self.isHidden():
            return
        scale = scene.figure.panel.scale(self.axis)
        shows_range(self.fields.values(), self._words, scene, self.axis)
        for part, field in self.fields.items():
            show_held(field, scene, self.axis, part)
        show_kind(self.kind, scene, self.axis)
        show_direction(self.direction, scene, self.axis)
        self.labels.set_choices(
            LABELS[scale.labels], [Choice(k, w, k == scale.labels) for k, w in LABELS.items()]
        )
        grid = "grid lines at its ticks"
        held = (scale.start, scale.end, scale.step) != (None, None, None)
        self.more.set_choices(
            "more",
            [
                Choice("grid", grid[0].upper() + grid[1:], scale.grid),
                Choice("zero", "Start at 0", enabled=scale.start != 0),
                Choice("free", "Free range and step", enabled=held),
                Choice("title", "Type its title…", divided=True),
                Choice("columns", "Title from the columns", enabled=scale.title is not None),
                Choice("beside", "Text beside its labels…", divided=True),
                Choice("other", "Other units on the other side…"),
                Choice("no-other", "No other units", enabled=scale.other is not None),
                Choice("guide", "Line or shaded range at a value…"),
                *(
                    Choice(f"guide/{guide.id}", f"Remove {_guide_words(guide, scene)}")
                    for guide in scene.figure.panel.guides
                    if guide.axis == self.axis
                ),
            ],
        )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
            return
        super().keyPressEvent(event)

    def _edit(self, name: str, change: Callable[[Figure], Figure]) -> bool:
        return self._bench.edit(name, change)

    def _hold(self, part: str, text: str) -> None:
        hold_typed(self._bench, self.axis, part, self.fields[part], text)

    def _free(self, part: str) -> None:
        free_part(self._bench, self.axis, part)

    def _reverse(self) -> None:
        self._edit(f"reversed {self.axis}", lambda f: edits.reverse(f, self.axis))

    def _set_labels(self, labels: object) -> None:
        name = f"changed the labels of {self.axis}"
        self._edit(name, lambda f: edits.set_labels(f, self.axis, str(labels)))

    def _do_more(self, what: object) -> None:
        axis, scene = self.axis, self._bench.scene
        if scene is None:
            return
        grid, tables = scene.figure.panel.scale(axis).grid, self._bench.tables
        asked = {
            "title": partial(self.title_wanted.emit, f"{axis}-title"),
            "beside": partial(self.beside_wanted.emit, axis),
            "other": partial(self.other_wanted.emit, axis),
            "guide": partial(self.guide_wanted.emit, axis),
        }
        changes: dict[str, tuple[str, Callable[[Figure], Figure]]] = {
            "grid": ("changed the grid", lambda f: edits.set_grid(f, axis, not grid)),
            "zero": (f"held {axis} from 0", lambda f: edits.hold(f, tables, axis, start=0.0)),
            "free": (f"freed {axis}", lambda f: edits.free_scale(f, axis)),
            "columns": (
                f"freed the title of {axis}",
                lambda f: edits.set_axis_title(f, axis, None),
            ),
            "no-other": ("took other units off", lambda f: edits.set_other(f, tables, axis, None)),
        }
        chosen = str(what)
        kind, _, guide = chosen.partition("/")
        if chosen in asked:
            asked[chosen]()
        elif chosen in changes:
            self._edit(*changes[chosen])
        elif kind == "guide":
            self._edit("removed a line", lambda f: edits.remove_guide(f, guide))


def _guide_words(guide: Guide, scene: Scene) -> str:
    """`the line at 0.5`, `the range from 2 to 5`, with its label."""
    scale = scene.place.x if guide.axis == "x" else scene.place.y
    words = KINDS[scale.kind].words
    said = f"the line at {words(guide.value, 0)}"
    if guide.end is not None:
        said = f"the range from {words(guide.value, 0)} to {words(guide.end, 0)}"
    return f"{said} (“{guide.label}”)" if guide.label else said
