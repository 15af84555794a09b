"""Layout, marks, labels and reduction, measured on the display list."""

import itertools
import math
from collections.abc import Iterator

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from sornix.core.document import Document, new_document
from sornix.core.drawing import Drawing, Lines, Markers, Path, Rect, Text, dashed, draw_figure
from sornix.core.drawing.labels.breaking import broken
from sornix.core.drawing.labels.labels import obstacles
from sornix.core.drawing.labels.placing import densified, finite, free_place
from sornix.core.drawing.marks.reduction import clipped, reduced_rising, visible_markers
from sornix.core.drawing.parts.items import Item, Rects, Stroke
from sornix.core.drawing.parts.shapes import SHAPES
from sornix.core.figure import (
    AXES,
    AxisBand,
    AxisTitle,
    Figure,
    Legend,
    PanelTitle,
    SeriesName,
    SourceLine,
    Spot,
    Target,
    Title,
    TrendLabel,
    add_guide,
    add_note,
    add_trend,
    caption,
    change_series,
    change_trend,
    hold,
    leave_out,
    move,
    set_size,
    style_series,
)
from sornix.core.figure.derived.blocks import Blocks
from sornix.core.readings import Table, number_column, read_text
from sornix.core.text import rich
from sornix.demo import DEMOS, demo_document
from tests.base import SornixTest
from tests.core.measure import PlainMeasure, bounds, calls_of, corners, overlap

MEASURE = PlainMeasure()
Floats = NDArray[np.float64]


def _draw(document: Document, figure: Figure | None = None) -> Drawing:
    return draw_figure(figure or document.figure, document.tables, MEASURE)


class Work(SornixTest):
    def test_a_typed_end_makes_few_calls(self) -> None:
        x = np.arange(5000.0)
        for mark in ("points", "line", "points-and-line"):
            for count in (40, 1000, 5000):
                columns = (number_column("x", x[:count]), number_column("y", np.sin(x[:count])))
                table = Table("t", columns)
                figure = new_document(table).figure
                figure = change_series(figure, (table,), "s1", mark=mark)
                ends = itertools.count(-30, -1)

                def typed(
                    table: Table = table, figure: Figure = figure, ends: Iterator[int] = ends
                ) -> None:
                    held = hold(figure, (table,), "y", start=next(ends) / 10)
                    draw_figure(held, (table,), MEASURE)

                typed()
                typed()
                with self.subTest(mark=mark, count=count):
                    self.assertLess(calls_of(typed), 1500)


