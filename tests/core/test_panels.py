"""Panels: cells in line, shared axes, series and panels made from categories."""

from typing import Any, ClassVar

import numpy as np
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st

from sornix.core.cautions import find_cautions
from sornix.core.document import (
    Document,
    change_table,
    load_document,
    new_document,
    save_document,
)
from sornix.core.drawing import Drawing, Markers, Path, Text, draw_figure
from sornix.core.errors import EditRefused, SornixError
from sornix.core.figure import (
    Figure,
    add_panel,
    add_series,
    add_trend,
    arrange,
    arrangement,
    caption,
    change_errors,
    change_scale,
    change_series,
    hold,
    hold_view,
    new_figure,
    own_panel,
    put_on,
    remove_panel,
    reverse,
    series_points,
    set_errors,
    set_kind,
    set_letters,
    set_panel_title,
    set_ratios,
    set_share,
    split_panels,
    split_series,
    swap_axes,
)
from sornix.core.readings import read_text
from sornix.demo import demo_document
from tests.base import SornixTest
from tests.core.drawn import lines_of
from tests.core.measure import PlainMeasure

TABLES = (
    read_text(
        b"x / s,a / m,b / K,c / L,site\n1,4,20,7,bay\n2,5,,9,weir\n3,9,25,4,bay\n4,7,21,2,\n"
        b"8,1,29,3,weir\n",
        "t",
    ),
)


def draw(figure: Figure) -> Drawing:
    return draw_figure(figure, TABLES, PlainMeasure())


def three() -> Figure:
    return add_panel(add_panel(new_figure(TABLES[0]), TABLES), TABLES)


