"""What a trend counts its x from, and in what.

Far from 0, most digits of x say nothing about the readings, an exponential overflows, and a value
at 0 means nothing. So the shapes in which an origin can be moved are fitted with x counted from the
first reading, and told so; dates and times are always counted from the first reading, in days or
what fits.
"""

import math
import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sornix.core.frozen import frozen
from sornix.core.readings.tables.laid import LET_GO, let_go_behind, room_for
from sornix.core.text import shortest
from sornix.core.text.moments import moment_words

Floats = NDArray[np.float64]

# 0 is far from readings that are further from it than so many times what they span.
_FAR = 4.0
_YEAR = 365.25 * 86400
# What time is counted in where readings span at least so many seconds, and what it is called.
_CLOCK = (
    (3 * _YEAR, _YEAR, "a", "years of 365.25 days"),
    (2 * 86400.0, 86400.0, "d", "days"),
    (2 * 3600.0, 3600.0, "h", "hours"),
    (120.0, 60.0, "min", "minutes"),
    (0.0, 1.0, "s", "seconds"),
)


@frozen
class Counting:
    """x less `origin`, in steps of `step`; `words` name these where they are not those of x, and
    `unit` is theirs."""

    origin: float = 0.0
    step: float = 1.0
    unit: str = ""
    words: str = ""

    def count(self, x: Floats) -> Floats:
        """x as a trend sees it, any shape."""
        if self == AS_IT_IS:
            return x
        if x.ndim != 1:
            counted: Floats = (x - self.origin) / self.step
            return counted
        counted = room_for(len(x))
        for begin in range(0, len(x), LET_GO):
            part = slice(begin, begin + LET_GO)
            np.subtract(x[part], self.origin, out=counted[part])
            counted[part] /= self.step
            let_go_behind(begin, x, counted)
        return counted

    def place(self, counted: float) -> float:
        """The x that was counted so."""
        return self.origin + counted * self.step

    def counted_text(self, x: str) -> str:
        """How `x` is counted, in the grammar of formulas: `((x - 1990) / 10)`."""
        if self.origin:
            x = f"({x} {'-' if self.origin > 0 else '+'} {abs(self.origin)!r})"
        return x if self.step == 1 else f"({x} / {self.step!r})"

    def in_formula(self, formula: str) -> str:
        """A formula of x counted so as one of x itself."""
        return re.sub(r"\bx\b", self.counted_text("x"), formula)

    @property
    def told(self) -> str:
        """`days since 2026-05-03 06:00`; "" where the equation tells it itself."""
        return f"{self.words} since {moment_words(self.origin, 5e-4)}" if self.words else ""

    @property
    def start(self) -> str:
        """Where a trend's x is 0, or 1 where it is told in parts of an x."""
        if self.words:
            return moment_words(self.origin, 5e-4)
        return shortest(self.origin or self.step, 0)


AS_IT_IS = Counting()


def from_afar(samples: Sequence[Floats], *, in_parts: bool = False) -> Counting:
    """From a round number at or just below the first x of all, where 0 is far from them; or in
    parts of it."""
    low = min((float(x.min()) for x in samples if len(x)), default=0.0)
    high = max((float(x.max()) for x in samples if len(x)), default=0.0)
    reach = high - low
    if not 0 < _FAR * reach < max(low, -high) or not math.isfinite(reach):
        return AS_IT_IS
    grain = 10.0 ** math.floor(math.log10(reach / 10))
    first = float(f"{math.floor(low / grain) * grain:.15g}")
    return Counting(step=first) if in_parts else Counting(first)


def by_clock(samples: Sequence[Floats]) -> Counting:
    """From the first of all moments, seconds since 1970, in what suits their span."""
    low = min((float(x.min()) for x in samples if len(x)), default=0.0)
    high = max((float(x.max()) for x in samples if len(x)), default=0.0)
    _, step, unit, words = next(one for one in _CLOCK if high - low >= one[0])
    return Counting(low, step, unit, words)
