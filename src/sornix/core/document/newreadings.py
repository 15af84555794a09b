"""The same figure for other readings: a file with the same columns in place of a table."""

import math
import re
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from attrs import evolve

from sornix.core.document.tables import rename_table, replaced
from sornix.core.document.value import Document
from sornix.core.errors import EditRefused, ReadingsError, SornixError
from sornix.core.figure import MOST_PANELS, Figure, Panel, arrange, choose
from sornix.core.readings import Table, table_named, unique_names
from sornix.core.readings.formats.sources import read_file
from sornix.core.readings.tables.dialect import said

# What was done to a table and is done to other readings too; acts on rows are of these only.
_CARRIED = frozenset(
    ("rename", "set_kind", "convert", "repair", "restore", "fill_down", "compute", "settle",
     "delete_columns")
)  # fmt: skip
# The least likeness of two names that are perhaps of the same quantity (difflib's ratio).
_NEAR = 0.5


class Missing(NamedTuple):
    """A column that the figure needs and a file does not have, by its name in that kind of file;
    and the names there that come near, the nearest first."""

    name: str
    near: tuple[str, ...]


class Fitted(NamedTuple):
    """A document with other readings, and what has to be said about it."""

    document: Document
    notes: tuple[str, ...]


def drawn_table(document: Document) -> str:
    """The name of the table whose readings the figure is first of all drawn from."""
    name = document.figure.panels[0].series[0].table
    table = table_named(document.tables, name)
    # a summary follows its readings
    return table.grouping.source if table.grouping is not None else name


def read_for(
    document: Document, path: Path, sheet: str | None = None, also: Mapping[str, Any] | None = None
) -> Table:
    """The readings in a file, read as those of the document were, with what is held of the dialect
    `also`. What was found there decides what is doubtful here; where this file says otherwise, that
    is noted. Raises ReadingsError, also where several tables are there and none of that name."""
    old = table_named(document.tables, drawn_table(document))
    held = dict(old.read_as.held) if old.read_as is not None else {}
    held |= also or {}
    if sheet is None and old.source is not None and old.source.sheet:
        fresh = _of_sheet(path, old.source.sheet, held)
        sheet = old.source.sheet
    else:
        fresh = read_file(path, sheet, held)[0]
    if old.read_as is None or fresh.read_as is None:
        return fresh
    before, now = old.read_as, fresh.read_as
    passed = {
        word: getattr(before.dialect, word)
        for word in _PASSED_ON
        if word in now.doubts and word not in held and getattr(before.dialect, word)
    }
    if passed:
        again = {**held, **passed}
        fresh = _of_sheet(path, sheet, again) if sheet else read_file(path, None, again)[0]
        listed = ", ".join(said(word, value) for word, value in passed.items())
        return _noted(fresh, f"Read with {listed}, as the readings before.")
    differing = {
        word: f"This file has {said(word, value)}, and the readings before had "
        f"{said(word, earlier)}."
        for word in _PASSED_ON
        if word not in held
        and (value := getattr(now.dialect, word)) and (earlier := getattr(before.dialect, word))
        and value != earlier
    }  # fmt: skip
    return evolve(fresh, read_as=evolve(now, doubts={**now.doubts, **differing}))


# What a pattern passes on where a file leaves it open.
_PASSED_ON = ("order", "decimal")


def _of_sheet(path: Path, sheet: str, held: Mapping[str, Any]) -> Table:
    """The table of that name, or the only one of a file."""
    tables = read_file(path, None, held)
    named = [table for table in tables if table.name == sheet]
    if named or len(tables) == 1:
        return (named or tables)[0]
    try:
        # it may be hidden
        return read_file(path, sheet, held)[0]
    except ReadingsError as error:
        listed = ", ".join(f"“{table.name}”" for table in tables)
        raise ReadingsError(
            f"There is no table “{sheet}”, which the figure is drawn from.",
            where=path.name,
            remedy=f"The tables are {listed}: name one of them.",
        ) from error


def _noted(table: Table, note: str) -> Table:
    return evolve(table, notes=(note, *table.notes))


def missing_columns(document: Document, fresh: Table) -> list[Missing]:
    """The columns that the figure needs and other readings do not have, each with those of a name
    like its own, then those in its unit."""
    needed = _needed(document)
    free = {column.name: column.unit for column in fresh.columns if column.name not in needed}
    old = table_named(document.tables, drawn_table(document))
    units = {column.name: column.unit for column in old.columns}
    found = []
    for name in needed:
        if name in fresh.column_names:
            continue
        unit = units.get(name, "")
        alike = [other for other, its in free.items() if unit and its == unit]
        near = (*_nearest(name, free), *alike)
        found.append(Missing(name, tuple(dict.fromkeys(near))))
    return found


