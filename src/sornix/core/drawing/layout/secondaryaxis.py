"""The same axis in other units on the other side: ticks at round values of these."""

import math

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import SornixError
from sornix.core.figure import Other, straight_reach
from sornix.core.scales import KINDS, AxisConstraints, Extent, Resolved, Room, Tick
from sornix.core.scales.decimallabels import decimal_labels
from sornix.core.scales.families import mantissas, multiples, round_steps, settle

Floats = NDArray[np.float64]


def other_scale(other: Other, scale: Resolved, room: Room) -> Resolved:
    """The scale with ticks at round values of the other unit, each at the value of the axis that it
    stands for; without any where the formula has no one value for each place."""
    try:
        values, found = straight_reach(other, scale)
    except SornixError:
        return evolve(scale, ticks=(), groups=(), factor=())
    ends = float(found[0]), float(found[-1])
    middle = found[0] + (found[-1] - found[0]) * (values - values[0]) / (values[-1] - values[0])
    straight = np.allclose(found, middle, rtol=0, atol=1e-9 * (ends[1] - ends[0]))
    ticks: tuple[Tick, ...] = ()
    if straight and (
        scale.kind == "linear" or (ends[0] * scale.start > 0 and _same_zero(found, values))
    ):
        held = AxisConstraints(*ends)
        ticks = KINDS[scale.kind].resolve(Extent(*ends), held, room, reverse=False).ticks
    else:
        places = scale.position(values)
        if places[0] > places[-1]:
            places = -places
        families = [multiples(step, least=-math.inf) for step in round_steps(ends[1] - ends[0])]
        if ends[0] > 0:
            families += [mantissas(1, 2, 5, thins=True), mantissas(1, thins=True)]

        def position(at: Floats) -> Floats:
            return np.interp(at, found, places).astype(np.float64)

        settled = settle(families, position, ends, AxisConstraints(*ends), room, decimal_labels)
        ticks = settled.ticks if settled is not None else ()
    at = np.interp([tick.value for tick in ticks], found, values)
    if straight:
        factor = (values[-1] - values[0]) / (ends[1] - ends[0])
        at = values[0] + (np.array([tick.value for tick in ticks]) - ends[0]) * factor
    placed = (tick._replace(value=float(v)) for tick, v in zip(ticks, at, strict=True))
    return evolve(
        scale, ticks=tuple(sorted(placed, key=lambda tick: tick.value)), groups=(), factor=()
    )


def _same_zero(found: Floats, values: Floats) -> bool:
    """Whether other units are a multiple of those of the axis."""
    ratios = found / values
    return bool(np.ptp(ratios) <= 1e-9 * np.abs(ratios).max())
