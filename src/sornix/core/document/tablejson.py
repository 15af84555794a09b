"""What a document keeps of a table beside its cells, as JSON: where it came from, how it was read,
what was done to it, and what its columns are computed from."""

from collections.abc import Mapping
from typing import Any

from attrs import asdict, evolve

from sornix.core.readings import Column, Dialect, ReadAs, Source, Table


def column_to_json(column: Column) -> dict[str, Any]:
    """The part of a field that is ours; empty for a plain column."""
    value: dict[str, Any] = {}
    if column.form:
        value["form"] = column.form
    if column.rule is not None:
        from sornix.core.readings.rules import rule_to_json

        value["computed"] = rule_to_json(column.rule)
    if column.as_read:
        value["as_read"] = {str(row): text for row, text in column.as_read.items()}
    if column.bounds:
        value["bounds"] = {str(row): sign for row, sign in column.bounds.items()}
    return value


def column_from_json(column: Column, value: Mapping[str, Any]) -> Column:
    """A column with what the field says of it. Raises KeyError, TypeError or ValueError."""
    if not value:
        return column
    rule = None
    if "computed" in value:
        from sornix.core.readings.rules import rule_from_json

        rule = rule_from_json(value["computed"])
    return evolve(
        column,
        form=str(value.get("form", column.form)),
        rule=rule,
        as_read=_by_row(value.get("as_read", {})),
        bounds=_by_row(value.get("bounds", {})),
    )


def _by_row(value: Mapping[str, Any]) -> dict[int, str]:
    return {int(row): str(text) for row, text in value.items()}


def table_to_json(table: Table) -> dict[str, Any]:
    """The part of a resource that is ours."""
    value: dict[str, Any] = {}
    if table.source is not None and table.source.path:
        source = table.source
        value["source"] = {
            "path": source.path, "sheet": source.sheet, "size": source.size,
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


def table_from_json(table: Table, value: Mapping[str, Any]) -> Table:
    """A table with what its resource says of it. Raises KeyError, TypeError or ValueError."""
    if not value:
        return table
    from sornix.core.readings.acts import Change
    from sornix.core.readings.grouping import Grouping

    changes = tuple(Change(str(c["act"]), dict(c["arguments"])) for c in value.get("changes", ()))
    source = Source(**value["source"]) if "source" in value else None
    grouping = None
    if "summary" in value:
        found = value["summary"]
        parts = (tuple(map(str, found[name])) for name in ("by", "values", "statistics"))
        grouping = Grouping(str(found["source"]), *parts)
    read_as = None
    if "read_as" in value:
        found = value["read_as"]
        dialect = Dialect(**_with_tuple(found["dialect"]))
        read_as = ReadAs(
            dialect, tuple(found["words"]), _with_tuple(found["held"]), found["doubts"]
        )
    return evolve(table, changes=changes, source=source, grouping=grouping, read_as=read_as)


def _with_tuple(value: Mapping[str, Any]) -> dict[str, Any]:
    """Decisions with their missing marks as a tuple, which JSON does not have."""
    return {name: tuple(v) if name == "missing" else v for name, v in value.items()}
