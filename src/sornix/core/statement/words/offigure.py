"""What is said of the figure as a whole."""

import re
from collections.abc import Sequence
from contextlib import suppress
from functools import cache
from typing import Any

from sornix.core.errors import EditRefused
from sornix.core.figure.model.styling import DECIMALS, PALETTES, STYLE_NAMES, UNITS
from sornix.core.figure.model.values import SHARES
from sornix.core.patterns import pattern
from sornix.core.statement.words.pattern import (
    Option,
    Slot,
    Surroundings,
    choice,
    constant,
    flag,
    holding,
    option,
)
from sornix.core.statement.words.slots import FROM_ONE, NUMBER, TEXT_SLOT, listed, number_words
from sornix.core.statement.words.tokens import Token, sentences
from sornix.core.text import parse_number

_SIZE = pattern(r"(?P<width>[\d.]+)(?:mm)?[x×](?P<height>[\d.]+)(?:mm)?", re.IGNORECASE)
_MOST_TOKENS = 5
SIZES = {
    size.words: (size.width_mm, size.height_mm)
    for style in STYLE_NAMES.values() for size in style.sizes
}  # fmt: skip


def _read_size(tokens: Sequence[Token], at: int, _: Surroundings) -> tuple[Any, int] | None:
    """`84 × 63 mm`, with spaces or without, or the words of a size."""
    for said, size in SIZES.items():
        parts = [token.plain for token in sentences(said)[0]]
        if [token.plain for token in tokens[at : at + len(parts)]] == parts:
            return size, at + len(parts)
    for count in range(min(_MOST_TOKENS, len(tokens) - at), 0, -1):
        text = "".join(token.text for token in tokens[at : at + count])
        match = _SIZE.fullmatch(text)
        if match is not None:
            with suppress(EditRefused):
                return (parse_number(match["width"]), parse_number(match["height"])), at + count
    return None


def size_words(size: tuple[float, float]) -> str:
    named = next((said for said, one in SIZES.items() if one == size), "")
    return named or f"{number_words(size[0])} × {number_words(size[1])} mm"


SIZE = Slot("a size such as 84 × 63 mm", _read_size, lambda v, _: size_words(v), lambda _: SIZES)

_RATIOS = listed(NUMBER, "numbers")


def _of_style(path: str, means: str, said: str, style: str) -> Option:
    return option(path, means, holding(said, NUMBER, unless=(None,)), constant(style, None))


@cache
def figure_options() -> tuple[Option, ...]:
    """What stands in the sentence that begins with *Figure*."""
    return (
        choice("style", "what it is made for", {n: s.words for n, s in STYLE_NAMES.items()}),
        # width and height, which are one thing to say
        option("size", "its size", holding("_", SIZE)),
        choice("share", "which axes the panels share", SHARES),
        flag("letters", "letters of panels", "with letters", "without letters"),
        option("widths", "widths of the columns of panels",
               constant("columns of one width", ()), holding("column widths _", _RATIOS)),
        option("heights", "heights of the rows of panels",
               constant("rows of one height", ()), holding("row heights _", _RATIOS)),
        option("hand", "the panel in hand", holding("panel _ in hand", FROM_ONE)),
        _of_style("choices.type_pt", "the size of the type", "type _ points", "type of the style"),
        _of_style("choices.line_mm", "the width of lines", "lines _ mm wide", "lines of the style"),
        _of_style("choices.marker_mm", "the size of markers", "markers _ mm large",
                  "markers of the style"),
        _of_style("choices.axis_mm", "the width of axes", "axes _ mm wide", "axes of the style"),
        choice("choices.palette", "the colours", PALETTES),
        choice("choices.units", "how units stand in titles", UNITS, "titles as _"),
        choice("choices.decimal", "the decimal mark",
               {name: said.partition(",")[0] for name, said in DECIMALS.items()}),
        option("name", "what it is called among several figures",
               constant("without a name", ""), holding("named _", TEXT_SLOT)),
        option("style_name", "what you call the style",
               constant("a style without a name", ""), holding("called _", TEXT_SLOT)),
    )  # fmt: skip
