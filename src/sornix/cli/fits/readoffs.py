"""What `sornix fit` tells of unknowns and of chosen x, as text and as JSON."""

import math
from collections.abc import Callable
from typing import Any, NamedTuple

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.readings import TIME, Column, Table
from sornix.core.text import significant
from sornix.core.text.moments import moment_text
from sornix.core.trends import UNTREATED, Fit, Prediction, Treatment
from sornix.core.trends.fits.readoff import ReadOff, in_sample, read_off


class Asked(NamedTuple):
    """A y whose x is asked for, with its SD where it has one: the words of its row, "" for one that
    was typed; NaN where the row holds no number."""

    row: str
    y: float
    sd: float | None = None


class Answer(NamedTuple):
    """What is told of an unknown: its x, or why there is none."""

    asked: Asked
    found: ReadOff | None
    problem: str = ""


class Told(NamedTuple):
    """What is told beside the fit: of some x, and of some y. `column` is that of x."""

    column: Column
    predictions: list[Prediction]
    answers: list[Answer]
    treatment: Treatment

    @property
    def is_treated(self) -> bool:
        """Whether what was in the samples is told besides."""
        return self.treatment != UNTREATED and self.column.kind != TIME

    def x(self, value: float) -> str:
        """A value of x in words: a date or time for a column of these."""
        if self.column.kind == TIME:
            return moment_text(round(value, 3), "second")
        # six digits of where it stands among the readings, however far from 0 these are
        spread = float(np.ptp(self.column.known)) or abs(value)
        far = math.log10(abs(value) / spread) if value else 0.0
        return significant(value, min(6 + max(math.ceil(far), 0), 17))

    def x_json(self, value: float) -> float | str:
        """A value of x for JSON, a date or time as text."""
        return moment_text(value, self.column.form) if self.column.kind == TIME else value


def answered(found: Fit, asked: Asked, replicates: int) -> Answer:
    """x for an unknown; one that has none does not keep the others from theirs."""
    if math.isnan(asked.y):
        return Answer(asked, None, "There is no number here.")
    try:
        return Answer(asked, read_off(found, asked.y, replicates, asked.sd))
    except TrendImpossible as error:
        return Answer(asked, None, error.what)


def unknowns_in(table: Table, name: str | None, sd_name: str | None) -> list[Asked]:
    """The unknowns in the rows of a column that hold anything."""
    if name is None:
        return []
    column = table.column(name)
    sds = None if sd_name is None else table.column(sd_name).numbers
    return [
        Asked(f"row {row + 1}", float(value), None if sds is None else float(sds[row]))
        for row, value in enumerate(column.numbers)
        if np.isfinite(value) or row in column.texts
    ]


def answer_json(answer: Answer, told: Told) -> dict[str, Any]:
    row = {"row": int(answer.asked.row.removeprefix("row "))} if answer.asked.row else {}
    found = answer.found
    if found is None:
        return {**row, "y": answer.asked.y, "value": None, "problem": answer.problem}
    sd = {} if answer.asked.sd is None else {"sd": answer.asked.sd}
    own = {}
    if told.is_treated and found.y:
        own = {"in_sample": _found_json(in_sample(found, told.treatment), told)}
    return {
        **row,
        "y": found.y,
        **sd,
        **_found_json(found, told),
        **own,
        "beyond": found.beyond,
    }


def _found_json(found: ReadOff, told: Told) -> dict[str, Any]:
    interval = found.interval and [told.x_json(end) for end in found.interval]
    return {"value": told.x_json(found.x), "ci95": interval}


def answer_words(answer: Answer, told: Told) -> str:
    asked, found = answer.asked, answer.found
    row = f"{asked.row}: " if asked.row else ""
    if found is None:
        y = "" if math.isnan(asked.y) else f"y = {six(asked.y)}: "
        return f"{row}{y}{answer.problem}"
    x = with_interval(found.x, found.interval, told.x)
    beyond = ", beyond the readings" if found.beyond else ""
    sd = f" ± {six(asked.sd)}" if asked.sd is not None else ""
    own = ""
    if told.is_treated and found.y:
        inside = in_sample(found, told.treatment)
        own = f"; in the sample {with_interval(inside.x, inside.interval, told.x)}"
    return f"{row}y = {six(found.y)}{sd} gives x = {x}{beyond}{own}"


def six(value: float) -> str:
    return significant(value, 6)


def with_interval(
    value: float, interval: tuple[float, float] | None, words: Callable[[float], str]
) -> str:
    if interval is None or not all(map(math.isfinite, interval)):
        return words(value)
    low, high = (words(end) for end in interval)
    return f"{words(value)} (95 %: {low} to {high})"
