"""What is done to tables: acts, formulas, repair, units, patterns, summaries, correlations."""

import math
from typing import Any

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.document import (
    Document,
    add_summary,
    change_table,
    load_document,
    new_document,
    remove_table,
    rename_table,
    save_document,
    with_table_read_again,
)
from sornix.core.errors import EditRefused, FormulaError, SornixError
from sornix.core.figure import change_series, hold, leave_out, series_points
from sornix.core.formula import evaluate, names_in, parse_formula
from sornix.core.readings import Table, number_column, read_text, text_column
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.changes.fill import continued
from sornix.core.readings.changes.find import find_cells
from sornix.core.readings.changes.repair import FORMS, proposals, repaired, ways_for
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.correlation import SPEARMAN, correlations
from sornix.core.readings.tables.origin import Grouping
from sornix.core.readings.tables.rule import (
    CodeWords,
    Counted,
    DateParts,
    DayOfYear,
    EntryCount,
    GoingOn,
    Together,
)
from sornix.core.readings.tables.rules import codes_in
from sornix.core.readings.tables.units import convert, is_known, offers, unit_of
from tests.base import SornixTest

TEXT = "Site,Depth (m),Snails,T (°C)\nA,1,4,10\nB,2,12 snails,12\nA,3,8,<0.5\nB,4,,16\n"


class TablesTest(SornixTest):
    def document(self, text: str = TEXT) -> Document:
        return new_document(*read_file(self.write("mere.csv", text)))

    def change(self, document: Document, act: str, /, **arguments: Any) -> Document:
        return change_table(document, document.tables[0].name, act, **arguments)

    def cells(self, document: Document, column: str) -> list[str]:
        return document.tables[0].column(column).cells()


