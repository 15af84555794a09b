"""Shapes that trades have names for, in groups: growth, binding, rates, spectra, relaxation and
transport; each with starts of its own, like those of `shapes`."""

from collections.abc import Mapping
from functools import partial

import numpy as np

from sornix.core.trends.fits.sample import Floats, Sample
from sornix.core.trends.models.byformula import ByFormula
from sornix.core.trends.models.shapes import (
    falls_of,
    halves_of,
    parted_exponents,
    peaks_of,
    reach_of,
    rises_of,
    two_falls_of,
)
from sornix.core.trends.search.periods import periods
from sornix.core.trends.search.tops import tops

GROWTH, BINDING, RATES = "growth", "binding", "rates of reactions"
SPECTRA, RELAXATION, TRANSPORT = "spectra", "relaxation", "transport and uptake"


def _sizes(sample: Sample) -> Floats:
    """Places from far below the range to beyond it, as scales."""
    return np.geomspace(0.003, 12, 40) * (float(np.abs(sample.x).max()) or 1.0)


def _with(values: Floats, others: Floats) -> Floats:
    """Each row of one with each of the other."""
    values, others = np.atleast_2d(values), np.atleast_2d(others)
    return np.hstack([np.repeat(values, len(others), axis=0), np.tile(others, (len(values), 1))])


def _scales_and_powers(sample: Sample, powers: Floats) -> Floats:
    return _with(_sizes(sample)[:, None], powers[:, None])


_STEEPNESSES = np.geomspace(0.25, 14, 16)


def _halves_and_powers(sample: Sample) -> Floats:
    return _scales_and_powers(sample, _STEEPNESSES)


def _stretched(sample: Sample) -> Floats:
    # in the other order: first the time, then the exponent
    return _scales_and_powers(sample, np.geomspace(0.15, 3, 12))


def _inhibited(sample: Sample) -> Floats:
    sizes = _sizes(sample)[::2]
    return _with(sizes[:, None], np.concatenate([sizes, sizes[-1:] * [10]])[:, None])


def _steep_rises(sample: Sample) -> Floats:
    """Rates and middles of rises, and of falls, which are rises with a negative rate."""
    rises = rises_of(sample)
    return np.concatenate([rises, rises * [-1, 1]])


def _damped(sample: Sample) -> Floats:
    """The periods that show, each with falls from none to one that ends within a period."""
    falls = np.concatenate([[0.01], np.geomspace(0.3, 25, 9)]) / reach_of(sample)
    return _with(falls[:, None], periods(sample))


