"""A figure as PNG, SVG or PDF at its true size, written whole or not at all."""

import re
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF
from PyQt6.QtGui import QImage, QPageLayout, QPageSize, QPainter, QPdfWriter

from sornix.core.document import write_atomically
from sornix.core.drawing import Drawing
from sornix.core.errors import DocumentError
from sornix.paint.painter import paint

DOTS_PER_INCH = 300
_MM_PER_INCH = 25.4
# half a gigabyte of picture; A1 at 300 dots to the inch has 70 million
_MOST_DOTS = 120_000_000
_PREVIEW_DOTS = 1200
_MEDIA_BOX = re.compile(rb"/MediaBox \[0 0 [\d.]+ ([\d.]+)\]")


def image(drawing: Drawing, dots_per_mm: float) -> QImage:
    """The drawing as a picture of `dots_per_mm` dots to the millimetre."""
    width = max(round(drawing.width_mm * dots_per_mm), 1)
    height = max(round(drawing.height_mm * dots_per_mm), 1)
    picture = QImage(width, height, QImage.Format.Format_RGB32)
    picture.fill(0xFFFFFFFF)
    picture.setDotsPerMeterX(round(dots_per_mm * 1000))
    picture.setDotsPerMeterY(round(dots_per_mm * 1000))
    painter = QPainter(picture)
    paint(drawing, painter, dots_per_mm)
    painter.end()
    return picture


def png(drawing: Drawing, dots_per_inch: float = DOTS_PER_INCH) -> bytes:
    """PNG at the figure's true size. Raises DocumentError where that is too many dots."""
    dots_per_mm = dots_per_inch / _MM_PER_INCH
    if drawing.width_mm * drawing.height_mm * dots_per_mm**2 > _MOST_DOTS:
        raise DocumentError(
            f"At {dots_per_inch:.0f} dots to the inch this figure is too large for a picture.",
            remedy="Make the figure smaller, or write it as SVG or PDF.",
        )
    return _written(lambda device: image(drawing, dots_per_mm).save(device, "PNG"))


def preview(drawing: Drawing) -> bytes:
    """PNG for a document's preview: 150 dots to the inch, fewer for large figures."""
    side_inches = max(drawing.width_mm, drawing.height_mm) / _MM_PER_INCH
    return png(drawing, min(150.0, _PREVIEW_DOTS / side_inches))


def svg(drawing: Drawing, title: str = "") -> bytes:
    """SVG in units of 1/100 mm, its text as text."""
    from PyQt6.QtSvg import QSvgGenerator

    def write(device: QIODevice) -> None:
        generator = QSvgGenerator()
        generator.setOutputDevice(device)
        units = 100.0
        size = QRectF(0, 0, drawing.width_mm * units, drawing.height_mm * units)
        generator.setResolution(round(units * _MM_PER_INCH))
        generator.setSize(QRectF(size).size().toSize())
        generator.setViewBox(size)
        generator.setTitle(title)
        painter = QPainter(generator)
        paint(drawing, painter, units)
        painter.end()

    return _written(write)


def pdf(drawing: Drawing, title: str = "") -> bytes:
    """PDF of one page of the figure's size, vector, fonts embedded."""

    def write(device: QIODevice) -> None:
        writer = QPdfWriter(device)
        writer.setResolution(1200)
        writer.setTitle(title)
        writer.setCreator("Sornix")
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
        paint(drawing, painter, 1200 / _MM_PER_INCH)
        painter.end()

    return _with_true_page(_written(write), drawing)


def _with_true_page(content: bytes, drawing: Drawing) -> bytes:
    """The PDF with the page's exact size: Qt rounds it to whole points, 0.35 mm.

    What Qt painted hangs from the top of its rounded page, so the exact page keeps that top. The
    new text has the length of the old one, which keeps the file's table of offsets right.
    """
    match = _MEDIA_BOX.search(content)
    if match is None:
        return content
    width, height = (mm * 72 / _MM_PER_INCH for mm in (drawing.width_mm, drawing.height_mm))
    top = float(match[1])
    box = f"[0 {top - height:.4f} {width:.4f} {top:.0f}]".encode()
    old = content[match.start(0) : match.end(0)]
    new = b"/MediaBox " + box.ljust(len(old) - len(b"/MediaBox "))
    return content.replace(old, new, 1) if len(new) == len(old) else content


def _written(write: Callable[[QIODevice], object]) -> bytes:
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    write(buffer)
    buffer.close()
    return content.data()


FORMATS: dict[str, Callable[[Drawing], bytes]] = {".png": png, ".svg": svg, ".pdf": pdf}


def export(drawing: Drawing, ending: str) -> bytes:
    """The drawing in the format of a file ending. Raises DocumentError for an unknown one."""
    try:
        return FORMATS[ending.lower()](drawing)
    except KeyError as error:
        raise DocumentError(
            f"Figures cannot be written as “{ending or 'a file without ending'}”.",
            remedy="Let the name end in .png, .svg or .pdf.",
        ) from error


def write_figure(drawing: Drawing, path: Path) -> None:
    """Writes the figure in the format of the path's ending. Raises DocumentError."""
    write_atomically(path, export(drawing, path.suffix))
