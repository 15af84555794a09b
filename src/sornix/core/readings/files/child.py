"""A process of its own that opens files of foreign binary formats: `child.py KIND LIMIT PATH …`.

The libraries that read workbooks and Parquet are large and foreign, and a damaged file may bring
them down. Here they bring down nothing but this process, which has a limit on its memory. It
imports nothing of Sornix, so that it starts at once, and writes what it found to standard output:
for a workbook pickled rows, for Parquet a stream of Arrow, after one letter that says which.
"""

import io
import itertools
import pickle
import re
import resource
import sys
import zipfile
from collections.abc import Callable, Iterator
from typing import Any, BinaryIO

_OUT = sys.stdout.buffer
# An extent of more cells than this, most of them empty, is that of a stray cell.
_LARGE = 2_000_000
_SPARSE = 50
# So many empty rows or columns part the readings from a stray cell.
_GAP_ROWS, _GAP_COLUMNS = 10_000, 200
_CELL = re.compile(
    rb'<(?:\w+:)?c\b[^>]*?\br="([A-Z]{1,3})(\d{1,7})"[^>]*?(?:/>|>.*?</(?:\w+:)?c>)', re.DOTALL
)
_DIMENSION = re.compile(rb"<(?:\w+:)?dimension\b[^>]*/>")
_TABLE = re.compile(rb"<table:table\b.*?</table:table>", re.DOTALL)
_ROW = re.compile(rb"<table:table-row\b[^>]*?(?:/>|>.*?</table:table-row>)", re.DOTALL)
_REPEATED_ROWS = re.compile(rb'<table:table-row\b[^>]*number-rows-repeated="(\d+)"')
_REPEATED_CELLS = re.compile(
    rb'<table:(?:covered-)?table-cell\b[^>]*number-columns-repeated="(\d+)"[^>]*>'
)


def _say(letter: bytes, value: object) -> None:
    _OUT.write(letter + pickle.dumps(value, protocol=5))
    _OUT.flush()


def _workbook(path: str, sheet: str, trim: str) -> None:
    """The rows of the sheets, or of one; with `trim`, without cells far off from all others."""
    import python_calamine as calamine

    far: list[str] = []
    source: Any = _without_far_cells(path, far) if trim else path
    try:
        book = calamine.load_workbook(source)
        names = list(book.sheet_names)
        if sheet and sheet not in names:
            _say(b"N", names)
            return
        shown = calamine.SheetVisibleEnum.Visible
        hidden = [one.name for one in book.sheets_metadata if one.visible != shown]
        wanted = [sheet] if sheet else [name for name in names if name not in hidden] or names
        found = [
            (name, book.get_sheet_by_name(name).to_python(skip_empty_area=False)) for name in wanted
        ]
    except (calamine.CalamineError, calamine.PasswordError):
        _say(b"D", "")
    else:
        _say(b"W", (names, found, far, [name for name in hidden if name not in wanted]))


def _without_far_cells(path: str, far: list[str]) -> BinaryIO:
    """The workbook without cells that stand far off from all others, whose places go to `far`."""
    content = io.BytesIO()
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(content, "w", zipfile.ZIP_STORED) as new:
        for info in old.infolist():
            part = old.read(info)
            if re.match(r"xl/worksheets/[^/]+\.xml$", info.filename):
                part = _trimmed_sheet(part, far)
            elif info.filename == "content.xml":
                part = _TABLE.sub(lambda m: _trimmed_table(m[0], far), part)
            new.writestr(info.filename, part)
    content.seek(0)
    return content


def _trimmed_sheet(part: bytes, far: list[str]) -> bytes:
    places = [(_number(m[1]), int(m[2])) for m in _CELL.finditer(part)]
    if not places:
        return part
    columns, rows = (sorted(set(numbers)) for numbers in zip(*places, strict=True))
    if rows[-1] * columns[-1] < max(_LARGE, _SPARSE * len(places)):
        return part
    most_rows, most_columns = _end(rows, _GAP_ROWS), _end(columns, _GAP_COLUMNS)

    def keep(match: "re.Match[bytes]") -> bytes:
        if _number(match[1]) <= most_columns and int(match[2]) <= most_rows:
            return match[0]
        far.append((match[1] + match[2]).decode())
        return b""

    return _DIMENSION.sub(b"", _CELL.sub(keep, part))


def _number(letters: bytes) -> int:
    number = 0
    for letter in letters:
        number = 26 * number + letter - 64
    return number


def _end(numbers: list[int], gap: int) -> int:
    """The last of some rising numbers before the first wide gap."""
    for one, following in itertools.pairwise(numbers):
        if following - one > gap:
            return one
    return numbers[-1]


def _trimmed_table(table: bytes, far: list[str]) -> bytes:
    """A table of an .ods without what follows a very long repetition."""
    rows = []
    for number, match in enumerate(_ROW.finditer(table), 1):
        row = match[0]
        repeated = _REPEATED_ROWS.match(row)
        if repeated and int(repeated[1]) > _GAP_ROWS:
            if table.find(b"office:value", match.start()) >= 0:
                far.append(f"below row {number}")
            break
        for cell in _REPEATED_CELLS.finditer(row):
            if int(cell[1]) > _GAP_COLUMNS:
                if row.find(b"office:value", cell.start()) >= 0:
                    far.append(f"in row {number}")
                row = row[: cell.start()] + b"</table:table-row>"
                break
        rows.append(row)
    begin = _ROW.search(table)
    if begin is None:
        return table
    return table[: begin.start()] + b"".join(rows) + b"</table:table>"


def _parquet(path: str, most_cells: str, _unused: str) -> None:
    """The columns as a stream of Arrow."""
    import pyarrow as pa
    from pyarrow import parquet

    try:
        with parquet.ParquetFile(path, memory_map=True) as file:
            metadata = file.metadata
            if metadata.num_rows * metadata.num_columns > int(most_cells):
                _say(b"L", "")
                return
            _OUT.write(b"A")
            with pa.ipc.new_stream(_OUT, file.schema_arrow) as stream:
                for batch in _batches(file):
                    stream.write_batch(batch)
        _OUT.flush()
    except (pa.ArrowException, OSError, ValueError):
        # after some of it was written, the end that lacks tells as much
        _say(b"D", "")


def _batches(file: Any) -> Iterator[Any]:
    for group in range(file.num_row_groups):
        yield from file.read_row_group(group).to_batches()


_KINDS: dict[str, Callable[[str, str, str], None]] = {"workbook": _workbook, "parquet": _parquet}


def main() -> None:
    kind, limit, *arguments = sys.argv[1:]
    resource.setrlimit(resource.RLIMIT_AS, (int(limit), int(limit)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        _KINDS[kind](*arguments)
    except MemoryError:
        _say(b"M", "")


if __name__ == "__main__":
    main()
