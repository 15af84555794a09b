"""Shapes by name, each a formula with the meaning of its parameters and where to look for those
that enter in no straight way; the others are solved for at each place of the search."""

from collections.abc import Mapping

import numpy as np

from sornix.core.trends.fits.sample import Floats, Sample
from sornix.core.trends.models.byformula import ByFormula
from sornix.core.trends.models.inverse import AboutMiddle
from sornix.core.trends.search.periods import periods
from sornix.core.trends.search.search import part_of


def reach_of(sample: Sample) -> float:
    """How far x goes."""
    return float(np.ptp(sample.x)) or 1.0


def _rates(sample: Sample) -> Floats:
    """Rates of rise and fall from a tenth of the range's to a hundred times it."""
    sizes = np.geomspace(0.02, 200, 40) / reach_of(sample)
    return np.concatenate([sizes, -sizes])[:, None]


def falls_of(sample: Sample) -> Floats:
    """Rates of falls, and of growth from a background."""
    # growth from a background is the same curve with a negative rate
    falls = np.geomspace(0.02, 300, 60) / reach_of(sample)
    return np.concatenate([falls, -falls[:32]])[:, None]


def two_falls_of(sample: Sample) -> Floats:
    """Pairs of rates, the fast one as fast as the closest readings can tell."""
    closest = np.diff(np.unique(sample.x)).min(initial=reach_of(sample))
    fastest = np.clip(12 * reach_of(sample) / closest, 200, 4e5)
    sizes = np.geomspace(0.05, fastest, 22 + int(3 * np.log(fastest / 200))) / reach_of(sample)
    return np.array([(a, b) for i, a in enumerate(sizes) for b in sizes[:i]])


def _exponents(_sample: Sample) -> Floats:
    return np.concatenate([np.linspace(-6, 6, 49), [0.1, -0.1]])[:, None]


def parted_exponents(sample: Sample) -> Floats:
    """Exponents, larger ones where x varies by a small part of itself."""
    least, greatest = float(np.abs(sample.x).min()), float(np.abs(sample.x).max())
    if not least or greatest > 2 * least:
        return _exponents(sample)
    spread = np.log(greatest / least) or 1.0
    found: Floats = _exponents(sample) * np.log(2) / spread
    return found


def halves_of(sample: Sample) -> Floats:
    """Places of half the greatest value, from far below the range to far beyond it."""
    found: Floats = np.geomspace(1e-5, 1e3, 100) * (float(np.abs(sample.x).max()) or 1.0)
    return found[:, None]


def rises_of(sample: Sample) -> Floats:
    """Middles over the range and a little beyond, steepnesses to where a rise is one step."""
    low, reach = float(sample.x.min()), reach_of(sample)
    middles = low + reach * np.linspace(-0.3, 1.3, 33)
    steep = np.geomspace(0.7, 150, 13) / reach
    found = [(k, m) for k in steep for m in middles]
    # steeper than these, the middle is between two neighbours, or they alone are on the rise
    places = np.unique(part_of(sample).x)
    between = (places[1:] + places[:-1]) / 2
    for gap, m in zip(np.diff(places), between, strict=True):
        found += [(8 / gap, m), (1.5 / gap, m)]
    return np.array(found)


def peaks_of(sample: Sample) -> Floats:
    """Tops over the range and beyond it, as far as one flank of a wide peak can tell."""
    low, reach = float(sample.x.min()), reach_of(sample)
    inside = [(m, s) for m in np.linspace(-0.1, 1.1, 37) for s in np.geomspace(0.012, 1.0, 10)]
    beyond = [(m, s) for side in (1, -1) for away in np.geomspace(0.12, 6, 14)
              for s in np.geomspace(0.05, 6, 12)
              for m in [0.5 + side * (0.5 + away)] if away < 4 * s]  # fmt: skip
    found: Floats = np.array(inside + beyond) * reach + np.array([low, 0.0])
    return found


def _temperatures(sample: Sample) -> Floats:
    """Temperatures of activation, to where the curve is a step within the range."""
    middle = float(np.abs(sample.x).mean())
    up = np.geomspace(0.05, max(100.0, 50 * middle / reach_of(sample)), 80)
    found: Floats = np.concatenate([up, -up]) * middle
    return found[:, None]


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
              {"a": "value at 1", "b": "change per e-fold"}, None, {"a": "y", "b": "y"},
              needs="x above 0"),
    ByFormula("power", "power law", "a * x^p", {"a": "value at 1", "p": "exponent"},
              parted_exponents, origin="scales", needs="x at or above 0"),
    ByFormula("decay", "decay to a background", "c + a * exp(-k * x)",
              {"c": "background", "a": "height at 0", "k": "rate"}, falls_of,
              {"c": "y", "a": "y", "k": "1/x"}, origin="moves"),
    ByFormula("two-step-decay", "two-step decay", "a * exp(-k * x) + b * exp(-m * x)",
              {"a": "height of the fast step", "k": "fast rate", "b": "height of the slow step",
               "m": "slow rate"}, two_falls_of, {"a": "y", "k": "1/x", "b": "y", "m": "1/x"},
              _fast_first, origin="moves"),
    ByFormula("saturation", "saturation", "v * x / (h + x)",
              {"v": "greatest value", "h": "place of half of it"}, halves_of, {"v": "y", "h": "x"}),
    ByFormula("logistic", "logistic", "l + (u - l) / (1 + exp(-k * (x - m)))",
              {"l": "lower level", "u": "upper level", "k": "steepness", "m": "middle"}, rises_of,
              {"l": "y", "u": "y", "k": "1/x", "m": "x"}, _rising_first, origin="m",
              computed="l + (u - l) * (1 + tanh(k * (x - m) / 2)) / 2"),
    ByFormula("peak", "peak on a baseline", "b + h * exp(-((x - m) / s)^2 / 2)",
              {"b": "baseline", "h": "height", "m": "middle", "s": "width (SD)"}, peaks_of,
              {"b": "y", "h": "y", "m": "x", "s": "x"}, _positive_width, origin="m"),
    ByFormula("sine", "sine", "c + a * sin(2 * pi * (x - t) / p)",
              {"c": "mean level", "a": "height", "p": "period", "t": "place of a rise through the "
               "mean"}, periods, {"c": "y", "a": "y", "p": "x", "t": "x"}, _first_rise,
              origin="t"),
    AboutMiddle("arrhenius", "Arrhenius form", "a * exp(-b / x)",
              {"a": "value at infinite x", "b": "temperature of activation"},
              _temperatures, {"a": "y", "b": "x"}, needs="x above 0"),
)  # fmt: skip
