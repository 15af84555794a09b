"""What a series draws: single readings or the mean or sum of those at one place, with their error
bars, and bars from where to where."""

from collections.abc import Mapping
from contextlib import suppress
from functools import lru_cache
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import SornixError
from sornix.core.figure.derived.paneldata import remembered
from sornix.core.figure.derived.points import Points, axis_list, lies, scale_kind, series_points
from sornix.core.figure.model.scale import AXES
from sornix.core.figure.model.series import IN_TWO_COLUMNS, MARKS, OF_REPLICATES, ErrorBars, Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import Tables, table_named
from sornix.core.readings.tables.laid import bring, let_go_of
from sornix.core.scales import KINDS, Extent, is_categorical

Floats = NDArray[np.float64]
# the lower and the upper end of each error bar
Ends = tuple[Floats, Floats]
_NONE: Mapping[str, Ends] = MappingProxyType({})


class Marked(NamedTuple):
    """The places that a series draws, (n,), and the ends of error bars along `x` and `y`, NaN where
    there is none. `points.rows` are the first of the rows that are drawn together."""

    points: Points
    whiskers: Mapping[str, Ends] = _NONE


@remembered
def marked(series: Series, panel: Panel, tables: Tables) -> Marked:
    """What a series draws."""
    points = series_points(series, panel, tables)
    along = "y" if lies(panel, tables) else "x"
    groups = _together(points, along, series.together) if series.together != "each" else None
    drawn = groups.points if groups is not None else points
    whiskers = {}
    for direction in "xy":
        errors = series.errors(direction)
        if errors is not None and len(drawn.x):
            ends = _ends(errors, series, points, groups, direction, tables)
            if ends is not None:
                whiskers[direction] = ends
    return Marked(drawn, whiskers)


class _Groups(NamedTuple):
    """Readings at one place: `of` gives the group of each reading, (n,)."""

    points: Points
    of: NDArray[np.intp]

    def mean(self, values: Floats) -> Floats:
        return np.bincount(self.of, values, len(self.points.x)) / self.sizes

    @property
    def sizes(self) -> Floats:
        return np.bincount(self.of, minlength=len(self.points.x)).astype(np.float64)

    def spread(self, values: Floats) -> Floats:
        """Standard deviations, of n − 1; NaN for one reading alone."""
        off = values - self.mean(values)[self.of]
        freedom = self.sizes - 1
        squares = np.bincount(self.of, off**2, len(self.points.x))
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.where(freedom > 0, np.sqrt(squares / freedom), np.nan)


@lru_cache(maxsize=32)
def _together(points: Points, along: str, how: str) -> _Groups:
    """The mean or the sum of the readings at each place along an axis, in its order."""
    at = points.x if along == "x" else points.y
    values = points.y if along == "x" else points.x
    places, first, of = np.unique(at, return_index=True, return_inverse=True)
    made: Floats = np.bincount(of, values, len(places)).astype(np.float64)
    if how == "mean":
        made = made / np.bincount(of, minlength=len(places))
    x, y = (places, made) if along == "x" else (made, places)
    rising = bool(np.all(np.diff(x) >= 0))
    return _Groups(Points(x, y, points.rows[first], np.zeros(0, np.intp), rising), of)


def _ends(
    errors: ErrorBars, series: Series, points: Points, groups: _Groups | None, direction: str,
    tables: Tables,
) -> Ends | None:  # fmt: skip
    """The ends of error bars; None where they cannot be known."""
    raw = points.x if direction == "x" else points.y
    drawn = groups.points if groups is not None else points
    middle = drawn.x if direction == "x" else drawn.y
    if errors.kind in OF_REPLICATES:
        if groups is None or series.together != "mean":
            return None
        length = groups.spread(raw)
        if errors.kind != "sd":
            length = length / np.sqrt(groups.sizes)
        if errors.kind == "ci95":
            from scipy.special import stdtrit

            with np.errstate(invalid="ignore"):
                length = length * stdtrit(groups.sizes - 1, 0.975)
        return middle - length, middle + length
    if errors.kind in ("fixed", "percent"):
        length = np.full(len(middle), errors.size)
        if errors.kind == "percent":
            length = np.abs(middle) * errors.size / 100
        return middle - length, middle + length
    table = table_named(tables, series.table)
    both = errors.kind in IN_TWO_COLUMNS
    names = (errors.column, errors.upper if both else errors.column)
    lengths = []
    for name in names:
        if name not in table.column_names or not table.column(str(name)).has_places:
            return None
        found = table.column(str(name)).numbers[points.rows]
        found = found if errors.kind == "bounds" else np.abs(found)
        lengths.append(groups.mean(found) if groups is not None else found)
    if errors.kind == "bounds":
        return lengths[0], lengths[1]
    return middle - lengths[0], middle + lengths[1]


def parts_of_whole(panel: Panel, tables: Tables) -> list[tuple[str, float]]:
    """Names and values of the parts that the first series makes of a whole, in their order;
    several readings of one part are added up, or their mean is taken where that is drawn."""
    series = panel.series[0]
    points = series_points(series, panel, tables)
    if not len(points.x):
        return []
    how = "mean" if series.together == "mean" else "sum"
    lying = lies(panel, tables)
    grouped = _together(points, "y" if lying else "x", how).points
    at, values = (grouped.y, grouped.x) if lying else (grouped.x, grouped.y)
    axis = series.y_axis if lying else series.x_axis
    kind = scale_kind(panel, tables, axis)
    if is_categorical(kind):
        names = axis_list(panel, tables, axis)
        return [(names[int(i)], float(v)) for i, v in zip(at, values, strict=True)]
    words = KINDS[kind].words
    return [(words(float(i), 0.0), float(v)) for i, v in zip(at, values, strict=True)]


