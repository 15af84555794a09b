"""Cautions: what a careful colleague would say when looking over one's shoulder.

One module a caution; each registers itself in CAUTIONS.
"""

from sornix.core.cautions import (
    beyond,
    categories,
    celsius,
    cramped,
    few_readings,
    held_step,
    order,
    outside,
    read_beyond,
    repeated,
    text_cells,
    two_ways,
    unplaced,
    unsettled,
    wholes,
    zero,
)
from sornix.core.cautions.caution import CAUTIONS, Finding, Remedy, View, find_cautions

__all__ = ["CAUTIONS", "Finding", "Remedy", "View", "find_cautions"]

# in the order in which they are shown
for _module in (
    outside, unplaced, categories, celsius, text_cells, few_readings, unsettled, two_ways, beyond,
    read_beyond, order, repeated,
    held_step, zero, wholes, cramped,
):  # fmt: skip
    CAUTIONS[_module.__name__.rpartition(".")[2]] = _module.find
