"""The window hands over: exports, other readings, patterns, notes, preferences, safety copies."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from attrs import evolve
from pypdf import PdfReader
from PyQt6.QtCore import QPointF, QRect, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton

from sornix.core import figure as edits
from sornix.core.document import load_document, save_document
from sornix.core.document.stored.safetycopy import LeftCopy, SafetyCopy, Work, left_behind
from sornix.core.figure import (
    STYLE_NAMES,
    AxisTitle,
    GuideBox,
    NoteBox,
    Title,
    TrendLabel,
    size_name,
)
from sornix.gui.actions.saving import HindranceDialog
from sornix.gui.base.preferences import PREFERENCES, PreferencesDialog, preferred
from sornix.gui.canvas.gestures import drag_of, snap
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.dialogs.matchdialog import MatchDialog
from sornix.gui.dialogs.printing import PrintDialog
from sornix.gui.dialogs.recovery import RecoveryDialog
from sornix.gui.shell.autosave import Autosave
from sornix.gui.shell.tips import TIPS, Bubble, Tips
from sornix.gui.widgets.question import Question
from sornix.gui.widgets.symbolfinder import SymbolFinder
from tests.qt import QTest, WindowTest

_KEYS = Qt.Key


def _run(number: int, header: str = "Nitrate concentration (mg/L),Absorbance at 220 nm") -> str:
    rows = (f"{x},{0.07 * x + 0.01 * number + 0.002 * (x % 3):.4f}" for x in range(0, 13, 2))
    return header + "\n" + "\n".join(rows) + "\n"


_ENTRIES = {preference.name: preference.entries for preference in PREFERENCES}


class HandOver(WindowTest):
    demo = "nitrate-standards"

    @property
    def message(self) -> str:
        bar = self.panes.message
        return bar.label.text() if bar.isVisible() else ""

    def _write(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return path

    # -- out -----------------------------------------------------------------------------------

    def _export_dialog(self) -> ExportDialog:
        self.window.hand_over.ask_export()
        self.settle()
        dialog = self.window.hand_over.dialog
        assert isinstance(dialog, ExportDialog)
        return dialog

    def test_several_formats_at_once_with_what_they_come_to(self) -> None:
        dialog = self._export_dialog()
        for ending in (".svg", ".csv"):
            dialog.formats[ending].setChecked(True)
        dialog.width_px.setText("1680")
        dialog.name.setText("out")
        self.assertIn("1680 × 1260 dots, 508 to the inch", dialog.told[".png"].text())
        self.assertIn("out-straight-line.csv", dialog.summary.text())
        dialog.export.click()
        self.settle()
        written = sorted(path.name for path in self.folder.glob("out*"))
        self.assertEqual(written, ["out-absorbance-at-220-nm.csv", "out-straight-line.csv",
                                   "out.png", "out.svg"])  # fmt: skip
        self.assertEqual(QImage(str(self.folder / "out.png")).width(), 1680)
        # remembered with the document, without a step of history
        self.assertEqual(self.document.export.endings, (".png", ".svg", ".csv"))
        self.assertFalse(self.window.bench.has_unsaved_changes)
        again = self._export_dialog()
        self.assertEqual(again.width_px.text(), "1680")
        again.name.setText("out")
        self.assertIn("Replaces out.png", again.summary.text())
        again.reject()

    def test_what_cannot_be_exported_is_said_at_once(self) -> None:
        dialog = self._export_dialog()
        changes: list[tuple[Callable[[], None], str]] = [
            (lambda: dialog.dots.setText("5"), "20 to 2400"),
            (lambda: dialog.dots.setText("many"), "not a number"),
            (lambda: dialog.dots.setText("300"), ""),
            (lambda: dialog.folder.setText("/no/such"), "There is no folder"),
            (lambda: dialog.folder.setText(str(self.folder)), ""),
            (lambda: dialog.name.setText(" "), "a name"),
            (lambda: dialog.name.setText("a.png"), ""),
            (lambda: dialog.formats[".png"].setChecked(False), "at least one format"),
        ]
        for change, said in changes:
            change()
            self.assertEqual(dialog.export.isEnabled(), not said)
            self.assertIn(said or "Writes", dialog.summary.text())
        dialog.reject()

    def test_a_sheet_is_printed_as_it_is_shown(self) -> None:
        self.window.hand_over.ask_print()
        dialog = self.window.hand_over.dialog
        assert isinstance(dialog, PrintDialog)
        self.assertIn("84 × 63 mm on the sheet", dialog.said.text())
        dialog.size_word.setCurrentIndex(1)
        self.assertIn("180 × 135 mm", dialog.said.text())
        dialog.print_to(self.folder / "sheet.pdf")
        self.assertTrue((self.folder / "sheet.pdf").read_bytes().startswith(b"%PDF"))
        self.assertIn("sheet.pdf", self.window.frame.footer.state.text())
        # what just fits across an upright sheet stands on it, and what does not lies
        for width, lies in ((180.0, 0), (180.5, 1)):
            self.window.edit("size", partial(edits.set_size, width_mm=width, height_mm=90.0))
            self.window.hand_over.ask_print()
            assert isinstance(self.window.hand_over.dialog, PrintDialog)
            self.assertEqual(self.window.hand_over.dialog.way.currentIndex(), lies)
            self.window.hand_over.dialog.close()

    def test_a_sheet_is_printed_to_a_file_that_is_named(self) -> None:
        self.act("print")
        dialog = self.dialog(PrintDialog)
        (button,) = [b for b in dialog.findChildren(QPushButton) if "PDF" in b.text()]
        self.click(button)
        self.name_file(self.folder / "by hand")
        sheet = PdfReader(self.folder / "by hand.pdf").pages[0].mediabox
        self.assertEqual([round(float(side) / 72 * 25.4) for side in sheet[2:]], [210, 297])

    # -- in ------------------------------------------------------------------------------------

    def test_other_readings_come_into_the_figure(self) -> None:
        self.window.edit("held", lambda f: edits.hold(f, self.document.tables, "x", end=14.0))
        before = self.document
        self.window.hand_over.replace_readings(self._write("run-2.csv", _run(2)))
        self.settle()
        self.assertEqual(self.document.tables[0].name, "run-2")
        self.assertEqual(self.panel.x.end, 14.0)
        self.window.bench.undo()
        self.assertEqual(self.document, before)

    def test_columns_that_come_near_are_asked_about(self) -> None:
        header = "Nitrate (mg/L),Absorbance"
        self.window.hand_over.replace_readings(self._write("run-3.csv", _run(3, header)))
        self.settle()
        dialog = self.window.hand_over.dialog
        assert isinstance(dialog, MatchDialog)
        self.assertEqual(dialog.names, {"Nitrate concentration": "Nitrate",
                                        "Absorbance at 220 nm": "Absorbance"})  # fmt: skip
        dialog.answers["Nitrate concentration"].setCurrentText("Absorbance")
        self.assertFalse(dialog.draw.isEnabled())
        dialog.answers["Nitrate concentration"].setCurrentText("Nitrate")
        dialog.draw.click()
        self.settle()
        self.assertEqual(self.document.tables[0].row_count, 7)
        before = self.document
        for text, said in (("depth\n1\n2\n", "no column like"), ("", "empty")):
            self.window.hand_over.replace_readings(self._write("other.csv", text))
            self.settle()
            self.assertIn(said, self.message)
            self.assertEqual(self.document, before)
        # where nothing tells which is meant, nothing is chosen
        other = self._write("other.csv", "depth,colour\n1,2\n2,4\n3,5\n")
        self.window.hand_over.replace_readings(other)
        self.settle()
        dialog = self.window.hand_over.dialog
        assert isinstance(dialog, MatchDialog)
        self.assertEqual((set(dialog.names.values()), dialog.draw.isEnabled()), ({""}, False))
        for name, column in zip(dialog.answers, ("depth", "colour"), strict=True):
            dialog.answers[name].setCurrentText(column)
        self.assertTrue(dialog.draw.isEnabled())
        dialog.reject()
        self.settle()
        self.assertEqual(self.document, before)

    def test_a_pattern_asks_for_readings_and_stays_as_it_is(self) -> None:
        self.window.saving.save_pattern()
        self.name_file(self.folder / "calibration.sornix")
        path = self.folder / "calibration.sornix"
        content = path.read_bytes()
        self.assertTrue(load_document(path).pattern)
        self.open(path)
        self.assertIn("This is a pattern for readings with the columns “Nitrate", self.message)
        self.assertIn("Choose readings…", self.panes.message.buttons)
        self.assertEqual((self.window.bench.path, self.document.pattern), (None, False))
        runs = [self._write(f"run-{i}.csv", _run(i)) for i in range(4)]
        runs.append(self._write("broken.csv", "x,y\n1,2\n"))
        self.window.hand_over.draw_small_panels(runs)
        self.settle()
        self.assertEqual(len(self.figure.panels), 4)
        self.assertIn("broken.csv: There is no column “Nitrate concentration”", self.message)
        self.assertEqual(path.read_bytes(), content)

    # -- what is written -----------------------------------------------------------------------

    def test_texts_are_placed_by_keys_and_put_back(self) -> None:
        paper = self.panes.paper
        paper.setFocus()
        first = self.figure
        taken = []
        for _ in range(4):
            QTest.keyClick(paper, _KEYS.Key_L)
            taken.append(self.panes.selection.in_hand)
        self.assertEqual(set(taken), {Title(), TrendLabel("t1"), AxisTitle("x"), AxisTitle("y")})
        self.panes.selection.take(Title())
        QTest.keyClick(paper, _KEYS.Key_Right)
        QTest.keyClick(paper, _KEYS.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        spot = self.figure.title_spot
        assert spot is not None and paper.drawing is not None
        box = paper.drawing.box_of(Title())
        assert box is not None
        self.assertAlmostEqual(box.left, spot.x * 84, 3)
        QTest.keyClick(paper, _KEYS.Key_Backspace)
        self.assertEqual(self.figure, first)
        # a reading in hand is pinned, noted on, and its note removed
        self.panes.selection.take(None)
        QTest.keyClick(paper, _KEYS.Key_Home)
        QTest.keyClick(paper, _KEYS.Key_P)
        note = self.panel.notes[0]
        self.assertEqual((note.row, note.text), (0, ""))
        QTest.keyClick(paper, _KEYS.Key_P)
        self.assertEqual(self.figure, first)
        QTest.keyClick(paper, _KEYS.Key_N)
        field = next(e for e in paper.findChildren(QLineEdit) if e.isVisible())
        QTest.keyClicks(field, "blank, {mu}")
        QTest.keyClick(field, _KEYS.Key_J, Qt.KeyboardModifier.ControlModifier)
        finder = self.window.frame.findChildren(SymbolFinder)[-1]
        QTest.keyClicks(finder.field, "at most")
        QTest.keyClick(finder.field, _KEYS.Key_Return)
        self.assertEqual(field.text(), "blank, {mu}≤")
        QTest.keyClick(field, _KEYS.Key_Return)
        note = self.panel.notes[0]
        self.assertEqual((note.row, note.text), (0, "blank, {mu}≤"))
        self.assertEqual(self.panes.selection.in_hand, NoteBox(note.id))
        QTest.keyClick(paper, _KEYS.Key_Delete)
        self.assertEqual(self.figure, first)

    def test_what_is_dragged_snaps_to_what_it_comes_in_line_with(self) -> None:
        paper = self.panes.paper
        drawing = paper.drawing
        assert drawing is not None
        inner = drawing.place.inner
        title = drawing.box_of(Title())
        assert title is not None
        near = title._replace(left=inner.left + 0.05, top=inner.top + 9.0)
        box, lines = snap(drawing, Title(), near)
        self.assertAlmostEqual(box.left, inner.left)
        self.assertIn(("x", inner.left), lines)
        far = title._replace(left=inner.left + 5.3, top=title.top + 20.0)
        self.assertNotIn("x", [axis for axis, _ in snap(drawing, Title(), far)[1]])

    def test_lines_at_values_are_dragged_and_named(self) -> None:
        tables = self.document.tables
        self.window.edit("line", lambda f: edits.add_guide(f, tables, "y", 0.4, label="limit"))
        self.window.edit("range", lambda f: edits.add_guide(f, tables, "x", 2.0, 5.0))
        paper, bench = self.panes.paper, self.window.bench
        for name, begin, end in (("g1", (6.0, 0.4), (6.0, 0.7)), ("g2", (4.0, 0.1), (6.0, 0.1))):
            points = [paper.point(paper.pixel(*place)) for place in (begin, end)]
            assert paper.drawing is not None
            drag = drag_of(bench, paper.drawing, GuideBox(name), points[0], self.figure,
                           self.document.tables)  # fmt: skip
            assert drag is not None
            drag.move(points[1])
            drag.finish()
        line, band = self.panel.guides
        self.assertAlmostEqual(line.value, 0.7, 2)
        self.assertAlmostEqual(band.value, 4.0, 1)
        self.assertAlmostEqual((band.end or 0) - band.value, 3.0, 9)
        self.panes.editor.writing.edit_text(GuideBox("g1"))
        field = next(e for e in paper.findChildren(QLineEdit) if e.isVisible())
        self.assertEqual(field.text(), "limit")
        self.type_into(field, "limit of the method")
        self.assertEqual(self.panel.guides[0].label, "limit of the method")

    def test_the_methods_text_is_shown_and_kept_in_step(self) -> None:
        bar = self.panes.caption
        self.assertIn("ordinary least squares", bar.label.text())
        bar.other.click()
        self.assertIn("22 degrees of freedom", bar.label.text())
        self.window.at_reading.leave_out((3,), "bubble")
        self.assertIn("21 degrees of freedom", bar.label.text())
        bar.begin()
        bar.editor.setPlainText("Fitted by hand.")
        QTest.keyClick(bar.editor, _KEYS.Key_Return)
        self.assertEqual(self.figure.methods, "Fitted by hand.")
        self.assertEqual(bar.area.height(), bar.label.fontMetrics().lineSpacing())
        bar.write.click()
        self.assertIsNone(self.figure.methods)
        self.window.menus.actions["copy-methods"].trigger()
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        self.assertEqual(clipboard.text(), bar.label.text())
        self.window.menus.actions["caption"].trigger()
        self.assertIn("Absorbance at 220 nm against", bar.editor.toPlainText())
        QTest.keyClick(bar.editor, _KEYS.Key_Escape)
        # what has two sides is turned on and off from the menu
        for name, value in (("decimal", "comma"), ("units", "brackets")):
            act = self.window.menus.actions[f"choice/{name}"]
            act.trigger()
            self.assertEqual(getattr(self.figure.choices, name), value)
            self.assertTrue(act.isChecked())
            act.trigger()
            self.assertNotEqual(getattr(self.figure.choices, name), value)

    def test_one_word_styles_and_a_style_of_ones_own(self) -> None:
        line = self.panes.statement.figure_line
        for name in STYLE_NAMES:
            line.purpose.chosen.emit(name)
            self.assertEqual(self.figure.style, name)
        line.purpose.chosen.emit("slide")
        self.window.edit("held", lambda f: edits.choose(f, line_mm=1.2))
        self.assertTrue(line.free.isVisible())
        line.purpose.chosen.emit("another")
        dialog = self.dialog(Question)
        dialog.setTextValue("Lecture")
        dialog.accept()
        line.purpose.chosen.emit("report")
        line.purpose.chosen.emit("Lecture")
        self.assertEqual((self.figure.choices.line_mm, size_name(self.figure)),
                         (1.2, "slide"))  # fmt: skip
        second = self.new_window()
        self.assertEqual([style.name for style in second.bench.styles], ["Lecture"])

    # -- the window itself -----------------------------------------------------------------------

    def test_preferences_hold_for_new_figures(self) -> None:
        dialog = PreferencesDialog(self.window.frame, self.window.settings, self.window._preferred)  # noqa: SLF001
        for name, value in (("style", "grey"), ("size", "page"), ("units", "brackets"),
                            ("decimal", "comma"), ("theme", "dark")):  # fmt: skip
            word = dialog.words[name]
            word.setCurrentIndex(word.findText(dict(_ENTRIES[name])[value]))
        dialog.reject()
        self.assertEqual(self.window.theme.ground, "#1d2625")
        before = self.figure
        self.assertEqual(before.style, "report")
        self.open(self._write("run-1.csv", _run(1)))
        figure = self.figure
        self.assertEqual((figure.style, size_name(figure)), ("grey", "page"))
        self.assertEqual((figure.choices.units, figure.choices.decimal), ("brackets", "comma"))
        settings = self.window.settings
        for preference in PREFERENCES:
            self.assertIn(preferred(settings, preference.name), dict(preference.entries))
            kept = settings.table("preferences") | {preference.name: "nonsense"}
            settings.remember(preferences=kept)
            self.assertIn(preferred(settings, preference.name), dict(preference.entries))

    def _retitle(self, title: str) -> None:
        self.window.edit("titled", lambda f: edits.set_title(f, title))

    def test_unsaved_work_is_kept_and_offered_after_a_bad_end(self) -> None:
        root = self.folder / "recovery"
        path = self.folder / "mine.sornix"
        self.window.saving.save()
        self.name_file(path)
        for title in ("One", "Before the end"):
            window = self.window
            window.autosave = keeper = window.autosave or Autosave(window, root)
            keeper.keep()
            keeper._worker.wait()  # noqa: SLF001
            self.assertFalse(window.bench.has_unsaved_changes or list(root.glob("*/copy.json")))
            self._retitle(title)
            self.wait_until(lambda: list(root.glob("*/copy.json")), "a copy was written by itself")
            self.assertEqual(left_behind(root), [], "somebody works with it")
            # a writer that is killed lets go of its lock, and of nothing else
            keeper._worker.wait()  # noqa: SLF001
            keeper._copy.let_go()  # noqa: SLF001
            window.autosave = None
            window.bench.changed.disconnect(keeper._changed)  # noqa: SLF001
            window.bench.file_changed.disconnect(keeper.forget)
            (left,) = left_behind(root)
            self.assertEqual((left.work.name, left.work.path), ("mine", path))
            self.assertEqual(left.load().figure.title, title)
            self.window = self.new_window()
            self.window.autosave = Autosave(self.window, root)
            self.window.autosave.offer(self.new_window)
            self.window.frame.message.buttons["Look at what there is…"].click()
            dialog = self.dialog(RecoveryDialog)
            self.settle()
            item = dialog.list.item(0)
            assert item is not None and dialog.back is not None
            self.assertIn(str(path), item.text())
            self.assertFalse(item.icon().isNull(), "a picture of it")
            self.click(dialog.back)
            self.settle()
            self.assertEqual(self.figure.title, title)
            self.assertTrue(self.window.bench.has_unsaved_changes)
            self.assertEqual(len(list(root.iterdir())), 1, "kept until it is saved")
            self.window.saving.save()
            self.settle()
            self.window.autosave._worker.wait()  # noqa: SLF001
            self.assertEqual(list(root.iterdir()), [])
            self.assertEqual(load_document(path).figure.title, title)

    def test_only_copies_that_are_ticked_are_thrown_away(self) -> None:
        root = self.folder / "left"
        taken: list[LeftCopy] = []
        for name in ("One", "Two", "Three"):
            copy = SafetyCopy(root)
            copy.write(self.document, Work(name, None))
            copy.let_go()
        kept = left_behind(root)
        dialog = RecoveryDialog(self.window.frame, kept, self.window.worker, taken.extend)
        assert dialog.away is not None
        for ticked, words, left in (((0, 2), "2 figures", 1), ((0,), "1 figure", 0)):
            names = [copy.work.name for copy in left_behind(root)]
            for row in range(dialog.list.count()):
                item = dialog.list.item(row)
                assert item is not None
                checked = Qt.CheckState.Checked if row in ticked else Qt.CheckState.Unchecked
                item.setCheckState(checked)
            self.assertEqual(dialog.away.text(), f"Throw away {words}")
            self.click(dialog.away)
            stay = [name for row, name in enumerate(names) if row not in ticked]
            self.assertEqual([copy.work.name for copy in left_behind(root)], stay)
            self.assertEqual(dialog.isVisible(), bool(left))
        self.assertEqual(taken, [])

    def test_nothing_is_replaced_that_somebody_else_changed(self) -> None:
        path = self.folder / "shared.sornix"
        bench, saving = self.window.bench, self.window.saving
        saving.save()
        self.name_file(path)
        theirs = evolve(self.document, figure=edits.set_title(self.figure, "Theirs"))
        save_document(theirs, path, b"")
        self._retitle("Mine")
        saving.save()
        dialog = self.dialog(HindranceDialog)
        self.wait_until(lambda: "Theirs" in dialog.differences.toPlainText(), "it was compared")
        self.assertIn("“Mine” here", dialog.differences.toPlainText())
        assert dialog.beside is not None
        self.click(dialog.beside)
        self.settle()
        beside = self.folder / "shared 2.sornix"
        self.assertEqual([load_document(p).figure.title for p in (path, beside)],
                         ["Theirs", "Mine"])  # fmt: skip
        self.assertEqual((bench.path, bench.has_unsaved_changes), (beside, False))
        # one that is not to be written to, and one that is gone
        beside.chmod(0o444)
        self._retitle("More")
        saving.save()
        dialog = self.dialog(HindranceDialog)
        self.assertIn("write-protected", dialog.findChildren(QLabel)[0].text())
        assert dialog.replace is not None
        self.click(dialog.replace)
        self.settle()
        self.assertEqual(load_document(beside).figure.title, "More")
        self.assertEqual(beside.stat().st_mode & 0o777, 0o444)
        beside.unlink()
        self.wait_until(lambda: bench.has_unsaved_changes, "the file was missed")
        self.assertIn("is gone", self.window.frame.footer.state.text())
        saving.save()
        self.settle()
        self.assertTrue(beside.exists() and not bench.has_unsaved_changes)

    def test_the_guide_is_searched_and_shortcuts_are_listed(self) -> None:
        self.window.menus.actions["guide"].trigger()
        help_window = self.window.finding.help
        assert help_window is not None
        help_window.field.setText("pattern")
        self.assertRegex(help_window.found.text(), r"1 of \d+ places")
        self.assertEqual(help_window.text.textCursor().selectedText().casefold(), "pattern")
        help_window.field.setText("zzzz")
        self.assertEqual(help_window.found.text(), "not in the guide")
        self.window.menus.actions["shortcuts"].trigger()
        text = help_window.text.toPlainText()
        for action in self.window.menus.actions.values():
            keys = action.shortcut().toString()
            if keys:
                self.assertIn(keys, text)
        chapters = [help_window.chapters.item(i) for i in range(help_window.chapters.count())]
        for item in chapters:
            assert item is not None
            help_window.chapters.setCurrentItem(item)
        document, page = help_window.text.document(), help_window.text.viewport()
        assert document is not None and page is not None
        self.assertLessEqual(document.size().width(), page.width(), "the guide leaves its page")
        help_window.close()

    def test_tips_point_once_and_never_wait(self) -> None:
        tips = Tips(self.window)
        tips.show_next()
        assert tips.bubble is not None
        self.assertIn(TIPS[0].words, tips.bubble.accessibleName())
        word = self.panes.statement.plots[0].mark
        below = self.panes.mapTo(
            self.window.frame, word.mapTo(self.panes, word.rect().bottomLeft())
        )
        self.assertLess(abs(tips.bubble.y() - below.y()), 12)
        self.window.edit("titled", lambda f: edits.set_title(f, "Next"))
        self.assertIsNone(tips.bubble)
        tips.show_next()
        assert tips.bubble is not None
        self.assertIn(TIPS[1].words, tips.bubble.accessibleName())
        QTest.mouseClick(tips.bubble, Qt.MouseButton.LeftButton)
        self.window.settings.remember(preferences={"tips": "off"})
        self.window.settings.remember(**{"tips seen": []})
        tips.show_next()
        self.assertIsNone(tips.bubble)

    def test_a_tip_points_at_its_thing_and_covers_none_of_it(self) -> None:
        frame = self.window.frame
        wide, high = frame.width(), frame.height()
        for left, top in ((0, 0), (wide - 40, 60), (wide // 2, high // 2), (20, high - 30)):
            with self.subTest(f"{left}, {top}"):
                thing = QRect(left, top, 40, 20)
                bubble = Bubble(self.window, "Words " * 12, frame, thing, lambda: None)
                around = bubble.geometry()
                self.assertTrue(frame.rect().contains(around), around)
                self.assertFalse(around.intersects(thing), around)
                near = min(abs(around.top() - thing.bottom()), abs(thing.top() - around.bottom()))
                self.assertLess(near, 4)
                picture = bubble.grab().toImage()
                line = 2 if around.top() > thing.top() else picture.height() - 3
                ground = picture.pixelColor(0, line)
                tip = [x for x in range(picture.width()) if picture.pixelColor(x, line) != ground]
                middle = around.left() + (tip[0] + tip[-1]) / 2
                self.assertLess(abs(middle - thing.center().x()), 16)
                bubble.leave()

    def test_what_lies_between_two_pins_is_told(self) -> None:
        tables = self.document.tables
        for row in (0, 23):
            pin = partial(edits.add_note, tables=tables, series="s1", row=row)
            self.window.edit("pinned", pin)
        self.assertTrue(self.happens(lambda: "Between pins" in self._headings(), 30))
        text = self.panes.results.text
        y = tables[0].column("Absorbance at 220 nm").numbers
        self.assertIn("along x\t12.00 mg/L", text)
        self.assertIn(f"slope\t{(y[23] - y[0]) / 12:.5f} L/mg", text)
        self.assertIn("first, row 1\t0.002", text)
        self.assertIn("last, row 24\t0.858", text)

    def _headings(self) -> str:
        return " ".join(label.text() for label in self.panes.results.findChildren(QLabel))

    def test_a_place_is_pinned_where_the_pointer_was(self) -> None:
        paper = self.panes.paper
        at = paper.pixel(3.0, 0.6)
        self.panes.selection.here = paper.point(QPointF(at))
        self.panes.editor.writing.pin_place()
        note = self.panel.notes[0]
        assert note.x is not None and note.y is not None
        self.assertAlmostEqual(note.x, 3.0, 1)
        self.assertAlmostEqual(note.y, 0.6, 2)
