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
from typing import Any

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
from tests.core.small_files import described, told

_BASE = "x n: 1, 2, 3 | y n: 2.5, 3.5, 4.5"
_XY = "x,y\n1,2.5\n2,3.5\n3,4.5\n"


class Layouts(SornixTest):
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

    def test_cells_of_many_forms_leave_the_names_where_they_are(self) -> None:
        forms = ("Acetone,{} *", "Ethanol,{}", "Benzene,ND", "Toluene,<0.{}")
        rows = [forms[at % 4].format(10 + at) for at in range(400)]
        (table,) = read_texts("\n".join(["Compound,Conc", *rows]).encode(), "t")
        self.assertEqual((table.column_names, table.row_count), (("Compound", "Conc"), 400))

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
