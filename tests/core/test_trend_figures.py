"""Trends as part of figures: which readings weigh how, what is drawn and said of them, what edits
and documents make of them."""

import json
import math
import weakref
import zipfile
from collections.abc import Callable, Mapping
from typing import Any
from unittest.mock import patch

import jsonschema
import numpy as np
from attrs import evolve
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import stdtrit

from sornix.core.cautions import CAUTIONS, View, find_cautions
from sornix.core.document import (
    Document,
    change_table,
    load_document,
    new_document,
    save_document,
)
from sornix.core.document.unknowns import read_off_column
from sornix.core.drawing import AGAINST, STYLES, Markers, Path, Text, draw_figure, draw_residuals
from sornix.core.drawing.parts.items import Fill
from sornix.core.errors import EditRefused, SornixError, TrendImpossible
from sornix.core.figure import (
    FORMULA,
    WEIGHTS,
    ErrorBars,
    Figure,
    Panel,
    ReadOffLine,
    Scale,
    Series,
    Spec,
    Spot,
    Trend,
    TrendEnd,
    TrendLabel,
    TrendPending,
    Unknown,
    add_trend,
    caption,
    change_panel,
    change_read_off,
    change_setting,
    change_trend,
    fit_now,
    fitted_trends,
    hold,
    postpone_no_more,
    postpone_with,
    read_off_trend,
    steady_fits,
    swap_axes,
    tell_at,
    treat_samples,
    trend_fit,
    trend_words,
    waiting,
)
from sornix.core.figure.derived import trendfits
from sornix.core.figure.derived.fitviews import View as FitView
from sornix.core.figure.prose.comparing import compared, nested
from sornix.core.figure.prose.methods import methods_text
from sornix.core.figure.prose.trendreport import asked_read_offs, report_sections
from sornix.core.readings import Table, number_column, text_column
from sornix.core.text import plain_text
from sornix.core.text.moments import moment_text, moment_words
from sornix.core.trends import MODELS, Sample, Setting, Treatment
from sornix.core.trends.fits.counting import by_clock
from sornix.core.trends.fits.readoff import in_sample
from sornix.demo import demo_document
from tests.base import SornixTest
from tests.core.measure import PlainMeasure
from tests.core.test_document import SCHEMA

X = np.repeat([1.0, 2, 3, 5, 8, 10], 2)
Y = np.round(5 * np.exp(-0.3 * X) + np.tile([0.03, -0.03], 6) * np.sqrt(X), 4)
SD = np.linspace(0.1, 0.6, 12)
TABLE = Table(
    "run",
    (
        number_column("Time", X, "min"),
        number_column("Dye", Y, "mg/L"),
        number_column("SD", SD, "mg/L"),
        number_column("Other", Y[::-1].copy(), "mg/L"),
        text_column("Note", ["a"] * 12),
    ),
)
TABLES = (TABLE,)


def figure(model: str = "line", errors: ErrorBars | None = None, **more: Any) -> Figure:
    series = Series("s1", "run", "Time", "Dye", errors_y=errors, errors_x=more.pop("x", None))
    return add_trend(Figure((Panel((series,)),)), "s1", model, more.pop("formula", ""), **more)


def fitted(made: Figure, index: int = 0) -> Any:
    return trend_fit(made.panel.trends[index], made.panel, TABLES)


# several peaks are looked for at length, whatever the readings are
_QUICK = [name for name in MODELS if not name.startswith("peaks-")]


