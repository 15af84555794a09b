"""Axes as they are drawn: at every side, in any dress, in step with what they stand for."""

import itertools
from typing import Any, ClassVar

import numpy as np
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st

from sornix.core.drawing import Drawing, Lines, Markers, Rect, Text, draw_figure
from sornix.core.drawing.layout.ticklabels import Labels
from sornix.core.errors import EditRefused, SornixError
from sornix.core.figure import (
    DATE_LABELS,
    HIDDEN,
    LABELS,
    MINOR,
    TICKS,
    TURNS,
    AxisBand,
    AxisLook,
    Figure,
    GridLine,
    Other,
    Panel,
    Scale,
    Series,
    add_trend,
    axis_title,
    change_axis_look,
    change_scale,
    hold,
    put_on,
    remove_series,
    set_kind,
    set_other,
    swap_axes,
)
from sornix.core.readings import Table, read_text
from sornix.core.text.rich import Run
from tests.base import SornixTest
from tests.core.measure import PlainMeasure, corners, overlap

MEASURE = PlainMeasure()
TABLES = (
    read_text(
        b"Day,Site,Depth / m,T / \xc2\xb0C,Flow / L\n"
        b"2026-03-30,the outlet weir,1,2,1200\n2026-04-02,inner reed bay,4,12,35000\n"
        b"2026-05-07,B2,9,31,410000\n",
        "t",
    ),
)


def draw(figure: Figure, tables: tuple[Table, ...] = TABLES) -> Drawing:
    return draw_figure(figure, tables, MEASURE)


def figure(x: str = "Depth", y: str = "T") -> Figure:
    return Figure((Panel((Series("s1", "t", x, y),)),))


def texts(drawing: Drawing, of: str) -> list[str]:
    found = [i for i in drawing.items if isinstance(i, Text) and i.of == of]
    return ["".join(run.text for run in text.runs) for text in found]


LOOKS = st.builds(
    AxisLook,
    line=st.booleans(),
    ticks=st.sampled_from(list(TICKS)),
    minor_grid=st.booleans(),
    size_pt=st.sampled_from([None, 5.0, 9.0]),
    hide=st.sampled_from(list(HIDDEN)),
)
SCALES = st.builds(
    Scale,
    reversed=st.booleans(),
    grid=st.booleans(),
    labels=st.sampled_from([*LABELS, *DATE_LABELS]),
    before=st.sampled_from(["", "≈ "]),
    room=st.sampled_from([None, 0.0, 0.1]),
    zero=st.booleans(),
    every=st.sampled_from([1, 2, 5]),
    minor=st.sampled_from(list(MINOR)),
    turn=st.sampled_from([None, *TURNS]),
    look=LOOKS,
)
KINDS = {"Day": (None, "in-order", "category"), "Site": ("category",)}
NUMBER_KINDS = (None, "log", "reciprocal", "category", "in-order")


class AnyDress(SornixTest):
    @settings(max_examples=150)
    @given(st.data())
    def test_no_text_of_an_axis_touches_another_or_leaves_the_paper(self, data: Any) -> None:
        names = ("Day", "Site", "Depth", "T", "Flow")
        columns = {axis: data.draw(st.sampled_from(names), axis) for axis in ("x", "y")}
        scales = {}
        for axis, name in columns.items():
            kind = data.draw(st.sampled_from(KINDS.get(name, NUMBER_KINDS)), f"kind of {axis}")
            scales[axis] = evolve(data.draw(SCALES, f"scale of {axis}"), kind=kind)
        made = figure(**columns)
        made = made.with_panel(evolve(made.panel, **scales))
        second = data.draw(st.sampled_from(["", "y2", "other"]), "other side")
        if second == "y2":
            more = Series("s2", "t", columns["x"], "Flow", y_axis="y2")
            scales["y2"] = data.draw(SCALES, "right scale")
            made = made.with_panel(evolve(made.panel, series=(*made.panel.series, more), **scales))
        elif second == "other" and columns["y"] == "T" and scales["y"].kind is None:
            made = set_other(made, TABLES, "y", Other("1.8 * x + 32", "T / °F"))
        width, height = data.draw(st.sampled_from([(85, 64), (120, 60), (70, 90)]), "size")
        drawing = draw(evolve(made, width_mm=float(width), height_mm=float(height)))
        found = [i for i in drawing.items if isinstance(i, Text) and i.of != "legend"]
        boxes = [(text, corners(text, MEASURE)) for text in found]
        inner = drawing.panels[0].inner
        if inner.width > 5 and inner.height > 5:
            for text, box in boxes:
                self.assertTrue(
                    ((box >= -0.01) & (box <= (width + 0.01, height + 0.01))).all(), text
                )
            for (a, one), (b, other) in itertools.combinations(boxes, 2):
                self.assertFalse(overlap(one, other), f"{a}\n{b}")
        for scale in drawing.panels[0].scales.values():
            values = np.array([tick.value for tick in scale.ticks])
            self.assertTrue((np.diff(values) > 0).all())
            places = scale.position(values)
            self.assertTrue(((places > -1e-6) & (places < 1 + 1e-6)).all())


