"""Texts laid out in every way: read right, or with the doubt said."""

import bz2
import datetime as dt
import gzip
import io
import lzma
import math
import random
import zipfile
from collections.abc import Sequence
from typing import Any, NamedTuple

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from sornix.core.errors import ReadingsError
from sornix.core.readings import Table
from sornix.core.readings.files.delimited import read_texts
from sornix.core.readings.files.encoding import names_in_codes
from sornix.core.readings.files.packed import MOST_BYTES
from sornix.core.readings.files.rowwise import table_of_rows, tables_among
from sornix.core.readings.formats.sources import read_file, read_pasted
from sornix.demo import demo_files
from tests.base import SornixTest
from tests.core.test_awkward import described


class Case(NamedTuple):
    """A text; its columns as in test_awkward, tables divided by `||`; what must be said."""

    name: str
    text: str | bytes
    columns: str
    said: str = ""


_BASE = "x n: 1, 2, 3 | y n: 2.5, 3.5, 4.5"
_XY = "x,y\n1,2.5\n2,3.5\n3,4.5\n"
_KEYS = "".join(f"Key {i}, value {i}\n" for i in range(12))
CASES = [
    # spaces
    Case("spaces and decimal commas", "t  y\n0,5  19,2\n1,0  18,9\n1,5  18,1\n",
         "t n: 0.5, 1, 1.5 | y n: 19.2, 18.9, 18.1"),
    Case("one space and decimal commas", "t y\n0,5 19,2\n1,0 18,9\n1,5 18,1\n",
         "t n: 0.5, 1, 1.5 | y n: 19.2, 18.9, 18.1"),
    Case("columns of letters with blanks",
         "Depth  Temp   Oxy\n  0.5  19.2  8.11\n  1.0        8.05\n  1.5  18.1      \n",
         "Depth n: 0.5, 1, 1.5 | Temp n: 19.2, , 18.1 | Oxy n: 8.11, 8.05, "),
    Case("another sign in the names", '"a & b &amp; c",y\n0,0\n1,2\n2,4\n',
         "a & b &amp; c n: 0, 1, 2 | y n: 0, 2, 4"),
    Case("words of several spaces", "s,n\na far place 0,0\na far place 1,1\n",
         "s w: a far place 0, a far place 1 | n n: 0, 1"),
    Case("one column of decimal commas", "A\n0,123\n0,125\n0,14\n", "A n: 0.123, 0.125, 0.14"),
    Case("units of texts",
         "T (°C),O (mg/L),z (m),Site\n5,12.85,0,Site A\n9,11.2,2,Site B\n7,1.5,3,Site A\n",
         "T [°C] n: 5, 9, 7 | O [mg/L] n: 12.85, 11.2, 1.5 | z [m] n: 0, 2, 3 | "
         "Site w: Site A, Site B, Site A"),
    Case("names above empty cells", "Site,n\nA,4\n,10\nB,12\n,8\n,9\n",
         "Site w: A, , B, ,  | n n: 4, 10, 12, 8, 9", "Below each word of “Site” are empty cells"),
    Case("a unit in one cell", "Site,n,T\nA,4,10\nB,12 snails,12\nA,8,<0.5\nB,,16\n",
         "Site w: A, B, A, B | n n: 4, 12 snails, 8,  | T n: 10, 12, <0.5, 16"),
    Case("spaces within cells", "site,y\nLake North,1.5\nLake South,2.5\n",
         "site w: Lake North, Lake South | y n: 1.5, 2.5"),
    Case("names in remarks, by spaces", "# x y\n1 2.5\n2 3.5\n3 4.5\n", _BASE),
    # what stands above
    Case("preamble with the separator", f"Logger, model 7, lake A\nSerial, 1234\n{_XY}", _BASE,
         "2 lines before the header"),
    Case("long preamble with the separator", _KEYS + "x,y,z\n1,2.5,7\n2,3.5,8\n3,4.5,9\n",
         f"{_BASE} | z n: 7, 8, 9", "12 lines before the header"),
    Case("preamble as wide as the table", f"Station,Lake North\nDate,2026-05-01\nBy,Kim\n{_XY}",
         _BASE, "3 lines before the header"),
    Case("preamble of semicolons", "File;run 7\nLamp;D2\nx;y\n1;2,5\n2;3,5\n3;4,5\n", _BASE,
         "2 lines before the header"),
    Case("years as names", "Depth,2019,2020\n0,1.5,2.5\n5,3.5,4.5\n",
         "Depth n: 0, 5 | 2019 n: 1.5, 3.5 | 2020 n: 2.5, 4.5"),
    Case("readings or names", "North,1.5,2\nSouth,2.5,3\nWest,3.5,4\n",
         "North w: South, West | 1.5 n: 2.5, 3.5 | 2 n: 3, 4", "may be readings"),
    Case("two rows of names", "A,B,C\nx,y,z\n1,2.5,7\n2,3.5,8\n",
         "A n: 1, 2 | B n: 2.5, 3.5 | C n: 7, 8", "may be the names"),
    Case("an instrument's number over names", "Serial no., A7\nFluß  Time\n1.106  457.53\n"
         "2.225  914.12\n9.296  -369.31\n1.686  199.02\n-8.460  623.58\n",
         "Fluß n: 1.106, 2.225, 9.296, 1.686, -8.46 | "
         "Time n: 457.53, 914.12, -369.31, 199.02, 623.58", "1 line before the header"),
    Case("units over other words", "Depth (m),T (°C)\nbefore,after\n1,2.5\n2,3.5\n3,4.5\n",
         "Depth [m] n: 1, 2, 3 | T [°C] n: 2.5, 3.5, 4.5", "“before, after” may be the names"),
    Case("units and more under the names",
         '"S","Z","R"\n"TS","T (s)","RH"\n"","s","%"\n1,2,3\n2,3,4\n',
         "S n: 1, 2 | Z n: 2, 3 | R n: 3, 4", "2 lines between names and readings"),
    Case("a table of bars", "| x | y |\n|---|---|\n| 1 | 2.5 |\n| 2 | 3.5 |\n| 3 | 4.5 |\n", _BASE),
    Case("a ruled table", "  x    y\n---- ----\n  1  2.5\n  2  3.5\n  3  4.5\n", _BASE),
    Case("units in angles", "x;y\n<s>;<°C>\n1;2,5\n2;3,5\n3;4,5\n",
         "x [s] n: 1, 2, 3 | y [°C] n: 2.5, 3.5, 4.5"),
    Case("on its side", "Depth (m),0,1,2,3\nT (°C),19.2,18.9,17.1,16\n",
         "Depth [m] w: T (°C) | 0 n: 19.2 | 1 n: 18.9 | 2 n: 17.1 | 3 n: 16", "lie on its side"),
    Case("groups of columns", ",Site A,,Site B,\nDay,T,pH,T,pH\n1,19,8,18,7\n2,20,8,17,7\n",
         "Day n: 1, 2 | T, Site A n: 19, 20 | pH, Site A n: 8, 8 | T, Site B n: 18, 17 | "
         "pH, Site B n: 7, 7", "groups the columns: “Site A”, “Site B”"),
    # what stands below, and between
    Case("sums below", f"{_XY}Mean,3.5\nStdabw.,0.5\n", _BASE, "2 lines below the readings"),
    Case("sums after a blank line", f"{_XY}\nMittelwert,3.5\n", _BASE, "Mittelwert"),
    Case("a sum among words", "s,y\nA,1.5\nB,2.5\nC,3.5\nTotal,7.5\n",
         "s w: A, B, C | y n: 1.5, 2.5, 3.5", "Total"),
    Case("a site called Total", "s,y\nA,1.5\nB,2.5\nC,3.5\nTotal,9\n",
         "s w: A, B, C, Total | y n: 1.5, 2.5, 3.5, 9"),
    Case("words after a blank line", f"{_XY}\nMeasured by Kim, May 2026\n", _BASE,
         "1 line below the readings"),
    Case("a block of words below",
         "Lamp\tD2\n\nx\ty\n1\t2.5\n2\t3.5\n3\t4.5\n\n[Method]\nSpeed\tfast\n",
         _BASE, "2 lines below the readings ([Method], Speed)"),
    # what is said of a measurement is no table above it, where a table of words is
    Case("facts above", "Run\t7\nDate\t12.05.2026\nGain\t100\n[Data]\nx\ty\n1\t5\n2\t6\n",
         "x n: 1, 2 | y n: 5, 6", "4 lines before the header were passed over"),
    Case("facts apart", "By\tM\nOn\t12.05.2026\nGain\t2\n\nx y\tz\n1\t5\n2\t6\n",
         "x y n: 1, 2 | z n: 5, 6", "3 lines before the header were passed over"),
    Case("facts of runs", "[A]\nBy;M\nAt;C 1\nGain;2\n[1]\nx;y\n1;5\n2;6\n"
         "[A]\nBy;F\nAt;C 1\nGain;3\n[2]\nx;y\n1;7\n2;8\n",
         "x n: 1, 2 | y n: 5, 6 || x n: 1, 2 | y n: 7, 8", "2 tables: [1], [2]"),
    Case("facts in numbers", "Operator;M;\nGain;2;\nRange;3;\n\nx;y;z\n1;5;2\n2;6;3\n",
         "x n: 1, 2 | y n: 5, 6 | z n: 2, 3", "3 lines before the header"),
    Case("a table of words between", "x,y\n1,2\n2,3\nn,2\n\ns,r\nA,5\nB,6\n\nt,v\n1,5\n2,6\n",
         "x n: 1, 2 | y n: 2, 3 || s w: A, B | r n: 5, 6 || t n: 1, 2 | v n: 5, 6"),
    Case("a table of words above", "s,r\nA,5\nB,6\nC,n.d.\n\nx,y,z\n1,5,2\n2,6,3\n",
         "s w: A, B, C | r n: 5, 6, n.d. || x n: 1, 2 | y n: 5, 6 | z n: 2, 3"),
    Case("two tables with titles", "Run 1\nx,y\n1,2.5\n2,3.5\n\nRun 2\nx,y\n1,5\n2,6\n",
         "x n: 1, 2 | y n: 2.5, 3.5 || x n: 1, 2 | y n: 5, 6", "2 tables: Run 1, Run 2"),
    Case("two tables", "x,y\n1,2\n2,3\n\nx,z\n1,5\n2,6\n",
         "x n: 1, 2 | y n: 2, 3 || x n: 1, 2 | z n: 5, 6", "2 tables"),
    Case("names and units of a second table alone", "x,y\n1,2\n2,3\n\nx,z\ns,m\n",
         "x n: 1, 2 | y n: 2, 3", "2 lines below the readings"),
    Case("the names once more", "x,y\n1,2\n2,3\nx,y\n1,5\n2,6\n",
         "x n: 1, 2 | y n: 2, 3 || x n: 1, 2 | y n: 5, 6", "2 tables"),
    Case("letters of two tables", "Čas;y\n1;2\n2;3\n\nČas;z\n1;5\n2;6\n".encode("cp1250"),
         "Čas n: 1, 2 | y n: 2, 3 || Čas n: 1, 2 | z n: 5, 6", "“Čas” may be “Èas”"),
    # numbers in other forms
    Case("powers with D",
         "x,y\n1,1.5D-03\n2,2.5d+1\n", "x n: 1, 2 | y n: 0.0015, 25", "Powers of ten"),
    Case("powers written out", "x;y\n1;1,5×10^-3\n2;2·10⁴\n", "x n: 1, 2 | y n: 0.0015, 20000",
         "Powers of ten"),
    Case("powers and units in cells", "t\tT\n0\t1.2E-03 mV\n5\t2.5×10^-3 mV\n",
         "t n: 0, 5 | T [mV] n: 0.0012, 0.0025", "The unit mV stood in the cells"),
    Case("units in cells", "t,T\n0 min,12 °C\n5 min,13.5 °C\n",
         "t [min] n: 0, 5 | T [°C] n: 12, 13.5", "The unit °C stood in the cells of “T”"),
    Case("two units in cells", "x,m\n1,12 mg\n2,13 µg\n", "x n: 1, 2 | m w: 12 mg, 13 µg"),
    Case("percent", "x,H\n1,92%\n2,93 %\n3,88\n", "x n: 1, 2, 3 | H [%] n: 92, 93, 88", "%"),
    Case("money", "x,c\n1,€ 20.5\n2,€ 21\n", "x n: 1, 2 | c [€] n: 20.5, 21", "€"),
    Case("uncertainties", "x,y\n1,1.2 ± 0.1\n2,2.3+/-0.2\n",
         "x n: 1, 2 | y n: 1.2, 2.3 | Uncertainty of y n: 0.1, 0.2", "Value ± uncertainty"),
    Case("uncertainties in brackets", "x,y (m)\n1,1.23(4)\n2,30(2)\n",
         "x n: 1, 2 | y [m] n: 1.23, 30 | Uncertainty of y [m] n: 0.04, 2",
         "Uncertainties in brackets"),
    Case("Fractions", "x,y\n1,1/2\n2,1 3/4\n3,-5/8\n", "x n: 1, 2, 3 | y n: 0.5, 1.75, -0.625",
         "Fractions"),
    Case("minus behind", "x,y\n1,1.5-\n2,2-\n3,3\n", "x n: 1, 2, 3 | y n: -1.5, -2, 3", "negative"),
    Case("numbers in brackets", "x,y\n1,(1.5)\n2,(2)\n3,3\n", "x n: 1, 2, 3 | y n: -1.5, -2, 3",
         "negative"),
    Case("ranges stay", "x,y\n3-5,1\n5-8,2\n", "x w: 3-5, 5-8 | y n: 1, 2",
         "Cells of “x” are ranges such as 3-5"),
    Case("limits stay", "x,y\n<0.5,1\n<0.5,2\n", "x w: <0.5, <0.5 | y n: 1, 2",
         "are limits such as <0.5"),
    Case("numbers of samples", "s,y\n00042,1\n00051,2\n", "s w: 00042, 00051 | y n: 1, 2"),
    Case("more digits than numbers keep", "s,y\n9007199254740993,1\n9007199254740994,2\n",
         "s w: 9007199254740993, 9007199254740994 | y n: 1, 2"),
    Case("other digits", "x,y\n１,２.５\n２,３.５\n٣,٤.٥\n", "x n: 1, 2, 3 | y n: 2.5, 3.5, 4.5"),
    Case("months with zeros", "m,y\n01,1\n02,2\n12,3\n", "m n: 1, 2, 12 | y n: 1, 2, 3"),
    Case("wells", "w,y\n2A3,1\n2E3,2\n2E4,3\n", "w w: 2A3, 2E3, 2E4 | y n: 1, 2, 3"),
    # dates and times
    Case("dates without marks", "d,y\n20260128,1\n20260203,2\n",
         "d t: 2026-01-28, 2026-02-03 | y n: 1, 2", "in the cells of “d” were read as dates"),
    Case("numbers like dates",
         "n,y\n20260128,1\n20261345,2\n", "n n: 20260128, 20261345 | y n: 1, 2"),
    *(Case(f"months, {day}", f"d;y\n{day};1\n13.2.2026;2\n",
           f"d t: {iso}, 2026-02-13 | y n: 1, 2")
      for day, iso in (("12. März 2026", "2026-03-12"), ("1er août 2026", "2026-08-01"),
                       ("3 de mayo de 2026", "2026-05-03"), ("4 grudnia 2026", "2026-12-04"),
                       ("5 мая 2026", "2026-05-05"), ("6 ottobre 2026", "2026-10-06"))),
    Case("years of two digits", "d,y\n13/05/26,1\n14/05/26,2\n",
         "d t: 2026-05-13, 2026-05-14 | y n: 1, 2", "two digits: 13/05/26 was taken to be in 2026"),
    Case("over midnight",
         "t,y\n22:30,1\n23:15,2\n00:10,3\n", "t t: 22:30, 23:15, 00:10 | y n: 1, 2, 3",
         "goes over midnight: after 23:15"),
    Case("how long, by name", "Elapsed,y\n0:00:10,1\n1:30:00,2\n",
         "Elapsed [s] n: 10, 5400 | y n: 1, 2", "in seconds now"),
    Case("how long, by minutes", "t (mm:ss),y\n00:30,1\n75:10,2\n", "t [s] n: 30, 4510 | y n: 1, 2",
         "in seconds now"),
    Case("how long, by days",
         "t,y\n0 02:30:00,1\n1 03:15:00,2\n", "t [s] n: 9000, 98100 | y n: 1, 2",
         "in seconds now"),
    Case("how long, over a day",
         "t,y\n23:30:00,1\n26:10:00,2\n", "t [s] n: 84600, 94200 | y n: 1, 2",
         "in seconds now"),
    Case("times of day stay", "t,y\n08:30,1\n09:15,2\n", "t t: 08:30, 09:15 | y n: 1, 2"),
    Case("quarters", "q,y\n2025 Q1,1\nQ2 2025,2\n", "q t: 2025-01, 2025-04 | y n: 1, 2"),
    Case("days of years", "w,y\n2024-366,1\n2026-032 06:00,2\n",
         "w t: 2024-12-31 00:00, 2026-02-01 06:00 | y n: 1, 2"),
    Case("no day of a year", "w,y\n2026-366,1\n2026-400,2\n",
         "w w: 2026-366, 2026-400 | y n: 1, 2"),
    Case("weeks", "w,y\n2026-W05,1\n2026-W06,2\n", "w t: 2026-01-26, 2026-02-02 | y n: 1, 2"),
    # names
    Case("ratios", "t,F/F0,S/N,I/A\n1,2,3,4\n2,3,4,5\n",
         "t n: 1, 2 | F/F0 n: 2, 3 | S/N n: 3, 4 | I [A] n: 4, 5"),
    Case("units in brackets behind a slash", "λ/nm,ε/(L/mol),T (°C)\n1,2,3\n2,3,4\n",
         "λ [nm] n: 1, 2 | ε [L/mol] n: 2, 3 | T [°C] n: 3, 4"),
    # alphabets
    *(Case(f"letters, {code}", f"{name};y\n1;2,5\n2;3,5\n".encode(code),
           f"{name} n: 1, 2 | y n: 2.5, 3.5",
           "" if code in ("cp1252", "latin-1", "shift_jis") else "may be")
      for name, code in (("Größe", "cp1252"), ("Débit", "cp1252"), ("Głębokość", "cp1250"),
                         ("Čas", "iso-8859-2"), ("Глубина", "cp1251"), ("Βάθος", "cp1253"),
                         ("Işık şiddeti", "cp1254"), ("Größe", "mac_roman"), ("水温", "shift_jis"),
                         ("时间", "gb18030"), ("Ålder", "latin-1"))),
]  # fmt: skip


