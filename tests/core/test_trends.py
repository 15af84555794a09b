"""The straight line against certified and independent answers."""

import json
import math
from fractions import Fraction

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.trends import MODELS, Fit, Sample
from sornix.core.trends.fits.readoff import read_off
from tests.base import DATA, SornixTest
from tests.core.printed import said

LINE = MODELS["line"]
Floats = NDArray[np.float64]


def _fit(
    x: "Floats | list[float]", y: "Floats | list[float]", units: tuple[str, str] = ("", "")
) -> Fit:
    x, y = np.array(x, float), np.array(y, float)
    return LINE.fit(Sample(x, y, np.arange(len(x)), *units))


def _digits(computed: float | None, certified: float) -> float:
    assert computed is not None
    return 15.0 if computed == certified else -math.log10(abs(computed / certified - 1))


class Line(SornixTest):
    def test_norris_to_thirteen_digits(self) -> None:
        data = json.loads((DATA / "Norris.json").read_text())
        fit = _fit(data["x"], data["y"])
        certified = data["certified"]
        for name, computed, wanted in (
            ("intercept", fit.values[0], certified["values"][0]),
            ("slope", fit.values[1], certified["values"][1]),
            ("error of intercept", fit.standard_error("intercept"), certified["sd"][0]),
            ("error of slope", fit.standard_error("slope"), certified["sd"][1]),
            ("R²", fit.r_squared, certified["r2"]),
            ("residual SD", fit.residual_sd, certified["residual_sd"]),
            ("rss", fit.rss, certified["rss"]),
        ):
            with self.subTest(name):
                self.assertGreaterEqual(_digits(computed, wanted), 13)
        self.assertEqual((fit.n, fit.dof), (36, certified["dof"]))

    @given(
        st.lists(
            st.tuples(st.integers(-50, 50), st.integers(-1000, 1000)), min_size=3, max_size=40
        ).filter(lambda pairs: len({x for x, _ in pairs}) > 1),
        st.sampled_from([0, 2000, 10**6]),
    )
    def test_it_agrees_with_exact_rational_arithmetic(
        self, pairs: list[tuple[int, int]], offset: int
    ) -> None:
        x = [Fraction(a + offset) for a, _ in pairs]
        y = [Fraction(b, 8) for _, b in pairs]
        n = len(x)
        mean_x, mean_y = sum(x) / n, sum(y) / n
        sxx = sum((a - mean_x) ** 2 for a in x)
        slope = sum((a - mean_x) * (b - mean_y) for a, b in zip(x, y, strict=True)) / sxx
        rss = sum((b - mean_y - slope * (a - mean_x)) ** 2 for a, b in zip(x, y, strict=True))
        fit = _fit([float(a) for a in x], [float(b) for b in y])
        size = float(max(abs(b) for b in y)) or 1.0
        self.assertAlmostEqual(fit.value("slope"), float(slope), delta=1e-13 * size)
        intercept = float(mean_y - slope * mean_x)
        self.assertAlmostEqual(
            fit.value("intercept"), intercept, delta=1e-14 * (size + abs(intercept))
        )
        self.assertAlmostEqual(fit.rss, float(rss), delta=1e-12 * size**2 + 1e-13 * float(rss))

    def test_other_numbers_against_published_formulas(self) -> None:
        # worked by hand: x 1…5, y 2.1 3.9 6.2 7.8 10.1; sums 10, 30.1; t(3, 97.5 %) = 3.182446
        fit = _fit([1, 2, 3, 4, 5], [2.1, 3.9, 6.2, 7.8, 10.1], ("mg/L", "V"))
        self.assertAlmostEqual(fit.value("slope"), 1.99)
        self.assertAlmostEqual(fit.value("intercept"), 0.05)
        error = math.sqrt(0.107 / 3 / 10)
        slope = fit.parameters[1]
        self.assertAlmostEqual(slope.standard_error or 0, error)
        assert slope.ci95 is not None
        self.assertAlmostEqual(slope.ci95[0], 1.99 - 3.182446 * error, places=6)
        self.assertEqual(slope.unit, "V L/mg")
        at = fit.predict(6.0)
        assert at.confidence95 is not None and at.prediction95 is not None
        half = 3.182446 * math.sqrt(0.107 / 3 * (0.2 + 9 / 10))
        self.assertAlmostEqual(at.confidence95[1] - at.value, half, places=6)
        half = 3.182446 * math.sqrt(0.107 / 3 * (1 + 0.2 + 9 / 10))
        self.assertAlmostEqual(at.prediction95[1] - at.value, half, places=6)
        self.assertAlmostEqual(
            fit.adjusted_r_squared or 0, 1 - (0.107 / 3) / (39.708 / 4), places=9
        )
        self.assertAlmostEqual(fit.aicc or 0, 5 * math.log(0.107 / 5) + 6 + 24)

    @given(st.floats(0.01, 50), st.floats(1, 40), st.integers(0, 10**6))
    def test_read_off_interval_holds_just_the_x_that_the_data_cannot_exclude(
        self, noise: float, wanted: float, seed: int
    ) -> None:
        random = np.random.default_rng(seed)
        x = np.linspace(0, 40, 15)
        fit = _fit(x, 3 + 2 * x + random.normal(0, noise, 15))
        _, value, interval, *_ = read_off(fit, 3 + 2 * wanted)
        if interval is None:
            return
        self.assertTrue(interval[0] <= value <= interval[1])
        # Fieller's ends are where y leaves the prediction interval of the line
        for end in interval:
            band = fit.predict(end).prediction95
            assert band is not None
            nearest = min(abs(edge - 3 - 2 * wanted) for edge in band)
            self.assertLess(nearest, 1e-6 * (abs(band[1] - band[0]) + 1))

    def test_what_cannot_be_fitted_is_explained(self) -> None:
        for x, y, words in (
            ([], [], "at least 2 readings, and there are none"),
            ([1.0], [1.0], "there is 1"),
            ([2.0, 2.0, 2.0], [1.0, 2.0, 3.0], "All 3 readings have the same x"),
        ):
            with self.subTest(words), self.assertRaises(TrendImpossible) as caught:
                _fit(x, y)
            self.assertIn(words, str(caught.exception))
        level = _fit([1, 2, 3], [5, 5, 5])
        self.assertEqual((level.r_squared, level.r, level.rss), (None, None, 0))
        with self.assertRaises(TrendImpossible):
            read_off(level, 4)
        exact = _fit([1, 2, 3, 4], [5, 7, 9, 11])
        for count, mean, sd, words in (
            (0, 5.0, None, "1 replicate"), (1, math.nan, None, "a number"),
            (1, 5.0, 0.0, "above 0"), (1, 5.0, math.inf, "above 0"),
        ):  # fmt: skip
            with self.assertRaises(TrendImpossible) as caught:
                read_off(exact, mean, count, sd)
            self.assertIn(words, str(caught.exception))
        # all that is uncertain is y itself, whose SD is known
        _, value, ends, *_ = read_off(exact, 8.0, sd=0.5)
        assert ends is not None
        np.testing.assert_allclose((value, *ends), (2.5, 2.01001, 2.98999), rtol=1e-5)
        two = _fit([1, 2], [1, 3])
        self.assertEqual((two.residual_sd, two.parameters[0].ci95, two.aicc), (None, None, None))
        self.assertIn("Two readings", two.notes[0])


