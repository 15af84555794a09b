"""Whole figures made by hand from the file alone: panels, bars, second scales."""

import time

from PyQt6.QtCore import QPointF

from sornix.core.figure import AxisBand, Divider, bar_sets, trend_fit, waiting
from sornix.gui.statement.plotline import PlotLine
from sornix.gui.statement.statement import Statement
from sornix.gui.statement.wordlines import Chosen
from tests.journeys.hands import FigureHandsTest


class Made(FigureHandsTest):
    @property
    def statement(self) -> Statement:
        return self.panes.statement

    @property
    def plot(self) -> PlotLine:
        return self.statement.plots[0]

    def test_the_buoy_figure(self) -> None:
        self.begin("buoy-week")
        self.choose(self.statement.figure_line.more, "a panel below")
        self.choose(self.plot.y_word, "Rain")
        self.choose(self.plot.mark, "bars")
        assert self.statement.panels is not None
        self.click_at(self.statement.panels.more)
        self.choose(self.plot.y_word, "Water temperature")
        self.assertEqual([p.series[0].y for p in self.figure.panels],
                         ["Level", "Rain", "Water temperature"])  # fmt: skip
        self.assertEqual((self.figure.share, self.figure.letters), ("x", True))
        # the divider between the first two panels is dragged down, then heights are typed
        divider = self.on(Divider("row", 0))
        self.drag(self.paper, divider, divider + QPointF(0, 30))
        heights = self.figure.heights
        self.assertGreater(heights[0], heights[1])
        self.type_into(self.statement.panels.heights.field, "2 : 1 : 1.5")
        self.assertEqual(self.figure.heights, (2, 1, 1.5))
        # looking closer at one panel moves them all, and the figure stays
        drawing = self.paper.drawing
        assert drawing is not None
        inner = self.paper.pixels(drawing.panels[0].inner)
        self.wheel_at(self.paper, inner.center(), 4)
        assert self.paper.drawing is not None
        ends = {(p.x.start, p.x.end) for p in self.paper.drawing.panels}
        self.assertEqual(len(ends), 1)
        self.assertNotEqual(ends, {(drawing.panels[0].x.start, drawing.panels[0].x.end)})
        self.pause()
        self.click_at(self.paper.look_bar.back_button)
        # the pointer at one x reads every panel there
        self.point_at(self.paper, self.paper.pixels(drawing.panels[0].inner).center())
        said = self.window.frame.footer.reading.text()
        for part in ("2026-05-0", "Level 1.4", "Rain ", "Water temperature 1"):
            self.assertIn(part, said)
        # a click takes a panel in hand; its strip holds its own scale
        first = self.paper.pixels(drawing.panels[0].inner)
        self.click_at(self.paper, first.center())
        self.assertEqual(self.figure.hand, 0)
        self.key("y")
        self.type_into(self.panes.inspector.fields["start"].field, "1.4")
        self.assertEqual([p.y.start for p in self.figure.panels], [1.4, None, None])
        self.key("Escape")
        self.choose(self.statement.panels.how, "side by side")
        self.assertEqual([p.column for p in self.figure.panels], [0, 1, 2])
        self.key("ctrl+z")
        self.click_at(self.statement.panels.less)
        self.assertEqual(len(self.figure.panels), 2)

    def test_the_snail_figure_in_ninety_seconds(self) -> None:
        begin = time.process_time()
        self.begin("snail-counts")
        self.choose(self.plot.x_word, "Site")
        self.choose(self.plot.y_word, "Snails")
        self.choose(self.plot.mark, "bars")
        self.assertEqual(self.panel.series[0].together, "mean")
        self.click_at(self.plot.further)
        lines = self.statement.series_lines
        assert lines is not None
        self.choose(lines.split, "“Planting”")
        self.assertEqual([s.only.value for s in self.panel.series if s.only], ["before", "after"])
        lines = self.statement.series_lines
        assert lines is not None
        words = {name: w.word for name, w in lines.parts.items() if isinstance(w, Chosen)}
        self.choose(words["Error bars in y"], "± SD")
        self.choose(words["How bars stand"], "bars stacked")
        self.assertEqual(self.panel.bars, "stacked")
        scene = self.window.bench.scene
        assert scene is not None
        tops = [bars.top.max() for bars in bar_sets(self.panel, scene.tables).values()]
        self.assertLess(tops[0], tops[1])
        self.choose(words["How bars stand"], "bars as shares")
        self.choose(words["How bars stand"], "bars side by side")
        self.click_at(self.plot.swap)
        self.assertEqual((self.panel.series[0].x, self.panel.series[0].y), ("Snails", "Site"))
        self.assertLess(time.process_time() - begin, 90)

    def test_a_second_scale(self) -> None:
        self.begin("buoy-week")
        self.choose(self.statement.figure_line.more, "another series")
        self.choose(self.statement.plots[1].sides["y"], "right y")
        self.assertEqual(self.panel.axes, ("x", "y", "y2"))
        before = self.panel.y2
        # the right axis is dragged by its upper end, nudged by keys, and its end by the wheel
        end = self.on(AxisBand("y2"), 0.5, 0.04)
        self.drag(self.paper, end, end + QPointF(0, 40))
        held = self.panel.y2.end
        assert held is not None
        self.assertEqual((self.panel.y2.start, self.panel.y.end), (None, None))
        self.paper.setFocus()
        self.key("shift+y")
        strip = self.panes.inspector
        self.assertEqual((strip.isVisible(), strip.axis), (True, "y2"))
        self.key("Tab", "Up", "Up")
        self.assertGreater(self.panel.y2.end or 0, held)
        self.key("Escape")
        now = self.panel.y2.end or 0
        self.wheel_at(self.paper, self.on(AxisBand("y2"), 0.5, 0.04), 2)
        self.pause()
        self.assertLess(self.panel.y2.end or 0, now)
        self.assertIsNone(self.panel.y2.start)
        self.double_click_at(self.paper, self.on(AxisBand("y2"), 0.5, 0.5))
        self.assertEqual(self.panel.y2, before)
        self.choose(self.statement.plots[1].sides["y"], "its own panel")
        self.assertEqual(len(self.figure.panels), 2)

    def test_a_decay_with_a_range_and_a_reading_left_out(self) -> None:
        self.begin("tracer-decay")
        line = self.statement.trends[0]
        self.choose(line.model, "decay to a background")
        line = self.statement.trends[0]
        self.choose(line.readings, "a range of x")
        self.assertEqual(line.ends["start"].field.text(), "0")
        self.type_into(line.ends["start"].field, "8")
        self.assertEqual(self.panel.trends[0].start, 8)
        scene = self.window.bench.scene
        assert scene is not None
        with waiting():
            found = trend_fit(self.panel.trends[0], self.panel, scene.tables)
        self.assertGreater(found.r_squared or 0, 0.99)
        caption = self.panes.caption.label
        self.wait_until(lambda: "x from 8" in caption.text(), "the caption told of the trend")
        self.window.at_reading.leave_out((20,), "stirred", series="s1")
        self.pause()
        scene = self.window.bench.scene
        assert scene is not None
        with waiting():
            fewer = trend_fit(self.panel.trends[0], self.panel, scene.tables)
        self.assertEqual(fewer.n, found.n - 1)
        self.assertIn("stirred", self.panes.caption.label.text())
        # another shape in the same place, and then one more trend beside it
        self.choose(line.model, "exponential")
        self.assertEqual(self.panel.trends[0].model, "exponential")
        self.click_at(line.another)
        self.assertEqual([t.model for t in self.panel.trends], ["exponential", "line"])
        self.type_into(self.statement.trends[0].ends["end"].field, "2")
        self.assertIn("runs backward", self.panes.message.label.text())

    def test_a_curve_is_typed_and_slid(self) -> None:
        self.begin("light-response")
        self.choose(self.statement.figure_line.more, "a curve from a formula")
        line = self.statement.curves[0]
        self.type_into(line.formula.field, "P * x / (K + x)")
        line = self.statement.curves[0]
        self.assertEqual(list(line.fields), ["P", "K"])
        self.type_into(line.fields["K"].field, "150")
        slider = line.sliders["P"]
        middle = QPointF(slider.rect().center())
        self.drag(slider, middle, middle + QPointF(30, 0))
        value = self.panel.curves[0].constants[0].value
        self.assertGreater(value, 2)
        self.assertEqual(self.window.bench.undo_name, "slid P")
        self.type_into(line.formula.field, "P * (")
        self.assertTrue(self.panes.message.isVisible())
        self.assertEqual(self.panel.curves[0].formula, "P * x / (K + x)")
