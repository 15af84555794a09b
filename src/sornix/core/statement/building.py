"""A figure built from sentences, one after the other."""

from collections.abc import Sequence
from functools import partial

from attrs import evolve, field, mutable

from sornix.core.errors import SornixError
from sornix.core.figure import Figure, Guide, Note, Only, Panel, Series, Trend, new_figure
from sornix.core.figure.model.additions import Curve
from sornix.core.figure.model.styling import STYLE_NAMES
from sornix.core.figure.model.values import Noted
from sornix.core.readings import Table, Tables, table_named
from sornix.core.statement.applying import as_it_is, series_of, value_of, with_options, wrong
from sornix.core.statement.around import Around
from sornix.core.statement.parts import EACH, EACH_OF, FORM_OF, Said
from sornix.core.statement.words.misread import StatementError, nearest
from sornix.core.statement.words.slots import Said as Value
from sornix.core.statement.words.tokens import Token

_PANEL_KINDS = ("plot", "scale", "trend", "line", "range", "note", "pin", "curve")


# A column with more values than this is no column of groups.
_MOST_VALUES = 100


def values_of(table: Table, column: str) -> list[str]:
    """The values of a column of groups, in the order of its rows; none where they are too many."""
    found = list(dict.fromkeys(cell for cell in table.column(column).cells() if cell))
    return found if len(found) <= _MOST_VALUES else []


@mutable
class _PanelSaid:
    """The sentences of one panel, by kind, in their order."""

    of: dict[str, list[Said]] = field(factory=dict)

    def all(self, *kinds: str) -> list[Said]:
        found = [said for kind in kinds for said in self.of.get(kind, ())]
        return sorted(found, key=lambda said: said.tokens[0].at)


