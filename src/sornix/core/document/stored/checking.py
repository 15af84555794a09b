"""Whether the parts of a document fit together."""

import numpy as np

from sornix.core.document.value import Document
from sornix.core.errors import DocumentError, SornixError
from sornix.core.figure import curve_values, series_points, trend_symbols
from sornix.core.readings import table_named


def damaged(where: str, what: str) -> DocumentError:
    """What is raised for a file that is no document, or not a whole one."""
    return DocumentError(
        f"This is not a Sornix document, or it is damaged: {what}.",
        where=where,
        remedy="It was left as it is.",
    )


def check_references(document: Document, where: str) -> None:
    """Every series has its columns and every trend its series. Raises DocumentError."""
    try:
        for panel in (panel for figure in document.figures for panel in figure.panels):
            for series in panel.series:
                for name in series.columns:
                    table_named(document.tables, series.table).column(name)
                series_points(series, panel, document.tables)
            for curve in panel.curves:
                curve_values(curve, np.ones(1))
            for trend in panel.trends:
                trend_symbols(trend, panel, document.tables)
    except (SornixError, KeyError) as error:
        raise damaged(
            where, f"the figure speaks of readings that are not there ({error})"
        ) from error
