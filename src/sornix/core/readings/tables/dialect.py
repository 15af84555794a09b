"""How a table was read, as a value: each decision a word that can be changed."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple

from sornix.core.frozen import frozen

# What counts as missing in every file.
MISSING_MARKS = (
    "", "NA", "N/A", "n/a", "na", "NaN", "nan", "NAN", "null", "NULL", "None", "—", "–", "-", "--",
    "?", ".", "n.a.", "N.A.", "#N/A", "#VALUE!", "#DIV/0!", "#REF!", "#NUM!", "#NAME?", "#NULL!",
)  # fmt: skip


class Dialect(NamedTuple):
    """`separator` between cells (a space stands for any run of them, `columns` for columns of
    letters, "" where a line is one cell), `decimal` mark and `thousands` mark in numbers,
    `header` the line of the names from 1 or 0 for none, `units` whether a row of units follows,
    `missing` marks besides the usual ones, `order` of days and months in dates such as 03/04/2026
    ("" where there are none), the `encoding`, and whether the table is `lying` on its side, with a
    reading in each column."""

    separator: str = ","
    decimal: str = "."
    thousands: str = ""
    header: int = 1
    units: bool = False
    missing: tuple[str, ...] = ()
    order: str = ""
    encoding: str = "utf-8"
    lying: bool = False


Held = Mapping[str, Any]
NOTHING_HELD: Held = MappingProxyType({})


def without_header(held: Held) -> dict[str, Any]:
    """What is held of a dialect but for the line of names."""
    return {word: value for word, value in held.items() if word != "header"}


@frozen
class ReadAs:
    """The dialect that a table was read in: by name, which `words` of it matter here, which the
    user `held`, and what is doubtful about others (`doubts`)."""

    dialect: Dialect
    words: tuple[str, ...]
    held: Held = NOTHING_HELD
    doubts: Mapping[str, str] = NOTHING_HELD


class Word(NamedTuple):
    """A decision in the line above the table: what it is about, and its values in words."""

    about: str
    values: Mapping[Any, str]


# In the order of the line. Values of `header` and `missing` are open: see `said` and `choices`.
WORDS: Mapping[str, Word] = MappingProxyType(
    {
        "separator": Word(
            "What stands between two cells",
            {
                ",": "commas",
                ";": "semicolons",
                "\t": "tabs",
                "|": "bars",
                " ": "spaces",
                "columns": "columns of letters",
                "": "one column",
            },
        ),
        "decimal": Word(
            "The decimal mark of numbers", {".": "decimal points", ",": "decimal commas"}
        ),
        "thousands": Word(
            "What divides thousands in numbers",
            {
                "": "thousands undivided",
                ",": "thousands by commas",
                ".": "thousands by points",
                " ": "thousands by spaces",
                "'": "thousands by apostrophes",
            },
        ),
        "header": Word("Where the names of the columns stand", {}),
        "units": Word(
            "Whether units stand under the names", {True: "units below", False: "no row of units"}
        ),
        "lying": Word(
            "Whether a reading stands in a row, or in a column of a table on its side",
            {False: "a reading in each row", True: "a reading in each column"},
        ),
        "order": Word(
            "Which comes first in dates such as 03/04/2026",
            {"day": "days first", "month": "months first"},
        ),
        "missing": Word("What stands for a missing reading, besides empty cells and NA", {}),
        "encoding": Word(
            "How letters are written in the file",
            {
                "utf-8": "UTF-8",
                "cp1252": "Windows-1252",
                "utf-16": "UTF-16",
                "cp1250": "Windows-1250, Central European",
                "iso8859_2": "ISO 8859-2, Central European",
                "cp1251": "Windows-1251, Cyrillic",
                "cp1253": "Windows-1253, Greek",
                "cp1254": "Windows-1254, Turkish",
                "mac_roman": "Mac Roman",
                "shift_jis": "Shift-JIS, Japanese",
                "gb18030": "GB 18030, Chinese",
                "big5": "Big5, Chinese",
                "euc_kr": "EUC-KR, Korean",
                "cp1255": "Windows-1255, Hebrew",
                "cp1256": "Windows-1256, Arabic",
                "cp1257": "Windows-1257, Baltic",
                "koi8_r": "KOI8-R, Cyrillic",
                "cp866": "DOS 866, Cyrillic",
                "cp850": "DOS 850, Western",
                "cp852": "DOS 852, Central European",
            },
        ),
    }
)
_MOST_HEADER_LINES = 12


def said(name: str, value: Any) -> str:
    """A decision in words: `names in line 4`, `−999 missing`."""
    if name == "header":
        return f"names in line {value}" if value else "no names"
    if name == "missing":
        if not value:
            return "empty cells missing"
        marks = ", ".join(mark.replace("-", "−") for mark in value)
        return f"{marks} missing"
    return WORDS[name].values[value]


class Doubt(NamedTuple):
    """A decision that is doubtful: its `word`, why, in a sentence; what was taken, and what else it
    could be, in words."""

    word: str
    why: str
    taken: str
    others: tuple[str, ...]


def doubts_of(read_as: ReadAs | None) -> tuple[Doubt, ...]:
    """What is doubtful about how a table was read."""
    if read_as is None:
        return ()
    found = []
    for word, why in read_as.doubts.items():
        taken = getattr(read_as.dialect, word)
        others = (said(word, one) for one in choices(word, read_as.dialect) if one != taken)
        found.append(Doubt(word, why, said(word, taken), tuple(others)))
    return tuple(found)


def choices(name: str, dialect: Dialect) -> list[Any]:
    """The values that a word may get, the present one among them."""
    present = getattr(dialect, name)
    if name == "header":
        return list(range(max(_MOST_HEADER_LINES, present + 3)))
    if name == "missing":
        return list(dict.fromkeys([(), present, ("-999",), ("-9999",), ("9999",)]))
    return list(WORDS[name].values)