class Layout(SornixTest):
    def test_at_any_size_no_text_overlaps_or_leaves_the_paper(self) -> None:
        for name in DEMOS:
            document = demo_document(name)
            for width, height in ((85, 64), (174, 120), (60, 45), (45, 120), (300, 40)):
                rows = max(panel.row for panel in document.figure.panels) + 1
                columns = max(panel.column for panel in document.figure.panels) + 1
                # what one panel needs, several need each
                width, height = width * columns, height * rows
                with self.subTest(name, size=(width, height)):
                    drawing = _draw(document, set_size(document.figure, width, height))
                    boxes = [
                        (text, corners(text, MEASURE))
                        for text in drawing.items
                        if isinstance(text, Text) and text.of != "legend"
                        if not text.of.startswith("trend/")
                    ]
                    for (a, box), (b, other) in itertools.combinations(boxes, 2):
                        self.assertFalse(overlap(box, other), f"{a} and {b}")
                    for text, box in boxes:
                        inside = (box >= 0) & (box <= (width, height))
                        self.assertTrue(inside.all(), text)

    def test_labels_of_trends_and_the_legend_cover_no_reading(self) -> None:
        for name, width in itertools.product(DEMOS, (85, 120)):
            document = demo_document(name)
            drawing = _draw(document, set_size(document.figure, width, 80))
            marks = [i for i in drawing.items if isinstance(i, Markers) and i.of != "legend"]
            for text in (i for i in drawing.items if isinstance(i, Text)):
                if text.of == "legend" or text.of.startswith("trend/"):
                    box = bounds(text, MEASURE)
                    for marker in marks:
                        hidden = [p for p in marker.points if box.holds(*p)]
                        self.assertEqual(hidden, [], f"{name}: {text.runs}")

    def test_notes_guides_trends_and_the_legend_are_not_written_over_each_other(self) -> None:
        pairs = 0
        for seed in range(60):
            random = np.random.default_rng(seed)
            columns = [number_column(f"Site {i}", random.normal(i, 1, 24))
                       for i in range(random.integers(1, 4))]  # fmt: skip
            tables = (Table("t", (number_column("x", np.arange(24.0)), *columns)),)
            figure = new_document(*tables).figure
            for _ in range(random.integers(0, 3)):
                row = int(random.integers(0, 24))
                figure = add_note(figure, tables, "a note of words", series="s1", row=row)
            for _ in range(random.integers(0, 3)):
                axis, value = str(random.choice(["x", "y"])), float(random.uniform(0, 3))
                figure = add_guide(figure, tables, axis, value, None, "limit of something")
            if random.random() < 0.5:
                figure = add_trend(figure, "s1", "line")
            drawing = draw_figure(figure, tables, MEASURE)
            texts = [item for item in drawing.items if isinstance(item, Text) and item.runs]
            for one, other in itertools.combinations(texts, 2):
                if one.of != other.of:
                    pairs += 1
                    self.assertFalse(overlap(corners(one, MEASURE), corners(other, MEASURE)),
                                     f"{seed}: {one.runs} over {other.runs}")  # fmt: skip
        self.assertGreater(pairs, 1000)

    def test_a_legend_stands_clear_of_the_last_of_many_bars(self) -> None:
        lefts = np.linspace(0, 80, 900)
        corners = np.column_stack((lefts, 40 - lefts / 2, lefts + 0.05, np.full(900, 60.0)))
        marks: list[Item] = [Rects("s1", corners, np.arange(900), "#000", Stroke("#000", 0.1))]
        taken = obstacles(marks)
        box, free = free_place(Rect(0, 0, 80, 60), 20, 8, taken, (80, 0))
        self.assertTrue(free)
        self.assertLess(box.bottom, 40 - box.right / 2)

    def test_axis_lines_run_from_the_first_tick_to_the_last_off_the_data(self) -> None:
        document = demo_document("nitrate-standards")
        drawing = _draw(document, hold(document.figure, document.tables, "x", start=0.5, end=11.7))
        lines = {i.of: i for i in drawing.items if isinstance(i, Lines)}
        inner, x = drawing.panels[0].inner, drawing.panels[0].x
        ticks = inner.left + x.position(np.array([t.value for t in x.ticks])) * inner.width
        axis = lines["x-axis"].ends
        self.assertAlmostEqual(axis[0, 0], ticks[0] - 0.1)
        self.assertAlmostEqual(axis[0, 2], ticks[-1] + 0.1)
        self.assertGreater(axis[0, 1], inner.bottom + 1)
        np.testing.assert_allclose(axis[1:, 0], ticks)
        self.assertTrue(np.all(axis[1:, 3] < axis[1:, 1]), "ticks point to the data")

    def test_readings_stand_at_their_values_and_only_inside_the_range(self) -> None:
        document = demo_document("nitrate-standards")
        figure = hold(document.figure, document.tables, "x", start=1, end=8)
        drawing = _draw(document, figure)
        place = drawing.panels[0]
        markers = next(i for i in drawing.items if isinstance(i, Markers))
        table = document.tables[0]
        x, y = (table.columns[i].numbers[markers.rows] for i in (0, 1))
        self.assertEqual(len(markers.rows), 15)
        self.assertEqual(set(x), {1, 2, 4, 6, 8})
        wanted = place.inner.left + (x - 1) / 7 * place.inner.width
        np.testing.assert_allclose(markers.points[:, 0], wanted)
        span = place.y.end - place.y.start
        wanted = place.inner.bottom - (y - place.y.start) / span * place.inner.height
        np.testing.assert_allclose(markers.points[:, 1], wanted)
        trend = next(i for i in drawing.items if isinstance(i, Path))
        self.assertTrue(place.inner.grown(0.01).holds(*trend.points[0]))
        self.assertTrue(place.inner.grown(0.01).holds(*trend.points[-1]))

    def test_a_lone_reading_between_gaps_shows_on_a_line(self) -> None:
        table = read_text(b"x,y\n1,1\n2,2\n3,\n4,4\n5,\n6,6\n7,7\n", "t")
        document = new_document(table)
        drawing = _draw(
            document, change_series(document.figure, document.tables, "s1", mark="line")
        )
        path = next(i for i in drawing.items if isinstance(i, Path))
        self.assertEqual(int(np.isnan(path.points[:, 0]).sum()), 2)
        markers = next(i for i in drawing.items if isinstance(i, Markers))
        self.assertEqual(list(markers.rows), [3])

    def test_two_series_have_a_legend_and_looks_of_their_own(self) -> None:
        table = read_text(b"x,a,b\n1,1,3\n2,2,1\n3,4,2\n", "t")
        document = new_document(table)
        figure = add_trend(document.figure, "s2")
        drawing = _draw(document, figure)
        names = [t.runs[0].text for t in drawing.items if isinstance(t, Text) and t.of == "legend"]
        self.assertEqual(names, ["a", "b"])
        markers = {i.of: i for i in drawing.items if isinstance(i, Markers)}
        first, second = markers["series/s1"], markers["series/s2"]
        self.assertNotEqual((first.fill, first.shape), (second.fill, second.shape))
        label = next(t for t in drawing.items if isinstance(t, Text) and t.of == "trend/t1/label")
        self.assertEqual(label.colour, second.fill)

    def test_absurd_numbers_are_drawn_without_complaint(self) -> None:
        for x, y in (
            ([0, 1e-300, 2e-300], [1e300, -1e300, 0]),
            ([1e15, 1e15 + 1, 1e15 + 2], [5, 5, 5]),
            ([1, 1, 1], [2, 3, 4]),
            ([1.0], [2.0]),
        ):
            table = Table("t", (number_column("x", x), number_column("y", y)))
            document = new_document(table)
            drawing = _draw(document, add_trend(document.figure, "s1"))
            for item in drawing.items:
                if isinstance(item, Markers):
                    self.assertTrue(np.isfinite(item.points).all())
                    self.assertEqual(len(item.rows), len(x))
        empty = Table("t", (number_column("x", [1, np.nan]), number_column("y", [np.nan, 2])))
        self.assertTrue(_draw(new_document(empty)).items)


