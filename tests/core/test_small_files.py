"""Small files as instruments, loggers and people write them, kept in tests/data/small-files.txt."""

import csv
import io
import re

from sornix.core.readings.files.delimited import read_texts
from sornix.core.readings.files.rowwise import table_of_rows, tables_among
from tests.base import SornixTest
from tests.core.small_files import described, small_files, told

# What only stands in texts: remarks that are divided, signs that divide otherwise than they are
# meant, labels, lists.
_OF_TEXTS_ALONE = frozenset(
    (
        "typeset",
        "power lost",
        "header as a remark",
        "header of words as a remark",
        "readings as a remark",
        "readings above as a remark",
        "a remark with a comma",
        "kept zeros",
        "end of file mark",
        "columns counted from 1 in remarks",
        "labels before each reading, as a small logger prints them",
        "labels behind moments",
        "lists with names",
        "a list of rows",
        "single quotation marks",
        "settings in remarks that are pairs",
        "a name in a remark that is an amount",
        "separators within brackets, in the line of names and in the others",
        "semicolons within the brackets of intervals",
        "records of several lines",
        "records of several lines in a list",
        "labels in braces",
        "commas within dates",
        "colons between spaces",
        "lines that are quoted as a whole",
        "lines of a receiver, with check sums",
    )
)


def _is_coded(raw: bytes) -> bool:
    """Whether a text is no UTF-8."""
    try:
        raw.decode()
    except UnicodeDecodeError:
        return True
    return False


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

    def test_what_nobody_sees_changes_nothing(self) -> None:
        """Line ends of other machines, spaces and blank lines at ends, marks and codes of bytes."""
        for case in small_files().values():
            if any(sign in case.raw for sign in (b"\r", b"\0", b"\x1a")) or _is_coded(case.raw):
                continue
            if "\n" in case.columns:
                # a line end in a cell is a part of it
                continue
            text = case.raw.decode()
            ways = {
                "\\r\\n": text.replace("\n", "\r\n").encode(),
                "spaces behind": re.sub(r"(?<=.)$", "  ", text, flags=re.MULTILINE).encode(),
                "blank lines below": f"{text}\n \n\n".encode(),
                "no line end": text.rstrip("\n").encode(),
                "a mark of bytes": text.encode("utf-8-sig"),
            }
            if '"' not in text:
                ways["\\r"] = text.replace("\n", "\r").encode()
            if "header" not in case.held:
                ways["blank lines above"] = f"\n\n{text}".encode()
            if "encoding" not in case.held:
                ways["two bytes a letter"] = text.encode("utf-16")
            for way, raw in ways.items():
                with self.subTest(case.name, way=way):
                    tables = read_texts(raw, "t", held=case.held)
                    self.assertEqual(" || ".join(map(described, tables)), case.columns)

    def test_more_signs_change_nothing(self) -> None:
        """One more at the ends of lines, and each cell in quotation marks."""
        compared = 0
        for case in small_files().values():
            # what quotation marks would be around is no cell, or divided otherwise
            signs = any(sign in case.raw for sign in b"\"'#%/!*\r\0\x1a&[{(:")
            if case.held or " || " in case.columns or case.name in _OF_TEXTS_ALONE or signs:
                continue
            if _is_coded(case.raw):
                continue
            (table,) = read_texts(case.raw, "t")
            assert table.read_as is not None
            sign = table.read_as.dialect.separator
            lines = case.raw.decode().removesuffix("\n").split("\n")
            if sign not in (",", ";", "\t") or not all(line.count(sign) for line in lines if line):
                continue
            compared += 1
            rows = [line.split(sign) if line else [] for line in lines]
            ways = {
                "one more at the ends": [[*row, ""] if row else row for row in rows],
                "quoted": [[f'"{cell}"' for cell in row] for row in rows],
            }
            for way, them in ways.items():
                raw = "".join(f"{sign.join(row)}\n" for row in them).encode()
                with self.subTest(case.name, way=way):
                    found = read_texts(raw, "t")
                    self.assertEqual(" || ".join(map(described, found)), case.columns)
        self.assertGreater(compared, 60)

    def test_rows_of_a_sheet_are_read_as_those_of_a_text(self) -> None:
        compared = 0
        for case in small_files().values():
            if case.held or " || " in case.columns or case.name in _OF_TEXTS_ALONE:
                continue
            (table,) = read_texts(case.raw, "t")
            assert table.read_as is not None
            separator = table.read_as.dialect.separator
            if separator not in (",", ";", "\t") or (
                not case.raw.isascii() and _is_coded(case.raw)
            ):
                continue
            text = io.StringIO(case.raw.decode(), newline="")
            ((_, rows),) = tables_among(list(csv.reader(text, delimiter=separator)))
            compared += 1
            with self.subTest(case.name):
                self.assertEqual(described(table_of_rows(rows, "t")), case.columns)
        self.assertGreater(compared, 300)
        # numbers among words, beside words with decimal commas
        mixed: list[list[object]] = [
            ["x", "A", "B"],
            [0.0, 1.234, "3,5"],
            [1.0, "n.d.", "3,75"],
            [2.0, 0.5, "4"],
        ]
        columns = "x n: 0, 1, 2 | A n: 1.234, n.d., 0.5 | B n: 3.5, 3.75, 4"
        self.assertEqual(described(table_of_rows(mixed, "t")), columns)
