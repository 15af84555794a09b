"""Marks: what is drawn is what the readings say, on every kind of scale, with anything missing."""

import itertools
import statistics
from typing import Any

import numpy as np
from attrs import evolve
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy import stats

from sornix.core.cautions import find_cautions
from sornix.core.drawing import Drawing, Fill, Lines, Markers, Path, Rects, Text, draw_figure
from sornix.core.drawing.marks.paths import smooth, stepped
from sornix.core.drawing.parts.memory import Memory
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    MARKS,
    Curve,
    Figure,
    Only,
    Panel,
    Scale,
    Series,
    add_curve,
    bar_sets,
    caption,
    change_curve,
    change_errors,
    change_panel,
    curve_values,
    hide_series,
    marked,
    parts_of_whole,
    series_points,
    set_constant,
    set_errors,
    set_mark,
    set_size,
    set_together,
    shift_series,
    split_series,
    style_series,
)
from sornix.core.readings import Table, number_column, read_text
from sornix.core.readings.tables.correlation import correlations
from sornix.demo import DEMOS, demo_document
from tests.base import SornixTest
from tests.core.measure import PlainMeasure, corners, overlap

MEASURE = PlainMeasure()
NUMBERS = st.lists(
    st.tuples(st.one_of(st.none(), st.floats(0.5, 900)), st.one_of(st.none(), st.floats(-50, 900))),
    min_size=1, max_size=14,
)  # fmt: skip
SITES = (
    read_text(
        b"site,when,n,sd\nbay,before,4,1\nbay,before,6,2\nbay,after,9,1\nweir,before,2,.5\n"
        b"weir,after,-3,.5\nweir,after,,1\n",
        "t",
    ),
)


def table(rows: list[tuple[float | None, float | None]]) -> tuple[Table, ...]:
    columns = zip(*[[np.nan if v is None else v for v in row] for row in rows], strict=True)
    return (Table("t", tuple(number_column(n, c) for n, c in zip("xy", columns, strict=True))),)


def bars(together: str = "mean", **changes: Any) -> Figure:
    one = Series("s1", "t", "site", "n", "bars", together=together, **changes)
    return Figure((Panel((one,)),), width_mm=120.0)


class Truth(SornixTest):
    @settings(max_examples=150)
    # numbers next to 0 have no room below them
    @example([(1.0, 5e-324)], "points", "linear", "log", False)
    @example([(1.0, 5e-324)], "points", "linear", "linear", False)
    @given(
        NUMBERS, st.sampled_from(list(MARKS)),
        st.sampled_from(["linear", "log", "reciprocal", "category", "in-order"]),
        st.sampled_from(["linear", "log"]), st.booleans(),
    )  # fmt: skip
    def test_every_mark_stands_where_its_readings_say(
        self, rows: list[tuple[float | None, float | None]], mark: str, x_kind: str, y_kind: str,
        turned: bool,
    ) -> None:  # fmt: skip
        tables = table(rows)
        panel = Panel((Series("s1", "t", "x", "y", mark),), Scale(x_kind, reversed=turned),
                      Scale(y_kind))  # fmt: skip
        figure = Figure((panel,))
        drawing = draw_figure(figure, tables, MEASURE)
        place = drawing.panels[0]
        points = series_points(panel.series[0], panel, tables)
        whole = [(a, b) for a, b in rows if a is not None and b is not None]
        shown = [b for _, b in whole if b > 0 or y_kind == "linear"]
        self.assertEqual(len(points.x), len(shown))
        wanted = place.place(points.x, points.y)
        if MARKS[mark].bars:
            rects = [r for i in drawing.items if isinstance(i, Rects) for r in i.corners.tolist()]
            level = place.inner.bottom
            if y_kind == "linear":
                level = place.place(points.x[:1], np.zeros(1))[0, 1] if len(points.x) else level
            for x, y in wanted:
                if abs(y - level) < 1e-6:
                    continue
                held = [r for r in rects if r[0] - 1e-6 <= x <= r[2] + 1e-6]
                tips = {round(r[1] if y < level else r[3], 6) for r in held}
                self.assertIn(round(float(y), 6), tips)
                self.assertIn(round(float(level), 6),
                              {round(r[3] if y < level else r[1], 6) for r in held})  # fmt: skip
            return
        drawn = [i for i in drawing.items if i.of.startswith("series/s1")]
        marks = [p for i in drawn if isinstance(i, Markers) for p in i.points]
        lines = [i.points for i in drawn if isinstance(i, Path)]
        for point in wanted:
            by_marker = any(np.allclose(point, p, atol=1e-6) for p in marks)
            on_line = any(len(line) and np.nanmin(np.abs(line - point).sum(axis=1)) < 1e-6
                          for line in lines)  # fmt: skip
            self.assertTrue(by_marker or on_line, "every reading is seen")
        if MARKS[mark].points:
            self.assertEqual(len(marks), len(wanted))

    @given(st.lists(st.tuples(st.floats(0.1, 9), st.floats(-40, 40)), min_size=3, max_size=12))
    def test_a_smooth_curve_meets_its_points_and_never_passes_them(
        self, steps: list[tuple[float, float]]
    ) -> None:
        x = np.cumsum([step for step, _ in steps])
        points = np.column_stack((x, [y for _, y in steps]))
        curve = smooth(points)
        self.assertTrue((np.diff(curve[:, 0]) >= 0).all())
        at = np.searchsorted(curve[:, 0], x - 1e-12)
        np.testing.assert_allclose(curve[at], points, atol=1e-9)
        for (a, b), (i, j) in zip(itertools.pairwise(points), itertools.pairwise(at), strict=True):
            between = curve[i : j + 1, 1]
            low, high = sorted((a[1], b[1]))
            self.assertTrue((between >= low - 1e-9).all() and (between <= high + 1e-9).all())
        # a profile goes down the page, and gaps stay gaps
        rises = np.diff(points[:, 1])
        if not ((rises > 1e-6).all() or (rises < -1e-6).all()):
            np.testing.assert_allclose(smooth(points[:, ::-1])[:, ::-1], curve)
            np.testing.assert_allclose(smooth(points[::-1])[::-1], curve)
        gap = np.vstack((points, [[np.nan, np.nan]], points + np.array([99, 0])))
        self.assertEqual(np.isnan(smooth(gap)[:, 0]).sum(), 1)
        self.assertEqual(len(stepped(points)), 2 * len(points) - 1)


