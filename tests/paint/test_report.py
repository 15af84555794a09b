"""A report in each of its formats: what is in it, in which order, and that no text breaks it."""

import io
import json
import subprocess
import warnings
import zipfile
from pathlib import Path
from xml.etree import ElementTree as ET

import html5lib
import numpy as np
from attrs import evolve
from pypdf import PdfReader

from sornix.core.document import Document, add_residuals, name_figure, new_document
from sornix.core.errors import DocumentError, SornixError
from sornix.core.figure import add_trend, leave_out, set_size, set_title
from sornix.core.readings import Table, number_column
from sornix.core.report import TEMPLATES, Heading, Report, blocks_of, read_template, report_of
from sornix.demo import demo_document
from sornix.paint.exportfiles import told_of
from sornix.paint.measure import QtMeasure
from sornix.paint.report.writing import REPORT_ENDINGS, write_report
from tests.chromium import CHROMIUM, Page
from tests.qt import QtTest

_HOSTILE = '</td></script><img src=x onerror=y> & "#]$_*|`` \\ é\u0007'


def _season() -> Document:
    document = demo_document("nitrate-standards")
    document = evolve(document, figure=leave_out(document.figure, "s1", [5], "bubble in the cell"))
    document = add_residuals(document, document.figure.panel.trends[0].id)
    return name_figure(document, 1, "What is left")


