"""Scales: where a value stands on an axis, its ticks and their labels.

One module a kind, which tells its traits itself; KINDS lists them, and statement, menus and
commands read from it.
"""

from sornix.core.scales.categorical import CATEGORIES, ORDER
from sornix.core.scales.datewords import DATE_FORMS
from sornix.core.scales.dressing import with_minor, with_words, without_labels
from sornix.core.scales.kind import (
    KINDS,
    AxisConstraints,
    Extent,
    Group,
    Kind,
    Resolved,
    Room,
    Tick,
    Traits,
    check_range,
    check_step,
    is_categorical,
    on_scale,
)
from sornix.core.scales.linear import LINEAR
from sornix.core.scales.log import LOG
from sornix.core.scales.reciprocal import RECIPROCAL
from sornix.core.scales.time import TIME_SCALE

__all__ = [
    "DATE_FORMS",
    "KINDS",
    "AxisConstraints",
    "Extent",
    "Group",
    "Kind",
    "Resolved",
    "Room",
    "Tick",
    "Traits",
    "check_range",
    "check_step",
    "is_categorical",
    "on_scale",
    "with_minor",
    "with_words",
    "without_labels",
]

_known: tuple[Kind, ...] = (LINEAR, LOG, RECIPROCAL, CATEGORIES, ORDER, TIME_SCALE)
for _kind in _known:
    KINDS[_kind.name] = _kind
