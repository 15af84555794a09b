"""The .sornix file: a ZIP that anyone can open (docs/file-format.md).

`datapackage.json` and `readings/*.csv` are a Frictionless Data Package, `figure.json` is the
figure, `preview.png` a picture of it.
"""

import io
import json
import os
import re
import zlib
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np
from attrs import asdict, evolve

from sornix.core.document.tablejson import (
    column_from_json,
    column_to_json,
    table_from_json,
    table_to_json,
)
from sornix.core.document.value import EXPORT_ENDINGS, Document, Export
from sornix.core.errors import DocumentError, SornixError
from sornix.core.figure import Figure, curve_values, series_points, trend_symbols
from sornix.core.readings import (
    NUMBER,
    TEXT,
    TIME,
    Column,
    Heading,
    Source,
    Table,
    Tables,
    read_columns,
    table_named,
    write_text,
)

if TYPE_CHECKING:
    import zipfile

ENDING = ".sornix"
# All that a document can be written as.
OUT_ENDINGS = (*EXPORT_ENDINGS, ENDING)
VERSION = 1
# A part that unpacks to more than this is no document of ours but a trap.
_MOST_BYTES = 4 << 30


def save_document(document: Document, path: Path, preview: bytes) -> None:
    """Writes a document with its `preview` (PNG). Raises DocumentError, the old file untouched."""
    import zipfile

    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        resources = []
        for number, table in enumerate(document.tables, 1):
            slug = re.sub(r"[^a-z0-9]+", "-", table.name.casefold()).strip("-") or "table"
            name = f"readings/{number}-{slug[:40]}.csv"
            _put(archive, name, write_text(_plain(table)))
            resource = _resource(table, name)
            if table.source is not None and table.source.text:
                kept = f"sources/{number}.txt"
                _put(archive, kept, table.source.text)
                resource["sornix"]["pasted"] = kept
            resources.append(resource)
        package = {"profile": "tabular-data-package", "resources": resources}
        _put(archive, "datapackage.json", _json(package))
        figure = {
            "format": "sornix figure",
            "version": VERSION,
            "figure": asdict(document.figure),
            "pattern": document.pattern,
            "export": asdict(document.export),
        }
        _put(archive, "figure.json", _json(figure))
        _put(archive, "preview.png", preview)
    write_atomically(path, stream.getvalue())


def write_atomically(path: Path, content: bytes) -> None:
    """Writes beside `path`, syncs, and renames: the file is either old or new, never half.

    Raises DocumentError where the folder does not take it.
    """
    path = path.resolve()
    temporary = None
    try:
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_umask()
        beside = path.with_name(f".{path.name}.{os.getpid()}.new")
        with beside.open("xb") as file:
            temporary = beside
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        temporary.chmod(mode)
        temporary.replace(path)
    except OSError as error:
        if temporary is not None:
            temporary.unlink(missing_ok=True)
        raise DocumentError(
            f"The file could not be written ({error.strerror or error}).",
            where=str(path),
            remedy="Choose another folder, or make room there.",
        ) from error


def load_document(path: Path) -> Document:
    """The document in a file. Raises DocumentError with the reason; the file is only read."""
    import zipfile

    where = path.name
    try:
        with zipfile.ZipFile(path) as archive:
            document = _document(_read_json(archive, "figure.json", where), where)
            tables = _tables(archive, where)
    except FileNotFoundError as error:
        raise DocumentError("There is no such file.", where=str(path)) from error
    except OSError as error:
        raise DocumentError(f"The file cannot be read ({error.strerror}).", where=where) from error
    except (zipfile.BadZipFile, zlib.error, RuntimeError, EOFError) as error:
        raise DocumentError(
            "This is not a Sornix document, or it is damaged.",
            where=where,
            remedy="It was left as it is. A copy may open.",
        ) from error
    document = evolve(document, tables=tables)
    _check_references(document, where)
    return document


def _umask() -> int:
    current = os.umask(0)
    os.umask(current)
    return current


def _put(archive: "zipfile.ZipFile", name: str, content: bytes) -> None:
    import zipfile

    # one fixed time, so that the same document makes the same file
    info = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
    info.external_attr = 0o644 << 16
    packed = zipfile.ZIP_STORED if name.endswith(".png") else zipfile.ZIP_DEFLATED
    archive.writestr(info, content, compress_type=packed)


def _json(value: object) -> bytes:
    return json.dumps(value, ensure_ascii=False, indent=1, allow_nan=False).encode()


def _plain(table: Table) -> Table:
    """The table with limits as plain numbers: their marks stand in the package's description."""
    return evolve(table, columns=tuple(evolve(column, bounds={}) for column in table.columns))


