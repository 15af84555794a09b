"""The indices of all rows, without one for each of them in memory."""

from typing import Any, cast

import numpy as np
from numpy.typing import NDArray


class EveryRow:
    """The indices 0 to n − 1 of a table: what a NumPy array of them answers where it is asked for
    some; asked for all, it becomes one."""

    __slots__ = ("_count",)

    dtype = np.dtype(np.intp)

    def __init__(self, count: int) -> None:
        self._count = count

    def __len__(self) -> int:
        return self._count

    @property
    def shape(self) -> tuple[int]:
        return (self._count,)

    def __getitem__(self, which: Any) -> Any:
        if isinstance(which, slice):
            return np.arange(*which.indices(self._count), dtype=np.intp)
        if isinstance(which, np.ndarray):
            return np.flatnonzero(which) if which.dtype == np.bool_ else which.astype(np.intp)
        at = int(which)
        if not -self._count <= at < self._count:
            raise IndexError(f"no row {at} of {self._count}")
        return np.intp(at % self._count)

    def __array__(self, dtype: Any = None, copy: bool | None = None) -> NDArray[Any]:
        del copy  # it is always a new one
        return np.arange(self._count, dtype=dtype or np.intp)

    def __eq__(self, other: object) -> Any:
        return np.asarray(self) == other

    __hash__ = None  # type: ignore[assignment]

    def tolist(self) -> list[int]:
        return list(range(self._count))

    def astype(self, kind: Any) -> NDArray[Any]:
        return np.arange(self._count, dtype=kind)


# So many are an array sooner than they are something else.
_FEW = 1 << 16


def every_row(count: int) -> NDArray[np.intp]:
    """The indices of so many rows, as whatever answers like an array of them."""
    if count <= _FEW:
        return np.arange(count, dtype=np.intp)
    return cast("NDArray[np.intp]", EveryRow(count))
