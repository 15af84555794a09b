"""Intervals by resampling and by profile, at ends and in company, and checks of residuals."""

from functools import partial
from typing import Any

import numpy as np
from attrs import evolve

from sornix.core.errors import TrendImpossible
from sornix.core.figure import (
    Figure,
    Panel,
    Series,
    add_trend,
    change_trend,
    possible_intervals,
    trend_fit,
)
from sornix.core.figure.prose.methods import methods_text
from sornix.core.figure.prose.trendreport import trend_sections
from sornix.core.readings import Table, number_column
from sornix.core.trends import (
    MODELS,
    Bands,
    ByFormula,
    Fit,
    ParameterConstraints,
    Sample,
    Setting,
    put_through,
)
from sornix.core.trends.fits.account import parameter_rows
from sornix.core.trends.fits.resampled import Asked
from sornix.core.trends.fits.sample import Floats
from sornix.core.trends.search.descent import Curve, descend
from sornix.core.trends.ways.draws import drawn_together
from sornix.core.trends.ways.resampling import resampled
from tests.base import SornixTest

X = np.linspace(0.2, 10, 16)
# Shapes with parameters that readings of some scatter determine.
CURVES = {
    "line": (1.0, 2.0),
    "line-through-origin": (1.5,),
    "polynomial-3": (1.0, 2.0, -0.5, 0.05),
    "decay": (1.0, 9.0, 0.5),
    "logistic": (1.0, 9.0, 1.2, 5.0),
    "peak": (1.0, 6.0, 4.0, 1.5),
    "arrhenius": (40.0, 3.0),
}


def exact(name: str, x: Floats = X) -> Floats:
    model = ByFormula(name, "", MODELS[name].formula, dict.fromkeys(MODELS[name].names, ""))
    known = dict(zip(model.names, CURVES[name], strict=True))
    return model.parts.program.run({**known, "x": x}, len(x))[0]


def sample(name: str, seed: int, noise: float = 0.3, x: Floats = X) -> Sample:
    random = np.random.default_rng(seed)
    y = exact(name, x) + random.normal(0, noise, len(x))
    return Sample(x, y, np.arange(len(x)))


def _rows(noise: Floats, first: int, last: int) -> Floats:
    return noise[first:last]


def ends(fit: Fit, name: str) -> tuple[float, float]:
    """The 95 % interval of a parameter."""
    (found,) = (p.ci95 for p in fit.parameters if p.name == name)
    assert found is not None
    return found


def width(fit: Fit, name: str) -> float:
    low, high = ends(fit, name)
    return high - low


def bands(fit: Fit, x: Floats) -> Bands:
    found = fit.bands(x)
    assert found is not None
    return found


def chances(fit: Fit) -> dict[str, float]:
    """The probabilities of the checks of residuals."""
    assert fit.resampled is not None
    return {check.name: check.p for check in fit.resampled.checks}


def again(fit: Fit, times: int = 400, seed: int = 1, method: str = "least-squares") -> Fit:
    def refit(samples: list[Sample]) -> list[Fit]:
        return [put_through(fit.by, one, ParameterConstraints(), method) for one in samples]

    return resampled([fit], 0, Asked(times, seed), refit, {})


