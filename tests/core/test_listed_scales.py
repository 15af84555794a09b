"""Categories and readings in order: places in a list, their labels, and what is said about them."""

from typing import ClassVar

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from sornix.core.cautions import find_cautions
from sornix.core.document import change_table, new_document
from sornix.core.drawing import Drawing, Markers, Text, draw_figure
from sornix.core.errors import EditRefused, TrendImpossible
from sornix.core.figure import (
    Figure,
    Scale,
    add_trend,
    change_series,
    fitted_trends,
    hold,
    new_figure,
    set_kind,
    set_size,
    trend_fit,
)
from sornix.core.readings import Table, read_text
from sornix.core.scales import KINDS
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

TEXT = """Site,On,Depth (m),n
Reed belt,2026-04-03,1,4
Ashel mouth,2026-04-06,2,5
Reed belt,2026-04-07,5,6
,2026-04-08,6,7
Buoy B2,2026-04-13,20,
Buoy B2,2027-01-04,20,9
"""


class Listed(SornixTest):
    TABLES: ClassVar = (read_text(TEXT.encode(), "t"),)

    def figure(self, x: str, kind: str | None = None) -> Figure:
        figure = change_series(
            new_figure(self.TABLES[0]), self.TABLES, "s1", x=x, y="n", mark="points"
        )
        return set_kind(figure, self.TABLES, "x", kind) if kind else figure

    def draw(self, figure: Figure, tables: tuple[Table, ...] | None = None) -> Drawing:
        return draw_figure(figure, tables or self.TABLES, PlainMeasure())

    def labels(self, figure: Figure) -> list[str]:
        return [
            "".join(r.text for r in t.label) for t in self.draw(figure).panels[0].x.ticks if t.label
        ]

    def places(self, figure: Figure) -> list[float]:
        """The places of the readings along x, in the units of the list."""
        drawing = self.draw(figure)
        place = drawing.panels[0]
        items = [i for i in drawing.items if isinstance(i, Markers)]
        at = np.concatenate(
            [(i.points[:, 0] - place.inner.left) / place.inner.width for i in items]
        )
        rows = np.concatenate([i.rows for i in items])
        return [round(place.x.value(float(p)), 6) for p in at[np.argsort(rows)]]

    def test_texts_are_categories_in_the_order_of_the_table(self) -> None:
        figure = self.figure("Site")
        self.assertEqual(self.labels(figure), ["Reed belt", "Ashel mouth", "Buoy B2"])
        # row 4 has no site and row 5 no count
        self.assertEqual(self.places(figure), [0, 1, 0, 2])
        self.assertEqual(self.draw(figure).panels[0].x.kind, "category")

    def test_numbers_and_times_are_listed_in_their_own_order(self) -> None:
        figure = self.figure("Depth", "category")
        self.assertEqual(self.labels(figure), ["1", "2", "5", "6", "20"])
        self.assertEqual(self.places(figure), [0, 1, 2, 3, 4])
        figure = self.figure("On", "in-order")
        self.assertEqual(self.places(figure), [0, 1, 2, 3, 5])
        self.assertEqual(self.labels(figure)[0], "3 Apr 2026")
        self.assertEqual([t.value for t in self.draw(figure).panels[0].x.ticks], [0, 1, 2, 3, 4, 5])

    def test_labels_that_would_touch_stand_upright_and_then_thin_out(self) -> None:
        names = [f"a station with a long name {i}" for i in range(60)]
        for count, turned, most in ((2, False, 4), (9, True, 9), (60, True, 59)):
            rows = "".join(f"{name},{i}\n" for i, name in enumerate(names[:count]))
            tables = (read_text(f"s,n\n{rows}".encode(), "t"),)
            figure = change_series(new_figure(tables[0]), tables, "s1", x="s", y="n")
            drawing = draw_figure(figure, tables, PlainMeasure())
            texts = [i for i in drawing.items if isinstance(i, Text) and i.of == "x-axis"]
            self.assertEqual(
                {i.angle > 0 for i in texts}, {turned} if count > 2 else {texts[0].angle > 0}
            )
            self.assertLessEqual(len(texts), most)
            tops = [i.y for i in texts]
            self.assertLess(max(tops), drawing.height_mm)
            said = [f.text for f in find_cautions(figure, tables, drawing)]
            self.assertEqual(any("more than anyone compares" in s for s in said), count > 30)

    def test_months_and_days_are_shortened_before_they_stand_upright(self) -> None:
        months = ("January", "February", "March", "April", "May", "June", "July", "August",
                  "September", "October", "November", "December")  # fmt: skip
        french = ("janvier", "février", "mars", "avril", "mai", "juin", "juillet", "août",
                  "septembre", "octobre", "novembre", "décembre")  # fmt: skip
        for names, wide, angle, first in (
            (months, 100, 0, "Jan"), (french, 130, 0, "janv"), (months, 400, 0, "January"),
            (months, 40, 90, "January"),
            (tuple(f"{month} run" for month in months), 100, 90, "January run"),
        ):  # fmt: skip
            text = "Month,Rain\n" + "".join(f"{name},{i}\n" for i, name in enumerate(names))
            tables = (read_text(text.encode(), "m"),)
            figure = set_size(new_figure(tables[0]), wide, 63)
            scale = self.draw(figure, tables).panels[0].x
            shown = ["".join(run.text for run in tick.label) for tick in scale.ticks]
            self.assertEqual((shown[0], scale.angle), (first, angle), (names[0], wide))

    def test_what_cannot_be_is_said(self) -> None:
        figure = self.figure("Site")
        kind = KINDS["category"]
        self.assertEqual((kind.parse_step("3"), kind.step_words(3.0), kind.words(2.0, 0)),
                         (3.0, "3", "2"))  # fmt: skip
        for text in ("0", "0.5", "2.5", "-1", "a"):
            with self.assertRaises(EditRefused):
                kind.parse_step(text)
        for act in (
            lambda: hold(figure, self.TABLES, "x", start=1.0),
            lambda: trend_fit(add_trend(figure, "s1").panel.trends[0], figure.panel, self.TABLES),
        ):
            with self.assertRaises((EditRefused, TrendImpossible)):
                act()
        self.assertEqual(list(fitted_trends(add_trend(figure, "s1").panel, self.TABLES)), [])
        # an end that lies beyond all places, as a document may hold it, moves the other one along
        for held, range_ in ((Scale(start=20.0), (20, 21)), (Scale(end=-9.0), (-10, -9))):
            place = self.draw(figure.with_scale("x", held)).panels[0].x
            self.assertEqual((place.start, place.end), range_)
        uneven = self.figure("Depth", "category")
        found = find_cautions(uneven, self.TABLES, self.draw(uneven))
        remedy = next(f.remedy for f in found if "different distances" in f.text)
        assert remedy is not None
        self.assertIsNone(remedy.edit(uneven).panel.x.kind)
        dates = change_table(
            new_document(*self.TABLES), self.TABLES[0].name, "set_kind", column="On", kind="text"
        )
        listed = change_series(dates.figure, dates.tables, "s1", x="On", y="n", mark="points")
        drawing = self.draw(listed, dates.tables)
        said = [f.text for f in find_cautions(listed, dates.tables, drawing)]
        self.assertTrue(any("looks like dates" in text for text in said))

    @given(st.lists(st.sampled_from(["a", "b", "c", ""]), min_size=3, max_size=12))
    def test_every_reading_stands_at_its_category(self, sites: list[str]) -> None:
        rows = "".join(f"{site},{i}\n" for i, site in enumerate(sites))
        tables = (read_text(f"s,n\n{rows}".encode(), "t"),)
        if not any(sites):
            return
        figure = change_series(new_figure(tables[0]), tables, "s1", x="s", y="n", mark="points")
        drawing = draw_figure(figure, tables, PlainMeasure())
        place = drawing.panels[0]
        names = list(dict.fromkeys(site for site in sites if site))
        drawn = {
            int(row): place.x.value(float((point[0] - place.inner.left) / place.inner.width))
            for item in drawing.items
            if isinstance(item, Markers)
            for row, point in zip(item.rows, item.points, strict=True)
        }
        self.assertEqual(sorted(drawn), [i for i, site in enumerate(sites) if site])
        for row, at in drawn.items():
            self.assertAlmostEqual(at, names.index(sites[row]), 6)
