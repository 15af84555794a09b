"""Continuing a pattern: numbers, dates, months, weekdays, `Year 1`; filling cells from above."""

from collections.abc import Mapping, Sequence
from decimal import Decimal, InvalidOperation
from itertools import pairwise

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.patterns import pattern
from sornix.core.readings.tables.column import Column
from sornix.core.text.lengths import LONGEST_NUMBER
from sornix.core.text.moments import DAY, MONTHS, WEEKDAYS, moment_text, parse_moment

_NUMBERED = pattern(r"(?P<before>.*?)(?P<number>\d+)(?P<after>\D*)")


def filled_down(column: Column) -> Column:
    """A column in which each empty cell holds what stands above it, as in tables that name a group
    in its first row alone. Raises EditRefused where none is below a filled one."""
    rows = np.arange(len(column))
    filled = column.present.copy()
    filled[list(column.texts)] = True
    above = np.maximum.accumulate(np.where(filled, rows, -1))
    taken = np.where(above < 0, rows, above)
    if (taken == rows).all():
        raise EditRefused(f"No cell of “{column.name}” is empty below a filled one.")
    below = {row: at for row, at in enumerate(taken.tolist()) if row != at}
    return evolve(
        column, values=column.values[taken],
        texts=_spread(column.texts, below), bounds=_spread(column.bounds, below),
    )  # fmt: skip


def _spread(cells: Mapping[int, str], below: Mapping[int, int]) -> dict[int, str]:
    """What is told of cells by their rows, and of those that were filled from them."""
    found = dict(cells) | {row: cells[at] for row, at in below.items() if at in cells}
    return dict(sorted(found.items()))


def continued(cells: Sequence[str], count: int) -> list[str]:
    """The next `count` cells after some that show a pattern.

    One number is repeated with a step of 1, several with their common step or factor; dates by
    days, months or years; names of months and weekdays; texts that hold a number (`Year 1`).
    Anything else is repeated in turn. Raises EditRefused where there is nothing to go on.
    """
    given = [cell.strip() for cell in cells]
    if not given or not all(given):
        raise EditRefused(
            "There is no pattern to continue.",
            remedy="Select the cells that begin it, such as 2019 and 2020.",
        )
    for way in (_numbers, _moments, _names, _numbered):
        found = way(given, count)
        if found is not None:
            return found
    return [given[i % len(given)] for i in range(count)]


def _numbers(given: list[str], count: int) -> list[str] | None:
    try:
        values = [Decimal(cell.replace("−", "-")) for cell in given]
    except InvalidOperation:
        return None
    steps = [b - a for a, b in pairwise(values)] or [Decimal(1)]
    if len(set(steps)) == 1:
        return [_plain(values[-1] + steps[0] * (i + 1)) for i in range(count)]
    if all(values):
        factors = {b / a for a, b in pairwise(values)}
        if len(factors) == 1:
            factor = factors.pop()
            return [_plain(values[-1] * factor ** (i + 1)) for i in range(count)]
    return None


def _plain(value: Decimal) -> str:
    text = f"{value:f}"
    return text.rstrip("0").rstrip(".") if "." in text and not _has_decimals(text) else text


def _has_decimals(text: str) -> bool:
    return bool(text.partition(".")[2].strip("0"))


def _moments(given: list[str], count: int) -> list[str] | None:
    moments = [parse_moment(cell) for cell in given]
    if any(moment is None for moment in moments):
        return None
    known = [moment for moment in moments if moment is not None]
    form = known[-1].form
    seconds = [moment.seconds for moment in known]
    months = [_month_of(moment) for moment in seconds]
    into = [moment - _month_start(month) for moment, month in zip(seconds, months, strict=True)]
    month_steps = {b - a for a, b in pairwise(months)}
    if (form == "month" and len(known) == 1) or (
        len(month_steps) == 1 and 0 not in month_steps and len(set(into)) == 1
    ):
        months_on = month_steps.pop() if month_steps else 1
        starts = [_month_start(months[-1] + months_on * (i + 1)) for i in range(count)]
        return [moment_text(start + into[-1], form) for start in starts]
    steps = {round(b - a, 6) for a, b in pairwise(seconds)}
    if len(steps) > 1:
        return None
    step = steps.pop() if steps else 3600.0 if form == "clock" else DAY
    return [moment_text(seconds[-1] + step * (i + 1), form) for i in range(count)]


def _month_of(seconds: float) -> int:
    return int(np.datetime64(round(seconds), "s").astype("datetime64[M]").astype(np.int64))


def _month_start(month: int) -> float:
    return float(np.datetime64(month, "M").astype("datetime64[s]").astype(np.int64))


def _names(given: list[str], count: int) -> list[str] | None:
    for names in (MONTHS, WEEKDAYS):
        for listed in (names, tuple(name[:3] for name in names)):
            lower = [name.casefold() for name in listed]
            if all(cell.casefold() in lower for cell in given):
                places = [lower.index(cell.casefold()) for cell in given]
                step = (places[1] - places[0]) % len(names) if len(places) > 1 else 1
                return [listed[(places[-1] + step * (i + 1)) % len(names)] for i in range(count)]
    return None


def _numbered(given: list[str], count: int) -> list[str] | None:
    if any(len(cell) > LONGEST_NUMBER for cell in given):
        return None
    matches = [_NUMBERED.fullmatch(cell) for cell in given]
    parts = [(m["before"], m["after"], m["number"]) for m in matches if m is not None]
    if len(parts) < len(given) or len({(before, after) for before, after, _ in parts}) > 1:
        return None
    numbers = [int(number) for _, _, number in parts]
    steps = {b - a for a, b in pairwise(numbers)} or {1}
    if len(steps) > 1:
        return None
    step, (before, after, last) = steps.pop(), parts[-1]
    width = len(last) if last.startswith("0") else 0
    return [f"{before}{numbers[-1] + step * (i + 1):0{width}d}{after}" for i in range(count)]
