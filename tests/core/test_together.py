"""Series and trends that are alike: lines of them, and edits that all of a line follow."""

from collections.abc import Callable

from attrs import evolve

from sornix.core.errors import EditRefused
from sornix.core.figure import (
    ErrorBars,
    Figure,
    LeftOut,
    Panel,
    Scale,
    Series,
    add_guide,
    add_trend,
    change_scale,
    change_series,
    change_trend,
    put_on,
    remove_series,
    remove_trend,
    set_errors,
    set_mark,
    split_panels,
    split_series,
    style_series,
)
from sornix.core.figure.edits.panelstogether import (
    alike_panels,
    spread_panels,
    word_of_panels,
)
from sornix.core.figure.edits.together import (
    series_lines,
    set_columns,
    spread_series,
    spread_trends,
    trend_lines,
    trend_through,
)
from sornix.core.readings import read_text
from tests.base import SornixTest

NAMES = ("North", "East", "South", "West")
TEXT = "Month,Day,Site,North (°C),East (°C),South (°C),West (°C),Rain (mm),SD\n" + "".join(
    f"{i},{30 * i},{'ab'[i % 2]},{i},{i + 1},{i + 2},{2 * i},{i % 3},0.1\n" for i in range(1, 9)
)
TABLES = (read_text(TEXT.encode(), "bays"),)


def _figure(names: tuple[str, ...] = NAMES) -> Figure:
    series = tuple(Series(f"s{i + 1}", "bays", "Month", name, "line", i)
                   for i, name in enumerate(names))  # fmt: skip
    return Figure((Panel(series, x=Scale(end=6.0)),))


