"""Display lists as readable texts, one file a figure in tests/data/drawn. They are made anew by
`python -m tests.core.drawn`; what changed is to be read in the difference before it is kept."""

import io
import itertools
from collections.abc import Callable, Iterator, Mapping
from functools import partial
from pathlib import Path as FilePath
from tempfile import TemporaryDirectory
from typing import Any
from zipfile import ZipFile, is_zipfile
from zlib import crc32

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.cautions import find_cautions
from sornix.core.document import Document, load_document, new_document
from sornix.core.drawing import (
    STYLES,
    Drawing,
    Lines,
    Markers,
    Path,
    Text,
    draw_figure,
    drawn_tables,
)
from sornix.core.drawing.parts.items import Crowd, Fill, Item, Rects, Stroke
from sornix.core.drawing.parts.shapes import SHAPES
from sornix.core.figure import (
    AXES,
    AxisLook,
    ErrorBars,
    GridLine,
    LeftOut,
    Other,
    Panel,
    Scale,
    Series,
    SeriesStyle,
    add_curve,
    add_guide,
    add_note,
    add_trend,
    caption,
    change_panel,
    change_series,
    change_trend,
    choose,
    put_on,
    read_off_trend,
    set_other,
    set_source,
    set_style,
    tell_at,
)
from sornix.core.figure.model.scale import TURNS
from sornix.core.readings import Table, number_column, read_text, time_column
from sornix.core.readings.formats.sources import read_file
from sornix.core.report import TEMPLATES, Heading, blocks_of, report_of
from sornix.core.report.blocks import Block, Grid, Picture, Rows
from sornix.core.statement import write_statement
from sornix.core.text import Rich
from sornix.demo import DEMOS, demo_document, demo_files, write_buoy_decade
from sornix.paint.page.numbers import page_numbers
from tests.base import DATA
from tests.core.measure import PlainMeasure

Floats = NDArray[np.float64]
FOLDER = DATA / "drawn"
_MOST_SHOWN = 24
_MOST_ROWS = 6
_MOST_IN_REPORT = 5000


# -- figures that hold what the demos do not ------------------------------------------------------


def _in(name: str, panels: tuple[Panel, ...], **more: Any) -> Document:
    document = demo_document(name)
    return evolve(document, figure=evolve(document.figure, panels=panels, **more))


def _bands() -> Document:
    document = demo_document("nitrate-standards")
    tables, figure = document.tables, document.figure
    figure = change_series(figure, tables, "s1", left_out=(LeftOut(4, "bubble"),))
    shows = ("equation", "units", "r-squared", "scatter", "count", "read-offs", "told",
             "confidence", "prediction")  # fmt: skip
    figure = tell_at(read_off_trend(figure, "t1", 0.31), "t1", 7.5)
    figure = change_trend(figure, "t1", shows=shows, end=9.0)
    figure = set_source(add_trend(figure, "s1", "polynomial-2"), "Batch 7, lamp 2")
    return evolve(document, figure=evolve(figure, title="A bubble in one cell"))


def _dressed() -> Document:
    """Notes, guides, another unit, error bars along and as a band, axes and series by hand."""
    document = demo_document("light-response")
    tables, figure = document.tables, document.figure
    more = Series(
        "s2", tables[0].name, "Light", "SD of production", "points-and-line", 2,
        errors_x=ErrorBars("percent", 8), errors_y=ErrorBars("fixed", 0.4, band=True),
        style=SeriesStyle("#226644", "diamond", filled=False, size_mm=3, width_mm=0.8,
                         dash="dashed"),
        written="y",
    )  # fmt: skip
    panel = evolve(figure.panel, series=(*figure.panel.series, more), names="right")
    look = AxisLook(ticks="out", minor_grid=True, major=GridLine(width_mm=0.3, dash="dotted"))
    panel = evolve(
        panel, x=Scale(grid=True, look=look, minor="4", after=" µmol"), y=Scale(zero=True)
    )
    figure = figure.with_panel(panel)
    figure = set_other(figure, tables, "y", Other("x * 32", "Oxygen (g)"))
    figure = add_guide(figure, tables, "x", 300, 700, "usual at noon")
    figure = add_guide(figure, tables, "y", 2.5, None, "limit")
    figure = add_note(figure, tables, "first in the light", series="s1", row=2)
    figure = add_note(figure, tables, "here\nand there", x=900.0, y=5.0)
    return evolve(
        document, figure=choose(figure, decimal="comma", units="brackets", palette="deep")
    )


