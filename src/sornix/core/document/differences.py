"""What differs between two documents, in words."""

from collections.abc import Collection, Iterator, Sequence
from typing import Any

import numpy as np
from attrs import fields, has

from sornix.core.document.value import Document
from sornix.core.readings import TEXT, Column, Table
from sornix.core.text import plural, short

_MOST = 40
# What tells the parts of a list apart, by the field that holds its name.
_NAMED_BY = ("id", "name")
_ONE_OF = {
    "panels": "panel", "trends": "trend", "notes": "note", "guides": "guide", "curves": "curve",
    "constants": "constant", "settings": "parameter",
}  # fmt: skip


def differences(mine: Document, other: Document) -> list[str]:
    """A line for each thing that is otherwise in `other`; not more than some tens."""
    found: list[str] = []
    for line in (*_tables(mine, other), *_values("", mine.figure, other.figure)):
        if len(found) == _MOST:
            found.append("… and more")
            break
        found.append(line)
    return found


def _tables(mine: Document, other: Document) -> Iterator[str]:
    ours, theirs = ({t.name: t for t in d.tables} for d in (mine, other))
    yield from _only_in_one("The table", ours, theirs)
    for name in filter(theirs.__contains__, ours):
        if ours[name] is not theirs[name]:
            yield from _columns(ours[name], theirs[name])


def _only_in_one(what: str, ours: Collection[str], theirs: Collection[str]) -> Iterator[str]:
    """Names of parts that only one of two documents has, in their order there."""
    for here, others, place in ((ours, theirs, "here"), (theirs, ours, "there")):
        for name in here:
            if name not in others:
                yield f"{what} “{name}” is only {place}."


def _columns(mine: Table, other: Table) -> Iterator[str]:
    about = f"“{mine.name}”"
    if mine.row_count != other.row_count:
        rows = [plural(table.row_count, "row") for table in (mine, other)]
        yield f"{about} has {rows[0]} here and {rows[1]} there."
    ours, theirs = ({c.name: c for c in t.columns} for t in (mine, other))
    yield from _only_in_one(f"{about}: the column", ours, theirs)
    for name in filter(theirs.__contains__, ours):
        if line := _cells(ours[name], theirs[name]):
            yield f"{about}: {line}"


def _cells(mine: Column, other: Column) -> str:
    if mine == other:
        return ""
    if mine.kind != other.kind or mine.unit != other.unit:
        return f"“{mine.name}” has another kind or unit."
    count = min(len(mine), len(other))
    same = mine.values[:count] == other.values[:count]
    if mine.kind != TEXT:
        same |= np.isnan(mine.numbers[:count]) & np.isnan(other.numbers[:count])
    rows = np.flatnonzero(~same)
    if not len(rows):
        return "" if count == len(mine) == len(other) else f"“{mine.name}” has more cells."
    row = int(rows[0])
    cells = [short(column.cell(row), 30) or "nothing" for column in (mine, other)]
    return (
        f"{plural(len(rows), 'cell')} of “{mine.name}”, first in row {row + 1}: "
        f"{cells[0]} here, {cells[1]} there."
    )


def _values(where: str, mine: Any, other: Any) -> Iterator[str]:
    """Lines about what differs in two parts of a figure."""
    if mine == other:
        return
    if has(type(mine)) and type(mine) is type(other):
        for part in fields(type(mine)):
            words = _ONE_OF.get(part.name, part.name.replace("_", " "))
            place = f"{where}, {words}" if where else words
            yield from _values(place, getattr(mine, part.name), getattr(other, part.name))
    elif isinstance(mine, tuple) and isinstance(other, tuple) and any(map(_has_fields, mine)):
        yield from _lists(where, mine, other)
    else:
        yield f"{where}: {_said(mine)} here, {_said(other)} there."


def _has_fields(value: Any) -> bool:
    return has(type(value))


def _lists(where: str, mine: Sequence[Any], other: Sequence[Any]) -> Iterator[str]:
    ours = {_name(value, i): value for i, value in enumerate(mine, 1)}
    theirs = {_name(value, i): value for i, value in enumerate(other, 1)}
    for name, value in ours.items():
        if name in theirs:
            yield from _values(f"{where} {name}", value, theirs[name])
        else:
            yield f"{where} {name} is only here."
    for name in theirs:
        if name not in ours:
            yield f"{where} {name} is only there."


def _name(value: Any, number: int) -> str:
    for field in _NAMED_BY:
        if name := getattr(value, field, ""):
            return str(name)
    return str(number)


def _said(value: Any) -> str:
    if value is None or value in ("", ()):
        return "nothing"
    return short(f"“{value}”" if isinstance(value, str) else str(value), 50)
