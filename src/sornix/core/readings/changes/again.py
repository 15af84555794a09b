"""Reading a table again from where it came from, with what was done to it."""

from pathlib import Path

from attrs import evolve

from sornix.core.errors import ReadingsError
from sornix.core.readings.changes.operations import reapplied
from sornix.core.readings.files.delimited import read_bytes, read_text, read_texts
from sornix.core.readings.formats.sources import FILE_TYPES, read_file, type_in, whole_lines_of
from sornix.core.readings.tables.dialect import NOTHING_HELD, Held
from sornix.core.readings.tables.origin import Source
from sornix.core.readings.tables.table import Table


def read_again(
    table: Table, held: Held | None = None, *, whole_lines: bool = False
) -> tuple[Table, tuple[str, ...]]:
    """A table read anew from its source, with what was held of its dialect or other words, and its
    changes made again; and what of them did not fit.

    With `whole_lines` a last line without its end is left for later. Raises ReadingsError.
    """
    source = table.source
    if source is None or not (source.path or source.text):
        raise ReadingsError(
            "There is no file to read again: these readings were typed or saved with the document.",
            where=table.name,
        )
    if held is None:
        held = table.read_as.held if table.read_as else NOTHING_HELD
    if source.text:
        fresh = evolve(read_text(source.text, table.name, held=held), source=source)
        return reapplied(fresh, table.changes)
    path = Path(source.path)
    if whole_lines and type_in(path) is FILE_TYPES["text"]:
        state = path.stat() if path.exists() else None
        raw = whole_lines_of(read_bytes(path))
        tables = read_texts(raw, path.stem, where=path.name, held=held)
        named = [one for one in tables if one.name == source.sheet] or tables
        fresh = evolve(named[0], name=table.name)
        size, changed = (state.st_size, state.st_mtime_ns) if state else (len(raw), 0)
        fresh = evolve(fresh, source=Source(source.path, source.sheet, size, changed))
    else:
        found = read_file(path, source.sheet or None, held)
        fresh = evolve(found[0], name=table.name)
    return reapplied(fresh, table.changes)
