"""The .sornix file: a ZIP that anyone can open (docs/file-format.md).

`datapackage.json` and `readings/*.csv` are a Frictionless Data Package, `figure.json` is the
figure, `statement.txt` says it in words, `preview.png` is a picture of it.
"""

import io
import json
import math
import re
import zlib
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

from attrs import asdict, evolve

from sornix.core.document.figures import figure_names
from sornix.core.document.stored.checking import check_references, damaged
from sornix.core.document.stored.fieldtypes import kind_of, type_of
from sornix.core.document.stored.migration import FORMAT, MINOR, VERSION, of_this_version
from sornix.core.document.stored.storedcells import read_cells, write_cells
from sornix.core.document.stored.structuring import structured
from sornix.core.document.stored.tablejson import (
    column_from_json,
    column_to_json,
    kept_from_json,
    names_from_json,
    table_from_json,
    table_to_json,
    text_from_json,
)
from sornix.core.document.stored.toolong import as_saved
from sornix.core.document.value import EXPORT_ENDINGS, Document, Export
from sornix.core.errors import DocumentError, SornixError, refusal
from sornix.core.figure import Figure
from sornix.core.files import ENDING, FileState, state_of, write_atomically
from sornix.core.letters import has_half
from sornix.core.readings import (
    Column,
    Source,
    Table,
    Tables,
)
from sornix.core.text import short

if TYPE_CHECKING:
    import zipfile

# JSON, pictures and pasted texts that unpack to more than this are no document but a trap; so are
# readings that unpack to so many times the size of the file.
_MOST_TOLD = 64 << 20
_MOST_RATIO = 40
_MOST_SAID = 400


def out_endings() -> tuple[str, ...]:
    """All that a document can be written as."""
    return (*EXPORT_ENDINGS, ENDING)


def save_document(
    document: Document, path: Path, preview: bytes, *, whole_paths: bool = False
) -> FileState | None:
    """Writes a document with its `preview` (PNG); gives the file as it is then.

    Paths of sources are told from the folder of the document, and by their name alone where they
    lie elsewhere, unless it is to have the `whole_paths`. Raises DocumentError, the old file
    untouched. A pattern has the first rows of very long tables; a document of these is refused.
    """
    document = as_saved(document, path.name)
    content = packed(document_parts(document, preview, None if whole_paths else path.parent))
    write_atomically(path, content)
    return state_of(path, content)


def document_parts(document: Document, preview: bytes, folder: Path | None) -> dict[str, bytes]:
    """The parts of a document by their names, for a document in a `folder`."""
    parts: dict[str, bytes] = {}
    resources = []
    for number, table in enumerate(document.tables, 1):
        parts |= table_parts(table, number)
        resources.append(resource_of(table, number, folder))
    parts["datapackage.json"] = package_part(resources)
    parts["statement.txt"] = _in_words(document)
    parts["figure.json"] = figure_part(document)
    parts["preview.png"] = preview
    return parts


def table_parts(table: Table, number: int) -> dict[str, bytes]:
    """The parts that hold a table's cells, and the text that was pasted for it."""
    parts = {readings_name(table, number): write_cells(table)}
    if table.source is not None and table.source.text:
        parts[f"sources/{number}.txt"] = table.source.text
    return parts


def package_part(resources: list[dict[str, Any]]) -> bytes:
    """What tells of the tables."""
    return _json({"profile": "tabular-data-package", "resources": resources})


def figure_part(document: Document) -> bytes:
    """What tells of the figure."""
    figure = {
        "format": FORMAT,
        "version": VERSION,
        "minor": MINOR,
        "figures": [asdict(figure) for figure in document.figures],
        "shown": document.place,
        "pattern": document.pattern,
        "export": asdict(document.export),
    }
    return _json(figure)


def readings_name(table: Table, number: int) -> str:
    """The part that holds a table."""
    slug = re.sub(r"[^a-z0-9]+", "-", table.name.casefold()).strip("-") or "table"
    return f"readings/{number}-{slug[:40]}.csv"


