"""A person's whole way through a real window: from a file to a figure, and back again."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QMessageBox

from sornix.core.drawing import Text
from sornix.gui.dialogs.exportdialog import ExportDialog
from tests.qt import QTest, WindowTest

_CTRL = Qt.KeyboardModifier.ControlModifier
_SHIFT = Qt.KeyboardModifier.ShiftModifier

READINGS = """Row,Nitrate concentration (mg/L),Absorbance at 220 nm,Turbidity (NTU)
1,0,0.003,0.001
2,1,0.071,0.012
3,2,0.148,0.018
4,4,0.291,0.041
5,6,0.427,0.058
6,8,0.579,0.083
7,10,0.709,0.096
8,12,0.861,0.124
"""


class FirstLight(WindowTest):
    def picture(self) -> QImage:
        QApplication.processEvents()
        return self.panes.paper.grab().toImage()

    def test_from_a_file_to_a_figure_and_back(self) -> None:
        self.assertEqual(QApplication.platformName(), "xcb", "journeys need a real window")
        self.write("run.csv", READINGS)
        self.click(self.window.frame.start.findChildren(type(self.window.frame.export))[0])
        self.name_file(self.folder / "run.csv")
        # drawn as a colleague would: the numbers of rows are not
        series = self.panel.series[0]
        self.assertEqual((series.x, series.y), ("Nitrate concentration", "Absorbance at 220 nm"))
        self.assertIn("“Nitrate concentration” goes one way", self.panes.reason.label.text())
        states = [self.document]

        # what is plotted against what, through the statement
        plot = self.panes.statement.plots[0]
        for word, column in ((plot.y_word, "Turbidity"), (plot.x_word, "Row"),
                             (plot.y_word, "Absorbance at 220 nm"),
                             (plot.x_word, "Nitrate concentration")):  # fmt: skip
            self.choose(word, column)
            states.append(self.document)
        series = self.panel.series[0]
        self.assertEqual((series.x, series.y), ("Nitrate concentration", "Absorbance at 220 nm"))

        # the other way round, with titles following, and back
        self.click(plot.swap)
        states.append(self.document)
        drawing = self.panes.paper.drawing
        assert drawing is not None
        titles = {i.of: i.runs[0].text for i in drawing.items if isinstance(i, Text)}
        self.assertEqual(titles["x-title"], "Absorbance at 220 nm")
        self.click(plot.swap)
        states.append(self.document)

        # range and step
        scale = self.panes.statement.scales["x"].fields
        for part, text in (("start", "0"), ("end", "12.5"), ("step", "2.5")):
            self.type_into(scale[part].field, text)
            states.append(self.document)
        x = self.panel.x
        self.assertEqual((x.start, x.end, x.step), (0, 12.5, 2.5))

        # the trend
        self.choose(self.panes.statement.trends[0].model, "straight line")
        states.append(self.document)
        self.assertIn("c +", self.panes.caption.label.text())
        self.choose(self.panes.statement.trends[0].shows, "n")
        states.append(self.document)
        self.assertEqual(self.panel.trends[0].shows, ("equation", "r-squared"))
        final = self.picture()

        # all of it undone, all of it done again
        for state in reversed(states[:-1]):
            self.keys(Qt.Key.Key_Z, _CTRL)
            self.assertEqual(self.document, state)
        self.assertFalse(self.window.frame.undo.isEnabled())
        self.assertNotEqual(self.picture(), final)
        for state in states[1:]:
            self.keys(Qt.Key.Key_Z, _CTRL, _SHIFT)
            self.assertEqual(self.document, state)
        self.assertEqual(self.picture(), final)

        # saved, closed, opened again
        self.keys(Qt.Key.Key_S, _CTRL)
        path = self.folder / "calibration.sornix"
        self.name_file(path)
        self.assertEqual(self.window.frame.footer.state.text(), "saved")
        saved = self.document
        self.window.close()
        self.assertFalse(self.window.frame.isVisible())
        self.window = self.new_window()
        self.keys(Qt.Key.Key_O, _CTRL)
        self.name_file(path)
        self.assertEqual(self.document, saved)
        self.assertEqual(self.picture(), final)

        # and out
        self.keys(Qt.Key.Key_E, _CTRL)
        dialog = self.dialog(ExportDialog)
        QTest.keyClicks(dialog.name, "figure")
        self.assertIn("992 × 744 dots", dialog.told[".png"].text())
        QTest.keyClick(dialog.name, Qt.Key.Key_Return)
        self.settle()
        exported = QImage(str(self.folder / "figure.png"))
        self.assertEqual(exported.width(), 992)
        self.assertEqual(exported.text("Description"), self.window.bench.scene.caption)  # type: ignore[union-attr]

    def test_nothing_is_lost_on_closing(self) -> None:
        self.open(self.write("run.csv", READINGS))
        self.window.close()
        self.assertFalse(self.window.frame.isVisible(), "nothing was done, so nothing is asked")
        self.window = self.new_window()
        self.open(self.folder / "run.csv")
        self.click(self.panes.statement.plots[0].swap)
        swapped = self.document
        self.window.close()
        self.answer(QMessageBox.StandardButton.Cancel)
        self.assertTrue(self.window.frame.isVisible())
        self.open(self.folder / "run.csv")
        self.answer(QMessageBox.StandardButton.Cancel)
        self.assertEqual(self.document, swapped)
        self.window.close()
        self.answer(QMessageBox.StandardButton.Save)
        self.name_file(self.folder / "kept.sornix")
        self.assertTrue((self.folder / "kept.sornix").exists())
        self.click(self.panes.statement.plots[0].swap)
        self.window.close()
        self.answer(QMessageBox.StandardButton.Discard)
        self.assertFalse(self.window.frame.isVisible())
