"""What a page knows of its figure: where its panels stand, its scales, and the readings."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing import Drawing
from sornix.core.figure import (
    MARKS,
    Figure,
    Panel,
    Points,
    Series,
    SeriesName,
    axis_list,
    column_or_rows,
    marked,
    scale_kind,
    series_name,
)
from sornix.core.readings import TIME, Column, Tables, table_named
from sornix.core.scales import Resolved, is_categorical
from sornix.core.text import plain_text, rich, unit_words

# Of a series of more readings than this the lowest and the highest at so many places are told.
MOST_READINGS, _PLACES = 10_000, 2500
# How much of a written moment tells it as finely as a column of that form does.
_MOMENTS = {"year": 4, "month": 7, "day": 10, "hour": 16, "minute": 16, "second": 19}
_WHOLE_MOMENT = 23


def page_numbers(figure: Figure, tables: Tables, drawing: Drawing) -> dict[str, Any]:
    """All of it, as JSON has it."""
    panels: list[dict[str, Any]] = []
    series: list[dict[str, Any]] = []
    trends: dict[str, str] = {}
    for index, place in enumerate(drawing.panels):
        panel = figure.seen(index)
        scales = {
            axis: _scale(scale, panel, tables, axis) for axis, scale in place.scales.items()
            if panel.has_axes
        }  # fmt: skip
        left, top, width, height = (round(side, 4) for side in place.inner)
        panels.append(
            {"left": left, "top": top, "width": width, "height": height, "scales": scales}
        )
        if not panel.has_axes:
            continue
        trends |= {trend.id: trend.series for trend in panel.trends}
        series += [_series(one, index, panel, tables, place.on(one)) for one in panel.shown]
    names = [
        {"series": box.of.series, "x": round(box.rect.left, 3), "y": round(box.rect.top, 3),
         "width": round(box.rect.width, 3), "height": round(box.rect.height, 3)}
        for box in drawing.boxes if isinstance(box.of, SeriesName)
    ]  # fmt: skip
    share = {"x": "x", "y": "y", "both": "xy"}.get(figure.share, "")
    return {"panels": panels, "series": series, "trends": trends, "names": names, "share": share}


def _scale(scale: Resolved, panel: Panel, tables: Tables, axis: str) -> dict[str, Any]:
    kind = scale.kind if scale.kind in ("log", "reciprocal") else "even"
    told = {"kind": kind, "start": scale.start, "end": scale.end, "reversed": scale.reversed}
    return told | _words(panel, tables, axis)


def _words(panel: Panel, tables: Tables, axis: str) -> dict[str, Any]:
    """How values on an axis are said, where not as numbers."""
    name = scale_kind(panel, tables, axis)
    if is_categorical(name):
        return {"names": list(axis_list(panel, tables, axis))}
    return {"moments": _WHOLE_MOMENT} if name == "time" else {}


def _series(one: Series, index: int, panel: Panel, tables: Tables, place: Any) -> dict[str, Any]:
    """A series with its readings, as they stand on its scales."""
    points = marked(one, panel, tables).points
    kept = kept_readings(points, place.x, place.y)
    rows = points.rows[kept] + 1
    table = table_named(tables, one.table)
    single = one.together == "each"
    told: dict[str, Any] = {
        "id": one.id, "panel": index, "name": plain_text(rich(series_name(panel, one, tables))),
        "axes": [one.x_axis, one.y_axis],
        "x": _column(column_or_rows(table, one.x), points.x[kept], panel, tables, one.x_axis),
        "y": _column(column_or_rows(table, one.y), points.y[kept], panel, tables, one.y_axis),
    }  # fmt: skip
    whole = len(kept) == len(points.x) and single
    told["straight"] = whole and MARKS[one.mark].path == "straight"
    if not single:
        told["together"] = f"{one.together} of readings"
    elif not np.array_equal(rows, np.arange(1, len(rows) + 1)):
        told["rows"] = rows.tolist()
    if len(kept) < len(points.x):
        told["of"] = len(points.x)
    gone = {left.row + 1 for left in one.left_out} if single else set()
    if gone:
        told["left"] = [i for i, row in enumerate(rows.tolist()) if row in gone]
    return told


def _column(
    column: Column, values: NDArray[np.float64], panel: Panel, tables: Tables, axis: str
) -> dict[str, Any]:
    told: dict[str, Any] = {
        "said": plain_text(rich(column.name)), "values": values.tolist()
    } | _words(panel, tables, axis)  # fmt: skip
    if column.kind == TIME and "names" not in told:
        told["moments"] = _MOMENTS.get(column.form, _WHOLE_MOMENT)
    elif column.unit and "names" not in told:
        told["unit"] = unit_words(column.unit)
    return told


def kept_readings(points: Points, x: Resolved, y: Resolved) -> NDArray[np.intp]:
    """Which of the readings in view a page tells (m,), in their order: all, or the lowest and the
    highest at each of many places along x."""
    inside = np.flatnonzero(
        (points.x >= x.start) & (points.x <= x.end) & (points.y >= y.start) & (points.y <= y.end)
    )
    if len(inside) <= MOST_READINGS:
        return inside
    place = (np.clip(x.position(points.x[inside]), 0, 1) * (_PLACES - 1)).astype(np.intp)
    order = np.lexsort((points.y[inside], place))
    first = np.flatnonzero(np.diff(place[order], prepend=-1))
    last = np.append(first[1:], len(order)) - 1
    return np.sort(inside[order[np.union1d(first, last)]])