def _both_widths(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    return {**values, "w": abs(values["w"])}


def _tidy_peaks(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    """Peaks in the order of their places, of positive widths."""
    count = (len(values) - 1) // 3
    found = sorted(
        (values[f"m{i}"], values[f"h{i}"], abs(values[f"s{i}"])) for i in range(1, count + 1)
    )
    tidy = {"b": values["b"]}
    for i, (m, h, s) in enumerate(found, 1):
        tidy |= {f"h{i}": h, f"m{i}": m, f"s{i}": s}
    return tidy


def _growing_first(values: Mapping[str, float], x: Floats) -> Mapping[str, float]:
    """A positive height and period, and the first rise at or after the first reading."""
    c, a, k, p, t = values.values()
    if p < 0:
        a, p = -a, -p
    if a < 0:
        a, t = -a, t + p / 2
    begin = float(x.min())
    return {"c": c, "a": a, "k": k, "p": p, "t": begin + (t - begin) % p}


def _slow_last(values: Mapping[str, float], _x: Floats) -> Mapping[str, float]:
    c, a, k, b, m = values.values()
    return values if k >= m else {"c": c, "a": b, "k": m, "b": a, "m": k}


def _of_peaks(count: int) -> ByFormula:
    numbers = range(1, count + 1)
    each = [f"h{i} * exp(-((x - m{i}) / s{i})^2 / 2)" for i in numbers]
    meanings, units = {"b": "baseline"}, {"b": "y"}
    for i in numbers:
        meanings |= {f"h{i}": f"height of peak {i}", f"m{i}": f"middle of peak {i}",
                     f"s{i}": f"width (SD) of peak {i}"}  # fmt: skip
        units |= {f"h{i}": "y", f"m{i}": "x", f"s{i}": "x"}
    words = {2: "two", 3: "three", 4: "four", 5: "five"}[count]
    return ByFormula(
        f"peaks-{count}", f"{words} peaks on a baseline", f"b + {' + '.join(each)}", meanings,
        partial(tops, count=count), units, _tidy_peaks,
    )  # fmt: skip


_NOT_BELOW_0 = "x at or above 0"
# A power of 0 is written so that its derivative is a number: x is never quite 0 in it.
OF_THE_TRADES = (
    ByFormula("gompertz", "Gompertz growth", "a * exp(-exp(-k * (x - m)))",
              {"a": "level that is grown to", "k": "rate", "m": "place of the fastest growth"},
              _steep_rises, {"a": "y", "k": "1/x", "m": "x"}, origin="m"),
    ByFormula("weibull", "Weibull growth", "a * (1 - exp(-(x / s)^p))",
              {"a": "level that is grown to", "s": "place of 63 % of it", "p": "exponent"},
              _halves_and_powers, {"a": "y", "s": "x"}, needs=_NOT_BELOW_0,
              computed="a * (1 - exp(-exp(p * (ln(max(x, 1e-290)) - ln(s)))))"),
    ByFormula("hill", "Hill binding", "v * (x / h)^n / (1 + (x / h)^n)",
              {"v": "greatest value", "h": "place of half of it", "n": "Hill coefficient"},
              _halves_and_powers, {"v": "y", "h": "x"}, needs=_NOT_BELOW_0,
              computed="v * (1 + tanh(n * (ln(max(x, 1e-290)) - ln(h)) / 2)) / 2"),
    ByFormula("langmuir", "Langmuir isotherm", "q * k * x / (1 + k * x)",
              {"q": "greatest loading", "k": "constant of binding"},
              lambda sample: 1 / halves_of(sample)[::-1], {"q": "y", "k": "1/x"}),
    ByFormula("competitive", "competitive binding", "b + (t - b) / (1 + x / i)",
              {"b": "bottom", "t": "top, without a competitor", "i": "place of half displacement"},
              halves_of, {"b": "y", "t": "y", "i": "x"}),
    ByFormula("first-order", "first-order formation", "a * (1 - exp(-k * x))",
              {"a": "level at the end", "k": "rate constant"}, falls_of, {"a": "y", "k": "1/x"}),
    ByFormula("second-order", "second-order decay", "a / (1 + x / h)",
              {"a": "value at 0", "h": "first half-life"}, halves_of, {"a": "y", "h": "x"}),
    ByFormula("biexponential", "biexponential to a background",
              "c + a * exp(-k * x) + b * exp(-m * x)",
              {"c": "background", "a": "height of the fast step", "k": "fast rate",
               "b": "height of the slow step", "m": "slow rate"}, two_falls_of,
              {"c": "y", "a": "y", "k": "1/x", "b": "y", "m": "1/x"}, _slow_last, origin="moves"),
    ByFormula("michaelis-menten", "Michaelis–Menten", "v * x / (k + x)",
              {"v": "greatest rate", "k": "Michaelis constant"}, halves_of, {"v": "y", "k": "x"}),
    ByFormula("substrate-inhibition", "substrate inhibition", "v * x / (k + x + x^2 / i)",
              {"v": "greatest rate, were there no inhibition", "k": "Michaelis constant",
               "i": "constant of inhibition"}, _inhibited, {"v": "y", "k": "x", "i": "x"}),
    ByFormula("lorentzian", "Lorentzian on a baseline", "b + h / (1 + ((x - m) / w)^2)",
              {"b": "baseline", "h": "height", "m": "middle", "w": "half width at half height"},
              peaks_of, {"b": "y", "h": "y", "m": "x", "w": "x"}, _both_widths, origin="m"),
    ByFormula("pseudo-voigt", "pseudo-Voigt on a baseline",
              "b + l / (1 + ((x - m) / w)^2) + g * exp(-ln(2) * ((x - m) / w)^2)",
              {"b": "baseline", "l": "height of the Lorentzian part",
               "g": "height of the Gaussian part", "m": "middle",
               "w": "half width at half height"}, peaks_of,
              {"b": "y", "l": "y", "g": "y", "m": "x", "w": "x"}, _both_widths, origin="m"),
    *map(_of_peaks, (2, 3, 4, 5)),
    ByFormula("stretched", "stretched exponential", "c + a * exp(-(x / t)^b)",
              {"c": "background", "a": "height at 0", "t": "time of relaxation",
               "b": "exponent of stretching"}, _stretched, {"c": "y", "a": "y", "t": "x"},
              needs=_NOT_BELOW_0,
              computed="c + a * exp(-exp(b * (ln(max(x, 1e-290)) - ln(t))))"),
    ByFormula("damped-sine", "damped sine", "c + a * exp(-k * x) * sin(2 * pi * (x - t) / p)",
              {"c": "level of rest", "a": "height at 0", "k": "rate of damping", "p": "period",
               "t": "place of a rise through the level"}, _damped,
              {"c": "y", "a": "y", "k": "1/x", "p": "x", "t": "x"}, _growing_first),
    ByFormula("power-offset", "power law with an offset", "c + a * x^p",
              {"c": "offset", "a": "what x at 1 adds", "p": "exponent"}, parted_exponents,
              {"c": "y"}, needs=_NOT_BELOW_0),
)  # fmt: skip
# Under which group each stands where shapes are listed.
_GROUPS: Mapping[str, tuple[str, ...]] = {
    GROWTH: (
        "gompertz",
        "weibull",
    ),
    BINDING: (
        "hill",
        "langmuir",
        "competitive",
    ),
    RATES: (
        "first-order",
        "second-order",
        "biexponential",
        "michaelis-menten",
        "substrate-inhibition",
    ),
    SPECTRA: (
        "lorentzian",
        "pseudo-voigt",
        "peaks-2",
        "peaks-3",
        "peaks-4",
        "peaks-5",
    ),
    RELAXATION: (
        "stretched",
        "damped-sine",
    ),
    TRANSPORT: ("power-offset",),
}
for _model in OF_THE_TRADES:
    _model.group = next(group for group, names in _GROUPS.items() if _model.name in names)