class Building:
    """Takes the sentences of a statement, and makes the figure."""

    def __init__(self, tables: Tables, first: Figure | None = None) -> None:
        self._tables, self._first = tables, first
        self._panels = [_PanelSaid()]
        self._whole: dict[str, list[Said]] = {}

    def take(self, said: Said) -> None:
        name = said.kind.name
        if name == "panel":
            if self._panels[-1].of:
                self._panels.append(_PanelSaid())
            self._panels[-1].of["panel"] = [said]
        elif name in _PANEL_KINDS:
            self._panels[-1].of.setdefault(name, []).append(said)
        else:
            self._whole.setdefault(name, []).append(said)

    def figure(self) -> Figure:
        """The figure that was said. Raises StatementError."""
        figure = self._base()
        for said in self._whole.get("figure", ()):
            before = figure.style
            figure = with_options(figure, said, as_it_is)
            if figure.style != before and not any(o.option.path == ("size",) for o in said.options):
                # what it is made for has a size
                size = STYLE_NAMES[figure.style].sizes[0]
                figure = evolve(figure, width_mm=size.width_mm, height_mm=size.height_mm)
        # of a first figure with several panels, what is said changes the first
        rest = figure.panels[1:] if not self._plots() else ()
        panels: list[Panel] = []
        for index, parts in enumerate(self._panels):
            begun = figure.panels[0] if index == 0 and not parts.of.get("plot") else None
            shared = panels[0] if index else None
            panels.append(self._panel(parts, begun, shared, figure))
        figure = evolve(figure, panels=_numbered((*panels, *rest)))
        return self._with_texts(figure)

    def scales(self) -> list[list[Said]]:
        """The sentences about axes, panel by panel."""
        return [parts.all("scale") for parts in self._panels]

    def _plots(self) -> bool:
        return any(parts.of.get("plot") for parts in self._panels)

    def _base(self) -> Figure:
        """What the sentences change: the first figure, or an empty one."""
        if self._plots():
            first = self._panels[0]
            if not first.of.get("plot"):
                raise wrong(
                    _first_token(self._panels), "no columns are plotted in the first panel."
                )
            table = self._tables[0]
            return Figure((Panel((Series("s1", table.name, None, None),)),))
        figure = self._first or new_figure(self._tables[0])
        if len(self._panels) > 1:
            raise wrong(
                _first_token(self._panels[1:]), "a panel plots something.", ["Plot"], behind="\n"
            )
        return figure

    # -- panels ------------------------------------------------------------------------------

    def _panel(
        self, parts: _PanelSaid, begun: Panel | None, shared: Panel | None, figure: Figure
    ) -> Panel:
        panel = self._plotted(parts) if begun is None else begun
        for axis in "xy":
            if shared is not None and figure.shares(axis):
                panel = panel.with_scale(axis, shared.scale(axis))
        for said in parts.all("plot"):
            shown = tuple(one for one in said.options if one.option.path == FORM_OF)
            panel = with_options(panel, said._replace(options=shown), as_it_is)
        for said in parts.all("panel"):
            panel = with_options(panel, said, as_it_is)
        panel = self._with_scales(panel, parts.all("scale"))
        around = Around(self._tables, panel)
        for said in parts.all("trend"):
            trends = self._trends(said, around)
            panel = evolve(panel, trends=(*panel.trends, *trends))
        for said in parts.all("line", "range"):
            panel = evolve(panel, guides=(*panel.guides, self._guide(said, around)))
        for said in parts.all("note", "pin"):
            panel = evolve(panel, notes=(*panel.notes, self._note(said, around)))
        for said in parts.all("curve"):
            curve = Curve("c0", said.head["formula"], palette_index=len(panel.curves))
            curve = with_options(curve, said, as_it_is)
            panel = evolve(panel, curves=(*panel.curves, curve))
        return panel

    def _plotted(self, parts: _PanelSaid) -> Panel:
        """A panel with the series that are plotted."""
        plots = parts.all("plot")
        if not plots:
            raise wrong(_first_token([parts]), "a panel plots something.", ["Plot"], behind="\n")
        series: list[Series] = []
        for said in plots:
            series += self._series(said, len(series))
        return Panel(tuple(series))

    def _series(self, said: Said, before: int) -> list[Series]:
        """The series of a sentence, of which so many stand before."""
        found: list[Series] = []
        for y in said.head["columns"]:
            at = before + len(found)
            series = Series(f"s{at}", self._tables[0].name, None, y, palette_index=at)
            series = evolve(series, together=said.head.get("together", "each"))
            own = tuple(o for o in said.options if o.option.path not in (EACH_OF, FORM_OF))
            series = with_options(series, said._replace(options=own), as_it_is)
            self._check_columns(series, said)
            found += self._for_each(series, said)
        return found

    def _for_each(self, series: Series, said: Said) -> list[Series]:
        """A series for each value of a column, where that is asked, else the series alone."""
        column = next((o.value for o in said.options if o.option.path == EACH_OF), None)
        if column is None:
            return [series]
        table = table_named(self._tables, series.table)
        if column not in table.column_names:
            raise _no_column(said, column, table)
        at = series.palette_index
        return [
            evolve(series, id=f"s{at + n}", palette_index=at + n, only=Only(column, value))
            for n, value in enumerate(values_of(table, column))
        ]

    def _check_columns(self, series: Series, said: Said) -> None:
        """Raises StatementError where a column is not in the table of a series."""
        try:
            table = table_named(self._tables, series.table)
        except SornixError as error:
            token = _where_named(said, series.table)
            near = nearest(series.table, [table.name for table in self._tables])
            raise wrong(token, "no such table.", [f'"{name}"' for name in near]) from error
        # those that it is drawn from; what else it speaks of may be gone
        named = [name for name in (series.x, series.y) if name is not None]
        for name in series.columns:
            if name not in table.column_names and name in named:
                raise _no_column(said, name, table)

    def _with_scales(self, panel: Panel, scales: Sequence[Said]) -> Panel:
        """A panel with what was said of its axes: kinds first, for values are read by them."""
        for last in (False, True):
            for said in scales:
                axis = said.kind.axis
                around = Around(self._tables, panel)
                chosen = [one for one in said.options if isinstance(one.value, Value) == last]
                scale = with_options(
                    panel.scale(axis), said._replace(options=tuple(chosen)),
                    partial(value_of, around, axis),
                )  # fmt: skip
                panel = panel.with_scale(axis, scale)
        return panel

    def _trends(self, said: Said, around: Around) -> list[Trend]:
        panel = around.panel
        assert panel is not None
        through = said.head.get("through", EACH)
        chosen = panel.series if through == EACH else [
            series_of(one, said, around) for one in through
        ]  # fmt: skip
        found = []
        for series in chosen:
            trend = Trend("t0", series.id, said.head["model"])
            trend = with_options(trend, said, partial(value_of, around, series.x_axis))
            found.append(trend)
        return found

    def _guide(self, said: Said, around: Around) -> Guide:
        axis = said.kind.axis
        guide = Guide("g0", axis, 0.0)
        needed = ("value", "end") if said.kind.name == "range" else ("value",)
        there = [one.option.path[0] for one in said.options]
        for name in needed:
            if name not in there:
                word = "to" if name == "end" else "from" if said.kind.name == "range" else "at"
                raise wrong(
                    said.tokens[-1], f"where it stands is missing: “{word}”.", [word], behind=" "
                )
        made: Guide = with_options(guide, said, partial(value_of, around, axis))
        return made

    def _note(self, said: Said, around: Around) -> Note:
        note = Note("n0", said.head.get("text", ""))
        for one in said.options:
            name = one.option.path[0]
            if name == "series" and one.value:
                series = series_of(one.value, said, around)
                note = evolve(note, series=series.id)
                continue
            axis = _axis_of_note(note, around, name)
            read = partial(value_of, around, axis) if name in ("x", "y") else as_it_is
            note = with_options(note, said._replace(options=(one,)), read)
        return note

    # -- the whole ---------------------------------------------------------------------------

    def _with_texts(self, figure: Figure) -> Figure:
        for name in ("title", "source"):
            for said in self._whole.get(name, ()):
                figure = evolve(figure, **{name: said.head["text"]})
                figure = with_options(figure, said, as_it_is)
        for name in ("caption", "methods"):
            for said in self._whole.get(name, ()):
                figure = evolve(figure, **{name: said.head["text"]})
        noted = tuple(
            Noted(said.head["about"], said.head.get("size", 0.0))
            for said in self._whole.get("noted", ())
        )
        return evolve(figure, noted=noted) if noted else figure


