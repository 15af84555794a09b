"""Files that would take the program along: each ends in a table, or in a sentence, soon."""

import io
import json
import os
import time
import zipfile
from collections.abc import Callable
from functools import partial
from itertools import repeat
from pathlib import Path
from unittest import mock

import numpy as np
from attrs import evolve

from sornix.core.document import Document, new_document
from sornix.core.drawing import draw_figure
from sornix.core.errors import FormulaError, ReadingsError, SornixError, TrendImpossible
from sornix.core.figure import Figure, Panel, Series, add_trend, trend_fit
from sornix.core.formula import evaluate, parse_formula
from sornix.core.patience import GivenUp, while_wanted
from sornix.core.readings import Table, number_column, read_text
from sornix.core.readings.changes.repair import proposals
from sornix.core.readings.formats import workbook
from sornix.core.readings.formats.sources import read_file, read_pasted
from sornix.core.text import parse_number
from sornix.core.trends import MODELS, ParameterConstraints, Sample
from sornix.core.trends.fits.account import correlation_rows
from sornix.demo import demo_files
from tests.base import SornixTest
from tests.core.measure import PlainMeasure, calls_of

_SHEET = (
    '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">'
    "<sheetData>{rows}</sheetData>{merged}</worksheet>"
)


def _workbook(cells: dict[str, float | str], *merged: str) -> bytes:
    """The lake survey with other cells in its first sheet, and ranges of them that are merged."""
    survey = dict(demo_files())["lake-survey.xlsx"]
    rows: dict[int, list[str]] = {}
    for place, value in cells.items():
        row = int("".join(sign for sign in place if sign.isdigit()))
        kind = ' t="inlineStr"' if isinstance(value, str) else ""
        inner = f"<is><t>{value}</t></is>" if kind else f"<v>{value}</v>"
        rows.setdefault(row, []).append(f'<c r="{place}"{kind}>{inner}</c>')
    sheet = "".join(f'<row r="{r}">{"".join(c)}</row>' for r, c in sorted(rows.items()))
    ranges = "".join(f'<mergeCell ref="{one}"/>' for one in merged)
    whole = _SHEET.format(rows=sheet, merged=f"<mergeCells>{ranges}</mergeCells>" * bool(merged))
    stream = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(survey)) as old, zipfile.ZipFile(stream, "w") as new:
        for name in old.namelist():
            first = name == "xl/worksheets/sheet1.xml"
            new.writestr(name, whole if first else old.read(name))
    return stream.getvalue()


_SMALL: dict[str, float | str] = {"A1": "x", "B1": "y", "A2": 1, "B2": 2.5, "A3": 2, "B3": 4}


