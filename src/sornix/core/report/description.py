"""What a report says of a document: of each figure its picture, its caption, how it was made, its
trends in numbers, what was noted, and what was left out and why."""

from collections.abc import Callable

from sornix.core.cautions import find_cautions
from sornix.core.document import Document, figure_names
from sornix.core.drawing import Drawing, Measure, draw_figure
from sornix.core.errors import DocumentError
from sornix.core.figure import Figure, caption, column_or_rows, series_name, waiting
from sornix.core.figure.prose.caption import shown_words
from sornix.core.figure.prose.methods import methods_text
from sornix.core.figure.prose.trendreport import report_sections
from sornix.core.frozen import frozen
from sornix.core.letters import printable
from sornix.core.readings import Table, Tables, table_named
from sornix.core.statement import write_statement
from sornix.core.text import plain_text, plural, rich, row_words
from sornix.core.trends.fits.account import Row, Section

# A longer table is no appendix, but a file of its own.
_MOST_ROWS = 5000


@frozen(eq=False)
class FigurePart:
    """What is said of a figure, the `number`-th of the report. `drawing` is its picture, and
    `document` what it is exported from."""

    number: int
    name: str
    document: Document
    drawing: Drawing
    caption: str
    methods: str
    trends: tuple[Section, ...]
    cautions: tuple[str, ...]
    left_out: tuple[Row, ...]
    statement: str

    def fitted(self, width_mm: float, height_mm: float) -> tuple[float, str]:
        """At what part of its size the figure fits a page of that room, at most whole, and its
        caption, which tells where it is less."""
        part = min(1.0, width_mm / self.drawing.width_mm, height_mm / self.drawing.height_mm)
        if round(100 * part) == 100:
            return part, self.caption
        return part, f"{self.caption} Shown at {100 * part:.0f} % of its size."


@frozen(eq=False)
class Report:
    """All of it, under a title and a date, which are texts as they are to stand there. `readings`
    are the tables of the appendix, none unless they were asked for."""

    title: str
    date: str
    figures: tuple[FigurePart, ...]
    readings: tuple[Table, ...] = ()


def report_title(document: Document, place: int = 0) -> str:
    """The title of a report that nobody gave one: what its first figure is called, or where the
    readings of one without a name come from."""
    figure = document.figures[place]
    named = figure.name or figure.title
    return figure_names(document)[place] if named else figure.panel.series[0].table


def report_of(
    document: Document, measure: Measure, *, title: str = "", date: str = "",
    readings: bool = False, places: tuple[int, ...] | None = None,
    tell: Callable[[float], None] = lambda _: None,
) -> Report:  # fmt: skip
    """The report of a document, or of the figures at some `places`; `tell` hears what part of it is
    done. Raises SornixError where a figure cannot be drawn, or a table is too long."""
    names = figure_names(document)
    wanted = places if places is not None else tuple(range(len(names)))
    parts = []
    for number, place in enumerate(wanted, 1):
        figure = document.figures[place]
        shown = "" if figure.name or figure.title else shown_words(figure, document.tables)
        name = shown or names[place]
        parts.append(_part(document.looking_at(place), name, number, measure))
        tell(number / len(wanted))
    said = " ".join(title.split()) or report_title(document, wanted[0])
    tables = _drawn_tables(parts, document.tables) if readings else ()
    return Report(printable(said), printable(date), tuple(parts), tables)


def _part(document: Document, name: str, number: int, measure: Measure) -> FigurePart:
    figure, tables = document.figure, document.tables
    with waiting():
        drawing = draw_figure(figure, tables, measure)
        equations = drawing.equations
        sections: list[Section] = []
        for index, place in enumerate(drawing.panels):
            found = report_sections(figure.seen(index), tables, place.equations)
            before = f"{figure.heading(index)} " if len(figure.panels) > 1 else ""
            sections += [s._replace(heading=f"{before}{s.heading}") for s in found]
        cautions = find_cautions(figure, tables, drawing)
        return FigurePart(
            number, printable(name), document, drawing,
            caption(figure, tables, equations, drawing.shades),
            methods_text(figure, tables),
            # what was left out is told of the figure, with its readings
            tuple(s for s in sections if not s.heading.endswith("Left out")),
            tuple(f"{'Noted: ' if c.noted else ''}{c.text}" for c in cautions if not c.mild),
            _left_out(figure, tables),
            write_statement(figure, tables, plotted=True),
        )  # fmt: skip


def _left_out(figure: Figure, tables: Tables) -> tuple[Row, ...]:
    """The readings that take no part in trends, with their values and why."""
    found = []
    for index in range(len(figure.panels)):
        panel = figure.seen(index)
        for series in panel.shown:
            table = table_named(tables, series.table)
            x, y = (column_or_rows(table, name) for name in (series.x, series.y))
            of = plain_text(rich(series_name(panel, series, tables)))
            several = len(panel.series) > 1 or len(figure.panels) > 1
            for left in series.left_out:
                where = f"{of}, {row_words(left.row)}" if several else row_words(left.row)
                values = f"{x.name} {x.cell(left.row)}, {y.name} {y.cell(left.row)}"
                found.append(Row(where, values, left.reason or "no reason given"))
    return tuple(found)


def _drawn_tables(parts: list[FigurePart], tables: Tables) -> tuple[Table, ...]:
    """The tables that the figures are drawn from. Raises DocumentError for one that is too long."""
    used = {
        series.table for part in parts for panel in part.document.figure.panels
        for series in panel.series
    }  # fmt: skip
    found = tuple(table for table in tables if table.name in used)
    for table in found:
        if table.row_count > _MOST_ROWS:
            raise DocumentError(
                f"“{table.name}” has {plural(table.row_count, 'row')}, too many for an appendix.",
                remedy="Leave the readings out of the report, and save them as a file beside it.",
            )
    return found
