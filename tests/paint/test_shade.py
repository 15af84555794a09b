"""The shade of a crowd: as dark as readings are dense, on the screen and in every file."""

import base64
import io
import re
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pypdf import PdfReader
from PyQt6.QtGui import QColor, QImage, QPainter

from sornix.core.drawing import Crowd, Drawing, Rect, draw_figure
from sornix.core.drawing.parts.items import CrowdPart
from sornix.paint.export import export, image
from sornix.paint.measure import QtMeasure
from sornix.paint.painter import paint
from sornix.paint.shade import crowd_picture
from tests.core.test_crowds import clouds, scatter
from tests.qt import QtTest

Floats = NDArray[np.float64]
_SQUARE_MM = 0.8


def _bits(picture: QImage) -> bytes:
    bits = picture.constBits()
    assert bits is not None
    return bits.asstring(picture.sizeInBytes())


def _bent(signal: Floats) -> Floats:
    """Signals as light (IEC 61966-2-1)."""
    return np.where(signal <= 0.04045, signal / 12.92, ((signal + 0.055) / 1.055) ** 2.4)


def _of(colour: str) -> Floats:
    """The light of a colour, red, green and blue."""
    return _bent(np.array(QColor(colour).getRgbF()[:3]))


def _light(picture: QImage) -> Floats:
    """The light of a picture on white, shape (height, width)."""
    picture = picture.convertToFormat(QImage.Format.Format_ARGB32)
    raw = np.frombuffer(_bits(picture), np.uint8)
    pixels = raw.reshape(picture.height(), picture.width(), 4) / 255
    signal = pixels[..., :3] * pixels[..., 3:] + 1 - pixels[..., 3:]
    light: Floats = _bent(signal).mean(axis=2)
    return light


def _in_squares(
    light: Floats, dots: float, corner: tuple[float, float], shape: tuple[int, int]
) -> Floats:
    """The mean darkness in squares from a corner in mm on."""
    left, top = corner
    rows, columns = ((start + _SQUARE_MM * np.arange(n + 1)) * dots for start, n in
                     ((top, shape[0]), (left, shape[1])))  # fmt: skip
    sums = np.add.reduceat(np.add.reduceat(1 - light, rows.astype(int), 0), columns.astype(int), 1)
    sizes = np.outer(np.diff(rows.astype(int)), np.diff(columns.astype(int)))
    found: Floats = sums[:-1, :-1] / sizes
    return found


def _in_pdf(content: bytes) -> QImage:
    """The one picture in a PDF with what it lets be seen through it."""
    objects: Any = PdfReader(io.BytesIO(content)).pages[0]["/Resources"]
    (stored,) = (one.get_object() for one in objects["/XObject"].values())
    width, height = stored["/Width"], stored["/Height"]
    pixels = np.empty((height, width, 4), np.uint8)
    pixels[..., 2::-1] = np.frombuffer(stored.get_data(), np.uint8).reshape(height, width, 3)
    mask = stored["/SMask"].get_object().get_data()
    pixels[..., 3] = np.frombuffer(mask, np.uint8).reshape(height, width)
    form = QImage.Format.Format_ARGB32
    return QImage(pixels.tobytes(), width, height, 4 * width, form).copy()


