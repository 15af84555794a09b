"""Times whose parts stand in several columns are put together, and stay so."""

import math

from attrs import evolve

from sornix.core.document import change_table, load_document, new_document, save_document
from sornix.core.errors import EditRefused
from sornix.core.readings import Table, number_column, read_text, time_column
from sornix.core.readings.changes.again import read_again
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.rule import DateParts, DayOfYear
from sornix.core.readings.tables.rules import rule_from_json, rule_to_json
from sornix.core.readings.tables.timerules import time_of
from tests.base import SornixTest

_LOGGER = "Date,Time,T (°C)\n2026-04-01,22:30,9.1\n2026-04-01,23:30,\n2026-04-02,00:30,8.7\n"
# what a text holds, the column that is added, its cells, what the figure stands along
_TEXTS = (
    (_LOGGER, "Date Time", ["2026-04-01 22:30", "2026-04-01 23:30", "2026-04-02 00:30"], "added"),
    ("Datum;Zeit;T\n01.04.2026;22:30:05;9,5\n02.04.2026;00:30:00;8,5\n", "Datum Zeit",
     ["2026-04-01 22:30:05", "2026-04-02 00:30:00"], "added"),
    ("Time,T\n22:30,9\n23:30,8.5\n00:30,8\n12:30,9\n00:00,7\n", "Time going on",
     ["22.5", "23.5", "24.5", "36.5", "48"], "added"),
    ("YEAR,MO,DY,HR,T\n2024,2,28,23,9\n2024,2,29,0,8.5\n2024,2,30,1,8\n2024,3,1,24,8.1\n",
     "YEAR MO DY HR", ["2024-02-28 23:00", "2024-02-29 00:00", "", "2024-03-02 00:00"], "added"),
    ("#YY MM DD hh mm T\n#yr mo dy hr mn K\n2026 05 01 00 10 5\n2026 05 02 02 30 6\n",
     "YY MM DD hh mm", ["2026-05-01 00:10", "2026-05-02 02:30"], "added"),
    ("Year,Month,Day,Hour,mm\n2026,5,1,0,3\n2026,5,1,1,0\n2026,5,1,2,5\n",
     "Year Month Day Hour", ["2026-05-01 00:00", "2026-05-01 01:00", "2026-05-01 02:00"], "added"),
    ("timestamp,T\n1780483200,9\n1780486800,8\n", "timestamp by the calendar",
     ["2026-06-03 10:40", "2026-06-03 11:40"], "added"),
    ("time_ms,T\n1780483200123,9\n1780483200623,8\n", "time by the calendar",
     ["2026-06-03 10:40:00.123", "2026-06-03 10:40:00.623"], "added"),
    ("Date,T\n45810.5,9\n45811,8\n", "Date by the calendar",
     ["2025-06-02 12:00", "2025-06-03 00:00"], "added"),
    ("Year,DOY,Hour,T\n2026,152,0,14\n2026,152,1230,15\n2026,366,2400,14\n", "Year DOY Hour",
     ["2026-06-01 00:00", "2026-06-01 12:30", "2027-01-02 00:00"], "added"),
    ("year,day of year,T\n2024,60,14\n2024,60.25,15\n", "year day of year",
     ["2024-02-29 00:00", "2024-02-29 06:00"], "added"),
    ("date,hour,T\n2026-03-01,1,3\n2026-03-01,24,4\n2026-03-02,1,2\n", "date hour",
     ["2026-03-01 01:00", "2026-03-02 00:00", "2026-03-02 01:00"], "added"),
    ("Date,Time,T\n2026-03-01,830,3\n2026-03-01,1415,4\n2026-03-02,830,2\n", "Date Time",
     ["2026-03-01 08:30", "2026-03-01 14:15", "2026-03-02 08:30"], "added"),
    ("Year,Month,Day,Time,T\n2025,3,1,10:30,3\n2025,4,31,9:00,5\n2025,4,1,22:30,4\n",
     "Year Month Day Time", ["2025-03-01 10:30", "", "2025-04-01 22:30"], "added"),
    ("Year DOY Hhmm T\n2024 366 0000 3\n2024 366 2359 4\n2025 1 0005 5\n", "Year DOY Hhmm",
     ["2024-12-31 00:00", "2024-12-31 23:59", "2025-01-01 00:05"], "added"),
    ("Date,Hour,Minute,Sec,T\n2025-03-01,10,30,5,3\n2025-03-01,10,59,60,4\n2025-03-01,24,0,0,4\n",
     "Date Hour Minute Sec",
     ["2025-03-01 10:30:05", "2025-03-01 11:00:00", "2025-03-02 00:00:00"], "added"),
    ("Date,Time,Half,T\n2026-03-01,11:30,AM,1\n2026-03-01,1:30,PM,2\n2026-03-02,12:10,AM,3\n",
     "Date Time", ["2026-03-01 11:30", "2026-03-01 13:30", "2026-03-02 00:10"], "added"),
    # years beside one another are drawn over their months
    ("Jahr;Monat;Regen\n2015;Januar;91\n2015;Februar;81\n2015;März;60\n2016;Januar;71\n",
     "Jahr Monat", ["2015-01", "2015-02", "2015-03", "2016-01"], "Monat"),
)  # fmt: skip
# nothing is put together: an evening, two clocks, one date, hours of sun, minutes, a year alone
_AS_THEY_ARE = (
    "Time,T\n20:30,9\n21:30,8.5\n22:30,8\n",
    "Date,Begin,End,T\n2026-04-01,10:00,11:00,9\n2026-04-02,10:00,11:00,8\n",
    "Date,T\n2026-04-01,9\n2026-04-02,8\n",
    "date,hours\n2026-03-01,1\n2026-03-02,2\n2026-03-03,7\n",
    "Date,Time,T\n2026-03-01,0,9\n2026-03-01,5,8\n2026-03-01,10,7\n",
    "Time (s),T\n45810,9\n45811,8\n",
    "timestamp,T\n1780483200,9\n1780400000,8\n",
    "counts,T\n1780483200,9\n1780486800,8\n",
    "Year,T\n2024,9\n2025,8\n",
    "Day,Hour,T\n1,2,9\n1,3,8\n",
    "Date,Hour,Min,Max\n2025-03-01,1,5,9\n2025-03-01,1,4,8\n",
    "Date,Hour,Minute,T\n2025-03-01,10,60,9\n2025-03-01,10,70,8\n",
    "YY,MM,DD,T\n26,5,1,9\n26,5,2,8\n",
)


