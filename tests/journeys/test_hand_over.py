"""By keyboard alone: from a file to an exported PDF, and new readings into a saved pattern."""

import subprocess

from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QMenu

from sornix.core.document import load_document
from sornix.core.figure import NoteBox, TrendLabel
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.gui.statement.wordlines import Chosen
from tests.journeys.hands import FigureHandsTest

_FIRST = "Nitrate (mg/L),Absorbance\n" + "".join(
    f"{x},{0.071 * x + 0.003 * (x % 3):.3f}\n" for x in range(0, 13, 2)
)
_NEXT = "nitrate [mg/L],Absorbance 220\n" + "".join(
    f"{x},{0.065 * x + 0.002 * (x % 3):.3f}\n" for x in range(0, 15, 2)
)


class ByKeyboard(FigureHandsTest):
    def _act(self, words: str) -> None:
        """Finds an act by its name, and does it."""
        self.key("ctrl+k")
        self.type(words)
        self.key("Return")
        self.settle()

    def _answer_file(self, name: str) -> None:
        """Types a path into the file dialog that is open."""
        self.wait_until(lambda: self._dialogs(QFileDialog), "a file was asked for")
        self.pause()
        self.type(str(self.folder / name))
        self.key("Return")
        self._come_back()

    def _come_back(self) -> None:
        """Gives the window the keyboard after a dialog, as a window manager does."""
        self.settle()
        self.window.frame.activateWindow()
        self.pause()

    def test_from_a_file_to_a_pdf(self) -> None:
        (self.folder / "run-1.csv").write_text(_FIRST)
        self.key("ctrl+o")
        self._answer_file("run-1.csv")
        self.assertEqual(self.figure.panel.series[0].y, "Absorbance")
        self._act("straight line")
        self.key("F2")
        self.type("Nitrate standards, run 1\n")
        self._act("style for slides")
        self.assertEqual(self.figure.style, "slide")
        # the upper end of y is held from the strip
        self.panes.paper.setFocus()
        self.key("y")
        self.key("Tab")
        self.type("1\n")
        self.key("Escape")
        self.assertEqual(self.figure.panel.y.end, 1.0)
        # a reading is walked to and noted on
        self.key("Home", "Right", "n")
        self.type("second standard\n")
        self.assertEqual(self.figure.panel.notes[0].row, 1)
        self.key("Left", "Up", "Escape")
        self.assertIsNotNone(self.figure.panel.notes[0].spot)
        self.key("ctrl+e")
        dialog = self.dialog(ExportDialog)
        self.pause()
        self.type("figure")
        self.key("alt+p", "alt+d")
        ticked = dialog.formats[".pdf"]
        self.wait_until(ticked.isChecked, "PDF was ticked")
        self.assertEqual(dialog.chosen().export.endings, (".pdf",))
        self.key("Return")
        self._come_back()
        made = self.folder / "figure.pdf"
        text = subprocess.run(
            ["pdftotext", "-layout", made, "-"], capture_output=True, text=True, check=True
        ).stdout
        for said in ("Nitrate standards, run 1", "Nitrate / mg/L", "second standard", "R2 ="):
            self.assertIn(said, text)

    def test_new_readings_into_a_saved_pattern(self) -> None:
        (self.folder / "run-1.csv").write_text(_FIRST)
        (self.folder / "run-2.csv").write_text(_NEXT)
        self.key("ctrl+o")
        self._answer_file("run-1.csv")
        self._act("straight line")
        self.key("F2")
        self.type("Standards of {file}\n")
        self._act("save as a pattern")
        self._answer_file("pattern.sornix")
        content = (self.folder / "pattern.sornix").read_bytes()
        self.key("ctrl+s")
        self._answer_file("run-1.sornix")
        # the next day
        self.window.close()
        self.window = self.new_window()
        self.window.frame.move(0, 0)
        self.pause()
        self.key("ctrl+o")
        self._answer_file("pattern.sornix")
        self.assertIn("This is a pattern", self.panes.message.label.text())
        self.key("ctrl+shift+o")
        self._answer_file("run-2.csv")
        dialog = self.dialog(MatchDialog)
        self.pause()
        self.assertEqual(set(dialog.names.values()), {"nitrate", "Absorbance 220"})
        self.assertIsInstance(QApplication.focusWidget(), QComboBox)
        self.key("Return")
        self._come_back()
        self.assertEqual(len(self.figure.panel.trends), 1)
        self.key("ctrl+s")
        self._answer_file("run-2.sornix")
        made = load_document(self.folder / "run-2.sornix")
        self.assertEqual((made.pattern, made.tables[0].row_count), (False, 8))
        self.assertEqual(made.figure.said(made.figure.title), "Standards of run-2")
        self.assertEqual((self.folder / "pattern.sornix").read_bytes(), content)