def told(tables: tuple[Table, ...]) -> str:
    """All that is said of tables."""
    doubts = [d for t in tables if t.read_as is not None for d in t.read_as.doubts.values()]
    return " ".join([*doubts, *(remark for table in tables for remark in table.remarks)])


class Layouts(SornixTest):
    def test_small_files(self) -> None:
        for case in CASES:
            with self.subTest(case.name):
                raw = case.text if isinstance(case.text, bytes) else case.text.encode()
                tables = read_texts(raw, "t")
                self.assertEqual(" || ".join(map(described, tables)), case.columns)
                self.assertIn(case.said, told(tables))

    def test_sheets(self) -> None:
        """Tables beside and below one another, sums, lengths of time, groups; hidden sheets."""
        hour = dt.timedelta(hours=1)
        below: list[list[Any]] = [
            ["Run 1"],
            ["x", "y"],
            [1, 2],
            [2, 3],
            [],
            ["Run 2"],
            ["x", "z"],
            [1, 5],
            [2, 6],
        ]
        beside: list[list[Any]] = [
            ["x", "y", "", "t", "z"],
            [1, 2, "", 5, 6],
            [2, 3, "", 7, 8],
            [3, 4, "", "", ""],
        ]
        cases: list[tuple[list[list[Any]], list[str]]] = [
            (below, ["x n: 1, 2 | y n: 2, 3", "x n: 1, 2 | z n: 5, 6"]),
            (beside, ["x n: 1, 2, 3 | y n: 2, 3, 4", "t n: 5, 7 | z n: 6, 8"]),
            ([["x", "y"], [1, 2], [2, 4], [3, 9], ["Mean", 5]], ["x n: 1, 2, 3 | y n: 2, 4, 9"]),
            ([["t", "y"], [hour, 2], [2 * hour, 4]], ["t [s] n: 3600, 7200 | y n: 2, 4"]),
            ([["", "A", "", "B", ""], ["d", "T", "p", "T", "p"], [1, 2, 3, 4, 5], [2, 3, 4, 5, 6]],
             ["d n: 1, 2 | T, A n: 2, 3 | p, A n: 3, 4 | T, B n: 4, 5 | p, B n: 5, 6"]),
        ]  # fmt: skip
        for rows, columns in cases:
            parts = tables_among(rows)
            tables = [table_of_rows(part, title or "t") for title, part in parts]
            self.assertEqual([described(table) for table in tables], columns)
        self.assertEqual([title for title, _ in tables_among(below)], ["Run 1", "Run 2"])
        head: list[list[Any]] = [["By", "M"], ["On", "1.5.26"], [], ["x", "y"], [1, 2], [2, 3]]
        ((_, rest),) = tables_among(head)
        self.assertEqual(described(table_of_rows(rest, "t")), "x n: 1, 2 | y n: 2, 3")
        book = self.folder / "survey.xlsx"
        with (
            zipfile.ZipFile(io.BytesIO(dict(demo_files())["lake-survey.xlsx"])) as old,
            zipfile.ZipFile(book, "w") as new,
        ):
            for info in old.infolist():
                part = old.read(info)
                if info.filename == "xl/workbook.xml":
                    part = part.replace(b"<sheet ", b'<sheet state="hidden" ', 1)
                if info.filename == "xl/worksheets/sheet2.xml":
                    # as programs write formulas that they do not work out
                    part = part.replace(b"<c><v>13.81</v></c>", b'<c r="C2"><f>2*D2</f><v/></c>')
                new.writestr(info.filename, part)
        whole = read_file(book)
        self.assertEqual(len(whole), 2)
        self.assertIn("1 hidden sheet not opened", told(whole))
        self.assertIn("1 cell (C2) holds a formula without a result", told(whole))
        self.assertTrue(math.isnan(whole[0].columns[2].numbers[0]))
        hidden = told(whole).split("not opened: “")[1].split("”")[0]
        self.assertEqual(read_file(book, hidden)[0].name, hidden)

    def test_packed_files_and_lines_of_records(self) -> None:
        text, wanted = _XY.encode(), _BASE
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            archive.writestr("a/run.csv", text)
            archive.writestr(f"../{self.folder.name}-out/other.csv", text)
            archive.writestr("__MACOSX/._run.csv", b"\0\5\7")
        several = stream.getvalue()
        for name, content in (
            ("run.csv.gz", gzip.compress(text)), ("run.csv.bz2", bz2.compress(text)),
            ("run.csv.xz", lzma.compress(text)), ("run.gz", gzip.compress(text)),
            ("run.jsonl", b'{"x":1,"y":2.5}\n{"x":2,"y":3.5}\n{"x":3,"y":4.5}\n'),
        ):  # fmt: skip
            tables = read_file(self.write(name, content))
            self.assertEqual([described(t) for t in tables], [wanted], name)
            self.assertEqual(tables[0].name, "run")
        path = self.write("both.zip", several)
        self.assertEqual([t.name for t in read_file(path)], ["run", "other"])
        self.assertEqual([described(t) for t in read_file(path, "other")], [wanted])
        self.assertIn("holds 2 files", told(read_file(path)))
        self.assertFalse((self.folder.parent / f"{self.folder.name}-out").exists())
        bomb = gzip.compress(bytes(MOST_BYTES + 2))
        for name, content, said in (
            ("cut.csv.gz", gzip.compress(text)[:-9], "damaged"),
            ("twice.gz", gzip.compress(gzip.compress(text)), "packed twice"),
            ("bomb.csv.gz", bomb, "unpacks to more than"),
            ("cut.zip", several[:60], "is damaged|damaged"),
            ("text.zip", b"x,y\n1,2\n2,3\n", ""),
        ):
            path = self.write(name, content)
            if said:
                with self.assertRaisesRegex(ReadingsError, said):
                    read_file(path)

    def test_names_for_fewer_columns_than_rows_have(self) -> None:
        with self.assertRaisesRegex(ReadingsError, "4 cells and the header has 2"):
            read_texts(b"x,y\n1,5,2,5\n2,5,3,5\n3,5,4,5\n", "t")

    def test_a_table_on_its_side_is_turned(self) -> None:
        """A text with a preamble, units in their column and decimal commas, and a sheet."""
        text = "Lake survey\n\nDepth;m;0;1;2;3\nT;°C;19,2;;17,1;16\nSite;;A;B;C;D\n"
        wanted = "Depth [m] n: 0, 1, 2, 3 | T [°C] n: 19.2, , 17.1, 16 | Site w: A, B, C, D"
        (table,) = read_texts(text.encode(), "t", held={"lying": True})
        self.assertEqual(described(table), wanted)
        assert table.read_as is not None
        self.assertEqual(table.read_as.dialect[:2], (";", ","))
        self.assertIn("lying", table.read_as.words)
        self.assertNotIn("header", table.read_as.words)
        rows: list[list[Any]] = [
            ["Lake"],
            ["Depth (m)", 0, 1, 2, 3],
            ["T (°C)", 19.2, "", 17.1, 16],
            [],
        ]
        table = table_of_rows(rows, "t")
        assert table.read_as is not None
        self.assertIn("lying", table.read_as.doubts)
        table = table_of_rows(rows, "t", held={"lying": True})
        self.assertEqual(described(table), wanted[: wanted.index(" | Site")])

    def test_names_in_the_letters_of_every_alphabet(self) -> None:
        raw = "Größe (m);Höhe;x\n1;2;3\n".encode("cp1252")
        found = names_in_codes(raw, 1)
        self.assertEqual(found["cp1252"], "Größe (m), Höhe")
        self.assertEqual(found["cp1251"], raw.decode("cp1251").split(";x")[0].replace(";", ", "))
        self.assertNotIn("utf-8", found)
        remark = "depth;y\n1;Tiefe für Kim\n".encode("cp1252")
        self.assertEqual(names_in_codes(remark, 1)["cp1252"], "Tiefe für Kim")
        self.assertEqual(names_in_codes(b"x,y\n1,2\n", 1), {})

    def test_of_what_is_pasted_the_first_table_is_read(self) -> None:
        table = read_pasted("x\ty\n1\t2\n2\t3\n\nx\tz\n1\t5\n2\t6\n")
        self.assertEqual(described(table), "x n: 1, 2 | y n: 2, 3")
        self.assertIn("2 tables in what was pasted", table.notes[0])

    @settings(max_examples=150)
    @given(st.integers(0, 2**32))
    def test_any_layout_is_read_back(self, seed: int) -> None:
        problem = read_back(seed)
        self.assertEqual(problem, "")