class BarsOf(SornixTest):
    def sums(self, how: str, together: str = "mean") -> dict[str, Any]:
        figure = change_panel(split_series(bars(together), SITES, "s1", "when"), bars=how)
        return {s.only.value: bar_sets(figure.panel, SITES)[s.id]  # type: ignore[union-attr]
                for s in figure.panel.series}  # fmt: skip

    def test_side_by_side_stacked_and_shares(self) -> None:
        beside = self.sums("beside")
        self.assertEqual(beside["before"].top.tolist(), [5, 2])
        self.assertEqual(beside["after"].top.tolist(), [9, -3])
        self.assertEqual([b.slot for b in beside.values()], [0, 1])
        self.assertEqual(self.sums("beside", "sum")["before"].top.tolist(), [10, 2])
        stacked = self.sums("stacked")
        self.assertEqual(stacked["after"].base.tolist(), [5, 0], "below zero has its own pile")
        self.assertEqual(stacked["after"].top.tolist(), [14, -3])
        shares = self.sums("shares")
        np.testing.assert_allclose(shares["before"].top, [500 / 14, 40])
        np.testing.assert_allclose(shares["after"].top, [100, -60])

    def test_bars_lie_where_categories_run_upward(self) -> None:
        figure = bars()
        lying = evolve(figure.panel.series[0], x="n", y="site")
        drawing = draw_figure(figure.with_panel(Panel((lying,))), SITES, MEASURE)
        place = drawing.panels[0]
        rects = next(i for i in drawing.items if isinstance(i, Rects)).corners
        values = sorted(place.x.value((r[2] - place.inner.left) / place.inner.width) for r in rects)
        np.testing.assert_allclose(values, [0, 19 / 3], atol=1e-9)
        self.assertLessEqual(place.x.start, -0.5)
        self.assertTrue((rects[:, 3] - rects[:, 1] > 1).all())

    def test_bars_begin_at_zero_and_several_readings_become_their_mean(self) -> None:
        points = Figure((Panel((Series("s1", "t", "site", "n"),)),))
        made = set_mark(points, SITES, "s1", "bars")
        self.assertEqual(made.panel.series[0].together, "mean")
        self.assertLessEqual(draw_figure(made, SITES, MEASURE).panels[0].y.start, 0)
        lone = set_mark(Figure((Panel((Series("s1", "t", "sd", "n"),)),)), SITES, "s1", "bars")
        self.assertEqual(lone.panel.series[0].together, "mean", "0.5 and 1 stand twice")


