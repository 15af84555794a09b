"""Asking which columns of other readings are meant, where their names are not quite the same."""

from collections.abc import Callable, Mapping, Sequence

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QVBoxLayout,
    QWidget,
)

from sornix.core.document import Missing
from sornix.gui.base.plain import plain_label


class MatchDialog(QDialog):
    """One question for each column that is missing; `take` gets the answers."""

    def __init__(
        self,
        parent: QWidget,
        file: str,
        missing: Sequence[Missing],
        columns: Sequence[str],
        take: Callable[[Mapping[str, str]], object],
    ) -> None:
        super().__init__(parent)
        self._take = take
        self.setWindowTitle("Which columns are meant?")
        self.setMinimumWidth(460)
        whole = QVBoxLayout(self)
        said = plain_label(f"In {file} some columns have other names. Which stands for")
        said.setWordWrap(True)
        whole.addWidget(said)
        form = QFormLayout()
        self.answers: dict[str, QComboBox] = {}
        for one in missing:
            combo = QComboBox()
            combo.addItems([*one.near, *(c for c in columns if c not in one.near)])
            if not one.near:
                # nothing tells which is meant
                combo.setPlaceholderText("choose a column")
                combo.setCurrentIndex(-1)
            combo.setAccessibleName(f"The column that stands for {one.name}")
            combo.currentIndexChanged.connect(self._check)
            form.addRow(plain_label(f"“{one.name}”:"), combo)
            self.answers[one.name] = combo
        whole.addLayout(form)
        self.problem = plain_label()
        self.problem.setObjectName("notes")
        whole.addWidget(self.problem)
        self.buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        button = self.buttons.addButton("Draw these", QDialogButtonBox.ButtonRole.AcceptRole)
        assert button is not None
        self.draw = button
        self.buttons.accepted.connect(self._finish)
        self.buttons.rejected.connect(self.reject)
        whole.addWidget(self.buttons)
        self.finished.connect(self.deleteLater)
        self._check()
        self.open()

    @property
    def names(self) -> dict[str, str]:
        """The column that was answered for each that is missing."""
        return {name: combo.currentText() for name, combo in self.answers.items()}

    def _check(self) -> None:
        chosen = [name for name in self.names.values() if name]
        twice = len(set(chosen)) < len(chosen)
        self.problem.setText("One column cannot stand for two." if twice else "")
        if hasattr(self, "draw"):
            self.draw.setEnabled(not twice and len(chosen) == len(self.answers))

    def _finish(self) -> None:
        self._take(self.names)
        self.accept()
