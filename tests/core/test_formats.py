"""Files of the formats that instruments and other programs write."""

import bz2
import gzip
import io
import itertools
import json
import sqlite3
import sys
import tempfile
import zipfile
from pathlib import Path
from unittest.mock import patch

import numpy as np
import pyarrow as pa
from hypothesis import given, settings
from hypothesis import strategies as st

from sornix.core.document import Document, load_document, save_document
from sornix.core.errors import ReadingsError
from sornix.core.figure import new_figure
from sornix.core.readings import Table, number_column, time_column
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.formats.arrays import Variable, tables_of
from sornix.core.readings.formats.sources import read_file, read_pasted
from sornix.core.readings.tables.dialect import doubts_of
from tests.base import SornixTest
from tests.core.formats import good_files, spectrum
from tests.core.small_files import described, told

_OF_SHEETS = "urn:schemas-of-a-maker:office:spreadsheet"
_DIGITS = ("@ABCDEFGHI", "@abcdefghi", "%JKLMNOPQR", "%jklmnopqr")


def _squeezed(value: int, *, difference: bool = False) -> str:
    """A whole number whose first digit is a letter, by the table of the standard."""
    digits = str(abs(value))
    return _DIGITS[2 * difference + (value < 0)][int(digits[0])] + digits[1:]


def _written(values: list[int], form: str) -> str:
    """Ordinates in a form of the standard, five a line."""
    lines = []
    # a line of differences begins with what the one before ended with
    starts = range(0, len(values), 5) if form in ("AFFN", "PAC", "SQZ") else \
        range(0, max(len(values) - 1, 1), 4)  # fmt: skip
    for begin in starts:
        part = values[begin : begin + 5]
        steps = [later - one for one, later in itertools.pairwise(part)]
        if form in ("AFFN", "PAC"):
            text = (" " if form == "AFFN" else "").join(f"{v:+d}" for v in part)
        elif form == "SQZ":
            text = "".join(map(_squeezed, part))
        else:
            text = _squeezed(part[0])
            at = 0
            while at < len(steps):
                count = 1
                while form == "DUP" and at + count < len(steps) and steps[at + count] == steps[at]:
                    count += 1
                text += _squeezed(steps[at], difference=True) + (
                    "STUVWXYZs"[count - 1] * (count > 1)
                )
                at += count
        lines.append(f"{400 + begin}{' ' if form == 'AFFN' else ''}{text}")
    return "\r\n".join(lines)


