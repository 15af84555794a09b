"""Where a table came from, what was done to it, and what it is computed from."""

from collections.abc import Mapping
from typing import Any

from attrs import evolve, field

from sornix.core.frozen import frozen


@frozen
class Source:
    """Where a table came from: a file (`path`, and its `sheet`) as it was of a `size` in bytes
    and last `changed` in ns since 1970; or the `text` that was pasted."""

    path: str = ""
    sheet: str = ""
    size: int = 0
    changed: int = 0
    text: bytes = field(default=b"", repr=False)


@frozen
class Change:
    """An act that was done to a table, with its arguments as JSON has them."""

    act: str
    arguments: Mapping[str, Any]


@frozen
class Grouping:
    """A table made of the rows of `source` that agree in the columns `by`: for each of the
    columns `values`, each of the `statistics` (names in STATISTICS of `grouping`)."""

    source: str
    by: tuple[str, ...]
    values: tuple[str, ...]
    statistics: tuple[str, ...] = ("mean", "SD", "n")

    def following(self, old: str, new: str) -> "Grouping":
        """The same grouping after a column of the source was renamed."""

        def follow(names: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(new if name == old else name for name in names)

        return evolve(self, by=follow(self.by), values=follow(self.values))
