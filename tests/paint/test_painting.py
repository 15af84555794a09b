"""Screen, PNG, SVG and PDF show the same figure."""

import re
import subprocess
from concurrent.futures import ThreadPoolExecutor
from unittest import mock
from xml.etree import ElementTree as ET

import numpy as np
from attrs import evolve
from numpy.typing import NDArray
from pypdf import PdfReader
from PyQt6.QtCore import QBuffer, QByteArray, QRectF, QSize, QSizeF, Qt
from PyQt6.QtGui import QFontDatabase, QFontInfo, QImage, QPageSize, QPainter, QRawFont
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtSvg import QSvgRenderer

from sornix.core.document import Document, Export, new_document
from sornix.core.drawing import Detail, Drawing, Markers, Stroke, Text, draw_figure
from sornix.core.errors import DocumentError
from sornix.core.figure import change_series, set_size
from sornix.core.readings import Table, number_column
from sornix.core.text import SYMBOLS, Run, plain_text
from sornix.demo import DEMOS, demo_document
from sornix.gui.canvas.selection import Selection
from sornix.gui.canvas.view import FigureView
from sornix.gui.dialogs.printing import place_on_sheet, print_drawing
from sornix.gui.session.scene import Scene
from sornix.gui.session.workbench import Workbench
from sornix.paint import pngfile
from sornix.paint.export import PLAIN, export, png, write_figure
from sornix.paint.exportfiles import planned, told_of, write_out
from sornix.paint.fonts import FAMILY, figure_font
from sornix.paint.measure import QtMeasure
from sornix.paint.painter import paint
from sornix.paint.shapes import draw_markers
from tests.core.fitted import differs
from tests.paint.written import FOLDER, texts
from tests.qt import QtTest

Floats = NDArray[np.float64]
_DOTS_PER_MM = PLAIN.dots_per_inch / 25.4


def _grey(image: QImage) -> NDArray[np.float64]:
    """Brightness 0 to 255 of each pixel, (height, width)."""
    image = image.convertToFormat(QImage.Format.Format_Grayscale8)
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    rows = np.frombuffer(bits.asstring(), np.uint8).reshape(image.height(), -1)
    return rows[:, : image.width()].astype(float)


def _softened(grey: NDArray[np.float64]) -> NDArray[np.float64]:
    """Means of 3 × 3 pixels: media may differ in how they smooth an edge, not in where it is."""
    padded = np.pad(grey, 1, mode="edge")
    height, width = grey.shape
    parts = [padded[i : i + height, j : j + width] for i in range(3) for j in range(3)]
    return np.asarray(np.mean(parts, axis=0), dtype=np.float64)


