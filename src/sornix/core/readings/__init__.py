"""Tables of readings: frozen columns of numbers, times or text; reading them; changing them."""

from sornix.core.readings.column import (
    KIND_WORDS,
    NUMBER,
    TEXT,
    TIME,
    Column,
    number_column,
    text_column,
    time_column,
)
from sornix.core.readings.delimited import read_columns, read_text, write_text
from sornix.core.readings.dialect import NOTHING_HELD, Dialect, Held, ReadAs
from sornix.core.readings.header import Heading, parse_heading
from sornix.core.readings.symbols import is_quantity, symbols_for
from sornix.core.readings.table import Source, Table, Tables, table_named, unique_names

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
