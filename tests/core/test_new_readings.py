"""The same figure for other readings, and what leaves the bench as numbers and sentences."""

import json
import re
from pathlib import Path

import numpy as np
from attrs import evolve

from sornix.core.document import (
    Document,
    Export,
    add_summary,
    change_table,
    load_document,
    missing_columns,
    new_document,
    pages_of,
    read_for,
    same_but_for_signs,
    save_document,
    small_panels,
    under_names,
    with_readings,
)
from sornix.core.drawing import draw_figure, drawn_tables
from sornix.core.errors import EditRefused, ReadingsError
from sornix.core.figure import (
    add_note,
    add_trend,
    caption,
    change_series,
    fitted_trends,
    leave_out,
    marked,
    set_title,
)
from sornix.core.figure.prose.methods import methods_text
from sornix.core.readings import Table, number_column, read_text, text_column
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.origin import Grouping
from sornix.demo import DEMOS, demo_document, demo_files
from sornix.demo.readings import DEMO_READINGS
from tests.base import SornixTest
from tests.core.formats import good_files
from tests.core.measure import PlainMeasure


def _run(number: int, header: str = "Nitrate concentration (mg/L),Absorbance at 220 nm") -> str:
    """Made-up readings of a calibration run."""
    x = np.repeat(np.arange(0.0, 13.0, 2.0), 2)
    noise = np.random.default_rng(number).normal(0, 0.005, len(x))
    rows = (f"{a:g},{b:.4f}" for a, b in zip(x, 0.07 * x + 0.01 * number + noise, strict=True))
    return header + "\n" + "\n".join(rows) + "\n"


