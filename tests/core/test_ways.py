"""Ways of fitting beyond plain least squares, against matrices, publications and definitions."""

import itertools
import math
import re
from collections.abc import Callable, Mapping
from typing import Any
from unittest import mock

import numpy as np
from attrs import evolve
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy import optimize
from scipy import stats as reference

from sornix.core.errors import TrendImpossible
from sornix.core.formula import Program
from sornix.core.patience import GivenUp, while_wanted
from sornix.core.trends import (
    MODELS,
    ByFormula,
    Fit,
    ParameterConstraints,
    Sample,
    Setting,
    put_through,
)
from sornix.core.trends.fits.account import (
    Section,
    addition_rows,
    between_rows,
    influence_rows,
    parameter_rows,
    quality_rows,
    test_rows,
)
from sornix.core.trends.fits.between import apart, one_for_all
from sornix.core.trends.fits.readoff import added_to, limits, read_off
from sornix.core.trends.fits.report import FORMS
from sornix.core.trends.fits.statistics import (
    cooks_distances,
    lack_of_fit,
    leverages,
    nested_test,
    normal_quantiles,
    regression_test,
    runs_test,
    standardised,
)
from sornix.core.trends.models.shapes import parted_exponents
from sornix.core.trends.search.descent import Curve, descend
from sornix.core.trends.search.search import Search
from sornix.core.trends.ways.fitting import model_of
from sornix.core.trends.ways.robust import LOSSES
from sornix.core.trends.ways.shared import fit_shared
from sornix.core.trends.ways.variance import fit_by_height
from tests.base import SornixTest

Floats = NDArray[np.float64]


def sample(x: Floats, y: Floats, weights: Floats | None = None) -> Sample:
    return Sample(x, y, np.arange(len(x)), "min", "mg/L", weights)


def made(seed: int, n: int = 20, noise: float = 0.3) -> tuple[Floats, Floats, Floats]:
    """x, y of a bent line with noise, and weights of 1 on average."""
    random = np.random.default_rng(seed)
    x: Floats = np.round(np.sort(random.uniform(0, 10, n)), 3).astype(np.float64)
    y: Floats = np.round(2 + 0.7 * x + 0.05 * x**2 + random.normal(0, noise, n), 4)
    weights: Floats = random.uniform(0.2, 3, n)
    return x, y, weights / weights.mean()


def held(**values: float) -> ParameterConstraints:
    return ParameterConstraints(tuple(Setting(name, held=value) for name, value in values.items()))


class Starts(SornixTest):
    def test_exponents_bend_a_curve_as_much_however_little_x_varies(self) -> None:
        for low, high, most in ((1.0, 1.1, 43.63525), (1.0, 1.9, 6.47949), (1.0, 2.5, 6.0),
                                (-3.0, 9.0, 6.0), (0.0, 1.0, 6.0)):  # fmt: skip
            x = np.linspace(low, high, 5)
            exponents = parted_exponents(Sample(x, x, np.arange(5)))
            self.assertAlmostEqual(float(np.abs(exponents).max()), most, 3)


class Weighted(SornixTest):
    @given(st.integers(0, 10**6), st.integers(1, 4))
    def test_polynomials_are_those_of_the_matrices(self, seed: int, degree: int) -> None:
        x, y, w = made(seed)
        model = MODELS["line"] if degree == 1 else MODELS[f"polynomial-{degree}"]
        fit = model.fit(sample(x, y, w))
        design = np.vander(x, degree + 1, increasing=True) * np.sqrt(w)[:, None]
        scale = np.linalg.norm(design, axis=0)
        solved, *_ = np.linalg.lstsq(design / scale, y * np.sqrt(w), rcond=None)
        rest = y * np.sqrt(w) - design / scale @ solved
        variance = rest @ rest / (len(x) - degree - 1)
        errors = np.sqrt(np.diag(np.linalg.inv((design / scale).T @ (design / scale))) * variance)
        np.testing.assert_allclose(fit.values, solved / scale, rtol=1e-6, atol=1e-8)
        found = [parameter.standard_error for parameter in fit.parameters]
        np.testing.assert_allclose(np.array(found, float), errors / scale, rtol=1e-6)
        self.assertAlmostEqual(fit.rss, float(rest @ rest), delta=1e-9 * (1 + fit.rss))
        self.assertIn("weighted", fit.method)

    def test_a_curve_is_that_of_another_engine(self) -> None:
        x, y, w = made(3, 30)
        y = np.exp(-0.4 * x) * 5 + 1 + (y - y.mean()) * 0.01
        fit = MODELS["decay"].fit(sample(x, y, w))

        def curve(x: Floats, c: float, a: float, k: float) -> Floats:
            return c + a * np.exp(-k * x)

        values, covariance = optimize.curve_fit(
            curve, x, y, [1, 5, 0.4], sigma=w**-0.5, absolute_sigma=False, ftol=1e-15, xtol=1e-15
        )
        np.testing.assert_allclose(fit.values, values, rtol=1e-6)
        found = [parameter.standard_error for parameter in fit.parameters]
        np.testing.assert_allclose(np.array(found, float), np.sqrt(np.diag(covariance)), rtol=1e-4)

    def test_errors_in_both_give_the_published_line(self) -> None:
        # K. Pearson's points with D. York's weights (Canadian Journal of Physics 44 (1966) 1079)
        x = np.array([0.0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4])
        y = np.array([5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5])
        of_x = np.array([1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1])
        of_y = np.array([1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500])
        both = Sample(x, y, np.arange(10), x_sd=of_x**-0.5, y_sd=of_y**-0.5)
        fit = put_through(MODELS["line"], both)
        np.testing.assert_allclose(fit.values, (5.47991022, -0.480533407), rtol=1e-8)
        errors = [parameter.standard_error for parameter in fit.parameters]
        np.testing.assert_allclose(np.array(errors, float), (0.3592465, 0.0706203), rtol=1e-5)
        with self.assertRaises(TrendImpossible):
            put_through(MODELS["power"], both)


