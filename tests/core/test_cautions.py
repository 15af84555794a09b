"""What a careful colleague would say, and what can be done about it."""

from attrs import evolve

from sornix.core.cautions import CAUTIONS, Finding, View, find_cautions, note_caution, tell_again
from sornix.core.document import Document, load_document, save_document
from sornix.core.drawing import Text, draw_figure
from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    add_trend,
    change_series,
    change_trend,
    hold,
    leave_out,
    new_figure,
    read_off_trend,
    reverse,
    set_errors,
    set_mark,
    set_size,
    tell_at,
)
from sornix.core.readings import Tables, read_text
from sornix.core.readings.changes.repair import repaired
from sornix.core.text import plain_text
from sornix.demo import demo_document
from tests.base import SornixTest
from tests.core.measure import PlainMeasure

STEADY = "x,y\n" + "".join(f"{x},{50 + x}\n" for x in range(10))


def _view(figure: Figure, tables: Tables) -> View:
    return View(figure, tables, draw_figure(figure, tables, PlainMeasure()).panels[0])


def _told(figure: Figure, tables: Tables) -> dict[str, Finding]:
    """All cautions of a figure by their first words."""
    drawing = draw_figure(figure, tables, PlainMeasure())
    return {" ".join(f.text.split()[:4]): f for f in find_cautions(figure, tables, drawing)}


