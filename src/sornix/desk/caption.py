"""The caption under the paper."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSizePolicy

from sornix.desk.bars import Bar
from sornix.desk.workbench import Scene


class CaptionBar(Bar):
    """The caption under the paper."""

    def __init__(self, copy: Callable[[str], None]) -> None:
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
        button.clicked.connect(lambda: copy(self.label.text()))
        row.addWidget(self.label, 1)
        row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)

    def show_scene(self, scene: Scene) -> None:
        self.label.setText(scene.caption)
