"""Workbooks (.xlsx, .xlsm, .xls, .ods) through calamine: each sheet that holds readings a table."""

import gc
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO

from sornix.core.errors import ReadingsError
from sornix.core.readings.dialect import NOTHING_HELD, Held
from sornix.core.readings.rowwise import table_of_rows
from sornix.core.readings.table import Table
from sornix.core.text import plural

if TYPE_CHECKING:
    from python_calamine import CalamineWorkbook

# A workbook that unpacks to more than this is a trap, or nothing for a desk.
_MOST_BYTES = 1 << 29
# so little, packed, cannot unpack to much: deflate reaches 1032 : 1
_HARMLESS_BYTES = _MOST_BYTES // 1032
_CHUNK = 1 << 20


def read_workbook(
    path: Path, sheet: str | None = None, held: Held = NOTHING_HELD
) -> tuple[Table, ...]:
    """The tables of the sheets, or of one. Raises ReadingsError."""
    import python_calamine as calamine

    if zipfile.is_zipfile(path):
        _check_size(path)
    try:
        with _no_collections(), calamine.load_workbook(str(path)) as book:
            names = book.sheet_names
            if sheet is not None and sheet not in names:
                listed = ", ".join(f"“{name}”" for name in names)
                raise ReadingsError(
                    f"There is no sheet “{sheet}”.",
                    where=path.name,
                    remedy=f"The sheets are {listed}.",
                )
            return _tables(book, path, [sheet] if sheet is not None else names, held)
    except (calamine.CalamineError, calamine.PasswordError) as error:
        raise ReadingsError(
            "This workbook cannot be read: it is damaged, or closed by a password.",
            where=path.name,
            remedy="Save it anew, or save the sheet as text.",
        ) from error


def _tables(
    book: "CalamineWorkbook", path: Path, names: list[str], held: Held
) -> tuple[Table, ...]:
    tables, problems = [], []
    for name in names:
        rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
        try:
            called = name if len(book.sheet_names) > 1 else path.stem
            tables.append(
                table_of_rows(rows, called, where=f"{path.name}, sheet “{name}”", held=held)
            )
        except ReadingsError as error:
            problems.append(error)
    if not tables:
        if len(problems) == 1:
            raise problems[0]
        raise ReadingsError(
            f"None of the {plural(len(names), 'sheet')} holds readings.", where=path.name
        )
    return tuple(tables)


@contextmanager
def _no_collections() -> Iterator[None]:
    """Without garbage collection: a hundred thousand rows come as so many lists, none of them
    garbage, and looking through them again and again takes as long as reading them."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def _check_size(path: Path) -> None:
    """Raises ReadingsError where the parts unpack to more than a workbook should.

    What the file says of its sizes can be a lie, so larger parts are unpacked and counted.
    """
    total = 0
    try:
        with zipfile.ZipFile(path) as archive, path.open("rb") as file:
            for info in archive.infolist():
                if info.compress_size <= _HARMLESS_BYTES // max(len(archive.infolist()), 1):
                    continue
                total += info.file_size
                if total <= _MOST_BYTES and info.compress_type == zipfile.ZIP_DEFLATED:
                    total += max(_unpacked(file, info, _MOST_BYTES) - info.file_size, 0)
                if total > _MOST_BYTES:
                    raise ReadingsError(
                        f"This workbook unpacks to more than {_MOST_BYTES >> 20} MB.",
                        where=path.name,
                        remedy="Save the sheet as text, or divide it.",
                    )
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError) as error:
        raise ReadingsError("This workbook is damaged.", where=path.name) from error


def _unpacked(file: BinaryIO, info: zipfile.ZipInfo, most: int) -> int:
    """How many bytes a part really unpacks to, counted up to a little over `most`."""
    file.seek(info.header_offset)
    header = file.read(30)
    file.seek(int.from_bytes(header[26:28], "little") + int.from_bytes(header[28:30], "little"), 1)
    unpacker, count, left = zlib.decompressobj(-15), 0, info.compress_size
    while left > 0 and count <= most and not unpacker.eof:
        packed = file.read(min(_CHUNK, left))
        if not packed:
            break
        left -= len(packed)
        while packed and count <= most:
            count += len(unpacker.decompress(packed, _CHUNK))
            packed = unpacker.unconsumed_tail
    return count
