"""The outcome of a fit, with what follows from it."""

import math
from collections.abc import Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Protocol

import numpy as np
from attrs import field
from numpy.typing import NDArray

from sornix.core.frozen import frozen
from sornix.core.readings.tables.column import ends_of
from sornix.core.trends.fits.counting import Counting
from sornix.core.trends.fits.equation import Equation, Printing
from sornix.core.trends.fits.goodness import Goodness
from sornix.core.trends.fits.resampled import Resampling
from sornix.core.trends.fits.sample import PLAIN, Ends, Floats, ParameterConstraints, Sample
from sornix.core.trends.fits.scatter import Scatter
from sornix.core.trends.fits.told import Bands, Parameter, Prediction

# A curve is looked at in so many places for how high it is.
_FINE = 97


class Model(Protocol):
    """A model. `name` is its name in commands, `words` its words in statements, `formula` it in our
    grammar with `names` as its parameters, "" for a smoother; `meanings` say what these are;
    `origin` says what comes of it where x is far from 0 (see ByFormula). `in_several` says whether
    it takes further columns, `errors_in_both` whether x may have errors too. A smoother is over
    `usual_width` of its `width_unit` where no width is held. It is listed under its `group`, ""
    for those that everybody knows."""

    name: str
    words: str
    method: str
    origin: str
    in_several: bool
    errors_in_both: bool
    usual_width: float
    width_unit: str
    group: str

    @property
    def formula(self) -> str: ...

    @property
    def straight(self) -> bool:
        """Whether it is a straight line on linear scales."""
        ...

    @property
    def names(self) -> tuple[str, ...]: ...

    @property
    def meanings(self) -> Mapping[str, str]: ...

    def fit(self, sample: Sample, way: ParameterConstraints = PLAIN) -> "Fit":
        """Least squares through readings. Raises TrendImpossible."""
        ...

    def evaluate(self, fit: "Fit", x: Floats) -> Floats:
        """The trend at `x`, any shape, counted as the sample of the fit is."""
        ...

    def gradient(self, fit: "Fit", x: Floats) -> Floats:
        """How the trend at `x` (k,) changes with the parameters of `fit.spread`, shape (k, p)."""
        ...

    def at_readings(self, fit: "Fit") -> Floats:
        """The gradient at each reading, shape (n, p)."""
        ...

    def turned(self, fit: "Fit") -> Floats:
        """How the parameters of `fit` change with those of `fit.spread`, shape (p, q)."""
        ...

    def even(self, fit: "Fit") -> Floats:
        """As `turned`, but for parameters whose intervals are not even of their logarithms."""
        ...

    def around(self, value: Floats, mean: Floats, single: Floats) -> Bands:
        """Values of the trend (k,) with half widths as intervals about them."""
        ...

    def interval(self, fit: "Fit", name: str, half: float) -> tuple[float, float]:
        """The interval of a parameter from its half width."""
        ...

    def equation(self, fit: "Fit", asked: Printing) -> Equation:
        """See Fit.equation."""
        ...


