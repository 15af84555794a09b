"""Columns of what a trend leaves of each reading: they are fitted anew with every change of the
readings, and so move with them, whatever becomes of the figure that the trend stood in."""

import json
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import numpy as np
from attrs import asdict, evolve
from numpy.typing import NDArray

from sornix.core.document.figures import added
from sornix.core.document.stored.structuring import structured
from sornix.core.document.tables import change_table
from sornix.core.document.value import Document
from sornix.core.errors import SornixError
from sornix.core.figure import Figure, Guide, Panel, Series, Trend, trend_fit, trend_words, waiting
from sornix.core.figure.edits.axisedits import freed
from sornix.core.readings import Table, table_named, unique_names
from sornix.core.readings.tables.rule import Residuals
from sornix.core.readings.tables.rules import TREND_WORK, rule_to_json


class _Work:
    """What is asked of trends by the columns that are computed from them."""

    def check(self, trend: str) -> None:
        _part(trend)

    def residuals(self, trend: str, table: Table) -> NDArray[np.float64]:
        series, one = _part(trend)
        series = evolve(series, table=table.name)
        found = np.full(table.row_count, np.nan)
        try:
            with waiting():
                fit = trend_fit(one, Panel((series,), trends=(one,)), (table,))
        except SornixError:
            # too few readings for it now: there will be more, and nothing is to be typed over
            return found
        found[fit.rows] = fit.residuals
        return found

    def following(self, trend: str, old: str, new: str) -> str:
        series, one = _part(trend)
        names = {old: new}
        weights = one.weight_column
        one = evolve(
            one, weight_column=None if weights is None else names.get(weights, weights),
            columns=tuple(names.get(name, name) for name in one.columns),
        )  # fmt: skip
        return _told(series.following(names), one)

    def moved(self, trend: str, places: Mapping[int, int]) -> str:
        series, one = _part(trend)
        kept = [evolve(o, row=places[o.row]) for o in series.left_out if o.row in places]
        kept.sort(key=lambda left: left.row)
        return _told(evolve(series, left_out=tuple(kept)), one)


WORK = _Work()
TREND_WORK.append(WORK)


def _told(series: Series, trend: Trend) -> str:
    return json.dumps({"series": asdict(series), "trend": asdict(trend)}, sort_keys=True)


@lru_cache(64)
def _part(told: str) -> tuple[Series, Trend]:
    """The series and the trend that a text tells. Raises ValueError where it is none."""
    found: dict[str, Any] = json.loads(told)
    if not isinstance(found, dict) or set(found) != {"series", "trend"}:
        raise ValueError("a trend is its series and itself")
    return structured(found["series"], Series), structured(found["trend"], Trend)


def add_residuals(document: Document, trend_id: str) -> Document:
    """With a column of what a trend of the panel in hand leaves of each reading, and a figure of it
    against x, with a line at 0."""
    panel = document.figure.panel
    trend = panel.one_trend(trend_id)
    series = panel.one_series(trend.series)
    fit = trend_fit(trend, panel, document.tables)
    table = table_named(document.tables, series.table)
    usual = evolve(trend, intervals="usual") if trend.intervals == "resampling" else trend
    of = series.y or "row number"
    said = f"{trend_words(trend)} through “{of}”"
    needs = tuple(dict.fromkeys((
        *series.columns, *trend.columns, *((trend.weight_column,) if trend.weight_column else ())
    )))  # fmt: skip
    rule = Residuals(said, _told(series, usual), needs, WORK)
    name = unique_names([f"Residuals of {of}"], table.column_names)[0]
    made = change_table(
        document, table.name, "compute", name=name, unit=fit.sample.y_unit, rule=rule_to_json(rule)
    )
    one = Series(
        "s1", table.name, series.x, name, palette_index=series.palette_index, only=series.only
    )
    x = freed(panel.x) if series.x_axis == "x" else freed(panel.x2)
    figure: Figure = evolve(
        document.figure, panels=(Panel((one,), x=x, guides=(Guide("g1", "y", 0.0),)),), title="",
        title_spot=None, hand=0, share="none", letters=False, widths=(), heights=(), caption=None,
        methods=None, noted=(), name="",
    )  # fmt: skip
    return added(made, figure)
