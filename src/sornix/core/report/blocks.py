"""A report as blocks, one after the other: every format writes these."""

from collections.abc import Iterator
from typing import NamedTuple

from sornix.core.readings import Column
from sornix.core.readings.tables.shown import shown_cell
from sornix.core.report.description import FigurePart, Report
from sornix.core.report.templates import Template
from sornix.core.text import unit_words
from sornix.core.trends.fits.account import Row


class Heading(NamedTuple):
    """A heading of a level from 1 (figures, appendices) on."""

    text: str
    level: int


class Paragraph(NamedTuple):
    text: str


class Picture(NamedTuple):
    """A figure with its caption, in its true size."""

    part: FigurePart


class Rows(NamedTuple):
    """Names, values and remarks."""

    rows: tuple[Row, ...]


class Grid(NamedTuple):
    """A table of readings: heads and cells by row. `numbers` says of each column whether it is of
    numbers."""

    heads: tuple[str, ...]
    cells: tuple[tuple[str, ...], ...]
    numbers: tuple[bool, ...]


class Verbatim(NamedTuple):
    """Lines as they were written."""

    text: str


Block = Heading | Paragraph | Picture | Rows | Grid | Verbatim


def blocks_of(report: Report, template: Template) -> Iterator[Block]:
    """All blocks behind title, date and contents."""
    for part in report.figures:
        yield Heading(f"{part.number} {part.name}", 1)
        for name in template.figure:
            found = list(_said(part, name))
            if found and template.heading(name):
                yield Heading(template.heading(name), 2)
            yield from found
    for name in template.end:
        found = list(_at_the_end(report, name))
        if found:
            yield Heading(template.heading(name) or name.capitalize(), 1)
            yield from found


def _said(part: FigurePart, name: str) -> Iterator[Block]:
    """A part of what is said of a figure; nothing where there is nothing to say."""
    match name:
        case "picture":
            yield Picture(part)
        case "methods":
            yield Paragraph(part.methods)
        case "trends":
            for section in part.trends:
                yield Heading(section.heading, 3)
                if section.rows:
                    yield Rows(section.rows)
                yield from map(Paragraph, section.sentences)
        case "cautions":
            yield from map(Paragraph, part.cautions)
        case "left-out":
            if part.left_out:
                yield Rows(part.left_out)
        case "statement":
            yield Verbatim(part.statement)


def _at_the_end(report: Report, name: str) -> Iterator[Block]:
    if name == "statements":
        for part in report.figures:
            yield Heading(f"{part.number} {part.name}", 2)
            yield Verbatim(part.statement)
        return
    for table in report.readings:
        yield Heading(table.name, 2)
        columns = [
            [shown_cell(column, row, column.decimals) for row in range(table.row_count)]
            for column in table.columns
        ]
        cells = tuple(zip(*columns, strict=True))
        numbers = tuple(column.has_places for column in table.columns)
        yield Grid(tuple(map(_headed, table.columns)), cells, numbers)


def _headed(column: Column) -> str:
    """The head of a column with its unit, which stays in one line."""
    unit = unit_words(column.unit).replace(" ", "\u00a0")
    return f"{column.name} ({unit})" if unit else column.name
