"""A table: columns of equal length under one name."""

from collections.abc import Iterable, Sequence
from functools import cached_property

from attrs import evolve

from sornix.core.errors import EditRefused, UnknownColumn
from sornix.core.frozen import frozen
from sornix.core.letters import printable
from sornix.core.readings.tables.column import NUMBER, TIME, Column
from sornix.core.readings.tables.dialect import ReadAs
from sornix.core.readings.tables.origin import Change, Grouping, Source
from sornix.core.text import counted, plural, row_words, short

# The cells of longer tables stay as they are: each change would take the memory of a column.
MOST_CHANGED = 10_000_000


@frozen(slots=False)
class Table:
    """Readings of one file or sheet.

    `name` identifies the table in its document, `notes` are sentences about what was found when
    it was read. All columns have the same length and different names. `changes` is what has been
    done to it since it was read from its `source`, and `grouping` what it is computed from, if
    it is.
    """

    name: str
    columns: tuple[Column, ...]
    notes: tuple[str, ...] = ()
    read_as: ReadAs | None = None
    source: Source | None = None
    changes: tuple[Change, ...] = ()
    grouping: Grouping | None = None

    def __attrs_post_init__(self) -> None:
        if not self.columns:
            raise ValueError(f"{self.name} has no columns")
        if len({len(column) for column in self.columns}) > 1:
            raise ValueError(f"the columns of {self.name} differ in length")
        if len(set(self.column_names)) < len(self.columns):
            raise ValueError(f"two columns of {self.name} have the same name")

    @cached_property
    def _by_name(self) -> dict[str, Column]:
        return {column.name: column for column in self.columns}

    @property
    def row_count(self) -> int:
        return len(self.columns[0])

    def titles(self, *, units: bool) -> list[str]:
        """The header of the table, with units in brackets or without."""
        return [f"{c.name} ({c.unit})" if units and c.unit else c.name for c in self.columns]

    @property
    def column_names(self) -> tuple[str, ...]:
        return tuple(column.name for column in self.columns)

    @property
    def number_columns(self) -> tuple[Column, ...]:
        return tuple(column for column in self.columns if column.kind == NUMBER)

    @property
    def remarks(self) -> tuple[str, ...]:
        """What was doubtful when it was read, what is strange in the columns, and other notes."""
        doubts = tuple(self.read_as.doubts.values()) if self.read_as else ()
        strange = tuple(note for column in self.columns if (note := text_note(column)))
        return (*doubts, *strange, *self.notes)

    def column(self, name: str) -> Column:
        """The column of that name. Raises UnknownColumn, which names the nearest ones."""
        found = self._by_name.get(name)
        if found is not None:
            return found
        import difflib

        near = difflib.get_close_matches(name, self.column_names, n=3, cutoff=0.4)
        if not near:
            near = [n for n in self.column_names if name.casefold() in n.casefold()]
        listed = ", ".join(f"“{n}”" for n in near or self.column_names[:20])
        raise UnknownColumn(
            f"There is no column “{name}”.",
            where=self.name,
            remedy=f"Did you mean {listed}?" if near else f"The columns are {listed}.",
        )


def refuse_long(table: Table, what: str) -> None:
    """Raises EditRefused where a table is too long for what takes the memory of its columns: `what`
    is said of more than MOST_CHANGED rows."""
    if table.row_count > MOST_CHANGED:
        raise EditRefused(
            f"“{table.name}” has {plural(table.row_count, 'row')}, and of more than "
            f"{counted(MOST_CHANGED)} {what}.",
            remedy="Draw it as it is, or make a file of a part of it, or of every tenth row.",
        )


Tables = tuple[Table, ...]


def table_named(tables: Tables, name: str) -> Table:
    """The table of that name. Raises UnknownColumn where the document has none."""
    for table in tables:
        if table.name == name:
            return table
    raise UnknownColumn(f"There is no table “{name}” among the readings.")


def unique_names(names: Iterable[str], taken: Iterable[str] = ()) -> list[str]:
    """The same names, with a number behind each that has occurred before or is `taken`."""
    seen = set(taken)
    last: dict[str, int] = {}
    result = []
    for name in names:
        candidate, number = name, last.get(name, 1)
        while candidate in seen:
            number += 1
            candidate = f"{name} {number}"
        last[name] = number
        seen.add(candidate)
        result.append(candidate)
    return result


def text_note(column: Column) -> str:
    """What is to be said about cells of a column that are not of its kind, or ""."""
    if not column.texts:
        return ""
    row = min(column.texts)
    text = printable(column.texts[row])
    count = len(column.texts)
    what = "dates" if column.kind == TIME else "numbers"
    shown = text if len(text) <= 40 else text[:39] + "…"
    return (
        f"{count} {'cell' if count == 1 else 'cells'} of “{column.name}” "
        f"{'is' if count == 1 else 'are'} text, not {what}, and left out "
        f"({row_words(row)}: “{shown}”)."
    )


def told_of_all(tables: Sequence[Table], what: str) -> tuple[Table, ...]:
    """The tables of a `file` or `sheet`, each of which says so where there are several."""
    if len(tables) < 2:
        return tuple(tables)
    names = short(", ".join(table.name for table in tables), 100)
    said = f"The {what} holds {len(tables)} tables: {names}."
    return tuple(evolve(table, notes=(said, *table.notes)) for table in tables)
