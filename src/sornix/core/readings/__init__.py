"""Tables of readings: frozen columns of numbers, times or text; reading them; changing them."""

from sornix.core.readings.cells.header import Heading, parse_heading
from sornix.core.readings.files.delimited import read_columns, read_text
from sornix.core.readings.files.textout import write_text
from sornix.core.readings.tables.column import (
    KIND_WORDS,
    NUMBER,
    TEXT,
    TIME,
    Column,
    number_column,
    text_column,
    time_column,
)
from sornix.core.readings.tables.dialect import NOTHING_HELD, Dialect, Held, ReadAs
from sornix.core.readings.tables.origin import Source
from sornix.core.readings.tables.symbols import is_quantity, symbols_for
from sornix.core.readings.tables.table import Table, Tables, table_named, unique_names

__all__ = [
    "KIND_WORDS",
    "NOTHING_HELD",
    "NUMBER",
    "TEXT",
    "TIME",
    "Column",
    "Dialect",
    "Heading",
    "Held",
    "ReadAs",
    "Source",
    "Table",
    "Tables",
    "is_quantity",
    "number_column",
    "parse_heading",
    "read_columns",
    "read_text",
    "symbols_for",
    "table_named",
    "text_column",
    "time_column",
    "unique_names",
    "write_text",
]
