"""Trends as a scientist makes them: a calibration with unknowns, a decay, shapes compared."""

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QWidget

from sornix.core.figure import ReadOffLine, TrendEnd, trend_fit, waiting
from sornix.core.readings import read_text, table_named
from sornix.core.trends import Fit
from sornix.core.trends.fits.readoff import read_off
from sornix.demo import demo_document, demo_text
from sornix.gui.dialogs.shapedialog import ShapeDialog
from sornix.gui.statement.trendline import TrendLine
from tests.journeys.hands import FigureHandsTest


class Trends(FigureHandsTest):
    @property
    def line(self) -> TrendLine:
        return self.panes.statement.trends[0]

    def fitted(self) -> Fit:
        """The fit of the first trend, once it is made."""
        self.pause()
        scene = self.window.bench.scene
        assert scene is not None
        with waiting():
            return trend_fit(self.panel.trends[0], self.panel, scene.tables)

    def in_ledger(self, name: str) -> QWidget:
        """What has a name that begins so in the ledger, scrolled into sight."""
        self.pause()
        parts = self.panes.results.findChildren(QWidget)
        found = [w for w in parts if w.accessibleName().startswith(name) and w.isVisible()]
        self.assertTrue(found, f"nothing is called “{name}”")
        self.panes.results.bring_into_sight(found[0])
        self.pause()
        return found[0]

    def enter(self, name: str, text: str) -> None:
        field = self.in_ledger(name)
        assert isinstance(field, QLineEdit)
        self.click_at(field)
        self.key("ctrl+a")
        self.type(f"{text}\n")
        self.pause()

    def test_a_calibration_from_the_file_to_the_report(self) -> None:
        self.begin("nitrate-standards")
        unknowns = self.folder / "nitrate-unknowns.csv"
        unknowns.write_text(demo_text("nitrate-unknowns"))
        self.choose(self.line.model, "straight line")
        fit = self.fitted()
        self.enter("How many replicates the y is the mean of", "2")
        self.enter("A measured y whose x is wanted", "0.677")
        asked = self.panel.trends[0].read_offs
        self.assertEqual([one.y for one in asked], [0.677])
        wanted = read_off(fit, 0.677, asked[0].replicates)
        # to a hundredth of its interval
        said = f"x = {wanted.x:.3f} mg/L ("
        self.assertTrue(self.happens(lambda: said in self.panes.results.text, 30))
        # the next one is typed where the first one was, and is beyond the standards
        self.enter("A measured y whose x is wanted", "0.98")
        self.assertTrue(self.happens(lambda: "beyond its readings" in self.panes.results.text, 30))
        self.click_at(self.in_ledger("Remove: y = 0.98"))
        self.assertEqual(len(self.panel.trends[0].read_offs), 1)
        # along the curve by hand
        level = self.on(ReadOffLine("t1", 0), 0.3)
        self.drag(self.paper, level, level + QPointF(0, 60))
        self.assertLess(self.panel.trends[0].read_offs[0].y, 0.66)
        # a whole column of unknowns becomes new columns of its own table
        self.window.readings.add("added a table", (read_text(unknowns.read_bytes(), "unknowns"),))
        self.pause()
        column = self.in_ledger("Read off every y of a column, as new columns")
        self.choose(column, "Absorbance at 220 nm, unknowns")
        made, bench = "Nitrate concentration of Absorbance at 220 nm", self.window.bench
        self.assertTrue(self.happens(
            lambda: made in [c.name for c in table_named(bench.tables, "unknowns").columns], 30
        ))  # fmt: skip
        table = table_named(bench.tables, "unknowns")
        x, y = (table.column(name).numbers for name in (made, "Absorbance at 220 nm"))
        np.testing.assert_allclose(fit.at(x), y, rtol=1e-9)
        self.assertEqual(table.columns[-1].unit, "mg/L")
        self.window.menus.actions["report"].trigger()
        self.name_file(self.folder / "run.md")
        self.pause()
        report = (self.folder / "run.md").read_text()
        for words in ("limit of detection", "F of lack of fit", "95 % confidence interval",
                      "Ordinary least squares", "y = 0."):  # fmt: skip
            self.assertIn(words, report)

    def test_a_decay_with_its_range_dragged_and_an_outlier(self) -> None:
        self.begin("tracer-decay")
        self.choose(self.line.model, "decay to a background")
        bad = self.fitted().r_squared or 0
        self.choose(self.line.readings, "a range of x")
        # the statement has grown by a line, and the paper has moved
        self.pause()
        start = self.on(TrendEnd("t1", "start"), down=0.8)
        self.drag(self.paper, start, start + QPointF(60, 0))
        trend = self.panel.trends[0]
        assert trend.start is not None
        self.assertTrue(4 < trend.start < 20, trend.start)
        good = self.fitted()
        self.assertGreater(good.r_squared or 0, bad)
        self.window.at_reading.leave_out((30,), "hand in the beam", series="s1")
        self.assertEqual(self.fitted().n, good.n - 1)
        self.assertIn("hand in the beam", self.panes.caption.label.text())
        # its lines: a held background, a robust fit, and back
        self.click_at(self.line.further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.type_into(lines.parameters["c"].value.field, "7")
        self.assertEqual(self.panel.trends[0].setting("c").held, 7)
        self.assertEqual(self.fitted().value("c"), 7)
        self.click_at(lines.parameters["c"].value.free)
        self.assertEqual(self.panel.trends[0].settings, ())
        self.choose(lines.method, "robust (Huber)")
        self.assertIn("robust", self.fitted().method)
        self.choose(self.line.model, "exponential")
        self.choose(self.line.logs, "on their logarithms")
        self.assertTrue(self.fitted().on_logs)
        self.assertTrue(self.happens(lambda: "R² of ln y" in self.panes.results.text, 30))

    def test_a_formula_is_typed_and_its_start_slid(self) -> None:
        self.begin("light-response")
        self.choose(self.line.model, "a formula of your own")
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.type_into(lines.formula.field, "p * x / (k + x) - r")
        self.assertEqual(list(lines.parameters), ["p", "k", "r"])
        self.assertGreater(self.fitted().r_squared or 0, 0.99)
        before = self.fitted().values
        slider = lines.parameters["k"].slider
        middle = QPointF(slider.rect().center())
        self.drag(slider, middle, middle + QPointF(25, 0))
        start = self.panel.trends[0].setting("k").start
        assert start is not None
        self.assertGreater(start, before[1])
        np.testing.assert_allclose(self.fitted().values, before, rtol=1e-6)
        self.assertEqual(self.panel.curves, ())
        self.choose(lines.weights, "weighing by the SD in “SD of production”")
        self.assertIn("weighted", self.fitted().method)
        self.type_into(lines.formula.field, "p * x / (k + ")
        self.assertEqual(self.panel.trends[0].formula, "p * x / (k + x) - r")
        self.assertTrue(self.panes.message.isVisible())

    def test_a_formula_is_kept_as_a_shape_and_put_through_other_readings(self) -> None:
        self.begin("tracer-decay")
        self.choose(self.line.model, "a formula of your own")
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.type_into(lines.formula.field, "c + a * exp(-k * x)")
        self.click_at(lines.keep)
        dialog = self.dialog(ShapeDialog)
        self.pause()
        # name, then what is meant, the unit and where to begin, parameter by parameter
        self.type("Dye to a background")
        means, unit, start = dialog.rows["k"]
        self.click_at(means)
        self.type("loss of dye\t")
        self.key("Down", "Down", "Down")
        self.type("\tfast\n")
        self.assertIn("fast", dialog.wrong.text())
        self.assertEqual((unit.currentText(), start.text()), ("per x", "fast"))
        self.key("ctrl+a")
        self.type("0.1\n")
        self.wait_until(lambda: QApplication.activeModalWidget() is None, "the shape was kept")
        self.pause()
        self.assertEqual(self.line.model.text().split(" ▾")[0], "Dye to a background")
        self.assertTrue(self.happens(lambda: "loss of dye" in self.panes.results.text, 30))
        known = self.fitted()

        # other readings take it by its name, and undo gives back what was there
        self.window.bench.begin(demo_document("light-response"), path=None, name="light")
        self.pause()
        self.choose(self.line.model, "straight line")
        self.choose(self.line.model, "Dye to a background")
        put = self.panel.trends[0]
        self.assertEqual((put.called, put.formula), ("Dye to a background", "c + a * exp(-k * x)"))
        self.assertNotEqual(self.fitted().values, known.values)
        self.assertGreater(self.fitted().r_squared or 0, 0.9)
        self.window.frame.setFocus()
        self.key("ctrl+z")
        self.pause()
        self.assertEqual(self.panel.trends[0].model, "line")

    def test_four_shapes_are_compared(self) -> None:
        self.begin("stage-discharge")
        self.choose(self.panes.statement.plots[0].x_word, "Water height")
        self.choose(self.panes.statement.plots[0].y_word, "Flow")
        self.choose(self.line.model, "straight line")
        self.click_at(self.in_ledger("Compare this shape with others"))
        self.fitted()
        table = self.panes.comparison
        assert table is not None
        self.assertTrue(self.happens(lambda: "power law\t" in table.text, 30))
        self.assertTrue(self.happens(lambda: "being fitted" not in table.text, 30))
        text = table.text
        for words in ("power law", "polynomial of degree 2", "exponential", "R² cannot choose"):
            self.assertIn(words, text)
        self.assertLess(text.index("power law\t"), text.index("straight line"))
        self.choose(table.shapes, "logistic")
        self.fitted()
        self.assertTrue(self.happens(lambda: "logistic\t" in table.text, 30))
        # the one that is pointed at stands on the figure; the one that is picked is kept
        (at,) = [row for row, line in enumerate(table.text.splitlines()[1:])
                 if line.startswith("power law")]  # fmt: skip
        item = table.table.item(at, 0)
        assert item is not None
        viewport = table.table.viewport()
        assert viewport is not None
        self.click_at(viewport, QPointF(table.table.visualItemRect(item).center()))
        self.pause()
        scene = self.window.bench.scene
        assert scene is not None
        self.assertEqual([c.name for c in scene.figure.panel.curves], ["power law"])
        self.click_at(table.keep)
        self.assertEqual(self.panel.curves, ())
        self.assertEqual(self.panel.trends[0].model, "power")
        # the two ways of fitting it differ, which is said
        said = "on the readings and"
        self.assertTrue(self.happens(lambda: said in self.panes.results.text, 30))

    def test_growth_against_years_is_told_from_the_first_of_them(self) -> None:
        self.begin("mussel-years")
        self.choose(self.line.model, "exponential")
        fit = self.fitted()
        self.assertEqual(fit.along.origin, 1996)
        self.assertTrue(self.happens(lambda: "value at 1996" in self.panes.results.text, 30))
        self.assertIn("− 1996)", self.panes.caption.label.text())
        # the same curve as through the logarithms, by the same line, within what scatters
        self.choose(self.line.logs, "on their logarithms")
        logged = self.fitted()
        error = fit.standard_error("k")
        assert error is not None
        self.assertLess(abs(fit.value("k") - logged.value("k")), 4 * error)
        self.choose(self.line.logs, "on the readings")
        # a forecast, with its interval, and the caution that it is one
        self.enter("An x whose y is wanted", "2025")
        said = "x = 2025: y = "
        self.assertTrue(self.happens(lambda: said in self.panes.results.text, 30))
        self.assertIn("beyond the readings", self.panes.results.text)
        self.click_at(self.line.further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        means = [label.text() for label in lines.parameters["a"].findChildren(QLabel)]
        self.assertIn("value at 1996", means)
        self.choose(lines.intervals, "intervals by resampling")
        self.assertEqual(self.fitted().ends_by, "resampling")
        said = "Intervals by resampling, 2000 times, seed 1."
        self.assertTrue(self.happens(lambda: said in self.panes.results.text, 30))

    def test_two_calibrations_are_compared(self) -> None:
        self.begin("nitrate-lamps")
        self.choose(self.panes.statement.figure_line.more, "another series")
        self.choose(self.line.model, "straight line")
        self.click_at(self.line.another)
        self.assertEqual([t.series for t in self.panel.trends], ["s1", "s2"])
        old = self.fitted()
        self.click_at(self.in_ledger("Tests, influence and correlations of this trend"))
        self.assertTrue(self.happens(lambda: "Beside New lamp" in self.panes.results.text, 30))
        scene = self.window.bench.scene
        assert scene is not None
        new = trend_fit(self.panel.trends[1], self.panel, scene.tables)
        apart = old.value("slope") - new.value("slope")
        (line,) = (one for one in self.panes.results.text.splitlines()
                   if one.startswith("slope, difference"))  # fmt: skip
        said = line.split("\t")[1].replace("−", "-")
        self.assertAlmostEqual(float(said.split(" ")[0]), apart, 5)
        # the whole interval is below 0, which is said in words too
        self.assertLess(float(said.partition("to ")[2].rstrip(")")), 0)
        self.assertIn("F of a curve for each", self.panes.results.text)
        # one slope for both, each lamp with its own intercept
        self.click_at(self.line.further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.choose(lines.parameters["slope"].shared, "in common")
        self.assertEqual(self.panel.trends[1].shared, ("slope",))
        self.assertTrue(old.value("slope") < self.fitted().value("slope") < new.value("slope"))

    def test_a_standard_addition_of_a_diluted_sample(self) -> None:
        self.begin("copper-addition")
        self.choose(self.line.model, "straight line")
        fit = self.fitted()
        self.enter("A measured y whose x is wanted", "0")
        content = fit.value("intercept") / fit.value("slope")
        said = "content by standard addition"
        self.assertTrue(self.happens(lambda: said in self.panes.results.text, 30))
        self.click_at(self.in_ledger("Samples that were diluted"))
        self.enter("How many times the samples were diluted", "5")
        self.enter("How much of what was in the samples is found again", "95 ± 2")
        treated = self.panel.trends[0].treatment
        self.assertEqual((treated.dilution, treated.recovery, treated.recovery_sd), (5, 95, 2))
        rows = [one.split("\t") for one in self.panes.results.text.splitlines()]
        told = {row[0]: row[1] for row in rows if len(row) > 1}
        self.assertAlmostEqual(float(told[said].split(" ")[0]), content, 3)
        inside = told["in the sample"]
        self.assertLess(abs(float(inside.split(" ")[0]) / (content * 5 / 0.95) - 1), 1e-3)
        # chosen x stand in a table on the figure, and go with it
        self.enter("An x whose y is wanted", "3")
        self.choose(self.line.shows, "table of chosen x")
        self.assertIn("told", self.panel.trends[0].shows)
        self.enter("A measured y whose x is wanted", "150 +- 4")
        self.assertEqual(self.panel.trends[0].read_offs[-1].sd, 4)
        self.enter("How many times the samples were diluted", "0")
        self.assertEqual(self.panel.trends[0].treatment.dilution, 5)
        self.assertTrue(self.panes.message.isVisible())

    def test_a_line_in_several_columns(self) -> None:
        path = self.folder / "survey.csv"
        rows = [(5 + i * 7 % 20, i % 9, i % 3, i % 2 / 9) for i in range(36)]
        path.write_text("Temperature (°C),Oxygen (mg/L),Depth (m),Site\n" + "".join(
            f"{warm},{14 - 0.25 * warm - 0.3 * deep + site + rest:.2f},{deep},Site {site}\n"
            for warm, deep, site, rest in rows))  # fmt: skip
        self.open(path)
        self.pause()
        # what was drawn unasked is a profile of temperatures
        self.choose(self.panes.statement.plots[0].y_word, "Oxygen")
        self.assertFalse(self.panel.y.reversed)
        self.choose(self.line.model, "straight line")
        self.click_at(self.line.further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.choose(lines.columns, "Depth")
        self.choose(lines.columns, "Site")
        self.assertEqual(self.panel.trends[0].columns, ("Depth", "Site"))
        self.assertEqual(self.line.model.text().split(" ▾")[0], "straight line in 3 columns")
        fit = self.fitted()
        self.assertAlmostEqual(fit.value("Depth"), -0.3, 1)
        self.assertTrue(self.happens(lambda: "Site = Site 1" in self.panes.results.text, 30))
        draw = self.in_ledger("Further panels of this line in several columns")
        self.choose(draw, "each column, the others at their averages")
        self.assertEqual(len(self.figure.panels), 4)
        self.window.bench.undo()
        self.assertEqual(len(self.figure.panels), 1)
        self.click_at(self.line.further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.choose(lines.columns, "Site")
        self.choose(lines.products, "with their products")
        self.assertEqual(self.fitted().names[-1], "Temperature × Depth")
