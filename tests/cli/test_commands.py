"""The command line from end to end, as processes where that matters."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
from click.testing import CliRunner, Result
from PyQt6.QtGui import QImage

from sornix.cli import main
from sornix.core.document import add_residuals, load_document, name_figure, save_document
from sornix.core.figure import hold
from sornix.demo import DEMOS, demo_document, demo_files, demo_text
from tests.base import DATA
from tests.cli import answered
from tests.core.fitted import differs
from tests.qt import QtTest

_X, _Y = "Nitrate concentration", "Absorbance at 220 nm"


class Commands(QtTest):
    def setUp(self) -> None:
        super().setUp()
        self.csv = self.write("standards.csv", demo_text("nitrate-standards"))

    def run_it(self, *words: object, status: int = 0) -> Result:
        result = CliRunner().invoke(main, [str(word) for word in words])
        self.assertEqual(result.exit_code, status, result.output)
        self.assertNotIn("Traceback", result.output)
        return result

    def json(self, *words: object) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.run_it(*words, "--json").stdout)
        return found

    def test_readings_of_other_files(self) -> None:
        for name, content in demo_files():
            if name in ("lake-survey.xlsx", "probe-semicolon.txt", "buoy-week.csv"):
                self.write(name, content)
        book = self.folder / "lake-survey.xlsx"
        found = self.json("readings", book)
        self.assertEqual([s["rows"] for s in found["sheets"]], [12, 36, 30])
        chemistry = self.json("readings", book, "--sheet", "Chemistry")
        self.assertEqual((chemistry["name"], len(chemistry["columns"])), ("Chemistry", 9))
        self.assertEqual(chemistry["columns"][1]["least"], "2026-06-01")
        self.run_it("readings", book, "--sheet", "Fish", status=3)
        text = self.run_it("readings", self.folder / "probe-semicolon.txt").stdout
        said = (
            "semicolons, decimal commas, names in line 4, units below, −999 missing, Windows-1252"
        )
        self.assertIn(f"Read with {said}.", text)
        out = self.folder / "copy.csv"
        self.run_it("readings", self.folder / "probe-semicolon.txt", "--out", out)
        self.assertEqual(self.json("readings", out)["columns"][1]["unit"], "°C")
        week = self.folder / "buoy-week.csv"
        picture = self.folder / "w.svg"
        plot = ("plot", week, "--out", picture, "Plot Level against Time as line; x")
        self.run_it(*plot[:-1], f"{plot[-1]} from 5 May 2026 to 2026-05-07 every 6 hours")
        self.assertIn("5 May 2026", picture.read_text())
        told = self.run_it(*plot[:-1], f"{plot[-1]} every soon", status=2)
        self.assertIn("not a step in time", told.output)
        self.assertIn("line 1, character 42", told.output)

    def test_fit_gives_certified_numbers_in_full(self) -> None:
        data = json.loads((DATA / "Norris.json").read_text())
        rows = "".join(f"{x},{y}\n" for x, y in zip(data["x"], data["y"], strict=True))
        norris = self.write("norris.csv", "x,y\n" + rows)
        found = self.json("fit", norris, "--x", "x", "--y", "y", "--at", "500", "--read-off", "400")
        for parameter, value, error in zip(
            found["parameters"], *(data["certified"][k] for k in ("values", "sd")), strict=True
        ):
            self.assertAlmostEqual(parameter["value"] / value, 1, delta=1e-13)
            self.assertAlmostEqual(parameter["standard_error"] / error, 1, delta=1e-13)
            self.assertLess(parameter["ci95"][0], parameter["value"])
        self.assertEqual([p["name"] for p in found["parameters"]], ["intercept", "slope"])
        self.assertEqual((found["n"], found["dof"], found["converged"]), (36, 34, True))
        self.assertAlmostEqual(found["predictions"][0]["value"], 500.79608594, places=7)
        self.assertAlmostEqual(
            found["read_off"][0]["value"], (400 + 0.262323073774) / 1.00211681802
        )
        for key in ("model", "equation", "rss", "residual_sd", "adjusted_r_squared", "aicc"):
            self.assertIn(key, found)
        fewer = self.json("fit", norris, "--x", "x", "--y", "y", "--from", "100", "--to", "500")
        self.assertEqual(fewer["n"], sum(100 <= x <= 500 for x in data["x"]))

    def test_fit_in_every_way_that_can_be_asked_for(self) -> None:
        fit = ("fit", self.csv, "--x", _X, "--y", _Y)

        def parameters(*more: object) -> dict[str, dict[str, Any]]:
            found = self.json(*fit, *more)
            return {parameter["name"]: parameter for parameter in found["parameters"]}

        held = parameters("--hold", "intercept=0")
        self.assertEqual((held["intercept"]["value"], held["intercept"]["held"]), (0, True))
        through = parameters("--model", "line-through-origin")
        self.assertAlmostEqual(held["slope"]["value"], through["slope"]["value"], 12)
        self.assertEqual(parameters("--bound", "slope=:0.05")["slope"]["value"], 0.05)
        self.assertIn("robust", self.json(*fit, "--robust", "tukey")["method"])
        self.assertIn("weighted", self.json(*fit, "--weights", "replicates")["method"])
        logs = self.json(*fit, "--model", "exponential", "--on-logs", "--from", "1")
        self.assertIn("logarithms", logs["method"])
        self.assertIn("lack_of_fit", self.json(*fit)["tests"])
        smooth = self.json(*fit, "--model", "moving-average", "--hold", "width=3")
        self.assertEqual((smooth["equation"], smooth["parameters"]), ("", []))
        both = self.write("both.csv", "x,y,sx,sy\n" + "".join(
            f"{x},{2 * x + 1 + 0.1 * (-1) ** x},0.1,0.2\n" for x in range(1, 9)))  # fmt: skip
        york = self.json("fit", both, "--x", "x", "--y", "y", "--sd", "sy", "--x-sd", "sx")
        self.assertIn("errors in x and y", york["method"])
        report = self.folder / "report.csv"
        read = self.json(*fit, "--unknowns", _Y, "--replicates", 2, "--report", report)["read_off"]
        self.assertEqual(len(read), 24)
        self.assertLess(read[5]["ci95"][0], read[5]["value"])
        self.assertIn("limit of detection", report.read_text())
        drawn = self.json(*fit, "--intervals", "resampling", "--times", 300, "--seed", 7)
        self.assertEqual({one["ci95_by"] for one in drawn["parameters"]}, {"resampling"})
        self.assertEqual(len(drawn["residuals_beside_chance"]), 4)
        profile = self.json(*fit, "--model", "saturation", "--intervals", "profile")
        self.assertEqual({one["ci95_by"] for one in profile["parameters"]}, {"profile"})
        treated = self.json(*fit, "--read-off", "0.35 ± 0.02", "--dilution", 4,
                            "--recovery", "80±4")["read_off"][0]  # fmt: skip
        self.assertAlmostEqual(treated["in_sample"]["value"] / treated["value"], 5)
        self.assertEqual(treated["sd"], 0.02)
        survey = self.write("survey.csv", "t,z,s,y\n" + "".join(
            f"{t},{t * t % 7},{'ab'[t % 2]},{2 * t - t * t % 7 + 5 * (t % 2)}\n"
            for t in range(12)))  # fmt: skip
        several = self.json("fit", survey, "--x", "t", "--y", "y", "--also", "z", "--also", "s")
        values = {one["name"]: one["value"] for one in several["parameters"]}
        self.assertEqual(values, {"intercept": 0, "t": 2, "z": -1, "s = b": 5})
        typed = self.run_it(*fit, "--model", "formula", "--formula", "a + b * x", "--start", "b=1")
        self.assertIn("A = 0.0043 + 0.07102", typed.stdout.replace("\u2009", " "))

    def test_the_printed_equation_is_that_of_the_figure(self) -> None:
        out = self.folder / "f.svg"
        self.run_it("plot", self.csv, f"Plot {_Y} against {_X}; Trend straight line", "--out", out)
        equation = self.json("fit", self.csv, "--x", _X, "--y", _Y)["equation"]
        svg = out.read_text()
        for part in equation.replace("\u2009", " ").split(" ")[2:3]:
            self.assertIn(part, svg)
        self.assertIn(equation, self.run_it("fit", self.csv, "--x", _X, "--y", _Y).stdout)

    def test_doubts_are_told_and_count_where_that_is_asked_for(self) -> None:
        doubtful = self.write("d.csv", "Day,n\n03/04/2026,1\n04/04/2026,2\n05/04/2026,4\n")
        sure = self.write("s.csv", "Day,n\n2026-04-03,1\n2026-04-04,2\n2026-04-05,4\n")
        columns, drawn = ("--x", "Day", "--y", "n"), ("Plot n against Day",)
        document = self.folder / "figure.sornix"
        plot = ("plot", "--out", self.folder / "a.png")
        self.run_it("plot", sure, *drawn, "--out", document)
        again = ("render", document, "--out", self.folder / "b.png", "--readings")
        for words in (("readings",), ("fit", *columns), plot, again):
            told = self.run_it(*words, doubtful)
            self.assertIn("may be 3 April or 4 March", told.output)
            self.assertIn("Hold it with --dates days-first or months-first.", told.output)
            self.assertEqual(self.run_it(*words, doubtful, "--strict", status=1).exit_code, 1)
            self.assertNotIn("may be", self.run_it(*words, sure, "--strict").output)

    def test_a_figure_without_columns(self) -> None:
        """What is drawn unasked, the other ways, and what does not go together."""
        week = self.write("week.csv", demo_text("buoy-week"))
        out = self.folder / "week.sornix"
        for words, panels, mark, said in (
            ((), 1, "line", "“Time” is a time"),
            (("--other", "1"), 4, "line", "scales of their own"),
            (("--other", "2"), 1, "points", "drawn as points"),
            (("Title \"Week\"; y from 0",), 1, "line", ""),
            (("--other", "2", 'Title "A plot"; y from 0'), 1, "points", ""),
            (("--other", "2", "y from 0"), 1, "points", ""),
        ):  # fmt: skip
            told = self.run_it("plot", week, *words, "--out", out)
            self.assertIn(said, told.output)
            figure = load_document(out).figure
            self.assertEqual((len(figure.panels), figure.panel.series[0].mark), (panels, mark))
            self.assertEqual(figure.panel.y.start, 0.0 if "y from" in str(words) else None)
        self.assertEqual((figure.title, figure.panel.series[0].y), ("", "Level"))
        for words, said in (
            (("Plot Rain against Time", "--other", "1"), "columns that Sornix chooses"),
            (("--other", "4"), "1<=x<=3"), (("Plto Rain",), "line 1, character 1"),
            (("--statement", "none.txt", "x from 0"), "not both"),
        ):  # fmt: skip
            told = self.run_it("plot", week, *words, "--out", out, status=2)
            self.assertIn(said, told.output)
        self.assertIn("--out", self.run_it("plot", week, status=2).output)

    def test_every_word_of_the_dialect_can_be_given(self) -> None:
        awkward = self.write(
            "a.txt", "Größe;n;Tag\nm;;\n1.234;-9;03/04/2026\n2.345;7;05/04/2026\n"
            "3.456;-77;06/04/2026\n".encode("cp1252"),
        )  # fmt: skip
        for words, name, value in (
            ("--separator semicolons", "separator", ";"),
            ("--decimal commas --thousands points", "thousands", "."),
            ("--decimal points", "decimal", "."),
            ("--names-in-line 2", "header", 2),
            ("--no-units-below", "units", False),
            ("--dates months-first", "order", "month"),
            ("--missing -77 --missing 9", "missing", ["-77", "9"]),
            ("--encoding cp1252", "encoding", "cp1252"),
            ("--lying", "lying", True),
        ):
            found = self.json("readings", awkward, *words.split())
            self.assertEqual(found["read_as"][name], value, words)
        # each doubt says itself what ends it
        doubts = self.json("readings", awkward)["doubts"]
        self.assertIn("order", {one["about"] for one in doubts})
        for one in doubts:
            option, value = one["hold_with"].split()[:2]
            found = self.json("readings", awkward, option, value)
            self.assertNotIn(one["about"], [doubt["about"] for doubt in found["doubts"]])
            self.assertTrue(one["else"])
        out = self.folder / "a.sornix"
        self.run_it("plot", awkward, "Plot n against Tag", "--dates", "months-first",
                    "--missing", "-77", "--out", out, "--strict")  # fmt: skip
        column = load_document(out).tables[0].column("Tag")
        self.assertEqual(column.cells()[0], "2026-03-04")
        self.assertEqual(load_document(out).tables[0].column("n").count, 2)
        self.run_it("readings", awkward, "--separator", "dots", status=2)
        told = self.run_it("fit", awkward, "--x", "Tag", "--y", "n", "--dates", "days-first")
        self.assertNotIn("may be", told.output)

    def test_many_figures_from_one_text_and_their_words(self) -> None:
        text = self.write("figures.txt", f"--- {{file}}-points.svg\nPlot {_Y} against {_X}\n"
                          "--- line.sornix\n\nTrend straight line through each\nx from 0\n"
                          "Figure for slides\n")  # fmt: skip
        before = Path.cwd()
        self.addCleanup(os.chdir, before)
        os.chdir(self.folder)
        told = self.run_it("plot", self.csv, "--statement", text)
        self.assertIn(f"written: {self.csv.stem}-points.svg", told.stdout)
        self.assertIn("Absorbance", Path(f"{self.csv.stem}-points.svg").read_text())
        level = self.run_it("say", "line.sornix").stdout
        self.assertEqual(level.splitlines()[1:], [
            "x from 0", "Trend straight line", "Figure for slides"])  # fmt: skip
        self.run_it("plot", self.csv, level, "--out", "again.sornix")
        self.assertEqual(load_document(Path("again.sornix")).figure,
                         load_document(Path("line.sornix")).figure)  # fmt: skip
        self.assertEqual(self.run_it("say", "line.sornix", "again.sornix").stdout.strip(), "")
        self.run_it("plot", self.csv, f"{level}x to 20", "--out", "other.sornix")
        changed = self.run_it("say", "line.sornix", "other.sornix").stdout
        self.assertEqual(changed.splitlines(), ["− x from 0", "+ x from 0 to 20"])
        panel = self.json("say", "line.sornix")["panels"][0]
        self.assertEqual(panel["axes"]["x"]["from"], 0)
        self.assertIn(panel["trends"][0]["equation"].split(" ")[0], "A")
        self.assertEqual(panel["axes"]["x"]["ticks"][0], {"value": 0.0, "label": "0"})
        self.assertIn("as smooth curve", self.run_it("say", "--words").stdout)
        old = self.write("old.txt", 'Title "Fluß"; x from 0'.encode("utf-16"))
        self.run_it("plot", self.csv, "--statement", old, "--out", "flow.sornix")
        self.assertEqual(load_document(Path("flow.sornix")).figure.title, "Fluß")
        self.run_it("plot", self.csv, "--statement", self.write("b.bin", b"\xff\x00\x01"),
                    "--out", "a.png", status=3)  # fmt: skip
        for words, said in (
            (("plot", self.csv, "--statement", text, "--out", "a.png"), "leave --out away"),
            (("plot", self.csv, "--statement", self.write("b.txt", "--- a.png\n\nPlto")),
             "line 3, character 1"),
            (("plot", self.csv, 'x other side "2 *"', "--out", "a.png"), "line 1, character 14"),
            (("plot", self.csv, 'Curve "2 + + )"', "--out", "a.png"), "line 1, character 7"),
            (("plot", self.csv, 'Trend formula "a*x^"', "--out", "a.png"),
             "line 1, character 15"),
            (("say",), "FILE"), (("say", "--words", self.csv), "no file"),
        ):  # fmt: skip
            self.assertIn(said, self.run_it(*words, status=2).output)

    def test_fits_are_said_in_words(self) -> None:
        line = (
            f"Plot {_Y} against {_X}; Trend straight line from 2 to 10, reading off 0.35, told at 5"
        )
        said = self.json("fit", self.csv, line)["trends"][0]
        asked = self.json("fit", self.csv, "--x", _X, "--y", _Y, "--from", "2", "--to", "10",
                          "--read-off", "0.35", "--at", "5")  # fmt: skip
        self.assertEqual({**asked, "series": said["series"]}, said)
        both = self.run_it("fit", self.csv, "Trend straight line; Trend exponential").stdout
        self.assertEqual(both.count(f"{_Y}:\n"), 2, both)
        self.run_it("fit", self.csv, line, "--x", _X, status=2)
        self.run_it("fit", self.csv, "x from 0", status=2)
        self.run_it("fit", self.csv, status=2)

    def test_plot_then_render_with_other_readings(self) -> None:
        document, picture = self.folder / "p.sornix", self.folder / "p.png"
        self.run_it(
            "plot", self.csv, f"Plot {_Y} against {_X} as points and line; x to 10 every 5; "
            "y reversed; Title \"Run 1\"; Figure 120 × 80 mm", "--out", document, "--out", picture,
        )  # fmt: skip
        figure = load_document(document).figure
        self.assertEqual((figure.title, figure.width_mm), ("Run 1", 120))
        panel = figure.panel
        self.assertEqual((panel.x.end, panel.x.step, panel.y.reversed), (10, 5, True))
        self.assertEqual(QImage(str(picture)).width(), round(120 / 25.4 * 300))
        again = self.folder / "again.png"
        slide = self.folder / "slide.sornix"
        self.run_it("plot", self.csv, "Figure for slides", "--dpi", "150", "--transparent",
                    "--out", slide)  # fmt: skip
        export = load_document(slide).export
        self.assertEqual((export.dots_per_inch, export.transparent, export.outlines),
                         (150, True, False))  # fmt: skip
        figure = load_document(slide).figure
        self.assertEqual((figure.style, figure.width_mm), ("slide", 254.0))
        self.run_it("render", document, "--out", again)
        self.assertEqual(again.read_bytes(), picture.read_bytes())
        other = self.write("run2.csv", demo_text("nitrate-standards").replace("0.0,", "0.5,"))
        words = ("render", document, "--readings", other, "--out", again)
        self.assertIn("run2.csv: 6 readings are not shown: x above 10.", self.run_it(*words).stderr)
        self.run_it(*words, "--strict", status=1)
        self.assertNotEqual(again.read_bytes(), picture.read_bytes())
        self.run_it("render", document, document, "--out", self.folder / "many")
        self.assertEqual([p.name for p in (self.folder / "many").iterdir()], ["p.png"])

    def test_fifty_runs_go_through_one_pattern(self) -> None:
        pattern = self.folder / "pattern.sornix"
        self.run_it("plot", self.csv, "Trend straight line", "--out", pattern)
        text = demo_text("nitrate-standards")
        for number in range(50):
            self.write(f"run-{number:02}.csv", text.replace("0.", f"{number}."))
        self.write("run-07.csv", "depth,colour\n1,green\n")
        self.write("run-31.csv", text.replace("Absorbance at 220 nm", "absorbance_at_220 nm"))
        self.write("run-32.csv", text.replace("Absorbance at 220 nm", "A220"))
        runs = sorted(self.folder.glob("run-*.csv"))
        out = self.folder / "figures"
        words = ("render", pattern, "--readings", *runs, "--out", out, "--as", "svg")
        told = self.run_it(*words, status=3)
        self.assertEqual(len(list(out.glob("run-*.svg"))), 48)
        self.assertIn("48 figures drawn, 2 files not:", told.stderr)
        self.assertIn("run-07.csv: There is no column “Nitrate concentration”", told.stderr)
        self.assertIn("run-32.csv: There is no column “Absorbance at 220 nm”", told.stderr)
        self.run_it(*words, "--match", f"{_Y}=A220", status=3)
        self.assertEqual(len(list(out.glob("run-*.svg"))), 49)
        # on pages of small panels, in another style
        page = self.folder / "all.pdf"
        told = self.run_it("render", pattern, "--readings", *runs[:20], "--one-page",
                           "--style", "grey", "--out", page, status=3)  # fmt: skip
        self.assertTrue(page.read_bytes().startswith(b"%PDF"))
        self.assertIn("1 figure drawn, 1 file not:", told.stderr)
        # a folder stands for all of its files
        (self.folder / "month").mkdir()
        for run in runs[10:14]:
            run.rename(self.folder / "month" / run.name)
        self.run_it("render", pattern, "--readings", self.folder / "month", "--out", out)
        # and the numbers that are drawn
        self.run_it("render", pattern, "--out", self.folder / "drawn.csv")
        curve = (self.folder / "drawn-straight-line.csv").read_text().splitlines()
        self.assertEqual(len(curve), 202)
        for words in (
            ("render", pattern, "--one-page", "--out", page),
            ("render", pattern, "--readings", *runs[:2], "--out", page),
            ("render", pattern, "--match", "a", "--out", page),
            ("render", runs[0], "--readings", runs[1], "--out", page),
        ):
            self.run_it(*words, status=2)
        told = self.run_it("render", pattern, "--out", self.csv / "figures", status=3)
        self.assertIn("The folder cannot be made", told.stderr)

    def test_every_figure_of_a_document_or_those_that_are_named(self) -> None:
        document = demo_document("nitrate-standards")
        document = add_residuals(document, document.figure.panel.trends[0].id)
        document = name_figure(document, 1, "What is left?")
        several = self.folder / "season.sornix"
        save_document(document, several, b"")
        out = self.folder / "figures"
        self.run_it("render", several, "--out", out, "--as", "svg", "--as", "sornix")
        first, left = "season-nitrate-standards-12-march-run", "season-what-is-left"
        self.assertEqual({path.name for path in out.iterdir()},
                         {f"{first}.svg", f"{left}.svg", "season.sornix"})  # fmt: skip
        self.assertEqual(load_document(out / "season.sornix").figures, document.figures)
        one = self.folder / "one.svg"
        for name in ("what is LEFT?", "2"):
            self.run_it("render", several, "--figure", name, "--out", one)
            self.assertEqual(one.read_bytes(), (out / f"{left}.svg").read_bytes())
        for words, said in (((), "It holds 2 figures"), (("--figure", "Nowhere"), "no figure “N")):
            told = self.run_it("render", several, *words, "--out", self.folder / "x.png", status=3)
            self.assertIn(said, told.stderr)
        self.assertFalse((self.folder / "x.png").exists())
        said = self.run_it("say", several).output
        self.assertIn("— What is left? —\nPlot Residuals of Absorbance", said)
        told = self.json("say", several, "--figure", "2")["figures"]
        self.assertEqual([one["name"] for one in told], ["What is left?"])
        standards, *others = document.figures
        raised = hold(standards, document.tables, "y", start=0.4)
        higher = self.folder / "higher.sornix"
        save_document(document.with_figures((raised, *others), 0), higher, b"")
        warned = self.run_it("caution", higher).output
        self.assertIn(f"{standards.title}: 12 readings are not shown: y below 0.4.", warned)
        # other readings: fitted anew, and so are the residuals
        run = self.write("run-2.csv", demo_text("nitrate-standards").replace("0.858", "0.758"))
        runs = ("--readings", run, "--readings", self.csv)
        both = self.run_it("render", several, *runs, "--out", out, "--as", "csv")
        self.assertEqual(both.output.count("written: "), 6)
        numbers = np.loadtxt(out / "run-2-what-is-left.csv", delimiter=",", skiprows=1)
        x, y = np.loadtxt(run, delimiter=",", skiprows=1, usecols=(0, 1)).T
        line = np.polynomial.Polynomial.fit(x, y, 1)
        np.testing.assert_allclose(numbers[:, -1], y - line(x), atol=1e-12)

    def test_a_report_of_all_or_some_figures(self) -> None:
        document = demo_document("nitrate-standards")
        document = add_residuals(document, document.figure.panel.trends[0].id)
        several = self.folder / "season.sornix"
        save_document(document, several, b"")
        out = [self.folder / f"report{ending}" for ending in (".pdf", ".html", ".md")]
        outs = [word for path in out for word in ("--out", path)]
        told = self.run_it("report", several, *outs, "--title", "March", "--with-readings")
        self._told_is_there(told.output, 5)
        self.assertIn("## Readings", out[2].read_text())
        self.run_it("report", several, "--out", out[2], "--figure", "2", "--template", "pictures",
                    "--date", "")  # fmt: skip
        head = "Residuals of Absorbance at 220 nm against nitrate concentration"
        self.assertTrue(out[2].read_text().startswith(f"# nitrate-standards\n\n## 1 {head}\n\n!["))
        self.run_it("report", self.csv, "--out", out[0])
        for words, said in (
            (("--out", self.folder / "r.docx"), "cannot be written as"),
            (("--out", out[0], "--template", "poem"), "cannot be read"),
            (("--out", out[0], "--figure", "Nowhere"), "no figure"),
        ):  # fmt: skip
            told = self.run_it("report", several, *words, status=3)
            self.assertIn(said, told.stderr)

    def test_demo_writes_readings_documents_and_figures(self) -> None:
        out, own = self.folder / "demo", self.folder / "demo" / "own.txt"
        out.mkdir()
        own.write_text("mine")
        wanted = {name for name, _ in demo_files()} | {"buoy-decade.parquet"}
        wanted |= {f"{n}{e}" for n in DEMOS for e in (".png", ".svg", ".pdf", ".sornix")}
        # the ten million rows are another test's
        with patch("sornix.cli.demo.write_buoy_decade", lambda path: path.write_bytes(b"many")):
            told = self.run_it("demo", out, "--decade").stdout.splitlines()
        # what was there already was not written
        self.assertEqual([line.strip() for line in told[1:]], sorted(wanted))
        self.assertEqual(told[0], f"{len(wanted)} files written to {out.resolve()}:")
        self.assertEqual({path.name for path in out.iterdir()}, wanted | {own.name})
        for name in DEMOS:
            self.assertGreater(QImage(str(out / f"{name}.png")).width(), 900)

    def test_wrong_words_and_unusable_input(self) -> None:
        fit = ("fit", self.csv, "--x", _X, "--y")
        plot = ("plot", self.csv)
        broken = self.write("broken.csv", "a,b\n1,2\n3,4,5\n")
        for status, said, words in (
            (3, "There is no such file", ("readings", self.folder / "none.csv")),
            (3, "row at line 3, column 3", ("readings", broken)),
            (3, "Did you mean “Absorbance at 220 nm”", (*fit, "Absorbance")),
            (3, "holds text", (*fit, "Replicate")),
            (3, "No reading lies in the range", (*fit, _Y, "--from", "90")),
            (2, "longer than the range", (*plot, "x every 50", "--out", "a.png")),
            (2, "0 has no place on a log", (*plot, "x from 0 on a log scale", "--out", "a.png")),
            (2, "does not end in .png", (*plot, "--out", "a.bmp")),
            (2, "does not end in .csv", ("readings", self.csv, "--out", "a.xlsx")),
            (
                2,
                "there is no series 3",
                (*plot, "Trend straight line through series 3", "--out", "a.png"),
            ),
            (2, "need each other", (*fit, _Y, "--formula", "a*x")),
            (2, "no effect without --model polynomial", (*fit, _Y, "--degree", "3")),
            (2, "--x takes one value, and has 2", (*fit, _Y, "--x", _X)),
            (2, "So begin --other, --out, --outlines", (*plot, "-o", "a.png")),
            (2, "“k” has two", (*fit, _Y, "--model", "decay", "--hold", "k=1", "--hold", "k=2")),
            (2, "no effect beside --sd", (*fit, _Y, "--sd", _Y, "--weights", "1/y")),
            (2, "no effect without --read-off", (*fit, _Y, "--replicates", "3")),
            (2, "not searched for", (*fit, _Y, "--start", "slope=3")),
            (2, "not searched for", (*fit, _Y, "--intervals", "profile")),
            (2, "no effect without --intervals", (*fit, _Y, "--seed", "3")),
            (2, "no effect without --unknowns", (*fit, _Y, "--unknowns-sd", _Y)),
            (2, "no effect without --read-off", (*fit, _Y, "--dilution", "3")),
            (2, "no standard dev", (*fit, _Y, "--read-off", "0.3", "--dilution", "3±1")),
            (2, "no effect without --also", (*fit, _Y, "--products")),
            (2, "is not a number", (*fit, _Y, "--read-off", "0.3 ± x")),
            (2, "in one column", (*fit, _Y, "--also", "Replicate", "--hold", "slope=1")),
            (3, "There is no column", (*fit, _Y, "--also", "Depth")),
            (
                2,
                "no effect without --readings",
                ("render", "a.sornix", "--match", "a=b", "--out", "a.png"),
            ),
            (
                2,
                "no effect without --readings",
                ("render", "a.sornix", "--sheet", "S", "--out", "a.png"),
            ),
            (2, "ends in none of", ("render", "a.sornix", "--out", "a.jpg")),
            (
                2,
                "the ending of a.png decides",
                ("render", "a.sornix", "--as", "svg", "--out", "a.png"),
            ),
            (
                3,
                "has no sheets",
                ("plot", self.csv, "--sheet", "Fish", "--out", "a.png"),
            ),
            (3, "not a Sornix document", ("render", broken, "--out", "a.png")),
            (2, "line 1, character 8", (*plot, "Figure big", "--out", "a.png")),
            (2, "is not a number", (*plot, "x from zero", "--out", "a.png")),
            (2, "neither a file nor a command", ("polt",)),
            (2, "Missing option", ("fit", self.csv)),
            (2, "has no formula", (*plot, 'Trend straight line with n, "a*x"', "--out", "a.png")),
            (2, "quotation marks is missing", (*plot, "Trend formula formula", "--out", "a.png")),
            (2, "NAME=VALUE", (*fit, _Y, "--hold", "slope")),
            (2, "NAME=LOW:HIGH", (*fit, _Y, "--bound", "slope=3")),
            (2, "--x-sd needs --sd", (*fit, _Y, "--x-sd", _Y)),
            (2, "is for exponential", (*fit, _Y, "--on-logs")),
            (2, "does not end in .txt", (*fit, _Y, "--report", "r.doc")),
            (2, "need each other", (*fit, _Y, "--model", "formula")),
            (3, "no parameter “a”", (*fit, _Y, "--hold", "a=1")),
            (3, "has no derivative", (*fit, _Y, "--model", "formula", "--formula", "max(a, x)")),
        ):
            with self.subTest(said):
                result = self.run_it(*words, status=status)
                self.assertIn(said, " ".join(result.stderr.split()))
                self.assertEqual(result.stdout, "")

    def test_nothing_that_is_read_is_written_to_and_every_result_has_a_file(self) -> None:
        raw = self.csv.read_bytes()
        linked = self.folder / "linked.csv"
        linked.symlink_to(self.csv)
        runs, other, out = (self.folder / name for name in ("runs", "other", "out"))
        for folder in (runs, other):
            folder.mkdir()
            (folder / "a.csv").write_bytes(raw)
        (runs / "a.txt").write_bytes(raw)
        document = self.folder / "d.sornix"
        plot = ("plot", self.csv)
        self.run_it(*plot, "Trend straight line", "--out", document)
        render = ("render", document, "--readings", runs)
        for words in (
            (*plot, "--out", self.csv),
            (*plot, "--out", linked),
            ("readings", self.csv, "--out", self.csv),
            ("fit", self.csv, "--x", _X, "--y", _Y, "--report", self.csv),
            ("plot", document, "--out", document),
            ("render", document, "--out", document),
            ("render", document, document.with_name("e.sornix"), "--out", self.folder,
             "--as", "sornix"),
        ):  # fmt: skip
            with self.subTest(words[-1]):
                if "e.sornix" in str(words):
                    (self.folder / "e.sornix").write_bytes(document.read_bytes())
                before = {p: p.read_bytes() for p in self.folder.iterdir() if p.is_file()}
                result = self.run_it(*words, status=2)
                self.assertIn("Nothing was written", " ".join(result.stderr.split()))
                self.assertEqual({p: p.read_bytes() for p in before}, before)
        # a trend makes a second table, so each file has a name of its own, also in that folder
        text = self.run_it(*render, other / "a.csv", "--out", out, "--as", "png").stdout
        self._told_is_there(text, 3)
        text = self.run_it(*render, other / "a.csv", "--out", other, "--as", "csv").stdout
        self._told_is_there(text, 6)
        self.assertEqual((other / "a.csv").read_bytes(), raw)
        for path in range(30):
            (runs / f"r{path}.csv").write_bytes(raw)
        text = self.run_it(*render, "--one-page", "--out", self.folder / "all.svg").stdout
        self._told_is_there(text, 2)
        alone = self.folder / "o.csv"
        self._told_is_there(self.run_it(*plot, "Trend straight line", "--out", alone).stdout, 2)
        self.assertFalse(alone.exists(), "two tables stand in two files of longer names")

    def _told_is_there(self, text: str, count: int) -> None:
        paths = [Path(line.removeprefix("written: ")) for line in text.splitlines()]
        self.assertEqual((len(paths), len(set(paths))), (count, count), text)
        for path in paths:
            self.assertTrue(path.exists(), path)

    def test_fits_against_dates_and_each_unknown_by_its_row(self) -> None:
        rows = "".join(
            f"2026-05-{d:02},{20 - d / 2},{u}\n"
            for d, u in zip(
                range(1, 9), ("17", "", "1e308", "oops", "16", "18.25", "", "17.5"), strict=True
            )
        )
        path = self.write("days.csv", "Day,Level (m),Unknown\n" + rows)
        fit = ("fit", path, "--x", "Day", "--y", "Level", "--from", "2 May", "--at", "2026-05-10",
               "--unknowns", "Unknown")  # fmt: skip
        found = self.json(*fit)
        self.assertEqual(found["n"], 7)
        self.assertEqual(found["predictions"][0]["x"], "2026-05-10")
        self.assertAlmostEqual(found["predictions"][0]["value"], 15, 6)
        answers = {one["row"]: one for one in found["read_off"]}
        self.assertEqual(list(answers), [1, 3, 4, 5, 6, 8])
        self.assertTrue(answers[1]["value"].startswith("2026-05-06"))
        self.assertIn("too far", answers[3]["problem"])
        self.assertIn("no number", answers[4]["problem"])
        text = self.run_it(*fit).stdout
        self.assertIn("row 4: There is no number here.", text)
        self.assertIn("at x = 2026-05-10 00:00:00: 15.0000", text)
        self.assertIn("is not a date", self.run_it(*fit, "--to", "soon", status=2).stderr)

    def test_what_is_asked_by_chance_is_answered_as_it_is_kept(self) -> None:
        self.is_kept(answered.FILE, answered.lines(), answered.__name__, differs)


class WithoutDisplay(QtTest):
    def test_the_command_needs_no_display_and_says_so_where_it_does(self) -> None:
        environment = {
            k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY")
        }
        environment.pop("QT_QPA_PLATFORM", None)
        sornix = str(Path(sys.executable).parent / "sornix")

        def run(*words: str) -> "subprocess.CompletedProcess[str]":
            return subprocess.run(
                words, capture_output=True, text=True, env=environment,
                cwd=self.folder, check=False, timeout=60,
            )  # fmt: skip

        csv = self.write("a.csv", "x,y\n1,2\n2,4.1\n3,6\n")
        drawn = run(sornix, "plot", str(csv), "Trend straight line", "--out", "a.pdf")
        self.assertEqual((drawn.returncode, drawn.stderr), (0, ""))
        self.assertTrue((self.folder / "a.pdf").read_bytes().startswith(b"%PDF"))
        # the same command without a script, where the window is told of by the module
        for words in ((sornix,), (sys.executable, "-m", "sornix")):
            window = run(*words, str(csv))
            self.assertEqual(window.returncode, 2)
            self.assertIn("There is no display", window.stderr)
        told = "import os, sornix.cli; print(os.environ['OPENBLAS_NUM_THREADS'])"
        for own in ("", "3"):
            environment.pop("OPENBLAS_NUM_THREADS", None)
            environment |= {"OPENBLAS_NUM_THREADS": own} if own else {}
            self.assertEqual(run(sys.executable, "-c", told).stdout.strip(), own or "1")