class Grid(SornixTest):
    def test_data_areas_stand_in_line_with_sizes_in_proportion(self) -> None:
        figure = evolve(three(), height_mm=140.0)
        stacked = [p.inner for p in draw(set_ratios(figure, heights=(2, 1, 1))).panels]
        self.assertEqual(len({(r.left, r.width) for r in stacked}), 1)
        self.assertAlmostEqual(stacked[0].height, 2 * stacked[1].height)
        row = [p.inner for p in draw(evolve(arrange(figure, "row"), width_mm=200.0)).panels]
        self.assertEqual(len({(r.top, round(r.height, 9)) for r in row}), 1)
        grid = arrange(figure, "grid")
        cells = [(p.row, p.column) for p in grid.panels]
        self.assertEqual((cells, arrangement(grid)), ([(0, 0), (0, 1), (1, 0)], "grid"))
        kept = remove_panel(grid, 1)
        self.assertEqual([(p.row, p.column) for p in kept.panels], [(0, 0), (1, 0)])
        kept = remove_panel(grid, 0)
        self.assertEqual([(p.row, p.column) for p in kept.panels], [(0, 1), (1, 0)])
        with self.assertRaises(EditRefused):
            set_ratios(figure, heights=(20, 1, 1))
        with self.assertRaises(EditRefused):
            remove_panel(new_figure(TABLES[0]), 0)

    def test_shared_axes_are_said_once_and_move_together(self) -> None:
        figure = three()
        self.assertEqual(figure.share, "x")
        drawing = draw(figure)
        said = {t.y for t in drawing.items if isinstance(t, Text) and t.of == "x-axis"}
        self.assertEqual(len(said), 1)
        self.assertEqual(sum(i.of == "x-title" for i in drawing.items), 1)
        self.assertEqual(sum(i.of == "y-title" for i in drawing.items), 3)
        held = hold(figure.with_hand(1), TABLES, "x", end=6.0)
        self.assertEqual({p.x.end for p in draw(held).panels}, {6.0})
        looked = hold_view(figure.with_hand(2), {"x": (2.0, 3.0), "y": (0.0, 9.0)})
        self.assertEqual([p.start for p in (q.x for q in looked.panels)], [2.0] * 3)
        self.assertEqual([q.y.start for q in looked.panels], [None, None, 0.0])
        self.assertTrue(all(p.x.reversed for p in reverse(figure, "x").panels))
        both = set_share(figure, TABLES, "both")
        ends = {(p.y.start, p.y.end) for p in draw(both).panels}
        self.assertEqual(len(ends), 1)
        self.assertTrue(all(p.y.end >= 29 and p.y.start <= 1 for p in draw(both).panels))
        swapped = swap_axes(figure)
        self.assertEqual((swapped.share, swap_axes(swapped)), ("y", figure))
        odd = set_kind(set_share(figure, TABLES, "none").with_hand(0), TABLES, "x", "log")
        with self.assertRaises(EditRefused):
            set_share(odd, TABLES, "x")

    def test_only_panels_that_an_edit_changes_are_drawn_anew(self) -> None:
        figure, measure = three(), PlainMeasure()
        figure = add_trend(figure, figure.panel.series[0].id)
        edited = hold(figure.with_hand(1), TABLES, "y", end=35.0)
        titled = set_panel_title(edited, 2, "Litres")
        moved = hold(titled, TABLES, "x", end=9.0)
        before: list[set[int]] = [set()] * 3
        for one, same in ((figure, []), (edited, [0, 2]), (titled, [0, 1]), (moved, [])):
            drawing = draw_figure(one, TABLES, measure)
            ends = np.cumsum(drawing.of_panels)
            found = [
                set(map(id, drawing.items[end - count : end]))
                for end, count in zip(ends, drawing.of_panels, strict=True)
            ]
            self.assertEqual([i for i in range(3) if found[i] == before[i]], same)
            before, _held = found, drawing

    def test_a_series_gets_its_own_panel_with_its_trend_and_its_scale(self) -> None:
        figure = add_series(new_figure(TABLES[0]), TABLES)
        figure = add_trend(put_on(figure, "s2", "y2"), "s2")
        figure = hold(figure, TABLES, "y2", start=-5.0)
        moved = own_panel(figure, "s2")
        self.assertEqual([len(p.series) for p in moved.panels], [1, 1])
        self.assertEqual((moved.hand, moved.panel.y.start), (1, -5.0))
        self.assertEqual([t.series for t in moved.panels[1].trends], ["s2"])
        self.assertEqual(moved.panels[0].axes, ("x", "y"))
        with self.assertRaises(EditRefused):
            own_panel(moved, "s2")
        said = caption(moved, TABLES, {})
        self.assertIn("(a) a against x", said)
        self.assertIn("(b) b against x", said)

    def test_cautions_say_their_panel_and_mend_it(self) -> None:
        figure = hold(three().with_hand(1), TABLES, "y", start=22.0)
        figure = set_letters(figure.with_hand(0), shown=True)
        found = [f for f in find_cautions(figure, TABLES, draw(figure)) if "not shown" in f.text]
        self.assertTrue(found[0].text.startswith("(b): 2 readings are not shown"))
        assert found[0].remedy is not None
        mended = found[0].remedy.edit(figure)
        self.assertEqual((mended.panels[1].y.start, mended.hand), (None, 0))

    def test_readings_beyond_a_shared_range_are_counted_where_they_are_drawn(self) -> None:
        figure = set_share(three(), TABLES, "x")
        figure = hold(figure, TABLES, "x", end=2.5)
        found = [
            f.text for f in find_cautions(figure, TABLES, draw(figure)) if "not shown" in f.text
        ]
        counted = [
            int((series_points(p.series[0], p, TABLES).x > 2.5).sum())
            for p in map(figure.seen, range(3))
        ]
        self.assertEqual(len(found), 3)
        for text, count in zip(found, counted, strict=True):
            self.assertIn(f": {count} reading", text)

    def test_a_figure_too_small_for_its_panels_says_so(self) -> None:
        small = evolve(three(), width_mm=60.0, height_mm=50.0)
        found = [f for f in find_cautions(small, TABLES, draw(small)) if "mm are left" in f.text]
        self.assertEqual(len(found), 3)
        figure = small
        for _ in range(3):
            assert found[0].remedy is not None
            figure = found[0].remedy.edit(figure)
        said = [f.text for f in find_cautions(figure, TABLES, draw(figure))]
        self.assertFalse(any("mm are left" in text for text in said))


