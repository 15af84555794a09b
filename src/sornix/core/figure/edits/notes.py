"""Notes on a panel: words, or the values of a reading or a place that are pinned there."""

from typing import Any, NamedTuple

import numpy as np
from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure.derived.points import (
    Points,
    axis_unit,
    column_or_rows,
    scale_kind,
    series_points,
)
from sornix.core.figure.model.additions import Note
from sornix.core.figure.model.series import Series
from sornix.core.figure.model.values import Figure, Panel
from sornix.core.readings import NUMBER, Column, Tables, table_named
from sornix.core.readings.tables.shown import shown_number
from sornix.core.scales import KINDS
from sornix.core.text import spoken, unit_words


class Pinned(NamedTuple):
    """Where a note points: values on the axes that its series stands on."""

    x: float
    y: float


def pinned(note: Note, panel: Panel, tables: Tables) -> Pinned | None:
    """Where a note points; None where it points nowhere, or its reading is not there any more."""
    if note.row is None:
        return Pinned(note.x, note.y) if note.x is not None and note.y is not None else None
    series = note_series(note, panel)
    if series is None:
        return None
    points = series_points(series, panel, tables)
    at = points.at_row(note.row)
    return Pinned(float(points.x[at]), float(points.y[at])) if at is not None else None


def note_series(note: Note, panel: Panel) -> Series | None:
    """The series that a note is about; None where it is about none that is there."""
    return next((s for s in panel.series if s.id == note.series), None)


def note_text(note: Note, panel: Panel, tables: Tables) -> str:
    """The words of a note, or the values of what it is pinned to, with their units."""
    if note.text:
        return note.text
    series = note_series(note, panel)
    if note.row is not None and series is not None:
        table = table_named(tables, series.table)
        cells = (column_or_rows(table, name) for name in (series.x, series.y))
        return ", ".join(cell_words(column, note.row) for column in cells)
    place = pinned(note, panel, tables)
    if place is None:
        return ""
    axes = (series.x_axis, series.y_axis) if series is not None else ("x", "y")
    return ", ".join(value_with_unit(panel, tables, a, v) for a, v in zip(axes, place, strict=True))


def value_with_unit(panel: Panel, tables: Tables, axis: str, value: float) -> str:
    """A value of an axis as it would be said, with its unit."""
    kind = scale_kind(panel, tables, axis)
    if KINDS[kind].traits.counts:
        return f"{spoken(value)} {unit_words(axis_unit(panel, tables, axis))}".strip()
    return KINDS[kind].words(value, 0.0)


def cell_words(column: Column, row: int) -> str:
    """A reading with its unit."""
    if column.kind != NUMBER:
        return column.cell(row)
    number = shown_number(float(column.numbers[row]), column.decimals)
    return f"{column.bounds.get(row, '')}{number} {unit_words(column.unit)}".strip()


def add_note(figure: Figure, tables: Tables, text: str = "", **place: Any) -> Figure:
    """A note on the panel in hand: at a reading (`series`, `row`), at values (`x`, `y`), or
    anywhere. Refused where it says nothing and points nowhere."""
    note = Note(figure.next_id("n"), text.strip(), **place)
    panel = figure.panel
    if not note_text(note, panel, tables):
        raise EditRefused("A note needs words, or a reading to tell of.")
    return figure.with_panel(evolve(panel, notes=(*panel.notes, note)))


def change_note(figure: Figure, note_id: str, **changes: Any) -> Figure:
    """A note with other words or another place; one without words and place is taken away."""
    panel = figure.panel
    new = evolve(panel.one_note(note_id), **changes)
    if not new.text and new.row is None and new.x is None:
        return remove_note(figure, note_id)
    notes = tuple(new if note.id == note_id else note for note in panel.notes)
    return figure.with_panel(evolve(panel, notes=notes))


def remove_note(figure: Figure, note_id: str) -> Figure:
    panel = figure.panel
    notes = tuple(note for note in panel.notes if note.id != note_id)
    return figure.with_panel(evolve(panel, notes=notes))


class Between(NamedTuple):
    """What lies between two pinned places: differences, slope, and the area under the line of the
    series that both are readings of (of places: the first series), None without such a line."""

    dx: float
    dy: float
    slope: float | None
    area: float | None


def between(first: Note, second: Note, panel: Panel, tables: Tables) -> Between | None:
    """What lies between two pins; None where one of them is nowhere.

    The area is that under the straight lines from reading to reading down to y = 0 (trapezoid
    rule), from the x of one pin to that of the other.
    """
    ends = [pinned(note, panel, tables) for note in (first, second)]
    a, b = ends
    if a is None or b is None:
        return None
    dx, dy = b.x - a.x, b.y - a.y
    of = first.series or second.series or panel.series[0].id
    series = next((s for s in panel.series if s.id == of), None)
    alike = first.series in ("", of) and second.series in ("", of)
    area = None
    if series is not None and alike and dx:
        area = _area(series_points(series, panel, tables), *sorted((a.x, b.x)))
    return Between(dx, dy, dy / dx if dx else None, area)


def _area(points: Points, low: float, high: float) -> float | None:
    """The area under the straight lines from point to point between two x; None where the points do
    not rise along x or do not reach so far."""
    if not points.rising or not len(points.x) or low < points.x[0] or high > points.x[-1]:
        return None
    inside = (points.x > low) & (points.x < high)
    x = np.concatenate(([low], points.x[inside], [high]))
    ends = np.interp([low, high], points.x, points.y)
    y = np.concatenate((ends[:1], points.y[inside], ends[1:]))
    return float(np.trapezoid(y, x))
