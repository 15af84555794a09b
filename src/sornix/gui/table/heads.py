"""The heads of columns in the tray: name, unit or kind, and a tag where the column is drawn."""

from PyQt6.QtCore import QPoint, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QFontMetrics, QMouseEvent, QPainter
from PyQt6.QtWidgets import QHeaderView

from sornix.core.readings import KIND_WORDS, TEXT, Column
from sornix.core.readings.cells.header import is_unit
from sornix.core.text import unit_words
from sornix.gui.base.theme import Theme
from sornix.gui.table.gridmodel import GridModel, Tag


class Heads(QHeaderView):
    """Column heads of three lines. `menu_wanted` and `name_wanted` give the number of a column;
    the menu opens by the second line, and by the other button of the mouse."""

    menu_wanted = pyqtSignal(int, object)
    name_wanted = pyqtSignal(int)

    HEIGHT = 81
    _SECOND = (36, 56)

    def __init__(self, model: GridModel, theme: Theme) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self._columns, self.theme = model, theme
        self.setSectionsClickable(True)
        self.setHighlightSections(False)
        self.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(self._open_menu)
        self.sectionDoubleClicked.connect(self._ask_name)

    def viewport_update(self) -> None:
        viewport = self.viewport()
        if viewport is not None:
            viewport.update()

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), self.HEIGHT)

    def section_rect(self, section: int) -> QRect:
        """Where a head stands in the viewport."""
        left = self.sectionViewportPosition(section)
        return QRect(left, 0, self.sectionSize(section), self.HEIGHT)

    def _ask_name(self, section: int) -> None:
        if self._columns.column_at(section) is not None:
            self.name_wanted.emit(section)

    def _open_menu(self, at: QPoint) -> None:
        section = self.logicalIndexAt(at)
        if self._columns.column_at(section) is not None:
            self.menu_wanted.emit(section, self.mapToGlobal(at))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        at = event.position().toPoint()
        section = self.logicalIndexAt(at)
        if section < 0 or not self._SECOND[0] <= at.y() <= self._SECOND[1]:
            return
        rect = self.section_rect(section)
        # the ends of a head are for making it wider
        if rect.left() + 5 < at.x() < rect.right() - 5:
            self._open_menu(QPoint(rect.left() + 6, self._SECOND[1]))

    def wanted_width(self, section: int) -> float:
        """The width at which name and unit can be read."""
        column = self._columns.column_at(section)
        if column is None:
            return 44
        bold = QFont(self.font())
        bold.setWeight(QFont.Weight.DemiBold)
        metrics = QFontMetrics(bold)
        words = column.name.split() or [""]
        whole = metrics.horizontalAdvance(column.name)
        longest = max(metrics.horizontalAdvance(word) for word in words)
        # on two lines where there are two words to put there
        name = min(max(longest, whole * 0.62 if len(words) > 1 else whole) + 20, 150)
        return max(name, metrics.horizontalAdvance(_second_line(column)) + 14)

    def paintSection(self, painter: QPainter | None, rect: QRect, section: int) -> None:
        if painter is None:
            return
        column, theme = self._columns.column_at(section), self.theme
        painter.save()
        painter.fillRect(rect, QColor(theme.panel))
        if column is None:
            painter.setPen(QColor(theme.soft))
            painter.drawText(rect.adjusted(0, 5, 0, 0), int(_TOP | _MIDDLE), "+")
        else:
            self._paint_column(painter, rect, column)
        painter.setPen(QColor(theme.line))
        painter.drawLine(rect.bottomLeft(), rect.bottomRight())
        painter.restore()

    def _paint_column(self, painter: QPainter, rect: QRect, column: Column) -> None:
        theme = self.theme
        at_right = column.kind != TEXT
        align = Qt.AlignmentFlag.AlignRight if at_right else Qt.AlignmentFlag.AlignLeft
        inner = rect.adjusted(8, 5, -9, 0)
        font = QFont(self.font())
        font.setWeight(QFont.Weight.DemiBold)
        painter.setFont(font)
        painter.setPen(QColor(theme.ink))
        for i, line in enumerate(_two_lines(column.name, painter.fontMetrics(), inner.width())):
            painter.drawText(inner.adjusted(0, 16 * i, 0, 0), int(align | _TOP), line)
        font.setWeight(QFont.Weight.Normal)
        font.setPixelSize(12)
        painter.setFont(font)
        painter.setPen(QColor(theme.soft))
        second = painter.fontMetrics().elidedText(
            _second_line(column), Qt.TextElideMode.ElideRight, inner.width()
        )
        painter.drawText(inner.adjusted(0, 34, 0, 0), int(align | _TOP), second)
        tag = self._columns.tags.get(column.name)
        if tag is not None:
            self._paint_tag(painter, inner, tag, at_right)

    def _paint_tag(self, painter: QPainter, inner: QRect, tag: Tag, at_right: bool) -> None:
        width = painter.fontMetrics().horizontalAdvance(tag.text) + 16
        width = min(width, inner.width())
        left = inner.right() - width + 1 if at_right else inner.left()
        box = QRectF(left, inner.top() + 53, width, 16)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tag.colour or self.theme.soft))
        painter.drawRoundedRect(box, 8, 8)
        painter.setPen(QColor("#ffffff"))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), tag.text)


_TOP, _MIDDLE = Qt.AlignmentFlag.AlignTop, Qt.AlignmentFlag.AlignHCenter


def _second_line(column: Column) -> str:
    """The unit, or the kind where there is none; `=` before a computed one, `?` behind a unit that
    is none of the usual."""
    unit = unit_words(column.unit)
    if unit and not is_unit(column.unit):
        unit += "?"
    kind = "time" if column.kind == "time" else KIND_WORDS[column.kind]
    return ("= " if column.rule is not None else "") + (unit or kind) + " ▾"


def _two_lines(name: str, metrics: QFontMetrics, width: int) -> list[str]:
    """A name on one or two lines of a width, the second one shortened if need be."""
    first = ""
    words = name.split()
    while words and metrics.horizontalAdvance(f"{first} {words[0]}".strip()) <= width:
        first = f"{first} {words.pop(0)}".strip()
    rest = " ".join(words)
    lines = [first] if first else []
    if rest:
        lines.append(metrics.elidedText(rest, Qt.TextElideMode.ElideRight, width))
    return lines
