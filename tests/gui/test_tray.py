"""The tray and what the window does with readings, without a display."""

import threading
import time
from pathlib import Path
from threading import Event
from typing import Any
from unittest import mock

import numpy as np
from PyQt6.QtCore import QItemSelectionModel, QMimeData, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtTest import QTest as _QTest
from PyQt6.QtWidgets import (
    QApplication,
    QDialogButtonBox,
    QInputDialog,
    QMenu,
    QMessageBox,
    QWidget,
)

from sornix.core.document import Document, change_table, load_document
from sornix.core.patience import go_on
from sornix.core.readings import Table
from sornix.gui.base.theme import LIGHT
from sornix.gui.dialogs.formuladialog import FormulaDialog
from sornix.gui.dialogs.summarydialog import SummaryDialog
from sornix.gui.table.grid import Grid
from sornix.gui.table.gridmodel import GridModel
from sornix.gui.table.readas import OTHER
from tests.qt import WindowTest

QTest: Any = _QTest
K = Qt.Key
_SELECT = QItemSelectionModel.SelectionFlag.Select
TEXT = "Site,Code,Depth (m),Snails\nA,1,0.5,4\nB,2,1.25,9\nA,2,2,8\nC,1,3,5\n"


class TrayTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.open(self.write("traps.csv", TEXT))

    @property
    def table(self) -> Table:
        table = self.panes.table_pane.table
        assert table is not None
        return table

    def cells(self, column: str) -> list[str]:
        return self.table.column(column).cells()

    def column_entry(self, column: str, words: str) -> QAction:
        number = self.table.column_names.index(column)
        self.window.readings.columns.open_menu(number, None)
        menus = (w for w in QApplication.topLevelWidgets() if w.objectName() == "columnMenu")
        # one that was closed may wait for its deletion
        menu = next(w for w in menus if w.isVisible())
        assert isinstance(menu, QMenu)
        found = [a for a in menu.actions() if a.text().startswith(words)]
        menu.close()
        self.assertEqual(len(found), 1, words)
        return found[0]

    def column_act(self, column: str, words: str) -> None:
        entry = self.column_entry(column, words)
        self.assertTrue(entry.isEnabled(), words)
        entry.trigger()
        self.settle()

    def press(self, dialog: QWidget, role: QDialogButtonBox.ButtonRole) -> None:
        box = dialog.findChild(QDialogButtonBox)
        assert box is not None
        next(b for b in box.buttons() if box.buttonRole(b) == role).click()
        self.settle()


class Typing(TrayTest):
    def test_keys_go_where_rows_are_typed(self) -> None:
        grid = self.panes.table_pane.grid
        self.type_keys(grid, 0, 1, [
            ("3", K.Key_Tab, (0, 2)), ("2.5", K.Key_Tab, (0, 3)), ("", K.Key_Backtab, (0, 2)),
            # down, and back to where the row was begun
            ("7", K.Key_Return, (1, 1)), ("", K.Key_Return, (2, 1)), ("", K.Key_Left, (2, 0)),
            ("", K.Key_Return, (3, 0)), ("D", K.Key_Return, (4, 0)), ("", K.Key_Return, (4, 0)),
            ("E", K.Key_Tab, (4, 1)), ("", K.Key_Up, (3, 1)), ("9", K.Key_Backtab, (3, 0)),
            ("F", K.Key_Backtab, (3, 0)),
        ])  # fmt: skip
        self.assertEqual(self.cells("Site"), ["A", "B", "A", "F", "E"])
        self.assertEqual(self.cells("Code"), ["3", "2", "2", "9", ""])
        self.assertEqual(self.cells("Depth"), ["7", "1.25", "2", "3", ""])
        grid.select_cell(1, 1)
        selection = grid.selectionModel()
        assert selection is not None
        selection.select(grid.cells.index(2, 2), _SELECT)
        QTest.keyClick(grid, K.Key_Delete)
        self.settle()
        self.assertEqual(self.cells("Code"), ["3", "", "", "9", ""])
        self.assertEqual(self.cells("Depth"), ["7", "", "", "3", ""])

    def type_keys(
        self, grid: Grid, row: int, column: int, steps: list[tuple[str, Qt.Key, tuple[int, int]]]
    ) -> None:
        grid.select_cell(row, column)
        grid.clicked.emit(grid.currentIndex())
        grid.setFocus()
        for number, (text, key, place) in enumerate(steps):
            with self.subTest(f"{number}: {text!r}, {key.name}"):
                QTest.keyClicks(grid, text)
                self.keys(key)
                self.settle()
                now = grid.currentIndex()
                self.assertEqual((grid.row_at(now), now.column()), place)


