"""What a column is computed from: a formula, words for codes, the number of entries in lists, the
parts of dates and times, or a trend."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, Protocol, Self

import numpy as np
from attrs import evolve, field
from numpy.typing import NDArray

from sornix.core.frozen import frozen


@frozen
class Formula:
    """Computed from other columns by ordinary mathematics."""

    text: str

    @property
    def words(self) -> str:
        return f"= {self.text}"

    def inputs(self) -> tuple[str, ...]:
        from sornix.core.formula import names_in, parse_formula

        return tuple(dict.fromkeys(name.name for name in names_in(parse_formula(self.text))))

    def following(self, old: str, new: str) -> "Formula":
        """The same rule after a column was renamed."""
        from sornix.core.formula import parse_formula, renamed

        return Formula(renamed(self.text, parse_formula(self.text), old, new))


@frozen
class OfColumn:
    """A rule that needs one column."""

    column: str

    def inputs(self) -> tuple[str, ...]:
        return (self.column,)

    def following(self, old: str, new: str) -> Self:
        """The same rule after a column was renamed."""
        return evolve(self, column=new) if self.column == old else self


@frozen
class CodeWords(OfColumn):
    """The words that stand for the codes in a column: (code, word) pairs. Other cells stay."""

    words_of: tuple[tuple[str, str], ...]

    @property
    def words(self) -> str:
        said = ", ".join(f"{code} = {word}" for code, word in self.words_of)
        return f"words for “{self.column}”: {said}"


@frozen
class EntryCount(OfColumn):
    """How many entries each cell of a column of lists holds, divided by a separator."""

    separator: str = ","

    @property
    def words(self) -> str:
        return f"entries of “{self.column}” divided by “{self.separator}”"


@frozen
class Together:
    """Dates and the times of day beside them, as such or as hours or as 1430, as one time."""

    date: str
    clock: str

    @property
    def words(self) -> str:
        return f"“{self.date}” and “{self.clock}” together"

    def inputs(self) -> tuple[str, ...]:
        return (self.date, self.clock)

    def following(self, old: str, new: str) -> "Together":
        parts = (new if part == old else part for part in self.inputs())
        return Together(*parts)


def _as_one(columns: tuple[str, ...]) -> str:
    return f"{', '.join(f'“{one}”' for one in columns)} as one time"


@frozen
class DateParts:
    """Years, months and what follows them in columns of numbers, as one time: the names of the
    columns from the coarsest part on, year, month, day, hour, minute, second. One of dates may
    stand for the first three, one of times of day for the last."""

    columns: tuple[str, ...]

    @property
    def words(self) -> str:
        return _as_one(self.columns)

    def inputs(self) -> tuple[str, ...]:
        return self.columns

    def following(self, old: str, new: str) -> "DateParts":
        return DateParts(tuple(new if part == old else part for part in self.columns))


@frozen
class DayOfYear:
    """The days of years, 1 for the first of January, with parts of days, and a time of day, as such
    or in hours or as 1430, "" for none."""

    year: str
    day: str
    clock: str = ""

    @property
    def words(self) -> str:
        return _as_one(self.inputs())

    def inputs(self) -> tuple[str, ...]:
        return tuple(filter(None, (self.year, self.day, self.clock)))

    def following(self, old: str, new: str) -> "DayOfYear":
        return DayOfYear(*(new if n == old else n for n in (self.year, self.day, self.clock)))


@frozen
class GoingOn(OfColumn):
    """Times of day that go on over midnight: hours since the midnight before the first."""

    @property
    def words(self) -> str:
        return f"“{self.column}” in hours, going on over midnight"


# What moments are counted in, and how that is said.
COUNTS: Mapping[str, str] = MappingProxyType(
    {
        "seconds": "seconds since 1970",
        "milliseconds": "milliseconds since 1970",
        "days": "days since 30 December 1899, as spreadsheets count",
    }
)


@frozen
class Counted(OfColumn):
    """Moments that are counted in a name of COUNTS, as dates and times."""

    count: str

    @property
    def words(self) -> str:
        return f"“{self.column}” taken for {COUNTS[self.count]}"


class TrendWork(Protocol):
    """What trends are to readings, which know nothing of them: each is a text of those who do."""

    def check(self, trend: str) -> None:
        """Raises ValueError where a text tells of no trend."""

    def residuals(self, trend: str, table: Any) -> NDArray[np.float64]:
        """Reading − trend of each row of a table (n,), NaN where the trend goes through none."""

    def following(self, trend: str, old: str, new: str) -> str:
        """The trend after a column was renamed."""

    def moved(self, trend: str, places: Mapping[int, int]) -> str:
        """The trend after rows went to other places."""


@frozen
class Residuals:
    """Reading − trend, fitted anew whenever a reading changes. `trend` tells the whole of it, as
    JSON; `columns` are those that it needs."""

    said: str
    trend: str
    columns: tuple[str, ...]
    work: TrendWork = field(eq=False, repr=False)

    @property
    def words(self) -> str:
        return f"reading − {self.said}"

    def inputs(self) -> tuple[str, ...]:
        return self.columns

    def following(self, old: str, new: str) -> "Residuals":
        columns = tuple(new if name == old else name for name in self.columns)
        return evolve(self, columns=columns, trend=self.work.following(self.trend, old, new))

    def moved(self, places: Mapping[int, int]) -> "Residuals":
        """The rule after rows went to other places: those left out stay so."""
        return evolve(self, trend=self.work.moved(self.trend, places))


Timed = Together | DateParts | GoingOn | Counted | DayOfYear
Rule = Formula | CodeWords | EntryCount | Timed | Residuals
