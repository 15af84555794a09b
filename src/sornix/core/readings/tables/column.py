"""One column of readings."""

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from math import floor, fsum, inf, isfinite, log10
from types import MappingProxyType

import numpy as np
from numpy.typing import NDArray

from sornix.core.frozen import frozen
from sornix.core.patterns import pattern
from sornix.core.readings.tables.laid import LET_GO, let_go_behind, let_go_of
from sornix.core.readings.tables.rule import Rule
from sornix.core.text import parse_number, unit_words
from sornix.core.text.moments import typed_moment

NUMBER = "number"
TIME = "time"
TEXT = "text"
# The kinds in the words of the window, in the order in which they are offered.
KIND_WORDS: Mapping[str, str] = MappingProxyType(
    {NUMBER: "number", TIME: "date or time", TEXT: "text"}
)

# What a column without a name is called.
NAMELESS = pattern(r"Column \d+", re.IGNORECASE)
Floats = NDArray[np.float64]
# So many rows tell how many decimals are shown, and so many are at most.
_SAMPLE_ROWS, _MOST_DECIMALS = 400, 6
# Numbers that were typed have no more decimals than this.
_MOST_TYPED = 8
# texts by row index
Texts = Mapping[int, str]
NO_TEXTS: Texts = MappingProxyType({})