class Asked(SornixTest):
    @given(st.integers(0, 10**6), st.sampled_from(["intercept", "slope"]), st.floats(-3, 3))
    def test_a_held_parameter_leaves_the_other_its_best(
        self, seed: int, name: str, value: float
    ) -> None:
        x, y, w = made(seed)
        way = held(**{name: value})
        fit = MODELS["line"].fit(sample(x, y, w), way)
        rest = y - value * x if name == "slope" else y - value
        other = (w * rest).sum() / w.sum() if name == "slope" else (w * x * rest).sum() / (
            w * x * x
        ).sum()  # fmt: skip
        free = "intercept" if name == "slope" else "slope"
        self.assertAlmostEqual(fit.value(free), other, delta=1e-9 * (1 + abs(other)))
        self.assertEqual((fit.value(name), fit.dof), (value, len(x) - 1))
        self.assertIsNone(fit.standard_error(name))
        # many readings go another way to the same numbers
        x2, y2 = np.tile(x, 2000), np.tile(y, 2000)
        quick = MODELS["line"].fit(sample(x2, y2, np.tile(w, 2000)), way)
        np.testing.assert_allclose(quick.values, fit.values, rtol=1e-8, atol=1e-10)

    @given(st.integers(0, 10**6), st.floats(-1, 1), st.floats(0.1, 1))
    def test_bounded_parameters_are_the_best_that_are_allowed(
        self, seed: int, low: float, width: float
    ) -> None:
        x, y, _ = made(seed)
        way = ParameterConstraints(
            (Setting("slope", low=low, high=low + width), Setting("intercept", high=2.0))
        )
        fit = MODELS["line"].fit(sample(x, y), way)
        wanted = optimize.lsq_linear(
            np.column_stack((np.ones(len(x)), x)), y, ([-np.inf, low], [2.0, low + width])
        )
        np.testing.assert_allclose(fit.rss, 2 * wanted.cost, rtol=1e-6)
        self.assertTrue(low <= fit.value("slope") <= low + width)
        decay = MODELS["saturation"].fit(
            sample(x, y), ParameterConstraints((Setting("h", low=0.0, high=1.0),))
        )
        self.assertTrue(0 <= decay.value("h") <= 1)
        if not decay.held:
            free = MODELS["saturation"].fit(sample(x, y))
            self.assertAlmostEqual(free.rss, decay.rss, delta=1e-6 * free.rss)

    def test_a_line_goes_through_a_point(self) -> None:
        x, y, _ = made(1)
        fit = MODELS["line-through-point"].fit(sample(x, y), held(x0=3.0, y0=5.0))
        self.assertEqual(float(fit.at(np.array(3.0))), 5.0)
        slope = ((x - 3) * (y - 5)).sum() / ((x - 3) ** 2).sum()
        self.assertAlmostEqual(fit.value("slope"), slope, 12)
        text = fit.equation(("t", "c"), (0.0, 10.0), 0.05).text.replace("\u2009", " ")
        self.assertRegex(text, r"^c = 1\.\d+ \(t − 3\) \+ 5$")
        self.assertAlmostEqual(read_off(fit, 7.0).x, 3 + 2 / slope, 9)

    def test_a_parameter_can_be_held_at_any_number(self) -> None:
        x, y, _ = made(4)
        for value, written in ((1e40, "1e40"), (-1e28, "1e28"), (250.0, "250"), (1e-300, "e-300")):
            for model, name in (("line", "intercept"), ("exponential", "a")):
                with self.subTest(model, value=value):
                    fit = MODELS[model].fit(sample(x, y + 10), held(**{name: value}))
                    said = fit.equation(("y", "x"), (0, 10), 1e-3).formula("x")
                    self.assertIn(written, said)

    def test_what_cannot_be_asked_is_told(self) -> None:
        x, y, _ = made(2)
        for model, way in (
            ("line", held(intercept=1.0, slope=1.0)),
            ("line", held(a=1.0)),
            ("decay", held(c=0.0, a=1.0, k=2.0)),
            ("line", ParameterConstraints((Setting("slope", low=2.0, high=1.0),))),
        ):
            with self.assertRaises(TrendImpossible):
                MODELS[model].fit(sample(x, y), way)

    def test_a_search_that_nobody_wants_ends(self) -> None:
        x, y, _ = made(2)
        with self.assertRaises(GivenUp), while_wanted(lambda: False):
            MODELS["decay"].fit(sample(x, y))

    def test_hundreds_of_steps_that_gain_end_in_numbers(self) -> None:
        def at(values: Floats) -> tuple[Floats, Floats]:
            # hundreds of steps that gain, and then a wall
            level = math.exp(-values[0]) if values[0] < 340 else 1e300
            return np.full(3, level), np.full((3, 1), -level)

        every, none = np.full(1, np.inf), np.zeros(1, dtype=bool)
        end = descend(Curve(at, none, -every, every), np.zeros(3), [np.array([-340.0])])
        assert end is not None
        self.assertGreater(end.values[0], 0)


