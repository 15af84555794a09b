"""The scale strip: everything about one axis, what is often changed in one line along it."""

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from sornix.core import figure as edits
from sornix.core.figure import AXES, DATE_LABELS, LABELS, AxisTitle, Figure
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.scalewords import (
    PARTS,
    choose_kind,
    free_part,
    hold_typed,
    nudge,
    show_direction,
    show_held,
    show_kind,
    shows_range,
)
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.bars import Bar
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord, FlowLayout, NumberWord, group

if TYPE_CHECKING:
    from sornix.gui.statement.inspectorlines import FurtherLines


class AxisInspector(Bar):
    """One line for the axis in hand, and further lines behind its last word. Every change shows at
    once; Esc closes it."""

    closed = pyqtSignal()
    resized = pyqtSignal()
    title_wanted = pyqtSignal(object)
    # what is to be asked in a line of text ("guide", "beside", "other"), and the axis
    asked = pyqtSignal(str, str)

    def __init__(self, bench: Workbench) -> None:
        super().__init__("strip")
        self._bench = bench
        self.axis = "x"
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 5, 8, 5)
        column.setSpacing(0)
        row = QHBoxLayout()
        row.setSpacing(6)
        column.addLayout(row)
        self._name = plain_label()
        self._name.setObjectName("stripName")
        self._name.setContentsMargins(0, 4, 0, 0)
        row.addWidget(self._name, 0, Qt.AlignmentFlag.AlignTop)
        # one line where there is room, more in a narrow window
        holder = QWidget()
        flow = FlowLayout(holder, gap=6)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        holder.setSizePolicy(policy)
        row.addWidget(holder, 1)
        self.fields = {part: NumberWord(word) for part, word in PARTS.items()}
        self._words = [plain_label(word) for word in PARTS.values()]
        for label, (part, field) in zip(self._words, self.fields.items(), strict=True):
            flow.addWidget(group(label, field))
            field.entered.connect(partial(self._hold, part))
            field.freed.connect(partial(self._free, part))
            field.nudged.connect(lambda way, part=part: nudge(bench, self.axis, part, way))
        self.kind = ChoiceWord("The kind of scale")
        self.kind.chosen.connect(lambda chosen: choose_kind(bench, self.axis, chosen))
        self.direction = QPushButton()
        self.direction.setProperty("word", "true")
        self.direction.clicked.connect(self._reverse)
        self.labels = ChoiceWord("How the ticks are labelled")
        self.labels.chosen.connect(self._set_labels)
        self.more = QPushButton()
        self.more.setProperty("word", "true")
        self.more.setCheckable(True)
        self.more.toggled.connect(self._show_further)
        close = QPushButton("×")
        close.setProperty("word", "true")
        close.setAccessibleName("Close the scale strip")
        close.setToolTip("Close (Esc)")
        close.clicked.connect(self.closed)
        for widget in (self.kind, self.direction, self.labels, self.more):
            flow.addWidget(widget)
        row.addWidget(close, 0, Qt.AlignmentFlag.AlignTop)
        self._column = column
        # made when they are first wanted: they are two dozen words
        self.further: FurtherLines | None = None
        self._name_more()
        self.hide()

    @property
    def words(self) -> str:
        """The axis as it is said."""
        return AXES[self.axis]

    def open_for(self, axis: str, scene: Scene) -> None:
        """Shows an axis and takes the keyboard."""
        self.axis = axis
        self._name.setText(f"{self.words} scale")
        self.setAccessibleName(f"Scale of {self.words}")
        for part, field in self.fields.items():
            field.rename(f"{self.words} {PARTS[part]}")
        self.show()
        self.show_scene(scene)
        self.fields["start"].setFocus()
        self.fields["start"].field.selectAll()

    def show_scene(self, scene: Scene) -> None:
        if self.isHidden():
            return
        panel = scene.figure.panel
        if not panel.has_axes or self.axis not in panel.axes:
            self.closed.emit()
            return
        scale = scene.figure.panel.scale(self.axis)
        shows_range(self.fields.values(), self._words, scene, self.axis)
        for part, field in self.fields.items():
            show_held(field, scene, self.axis, part)
        show_kind(self.kind, scene, self.axis)
        show_direction(self.direction, scene, self.axis)
        forms = DATE_LABELS if scene.place.scale(self.axis).traits.dated else LABELS
        self.labels.set_choices(
            forms.get(scale.labels, LABELS["free"]),
            [Choice(k, w, k == scale.labels) for k, w in forms.items()],
        )
        if self.further is not None and self.more.isChecked():
            self.further.show_scene(scene)

    def event(self, event: QEvent | None) -> bool:
        done = super().event(event)
        # its words change their widths, and lines of them their height
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.resized.emit()
        return done

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
            return
        super().keyPressEvent(event)

    def _name_more(self) -> None:
        open_ = self.more.isChecked()
        self.more.setText("less ▴" if open_ else "more ▾")
        said = "Show one line only" if open_ else "Ticks, labels, lines and more about this axis"
        self.more.setAccessibleName(said)
        self.more.setToolTip(plain_tip(said))

    def _show_further(self, shown: bool) -> None:
        if self.further is None:
            from sornix.gui.statement.inspectorlines import FurtherLines

            self.further = FurtherLines(self._bench, lambda: self.axis)
            self.further.asked.connect(self.choose)
            self._column.addWidget(self.further)
        self.further.setVisible(shown)
        self._name_more()
        if self._bench.scene is not None:
            self.show_scene(self._bench.scene)
        self.resized.emit()

    def _edit(self, name: str, change: Callable[[Figure], Figure]) -> bool:
        return self._bench.edit(name, change)

    def _hold(self, part: str, text: str) -> None:
        hold_typed(self._bench, self.axis, part, self.fields[part], text)

    def _free(self, part: str) -> None:
        free_part(self._bench, self.axis, part)

    def _reverse(self) -> None:
        self._edit(f"reversed {self.words}", lambda f: edits.reverse(f, self.axis))

    def _set_labels(self, labels: object) -> None:
        name = f"changed the labels of {self.words}"
        self._edit(name, lambda f: edits.change_scale(f, self.axis, labels=str(labels)))

    def choose(self, what: str) -> None:
        """Does what a word of the further lines names, or has it asked for."""
        axis, tables = self.axis, self._bench.tables
        changes: dict[str, tuple[str, Callable[[Figure], Figure]]] = {
            "free": (f"freed {self.words}", lambda f: edits.free_scale(f, axis)),
            "columns": (
                f"freed the title of {self.words}",
                lambda f: edits.set_axis_title(f, axis, None),
            ),
            "no-other": ("took other units off", lambda f: edits.set_other(f, tables, axis, None)),
            "no-beside": (
                f"changed the labels of {self.words}",
                lambda f: edits.change_scale(f, axis, before="", after=""),
            ),
        }
        kind, _, guide = what.partition("/")
        if what == "title":
            self.title_wanted.emit(AxisTitle(axis))
        elif what in changes:
            self._edit(*changes[what])
        elif kind == "guide" and guide:
            self._edit("removed a line", lambda f: edits.remove_guide(f, guide))
        else:
            self.asked.emit(what, axis)
