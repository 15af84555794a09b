"""Columns of Parquet, Arrow and Feather, through pyarrow, and tables of SQLite databases; see
child.py."""

import json
import os
import struct
import sys
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path
from typing import Any

# What is answered; None where it was written already.
_Answer = tuple[str, Any] | None


def _parquet(path: str, most_cells: str, store: str, most_bytes: str) -> _Answer:
    """The columns of a Parquet file: see _columns."""
    _set_numpy_aside()
    import pyarrow as pa
    from pyarrow import parquet

    try:
        with parquet.ParquetFile(path, memory_map=True) as file:
            metadata = file.metadata
            if metadata.num_rows * metadata.num_columns > int(most_cells):
                return "L", ""
            batches = (batch for group in _groups(file) for batch in group.to_batches())
            return _columns(file.schema_arrow, batches, metadata.num_rows, store, int(most_bytes))
    except (pa.ArrowException, OSError, ValueError):
        # after some of it was written, the end that lacks tells as much
        return "D", ""


def _groups(file: Any) -> Iterator[Any]:
    """The groups of rows of a Parquet file; the next is unpacked while one is used."""
    from threading import Thread

    found: list[Any] = []

    def read(number: int) -> None:
        try:
            found.append(file.read_row_group(number))
        except Exception as error:  # noqa: BLE001 - it is raised where it is waited for
            found.append(error)

    thread: Thread | None = None
    for number in range(file.num_row_groups + 1):
        if thread is not None:
            thread.join()
        groups = [found.pop() for _ in found]
        if number < file.num_row_groups:
            thread = Thread(target=read, args=(number,))
            thread.start()
        for group in groups:
            if isinstance(group, Exception):
                raise group
            yield group


def _arrow(path: str, most_cells: str, store: str, most_bytes: str) -> _Answer:
    """The columns of a file or a stream of Arrow, or of the older Feather: see _columns."""
    _set_numpy_aside()
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
            return _columns(
                table.schema, table.to_batches(), table.num_rows, store, int(most_bytes)
            )
    except (pa.ArrowException, OSError, ValueError):
        return "D", ""


def _set_numpy_aside() -> None:
    """Lets pyarrow do without NumPy, which takes as long to load as a million readings, and which
    doubles that are all there do not need."""
    sys.modules["numpy"] = None  # type: ignore[assignment]


def _numpy() -> Any:
    if sys.modules.get("numpy") is None:
        sys.modules.pop("numpy", None)
    import numpy as np

    return np


# Columns of numbers begin where a page of memory does, after the letter and how much is done.
_PAGE, _DONE_AT = 4096, 8


