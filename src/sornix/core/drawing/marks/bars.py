"""Bars, and error bars as whiskers or bands."""

import numpy as np
from numpy.typing import NDArray

from sornix.core.drawing.parts.items import Fill, Item, Lines, PanelPlace, Rects, Stroke
from sornix.core.drawing.parts.style import Style
from sornix.core.figure import BarSet, Marked, Panel, Series
from sornix.core.scales import Resolved

Floats = NDArray[np.float64]

# Bars thinner than this, in mm, are drawn this thick, so that each is seen.
_LEAST_MM = 0.12
_GAP_MM = 0.25


def bar_rects(bars: BarSet, panel: Panel, place: PanelPlace, lying: bool) -> Floats:
    """The corners (n, 4) of bars in mm, cut to the data area; NaN where nothing of one is seen."""
    along, across = (place.y, place.x) if lying else (place.x, place.y)
    inner = place.inner
    length = inner.height if lying else inner.width
    unit = _unit(bars, place, lying)
    # a bar over time is as wide as its interval: the one before ends where it begins
    part = 1.0 if along.traits.dated else panel.bar_width
    width = unit * part / bars.slots
    # series follow one another the way their axis goes
    slot = bars.slots - 1 - bars.slot if along.reversed else bars.slot
    middle = along.position(bars.at) * length - unit * part / 2 + width * (slot + 0.5)
    gap = _GAP_MM if width > 4 * _GAP_MM and not along.traits.dated and bars.slots > 1 else 0.0
    half = max(width - gap, _LEAST_MM) / 2
    base, top = _levels(bars, across)
    if lying:
        first, last = inner.bottom - middle - half, inner.bottom - middle + half
        a, b = inner.left + base * inner.width, inner.left + top * inner.width
        corners = np.column_stack((np.minimum(a, b), first, np.maximum(a, b), last))
    else:
        first, last = inner.left + middle - half, inner.left + middle + half
        a, b = inner.bottom - base * inner.height, inner.bottom - top * inner.height
        corners = np.column_stack((first, np.minimum(a, b), last, np.maximum(a, b)))
    room = inner.grown(1e-6 if along.traits.listed else half)
    low = np.array([room.left, inner.top, room.left, inner.top])
    high = np.array([room.right, inner.bottom, room.right, inner.bottom])
    if lying:
        low = np.array([inner.left, room.top, inner.left, room.top])
        high = np.array([inner.right, room.bottom, inner.right, room.bottom])
    cut: Floats = np.clip(corners, low, high)
    return cut


def _unit(bars: BarSet, place: PanelPlace, lying: bool) -> float:
    """The room of one place along the axis, in mm."""
    scale = place.y if lying else place.x
    length = place.inner.height if lying else place.inner.width
    if len(bars.at) > 1 and not (scale.traits.listed or scale.traits.even):
        return float(np.diff(np.sort(scale.position(bars.at))).min() * length)
    ends = scale.position(np.array([scale.start, scale.start + bars.spacing]))
    return float(abs(ends[1] - ends[0]) * length)


def _levels(bars: BarSet, scale: Resolved) -> tuple[Floats, Floats]:
    """Where bars begin and end along the axis of values, within it; from its start where it has no
    place for 0."""
    with np.errstate(invalid="ignore", divide="ignore"):
        base, top = scale.position(bars.base), scale.position(bars.top)
    base = np.where(np.isfinite(base), base, 1.0 if scale.reversed else 0.0)
    return np.clip(base, 0, 1), np.clip(top, 0, 1)


def bar_items(
    bars: BarSet, series: Series, panel: Panel, place: PanelPlace, lying: bool, style: Style
) -> list[Item]:
    """The bars of a series."""
    corners = bar_rects(bars, panel, place, lying)
    seen = (corners[:, 2] - corners[:, 0] > 1e-9) & (corners[:, 3] - corners[:, 1] >= 0)
    # a bar of no height is none
    long_ = corners[:, 2] - corners[:, 0] if lying else corners[:, 3] - corners[:, 1]
    shown = np.flatnonzero(seen & (long_ > 1e-9))
    if not len(shown):
        return []
    colour = style.look_of(series).colour
    edge = Stroke(style.paper, 0.0)
    return [Rects(f"series/{series.id}", corners[shown], bars.rows[shown], colour, edge)]


