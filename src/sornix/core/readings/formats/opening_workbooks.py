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
# the part of a workbook that holds a sheet
_SHEET = pattern(r"xl/worksheets/[^/]+\.xml$")
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
# forms in which numbers are shown, by their numbers; those of a workbook's own come besides
_PERCENT_FORMS = (b"9", b"10")
_FORM = pattern(rb'<(?:\w+:)?numFmt\b[^>]*\bnumFmtId="(\d+)"[^>]*\bformatCode="([^"]*)"')
_NO_SIGN = pattern(rb"&quot;.*?&quot;|\\.|_.|\[.*?\]")
_STYLES = pattern(rb"<(?:\w+:)?cellXfs\b.*?</(?:\w+:)?cellXfs>", re.DOTALL)
_STYLE = pattern(rb'<(?:\w+:)?xf\b(?:[^>]*?\bnumFmtId="(\d+)")?')
_SHARE_CELL = pattern(
    rb'<table:table-cell\b([^>]*?)\boffice:value-type="percentage"([^>]*?)'
    rb"(?:/>|>.*?</table:table-cell>)",
    re.DOTALL,
)
_VALUE = pattern(rb'\b(?:office:value|calcext:value-type)="[^"]*"')
# stands before a number that is shown as percent, while calamine has it: a letter of nobody
_AS_PERCENT = "\ue025"
_UNSOLVED_CELL = pattern(rb"<table:table-cell\b[^>]*\btable:formula=[^>]*>")


def _workbook(path: str, sheet: str, trim: str) -> tuple[str, Any]:
    """The rows of the sheets, or of one, with the first and last (row, column) of cells that are
    merged; with `trim`, without cells far off from all others."""
    import python_calamine as calamine

    far: list[str] = []
    source: Any = _without_far_cells(path, far) if trim else path
    source, shares = _with_shares(source)
    try:
        book = calamine.load_workbook(source)
        names = list(book.sheet_names)
        if sheet and sheet not in names:
            return "N", names
        shown = calamine.SheetVisibleEnum.Visible
        hidden = [one.name for one in book.sheets_metadata if one.visible != shown]
        wanted = [sheet] if sheet else [name for name in names if name not in hidden] or names
        found = []
        for name in wanted:
            one = book.get_sheet_by_name(name)
            rows = one.to_python(skip_empty_area=False)
            found.append((name, rows, list(one.merged_cell_ranges or ())))
    except (calamine.CalamineError, calamine.PasswordError):
        return "D", ""
    else:
        not_opened = [name for name in hidden if name not in wanted]
        if shares:
            found = [(name, _shares_in(rows), merged) for name, rows, merged in found]
        return "W", (names, found, far, not_opened, _unsolved(path))


def _unsolved(path: str) -> list[str]:
    """Cells with formulas whose results are not stored: their places, or "" where these stand
    nowhere. Reading them gives empty cells."""
    found: list[str] = []
    if not zipfile.is_zipfile(path):
        return found
    with zipfile.ZipFile(path) as archive:
        for name in archive.namelist():
            if _SHEET.match(name):
                part = archive.read(name)
                if b"<f" in part or b":f>" in part:
                    places = map(_PLACE.search, _UNSOLVED.findall(part))
                    found += ["" if place is None else place[1].decode() for place in places]
            elif name == "content.xml":
                cells = _UNSOLVED_CELL.findall(archive.read(name))
                found += ["" for cell in cells if b"office:value" not in cell]
    return found


Part = Callable[[bytes], bytes]


def _rewritten(source: Any, sheet: Part, tables: Part) -> BinaryIO:
    """A workbook with the parts of its sheets, or the one of all its tables, made anew."""
    content = io.BytesIO()
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(content, "w", zipfile.ZIP_STORED) as new:
        for info in old.infolist():
            part = old.read(info)
            if _SHEET.match(info.filename):
                part = sheet(part)
            elif info.filename == "content.xml":
                part = tables(part)
            new.writestr(info.filename, part)
    content.seek(0)
    return content


def _without_far_cells(path: str, far: list[str]) -> BinaryIO:
    """The workbook without cells that stand far off from all others, whose places go to `far`."""
    return _rewritten(
        path,
        lambda part: _trimmed_sheet(part, far),
        lambda part: _TABLE.sub(lambda m: _trimmed_table(m[0], far), part),
    )


def _with_shares(source: Any) -> tuple[Any, bool]:
    """The workbook with a mark before numbers that are shown as percent, which calamine does not
    tell, and whether it may have any."""
    if not zipfile.is_zipfile(source):
        return source, False
    with zipfile.ZipFile(source) as archive:
        names = archive.namelist()
        styles = archive.read("xl/styles.xml") if "xl/styles.xml" in names else b""
        there = "content.xml" in names and b'"percentage"' in archive.read("content.xml")
    those = _percent_styles(styles)
    if not those and not there:
        if not isinstance(source, str):
            source.seek(0)
        return source, False
    cell = re.compile(
        rb'<((?:\w+:)?)c\b(?=[^>]*\bs="(?:' + b"|".join(those) + rb')")(?![^>]*\bt="[^n])'
        rb"([^>]*)(?<!/)>(?:(?!</(?:\w+:)?c>).)*?<(?:\w+:)?v>([^<]*)</(?:\w+:)?v>"
        rb"\s*</(?:\w+:)?c>", re.DOTALL
    )  # fmt: skip
    return _rewritten(
        source,
        lambda part: cell.sub(_marked_cell, part) if those else part,
        lambda part: _SHARE_CELL.sub(_marked_table_cell, part),
    ), True


def _percent_styles(styles: bytes) -> list[bytes]:
    """The numbers of styles of cells in which a number is shown as percent."""
    forms = set(_PERCENT_FORMS)
    forms |= {m[1] for m in _FORM.finditer(styles) if b"%" in _NO_SIGN.sub(b"", m[2])}
    cells = _STYLES.search(styles)
    used = _STYLE.findall(cells[0]) if cells is not None else []
    return [str(number).encode() for number, form in enumerate(used) if form in forms]


def _marked_cell(match: "re.Match[bytes]") -> bytes:
    prefix, attributes, value = match.groups()
    kept = re.sub(rb'\bt="n"', b"", attributes)
    mark = _AS_PERCENT.encode()
    return b'<%sc%s t="str"><%sv>%s%s</%sv></%sc>' % (
        prefix, kept, prefix, mark, value, prefix, prefix)  # fmt: skip


def _marked_table_cell(match: "re.Match[bytes]") -> bytes:
    attributes = match[1] + match[2]
    value = re.search(rb'\boffice:value="([^"]*)"', attributes)
    if value is None:
        return match[0]
    words = b"<text:p>%s%s</text:p>" % (_AS_PERCENT.encode(), value[1])
    # calamine takes any value before the words
    attributes = _VALUE.sub(b"", attributes) + b' office:value-type="string"'
    return b"<table:table-cell%s>%s</table:table-cell>" % (attributes, words)


def _shares_in(rows: list[list[Any]]) -> list[list[Any]]:
    """Rows of cells in which marked numbers are shares."""
    from sornix.core.readings.cells.shares import Share

    return [
        [
            Share(cell[1:]) if isinstance(cell, str) and cell[:1] == _AS_PERCENT else cell
            for cell in row
        ]
        for row in rows
    ]


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