class Acts(TablesTest):
    def test_the_figure_follows_its_columns_and_rows(self) -> None:
        document = self.document("Site,Depth (m),Snails\nA,3,4\nB,2,9\nA,1,8\nB,4,5\n")
        figure = leave_out(document.figure, "s1", [1], "spilled")
        document = Document(document.tables, hold(figure, document.tables, "x", start=0.5))
        document = self.change(document, "compute", name="Half", unit="m",
                               rule={"rule": "formula", "formula": "Depth / 2"})  # fmt: skip
        document = self.change(document, "rename", column="Depth", name="Depth of trap", unit="cm")
        series = document.figure.panel.series[0]
        self.assertEqual((series.x, series.y), ("Depth of trap", "Snails"))
        rule = document.tables[0].column("Half").rule
        self.assertEqual(rule.words if rule else "", '= "Depth of trap" / 2')
        document = self.change(document, "sort", column="Depth of trap")
        self.assertEqual(self.cells(document, "Snails"), ["8", "9", "4", "5"])
        document = self.change(document, "insert_rows", at=0, count=2)
        self.assertEqual(document.figure.panel.series[0].left_out[0].row, 3)
        self.assertEqual(self.cells(document, "Half"), ["", "", "0.5", "1", "1.5", "2"])
        document = self.change(document, "delete_rows", rows=[0, 1, 3])
        self.assertEqual(document.figure.panel.series[0].left_out, ())
        self.assertEqual(self.cells(document, "Site"), ["A", "A", "B"])
        document = self.change(document, "convert", column="Depth of trap", unit="m")
        self.assertEqual(self.cells(document, "Depth of trap"), ["0.01", "0.03", "0.04"])
        self.assertEqual(document.figure.panel.x.start, 0.005)
        document = rename_table(document, "mere", "traps")
        panel = document.figure.panel
        self.assertEqual(len(series_points(panel.series[0], panel, document.tables).x), 3)

    def test_cells_are_typed_and_the_table_grows(self) -> None:
        document = self.document("a,b\n1,2\n")
        document = self.change(
            document, "set_cells", cells=[(0, 1, "2,5"), (2, 0, "x"), (1, 3, "7")]
        )
        columns = document.tables[0].columns
        self.assertEqual([c.name for c in columns], ["a", "b", "Column 3", "Column 4"])
        self.assertEqual([c.cells() for c in columns],
                         [["1", "", "x"], ["2,5", "", ""], ["", "", ""],
                          ["", "7", ""]])  # fmt: skip
        self.assertEqual([dict(c.texts) for c in columns[:2]], [{2: "x"}, {0: "2,5"}])
        # words name an empty column; dates and words make it one of their kind
        for row, text in enumerate(("On (d)", "2026-04-03", "3 May 2026")):
            document = self.change(document, "set_cells", cells=[(max(row - 1, 0), 2, text)])
        self.assertEqual(document.tables[0].columns[2].title, "On")
        self.assertEqual(self.cells(document, "On"), ["2026-04-03", "2026-05-03", ""])
        fresh = [{"name": "b", "unit": "m", "cells": ["1", "2", "3", "4"]}]
        document = self.change(document, "add_columns", columns=fresh)
        self.assertEqual(self.cells(document, "b 2"), ["1", "2", "3", "4"])
        self.assertEqual(self.cells(document, "a"), ["1", "", "x", ""])

    def test_decimal_commas_are_typed_where_they_were_read(self) -> None:
        document = self.document("Site;y\nA 1,5;1,5\nB;2,5\n")
        typed = [(0, 1, "-7,95"), (1, 1, "8.39"), (2, 1, "<0,05"), (1, 0, "2,5"), (3, 1, "1,2,3")]
        y, site = (self.change(document, "set_cells", cells=typed).tables[0].column(name)
                   for name in ("y", "Site"))  # fmt: skip
        np.testing.assert_array_equal(y.numbers[:2], [-7.95, 8.39])
        self.assertEqual(dict(y.texts), {2: "<0.05", 3: "1,2,3"})
        self.assertEqual(site.cells()[1], "2,5")

    def test_what_follows_from_nothing_that_changed_is_kept(self) -> None:
        document = self.document("a,b\n1,2\n3,4\n")
        for name, formula in (("c", "2 * a"), ("d", "c + b")):
            document = self.change(document, "compute", name=name, unit="",
                                   rule={"rule": "formula", "formula": formula})  # fmt: skip
        old = document.tables[0]
        new = self.change(document, "set_cells", cells=[(0, 1, "7")]).tables[0]
        self.assertIs(new.column("c"), old.column("c"))
        self.assertEqual(new.column("d").cells(), ["9", "10"])

    def test_kinds_change_and_what_cannot_be_is_refused(self) -> None:
        document = self.document("year,code,s\n2024,01,x\n2025,02,y\n")
        self.assertEqual(self.cells(self.change(document, "set_kind", column="year", kind="time"),
         "year"),
                         ["2024-01", "2025-01"])  # fmt: skip
        worded = self.change(document, "set_kind", column="code", kind="text")
        self.assertEqual(self.cells(worded, "code"), ["1", "2"])
        names = {"rule": "words", "column": "year", "words": dict(codes_in("2024 = dry; 2025=wet"))}
        document = self.change(document, "compute", name="w", unit="", rule=names)
        self.assertEqual(self.cells(document, "w"), ["dry", "wet"])
        for act, arguments, said in (
            ("set_kind", {"column": "s", "kind": "time"}, "No cell of “s”"),
            ("rename", {"column": "s", "name": "year", "unit": ""}, "“year” already"),
            ("rename", {"column": "s", "name": " ", "unit": ""}, "needs a name"),
            ("delete_columns", {"names": ["year"]}, "“w” is computed from “year”"),
            ("delete_columns", {"names": ["code"]}, "drawn in the figure"),
            ("set_cells", {"cells": [(0, 3, "5")]}, "is computed"),
            ("convert", {"column": "code", "unit": "m"}, "measure different things|cannot become"),
            ("compute", {"name": "q", "unit": "", "rule": {"rule": "formula",
             "formula": "zz + 1"}}, "“zz”"),
            ("compute", {"name": "q", "unit": "", "rule": {"rule": "formula", "formula": "2*s"}},
             "holds text"),
        ):  # fmt: skip
            with self.subTest(act), self.assertRaises(SornixError) as caught:
                self.change(document, act, **arguments)
            self.assertRegex(str(caught.exception), said)
        with self.assertRaises(EditRefused):
            codes_in("1: reed")
        with self.assertRaises(EditRefused):
            remove_table(document, "mere")

    def test_what_was_done_is_done_again_to_a_file_that_has_grown(self) -> None:
        document = self.document()
        for act, arguments in (
            ("repair", {"column": "Snails", "form": "unit", "way": "strip"}),
            ("repair", {"column": "T", "form": "limit", "way": "mark"}),
            ("set_cells", {"cells": [(3, 2, "20")]}),
            ("compute", {"name": "per metre", "unit": "",
                         "rule": {"rule": "formula", "formula": "Snails / Depth"}}),
        ):  # fmt: skip
            document = self.change(document, act, **arguments)
        self.assertEqual(self.cells(document, "per metre")[:2], ["4", "6"])
        self.assertEqual(self.cells(document, "T"), ["10", "12", "<0.5", "16"])
        path = self.write("mere.csv", TEXT + "C,5,25 snails,17\nC,6,4")
        fresh, lost = read_again(document.tables[0], whole_lines=True)
        self.assertEqual((fresh.row_count, lost), (5, ()))
        grown = with_table_read_again(document, "mere", fresh)
        self.assertEqual(self.cells(grown, "per metre"), ["4", "6", repr(8 / 3), "5", "5"])
        self.assertEqual(grown.figure, document.figure)
        # another way of reading: what does not fit is told, and the figure is drawn anew
        fresh, lost = read_again(grown.tables[0], {"header": 2})
        self.assertEqual((fresh.column_names[0], len(lost)), ("A", 3))
        anew = with_table_read_again(grown, "mere", fresh)
        self.assertEqual(anew.figure.panel.series[0].x, "1")
        # a figure of categories stays one
        sites = evolve(grown, figure=change_series(grown.figure, grown.tables, "s1", x="Site"))
        fresh, _ = read_again(grown.tables[0])
        self.assertEqual(with_table_read_again(sites, "mere", fresh).figure, sites.figure)
        path.unlink()
        with self.assertRaises(SornixError):
            read_again(grown.tables[0])

    def test_rules_follow_the_names_of_their_columns(self) -> None:
        for rule in (
            CodeWords("a", (("1", "shade"),)), EntryCount("a", ";"), Together("a", "b"),
            DateParts(("a", "b", "c")), DayOfYear("a", "b"), DayOfYear("a", "b", "c"),
            GoingOn("a"), Counted("a", "days"),
        ):  # fmt: skip
            for name in (*rule.inputs(), "other"):
                renamed = rule.following(name, "new")
                wanted = tuple("new" if one == name else one for one in rule.inputs())
                self.assertEqual(renamed.inputs(), wanted)
                self.assertEqual(renamed.following("new", name), rule)

    def test_everything_is_saved_with_the_document(self) -> None:
        document = self.document()
        document = self.change(document, "repair", column="T", form="limit", way="mark")
        document = self.change(document, "compute", name="F", unit="°F",
                               rule={"rule": "formula", "formula": "T * 1.8 + 32"})  # fmt: skip
        document = self.change(document, "add_columns", columns=[
            {"name": "on", "unit": "", "cells": ["2026-04-03", "2026-04-04 06:00", "", "soon"]},
            {"name": "at", "unit": "", "cells": ["06:00", "07:30:05", "", "08:00"]},
        ])  # fmt: skip
        document = add_summary(document, Grouping("mere", ("Site",), ("Depth", "T"), ("mean", "n")))
        path = self.folder / "d.sornix"
        save_document(document, path, b"")
        self.assertEqual(load_document(path), document)