def _target(part: str) -> Target:
    """What the box of a text stands for."""
    kind, _, rest = part.partition("/")
    axis, _, what = kind.rpartition("-")
    if axis in AXES:
        return AxisBand(axis) if what == "axis" else AxisTitle(axis)
    whole: dict[str, Target] = {
        "title": Title(), "panel-title": PanelTitle(), "legend": Legend(), "source": SourceLine(),
    }  # fmt: skip
    name = rest.split("/")[0]
    if kind in whole:
        return whole[kind]
    return SeriesName(name) if kind == "series" else TrendLabel(name)


class Hands(SornixTest):
    """What the hand takes hold of is where the list says, and stands where it was put."""

    def test_boxes_hold_what_they_are_named_for(self) -> None:
        for name in DEMOS:
            drawing = _draw(demo_document(name))
            for text in (i for i in drawing.items if isinstance(i, Text)):
                boxes = [box.rect.grown(1.2) for box in drawing.boxes if box.of == _target(text.of)]
                held = any(box.holds(text.x, text.y) for box in boxes)
                self.assertTrue(held, f"{name}: {text}")
            inner = drawing.panels[-1].inner
            hit = drawing.box_at(inner.left + inner.width / 2, inner.bottom + 3)
            self.assertEqual(hit.of if hit else None, AxisBand("x"))
            self.assertIsNone(drawing.box_at(-5, -5))

    def test_labels_stand_at_their_spots(self) -> None:
        document = demo_document("nitrate-standards")
        spot = Spot(0.1, 0.05)
        for of in (Title(), TrendLabel("t1")):
            drawing = _draw(document, move(document.figure, of, spot))
            area = drawing.panels[0].inner if of != Title() else Rect(0, 0, 84, 63)
            box = drawing.box_of(of)
            assert box is not None
            self.assertAlmostEqual(box.left, area.left + 0.1 * area.width)
            self.assertAlmostEqual(box.top, area.top + 0.05 * area.height)

    def test_left_out_is_hollow_and_an_extended_trend_is_dashed_beyond(self) -> None:
        document = demo_document("nitrate-standards")
        figure = change_trend(leave_out(document.figure, "s1", (16,)), "t1", extended=True)
        figure = hold(figure, document.tables, "x", start=-2, end=15)
        figure = hold(figure, document.tables, "y", start=-0.5, end=1.5)
        drawing = _draw(document, figure)
        hollow = [i for i in drawing.items if isinstance(i, Markers) and i.fill == "#ffffff"]
        self.assertEqual([list(i.rows) for i in hollow], [[16]])
        # where all are hollow, they are full crosses; each is still the reading at its place
        place = _draw(document, leave_out(figure, "s1", (3, 1))).place
        plain = style_series(leave_out(figure, "s1", (3, 1)), "s1", filled=False)
        others, out = (i for i in _draw(document, plain).items if isinstance(i, Markers))
        self.assertEqual((others.fill, out.shape, list(out.rows)), ("#ffffff", "cross", [1, 3, 16]))
        self.assertEqual(out.fill, others.edge.colour)
        self.assertIn("3 readings were left out of the trend (crosses)",
                      caption(plain, document.tables, {}))  # fmt: skip
        series, table = figure.panel.series[0], document.tables[0]
        for markers in (others, out):
            x, y = (table.column(name or "").numbers[markers.rows] for name in (series.x, series.y))
            np.testing.assert_allclose(markers.points, place.place(x, y))
        lines = [i for i in drawing.items if isinstance(i, Path) and i.of == "trend/t1/line"]
        self.assertEqual([bool(line.stroke.dashes) for line in lines], [False, True, True])
        ends = sorted((p[0] for line in lines for p in line.points), key=float)
        inner = drawing.panels[0].inner
        self.assertAlmostEqual(float(ends[0]), inner.left)
        self.assertAlmostEqual(float(ends[-1]), inner.right)

    def test_a_lone_reading_has_no_dashes(self) -> None:
        nan = np.nan
        line = np.array([[0, 0], [nan, nan], [5, 5], [nan, nan], [9, 9], [10, 9]])
        np.testing.assert_array_equal(dashed(line, (1, 1)), [[9, 9], [10, 9]])

    def test_a_long_equation_breaks_between_terms_before_it_breaks_within_brackets(self) -> None:
        said = rich("y = 16 + 208 exp(−(t − 3) / 2) + 93 exp(−(t − 5) / 2) − 7")
        measure = PlainMeasure()
        whole = measure.width(said, 2.0)

        def lines(part: float) -> list[str]:
            found = broken(said, part * whole, 2.0, measure, 9)
            self.assertTrue(all(measure.width(line, 2.0) <= part * whole for line in found))
            return ["".join(run.text for run in line).strip() for line in found]

        two = ["y = 16 + 208 exp(−(t − 3) / 2)", "+ 93 exp(−(t − 5) / 2) − 7"]
        self.assertEqual((lines(0.75), lines(0.85)), (two, two))
        self.assertEqual(lines(0.3)[:3], ["y = 16", "+ 208 exp(−(t", "− 3) / 2)"])

    def test_dashes_that_nobody_could_tell_apart_are_a_line(self) -> None:
        for length, pattern, whole in ((30_000, (0.5, 0.5), True), (15_000, (0.5, 0.5), False),
                                       (30_000, (0.2, 0.2, 0.2, 0.2), True)):  # fmt: skip
            drawn = dashed(np.array([[0.0, 0.0], [length, 0.0]]), pattern)
            self.assertEqual(len(drawn) == 2, whole, (length, pattern))

    def test_places_that_are_nowhere_are_no_obstacles(self) -> None:
        nan, inf = np.nan, np.inf
        odd = np.array([[1, 2], [nan, 2], [1, nan], [inf, 2], [1, -inf], [nan, inf], [3, 4.0]])
        for points in (odd, odd[:2], odd[[0, 2]], odd[[0, 3]], odd[[0, 4]]):
            there = [row for row in points.tolist() if all(map(math.isfinite, row))]
            self.assertEqual(finite(points).tolist(), there)
        line = densified(np.array([[0, 0], [3, 4], [6, 4], [6, 4.5]]), 1.0)
        gaps = np.hypot(*np.diff(line, axis=0).T)
        self.assertEqual((line[0].tolist(), line[-1].tolist()), ([0, 0], [6, 4.5]))
        np.testing.assert_allclose(gaps, [1.0] * 8 + [0.5], atol=1e-9)

    def test_rectangles_that_only_touch_do_not_meet(self) -> None:
        one = Rect(1, 2, 4, 3)
        for left, top, meets in (
            (5, 2, False), (-3, 2, False), (1, 5, False), (1, -1, False), (5, 5, False),
            (4.9, 2, True), (-2.9, 2, True), (1, 4.9, True), (1, -0.9, True), (1, 2, True),
        ):  # fmt: skip
            other = Rect(left, top, 4, 3)
            self.assertEqual((one.meets(other), other.meets(one)), (meets, meets), (left, top))
            # what two have in common beyond an edge, grown by a little, holds a corner of one
            held = any(one.grown(1e-9).holds(*corner) for corner in other.corners.tolist())
            self.assertTrue(held or (left, top) == (1, 2))

    def test_shapes_are_alike_on_both_sides(self) -> None:
        for name, outline in SHAPES.items():
            if outline is not None:
                turned = outline * ([1, -1] if "left" in name or "right" in name else [-1, 1])
                for corner in turned:
                    self.assertLess(np.hypot(*(outline - corner).T).min(), 1e-9, name)
        star = SHAPES["star"]
        assert star is not None
        turns = np.sort(np.degrees(np.arctan2(*star.T)) % 360)
        np.testing.assert_allclose(np.diff(turns), 36)

    @given(
        st.lists(st.tuples(st.floats(0, 50), st.floats(0, 50)), min_size=2, max_size=12),
        st.lists(st.floats(0.3, 4), min_size=1, max_size=4),
    )
    def test_dashes_have_their_lengths_along_the_line(
        self, outline: list[tuple[float, float]], dashes: list[float]
    ) -> None:
        line = np.array(outline)
        inked = dashed(line, tuple(dashes))
        # an odd number of lengths goes on the other way round
        dashes = dashes if len(dashes) % 2 == 0 else dashes * 2

        def length(points: Floats) -> float:
            steps = np.hypot(*np.diff(points, axis=0).T)
            return float(steps[np.isfinite(steps)].sum())

        whole, period = length(line), sum(dashes)
        full, rest = divmod(whole, period)
        wanted, at = full * sum(dashes[::2]), 0.0
        for number, part in enumerate(dashes):
            if number % 2 == 0:
                wanted += min(max(rest - at, 0.0), part)
            at += part
        self.assertAlmostEqual(length(inked), wanted, delta=1e-6 * (whole + 1) + 1e-6)


