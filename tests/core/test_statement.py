"""The statement as text: nothing is lost, much forgiven, what is wrong pointed at."""

import random
import tempfile
from pathlib import Path

import numpy as np
from attrs import evolve, fields
from hypothesis import given, settings
from hypothesis import strategies as st

from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    Trend,
    add_guide,
    add_note,
    add_trend,
    change_series,
    new_figure,
)
from sornix.core.figure.model.additions import Curve, Guide, Note
from sornix.core.figure.model.scale import AxisLook, GridLine, Scale
from sornix.core.figure.model.series import SeriesStyle
from sornix.core.figure.model.styling import Choices
from sornix.core.figure.model.values import Noted
from sornix.core.readings import Table, number_column, text_column, time_column
from sornix.core.statement import (
    StatementError,
    completions,
    differences_in_words,
    read_statement,
    write_statement,
)
from sornix.core.statement.building import _numbered
from sornix.core.statement.sentences import kinds
from sornix.core.statement.words.misread import nearest
from sornix.core.statement.words.tokens import plain, sentences
from sornix.core.trends import Treatment
from sornix.demo import DEMOS, demo_document
from tests.base import SornixTest
from tests.core.drawn import FIGURES
from tools.options import strange

_COUNT = 12
_X = np.arange(_COUNT, dtype=float)
TABLES = (
    Table("run", (
        number_column("Depth", _X / 2, "m"),
        number_column("T", 20 - _X, "°C"),
        number_column("T as line", 12 - _X, "°C"),
        number_column("Dissolved oxygen", 9 - _X / 4, "mg/L"),
        text_column("Site", ["a", "b", "c"] * 4),
        time_column("Time", 1.77e9 + _X * 3600, "minute"),
        number_column("say \"x\"; y", _X),
    )),
    Table("other", (number_column("k", _X), number_column("v", _X**2))),
)  # fmt: skip
# what is said otherwise than it is written, and how it is written
_FORGIVEN = (
    ('', ''),
    ('Plot T against Depth as ring of shares',
     'Panel showing ring of shares\nPlot "T" against Depth, as points'),
    ('PLOT t AGAINST depth AS Points; TITLE "A; b"',
     'Plot "T" against Depth, as points\nTitle "A; b"'),
    ('Title “of two kinds”\nplot "T" against "Depth" as line',
     'Plot "T" against Depth, as line\nTitle "of two kinds"'),
    ('Plot T against Depth\nx from 100 cm to 5.5 m every 50 cm\ny from 50 °F',
     'Plot "T" against Depth, as points\nx from 1 to 5.5 every 0.5; y from 10'),
    ('y from −1 reversed no grid lines, ticks outward',
     'y from -1, reversed, no grid lines, ticks outward'),
    ('Figure 100x80, for slides', 'Figure for slides, 100 × 80 mm'),
    ('Figure full width', 'Figure full width'),
    ('Plot T against Depth\ntrend formula formula "a + b * x", with n',
     'Plot "T" against Depth, as points\nTrend formula "a + b * x", with n'),
    ('Plot T, Dissolved oxygen and T as line against row number as line',
     'Plot "T", Dissolved oxygen, T as line against row number, as line'),
    ('Plot mean of "T" for each Site against Depth as bars',
     'Plot mean of "T" for each Site against Depth, as bars'),
    ('Plot v in table "other" against k', 'Plot v against k, as points, in table "other"'),
    ("Plot T against Time\nx from 2 Feb 2026 06:00 every 2 hours\nLine on x at 3 Feb 2026",
     ('Plot "T" against Time, as points\nx from 2026-02-02 06:00 every 2 hours\n'
      "Line on x at 2026-02-03")),
    (("Plot T against Depth\nPlot Dissolved oxygen against Depth, on the right y scale\n"
      "Trend power law through T, where p held at 2 and a from 0 with equation and n"),
     ('Plot "T" against Depth, as points\n'
      "Plot Dissolved oxygen against Depth, as points, on the right y scale\n"
      'Trend power law through "T" where p held at 2, a from 0, with equation, n')),
    # notes and guides of every kind keep their order
    ('Plot T against Depth\nPin at y 0\nNote "a" at y 2\nRange on x from 1 to 2\nLine on x at 3',
     ('Plot "T" against Depth, as points\nRange on x from 1 to 2\nLine on x at 3\nPin at y 0\n'
      'Note "a" at y 2')),
    ('Plot "say ""x""; y"', 'Plot "say ""x""; y" against row number, as points'),
)  # fmt: skip
# what is wrong, where (line, character), and what is offered first
_WRONG = (
    ('Plot Dissolvd oxygen against Depth', (1, 6), 'Dissolved oxygen'),
    ('Plot T against Depth\nx frm 0', (2, 3), 'from'),
    ('Plto T', (1, 1), 'Plot'),
    # as others say it
    ('T against Depth', (1, 1), 'Plot T'),
    ('scatter T', (1, 1), 'Plot'),
    ('Plot T vs Depth', (1, 8), 'against'),
    ('Plot T against Depth as dots', (1, 25), 'points'),
    ('Plot T against Depth\ny log', (2, 3), 'on a log scale'),
    ('Plot T against Depth\nTrend linear', (2, 7), 'straight line'),
    ('Plot T against Depth\nlinear fit', (2, 1), 'Trend straight line'),
    ('y max 4', (1, 3), 'to'),
    # of what is said in two ways, neither is passed over
    ('x from 0 to 5 from 2', (1, 15), ''),
    ('Plot T against Depth, as line, as points', (1, 32), ''),
    ('x from 0\nx to 5; x from 2', (2, 11), ''),
    ('y from 0 kg', (1, 10), 'km'),
    ('Trend straigt line', (1, 7), 'straight line'),
    ('Plot T against Depth as pionts', (1, 25), 'points'),
    ('Plot T against Depth\nTrend straight line through U', (2, 29), 'T'),
    ('Plot T against', (1, 8), 'Depth'),
    ('Title "open', (1, 7), ''),
    ('y from 0 to 12 evry 2', (1, 16), 'every'),
    ('Panel in column 2\nPanel', (2, 1), 'Plot'),
    ('Figure 1 × 1 mm', (1, 8), ''),
    ('Title "a"\nTitle "b"', (2, 1), ''),
    ('Line on x called "a"', (1, 18), 'at'),
    ('Plot T against Depth\nTrend polynomial of degree 2 through series 9', (2, 38), 'series 1'),
    ('Plot T against Depth\nTrend straight line through series 0', (2, 29), 'series 1'),
    ('Plot T against Depth; Plot T against Time\nTrend straight line through T', (2, 29),
     'series 1'),
    ('Plot T against Depth\nTrend straight line through Nothing', (2, 29), 'Depth'),
    ('Plot T against Depth\nTrend straight line through "Q"', (2, 29), 'T'),
    ('Plot T against "Nothing"', (1, 16), 'T as line'),
    ('Plot T against k', (1, 16), 'Depth'),
    ('Plot v against k, in table "oter"', (1, 28), '"other"'),
    ('Plot v against k, in table "other", for each Site', (1, 46), 'k'),
    ('Panel\nPlot T against Depth\nPanel\nx from 0', (3, 1), 'Plot'),
    ('Panel\nx from 0\nPanel; Plot T against Depth', (1, 1), ''),
    ('Plot "say ""x""; y" against Depth\ny from 0 km', (2, 10), ''),
)  # fmt: skip


