"""Logarithmic and reciprocal scales: places, ticks, what they cannot show."""

import math
from itertools import pairwise
from typing import ClassVar

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.cautions import find_cautions
from sornix.core.drawing import Markers, draw_figure
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, Panel, Scale, Series, add_trend, hold, set_kind, unplaced
from sornix.core.readings import Table, number_column
from sornix.core.scales import KINDS, AxisConstraints, Extent, Resolved, Room, check_step
from sornix.core.text import Rich
from tests.base import SornixTest
from tests.core.measure import PlainMeasure


def _size(label: Rich) -> float:
    return sum(1.4 * len(run.text) for run in label)


def _resolve(kind: str, low: float, high: float, length: float = 70, **held: object) -> Resolved:
    fitting = evolve_fitting(**held)
    return KINDS[kind].resolve(
        Extent(low, high), fitting, Room(length, _size, 1.9, 9.0), reverse=False
    )


def evolve_fitting(**held: object) -> AxisConstraints:
    return AxisConstraints()._replace(**held)  # type: ignore[arg-type]


def _labels(scale: Resolved) -> list[str]:
    return [
        "".join(f"^{run.text}" if run.script else run.text for run in tick.label)
        for tick in scale.ticks
        if tick.label
    ]


class Ticks(SornixTest):
    def test_labels_over_different_spans(self) -> None:
        for kind, low, high, wanted in (
            ("log", 1, 1e4, "1 10 100 1000 10\u2009000"),
            ("log", 1e-8, 1e4, "10^−8 10^−6 10^−4 10^−2 10^0 10^2 10^4"),
            ("log", 1.3, 14, "1 2 5 10 20"),
            ("log", 2, 5, "2.0 2.5 3.0 3.5 4.0 4.5 5.0"),
            ("reciprocal", 275, 301, "275 280 285 290 295 300"),
        ):
            with self.subTest(kind, low=low, high=high):
                self.assertEqual([text.replace(".0", "") if kind == "log" else text
                                  for text in _labels(_resolve(kind, low, high))],
                                 [w.replace(".0", "") for w in wanted.split(" ")])  # fmt: skip
        self.assertEqual(_labels(_resolve("log", 1, 64, base=2.0))[:3], ["1", "2", "4"])
        self.assertEqual(_labels(_resolve("log", 1, 20, base=math.e))[1:3], ["e^1", "e^2"])
        self.assertEqual(_labels(_resolve("log", 1, 100, labels="power")), ["10^0", "10^1", "10^2"])
        every_other = _labels(_resolve("log", 1, 1e4, step=2.0))
        self.assertEqual(every_other, ["1", "100", "10\u2009000"])

    @given(
        st.sampled_from(["log", "reciprocal"]),
        st.floats(-200, 200).map(lambda p: 10.0**p),
        st.floats(1e-6, 80).map(lambda p: 10.0**p),
        st.floats(12, 300),
    )
    def test_ticks_are_inside_ordered_and_their_labels_apart(
        self, kind: str, low: float, ratio: float, length: float
    ) -> None:
        high = low * ratio
        scale = _resolve(kind, low, high, length)
        self.assertLessEqual(scale.start, low)
        self.assertGreaterEqual(scale.end, high)
        values = np.array([tick.value for tick in scale.ticks])
        self.assertTrue((np.diff(values) > 0).all())
        places = scale.position(values) * length
        self.assertTrue(((places > -1e-6 * length) & (places < length * (1 + 1e-6))).all())
        shown = [(p, _size(t.label)) for p, t in zip(places, scale.ticks, strict=True) if t.label]
        for (a, wide), (b, other) in pairwise(shown):
            self.assertGreaterEqual(b - a, (wide + other) / 2)
        for tick in scale.ticks:
            self.assertFalse(tick.minor and tick.label)

    def test_a_tick_that_loses_its_label_stays(self) -> None:
        room = Room(66.0, lambda runs: 1.4 * sum(len(r.text) for r in runs), 2.0, 11.0)
        found = KINDS["reciprocal"].resolve(Extent(8, 30), AxisConstraints(), room, reverse=False)
        self.assertEqual([t.value for t in found.ticks], list(range(8, 31, 2)))
        self.assertTrue(any(not t.label for t in found.ticks))

    @given(
        st.sampled_from(["log", "reciprocal"]),
        st.floats(-9, 9).map(lambda p: 10.0**p), st.floats(0.01, 6).map(lambda p: 10.0**p),
        st.floats(0, 1),
    )  # fmt: skip
    def test_places_and_values_are_inverse(
        self, kind: str, start: float, ratio: float, place: float
    ) -> None:
        scale, end = KINDS[kind], start * ratio
        value = scale.value(np.array([place]), start, end)
        np.testing.assert_allclose(scale.position(value, start, end), [place], atol=1e-9)
        self.assertTrue(start * (1 - 1e-12) <= value[0] <= end * (1 + 1e-12))

    def test_what_is_typed(self) -> None:
        log, reciprocal = KINDS["log"], KINDS["reciprocal"]
        self.assertEqual([log.parse_step(t) for t in ("1", "2 powers", "power")], [1, 2, 1])
        self.assertEqual([log.step_words(s) for s in (1, 3)], ["1 power", "3 powers"])
        self.assertAlmostEqual(reciprocal.parse("1/300", 0), 300)
        self.assertEqual(log.parse("10^-3", 0), 1e-3)
        for act in (lambda: log.parse_step("0.5"), lambda: check_step("log", 1, 10, 3, str)):
            with self.assertRaises(EditRefused):
                act()


