"""What may stand at a place of a statement that is being typed."""

from typing import NamedTuple

from sornix.core.readings import Tables
from sornix.core.statement.around import Around
from sornix.core.statement.matching import beginnings, longest, matched
from sornix.core.statement.parts import head_forms
from sornix.core.statement.sentences import Kind, kind_at, kinds
from sornix.core.statement.words.furthest import Furthest
from sornix.core.statement.words.misread import StatementError
from sornix.core.statement.words.pattern import Literal, Slot
from sornix.core.statement.words.tokens import Token, plain, sentences

_MOST = 60


class Completion(NamedTuple):
    """What can be put in place of the last word, from place `begin` of the text, and what it
    means, in one line."""

    begin: int
    text: str
    means: str


def completions(text: str, at: int, tables: Tables) -> list[Completion]:
    """What may stand at a place of a text: words, columns, series, by what was typed of them."""
    before = text[:at]
    begin = max(before.rfind("\n"), before.rfind(";")) + 1
    line = before[begin:]
    try:
        parted = sentences(line)
    except StatementError:
        # within a text
        return []
    tokens = list(parted[0]) if parted else []
    typed = ""
    if tokens and not line[-1:].isspace() and tokens[-1].kind == "word":
        typed = tokens.pop().text
    start = at - len(typed)
    kind = kind_at(tokens)
    found = _heads(tokens) if kind is None else _within(tokens, kind[1], kind[0], Around(tables))
    known: dict[tuple[str, str], None] = dict.fromkeys((w, m) for w, m in found if w)
    return [
        Completion(start, word, means) for word, means in known
        if plain(word).startswith(plain(typed)) and plain(word) != plain(typed)
    ][:_MOST]  # fmt: skip


def _heads(tokens: list[Token]) -> list[tuple[str, str]]:
    """The first words of sentences, or what follows those that were typed."""
    said = [token.plain for token in tokens]
    found = []
    for kind in kinds():
        parts = kind.head.split(" ")
        if [plain(part) for part in parts[: len(said)]] == said and len(parts) > len(said):
            rest = " ".join(parts[len(said) :])
            found.append((rest, kind.means))
    return found


def _within(tokens: list[Token], at: int, kind: Kind, around: Around) -> list[tuple[str, str]]:
    """What follows within a sentence."""
    among = around.within(beginnings(kind.options))
    found: list[tuple[str, str]] = []
    for name, forms, needed in head_forms(kind):
        furthest = Furthest()
        best = longest(forms, tokens, at, among, furthest)
        if furthest.at >= len(tokens):
            found += _words_of(furthest, among, f"{name} of the sentence")
        if best is None and needed:
            return found
        at = best[1] if best is not None else at
    return found + _options(tokens, at, kind, among)


def _options(tokens: list[Token], at: int, kind: Kind, among: Around) -> list[tuple[str, str]]:
    found: list[tuple[str, str]] = []
    while at <= len(tokens):
        best: int | None = None
        for option in kind.options:
            for form in option.forms:
                furthest = Furthest()
                read = matched(form, tokens, at, among, furthest)
                if read is not None and read[1] > at and (best is None or read[1] > best):
                    best = read[1]
                if furthest.at >= len(tokens):
                    found += _words_of(furthest, among, option.means)
        if best is None and at < len(tokens) and tokens[at].plain in (",", "and"):
            at += 1
            continue
        if best is None:
            return found
        if best >= len(tokens):
            # what was typed is whole, and something else may follow
            return found + _options(tokens, best, kind, among) if best > at else found
        at = best
    return found


def _words_of(furthest: Furthest, among: Around, means: str) -> list[tuple[str, str]]:
    found = []
    for element in furthest.elements:
        if isinstance(element, Literal):
            found.append((element.text, means))
        elif isinstance(element, Slot):
            found += [
                (among.column_words(name) if name in among.column_names else name, element.label)
                for name in element.known(among)
            ]
    return found
