"""The caption, written from the figure and its readings."""

from collections.abc import Sequence

from sornix.core.figure.derived.drawn import parts_of_whole
from sornix.core.figure.derived.points import (
    column_or_rows,
    lies,
    scale_kind,
    series_name,
    series_points,
)
from sornix.core.figure.derived.trendfits import (
    fitted_trends,
    trend_symbols,
    trend_words,
    weighing_words,
)
from sornix.core.figure.edits.axisedits import value_words
from sornix.core.figure.first.alike import SUBSTANCES
from sornix.core.figure.model.series import MARKS, ErrorBars
from sornix.core.figure.model.trend import Trend
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import Tables, is_quantity, table_named
from sornix.core.scales import KINDS
from sornix.core.text import (
    capital,
    formula_text,
    plain_text,
    plural,
    r_squared_text,
    rich,
    short,
    shortest,
    spoken,
    spoken_list,
    unit_words,
)


def caption(
    figure: Figure,
    tables: Tables,
    equations: dict[str, str],
    shades: Sequence[float | None] = (),
) -> str:
    """Sentences that say what is drawn and how the trends were found, or those set by the user.

    `equations` gives the equation as printed for each trend id; `shades` of each panel how many
    readings at a place are as dark as can be, None where markers are drawn one by one.
    """
    if figure.caption is not None:
        return plain_text(rich(figure.caption))
    drawn = [
        next(iter(_what_is_drawn(figure.seen(i), tables)), "") for i in range(len(figure.panels))
    ]
    # what is said of every panel alike is said once
    alike = len(drawn) > 1 and len(set(drawn)) == 1
    sentences = [f"Each panel: {drawn[0]}"] if alike else []
    for index in range(len(figure.panels)):
        said = _of_panel(figure.seen(index), tables, equations)[alike:]
        if said and len(drawn) > 1:
            said[0] = f"{figure.heading(index)} {said[0]}"
        sentences += said
    full = sorted({shade for shade in shades if shade is not None})
    if full:
        most = " to ".join(spoken(shade) for shade in dict.fromkeys((full[0], full[-1])))
        sentences.append(
            f"Shade tells how many readings lie at a place: one is the palest, {most} or more are "
            "the darkest; readings far from all others are dots."
        )
    return plain_text(rich(" ".join(sentences)))


def _of_panel(panel: Panel, tables: Tables, equations: dict[str, str]) -> list[str]:
    """The sentences about one panel."""
    sentences = _what_is_drawn(panel, tables)
    for trend, fit in fitted_trends(panel, tables):
        series = panel.one_series(trend.series)
        name = lower_names(series_name(panel, series, tables))
        of = f" of {name}" if len(panel.series) > 1 else ""
        words = trend_words(trend)
        weighing = weighing_words(trend)
        weighing = f" ({weighing})" if weighing else ""
        text = f"{capital(words)}{of}: {fit.method.removeprefix(f'{words} ')}{weighing}"
        if fit.n != len(series_points(series, panel, tables).x):
            text += f", {plural(fit.n, 'reading')}"
        text += _between(trend, panel, tables)
        if equations.get(trend.id):
            text += f", {equations[trend.id]}"
            if fit.along.told:
                symbol, _ = trend_symbols(trend, panel, tables)
                text += f" with {symbol} in {fit.along.told}"
        if fit.r_squared is not None:
            scale = " of ln y" if fit.on_logs else ""
            text += f", R²{scale} = {r_squared_text(fit.r_squared)}"
        sentences.append(f"{text}.")
    return sentences + (_what_is_left_out(panel, tables) if panel.has_axes else [])


def _what_is_left_out(panel: Panel, tables: Tables) -> list[str]:
    """How many readings were left out, with the reasons given."""
    count, reasons, looks = 0, [], set()
    for series in panel.shown:
        points = series_points(series, panel, tables)
        drawn = [left for left in series.left_out if points.at_row(left.row) is not None]
        count += len(drawn)
        looks |= {"hollow" if series.style.filled else "crosses"} if drawn else set()
        reasons += [left.reason.strip() for left in drawn if left.reason.strip()]
    if not count:
        return []
    because = f": {', '.join(dict.fromkeys(reasons))}" if reasons else ""
    verb = "was" if count == 1 else "were"
    how = " or ".join(sorted(looks, reverse=True))
    return [f"{plural(count, 'reading')} {verb} left out of the trend ({how}){because}."]


def _what_is_drawn(panel: Panel, tables: Tables) -> list[str]:
    if not panel.has_axes:
        return [_without_axes(panel, tables)]
    curves = [f"{curve.name or 'curve'}: {formula_text(curve.formula)}" for curve in panel.curves]
    if not panel.shown:
        return [f"{capital('; '.join(curves), name=True)}." if curves else "Nothing is drawn yet."]
    counts = [len(series_points(s, panel, tables).x) for s in panel.shown]
    if len(set(counts)) == 1:
        count = plural(counts[0], "reading") + (" each" if len(counts) > 1 else "")
    else:
        count = plural(sum(counts), "reading")
    drawn = "".join([*_error_words(panel, tables), *(f", {words}" for words in curves)])
    return [f"{capital(_against(panel, tables), name=True)}, {count}{drawn}."]


