"""The statement as text in a real window: typed from nothing, pasted, one word changed."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QMessageBox

from sornix.core.statement import write_statement
from sornix.demo import demo_text
from sornix.gui.dialogs.historyview import HistoryView
from sornix.gui.statement.astext import StatementText
from tests.qt import QTest, WindowTest

_CTRL = Qt.KeyboardModifier.ControlModifier
_KEYS = Qt.Key


class Words(WindowTest):
    @property
    def text(self) -> StatementText:
        return self.panes.text

    def open_file(self, name: str, text: str) -> None:
        path = self.write(name, text)
        if self.window.bench.has_unsaved_changes:
            self.window.open_path(path)
            self.answer(QMessageBox.StandardButton.Discard)
        else:
            self.window.open_path(path)
        self.wait_until(
            lambda: self.window.bench.name == name.split(".", maxsplit=1)[0], f"{name} is open"
        )

    def open_text(self) -> None:
        self.window.frame.activateWindow()
        self.window.menus.actions["statement-text"].trigger()
        self.wait_until(self.text.editor.hasFocus, "the text can be typed into")

    def type_in(self, words: str) -> None:
        """Letters and line ends, one key each."""
        for line, part in enumerate(words.split("\n")):
            if line:
                self.text.editor.offers.hide()
                QTest.keyClick(self.text.editor, _KEYS.Key_Return)
            QTest.keyClicks(self.text.editor, part)
        self.text.editor.offers.hide()
        QApplication.processEvents()

    def said(self) -> list[str]:
        document = self.document
        return write_statement(document.figure, document.tables, plotted=True).splitlines()

    def test_a_whole_figure_typed_from_nothing(self) -> None:
        self.open_file("standards.csv", demo_text("nitrate-standards"))
        before = self.document
        self.open_text()
        editor = self.text.editor
        QTest.keyClick(editor, _KEYS.Key_A, _CTRL)
        QTest.keyClick(editor, _KEYS.Key_Delete)
        # columns and words are offered, and taken by the keyboard
        QTest.keyClicks(editor, "P")
        last = editor.offers.count() - 1
        self.assertGreater(last, 1)
        for key, row in ((_KEYS.Key_Down, 1), (_KEYS.Key_Up, 0), (_KEYS.Key_Up, last),
                         (_KEYS.Key_Down, 0)):  # fmt: skip
            QTest.keyClick(editor, key)
            self.assertEqual(editor.offers.currentRow(), row)
        QTest.keyClicks(editor, "lot Abs")
        self.assertTrue(editor.offers.isVisible())
        QTest.keyClick(editor, _KEYS.Key_Tab)
        self.assertEqual(editor.toPlainText(), "Plot Absorbance at 220 nm")
        self.type_in(" against Nitrate concentration as points\nTrend strai")
        self.assertIn("line 2, character 7", self.text.message.text())
        self.type_in("ght line with equation")
        self.assertEqual(self.text.message.text(), "")
        # the figure has followed, and nothing is a step yet
        scene = self.window.bench.scene
        assert scene is not None
        self.assertEqual(scene.figure.panel.trends[0].shows, ("equation",))
        self.assertEqual(self.document, before)
        self.type_in('\nx from 0 to 15 every 5\nTitle "March"')
        QTest.keyClick(editor, _KEYS.Key_Return, _CTRL)
        self.assertTrue(self.panes.statement.isVisible())
        self.assertEqual(self.said(), [
            "Plot Absorbance at 220 nm against Nitrate concentration, as points",
            "x from 0 to 15 every 5", "Trend straight line with equation", 'Title "March"',
        ])  # fmt: skip
        # one step for the stay
        self.window.menus.actions["undo"].trigger()
        self.assertEqual(self.document, before)

    def test_one_word_is_changed_and_taken_back(self) -> None:
        self.open_file("standards.csv", demo_text("nitrate-standards"))
        before = self.document
        self.open_text()
        self.type_in("\ny to 2 evry 1")
        self.assertIn("“evry”", self.text.message.text())
        self.assertTrue(self.text.editor.extraSelections())
        # leaving with an error stays, and what is offered is put there by a click
        self.click(self.text.words)
        self.assertTrue(self.text.isVisible())
        self.click(self.text.offered[0])
        self.assertIn("y to 2 every 1", self.text.editor.toPlainText())
        QApplication.processEvents()
        self.click(self.text.words)
        self.assertIn("y to 2 every 1", self.said())
        self.open_text()
        self.type_in("\nFigure for slides")
        QTest.keyClick(self.text.editor, _KEYS.Key_Escape)
        self.assertFalse(self.text.isVisible())
        self.assertEqual(self.figure.style, "report")
        # the history tells it in words, and goes back there
        self.window.menus.actions["history"].trigger()
        view = self.dialog(HistoryView)
        self.wait_until(lambda: not view.left, "all steps are told")
        item = view.list.topLevelItem(1)
        assert item is not None
        self.assertEqual((item.text(0), item.text(1)),
                         ("changed the statement  ← here", "+ y to 2 every 1"))  # fmt: skip
        view.list.setCurrentItem(view.list.topLevelItem(0))
        assert view.there is not None
        self.click(view.there)
        self.assertEqual(self.document, before)
        self.window.menus.actions["redo"].trigger()
        self.assertIn("y to 2 every 1", self.said())

    def test_a_statement_goes_from_one_run_onto_another(self) -> None:
        self.open_file("standards.csv", demo_text("nitrate-standards"))
        self.open_text()
        self.type_in("\nTrend straight line with equation\nx from 0")
        self.click(self.text.words)
        self.window.menus.actions["copy-statement"].trigger()
        other = demo_text("nitrate-standards").replace("Absorbance at 220 nm", "Absorbance 220 nm")
        self.open_file("second.csv", other)
        self.window.menus.actions["paste-statement"].trigger()
        # a near miss is asked about, at its place
        self.assertIn("no such column", self.text.message.text())
        self.assertEqual(self.text.offered[0].text(), "“Absorbance 220 nm”")
        self.click(self.text.offered[0])
        QApplication.processEvents()
        self.click(self.text.words)
        self.assertEqual(self.said()[1:], ["x from 0", "Trend straight line with equation"])
        self.assertEqual(self.panel.series[0].y, "Absorbance 220 nm")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("")
        self.window.menus.actions["paste-statement"].trigger()
        self.assertIn("no text", self.panes.message.label.text())
