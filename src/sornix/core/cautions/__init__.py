"""Cautions: what a careful colleague would say when looking over one's shoulder.

One module a caution; each registers itself in CAUTIONS.
"""

from sornix.core.cautions import letters
from sornix.core.cautions.axes import (
    categories,
    cramped,
    held_step,
    mixed,
    outside,
    two_ways,
    unplaced,
    zero,
)
from sornix.core.cautions.caution import (
    CAUTIONS,
    OF_DRAWINGS,
    Finding,
    Remedy,
    View,
    find_cautions,
    note_caution,
    tell_again,
)
from sornix.core.cautions.readings import crowded, order, repeated, text_cells, wholes
from sornix.core.cautions.trends import beyond, celsius, few_readings, read_beyond, unsettled

__all__ = ["CAUTIONS", "Finding", "Remedy", "View", "find_cautions", "note_caution", "tell_again"]

# in the order in which they are shown
for _module in (
    outside, unplaced, mixed, categories, celsius, text_cells, few_readings, unsettled, two_ways,
    beyond, read_beyond, order, repeated, crowded,
    held_step, zero, wholes, cramped,
):  # fmt: skip
    CAUTIONS[_module.__name__.rpartition(".")[2]] = _module.find
OF_DRAWINGS["letters"] = letters.find
