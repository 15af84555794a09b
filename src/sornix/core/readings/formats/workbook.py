"""Workbooks (.xlsx, .xlsm, .xls, .ods) through calamine, and those that are written as XML or as a
web page: each sheet that holds readings a table."""

import zipfile
import zlib
from collections.abc import Iterable
from pathlib import Path
from typing import Any, BinaryIO

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.marked import PAGE
from sornix.core.readings.files.rowwise import table_of_rows, tables_among
from sornix.core.readings.formats.apart import Stopped, found_in
from sornix.core.readings.layouts.blocks import titles_of
from sornix.core.readings.layouts.ending import passed_over
from sornix.core.readings.tables.dialect import NOTHING_HELD, Held
from sornix.core.readings.tables.table import Table, told_of_all
from sornix.core.text import plural, short

# A workbook that unpacks to more than this, and to so many times its size, is a trap.
_MOST_BYTES = 64 << 20
_MOST_RATIO = 40
# so little, packed, cannot unpack to much: deflate reaches 1032 : 1
_HARMLESS_BYTES = _MOST_BYTES // 1032
_CHUNK = 1 << 20
# A name over two rows of a head is merged alone, and over two rows.
_FEWEST_MERGED, _LEAST_ROWS = 2, 3
_Place = tuple[int, int]


def read_workbook(
    path: Path, sheet: str | None = None, held: Held = NOTHING_HELD, written: str = ""
) -> tuple[Table, ...]:
    """The tables of the sheets, or of one, of a workbook that is `written` as marked text of a kind
    (see `opening_marked`) or not. Raises ReadingsError."""
    if not written and zipfile.is_zipfile(path):
        _check_size(path)
    part = "table" if written == PAGE else "sheet"
    letter, found = _found(path, sheet, written)
    if letter == "N" and sheet is not None:
        # it may be one of several tables on a sheet
        named = tuple(t for t in read_workbook(path, None, held, written) if t.name == sheet)
        if named:
            return named
        listed = ", ".join(f"“{name}”" for name in found)
        raise ReadingsError(
            f"There is no {part} “{sheet}”.", where=path.name, remedy=f"The {part}s are {listed}."
        )
    if letter != "W":
        raise _unread(path, letter, written)
    names, marked, far, hidden, unsolved = found
    across = [spread(rows, merged) for _, rows, merged in marked]
    sheets = [(name, rows) for name, rows, _ in marked]
    if not sheets:
        kind = "web page" if written == PAGE else "workbook"
        # a script may draw it later
        remedy = "Where one is seen on it, copy that and paste it." if written == PAGE else ""
        raise ReadingsError(f"This is a {kind} without a {part}.", where=path.name, remedy=remedy)
    tables = _tables(path, sheets, held, part, single=len(names) == 1)
    notes = [_far_words(far)] if far else []
    notes += ["Cells merged down a column hold their value in each of their rows."] * any(across)
    if unsolved:
        places = ", ".join(filter(None, unsolved[:3]))
        where = f" ({places}{' …' if len(unsolved) > 3 else ''})" if places else ""
        holds = "holds a formula" if len(unsolved) == 1 else "hold formulas"
        notes.append(
            f"{plural(len(unsolved), 'cell')}{where} {holds} without a result, and "
            f"{'counts' if len(unsolved) == 1 else 'count'} as empty: the program that wrote the "
            "file did not work them out. Open it in a program that does, and save it."
        )
    if hidden:
        listed = short(", ".join(f"“{name}”" for name in hidden), 80)
        notes.append(f"{plural(len(hidden), 'hidden sheet')} not opened: {listed}.")
    return tuple(evolve(t, notes=(*t.notes, *notes)) for t in tables) if notes else tables


def _unread(path: Path, letter: str, written: str) -> ReadingsError:
    """What is said of a workbook that was not read."""
    if letter == "X":
        return ReadingsError(
            "This XML document is no workbook.", where=path.name,
            remedy="Choose a text file with one row of readings a line.",
        )  # fmt: skip
    if not written and _is_text(path):
        return ReadingsError(
            "This is a text document, not a workbook.",
            where=path.name,
            remedy="Copy its table and paste it.",
        )
    closed = "" if written else ", or closed by a password"
    return ReadingsError(
        f"This workbook cannot be read: it is damaged{closed}.",
        where=path.name,
        remedy="Save it anew, or save the sheet as text.",
    )


