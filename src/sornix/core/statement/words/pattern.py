"""Options as they are said: words with slots for numbers, texts and columns between them."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, NamedTuple, Protocol

from attrs import evolve

from sornix.core.patterns import pattern
from sornix.core.statement.words.tokens import Token, words_of


class Surroundings(Protocol):
    """What a slot may ask of the statement that it stands in."""

    @property
    def columns(self) -> Mapping[str, Sequence[str]]:
        """The names of columns by how they begin: their first word, plain."""

    @property
    def column_names(self) -> Sequence[str]:
        """The names of all columns."""

    @property
    def names(self) -> Mapping[str, Sequence[str]]:
        """The names of series in the same way."""

    @property
    def begins(self) -> frozenset[str]:
        """The words with which options begin here."""

    def missed(self, at: int, slot: "Slot") -> None:
        """Takes note that something else could have stood at a place: the next of a list."""

    def value_words(self, axis: str, value: float) -> str:
        """A value of an axis as it is said."""

    def step_words(self, axis: str, value: float) -> str:
        """A step of an axis as it is said."""

    def column_words(self, name: str) -> str:
        """The name of a column as it is said: bare where it is unmistakable."""

    def series_words(self, series_id: str) -> str:
        """A series as it is said where others speak of it."""


class Slot(NamedTuple):
    """A place in words: what stands there in a word for people (`label`), how it is read from
    tokens (the value and the next place, or None), and how it is written."""

    label: str
    read: Callable[[Sequence[Token], int, Surroundings], tuple[Any, int] | None]
    write: Callable[[Any, Surroundings], str]
    # which words may stand there, for completions and suggestions
    known: Callable[[Surroundings], Iterable[str]] = lambda _: ()


class Literal(NamedTuple):
    """A word or sign as it stands: `text` for writing, `plain` for comparing."""

    text: str
    plain: str


Element = Literal | Slot


class Form(NamedTuple):
    """One way to say an option: its elements; the value of what the slots hold; and what the slots
    hold for a value, None where it is not said so."""

    elements: tuple[Element, ...]
    value: Callable[[Sequence[Any]], Any]
    parts: Callable[[Any], Sequence[Any] | None]


class Option(NamedTuple):
    """Something that is said of a part of a figure: the `path` of its fields, what it `means`, and
    its forms, of which the first that can say a value is written. With `adds` each saying adds to
    what was said before. It is `close` where no comma stands before it."""

    path: tuple[str, ...]
    means: str
    forms: tuple[Form, ...]
    close: bool = False
    adds: bool = False

    def of(self, thing: Any) -> Any:
        for name in self.path:
            thing = getattr(thing, name)
        return thing

    def on(self, thing: Any, value: Any) -> Any:
        """A thing with another value of the option. Raises Unfit."""
        return _with(thing, self.path, value, adds=self.adds)

    def say(self, value: Any, around: Surroundings) -> str:
        """The words for a value."""
        for form in self.forms:
            parts = form.parts(value)
            if parts is not None:
                return written(form, parts, around)
        raise AssertionError(f"{self.path} has no words for {value!r}")


def _with(thing: Any, path: Sequence[str], value: Any, *, adds: bool) -> Any:
    name, rest = path[0], path[1:]
    old = getattr(thing, name)
    if rest:
        value = _with(old, rest, value, adds=adds)
    elif adds:
        value = (*old, *value)
    return evolve(thing, **{name: value})


def written(form: Form, parts: Sequence[Any], around: Surroundings) -> str:
    """The words of a form, with what its slots hold."""
    held = iter(parts)
    said = [
        element.text if isinstance(element, Literal) else element.write(next(held), around)
        for element in form.elements
    ]
    return tidy(" ".join(filter(None, said)))


def tidy(words: str) -> str:
    """Words with their signs where they belong; what stands in quotation marks stays."""
    return _SPACED_SIGN.sub(lambda found: found["text"] or found[0].strip(), words)


_SPACED_SIGN = pattern(r'(?P<text>"(?:[^"]|"")*")|\( | \)| ,')


def words(text: str, *slots: Slot) -> tuple[Element, ...]:
    """The elements of a text in which each `_` is the next slot."""
    found: list[Element] = []
    left = list(slots)
    for word, bare in words_of(text) if text else ():
        found.append(left.pop(0) if word == "_" else Literal(word, bare))
    assert not left, text
    return tuple(found)


# -- usual forms -----------------------------------------------------------------------------------


def constant(text: str, value: Any) -> Form:
    """Words that stand for one value."""
    return Form(words(text), lambda _: value, lambda v: () if _same(v, value) else None)


def _same(one: Any, other: Any) -> bool:
    return type(one) is type(other) and bool(one == other)


def holding(text: str, *slots: Slot, unless: tuple[Any, ...] = ()) -> Form:
    """Words with one slot that holds the value itself, but for some values; with several, these
    make a tuple."""
    if len(slots) == 1:
        return Form(
            words(text, *slots),
            lambda held: held[0],
            lambda v: None if any(_same(v, one) for one in unless) else (v,),
        )
    return Form(
        words(text, *slots), tuple, lambda v: None if any(_same(v, one) for one in unless) else v
    )


def option(path: str, means: str, *forms: Form, close: bool = False, adds: bool = False) -> Option:
    return Option(tuple(path.split(".")), means, forms, close, adds)


def choice(path: str, means: str, entries: Mapping[Any, str], around: str = "_") -> Option:
    """An option whose values have words of their own, in words `around` them."""
    forms = tuple(constant(around.replace("_", said), value) for value, said in entries.items())
    return Option(tuple(path.split(".")), means, forms)


def flag(path: str, means: str, yes: str, no: str) -> Option:
    return option(path, means, constant(yes, True), constant(no, False))
