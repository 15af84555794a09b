"""What is drawn is what was drawn: every demo figure, and some that hold what they do not."""

import re
from operator import ne

from sornix.core.document import Document, load_document
from tests.base import DATA, SornixTest
from tests.core import edited, fitted, reads
from tests.core.drawn import FIGURES, FOLDER, demo_lines, drawn_text

_NUMBER = re.compile(r"-?\d+\.\d+(?:e[+-]?\d+)?")
# two hundredths of a millimetre are the last digit, twice
_NEAR = 0.021
# what no screen and no file shows, the last digits of binary64 and the ways of a search, hangs on
# how a processor rounds
_LONG = re.compile(r"-?\d+\.\d{8,}(?:e[+-]?\d+)?")
_TOLD_DIGITS = 8
_STEPS = re.compile(r"(?:, )?\d+ steps?")


def _differs(one: str, other: str) -> bool:
    if "by profile" in one.casefold():
        return fitted.differs(one, other)
    one, other = (
        _STEPS.sub("", _LONG.sub(lambda found: f"{float(found[0]):.10g}", line))
        for line in (one, other)
    )
    if _NUMBER.sub("#", one) != _NUMBER.sub("#", other):
        return True
    pairs = [*zip(_NUMBER.findall(one), _NUMBER.findall(other), strict=True)]
    if one.startswith("said: ") or (" to " in one and " by " in one):
        # what is said, and what a scale shows, are decimals
        return any(a != b and not _are_as_good(a, b) for a, b in pairs)
    return any(abs(float(a) - float(b)) > _NEAR for a, b in pairs)


def _are_as_good(one: str, other: str) -> bool:
    told = max(sum(map(str.isdigit, text)) for text in (one, other)) <= _TOLD_DIGITS
    return not told and abs(float(one) - float(other)) <= 1e-6 + 1e-5 * abs(float(one))


class Drawn(SornixTest):
    def test_every_figure_is_drawn_as_it_is_kept(self) -> None:
        self.assertEqual({path.stem for path in FOLDER.iterdir()}, set(FIGURES))
        for name in FIGURES:
            with self.subTest(name):
                self._is_drawn_as_kept(name, FIGURES[name]())

    def test_documents_of_earlier_versions_are_drawn_as_they_were(self) -> None:
        for path in sorted(DATA.glob("version-[12]/*.sornix")):
            with self.subTest(path.parent.name + "/" + path.stem):
                self._is_drawn_as_kept(path.stem, load_document(path))

    def test_what_is_read_edited_and_fitted_by_chance_is_as_it_is_kept(self) -> None:
        for part, other in ((reads, ne), (edited, ne), (fitted, fitted.differs)):
            self.is_kept(part.FILE, part.lines(), part.__name__, other)

    def test_the_demo_files_are_those_kept(self) -> None:
        self.is_kept(DATA / "demo.txt", demo_lines(self.folder), "tests.core.drawn")

    def _is_drawn_as_kept(self, name: str, document: Document) -> None:
        made = drawn_text(document).splitlines()
        self.is_kept(FOLDER / f"{name}.txt", made, "tests.core.drawn", _differs)