# the columns by name: unit, and numbers or texts
Wanted = dict[str, tuple[str, Sequence[float | str | None]]]
_NAMES = ("Time", "Depth", "Temperature", "Level max", "Fluß", "pH", "O2 sat", "Débit", "Cells")
_UNITS = ("", "m", "°C", "mg/L", "s", "%", "µg/L")


def read_back(seed: int) -> str:
    """Writes a random table in a random layout, and tells what is wrong when it is read: nothing
    where it comes back equal, or where a doubt is said."""
    dice = random.Random(seed)
    wanted, raw = laid_out(dice)
    try:
        tables = read_texts(raw, "t")
    except ReadingsError:
        # refused with a message: not in silence
        return ""
    problem = _differs(wanted, tables)
    read_as = tables[0].read_as
    said = read_as is not None and (read_as.doubts or read_as.dialect.missing)
    return "" if not problem or said or len(tables) > 1 else f"{problem}\n{raw!r}"


def _differs(wanted: Wanted, tables: tuple[Table, ...]) -> str:
    columns = {c.name: c for c in tables[0].columns}
    if list(columns) != list(wanted):
        return f"names {list(columns)}, not {list(wanted)}"
    for name, (unit, values) in wanted.items():
        column = columns[name]
        if column.unit != unit:
            return f"unit {column.unit!r}, not {unit!r}"
        if isinstance(values[0], str):
            if column.cells() != list(values):
                return f"{name} {column.cells()[:3]}"
            continue
        if not column.has_places:
            return f"{name} is text: {column.cells()[:3]}"
        given = np.array([np.nan if v is None else v for v in values])
        if not np.array_equal(column.numbers, given, equal_nan=True):
            return f"{name} {column.numbers[:4]}, not {given[:4]}"
    return ""


