"""What is said of an axis, in the words of its strip."""

from collections.abc import Iterator
from functools import cache
from typing import Any

from sornix.core.figure.model.scale import (
    BASES,
    COLOURS,
    DASHES,
    DATE_LABELS,
    HIDDEN,
    LABELS,
    MINOR,
    TICKS,
    TURNS,
    Other,
    Spot,
    axis_options,
)
from sornix.core.scales import KINDS, on_scale
from sornix.core.statement.words.pattern import (
    Form,
    Option,
    choice,
    constant,
    flag,
    holding,
    option,
    words,
)
from sornix.core.statement.words.slots import (
    ASIDE,
    COLUMN,
    NUMBER,
    PERCENT,
    PLACE,
    TEXT_SLOT,
    WHOLE,
    colour,
    step_of,
    value_of,
)


def free(said: str, path_words: str = "") -> Form:
    """Words for what follows the readings; what it is at present may stand behind in brackets."""
    return Form(words(f"{said} free _", ASIDE), lambda _: None,
                lambda v: (path_words,) if v is None else None)  # fmt: skip


def spot(path: str, said: str, means: str) -> Option:
    """Where something that was dragged stands."""
    return option(
        path, means,
        Form(words(f"{said} at _", PLACE), lambda held: Spot(*held[0]),
             lambda v: ((v.x, v.y),) if v is not None else None),
        constant(f"{said} in its own place", None),
    )  # fmt: skip


def _kind() -> Option:
    entries: dict[Any, str] = {
        name: next(iter(kind.traits.offers.values()), name) for name, kind in KINDS.items()
    }
    return choice(
        "kind", "the kind of scale",
        {**{name: on_scale(said) for name, said in entries.items()},
         None: "on the scale of its columns"},
    )  # fmt: skip


def _other() -> Option:
    def value(held: Any) -> Other:
        return Other(*held)

    return option(
        "other", "other units on the other side",
        Form(words("other side _ called _", TEXT_SLOT, TEXT_SLOT), value,
             lambda v: (v.formula, v.title) if v is not None and v.title else None),
        Form(words("other side _", TEXT_SLOT), value,
             lambda v: (v.formula,) if v is not None else None),
        constant("nothing on the other side", None),
    )  # fmt: skip


def _lines(path: str, said: str) -> Iterator[Option]:
    means = f"how {said} are drawn"
    yield option(f"{path}.colour", means,
                 holding(f"{said} in _", colour(COLOURS), unless=("",)),
                 constant(f"{said} in the colour of the style", ""))  # fmt: skip
    yield option(f"{path}.width_mm", means,
                 holding(f"{said} _ mm wide", NUMBER, unless=(None,)),
                 constant(f"{said} as wide as the style has them", None))  # fmt: skip
    yield choice(f"{path}.dash", means, {name: f"{said} {name}" for name in DASHES})


@cache
def scale_options(axis: str) -> tuple[Option, ...]:
    """What is said of an axis, in the order in which it is written."""
    found = _worded(axis)
    told = {one.path for one in found}
    return found + tuple(one for one in _offered() if one.path not in told)


def _offered() -> Iterator[Option]:
    """What the window offers of an axis, in its words there."""
    for one in axis_options():
        path = f"look.{one.field.name}" if one.of_look else one.field.name
        offer = one.offer
        if offer.entries is not None:
            yield choice(path, offer.name, offer.entries)
        elif offer.before or offer.after:
            slot = NUMBER if one.field.type in (int, float) else TEXT_SLOT
            yield option(path, offer.name, holding(f"{offer.before} _ {offer.after}", slot))


def _worded(axis: str) -> tuple[Option, ...]:
    """What has words of its own in statements."""
    return (
        option("start", "where the axis begins",
               holding("from _", value_of(axis), unless=(None,)), free("from"), close=True),
        option("end", "where the axis ends",
               holding("to _", value_of(axis), unless=(None,)), free("to"), close=True),
        option("step", "the step of its ticks",
               holding("every _", step_of(axis), unless=(None,)), free("every"), close=True),
        option("origin", "what a held step is counted from",
               holding("counted from _", value_of(axis), unless=(None,)), free("counted from")),
        _kind(),
        choice("base", "the base of a log scale", {name: f"base {name}" for name in BASES}),
        flag("reversed", "which way the axis runs", "reversed", "not reversed"),
        option("title", "the title of the axis",
               constant("without a title", ""),
               holding("titled _", TEXT_SLOT, unless=(None,)),
               free("titled")),
        flag("grid", "grid lines at the ticks", "grid lines", "no grid lines"),
        choice("labels", "how the ticks are labelled", {**LABELS, **DATE_LABELS}),
        option("before", "what stands before each number",
               constant("nothing before each number", ""),
               holding("_ before each number", TEXT_SLOT)),
        option("after", "what stands behind each number",
               constant("nothing behind each number", ""),
               holding("_ behind each number", TEXT_SLOT)),
        _other(),
        flag("zero", "whether 0 is in a free range", "0 in the range", "0 if readings reach it"),
        option("room", "the room at free ends",
               constant("room up to a tick", None), constant("no room at ends", 0.0),
               holding("_ % room at ends", PERCENT)),
        option("every", "which ticks have a label",
               constant("a label at every tick", 1), holding("a label at every _ ticks", WHOLE)),
        choice("minor", "minor ticks", MINOR),
        option("words", "a column whose cells are the labels",
               holding("words of _", COLUMN, unless=(None,)),
               constant("no words of a column", None)),
        choice("turn", "how labels are turned",
               {None: "labels turned as they need",
                **{turn: f"labels turned by {turn}°" for turn in TURNS}}),
        flag("look.line", "the axis line", "axis line", "no axis line"),
        choice("look.ticks", "where ticks point", TICKS),
        flag("look.minor_grid", "grid lines at minor ticks too",
             "minor grid lines", "no minor grid lines"),
        *_lines("look.major", "lines of the grid"),
        *_lines("look.minor", "lines of the minor grid"),
        option("look.size_pt", "the size of the labels",
               holding("labels _ points", NUMBER, unless=(None,)),
               constant("labels as large as the style has them", None)),
        option("look.colour", "the colour of axis and labels",
               holding("in _", colour(COLOURS), unless=("",)), constant("in plain colour", "")),
        choice("look.hide", "which labels are left out",
               {(): "all labels shown", **{k: f"labels {v}" for k, v in HIDDEN.items() if k}}),
        spot("title_spot", "title", "where the title stands"),
    )  # fmt: skip