class Formulas(SornixTest):
    def value(self, text: str, **values: float) -> float:
        expression = parse_formula(text)
        return float(evaluate(expression, lambda name: np.array(values[name.name])))

    def test_ordinary_mathematics(self) -> None:
        for text, wanted in (
            ("1 + 2 * 3", 7), ("(1 + 2) * 3", 9), ("2 - 3 - 4", -5), ("8 / 4 / 2", 1),
            ("-2^2", -4), ("2^3^2", 512), ("2^-1", 0.5), ("−3 × 2 ÷ 4", -1.5),
            ("1.5e-3 * 2", 0.003),
            ("2 * pi", 2 * math.pi), ("ln(e)", 1), ("log10(1000) + log2(8)", 6),
            ("sqrt(2)^2", 2), ("min(3, 1, 2) + max(1, 5)", 6), ("abs(-x)", 4),
            ("atan(1) * 4", math.pi),
            ('"a b" / x', 2.5), ("--x", 4), ("+x", 4), (".5*x^2", 8),
        ):  # fmt: skip
            with self.subTest(text):
                self.assertAlmostEqual(self.value(text, **{"x": 4.0, "a b": 10.0}), wanted, 12)
        self.assertEqual(self.value("-" * 120 + "2"), 2)
        for text in ("ln(-1)", "1 / 0", "0 / 0", "10^999", "asin(2)", "(-8)^0.5"):
            with self.subTest(text):
                self.assertTrue(math.isnan(self.value(text)))

    def test_errors_point_at_the_character(self) -> None:
        for text, at, said in (
            ("", 0, "no formula"), ("1 +", 3, "too early"), ("(1 + 2", 6, "closing bracket"),
            ("1 ) 2", 2, "bracket"), ("2 ** 3", 3, "cannot stand"), ("3 $ 4", 2, "“$”"),
            ("sine(2)", 0, "no function “sine”"), ("sqrt(1, 2)", 0, "one value"), ("2 3", 2, "“3”"),
            ('"a', 0, "other half"), ("a = 2", 2, "“=”"), ("max()", 0, "two or more"),
            ("(" * 300, 0, "too long"), ("-" * 121 + "a", 0, "too deeply"), ("a.b", 1, ""),
            ("__import__('os')", 11, ""),
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(FormulaError) as caught:
                parse_formula(text)
            self.assertEqual(caught.exception.at, at)
            self.assertIn(said, caught.exception.what)
            self.assertTrue(str(caught.exception.where).endswith(f"character {at + 1}"))

    @given(st.recursive(
        st.floats(0.1, 9).map(lambda v: f"{v:.3f}") | st.just("x"),
        lambda inner: st.tuples(inner, st.sampled_from("+-*/"),
         inner).map(lambda t: f"({t[0]} {t[1]} {t[2]})"),
        max_leaves=12,
    ))  # fmt: skip
    def test_values_agree_with_another_reader(self, text: str) -> None:
        x = 1.75
        try:
            wanted = eval(text, {"x": x})
        except ZeroDivisionError:
            wanted = math.nan
        np.testing.assert_allclose(self.value(text, x=x), wanted, rtol=1e-12)

    def test_circles_are_refused_by_name(self) -> None:
        document = new_document(
            Table("t", (number_column("a", [1.0, 2.0]), number_column("b", [3, 4])))
        )

        def rule(text: str) -> dict[str, str]:
            return {"rule": "formula", "formula": text}

        document = change_table(document, "t", "compute", name="c", unit="", rule=rule("a + b"))
        document = change_table(document, "t", "compute", name="d", unit="", rule=rule("2 * c"))
        document = change_table(document, "t", "set_cells", cells=[(0, 0, "11")])
        self.assertEqual(document.tables[0].column("d").cells(), ["28", "12"])
        with self.assertRaises(EditRefused) as caught:
            change_table(document, "t", "compute", name="c", unit="", rule=rule("d + 1"))
        self.assertIn("“c” needs “d” needs “c”", str(caught.exception))
        names = [name.name for name in names_in(parse_formula('a * "b c" + a'))]
        self.assertEqual(names, ["a", "b c", "a"])


class Repair(TablesTest):
    def test_forms_and_ways(self) -> None:
        nan = math.nan
        for text, form, ways in (
            ("12.5 g", "unit", {"strip": 12.5, "missing": nan}), ("~3", "about", {"number": 3}),
            ("ca. 0,5", "about", {"number": 0.5}), ("<0.1", "limit", {"mark": 0.1, "half": 0.05}),
            ("> 300", "limit", {"mark": 300}),
            ("1,234", "thousands", {"joined": 1234, "decimal": 1.234}),
            ("1,234,567.5", "thousands", {"joined": 1234567.5}), ("O.5", "slip", {"digits": 0.5}),
            ("l2", "slip", {"digits": 12}), ("0,5", "comma", {"number": 0.5}),
            ("3–5", "range", {"middle": 4}),
            ("3.2 ± 0.1", "error", {"number": 3.2}), ("(7)", "bracketed", {"number": 7}),
            ("5*", "unit", {"strip": 5}), ("lost", "words", {"missing": nan}),
            ("12 snails", "unit", {"strip": 12}), ("€ 20.5", "money", {"number": 20.5}),
            ("1.5D-03", "power", {"number": 0.0015}), ("1,5×10^3", "power", {"number": 1500}),
            ("-1 3/4", "fraction", {"number": -1.75}), ("1.5-", "minus", {"number": -1.5}),
            ("1:30", "lasting", {"seconds": 90, "hours": 5400}),
            ("1:30:10", "lasting", {"seconds": 5410}), ("1.23(4)", "error", {"number": 1.23}),
            ("(8)", "bracketed", {"negative": -8}), ("1.5:x", "words", {"missing": nan}),
        ):  # fmt: skip
            for way, value in ways.items():
                with self.subTest(text, way=way):
                    column = number_column("v", [1, nan, 3], "", {1: text})
                    found = proposals(column)
                    self.assertEqual([(p.form, p.rows) for p in found], [(form, (1,))])
                    # with two commas neither is that of decimals
                    self.assertEqual("decimal" in ways_for(found[0], column), "decimal" in ways)
                    mended = repaired(column, form, way)
                    np.testing.assert_array_equal(mended.numbers, [1, value, 3])
                    self.assertEqual((dict(mended.texts), dict(mended.as_read)), ({}, {1: text}))
        self.assertEqual(
            repaired(number_column("v", [1, nan], "", {1: "<2"}), "limit", "mark").cell(1), "<2"
        )
        for one in FORMS.values():
            self.assertIn("missing", one.ways)
        # the most frequent form is asked about first
        column = number_column("v", [nan] * 3, "", {0: "5 g", 1: "lost", 2: "gone"})
        self.assertEqual([p.form for p in proposals(column)], ["words", "unit"])

    def test_a_unit_goes_to_the_header_only_where_it_is_one(self) -> None:
        nan = math.nan
        for name, unit, texts, offered in (
            ("Mass", "", {0: "12.5 g", 1: "3 g"}, True),
            ("Mass", "", {0: "12.5 g", 1: "3 kg"}, False),
            ("Mass", "mg", {0: "12.5 g"}, False),
            ("Snails", "", {0: "1 snail", 1: "2 snails"}, False),
        ):  # fmt: skip
            column = number_column(name, [nan, nan, 3], unit, texts)
            with self.subTest(name, texts=texts):
                self.assertEqual("header" in ways_for(proposals(column)[0], column), offered)
        mended = repaired(number_column("Mass", [nan, 3], "", {0: "12.5 g"}), "unit", "header")
        self.assertEqual((mended.unit, mended.cells()), ("g", ["12.5", "3"]))

    def test_a_repair_can_be_taken_back(self) -> None:
        document = self.document()
        before = document.tables[0].column("Snails")
        mended = self.change(document, "repair", column="Snails", form="unit", way="strip")
        back = self.change(mended, "restore", column="Snails").tables[0].column("Snails")
        self.assertEqual(back, before)

    def test_empty_cells_are_filled_from_above(self) -> None:
        text = "Site,n,t,v\n,,,1\nA,1,2026-05-01,2\n,,,3\nB,x,,4\n,,2026-05-03,5\n,2,,6\n"
        document = new_document(read_text(text.encode(), "t"))
        for name, cells in (
            ("Site", ["", "A", "A", "B", "B", "B"]), ("n", ["", "1", "1", "x", "x", "2"]),
            ("t", ["", *["2026-05-01"] * 3, *["2026-05-03"] * 2]),
        ):  # fmt: skip
            document = self.change(document, "fill_down", column=name)
            self.assertEqual(document.tables[0].column(name).cells(), cells)
        self.assertEqual(dict(document.tables[0].column("n").texts), {3: "x", 4: "x"})
        told = new_document(read_text(b"Site,v\nA,1\n,2\nB,3\n,4\n", "t"))
        self.assertIn("Below each filled cell", told.tables[0].notes[0])
        self.assertEqual(self.change(told, "fill_down", column="Site").tables[0].notes, ())
        with self.assertRaisesRegex(EditRefused, "No cell of “v” is empty below"):
            self.change(document, "fill_down", column="v")


class Other(TablesTest):
    def test_units(self) -> None:
        for old, new, value, wanted in (
            ("°C", "K", 20, 293.15), ("°F", "°C", 212, 100), ("mg/L", "µg L^-1", 1.5, 1500),
            ("mL", "L", 250, 0.25), ("m^3 s^-1", "L/s", 0.25, 250),
            ("mol/(m2 s)", "µmol m⁻² s⁻¹", 1, 1e6),
            ("%", "1", 5, 0.05), ("cm", "m", 12, 0.12), ("km/h", "m/s", 36, 10),
            ("1", "‰", 0.004, 4),
        ):  # fmt: skip
            with self.subTest(f"{old} to {new}"):
                np.testing.assert_allclose(convert(np.array([value]), old, new), [wanted], 1e-12)
        for unit, known in (
            ("NTU", True),
            ("florin", False),
            ("mg/", False),
            ("(m", False),
            ("", True),
        ):
            self.assertEqual(is_known(unit), known, unit)
        for old, new in (("m", "s"), ("florin", "m")):
            with self.assertRaises(EditRefused):
                convert(np.array([1.0]), old, new)
        self.assertIn("µg/L", offers("mg/L"))
        units = {"m": "mg", "V": "L", "T": "°C", "U": "K", "n": ""}
        for formula, unit in (
            ("m / V", "mg/L"), ("m * 2", "mg"), ("m * m", "mg^2"), ("m + 1", "mg"), ("n + 1", ""),
            ("m + V", ""), ("sqrt(m^2)", "mg"), ("ln(m)", ""), ("m / (V * V)", "mg L^-2"),
            ("zz", ""),
        ):  # fmt: skip
            with self.subTest(formula):
                self.assertEqual(unit_of(parse_formula(formula), units), unit)

    def test_patterns_go_on(self) -> None:
        for cells, wanted in (
            ("5", "6 7 8"), ("2 4", "6 8 10"), ("0.1 0.2", "0.3 0.4 0.5"),
            ("1 10 100", "1000 10000 100000"),
            ("10 7.5", "5 2.5 0"), ("2024-02-28", "2024-02-29 2024-03-01 2024-03-02"),
            ("Jan", "Feb Mar Apr"),
            ("2026-01-31 2026-02-28", "2026-03-28 2026-04-25 2026-05-23"),
            ("Friday", "Saturday Sunday Monday"),
            ("2025-11 2025-12", "2026-01 2026-02 2026-03"),
            ("2020-01-15 2021-01-15", "2022-01-15 2023-01-15 2024-01-15"),
            ("06:00 12:00", "18:00 1970-01-02 1970-01-02"), ("S1 S2", "S3 S4 S5"),
            ("S08", "S09 S10 S11"),
            ("a b", "a b a"), ("October December", "February April June"),
        ):  # fmt: skip
            with self.subTest(cells):
                self.assertEqual([c[:10] for c in continued(cells.split(), 3)], wanted.split())
        self.assertEqual(continued(["Year 1"], 2), ["Year 2", "Year 3"])
        with self.assertRaises(EditRefused):
            continued(["", ""], 2)

    def test_a_summary_follows_its_source(self) -> None:
        document = self.document("Site,Round,n\nB,1,4\nA,1,1\nB,2,8\nA,2,\nB,1,6\n")
        statistics = ("mean", "SD", "SE", "n", "sum", "median", "rows")
        document = add_summary(document, Grouping("mere", ("Site",), ("n",), statistics))
        summary = document.tables[1]
        self.assertEqual(summary.name, "mere by Site")
        cells = {c.name: c.cells() for c in summary.columns}
        self.assertEqual(cells["Site"], ["B", "A"])
        for name, b, a in (
            ("mean", 6, 1), ("SD", 2, math.nan), ("SE", 2 / math.sqrt(3), math.nan), ("n", 3, 1),
            ("sum", 18, 1), ("median", 6, 1),
        ):  # fmt: skip
            np.testing.assert_allclose(summary.column(f"n {name}").numbers, [b, a], 1e-12)
        self.assertEqual(cells["Rows"], ["3", "2"])
        document = self.change(document, "set_cells", cells=[(3, 2, "5")])
        self.assertEqual(document.tables[1].column("n mean").cells(), ["6", "3"])
        document = self.change(document, "rename", column="n", name="Snails", unit="")
        self.assertEqual(document.tables[1].column("Snails mean").cells(), ["6", "3"])
        with self.assertRaises(EditRefused):
            change_table(document, "mere by Site", "set_cells", cells=[(0, 1, "5")])
        both = add_summary(document, Grouping("mere", ("Site", "Round"), (), ("rows",)))
        self.assertEqual(both.tables[2].column("Rows").cells(), ["2", "1", "1", "1"])

    def test_correlations(self) -> None:
        # Anscombe, F. J., "Graphs in statistical analysis", The American Statistician 27 (1973)
        # 17–21: r = 0.816 for the first two of his sets; the ranks of the second by hand
        x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5, math.nan]
        y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68, 1]
        columns = (number_column("x", x), number_column("y", y), number_column("c", [1.0] * 12),
                   text_column("s", ["a"] * 12), number_column("cube",
                    [v**3 for v in x]))  # fmt: skip
        found = correlations(Table("t", columns))
        self.assertEqual(found.names, ("x", "y", "c", "cube"))
        self.assertAlmostEqual(float(found.r[0, 1]), 0.8164, 4)
        self.assertEqual((found.n[0, 1], found.n[1, 1]), (11, 12))
        self.assertTrue(np.isnan(found.r[0, 2]))
        ranks = correlations(Table("t", columns), SPEARMAN)
        self.assertEqual(float(ranks.r[0, 3]), 1.0)
        # ranks of x: 7 5 10 6 8 11 3 1 9 4 2; of y: 7 4 6 9 8 10 5 1 11 2 3; sum of d² 40
        self.assertAlmostEqual(float(ranks.r[0, 1]), 1 - 6 * 40 / (11 * 120), 12)

    def test_finding(self) -> None:
        table = read_text(
            b"s,v,t\nReed,1.25,2026-04-03\nreeds,1.2,2026-04-04\nx,-3,12 Apr 2026\n", "t"
        )
        for wanted, places in (
            ("reed", [(0, 0), (1, 0)]), ("1.2", [(1, 1)]), ("1.25", [(0, 1)]), ("-3", [(2, 1)]),
            ("04-04", [(1, 2)]), ("12", [(2, 2)]), ("zz", []), (" ", []),
        ):  # fmt: skip
            with self.subTest(wanted):
                self.assertEqual(find_cells(table, wanted), places)
