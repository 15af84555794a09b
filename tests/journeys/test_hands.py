"""Journeys with the hand on the figure, by real mouse and key events."""

from attrs import evolve
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QInputDialog,
    QLineEdit,
    QMenu,
    QPushButton,
)

from sornix.core import figure as edits
from sornix.core.drawing import Text
from sornix.core.figure import AxisBand, AxisTitle, Legend, SeriesName, Title, TrendLabel
from sornix.core.text import plain_text
from sornix.demo import demo_text
from sornix.gui.widgets.inlinecontrols import ChoiceWord
from sornix.paint.export import png
from tests.journeys.hands import FigureHandsTest


class OnTheFigure(FigureHandsTest):
    demo = "nitrate-standards"

    def setUp(self) -> None:
        super().setUp()
        self.first = self.figure

    def picture(self) -> QImage:
        self.pause()
        return self.paper.grab().toImage()

    def undo_one(self) -> None:
        """The gesture before was one step of history."""
        self.key("ctrl+z")
        self.assertEqual(self.figure, self.first)

    def test_scale_strip(self) -> None:
        strip = self.panes.inspector
        self.click_at(self.paper, self.on(AxisBand("x")))
        self.assertTrue(strip.isVisible())
        self.assertEqual((strip.axis, strip.fields["start"].field.hasFocus()), ("x", True))
        self.type("-1")
        self.key("Tab")
        self.assertEqual(self.panel.x.start, -1, "leaving a field takes it")
        self.type("0.015 k")
        self.key("Return")
        self.key("Tab", "Tab")
        self.type("5")
        self.key("Return")
        self.assertEqual((self.panel.x.end, self.panel.x.step), (15, 5))
        self.assertEqual([t.value for t in self.window.bench.scene.place.x.ticks], [0, 5, 10, 15])  # type: ignore[union-attr]
        word = strip.fields["start"]
        self.assertEqual(word.property("held"), "true")
        self.click_at(word.free)
        self.assertIsNone(self.panel.x.start)
        self.click_at(strip.direction)
        self.assertTrue(self.panel.x.reversed)
        self.choose(strip.labels, "labels with 2 decimals")
        labels = [plain_text(t.label) for t in self.window.bench.scene.place.x.ticks]  # type: ignore[union-attr]
        self.assertEqual(labels[:2], ["0.00", "5.00"])
        self.click_at(strip.more)
        assert strip.further is not None
        self.click_at(strip.further.free)
        self.click_at(strip.more)
        self.assertEqual((self.panel.x.end, self.panel.x.step), (None, None))
        self.window.frame.activateWindow()
        strip.fields["start"].setFocus()
        self.key("Escape", "Escape")
        self.assertFalse(strip.isVisible())
        self.key("y")
        self.assertEqual((strip.isVisible(), strip.axis), (True, "y"))

    def test_kinds_of_scale(self) -> None:
        self.key("x")
        strip = self.panes.inspector
        before = self.window.bench.document
        self.choose(strip.kind, "log")
        scene = self.window.bench.scene
        said = " ".join(finding.text for finding in scene.cautions) if scene else ""
        self.assertIn("3 readings are not shown on x", said)
        self.assertEqual(self.figure.panel.x.kind, "log")
        self.type_into(strip.fields["start"].field, "0")
        self.assertIn("has no place on a log scale", self.panes.message.label.text())
        self.type_into(strip.fields["start"].field, "0.5")
        self.assertEqual(self.figure.panel.x.start, 0.5)
        self.choose(self.panes.statement.scales["x"].kind, "log, base 2")
        self.assertEqual((self.figure.panel.x.base, self.figure.panel.x.start), ("2", 0.5))
        # by hand as on any scale: the axis is dragged, and its ends keep their ratio
        paper = self.panes.paper
        assert paper.drawing is not None
        box = paper.drawing.box_of(AxisBand("x"))
        assert box is not None
        middle = paper.corner + QPointF(box.left + box.width / 2, box.top + 1) * paper.pixels_per_mm
        ratio = paper.drawing.panels[0].x.end / paper.drawing.panels[0].x.start
        self.drag(paper, middle, middle + QPointF(60, 0))
        x = self.figure.panel.x
        assert x.start is not None and x.end is not None
        self.assertLess(x.start, 0.5)
        self.assertAlmostEqual(x.end / x.start / ratio, 1, 1)
        for _ in range(4):
            self.key("ctrl+z")
        self.assertEqual(self.window.bench.document, before)

    def test_lines_at_values_and_texts_beside_labels(self) -> None:
        self.key("y")
        strip = self.panes.inspector
        self.click_at(strip.more)
        further = strip.further
        assert further is not None
        for word, entry, typed in (
            (further.guides, "Line or shaded range", "0.5: limit"),
            (further.guides, "Line or shaded range", "0.1 to 0.2"),
            (further.beside, "Text beside the numbers", "# AU"),
        ):
            self.choose_beginning(word, entry)
            self.dialog(QInputDialog)
            self.pause()
            self.key("ctrl+a")
            self.type(typed + "\n")
            self.wait_until(lambda: not self._dialogs(QInputDialog), "it was taken")
            self.window.frame.activateWindow()
            self.pause()
        guides = self.figure.panel.guides
        self.assertEqual(
            [(g.value, g.end, g.label) for g in guides], [(0.5, None, "limit"), (0.1, 0.2, "")]
        )
        self.assertEqual(self.figure.panel.y.after, " AU")
        self.choose_beginning(further.guides, "Remove the line at 0.5")
        self.assertEqual([g.value for g in self.figure.panel.guides], [0.1])

    def choose_beginning(self, word: ChoiceWord, words: str) -> None:
        """Chooses the entry of a word's menu that begins so."""
        self.click_at(word)
        popup = QApplication.activePopupWidget
        self.wait_until(lambda: isinstance(popup(), QMenu), "a menu opened")
        menu = popup()
        assert isinstance(menu, QMenu)
        action = next(a for a in menu.actions() if a.text().startswith(words))
        self.click_at(menu, menu.actionGeometry(action).center())

    def test_axis_by_hand(self) -> None:
        paper, middle = self.paper, self.on(AxisBand("x"), 0.5)
        before = self.picture()
        shift = QPointF(self.on(AxisBand("x"), 0.75) - middle)
        self.drag(paper, middle, middle + shift)
        x = self.panel.x
        assert x.start is not None and x.end is not None
        self.assertAlmostEqual(x.end - x.start, 12, delta=0.1)
        self.assertAlmostEqual(x.start, -3.1, delta=0.3)
        self.assertNotEqual(self.picture(), before)
        self.undo_one()
        self.assertEqual(self.picture(), before)

        end = self.on(AxisBand("x"), 0.95)
        self.drag(paper, end, end - shift)
        self.assertIsNone(self.panel.x.start)
        self.assertGreater(self.panel.x.end or 0, 15)
        self.undo_one()

        self.wheel_at(paper, middle, 3)
        self.pause()
        held = self.panel.x
        self.assertLess((held.end or 99) - (held.start or 0), 9)
        self.undo_one()

        self.drag(paper, middle, middle + shift, let_go=False)
        self.assertTrue(self.window.bench.in_gesture)
        self.key("Escape")
        self.release()
        self.assertEqual(self.figure, self.first)
        self.assertEqual(self.window.bench.undo_name, "")

        self.drag(paper, middle, middle + shift)
        whole = paper.geometry()
        self.double_click_at(paper, middle)
        self.assertEqual((self.panel.x.start, self.panel.x.end), (None, None))
        self.assertEqual(paper.geometry(), whole, "the strip does not move the paper")

    def test_closer_look(self) -> None:
        paper, scene = self.paper, self.window.bench.scene
        assert scene is not None
        exported, whole = png(scene.drawing), self.picture()
        away = QPointF(3, 3)
        at = paper.pixel(6.0, 0.43)
        self.wheel_at(paper, at, 4)
        look = paper.look
        assert look is not None
        self.assertTrue(
            look.ranges["x"][0] < 6 < look.ranges["x"][1]
            and look.ranges["x"][1] - look.ranges["x"][0] < 8
        )
        self.assertAlmostEqual((paper.pixel(6.0, 0.43) - at).manhattanLength(), 0, delta=12)
        self.assertEqual(self.figure, self.first)
        self.assertEqual(png(self.window.bench.scene.drawing), exported)  # type: ignore[union-attr]
        self.pause()
        self.drag(paper, at, at + QPointF(-60, 20), button=2)
        panned = paper.look
        assert panned is not None
        self.assertGreater(panned.ranges["x"][0], look.ranges["x"][0])
        # a turn of the wheel after it rested is a look of its own, to step back from
        self.wheel_at(paper, at, 2)
        self.pause()
        self.assertEqual(len(paper.looks), 3)
        self.click_at(paper.look_bar.step_button)
        self.assertEqual(paper.look, panned)
        self.click_at(paper.look_bar.step_button)
        self.assertEqual(paper.look, look)
        self.click_at(paper.look_bar.back_button)
        self.point_at(paper, away)
        self.assertIsNone(paper.look)
        self.assertEqual(self.picture(), whole)
        self.drag(paper, paper.pixel(3.0, 0.6), paper.pixel(9.0, 0.2))
        self.click_at(paper.look_bar.keep_button)
        x, y = self.panel.x, self.panel.y
        for value, wanted in ((x.start, 3), (x.end, 9), (y.start, 0.2), (y.end, 0.6)):
            self.assertAlmostEqual(value or 0, wanted, delta=0.05)
        self.assertIsNone(paper.look)
        self.undo_one()
        paper.setFocus()
        _space = self.drag_with_space(at, at + QPointF(40, 0))
        self.assertLess(_space, 0)
        self.key("Escape")
        self.assertIsNone(paper.look)

    def drag_with_space(self, begin: QPointF, end: QPointF) -> float:
        """Pans with the space bar down; gives where x begins then."""
        from tests.journeys.hands import _xdotool

        _xdotool("keydown", "space")
        self.drag(self.paper, begin, end)
        _xdotool("keyup", "space")
        self.pause()
        assert self.paper.look is not None
        return self.paper.look.ranges["x"][0]

    def test_read_out(self) -> None:
        paper, footer = self.paper, self.window.frame.footer
        scene = self.window.bench.scene
        assert scene is not None
        y = float(scene.table.columns[1].numbers[23])
        bare = self.picture()
        self.point_at(paper, paper.pixel(12.0, y))
        self.assertIn("row 24  ·  Nitrate concentration 12 mg/L", footer.reading.text())
        self.assertNotEqual(self.picture(), bare, "a flag stands beside it")
        self.click_at(paper, paper.pixel(12.0, y))
        self.assertEqual(self.panes.table_pane.grid.selected_rows(), [23])
        self.key("Left", "Left")
        self.assertEqual(self.panes.table_pane.grid.selected_rows(), [21])
        self.assertIn("row 22", footer.reading.text())
        self.key("Home")
        self.assertEqual(self.panes.table_pane.grid.selected_rows(), [0])
        self.point_at(paper, QPointF(3, 3))
        self.key("Escape")
        self.assertEqual(self.picture(), bare)
        view = self.panes.table_pane.grid
        self.click_at(view.viewport() or view, view.visualRect(view.model().index(3, 0)).center())  # type: ignore[union-attr]
        self.assertEqual(self.panes.table_pane.grid.selected_rows(), [3])
        self.assertNotEqual(self.picture(), bare)

    def test_typing_and_moving_in_place(self) -> None:
        paper = self.paper
        self.double_click_at(paper, self.on(Title()))
        self.type("NO_3^- standards")
        self.key("Return")
        self.assertEqual(self.figure.title, "NO_3^- standards")
        self.double_click_at(paper, self.on(AxisTitle("x")))
        self.type("c / mg L^-1")
        self.key("Return")
        drawing = paper.drawing
        assert drawing is not None
        texts = [i for i in drawing.items if isinstance(i, Text)]
        drawn = [plain_text(text.runs) for text in texts if text.of == "x-title"]
        self.assertEqual(drawn, ["c / mg L⁻¹"])
        label = self.on(TrendLabel("t1"))
        self.drag(paper, label, paper.pixel(2.6, 0.72))
        spot = self.panel.trends[0].spot
        assert spot is not None
        self.assertLess(spot.x, 0.3)
        self.double_click_at(paper, self.on(TrendLabel("t1")))
        self.assertIsNone(self.panel.trends[0].spot)
        self.assertAlmostEqual((self.on(TrendLabel("t1")) - label).manhattanLength(), 0, delta=30)
        self.drag(paper, self.on(Title()), self.on(Title()) + QPointF(120, 4))
        self.assertGreater(self.figure.title_spot.x if self.figure.title_spot else 0, 0.2)
        caption = self.panes.caption
        self.double_click_at(caption.label, QPointF(60, 8))
        self.type("Standards of the March run, H_2O as blank.")
        self.key("Return")
        self.assertEqual(caption.label.text(), "Standards of the March run, H₂O as blank.")
        self.click_at(caption.write)
        self.assertIn("ordinary least squares", caption.label.text())

    def test_series_are_renamed_in_the_legend_which_can_be_dragged(self) -> None:
        self.window.open_demo("site-ranks")
        self.settle()
        self.pause()
        self.double_click_at(self.paper, self.on(SeriesName("s2")))
        self.type("Bay")
        self.key("Return")
        self.assertEqual(self.panel.series[1].name, "Bay")
        self.window.edit("names", lambda f: edits.change_panel(f, names="free"))
        self.pause()
        self.drag(self.paper, self.on(Legend()), self.paper.pixel(5.0, 5.5))
        self.assertIsNotNone(self.panel.legend_spot)
        self.double_click_at(self.paper, self.on(Legend(), 0.05, 0.9))
        self.assertIsNone(self.panel.legend_spot)

    def test_leaving_out_and_bringing_back(self) -> None:
        paper, scene = self.paper, self.window.bench.scene
        assert scene is not None
        y = float(scene.table.columns[1].numbers[16])
        slope = self.window.bench.scene.drawing.panels[0].equations["t1"].text  # type: ignore[union-attr]
        self.click_at(paper, paper.pixel(8.0, y), button=3)
        self.wait_until(QApplication.activePopupWidget, "a menu opened")
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu)
        entry = next(a for a in menu.actions() if "with a reason" in a.text())
        self.assertIn("row 17", entry.text())
        self.click_at(menu, menu.actionGeometry(entry).center())
        dialog = self.dialog(QInputDialog)
        dialog.activateWindow()
        field = dialog.findChild(QLineEdit)
        assert field is not None
        self.click_at(field)
        self.type("bubble")
        self.key("Return")
        self.pause()
        left = self.panel.series[0].left_out
        self.assertEqual([(one.row, one.reason) for one in left], [(16, "bubble")])
        self.assertNotEqual(scene.drawing, self.window.bench.scene.drawing)  # type: ignore[union-attr]
        self.assertIn("23 of 24 readings", self.panes.statement.trends[0].readings.text())
        self.assertIn(
            "1 reading was left out of the trend (hollow): bubble.", self.panes.caption.label.text()
        )
        self.assertIn("n = 23", self.panes.results.text.replace("number\t23 readings", "n = 23"))
        back = self.button("bring back")
        self.click_at(back)
        self.assertEqual(self.panel.series[0].left_out, ())
        self.assertIn(slope, self.panes.caption.label.text())

    def button(self, words: str) -> QPushButton:
        self.pause()
        found = [b for b in self.panes.results.findChildren(QPushButton) if b.text() == words]
        visible = [b for b in found if b.isVisible()]
        self.assertTrue(visible, f"no button “{words}”")
        self.panes.results.bring_into_sight(visible[0])
        self.pause()
        return visible[0]

    def test_cautions_and_their_remedies(self) -> None:
        self.click_at(self.paper, self.on(AxisBand("x")))
        strip = self.panes.inspector
        strip.fields["end"].setFocus()
        strip.fields["end"].field.selectAll()
        self.type("10")
        self.key("Return")
        self.key("Escape")
        self.assertIn("3 readings are not shown: x above 10.", self.results())
        self.click_at(self.button("Free the end of x"))
        self.assertIsNone(self.panel.x.end)
        self.window.edit(
            "held", lambda f: evolve(f, panels=(evolve(f.panel, x=evolve(f.panel.x, end=10.0)),))
        )
        self.pause()
        edge = self.paper.edges[0]
        self.assertEqual(edge.text, "3 ›")
        self.click_at(self.paper, edge.rect.center())
        self.assertIsNone(self.panel.x.end)
        self.choose(self.panes.statement.plots[0].mark, "line")
        self.assertIn("have the same x as the one before", self.results())
        self.click_at(self.button("Noted"))
        self.assertIn("Noted\n", self.results())
        self.assertNotIn("Cautions\n", self.results())
        self.click_at(self.button("Tell it again"))
        self.assertIn("Cautions\n", self.results())
        self.click_at(self.button("Draw points only"))
        self.assertEqual(self.panel.series[0].mark, "points")
        self.choose(self.panes.statement.trends[0].shows, "drawn over the whole axis")
        self.assertTrue(self.panel.trends[0].extended)

    def results(self) -> str:
        self.pause()
        return self.panes.results.text

    def test_size_and_zoom_of_the_paper(self) -> None:
        x, y = self.paper.corner_grip
        grip = QPointF(x - 3, y - 3)
        self.drag(self.paper, grip, grip - QPointF(150, 90))
        self.assertTrue(60 <= self.figure.width_mm < 75 and self.figure.height_mm < 60)
        self.assertEqual(self.figure.width_mm, round(self.figure.width_mm))
        self.undo_one()
        fitted = self.paper.pixels_per_mm
        self.key("ctrl+plus")
        self.assertGreater(self.paper.pixels_per_mm, fitted * 1.1)
        self.key("ctrl+0")
        self.assertAlmostEqual(self.paper.pixels_per_mm, fitted, delta=0.2)