def _columns(
    schema: Any, batches: Iterable[Any], rows: int, store: str, most_bytes: int
) -> _Answer:
    """Columns of numbers and moments as they are used, one behind the other: doubles, NaN where
    there is none, moments in seconds since 1970. Then a stream of Arrow with all others, and at the
    very end what there is and where. What takes more than `most_bytes` goes to the file `store`."""
    import pyarrow as pa

    told = sys.stdout.buffer
    plain = [i for i, field in enumerate(schema) if _plain_kind(field.type)]
    others = [i for i in range(len(schema)) if i not in plain]
    size = -(-8 * rows // _PAGE) * _PAGE
    at = _PAGE + size * len(plain)
    out = (_room_in(store, at) if at > most_bytes else None) or told
    stored = out is not told
    # how much is done is told in any case
    told.write(b"C")
    told.flush()
    facts = {i: _Facts(schema.field(i).type, looks=stored) for i in plain}
    left, done = [], 0
    for batch in batches:
        for number, (i, known) in enumerate(facts.items()):
            values = known.of(batch.column(i))
            os.pwrite(out.fileno(), values, _PAGE + number * size + 8 * done)
        if others:
            left.append(batch.select(others))
        done += batch.num_rows
        os.pwrite(told.fileno(), struct.pack("d", done / max(rows, 1)), _DONE_AT)
    out.seek(at)
    with pa.ipc.new_stream(out, pa.schema([schema.field(i) for i in others])) as stream:
        for batch in left:
            stream.write_batch(batch)
    header = {"rows": rows, "names": list(schema.names), "size": size, "others": at,
              "plain": {i: known.told for i, known in facts.items()}}  # fmt: skip
    begin = out.tell()
    out.write(json.dumps(header).encode())
    out.write(begin.to_bytes(8, "little"))
    out.flush()
    return ("S", "") if stored else None


class _Facts:
    """What is known of a column of numbers or moments: whether all are there, None where nobody
    `looks`; the largest whole number, whether moments have a zone."""

    def __init__(self, kind: Any, *, looks: bool) -> None:
        import pyarrow as pa

        self._moments = _plain_kind(kind) == "moment"
        self._whole, self._short = pa.types.is_integer(kind), not pa.types.is_float64(kind)
        self._looks = looks or self._short
        self.told: dict[str, Any] = {
            "kind": _plain_kind(kind), "complete": True if self._looks else None, "largest": 0.0,
            "zone": bool(getattr(kind, "tz", None)),
        }  # fmt: skip

    def of(self, column: Any) -> Any:
        """A part of the column as doubles, in bytes."""
        import pyarrow as pa

        if self._moments:
            column = column.cast(pa.timestamp("us"), safe=False).cast(pa.int64())
        there, raw = column.buffers()
        if not (self._looks or column.null_count):
            return memoryview(raw).cast("B")[8 * column.offset :][: 8 * len(column)]
        np = _numpy()
        kind = "f2" if pa.types.is_float16(column.type) else str(column.type)
        values = np.frombuffer(raw, np.dtype(_LONG.get(kind, kind)))[column.offset :][: len(column)]
        whole, short = self._whole, self._short
        if self._moments:
            values = values / 1e6
        elif short and not whole:
            values = as_written(values)
        # what lies in the file's own memory is not written to
        values = values.astype(np.float64, copy=bool(column.null_count))
        if column.null_count:
            bits = np.unpackbits(np.frombuffer(there, np.uint8), bitorder="little")
            values[bits[column.offset :][: len(column)] == 0] = np.nan
        values, complete = _only_finite(values)
        self.told["complete"] = bool(self.told["complete"]) and complete
        if whole and len(values):
            self.told["largest"] = max(self.told["largest"], float(np.nanmax(np.abs(values))))
        return values


# What NumPy calls otherwise than Arrow.
_LONG = {"float": "f4", "double": "f8"}


def _only_finite(values: Any) -> tuple[Any, bool]:
    """Doubles with NaN in place of what is not finite, and whether all were."""
    np = _numpy()
    with np.errstate(invalid="ignore", over="ignore"):
        if np.isfinite(values.sum()) or np.isfinite(values).all():
            return values, True
    return np.where(np.isfinite(values), values, np.nan), False


def _room_in(store: str, size: int) -> Any:
    """The file `store`, with room for so many bytes, since what has its room cannot run out of it;
    None where there is none: memory has to do then."""
    try:
        out = Path(store).open("w+b")  # noqa: SIM115 - the process ends with it
        os.posix_fallocate(out.fileno(), 0, size)
    except OSError:
        return None
    return out


def _plain_kind(kind: Any) -> str:
    """How a type of Arrow becomes doubles: a `number`, a `moment`, or "" where it does not."""
    import pyarrow as pa

    if pa.types.is_floating(kind) or pa.types.is_integer(kind):
        return "number"
    return "moment" if pa.types.is_timestamp(kind) or pa.types.is_date(kind) else ""


def as_written(raw: Any) -> Any:
    """Floating-point numbers of fewer bits as the decimals that they stand for, not with digits
    that nobody measured: 0.1, not 0.10000000149011612."""
    np = _numpy()
    wide = raw.astype(np.float64)
    if raw.dtype.itemsize >= 8:
        return wide
    for places in range(_MOST_PLACES):
        # most often all of them have as few places as the first ones
        if _have(places, raw[:_FIRST], wide[:_FIRST]):
            if _have(places, raw, wide):
                return np.where(
                    np.isfinite(wide), np.rint(wide * 10.0**places) / 10.0**places, np.nan
                )
            break
    with np.errstate(all="ignore"):
        places = 6 - np.floor(np.log10(np.abs(wide)))
        usual = (places >= 0) & (places <= 22)
        powers = 10.0 ** np.where(usual, places, 0)
        # whole numbers and powers of ten are exact here, and so their quotient is the nearest
        found = np.rint(wide * powers) / powers
        rest = ~(usual & (found.astype(raw.dtype) == raw)) & np.isfinite(wide) & (wide != 0)
    found[rest] = raw[rest].astype(str).astype(np.float64)
    found[wide == 0] = 0.0
    return np.where(np.isfinite(wide), found, np.nan)


# So many places after the point are tried for all at once, on so many of the first ones.
_MOST_PLACES, _FIRST = 7, 1000


def _have(places: int, raw: Any, wide: Any) -> bool:
    """Whether numbers `raw` of fewer bits are decimals of so many places, of seven digits."""
    np = _numpy()
    with np.errstate(all="ignore"):
        rounded = np.rint(wide * 10.0**places)
        same = (rounded / 10.0**places).astype(raw.dtype) == raw
        return bool((same & (np.abs(rounded) < 1e7) | ~np.isfinite(wide)).all())


def _sqlite(path: str, most_cells: str, table: str) -> _Answer:
    """The rows of the tables and views of an SQLite database, or of one, with the places of columns
    in which bytes stand that are neither text nor numbers."""
    import sqlite3
    from urllib.parse import quote

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
