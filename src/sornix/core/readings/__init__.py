"""Tables of readings: frozen columns of numbers or text, and how they are read from files."""

from sornix.core.readings.column import NUMBER, TEXT, Column, number_column, text_column
from sornix.core.readings.delimited import (
    read_columns,
    read_delimited,
    read_text,
    write_text,
)
from sornix.core.readings.header import Heading, parse_heading
from sornix.core.readings.symbols import is_quantity, symbols_for
from sornix.core.readings.table import Table, Tables, table_named, unique_names

__all__ = [
    "NUMBER",
    "TEXT",
    "Column",
    "Heading",
    "Table",
    "Tables",
    "is_quantity",
    "number_column",
    "parse_heading",
    "read_columns",
    "read_delimited",
    "read_text",
    "symbols_for",
    "table_named",
    "text_column",
    "unique_names",
    "write_text",
]