class Draws(SornixTest):
    def test_sets_worked_out_together_come_where_each_would_alone(self) -> None:
        cases = [(name, "least-squares", False) for name in CURVES]
        cases += [(n, m, False) for n in ("line", "decay", "peak") for m in ("huber", "tukey")]
        cases += [("exponential", "least-squares", True), ("exponential", "huber", True)]
        for name, method, on_logs in cases:
            with self.subTest(name=name, method=method, on_logs=on_logs):
                read = sample("decay" if on_logs else name, 3)
                weights = np.linspace(0.5, 1.5, read.n)
                read = evolve(read, weights=weights)
                model = MODELS[name]
                fit = put_through(model, read, ParameterConstraints(), method, on_logs=on_logs)
                roots = fit.sample.roots
                noise = np.random.default_rng(5).normal(0, 0.2, (6, read.n))
                places = np.array([1.0, 4.0, 12.0])
                found = drawn_together(fit, partial(_rows, noise), 6, places)
                fitted = np.log(fit.at(fit.x)) if on_logs else fit.at(fit.x)
                for turn in range(6):
                    y = fitted + noise[turn] / roots
                    y = np.exp(y) if on_logs else y
                    asked = weights
                    if on_logs:
                        asked = fit.sample.weights / y**2
                    one = put_through(
                        model,
                        evolve(read, y=y, weights=asked),
                        ParameterConstraints(),
                        method,
                        on_logs=on_logs,
                    )
                    curve = np.log(one.at(places)) if on_logs else one.at(places)
                    self.assertLess(np.abs(found.curve[turn] - curve).max(), 2e-3)
                    self.assertLess(abs(found.sd[turn] / one.residual_sd - 1), 0.01)
                    error = one.standard_error(one.names[-1])
                    self.assertLess(abs(found.errors[turn, -1] / error - 1), 0.02)

    def test_intervals_of_a_line_are_those_of_theory_and_repeat_by_their_seed(self) -> None:
        x = np.linspace(0, 10, 60)
        fit = MODELS["line"].fit(sample("line", 4, 1.0, x))
        found = again(fit, 4000)
        for name in fit.names:
            for one, other in zip(ends(fit, name), ends(found, name), strict=True):
                self.assertLess(abs(one - other), 0.06 * width(fit, name))
        usual, by = bands(fit, x), bands(found, x)
        self.assertLess(np.abs((by.mean[1] - by.value) / (usual.mean[1] - usual.value) - 1).max(),
                        0.12)  # fmt: skip
        self.assertTrue(np.array_equal(usual.single[0], by.single[0]))
        self.assertEqual(again(fit, 300).parameters, again(fit, 300).parameters)
        self.assertNotEqual(again(fit, 300).parameters, again(fit, 300, seed=2).parameters)

    def test_the_band_of_a_line_through_a_point_opens_evenly_from_it(self) -> None:
        x = np.linspace(0, 10, 16)
        name = "line-through-origin"
        found = again(put_through(MODELS[name], sample(name, 1, x=x)))
        at = np.array([0.0, 0.05, 0.1, 10.0])
        by = bands(found, at)
        for end, of_slope in zip(by.mean, ends(found, "slope"), strict=True):
            np.testing.assert_allclose(end, of_slope * at, rtol=2e-3)

    def test_a_smoother_and_errors_in_both_have_intervals(self) -> None:
        x = np.linspace(0, 10, 40)
        held = sets = 0
        for seed in range(60):
            fit = MODELS["moving-average"].fit(sample("line", seed, 1.0, x))
            found = bands(again(fit, 200), np.array([4.9, 6.2]))
            # of a line, smoothing takes nothing away
            truth = 1 + 2 * np.array([4.9, 6.2])
            held += int(((found.mean[0] <= truth) & (truth <= found.mean[1])).sum())
            self.assertTrue((found.single[1] > found.mean[1]).all())
            sets += 2
        self.assertGreater(held / sets, 0.85)
        self.assertLess(held / sets, 1.0)
        both = evolve(sample("line", 1, 1.0, x), x_sd=np.full(40, 0.2), y_sd=np.full(40, 1.0))
        fit = put_through(MODELS["line"], both)
        for name in fit.names:
            self.assertTrue(0.7 < width(again(fit, 300), name) / width(fit, name) < 1.4, name)

    def test_residuals_are_set_beside_chance(self) -> None:
        x = np.linspace(0, 10, 40)
        small = {"neighbours alike": 0, "scatter by height": 0, "shape of the scatter": 0,
                 "furthest reading": 0}  # fmt: skip
        for seed in range(100):
            found = again(MODELS["line"].fit(sample("line", seed, 1.0, x)), 200)
            for name, p in chances(found).items():
                small[name] += p < 0.1
        # a tenth of right curves, give or take three standard deviations
        for name, count in small.items():
            self.assertTrue(1 <= count <= 20, (name, count))
        random = np.random.default_rng(8)
        y, drift = 1 + 2 * x, random.normal(0, 1, 40).cumsum()
        wild = random.normal(0, 0.3, 40)
        wild[7] = 4.0
        for name, faulty in (
            ("neighbours alike", y + drift),
            ("scatter by height", y + random.normal(0, 1, 40) * x**2 / 30),
            ("furthest reading", y + wild),
            ("shape of the scatter", y + random.standard_t(1, 40)),
        ):
            found = again(MODELS["line"].fit(Sample(x, faulty, np.arange(40))), 500)
            self.assertLess(chances(found)[name], 0.01, name)

    def test_what_cannot_be_resampled_is_refused(self) -> None:
        two = sample("line", 1).some(np.array([0, 9]))
        straight = evolve(sample("line", 1), y=1 + 2 * X)
        for read in (two, straight):
            with self.assertRaisesRegex(TrendImpossible, "resample"):
                again(MODELS["line"].fit(read))


TABLE = Table(
    "run",
    (
        number_column("Time", X, "min"),
        number_column("Dye", sample("decay", 6).y, "mg/L"),
        number_column("Other", sample("decay", 7).y * 1.5, "mg/L"),
    ),
)