class OtherReadings(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        self.document = demo_document("nitrate-standards")

    def _path(self, name: str, text: str) -> Path:
        path = self.folder / name
        path.write_text(text, encoding="utf-8")
        return path

    def _file(self, name: str, text: str) -> Table:
        return read_for(self.document, self._path(name, text))

    def test_what_was_found_is_passed_on(self) -> None:
        """Date order and decimal mark of the first file decide what a next one leaves open; where
        it says otherwise, that is a doubt. A table that is not there is refused."""

        def document(text: str) -> Document:
            (self.folder / "first.csv").write_text(text)
            return new_document(*read_file(self.folder / "first.csv"))

        days = document("d;y\n13/04/2026;1,25\n14/04/2026;2,5\n")
        months = document("d;y\n04/13/2026;1.25\n04/14/2026;2.5\n")
        (self.folder / "open.csv").write_text("d;y\n03/04/2026;1,250\n05/04/2026;2,500\n")
        (self.folder / "sure.csv").write_text("d;y\n13/04/2026;1,25\n14/04/2026;2,5\n")
        for first, date, number in ((days, "2026-04-03", 1.25), (months, "2026-03-04", 1250)):
            table = read_for(first, self.folder / "open.csv")
            self.assertEqual((table.columns[0].cells()[0], table.columns[1].numbers[0]),
                             (date, number))  # fmt: skip
            self.assertIn("as the readings before", table.notes[0])
            table = read_for(first, self.folder / "sure.csv")
            said = " ".join(table.remarks)
            for words in ("days first, and the readings before had months first",
                          "commas, and the readings before had decimal points"):  # fmt: skip
                self.assertEqual(words in said, first is months, words)
        # a file that says its names itself decides nothing of the next one's lines
        (self.folder / "first.db").write_bytes(good_files()["laboratory.db"])
        (self.folder / "first.json").write_text('[{"x": 1, "y": 2}, {"x": 2, "y": 3}]')
        below = _run(1, "Spectrometer 2\n\nNitrate,Absorbance\nmg/L,1")
        for name in ("first.db", "first.json"):
            table = read_for(
                new_document(*read_file(self.folder / name)), self._path("in.csv", below)
            )
            self.assertEqual([c.name for c in table.columns], ["Nitrate", "Absorbance"])
        source = self.folder / "survey.xlsx"
        source.write_bytes(dict(demo_files())["lake-survey.xlsx"])
        first = new_document(read_file(source, "Stations")[0])
        self.assertEqual(read_for(first, source).name, "Stations")
        with self.assertRaisesRegex(ReadingsError, "There is no table “Stations”.*“Chemistry”"):
            other = self.folder / "other.json"
            other.write_text(json.dumps({name: [{"x": 1}, {"x": 2}] for name in
                                         ("Chemistry", "Cores")}))  # fmt: skip
            read_for(first, other)

    def test_its_own_readings_give_the_same_figure(self) -> None:
        tried = 0
        for name in DEMOS:
            demo = demo_document(name)
            table = demo.tables[0]
            if table.changes:
                continue
            fitted = with_readings(demo, table)
            with self.subTest(name):
                self.assertEqual(fitted.document, demo)
                self.assertEqual(fitted.notes, ())
            tried += 1
        self.assertGreater(tried, 8)

    def test_everything_but_what_was_about_single_readings_goes_along(self) -> None:
        figure = leave_out(self.document.figure, "s1", [3], "bubble")
        figure = add_note(figure, self.document.tables, "bubble", series="s1", row=3)
        figure = add_note(figure, self.document.tables, series="s1", row=5)
        figure = set_title(figure, "Run {file}")
        document = evolve(self.document, figure=figure)
        fitted = with_readings(document, self._file("run-7.csv", _run(7))).document
        self.assertEqual([table.name for table in fitted.tables], ["run-7"])
        panel = fitted.figure.panel
        self.assertEqual((panel.series[0].left_out, len(panel.notes)), ((), 1))
        self.assertEqual(panel.trends, figure.panel.trends)
        drawing = draw_figure(fitted.figure, fitted.tables, PlainMeasure())
        title = next(item for item in drawing.items if item.of == "title")
        self.assertEqual(title.runs[0].text, "Run run-7")  # type: ignore[union-attr]
        ((_, fit),) = fitted_trends(panel, fitted.tables)
        self.assertAlmostEqual(fit.values[1], 0.07, 2)

    def test_names_that_come_near_are_told_and_matched(self) -> None:
        for header, near, same in (
            ("Nitrate concentration (mg/L),absorbance_at 220nm", "absorbance_at 220nm", True),
            ("Nitrate concentration (mg/L),Absorbance", "Absorbance", False),
            ("Nitrate concentration (mg/L),Turbidity", None, False),
        ):
            fresh = self._file("run.csv", _run(1, header))
            (missing,) = missing_columns(self.document, fresh)
            with self.subTest(header):
                self.assertEqual(missing.name, "Absorbance at 220 nm")
                self.assertEqual(missing.near[:1], (near,) if near else ())
                self.assertEqual(same_but_for_signs(missing), near if same else None)
                with self.assertRaises(ReadingsError) as caught:
                    with_readings(self.document, fresh)
                self.assertIn(near or "The columns are", str(caught.exception))
                if near:
                    named = under_names(fresh, {missing.name: near})
                    drawn = with_readings(self.document, named).document
                    self.assertEqual(drawn.figure.panel.trends, self.document.figure.panel.trends)
                    self.assertEqual(drawn.tables[0].column(missing.name).count, 14)

    def test_units_are_converted_or_told(self) -> None:
        fresh = self._file("run.csv", _run(1).replace("(mg/L)", "(µg/L)", 1))
        fitted = with_readings(self.document, fresh)
        self.assertIn("converted from µg/L to mg/L", " ".join(fitted.notes))
        x = fitted.document.tables[0].column("Nitrate concentration").numbers
        self.assertAlmostEqual(float(x.max()), 0.012)
        odd = self._file("odd.csv", _run(1).replace("(mg/L)", "(drops)", 1))
        self.assertIn("is in drops here", " ".join(with_readings(self.document, odd).notes))

    def test_what_was_done_to_the_columns_is_done_again(self) -> None:
        raw = DEMO_READINGS["snail-counts"].make()
        first, second = self.folder / "first.csv", self.folder / "second.csv"
        first.write_text(raw)
        second.write_text(
            re.sub(r",(\d+)$", lambda m: f",{int(m[1]) + 1}", raw, flags=re.MULTILINE)
        )
        document = new_document(*read_file(first))
        document = change_table(
            document, "first", "repair", column="Snails", form="unit", way="strip"
        )
        document = change_table(document, "first", "rename", column="Snails", name="Count", unit="")
        document = change_table(document, "first", "compute", name="Twice", unit="",
                                rule={"rule": "formula", "formula": "2 * Count"})  # fmt: skip
        grouping = Grouping("first", ("Site",), ("Twice",), ("mean",))
        document = add_summary(document, grouping)
        summary = document.tables[1]
        tables = document.tables
        figure = change_series(document.figure, tables, "s1", table=summary.name, x="Site",
                               y=summary.column_names[1])  # fmt: skip
        document = evolve(document, figure=figure)
        fitted = with_readings(document, read_for(document, second)).document
        table, following = fitted.tables
        self.assertEqual(table.name, "second")
        self.assertFalse(table.column("Count").texts)
        before, after = (t.column(t.column_names[1]).numbers for t in (summary, following))
        np.testing.assert_allclose(after - before, 2.0, atol=0.7)
        units = read_text(b"Nr,Standard (mg/L),Absorbance at 220 nm\n1,2,3\n2,3,4\n", "x")
        (one,) = missing_columns(self.document, units)
        self.assertEqual(one.near, ("Standard",), "the one in the same unit")
        self.assertEqual([m.name for m in missing_columns(document, read_text(b"a,b\n1,2\n", "x"))],
                         ["Site", "Snails"])  # fmt: skip

    def test_text_in_place_of_numbers_is_refused(self) -> None:
        words = Table("run", (text_column("Nitrate concentration", ["low", "high"]),
                              number_column("Absorbance at 220 nm", [1.0, 2.0])))  # fmt: skip
        with self.assertRaises(EditRefused) as caught:
            with_readings(self.document, words)
        self.assertIn("holds text here", str(caught.exception))

    def test_runs_on_one_page_share_their_scales(self) -> None:
        runs = [self._file(f"run-{i}.csv", _run(i)) for i in range(9)]
        page = small_panels(self.document, runs)
        figure = page.figure
        self.assertEqual([panel.title for panel in figure.panels], [f"run-{i}" for i in range(9)])
        ids = [s.id for p in figure.panels for s in p.series]
        ids += [t.id for p in figure.panels for t in p.trends]
        self.assertEqual(len(set(ids)), len(ids))
        drawing = draw_figure(figure, page.tables, PlainMeasure())
        self.assertEqual(len({(p.y.start, p.y.end) for p in drawing.panels}), 1)
        for panel, place in zip(figure.panels, drawing.panels, strict=True):
            points = marked(panel.series[0], panel, page.tables).points
            placed = place.place(points.x, points.y)
            self.assertTrue(all(place.inner.grown(0.1).holds(*at) for at in placed.tolist()))
        with self.assertRaises(EditRefused):
            small_panels(self.document, runs * 5)
        for count in (1, 23, 24, 25, 60, 97):
            pages = pages_of([runs[0]] * count)
            self.assertEqual(sum(len(one) for one in pages), count)
            self.assertLessEqual(max(len(one) for one in pages), 24)
            self.assertLessEqual(len(pages[0]) - len(pages[-1]), len(pages))

    def test_a_pattern_and_how_it_was_exported_are_kept(self) -> None:
        export = Export((".svg", ".pdf"), width_px=1200, outlines=True)
        pattern = evolve(self.document, pattern=True, export=export)
        path = self.folder / "p.sornix"
        save_document(pattern, path, b"")
        found = load_document(path)
        self.assertEqual((found.pattern, found.export), (True, export))
        self.assertEqual(found.figure, pattern.figure)


class Numbers(SornixTest):
    def test_what_is_drawn_is_what_is_written(self) -> None:
        for name in DEMOS:
            document = demo_document(name)
            figure, tables = document.figure, document.tables
            drawing = draw_figure(figure, tables, PlainMeasure())
            found = {table.name: table for table in drawn_tables(figure, tables, drawing)}
            series = [s for p in figure.panels for s in p.shown]
            trends = [t for p in figure.panels for t in p.trends]
            with self.subTest(name):
                self.assertEqual(len(found), len(series) + len(trends))
            for table in found.values():
                for column in table.columns:
                    if not column.name.startswith("residual of "):
                        continue
                    words = column.name.removeprefix("residual of ")
                    y = table.columns[2 if table.columns[0].name == "row" else 1].numbers
                    np.testing.assert_array_equal(column.numbers, y - table.column(words).numbers)

    def test_curves_and_bands_are_those_of_the_fit(self) -> None:
        document = demo_document("nitrate-standards")
        drawing = draw_figure(document.figure, document.tables, PlainMeasure())
        readings, curve = drawn_tables(document.figure, document.tables, drawing)
        ((_, fit),) = fitted_trends(document.figure.panel, document.tables)
        x = curve.columns[0].numbers
        self.assertEqual((float(x[0]), float(x[-1])), (0.0, 12.0))
        np.testing.assert_allclose(curve.column("straight line").numbers, fit.at(x), rtol=1e-14)
        bands = fit.bands(x)
        assert bands is not None
        np.testing.assert_array_equal(curve.column("95 % low of mean").numbers, bands.mean[0])
        np.testing.assert_array_equal(
            curve.column("95 % high of new reading").numbers, bands.single[1]
        )
        residuals = readings.column("residual of straight line").numbers
        self.assertAlmostEqual(float(residuals @ residuals), fit.rss, 12)
        self.assertAlmostEqual(float(residuals.sum()), 0.0, 12)

    def test_methods_say_how_every_trend_was_made(self) -> None:
        for name in DEMOS:
            document = demo_document(name)
            said = methods_text(document.figure, document.tables)
            with self.subTest(name):
                self.assertTrue(said.endswith("."))
                self.assertNotRegex(said, r"  |\.\.|\bNone\b|[\^{}]")
                for index in range(len(document.figure.panels)):
                    panel = document.figure.seen(index)
                    for _, fit in fitted_trends(panel, document.tables):
                        self.assertIn(fit.method, said)
                        self.assertIn(f"{fit.n} readings", said)
                        for parameter in fit.names:
                            self.assertRegex(said.casefold(), rf"\b{parameter} = ")
        document = demo_document("nitrate-standards")
        figure = leave_out(document.figure, "s1", [3], "bubble")
        said = methods_text(figure, document.tables)
        self.assertIn("A straight line was fitted to absorbance at 220 nm", said)
        self.assertIn("1 reading was left out.", said)
        own = evolve(figure, methods="By eye, x^2.")
        self.assertEqual(methods_text(own, document.tables), "By eye, x².")
        figure = add_trend(figure, "s1", "moving-average")
        self.assertIn("was drawn", methods_text(figure, document.tables))
        self.assertIn("nitrate", caption(figure, document.tables, {}))
