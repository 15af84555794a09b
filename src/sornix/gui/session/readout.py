"""What the footer says of a scene and of a reading."""

from sornix.core.drawing import Drawing
from sornix.core.figure import cell_words, column_or_rows, marked, series_name
from sornix.core.readings import table_named
from sornix.core.text import (
    counted,
    plain_text,
    plural,
    rich,
    row_words,
    shortest,
)
from sornix.gui.session.nearest import Reading
from sornix.gui.session.scene import Scene


def flag_words(reading: Reading, scene: Scene) -> tuple[str, str]:
    """Two lines for the flag beside a reading: where it is, and its values."""
    panel = scene.figure.seen(scene.figure.home(reading.series))
    series = panel.one_series(reading.series)
    table = table_named(scene.tables, series.table)
    where = row_words(reading.row)
    if len(panel.series) > 1:
        where = f"{series_name(panel, series, scene.tables)}, {where}"
    if any(left.row == reading.row for left in series.left_out):
        where += ", left out"
    x, y = (cell_words(column_or_rows(table, name), reading.row) for name in (series.x, series.y))
    values = f"{x},  {y}"
    return plain_text(rich(where)), plain_text(rich(values))


def count_words(scene: Scene, drawing: Drawing) -> str:
    """`22 of 24 readings in view`, of what is drawn."""
    shown = total = 0
    for index, place in enumerate(drawing.panels):
        panel = scene.figure.seen(index)
        if not panel.has_axes:
            continue
        for series in panel.shown:
            points = marked(series, panel, scene.tables).points
            own = place.on(series)
            shown += points.within((own.x.start, own.x.end), (own.y.start, own.y.end))
            total += len(points.x)
    if not any(panel.has_axes for panel in scene.figure.panels):
        return ""
    return f"{counted(shown)} of {plural(total, 'reading')} in view"


def size_words(scene: Scene) -> str:
    """`85 × 64 mm`."""
    figure = scene.figure
    return f"{shortest(figure.width_mm, 0.05)} × {shortest(figure.height_mm, 0.05)} mm"


def across_words(readings: list[Reading], scene: Scene) -> str:
    """`2026-05-06 12:10  ·  Level 1.451 m  ·  Rain 0 mm`: what stands at one x in every panel."""
    parts: list[str] = []
    for reading in readings:
        series = scene.figure.panels[scene.figure.home(reading.series)].one_series(reading.series)
        table = table_named(scene.tables, series.table)
        if not parts:
            parts.append(cell_words(column_or_rows(table, series.x), reading.row))
        column = column_or_rows(table, series.y)
        parts.append(f"{column.name} {cell_words(column, reading.row)}")
    return plain_text(rich("  ·  ".join(parts)))


def reading_words(reading: Reading, scene: Scene) -> str:
    """`row 17  ·  Nitrate concentration 8 mg/L  ·  Absorbance at 220 nm 0.557`."""
    panel = scene.figure.seen(scene.figure.home(reading.series))
    series = panel.one_series(reading.series)
    table = table_named(scene.tables, series.table)
    parts = [row_words(reading.row)]
    if len(panel.series) > 1:
        parts.insert(0, series_name(panel, series, scene.tables))
    for name in (series.x, series.y):
        column = column_or_rows(table, name)
        parts.append(f"{column.name} {cell_words(column, reading.row)}")
    return plain_text(rich("  ·  ".join(parts)))
