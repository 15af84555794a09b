"""Styles: one word changes all, what is held stays, and every series is told from the others."""

import itertools
from typing import ClassVar

import numpy as np
from attrs import evolve, fields
from numpy.typing import NDArray

from sornix.core.colours import channels, contrast, readable
from sornix.core.document import change_table
from sornix.core.drawing import LOOKS, STYLES, Text, draw_figure, style_of
from sornix.core.errors import EditRefused
from sornix.core.figure import (
    PALETTES,
    STYLE_NAMES,
    AxisTitle,
    Choices,
    Movable,
    NoteBox,
    SourceLine,
    Spot,
    Title,
    add_note,
    between,
    change_note,
    change_panel,
    choose,
    choose_size,
    free_choices,
    held_choices,
    let_find_places,
    move,
    note_text,
    own_panel,
    own_style,
    put_on_style,
    remove_series,
    set_source,
    set_style,
    set_title,
    size_name,
    spots,
    swap_axes,
)
from sornix.core.figure.model.checks import Rule
from sornix.core.text import SYMBOLS, find_symbols, formula_text, plain_text, rich
from sornix.demo import DEMOS, demo_document
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

Floats = NDArray[np.float64]

# Linear RGB as seen with a deficiency of severity 1: G. M. Machado, M. M. Oliveira and
# L. A. F. Fernandes, IEEE Transactions on Visualization and Computer Graphics 15 (2009) 1291–1298.
_SEEN: dict[str, list[list[float]]] = {
    "full colour vision": [[1, 0, 0], [0, 1, 0], [0, 0, 1]],
    "protanopia": [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216],
                   [-0.003882, -0.048116, 1.051998]],
    "deuteranopia": [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413],
                     [-0.011820, 0.042940, 0.968881]],
    "tritanopia": [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602],
                   [0.004733, 0.691367, 0.303900]],
}  # fmt: skip
# CIE XYZ of linear sRGB (IEC 61966-2-1), for D65
_XYZ = [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750],
        [0.0193339, 0.1191920, 0.9503041]]  # fmt: skip


