"""The list of safety copies that were left behind: what each is of, from when, and a picture."""

from __future__ import annotations

import time
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from sornix.core.errors import SornixError
from sornix.core.text import plural
from sornix.gui.base.plain import plain_label

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from sornix.core.document.stored.safetycopy import LeftCopy
    from sornix.gui.base.worker import Worker

_PICTURE = QSize(128, 96)


class RecoveryDialog(QDialog):
    """Copies with a tick each; `take` gets those that are to be brought back. What is not taken
    stays where it is, unless it is thrown away."""

    def __init__(
        self,
        parent: QWidget,
        copies: Sequence[LeftCopy],
        worker: Worker,
        take: Callable[[Sequence[LeftCopy]], object],
    ) -> None:
        super().__init__(parent)
        self._copies, self._take = list(copies), take
        self.setWindowTitle("What was not saved")
        self.resize(560, 420)
        whole = QVBoxLayout(self)
        said = plain_label(
            "Sornix ended without saving this. Each copy is kept until it is saved or thrown away."
        )
        said.setWordWrap(True)
        whole.addWidget(said)
        self.list = QListWidget()
        self.list.setIconSize(_PICTURE)
        self.list.setSpacing(4)
        self.list.setAccessibleName("Copies of unsaved work")
        for copy in copies:
            item = QListWidgetItem(_words(copy))
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Checked)
            item.setSizeHint(QSize(0, _PICTURE.height() + 8))
            self.list.addItem(item)
            worker.start("", partial(_picture, copy), partial(_show, item), partial(_tell, item))
        self.list.setCurrentRow(0)
        self.list.itemChanged.connect(self._count)
        whole.addWidget(self.list, 1)
        roles = QDialogButtonBox.ButtonRole
        self.buttons = QDialogButtonBox()
        self.back = self.buttons.addButton("Bring back", roles.AcceptRole)
        self.away = self.buttons.addButton("Throw away", roles.DestructiveRole)
        self.later = self.buttons.addButton("Later", roles.RejectRole)
        self.buttons.accepted.connect(self._bring_back)
        self.buttons.rejected.connect(self.reject)
        if self.away is not None:
            self.away.clicked.connect(self._throw_away)
        whole.addWidget(self.buttons)
        self.finished.connect(self.deleteLater)
        self._count()
        self.open()

    @property
    def chosen(self) -> list[LeftCopy]:
        """The copies that are ticked."""
        return [copy for i, copy in enumerate(self._copies) if self._is_ticked(i)]

    def _is_ticked(self, row: int) -> bool:
        item = self.list.item(row)
        return item is not None and item.checkState() == Qt.CheckState.Checked

    def _count(self) -> None:
        count = len(self.chosen)
        for button, word in ((self.back, "Bring back"), (self.away, "Throw away")):
            if button is not None:
                button.setText(f"{word} {plural(count, 'figure')}" if count else word)
                button.setEnabled(count > 0)

    def _bring_back(self) -> None:
        chosen = self.chosen
        self.accept()
        self._take(chosen)

    def _throw_away(self) -> None:
        for row in reversed(range(len(self._copies))):
            if self._is_ticked(row):
                copy = self._copies.pop(row)
                self.list.takeItem(row)
                copy.throw_away()
        self._count()
        if not self._copies:
            self.reject()


def _words(copy: LeftCopy) -> str:
    when = time.strftime("%A %d %B, %H:%M", time.localtime(copy.seconds))
    place = f"belongs to {copy.work.path}" if copy.work.path else "was never saved"
    return f"{copy.work.name}\n{when}\n{place}"


def _picture(copy: LeftCopy) -> bytes:
    from sornix.core.drawing import draw_figure
    from sornix.paint.export import preview
    from sornix.paint.measure import QtMeasure

    document = copy.load()
    return preview(draw_figure(document.figure, document.tables, QtMeasure()))


def _show(item: QListWidgetItem, picture: bytes) -> None:
    found = QPixmap()
    found.loadFromData(picture)
    shapes = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
    # all on sheets of one size, so that their words stand in line
    sheet = QPixmap(2 * _PICTURE)
    sheet.fill(Qt.GlobalColor.white)
    inside = found.scaled(sheet.size(), *shapes)
    painter = QPainter(sheet)
    painter.drawPixmap(
        (sheet.width() - inside.width()) // 2, (sheet.height() - inside.height()) // 2, inside
    )
    painter.end()
    icon = QIcon(sheet)
    icon.addPixmap(sheet, QIcon.Mode.Selected)
    item.setIcon(icon)


def _tell(item: QListWidgetItem, error: SornixError) -> None:
    item.setText(f"{item.text()}\n{error.what}")
