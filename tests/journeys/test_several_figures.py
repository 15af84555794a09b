"""Several figures of one run, by hand in a real window: added, named, put in order, gone between,
and all of them moved by one edited cell."""

import subprocess
import time

from PyQt6.QtCore import QPoint, QPointF
from PyQt6.QtWidgets import QInputDialog, QPushButton

from sornix.core.document import figure_names, load_document, save_document
from sornix.gui.canvas.figurerow import FigureRow
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.dialogs.reportdialog import ReportDialog
from tests.chromium import CHROMIUM, Page
from tests.journeys.hands import FigureHandsTest


class SeveralFigures(FigureHandsTest):
    @property
    def row(self) -> FigureRow:
        return self.panes.figures

    @property
    def names(self) -> tuple[str, ...]:
        return figure_names(self.document)

    def _open(self, demo: str) -> None:
        self.window.open_demo(demo)
        self.wait_until(lambda: self.window.bench.scene, "the demo was opened")
        self.settle()

    def _pictures(self) -> list[bytes]:
        """What the tiles show, when all are drawn."""
        self.wait_until(lambda: self.row.is_up_to_date, "all pictures were drawn")
        found = []
        for tile in self.row.tiles:
            picture = tile.icon().pixmap(tile.iconSize()).toImage()
            bits = picture.constBits()
            assert bits is not None
            found.append(bits.asstring(picture.sizeInBytes()))
        return found

    def test_a_run_and_its_residuals(self) -> None:
        self._open("nitrate-standards")
        self.assertTrue(self.row.isHidden())
        # the residuals from their card, and a copy from the statement
        link = next(b for b in self.panes.results.findChildren(QPushButton)
                    if b.text() == "as a figure")  # fmt: skip
        self.click_at(link)
        self.settle()
        self.assertEqual((len(self.row.tiles), self.document.place), (2, 1))
        self.assertEqual(self.figure.panel.series[0].y, "Residuals of Absorbance at 220 nm")
        before = self._pictures()
        self.assertNotEqual(before[0], before[1])
        # it is named by a double click on its tile
        self.double_click_at(self.row.tiles[1], QPointF(self.row.tiles[1].rect().center()))
        self.dialog(QInputDialog)
        self.pause()
        self.key("ctrl+a")
        self.type("Residuals\n")
        self.settle()
        self.assertEqual(self.names, ("Nitrate standards, 12 March run", "Residuals"))
        # a cell that is typed over moves both, and undo brings both back
        self.click_at(self.row.tiles[0])
        self.settle()
        self.assertEqual(self.document.place, 0)
        grid = self.panes.table_pane.grid
        viewport = grid.viewport()
        assert viewport is not None
        grid.scrollTo(grid.cells.index(0, 1))
        self.click_at(viewport, QPointF(grid.visualRect(grid.cells.index(0, 1)).center()))
        self.type("0.2\n")
        self.settle()
        after = self._pictures()
        self.assertTrue(all(one != other for one, other in zip(before, after, strict=True)))
        self.window.frame.setFocus()
        self.key("ctrl+z")
        self.settle()
        self.assertEqual(self._pictures(), before)
        self.key("ctrl+shift+z")
        self.settle()

        # a copy stands behind the one in sight; the last is dragged to the front
        self.choose(self.row.more, "add a copy")
        self.settle()
        self.assertEqual((self.document.place, len(self.row.tiles)), (1, 3))
        last = self.row.tiles[2]
        end = self.row.tiles[0].mapTo(last.parentWidget(), QPoint(-6, 30))
        start = last.mapTo(last.parentWidget(), QPoint(40, 30))
        parent = last.parentWidget()
        assert parent is not None
        self.drag(parent, QPointF(start), QPointF(end))
        self.settle()
        self.assertEqual(self.names[0], "Residuals")
        self.assertEqual(self.document.place, 2)
        # undo goes across figures, back to the one that a step was done to
        self.key("ctrl+Prior")
        self.assertEqual(self.document.place, 1)
        self.window.frame.setFocus()
        self.key("ctrl+z", "ctrl+z")
        self.settle()
        self.assertEqual((len(self.row.tiles), self.document.place), (2, 0))
        self.assertEqual(self.names[1], "Residuals")

        # folded away it is a line with a list, and nothing is saved that was not
        self.click_at(self.row.fold)
        self.settle()
        self.assertLess(self.row.height(), 40)
        self.choose(self.row.word, "Residuals")
        self.settle()
        self.assertEqual(self.document.place, 1)
        path = self.folder / "two.sornix"
        save_document(self.document, path, b"")
        self.assertEqual(load_document(path), self.document)
        self.choose(self.row.more, "remove")
        self.settle()
        self.assertTrue(self.row.isHidden())
        self.key("ctrl+z")
        self.assertFalse(self.row.isHidden())

    def test_a_report_and_a_page_go_out_of_the_window(self) -> None:
        self._open("nitrate-standards")
        link = next(b for b in self.panes.results.findChildren(QPushButton)
                    if b.text() == "as a figure")  # fmt: skip
        self.click_at(link)
        self.settle()
        self.key("ctrl+shift+e")
        dialog = self.dialog(ReportDialog)
        self.wait_until(lambda: dialog.is_drawn, "the pages were drawn")
        pages = dialog.pages.pageCount()
        self.key("ctrl+a")
        self.type("Nitrate in March")
        self.click_at(dialog.readings)
        self.click_at(dialog.formats[".odt"])
        dialog.folder.setText(str(self.folder))
        dialog.name.setText("march")
        self.wait_until(lambda: dialog.is_drawn, "the pages were drawn again")
        self.assertGreaterEqual(dialog.pages.pageCount(), pages)
        self.assertIn("march.pdf, march.odt", dialog.summary.text())
        self.click_at(dialog.write)
        for ending in (".pdf", ".odt"):
            self.wait_until((self.folder / f"march{ending}").exists, f"{ending} was written")
        self.settle()
        said = subprocess.run(["pdftotext", self.folder / "march.pdf", "-"], capture_output=True,
                              text=True, check=True).stdout  # fmt: skip
        for words in (
            "Nitrate in March",
            "2 Residuals of Absorbance",
            "0.07102 ± 0.00033",
            "Readings",
        ):
            self.assertIn(words, said)
        # the standards as a page, pointed at in a browser
        self.window.frame.activateWindow()
        self.key("ctrl+Prior", "ctrl+e")
        export = self.dialog(ExportDialog)
        self.pause()
        for ending, box in export.formats.items():
            if box.isChecked() != (ending == ".html"):
                self.click_at(box)
        export.folder.setText(str(self.folder))
        export.name.setText("standards")
        self.click_at(export.export)
        page = self.folder / "standards.html"
        self.wait_until(page.exists, "the page was written")
        self.settle()
        if CHROMIUM is not None:
            seen = Page(page)
            self.addCleanup(seen.close)
            x, y, wide, high = seen.box('[data-of="series/s1"] use:nth-child(16)')
            seen.point_at(x + wide / 2, y + high / 2)
            told = seen.ask("document.getElementById('reading').textContent")
            self.assertIn("Absorbance at 220 nm: 0.581", told)

    def test_an_empty_one_is_filled_by_the_statement(self) -> None:
        self._open("depth-profile")
        self.choose(self.panes.statement.figure_line.more, "another figure: an empty")
        self.settle()
        scene = self.window.bench.scene
        assert scene is not None
        self.assertEqual(scene.caption, "Nothing is drawn yet.")
        self.key("ctrl+t", "ctrl+a")
        self.type("Plot Temperature against Depth as line")
        self.settle()
        self.key("ctrl+t")
        self.settle()
        self.assertEqual([s.mark for s in self.figure.panel.shown], ["line"])
        begin = time.process_time()
        self.key("ctrl+Prior")
        self.assertEqual(self.document.place, 0)
        self.assertLess(time.process_time() - begin, 2)
