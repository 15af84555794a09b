"""Why the first figure is drawn as it is, and other ways as small pictures: told under the paper
until the figure is made otherwise."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QPixmap
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QToolButton

from sornix.core.drawing import draw_figure
from sornix.core.figure import Way, known_ways
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.gui.widgets.bars import Bar
from sornix.paint.export import image
from sornix.paint.measure import QtMeasure

# A picture of a way is so wide, in pixels.
_WIDTH = 220

Start = Callable[[str, Callable[[], Any], Callable[[Any], None]], None]


class ReasonBar(Bar):
    """“Drawn like this because “Time” is a time: …  other ways ▾”. `start` does work beside the
    window."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__("captionBar")
        self._bench = bench
        self.start: Start | None = None
        self._ways: tuple[Way, ...] = ()
        self.pictures: QFrame | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(20, 0, 16, 6)
        row.setSpacing(4)
        self.label = plain_label()
        self.label.setWordWrap(True)
        self.others = QPushButton("other ways ▾")
        self.others.setAccessibleName("Other ways to draw these readings, as pictures")
        self.others.setToolTip(plain_tip(self.others.accessibleName()))
        self.others.clicked.connect(self._draw)
        row.addWidget(self.label, 1)
        row.addWidget(self.others, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    def show_scene(self, scene: Scene) -> None:
        self._ways = known_ways(scene.table)
        at = next((i for i, way in enumerate(self._ways) if way.figure == scene.figure), None)
        self.setVisible(at is not None)
        if at is None:
            return
        way = self._ways[at]
        if at:
            self.label.setText(f"Drawn as {way.words}.")
        else:
            because = way.because[:1].lower() + way.because[1:]
            self.label.setText(f"Drawn like this because {because}")
        self.others.setVisible(len(self._ways) > 1)

    def _draw(self) -> None:
        """Draws the other ways, beside the window, and shows them."""
        scene = self._bench.scene
        if scene is None or self.start is None:
            return
        ways = [way for way in self._ways if way.figure != scene.figure]
        tables = scene.tables

        def work() -> list[QImage]:
            found = []
            for way in ways:
                drawing = draw_figure(way.figure, tables, QtMeasure())
                found.append(image(drawing, _WIDTH / drawing.width_mm))
            return found

        self.start("drawing other ways…", work, partial(self._show, ways))

    def _show(self, ways: Sequence[Way], pictures: Sequence[QImage]) -> None:
        """Shows pictures of ways over the line, each to be clicked."""
        frame = QFrame(self, Qt.WindowType.Popup)
        frame.setObjectName("ways")
        frame.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        row = QHBoxLayout(frame)
        row.setContentsMargins(10, 10, 10, 8)
        row.setSpacing(8)
        for way, picture in zip(ways, pictures, strict=True):
            button = QToolButton()
            button.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            button.setIcon(QIcon(QPixmap.fromImage(picture)))
            button.setIconSize(QSize(_WIDTH, round(_WIDTH * 0.75)))
            button.setText(way.words.replace("&", "&&"))
            button.setAccessibleName(f"Draw it as {way.words}")
            button.setToolTip(plain_tip(way.because))
            button.clicked.connect(partial(self._take, way))
            row.addWidget(button)
        self.pictures = frame
        frame.adjustSize()
        corner = self.others.mapToGlobal(QPoint(self.others.width() - frame.width(), 0))
        frame.move(corner.x(), corner.y() - frame.height() - 4)
        frame.show()
        first = row.itemAt(0)
        if first is not None and (widget := first.widget()) is not None:
            widget.setFocus()

    def _take(self, way: Way) -> None:
        if self.pictures is not None:
            self.pictures.close()
            self.pictures = None
        self._bench.edit(f"drew it as {way.words}", lambda _figure: way.figure)
