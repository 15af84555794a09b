"""What is said of a series: how its readings are drawn."""

from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any

from sornix.core.figure.model.scale import COLOURS, DASHES
from sornix.core.figure.model.series import (
    ERRORS,
    IN_TWO_COLUMNS,
    MARKS,
    SHAPE_NAMES,
    ErrorBars,
    LeftOut,
    Only,
)
from sornix.core.figure.model.values import FORMS
from sornix.core.statement.words.pattern import (
    Form,
    Option,
    Slot,
    Surroundings,
    choice,
    constant,
    flag,
    holding,
    option,
    words,
)
from sornix.core.statement.words.slots import (
    COLUMN,
    COLUMN_OR_ROWS,
    FROM_ONE,
    NUMBER,
    TEXT_SLOT,
    colour,
    listed,
)
from sornix.core.statement.words.tokens import TEXT, Token, quoted

# What a series draws of its table, its columns one behind the other.
COLUMNS = listed(COLUMN_OR_ROWS, "columns")
TOGETHER_WORDS = {"mean": "mean of", "sum": "sum of", "each": "every"}


def _left_out() -> Slot:
    def read(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
        if at >= len(tokens) or tokens[at].plain != "row":
            return None
        found = FROM_ONE.read(tokens, at + 1, around)
        if found is None:
            return None
        row, at = found
        if at < len(tokens) and tokens[at].kind == TEXT:
            return LeftOut(row, tokens[at].text), at + 1
        return LeftOut(row), at

    def write(one: LeftOut, _: Surroundings) -> str:
        return f"row {one.row + 1}" + (f" {quoted(one.reason)}" if one.reason else "")

    return listed(Slot("a row, as in row 17", read, write), "rows")


def _errors(direction: str) -> Option:
    """Error bars along an axis, or a band in their place."""
    said = f"error bars in {direction}"
    forms: list[Form] = []
    for band, tail in ((False, ""), (True, " as a band")):

        def kind_is(v: Any, kind: str, band: bool = band) -> bool:
            return v is not None and (v.kind, v.band) == (kind, band)

        for kind in ERRORS:
            forms += _forms_of(kind, said, tail, band, kind_is)
    return option(f"errors_{direction}", f"error bars along {direction}", *forms,
                  constant(f"no {said}", None))  # fmt: skip


def _forms_of(kind: str, said: str, tail: str, band: bool, is_kind: Any) -> Iterator[Form]:
    """The ways to say one kind of error bars: as short as it can be, or with all that it holds."""
    sized = {"fixed": f"{said} _ long{tail}", "percent": f"{said} _ % of the value{tail}"}
    usual = ErrorBars(kind, band=band)
    if kind in sized:
        yield Form(words(sized[kind], NUMBER),
                   lambda held: ErrorBars(kind, held[0], band=band),
                   lambda v: (v.size,) if is_kind(v, kind)
                   and (v.column, v.upper) == (None, None) else None)  # fmt: skip
    elif kind == "column":
        yield Form(words(f"{said} of _{tail}", COLUMN),
                   lambda held: ErrorBars(kind, column=held[0], band=band),
                   lambda v: (v.column,) if is_kind(v, kind) and v.column is not None
                   and (v.upper, v.size) == (None, 0.0) else None)  # fmt: skip
    elif kind in IN_TWO_COLUMNS:
        between = ("below of", "above of") if kind == "pair" else ("from", "to")
        yield Form(words(f"{said} {between[0]} _ {between[1]} _{tail}", COLUMN, COLUMN),
                   lambda held: ErrorBars(kind, column=held[0], upper=held[1], band=band),
                   lambda v: (v.column, v.upper) if is_kind(v, kind) and v.size == 0.0
                   and None not in (v.column, v.upper) else None)  # fmt: skip
    else:
        yield Form(words(f"{said} by {ERRORS[kind]}{tail}"), lambda _: usual,
                   lambda v: () if v == usual else None)  # fmt: skip
    # with what another kind would need: it comes back when that one is chosen
    yield Form(
        words(
            f"{said} kind {kind} size _ columns _ and _{tail}", NUMBER, _SOME_COLUMN, _SOME_COLUMN
        ),
        lambda held: ErrorBars(kind, held[0], held[1], held[2], band),
        lambda v: (v.size, v.column, v.upper) if is_kind(v, kind) else None,
    )


def _read_some(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    if at < len(tokens) and tokens[at].plain == "none":
        return None, at + 1
    return COLUMN.read(tokens, at, around)


_SOME_COLUMN = Slot(
    "a column, or none", _read_some,
    lambda v, around: "none" if v is None else around.column_words(v), COLUMN.known,
)  # fmt: skip


def _written() -> Option:
    return option(
        "written", "what is written at each point",
        constant("nothing written at them", ""), constant("y written at them", "y"),
        constant("x written at them", "x"), constant("name written at them", "name"),
        Form(words("cells of _ written at them", COLUMN), lambda held: f"={held[0]}",
             lambda v: (v[1:],) if v.startswith("=") else None),
        # what a newer form of the file may have said
        Form(words("written _", TEXT_SLOT), lambda held: held[0], lambda v: (v,)),
    )  # fmt: skip


@cache
def series_options() -> tuple[Option, ...]:
    """What is said of a series behind its columns, in the order in which it is written."""
    return (
        option("x", "what it is drawn against", holding("against _", COLUMN_OR_ROWS), close=True),
        # not a part of a series: it makes several
        option("each", "a series for each value of a column", holding("for each _", COLUMN)),
        # of its panel, which is where it is written
        choice("form", "what its panel shows",
               {name: f"as {said}" for name, said in FORMS.items() if name != "series"}),
        choice("mark", "how it is drawn", {name: f"as {m.words}" for name, m in MARKS.items()}),
        option("only", "which rows of the table",
               Form(words("only where _ is _", COLUMN, TEXT_SLOT), lambda held: Only(*held),
                    lambda v: (v.column, v.value) if v is not None else None),
               constant("all rows", None)),
        option("table", "the table of its columns", holding("in table _", TEXT_SLOT)),
        option("name", "its name", holding("named _", TEXT_SLOT, unless=(None,)),
               constant("named by its column", None)),
        choice("together", "what is drawn of several readings at one place",
               {"each": "every reading", "mean": "mean of each place", "sum": "sum of each place"}),
        flag("replicates", "single readings behind their mean",
             "with single readings", "without single readings"),
        _errors("y"),
        _errors("x"),
        choice("x_axis", "which scale it stands on",
               {"x": "on the x scale", "x2": "on the upper x scale"}),
        choice("y_axis", "which scale it stands on",
               {"y": "on the y scale", "y2": "on the right y scale"}),
        option("style.colour", "its colour", holding("in _", colour(COLOURS), unless=("",)),
               constant("in its own colour", "")),
        choice("style.shape", "the shape of its markers",
               {"": "markers of its own shape",
                **{name: f"{name.replace('-', ' ')} markers" for name in SHAPE_NAMES}}),
        flag("style.filled", "whether markers are filled", "filled markers", "hollow markers"),
        option("style.size_mm", "the size of its markers",
               holding("markers _ mm large", NUMBER, unless=(None,)),
               constant("markers as large as the style has them", None)),
        option("style.width_mm", "the width of its line",
               holding("line _ mm wide", NUMBER, unless=(None,)),
               constant("line as wide as the style has it", None)),
        choice("style.dash", "how its line is dashed",
               {"": "line as the palette has it", **{name: f"{name} line" for name in DASHES}}),
        option("palette_index", "its place in the palette", holding("look _", FROM_ONE)),
        _written(),
        flag("hidden", "whether it is drawn", "hidden", "shown"),
        option("left_out", "readings that trends leave out",
               constant("leaving nothing out", ()), holding("leaving out _", _left_out())),
    )  # fmt: skip
