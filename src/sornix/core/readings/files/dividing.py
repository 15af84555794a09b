"""A text is divided into cells: a short one by the csv module, a long one by pyarrow."""

import csv
import io
import itertools
from collections.abc import Sequence

from sornix.core.errors import ReadingsError
from sornix.core.readings.cells.header import Heading
from sornix.core.readings.files.body import SAMPLE_BYTES, Body, Divided
from sornix.core.readings.files.kinds import Manner, kind_of
from sornix.core.readings.layouts.ending import passed_over
from sornix.core.readings.tables.column import TEXT
from sornix.core.text import plural

# Up to here the csv module is done before pyarrow would be imported.
SHORT_BYTES = 1 << 18
_MANY_ROWS = 20_000


# The first row most often ends within so many bytes, with so many behind it.
_SHORT_HEAD, _LEAST_BEHIND = 1 << 14, 16


class Ragged(Exception):
    """Rows of a long text are not of one length: it has to be looked at thoroughly."""


def after_row(body: Body) -> Body:
    """What follows the first record of a body that is not blank."""
    for size in (_SHORT_HEAD, SAMPLE_BYTES):
        # the whole head of a wide table is long
        head = body.raw[body.offset : body.offset + size].decode("utf-8", "ignore")
        reader = csv.reader(io.StringIO(head, newline=""), delimiter=body.separator)
        for row in reader:
            if any(cell.strip() for cell in row):
                break
        lines = itertools.islice(io.StringIO(head, newline=""), reader.line_num)
        length = len("".join(lines).encode())
        if length < size - _LEAST_BEHIND:
            break
    return body._replace(offset=body.offset + length, first_line=body.first_line + reader.line_num)


def divide(body: Body, kinds: Sequence[str], manner: Manner, *, thorough: bool = True) -> Divided:
    """The cells under a header of as many columns as there are `kinds`.

    Raises ReadingsError; and Ragged, unless it is to be `thorough`, where rows differ in length.
    """
    if len(body.raw) - body.offset <= SHORT_BYTES:
        return _divided_rows(body, kinds, manner)
    from sornix.core.readings.files.longtext import divided_by_arrow

    divided = divided_by_arrow(body, kinds, manner)
    if divided is None and not thorough:
        raise Ragged
    # the slow way fills short rows up, or says which are too long
    return divided or _divided_rows(body, kinds, manner)


def found_kinds(
    sample: Sequence[Sequence[str]], headings: Sequence[Heading], manner: Manner
) -> list[str]:
    """The kinds that the first rows suggest, of columns that are not known to be of words."""
    return [
        TEXT if one.words else kind_of([r[i] for r in sample if i < len(r)], manner, one.name)
        for i, one in enumerate(headings)
    ]


def _divided_rows(body: Body, kinds: Sequence[str], manner: Manner) -> Divided:
    width = len(kinds)
    rows, notes = _rows(body, width)
    if not rows:
        return Divided([[] for _ in range(width)], notes)
    if len(rows) > _MANY_ROWS:
        # now that all rows are of one length, the fast way can take them
        from sornix.core.readings.files.longtext import divided_by_arrow

        stream = io.StringIO(newline="")
        csv.writer(stream, delimiter=body.separator).writerows(rows)
        even = Body(stream.getvalue().encode(), 0, body.separator, body.where, body.first_line)
        divided = divided_by_arrow(even, kinds, manner)
        if divided is not None:
            return divided._replace(notes=notes)
    return Divided([list(cells) for cells in zip(*rows, strict=True)], notes)


def _rows(body: Body, width: int) -> tuple[list[list[str]], tuple[str, ...]]:
    """The records of a body, short ones filled up.

    Raises ReadingsError at the first that is too long, and where every row is short.
    """
    rows: list[list[str]] = []
    text = body.content.decode("utf-8")
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=body.separator)
    line = begin = body.first_line
    short: list[tuple[int, int]] = []
    try:
        for row in reader:
            begin = line
            if row and (len(row) == width or any(row)):
                if len(row) > width and any(cell.strip() for cell in row[width:]):
                    raise _too_long(row, width, line, body.where)
                if len(row) < width:
                    short.append((len(rows), line))
                    row += [""] * (width - len(row))
                rows.append(row[:width])
            line = body.first_line + reader.line_num
    except csv.Error as error:
        raise _unpaired(line, body.where) from error
    if rows and any("\n" in cell for cell in rows[-1]) and text.count('"') % 2:
        raise _unpaired(begin, body.where)
    return _without_end(rows, short)


def _unpaired(line: int, where: str) -> ReadingsError:
    return ReadingsError(
        "A quotation mark lacks its other half, so the rest of the text became one cell.",
        where=f"{where}, line {line}",
        remedy="Mend that line.",
    )


def _without_end(
    rows: list[list[str]], short: list[tuple[int, int]]
) -> tuple[list[list[str]], tuple[str, ...]]:
    """The rows without closing remarks, and notes about short ones, given by their places and
    lines."""
    notes = []
    closing = 0
    # a lone text under the last reading is the logger's farewell; what has all its cells is a row
    while short and short[-1][0] == len(rows) - 1 and _is_remark(rows[-1]):
        rows.pop()
        short.pop()
        closing += 1
        if not rows or all(rows[-1]):
            break
    if closing:
        notes.append(passed_over(closing, "after the readings"))
    if short:
        says = "row is" if len(short) == 1 else "rows are"
        notes.append(
            f"{len(short)} {says} shorter than the header (line {short[0][1]}"
            f"{' first' if len(short) > 1 else ''}); the cells that are not there count as missing."
        )
    return rows, tuple(notes)


def _is_remark(row: list[str]) -> bool:
    text = row[0].strip()
    return not any(row[1:]) and len(row) > 1 and any(s.isalpha() for s in text) and len(text) > 2


def _too_long(row: list[str], width: int, line: int, where: str) -> ReadingsError:
    return ReadingsError(
        f"This row has {plural(len(row), 'cell')} and the header has {width}: "
        f"the first one too many is “{row[width]}”.",
        where=f"{where}, row at line {line}, column {width + 1}",
        remedy="Mend that line, or put quotation marks round a cell that holds the separator.",
    )
