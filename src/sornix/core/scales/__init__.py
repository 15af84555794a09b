"""Scales: where a value stands on an axis, its ticks and their labels.

One module a kind; each registers itself in KINDS, from which statement, menus and commands read.
"""

from sornix.core.scales import linear as _linear
from sornix.core.scales import time as _time
from sornix.core.scales.kind import (
    KINDS,
    Extent,
    Fitting,
    Resolved,
    Room,
    Tick,
    check_range,
    check_step,
)

__all__ = [
    "KINDS",
    "Extent",
    "Fitting",
    "Resolved",
    "Room",
    "Tick",
    "check_range",
    "check_step",
]

assert {_linear.LINEAR.name, _time.TIME_SCALE.name} <= KINDS.keys()