class Errors(SornixTest):
    def test_lengths_against_the_standard_library(self) -> None:
        figure = bars()
        values = {"bay": [4, 6, 9], "weir": [2, -3]}
        for kind in ("sd", "se", "ci95"):
            made = set_errors(figure, SITES, "s1", "y", kind)
            found = marked(made.panel.series[0], made.panel, SITES)
            low, high = found.whiskers["y"]
            for i, group in enumerate(values.values()):
                n = len(group)
                wanted = statistics.stdev(group) / (1 if kind == "sd" else n**0.5)
                if kind == "ci95":
                    wanted *= float(stats.t.ppf(0.975, n - 1))
                self.assertAlmostEqual(high[i] - low[i], 2 * wanted)
                self.assertAlmostEqual((high[i] + low[i]) / 2, statistics.mean(group))

    def test_kinds_that_are_typed_or_in_columns(self) -> None:
        figure = Figure((Panel((Series("s1", "t", "sd", "n"),)),))
        for kind, length in (("fixed", 0.6), ("percent", 0.2), ("column", 1.0), ("pair", 1.0)):
            made = set_errors(figure, SITES, "s1", "y", kind)
            if kind in ("column", "pair"):
                made = change_errors(made, "s1", "y", column="sd", upper="sd")
            low, high = marked(made.panel.series[0], made.panel, SITES).whiskers["y"]
            self.assertAlmostEqual(high[0] - 4, length)
            self.assertAlmostEqual(4 - low[0], length)
        band = change_errors(made, "s1", "y", band=True)
        fills = [i for i in draw_figure(band, SITES, MEASURE).items if isinstance(i, Fill)]
        self.assertEqual([i.of for i in fills], ["series/s1/errors"])
        both = set_errors(made, SITES, "s1", "x", "fixed")
        lines = [i for i in draw_figure(both, SITES, MEASURE).items
                 if isinstance(i, Lines) and i.of.endswith("/errors")]  # fmt: skip
        self.assertEqual(len(lines), 2)
        single = Figure((Panel((Series("s1", "t", "n", "sd"),)),))
        with self.assertRaises(EditRefused):
            set_errors(single, SITES, "s1", "y", "sd")
        # of columns that may hold lengths, the one in the unit of the readings
        names = (("x", ""), ("T", "°C"), ("N", "mg/L"), ("SD of N", "mg/L"), ("SD of T", "°C"))
        table = Table("u", tuple(number_column(n, [1.0, 2.0, 3.0], unit) for n, unit in names))
        warm = Figure((Panel((Series("s1", "u", "x", "T"),)),))
        found = set_errors(warm, (table,), "s1", "y", "column").panel.series[0].errors_y
        self.assertEqual(found.column if found else "", "SD of T")
        means = set_errors(bars(), SITES, "s1", "y", "sd")
        self.assertIsNone(set_together(means, "s1", "sum").panel.series[0].errors_y)
        week = demo_document("buoy-week")
        for figure, tables, kind, direction, said in (
            (means, SITES, "sd", "y", "± SD"), (warm, (table,), "column", "y", "± SD of T"),
            (warm, (table,), "percent", "y", "± 5 %"), (warm, (table,), "fixed", "y", "± 0.1"),
            (week.figure, week.tables, "fixed", "x", "± 8 hours in x"),
            (week.figure, week.tables, "percent", "x", ""),
            (week.figure, week.tables, "column", "x", ""),
        ):  # fmt: skip
            with self.subTest(kind, said=said):
                if said:
                    made = set_errors(figure, tables, "s1", direction, kind)
                    self.assertIn(f"error bars: {said}", caption(made, tables, {}))
                else:
                    with self.assertRaises(EditRefused):
                        set_errors(figure, tables, "s1", direction, kind)

    def test_free_axes_show_whole_error_bars(self) -> None:
        made = change_errors(set_errors(bars(), SITES, "s1", "y", "fixed"), "s1", "y", size=50.0)
        y = draw_figure(made, SITES, MEASURE).panels[0].y
        self.assertTrue(y.end >= 56 and y.start <= -50)


