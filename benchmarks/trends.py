"""How trends hold up on random readings: own starts, and how often intervals hold the truth."""

from collections.abc import Callable, Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sornix.core.trends import MODELS, ByFormula, Fit, Sample, Setting, Way
from sornix.core.trends.readoff import read_off

Floats = NDArray[np.float64]
Random = np.random.Generator
_SETS = 500


def _wide(random: Random, low: float, high: float) -> float:
    """A size between two ends, evenly in its logarithm."""
    return float(np.exp(random.uniform(np.log(low), np.log(high))))


def _sign(random: Random) -> float:
    return float(random.choice([-1.0, 1.0]))


def _true(name: str, r: Random, reach: float, size: float) -> Mapping[str, float]:
    """Parameters of a shape over wide ranges, for x to `reach` and y of some `size`."""
    level = size * r.uniform(-2, 2)
    height = size * _sign(r)
    makers: Mapping[str, Callable[[], Mapping[str, float]]] = {
        "exponential": lambda: {"a": height, "k": _sign(r) * _wide(r, 0.3, 8) / reach},
        "logarithm": lambda: {"a": level, "b": height},
        "power": lambda: {"a": height, "p": r.uniform(-3, 4)},
        "decay": lambda: {"c": level, "a": height, "k": _wide(r, 0.5, 30) / reach},
        "two-step-decay": lambda: _two_steps(r, size, reach),
        "saturation": lambda: {"v": height, "h": _wide(r, 0.02, 3) * reach},
        "logistic": lambda: {
            "l": level, "u": level + height, "k": _wide(r, 4, 60) / reach,
            "m": r.uniform(0.2, 0.8) * reach,
        },
        "peak": lambda: {
            "b": level, "h": height, "m": r.uniform(0.1, 0.9) * reach,
            "s": _wide(r, 0.03, 0.3) * reach,
        },
        "sine": lambda: {
            "c": level, "a": abs(height), "p": _wide(r, 0.07, 1.2) * reach,
            "t": r.uniform(0, 1) * reach,
        },
        "arrhenius": lambda: {"a": size, "b": _wide(r, 0.3, 10) * reach * _sign(r)},
    }  # fmt: skip
    return makers[name]()


def _two_steps(r: Random, size: float, reach: float) -> Mapping[str, float]:
    slow = _wide(r, 0.3, 2) / reach
    return {"a": size * _wide(r, 0.3, 3), "k": slow * _wide(r, 4, 40), "b": size, "m": slow}


def _readings(model: ByFormula, true: Mapping[str, float], r: Random, reach: float) -> Sample:
    """Readings of a shape with 0.1 to 10 % of noise, evenly or at random places."""
    n = int(_wide(r, 15, 200))
    # what is of absolute temperatures or of ratios begins well above 0
    low = 0.6 if model.name == "arrhenius" else 0.02
    x = (
        np.linspace(low, 1, n) * reach
        if r.random() < 0.5
        else np.sort(r.uniform(low, 1, n)) * reach
    )
    exact = model.parts.program.run({**true, "x": x}, n)[0]
    noise = r.normal(0, _wide(r, 1e-3, 0.1) * float(np.ptp(exact)), n)
    return Sample(x, exact + noise, np.arange(n))


def own_starts(sets: int = _SETS) -> dict[str, float]:
    """The share of random readings for which a shape finds its lowest sum of squares by itself:
    none lower is reached from the true parameters."""
    found = {}
    for name, model in MODELS.items():
        if not isinstance(model, ByFormula):
            continue
        random = np.random.default_rng(11)
        reached = 0
        for _ in range(sets):
            reach = _wide(random, 1e-2, 1e4)
            true = _true(name, random, reach, _wide(random, 1e-3, 1e5))
            sample = _readings(model, true, random, reach)
            own = model.fit(sample).rss
            way = Way(tuple(Setting(n, start=v) for n, v in true.items()))
            reached += own <= model.fit(sample, way).rss * (1 + 1e-6)
        found[name] = reached / sets
    return found


def coverage(runs: int = 10_000) -> dict[str, Any]:
    """How often 95 % intervals hold the truth, of a line and, in fewer runs, of curved shapes."""
    random = np.random.default_rng(5)
    x = np.repeat(np.linspace(0, 12, 8), 3)
    held = {"intercept": 0, "slope": 0, "mean": 0, "new reading": 0, "read off": 0}
    for _ in range(runs):
        y = 0.05 + 0.07 * x + random.normal(0, 0.02, len(x))
        fit = MODELS["line"].fit(Sample(x, y, np.arange(len(x))))
        at = fit.predict(7.0)
        fresh, unknown = 0.05 + 0.07 * 7 + random.normal(0, 0.02, 2)
        held["intercept"] += _holds(fit.parameters[0].ci95, 0.05)
        held["slope"] += _holds(fit.parameters[1].ci95, 0.07)
        held["mean"] += _holds(at.confidence95, 0.05 + 0.07 * 7)
        held["new reading"] += _holds(at.prediction95, fresh)
        held["read off"] += _holds(read_off(fit, float(unknown)).interval, 7.0)
    return {
        "line": {name: count / runs for name, count in held.items()},
        **{name: _of_shape(name, runs // 20) for name in ("decay", "saturation", "logistic")},
    }


def _of_shape(name: str, runs: int) -> dict[str, float]:
    model = MODELS[name]
    assert isinstance(model, ByFormula)
    random = np.random.default_rng(7)
    true = {"decay": {"c": 1.0, "a": 9.0, "k": 0.5}, "saturation": {"v": 12.0, "h": 2.0},
            "logistic": {"l": 1.0, "u": 9.0, "k": 1.2, "m": 5.0}}[name]  # fmt: skip
    x = np.linspace(0.2, 10, 30)
    exact = model.parts.program.run({**true, "x": x}, len(x))[0]
    held = dict.fromkeys([*true, "mean", "new reading", "read off"], 0)
    # in the steep part: of the logistic, its middle
    place = 14 if name == "logistic" else 8
    at = float(x[place])
    for _ in range(runs):
        fit: Fit = model.fit(Sample(x, exact + random.normal(0, 0.2, len(x)), np.arange(len(x))))
        for parameter in fit.parameters:
            held[parameter.name] += _holds(parameter.ci95, true[parameter.name])
        found = fit.predict(at)
        fresh, unknown = exact[place] + random.normal(0, 0.2, 2)
        held["mean"] += _holds(found.confidence95, float(exact[place]))
        held["new reading"] += _holds(found.prediction95, fresh)
        held["read off"] += _holds(read_off(fit, float(unknown)).interval, at)
    return {part: count / runs for part, count in held.items()}


def _holds(interval: tuple[float, float] | None, value: float) -> bool:
    return interval is not None and interval[0] <= value <= interval[1]
