"""What is drawn unasked: tables of many sorts, each with the figure that is expected of it.

A column is told by how its readings run; `↓` is a profile, `±` error bars, `mean sd` groups.
"""

from collections.abc import Callable
from unittest import mock

import numpy as np

from sornix.core.document import new_document
from sornix.core.drawing import Drawing, Rects, draw_figure
from sornix.core.figure import (
    Figure,
    Series,
    add_panel,
    add_series,
    axis_title,
    first_ways,
    marked,
    new_figure,
    set_mark,
    set_size,
)
from sornix.core.figure.derived import workedout
from sornix.core.figure.derived.runs import is_standard
from sornix.core.figure.model.targets import Legend
from sornix.core.readings import (
    Column,
    Table,
    number_column,
    parse_heading,
    read_text,
    text_column,
    time_column,
)
from sornix.core.statement import write_statement
from tests.base import DATA, SornixTest
from tests.core.measure import PlainMeasure, calls_of

_MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]
_DAY = 86_400.0
_BEGIN = 20_000 * _DAY


def _moments(kind: str, n: int, by: float) -> Column | None:
    at = np.arange(n, dtype=float)
    found = {
        "days": (_BEGIN + at * _DAY * (by or 1), "day"),
        "mins": (_BEGIN + at * 60 * (by or 10), "minute"),
        "dates": (_BEGIN + at // (by or 3) * 7 * _DAY, "day"),
        "shuffled": (_BEGIN + np.random.default_rng(2).permutation(n) * _DAY, "day"),
    }.get(kind)
    return time_column("", found[0].astype(np.float64), found[1]) if found is not None else None


def _words(kind: str, n: int, told: str) -> list[str] | None:
    given = told.split("+")
    found = {
        "words": given,
        "groups": [given[i % len(given)] for i in range(n)],
        "blocks": [given[i * len(given) // n] for i in range(n)],
        "names": [f"{told}{i + 1}" for i in range(n)],
        "months": [_MONTHS[i % 12] for i in range(n)],
        "remarks": ["" if i % 5 else "calm, some wind from the west later on" for i in range(n)],
    }
    return found.get(kind)


def _numbers(kind: str, n: int, parts: list[float], seed: int) -> np.ndarray:
    random, at = np.random.default_rng(seed), np.arange(n, dtype=float)

    def of(place: int, usual: float) -> float:
        return parts[place] if len(parts) > place else usual

    made: dict[str, Callable[[], np.ndarray]] = {
        "even": lambda: of(1, 0) + at * of(0, 1),
        "rise": lambda: np.sort(np.round(random.uniform(of(0, 0), of(1, 100), n), 3)),
        "log": lambda: np.geomspace(of(0, 0.01), of(1, 1000), n),
        "meas": lambda: np.round(random.normal(of(0, 20), of(1, 3), n), 2),
        "wave": lambda: np.round(
            of(0, 10) + of(1, 2) * np.sin(at / 7) + random.normal(0, 0.1, n), 3
        ),
        "fall": lambda: np.round(of(0, 20) * np.exp(-at / n) + random.normal(0, 0.05, n), 3),
        "lin": lambda: np.round(of(0, 0) + of(1, 2) * at + random.normal(0, 0.1, n), 3),
        "sd": lambda: np.round(np.abs(random.normal(0.3, 0.05, n)), 3),
        "counts": lambda: random.poisson(of(0, 12), n).astype(float),
        "const": lambda: np.full(n, of(0, 5)),
        "none": lambda: np.full(n, np.nan),
        "number": lambda: at + of(0, 1),
        "codes": lambda: at % of(0, 3) + 1,
        "levels": lambda: at // of(0, 3) * of(1, 2),
        "year": lambda: of(0, 2000) + at,
        "years": lambda: 2010 + at // of(0, 12),
        "cycle": lambda: np.round(0.01 * np.abs(at - n // 2), 2),
    }
    return made[kind]()


def table_of(told: str, n: int) -> Table:
    """A table of columns as they are told in tests/data/first-figures.txt."""
    columns: list[Column] = []
    for number, part in enumerate(told.split(" | ")):
        title, run = part.split("=", 1)
        heading = parse_heading(title)
        kind, _, rest = run.partition(":")
        words = _words(kind, n, rest)
        if words is not None:
            columns.append(text_column(heading.name, words, heading.unit))
            continue
        parts = [float(one) for one in rest.split(":") if one]
        moments = _moments(kind, n, parts[0] if parts else 0.0)
        if moments is not None:
            columns.append(time_column(heading.name, moments.numbers, moments.form))
        elif kind == "inverse":
            inverse = np.round(1 / (columns[-1].numbers + 273.15), 6)
            columns.append(number_column(heading.name, inverse, heading.unit))
        elif kind == "short":
            few = [float(f"{1 / one:.3g}") for one in columns[-1].numbers]
            columns.append(number_column(heading.name, few, heading.unit))
        elif kind == "kelvin":
            warmer = np.round(columns[-1].numbers + 273.15, 2)
            columns.append(number_column(heading.name, warmer, heading.unit))
        else:
            values = _numbers(kind, n, parts, number + 1)
            columns.append(number_column(heading.name, values, heading.unit))
    return Table("t", tuple(columns))


def said(figure: Figure) -> str:
    """A figure as told there; panels divided by `//`."""
    found = []
    for panel in figure.panels:
        first, down = panel.series[0], panel.y.reversed
        names = "; ".join(_told(one, (one.x if down else one.y) or "") for one in panel.series)
        along = f"{names} ↓ {first.y}" if down else f"{first.x or 'row'} | {names}"
        leftward = " (to the left)" if panel.x.reversed else ""
        found.append(f"{along.replace(' |', leftward + ' |', 1)} | {first.mark}")
    return " // ".join(found)


def _told(series: Series, name: str) -> str:
    errors = series.errors_y or series.errors_x
    if errors is not None and errors.kind == "column":
        name += f" ± {errors.column}"
    if series.only is not None:
        name += f" {series.only.value}"
    return f"{name} mean {errors.kind}" if errors and series.together == "mean" else name


class FirstFigure(SornixTest):
    def test_least_and_greatest_are_the_ends_of_bars_and_lengths_stand_along_x(self) -> None:
        table = table_of("Date=days:1 | Min T (°C)=lin:12:.1 | Mean T (°C)=lin:16:.1"
                         " | Max T (°C)=lin:21:.1", 20)  # fmt: skip
        panel = first_ways(table)[0].figure.panel
        drawn = marked(panel.series[0], panel, (table,))
        self.assertEqual(panel.series[0].y, "Mean T")
        low, high = drawn.whiskers["y"]
        self.assertEqual(low.tolist(), table.column("Min T").numbers.tolist())
        self.assertEqual(high.tolist(), table.column("Max T").numbers.tolist())
        table = table_of("Mass (kg)=even:1:1 | SD of mass=const:.1 | Period (s)=meas | "
                         "SD of period=const:.2", 8)  # fmt: skip
        panel = first_ways(table)[0].figure.panel
        drawn = marked(panel.series[0], panel, (table,))
        np.testing.assert_allclose(drawn.whiskers["x"][1] - drawn.points.x, 0.1)
        np.testing.assert_allclose(drawn.whiskers["y"][1] - drawn.points.y, 0.2)

    def test_ends_and_lengths_on_either_side_become_error_bars(self) -> None:
        ends, lengths = (0.9, 1.2), (0.1, 0.2)
        for names, (low, high), bars in (
            ("t,y,y_err_lo,y_err_hi", lengths, "y below of y_err_lo above of y_err_hi"),
            ("t,y,err-,err+", lengths, "y below of err- above of err+"),
            ("t,k,k error minus,k error plus", lengths,
             "y below of k error minus above of k error plus"),
            ("t,y,lower error,n", lengths, ""),
            ("t,y,CI low,CI high", ends, "y from CI low to CI high"),
            ("t,y,95% CI from,95% CI to", ends, "y from 95% CI from to 95% CI to"),
            ("t,y,from,to", ends, ""),
            ("t,Flow,Flow lower,Flow upper", ends, "y from Flow lower to Flow upper"),
            ("depth,age,age min,age max", ends, "x from age min to age max"),
            ("t,y,2.5 %,97.5 %", ends, "y from 2.5 % to 97.5 %"),
            ("t,median,q25,q75", ends, "y from q25 to q75"),
            ("t,fit,lwr,upr", ends, "y from lwr to upr"),
            ("t,y,Flow lower,Flow upper", ends, ""),
            ("t,y,2.5 %,75 %", ends, ""),
            ("t,fit,lwr,upr", (1.1, 1.2), ""),
        ):  # fmt: skip
            values = enumerate((2, 2.5, 2.7, 3.4, 3.3, 3.7))
            rows = (f"{i},{v},{v * low - i % 2 / 50},{v * high + i % 3 / 50}" for i, v in values)
            table = read_text("\n".join((names, *rows)).encode(), "t")
            told = write_statement(first_ways(table)[0].figure, (table,), plotted=True)
            with self.subTest(names):
                self.assertEqual(told.partition("error bars in ")[2].partition("\n")[0], bars)

    def assert_legend_hides_no_bar(self, drawing: Drawing) -> None:
        bars = [item.corners for item in drawing.items
                if isinstance(item, Rects) and item.of.startswith("series/")]  # fmt: skip
        for box in drawing.boxes if bars else ():
            if isinstance(box.of, Legend):
                left, top, right, bottom = np.concatenate(bars).T
                over = (left < box.rect.right) & (right > box.rect.left)
                self.assertFalse((over & (top < box.rect.bottom) & (bottom > box.rect.top)).any())

    def test_a_legend_lies_over_no_bar(self) -> None:
        random = np.random.default_rng(3)
        for number in range(40):
            names = [f"Q{i + 1}" for i in range(random.integers(3, 9))]
            answers = ("Agree", "Neutral", "Against")[: random.integers(2, 4)]
            columns = [number_column(answer, random.uniform(20, 60, len(names)), "%")
                       for answer in answers]  # fmt: skip
            table = Table("t", (text_column("Question", names), *columns))
            figure = set_size(new_figure(table), 84.0, float(random.uniform(50, 110)))
            with self.subTest(number):
                self.assert_legend_hides_no_bar(draw_figure(figure, (table,), PlainMeasure()))

    def test_tables_of_many_sorts(self) -> None:
        lines = (DATA / "first-figures.txt").read_text().splitlines()[5:]
        cases = [line for line in lines if line and not line.startswith("# ")]
        self.assertGreater(len(cases), 500)
        for told, figure in zip(cases[::2], cases[1::2], strict=True):
            with self.subTest(told):
                rows, _, wanted = figure.strip().partition(": ")
                table = table_of(told, int(rows))
                ways = first_ways(table)
                self.assertEqual(said(ways[0].figure), wanted)
                # each way can be drawn, says why, and is another
                self.assertEqual(len({said(way.figure) + way.words for way in ways}), len(ways))
                for way in ways:
                    self.assertTrue(way.because.endswith("."), way.because)
                    self.assert_legend_hides_no_bar(
                        draw_figure(way.figure, (table,), PlainMeasure())
                    )

    def test_other_ways(self) -> None:
        for told, rows, wanted in (
            ("Time=mins | T (°C)=wave | O (mg/L)=wave:9:1", 60,
             ["Time | T | line // Time | O | line", "Time | T | points",
              "Time | T | points-and-line"]),
            ("Site=groups:a+b | Length (mm)=meas | Mass (g)=meas", 40,
             ["Length | Mass a; Mass b | points", "Length | Mass | points-and-line",
              "Length | Mass | line"]),
            ("Group=groups:a+b | Growth=meas", 12,
             ["Group | Growth mean sd | bars", "Group | Growth | points"]),
            ("f (Hz)=log:1:100000 | Z (Ω)=log:1:10000", 50,
             ["f | Z | points", "f | Z | points-and-line", "f | Z | line"]),
        ):  # fmt: skip
            ways = first_ways(table_of(told, rows))
            self.assertEqual([said(way.figure) for way in ways[1:]], wanted)
        for told, kinds in (
            ("f (Hz)=log:1:100000 | Z (Ω)=log:1:10000", ("log", "log")),
            ("Dose (mg)=log:1:100 | Response (%)=meas:50:5", ("log", "linear")),
            ("Dose (mg)=even:10:1 | Response (%)=meas:50:5", None),
            ("Dose (mg)=even:10:0 | Response (%)=log:1:10000", None),
        ):
            panels = [way.figure.panel for way in first_ways(table_of(told, 11))]
            found = [(one.x.kind, one.y.kind or "linear") for one in panels if one.x.kind == "log"]
            self.assertEqual(found, [kinds] if kinds else [], told)

    def test_what_is_added_follows(self) -> None:
        """The next column in the table's order, along the same, in the same way; what only numbers
        rows or tells errors comes last."""
        table = table_of("Time=mins | A (m)=wave | SD=sd | B (K)=wave | No.=number", 60)
        figure = set_mark(new_figure(table), (table,), "s1", "steps")
        self.assertEqual(said(add_series(figure, (table,))), "Time | A ± SD; B | steps")
        self.assertEqual(
            said(add_panel(figure, (table,))), "Time | A ± SD | steps // Time | B | steps"
        )
        profile = table_of("Depth (m)=even:.5 | T (°C)=fall | O (mg/L)=fall:9", 12)
        figure = new_figure(profile)
        self.assertEqual(said(add_series(figure, (profile,))), "T; O ↓ Depth | points-and-line")
        self.assertEqual(said(add_panel(figure, (profile,))),
                         "T ↓ Depth | points-and-line // O ↓ Depth | points-and-line")  # fmt: skip

    def test_curves_have_places_of_their_own(self) -> None:
        for names, other, expected in (
            ("x1,y1,x2,y2", 0.5, "y1 x1, y2 x2"),
            ("Wavelength (nm),Lake,Wavelength (nm),Bog", 1.0, "Lake Wavelength, Bog Wavelength 2"),
            # each at the same places, of which one tells all
            ("x1,y1,x2,y2", 0.0, "y1 x1, y2 x1"),
            # nothing says of these that they were chosen, nor is the same measured at each
            ("Flow 1,Level,Flow 2,Rain", 0.5, "Rain Flow 2"),
        ):
            rows = [f"{i},{i * i % 5},{i + other},{i * i % 7}" for i in range(6)]
            figure = new_figure(read_text("\n".join([names, *rows]).encode(), "t"))
            found = ", ".join(f"{one.y} {one.x}" for one in figure.panel.series)
            self.assertEqual(found, expected)

    def test_series_of_one_quantity_have_its_name_on_the_axis(self) -> None:
        for columns, title in (
            ("Absorbance at 220 nm=wave | Absorbance at 275 nm=wave", "Absorbance"),
            ("Run A, Area=wave | Run B, Area=wave", "Area"),
            ("Ca, all=wave | Mg, all=wave", "Ca, all, Mg, all"),
            ("T, Site A (°C)=wave | T, Site B (°C)=wave", "T / °C"),
            ("OD 1=wave | OD 2=wave | OD 3=wave | OD 4=wave | OD 5=wave", "OD"),
            ("North (mg/L)=wave | South (mg/L)=wave", "North, South / mg/L"),
            ("2019 (mm)=wave | 2020 (mm)=wave", "Value / mm"),
            # the 3 of NO3 is no number of a column
            ("NO3, 2024 (mg/L)=wave | NO3, 2025 (mg/L)=wave", "NO3 / mg/L"),
            ("NO2 (mg/L)=wave | NO3 (mg/L)=wave", "NO2, NO3 / mg/L"),
            ("CO2 1=wave | CO2 2=wave", "CO2"),
            ("Column 2=wave | Column 3=wave", "Value"),
        ):  # fmt: skip
            table = table_of(f"Time=mins | {columns}", 60)
            figure = new_figure(table)
            self.assertEqual(axis_title(figure.panel, (table,), "y"), title)

    def test_what_standards_are(self) -> None:
        """Limits of detection are told of these: amounts at few levels, repeated or round."""
        for title, values, wanted in (
            ("Nitrate concentration (mg/L)", [0, 0, 1.37, 1.37], True),
            ("Standard (µg/L)", [0, 5, 10], True), ("x (mg L^-1)", [0, 1, 2], True),
            ("c(Cu)", [0.5, 1, 2], True), ("Nitrate (mg/L)", [3.24, 1.17, 2.69], False),
            ("Depth (m)", [0, 1, 2], False), ("Time (s)", [0, 1, 2], False),
            ("T (°C)", [5, 10, 15], False), ("Dose (mg)", list(range(40)), False),
            ("Standard (µg/L)", [*range(0, 120, 10)] * 2, True),
        ):  # fmt: skip
            heading = parse_heading(title)
            column = number_column(heading.name, values, heading.unit)
            self.assertEqual(is_standard(column), wanted, title)

    def test_what_was_worked_out_of_another_is_found_among_very_many(self) -> None:
        """All that looking at whole columns finds, though a glance at a few rows goes before; and
        of three hundred columns no pair is looked at whole that a glance tells apart."""
        ways: tuple[tuple[str, Callable[..., np.ndarray]], ...] = (
            ("1/", np.reciprocal), ("ln ", np.log), ("lg ", np.log10), ("sqrt ", np.sqrt),
            ("1000/", lambda v: 1000 / (v + 273.15)), ("", np.square),
        )  # fmt: skip
        dice = np.random.default_rng(11)
        none = found = 0
        for _ in range(80):
            columns = []
            for i in range(4):
                values = dice.choice([1.0, 40.0, 3000.0]) * dice.random(dice.integers(4, 40, 1)[0])
                below = dice.random(40) < dice.choice([0.0, 0.3])
                values = np.resize(values, 40) * np.where(below, -1.0, 1.0)
                values[dice.random(40) < dice.choice([0.0, 0.2])] = np.nan
                columns.append(number_column(f"c{i}", values.round(3)))
                name, way = ways[dice.integers(len(ways))]
                with np.errstate(all="ignore"):
                    made = way(values).round(dice.integers(1, 6))
                if dice.random() < 0.3:
                    made = np.array([float(f"{one:.2g}") for one in made])
                columns.append(number_column(f"{name}c{i}{'²' * (not name)}", made))
            with mock.patch.object(workedout, "_GLANCED_AT", 0):
                wanted = workedout.made_of(columns)
            self.assertEqual(workedout.made_of(columns), wanted)
            found, none = found + len(wanted), none + 4 - len(wanted)
        self.assertGreater(min(found, none), 20)
        many = [number_column(f"log2 G{i}", dice.normal(3, 1, 20).round(3)) for i in range(300)]
        self.assertLess(calls_of(lambda: workedout.made_of(many)), 300 * 300)

    def test_nothing_to_draw_is_drawn_anyway(self) -> None:
        for text in (b"a\n1\n", b"a,b\n1,x\n", b"d\n2026-06-01\n2026-06-02\n", b"No.\n1\n2\n3\n"):
            document = new_document(read_text(text, "t"))
            draw_figure(document.figure, document.tables, PlainMeasure())