class AtAnEnd(SornixTest):
    def test_a_coefficient_at_its_end_has_the_interval_that_is_left(self) -> None:
        random, inside = np.random.default_rng(5), 0
        x = np.repeat(np.linspace(0, 10, 8), 3)
        for _ in range(400):
            y = 2 * x + random.normal(0, 0.5, 24)
            fit = MODELS["line"].fit(
                sample(x, y), ParameterConstraints((Setting("intercept", low=0.0),))
            )
            ends = fit.parameters[0].ci95
            assert ends
            self.assertTrue(ends[0] <= fit.value("intercept") <= ends[1])
            inside += ends[0] <= 0 <= ends[1]
        # 95 of 100, by four times what chance is off
        self.assertLess(abs(inside / 400 - 0.95), 4 * math.sqrt(0.95 * 0.05 / 400))
        y = 2 * x - 1
        (row, _) = parameter_rows(
            MODELS["line"].fit(sample(x, y), ParameterConstraints((Setting("intercept", low=0.0),)))
        )
        self.assertEqual(row.value, "0 mg/L (at its end)")


class Honest(SornixTest):
    """What is told of a fit is so, and says of what it is."""

    def test_r_squared_of_a_held_level_can_be_set_beside_others(self) -> None:
        x = np.linspace(1, 10, 12)
        y = 20 + 0.1 * x + np.sin(x)
        line, through = (MODELS[n].fit(sample(x, y)) for n in ("line", "line-through-origin"))
        slope = float(x @ y / (x @ x))
        rss, total = float(((y - slope * x) ** 2).sum()), float(((y - y.mean()) ** 2).sum())
        self.assertAlmostEqual(through.r_squared or 0, 1 - rss / total, 9)
        self.assertLess(through.r_squared or 0, line.r_squared or 0)
        self.assertAlmostEqual(through.r_squared_about_level or 0, 1 - rss / float(y @ y), 9)
        test = regression_test(through)
        assert test
        self.assertAlmostEqual(test.ratio, (float(y @ y) - rss) / (rss / 11), 5)
        abouts = {row.name: row.about for row in (*quality_rows(through), *test_rows(through))}
        self.assertIn("held", abouts["R² about 0"])
        self.assertIn("Against y being 0", abouts["F of the trend"])
        held = MODELS["line"].fit(
            sample(x, y), ParameterConstraints((Setting("intercept", held=5.0),))
        )
        self.assertEqual((held.level, held.dof), (5.0, 11))
        self.assertLess(held.r_squared or 0, line.r_squared or 0)
        # of formulas, only one that can be level is tested against that
        for formula, tested in (("a * x + b * x^2", False), ("c + a * x^2", True)):
            fit = ByFormula("formula", "formula", formula).fit(sample(x, y))
            self.assertEqual(regression_test(fit) is not None, tested)

    def test_what_is_not_known_is_not_told(self) -> None:
        x, y, _ = made(3, 12)
        loose = ByFormula("formula", "formula", "a * b * x").fit(sample(x, y))
        self.assertTrue(loose.loose)
        for parameter in loose.parameters:
            self.assertEqual((parameter.standard_error, parameter.ci95), (None, None))
        self.assertIsNone(loose.bands(x))
        self.assertIsNone(loose.predict(3.0).confidence95)
        for name in ("decay", "saturation", "peak", "sine"):
            with self.assertRaisesRegex(TrendImpossible, "different x"):
                MODELS[name].fit(sample(np.full(12, 3.0), y))
        two = MODELS["line"].fit(sample(x[:2], y[:2]))
        self.assertEqual((two.r_squared, two.residual_sd, two.r_squared_about_level), (None,) * 3)
        for name, at, said in (
            ("power", x - 5, "needs x at or above 0"), ("logarithm", x - x[0], "needs x above 0"),
        ):  # fmt: skip
            with self.assertRaisesRegex(TrendImpossible, said):
                MODELS[name].fit(sample(at, y))
        warm = Sample(x + 10, y, np.arange(12), "°C", "")
        for model in (MODELS["arrhenius"], model_of("arrhenius", on_logs=True)):
            with self.assertRaises(TrendImpossible) as caught:
                model.fit(warm)
            self.assertIn("Convert x to K", str(caught.exception))
        # a value at infinite x whose square is beyond all numbers is open, and no NaN
        x = np.linspace(298.0, 302.0, 12)
        wild = np.random.default_rng(5).normal(0, 0.01, 12)
        steep = MODELS["arrhenius"].fit(sample(x, np.exp(150_000 / 300 - 150_000 / x + wild)))
        self.assertGreater(steep.value("a"), 1e180)
        self.assertFalse(np.isnan(steep.unscaled).any())

    def test_what_is_only_rounding_is_nothing(self) -> None:
        x = np.arange(1.0, 13) / 10
        for name, y in (("line", 0.1 + 0.3 * x), ("exponential", 3 * np.exp(-0.7 * x)),
                        ("saturation", 4 * x / (0.3 + x)), ("power", 2.5 * x**1.5)):  # fmt: skip
            fit = MODELS[name].fit(sample(x, y))
            with self.subTest(name):
                self.assertEqual(fit.residual_sd, 0.0)
                self.assertEqual(influence_rows(fit)[0].exact, 0.0)
                text = fit.equation(("x", "y"), (0.1, 1.2), 1e-4).text
                self.assertLess(max(map(len, re.findall(r"[\d.]+", text))), 5, text)

    def test_limits_go_by_the_scatter_where_they_are(self) -> None:
        x = np.repeat(np.arange(0.0, 9), 3)
        sd = 0.02 + 0.1 * x
        y = 1 + 2 * x + np.random.default_rng(3).normal(0, sd)
        weights = sd**-2.0 / (sd**-2.0).mean()
        fit = MODELS["line"].fit(sample(x, y, weights))
        found = limits(fit)
        assert found and fit.residual_sd
        at_0 = fit.residual_sd / math.sqrt(weights[0])
        self.assertAlmostEqual(found.detection, 3.3 * at_0 / fit.value("slope"), 9)
        self.assertLess(found.detection, 0.1)


