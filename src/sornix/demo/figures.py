"""The demo figures: documents made from the demo readings."""

from collections.abc import Callable
from typing import NamedTuple

from attrs import evolve

from sornix.core.document import Document, new_document
from sornix.core.figure import Panel, Scale, Series, add_trend
from sornix.core.readings import Table, read_text
from sornix.demo.readings import demo_text


class Demo(NamedTuple):
    """A demo figure: its name in files and commands, its words in menus, its readings."""

    name: str
    words: str
    make: Callable[[Table], Document]


def _nitrate_standards(table: Table) -> Document:
    document = new_document(table)
    figure = add_trend(document.figure, "s1")
    return evolve(document, figure=evolve(figure, title="Nitrate standards, 12 March run"))


def _depth_profile(table: Table) -> Document:
    document = new_document(table)
    panel = Panel(
        (
            Series("s1", table.name, "Temperature", "Depth", "line", 0, "temperature / °C"),
            Series("s2", table.name, "Dissolved oxygen", "Depth", "points-and-line", 1,
                   "oxygen / mg L^-1"),
        ),
        Scale(start=0.0, title="Temperature / °C, dissolved oxygen / mg L^-1"),
        Scale(start=0.0, end=24.0, step=4.0, reversed=True, grid=True),
    )  # fmt: skip
    figure = evolve(
        document.figure, panels=(panel,), title="Brenn Mere at buoy B2, late August",
        width_mm=85.0, height_mm=90.0,
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
    )
    figure = evolve(
        document.figure, panels=(panel,), title="Clarity ranks, March to October",
        width_mm=120.0, height_mm=75.0,
    )  # fmt: skip
    return evolve(document, figure=figure)


DEMOS: dict[str, Demo] = {
    demo.name: demo
    for demo in (
        Demo("nitrate-standards", "Nitrate standards", _nitrate_standards),
        Demo("depth-profile", "Depth profile", _depth_profile),
        Demo("site-ranks", "Site ranks", _site_ranks),
    )
}


def demo_document(name: str) -> Document:
    """The document of a demo figure. Raises KeyError."""
    demo = DEMOS[name]
    table = read_text(demo_text(name).encode(), name, where=f"{name}.csv")
    return demo.make(table)
