"""Sheets of workbooks, through calamine; see child.py."""

import io
import itertools
import re
import zipfile
from collections.abc import Callable
from typing import Any, BinaryIO

from sornix.core.patterns import pattern

# An extent of more cells than this, most of them empty, is that of a stray cell.
_LARGE = 2_000_000
_SPARSE = 50
# So many empty rows or columns part the readings from a stray cell.
_GAP_ROWS, _GAP_COLUMNS = 10_000, 200
_CELL = pattern(
    rb'<(?:\w+:)?c\b[^>]*?\br="([A-Z]{1,3})(\d{1,7})"[^>]*?(?:/>|>.*?</(?:\w+:)?c>)', re.DOTALL
)
_DIMENSION = pattern(rb"<(?:\w+:)?dimension\b[^>]*/>")
_TABLE = pattern(rb"<table:table\b.*?</table:table>", re.DOTALL)
_ROW = pattern(rb"<table:table-row\b[^>]*?(?:/>|>.*?</table:table-row>)", re.DOTALL)
_REPEATED_ROWS = pattern(rb'<table:table-row\b[^>]*number-rows-repeated="(\d+)"')
_REPEATED_CELLS = pattern(
    rb'<table:(?:covered-)?table-cell\b[^>]*number-columns-repeated="(\d+)"[^>]*>'
)


# a formula of which no result was stored
_UNSOLVED = pattern(
    rb"<(?:\w+:)?c\b([^>]*)(?<!/)>\s*<(?:\w+:)?f\b(?:[^>]*/>|[^<]*</(?:\w+:)?f>)"
    rb"\s*(?:<(?:\w+:)?v\s*/>|<(?:\w+:)?v>\s*</(?:\w+:)?v>)?\s*</(?:\w+:)?c>"
)
_PLACE = pattern(rb'\br="([A-Z]{1,3}\d{1,7})"')
_UNSOLVED_CELL = pattern(rb"<table:table-cell\b[^>]*\btable:formula=[^>]*>")


def _workbook(path: str, sheet: str, trim: str) -> tuple[str, Any]:
    """The rows of the sheets, or of one; with `trim`, without cells far off from all others."""
    import python_calamine as calamine

    far: list[str] = []
    source: Any = _without_far_cells(path, far) if trim else path
    try:
        book = calamine.load_workbook(source)
        names = list(book.sheet_names)
        if sheet and sheet not in names:
            return "N", names
        shown = calamine.SheetVisibleEnum.Visible
        hidden = [one.name for one in book.sheets_metadata if one.visible != shown]
        wanted = [sheet] if sheet else [name for name in names if name not in hidden] or names
        found = [
            (name, book.get_sheet_by_name(name).to_python(skip_empty_area=False)) for name in wanted
        ]
    except (calamine.CalamineError, calamine.PasswordError):
        return "D", ""
    else:
        not_opened = [name for name in hidden if name not in wanted]
        return "W", (names, found, far, not_opened, _unsolved(path))


def _unsolved(path: str) -> list[str]:
    """Cells with formulas whose results are not stored: their places, or "" where these stand
    nowhere. Reading them gives empty cells."""
    found: list[str] = []
    if not zipfile.is_zipfile(path):
        return found
    with zipfile.ZipFile(path) as archive:
        for name in archive.namelist():
            if re.match(r"xl/worksheets/[^/]+\.xml$", name):
                part = archive.read(name)
                if b"<f" in part or b":f>" in part:
                    places = map(_PLACE.search, _UNSOLVED.findall(part))
                    found += ["" if place is None else place[1].decode() for place in places]
            elif name == "content.xml":
                cells = _UNSOLVED_CELL.findall(archive.read(name))
                found += ["" for cell in cells if b"office:value" not in cell]
    return found


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


READERS: dict[str, Callable[[str, str, str], tuple[str, Any]]] = {"workbook": _workbook}
