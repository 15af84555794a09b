"""A figure in words."""

import difflib
from collections.abc import Iterator, Sequence
from typing import Any

from attrs import evolve

from sornix.core.errors import SornixError
from sornix.core.figure import Figure, Guide, Note, Only, Panel, Series, Trend, new_figure
from sornix.core.figure.model.additions import Curve
from sornix.core.figure.model.scale import AXES, Scale
from sornix.core.figure.model.styling import STYLE_NAMES
from sornix.core.figure.model.trend import FORMULA
from sornix.core.figure.model.values import SharingPanel
from sornix.core.readings import Tables, table_named
from sornix.core.statement.around import Around
from sornix.core.statement.building import values_of
from sornix.core.statement.matching import beginnings
from sornix.core.statement.parts import EACH_OF, FORM_OF
from sornix.core.statement.sentences import kind_named
from sornix.core.statement.words.offigure import figure_options, size_words
from sornix.core.statement.words.ofpanel import (
    curve_options,
    guide_options,
    note_options,
    panel_options,
)
from sornix.core.statement.words.ofscale import scale_options
from sornix.core.statement.words.ofseries import COLUMNS, TOGETHER_WORDS, series_options
from sornix.core.statement.words.oftrend import MODEL_WORDS, trend_options
from sornix.core.statement.words.pattern import Option, tidy
from sornix.core.statement.words.slots import number_words
from sornix.core.statement.words.tokens import divided, quoted

# Between sentences of one line, and how long such a line may be.
_BREAK, _LONGEST = "; ", 260
_PLAIN_PANEL = Panel((Series("s0", "", None, None),))
_PLAIN_FIGURE = Figure((_PLAIN_PANEL,))


def write_statement(
    figure: Figure, tables: Tables, *, whole: bool = False, plotted: bool = False
) -> str:
    """The words that say a figure of some tables, the fewest that do; with what is `plotted` also
    where Sornix would choose it; or with everything that could be said, where it is to be `whole`,
    and what free ends are at present."""
    base = None if whole or plotted else _first(figure, tables)
    lines: list[str] = []
    several = len(figure.panels) > 1
    for index, panel in enumerate(figure.panels):
        alone = panel.alone() if isinstance(panel, SharingPanel) else panel
        under = base.panels[0] if base is not None else None
        shared = figure.panels[0] if index else None
        said = [*_panel(alone, under, shared, figure, tables, whole=whole, several=several)]
        joined = _BREAK.join(said)
        # of several panels each is a line, where it can be read as one
        lines += [joined] if several and not whole and len(joined) <= _LONGEST else said
    lines += _figure(figure, base or _PLAIN_FIGURE, whole=whole)
    return "\n".join(lines)


def _first(figure: Figure, tables: Tables) -> Figure | None:
    """The first figure, where a figure plots what it does."""
    try:
        first = new_figure(tables[0])
    except SornixError:
        return None
    if len(figure.panels) != 1 or len(first.panels) != 1:
        return None
    one, other = (_without_ids(f.panels[0].series) for f in (figure, first))
    kept = first.panels[0]
    return first if one == other and not (kept.trends or kept.guides or kept.notes) else None


def _without_ids(series: Sequence[Series]) -> list[Series]:
    return [evolve(one, id="") for one in series]


def _figure(figure: Figure, base: Figure, *, whole: bool) -> Iterator[str]:
    around = Around(())
    yield from _whole_figure(figure, base, around, whole=whole)
    for name in ("title", "source"):
        text = getattr(figure, name)
        spot = next(iter(kind_named(name).options))
        told = _one(spot, figure, base, around, whole=whole)
        if whole or text != getattr(base, name) or told:
            yield ", ".join([f"{name.capitalize()} {quoted(text)}", *told])
    for name in ("caption", "methods"):
        text = getattr(figure, name)
        if text is not None:
            yield f"{name.capitalize()} {quoted(text)}"
        elif whole:
            yield f"{name.capitalize()} free"
    for one in figure.noted:
        size = f" of size {number_words(one.size)}" if one.size else ""
        yield f"Noted {quoted(one.about)}{size}"


def _whole_figure(figure: Figure, base: Figure, around: Around, *, whole: bool) -> Iterator[str]:
    said: list[str] = []
    for option in figure_options():
        if option.path == ("size",):
            size, usual = ((f.width_mm, f.height_mm) for f in (figure, base))
            if figure.style != base.style:
                usual = STYLE_NAMES[figure.style].sizes[0][2:]
            said += [size_words(size)] if whole or size != usual else []
        else:
            said += _one(option, figure, base, around, whole=whole)
    if said:
        yield f"Figure {', '.join(said)}"


