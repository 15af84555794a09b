"""The trend at chosen x as a small table under what it writes on the figure."""

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from sornix.core.drawing.parts.items import Item, Measure, Path, Rect, Stroke, Text
from sornix.core.drawing.parts.style import Style
from sornix.core.figure import Panel, Trend
from sornix.core.readings import Tables
from sornix.core.text import (
    Rich,
    Run,
    decimal_text,
    rich,
    rounded,
    significant,
    unit_words,
    with_comma,
)
from sornix.core.trends import Fit, Prediction
from sornix.core.trends.fits.equation import symbol_runs

# Between two columns, and from line to line, as multiples of the size of type.
_GAP, LINE = 1.1, 1.35


class ToldTable(NamedTuple):
    """Rows of cells, the first of names, with the width of each column and that of all, in mm."""

    rows: list[tuple[Rich, ...]]
    widths: list[float]
    width: float
    height: float


def told_table(
    trend: Trend, fit: Fit, symbols: tuple[str, str], panel: Panel, tables: Tables, style: Style,
    size: float, measure: Measure,
) -> ToldTable | None:  # fmt: skip
    """The table of a trend that shows one; None of one that is told nowhere."""
    if "told" not in trend.shows or not trend.told_at:
        return None
    from sornix.core.figure.prose.trendreport import place_words

    words = place_words(trend, panel, tables)
    told = [fit.predict(x) for x in sorted(trend.told_at)]
    known = any(one.confidence95 is not None for one in told)
    heads = [symbol_runs(symbol) for symbol in symbols]
    heads += [(Run("95 % from"),), (Run("to"),)] if known else []
    rows = [tuple(heads)]
    unit = f" {unit_words(fit.sample.x_unit)}"
    for one, values in zip(told, _same_digits(told), strict=True):
        cells = [rich(words(one.x, 0.0).removesuffix(unit)), *((Run(text),) for text in values)]
        rows.append(tuple(with_comma(c) if style.decimal == "comma" else c for c in cells))
    widths = [max(measure.width(cell, size) for cell in column)
              for column in zip(*rows, strict=True)]  # fmt: skip
    whole = sum(widths) + _GAP * size * (len(widths) - 1)
    return ToldTable(rows, widths, whole, LINE * size * len(rows))


def _same_digits(told: Sequence[Prediction]) -> list[list[str]]:
    """Values with the ends of their intervals, with as many places as the narrowest of these is
    worth."""
    ends = [one.confidence95 for one in told if one.confidence95 is not None]
    halves = [(high - low) / 2 for low, high in ends if math.isfinite(high - low) and high > low]
    greatest = max((abs(one.value) for one in told if math.isfinite(one.value)), default=0.0)
    places = 1 - math.floor(math.log10(min(halves))) if halves else -1
    plain = greatest < 1e6 and 0 <= places <= 8
    return [
        [
            decimal_text(rounded(value, places)) if plain and math.isfinite(value)
            else significant(value, 4)
            for value in (one.value, *(one.confidence95 or ()))
        ]
        for one in told
    ]  # fmt: skip


def table_items(
    of: str, table: ToldTable, box: Rect, colour: str, style: Style, size: float, measure: Measure
) -> list[Item]:
    """The table in its place: numbers under each other, a fine line under the names."""
    items: list[Item] = []
    for i, row in enumerate(table.rows):
        right = box.left
        base = box.top + i * LINE * size + 0.2 * size + measure.ascent(size)
        for cell, width in zip(row, table.widths, strict=True):
            right += width
            items.append(Text(of, right - measure.width(cell, size), base, cell, size, colour))
            right += _GAP * size
    under = box.top + LINE * size + 0.1 * size
    line = np.array([[box.left, under], [box.left + table.width, under]])
    items.append(Path(of, line, Stroke(colour, *style.fine(0.18))))
    return items
