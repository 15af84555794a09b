"""Lines between the readings that say what those below them are of: days above times of day, runs,
stations. They become a column of their own."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import lru_cache
from itertools import pairwise
from typing import NamedTuple

from sornix.core.patterns import pattern
from sornix.core.readings.cells.marks import Marks, find_marks, is_number
from sornix.core.readings.layouts.rows import LINE, SEPARATORS, head_of, runs_of
from sornix.core.text import plural, spoken_list

# What a column of captions is called that share no word: of days, of others, of marks alone.
_OF_DAYS, _OF_WORDS, _OF_MARKS = "Date", "Group", "Part"
# One that divides numbers, as & or > alone.
_MARK = pattern(r"[^\w\s\"'.,;|+−-]{1,3}")
# What stands about the words of a caption.
_AROUND = " \t>#%*=-–—:[]{}<"
_CLOCK = pattern(r"\d{1,2}:\d{2}(?::\d{2}(?:[.,]\d{1,9})?)?")
# Depth: 5 m, T=25 °C
_TOLD = pattern(r"\s*([:=])\s*")
_LEAST_A_GROUP, _MOST_DEEP = 2, 3
# Between the first caption and the readings may stand names and units, below the last ones sums.
_MOST_BELOW, _MOST_SUMS = 2, 6
_LONGEST, _SHORTEST_DAY = 60, 6
_MOST_FOR_MARKS, _MOST_NAMED = 100, 3
_MOST_TEXTS = 1 << 12

# Lines or rows by their number, each as its first cell and those others that hold something.
Lines = Sequence[tuple[int, list[str]]]
_IsCaption = Callable[[Sequence[str]], bool]


class Captions(NamedTuple):
    """What a column of captions is called, and each caption by the number of its line; whether they
    are `words`, that name what is below them, whatever they look like."""

    name: str
    said: dict[int, str]
    words: bool = True

    def of(self, numbers: Iterable[int]) -> Iterator[str]:
        """The caption above each of some lines, which rise; "" where there is none."""
        told = iter([*self.said.items(), (None, "")])
        (at, following), current = next(told), ""
        for number in numbers:
            while at is not None and at < number:
                current = following
                at, following = next(told)
            yield current

    @property
    def notes(self) -> tuple[str, ...]:
        """What is to be said of them."""
        if self.name == _OF_MARKS:
            return (f"Marks between the readings divide them: “{self.name}” counts the parts.",)
        different = [f"“{one}”" for one in dict.fromkeys(self.said.values())]
        # one more is no longer than “1 other”
        count = len(different) if len(different) <= _MOST_NAMED + 1 else _MOST_NAMED
        others = [plural(len(different) - count, "other")] * (len(different) > count)
        named = spoken_list([*different[:count], *others])
        said = "Lines between the readings say what those below them are of: "
        return (f"{said}“{self.name}” holds {named}.",)


def without_captions(raw: bytes) -> tuple[bytes, tuple[Captions, ...]]:
    """A UTF-8 text with the captions between its readings blanked, and these, a column each; as it
    is where it has none."""
    head = head_of(raw)
    lines = _decoded(head)
    present = [line for line in lines if line.strip()]
    separator = _separator_among(present)
    if not _may_hold_some(present, separator) or any(line.count('"') % 2 for line in lines):
        # without captions, or with a cell of several lines
        return raw, ()
    found = find_captions(_cells(lines, separator), spaced=not separator)
    if found and len(head) < len(raw):
        found = find_captions(_cells(_decoded(raw), separator), spaced=not separator)
    if not found:
        return raw, ()
    said = {at for one in found for at in one.said}
    numbered = enumerate(LINE.finditer(raw), 1)
    blanked = (_line_end(one[0]) if at in said else one[0] for at, one in numbered)
    return b"".join(blanked), found


def _decoded(raw: bytes) -> list[str]:
    """The lines of a text, which end where LINE says; other signs end none."""
    return [line.decode("utf-8", "ignore") for line in raw.splitlines()]


def _may_hold_some(lines: Sequence[str], separator: str) -> bool:
    """Whether a line below the first two may be a caption: most texts have none, which a glance at
    each line tells."""
    if separator:
        return any(separator not in line.rstrip(f'{separator} "') for line in lines[2:])
    usual = Counter(len(line.split()) for line in lines).most_common(1)
    return any(
        not line.lstrip()[0].isdigit() or len(line.split()) != usual[0][0] for line in lines[2:]
    )


def _separator_among(lines: Sequence[str]) -> str:
    """The sign that stands in most lines, a comma if no other does; "" where none does."""
    counts = {sign: sum(sign in line for line in lines) for sign in reversed(SEPARATORS)}
    best = max(counts, key=lambda sign: counts[sign])
    return best if 2 * counts[best] > len(lines) else ""


def _cells(lines: Sequence[str], separator: str) -> Lines:
    def cells(line: str) -> list[str]:
        if not separator:
            return line.split()
        return filled([part.strip(' \t"') for part in line.split(separator)])

    return [(at, row) for at, line in enumerate(lines, 1) if (row := cells(line))]


def filled(row: Sequence[str]) -> list[str]:
    """The first of some cells and those of the others that hold something; none where none does."""
    rest = [cell for cell in row[1:] if cell]
    return [row[0], *rest] if rest or (row and row[0]) else []


def _line_end(line: bytes) -> bytes:
    return line[len(line.rstrip(b"\r\n")) :]


def with_captions(raw: bytes, captions: Captions, separator: str, header: int, first: int) -> bytes:
    """A text with the captions as its first column: its name in the line `header`, 0 for none, and
    one in each line from the `first` reading on."""

    def quoted(text: str) -> bytes:
        plain = separator not in text and '"' not in text
        return (text if plain else '"{}"'.format(text.replace('"', '""'))).encode()

    lines = [one[0] for one in LINE.finditer(raw)]
    between = separator.encode()
    for at, caption in enumerate(captions.of(range(1, len(lines) + 1)), 1):
        if lines[at - 1].strip():
            cell = captions.name if at == header else caption if at >= first else ""
            lines[at - 1] = quoted(cell) + between + lines[at - 1]
    return b"".join(lines)


def find_captions(lines: Lines, *, spaced: bool) -> tuple[Captions, ...]:
    """The captions among lines; none where anything tells against them. `spaced` says that spaces
    divide the cells, so that a caption may have several.

    A caption stands above the first readings and each of the others between readings; two readings
    stand below it, as a rule; all are days, or words, or there are marks between the readings. Of
    several lines above each, each is a caption of its own.
    """
    if not lines:
        return ()
    marks = find_marks((cell for _, row in lines[:_MOST_FOR_MARKS] for cell in row), "\t")[0]
    reads = [_is_reading(row, marks) for _, row in lines]
    # years and numbers of columns beside an empty corner
    reads[0] = reads[0] and not (lines[0][1][0] == "" and all(row[0] for _, row in lines[1:]))
    whole = _Text(lines, reads, marks, spaced)
    read = [at for at, is_ in enumerate(whole.reads) if is_]
    if not read:
        return ()
    end = read[-1] + 1
    usual = Counter(len(row) for _, row in lines[read[0] : end]).most_common(1)[0][0]
    if not any(_is_odd(row, usual) for _, row in lines[read[0] :]):
        return ()
    found = _alone(whole) or _marks(whole, read[0])
    return (found,) if found is not None else _stacked(whole)


def _alone(whole: "_Text") -> Captions | None:
    """Captions of a line each."""
    lines = whole.lines
    read = [at for at, is_ in enumerate(whole.reads) if is_]
    if not read:
        return None
    end = read[-1] + 1
    found = _days(whole.before(end) if len(lines) - end <= _MOST_SUMS else whole)
    if found is not None:
        return found
    begun = [
        at for at in read[-_MOST_SUMS - 1 :] if _begins_a_reading(lines[at][1][0], whole.marks)
    ]
    # means have a word before them
    return _words(whole.before(begun[-1] + 1 if begun else end))


def _stacked(whole: "_Text") -> tuple[Captions, ...]:
    """Captions of two lines or three each; nothing where there are none."""
    which = [_may_be_one(row, whole) for _, row in whole.lines]
    runs = runs_of(which)
    first = whole.reads.index(True)
    between = [(a, b) for a, b in runs if first < a and b < len(which)]
    depth = {b - a for a, b in between}
    if len(depth) != 1 or not 1 < min(depth) <= _MOST_DEEP:
        return ()
    deep = depth.pop()
    begins = [_begin(whole.lines[at][1]) for at in range(*between[0])]
    # names are words, too: those above begin as the others do, or stand apart from names
    above = [
        at for a, b in runs if b <= between[0][0] for at in range(a, b - deep + 1)
        if (a, b) not in between
    ]  # fmt: skip
    alike = [at for at in above if [_begin(whole.lines[at + i][1]) for i in range(deep)] == begins]
    top = next(iter(alike or above[-1:]), None)
    if top is None:
        return ()
    places = [top, *(a for a, _ in between)]
    found = []
    for number in range(deep):
        aside = {at + i for at in places for i in range(deep) if i != number}
        kept = [at for at in range(len(which)) if at not in aside]
        part = whole._replace(
            lines=[whole.lines[at] for at in kept], reads=[whole.reads[at] for at in kept]
        )
        found.append(_alone(part))
    captions = tuple(one for one in found if one is not None)
    return captions if len(captions) == deep else ()


def _may_be_one(row: Sequence[str], text: "_Text") -> bool:
    """Whether a row may be a caption: of one cell, or of words between spaces."""
    whole = " ".join(row)
    if _is_day(whole):
        return True
    alone = len(row) == 1 or (text.spaced and not _begins_a_reading(row[0], text.marks))
    return alone and len(whole) <= _LONGEST and any(map(str.isalpha, whole))


def _is_odd(row: Sequence[str], width: int) -> bool:
    """Whether a row may be a caption: most are none, which a glance tells."""
    return len(row) != width or not row[0][:1].isdigit() or (len(row) > 1 and row[1].isalpha())


class _Text(NamedTuple):
    """Lines, which of them could be readings, the marks in their numbers, and whether spaces divide
    their cells."""

    lines: Lines
    reads: list[bool]
    marks: Marks
    spaced: bool

    def before(self, end: int) -> "_Text":
        return self._replace(lines=self.lines[:end], reads=self.reads[:end])

    def besides(self, first: int, placed: Iterable[int]) -> list[list[str]] | None:
        """The rows from one on, but for those at some places; None where one is no reading."""
        aside = set(placed)
        rest = [at for at in range(first, len(self.lines)) if at not in aside]
        return [self.lines[at][1] for at in rest] if all(self.reads[at] for at in rest) else None


def _days(text: _Text) -> Captions | None:
    def is_day(row: Sequence[str]) -> bool:
        return (text.spaced or len(row) == 1) and _is_day(" ".join(row))

    placed, rest = _placed(text, is_day)
    if not placed or any(_is_day(row[0]) for row in rest):
        return None
    lines = text.lines
    said = {lines[at][0]: " ".join(lines[at][1]) for at in placed}
    return Captions(_OF_DAYS, said, words=False)


def _words(text: _Text) -> Captions | None:
    def is_word(row: Sequence[str]) -> bool:
        alone = len(row) == 1 or (text.spaced and not _begins_a_reading(row[0], text.marks))
        whole = " ".join(row) if alone else ""
        return len(whole) <= _LONGEST and any(map(str.isalpha, whole))

    placed, rest = _placed(text, is_word)
    if not placed or not (all(_begins_a_reading(row[0], text.marks) for row in rest)
                          or _come_again(text, placed)):  # fmt: skip
        return None
    rows = [text.lines[at][1] for at in placed]
    said = [" ".join(row).strip(_AROUND) for row in rows]
    name = _shared(said)
    # names of columns may stand alone as well, and words that come again are remarks
    names = text.spaced and len(rows[0]) == len(rest[0])
    different = len(set(said))
    if different == 1 or (name == _OF_WORDS and (names or different < len(said))):
        return None
    numbers = [text.lines[at][0] for at in placed]
    days = [one.removeprefix(name).strip(_AROUND) for one in said]
    if all(map(_is_day, days)):
        return Captions(name, dict(zip(numbers, days, strict=True)), words=False)
    return Captions(name, dict(zip(numbers, said, strict=True)))


def _come_again(text: _Text, placed: Sequence[int]) -> bool:
    """Whether what stands below each caption begins with the same words in the same order."""
    edges = [*placed[1:], len(text.lines)]
    begun = [[row[0] for _, row in text.lines[a + 1 : b]] for a, b in pairwise([placed[0], *edges])]
    # names and units may stand below the first of them
    first, *others = begun
    return len(others[0]) > 1 and all(one == first[-len(one) :] for one in others)


def _marks(text: _Text, first: int) -> Captions | None:
    lines = text.lines
    found = [at for at, (_, row) in enumerate(lines) if _is_mark(row)]
    below = [at for at in found if first < at < len(lines) - 1]
    rest = text.besides(first, found)
    if not below or rest is None or len(rest) < _LEAST_A_GROUP * (len(below) + 1):
        return None
    # the first part has its number as well, whether or not a mark stands above it
    placed = [lines[first][0] - 1, *(lines[at][0] for at in below)]
    others = {lines[at][0]: "" for at in found if at not in below}
    counted = {line: f"{_OF_MARKS} {i + 1}" for i, line in enumerate(placed)}
    return Captions(_OF_MARKS, dict(sorted({**others, **counted}.items())))


def _is_mark(row: Sequence[str]) -> bool:
    return len(row) == 1 and _MARK.fullmatch(row[0]) is not None


def _placed(text: _Text, is_caption: _IsCaption) -> tuple[list[int], list[list[str]]]:
    """The places of captions, one above the names, the units or the readings that come first and
    each of the others between readings, and the rows of these; nothing where anything else is among
    them, or captions are too many."""
    lines = text.lines
    which = [is_caption(row) for _, row in lines]
    read = zip(which, text.reads, strict=True)
    first = next((at for at, (caption, reads) in enumerate(read) if reads and not caption), 0)
    found = [at for at in range(first, len(lines)) if which[at]]
    above = [at for at in range(max(first - 1 - _MOST_BELOW, 0), first) if which[at]]
    if len(above) > 1:
        # names are words, too
        begun = {_begin(lines[at][1]) for at in found}
        above = [at for at in above if {_begin(lines[at][1])} == begun]
    if not found or len(above) != 1 or any(b - a == 1 for a, b in pairwise(found)):
        return [], []
    placed = [*above, *found]
    rest = text.besides(first, placed)
    return ([], []) if rest is None or len(rest) < _LEAST_A_GROUP * len(placed) else (placed, rest)


def _begin(row: Sequence[str]) -> str:
    """The first word of a row."""
    return next((word for cell in row if (word := cell.strip(_AROUND))), "")


def _shared(texts: Sequence[str]) -> str:
    """The words that captions share at their beginning, and that are not all of any."""
    shared = []
    for words in zip(*(_TOLD.sub(r" \1 ", text).split()[:-1] for text in texts), strict=False):
        if len(set(words)) > 1:
            break
        shared.append(words[0])
    name = " ".join(shared).strip(_AROUND)
    return name if any(map(str.isalpha, name)) else _OF_WORDS


def _is_reading(row: Sequence[str], marks: Marks) -> bool:
    """Whether a row holds numbers, or begins with a time of which the readings are missing."""
    return _is_clock(row[0]) or any(is_number(cell, marks) for cell in row)


def _begins_a_reading(cell: str, marks: Marks) -> bool:
    return _is_clock(cell) or is_number(cell, marks) or _is_day(cell)


# times of day and days come again and again
@lru_cache(_MOST_TEXTS)
def _is_clock(text: str) -> bool:
    return _CLOCK.fullmatch(text) is not None


@lru_cache(_MOST_TEXTS)
def _is_day(text: str) -> bool:
    """Whether a text is a day, without a time."""
    if not _SHORTEST_DAY <= len(text) <= _LONGEST or ":" in text:
        return False
    from sornix.core.text.moments import DATE, parse_moment

    found = parse_moment(text)
    return found is not None and found.form == DATE