class Weights(SornixTest):
    def test_each_way_of_weighing_is_that_of_its_numbers(self) -> None:
        groups = {x: float(Y[x == X].std(ddof=1)) for x in set(X)}
        by_scatter = np.array([groups[x] for x in X])
        column = ErrorBars("column", column="SD")
        for name, errors, sd in (
            ("equal", None, np.ones(12)),
            ("errors", column, SD),
            ("errors", ErrorBars("fixed", 0.2), np.ones(12)),
            ("errors", ErrorBars("percent", 5.0), Y),
            ("errors", ErrorBars("pair", column="SD", upper="Dye"), (SD + Y) / 2),
            ("errors", ErrorBars("sd"), by_scatter),
            ("column", None, SD),
        ):
            with self.subTest(name, errors=errors):
                self.assertIn(name, WEIGHTS)
                more = {"weight_column": "SD"} if name == "column" else {}
                found = fitted(figure(errors=errors, weights=name, **more))
                weights = sd**-2.0 / (sd**-2.0).mean()
                wanted = MODELS["line"].fit(Sample(X, Y, np.arange(12), weights=weights))
                np.testing.assert_allclose(found.values, wanted.values, rtol=1e-9)
        for name, power in (("1/y", 0.5), ("1/y2", 1.0)):
            found = fitted(figure(weights=name))
            # of the curve, not of the readings
            weights = found.at(X) ** (-2 * power)
            wanted = MODELS["line"].fit(
                Sample(X, Y, np.arange(12), weights=weights / weights.mean())
            )
            np.testing.assert_allclose(found.values, wanted.values, rtol=1e-6)
        found = fitted(figure(weights="replicates"))
        self.assertIn("grow as y to the power", found.notes[-1])
        both = fitted(figure(errors=column, x=ErrorBars("fixed", 0.1), weights="both"))
        self.assertIn("errors in x and y", both.method)

    def test_readings_without_an_sd_are_left_out_by_name(self) -> None:
        sd = SD.copy()
        sd[[1, 4, 7]] = (0.0, np.nan, -0.1)
        table = Table("run", (*(c for c in TABLES[0].columns if c.name != "SD"),
                              number_column("SD", sd)))  # fmt: skip
        for more in (
            {"weights": "column", "weight_column": "SD"},
            {"weights": "errors", "errors": ErrorBars("column", column="SD")},
        ):
            made = figure(**more)
            found = trend_fit(made.panel.trends[0], made.panel, (table,))
            self.assertEqual(found.n, 9)
            self.assertEqual(found.notes[-1], "3 readings without a standard deviation above 0 "
                                              "were left out: rows 2, 5, 8.")  # fmt: skip

    def test_what_cannot_weigh_is_told(self) -> None:
        for more, said in (
            ({"weights": "errors"}, "no error bars in y"),
            ({"weights": "column", "weight_column": "Note"}, "holds no numbers"),
            ({"weights": "both", "errors": ErrorBars("fixed", 0.1)}, "no error bars in x"),
        ):
            with self.assertRaises(SornixError) as caught:
                fitted(figure(**more))
            self.assertIn(said, str(caught.exception))
        below = Table("run", (number_column("Time", [1, 2, 3]), number_column("Dye", [-1, 1, 2])))
        for name, said in (("1/y", "below 0"), ("replicates", "2 readings each")):
            made = figure(weights=name)
            with self.assertRaisesRegex(TrendImpossible, said):
                trend_fit(made.panel.trends[0], made.panel, (below,))

    def test_the_fits_of_a_figure_stay_known_however_many_they_are(self) -> None:
        panel = figure().panel
        trends = [evolve(panel.trends[0], end=5 + i / 100) for i in range(150)]
        fits = [trend_fit(trend, panel, TABLES) for trend in trends]
        for trend, fit in zip(trends, fits, strict=True):
            self.assertIs(trend_fit(trend, panel, TABLES), fit)

    def test_trends_share_what_they_list(self) -> None:
        panel = Panel((Series("s1", "run", "Time", "Dye"), Series("s2", "run", "Time", "Other")))
        made = add_trend(add_trend(Figure((panel,)), "s1"), "s2")
        apart = [fitted(made, i).value("slope") for i in (0, 1)]
        for trend in made.panel.trends:
            made = change_trend(made, trend.id, shared=("slope",))
        together = [fitted(made, i) for i in (0, 1)]
        self.assertEqual(together[0].value("slope"), together[1].value("slope"))
        self.assertTrue(min(apart) < together[0].value("slope") < max(apart))
        self.assertIn("slope in common", together[0].method)
        # another shape that is tried beside it shares nothing
        other = evolve(made.panel.trends[0], method="huber")
        self.assertIn("Huber", trend_fit(other, made.panel, TABLES).method)