class Reports(QtTest):
    def report(self, document: Document, *, readings: bool = True, title: str = "A run") -> Report:
        return report_of(document, QtMeasure(), title=title, date="12 March", readings=readings)

    def written(self, report: Report, ending: str, template: str = "whole") -> Path:
        path = self.folder / f"report{ending}"
        with warnings.catch_warnings():
            # libraries of formats may warn of their own
            warnings.simplefilter("ignore", DeprecationWarning)
            files = write_report(report, TEMPLATES[template], path)
        self.assertTrue(all(file.is_file() for file in files))
        return path

    def test_a_pdf_has_pages_in_order_true_sizes_and_tags(self) -> None:
        path = self.written(self.report(_season()), ".pdf")
        text = subprocess.run(["pdftotext", "-layout", path, "-"], capture_output=True, text=True,
                              check=True).stdout  # fmt: skip
        at = -1
        for said in (
            "A run", "12 March", "Contents", "1 Nitrate standards, 12 March run",
            "Absorbance at 220 nm against nitrate concentration, 24 readings.", "Methods",
            "A straight line was fitted", "slope", "0.07088 ± 0.00032 L/mg", "Left out", "row 6",
            "bubble in the cell", "2 What is left", "The figures in words",
            "Plot Absorbance at 220 nm against Nitrate concentration", "Readings", "0.064",
        ):  # fmt: skip
            found = text.find(said, at + 1)
            self.assertGreater(found, at, said)
            at = found if said != "Contents" else text.rfind("Readings", 0, text.find("Methods"))
        fonts = subprocess.run(["pdffonts", path], capture_output=True, text=True, check=True)
        embedded = [line.split()[-5] for line in fonts.stdout.splitlines()[2:]]
        self.assertEqual(set(embedded), {"yes"}, fonts.stdout)
        reader = PdfReader(path)
        self.assertEqual(str(reader.metadata.title if reader.metadata else ""), "A run")
        self.assertTrue(reader.root_object["/MarkInfo"]["/Marked"])  # type: ignore[index]
        alternative = [o for o in _elements(reader) if "/Alt" in o]
        self.assertEqual(len(alternative), 2)
        self.assertIn("24 readings", str(alternative[0]["/Alt"]))
        self.assertGreater(len(reader.outline), 3)
        # the drawings are laid down in their true size: 84 × 63 mm in points
        forms = reader.pages[0]["/Resources"]["/XObject"].values()  # type: ignore[index]
        sizes = {tuple(round(float(v)) for v in f.get_object()["/BBox"][2:]) for f in forms}
        self.assertIn((238, 179), sizes)

    def test_larger_than_a_page_is_said(self) -> None:
        document = demo_document("depth-profile")
        document = evolve(document, figure=set_size(document.figure, 348, 200))
        path = self.written(self.report(document, readings=False), ".pdf")
        text = subprocess.run(["pdftotext", path, "-"], capture_output=True, text=True, check=True)
        self.assertIn("Shown at 50 % of its size.", text.stdout)
        for width, height, size in (
            (84, 63, 1),
            (174, 225, 1),
            (176, 63, 174 / 176),
            (84, 300, 0.75),
        ):
            figure = set_size(document.figure, width, height)
            (part,) = self.report(evolve(document, figure=figure), readings=False).figures
            said = f" Shown at {100 * size:.0f} % of its size." if size < 1 else ""
            self.assertEqual(part.fitted(174, 225), (size, part.caption + said))

    def test_what_has_no_title_is_headed_by_what_it_shows(self) -> None:
        document = demo_document("nitrate-standards")
        plain = new_document(*document.tables)
        plain = add_residuals(
            evolve(plain, figure=add_trend(plain.figure, "s1")), plain.figure.next_id("t")
        )
        report = self.report(plain, title="")
        self.assertEqual(report.title, "nitrate-standards")
        self.assertEqual(
            [part.name for part in report.figures],
            ["Absorbance at 220 nm against nitrate concentration",
             "Residuals of Absorbance at 220 nm against nitrate concentration"],
        )  # fmt: skip
        told = told_of(report.figures[0].document, report.figures[0].drawing)
        self.assertEqual((told.title, told.called), ("", report.figures[0].name))

    def test_html_is_whole_without_scripts_and_asks_nothing(self) -> None:
        path = self.written(self.report(_season()), ".html")
        content = path.read_bytes()
        html5lib.HTMLParser(strict=True).parse(content)
        self.assertNotIn(b"<script", content)
        self.assertEqual(content.count(b"<svg"), 2)
        self.assertIn(b'<p class="date">12 March</p>', content)
        if CHROMIUM is None:
            self.skipTest("there is no Chromium")
        seen = Page(path, ready="document.readyState === 'complete'")
        self.addCleanup(seen.close)
        heads = seen.ask("[...document.querySelectorAll('h1, h2')].map(h => h.textContent)")
        self.assertEqual(heads, ["A run", "Contents", "1 Nitrate standards, 12 March run",
                                 "2 What is left", "The figures in words", "Readings"])  # fmt: skip
        _, _, wide, _ = seen.box("svg")
        self.assertAlmostEqual(wide, 84 * 96 / 25.4, delta=1)
        self.assertEqual((seen.said, [a for a in seen.asked[1:] if not a.startswith("data:")]),
                         ([], []))  # fmt: skip

    def test_no_text_breaks_any_of_them(self) -> None:
        x = np.arange(6.0)
        table = Table(_HOSTILE, (number_column(_HOSTILE, x), number_column("y\n# z", x**2)))
        document = new_document(table)
        document = evolve(document, figure=set_title(document.figure, _HOSTILE))
        report = self.report(document, title=f"{_HOSTILE}\n= h")
        plain = "<img src=x onerror=y>"
        for ending in REPORT_ENDINGS:
            path = self.written(report, ending)
            content = path.read_bytes()
            if ending == ".html":
                tree = html5lib.HTMLParser(strict=True).parse(content)
                self.assertNotIn("img", {str(one.tag).rsplit("}", 1)[-1] for one in tree.iter()})
            elif ending == ".odt":
                with zipfile.ZipFile(io.BytesIO(content)) as package:
                    told = ET.fromstring(package.read("content.xml"))
                text = "".join(told.itertext())
                self.assertIn(plain, text)
                self.assertNotIn("of its size", text)
            elif ending == ".pdf":
                said = subprocess.run(["pdftotext", path, "-"], capture_output=True, text=True,
                                      check=True).stdout  # fmt: skip
                self.assertIn(plain, said.replace("\n", " "))
            else:
                self.assertIn("\\<img", content.decode())

    def test_templates_are_data_and_what_is_wrong_is_said(self) -> None:
        report = self.report(_season(), readings=False)
        own = {"words": "words first", "figure": ["statement", "picture"], "end": [],
               "headings": {"statement": "In words"}, "contents": ""}  # fmt: skip
        template = read_template(self.write("own.json", json.dumps(own)))
        heads = [b.text for b in blocks_of(report, template) if isinstance(b, Heading)]
        self.assertEqual(heads[:2], ["1 Nitrate standards, 12 March run", "In words"])
        for content in (
            "{", "[]", '{"words": "x", "figure": ["poem"]}', '{"figure": []}',
            '{"words": "x", "headings": {"picture": 3}}', '{"words": "x", "more": 1}',
        ):  # fmt: skip
            with self.subTest(content), self.assertRaises(DocumentError) as caught:
                read_template(self.write("wrong.json", content))
            self.assertIn("wrong.json", str(caught.exception))
        with self.assertRaises(DocumentError):
            write_report(report, template, self.folder / "report.docx")
        long = Table("long", (number_column("a", np.arange(6000.0)),
                              number_column("b", np.arange(6000.0))))  # fmt: skip
        with self.assertRaises(SornixError) as refused:
            self.report(new_document(long))
        self.assertIn("too many for an appendix", str(refused.exception))


def _elements(reader: PdfReader) -> list[dict[str, object]]:
    """All elements of the structure of a PDF."""
    found: list[dict[str, object]] = []

    def visit(node: object) -> None:
        node = node.get_object() if hasattr(node, "get_object") else node
        if isinstance(node, list):
            for one in node:
                visit(one)
        elif isinstance(node, dict):
            found.append(node)
            visit(node.get("/K"))

    visit(reader.root_object["/StructTreeRoot"]["/K"])  # type: ignore[index]
    return found
