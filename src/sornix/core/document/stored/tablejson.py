"""What a document keeps of a table beside its cells, as JSON: where it came from, how it was read,
what was done to it, and what its columns are computed from.

All of it is looked at before it is taken: a document may come from anywhere.
"""

import math
import os
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from attrs import asdict, evolve

from sornix.core.document.stored.storedcells import Kept, told_exact, told_texts
from sornix.core.readings import NUMBER, TIME, Column, Dialect, ReadAs, Source, Table
from sornix.core.readings.tables.dialect import WORDS

# A source that lies farther up than this is no part of what is handed on: its name is enough.
_MOST_STEPS_UP = 2
_FORMS = ("", "month", "day", "minute", "second", "fraction", "clock")


def column_to_json(column: Column) -> dict[str, Any]:
    """The part of a field that is ours; empty for a plain column."""
    value: dict[str, Any] = {}
    if column.form:
        value["form"] = column.form
    if column.rule is not None:
        from sornix.core.readings.tables.rules import rule_to_json

        value["computed"] = rule_to_json(column.rule)
    for name, told in (
        ("texts", told_texts(column)),
        ("exact", told_exact(column)),
        ("as_read", column.as_read),
        ("bounds", column.bounds),
    ):
        if told:
            value[name] = {str(row): text for row, text in told.items()}
    return value


def kept_from_json(name: str, kind: str, value: Mapping[str, Any]) -> Kept:
    """What a field tells of the cells of its column. Raises TypeError or ValueError."""
    exact = {row: _a(float, found) for row, found in _by_row(value.get("exact", {})).items()}
    return Kept(name, kind, _texts(value.get("texts", {})), exact)


def column_from_json(column: Column, unit: str, value: Mapping[str, Any]) -> Column:
    """A column with what the field says of it. Raises KeyError, TypeError or ValueError."""
    rule = None
    if "computed" in value:
        from sornix.core.readings.tables.rules import rule_from_json

        rule = rule_from_json(value["computed"])
    told = [_texts(value.get(name, {})) for name in ("as_read", "bounds")]
    for row in (*told[0], *told[1]):
        if not 0 <= row < len(column):
            raise ValueError(f"“{column.name}” has no row {row}")
    if not set(told[1].values()) <= {"<", ">"} or (told[1] and column.kind != NUMBER):
        raise ValueError(f"“{column.name}” has limits that are none")
    form = value.get("form", "day" if column.kind == TIME and not value else "")
    if form not in _FORMS:
        raise ValueError(f"“{column.name}” has times of no known form")
    return evolve(column, unit=unit, form=form, rule=rule, as_read=told[0], bounds=told[1])


def _a(kind: type, value: Any) -> Any:
    """A value that has to be of a kind. Raises TypeError."""
    right = type(value) is kind or (kind is float and type(value) is int)
    if not right or (kind is float and not math.isfinite(value)):
        raise TypeError(f"{value!r:.40} where {_KINDS[kind]} belongs")
    return value


_KINDS = {
    str: "text", int: "a whole number", float: "a number", bool: "yes or no", dict: "an object",
    list: "a list",
}  # fmt: skip


def _by_row(value: Any) -> dict[int, Any]:
    return {int(row): found for row, found in _a(dict, value).items()}


def _texts(value: Any) -> dict[int, str]:
    return {row: _a(str, text) for row, text in _by_row(value).items()}


def text_from_json(value: Any) -> str:
    """A text. Raises TypeError."""
    text: str = _a(str, value)
    return text


def names_from_json(value: Any) -> tuple[str, ...]:
    """A list of texts. Raises TypeError."""
    return tuple(_a(str, text) for text in _a(list, value))


def table_to_json(table: Table, folder: Path | None) -> dict[str, Any]:
    """The part of a resource that is ours, for a document in a `folder`; None keeps the whole
    paths of sources."""
    value: dict[str, Any] = {}
    if table.source is not None and table.source.path:
        source = table.source
        value["source"] = {
            "path": _path_for(source.path, folder), "sheet": source.sheet, "size": source.size,
            "changed": source.changed,
        }  # fmt: skip
    if table.read_as is not None:
        value["read_as"] = {
            "dialect": table.read_as.dialect._asdict(),
            "words": list(table.read_as.words),
            "held": dict(table.read_as.held),
            "doubts": dict(table.read_as.doubts),
        }
    if table.changes:
        value["changes"] = [{"act": c.act, "arguments": dict(c.arguments)} for c in table.changes]
    if table.grouping is not None:
        value["summary"] = asdict(table.grouping)
    return value