class Between(SornixTest):
    def test_two_calibrations(self) -> None:
        random = np.random.default_rng(4)
        x = np.repeat(np.arange(6.0), 2)
        ys = [0.1 + slope * x + random.normal(0, 0.05, 12) for slope in (0.9, 0.96)]
        one, other = (MODELS["line"].fit(sample(x, y)) for y in ys)
        told = {a.name: a for a in apart(one, other)}["slope"]
        # Welch's interval from its definition, and Fieller's by looking at both its ends
        (a, sa), (b, sb) = (
            (f.value("slope"), f.standard_error("slope") or 0) for f in (one, other)
        )
        dof = (sa**2 + sb**2) ** 2 / (sa**4 / 10 + sb**4 / 10)
        t = float(reference.t.ppf(0.975, dof))
        half = t * math.hypot(sa, sb)
        np.testing.assert_allclose(told.of_difference, (a - b - half, a - b + half), rtol=1e-9)
        for end in told.of_ratio or ():
            self.assertAlmostEqual(abs(a - end * b) / math.hypot(sa, end * sb), t, 6)
        test = one_for_all((one, other))
        assert test
        # a line for both, against a line for each, by matrices
        both, y = np.concatenate((x, x)), np.concatenate(ys)
        which = np.repeat([0.0, 1.0], 12)
        small = np.column_stack((np.ones(24), both))
        large = np.column_stack((small, which, which * both))
        rss = [float(np.linalg.lstsq(m, y, rcond=None)[1][0]) for m in (small, large)]
        self.assertAlmostEqual(test.ratio, (rss[0] - rss[1]) / 2 / (rss[1] / 20), 6)
        rows = {r.name: r for r in between_rows(one, "A", other, "B", test)}
        self.assertIn("A less B", rows["slope, difference"].about)
        self.assertIn("differ", rows["slope, difference"].about)
        self.assertIsNone(one_for_all((one, evolve(other, held=frozenset(["slope"])))))

    def test_standard_addition(self) -> None:
        x = np.repeat([0.0, 1, 2, 3, 4], 2)
        y = 0.3 + 0.15 * x + np.random.default_rng(3).normal(0, 0.01, 10)
        fit = MODELS["line"].fit(sample(x, y))
        found = added_to(fit)
        assert found and found.interval and fit.t95 and fit.residual_sd
        self.assertAlmostEqual(found.x, fit.value("intercept") / fit.value("slope"), 12)
        for end in found.interval:
            # there the confidence band of the line touches 0
            at = np.array([-end])
            self.assertAlmostEqual(abs(float(fit.at(at)[0])), float(fit.half_widths(at)[0]), 9)
        (row,) = addition_rows(fit)
        self.assertRegex(row.value, r"[12]\.\d+ min \(1\.\d+ to 2\.\d+\)")
        self.assertEqual(addition_rows(MODELS["line"].fit(sample(x, -y))), ())