def _where_named(said: Said, name: str) -> Token:
    """The word of a sentence that is a name; its first where none is."""
    return next((token for token in said.tokens if token.text == name), said.tokens[0])


def _no_column(said: Said, name: str, table: Table) -> StatementError:
    """What is wrong where a sentence names a column that is not there, at its word."""
    near = nearest(name, table.column_names)
    return wrong(_where_named(said, name), f"there is no such column in “{table.name}”.", near)


def _axis_of_note(note: Note, around: Around, direction: str) -> str:
    assert around.panel is not None
    if note.series and direction in ("x", "y"):
        return around.panel.one_series(note.series).axis(direction)
    return direction


def _numbered(panels: Sequence[Panel]) -> tuple[Panel, ...]:
    """Panels whose parts have ids of their own, in their order."""
    counts = dict.fromkeys("stgnc", 0)

    def fresh(letter: str) -> str:
        counts[letter] += 1
        return f"{letter}{counts[letter]}"

    found = []
    for panel in panels:
        ids = {one.id: fresh("s") for one in panel.series}
        series = tuple(evolve(one, id=ids[one.id]) for one in panel.series)
        trends = tuple(
            evolve(one, id=fresh("t"), series=ids.get(one.series, one.series))
            for one in panel.trends
        )
        notes = tuple(
            evolve(one, id=fresh("n"), series=ids.get(one.series, one.series))
            for one in panel.notes
        )
        found.append(
            evolve(
                panel, series=series, trends=trends, notes=notes,
                guides=tuple(evolve(one, id=fresh("g")) for one in panel.guides),
                curves=tuple(evolve(one, id=fresh("c")) for one in panel.curves),
            )
        )  # fmt: skip
    return tuple(found)


def _first_token(panels: Sequence[_PanelSaid]) -> Token:
    return next(said.tokens[0] for parts in panels for several in parts.of.values()
                for said in several)  # fmt: skip
