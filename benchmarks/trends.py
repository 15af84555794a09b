"""How trends hold up on random readings: own starts, and how often intervals hold the truth."""

import math
from collections.abc import Callable, Iterator, Mapping
from contextlib import suppress
from itertools import islice
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from sornix.core.errors import SornixError
from sornix.core.trends import (
    MODELS,
    PLAIN,
    ByFormula,
    Fit,
    ParameterConstraints,
    Sample,
    Setting,
    put_through,
)
from sornix.core.trends.fits.readoff import read_off
from sornix.core.trends.fits.resampled import Asked
from sornix.core.trends.ways.resampling import resampled
from sornix.core.trends.ways.shared import fit_shared
from sornix.core.trends.ways.variance import fit_by_height

Floats = NDArray[np.float64]
Random = np.random.Generator
_SETS = 500


class Rows(NamedTuple):
    """An outcome that is printed as a table too."""

    rows: list[dict[str, object]]

    @property
    def table(self) -> str:
        """Rows of text in columns; a name stands in each row where rows differ in theirs."""
        lines = []
        for row in self.rows:
            (_, first), *others = row.items()
            cells = [f"{name} {value:.3f}" if isinstance(value, float) else f"{name} {value}"
                     for name, value in others]  # fmt: skip
            lines.append(f"{first!s:<44}" + "  ".join(f"{cell:<18}" for cell in cells).rstrip())
        return "\n".join(lines)


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
        "gompertz": lambda: {
            "a": height, "k": _sign(r) * _wide(r, 3, 40) / reach,
            "m": r.uniform(0.15, 0.85) * reach,
        },
        "weibull": lambda: {"a": height, "s": _wide(r, 0.1, 1.2) * reach, "p": _wide(r, 0.5, 6)},
        "hill": lambda: {"v": height, "h": _wide(r, 0.05, 1.5) * reach, "n": _wide(r, 0.5, 8)},
        "langmuir": lambda: {"q": height, "k": _wide(r, 0.5, 50) / reach},
        "competitive": lambda: {"b": level, "t": level + height, "i": _wide(r, 0.02, 3) * reach},
        "first-order": lambda: {"a": height, "k": _wide(r, 0.3, 30) / reach},
        "second-order": lambda: {"a": height, "h": _wide(r, 0.02, 3) * reach},
        "biexponential": lambda: {"c": level, **_two_steps(r, size, reach)},
        "michaelis-menten": lambda: {"v": height, "k": _wide(r, 0.02, 3) * reach},
        "substrate-inhibition": lambda: {
            "v": height, "k": _wide(r, 0.03, 0.5) * reach, "i": _wide(r, 0.1, 2) * reach,
        },
        "lorentzian": lambda: {
            "b": level, "h": height, "m": r.uniform(0.1, 0.9) * reach,
            "w": _wide(r, 0.03, 0.3) * reach,
        },
        "pseudo-voigt": lambda: {
            "b": level, "l": height * r.uniform(0.1, 0.9), "g": height * r.uniform(0.1, 0.9),
            "m": r.uniform(0.1, 0.9) * reach, "w": _wide(r, 0.04, 0.3) * reach,
        },
        "stretched": lambda: {
            "c": level, "a": height, "t": _wide(r, 0.05, 0.6) * reach, "b": _wide(r, 0.35, 2),
        },
        "damped-sine": lambda: {
            "c": level, "a": abs(height), "k": _wide(r, 0.3, 6) / reach,
            "p": _wide(r, 0.08, 0.5) * reach, "t": r.uniform(0, 0.3) * reach,
        },
        "power-offset": lambda: {"c": level, "a": height, "p": r.uniform(0.2, 3.5)},
    }  # fmt: skip
    return makers[name]() if name in makers else _several_peaks(int(name[-1]), r, reach, size)


def _several_peaks(count: int, r: Random, reach: float, size: float) -> Mapping[str, float]:
    true = {"b": size * r.uniform(-1, 1)}
    for i, m in enumerate(np.sort(r.uniform(0.08, 0.92, count)), 1):
        true |= {f"h{i}": size * _wide(r, 0.3, 3), f"m{i}": float(m) * reach,
                 f"s{i}": _wide(r, 0.02, 0.08) * reach}  # fmt: skip
    return true


