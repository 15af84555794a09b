"""How the columns of a table go with one another: a matrix of colours, r and n, that leads to the
scatter behind each cell."""

from collections.abc import Callable
from math import isfinite

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QDialog,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from sornix.core.colours import contrast, mixed
from sornix.core.readings import Table
from sornix.core.readings.tables.correlation import PEARSON, SPEARMAN, Correlations
from sornix.core.text import counted, decimal_text, plural, rounded
from sornix.gui.base.plain import plain_label, plain_tip
from sornix.gui.widgets.inlinecontrols import Choice, ChoiceWord

METHODS = {PEARSON: "of the readings (Pearson)", SPEARMAN: "of their ranks (Spearman)"}
# teal and brick, the first two colours of figures: rising and falling together
_RISING, _FALLING = QColor("#0b6e6e"), QColor("#b1452f")
_LEAST_WIDTH, _MOST_WIDTH, _CELL_HEIGHT = 74, 120, 44
_WHITE, _DARK = QColor("#ffffff"), QColor("#1f2b2a")


class Matrix(QWidget):
    """The cells; `chosen` gives the names of the columns along and upward."""

    chosen = pyqtSignal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.found: Correlations | None = None
        self._at = (1, 0)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Correlations of every column with every other")

    def show_correlations(self, found: Correlations) -> None:
        self.found = found
        self.setMinimumSize(self.sizeHint())
        self.updateGeometry()
        self.update()

    def _left(self) -> int:
        names = self.found.names if self.found else ()
        widest = max((self.fontMetrics().horizontalAdvance(n) for n in names), default=0)
        return min(widest, 190) + 16

    def _width(self) -> int:
        """The width of a cell: that of the longest word above one."""
        names = self.found.names if self.found else ()
        words = [word for name in names for word in name.split()]
        widest = max((self.fontMetrics().horizontalAdvance(word) for word in words), default=0)
        return min(max(widest + 8, _LEAST_WIDTH), _MOST_WIDTH)

    def sizeHint(self) -> QSize:
        count = len(self.found.names) if self.found else 0
        return QSize(self._left() + count * self._width() + 2, 46 + count * _CELL_HEIGHT + 2)

    def cell_at(self, at: QPoint) -> tuple[int, int] | None:
        """The row and column of the matrix at a place."""
        count = len(self.found.names) if self.found else 0
        column, row = (at.x() - self._left()) // self._width(), (at.y() - 46) // _CELL_HEIGHT
        return (row, column) if 0 <= row < count and 0 <= column < count else None

    def cell_rect(self, row: int, column: int) -> QRectF:
        width = self._width()
        return QRectF(self._left() + column * width, 46 + row * _CELL_HEIGHT, width, _CELL_HEIGHT)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        place = self.cell_at(event.position().toPoint()) if event is not None else None
        if place is not None:
            self._at = place
            self.setToolTip(plain_tip(self._told(*place)))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        place = self.cell_at(event.position().toPoint()) if event is not None else None
        if place is not None:
            self._choose(*place)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.found is None:
            return
        steps = {
            Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1),
            Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0),
        }  # fmt: skip
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._choose(*self._at)
        elif event.key() in steps:
            most = len(self.found.names) - 1
            down, right = steps[Qt.Key(event.key())]
            self._at = (
                min(max(self._at[0] + down, 0), most),
                min(max(self._at[1] + right, 0), most),
            )
            self.setAccessibleDescription(self._told(*self._at))
            self.update()
        else:
            super().keyPressEvent(event)

    def _choose(self, row: int, column: int) -> None:
        if self.found is not None and row != column:
            self.chosen.emit(self.found.names[column], self.found.names[row])

    def _told(self, row: int, column: int) -> str:
        assert self.found is not None
        names = f"{self.found.names[row]} against {self.found.names[column]}"
        if row == column:
            return self.found.names[row]
        rows = plural(int(self.found.n[row, column]), "row")
        return f"{names}: r = {_coefficient(self.found.r[row, column])}, {rows}. Click to draw it."

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        if self.found is None:
            return
        painter = QPainter(self)
        ink = self.palette().windowText().color()
        for i, name in enumerate(self.found.names):
            self._paint_name(painter, i, name, ink)
            for j in range(len(self.found.names)):
                self._paint_cell(painter, i, j, ink)
        painter.end()

    def _paint_name(self, painter: QPainter, number: int, name: str, ink: QColor) -> None:
        metrics = painter.fontMetrics()
        painter.setPen(ink)
        side = self.cell_rect(number, 0)
        beside = QRectF(0, side.top(), self._left() - 8, _CELL_HEIGHT)
        elide = Qt.TextElideMode.ElideRight
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(beside, int(right), metrics.elidedText(name, elide, int(beside.width())))
        above = self.cell_rect(0, number).translated(0, -44)
        above.setHeight(40)
        flags = (
            Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom | Qt.TextFlag.TextWordWrap
        )
        painter.drawText(above.adjusted(2, 0, -2, 0), int(flags), name)

    def _paint_cell(self, painter: QPainter, row: int, column: int, ink: QColor) -> None:
        assert self.found is not None
        rect = self.cell_rect(row, column).adjusted(1, 1, -1, -1)
        r = float(self.found.r[row, column])
        if row == column:
            painter.fillRect(rect, QColor(128, 128, 128, 28))
            return
        if not isfinite(r):
            painter.setPen(ink)
            painter.drawText(rect, int(Qt.AlignmentFlag.AlignCenter), "–")
            return
        ground = self.palette().window().color()
        tone = (_RISING if r > 0 else _FALLING).name()
        colour = QColor(mixed(tone, ground.name(), 0.06 + 0.94 * abs(r) ** 1.5))
        painter.fillRect(rect, colour)
        painter.setPen(max((_WHITE, ink, _DARK), key=lambda c: contrast(c.name(), colour.name())))
        font = QFont(self.font())
        font.setWeight(QFont.Weight.DemiBold)
        painter.setFont(font)
        upper = rect.adjusted(0, 4, 0, -17)
        painter.drawText(upper, int(Qt.AlignmentFlag.AlignCenter), _coefficient(r))
        font.setWeight(QFont.Weight.Normal)
        font.setPixelSize(11)
        painter.setFont(font)
        lower = rect.adjusted(0, 22, 0, -2)
        count = f"n = {counted(self.found.n[row, column])}"
        painter.drawText(lower, int(Qt.AlignmentFlag.AlignCenter), count)
        painter.setFont(self.font())
        if (row, column) == self._at:
            painter.setPen(ink)
            painter.drawRect(rect.adjusted(0, 0, -1, -1))


