"""The first figure of a table, and the next ones, each with its reason."""

import re
from collections import OrderedDict
from collections.abc import Sequence
from threading import Lock

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.roles import (
    CODES,
    CONSTANT,
    EXTREME,
    GROUPS,
    MOMENT,
    NAMES,
    NOT_DRAWN,
    NUMBERED,
    QUANTITY,
    UNCERTAINTY,
    YEAR,
    Seen,
    measured,
    roles,
)
from sornix.core.figure.derived.runs import (
    chosen,
    goes_and_returns,
    goes_on,
    has_levels,
    is_calendar,
    is_curve,
    is_depth,
    is_leftward,
    repeats,
    steadiness,
)
from sornix.core.figure.edits.paneledits import split_series
from sornix.core.figure.first.alike import alike, go_together, is_control, is_set_beside
from sornix.core.figure.first.bars import error_bars, is_other_end
from sornix.core.figure.first.order import natural_order
from sornix.core.figure.first.others import other_ways
from sornix.core.figure.first.seasons import seasons
from sornix.core.figure.first.way import Along, Way, capital, words_of
from sornix.core.figure.model.scale import Scale
from sornix.core.figure.model.series import ErrorBars, Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import NUMBER, TEXT, Column, Table
from sornix.core.text import spoken

# Lines through fewer readings show the readings as well.
_FEW = 40
# More names than this are not read one by one.
_MANY_NAMES = 16
# Groups of more readings than this are drawn as their means.
_MANY_IN_GROUP = 20
_MOST_WAYS = 3
_THING = re.compile(
    r"(?:run|scan|event|sample|reading|peak|injection|probe)(?: ?(?:no\.?|nr\.?|#))?",
    re.IGNORECASE,
)


# The ways of the last tables: whoever shows why a figure is drawn as it is must not wait for it.
_KNOWN: OrderedDict[int, tuple[Table, tuple[Way, ...]]] = OrderedDict()
_MOST_KNOWN = 16
_LOCK = Lock()


def known_ways(table: Table) -> tuple[Way, ...]:
    """What `first_ways` gave for a table lately; nothing where it was not asked."""
    found = _KNOWN.get(id(table))
    return found[1] if found is not None else ()


def first_ways(table: Table) -> tuple[Way, ...]:
    """The figure that is drawn of a table unasked, and up to three other ways, the best first."""
    found = known_ways(table) or _ways(table)
    with _LOCK:
        _KNOWN[id(table)] = table, found
        while len(_KNOWN) > _MOST_KNOWN:
            _KNOWN.popitem(last=False)
    return found


def _ways(table: Table) -> tuple[Way, ...]:
    seen = roles(table)
    along = _along(seen)
    up = _upward(seen, along)
    first = _years_apart(table, seen) or _drawn(table, seen, along, up)
    ways = [first]
    for way in other_ways(table, seen, along, up, first):
        if all(way.figure != known.figure for known in ways):
            ways.append(way)
    return tuple(ways[: 1 + _MOST_WAYS])


def new_figure(table: Table) -> Figure:
    """The figure that is drawn of a table unasked."""
    return first_ways(table)[0].figure


# -- columns -------------------------------------------------------------------------------------


def _along(seen: Sequence[Seen]) -> Along:
    """What the readings stand along."""
    drawn = [one for one in seen if one.drawn]
    numbers = [one.column for one in drawn if one.role in (QUANTITY, CODES)]
    moments = [one.column for one in drawn if one.role == MOMENT and one.column.count > 1]
    if moments and numbers:
        best = max(moments, key=lambda c: (steadiness(c), -moments.index(c)))
        return Along(best, MOMENT, f"“{best.name}” is a time")
    years = [one.column for one in drawn if one.role == YEAR]
    if years and numbers:
        return Along(years[0], YEAR, f"“{years[0].name}” are years")
    words = [one for one in drawn if one.role in (NAMES, GROUPS)]
    named = words[0] if words and numbers else None
    if named is not None and named.role == NAMES and len(numbers) > 1:
        # ranks of what has names
        numbers = [c for c in numbers if chosen(c) == 2 or not _counts_rows(c)] or numbers
    unsure = {one.about for one in seen if one.role in (UNCERTAINTY, EXTREME)}
    ranked = sorted(numbers, key=lambda c: -_fitness(c, c is numbers[0], c.name in unsure))
    if named is not None and named.role == NAMES and _goes_by_names(named, drawn, ranked):
        return Along(named.column, NAMES, f"each “{named.column.name}” stands once")
    quantities = [column for column in ranked if _role(seen, column) == QUANTITY]
    if len(quantities) > 1:
        best = quantities[0]
        if chosen(best) == 2 or steadiness(best) == 2:
            why = "goes one way" if steadiness(best) else "is what was chosen"
            return Along(best, QUANTITY, f"“{best.name}” {why}")
        return Along(best, QUANTITY, "there are two columns of numbers")
    if named is not None:
        what = "stands once" if named.role == NAMES else "has several readings"
        return Along(named.column, named.role, f"each “{named.column.name}” {what}")
    return _along_what_is_left(seen, ranked, quantities)


