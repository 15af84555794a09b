"""Markers that would hide each other.

A picture of markers that lie over each other lies about how many there are. As more of them would
be hidden, they become smaller, then lose their outlines, and then a shade tells how many lie at a
place. Sizes that somebody has chosen stay.
"""

import math
from collections.abc import Callable, Sequence
from functools import cache

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.colours import mixed
from sornix.core.drawing.marks.reduction import visible_markers
from sornix.core.drawing.parts.items import Crowd, Crowding, CrowdPart, Item, Markers, Rect, Stroke
from sornix.core.readings.tables.laid import LET_GO, let_go_behind, let_go_of

Floats = NDArray[np.float64]

# Fewer markers are no crowd; of so few each, none are smaller than a part of their size: replicates
# are near each other, and to be seen as such.
_CROWD = 150
_LEAST_SIZES = ((400, 0.65), (1000, 0.5))
# So large a share may be hidden before markers become smaller; of the smallest ones, before a shade
# takes their place.
_FEW_HIDDEN, _MANY_HIDDEN = 0.1, 0.35
# Sizes that are tried one after the other, as parts of the style's, and then without outlines.
_OUTLINED, _PLAIN = (0.8, 0.65, 0.5), (0.5, 0.4, 0.3)
# Fewer are never a shade, nor those that lie at fewer places than these: there smaller ones are
# hidden as well, and whole markers can be seen.
_LEAST_SHADED, _LEAST_PLACES = 2000, 400
_DOT_MM = 0.4
# More readings than that are merged where they are so near each other, one piece after the other.
MANY = 1 << 18
_MERGED_MM, _PIECE = 0.025, 1 << 16
_AT_ONCE = 1 << 14
# One in a square of that side stands alone, and this strong.
_ALONE_MM, _ALONE_SHADE = 2.5, 0.45
# Of the places that are taken, so many are not as dark as can be.
_BELOW_FULL = 0.98
_ROUND = (1, 1.5, 2, 3, 4, 5, 6, 8, 10)


def uncrowded(
    items: Sequence[Item], inner: Rect, paper: str, *, held: bool
) -> tuple[list[Item], Crowding]:
    """What series draw, with markers that can be told apart, or a shade in their place; and how
    that came about. Sizes that are `held` stay."""
    markers = [item for item in items if isinstance(item, Markers)]
    if sum(item.count for item in markers) < _CROWD:
        return list(items), Crowding()
    crowding = _crowding(markers, inner, held=held)
    if crowding.full is not None:
        shade, lone = _shade(markers, inner, paper)
        others = [item for item in items if not isinstance(item, Markers)]
        return [*others, shade, *lone], crowding._replace(full=shade.full)
    return [_thinner(item, crowding) if isinstance(item, Markers) else item for item in items], (
        crowding
    )


def _crowding(markers: Sequence[Markers], inner: Rect, *, held: bool) -> Crowding:
    """How markers are drawn so that few are hidden."""
    count = sum(item.count for item in markers)
    largest = max(item.size_mm for item in markers)

    @cache
    def hidden(part: float) -> tuple[float, int]:
        # a marker is hidden by another in its square of half its size
        taken = _taken(markers, inner, part * largest / 2)
        return 1 - taken / count, taken

    if count >= _LEAST_SHADED and not held:
        smallest, taken = hidden(_PLAIN[-1])
        if smallest > _MANY_HIDDEN and taken >= _LEAST_PLACES:
            return Crowding(_PLAIN[-1], outlined=False, full=0.0)
    share, _ = hidden(1.0)
    if held or share <= _FEW_HIDDEN:
        return Crowding(hidden=share)
    smallest, _ = hidden(_PLAIN[-1])
    # they may lie at the very same places, whatever their size
    if smallest > 0.8 * share:
        return Crowding(hidden=share)
    least = next((part for few, part in _LEAST_SIZES if count < few), 0.0)
    tried = [(part, True) for part in _OUTLINED if part >= least]
    tried += [(part, False) for part in _PLAIN if not least]
    found = Crowding(hidden=share)
    if not least and smallest > _FEW_HIDDEN:
        # larger ones hide more
        tried = tried[-1:]
    for part, outlined in tried:
        found = Crowding(part, outlined, hidden=hidden(part)[0])
        if found.hidden <= _FEW_HIDDEN:
            break
    return found


def _counted(markers: Sequence[Markers], inner: Rect, cell_mm: float) -> NDArray[np.intp]:
    """How many markers lie in each cell of a grid, row by row."""
    across, down = _cells(inner, cell_mm)
    counts = [
        np.bincount(
            _cell_of(item.points, inner, cell_mm), item.weights, minlength=across * down
        ).astype(np.intp, copy=False)
        for item in markers
    ]
    found: NDArray[np.intp] = sum(counts[1:], counts[0])
    return found


