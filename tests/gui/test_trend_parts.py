"""The parts of the window that are about trends, offscreen."""

from functools import partial

import numpy as np
from attrs import evolve
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QIcon
from PyQt6.QtWidgets import QApplication, QPushButton, QScrollArea, QWidget

from sornix.core.document import Document
from sornix.core.drawing import style_of
from sornix.core.drawing.marks.marks import trend_colour
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    Trend,
    add_trend,
    hold,
    set_style,
    trend_fit,
    waiting,
)
from sornix.core.readings import Table, number_column
from sornix.core.trends import MODELS
from sornix.gui.results.card import Picture
from sornix.gui.session.scene import Scene
from tests.qt import WindowTest


class TrendParts(WindowTest):
    demo = "nitrate-standards"

    @property
    def trend(self) -> Trend:
        return self.panel.trends[0]

    def find(self, name: str) -> QWidget:
        parts = self.panes.results.findChildren(QWidget)
        found = [part for part in parts if part.accessibleName().startswith(name)]
        self.assertTrue(found, name)
        return found[0]

    def press(self, name: str) -> None:
        button = self.find(name)
        assert isinstance(button, QPushButton)
        button.click()
        self.settle()

    def test_the_card_tells_all_numbers_when_asked(self) -> None:
        self.assertNotIn("F of lack of fit", self.panes.results.text)
        self.press("Tests, influence and correlations")
        for words in ("F of lack of fit", "greatest Cook’s distance", "intercept and slope"):
            self.assertIn(words, self.panes.results.text)
        against = self.find("What residuals are drawn against")
        self.choose(against, "against normal quantiles")
        self.assertTrue(self.find("Residuals against normal quantiles").isVisible())
        # the choice outlives an edit
        self.window.bench.undo()
        self.window.edit("t", lambda f: add_trend(f, "s1", "polynomial-2"))
        self.settle()
        self.assertIn("F of lack of fit", self.panes.results.text)

    def test_what_stands_in_the_ledger_is_kept_and_gone_through_in_its_order(self) -> None:
        asked, kept = "A measured y whose x is wanted", self.find("Residuals against x")
        assert isinstance(kept, Picture)
        drawing = kept.drawing
        self.type_into(self.find(asked), "0.35")
        # what is typed next goes to the same field, which was made anew
        self.assertIs(QApplication.focusWidget(), self.find(asked))
        self.assertIn("y = 0.35: x = 4.86", self.panes.results.text)
        # a caution comes to stand above all, and its buttons are come to first
        self.window.edit("held", lambda f: hold(f, self.window.bench.tables, "y", start=0.3))
        self.settle()
        self.assertIs(self.find("Residuals against x"), kept)
        self.assertIs(kept.drawing, drawing)
        area = self.panes.results.findChild(QScrollArea)
        assert area is not None
        body = area.widget()
        assert body is not None
        word: QWidget | None = self.find("Free the start of y")
        places = []
        while word is not None and body.isAncestorOf(word):
            if word.isVisible() and word.focusPolicy() & Qt.FocusPolicy.TabFocus:
                at = word.mapTo(body, QPoint())
                places.append((at.y() // 8, at.x()))
            word = word.nextInFocusChain()
        self.assertEqual(places, sorted(places))
        self.assertGreater(len(places), 12)
        # in other colours it is another
        self.window.edit("dark", lambda f: set_style(f, "dark"))
        self.settle()
        self.assertIsNot(kept.drawing, drawing)

    def test_the_equation_is_copied_in_the_form_that_is_asked_for(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        for entry, wanted in (
            ("The equation as text", "A = 0.07102\u2009c + 0.0043"),
            ("The equation as LaTeX", r"A = 0.07102\,c + 0.0043"),
            ("The equation in Markdown", r"$A = 0.07102\,c + 0.0043$"),
            ("The formula", '0.07102 * "Nitrate concentration" + 0.0043'),
        ):
            self.choose(self.find("Copy the numbers or the equation"), entry)
            self.assertEqual(clipboard.text(), wanted)
        # what was copied computes a column of its own
        rule = {"rule": "formula", "formula": clipboard.text()}
        self.panes.table_pane.edit("computed", "compute", name="Line", unit="", rule=rule)
        self.settle()
        column = self.window.bench.tables[0].column("Line")
        self.assertAlmostEqual(float(column.numbers[-1]), 0.07102 * 12 + 0.0043, 9)

    def test_the_further_lines_follow_the_shape(self) -> None:
        statement = self.panes.statement
        line = statement.trends[0]
        line.further.click()
        lines = statement.trend_lines
        assert lines is not None
        self.assertEqual(list(lines.parameters), ["intercept", "slope"])
        self.type_into(lines.parameters["intercept"].value.field, "0")
        self.assertEqual(self.trend.setting("intercept").held, 0)
        self.assertIn("(1 choice)", line.further.text())
        self.type_into(lines.parameters["slope"].high.field, "0.05")
        self.assertEqual(self.trend.setting("slope").high, 0.05)
        self.assertIn("at the end of what it may be", self.panes_text())
        self.type_into(lines.parameters["slope"].low.field, "0.07")
        self.assertIn("backward", self.panes.message.label.text())
        self.type_into(lines.parameters["slope"].high.field, "")
        self.assertEqual(self.trend.setting("slope").high, None)
        self.choose(line.model, "moving average")
        self.assertEqual((lines.parameters, self.trend.settings), ({}, ()))
        self.type_into(lines.span.field, "3")
        self.assertEqual(self.trend.setting("width").held, 3)
        self.assertIn("over 3 readings", self.panes_text())
        self.type_into(lines.span.field, "2.5")
        self.assertIn("whole number of readings", self.panes_text())
        self.choose(line.model, "no trend")
        self.assertIsNone(statement.trend_lines)

    def panes_text(self) -> str:
        self.settle()
        return self.panes.results.text

    def test_two_trends_have_a_slope_in_common(self) -> None:
        self.window.open_demo("standards-by-replicate")
        self.settle()
        for number in range(3):
            self.window.edit("t", partial(add_trend, series_id=f"s{number + 1}"))
        self.settle()
        statement = self.panes.statement
        statement.trends[0].further.click()
        assert statement.trend_lines is not None
        self.choose(statement.trend_lines.parameters["slope"].shared, "in common")
        scene = self.window.bench.scene
        assert scene is not None
        panel = scene.figure.panel
        with waiting():
            slopes = {trend_fit(t, panel, scene.tables).value("slope") for t in panel.trends}
        self.assertEqual((len(slopes), len(panel.trends)), (1, 3))
        self.choose(statement.trend_lines.parameters["slope"].shared, "its own")
        self.assertEqual(self.trend.shared, ())

    def test_menus_put_every_shape_there(self) -> None:
        for model in MODELS:
            self.window.menus.update()
            action = self.window.menus.actions[f"trend/{model}"]
            if action.isEnabled() and model in ("peak", "local-regression", "line-through-point"):
                action.trigger()
        self.window.menus.actions["trend/formula"].trigger()
        self.settle()
        models = [trend.model for trend in self.panel.trends]
        self.assertEqual(set(models), {"line", "peak", "local-regression", "line-through-point",
                                       "formula"})  # fmt: skip
        self.assertIsNotNone(self.panes.statement.trend_lines)
        self.window.menus.actions["compare"].trigger()
        self.settle()
        comparison = self.panes.comparison
        assert comparison is not None
        self.wait_until(lambda: "being fitted" not in comparison.text)
        self.settle()
        self.choose(comparison.shapes, "saturation")
        self.assertNotIn("saturation\t", comparison.text)
        # in any order that is asked for, by the numbers and not by their letters
        head = comparison.table.horizontalHeader()
        assert head is not None
        for column, of in (("scatter", 3), ("parameters", 2)):
            comparison.table.sortByColumn(of, Qt.SortOrder.AscendingOrder)
            rows = [line.split("\t") for line in comparison.text.splitlines()[1:-1]]
            numbers = [float(row[of].replace("×10", "e")) for row in rows if row[of]]
            self.assertEqual(numbers, sorted(numbers), column)
        # a shape is drawn on the figure while it is pointed at, without a step of history
        document, step = self.window.bench.document, self.window.bench.undo_name
        trend = next(t for t in self.panel.trends if t.id == comparison.trend_id)
        drawn: list[int] = []
        for row in reversed(range(comparison.table.rowCount())):
            comparison.table.cellEntered.emit(row, 0)
            scene, item = self.window.bench.scene, comparison.table.item(row, 0)
            assert scene is not None and item is not None
            curves = scene.figure.panel.curves
            drawn.append(len(curves))
            if not curves:
                # a smoother has no formula
                continue
            # in the colour of its row, picked or not, and of the trend where it is that
            style = style_of(scene.figure)
            colour = style.look(curves[0].palette_index).colour
            for mode in (QIcon.Mode.Normal, QIcon.Mode.Selected):
                swatch = item.icon().pixmap(12, 12, mode).toImage()
                self.assertEqual(swatch.pixelColor(6, 6).name(), colour)
            is_present = item.text().endswith("✓")
            self.assertEqual(colour == trend_colour(trend, self.panel, style), is_present)
        self.assertGreater(drawn.count(1), 4)
        self.assertEqual(set(drawn), {0, 1})
        comparison.leave()
        self.assertIs(self.window.bench.document, document)
        self.assertEqual(self.window.bench.undo_name, step)
        self.assertTrue(self.panes.caption.isVisible())


class LongFits(WindowTest):
    """Fits that take long go on beside the window."""

    def setUp(self) -> None:
        super().setUp()
        x = np.linspace(0, 60, 40_000)
        y = 3 + np.sin(x) + np.random.default_rng(1).normal(0, 0.2, len(x))
        table = Table("log", (number_column("Time", x), number_column("Signal", y)))
        panel = Panel((Series("s1", "log", "Time", "Signal", "line"),))
        self.window.bench.begin(Document((table,), Figure((panel,))), path=None, name="log")
        self.settle()

    def fitted(self) -> bool:
        scene = self.window.bench.scene
        return scene is not None and "t1" in scene.drawing.place.equations

    def test_the_trend_comes_when_it_is_known(self) -> None:
        bench = self.window.bench
        bench.edit("t", lambda f: add_trend(f, "s1", "sine"))
        self.assertFalse(self.fitted())
        self.assertTrue(bench.fitter.is_busy)
        QApplication.processEvents()
        self.assertIn("being fitted", self.panes.results.text)
        # what leaves the window has every trend, and the window does not stand still for it
        whole: list[Scene] = []
        bench.with_every_trend(self.window.start, whole.append)
        self.assertEqual(whole, [])
        self.wait_until(lambda: whole, "all was fitted")
        self.assertIn("t1", whole[0].drawing.place.equations)
        self.wait_until(self.fitted)
        self.settle()
        self.assertIn("scatter about trend\t0.20", self.panes.results.text)
        self.assertFalse(bench.fitter.is_busy)
        self.assertEqual(bench.undo_name, "t")

    def test_the_next_edit_gives_it_up(self) -> None:
        bench = self.window.bench
        bench.edit("t", lambda f: add_trend(f, "s1", "peak"))
        QApplication.processEvents()
        self.assertTrue(bench.fitter.is_busy)
        bench.undo()
        QApplication.processEvents()
        self.assertFalse(bench.fitter.is_busy)
        self.assertFalse(self.fitted())

    def test_whatever_is_refused_or_given_up_meanwhile_it_comes(self) -> None:
        bench = self.window.bench

        def refuse(_figure: Figure) -> Figure:
            raise EditRefused("No.")

        def undrawable(figure: Figure) -> Figure:
            return evolve(figure, panels=(evolve(figure.panel, series=(
                evolve(figure.panel.series[0], y="gone"),)),))  # fmt: skip

        bench.edit("t", lambda f: add_trend(f, "s1", "sine"))
        QApplication.processEvents()
        self.assertTrue(bench.fitter.is_busy)
        for change in (refuse, undrawable):
            self.assertFalse(bench.edit("no", change))
            bench.preview(change)
            QApplication.processEvents()
            self.assertTrue(bench.fitter.is_busy)
        # work that ends before it is done, while the scene still wants it
        bench.fitter.abandon()
        self.wait_until(self.fitted)
        self.assertFalse(bench.fitter.is_busy)