@frozen(slots=False, eq=False)
class Column:
    """A named column of n readings.

    `values` is a read-only array of shape (n,): float64 with NaN where a reading is missing for
    a number column, the same in seconds since 1970 (sornix.core.text.moments) for a time column,
    str objects ("" where missing) for a text column. `unit` is as written in the header, or "".
    `form` says how finely a time column is written.

    By row index, `texts` keeps what stood in cells that are no numbers or times ("12 snails");
    such cells count as missing. `as_read` keeps what stood in cells that a repair has changed,
    and `bounds` marks with `<` or `>` the numbers that are limits, not readings. `rule` says what
    the column is computed from, if it is.
    """

    name: str
    unit: str
    kind: str
    values: NDArray[np.float64] | NDArray[np.object_]
    texts: Texts = NO_TEXTS
    form: str = ""
    as_read: Texts = NO_TEXTS
    bounds: Texts = NO_TEXTS
    rule: Rule | None = None

    def __attrs_post_init__(self) -> None:
        self.values.flags.writeable = False

    def __len__(self) -> int:
        return len(self.values)

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Column):
            return NotImplemented
        if self is other:
            return True
        return self._facts == other._facts and (
            self.values is other.values
            or np.array_equal(self.values, other.values, equal_nan=self.kind != TEXT)
        )

    @property
    def _facts(self) -> tuple[object, ...]:
        """All but the values."""
        texts = (dict(self.texts), dict(self.as_read), dict(self.bounds))
        return (self.name, self.unit, self.kind, self.form, self.rule, *texts)

    def __hash__(self) -> int:
        return hash((self.name, self.unit, self.kind, len(self)))

    @property
    def title(self) -> str:
        """`Quantity / unit`, or the name alone for a column without a unit."""
        return f"{self.name} / {unit_words(self.unit)}" if self.unit else self.name

    @property
    def has_places(self) -> bool:
        """Whether its readings have places on a continuous scale."""
        return self.kind != TEXT

    @cached_property
    def is_complete(self) -> bool:
        """Whether every row of a number or time column holds a reading."""
        return self.has_places and all(_all_finite(part) for part in pieces(self.numbers))

    @cached_property
    def present(self) -> NDArray[np.bool_]:
        """Which rows hold a reading, shape (n,); read-only."""
        if self.is_complete:
            # of very many readings that are all there, one for each would be only in the way
            return np.broadcast_to(np.True_, len(self))
        if self.has_places:
            return np.isfinite(self.numbers)
        return np.array([bool(text) for text in self.values], dtype=bool)

    @property
    def numbers(self) -> Floats:
        """The values of a number or time column, shape (n,), NaN where missing."""
        if not self.has_places:
            raise TypeError(f"{self.name} is a text column")
        return self.values.view(np.float64)

    @cached_property
    def count(self) -> int:
        """How many rows hold a reading."""
        return len(self) if self.is_complete else int(np.count_nonzero(self.present))

    @cached_property
    def known(self) -> Floats:
        """The readings of a number or time column, without the rows that hold none."""
        return self.numbers if self.is_complete else self.numbers[self.present]

    @property
    def missing(self) -> int:
        """How many rows hold none."""
        return len(self) - self.count

    def typed(self, text: str) -> float:
        """A place among the values as a person types it: a number, or a date or time for a column
        of these. Raises EditRefused."""
        if self.kind != TIME:
            return parse_number(text)
        return typed_moment(text, self.ends[0] if self.ends is not None else 0.0)

    @cached_property
    def ends(self) -> tuple[float, float] | None:
        """The least and the greatest reading, or None where there is none."""
        if not self.has_places or not self.count:
            return None
        if self.way:
            ends = float(self.known[0]), float(self.known[-1])
            return ends if self.way > 0 else ends[::-1]
        return ends_of(self.known)

    @cached_property
    def way(self) -> int:
        """How the readings of a number or time column go from row to row: 2 where they rise, 1
        where they never fall, −1 and −2 where they never rise and fall; 0 where they turn, and of
        fewer than two."""
        if not self.has_places or self.count < 2:
            return 0
        rises = falls = steady = True
        for part in pieces(self.known):
            # from one end of all numbers to the other is infinitely far, and the same way
            with np.errstate(over="ignore"):
                steps = np.diff(part)
            least, greatest = steps.min(), steps.max()
            rises, falls = rises and least >= 0, falls and greatest <= 0
            steady = steady and (least > 0 or greatest < 0)
            if not (rises or falls):
                return 0
        return (2 if steady else 1) * (1 if rises else -1)

    @cached_property
    def is_whole(self) -> bool:
        """Whether every reading is a whole number: a count, a rank, a year."""
        if self.kind != NUMBER or not self.count:
            return False
        return all(bool((part == np.floor(part)).all()) for part in pieces(self.known))

    @cached_property
    def decimals(self) -> int:
        """Decimals that show the first rows of a number column in full, if they are at most 6."""
        if self.kind != NUMBER:
            return 0
        rows = range(min(len(self), _SAMPLE_ROWS))
        cells = (self.cell(row) for row in rows if row not in self.texts)
        decimals = max((len(c.partition(".")[2]) for c in cells if "e" not in c), default=0)
        if decimals > _MOST_TYPED and self.ends is not None:
            # computed numbers carry more digits than anyone reads: four that count
            size = max(map(abs, self.ends))
            return min(max(3 - floor(log10(size)), 0), _MOST_DECIMALS) if size > 0 else 0
        return min(decimals, _MOST_DECIMALS)

    def cell(self, row: int) -> str:
        """The cell at a row index as text in full precision; "" where it is missing."""
        if self.kind == TEXT:
            return str(self.values[row])
        if row in self.texts:
            return self.texts[row]
        value = float(self.numbers[row])
        if not np.isfinite(value):
            return ""
        if self.kind == TIME:
            from sornix.core.text.moments import moment_text

            return moment_text(value, self.form)
        text = repr(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
        return self.bounds.get(row, "") + text

    def cells(self) -> list[str]:
        """Every cell as text in full precision."""
        if self.kind == TEXT:
            return [str(text) for text in self.values]
        if self.kind == NUMBER:
            return [self.cell(row) for row in range(len(self))]
        from sornix.core.text.moments import moment_texts

        cells = moment_texts(self.numbers, self.form)
        for row, text in self.texts.items():
            cells[row] = text
        return cells


# So many readings are looked at before it is asked whether they have told enough.
_PIECE = 1 << 16


def pieces(values: Floats) -> Iterator[Floats]:
    """Values, shape (n,), in pieces that share their ends, so that every step is in one of them.
    Of those that are laid down on the disk, no more is in memory for it than a part."""
    yield values[: _PIECE + 1]
    for at in range(_PIECE, len(values) - 1, _PIECE):
        yield values[at : at + _PIECE + 1]
        let_go_behind(at, values)
    if len(values) > LET_GO:
        let_go_of(values)


def ends_of(values: Floats) -> tuple[float, float]:
    """The least and the greatest of values (n,), of which there must be one."""
    found = [(part.min(), part.max()) for part in pieces(values)]
    return float(min(low for low, _ in found)), float(max(high for _, high in found))


def mean_of(values: Floats) -> float:
    """The mean of values (n,), of which there must be one."""
    # each piece but the first begins with a value of the one before
    with np.errstate(over="ignore", invalid="ignore"):
        sums = [float(part[min(i, 1) :].sum()) for i, part in enumerate(pieces(values))]
    if all(map(isfinite, sums)):
        return fsum(sums) / len(values)
    # the sum is beyond all numbers, and the mean need not be
    return sum(float((part[min(i, 1) :] / len(values)).sum()) for i, part in
               enumerate(pieces(values)))  # fmt: skip


def largest_of(values: Floats) -> int:
    """The place of the value (n,) that is farthest from 0, the first of several."""
    best, size = 0, -inf
    for number, part in enumerate(pieces(values)):
        at = int(np.abs(part).argmax())
        if abs(float(part[at])) > size:
            best, size = number * _PIECE + at, abs(float(part[at]))
    return best


def _all_finite(values: Floats) -> bool:
    # a sum takes no memory, and is not finite where one of them is not; nor where it is too large
    with np.errstate(over="ignore", invalid="ignore"):
        return bool(np.isfinite(values.sum())) or bool(np.isfinite(values).all())


def turns(values: Floats, most: float = inf) -> int:
    """How many times values (n,) change from rising to falling or back; of more than `most` no
    more are counted."""
    found, last = 0, 0.0
    for part in pieces(values):
        signs = np.sign(np.diff(part))
        signs = signs[signs != 0]
        found += int(np.count_nonzero(np.diff(signs, prepend=last or signs[:1])))
        last = float(signs[-1]) if len(signs) else last
        if found > most:
            break
    return found


def number_column(
    name: str, values: Sequence[float] | Floats, unit: str = "", texts: Texts | None = None,
    *, owned: bool = False,
) -> Column:  # fmt: skip
    """A number column of a copy of `values`, shape (n,), or where they are `owned` of these
    themselves; infinities count as missing."""
    array = np.array(values, dtype=np.float64, copy=None if owned else True)
    complete = all(map(_all_finite, pieces(array)))
    if not complete:
        array[~np.isfinite(array)] = np.nan
    column = Column(name, unit, NUMBER, array, MappingProxyType(dict(texts or {})))
    column.__dict__["is_complete"] = complete
    return column


def known_column(name: str, values: Floats, unit: str = "", *, complete: bool) -> Column:
    """A number column of these very `values`, shape (n,), NaN where missing and nothing else beyond
    all numbers, of which it is known whether they are all there."""
    column = Column(name, unit, NUMBER, values)
    column.__dict__["is_complete"] = complete
    return column


def time_column(
    name: str, seconds: Sequence[float] | Floats, form: str, texts: Texts | None = None
) -> Column:
    """A time column of a copy of `seconds` since 1970, shape (n,), NaN where missing."""
    array = np.array(seconds, dtype=np.float64)
    return Column(name, "", TIME, array, MappingProxyType(dict(texts or {})), form)


def moments_column(name: str, seconds: Floats) -> Column:
    """A time column as fine as its readings need; `seconds` becomes part of it."""
    return Column(name, "", TIME, seconds, form=_fineness(seconds))


_FINENESS = ("day", "minute", "second", "fraction")


def _fineness(seconds: Floats) -> str:
    """The coarsest form in which all the moments can be written."""
    level = 0
    for part in pieces(seconds):
        known = part if np.isfinite(part.sum()) else part[np.isfinite(part)]
        with np.errstate(invalid="ignore"):
            # far beyond all calendars
            whole = known.astype(np.int64)
        if (whole != known).any():
            return "fraction"
        for finer, unit in ((2, 60), (1, 86400)):
            if level < finer and (whole % unit).any():
                level = finer
    return _FINENESS[level]


def text_column(name: str, values: Sequence[str], unit: str = "") -> Column:
    """A text column of `values`, length n; "" stands for a missing cell."""
    array = np.empty(len(values), dtype=object)
    array[:] = values
    return Column(name, unit, TEXT, array)
