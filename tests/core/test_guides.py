"""Lines and shaded ranges at given values, and what stands beside the numbers of an axis."""

from itertools import combinations

import numpy as np

from sornix.core.drawing import Drawing, Fill, Lines, Rect, Text, draw_figure
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    Figure,
    GuideBox,
    add_guide,
    change_scale,
    hold,
    new_figure,
    remove_guide,
    set_kind,
    swap_axes,
)
from sornix.core.readings import Table, number_column
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

TABLES = (Table("t", (number_column("x", [0, 10]), number_column("y", [2000, 5000]))),)


def draw(figure: Figure) -> Drawing:
    return draw_figure(figure, TABLES, PlainMeasure())


def labels(figure: Figure, axis: str = "y") -> list[str]:
    place = draw(figure).panels[0]
    ticks = place.x.ticks if axis == "x" else place.y.ticks
    return ["".join(run.text for run in tick.label) for tick in ticks if tick.label]


class Guides(SornixTest):
    def test_they_stand_at_their_values_and_widen_a_free_range(self) -> None:
        figure = add_guide(new_figure(TABLES[0]), TABLES, "y", 7000.0, label="limit")
        figure = add_guide(figure, TABLES, "x", 6.0, 4.0)
        drawing = draw(figure)
        place = drawing.panels[0]
        self.assertGreaterEqual(place.y.end, 7000)
        line = next(i for i in drawing.items if isinstance(i, Lines) and i.of == "guide/g1")
        up = (place.inner.bottom - line.ends[0][1]) / place.inner.height
        self.assertAlmostEqual(place.y.value(up), 7000)
        fill = next(i for i in drawing.items if isinstance(i, Fill))
        along = (fill.points[:, 0] - place.inner.left) / place.inner.width
        np.testing.assert_allclose([place.x.value(p) for p in sorted(set(along))], [4, 6])
        said = [i for i in drawing.items if isinstance(i, Text) and i.of == "guide/g1"]
        self.assertEqual([i.runs[0].text for i in said], ["limit"])
        # shading lies behind everything else, and boxes tell the pointer what it is over
        self.assertIsInstance(drawing.items[0], Fill)
        self.assertIsNotNone(drawing.box_of(GuideBox("g2")))
        turned = swap_axes(figure)
        self.assertEqual([g.axis for g in turned.panel.guides], ["x", "y"])
        self.assertEqual(remove_guide(remove_guide(figure, "g1"), "g2").panel.guides, ())

    def test_their_labels_keep_out_of_each_other_and_of_other_lines(self) -> None:
        figure = hold(new_figure(TABLES[0]), TABLES, "x", start=0.0)
        figure = add_guide(figure, TABLES, "x", 0.0, label="limit")
        figure = add_guide(figure, TABLES, "x", 0.0, 4.0, "usual")
        figure = add_guide(figure, TABLES, "y", 5000.0, label="most")
        figure = add_guide(figure, TABLES, "x", 10.0, label="end")
        drawing = draw(figure)
        said = [i for i in drawing.items if isinstance(i, Text) and i.of.startswith("guide/")]
        measure = PlainMeasure()
        boxes = [
            Rect(t.x, t.y - measure.ascent(t.size_mm), measure.width(t.runs, t.size_mm),
                 measure.ascent(t.size_mm))
            for t in said
        ]  # fmt: skip
        self.assertEqual(len(boxes), 4)
        for one, other in combinations(boxes, 2):
            self.assertFalse(one.meets(other), (one, other))
        upright = drawing.box_of(GuideBox("g4"))
        assert upright is not None
        self.assertFalse(boxes[2].meets(upright.grown(-0.6).grown(0.1)))

    def test_one_outside_a_held_range_is_not_drawn(self) -> None:
        figure = add_guide(new_figure(TABLES[0]), TABLES, "x", 8.0, label="late")
        figure = hold(figure, TABLES, "x", end=5.0)
        self.assertFalse([i for i in draw(figure).items if i.of.startswith("guide/")])

    def test_listed_places_have_no_values_between(self) -> None:
        figure = set_kind(new_figure(TABLES[0]), TABLES, "x", "category")
        with self.assertRaises(EditRefused):
            add_guide(figure, TABLES, "x", 3.0)
        with self.assertRaises(EditRefused):
            add_guide(figure, TABLES, "y", 3.0, 3.0)


class Labels(SornixTest):
    def test_forms_and_texts_beside_the_number(self) -> None:
        figure = new_figure(TABLES[0])
        thousands = labels(change_scale(figure, "y", labels="thousands"))
        self.assertTrue(all(text.endswith("k") for text in thousands))
        self.assertEqual(float(thousands[0][:-1]) * 1000, 2000)
        self.assertEqual(labels(change_scale(figure, "y", labels="none")), [])
        beside = labels(change_scale(figure, "x", before="≈ ", after="\u2009cm^3"), "x")
        self.assertEqual((beside[0][:2], beside[0][-3:]), ("≈ ", "cm3"))
        shares = (Table("t", (number_column("x", [0, 1]), number_column("y", [0, 0.5]))),)
        figure = change_scale(new_figure(shares[0]), "y", labels="percent")
        place = draw_figure(figure, shares, PlainMeasure()).panels[0]
        said = ["".join(run.text for run in tick.label) for tick in place.y.ticks]
        self.assertEqual((said[0], said[-1]), ("0\u2009%", "50\u2009%"))
