"""Cells of drawn columns that are no numbers, or limits of detection."""

from collections.abc import Iterator

from sornix.core.cautions.caution import Finding, View
from sornix.core.figure import column_or_rows
from sornix.core.readings import table_named
from sornix.core.readings.tables.table import text_note
from sornix.core.text import plural


def find(view: View) -> Iterator[Finding]:
    drawn = dict.fromkeys((s.table, name) for s in view.panel.shown for name in (s.x, s.y))
    for table, name in drawn:
        column = column_or_rows(table_named(view.tables, table), name)
        if column.texts:
            yield Finding(text_note(column), size=len(column.texts))
        if column.bounds:
            count = len(column.bounds)
            yield Finding(
                f"{plural(count, 'reading')} of “{column.name}” "
                f"{'is a limit' if count == 1 else 'are limits'} of detection, drawn at the limit.",
                size=count,
            )
