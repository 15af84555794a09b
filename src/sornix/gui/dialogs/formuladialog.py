"""Asking for a formula: what is wrong with it is said while it is typed, at its character."""

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QWidget,
)

from sornix.core.errors import FormulaError, SornixError
from sornix.core.formula import parse_formula, quoted
from sornix.core.readings import TEXT, Column, Table
from sornix.core.readings.tables.rule import Formula
from sornix.core.readings.tables.rules import with_rule
from sornix.gui.base.plain import plain_label

_UNIT_PAUSE_MS = 350


class FormulaDialog(QDialog):
    """Name, unit and formula of a computed column. `take` gets them and tells whether they were
    taken; `start` does slow work elsewhere."""

    def __init__(
        self,
        parent: QWidget,
        table: Table,
        column: Column | None,
        take: Callable[[str, str, str], bool],
        start: Callable[..., None],
    ) -> None:
        super().__init__(parent)
        self._table, self._column, self._take, self._start = table, column, take, start
        self.setWindowTitle("Compute a column")
        self.setMinimumWidth(520)
        form = QFormLayout(self)
        rule = column.rule if column is not None else None
        self.name = QLineEdit(column.name if column is not None else "")
        self.formula = QLineEdit(rule.text if isinstance(rule, Formula) else "")
        self.unit = QLineEdit(column.unit if column is not None else "")
        # a unit that a person typed is not replaced by a proposed one
        self._proposed = ""
        self.told = plain_label()
        self.told.setWordWrap(True)
        self.told.setMinimumHeight(38)
        for words, field in (
            ("&Formula:", self.formula),
            ("&Name:", self.name),
            ("&Unit:", self.unit),
        ):
            form.addRow(words, field)
            field.setAccessibleName(words.replace("&", "").rstrip(":"))
        names = [quoted(c.name) for c in table.columns if c.kind != TEXT]
        listed = plain_label(
            "Columns: " + ", ".join(names[:14]) + (" …" if len(names) > 14 else "")
        )
        listed.setWordWrap(True)
        listed.setObjectName("notes")
        form.addRow(listed)
        grammar = plain_label("+ − * / ^, brackets, sqrt exp ln log10 sin cos … and pi, e")
        grammar.setObjectName("notes")
        form.addRow(grammar)
        form.addRow(self.told)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.ok = buttons.addButton("Compute", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self._finish)
        buttons.rejected.connect(self.reject)
        form.addRow(buttons)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(_UNIT_PAUSE_MS)
        self._later.timeout.connect(self._propose_unit)
        self.formula.textEdited.connect(self._judge)
        self.name.textEdited.connect(self._judge)
        self._judge()
        self.finished.connect(self.deleteLater)
        self.formula.setFocus()
        self.open()

    def _judge(self) -> None:
        """Says what the formula makes of the first readings, or what is wrong with it."""
        text, good = self.formula.text(), False
        if not text.strip():
            said = "Type a formula such as 2 * Depth, names with spaces in double quotes."
        else:
            try:
                said = self._first_values(text)
                good = True
                self._later.start()
            except FormulaError as error:
                said = f"At character {error.at + 1}: {error.what}"
            except SornixError as error:
                said = str(error)
        self.told.setText(said)
        if self.ok is not None:
            self.ok.setEnabled(good and bool(self.name.text().strip()))

    def _first_values(self, text: str) -> str:
        name = self._column.name if self._column is not None else "\0"
        column = with_rule(self._table, name, "", Formula(text)).column(name)
        cells = [column.cell(row) or "missing" for row in range(min(len(column), 5))]
        return "First readings: " + ",  ".join(f"{c:.10}" for c in cells) if cells else ""

    def _propose_unit(self) -> None:
        if self.unit.text() != self._proposed:
            return
        try:
            expression = parse_formula(self.formula.text())
        except SornixError:
            return
        units = {column.name: column.unit for column in self._table.columns}

        def work() -> Any:
            from sornix.core.readings.tables.units import unit_of

            return unit_of(expression, units)

        self._start("looking up units…", work, self._show_unit)

    def _show_unit(self, unit: str) -> None:
        if self.isVisible() and self.unit.text() == self._proposed:
            self._proposed = unit
            self.unit.setText(unit)

    def _finish(self) -> None:
        name = " ".join(self.name.text().split())
        if self._take(name, self.unit.text().strip(), self.formula.text().strip()):
            self.accept()
