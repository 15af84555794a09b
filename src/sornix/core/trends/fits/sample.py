"""Readings to fit, and how they are to be fitted."""

import math
from collections.abc import Mapping
from functools import cached_property
from typing import Any

import numpy as np
from attrs import evolve
from numpy.typing import NDArray

from sornix.core.errors import TrendImpossible
from sornix.core.frozen import frozen
from sornix.core.readings.tables.column import ends_of
from sornix.core.text import as_subject, power_of_ten
from sornix.core.trends.fits.counting import AS_IT_IS, Counting

Floats = NDArray[np.float64]
Ends = tuple[float, float]


_LEAST_SPREAD = 1e-150


@frozen(eq=False)
class Sample:
    """Readings to put a model through: `x`, `y` (n,), all finite, and their row indices.

    `weights` (n,) are relative, above 0 and 1 on average; None weighs all the same. `x_sd`, `y_sd`
    (n,) are the standard deviations of the readings, where errors in both are asked for. `x` is
    counted `along`: its places as they were read are `places`. `others` (n, k) are the values of
    further columns: see trends.several.
    """

    x: Floats
    y: Floats
    rows: NDArray[np.intp]
    x_unit: str = ""
    y_unit: str = ""
    weights: Floats | None = None
    x_sd: Floats | None = None
    y_sd: Floats | None = None
    along: Counting = AS_IT_IS
    read: Floats | None = None
    others: Floats | None = None

    def need_squares(self) -> None:
        """Raises TrendImpossible where squares of differences are less than numbers can be: a sum
        of them would be 0."""
        for name, values in (("x", self.x), ("y", self.y)):
            # most often the first ones show it
            if not len(values) or np.ptp(values[:100]) >= _LEAST_SPREAD:
                continue
            ends = ends_of(values)
            if 0 < ends[1] - ends[0] < _LEAST_SPREAD:
                raise TrendImpossible(
                    f"The readings of {name} differ by less than {power_of_ten(-150)}, and the "
                    "squares of that are no numbers any more.",
                    remedy="Give the column in another unit.",
                )

    def some(self, which: NDArray[Any]) -> "Sample":
        """Those readings that a mask or indices tell."""
        parts: dict[str, Any] = {
            name: values[which] for name in _EACH if (values := getattr(self, name)) is not None
        }
        return evolve(self, **parts)

    def counted(self, along: Counting) -> "Sample":
        """The same readings with x counted so."""
        if along == self.along:
            return self
        places = self.places
        x_sd = None if self.x_sd is None else self.x_sd * self.along.step / along.step
        return evolve(
            self, x=along.count(places), x_sd=x_sd, x_unit=along.unit or self.x_unit, along=along,
            read=None if along == AS_IT_IS else places,
        )  # fmt: skip

    @property
    def places(self) -> Floats:
        """x as it was read."""
        return self.x if self.read is None else self.read

    @property
    def n(self) -> int:
        return len(self.x)

    @cached_property
    def roots(self) -> Floats | None:
        """The square roots of the weights."""
        return None if self.weights is None else np.sqrt(self.weights)


# The fields of a sample that hold one value for each reading.
_EACH = ("x", "y", "rows", "weights", "x_sd", "y_sd", "read", "others")


@frozen
class Setting:
    """What is asked of one parameter: a value to hold it at, ends to keep it between, a value to
    begin the search at."""

    name: str
    held: float | None = None
    low: float | None = None
    high: float | None = None
    start: float | None = None


@frozen
class ParameterConstraints:
    """What is asked of the parameters of a fit."""

    settings: tuple[Setting, ...] = ()
    # one of many on the way to another: no intervals but the tangent's
    quick: bool = False
    # every interval by profile, also where the tangent's is good enough
    by_profile: bool = False

    @property
    def held(self) -> dict[str, float]:
        return {s.name: s.held for s in self.settings if s.held is not None}

    @property
    def bounds(self) -> dict[str, tuple[float, float]]:
        """The ends of those that have one and are not held."""
        return {
            s.name: (-math.inf if s.low is None else s.low, math.inf if s.high is None else s.high)
            for s in self.settings
            if s.held is None and (s.low, s.high) != (None, None)
        }

    @property
    def starts(self) -> dict[str, float]:
        return {s.name: s.start for s in self.settings if s.held is None and s.start is not None}

    def begun_at(self, known: Mapping[str, float]) -> "ParameterConstraints":
        """The same asked, and a search that begins where another one ended."""
        asked = {s.name for s in self.settings}
        kept = (s if s.held is not None else evolve(s, start=known.get(s.name, s.start))
                for s in self.settings)  # fmt: skip
        begun = (Setting(n, start=v) for n, v in known.items() if n not in asked)
        return evolve(self, settings=(*kept, *begun))

    def moved(self, name: str, by: float) -> "ParameterConstraints":
        """The same asked of a parameter that is told from an origin so far away."""
        ends = ("held", "low", "high", "start")
        return evolve(
            self,
            settings=tuple(
                evolve(s, **{e: v + by for e in ends if (v := getattr(s, e)) is not None})
                if s.name == name and by else s
                for s in self.settings
            )
        )  # fmt: skip

    def without_ends(self, name: str) -> "ParameterConstraints":
        """The same asked, but that a parameter may be anything."""
        return evolve(self, settings=tuple(s for s in self.settings if s.name != name))

    def checked(self, names: tuple[str, ...], words: str) -> "ParameterConstraints":
        """Itself, if every setting is of a parameter. Raises TrendImpossible."""
        for setting in self.settings:
            if setting.name not in names:
                listed = ", ".join(names) or "none"
                raise TrendImpossible(
                    f"{as_subject(words, 'has', 'have', known=True)} no parameter "
                    f"“{setting.name}”.",
                    remedy=f"Its parameters: {listed}.",
                )
            low, high = setting.low, setting.high
            if low is not None and high is not None and low >= high:
                raise TrendImpossible(f"The lower end for {setting.name} is not below the upper.")
        return self


PLAIN = ParameterConstraints()


@frozen
class Treatment:
    """What was done to a sample before it was measured: it was diluted so many times, and of what
    was in it so many % were found again, known to within an SD of so many %."""

    dilution: float = 1.0
    recovery: float = 100.0
    recovery_sd: float = 0.0


UNTREATED = Treatment()


def ratio_unit(y_unit: str, x_unit: str) -> str:
    """The unit of a slope as text: `V/s`, `L/mg` for absorbance by mg/L, `mm L/mg`."""
    if not x_unit or x_unit == y_unit:
        return "" if x_unit else y_unit
    above, slash, below = x_unit.partition("/")
    if slash and not set(x_unit) & set(" ·*()") and "/" not in below:
        return f"{y_unit} {below}/{above}".strip()
    divisor = f"({x_unit})" if set(x_unit) & set("/ ·*") else x_unit
    return f"{y_unit or '1'}/{divisor}"


def about_mean(sample: Sample) -> float:
    """The weighted sum of squares of y about its weighted mean."""
    weights = np.ones(sample.n) if sample.weights is None else sample.weights
    mean = math.fsum((weights * sample.y).tolist()) / math.fsum(weights.tolist())
    return math.fsum((weights * (sample.y - mean) ** 2).tolist())
