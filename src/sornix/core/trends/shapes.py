"""Shapes by name, each a formula with the meaning of its parameters and where to look for those
that enter in no straight way; the others are solved for at each place of the search."""

from collections.abc import Mapping

import numpy as np

from sornix.core.trends.byformula import ByFormula
from sornix.core.trends.fit import Floats
from sornix.core.trends.model import MODELS


def _reach(x: Floats) -> float:
    return float(x.max() - x.min()) or 1.0


def _rates(x: Floats, _y: Floats) -> Floats:
    """Rates of rise and fall from a tenth of the range's to a hundred times it."""
    sizes = np.geomspace(0.02, 200, 40) / _reach(x)
    return np.concatenate([sizes, -sizes])[:, None]


def _falls(x: Floats, _y: Floats) -> Floats:
    # growth from a background is the same curve with a negative rate
    falls = np.geomspace(0.02, 300, 60) / _reach(x)
    return np.concatenate([falls, -falls[:32]])[:, None]


def _two_falls(x: Floats, _y: Floats) -> Floats:
    sizes = np.geomspace(0.05, 200, 22) / _reach(x)
    return np.array([(a, b) for i, a in enumerate(sizes) for b in sizes[:i]])


def _exponents(_x: Floats, _y: Floats) -> Floats:
    return np.concatenate([np.linspace(-6, 6, 49), [0.1, -0.1]])[:, None]


def _halves(x: Floats, _y: Floats) -> Floats:
    """Places of half the greatest value, within the range and well beyond it."""
    return (np.geomspace(1e-3, 30, 60) * (float(np.abs(x).max()) or 1.0))[:, None]


def _rises(x: Floats, _y: Floats) -> Floats:
    """Middles over the range and a little beyond, and steepnesses of both signs."""
    low, reach = float(x.min()), _reach(x)
    middles = low + reach * np.linspace(-0.2, 1.2, 25)
    steep = np.geomspace(1, 150, 12) / reach
    return np.array([(k, m) for k in steep for m in middles])


def _peaks(x: Floats, _y: Floats) -> Floats:
    low, reach = float(x.min()), _reach(x)
    middles = low + reach * np.linspace(-0.1, 1.1, 37)
    widths = np.geomspace(0.012, 1.0, 10) * reach
    return np.array([(m, s) for m in middles for s in widths])


def _periods(x: Floats, _y: Floats) -> Floats:
    """Periods from what the readings can tell apart to twice the range, evenly in frequency, each
    with phases an eighth apart over the half turn that a height of either sign leaves open."""
    reach, count = _reach(x), max(len(np.unique(x)), 4)
    turns = np.arange(0.4, min(count / 2, 120) + 0.5, 0.2)
    return np.array([(reach / t, float(x.min()) + q * reach / t / 8) for t in turns
                     for q in range(4)])  # fmt: skip


def _fast_first(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    a, k, b, m = values.values()
    return values if k >= m else {"a": b, "k": m, "b": a, "m": k}


def _positive_width(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    return {**values, "s": abs(values["s"])}


def _rising_first(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    """Levels in the order of size, so that the sign of the steepness says which way it goes."""
    lower, upper, k, m = values.values()
    return values if lower <= upper else {"l": upper, "u": lower, "k": -k, "m": m}


def _first_rise(values: Mapping[str, float], x: Floats) -> Mapping[str, float]:
    """A positive height and period, and the first rise at or after the first reading."""
    c, a, p, t = values.values()
    if p < 0:
        a, p = -a, -p
    if a < 0:
        a, t = -a, t + p / 2
    begin = float(x.min())
    return {"c": c, "a": a, "p": p, "t": begin + (t - begin) % p}


SHAPES = (
    ByFormula("exponential", "exponential", "a * exp(k * x)",
              {"a": "value at 0", "k": "rate"}, _rates, {"a": "y", "k": "1/x"}, origin="moves"),
    ByFormula("logarithm", "logarithm", "a + b * ln(x)",
              {"a": "value at 1", "b": "change per e-fold"}, None, {"a": "y", "b": "y"}),
    ByFormula("power", "power law", "a * x^p", {"a": "value at 1", "p": "exponent"}, _exponents,
              origin="scales"),
    ByFormula("decay", "decay to a background", "c + a * exp(-k * x)",
              {"c": "background", "a": "height at 0", "k": "rate"}, _falls,
              {"c": "y", "a": "y", "k": "1/x"}, origin="moves"),
    ByFormula("two-step-decay", "two-step decay", "a * exp(-k * x) + b * exp(-m * x)",
              {"a": "height of the fast step", "k": "fast rate", "b": "height of the slow step",
               "m": "slow rate"}, _two_falls, {"a": "y", "k": "1/x", "b": "y", "m": "1/x"},
              _fast_first, origin="moves"),
    ByFormula("saturation", "saturation", "v * x / (h + x)",
              {"v": "greatest value", "h": "place of half of it"}, _halves, {"v": "y", "h": "x"}),
    ByFormula("logistic", "logistic", "l + (u - l) / (1 + exp(-k * (x - m)))",
              {"l": "lower level", "u": "upper level", "k": "steepness", "m": "middle"}, _rises,
              {"l": "y", "u": "y", "k": "1/x", "m": "x"}, _rising_first, origin="m"),
    ByFormula("peak", "peak on a baseline", "b + h * exp(-((x - m) / s)^2 / 2)",
              {"b": "baseline", "h": "height", "m": "middle", "s": "width (SD)"}, _peaks,
              {"b": "y", "h": "y", "m": "x", "s": "x"}, _positive_width, origin="m"),
    ByFormula("sine", "sine", "c + a * sin(2 * pi * (x - t) / p)",
              {"c": "mean level", "a": "height", "p": "period", "t": "place of a rise through the "
               "mean"}, _periods, {"c": "y", "a": "y", "p": "x", "t": "x"}, _first_rise,
              origin="t"),
    ByFormula("arrhenius", "Arrhenius form", "a * exp(-b / x)",
              {"a": "value at infinite x", "b": "temperature of activation"},
              lambda x, _y: (np.concatenate([np.geomspace(0.05, 100, 60),
                                             -np.geomspace(0.05, 100, 40)])
                             * float(np.abs(x).mean()))[:, None], {"a": "y", "b": "x"}),
)  # fmt: skip
for _shape in SHAPES:
    MODELS[_shape.name] = _shape
