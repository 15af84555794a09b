"""Shapes by formula: certified answers from every start, the truth found again, equations read
back."""

import json
import math
from itertools import islice

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from benchmarks.trends import least_known, readings_of
from sornix.core.drawing import Path, draw_figure
from sornix.core.errors import SornixError, TrendImpossible
from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    add_trend,
    change_scale,
    change_trend,
    fitted_trends,
    trend_symbols,
)
from sornix.core.formula import Expression, Name, evaluate, parse_formula
from sornix.core.formula.derive import derivative
from sornix.core.readings import Table, number_column
from sornix.core.trends import MODELS, ByFormula, Fit, ParameterConstraints, Sample, Setting
from sornix.core.trends.fits.counting import from_afar
from sornix.core.trends.fits.readoff import read_off
from sornix.core.trends.ways.fitting import model_of, put_through
from sornix.core.trends.ways.shared import fit_shared
from sornix.core.trends.ways.variance import fit_by_height
from sornix.demo import DEMOS, demo_document
from tests.base import DATA, SornixTest
from tests.core.measure import PlainMeasure
from tests.core.printed import curve, from_latex

Floats = NDArray[np.float64]
TRUE = {
    "exponential": {"a": 2.0, "k": -0.3}, "logarithm": {"a": 1.0, "b": 2.0},
    "power": {"a": 3.0, "p": 0.7}, "decay": {"c": 1.0, "a": 5.0, "k": 0.4},
    "two-step-decay": {"a": 5.0, "k": 2.0, "b": 3.0, "m": 0.2},
    "saturation": {"v": 10.0, "h": 3.0}, "logistic": {"l": 1.0, "u": 9.0, "k": 1.5, "m": 5.0},
    "peak": {"b": 1.0, "h": 6.0, "m": 4.0, "s": 0.8},
    "sine": {"c": 2.0, "a": 3.0, "p": 2.7, "t": 0.4}, "arrhenius": {"a": 4.0, "b": 3.0},
    "gompertz": {"a": 8.0, "k": 0.9, "m": 4.0}, "weibull": {"a": 5.0, "s": 4.0, "p": 1.8},
    "hill": {"v": 6.0, "h": 3.0, "n": 2.4}, "langmuir": {"q": 7.0, "k": 0.8},
    "competitive": {"b": 1.0, "t": 9.0, "i": 1.5}, "first-order": {"a": 6.0, "k": 0.5},
    "second-order": {"a": 9.0, "h": 2.0}, "michaelis-menten": {"v": 8.0, "k": 2.5},
    "biexponential": {"c": 1.0, "a": 5.0, "k": 3.0, "b": 4.0, "m": 0.3},
    "substrate-inhibition": {"v": 20.0, "k": 2.0, "i": 3.0},
    "lorentzian": {"b": 1.0, "h": 6.0, "m": 4.0, "w": 0.7},
    "pseudo-voigt": {"b": 1.0, "l": 3.0, "g": 4.0, "m": 5.0, "w": 0.8},
    "peaks-2": {"b": 1.0, "h1": 5.0, "m1": 3.0, "s1": 0.5, "h2": 3.0, "m2": 6.5, "s2": 0.8},
    "stretched": {"c": 1.0, "a": 6.0, "t": 2.5, "b": 0.7},
    "damped-sine": {"c": 2.0, "a": 4.0, "k": 0.25, "p": 2.3, "t": 0.3},
    "power-offset": {"c": 3.0, "a": 0.5, "p": 1.6},
}  # fmt: skip


def values_of(formula: str, known: dict[str, float], x: Floats) -> Floats:
    def value_of(name: Name) -> Floats:
        return x if name.name == "x" else np.full(x.shape, known[name.name])

    return np.broadcast_to(evaluate(parse_formula(formula), value_of), x.shape)


def digits(computed: float | None, wanted: float) -> float:
    assert computed is not None
    return 15.0 if computed == wanted else -math.log10(abs(computed - wanted) / abs(wanted))


def fit(model: ByFormula, x: Floats, y: Floats) -> Fit:
    return model.fit(Sample(x, y, np.arange(len(x)), "min", "mg/L"))


