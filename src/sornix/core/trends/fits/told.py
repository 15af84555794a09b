"""What a fit tells of its parameters and of places along x."""

from typing import NamedTuple

from sornix.core.trends.fits.sample import Floats


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
