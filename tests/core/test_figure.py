"""Edits on the figure, and the words that follow from it."""

import itertools
from collections.abc import Callable
from unittest import mock

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.document import Document, change_table
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import (
    ErrorBars,
    Figure,
    LeftOut,
    Legend,
    Movable,
    Panel,
    Scale,
    Series,
    Spot,
    Title,
    Trend,
    TrendLabel,
    add_guide,
    add_series,
    add_trend,
    axis_title,
    bring_back,
    caption,
    change_scale,
    change_series,
    change_trend,
    free_scale,
    hold,
    hold_view,
    leave_out,
    move,
    new_figure,
    put_on,
    read_off_trend,
    remove_series,
    remove_trend,
    rename_series,
    reverse,
    series_name,
    series_points,
    set_axis_title,
    set_caption,
    set_size,
    set_title,
    swap_axes,
    tell_at,
    trend_fit,
)
from sornix.core.figure.prose.caption import lower_names
from sornix.core.readings import Table, number_column, read_text
from sornix.core.readings.tables import column
from tests.base import SornixTest

TABLE = read_text(
    b"Depth (m),Temperature (\xc2\xb0C),Dissolved oxygen (mg L^-1),Site\n"
    b"0,19.4,9.1,A\n1,19.1,,A\n2,18.0,8.0,B\n3,12.5,6.1,B\n4,8.8,4.0,C\n",
    "profile",
)
TABLES = (TABLE,)
# temperature against depth, as most edits here have it
PLAIN = Figure((Panel((Series("s1", TABLE.name, "Depth", "Temperature"),)),))


