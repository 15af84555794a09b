"""A straight line in several columns: exact, with its statistics, and as it is looked at."""

from fractions import Fraction
from typing import Any

import numpy as np
from attrs import evolve
from scipy.stats import f as f_distribution

from sornix.core.document import change_table, load_document, new_document, save_document
from sornix.core.document.predicted import draw_each, draw_prediction
from sornix.core.errors import EditRefused, SornixError, TrendImpossible
from sornix.core.figure import Figure, Panel, Series, add_trend, change_trend, trend_fit
from sornix.core.figure.prose.caption import caption
from sornix.core.readings import Table, number_column, text_column
from sornix.core.trends import Fit, Sample
from sornix.core.trends.fits.statistics import (
    cooks_distances,
    lack_of_fit,
    leverages,
    regression_test,
)
from sornix.core.trends.models.several import Further, Several
from tests.base import SornixTest

N = 30
_RANDOM = np.random.default_rng(3)
WARM = np.round(_RANDOM.uniform(5, 25, N), 1)
DEEP = np.round(_RANDOM.uniform(0, 12, N), 1)
SITE = [("Reed belt", "Outflow", "North bay")[i % 3] for i in range(N)]
OXYGEN = np.round(14 - 0.25 * WARM - 0.3 * DEEP + np.array([0, 1, -1])[np.arange(N) % 3]
                  + _RANDOM.normal(0, 0.2, N), 2)  # fmt: skip
TABLE = Table(
    "survey",
    (
        number_column("Temperature", WARM, "°C"),
        number_column("Oxygen", OXYGEN, "mg/L"),
        number_column("Depth", DEEP, "m"),
        text_column("Site", SITE),
    ),
)
DESIGN = np.column_stack([np.ones(N), WARM, DEEP, np.arange(N) % 3 == 1, np.arange(N) % 3 == 2])


def figure(**asked: Any) -> Figure:
    panel = Panel((Series("s1", "survey", "Temperature", "Oxygen", "points"),))
    return add_trend(Figure((panel,)), "s1", "line", columns=("Depth", "Site"), **asked)


def fitted(made: Figure, table: Table = TABLE) -> Fit:
    return trend_fit(made.panel.trends[0], made.panel, (table,))


class Numbers(SornixTest):
    def test_parameters_and_statistics_are_those_of_the_normal_equations(self) -> None:
        fit = fitted(figure())
        squares = DESIGN.T @ DESIGN
        values = np.linalg.solve(squares, DESIGN.T @ OXYGEN)
        np.testing.assert_allclose(fit.values, values, rtol=1e-9)
        self.assertEqual(
            fit.names, ("intercept", "Temperature", "Depth", "Site = Outflow", "Site = North bay")
        )
        self.assertEqual(fit.units[:3], ("mg/L", "mg/L/°C", "mg/L/m"))
        rest = OXYGEN - DESIGN @ values
        variance = float(rest @ rest) / (N - 5)
        inverse = np.linalg.inv(squares)
        for i, name in enumerate(fit.names):
            error = fit.standard_error(name)
            assert error is not None
            self.assertAlmostEqual(error / np.sqrt(variance * inverse[i, i]), 1, 8)
        hat = np.einsum("ni,ij,nj->n", DESIGN, inverse, DESIGN)
        np.testing.assert_allclose(leverages(fit), hat, rtol=1e-8)
        cook = rest**2 / variance * hat / (1 - hat) ** 2 / 5
        found = cooks_distances(fit)
        assert found is not None
        np.testing.assert_allclose(found, cook, rtol=1e-6)
        test = regression_test(fit)
        assert test is not None
        total = float(((OXYGEN - OXYGEN.mean()) ** 2).sum())
        ratio = (total - fit.rss) / 4 / (fit.rss / (N - 5))
        self.assertAlmostEqual(test.ratio / ratio, 1, 9)
        self.assertAlmostEqual(test.p, float(f_distribution.sf(ratio, 4, N - 5)), 12)
        # the line along x, all else at the average
        at = np.array([10.0])
        others = DESIGN.mean(axis=0)
        others[:2] = 1, 10.0
        self.assertAlmostEqual(float(fit.at(at)[0]), float(others @ values), 9)
        bands = fit.bands(at)
        assert bands is not None
        half = float(bands.mean[1][0] - bands.value[0])
        assert fit.t95 is not None
        wanted = fit.t95 * np.sqrt(variance * float(others @ inverse @ others))
        self.assertAlmostEqual(half / wanted, 1, 8)

    def test_a_plane_is_exact_and_many_readings_agree_with_few(self) -> None:
        random = np.random.default_rng(1)
        x, z = (random.integers(2000, 2020, 40) + random.integers(0, 9, 40) / 10 for _ in range(2))
        model = Several("x", (Further("z"),), products=True)
        y = np.array([float(Fraction(3) + Fraction(repr(a)) / 8 - Fraction(repr(b)) / 4
                            + Fraction(repr(a)) * Fraction(repr(b)) / 1024)
                      for a, b in zip(x.tolist(), z.tolist(), strict=True)])  # fmt: skip
        y = y + random.normal(0, 0.1, 40)
        sample = Sample(x, y, np.arange(40), others=z[:, None], weights=np.linspace(0.5, 1.5, 40))
        exact = model._exact(sample)  # noqa: SLF001 - both ways have to agree
        by_qr = model._by_qr(sample)  # noqa: SLF001
        np.testing.assert_allclose(by_qr[0], exact[0], rtol=1e-6)
        np.testing.assert_allclose(by_qr[2], exact[2], atol=1e-9)
        self.assertEqual(model.fit(sample).names[-1], "x × z")

    def test_replicates_are_those_of_all_columns(self) -> None:
        two = np.repeat(np.arange(8.0), 2)
        others = np.repeat([[0.0], [1.0], [4.0], [2.0], [7.0], [3.0], [1.0], [5.0]], 2, axis=0)
        y = two + others[:, 0] + np.tile([0.1, -0.1], 8)
        test = lack_of_fit(Several("x", (Further("z"),), products=False).fit(
            Sample(two, y, np.arange(16), others=others)))  # fmt: skip
        assert test is not None
        self.assertEqual((test.upper_dof, test.lower_dof), (5, 8))

    def test_robust_weighed_and_resampled(self) -> None:
        plain = fitted(figure())
        wild = OXYGEN.copy()
        wild[4] += 30
        table = evolve(TABLE, columns=(TABLE.columns[0], number_column("Oxygen", wild, "mg/L"),
                                       *TABLE.columns[2:]))  # fmt: skip
        robust = fitted(figure(method="tukey"), table)
        for name in ("Temperature", "Depth"):
            error = plain.standard_error(name)
            assert error is not None
            self.assertLess(abs(robust.value(name) - plain.value(name)), 2 * error)
            self.assertGreater(abs(fitted(figure(), table).value(name) - plain.value(name)), error)
        for more in ({}, {"method": "huber"}, {"weights": "1/y"}):
            usual = fitted(figure(**more))
            again = fitted(figure(**more, intervals="resampling", resamples=400))
            widths = [p.ci95[1] - p.ci95[0] for fit in (usual, again) for p in fit.parameters
                      if p.name == "Depth" and p.ci95 is not None]  # fmt: skip
            self.assertTrue(0.75 < widths[1] / widths[0] < 1.35, (more, widths))


