"""What several names have in common."""

import re
from collections.abc import Sequence

from sornix.core.patterns import pattern

# what tells columns of one quantity apart: a group behind a comma, where it was read, a number or a
# letter at the end
_BEHIND = pattern(r",\s.*$|\s(?:at|in|of|from)\s.*$", re.IGNORECASE)
_TAIL = pattern(r"[\s_.:#-]*(?:\d+(?:[.,]\d+)?|\b[a-h])$", re.IGNORECASE)

# what a column or a row is of
THINGS = (
    r"(?:run|rep(?:licate|eat)?|sample|probe|device|gerät|instrument|sensor|detector|channel|kanal|"
    r"tank|plot|site|station|batch|series|serie|set|test|trial|day|tag|group|gruppe|lane|well|tube|"
    r"cell|subject|animal|plate|cage|messung|no\.?|nr\.?)"
)
# called by a letter or a number: Run A, sample 3, B
_THING = pattern(rf"(?:{THINGS}[ _-]?)?(?:[A-Z]|\d{{1,3}}|[IVX]{{1,4}})", re.IGNORECASE)
# what is remarked beside readings
REMARK_NAME = pattern(
    r"remarks?|comments?|notes?|bemerkung(?:en)?|kommentar|remarque|observaciones|info|description|"
    r"flag|quality|operator|analyst",
    re.IGNORECASE,
)
# a day by its number in its year
DAY_OF_YEAR = pattern(
    r"doy|day[ _]?of[ _](?:the[ _])?year|y(?:ear[ _]?)?day|j(?:ulian)?[ _]?day", re.IGNORECASE
)
# whose number at the end counts atoms: NO3 is no third NO
_FORMULA = pattern(
    r"(?:^|[\s_])(?:NO|NH|PO|SO|CO|HCO|SiO|TiO|MnO|CH|O|Cl|H2O|Al2O|Fe2O|P2O|Cr2O|V2O)[2-5]$"
)


def name_stem(name: str) -> str:
    """A name without what tells columns of one quantity apart: a number, a letter, what stands
    behind a comma or in “at 2.5 m”."""
    before = _BEHIND.sub("", name.strip())
    if _FORMULA.search(before):
        return before
    return _TAIL.sub("", before) or before


def common_name(names: Sequence[str]) -> str:
    """The name that all share before what tells them apart: “Absorbance” of “Absorbance at 220 nm”
    and “Absorbance at 275 nm”, or behind it where they are called by things: of “Run A, Absorbance”
    and “Run B, Absorbance”; "" where they share none."""
    parted = [name.rpartition(", ") for name in names]
    groups = {group for _, _, group in parted}
    if len(groups) == 1 and all(_THING.fullmatch(thing) for thing, _, _ in parted):
        return groups.pop()
    stems = {name_stem(name) for name in names}
    found = stems.pop() if len(stems) == 1 else ""
    return found if any(sign.isalpha() for sign in found) else ""