class Edits(SornixTest):
    def test_what_was_asked_of_one_shape_is_not_asked_of_another(self) -> None:
        made = figure("decay")
        made = change_setting(made, "t1", "c", held=0.0)
        self.assertEqual(made.panel.trends[0].setting("c").held, 0)
        self.assertEqual(fitted(made).value("c"), 0)
        self.assertEqual(change_trend(made, "t1", model="line").panel.trends[0].settings, ())
        again = change_setting(made, "t1", "c", held=None)
        self.assertEqual(again.panel.trends[0].settings, ())
        logs = change_trend(made, "t1", model="exponential", on_logs=True)
        self.assertTrue(logs.panel.trends[0].on_logs)
        self.assertIn("on logarithms", trend_words(logs.panel.trends[0]))
        self.assertFalse(change_trend(logs, "t1", model="line").panel.trends[0].on_logs)
        typed = figure(FORMULA, formula="a * exp(-k * x)")
        typed = change_setting(typed, "t1", "k", start=0.2)
        changed = change_trend(typed, "t1", formula="a * exp(-q * x)").panel.trends[0]
        self.assertEqual(changed.settings, ())
        self.assertEqual(swap_axes(made).panel.trends[0].settings, ())

    def test_what_makes_no_sense_is_refused(self) -> None:
        typed = figure(FORMULA, formula="a * x")
        edits: tuple[Callable[[], object], ...] = (
            lambda: add_trend(typed, "s1", FORMULA, "a * x"),
            lambda: add_trend(typed, "s1", FORMULA, "a * ("),
            lambda: change_trend(typed, "t1", formula="max(a, x)"),
            lambda: change_setting(typed, "t1", "a", low=2.0, high=1.0),
            lambda: change_trend(typed, "t1", start=4.0, end=2.0),
            lambda: read_off_trend(typed, "t1", 1.0, 0),
        )
        for edit in edits:
            with self.assertRaises(SornixError):
                edit()

    def test_names_units_and_columns_take_their_trends_along(self) -> None:
        made = figure(
            weights="column", weight_column="SD", start=2.0, read_offs=(Unknown(2.0, 1, 0.5),)
        )
        made = change_setting(made, "t1", "slope", low=-9.0)
        document = evolve(new_document(TABLE), figure=made)
        renamed = change_table(document, "run", "rename", column="SD", name="Spread", unit="")
        self.assertEqual(renamed.figure.panel.trends[0].weight_column, "Spread")
        with self.assertRaises(EditRefused):
            change_table(document, "run", "delete_columns", names=["SD"])
        hours = change_table(document, "run", "convert", column="Time", unit="s")
        trend = hours.figure.panel.trends[0]
        self.assertEqual((trend.start, trend.settings), (120.0, ()))
        grams = change_table(document, "run", "convert", column="Dye", unit="g/L")
        (read,) = grams.figure.panel.trends[0].read_offs
        assert read.sd is not None
        self.assertAlmostEqual(read.y, 0.002)
        self.assertAlmostEqual(read.sd, 0.0005)

    @given(
        st.sampled_from([*_QUICK, FORMULA]), st.sampled_from(sorted(WEIGHTS)), st.booleans(),
        st.floats(-5, 5), st.integers(1, 9),
    )  # fmt: skip
    def test_documents_keep_everything_that_is_asked(
        self, model: str, weights: str, logs: bool, value: float, many: int
    ) -> None:
        trend = Trend(
            "t1", "s1", model, formula="a * x" if model == FORMULA else "", weights=weights,
            weight_column="SD", on_logs=logs, method="tukey", shared=("a",),
            settings=(Setting("a", value, None, None, 1.0), Setting("b", None, -1.0, value + 9)),
            read_offs=(Unknown(value, many, 0.5),), told_at=(value,),
            treatment=Treatment(2.0, 90.0, value + 6), intervals="profile", seed=many,
        )  # fmt: skip
        panel = Panel((Series("s1", "run", "Time", "Dye"),), trends=(trend,))
        document = evolve(new_document(TABLE), figure=Figure((panel,)))
        path = self.folder / "d.sornix"
        save_document(document, path, b"")
        self.assertEqual(load_document(path).figure, document.figure)
        with zipfile.ZipFile(path) as archive:
            written = json.loads(archive.read("figure.json"))
        jsonschema.validate(written, json.loads(SCHEMA.read_text()))