def _nearest(name: str, others: Iterable[str]) -> list[str]:
    import difflib

    def likeness(other: str) -> float:
        return difflib.SequenceMatcher(None, _plain(name), _plain(other)).ratio()

    return sorted((o for o in others if likeness(o) >= _NEAR), key=likeness, reverse=True)


def same_but_for_signs(missing: Missing) -> str | None:
    """The column that differs from a missing one by capitals, blanks and signs only."""
    same = [name for name in missing.near if _plain(name) == _plain(missing.name)]
    return same[0] if len(same) == 1 else None


def matched(document: Document, fresh: Table) -> Table:
    """Other readings under the document's names, where theirs differ by signs only."""
    same = {m.name: same_but_for_signs(m) for m in missing_columns(document, fresh)}
    return under_names(fresh, {name: other for name, other in same.items() if other})


def _plain(name: str) -> str:
    return re.sub(r"[\W_]+", "", name.casefold())


def _needed(document: Document) -> tuple[str, ...]:
    """The columns of the table that the figure or its computed columns need, as its file has
    them."""
    name = drawn_table(document)
    table = table_named(document.tables, name)
    wanted: dict[str, None] = {}
    for panel in (panel for figure in document.figures for panel in figure.panels):
        for series in panel.series:
            if series.table == name:
                wanted |= dict.fromkeys(series.columns)
                weighing = (trend.weight_column for trend in panel.trends_of(series.id))
                wanted |= dict.fromkeys(c for c in weighing if c is not None)
    for other in document.tables:
        if other.grouping is not None and other.grouping.source == name:
            wanted |= dict.fromkeys((*other.grouping.by, *other.grouping.values))
    rules = [table.column(n).rule for n in wanted if n in table.column_names]
    computed = {n for n in wanted if n in table.column_names and table.column(n).rule is not None}
    for rule in rules:
        wanted |= dict.fromkeys(rule.inputs() if rule is not None else ())
    as_read = _names_as_read(table)
    return tuple(dict.fromkeys(as_read.get(n, n) for n in wanted if n not in computed))


def _names_as_read(table: Table) -> dict[str, str]:
    """The names that columns had in the file, by those that they were given since."""
    found: dict[str, str] = {}
    for change in table.changes:
        if change.act == "rename":
            old, new = str(change.arguments["column"]), str(change.arguments["name"])
            found[" ".join(new.split())] = found.pop(old, old)
    return found


def with_readings(document: Document, fresh: Table) -> Fitted:
    """The figure on other readings: everything that was done to the columns is done to theirs, and
    what was about single readings is left behind.

    Raises ReadingsError where a column is missing, EditRefused where the figure cannot be drawn
    from them.
    """
    from sornix.core.readings.changes.operations import reapplied

    name = drawn_table(document)
    old = table_named(document.tables, name)
    fresh, converted = _in_old_units(fresh, old)
    missing = missing_columns(document, fresh)
    if missing:
        first = missing[0]
        near = " or ".join(f"“{other}”" for other in first.near[:3])
        raise ReadingsError(
            f"There is no column “{first.name}”.",
            where=fresh.name,
            remedy=f"Perhaps {near} is meant." if near else
            f"The columns are {', '.join(fresh.column_names)}.",
        )  # fmt: skip
    carried = [change for change in old.changes if change.act in _CARRIED]
    table, lost = reapplied(fresh, carried)
    table = evolve(table, name=name)
    bare = document.each(lambda figure: _without_single_readings(figure, name))
    changed = evolve(bare, tables=replaced(document.tables, name, table, {}))
    _check_kinds(changed, old, table)
    named = fresh.name
    if named != name:
        others = [t.name for t in changed.tables if t.name != name]
        changed = rename_table(changed, name, unique_names([named], others)[0])
    return Fitted(changed, (*converted, *lost))


def under_names(fresh: Table, names: Mapping[str, str]) -> Table:
    """Other readings, whose columns stand under the document's names where `names` says which
    (name there: column here)."""
    given = {other: name for name, other in names.items()}
    # a column whose name is taken by another one steps aside
    wanted = [given.get(column.name, column.name) for column in fresh.columns]
    columns = []
    for column, name in zip(fresh.columns, wanted, strict=True):
        clash = wanted.count(name) > 1 and column.name not in given
        columns.append(evolve(column, name=f"{name} (as read)" if clash else name))
    return evolve(fresh, columns=tuple(columns))


