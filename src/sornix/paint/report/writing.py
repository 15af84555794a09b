"""Which files a report can be written as, and writing them."""

from collections.abc import Mapping
from pathlib import Path
from types import MappingProxyType

from sornix.core.errors import DocumentError
from sornix.core.files import write_atomically
from sornix.core.report import Report, Template
from sornix.paint.export import export
from sornix.paint.exportfiles import file_names, told_of

# The endings of reports, in words.
REPORT_ENDINGS: Mapping[str, str] = MappingProxyType(
    {
        ".pdf": "PDF, pages for print",
        ".html": "HTML, one file for any browser",
        ".odt": "OpenDocument text, to go on writing",
        ".md": "Markdown, with pictures beside it",
    }
)


def report_paths(report: Report, path: Path) -> list[Path]:
    """The files that a report at a path comes to: Markdown has its pictures beside it. Raises
    DocumentError for an ending that no report has."""
    if path.suffix.lower() not in REPORT_ENDINGS:
        raise DocumentError(
            f"Reports cannot be written as “{path.suffix or 'a file without ending'}”.",
            where=str(path),
            remedy=f"Let the name end in one of {', '.join(REPORT_ENDINGS)}.",
        )
    if path.suffix.lower() != ".md":
        return [path]
    names = file_names((part.name for part in report.figures), "figure")
    stem = file_names([path.stem], "report")[0]
    return [path, *(path.with_name(f"{stem}-{name}.svg") for name in names)]


def write_report(report: Report, template: Template, path: Path) -> list[Path]:
    """Writes a report in the format of a path's ending; gives the files. Raises DocumentError."""
    paths = report_paths(report, path)
    match path.suffix.lower():
        case ".pdf":
            from sornix.paint.report.pdf import report_pdf

            content = report_pdf(report, template)
        case ".html":
            from sornix.paint.report.html import report_html

            content = report_html(report, template)
        case ".odt":
            from sornix.paint.report.odt import report_odt

            content = report_odt(report, template)
        case _:
            from sornix.paint.report.markdown import report_markdown

            for part, file in zip(report.figures, paths[1:], strict=True):
                told = told_of(part.document, part.drawing)
                write_atomically(file, export(part.drawing, ".svg", part.document.export, told))
            content = report_markdown(report, template, [file.name for file in paths[1:]])
    write_atomically(path, content)
    return paths