def _in_words(document: Document) -> bytes:
    """What the figures say, for people: it is not read back."""
    from sornix.core.statement import write_statement

    # whatever there is to say, nothing keeps a document from being saved
    with suppress(Exception):
        said = [
            write_statement(figure, document.tables, plotted=True) for figure in document.figures
        ]
        if len(said) > 1:
            names = figure_names(document)
            said = [f"— {name} —\n{words}" for name, words in zip(names, said, strict=True)]
        return ("\n\n".join(said) + "\n").encode("utf-8", "backslashreplace")
    return b""


def packed(parts: Mapping[str, bytes]) -> bytes:
    """The parts as a ZIP archive."""
    import zipfile

    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        for name, content in parts.items():
            _put(archive, name, content)
    return stream.getvalue()


def load_document(path: Path) -> Document:
    """The document in a file. Raises DocumentError with the reason; the file is only read."""
    return load_with_state(path)[0]


def load_with_state(path: Path) -> tuple[Document, FileState]:
    """The document in a file, and the file as it was when it was read. Raises DocumentError."""
    import zipfile

    where = path.name
    try:
        found = path.stat()
        content = path.read_bytes()
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            parts = _Archive(archive, len(content), where)
            document = document_from(parts, where, path.parent)
    except FileNotFoundError as error:
        raise DocumentError("There is no such file.", where=str(path)) from error
    except OSError as error:
        raise DocumentError(f"The file cannot be read ({refusal(error)}).", where=where) from error
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, ValueError) as error:
        raise DocumentError(
            "This is not a Sornix document, or it is damaged.",
            where=where,
            remedy="It was left as it is. A copy may open.",
        ) from error
    state = state_of(path, content) or FileState(found.st_size, found.st_mtime_ns, b"")
    return document, state._replace(size=found.st_size, changed=found.st_mtime_ns)


def document_from(parts: "_Archive | Mapping[str, bytes]", where: str, folder: Path) -> Document:
    """The document in some parts, whose sources lie relative to `folder`. Raises DocumentError."""
    document = _document(_read_json(parts, "figure.json", where), where)
    document = evolve(document, tables=_tables(parts, where, folder))
    check_references(document, where)
    return document


class _Archive:
    """The parts of a file, which are unpacked only up to what a document may hold."""

    def __init__(self, archive: "zipfile.ZipFile", size: int, where: str) -> None:
        self._archive, self._where = archive, where
        self._most = dict.fromkeys(("told", "readings"), _MOST_TOLD)
        self._most["readings"] = max(_MOST_TOLD, _MOST_RATIO * size)

    def __contains__(self, name: object) -> bool:
        return name in self._archive.namelist()

    def __getitem__(self, name: str) -> bytes:
        info = self._archive.getinfo(name)
        kind = "readings" if name.startswith("readings/") else "told"
        self._most[kind] -= info.file_size
        if self._most[kind] < 0:
            raise damaged(self._where, f"{name} is too large")
        return self._archive.read(info)


def _put(archive: "zipfile.ZipFile", name: str, content: bytes) -> None:
    import zipfile

    # one fixed time, so that the same document makes the same file
    info = zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0))
    info.external_attr = 0o644 << 16
    plain = name.endswith(".png") or _packs_too_well(content)
    archive.writestr(info, content, zipfile.ZIP_STORED if plain else zipfile.ZIP_DEFLATED)


def _packs_too_well(content: bytes) -> bool:
    """Whether a part would unpack to more than a document is let: that looks like a trap."""
    if len(content) <= _MOST_TOLD:
        return False
    piece = content[: 1 << 20]
    return len(piece) > _MOST_RATIO // 4 * len(zlib.compress(piece, 6))


def _json(value: object) -> bytes:
    text = json.dumps(value, ensure_ascii=False, indent=1, allow_nan=False)
    # halves of letters, which UTF-8 does not have, are told by their numbers
    return (json.dumps(value, indent=1, allow_nan=False) if has_half(text) else text).encode()