def _panel(
    panel: Panel, base: Panel | None, shared: Panel | None, figure: Figure, tables: Tables,
    *, whole: bool, several: bool,
) -> Iterator[str]:  # fmt: skip
    around = Around(tables, panel)
    plain = base or _PLAIN_PANEL
    told = _all(panel_options(), panel, plain, around, whole=whole)
    if several or told:
        yield f"Panel {told}".rstrip()
    if base is None:
        yield from _plots(panel, around, tables, whole=whole)
    scales: list[str] = []
    for axis, said in AXES.items():
        usual: Scale = plain.scale(axis)
        if shared is not None and axis in "xy" and figure.shares(axis):
            usual = shared.scale(axis)
        now = _now(panel, axis, tables) if whole else {}
        told = _all(scale_options(axis), panel.scale(axis), usual, around, whole=whole, now=now)
        scales += [f"{said} {told}"] if told else []
    # they are one line, as in the window
    yield from scales if whole else filter(None, [_BREAK.join(scales)])
    yield from _trends(panel, around, whole=whole)
    for guide in panel.guides:
        yield _guide(guide, around)
    for note in panel.notes:
        yield _note(note, around)
    for index, curve in enumerate(panel.curves):
        yield _curve(curve, index, around, whole=whole)


def _now(panel: Panel, axis: str, tables: Tables) -> dict[str, str]:
    """What the free ends of an axis are at present, where that is known without drawing."""
    from sornix.core.figure import axis_extent

    around = Around(tables, panel)
    try:
        extent = axis_extent(panel, tables, axis)
    except SornixError:
        return {}
    if extent is None:
        return {}
    ends = (around.value_words(axis, value) for value in (extent.least, extent.greatest))
    return dict(zip(("start", "end"), ends, strict=True))


# -- series --------------------------------------------------------------------------------------


def _plots(panel: Panel, around: Around, tables: Tables, *, whole: bool) -> Iterator[str]:
    """Sentences of series, those that are alike in one."""
    at = 0
    while at < len(panel.series):
        end = _end_of_groups(panel.series, at, tables)
        if end > at + 1:
            yield _plot(panel.series[at:end], at, around, tables, whole=whole)
            at = end
            continue
        end = at + 1
        while end < len(panel.series) and _is_alike(panel.series, at, end):
            end += 1
        yield _plot(panel.series[at:end], at, around, tables, whole=whole)
        at = end


def _end_of_groups(series: Sequence[Series], at: int, tables: Tables) -> int:
    """Before which series those end that are one for each value of a column."""
    first = series[at]
    if first.only is None:
        return at
    try:
        values = values_of(table_named(tables, first.table), first.only.column)
    except SornixError:
        return at
    several = series[at : at + len(values)]
    wanted = [
        evolve(first, id=one.id, palette_index=at + n, only=Only(first.only.column, value))
        for n, (one, value) in enumerate(zip(several, values, strict=False))
    ]
    return (
        at + len(values)
        if len(values) > 1 and [*several] == wanted[: len(values)] and len(several) == len(values)
        else at
    )


def _is_alike(series: Sequence[Series], at: int, other: int) -> bool:
    """Whether two series differ in nothing but their columns upward and their places in the
    palette, which follow their order."""
    one, two = series[at], series[other]
    in_order = one.palette_index == at and two.palette_index == other
    return in_order and evolve(two, id=one.id, y=one.y, palette_index=at) == one


def _plot(
    several: Sequence[Series], at: int, around: Around, tables: Tables, *, whole: bool
) -> str:
    one = several[0]
    head = "" if one.together == "each" and not whole else f"{TOGETHER_WORDS[one.together]} "
    groups = len(several) > 1 and one.only != several[1].only
    columns = [series.y for series in several[: 1 if groups else None]]
    each = ""
    if groups and one.only is not None:
        each = f" for each {around.column_words(one.only.column)}"
    plain = Series("s0", tables[0].name, None, None, palette_index=at)
    unsaid = (("together",), EACH_OF, FORM_OF)
    options = tuple(o for o in series_options() if o.path not in unsaid)
    if groups:
        options = tuple(o for o in options if o.path != ("only",))
    if whole and len(several) > 1:
        options = tuple(o for o in options if o.path != ("palette_index",))
    # against what is always said, and how it is drawn
    said = _all(options, one, plain, around, whole=whole, always=(("x",), ("mark",)))
    return f"Plot {head}{COLUMNS.write(columns, around)}{each} {said}"


# -- trends and what stands beside ---------------------------------------------------------------


