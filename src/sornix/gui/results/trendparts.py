"""What the cards of a trend are made of: fields that ask for values."""

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from sornix.core.text import spoken
from sornix.core.trends import Treatment
from sornix.gui.base.plain import plain_label, plain_tip


class AskingLine(QWidget):
    """“x for y = [ ], mean of [1]”, “y for x = [ ]” and “diluted [1] times, recovery [100] %”."""

    y_asked = pyqtSignal(str, str)
    x_asked = pyqtSignal(str)
    # dilution or recovery, as typed
    treated = pyqtSignal(str, str)

    def __init__(self, many: str, treatment: Treatment, *, treating: bool) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 2)
        column.setSpacing(4)
        self.of_y, self.many, self.of_x = QLineEdit(), QLineEdit(many), QLineEdit()
        sd = f" ± {spoken(treatment.recovery_sd)}" if treatment.recovery_sd else ""
        self.dilution = QLineEdit(spoken(treatment.dilution))
        self.recovery = QLineEdit(spoken(treatment.recovery) + sd)
        for field_, name in (
            (self.of_y, "A measured y whose x is wanted, such as 0.35 or 0.35 ± 0.01"),
            (self.many, "How many replicates the y is the mean of"),
            (self.of_x, "An x whose y is wanted"),
            (self.dilution, "How many times the samples were diluted"),
            (self.recovery, "How much of what was in the samples is found again, such as 92 ± 3"),
        ):
            field_.setAccessibleName(name)
            field_.setToolTip(plain_tip(f"{name}; Enter takes it"))
        self.many.setFixedWidth(30)
        self.dilution.setFixedWidth(40)
        rows: list[tuple[str | QLineEdit, ...]] = [
            ("x for y =", self.of_y, "mean of", self.many),
            ("y for x =", self.of_x),
        ]
        if treating:
            rows.append(("diluted", self.dilution, "×, recovery", self.recovery, "%"))
        for parts in rows:
            row = QHBoxLayout()
            row.setSpacing(6)
            for part in parts:
                row.addWidget(plain_label(part) if isinstance(part, str) else part)
            column.addLayout(row)
        for of_y in (self.of_y, self.many):
            of_y.returnPressed.connect(self._take_y)
        self.of_x.returnPressed.connect(self._take_x)
        for name, of_sample in (("dilution", self.dilution), ("recovery", self.recovery)):
            of_sample.returnPressed.connect(partial(self._treat, name, of_sample))

    def _take_y(self) -> None:
        if self.of_y.text():
            self.y_asked.emit(self.of_y.text(), self.many.text())

    def _take_x(self) -> None:
        if self.of_x.text():
            self.x_asked.emit(self.of_x.text())

    def _treat(self, name: str, typed: QLineEdit) -> None:
        # an empty one is the usual one
        usual = "1" if name == "dilution" else "100"
        self.treated.emit(name, typed.text().strip() or usual)