class Dress(SornixTest):
    def test_forms_of_labels(self) -> None:
        for form, column, unit, words in (
            ("prefix", "Flow", 1e3, "{:g}\u2009k"),
            ("common-power", "Flow", 1e3, "{:g}"),
            ("thousands", "Flow", 1e3, "{:g}k"),
            ("percent-of-100", "T", 1, "{:g}\u2009%"),
            ("percent", "T", 0.01, "{:g}\u2009%"),
        ):
            scale = Scale(labels=form, start=0, end=4e5 if column == "Flow" else 30)
            drawing = draw(figure("Depth", column).with_scale("y", scale))
            values = [tick.value for tick in drawing.panels[0].y.ticks]
            wanted = [words.format(value / unit).replace("3000", "3\u2009000") for value in values]
            wanted[0] = wanted[0] if "%" in words else "0"
            found = texts(drawing, "y-axis")
            if form == "common-power":
                self.assertEqual(found.pop(), "×103")
            plain = [text.replace("\u2009", "") for text in found]
            self.assertEqual(plain, [text.replace("\u2009", "") for text in wanted])
        held = Scale(labels="day-month", step=7 * 86400.0)
        said = texts(draw(figure("Day").with_scale("x", held)), "x-axis")
        self.assertEqual(said[:2], ["30 Mar", "6 Apr"])

    def test_ticks_lines_and_grids(self) -> None:
        plain = figure(y="T").with_scale("y", Scale(start=0, end=30, step=10, minor="4"))
        y = draw(plain).panels[0].y
        self.assertEqual([t.value for t in y.ticks if t.minor],
                         [v for v in range(2, 30, 2) if v % 10])  # fmt: skip
        for ticks, inward, outward in (("in", True, False), ("out", False, True),
                                       ("across", True, True)):  # fmt: skip
            drawing = draw(change_axis_look(plain, "y", ticks=ticks))
            line = next(i for i in drawing.items if isinstance(i, Lines) and i.of == "y-axis")
            spine, marks = line.ends[0, 0], line.ends[1:, [0, 2]]
            self.assertEqual((bool((marks > spine).any()), bool((marks < spine).any())),
                             (inward, outward))  # fmt: skip
        bare = change_axis_look(plain, "y", line=False, ticks="none")
        self.assertFalse([i for i in draw(bare).items if isinstance(i, Lines) and i.of == "y-axis"])
        grid = change_scale(plain, "y", grid=True)
        grid = change_axis_look(
            grid, "y", minor_grid=True, major=GridLine("brick", 0.5, "dashed"), hide=("first",)
        )
        lines = [i for i in draw(grid).items if isinstance(i, Lines) and i.of == "y-grid"]
        self.assertEqual([len(i.ends) for i in lines], [12, 4])
        self.assertEqual((lines[1].stroke.colour, lines[1].stroke.width_mm), ("#aa4224", 0.5))
        self.assertEqual(texts(draw(grid), "y-axis"), ["10", "20", "30"])

    def test_origin_words_and_room(self) -> None:
        counted = figure().with_scale("x", Scale(start=0, end=10, step=3, origin=1))
        self.assertEqual(texts(draw(counted), "x-axis"), ["1", "4", "7", "10"])
        worded = draw(figure().with_scale("x", Scale(words="Site")))
        self.assertEqual(texts(worded, "x-axis"), ["the outlet weir", "inner reed bay", "B2"])
        self.assertEqual([t.value for t in worded.panels[0].x.ticks], [1, 4, 9])
        close = draw(figure().with_scale("x", Scale(room=0.0))).panels[0].x
        self.assertEqual((close.start, close.end), (1, 9))
        airy = draw(figure().with_scale("x", Scale("log", room=0.5))).panels[0].x
        np.testing.assert_allclose((airy.start, airy.end), (1 / 3, 27))
        from_0 = draw(figure().with_scale("x", Scale(zero=True))).panels[0].x
        self.assertEqual(from_0.start, 0)
        every = draw(figure().with_scale("x", Scale(start=0, end=10, step=1, every=5)))
        self.assertEqual(texts(every, "x-axis"), ["0", "5", "10"])


