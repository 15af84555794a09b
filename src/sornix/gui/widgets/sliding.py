"""Numbers that are slid: up or down about the value that they had when the hand came."""

import math

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QSlider

from sornix.gui.base.plain import plain_tip

# A slider goes this many steps each way, over a factor of _REACH.
_STEPS = 100
_REACH = 5.0


def slid(value: float, at: int) -> float:
    """A value that a slider has moved, to three digits."""
    moved = value * _REACH ** (at / _STEPS) if value else at / _STEPS
    if not moved:
        return 0.0
    digits = 2 - math.floor(math.log10(abs(moved)))
    return round(moved, digits)


class Sliding(QSlider):
    """Slides a number up to five times as much or as little, through zero where it is zero.

    `slides` gives each value while the hand holds it, `let_go` the last one. A step by keys or
    wheel is let go at once.
    """

    slides = pyqtSignal(float)
    let_go = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__(Qt.Orientation.Horizontal)
        self.setRange(-_STEPS, _STEPS)
        self.setFixedWidth(84)
        self.setAccessibleName(f"Slide {name}")
        self.setToolTip(plain_tip(f"Slide {name} up or down"))
        # the value that stands in the middle
        self.about = 1.0
        self._held: float | None = None
        self.sliderPressed.connect(self._hold)
        self.valueChanged.connect(self._slide)
        self.sliderReleased.connect(self._release)

    def sizeHint(self) -> QSize:
        return QSize(84, 22)

    def _hold(self) -> None:
        self._held = self.about

    def _slide(self, at: int) -> None:
        if self._held is not None:
            self.slides.emit(slid(self._held, at))
        elif at:
            # moved by keys or wheel, not by the hand, and not back to the middle
            value = slid(self.about, at)
            self.setValue(0)
            self.let_go.emit(value)

    def _release(self) -> None:
        if self._held is not None:
            value = slid(self._held, self.value())
            self._held = None
            self.setValue(0)
            self.let_go.emit(value)
