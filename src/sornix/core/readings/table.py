"""A table: columns of equal length under one name."""

import difflib
from collections.abc import Iterable

from attrs import frozen

from sornix.core.errors import UnknownColumn
from sornix.core.readings.column import NUMBER, Column


@frozen
class Table:
    """Readings of one file or sheet.

    `name` identifies the table in its document, `notes` are sentences about what was found when
    it was read. All columns have the same length and different names.
    """

    name: str
    columns: tuple[Column, ...]
    notes: tuple[str, ...] = ()

    def __attrs_post_init__(self) -> None:
        if not self.columns:
            raise ValueError(f"{self.name} has no columns")
        if len({len(column) for column in self.columns}) > 1:
            raise ValueError(f"the columns of {self.name} differ in length")
        if len(set(self.column_names)) < len(self.columns):
            raise ValueError(f"two columns of {self.name} have the same name")

    @property
    def row_count(self) -> int:
        return len(self.columns[0])

    @property
    def column_names(self) -> tuple[str, ...]:
        return tuple(column.name for column in self.columns)

    @property
    def number_columns(self) -> tuple[Column, ...]:
        return tuple(column for column in self.columns if column.kind == NUMBER)

    def column(self, name: str) -> Column:
        """The column of that name. Raises UnknownColumn, which names the nearest ones."""
        for column in self.columns:
            if column.name == name:
                return column
        near = difflib.get_close_matches(name, self.column_names, n=3, cutoff=0.4)
        if not near:
            near = [n for n in self.column_names if name.casefold() in n.casefold()]
        listed = ", ".join(f"“{n}”" for n in near or self.column_names)
        raise UnknownColumn(
            f"There is no column “{name}”.",
            where=self.name,
            remedy=f"Did you mean {listed}?" if near else f"The columns are {listed}.",
        )


Tables = tuple[Table, ...]


def table_named(tables: Tables, name: str) -> Table:
    """The table of that name. Raises UnknownColumn where the document has none."""
    for table in tables:
        if table.name == name:
            return table
    raise UnknownColumn(f"There is no table “{name}” among the readings.")


def unique_names(names: Iterable[str]) -> list[str]:
    """The same names, with a number behind each that has occurred before."""
    seen: set[str] = set()
    result = []
    for name in names:
        candidate, number = name, 2
        while candidate in seen:
            candidate, number = f"{name} {number}", number + 1
        seen.add(candidate)
        result.append(candidate)
    return result