class Cautions(SornixTest):
    def setUp(self) -> None:
        super().setUp()
        self.tables = (read_text(STEADY.encode(), "t"),)
        self.figure = new_figure(self.tables[0])

    def find(self, name: str, figure: Figure, tables: Tables | None = None) -> list[Finding]:
        return list(CAUTIONS[name](_view(figure, tables or self.tables)))

    def one(self, name: str, figure: Figure, said: str, tables: Tables | None = None) -> Finding:
        """The one finding of a caution, which says so, and whose remedy takes it away."""
        found = self.find(name, figure, tables)
        self.assertEqual(len(found), 1, found)
        self.assertIn(said, found[0].text)
        if found[0].remedy is not None:
            self.assertEqual(self.find(name, found[0].remedy.edit(figure), tables), [])
        return found[0]

    def test_a_plain_figure_from_zero_has_none(self) -> None:
        tables = (read_text(b"x,y\n0,0\n1,2\n2,4\n3,7\n", "t"),)
        figure = add_trend(new_figure(tables[0]), "s1")
        drawing = draw_figure(figure, tables, PlainMeasure())
        self.assertEqual(find_cautions(figure, tables, drawing), [])

    def test_letters_that_no_font_has_are_told_with_what_may_have_them(self) -> None:
        for title, *words in (
            ("Depth, м",),
            ("水", "the letter “水”: a box stands in its place. The package fonts-noto-cjk may"),
            ("水温 と 🙂 ꯀ 水", "the letters “水”, “温”, “と” and 2 others: boxes stand",
             "The packages fonts-noto-cjk, fonts-noto-color-emoji and fonts-noto-core may have"),
        ):  # fmt: skip
            with self.subTest(title):
                told = _told(evolve(self.figure, title=title), self.tables)
                said = told["No font on this"].text if words else ""
                self.assertEqual("No font on this" in told, bool(words))
                for one in words:
                    self.assertIn(one, said)

    def test_a_noted_caution_is_quiet_until_its_cause_grows(self) -> None:
        figure = hold(self.figure, self.tables, "x", end=4.5)
        words = "5 readings are not"
        self.assertTrue(_told(figure, self.tables)[words].loud)
        noted = note_caution(figure, _told(figure, self.tables)[words])
        found = _told(noted, self.tables)
        self.assertEqual((found[words].noted, found[words].loud), (True, False))
        # of another axis it is another one
        both = hold(noted, self.tables, "y", end=50.5)
        self.assertTrue(_told(both, self.tables)["9 readings are not"].loud)
        fewer = hold(noted, self.tables, "x", end=5.5)
        self.assertFalse(_told(fewer, self.tables)["4 readings are not"].loud)
        more = hold(noted, self.tables, "x", end=2.5)
        self.assertTrue(_told(more, self.tables)["7 readings are not"].loud)
        again = tell_again(noted, found[words])
        self.assertEqual(again, figure)
        path = self.folder / "noted.sornix"
        save_document(Document(self.tables, noted), path, b"")
        self.assertEqual(load_document(path).figure, noted)

    def test_readings_outside_a_held_range(self) -> None:
        high = hold(self.figure, self.tables, "x", end=7.5)
        self.one("outside", high, "2 readings are not shown: x above 7.5.")
        self.one("outside", reverse(high, "x"), "2 readings are not shown: x above 7.5.")
        # to a thousandth of the range, wherever that lies
        wide = hold(self.figure, self.tables, "x", start=-7.5, end=7.50321)
        self.one("outside", wide, "2 readings are not shown: x above 7.5.")
        low = hold(self.figure, self.tables, "y", start=50.5)
        self.one("outside", low, "1 reading is not shown: y below 50.5.")

    def test_what_one_scale_cannot_hold(self) -> None:
        for demo, changes, said in (
            ("depth-panels", {"y": "Temperature"}, "y holds °C and m on one scale"),
            ("buoy-week", {"x": "Rain"}, "x tells times, and on it numbers are drawn as seconds"),
        ):
            document = demo_document(demo)
            figure = change_series(document.figure, document.tables, "s1", **changes)
            self.one("mixed", figure, said, document.tables)
            self.assertEqual(self.find("mixed", document.figure, document.tables), [])
        # a unit is the same however it is written, and beside another there is a second scale
        for other, count in (("mg L-1", 0), ("µg/L", 1), ("", 0)):
            tables = (read_text(f"x,a (mg/L),b ({other})\n0,1,2\n1,2,3\n2,4,5\n".encode(), "t"),)
            first = Series("s1", "t", "x", "a")
            both = Figure((Panel((first, evolve(first, id="s2", y="b", palette_index=1))),))
            found = self.find("mixed", both, tables)
            self.assertEqual(len(found), count, other)
            for one in found:
                assert one.remedy is not None
                self.assertEqual(one.remedy.edit(both).panel.series[1].axis("y"), "y2")
        three = evolve(both, panels=(evolve(both.panel, series=(
            *both.panel.series, evolve(first, id="s3", y="c", palette_index=2))),))  # fmt: skip
        tables = (read_text(b"x,a (mg/L),b (K),c (m)\n0,1,2,3\n1,2,3,4\n2,4,5,6\n", "t"),)
        (one,) = self.find("mixed", three, tables)
        self.assertIn("mg/L, K and m", one.text)
        self.assertIsNone(one.remedy)
        # so it is with readings whose units stand in a column, but for those of one unit
        told = b"of,Result,Units\nA,5,mg/L\nB,62,ug/L\nC,7,mg L-1\nD,,K\n"
        tables = (read_text(told, "t"),)
        results = new_figure(tables[0])
        one = self.one("mixed", results, "“Result” are in mg/L and ug/L, as “Units” says", tables)
        assert one.remedy is not None
        apart = one.remedy.edit(results)
        self.assertEqual([panel.title for panel in apart.panels], ["mg/L", "ug/L", "mg L-1", "K"])
        self.assertEqual((apart.share, self.find("mixed", apart, tables)), ("none", []))
        # and with the lengths of error bars
        rates = demo_document("respiration-temperature")
        wrong = set_errors(rates.figure, rates.tables, "s1", "y", "column")
        self.one("mixed", wrong, "are taken from “Temperature” in K", rates.tables)

    def test_text_among_numbers(self) -> None:
        tables = (read_text(b"trap,snails\n1,4\n2,12 snails\n3,6\n", "t"),)
        finding = self.one("text_cells", new_figure(tables[0]), "row 2: “12 snails”", tables)
        self.assertTrue(finding.text.startswith("1 cell of “snails” is text"))
        for cells, said in (("1,<2,3", "1 reading of “lead” is a limit"),
                            ("1,<2,<3,4,5", "2 readings of “lead” are limits")):  # fmt: skip
            rows = "".join(f"{i},{cell}\n" for i, cell in enumerate(cells.split(",")))
            table = read_text(f"site,lead\n{rows}".encode(), "t")
            site, lead = table.columns
            tables = (evolve(table, columns=(site, repaired(lead, "limit", "mark"))),)
            self.one("text_cells", new_figure(tables[0]), said, tables)

    def test_numbers_that_were_read_as_text(self) -> None:
        for cells, said in (
            ("12 mg,13 µg,5 mg", True), ("3-5,5-8,8-12", True), ("<1,<2,A", True),
            ("12 mg,13 µg,Lake,Bay", False), ("Site 1,Site 2,Site 3", False),
            ("00042,00051,00063", False), ("2A3,2E3,2B4", False),
        ):  # fmt: skip
            rows = "".join(f"{cell},{i}\n" for i, cell in enumerate(cells.split(",")))
            tables = (read_text(f"s,n\n{rows}".encode(), "t"),)
            figure = change_series(new_figure(tables[0]), tables, "s1", x="s", y="n")
            found = self.find("categories", figure, tables)
            self.assertEqual(
                [("looks like numbers" in f.text) for f in found], [True] * said, cells
            )

    def test_an_axis_cut_off(self) -> None:
        finding = self.one("zero", self.figure, "y starts at 50, not 0")
        self.assertIn("about 6 times as large", finding.text)
        self.assertTrue(finding.mild)
        # of bars lengths are seen
        bars = set_mark(self.figure, self.tables, "s1", "bars")
        self.assertFalse(
            any(f.mild for f in self.find("zero", hold(bars, self.tables, "y", start=5)))
        )
        for sign, part, words in ((1, "start", "starts at 5"), (-1, "end", "ends at −5")):
            tables = (read_text(STEADY.replace(",5", f",{sign * 5}").encode(), "t"),)
            bars = set_mark(new_figure(tables[0]), tables, "s1", "bars")
            cut = hold(bars, tables, "y", **{part: sign * 5.0})
            self.one("zero", cut, f"y {words} and does not reach 0", tables)
        # degrees and pH begin anywhere
        for title, said in (("y (°C)", 0), ("pH", 0), ("y (K)", 1), ("mass (g)", 1)):
            tables = (read_text(STEADY.replace("y", title, 1).encode(), "t"),)
            self.assertEqual(len(self.find("zero", new_figure(tables[0]), tables)), said, title)
        small = hold(self.figure, self.tables, "y", start=5, end=60)
        self.assertEqual(self.find("zero", small), [])

    def test_too_little_under_a_trend(self) -> None:
        figure = add_trend(self.figure, "s1")
        self.assertEqual(self.find("few_readings", figure), [])
        self.assertEqual(self.find("few_readings", leave_out(figure, "s1", range(7))), [])
        self.one("few_readings", leave_out(figure, "s1", range(8)), "through 2 readings only")
        self.one("few_readings", leave_out(figure, "s1", range(10)), "at least 2 readings")

    def test_a_trend_beyond_its_readings(self) -> None:
        figure = add_trend(hold(self.figure, self.tables, "x", start=0, end=18), "s1")
        self.assertEqual(self.find("beyond", figure), [])
        far = change_trend(figure, "t1", extended=True)
        said = "The straight line is drawn beyond the readings (x 0 to 9), by up to 100 % of their"
        self.one("beyond", far, said)
        before = change_trend(hold(figure, self.tables, "x", start=-18, end=9), "t1", extended=True)
        self.one("beyond", before, "by up to 200 % of their range")
        endless = change_trend(hold(figure, self.tables, "x", end=1.7e308), "t1", extended=True)
        self.one("beyond", endless, "beyond the readings (x 0 to 9). Nothing was measured there")

    def test_moments_are_said_as_dates(self) -> None:
        document = demo_document("buoy-week")
        figure = add_trend(document.figure, "s1", extended=True, end=1778200000.0)
        for at in (1778900000.0, 1777000000.0):
            figure = tell_at(figure, "t1", at)
        drawing = draw_figure(figure, document.tables, PlainMeasure())
        said = [finding.text for finding in find_cautions(figure, document.tables, drawing)]
        self.assertIn("beyond the readings (x 2026-05-04 to 2026-05-07 15:50)", " ".join(said))
        self.assertIn("x = 2026-05-16 02:53:20, x = 2026-04-24 03:06:40", " ".join(said))
        self.assertNotIn("×10", " ".join(said))
        shown = change_trend(read_off_trend(figure, "t1", 1.46), "t1", shows=("read-offs",))
        foot = next(item for item in draw_figure(shown, document.tables, PlainMeasure()).items
                    if isinstance(item, Text) and item.of == "trend/t1/read-off")  # fmt: skip
        self.assertRegex(plain_text(foot.runs), r"^2026-05-\d\d")

    def test_lines_that_mislead(self) -> None:
        text = b"x,y\n0,1\n1,2\n1,3\n1,4\n3,5\n2,4\n4,7\n"
        tables = (read_text(text, "t"),)
        points = new_figure(tables[0])
        line = change_series(points, tables, "s1", mark="line")
        self.one("repeated", line, "2 readings of “y” have the same x as the one before", tables)
        self.one("order", line, "x turns back 2 times", tables)
        ranks = demo_document("site-ranks")
        figure = ranks.figure
        for series in figure.panel.series:
            figure = change_series(figure, ranks.tables, series.id, x="Buoy B2")
        many = self.one("repeated", figure, "and 3 others have the same x", ranks.tables)
        self.assertTrue(many.text.startswith("Up to 4 readings each of “Ashel mouth”"), many.text)
        self.one("order", figure, "“Boathouse” and “Outflow” follow the rows", ranks.tables)
        profile = (read_text(b"T,z\n9,0\n8,1\n8.5,2\n7,3\n7.2,4\n", "p"),)
        down = change_series(new_figure(profile[0]), profile, "s1", mark="line")
        self.assertEqual(self.find("order", down, profile), [])
        for name in ("repeated", "order"):
            self.assertEqual(self.find(name, points, tables), [])

    def test_a_held_step_that_does_not_fit_any_more(self) -> None:
        stepped = hold(self.figure, self.tables, "x", step=5)
        narrow = evolve(
            stepped,
            panels=(evolve(stepped.panel, x=evolve(stepped.panel.x, start=6.0, end=8.0)),),
        )
        self.one("cramped", set_size(self.figure, 40, 20), " mm are left for the readings")
        self.one("cramped", set_size(self.figure, 20, 40), " mm are left for the readings")
        self.one("held_step", narrow, "x: The held step of 5 makes too few ticks")