class TurnedLabels(SornixTest):
    def test_room_along_is_that_of_the_turned_box(self) -> None:
        """By geometry: w cos a + h sin a, or where that is less h / sin a, by which slanted lines
        of letters pass one another."""
        for text, angle in (("1", 30), ("1", 60), ("1000000", 30), ("1000000", 60)):
            for level in (True, False):
                labels = Labels(2.5, level, PlainMeasure())
                width, height = 2.5 * 0.55 * len(text), 2.5 * 0.66
                turn = np.radians(angle if level else 90 - angle)
                wanted = min(width * np.cos(turn) + height * np.sin(turn), height / np.sin(turn))
                self.assertAlmostEqual(labels.along((Run(text),), angle), wanted)
        self.assertAlmostEqual(Labels(2.5, True, PlainMeasure()).along((Run("12"),), 0), 2.75)


class SecondScales(SornixTest):
    TWO: ClassVar = Figure(
        (
            Panel(
                (
                    Series("s1", "t", "Depth", "T"),
                    Series("s2", "t", "Depth", "Flow", palette_index=1),
                )
            ),
        )
    )

    def test_each_series_stands_at_its_values_on_its_own_scale(self) -> None:
        made = put_on(self.TWO, "s2", "y2")
        made = set_kind(made, TABLES, "y2", "log")
        made = hold(made, TABLES, "y2", start=100.0)
        drawing = draw(made)
        place = drawing.panels[0]
        for item in (i for i in drawing.items if isinstance(i, Markers)):
            axis = "y2" if item.of == "series/s2" else "y"
            at = (place.inner.bottom - item.points[:, 1]) / place.inner.height
            column = TABLES[0].column("Flow" if axis == "y2" else "T")
            np.testing.assert_allclose(
                [place.scale(axis).value(float(p)) for p in at], column.numbers[item.rows]
            )
        self.assertEqual(axis_title(made.panel, TABLES, "y2"), "Flow / L")
        colours = {i.of: i.colour for i in drawing.items if isinstance(i, Text)}
        self.assertEqual((colours["y-title"], colours["y2-title"]), ("#0b6e6e", "#aa4224"))
        self.assertFalse([i for i in drawing.items if i.of == "legend"], "titles say it")
        box = drawing.box_of(AxisBand("y2"))
        assert box is not None
        self.assertGreater(box.left, place.inner.right)
        beside = draw(self.TWO)
        self.assertLess(place.inner.width, beside.panels[0].inner.width)
        trend = draw(add_trend(made, "s2"))
        label = next(i for i in trend.items if isinstance(i, Text) and i.of == "trend/t1/label")
        self.assertEqual(label.colour, "#aa4224")

    def test_what_is_refused_and_what_follows(self) -> None:
        made = put_on(self.TWO, "s2", "y2")
        with self.assertRaises(EditRefused):
            put_on(made, "s1", "y2")
        with self.assertRaises(EditRefused):
            set_other(made, TABLES, "y", Other("2 * x"))
        swapped = swap_axes(made).panel
        self.assertEqual([s.x_axis for s in swapped.series], ["x", "x2"])
        self.assertEqual(swap_axes(swap_axes(made)), made)
        self.assertEqual(remove_series(made, "s1").panel.axes, ("x", "y"))
        units = set_other(self.TWO, TABLES, "y", Other("2 * x"))
        self.assertIsNone(put_on(units, "s2", "y2").panel.y.other)


