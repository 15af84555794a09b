"""`sornix readings`."""

from pathlib import Path

import click

from sornix.cli.answer import json_option, note_doubts, print_json, strict_option
from sornix.cli.files import (
    Targets,
    dialect_options,
    need_ending,
    option_of,
    read_tables,
    remarks_of,
)
from sornix.core.files import write_atomically
from sornix.core.readings import KIND_WORDS, TIME, Column, Table, write_text
from sornix.core.readings.tables.dialect import doubts_of, said
from sornix.core.text import plain_text, plural, rich, shortest, unit_words


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--sheet", help="Only this sheet of a workbook, or table of a document.")
@click.option(
    "--out",
    type=click.Path(dir_okay=False, path_type=Path),
    help="Also write the (first) table to this .csv, .tsv or .txt file; .tsv has tabs.",
)
@dialect_options
@strict_option
@json_option
def readings(file: Path, sheet: str | None, out: Path | None, as_json: bool) -> None:
    """Tells what is read from FILE: its columns, and what looks wrong.

    FILE is delimited text, a workbook, a document, or of any other type that the guide names
    (JSON, Parquet, Arrow, HDF5, NetCDF, NumPy, SQLite, JCAMP-DX, a data package).
    """
    if out is not None:
        need_ending(out, (".csv", ".tsv", ".txt"), "--out")
        Targets([file]).add([out])
    tables = read_tables(file, sheet)
    for table in tables:
        note_doubts(table)
    if out is not None:
        separator = "\t" if out.suffix.lower() == ".tsv" else ","
        write_atomically(out, write_text(tables[0], separator, units=True))
    if as_json:
        answer = _table_facts(tables[0])
        if len(tables) > 1:
            answer["sheets"] = [_table_facts(table) for table in tables]
        print_json(answer)
        return
    for table in tables:
        _tell(table)


def _tell(table: Table) -> None:
    columns = plural(len(table.columns), "column")
    click.echo(f"{table.name}: {plural(table.row_count, 'row')}, {columns}")
    if table.read_as is not None:
        words = (said(name, getattr(table.read_as.dialect, name)) for name in table.read_as.words)
        click.echo(f"  Read with {', '.join(words)}.")
    for column in table.columns:
        click.echo(f"  {_line(column)}")
    for note in remarks_of(table):
        click.echo(f"Note: {note}")


def _table_facts(table: Table) -> dict[str, object]:
    read_as = {}
    if table.read_as is not None:
        dialect = table.read_as.dialect
        read_as = {name: getattr(dialect, name) for name in table.read_as.words}
    return {
        "name": table.name,
        "rows": table.row_count,
        "columns": [_facts(column) for column in table.columns],
        "read_as": read_as,
        "doubts": [
            {
                "about": one.word,
                "why": one.why,
                "taken": one.taken,
                "else": list(one.others),
                "hold_with": option_of(one.word),
            }
            for one in doubts_of(table.read_as)
        ],
        "notes": list(table.remarks),
    }


def _facts(column: Column) -> dict[str, object]:
    least, greatest = _ends(column)
    return {
        "name": column.name,
        "unit": column.unit,
        "kind": column.kind,
        "count": column.count,
        "missing": column.missing,
        "least": least,
        "greatest": greatest,
        "text_cells": len(column.texts),
    }


def _ends(column: Column) -> tuple[object, object]:
    """The least and the greatest reading: numbers, or times as text."""
    ends = column.ends
    if ends is None:
        return None, None
    if column.kind != TIME:
        return ends
    from sornix.core.text.moments import moment_text

    return moment_text(ends[0], column.form), moment_text(ends[1], column.form)


def _line(column: Column) -> str:
    parts = [f"{KIND_WORDS[column.kind]}, {plural(column.count, 'reading')}"]
    if column.missing:
        parts.append(f"{column.missing} missing")
    if column.ends:
        least, greatest = (
            e if isinstance(e, str) else shortest(float(str(e)), 0) for e in _ends(column)
        )
        parts.append(f"{least} to {greatest} {unit_words(column.unit)}".strip())
    return plain_text(rich(f"{column.title}: {', '.join(parts)}"))
