"""What several names have in common."""

import re
from collections.abc import Sequence

# what tells columns of one quantity apart: a group behind a comma, where it was read, a number or a
# letter at the end
_BEHIND = re.compile(r",\s.*$|\s(?:at|in|of|from)\s.*$")
_TAIL = re.compile(r"[\s_.:#-]*(?:\d+(?:[.,]\d+)?|\b[A-H])$")


def common_name(names: Sequence[str]) -> str:
    """The name that all share before what tells them apart: “Absorbance” of “Absorbance at 220 nm”
    and “Absorbance at 275 nm”; "" where they share none."""
    stems = {_TAIL.sub("", _BEHIND.sub("", name.strip())) for name in names}
    found = stems.pop() if len(stems) == 1 else ""
    return found if any(sign.isalpha() for sign in found) else ""
