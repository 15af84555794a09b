"""Data packages (Frictionless Data): tables as texts, and a description of them beside.

Data Package and Tabular Data Resource, specifications of Frictionless Data, versions 1 and 2.
"""

import csv
import io
import json
from collections.abc import Callable, Mapping, Sequence
from pathlib import Path, PurePosixPath
from typing import Any

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.readings.cells.header import Heading, parse_heading
from sornix.core.readings.cells.marks import Marks
from sornix.core.readings.files.delimited import read_bytes, read_texts
from sornix.core.readings.files.encoding import utf8
from sornix.core.readings.files.kinds import (
    Known,
    Manner,
    make_column,
    need_places,
    notes_of,
    time_notes,
)
from sornix.core.readings.formats.records import tables_in
from sornix.core.readings.tables.column import NUMBER, TEXT, TIME
from sornix.core.readings.tables.dialect import Held
from sornix.core.readings.tables.table import Table, unique_names
from sornix.core.text import plural, short

PACKAGE = "datapackage.json"
_KINDS = {
    "number": NUMBER, "integer": NUMBER, "year": NUMBER, "boolean": NUMBER, "string": TEXT,
    "date": TIME, "datetime": TIME, "time": TIME, "yearmonth": TIME,
}  # fmt: skip
_YES, _NO = ("true", "True", "TRUE", "1"), ("false", "False", "FALSE", "0")
_TEXTS = ("csv", "tsv", "txt", "dat", "")

# Gives the file of a package at a path in it, or None.
Beside = Callable[[str], Path | None]


def read_package(path: Path, beside: Beside, held: Held, where: str) -> tuple[Table, ...]:
    """The tables of the package that a file describes. Raises ReadingsError."""
    try:
        told = json.loads(read_bytes(path))
    except (ValueError, RecursionError) as error:
        raise ReadingsError(f"The description cannot be read ({error}).", where=where) from error
    resources = told.get("resources") if isinstance(told, dict) else None
    if not isinstance(resources, list) or not all(isinstance(one, dict) for one in resources):
        raise ReadingsError("This describes no tables of a data package.", where=where)
    tables: list[Table] = []
    problems: list[ReadingsError] = []
    for resource in resources:
        try:
            tables += _tables(resource, beside, held, where)
        except ReadingsError as error:
            problems.append(error)
        except (TypeError, AttributeError, KeyError, ValueError) as error:
            said = f"The description of a table is not what it should be ({short(str(error), 80)})."
            problems.append(ReadingsError(said, where=where))
    if not tables:
        raise problems[0] if problems else ReadingsError("The package is empty.", where=where)
    names = unique_names(table.name for table in tables)
    notes = tuple(f"Left out: {short(str(problem), 120)}" for problem in problems)
    return tuple(
        evolve(t, name=name, notes=(*t.notes, *notes))
        for t, name in zip(tables, names, strict=True)
    )


def _tables(resource: Mapping[str, Any], beside: Beside, held: Held, where: str) -> Sequence[Table]:
    name = str(resource.get("title") or resource.get("name") or "Readings")
    if "data" in resource:
        return tables_in(resource["data"], name, where, held)
    paths = resource.get("path", "")
    parts = [_part(str(one), beside, where) for one in
             (paths if isinstance(paths, list) else [paths])]  # fmt: skip
    fields = resource.get("schema", {})
    fields = fields.get("fields", []) if isinstance(fields, dict) else []
    ending = str(resource.get("format") or parts[0].suffix.lstrip(".")).lower()
    if ending not in _TEXTS:
        raise ReadingsError(f"“{name}” is in the format {ending}, by itself.", where=where,
                            remedy="Open that file.")  # fmt: skip
    raw = b"\n".join(read_bytes(part).rstrip(b"\r\n") for part in parts) + b"\n"
    code = str(resource.get("encoding") or "") or None
    dialect = resource.get("dialect") or {}
    separator = dialect.get("delimiter") or ("\t" if ending == "tsv" else ",")
    if not fields:
        told = {"separator": separator} if "delimiter" in dialect else {}
        return read_texts(raw, name, where=where, held={**told, **held})
    text = utf8(raw, where, _known_code(code)).text.decode("utf-8")
    return [_described(text, separator, dialect, resource["schema"], name, where)]


