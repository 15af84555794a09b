"""The outcome of a fit, with what follows from it."""

import math
from collections.abc import Mapping
from functools import cached_property
from types import MappingProxyType
from typing import TYPE_CHECKING, NamedTuple

import numpy as np
from attrs import field, frozen
from numpy.typing import NDArray

from sornix.core.trends.counting import Counting
from sornix.core.trends.equation import Equation, Printing
from sornix.core.trends.sample import Ends, Floats, Sample, about_mean

if TYPE_CHECKING:
    from sornix.core.trends.model import Model
    from sornix.core.trends.resampling import Resampling
    from sornix.core.trends.variance import Scatter


# A curve is looked at in so many places for how high it is.
_FINE = 97


class Parameter(NamedTuple):
    """A fitted parameter. `standard_error` and `ci95` are None without degrees of freedom, and for
    one that is held; an end of a `ci95` by profile may be infinite."""

    name: str
    value: float
    standard_error: float | None
    ci95: tuple[float, float] | None
    unit: str
    held: bool = False


class Prediction(NamedTuple):
    """The trend at one x, with its 95 % intervals for the mean and for one new reading."""

    x: float
    value: float
    confidence95: tuple[float, float] | None
    prediction95: tuple[float, float] | None


class Bands(NamedTuple):
    """The trend at some x, shapes (k,), with the ends of its 95 % intervals."""

    value: Floats
    mean: tuple[Floats, Floats]
    single: tuple[Floats, Floats]


