"""What stands in the places between the words of a statement: numbers, texts, columns, values."""

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from decimal import Decimal
from typing import Any, NamedTuple

from sornix.core.errors import EditRefused
from sornix.core.patterns import pattern
from sornix.core.statement.words.misread import StatementError
from sornix.core.statement.words.pattern import Slot, Surroundings
from sornix.core.statement.words.tokens import SIGN, TEXT, WORD, Token, plain, quoted, sentences
from sornix.core.text import parse_number

# A value of an axis has no more words than these: 1 April 2026 14:30:05.
_MOST_WORDS = 6
_WHOLE = pattern(r"[-−]?\d{1,18}")
_HEX = pattern(r"#[0-9a-f]{6}")


class Said(NamedTuple):
    """A value of an axis as it stands, which has a meaning once the axis is known."""

    tokens: tuple[Token, ...]

    @property
    def text(self) -> str:
        return " ".join(token.text for token in self.tokens)


# -- numbers -------------------------------------------------------------------------------------


def number_words(value: float) -> str:
    """A number as it can be read again exactly."""
    text = repr(float(value))
    return text.removesuffix(".0")


def _number_at(tokens: Sequence[Token], at: int) -> float | None:
    if at >= len(tokens) or tokens[at].kind != WORD:
        return None
    try:
        return parse_number(tokens[at].text)
    except EditRefused:
        return None


