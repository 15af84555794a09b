"""Marked text that holds tables: web pages, and workbooks written as XML; see child.py.

Many an instrument writes one of these, or plain text, and calls the file a workbook.
"""

import datetime as dt
import re
from collections.abc import Callable
from contextlib import suppress
from decimal import Decimal, InvalidOperation
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

from sornix.core.marked import PAGE, SHEETS, UTF16
from sornix.core.patterns import pattern

_CODE = pattern(rb"""(?:charset|encoding)\s*=\s*["']?([\w.:-]+)""", re.IGNORECASE)
# A cell of a page spans no more others, and no place lies further out.
_LONG = 6
_MOST_SPAN, _MOST_ROWS, _MOST_COLUMNS = 1000, 1 << 20, 1 << 14
_RAISED = str.maketrans("0123456789+-\u2212", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻")
_HEADINGS = ("h1", "h2", "h3", "h4", "h5", "h6", "caption")
_APART = ("br", "p", "div", "li")
_UNSEEN = ("script", "style", "template")
# where spreadsheets that wrote a page keep the number that a cell shows rounded
_EXACT = ("x:num", "sdval")
# times without a day are those of such days
_NO_DAYS = (dt.date(1899, 12, 30), dt.date(1899, 12, 31))
Found = tuple[str, Any]
_Ends = tuple[tuple[int, int], tuple[int, int]]
# a table: what it is called, its rows, and the ends of cells that are merged
_Marked = tuple[str, list[list[Any]], list[_Ends]]


class _Table:
    """A table of a page: its title, rows of cells, and the ends of cells that reach over several
    rows, ((row, column), (last row, last column))."""

    def __init__(self, title: str) -> None:
        self.title = title
        self.rows: list[list[Any]] = []
        self.merged: list[_Ends] = []
        self._taken: set[tuple[int, int]] = set()
        self._words: list[str] | None = None
        self._about: dict[str, str | None] = {}

    @property
    def open_cell(self) -> list[str] | None:
        return self._words

    def begin_row(self) -> None:
        self.end_cell()
        self.rows.append([])

    def begin_cell(self, about: dict[str, str | None]) -> None:
        self.end_cell()
        if not self.rows:
            self.rows.append([])
        self._words, self._about = [], about

    def end_cell(self) -> None:
        """Puts what was said into the cell that is open, which stands where none reaches from
        above."""
        if self._words is None:
            return
        at, row = len(self.rows) - 1, self.rows[-1]
        while (at, len(row)) in self._taken:
            row.append("")
        begin, across = len(row), self._span("colspan", _MOST_SPAN)
        down = self._span("rowspan", _MOST_SPAN // across)
        row += [_value(" ".join("".join(self._words).split()), self._about), *[""] * (across - 1)]
        if down > 1:
            self.merged.append(((at, begin), (at + down - 1, begin + across - 1)))
            self._taken |= {(at + i, begin + k) for i in range(1, down) for k in range(across)}
        self._words = None

    def _span(self, name: str, most: int) -> int:
        told = (self._about.get(name) or "").strip()
        return min(max(int(told), 1), most) if told.isdecimal() and len(told) < _LONG else 1


class _Page(HTMLParser):
    """Reads the tables of a page, also those in cells of others that only lay it out."""

    def __init__(self) -> None:
        super().__init__()
        self.tables: list[_Table] = []
        self._open: list[_Table] = []
        self._heading: list[str] | None = None
        self._title, self._unseen, self._raised = "", 0, False

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        table = self._open[-1] if self._open else None
        if tag in _UNSEEN:
            self._unseen += 1
        elif tag in _HEADINGS:
            self._heading = []
        elif tag == "table":
            self._open.append(_Table(self._title))
            self.tables.append(self._open[-1])
            self._title = ""
        elif tag == "sup":
            self._raised = True
        elif tag in _APART:
            self.handle_data(" ")
        elif table is not None and tag == "tr":
            table.begin_row()
        elif table is not None and tag in ("td", "th"):
            table.begin_cell(dict(attrs))

    def handle_endtag(self, tag: str) -> None:
        if tag in _UNSEEN:
            self._unseen = max(self._unseen - 1, 0)
        elif tag in _HEADINGS and self._heading is not None:
            said, self._heading = " ".join("".join(self._heading).split()), None
            if tag == "caption" and self._open:
                self._open[-1].title = said
            else:
                self._title = said
        elif tag == "sup":
            self._raised = False
        elif self._open and tag in ("td", "th", "tr", "table"):
            self._open[-1].end_cell()
            if tag == "table":
                self._open.pop()

    def handle_data(self, data: str) -> None:
        place = self._open[-1].open_cell if self._open else None
        place = self._heading if self._heading is not None else place
        if place is not None and not self._unseen:
            place.append(data.translate(_RAISED) if self._raised else data)

    def close(self) -> None:
        super().close()
        for table in self._open:
            table.end_cell()


def tables_in(html: str) -> list[_Marked]:
    """The tables in a piece of HTML that have cells: the title of each, or "", its rows, and the
    ends of cells that reach over several rows."""
    reader = _Page()
    reader.feed(html)
    reader.close()
    found = []
    for table in reader.tables:
        rows, width = table.rows, max(map(len, table.rows), default=0)
        if any(map(any, rows)):
            rows = [row + [""] * (width - len(row)) for row in rows]
            found.append((table.title, rows, table.merged))
    return found


def _value(text: str, about: dict[str, str | None]) -> Any:
    """What stands in a cell: the exact number where the page tells it and the cell shows it, as
    percent perhaps."""
    told = next((about[name] for name in _EXACT if about.get(name)), None)
    if told is None:
        return text
    try:
        exact = Decimal(told)
    except InvalidOperation:
        return text
    if _shows(text, exact):
        return float(exact)
    return _share(float(exact)) if text.endswith("%") and _shows(text, exact * 100) else text


def _shows(text: str, exact: Decimal) -> bool:
    """Whether a text is a number, rounded, whichever mark it is written with; a date is none."""
    for mark in ".,":
        plain = re.sub(rf"[^\dEe+\-{mark}]", "", text.replace("\u2212", "-")).replace(mark, ".")
        with suppress(ArithmeticError):
            shown = Decimal(plain)
            last = shown.as_tuple().exponent
            if isinstance(last, int) and abs(shown - exact) <= Decimal("0.51").scaleb(last):
                return True
    return False


def _share(value: float) -> Any:
    from sornix.core.readings.cells.shares import Share

    return Share(value)


def _text_of(raw: bytes) -> str:
    """A page as text: in the code that it tells, or that its letters fit."""
    if raw.startswith(UTF16):
        return raw.decode("utf-16", "replace")
    told = _CODE.search(raw[:4096])
    for code in (told[1].decode() if told else "utf-8", "utf-8"):
        try:
            return raw.removeprefix(b"\xef\xbb\xbf").decode(code)
        except (UnicodeDecodeError, LookupError):
            continue
    from sornix.core.readings.cells.alphabets import code_of

    return raw.decode(code_of(raw)[0], "replace")


def _chosen(found: list[_Marked], name: str, hidden: list[str]) -> Found:
    """What is told of tables with names, or of one of them, as of the sheets of a workbook."""
    names = [called for called, _, _ in found]
    if name and name not in names:
        return "N", names
    kept = [one for one in found if one[0] == name or (not name and one[0] not in hidden)]
    return "W", (names, kept, [], [one for one in hidden if one != name], [])


def _page(path: str, name: str, _trim: str) -> Found:
    """The tables of a web page, or one."""
    found = tables_in(_text_of(Path(path).read_bytes()))
    called: dict[str, int] = {}
    named = []
    for number, (title, rows, merged) in enumerate(found, 1):
        title = title or f"Table {number}"
        called[title] = called.get(title, 0) + 1
        title = title if called[title] == 1 else f"{title} {called[title]}"
        named.append((title, rows, merged))
    return _chosen(named, name, [])


def _sheets(path: str, name: str, _trim: str) -> Found:
    """The sheets of a workbook that is written as XML, or one."""
    from xml.etree import ElementTree as ET

    try:
        book = ET.parse(path).getroot()
        for part in book.iter():
            # whoever defined their names
            part.tag = _bare(part.tag)
            part.attrib = {_bare(name): value for name, value in part.attrib.items()}
        if book.tag != "Workbook":
            return "X", ""
        shares = {
            style.get("ID")
            for style in book.iter("Style")
            for form in style.iter("NumberFormat")
            if "%" in (said := form.get("Format", "")) or said == "Percent"
        }
        found, hidden = [], []
        for sheet in book.iter("Worksheet"):
            called = sheet.get("Name", "")
            rows, merged = _rows_of(sheet, shares)
            found.append((called, rows, merged))
            if any("Hidden" in (seen.text or "") for seen in sheet.iter("Visible")):
                hidden.append(called)
    except (ET.ParseError, ValueError):
        return "D", ""
    return _chosen(found, name, hidden if len(hidden) < len(found) else [])


def _bare(name: str) -> str:
    return name.rpartition("}")[2]


def _rows_of(sheet: Any, shares: set[str | None]) -> tuple[list[list[Any]], list[_Ends]]:
    """The rows of a sheet, all as long, and the ends of cells that are merged. Raises ValueError
    where a place lies outside of all sheets."""
    rows: list[list[Any]] = []
    merged: list[_Ends] = []
    for row in sheet.iter("Row"):
        rows += [[] for _ in range(_place(row, len(rows), _MOST_ROWS) - len(rows))]
        cells: list[Any] = []
        for cell in row.iter("Cell"):
            cells += [""] * (_place(cell, len(cells), _MOST_COLUMNS) - len(cells))
            down, across = (int(cell.get(f"Merge{way}", 0)) for way in ("Down", "Across"))
            if down:
                at = len(rows), len(cells)
                merged.append((at, (at[0] + down, at[1] + across)))
            data = cell.find("Data")
            value = "" if data is None else _typed(data)
            style = cell.get("StyleID")
            cells += [_share(value) if style in shares and type(value) is float else value]
            cells += [""] * min(across, _MOST_COLUMNS)
        rows.append(cells)
    width = max(map(len, rows), default=0)
    return [row + [""] * (width - len(row)) for row in rows], merged


def _place(part: Any, following: int, most: int) -> int:
    """Where a row or a cell stands, from 0: where it says, else behind those before it."""
    place = int(part.get("Index", following + 1)) - 1
    if not following <= place < most:
        raise ValueError
    return place


def _typed(data: Any) -> Any:
    """What a cell holds, by the type that it tells. Raises ValueError."""
    text, kind = "".join(data.itertext()), data.get("Type", "String")
    if kind == "Number":
        return float(text)
    if kind == "Boolean":
        return text.strip() == "1"
    if kind != "DateTime":
        return text
    moment = dt.datetime.fromisoformat(text)
    return moment.time() if moment.date() in _NO_DAYS else moment


READERS: dict[str, Callable[[str, str, str], Found]] = {PAGE: _page, SHEETS: _sheets}
