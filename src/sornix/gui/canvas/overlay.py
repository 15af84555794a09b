"""What lies over the figure while it is worked with: rings, the flag, the box, edge counts."""

from functools import cache

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPen

from sornix.core.cautions.axes.outside import readings_outside
from sornix.core.cautions.caution import View
from sornix.core.colours import mixed
from sornix.core.frozen import frozen
from sornix.gui.base.theme import Theme
from sornix.gui.session.scene import Scene
from sornix.paint.fonts import FAMILY


@frozen
class EdgeCount:
    """How many readings lie beyond an end of an axis, told at that edge; a click frees the end."""

    axis: str
    part: str
    count: int
    far: bool  # whether the edge is the right or the upper one
    rect: QRectF

    @property
    def text(self) -> str:
        arrows = {("x", True): "›", ("x", False): "‹", ("y", True): "↑", ("y", False): "↓"}
        return f"{self.count} {arrows[self.axis[0], self.far]}"


def paint_desk(painter: QPainter, area: QRect, page: QRect, theme: Theme) -> None:
    """The desk of an area around the paper, with the shadow that the paper throws on it."""
    left, top, wide, high = page.getRect()
    right, foot = left + wide, top + high
    desk, near, both, far = _desk_colours(theme.ground)
    painter.fillRect(0, 0, area.width(), top, desk)
    # the last row and column of the paper may be covered in part
    painter.fillRect(0, foot - 1, area.width(), area.height() - foot + 1, desk)
    painter.fillRect(0, top, left, high, desk)
    painter.fillRect(right - 1, top, area.width() - right + 1, high, desk)
    painter.fillRect(left - 1, top, 1, high + 2, near)
    painter.fillRect(right, top, 1, high + 2, near)
    painter.fillRect(left, foot, wide, 2, both)
    painter.fillRect(left, foot + 2, wide, 2, far)


@cache
def _desk_colours(ground: str) -> tuple[QColor, ...]:
    """The desk, and where the shadow near the paper, that below it, or both fall on it: opaque, for
    to blend them in every frame takes longer than to paint the rest of the desk."""
    lit = 1.0, 1 - _NEAR, (1 - _NEAR) * (1 - _FAR), 1 - _FAR
    return tuple(QColor(mixed(ground, "#000000", part)) for part in lit)


# How strong the shadow is, as a part of black.
_NEAR, _FAR = 0.102, 0.063


def edge_counts(scene: Scene, inner: QRectF) -> list[EdgeCount]:
    """The counts of a scene whose data area fills `inner` in pixels."""
    place = scene.place
    view = View(scene.figure, scene.tables, place)
    found = []
    for axis, scale in place.scales.items():
        counts = readings_outside(view, axis)
        for part, count in zip(("start", "end"), counts, strict=True):
            if count:
                far = (part == "end") != scale.reversed
                found.append(EdgeCount(axis, part, count, far, _edge_rect(axis, far, inner)))
    return found


def _edge_rect(axis: str, far: bool, inner: QRectF) -> QRectF:
    size = (46.0, 20.0)
    middle = inner.center()
    # those of a second scale stand beside those of the first
    second = 26.0 if axis.endswith("2") else 0.0
    if axis[0] == "x":
        middle.setY(middle.y() - second)
        left = inner.right() - size[0] + 8 if far else inner.left() - 8
        return QRectF(left, middle.y() - size[1] / 2, *size)
    middle.setX(middle.x() + 2 * second)
    top = inner.top() - 8 if far else inner.bottom() - size[1] + 8
    return QRectF(middle.x() - size[0] / 2, top, *size)