class Reduction(SornixTest):
    @given(st.integers(0, 10**6), st.floats(0.001, 10), st.booleans())
    def test_no_extreme_of_any_column_is_lost(self, seed: int, width: float, gaps: bool) -> None:
        random = np.random.default_rng(seed)
        x = np.sort(random.uniform(0, width, 4000))
        y = random.normal(0, 9, 4000)
        y[random.integers(0, 4000, 3)] *= 50
        breaks = np.zeros(4000, dtype=bool)
        if gaps:
            breaks[random.integers(1, 4000, 5)] = True
        edges = np.linspace(width * 0.1, width * 0.9, 301)
        kept = reduced_rising(x, y, np.flatnonzero(breaks), edges)
        known = kept[np.isfinite(kept[:, 0])]
        column, mine = (
            np.searchsorted(edges, x, "right"),
            np.searchsorted(edges, known[:, 0], "right"),
        )
        for which in np.unique(column[(x >= edges[0]) & (x < edges[-1])]):
            wanted, left = y[column == which], known[mine == which, 1]
            self.assertEqual((wanted.min(), wanted.max()), (left.min(), left.max()))
            # two of them tell a band, where the ways in and out are under ink
            if len(left) != 2:
                self.assertEqual((wanted[0], wanted[-1]), (left[0], left[-1]))
        self.assertLessEqual(len(known), 4 * 300 + 2)
        # the line leaves the range on both sides, unless it breaks there
        inside = np.flatnonzero((x >= edges[0]) & (x <= edges[-1]))
        if len(inside):
            self.assertEqual(known[0, 0] < edges[0], not breaks[inside[0]])
            self.assertEqual(known[-1, 0] > edges[-1], not breaks[inside[-1] + 1])
        # it breaks between columns just where readings are missing between them
        for at in np.flatnonzero(breaks):
            if column[at] != column[at - 1] and edges[0] <= x[at - 1] and x[at] < edges[-1]:
                gap = np.flatnonzero(known[:, 0] == x[at])[0]
                before = np.flatnonzero(kept[:, 0] == known[gap, 0])[0] - 1
                self.assertTrue(np.isnan(kept[before, 0]))

    def test_a_line_goes_through_a_range_that_holds_no_reading(self) -> None:
        x, y = np.array([0.0, 1, 4, 5]), np.array([4.0, 5, 6, 7])
        for gaps, wanted in (([], [[1, 5], [4, 6]]), ([3], [[1, 5], [4, 6]]),
                             ([2], [[1, 5], [np.nan] * 2, [4, 6]])):  # fmt: skip
            kept = reduced_rising(x, y, np.array(gaps, np.intp), np.linspace(2, 3, 11))
            np.testing.assert_array_equal(kept, wanted)
        beyond = reduced_rising(x, y, np.zeros(0, np.intp), np.linspace(6, 7, 11))
        np.testing.assert_array_equal(beyond, [[5, 7]])

    def test_blocks_tell_the_very_ends_of_any_stretches(self) -> None:
        random = np.random.default_rng(11)
        for count in (1 << 18, 300_001, 600_031):
            y = random.standard_t(2, count)
            blocks = Blocks.of(y)
            assert blocks is not None
            for stretches in (1, 40, 3000, count // 40):
                cuts = np.unique(random.integers(0, count, stretches + 1))
                # some where blocks meet, some of a single reading, one to the very end
                cuts = np.unique([*cuts // 32 * 32, *cuts[:9], *(cuts[:9] + 1), count])
                first, last = cuts[:-1], cuts[1:] - 1
                low, high = blocks.ends(y, first, last)
                np.testing.assert_array_equal(low, np.minimum.reduceat(y, first))
                np.testing.assert_array_equal(high, np.maximum.reduceat(y, first))
        self.assertIsNone(Blocks.of(y[:1000]))

    @given(
        st.lists(
            st.tuples(st.floats(-5, 15), st.floats(-5, 15), st.booleans()), min_size=2, max_size=30
        )
    )
    def test_a_clipped_line_is_the_part_inside(
        self, steps: list[tuple[float, float, bool]]
    ) -> None:
        line = np.array([(x, y if kept else np.nan) for x, y, kept in steps])
        inside = clipped(line, (0, 0), (10, 10))
        known = inside[np.isfinite(inside).all(axis=1)]
        self.assertTrue(((known > -1e-9) & (known < 10 + 1e-9)).all())
        # points along the line are kept just where they are inside
        for a, b in itertools.pairwise(line):
            for t in (0.25, 0.5, 0.75):
                at = a + t * (b - a)
                if np.isfinite(at).all() and (at > 0.01).all() and (at < 9.99).all():
                    ends = itertools.pairwise(inside)
                    self.assertTrue(any(_on_segment(at, p, q) for p, q in ends))

    def test_markers_that_cover_each_other_are_drawn_once(self) -> None:
        points = np.random.default_rng(5).normal(30, 4, (100_000, 2))
        kept = visible_markers(points)
        self.assertLess(len(kept), 65_000)
        cells = {tuple(cell) for cell in np.floor(points / 0.05).astype(int)}
        self.assertEqual({tuple(c) for c in np.floor(points[kept] / 0.05).astype(int)}, cells)


def _on_segment(at: Floats, p: Floats, q: Floats) -> bool:
    if not (np.isfinite(p).all() and np.isfinite(q).all()):
        return False
    along = q - p
    length = float(along @ along)
    t = float((at - p) @ along) / length if length else 0.0
    return bool(np.hypot(*(p + min(max(t, 0), 1) * along - at)) < 1e-6)
