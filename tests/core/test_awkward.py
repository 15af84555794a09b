"""Small awkward inputs, and what must be read from each."""

import datetime as dt
import io
import json
import re
import tracemalloc
import zipfile
from typing import NamedTuple

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st
from pyarrow import parquet

from sornix.core.errors import ReadingsError
from sornix.core.readings import Table, number_column, read_text, text_column, write_text
from sornix.core.readings.files.cells import SHORT_BYTES
from sornix.core.readings.files.rowwise import table_of_rows
from sornix.core.readings.files.shares import Share
from sornix.core.readings.formats.sources import html_rows, read_file, read_pasted
from sornix.demo import demo_files
from tests.base import SornixTest


class Case(NamedTuple):
    """A text; its columns as `name [unit] n|t|w: cells` divided by bars; what must be said."""

    name: str
    text: str | bytes
    columns: str
    said: str = ""
    held: dict[str, object] = {}


_AB = "a n: 1, 3 | b n: 2, 4"
_DATES = "t t: 2026-04-03, 2026-04-13 | v n: 1, 2"
_BOTH = "t t: 2026-04-03, 2026-06-05 | v n: 1, 2"
CASES = [
    # separators
    Case("commas", "a,b\n1,2\n3,4\n", _AB),
    Case("semicolons", "a;b\n1;2\n3;4\n", _AB),
    Case("tabs", "a\tb\n1\t2\n3\t4\n", _AB),
    Case("bars", "a|b\n1|2\n3|4\n", _AB),
    Case("one space", "a b\n1 2\n3 4\n", _AB),
    Case("loose spaces", "  a     b\n  1     2\n  3     4\n", _AB),
    Case("spaces in names", "the a   the b\n1       2\n3       4\n",
         "the a n: 1, 3 | the b n: 2, 4"),
    Case("spaces beside separators", "a ; b\n 1 ; 2\n3;4 \n", _AB),
    Case("old line ends", "a,b\r1,2\r3,4\r", _AB),
    Case("separator at line ends", "a;b;\n1;2;\n3;4;\n", _AB),
    Case("separator in quotes", '"a, first",b\n1,2\n3,4\n', "a, first n: 1, 3 | b n: 2, 4"),
    Case("line end in quotes", '"a",note\n1,"x\ny"\n3,z\n', "a n: 1, 3 | note w: x\ny, z"),
    Case("one column", "a\n1\n3\n", "a n: 1, 3"),
    Case("held separator", "a;b,c\n1;2,5\n3;4,5\n", "a;b w: 1;2, 3;4 | c n: 5, 5",
         "", {"separator": ","}),
    Case("held to be one column", "a,b\n1,2\n3,4\n", "a,b n: 1.2, 3.4", "", {"separator": ""}),
    Case("whole numbers or decimal commas", "1,25\n0,5\n", "Column 1 n: 1, 0 | Column 2 n: 25, 5",
         "“1,25” may be 1.25 or 1 and 25; it was read as 1 and 25"),
    Case("as many decimals", "1,50\n0,75\n", "Column 1 n: 1, 0 | Column 2 n: 50, 75",
         "may be 1.50"),
    Case("no decimals: a zero at their end", "1,50\n0,5\n", "Column 1 n: 1, 0 | Column 2 n: 50, 5"),
    Case("no decimals: zeros before", "01,25\n02,5\n", "Column 1 n: 1, 2 | Column 2 n: 25, 5"),
    Case("held decimal commas without names", "1,25\n0,5\n", "Column 1 n: 1.25, 0.5",
         "", {"decimal": ","}),
    Case("held decimal points without names", "1,25\n0,5\n", "Column 1 n: 1, 0 | Column 2 n: 25, 5",
         "", {"decimal": "."}),
    Case("typeset", "\\begin{tabular}{rr}\n\\hline\na \\& c & b \\\\ \\hline\n1&2\\\\[2pt]\n"
         "3 & 4 \\\\\n\\end{tabular}\n", "a & c n: 1, 3 | b n: 2, 4", "were divided at “&”"),
    Case("power lost", b"a,b\n1,2\n3,4\n\0\0\0", _AB, "3 empty bytes at the end of the file were"),
    # numbers as names
    Case("a plate", "Plate 7\n,1,2,3\nA,0.05,0.1,5\nB,0.06,2,6\n",
         "Column 1 w: A, B | 1 n: 0.05, 0.06 | 2 n: 0.1, 2 | 3 n: 5, 6"),
    Case("few columns", ",1,2\n5,5,6\n6,7,8\n", "Column 1 n: 5, 6 | 1 n: 5, 7 | 2 n: 6, 8",
         "“1, 2” may be readings as well"),
    Case("beside a corner", ",0.5,2\nA,5,6\nB,7,8\n", "Column 1 w: A, B | 0.5 n: 5, 7 | 2 n: 6, 8",
         "“0.5, 2” may be readings as well"),
    Case("numbers of channels", "Channel,1,2\nName,T,Q\nUnit,°C,L/min\n5,6,7\n8,9,3\n",
         "Name n: 5, 8 | T [°C] n: 6, 9 | Q [L/min] n: 7, 3", "“Channel, 1, 2” may be the names"),
    Case("no corner", ",1,2\n,5,6\nB,7,8\n",
         "Column 1 w: , , B | Column 2 n: 1, 5, 7 | Column 3 n: 2, 6, 8"),
    Case("years", "2024,2025\n1.5,7\n1.9,2\n", "2024 n: 1.5, 1.9 | 2025 n: 7, 2",
         "“2024, 2025” may be readings as well"),
    Case("no years", "0,1\n0.5,1.7\n1,2.9\n", "Column 1 n: 0, 0.5, 1 | Column 2 n: 1, 1.7, 2.9"),
    Case("one of them near", "9,10\n1,2\n2,9\n", "Column 1 n: 9, 1, 2 | Column 2 n: 10, 2, 9"),
    # what stands below
    Case("words below a blank line", "a,b\n1,2\n3,4\n\nBy AB on 5 Jan\nProbe 7\n", _AB,
         "2 lines below the readings (By AB on 5 Jan, Probe 7)"),
    Case("words below", "a,b\n1,2\n3,4\nBy AB on 5 Jan\nProbe 7\n", _AB,
         "2 lines after the readings"),
    Case("words below spaces", "a b\n1 2\n3 4\n\nBy AB on 5 Jan\n", _AB,
         "1 line below the readings"),
    Case("hours and minutes", "Time,b\n0830,2\n1415,4\n", "Time t: 08:30, 14:15 | b n: 2, 4",
         "0830 and the like"),
    Case("no hours", "Time,b\n0830,2\n1475,4\n", "Time w: 0830, 1475 | b n: 2, 4"),
    Case("no times", "Tube,b\n0830,2\n1415,4\n", "Tube w: 0830, 1415 | b n: 2, 4"),
    # numbers with something beside them
    Case("− apart", "a,b\n- 1,2\n- 3.5,4\n", "a n: -1, -3.5 | b n: 2, 4", "with − apart or behind"),
    Case("powers apart", "a,b\n1 E-2,2\n3 e+1,4\n", "a n: 0.01, 30 | b n: 2, 4", "Powers of ten"),
    Case("letters", "a,b\n1.5 ab,2\n3,4\n2.5*,6\n", "a w: 1.5 ab, 3, 2.5* | b n: 2, 4, 6",
         "numbers with something beside them such as 1.5 ab"),
    Case("several units", "a,b\n500 µg/L,2\n3 mg/L,4\n", "a w: 500 µg/L, 3 mg/L | b n: 2, 4",
         "numbers in several units such as 500 µg/L"),
    Case("names that are no numbers", "a,b\n5a,2\n54°3,4\n", "a w: 5a, 54°3 | b n: 2, 4"),
    # decimal and thousands marks
    Case("dashes in powers", "a,b\n1e–1,2\n3E−1,4\n", "a n: 0.1, 0.3 | b n: 2, 4"),
    Case("decimals of Arabic", "a,b\n١٫٥,2\n٣,4\n", "a n: 1.5, 3 | b n: 2, 4"),
    Case("decimal comma", "a;b\n0,5;1,25\n1,5;2\n", "a n: 0.5, 1.5 | b n: 1.25, 2"),
    Case("quoted decimal comma", 'a,b\n"0,5",1\n"1,75",2\n', "a n: 0.5, 1.75 | b n: 1, 2"),
    Case("thousands by points", "a;b\n1.234,5;1\n2.000,0;2\n", "a n: 1234.5, 2000 | b n: 1, 2"),
    Case("thousands by commas", 'a,b\n"1,234.5",1\n"1,234,567",2\n',
         "a n: 1234.5, 1234567 | b n: 1, 2"),
    Case("thousands by spaces", "a;b\n12 345;1\n1 000;2\n", "a n: 12345, 1000 | b n: 1, 2"),
    Case("thousands by apostrophes", "a;b\n1'234.5;1\n12'000;2\n",
         "a n: 1234.5, 12000 | b n: 1, 2"),
    Case("thousands or decimals", "a;b\n1,234;1\n5,678;2\n", "a n: 1.234, 5.678 | b n: 1, 2",
         "may be 1234"),
    Case("held thousands", "a;b\n1,234;1\n5,678;2\n", "a n: 1234, 5678 | b n: 1, 2", "",
         {"decimal": ".", "thousands": ","}),
    Case("true minus and exponents", "a,b\n−1.5,2E3\n+3,1e-2\n", "a n: -1.5, 3 | b n: 2000, 0.01"),
    Case("more digits than binary64", "a\n0.1000000000000000055\n2\n", "a n: 0.1, 2"),
    # encodings
    Case("byte order mark", "a,T (°C)\n1,2\n".encode("utf-8-sig"), "a n: 1 | T [°C] n: 2"),
    Case("UTF-16", "a,T (°C)\n1,2\n".encode("utf-16"), "a n: 1 | T [°C] n: 2"),
    Case("UTF-16 without mark", "a,T (°C)\n1,2\n".encode("utf-16-le"), "a n: 1 | T [°C] n: 2"),
    Case("UTF-16, the other way", "a,T (°C)\n1,2\n".encode("utf-16-be"), "a n: 1 | T [°C] n: 2"),
    Case("Latin-1", "a,T (°C)\n1,2\n".encode("latin-1"), "a n: 1 | T [°C] n: 2"),
    Case("Windows-1252", "a,b (€)\n1,2\n".encode("cp1252"), "a n: 1 | b [€] n: 2"),
    # what stands above, between and below
    Case("remarks", "# one\n% two\n// three\na,b\n1,2\n# pause\n3,4\n! end\n", _AB,
         "5 lines of remarks"),
    Case("header as a remark", "# a,b\n1,2\n3,4\n", _AB),
    Case("a number sign as a name", "#,d,a\n1,05/14/26,3\n2,05/15/26,4\n",
         "# n: 1, 2 | d t: 2026-05-14, 2026-05-15 | a n: 3, 4", "two digits"),
    Case("a clock in the header", "Time (GMT+01:00),a\n2026-05-14 10:00,3\n2026-05-14 11:00,4\n",
         "Time t: 2026-05-14 10:00, 2026-05-14 11:00 | a n: 3, 4", "is at GMT+01:00"),
    Case("a clock above other dates", "Date (CET),a\n14.5.2026,3\n15.5.2026,4\n",
         "Date t: 2026-05-14, 2026-05-15 | a n: 3, 4", "is at CET"),
    Case("no clock in the header", "Date (DMY),a\n14.5.2026,3\n15.5.2026,4\n",
         "Date t: 2026-05-14, 2026-05-15 | a n: 3, 4"),
    Case("header of words as a remark", "# made by hand\n# s,a\nX,3\nY,4\n",
         "s w: X, Y | a n: 3, 4"),
    Case("readings as a remark", "s,a\n# X,3\nY,4\n", "s w: Y | a n: 4", "1 line of remarks"),
    Case("readings above as a remark", "# 1,2\n3,4\n5,6\n",
         "Column 1 n: 3, 5 | Column 2 n: 4, 6", "1 line of remarks"),
    Case("a remark with a comma", "# by A, B\nt,b\ns,K\n1,2\n", "t [s] n: 1 | b [K] n: 2",
         "1 line of remarks"),
    Case("preamble", "Probe 7\nSerial 12\n\na,b\n1,2\n3,4\n", _AB, "2 lines before the header"),
    Case("preamble filled up",
         "Probe 7;;\nBy Q;;\na;b;c\n1;2;5\n3;4;6\n", f"{_AB} | c n: 5, 6", "2 lines"),
    Case("row of units", "z,T\nm,°C\n1,2\n3,4\n", "z [m] n: 1, 3 | T [°C] n: 2, 4"),
    Case("units in brackets", "z,T\n[m],(°C)\n1,2\n3,4\n", "z [m] n: 1, 3 | T [°C] n: 2, 4"),
    Case("units in names", "z / m,T [°C],m(kg)\n1,2,3\n", "z [m] n: 1 | T [°C] n: 2 | m [kg] n: 3"),
    Case("no names", "1,2\n3,4\n", "Column 1 n: 1, 3 | Column 2 n: 2, 4", "no header row"),
    Case("names twice", "a,a,\n1,2,3\n", "a n: 1 | a 2 n: 2 | Column 3 n: 3"),
    Case("held line of names", "x,y\na,b\n1,2\n3,4\n", _AB, "", {"header": 2}),
    Case("held: no names", "a,b\n1,2\n3,4\n5,6\n",
         "Column 1 n: a, 1, 3, 5 | Column 2 n: b, 2, 4, 6",
         "left out", {"header": 0}),
    Case("held units", "a,b\nflorins,ells\n1,2\n3,4\n",
         "a [florins] n: 1, 3 | b [ells] n: 2, 4", "",
         {"units": True}),
    Case("farewell", "a,b\n1,2\n3,4\nEnd of export\n", _AB, "1 line after the readings"),
    Case("short rows", "a,b\n1,2\n3\n", "a n: 1, 3 | b n: 2, ", "shorter than the header (line 3)"),
    Case("short rows of times", "a,t\n1,2026-04-03 06:30\n3\n",
         "a n: 1, 3 | t t: 2026-04-03 06:30, ", "shorter than the header (line 3)"),
    Case("blank lines", "\n\na,b\n\n1,2\n\n\n3,4\n\n", _AB),
    # missing readings
    Case("usual marks", "a,b\n1,NA\nNaN,2\n—,n/a\n,null\n", "a n: 1, , ,  | b n: , 2, , "),
    Case("−999 among positive", "a\n5\n-999\n7\n9\n", "a n: 5, , 7, 9", "", ),
    Case("−9999.0 decimal comma", "a;b\n0,5;1\n-9999,0;2\n1,5;3\n2,5;4\n",
         "a n: 0.5, , 1.5, 2.5 | b n: 1, 2, 3, 4"),
    Case("9999 more than once", "a\n1\n9999\n2\n9999\n3\n", "a n: 1, , 2, , 3"),
    Case("a true 999", "a\n997\n998\n999\n1000\n", "a n: 997, 998, 999, 1000"),
    Case("a true −999", "a\n-2500\n-999\n800\n2000\n", "a n: -2500, -999, 800, 2000"),
    Case("−9999 under others below 0", "a\n-5\n-9999\n7\n9\n", "a n: -5, , 7, 9"),
    Case("one 9999 only", "a\n1\n9999\n2\n3\n", "a n: 1, 9999, 2, 3"),
    Case("one's own mark", "a\n1\nlost\n-7\n3\n", "a n: 1, , , 3", "", {"missing": ("lost", "-7")}),
    Case("none held missing", "a\n5\n-999\n7\n9\n", "a n: 5, -999, 7, 9", "", {"missing": ()}),
    # pollution
    Case("units in cells", "a,n\n1,12 snails\n2,3\n3,4\n",
         "a n: 1, 2, 3 | n n: 12 snails, 3, 4", "1 cell of “n”"),
    Case("infinity", "a\n1\ninf\n3\n", "a n: 1, inf, 3", "row 2: “inf”"),
    Case("mostly text", "a,s\n1,x\n2,7\n3,y\n", "a n: 1, 2, 3 | s w: x, 7, y"),
    # dates and times
    Case("ISO dates", "t,v\n2026-04-03,1\n2026-04-13,2\n", _DATES),
    Case("ISO with slashes", "t,v\n2026/4/3,1\n2026/04/13,2\n", _DATES),
    Case("days first", "t,v\n03/04/2026,1\n13/04/2026,2\n", _DATES),
    Case("months first", "t,v\n04/03/2026,1\n04/13/2026,2\n", _DATES),
    Case("either first", "t,v\n03/04/2026,1\n05/06/2026,2\n", _BOTH, "may be 3 April or 4 March"),
    Case("held order", "t,v\n04/03/2026,1\n06/05/2026,2\n", _BOTH, "", {"order": "month"}),
    Case("points mean days first", "t;v\n03.04.2026;1\n05.06.2026;2\n", _BOTH),
    Case("two-digit years", "t,v\n3.4.26,1\n13.4.26,2\n", _DATES),
    Case("named months", "t,v\n3 Apr 2026,1\n13-April-26,2\n", _DATES),
    Case("month before day", 't,v\n"April 3, 2026",1\n"Apr 13th, 2026",2\n', _DATES),
    Case("weekdays", 't,v\n"Fri, 3 Apr 2026",1\nMonday 13 April 2026,2\n', _DATES),
    Case("months alone", "t,v\n2026-04,1\nMay 2026,2\n", "t t: 2026-04, 2026-05 | v n: 1, 2"),
    Case("midnight stays", "t,v\n2026-04-03 00:00,1\n2026-04-03 06:30,2\n",
         "t t: 2026-04-03 00:00, 2026-04-03 06:30 | v n: 1, 2"),
    Case("seconds and parts", "t,v\n2026-04-03T00:00:01.25,1\n2026-04-03T00:00:02,2\n",
         "t t: 2026-04-03 00:00:01.25, 2026-04-03 00:00:02 | v n: 1, 2"),
    Case("halves of the day", "t,v\n4/13/2026 12:05 AM,1\n4/13/2026 3:05 pm,2\n",
         "t t: 2026-04-13 00:05, 2026-04-13 15:05 | v n: 1, 2"),
    Case("one offset", "t,v\n2026-04-03T10:00+02:00,1\n2026-04-03T11:00+02:00,2\n",
         "t t: 2026-04-03 10:00, 2026-04-03 11:00 | v n: 1, 2", "universal time + 2:00"),
    Case("several offsets", "t,v\n2026-03-29T01:30+01:00,1\n2026-03-29T03:30+02:00,2\n",
         "t t: 2026-03-29 00:30, 2026-03-29 01:30 | v n: 1, 2", "several offsets"),
    Case("clock", "t,v\n14:30,1\n15:00:05,2\n", "t t: 14:30, 15:00:05 | v n: 1, 2"),
    Case("leap day", "t,v\n29/02/2024,1\n01/03/2024,2\n",
         "t t: 2024-02-29, 2024-03-01 | v n: 1, 2"),
    Case("no such day", "t,v\n2026-02-30,1\n2026-03-01,2\n2026-03-02,3\n",
         "t t: 2026-02-30, 2026-03-01, 2026-03-02 | v n: 1, 2, 3", "not dates"),
    Case("years are numbers", "year,v\n2025,1\n2026,2\n", "year n: 2025, 2026 | v n: 1, 2"),
]  # fmt: skip

