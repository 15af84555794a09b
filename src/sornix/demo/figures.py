"""The demo figures: documents made from the demo readings."""

from collections.abc import Callable
from typing import NamedTuple

from attrs import evolve

from sornix.core.document import Document, change_table, new_document
from sornix.core.figure import (
    ErrorBars,
    Only,
    Panel,
    Scale,
    Series,
    add_curve,
    add_trend,
    change_series,
    change_trend,
    set_constant,
    set_mark,
    split_series,
)
from sornix.core.readings import Source, Table, read_text
from sornix.demo.readings import DEMO_READINGS, lake_survey


class Demo(NamedTuple):
    """A demo figure: its name in files and commands, its words in menus, its readings."""

    name: str
    words: str
    make: Callable[[Table], Document]
    tables: Callable[[], tuple[Table, ...]] | None = None
    # the file, where it is not of the figure's name
    readings: str = ""


def _nitrate_standards(table: Table) -> Document:
    document = new_document(table)
    figure = add_trend(document.figure, "s1")
    return evolve(document, figure=evolve(figure, title="Nitrate standards, 12 March run"))


def _depth_profile(table: Table) -> Document:
    document = new_document(table)
    panel = Panel(
        (
            Series("s1", table.name, "Temperature", "Depth", "line", 0),
            Series("s2", table.name, "Dissolved oxygen", "Depth", "points-and-line", 1,
                   x_axis="x2"),
        ),
        Scale(start=0.0),
        Scale(start=0.0, end=24.0, step=4.0, reversed=True, grid=True),
        x2=Scale(zero=True),
    )  # fmt: skip
    figure = evolve(
        document.figure, panels=(panel,), title="Brenn Mere at buoy B2, late August",
        width_mm=84.0, height_mm=90.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _depth_panels(table: Table) -> Document:
    """The same profile in two panels beside each other that share the depth."""
    document = new_document(table)
    depth = Scale(start=0.0, end=24.0, step=4.0, reversed=True, grid=True)
    panels = tuple(
        Panel((Series(f"s{i + 1}", table.name, name, "Depth", "points-and-line", i),),
              Scale(zero=True), depth, column=i)
        for i, name in enumerate(("Temperature", "Dissolved oxygen"))
    )  # fmt: skip
    figure = evolve(
        document.figure, panels=panels, title="Brenn Mere at buoy B2, late August", share="y",
        letters=True, width_mm=140.0, height_mm=85.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _site_ranks(table: Table) -> Document:
    document = new_document(table)
    series = tuple(
        Series(f"s{i + 1}", table.name, "Month", column.name, "points-and-line", i)
        for i, column in enumerate(table.columns[1:])
    )
    panel = Panel(
        series,
        Scale(step=1.0, title="Month of the year"),
        Scale(start=1.0, end=6.0, step=1.0, reversed=True, title="Clarity rank"),
        names="ends",
    )
    figure = evolve(
        document.figure, panels=(panel,), title="Clarity ranks, March to October",
        width_mm=120.0, height_mm=75.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _buoy_week(table: Table) -> Document:
    document = new_document(table)
    columns = {"Level": "line", "Rain": "bars", "Water temperature": "line"}
    panels = tuple(
        Panel((Series(f"s{i + 1}", table.name, "Time", name, mark, i),), row=i)
        for i, (name, mark) in enumerate(columns.items())
    )
    figure = evolve(
        document.figure, panels=panels, title="Buoy B2 in the first week of May", share="x",
        letters=True, heights=(2.0, 1.0, 1.5), width_mm=140.0, height_mm=110.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _weekday_samples(table: Table) -> Document:
    """The same samples by their dates, with holes at weekends, and in order."""
    document = new_document(table)
    titles = {"time": "By date", "in-order": "In order"}
    panels = tuple(
        Panel(
            (Series(f"s{i + 1}", table.name, "Date", "Chlorophyll a", "points-and-line"),),
            Scale(kind), title=title, column=i,
        )
        for i, (kind, title) in enumerate(titles.items())
    )  # fmt: skip
    figure = evolve(
        document.figure, panels=panels, title="Chlorophyll on working days", share="y",
        letters=True, width_mm=174.0, height_mm=70.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _stage_discharge(table: Table) -> Document:
    document = new_document(table)
    panel = Panel(
        (Series("s1", table.name, "Water height", "Flow"),), Scale("log"), Scale("log", grid=True)
    )
    figure = evolve(document.figure, panels=(panel,), title="Rating of the Ashel, 40 gaugings")
    # a power law both ways: high water decides about the one, every gauging about the other
    figure = add_trend(figure, "s1", "power")
    figure = add_trend(figure, "s1", "power", on_logs=True)
    return evolve(document, figure=figure)


def _tracer_decay(table: Table) -> Document:
    """A release that mixes first and then falls to the background of the stream."""
    document = new_document(table)
    figure = set_mark(document.figure, document.tables, "s1", "points")
    figure = add_trend(figure, "s1", "decay", start=6.0)
    shows = ("equation", "r-squared", "count", "prediction")
    figure = change_trend(figure, "t1", shows=shows)
    return evolve(document, figure=evolve(figure, title="Dye after its release"))


def _respiration(table: Table) -> Document:
    document = new_document(table)
    document = change_table(document, table.name, "convert", column="Temperature", unit="K")
    panel = Panel(
        (Series("s1", table.name, "Temperature", "Respiration rate"),),
        Scale("reciprocal", reversed=True),
        Scale("log", grid=True),
    )
    figure = evolve(document.figure, panels=(panel,), title="Respiration of sediment")
    figure = add_trend(figure, "s1", "arrhenius", on_logs=True)
    return evolve(document, figure=figure)


def _snail_counts(table: Table) -> Document:
    """The means of four traps before and after: side by side with their spread, stacked, lying, and
    as shares."""
    document = new_document(table)
    document = change_table(
        document, table.name, "repair", column="Snails", form="unit", way="strip"
    )

    def panel(place: int, words: str, how: str = "beside") -> Panel:
        lying, spread = words == "Lying", ErrorBars("sd") if place == 0 else None
        x, y = ("Snails", "Site") if lying else ("Site", "Snails")
        series = tuple(
            Series(
                f"s{2 * place + look + 1}", table.name, x, y, "bars", look, together="mean",
                only=Only("Planting", value), errors_y=spread,
            )
            for look, value in enumerate(("before", "after"))
        )  # fmt: skip
        # the first site of the table stands at the top
        scales = (Scale(grid=True), Scale(reversed=True)) if lying else (Scale(), Scale(grid=True))
        return Panel(series, *scales, title=words, row=place // 2, column=place % 2, bars=how,
                     names="free" if place == 0 else "none")  # fmt: skip

    panels = (
        panel(0, "Side by side, ± SD"), panel(1, "Stacked", "stacked"), panel(2, "Lying"),
        panel(3, "Shares of the whole", "shares"),
    )  # fmt: skip
    figure = evolve(
        document.figure, panels=panels, title="Snails per trap before and after the reed came",
        letters=True, width_mm=200.0, height_mm=150.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


def _light_response(table: Table) -> Document:
    document = new_document(table)
    series = Series(
        "s1", table.name, "Light", "Oxygen production", "points",
        errors_y=ErrorBars("column", column="SD of production"),
    )  # fmt: skip
    figure = evolve(document.figure, panels=(Panel((series,)),))
    figure = add_curve(figure, "P * x / (K + x) - R", "saturation")
    for name, value in {"P": 12.3, "K": 160.0, "R": 1.5}.items():
        figure = set_constant(figure, "c1", name, value)
    return evolve(document, figure=evolve(figure, title="Water weed in the light"))


def _replicates(table: Table) -> Document:
    """The standards, one series for each replicate."""
    document = new_document(table)
    figure = split_series(document.figure, document.tables, "s1", "Replicate")
    return evolve(document, figure=evolve(figure, title="Nitrate standards by replicate"))


def _lake_survey(table: Table) -> Document:
    document = new_document(table)
    figure = change_series(
        document.figure, document.tables, "s1", x="Phosphate", y="Chlorophyll a", mark="points"
    )
    figure = evolve(add_trend(figure, "s1"), title="What greens the mere, three summer rounds")
    return evolve(document, figure=figure)


def _survey_sheets() -> tuple[Table, ...]:
    from sornix.core.readings.files.rowwise import table_of_rows

    sheets = [table_of_rows(rows, name) for name, rows in lake_survey().items()]
    # the chemistry is what is drawn
    return sheets[1], sheets[0], sheets[2]


DEMOS: dict[str, Demo] = {
    demo.name: demo
    for demo in (
        Demo("nitrate-standards", "Nitrate standards", _nitrate_standards),
        Demo("depth-profile", "Depth profile", _depth_profile),
        Demo("depth-panels", "Depth in two panels", _depth_panels, readings="depth-profile"),
        Demo("site-ranks", "Site ranks", _site_ranks),
        Demo("buoy-week", "Buoy week", _buoy_week),
        Demo("weekday-samples", "Weekday samples", _weekday_samples),
        Demo("stage-discharge", "Rating curve", _stage_discharge),
        Demo("tracer-decay", "Tracer decay", _tracer_decay),
        Demo("respiration-temperature", "Respiration", _respiration),
        Demo("snail-counts", "Snail counts", _snail_counts),
        Demo("light-response", "Light response", _light_response),
        Demo("standards-by-replicate", "By replicate", _replicates, readings="nitrate-standards"),
        Demo("lake-survey", "Lake survey", _lake_survey, _survey_sheets),
    )
}


def demo_document(name: str) -> Document:
    """The document of a demo figure. Raises KeyError."""
    demo = DEMOS[name]
    if demo.tables is not None:
        tables = demo.tables()
    else:
        source = demo.readings or name
        file = DEMO_READINGS[source]
        raw = file.make().encode(file.encoding)
        table = read_text(raw, source, where=source + file.ending)
        tables = (evolve(table, source=Source(text=raw)),)
    document = demo.make(tables[0])
    return evolve(document, tables=(*document.tables, *tables[1:]))
