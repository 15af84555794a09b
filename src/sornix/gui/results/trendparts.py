"""What the cards of a trend are made of: fields that ask for values, and a shape that was tried."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from sornix.core.figure.prose.comparing import Compared
from sornix.core.text import r_squared_text, shortest, significant, spoken
from sornix.core.trends import Treatment
from sornix.gui.base.plain import plain_label, plain_tip


def numbers_of(one: Compared) -> str:
    """What is set beside that of other shapes."""
    if one.fit is None:
        return "being fitted…" if one.pending else one.why
    parts = []
    if one.fit.adjusted_r_squared is not None:
        parts.append(f"adjusted R² {r_squared_text(one.fit.adjusted_r_squared)}")
    if one.fit.residual_sd is not None:
        parts.append(f"scatter {significant(one.fit.residual_sd, 2)}")
    if one.apart is not None:
        parts.append("AICc least" if one.apart == 0 else f"AICc + {shortest(one.apart, 0.05)}")
    return ", ".join(parts)


class TriedShape(QWidget):
    """A shape that was tried: its name and numbers, its residuals, and a button to keep it."""

    def __init__(
        self, one: Compared, picture: QWidget | None, keep: Callable[[], object] | None
    ) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(1)
        head = QHBoxLayout()
        name = plain_label(one.words)
        name.setObjectName("value")
        head.addWidget(name, 1)
        if keep is None:
            there = plain_label("on the figure")
            there.setObjectName("small")
            head.addWidget(there)
        elif one.fit is not None:
            button = QPushButton("keep")
            button.setAccessibleName(f"Keep the {one.words}")
            button.clicked.connect(keep)
            head.addWidget(button)
        column.addLayout(head)
        texts = [one.equation.text if one.equation is not None else "", numbers_of(one)]
        texts += one.fit.notes if one.fit is not None else ()
        for text in texts:
            if text:
                label = plain_label(text)
                label.setObjectName("small")
                label.setWordWrap(True)
                column.addWidget(label)
        if picture is not None:
            column.addWidget(picture)


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
