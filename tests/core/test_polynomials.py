"""Polynomials against certified and exact answers, and what their equations say."""

import itertools
import json
import math
from fractions import Fraction

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import ArrayLike

from sornix.core.drawing import Fill, Path, Text, draw_figure
from sornix.core.errors import TrendImpossible
from sornix.core.figure import Figure, Panel, Scale, Series, add_trend, change_trend
from sornix.core.readings import Table, number_column
from sornix.core.trends import MODELS, Fit, Sample
from sornix.core.trends.fits.readoff import read_off
from sornix.core.trends.models.polynomial import Polynomial
from tests.base import DATA, SornixTest
from tests.core.measure import PlainMeasure
from tests.core.printed import said


def fit(name: str, x: ArrayLike, y: ArrayLike) -> Fit:
    xs, ys = np.array(x, float), np.array(y, float)
    return MODELS[name].fit(Sample(xs, ys, np.arange(len(xs)), "s", "m"))


def digits(computed: float | None, wanted: float) -> float:
    assert computed is not None
    if computed == wanted:
        return 15.0
    return -math.log10(abs(computed - wanted) / abs(wanted)) if wanted else 0.0


class Certified(SornixTest):
    def test_reference_data_to_fourteen_digits(self) -> None:
        for name in ("Pontius", "NoInt1", "Wampler1", "Wampler4"):
            data = json.loads((DATA / f"{name}.json").read_text())
            through = data["kind"] == "proportional"
            model = "line-through-origin" if through else f"polynomial-{data['degree']}"
            found = fit(model, data["x"], data["y"])
            wanted = data["certified"]
            with self.subTest(name):
                for parameter, value, sd in zip(
                    found.parameters, wanted["values"], wanted["sd"], strict=True
                ):
                    self.assertGreater(digits(parameter.value, value), 14)
                    self.assertGreater(digits(parameter.standard_error, sd), 14)
                self.assertGreater(digits(found.rss, wanted["rss"]), 14)
                r_squared = found.r_squared_about_level if through else found.r_squared
                self.assertGreater(digits(r_squared, wanted["r2"]), 14)
                self.assertEqual(found.dof, wanted["dof"])

    def test_many_readings_agree_with_few_in_exact_arithmetic(self) -> None:
        rng = np.random.default_rng(7)
        x = np.round(rng.uniform(1990, 2020, 400), 3)
        y = np.round(5 + 0.2 * (x - 2000) - 0.03 * (x - 2000) ** 3 + rng.normal(0, 1, 400), 4)
        sample = Sample(x, y, np.arange(400))
        for degree in (2, 6, 10):
            model = Polynomial(degree)
            exact, quick = model._exact(sample, {}, None), model._by_qr(sample, {}, None)  # noqa: SLF001
            assert exact is not None
            self.assertGreater(digits(quick.rss, exact.rss), 11)
            there = np.linspace(1990, 2020, 50)
            values = [
                np.polynomial.polynomial.polyval(
                    there - float(s.centre), [float(v) for v in s.values]
                )
                for s in (exact, quick)
            ]
            np.testing.assert_allclose(values[1], values[0], rtol=1e-8, atol=1e-8)
        # the two ways have centres of their own; raw coefficients do not depend on them
        line = MODELS["line"].fit(sample)
        raw, _ = Polynomial(1)._raw(Polynomial(1)._by_qr(sample, {}, None))  # noqa: SLF001
        np.testing.assert_allclose([float(v) for v in raw], line.values, rtol=1e-9)

    def test_what_cannot_be_fitted_is_told(self) -> None:
        for model, x in (("polynomial-3", [1, 2, 2, 3]), ("line-through-origin", [0, 0])):
            with self.assertRaises(TrendImpossible) as caught:
                fit(model, x, np.arange(float(len(x))))
            self.assertIn("needs readings at", str(caught.exception))