class Columns(TrayTest):
    def test_every_entry_of_the_menu_of_a_column(self) -> None:
        self.column_act("Depth", "Draw upward")
        self.column_act("Snails", "Draw along")
        series = self.window.bench.scene.figure.panel.series[0] if self.window.bench.scene else None
        self.assertEqual((series.x, series.y) if series else None, ("Snails", "Depth"))
        self.column_act("Site", "Draw along")
        scene = self.window.bench.scene
        self.assertEqual(scene.place.x.kind if scene else "", "category")
        self.window.bench.undo()
        self.column_act("Snails", "Sort rows, falling")
        self.assertEqual(self.cells("Snails"), ["9", "8", "5", "4"])
        self.column_act("Depth", "Sort rows, rising")
        self.assertEqual(self.cells("Site"), ["A", "B", "A", "C"])
        self.column_act("Code", "Is text")
        self.assertEqual(self.table.column("Code").kind, "text")
        self.column_act("Code", "Is number")
        self.column_act("Code", "Words for its codes")
        self.say("1 = reed, 2 = open water")
        self.assertEqual(self.cells("Code in words"), ["reed", "open water", "open water", "reed"])
        self.column_act("Code in words", "Count the entries")
        self.say("e")
        self.assertEqual(self.cells("Entries of Code in words"), ["2", "3", "3", "2"])
        self.assertFalse(self.column_entry("Code in words", "Is number").isEnabled())
        self.column_act("Code in words", "Make it a column")
        self.column_act("Code", "Delete this column")
        self.assertNotIn("Code", self.table.column_names)
        self.column_act("Site", "Insert a column before")
        self.column_act("Site", "Insert a column after")
        self.assertEqual(self.table.column_names[:3], ("Column 6", "Site", "Column 7"))
        self.column_act("Depth", "Delete this column")
        self.assertIn("drawn in the figure", self.panes.message.label.text())
        steps = 0
        while self.window.bench.undo_name:
            self.window.bench.undo()
            steps += 1
        self.assertEqual((steps, self.table.column_names[1]), (10, "Code"))

    def test_a_formula_is_changed_and_renamed(self) -> None:
        self.column_act("Depth", "Compute a column")
        dialog = self.dialog(FormulaDialog)
        self.assertFalse(dialog.ok.isEnabled() if dialog.ok else True)
        for text, said in (
            ("Depth * (2", "closing bracket"),
            ("Deep * 2", "no column “Deep”"),
            ("Site * 2", "holds text"),
            ("Depth * 2", "First readings: 1,  2.5,  4,  6"),
        ):
            dialog.formula.setText(text)
            dialog.formula.textEdited.emit(text)
            self.assertIn(said, dialog.told.text())
        dialog.name.setText("Twice")
        dialog.name.textEdited.emit("Twice")
        self.press(dialog, QDialogButtonBox.ButtonRole.AcceptRole)
        self.assertEqual(self.cells("Twice"), ["1", "2.5", "4", "6"])
        self.column_act("Twice", "Change its formula")
        dialog = self.dialog(FormulaDialog)
        self.assertEqual(dialog.formula.text(), "Depth * 2")
        dialog.formula.setText("Depth * 3")
        dialog.formula.textEdited.emit("Depth * 3")
        dialog.name.setText("Thrice")
        self.press(dialog, QDialogButtonBox.ButtonRole.AcceptRole)
        self.assertEqual(self.cells("Thrice"), ["1.5", "3.75", "6", "9"])
        self.assertNotIn("Twice", self.table.column_names)

    def test_units_nobody_knows_are_said_not_to_be_known(self) -> None:
        self.panes.table_pane.edit("unit", "rename", column="Depth", name="Depth", unit="florins")
        self.column_act("Depth", "Convert to another unit")
        self.assertIn("not a unit that Sornix knows", self.panes.message.label.text())