def laid_out(dice: random.Random) -> tuple[Wanted, bytes]:
    rows, count = dice.randint(4, 30), dice.randint(2, 5)
    names = dice.sample(_NAMES, count)
    unit_form = dice.choice(("none", "brackets", "square", "slash", "row", "space"))
    separator = dice.choice((",", ";", "\t", "|", "  "))
    decimal = dice.choice((".", ",")) if separator != "," else "."
    thousands = dice.choice(("", "", " ", "'", "\u2009")) if separator != "  " else ""
    wanted: Wanted = {}
    columns = []
    if separator != "  " and dice.random() < 0.4:
        places = [dice.choice(("Site A", "Lake North, pier", "B", "pond 3")) for _ in range(rows)]
        places = [place.replace(separator, "") for place in places]
        wanted["Place"] = ("", places)
        columns.append(["Place", *([""] if unit_form == "row" else []), *places])
    for i, name in enumerate(names):
        unit = "" if unit_form == "none" else dice.choice(_UNITS[i > 0 :])
        size = 10.0 ** dice.randint(0, 5)
        digits = dice.randint(0, 3)
        texts: list[str] = []
        values: list[float | None] = []
        for _ in range(rows):
            if i and dice.random() < 0.05 and separator != "  ":
                texts.append(dice.choice(("", "NA", "–")))
                values.append(None)
                continue
            text = f"{dice.uniform(-1 if dice.random() < 0.2 else 0.1, 1) * size:,.{digits}f}"
            values.append(float(text.replace(",", "")))
            texts.append(text.replace(",", "_").replace(".", decimal).replace("_", thousands))
        wanted[name] = (unit, values)
        head = {"none": name, "row": name, "brackets": f"{name} ({unit})",
                "square": f"{name} [{unit}]", "slash": f"{name} / {unit}",
                # a mere letter behind a space is a name as well
                "space": f"{name} {unit}" if len(unit) > 1 else f"{name} ({unit})",
                }[unit_form]  # fmt: skip
        columns.append([head if unit else name, *([unit] if unit_form == "row" else []), *texts])
    # a row of units that is mostly empty is none
    if unit_form == "row" and 2 * sum(bool(unit) for unit, _ in wanted.values()) <= count:
        return laid_out(dice)
    lines = [separator.join(cells) for cells in zip(*columns, strict=True)]
    if separator == "  " and any("" in column for column in columns):
        return laid_out(dice)
    for _ in range(dice.choice((0, 0, 1, 3, 8))):
        key, value = dice.choice(("Logger", "Serial no.", "Operator")), dice.choice(("A7", "Kim"))
        lines.insert(0, f"{key}{dice.choice((': ', separator, ', '))}{value}")
    lines += dice.choice(([], [], [""], ["", "End of file"]))
    text = dice.choice(("\n", "\r\n")).join(lines) + dice.choice(("\n", ""))
    codes = ["utf-8", "utf-8-sig", "utf-16", *(["cp1252"] if "\u2009" not in text else [])]
    return wanted, text.encode(dice.choice(codes))
