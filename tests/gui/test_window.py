"""The parts of the window, offscreen."""

import base64
import time
from pathlib import Path
from typing import Any
from unittest import mock
from xml.etree import ElementTree as ET

import numpy as np
from attrs import evolve
from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRect, QSize, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage, QPainter
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QInputDialog,
    QLineEdit,
    QMessageBox,
    QToolButton,
)

from sornix.core import figure as edits
from sornix.core.colours import contrast, readable
from sornix.core.document import Document, save_document
from sornix.core.drawing import STYLES, Crowd, Drawing, draw_figure
from sornix.core.figure import AxisBand, AxisLook, AxisTitle, Figure, Scale, Spot, Title
from sornix.core.figure.model.checks import limits_of
from sornix.core.figure.model.scale import axis_options
from sornix.core.readings import Table, number_column
from sornix.demo import DEMOS, demo_document, demo_text
from sornix.gui.actions.handover import FLAT_DRAWING
from sornix.gui.base.theme import DARK, LIGHT
from sornix.gui.canvas.overlay import paint_desk
from sornix.gui.canvas.view import FigureView
from sornix.gui.session import nearest
from sornix.gui.session.look import Look
from sornix.gui.session.scene import Scene
from sornix.gui.shell.thumbnails import Thumbnails
from sornix.gui.widgets.bars import MessageBar
from sornix.gui.widgets.inlinecontrols import ChoiceWord, NumberWord
from sornix.gui.widgets.startsheet import PICTURE, StartSheet
from sornix.paint.export import png
from sornix.paint.measure import QtMeasure
from tests.base import SornixTest
from tests.qt import QTest, QtTest, WindowTest

_RIGHT_PANE = Qt.MouseButton.LeftButton


class Shadow(QtTest):
    def test_the_paper_throws_its_shadow_to_both_sides_and_below(self) -> None:
        picture = QImage(40, 40, QImage.Format.Format_RGB32)
        painter, page = QPainter(picture), QRect(10, 8, 20, 16)
        paint_desk(painter, picture.rect(), page, LIGHT)
        painter.fillRect(page, Qt.GlobalColor.white)
        painter.end()

        def along(dx: int, dy: int) -> list[tuple[int, int]]:
            """From where to before where each colour goes on, from the middle of the paper."""
            lights = [picture.pixelColor(20 + dx * n, 16 + dy * n).lightness() for n in range(16)]
            ends = [n for n in range(1, 16) if lights[n] != lights[n - 1]]
            return [(end, lights[end] - lights[-1]) for end in ends]

        left, right, up, down = along(-1, 0), along(1, 0), along(0, -1), along(0, 1)
        self.assertEqual([end for end, _ in left], [11, 12])
        self.assertEqual([end for end, _ in right], [10, 11])
        self.assertEqual([end for end, _ in up], [9])
        self.assertEqual([end for end, _ in down], [8, 10, 12])
        # nearer to it the shadow is darker
        self.assertLess(left[0][1], 0)
        self.assertEqual(left[0][1], right[0][1])
        self.assertLess(down[0][1], down[1][1])


