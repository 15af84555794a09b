"""The figure that a statement says."""

import itertools
from collections.abc import Iterable, Sequence

from sornix.core.figure import Figure
from sornix.core.readings import Tables
from sornix.core.statement.around import Around
from sornix.core.statement.building import Building
from sornix.core.statement.checking import check_axes, check_formulas
from sornix.core.statement.matching import Spoken, beginnings, spoken
from sornix.core.statement.parts import Said, head_of
from sornix.core.statement.sentences import kind_at, kinds
from sornix.core.statement.words.misread import StatementError, nearest
from sornix.core.statement.words.tokens import TEXT, Token, sentences

# Sentences of which a statement has one at most.
_ONCE = ("figure", "title", "source", "caption", "methods")


def read_statement(
    text: str, tables: Tables, first: Figure | None = None, *, checked: bool = False
) -> Figure:
    """The figure that a text says of some tables. What it leaves open is as Sornix chooses it; a
    text that plots nothing is about the first figure of the first table, or about `first`. Where it
    is `checked`, what the window would refuse is refused.

    Raises StatementError, with the place of what is wrong in the text.
    """
    said = heard(text, tables)
    building = Building(tables, first)
    for sentence in said:
        building.take(sentence)
    figure = building.figure()
    if checked:
        check_formulas(said)
        check_axes(figure, tables, building.scales())
    return figure


def heard(text: str, tables: Tables) -> list[Said]:
    """The sentences of a text, each with what it says. Raises StatementError."""
    parted = sentences(text)
    around = Around(tables)
    # what is plotted first: others speak of it
    said = {at: _sentence(tokens, around) for at, tokens in enumerate(parted) if _plots(tokens)}
    names = _names(parted, said.values())
    # of a figure that is not plotted here, any column may be the name
    around = Around(tables, names=names if said else (*names, *around.column_names))
    found: list[Said] = []
    of: dict[str, dict[tuple[str, ...], Spoken]] = {}
    for at, tokens in enumerate(parted):
        one = said[at] if at in said else _sentence(tokens, around)
        found.append(one)
        name = one.kind.name
        if name == "panel":
            # each panel has scales of its own
            of = {head: options for head, options in of.items() if head == "Figure"}
        before = of.setdefault(one.kind.head, {}) if name in ("scale", "figure") else {}
        _refuse_contradictions(one, before)
        if name in _ONCE and [one.kind.name for one in found].count(name) > 1:
            raise _at(
                tokens[0], tokens[0], f"there are two sentences that begin with {tokens[0].text}."
            )
    return found


def _plots(tokens: Sequence[Token]) -> bool:
    kind = kind_at(tokens)
    return kind is not None and kind[0].name == "plot"


def _names(parted: Sequence[Sequence[Token]], plots: Iterable[Said]) -> list[str]:
    """What series can be called in a text: by their columns, and by names that they are given."""
    columns = [name for said in plots for name in said.head["columns"]]
    columns += [one.value for said in plots for one in said.options if one.option.path == ("x",)]
    return [name for name in columns if name is not None] + [
        after.text for tokens in parted for token, after in itertools.pairwise(tokens)
        if token.plain in ("named", "is") and after.kind == TEXT
    ]  # fmt: skip


def _sentence(tokens: Sequence[Token], around: Around) -> Said:
    found = kind_at(tokens)
    if found is None:
        raise _no_sentence(tokens, around)
    kind, at = found
    begins = beginnings(kind.options)
    among = around.within(begins | _HEADS.get(kind.name, frozenset()))
    head, at = head_of(kind, tokens, at, among)
    options: list[Spoken] = spoken(tokens, at, kind.options, among)
    return Said(kind, tuple(tokens), head, tuple(options))


def _refuse_contradictions(said: Said, before: dict[tuple[str, ...], Spoken]) -> None:
    """Raises StatementError where a sentence says one thing in two ways, or otherwise than those
    `before` of the same: the first would be passed over in silence."""
    for one in said.options:
        earlier = before.setdefault(one.option.path, one)
        if not one.option.adds and earlier.value != one.value:
            raise _at(
                said.tokens[one.begin], said.tokens[one.end - 1],
                f"{one.option.means} was said before.",
            )  # fmt: skip


# With what the words behind the first ones end.
_HEADS = {"plot": frozenset(("and", "for")), "trend": frozenset(("through",))}


_FITS = frozenset(("fit", "regression", "trend", "line", "curve"))


def _no_sentence(tokens: Sequence[Token], around: Around) -> StatementError:
    heads = [one.head for one in kinds()]
    read = tokens[0].text
    single: dict[str, str] = {}
    for head in heads:
        single.setdefault(head.split(" ")[0], head)
    near = [single.get(word, word) for word in nearest(read, single)]
    if any(name.casefold().startswith(tokens[0].plain) for name in around.column_names):
        # a column, which is to be plotted
        near = [f"Plot {read}", *near]
    # a linear fit, which is one word for it and not two
    alike = near[0].startswith("Trend ") if near else False
    last = next((t for t in tokens[1:2] if alike and t.plain in _FITS), tokens[0])
    return _at(tokens[0], last, "no sentence begins so.", near)


def _at(first: Token, last: Token, what: str, offered: Sequence[str] = ()) -> StatementError:
    return StatementError(
        what, line=first.line, column=first.column, at=first.at, end=last.end, read=first.text,
        offered=offered,
    )  # fmt: skip
