"""Scales: where a value stands on an axis, its ticks and their labels.

One module a kind; each registers itself in KINDS, from which statement, menus and commands read.
"""

from sornix.core.scales import linear as _linear
from sornix.core.scales import listed as _listed
from sornix.core.scales import log as _log
from sornix.core.scales import reciprocal as _reciprocal
from sornix.core.scales import time as _time
from sornix.core.scales.kind import (
    KINDS,
    Extent,
    Fitting,
    Kind,
    Resolved,
    Room,
    Tick,
    check_range,
    check_step,
)

__all__ = [
    "KINDS",
    "LISTED",
    "Extent",
    "Fitting",
    "Kind",
    "Resolved",
    "Room",
    "Tick",
    "check_range",
    "check_step",
]

LISTED = _listed.LISTED
_KNOWN = (_linear.LINEAR, _log.LOG, _reciprocal.RECIPROCAL, _time.TIME_SCALE)
assert {*LISTED, *(kind.name for kind in _KNOWN)} == KINDS.keys()