def _path_for(path: str, folder: Path | None) -> str:
    if folder is None or not Path(path).is_absolute():
        return path
    relative = os.path.relpath(path, os.path.realpath(folder))
    up = Path(relative).parts.count("..")
    return relative if up <= _MOST_STEPS_UP else Path(path).name


def _path_from(kept: str, folder: Path) -> str:
    """The whole path of a source that a document in a folder tells of."""
    return os.path.normpath(Path(os.path.realpath(folder)) / kept)


def told_by_name(table: Table, folder: Path) -> bool:
    """Whether a document in a folder keeps of a table's source no more than its name."""
    path = table.source.path if table.source is not None else ""
    return bool(path) and _path_from(_path_for(path, folder), folder) != path


def table_from_json(table: Table, value: Mapping[str, Any], folder: Path) -> Table:
    """A table with what its resource says of it. Raises KeyError, TypeError or ValueError."""
    from sornix.core.readings.changes.operations import OPERATIONS
    from sornix.core.readings.tables.origin import Change

    changes = []
    for change in _a(list, value.get("changes", [])):
        if change["act"] not in OPERATIONS:
            raise ValueError(f"{change['act']!r:.40} is nothing that is done to tables")
        changes.append(Change(change["act"], dict(_a(dict, change["arguments"]))))
    source = grouping = read_as = None
    if "source" in value:
        source = _source(_a(dict, value["source"]), folder)
    if "summary" in value:
        grouping = _grouping(_a(dict, value["summary"]))
    if "read_as" in value:
        read_as = _read_as(_a(dict, value["read_as"]))
    return evolve(table, changes=tuple(changes), source=source, grouping=grouping, read_as=read_as)


def _source(value: dict[str, Any], folder: Path) -> Source:
    path, sheet = _a(str, value["path"]), _a(str, value.get("sheet", ""))
    if "\0" in path or not path:
        raise ValueError("a source has no path")
    whole = _path_from(path, folder)
    return Source(whole, sheet, _a(int, value.get("size", 0)), _a(int, value.get("changed", 0)))


def _grouping(value: dict[str, Any]) -> Any:
    from sornix.core.readings.tables.grouping import STATISTICS
    from sornix.core.readings.tables.origin import Grouping

    parts = [names_from_json(value[name]) for name in ("by", "values", "statistics")]
    if not set(parts[2]) <= set(STATISTICS):
        raise ValueError("a summary has statistics that are none")
    return Grouping(_a(str, value["source"]), *parts)


def _read_as(value: dict[str, Any]) -> ReadAs:
    dialect = Dialect(**_decisions(value["dialect"]))
    words = names_from_json(value["words"])
    doubts = {_a(str, k): _a(str, v) for k, v in _a(dict, value["doubts"]).items()}
    for name in (*words, *doubts):
        if name not in WORDS:
            raise ValueError(f"{name!r:.40} is nothing that is decided on reading")
    return ReadAs(dialect, words, _decisions(value["held"]), doubts)


def _decisions(value: Any) -> dict[str, Any]:
    """Decisions of reading by name, the missing marks as a tuple, which JSON does not have."""
    found = {}
    for name, decided in _a(dict, value).items():
        if name not in Dialect._fields:
            raise ValueError(f"{name!r:.40} is nothing that is decided on reading")
        usual = getattr(Dialect(), name)
        if name == "missing":
            found[name] = names_from_json(decided)
            continue
        known = WORDS[name].values
        decided = _a(type(usual), decided)
        if known and decided not in known and not (name == "order" and not decided):
            raise ValueError(f"{name} cannot be {decided!r:.40}")
        if name == "header" and not 0 <= decided < 1 << 31:
            raise ValueError("the header stands on no line")
        found[name] = decided
    return found
