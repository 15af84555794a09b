"""Delimited text into tables, and what is said where it cannot be."""

import csv
import io

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.errors import ReadingsError, UnknownColumn
from sornix.core.readings import (
    NUMBER,
    TEXT,
    Heading,
    Table,
    number_column,
    parse_heading,
    read_columns,
    read_text,
    symbols_for,
    text_column,
    write_text,
)
from sornix.core.readings.files.dividing import SHORT_BYTES
from sornix.core.readings.formats.sources import read_file
from sornix.demo import demo_text
from tests.base import SornixTest


def _columns(text: str | bytes) -> list[tuple[str, str, str, list[object]]]:
    table = read_text(text.encode() if isinstance(text, str) else text, "t")
    return [(c.name, c.unit, c.kind, list(c.values)) for c in table.columns]


class Reading(SornixTest):
    def test_dialects(self) -> None:
        wanted = [("Depth", "m", NUMBER, [0.5, 1.0]), ("T", "°C", NUMBER, [19.25, -4.0])]
        for name, text in {
            "comma": "Depth (m),T [°C]\n0.5,19.25\n1,-4\n",
            "semicolon and decimal comma": "Depth (m);T (°C)\n0,5;19,25\n1;-4\n",
            "tab": "Depth / m\tT / °C\n0.5\t1.925e1\n1\t-4.0\n",
            "pipe": "Depth (m)|T (°C)\n0.5|19.25\n1|-4\n",
            "carriage returns": "Depth (m),T (°C)\r\n0.5,19.25\r\n1,-4\r\n",
            "no last line end": "Depth (m),T (°C)\n0.5,19.25\n1,-4",
            "blank lines": "\nDepth (m),T (°C)\n0.5,19.25\n\n1,-4\n\n",
            "quotes": '"Depth (m)","T (°C)"\n"0.5","19.25"\n"1",-4\n',
            "spaces": "Depth (m), T (°C)\n 0.5, 19.25\n1 ,-4 \n",
            "separator at line ends": "Depth (m),T (°C),\n0.5,19.25,\n1,-4,\n",
        }.items():
            for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
                with self.subTest(name, encoding=encoding):
                    self.assertEqual(_columns(text.encode(encoding)), wanted)

    def test_what_stands_beside_the_readings(self) -> None:
        wanted = [("Depth", "m", NUMBER, [0.5, 1.0, 2.0]), ("T", "°C", NUMBER, [19.25, -4.0, 3.0])]
        rows = "0.5,19.25\n1,-4\n2,3\n"
        for name, text, line in (
            ("remarks", f"# mere\n% two\nDepth (m),T (°C)\n{rows}// end\n", 8),
            ("remark among rows", "Depth (m),T (°C)\n0.5,19.25\n# pause\n1,-4\n2,3\n", 6),
            ("header as a remark", f"# made by hand\n# Depth (m), T (°C)\n{rows}", 6),
            ("preamble", f"Logger export\nSerial 7\n\nDepth (m),T (°C)\n{rows}", 8),
            ("row of units", f"Depth,T\nm,°C\n{rows}", 6),
            ("units in brackets", f"Depth,T\n[m],(°C)\n{rows}", 6),
            ("spaces", "Depth/m  T/°C\n  0.5   19.25\n  1     -4\n  2     3\n", None),
            ("one space", "Depth/m T/°C\n0.5 19.25\n1 -4\n2 3\n", None),
        ):
            with self.subTest(name):
                self.assertEqual(_columns(text), wanted)
                if line is not None:
                    with self.assertRaises(ReadingsError) as caught:
                        read_text((text + "7,8,9\n").encode(), "t")
                    self.assertIn(f"row at line {line},", str(caught.exception))
        notes = read_text(b"# a\nLog\nz,T\nm,K\n1,2\n2,3\n3,4\n", "t").notes
        self.assertEqual(len(notes), 2)
        # words under a header are not units, and a header with units has no row of them
        self.assertEqual(_columns("a,b\nx,1\ny,2\nz,3\n")[0][2], TEXT)
        kinds = [c[2] for c in _columns("Site,Depth (m)\nm,1\ng,2\nA,3\n")]
        self.assertEqual(kinds, [TEXT, NUMBER])
        probe = read_text(demo_text("probe-semicolon").encode("cp1252"), "probe")
        self.assertEqual([c.unit for c in probe.columns], ["min", "°C", "µS/cm", "NTU"])
        self.assertEqual([c.missing for c in probe.columns], [0, 0, 0, 2])

    def test_kinds_and_missing_cells(self) -> None:
        table = read_text(b"n,site,x\n1,A,NA\n,B,2\n3,,n/a\n", "t")
        n, site, x = table.columns
        np.testing.assert_array_equal(n.numbers, [1, np.nan, 3])
        self.assertEqual((site.kind, list(site.values), site.missing), (TEXT, ["A", "B", ""], 1))
        self.assertEqual((x.count, x.missing, x.ends), (1, 2, (2.0, 2.0)))
        self.assertEqual([n.cell(row) for row in range(3)], ["1", "", "3"])
        with self.assertRaises(ValueError):
            n.numbers[0] = 5.0

    def test_text_among_numbers_is_kept_and_told(self) -> None:
        table = read_text(b"trap,snails\n1,14\n2,12 snails\n3,9\n4,inf\n", "t")
        snails = table.column("snails")
        self.assertEqual(dict(snails.texts), {1: "12 snails", 3: "inf"})
        np.testing.assert_array_equal(snails.numbers, [14, np.nan, 9, np.nan])
        self.assertIn("2 cells of “snails” are text", table.remarks[0])
        self.assertIn("row 2: “12 snails”", table.remarks[0])

    def test_short_and_long_texts_are_read_alike(self) -> None:
        rows = ["1.5,A,NA,12 snails", "-2e3, b ,,7", '"3","x ""y"", z",0.1,8', ",,n/a,", "5,é,2,9"]
        text = ("n (m),site,x,snails\n" + "\n".join(rows) + "\n").encode()
        times = SHORT_BYTES // len(text) + 2
        long = read_text(text + b"\n".join([b"\n".join(r.encode() for r in rows)] * times), "t")
        short = read_text(text, "t")
        for a, b in zip(long.columns, short.columns, strict=True):
            self.assertEqual((a.name, a.unit, a.kind), (b.name, b.unit, b.kind))
            self.assertEqual([a.cell(i) for i in range(5)], [b.cell(i) for i in range(5)])
            self.assertEqual([a.cell(i) for i in range(-5, 0)], [b.cell(i) for i in range(-5, 0)])
        with self.assertRaises(ReadingsError) as caught:
            read_text(text * times + b"1,2,3,4,5\n", "t")
        self.assertIn("row at line", str(caught.exception))

    def test_late_text_turns_up_too(self) -> None:
        rows = "".join(f"{i},{i}\n" for i in range(50_000))
        table = read_text(f"a,b\n{rows}7,x\n".encode(), "t")
        self.assertEqual(dict(table.column("b").texts), {50_000: "x"})
        self.assertEqual(table.column("b").count, 50_000)

    def test_headings(self) -> None:
        for cell, name, unit in (
            ("Nitrate concentration (mg/L)", "Nitrate concentration", "mg/L"),
            ("Depth [m]", "Depth", "m"),
            ("Flow / m^3 s^-1", "Flow", "m^3 s^-1"),
            ("mass/g", "mass", "g"),
            ("Gain/dB", "Gain", "dB"),
            ("Signal/Noise", "Signal/Noise", ""),
            ("Rate/m^3 s^-1", "Rate", "m^3 s^-1"),
            ("(a)", "(a)", ""),
            ("C / J/(mol K)", "C", "J/(mol K)"),
            ("5 mg/L", "5 mg/L", ""),
            # a unit behind a stroke, but for what may be a subscript, a place or the least
            ("water_temp_C", "water_temp", "°C"),
            ("depth_m", "depth", "m"),
            ("Zn_ppm", "Zn", "ppm"),
            ("Temp (C)", "Temp", "°C"),
            ("Charge (C)", "Charge", "C"),
            ("k_m", "k_m", ""),
            ("no3_mg_L", "no3", "mg/L"),
            ("flow_m3_s", "flow", "m³/s"),
            ("V_max", "V_max", ""),
            ("conc_mM", "conc", "mM"),
            ("level_mm", "level", "mm"),
            ("site_A", "site_A", ""),
            ("time_min", "time", "min"),
            ("temp_min", "temp_min", ""),
            ("river_km", "river_km", ""),
            # or behind a space, where it has a sign or stands behind what is measured in it
            ("Nitrate mg/L", "Nitrate", "mg/L"),
            ("Sand %", "Sand", "%"),
            ("Flow m3/s", "Flow", "m3/s"),
            ("Nitrate_mg/L", "Nitrate", "mg/L"),
            ("Nitrate mg l⁻¹", "Nitrate", "mg l⁻¹"),
            ("Density g cm-3", "Density", "g cm-3"),
            ("Rate mol/(L s)", "Rate", "mol/(L s)"),
            ("T deg C", "T", "deg C"),
            ("Chl a µg/L", "Chl a", "µg/L"),
            ("PM10 µg/m³", "PM10", "µg/m³"),
            ("PM 2.5 µg/m³", "PM 2.5 µg/m³", ""),
            ("Time, s", "Time", "s"),
            ("Depth m", "Depth", "m"),
            ("Time min", "Time", "min"),
            ("temp min", "temp min", ""),
            ("Ratio C/N", "Ratio C/N", ""),
            ("upper 95 %", "upper 95 %", ""),
            ("Mussels per m²", "Mussels per m²", ""),
            ("Sampling days", "Sampling days", ""),
            ("Fraction HA", "Fraction HA", ""),
            ("Site A", "Site A", ""),
            ("ΔF/F", "ΔF/F", ""),
            ("  two   words ", "two words", ""),
        ):
            with self.subTest(cell):
                self.assertEqual(parse_heading(cell), Heading(name, unit))
        table = read_text(b"a,a,\n1,2,3\n", "t")
        self.assertEqual(table.column_names, ("a", "a 2", "Column 3"))
        self.assertEqual(read_text(b"1,2\n3,4\n", "t").column_names, ("Column 1", "Column 2"))

    def test_symbols(self) -> None:
        def symbols(x: str, y: str) -> tuple[str, str]:
            return symbols_for(number_column(x, []), number_column(y, []))

        self.assertEqual(symbols("Nitrate concentration", "Absorbance at 220 nm"), ("c", "A"))
        self.assertEqual(symbols("Time", "Year"), ("x", "y"))
        self.assertEqual(symbols("Snails", "k_1"), ("x", "k_1"))

    @given(
        st.lists(
            st.tuples(
                st.one_of(st.none(), st.floats(allow_nan=False, allow_infinity=False)),
                st.text(st.characters(codec="utf-8", exclude_characters="\0\r\n"), max_size=6),
            ),
            min_size=1,
            max_size=30,
        ),
        st.booleans(),
    )
    def test_written_readings_come_back_exactly(
        self, rows: list[tuple[float | None, str]], only_numbers: bool
    ) -> None:
        numbers = number_column("value", [np.nan if v is None else v for v, _ in rows], "m")
        words = text_column('a "quoted", name', [text.strip() for _, text in rows])
        table = Table("t", (numbers,) if only_numbers else (numbers, words))
        fields = [(Heading(c.name, c.unit), c.kind) for c in table.columns]
        self.assertEqual(read_columns(write_text(table), "t", fields), table)
        cells = list(csv.reader(io.StringIO(write_text(table).decode(), newline="")))
        self.assertEqual(len(cells), len(rows) + 1)


