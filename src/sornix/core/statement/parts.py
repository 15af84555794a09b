"""What a sentence says: the words behind its first ones, and options."""

from collections.abc import Sequence
from typing import Any, NamedTuple

from sornix.core.statement.around import Around
from sornix.core.statement.matching import Spoken, longest, misread
from sornix.core.statement.sentences import Kind
from sornix.core.statement.words.furthest import Furthest
from sornix.core.statement.words.ofseries import COLUMNS, TOGETHER_WORDS
from sornix.core.statement.words.oftrend import MODEL
from sornix.core.statement.words.pattern import Form, constant, holding, words
from sornix.core.statement.words.slots import ASIDE, NUMBER, SERIES, TEXT_SLOT, listed
from sornix.core.statement.words.tokens import Token

# Through what a trend goes.
EACH = "each"
# What makes a series for each value of a column, and what its panel shows in place of series.
EACH_OF, FORM_OF = ("each",), ("form",)
_SEVERAL = listed(SERIES, "a series")


class Said(NamedTuple):
    """A sentence: its kind, its tokens, what stands behind its first words (by name), and the
    options that it says."""

    kind: Kind
    tokens: tuple[Token, ...]
    head: dict[str, Any]
    options: tuple[Spoken, ...]

    def token(self, spoken: Spoken) -> Token:
        return self.tokens[min(spoken.begin, len(self.tokens) - 1)]


def _plot() -> tuple[tuple[str, tuple[Form, ...], bool], ...]:
    together = tuple(constant(said, name) for name, said in TOGETHER_WORDS.items())
    return (
        ("together", together, False),
        ("columns", (holding("_", COLUMNS),), True),
    )


_FREE = Form(words("free _", ASIDE), lambda _: None, lambda _: None)
# Behind the first words of each kind of sentence: what, how it is said, and whether it must be.
_HEADS: dict[str, tuple[tuple[str, tuple[Form, ...], bool], ...]] = {
    "plot": _plot(),
    "trend": (
        ("model", (holding("_", MODEL),), True),
        ("through", (constant("through each", EACH), holding("through _", _SEVERAL)), False),
    ),
    "note": (("text", (holding("_", TEXT_SLOT),), True),),
    "curve": (("formula", (holding("_", TEXT_SLOT),), True),),
    **{name: (("text", (holding("_", TEXT_SLOT), constant("none", "")), True),)
       for name in ("title", "source")},
    **{name: (("text", (holding("_", TEXT_SLOT), _FREE), True),)
       for name in ("caption", "methods")},
    "noted": (
        ("about", (holding("_", TEXT_SLOT),), True),
        ("size", (holding("of size _", NUMBER),), False),
    ),
}  # fmt: skip


def head_forms(kind: Kind) -> tuple[tuple[str, tuple[Form, ...], bool], ...]:
    """What stands behind the first words of a kind of sentence."""
    return _HEADS.get(kind.name, ())


def head_of(
    kind: Kind, tokens: Sequence[Token], at: int, around: Around
) -> tuple[dict[str, Any], int]:
    """What stands behind the first words of a sentence, and the place behind that. Raises
    StatementError."""
    found: dict[str, Any] = {}
    furthest = Furthest()
    for name, forms, needed in head_forms(kind):
        best = longest(forms, tokens, at, around, furthest)
        if best is not None:
            found[name], at = best
        elif needed or furthest.at > at:
            raise misread(tokens, furthest, around)
    around.furthest = furthest
    return found, at
