"""Scales: where a value stands on an axis, its ticks and their labels.

One module a kind; each registers itself in KINDS, from which statement, menus and commands read.
"""

from sornix.core.scales import linear as _linear
from sornix.core.scales import listed as _listed
from sornix.core.scales import log as _log
from sornix.core.scales import reciprocal as _reciprocal
from sornix.core.scales import time as _time
from sornix.core.scales.datewords import DATE_FORMS
from sornix.core.scales.dressing import with_minor, with_words, without_labels
from sornix.core.scales.kind import (
    KINDS,
    Extent,
    Fitting,
    Group,
    Kind,
    Resolved,
    Room,
    Tick,
    check_range,
    check_step,
)

__all__ = [
    "DATE_FORMS",
    "KINDS",
    "LISTED",
    "Extent",
    "Fitting",
    "Group",
    "Kind",
    "Resolved",
    "Room",
    "Tick",
    "check_range",
    "check_step",
    "with_minor",
    "with_words",
    "without_labels",
]

LISTED = _listed.LISTED
_KNOWN = (_linear.LINEAR, _log.LOG, _reciprocal.RECIPROCAL, _time.TIME_SCALE)
assert {*LISTED, *(kind.name for kind in _KNOWN)} == KINDS.keys()