class ByProfile(SornixTest):
    def test_at_both_ends_the_sum_of_squares_is_what_t_says(self) -> None:
        """Against the least squares of SciPy with the parameter held there."""
        random = np.random.default_rng(8)
        x = np.linspace(0.2, 6, 12)
        y = 12 * x / (2 + x) + random.normal(0, 0.8, 12)
        found = MODELS["saturation"].fit(sample(x, y))
        self.assertEqual(set(found.ends95), {"v", "h"})
        assert found.t95 and found.residual_sd
        for place, parameter in enumerate(found.parameters):
            for end in parameter.ci95 or ():

                def off(other: Floats, place: int = place, end: float = end) -> Floats:
                    v, h = (end, other[0]) if place == 0 else (other[0], end)
                    rest: Floats = y - v * x / (h + x)
                    return rest

                best = optimize.least_squares(off, [found.values[1 - place]], xtol=1e-12)
                t = math.sqrt((2 * best.cost - found.rss) / found.residual_sd**2)
                self.assertAlmostEqual(t / found.t95, 1, 2)
            assert parameter.standard_error
            low, high = parameter.ci95 or (0, 0)
            self.assertGreater(high - parameter.value, 1.1 * (parameter.value - low))
        said = [row.about for row in parameter_rows(found)]
        self.assertTrue(all("interval by profile" in about for about in said), said)

    def test_an_end_may_be_open_and_a_place_far_away(self) -> None:
        x = np.linspace(0, 1, 8)
        y = 3 * (1 - np.exp(-0.8 * x)) + np.array([1, -1, 1, -1, -1, 1, -1, 1]) * 0.05
        decay = MODELS["decay"].fit(sample(x, y))
        ends = {p.name: p.ci95 for p in decay.parameters}
        self.assertTrue(any(e and not np.isfinite(e).all() for e in ends.values()), ends)
        self.assertRegex(
            " ".join(row.about for row in parameter_rows(decay)), "no (upper|lower) end"
        )
        random = np.random.default_rng(1)
        at = np.linspace(0, 10, 9)
        peak = 1 + 4 * np.exp(-(((at - 4.6) / 1.1) ** 2) / 2) + random.normal(0, 0.4, 9)
        near, far = (MODELS["peak"].fit(sample(at + away, peak)) for away in (0.0, 5000.0))
        self.assertEqual(set(near.ends95), set(far.ends95))
        for one, other in zip(near.parameters, far.parameters, strict=True):
            away = 5000.0 if one.name == "m" else 0.0
            assert one.ci95 and other.ci95
            for end, moved in zip(one.ci95, other.ci95, strict=True):
                self.assertAlmostEqual((moved - away) / end, 1, 2)


class ByHeight(SornixTest):
    """Against whole matrices and a search of SciPy, which the fit has neither of."""

    def test_power_and_covariance(self) -> None:
        random = np.random.default_rng(12)
        x = np.repeat(np.linspace(1, 10, 6), 3)
        y = 2 + 3 * x + random.normal(0, 0.04 * (2 + 3 * x))
        found = fit_by_height(MODELS["line"], sample(x, y))
        assert found.scatter and found.residual_sd
        logs = found.scatter.logs(found.at(x))
        columns = np.column_stack((np.ones(18), x))

        def parts(power: float) -> Any:
            """How likely a power is, V⁻¹, the coefficients and the residual variance."""
            heavy = np.diag(np.exp(-2 * power * logs))
            inside = columns.T @ heavy @ columns
            values = np.linalg.solve(inside, columns.T @ heavy @ y)
            rest = y - columns @ values
            variance = float(rest @ heavy @ rest) / 16
            whole = np.linalg.slogdet(heavy)[1] - np.linalg.slogdet(inside)[1]
            likely = whole / 2 - 8 * math.log(variance) - power
            return likely, np.linalg.inv(inside), values, variance

        best = optimize.minimize_scalar(lambda p: -parts(p)[0], bounds=(-0.5, 2), method="bounded")
        self.assertAlmostEqual(found.scatter.power, best.x, 2)
        # all powers, by many more than the fit looks at
        powers = np.linspace(-0.5, 2, 501)
        each = [parts(power) for power in powers]
        shares = np.exp(np.array([one[0] for one in each]) - max(one[0] for one in each))
        shares /= shares.sum()
        whole, at_5 = np.zeros((2, 2)), 0.0
        for share, power, (_, inverse, values, variance) in zip(shares, powers, each, strict=True):
            away = values - found.values
            whole += share * (inverse * variance + np.outer(away, away))
            height = math.log(float(found.at(np.array([5.0]))[0])) - found.scatter.centre
            at_5 += share * variance * math.exp(2 * power * height)
        np.testing.assert_allclose(found.unscaled * found.residual_sd**2, whole, rtol=0.02)
        t = float(reference.t.ppf(0.975, 16))
        for parameter in found.parameters:
            assert parameter.ci95 and parameter.standard_error
            half = (parameter.ci95[1] - parameter.ci95[0]) / 2
            self.assertAlmostEqual(half / parameter.standard_error / t, 1, 9)
        new = found.predict(5.0).prediction95
        mean = np.array([1, 5]) @ whole @ np.array([1, 5])
        assert new
        self.assertAlmostEqual((new[1] - new[0]) / 2 / t / math.sqrt(at_5 + mean), 1, 2)

    def test_every_shape_weighs_by_its_own_height(self) -> None:
        random = np.random.default_rng(5)
        x = np.repeat(np.linspace(0.5, 10, 8), 2)
        for name in ("decay", "polynomial-2", "line-through-origin", "exponential", "logarithm"):
            y = 50 * np.exp(-0.3 * x) + 4
            y = y + random.normal(0, 0.03 * y)
            found = fit_by_height(MODELS[name], sample(x, y), power=1.0)
            weights = 1 / found.at(x) ** 2
            again = MODELS[name].fit(sample(x, y, weights / weights.mean()))
            with self.subTest(name):
                np.testing.assert_allclose(found.values, again.values, rtol=1e-5)
                free = fit_by_height(MODELS[name], sample(x, y))
                for parameter in free.parameters:
                    assert parameter.ci95
                    self.assertTrue(parameter.ci95[0] < parameter.value < parameter.ci95[1])
                at = free.predict(4.0)
                assert at.confidence95 and at.prediction95
                self.assertLess(at.prediction95[0], at.confidence95[0])