class Curves(SornixTest):
    def test_a_curve_is_its_formula(self) -> None:
        tables = table([(1, 2), (9, 40)])
        figure = Figure((Panel((Series("s1", "t", "x", "y"),), Scale(start=1, end=10)),))
        figure = add_curve(figure, "a * x^2 / (k + x)", "theory")
        figure = set_constant(set_constant(figure, "c1", "a", 5), "c1", "k", 2)
        drawing = draw_figure(figure, tables, MEASURE)
        line = next(i for i in drawing.items if i.of == "curve/c1" and isinstance(i, Path)).points
        place = drawing.panels[0]
        xs = [place.x.value((x - place.inner.left) / place.inner.width) for x in line[:, 0]]
        ys = [place.y.value((place.inner.bottom - y) / place.inner.height) for y in line[:, 1]]
        np.testing.assert_allclose(ys[:-1], [5 * x**2 / (2 + x) for x in xs[:-1]], rtol=1e-6)
        self.assertIn("theory", {"".join(r.text for r in i.runs)
                                 for i in drawing.items if isinstance(i, Text)})  # fmt: skip
        other = change_curve(figure, "c1", "a * ln(x) + c").panel.curves[0]
        self.assertEqual([(c.name, c.value) for c in other.constants], [("a", 5), ("c", 1)])
        holes = curve_values(Curve("c", "ln(x)"), np.array([-1.0, 1.0]))
        self.assertTrue(np.isnan(holes[0]) and holes[1] == 0)


class Wholes(SornixTest):
    def test_parts_fill_the_ring_and_the_bar(self) -> None:
        tables = (read_text(b"part,n\nrock,3\nsand,5\nrock,1\nmud,11\n", "t"),)
        figure = Figure((Panel((Series("s1", "t", "part", "n", "bars"),)),))
        self.assertEqual(parts_of_whole(figure.panel, tables),
                         [("rock", 4), ("sand", 5), ("mud", 11)])  # fmt: skip
        drawing = draw_figure(change_panel(figure, form="one-bar"), tables, MEASURE)
        heights = [r[3] - r[1] for i in drawing.items if isinstance(i, Rects) for r in i.corners]
        np.testing.assert_allclose(np.array(heights) / sum(heights), [0.2, 0.25, 0.55], atol=0.004)
        ring = draw_figure(change_panel(figure, form="ring"), tables, MEASURE)
        sectors = [i.points for i in ring.items if isinstance(i, Fill)]
        self.assertEqual(len(sectors), 3)
        said = ["".join(r.text for r in t.runs) for t, _ in _texts(ring)]
        self.assertEqual(sorted(s.split("  ")[1] for s in said),
                         ["20.0\u2009%", "25.0\u2009%", "55.0\u2009%"])  # fmt: skip
        for text, box in _texts(ring):
            near = [np.hypot(*(box.mean(axis=0) - s.mean(axis=0))) for s in sectors]
            self.assertGreater(min(near), 1.0, text)
        self.assertFalse([i for i in ring.items if i.of.endswith("-axis")])
        below = (
            read_text(
                b"part,n\nrock,3\nsand,-5\n" + b"".join(f"p{i},1\n".encode() for i in range(8)), "t"
            ),
        )
        odd = change_panel(figure, form="ring")
        found = find_cautions(odd, below, draw_figure(odd, below, MEASURE))
        self.assertEqual(sum("of a whole" in f.text or "as shares" in f.text for f in found), 2)
        assert found[-1].remedy is not None
        self.assertEqual(found[-1].remedy.edit(odd).panel.form, "series")

    def test_correlations_are_those_of_the_table(self) -> None:
        document = demo_document("lake-survey")
        figure = change_panel(document.figure, form="correlations")
        drawing = draw_figure(figure, document.tables, MEASURE)
        r = correlations(document.tables[0]).r
        said = [float(text.replace("−", "-")) for t, _ in _texts(drawing)
                if (text := t.runs[0].text)[-1].isdigit()]  # fmt: skip
        np.testing.assert_allclose(said, [r[i, j] for i in range(len(r)) for j in range(i)],
                                   atol=0.0051)  # fmt: skip
        place = drawing.panels[0].inner
        held = place.grown(3.0)
        for item, box in _texts(drawing):
            self.assertTrue(item.of == "title" or all(held.holds(*p) for p in box))