class Said(SornixTest):
    @settings(max_examples=120)
    @given(
        st.integers(2, 6), st.sampled_from([0.0, 3.0, 2000.0, 1e6]), st.floats(0.5, 50),
        st.integers(0, 10**6), st.floats(1e-4, 1.0),
    )  # fmt: skip
    def test_the_printed_equation_gives_back_the_curve(
        self, degree: int, offset: float, span: float, seed: int, noise: float
    ) -> None:
        rng = np.random.default_rng(seed)
        x = np.round(offset + np.sort(rng.uniform(0, span, 30)), 4)
        if len(np.unique(x)) <= degree:
            return
        u = (x - offset) / span
        y = np.polynomial.polynomial.polyval(u, rng.normal(0, 5, degree + 1))
        y = np.round(y + rng.normal(0, noise, 30), 6).astype(np.float64)
        found = fit(f"polynomial-{degree}", x, y)
        drawn = float(x.min()), float(x.max())
        tolerance = 1e-3 * float(np.ptp(y))
        equation = found.equation(("x", "y"), drawn, tolerance)
        there = np.linspace(*drawn, 40)
        curve = found.at(there)
        for at, value in zip(there, curve, strict=True):
            printed = float(said(equation.text, Fraction(float(at))))
            self.assertLessEqual(abs(printed - value), tolerance * 1.0001)

    def test_far_from_zero_it_is_said_about_a_centre(self) -> None:
        x = np.arange(1990.0, 2021.0)
        y = 3 + 0.5 * (x - 2005) + 0.02 * (x - 2005) ** 2 + np.tile([0.1, -0.1, 0.05], 11)[:31]
        found = fit("polynomial-2", x, np.round(y, 2))
        text = found.equation(("x", "y"), (1990.0, 2020.0), 0.05).text
        self.assertIn("(x − 20", text)
        exact = fit("polynomial-2", [-1, 0, 1, 2], [1, 0, 1, 4])
        text = exact.equation(("x", "y"), (-1.0, 2.0), 0.01).text
        self.assertEqual(text.replace("\u2009", " "), "y = x²")

    def test_predictions_and_read_offs(self) -> None:
        rng = np.random.default_rng(1)
        x = np.round(np.linspace(0, 10, 25), 2)
        y = np.round(1 + 2 * x + 0.3 * x**2 + rng.normal(0, 0.2, 25), 3)
        found = fit("polynomial-2", x, y)
        at = found.predict(4.0)
        assert at.confidence95 is not None and at.prediction95 is not None
        # the same from the textbook's matrices
        design = np.vander(x, 3, increasing=True)
        cov = np.linalg.inv(design.T @ design) * found.rss / found.dof
        g = np.array([1, 4.0, 16.0])
        half = (found.t95 or 0) * math.sqrt(g @ cov @ g)
        np.testing.assert_allclose(at.confidence95, (at.value - half, at.value + half), rtol=1e-9)
        _, back, interval, *_ = read_off(found, at.value)
        self.assertAlmostEqual(back, 4.0, 9)
        assert interval is not None
        self.assertTrue(interval[0] < 4 < interval[1])
        with self.assertRaises(TrendImpossible):
            read_off(found, 1e6)


class Drawn(SornixTest):
    def test_bands_are_those_of_the_predictions(self) -> None:
        x = np.linspace(0, 6, 20)
        y = np.round(2 + x + np.random.default_rng(1).normal(0, 0.5, 20), 3)
        table = Table("t", (number_column("x", x), number_column("y", y)))
        figure = add_trend(Figure((Panel((Series("s1", "t", "x", "y"),)),)), "s1", "polynomial-2")
        shows = ("equation", "confidence", "prediction")
        figure = change_trend(figure, "t1", shows=shows)
        drawing = draw_figure(figure, (table,), PlainMeasure())
        place, found = drawing.panels[0], fit("polynomial-2", x, y)
        for name in ("confidence", "prediction"):
            band = next(i for i in drawing.items if i.of == f"trend/t1/{name}")
            assert isinstance(band, Fill)
            upper = band.points[: len(band.points) // 2]
            for point in upper[10:80:10]:
                at = found.predict(place.x.value((point[0] - place.inner.left) / place.inner.width))
                ends = at.confidence95 if name == "confidence" else at.prediction95
                assert ends is not None
                top = (place.inner.bottom - point[1]) / place.inner.height
                if 0 < top < 1:
                    self.assertAlmostEqual(place.y.value(float(top)), ends[1], 6)

    def test_a_bent_trend_is_drawn_and_labelled_on_its_curve(self) -> None:
        x = np.linspace(0, 6, 20)
        table = Table("t", (number_column("x", x), number_column("y", np.round((x - 3) ** 2, 3))))
        figure = Figure((Panel((Series("s1", "t", "x", "y"),), Scale(), Scale()),))
        figure = add_trend(figure, "s1", "polynomial-2")
        drawing = draw_figure(figure, (table,), PlainMeasure())
        place = drawing.panels[0]
        line = next(i for i in drawing.items if isinstance(i, Path) and i.of == "trend/t1/line")
        self.assertGreater(len(line.points), 20)
        xs = [place.x.value((p - place.inner.left) / place.inner.width) for p in line.points[:, 0]]
        ys = [place.y.value((place.inner.bottom - p) / place.inner.height)
              for p in line.points[:, 1]]  # fmt: skip
        np.testing.assert_allclose(ys, (np.array(xs) - 3) ** 2, atol=2e-3)
        label = [i for i in drawing.items if isinstance(i, Text) and i.of == "trend/t1/label"]
        self.assertTrue(label)
        self.assertTrue(all(a <= b for a, b in itertools.pairwise(sorted(xs))))
