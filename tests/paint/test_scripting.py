"""Sornix in Python: readings, figures and numbers from scripts, without a display."""

import math
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pyarrow as pa
from PyQt6.QtGui import QImage

import sornix
from sornix.core.document import load_document, save_document
from sornix.core.errors import ReadingsError, SornixError
from sornix.demo import demo_document, demo_text
from tests.qt import QtTest
from tools import statements

_SCRIPT = """
import sys, sornix
figure = sornix.draw("standards.csv", "Trend straight line with equation, R²")
print(figure.trends[0].equation)
print([str(path) for path in figure.save("out.svg")])
assert figure._repr_png_().startswith(b"\\x89PNG") and "<svg" in figure._repr_svg_()
assert repr(figure).startswith("<84 × 63 mm: Absorbance at 220 nm against nitrate concentration")
assert "PyQt6.QtWidgets" not in sys.modules
"""
_X = np.arange(12.0)


class Scripting(QtTest):
    def test_the_page_of_statements_shows_what_they_draw(self) -> None:
        self.assertEqual(statements.PAGE.read_text(encoding="utf-8"), statements.page())
        self.assertGreaterEqual(len(statements.SHOWN), 40)
        for number, shown in enumerate(statements.SHOWN, 1):
            with self.subTest(shown.title):
                figure = statements.drawn(shown)
                again = sornix.draw(sornix.Readings(figure.document.tables[0]), figure.statement)
                self.assertEqual(again.document.figure, figure.document.figure)
                picture = QImage(str(statements.FOLDER / statements.picture_name(number)))
                ratio = figure.document.figure.height_mm / figure.document.figure.width_mm
                self.assertAlmostEqual(picture.height() / picture.width(), ratio, delta=0.01)
                for trend in figure.trends:
                    self.assertTrue(all(map(math.isfinite, trend.values.values())))

    def test_a_script_without_a_display(self) -> None:
        self.write("standards.csv", demo_text("nitrate-standards"))
        environment = {
            k: v for k, v in os.environ.items() if k not in ("DISPLAY", "QT_QPA_PLATFORM")
        }
        done = subprocess.run([sys.executable, "-c", _SCRIPT], cwd=self.folder, env=environment,
                              capture_output=True, text=True, check=False)  # fmt: skip
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("0.07102", done.stdout.replace("\u2009", " "))
        self.assertIn("Nitrate concentration", (self.folder / "out.svg").read_text())

    def test_readings_are_arrays_with_units_and_doubts(self) -> None:
        path = self.write("d.csv", "Day,n (m),who\n03/04/2026,1,a\n04/04/2026,,b\n05/04/2026,4,\n")
        (table,) = sornix.read(path)
        self.assertEqual(
            (table.columns, table.units["n"], len(table)), (("Day", "n", "who"), "m", 3)
        )
        np.testing.assert_array_equal(table["n"], [1, np.nan, 4])
        self.assertEqual(table["Day"][0], np.datetime64("2026-04-03"))
        self.assertEqual(list(table["who"]), ["a", "b", ""])
        self.assertIn("may be 3 April or 4 March", " ".join(table.doubts))
        held = sornix.read(path, order="month")[0]
        self.assertEqual(held["Day"][0], np.datetime64("2026-03-04"))
        self.assertEqual(repr(held), "<d: 3 rows; Day, n / m, who>")
        table["n"][0] = 99
        self.assertEqual(table["n"][0], 1)

    def test_any_table_is_drawn(self) -> None:
        class OfAnother:
            def __arrow_c_stream__(self, requested_schema: object = None) -> object:
                return pa.table({"x (s)": _X, "y": 2 * _X}).__arrow_c_stream__(requested_schema)

        names = {"x (s)": _X, "y": 2 * _X}
        for given in (names, pa.table(names), OfAnother(), {k: list(v) for k, v in names.items()}):
            drawn = sornix.draw(given, "Trend straight line")
            self.assertEqual(drawn.statement.splitlines()[0], "Plot y against x, as points")
            self.assertAlmostEqual(drawn.trends[0].values["slope"], 2)
            self.assertEqual(drawn.trends[0].n, 12)
        with_times = {"t": np.datetime64("2026-03-01") + np.arange(9), "Site": list("abcabcabc"),
                      "v": _X[:9]}  # fmt: skip
        self.assertIn("against t", sornix.draw(with_times).statement)
        self.assertEqual(sornix.fit(names, "Trend straight line")[0].series, "y")
        for wrong in (3, {"a": [1, 2], "b": [1]}, {}, {"a": ["x", "y"]}):
            with self.subTest(wrong), self.assertRaises(ReadingsError):
                sornix.draw(wrong)
        with self.assertRaises(SornixError) as caught:
            sornix.draw(names, "Plot z")
        self.assertIn("line 1, character 6", str(caught.exception))

    def test_documents_are_drawn_as_they_are(self) -> None:
        path = self.folder / "panels.sornix"
        document = demo_document("depth-panels")
        save_document(document, path, b"")
        drawn = sornix.draw(str(path))
        self.assertEqual(drawn.document, document)
        again = self.folder / "again.sornix"
        drawn.save(again)
        self.assertEqual(load_document(again).figure, document.figure)
        self.assertEqual(len(sornix.draw(path, "x from 2").document.figure.panels), 2)
        for wrong in ("a.bmp", "a"):
            with self.assertRaises(SornixError):
                drawn.save(Path(self.folder, wrong))
        tables = sornix.read(path)
        self.assertEqual(sornix.draw(tables).document.tables[0].column_names,
                         document.tables[0].column_names)  # fmt: skip
