"""Small files as instruments, loggers and people write them, kept in tests/data/small-files.txt."""

import csv

from sornix.core.readings.files.delimited import read_texts
from sornix.core.readings.files.rowwise import table_of_rows
from tests.base import SornixTest
from tests.core.small_files import described, small_files, told


class SmallFiles(SornixTest):
    def test_small_files(self) -> None:
        self.assertGreater(len(small_files()), 300)
        for case in small_files().values():
            with self.subTest(case.name):
                tables = read_texts(case.raw, "t", held=case.held)
                self.assertEqual(" || ".join(map(described, tables)), case.columns)
                self.assertIn(case.said, told(tables))
                for table in tables:
                    assert table.read_as is not None
                    if not case.said:
                        self.assertEqual({**table.read_as.doubts}, {})
                    for name, value in case.held.items():
                        self.assertEqual(getattr(table.read_as.dialect, name), value)

    def test_rows_of_a_sheet_are_read_as_those_of_a_text(self) -> None:
        for name in ("columns counted from 1 in remarks", "weather", "every cell quoted",
                     "units in columns of their own",
                     "the name of the first column under those of groups, old line ends",
                     "names of fewer columns under what a logger says of itself"):  # fmt: skip
            case = small_files()[name]
            text = case.raw.decode()
            lines = csv.reader(text.splitlines(), delimiter=";" if ";" in text else ",")
            rows = [[", ".join(row)] if row[0].startswith("% ") else row for row in lines]
            with self.subTest(name):
                self.assertEqual(described(table_of_rows(rows, "t")), case.columns)
        # numbers among words, beside words with decimal commas
        mixed: list[list[object]] = [
            ["x", "A", "B"],
            [0.0, 1.234, "3,5"],
            [1.0, "n.d.", "3,75"],
            [2.0, 0.5, "4"],
        ]
        columns = "x n: 0, 1, 2 | A n: 1.234, n.d., 0.5 | B n: 3.5, 3.75, 4"
        self.assertEqual(described(table_of_rows(mixed, "t")), columns)