class Robust(SornixTest):
    @given(st.integers(0, 10**6), st.sampled_from(sorted(LOSSES)))
    def test_the_sum_of_what_residuals_count_is_at_rest(self, seed: int, loss: str) -> None:
        x, y, _ = made(seed, 25)
        y[4] += 20
        fit = put_through(MODELS["line"], sample(x, y), method=loss)
        scale = float(np.median(np.abs(fit.residuals))) / 0.6745
        u = fit.residuals / scale
        pull = LOSSES[loss].weight(u) * u
        for column in (np.ones(25), x / 10):
            self.assertLess(abs(float((pull * column).sum())), 2e-3)
        truth = MODELS["line"].fit(sample(np.delete(x, 4), np.delete(y, 4)))
        plain = MODELS["line"].fit(sample(x, y))
        off, was = (np.abs(f.at(x) - truth.at(x)).max() for f in (fit, plain))
        self.assertLess(off, was)
        self.assertIn("robust", fit.method)

    def test_a_curve_is_searched_for_once(self) -> None:
        """Each turn goes on from where the last one ended."""
        searched: list[Search] = []
        first = Search.first_ends

        def counted(search: Search) -> Any:
            searched.append(search)
            return first(search)

        x = np.linspace(0, 8, 40)
        y = 1 + 6 * np.exp(-(((x - 4) / 0.8) ** 2) / 2)
        y = y + np.random.default_rng(1).normal(0, 0.1, 40)
        y[[3, 22]] += 3
        fits: list[Callable[[], object]] = [
            lambda: put_through(MODELS["peak"], sample(x, y), method="tukey"),
            lambda: fit_by_height(MODELS["peak"], sample(x, y)),
        ]
        with mock.patch.object(Search, "first_ends", counted):
            for fitted in fits:
                searched.clear()
                fitted()
                self.assertEqual(len(searched), 1)

    def test_a_way_without_an_end_is_not_walked_in_every_turn(self) -> None:
        # the flank of a peak whose top is nowhere: h and m grow for ever
        x = np.linspace(0, 24, 49)
        y = 12 + 8 * np.exp(-x / 6) + np.random.default_rng(3).normal(0, 0.2, 49)
        worked_out = [0]
        run = Program.run

        def counted(*given: Any) -> Any:
            worked_out[0] += 1
            return run(*given)

        with mock.patch.object(Program, "run", counted):
            put_through(MODELS["peak"], sample(x, y), method="huber")
        self.assertLess(worked_out[0], 15_000)

    def test_readings_that_weigh_nothing_determine_nothing(self) -> None:
        y = np.random.default_rng(0).normal(0, 1, 8)
        with self.assertRaisesRegex(TrendImpossible, "that weigh more than nothing at 7 different"):
            put_through(MODELS["polynomial-6"], sample(np.arange(8.0), y), method="tukey")

    def test_without_wild_readings_it_is_nearly_plain(self) -> None:
        random = np.random.default_rng(0)
        x = np.linspace(0, 10, 400)
        y = 1 + 2 * x + random.normal(0, 1, 400)
        plain = MODELS["line"].fit(sample(x, y))
        for loss in LOSSES:
            fit = put_through(MODELS["line"], sample(x, y), method=loss)
            for name in fit.names:
                error = plain.standard_error(name) or 0
                self.assertAlmostEqual(fit.value(name), plain.value(name), delta=error)
                # both lose 5 % of what plain least squares get out of such readings
                self.assertAlmostEqual((fit.standard_error(name) or 0) / error, 1.03, delta=0.08)