class OtherUnits(SornixTest):
    @given(
        st.floats(0.001, 300), st.floats(1.05, 300), st.sampled_from(
            ["1.8 * x + 32", "-3 * x + 1", "1239.8 / x", "ln(x)", "x^2", "sqrt(x)", "x * 1000"]),
        st.sampled_from(["linear", "log", "reciprocal"]), st.booleans(),
    )  # fmt: skip
    def test_every_label_stands_at_the_value_that_it_says(
        self, start: float, ratio: float, formula: str, kind: str, turned: bool
    ) -> None:
        held = Scale(kind, start=start, end=start * ratio, reversed=turned, other=Other(formula))
        drawing = draw(figure().with_scale("y", held))
        place = drawing.panels[0]
        found = [i for i in drawing.items if isinstance(i, Text) and i.of == "y-other"]
        for text in found:
            if len(text.runs) > 1:
                continue
            typed = text.runs[0].text.replace("−", "-").replace("\u2009", "")
            at = place.inner.bottom - (text.y - MEASURE.ascent(text.size_mm) / 2)
            # a label may be a twentieth of a millimetre off, whatever the formula makes of that
            values = [place.y.value((at + off) / place.inner.height) for off in (-0.05, 0.05)]
            env = {"ln": np.log, "sqrt": np.sqrt}
            ends = [eval(formula.replace("^", "**"), env | {"x": x}) for x in values]
            self.assertTrue(min(ends) <= float(typed) <= max(ends), (typed, ends))
            self.assertGreater(text.x, place.inner.right)
        self.assertGreaterEqual(len(found), 1)

    def test_what_has_no_other_units(self) -> None:
        for formula in ("x^2 - 8 * x", "ln(x - 5)", "3", "x +", "q * 2"):
            with self.subTest(formula), self.assertRaises(SornixError):
                set_other(figure(), TABLES, "x", Other(formula))
        with self.assertRaises(EditRefused):
            set_other(figure("Site"), TABLES, "x", Other("2 * x"))
        # a range that the formula cannot follow has no ticks there, and nothing fails
        stale = figure().with_scale("x", Scale(start=-5.0, other=Other("ln(x)")))
        self.assertEqual(texts(draw(stale), "x-other"), [])

    def test_both_sides_have_room_and_titles(self) -> None:
        bare = draw(figure())
        made = set_other(figure(), TABLES, "y", Other("1.8 * x + 32", "T / °F"))
        made = set_other(made, TABLES, "x", Other("x * 60", "seconds"))
        drawing = draw(made)
        inner: Rect = drawing.panels[0].inner
        self.assertLess(inner.width, bare.panels[0].inner.width)
        self.assertGreater(inner.top, bare.panels[0].inner.top)
        self.assertEqual(texts(drawing, "y-other-title"), ["T / °F"])
        self.assertEqual(swap_axes(made).panel.x.other, made.panel.y.other)


class Wrapping(SornixTest):
    def test_names_are_wrapped_before_they_are_turned(self) -> None:
        names = ["the outlet weir", "inner reed bay", "mouth of the Ashel", "B2"]
        cells = "".join(f"{name},{i}\n" for i, name in enumerate(names))
        tables = (read_text(f"s,n\n{cells}".encode(), "t"),)
        made = Figure((Panel((Series("s1", "t", "s", "n"),)),), width_mm=85)
        drawing = draw(made, tables)
        lines = [i for i in drawing.items if isinstance(i, Text) and i.of == "x-axis"]
        self.assertEqual({i.angle for i in lines}, {0})
        self.assertEqual(" ".join(texts(drawing, "x-axis")), " ".join(names))
        self.assertGreater(len(lines), len(names))
