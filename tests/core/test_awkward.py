"""Awkward inputs that are no small text, and texts of any dialect."""

import datetime as dt
import io
import json
import re
import tracemalloc
import zipfile

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st
from pyarrow import parquet

from sornix.core.errors import ReadingsError
from sornix.core.readings import Table, number_column, read_text, text_column, write_text
from sornix.core.readings.cells.shares import Share
from sornix.core.readings.files.dividing import SHORT_BYTES
from sornix.core.readings.files.rowwise import table_of_rows
from sornix.core.readings.formats.sources import html_rows, read_file, read_pasted
from sornix.demo import demo_files
from tests.base import SornixTest
from tests.core.small_files import described, small_files

_AB = "a n: 1, 3 | b n: 2, 4"
_APRIL = dt.datetime(2026, 4, 3)  # noqa: DTZ001
_DAYS = [dt.datetime(year, 1, 1) for year in (1600, 2400, 1970)]  # noqa: DTZ001


class Awkward(SornixTest):
    def test_long_texts_are_read_as_short_ones(self) -> None:
        """The same rows, so many that another parser takes them."""
        names = (
            "semicolons, decimal comma, thousands by points, usual marks, days first, "
            "months first, either first, several offsets, units in cells, remarks, short rows, "
            "short rows of times, "
            "midnight stays, named months, line end in quotes"
        )
        for name in names.split(", "):
            head, _, rows = small_files()[name].raw.decode().partition("\n")
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
