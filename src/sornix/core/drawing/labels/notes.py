"""Notes on a panel with their leader lines, and the source line at the foot of the figure."""

import numpy as np

from sornix.core.drawing.labels.breaking import fitted_size
from sornix.core.drawing.labels.labels import label_points
from sornix.core.drawing.labels.placing import free_place
from sornix.core.drawing.parts.items import (
    Box,
    Floats,
    Item,
    Lines,
    Markers,
    Measure,
    PanelPlace,
    Rect,
    Stroke,
    Text,
    at_spot,
)
from sornix.core.drawing.parts.style import MM_PER_POINT, Style
from sornix.core.figure import (
    Figure,
    Note,
    NoteBox,
    Panel,
    Pinned,
    SourceLine,
    note_series,
    note_text,
    pinned,
)
from sornix.core.readings import Tables
from sornix.core.text import Rich, rich, with_comma

_LINE = 1.35
# A note is set in lines of at most this part of the data area's width.
_WIDEST = 0.55
# From the leader's end to the middle of what it points at, in marker sizes.
_OFF = 0.8


def note_items(
    panel: Panel, tables: Tables, place: PanelPlace, taken: Floats, style: Style, measure: Measure
) -> tuple[list[Item], list[Box]]:
    """The notes of a panel, each at its spot or where it covers none of `taken` (n, 2)."""
    items: list[Item] = []
    boxes: list[Box] = []
    for note in panel.notes:
        rows = _rows(note, panel, tables, place, style, measure)
        values = pinned(note, panel, tables)
        at = _target(note, values, panel, place) if values is not None else None
        if not rows or (at is None and values is not None):
            continue
        size = style.label_pt * MM_PER_POINT
        width = max(measure.width(row, size) for row in rows)
        height = len(rows) * _LINE * size
        if note.spot is not None:
            box = at_spot(note.spot, place.inner, width, height)
        else:
            box = _free(place.inner, (width, height), taken, at, size)
        of = f"note/{note.id}"
        if at is not None:
            items += _leader(of, box, at, style, on_reading=note.row is not None)
        items += [
            Text(of, box.left, box.top + (i * _LINE + 0.2) * size + measure.ascent(size), row,
                 size, style.ink)
            for i, row in enumerate(rows)
        ]  # fmt: skip
        boxes.append(Box(NoteBox(note.id), box))
        taken = np.concatenate((taken, label_points(box)))
    return items, boxes


def _rows(
    note: Note, panel: Panel, tables: Tables, place: PanelPlace, style: Style, measure: Measure
) -> list[Rich]:
    """The words of a note in lines that are not too long, broken where they were typed so."""
    text = note_text(note, panel, tables)
    size = style.label_pt * MM_PER_POINT
    widest = max(_WIDEST * place.inner.width, 12 * size)
    lines: list[str] = []
    for part in text.split("\n"):
        lines.append("")
        for word in part.split(" "):
            longer = f"{lines[-1]} {word}" if lines[-1] else word
            if lines[-1] and measure.width(rich(longer), size) > widest:
                lines.append(word)
            else:
                lines[-1] = longer
    found = [rich(line) for line in lines if line]
    comma = style.decimal == "comma" and not note.text
    return [with_comma(row) for row in found] if comma else found


def _target(note: Note, values: Pinned, panel: Panel, place: PanelPlace) -> Floats | None:
    """Where a note points, (2,) in mm; None beyond the data area."""
    series = note_series(note, panel)
    own = place.on(series) if series is not None else place
    at: Floats = own.place(np.array([values.x]), np.array([values.y]))[0]
    seen = np.isfinite(at).all() and place.inner.grown(0.1).holds(float(at[0]), float(at[1]))
    return at if seen else None


def _free(
    inner: Rect, size: tuple[float, float], taken: Floats, at: Floats | None, type_mm: float
) -> Rect:
    """A free place, near what the note points at but not upon it."""
    if at is None:
        near = inner.left + 0.25 * inner.width, inner.top + 0.15 * inner.height
        return free_place(inner, *size, taken, near)[0]
    away = 1.6 * type_mm
    ring = [(dx * away, dy * away) for dx in (-1, 0, 1) for dy in (-1, 0, 1)]
    around = np.concatenate((taken, np.array(ring) + at))
    side = 1 if at[0] < inner.left + inner.width / 2 else -1
    near = (float(at[0]) + side * (size[0] / 2 + away), float(at[1]) - 2.5 * away)
    return free_place(inner, *size, around, near)[0]


def _leader(of: str, box: Rect, at: Floats, style: Style, *, on_reading: bool) -> list[Item]:
    """A fine line from the nearest edge of the words to what they are about; a dot where that is
    a place and not a reading."""
    begin = np.array([min(max(at[0], box.left), box.right), min(max(at[1], box.top), box.bottom)])
    way = at - begin
    length = float(np.hypot(*way))
    off = _OFF * style.marker_mm if on_reading else 0.0
    items: list[Item] = []
    if length > off + 0.5:
        end = at - way / length * off
        stroke = Stroke(style.ink, style.fine(0.18)[0])
        items.append(Lines(of, np.array([[*begin, *end]]), stroke))
    if not on_reading:
        dot = 0.5 * style.marker_mm
        none = np.zeros(0, np.intp)
        items.append(
            Markers(of, at[None], none, "circle", dot, style.ink, Stroke(style.paper, 0.0))
        )
    return items


def source_height(figure: Figure, style: Style, measure: Measure) -> float:
    """The room that the source line keeps at the foot of the figure."""
    if not figure.source:
        return 0.0
    size = 0.85 * style.label_pt * MM_PER_POINT
    return measure.ascent(size) + measure.descent(size) + 0.9 * style.scale


def source_items(figure: Figure, style: Style, measure: Measure) -> tuple[list[Item], list[Box]]:
    """The source line at the lower left, or at its spot; smaller where it would leave the paper."""
    if not figure.source:
        return [], []
    size = 0.85 * style.label_pt * MM_PER_POINT
    runs = rich(figure.said(figure.source))
    room = figure.width_mm - 2 * style.margin_mm
    size = fitted_size(runs, size, room, measure, bold=False)
    width, height = measure.width(runs, size), measure.ascent(size) + measure.descent(size)
    if figure.source_spot is not None:
        page = Rect(0, 0, figure.width_mm, figure.height_mm)
        box = at_spot(figure.source_spot, page, width, height)
    else:
        bottom = figure.height_mm - 0.75 * style.margin_mm
        box = Rect(style.margin_mm, bottom - height, width, height)
    text = Text("source", box.left, box.top + measure.ascent(size), runs, size, style.grey)
    return [text], [Box(SourceLine(), box)]
