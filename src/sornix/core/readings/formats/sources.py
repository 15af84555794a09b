"""Files of readings of any type, found by what is in them."""

from collections.abc import Callable, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any, NamedTuple

from attrs import evolve

from sornix.core.errors import ReadingsError, refusal
from sornix.core.letters import printable
from sornix.core.marked import PAGE, SHEETS, is_typed, marked_kind
from sornix.core.readings.files.delimited import read_bytes, read_text, read_texts
from sornix.core.readings.files.encoding import PACKED
from sornix.core.readings.layouts.blocks import blocks_in
from sornix.core.readings.tables.dialect import NOTHING_HELD, Held
from sornix.core.readings.tables.origin import Source
from sornix.core.readings.tables.table import Table, unique_names

# So much of a file tells what it is.
_HEAD = 1024
_PARTS_OF_BOOKS = ("[Content_Types].xml", "mimetype", "content.xml")
# A text that was pasted is kept so that it can be read in another way, up to this size.
_MOST_KEPT = 1 << 20


class FileType(NamedTuple):
    """A type of file: words, its endings, what it begins with (`always`, or most of the time), and
    how it is read."""

    words: str
    endings: tuple[str, ...]
    beginnings: tuple[bytes, ...]
    read: Callable[[Path, str | None, Held], tuple[Table, ...]]
    always: bool = True