class Tables(TrayTest):
    def test_rows_are_inserted_deleted_and_continued(self) -> None:
        grid = self.panes.table_pane.grid
        grid.select_cell(1, 0)
        self.act("insert-rows")
        self.assertEqual(self.cells("Site"), ["A", "", "B", "A", "C"])
        grid.light_row(1)
        self.act("delete-rows")
        self.assertEqual(self.cells("Site"), ["A", "B", "A", "C"])
        grid.select_cell(0, 1)
        self.act("pattern")
        self.assertEqual(self.cells("Code"), ["1", "2", "3", "4"])
        grid.select_cell(3, 1)
        self.act("pattern")
        self.assertIn("nothing below to fill", self.panes.message.label.text())

    def test_tables_are_added_renamed_drawn_saved_and_removed(self) -> None:
        other = self.write("other.json", '[{"t (s)": 1, "F": 2}, {"t (s)": 2, "F": 5}]')
        self.act("add-readings")
        self.name_file(other)
        self.assertEqual(self.panes.table_pane.table_name, "other")
        self.act("rename-table")
        asked = self.dialog(QInputDialog)
        self.assertEqual((asked.windowTitle(), asked.labelText()),
                         ("Rename the table", "Name of the table:"))  # fmt: skip
        self.say("second run")
        self.assertEqual(self.panes.table_pane.table_name, "second run")
        self.act("draw-table")
        self.act("remove-table")
        self.assertIn("is drawn in the figure", self.panes.message.label.text())
        self.act("save-table")
        self.name_file(self.folder / "out.csv")
        self.assertEqual((self.folder / "out.csv").read_text(), "t (s),F\n1,2\n2,5\n")
        self.panes.table_pane.show_table("traps")
        self.act("remove-table")
        self.assertEqual([t.name for t in self.window.bench.tables], ["second run"])
        self.act("copy-readings")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.assertEqual(clipboard.text().split("\n")[1].strip(), "1\t2")
        clipboard.setMimeData(QMimeData())
        self.act("paste-table")
        self.assertIn("no table on the clipboard", self.panes.message.label.text())

    def test_a_summary_needs_a_group(self) -> None:
        self.act("summary")
        dialog = self.dialog(SummaryDialog)
        for row in range(dialog.by.count()):
            item = dialog.by.item(row)
            assert item is not None
            item.setCheckState(Qt.CheckState.Unchecked)
        self.press(dialog, QDialogButtonBox.ButtonRole.AcceptRole)
        self.assertIn("at least one column", dialog.told.text())
        item = dialog.by.item(0)
        assert item is not None
        item.setCheckState(Qt.CheckState.Checked)
        self.press(dialog, QDialogButtonBox.ButtonRole.AcceptRole)
        self.assertEqual(self.cells("Snails mean"), ["6", "9", "5"])
        path = self.folder / "d.sornix"
        self.window.saving._save(path, None)  # noqa: SLF001 - the dialog is tried elsewhere
        self.settle()
        self.assertEqual(load_document(path), self.window.bench.document)

    def test_a_table_on_its_side_is_turned_by_one_click(self) -> None:
        self.open(self.write("side.csv", "Depth (m),0,1,2,3\nT (°C),19.2,18.9,17.1,16\n"))
        line = self.panes.table_pane.read_as
        self.assertTrue(line.turn.isVisible())
        line.turn.click()
        self.settle()
        self.assertEqual(self.table.column_names, ("Depth", "T"))
        self.assertFalse(line.turn.isVisible())
        self.assertIn("a reading in each column", line.words["lying"].text())
        line.changed.emit("lying", False)
        self.settle()
        self.assertEqual(len(self.table.columns), 5)
        # an array that was turned unasked is turned back
        np.save(self.folder / "a.npy", np.ones((2, 9)))
        self.open(self.folder / "a.npy")
        self.answer(QMessageBox.StandardButton.Discard)
        self.assertEqual(len(self.table.columns), 2)
        line.turn.click()
        self.settle()
        self.assertEqual((len(self.table.columns), line.turn.isVisible()), (9, False))

    def test_a_mark_of_ones_own_and_a_file_that_is_gone(self) -> None:
        self.window.readings.change_word("missing", OTHER)
        self.say("9; 4")
        self.assertEqual(self.cells("Snails"), ["", "", "8", "5"])
        read_as = self.table.read_as
        self.assertEqual(read_as.held if read_as else None, {"missing": ("9", "4")})
        (self.folder / "traps.csv").unlink()
        self.window.readings.change_word("header", 0)
        self.settle()
        self.assertIn("no such file", self.panes.message.label.text())
        self.assertEqual(self.cells("Snails"), ["", "", "8", "5"])