def _against(panel: Panel, tables: Tables) -> str:
    """What is drawn against what: `temperature and dissolved oxygen against depth`."""
    x_names = _names([(s.table, s.x) for s in panel.shown], tables)
    y_names = _names([(s.table, s.y) for s in panel.shown], tables)
    if any(MARKS[s.mark].bars for s in panel.shown) and lies(panel, tables):
        # lying bars are read as upright ones are
        x_names, y_names = y_names, x_names
    how = {series.together for series in panel.shown}
    if how in ({"mean"}, {"sum"}):
        y_names = f"{how.pop()} of {y_names}"
    return f"{y_names} against {x_names}"


def shown_words(figure: Figure, tables: Tables) -> str:
    """What a figure shows, as the heading of one without a title: `Temperature against depth`."""
    panels = [panel for i in range(len(figure.panels)) if (panel := figure.seen(i)).shown]
    found = dict.fromkeys(
        _against(p, tables)
        if p.has_axes
        else _without_axes(p, tables).partition(":")[0].rstrip(".")
        for p in panels
    )
    return short(plain_text(rich(capital("; ".join(found), name=True))), _LONGEST_HEADING)


_LONGEST_HEADING = 90


def _without_axes(panel: Panel, tables: Tables) -> str:
    """Of what the parts of a whole are, or between what the correlations."""
    series = panel.series[0]
    table = table_named(tables, series.table)
    if panel.form == "correlations":
        columns = table.number_columns
        names = _names([(table.name, column.name) for column in columns[:_MOST_NAMED]], tables)
        between = names if len(columns) <= _MOST_NAMED else f"all {len(columns)} columns of numbers"
        return f"Coefficients of correlation between {between}."
    named = [value for _, value in parts_of_whole(panel, tables) if value > 0]
    value, name = (series.x, series.y) if lies(panel, tables) else (series.y, series.x)
    means = "means of " if series.together == "mean" else ""
    unit = unit_words(column_or_rows(table, value).unit)
    total = f"{spoken(sum(named))} {unit}".strip()
    what, by = (_names([(table.name, one)], tables) for one in (value, name))
    return f"Shares of {means}{what} by {by}: {plural(len(named), 'part')} of {total} in all."


_MOST_NAMED = 6


def _between(trend: Trend, panel: Panel, tables: Tables) -> str:
    """Over which x a trend goes, where that is held: `, x from 5 to 60`."""
    words = value_words(scale_kind(panel, tables, panel.one_series(trend.series).x_axis))
    ends = [f"{name} {words(value)}" for name, value in (("from", trend.start), ("to", trend.end))
            if value is not None]  # fmt: skip
    return f", x {' '.join(ends)}" if ends else ""


def _error_words(panel: Panel, tables: Tables) -> list[str]:
    """What the error bars are, each way once: `, error bars: ± SD`."""
    found = [(s, d, e) for s in panel.shown for d in "yx" if (e := s.errors(d)) is not None]
    both = any(direction == "x" for _, direction, _ in found)
    words = dict.fromkeys(
        _ERROR_WORDS[errors.kind].format(
            size=_length(errors, scale_kind(panel, tables, series.axis(direction))),
            of=lower_names(errors.column or ""), to=lower_names(errors.upper or ""),
        ) + f" in {direction}" * both
        for series, direction, errors in found
    )  # fmt: skip
    return [f", error bars: {', '.join(words)}"] if words else []


def _length(errors: ErrorBars, kind: str) -> str:
    is_time = kind == "time" and errors.kind == "fixed"
    return KINDS[kind].step_words(errors.size) if is_time else shortest(errors.size, 0)


_ERROR_WORDS = {
    "fixed": "± {size}",
    "percent": "± {size} %",
    "column": "± {of}",
    "pair": "{of} below and {to} above",
    "bounds": "from {of} to {to}",
    "sd": "± SD",
    "se": "± SE",
    "ci95": "95 % interval of the mean",
}


def _names(columns: list[tuple[str, str | None]], tables: Tables) -> str:
    """The names of columns, each once: `temperature and dissolved oxygen`."""
    return spoken_list(
        [
            "row number"
            if name is None
            else lower_names(table_named(tables, table).column(name).name)
            for table, name in dict.fromkeys(columns)
        ]
    )


def lower_names(name: str) -> str:
    """A name inside a sentence: a small first letter where it is known to be a quantity, or a
    common word of tables.

    Other names may be those of places, and symbols (pH, CO2) stay as they are, as do titles whose
    other words are large, too.
    """
    first, *others = name.split(" ")
    titled = any(word[:1].isupper() and word[1:].islower() for word in others)
    common = not others and name.casefold() in SUBSTANCES | _COMMON
    small = first[1:].islower() and not titled and (common or is_quantity(name))
    return name[:1].lower() + name[1:] if small else name


# What columns are called that hold no quantity.
_COMMON = frozenset(
    ("date", "time", "second", "minute", "hour", "day", "week", "month", "season", "year", "place",
     "station", "site", "plot", "block", "transect", "quadrat", "core", "sample", "specimen",
     "species", "group", "treatment", "replicate", "batch", "run", "cast", "dose", "layer", "row")
)  # fmt: skip
