"""SQLite databases: each table and view that holds readings a table."""

from pathlib import Path

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.readings.files.rowwise import table_of_named_rows
from sornix.core.readings.formats.apart import opened
from sornix.core.readings.tables.dialect import NOTHING_HELD, Held
from sornix.core.readings.tables.table import Table, told_of_all
from sornix.core.text import plural


def read_database(
    path: Path, name: str | None = None, held: Held = NOTHING_HELD
) -> tuple[Table, ...]:
    """The tables of a database, or one. Raises ReadingsError."""
    letter, found = opened("opening_tables", "sqlite", "SQLite", path, name or "")
    if letter == "N":
        listed = ", ".join(f"“{one}”" for one in found)
        raise ReadingsError(
            f"There is no table “{name}”.", where=path.name, remedy=f"The tables are {listed}."
        )
    tables: list[Table] = []
    problems: list[ReadingsError] = []
    for called, rows, closed in found:
        where = f"{path.name}, table “{called}”"
        kept = [[cell for i, cell in enumerate(row) if i not in closed] for row in rows]
        try:
            table = table_of_named_rows(kept, called, where=where, held=held)
            said = [f"Bytes in “{rows[0][i]}” are no readings, and were left out." for i in closed]
            tables.append(evolve(table, notes=(*table.notes, *said)))
        except ReadingsError as error:
            problems.append(error)
    if not tables:
        if len(problems) == 1:
            raise problems[0]
        count = plural(len(problems), "table") if problems else "tables"
        raise ReadingsError(f"None of the {count} of this database holds readings.",
                            where=path.name)  # fmt: skip
    notes = []
    left_out = len(problems)
    if left_out:
        were = "was" if left_out == 1 else "were"
        notes.append(f"{plural(left_out, 'table')} without readings {were} left out.")
    waiting = path.with_name(f"{path.name}-wal")
    if waiting.is_file() and waiting.stat().st_size:
        notes.append(
            f"A program has not yet written everything into this database: what stands in "
            f"“{waiting.name}” is not among the readings. Close that program, and read again."
        )
    return tuple(evolve(t, notes=(*t.notes, *notes)) for t in told_of_all(tables, "database"))
