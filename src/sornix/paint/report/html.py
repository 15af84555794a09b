"""A report as one HTML file: figures as SVG inside it, no script, nothing from elsewhere."""

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
from sornix.data import data_path
from sornix.paint.exportfiles import told_of
from sornix.paint.page.opening import opening
from sornix.paint.page.svgtext import SvgText, escaped, head
from sornix.paint.page.typeface import faces


def report_html(report: Report, template: Template) -> bytes:
    """The report as HTML."""
    writer = SvgText()
    blocks = list(blocks_of(report, template))
    body = "".join(_block(block, number, writer) for number, block in enumerate(blocks))
    colours = "".join(
        f".f{n}{{fill:{colour}}}.s{n}{{stroke:{colour}}}" for colour, n in writer.colours.items()
    )
    sheet = colours + faces(writer.letters) + data_path("report.css").read_text(encoding="utf-8")
    date = f'<p class="date">{escaped(report.date)}</p>' if report.date else ""
    text = f"""{opening(report.title, sheet)}
<h1>{escaped(report.title)}</h1>
{date}
{_contents(blocks, template.contents)}
{body}
</main>
</body>
</html>
"""
    return text.encode("utf-8", "replace")


def _contents(blocks: list[Block], heading: str) -> str:
    if not heading:
        return ""
    entries = "".join(
        f'<li><a href="#h{number}">{escaped(block.text)}</a></li>'
        for number, block in enumerate(blocks)
        if isinstance(block, Heading) and block.level == 1
    )
    return (
        f'<nav aria-label="{escaped(heading)}"><h2>{escaped(heading)}</h2><ul>{entries}</ul></nav>'
    )


def _block(block: Block, number: int, writer: SvgText) -> str:
    match block:
        case Heading(text, level):
            tag = f"h{min(level + 1, 6)}"
            return f'<{tag} id="h{number}">{escaped(text)}</{tag}>\n'
        case Paragraph(text):
            return f"<p>{escaped(text)}</p>\n"
        case Picture(part):
            return (
                f"<figure>{_svg(part, writer)}<figcaption><b>Figure {part.number}.</b> "
                f"{escaped(part.caption)}</figcaption></figure>\n"
            )
        case Rows(rows):
            lines = "".join(
                f'<tr><th scope="row">{escaped(row.name)}</th><td>{escaped(row.value)}</td>'
                f"<td>{escaped(row.about)}</td></tr>"
                for row in rows
            )
            return f"<table><tbody>{lines}</tbody></table>\n"
        case Grid(heads, cells, numbers):
            first = "".join(f'<th scope="col">{escaped(one)}</th>' for one in heads)
            kinds = ["<td class=n>" if number else "<td>" for number in numbers]
            lines = "".join(
                "<tr>"
                + "".join(f"{k}{escaped(c)}</td>" for k, c in zip(kinds, row, strict=True))
                + "</tr>"
                for row in cells
            )
            top = f"<thead><tr>{first}</tr></thead>"
            return f'<table class="grid">{top}<tbody>{lines}</tbody></table>\n'
        case Verbatim(text):
            return f"<pre>{escaped(text)}</pre>\n"


def _svg(part: FigurePart, writer: SvgText) -> str:
    drawing = part.drawing
    writer.shapes = {}
    writer.prefix = f"p{part.number}-"
    items = "".join(map(writer.group, drawing.items))
    told = told_of(part.document, drawing)
    title = f'<title id="said{part.number}">{escaped(told.title)} {escaped(told.text)}</title>'
    paper = writer.colour(drawing.background)
    begin = head(drawing).replace('"said"', f'"said{part.number}"')
    return (
        f"{begin}{title}<defs>{writer.defs()}</defs>"
        f'<rect class="f{paper}" width="100%" height="100%"/>{items}</svg>'
    )
