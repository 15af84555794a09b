"""What is said of a panel and of what stands on it beside its series."""

from collections.abc import Sequence
from functools import cache
from typing import Any

from sornix.core.figure.model.additions import Constant
from sornix.core.figure.model.values import BARS, FORMS, NAMES
from sornix.core.statement.words.ofscale import spot
from sornix.core.statement.words.pattern import (
    Option,
    Slot,
    Surroundings,
    choice,
    constant,
    holding,
    option,
)
from sornix.core.statement.words.slots import (
    FROM_ONE,
    NAME,
    NUMBER,
    SERIES,
    TEXT_SLOT,
    listed,
    number_words,
    value_of,
)
from sornix.core.statement.words.tokens import Token


@cache
def panel_options() -> tuple[Option, ...]:
    return (
        option("title", "the title of the panel",
               constant("without a title", ""), holding("titled _", TEXT_SLOT)),
        option("row", "its row in the grid of panels", holding("in row _", FROM_ONE)),
        option("column", "its column in the grid of panels", holding("in column _", FROM_ONE)),
        choice("form", "what the panel shows", FORMS, "showing _"),
        choice("bars", "how bars of several series stand", BARS, "bars _"),
        option("bar_width", "how wide bars are", holding("bars _ wide", NUMBER)),
        choice("names", "where the names of series stand", NAMES),
        spot("legend_spot", "names", "where the names stand"),
        spot("title_spot", "title", "where the title stands"),
    )  # fmt: skip


@cache
def guide_options(axis: str, begins: str = "at") -> tuple[Option, ...]:
    """What is said of a line `at` a value, or of a range that begins `from` one."""
    return (
        option("value", "where it stands", holding(f"{begins} _", value_of(axis))),
        option("end", "where a range ends",
               holding("to _", value_of(axis), unless=(None,)), constant("a line", None),
               close=True),
        option("label", "what is written at it",
               constant("without words", ""), holding("called _", TEXT_SLOT)),
    )  # fmt: skip


@cache
def note_options() -> tuple[Option, ...]:
    return (
        option("series", "the series it is about",
               constant("about no series", ""), holding("about _", SERIES), close=True),
        option("row", "the row of the reading it is about",
               holding("at row _", FROM_ONE, unless=(None,)), constant("at no row", None),
               close=True),
        option("x", "the place it is about",
               holding("at x _", value_of("x"), unless=(None,)), constant("at no x", None),
               close=True),
        option("y", "the place it is about",
               holding("at y _", value_of("y"), unless=(None,)), constant("at no y", None),
               close=True),
        spot("spot", "standing", "where the words stand"),
    )  # fmt: skip


def _read_constant(
    tokens: Sequence[Token], at: int, around: Surroundings
) -> tuple[Any, int] | None:
    found = NAME.read(tokens, at, around)
    if found is None or found[1] >= len(tokens) or tokens[found[1]].text != "=":
        return None
    value = NUMBER.read(tokens, found[1] + 1, around)
    return (Constant(found[0], value[0]), value[1]) if value is not None else None


_CONSTANTS = listed(
    Slot("a constant, as in k = 3", _read_constant,
         lambda c, around: f"{NAME.write(c.name, around)} = {number_words(c.value)}"),
    "constants",
)  # fmt: skip


@cache
def curve_options() -> tuple[Option, ...]:
    return (
        option("constants", "the numbers in its formula",
               constant("without constants", ()), holding("with _", _CONSTANTS)),
        option("name", "its name", constant("without a name", ""), holding("named _", TEXT_SLOT)),
        option("palette_index", "its place in the palette", holding("look _", FROM_ONE)),
    )  # fmt: skip
