"""One column of readings."""

from collections.abc import Mapping, Sequence
from functools import cached_property
from types import MappingProxyType

import numpy as np
from attrs import field, frozen
from numpy.typing import NDArray

NUMBER = "number"
TEXT = "text"

Floats = NDArray[np.float64]


def _no_texts() -> Mapping[int, str]:
    return MappingProxyType({})


@frozen(slots=False, eq=False)
class Column:
    """A named column of n readings.

    `values` is a read-only array of shape (n,): float64 with NaN where a reading is missing for
    a number column, str objects ("" where missing) for a text column. `texts` keeps, by row
    index, what stood in the cells of a number column that are no numbers ("12 snails"); such
    cells count as missing. `unit` is as written in the header, or "".
    """

    name: str
    unit: str
    kind: str
    values: NDArray[np.float64] | NDArray[np.object_]
    texts: Mapping[int, str] = field(factory=_no_texts)

    def __attrs_post_init__(self) -> None:
        self.values.flags.writeable = False

    def __len__(self) -> int:
        return len(self.values)

    def __eq__(self, other: object) -> bool:
        if not isinstance(other, Column):
            return NotImplemented
        if self is other:
            return True
        return (
            (self.name, self.unit, self.kind) == (other.name, other.unit, other.kind)
            and dict(self.texts) == dict(other.texts)
            and np.array_equal(self.values, other.values, equal_nan=self.kind == NUMBER)
        )

    def __hash__(self) -> int:
        return hash((self.name, self.unit, self.kind, len(self)))

    @property
    def title(self) -> str:
        """`Quantity / unit`, or the name alone for a column without a unit."""
        return f"{self.name} / {self.unit}" if self.unit else self.name

    @cached_property
    def present(self) -> NDArray[np.bool_]:
        """Which rows hold a reading, shape (n,)."""
        if self.kind == NUMBER:
            return np.isfinite(self.numbers)
        return np.array([bool(text) for text in self.values], dtype=bool)

    @property
    def numbers(self) -> Floats:
        """The values of a number column, shape (n,), NaN where missing."""
        if self.kind != NUMBER:
            raise TypeError(f"{self.name} is a text column")
        return self.values.view(np.float64)

    @property
    def count(self) -> int:
        """How many rows hold a reading."""
        return int(np.count_nonzero(self.present))

    @property
    def missing(self) -> int:
        """How many rows hold none."""
        return len(self) - self.count

    @cached_property
    def ends(self) -> tuple[float, float] | None:
        """The least and the greatest reading, or None where there is none."""
        if self.kind != NUMBER or not self.count:
            return None
        return float(np.nanmin(self.numbers)), float(np.nanmax(self.numbers))

    def cell(self, row: int) -> str:
        """The cell at a row index as text in full precision; "" where it is missing."""
        if self.kind == TEXT:
            return str(self.values[row])
        if row in self.texts:
            return self.texts[row]
        value = float(self.numbers[row])
        if not np.isfinite(value):
            return ""
        return repr(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)


def number_column(
    name: str,
    values: Sequence[float] | Floats,
    unit: str = "",
    texts: Mapping[int, str] | None = None,
) -> Column:
    """A number column of a copy of `values`, shape (n,); infinities count as missing."""
    array = np.array(values, dtype=np.float64)
    array[~np.isfinite(array)] = np.nan
    return Column(name, unit, NUMBER, array, MappingProxyType(dict(texts or {})))


def text_column(name: str, values: Sequence[str], unit: str = "") -> Column:
    """A text column of `values`, length n; "" stands for a missing cell."""
    array = np.empty(len(values), dtype=object)
    array[:] = values
    return Column(name, unit, TEXT, array)