class Asking(SornixTest):
    def test_what_cannot_be_is_refused(self) -> None:
        made = figure()
        for columns in (("Oxygen",), ("Temperature",), ("Depth", "Site", "a", "b")):
            with self.assertRaises(EditRefused):
                change_trend(made, "t1", columns=columns)
        self.assertEqual(change_trend(made, "t1", model="decay").panel.trends[0].columns, ())
        twice = evolve(TABLE, columns=(*TABLE.columns, number_column("Again", DEEP * 2 + 1)))
        alike = change_trend(made, "t1", columns=("Depth", "Again"))
        with self.assertRaisesRegex(TrendImpossible, "independently"):
            fitted(alike, twice)
        with self.assertRaisesRegex(TrendImpossible, "needs|has 10 parameters"):
            fitted(change_trend(made, "t1", products=True, end=8.0))
        document = evolve(new_document(TABLE), figure=made)
        with self.assertRaises(SornixError):
            change_table(document, "survey", "delete_columns", names=["Depth"])
        renamed = change_table(document, "survey", "rename", column="Depth", name="Deep", unit="m")
        self.assertEqual(renamed.figure.panel.trends[0].columns, ("Deep", "Site"))
        path = self.folder / "several.sornix"
        save_document(renamed, path, b"")
        self.assertEqual(load_document(path), renamed)

    def test_readings_without_all_columns_are_left_out_by_row(self) -> None:
        deep = DEEP.copy()
        deep[[7, 20]] = np.nan
        table = evolve(TABLE, columns=(*TABLE.columns[:2], number_column("Depth", deep, "m"),
                                       TABLE.columns[3]))  # fmt: skip
        fit = fitted(figure(), table)
        self.assertEqual(fit.n, N - 2)
        self.assertIn("2 readings without a value in “Depth” or “Site” were left out: rows 8, 21.",
                      fit.notes)  # fmt: skip

    def test_it_is_looked_at_against_what_it_says_and_along_each_column(self) -> None:
        document = evolve(new_document(TABLE), figure=figure())
        fit = fitted(document.figure)
        said = draw_prediction(document, "t1")
        np.testing.assert_allclose(
            said.tables[0].column("Oxygen, predicted").numbers, fit.fitted, rtol=1e-6
        )
        self.assertEqual(said.figure.panels[1].curves[0].formula, "x")
        each = draw_each(document, "t1")
        self.assertEqual([p.series[0].x for p in each.figure.panels[1:]],
                         ["Temperature", "Depth", "Site"])  # fmt: skip
        # a line through each has the slope of that column, and the same residuals
        along = each.tables[0].column("Oxygen, Depth alone").numbers
        slope = fit.value("Depth")
        others = along - slope * DEEP - fit.residuals
        np.testing.assert_allclose(others, others[0], atol=1e-5)
        steps = each.tables[0].column("Oxygen, Site alone").numbers - fit.residuals
        self.assertAlmostEqual(float(steps[1] - steps[0]), fit.value("Site = Outflow"), 5)
        with self.assertRaises(EditRefused):
            draw_each(evolve(document, figure=change_trend(figure(), "t1", columns=())), "t1")
        self.assertIn("Straight line in 3 columns", caption(figure(), (TABLE,), {}))
