"""The outcome of a fit and the statistics that follow from it."""

import math
from functools import cached_property
from typing import NamedTuple

import numpy as np
from attrs import field, frozen
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Parameter(NamedTuple):
    """A fitted parameter. Without degrees of freedom `standard_error` and `ci95` are None."""

    name: str
    value: float
    standard_error: float | None
    ci95: tuple[float, float] | None
    unit: str


class Prediction(NamedTuple):
    """The trend at one x, with its 95 % intervals for the mean and for one new reading."""

    x: float
    value: float
    confidence95: tuple[float, float] | None
    prediction95: tuple[float, float] | None


def ratio_unit(y_unit: str, x_unit: str) -> str:
    """The unit of a slope as text: `V/s`, `L/mg` for absorbance by mg/L, `mm L/mg`."""
    if not x_unit:
        return y_unit
    above, slash, below = x_unit.partition("/")
    if slash and not set(x_unit) & set(" ·*()") and "/" not in below:
        return f"{y_unit} {below}/{above}".strip()
    divisor = f"({x_unit})" if set(x_unit) & set("/ ·*") else x_unit
    return f"{y_unit or '1'}/{divisor}"


@frozen(slots=False, eq=False)
class Fit:
    """A model put through n readings by least squares.

    `x`, `y`, `rows` (n,) are the readings used and their row indices; `residuals` (n,) are
    reading − trend; `unscaled` (p, p) is the inverse of XᵀX, so that covariance is
    residual_sd² · unscaled; `tss` is the sum of squares about the mean.
    """

    model: str
    names: tuple[str, ...]
    values: tuple[float, ...]
    units: tuple[str, ...]
    unscaled: Floats
    x: Floats
    y: Floats
    rows: NDArray[np.intp]
    residuals: Floats
    rss: float
    tss: float
    r: float | None = None
    iterations: int = 0
    converged: bool = True
    notes: tuple[str, ...] = field(default=())
    # of a polynomial: the parameters about a centre, in which it is evaluated, and theirs of XᵀX
    centre: float = 0.0
    inner: tuple[float, ...] = ()
    inner_unscaled: Floats = field(factory=lambda: np.zeros((0, 0)))

    @property
    def n(self) -> int:
        return len(self.x)

    @property
    def dof(self) -> int:
        """Degrees of freedom: readings less parameters."""
        return self.n - len(self.values)

    @property
    def residual_sd(self) -> float | None:
        return math.sqrt(self.rss / self.dof) if self.dof > 0 else None

    @property
    def r_squared(self) -> float | None:
        """1 − rss / tss; None where all y agree."""
        return 1 - self.rss / self.tss if self.tss > 0 else None

    @property
    def adjusted_r_squared(self) -> float | None:
        if self.r_squared is None or self.dof <= 0:
            return None
        return 1 - (self.rss / self.dof) / (self.tss / (self.n - 1))

    @property
    def aicc(self) -> float | None:
        """Akaike's criterion for small samples (C. M. Hurvich and C.-L. Tsai, Biometrika 76
        (1989) 297–307), the variance counted as a parameter; None where it is not defined."""
        k = len(self.values) + 1
        if self.rss <= 0 or self.n - k - 1 <= 0:
            return None
        return self.n * math.log(self.rss / self.n) + 2 * k + 2 * k * (k + 1) / (self.n - k - 1)

    def standard_error(self, name: str) -> float | None:
        i = self.names.index(name)
        if self.residual_sd is None:
            return None
        return self.residual_sd * math.sqrt(float(self.unscaled[i, i]))

    def value(self, name: str) -> float:
        return self.values[self.names.index(name)]

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
            if error is not None and self.t95 is not None:
                interval = (value - self.t95 * error, value + self.t95 * error)
            found.append(Parameter(name, value, error, interval, unit))
        return tuple(found)
