"""A figure as PNG, SVG or PDF at its true size, written whole or not at all."""

import io
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from sornix.core.document import Export
from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError
from sornix.core.files import write_atomically
from sornix.core.text import spoken
from sornix.paint.painter import paint
from sornix.paint.pngfile import png_of

_MM_PER_INCH = 25.4
# half a gigabyte of picture; A1 at 300 dots to the inch has 70 million
_MOST_DOTS = 120_000_000
_PREVIEW_DOTS = 1200
_PDF_DOTS_PER_INCH = 1200
PLAIN = Export()


class Told(NamedTuple):
    """What a file says of its figure to those who cannot see it: a title and a text; and how it is
    called, with a title or without."""

    title: str = ""
    text: str = ""
    called: str = "Figure"


_NOTHING = Told()


def picture_size(drawing: Drawing, how: Export = PLAIN) -> tuple[int, int]:
    """Width and height in dots of a picture of the drawing."""
    dots = how.dots_per_mm(drawing.width_mm)
    return max(round(drawing.width_mm * dots), 1), max(round(drawing.height_mm * dots), 1)


def image(drawing: Drawing, dots_per_mm: float, *, transparent: bool = False) -> QImage:
    """The drawing as a picture of `dots_per_mm` dots to the millimetre. Raises DocumentError."""
    width = max(round(drawing.width_mm * dots_per_mm), 1)
    height = max(round(drawing.height_mm * dots_per_mm), 1)
    form = QImage.Format.Format_ARGB32 if transparent else QImage.Format.Format_RGB32
    picture = QImage(width, height, form)
    if picture.isNull():
        raise DocumentError(
            "There is not enough memory for this picture.", remedy="Ask for fewer dots."
        )
    picture.fill(0x00FFFFFF if transparent else 0xFFFFFFFF)
    picture.setDotsPerMeterX(round(dots_per_mm * 1000))
    picture.setDotsPerMeterY(round(dots_per_mm * 1000))
    painter = QPainter(picture)
    paint(drawing, painter, dots_per_mm, raster=True, background=not transparent)
    painter.end()
    return picture


def png(drawing: Drawing, how: Export = PLAIN, told: Told = _NOTHING) -> bytes:
    """PNG at the figure's true size. Raises DocumentError where that is too many dots."""
    dots_per_mm = how.dots_per_mm(drawing.width_mm)
    if drawing.width_mm * drawing.height_mm * dots_per_mm**2 > _MOST_DOTS:
        raise DocumentError(
            f"At {spoken(dots_per_mm * _MM_PER_INCH)} dots to the inch this figure is too large "
            "for a picture.",
            remedy="Make the figure smaller, or write it as SVG or PDF.",
        )
    made = image(drawing, dots_per_mm, transparent=how.transparent)
    texts = {"Title": told.title, "Description": told.text}
    return png_of(made, {keyword: text for keyword, text in texts.items() if text})


def preview(drawing: Drawing) -> bytes:
    """PNG for a document's preview: 150 dots to the inch, fewer for large figures."""
    side_inches = max(drawing.width_mm, drawing.height_mm) / _MM_PER_INCH
    return png(drawing, Export(dots_per_inch=max(min(150.0, _PREVIEW_DOTS / side_inches), 20.0)))


def svg(drawing: Drawing, how: Export = PLAIN, told: Told = _NOTHING) -> bytes:
    """SVG in units of 1/100 mm, its text as text, or as outlines."""
    from PyQt6.QtSvg import QSvgGenerator

    def write(device: QIODevice) -> None:
        generator = QSvgGenerator()
        generator.setOutputDevice(device)
        units = 100.0
        size = QRectF(0, 0, drawing.width_mm * units, drawing.height_mm * units)
        generator.setResolution(round(units * _MM_PER_INCH))
        generator.setSize(QRectF(size).size().toSize())
        generator.setViewBox(size)
        generator.setTitle(told.title)
        generator.setDescription(told.text)
        painter = QPainter(generator)
        paint(drawing, painter, units, background=not how.transparent, outlines=how.outlines,
              dots_per_mm=how.dots_per_mm(drawing.width_mm))  # fmt: skip
        painter.end()

    content = _written(write)
    return content.replace(b"<svg ", b'<svg role="img" ', 1)