_APRIL = dt.datetime(2026, 4, 3)  # noqa: DTZ001
_DAYS = [dt.datetime(year, 1, 1) for year in (1600, 2400, 1970)]  # noqa: DTZ001
_KINDS = {"n": "number", "t": "time", "w": "text"}


def described(table: Table) -> str:
    """The columns of a table in the words of a case."""
    letters = {kind: letter for letter, kind in _KINDS.items()}
    return " | ".join(
        f"{c.name}{f' [{c.unit}]' if c.unit else ''} {letters[c.kind]}: {', '.join(c.cells())}"
        for c in table.columns
    )


class Awkward(SornixTest):
    def test_small_inputs(self) -> None:
        self.assertGreater(len(CASES), 60)
        for case in CASES:
            with self.subTest(case.name):
                raw = case.text if isinstance(case.text, bytes) else case.text.encode()
                table = read_text(raw, "t", held=case.held)
                self.assertEqual(described(table), case.columns)
                self.assertIn(case.said, " ".join(table.remarks))
                assert table.read_as is not None
                if not case.said:
                    self.assertEqual({**table.read_as.doubts}, {})
                for name, value in case.held.items():
                    self.assertEqual(getattr(table.read_as.dialect, name), value)

    def test_long_texts_are_read_as_short_ones(self) -> None:
        """The same rows, so many that another parser takes them."""
        names = (
            "semicolons, decimal comma, thousands by points, usual marks, days first, "
            "months first, either first, several offsets, units in cells, remarks, short rows, "
            "short rows of times, "
            "midnight stays, named months, line end in quotes"
        )
        for name in names.split(", "):
            case = next(case for case in CASES if case.name == name)
            assert isinstance(case.text, str)
            head, _, rows = case.text.partition("\n")
            if name == "remarks":
                head, rows = "a,b", "1,2\n# pause\n3,4\n"
            times = SHORT_BYTES // len(rows) + 2
            with self.subTest(name):
                short = read_text(f"{head}\n{rows}".encode(), "t")
                long = read_text(f"{head}\n{rows * times}".encode(), "t")
                for a, b in zip(short.columns, long.columns, strict=True):
                    self.assertEqual((a.name, a.unit, a.kind), (b.name, b.unit, b.kind))
                    self.assertEqual(a.cells(), [b.cell(row) for row in range(len(a))])
                    last = range(len(b) - len(a), len(b))
                    self.assertEqual(a.cells(), [b.cell(row) for row in last])
                self.assertEqual(short.remarks[-1:] == (), long.remarks[-1:] == ())

    @given(
        st.lists(
            st.tuples(
                st.none() | st.floats(-1e9, 1e9).map(lambda v: round(v, 4)),
                st.none() | st.datetimes(_DAYS[0], _DAYS[1]),
                st.text(st.sampled_from("abcXYZ é°µ"), min_size=1, max_size=8),
            ),
            min_size=4,
            max_size=20,
        ).filter(lambda rows: sum(r[0] is not None for r in rows) > 2 and any(r[1] for r in rows)),
        st.sampled_from([",", ";", "\t", "|"]),
        st.sampled_from([".", ","]),
        st.sampled_from(["%Y-%m-%dT%H:%M:%S", "%d.%m.%Y %H:%M:%S", "%d %b %Y %H:%M:%S"]),
        st.sampled_from(["utf-8", "utf-8-sig", "utf-16", "cp1252"]),
    )
    def test_any_table_reads_back_from_any_dialect(
        self, rows: list[tuple[float | None, dt.datetime | None, str]], separator: str,
        decimal: str, form: str, encoding: str,
    ) -> None:  # fmt: skip
        def number(value: float | None) -> str:
            text = "" if value is None else repr(value).replace(".", decimal)
            return f'"{text}"' if separator == decimal else text

        lines = ["value (µg/L)", "taken at", "word"]
        text = separator.join(lines) + "\n"
        moments = [None if m is None else m.replace(microsecond=0) for _, m, _ in rows]
        for (value, _, word), moment in zip(rows, moments, strict=True):
            when = "NA" if moment is None else moment.strftime(form)
            text += separator.join((number(value), when, f'"x{word}"')) + "\n"
        table = read_text(text.encode(encoding), "t", held={"missing": ()})
        numbers, taken, words = table.columns
        self.assertEqual((numbers.unit, numbers.kind, taken.kind), ("µg/L", "number", "time"))
        np.testing.assert_array_equal(
            numbers.numbers, [np.nan if r[0] is None else r[0] for r in rows]
        )
        wanted = [np.nan if m is None else (m - _DAYS[2]).total_seconds() for m in moments]
        np.testing.assert_array_equal(taken.numbers, wanted)
        self.assertEqual(words.cells(), [f"x{r[2]}".strip() for r in rows])

    def test_long_tables_are_written_as_short_ones(self) -> None:
        rows = 30_000
        raw = "".join(
            f"2026-04-{1 + i % 28:02} 06:{i % 60:02},{i / 7!r},w {i % 3},\n" for i in range(rows)
        )
        long = read_text(f"t,v (m),s,e\n{raw}".encode(), "t")
        for units in (False, True):
            text = write_text(long, units=units)
            self.assertEqual(text.count(b"\r\n"), rows + 1)
            again = read_text(text, "t")
            self.assertEqual([c.cells() for c in again.columns], [c.cells() for c in long.columns])
            self.assertEqual(again.columns[1].unit, "m" if units else "")
        # line ends and halves of letters in a cell, however long the table
        words = text_column("s", ["a", "b\nc", "d\re", *["f"] * rows])
        halves = text_column("h", ["\ud800", *["g"] * (rows + 2)])
        numbers = number_column("n", np.arange(rows + 3.0))
        text = write_text(Table("t", (words, halves, numbers)))
        self.assertEqual(read_text(text, "t").columns[0].cells()[:3], ["a", "b\nc", "d\re"])
        self.assertTrue(text.splitlines()[1].startswith(b"a,?"))

    def test_every_demo_file_opens_right_at_once(self) -> None:
        texts = 0
        for name, content in demo_files():
            with self.subTest(name):
                for table in read_file(self.write(name, content)):
                    texts += sum(len(column.texts) for column in table.columns)
                    self.assertFalse(any(c.name.startswith("Column ") for c in table.columns))
        self.assertEqual(texts, 3, "only the three cells with snails in them are text")
        books = [read_file(self.folder / f"lake-survey{e}") for e in (".xlsx", ".ods")]
        for one, other in zip(*books, strict=True):
            self.assertEqual(one.columns, other.columns)
        self.assertEqual([t.name for t in books[0]], ["Stations", "Chemistry", "Sediment cores"])
        self.assertEqual(described(books[0][0])[:40], "Station w: S1, S2, S3, S4, S5, S6, S7, S")
        visited = books[0][0].column("Visited")
        self.assertEqual((visited.kind, visited.cell(0)), ("time", "2026-06-01"))
        self.assertEqual([c.unit for c in books[0][2].columns], ["", "cm", "g", "%"])
        self.assertEqual(read_file(self.folder / "lake-survey.ods", "Chemistry")[0].row_count, 36)

    def test_percent_is_read_as_a_workbook_shows_it(self) -> None:
        given = dict(demo_files())
        changes = {
            "xl/styles.xml": ("</cellXfs>", '<xf numFmtId="10"/></cellXfs>'),
            "xl/worksheets/sheet3.xml": ("<c><v>([^<]*)(</v></c></row>)", r'<c s="2"><v>\1\2'),
            "content.xml": ("float((?:[^>]*>){4}</table:table-row>)", r"percentage\1"),
        }
        last = f"(<row r=.32.>)<c.*?</c>{3 * '<c>(.*?)</c>'}"
        told = r'\1<c r="A32" s="2"/><c r="B32">\2</c><c r="C32">\3</c><c r="D32" s="2">\4</c>'
        for end in (".xlsx", ".ods"):
            written = self.write(f"b{end}", given[f"lake-survey{end}"])
            (cores,) = read_file(written, "Sediment cores")
            path = self.folder / f"changed{end}"
            with zipfile.ZipFile(written) as old, zipfile.ZipFile(path, "w") as new:
                for name in old.namelist():
                    # an empty cell is no share, and neither is the number behind it
                    part = re.sub(last, told, old.read(name).decode())
                    new.writestr(name, re.sub(*changes.get(name, ("$^", "")), part))
            (shown,) = read_file(path, "Sediment cores")
            want = [float(f"{cell}e2") for cell in cores.columns[-1].cells()]
            self.assertEqual(shown.columns[-1].numbers.tolist(), want)
            self.assertEqual(shown.columns[1], cores.columns[1])
            self.assertIn("as percent", shown.notes[-1])
        # beside numbers that are none, nobody knows: they stay as they are stored
        for head, cells, column in (
            ("Rate", [Share(0.07), ""], "Rate [%] n: 7, "),
            ("Rate %", [Share(0.07), 98.0], "Rate [%] n: 7, 98"),
            ("Rate", [Share(0.07), 0.5], "Rate n: 0.07, 0.5"),
        ):
            rows = [["t", head], *zip((0, 1), cells, strict=True)]
            self.assertEqual(described(table_of_rows(rows, "t")), f"t n: 0, 1 | {column}")

    def test_other_kinds_of_source(self) -> None:
        times = pa.array([_APRIL.replace(hour=6), None, _APRIL.replace(day=4)])
        columns = {
            "t": times,
            "T (°C)": [1.5, None, 2.5],
            "n": pa.array([1, 2, 3], pa.int16()),
            "s": ["a", None, "c"],
        }
        parquet.write_table(pa.table(columns), self.folder / "p.parquet")
        records = [
            {"z (m)": 1, "s": "a"},
            {"z (m)": 2.5, "tags": ["x", "y"]},
            {"z (m)": None, "s": "c"},
        ]
        sheet: list[list[object]] = [
            ["Survey"],
            [],
            ["z", "on"],
            ["m", ""],
            [1.0, dt.date(2026, 4, 3)],
            [2.0, dt.date(2026, 4, 4)],
        ]
        cells = "<tr><th>a</th><th>b</th></tr><tr><td>1<td>2</tr><tr><td>3</td><td>4</td></tr>"
        html = f"<p>x</p><table>{cells.replace('<td>2</tr>', '</td><td>2</td></tr>')}</table>"
        arrow = "t t: 2026-04-03 06:00, , 2026-04-04 00:00 | T [°C] n: 1.5, , 2.5 | n n: 1, 2, 3"
        arrow += " | s w: a, , c"
        wanted = "z [m] n: 1, 2.5,  | s w: a, , c | tags w: , x, y, "
        for found, columns_said in (
            (read_file(self.folder / "p.parquet")[0],
             arrow),
            (read_file(self.write("r.json", json.dumps(records)))[0], wanted),
            (read_file(self.write("o.json", json.dumps({"data": records, "by": "Q"})))[0], wanted),
            (read_file(self.write("c.json", '{"a": [1, 3], "b": [2, 4]}'))[0], _AB),
            (table_of_rows(sheet, "t"), "z [m] n: 1, 2 | on t: 2026-04-03, 2026-04-04"),
            (read_pasted("1 2", html), _AB),
            (read_pasted("a\tb\n1\t2\n3\t4"), _AB),
            (read_file(self.write("wrong.csv", (self.folder / "p.parquet").read_bytes()))[0],
             arrow),
        ):  # fmt: skip
            self.assertEqual(described(found), columns_said)
        self.assertEqual(html_rows("<b>no table</b>"), [])


