"""Ten million readings by hand: the window answers all the time."""

import gc
import os
import time
from unittest import mock

import numpy as np
import pyarrow as pa
from pyarrow import parquet
from PyQt6.QtCore import QPointF, QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

from sornix.core.figure import AxisBand, fitted_trends
from sornix.gui.dialogs.exportdialog import ExportDialog
from sornix.gui.session.nearest import Reading
from tests.journeys.hands import FigureHandsTest

_COUNT = 10_000_000
# The window stands still for no longer, on a machine to itself.
_LONGEST_MS = 100.0
_TIMES = 10


class _Heart(QTimer):
    """Beats while events are handled, and keeps for how long it was not let: in the time that the
    interface thread worked, since on a busy machine it may as well have waited for its turn. What
    the hand itself takes between events is not counted."""

    def __init__(self) -> None:
        super().__init__()
        self.longest, self._last = 0.0, time.thread_time()
        self.setInterval(2)
        self.timeout.connect(self._beat)
        self.start()
        self._process = QApplication.processEvents

    def process(self) -> None:
        """Handles events, as the hand does between what it does."""
        self._last = time.thread_time()
        self._process()
        self._beat()

    def _beat(self) -> None:
        now = time.thread_time()
        self.longest, self._last = max(self.longest, now - self._last), now

    def longest_ms(self) -> float:
        """The longest that nothing was answered since this was asked last."""
        found, self.longest, self._last = self.longest * 1e3, 0.0, time.thread_time()
        return found


class TenMillion(FigureHandsTest):
    demo = "nitrate-standards"

    def setUp(self) -> None:
        super().setUp()
        random = np.random.default_rng(4)
        x = np.arange(_COUNT) * 0.01
        level = np.round(1.2 + 3e-6 * x + random.normal(0, 0.05, _COUNT), 3)
        level[7_654_321] = 3.5
        self.path = self.folder / "logger.parquet"
        parquet.write_table(pa.table({"Time (s)": x, "Level (m)": level}), self.path)
        # as at the start of the program: what other tests have left is not looked through here
        gc.collect()
        gc.freeze()
        self.addCleanup(gc.unfreeze)
        self._stood_still: dict[str, list[float]] = {}
        self.heart = _Heart()
        self.addCleanup(self.heart.stop)
        beating = mock.patch.object(QApplication, "processEvents", self.heart.process)
        beating.start()
        self.addCleanup(beating.stop)

    def _answers(self, what: str) -> None:
        self._stood_still.setdefault(what, []).append(self.heart.longest_ms())

    def test_opened_looked_at_held_fitted_undone_and_exported(self) -> None:
        # a virtual machine counts time that it was not given: what is ours is there each time
        for number in range(1, _TIMES + 1):
            self._go_through(f"logger {number}")
            # where others work beside it, each has its share
            limit = _LONGEST_MS * max(1.0, os.getloadavg()[0])
            least = {what: min(found) for what, found in self._stood_still.items()}
            if max(least.values()) < limit:
                return
            # nothing is left to be asked about
            self.window.bench.begin(self.document, path=None, name="again")
            self.settle()
        self.fail(f"no answer for so long: {least}, and at most {limit:.0f} ms are allowed")

    def _go_through(self, name: str) -> None:
        told: list[str] = []
        self.window.worker.busy_changed.connect(told.append)
        self.window.open_path(self.path)
        self.assertEqual(told, ["opening logger.parquet…"], "it is said at once")
        self.settle()
        self.pause()
        self._answers("it was opened")
        self.assertEqual(self.panel.series[0].mark, "line")

        # to the one reading that is far from all others
        paper = self.paper
        for _ in range(4):
            spike = paper.pixel(76_543.21, 3.5)
            self.drag(paper, spike - QPointF(28, 8), spike + QPointF(28, 40))
            self._answers("looking closer")
        for _ in range(10):
            self.wheel_at(paper, paper.pixel(76_543.21, 3.5), 1)
            self._answers("turning the wheel")
        look = paper.look
        assert look is not None
        self.assertLess(look.ranges["x"][1] - look.ranges["x"][0], 4, "single readings are seen")
        self.point_at(paper, paper.pixel(76_543.21, 3.5))
        near = self.panes.selection.near
        self.assertEqual(near, Reading("s1", 7_654_321, 76_543.21, 3.5))
        spike = paper.pixel(76_543.21, 3.5)
        self.drag(paper, spike, spike + QPointF(-80, 30), button=2)
        self._answers("the look was moved")
        self.click_at(paper.look_bar.back_button)
        self.assertIsNone(paper.look)

        # the lower end of x is held by hand, the trend goes through all of them, and back again
        whole = self.figure
        band = self.on(AxisBand("x"), 0.05)
        self.drag(paper, band, band + QPointF(60, 0))
        self._answers("an axis was dragged")
        self.assertNotEqual(self.figure, whole)
        self.key("ctrl+z")
        self.assertEqual(self.figure, whole)
        self._answers("it was undone")
        self.choose(self.panes.statement.trends[0].model, "straight line")
        self.pause()
        self._answers("a trend was fitted")
        assert self.window.bench.scene is not None
        ((_, fit),) = fitted_trends(self.panel, self.window.bench.tables)
        self.assertEqual(fit.n, _COUNT)
        self.assertAlmostEqual(fit.value("slope"), 3e-6, 8)

        self.key("ctrl+e")
        dialog = self.dialog(ExportDialog)
        self.pause()
        dialog.name.setText(name)
        self.key("Return")
        self.settle()
        self.pause()
        self._answers("it was exported")
        picture = QImage(str(self.folder / f"{name}.png"))
        self.assertEqual(picture.width(), 992)
        self.assertLess((self.folder / f"{name}.png").stat().st_size, 2_000_000)