def spread(rows: list[list[Any]], merged: Iterable[tuple[_Place, _Place]]) -> bool:
    """Puts the values of cells that are merged down a column into each of their rows; gives whether
    there were any. Readings of a group are merged so."""
    down: dict[int, list[tuple[int, int]]] = {}
    for (first, column), (last, last_column) in merged:
        if column == last_column and first < last < len(rows):
            down.setdefault(column, []).append((first, last))
    done = False
    for column, ends in down.items():
        if len(ends) < _FEWEST_MERGED and ends[0][1] - ends[0][0] + 1 < _LEAST_ROWS:
            continue
        for first, last in ends:
            if column < len(rows[first]) and rows[first][column] != "":
                for row in rows[first + 1 : last + 1]:
                    row[column] = rows[first][column]
                done = True
    return done


def _is_text(path: Path) -> bool:
    """Whether a packed file is what a word processor has written."""
    try:
        with zipfile.ZipFile(path) as archive:
            names = archive.namelist()
            kind = archive.read("mimetype")[:80] if "mimetype" in names else b""
    except (zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError, zlib.error):
        return False
    return "word/document.xml" in names or kind.endswith(b"opendocument.text")


def _found(path: Path, sheet: str | None, written: str) -> tuple[str, Any]:
    room, kind = ("opening_marked", written) if written else ("opening_workbooks", "workbook")
    try:
        return found_in(room, kind, path, sheet or "", "")
    except Stopped:
        # a stray cell at the end of the sheet makes it as large as sheets can be
        return _without_stray_cells(path, sheet)


def _without_stray_cells(path: Path, sheet: str | None) -> tuple[str, Any]:
    try:
        if zipfile.is_zipfile(path):
            return found_in("opening_workbooks", "workbook", path, sheet or "", "trim")
    except Stopped as error:
        raise _too_much(path) from error
    raise _too_much(path)


def _too_much(path: Path) -> ReadingsError:
    return ReadingsError(
        "This workbook asks for more memory than a file of its size should, or it is damaged.",
        where=path.name,
        remedy="Save the sheet as text, or delete the empty rows and columns behind the readings.",
    )


def _far_words(far: list[str]) -> str:
    cells = ", ".join(far[:5]) + (" …" if len(far) > 5 else "")
    return passed_over(len(far), "far off from all others", "cell", f" ({cells})")


def _tables(
    path: Path, sheets: list[tuple[str, Any]], held: Held, part: str, *, single: bool
) -> tuple[Table, ...]:
    tables, problems = [], []
    for name, rows in sheets:
        called, where = path.stem if single else name, f"{path.name}, {part} “{name}”"
        parts = tables_among(rows) if "header" not in held else []
        try:
            if len(parts) < 2:
                whole = parts[0][1] if parts else rows
                tables.append(table_of_rows(whole, called, where=where, held=held))
            else:
                tables += _parts(parts, called, where, held)
        except ReadingsError as error:
            problems.append(error)
    if not tables:
        if len(problems) == 1:
            raise problems[0]
        raise ReadingsError(
            f"None of the {plural(len(sheets), part)} holds readings.", where=path.name
        )
    return tuple(tables)


def _parts(
    parts: list[tuple[str, list[Any]]], called: str, where: str, held: Held
) -> tuple[Table, ...]:
    """The tables beside or below one another on a sheet."""
    titles = titles_of([title for title, _ in parts], called)
    tables = [
        table_of_rows(rows, title, where=where, held=held)
        for title, (_, rows) in zip(titles, parts, strict=True)
    ]
    return told_of_all(tables, "sheet")


def _check_size(path: Path) -> None:
    """Raises ReadingsError where the parts unpack to more than a workbook should.

    What the file says of its sizes can be a lie, so larger parts are unpacked and counted.
    """
    total, most = 0, max(_MOST_BYTES, _MOST_RATIO * path.stat().st_size)
    try:
        with zipfile.ZipFile(path) as archive, path.open("rb") as file:
            for info in archive.infolist():
                if info.compress_size <= _HARMLESS_BYTES // max(len(archive.infolist()), 1):
                    continue
                total += info.file_size
                if total <= most and info.compress_type == zipfile.ZIP_DEFLATED:
                    total += max(_unpacked(file, info, most) - info.file_size, 0)
                if total > most:
                    raise ReadingsError(
                        f"This workbook unpacks to more than {most >> 20} MB.",
                        where=path.name,
                        remedy="Save the sheet as text, or divide it.",
                    )
    except (zipfile.BadZipFile, zlib.error, EOFError, OSError, NotImplementedError) as error:
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
