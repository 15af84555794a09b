"""Getting readings in, by hand in a real window: awkward files, paste, repair, units, a logger."""

from typing import Any

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QApplication, QInputDialog, QMenu, QPushButton, QWidget

from sornix.core.drawing import Text
from sornix.core.readings import Table
from sornix.demo import demo_text
from sornix.gui.dialogs.correlationview import CorrelationView
from sornix.gui.dialogs.formuladialog import FormulaDialog
from sornix.gui.dialogs.summarydialog import SummaryDialog
from sornix.gui.table.grid import Grid
from sornix.gui.table.tablepane import TablePane
from sornix.gui.widgets.inlinecontrols import ChoiceWord
from tests.journeys.hands import HandsTest

PROBE = """# Brenn Mere, probe 7
Date;Oxygen;Turbidity
dd;mg/L;NTU
03/04/2026;9,5;-999
04/04/2026;9,1;3,5
05/04/2026;8,8;3 NTU
06/04/2026;8,4;2,5
"""


class Readings(HandsTest):
    @property
    def table_pane(self) -> TablePane:
        return self.panes.table_pane

    @property
    def grid(self) -> Grid:
        return self.table_pane.grid

    @property
    def table(self) -> Table:
        assert self.table_pane.table is not None
        return self.table_pane.table

    def cells(self, column: str) -> list[str]:
        return self.table.column(column).cells()

    def titles(self) -> dict[str, str]:
        drawing = self.panes.paper.drawing
        assert drawing is not None
        return {i.of: "".join(r.text for r in i.runs) for i in drawing.items if isinstance(i, Text)}

    def cell_at(self, row: int, column: int) -> QPointF:
        return QPointF(self.grid.visualRect(self.grid.cells.index(row, column)).center())

    def click_cell(self, row: int, column: int) -> None:
        viewport = self.grid.viewport()
        assert viewport is not None
        self.grid.scrollTo(self.grid.cells.index(row, column))
        self.pause()
        self.click_at(viewport, self.cell_at(row, column))

    def take(self, menu: QMenu, words: str) -> None:
        """Clicks the entry of an open menu that begins so."""
        action = next(a for a in menu.actions() if a.text().strip().startswith(words))
        self.take_action(menu, action)
        self.settle()

    def take_action(self, menu: QMenu, action: QAction) -> None:
        self.click_at(menu, menu.actionGeometry(action).center())

    def choose_word(self, word: ChoiceWord, words: str) -> None:
        self.click_at(word)
        self.take(self.popup(), words)

    def popup(self) -> QMenu:
        self.wait_until(
            lambda: isinstance(QApplication.activePopupWidget(), QMenu), "a menu opened"
        )
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        return menu

    def column_menu(self, number: int, words: str) -> None:
        """Opens the menu of a column by its second line."""
        viewport = self.grid.heads.viewport()
        assert viewport is not None
        rect = self.grid.heads.section_rect(number)
        self.click_at(viewport, QPoint(rect.right() - 20, 46))
        self.take(self.popup(), words)

    def accept(self, dialog: QWidget, words: str) -> None:
        button = next(
            b for b in dialog.findChildren(QPushButton) if b.text().replace("&", "") == words
        )
        self.click_at(button)
        self.settle()
        # without a window manager, a closed dialog does not give the keyboard back
        self.window.frame.activateWindow()
        self.pause()

    def copy_elsewhere(self, text: str, html: str = "") -> None:
        """What a person copies in another program."""
        data: Any = QMimeData()
        data.setText(text)
        if html:
            data.setHtml(html)
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setMimeData(data)

    def test_an_awkward_file_becomes_a_right_figure(self) -> None:
        self.open(self.write("probe.txt", PROBE.encode("cp1252")))
        self.assertEqual(self.cells("Date")[0], "2026-04-03")
        self.assertEqual(self.cells("Turbidity"), ["", "3.5", "3 NTU", "2.5"])
        self.assertIn("days were taken to come first", self.table_pane.notes.text())
        # the doubtful word, the other way and back
        self.assertEqual(self.titles()["x-title"], "Date")
        self.choose_word(self.table_pane.read_as.words["order"], "months first")
        self.assertEqual(self.cells("Date")[0], "2026-03-04")
        self.choose_word(self.table_pane.read_as.words["order"], "days first")
        self.assertEqual(self.cells("Date")[0], "2026-04-03")
        self.assertNotIn("were taken", self.table_pane.notes.text())
        # −999 is no reading, unless it is said to be one
        self.choose_word(self.table_pane.read_as.words["missing"], "empty cells")
        self.assertEqual(self.cells("Turbidity")[0], "-999")
        self.key("ctrl+z")
        self.assertEqual(self.cells("Turbidity")[0], "")
        self.column_menu(2, "Draw upward")
        self.assertEqual(self.titles()["y-title"], "Turbidity / NTU")
        self.choose_word(self.table_pane.repair, "take the number")
        self.assertEqual(self.cells("Turbidity")[2], "3")
        self.assertTrue(self.table_pane.repair.isHidden())
        place = self.panes.paper.drawing.panels[0] if self.panes.paper.drawing else None
        assert place is not None
        self.assertEqual((place.x.kind, self.panel_points()), ("time", 3))

    def panel_points(self) -> int:
        scene = self.window.bench.scene
        assert scene is not None
        from sornix.core.figure import series_points

        panel = scene.figure.panel
        return len(series_points(panel.series[0], panel, scene.tables).x)

    def test_snails_are_repaired_grouped_and_undone(self) -> None:
        self.open(self.write("snails.csv", demo_text("snail-counts")))
        before = self.window.bench.document
        self.assertIn("3 cells of “Snails” are text", self.table_pane.notes.text())
        self.choose_word(self.table_pane.repair, "take the number")
        self.assertEqual(self.table.column("Snails").count, 47)
        self.assertEqual(len(self.table.column("Snails").as_read), 3)
        self.key("ctrl+z")
        self.assertEqual(self.window.bench.document, before)
        self.key("ctrl+shift+z")
        self.click_at(self.table_pane.tables)
        self.take(self.popup(), "Summarise by groups")
        self.accept(self.dialog(SummaryDialog), "Summarise")
        self.assertEqual(self.table.name, "snails by Site")
        self.assertEqual((self.table.row_count, self.table.column("Snails n").cell(0)), (6, "8"))
        mean = float(self.cells("Snails mean")[0])
        self.choose_word(self.table_pane.tables, "snails")
        self.click_cell(0, 3)
        self.type("99\n")
        self.choose_word(self.table_pane.tables, "snails by Site")
        self.assertGreater(float(self.cells("Snails mean")[0]), mean + 5)

    def test_a_table_is_typed_with_the_keyboard_alone(self) -> None:
        self.key("ctrl+n")
        self.wait_until(lambda: self.window.panes is not None, "a table was begun")
        self.pause()
        self.type("Year\tLevel (m)\n")
        self.type("2019\t1.42\n2020\t1.38\n\t1.51\n\t1.47\n")
        self.assertEqual([c.title for c in self.table.columns], ["Year", "Level / m"])
        self.assertEqual(self.cells("Level"), ["1.42", "1.38", "1.51", "1.47"])
        # the years go on, through what is selected
        self.grid.select_cell(0, 0)
        self.key("shift+Down", "shift+Down", "shift+Down", "ctrl+shift+p")
        self.assertEqual(self.cells("Year"), ["2019", "2020", "2021", "2022"])
        self.assertEqual(self.titles()["y-title"], "Level / m")
        self.assertEqual(self.panel_points(), 4)
        # a new column by going there, with a formula in the end
        self.key("ctrl+equal")
        dialog = self.dialog(FormulaDialog)
        self.type("Level * ")
        self.assertIn("At character 9", dialog.told.text())
        self.type("100")
        self.wait_until(lambda: dialog.unit.text() == "m", "a unit was proposed")
        self.click_at(dialog.name)
        self.type("Level higher")
        self.accept(dialog, "Compute")
        self.assertEqual(self.cells("Level higher")[:2], ["142", "138"])
        self.grid.setFocus()
        self.grid.select_cell(1, 1)
        self.type("2\n")
        self.assertEqual(self.cells("Level higher")[1], "200")
        self.key("ctrl+f")
        self.type("1.47\n")
        at = self.grid.currentIndex()
        self.assertEqual((at.row(), at.column()), (3, 1))
        self.key("Escape", "Delete")
        self.assertEqual(self.cells("Level")[3], "")

    def test_pasting(self) -> None:
        self.copy_elsewhere("t (s)\tF\n0\t5\n1\t3\n2\t2\n")
        self.key("ctrl+v")
        self.settle()
        self.assertEqual(self.cells("F"), ["5", "3", "2"])
        self.click_cell(1, 1)
        self.copy_elsewhere("7\n8\n9\n")
        self.key("ctrl+v")
        self.assertEqual(self.cells("F"), ["5", "7", "8", "9"])
        self.assertEqual(self.panel_points(), 3)
        self.click_cell(0, 0)
        self.key("shift+Right", "shift+Down", "ctrl+c")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.assertEqual(clipboard.text(), "0\t5\n1\t7")
        html = "<table><tr><td>G</td></tr><tr><td>1.5</td></tr><tr><td>2.5</td></tr></table>"
        self.copy_elsewhere("G 1.5 2.5", html)
        self.window.menus.actions["paste-columns"].trigger()
        self.settle()
        self.assertEqual(self.cells("G"), ["1.5", "2.5", "", ""])

    def test_a_unit_is_converted_and_the_title_follows(self) -> None:
        self.open(self.write("profile.csv", demo_text("depth-profile")))
        self.assertEqual(self.titles()["x-title"], "Temperature / °C")
        self.column_menu(1, "Convert to another unit")
        self.wait_until(lambda: self._dialogs(QInputDialog), "units were looked up")
        dialog = self.dialog(QInputDialog)
        self.assertEqual(dialog.comboBoxItems(), ["K", "°F"])
        self.assertTrue(dialog.isComboBoxEditable(), "any other one can be typed")
        self.pause()
        self.key("Return")
        self.settle()
        self.assertEqual(self.titles()["x-title"], "Temperature / K")
        self.assertAlmostEqual(float(self.cells("Temperature")[0]), 292.61, 0)
        # name and unit are typed over the head
        viewport = self.grid.heads.viewport()
        assert viewport is not None
        rect = self.grid.heads.section_rect(1)
        self.double_click_at(viewport, QPointF(rect.left() + 30, 14))
        self.key("ctrl+a")
        self.type("Warmth (kelvins)\n")
        self.assertEqual(self.titles()["x-title"], "Warmth / kelvins")

    def test_a_growing_file_is_followed(self) -> None:
        path = self.write("logger.csv", "Minute,Level (m)\n0,1.5\n1,1.6\n2,1.4\n")
        self.open(path)
        self.column_menu(1, "Compute a column")
        dialog = self.dialog(FormulaDialog)
        self.type("Level * 100")
        self.click_at(dialog.name)
        self.type("higher")
        self.accept(dialog, "Compute")
        with path.open("a") as file:
            file.write("3,1.7\n")
        self.wait_until(lambda: not self.panes.message.isHidden(), "the change was noticed")
        self.assertIn("logger.csv has changed", self.panes.message.label.text())
        self.click_at(self.panes.message.buttons["Follow it"])
        self.wait_until(lambda: self.table.row_count == 4, "the file was read again")
        with path.open("a") as file:
            file.write("4,1.8\n5,1")
        self.wait_until(lambda: self.table.row_count == 5, "it was followed")
        self.pause(0.5)
        self.assertEqual(self.table.row_count, 5, "half a line is waited for")
        with path.open("a") as file:
            file.write(".9\n")
        self.wait_until(lambda: self.table.row_count == 6, "the line was read whole")
        self.assertEqual(self.cells("higher"), ["150", "160", "140", "170", "180", "190"])
        self.assertEqual(self.panel_points(), 6)

    def test_correlations_lead_to_the_scatter(self) -> None:
        self.window.open_demo("lake-survey")
        self.settle()
        self.window.menus.actions["correlations"].trigger()
        self.settle()
        view = self.dialog(CorrelationView)
        names = view.matrix.found.names if view.matrix.found else ()
        at = view.matrix.cell_rect(names.index("Oxygen"), names.index("Conductivity")).center()
        self.click_at(view.matrix, at)
        series = self.panes.paper
        self.assertEqual(self.titles()["y-title"], "Oxygen / mg/L")
        self.assertEqual(self.titles()["x-title"], "Conductivity / µS/cm")
        self.assertTrue(series.drawing and series.drawing.panels[0].equations)
        view.method.chosen.emit("spearman")
        self.settle()
        self.assertIn("Spearman", view.method.text())
        view.close()

    def test_a_head_is_reached_without_a_mouse(self) -> None:
        self.open(self.write("a.csv", "b,a\n3,1\n1,2\n2,3\n"))
        self.key("F6")
        self.grid.select_cell(0, 0)
        self.key("ctrl+m")
        menu = self.popup()
        self.take(menu, "Sort rows, rising")
        self.assertEqual(self.cells("a"), ["2", "3", "1"])
        self.assertEqual(Qt.SortOrder.AscendingOrder.value, 0)