class FromNothing(FigureHandsTest):
    def test_from_an_own_file_to_a_titled_scatter_with_its_trend_in_five_acts(self) -> None:
        path = self.write("mere.csv", demo_text("nitrate-standards"))
        acts = 0
        self.key("ctrl+o")
        self.name_file(path)
        acts += 1  # open the file: columns, titles and units come with it
        self.window.frame.activateWindow()
        self.key("ctrl+l")
        acts += 1  # the straight line, with its equation and R²
        self.key("F2")
        self.type("Nitrate standards")
        self.key("Return")
        acts += 1  # the title
        figure = self.figure
        self.assertLessEqual(acts, 5)
        self.assertEqual(figure.title, "Nitrate standards")
        self.assertEqual(figure.panel.trends[0].shows[:2], ("equation", "r-squared"))
        texts = {i.of for i in self.panes.paper.drawing.items if hasattr(i, "runs")}  # type: ignore[union-attr]
        self.assertLessEqual({"title", "x-title", "y-title", "trend/t1/label"}, texts)

    def test_paste_recent_files_palette_theme_and_window_are_remembered(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("Depth (m)\tTemperature (°C)\n0\t19.5\n1\t19.1\n2\t18,2\n")
        self.pause()
        paste = next(
            b for b in self.window.frame.start.findChildren(QPushButton) if "Paste" in b.text()
        )
        self.click_at(paste)
        self.settle()
        self.assertEqual(self.panel.series[0].x, "Temperature")
        self.assertEqual(dict(self.document.tables[0].column("Temperature").texts), {2: "18,2"})

        path = self.write("profile.csv", demo_text("depth-profile"))
        self.window.close_without_asking()
        self.window = self.new_window()
        self.open(path)
        self.key("ctrl+k")
        self.type("theme dark")
        self.key("Return")
        self.assertEqual(self.window.theme.ground, "#1d2625")
        self.assertEqual(self.window.frame.grab().toImage().pixelColor(640, 795).name(), "#1a2322")
        self.window.frame.resize(1180, 760)
        self.pause()
        self.window.close_without_asking()

        self.window = self.new_window()
        self.assertEqual(self.window.theme.ground, "#1d2625")
        self.assertEqual(self.window.settings.numbers("window"), [1180, 760])
        recent = [
            b
            for b in self.window.frame.start.findChildren(QAbstractButton)
            if b.text() == path.name
        ]
        self.click_at(recent[0])
        self.settle()
        self.assertEqual(self.window.bench.name, "profile")
