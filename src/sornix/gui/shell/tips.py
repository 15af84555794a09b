"""Tips that point at the thing itself, each shown once; nothing waits for them."""

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from PyQt6.QtCore import QPoint, QPointF, QRect, Qt, QTimer
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from sornix.core.figure import AxisBand
from sornix.gui.base.plain import plain_label
from sornix.gui.base.preferences import preferred

if TYPE_CHECKING:
    from sornix.gui.actions.atwork import AtWork

_KEPT = "tips seen"
_POINTER = 9
# a moment after what it is about has come
_DELAY_MS = 900
_STAYS_MS = 20_000


class Tip(NamedTuple):
    """A tip: its name in the settings, its words, and the place in the window that it points at;
    None while there is nothing to point at."""

    name: str
    words: str
    place: Callable[["AtWork"], tuple[QWidget, QRect] | None]


def _first_word(window: "AtWork") -> tuple[QWidget, QRect] | None:
    if window.panes is None:
        return None
    word = window.panes.statement.plots[0].mark
    return word, word.rect()


def _x_axis(window: "AtWork") -> tuple[QWidget, QRect] | None:
    paper = window.panes.paper if window.panes is not None else None
    if paper is None or paper.drawing is None or not window.bench.undo_name:
        return None
    box = paper.drawing.box_of(AxisBand("x"))
    return (paper, paper.pixels(box).toRect()) if box is not None else None


def _caution(window: "AtWork") -> tuple[QWidget, QRect] | None:
    scene = window.bench.scene
    if window.panes is None or scene is None or not any(f.loud for f in scene.cautions):
        return None
    results = window.panes.results
    return results, QRect(0, 40, results.width(), 40)


def _column(window: "AtWork") -> tuple[QWidget, QRect] | None:
    if window.panes is None or window.bench.path is None:
        return None
    table_pane = window.panes.table_pane
    return table_pane, QRect(10, 110, table_pane.width() - 20, 40)


TIPS = (
    Tip("words", "Every word in a box can be changed. What you set is marked in amber, and its "
        "cross lets it follow the readings again.", _first_word),
    Tip("axis", "Drag an axis or its ends, or click it for all about its scale. Double-click a "
        "title to type it anew.", _x_axis),
    Tip("cautions", "Here stands what a careful colleague would say about this figure.", _caution),
    Tip("pattern", "Other readings with the same columns? File → Replace the readings draws them "
        "in this figure.", _column),
)  # fmt: skip


class Tips:
    """Shows the next tip that has something to point at, when the window has come to rest."""

    def __init__(self, window: "AtWork") -> None:
        self._window = window
        self.bubble: Bubble | None = None
        self._timer = QTimer(window.frame)
        self._timer.setSingleShot(True)
        self._timer.setInterval(_DELAY_MS)
        self._timer.timeout.connect(self.show_next)
        window.bench.changed.connect(self.come)

    def come(self) -> None:
        """Something was done: what is shown has been read, and the next may come."""
        if self.bubble is not None:
            self.bubble.leave()
        self._timer.start()

    def show_next(self) -> None:
        """Shows the first tip that was not seen yet and has something to point at."""
        window = self._window
        if preferred(window.settings, "tips") == "off" or self.bubble is not None:
            return
        seen = window.settings.listed(_KEPT)
        for tip in TIPS:
            place = tip.place(window) if tip.name not in seen else None
            if place is not None:
                window.settings.remember(**{_KEPT: [*seen, tip.name]})
                self.bubble = Bubble(window, tip.words, *place, self._gone)
                return

    def _gone(self) -> None:
        self.bubble = None


class Bubble(QFrame):
    """Words with a corner that points at a place; a click on it, or the next act, takes it away."""

    def __init__(
        self, window: "AtWork", words: str, target: QWidget, rect: QRect,
        gone: Callable[[], object],
    ) -> None:  # fmt: skip
        frame = window.frame
        super().__init__(frame)
        self._gone = gone
        self._theme = window.theme
        self.setObjectName("tip")
        self.setAccessibleName(f"Tip: {words}")
        label = plain_label(words)
        label.setWordWrap(True)
        label.setFixedWidth(250)
        close = QPushButton("×")
        close.setAccessibleName("Close the tip")
        close.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        close.clicked.connect(self.leave)
        row = QHBoxLayout(self)
        row.addWidget(label)
        row.addWidget(close, 0, Qt.AlignmentFlag.AlignTop)
        begin = target.mapTo(frame, rect.topLeft())
        place = QRect(begin, rect.size())
        # below what it points at, or above where there is no room
        size = self.sizeHint()
        below = place.bottom() + size.height() + 2 * _POINTER < frame.height()
        self._up = below
        row.setContentsMargins(12, 9 + _POINTER * below, 6, 9 + _POINTER * (not below))
        self.adjustSize()
        left = min(max(place.center().x() - self.width() // 2, 6), frame.width() - self.width() - 6)
        top = place.bottom() + 2 if below else place.top() - self.height() - 2
        self._tip_x = place.center().x() - left
        self.move(QPoint(left, top))
        self.show()
        self.raise_()
        # it has been read by then, and stands in nobody's way any more
        stays = QTimer(self)
        stays.timeout.connect(self.leave)
        stays.start(_STAYS_MS)

    def leave(self) -> None:
        if self.isHidden():
            return
        self._gone()
        self.hide()
        self.deleteLater()

    def mousePressEvent(self, _event: object) -> None:
        self.leave()

    def paintEvent(self, _event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self._theme.bar))
        body = self.rect().adjusted(0, _POINTER * self._up, 0, -_POINTER * (not self._up))
        painter.drawRoundedRect(body, 6, 6)
        x = min(max(self._tip_x, 16), self.width() - 16)
        base, point = (_POINTER, 0) if self._up else (self.height() - _POINTER, self.height())
        painter.drawPolygon(
            QPolygonF([QPointF(x - 8, base), QPointF(x + 8, base), QPointF(x, point)])
        )
        painter.end()