class Drawn(SornixTest):
    def test_what_is_read_off_is_drawn_and_told(self) -> None:
        made = read_off_trend(figure(), "t1", 2.0, 3)
        made = tell_at(made, "t1", 4.0)
        drawing = draw_figure(made, TABLES, PlainMeasure())
        place, found = drawing.place, fitted(made)
        (line,) = [i for i in drawing.items if i.of == "trend/t1/read-off" and isinstance(i, Path)]
        corner = line.points[len(line.points) // 2]
        x = place.x.value((corner[0] - place.inner.left) / place.inner.width)
        self.assertAlmostEqual(float(found.at(np.array(x))), 2.0, 1)
        self.assertIsNotNone(drawing.box_of(ReadOffLine("t1", 0)))
        (foot,) = [i for i in drawing.items if i.of == "trend/t1/told" and isinstance(i, Text)]
        self.assertEqual(float(plain_text(foot.runs)), round(float(found.at(np.array(4.0))), 3))
        moved = change_read_off(made, "t1", 0, 3.0)
        self.assertEqual(moved.panel.trends[0].read_offs, (Unknown(3.0, 3),))
        self.assertEqual(change_read_off(made, "t1", 0, None).panel.trends[0].read_offs, ())
        self.assertEqual(tell_at(made, "t1", 4.0).panel.trends[0].told_at, ())
        hidden = change_trend(made, "t1", shows=("equation",))
        self.assertIsNone(draw_figure(hidden, TABLES, PlainMeasure()).box_of(ReadOffLine("t1", 0)))

    def test_chosen_x_are_told_in_a_table_on_the_figure(self) -> None:
        made = figure(shows=("told", "read-offs"))
        for x in (9.0, 2.0, 4.5):
            made = tell_at(made, "t1", x)
        drawing, found = draw_figure(made, TABLES, PlainMeasure()), fitted(made)
        texts = [i for i in drawing.items if i.of == "trend/t1/label" and isinstance(i, Text)]
        rows: dict[float, list[Text]] = {}
        for text in texts:
            rows.setdefault(round(text.y, 3), []).append(text)
        head, *told = [[plain_text(t.runs) for t in sorted(row, key=lambda t: t.x)]
                       for _, row in sorted(rows.items())]  # fmt: skip
        self.assertEqual(head[2:], ["95 % from", "to"])
        self.assertEqual([row[0] for row in told], ["2", "4.5", "9"])
        for row in told:
            at = found.predict(float(row[0]))
            assert at.confidence95 is not None
            half = (at.confidence95[1] - at.confidence95[0]) / 2
            for said, value in zip(row[1:], (at.value, *at.confidence95), strict=True):
                self.assertLess(abs(float(said.replace("−", "-")) - value), 0.06 * half)
        # lines at which something is read off end at the table, on a ground under the readings
        dragged = change_trend(made, "t1", spot=Spot(0.1, 0.4))
        drawing = draw_figure(dragged, TABLES, PlainMeasure())
        (ground,) = [i for i in drawing.items if i.of == "trend/t1/label" and isinstance(i, Fill)]
        first = next(i for i, item in enumerate(drawing.items) if isinstance(item, Markers))
        self.assertLess(drawing.items.index(ground), first)
        self.assertIsNotNone(drawing.box_of(TrendLabel("t1")))

    def test_unknowns_have_their_own_uncertainty_and_treatment(self) -> None:
        made = read_off_trend(figure(), "t1", 2.0, 1, 0.3)
        made = treat_samples(made, "t1", dilution=10.0, recovery=80.0, recovery_sd=4.0)
        trend, fit = made.panel.trends[0], fitted(made)
        (one,) = asked_read_offs(trend, fit)
        assert one is not None
        assert one.interval is not None
        # every x of the interval, and no other, agrees with y = 2.0 ± 0.3 at 95 %
        for end in one.interval:
            at = np.array([end])
            of_line = float(fit.errors_at(at)[0]) ** 2
            apart = abs(float(fit.at(at)[0]) - 2.0)
            x = np.array([one.x])
            mean = float(fit.errors_at(x)[0]) ** 2
            t = stdtrit(fit.dof * ((mean + 0.09) / mean) ** 2, 0.975)
            self.assertAlmostEqual(apart / math.sqrt(of_line + 0.09), t, 6)
        inside = in_sample(one, trend.treatment)
        self.assertAlmostEqual(inside.x, one.x * 12.5)
        assert inside.interval is not None
        for end, before in zip(inside.interval, one.interval, strict=True):
            part = math.hypot((before - one.x) / one.x, 1.96 * 0.05)
            self.assertAlmostEqual(abs(end / inside.x - 1), part)
        rows = report_sections(made.panel, TABLES, {})
        listed = [row for section in rows for row in section.rows if row.name == "in the sample"]
        self.assertEqual(listed[0].about, "diluted 10 times, recovery 80\u00a0% ± 4\u00a0%")
        for wrong in ({"dilution": 0.0}, {"recovery": -1.0}, {"recovery_sd": -2.0}):
            with self.assertRaises(SornixError):
                treat_samples(made, "t1", **wrong)
        with self.assertRaises(SornixError):
            read_off_trend(made, "t1", 2.0, 1, 0.0)

    def test_ends_of_a_range_can_be_taken_hold_of(self) -> None:
        made = change_trend(figure(), "t1", start=3.0)
        drawing = draw_figure(made, TABLES, PlainMeasure())
        box = drawing.box_of(TrendEnd("t1", "start"))
        assert box is not None
        middle = (box.left + box.width / 2 - drawing.place.inner.left) / drawing.place.inner.width
        self.assertAlmostEqual(drawing.place.x.value(middle), 3.0, 6)
        self.assertIsNone(drawing.box_of(TrendEnd("t1", "end")))
        # no part of what is printed
        self.assertFalse([i for i in drawing.items if i.of == "trend/t1/start"])
        # also at the very ends of the axis, and no farther
        for end, there in ((3.0, True), (2.99, False)):
            ranged = change_trend(made, "t1", start=1.0, end=3.0)
            drawing = draw_figure(hold(ranged, TABLES, "x", start=1.0, end=end), TABLES,
                                  PlainMeasure())  # fmt: skip
            ends = (drawing.box_of(TrendEnd("t1", part)) for part in ("start", "end"))
            self.assertEqual([one is not None for one in ends], [True, there])

    def test_residuals_against_each(self) -> None:
        found = fitted(figure(weights="1/y"))
        assert found.sample.roots is not None
        roots = found.sample.roots
        for against in AGAINST:
            drawing = draw_residuals(
                found, STYLES["report"], ("#000000", "#ff0000"), (60, 16), against
            )
            (dots,) = [i for i in drawing.items if isinstance(i, Markers)]
            rest = (found.residuals * roots)[dots.rows]
            # upward in the order of their size, as they count
            self.assertTrue((np.diff(dots.points[np.argsort(rest), 1]) <= 1e-9).all(), against)
            if against == "normal":
                self.assertTrue((np.diff(dots.points[:, 0]) > 0).all())

    def test_where_there_are_no_axes_nothing_is_told_of_trends(self) -> None:
        document = demo_document("depth-profile")
        tables = document.tables
        lying = add_trend(document.figure, document.figure.panel.series[0].id, "line")
        self.assertIn("was fitted to depth against temperature", methods_text(lying, tables))
        for form, words in (
            ("correlations", "Coefficients of correlation between depth, temperature and"),
            ("ring", "Shares of depth by temperature: 42 parts of 588 m in all."),
            ("one-bar", "Shares of depth by temperature: 42 parts of 588 m in all."),
        ):
            with self.subTest(form):
                made = change_panel(lying, form=form)
                drawing = draw_figure(made, tables, PlainMeasure())
                said = [caption(made, tables, drawing.equations), methods_text(made, tables)]
                said += [finding.text for finding in find_cautions(made, tables, drawing)]
                self.assertTrue(said[0].startswith(words), said[0])
                self.assertNotRegex(" ".join(said), "(?i)straight line|against|fitted|axis")
                self.assertEqual(report_sections(made.panel, tables, {}), [])
                # it is kept meanwhile
                again = change_panel(made, form="series")
                self.assertEqual(again, lying)

    def test_dates_are_counted_in_days_since_the_first_reading(self) -> None:
        document = demo_document("buoy-week")
        made = document.figure.with_hand(2)
        made = add_trend(made, made.panel.series[0].id, "sine")
        made = tell_at(read_off_trend(made, "t1", 14.0), "t1", 1.78e9)
        panel, tables = made.panel, document.tables
        found = trend_fit(panel.trends[0], panel, tables)
        # the water warms by day
        self.assertAlmostEqual(found.value("p"), 1, 1)
        self.assertEqual(found.units[found.names.index("p")], "d")
        first = moment_words(float(found.x.min()), 0.1)
        drawn = draw_figure(made, tables, PlainMeasure())
        written = [plain_text(i.runs) for i in drawn.items if isinstance(i, Text)]
        self.assertIn(f"t in days since {first}", written)
        sections = report_sections(panel, tables, drawn.panels[2].equations)
        self.assertIn(f"t: Time in days since {first}", sections[0].sentences[0])
        rows = {row.name: row.value for section in sections for row in section.rows}
        (told,) = [name for name in rows if name.startswith("x = ")]
        self.assertEqual(told, f"x = {moment_text(1.78e9, 'second')}")
        (rise,) = [value for name, value in rows.items() if name.startswith("t, place")]
        self.assertRegex(rise, r"± .* d \(20\d\d-\d\d-\d\d \d\d:\d\d")
        day, year = 86400.0, 365.25 * 86400
        for span, unit in ((119, "s"), (120, "min"), (7199, "min"), (7200, "h"), (2 * day - 1, "h"),
                           (2 * day, "d"), (3 * year - 1, "d"), (3 * year, "a")):  # fmt: skip
            times = [np.array([5.0, span / 2]), np.array([5.0 + span])]
            self.assertEqual(by_clock(times).unit, unit, span)


class Comparing(SornixTest):
    def test_the_shape_that_the_readings_have_is_first(self) -> None:
        x = np.linspace(1, 10, 40)
        y = 5 * np.exp(-0.4 * x) + np.random.default_rng(1).normal(0, 0.03, 40)
        tables = (Table("run", (number_column("Time", x), number_column("Dye", y))),)
        made = figure("line")
        shapes = ("line", "polynomial-2", "exponential", "decay", "power", FORMULA)
        found = compared(made.panel.trends[0], made.panel, tables, shapes)
        self.assertEqual(found[0].trend.model, "exponential")
        self.assertEqual([one.apart for one in found], sorted(one.apart or 0 for one in found))
        for one in found:
            assert one.fit is not None and one.equation is not None
            self.assertEqual(one.fit.n, 40)
        tests = {(t.small, t.large): t.test.p for t in nested(found)}
        self.assertLess(tests["straight line", "polynomial of degree 2"], 1e-4)
        self.assertGreater(tests["exponential", "decay to a background"], 1e-3)
        few = (Table("run", (number_column("Time", [1, 2]), number_column("Dye", [1, 3]))),)
        told = compared(made.panel.trends[0], made.panel, few, ("line", "decay"))
        self.assertIn("needs as many readings", told[-1].why)
        # of five readings a cubic has no AICc, and stands behind all that have one
        five = (Table("run", (number_column("Time", [1, 2, 3, 5, 6]),
                              number_column("Dye", [1, 3, 4, 9, 11.5]))),)  # fmt: skip
        degrees = ("polynomial-5", "polynomial-3", "line")
        told = compared(made.panel.trends[0], made.panel, five, degrees)
        self.assertEqual(
            [(one.trend.model, one.apart, one.fit is None) for one in told],
            [("line", 0.0, False), ("polynomial-3", None, False), ("polynomial-5", None, True)],
        )

    def test_fits_of_one_figure_never_push_each_other_out(self) -> None:
        made = add_trend(add_trend(figure(), "s1", "polynomial-2"), "s1", "polynomial-3")
        before, looks = set(trendfits._KNOWN), []  # noqa: SLF001
        with (
            patch.object(trendfits, "_MOST_READINGS", 20),
            patch.object(
                trendfits,
                "_fitted",
                wraps=trendfits._fitted,  # noqa: SLF001
            ) as fitting,
        ):
            # of twelve readings each, two of three would have room
            for _ in range(3):
                looks.append(FitView())
                with steady_fits(looks[-1]):
                    self.assertEqual(len(list(fitted_trends(made.panel, TABLES))), 3)
            self.assertLessEqual(fitting.call_count, 3)
            # what nobody looks at any more goes
            looks.clear()
            _ = fitted(figure("power"))
            self.assertLessEqual(len(set(trendfits._KNOWN) - before), 2)  # noqa: SLF001

    def test_nothing_of_who_asked_for_an_impossible_fit_is_kept(self) -> None:
        class Asking:
            pass

        made = figure("power")
        panel = evolve(made.panel, trends=(evolve(made.panel.trends[0], start=1e6),))

        def ask() -> "weakref.ref[Asking]":
            asking = Asking()
            try:
                trend_fit(panel.trends[0], panel, TABLES)
            except TrendImpossible:
                return weakref.ref(asking)
            raise AssertionError("there are no readings there")

        # made for the first, remembered for the second
        for _ in range(2):
            self.assertIsNone(ask()())

    def test_a_thread_that_must_not_wait_hands_fits_on(self) -> None:
        made = figure("peak")
        wanted: list[Spec] = []
        x = np.linspace(0, 9, 30_000)
        y = np.exp(-((x - 4) ** 2)) + np.sin(x * 1e4) * 0.01
        long = (Table("run", (number_column("Time", x), number_column("Dye", y))),)
        postpone_with(wanted.append)
        try:
            with self.assertRaises(TrendPending):
                trend_fit(made.panel.trends[0], made.panel, long)
            drawing = draw_figure(made, long, PlainMeasure())
            self.assertEqual(drawing.place.equations, {})
            self.assertEqual(len(set(wanted)), 1)
            with waiting():
                patient = trend_fit(made.panel.trends[0], made.panel, long)
            # known now, so nobody has to wait
            self.assertIs(trend_fit(made.panel.trends[0], made.panel, long), patient)
            self.assertIs(fit_now(wanted[0]), patient)
            self.assertAlmostEqual(patient.value("m"), 4, 3)
            # a short one is made at once
            self.assertEqual(fitted(figure("line")).n, 12)
        finally:
            postpone_no_more(wanted.append)


class Cautions(SornixTest):
    def find(self, name: str, made: Figure, tables: tuple[Table, ...] = TABLES) -> list[str]:
        place = draw_figure(made, tables, PlainMeasure()).panels[0]
        return [finding.text for finding in CAUTIONS[name](View(made, tables, place))]

    def test_two_ways_that_differ(self) -> None:
        x = np.linspace(1, 10, 30)
        y = 2 * x**1.8 - 1.5
        tables = (Table("run", (number_column("Time", x), number_column("Dye", y))),)
        made = figure("power")
        (said,) = self.find("two_ways", made, tables)
        self.assertRegex(said, "^The exponent of the power law is [^ ]+ ± .* on the readings and")
        place = draw_figure(made, tables, PlainMeasure()).panels[0]
        (finding,) = CAUTIONS["two_ways"](View(made, tables, place))
        assert finding.remedy is not None
        turned = finding.remedy.edit(made)
        self.assertTrue(turned.panel.trends[0].on_logs)
        # from either way it is the same that is said
        self.assertEqual(self.find("two_ways", turned, tables), [said])
        shown = add_trend(made, "s1", "power", on_logs=True)
        self.assertEqual(self.find("two_ways", shown, tables), [])
        exact = (Table("run", (number_column("Time", x), number_column("Dye", 2 * x**1.8))),)
        self.assertEqual(self.find("two_ways", made, exact), [])

    def test_read_off_beyond_and_unsettled(self) -> None:
        made = tell_at(read_off_trend(figure(), "t1", 2.0), "t1", 12.0)
        (said,) = self.find("read_beyond", made)
        self.assertIn("x = 12", said)
        self.assertNotIn("y = 2", said)
        loose = figure(FORMULA, formula="(a + b) * x")
        (said,) = self.find("unsettled", loose)
        self.assertIn("do not determine a, b", said)

    def test_a_whole_column_is_read_off(self) -> None:
        made = evolve(new_document(TABLE), figure=figure("exponential"))
        done: Document = read_off_column(made, "t1", "run", "Other")
        with_sd = read_off_column(made, "t1", "run", "Other", "SD")
        treated = evolve(made, figure=treat_samples(made.figure, "t1", dilution=5.0))
        columns = read_off_column(treated, "t1", "run", "Other").tables[0].column_names
        self.assertIn("Time of Other, in the sample", columns)
        low = with_sd.tables[0].column("Time of Other from").numbers
        self.assertFalse(np.array_equal(low, done.tables[0].column("Time of Other from").numbers))
        names: Mapping[str, int] = {c.name: i for i, c in enumerate(done.tables[0].columns)}
        x, low, high = (done.tables[0].columns[names[f"Time of Other{end}"]].numbers
                        for end in ("", " from", " to"))  # fmt: skip
        found = trend_fit(made.figure.panel.trends[0], made.figure.panel, TABLES)
        there = np.isfinite(x)
        self.assertGreater(there.sum(), 6)
        np.testing.assert_allclose(found.at(x[there]), Y[::-1][there], rtol=1e-8)
        both = there & np.isfinite(low) & np.isfinite(high)
        self.assertTrue((low[both] < x[both]).all() and (x[both] < high[both]).all())
        with self.assertRaises(EditRefused):
            read_off_column(made, "t1", "run", "Note")

    def test_a_listed_axis_has_no_distances(self) -> None:
        made = figure().with_scale("x", Scale("category"))
        with self.assertRaises(TrendImpossible):
            fitted(made)