def _in_old_units(fresh: Table, old: Table) -> tuple[Table, list[str]]:
    """Other readings in the units of the document's, and what was converted or could not be."""
    from sornix.core.readings.changes.operations import apply_change
    from sornix.core.readings.tables.origin import Change as Act

    as_read = _names_as_read(old)
    said = []
    for column in old.columns:
        name = as_read.get(column.name, column.name)
        if name not in fresh.column_names or column.rule is not None or not column.unit:
            continue
        unit = fresh.column(name).unit
        converted_later = any(
            change.act == "convert" and change.arguments["column"] in (name, column.name)
            for change in old.changes
        )
        if not unit or unit == column.unit or converted_later:
            continue
        try:
            act = Act("convert", {"column": name, "unit": column.unit})
            fresh = apply_change(fresh, act).table
        except SornixError:
            said.append(f"“{name}” is in {unit} here, not in {column.unit}.")
        else:
            said.append(f"“{name}” was converted from {unit} to {column.unit}.")
    return fresh, said


def _without_single_readings(figure: Figure, name: str) -> Figure:
    """A figure without what was about single readings of a table: those left out, and remarks on
    one of them; pins stay and tell the new values."""

    def bare(panel: Panel) -> Panel:
        series = tuple(evolve(s, left_out=()) if s.table == name else s for s in panel.series)
        ours = {s.id for s in series if s.table == name}
        notes = tuple(n for n in panel.notes if n.row is None or not n.text or n.series not in ours)
        return evolve(panel, series=series, notes=notes)

    return evolve(figure, panels=tuple(map(bare, figure.panels)))


def _check_kinds(document: Document, old: Table, table: Table) -> None:
    """Raises EditRefused where a drawn column of numbers has become one of text."""
    for panel in (panel for figure in document.figures for panel in figure.panels):
        for series in panel.series:
            for name in (series.x, series.y):
                if series.table != table.name or name is None or name not in old.column_names:
                    continue
                if old.column(name).has_places and not table.column(name).has_places:
                    raise EditRefused(
                        f"“{name}” holds text here, not numbers.",
                        remedy="Look at the readings, and repair them first.",
                    )


# Up to so many small panels stand with the type of the style; more make it smaller.
_FEW_PANELS = 6
# … and up to so many in the upper part of a page.
_ON_HALF_A_PAGE = 12


def small_panels(document: Document, runs: Sequence[Table]) -> Document:
    """The figure of the first panel once for each run, as small panels on one page that share their
    scales, each titled with the name of its run.

    Raises ReadingsError where a run does not fit, EditRefused where they are too many.
    """
    if not 1 <= len(runs) <= MOST_PANELS:
        raise EditRefused(
            f"{len(runs)} runs cannot stand on one page.",
            remedy=f"Take 1 to {MOST_PANELS}, or more pages.",
        )
    first = evolve(document.figure, panels=document.figure.panels[:1])
    single = evolve(document, figure=first, before=(), after=())
    tables: list[Table] = []
    panels: list[Panel] = []
    for number, run in enumerate(runs):
        others = [table.name for table in tables]
        named = evolve(run, name=unique_names([run.name], others)[0])
        fitted = with_readings(single, named).document
        tables += fitted.tables
        panels.append(_numbered(fitted.figure.panels[0], number, named.name))
    size = (174.0, 240.0 if len(runs) > _ON_HALF_A_PAGE else 150.0)
    figure = evolve(
        document.figure, panels=tuple(panels), hand=0, share="both", letters=False,
        width_mm=size[0], height_mm=size[1], widths=(), heights=(), caption=None,
    )  # fmt: skip
    if len(runs) > _FEW_PANELS and figure.choices.type_pt is None:
        figure = choose(figure, type_pt=5.5, marker_mm=1.0)
    return evolve(single, tables=tuple(tables), figure=arrange(figure, "grid"), pattern=False)


def _numbered(panel: Panel, number: int, title: str) -> Panel:
    """A panel whose series and trends have ids that no other run has."""

    def of(name: str) -> str:
        return f"{name}r{number + 1}"

    return evolve(
        panel,
        series=tuple(evolve(s, id=of(s.id)) for s in panel.series),
        trends=tuple(evolve(t, id=of(t.id), series=of(t.series)) for t in panel.trends),
        guides=tuple(evolve(g, id=of(g.id)) for g in panel.guides),
        curves=tuple(evolve(c, id=of(c.id)) for c in panel.curves),
        notes=tuple(
            evolve(n, id=of(n.id), series=of(n.series) if n.series else "") for n in panel.notes
        ),
        title=title,
    )


def pages_of(runs: Sequence[Table], most: int = 24) -> list[Sequence[Table]]:
    """Runs in as few pages as can be, evenly filled."""
    pages = math.ceil(len(runs) / most)
    size = math.ceil(len(runs) / max(pages, 1))
    return [runs[i * size : (i + 1) * size] for i in range(pages)]