class OtherWays(SornixTest):
    def test_on_logarithms_it_is_the_line_through_them(self) -> None:
        x, _, _ = made(5, 30)
        x = x + 0.5
        noise = np.exp(np.random.default_rng(1).normal(0, 0.1, 30))
        for name, y, along, sign in (
            ("exponential", 3 * np.exp(-0.3 * x), x, 1),
            ("power", 3 * x**1.7, np.log(x), 1),
            ("arrhenius", 3 * np.exp(-2 / x), 1 / x, -1),
        ):
            y = y * noise
            fit = put_through(MODELS[name], sample(x, y), on_logs=True)
            line = reference.linregress(along, np.log(y))
            np.testing.assert_allclose(fit.values[0], math.exp(line.intercept), rtol=1e-9)
            np.testing.assert_allclose(fit.values[1], sign * line.slope, rtol=1e-9)
            self.assertAlmostEqual(fit.standard_error(fit.names[1]) or 0, line.stderr, 9)
            self.assertAlmostEqual(fit.r_squared or 0, line.rvalue**2, 9)
            low, high = fit.parameters[0].ci95 or (0, 0)
            self.assertAlmostEqual(low * high, fit.values[0] ** 2, delta=1e-6 * high**2)
            at = fit.predict(3.0)
            low, high = at.confidence95 or (0, 0)
            self.assertAlmostEqual(low * high, at.value**2, delta=1e-6 * high**2)
            self.assertIn("R² of ln y", [row.name for row in quality_rows(fit)])
        y[0] = -1.0
        fit = put_through(MODELS["power"], sample(x, y), on_logs=True)
        self.assertEqual(fit.n, 29)
        self.assertIn("1 reading at or below 0 has no logarithm", fit.notes[0])
        with self.assertRaises(TrendImpossible):
            put_through(MODELS["line"], sample(x, y), on_logs=True)

    def test_several_series_share_a_slope(self) -> None:
        pairs = [made(seed, 12 + seed) for seed in range(3)]
        samples = [sample(x, y + 3 * i) for i, (x, y, _) in enumerate(pairs)]
        fits = fit_shared(MODELS["line"], samples, ["slope"])
        total = sum(s.n for s in samples)
        design = np.zeros((total, 4))
        design[:, 3] = np.concatenate([s.x for s in samples])
        begin = 0
        for i, s in enumerate(samples):
            design[begin : begin + s.n, i] = 1
            begin += s.n
        y = np.concatenate([s.y for s in samples])
        wanted = np.linalg.lstsq(design, y, rcond=None)[0]
        rest = y - design @ wanted
        spread = np.linalg.inv(design.T @ design) * (rest @ rest) / (total - 4)
        for i, fit in enumerate(fits):
            np.testing.assert_allclose(fit.values, (wanted[i], wanted[3]), rtol=1e-9)
            self.assertAlmostEqual(fit.standard_error("slope") or 0, spread[3, 3] ** 0.5, 9)
            self.assertAlmostEqual(fit.standard_error("intercept") or 0, spread[i, i] ** 0.5, 9)
            self.assertEqual(fit.dof, total - 4)
        with self.assertRaises(TrendImpossible):
            fit_shared(MODELS["line"], samples, ["b9"])
        with self.assertRaisesRegex(TrendImpossible, "has no parameter b9 that"):
            fit_shared(MODELS["line"], samples, ["slope", "b9"])

    def test_smoothers(self) -> None:
        x, y, _ = made(6, 30)
        moving = MODELS["moving-average"].fit(sample(x, y), held(width=5.0))
        self.assertAlmostEqual(float(moving.at(x[10:11])[0]), float(y[8:13].mean()), 12)
        self.assertTrue(np.isnan(moving.at(np.array([-1.0]))).all())
        self.assertEqual((moving.names, moving.r_squared, moving.bands(x)), ((), None, None))
        four = MODELS["moving-average"].fit(sample(x, y), held(width=4.0))
        wanted = (y[8] / 2 + y[9:12].sum() + y[12] / 2) / 4
        self.assertAlmostEqual(float(four.at(x[10:11])[0]), float(wanted), 12)
        self.assertIn("4 readings, the outer two counting half", four.method)
        # rows with one x have no order
        tied, order = np.round(x), np.random.default_rng(2).permutation(30)
        for name, width in (("moving-average", 5.0), ("local-regression", 30.0)):
            one, other = (
                MODELS[name].fit(sample(tied[rows], y[rows]), held(width=width)).at(x)
                for rows in (np.arange(30), order)
            )
            np.testing.assert_allclose(one, other, rtol=1e-12)
        straight = MODELS["local-regression"].fit(sample(x, 3 - 2 * x), held(width=40.0))
        np.testing.assert_allclose(straight.at(x), 3 - 2 * x, atol=1e-9)
        many = np.sort(np.random.default_rng(4).uniform(0, 9, 500))
        whole = MODELS["local-regression"].fit(sample(many, 3 - 2 * many), held(width=20.0))
        np.testing.assert_allclose(whole.at(many), 3 - 2 * many, atol=1e-9)
        # so few that a share of them would be one or two
        few = MODELS["local-regression"].fit(sample(x[:8], y[:8]))
        self.assertIn("30 % of 8 readings, at least 4 different x", few.method)
        away = np.abs(x[:8] - x[3])
        near = np.argsort(away)[:4]
        heavy = (1 - (away[near] / away[near[3]]) ** 3) ** 3
        line = np.polyfit(x[near] - x[3], y[near], 1, w=np.sqrt(heavy))
        self.assertAlmostEqual(float(few.at(x[3:4])[0]), line[1], 7)
        for name, width in (("moving-average", 2.5), ("local-regression", 0.0)):
            with self.assertRaises(TrendImpossible):
                MODELS[name].fit(sample(x, y), held(width=width))


