"""What `sornix fit` says of a fit, as text and as JSON."""

import math
from typing import Any

from sornix.cli.fits.readoffs import Told, answer_json, answer_words, six, with_interval
from sornix.core.trends import Fit
from sornix.core.trends.fits.account import (
    Row,
    chance_rows,
    parameter_rows,
    quality_rows,
    test_rows,
)
from sornix.core.trends.fits.counting import AS_IT_IS
from sornix.core.trends.fits.statistics import correlations, lack_of_fit, regression_test, runs_test


def as_json(found: Fit, equation: str, told: Told) -> dict[str, Any]:
    """All numbers of a fit and what was asked of it."""
    tests = {"regression": regression_test(found), "lack_of_fit": lack_of_fit(found),
             "runs": runs_test(found)}  # fmt: skip
    return {
        "model": found.model,
        "method": found.method,
        "equation": equation,
        "x_counted": _counted(found, told),
        "n": found.n,
        "dof": found.dof,
        "parameters": [
            {
                "name": p.name,
                "value": p.value,
                "standard_error": p.standard_error,
                "ci95": p.ci95 and [end if math.isfinite(end) else None for end in p.ci95],
                "ci95_by": found.ends_by if p.name in found.ends95 else "tangent",
                "unit": p.unit,
                "held": p.held,
            }
            for p in found.parameters
        ],
        "correlation": [
            [round(one, 12) if math.isfinite(one) else None for one in row]
            for row in correlations(found).tolist()
        ],
        "rss": 0.0 if found.is_exact else found.rss,
        "residual_sd": found.residual_sd,
        "r_squared": found.r_squared,
        "r_squared_about_level": found.r_squared_about_level,
        "adjusted_r_squared": found.adjusted_r_squared,
        "r": found.r,
        "aicc": found.aicc,
        "tests": {name: test._asdict() for name, test in tests.items() if test is not None},
        "residuals_beside_chance": [
            one._asdict() for one in (found.resampled.checks if found.resampled else ())
        ],
        "converged": found.converged,
        "iterations": found.iterations,
        "notes": list(found.notes),
        "predictions": [
            {
                "x": told.x_json(p.x),
                "value": p.value,
                "confidence95": p.confidence95,
                "prediction95": p.prediction95,
            }
            for p in told.predictions
        ],
        "read_off": [answer_json(one, told) for one in told.answers],
    }


def _counted(found: Fit, told: Told) -> dict[str, Any] | None:
    """From where on, and in what, x is counted in equation and parameters, if it is."""
    along = found.along
    if along == AS_IT_IS:
        return None
    words = {"in": along.words} if along.words else {}
    parts = {} if along.words else {"in_parts_of": along.step}
    return {"from": told.x_json(along.origin), **words, **parts, "unit": found.sample.x_unit}


def as_text(found: Fit, equation: str, told: Told) -> str:
    """The same for people, one line each."""

    def line(row: Row) -> str:
        return f"{row.name:<28} {row.value}".rstrip()

    lines = [equation] if equation else []
    if found.along.told:
        lines.append(f"x in {found.along.told}")
    lines += [f"{line(row):<52} {row.about}".rstrip() for row in parameter_rows(found)]
    lines += [line(row) for row in (*quality_rows(found), *test_rows(found), *chance_rows(found))]
    lines.append(found.method)
    lines += [
        f"at x = {told.x(at.x)}: {with_interval(at.value, at.confidence95, six)}"
        for at in told.predictions
    ]
    lines += [answer_words(one, told) for one in told.answers]
    return "\n".join([*lines, *(f"Note: {note}" for note in found.notes)])
