"""What the window does with one column: its menu, and what the menu asks for."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

from attrs import evolve
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QInputDialog, QMenu

from sornix.core.document import Document, change_table, draw_table
from sornix.core.errors import SornixError
from sornix.core.figure import change_series
from sornix.core.readings import KIND_WORDS, NUMBER, Column

if TYPE_CHECKING:
    from sornix.gui.actions.tableathand import TableAtHand

# words, what it does, ticked or not or None, and whether it can be done
_Entry = tuple[str, Callable[[], object], bool | None, bool]


class ColumnDesk:
    """The menu of a column and its acts."""

    def __init__(self, desk: TableAtHand) -> None:
        self._desk = desk

    def open_menu(self, number: int, at: QPoint | None) -> None:
        """The menu of a column."""
        table_pane = self._desk.table_pane
        column = table_pane.grid.cells.column_at(number) if table_pane is not None else None
        if table_pane is None or column is None:
            return
        if at is None:
            rect = table_pane.grid.heads.section_rect(number)
            at = table_pane.grid.heads.mapToGlobal(rect.bottomLeft())
        menu = QMenu(self._desk.window.frame)
        menu.setObjectName("columnMenu")
        for entry in self._entries(column, number):
            if entry is None:
                menu.addSeparator()
                continue
            words, run, ticked, enabled = entry
            action = menu.addAction(words.replace("&", "&&"))
            if action is not None:
                action.setEnabled(enabled)
                if ticked is not None:
                    action.setCheckable(True)
                    action.setChecked(ticked)
                action.triggered.connect(lambda _=False, run=run: run())
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(at)

    def _entries(self, column: Column, number: int) -> list[_Entry | None]:
        table_pane = self._desk.table_pane
        assert table_pane is not None
        name = column.name
        own = column.rule is None
        act = self._desk.act

        def sort(*, descending: bool) -> None:
            act(f"sorted by “{name}”", "sort", column=name, descending=descending)

        def entry(words: str, run: Callable[[], object], *, enabled: bool = True) -> _Entry:
            return (words, run, None, enabled)

        kinds: list[_Entry] = [
            (f"Is {words}", partial(self.set_kind, column, kind), kind == column.kind, own)
            for kind, words in KIND_WORDS.items()
        ]
        insert = partial(act, "inserted a column", "insert_column")
        return [
            entry("Name and unit…", partial(table_pane.type_name, number)),
            entry("Convert to another unit…", partial(self.convert, column),
                  enabled=own and column.kind == NUMBER and bool(column.unit)),
            None, *kinds, None,
            entry("Draw upward (y)", partial(self._draw_column, name, "y")),
            entry("Draw along (x)", partial(self._draw_column, name, "x")),
            None,
            entry("Sort rows, rising", partial(sort, descending=False)),
            entry("Sort rows, falling", partial(sort, descending=True)),
            None,
            entry("Change its formula…" if not own else "Compute a column…",
                  partial(self.compute, None if own else column)),
            entry("Words for its codes…", partial(self.name_codes, column)),
            entry("Count the entries of its cells…", partial(self.count_entries, column)),
            entry("Make it a column of its own", partial(act, "settled a column", "settle",
                  column=name), enabled=not own),
            entry("Fill empty cells from above", partial(act, f"filled “{name}”", "fill_down",
                  column=name), enabled=own and column.count + len(column.texts) < len(column)),
            entry("Cells as they were read", partial(act, "restored cells", "restore",
                  column=name), enabled=bool(column.as_read)),
            None,
            entry("Insert a column before", partial(insert, at=number)),
            entry("Insert a column after", partial(insert, at=number + 1)),
            entry("Delete this column", partial(act, f"deleted “{name}”", "delete_columns",
                  names=[name])),
        ]  # fmt: skip

    def set_kind(self, column: Column, kind: str) -> None:
        words = f"made “{column.name}” {KIND_WORDS[kind]}"
        self._desk.act(words, "set_kind", column=column.name, kind=kind)

    def _draw_column(self, name: str, axis: str) -> None:
        table_pane = self._desk.table_pane
        if table_pane is None:
            return
        table = table_pane.table_name

        def change(document: Document) -> Document:
            figure = document.figure
            if figure.panel.series[0].table != table:
                document = draw_table(document, table)
                figure = document.figure
            series = figure.panel.series[0].id
            changes = {axis: name}
            figure = change_series(figure, document.tables, series, **changes)
            return evolve(document, figure=figure)

        self._desk.edit(f"drew “{name}” as {axis}", change)

    def convert(self, column: Column) -> None:
        """Asks for another unit of the same quantity; those that are usual are offered."""
        from sornix.core.readings.tables.units import is_known, offers

        name, unit = column.name, column.unit

        def ask(found: tuple[bool, tuple[str, ...]]) -> None:
            known, offered = found
            if not known:
                self._desk.window.say(
                    f"“{unit}” is not a unit that Sornix knows, so nothing can be converted. "
                    "Change it under Name and unit, if it was misspelt."
                )
                return
            dialog = QInputDialog(self._desk.window.frame)
            dialog.setWindowTitle("Convert")
            dialog.setLabelText(f"“{name}” from {unit} to:")
            dialog.setComboBoxItems(offered or (unit,))
            dialog.setComboBoxEditable(True)
            take = lambda: self._desk.act(  # noqa: E731
                f"converted “{name}”", "convert", column=name, unit=dialog.textValue().strip()
            )
            dialog.accepted.connect(take)
            dialog.finished.connect(dialog.deleteLater)
            dialog.open()

        # the tables of units take their time to load
        self._desk.window.start("looking up units…", lambda: (is_known(unit), offers(unit)), ask)

    def compute(self, column: Column | None = None) -> None:
        """Asks for a formula: for a new column, or for one that is computed."""
        from sornix.gui.dialogs.formuladialog import FormulaDialog

        table = self._desk.table
        if table is None:
            return

        def take(name: str, unit: str, formula: str) -> bool:
            rule = {"rule": "formula", "formula": formula}
            words = f"computed “{name}”"
            if column is not None and column.name != name:
                return self._desk.edit(
                    words, lambda d: _renamed(d, table.name, column, name, unit, rule)
                )
            return bool(
                self._desk.table_pane
                and self._desk.table_pane.edit(words, "compute", name=name, unit=unit, rule=rule)
            )

        FormulaDialog(self._desk.window.frame, table, column, take, self._desk.window.start)

    def name_codes(self, column: Column) -> None:
        """Asks which words stand for which codes, and adds a column of the words."""
        from sornix.core.readings.tables.rule import CodeWords
        from sornix.core.readings.tables.rules import codes_in, rule_to_json

        codes = dict.fromkeys(cell for cell in column.cells()[:10_000] if cell)
        begin = ", ".join(f"{code} = " for code in list(codes)[:8])

        def take(text: str) -> None:
            try:
                rule = CodeWords(column.name, codes_in(text))
            except SornixError as error:
                self._desk.window.say(str(error))
                return
            self._add_rule(f"{column.name} in words", rule_to_json(rule), "named codes")

        self._desk.ask("Words for codes", f"Words for the codes of “{column.name}”:", begin, take)

    def count_entries(self, column: Column) -> None:
        """Asks what divides the entries of a cell, and adds a column of their numbers."""
        from sornix.core.readings.tables.rule import EntryCount
        from sornix.core.readings.tables.rules import rule_to_json

        def take(text: str) -> None:
            rule = EntryCount(column.name, text.strip() or ",")
            self._add_rule(f"Entries of {column.name}", rule_to_json(rule), "counted entries")

        self._desk.ask("Count entries", f"What divides the entries of “{column.name}”:", ",", take)

    def _add_rule(self, name: str, rule: dict[str, Any], words: str) -> None:
        from sornix.core.readings import unique_names

        table = self._desk.table
        if table is not None:
            unique = unique_names([name], table.column_names)[0]
            self._desk.act(words, "compute", name=unique, unit="", rule=rule)


def _renamed(
    document: Document, table: str, column: Column, name: str, unit: str, rule: dict[str, Any]
) -> Document:
    """A document whose computed column has another name and formula."""
    document = change_table(document, table, "rename", column=column.name, name=name, unit=unit)
    return change_table(document, table, "compute", name=name, unit=unit, rule=rule)