class Statistics(SornixTest):
    def test_f_tests_are_those_of_the_textbook(self) -> None:
        x = np.repeat([1.0, 2, 3, 4], 3)
        y = np.array([1.1, 0.9, 1.2, 2.3, 2.0, 2.1, 2.8, 3.3, 3.0, 3.6, 3.9, 3.7])
        line = MODELS["line"].fit(sample(x, y))
        test = regression_test(line)
        assert test is not None
        self.assertAlmostEqual(test.p, reference.linregress(x, y).pvalue, 12)
        fit = lack_of_fit(line)
        assert fit is not None
        means = y.reshape(4, 3).mean(axis=1)
        pure = float(((y.reshape(4, 3) - means[:, None]) ** 2).sum())
        ratio = (line.rss - pure) / 2 / (pure / 8)
        self.assertAlmostEqual(fit.ratio, ratio, 9)
        self.assertAlmostEqual(fit.p, float(reference.f.sf(ratio, 2, 8)), 12)
        bent = MODELS["polynomial-2"].fit(sample(x, y))
        nested = nested_test(line, bent)
        assert nested is not None
        self.assertAlmostEqual(nested.ratio, (line.rss - bent.rss) / (bent.rss / 9), 9)
        self.assertIsNone(nested_test(bent, line))

    @given(st.lists(st.booleans(), min_size=4, max_size=9).filter(lambda s: 0 < sum(s) < len(s)))
    def test_runs_are_counted_among_all_orders(self, above: list[bool]) -> None:
        n = len(above)
        x = np.arange(float(n))
        rest = np.where(above, 1.0, -1.0)
        fit = MODELS["line"].fit(sample(x, x))
        object.__setattr__(fit, "residuals", rest)
        found = runs_test(fit)
        assert found is not None
        orders = list(itertools.combinations(range(n), sum(above)))

        def runs(places: tuple[int, ...]) -> int:
            signs = [i in places for i in range(n)]
            return 1 + sum(a != b for a, b in itertools.pairwise(signs))

        own = runs(tuple(i for i in range(n) if above[i]))
        self.assertEqual(found.runs, own)
        self.assertAlmostEqual(found.p, sum(runs(o) <= own for o in orders) / len(orders), 12)
        self.assertAlmostEqual(found.expected, float(np.mean([runs(o) for o in orders])), 9)

    @settings(max_examples=25)
    @given(st.integers(0, 10**6), st.sampled_from(["line", "polynomial-3"]), st.booleans())
    def test_influence_is_what_leaving_a_reading_out_does(
        self, seed: int, name: str, weighted: bool
    ) -> None:
        x, y, w = made(seed, 15)
        if len(np.unique(x)) < 15:
            return
        weights = w if weighted else np.ones(15)
        fit = MODELS[name].fit(sample(x, y, weights))
        self.assertAlmostEqual(float(leverages(fit).sum()), fit.free, 6)
        cook, own = cooks_distances(fit), standardised(fit)
        assert cook is not None and own is not None
        i = int(np.argmax(cook))
        # with weights left as they are
        without = MODELS[name].fit(sample(np.delete(x, i), np.delete(y, i), np.delete(weights, i)))
        moved = float((weights * (fit.at(x) - without.at(x)) ** 2).sum())
        self.assertAlmostEqual(
            float(cook[i]), moved / fit.free / (fit.residual_sd or 1) ** 2, delta=1e-4 * cook[i]
        )

    def test_normal_quantiles(self) -> None:
        found = normal_quantiles(9)
        wanted = reference.norm.ppf((np.arange(1, 10) - 0.375) / 9.25)
        np.testing.assert_allclose(found, wanted, rtol=1e-12, atol=1e-15)


class ReadingOff(SornixTest):
    @given(st.integers(0, 10**6), st.integers(1, 5), st.sampled_from(["line", "polynomial-2"]))
    def test_the_interval_ends_where_the_band_leaves_the_reading(
        self, seed: int, replicates: int, name: str
    ) -> None:
        x, y, _ = made(seed)
        fit = MODELS[name].fit(sample(x, y))
        wanted = float(fit.at(np.array(5.0)))
        found = read_off(fit, wanted, replicates)
        self.assertAlmostEqual(found.x, 5.0, 6)
        assert found.interval is not None and fit.residual_sd is not None
        for end in found.interval:
            at = np.array([end])
            half = (fit.t95 or 0) * fit.residual_sd * np.sqrt(1 / replicates + fit.leverage_at(at))
            self.assertAlmostEqual(abs(float(fit.at(at)[0]) - wanted), float(half[0]), 6)
        self.assertFalse(found.beyond)
        further = float(x.max() + 0.2 * np.ptp(x))
        beyond = read_off(fit, float(fit.at(np.array(further))))
        self.assertTrue(beyond.beyond)

    def test_limits_are_those_of_their_definitions(self) -> None:
        x, y, _ = made(4, noise=0.01)
        fit = MODELS["line"].fit(sample(x, y))
        found = limits(fit)
        assert found is not None and fit.residual_sd is not None
        self.assertAlmostEqual(found.detection, 3.3 * fit.residual_sd / fit.value("slope"), 12)
        self.assertAlmostEqual(found.quantification / found.detection, 10 / 3.3, 12)
        t = float(reference.t.ppf(0.95, fit.dof))
        sxx = ((x - x.mean()) ** 2).sum()
        room = t * fit.residual_sd * math.sqrt(1 + 1 / len(x) + x.mean() ** 2 / sxx)
        self.assertAlmostEqual(found.critical, fit.value("intercept") + room, 9)
        self.assertIsNone(limits(MODELS["polynomial-2"].fit(sample(x, y))))

    def test_reports_say_the_same_in_every_form(self) -> None:
        x, y, _ = made(7)
        fit: Fit = MODELS["line"].fit(sample(x, y))
        sections = [Section("Tests | all", test_rows(fit), ("A <sentence>.",))]
        written: Mapping[str, str] = {name: form("Run 1", sections) for name, form in FORMS.items()}
        for name, text in written.items():
            for row in test_rows(fit):
                value = row.value.replace("<", "&lt;") if name == "html" else row.value
                self.assertIn(value, text, name)
        self.assertIn("A &lt;sentence&gt;.", written["html"])
        self.assertIn("Tests \\| all", written["md"])
        self.assertIn(repr(fit.adjusted_r_squared), written["csv"])
