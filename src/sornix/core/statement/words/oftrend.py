"""What is said of a trend: its shape, what it goes through, what it tells."""

from collections.abc import Sequence
from functools import cache
from typing import Any

from sornix.core.figure.model.trend import (
    FORMULA,
    INTERVALS,
    PARAMETER_UNITS,
    SHOWS,
    WEIGHTS,
    Meaning,
    Unknown,
)
from sornix.core.statement.words.ofscale import free, spot
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
from sornix.core.statement.words.slots import (
    COLUMN,
    NAME,
    NUMBER,
    TEXT_SLOT,
    WHOLE,
    listed,
    number_words,
    one_of,
    value_of,
)
from sornix.core.statement.words.tokens import Token
from sornix.core.trends import METHODS, MODELS, Setting

MODEL_WORDS = {**{name: model.words for name, model in MODELS.items()}, FORMULA: "formula"}
MODEL = one_of(MODEL_WORDS, "a shape such as straight line")


def _read_setting(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    found = NAME.read(tokens, at, around)
    if found is None:
        return None
    name, at = found
    parts: dict[str, float] = {}
    while at < len(tokens):
        word = tokens[at].plain
        here = (
            at + 2
            if word == "held" and _is(tokens, at + 1, "at")
            else (at + 2 if word == "begun" and _is(tokens, at + 1, "at") else at + 1)
        )
        part = {"held": "held", "from": "low", "to": "high", "begun": "start"}.get(word)
        value = NUMBER.read(tokens, here, around) if part and part not in parts else None
        if part is None or value is None:
            break
        parts[part], at = value
    return (Setting(name, **parts), at)


def _is(tokens: Sequence[Token], at: int, word: str) -> bool:
    return at < len(tokens) and tokens[at].plain == word


def _setting_words(one: Setting, around: Surroundings) -> str:
    said = [NAME.write(one.name, around)]
    for word, value in (("held at", one.held), ("from", one.low), ("to", one.high),
                        ("begun at", one.start)):  # fmt: skip
        if value is not None:
            said.append(f"{word} {number_words(value)}")
    return " ".join(said)


_SETTINGS = listed(Slot("a parameter", _read_setting, _setting_words), "parameters")


def _read_meaning(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    found = NAME.read(tokens, at, around)
    if found is None:
        return None
    name, at = found
    means = TEXT_SLOT.read(tokens, at, around)
    if means is None:
        return None
    text, at = means
    for unit, said in PARAMETER_UNITS.items():
        words = said.split()
        if unit and [token.plain for token in tokens[at : at + len(words)]] == words:
            return Meaning(name, text, unit), at + len(words)
    return Meaning(name, text), at


def _meaning_words(one: Meaning, around: Surroundings) -> str:
    unit = f" {PARAMETER_UNITS[one.unit]}" if one.unit else ""
    return f"{NAME.write(one.name, around)} {TEXT_SLOT.write(one.means, around)}{unit}"


_MEANINGS = listed(Slot("a parameter with its meaning", _read_meaning, _meaning_words), "meanings")


def _read_unknown(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[Any, int] | None:
    found = NUMBER.read(tokens, at, around)
    if found is None:
        return None
    y, at = found
    if at < len(tokens) and tokens[at].text == "±":
        sd = NUMBER.read(tokens, at + 1, around)
        if sd is None:
            return None
        spread, at = sd
        count = _mean_of(tokens, at, around)
        return (Unknown(y, count[0], spread), count[1]) if count else (Unknown(y, 1, spread), at)
    count = _mean_of(tokens, at, around)
    return (Unknown(y, count[0]), count[1]) if count else (Unknown(y), at)


def _mean_of(tokens: Sequence[Token], at: int, around: Surroundings) -> tuple[int, int] | None:
    if [t.plain for t in tokens[at : at + 3]] != ["(", "mean", "of"]:
        return None
    found = WHOLE.read(tokens, at + 3, around)
    if found is None or not _is(tokens, found[1], ")"):
        return None
    return found[0], found[1] + 1


def _unknown_words(one: Unknown, _: Surroundings) -> str:
    spread = f" ± {number_words(one.sd)}" if one.sd is not None else ""
    mean = f" (mean of {one.replicates})" if one.replicates != 1 else ""
    return f"{number_words(one.y)}{spread}{mean}"


_UNKNOWNS = listed(Slot("a measured value", _read_unknown, _unknown_words), "measured values")


_SHOWN = listed(one_of(SHOWS, "what a trend shows"), "what a trend shows")


def _treatment() -> tuple[Option, ...]:
    return (
        option("treatment.dilution", "how often samples were diluted",
               constant("undiluted", 1.0), holding("diluted _ times", NUMBER)),
        option("treatment.recovery", "how much of what was added is found again",
               constant("recovered whole", 100.0), holding("recovered _ %", NUMBER)),
        option("treatment.recovery_sd", "how sure that recovery is",
               constant("surely recovered", 0.0), holding("recovered within _ %", NUMBER)),
    )  # fmt: skip


def _weights() -> tuple[Option, ...]:
    return (
        choice("weights", "how readings weigh", WEIGHTS),
        option("weight_column", "the column of SD that readings weigh by",
               holding("SD in _", COLUMN, unless=(None,)), constant("no column of SD", None)),
    )  # fmt: skip


@cache
def trend_options(x_axis: str = "x") -> tuple[Option, ...]:
    """What is said of a trend behind its shape and series, in the order in which it is written."""
    return (
        option("formula", "the formula, of x and parameters",
               constant("no formula", ""), holding("_", TEXT_SLOT),
               holding("formula _", TEXT_SLOT)),
        option("called", "what the formula is called",
               constant("called nothing", ""), holding("called _", TEXT_SLOT)),
        option("meanings", "what parameters of the formula mean",
               constant("meaning nothing", ()), holding("meaning _", _MEANINGS)),
        flag("on_logs", "whether it is fitted to the logarithms", "on logarithms",
             "on the readings themselves"),
        option("columns", "further columns of a straight line",
               constant("in no further columns", ()),
               holding("and in _", listed(COLUMN, "columns"))),
        flag("products", "the products of its columns", "with products", "without products"),
        option("start", "the x that it goes over",
               holding("from _", value_of(x_axis), unless=(None,)), free("from"), close=True),
        option("end", "the x that it goes over",
               holding("to _", value_of(x_axis), unless=(None,)), free("to"), close=True),
        *_weights(),
        choice("method", "how residuals count",
               {name: f"by {said}" for name, said in METHODS.items()}),
        option("settings", "what is asked of parameters",
               constant("nothing asked of parameters", ()), holding("where _", _SETTINGS)),
        option("shared", "parameters in common with other trends",
               constant("sharing nothing", ()), holding("sharing _", listed(NAME, "parameters"))),
        choice("intervals", "how intervals are found", INTERVALS),
        option("resamples", "how often readings are made anew",
               holding("resampled _ times", WHOLE)),
        option("seed", "what readings are made anew from", holding("seed _", WHOLE)),
        option("shows", "what is written on the figure",
               constant("with nothing written", ()),
               holding("with _", _SHOWN)),
        flag("extended", "how far it is drawn", "over the whole axis", "over its readings"),
        option("read_offs", "measured values whose x is read off",
               constant("reading nothing off", ()), holding("reading off _", _UNKNOWNS)),
        option("told_at", "x whose y is told",
               constant("told nowhere", ()), holding("told at _", listed(NUMBER, "numbers"))),
        *_treatment(),
        spot("spot", "label", "where its label stands"),
    )  # fmt: skip