def _lab(colour: str, seen: list[list[float]]) -> Floats:
    """CIE L*a*b* of a colour as someone sees it."""
    shares = np.array(channels(colour)) / 255
    linear = np.where(shares <= 0.04045, shares / 12.92, ((shares + 0.055) / 1.055) ** 2.4)
    xyz = np.array(_XYZ) @ np.clip(np.array(seen) @ linear, 0, 1) / [0.95047, 1, 1.08883]
    f = np.where(xyz > (6 / 29) ** 3, np.cbrt(xyz), xyz / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


class Telling(SornixTest):
    # the least distance of two colours of a set, ΔE*ab 1976: 2.3 can just be seen side by side
    apart: ClassVar = {"lake": 18.0, "light": 18.0, "deep": 9.0}

    def test_colours_are_told_apart_whoever_looks(self) -> None:
        for name, least in self.apart.items():
            for who, seen in _SEEN.items():
                labs = [_lab(look.colour, seen) for look in LOOKS[name]]
                nearest = min(
                    float(np.linalg.norm(a - b)) for a, b in itertools.combinations(labs, 2)
                )
                with self.subTest(name, who=who):
                    self.assertGreater(nearest, least)

    def test_neighbours_are_told_apart_in_grey(self) -> None:
        """As print in grey has it; what is alike in grey differs by shape and dashes."""
        lightness = [_lab(look.colour, _SEEN["full colour vision"])[0] for look in LOOKS["grey"]]
        for i, (one, other) in enumerate(itertools.pairwise(lightness)):
            self.assertGreater(abs(one - other), 12.0, i)

    def test_nothing_is_told_by_colour_alone_and_all_can_be_seen(self) -> None:
        self.assertEqual(set(LOOKS), set(PALETTES) - {""})
        self.assertEqual(set(STYLES), set(STYLE_NAMES))
        for name, style in STYLES.items():
            with self.subTest(name):
                self.assertEqual(len({look.shape for look in style.looks}), len(style.looks))
                self.assertEqual(len({look.dashes for look in style.looks}), len(style.looks))
                for look in style.looks:
                    self.assertGreaterEqual(contrast(look.colour, style.paper), 3.0)
                    self.assertGreaterEqual(contrast(style.written(look.colour), style.paper), 4.5)
                self.assertGreaterEqual(contrast(style.ink, style.paper), 7.0)
                self.assertGreaterEqual(contrast(style.grey, style.paper), 3.5)
        # a colour changes no more than it must, towards the end that is far from the ground
        for colour, ground, written in (
            ("#ffe14d", "#ffffff", "#807026"), ("#1b4965", "#ffffff", "#1b4965"),
            ("#1b4965", "#101418", "#6b899b"), ("#777777", "#000000", "#777777"),
        ):  # fmt: skip
            self.assertEqual(readable(colour, ground), written)
            self.assertGreaterEqual(contrast(written, ground), 4.5)


class OneWord(SornixTest):
    def test_a_style_changes_all_but_what_is_held(self) -> None:
        figure = demo_document("nitrate-standards").figure
        held = choose(figure, type_pt=9.0, palette="deep")
        for name in STYLE_NAMES:
            with self.subTest(name):
                style = style_of(set_style(held, name))
                self.assertEqual(style.label_pt, 9.0)
                self.assertEqual(style.looks, LOOKS["deep"])
                self.assertEqual(style.paper, STYLES[name].paper)
                grown = 9.0 / STYLES[name].label_pt
                self.assertAlmostEqual(style.title_pt, STYLES[name].title_pt * grown)
                self.assertEqual(style_of(free_choices(set_style(held, name))), STYLES[name])
        self.assertEqual(held_choices(held), ("type_pt", "palette"))

    def test_a_size_that_was_offered_follows_the_style(self) -> None:
        figure = demo_document("nitrate-standards").figure
        self.assertEqual(size_name(figure), "column")
        slide = set_style(figure, "slide")
        self.assertEqual((slide.width_mm, slide.height_mm), (254.0, 142.875))
        self.assertAlmostEqual(slide.width_mm / slide.height_mm, 16 / 9)
        self.assertEqual(set_style(slide, "grey"), evolve(figure, style="grey"))
        page = choose_size(figure, "page")
        self.assertEqual(size_name(set_style(page, "contrast")), "page")
        own = evolve(figure, width_mm=100.0)
        self.assertEqual(set_style(own, "slide").width_mm, 100.0)

    def test_a_style_of_ones_own_brings_all_it_holds(self) -> None:
        figure = choose(set_style(demo_document("site-ranks").figure, "grey"), line_mm=0.6)
        own = own_style(figure, " Yearbook ")
        other = put_on_style(demo_document("nitrate-standards").figure, own)
        self.assertEqual(other.style_name, "Yearbook")
        self.assertEqual(style_of(other), style_of(figure))
        self.assertEqual(other.width_mm, figure.width_mm)
        for name in ("", "  ", "for a report"):
            with self.assertRaises(EditRefused):
                own_style(figure, name)

    def test_choices_that_cannot_be_drawn_are_refused(self) -> None:
        figure = demo_document("site-ranks").figure
        tried = 0
        for part in fields(Choices):
            if not isinstance(part.validator, Rule) or part.validator.limits is None:
                continue
            low, high, unit, _ = part.validator.limits
            for value in (low / 2 if low else -1.0, high * 2):
                with self.subTest(f"{part.name} {value}"):
                    with self.assertRaises(EditRefused) as caught:
                        choose(figure, **{part.name: value})
                    said = str(caught.exception)
                    self.assertIn(f"{value:g} {unit} cannot be drawn", said)
                    self.assertIn(part.validator.limits.words, said)
                    tried += 1
        self.assertGreaterEqual(tried, 8)

    def test_every_figure_has_room_in_every_style(self) -> None:
        for demo, name in itertools.product(DEMOS, STYLE_NAMES):
            document = demo_document(demo)
            figure = set_style(document.figure, name)
            if len(figure.panels) == 1:
                figure = choose_size(figure, STYLE_NAMES[name].sizes[0].name)
            drawing = draw_figure(figure, document.tables, PlainMeasure())
            with self.subTest(demo, style=name):
                self.assertEqual(drawing.background, STYLES[name].paper)
                for place in drawing.panels:
                    self.assertGreater(place.inner.width, 15.0)

    def test_numbers_and_units_are_written_as_is_preferred(self) -> None:
        document = demo_document("nitrate-standards")
        figure = choose(document.figure, decimal="comma", units="brackets")
        figure = set_title(figure, "Run 1.5, blank")
        drawing = draw_figure(figure, document.tables, PlainMeasure())
        said = {item.of: [] for item in drawing.items if isinstance(item, Text)}  # type: dict[str, list[str]]
        for item in drawing.items:
            if isinstance(item, Text):
                said[item.of].append(plain_text(item.runs))
        self.assertIn("0,6", said["y-axis"])
        self.assertNotIn(".", "".join(said["y-axis"] + said["trend/t1/label"]))
        self.assertIn("R² = 0,9995; n = 24", said["trend/t1/label"])
        self.assertEqual(said["x-title"], ["Nitrate concentration (mg/L)"])
        self.assertEqual(said["title"], ["Run 1.5, blank"])


class Writing(SornixTest):
    def test_notes_follow_their_reading_and_stay_on_the_panel(self) -> None:
        document = demo_document("nitrate-standards")
        tables, measure = document.tables, PlainMeasure()
        figure = add_note(document.figure, tables, series="s1", row=4)
        figure = add_note(figure, tables, "{Delta}A at 220 nm", x=6.0, y=0.2)
        figure = add_note(figure, tables, "a long remark " * 6)
        drawing = draw_figure(figure, tables, measure)
        panel = figure.panel
        self.assertEqual(note_text(panel.notes[0], panel, tables), "1 mg/L, 0.083")
        rects = [drawing.box_of(NoteBox(note.id)) for note in panel.notes]
        for one, other in itertools.combinations(rects, 2):
            assert one is not None and other is not None
            self.assertFalse(one.left < other.right and other.left < one.right
                             and one.top < other.bottom and other.top < one.bottom)  # fmt: skip
        for rect in rects:
            assert rect is not None
            self.assertTrue(drawing.place.inner.grown(0.1).holds(rect.left, rect.top))
            self.assertTrue(drawing.place.inner.grown(0.1).holds(rect.right, rect.bottom))
        gone = change_note(figure, "n3", text="")
        self.assertEqual(len(gone.panel.notes), 2)
        with self.assertRaises(EditRefused):
            add_note(figure, tables, "  ")

    def test_differences_slope_and_area_between_two_pins(self) -> None:
        document = demo_document("tracer-decay")
        tables = document.tables
        figure = add_note(document.figure, tables, series="s1", row=2)
        figure = add_note(figure, tables, series="s1", row=12)
        panel = figure.panel
        one, other = panel.notes
        found = between(one, other, panel, tables)
        assert found is not None and found.slope is not None and found.area is not None
        table = tables[0]
        x, y = (table.column(n).numbers for n in (panel.series[0].x, panel.series[0].y))  # type: ignore[arg-type]
        self.assertEqual((found.dx, found.dy), (x[12] - x[2], y[12] - y[2]))
        self.assertAlmostEqual(found.slope, (y[12] - y[2]) / (x[12] - x[2]))
        by_hand = sum((x[i + 1] - x[i]) * (y[i] + y[i + 1]) / 2 for i in range(2, 12))
        self.assertAlmostEqual(found.area, by_hand, 9)
        # of places: under the line of the first series, between its readings too
        middle = [(x[i] + x[i + 1]) / 2 for i in (2, 4)]
        figure = add_note(figure, tables, x=middle[0], y=0.0)
        figure = add_note(figure, tables, x=middle[1], y=0.0)
        third, fourth = figure.panel.notes[2:]
        places = between(third, fourth, panel, tables)
        assert places is not None and places.area is not None
        half = (y[2] + 3 * y[3]) / 8 + (y[3] + y[4]) / 2 + (3 * y[4] + y[5]) / 8
        self.assertAlmostEqual(places.area, half * (x[3] - x[2]), 9)
        back = between(other, one, panel, tables)
        assert back is not None and back.area is not None
        self.assertEqual((back.dx, back.slope), (-found.dx, found.slope))
        self.assertEqual(back.area, found.area)

    def test_all_that_is_written_can_be_put_somewhere_and_back(self) -> None:
        document = demo_document("depth-profile")
        figure = set_source(add_note(document.figure, document.tables, "here"), "Brenn Mere")
        free = draw_figure(figure, document.tables, PlainMeasure())
        titles = [AxisTitle(axis) for axis in ("x", "y", "x2")]
        texts: list[Movable] = [Title(), SourceLine(), *titles, NoteBox("n1")]
        for of in texts:
            with self.subTest(of):
                moved = move(figure, of, Spot(0.3, 0.4))
                drawing = draw_figure(moved, document.tables, PlainMeasure())
                box, was = drawing.box_of(of), free.box_of(of)
                assert box is not None and was is not None
                inner = drawing.place.inner
                whole = of in (Title(), SourceLine())
                left, top = (
                    (0.3 * figure.width_mm, 0.4 * figure.height_mm) if whole else
                    (inner.left + 0.3 * inner.width, inner.top + 0.4 * inner.height)
                )  # fmt: skip
                self.assertAlmostEqual(box.left, left, 1)
                self.assertAlmostEqual(box.top, top, 1)
                self.assertEqual(list(spots(moved)), [of])
                self.assertEqual(let_find_places(moved), figure)

    def test_notes_go_where_their_series_goes(self) -> None:
        document = demo_document("depth-profile")
        tables = document.tables
        figure = add_note(document.figure, tables, "here", series="s2", row=3)
        figure = add_note(figure, tables, x=5.0, y=12.0)
        both = {note.id for note in figure.panel.notes}
        own = own_panel(figure, "s2")
        self.assertEqual([[n.id for n in p.notes] for p in own.panels], [["n2"], ["n1"]])
        self.assertEqual([n.id for n in remove_series(figure, "s2").panel.notes], ["n2"])
        swapped = swap_axes(figure)
        self.assertEqual((swapped.panel.notes[1].x, swapped.panel.notes[1].y), (12.0, 5.0))
        self.assertEqual(swap_axes(swapped), figure)
        # rows that move take their notes along, and those that go take them away
        table = tables[0].name
        fewer = change_table(evolve(document, figure=figure), table, "delete_rows", rows=[0, 1])
        self.assertEqual(fewer.figure.panel.notes[0].row, 1)
        gone = change_table(evolve(document, figure=figure), table, "delete_rows", rows=[3])
        self.assertEqual({n.id for n in gone.figure.panel.notes}, both - {"n1"})
        # and they are drawn on a ring, which has no axes
        ring = demo_document("snail-counts")
        figure = change_panel(ring.figure, form="ring")
        figure = add_note(figure, ring.tables, "of all traps")
        self.assertIsNotNone(draw_figure(figure, ring.tables, PlainMeasure()).box_of(NoteBox("n1")))

    def test_symbols_are_typed_by_name(self) -> None:
        for typed, said in (
            ("{mu}m", "µm"), ("{Delta}T", "ΔT"), ("x_{alpha}", "xα"), ("{degrees Celsius}", "°C"),
            ("{nothing}", "{nothing}"), ("{}", "{}"), ("cm^{3}", "cm³"), ("10^{mu}", "10µ"),
        ):  # fmt: skip
            self.assertEqual(plain_text(rich(typed)), said, typed)
        self.assertEqual(rich("x_{alpha}")[1].script, -1)
        self.assertEqual(rich("µg L⁻¹"), rich("µg L^-1"))
        self.assertEqual(rich("H₂O"), rich("H_2O"))
        self.assertEqual(formula_text("P * x / (K + x) - 1e-3 * R"), "P · x / (K + x) − 1e-3 · R")
        self.assertEqual(find_symbols("mu")[0], ("mu", "µ"))
        self.assertEqual(find_symbols("°")[0][0], "degree")
        self.assertEqual(len(find_symbols("")), len(SYMBOLS))
