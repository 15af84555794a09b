"""What a line in several columns says of each reading: new columns, and panels of them."""

from collections.abc import Mapping

from attrs import evolve

from sornix.core.document.tables import change_table
from sornix.core.document.value import Document
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, add_panel_of, trend_fit
from sornix.core.figure.derived.trendsamples import trend_columns
from sornix.core.readings import Table, table_named
from sornix.core.trends import Fit
from sornix.core.trends.fits.sample import Floats
from sornix.core.trends.models.several import Several

# More digits of a prediction tell nothing.
_DIGITS = 7


def draw_prediction(document: Document, trend_id: str) -> Document:
    """The document with a column of what the trend says of each reading that it goes through, and a
    panel of the readings against it, with the line on which both agree."""
    fit, table, y = _asked(document, trend_id)
    made, (name,) = _with_columns(document, fit, table, {f"{y}, predicted": fit.fitted})
    figure = add_panel_of(made.figure, table.name, name, y, "x", "as predicted")
    return evolve(made, figure=figure)


def draw_each(document: Document, trend_id: str) -> Document:
    """The document with a panel for each column of a line in several: the readings against it, as
    they would be with all others at their averages. Their scatter is that about the whole trend
    (N. R. Draper and H. Smith, "Applied Regression Analysis", 3rd edition (1998), section 3.8:
    partial residuals, set on the line)."""
    fit, table, y = _asked(document, trend_id)
    model = fit.by
    assert isinstance(model, Several)
    trend = document.figure.panel.one_trend(trend_id)
    x, _ = trend_columns(trend, document.figure.panel, document.tables)
    columns = (x.name, *trend.columns)
    values = {f"{y}, {name} alone": model.along_one(fit, place) + fit.residuals
              for place, name in enumerate(columns)}  # fmt: skip
    made, names = _with_columns(document, fit, table, values)
    figure: Figure = made.figure
    for column, name in zip(columns, names, strict=True):
        if column in table.column_names:
            figure = add_panel_of(figure, table.name, column, name)
    return evolve(made, figure=figure)


def _asked(document: Document, trend_id: str) -> tuple[Fit, Table, str]:
    """The fit of a trend, the table that it is of, and the name of its y."""
    panel = document.figure.panel
    trend = panel.one_trend(trend_id)
    if not trend.columns:
        raise EditRefused(
            "This line is in one column alone.", remedy="Choose further columns for it first."
        )
    fit = trend_fit(trend, panel, document.tables)
    table = table_named(document.tables, panel.one_series(trend.series).table)
    return fit, table, trend_columns(trend, panel, document.tables)[1].name


def _with_columns(
    document: Document, fit: Fit, table: Table, values: Mapping[str, Floats]
) -> tuple[Document, tuple[str, ...]]:
    """The document with new columns of the readings that a fit goes through, and their names."""
    new = []
    for name, numbers in values.items():
        cells = [""] * table.row_count
        for row, number in zip(fit.rows.tolist(), numbers.tolist(), strict=True):
            cells[row] = repr(float(f"{number:.{_DIGITS}g}"))
        new.append({"name": name, "unit": fit.sample.y_unit, "cells": cells})
    made = change_table(document, table.name, "add_columns", columns=new)
    names = table_named(made.tables, table.name).column_names
    return made, tuple(names[-len(new) :])
