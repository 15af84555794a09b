"""The lowest and the highest of blocks of many readings, so that a closer look need not go through
all that it shows."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.readings.tables.laid import let_go_behind

Floats = NDArray[np.float64]

_SIZE = 32
# Fewer readings are gone through faster than blocks are put together.
_LEAST = 1 << 18
# So many blocks are looked at in each piece of the readings, while they are at hand.
_AT_ONCE = 1 << 10


class Blocks(NamedTuple):
    """The lowest and the highest of each 32 readings, shape (n // 32,); what is left over at the
    end is in no block."""

    low: Floats
    high: Floats

    @classmethod
    def of(cls, values: Floats) -> "Blocks | None":
        """The blocks of values (n,), none of so few that they are of no use."""
        if len(values) < _LEAST:
            return None
        count = len(values) // _SIZE
        low, high = np.empty(count), np.empty(count)
        for at in range(0, count, _AT_ONCE):
            part = values[at * _SIZE : min(at + _AT_ONCE, count) * _SIZE].reshape(-1, _SIZE)
            part.min(axis=1, out=low[at : at + _AT_ONCE])
            part.max(axis=1, out=high[at : at + _AT_ONCE])
            let_go_behind(at * _SIZE, values)
        return cls(low, high)

    def whole(self, values: Floats) -> tuple[float, float]:
        """The lowest and the highest of all `values` (n,) that these are the blocks of."""
        rest = values[len(self.low) * _SIZE :]
        low = min(float(self.low.min()), float(rest.min(initial=np.inf)))
        return low, max(float(self.high.max()), float(rest.max(initial=-np.inf)))

    @staticmethod
    def worth(count: int, columns: int) -> bool:
        """Whether so many readings in so many columns are told faster with blocks."""
        return count > 8 * _SIZE * columns

    def ends(
        self, values: Floats, first: NDArray[np.intp], last: NDArray[np.intp]
    ) -> tuple[Floats, Floats]:
        """The very lowest and highest of the `values` (n,) that these are the blocks of, from each
        `first` to its `last` one, both (m,) and rising: those of the whole blocks between, and of
        the readings on either side of them."""
        before, after = -(-first // _SIZE), (last + 1) // _SIZE
        low, high = values[first], values[first]
        some = np.flatnonzero(before < after)
        if len(some):
            cuts = np.column_stack((before[some], after[some])).ravel()
            # the last cut may be at the very end, which reduceat does not take
            cuts = cuts[:-1] if cuts[-1] == len(self.low) else cuts
            low[some] = np.minimum(low[some], np.minimum.reduceat(self.low, cuts)[::2])
            high[some] = np.maximum(high[some], np.maximum.reduceat(self.high, cuts)[::2])
        # what is beside whole blocks, or where there is none, as much from either end
        whole = before < after
        left = np.maximum(np.where(whole, before * _SIZE - 1, last), first)
        right = np.minimum(
            np.where(whole, after * _SIZE, np.maximum(first, last + 1 - _SIZE)), last
        )
        for begin, end in ((first, left), (right, last)):
            beside = values[np.minimum(begin[:, None] + np.arange(_SIZE), end[:, None])]
            low = np.minimum(low, beside.min(axis=1))
            high = np.maximum(high, beside.max(axis=1))
        return low, high
