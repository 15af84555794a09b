"""Options put on what they are about: values understood, names found, errors at their place."""

from collections.abc import Callable, Sequence
from itertools import pairwise
from typing import Any

import numpy as np
from attrs import evolve

from sornix.core.errors import SornixError
from sornix.core.figure import Series
from sornix.core.scales import KINDS
from sornix.core.statement.around import SINCE, Around
from sornix.core.statement.matching import Spoken, beginnings
from sornix.core.statement.parts import Said
from sornix.core.statement.words.misread import StatementError, nearest
from sornix.core.statement.words.ofscale import scale_options
from sornix.core.statement.words.slots import Said as Value
from sornix.core.statement.words.tokens import Token
from sornix.core.text import parse_number
from sornix.core.text.moments import typed_moment

_Read = Callable[[Spoken], Any]


def as_it_is(spoken: Spoken) -> Any:
    return spoken.value


def with_options(thing: Any, said: Said, read: _Read) -> Any:
    """A thing with all that a sentence says of it. Raises StatementError."""
    for one in said.options:
        try:
            value = read(one)
            if one.option.path == ("size",):
                thing = evolve(thing, width_mm=value[0], height_mm=value[1])
            else:
                thing = one.option.on(thing, value)
        except StatementError:
            raise
        except SornixError as error:
            raise wrong(said.token(one), str(error), last=said.tokens[one.end - 1]) from error
    return thing


def value_of(around: Around, axis: str, spoken: Spoken) -> Any:
    """What an option says of an axis: values in its unit, times by the calendar."""
    said = spoken.value
    if not isinstance(said, Value):
        return said
    kind = KINDS[around.kind_of(axis)]
    first, last = said.tokens[0], said.tokens[-1]
    try:
        if said.text.endswith(SINCE):
            return parse_number(said.text.removesuffix(SINCE))
        if kind.traits.dated:
            is_step = spoken.option.path == ("step",)
            return kind.parse_step(said.text) if is_step else typed_moment(said.text, 0.0)
        return _number(said, around.unit_of(axis) if len(said.tokens) > 1 else "")
    except StatementError:
        raise
    except SornixError as error:
        near = [] if first.text[:1].isdigit() else ["free"]
        raise wrong(first, str(error), near, last=last) from error


def _number(said: Value, unit: str) -> float:
    """A number with a unit behind it or not, in the unit of the axis."""
    value = parse_number(said.tokens[0].text)
    given = " ".join(token.text for token in said.tokens[1:])
    if not given or given == unit:
        return value
    from sornix.core.readings.tables.units import convert, is_known, offers

    if not is_known(given):
        # more likely a word that goes on than a unit
        words = sorted(beginnings(scale_options("x")))
        units = (unit, *offers(unit)) if unit else ()
        near = nearest(given.split(" ")[0], (*words, *units))
        raise wrong(said.tokens[1], "this is no unit, and not known here.", near)
    if not unit:
        raise wrong(said.tokens[1], "the axis has no unit.", last=said.tokens[-1])
    try:
        # as many digits as a person would write, not what is left of the conversion
        return float(f"{convert(np.array([value]), given, unit)[0]:.12g}")
    except SornixError as error:
        near = nearest(given, (unit, *offers(unit)))
        raise wrong(said.tokens[1], str(error), near, last=said.tokens[-1]) from error


def series_of(said: str | int, sentence: Said, around: Around) -> Series:
    """The series that is meant by a name, or by its number. Raises StatementError."""
    panel = around.panel
    assert panel is not None
    if isinstance(said, int):
        if 1 <= said <= len(panel.series):
            return panel.series[said - 1]
        first, last = next(
            (pair for pair in pairwise(sentence.tokens)
             if pair[0].plain == "series" and pair[1].text == str(said)), sentence.tokens[:2],
        )  # fmt: skip
        offered = [f"series {n + 1}" for n in range(len(panel.series))]
        raise wrong(first, f"there is no series {said}.", offered, last)
    for name_of in (around.name_of, lambda s: s.y or "row number"):
        found = [one for one in panel.series if name_of(one) == said]
        if len(found) == 1:
            return found[0]
    found = found or [one for one in panel.series if said in one.columns]
    numbers = [f"series {panel.series.index(one) + 1}" for one in found]
    if len(found) == 1:
        return found[0]
    token = next((t for t in sentence.tokens if said.startswith(t.text)), sentence.tokens[0])
    if found:
        raise wrong(token, "several series are called so.", numbers)
    near = nearest(said, map(around.name_of, panel.series))
    raise wrong(token, "no series is called so.", near)


def wrong(
    token: Token, what: str, offered: Sequence[str] = (), last: Token | None = None,
    behind: str = "",
) -> StatementError:  # fmt: skip
    last = last or token
    return StatementError(
        what, line=token.line, column=token.column, at=token.at, end=last.end,
        read="" if what.startswith("“") else token.text, offered=offered, behind=behind,
    )  # fmt: skip