class Live(TrayTest):
    def test_long_work_shows_and_is_given_up(self) -> None:
        gate = Event()
        done: list[object] = []
        self.addCleanup(gate.set)
        footer = self.window.frame.footer
        counted = Event()

        def work() -> bool:
            counted.wait(20)
            for part in (0.1, 0.4, 0.4):
                time.sleep(0.2)
                go_on(part)
            return gate.wait(20)

        self.window.start("waiting…", work, done.append)
        self.assertIsNone(footer.progress, "short work is no matter")
        self.wait_until(lambda: footer.progress is not None, "progress was shown")
        assert footer.progress is not None
        self.assertEqual(footer.progress.maximum(), 0, "nobody knows how far it is")
        counted.set()
        self.wait_until(lambda: footer.state.text() == "waiting, 40 % done…", "that was known")
        self.assertEqual((footer.progress.value(), footer.progress.maximum()), (40, 100))
        begin = time.monotonic()
        footer.cancel.click()
        self.assertFalse(self.window.worker.is_busy)
        # what comes next does not wait for what was given up
        self.open(self.write("next.csv", "a,b\n1,2\n3,4\n"))
        self.assertLess(time.monotonic() - begin, 20)
        self.assertEqual(self.table.name, "next")
        gate.set()
        self.window.worker.wait()
        QApplication.processEvents()
        self.assertEqual(done, [])
        self.assertTrue(footer.progress is not None and footer.progress.isHidden())

    def test_what_is_worked_out_beside_is_done_to_what_there_is_then(self) -> None:
        here = threading.get_ident()
        before = self.window.bench.document
        gate = Event()
        seen: list[tuple[bool, bool]] = []
        self.addCleanup(gate.set)

        def change(document: Document) -> Document:
            seen.append((document is before, threading.get_ident() == here))
            gate.wait(20)
            return change_table(document, "traps", "set_cells", cells=[(0, 3, "40")])

        self.panes.table_pane.edit_elsewhere("changed", change)
        self.wait_until(lambda: seen, "it was begun")
        self.panes.table_pane.edit("typed", "set_cells", cells=[(1, 3, "90")])
        gate.set()
        self.settle()
        self.assertEqual(self.cells("Snails"), ["40", "90", "8", "5"])
        self.assertEqual(seen, [(True, False), (False, False)], "never on the interface thread")
        self.assertEqual(self.window.bench.undo_name, "changed")

    def test_a_million_rows_are_shown_at_once(self) -> None:
        rows = "\n".join(f"{i},{i % 977}" for i in range(1_000_000))
        self.open(self.write("long.csv", "i,v\n" + rows + "\n"))
        grid = self.panes.table_pane.grid
        asked: list[int] = []
        cell = GridModel.cell

        def counted(model: GridModel, number: int, row: int) -> str:
            asked.append(row)
            return cell(model, number, row)

        self.addCleanup(setattr, GridModel, "cell", cell)
        GridModel.cell = counted  # type: ignore[method-assign, assignment]
        for row in (999_999, 500_000, 3):
            grid.scrollTo(grid.cells.index(row, 0))
            grid.viewport().repaint()  # type: ignore[union-attr]
        self.assertLess(len(asked), 600, "only what is in sight is made")
        self.assertEqual(self.panes.table_pane.rows.text(), "1\u2009000\u2009000 rows")

    def test_the_model_tells_the_view_of_every_size(self) -> None:
        model = GridModel(LIGHT, self.window.frame)
        told: list[str] = []
        model.rowsInserted.connect(lambda _, a, b: told.append(f"+{b - a + 1}"))
        model.rowsRemoved.connect(lambda _, a, b: told.append(f"-{b - a + 1}"))
        model.columnsInserted.connect(lambda _, a, b: told.append(f"c+{b - a + 1}"))
        model.columnsRemoved.connect(lambda _, a, b: told.append(f"c-{b - a + 1}"))
        table_pane = self.panes.table_pane
        model.show_table(self.table, {})
        for act, arguments in (
            ("insert_rows", {"at": 0, "count": 3}), ("delete_rows", {"rows": [0, 1]}),
            ("insert_column", {"at": 1}), ("set_cells", {"cells": [(7, 6, "5")]}),
            ("delete_columns", {"names": ["Column 5"]}),
        ):  # fmt: skip
            table_pane.edit(act, act, **arguments)
            model.show_table(self.table, {})
            size = (self.table.row_count + 1, len(self.table.columns) + 1)
            self.assertEqual((model.rowCount(), model.columnCount()), size, act)
        self.assertEqual(told, ["+3", "-2", "c+1", "c+2", "+3", "c-1"])


