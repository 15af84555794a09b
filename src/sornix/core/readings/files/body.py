"""The text under a header, and its cells."""

from typing import NamedTuple

from sornix.core.readings.layouts.rows import HEAD_BYTES, sample_rows
from sornix.core.readings.tables.column import Floats

SAMPLE_BYTES = 16 * HEAD_BYTES


class Moments(NamedTuple):
    """Times that the parser knew: seconds since 1970, shape (n,)."""

    seconds: Floats


# the cells of one column: as text, or as numbers or times where the parser knew them all
Cells = list[str] | Floats | Moments


class Body(NamedTuple):
    """The UTF-8 text under a header: `raw` from `offset` on, where line `first_line` begins.

    Long texts are not copied for it.
    """

    raw: bytes
    offset: int
    separator: str
    where: str
    first_line: int

    @property
    def content(self) -> bytes:
        """The text itself, as a copy."""
        return self.raw[self.offset :]

    @property
    def is_blank(self) -> bool:
        head = self.raw[self.offset : self.offset + HEAD_BYTES]
        return (not head or head.isspace()) and not self.content.strip()

    def sample(self) -> list[list[str]]:
        """The first rows."""
        # a little more than the sample needs, so that its last line is whole
        return sample_rows(self.raw[self.offset : self.offset + SAMPLE_BYTES], self.separator)


class Divided(NamedTuple):
    """The cells of each column, and what was found while dividing the text."""

    columns: list[Cells]
    notes: tuple[str, ...] = ()