# Years, seconds since 1970, a count in the millions, and before the common era.
FAR = (1990.0, 1.7e9, 1e6, -4000.0)


class Afar(SornixTest):
    def test_where_x_begins_changes_nothing_but_the_origin(self) -> None:
        """The same readings at x, and so far away: the least sum of squares is as low, rates and
        widths are the same, places are so much further."""
        random = np.random.default_rng(4)
        for name in ("exponential", "decay", "two-step-decay", "logistic", "peak", "sine"):
            model = MODELS[name]
            assert isinstance(model, ByFormula)
            x = np.linspace(0, 9.75, 40)
            y = values_of(model.formula, TRUE[name], x) + random.normal(0, 0.05, 40)
            near = fit(model, x, y)
            for origin in FAR:
                with self.subTest(name, origin=origin):
                    far = fit(model, x + np.float64(origin), y)
                    self.assertLess(far.rss, near.rss * (1 + 1e-9))
                    self.assertEqual(far.notes, near.notes)
                    for parameter, own in zip(far.parameters, near.parameters, strict=True):
                        moved = origin if parameter.name == model.origin else 0.0
                        assert parameter.standard_error and own.standard_error
                        within = own.standard_error / 1000 + 1e-6 * abs(moved) / 1000
                        self.assertLess(abs(parameter.value - moved - own.value), within)
                        ratio = parameter.standard_error / own.standard_error
                        self.assertAlmostEqual(ratio, 1, 4)
                    at = np.linspace(1, 8, 5)
                    np.testing.assert_allclose(
                        far.at(at + origin), near.at(at), rtol=1e-6, atol=1e-5
                    )
                    bands, others = far.bands(at + origin), near.bands(at)
                    assert bands and others
                    np.testing.assert_allclose(bands.mean[0], others.mean[0], rtol=1e-5)
                    text = far.equation(("x", "y"), (origin, origin + 9.75), 0.01)
                    printed = values_of(text.formula("x"), {}, at + origin)
                    self.assertLess(float(np.abs(printed - near.at(at)).max()), 0.03)

    def test_readings_near_each_other_and_far_from_0_are_counted_from_a_round_number(self) -> None:
        near = np.linspace(0, 1, 9)
        for x, first in (
            (1000 + near / 100, 1000.0), (1000 + near, 1000.0), (2026.37 + near * 3, 2026.3),
            (near, 0.0), (1000 + 0 * near, 0.0), (-1000 - near, -1001.0), (1e9 * near, 0.0),
        ):  # fmt: skip
            self.assertAlmostEqual(from_afar([x]).origin, first, 9, str(x[:2]))

    def test_a_power_law_is_told_in_parts_of_the_first_x(self) -> None:
        x = np.linspace(1990, 2012, 12)
        found = fit(MODELS["power"], x, 3 * (x / 1990) ** 40)  # type: ignore[arg-type]
        self.assertEqual(
            found.equation(("t", "y"), (1990, 2012), 0.01).text, "y = 3\u2009(t / 1990)⁴⁰"
        )

    def test_on_logarithms_and_in_common_too(self) -> None:
        x = np.linspace(1990, 1999, 10)
        y: Floats = 3.1 * np.exp(0.3 * (x - 1990))
        logged = model_of("exponential", on_logs=True).fit(Sample(x, y, np.arange(10)))
        self.assertAlmostEqual(logged.value("a"), 3.1, 9)
        self.assertAlmostEqual(read_off(logged, 3.1 * math.exp(0.9)).x, 1993, 6)
        later = Sample(x + 4, 2 * y, np.arange(10))
        two = fit_shared(MODELS["exponential"], [Sample(x, y, np.arange(10)), later], ["k"])
        # both are counted from 1990
        for one, a in zip(two, (3.1, 6.2 * math.exp(-1.2)), strict=True):
            self.assertEqual(one.along.origin, 1990)
            self.assertAlmostEqual(one.value("a"), a, 6)
        both = fit_shared(MODELS["peak"], [Sample(x, values_of(MODELS["peak"].formula, {
            "b": b, "h": 4.0, "m": 1994.0, "s": 1.5}, x), np.arange(10)) for b in (1.0, 2.0)],
            ["m"])  # fmt: skip
        self.assertAlmostEqual(both[0].value("m"), 1994, 5)

    def test_on_logarithms_ends_hold_whichever_way_the_line_is_turned(self) -> None:
        x = np.linspace(1.0, 4.0, 12)
        for name, seen in {"exponential": 0.3, "arrhenius": 5.0, "power": 1.4}.items():
            free = MODELS[name].names[-1]
            y = values_of(MODELS[name].formula, {"a": 2.0, free: seen}, x)
            for low, high, found in ((None, None, seen), (0.5 * seen, 0.8 * seen, 0.8 * seen),
                                     (1.2 * seen, 2 * seen, 1.2 * seen),
                                     (0.5 * seen, 2 * seen, seen)):  # fmt: skip
                with self.subTest(f"{name} from {low} to {high}"):
                    way = ParameterConstraints((Setting(free, low=low, high=high),))
                    fit = model_of(name, on_logs=True).fit(Sample(x, y, np.arange(12)), way)
                    self.assertAlmostEqual(fit.value(free), found, 6)


