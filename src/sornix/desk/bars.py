"""The bars of the window: message, caption, footer, and the sheet that an empty window shows."""

from collections.abc import Callable

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from sornix.core.figure import column_or_rows, series_name, series_points
from sornix.core.readings import table_named
from sornix.core.text import plain_text, plural, rich, shortest
from sornix.demo import DEMOS
from sornix.desk.paper import Reading
from sornix.desk.workbench import Scene


class _Bar(QWidget):
    """A widget with a name in the style sheet and a background of its own."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)


class MessageBar(_Bar):
    """What was refused or could not be done, in a sentence; it goes with the next change."""

    def __init__(self) -> None:
        super().__init__("message")
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 5, 10, 5)
        self.label = QLabel()
        self.label.setWordWrap(True)
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        close = QPushButton("×")
        close.setAccessibleName("Close the message")
        close.clicked.connect(self.hide)
        row.addWidget(self.label, 1)
        row.addWidget(close, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    def say(self, sentence: str) -> None:
        self.label.setText(sentence)
        self.setAccessibleName(sentence)
        self.show()


class CaptionBar(_Bar):
    """The caption under the paper."""

    def __init__(self, copy: Callable[[], None]) -> None:
        super().__init__("captionBar")
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 2, 16, 8)
        self.label = QLabel()
        self.label.setWordWrap(True)
        self.label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.label.setSizePolicy(policy)
        button = QPushButton("copy")
        button.setAccessibleName("Copy the caption")
        button.setToolTip("Copy the caption")
        button.clicked.connect(copy)
        row.addWidget(self.label, 1)
        row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)

    def show_scene(self, scene: Scene) -> None:
        self.label.setText(scene.caption)


class Footer(_Bar):
    """The reading under the pointer at the left; counts, size and file state at the right."""

    def __init__(self) -> None:
        super().__init__("footer")
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 3, 14, 4)
        row.setSpacing(26)
        self.reading, self.count, self.extent, self.state = (QLabel() for _ in range(4))
        row.addWidget(self.reading, 1)
        for label in (self.count, self.extent, self.state):
            row.addWidget(label)
        self._scene: Scene | None = None

    def show_scene(self, scene: Scene) -> None:
        self._scene = scene
        place = scene.drawing.panels[0]
        shown = total = 0
        for series in scene.figure.panel.series:
            points = series_points(series, scene.tables)
            inside = (points.x >= place.x.start) & (points.x <= place.x.end)
            inside &= (points.y >= place.y.start) & (points.y <= place.y.end)
            shown, total = shown + int(inside.sum()), total + len(points.x)
        figure = scene.figure
        self.count.setText(f"{shown} of {plural(total, 'reading')} in view")
        self.extent.setText(f"{shortest(figure.width_mm, 0)} × {shortest(figure.height_mm, 0)} mm")
        self.show_reading(None)

    def show_reading(self, reading: Reading | None) -> None:
        """Row, x and y of a reading; nothing for None."""
        self.reading.setText(reading_words(reading, self._scene) if reading and self._scene else "")


def reading_words(reading: Reading, scene: Scene) -> str:
    """`row 17  ·  Nitrate concentration 8 mg/L  ·  Absorbance at 220 nm 0.557`."""
    panel = scene.figure.panel
    series = panel.one_series(reading.series)
    table = table_named(scene.tables, series.table)
    parts = [f"row {reading.row + 1}"]
    if len(panel.series) > 1:
        parts.insert(0, series_name(series, scene.tables))
    for name, value in ((series.x, reading.x), (series.y, reading.y)):
        column = column_or_rows(table, name)
        parts.append(f"{column.name} {shortest(value, 0)} {column.unit}".strip())
    return plain_text(rich("  ·  ".join(parts)))


class StartSheet(QFrame):
    """What an empty window shows: how to begin."""

    open_wanted = pyqtSignal()
    demo_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("start")
        column = QVBoxLayout(self)
        column.setContentsMargins(48, 40, 48, 44)
        column.setSpacing(14)
        big = QLabel("Begin with readings")
        big.setObjectName("big")
        column.addWidget(big)
        text = QLabel(
            "Open a text file with one row of readings a line and the names of the columns, "
            "with their units, in the first row. Or drop it here."
        )
        text.setWordWrap(True)
        column.addWidget(text)
        button = QPushButton("Open a file…")
        button.clicked.connect(self.open_wanted)
        column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        column.addSpacing(14)
        column.addWidget(QLabel("Or look at a demo figure:"))
        row = QHBoxLayout()
        for demo in DEMOS.values():
            choice = QPushButton(demo.words)
            choice.clicked.connect(lambda _, name=demo.name: self.demo_wanted.emit(name))
            row.addWidget(choice)
        row.addStretch(1)
        column.addLayout(row)
        column.addStretch(1)
