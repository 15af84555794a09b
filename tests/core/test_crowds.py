"""Markers that would hide each other: smaller, without outlines, as a shade; and what says so."""

from unittest import mock

import numpy as np
from attrs import evolve

from sornix.core.cautions import find_cautions
from sornix.core.document import Document, new_document
from sornix.core.drawing import Crowd, Drawing, Markers, draw_figure
from sornix.core.drawing.marks import marks
from sornix.core.figure import add_trend, caption, hold, leave_out, set_size
from sornix.core.figure.model.scale import Spot
from sornix.core.figure.model.series import SeriesStyle
from sornix.core.readings import Table, number_column
from tests.base import SornixTest
from tests.core.measure import PlainMeasure


def clouds(count: int, seed: int = 1) -> Table:
    """Two clouds of readings, the second small and dense."""
    random = np.random.default_rng(seed)
    wide, dense = count - count // 2, count // 2
    x = np.concatenate((random.normal(0, 1, wide), random.normal(1.8, 0.6, dense)))
    y = np.concatenate((random.normal(0, 1, wide), random.normal(1.2, 0.5, dense)))
    return Table("t", (number_column("Temperature", x, "°C"), number_column("Oxygen", y, "mg/L")))


def scatter(table: Table, **style: object) -> Document:
    document = new_document(table)
    panel = document.figure.panel
    names = table.column_names
    series = evolve(panel.series[0], x=names[0], y=names[1], mark="points",
                    style=SeriesStyle(**style))  # type: ignore[arg-type]  # fmt: skip
    return evolve(document, figure=document.figure.with_panel(evolve(panel, series=(series,))))


def drawn(document: Document) -> Drawing:
    return draw_figure(document.figure, document.tables, PlainMeasure())


def said(document: Document) -> list[str]:
    found = find_cautions(document.figure, document.tables, drawn(document))
    return [one.text for one in found if "hidden" in one.text]


