"""A whole column of unknowns read off a trend: new columns beside it."""

from functools import partial

from sornix.core.document.tables import change_table
from sornix.core.document.value import Document
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import trend_fit
from sornix.core.figure.derived.trendsamples import trend_columns
from sornix.core.readings import TIME, table_named
from sornix.core.text.moments import moment_text
from sornix.core.trends import UNTREATED
from sornix.core.trends.fits.readoff import in_sample, read_off


def read_off_column(
    document: Document, trend_id: str, table_name: str, name: str, sd_name: str | None = None
) -> Document:
    """The document with columns of the x that belong to each y of a column, and of the ends of
    their 95 % intervals; each y has the SD in another column, where one is named, else it scatters
    as the readings do. Samples that were treated are told as they were before. Cells without a y,
    without an SD above 0 where it should have one, or whose y the trend does not have, stay empty.

    Refused: a column without numbers, a trend from which none of them can be read off.
    """
    panel = document.figure.panel
    trend = panel.one_trend(trend_id)
    fit = trend_fit(trend, panel, document.tables)
    table = table_named(document.tables, table_name)
    column, sds = table.column(name), None if sd_name is None else table.column(sd_name)
    for one in (column, sds):
        if one is not None and not one.has_places:
            raise EditRefused(f"“{one.name}” holds no numbers to read off.")
    series = panel.one_series(trend.series)
    x_name = series.x or "Row"
    x, _ = trend_columns(trend, panel, document.tables)
    written = partial(moment_text, form=x.form) if x.kind == TIME else repr
    cells: dict[str, list[str]] = {"": [], " from": [], " to": []}
    treatment = trend.treatment if x.kind != TIME else UNTREATED
    for row, value in enumerate(column.numbers.tolist()):
        found: tuple[float | None, float | None, float | None] = (None, None, None)
        if column.present[row] and (sds is None or sds.present[row]):
            try:
                sd = None if sds is None else float(sds.numbers[row])
                read = in_sample(read_off(fit, value, 1, sd), treatment)
                found = (read.x, *(read.interval or (None, None)))
            except TrendImpossible:
                found = (None, None, None)
        for texts, number in zip(cells.values(), found, strict=True):
            texts.append("" if number is None else written(number))
    if not any(cells[""]):
        raise EditRefused(f"None of “{name}” can be read off this trend.")
    of = name if treatment == UNTREATED else f"{name}, in the sample"
    new = [{"name": f"{x_name} of {of}{end}", "unit": x.unit, "cells": texts}
           for end, texts in cells.items()]  # fmt: skip
    return change_table(document, table_name, "add_columns", columns=new)