class BarSet(NamedTuple):
    """Bars of one series: at places along their axis, from `base` to `top` along the other, (n,),
    in the `slot`-th of so many `slots` side by side; `spacing` is the least distance of places."""

    at: Floats
    base: Floats
    top: Floats
    rows: NDArray[np.intp]
    slot: int
    slots: int
    spacing: float


@remembered
def bar_sets(panel: Panel, tables: Tables) -> Mapping[str, BarSet]:
    """The bars of a panel by series, side by side, stacked, or as shares (%) of the whole at their
    place."""
    series = [one for one in panel.shown if MARKS[one.mark].bars]
    if not series:
        return {}
    along = "y" if lies(panel, tables) else "x"
    found = {}
    for one in series:
        points = marked(one, panel, tables).points
        at, value = (points.x, points.y) if along == "x" else (points.y, points.x)
        found[one.id] = (at, value, points.rows)
    places = np.unique(np.concatenate([at for at, *_ in found.values()]))
    listed = is_categorical(scale_kind(panel, tables, series[0].axis(along)))
    gaps = np.diff(places)
    spacing = 1.0 if listed or not len(gaps) else float(gaps.min())
    if panel.bars == "beside":
        return {
            name: BarSet(at, np.zeros(len(at)), value, rows, slot, len(series), spacing)
            for slot, (name, (at, value, rows)) in enumerate(found.items())
        }
    whole = np.zeros(len(places))
    for at, value, _ in found.values():
        np.add.at(whole, np.searchsorted(places, at), np.abs(value))
    up, down = np.zeros(len(places)), np.zeros(len(places))
    sets = {}
    for name, (at, value, rows) in found.items():
        place = np.searchsorted(places, at)
        if panel.bars == "shares":
            value = np.divide(100 * value, whole[place], where=whole[place] > 0,
                              out=np.zeros(len(value)))  # fmt: skip
        base = np.where(value >= 0, up[place], down[place])
        top = base + value
        np.maximum.at(up, place, top)
        np.minimum.at(down, place, top)
        sets[name] = BarSet(at, base, top, rows, 0, 1, spacing)
    return sets


def look_through(figure: Figure, tables: Tables) -> None:
    """Finds out what every drawing of a figure asks of its readings, in whichever thread: it is
    known then where it would be waited for. What cannot be drawn is left to who draws it."""
    for column in (column for table in tables for column in table.columns):
        let_go_of(column.values)
    with suppress(SornixError, ArithmeticError):
        for panel in map(figure.seen, range(len(figure.panels))):
            for axis in AXES:
                drawn_extent(panel, tables, axis)
            for series in panel.series:
                points = marked(series, panel, tables).points
                known = series_points(series, panel, tables)
                _ = (points.repeated, points.blocks, known.turns)
                _ = len(known.x) and (known.means, known.x_ends, known.y_ends)
                # what is drawn next is at hand then
                bring(points.x)
                bring(points.y)


@remembered
def drawn_extent(panel: Panel, tables: Tables, axis: str) -> Extent | None:
    """The least and the greatest of what the series on an axis draw there."""
    direction = axis[0]
    kind = KINDS[scale_kind(panel, tables, axis)]
    ends: list[float] = []
    for one in (panel, *panel.company(axis)):
        ends += _ends_of(one, panel, tables, axis, direction)
    known = np.array(ends)
    known = known[np.isfinite(known)]
    known = known[kind.shows(known)]
    return Extent(float(known.min()), float(known.max())) if len(known) else None


def _ends_of(one: Panel, seen: Panel, tables: Tables, axis: str, direction: str) -> list[float]:
    """The ends of what the series of one panel draw on an axis, on the scales of `seen`."""
    ends: list[float] = []
    bars = bar_sets(one, tables) if any(MARKS[s.mark].bars for s in one.shown) else {}
    value_axis = "x" if bars and lies(one, tables) else "y"
    for series in one.shown:
        if series.axis(direction) != axis:
            continue
        found = marked(series, seen, tables)
        if not len(found.points.x):
            continue
        if series.id in bars and len(bars[series.id].at):
            ends += _bar_ends(bars[series.id], direction == value_axis,
                              listed=is_categorical(scale_kind(seen, tables, axis)))  # fmt: skip
        if series.id not in bars or direction != value_axis or one.bars == "beside":
            points = found.points
            ends += points.x_ends if direction == "x" else points.y_ends
        if direction in found.whiskers and (series.id not in bars or one.bars == "beside"):
            low, high = (side[np.isfinite(side)] for side in found.whiskers[direction])
            ends += [float(low.min()), float(high.max())] if len(low) and len(high) else []
        if MARKS[series.mark].area and direction == "y":
            ends.append(0.0)
        if series.replicates and series.together != "each":
            raw = series_points(series, seen, tables)
            ends += raw.x_ends if direction == "x" else raw.y_ends
    return ends


def _bar_ends(bars: BarSet, is_value: bool, *, listed: bool) -> list[float]:
    if is_value:
        return [
            float(v) for v in (bars.base.min(), bars.base.max(), bars.top.min(), bars.top.max())
        ]
    if listed:
        return []
    return [float(bars.at.min()) - bars.spacing / 2, float(bars.at.max()) + bars.spacing / 2]