class Media(QtTest):
    def _drawing(self, name: str) -> tuple[Scene, Drawing]:
        scene = Scene(demo_document(name), QtMeasure())
        return scene, scene.drawing

    def _from_svg(self, content: bytes, size: QSize) -> QImage:
        image = QImage(size, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        renderer = QSvgRenderer(QByteArray(content))
        painter = QPainter(image)
        renderer.render(painter, QRectF(image.rect()))
        painter.end()
        return image

    def _from_pdf(self, content: bytes, size: QSize) -> QImage:
        buffer = QBuffer()
        buffer.setData(content)
        buffer.open(QBuffer.OpenModeFlag.ReadOnly)
        document = QPdfDocument(None)
        document.load(buffer)
        self.assertEqual(document.pageCount(), 1)
        page = document.render(0, size)
        document.close()
        image = QImage(page.size(), QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        painter.drawImage(0, 0, page)
        painter.end()
        return image

    def _on_screen(self, scene: Scene, size: QSize) -> QImage:
        bench = Workbench(scene.measure)
        bench.scene = scene
        paper = FigureView(bench, Selection())
        paper.resize(size.width() + 18, size.height() + 18)
        paper.show_scene(scene)
        image = paper.grab().toImage()
        corner = paper.corner.toPoint()
        paper.deleteLater()
        return image.copy(corner.x(), corner.y(), size.width(), size.height())

    def test_print_is_the_figure_in_the_middle_of_its_sheet(self) -> None:
        # whole inches: Qt rounds the page to points
        sheet, dots = QSizeF(254, 304.8), 200 / 25.4
        pixels = QSize(2000, 2400)
        for name in ("nitrate-standards", "snail-counts", "light-response"):
            _, drawing = self._drawing(name)
            path = self.folder / f"{name}.pdf"
            printer = QPrinter(QPrinter.PrinterMode.HighResolution)
            printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
            printer.setOutputFileName(str(path))
            printer.setPageSize(QPageSize(sheet, QPageSize.Unit.Millimeter))
            print_drawing(drawing, printer, whole=False)
            reference = QImage(pixels, QImage.Format.Format_RGB32)
            reference.fill(Qt.GlobalColor.white)
            painter = QPainter(reference)
            painter.translate(place_on_sheet(drawing, sheet, whole=False).topLeft() * dots)
            paint(drawing, painter, dots)
            painter.end()
            with self.subTest(name):
                self._agree(self._from_pdf(path.read_bytes(), pixels), reference)

    def _agree(self, image: QImage, reference: QImage) -> None:
        """Two pictures are the same but for less than a shift by one pixel would make."""
        grey = _softened(_grey(reference))
        off = np.abs(_softened(_grey(image)) - grey)
        moved = np.abs(np.roll(grey, 1, axis=1) - grey)
        self.assertLess(float(off.mean()), 0.8 * float(moved.mean()))
        self.assertLess(float((off > 96).mean()), 2e-4)

    def test_a_sheet_has_the_figure_at_true_size_or_as_large_as_may_be(self) -> None:
        _, drawing = self._drawing("nitrate-standards")
        sheet = QSizeF(210, 297)
        place = place_on_sheet(drawing, sheet, whole=False)
        self.assertEqual((place.width(), place.height()), (84, 63))
        self.assertEqual(place.center().x(), 105)
        whole = place_on_sheet(drawing, sheet, whole=True)
        self.assertEqual((whole.width(), whole.height()), (180, 135))
        poster = evolve(drawing, width_mm=840.0, height_mm=630.0)
        self.assertEqual(place_on_sheet(poster, sheet, whole=False).width(), 180)

    def test_public_tools_find_text_fonts_size_and_what_it_says(self) -> None:
        scene, drawing = self._drawing("nitrate-standards")
        path = self.folder / "figure.pdf"
        told = told_of(scene.document, drawing)
        write_figure(drawing, path, Export(), told)

        def ask(*command: str) -> str:
            return subprocess.run([*command], capture_output=True, text=True, check=True).stdout

        text = ask("pdftotext", "-layout", str(path), "-")
        for said in ("Nitrate standards, 12 March run", "Nitrate concentration / mg/L",
                     "A = 0.07102 c + 0.0043", "n = 24"):  # fmt: skip
            self.assertIn(said, re.sub(r"[\u2009\u202f ]+", " ", text))
        # nothing is taken from another typeface that happens to be on this machine
        for name in DEMOS:
            made = self.folder / f"{name}.pdf"
            write_figure(self._drawing(name)[1], made)
            for line in ask("pdffonts", str(made)).splitlines()[2:]:
                self.assertIn("SourceSansPro", line, name)
        fonts = ask("pdffonts", str(path)).splitlines()[2:]
        self.assertTrue(fonts)
        for line in fonts:
            embedded, _, in_unicode = line.split()[-5:-2]
            self.assertEqual((embedded, in_unicode), ("yes", "yes"), line)
        told_by = ask("pdfinfo", str(path))
        size = re.search(r"Page size: +([\d.]+) x ([\d.]+) pts", told_by)
        assert size is not None
        for points, mm in zip(size.groups(), (84, 63), strict=True):
            self.assertAlmostEqual(float(points) * 25.4 / 72, mm, delta=0.1)
        self.assertIn("Tagged:          yes", told_by)
        self.assertIn(told.title, told_by)
        alternative = PdfReader(path).root_object["/StructTreeRoot"]["/K"]["/Alt"]  # type: ignore[index]
        self.assertEqual(alternative, scene.caption)
        svg = export(drawing, ".svg", Export(), told).decode()
        root = ET.fromstring(svg)
        space = "{http://www.w3.org/2000/svg}"
        self.assertEqual(root.findtext(f"{space}desc"), scene.caption)
        outlined = export(drawing, ".svg", Export(outlines=True)).decode()
        self.assertEqual((svg.count("<text") > 20, outlined.count("<text")), (True, 0))

    def test_the_files_that_are_written_are_known_before(self) -> None:
        for name, several in (("light-response", False), ("site-ranks", True)):
            document, drawing = demo_document(name), self._drawing(name)[1]
            for ending in (".svg", ".csv", ".html", ".sornix"):
                path = self.folder / f"{name}{ending}"
                made = planned(document, drawing, path)
                self.assertEqual(write_out(document, drawing, path), made)
                self.assertEqual(len(made) > 1, several and ending == ".csv", made)

    def test_figures_are_written_beside_each_other(self) -> None:
        drawings = [self._drawing(name)[1] for name in DEMOS]
        alone = [png(drawing) for drawing in drawings]
        with ThreadPoolExecutor(4) as pool:
            together = list(pool.map(png, drawings * 3))
        self.assertEqual(together, alone * 3)

    def test_every_symbol_is_in_the_typeface(self) -> None:
        for bold in (False, True):
            face = QRawFont.fromFont(figure_font(3.0, bold=bold))
            missing = [
                name
                for name, symbol in SYMBOLS.items()
                if not all(face.supportsCharacter(ord(sign)) for sign in symbol)
            ]
            # painted as a space, which is as wide in this typeface
            self.assertEqual(missing, ["thin space"])

    def test_a_picture_without_paper_is_the_same_on_paper(self) -> None:
        _, drawing = self._drawing("nitrate-standards")
        bare = QImage.fromData(png(drawing, Export(transparent=True, width_px=840)), "PNG")
        self.assertEqual((bare.width(), bare.height()), (840, 630))
        self.assertEqual(bare.pixelColor(2, 2).alpha(), 0)
        sheet = QImage(bare.size(), QImage.Format.Format_RGB32)
        sheet.fill(Qt.GlobalColor.white)
        painter = QPainter(sheet)
        painter.drawImage(0, 0, bare)
        painter.end()
        whole = _grey(QImage.fromData(png(drawing, Export(width_px=840)), "PNG"))
        self.assertLess(float(np.abs(_grey(sheet) - whole).mean()), 0.2)

    def test_a_png_is_its_picture_and_says_its_texts(self) -> None:
        texts = {"Title": "Größe", "Description": "half a \ud800 letter\nand more"}
        random = np.random.default_rng(12)
        for form, piece in ((QImage.Format.Format_RGB32, 1 << 22),
                            (QImage.Format.Format_ARGB32, 1 << 9),
                            (QImage.Format.Format_RGB32, 1)):  # fmt: skip
            values = random.integers(0, 256, (41, 67, 4)).astype(np.uint8)
            if form == QImage.Format.Format_RGB32:
                values[:, :, 3] = 255
            picture = QImage(values.tobytes(), 67, 41, 4 * 67, form)
            picture.setDotsPerMeterX(12_000)
            picture.setDotsPerMeterY(11_811)
            with mock.patch.object(pngfile, "_PIECE", piece):
                read = QImage.fromData(pngfile.png_of(picture, texts))
            self.assertEqual(read.convertToFormat(form), picture)
            self.assertEqual((read.dotsPerMeterX(), read.dotsPerMeterY()), (12_000, 11_811))
            self.assertEqual(read.text("Title"), "Größe")
            self.assertEqual(read.text("Description"), "half a ? letter\nand more")

    def test_all_media_agree(self) -> None:
        for name in DEMOS:
            scene, drawing = self._drawing(name)
            reference = QImage.fromData(png(drawing), "PNG")
            for medium, image in (
                ("svg", self._from_svg(export(drawing, ".svg"), reference.size())),
                ("pdf", self._from_pdf(export(drawing, ".pdf"), reference.size())),
                (
                    "svg as outlines",
                    self._from_svg(
                        export(drawing, ".svg", Export(outlines=True)), reference.size()
                    ),
                ),
                ("screen", self._on_screen(scene, reference.size())),
            ):
                with self.subTest(name, medium=medium):
                    self._agree(image, reference)

    def test_files_have_the_true_size_and_real_text(self) -> None:
        _, drawing = self._drawing("nitrate-standards")
        picture = QImage.fromData(png(drawing), "PNG")
        self.assertEqual(picture.width(), round(84 * _DOTS_PER_MM))
        self.assertAlmostEqual(picture.dotsPerMeterX(), _DOTS_PER_MM * 1000, delta=1)
        svg = export(drawing, ".svg").decode()
        size = re.search(r'width="([\d.]+)mm" height="([\d.]+)mm"', svg)
        assert size is not None
        self.assertEqual((float(size[1]), float(size[2])), (84, 63))
        for item in drawing.items:
            if isinstance(item, Text) and len(item.runs) == 1:
                self.assertIn(f">{plain_text(item.runs)}<", svg)
        pdf = export(drawing, ".pdf")
        buffer = QBuffer()
        buffer.setData(pdf)
        buffer.open(QBuffer.OpenModeFlag.ReadOnly)
        document = QPdfDocument(None)
        document.load(buffer)
        page = document.pagePointSize(0)
        document.close()
        self.assertAlmostEqual(page.width() * 25.4 / 72, 84, delta=0.001)
        self.assertAlmostEqual(page.height() * 25.4 / 72, 63, delta=0.001)
        self.assertIn(b"/FontFile2", pdf)

    def test_markers_stand_where_the_list_says(self) -> None:
        _, drawing = self._drawing("nitrate-standards")
        grey = _grey(QImage.fromData(png(drawing), "PNG"))
        markers = next(i for i in drawing.items if isinstance(i, Markers))
        for x, y in markers.points[-6:]:
            self.assertLess(grey[int(y * _DOTS_PER_MM), int(x * _DOTS_PER_MM)], 120)

    def test_what_cannot_be_written_is_said_and_leaves_no_file(self) -> None:
        scene, drawing = self._drawing("nitrate-standards")
        with self.assertRaises(DocumentError):
            write_figure(drawing, self.folder / "figure.bmp")
        poster = set_size(scene.figure, 2000, 2000)
        with self.assertRaises(DocumentError) as caught:
            png(draw_figure(poster, scene.tables, QtMeasure()), Export(dots_per_inch=600))
        self.assertIn("too large", str(caught.exception))
        self.assertEqual(list(self.folder.iterdir()), [])


class ManyReadings(QtTest):
    """What is reduced or stamped looks like what is drawn in full."""

    def _image(self, document: Document, column_mm: float, *, raster: bool) -> QImage:
        drawing = draw_figure(document.figure, document.tables, QtMeasure(), Detail(column_mm))
        image = QImage(680, 512, QImage.Format.Format_RGB32)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        paint(drawing, painter, 8.0, raster=raster)
        painter.end()
        return image

    def _document(self, mark: str, x: Floats, y: Floats) -> Document:
        table = Table("t", (number_column("x", x), number_column("y", y)))
        document = new_document(table)
        figure = change_series(document.figure, (table,), "s1", mark=mark)
        return evolve(document, figure=figure)

    def test_a_reduced_line_looks_like_all_of_it(self) -> None:
        random = np.random.default_rng(8)
        x = np.linspace(0, 10, 20_000)
        gap = np.where((x > 4) & (x < 4.6), np.nan, np.sin(x))
        spikes = np.cos(x)
        spikes[[3000, 9000, 15_000]] = (4.0, -5.0, 6.0)
        for name, y in (
            ("noise", random.normal(0, 1, len(x))),
            ("spikes", spikes),
            ("gap", gap),
            ("smooth", np.sin(x) + 0.001 * random.normal(0, 1, len(x))),
        ):
            with self.subTest(name):
                document = self._document("line", x, y)
                whole = _grey(self._image(document, 1e-9, raster=True))
                reduced = _grey(self._image(document, 0.0625, raster=True))
                # no extreme is lost or made: within a pixel across, ink goes as far up and down
                for a, b in ((whole, reduced), (reduced, whole)):
                    for one, other in ((a, b), (a[::-1], b[::-1])):
                        far = np.argmax(one < 160, axis=0)
                        near = np.argmax(other < 160, axis=0)
                        about = np.minimum.reduce([near[1:-1], near[:-2], near[2:]])
                        inked = far[1:-1] > 0
                        self.assertLessEqual(int((about - far[1:-1])[inked].max()), 3)
                ink = float((255 - whole).mean())
                off = np.abs(_softened(whole) - _softened(reduced))
                self.assertLess(float(off.mean()), 0.12 * ink)

    def test_stamped_markers_stand_where_drawn_ones_do(self) -> None:
        random = np.random.default_rng(9)
        document = self._document("points", random.uniform(0, 1, 900), random.uniform(0, 1, 900))
        stamped = _softened(_grey(self._image(document, 0.02, raster=True)))
        drawn = _softened(_grey(self._image(document, 0.02, raster=False)))
        self.assertLess(float(np.abs(stamped - drawn).mean()), 1.2)
        self.assertLess(float((np.abs(stamped - drawn) > 90).mean()), 2e-4)

    def test_circles_of_a_raster_are_those_that_are_drawn(self) -> None:
        """Whatever they are filled with and edged by, small and large, beside and over each other;
        and they lie nowhere further to one side."""
        random = np.random.default_rng(10)
        points = random.uniform((4, 4), (80, 60), (60, 2))
        for size, width, fill, edge in (
            (1.8, 0.2, "#0072b2", "#ffffff"), (1.8, 0.25, "#ffffff", "#0072b2"),
            (0.7, 0.0, "#0072b2", "#000000"), (6.0, 0.4, "#009e73", "#ffffff"),
            (4.0, 0.5, "#000072b2", "#d55e00"), (3.0, 1.0, "#800072b2", "#80d55e00"),
            (2.0, 4.0, "#0072b2", "#d55e00"),
        ):  # fmt: skip
            item = Markers("", points, np.arange(60), "circle", size, fill, Stroke(edge, width))
            pictures = []
            for raster in (True, False):
                image = QImage(680, 512, QImage.Format.Format_RGB32)
                image.fill(Qt.GlobalColor.white)
                painter = QPainter(image)
                painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                painter.scale(8, 8)
                draw_markers(item, points, painter, raster=raster)
                painter.end()
                pictures.append(_grey(image))
            off = pictures[0] - pictures[1]
            with self.subTest(size=size, width=width, fill=fill, edge=edge):
                self.assertLess(float(np.abs(off).max()), 40)
                ink = float((255 - pictures[1]).mean())
                self.assertLess(float(np.abs(off).mean()), 0.05 * ink)


class Written(QtTest):
    def test_figures_reports_and_commands_are_written_as_is_kept(self) -> None:
        made = dict(texts())
        self.assertEqual({path.stem for path in FOLDER.iterdir()}, set(made))
        for name, text in made.items():
            self.is_kept(FOLDER / f"{name}.txt", text.splitlines(), "tests.paint.written", differs)


class Type(QtTest):
    def test_the_typeface_is_ours_with_tabular_figures_and_greek(self) -> None:
        self.assertIn(FAMILY, QFontDatabase.families())
        self.assertEqual(QFontInfo(figure_font(3.0)).family(), FAMILY)
        measure = QtMeasure()
        widths = {round(measure.width((Run(d),), 3.0), 4) for d in "0123456789"}
        self.assertEqual(len(widths), 1)
        self.assertGreater(measure.width((Run("µ"), Run("λ")), 3.0), 2.0)
        plain = measure.width((Run("mg"),), 3.0)
        self.assertLess(measure.width((Run("mg", 1),), 3.0), plain * 0.75)
        # what nobody sees needs no font, and what is in private use nowhere has one
        self.assertEqual(measure.lacks("µ − λ\u00a0²\u200b\ufe0f"), "")
        self.assertEqual(measure.lacks("\U000ffff0a\U000ffff1\U000ffff0"), "\U000ffff0\U000ffff1")
