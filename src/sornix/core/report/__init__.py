"""A report of a document: what is in it, and in which order it stands."""

from sornix.core.report.blocks import (
    Block,
    Grid,
    Heading,
    Paragraph,
    Picture,
    Rows,
    Verbatim,
    blocks_of,
)
from sornix.core.report.description import FigurePart, Report, report_of, report_title
from sornix.core.report.templates import TEMPLATES, Template, read_template

__all__ = [
    "TEMPLATES",
    "Block",
    "FigurePart",
    "Grid",
    "Heading",
    "Paragraph",
    "Picture",
    "Report",
    "Rows",
    "Template",
    "Verbatim",
    "blocks_of",
    "read_template",
    "report_of",
    "report_title",
]