def _of(seed: int) -> tuple[Figure, tuple[Table, ...]]:
    """A demo figure with options that its schema allows, its parts numbered."""
    chance = random.Random(seed)
    found = demo_document(chance.choice(list(DEMOS)))
    with tempfile.TemporaryDirectory() as folder:
        for _ in range(chance.choice((1, 2, 4, 8))):
            found = strange(found, Path(folder), chance)
    return _sayable(found.figure), found.tables


def _sayable(figure: Figure) -> Figure:
    """A figure with its parts numbered as a statement numbers them."""
    panels = []
    for panel in figure.panels:
        there = [series.id for series in panel.series]
        # what is about nothing that is there is said of nothing
        notes = tuple(evolve(n, series=n.series if n.series in there else "") for n in panel.notes)
        panels.append(evolve(panel, notes=notes))
    return evolve(figure, panels=_numbered(panels))


class Statements(SornixTest):
    @settings(max_examples=40)
    @given(st.integers(0, 2**32))
    def test_nothing_is_lost(self, seed: int) -> None:
        figure, tables = _of(seed)
        for whole in (False, True):
            said = write_statement(figure, tables, whole=whole)
            again = read_statement(said, tables)
            self.assertEqual(again, figure, said)
            self.assertEqual(write_statement(again, tables, whole=whole), said)

    def test_what_is_likest_is_offered_first(self) -> None:
        for read, known, likest in (
            # one begins the other; most letters in common; as they come; none is alike: the first
            ("level", ["Bevel", "Levels here"], ["Levels here", "Bevel"]),
            ("Nitrite", ["Nitrogen", "Nitrate", "Depth"], ["Nitrate", "Nitrogen"]),
            ("ab", ["abx", "aby"], ["abx", "aby"]),
            ("zz", ["a", "b", "c", "d"], ["a", "b", "c"]), ("", ["a", "b"], ["a", "b"]),
        ):  # fmt: skip
            self.assertEqual(nearest(read, known), likest, read)

    @given(st.lists(st.text("ab “”„«»\"'±;,:=()-−/\n\t", min_size=1, max_size=8), min_size=2,
                    max_size=4, unique=True))  # fmt: skip
    def test_any_name_and_text_is_said(self, names: list[str]) -> None:
        table = Table("t", tuple(number_column(name, [1.0, 2.0, 4.0]) for name in names))
        figure = change_series(new_figure(table), (table,), "s1", x=names[-1], y=names[0],
                               name=names[0])  # fmt: skip
        figure = add_note(evolve(figure, title=names[0], name=names[-1]), (table,), names[-1])
        figure = add_guide(figure, (table,), "y", 2.0, label=names[0])
        figure = add_trend(figure, "s1", "formula", "a + x", called=names[0])
        for whole in (False, True):
            said = write_statement(figure, (table,), whole=whole, plotted=True)
            self.assertEqual(read_statement(said, (table,)), figure, said)

    def test_nothing_is_lost_of_figures_that_hold_everything(self) -> None:
        for name in (one for one in FIGURES if one.startswith(("mixed", "edges"))):
            with self.subTest(name):
                document = FIGURES[name]()
                figure = evolve(_sayable(document.figure), hand=0)
                for whole in (False, True):
                    said = write_statement(figure, document.tables, whole=whole)
                    self.assertEqual(read_statement(said, document.tables), figure, said)

    @given(st.floats(0, 1))
    def test_every_part_is_a_number_of_percent(self, part: float) -> None:
        plain_figure = read_statement("", TABLES)
        # some parts are the hundredth of no number that a computer holds
        for value in (part, 0.18497758327403963):
            panel = evolve(plain_figure.panel, x=evolve(plain_figure.panel.x, room=value))
            figure = evolve(plain_figure, panels=(panel,))
            self.assertEqual(read_statement(write_statement(figure, TABLES), TABLES), figure)
        for typed, held in {"12.5": 0.125, "7": 0.07, "10^-1": 0.001}.items():
            said = read_statement(f"x {typed} % room at ends", TABLES)
            self.assertEqual(said.panel.x.room, held)

    def test_demo_figures_take_few_lines(self) -> None:
        counts = {}
        for name in DEMOS:
            document = demo_document(name)
            figure = evolve(document.figure, panels=_numbered(document.figure.panels))
            said = write_statement(figure, document.tables)
            self.assertEqual(read_statement(said, document.tables), figure)
            counts[name] = said.count("\n") + 1
            first = new_figure(document.tables[0])
            self.assertEqual(write_statement(first, document.tables), "")
        self.assertLessEqual(max(counts.values()), 6, counts)

    def test_everything_that_a_figure_holds_can_be_said(self) -> None:
        said = {option.path[-1] for kind in kinds() for option in kind.options}
        # what the first words of sentences say, and what is told by the order of sentences
        heads = {
            Figure: {"panels", "title", "source", "caption", "methods", "noted", "choices",
                     "width_mm", "height_mm"},
            Panel: {"series", "trends", "guides", "curves", "notes", "x", "y", "x2", "y2"},
            Series: {"id", "y", "together", "style"},
            Trend: {"id", "series", "model", "treatment"},
            Scale: {"look"}, AxisLook: {"major", "minor"}, GridLine: set(), SeriesStyle: set(),
            Choices: set(), Treatment: set(), Note: {"id", "text"}, Guide: {"id", "axis"},
            Curve: {"id", "formula"}, Noted: {"about", "size"},
        }  # fmt: skip
        for kind, others in heads.items():
            with self.subTest(kind.__name__):
                self.assertEqual({one.name for one in fields(kind)} - others - said, set())

    def test_much_is_forgiven_and_one_form_written(self) -> None:
        for text, written in _FORGIVEN:
            with self.subTest(text):
                figure = read_statement(text, TABLES)
                self.assertEqual(write_statement(figure, TABLES), written)
                self.assertEqual(read_statement(written, TABLES), figure)

    def test_errors_point_at_what_is_wrong(self) -> None:
        for text, place, offered in _WRONG:
            with self.subTest(text):
                with self.assertRaises(StatementError) as caught:
                    read_statement(text, TABLES)
                error = caught.exception
                self.assertEqual((error.line, error.column), place, str(error))
                self.assertEqual((*error.offered, "")[0], offered, str(error))
                self.assertIn(f"line {place[0]}", str(error))
                if error.offered:
                    # what is offered, put where it belongs, is right so far
                    begin, end, words = error.mended(error.offered[0])
                    try:
                        read_statement(text[:begin] + words + text[end:], TABLES, checked=True)
                    except StatementError as later:
                        self.assertGreater(later.at, error.at)
        for text, underlined in (
            ("Plot T against Depth; y every 0; Title \"a\"", "every 0"),
            ("y from 5 to 3", "from 5"),
            ("y from 0 kg", "kg"),
            ("Plot T against Depth; linear fit of T", "linear fit"),
            ("Plot T against Depth; linear of T", "linear"),
        ):  # fmt: skip
            with self.assertRaises(StatementError) as caught:
                read_statement(text, TABLES, checked=True)
            error = caught.exception
            self.assertEqual(text[error.at : error.end], underlined)

    def test_a_misspelt_word_is_offered_as_it_should_be(self) -> None:
        right = 0
        for seed in range(120):
            chance = random.Random(seed)
            document = demo_document(chance.choice(list(DEMOS)))
            text = write_statement(document.figure, document.tables, whole=seed % 3 == 0)
            every = [t for sentence in sentences(text) for t in sentence]
            token = chance.choice([
                t for t in every if t.kind == "word" and len(t.text) > 3 and t.text.isalpha()
            ])  # fmt: skip
            at = chance.randrange(1, len(token.text) - 1)
            word = token.text
            bad = chance.choice(
                (
                    word[:at] + word[at + 1] + word[at] + word[at + 2 :],
                    word[:at] + word[at + 1 :],
                    word[:at] + word[at] + word[at:],
                )
            )
            try:
                read_statement(text[: token.at] + bad + text[token.end :], document.tables)
                right += plain(bad) == token.plain
            except StatementError as error:
                first = plain((*error.offered, "")[0]).split()
                right += token.plain in first and error.line == token.line
        self.assertGreaterEqual(right, 114)

    def test_any_text_has_an_answer(self) -> None:
        for text in (
            "(" * 5000, "x " * 2500, "Plot " + "T, " * 1600, "x from 1" + "0" * 400, "\x00\x01",
            "Plot \ud800", "\"" * 4999, "Figure " + "9" * 4900 + " × 3 mm", "Trend " * 800,
            "Note \"" + "a\n" * 2000, ";" * 5000, "x from 1e999", "Plot T against Depth " * 240,
            "Noted \"a\" of size nan", "told at " * 600, "y" * 1_100_000, "x every 0", "x every −2",
        ):  # fmt: skip
            with self.subTest(text[:30]):
                try:
                    read_statement(text, TABLES)
                except StatementError as error:
                    self.assertGreaterEqual(error.end, error.at)
                self.assertIsInstance(completions(text, len(text), TABLES), list)

    def test_words_are_completed(self) -> None:
        for text, wanted in (
            ("", "Plot"), ("Pl", "Plot"), ("Plot ", "Dissolved oxygen"),
            ("Plot Dis", "Dissolved oxygen"), ("Plot T ", "against"),
            ("Plot T against ", "row number"), ("Plot \"T\" against Depth as ", "points"),
            ("Plot T as points and ", "line"), ("x ", "from"), ("upper ", "x"),
            ("x from 0 t", "to"),
            ("x from 0, ticks ", "outward"), ("Trend ", "straight line"),
            ("Trend straight line w", "with"), ("Trend straight line with equation, ", "R²"),
            ("Figure for ", "slides"), ('Plot T; Title "a"\nx re', "reversed"),
            ("Plot T against Depth, named \"a\", hid", "hidden"),
        ):  # fmt: skip
            with self.subTest(text):
                found = completions(text, len(text), TABLES)
                self.assertTrue(
                    any(
                        one.text.split(" ")[0] == wanted.split(" ")[0] or one.text == wanted
                        for one in found
                    ),
                    found[:8],
                )
                self.assertTrue(all(one.means for one in found))

    def test_what_changed_is_told_in_sentences(self) -> None:
        one = read_statement('Plot T against Depth\nTitle "A"', TABLES)
        other = evolve(one, title="B")
        told = differences_in_words(*(write_statement(f, TABLES) for f in (one, other)))
        self.assertEqual(told, ['− Title "A"', '+ Title "B"'])