class Categories(SornixTest):
    def test_one_series_or_one_panel_per_value(self) -> None:
        figure = add_trend(new_figure(TABLES[0]), "s1")
        series = split_series(new_figure(TABLES[0]), TABLES, "s1", "site").panel.series
        rows = [series_points(s, figure.panel, TABLES).rows.tolist() for s in series]
        self.assertEqual(rows, [[0, 2], [1, 4]])
        self.assertEqual([s.palette_index for s in series], [0, 1])
        lines = change_series(figure, TABLES, "s1", mark="line")
        parts = split_panels(lines, TABLES, "site")
        self.assertEqual(
            [(p.title, len(p.trends)) for p in parts.panels], [("bay", 1), ("weir", 1)]
        )
        drawing = draw(parts)
        self.assertEqual(len({(p.x.start, p.x.end, p.y.start, p.y.end) for p in drawing.panels}), 1)
        # the rows of others between two readings are no gap
        paths = [i for i in drawing.items if isinstance(i, Path) and i.of.startswith("series")]
        self.assertTrue(all(np.isfinite(path.points).all() for path in paths))
        self.assertEqual(sum(i.of == "panel-title" for i in drawing.items), 2)
        with self.assertRaises(EditRefused):
            split_panels(parts, TABLES, "site")

    def test_names_of_columns_are_followed_wherever_they_stand(self) -> None:
        figure = split_series(new_figure(TABLES[0]), TABLES, "s1", "site")
        figure = set_errors(figure, TABLES, "s1", "y", "column")
        figure = change_errors(figure, "s1", "y", column="c")
        figure = change_series(figure, TABLES, "s2", written="=site")
        document = Document(TABLES, change_scale(figure, "x", words="site"))
        for old, new in (("site", "place"), ("c", "spread"), ("x", "time")):
            document = change_table(document, "t", "rename", column=old, name=new, unit="")
        panel = document.figure.panel
        first, second = panel.series
        assert first.only is not None and first.errors_y is not None
        self.assertEqual((first.only.column, first.errors_y.column, second.written, panel.x.words),
                         ("place", "spread", "=place", "place"))  # fmt: skip
        self.assertTrue(draw_figure(document.figure, document.tables, PlainMeasure()).items)
        for column in ("place", "spread", "time"):
            with self.assertRaises(EditRefused):
                change_table(document, "t", "delete_columns", names=[column])

    def test_it_is_saved_and_read_again(self) -> None:
        figure = split_panels(new_figure(TABLES[0]), TABLES, "site")
        figure = set_panel_title(set_ratios(figure, widths=(2.0, 1.0)), 1, "Weir")
        path = self.folder / "panels.sornix"
        save_document(Document(TABLES, figure), path, b"")
        self.assertEqual(load_document(path).figure, figure)


class Walks(SornixTest):
    STEPS: ClassVar[dict[str, Any]] = {
        "panel": lambda f: add_panel(f, TABLES),
        "series": lambda f: add_series(f, TABLES),
        "own": lambda f: own_panel(f, f.panel.series[-1].id),
        "right": lambda f: put_on(f, f.panel.series[-1].id, "y2"),
        "remove": lambda f: remove_panel(f, f.hand),
        "next": lambda f: f.with_hand((f.hand + 1) % len(f.panels)),
        "both": lambda f: set_share(f, TABLES, "both"),
        "none": lambda f: set_share(f, TABLES, "none"),
        "grid": lambda f: arrange(f, "grid"),
        "row": lambda f: arrange(f, "row"),
        "swap": swap_axes,
        "log": lambda f: set_kind(f, TABLES, "x", "log"),
        "hold": lambda f: hold(f, TABLES, "y", start=2.0),
        "trend": lambda f: add_trend(f, f.panel.series[0].id),
        "split": lambda f: split_series(f, TABLES, f.panel.series[0].id, "site"),
    }

    @settings(max_examples=60)
    @given(st.lists(st.sampled_from(sorted(STEPS)), max_size=9))
    def test_any_walk_leaves_a_figure_that_can_be_drawn(self, steps: list[str]) -> None:
        figure = evolve(new_figure(TABLES[0]), width_mm=240.0, height_mm=240.0)
        measure = PlainMeasure()
        for step in steps:
            try:
                changed = self.STEPS[step](figure)
            except SornixError:
                continue
            figure = changed
            ids = [s.id for p in figure.panels for s in p.series]
            self.assertEqual(len(set(ids)), len(ids))
            cells = [(p.row, p.column) for p in figure.panels]
            self.assertEqual(len(set(cells)), len(cells))
            if figure.shares("x"):
                self.assertEqual(len({p.x for p in figure.panels}), 1)
            stepped = draw_figure(figure, TABLES, measure)
            # nothing is kept of what another measure has drawn
            self.assertEqual([*lines_of(stepped)], [*lines_of(draw(figure))])
        drawing = draw(figure)
        for index, place in enumerate(drawing.panels):
            for series in figure.panels[index].series:
                points = series_points(series, figure.seen(index), TABLES)
                wanted = place.on(series).place(points.x, points.y)
                inside = [p for p in wanted if place.inner.grown(1e-6).holds(*p)]
                marks = [i.points for i in drawing.items
                         if isinstance(i, Markers) and i.of == f"series/{series.id}"]  # fmt: skip
                drawn = np.concatenate(marks) if marks else np.zeros((0, 2))
                self.assertEqual(len(drawn), len(inside))
                for point in drawn:
                    self.assertLess(np.abs(wanted - point).sum(axis=1).min(), 1e-9)


class Demo(SornixTest):
    def test_weekday_samples_stand_without_holes_in_order(self) -> None:
        document = demo_document("weekday-samples")
        drawing = draw_figure(document.figure, document.tables, PlainMeasure())
        marks = [i.points for i in drawing.items if isinstance(i, Markers)]
        by_date, in_order = (np.diff(points[:, 0]) for points in marks)
        self.assertGreater(by_date.max() / by_date.min(), 2.5)
        np.testing.assert_allclose(in_order, in_order[0])
        self.assertEqual(new_document(*document.tables).figure.share, "none")
