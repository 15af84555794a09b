"""`sornix readings`."""

from pathlib import Path

import click

from sornix.command.answer import json_option, print_json
from sornix.command.sources import read_table
from sornix.core.readings import Column
from sornix.core.text import plain_text, plural, rich, shortest


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@json_option
def readings(file: Path, as_json: bool) -> None:
    """Tells what is read from FILE: its columns, and what looks wrong."""
    table = read_table(file)
    if as_json:
        print_json(
            {
                "name": table.name,
                "rows": table.row_count,
                "columns": [_facts(column) for column in table.columns],
                "notes": list(table.remarks),
            }
        )
        return
    columns = plural(len(table.columns), "column")
    click.echo(f"{table.name}: {plural(table.row_count, 'row')}, {columns}")
    for column in table.columns:
        click.echo(f"  {_line(column)}")
    for note in table.remarks:
        click.echo(f"Note: {note}")


def _facts(column: Column) -> dict[str, object]:
    least, greatest = column.ends or (None, None)
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


def _line(column: Column) -> str:
    parts = [f"{column.kind}, {plural(column.count, 'reading')}"]
    if column.missing:
        parts.append(f"{column.missing} missing")
    if column.ends:
        least, greatest = (shortest(end, 0) for end in column.ends)
        parts.append(f"{least} to {greatest} {column.unit}".strip())
    return plain_text(rich(f"{column.title}: {', '.join(parts)}"))