def pdf(drawing: Drawing, how: Export = PLAIN, told: Told = _NOTHING) -> bytes:
    """PDF of one page of the figure's size, vector, fonts embedded, with an alternative text."""

    def write(device: QIODevice) -> None:
        writer = QPdfWriter(device)
        writer.setResolution(_PDF_DOTS_PER_INCH)
        writer.setTitle(told.title)
        size = QPageSize(
            QSizeF(drawing.width_mm, drawing.height_mm),
            QPageSize.Unit.Millimeter,
            "figure",
            QPageSize.SizeMatchPolicy.ExactMatch,
        )
        writer.setPageLayout(
            QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0))
        )
        painter = QPainter(writer)
        # or the shade of a crowd would be stored as JPEG
        painter.setRenderHint(QPainter.RenderHint.LosslessImageRendering)
        paint(drawing, painter, _PDF_DOTS_PER_INCH / _MM_PER_INCH, background=not how.transparent,
              dots_per_mm=how.dots_per_mm(drawing.width_mm))  # fmt: skip
        painter.end()

    return _finished_pdf(_written(write), drawing, told)


def _finished_pdf(content: bytes, drawing: Drawing, told: Told) -> bytes:
    """The PDF with its page's exact size, which Qt rounds to whole points (0.35 mm), and marked as
    a figure with an alternative text (ISO 32000-1, 14.7 and 14.9.3).

    What Qt painted hangs from the top of its rounded page, so the exact page keeps that top.
    """
    from pypdf import PdfReader, PdfWriter
    from pypdf.generic import (
        ArrayObject,
        BooleanObject,
        DecodedStreamObject,
        DictionaryObject,
        NameObject,
        NumberObject,
        RectangleObject,
        TextStringObject,
    )

    name = NameObject
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(content)))
    # the first version of PDF that knows of alternative texts is 1.4
    writer.pdf_header = "%PDF-1.7"
    page = writer.pages[0]
    width, height = (mm * 72 / _MM_PER_INCH for mm in (drawing.width_mm, drawing.height_mm))
    top = float(page.mediabox.top)
    box = RectangleObject((0, top - height, width, top))
    page.mediabox = box
    for other in ("/CropBox", "/TrimBox", "/BleedBox", "/ArtBox"):
        page.pop(other, None)
    writer.add_metadata({"/Title": told.called, "/Subject": told.text, "/Creator": "Sornix"})

    def stream(text: bytes) -> object:
        made = DecodedStreamObject()
        made.set_data(text)
        return writer._add_object(made)  # noqa: SLF001 - pypdf's own documentation asks for it

    was = page["/Contents"].get_object()
    parts = list(was) if isinstance(was, ArrayObject) else [page.raw_get("/Contents")]
    begin, end = stream(b"/Figure <</MCID 0>> BDC\n"), stream(b"\nEMC\n")
    page[name("/Contents")] = ArrayObject([begin, *parts, end])
    page[name("/StructParents")] = NumberObject(0)
    root = DictionaryObject({name("/Type"): name("/StructTreeRoot")})
    root_at = writer._add_object(root)  # noqa: SLF001
    figure = DictionaryObject(
        {
            name("/Type"): name("/StructElem"),
            name("/S"): name("/Figure"),
            name("/P"): root_at,
            name("/Pg"): page.indirect_reference,
            name("/K"): NumberObject(0),
            name("/Alt"): TextStringObject(told.text or told.called),
        }
    )
    figure_at = writer._add_object(figure)  # noqa: SLF001
    root[name("/K")] = figure_at
    numbers = ArrayObject([NumberObject(0), ArrayObject([figure_at])])
    root[name("/ParentTree")] = DictionaryObject({name("/Nums"): numbers})
    catalogue = writer.root_object
    catalogue[name("/StructTreeRoot")] = root_at
    catalogue[name("/MarkInfo")] = DictionaryObject({name("/Marked"): BooleanObject(True)})
    catalogue[name("/Lang")] = TextStringObject("en")
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _written(write: Callable[[QIODevice], object]) -> bytes:
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    write(buffer)
    buffer.close()
    return content.data()


FORMATS: dict[str, Callable[[Drawing, Export, Told], bytes]] = {
    ".png": png,
    ".svg": svg,
    ".pdf": pdf,
}


def export(drawing: Drawing, ending: str, how: Export = PLAIN, told: Told = _NOTHING) -> bytes:
    """The drawing in the format of a file ending. Raises DocumentError for an unknown one."""
    try:
        write = FORMATS[ending.lower()]
    except KeyError as error:
        *first, last = FORMATS
        raise DocumentError(
            f"Figures cannot be written as “{ending or 'a file without ending'}”.",
            remedy=f"Let the name end in {', '.join(first)} or {last}.",
        ) from error
    return write(drawing, how, told)


def write_figure(drawing: Drawing, path: Path, how: Export = PLAIN, told: Told = _NOTHING) -> None:
    """Writes the figure in the format of the path's ending. Raises DocumentError."""
    write_atomically(path, export(drawing, path.suffix, how, told))