class Certified(SornixTest):
    def test_reference_data_from_both_starts_and_from_none(self) -> None:
        for path in sorted(DATA.glob("*.json")):
            data = json.loads(path.read_text())
            if data["kind"] != "nonlinear":
                continue
            x, y = np.array(data["x"], float), np.array(data["y"], float)
            for start in (*data["starts"], None):
                given_ = dict(zip(data["parameters"], start or (), strict=False))
                way = ParameterConstraints(
                    tuple(Setting(name, start=value) for name, value in given_.items())
                )
                model = ByFormula("f", "f", data["model"].replace("**", "^"))
                found = model.fit(Sample(x, y, np.arange(len(x))), way)
                with self.subTest(path.stem, start=start):
                    self.assertTrue(found.converged)
                    wanted = data["certified"]
                    for name, value, sd in zip(
                        data["parameters"], wanted["values"], wanted["sd"], strict=True
                    ):
                        self.assertGreater(digits(found.value(name), value), 10)
                        self.assertGreater(digits(found.standard_error(name), sd), 10)
                    self.assertGreater(digits(found.rss, wanted["rss"]), 10)


class Truth(SornixTest):
    @settings(max_examples=60)
    @given(st.sampled_from(sorted(TRUE)), st.integers(0, 10**6), st.floats(0.5, 2.0))
    def test_the_truth_is_found_without_a_start(self, name: str, seed: int, size: float) -> None:
        rng = np.random.default_rng(seed)
        model = MODELS[name]
        assert isinstance(model, ByFormula)
        x = np.sort(rng.uniform(0.2, 10, 60))
        exact = values_of(model.formula, TRUE[name], x)
        noise = rng.normal(0, 0.01 * size * float(np.ptp(exact)), 60)
        found = fit(model, x, exact + noise)
        # the least sum of squares is no more than that of the truth itself
        self.assertLessEqual(found.rss, float(noise @ noise) * (1 + 1e-9))

    @given(st.integers(0, 10**6))
    @settings(max_examples=20)
    def test_the_usual_parameters_give_the_same_curve(self, seed: int) -> None:
        dice = np.random.default_rng(seed)
        x = np.sort(dice.uniform(0.5, 9, 12))
        for model in MODELS.values():
            if not isinstance(model, ByFormula) or model.tidy is None:
                continue
            known = dict(
                zip(model.names, dice.normal(0, 2, len(model.names)).tolist(), strict=True)
            )
            usual = dict(model.tidy(known, x))
            with np.errstate(all="ignore"):
                one, other = (values_of(model.formula, each, x) for each in (known, usual))
            np.testing.assert_allclose(other, one, rtol=1e-6, atol=1e-9, err_msg=model.name)
            again = model.tidy(usual, x)
            for name, value in usual.items():
                self.assertAlmostEqual(again[name], value, 9, f"{model.name} {name}")

    def test_narrow_valleys_are_found(self) -> None:
        # a rise over two readings that are close, and a step that one reading alone shows
        for words, index in (("steep logistic", 244), ("two steps, rates 50 to 500 apart", 159)):
            hidden = next(islice(readings_of(words), index, None))
            own = hidden.model.fit(hidden.sample, ParameterConstraints(quick=True))
            self.assertLessEqual(own.rss, least_known(hidden) * (1 + 1e-6), words)

    def test_a_straight_sum_has_one_least_place_however_ill_it_fits(self) -> None:
        x = np.linspace(0, 12, 30)
        y = 11 * x / (1 + x) - 1
        for formula in ("a + b * x", "a * exp(-x) + b * x^2", "a"):
            found = fit(ByFormula("formula", "formula", formula), x, y)
            self.assertEqual(found.notes, (), formula)
            best = np.polynomial.polynomial.polyfit(x, y, len(found.names) - 1)
            if formula != "a * exp(-x) + b * x^2":
                np.testing.assert_allclose(found.values, best, rtol=1e-9)

    @given(
        st.sampled_from(
            ["exp(a * x) / (b + x)", "sqrt(a + x^2) * ln(b + x)", "atan(a * x) - b / x",
             "x^a + b^x",
             "sin(a * x) * cos(b * x)", "log10(a + x) - log2(b + x)", "-(a - b) * abs(x - 3)",
             "asin(a / (5 + x)) + acos(b / (5 + x))", "tan(a * x / 9)"]),
        st.sampled_from("abx"), st.floats(0.3, 2), st.floats(0.3, 2), st.floats(0.3, 2),
    )  # fmt: skip
    def test_derivatives_are_those_of_small_differences(
        self, formula: str, name: str, a: float, b: float, at: float
    ) -> None:
        known = {"a": a, "b": b, "x": at}
        tree = parse_formula(formula)

        def value(expression: Expression, **more: float) -> float:
            table = known | more
            found = evaluate(expression, lambda n: np.array([table[n.name]]))
            return float(np.ravel(found)[0])

        step = 1e-6
        up, down = (value(tree, **{name: known[name] + d}) for d in (step, -step))
        exact = value(derivative(tree, name))
        self.assertAlmostEqual(exact, (up - down) / (2 * step), delta=1e-5 * (1 + abs(exact)))

    def test_the_slope_of_a_power_at_0_is_what_it_tends_to(self) -> None:
        slope = derivative(parse_formula("x^a"), "a")
        for a, wanted in ((2.0, 0.0), (1e-3, 0.0), (0.0, math.nan), (-1.0, math.nan)):
            found = evaluate(slope, lambda n, a=a: np.array([0.0 if n.name == "x" else a]))  # type: ignore[misc]
            np.testing.assert_array_equal(found, [wanted], str(a))


