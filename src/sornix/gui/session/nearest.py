"""The reading under the pointer."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing import Drawing, PanelPlace
from sornix.core.errors import SornixError
from sornix.core.figure import Points, series_points
from sornix.core.scales.kind import Resolved
from sornix.gui.session.scene import Scene

_MANY = 5000
# Parts of the reach in which is looked, one after the other.
_PARTS = (1 / 64, 1 / 16, 1 / 4, 1.0)


class Reading(NamedTuple):
    """A reading of the figure: its series, its row index and its values."""

    series: str
    row: int
    x: float
    y: float


def nearest_reading(
    scene: Scene, drawing: Drawing, at: tuple[float, float], reach_mm: float
) -> Reading | None:
    """The nearest reading that is drawn within `reach_mm` of a point in mm."""
    best: tuple[float, Reading] | None = None
    index = drawing.panel_at(*at, reach_mm)
    if index is None:
        return None
    panel = scene.figure.seen(index)
    if not panel.has_axes:
        return None
    for series in panel.shown:
        place = drawing.panels[index].on(series)
        points = series_points(series, panel, scene.tables)
        # of very many, the nearest one is most often far nearer than those that are in reach
        for part in _PARTS if len(points.x) > _MANY else (1.0,):
            found = _nearest_of(points, place, at, part * reach_mm)
            if found is not None:
                if best is None or found[0] < best[0]:
                    which = found[1]
                    values = float(points.x[which]), float(points.y[which])
                    best = found[0], Reading(series.id, int(points.rows[which]), *values)
                break
    return best[1] if best else None


def _nearest_of(
    points: Points, place: PanelPlace, at: tuple[float, float], reach_mm: float
) -> tuple[float, int] | None:
    """The nearest of the readings that are drawn within a reach of a point in mm: the square of how
    far away it is, and its place."""
    near = _in_reach(points, place, at, reach_mm)
    if not len(near):
        return None
    placed = place.place(points.x[near], points.y[near])
    away = placed - at
    distance = np.einsum("ij,ij->i", away, away)
    i = int(np.argmin(distance))
    if distance[i] > reach_mm**2 or not place.inner.grown(0.01).holds(*placed[i]):
        return None
    return float(distance[i]), int(near[i])


def readings_across(scene: Scene, drawing: Drawing, at: tuple[float, float]) -> list[Reading]:
    """The readings of every panel that stand at the x under a point, where panels share x: of each
    series that rises along x, the nearest one in sight."""
    index = drawing.panel_at(*at)
    if index is None or len(drawing.panels) < 2 or not scene.figure.shares("x"):
        return []
    here = drawing.panels[index]
    x = here.x.value((at[0] - here.inner.left) / here.inner.width)
    found = []
    for number, place in enumerate(drawing.panels):
        panel = scene.figure.seen(number)
        for series in panel.shown:
            points = series_points(series, panel, scene.tables)
            if not points.rising or not len(points.x) or series.x_axis != "x":
                continue
            right = int(np.searchsorted(points.x, x))
            before, after = max(right - 1, 0), min(right, len(points.x) - 1)
            near = before if x - points.x[before] < points.x[after] - x else after
            value = float(points.x[near])
            if place.x.start <= value <= place.x.end:
                row = int(points.rows[near])
                found.append(Reading(series.id, row, value, float(points.y[near])))
    return found


def _in_reach(
    points: Points, place: PanelPlace, at: tuple[float, float], reach_mm: float
) -> NDArray[np.intp]:
    """The places of the readings that can be within reach: all, or of many those between the values
    at its ends."""
    if len(points.x) <= _MANY:
        return np.arange(len(points.x))
    inner = place.inner
    across = [(at[0] + side * reach_mm - inner.left) / inner.width for side in (-1, 1)]
    up = [(inner.bottom - at[1] + side * reach_mm) / inner.height for side in (-1, 1)]
    low, high = _values(place.x, across)
    lowest, highest = _values(place.y, up)
    if points.rising:
        begin, end = points.between(low, high)
        y = points.y[begin:end]
        return begin + np.flatnonzero((y >= lowest) & (y <= highest))
    near = np.flatnonzero((points.x >= low) & (points.x <= high))
    y = points.y[near]
    return near[(y >= lowest) & (y <= highest)]


def _values(scale: Resolved, ends: list[float]) -> tuple[float, float]:
    """The values between two places of a scale; all where one of them is beyond what it has."""
    try:
        first, middle, last = (scale.value(at) for at in (ends[0], sum(ends) / 2, ends[1]))
    except SornixError:
        return -np.inf, np.inf
    if not (first < middle < last or last < middle < first):
        return -np.inf, np.inf
    return min(first, last), max(first, last)


def reading_of_row(scene: Scene, series_id: str, row: int) -> Reading | None:
    """The reading of a series at a row index, if it holds one."""
    panel = scene.figure.seen(scene.figure.home(series_id))
    points = series_points(panel.one_series(series_id), panel, scene.tables)
    at = points.at_row(row)
    if at is None:
        return None
    return Reading(series_id, row, float(points.x[at]), float(points.y[at]))


def step_along(scene: Scene, reading: Reading | None, steps: int) -> Reading | None:
    """The reading so many rows further on in its series, or the first one to begin with."""
    figure = scene.figure
    panel = figure.seen(figure.home(reading.series)) if reading else figure.panel
    series = panel.one_series(reading.series) if reading else panel.series[0]
    points = series_points(series, panel, scene.tables)
    if not len(points.rows):
        return None
    now = points.at_row(reading.row) if reading else None
    at = 0 if now is None else min(max(now + steps, 0), len(points.rows) - 1)
    return reading_of_row(scene, series.id, int(points.rows[at]))


def step_across(scene: Scene, reading: Reading | None, steps: int) -> Reading | None:
    """The reading at the same row in the next series that has one there."""
    ids = [series.id for panel in scene.figure.panels for series in panel.series]
    if reading is None:
        return step_along(scene, None, 0)
    at = ids.index(reading.series)
    for turn in range(1, len(ids) + 1):
        found = reading_of_row(scene, ids[(at + steps * turn) % len(ids)], reading.row)
        if found is not None:
            return found
    return reading
