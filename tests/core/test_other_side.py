"""An axis in other units on its other side: always in step with the first."""

import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.drawing import Drawing, Lines, Text, draw_figure
from sornix.core.errors import EditRefused
from sornix.core.figure import Figure, Other, hold, new_figure, set_kind, set_other, swap_axes
from sornix.core.readings import Table, number_column
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

TABLES = (Table("t", (number_column("x", [1, 9]), number_column("T", [2, 31], "°C"))),)
FAHRENHEIT = Other(1.8, 32.0, "T / °F")


def draw(figure: Figure) -> Drawing:
    return draw_figure(figure, TABLES, PlainMeasure())


class OtherSide(SornixTest):
    @given(
        st.floats(-50, 50), st.floats(0.5, 300), st.floats(-9, 9).filter(lambda f: abs(f) > 0.01)
    )
    def test_every_label_stands_at_the_value_that_it_says(
        self, start: float, span: float, factor: float
    ) -> None:
        figure = hold(new_figure(TABLES[0]), TABLES, "y", start=None, end=None)
        scale = evolve(figure.panel.y, start=start, end=start + span)
        figure = evolve(figure, panels=(evolve(figure.panel, y=scale),))
        figure = set_other(figure, TABLES, "y", Other(factor, 3.0))
        drawing = draw(figure)
        place = drawing.panels[0]
        line = next(i for i in drawing.items if isinstance(i, Lines) and i.of == "y-other")
        at = [(place.inner.bottom - y) / place.inner.height for y in line.ends[1:, 1]]
        values = np.sort(factor * np.array([place.y.value(p) for p in at]) + 3.0)
        texts = [i for i in drawing.items if isinstance(i, Text) and i.of == "y-other"]
        said = sorted(
            float(i.runs[0].text.replace("−", "-").replace("\u2009", "").replace("×10", "e0"))
            for i in texts
            if len(i.runs) == 1
        )
        if len(said) == len(values):
            np.testing.assert_allclose(said, values, rtol=1e-9, atol=1e-9 * span * abs(factor))
        self.assertTrue(all(i.x > place.inner.right for i in texts))

    def test_both_sides_have_room_and_titles(self) -> None:
        bare = draw(new_figure(TABLES[0]))
        figure = set_other(new_figure(TABLES[0]), TABLES, "y", FAHRENHEIT)
        figure = set_other(figure, TABLES, "x", Other(60.0, 0.0, "seconds"))
        drawing = draw(figure)
        self.assertLess(drawing.panels[0].inner.width, bare.panels[0].inner.width)
        self.assertGreater(drawing.panels[0].inner.top, bare.panels[0].inner.top)
        titles = {i.of: i for i in drawing.items if isinstance(i, Text) and "other-title" in i.of}
        self.assertEqual(titles["y-other-title"].runs[0].text, "T / °F")
        for text in (i for i in drawing.items if isinstance(i, Text)):
            self.assertTrue(0 <= text.x <= drawing.width_mm and 0 <= text.y <= drawing.height_mm)
        turned = swap_axes(figure).panel
        self.assertEqual((turned.x.other, turned.y.other), (FAHRENHEIT, figure.panel.x.other))

    def test_what_has_no_other_units(self) -> None:
        figure = new_figure(TABLES[0])
        logged = set_kind(figure, TABLES, "y", "log")
        with self.assertRaises(EditRefused):
            set_other(logged, TABLES, "y", FAHRENHEIT)
        draw(set_other(logged, TABLES, "y", Other(1000.0)))
        with self.assertRaises(EditRefused):
            set_other(set_kind(figure, TABLES, "x", "category"), TABLES, "x", Other(2.0))
