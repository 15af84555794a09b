"""A report as PDF: pages with numbers, a table of contents, figures in their true size as areas
and lines, tagged for those who read by ear. Set by Typst."""

import json
import tempfile
from pathlib import Path

from sornix.core.errors import DocumentError
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
from sornix.paint.export import export
from sornix.paint.exportfiles import told_of
from sornix.paint.fonts import font_file

# The width of what stands on a page of A4, and the height that leaves room for a caption, in mm.
_WIDE_MM, _HIGH_MM = 174.0, 225.0
_SHEET = """
#set page(paper: "a4", margin: (x: 18mm, top: 20mm, bottom: 20mm), numbering: "1 / 1")
#set text(font: "Source Sans Pro", size: 10.5pt, lang: "en")
#set par(leading: 0.6em, spacing: 0.9em)
#show title: set text(size: 22pt, weight: 600)
#show heading: set text(weight: 600)
#show heading.where(level: 1): set text(size: 15pt)
#show heading.where(level: 2): set text(size: 12pt)
#show heading.where(level: 3): set text(size: 10.5pt)
#show heading: set block(above: 1.6em, below: 0.8em)
#show figure.caption: set align(left)
#show figure: set align(left)
#show figure: set block(breakable: false)
#show raw: set text(font: "Source Sans Pro", size: 9.5pt)
#set table(stroke: none, inset: (x: 0pt, y: 2.2pt), column-gutter: 14pt)
"""


def report_pdf(report: Report, template: Template) -> bytes:
    """The report as PDF. Raises DocumentError."""
    import typst

    blocks = list(blocks_of(report, template))
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place)
        for part in report.figures:
            content = export(part.drawing, ".pdf", part.document.export)
            (folder / f"{part.number}.pdf").write_bytes(content)
        source = _source(report, template, blocks)
        (folder / "report.typ").write_text(source, encoding="utf-8", errors="replace")
        fonts = [str(font_file(italic=False, bold=False).parent)]
        try:
            made = typst.compile(
                str(folder / "report.typ"), root=place, format="pdf", font_paths=fonts,
                ignore_system_fonts=True,
            )  # fmt: skip
        except (RuntimeError, typst.TypstError) as error:
            raise DocumentError(f"The report could not be set ({error}).") from error
    assert isinstance(made, bytes)
    return made


def _source(report: Report, template: Template, blocks: list[Block]) -> str:
    parts = [
        f"#set document(title: {_text(report.title)}, date: none)",
        _SHEET,
        f"#title({_text(report.title)})",
    ]
    if report.date:
        parts.append(f"#text(fill: luma(90), {_text(report.date)})")
    if template.contents:
        parts.append(f"#outline(title: {_text(template.contents)}, depth: 1)")
    parts += map(_block, blocks)
    return "\n".join(parts)


def _text(text: str) -> str:
    """A text as a string of Typst, in which nothing is a command."""
    # its escapes are those of JSON, but for those of single characters by number
    clean = "".join(c if c >= " " or c == "\n" else " " for c in text)
    clean = clean.encode("utf-8", "replace").decode("utf-8")
    return json.dumps(clean, ensure_ascii=False)


def _block(block: Block) -> str:
    match block:
        case Heading(text, level):
            return f"#heading(level: {level}, {_text(text)})"
        case Paragraph(text):
            return f"#par({_text(text)})"
        case Picture(part):
            return _picture(part)
        case Rows(rows):
            cells = [
                f"text(fill: luma(90), {_text(row.name)}), {_text(row.value)}, "
                f"text(fill: luma(90), {_text(row.about)})"
                for row in rows
            ]
            return f"#table(columns: (auto, auto, 1fr), {', '.join(cells)})"
        case Grid(heads, cells, numbers):
            first = ", ".join(f"strong({_text(head)})" for head in heads)
            inside = ", ".join(_text(cell) for row in cells for cell in row)
            sides = ", ".join("right" if number else "left" for number in numbers)
            width = f"columns: {len(heads)}, align: ({sides},), inset: (x: 0pt, y: 3pt)"
            return (
                f"#text(size: 9pt, table({width}, table.header({first}), "
                f"table.hline(stroke: 0.4pt), {inside}))"
            )
        case Verbatim(text):
            return f"#raw(block: true, {_text(text)})"


def _picture(part: FigurePart) -> str:
    drawing = part.drawing
    size, caption = part.fitted(_WIDE_MM, _HIGH_MM)
    told = told_of(part.document, drawing)
    alt = f"{told.title} {told.text}".strip() or told.called
    image = f'image("{part.number}.pdf", width: {size * drawing.width_mm:.3f}mm, alt: {_text(alt)})'
    kind = 'kind: image, supplement: [Figure], numbering: "1"'
    return f"#figure({image}, caption: {_text(caption)}, {kind})"