def _coefficient(r: float) -> str:
    """r to two decimals, never as a whole 1 that it is not."""
    if not isfinite(r):
        return "not defined"
    text = decimal_text(rounded(r, 2))
    return text if abs(r) > 1 - 1e-12 or text.lstrip("−") != "1.00" else decimal_text(rounded(r, 4))


class CorrelationView(QDialog):
    """The matrix with the choice of its method. `work` finds the correlations elsewhere; `draw`
    draws a pair of columns, `draw_all` makes the matrix a figure."""

    def __init__(
        self,
        parent: QWidget,
        table: Table,
        work: Callable[[str, Callable[[Correlations], None]], None],
        draw: Callable[[str, str], None],
        draw_all: Callable[[], None],
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Correlations in {table.name}")
        self._work = work
        self._open = True
        whole = QVBoxLayout(self)
        row = QHBoxLayout()
        row.addWidget(plain_label("Coefficients"))
        self.method = ChoiceWord("What the coefficients are of")
        self.method.chosen.connect(self.show_method)
        row.addWidget(self.method)
        row.addStretch(1)
        self.figure = QPushButton("Draw it as a figure")
        self.figure.setAutoDefault(False)
        self.figure.clicked.connect(draw_all)
        row.addWidget(self.figure)
        whole.addLayout(row)
        self.matrix = Matrix()
        self.matrix.chosen.connect(draw)
        area = QScrollArea()
        area.setWidget(self.matrix)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        whole.addWidget(area, 1)
        note = plain_label(
            "Each pair over the rows that hold both. Click a cell to draw it with its line; "
            "a strong r is no proof of cause, nor of a straight line."
        )
        note.setObjectName("notes")
        note.setWordWrap(True)
        whole.addWidget(note)
        self.finished.connect(self._closed)
        self.finished.connect(self.deleteLater)
        self.show_method(PEARSON)
        self.show()

    def show_method(self, method: object) -> None:
        """Shows the coefficients of a method."""
        name = str(method)
        entries = [Choice(m, words, m == name) for m, words in METHODS.items()]
        self.method.set_choices(METHODS[name], entries)
        self._work(name, self._show)

    def _closed(self) -> None:
        self._open = False

    def _show(self, found: Correlations) -> None:
        if not self._open:
            return
        self.matrix.show_correlations(found)
        hint = self.matrix.sizeHint()
        self.resize(min(hint.width() + 60, 1000), min(hint.height() + 150, 760))
