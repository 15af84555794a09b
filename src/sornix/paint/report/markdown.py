"""A report as Markdown, with its pictures beside it."""

from collections.abc import Sequence

from sornix.core.patterns import pattern
from sornix.core.report import (
    Block,
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

# What Markdown would take for its own, HTML among it.
_MARKS = pattern(r"([\\`*_\[\]|]|<(?=[A-Za-z/!?]))")
# What makes a line that begins with it a list, a quotation or a heading.
_BEGINS = pattern(r"^(\d*)([#>+.)-])(?=\s|#|$)")


def report_markdown(report: Report, template: Template, pictures: Sequence[str]) -> bytes:
    """The report as Markdown; `pictures` are the names of the files of its figures."""
    parts = [f"# {_said(report.title)}"]
    if report.date:
        parts.append(_said(report.date))
    blocks = list(blocks_of(report, template))
    if template.contents:
        first = [b.text for b in blocks if isinstance(b, Heading) and b.level == 1]
        listed = "\n".join(f"- {_said(text)}" for text in first)
        parts.append(f"**{_said(template.contents)}**\n\n{listed}")
    parts += [_block(block, pictures) for block in blocks]
    return ("\n\n".join(parts) + "\n").encode("utf-8", "replace")


def _said(text: str) -> str:
    return _MARKS.sub(r"\\\1", " ".join(text.split()))


def _block(block: Block, pictures: Sequence[str]) -> str:
    match block:
        case Heading(text, level):
            return f"{'#' * (level + 1)} {_said(text)}"
        case Paragraph(text):
            return _BEGINS.sub(r"\1\\\2", _said(text))
        case Picture(part):
            file = pictures[part.number - 1].replace(" ", "%20")
            said = _said(part.caption)
            return f"![{said}]({file})\n\n**Figure {part.number}.** {said}"
        case Rows(rows):
            cells = [(row.name, row.value, row.about) for row in rows]
            return _table(("", "", ""), cells, (False, True, False))
        case Grid(heads, cells, numbers):
            return _table(heads, cells, numbers)
        case Verbatim(text):
            fence = "```"
            while fence in text:
                fence += "`"
            return f"{fence}\n{text}\n{fence}"


def _table(heads: Sequence[str], cells: Sequence[Sequence[str]], numbers: Sequence[bool]) -> str:
    lines = [heads, ["---:" if number else "---" for number in numbers]]
    said = [*([_said(one) for one in heads],), lines[1]]
    said += [[_said(one) for one in row] for row in cells]
    return "\n".join(f"| {' | '.join(row)} |" for row in said)