@frozen(slots=False, eq=False)
class Fit(Goodness):
    """A model put through n readings by least squares.

    `residuals` (n,) are reading − trend, on the scale that was fitted; `rss` and `tss` are weighted
    sums of their squares and of those about the mean, or about a `level` that is held; `unscaled`
    (p, p) is the inverse of JᵀWJ, so that covariance is residual_sd² · unscaled, with rows of 0 for
    parameters that are held.
    """

    by: Model
    names: tuple[str, ...]
    values: tuple[float, ...]
    units: tuple[str, ...]
    unscaled: Floats
    sample: Sample
    residuals: Floats
    rss: float
    tss: float
    r: float | None = None
    iterations: int = 0
    converged: bool = True
    notes: tuple[str, ...] = field(default=())
    held: frozenset[str] = frozenset()
    # parameters that the readings leave open: nothing is known of how uncertain they are
    loose: frozenset[str] = frozenset()
    level: float | None = None
    # of a polynomial: the parameters about a centre, in which it is evaluated, and theirs of XᵀX
    centre: float = 0.0
    inner: tuple[float, ...] = ()
    inner_unscaled: Floats | None = None
    # degrees of freedom and variance of a reading, where they are not those of these readings alone
    own_dof: float | None = None
    own_variance: float | None = None
    # how the fit was made, where that is not the method of the model
    own_method: str = ""
    # the loss of trends.robust by which residuals count, "" for their squares
    loss: str = ""
    # the fit was made to ln y, and its residuals, rss and R² are of ln y
    on_logs: bool = False
    # how readings scatter, where they weigh by the height of the curve
    scatter: Scatter | None = None
    # 95 % intervals of parameters that were found in another way than by the tangent, and how
    ends95: Mapping[str, Ends] = MappingProxyType({})
    ends_by: str = "profile"
    # what resampling tells, where it is asked for
    resampled: Resampling | None = None

    @property
    def model(self) -> str:
        return self.by.name

    @property
    def method(self) -> str:
        """How it was made: `ordinary least squares`."""
        weighted = "weighted " if self.sample.weights is not None else ""
        return self.own_method or weighted + self.by.method.removeprefix(
            "ordinary " if weighted else ""
        )

    @property
    def x(self) -> Floats:
        """The places of the readings along x."""
        return self.sample.places

    @cached_property
    def ends(self) -> Ends:
        """The least and the greatest of these places."""
        return ends_of(self.x)

    @property
    def along(self) -> Counting:
        """What the model counts x from."""
        return self.sample.along

    @property
    def rows(self) -> NDArray[np.intp]:
        return self.sample.rows

    def standard_error(self, name: str) -> float | None:
        i = self.names.index(name)
        if self.residual_sd is None or name in self.held or name in self.loose:
            return None
        return self.residual_sd * math.sqrt(max(float(self.unscaled[i, i]), 0.0))

    def value(self, name: str) -> float:
        return self.values[self.names.index(name)]

    @property
    def known(self) -> dict[str, float]:
        """The parameters by name."""
        return dict(zip(self.names, self.values, strict=True))

    @cached_property
    def t95(self) -> float | None:
        """Student's t for two-sided 95 %."""
        if self.dof <= 0:
            return None
        from scipy.special import stdtrit

        return float(stdtrit(self.dof, 0.975))

    @property
    def parameters(self) -> tuple[Parameter, ...]:
        found = []
        for name, value, unit in zip(self.names, self.values, self.units, strict=True):
            error = self.standard_error(name)
            interval = None
            if name in self.ends95:
                interval = self.ends95[name]
            elif error is not None and self.t95 is not None:
                interval = self.by.interval(self, name, self.t95 * error)
            found.append(Parameter(name, value, error, interval, unit, name in self.held))
        return tuple(found)

    # -- using ---------------------------------------------------------------------------------

    def at(self, x: Floats) -> Floats:
        """The trend at `x`, any shape."""
        return self.by.evaluate(self, self.along.count(x))

    @cached_property
    def heights(self) -> Floats:
        """Values of the trend over its readings, with its tops and its lowest places among them."""
        low, high = self.ends
        if self.by.straight:
            return self.at(np.array([low, high]))
        some = self.x[:: max(self.n // 2000, 1)]
        places = np.unique(np.concatenate((np.linspace(low, high, _FINE), some)))
        values = self.at(places)
        found = [values]
        for best in (np.nanargmin, np.nanargmax) if np.isfinite(values).any() else ():
            at = int(best(values))
            beside = places[max(at - 1, 0)], places[min(at + 1, len(places) - 1)]
            found.append(self.at(np.linspace(*beside, _FINE)))
        return np.concatenate(found)

    @property
    def spread(self) -> Floats:
        """The inverse of JᵀWJ in the parameters that the model's gradient is about."""
        return self.unscaled if self.inner_unscaled is None else self.inner_unscaled

    def slopes_at(self, x: Floats) -> Floats:
        """The gradient of the trend at `x` (k,) in the parameters of `spread`, shape (k, p)."""
        return self.by.gradient(self, self.along.count(x))

    @cached_property
    def fitted(self) -> Floats:
        """The trend at each reading, shape (n,)."""
        if self.on_logs:
            return self.at(self.x)
        return self.y - self.residuals

    @cached_property
    def own_slopes(self) -> Floats:
        """The gradient of the trend at each reading, shape (n, p)."""
        return self.by.at_readings(self)

    @cached_property
    def own_leverages(self) -> Floats:
        """gᵀ (JᵀWJ)⁻¹ g for the gradient g at each reading, shape (n,)."""
        return self._lever(self.own_slopes)

    def leverage_at(self, x: Floats) -> Floats:
        """gᵀ (JᵀWJ)⁻¹ g at `x`, shape (k,), for the gradient g of the trend there."""
        return self._lever(self.slopes_at(x))

    def _lever(self, slopes: Floats) -> Floats:
        found: Floats = np.maximum(np.einsum("ij,jk,ik->i", slopes, self.spread, slopes), 0.0)
        return found

    def half_widths(self, x: Floats, readings: float = math.inf) -> Floats:
        """Half the 95 % interval at `x` (k,) of the mean of so many new readings, or of the trend
        itself; NaN without degrees of freedom."""
        return (self.t95 or math.nan) * self.errors_at(x, readings)

    def new_variance(self, x: Floats) -> Floats:
        """The variance of a new reading at `x` (k,), as a multiple of the residual variance: with
        weights, what lies between those of the neighbours."""
        if self.scatter is not None:
            return self.scatter.expected(self.at(x))
        if self._variances is None:
            return np.ones(len(x))
        found: Floats = np.interp(x, *self._variances)
        return found

    @cached_property
    def _variances(self) -> tuple[Floats, Floats] | None:
        """Each x, rising, and the mean variance of its readings; None without weights."""
        if self.sample.weights is None:
            return None
        order = np.argsort(self.x, kind="stable")
        places, first = np.unique(self.x[order], return_index=True)
        sizes = np.diff(np.append(first, self.n))
        return places, np.add.reduceat(1 / self.sample.weights[order], first) / sizes

    def bands(self, x: Floats) -> Bands | None:
        """The trend at `x`, shape (k,), with its 95 % intervals: exact for polynomials, of a
        first-order expansion (the delta method) for others; None without degrees of freedom."""
        if self.resampled is not None:
            return self._resampled(self.resampled, x)
        if self.residual_sd is None or self.t95 is None or not self.names or self.loose:
            return None
        return self.by.around(self.at(x), self.half_widths(x), self.half_widths(x, 1.0))

    def _resampled(self, known: Resampling, x: Floats) -> Bands:
        value, (low, high), single = self.at(x), known.multiples(x), known.of_new(x)
        if single is not None:
            return Bands(value, (value + low, value + high), (value + single[0], value + single[1]))
        error, half = self.errors_at(x), self.half_widths(x, 1.0)
        lower = self.by.around(value, -error * low, half)
        upper = self.by.around(value, error * high, half)
        return Bands(value, (lower.mean[0], upper.mean[1]), lower.single)

    def errors_at(self, x: Floats, readings: float = math.inf) -> Floats:
        """The standard error of the trend at `x` (k,), or of the mean of so many new readings
        there; on the scale that was fitted."""
        own = self.new_variance(x) / readings if math.isfinite(readings) else 0.0
        sd = math.nan if self.residual_sd is None else self.residual_sd
        found: Floats = sd * np.sqrt(self.leverage_at(x) + own)
        return found

    def predict(self, x: float) -> Prediction:
        """The trend at one x with its 95 % intervals; 0 where only rounding leaves it off 0."""
        at = np.array([x])
        bands = self.bands(at)
        if bands is None:
            value = float(self.at(at)[0])
            # what has no parameters is a mean of readings, which rounds as they do
            noise = 0.0 if self.names else 1e-12 * float(np.abs(self.sample.y).max())
            return Prediction(x, 0.0 if abs(value) < noise else value, None, None)
        mean, single = ((float(ends[0][0]), float(ends[1][0])) for ends in bands[1:])
        value, noise = float(bands.value[0]), 1e-9 * (mean[1] - mean[0])
        return Prediction(x, 0.0 if abs(value) < noise < math.inf else value, mean, single)

    def equation(
        self,
        symbols: tuple[str, str],
        drawn: tuple[float, float],
        tolerance: float,
        *,
        units: bool = False,
    ) -> Equation:
        """The equation with digits enough to give back the curve within `tolerance` (in units
        of y) for x between the ends `drawn`, with the `units` of its parameters if they are asked
        for."""
        counted = self.along.count(np.array(drawn)).tolist()
        ends = float(counted[0]), float(counted[1])
        return self.by.equation(self, Printing(symbols, ends, tolerance, units))