class Together(SornixTest):
    def test_names_have_no_mean(self) -> None:
        means = change_series(_figure(("North",)), TABLES, "s1", together="mean", x="Site")
        means = set_errors(means, TABLES, "s1", "y", "sd")
        for x, y, together in (("Site", "North", "mean"), ("Day", "North", "mean"),
                               ("Site", "Site", "each")):  # fmt: skip
            series = change_series(means, TABLES, "s1", x=x, y=y).panel.series[0]
            self.assertEqual(series.together, together)
            self.assertEqual(series.errors_y is None, together == "each")

    def test_what_is_alike_but_for_its_column_and_its_look_stands_in_one_line(self) -> None:
        figure = _figure()
        self.assertEqual(series_lines(figure.panel, TABLES), [("s1", "s2", "s3", "s4")])
        self.assertEqual(series_lines(figure.panel, TABLES, {"s2"}), [("s1", "s3", "s4"), ("s2",)])
        single = style_series(figure, "s2", colour="#aa3366")
        single = change_series(single, TABLES, "s3", name="bay 3", left_out=(LeftOut(2),))
        self.assertEqual(len(series_lines(single.panel, TABLES)), 1)
        for other in (
            set_mark(figure, TABLES, "s2", "points"), put_on(figure, "s2", "y2"),
            change_series(figure, TABLES, "s2", x="Day"),
            set_errors(figure, TABLES, "s2", "y", "fixed"),
            change_series(figure, TABLES, "s2", y="Rain"),
        ):  # fmt: skip
            self.assertEqual(series_lines(other.panel, TABLES), [("s1", "s3", "s4"), ("s2",)])
        # one series per value of a column, and a profile, whose series share their y
        split = split_series(_figure(("North",)), TABLES, "s1", "Site")
        self.assertEqual(len(series_lines(split.panel, TABLES)), 1)
        down = tuple(evolve(s, x=s.y, y=s.x) for s in figure.panel.series)
        self.assertEqual(len(series_lines(evolve(figure.panel, series=down), TABLES)), 1)

    def test_an_edit_of_the_first_is_followed_by_all_of_its_line_and_by_no_other(self) -> None:
        figure = set_mark(_figure(), TABLES, "s4", "bars")
        figure = style_series(figure, "s2", colour="#aa3366")
        ids = series_lines(figure.panel, TABLES)[0]
        asked: list[Callable[[Figure], Figure]] = [
            lambda f: set_mark(f, TABLES, "s1", "points"),
            lambda f: change_series(f, TABLES, "s1", x="Day"),
            lambda f: set_errors(f, TABLES, "s1", "y", "fixed"),
            lambda f: style_series(f, "s1", size_mm=2.0),
            lambda f: put_on(f, "s1", "y2"),
        ]
        for edit in asked:
            changed = spread_series(figure, edit(figure), TABLES, ids)
            self.assertEqual(series_lines(changed.panel, TABLES), [ids, ("s4",)])
            self.assertNotEqual(changed.panel.one_series("s3"), figure.panel.one_series("s3"))
            self.assertEqual(changed.panel.one_series("s4"), figure.panel.one_series("s4"))
            self.assertEqual(changed.panel.one_series("s2").style.colour, "#aa3366")
        # a range was held for the readings that all of them had
        whole = _figure()
        moved = change_series(whole, TABLES, "s1", x="Day")
        self.assertIsNone(spread_series(whole, moved, TABLES, ("s1", "s2", "s3", "s4")).panel.x.end)
        # so was what was said of them, and what stood at their values
        said = add_guide(change_scale(whole, "x", title="Weeks"), TABLES, "x", 3.0)
        for edit, title, lines in (
            (lambda f: change_series(f, TABLES, "s1", x="Day"), None, 1),
            (lambda f: change_series(f, TABLES, "s1", x="Rain"), None, 0),
            (lambda f: set_mark(f, TABLES, "s1", "points"), "Weeks", 1),
        ):
            panel = spread_series(said, edit(said), TABLES, ("s1", "s2", "s3", "s4")).panel
            self.assertEqual((panel.x.title, len(panel.guides)), (title, lines))
        with self.assertRaisesRegex(EditRefused, "y keeps one series"):
            up = put_on(whole, "s1", "y2")
            spread_series(whole, up, TABLES, ("s1", "s2", "s3", "s4"))

    def test_columns_are_ticked_moved_and_taken_away(self) -> None:
        figure = style_series(_figure(NAMES[:2]), "s2", colour="#aa3366")
        figure = add_trend(figure, "s1", "line")
        more = set_columns(figure, ("s1", "s2"), ("North", "East", "South"))
        self.assertEqual([s.y for s in more.panel.series], ["North", "East", "South"])
        self.assertEqual(more.panel.series[:2], figure.panel.series)
        self.assertEqual(
            (more.panel.series[2].palette_index, more.panel.series[2].mark), (2, "line")
        )
        other = set_columns(more, ("s1", "s2", "s3"), ("South", "East"))
        self.assertEqual([s.id for s in other.panel.series], ["s3", "s2"])
        self.assertEqual(other.panel.trends, ())
        none_left = set_columns(figure, ("s1", "s2"), ("West",))
        self.assertEqual([s.y for s in none_left.panel.series], ["West"])
        with self.assertRaises(EditRefused):
            set_columns(figure, ("s1", "s2"), ())
        # lengths of error bars in a column are those of one series alone
        measured = change_series(figure, TABLES, "s1", errors_y=ErrorBars("column", column="SD"))
        drawn = set_columns(measured, ("s1",), ("North", "West")).panel.series
        self.assertEqual([s.y for s in drawn], ["North", "West", "East"])
        self.assertIsNone(drawn[1].errors_y)

    def test_panels_that_differ_by_one_word_are_changed_as_one(self) -> None:
        begin = add_trend(_figure(("North", "East")), "s1", "line")
        figure = split_panels(begin, TABLES, "Site")
        self.assertEqual(len(figure.panels), 2)
        self.assertEqual(alike_panels(figure), (0, 1))
        self.assertEqual(word_of_panels(figure), "Site")
        first = [one.id for one in figure.panels[0].series]
        asked: list[Callable[[Figure], Figure]] = [
            lambda f: set_mark(f, TABLES, first[0], "points"),
            lambda f: style_series(f, first[1], size_mm=3.0),
            lambda f: change_scale(f, "x", start=-2.0),
            lambda f: add_trend(f, first[1], "power"),
            lambda f: change_trend(f, f.panel.trends[0].id, model="exponential"),
            lambda f: remove_trend(f, f.panel.trends[0].id),
        ]
        for edit in asked:
            changed = spread_panels(figure, edit(figure))
            self.assertEqual(alike_panels(changed), (0, 1))
            self.assertNotEqual(changed.panels[1], figure.panels[1])
            ids = [one.id for panel in changed.panels for one in panel.series]
            ids += [one.id for panel in changed.panels for one in panel.trends]
            self.assertEqual(len(set(ids)), len(ids))
            for panel in changed.panels:
                own = {one.id for one in panel.series}
                self.assertLessEqual({trend.series for trend in panel.trends}, own)
        # what is its own, or makes it another, stays with the one in hand
        other = evolve(figure.panels[0], title="the first")
        titled = evolve(figure, panels=(other, figure.panels[1]))
        self.assertEqual(spread_panels(figure, titled), titled)
        fewer = remove_series(figure, first[0])
        self.assertEqual(spread_panels(figure, fewer), fewer)
        self.assertEqual(alike_panels(fewer), (0,))

    def test_trends_through_each_of_a_line_are_one(self) -> None:
        figure = add_trend(_figure(), "s2", "line")
        lines = series_lines(figure.panel, TABLES)
        each = trend_through(figure, ("t1",), lines[0])
        self.assertEqual([t.series for t in each.panel.trends], list(lines[0]))
        (ids,) = trend_lines(each.panel, lines)
        changed = spread_trends(each, change_trend(each, ids[0], model="power", end=5.0), ids)
        self.assertEqual({(t.model, t.end) for t in changed.panel.trends}, {("power", 5.0)})
        self.assertEqual(spread_trends(each, remove_trend(each, ids[0]), ids).panel.trends, ())
        one = trend_through(each, ids, ("s3",))
        self.assertEqual([t.series for t in one.panel.trends], ["s3"])
        apart = trend_lines(each.panel, series_lines(each.panel, TABLES, {"s1"}))
        self.assertEqual(sorted(map(len, apart)), [1, 3])
        # those of other lines keep their places, before and behind
        between = add_trend(add_trend(figure, "s4", "power"), "s1", "power")
        order = [t.id for t in between.panel.trends]
        put = trend_through(between, (order[1],), ("s3",))
        self.assertEqual([t.series for t in put.panel.trends], ["s2", "s3", "s1"])