def _along_what_is_left(
    seen: Sequence[Seen], ranked: Sequence[Column], quantities: Sequence[Column]
) -> Along:
    """What the readings of one quantity stand along where no column is a time or words."""
    codes = [one.column for one in seen if one.role == CODES]
    if codes and quantities:
        why = f"“{codes[0].name}” are few whole numbers that come often"
        return Along(codes[0], CODES, why)
    if codes and len(ranked) > 1:
        return Along(ranked[0], QUANTITY, "there are two columns of numbers")
    runs = [one.column for one in seen if one.role == NUMBERED and _counts_something(one.column)]
    if runs and quantities:
        return Along(runs[0], QUANTITY, f"each “{runs[0].name}” has its number")
    return Along(None, "", "there is one column of numbers")


def _counts_something(column: Column) -> bool:
    """Whether a column of numbers in a row is called after what it numbers: runs, not just rows."""
    return column.kind == NUMBER and _THING.fullmatch(column.name.strip()) is not None


def _counts_rows(column: Column) -> bool:
    known = column.numbers[column.present]
    return known[0] in (0, 1) and bool((np.diff(known) == 1).all())


def _fitness(column: Column, first: bool, unsure: bool) -> int:
    """How well readings can stand along a column, `first` of all or not. What has error bars of its
    own was measured."""
    named, steady = chosen(column), steadiness(column)
    if unsure:
        return 0
    if named == 2:
        return 6 + steady + is_depth(column)
    if named == 1 and steady == 2:
        # a ramp of temperatures is what its time only tells of
        return 8 if first else 5
    return 2 * steady


def _goes_by_names(named: Seen, drawn: Sequence[Seen], ranked: Sequence[Column]) -> bool:
    """Whether readings go by names that stand once each: where these come first, no column of
    numbers behind them says that it was chosen, and two quantities of them do not go together."""
    if natural_order([str(cell) for cell in named.column.values if cell]):
        return True
    in_order = [one.column for one in drawn if one.column in (named.column, *ranked)]
    if in_order[0] is not named.column:
        return False
    best, numbers = ranked[0], in_order[1:]
    many = best.count > _MANY_NAMES
    if chosen(best) == 2 and (best is numbers[0] or many):
        return False
    if many and len(numbers) > 1 and len(alike(numbers[0], numbers[1:2])) == 1:
        return False
    return len(numbers) != 2 or not go_together(*numbers)


def _role(seen: Sequence[Seen], column: Column) -> str:
    return next(one.role for one in seen if one.column is column)


def _upward(seen: Sequence[Seen], along: Along) -> list[Column]:
    """What is drawn upward: the first quantity, and all that are alike."""
    free = list(measured(seen, along.column))
    quantities = [one.column for one in free if one.role == QUANTITY] or [
        one.column for one in free
    ]
    if along.role == NAMES:
        # ranks of what has names
        quantities = [c for c in quantities if not _counts_rows(c)] or quantities
    # a factor that was set to few levels is no answer where there is one
    quantities = [column for column in quantities if not has_levels(column)] or quantities
    # nor are the months of years, and the other ends of bins
    quantities = [
        column for column in quantities
        if not is_calendar(column) and not is_other_end(column, along.column)
    ] or quantities  # fmt: skip
    if not quantities:
        return []
    found = alike(quantities[0], quantities[1:])
    if len(found) > 1:
        # a control that never changes stands beside those that do
        same = [one.column for one in seen if one.role == CONSTANT]
        found += [column for column in same if is_control(column, found[0])]
    # a limit or a quota, which may well be the same for years
    found += [
        one.column for one in seen
        if one.role in (QUANTITY, CONSTANT) and one.column not in (along.column, *found)
        and is_set_beside(one.column, found[0])
    ]  # fmt: skip
    found.sort(key=[one.column for one in seen].index)
    return found


def _years_apart(table: Table, seen: Sequence[Seen]) -> Way | None:
    """A line for each year over its months, where one quantity was read in each of them."""
    found = seasons(seen)
    if found is None:
        return None
    part, year = found
    up = _upward(seen, Along(part, QUANTITY, ""))
    up = [column for column in up if column is not year]
    if len(up) != 1:
        return None
    one = _series(table, 0, part.name, up[0].name, "points-and-line", error_bars(seen))
    try:
        figure = split_series(Figure((Panel((one,)),)), (table,), "s1", year.name)
    except EditRefused:
        return None
    return Way(figure, f"a line for each “{year.name}”",
               f"Each “{part.name}” of each “{year.name}” stands once.")  # fmt: skip


# -- figures -------------------------------------------------------------------------------------


def _drawn(table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column]) -> Way:
    if not up:
        return _alone(table, seen)
    if along.role in (NAMES, GROUPS, CODES):
        return _by_names(table, seen, along, up)
    return _by_numbers(table, seen, along, up)


