"""Which options the words of a sentence say, and what is wrong where they say none."""

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Any, NamedTuple

from sornix.core.statement.around import Around
from sornix.core.statement.words.furthest import Furthest
from sornix.core.statement.words.misread import StatementError, nearest
from sornix.core.statement.words.pattern import Form, Literal, Option, Slot
from sornix.core.statement.words.tokens import Token

# Words between options that say nothing.
_BETWEEN = (",", "and")
# As much of what was misread is shown.
_MOST_READ = 8


class Spoken(NamedTuple):
    """An option that was said, its value, and from which token to before which."""

    option: Option
    value: Any
    begin: int
    end: int


class _Forms(NamedTuple):
    """The forms of some options by their first words; those that begin with a slot."""

    by_word: dict[str, list[tuple[Option, Form]]]
    others: list[tuple[Option, Form]]


@lru_cache(maxsize=64)
def _forms_of(options: tuple[Option, ...]) -> _Forms:
    found = _Forms({}, [])
    for option in options:
        for form in option.forms:
            first = form.elements[0]
            if isinstance(first, Literal):
                found.by_word.setdefault(first.plain, []).append((option, form))
            else:
                found.others.append((option, form))
    return found


def beginnings(options: tuple[Option, ...]) -> frozenset[str]:
    """The words with which options begin, plain."""
    return frozenset(_forms_of(options).by_word)


def spoken(
    tokens: Sequence[Token], at: int, options: tuple[Option, ...], around: Around
) -> list[Spoken]:
    """What a sentence says from a place on. Raises StatementError."""
    found: list[Spoken] = []
    earlier = around.furthest
    while at < len(tokens):
        furthest = Furthest()
        best = _best(tokens, at, options, around, furthest)
        if best is None and tokens[at].plain in _BETWEEN and at + 1 < len(tokens):
            at += 1
            continue
        if best is None:
            raise misread(tokens, furthest.with_earlier(earlier), around)
        earlier = furthest
        found.append(best)
        at = best.end
    return found


def _best(
    tokens: Sequence[Token], at: int, options: tuple[Option, ...], around: Around,
    furthest: Furthest,
) -> Spoken | None:  # fmt: skip
    """The option whose words go on furthest from a place."""
    forms = _forms_of(options)
    tried = [*forms.by_word.get(tokens[at].plain, ()), *forms.others]
    best: Spoken | None = None
    for option, form in tried:
        found = matched(form, tokens, at, around, furthest)
        if found is not None and (best is None or found[1] > best.end):
            best = Spoken(option, found[0], at, found[1])
    if best is None and furthest.at <= at:
        for several in forms.by_word.values():
            furthest.missed(at, several[0][1].elements[0])
    return best


def longest(
    forms: Iterable[Form], tokens: Sequence[Token], at: int, around: Around, furthest: Furthest
) -> tuple[Any, int] | None:
    """What that of several forms says at a place which goes on furthest, and the place behind."""
    read = (matched(form, tokens, at, around, furthest) for form in forms)
    return max((one for one in read if one is not None), key=lambda one: one[1], default=None)


def matched(
    form: Form, tokens: Sequence[Token], at: int, around: Around, furthest: Furthest
) -> tuple[Any, int] | None:
    """The value that a form says at a place, and the place behind it."""
    held = []
    around.furthest = furthest
    for element in form.elements:
        if isinstance(element, Literal):
            if at >= len(tokens) or tokens[at].plain != element.plain or tokens[at].kind == "text":
                furthest.missed(at, element)
                return None
            at += 1
            continue
        read = element.read(tokens, at, around)
        if read is None:
            furthest.missed(at, element)
            return None
        held.append(read[0])
        at = read[1]
    return form.value(held), at


def misread(tokens: Sequence[Token], furthest: Furthest, around: Around) -> StatementError:
    """What is wrong where a sentence cannot be read on."""
    elements, at = furthest.elements, furthest.at
    words = [one.text for one in elements if isinstance(one, Literal)]
    slots = [one for one in elements if isinstance(one, Slot)]
    naming = [(slot.label, slot.known(around)) for slot in slots]
    known = [name for _, names in naming for name in names]
    labels = list(dict.fromkeys(slot.label for slot in slots if slot.label))
    if at >= len(tokens):
        last = tokens[-1]
        expected = " or ".join(labels) or "something"
        return StatementError(
            f"{expected} is missing behind it.", line=last.line, column=last.column, at=last.at,
            end=last.end, read=last.text, offered=[*words, *known], behind=" ",
        )  # fmt: skip
    here = tokens[at]
    single = here.text
    through = _misread_name(tokens, at, around) if known else single
    offered = _ranked(single, words, through, known)
    end = here.end if through == single else here.at + len(through)
    if not slots or (words and not known):
        what = "this is not known here."
    elif known and "column" in " ".join(labels):
        what = "no such column."
    elif known:
        what = f"this is not {next(label for label, names in naming if names)}."
    else:
        what = f"{' or '.join(labels)} stands here."
    return StatementError(
        what, line=here.line, column=here.column, at=here.at, end=end, read=through,
        offered=offered,
    )  # fmt: skip


def _ranked(single: str, words: Sequence[str], through: str, known: Sequence[str]) -> list[str]:
    """What may stand there, likeliest first: words like the one that was read, names like all."""
    from difflib import SequenceMatcher

    near_words, near_names = nearest(single, words), nearest(through, known)
    if not near_words or not near_names:
        return near_words or near_names

    def likeness(read: str, one: str) -> float:
        return SequenceMatcher(None, read.casefold(), one.casefold()).ratio()

    if likeness(single, near_words[0]) > likeness(through, near_names[0]):
        return [near_words[0], *near_names, *near_words[1:]]
    return [near_names[0], *near_words, *near_names[1:]]


def _misread_name(tokens: Sequence[Token], at: int, around: Around) -> str:
    """A name that is none: all up to a sign or a word with which something else begins."""
    end = at + 1
    if tokens[at].kind != "text":
        while (
            end < len(tokens)
            and end - at < _MOST_READ
            and tokens[end].kind == "word"
            and tokens[end].plain not in around.begins
        ):
            end += 1
    return " ".join(token.text for token in tokens[at:end])
