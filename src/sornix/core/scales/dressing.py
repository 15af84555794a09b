"""What is held of ticks whatever the kind of scale: minor ticks, words, labels that are hidden; and
readings that are shown from 0."""

from collections.abc import Mapping
from itertools import pairwise

import numpy as np
from attrs import evolve

from sornix.core.scales.kind import KINDS, AxisConstraints, Extent, Resolved, Room, Tick
from sornix.core.text import Rich, rich

# Minor ticks closer than this, in mm, are a smear.
LEAST_APART_MM = 0.7
_MOST_MINOR = 2000


def with_minor(scale: Resolved, minor: str, length_mm: float) -> Resolved:
    """The scale with minor ticks "usual" for its kind, "free" (as many as are easy to count), or a
    number between two ticks, on an axis of that length. None where they would be a smear."""
    if minor == "usual":
        return scale
    majors = [tick for tick in scale.ticks if not tick.minor]
    parts = KINDS[scale.kind].divisions(scale.step) if minor == "free" else int(minor) + 1
    if minor == "free" and any(tick.minor for tick in scale.ticks):
        return scale
    values = np.array([tick.value for tick in majors])
    if parts < 2 or not 2 <= len(values) <= _MOST_MINOR / parts:
        return evolve(scale, ticks=tuple(majors))
    if scale.kind in ("linear", "time"):
        # the ticks just beyond the ends, between which and the outermost ones there are minor ticks
        values = np.concatenate(
            ([2 * values[0] - values[1]], values, [2 * values[-1] - values[-2]])
        )
    steps = np.arange(1, parts) / parts
    found = (values[:-1, None] + np.diff(values)[:, None] * steps).ravel()
    found = found[(found >= scale.start) & (found <= scale.end)]
    places = np.sort(scale.position(np.concatenate((found, [tick.value for tick in majors]))))
    if minor == "free" and np.diff(places).min(initial=1.0) * length_mm < LEAST_APART_MM:
        return evolve(scale, ticks=tuple(majors))
    ticks = [*majors, *(Tick(float(value), (), minor=True) for value in found)]
    return evolve(scale, ticks=tuple(sorted(ticks, key=lambda tick: tick.value)))


def with_words(scale: Resolved, words: Mapping[float, str], room: Room) -> Resolved:
    """The scale with a tick at each value that has a word, and the word as its label where it does
    not touch another."""
    ticks: list[Tick] = []
    free = -np.inf
    known = sorted(value for value in words if scale.start <= value <= scale.end)
    places = scale.position(np.array(known)) * room.length_mm if known else np.zeros(0)
    along = np.sort(places)
    for value, place in zip(known, along.tolist(), strict=True):
        label = rich(words[value])
        half = room.size_mm(label) / 2
        shown = place - half >= free
        ticks.append(Tick(value, label if shown else ()))
        free = place + half + room.apart_mm if shown else free
    return evolve(scale, ticks=tuple(ticks), groups=(), factor=())


def without_labels(scale: Resolved, hidden: tuple[str, ...]) -> Resolved:
    """The scale without its `first` or `last` label."""
    labelled = [i for i, tick in enumerate(scale.ticks) if tick.label]
    places = {"first": labelled[:1], "last": labelled[-1:]}
    taken = {i for name in hidden for i in places[name]}
    if not taken:
        return scale
    nothing: Rich = ()
    ticks = (t._replace(label=nothing) if i in taken else t for i, t in enumerate(scale.ticks))
    return evolve(scale, ticks=tuple(ticks))


def apart(labels: list[tuple[float, float]], gap_mm: float) -> bool:
    """Whether labels, each a place and a size in mm, in order, leave one another a gap."""
    for (a, size_a), (b, size_b) in pairwise(labels):
        if b - a < (size_a + size_b) / 2 + gap_mm:
            return False
    return True


# Readings that come nearer to 0 than this part of their span are shown with it.
_NEAR_ZERO = 0.2


def from_zero(extent: Extent, held: AxisConstraints) -> Extent:
    """Readings that lie on one side of 0, and begin within a fifth of their span of it, with it as
    an end: but for what is counted from 1, ranks and months."""
    least, greatest = extent.least, extent.greatest
    near = (greatest - least) * _NEAR_ZERO
    if held.start is None and 0 < least <= near and not (held.whole and least == 1):
        return Extent(0.0, greatest)
    if held.end is None and -near <= greatest < 0:
        return Extent(least, 0.0)
    return extent
