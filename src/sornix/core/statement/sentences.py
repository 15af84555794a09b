"""The kinds of sentences: with which words they begin, and which options stand in them."""

from collections.abc import Sequence
from functools import cache
from typing import NamedTuple

from sornix.core.figure.model.scale import AXES
from sornix.core.statement.words.offigure import figure_options
from sornix.core.statement.words.ofpanel import (
    curve_options,
    guide_options,
    note_options,
    panel_options,
)
from sornix.core.statement.words.ofscale import scale_options, spot
from sornix.core.statement.words.ofseries import series_options
from sornix.core.statement.words.oftrend import trend_options
from sornix.core.statement.words.pattern import Option
from sornix.core.statement.words.tokens import Token, sentences


class Kind(NamedTuple):
    """A kind of sentence: its `name`, the words that it begins with, what it `means`, and the
    options that follow."""

    name: str
    head: str
    means: str
    options: tuple[Option, ...] = ()
    # of a scale or a guide: the axis
    axis: str = ""


@cache
def _title_options() -> tuple[Option, ...]:
    return (spot("title_spot", "standing", "where it stands"),)


@cache
def _source_options() -> tuple[Option, ...]:
    return (spot("source_spot", "standing", "where it stands"),)


def _kinds() -> tuple[Kind, ...]:
    return (
        Kind("plot", "Plot", "draws columns", series_options()),
        *(Kind("scale", said, f"an axis: {said}", scale_options(axis), axis)
          for axis, said in AXES.items()),
        Kind("trend", "Trend", "puts a shape through readings", trend_options()),
        *(Kind("line", f"Line on {said}", f"a line at a value of {said}", guide_options(axis), axis)
          for axis, said in AXES.items()),
        *(Kind("range", f"Range on {said}", f"a shaded range of {said}",
               guide_options(axis, "from"), axis)
          for axis, said in AXES.items()),
        Kind("note", "Note", "words with a leader", note_options()),
        Kind("pin", "Pin", "tells the values of a reading", note_options()),
        Kind("curve", "Curve", "a curve from a formula of x", curve_options()),
        Kind("panel", "Panel", "begins a panel, or tells of the first", panel_options()),
        Kind("figure", "Figure", "what it is made for, its size", figure_options()),
        Kind("title", "Title", "the title above the figure", _title_options()),
        Kind("source", "Source", "the line at the foot", _source_options()),
        Kind("caption", "Caption", "a caption of your own"),
        Kind("methods", "Methods", "a methods text of your own"),
        Kind("noted", "Noted", "a caution that is noted"),
    )  # fmt: skip


class _Ranked(NamedTuple):
    parts: list[str]
    kind: Kind


@cache
def kinds() -> tuple[Kind, ...]:
    return _kinds()


@cache
def _ranked() -> tuple[_Ranked, ...]:
    found = [_Ranked([t.plain for t in sentences(one.head)[0]], one) for one in kinds()]
    return tuple(sorted(found, key=lambda one: -len(one.parts)))


def kind_at(tokens: Sequence[Token]) -> tuple[Kind, int] | None:
    """The kind of a sentence, and the place behind its first words."""
    for parts, kind in _ranked():
        if [token.plain for token in tokens[: len(parts)]] == parts:
            return kind, len(parts)
    return None


def kind_named(name: str, axis: str = "") -> Kind:
    return next(one for one in kinds() if one.name == name and one.axis == axis)
