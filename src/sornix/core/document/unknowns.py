"""A whole column of unknowns read off a trend: new columns beside it."""

from functools import partial

from sornix.core.document.tables import change_table
from sornix.core.document.value import Document
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import trend_fit
from sornix.core.figure.trendfits import trend_columns
from sornix.core.readings import TIME, table_named
from sornix.core.text.moments import moment_text
from sornix.core.trends.readoff import read_off


def read_off_column(document: Document, trend_id: str, table_name: str, name: str) -> Document:
    """The document with columns of the x that belong to each y of a column, and of the ends of
    their 95 % intervals. Cells without a y, or whose y the trend does not have, stay empty.

    Refused: a column without numbers, a trend from which none of them can be read off.
    """
    panel = document.figure.panel
    trend = panel.one_trend(trend_id)
    fit = trend_fit(trend, panel, document.tables)
    column = table_named(document.tables, table_name).column(name)
    if not column.has_places:
        raise EditRefused(f"“{name}” holds no numbers to read off.")
    series = panel.one_series(trend.series)
    x_name = series.x or "Row"
    x, _ = trend_columns(trend, panel, document.tables)
    written = partial(moment_text, form=x.form) if x.kind == TIME else repr
    cells: dict[str, list[str]] = {"": [], " from": [], " to": []}
    for value, is_there in zip(column.numbers.tolist(), column.present.tolist(), strict=True):
        found: tuple[float | None, float | None, float | None] = (None, None, None)
        if is_there:
            try:
                one = read_off(fit, value)
                found = (one.x, *(one.interval or (None, None)))
            except TrendImpossible:
                found = (None, None, None)
        for texts, number in zip(cells.values(), found, strict=True):
            texts.append("" if number is None else written(number))
    if not any(cells[""]):
        raise EditRefused(f"None of “{name}” can be read off this trend.")
    new = [{"name": f"{x_name} of {name}{end}", "unit": x.unit, "cells": texts}
           for end, texts in cells.items()]  # fmt: skip
    return change_table(document, table_name, "add_columns", columns=new)