def _zipped(name: str, content: bytes) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        archive.writestr(name, content)
    return stream.getvalue()


class Hostile(SornixTest):
    def test_broken_and_malicious_files_end_in_a_message(self) -> None:
        parquet.write_table(pa.table({"a": list(range(9999))}), self.folder / "p.parquet")
        whole = (self.folder / "p.parquet").read_bytes()
        bomb = _zipped("xl/worksheets/sheet1.xml", b"\0" * (600 << 20))
        lying = bytearray(bomb)
        # the central directory says that the part is small
        at = bytes(lying).rindex(b"PK\x01\x02") + 24
        lying[at : at + 4] = (1000).to_bytes(4, "little")
        for name, content, said in (
            ("bomb.xlsx", bomb, "unpacks to more than"),
            ("lying.xlsx", bytes(lying), "unpacks to more than"),
            ("cut.xlsx", dict(demo_files())["lake-survey.xlsx"][:900], "damaged"),
            ("text.xlsx", b"a,b\n1,2\n\1", "no Workbook file in spite of its name"),
            ("old.xls", b"\xd0\xcf\x11\xe0" + bytes(range(256)) * 40, "cannot be read"),
            ("deep.json", b"[" * 200_000, "nested too deeply"),
            ("other.json", b'{"a": {"b": 1}}', "no list of records"),
            ("cut.json", b'[{"a": 1}, {"a"', "cannot be read"),
            ("line.csv", b"1,2;3 " * 2_000_000, "longer than a million letters"),
            ("quote.csv", b'a,b\n1,"2\n' + b"3,4\n" * 9, "line 2: A quotation mark"),
            ("nul.csv", b"a,b\n1,2\0\n", "no readable text"),
            ("late.csv", b"a,b\n" + b"1,2\n" * 40_000 + b"\0\n", "no readable text"),
            ("cut.parquet", whole[: len(whole) // 2], "damaged"),
            ("wide.csv", b",".join([b"columns"] * 30_000) + b"\n1\n2\n", "30\u2009000 columns"),
        ):  # fmt: skip
            with self.subTest(name):
                path = self.write(name, content)
                tracemalloc.start()
                with self.assertRaises(ReadingsError) as caught:
                    read_file(path)
                peak = tracemalloc.get_traced_memory()[1]
                tracemalloc.stop()
                self.assertIn(said, str(caught.exception))
                self.assertLess(peak, 150 << 20)

    def test_five_thousand_columns(self) -> None:
        header = ",".join(f"c{i}" for i in range(5000))
        row = ",".join(["1.5"] * 5000)
        table = read_text(f"{header}\n{row}\n{row}\n".encode(), "wide")
        self.assertEqual((len(table.columns), table.row_count), (5000, 2))
