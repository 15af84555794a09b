"""The first figure of a table, and the next ones, each with its reason."""

import re
from collections import Counter, OrderedDict
from collections.abc import Sequence
from threading import Lock

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.errorbars import error_bars, is_other_end
from sornix.core.figure.derived.roles import (
    CODES,
    CONSTANT,
    GROUPS,
    MOMENT,
    NAMES,
    NOT_DRAWN,
    NUMBERED,
    QUANTITY,
    YEAR,
    Seen,
    measured,
    roles,
)
from sornix.core.figure.derived.runs import (
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
from sornix.core.figure.first.alike import alike, is_control, is_set_beside
from sornix.core.figure.first.along import (
    along_what,
    counts_rows,
    is_found_at,
    is_part_of_run,
    tells_the_same,
)
from sornix.core.figure.first.courses import courses, cut
from sornix.core.figure.first.order import natural_order
from sornix.core.figure.first.others import other_ways
from sornix.core.figure.first.paired import paired
from sornix.core.figure.first.seasons import seasons
from sornix.core.figure.first.way import Along, Way, capital, words_of
from sornix.core.figure.model.scale import Scale
from sornix.core.figure.model.series import ErrorBars, Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.patterns import pattern
from sornix.core.readings import TEXT, TIME, Column, Table
from sornix.core.text import spoken, spoken_list

# Lines through fewer readings show the readings as well.
_FEW = 40
# How old what lies at a depth is.
_AGE = pattern(r"(?:.*\b)?(?:age|alter|âge|edad)\b.*", re.IGNORECASE)
# Groups of more readings than this are drawn as their means.
_MANY_IN_GROUP = 20
_MOST_WAYS = 3


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
    along = along_what(seen)
    up = _upward(seen, along)
    usual = _drawn(table, seen, along, up)
    apart = _years_apart(table, seen) or _in_pairs(table, seen)
    beside = None if apart else _in_courses(table, seen)
    ways = [apart or beside or usual]
    # readings of several courses may still be looked at all together
    others = [usual] if beside else []
    for way in (*others, *other_ways(table, seen, along, up, apart or usual)):
        if all(way.figure != known.figure for known in ways):
            ways.append(way)
    return tuple(ways[: 1 + _MOST_WAYS])


def new_figure(table: Table) -> Figure:
    """The figure that is drawn of a table unasked."""
    return first_ways(table)[0].figure


# -- columns -------------------------------------------------------------------------------------


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
        quantities = [c for c in quantities if not counts_rows(c)] or quantities
    if along.role == NAMES:
        found_at = [c for c in quantities if is_found_at(c)]
        quantities = [c for c in quantities if c not in found_at] or quantities
    # a factor that was set to few levels is no answer where there is one
    quantities = [column for column in quantities if not has_levels(column)] or quantities
    at = along.column
    if at is not None:
        # nor is what only tells of the places, or which part of a run a reading is of
        told = [c for c in quantities if tells_the_same(c, at) or is_part_of_run(c)]
        quantities = [column for column in quantities if column not in told] or quantities
    if at is not None and is_depth(at):
        quantities = _without_ages(quantities)
    # nor are depths that come again and again
    quantities = [c for c in quantities if not (is_depth(c) and repeats(c))] or quantities
    # nor are the months of years, and the other ends of bins
    quantities = [
        column for column in quantities
        if not is_calendar(column) and not is_other_end(column, along.column)
    ] or quantities  # fmt: skip
    if not quantities:
        # an answer that never changes is one, too
        same = [one.column for one in seen if one.role == CONSTANT]
        return same if along.column is not None and len(same) == 1 else []
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


def _without_ages(quantities: list[Column]) -> list[Column]:
    """Without the ages of depths, which only tell of them, where more was measured than how sure
    they are."""
    ages = [c for c in quantities if _AGE.fullmatch(c.name.strip()) and steadiness(c) == 2]
    units = {age.unit for age in ages}
    rest = [column for column in quantities if column.unit not in units]
    return rest or quantities


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


def _in_courses(table: Table, seen: Sequence[Seen]) -> Way | None:
    """A series for each of several groups, where one quantity was read along the same in each."""
    found = courses(seen)
    if found is None:
        return None
    x, role, groups, rows = found
    up = _upward(seen, Along(x, role, ""))
    if len(up) != 1:
        return None
    first, y = cut(x, rows), cut(up[0], rows)
    whole = _against(table, seen, Along(first, role, ""), [(first, y)])
    try:
        figure = split_series(whole.figure, (table,), "s1", groups.name)
    except EditRefused:
        return None
    return Way(figure, f"a series for each “{groups.name}”",
               f"“{x.name}” goes one way in each “{groups.name}”.")  # fmt: skip


def _in_pairs(table: Table, seen: Sequence[Seen]) -> Way | None:
    """Curves that each have places of their own."""
    pairs = paired(seen)
    if not pairs:
        return None
    up = alike(pairs[0][1], [y for _, y in pairs[1:]])
    drawn = [(x, y) for x, y in pairs if y in up]
    first = drawn[0][0]
    heads = [f"“{name}”" for name in dict.fromkeys(x.name for x, _ in drawn)]
    role = MOMENT if first.kind == TIME else QUANTITY
    what = "each have readings of their own" if heads[1:] else "goes one way"
    return _against(table, seen, Along(first, role, f"{spoken_list(heads)} {what}"), drawn)


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
    if len(columns) == 1 and columns[0].kind == TIME:
        # what looked like numbers of rows are readings where nothing else is
        columns += [one.column for one in seen if one.role == NUMBERED and one.column.has_places]
    names = [column.name for column in columns] or list(table.column_names)
    x, y = (names[0], names[1]) if len(names) > 1 else (None, names[0])
    figure = Figure((Panel((Series("s1", table.name, x, y),)),))
    return Way(figure, "points", "There is nothing else to draw.")


def _by_numbers(table: Table, seen: Sequence[Seen], along: Along, up: Sequence[Column]) -> Way:
    return _against(table, seen, along, [(along.column, column) for column in up])


def _against(
    table: Table, seen: Sequence[Seen], along: Along, pairs: Sequence[tuple[Column | None, Column]]
) -> Way:
    """Columns of numbers, each against one of numbers or times."""
    x, up = along.column, [y for _, y in pairs]
    mark, how = _mark(x, along, up)
    lengths = error_bars(seen)
    series = tuple(
        _series(table, i, at.name if at is not None else None, column.name, mark, lengths)
        for i, (at, column) in enumerate(pairs)
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
        words = [str(cell) for cell in x.values if cell]
        order = natural_order(words, x.name) if x.kind == TEXT else ""
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
    cells = column.values if column.kind == TEXT else column.known.tolist()
    return max(Counter(cell for cell in cells if cell != "").values(), default=0)
