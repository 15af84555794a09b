"""The bar over a closer look: keep it, or go back."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget


class LookBar(QWidget):
    """Three buttons in the upper right of the paper while it shows a closer look."""

    def __init__(
        self,
        parent: QWidget,
        keep: Callable[[], object],
        step: Callable[[], object],
        leave: Callable[[], object],
    ) -> None:
        super().__init__(parent)
        self.setObjectName("lookBar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 4, 6, 4)
        row.setSpacing(4)
        self.keep_button = QPushButton("Keep this range")
        self.step_button = QPushButton("One look back")
        self.back_button = QPushButton("Back to the figure")
        for button, act in (
            (self.keep_button, keep),
            (self.step_button, step),
            (self.back_button, leave),
        ):
            button.clicked.connect(act)
            row.addWidget(button)
        self.hide()

    def place(self, right: float, top: float) -> None:
        """Stands left of a corner, in pixels of its parent."""
        self.adjustSize()
        self.move(round(max(right - self.width() - 6, 4)), round(top) + 6)