class Edits(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        self.figure = PLAIN

    def test_titles_follow_the_columns_through_a_swap(self) -> None:
        held = hold(self.figure, TABLES, "x", start=0, end=4, step=2)
        swapped = swap_axes(add_trend(held, "s1"))
        panel = swapped.panel
        self.assertEqual(axis_title(panel, TABLES, "x"), "Temperature / °C")
        self.assertEqual(axis_title(panel, TABLES, "y"), "Depth / m")
        self.assertEqual((panel.y.start, panel.y.end, panel.y.step), (0, 4, 2))
        slope = trend_fit(panel.trends[0], panel, TABLES).parameters[1]
        self.assertEqual(slope.unit, "m/°C")
        self.assertEqual(swap_axes(swapped), add_trend(held, "s1"))

    def test_several_series(self) -> None:
        two = add_series(self.figure, TABLES)
        self.assertEqual([s.y for s in two.panel.series], ["Temperature", "Dissolved oxygen"])
        title = axis_title(two.panel, TABLES, "y")
        self.assertEqual(title, "Temperature / °C, Dissolved oxygen / mg L^-1")
        with self.assertRaises(EditRefused):
            add_series(two, TABLES)
        trended = add_trend(add_trend(two, "s1"), "s2")
        left = remove_series(trended, "s1")
        self.assertEqual([t.series for t in left.panel.trends], ["s2"])
        again = add_series(left, TABLES).panel.series
        self.assertEqual([(s.id, s.y, s.palette_index) for s in again],
                         [("s2", "Dissolved oxygen", 1), ("s1", "Temperature", 0)])  # fmt: skip
        with self.assertRaises(EditRefused):
            remove_series(left, "s2")
        self.assertEqual(remove_trend(trended, "t1").panel.trends[0].id, "t2")

    def test_other_columns_free_the_range_that_was_held_for_the_old_ones(self) -> None:
        held = hold(self.figure, TABLES, "y", start=5.0)
        changed = change_series(held, TABLES, "s1", y="Dissolved oxygen")
        self.assertIsNone(changed.panel.y.start)
        marked = change_series(held, TABLES, "s1", mark="line")
        self.assertEqual((marked.panel.y.start, marked.panel.series[0].mark), (5.0, "line"))

    def test_a_kind_of_scale_that_is_not_for_other_columns_is_freed(self) -> None:
        table = read_text(
            b"d,q,n,site\n2024-01-09,2,1,a\n2024-02-01,3,2,b\n2024-03-05,5,3,c\n", "t"
        )
        figure = change_series(new_figure(table), (table,), "s1", x="n", y="q")
        # dates and names have no logarithm, numbers are no moments, and anything has its order
        for kind, column_, kept in (
            ("log", "q", True), ("log", "d", False), ("log", "site", False),
            ("reciprocal", "d", False), ("linear", "d", False), ("category", "d", True),
            ("in-order", "site", True),
        ):  # fmt: skip
            held = change_scale(figure, "x", kind=kind, base="2" if kind == "log" else "10")
            scale = change_series(held, (table,), "s1", x=column_).panel.x
            self.assertEqual(scale.kind, kind if kept else None, (kind, column_))
            self.assertEqual(scale.base, "2" if kind == "log" and kept else "10")
        times = change_scale(change_series(figure, (table,), "s1", x="d"), "x", kind="time")
        self.assertEqual(change_series(times, (table,), "s1", x="n").panel.x.kind, None)
        # what stands at values of another quantity is gone, of the same one it stays
        rows = b"t (h),u (h),T (\xc2\xb0C),a (mg/L),b (mg L-1)\n0,1,9,2,3\n1,2,8,3,5\n2,3,7,4,6\n"
        other = (read_text(rows, "o"),)
        made = add_trend(change_series(new_figure(other[0]), other, "s1", x="t", y="a"), "s1")
        made = add_guide(add_guide(made, other, "y", 2.5), other, "x", 0.5, 1.0)
        made = read_off_trend(tell_at(made, "t1", 1.5), "t1", 3.5)
        for changes, lines, at, offs in (
            ({"y": "b"}, 2, 1, 1), ({"y": "T"}, 1, 1, 0), ({"x": "u"}, 2, 1, 1),
            ({"x": "T"}, 1, 0, 1), ({"x": "T", "y": "u"}, 0, 0, 0), ({"x": None}, 1, 0, 1),
        ):  # fmt: skip
            panel = change_series(made, other, "s1", **changes).panel
            (trend,) = panel.trends
            self.assertEqual(
                (len(panel.guides), len(trend.told_at), len(trend.read_offs)), (lines, at, offs)
            )
        # what was typed of a column is not said of another
        said = rename_series(change_scale(made, "x", title=""), "s1", "Bay")
        said = change_scale(said, "y", title="Lead", after=" mg", words="t")
        for changes, kept, name in (
            ({"mark": "line"}, True, "Bay"), ({"x": "u"}, True, "Bay"), ({"y": "b"}, False, None),
            ({"y": "b", "name": "Own"}, False, "Own"),
        ):  # fmt: skip
            panel = change_series(said, other, "s1", **changes).panel
            told = (panel.y.title, panel.y.after, panel.y.words)
            self.assertEqual(told, ("Lead", " mg", "t") if kept else (None, "", None))
            self.assertEqual((panel.series[0].name, panel.x.title), (name, ""))
        # nor are lengths of error bars those of another, and trends that weighed by them
        lengths, fixed, part = (
            ErrorBars("column", column="b"), ErrorBars("fixed", 0.5), ErrorBars("percent", 5.0)
        )  # fmt: skip
        for errors, column_, of, kept in (
            (lengths, "y", "b", False), (lengths, "x", "u", True), (lengths, "y", "a", True),
            (fixed, "y", "b", True), (fixed, "y", "T", False), (part, "y", "T", True),
        ):  # fmt: skip
            weighed = change_series(made, other, "s1", errors_y=errors)
            weighed = change_trend(weighed, "t1", weights="errors")
            panel = change_series(weighed, other, "s1", **{column_: of}).panel
            self.assertEqual(panel.series[0].errors_y, errors if kept else None, (errors, of))
            self.assertEqual(panel.trends[0].weights, "errors" if kept else "equal")
        by_column = change_trend(made, "t1", weights="column", weight_column="b")
        for column_, of, weights in (("y", "T", "equal"), ("x", "u", "column")):
            panel = change_series(by_column, other, "s1", **{column_: of}).panel
            self.assertEqual(panel.trends[0].weights, weights)
        # those that the table gives its columns are the next one's
        rows = b"t,A,SD A,B,SD B,C\n0,1,.1,2,.2,3\n1,2,.2,4,.1,4\n2,4,.1,5,.2,5\n3,5,.2,7,.3,8\n"
        pairs = (read_text(rows, "p"),)
        own = change_series(new_figure(pairs[0]), pairs, "s1", x="t", y="A",
                            errors_y=ErrorBars("column", column="SD A", band=True))  # fmt: skip
        own = add_trend(own, "s1", weights="errors")
        for of, wanted, weights in (
            ("B", ErrorBars("column", column="SD B", band=True), "errors"), ("C", None, "equal"),
        ):  # fmt: skip
            panel = change_series(own, pairs, "s1", y=of).panel
            self.assertEqual(panel.series[0].errors_y, wanted)
            self.assertEqual(panel.trends[0].weights, weights)
        given = change_series(made, other, "s1", y="b", errors_y=lengths)
        self.assertEqual(given.panel.series[0].errors_y, lengths)
        # so it is where a column is taken otherwise
        document = Document((table,), change_scale(figure, "x", kind="log"))
        worded = change_table(document, "t", "set_kind", column="n", kind="text")
        self.assertEqual(worded.figure.panel.x.kind, None)

    def test_a_second_scale_goes_with_its_series(self) -> None:
        rows = b"t,a (mg/L),b (K),c (m)\n0,1,280,3\n1,2,281,4\n2,3,282,9\n"
        tables = (read_text(rows, "t"),)
        series = tuple(Series(f"s{i}", "t", "t", name, palette_index=i)
                       for i, name in enumerate("abc"))  # fmt: skip
        figure = hold(put_on(Figure((Panel(series),)), "s1", "y2"), tables, "y2", end=290.0)
        figure = set_axis_title(set_axis_title(figure, "y2", "Probe"), "y", "Lead")
        figure = add_guide(add_guide(figure, tables, "y2", 281.0), tables, "y", 2.0)
        # what was held and said on it is not said of the next series there
        for back in (put_on(figure, "s1", "y"), remove_series(figure, "s1")):
            again = put_on(back, "s2", "y2").panel
            self.assertEqual((again.y2, again.y.title), (Scale(), "Lead"))
            self.assertEqual([guide.axis for guide in again.guides], ["y"])
        # without the first one it is the first
        left = remove_series(remove_series(figure, "s0"), "s2").panel
        self.assertEqual((left.y.end, left.y.title, left.y2), (290.0, "Probe", Scale()))
        self.assertEqual([(guide.axis, guide.value) for guide in left.guides], [("y", 281.0)])
        self.assertEqual([one.axis("y") for one in left.series], ["y"])

    def test_missing_readings_break_and_do_not_count(self) -> None:
        figure = change_series(self.figure, TABLES, "s1", y="Dissolved oxygen")
        points = series_points(figure.panel.series[0], figure.panel, TABLES)
        np.testing.assert_array_equal(points.rows, [0, 2, 3, 4])
        np.testing.assert_array_equal(points.gaps, [1])

    @given(
        st.lists(st.tuples(st.integers(-3, 3), st.sampled_from([-2.0, -1.0, 0.0, 1.5, np.nan])),
                 max_size=40), st.booleans(), st.tuples(st.integers(-4, 4), st.integers(-4, 4)),
    )  # fmt: skip
    def test_what_is_known_of_points_is_what_counting_tells(
        self, cells: list[tuple[int, float]], rising: bool, range_: tuple[int, int]
    ) -> None:
        cells = sorted(cells, key=lambda cell: cell[0]) if rising else cells
        table = Table("t", (number_column("x", [float(x) for x, _ in cells]),
                            number_column("y", [y for _, y in cells])))  # fmt: skip
        figure = Figure((Panel((Series("s1", "t", "x", "y"),)),))
        with mock.patch.object(column, "_PIECE", 4):
            points = series_points(figure.panel.series[0], figure.panel, (table,))
            known = [(x, y) for x, y in cells if not np.isnan(y)]
            low, high = sorted(map(float, range_))
            inside = [low <= x <= high and low <= y <= 1.0 for x, y in known]
            self.assertEqual(points.within((low, high), (low, 1.0)), sum(inside))
            steps = [b[0] - a[0] for a, b in itertools.pairwise(known)]
            self.assertEqual(points.repeated, steps.count(0))

            def turns(values: list[float]) -> int:
                signs = [np.sign(b - a) for a, b in itertools.pairwise(values) if a != b]
                return sum(a != b for a, b in itertools.pairwise(signs))

            along, up = turns([x for x, _ in known]), turns([y for _, y in known])
            self.assertEqual(points.turns, along if up else 0)
            rows = [row for row, (_, y) in enumerate(cells) if not np.isnan(y)]
            alone = [i for i, row in enumerate(rows) if not {row - 1, row + 1} & set(rows)]
            self.assertEqual(points.lone.tolist(), alone)

    def test_refusals_leave_a_sentence(self) -> None:
        figure = self.figure
        trended = add_trend(figure, "s1")
        acts: dict[str, Callable[[], Figure]] = {
            "longer than the range from 0 to 4": lambda: hold(figure, TABLES, "x", step=9),
            "401 ticks": lambda: hold(figure, TABLES, "x", step=0.01),
            "A step of −1": lambda: hold(figure, TABLES, "x", step=-1),
            "from 3 to 1 runs backward": lambda: hold(figure, TABLES, "x", start=3, end=1),
            "from 7 would hold no reading: the greatest one is 4": lambda: hold(
                figure, TABLES, "x", start=7
            ),
            "to −1 would hold no reading": lambda: hold(figure, TABLES, "x", end=-1),
            "finite": lambda: hold(figure, TABLES, "x", end=float("inf")),
            "has its straight line already": lambda: add_trend(trended, "s1"),
            "5 × 64 mm": lambda: set_size(figure, 5, 64),
        }
        for said, act in acts.items():
            with self.subTest(said), self.assertRaises(EditRefused) as caught:
                act()
            self.assertIn(said, str(caught.exception))
        self.assertEqual(hold(figure, TABLES, "x", start=7, end=9).panel.x.start, 7)

    @given(
        st.lists(
            st.sampled_from(
                [
                    swap_axes,
                    lambda f: reverse(f, "y"),
                    lambda f: change_scale(f, "x", grid=True, minor="4"),
                    lambda f: set_title(f, " Profile "),
                    lambda f: set_axis_title(f, "y", "T"),
                    lambda f: set_size(f, 120, 90),
                    lambda f: hold(f, TABLES, "x", end=30),
                    lambda f: free_scale(f, "x"),
                ]
            ),
            max_size=8,
        )
    )
    def test_edits_make_new_figures_and_leave_the_old_alone(
        self, edits: list[Callable[[Figure], Figure]]
    ) -> None:
        figure = PLAIN
        before = evolve(figure)
        for edit in edits:
            figure, earlier = edit(figure), figure
            self.assertIsInstance(figure, Figure)
            self.assertEqual(edit(earlier), figure)
        self.assertEqual(PLAIN, before)

    def test_values_that_cannot_be_are_not_made(self) -> None:
        for make in (
            lambda: Series("s1", "t", "x", "y", "ribbons"),
            lambda: Scale(kind="round"),
            lambda: Scale(step=-1.0),
            lambda: Scale(start=float("nan")),
            lambda: Trend("t1", "s1", "guess"),
            lambda: Panel(()),
            lambda: Figure((self.figure.panel,), width_mm=1.0),
        ):
            with self.assertRaises(ValueError):
                make()


class HandedEdits(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        self.figure = add_trend(PLAIN, "s1")

    def test_readings_left_out_take_no_part_and_come_back(self) -> None:
        left = leave_out(self.figure, "s1", (3, 1), "gust")
        self.assertEqual(left.panel.series[0].left_out, (LeftOut(1, "gust"), LeftOut(3, "gust")))
        fit = trend_fit(left.panel.trends[0], left.panel, TABLES)
        np.testing.assert_array_equal(fit.rows, [0, 2, 4])
        slope = np.polyfit([0, 2, 4], [19.4, 18.0, 8.8], 1)[0]
        self.assertAlmostEqual(fit.value("slope"), float(slope))
        said = caption(left, TABLES, {})
        self.assertTrue(
            said.endswith("2 readings were left out of the trend (hollow): gust."), said
        )
        again = leave_out(left, "s1", (1,), "rain")
        self.assertEqual(again.panel.series[0].left_out[0].reason, "rain")
        self.assertEqual(bring_back(left, "s1", (1, 3)), self.figure)
        # they were left out of these readings, not of others
        other = change_series(left, TABLES, "s1", y="Dissolved oxygen")
        self.assertEqual(other.panel.series[0].left_out, ())
        kept = change_series(left, TABLES, "s1", mark="line")
        self.assertEqual(len(kept.panel.series[0].left_out), 2)

    def test_what_is_moved_or_typed_can_find_its_way_back(self) -> None:
        figure, spot = self.figure, Spot(0.25, 0.5)
        places: tuple[Movable, ...] = (Title(), Legend(), TrendLabel("t1"))
        for of in places:
            moved = move(figure, of, spot)
            self.assertNotEqual(moved, figure)
            self.assertEqual(move(moved, of, None), figure)
        with self.assertRaises(KeyError):
            move(figure, TrendLabel("t9"), spot)
        own = set_caption(figure, "Our H_2O")
        self.assertEqual(caption(own, TABLES, {}), "Our H₂O")
        self.assertEqual(set_caption(own, "  "), figure)
        named = rename_series(figure, "s1", "Bay")
        self.assertEqual(series_name(named.panel, named.panel.series[0], TABLES), "Bay")
        self.assertEqual(rename_series(named, "s1", " "), figure)
        self.assertEqual(change_scale(figure, "y", labels="power").panel.y.labels, "power")
        held = hold_view(figure, {"x": (1, 3), "y": (8, 20)})
        self.assertEqual((held.panel.x.start, held.panel.y.end), (1, 20))
        with self.assertRaises(EditRefused):
            hold_view(figure, {"x": (3, 1)})


class Words(SornixTest):
    def test_captions(self) -> None:
        # a common word is small within a sentence; a place, a symbol and a heading stay
        for name, said in (
            ("Date", "date"), ("Phosphate", "phosphate"), ("Station", "station"),
            ("Water temperature", "water temperature"), ("Ashel mouth", "Ashel mouth"),
            ("Reed", "Reed"), ("pH", "pH"), ("DATE", "DATE"), ("Oxygen Demand", "Oxygen Demand"),
            ("Station A", "Station A"), ("depth", "depth"),
        ):  # fmt: skip
            self.assertEqual(lower_names(name), said)
        figure = add_trend(PLAIN, "s1")
        self.assertEqual(
            caption(figure, TABLES, {"t1": "T = −2.8 z + 21"}),
            "Temperature against depth, 5 readings. Straight line: ordinary least squares, "
            "T = −2.8 z + 21, R² = 0.8753.",
        )
        two = add_series(remove_trend(figure, "t1"), TABLES)
        self.assertEqual(
            caption(two, TABLES, {}), "Temperature and dissolved oxygen against depth, 9 readings."
        )

    def test_a_trend_that_cannot_be_is_left_out_of_the_caption(self) -> None:
        table = read_text(b"a,b\n1,2\n1,3\n", "t")
        figure = add_trend(Figure((Panel((Series("s1", "t", "a", "b"),)),)), "s1")
        self.assertEqual(caption(figure, (table,), {}), "b against a, 2 readings.")
        with self.assertRaises(TrendImpossible):
            trend_fit(figure.panel.trends[0], figure.panel, (table,))
        self.assertEqual(change_trend(figure, "t1", shows=()).panel.trends[0].shows, ())