def _taken(markers: Sequence[Markers], inner: Rect, cell_mm: float) -> int:
    """In how many cells of a grid markers lie."""
    across, down = _cells(inner, cell_mm)
    taken = np.zeros(across * down, np.bool_)
    for item in markers:
        taken[_cell_of(item.points, inner, cell_mm)] = True
    return int(np.count_nonzero(taken))


def _cells(inner: Rect, cell_mm: float) -> tuple[int, int]:
    """How many cells a grid over the data area has across and down; points on its far edges too."""
    return int(inner.width / cell_mm + 1e-6) + 1, int(inner.height / cell_mm + 1e-6) + 1


def _cell_of(points: Floats, inner: Rect, cell_mm: float) -> NDArray[np.int32]:
    """The cell of a grid in which each of `points` (n, 2) of the data area lies."""
    x = ((points[:, 0] - inner.left) * (1 / cell_mm)).astype(np.int32)
    y = ((points[:, 1] - inner.top) * (1 / cell_mm)).astype(np.int32)
    found: NDArray[np.int32] = y * np.int32(_cells(inner, cell_mm)[0]) + x
    return found


def merged(
    count: int, placed: Callable[[slice | NDArray[np.intp]], Floats], inner: Rect,
    made_from: Sequence[Floats] = (),
) -> tuple[Floats, NDArray[np.intp], NDArray[np.intp]]:  # fmt: skip
    """Of `count` readings, whose points (n, 2) in mm `placed` gives for a part of them, one for
    each place of the data area that an eye can tell from others: its point, which reading it is,
    and how many are there. One pass, in pieces that a processor keeps at hand; what they are
    `made_from` is let go of on the way, where it lies on the disk."""
    across, down = _cells(inner, _MERGED_MM)
    counts = np.zeros(across * down, np.intp)
    last = np.zeros(across * down, np.intp)
    for begin in range(0, count, _PIECE):
        points = placed(slice(begin, begin + _PIECE))
        which = np.arange(begin, begin + len(points))
        there = inside(points, inner)
        if not there.all():
            points, which = points[there], which[there]
        cells = _cell_of(points, inner, _MERGED_MM)
        np.add.at(counts, cells, 1)
        last[cells] = which
        let_go_behind(begin, *made_from)
    taken = np.flatnonzero(counts)
    which = last[taken]
    if count <= LET_GO:
        return placed(which), which, counts[taken]
    # from the first to the last one, so that what they are made from is gone through once
    order = np.argsort(which)
    found = np.empty((len(which), 2))
    for begin in range(0, len(which), _AT_ONCE):
        some = order[begin : begin + _AT_ONCE]
        found[some] = placed(which[some])
        for values in made_from:
            let_go_of(values[: which[some[-1]]])
    return found, which, counts[taken]


def inside(points: Floats, inner: Rect) -> NDArray[np.bool_]:
    """Which points (n, 2) lie in the data area."""
    x, y = points[:, 0], points[:, 1]
    return (x >= inner.left) & (x <= inner.right) & (y >= inner.top) & (y <= inner.bottom)


def _thinner(item: Markers, crowding: Crowding) -> Markers:
    """Markers as they are to be drawn, one of those that cover each other to the eye."""
    kept = visible_markers(item.points)
    if len(kept) < len(item.points):
        item = evolve(item, points=item.points[kept], rows=item.rows[kept], weights=None)
    if crowding.size == 1:
        return item
    edge = item.edge if crowding.outlined else Stroke(item.edge.colour, 0.0)
    return evolve(item, size_mm=crowding.size * item.size_mm, edge=edge)


def _shade(markers: Sequence[Markers], inner: Rect, paper: str) -> tuple[Crowd, list[Markers]]:
    """The shade of markers, and those that stand alone, whose shade would be lost, as dots."""
    counts = _counted(markers, inner, _ALONE_MM)
    parts, lone = [], []
    for item in markers:
        # hollow ones have the colour of their edge
        colour = item.edge.colour if item.fill == paper else item.fill
        parts.append(CrowdPart(item.of, item.points, colour, item.weights))
        alone = np.flatnonzero(counts[_cell_of(item.points, inner, _ALONE_MM)] == 1)
        if len(alone):
            pale = mixed(colour, paper, _ALONE_SHADE)
            lone.append(evolve(item, points=item.points[alone], rows=item.rows[alone],
                               shape="circle", size_mm=_DOT_MM, fill=pale,
                               edge=Stroke(pale, 0.0)))  # fmt: skip
    return Crowd("crowd", inner, tuple(parts), _DOT_MM, _full(markers, inner), paper), lone


def _full(markers: Sequence[Markers], inner: Rect) -> float:
    """How many readings at a place, as large as a dot, are as dark as can be: a round number that
    few places pass."""
    counts = _counted(markers, inner, _DOT_MM * math.sqrt(math.pi) / 2)
    most = float(np.quantile(counts[counts > 0], _BELOW_FULL))
    power = 10.0 ** math.floor(math.log10(max(most, 5.0)))
    return next(n * power for n in _ROUND if n * power >= most)