def _font(weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    font = QFont(FAMILY)
    font.setPixelSize(13)
    font.setWeight(weight)
    return font


def paint_edge_count(painter: QPainter, edge: EdgeCount, theme: Theme) -> None:
    """An amber pill with the count and the side on which the readings lie."""
    painter.setPen(QPen(QColor(theme.held), 1))
    painter.setBrush(QColor(theme.held_ground))
    painter.drawRoundedRect(edge.rect, 9, 9)
    painter.setPen(QColor("#5c4200"))
    painter.setFont(_font(QFont.Weight.DemiBold))
    painter.drawText(edge.rect, int(Qt.AlignmentFlag.AlignCenter), edge.text)


def paint_in_hand(painter: QPainter, frame: QRectF, pin: QRectF | None, theme: Theme) -> None:
    """A frame around what is in hand, and a pin on what stands where it was put."""
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(QColor(theme.accent), 1.4, Qt.PenStyle.DashLine))
    painter.drawRect(frame)
    if pin is not None:
        painter.setPen(QPen(QColor(theme.held), 1.4))
        painter.setBrush(QColor(theme.held_ground))
        painter.drawRect(pin)


def paint_range_end(painter: QPainter, box: QRectF, theme: Theme) -> None:
    """An upright line with a grip in its middle, in the colour of what is held."""
    x = box.center().x()
    colour = QColor(theme.held)
    painter.setPen(QPen(colour, 1.2, Qt.PenStyle.DashLine))
    painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()))
    painter.setPen(QPen(colour, 1.2))
    painter.setBrush(QColor(theme.held_ground))
    grip = QRectF(x - 5, box.center().y() - 11, 10, 22)
    painter.drawRoundedRect(grip, 4, 4)
    for step in (-1.5, 1.5):
        painter.drawLine(QPointF(x + step, grip.top() + 6), QPointF(x + step, grip.bottom() - 6))


def paint_ring(painter: QPainter, centre: QPointF, theme: Theme) -> None:
    painter.setPen(QPen(QColor(theme.warn), 2.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawEllipse(centre, 8.5, 8.5)


def paint_flag(
    painter: QPainter, at: QPointF, lines: tuple[str, str], bounds: QRectF, theme: Theme
) -> None:
    """A dark flag beside a reading, kept inside `bounds`."""
    plain, bold = _font(), _font(QFont.Weight.DemiBold)
    width = max(
        QFontMetricsF(plain).horizontalAdvance(lines[0]),
        QFontMetricsF(bold).horizontalAdvance(lines[1]),
    )
    box = QRectF(at.x() + 14, at.y() - 52, width + 20, 42)
    if box.right() > bounds.right() - 4:
        box.moveRight(at.x() - 14)
    if box.top() < bounds.top() + 4:
        box.moveTop(at.y() + 14)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.bar))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(QColor(theme.bar_ink))
    painter.setFont(plain)
    painter.drawText(box.adjusted(10, 4, -4, -20), int(Qt.AlignmentFlag.AlignVCenter), lines[0])
    painter.setFont(bold)
    painter.drawText(box.adjusted(10, 21, -4, -4), int(Qt.AlignmentFlag.AlignVCenter), lines[1])


def paint_across(
    painter: QPainter, x: float, areas: list[QRectF], points: list[QPointF], theme: Theme
) -> None:
    """An upright line through every panel at one x, and a dot at each reading there."""
    painter.setPen(QPen(QColor(theme.warn), 1))
    for area in areas:
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
    painter.setBrush(QColor(theme.warn))
    painter.setPen(Qt.PenStyle.NoPen)
    for point in points:
        painter.drawEllipse(point, 3.2, 3.2)


def paint_look_box(painter: QPainter, box: QRectF, theme: Theme) -> None:
    colour = QColor(theme.accent)
    painter.setPen(QPen(colour, 1, Qt.PenStyle.DashLine))
    colour.setAlpha(26)
    painter.setBrush(colour)
    painter.drawRect(box)


def paint_snap_line(painter: QPainter, axis: str, at: QPointF, page: QRectF) -> None:
    """A fine line across the paper that something dragged keeps to."""
    painter.setPen(QPen(QColor("#aa4224"), 1, Qt.PenStyle.DotLine))
    if axis == "x":
        painter.drawLine(QPointF(at.x(), page.top()), QPointF(at.x(), page.bottom()))
    else:
        painter.drawLine(QPointF(page.left(), at.y()), QPointF(page.right(), at.y()))