class WholeTimes(SornixTest):
    def test_parts_are_put_together_and_said(self) -> None:
        for text, name, cells, along in _TEXTS:
            with self.subTest(text):
                document = new_document(read_text(text.encode(), "t"))
                table = document.tables[0]
                self.assertEqual(table.column_names[-1], name)
                self.assertEqual(table.column(name).cells(), cells)
                self.assertIn(f"“{name}” was added", table.notes[-1])
                self.assertFalse([note for note in table.notes if "over midnight:" in note])
                wanted = name if along == "added" else along
                (first, *_) = document.figure.panel.series
                self.assertEqual((first.x, first.y), (wanted, table.column_names[-2]))
                rule = table.column(name).rule
                assert rule is not None
                self.assertEqual(rule_from_json(rule_to_json(rule)), rule)
        for text in _AS_THEY_ARE:
            with self.subTest(text):
                read = read_text(text.encode(), "t")
                self.assertEqual(new_document(read).tables[0], read)

    def test_only_days_that_a_year_has_are_days(self) -> None:
        numbers = {"year": [2024.0, 2023.5, 2024, 2024, 2024, 2024],
                   "day": [0.999, 5, 1, 366.5, 367, math.nan]}  # fmt: skip
        table = Table("t", tuple(number_column(name, each) for name, each in numbers.items()))
        made = time_of(DayOfYear("year", "day"), "found", table)
        self.assertEqual(made.cells(), ["", "", "2024-01-01 00:00", "2024-12-31 12:00", "", ""])
        clock = evolve(table, columns=(*table.columns, time_column("clock", [60.0] * 6, "clock")))
        for parts in (("year", "clock"), ("year", "day", "clock")):
            with self.assertRaises(EditRefused):
                time_of(DateParts(parts), "found", clock)

    def test_they_follow_their_parts_and_stay(self) -> None:
        path = self.folder / "logger.csv"
        path.write_text(_LOGGER)
        document = new_document(*read_file(path))
        edited = change_table(document, "logger", "set_cells", cells=[(2, 0, "2026-04-03")])
        self.assertEqual(edited.tables[0].column("Date Time").cell(2), "2026-04-03 00:30")
        renamed = change_table(edited, "logger", "rename", column="Time", name="Clock", unit="")
        self.assertEqual(renamed.tables[0].column("Date Time").rule.words,  # type: ignore[union-attr]
                         "“Date” and “Clock” together")  # fmt: skip
        with self.assertRaises(EditRefused):
            change_table(document, "logger", "delete_columns", names=["Date"])
        with self.assertRaises(EditRefused) as caught:
            change_table(document, "logger", "set_kind", column="Time", kind="text")
        self.assertIn("“Time” does not hold times", str(caught.exception))
        saved = self.folder / "logger.sornix"
        save_document(renamed, saved, b"")
        self.assertEqual(load_document(saved).tables[0], renamed.tables[0])
        path.write_text(_LOGGER + "2026-04-02,01:30,8.5\n")
        table, lost = read_again(document.tables[0])
        self.assertEqual((table.column("Date Time").cell(3), lost), ("2026-04-02 01:30", ()))