class Formats(SornixTest):
    def read(self, name: str, content: bytes, sheet: str | None = None) -> tuple[Table, ...]:
        folder = self.enterContext(tempfile.TemporaryDirectory())
        path = Path(folder, name)
        path.write_bytes(content)
        return read_file(path, sheet)

    def good(self, name: str, sheet: str | None = None) -> tuple[Table, ...]:
        return self.read(name, good_files()[name], sheet)

    def assert_table(self, table: Table, **columns: object) -> None:
        """Titles with units and cells; a keyword has _ for a blank."""
        found = {column.title: ", ".join(column.cells()) for column in table.columns}
        self.assertEqual(found, columns)

    def test_variables_along_dimensions(self) -> None:
        along, heat = self.good("buoy.nc")
        self.assert_table(along, **{
            "Taken": "2026-06-01 04:00, 2026-06-01 07:00, 2026-06-01 10:00, 2026-06-01 13:00",
            "oxygen / mg/L": "8.1, , 7.25, 0.001", "station": "S1, S2, S1, ",
        })  # fmt: skip
        self.assert_table(heat, **{
            "Taken": ", ".join(along.column("Taken").cells()),
            "Temperature at 0.1 m / °C": "10.1, , 13.1, 5",
            "Temperature at 2.5 m / °C": "14.3, 13.2, , 5.1",
        })  # fmt: skip
        said = " ".join((*along.notes, *heat.notes))
        for words in ("2 tables: buoy by time, temp", "dimensions than a table has: “cube”",
                      "single values: “grid”", "outside their valid range"):  # fmt: skip
            self.assertIn(words, said)

    def test_groups_records_and_what_is_guessed_from_lengths(self) -> None:
        tables = {table.name: table for table in self.good("runs.h5")}
        self.assertEqual(set(tables), {"peaks", "run 1", "run 2", "runs", "axis", "absorbance"})
        self.assert_table(tables["run 2"], **{"time / s": "0, 0.5, 1", "current / mA": "6, 2, 4"})
        self.assertIn("more than 15 digits", " ".join(tables["peaks"].notes))
        self.assert_table(
            tables["runs"], **{"impedance real": "1, 3", "impedance imaginary": "2, -1"}
        )
        x, y = np.arange(3.0), np.arange(6.0).reshape(2, 3)
        given = [Variable("/nm", ("",), x), Variable("/a", ("", ""), y)]
        (held,) = tables_of(given, Path("f.h5"), held={"lying": False})
        self.assertEqual(held.column_names, ("a at 0", "a at 1", "a at 2"))
        self.assertIn("“nm” was taken to say where", held.notes[0])
        # a spectrum for each row stands along its places, and two long rows are two columns
        (made,) = tables_of(given, Path("f.h5"))
        self.assert_table(made, **{"nm": "0, 1, 2", "a 1": "0, 1, 2", "a 2": "3, 4, 5"})
        (long,) = tables_of([Variable("/a", ("", ""), np.ones((2, 4)))], Path("f.h5"))
        self.assertEqual(long.column_names, ("a 1", "a 2"))
        self.assertEqual([doubt.word for doubt in doubts_of(long.read_as)], ["lying"])
        # what goes up and down says no places
        wild = [Variable("/nm", ("",), x[[1, 0, 2]]), Variable("/a", ("", ""), y)]
        self.assertEqual([t.name for t in tables_of(wild, Path("f.h5"))], ["f", "a"])

    def test_moments_since(self) -> None:
        # cftime 1.6 has these
        for units, calendar, number, moment in (
            ("days since 0001-01-01", "standard", 730000, "1999-09-02"),
            ("days since 0001-01-01", "proleptic_gregorian", 730000, "1999-09-04"),
            ("hours since 1990-01-01 00:00:0.0", "gregorian", -0.5, "1989-12-31 23:30"),
            ("hours since 2026-05-01 06:00:00 +02:00", "", 3, "2026-05-01 07:00"),
            ("milliseconds since 2026-05-01T00:00:00Z", "", 250.5, "2026-05-01 00:00:00.2505"),
        ):
            one = Variable("/t", ("",), np.array([number]), {"units": units, "calendar": calendar})
            self.assertEqual(tables_of([one], Path("t.nc"))[0].columns[0].cells(), [moment])
        for units, calendar in (("days since 1990-01-01", "noleap"), ("hours since noon", "")):
            one = Variable("/t", ("",), np.array([7.0]), {"units": units, "calendar": calendar})
            (table,) = tables_of([one], Path("t.nc"))
            self.assertEqual(table.columns[0].cells(), ["7"])
            self.assertIn("was not understood", table.notes[0])

    def test_classic_files_and_plain_arrays(self) -> None:
        (tide,) = self.good("tide.nc")
        self.assert_table(tide, **{
            "time": "1999-09-02 00:00, 1999-09-02 12:00, 1999-09-03 00:00",
            "level / m": "1.1, , 3.3", "site": "S1, S2, S",
        })  # fmt: skip
        self.assert_table(self.good("one.npy")[0], **{"Value 1": "1, 2", "Value 2": "2.5, 3.5"})
        first, second = self.good("some.npz")
        self.assert_table(first, depth="0, 1, 2", taken="2026-06-01, 2026-06-02, 2026-06-03")
        self.assert_table(second, other="5, 3")
        with self.assertRaisesRegex(ReadingsError, "Objects of a programming language"):
            self.good("objects.npy")
        with self.assertRaisesRegex(ReadingsError, "64-bit data"):
            self.read("x.nc", b"CDF\x05" + bytes(60))

    def test_columns_of_every_type(self) -> None:
        for name in ("columns.feather", "columns.parquet", "columns.arrows"):
            (table,) = self.good(name)
            self.assert_table(table, **{
                "clock": "08:30, 09:00:05", "lasting / s": "5, 108000", "mass / g": "1.23, ",
                "serial": "1.152921504606847e+18, 5", "narrow": "0.1, 1e-20",
                "spectrum": "1, 2, 3", "taken": "2026-06-01 08:00, ",
            })  # fmt: skip
            said = " ".join(table.notes)
            for words in ("“lasting” are in seconds", "“serial” have more than 15 digits",
                          "“spectrum” hold several", "“taken” are in universal"):  # fmt: skip
                self.assertIn(words, said)

    def test_databases(self) -> None:
        readings, warm = self.good("laboratory.db")
        self.assert_table(readings, **{
            "id": "1, 2, 3", "temp / °C": "12.5, , 13.1",
            "taken": "2026-06-01 08:00, 2026-06-01 09:00, 2026-06-01 10:00",
        })  # fmt: skip
        self.assert_table(warm, **{"taken": "2026-06-01 10:00", "temp / °C": "13.1"})
        self.assertIn("Bytes in “scan”", " ".join(readings.notes))
        self.assertEqual(self.good("laboratory.db", "warm")[0].name, "warm")
        with self.assertRaisesRegex(ReadingsError, "The tables are “readings”, “sites”, “warm”"):
            self.good("laboratory.db", "cold")
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "laboratory.db")
            path.write_bytes(good_files()[path.name])
            Path(folder, "laboratory.db-wal").write_bytes(b"x")
            self.assertIn("not yet written", " ".join(read_file(path)[0].notes))
            self.assertEqual(len(list(Path(folder).iterdir())), 2)
            for count, said in ((1, "table “t0”"), (2, "None of the 2 tables of this database")):
                words = Path(folder, f"{count}.db")
                base = sqlite3.connect(words)
                for number in range(count):
                    base.execute(f"create table t{number}(name text)")
                    base.execute(f"insert into t{number} values ('north')")
                base.commit()
                base.close()
                with self.assertRaisesRegex(ReadingsError, said):
                    read_file(words)

    @settings(max_examples=60)
    @given(st.lists(st.integers(-99_999, 99_999) | st.integers(-2, 2), min_size=2, max_size=40),
           st.sampled_from(["AFFN", "PAC", "SQZ", "DIF", "DUP"]))  # fmt: skip
    def test_spectra_in_every_form(self, values: list[int], form: str) -> None:
        last = 399 + len(values)
        text = spectrum(_written(values, form), LASTX=last, NPOINTS=len(values), YFACTOR=0.5)
        (table,) = self.read("x.dx", text)
        self.assertEqual(table.columns[0].numbers.tolist(), list(range(400, last + 1)))
        self.assertEqual(table.columns[1].numbers.tolist(), [v / 2 for v in values])
        self.assertEqual(table.notes, ())

    def test_spectra_with_doubts(self) -> None:
        (humic,) = self.read("x.txt", spectrum("400A000J000JU%T", NPOINTS=8, LASTX=407))
        self.assert_table(humic, **{
            "Wavenumber / cm⁻¹": "400, 401, 402, 403, 404, 405, 406",
            "Absorbance": "1, 2, 2.001, 2.002, 2.003, 2.003, 2.003",
        })  # fmt: skip
        self.assertIn("8 readings, and holds 7", humic.notes[0])
        for body, words in (
            ("400A000J\n401A005K", "does not begin with what the line before"),
            ("400 1 2 3\n409 4 5 6 7", "another x than the labels give; the first at 409"),
        ):
            (table,) = self.read("x.dx", spectrum(body, NPOINTS=2 if "J" in body else 7,
                                                  LASTX=401 if "J" in body else 406))  # fmt: skip
            self.assertIn(words, " ".join(table.notes))
        (table,) = self.read("x.dx", spectrum("400 1000 2000 ? 4 5 6 7", FIRSTY=5))
        self.assertEqual(table.columns[1].missing, 1)
        self.assertIn("FIRSTY says 5", table.notes[0])
        for body in ("400A000^7", "400J", "400S"):
            with self.assertRaisesRegex(ReadingsError, "line 1 under the label"):
                self.read("x.dx", spectrum(body))

    def test_blocks_peaks_and_pages(self) -> None:
        text = """##TITLE= two
##DATA TYPE= LINK
##BLOCKS= 2
##TITLE= fragments
##XUNITS= M/Z
##YUNITS= RELATIVE ABUNDANCE
##PEAK TABLE= (XY..XY)
39,12 40,3; 41,100
##END=
##TITLE= shifts
##XUNITS= PPM
##PEAK ASSIGNMENTS= (XYMA)
(7.26, 10, S, <CH>)
(1.20, 30, T, <CH3, end>)
##END=
##TITLE= decay
##NTUPLES= NMR FID
##VAR_NAME= TIME, REAL, IMAGINARY
##SYMBOL= X, R, I
##VAR_DIM= 4, 4, 4
##UNITS= SECONDS, ARBITRARY UNITS, ARBITRARY UNITS
##FIRST= 0, 10, 5
##LAST= 0.3, 8, 7
##FACTOR= 0.1, 1, 2
##PAGE= N=1
##DATA TABLE= (X++(R..R)), XYDATA
0A0j1J2
2A1G
##PAGE= N=2
##DATA TABLE= (X++(I..I)), XYDATA
0 5+6+7-8
##END NTUPLES= NMR FID
##END=
##TITLE= empty
##END=
##END=
"""
        peaks, shifts, decay = self.read("x.dx", text.encode())
        self.assert_table(peaks, **{"m/z": "39, 40, 41", "Relative abundance": "12, 3, 100"})
        self.assert_table(shifts, **{
            "Chemical shift / ppm": "7.26, 1.2", "y": "10, 30", "Multiplicity": "S, T",
            "Assignment": "CH, CH3, end",
        })  # fmt: skip
        self.assert_table(decay, **{
            "TIME / s": "0, 0.1, 0.2, 0.3", "REAL / arb. units": "10, -1, 11, 7",
            "IMAGINARY / arb. units": "10, 12, 14, -16",
        })  # fmt: skip
        self.assertIn("1 block without readings: “empty”.", decay.notes)

    def test_records_within_records(self) -> None:
        one, other = ({"id": "00012", "place": [1.5, 2]}, {"id": "00013", "place": [2.5, 3]})
        deep = {"by": ["x", "y"], "result": {
            "series": [{"t": "2026-05-01T00:00:00Z", "at": one, "v": 1},
                       {"t": "2026-05-01T01:00:00Z", "at": other, "v": 2}],
            "events": {"s1": {"mean": 1, "of": 3}, "s2": {"mean": 2, "of": 4}},
        }}  # fmt: skip
        series, events = self.read("deep.json", json.dumps(deep).encode())
        self.assert_table(series, **{
            "t": "2026-05-01 00:00:00, 2026-05-01 01:00:00", "at.id": "00012, 00013",
            "at.place 1": "1.5, 2.5", "at.place 2": "2, 3", "v": "1, 2",
        })  # fmt: skip
        self.assert_table(events, Record="s1, s2", mean="1, 2", of="3, 4")
        said = " ".join(series.notes)
        for words in ("2 tables: result.series, result.events", "a column for each entry",
                      "at universal time"):  # fmt: skip
            self.assertIn(words, said)
        curve = {"name": "t", "unit": "s", "v": [1, 2, 3, 5]}
        for text, columns in (
            ('[["t", "v"], [1, 2], [2, 3]]', {"t": "1, 2", "v": "2, 3"}),
            ("[1.5, 2]", {"Value": "1.5, 2"}),
            # rounded, these would be the same
            ('[{"n": 12345678901234567890, "v": 1}, {"n": 12345678901234567891, "v": 2}]',
             {"n": "12345678901234567890, 12345678901234567891", "v": "1, 2"}),
            # by the numbers of rows, and with names or moments beside the rows
            ('{"t": {"0": 1, "1": 2}, "v": {"0": 2, "1": 3}}', {"t": "1, 2", "v": "2, 3"}),
            ('{"v": {"7": 2, "9": 3}}', {"Record": "7, 9", "v": "2, 3"}),
            ('{"columns": ["t", "v"], "index": [0, 1], "data": [[1, 2], [2, 3]]}',
             {"t": "1, 2", "v": "2, 3"}),
            ('{"index": [7, 9], "columns": ["t", "v"], "data": [[1, 2], [2, 3]]}',
             {"index": "7, 9", "t": "1, 2", "v": "2, 3"}),
            # a series in each record
            ('[{"of": "A", "x": [1, 2, 3, 5], "y": [2, 3, 4, 6]}, {"of": "B", "x": [1], "y": [5]}]',
             {"of": "A, A, A, A, B", "x": "1, 2, 3, 5, 1", "y": "2, 3, 4, 6, 5"}),
            # records in each record, and pairs of numbers
            (json.dumps([{"of": "A", "in": [{"t": i, "v": {"x": i + 1}} for i in range(2)]},
                         {"of": "B", "in": [{"t": 0, "v": {"x": 3}}]}]),
             {"of": "A, A, B", "t": "0, 1, 0", "v.x": "1, 2, 3"}),
            ('{"all": [{"of": "A", "in": [[0, 1], [1, 2]]}, {"of": "B", "in": [[0, 5]]}]}',
             {"of": "A, A, B", "x": "0, 1, 0", "y": "1, 2, 5"}),
            ('[{"v": {"value": 7.1, "unit": "°C"}}, {"v": {"value": 7.5, "unit": "°C"}}]',
             {"v.value / °C": "7.1, 7.5", "v.unit": "°C, °C"}),
            (json.dumps([curve, {"name": "v", "v": [2, 4, 6]}]),
             {"t / s": "1, 2, 3, 5", "v": "2, 4, 6, "}),
            (json.dumps([curve, {**curve, "name": ""}]),
             {"name": "t, ", "unit": "s, s", **{f"v {i + 1}": f"{n}, {n}" for i, n in
                                               enumerate(curve["v"])}}),
        ):  # fmt: skip
            self.assert_table(self.read("r.json", text.encode())[0], **columns)
        beside = b'{"names": ["t", "v"], "rows": [[1, 2]], "more": [{"x": 1}, {"x": 2}]}'
        self.assertEqual([t.row_count for t in self.read("r.json", beside)], [1, 2])
        hourly = {"time": ["2026-03-01T00:00", "2026-03-01T01:00"], "t": [1, 2], "rain": [0, 3]}
        units = {"time": "iso8601", "t": "°C", "rain": "mm", "wind": "m/s"}
        (told,) = self.read(
            "h.json", json.dumps({"hourly_units": units, "hourly": hourly}).encode()
        )
        self.assertEqual([column.unit for column in told.columns], ["", "°C", "mm"])
        self.assertIn("The units of “t”, “rain” are told beside the readings.", told.notes)
        ragged = self.read("r.json", b'[{"x": 1, "l": [1]}, {"x": 2, "l": [1, 2]}]')[0]
        self.assertIn("Lists in “l” are kept as text.", ragged.notes)

    def test_packages_of_others_and_of_ours(self) -> None:
        wells, inline = self.good("lake.zip")
        self.assert_table(wells, **{"well": "00042, 00043", "taken": "2026-03-04, 2026-12-04",
                                    "depth / m": "1.5, ", "kept": "1, 0"})  # fmt: skip
        self.assert_table(inline, x="1, 2", y="2, 4")
        said = " ".join(wells.notes)
        self.assertIn("“../secret.csv” is not within the package", said)
        self.assertIn("on the network, and is not fetched", said)
        forms = {"month": (0, 31 * 86_400), "day": (0, 86_400), "minute": (60, 86_460),
                 "second": (1, 60), "fraction": (0.5, 60), "clock": (60, 3600)}  # fmt: skip
        mixed = {"mixed": ("minute", (0, 1)), "days of months": ("month", (0, 86_400))}
        given = [*((form, form, ends) for form, ends in forms.items()),
                 *((name, *told) for name, told in mixed.items())]  # fmt: skip
        columns = [number_column("n", [1, 2, 3])] + [
            time_column(name, np.array([*ends, np.nan], float), form) for name, form, ends in given
        ]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder, "ours.sornix")
            ours = Table("ours", tuple(columns))
            save_document(Document((ours,), new_figure(ours)), path, b"")
            with zipfile.ZipFile(path) as archive:
                (told,) = json.loads(archive.read("datapackage.json"))["resources"]
            self.assertEqual(load_document(path).tables[0].columns, tuple(columns))
            (again,) = read_file(path)
        # the types and formats that readers of data packages know (Table Schema, version 1)
        self.assertEqual(
            [(field["type"], field.get("format")) for field in told["schema"]["fields"]],
            [("number", None), ("yearmonth", "default"), ("date", "default"),
             ("datetime", "%Y-%m-%d %H:%M"), ("datetime", "%Y-%m-%d %H:%M:%S"), ("datetime", "any"),
             ("time", "any"), ("datetime", "any"), ("datetime", "any")],
        )  # fmt: skip
        for column, own in zip(again.columns, columns, strict=True):
            self.assertTrue(np.array_equal(column.numbers, own.numbers, equal_nan=True), own.name)

    def test_packages_that_are_not_what_they_say(self) -> None:
        self.write("d.csv", "b,a\n1,2\n3,4\n")
        both = [{"name": "a", "type": "number"}, {"name": "b", "type": "number", "unit": "m"}]
        for text, said in (
            ("{", "cannot be read"),
            ('{"resources": [1]}', "describes no tables"),
            ('{"resources": []}', "is empty"),
            ([{"path": "e.csv"}], "“e.csv” is not there"),
            ([{"path": "/d.csv"}], "not within the package"),
            ([{"path": "d.parquet", "format": "parquet"}], "“d.parquet” is not there"),
            ([{"path": "d.csv", "format": "parquet", "name": "d"}], "“d” is in the format parquet"),
            (
                [{"path": "d.csv", "schema": {"fields": both[:1]}}],
                "1 column, and the text",
            ),
            ([{"path": "d.csv", "schema": {"fields": [1, 2]}}], "is not what it should be"),
        ):
            told = text if isinstance(text, str) else json.dumps({"resources": text})
            with self.subTest(told), self.assertRaisesRegex(ReadingsError, said):
                read_file(self.write("datapackage.json", told))
        other = [{**both[0], "name": "x"}, {**both[1], "name": "y"}]
        for fields, columns, said in (
            (both, {"b / m": "1, 3", "a": "2, 4"}, "in another order"),
            (other, {"b": "1, 3", "a / m": "2, 4"}, "have other names"),
        ):
            one = {"path": "d.csv", "encoding": "none such", "schema": {"fields": fields}}
            path = self.write("datapackage.json", json.dumps({"resources": [one]}))
            (table,) = read_file(path)
            self.assert_table(table, **columns)
            self.assertIn(said, " ".join(table.notes))

    def test_each_inside_a_packed_file(self) -> None:
        zipped = io.BytesIO()
        with zipfile.ZipFile(zipped, "w") as archive:
            archive.writestr("lab/buoy.nc", good_files()["buoy.nc"])
            archive.writestr("lab/humic.jdx", good_files()["humic.jdx"])
        plain = self.good("buoy.nc")
        *both, humic = self.read("all.zip", zipped.getvalue())
        self.assertEqual([t.columns for t in both], [t.columns for t in plain])
        self.assertEqual(humic.name, "Humic water")
        zst = pa.compress(good_files()["laboratory.db"], "zstd", asbytes=True)
        for name, content in (
            ("laboratory.db.gz", gzip.compress(good_files()["laboratory.db"])),
            ("laboratory.db.bz2", bz2.compress(good_files()["laboratory.db"])),
            ("laboratory.db.zst", zst),
        ):
            self.assertEqual(len(self.read(name, content)), 2, name)
        with self.assertRaisesRegex(ReadingsError, "damaged"):
            self.read("laboratory.db.zst", zst[:90])
        bomb = pa.compress(bytes(1 << 29), "zstd", asbytes=True)
        with self.assertRaisesRegex(ReadingsError, "unpacks to more than"):
            self.read("bomb.csv.zst", bomb)

    def test_marked_text_and_plain_text_that_are_called_workbooks(self) -> None:
        page = """<!-- v2 --><html><head><meta charset=iso-8859-1><script>"<table>"</script></head>
            <table><tr><td><h2>Run 4</h2><table><caption>Zn</caption><tr><th rowspan=2>Konz.<br>mg/L
            <th colspan=2>Fläche (cm<sup>2</sup>)<th rowspan=2>Teil</tr><tr><td>A<td>B</tr>
            <tr><td rowspan=3>1&nbsp;234,5<td x:num="2.04171">2,04<td>1<td sdval="0.125">12,5 %</tr>
            <tr><td x:num="2.0551">2,06<td>2<td sdval="0.0513">5,1 %
            <tr><td x:num=46000.5>09.12.2025<td>3,5<td>n.b.</table>
            <h3>Drift</h3><table><tr><td>t<td>y<tr><td>1<td>2,5<tr><td>2<td>3</table></table>"""
        zn = (
            "Konz. [mg/L] n: 1234.5, 1234.5, 1234.5 | A, Fläche [cm²] n: 2.04171, 2.0551, "
            "09.12.2025 | B, Fläche [cm²] n: 1, 2, 3.5 | Teil [%] n: 12.5, 5.13, n.b."
        )
        drift = "t n: 1, 2 | y n: 2.5, 3"

        def row(*cells: str) -> str:
            return f"<Row>{''.join(cells)}</Row>"

        def cell(value: object, kind: str, about: str = "") -> str:
            return f"<Cell {about}><Data ss:Type='{kind}'>{value}</Data></Cell>"

        third, share = "ss:Index='3'", "ss:Index='3' ss:StyleID='p'"
        rows = row(cell("t", "String"), cell("y", "String", third)) + "".join(
            row(cell(f"2026-04-0{day}T06:30:00.000", "DateTime"), cell(day / 8, "Number", share))
            for day in (1, 2)
        )
        book = f"""<?xml version="1.0"?><Workbook xmlns="{_OF_SHEETS}"
            xmlns:ss="{_OF_SHEETS}"><Styles><Style ss:ID="p"><NumberFormat ss:Format="0.0%"/>
            </Style></Styles><Worksheet ss:Name="L"><Table>{rows}</Table></Worksheet></Workbook>"""
        log = "t t: 2026-04-01 06:30, 2026-04-02 06:30 | y [%] n: 12.5, 25"
        for name, content, columns in (
            ("page.xls", page.encode("latin-1"), f"{zn} || {drift}"),
            ("page.html", page.encode("utf-16"), f"{zn} || {drift}"),
            ("book.xls", book.encode(), log),
            ("log.txt", b'{"a": 1, "b": 2.5}\n{"a": 3, "b": 4}\n', "a n: 1, 3 | b n: 2.5, 4"),
            ("text.xls", b"a\tb\n1\t2,5\n3\t4\n", "a n: 1, 3 | b n: 2.5, 4"),
        ):  # fmt: skip
            tables = self.read(name, content)
            self.assertEqual(" || ".join(map(described, tables)), columns, name)
            self.assertEqual(
                read_again(tables[-1], whole_lines=True)[0].columns, tables[-1].columns
            )
        self.assertIn("a text in spite of the ending .xls", told(tables))
        pasted = read_pasted(page)
        self.assertEqual(described(pasted), zn)
        self.assertIn("There are 2 tables in what was pasted", told((pasted,)))
        for name, content, said in (
            ("none.html", b"<html><p>1 2</p></html>", "a web page without a table"),
            ("other.xml", b"<?xml version='1.0'?><a/>", "no workbook"),
            ("limits.csv", b"Lake,Pb\nA,<0.5\nB,0.7 J\n", "the numbers of “Pb” without what"),
            ("cut.xml", book.encode()[:-9], "damaged"),
        ):
            with self.subTest(name), self.assertRaisesRegex(ReadingsError, said):
                self.read(name, content)

    def test_what_is_damaged_or_not_installed(self) -> None:
        for name, content in good_files().items():
            if name != "objects.npy":
                with self.subTest(name), self.assertRaises(ReadingsError) as caught:
                    # the head is whole
                    self.read(name, content[:40])
                self.assertLess(len(str(caught.exception)), 200)
        # a ZIP of a later kind, and letters that the usual code does not have (found by fuzzing)
        packed = good_files()["some.npz"]
        at = packed.index(b"PK\x01\x02") + 6
        with self.assertRaises(ReadingsError):
            self.read("later.npz", packed[:at] + b"\xc8" + packed[at + 1 :])
        (odd,) = self.read("odd.dx", good_files()["humic.jdx"].replace(b"water", b"w\x81\xe1ter"))
        self.assertEqual(odd.row_count, 7)
        with self.assertRaisesRegex(ReadingsError, "no HDF5 or NetCDF file in spite of its name"):
            self.read("x.h5", b"a,b\n1,2\n")
        # the process that opens it finds the library gone
        gone = self.folder / "h5py.py"
        gone.write_text('raise ModuleNotFoundError("gone", name="h5py")')
        lacking = patch.object(sys, "path", [str(self.folder), *sys.path])
        with lacking, self.assertRaisesRegex(ReadingsError, "pip install h5py"):
            self.good("buoy.nc")