def _known_code(code: str | None) -> str | None:
    import codecs

    try:
        return codecs.lookup(code).name if code else None
    except LookupError:
        return None


def _part(path: str, beside: Beside, where: str) -> Path:
    """A file of the package. Raises ReadingsError for one that is elsewhere, or not there."""
    if "://" in path:
        raise ReadingsError(
            f"“{short(path, 80)}” is on the network, and is not fetched.", where=where,
            remedy="Fetch it, and open it by itself.",
        )  # fmt: skip
    inside = PurePosixPath(path)
    if not path or inside.is_absolute() or ".." in inside.parts or "\\" in path or "\0" in path:
        raise ReadingsError(f"“{short(path, 80)}” is not within the package.", where=where)
    found = beside(str(inside))
    if found is None or not found.is_file():
        raise ReadingsError(f"“{short(path, 80)}” is not there.", where=where)
    return found


def _described(
    text: str, separator: str, dialect: Mapping[str, Any], schema: Mapping[str, Any], name: str,
    where: str,
) -> Table:  # fmt: skip
    """The table of a text whose columns are described. Raises ReadingsError."""
    reader = csv.reader(
        io.StringIO(text, newline=""), delimiter=separator,
        quotechar=dialect.get("quoteChar", '"'),
        skipinitialspace=bool(dialect.get("skipInitialSpace", False)),
    )  # fmt: skip
    remark = dialect.get("commentChar")
    try:
        rows = [row for row in reader if any(row) and not (remark and row[0].startswith(remark))]
    except csv.Error as error:
        raise ReadingsError(f"The text cannot be divided ({error}).", where=where) from error
    fields = schema["fields"]
    notes = []
    if dialect.get("header", True) and rows:
        names = [cell.strip() for cell in rows.pop(0)]
        said = [str(field.get("name", "")) for field in fields]
        if len(names) != len(fields):
            raise ReadingsError(
                f"“{name}” is described with {plural(len(fields), 'column')}, and the text has "
                f"{len(names)}.",
                where=where,
            )  # fmt: skip
        if names != said and set(names) == set(said):
            fields = [fields[said.index(one)] for one in names]
            notes.append("The columns stand in another order than they are described in.")
        elif names != said:
            notes.append("The columns have other names than they are described with.")
            fields = [{**field, "name": own} for field, own in zip(fields, names, strict=True)]
    missing = [m.get("value", "") if isinstance(m, dict) else str(m)
               for m in schema.get("missingValues", [""])]  # fmt: skip
    cells = [[row[i] if i < len(row) else "" for row in rows] for i in range(len(fields))]
    known = [_column(field, column, missing) for field, column in zip(fields, cells, strict=True)]
    columns = [one.column for one in known]
    need_places(columns, where)
    own_names = unique_names(c.name or f"Column {i + 1}" for i, c in enumerate(columns))
    named = tuple(evolve(c, name=own) for c, own in zip(columns, own_names, strict=True))
    return Table(name, named, (*notes, *notes_of(known)))


def _column(field: Mapping[str, Any], cells: list[str], missing: Sequence[str]) -> Known:
    title = str(field.get("name", ""))
    unit = str(field.get("unit") or "")
    heading = Heading(title, unit) if unit else parse_heading(title)
    type_ = field.get("type", "any")
    kind = _KINDS.get(type_)
    cells = ["" if cell in missing else cell for cell in cells]
    if type_ == "boolean":
        yes, no = field.get("trueValues", _YES), field.get("falseValues", _NO)
        cells = ["1" if cell in yes else "0" if cell in no else cell for cell in cells]
    form = str(field.get("format") or "default")
    first_month = "%m" in form and "%d" in form and form.index("%m") < form.index("%d")
    marks = Marks(str(field.get("decimalChar") or "."), str(field.get("groupChar") or ""))
    manner = Manner(marks, "month" if first_month else "day", ())
    if kind is None:
        return make_column(heading, cells, None, manner)
    if kind == NUMBER and field.get("bareNumber") is False:
        return make_column(heading, cells, None, manner)
    found = make_column(heading, cells, kind, manner, settled=True)
    more = tuple(time_notes(found.column, cells)) if kind == TIME else ()
    return found._replace(column=evolve(found.column, unit=heading.unit), notes=more)