@frozen(slots=False, eq=False)
class Fit:
    """A model put through n readings by least squares.

    `residuals` (n,) are reading − trend, on the scale that was fitted; `rss` and `tss` are weighted
    sums of their squares and of those about the mean, or about a `level` that is held; `unscaled`
    (p, p) is the inverse of JᵀWJ, so that covariance is residual_sd² · unscaled, with rows of 0 for
    parameters that are held.
    """

    by: "Model"
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
    scatter: "Scatter | None" = None
    # 95 % intervals of parameters that were found in another way than by the tangent, and how
    ends95: Mapping[str, Ends] = MappingProxyType({})
    ends_by: str = "profile"
    # what resampling tells, where it is asked for
    resampled: "Resampling | None" = None

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

    @property
    def along(self) -> Counting:
        """What the model counts x from."""
        return self.sample.along

    @property
    def y(self) -> Floats:
        return self.sample.y

    @property
    def rows(self) -> NDArray[np.intp]:
        return self.sample.rows

    @property
    def n(self) -> int:
        return self.sample.n

    @property
    def free(self) -> int:
        """How many parameters were fitted."""
        return len(self.names) - len(self.held)

    @property
    def dof(self) -> float:
        """Degrees of freedom: readings less fitted parameters."""
        return self.n - self.free if self.own_dof is None else self.own_dof

    @cached_property
    def grain(self) -> float:
        """What rounding alone leaves of residuals; less than this is nothing."""
        size = np.abs(np.log(self.y) if self.on_logs else self.y).max(initial=0.0)
        return 4 * float(np.finfo(float).eps) * float(size)

    @property
    def is_exact(self) -> bool:
        """Whether the trend goes through all readings, but for rounding."""
        return bool(np.abs(self.residuals).max(initial=0.0) <= self.grain)

    @property
    def told_residuals(self) -> Floats:
        """The residuals (n,), all 0 where only rounding is left of them."""
        return np.zeros(self.n) if self.is_exact else self.residuals

    @property
    def residual_sd(self) -> float | None:
        if self.dof <= 0:
            return None
        if self.is_exact:
            return 0.0
        if self.own_variance is not None:
            return math.sqrt(self.own_variance)
        return math.sqrt(self.rss / self.dof)

    @cached_property
    def tss_about_mean(self) -> float:
        """The weighted sum of squares about the mean, which all trends can be set beside."""
        return self.tss if self.level is None else about_mean(self.sample)

    @property
    def r_squared(self) -> float | None:
        """1 − rss / tss about the mean, below 0 where the mean is nearer to the readings; None
        where all y agree, where as many parameters leave nothing to judge by, and for what is no
        model."""
        if not (self.names and self.tss_about_mean > 0) or self.n <= self.free:
            return None
        return 1 - self.rss / self.tss_about_mean

    @property
    def r_squared_about_level(self) -> float | None:
        """1 − rss / tss about the level that is held, often given for lines through 0; None where
        none is."""
        if self.level is None or not self.tss > 0 or self.n <= self.free:
            return None
        return 1 - self.rss / self.tss

    @property
    def adjusted_r_squared(self) -> float | None:
        # parameters in common are no one curve's
        if self.r_squared is None or self.dof <= 0 or self.n < 2 or self.own_dof is not None:
            return None
        return 1 - (self.rss / self.dof) / (self.tss_about_mean / (self.n - 1))

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion for small samples (C. M. Hurvich and C.-L. Tsai, Biometrika 76
        (1989) 297–307), the variance counted as a parameter; None where it is not defined."""
        k = self.free + 1
        if self.rss <= 0 or self.n - k - 1 <= 0 or not self.names:
            return None
        # with weights, the likelihood of each reading has its own variance
        own = 0.0
        if self.sample.weights is not None:
            own = -float(np.log(self.sample.weights).sum())
        # and of logarithms, it is that of the readings all the same
        own += 2 * float(np.log(self.y).sum()) if self.on_logs else 0.0
        small = 2 * k * (k + 1) / (self.n - k - 1)
        return self.n * math.log(self.rss / self.n) + own + 2 * k + small

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

    def _t95_for(self, slopes: Floats, reading: Floats | None = None) -> float | Floats:
        """Student's t for the variance of gᵀβ with rows g (k, p), and of a reading with it: see
        Uncertainty.dof."""
        known = None if self.scatter is None else self.scatter.uncertainty
        if known is None:
            return self.t95 or math.nan
        from scipy.special import stdtrit

        found: Floats = stdtrit(known.dof(slopes, reading), 0.975)
        return found

    @cached_property
    def _t95_of_each(self) -> Floats:
        """Student's t for each parameter."""
        found = self._t95_for(self.by.turned(self))
        return np.broadcast_to(found, len(self.names))

    @property
    def parameters(self) -> tuple[Parameter, ...]:
        found = []
        for i, (name, value, unit) in enumerate(
            zip(self.names, self.values, self.units, strict=True)
        ):
            error = self.standard_error(name)
            interval = None
            if name in self.ends95:
                interval = self.ends95[name]
            elif error is not None and self.t95 is not None:
                interval = self.by.interval(self, name, float(self._t95_of_each[i]) * error)
            found.append(Parameter(name, value, error, interval, unit, name in self.held))
        return tuple(found)

    # -- using ---------------------------------------------------------------------------------

    def at(self, x: Floats) -> Floats:
        """The trend at `x`, any shape."""
        return self.by.evaluate(self, self.along.count(x))

    @cached_property
    def heights(self) -> Floats:
        """Values of the trend over its readings, with its tops and its lowest places among them."""
        low, high = float(self.x.min()), float(self.x.max())
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
        slopes = self.slopes_at(x)
        lever = self._lever(slopes)
        of_reading = None
        if math.isfinite(readings):
            own = self.new_variance(x) / readings
            lever = lever + own
            if self.scatter is not None and self.residual_sd is not None:
                by_power = 2 * self.scatter.logs(self.at(x)) * own * self.residual_sd**2
                of_reading = np.column_stack((own, by_power))
        sd = math.nan if self.residual_sd is None else self.residual_sd
        found: Floats = self._t95_for(slopes, of_reading) * sd * np.sqrt(lever)
        return found

    def new_variance(self, x: Floats) -> Floats:
        """The variance of a new reading at `x` (k,), as a multiple of the residual variance: with
        weights, what lies between those of the neighbours."""
        if self.scatter is not None:
            return self.scatter.relative(self.at(x))
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
            return self.resampled.bands(self, x)
        if self.residual_sd is None or self.t95 is None or not self.names or self.loose:
            return None
        return self.by.around(self.at(x), self.half_widths(x), self.half_widths(x, 1.0))

    def errors_at(self, x: Floats, readings: float = math.inf) -> Floats:
        """The standard error of the trend at `x` (k,), or of the mean of so many new readings
        there; on the scale that was fitted."""
        own = self.new_variance(x) / readings if math.isfinite(readings) else 0.0
        sd = math.nan if self.residual_sd is None else self.residual_sd
        found: Floats = sd * np.sqrt(self.leverage_at(x) + own)
        return found

    def predict(self, x: float) -> Prediction:
        """The trend at one x with its 95 % intervals."""
        at = np.array([x])
        bands = self.bands(at)
        if bands is None:
            return Prediction(x, float(self.at(at)[0]), None, None)
        mean, single = ((float(ends[0][0]), float(ends[1][0])) for ends in bands[1:])
        return Prediction(x, float(bands.value[0]), mean, single)

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
