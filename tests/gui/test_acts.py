"""Acts that few ask for, each by its menu, key, button or field, and what it brings about."""

import json
import re
from html import unescape
from typing import Any

import numpy as np
from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt
from PyQt6.QtTest import QTest as _QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QListWidgetItem, QMenu

from sornix.core import figure as edits
from sornix.core.drawing import drawn_tables
from sornix.core.figure import set_errors
from sornix.core.figure.model.targets import SourceLine
from sornix.gui.dialogs.correlationview import CorrelationView
from sornix.gui.dialogs.reportdialog import ReportDialog
from sornix.gui.session.readout import flag_words, reading_words
from sornix.gui.statement.wordlines import NumberTyped
from tests.qt import WindowTest

QTest: Any = _QTest
K = Qt.Key


class Acts(WindowTest):
    demo = "nitrate-standards"

    def names(self) -> list[str]:
        return [figure.name for figure in self.document.figures]

    def shown(self) -> list[str]:
        return [f"{one.y} of {one.only.value}" if one.only else str(one.y)
                for panel in self.figure.panels for one in panel.series]  # fmt: skip

    def refused(self, words: str) -> bool:
        message = self.panes.message
        return message.isVisible() and words in message.label.text()

    def test_correlations_are_gone_through_by_keys_and_drawn(self) -> None:
        self.window.open_demo("lake-survey")
        self.settle()
        self.act("correlations")
        matrix = self.dialog(CorrelationView).matrix
        self.wait_until(lambda: matrix.found is not None)
        for key, said in ((K.Key_Up, "Temperature"), (K.Key_Up, "Temperature"),
                          (K.Key_Right, "Temperature against Oxygen: r = "),
                          (K.Key_Down, "Oxygen"), (K.Key_Down, "Conductivity against Oxygen: r"),
                          (K.Key_Left, "Conductivity against Temperature: r")):  # fmt: skip
            QTest.keyClick(matrix, key)
            self.assertTrue(matrix.accessibleDescription().startswith(said), said)
        QTest.keyClick(matrix, K.Key_Return)
        self.settle()
        series = self.panel.series[0]
        self.assertEqual((series.x, series.y), ("Temperature", "Conductivity"))
        self.assertEqual([trend.series for trend in self.panel.trends], [series.id])
        self.dialog(CorrelationView).close()

    def test_what_is_drawn_is_copied_as_text_and_as_a_table(self) -> None:
        self.window.edit("a trend more", lambda f: edits.add_trend(f, "s1", "polynomial-2"))
        self.settle()
        self.act("copy-drawn")
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        assert data is not None
        scene = self.window.bench.scene
        assert scene is not None
        parts = [part.split("\n") for part in data.text().strip("\n").split("\n\n")]
        names = [part[0] for part in parts]
        self.assertEqual(names, [one.name for one in drawn_tables(scene.figure, scene.tables,
                                                                  scene.drawing)])  # fmt: skip
        heads, *rows = [line.split("\t") for line in parts[0][1:]]
        self.assertEqual(heads[:2], ["row", "Nitrate concentration (mg/L)"])
        x, y = (column.numbers for column in scene.table.columns[:2])
        shown = np.array([[float(cell) for cell in row[1:3]] for row in rows])
        np.testing.assert_allclose(shown, np.column_stack([x, y]), rtol=1e-9)
        tables = re.findall("<table>(.*?)</table>", data.html())
        cells = [[unescape(cell) for cell in re.findall("<td>(.*?)</td>", one)] for one in tables]
        lines = [[cell for line in part for cell in line.split("\t")] for part in parts]
        self.assertEqual(cells, lines)

    def test_panels_columns_and_rows_by_their_acts(self) -> None:
        self.window.open_demo("lake-survey")
        self.settle()
        count = len(self.figure.panels)
        self.act("add-panel")
        self.assertEqual((len(self.figure.panels), self.figure.hand), (count + 1, count))
        self.act("remove-panel")
        self.assertEqual(len(self.figure.panels), count)
        before = self.shown()
        self.act("add-every")
        table = self.window.bench.tables[0]
        numbers = {c.name for c in table.columns if c.kind == "number"}
        self.assertTrue(set(before) < set(self.shown()) <= numbers)
        grid = self.panes.table_pane.grid
        for row in (1, 3):
            model = grid.selectionModel()
            assert model is not None
            how = QItemSelectionModel.SelectionFlag
            model.select(grid.cells.index(row, 0), how.Select | how.Rows)
        self.settle()
        self.act("leave-out")
        asked = self.dialog(QInputDialog)
        asked.setTextValue(" a bubble ")
        asked.accept()
        self.settle()
        left = [(one.row, one.reason) for one in self.panel.series[0].left_out]
        self.assertEqual(left, [(1, "a bubble"), (3, "a bubble")])
        self.act("bring-back")
        self.assertEqual(self.panel.series[0].left_out, ())

    def test_keys_go_across_series_and_take_the_source_line_away(self) -> None:
        self.window.open_demo("lake-survey")
        self.settle()
        self.window.edit("a source", lambda f: edits.set_source(f, "Moss, 2026"))
        self.act("add-every")
        paper, selection = self.panes.paper, self.panes.selection
        paper.setFocus()
        QTest.keyClick(paper, K.Key_Right)
        assert selection.at is not None
        row, begun = selection.at.row, selection.at.series
        gone, ids = [], [one.id for panel in self.figure.panels for one in panel.series]
        for key in (K.Key_Down, K.Key_Down, K.Key_Up, K.Key_Up, K.Key_Up):
            QTest.keyClick(paper, key)
            self.assertEqual(selection.at.row, row)
            gone.append(selection.at.series)
            scene = self.window.bench.scene
            assert scene is not None
            called = self.shown()[ids.index(gone[-1])]
            where, _ = flag_words(selection.at, scene)
            self.assertEqual(where, f"{called}, row {row + 1}")
            told = reading_words(selection.at, scene).split("  ·  ")
            self.assertEqual(told[:2], [called, f"row {row + 1}"])
        # every series has a reading in this row
        at = ids.index(begun)
        self.assertEqual(gone, [ids[(at + by) % len(ids)] for by in (1, 2, 1, 0, -1)])
        selection.take(SourceLine())
        QTest.keyClick(paper, K.Key_Delete)
        self.settle()
        self.assertEqual((self.figure.source, selection.in_hand), ("", None))

    def test_series_and_panels_for_each_value_and_in_another_order(self) -> None:
        self.act("series-per/0")
        each = [f"Absorbance at 220 nm of {replicate}" for replicate in "ABC"]
        self.assertEqual((self.shown(), len(self.figure.panels)), (each, 1))
        line = self.panes.statement.plots[0]
        line.further.click()
        lines = self.panes.statement.series_lines
        assert lines is not None
        lines.later.clicked.emit()
        self.settle()
        self.assertEqual(self.shown(), [each[1], each[0], each[2]])
        self.window.bench.undo()
        self.window.bench.undo()
        self.act("panel-per/0")
        self.assertEqual((self.shown(), len(self.figure.panels)), (each, 3))

    def test_lengths_of_error_bars_and_sizes_are_typed_or_refused(self) -> None:
        tables = self.window.bench.tables
        self.window.edit("bars", lambda f: set_errors(f, tables, "s1", "y", "fixed"))
        self.settle()
        self.panes.statement.plots[0].further.click()
        lines = self.panes.statement.series_lines
        assert lines is not None
        length = lines.parts["Length of error bars in y"]
        assert isinstance(length, NumberTyped)
        for typed, size in (("0.02", 0.02), ("-1", 0.02), ("", 0.0)):
            self.type_into(length.field.field, typed)
            errors = self.panel.series[0].errors_y
            self.assertEqual(errors and errors.size, size)
            self.assertEqual(self.refused("0 or more"), typed == "-1")
        for typed, wide in (("120 x 90", 120), ("120", 120), ("200 × 90 mm", 200)):
            self.act("size")
            self.say(typed)
            self.assertEqual(self.figure.width_mm, wide)
            self.assertEqual(self.refused("not a size"), typed == "120")

    def test_figures_are_gone_through_moved_and_removed(self) -> None:
        for name in ("first", "second", "third"):
            if name != "first":
                self.act("figure-copy")
            self.act("figure-name")
            self.say(name)
        self.act("figure-earlier")
        self.assertEqual(self.names(), ["first", "third", "second"])
        row = self.panes.figures
        row.tiles[1].setFocus()
        QTest.keyClick(row.tiles[1], K.Key_Right)
        self.assertIs(self.window.frame.focusWidget(), row.tiles[2])
        QTest.keyClick(row.tiles[2], K.Key_Return)
        self.settle()
        self.assertEqual(self.figure.name, "second")
        row.tiles[0].customContextMenuRequested.emit(QPoint(3, 3))
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        next(a for a in menu.actions() if a.text() == "Remove").trigger()
        menu.close()
        self.settle()
        self.assertEqual(self.names(), ["third", "second"])

    def test_a_file_is_read_again_and_what_does_not_fit_is_told(self) -> None:
        path = self.write("a.csv", "t,v,w\n1,2,3\n2,4,5\n3,12 g,7\n")
        self.open(path)
        self.panes.table_pane.edit("repaired", "repair", column="v", form="unit", way="strip")
        self.settle()
        path.write_text("t,w\n1,3\n2,5\n3,7\n4,9\n")
        self.act("read-again")
        self.assertEqual(self.window.bench.tables[0].row_count, 4)
        self.assertIn("1 change did not fit the readings any more", self.panes.message.label.text())

    def test_what_is_ones_own_is_removed(self) -> None:
        for name in ("mine", "yours"):
            self.act("save-style")
            self.say(name)
        self.act("remove-style")
        self.say("mine")
        self.assertEqual([style.name for style in self.window.bench.styles], ["yours"])

    def test_a_report_wants_a_figure_a_format_and_a_template(self) -> None:
        self.act("document-report")
        dialog = self.dialog(ReportDialog)
        ticked = [ending for ending, box in dialog.formats.items() if box.isChecked()]
        for ending in ticked:
            dialog.formats[ending].click()
        self.assertIn("at least one format", dialog.summary.text())
        self.assertFalse(dialog.write.isEnabled())
        dialog.formats[ticked[0]].click()
        self.assertTrue(dialog.write.isEnabled())
        item = dialog.figures.item(0)
        assert isinstance(item, QListWidgetItem)
        item.setCheckState(Qt.CheckState.Unchecked)
        self.assertIn("at least one figure", dialog.summary.text())
        item.setCheckState(Qt.CheckState.Checked)
        own = dialog.template.count() - 1
        for text, said in (
            ("{", "cannot be read"),
            (json.dumps({"words": "w", "figure": ["picture"]}), "Writes "),
        ):
            path = self.write("own.json", text)
            dialog.template.setCurrentIndex(own)
            dialog.template.activated.emit(own)
            self.dialog(QFileDialog).fileSelected.emit(str(path))
            self.dialog(QFileDialog).reject()
            self.assertIn(said, dialog.summary.text())
        dialog.reject()
        self.settle()