class Drawn(SornixTest):
    def test_the_line_is_the_curve(self) -> None:
        """Nowhere further from it than a quarter of the line's width, tops included."""
        random = np.random.default_rng(6)
        x = np.linspace(0, 100, 600)
        shapes: list[tuple[str, dict[str, float]]] = [
            ("sine", {"c": 2.0, "a": 1.0, "p": 100 / turns, "t": 0.3}) for turns in (15, 60, 170)
        ]
        shapes += [
            ("peak", {"b": 1.0, "h": 5.0, "m": 41.234, "s": 0.25}),
            ("logistic", {"l": 0.0, "u": 5.0, "k": 40.0, "m": 31.05}),
            ("saturation", {"v": 5.0, "h": 0.2}),
        ]
        for name, true in shapes:
            model = MODELS[name]
            assert isinstance(model, ByFormula)
            y = values_of(model.formula, true, x) + random.normal(0, 0.02, 600)
            table = Table("t", (number_column("x", x), number_column("y", y)))
            made = Figure((Panel((Series("s1", "t", "x", "y"),)),), width_mm=170.0)
            made = change_trend(add_trend(made, "s1", name), "t1", shows=("equation", "confidence"))
            for changes in ({}, {"kind": "log"}):
                if changes and name != "saturation":
                    continue
                made = change_scale(made, "x", **changes)
                drawing = draw_figure(made, (table,), PlainMeasure())
                place = drawing.place
                (line,) = [i for i in drawing.items if i.of == "trend/t1/line"]
                ((_, found),) = fitted_trends(made.panel, (table,))
                assert isinstance(line, Path)
                low, high = (place.x.values(np.array([p]))[0] for p in (0.0, 1.0))
                fine = np.linspace(max(low, found.x.min()), min(high, found.x.max()), 60_001)
                points = place.place(fine, found.at(fine))
                self.assertTrue((points[:, 1] >= place.inner.top - 0.01).all(), "tops are shown")
                at = np.searchsorted(line.points[:, 0], points[:, 0]).clip(1, len(line.points) - 1)
                a, b = line.points[at - 1], line.points[at]
                chord = b - a
                across = np.abs(
                    chord[:, 0] * (points - a)[:, 1] - chord[:, 1] * (points - a)[:, 0]
                ) / np.hypot(*chord.T)
                with self.subTest(name, **true):
                    self.assertLess(float(across.max()), line.stroke.width_mm / 4)
                    self.assertLess(len(line.points), 20_000)


