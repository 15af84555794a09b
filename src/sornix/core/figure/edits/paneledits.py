"""Edits of the panels of a figure: their number, their places, what they share."""

import math
from collections.abc import Mapping
from types import MappingProxyType

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.points import scale_kind
from sornix.core.figure.derived.roles import to_draw
from sornix.core.figure.edits.edits import beside
from sornix.core.figure.model.additions import Curve
from sornix.core.figure.model.scale import Scale
from sornix.core.figure.model.series import Only, Series
from sornix.core.figure.model.values import Figure, Panel, next_id
from sornix.core.readings import Tables, table_named
from sornix.core.text import plural

# How panels stand, by names in commands.
ARRANGEMENTS: Mapping[str, str] = MappingProxyType(
    {"stack": "stacked", "row": "side by side", "grid": "in a grid"}
)
MOST_PANELS = 26
_LEAST_RATIO = 0.1


def arrangement(figure: Figure) -> str:
    """The name of how the panels of a figure stand."""
    if all(panel.column == 0 for panel in figure.panels):
        return "stack"
    return "row" if all(panel.row == 0 for panel in figure.panels) else "grid"


def arrange(figure: Figure, how: str) -> Figure:
    """The panels in their order in a stack, a row, or a grid that is about as wide as high."""
    count = len(figure.panels)
    columns = {"stack": 1, "row": count, "grid": math.ceil(math.sqrt(count))}[how]
    panels = (
        evolve(panel, row=i // columns, column=i % columns) for i, panel in enumerate(figure.panels)
    )
    return evolve(figure, panels=tuple(panels), widths=(), heights=())


def add_panel(figure: Figure, tables: Tables) -> Figure:
    """One more panel with the next column of numbers that is not drawn yet, taken in hand."""
    last = figure.panels[-1].series[-1]
    table = table_named(tables, last.table)
    drawn = {c for p in figure.panels for s in p.series if s.table == last.table
             for c in (s.x, s.y)}  # fmt: skip
    free = [name for name in to_draw(table) if name not in drawn]
    if not free:
        raise EditRefused(
            "Every column of numbers is drawn already.",
            remedy="Give a series its own panel instead, or change columns afterwards.",
        )
    series = beside(last, figure.next_id("s"), free[0])
    turned = series.y == last.y
    before, axis = figure.panels[-1], "y" if turned else "x"
    return _with_more(figure, Panel((series,)).with_scale(axis, before.scale(axis)))


def add_panel_of(
    figure: Figure, table: str, x: str, y: str, curve: str = "", curve_name: str = ""
) -> Figure:
    """One more panel, on scales of its own, with the points of two columns and a curve over them;
    the panels stand in a grid with room for each."""
    series = Series(figure.next_id("s"), table, x, y, "points")
    curves = (Curve(figure.next_id("c"), curve, (), curve_name, palette_index=1),) if curve else ()
    panel = Panel((series,), curves=curves)
    more = arrange(evolve(_with_more(figure, panel), share="none"), "grid")
    across = 1 + max(panel.column for panel in more.panels)
    down = 1 + max(panel.row for panel in more.panels)
    width, height = (
        max(more.width_mm, _EACH_MM * across),
        max(more.height_mm, 0.8 * _EACH_MM * down),
    )
    panels = (*more.panels[:-1], evolve(more.panels[-1], x=panel.x))
    return evolve(more, panels=panels, width_mm=width, height_mm=height)


# The width that a panel needs to be read.
_EACH_MM = 80.0


def own_panel(figure: Figure, series_id: str) -> Figure:
    """A series of the panel in hand, with its trends, in a panel of its own after the others."""
    panel = figure.panel
    series = panel.one_series(series_id)
    if len(panel.series) == 1:
        raise EditRefused("This series has its panel for itself already.")
    rest = tuple(s for s in panel.series if s.id != series_id)
    for direction in "xy":
        if all(s.axis(direction) != direction for s in rest):
            rest = tuple(s.on(direction) for s in rest)
    left = evolve(
        panel,
        series=rest,
        trends=tuple(t for t in panel.trends if t.series != series_id),
        notes=tuple(n for n in panel.notes if n.series != series_id),
    )
    # it takes the scale that it stood on, and begins with the first look of its own panel
    x, y = (panel.scale(series.axis(direction)) for direction in "xy")
    moved = Panel((series.on("x").on("y"),), x, evolve(y, grid=panel.y.grid),
                  panel.trends_of(series_id),
                  notes=tuple(n for n in panel.notes if n.series == series_id))  # fmt: skip
    return _with_more(figure.with_panel(left), moved)


def _with_more(figure: Figure, panel: Panel) -> Figure:
    """The figure with one more panel, below the others or, in a row, beside them; what was one
    panel shares its x from now on where they can."""
    if len(figure.panels) >= MOST_PANELS:
        raise EditRefused(f"A figure has up to {MOST_PANELS} panels.")
    first = len(figure.panels) == 1
    how = "stack" if first else arrangement(figure)
    if how == "row":
        row, column = 0, max(p.column for p in figure.panels) + 1
    elif how == "stack":
        row, column = max(p.row for p in figure.panels) + 1, 0
    else:
        row, column = _free_cell(figure)
    same_x = {(s.table, s.x) for p in (*figure.panels, panel) for s in p.series}
    share = "x" if first and len(same_x) == 1 else figure.share
    scale = figure.panels[0].x if share in ("x", "both") else panel.x
    panels = (*figure.panels, evolve(panel, row=row, column=column, x=scale))
    return evolve(
        figure, panels=panels, share=share, letters=figure.letters or first, hand=len(panels) - 1
    )


def _free_cell(figure: Figure) -> tuple[int, int]:
    taken = {(p.row, p.column) for p in figure.panels}
    columns = max(p.column for p in figure.panels) + 1
    return next(cell for i in range(len(taken) + 1) if (cell := divmod(i, columns)) not in taken)


def remove_panel(figure: Figure, index: int) -> Figure:
    """The figure without a panel; the others stay in their places, and close up only where a whole
    row or column is empty."""
    if len(figure.panels) == 1:
        raise EditRefused("The last panel stays.")
    panels = [panel for i, panel in enumerate(figure.panels) if i != index]
    rows = sorted({panel.row for panel in panels})
    columns = sorted({panel.column for panel in panels})
    kept = tuple(
        evolve(panel, row=rows.index(panel.row), column=columns.index(panel.column))
        for panel in panels
    )
    hand = min(figure.hand - (figure.hand > index), len(kept) - 1)
    return evolve(
        figure,
        panels=kept,
        hand=max(hand, 0),
        heights=_kept(figure.heights, rows),
        widths=_kept(figure.widths, columns),
        share=figure.share if len(kept) > 1 else "none",
        letters=figure.letters and len(kept) > 1,
    )


def _kept(ratios: tuple[float, ...], places: list[int]) -> tuple[float, ...]:
    return tuple(ratios[i] if i < len(ratios) else 1.0 for i in places) if ratios else ()


def set_share(figure: Figure, tables: Tables, share: str) -> Figure:
    """Which axes the panels share: they get the scale of the panel in hand. Refused where the
    kinds of their scales differ."""
    changed = evolve(figure, share=share)
    for axis in "xy":
        if not changed.shares(axis):
            continue
        kinds = {scale_kind(panel, tables, axis) for panel in figure.panels}
        if len(kinds) > 1:
            raise EditRefused(
                f"The panels cannot share {axis}: their scales are {' and '.join(sorted(kinds))}.",
                remedy="Give them the same kind of scale first.",
            )
        changed = changed.with_scale(axis, _common(figure.panel.scale(axis)))
    return changed


def _common(scale: Scale) -> Scale:
    return evolve(scale, title=None, other=None, words=None)


def set_letters(figure: Figure, shown: bool) -> Figure:
    """Letters (a), (b) and so on beside the panels, or none."""
    return evolve(figure, letters=shown)


def set_panel_title(figure: Figure, index: int, title: str) -> Figure:
    """A title over one panel; "" shows none."""
    panels = list(figure.panels)
    panels[index] = evolve(panels[index], title=title.strip())
    return evolve(figure, panels=tuple(panels))


def set_ratios(
    figure: Figure, *, heights: tuple[float, ...] | None = None,
    widths: tuple[float, ...] | None = None,
) -> Figure:  # fmt: skip
    """The heights of rows and the widths of columns, in proportion. Refused where one would be
    less than a tenth of another."""
    for ratios in (heights, widths):
        if ratios and (min(ratios) <= 0 or min(ratios) < _LEAST_RATIO * max(ratios)):
            raise EditRefused(
                "A panel would have less than a tenth of another one’s size.",
                remedy="Give sizes in proportion, such as 2 : 1 : 1.",
            )
    changed = figure if heights is None else evolve(figure, heights=heights)
    return changed if widths is None else evolve(changed, widths=widths)


def ratios(figure: Figure, along: str) -> tuple[float, ...]:
    """The `heights` of the rows or the `widths` of the columns, one for each."""
    given = figure.heights if along == "heights" else figure.widths
    places = [p.row if along == "heights" else p.column for p in figure.panels]
    count = max(places) + 1
    return (*given[:count], *[1.0] * (count - len(given)))


_MOST_VALUES = 24


def _values_of(figure: Figure, tables: Tables, column: str) -> tuple[str, ...]:
    """What a column lists, for series or panels of their own."""
    table = table_named(tables, figure.panel.series[0].table)
    found = tuple(dict.fromkeys(cell for cell in table.column(column).cells() if cell))
    if not 2 <= len(found) <= _MOST_VALUES:
        raise EditRefused(
            f"“{column}” holds {plural(len(found), 'different value')}.",
            remedy=f"Choose a column of 2 to {_MOST_VALUES} categories.",
        )
    return found


def split_series(figure: Figure, tables: Tables, series_id: str, column: str) -> Figure:
    """One series for each value of a column, in place of a series."""
    values = _values_of(figure, tables, column)
    panel = figure.panel
    old = panel.one_series(series_id)
    taken = [s.id for p in figure.panels for s in p.series]
    made: list[Series] = []
    looks = {s.palette_index for s in panel.series if s.id != series_id}
    for value in values:
        look = min(set(range(len(looks) + 1)) - looks)
        looks.add(look)
        fresh = next_id("s", taken) if made else old.id
        taken.append(fresh)
        made.append(
            evolve(old, id=fresh, only=Only(column, value), palette_index=look, left_out=())
        )
    at = panel.series.index(old)
    series = (*panel.series[:at], *made, *panel.series[at + 1 :])
    return figure.with_panel(evolve(panel, series=series))


def split_panels(figure: Figure, tables: Tables, column: str) -> Figure:
    """One panel for each value of a column, with common scales, in place of the panel in hand."""
    values = _values_of(figure, tables, column)
    panel = figure.panel
    if len(figure.panels) > 1:
        raise EditRefused("There are several panels already.", remedy="Remove the others first.")
    taken: list[str] = []

    def fresh(letter: str) -> str:
        taken.append(next_id(letter, taken))
        return taken[-1]

    panels = []
    for value in values:
        ids = {series.id: fresh("s") for series in panel.series}
        series = tuple(
            evolve(s, id=ids[s.id], only=Only(column, value), left_out=()) for s in panel.series
        )
        trends = tuple(evolve(t, id=fresh("t"), series=ids[t.series]) for t in panel.trends)
        panels.append(evolve(panel, series=series, trends=trends, title=value))
    made = evolve(figure, panels=tuple(panels), share="both", letters=False, hand=0)
    return arrange(made, "grid" if len(values) > 3 else "row")