class Watching(TrayTest):
    def test_only_files_of_the_document_are_watched(self) -> None:
        follower = self.window.readings.follower
        path = self.folder / "traps.csv"
        follower.watch()
        files = follower._watcher.files()  # noqa: SLF001
        self.assertEqual([Path(f).name for f in files], ["traps.csv"])
        self.act("follow")
        self.assertTrue(follower.is_followed(self.table))
        # a file that is replaced by another of its name, as editors do
        fresh = self.write("fresh.csv", TEXT + "D,1,4,7\n")
        fresh.replace(path)
        self.wait_until(lambda: self.table.row_count == 5, "the other file was read")
        self.act("follow")
        self.assertFalse(follower.is_followed(self.table))
        self.window.open_demo("nitrate-standards")
        watched = follower._watcher.files  # noqa: SLF001
        self.wait_until(lambda: watched() == [], "no file is watched")


class VeryLong(WindowTest):
    """A table of more rows than the grid holds at once."""

    def setUp(self) -> None:
        super().setUp()
        rows = "".join(f"{i},{i * i}\n" for i in range(1, 101))
        self.open(self.write("long.csv", f"a,b\n{rows}"))
        for name, value in (("gridmodel.MOST_CHANGED", 50), ("gridmodel._MOST_SHOWN", 20)):
            patched = mock.patch(f"sornix.gui.table.{name}", value)
            patched.start()
            self.addCleanup(patched.stop)
        self.open(self.folder / "long.csv")
        self.pane = self.panes.table_pane
        self.grid = self.pane.grid

    def test_a_part_of_it_is_in_the_grid_and_any_other_can_be_gone_to(self) -> None:
        cells = self.grid.cells
        self.assertEqual((cells.rowCount(), cells.columnCount()), (20, 2))
        self.assertEqual(self.pane.rows.text(), "100 rows, 1 to 20 here")
        self.grid.select_cell(77, 1)
        self.assertEqual(self.pane.rows.text(), "100 rows, 68 to 87 here")
        self.assertEqual(self.grid.selected_rows(), [77])
        index = self.grid.currentIndex()
        self.assertEqual((index.data(), cells.headerData(index.row(), Qt.Orientation.Vertical)),
                         ("6084", "78"))  # fmt: skip
        self.window.readings.clipboard.copy_cells()
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.assertEqual(clipboard.text(), "6084")
        # a reading that is clicked in the figure brings its row, and Enter goes on from there
        self.grid.light_row(3)
        self.assertEqual((self.grid.selected_rows(), cells.first), ([3], 0))
        self.grid.select_cell(19, 0)
        self.grid.setFocus()
        self.keys(Qt.Key.Key_Return)
        self.assertEqual(self.grid.selected_rows(), [20])
        finder = self.pane.finder
        for asked, rows, said in (
            ("row 90", [89], ""), ("Row 1", [0], ""), ("row 101", [0], "no row"),
            ("6084", [0], "not looked through"),
        ):  # fmt: skip
            finder.field.setText(asked)
            finder.go_on()
            self.assertEqual(self.grid.selected_rows(), rows)
            self.assertIn(said, finder.told.text())
        # it is not typed into
        flags = cells.flags(cells.index(0, 0))
        self.assertFalse(flags & Qt.ItemFlag.ItemIsEditable)
        before = self.window.bench.document
        with mock.patch("sornix.core.readings.tables.table.MOST_CHANGED", 50):
            self.grid.clear_cells()
        self.assertIs(self.window.bench.document, before)
        self.assertIn("only the names are changed", self.panes.message.label.text())

    def test_nobody_makes_gigabytes_of_text_of_it(self) -> None:
        said: list[str] = []
        with (
            mock.patch("sornix.core.readings.files.textout._MOST_WRITTEN", 99),
            mock.patch("sornix.gui.actions.tableclipboard._MANY_ROWS", 50),
            mock.patch.object(self.window, "_say_error", lambda error: said.append(str(error))),
        ):
            self.window.readings.clipboard.copy_table()
            self.settle()
        self.assertEqual(len(said), 1)
        self.assertIn("100 rows are too many", said[0])
