"""What every shape tells of readings that follow it, by chance, however they weigh and whatever is
asked of it, a line a section in tests/data/fitted.txt. It is made anew by
`python -m tests.core.fitted`; what changed is to be read in the difference before it is kept."""

import itertools
import random
import re
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from sornix.core.errors import TrendImpossible
from sornix.core.figure import FORMULA, WEIGHTS, ErrorBars, Figure, LeftOut, Panel, Series, waiting
from sornix.core.figure.derived.trendfits import trend_fit, trend_model
from sornix.core.figure.model.trend import Trend, Unknown
from sornix.core.figure.prose.trendreport import trend_sections
from sornix.core.formula import evaluate, parse_formula
from sornix.core.readings import Table, Tables, number_column
from sornix.core.statement import write_statement
from sornix.core.trends import METHODS, ON_LOGS, UNTREATED, Fit, Setting, Treatment
from sornix.core.trends.fits.account import Section
from tests.base import DATA

FILE = DATA / "fitted.txt"
_EACH = 5
# what readings of x from 0 to 1 follow: parameters in the order of the shape
_TRUE = {
    "line": (0.7, 3.1), "line-through-origin": (4.5,), "line-through-point": (0.0, 0.0, 3.9),
    "polynomial-2": (3.3, -9.2, 6.2), "polynomial-3": (3.8, -15, 21, -9.5),
    "polynomial-4": (0.2, 14, -38, 42, -17), "polynomial-6": (0.4, 19, -80, 180, -220, 150, -40),
    "exponential": (1.5, 0.85), "logarithm": (3.2, -0.97), "power": (6.1, 1.3),
    "decay": (4.2, -4.6, 4.4), "two-step-decay": (4.5, 30, 9.2, 1.5), "saturation": (7.1, 0.8),
    "logistic": (0.3, 5.1, 12, 0.5), "peak": (1.6, 2.6, 0.4, 0.09), "sine": (2.6, 2.6, 0.3, 0.1),
    "arrhenius": (13, 0.79), "gompertz": (5, 9, 0.4), "weibull": (5.1, 0.54, 3.9),
    "hill": (5.3, 0.5, 5.3), "langmuir": (7.1, 5.2), "competitive": (0.9, 7.2, 0.09),
    "first-order": (4.6, 3.8), "second-order": (4.8, 0.07), "michaelis-menten": (7.1, 0.4),
    "biexponential": (1.5, 4, 40, 6, 5), "substrate-inhibition": (9, 0.2, 0.5),
    "lorentzian": (1, 9, 0.6, 0.08), "pseudo-voigt": (1, 5, 4, 0.4, 0.1),
    "peaks-2": (1.5, 2.8, 0.3, 0.06, 3.1, 0.7, 0.1),
    "peaks-3": (1, 3, 0.2, 0.05, 2, 0.5, 0.06, 4, 0.8, 0.05),
    "stretched": (5, -4.9, 0.4, 2.2), "damped-sine": (2, 3, 2, 0.25, 0.06),
    "power-offset": (1.1, 3, 1.7), "moving-average": (), "local-regression": (),
}  # fmt: skip
# so few that little or nothing is left to tell
_FEW = (((1, 2, 3), (0, 0, 0)), ((1, 2, 3, 4), (2, 2, 2, 2)), ((1, 1, 1), (1, 2, 4)),
        ((3, 5), (2, 7)), ((1, 2, 3, 4), (2, 4, 6, 8)), ((1, 2, 4, 4), (2, 4, 1, 5)),
        ((0, 0, 2), (0, 1, 0)), ((1,), (1,)))  # fmt: skip
_THROUGH_FEW = ("line", "line-through-origin", "polynomial-2", "moving-average", "local-regression")
_FORMULAS = {"b*exp(-k*x) + c": (4.0, 5.0, 1.0), "m*x + c": (0.7, 3.1)}


def _determined(fit: Fit) -> bool:
    """Whether the last digits hang on nothing but the readings."""
    free = [p for p in fit.parameters if not p.held]
    near = all(p.standard_error and p.standard_error < 0.3 * abs(p.value) for p in free)
    return fit.converged and not fit.loose and near and fit.n > fit.free + 3


