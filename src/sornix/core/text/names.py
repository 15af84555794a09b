"""What several names have in common."""

import re
from collections.abc import Sequence

from sornix.core.patterns import pattern

# what tells columns of one quantity apart: a group behind a comma, where it was read, a number or a
# letter at the end
_BEHIND = pattern(r",\s.*$|\s(?:at|in|of|from)\s.*$", re.IGNORECASE)
_TAIL = pattern(r"[\s_.:#-]*(?:\d+(?:[.,]\d+)?|\b[a-h])$", re.IGNORECASE)


def name_stem(name: str) -> str:
    """A name without what tells columns of one quantity apart: a number, a letter, what stands
    behind a comma or in “at 2.5 m”."""
    before = _BEHIND.sub("", name.strip())
    return _TAIL.sub("", before) or before


def common_name(names: Sequence[str]) -> str:
    """The name that all share before what tells them apart: “Absorbance” of “Absorbance at 220 nm”
    and “Absorbance at 275 nm”; "" where they share none."""
    stems = {name_stem(name) for name in names}
    found = stems.pop() if len(stems) == 1 else ""
    return found if any(sign.isalpha() for sign in found) else ""