def _marks() -> Document:
    """Every way to join readings, on two scales upward, on a slide."""
    (name,) = (t.name for t in demo_document("buoy-week").tables)
    kinds = {"Level": "area", "Rain": "steps", "Water temperature": "smooth", "Turbidity": "points"}
    series = tuple(
        Series(f"s{i + 1}", name, "Time", column, mark, i)
        for i, (column, mark) in enumerate(kinds.items())
    )
    document = _in("buoy-week", (Panel(series),), letters=False, title="A week")
    figure = put_on(put_on(document.figure, "s3", "y2"), "s4", "y2")
    return evolve(document, figure=set_style(figure, "slide"))


def _forms() -> Document:
    """Shares as a ring and as one bar, correlations, names of every kind."""
    snails = demo_document("snail-counts").figure.panels[1]
    forms = ("ring", "one-bar", "series", "series")
    names = ("free", "right", "below", "none")
    panels = tuple(
        evolve(snails, form=form, names=name, row=i // 2, column=i % 2, bar_width=0.5 + i / 8)
        for i, (form, name) in enumerate(zip(forms, names, strict=True))
    )
    return _in("snail-counts", panels)


def _correlations() -> Document:
    document = demo_document("lake-survey")
    return evolve(document, figure=change_panel(document.figure, form="correlations"))


def _turned() -> Document:
    """Labels turned by every angle, at every side, beside those that lie."""
    (name,) = (t.name for t in demo_document("light-response").tables)
    series = (
        Series("s1", name, "Light", "Oxygen production"),
        Series("s2", name, "Light", "SD of production", palette_index=1, x_axis="x2", y_axis="y2"),
    )
    panels = tuple(
        Panel(
            (series[0], evolve(series[1], id="s9")) if turn is None else
            (evolve(series[0], id=f"s{2 * i + 11}"), evolve(series[1], id=f"s{2 * i + 12}")),
            x=Scale(turn=turn), y=Scale(turn=turn), x2=Scale(turn=turn), y2=Scale(turn=turn),
            row=i // 2, column=i % 2,
        )
        for i, turn in enumerate((None, 90, TURNS[1], TURNS[-1]))
    )  # fmt: skip
    return _in("light-response", panels, width_mm=174.0, height_mm=150.0)


_MESS = """x,y,name,part,sum
0,-1,a,3,1
1,5,b,-2,2
2,"n.d.",c,4,3
2,7,d,1,4
5,6,e,0,5
4,9,f,2,6
"""


def _cautious() -> Document:
    """Something to be said of each panel."""
    more = "".join(f"{i},{i % 3},n{i},1,{i}\n" for i in range(6, 30))
    table = read_text((_MESS + more).encode(), "m")

    def series(x: str, y: str, mark: str, **more: Any) -> Series:
        return Series(f"s{next(ids)}", table.name, x, y, mark, **more)

    ids = itertools.count(1)
    panels = (
        Panel((series("x", "y", "line"),), x=Scale(step=500.0), y=Scale("log")),
        Panel((series("x", "y", "points"),), x=Scale(end=3.5), y=Scale(start=4.0)),
        Panel((series("name", "y", "bars"),), y=Scale(start=-5.0)),
        Panel((series("x", "part", "bars"),), form="ring"),
        Panel((series("x", "sum", "points"), series("x", "y", "points", palette_index=1,
                                                     y_axis="y2"))),
        Panel((series("x", "sum", "bars"),), y=Scale(start=2.0)),
    )  # fmt: skip
    placed = tuple(evolve(p, row=i // 2, column=i % 2) for i, p in enumerate(panels))
    document = new_document(table)
    figure = evolve(document.figure, panels=placed, width_mm=120.0, height_mm=60.0)
    figure = add_trend(figure.with_hand(1), "s2", "polynomial-3", extended=True, end=2.5)
    figure = add_trend(figure.with_hand(4), "s5", extended=True)
    return evolve(document, figure=read_off_trend(figure, "t2", 90.0).with_hand(0))


def _year() -> Document:
    """A year whose last tick opens the next one."""
    begin = int(np.datetime64("2025-01-01", "s").astype(np.int64))
    days = time_column("Day", [begin + 86400.0 * day for day in range(366)], "day")
    table = Table("year", (days, number_column("Level", np.sin(np.arange(366) / 58), "m")))
    return new_document(table)


def _powers() -> Document:
    """A power of ten at the end of each axis, at all sides, and a curve called in the legend."""
    rising = np.arange(6.0)
    columns = {"Signal": rising**2 * 1e9, "Noise": rising * 3e-9, "Time": rising * 4e8,
               "Flow": rising * 2e-8}  # fmt: skip
    table = Table("powers", tuple(number_column(name, each) for name, each in columns.items()))
    series = (
        Series("s1", table.name, "Time", "Signal", "line"),
        Series("s2", table.name, "Flow", "Noise", palette_index=1, x_axis="x2", y_axis="y2"),
    )
    document = new_document(table)
    figure = evolve(document.figure, panels=(Panel(series, names="right"),))
    for axis in AXES:
        figure = figure.with_scale(axis, Scale(labels="common-power"))
    return evolve(document, figure=add_curve(figure, "2e9 + 3*x", "expected"))


def _peaks() -> Document:
    """An equation that has a free place only in narrow lines, one for each of its peaks."""
    x = np.linspace(0, 18, 300)
    heights = ((210, 3.1, 0.12), (95, 5.0, 0.2), (60, 5.62, 0.22))
    y = (
        12
        + sum(h * np.exp(-(((x - m) / s) ** 2) / 2) for h, m, s in heights)
        + 0.4 * np.sin(40 * x)
    )
    table = Table("run", (number_column("Time", x, "min"), number_column("UV", y, "mAU")))
    document = new_document(table)
    figure = change_series(document.figure, document.tables, "s1", mark="line")
    shows = ("equation", "r-squared")
    return evolve(document, figure=add_trend(figure, "s1", "peaks-3", shows=shows))


def _crowd(mark: str) -> Callable[[], Document]:
    """More readings than are drawn one by one, with a gap, on a logarithmic scale."""

    def make() -> Document:
        x = np.arange(60_000.0)
        y = 10.0 ** (np.sin(x / 4000) + 0.3 * np.sin(x * x))
        y[30_000:33_000] = np.nan
        table = Table("crowd", (number_column("x", x), number_column("y", y)))
        document = new_document(table)
        figure = change_series(document.figure, document.tables, "s1", mark=mark)
        figure = figure.with_scale("y", Scale("log", reversed=True, minor="free"))
        return evolve(document, figure=add_trend(figure, "s1", "polynomial-3"))

    return make


def _in_style(name: str) -> Callable[[], Document]:
    """Most of what a style has measures for, in one of them: bands, beyond, notes, another unit by
    the square, grids, a panel without a trend, letters."""

    def make() -> Document:
        document = _dressed()
        figure, tables = document.figure, document.tables
        figure = set_other(figure, tables, "x", Other("x^2", "squared"))
        figure = add_trend(figure, "s1", "polynomial-2", extended=True, start=100.0, end=900.0)
        shows = ("equation", "r-squared", "confidence", "prediction", "told")
        figure = change_trend(tell_at(figure, "t1", 500.0), "t1", shows=shows)
        figure = add_note(figure, tables, "about all of it")
        figure = set_style(figure, name)
        other = evolve(demo_document("light-response").figure.panel, row=1)
        other = evolve(other, series=tuple(evolve(s, id=f"r{s.id}") for s in other.series),
                       trends=())  # fmt: skip
        panels = (*figure.panels, other)
        return evolve(document, figure=evolve(figure, panels=panels, height_mm=140.0))

    return make


FIGURES: Mapping[str, Callable[[], Document]] = {
    **{f"in-style-{name}": _in_style(name) for name in STYLES},
    **{name: lambda name=name: demo_document(name) for name in DEMOS},  # type: ignore[misc]
    "a-bands": _bands,
    "a-dressed": _dressed,
    "a-marks": _marks,
    "a-forms": _forms,
    "a-turned": _turned,
    "a-correlations": _correlations,
    "a-cautious": _cautious,
    "a-year": _year,
    "a-peaks": _peaks,
    "a-powers": _powers,
    "a-crowd-of-points": _crowd("points"),
    "a-crowded-line": _crowd("line"),
    # options, trends, notes and guides by chance, once made with tools.options.strange
    **{path.stem: partial(load_document, path) for path in sorted(DATA.glob("version-3/*.sornix"))},
}


# -- the text -------------------------------------------------------------------------------------


def drawn_text(document: Document) -> str:
    """The display list of a document, and all that is said of it."""
    drawing = draw_figure(document.figure, document.tables, PlainMeasure())
    return "\n".join([*lines_of(drawing), *_said(document, drawing)]) + "\n"


def _said(document: Document, drawing: Drawing) -> Iterator[str]:
    figure, tables = document.figure, document.tables
    whole = write_statement(figure, tables, whole=True)
    yield from (f"said: {line}" for line in whole.splitlines())
    yield f"said: {caption(figure, tables, drawing.equations, drawing.shades)}"
    for finding in find_cautions(figure, tables, drawing):
        remedy = f" [{finding.remedy.words}]" if finding.remedy else ""
        yield f"said: {'also' if finding.mild else 'caution'}: {finding.text}{remedy}"
    for table in drawn_tables(figure, tables, drawing):
        yield f"said: table {table.name}: {', '.join(c.name for c in table.columns)}"
        for row in range(min(table.row_count, _MOST_ROWS)):
            yield f"said:   {', '.join(c.cell(row) for c in table.columns)}"
    here = document.figures.index(figure)
    short = all(table.row_count <= _MOST_IN_REPORT for table in tables)
    report = report_of(document, PlainMeasure(), readings=short, places=(here,))
    for block in blocks_of(report, TEMPLATES["whole"]):
        yield from (f"said: {line}" for line in _block(block))
    yield from (f"said: {line}" for line in _told("page", page_numbers(figure, tables, drawing)))


def _block(block: Block) -> Iterator[str]:
    """A block of a report in some lines."""
    match block:
        case Heading():
            yield f"{'#' * block.level} {block.text}"
        case Picture():
            yield block.part.caption
        case Rows():
            yield from (f"  {row.name}: {row.value} ({row.about})" for row in block.rows)
        case Grid():
            yield f"  {', '.join(map(str, zip(block.heads, block.numbers, strict=True)))}"
            yield from (f"  {', '.join(cells)}" for cells in block.cells[:_MOST_ROWS])
        case _:
            yield from (f"  {line}" for line in block.text.splitlines() if line)


def _told(name: str, value: Any) -> Iterator[str]:
    """What a page is told, a line each; of long lists some, and their mean."""
    if isinstance(value, dict):
        for key, part in value.items():
            yield from _told(f"{name} {key}", part)
    elif isinstance(value, list) and value and isinstance(value[0], dict):
        for number, part in enumerate(value):
            yield from _told(f"{name} {number}", part)
    elif isinstance(value, list) and len(value) > _MOST_ROWS:
        some = [value[place] for place in np.linspace(0, len(value) - 1, _MOST_ROWS).astype(int)]
        mean = "" if isinstance(value[0], str) else f", mean {np.mean(value):.9g}"
        yield f"{name}: {_plain(some)} of {len(value)}{mean}"
    else:
        yield f"{name}: {_plain(value)}"


def _plain(value: Any) -> str:
    """A number without the last figures, which hang on the processor."""
    if isinstance(value, list):
        return ", ".join(map(_plain, value))
    return f"{value:.9g}" if isinstance(value, float) else str(value)


def lines_of(drawing: Drawing) -> Iterator[str]:
    yield f"paper {_n(drawing.width_mm, drawing.height_mm)} {drawing.background}"
    for index, place in enumerate(drawing.panels):
        yield f"panel {index}: {_n(*place.inner)}"
        for axis, scale in place.scales.items():
            yield f"  {axis} {scale.kind} {scale.start:.9g} to {scale.end:.9g} by {scale.step:.6g}"
        for note in place.notes:
            yield f"  note: {note}"
    for item in drawing.items:
        yield from _item(item)
    for box in drawing.boxes:
        yield f"box {box.of} in {box.panel}: {_n(*box.rect)}"
    last = evolve(drawing, hand=len(drawing.panels) - 1)
    for of in dict.fromkeys(box.of for box in drawing.boxes):
        yield f"box {of} with the last panel in hand: {_n(*last.box_of(of) or ())}"


def _item(item: Item) -> Iterator[str]:
    head = f"{type(item).__name__} {item.of}"
    match item:
        case Text():
            more = f"{'bold ' if item.bold else ''}{item.colour} from {item.anchor:g}"
            turned = f" turned {_n(item.angle)}" if item.angle else ""
            at = f"at {_n(item.x, item.y)} of {_n(item.size_mm)}"
            yield f"{head} {at} {more}{turned}: {_runs(item.runs)!r}"
        case Lines():
            yield f"{head} {_stroke(item.stroke)}"
            yield from _rows(item.ends)
        case Path():
            yield f"{head} {_stroke(item.stroke)}"
            yield from _rows(item.points)
        case Fill():
            through = f" covering {_n(item.cover)}" if item.cover < 1 else ""
            yield f"{head} {item.colour}{through}"
            yield from _rows(item.points)
        case Crowd():
            yield f"{head} {_n(item.dot_mm, item.full)} on {item.paper} in {_n(*item.area)}"
            for part in item.parts:
                yield f"  {part.of} {part.colour}"
                yield from _rows(part.points)
        case Markers():
            yield f"{head} {item.shape} {_n(item.size_mm)} {item.fill} edge {_stroke(item.edge)}"
            yield from _rows(item.points, item.rows)
        case Rects():
            yield f"{head} {item.colour} edge {_stroke(item.edge)}"
            yield from _rows(item.corners, item.rows)


def _rows(values: Floats, rows: NDArray[np.intp] | None = None) -> Iterator[str]:
    """Some rows of an array evenly among all, with what they stand for, and the means of every
    column."""
    shown = np.unique(np.linspace(0, len(values) - 1, min(len(values), _MOST_SHOWN)).astype(int))
    for index in shown:
        of = f" row {rows[index]}" if rows is not None and len(rows) else ""
        yield f"  {index}{of}: {_n(*values[index])}"
    if len(values) > len(shown):
        yield f"  mean of {len(values)}: {_n(*np.nanmean(values, axis=0))}"


def _runs(runs: Rich) -> str:
    marks = {1: "^", -1: "_", 0: ""}
    return "".join(
        f"{marks[r.script]}{'/' * r.italic}{{{r.text}}}" if r.script or r.italic else r.text
        for r in runs
    )


def _stroke(stroke: Stroke) -> str:
    dashes = f" dashed {_n(*stroke.dashes)}" if stroke.dashes else ""
    return f"{stroke.colour} {stroke.width_mm:.3f}{dashes}"


def _n(*values: float) -> str:
    # what rounds to 0 has no sign
    return " ".join(f"{value + 0.0 if abs(value) > 0.005 else 0.0:.2f}" for value in values)


def demo_lines(folder: FilePath) -> Iterator[str]:
    """The demo files, or the parts that they are packed of, with their lengths and sums of
    control; and some of the readings of the long one."""
    for name, content in demo_files():
        parts = {name: content}
        if is_zipfile(io.BytesIO(content)):
            with ZipFile(io.BytesIO(content)) as package:
                parts = {f"{name} {info.filename} {info.date_time}": package.read(info)
                         for info in package.infolist()}  # fmt: skip
        for part, raw in parts.items():
            yield f"{part}: {len(raw)}, {crc32(raw):08x}"
    for name, outline in SHAPES.items():
        yield f"shape {name}: {_n(*outline.ravel()) if outline is not None else 'round'}"
    write_buoy_decade(folder / "buoy-decade.parquet", 1000)
    (table,) = read_file(folder / "buoy-decade.parquet")
    for column in table.columns:
        yield from _told(f"{column.name} in {column.unit}", column.values.tolist())


if __name__ == "__main__":
    with TemporaryDirectory() as place:
        (DATA / "demo.txt").write_text("\n".join(demo_lines(FilePath(place))) + "\n")
    FOLDER.mkdir(exist_ok=True)
    for old in FOLDER.glob("*.txt"):
        old.unlink()
    for name, make in FIGURES.items():
        (FOLDER / f"{name}.txt").write_text(drawn_text(make()))