def _figure(name: str, dice: random.Random) -> tuple[Panel, Tables]:
    """Readings that follow a shape, and a trend of it of which something is asked."""
    chance = np.random.default_rng(dice.randrange(10**6))
    u = np.sort(chance.uniform(0.02, 1, dice.choice((24, 60))).round(dice.choice((2, 4))))
    formula = dice.choice(list(_FORMULAS)) if name == FORMULA else ""
    model = trend_model(Trend("t1", "s1", name, formula=formula))
    true = dict(zip(model.names, _FORMULAS.get(formula) or _TRUE[name], strict=True))
    curve = parse_formula(model.formula or "2 + sin(9*x)")
    y = evaluate(curve, lambda of: u if of.name == "x" else np.full(len(u), true[of.name]))
    y = y + chance.normal(0, dice.choice((0.01, 0.05)), len(u))
    columns = {"x": (u, dice.choice(("", "mg/L"))), "y": (y, "V"),
               "sd": (chance.uniform(0.05, 0.2, len(u)), "V")}  # fmt: skip
    table = Table("run", tuple(
        number_column(of, np.array([float(f"{value:.5g}") for value in values]), unit)
        for of, (values, unit) in columns.items()
    ))  # fmt: skip

    def often(share: float, *values: Any) -> Any:
        return dice.choice(values[1:]) if dice.random() < share else values[0]

    settings = tuple(
        Setting(one, **dice.choice(({"held": v}, {"low": v - abs(v) / 2}, {"high": v + abs(v) / 3},
                                    {"low": v + abs(v) / 9}, {"start": 1.2 * v})))
        for one, v in true.items() if dice.random() < 0.15 and not name.startswith("peaks")
    )  # fmt: skip
    more: dict[str, Any] = {
        "method": often(0.3, *METHODS), "weights": often(0.3, *WEIGHTS), "weight_column": "sd",
        "on_logs": name in ON_LOGS and dice.random() < 0.4,
        "intervals": often(0.3, "usual", "profile"),
        "start": often(0.2, None, float(u[1])), "end": often(0.2, None, float(u[-2])),
        "read_offs": (Unknown(float(np.median(y)), dice.choice((1, 3)), often(0.2, None, 0.1)),),
        "told_at": (float(u[2]), 1.5), "settings": settings, "formula": formula,
        "treatment": often(0.2, UNTREATED, Treatment(10.0, 95.0, 2.0)),
    }  # fmt: skip
    left = (LeftOut(dice.randrange(len(u)), "odd"),) * (dice.random() < 0.2)
    series = Series("s1", "run", "x", "y", left_out=left, errors_x=ErrorBars("percent", 8),
                    errors_y=ErrorBars("fixed", 0.1))  # fmt: skip
    return Panel((series,), trends=(Trend("t1", "s1", name, **more),)), (table,)


def lines() -> Iterator[str]:
    """What was asked of each trend, and what it tells."""
    with waiting():
        for name in (*_TRUE, FORMULA):
            for number in range(_EACH * (3 if name in (FORMULA, "line") else 1)):
                panel, tables = _figure(name, random.Random(f"{name} {number}"))
                (trend,) = panel.trends
                asked = write_statement(Figure((panel,)), tables).partition("\n")[2]
                yield f"== {name} {number}: {asked!r}"
                try:
                    sections = trend_sections(trend, panel, tables, None)
                except TrendImpossible as error:
                    yield f"   {error}"
                    continue
                yield from _told(sections if _determined(trend_fit(trend, panel, tables)) else ())
        for (x, y), name in itertools.product(_FEW, _THROUGH_FEW):
            table = Table("run", (number_column("x", np.array(x, float), "h"),
                                  number_column("y", np.array(y, float))))  # fmt: skip
            trend = Trend("t1", "s1", name, told_at=(2.0,), read_offs=(Unknown(1.0),))
            panel = Panel((Series("s1", "run", "x", "y"),), trends=(trend,))
            yield f"== {name} through {x}, {y}"
            try:
                yield from _told(trend_sections(trend, panel, (table,), None))
            except TrendImpossible as error:
                yield f"   {error}"


def _told(sections: Iterable[Section]) -> Iterator[str]:
    for one in sections:
        said = [f"{row.name} {row.value}" for row in one.rows]
        yield f"   {one.heading}: {'; '.join([*said, *one.sentences])}"


_NUMBER, _STEPS = re.compile(r"\d[\d\u2009]*(?:\.(\d+))?"), re.compile(r", \d+ steps?")


def differs(one: str, other: str) -> bool:
    """Whether two lines tell other things. Processors round otherwise, and the ways of a search
    and its last digits hang on that."""
    one, other = (_STEPS.sub("", line) for line in (one, other))
    if _NUMBER.sub("#", one) != _NUMBER.sub("#", other):
        return True
    for a, b in zip(_NUMBER.finditer(one), _NUMBER.finditer(other), strict=True):
        low, high = sorted(float(found[0].replace("\u2009", "")) for found in (a, b))
        if high - low > max(2e-3 * high, 1.5 * 10.0 ** -len(a[1] or "")):
            return True
    return False


if __name__ == "__main__":
    FILE.write_text("\n".join(lines()) + "\n")