class Crowds(SornixTest):
    def test_more_readings_are_smaller_then_plain_then_a_shade(self) -> None:
        sizes, outlines = [], []
        for count in (60, 300, 600, 1500, 5000):
            (markers,) = [i for i in drawn(scatter(clouds(count))).items if isinstance(i, Markers)]
            self.assertEqual(len(markers.points), count)
            sizes.append(markers.size_mm)
            outlines.append(markers.edge.width_mm > 0)
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        self.assertEqual(outlines, sorted(outlines, reverse=True))
        self.assertEqual(drawn(scatter(clouds(60))).place.crowding.size, 1)
        self.assertLess(sizes[2], sizes[0])
        self.assertEqual((outlines[2], outlines[3]), (True, False))
        many = drawn(scatter(clouds(60_000)))
        (crowd,) = [item for item in many.items if isinstance(item, Crowd)]
        self.assertEqual(len(crowd.parts[0].points), 60_000)
        lone = [item for item in many.items if isinstance(item, Markers)]
        self.assertTrue(1 <= sum(len(item.points) for item in lone) < 200)
        # replicates near each other are no crowd
        x = np.repeat(np.arange(25.0), 3)
        near = Table(
            "t", (number_column("x", x), number_column("y", x + 0.01 * (np.arange(75) % 3)))
        )
        self.assertEqual(drawn(scatter(near)).place.crowding.size, 1)
        # on a larger page they can be told apart
        document = scatter(clouds(5000))
        wide = evolve(document, figure=set_size(document.figure, 400, 300))
        self.assertGreater(drawn(wide).place.crowding.size, drawn(document).place.crowding.size)

    def test_very_many_readings_are_merged_where_they_cannot_be_told_apart(self) -> None:
        document = scatter(clouds(60_000))
        document = evolve(document, figure=hold(document.figure, document.tables, "x", end=1.5))
        whole = drawn(document)
        with mock.patch.object(marks, "MANY", 1000):
            less = drawn(document)
        one, other = (next(i for i in d.items if isinstance(i, Crowd)) for d in (whole, less))
        (many,), (few,) = one.parts, other.parts
        assert few.weights is not None
        self.assertLess(len(few.points), len(many.points))
        self.assertEqual(few.weights.sum(), len(many.points))
        self.assertEqual(other.full, one.full)
        # each stands where one of its readings stands, and for all that are as near as that
        begin, cell = (one.area.left, one.area.top), 0.025
        at, merged = (np.floor((p.points - begin) / cell) for p in (many, few))
        cells, counts = np.unique(at, axis=0, return_counts=True)
        order = np.lexsort((merged[:, 1], merged[:, 0]))
        np.testing.assert_array_equal(merged[order], cells)
        np.testing.assert_array_equal(few.weights[order], counts)
        lone = [
            sum(len(i.points) for i in d.items if isinstance(i, Markers)) for d in (whole, less)
        ]
        self.assertEqual(*lone)
        # what was merged without one reading is not shown for another
        document = scatter(clouds(2000))
        x, y = (column.numbers for column in document.tables[0].columns)
        with mock.patch.object(marks, "MANY", 1000):
            for row in (700, 1300):
                figure = leave_out(document.figure, document.figure.panel.series[0].id, (row,))
                drawing = drawn(evolve(document, figure=figure))
                full, hollow = (i for i in drawing.items if isinstance(i, Markers))
                self.assertEqual((list(hollow.rows), row in full.rows), ([row], False))
                where = drawing.place.place(x[full.rows], y[full.rows])
                np.testing.assert_array_equal(full.points, where)

    def test_what_is_chosen_stays_and_what_is_hidden_is_said(self) -> None:
        held = scatter(clouds(20_000), size_mm=2.0)
        markers = [item for item in drawn(held).items if isinstance(item, Markers)]
        self.assertEqual([item.size_mm for item in markers], [2.0])
        hidden = drawn(held).place.crowding.hidden
        # a square of half the size of a marker holds one that can be seen
        (points,) = [np.unique(np.floor(m.points - m.points.min(axis=0)), axis=0)
                     for m in markers]  # fmt: skip
        self.assertAlmostEqual(hidden, 1 - len(points) / 20_000, delta=0.01)
        self.assertEqual(said(held), [f"{100 * hidden:.0f} % of the markers are hidden by others."])
        (finding,) = [f for f in find_cautions(held.figure, held.tables, drawn(held))
                      if "hidden" in f.text]  # fmt: skip
        assert finding.remedy is not None
        freed = evolve(held, figure=finding.remedy.edit(held.figure))
        self.assertIsNone(freed.figure.panel.series[0].style.size_mm)
        self.assertEqual(said(freed), [])
        self.assertEqual(said(scatter(clouds(300))), [])
        # smaller ones at the very same places are hidden as well
        level = np.repeat(np.arange(6.0), 100)
        same = scatter(Table("t", (number_column("x", level), number_column("y", level * 2))))
        self.assertEqual(drawn(same).place.crowding.size, 1)
        self.assertEqual(said(same), ["99 % of the markers are hidden by others."])

    def test_the_caption_tells_what_a_shade_means_and_labels_over_it_have_a_ground(self) -> None:
        document = scatter(clouds(60_000))
        series = document.figure.panel.series[0].id
        figure = add_trend(document.figure, series, "line", spot=Spot(0.5, 0.3))
        drawing = drawn(evolve(document, figure=figure))
        full = drawing.place.crowding.full
        words = f"one is the palest, {full:.0f} or more are the darkest"
        self.assertIn(words, caption(figure, document.tables, {}, drawing.shades))
        self.assertNotIn("hade", caption(figure, document.tables, {}))
        order = [item.of for item in drawing.items]
        ground, label = (order.index(f"trend/t1/label{of}") for of in ("/ground", ""))
        self.assertLess(order.index("crowd"), ground)
        self.assertLess(ground, label)
        # a few readings under a label are not hidden by a ground
        few = scatter(clouds(60))
        sparse = drawn(
            evolve(few, figure=add_trend(few.figure, series, "line", spot=Spot(0.5, 0.3)))
        )
        self.assertFalse(any(item.of.endswith("ground") for item in sparse.items))