class OnFigures(SornixTest):
    TABLE: ClassVar = Table(
        "t",
        (
            number_column("x", [-1, 0, 0.5, 1, 10, 100], "°C"),
            number_column("y", [1, 2, 3, 0, 5, 6]),
        ),
    )
    FIGURE: ClassVar = Figure((Panel((Series("s1", "t", "x", "y"),)),))

    def test_what_has_no_place_is_told_and_not_drawn(self) -> None:
        tables = (self.TABLE,)
        figure = set_kind(set_kind(self.FIGURE, tables, "x", "log"), tables, "y", "log")
        drawing = draw_figure(figure, tables, PlainMeasure())
        rows = [r for i in drawing.items if isinstance(i, Markers) for r in i.rows.tolist()]
        self.assertEqual(rows, [2, 4, 5])
        series = figure.panel.series[0]
        self.assertEqual(unplaced(series, figure.panel, tables, "x").tolist(), [0, 1])
        found = find_cautions(figure, tables, drawing)
        said = [finding.text for finding in found]
        for part in ("2 readings are not shown on x", "(rows 1, 2)", "1 reading is not", "(row 4)"):
            self.assertIn(part, " ".join(said))
        remedy = next(f.remedy for f in found if "on x" in f.text)
        assert remedy is not None
        self.assertEqual(remedy.edit(figure).panel.x.kind, "linear")
        celsius = set_kind(self.FIGURE, tables, "x", "reciprocal")
        drawn = draw_figure(celsius, tables, PlainMeasure())
        texts = [finding.text for finding in find_cautions(celsius, tables, drawn)]
        self.assertTrue(any("1/x of degrees Celsius" in text for text in texts))

    def test_what_cannot_be_is_refused_or_freed(self) -> None:
        tables = (self.TABLE,)
        held = hold(self.FIGURE, tables, "x", start=-2.0, end=50.0, step=10.0)
        logged = set_kind(held, tables, "x", "log", "2")
        self.assertEqual(
            (logged.panel.x.start, logged.panel.x.end, logged.panel.x.step), (None, 50, None)
        )
        with self.assertRaises(EditRefused):
            hold(logged, tables, "x", start=0.0)
        below = (Table("t", (number_column("x", [-1, -2]), number_column("y", [1, 2]))),)
        with self.assertRaises(EditRefused):
            set_kind(self.FIGURE, below, "x", "log")

    def test_trends_are_bent_and_their_equations_still_give_the_curve(self) -> None:
        x = np.geomspace(1, 1000, 40)
        tables = (Table("t", (number_column("x", x), number_column("y", 3 + 0.5 * x))),)
        figure = set_kind(add_trend(self.FIGURE, "s1"), tables, "y", "log")
        figure = evolve(figure, panels=(evolve(figure.panel, x=Scale("log")),))
        drawing = draw_figure(figure, tables, PlainMeasure())
        line = next(i for i in drawing.items if i.of == "trend/t1/line")
        place = drawing.panels[0]
        inner, points = place.inner, getattr(line, "points")  # noqa: B009 - one of several kinds
        along = (points[:, 0] - inner.left) / inner.width
        up = (inner.bottom - points[:, 1]) / inner.height
        xs = np.array([place.x.value(float(p)) for p in along])
        ys = np.array([place.y.value(float(p)) for p in up])
        np.testing.assert_allclose(ys, 3 + 0.5 * xs, rtol=1e-6)
        self.assertGreater(len(points), 15)