class Said(SornixTest):
    @settings(max_examples=60)
    @given(st.sampled_from(sorted(TRUE)), st.integers(0, 10**6), st.floats(1e-3, 0.1),
           st.sampled_from([1e-6, 1.0, 1e7]))  # fmt: skip
    def test_the_printed_equation_gives_back_the_curve(
        self, name: str, seed: int, noise: float, size: float
    ) -> None:
        rng = np.random.default_rng(seed)
        model = MODELS[name]
        assert isinstance(model, ByFormula)
        x = np.sort(rng.uniform(0.2, 10, 60))
        exact = values_of(model.formula, TRUE[name], x) * size
        found = fit(model, x, exact + rng.normal(0, noise * float(np.ptp(exact)), 60))
        tolerance = 2e-3 * float(np.ptp(exact))
        drawn = float(x.min()), float(x.max())
        equation = found.equation(("t", "y"), drawn, tolerance)
        there = np.linspace(*drawn, 200)
        off = curve(equation.text, "t", there) - found.at(there)
        self.assertLessEqual(float(np.abs(off).max()), tolerance * 1.05, equation.text)
        # and so does the formula that is copied for a computed column
        copied = evaluate(parse_formula(equation.formula("x")), lambda _: there)
        np.testing.assert_allclose(copied, curve(equation.text, "t", there), rtol=1e-12)
        latex = curve(from_latex(equation.latex), "t", there)
        np.testing.assert_allclose(latex, copied, rtol=1e-12)
        # no digit more than a tenth of a standard error asks for, unless the curve needs it
        for parameter, printed in zip(found.parameters, equation.coefficients, strict=True):
            error = parameter.standard_error
            if error is None:
                # readings that do not determine it leave no digit of it
                self.assertTrue(found.notes)
                continue
            self.assertLessEqual(abs(float(printed) - parameter.value), error / 10 * (1 + 1e-9))

    def test_every_demo_figure_says_the_curve_that_it_draws(self) -> None:
        told = 0
        for name in DEMOS:
            document = demo_document(name)
            drawing = draw_figure(document.figure, document.tables, PlainMeasure())
            for index, place in enumerate(drawing.panels):
                panel = document.figure.seen(index)
                for trend, found in fitted_trends(panel, document.tables):
                    symbol, _ = trend_symbols(trend, panel, document.tables)
                    label = place.equations[trend.id].text
                    lines = [i for i in drawing.items if i.of == f"trend/{trend.id}/line"]
                    ends = float(found.x.min()), float(found.x.max())
                    there = np.linspace(*ends, 50)
                    drawn = place.place(there, found.at(there))
                    said = place.place(there, curve(label, symbol, there))
                    # half the width of the line
                    self.assertLessEqual(float(np.abs(said - drawn).max()), 0.16 * 1.02, label)
                    self.assertTrue(lines)
                    told += 1
        self.assertGreaterEqual(told, 6)

    def test_what_is_said_of_a_decay(self) -> None:
        equation = found_decay().equation(("t", "c"), (0.0, 9.0), 1e-3)
        self.assertEqual(equation.text.replace("\u2009", " "), "c = 2 + 3 exp(−0.5 t)")
        power = fit(MODELS["power"], np.linspace(1, 3, 9), 2 * np.linspace(1, 3, 9) ** -0.6994)  # type: ignore[arg-type]
        said = power.equation(("t", "c"), (1.0, 3.0), 1e-4)
        self.assertEqual(said.latex, r"c = 2\,t^{-0.6994}")
        self.assertEqual(said.text, "c = 2\u2009t^(−0.6994)")
        self.assertEqual(equation.latex, r"c = 2 + 3\,\exp(-0.5\,t)")
        noisy = found_decay(noise=0.05)
        text = noisy.equation(("t", "c"), (0.0, 9.0), 0.01, units=True).text
        self.assertRegex(text.replace("\u2009", " "), r"mg/L\) exp\(−\(0\.\d+ 1/min\) t\)$")

    def test_what_cannot_be_fitted_is_told(self) -> None:
        x = np.arange(1.0, 4.0)
        with self.assertRaises(TrendImpossible):
            fit(ByFormula("f", "f", "a + b * x + c * x^2 + d * x^3"), x, x)
        with self.assertRaises(SornixError):
            fit(ByFormula("f", "f", "max(a, x)"), x, x)
        for name in ("line", "exponential", "local-regression"):
            with self.assertRaisesRegex(TrendImpossible, "of y differ by less than 10⁻¹⁵⁰"):
                put_through(MODELS[name], Sample(x, 1e-200 * x, np.arange(3)))
        loose = fit(
            ByFormula("f", "f", "(a + b) * x"), np.arange(1.0, 9.0), np.arange(1.0, 9.0) ** 1.1
        )
        self.assertIn("do not determine a, b", " ".join(loose.notes))
        # the flank of a peak whose top is nowhere: numbers come out, and are no more than guesses
        table = demo_document("depth-profile").tables[0]
        x, y = (np.asarray(table.column(name).values, float) for name in ("Temperature", "Depth"))
        vague = fit_by_height(MODELS["peak"], Sample(x, y, np.arange(len(x))), power=0.5)
        self.assertIn("do not determine h, m, s: quite other values", " ".join(vague.notes))

    def test_through_readings_without_scatter_only_what_they_tell_is_told(self) -> None:
        x, flat = np.arange(1.0, 10.0), np.full(9, 2.0)
        spike, grown = np.where(x == 5, 9.0, 1.0), 2.0**x / 2
        for name, y, nothing, left_open in (
            ("exponential", flat, "k", ""), ("michaelis-menten", flat, "k", ""),
            ("first-order", flat, "", "k"), ("peak", flat, "h", "ms"), ("peak", spike, "", "s"),
            ("logistic", flat, "", "km"), ("decay", grown, "c", ""),
        ):  # fmt: skip
            with self.subTest(name, y=y):
                fit = MODELS[name].fit(Sample(x, y, np.arange(9)))
                at_0 = {one.name for one in fit.parameters if one.value == 0}
                self.assertEqual(bool(fit.loose), bool(left_open))
                # on some processors a height that no reading sees is open too, and not 0
                self.assertLessEqual(set(left_open), fit.loose)
                self.assertEqual(at_0 | fit.loose, set(nothing + left_open) | fit.loose)
                self.assertEqual("do not determine" in " ".join(fit.notes), bool(left_open))

    def test_predictions_and_read_offs(self) -> None:
        found = found_decay(noise=0.01)
        at = found.predict(2.0)
        assert at.confidence95 is not None and at.prediction95 is not None
        self.assertTrue(at.prediction95[0] < at.confidence95[0] < at.value < at.confidence95[1])
        _, back, interval, *_ = read_off(found, at.value)
        self.assertAlmostEqual(back, 2.0, 9)
        assert interval is not None
        self.assertTrue(interval[0] < 2 < interval[1])
        with self.assertRaises(TrendImpossible):
            read_off(found, 99.0)


def found_decay(noise: float = 0.0) -> Fit:
    t = np.linspace(0, 9, 31)
    y = 2 + 3 * np.exp(-0.5 * t) + np.random.default_rng(2).normal(0, 1, 31) * noise
    model = MODELS["decay"]
    assert isinstance(model, ByFormula)
    return fit(model, t, y)