def whisker_items(
    found: Marked, series: Series, place: PanelPlace, style: Style, shift_mm: tuple[float, float]
) -> list[Item]:
    """Error bars with caps, or bands; markers and bars stand over them. `shift_mm` moves them to
    the bar that they belong to."""
    colour = style.look_of(series).colour
    items: list[Item] = []
    for direction, (low, high) in found.whiskers.items():
        errors = series.errors(direction)
        assert errors is not None
        if errors.band and direction == "y":
            items += _band(found, low, high, series, place, style)
            continue
        items += _whiskers(found, direction, (low, high), series, place, colour, style, shift_mm)
    return items


def _whiskers(
    found: Marked, direction: str, ends: tuple[Floats, Floats], series: Series, place: PanelPlace,
    colour: str, style: Style, shift_mm: tuple[float, float],
) -> list[Item]:  # fmt: skip
    points = found.points
    low, high = ends
    scale = place.x if direction == "x" else place.y
    inside = np.isfinite(low) & np.isfinite(high)
    at = place.place(points.x, points.y) + np.array(shift_mm)
    inner = place.inner.grown(style.room_mm)
    inside &= (at[:, 0] > inner.left) & (at[:, 0] < inner.right)
    inside &= (at[:, 1] > inner.top) & (at[:, 1] < inner.bottom)
    with np.errstate(invalid="ignore", divide="ignore"):
        a, b = scale.position(low), scale.position(high)
    # beyond what a scale can show, whiskers reach to its end
    a = np.where(np.isfinite(a), a, 1.0 if scale.reversed else 0.0)
    cut = (np.minimum(a, b) < 0) | (np.maximum(a, b) > 1)
    a, b = np.clip(a, 0, 1), np.clip(b, 0, 1)
    which = np.flatnonzero(inside & np.isfinite(b))
    if not len(which):
        return []
    cap = 0.45 * style.marker_mm
    x, y = at[which, 0], at[which, 1]
    if direction == "y":
        y0, y1 = (place.inner.bottom - p[which] * place.inner.height + shift_mm[1] for p in (a, b))
        stems = np.column_stack((x, y0, x, y1))
        caps = [np.column_stack((x - cap, e, x + cap, e))[~cut[which]] for e in (y0, y1)]
    else:
        x0, x1 = (place.inner.left + p[which] * place.inner.width + shift_mm[0] for p in (a, b))
        stems = np.column_stack((x0, y, x1, y))
        caps = [np.column_stack((e, y - cap, e, y + cap))[~cut[which]] for e in (x0, x1)]
    lines = np.concatenate((stems, *caps))
    dark = style.ink if shift_mm != (0.0, 0.0) else colour
    return [Lines(f"series/{series.id}/errors", lines, Stroke(dark, *style.fine(0.2)))]


def _band(
    found: Marked, low: Floats, high: Floats, series: Series, place: PanelPlace, style: Style
) -> list[Item]:
    order = np.argsort(found.points.x, kind="stable")
    known = order[np.isfinite(low[order]) & np.isfinite(high[order])]
    if len(known) < 2:
        return []
    x = found.points.x[known]
    upper, lower = place.place(x, high[known]), place.place(x, low[known])
    inner = place.inner
    outline = np.concatenate((upper, lower[::-1]))
    outline = np.clip(
        np.nan_to_num(outline, nan=inner.bottom),
        (inner.left, inner.top), (inner.right, inner.bottom),
    )  # fmt: skip
    colour = style.look_of(series).colour
    return [Fill(f"series/{series.id}/errors", outline, colour, 0.18)]
