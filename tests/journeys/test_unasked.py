"""From a file to the figure that is wanted in few acts: what is drawn unasked takes none, titles
one each, a weighted calibration three."""

from collections.abc import Sequence

import numpy as np

from sornix.core.figure import AxisTitle, trend_fit, waiting
from sornix.gui.statement.wordlines import Chosen
from tests.journeys.hands import FigureHandsTest

_MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]


class Unasked(FigureHandsTest):
    def table(self, name: str, header: str, rows: Sequence[tuple[object, ...]]) -> None:
        lines = [header, *(",".join(str(cell) for cell in row) for row in rows)]
        self.open(self.write(name, "\n".join(lines) + "\n"))
        self.pause()

    def drawn(self) -> list[tuple[str | None, str | None, str]]:
        return [(one.x, one.y, one.mark) for one in self.panel.series]

    def test_months_are_four_lines_with_points(self) -> None:
        random = np.random.default_rng(2)
        rows = [(month, *np.round(random.normal(50, 9, 4), 1)) for month in _MONTHS]
        self.table("rain.csv", "Month,2019 (mm),2020 (mm),2021 (mm),2022 (mm)", rows)
        years = [str(year) for year in range(2019, 2023)]
        self.assertEqual(self.drawn(), [("Month", year, "points-and-line") for year in years])
        said = self.panes.reason.label.text()
        self.assertIn("months in their order", said)

    def test_six_ranks_are_lines_with_names_at_their_ends(self) -> None:
        """In three acts: the best on top, the further words, the names."""
        sites = ["Reed belt", "Buoy B2", "Outflow", "North bay", "Boathouse", "Ashel mouth"]
        orders = [(1, 2, 3, 4, 5, 6), (2, 1, 3, 4, 6, 5), (2, 1, 4, 3, 6, 5), (1, 3, 4, 2, 6, 5)]
        rows = [(month, *ranks) for month, ranks in zip((3, 5, 7, 9), orders, strict=True)]
        self.table("ranks.csv", ",".join(["Month of the year", *sites]), rows)
        self.assertEqual([one.y for one in self.panel.series], sites)
        self.assertEqual({one.mark for one in self.panel.series}, {"points-and-line"})
        statement = self.panes.statement
        self.assertEqual(statement.plots[0].y_word.text(), "6 columns ▾")
        self.click_at(statement.scales["y"].direction)
        self.click_at(statement.plots[0].further)
        lines = statement.series_lines
        assert lines is not None
        names = lines.parts["Where names stand"]
        assert isinstance(names, Chosen)
        self.choose(names.word, "names at the line ends")
        self.assertTrue(self.panel.y.reversed)
        self.assertEqual(self.panel.names, "ends")

    def test_one_line_says_and_changes_what_is_alike(self) -> None:
        """Four lines of twelve months: as points in one act, without one of them in two, one of
        another colour in two, each with its trend in two."""
        rows = [(k, *np.round([5 + j + 0.4 * k * (j + 1) for j in range(4)], 1)) for k in range(12)]
        self.table("bays.csv", "Week,North (°C),East (°C),South (°C),West (°C)", rows)
        statement = self.panes.statement
        self.assertEqual(len(statement.plots), 1)
        self.assertEqual(statement.plots[0].y_word.text(), "North, East, South and West ▾")
        self.choose(statement.plots[0].mark, "points")
        self.assertEqual({series.mark for series in self.panel.series}, {"points"})
        self.key("ctrl+z")
        self.pause()
        self.assertNotEqual({series.mark for series in self.panel.series}, {"points"})
        self.key("ctrl+shift+z")
        self.pause()
        self.assertEqual({series.mark for series in self.panel.series}, {"points"})
        # by keys: the list opens under the word, the second column is unticked and ticked again
        statement.plots[0].y_word.setFocus()
        self.key("Down")
        self.pause()
        self.key("Down", "space")
        self.pause()
        self.assertEqual([s.y for s in self.panel.series], ["North", "South", "West"])
        self.key("space")
        self.pause()
        self.assertEqual([s.y for s in self.panel.series], ["North", "East", "South", "West"])
        self.key("Return")
        self.pause()
        self.assertEqual(statement.plots[0].y_word.text(), "North, East, South and West ▾")
        # a swatch opens what is single to one
        east = self.panel.series[1].id
        self.click_at(statement.plots[0].swatches[east])
        lines = statement.series_lines
        assert lines is not None
        self.assertEqual(lines.about.text(), "of East alone:")
        colour = lines.parts["Colour of the series"]
        assert isinstance(colour, Chosen)
        self.choose(colour.word, "moss")
        self.assertEqual([s.id for s in self.panel.series if s.style.colour], [east])
        self.assertEqual(len(statement.plots), 1)
        self.choose(statement.trends[0].model, "straight line")
        self.choose(statement.trends[0].through, "each of the 4")
        self.assertEqual([t.series for t in self.panel.trends], [s.id for s in self.panel.series])
        self.assertEqual(len(statement.trends), 1)
        self.choose(statement.trends[0].model, "no trend")
        self.assertEqual(self.panel.trends, ())
        # on its own it can be drawn otherwise, and goes back when it is drawn like the others
        lines = statement.series_lines
        assert lines is not None
        self.click_at(lines.apart)
        self.assertEqual(len(statement.plots), 2)
        self.choose(statement.plots[1].mark, "line")
        self.assertEqual([s.id for s in self.panel.series if s.mark == "line"], [east])
        self.choose(statement.plots[1].mark, "points")
        self.assertEqual(len(statement.plots), 1)

    def test_names_are_bars(self) -> None:
        rows = [("Ashel mouth", 12), ("North bay", 18), ("Reed belt", 9), ("Outflow", 21)]
        self.table("snails.csv", "Site,Snails", list(rows))
        self.assertEqual(self.drawn(), [("Site", "Snails", "bars")])

    def test_spectra_are_lines(self) -> None:
        nm = np.arange(400, 701, 2)
        rows = [(x, *(round(0.1 * k + np.exp(-(((x - 520) / 40) ** 2)), 4) for k in (1, 2, 3)))
                for x in nm]  # fmt: skip
        self.table("spectra.csv", "Wavelength (nm),Sample 1,Sample 2,Sample 3", rows)
        samples = [f"Sample {k}" for k in (1, 2, 3)]
        self.assertEqual(self.drawn(), [("Wavelength", name, "line") for name in samples])

    def test_before_and_after_are_clustered_bars_with_titles(self) -> None:
        rows = [("Iron", 9.1, 4.2), ("Copper", 7.4, 3.9), ("Zinc", 8.8, 5.1)]
        self.table("metals.csv", "Metal,Before (mg/L),After (mg/L)", list(rows))
        self.assertEqual(self.drawn(), [("Metal", "Before", "bars"), ("Metal", "After", "bars")])
        self.key("F2")
        self.type("Metals in the outflow\n")
        self.pause()
        self.double_click_at(self.paper, self.on(AxisTitle("y")))
        self.pause()
        self.key("ctrl+a")
        self.type("Content / mg/L\n")
        self.pause()
        self.assertEqual(self.figure.title, "Metals in the outflow")
        self.assertEqual(self.panel.y.title, "Content / mg/L")

    def test_standards_with_sd_are_a_weighted_calibration(self) -> None:
        sd = (0.002, 0.004, 0.009, 0.016, 0.024)
        rows = [(x, round(0.01 + 0.07 * x + error, 4), spread)
                for x, error, spread in zip((0, 2, 5, 10, 15), (0, 0.002, -0.006, 0.011, -0.02), sd,
                                            strict=True)]  # fmt: skip
        self.table("standards.csv", "Nitrate concentration (mg/L),Absorbance,SD", rows)
        (series,) = self.panel.series
        self.assertEqual(series.errors_y.column if series.errors_y else None, "SD")
        self.choose(self.panes.statement.trends[0].model, "straight line")
        self.click_at(self.panes.statement.trends[0].further)
        lines = self.panes.statement.trend_lines
        assert lines is not None
        self.choose(lines.weights, "weighing by the SD in “SD”")
        self.pause()
        trend = self.panel.trends[0]
        self.assertEqual((trend.weights, trend.weight_column), ("column", "SD"))
        scene = self.window.bench.scene
        assert scene is not None
        with waiting():
            fit = trend_fit(trend, self.panel, scene.tables)
        x, y, _ = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
        slope, intercept = np.polyfit(x, y, 1, w=1 / np.array(sd))
        self.assertAlmostEqual(fit.value("slope"), float(slope))
        self.assertAlmostEqual(fit.value("intercept"), float(intercept))