class Profiles(SornixTest):
    def test_at_the_ends_fits_with_the_parameter_held_are_as_unlikely_as_is_said(self) -> None:
        """Also where the tangent leads into another valley, or past 0, where there is no curve."""
        checked = 0
        for name, known, seeds in (
            ("decay", (1.0, 9.0, 0.5), (3, 5)), ("lorentzian", (1.0, 6.0, 4.0, 1.5), (4, 14)),
            ("logistic", (1.0, 9.0, 1.2, 5.0), (3, 26)), ("power-offset", (1.0, 2.0, 0.3), (3, 17)),
            ("michaelis-menten", (9.0, 3.0), (3,)), ("substrate-inhibition", (12.0, 3.0, 9.0), (4,))
        ):  # fmt: skip
            model = MODELS[name]
            assert isinstance(model, ByFormula)
            y = model.parts.program.run({**dict(zip(model.names, known, strict=True)), "x": X})[0]
            for seed in seeds:
                noise = np.random.default_rng(seed).normal(0, 1.2, len(X))
                readings = Sample(X, y + noise, np.arange(len(X)))
                fit = model.fit(readings)
                for parameter, at in ((p, at) for p, both in fit.ends95.items() for at in both):
                    # an end at 0 may be one of what there is at all
                    if not np.isfinite(at) or abs(at) < 1e-3:
                        continue
                    way = ParameterConstraints((Setting(parameter, held=at),), quick=True)
                    more = model.fit(readings, way).rss - fit.rss
                    t = np.sqrt(max(more, 0.0)) / (fit.residual_sd or 1.0)
                    self.assertAlmostEqual(t / (fit.t95 or 1.0), 1, 2, (name, seed, parameter, at))
                    checked += 1
        self.assertGreater(checked, 35)

    def test_more_may_be_gained_than_is_foreseen_by_any_number(self) -> None:
        y = np.array([1e-100, 1.0])

        def at(values: Floats) -> tuple[Floats, Floats]:
            return (y if values[0] else np.zeros(2)), np.array([[1.0], [0.0]])

        curve = Curve(at, np.array([False]), np.array([-np.inf]), np.array([np.inf]))
        found = descend(curve, y, [np.zeros(1)])
        assert found is not None
        self.assertEqual(found.rss, 0)


def figure(**asked: Any) -> Figure:
    panel = Panel((Series("s1", "run", "Time", "Dye"), Series("s2", "run", "Time", "Other")))
    return add_trend(Figure((panel,)), "s1", "decay", **asked)


def fitted(made: Figure, index: int = 0) -> Fit:
    return trend_fit(made.panel.trends[index], made.panel, (TABLE,))


class Asking(SornixTest):
    def test_a_trend_has_its_intervals_as_they_are_asked_for(self) -> None:
        usual = fitted(figure())
        profile = fitted(figure(intervals="profile"))
        self.assertEqual(set(profile.ends95), {"c", "a", "k"})
        made = figure(intervals="resampling", resamples=300)
        by = fitted(made)
        self.assertEqual(by.values, usual.values)
        self.assertEqual(by.ends_by, "resampling")
        self.assertIn("300 times, seed 1", by.notes[-1])
        sections = {s.heading: s for s in
                    trend_sections(made.panel.trends[0], made.panel, (TABLE,), None)}  # fmt: skip
        self.assertEqual([row.about for row in sections["95 % intervals"].rows],
                         ["By resampling"] * 3)  # fmt: skip
        self.assertEqual(len(sections["Residuals beside chance"].rows), 4)
        self.assertIn("by resampling of residuals, 300 times (seed 1)",
                      methods_text(made, (TABLE,)))  # fmt: skip
        # what has no profile is not asked for one
        self.assertEqual(possible_intervals(made.panel.trends[0]), ("usual", "profile",
                                                                    "resampling"))  # fmt: skip
        asked = change_trend(figure(intervals="profile"), "t1", model="line")
        self.assertEqual(asked.panel.trends[0].intervals, "usual")

    def test_in_company_and_within_bounds(self) -> None:
        made = add_trend(figure(), "s2", "decay")
        for trend in made.panel.trends:
            made = change_trend(
                made, trend.id, shared=("k",), intervals="resampling", resamples=200
            )
        one, other = fitted(made, 0), fitted(made, 1)
        usual = fitted(change_trend(made, "t1", intervals="usual"), 0)
        self.assertEqual(one.value("k"), other.value("k"))
        self.assertEqual(usual.value("k"), other.value("k"))
        self.assertTrue(0.7 < width(one, "k") / width(usual, "k") < 1.4)
        bounded = figure(settings=(Setting("a", low=0.0, high=9.3),), intervals="resampling",
                         resamples=300)  # fmt: skip
        self.assertLessEqual(ends(fitted(bounded), "a")[1], 9.3)

    def test_at_its_end_a_parameter_has_a_one_sided_interval(self) -> None:
        free = fitted(figure())
        at = free.value("a") - 0.2
        ended = fitted(figure(settings=(Setting("a", high=at),)))
        self.assertEqual(ends(ended, "a")[1], at)
        self.assertAlmostEqual(ends(ended, "a")[0], ends(free, "a")[0], 3)
        self.assertIn("one-sided", parameter_rows(ended)[1].about)
        # near its end, the interval reaches to the very end where that agrees with the readings
        near = fitted(figure(settings=(Setting("c", low=free.value("c") - 0.05),)))
        self.assertNotIn("c", near.held)
        self.assertEqual(ends(near, "c")[0], free.value("c") - 0.05)