class ForeignFormats(SornixTest):
    def test_a_stray_cell_at_the_last_place_is_passed_over_and_told(self) -> None:
        path = self.write("stray.xlsx", _workbook({**_SMALL, "XFD1048576": 7}))
        table = read_file(path)[0]
        self.assertEqual([c.cells() for c in table.columns], [["1", "2"], ["2.5", "4"]])
        self.assertIn("1 cell far off from all others was passed over (XFD1048576).",
                      " ".join(table.remarks))  # fmt: skip
        # five are named, and no more is hinted at
        far = {f"XFD{row}": 7.0 for row in range(1, 5)} | {"XFD1048576": 7.0}
        path = self.write("stray.xlsx", _workbook({**_SMALL, **far}))
        said = " ".join(read_file(path)[0].remarks)
        self.assertIn("5 cells far off from all others were passed over", said)
        self.assertNotIn(" …)", said)

    def test_merged_cells_of_groups_stand_in_each_row(self) -> None:
        cells: dict[str, float | str] = {"A1": "Site", "B1": "n", "A3": "A", "A6": "B"}
        cells |= {f"B{row}": float(row) for row in range(3, 8)}
        path = self.write("merged.xlsx", _workbook(cells, "A3:A5", "A6:A7", "B1:B2"))
        table = read_file(path)[0]
        self.assertEqual(table.column("Site").cells(), ["A", "A", "A", "B", "B"])
        self.assertEqual(table.column("n").cells(), ["3", "4", "5", "6", "7"])
        self.assertIn("merged down a column", " ".join(table.notes))

    def test_damaged_foreign_files_are_sentences(self) -> None:
        good = dict(demo_files())
        book = good["lake-survey.xlsx"]
        for name, raw in (
            ("cut.xlsx", book[: len(book) // 2]),
            ("flipped.xlsx", book[:400] + bytes(200) + book[600:]),
            ("old.xls", b"\xd0\xcf\x11\xe0" + bytes(5000)),
            ("cut.parquet", b"PAR1" + bytes(3000) + b"PAR1"),
            ("text.parquet", b"a,b\n1,2\n"),
            ("cut.ods", good["lake-survey.ods"][:2000]),
        ):
            with self.subTest(name), self.assertRaises(ReadingsError) as caught:
                read_file(self.write(name, raw))
            self.assertIn(name, str(caught.exception))

    def test_a_large_workbook_is_unpacked_and_counted(self) -> None:
        with mock.patch.object(workbook, "_HARMLESS_BYTES", 0):
            book = self.write("book.xlsx", dict(demo_files())["lake-survey.xlsx"])
            self.assertEqual([t.row_count for t in read_file(book)], [12, 36, 30])
            with (
                mock.patch.multiple(workbook, _MOST_BYTES=1000, _MOST_RATIO=1),
                self.assertRaisesRegex(ReadingsError, "unpacks to more than"),
            ):
                read_file(book)

    def test_parquet_that_unpacks_without_end_takes_the_disk_or_is_refused(self) -> None:
        import pyarrow as pa
        from pyarrow import parquet

        path = self.folder / "zeros.parquet"
        parquet.write_table(pa.table({"a": np.zeros(80_000_000)}), path)
        with mock.patch(
            "sornix.core.readings.tables.laid.folder", return_value=self.folder / "laid"
        ):
            (table,) = read_file(path)
            self.assertEqual((table.row_count, table.columns[0].ends), (80_000_000, (0.0, 0.0)))
            laid = list((self.folder / "laid").iterdir())
            self.assertEqual(len(laid), 1)
            with (
                mock.patch("sornix.core.readings.formats.apart._MOST_CELLS", 10**7),
                self.assertRaises(ReadingsError) as caught,
            ):
                # another time than before, so that it is not known
                os.utime(path, (1, 1))
                read_file(path)
        self.assertIn("too many readings", str(caught.exception))
        # strange types, times beyond all calendars among them
        far = pa.table({"d": pa.array([5_000_000, 1], pa.date32()), "y": [1.0, 2.0]})
        parquet.write_table(far, path)
        try:
            self.assertEqual(read_file(path)[0].row_count, 2)
        except ReadingsError as error:
            self.assertIn("damaged", str(error))

    def test_a_reading_that_nobody_waits_for_ends(self) -> None:
        path = self.write("small.xlsx", _workbook(_SMALL))
        with while_wanted(lambda: False), self.assertRaises(GivenUp):
            read_file(path)

    def test_files_that_may_not_be_read_or_vanish_are_sentences(self) -> None:
        path = self.write("kept.csv", "a,b\n1,2\n3,4\n")
        denied, gone = (
            PermissionError(13, "Permission denied"),
            FileNotFoundError(2, "No such file"),
        )
        for where, error in (("open", denied), ("stat", gone), ("read_bytes", OSError(5, "Input"))):
            with (
                self.subTest(where),
                mock.patch.object(Path, where, side_effect=error),
                self.assertRaises(ReadingsError) as caught,
            ):
                read_file(path)
            self.assertIn("kept.csv", str(caught.exception))

    def test_numbers_of_json_that_are_none_are_told(self) -> None:
        text = '[{"x": %s, "y": 1}, {"x": 1e999, "y": 2}, {"x": NaN, "y": 3}, {"x": 4, "y": 5}]'
        for number in ("9" * 400, "-" + "9" * 400):
            column = read_file(self.write("n.json", text % number))[0].columns[0]
            self.assertEqual((column.count, len(column.texts)), (1, 2))

    def test_json_of_emptiness_is_refused(self) -> None:
        for value in ([{f"k{i}": i} for i in range(3000)], [{f"k{i}": i for i in range(50_000)}]):
            with self.assertRaises(ReadingsError) as caught:
                read_file(self.write("keys.json", json.dumps(value)))
            self.assertIn("most of it empty", str(caught.exception))
        ragged = [[1]] * 5000 + [[1] * 3000]
        with self.assertRaises(ReadingsError):
            read_file(self.write("ragged.json", json.dumps(ragged)))
        # many rows of few are none of it
        for full in ([[1, 2, 3]] * 50_001, [{"a": 1, "b": 2}] * 50_001):
            table = read_file(self.write("full.json", json.dumps(full)))[0]
            self.assertEqual((table.row_count, len(table.columns)), (50_001, len(full[0])))


def _steps(work: Callable[[], object]) -> float:
    """Seconds of processor time: the least of three."""
    found = []
    for _ in range(3):
        begin = time.thread_time()
        work()
        found.append(time.thread_time() - begin)
    return min(found)


class LongCells(SornixTest):
    """Twice the text takes about twice the time, whatever it is made of."""

    def test_time_grows_with_length(self) -> None:
        patterns = (
            "1", "1 ", "1.", "1-", "9,", "a1", "a ", " ", "\t", "(", "m/s ", "_1", "^{", "{a", "1e",
            "00:", "01/", "jan ", "2026-", "=1", "-", "[x", "\u00a0", "²", "mg ",
        )  # fmt: skip

        def read(pattern: str, count: int) -> Callable[[], None]:
            cell = (pattern * count)[:count] + "x"
            text = f'x,"{cell}"\n1,2\n"{cell}",3\n2,"{cell}"\n4,5\n'

            def work() -> None:
                try:
                    table = read_pasted(text)
                except SornixError:
                    return
                for column in table.columns:
                    proposals(column)
                    _ = column.title

            return work

        for pattern in patterns:
            with self.subTest(repr(pattern)):
                short, long = (_steps(read(pattern, n)) for n in (4000, 32_000))
                self.assertLess(long, 24 * short + 0.02, "it grows with more than the length")

    def test_what_is_typed_is_bounded_too(self) -> None:
        for text in ("9" * 100_000, "1" + " " * 50_000 + "x", "×10^3" * 9000):
            with self.assertRaises(SornixError):
                parse_number(text)


class ManySeries(SornixTest):
    def document(self, count: int) -> Document:
        x = np.arange(12.0)
        columns = (number_column(f"c{i}", x + i) for i in range(count))
        table = Table("t", (number_column("x", x), *columns))
        series = tuple(Series(f"s{i}", "t", "x", f"c{i}", "line", i) for i in range(count))
        return Document((table,), Figure((Panel(series),), width_mm=160, height_mm=120))

    def test_work_grows_with_their_number(self) -> None:
        def calls(count: int, *, again: bool = False) -> int:
            document = self.document(count)

            def drawn() -> None:
                draw_figure(document.figure, document.tables, PlainMeasure())

            if again:
                drawn()
            return calls_of(drawn)

        calls(10)
        few, many = calls(40), calls(160)
        self.assertLess(many, 5.5 * few, "four times the series")
        # what was found out for the first is still known for the last, however many there are
        few, many = calls(160, again=True), calls(320, again=True)
        self.assertLess(many, 2.5 * few, "twice the series, drawn again")


class Formulas(SornixTest):
    def test_long_and_deep_ones_are_worked_out_or_refused(self) -> None:
        def value(text: str) -> float:
            return float(evaluate(parse_formula(text), lambda _: np.float64(2.0)))  # type: ignore[arg-type, return-value]

        self.assertEqual(value("+".join(["x"] * 500)), 1000)
        self.assertEqual(value("1000" + "-x" * 300 + "+x" * 200), 800)
        self.assertEqual(value("1" + "*x/2" * 150 + "*x"), 2)
        self.assertEqual(value("7 - 2 - 3"), 2)
        for text in ("-" * 3000 + "x", "x" + "^x" * 400, "(" * 200 + "x" + ")" * 200, "x" * 5000):
            with self.assertRaises(FormulaError) as caught:
                parse_formula(text)
            self.assertLess(len(str(caught.exception)), 400)

    def test_searches_come_to_an_end_whatever_the_readings(self) -> None:
        walk = np.cumsum(np.random.default_rng(3).normal(0, 1, 50))
        decades, some = np.geomspace(1e-9, 1e9, 20), np.arange(8.0)
        for model, x, y, most in (
            ("peaks-3", np.arange(50.0), walk, 7000),
            ("sine", decades, 1 / decades, 1000),
            ("damped-sine", decades, 1 / decades, 1000),
            ("peaks-2", some, some * 1e307, 1000),
            ("stretched", some + 1e15, some, 20_000),
            ("moving-average", some, some * 1e307, 1000),
        ):
            looks = repeat(True, most)
            with self.subTest(model), while_wanted(partial(next, looks, False)):
                try:
                    fit = MODELS[model].fit(Sample(x, y, np.arange(len(x))), ParameterConstraints())
                except TrendImpossible:
                    continue
                correlation_rows(fit)

    def test_too_many_parameters_are_refused_before_they_are_searched_for(self) -> None:
        rows = "".join(f"{i},{i * i}\n" for i in range(30))
        document = new_document(read_text(f"x,y\n{rows}".encode(), "t"))
        for count, said in ((200, "at most 40"), (35, "as many readings")):
            formula = "+".join(f"a{i}*x^{i % 9}" for i in range(count))
            begin = time.thread_time()
            with self.assertRaises(SornixError) as caught:
                figure = add_trend(document.figure, "s1", "formula", formula)
                trend_fit(figure.panel.trends[0], figure.panel, document.tables)
            self.assertIn(said, str(caught.exception))
            self.assertLess(time.thread_time() - begin, 5)


class Equations(SornixTest):
    def test_none_leaves_its_panel(self) -> None:
        from sornix.core.drawing import Text

        path = Path(self.write("standards.csv", dict(demo_files())["nitrate-standards.csv"]))
        document = new_document(*read_file(path))
        measure = PlainMeasure()
        for model in ("polynomial-5", "polynomial-7"):
            for width in (60.0, 84.0, 174.0):
                figure = add_trend(evolve(document.figure, width_mm=width), "s1", model)
                drawing = draw_figure(figure, document.tables, measure)
                inner = drawing.place.inner
                rows = [
                    i for i in drawing.items if isinstance(i, Text) and i.of == "trend/t1/label"
                ]
                self.assertTrue(rows)
                for row in rows:
                    right = row.x + measure.width(row.runs, row.size_mm)
                    self.assertLessEqual(right, inner.right + 0.1, (model, width))
                    self.assertGreaterEqual(row.x, inner.left - 0.1)