class Order(SornixTest):
    def test_look_order_and_hiding_stay_with_the_series(self) -> None:
        figure = split_series(
            Figure((Panel((Series("s1", "t", "sd", "n"),)),)), SITES, "s1", "site"
        )
        dressed = style_series(figure, "s1", colour="plum", shape="star", filled=False, size_mm=3.0)
        markers = [i for i in draw_figure(dressed, SITES, MEASURE).items
                   if isinstance(i, Markers) and i.of == "series/s1"]  # fmt: skip
        self.assertEqual(
            [(m.shape, m.size_mm, m.fill) for m in markers], [("star", 3.0, "#ffffff")]
        )
        shifted = shift_series(dressed, "s1", 1)
        self.assertEqual([s.id for s in shifted.panel.series], ["s2", "s1"])
        self.assertEqual([s.palette_index for s in shifted.panel.series], [1, 0])
        hidden = hide_series(shifted, "s2", hidden=True)
        self.assertFalse([i for i in draw_figure(hidden, SITES, MEASURE).items
                          if i.of.startswith("series/s2")])  # fmt: skip
        with self.assertRaises(EditRefused):
            hide_series(hidden, "s1", hidden=True)


def _texts(drawing: Drawing) -> list[tuple[Text, Any]]:
    return [(t, corners(t, MEASURE)) for t in drawing.items if isinstance(t, Text)]


class Names(SornixTest):
    def check(self, figure: Figure, tables: tuple[Table, ...], what: str) -> Drawing:
        drawing = draw_figure(figure, tables, MEASURE)
        found = _texts(drawing)
        for (a, one), (b, other) in itertools.combinations(found, 2):
            self.assertFalse(overlap(one, other), f"{what}:\n{a}\n{b}")
        for text, box in found:
            size = (figure.width_mm + 0.01, figure.height_mm + 0.01)
            self.assertTrue(((box >= -0.01) & (box <= size)).all(), f"{what}: {text}")
        return drawing

    def test_no_text_of_a_demo_figure_touches_another_or_leaves_the_page(self) -> None:
        for name in DEMOS:
            document = demo_document(name)
            columns = max(panel.column for panel in document.figure.panels) + 1
            ratio = document.figure.height_mm / document.figure.width_mm
            for width in (60, 84, 174, 250):
                for names in ("free", "ends", "right", "below"):
                    if width < 80 * columns and names in ("right", "ends"):
                        continue
                    figure = document.figure
                    for index in range(len(figure.panels)):
                        figure = change_panel(figure.with_hand(index), names=names)
                    height = max(width * ratio, 45 * len(figure.panels) / columns)
                    sized = set_size(figure, float(width * columns), float(height))
                    self.check(sized, document.tables, f"{name} {width} {names}")

    def test_values_at_points_touch_nothing(self) -> None:
        rng = np.random.default_rng(4)
        tables = table([(float(a), float(b)) for a, b in rng.normal(50, 12, (60, 2))])
        figure = Figure((Panel((Series("s1", "t", "x", "y", written="y"),)),))
        drawing = self.check(figure, tables, "values")
        written = [i for i in drawing.items if i.of.endswith("/written")]
        self.assertGreater(len(written), 30)
        marks = next(i.points for i in drawing.items if isinstance(i, Markers))
        for text in written:
            assert isinstance(text, Text)
            box = corners(text, MEASURE)
            low, high = box.min(axis=0), box.max(axis=0)
            self.assertFalse(((marks > low) & (marks < high)).all(axis=1).any())
        shares = change_panel(split_series(bars(written="y"), SITES, "s1", "when"), bars="shares")
        said = {
            "".join(r.text for r in t.runs) for t, _ in _texts(draw_figure(shares, SITES, MEASURE))
        }
        self.assertIn("40", said)

    def test_the_last_answers_are_remembered_of_the_very_things(self) -> None:
        things, made = np.zeros((3, 2)), []
        rows, memory = [things[i] for i in range(3)], Memory[int](2)

        def found(at: int) -> int:
            made.append(at)
            return at

        asked = (0, 0, 1, 0, 2, 1, 0)
        told = [memory.of(rows[at], "sum", lambda at=at: found(at)) for at in asked]  # type: ignore[misc]
        self.assertEqual((told, made), ([*asked], [0, 1, 2, 0]))

    def test_a_series_of_some_rows_keeps_what_it_is(self) -> None:
        figure = split_series(bars(), SITES, "s1", "when")
        self.assertEqual([s.only for s in figure.panel.series],
                         [Only("when", "before"), Only("when", "after")])  # fmt: skip