class Refusals(SornixTest):
    def test_wrong_input_says_what_and_where(self) -> None:
        for name, content, said in (
            ("p.csv", b"\x89PNG\r\n\x1a\n\0\0", ("PNG picture", "p.csv")),
            ("d.svg", b'<?xml version="1.0"?>\n<svg width="1">1,2\n3,4</svg>', ("drawing (SVG)",)),
            ("d.csv", b"\xef\xbb\xbf <!DOCTYPE html><p>a,b</p>", ("a web page", "paste it")),
            ("z.csv", b"PK\x03\x04xx", ("workbook",)),
            ("b.csv", b"a,b\0\n1,2\n", ("no readable text",)),
            ("e.csv", b"", ("The file is empty",)),
            ("w.csv", b" \n\n", ("The file is empty",)),
            ("r.csv", b"# a\n# b\n", ("remarks and nothing else",)),
            ("h.csv", b"a,b\n", ("header row and nothing under it",)),
            ("t.csv", b"a,b\nx,y\n", ("None of the 2 columns holds numbers",)),
            (
                "long.csv",
                b"a,b\n1,2\n3,4,5\n",
                ("long.csv, row at line 3, column 3", "3 cells and the header has 2", "“5”"),
            ),
        ):
            with self.subTest(name):
                path = self.write(name, content)
                with self.assertRaises(ReadingsError) as caught:
                    read_file(path)[0]
                for part in said:
                    self.assertIn(part, str(caught.exception))
        for path, text in ((self.folder / "none.csv", "no such file"), (self.folder, "a folder")):
            with self.subTest(text), self.assertRaises(ReadingsError) as caught:
                read_file(path)[0]
            self.assertIn(text, str(caught.exception))

    def test_unknown_columns_are_answered_with_the_nearest(self) -> None:
        table = read_text(b"Depth (m),Temperature,Site\n1,2,A\n", "profile")
        with self.assertRaises(UnknownColumn) as caught:
            table.column("Temprature")
        self.assertIn("Did you mean “Temperature”", str(caught.exception))
        with self.assertRaises(UnknownColumn) as caught:
            table.column("zzz")
        self.assertIn("“Depth”, “Temperature”, “Site”", str(caught.exception))
