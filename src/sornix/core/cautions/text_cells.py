"""Cells of a number column that are no numbers."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.figure import column_or_rows
from sornix.core.readings import table_named
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    drawn = dict.fromkeys((s.table, name) for s in view.panel.series for name in (s.x, s.y))
    for table, name in drawn:
        column = column_or_rows(table_named(view.tables, table), name)
        if column.texts:
            row, text = next(iter(column.texts.items()))
            count = len(column.texts)
            yield Finding(
                f"{plural(count, 'cell')} of “{column.name}” {'is' if count == 1 else 'are'} text, "
                f"not numbers, and not drawn (row {row + 1}: “{text}”)."
            )
