"""A report as OpenDocument text: figures as vector pictures in their true size, with a picture of
dots for programs that do not draw these."""

import io
from typing import Any

from sornix.core.document import Export
from sornix.core.letters import printable
from sornix.core.patterns import pattern
from sornix.core.report import (
    Block,
    FigurePart,
    Grid,
    Heading,
    Paragraph,
    Picture,
    Report,
    Rows,
    Template,
    Verbatim,
    blocks_of,
)
from sornix.core.trends.fits.account import Row
from sornix.paint.export import export
from sornix.paint.exportfiles import told_of

_WIDE_MM, _HIGH_MM = 170.0, 220.0


def report_odt(report: Report, template: Template) -> bytes:
    """The report as OpenDocument text."""
    from odfdo import TOC, Document, Header, Style
    from odfdo import Paragraph as OdfParagraph

    document = Document("text")
    body = document.body
    body.clear()
    meta = document.meta
    meta.title = report.title
    meta.generator = "Sornix"
    for name, properties in (
        ("SornixTitle", {"fo:font-size": "22pt", "fo:font-weight": "bold"}),
        ("SornixSaid", {"fo:font-size": "9.5pt", "fo:color": "#566462"}),
    ):
        style = Style("paragraph", name=name)
        style.set_properties(properties, area="text")
        document.insert_style(style)
    _set_pages(document)
    body.append(OdfParagraph(printable(report.title), style="SornixTitle"))
    if report.date:
        body.append(OdfParagraph(printable(report.date)))
    blocks = list(blocks_of(report, template))
    if template.contents:
        toc = TOC(title=printable(template.contents), outline_level=1)
        body.append(toc)
    for block in blocks:
        if isinstance(block, Heading):
            body.append(Header(block.level, printable(block.text)))
        else:
            _put(block, document)
    if template.contents:
        toc.fill(document)
        for entry in toc.get_elements("//text:index-body/text:p"):
            # the library counts them; figures have their numbers already
            entry.text = _COUNTED.sub("", entry.text_recursive)
    stream = io.BytesIO()
    document.save(stream)
    return stream.getvalue()


_COUNTED = pattern(r"^\d+\.\s")
# Margins of a page of A4, and the width of what stands between them, in mm.
_MARGIN_MM = 20.0


def _set_pages(document: Any) -> None:
    """Pages of A4, the typeface of the figures, and headings without numbers of their own."""
    styles = document.styles
    # figures have numbers, and these are no others
    for numbering in styles.get_elements("//text:outline-style"):
        numbering.delete()
    for properties in styles.get_elements("//style:page-layout-properties"):
        for name, value in (
            ("fo:page-width", "210mm"), ("fo:page-height", "297mm"),
            *((f"fo:margin-{side}", f"{_MARGIN_MM:g}mm")
              for side in ("top", "bottom", "left", "right")),
        ):  # fmt: skip
            properties.set_attribute(name, value)
    for properties in styles.get_elements("//style:text-properties"):
        for name in ("style:font-name", "fo:font-family"):
            if properties.get_attribute(name) is not None:
                properties.del_attribute(name)
        properties.set_attribute("fo:font-family", "'Source Sans 3', 'Source Sans Pro', sans-serif")


def _put(block: Block, document: Any) -> None:
    from odfdo import Paragraph as OdfParagraph

    body = document.body
    match block:
        case Paragraph(text):
            body.append(OdfParagraph(printable(text)))
        case Picture(part):
            _put_picture(part, document)
        case Rows(rows):
            _put_table([], [_cells(row) for row in rows], (38.0, 50.0, 82.0), document)
        case Grid(heads, cells, _):
            wide = _WIDE_MM / len(heads)
            _put_table(list(heads), [list(row) for row in cells], (wide,) * len(heads), document)
        case Verbatim(text):
            for line in text.splitlines():
                body.append(OdfParagraph(printable(line), style="SornixSaid"))


def _cells(row: Row) -> list[str]:
    return [row.name, row.value, row.about]


def _put_table(
    heads: list[str], cells: list[list[str]], widths: tuple[float, ...], document: Any
) -> None:
    from odfdo import Cell, Column, Style, Table
    from odfdo import Row as OdfRow

    number = len(document.body.get_tables()) + 1
    table = Table(f"Table {number}")
    for line in ([heads] if heads else []) + cells:
        row = OdfRow()
        for text in line:
            row.append_cell(Cell(text=printable(text), cell_type="string"))
        table.append_row(row)
    columns = []
    for width in widths:
        name = f"SornixWide{width:.0f}"
        if document.get_style("table-column", name) is None:
            style = Style("table-column", name=name, width=f"{width:.1f}mm")
            document.insert_style(style, automatic=True)
        columns.append(Column(style=name))
    for place, column in enumerate(columns):
        table.set_column(place, column)
    document.body.append(table)


def _put_picture(part: FigurePart, document: Any) -> None:
    from odfdo import DrawImage, Element, Frame
    from odfdo import Paragraph as OdfParagraph

    drawing = part.drawing
    told = told_of(part.document, drawing)
    size, caption = part.fitted(_WIDE_MM, _HIGH_MM)
    outlined = Export(outlines=True)
    names = []
    for ending, how in ((".svg", outlined), (".png", Export(dots_per_inch=300.0))):
        kind = {".svg": "image/svg+xml", ".png": "image/png"}[ending]
        name = f"Pictures/figure{part.number}{ending}"
        document.container.set_part(name, export(drawing, ending, how, told))
        document.manifest.add_full_path(name, kind)
        names.append(name)
    frame = Frame(
        name=f"Figure {part.number}", anchor_type="as-char",
        size=(f"{size * drawing.width_mm:.2f}mm", f"{size * drawing.height_mm:.2f}mm"),
    )  # fmt: skip
    # the first that a program knows is drawn
    for name in names:
        frame.append(DrawImage(name))
    for tag, text in (("svg:title", told.title), ("svg:desc", told.text)):
        if text:
            one = Element.from_tag(tag)
            one.text = printable(text)
            frame.append(one)
    holder = OdfParagraph("")
    holder.append(frame)
    document.body.append(holder)
    document.body.append(OdfParagraph(printable(f"Figure {part.number}. {caption}")))
