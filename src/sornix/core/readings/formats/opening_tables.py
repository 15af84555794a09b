"""Columns of Parquet, Arrow and Feather, through pyarrow, and tables of SQLite databases; see
child.py."""

import sqlite3
import sys
from collections.abc import Callable, Iterable, Iterator
from typing import Any
from urllib.parse import quote

_OUT = sys.stdout.buffer
# What is answered; None where it was written already.
_Answer = tuple[str, Any] | None


def _parquet(path: str, most_cells: str) -> _Answer:
    """The columns as a stream of Arrow."""
    import pyarrow as pa
    from pyarrow import parquet

    try:
        with parquet.ParquetFile(path, memory_map=True) as file:
            metadata = file.metadata
            if metadata.num_rows * metadata.num_columns > int(most_cells):
                return "L", ""
            _stream(file.schema_arrow, _batches(file))
    except (pa.ArrowException, OSError, ValueError):
        # after some of it was written, the end that lacks tells as much
        return "D", ""
    return None


def _stream(schema: Any, batches: Iterable[Any]) -> None:
    import pyarrow as pa

    _OUT.write(b"A")
    with pa.ipc.new_stream(_OUT, schema) as stream:
        for batch in batches:
            stream.write_batch(batch)
    _OUT.flush()


def _batches(file: Any) -> Iterator[Any]:
    for group in range(file.num_row_groups):
        yield from file.read_row_group(group).to_batches()


def _arrow(path: str, most_cells: str) -> _Answer:
    """The columns of a file or a stream of Arrow, or of the older Feather."""
    import pyarrow as pa
    from pyarrow import feather

    try:
        with pa.memory_map(path) as source:
            head = source.read(4)
            source.seek(0)
            if head in (b"ARRO", b"FEA1"):
                table = feather.read_table(path, memory_map=True)
            else:
                table = pa.ipc.open_stream(source).read_all()
            if table.num_rows * table.num_columns > int(most_cells):
                return "L", ""
            table.validate(full=True)
            _stream(table.schema, table.to_batches())
    except (pa.ArrowException, OSError, ValueError):
        return "D", ""
    return None


def _sqlite(path: str, most_cells: str, table: str) -> _Answer:
    """The rows of the tables and views of an SQLite database, or of one, with the places of columns
    in which bytes stand that are neither text nor numbers."""
    try:
        # nothing is written beside it, not even a lock
        base = sqlite3.connect(f"file:{quote(path)}?mode=ro&immutable=1", uri=True)
        base.text_factory = lambda raw: raw.decode("utf-8", "replace")
        names = [
            name for (name,) in base.execute(
                "select name from sqlite_master where type in ('table', 'view') "
                "and name not like 'sqlite_%' order by type, rowid"
            )
        ]  # fmt: skip
        if table and table not in names:
            return "N", names
        left, found = int(most_cells), []
        for name in [table] if table else names:
            cursor = base.execute('select * from "{}"'.format(name.replace('"', '""')))
            closed: set[int] = set()
            rows = [[column[0] for column in cursor.description]]
            for row in cursor:
                left -= len(row)
                if left < 0:
                    return "L", ""
                closed.update(i for i, cell in enumerate(row) if isinstance(cell, bytes))
                rows.append([None if isinstance(cell, bytes) else cell for cell in row])
            found.append((name, rows, sorted(closed)))
    except (sqlite3.Error, UnicodeError, OverflowError):
        return "D", ""
    else:
        return "W", found


READERS: dict[str, Callable[..., _Answer]] = {
    "parquet": _parquet, "arrow": _arrow, "sqlite": _sqlite,
}  # fmt: skip
