"""What is wrong with a statement, where, and what may stand there."""

import difflib
from collections.abc import Iterable, Sequence

from sornix.core.errors import SornixError
from sornix.core.statement.words.meant import meant_by
from sornix.core.text import short

_MOST_OFFERED, _LONGEST = 3, 60
_NEAR = 0.55


class StatementError(SornixError):
    """A statement that cannot be read: `line` and `column` from 1 of what was `read`, and what may
    stand there instead, the likeliest first. `at` and `end` are its places in the text. Where
    something is missing, what is offered stands `behind` it: after this sign."""

    # wrong usage: what was said, not what was read
    status = 2

    def __init__(
        self, what: str, *, line: int, column: int, at: int, end: int, read: str = "",
        offered: Sequence[str] = (), behind: str = "",
    ) -> None:  # fmt: skip
        listed = [f"“{short(one, _LONGEST)}”" for one in offered[:_MOST_OFFERED]]
        remedy = f"{' or '.join(listed)}?" if listed else ""
        said = f"“{short(read, _LONGEST)}”: {what}" if read else what
        super().__init__(said, where=f"line {line}, character {column}", remedy=remedy)
        self.line, self.column, self.at, self.end = line, column, at, end
        self.read, self.offered, self.behind = read, tuple(offered), behind

    def mended(self, words: str) -> tuple[int, int, str]:
        """From where to where in the text what is offered is put, and what is put there."""
        return (self.end if self.behind else self.at), self.end, f"{self.behind}{words}"


def nearest(read: str, known: Iterable[str]) -> list[str]:
    """Words or names that are like what was read, the nearest first; all of them, as they come,
    where none is."""
    every = list(dict.fromkeys(known))
    meant = meant_by(read, every)
    if meant:
        return meant
    plain = read.casefold().strip()
    if not plain:
        return every

    def likeness(one: str) -> float:
        other = one.casefold()
        found = difflib.SequenceMatcher(None, plain, other).ratio()
        begins = other.startswith(plain) or plain.startswith(other.split(" ")[0])
        return found + (0.3 if begins else 0.0)

    ranked = sorted(((likeness(one), -at, one) for at, one in enumerate(every)), reverse=True)
    near = [one for found, _, one in ranked if found >= _NEAR]
    return near or [one for _, _, one in ranked][:_MOST_OFFERED]