def _two_steps(r: Random, size: float, reach: float) -> Mapping[str, float]:
    slow = _wide(r, 0.3, 2) / reach
    return {"a": size * _wide(r, 0.3, 3), "k": slow * _wide(r, 4, 40), "b": size, "m": slow}


# Kinds of readings that are hard to find the way in: the shape, its truth and the places of
# readings, for a reach.
Kind = Callable[[Random, float], tuple[str, Mapping[str, float], Floats]]


def _places(r: Random, low: float, high: float, most: int = 200) -> Floats:
    n = int(_wide(r, 15, most))
    return np.linspace(low, high, n) if r.random() < 0.5 else np.sort(r.uniform(low, high, n))


def _many_periods(least: float, most: float) -> Kind:
    def kind(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
        p = reach / r.uniform(least, most)
        true = {"c": r.normal(), "a": 1.0, "p": p, "t": r.uniform(0, p)}
        return "sine", true, np.linspace(0, reach, 500)

    return kind


def _tide(r: Random, _: float) -> tuple[str, Mapping[str, float], Floats]:
    true = {"c": 2.0, "a": 1.3, "p": 12.42, "t": r.uniform(0, 12)}
    return "sine", true, np.linspace(0, 90 * 24, 2161)


def _uneven_periods(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
    p = reach / _wide(r, 20, 100)
    true = {"c": r.normal(), "a": 1.0, "p": p, "t": r.uniform(0, p)}
    return "sine", true, np.sort(r.uniform(0, reach, int(_wide(r, 40, 300))))


def _rates_apart(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
    slow = _wide(r, 0.3, 2) / reach
    true = {"a": _wide(r, 0.3, 3), "k": slow * _wide(r, 50, 500), "b": 1.0, "m": slow}
    n = int(_wide(r, 30, 200))
    x = np.geomspace(1e-3, 1, n) if r.random() < 0.5 else np.linspace(0, 1, n)
    return "two-step-decay", true, x * reach


def _rise(least: float, most: float) -> Kind:
    def kind(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
        true = {"l": r.normal(), "u": r.normal() + 3, "k": _sign(r) * _wide(r, least, most) / reach,
                "m": r.uniform(0.05, 0.95) * reach}  # fmt: skip
        return "logistic", true, _places(r, 0, 1) * reach

    return kind


def _top_off_the_edge(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
    while True:
        m = r.uniform(-1.5, -0.1) if r.random() < 0.5 else r.uniform(1.1, 2.5)
        s = _wide(r, 0.1, 1)
        # of the flank, readings show at least a ten-thousandth of the height
        if math.exp(-0.5 * (min(abs(m), abs(m - 1)) / s) ** 2) > 1e-4:
            break
    true = {"b": r.normal(), "h": _sign(r) * 3, "m": m * reach, "s": s * reach}
    return "peak", true, _places(r, 0, 1) * reach


def _hot(r: Random, _: float) -> tuple[str, Mapping[str, float], Floats]:
    while True:
        low = r.uniform(250, 350)
        x = np.linspace(low, low + r.uniform(20, 150), int(_wide(r, 10, 60)))
        b = _wide(r, 30_000, 100_000)
        # more than one reading shows that it rises: each is at most eight times the one before
        if b * (x[1] - x[0]) < math.log(8) * x[-1] ** 2:
            break
    return "arrhenius", {"a": float(np.exp(b / x.mean())), "b": b}, x


def _halves(least: float, most: float) -> Kind:
    def kind(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
        true = {"v": _sign(r) * 5, "h": reach * _wide(r, least, most)}
        return "saturation", true, _places(r, 0.05, 1, 60) * reach

    return kind


HARD: Mapping[str, Kind] = {
    "sine of 121 to 180 periods in 500": _many_periods(121, 180),
    "sine of 180 to 240 periods in 500": _many_periods(180, 240),
    "tide, hourly for 90 days": _tide,
    "sine of 20 to 100 uneven periods": _uneven_periods,
    "two steps, rates 50 to 500 apart": _rates_apart,
    "steep logistic": _rise(60, 1000),
    "peak with its top off the edge": _top_off_the_edge,
    "Arrhenius, 30 000 to 100 000 K": _hot,
    "saturation at its plateau": _halves(1e-4, 1e-2),
    "saturation at its foot": _halves(10, 300),
}


def _usual(name: str) -> Kind:
    def kind(r: Random, reach: float) -> tuple[str, Mapping[str, float], Floats]:
        # what is of absolute temperatures or of ratios begins well above 0
        low = 0.6 if name == "arrhenius" else 0.02
        if name.startswith("peaks-"):
            # each has readings of its own
            places = np.linspace(0, reach, int(_wide(r, 60, 300)))
            return name, _true(name, r, reach, _wide(r, 1e-3, 1e5)), places
        return name, _true(name, r, reach, _wide(r, 1e-3, 1e5)), _places(r, low, 1) * reach

    return kind


def own_starts(sets: int = _SETS) -> Rows:
    """For kinds of random readings: how often a shape finds its lowest sum of squares by itself,
    none lower being reached from the truth; how often it does not and does not say so; how often
    it is refused. The goals: 99 % and none in silence."""
    return Rows([own_start(words, sets) for words in (*_SHAPES, *HARD)])


_SHAPES = [name for name, model in MODELS.items() if isinstance(model, ByFormula)]


class Hidden(NamedTuple):
    """Readings of a shape whose parameters are known, and the sum of squares about the truth."""

    model: ByFormula
    true: Mapping[str, float]
    sample: Sample
    about: float


def readings_of(words: str) -> Iterator[Hidden]:
    """Random readings of a kind, the same ones each time: a shape, or a name in HARD."""
    kind = HARD.get(words) or _usual(words)
    random = np.random.default_rng(11)
    while True:
        name, true, x = kind(random, _wide(random, 1e-2, 1e4))
        model = MODELS[name]
        assert isinstance(model, ByFormula)
        exact = model.parts.program.run({**true, "x": x}, len(x))[0]
        noise = random.normal(0, _wide(random, 1e-3, 0.1) * float(np.ptp(exact)), len(x))
        sample = Sample(x, exact + noise, np.arange(len(x)))
        yield Hidden(model, true, sample, float((noise**2).sum()))


def least_known(hidden: Hidden) -> float:
    """The least sum of squares that is reached from the truth."""
    way = ParameterConstraints(
        tuple(Setting(n, start=v) for n, v in hidden.true.items()), quick=True
    )
    with suppress(SornixError):
        return min(hidden.about, hidden.model.fit(hidden.sample, way).rss)
    return hidden.about


def own_start(words: str, sets: int = _SETS) -> dict[str, object]:
    """The row of one kind: a shape, or a name in HARD."""
    found = silent = refused = 0
    for hidden in islice(readings_of(words), sets):
        least = least_known(hidden)
        try:
            own = hidden.model.fit(hidden.sample, ParameterConstraints(quick=True))
        except SornixError:
            refused += 1
            continue
        reached = own.rss <= least * (1 + 1e-6)
        found += reached
        silent += not reached and not own.notes
    return {
        "kind": words,
        "found": found / sets,
        "goal": 0.99,
        "missed in silence": silent,
        "refused": refused,
        "sets": sets,
    }


# Curves in the range where their parameters are told with 5 to 20 %: truth, places, noise.
_CURVES: Mapping[str, tuple[Mapping[str, float], Floats, float]] = {
    "decay": ({"c": 1.0, "a": 9.0, "k": 0.5}, np.linspace(0.2, 10, 15), 0.4),
    "saturation": ({"v": 12.0, "h": 2.0}, np.linspace(0.2, 10, 12), 0.8),
    "logistic": ({"l": 1.0, "u": 9.0, "k": 1.2, "m": 5.0}, np.linspace(0.2, 10, 16), 0.5),
    "two-step-decay": ({"a": 5.0, "k": 2.0, "b": 3.0, "m": 0.2}, np.geomspace(0.05, 10, 30), 0.1),
    "peak": ({"b": 1.0, "h": 6.0, "m": 4.0, "s": 0.8}, np.linspace(0, 8, 25), 0.4),
    "sine": ({"c": 2.0, "a": 3.0, "p": 2.7, "t": 0.4}, np.linspace(0, 9, 25), 0.6),
    "arrhenius": ({"a": 4e4, "b": 3000.0}, np.linspace(280, 340, 12), 0.06),
    "exponential": ({"a": 2.0, "k": 0.3}, np.linspace(0, 8, 10), 1.0),
}


# Ways of fitting a line or a curve to readings that are made anew: the truth, and what fits them.
Maker = Callable[[Random], Fit]
_X = np.repeat(np.linspace(0, 10, 8), 3)
_ROWS = np.arange(len(_X))
_LINE = {"intercept": 1.0, "slope": 2.0}


def _line(
    noise: Floats,
    way: ParameterConstraints = PLAIN,
    method: str = "least-squares",
    level: float = 1.0,
    **more: Any,
) -> Fit:
    sample = Sample(_X, level + 2 * _X + noise, _ROWS, **more)
    return put_through(MODELS["line"], sample, way, method)


def _weighted(r: Random) -> Fit:
    sd = 0.2 + 0.15 * _X
    return _line(r.normal(0, sd), weights=sd**-2 / (sd**-2).mean())


def _errors_in_both(r: Random) -> Fit:
    n = len(_X)
    sample = Sample(_X + r.normal(0, 0.2, n), 1 + 2 * _X + r.normal(0, 0.5, n), _ROWS,
                    x_sd=np.full(n, 0.2), y_sd=np.full(n, 0.5))  # fmt: skip
    return put_through(MODELS["line"], sample)


def _on_logs(r: Random) -> Fit:
    y = 2 * np.exp(0.3 * _X + r.normal(0, 0.2, len(_X)))
    return put_through(MODELS["exponential"], Sample(_X, y, _ROWS), on_logs=True)


def _shared(r: Random) -> Fit:
    both = [Sample(_X, level + 2 * _X + r.normal(0, 0.5, len(_X)), _ROWS) for level in (1.0, 4.0)]
    return fit_shared(MODELS["line"], both, ["slope"])[0]


def _robust(method: str) -> Maker:
    def make(r: Random) -> Fit:
        noise = r.normal(0, 0.5, len(_X))
        noise[r.random(len(_X)) < 0.05] *= 10
        return _line(noise, method=method)

    return make


def _bounded(level: float) -> Maker:
    way = ParameterConstraints((Setting("intercept", low=0.0),))

    def make(r: Random) -> Fit:
        return _line(r.normal(0, 0.5, len(_X)), way, level=level)

    return make


def _bounded_curve(r: Random) -> Fit:
    """A decay whose background cannot be below 0, and is 0."""
    y = 9 * np.exp(-0.5 * _X) + r.normal(0, 0.4, len(_X))
    return MODELS["decay"].fit(Sample(_X, y, _ROWS), ParameterConstraints((Setting("c", low=0.0),)))


def _resampled(name: str, method: str = "least-squares") -> Maker:
    """A shape of _CURVES, or a line with outliers where it is robust, with 400 sets."""

    def make(r: Random) -> Fit:
        if name == "line":
            fit = _robust(method)(r)
        else:
            true, x, noise = _CURVES[name]
            model = MODELS[name]
            assert isinstance(model, ByFormula)
            y = model.parts.program.run({**true, "x": x}, len(x))[0] + r.normal(0, noise, len(x))
            fit = model.fit(Sample(x, y, np.arange(len(x))), ParameterConstraints(quick=True))
        return resampled([fit], 0, Asked(400), lambda _: [fit], {})

    return make


WAYS: Mapping[str, tuple[Mapping[str, float], Maker]] = {
    "line, weighted": (_LINE, _weighted),
    "line, errors in both": (_LINE, _errors_in_both),
    "exponential on logarithms": ({"a": 2.0, "k": 0.3}, _on_logs),
    "line, shared slope": (_LINE, _shared),
    "line, Huber, 5 % outliers": (_LINE, _robust("huber")),
    "line, Tukey, 5 % outliers": (_LINE, _robust("tukey")),
    "line, bounded, inside": (_LINE, _bounded(1.0)),
    "line, bounded, at the bound": ({**_LINE, "intercept": 0.0}, _bounded(0.0)),
    "decay, at a bound": ({"c": 0.0, "a": 9.0, "k": 0.5}, _bounded_curve),
    "resampled: Huber, 5 % outliers": (_LINE, _resampled("line", "huber")),
    **{f"resampled: {name}": (_CURVES[name][0], _resampled(name))
       for name in ("decay", "logistic", "peak")},
}  # fmt: skip


def of_way(words: str, runs: int) -> dict[str, object]:
    """The row of a way of WAYS: how often the 95 % interval of each parameter holds the truth."""
    true, make = WAYS[words]
    random = np.random.default_rng(3)
    held = dict.fromkeys(true, 0)
    for _ in range(runs):
        for parameter in make(random).parameters:
            held[parameter.name] += _holds(parameter.ci95, true[parameter.name])
    return {"of": words, **{name: count / runs for name, count in held.items()}, "runs": runs}


def coverage(runs: int = 10_000) -> Rows:
    """How often 95 % intervals hold the truth: of lines, plain, by height of replicates and in
    other ways, and in a fifth as many runs of curves and of what is resampled. The goal: 94 to
    96 %, and more for a parameter at its bound."""
    few = max(runs // 5, 1)
    rows: list[dict[str, object]] = [{"of": "line", **_of_line(None, 8, 3, 0.0, runs)}]
    for places in (6, 12):
        for replicates in (2, 3, 5):
            for power in (0.0, 0.5, 1.0):
                of = f"{replicates} replicates at {places} places, SD as y^{power:g}"
                rows.append({"of": of, **_of_line("replicates", places, replicates, power, few)})
    rows += [of_way(words, runs if words.startswith("line") else few) for words in WAYS]
    rows += [{"of": name, **_of_shape(name, few)} for name in _CURVES]
    return Rows([{**row, "goal": "0.94 to 0.96"} for row in rows])


def _of_line(
    how: str | None, places: int, replicates: int, power: float, runs: int
) -> dict[str, float]:
    random = np.random.default_rng(5)
    x = np.repeat(np.linspace(0, 10, places), replicates)
    intercept, slope, at = 1.0, 2.0, 4.0

    def noisy(height: Floats) -> Floats:
        found: Floats = random.normal(0, 0.05 * height**power * 11.0 ** (1 - power))
        return found

    held = dict.fromkeys(("intercept", "slope", "mean", "new reading", "read off"), 0)
    for _ in range(runs):
        sample = Sample(x, (y := intercept + slope * x) + noisy(y), np.arange(len(x)))
        line = MODELS["line"]
        fit = line.fit(sample) if how is None else fit_by_height(line, sample)
        told = fit.predict(at)
        level = intercept + slope * at
        fresh, unknown = level + noisy(np.full(2, level))
        held["intercept"] += _holds(fit.parameters[0].ci95, intercept)
        held["slope"] += _holds(fit.parameters[1].ci95, slope)
        held["mean"] += _holds(told.confidence95, level)
        held["new reading"] += _holds(told.prediction95, float(fresh))
        held["read off"] += _holds(read_off(fit, float(unknown)).interval, at)
    return {name: count / runs for name, count in held.items()}


def _of_shape(name: str, runs: int) -> dict[str, float]:
    model = MODELS[name]
    assert isinstance(model, ByFormula)
    random = np.random.default_rng(7)
    true, x, part = _CURVES[name]
    exact = model.parts.program.run({**true, "x": x}, len(x))[0]
    noise = part if name != "arrhenius" else part * float(exact.mean())
    held = dict.fromkeys([*true, "mean", "new reading"], 0)
    place = len(x) // 3
    for _ in range(runs):
        fit = model.fit(Sample(x, exact + random.normal(0, noise, len(x)), np.arange(len(x))))
        for parameter in fit.parameters:
            held[parameter.name] += _holds(parameter.ci95, true[parameter.name])
        told = fit.predict(float(x[place]))
        held["mean"] += _holds(told.confidence95, float(exact[place]))
        fresh = exact[place] + random.normal(0, noise)
        held["new reading"] += _holds(told.prediction95, float(fresh))
    return {part: count / runs for part, count in held.items()}


def _holds(interval: tuple[float, float] | None, value: float) -> bool:
    return interval is not None and interval[0] <= value <= interval[1]