def _resource(table: Table, path: str) -> dict[str, Any]:
    return {
        "profile": "tabular-data-resource",
        "name": Path(path).stem,
        "title": table.name,
        "path": path,
        "format": "csv",
        "mediatype": "text/csv",
        "encoding": "utf-8",
        "notes": list(table.notes),
        "schema": {
            "fields": [_field(column) for column in table.columns],
            "missingValues": [""],
        },
        "sornix": table_to_json(table),
    }


_TYPES = {NUMBER: "number", TIME: "datetime", TEXT: "string"}
_KINDS = {type_: kind for kind, type_ in _TYPES.items()}


def _field(column: Column) -> dict[str, Any]:
    # a column that holds other text in places is of type "any" to other readers
    type_ = "any" if column.texts else _TYPES[column.kind]
    ours = {"kind": column.kind, **column_to_json(column)}
    return {"name": column.name, "type": type_, "unit": column.unit, "sornix": ours}


def _damaged(where: str, what: str) -> DocumentError:
    return DocumentError(
        f"This is not a Sornix document, or it is damaged: {what}.",
        where=where,
        remedy="It was left as it is.",
    )


def _read(archive: "zipfile.ZipFile", name: str, where: str) -> bytes:
    try:
        info = archive.getinfo(name)
    except KeyError as error:
        raise _damaged(where, f"it holds no {name}") from error
    if info.file_size > _MOST_BYTES:
        raise _damaged(where, f"{name} is too large")
    return archive.read(info)


def _read_json(archive: "zipfile.ZipFile", name: str, where: str) -> dict[str, Any]:
    try:
        value = json.loads(_read(archive, name, where))
    except ValueError as error:
        raise _damaged(where, f"{name} cannot be read ({error})") from error
    if not isinstance(value, dict):
        raise _damaged(where, f"{name} is not an object")
    return value


def _document(value: dict[str, Any], where: str) -> Document:
    """What figure.json holds; the readings stand elsewhere."""
    import cattrs

    version = value.get("version")
    if value.get("format") != "sornix figure" or not isinstance(version, int):
        raise _damaged(where, "figure.json is of another kind")
    if version > VERSION:
        raise DocumentError(
            f"This document is of version {version}, and this Sornix knows version {VERSION}.",
            where=where,
            remedy="Open it with a newer Sornix. It was left as it is.",
        )
    converter = cattrs.Converter(forbid_extra_keys=True)
    try:
        figure = converter.structure(value.get("figure"), Figure)
        export = converter.structure(value.get("export", {}), Export)
        pattern = converter.structure(value.get("pattern", False), bool)
    except cattrs.BaseValidationError as error:
        listed = "; ".join(cattrs.transform_error(error, path="figure"))
        raise _damaged(where, f"in figure.json, {listed}") from error
    return Document((), figure, export, pattern)


def _tables(archive: "zipfile.ZipFile", where: str) -> Tables:
    package = _read_json(archive, "datapackage.json", where)
    tables = []
    try:
        for resource in package["resources"]:
            fields = resource["schema"]["fields"]
            columns = [
                (Heading(str(f["name"]), str(f.get("unit", ""))), _kind_of(f)) for f in fields
            ]
            raw = _read(archive, resource["path"], where)
            table = read_columns(raw, str(resource["title"]), columns)
            ours = [
                column_from_json(c, f.get("sornix", {}))
                for c, f in zip(table.columns, fields, strict=True)
            ]
            table = evolve(table, columns=tuple(ours), notes=tuple(resource.get("notes", ())))
            told = dict(resource.get("sornix", {}))
            pasted = told.pop("pasted", None)
            table = table_from_json(table, told)
            if pasted is not None:
                table = evolve(table, source=Source(text=_read(archive, pasted, where)))
            tables.append(table)
    except (KeyError, TypeError, AttributeError, ValueError) as error:
        raise _damaged(where, f"datapackage.json is incomplete ({error})") from error
    except DocumentError:
        raise
    except SornixError as error:
        raise _damaged(where, f"the readings cannot be read ({error})") from error
    if not tables:
        raise _damaged(where, "it holds no readings")
    return tuple(tables)


def _kind_of(field: dict[str, Any]) -> str:
    """The kind of a column: as we wrote it, or by its type where another program did."""
    kind = field.get("sornix", {}).get("kind")
    return str(kind) if kind in _TYPES else _KINDS.get(field["type"], NUMBER)


def _check_references(document: Document, where: str) -> None:
    """Every series has its columns and every trend its series."""
    try:
        for panel in document.figure.panels:
            for series in panel.series:
                for name in series.columns:
                    table_named(document.tables, series.table).column(name)
                series_points(series, panel, document.tables)
            for curve in panel.curves:
                curve_values(curve, np.ones(1))
            for trend in panel.trends:
                trend_symbols(trend, panel, document.tables)
    except (SornixError, KeyError) as error:
        raise _damaged(
            where, f"the figure speaks of readings that are not there ({error})"
        ) from error