def resource_of(table: Table, number: int, folder: Path | None) -> dict[str, Any]:
    """What the package tells of a table, for a document in a `folder`."""
    path = readings_name(table, number)
    ours = table_to_json(table, folder)
    if table.source is not None and table.source.text:
        ours["pasted"] = f"sources/{number}.txt"
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
        "sornix": ours,
    }


def _field(column: Column) -> dict[str, Any]:
    ours = {"kind": column.kind, **column_to_json(column)}
    return {"name": column.name, **type_of(column), "unit": column.unit, "sornix": ours}


def _read(parts: "_Archive | Mapping[str, bytes]", name: str, where: str) -> bytes:
    if name not in parts:
        raise damaged(where, f"it holds no {name}")
    try:
        return parts[name]
    except (zlib.error, EOFError) as error:
        raise damaged(where, f"{name} cannot be unpacked") from error


def _read_json(parts: "_Archive | Mapping[str, bytes]", name: str, where: str) -> dict[str, Any]:
    try:
        value = json.loads(_read(parts, name, where), parse_constant=_no_number, parse_float=_real)
    except RecursionError as error:
        raise damaged(where, f"{name} is nested too deeply") from error
    except ValueError as error:
        raise damaged(where, f"{name} cannot be read ({error})") from error
    if not isinstance(value, dict):
        raise damaged(where, f"{name} is not an object")
    return value


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is no number of JSON")


def _real(text: str) -> float:
    value = float(text)
    return value if math.isfinite(value) else _no_number(text)


def _document(value: dict[str, Any], where: str) -> Document:
    """What figure.json holds; the readings stand elsewhere."""
    value = of_this_version(value, where)
    try:
        figures = structured(value.get("figures"), tuple[Figure, ...], "figures")
        shown = structured(value.get("shown", 0), int, "shown")
        export = structured(value.get("export", {}), Export, "export")
        pattern = structured(value.get("pattern", False), bool, "pattern")
    except ValueError as error:
        raise damaged(where, f"in figure.json, {error}") from error
    if not 0 <= shown < len(figures):
        raise damaged(where, f"in figure.json, there is no figure {shown}")
    blank = Document((), figures[shown], export, pattern)
    return blank.with_figures(figures, shown)


def _tables(parts: "_Archive | Mapping[str, bytes]", where: str, folder: Path) -> Tables:
    package = _read_json(parts, "datapackage.json", where)
    try:
        tables = [_table(parts, resource, where, folder) for resource in package["resources"]]
    except (KeyError, TypeError, AttributeError, ValueError, OverflowError) as error:
        said = short(str(error), _MOST_SAID)
        raise damaged(where, f"datapackage.json is incomplete ({said})") from error
    except DocumentError:
        raise
    except SornixError as error:
        raise damaged(where, f"the readings cannot be read ({error})") from error
    if not tables:
        raise damaged(where, "it holds no readings")
    if len({table.name for table in tables}) < len(tables):
        raise damaged(where, "two tables have one name")
    return tuple(tables)


def _table(
    parts: "_Archive | Mapping[str, bytes]", resource: Any, where: str, folder: Path
) -> Table:
    """One table of the package. Raises KeyError, TypeError, ValueError or SornixError."""
    fields = resource["schema"]["fields"]
    kept = [
        kept_from_json(text_from_json(f["name"]), kind_of(f), f.get("sornix", {})) for f in fields
    ]
    raw = _read(parts, text_from_json(resource["path"]), where)
    columns = [
        column_from_json(column, text_from_json(f.get("unit", "")), f.get("sornix", {}))
        for column, f in zip(read_cells(raw, where, kept), fields, strict=True)
    ]
    notes = names_from_json(resource.get("notes", []))
    told = dict(resource.get("sornix", {}))
    pasted = told.pop("pasted", None)
    plain = Table(text_from_json(resource["title"]), tuple(columns), notes)
    table = table_from_json(plain, told, folder)
    if pasted is not None:
        text = _read(parts, text_from_json(pasted), where)
        table = evolve(table, source=Source(text=text) if text else None)
    return table