def _delimited(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
    tables = read_texts(read_bytes(path), path.stem, where=path.name, held=held)
    if path.suffix.lower() in FILE_TYPES["workbook"].endings:
        said = f"This is a text in spite of the ending {path.suffix}."
        tables = tuple(evolve(table, notes=(said, *table.notes)) for table in tables)
    return _chosen(tables, sheet, path)


def _chosen(tables: tuple[Table, ...], name: str | None, path: Path) -> tuple[Table, ...]:
    """The tables of a file, or the one of a name where there are several."""
    return tables if name is None or len(tables) == 1 else _of_name(tables, name, path)


def _of_name(tables: Sequence[Table], name: str, path: Path) -> tuple[Table, ...]:
    """The table of that name among those of a file. Raises ReadingsError."""
    found = tuple(table for table in tables if table.name == name)
    if not found:
        names = ", ".join(f"“{table.name}”" for table in tables)
        raise ReadingsError(
            f"There is no table “{name}”.", where=path.name, remedy=f"The tables are {names}."
        )
    return found


def _workbook(written: str = "") -> Callable[[Path, str | None, Held], tuple[Table, ...]]:
    def read(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
        from sornix.core.readings.formats.workbook import read_workbook

        return read_workbook(path, sheet, held, written)

    return read


def _parquet(path: Path, _sheet: str | None, _held: Held) -> tuple[Table, ...]:
    from sornix.core.readings.formats.columns import read_columns_of

    return read_columns_of("parquet", "Parquet", path)


def _arrow(path: Path, _sheet: str | None, _held: Held) -> tuple[Table, ...]:
    from sornix.core.readings.formats.columns import read_columns_of

    return read_columns_of("arrow", "Arrow", path)


def _arrays(kind: str, words: str) -> Callable[[Path, str | None, Held], tuple[Table, ...]]:
    def read(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
        from sornix.core.readings.formats.arrays import read_arrays

        return _chosen(read_arrays(kind, words, path, held), sheet, path)

    return read


def _database(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
    from sornix.core.readings.formats.database import read_database

    return read_database(path, sheet, held)


def _spectra(path: Path, sheet: str | None, _held: Held) -> tuple[Table, ...]:
    from sornix.core.readings.formats.jcamp import read_jcamp

    return _chosen(read_jcamp(read_bytes(path), path), sheet, path)


def _json(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
    from sornix.core.readings.formats.datapackages import PACKAGE, read_package
    from sornix.core.readings.formats.records import read_json

    if path.name == PACKAGE:
        tables = read_package(path, lambda name: path.parent / name, held, path.name)
    else:
        tables = read_json(path, held)
    return _chosen(tables, sheet, path)


def _in_zip(path: Path, head: bytes) -> str:
    """What a ZIP is that is no workbook, by its name in FILE_TYPES; else ""."""
    if not head.startswith(b"PK\x03\x04") or path.suffix.lower() not in (
        ".zip",
        ".npz",
        ".sornix",
    ):
        return ""
    import zipfile

    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
    except (zipfile.BadZipFile, OSError, NotImplementedError):
        return ""
    if path.suffix.lower() == ".npz":
        return "numpy"
    return "" if any(name in _PARTS_OF_BOOKS for name in names) else "packed"


def _packed(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
    """The tables of all files in a packed one. Raises ReadingsError where none holds readings."""
    from sornix.core.readings.files.packed import unpacked
    from sornix.core.readings.formats.datapackages import PACKAGE, read_package

    with path.open("rb") as file:
        head = file.read(_HEAD)
    found: list[Table] = []
    problems: list[ReadingsError] = []
    with unpacked(path, head) as parts:
        described = next((n for n in parts if Path(n).name == PACKAGE), None)
        if described is not None:
            folder = described.removesuffix(PACKAGE)
            beside = {name.removeprefix(folder): part for name, part in parts.items()}
            tables = read_package(parts[described], beside.get, held, path.name)
            return _chosen(tables, sheet, path)
        for part in parts.values():
            kind = type_in(part)
            if kind is FILE_TYPES["packed"]:
                problems.append(ReadingsError("This file is packed twice.", where=path.name))
                continue
            try:
                found += kind.read(part, None, held)
            except ReadingsError as error:
                problems.append(error)
    if not found:
        raise problems[0]
    notes = (f"The ZIP holds {len(parts)} files.",) if len(parts) > 1 else ()
    names = unique_names(table.name for table in found)
    tables = tuple(
        evolve(t, name=name, notes=(*notes, *t.notes)) for t, name in zip(found, names, strict=True)
    )
    return _chosen(tables, sheet, path)


# Tried in order by what a file begins with, then by its ending; text is the last resort.
FILE_TYPES: dict[str, FileType] = {
    "workbook": FileType(
        "Workbook",
        (".xlsx", ".xlsm", ".xls", ".ods"),
        (b"PK\x03\x04", b"\xd0\xcf\x11\xe0"),
        _workbook(),
    ),
    "packed": FileType("Packed files", (*PACKED, ".zip"), tuple(PACKED.values()), _packed),
    "parquet": FileType("Parquet", (".parquet",), (b"PAR1",), _parquet),
    "arrow": FileType(
        "Arrow",
        (".arrow", ".feather", ".ipc", ".arrows"),
        (b"ARROW1", b"FEA1", b"\xff\xff\xff\xff"),
        _arrow,
    ),
    "hdf5": FileType(
        "HDF5 or NetCDF",
        (".h5", ".hdf5", ".hdf", ".nc", ".nc4"),
        (b"\x89HDF\r\n\x1a\n",),
        _arrays("hdf5", "HDF5"),
    ),
    "netcdf": FileType(
        "NetCDF, classic",
        (".cdf",),
        (b"CDF\x01", b"CDF\x02", b"CDF\x05"),
        _arrays("netcdf", "NetCDF"),
    ),
    "numpy": FileType("NumPy arrays", (".npy", ".npz"), (b"\x93NUMPY",), _arrays("numpy", "NumPy")),
    "database": FileType(
        "SQLite database", (".sqlite", ".sqlite3", ".db"), (b"SQLite f",), _database
    ),
    "spectra": FileType(
        "JCAMP-DX",
        (".jdx", ".dx", ".jcamp", ".jcm"),
        (b"##TITLE=", b"##Title=", b"##title="),
        _spectra,
        always=False,
    ),
    PAGE: FileType("Web page", (".html", ".htm"), (), _workbook(PAGE)),
    SHEETS: FileType("Workbook as XML", (".xml",), (), _workbook(SHEETS)),
    "json": FileType("JSON records", (".json", ".jsonl", ".ndjson"), (), _json),
    "text": FileType("Delimited text", (".csv", ".tsv", ".txt", ".dat"), (), _delimited),
}


def read_file(path: Path, sheet: str | None = None, held: Held = NOTHING_HELD) -> tuple[Table, ...]:
    """The tables in a file, each with its source. Raises ReadingsError."""
    if "\0" in str(path):
        raise ReadingsError("There is no such file.", where=path.name)
    try:
        return _read_file(path, sheet, held)
    except OSError as error:
        # it may not be read, or was taken away meanwhile
        raise ReadingsError(
            f"The file cannot be read ({refusal(error)}).", where=path.name
        ) from error


def _read_file(path: Path, sheet: str | None, held: Held) -> tuple[Table, ...]:
    kind = type_in(path)
    tables = kind.read(path, sheet, held)
    # names of files may hold anything
    tables = tuple(evolve(table, name=printable(table.name)) for table in tables)
    if (
        sheet not in (None, *(table.name for table in tables))
        and len(tables) == 1
        and tables[0].source is None
        and kind not in [FILE_TYPES[book] for book in ("workbook", PAGE, SHEETS)]
    ):
        raise ReadingsError("This file has no sheets.", where=path.name)
    state = path.stat()
    return tuple(
        evolve(
            t,
            source=Source(
                str(path.resolve()), _sheet_of(t, path), state.st_size, state.st_mtime_ns
            ),
        )
        for t in tables
    )


def type_in(path: Path) -> FileType:
    """The type of a file that is there or not. Raises ReadingsError, OSError."""
    head = b""
    if path.is_file():
        with path.open("rb") as file:
            head = file.read(_HEAD)
    in_zip = _in_zip(path, head)
    if in_zip:
        return FILE_TYPES[in_zip]
    for kind in FILE_TYPES.values():
        if head.startswith(kind.beginnings or (b"\0never",)):
            return kind
    marked = marked_kind(head)
    if marked:
        return FILE_TYPES[marked]
    text = FILE_TYPES["json" if _is_records(head) else "text"]
    ending = path.suffix.lower()
    named = next((kind for kind in FILE_TYPES.values() if ending in kind.endings), text)
    if not head or named in (FILE_TYPES["text"], FILE_TYPES["packed"]):
        return text
    if named is FILE_TYPES["workbook"] and is_typed(head):
        return FILE_TYPES["text"]
    if named.beginnings and named.always:
        raise ReadingsError(
            f"This is no {named.words} file in spite of its name, or it is damaged.",
            where=path.name,
        )
    return named


def _is_records(head: bytes) -> bool:
    """Whether what a text begins with is a record of JSON, or a list of such."""
    begun = head.removeprefix(b"\xef\xbb\xbf").lstrip()
    if begun.startswith(b"["):
        return begun[1:].lstrip().startswith(b"{")
    if not begun.startswith(b"{"):
        return False
    import json

    with suppress(ValueError):
        return isinstance(json.loads(begun.splitlines()[0]), dict)
    return False


def _sheet_of(table: Table, path: Path) -> str:
    return table.name if table.name != printable(path.stem) else ""


def whole_lines_of(raw: bytes) -> bytes:
    """A text without a last line that has no end yet, whatever its encoding."""
    marks = {b"\xff\xfe": (b"\n\0", b"\r\0"), b"\xfe\xff": (b"\0\n", b"\0\r")}
    ends, width = marks.get(raw[:2], (b"\n", b"\r")), 2 if raw[:2] in marks else 1
    if width == 1 and raw[1:2] == b"\0":
        ends, width = marks[b"\xff\xfe"], 2
    elif width == 1 and raw[:1] == b"\0":
        ends, width = marks[b"\xfe\xff"], 2
    last = 0
    for end in ends:
        at = raw.rfind(end)
        # the two bytes of a letter stand at an even place
        while at > 0 and at % width:
            at = raw.rfind(end, 0, at + len(end) - 1)
        last = max(last, at + len(end) if at >= 0 else 0)
    return raw[:last]


def read_pasted(text: str, html: str = "", name: str = "Pasted readings") -> Table:
    """The table on a clipboard: tab-separated or any delimited text, or a table of HTML.

    Raises ReadingsError.
    """
    if marked_kind(text[:_HEAD].encode()) == PAGE:
        # the page itself, not what is seen of it
        text, html = "", text
    if html and "\t" not in text and (found := _html_tables(html)):
        from sornix.core.readings.files.rowwise import table_of_rows

        table = table_of_rows(found[0], name)
        return evolve(table, notes=(*_is_first_of(len(found)), *table.notes))
    raw = text.encode()
    blocks = blocks_in(raw) if raw.strip() else []
    part = blocks[0].part_of(raw.splitlines(keepends=True)) if blocks else raw
    several = _is_first_of(len(blocks))
    if several:
        raw = part
    table = read_text(part, name)
    table = evolve(table, notes=(*several, *table.notes))
    return evolve(table, source=Source(text=raw)) if len(raw) <= _MOST_KEPT else table


def _is_first_of(count: int) -> tuple[str, ...]:
    several = f"There are {count} tables in what was pasted, and this is the first."
    return (several,) if count > 1 else ()


def html_rows(html: str) -> list[list[str]]:
    """The rows of the first table in a piece of HTML; none where there is no table."""
    return next(iter(_html_tables(html)), [])


def _html_tables(html: str) -> list[list[list[Any]]]:
    from sornix.core.readings.formats.opening_marked import tables_in
    from sornix.core.readings.formats.workbook import spread

    found = tables_in(html)
    for _, rows, merged in found:
        spread(rows, merged)
    return [[row for row in rows if any(row)] for _, rows, _ in found]