class PrintedEquation(SornixTest):
    @given(
        st.sampled_from([(1953.0, 2013.0), (0.0, 12.0), (-1e-7, 4e-7), (1e6, 1e6 + 3)]),
        st.floats(-1e3, 1e3).filter(lambda s: abs(s) > 1e-6),
        st.floats(-1e3, 1e3),
        st.floats(0, 0.5),
        st.integers(0, 1000),
    )
    def test_it_gives_back_the_drawn_line(
        self, ends: tuple[float, float], rise: float, level: float, noise: float, seed: int
    ) -> None:
        random = np.random.default_rng(seed)
        x = np.linspace(*ends, 20)
        y = level + rise * (x - ends[0]) / (ends[1] - ends[0])
        y += random.normal(0, 1, 20) * noise * abs(rise)
        fit = _fit(x, y)
        half_line = float(np.ptp(y)) / 45 * 0.16
        equation = fit.equation(("x", "y"), ends, half_line)
        # seventeen digits are all that a printed number can have
        floor = 4 * np.spacing(np.abs(fit.values).max() * max(1.0, *map(abs, ends)))
        for at in ends:
            off = abs(
                float(said(equation.text, Fraction(at)) - Fraction(float(fit.at(np.array(at)))))
            )
            self.assertLessEqual(off, half_line * (1 + 1e-9) + floor)
        printed = float(said(equation.text, Fraction(1)) - said(equation.text, Fraction(0)))
        error = fit.standard_error("slope") or 0.0
        if error > 1e-12 * abs(fit.value("slope")):
            self.assertLessEqual(abs(printed - fit.value("slope")), error / 10 * (1 + 1e-6))

    def test_forms(self) -> None:
        x = np.arange(10.0)
        for y, text in (
            (2 * x + 1, "A = 2\u2009c + 1"),
            (-0.5 * x, "A = −0.5\u2009c"),
            (3e-7 * x - 2e-6, "A = 3×10⁻⁷\u2009c − 2×10⁻⁶"),
        ):
            with self.subTest(text):
                equation = _fit(x, y).equation(("c", "A"), (0, 9), float(np.ptp(y)) / 500)
                self.assertEqual(equation.text, text)
