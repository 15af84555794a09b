"""A formula as a shape of the user's own: its name, and of each parameter what it means, of which
unit it is, and where the search for it begins."""

from collections.abc import Callable

from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from sornix.core.errors import EditRefused
from sornix.core.figure import Trend, trend_model
from sornix.core.figure.edits.trendedits import own_shape
from sornix.core.figure.model.trend import PARAMETER_UNITS, Meaning, OwnShape
from sornix.core.text import formula_text, parse_number, shortest
from sornix.core.trends import Setting
from sornix.gui.base.plain import plain_label

_HEADS = ("parameter", "what it means", "unit", "begin at")


class ShapeDialog(QDialog):
    """`take` gets the shape."""

    def __init__(self, parent: QWidget, trend: Trend, take: Callable[[OwnShape], object]) -> None:
        super().__init__(parent)
        self._trend, self._take = trend, take
        self.setWindowTitle("A shape of your own")
        self.setMinimumWidth(620)
        whole = QVBoxLayout(self)
        whole.setSpacing(9)
        formula = plain_label(f"y = {formula_text(trend.formula)}")
        formula.setWordWrap(True)
        whole.addWidget(formula)
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(1, 1)
        self.name = QLineEdit(trend.called)
        self.name.setAccessibleName("Name of the shape")
        grid.addWidget(plain_label("Name"), 0, 0)
        grid.addWidget(self.name, 0, 1, 1, 3)
        for column, words in enumerate(_HEADS):
            head = plain_label(words)
            head.setObjectName("notes")
            grid.addWidget(head, 1, column)
        self.rows: dict[str, tuple[QLineEdit, QComboBox, QLineEdit]] = {}
        said = {one.name: one for one in trend.meanings}
        for row, name in enumerate(trend_model(trend).names, 2):
            one = said.get(name, Meaning(name))
            means, unit, start = QLineEdit(one.means), QComboBox(), QLineEdit()
            for key, words in PARAMETER_UNITS.items():
                unit.addItem(words, key)
            unit.setCurrentIndex(list(PARAMETER_UNITS).index(one.unit))
            begun = trend.setting(name).start
            start.setText("" if begun is None else shortest(begun, 0))
            start.setPlaceholderText("found by itself")
            start.setFixedWidth(120)
            fields = (means, unit, start)
            for words, field in zip(_HEADS[1:], fields, strict=True):
                field.setAccessibleName(f"{name}: {words}")
            grid.addWidget(plain_label(name), row, 0)
            for column, field in enumerate(fields, 1):
                grid.addWidget(field, row, column)
            self.rows[name] = fields
        whole.addLayout(grid)
        self.wrong = plain_label()
        self.wrong.setWordWrap(True)
        whole.addWidget(self.wrong)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        button = buttons.addButton("Save the shape", QDialogButtonBox.ButtonRole.AcceptRole)
        assert button is not None
        self.save = button
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        whole.addWidget(buttons)
        self.finished.connect(self.deleteLater)
        self.open()
        self.name.setFocus()

    def _finish(self) -> None:
        try:
            meanings, starts = [], []
            for name, (means, unit, start) in self.rows.items():
                meanings.append(Meaning(name, means.text().strip(), str(unit.currentData())))
                if start.text().strip():
                    starts.append(Setting(name, start=parse_number(start.text())))
            kept = tuple(m for m in meanings if m != Meaning(m.name))
            shape = own_shape(self._trend, self.name.text(), kept, tuple(starts))
        except EditRefused as error:
            self.wrong.setText(str(error))
            return
        self._take(shape)
        self.accept()