def _alone(table: Table, seen: Sequence[Seen]) -> Way:
    """Where nothing is measured: whatever can be drawn, against the row number."""
    columns = [one.column for one in seen if one.column.has_places and one.column.count]
    columns = [c for c in columns if _role(seen, c) not in NOT_DRAWN] or columns
    names = [column.name for column in columns] or list(table.column_names)
    x, y = (names[0], names[1]) if len(names) > 1 else (None, names[0])
    figure = Figure((Panel((Series("s1", table.name, x, y),)),))
    return Way(figure, "points", "There is nothing else to draw.")


def _by_numbers(table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column]) -> Way:
    x = along.column
    mark, how = _mark(x, along, up)
    lengths = error_bars(seen)
    series = tuple(
        _series(table, i, x.name if x is not None else None, column.name, mark, lengths)
        for i, column in enumerate(up)
    )
    because = f"{capital(along.because)}{how}."
    if x is not None and is_depth(x) and goes_on(x):
        # downwards, and what was measured along
        turned = tuple(_turned(one) for one in series)
        panel = Panel(turned, y=Scale(grid=True, reversed=True))
        return Way(Figure((panel,)), "a profile", f"“{x.name}” is a depth, and goes down.")
    if x is not None and is_leftward(x):
        because = f"{capital(along.because)}{how}; “{x.name}” runs to the left."
        panel = Panel(series, x=Scale(reversed=True))
        return Way(Figure((panel,)), words_of(mark, len(up)), because)
    return Way(Figure((Panel(series),)), words_of(mark, len(up)), because)


def _turned(series: Series) -> Series:
    return evolve(
        series, x=series.y, y=series.x, errors_x=series.errors_y, errors_y=series.errors_x,
        mark="points-and-line" if series.mark == "points-and-line" else series.mark,
    )  # fmt: skip


def _mark(x: Column | None, along: Along, up: Sequence[Column]) -> tuple[str, str]:
    """How readings against numbers or times are drawn, and why."""
    if x is None:
        return "points", ""
    count = max(column.count for column in up)
    if along.role in (MOMENT, YEAR):
        if repeats(x) or steadiness(x) < 2 or count < 3:
            return "points", ", with several readings at one" if repeats(x) else ""
        return (
            ("points-and-line", ": few readings in its order are joined") if count < _FEW
            else ("line", ": readings in its order are a line")
        )  # fmt: skip
    if goes_and_returns(x):
        return "line", ", and goes there and back in even steps"
    if repeats(x):
        return "points", ", with several readings at one place"
    if is_calendar(x) and steadiness(x) == 2 and count < _FEW:
        return "points-and-line", ": few readings in its order are joined"
    if is_depth(x) and steadiness(x) == 2 and count < _FEW:
        return "points-and-line", ""
    if is_depth(x) and steadiness(x) == 2:
        return "line", ""
    if is_curve(x):
        return "line", ": many readings evenly spaced are a line"
    return "points", ""


def _series(
    table: Table, number: int, x: str | None, y: str, mark: str, lengths: dict[str, ErrorBars]
) -> Series:
    up, along = (lengths.get(name) if name is not None else None for name in (y, x))
    return Series(f"s{number + 1}", table.name, x, y, mark, number, errors_x=along, errors_y=up)


def _by_names(table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column]) -> Way:
    x = along.column
    assert x is not None
    lengths = error_bars(seen)
    listed = Scale(kind="category") if x.kind != TEXT else Scale()
    if along.role == NAMES:
        order = natural_order([str(cell) for cell in x.values if cell])
        mark = "points-and-line" if order else "bars"
        series = tuple(_series(table, i, x.name, c.name, mark, lengths) for i, c in enumerate(up))
        why = f", and they are {order} in their order" if order else ""
        return Way(Figure((Panel(series, x=listed),)), words_of(mark, len(up)),
                   f"{capital(along.because)}{why}.")  # fmt: skip
    most = _most_in_group(x)
    if most > _MANY_IN_GROUP:
        series = tuple(
            evolve(_series(table, i, x.name, c.name, "bars", {}), together="mean",
                   errors_y=ErrorBars("sd"))
            for i, c in enumerate(up)
        )  # fmt: skip
        why = f", up to {spoken(most)}: their means with SD are drawn"
        return Way(Figure((Panel(series, x=listed),)), "bars of means with SD",
                   f"{capital(along.because)}{why}.")  # fmt: skip
    series = tuple(
        evolve(_series(table, i, x.name, c.name, "points", {}), together="mean", replicates=True,
               errors_y=ErrorBars("sd"))
        for i, c in enumerate(up)
    )  # fmt: skip
    return Way(Figure((Panel(series, x=listed),)), "readings with mean and SD",
               f"{capital(along.because)}, few enough to be shown with their mean.")  # fmt: skip


def _most_in_group(column: Column) -> int:
    cells = [cell for cell in column.values if cell] if column.kind == TEXT else [
        value for value in column.numbers if np.isfinite(value)
    ]  # fmt: skip
    return int(max(np.unique(cells, return_counts=True)[1], default=0))