def _trends(panel: Panel, around: Around, *, whole: bool) -> Iterator[str]:
    """Sentences of trends, those that are alike in one."""
    at = 0
    while at < len(panel.trends):
        one = panel.trends[at]
        end = at + 1
        while end < len(panel.trends) and (
            evolve(panel.trends[end], id=one.id, series=one.series) == one
            and panel.trends[end].series not in [t.series for t in panel.trends[at:end]]
            and _x_axis(panel, panel.trends[end]) == _x_axis(panel, one)
        ):
            end += 1
        yield _trend(panel.trends[at:end], panel, around, whole=whole)
        at = end


def _x_axis(panel: Panel, trend: Trend) -> str:
    return panel.one_series(trend.series).x_axis


def _trend(several: Sequence[Trend], panel: Panel, around: Around, *, whole: bool) -> str:
    one = several[0]
    if one.model != FORMULA:
        # a formula that is kept in a document counts for nothing there
        one = evolve(one, formula="")
    plain = Trend("t0", one.series, one.model)
    through = [trend.series for trend in several]
    if through == [series.id for series in panel.series]:
        said = "" if len(through) == 1 and not whole else " through each"
    else:
        said = f" through {', '.join(map(around.series_words, through))}"
    told = _all(trend_options(_x_axis(panel, one)), one, plain, around, whole=whole)
    return f"Trend {MODEL_WORDS[one.model]}{said} {told}".rstrip()


def _guide(guide: Guide, around: Around) -> str:
    plain = Guide("g0", guide.axis, 0.0)
    kind, begins = ("Line", "at") if guide.end is None else ("Range", "from")
    options = guide_options(guide.axis, begins)
    told = _all(options, guide, plain, around, whole=False, always=(("value",),))
    return f"{kind} on {AXES[guide.axis]} {told}"


def _note(note: Note, around: Around) -> str:
    head = f"Note {quoted(note.text)}" if note.text else "Pin"
    panel = around.panel
    assert panel is not None
    plain, said = Note("n0"), list[str]()
    # what it was about may be gone
    is_about = note.series in [series.id for series in panel.series]
    for option in note_options():
        if (option.path == ("series",) and not is_about) or not _differs(option, note, plain):
            continue
        value = option.of(note)
        words = option.say(value, around)
        if option.path[0] in ("x", "y") and is_about:
            axis = panel.one_series(note.series).axis(option.path[0])
            words = f"at {option.path[0]} {around.value_words(axis, value)}"
        said.append(words if option.close else f", {words}")
    return tidy(f"{head} {' '.join(said)}").rstrip()


def _curve(curve: Curve, index: int, around: Around, *, whole: bool) -> str:
    plain = Curve("c0", curve.formula, palette_index=index)
    told = _all(curve_options(), curve, plain, around, whole=whole)
    return f"Curve {quoted(curve.formula)} {told}".rstrip()


# -- options -------------------------------------------------------------------------------------


def _all(
    options: Sequence[Option], thing: Any, base: Any, around: Around, *, whole: bool,
    always: tuple[tuple[str, ...], ...] = (), now: dict[str, str] | None = None,
) -> str:  # fmt: skip
    """The words of all options of a thing that differ from its base."""
    said = ""
    told = [o for o in options if whole or o.path in always or _differs(o, thing, base)]
    if told:
        around = around.within(beginnings(tuple(options)))
    for option in told:
        words = option.say(option.of(thing), around)
        present = (now or {}).get(option.path[-1], "") if words.endswith("free") else ""
        words = f"{words} ({present})" if present else words
        said += f" {words}" if option.close or not said else f", {words}"
    return said.strip()


def _one(option: Option, thing: Any, base: Any, around: Around, *, whole: bool) -> list[str]:
    return [option.say(option.of(thing), around)] if whole or _differs(option, thing, base) else []


def _differs(option: Option, thing: Any, base: Any) -> bool:
    value, usual = option.of(thing), option.of(base)
    if value is usual:
        return False
    return bool(value != usual or type(value) is not type(usual))


# -- what changed --------------------------------------------------------------------------------


def _in_one_line(sentence: str) -> str:
    return " ".join(sentence.splitlines())


def differences_in_words(one: str, other: str) -> list[str]:
    """How one statement becomes another: sentences that go (`− …`) and that come (`+ …`)."""
    found = []
    before, after = (list(map(_in_one_line, divided(text))) for text in (one, other))
    for line in difflib.ndiff(before, after):
        if line.startswith("- "):
            found.append(f"− {line[2:]}")
        elif line.startswith("+ "):
            found.append(f"+ {line[2:]}")
    return found