class Desk(WindowTest):
    demo = "nitrate-standards"

    def test_words_work_by_the_keyboard(self) -> None:
        mark = self.panes.statement.plots[0].mark
        mark.setFocus()
        QTest.keyClick(mark, Qt.Key.Key_Down)
        menu = QApplication.activePopupWidget()
        assert menu is not None
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Return):
            QTest.keyClick(menu, key)
        self.assertEqual(self.panel.series[0].mark, "line")
        start = self.panes.statement.scales["x"].fields["start"].field
        self.type_into(start, "-2")
        self.assertEqual(self.panel.x.start, -2)
        self.keys(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertIsNone(self.panel.x.start)
        self.keys(
            Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
        )
        self.assertEqual(self.panel.x.start, -2)

    def test_a_refused_value_is_explained_and_changes_nothing(self) -> None:
        fields = self.panes.statement.scales["x"].fields
        before = self.window.bench.document
        for part, typed, said in (
            ("step", "20", "longer than the range from 0 to 12"),
            ("step", "0.001", "ticks"),
            ("start", "fish", "“fish” is not a number"),
            ("start", "99", "would hold no reading"),
        ):
            with self.subTest(typed):
                self.type_into(fields[part].field, typed)
                self.assertTrue(self.panes.message.isVisible())
                self.assertIn(said, self.panes.message.label.text())
                self.assertIs(self.window.bench.document, before)
                self.assertEqual(fields[part].field.text(), typed)
                QTest.keyClick(fields[part].field, Qt.Key.Key_Escape)
                self.assertNotEqual(fields[part].field.text(), typed)
        self.window.open_demo("light-response")
        self.settle()
        for typed, wrong in (("2*", True), ("x/(1 + x)", False)):
            self.type_into(self.panes.statement.curves[0].formula.field, typed)
            (curve,) = self.panes.statement.curves
            self.assertEqual(curve.formula.property("wrong") == "true", wrong, typed)

    def test_held_values_are_marked_and_freed_by_one_click(self) -> None:
        word = self.panes.statement.scales["y"].fields["end"]
        self.assertFalse(word.free.isVisible())
        self.type_into(word.field, "1.5")
        self.assertEqual((self.panel.y.end, word.property("held")), (1.5, "true"))
        self.click(word.free)
        self.assertIsNone(self.panel.y.end)
        self.assertFalse(word.free.isVisible())
        self.type_into(word.field, "2")
        self.type_into(word.field, "")
        self.assertIsNone(self.panel.y.end)

    def test_pointer_table_and_footer_tell_of_the_same_reading(self) -> None:
        paper, footer = self.panes.paper, self.window.frame.footer
        y = float(self.document.tables[0].columns[1].numbers[23])
        at = paper.pixel(12.0, y).toPoint()
        QTest.mouseMove(paper, at)
        self.assertIn("row 24", footer.reading.text())
        self.assertIn("Nitrate concentration 12 mg/L", footer.reading.text())
        self.click(paper, at)
        rows = self.panes.table_pane.grid.selectionModel().selectedRows()  # type: ignore[union-attr]
        self.assertEqual([index.row() for index in rows], [23])
        ringed = paper.grab().toImage()
        self.assertTrue(_has_colour(ringed, at + QPoint(8, 0), "#d9a21b"))
        QTest.mouseMove(paper, QPoint(3, 3))
        self.click(paper, QPoint(3, 3))
        self.assertEqual(footer.reading.text(), "")
        self.assertFalse(_has_colour(paper.grab().toImage(), at + QPoint(8, 0), "#d9a21b"))

    def test_in_a_closer_look_every_place_can_be_pressed_on(self) -> None:
        self.window.open_demo("depth-profile")
        self.settle()
        table = self.window.bench.tables[0]
        depth, warm = table.column_names[:2]
        # a second panel without the scale above that the first one has
        self.window.edit("panel", lambda f: edits.add_panel_of(f, table.name, warm, depth))
        self.settle()
        paper = self.panes.paper
        assert paper.drawing is not None
        x = paper.drawing.panels[1].x
        middle = (x.start + x.end) / 2
        paper.look_closer(Look({"x": (x.start, middle)}))
        boxes = paper.drawing.boxes
        self.assertTrue(any(box.of == AxisBand("x2") for box in boxes))
        before = self.window.bench.document
        for box in boxes:
            at = paper.pixels(box.rect).center().toPoint()
            QTest.mousePress(paper, _RIGHT_PANE, pos=at)
            QTest.mouseMove(paper, at + QPoint(9, 7))
            QTest.keyClick(paper, Qt.Key.Key_Escape)
            QTest.mouseRelease(paper, _RIGHT_PANE, pos=at)
        self.assertEqual(self.window.bench.document, before)

    def test_very_many_markers_are_some_while_a_look_moves_and_all_once_it_rests(self) -> None:
        count = 300_000
        random = np.random.default_rng(5)
        table = Table("t", (number_column("x", random.normal(0, 1, count)),
                            number_column("y", random.normal(0, 1, count))))  # fmt: skip
        self.window.open_table("t", lambda: table)
        self.settle()
        paper = self.panes.paper

        def shown() -> tuple[int, int]:
            assert paper.drawing is not None
            (crowd,) = [item for item in paper.drawing.items if isinstance(item, Crowd)]
            (part,) = crowd.parts
            return len(part.points), (
                len(part.points) if part.weights is None else int(part.weights.sum())
            )

        self.assertEqual(shown()[1], count)
        x, y = table.columns[0].numbers, table.columns[1].numbers
        inside = int(((np.abs(x) <= 0.5) & (np.abs(y) <= 1)).sum())
        paper.look_closer(Look({"x": (-0.5, 0.5), "y": (-1.0, 1.0)}))
        some, told = shown()
        self.assertLess(some, 0.6 * inside)
        self.assertAlmostEqual(told, inside, delta=0.05 * inside)
        self.wait_until(lambda: shown()[1] == inside, "all readings were drawn")

    def test_the_nearest_of_many_readings_is_the_nearest_of_all(self) -> None:
        random = np.random.default_rng(8)
        x, y = random.uniform(0.1, 9, 8000), np.exp(random.normal(0, 1, 8000))
        for order in (np.arange(8000), np.argsort(x)):
            table = Table("t", (number_column("x", x[order]), number_column("y", y[order])))
            for kinds in (("linear", "linear"), ("log", "log"), ("reciprocal", "reciprocal")):
                figure = edits.change_series(
                    edits.new_figure(table), (table,), "s1", x="x", y="y", mark="points"
                )
                for axis, kind in zip("xy", kinds, strict=True):
                    figure = figure.with_scale(axis, Scale(kind=kind, reversed=axis == "y"))
                scene = Scene(Document((table,), figure), QtMeasure())
                inner = scene.drawing.place.inner
                for _ in range(40):
                    at = (random.uniform(inner.left - 1, inner.right + 1),
                          random.uniform(inner.top - 1, inner.bottom + 1))  # fmt: skip
                    with mock.patch.object(nearest, "_MANY", 10_000):
                        wanted = nearest.nearest_reading(scene, scene.drawing, at, 1.5)
                    found = nearest.nearest_reading(scene, scene.drawing, at, 1.5)
                    self.assertEqual(found, wanted, (kinds, at))

    def test_a_fit_that_takes_long_tells_how_far_it_is_and_is_given_up(self) -> None:
        footer = self.window.frame.footer
        seen: set[str] = set()
        long: dict[str, Any] = {"intervals": "resampling", "resamples": 100_000, "method": "huber"}
        self.window.edit("resampled", lambda f: edits.change_trend(f, "t1", **long))
        self.assertTrue(self.window.bench.fitter.is_busy)
        deadline = time.monotonic() + 60
        while len(seen) < 3 and time.monotonic() < deadline:
            QApplication.processEvents()
            if "done" in footer.state.text():
                seen.add(footer.state.text())
        self.assertGreaterEqual(len(seen), 3)
        # what is known of it is shown meanwhile
        self.assertIn("these are the usual ones", self.panes.results.text)
        self.assertTrue(footer.cancel.isVisible())
        footer.cancel.click()
        self.assertFalse(self.window.bench.fitter.is_busy)
        self.assertIn("given up", self.panes.message.label.text())
        # the next change asks for it again, and for few sets it is soon there
        self.window.edit("fewer", lambda f: edits.change_trend(f, "t1", resamples=200))
        self.wait_until(lambda: not self.window.bench.fitter.is_busy, "it was fitted")
        self.settle()
        self.assertIn("Intervals by resampling, 200 times", self.panes.results.text)

    def test_titles_are_typed_in_place(self) -> None:
        paper = self.panes.paper
        x, y = AxisTitle("x"), AxisTitle("y")
        for of, typed in ((x, "c(NO_3^-) / mg L^-1"), (Title(), "Run 2"), (y, "")):
            box = drawing_of(paper).box_of(of)
            assert box is not None
            middle = QPointF(box.left + box.width / 2, box.top + box.height / 2)
            at = (paper.corner + middle * paper.pixels_per_mm).toPoint()
            QTest.mouseDClick(paper, _RIGHT_PANE, pos=at)
            editor = next(e for e in paper.findChildren(QLineEdit) if e.isVisible())
            self.type_into(editor, typed) if typed else self._clear(editor)
        self.assertEqual(self.figure.title, "Run 2")
        self.assertEqual((self.panel.x.title, self.panel.y.title), ("c(NO_3^-) / mg L^-1", None))
        self.window.menus.actions["title"].trigger()
        editor = next(e for e in paper.findChildren(QLineEdit) if e.isVisible())
        QTest.keyClicks(editor, "never")
        QTest.keyClick(editor, Qt.Key.Key_Escape)
        self.assertEqual(self.figure.title, "Run 2")
        self.panes.open_inspector("x")
        self.panes.inspector.choose("title")
        editor = next(e for e in paper.findChildren(QLineEdit) if e.isVisible())
        self.assertEqual(editor.text(), "c(NO_3^-) / mg L^-1")

    def test_every_word_of_an_axis_does_what_it_says(self) -> None:
        """Each entry of each word that the description of an option gives."""
        self.panes.open_inspector("y")
        self.panes.inspector.more.setChecked(True)
        assert self.panes.inspector.further is not None
        words = {
            (p.field if isinstance(p, NumberWord) else p).accessibleName(): p
            for p in self.panes.inspector.further.parts()
        }
        for option in axis_options():
            if not option.offer.line:
                continue
            word = words[option.offer.name]
            for value in option.offer.entries or {}:
                assert isinstance(word, ChoiceWord) and option.offer.entries
                word.chosen.emit(value)
                self.assertEqual(option.of(self.panel.y), value, option.offer.name)
                self.assertEqual(word.accessibleDescription(), option.offer.entries[value])
            if isinstance(word, NumberWord):
                limits = limits_of(AxisLook if option.of_look else Scale, option.field.name)
                self.type_into(word.field, str(round(limits.low) + 2))
                self.assertEqual(option.of(self.panel.y), round(limits.low) + 2)
                self.type_into(word.field, "100000")
                self.assertIn(limits.words, self.panes.message.label.text())
                self.assertEqual(option.of(self.panel.y), round(limits.low) + 2)

    def _clear(self, editor: QLineEdit) -> None:
        editor.clear()
        QTest.keyClick(editor, Qt.Key.Key_Return)

    def test_the_ledger_tells_the_numbers_of_the_trend_and_copies_them(self) -> None:
        self.window.menus.actions["copy-numbers"].trigger()
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        text = clipboard.text()
        scene = self.window.bench.scene
        assert scene is not None
        x, y = (column.numbers for column in scene.table.columns[:2])
        fit = np.polyfit(x, y, 1)
        slope = text.split("slope\t")[1].split(" ")[0]
        self.assertAlmostEqual(float(slope), fit[0], delta=5e-6)
        for part in ("L/mg", "R²\t0.99", "Residuals", "Largest at row", "24 readings"):
            self.assertIn(part, text)

    def test_a_panel_without_axes_has_no_words_for_them(self) -> None:
        self.panes.open_inspector("x")
        self.window.edit("drew shares", lambda f: edits.change_panel(f, form="ring"))
        self.settle()
        statement = self.panes.statement
        gone = [*statement.scales.values(), *statement.trends, self.panes.inspector]
        self.assertFalse(any(part.isVisible() for part in gone))
        count = self.window.frame.footer.count
        self.wait_until(lambda: not count.text())
        self.assertIn("its trend is kept, and not drawn", self.panes.results.text)
        self.panes.open_inspector("y")
        self.assertIn("no axes", self.panes.message.label.text())
        self.window.bench.undo()
        self.settle()
        self.assertTrue(all(part.isVisible() for part in gone[:-1]))
        self.wait_until(lambda: "24 of 24" in count.text())

    def test_copying_puts_picture_vector_and_text_on_the_clipboard(self) -> None:
        self.window.menus.actions["copy-figure"].trigger()
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard else None
        assert data is not None
        picture = QImage.fromData(data.data("image/png").data(), "PNG")
        self.assertEqual(picture.width(), round(84 / 25.4 * 300))
        scene = self.window.bench.scene
        assert scene is not None
        self.assertEqual(picture, QImage.fromData(png(scene.drawing), "PNG"))
        self.assertIn(b"<svg", data.data("image/svg+xml").data())
        # for office programs: in its size, with what it is called and what it tells
        tree = ET.fromstring(data.data(FLAT_DRAWING).data())
        told = {part.tag.partition("}")[2]: part for part in tree.iter()}
        self.assertEqual(told["title"].text, "Nitrate standards, 12 March run")
        self.assertEqual(told["desc"].text, scene.caption)
        sizes = [v for k, v in told["frame"].items() if k.endswith(("width", "height"))]
        self.assertEqual(sizes, ["84.000mm", "63.000mm"])
        self.assertIn(b"<svg", base64.b64decode(told["binary-data"].text or ""))
        lines = data.text().splitlines()
        self.assertIn(
            "row\tNitrate concentration (mg/L)\tAbsorbance at 220 nm\tstraight line\t"
            "residual of straight line", lines,
        )  # fmt: skip
        self.assertTrue(any(line.startswith("24\t12\t0.858\t") for line in lines))

    def test_every_act_of_the_menus_does_something_or_is_disabled(self) -> None:
        bench = self.window.bench
        for name, changed in (
            ("swap", lambda p: p.series[0].x == "Absorbance at 220 nm"),
            ("reverse-x", lambda p: p.x.reversed),
            ("grid-x", lambda p: p.x.grid),
            ("remove-trend", lambda p: not p.trends),
            ("trend/line", lambda p: len(p.trends) == 1),
        ):
            self.window.menus.actions[name].trigger()
            self.assertTrue(changed(self.panel), name)
        self.window.menus.update()
        for name in ("trend/line", "free-x", "redo"):
            self.assertFalse(self.window.menus.actions[name].isEnabled(), name)
        self.window.menus.actions["add-series"].trigger()
        self.assertIn("drawn already", self.panes.message.label.text())
        for name, part in (
            ("show-tray", self.panes.table_pane),
            ("show-ledger", self.panes.results),
        ):
            self.window.menus.actions[name].trigger()
            self.assertTrue(part.isHidden())
            self.window.menus.actions[name].trigger()
        self.window.edit("moved", lambda f: edits.move(f, Title(), Spot(0.4, 0.1)))
        self.window.menus.actions["places"].trigger()
        assert bench.document is not None
        self.assertIsNone(self.figure.title_spot)
        self.window.menus.actions["caption"].trigger()
        QTest.keyClicks(self.panes.caption.editor, "Ours")
        QTest.keyClick(self.panes.caption.editor, Qt.Key.Key_Return)
        self.assertEqual(bench.document.figure.caption, "Ours")
        self.assertFalse(self.window.menus.actions["name/0"].isVisible())
        self.window.menus.actions["size"].trigger()
        dialog = self.dialog(QInputDialog)
        dialog.setTextValue("120 x 80 mm")
        dialog.accept()
        assert bench.document is not None
        self.assertEqual(
            (bench.document.figure.width_mm, bench.document.figure.height_mm), (120, 80)
        )
        self.window.menus.actions["about"].trigger()
        self.answer(QMessageBox.StandardButton.Ok)
        self.assertFalse(self.window.menus.actions["open"].text() == "")

    def test_bad_files_leave_the_figure_as_it_was(self) -> None:
        before = self.window.bench.document
        for name, content, said in (
            ("p.csv", b"\x89PNG\r\n", "PNG picture"),
            ("r.csv", b"a,b\n1,2\n3,4,5\n", "row at line 3"),
            ("d.sornix", b"zip?", "not a Sornix document"),
        ):
            self.open(self.write(name, content))
            self.assertIn(said, self.panes.message.label.text())
            self.assertIs(self.window.bench.document, before)

    def test_what_can_be_added_is_in_groups(self) -> None:
        self.panes.statement.figure_line.more.click()
        menu = QApplication.activePopupWidget()
        assert menu is not None
        words = [action.text() or "—" for action in menu.actions()]
        self.assertEqual(words, ["another series", "a panel below", "a curve from a formula", "—",
                                 "a note", "a source line", "—",
                                 "another figure: a copy of this one",
                                 "another figure: an empty one",
                                 "another figure: the first of a table…"])  # fmt: skip
        menu.close()

    def test_why_it_is_drawn_so_and_other_ways(self) -> None:
        self.open(self.write("week.csv", demo_text("buoy-week")))
        reason = self.panes.reason
        self.assertTrue(reason.isVisible())
        self.assertIn("because “Time” is a time", reason.label.text())
        reason.others.click()
        self.settle()
        assert reason.pictures is not None
        ways = reason.pictures.findChildren(QToolButton)
        self.assertEqual([way.text() for way in ways],
                         ["a panel for each quantity", "points", "points and line"])  # fmt: skip
        for way in ways:
            self.assertGreater(way.icon().actualSize(QSize(400, 400)).width(), 200)
            self.assertTrue(way.toolTip())
        ways[0].click()
        self.settle()
        document = self.window.bench.document
        self.assertEqual(len(document.figure.panels) if document is not None else 0, 4)
        self.assertIn("Drawn as a panel for each quantity", reason.label.text())
        self.window.bench.undo()
        self.assertIn("because", reason.label.text())
        # what is made otherwise needs no reason
        self.window.edit("titled", lambda f: edits.set_title(f, "Week"))
        self.assertFalse(reason.isVisible())

    def test_a_dropped_file_opens(self) -> None:
        path = self.write("run2.csv", demo_text("depth-profile"))
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        self.window.frame.dropEvent(_drop(data))
        self.settle()
        self.assertEqual((self.panel.series[0].x, self.panel.y.reversed), ("Temperature", True))
        text = QMimeData()
        text.setText("t (s)\tF\n0\t5\n1\t3\n2\t2\n")
        self.window.frame.dropEvent(_drop(text))
        self.settle()
        self.assertEqual(self.panes.table_pane.table_name, "Pasted readings")
        self.assertEqual(self.panel.series[0].x, "Temperature")
        self.panes.message.buttons["Draw it"].click()
        self.assertEqual((self.panel.series[0].x, self.panel.series[0].y), ("t", "F"))
        self.window.bench.undo()
        self.window.bench.undo()
        self.assertEqual(len(self.window.bench.tables), 1)
        self.window.open_path(path)
        self.answer(QMessageBox.StandardButton.Discard)
        self.assertEqual(self.window.frame.windowTitle(), "run2 – Sornix")


class Colours(SornixTest):
    def test_text_can_be_read_in_both_themes_and_series_in_either(self) -> None:
        for theme in (LIGHT, DARK):
            grounds = {
                theme.ink: (theme.card, theme.statement, theme.lit, theme.footer, theme.focus),
                theme.soft: (theme.panel, theme.ground, theme.card),
                theme.accent: (theme.card, theme.ground),
                theme.held_ink: (theme.held_ground,), theme.bar_ink: (theme.bar_button,),
            }  # fmt: skip
            for ink, ground in ((i, g) for i, several in grounds.items() for g in several):
                self.assertGreaterEqual(contrast(ink, ground), 4.5, (ink, ground))
            for look in STYLES["report"].looks:
                self.assertGreaterEqual(
                    contrast(readable(look.colour, theme.card), theme.card), 4.5
                )


class Layout(WindowTest):
    def test_nothing_is_cut_or_overlaps_from_1024_by_700_up(self) -> None:
        for name, size in (
            ("nitrate-standards", (1024, 700)),
            ("site-ranks", (1280, 800)),
            ("depth-profile", (1920, 1080)),
        ):
            with self.subTest(name):
                self.window.open_demo(name)
                self.settle()
                self.window.frame.resize(*size)
                QApplication.processEvents()
                statement, paper = self.panes.statement, self.panes.paper
                area = self.panes.area
                self.assertGreaterEqual(area.y(), statement.y() + statement.height())
                self.assertGreaterEqual(self.panes.caption.y(), area.y() + area.height())
                for button in statement.findChildren(QAbstractButton):
                    if button.isVisible() and button.property("word"):
                        self.assertGreaterEqual(button.width(), button.minimumSizeHint().width())
                        right = button.mapTo(statement, QPoint(button.width(), 0)).x()
                        self.assertLessEqual(right, statement.width())
                drawing = paper.drawing
                assert drawing is not None
                self.assertGreater(drawing.width_mm * paper.pixels_per_mm, 0.5 * paper.width())

    def test_no_statement_takes_more_than_a_quarter_of_the_window(self) -> None:
        self.window.frame.resize(1280, 800)
        names = [f"S{i}" for i in range(12)]
        rows = [",".join(["Day", *names])] + [
            ",".join(str(i * d) for i in range(1, 14)) for d in range(9)
        ]
        (self.folder / "twelve.csv").write_text("\n".join(rows))

        def in_four(figure: Figure) -> Figure:
            series = figure.panel.series
            return evolve(figure, panels=tuple(
                evolve(figure.panel, series=series[3 * k : 3 * k + 3], row=k // 2, column=k % 2)
                for k in range(4)))  # fmt: skip

        for name in (*DEMOS, "twelve.csv"):
            with self.subTest(name):
                if name in DEMOS:
                    self.window.open_demo(name)
                else:
                    self.open(self.folder / name)
                    self.window.edit("four panels", in_four)
                self.settle()
                statement = self.panes.statement
                self.assertLessEqual(statement.height(), 200)
                area = statement.parentWidget()
                assert area is not None
                # and all of it can be seen
                self.assertGreaterEqual(area.height(), statement.height())

    def test_the_start_sheet_fills_with_pictures(self) -> None:
        sheet = StartSheet()
        document = demo_document("depth-profile")
        drawing = draw_figure(document.figure, document.tables, QtMeasure())
        save_document(document, self.folder / "good.sornix", png(drawing))
        (self.folder / "bad.sornix").write_bytes(b"no package")
        (self.folder / "plain.csv").write_text("x,y\n1,2\n")
        recent = [self.folder / name for name in ("good.sornix", "bad.sornix", "plain.csv")]
        sheet.offer([(demo.name, demo.words) for demo in DEMOS.values()], recent)
        choices = {b.text(): b for b in sheet.findChildren(QToolButton)}
        blank = choices["good.sornix"].icon().pixmap(PICTURE).toImage()
        pictures = Thumbnails(sheet, recent, lambda: True)
        self.wait_until(lambda: not pictures.is_busy)
        empty = {name for name, b in choices.items() if b.icon().pixmap(PICTURE).toImage() == blank}
        self.assertEqual(empty, {"bad.sornix", "plain.csv"})
        self.assertEqual(len(choices), len(DEMOS) + 3)
        # a document was opened: no more are drawn
        self.assertFalse(Thumbnails(sheet, recent, lambda: False).is_busy)

    def test_the_empty_window_says_how_to_begin_and_survives_a_bad_file(self) -> None:
        self.assertTrue(self.window.frame.start.isVisible())
        self.open(Path("/nowhere/none.csv"))
        self.assertTrue(self.window.frame.start.isVisible())
        bars = [b for b in self.window.frame.findChildren(MessageBar) if b.isVisible()]
        self.assertIn("There is no such file", bars[0].label.text())
        for name in ("save", "export", "undo", "copy-figure", "add-series"):
            self.assertFalse(self.window.menus.actions[name].isEnabled())
        demo = next(
            b for b in self.window.frame.start.findChildren(QAbstractButton) if "Depth" in b.text()
        )
        self.click(demo)
        self.settle()
        self.assertFalse(self.window.frame.start.isVisible())
        self.assertIsInstance(self.window.frame.focusWidget(), FigureView)


def _drop(data: QMimeData) -> QDropEvent:
    modifiers = Qt.KeyboardModifier.NoModifier
    return QDropEvent(QPointF(9, 9), Qt.DropAction.CopyAction, data, _RIGHT_PANE, modifiers)


def drawing_of(paper: FigureView) -> Drawing:
    assert paper.drawing is not None
    return paper.drawing


def _has_colour(image: QImage, at: QPoint, colour: str) -> bool:
    """Whether a pixel within two of `at` has about this colour."""
    wanted = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    for dx in range(-2, 3):
        for dy in range(-2, 3):
            found = image.pixelColor(at.x() + dx, at.y() + dy).getRgb()[:3]
            if all(abs((f or 0) - w) < 24 for f, w in zip(found, wanted, strict=True)):
                return True
    return False
