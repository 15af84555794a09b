"""What is read from awkward texts, all that is said of it, and what is drawn of it unasked, a line
each in tests/data/reads.txt: those of small-files.txt, those laid out by chance, and those with a
letter or two changed. It is made anew by `python -m tests.core.reads`; what changed is to be read
in the difference before it is kept."""

import random
from collections.abc import Iterator

from sornix.core.errors import ReadingsError
from sornix.core.figure.first.ways import first_ways
from sornix.core.readings import Table
from sornix.core.readings.files.delimited import read_texts
from sornix.core.statement import write_statement
from tests.base import DATA
from tests.core.small_files import described, small_files, told
from tests.core.test_layouts import laid_out

FILE = DATA / "reads.txt"
_LAID_OUT, _CHANGED = 150, 2
_LETTERS = ",;. \t-/:1e\"'%(m\n"


def _texts() -> Iterator[tuple[str, bytes]]:
    for name, case in small_files().items():
        raw = case.raw
        yield name, raw
        dice = random.Random(name)
        for number in range(_CHANGED):
            changed = bytearray(raw)
            for _ in range(dice.choice((1, 1, 2, 4))):
                at = dice.randrange(len(changed) + 1)
                changed[at : at + dice.randrange(2)] = dice.choice(_LETTERS).encode()
            yield f"{name}, changed {number}", bytes(changed)
    for seed in range(_LAID_OUT):
        yield f"laid out {seed}", laid_out(random.Random(seed))[1]


def drawn(table: Table) -> str:
    """What is drawn of a table unasked, and otherwise, and why."""
    said = []
    for way in first_ways(table):
        panel = way.figure.panel
        plots = [
            f"{s.y} against {s.x} {s.mark} {s.together} {s.only}{' replicates' * s.replicates}"
            for s in panel.series
        ]
        statement = write_statement(way.figure, (table,)).replace("\n", " | ")
        shown = f"{panel.form} {', '.join(plots)} {{{statement}}}"
        said.append(f"{way.words} ({way.because}): {shown}")
    return "; ".join(said)


def lines() -> Iterator[str]:
    """A line for each text."""
    for name, raw in _texts():
        try:
            tables = read_texts(raw, "t")
        except ReadingsError as error:
            said = str(error)
        else:
            said = f"{' || '.join(map(described, tables))} ~ {told(tables)} ~ {drawn(tables[0])}"
        # whatever the cells hold, it is a line
        yield repr(f"{name}: {said}")


if __name__ == "__main__":
    FILE.write_text("\n".join(lines()) + "\n")