class ByHand(FigureHandsTest):
    def test_notes_pins_styles_and_places(self) -> None:
        self.begin("nitrate-standards")
        self.key("ctrl+l")
        line = self.panes.statement.figure_line
        first = self.figure
        self.choose(line.more, "a note")
        self.type("blanks below here\n")
        note = self.figure.panel.notes[0]
        self.assertEqual(self.panes.selection.in_hand, NoteBox(note.id))
        # dragged: it snaps to the left edge of the data area, and its square puts it back
        drawing = self.paper.drawing
        assert drawing is not None
        box = drawing.box_of(NoteBox(note.id))
        assert box is not None
        scale = self.paper.pixels_per_mm
        begin = self.on(NoteBox(note.id), 0.5, 0.5)
        shift = QPointF(drawing.place.inner.left - box.left + 0.4, 17 - box.top) * scale
        self.drag(self.paper, begin, begin + shift)
        spot = self.figure.panel.notes[0].spot
        assert spot is not None
        self.assertAlmostEqual(spot.x, 0.0, 4)
        corner = self.on(NoteBox(note.id), 0.0, 0.0) - QPointF(0.4, 0.4) * scale
        self.click_at(self.paper, corner)
        self.assertIsNone(self.figure.panel.notes[0].spot)
        # a reading is pinned from its menu, and another place from its own
        self.click_at(self.paper, self.paper.pixel(6.0, 0.431), 3)
        self._take("Pin the reading in hand (key P on the figure)")
        self.click_at(self.paper, self.paper.pixel(10.0, 0.15), 3)
        self._take("Pin this place")
        pins = [n for n in self.figure.panel.notes if not n.text]
        self.assertEqual((pins[0].row is not None, round(pins[1].x or 0)), (True, 10))
        self.happens(lambda: "Between pins" in self.panes.results.text, 30)
        self.assertRegex(self.panes.results.text, r"along x\t(3\.9|4\.0)\d+ mg/L")
        # one word makes it a slide, its sizes follow
        self.choose(line.purpose, "for slides")
        self.assertEqual((self.figure.width_mm, self.figure.style), (254.0, "slide"))
        self.choose(line.extent, "half a slide, 124 × 124 mm")
        self.click_at(line.further)
        choices = self.panes.statement.choices
        assert choices is not None
        colours = choices.parts["Colours"]
        assert isinstance(colours, Chosen)
        self.choose(colours.word, "greys")
        self.click_at(line.free)
        self.assertEqual(self.figure.choices.palette, "")
        # the equation is dragged and put back by a double-click
        label = self.on(TrendLabel("t1"), 0.5, 0.3)
        self.drag(self.paper, label, label + QPointF(-30, -25))
        self.assertIsNotNone(self.figure.panel.trends[0].spot)
        self.double_click_at(self.paper, self.on(TrendLabel("t1"), 0.5, 0.3))
        self.assertIsNone(self.figure.panel.trends[0].spot)
        for _ in range(20):
            if self.figure == first:
                break
            self.key("ctrl+z")
        self.assertEqual(self.figure, first)

    def _take(self, words: str) -> None:
        """Clicks an entry of the menu that is open."""
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        action = next(a for a in menu.actions() if a.text() == words)
        self.take_entry(menu, menu.actionGeometry(action).center())