class Shade(QtTest):
    def setUp(self) -> None:
        super().setUp()
        self.table = clouds(1_000_000)
        document = scatter(self.table)
        self.drawing: Drawing = draw_figure(document.figure, document.tables, QtMeasure())
        inner = self.drawing.place.inner
        self.corner = (inner.left + 1, inner.top + 1)
        self.shape = (int((inner.height - 2) / _SQUARE_MM), int((inner.width - 2) / _SQUARE_MM))
        points = self.drawing.place.place(*(column.numbers for column in self.table.columns))
        edges = [start + _SQUARE_MM * np.arange(n + 1)
                 for start, n in zip(self.corner[::-1], self.shape, strict=True)]  # fmt: skip
        self.density, *_ = np.histogram2d(points[:, 1], points[:, 0], edges)

    def assert_as_dark_as_dense(
        self, picture: QImage, dots: float, corner: tuple[float, float]
    ) -> Floats:
        found = _in_squares(_light(picture), dots, corner, self.shape)
        self.assertGreater(np.corrcoef(found.ravel(), self.density.ravel())[0, 1], 0.98)
        return found

    def test_darkness_is_density_in_every_medium(self) -> None:
        dots = 6.3
        screen = QImage(700, 500, QImage.Format.Format_RGB32)
        screen.fill(0xFFFFFFFF)
        painter = QPainter(screen)
        painter.translate(11.3, 7.7)
        paint(self.drawing, painter, dots, raster=True)
        painter.end()
        moved = (self.corner[0] + 11.3 / dots, self.corner[1] + 7.7 / dots)
        on_screen = self.assert_as_dark_as_dense(screen, dots, moved)
        fine = image(self.drawing, 300 / 25.4)
        in_file = self.assert_as_dark_as_dense(fine, 300 / 25.4, self.corner)
        np.testing.assert_allclose(on_screen, in_file, atol=0.06)
        # a vector file holds the shade as one picture, as large as what holds readings
        svg = export(self.drawing, ".svg")
        self.assertLess(len(svg), 1_000_000)
        (told,) = re.findall(rb'<image x="([^"]+)" y="([^"]+)"[^>]+base64,([^"]+)"', svg)
        *at, packed = told
        shade = QImage.fromData(base64.b64decode(packed))
        left, top = (round(float(end) * 300 / 25.4) for end in at)

        def on_paper(shade: QImage) -> QImage:
            paper = QImage(1000, 750, QImage.Format.Format_ARGB32)
            paper.fill(0)
            painter = QPainter(paper)
            painter.drawImage(left, top, shade)
            painter.end()
            return paper

        self.assert_as_dark_as_dense(on_paper(shade), 300 / 25.4, self.corner)
        pdf = export(self.drawing, ".pdf")
        self.assertLess(len(pdf), 1_000_000)
        self.assert_as_dark_as_dense(on_paper(_in_pdf(pdf)), 300 / 25.4, self.corner)

    def test_each_pixel_has_the_light_of_the_dots_that_cover_it(self) -> None:
        random, dots, size, paper = np.random.default_rng(7), 6.0, 1.1, "#f4f0e8"
        area, cells = Rect(3, 2, 15, 10), 8
        for colours in (("#205080",), ("#205080", "#a04020", "#208040")):
            parts = []
            for number, colour in enumerate(colours):
                # each colour alone somewhere, all of them amid; the first stand for two each
                points = random.normal((8.0 + 2.5 * number, 7.0), 1.1, (160, 2))
                points = np.clip(points, (3, 2), (17.99, 11.99))
                weights = np.full(160, 2) if number == 0 else random.integers(1, 4, 160)
                parts.append(CrowdPart(f"series/{number}", points, colour, weights))
            item = Crowd("crowd", area, tuple(parts), size, 40.0, paper)
            place, picture = crowd_picture(item, dots)
            high, wide = (round(side * dots) for side in (area.height, area.width))
            covered = np.zeros((len(parts), high, wide))
            ends = [(np.arange(n * cells) + 0.5) / cells for n in (high, wide)]
            for number, part in enumerate(parts):
                assert part.weights is not None
                for (x, y), many in zip(part.points, part.weights, strict=True):
                    # a dot lies about the middle of the pixel of its reading
                    middle = [int((y - area.top) * dots) + 0.5, int((x - area.left) * dots) + 0.5]
                    away = (ends[0][:, None] - middle[0]) ** 2 + (ends[1] - middle[1]) ** 2
                    inside = (away <= (size * dots / 2) ** 2).reshape(high, cells, wide, cells)
                    covered[number] += many * inside.mean(axis=(1, 3))
            readings = covered.sum(axis=0)
            least = 3 / 40
            share = least * np.minimum(readings, 1)
            share += np.clip((readings - 1) * (1 - least) / (40 - 1), 0, 1 - least)
            light = np.empty((high, wide, 3))
            for channel in range(3):
                blank = _of(paper)[channel]
                light[..., channel] = blank
                for one, part in zip(covered, parts, strict=True):
                    of = share * one / np.maximum(readings, 1e-9)
                    light[..., channel] -= of * (blank - _of(part.colour)[channel])
            shown = QImage(wide, high, QImage.Format.Format_RGB32)
            shown.fill(QColor(paper))
            painter = QPainter(shown)
            painter.drawImage(
                round((place.left - area.left) * dots),
                round((place.top - area.top) * dots),
                picture,
            )
            painter.end()
            raw = np.frombuffer(_bits(shown), np.uint8).reshape(high, wide, 4)[..., 2::-1]
            self.assertLess(np.abs(_bent(raw / 255) - light).max(), 0.016)
            self.assertGreater(share.max(), 0.5)

    def test_painted_elsewhere_it_is_the_same(self) -> None:
        points = scatter(clouds(2000))
        stamped = draw_figure(points.figure, points.tables, QtMeasure())
        for drawing in (self.drawing, stamped):
            found = []
            for left, top in ((0, 0), (40, 25)):
                picture = QImage(700, 600, QImage.Format.Format_ARGB32)
                picture.fill(0xFFFFFFFF)
                painter = QPainter(picture)
                painter.translate(left, top)
                paint(drawing, painter, 7.0, raster=True)
                painter.end()
                found.append(picture.copy(left, top, 560, 420))
            self.assertEqual(_bits(found[0]), _bits(found[1]))