def _read_number(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    value = _number_at(tokens, at)
    return None if value is None else (value, at + 1)


def _read_whole(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    if at < len(tokens) and _WHOLE.fullmatch(tokens[at].text) and tokens[at].kind == WORD:
        return int(tokens[at].plain), at + 1
    return None


NUMBER = Slot("a number", _read_number, lambda v, _: number_words(v))
WHOLE = Slot("a whole number", _read_whole, lambda v, _: str(v))
# rows, columns and panels are counted from 1 by people
FROM_ONE = Slot(
    "a whole number from 1",
    lambda t, at, a: (found[0] - 1, found[1]) if (found := _read_whole(t, at, a)) else None,
    lambda v, _: str(v + 1),
)


def _read_percent(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    value = _number_at(tokens, at)
    if value is None:
        return None
    try:
        # the point is moved in the text: some parts are the hundredth of no number that is kept
        return parse_number(f"{tokens[at].text}e-2"), at + 1
    except EditRefused:
        return value / 100, at + 1


def _percent_words(value: float, _: Surroundings) -> str:
    return f"{(Decimal(repr(float(value))) * 100).normalize():f}"


PERCENT = Slot("a number of percent", _read_percent, _percent_words)


def listed(slot: Slot, label: str) -> Slot:
    """Several of a slot, with commas or *and* between them, as a tuple."""

    def read(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
        found = []
        step = slot.read(tokens, at, around)
        while step is not None:
            found.append(step[0])
            at = step[1]
            step = None
            if at < len(tokens) and tokens[at].plain in (",", "and"):
                step = slot.read(tokens, at + 1, around)
                if step is None:
                    around.missed(at + 1, slot)
                if (
                    step is None
                    and tokens[at].text == ","
                    and at + 1 < len(tokens)
                    and (tokens[at + 1].plain == "and")
                ):
                    step = slot.read(tokens, at + 2, around)
        return (tuple(found), at) if found else None

    def write(values: Sequence[Any], around: Surroundings) -> str:
        return ", ".join(slot.write(value, around) for value in values)

    return Slot(label, read, write, slot.known)


# -- texts and names -----------------------------------------------------------------------------


def _read_text(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    if at < len(tokens) and tokens[at].kind == TEXT:
        return tokens[at].text, at + 1
    return None


TEXT_SLOT = Slot("a text in quotation marks", _read_text, lambda v, _: quoted(v))


def _read_name(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    if at < len(tokens) and (
        tokens[at].kind == TEXT
        or (tokens[at].kind == WORD and tokens[at].plain not in around.begins)
    ):
        return tokens[at].text, at + 1
    return None


# a parameter of a formula, and the like: one word, or a text
NAME = Slot(
    "a name", _read_name,
    lambda v, around: (
        v if re.fullmatch(r"[^\W\d]\w*", v) and plain(v) not in around.begins else quoted(v)
    ),
)  # fmt: skip


def longest(
    tokens: Sequence[Token], at: int, known: Mapping[str, Sequence[str]]
) -> tuple[str, int] | None:
    """The longest of some names whose words stand at a place, or the text that does."""
    if at >= len(tokens):
        return None
    if tokens[at].kind == TEXT:
        return tokens[at].text, at + 1
    for name in known.get(tokens[at].plain, ()):
        parts = [token.plain for token in sentences(name)[0]]
        if [token.plain for token in tokens[at : at + len(parts)]] == parts:
            return name, at + len(parts)
    return None


def by_first_word(names: Iterable[str]) -> dict[str, list[str]]:
    """Names by their first words, plain, the longest first; those that cannot stand bare left
    out."""
    found: dict[str, list[str]] = {}
    for name in dict.fromkeys(names):
        parts = _bare(name)
        if parts:
            found.setdefault(parts[0].plain, []).append(name)
    for several in found.values():
        several.sort(key=len, reverse=True)
    return found


def _bare(name: str) -> list[Token]:
    """The tokens of a name, none where it can only stand in quotation marks."""
    if '"' in name or not name.isprintable() or name != " ".join(name.split()):
        return []
    try:
        found = sentences(name)
    except StatementError:
        return []
    return found[0] if len(found) == 1 and all(t.kind != TEXT for t in found[0]) else []


def bare(name: str, known: Mapping[str, Sequence[str]]) -> bool:
    """Whether a name can stand without quotation marks: it is made of words alone, and no other
    one begins with it."""
    parts = _bare(name)
    if not parts or any(token.kind != WORD for token in parts) or parts[0].plain in _TAKEN:
        return False
    among = known.get(parts[0].plain, ())
    return name in among and not any(
        one != name and plain(one).startswith(f"{plain(name)} ") for one in among
    )


# What stands where columns do, and is none.
_TAKEN = frozenset(("row", "none", "each", "series", "free", "mean", "sum", "every", "and"))


def _read_column(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    found = longest(tokens, at, around.columns)
    if found is None or found[0] in around.column_names:
        return found
    # a column that an option speaks of, and that its table has no more
    end = found[1] + len(_GONE)
    said = [token.plain for token in tokens[found[1] : end]]
    return (found[0], end) if said == _GONE else None


_GONE = ["(", "not", "there", ")"]
GONE = "(not there)"


def _known_columns(around: Surroundings) -> Iterable[str]:
    return around.column_names


COLUMN = Slot("a column", _read_column, lambda v, around: around.column_words(v), _known_columns)


def _read_column_or_rows(
    tokens: Sequence[Token], at: int, around: Surroundings
) -> tuple[Any, int] | None:
    found = _read_column(tokens, at, around)
    if found is None and [t.plain for t in tokens[at : at + 2]] == ["row", "number"]:
        return None, at + 2
    return found


COLUMN_OR_ROWS = Slot(
    "a column", _read_column_or_rows,
    lambda v, around: "row number" if v is None else around.column_words(v),
    lambda around: [*_known_columns(around), "row number"],
)  # fmt: skip


def _read_series(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    if (
        at + 1 < len(tokens)
        and tokens[at].plain == "series"
        and _WHOLE.fullmatch(tokens[at + 1].text)
    ):
        return int(tokens[at + 1].text), at + 2
    return longest(tokens, at, around.names)


def _known_names(around: Surroundings) -> Iterable[str]:
    return [name for several in around.names.values() for name in several]


# a series by its name, or by its number from 1
SERIES = Slot("a series", _read_series, lambda v, around: around.series_words(v), _known_names)


def one_of(entries: Mapping[Any, str], label: str) -> Slot:
    """One of some words."""
    forms = {value: [t.plain for t in sentences(said)[0]] for value, said in entries.items()}
    ranked = sorted(forms.items(), key=lambda pair: -len(pair[1]))

    def read(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
        for value, parts in ranked:
            if [token.plain for token in tokens[at : at + len(parts)]] == parts:
                return value, at + len(parts)
        return None

    return Slot(label, read, lambda v, _: entries[v], lambda _: entries.values())


def _read_colour(colours: Sequence[str]) -> Callable[..., tuple[Any, int] | None]:
    def read(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
        if at < len(tokens) and tokens[at].kind == WORD:
            found = tokens[at].plain
            if found in colours or _HEX.fullmatch(found):
                return found, at + 1
        return None

    return read


def colour(colours: Sequence[str]) -> Slot:
    """A colour by its name, or as #rrggbb."""
    return Slot("a colour", _read_colour(colours), lambda v, _: v, lambda _: colours)


# -- values of axes, and places ------------------------------------------------------------------


def _read_value(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    """The words of a value: all up to a sign, or to a word with which something else begins."""
    end = at
    while end < len(tokens) and end - at < _MOST_WORDS:
        token = tokens[end]
        if token.kind == SIGN or (end > at and (_begins(token, around) or token.kind == TEXT)):
            break
        end += 1
        if token.kind == TEXT:
            break
    if end == at or tokens[at].plain == "free" or _begins(tokens[at], around):
        return None
    return Said(tuple(tokens[at:end])), end


def _begins(token: Token, around: Surroundings) -> bool:
    """Whether something else begins with a word; a number may always be the value."""
    return token.kind == WORD and token.plain in around.begins and not token.plain[0].isdigit()


def value_of(axis: str) -> Slot:
    """A value of an axis, with a unit behind it or not."""
    return Slot("a value of the axis", _read_value, lambda v, around: around.value_words(axis, v))


def step_of(axis: str) -> Slot:
    """A step of an axis."""
    return Slot("a step of the axis", _read_value, lambda v, around: around.step_words(axis, v))


def _read_place(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    if [t.text for t in tokens[at : at + 1]] != ["("] or at + 4 >= len(tokens):
        return None
    x, y = _number_at(tokens, at + 1), _number_at(tokens, at + 3)
    if x is None or y is None or tokens[at + 2].text != "," or tokens[at + 4].text != ")":
        return None
    return (x, y), at + 5


# parts of the data area, from its upper left corner
PLACE = Slot(
    "a place such as (0.1, 0.2)", _read_place,
    lambda v, _: f"({number_words(v[0])}, {number_words(v[1])})",
)  # fmt: skip


def _read_aside(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    """What stands in round brackets, which only tells."""
    if at >= len(tokens) or tokens[at].text != "(":
        return "", at
    depth = 0
    for end in range(at, len(tokens)):
        depth += (tokens[end].text == "(") - (tokens[end].text == ")")
        if not depth:
            return "", end + 1
    return None


ASIDE = Slot("", _read_aside, lambda v, _: f"({v})" if v else "")
